package catalog

import (
	"context"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/additive"
	"ashshelf/store"
)

// Scent is one revision of a scent of a supplier.
type Scent struct {
	store.Revision
	document.ScentBody
}

// AsScent reads a revision of a scent.
func AsScent(r store.Revision) (Scent, error) {
	body, err := document.Decode("scent "+r.Name, document.ReadScent, r.Body)
	return Scent{r, body}, err
}

// Scents returns the newest revision of every scent, by name.
func (cat *Catalog) Scents(ctx context.Context) ([]Scent, error) {
	return ReadCollection(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Scents) }, AsScent)
}

// KnownScents finds what the shop knows now of a scent by its label.
func KnownScents(tx *store.Tx) (func(label string) (additive.Scent, bool), error) {
	revisions, err := tx.Latest(store.Scents)
	if err != nil {
		return nil, err
	}
	scents, err := ReadAll(revisions, AsScent)
	return func(label string) (additive.Scent, bool) {
		for _, one := range scents {
			if strings.EqualFold(one.Scent.Label(), label) {
				return one.Scent, true
			}
		}
		return additive.Scent{}, false
	}, err
}

// ScentHistory returns all revisions of a scent, newest first.
func (cat *Catalog) ScentHistory(ctx context.Context, oid string) ([]Scent, error) {
	return ReadCollection(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Scents, oid) }, AsScent)
}

// KeepScent makes a new revision of a scent, or a new one when base is 0. Two
// scents may share a name, but not a name and a supplier.
func (cat *Catalog) KeepScent(ctx context.Context, act journal.Act, oid string, base int, body document.ScentBody) (string, error) {
	p := document.CheckScent(body)
	have, err := cat.Scents(ctx)
	if err != nil {
		return "", err
	}
	for _, one := range have {
		if one.OID != oid && strings.EqualFold(one.Scent.Label(), body.Scent.Label()) {
			p.Add("name", "%s is noted already", one.Scent.Label())
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return cat.AddRevision(ctx, act, store.Scents, oid, base, body.Scent.Label(), "", "", body)
}
