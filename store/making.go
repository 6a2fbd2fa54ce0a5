package store

import (
	"database/sql"
	"errors"

	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
)

// AddTick and its siblings below write one record of make day under a head.
func (t *Tx) AddTick(entry, lotID int64, k lot.Tick) error {
	return t.exec(
		"add tick",
		`INSERT INTO run_tick (entry_id, lot_id, step, title, done, note, trace, minutes) VALUES (?,?,?,?,?,?,?,?)`,
		entry,
		lotID,
		k.Step,
		k.Title,
		k.Done,
		k.Note,
		k.Trace,
		k.Minutes,
	)
}

// AddTemperature writes a temperature.
func (t *Tx) AddTemperature(entry, lotID int64, k lot.Temp) error {
	return t.exec(
		"add temperature",
		`INSERT INTO run_temperature (entry_id, lot_id, pot, celsius, how) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		k.Of,
		k.C,
		k.How,
	)
}

type rescaleRow struct {
	lot.Rescale
	body []byte
}

// AddRescale writes a rescaling; body is its sheet and pot in JSON.
func (t *Tx) AddRescale(entry, lotID int64, r lot.Rescale, body []byte) error {
	return t.exec(
		"add rescale",
		`INSERT INTO run_rescale (entry_id, lot_id, factor, because, body) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		r.Factor,
		r.Because,
		string(body),
	)
}

// AddExtra writes something that went in unplanned.
func (t *Tx) AddExtra(entry, lotID int64, x lot.Extra) error {
	return t.exec(
		"add extra",
		`INSERT INTO run_extra (entry_id, lot_id, name, weight, sap) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		x.Name,
		Milligrams(x.Grams),
		x.SAP,
	)
}

// AddScentSeen writes how a scent behaved.
func (t *Tx) AddScentSeen(entry, lotID int64, s lot.ScentSeen) error {
	return t.exec(
		"add scent seen",
		`INSERT INTO run_scent (entry_id, lot_id, scent, behaviour, note) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		s.Scent,
		s.Behaviour,
		s.Note,
	)
}

// AddPhoto writes the row of a photo whose file is there.
func (t *Tx) AddPhoto(entry, lotID int64, p lot.Photo) error {
	return t.exec(
		"add photo",
		`INSERT INTO photo (entry_id, lot_id, file, width, height, caption) VALUES (?,?,?,?,?,?)`,
		entry,
		lotID,
		p.File,
		p.W,
		p.H,
		p.Caption,
	)
}

// AddWriter says that the device of the head writes the run from now on.
func (t *Tx) AddWriter(entry, lotID int64) error {
	return t.exec("add writer", `INSERT INTO run_writer (entry_id, lot_id) VALUES (?,?)`, entry, lotID)
}

// readMaking reads what happened on make day.
func readMaking(c chosen[*Lot]) error {
	var mg, mg2 int64
	return errors.Join(
		read(
			c,
			"weighing",
			`x.item, x.target, x.actual, x.how, x.reading, coalesce((SELECT oid FROM ingredient_lot i WHERE i.id = x.from_id), '')`,
			func(w *lot.Weighing) []any { return []any{&w.Item, &mg, &mg2, &w.How, &w.Reading, &w.From.OID} },
			func(l *Lot, e lot.Entry, w lot.Weighing) {
				w.Entry, w.Target, w.Actual = e, grams(mg), grams(mg2)
				l.Weighings = append(l.Weighings, w)
			},
		),
		c.t.each(
			"ingredient lots",
			`SELECT x.lot_id, `+boughtColumns+` `+c.from("weighing", "lot_id")+`JOIN ingredient_lot i ON i.id = x.from_id`,
			c.args,
			func(r *sql.Rows) error {
				var id int64
				b, err := scanBought(r, &id)
				for i, w := range c.byID[id].Weighings {
					if w.From.OID == b.OID {
						c.byID[id].Weighings[i].From = b
					}
				}
				return err
			},
		),
		read(c, "run_tick", "x.step, x.title, x.done, x.note, x.trace, x.minutes",
			func(k *lot.Tick) []any { return []any{&k.Step, &k.Title, &k.Done, &k.Note, &k.Trace, &k.Minutes} },
			func(l *Lot, e lot.Entry, k lot.Tick) { k.Entry = e; l.Ticks = append(l.Ticks, k) }),
		read(c, "run_temperature", "x.pot, x.celsius, x.how",
			func(k *lot.Temp) []any { return []any{&k.Of, &k.C, &k.How} },
			func(l *Lot, e lot.Entry, k lot.Temp) { k.Entry = e; l.Temps = append(l.Temps, k) }),
		read(c, "run_rescale", "x.factor, x.because, x.body",
			func(r *rescaleRow) []any { return []any{&r.Factor, &r.Because, &r.body} },
			func(l *Lot, e lot.Entry, r rescaleRow) {
				r.Entry = e
				l.Rescales, l.RescaleJSON = append(l.Rescales, r.Rescale), append(l.RescaleJSON, r.body)
			}),
		read(c, "run_extra", "x.name, x.weight, x.sap",
			func(x *lot.Extra) []any { return []any{&x.Name, &mg, &x.SAP} },
			func(l *Lot, e lot.Entry, x lot.Extra) {
				x.Entry, x.Grams = e, grams(mg)
				l.Extras = append(l.Extras, x)
			}),
		read(c, "run_scent", "x.scent, x.behaviour, x.note",
			func(s *lot.ScentSeen) []any { return []any{&s.Scent, &s.Behaviour, &s.Note} },
			func(l *Lot, e lot.Entry, s lot.ScentSeen) { s.Entry = e; l.Scents = append(l.Scents, s) }),
		read(c, "photo", "x.file, x.width, x.height, x.caption",
			func(p *lot.Photo) []any { return []any{&p.File, &p.W, &p.H, &p.Caption} },
			func(l *Lot, e lot.Entry, p lot.Photo) { p.Entry = e; l.Photos = append(l.Photos, p) }),
		read(c, "run_writer", "d.id, d.token",
			func(w *lot.Writer) []any { return []any{&w.Device, &w.Token} },
			func(l *Lot, e lot.Entry, w lot.Writer) {
				w.Label, w.Who, w.Since = e.Device, e.Who, e.Occurred
				l.Writer = w
			}),
	)
}

const boughtColumns = `i.oid, i.item, i.name, i.supplier, i.code, i.received, coalesce(i.purity, 0), coalesce(i.sap, 0)`

func scanBought(r *sql.Rows, before ...any) (b lot.Bought, err error) {
	err = r.Scan(append(before, &b.OID, &b.Item, &b.Name, &b.Supplier, &b.Code, &b.Received, &b.Purity, &b.SAP)...)
	return b, err
}

// AddBought writes an ingredient lot.
func (t *Tx) AddBought(entry int64, b lot.Bought) error {
	null := func(v float64) sql.NullFloat64 { return sql.NullFloat64{Float64: v, Valid: v != 0} }
	return t.exec(
		"add ingredient lot",
		`INSERT INTO ingredient_lot (oid, entry_id, item, name, supplier, code, received, purity, sap) VALUES (?,?,?,?,?,?,?,?,?)`,
		b.OID,
		entry,
		b.Item,
		b.Name,
		b.Supplier,
		b.Code,
		b.Received,
		null(b.Purity),
		null(b.SAP),
	)
}

// Bought returns the ingredient lots of an ingredient, the newest first, at most
// so many.
func (t *Tx) Bought(item plan.Key, most int) (out []lot.Bought, err error) {
	err = t.each(
		"ingredient lots",
		`SELECT `+boughtColumns+` FROM ingredient_lot i WHERE i.item = ? ORDER BY i.id DESC LIMIT ?`,
		[]any{item, most},
		func(r *sql.Rows) error {
			b, err := scanBought(r)
			out = append(out, b)
			return err
		},
	)
	return out, err
}

// HasPhoto reports whether some lot or product has a photo of that name, or a delivery a paper.
func (t *Tx) HasPhoto(file string) (ok bool, err error) {
	err = t.one("photo", `SELECT EXISTS (SELECT 1 FROM photo WHERE file = ?1 UNION SELECT 1 FROM delivery_paper WHERE file = ?1
		UNION SELECT 1 FROM product_photo WHERE file = ?1)`, []any{file}, &ok)
	return ok, err
}
