package catalog

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// Material is one revision of something the shop buys.
type Material struct {
	store.Revision
	Of inventory.Material
}

func asMaterial(r store.Revision) (Material, error) {
	body, err := document.Decode("material "+r.Name, document.ReadMaterial, r.Body)
	return Material{r, body}, err
}

// MaterialsIn reads the newest revision of every material, by name.
func MaterialsIn(tx *store.Tx) ([]Material, error) {
	revisions, err := tx.Latest(store.Materials)
	if err != nil {
		return nil, err
	}
	return ReadAll(revisions, asMaterial)
}

// MaterialHistory returns all revisions of a material, newest first.
func (cat *Catalog) MaterialHistory(ctx context.Context, oid string) ([]Material, error) {
	return ReadCollection(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Materials, oid) },
		asMaterial)
}

// KeepMaterial makes a new revision of a material, or a new one when base is 0. No two materials are the
// same ingredient.
func (cat *Catalog) KeepMaterial(
	ctx context.Context,
	act journal.Act,
	oid string,
	base int,
	m inventory.Material,
) (string, error) {
	m.Name, m.Label, m.Place = strings.TrimSpace(m.Name), strings.TrimSpace(m.Label), strings.TrimSpace(m.Place)
	if m.Key == "" && m.Name != "" {
		m.Key = inventory.NewKey(m.Kind, m.Name)
	}
	p := m.Check()
	if err := cat.Read(ctx, func(tx *store.Tx) error {
		have, err := MaterialsIn(tx)
		for _, one := range have {
			if one.OID != oid && slices.ContainsFunc(append([]plan.Key{m.Key}, m.Also...), one.Of.Is) {
				p.Add("name", "%s is noted already", one.Name)
			}
		}
		return err
	}); err != nil {
		return "", err
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return cat.AddRevision(ctx, act, store.Materials, oid, base, m.Name, "", "", m)
}

// DecideTwins says that two materials are the same thing, which then goes by the name of the first, or that
// they are two.
func (cat *Catalog) DecideTwins(ctx context.Context, act journal.Act, a, b inventory.Material, same bool) error {
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		have, err := MaterialsIn(c.Tx)
		if err != nil {
			return "", err
		}
		var known Material
		for _, one := range have {
			switch {
			case one.Of.Is(a.Key):
				known = one
			case same && one.Of.Is(b.Key):
				return "", caution.Problems{{Path: "b", Text: one.Name + " has a page of its own, with its suppliers and prices: " +
					"retire it there first, or choose it as the one that stays"}}
			}
		}
		m := a
		if known.OID != "" {
			m = known.Of
		}
		if same {
			m.Also = append(slices.Clone(m.Also), append([]plan.Key{inventory.Fold(b.Key)}, b.Also...)...)
		} else {
			m.Not = append(slices.Clone(m.Not), inventory.Fold(b.Key))
		}
		text, err := document.Encode(m)
		if err != nil {
			return "", err
		}
		return known.OID, c.Record(string(store.Materials), func(entry int64) error {
			oid := known.OID
			if oid == "" {
				oid = journal.NewOID()
				if err := c.AddDocument(store.Materials, entry, oid, ""); err != nil {
					return err
				}
			}
			return c.AddRevision(store.Materials, entry, oid, known.Number+1, m.Name, "", text)
		})
	})
	return err
}
