package store

import (
	"database/sql"
	"fmt"
	"time"

	"ashshelf/soap/steep"
)

// AddInfusion writes a jar that was started.
func (t *Tx) AddInfusion(entry int64, j steep.Jar) error {
	return t.exec(
		"add infusion",
		`INSERT INTO infusion (oid, entry_id, fat, name, herb, oil_mg, herb_mg, hours, warm, note) VALUES (?,?,?,?,?,?,?,?,?,?)`,
		j.OID, entry, j.Fat, j.Name, j.Herb, Milligrams(j.OilG), Milligrams(j.HerbG), j.Hours, j.Warm, j.Note,
	)
}

// AddInfusionEvent writes what happened to a jar; lotID is 0 where it was nothing with a lot.
func (t *Tx) AddInfusionEvent(entry int64, oid string, lotID int64, e steep.Event) error {
	return t.exec(
		"add infusion event",
		`INSERT INTO infusion_event (entry_id, infusion_id, what, weight_mg, lot_id, note)
			VALUES (?, (SELECT id FROM infusion WHERE oid = ?), ?, ?, nullif(?, 0), ?)`,
		entry, oid, e.What, Milligrams(e.Grams), lotID, e.Note,
	)
}

// Infusion returns a jar with what happened to it; [ErrNotFound] when there is none.
func (t *Tx) Infusion(oid string) (steep.Jar, error) {
	list, err := t.infusions(`WHERE i.oid = ?`, oid)
	if err == nil && len(list) == 0 {
		return steep.Jar{}, fmt.Errorf("infusion %s: %w", oid, ErrNotFound)
	}
	if err != nil {
		return steep.Jar{}, err
	}
	return list[0], nil
}

// Infusions returns the newest jars, the newest first.
func (t *Tx) Infusions(most int) ([]steep.Jar, error) {
	return t.infusions(`WHERE i.id IN (SELECT id FROM infusion ORDER BY id DESC LIMIT ?)`, most)
}

func (t *Tx) infusions(where string, args ...any) (out []steep.Jar, err error) {
	at := map[string]int{}
	err = t.each("infusions", `SELECT i.oid, i.fat, i.name, i.herb, i.oil_mg, i.herb_mg, i.hours, i.warm, i.note, e.occurred_at,
			coalesce(w.name, '') FROM infusion i JOIN entry e ON e.id = i.entry_id LEFT JOIN person w ON w.id = e.person_id `+where+`
			ORDER BY i.id DESC`, args,
		func(r *sql.Rows) error {
			var j steep.Jar
			var oil, herb, started int64
			if err := r.Scan(&j.OID, &j.Fat, &j.Name, &j.Herb, &oil, &herb, &j.Hours, &j.Warm, &j.Note, &started, &j.Who); err != nil {
				return err
			}
			j.OilG, j.HerbG, j.Started = grams(oil), grams(herb), time.UnixMilli(started)
			at[j.OID] = len(out)
			out = append(out, j)
			return nil
		})
	if err != nil {
		return nil, err
	}
	return out, t.each("infusion events", `SELECT i.oid, x.what, x.weight_mg, x.note, coalesce(l.code, ''), coalesce(l.oid, ''),
			e.occurred_at, coalesce(w.name, '') FROM infusion_event x JOIN infusion i ON i.id = x.infusion_id
			JOIN entry e ON e.id = x.entry_id LEFT JOIN person w ON w.id = e.person_id LEFT JOIN lot l ON l.id = x.lot_id `+where+`
			ORDER BY x.entry_id`, args,
		func(r *sql.Rows) error {
			var oid string
			var e steep.Event
			var mg, when int64
			if err := r.Scan(&oid, &e.What, &mg, &e.Note, &e.Lot, &e.LotID, &when, &e.Who); err != nil {
				return err
			}
			e.Grams, e.When = grams(mg), time.UnixMilli(when)
			out[at[oid]].Events = append(out[at[oid]].Events, e)
			return nil
		})
}
