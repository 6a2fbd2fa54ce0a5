package catalog

import (
	"context"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/mold"
	"ashshelf/store"
)

// Mold is one revision of a mold, with what the mold has learned since it was
// measured.
type Mold struct {
	store.Revision
	document.MoldBody
	Pours []store.MoldPour // that it learned from, the newest first
}

func asMold(r store.Revision) (Mold, error) {
	body, err := document.Decode("mold "+r.Name, document.ReadMold, r.Body)
	return Mold{Revision: r, MoldBody: body}, err
}

// remembered is how many of a mold's pours are shown.
const remembered = 10

// readMolds reads revisions of molds with what each has learned.
func (cat *Catalog) readMolds(ctx context.Context, read func(*store.Tx) ([]store.Revision, error)) (out []Mold, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) error {
		revs, err := read(tx)
		if err != nil {
			return err
		}
		if out, err = ReadAll(revs, asMold); err != nil {
			return err
		}
		pours := map[string][]store.MoldPour{}
		for i, m := range out {
			if _, ok := pours[m.OID]; !ok {
				if pours[m.OID], err = tx.MoldPours(m.OID, remembered); err != nil {
					return err
				}
			}
			out[i].learn(pours[m.OID])
		}
		return nil
	})
	return out, err
}

// learn lets the mold take its pours in, the newest first, back to where it was
// told to forget.
func (m *Mold) learn(pours []store.MoldPour) {
	var said []mold.Pour
	for _, p := range pours {
		if p.Forgotten {
			break
		}
		m.Pours = append(m.Pours, p)
		said = append([]mold.Pour{{Correction: p.Correction, Off: p.OffMM, Left: p.LeftShare}}, said...)
	}
	if c, _ := mold.Learn(said, m.Mold.Fill); c != 1 {
		m.Mold.Correction = c
	}
}

// Molds returns the newest revision of every mold, by name.
func (cat *Catalog) Molds(ctx context.Context) ([]Mold, error) {
	return cat.readMolds(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Molds) })
}

// MoldHistory returns all revisions of a mold, newest first.
func (cat *Catalog) MoldHistory(ctx context.Context, oid string) ([]Mold, error) {
	return cat.readMolds(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Molds, oid) })
}

// KeepMold makes a new revision of a mold, or a new mold when base is 0. What
// the mold has learned is not part of its measures.
func (cat *Catalog) KeepMold(
	ctx context.Context,
	act journal.Act,
	oid string,
	base int,
	name string,
	body document.MoldBody,
) (string, error) {
	body.Mold.Correction = 0
	if err := document.CheckMold(name, body).Err(); err != nil {
		return "", err
	}
	return cat.AddRevision(ctx, act, store.Molds, oid, base, name, "", "", body)
}

// ForgetMold starts what a mold learns anew.
func (cat *Catalog) ForgetMold(ctx context.Context, act journal.Act, oid string) error {
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if _, err := c.History(store.Molds, oid); err != nil {
			return "", err
		}
		return oid, c.Record("mold pour", func(entry int64) error {
			return c.AddMoldPour(entry, store.MoldPour{Mold: oid, Correction: 1, Forgotten: true})
		})
	})
	return err
}
