// Package catalog is what the shop has and knows: its recipes, molds, equipment and scents,
// its people and its settings.
//
// Nothing in it is ever altered. Who changes a recipe adds a revision on top of the one
// that she saw; when somebody else was faster that is a conflict, and both stand. What was
// made keeps the revision that it was made from.
package catalog

import (
	"context"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/store"
)

// Catalog is what the shop has and knows: recipes, molds, equipment, scents, settings.
type Catalog struct{ *journal.Journal }

// ReadAll reads revisions.
func ReadAll[T any](in []store.Revision, as func(store.Revision) (T, error)) ([]T, error) {
	out := make([]T, 0, len(in))
	for _, r := range in {
		one, err := as(r)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

// ReadCollection reads the revisions that read finds.
func ReadCollection[T any](
	ctx context.Context,
	j *journal.Journal,
	read func(*store.Tx) ([]store.Revision, error),
	as func(store.Revision) (T, error),
) (out []T, err error) {
	err = j.Read(ctx, func(tx *store.Tx) error {
		revs, err := read(tx)
		if err != nil {
			return err
		}
		out, err = ReadAll(revs, as)
		return err
	})
	return out, err
}

// AddRevision adds a revision on top of revision base; base 0 opens a new recipe or
// mold. When others were kept since, it is a [*Conflict].
func (cat *Catalog) AddRevision(
	ctx context.Context,
	act journal.Act,
	b store.Collection,
	oid string,
	base int,
	name, note, parent string,
	body any,
	also ...func(*journal.Change) error,
) (string, error) {
	text, err := document.Encode(body)
	if err != nil {
		return "", err
	}
	return cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		entry, err := c.Entry(string(b))
		if err != nil {
			return "", err
		}
		if base == 0 {
			oid = journal.NewOID()
			if err := c.AddDocument(b, entry, oid, parent); err != nil {
				return "", err
			}
		} else {
			have, err := c.History(b, oid)
			if err != nil {
				return "", err
			}
			if have[0].Number != base {
				return "", &journal.Conflict{What: "“" + have[0].Name + "”", Who: have[0].Who, When: have[0].Entry.Recorded}
			}
			if err := c.DropDraft(string(b), oid); err != nil {
				return "", err
			}
		}
		if err := c.AddRevision(b, entry, oid, base+1, strings.TrimSpace(name), strings.TrimSpace(note), text); err != nil {
			return "", err
		}
		for _, do := range also {
			if err := do(c); err != nil {
				return "", err
			}
		}
		return oid, nil
	})
}
