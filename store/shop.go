package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"ashshelf/soap/clock"
	"ashshelf/soap/role"
)

// Entry is the head of something that happened.
type Entry struct {
	ID                 int64
	Kind               string
	Occurred, Recorded time.Time
	Person, Device     int64 // Person 0 only when the shop is founded
	Corrects           int64
	Reason             string
}

// AddEntry writes a head and returns its number.
func (t *Tx) AddEntry(e Entry) (int64, error) {
	null := func(v int64) sql.NullInt64 { return sql.NullInt64{Int64: v, Valid: v != 0} }
	return t.insert(
		"add entry",
		`INSERT INTO entry (kind, occurred_at, recorded_at, person_id, device_id, corrects_id, reason) VALUES (?,?,?,?,?,?,?)`,
		e.Kind,
		e.Occurred.UnixMilli(),
		e.Recorded.UnixMilli(),
		null(e.Person),
		e.Device,
		null(e.Corrects),
		e.Reason,
	)
}

// Key finds an idempotency key that was used before.
func (t *Tx) Key(key string) (fingerprint, ref string, used bool, err error) {
	err = t.one("request key", `SELECT fingerprint, ref FROM request_key WHERE key = ?`, []any{key}, &fingerprint, &ref)
	if errors.Is(err, ErrNotFound) {
		return "", "", false, nil
	}
	return fingerprint, ref, err == nil, err
}

// UseKey remembers that a key was used and what came of it.
func (t *Tx) UseKey(key, fingerprint, ref string, at time.Time) error {
	return t.exec(
		"use request key",
		`INSERT INTO request_key (key, fingerprint, ref, at) VALUES (?,?,?,?)`,
		key,
		fingerprint,
		ref,
		at.UnixMilli(),
	)
}

// Shop is the settings of the shop.
type Shop struct {
	Name, Zone, Units, Currency string
	Emergency                   string  // whom to call
	ScaleStep                   float64 // g that the bench scale reads
	FineStep, FineMax           float64 // g that a fine scale reads and takes; 0 when there is none
	FillRule                    string  // how molds are filled where a plan does not say
	PotLoss                     float64 // percent that stays in the pot
	RoomC                       float64 // °C of the room where stock stands
	RiskyLoad                   float64 // percent of a pot's load for a scent that may hurry
	ScaleAt, ProbeAt            string  // host:port of the scale and the thermometer; empty for none
	DaysOff                     string  // weekdays on which nobody works, such as "sat sun"
	HourRate                    int64   // minor units of money that an hour of work costs; 0 when it is not reckoned
	TaxBack                     bool    // the tax on what is bought comes back
	FreightBy                   string  // "weight" or "price": what freight is shared by
	Demo                        bool
}

// Shop returns the current settings; [ErrNotFound] when the shop is not
// founded yet.
func (t *Tx) Shop() (s Shop, err error) {
	err = t.one(
		"shop",
		`SELECT name, zone, units, currency, emergency, scale_step, fine_step, fine_max, fill_rule, pot_loss, risky_load, room_c, `+
			`scale_at, probe_at, days_off, hour_rate, tax_back, freight_by, demo FROM shop ORDER BY entry_id DESC LIMIT 1`,
		nil,
		&s.Name,
		&s.Zone,
		&s.Units,
		&s.Currency,
		&s.Emergency,
		&s.ScaleStep,
		&s.FineStep,
		&s.FineMax,
		&s.FillRule,
		&s.PotLoss,
		&s.RiskyLoad,
		&s.RoomC,
		&s.ScaleAt,
		&s.ProbeAt,
		&s.DaysOff,
		&s.HourRate,
		&s.TaxBack,
		&s.FreightBy,
		&s.Demo,
	)
	return s, err
}

// AddShop writes new settings, which hold from now on.
func (t *Tx) AddShop(entry int64, s Shop) error {
	return t.exec(
		"add shop",
		`INSERT INTO shop (entry_id, name, zone, units, currency, emergency, scale_step, fine_step, fine_max, fill_rule, pot_loss, `+
			`risky_load, room_c, scale_at, probe_at, days_off, hour_rate, tax_back, freight_by, demo) `+
			`VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
		entry,
		s.Name,
		s.Zone,
		s.Units,
		s.Currency,
		s.Emergency,
		s.ScaleStep,
		s.FineStep,
		s.FineMax,
		s.FillRule,
		s.PotLoss,
		s.RiskyLoad,
		s.RoomC,
		s.ScaleAt,
		s.ProbeAt,
		s.DaysOff,
		s.HourRate,
		s.TaxBack,
		s.FreightBy,
		s.Demo,
	)
}

// NewestEntry is when the newest entry was recorded that is not in doubt itself, since
// somebody last said that the clock is right; zero when there is none.
func (t *Tx) NewestEntry() (time.Time, error) {
	var ms int64
	// The plus keeps the engine on the index of moments.
	err := t.one("newest entry", `SELECT recorded_at FROM entry WHERE +id >= coalesce((SELECT max(entry_id) FROM clock_word), 0)
		AND NOT EXISTS (SELECT 1 FROM clock_doubt d WHERE d.entry_id = entry.id) ORDER BY recorded_at DESC LIMIT 1`, nil, &ms)
	if errors.Is(err, ErrNotFound) {
		return time.Time{}, nil
	}
	return time.UnixMilli(ms), err
}

// AddClockDoubt writes that an entry was recorded under a doubt of the clock, which did not
// agree with another moment.
func (t *Tx) AddClockDoubt(entry int64, d clock.Doubt, other time.Time) error {
	return t.exec("add doubt", `INSERT INTO clock_doubt (entry_id, doubt, other) VALUES (?,?,?)`, entry, d, other.UnixMilli())
}

// AddClockWord writes that somebody says the clock is right. What was recorded at a later
// moment than that was recorded by a clock that was ahead.
func (t *Tx) AddClockWord(entry int64, now time.Time) error {
	if err := t.exec("add word on the clock", `INSERT INTO clock_word (entry_id) VALUES (?)`, entry); err != nil {
		return err
	}
	return t.exec("add doubts", `INSERT INTO clock_doubt (entry_id, doubt, other) SELECT id, ?, ? FROM entry
		WHERE recorded_at > ? AND id < ? AND id NOT IN (SELECT entry_id FROM `+
		`clock_doubt)`, clock.Ahead, now.UnixMilli(), now.Add(clock.Slack).UnixMilli(), entry)
}

// AddMovedClock writes that the shop is walked with a clock of its own.
func (t *Tx) AddMovedClock(moment, machine time.Time) error {
	return t.exec("add moved clock", `INSERT INTO moved_clock (moment, machine) VALUES (?,?)`, moment.UnixMilli(), machine.UnixMilli())
}

// MovedClock reports whether the shop was ever walked with a clock of its own.
func (t *Tx) MovedClock() (moved bool, err error) {
	err = t.one("moved clock", `SELECT count(*) > 0 FROM moved_clock`, nil, &moved)
	return moved, err
}

// Person is somebody who works in the shop.
type Person struct {
	ID     int64
	Name   string
	Active bool
	Role   role.Role
}

const selectPeople = `SELECT id, name, active, role FROM person ORDER BY active DESC, name`

func (p *Person) into() []any { return []any{&p.ID, &p.Name, &p.Active, &p.Role} }

// People returns everybody, in order of name.
func (t *Tx) People() (out []Person, err error) {
	err = t.each("people", selectPeople, nil, func(r *sql.Rows) error {
		var p Person
		if err := r.Scan(p.into()...); err != nil {
			return err
		}
		out = append(out, p)
		return nil
	})
	return out, err
}

// AddPerson adds somebody, or takes somebody of that name on again.
func (t *Tx) AddPerson(name string, r role.Role) (int64, error) {
	var id int64
	err := t.one(
		"add person",
		`INSERT INTO person (name, role) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET active = 1, role = excluded.role RETURNING id`,
		[]any{name, r},
		&id,
	)
	return id, err
}

// SetRole says what somebody may do.
func (t *Tx) SetRole(id int64, r role.Role) error {
	return t.exec("set role", `UPDATE person SET role = ? WHERE id = ?`, r, id)
}

// AddSigned writes how somebody showed that it is she who made an entry.
func (t *Tx) AddSigned(entry int64, how string) error {
	return t.exec("add signature", `INSERT INTO entry_signed (entry_id, how) VALUES (?,?)`, entry, how)
}

// SetActive says whether a person still works here.
func (t *Tx) SetActive(id int64, active bool) error {
	return t.exec("set person", `UPDATE person SET active = ? WHERE id = ?`, active, id)
}

// Device returns the number of the device with a token, adding it when it is
// new.
func (t *Tx) Device(token, label string, now time.Time) (id int64, err error) {
	err = t.one("device", `SELECT id FROM device WHERE token = ?`, []any{token}, &id)
	if errors.Is(err, ErrNotFound) {
		return t.insert("add device", `INSERT INTO device (token, label, first_seen) VALUES (?,?,?)`, token, label, now.UnixMilli())
	}
	return id, err
}

// Draft is a working copy: a form as it stands.
type Draft struct {
	Form    map[string][]string
	Base    int // revision it started from
	Tab     string
	Updated time.Time
}

// Draft returns the draft of something, or nil.
func (t *Tx) Draft(kind, ref string) (*Draft, error) {
	list, err := t.drafts(`kind = ? AND ref = ?`, kind, ref)
	return list[kind], err
}

// DraftsOf returns the drafts of one thing by their kind.
func (t *Tx) DraftsOf(ref string) (map[string]*Draft, error) { return t.drafts(`ref = ?`, ref) }

func (t *Tx) drafts(where string, args ...any) (map[string]*Draft, error) {
	out := map[string]*Draft{}
	return out, t.each(
		"working copies",
		`SELECT kind, form, base, tab, updated_at FROM working_copy WHERE `+where,
		args,
		func(r *sql.Rows) error {
			var c Draft
			var kind, form string
			var at int64
			if err := r.Scan(&kind, &form, &c.Base, &c.Tab, &at); err != nil {
				return err
			}
			c.Updated, out[kind] = time.UnixMilli(at), &c
			return json.Unmarshal([]byte(form), &c.Form)
		},
	)
}

// SaveDraft keeps a draft.
func (t *Tx) SaveDraft(kind, ref string, c Draft, device int64) error {
	form, err := json.Marshal(c.Form)
	if err != nil {
		return fmt.Errorf("working copy: %w", err)
	}
	return t.exec(
		"save working copy",
		`INSERT INTO working_copy (kind, ref, form, base, tab, device_id, updated_at) VALUES (?,?,?,?,?,?,?)
		ON CONFLICT (kind, ref) DO UPDATE SET form = excluded.form, base = excluded.base, tab = excluded.tab, device_id = `+
			`excluded.device_id, updated_at = excluded.updated_at`,
		kind,
		ref,
		string(form),
		c.Base,
		c.Tab,
		device,
		c.Updated.UnixMilli(),
	)
}

// DropDraft throws a draft away.
func (t *Tx) DropDraft(kind, ref string) error {
	return t.exec("drop working copy", `DELETE FROM working_copy WHERE kind = ? AND ref = ?`, kind, ref)
}

// SweepDrafts throws away drafts that were not typed in since a moment, and
// all but the newest.
func (t *Tx) SweepDrafts(since time.Time, most int) error {
	return t.exec(
		"sweep working copies",
		`DELETE FROM working_copy WHERE updated_at < ? OR (kind, ref) NOT IN (SELECT kind, ref FROM working_copy ORDER BY `+
			`updated_at DESC LIMIT ?)`,
		since.UnixMilli(),
		most,
	)
}

// Revision is one kept state of a recipe or a mold. Body is JSON.
type Revision struct {
	Entry  Entry
	Who    string
	OID    string // of the recipe or mold
	Number int
	Name   string
	Note   string
	Body   []byte
	Parent string // name of the recipe this one is a variant of
}

// Collection is which kind of revised things is meant.
type Collection string

// The books.
const (
	Recipes Collection = "recipe"
	Molds   Collection = "mold"
	Scents  Collection = "scent"
	Tools   Collection = "equipment"
	Racks   Collection = "rack"

	Materials Collection = "material"
	Products  Collection = "product"
	Sheets    Collection = "sheet" // of labels
	Markets   Collection = "market"
	Orders    Collection = "sale_order" // of buyers
)

// Books returns the kinds of things that have revisions.
func Books() []Collection {
	return []Collection{Recipes, Molds, Scents, Tools, Racks, Materials, Products, Sheets, Markets, Orders}
}

// columns of a revision; only recipes keep a note and have a parent.
func (b Collection) columns() (note, parent string) {
	if b != Recipes {
		return "''", "''"
	}
	return "r.note", "coalesce((SELECT pr.name FROM recipe_revision pr WHERE pr.recipe_id = b.parent ORDER BY pr.number DESC LIMIT 1), '')"
}

func (t *Tx) revisions(b Collection, where string, args ...any) (out []Revision, err error) {
	note, parent := b.columns()
	q := fmt.Sprintf(`SELECT r.entry_id, e.recorded_at, coalesce(p.name, ''), b.oid, r.number, r.name, %[2]s, r.body, %[3]s
		FROM %[1]s_revision r JOIN %[1]s b ON b.id = r.%[1]s_id JOIN entry e ON e.id = r.entry_id LEFT JOIN person p ON p.id = `+
		`e.person_id %[4]s`, b, note, parent, where)
	err = t.each(string(b)+" revisions", q, args, func(rows *sql.Rows) error {
		var r Revision
		var at int64
		if err := rows.Scan(&r.Entry.ID, &at, &r.Who, &r.OID, &r.Number, &r.Name, &r.Note, &r.Body, &r.Parent); err != nil {
			return err
		}
		r.Entry.Recorded = time.UnixMilli(at)
		out = append(out, r)
		return nil
	})
	return out, err
}

// Latest returns the newest revision of everything in a book, by name.
func (t *Tx) Latest(b Collection) ([]Revision, error) {
	return t.revisions(
		b,
		fmt.Sprintf(
			`WHERE r.number = (SELECT max(number) FROM %[1]s_revision x WHERE x.%[1]s_id = b.id) ORDER BY r.name COLLATE NOCASE, r.entry_id`,
			b,
		),
	)
}

// History returns all revisions of one thing, newest first.
func (t *Tx) History(b Collection, oid string) ([]Revision, error) {
	list, err := t.revisions(b, `WHERE b.oid = ? ORDER BY r.number DESC`, oid)
	if err == nil && len(list) == 0 {
		return nil, fmt.Errorf("%s %s: %w", b, oid, ErrNotFound)
	}
	return list, err
}

// AddDocument opens a new recipe or mold. parent is the identity of the recipe it
// is a variant of, or empty.
func (t *Tx) AddDocument(b Collection, entry int64, oid, parent string) error {
	if b == Recipes {
		return t.exec(
			"add recipe",
			`INSERT INTO recipe (oid, entry_id, parent) VALUES (?, ?, (SELECT id FROM recipe WHERE oid = ?))`,
			oid,
			entry,
			parent,
		)
	}
	return t.exec("add "+string(b), fmt.Sprintf(`INSERT INTO %s (oid, entry_id) VALUES (?, ?)`, b), oid, entry)
}

// AddRevision adds a revision to a recipe or mold.
func (t *Tx) AddRevision(b Collection, entry int64, oid string, number int, name, note string, body []byte) error {
	if b == Recipes {
		return t.exec(
			"add recipe revision",
			`INSERT INTO recipe_revision (entry_id, recipe_id, number, name, note, body) VALUES (?, (SELECT id FROM recipe WHERE oid `+
				`= ?), ?, ?, ?, ?)`,
			entry,
			oid,
			number,
			name,
			note,
			string(body),
		)
	}
	return t.exec(
		"add "+string(b)+" revision",
		fmt.Sprintf(
			`INSERT INTO %[1]s_revision (entry_id, %[1]s_id, number, name, body) VALUES (?, (SELECT id FROM %[1]s WHERE oid = ?), ?, ?, ?)`,
			b,
		),
		entry,
		oid,
		number,
		name,
		string(body),
	)
}

// RecipeLife is the newest word on where a recipe is in its life.
type RecipeLife struct {
	Recipe string // identity
	Number int    // revision it was said of
	Life   string
	Who    string
	At     time.Time
}

// Lives returns the newest word on each recipe that one was said of.
func (t *Tx) Lives() (out map[string]RecipeLife, err error) {
	out = map[string]RecipeLife{}
	err = t.each("recipe lives", `SELECT b.oid, l.number, l.life, p.name, e.recorded_at FROM recipe_life l
		JOIN recipe b ON b.id = l.recipe_id JOIN entry e ON e.id = l.entry_id JOIN person p ON p.id = e.person_id
		WHERE l.entry_id = (SELECT max(entry_id) FROM recipe_life x WHERE x.recipe_id = l.recipe_id)`, nil, func(rows *sql.Rows) error {
		var l RecipeLife
		var at int64
		if err := rows.Scan(&l.Recipe, &l.Number, &l.Life, &l.Who, &at); err != nil {
			return err
		}
		l.At = time.UnixMilli(at)
		out[l.Recipe] = l
		return nil
	})
	return out, err
}

// AddLife says where a recipe is in its life, of one revision.
func (t *Tx) AddLife(entry int64, oid string, number int, life string) error {
	return t.exec(
		"add recipe life",
		`INSERT INTO recipe_life (entry_id, recipe_id, number, life) VALUES (?, (SELECT id FROM recipe WHERE oid = ?), ?, ?)`,
		entry,
		oid,
		number,
		life,
	)
}

// Spoon is the shop's own weight of a level teaspoon.
type Spoon struct {
	Name  string
	Grams float64
	Who   string
	At    time.Time
}

// Spoons returns the newest weight of each thing, by name.
func (t *Tx) Spoons() (out []Spoon, err error) {
	err = t.each(
		"spoons",
		`SELECT s.name, s.grams, p.name, e.recorded_at FROM spoon s JOIN entry e ON e.id = s.entry_id JOIN person p ON p.id = e.person_id
		WHERE s.entry_id = (SELECT max(entry_id) FROM spoon x WHERE x.name = s.name) ORDER BY s.name`,
		nil,
		func(rows *sql.Rows) error {
			var s Spoon
			var at int64
			if err := rows.Scan(&s.Name, &s.Grams, &s.Who, &at); err != nil {
				return err
			}
			s.At = time.UnixMilli(at)
			out = append(out, s)
			return nil
		},
	)
	return out, err
}

// AddSpoon notes what a level teaspoon of something weighs.
func (t *Tx) AddSpoon(entry int64, name string, grams float64) error {
	return t.exec("add spoon", `INSERT INTO spoon (entry_id, name, grams) VALUES (?,?,?)`, entry, name, grams)
}
