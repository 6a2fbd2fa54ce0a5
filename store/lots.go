package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"ashshelf/soap/clock"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

// Milligrams turns grams into the whole milligrams of the ledgers.
func Milligrams(grams float64) int64 { return int64(math.Round(grams * 1000)) }

func grams(mg int64) float64 { return float64(mg) / 1000 }

// LotRow is the head of a lot.
type LotRow struct {
	OID, Code string
	Pot       int
	Stage     string
}

func (t *Tx) lotRows(where string, args ...any) (out []LotRow, err error) {
	err = t.each(
		"lots",
		`SELECT l.oid, l.code, l.pot, s.stage FROM lot l JOIN lot_state s ON s.lot_id = l.id JOIN plan p ON p.id = l.plan_id `+where,
		args,
		func(r *sql.Rows) error {
			var l LotRow
			if err := r.Scan(&l.OID, &l.Code, &l.Pot, &l.Stage); err != nil {
				return err
			}
			out = append(out, l)
			return nil
		},
	)
	return out, err
}

// NextLotNumber is one more than any lot ever had.
func (t *Tx) NextLotNumber() (n int, err error) {
	err = t.one("next lot", `SELECT coalesce(max(number), 0) + 1 FROM lot`, nil, &n)
	return n, err
}

// AddLot starts a lot. frozen is JSON.
func (t *Tx) AddLot(entry int64, oid string, number int, code, plan, recipe string, pot int, frozen []byte, stage lot.Stage) error {
	id, err := t.insert("add lot", `INSERT INTO lot (oid, number, code, entry_id, plan_id, recipe_id, pot, frozen)
		VALUES (?, ?, ?, ?, (SELECT id FROM plan WHERE oid = ?), (SELECT id FROM recipe WHERE oid = ?), ?, ?)`,
		oid, number, code, entry, plan, recipe, pot, string(frozen))
	if err != nil {
		return err
	}
	if err := t.exec("set plan state", `UPDATE plan_state SET open = 0 WHERE plan_id = (SELECT id FROM plan WHERE oid = ?)`,
		plan); err != nil {
		return err
	}
	return t.exec("add lot state", `INSERT INTO lot_state (lot_id, stage, last_entry) VALUES (?,?,?)`, id, stage, entry)
}

// SetLotState writes what follows from the records of a lot.
func (t *Tx) SetLotState(id int64, stage lot.Stage, last int64) error {
	return t.exec("set lot state", `UPDATE lot_state SET stage = ?, last_entry = ? WHERE lot_id = ?`, stage, last, id)
}

// SetOdd writes whether a lot dries unlike earlier ones of its recipe.
func (t *Tx) SetOdd(id int64, odd bool) error {
	return t.exec("set lot state", `UPDATE lot_state SET odd = ? WHERE lot_id = ?`, odd, id)
}

// AddWeighing and its siblings below write one record of a lot under a head.
func (t *Tx) AddWeighing(entry, lotID int64, w lot.Weighing) error {
	return t.exec(
		"add weighing",
		`INSERT INTO weighing (entry_id, lot_id, item, target, actual, how, reading, from_id) VALUES (?,?,?,?,?,?,?,(SELECT id `+
			`FROM ingredient_lot WHERE oid = ?))`,
		entry,
		lotID,
		w.Item,
		Milligrams(w.Target),
		Milligrams(w.Actual),
		w.How,
		w.Reading,
		w.From.OID,
	)
}

// AddPour writes the pour.
func (t *Tx) AddPour(entry, lotID int64, p lot.Pour) error {
	err := t.exec(
		"add pour",
		`INSERT INTO pour (entry_id, lot_id, lye_c, fats_c, room_c, trace, left_mg, skipped, note) VALUES (?,?,?,?,?,?,?,?,?)`,
		entry,
		lotID,
		p.LyeC,
		p.FatsC,
		p.RoomC,
		p.Trace,
		Milligrams(p.LeftG),
		p.Skipped,
		p.Note,
	)
	if j := p.Judged; err == nil && j != nil {
		err = t.exec(
			"add judgement",
			`INSERT INTO pour_judgement (entry_id, lot_id, superfat, planned, heavy, said) VALUES (?,?,?,?,?,?)`,
			entry,
			lotID,
			j.Superfat,
			j.Planned,
			j.Heavy,
			j.Said,
		)
	}
	return err
}

// AddUnmolding writes the unmolding.
func (t *Tx) AddUnmolding(entry, lotID int64, u lot.Unmolding) error {
	return t.exec("add unmolding", `INSERT INTO unmolding (entry_id, lot_id, gel, note) VALUES (?,?,?,?)`, entry, lotID, u.Gel, u.Note)
}

// AddCut writes the cut.
func (t *Tx) AddCut(entry, lotID int64, c lot.Cut) error {
	return t.exec(
		"add cut",
		`INSERT INTO cut (entry_id, lot_id, first, second, tester, scrap, bar_mg, trimmings_mg, note) VALUES (?,?,?,?,?,?,?,?,?)`,
		entry,
		lotID,
		c.Bars[ledger.First],
		c.Bars[ledger.Second],
		c.Bars[ledger.Tester],
		c.Bars[ledger.Scrap],
		Milligrams(c.BarG),
		Milligrams(c.TrimmingsG),
		c.Note,
	)
}

// AddSample writes a weighing of the sample bar.
func (t *Tx) AddSample(entry, lotID int64, g float64) error {
	return t.exec(
		"add sample weight",
		`INSERT INTO sample_weight (entry_id, lot_id, weight) VALUES (?,?,?)`,
		entry,
		lotID,
		Milligrams(g),
	)
}

// AddCheck writes a safety check.
func (t *Tx) AddCheck(entry, lotID int64, c lot.SafetyCheck) error {
	return t.exec(
		"add check",
		`INSERT INTO safety_check (entry_id, lot_id, method, ph, pass, note) VALUES (?,?,?,?,?,?)`,
		entry,
		lotID,
		c.Method,
		c.PH,
		c.Pass,
		c.Note,
	)
}

// AddRetime writes when an earlier entry of a lot really happened.
func (t *Tx) AddRetime(entry, lotID int64, r lot.Retime) error {
	return t.exec(
		"add time",
		`INSERT INTO entry_time (entry_id, lot_id, of_id, occurred_at, said) VALUES (?,?,?,?,?)`,
		entry,
		lotID,
		r.Of,
		r.At.UnixMilli(),
		r.Said,
	)
}

// AddHold writes a hold, or its lifting.
func (t *Tx) AddHold(entry, lotID int64, held bool, why string) error {
	return t.exec("add hold", `INSERT INTO hold (entry_id, lot_id, held, why) VALUES (?,?,?,?)`, entry, lotID, held, why)
}

// AddRelease writes the release.
func (t *Tx) AddRelease(entry, lotID int64, early string) error {
	return t.exec("add release", `INSERT INTO release (entry_id, lot_id, early) VALUES (?,?,?)`, entry, lotID, early)
}

// AddNote writes a note, an incident or the giving up of a lot.
func (t *Tx) AddNote(entry, lotID int64, kind NoteKind, text string) error {
	return t.exec("add note", `INSERT INTO lot_note (entry_id, lot_id, kind, text) VALUES (?,?,?,?)`, entry, lotID, kind, text)
}

// AddMove writes a move of bars; the balance is changed by [Tx.ChangeBars].
func (t *Tx) AddMove(entry, lotID int64, m lot.Move) error {
	return t.exec(
		"add move",
		`INSERT INTO bar_move (entry_id, lot_id, size, grade, reason, change, note) VALUES (?,?,?,?,?,?,?)`,
		entry,
		lotID,
		m.Kind.Size,
		m.Kind.Grade,
		m.Reason,
		m.Change,
		m.Note,
	)
}

// CountBars opens the balance of a lot's bars at the cut.
func (t *Tx) CountBars(lotID int64, k ledger.Kind, bars int) error {
	return t.exec("count bars", `INSERT INTO bar_balance (lot_id, size, grade, bars) VALUES (?, ?, ?, ?)`, lotID, k.Size, k.Grade, bars)
}

// ChangeBars changes the balance of a lot's bars. The database refuses a
// balance below zero.
func (t *Tx) ChangeBars(lotID int64, k ledger.Kind, change int) error {
	return t.exec(
		"change bars",
		`UPDATE bar_balance SET bars = bars + ? WHERE lot_id = ? AND size = ? AND grade = ?`,
		change,
		lotID,
		k.Size,
		k.Grade,
	)
}

// Lot is the whole record of a lot. What was worked out for it and frozen is still
// in JSON: what it was made from, and the sheets that it was rescaled to.
type Lot struct {
	lot.Lot
	FrozenJSON  []byte
	RescaleJSON [][]byte // parallel to Rescales
}

// LotsWhere picks lots for [Tx.LotHeads]. What is left empty does not matter.
type LotsWhere struct {
	OID      string      // one lot
	Number   int         // one lot, by the number of its code
	Recipe   string      // lots of one recipe
	Stages   []lot.Stage // lots at these stages
	Text     string      // in the code, the recipe's name, or a person's who wrote in it
	Material string      // key of an ingredient, or part of its name
	Trouble  string      // kind of an incident; "any" for lots with one
	From, To time.Time   // started within
	Unproven bool        // released, and no good check as late as a week after the pour
	Most     int         // newest first, at most so many; 0 for all
	Skip     int         // after so many
}

// where writes the choice as conditions on lot l and, when stages are chosen, its
// lot_state s.
func (w LotsWhere) where() (string, []any) {
	where, args := `1`, []any{}
	and := func(text string, values ...any) {
		where += ` AND ` + text
		args = append(args, values...)
	}
	if w.OID != "" {
		and(`l.oid = ?`, w.OID)
	}
	if w.Number > 0 {
		and(`l.number = ?`, w.Number)
	}
	if w.Recipe != "" {
		and(`l.recipe_id = (SELECT id FROM recipe WHERE oid = ?)`, w.Recipe)
	}
	if len(w.Stages) > 0 {
		marks, values := "?", []any{w.Stages[0]}
		for _, st := range w.Stages[1:] {
			marks, values = marks+",?", append(values, st)
		}
		stage := `s.stage`
		if w.Most > 0 && len(w.Stages) > 2 { // most lots are at some of them: from the newest on they are found sooner than by the index
			stage = `+s.stage`
		}
		and(stage+` IN (`+marks+`)`, values...)
	}
	if w.Text != "" {
		like := "%" + likeEscape.Replace(w.Text) + "%"
		and(
			`(replace(l.code, '-', '') LIKE ? ESCAPE '!' OR l.recipe_id IN (SELECT recipe_id FROM recipe_revision WHERE name LIKE ? ESCAPE '!')
			OR EXISTS (SELECT 1 FROM person WHERE name LIKE ? ESCAPE '!') AND (SELECT person_id FROM entry WHERE id = l.entry_id) IN `+
				`(SELECT id FROM person WHERE name LIKE ? ESCAPE '!'))`,
			strings.ReplaceAll(like, "-", ""),
			like,
			like,
			like,
		)
	}
	if w.Material != "" {
		// The few names there are come from hopping along their index.
		and(`(l.id IN (SELECT lot_id FROM lot_material WHERE item = ?) OR l.id IN (SELECT lot_id FROM lot_material WHERE name IN (
			WITH RECURSIVE names (name) AS (SELECT min(name) FROM lot_material
				UNION ALL SELECT (SELECT min(m.name) FROM lot_material m WHERE m.name > names.name) FROM names WHERE names.name IS NOT NULL)
			SELECT name FROM names WHERE name LIKE ? ESCAPE '!')))`, w.Material, "%"+likeEscape.Replace(w.Material)+"%")
	}
	if w.Trouble == "any" {
		and(`l.id IN (SELECT lot_id FROM incident)`)
	} else if w.Trouble != "" {
		and(`l.id IN (SELECT lot_id FROM incident WHERE kind = ?)`, w.Trouble)
	}
	if w.Unproven {
		and(`l.id IN (SELECT r.lot_id FROM release r JOIN pour p ON p.lot_id = r.lot_id JOIN happened ph ON ph.id = p.entry_id
			WHERE NOT EXISTS (SELECT 1 FROM safety_check k JOIN happened kh ON kh.id = k.entry_id WHERE k.lot_id = r.lot_id AND `+
			`k.pass = 1 AND kh.at >= ph.at + ?))`, (7 * 24 * time.Hour).Milliseconds())
	}
	if !w.From.IsZero() {
		and(`(SELECT at FROM happened WHERE id = l.entry_id) >= ?`, w.From.UnixMilli())
	}
	if !w.To.IsZero() {
		and(`(SELECT at FROM happened WHERE id = l.entry_id) < ?`, w.To.UnixMilli())
	}
	return where, args
}

const withState = ` JOIN lot_state s ON s.lot_id = l.id`

// picked is a query for the numbers of the lots. It asks for nothing that the index
// lot_search lacks, since the rows of lots are large.
func (w LotsWhere) picked() (string, []any) {
	where, args := w.where()
	from := `lot l`
	if len(w.Stages) > 0 {
		from += withState
	}
	return `SELECT l.id FROM ` + from + ` WHERE ` + where, args
}

var likeEscape = strings.NewReplacer("!", "!!", "%", "!%", "_", "!_")

// CountLots is how many lots are picked, whatever Most and Skip say.
func (t *Tx) CountLots(w LotsWhere) (n int, err error) {
	picked, args := w.picked()
	err = t.one("count lots", `SELECT count(*) FROM (`+picked+`)`, args, &n)
	return n, err
}

// Poured is how many pours somebody recorded.
func (t *Tx) Poured(person int64) (n int, err error) {
	err = t.one("pours of a person", `SELECT count(*) FROM pour p JOIN entry e ON e.id = p.entry_id WHERE e.person_id = ?`, []any{person}, &n)
	return n, err
}

// LotHead says which lot it is, and which is the newest entry of its record.
type LotHead struct {
	ID        int64
	OID       string
	LastEntry int64
}

// LotHeads returns the heads of the lots that are picked, newest first.
func (t *Tx) LotHeads(w LotsWhere) (out []LotHead, err error) {
	where, args := w.where()
	if w.Text != "" { // every lot is looked at
		where, args = w.picked()
		where = `l.id IN (` + where + `)`
	}
	where += ` ORDER BY l.id DESC`
	if w.Most > 0 {
		where += fmt.Sprintf(` LIMIT %d OFFSET %d`, w.Most, w.Skip)
	}
	err = t.each("lots", `SELECT l.id, l.oid, s.last_entry FROM lot l`+withState+` WHERE `+where, args, func(rows *sql.Rows) error {
		var h LotHead
		err := rows.Scan(&h.ID, &h.OID, &h.LastEntry)
		out = append(out, h)
		return err
	})
	return out, err
}

// LotsOf returns the records of lots in the order of their heads, with what
// happened to them on the bench or without. It leaves out what the records of
// other lots say of them, which [Tx.Relate] reads. Each kind of record is read in
// one go for all of them.
func (t *Tx) LotsOf(heads []LotHead, withMaking bool) ([]*Lot, error) {
	if len(heads) == 0 {
		return nil, nil
	}
	c := chosen[*Lot]{t: t, byID: map[int64]*Lot{}}
	out := make([]*Lot, len(heads))
	ids := make([]int64, len(heads))
	for i, h := range heads {
		out[i] = &Lot{Lot: lot.Lot{ID: h.ID, Balance: map[ledger.Kind]int{}}}
		ids[i], c.byID[h.ID] = h.ID, out[i]
	}
	if err := c.choose(ids); err != nil {
		return nil, err
	}
	err := t.each(
		"lots",
		`SELECT l.id, l.oid, l.number, l.code, l.pot, p.oid, r.oid, l.frozen, s.last_entry, s.odd, `+headColumns+` `+c.from(
			"lot",
			"id",
		)+`JOIN lot l ON l.id = x.id
		JOIN lot_state s ON s.lot_id = l.id JOIN plan p ON p.id = l.plan_id JOIN recipe r ON r.id = l.recipe_id `+headJoin(
			"l",
		),
		c.args,
		func(rows *sql.Rows) error {
			var id int64
			var row Lot
			var h head
			if err := rows.Scan(append([]any{&id, &row.OID, &row.Number, &row.Code, &row.Pot, &row.PlanOID, &row.Recipe,
				&row.FrozenJSON, &row.LastEntry, &row.Odd}, h.into()...)...); err != nil {
				return err
			}
			l := c.byID[id]
			row.ID, row.Balance, row.Started = id, l.Balance, h.entry(c.clock)
			*l = row
			return nil
		},
	)
	if err != nil {
		return nil, err
	}
	return out, records(c, withMaking)
}

// head scans the columns that all records share.
type head struct {
	id, occurred, recorded int64
	who, device            string
	corrects               int64
	reason                 string
}

const headColumns = `e.id, e.occurred_at, e.recorded_at, coalesce(w.name, ''), d.label, coalesce(e.corrects_id, 0), e.reason`

func headJoin(table string) string {
	return `JOIN entry e ON e.id = ` + table + `.entry_id LEFT JOIN person w ON w.id = e.person_id JOIN device d ON d.id = e.device_id`
}

func (h *head) into() []any {
	return []any{&h.id, &h.occurred, &h.recorded, &h.who, &h.device, &h.corrects, &h.reason}
}

func (h *head) entry(c *clockWords) lot.Entry {
	e := lot.Entry{ID: h.id, Occurred: time.UnixMilli(h.occurred), Recorded: time.UnixMilli(h.recorded),
		Who: h.who, Device: h.device, Corrects: h.corrects, Reason: h.reason, Doubt: c.doubt[h.id]}
	if at, ok := c.at[h.id]; ok {
		e.Occurred = time.UnixMilli(at)
	}
	return e
}

// records fills in everything that happened to the chosen lots.
func records(c chosen[*Lot], withMaking bool) error {
	if withMaking {
		if err := readMaking(c); err != nil {
			return err
		}
	}
	byID := c.byID
	var mg, mg2 int64
	var how lot.Signature
	return errors.Join(
		read(c, "pour", "x.lye_c, x.fats_c, x.room_c, x.trace, x.left_mg, x.skipped, x.note",
			func(p *lot.Pour) []any { return []any{&p.LyeC, &p.FatsC, &p.RoomC, &p.Trace, &mg, &p.Skipped, &p.Note} },
			func(l *Lot, e lot.Entry, p lot.Pour) { p.Entry, p.LeftG, l.Pour = e, grams(mg), &p }),
		read(c, "pour_judgement", "x.superfat, x.planned, x.heavy, x.said",
			func(j *lot.Judged) []any { return []any{&j.Superfat, &j.Planned, &j.Heavy, &j.Said} },
			func(l *Lot, _ lot.Entry, j lot.Judged) { l.Pour.Judged = &j }),
		read(c, "unmolding", "x.gel, x.note",
			func(u *lot.Unmolding) []any { return []any{&u.Gel, &u.Note} },
			func(l *Lot, e lot.Entry, u lot.Unmolding) { u.Entry, l.Unmolding = e, &u }),
		read(c, "cut", "x.first, x.second, x.tester, x.scrap, x.bar_mg, x.trimmings_mg, x.note",
			func(r *cutRow) []any {
				return []any{&r.first, &r.second, &r.tester, &r.scrap, &mg, &mg2, &r.note}
			},
			func(l *Lot, e lot.Entry, r cutRow) {
				l.Cut = &lot.Cut{Entry: e, BarG: grams(mg), TrimmingsG: grams(mg2), Note: r.note, Bars: r.bars()}
			}),
		read(c, "sample_weight", "x.weight",
			func(*lot.SampleWeight) []any { return []any{&mg} },
			func(l *Lot, e lot.Entry, w lot.SampleWeight) {
				w.Entry, w.Grams = e, grams(mg)
				l.Samples = append(l.Samples, w)
			}),
		read(c, "safety_check", "x.method, x.ph, x.pass, x.note",
			func(k *lot.SafetyCheck) []any { return []any{&k.Method, &k.PH, &k.Pass, &k.Note} },
			func(l *Lot, e lot.Entry, k lot.SafetyCheck) { k.Entry = e; l.Checks = append(l.Checks, k) }),
		read(c, "entry_time", "x.of_id, x.occurred_at, x.said",
			func(r *lot.Retime) []any { return []any{&r.Of, &mg, &r.Said} },
			func(l *Lot, e lot.Entry, r lot.Retime) {
				r.Entry, r.At = e, time.UnixMilli(mg)
				l.Retimes = append(l.Retimes, r)
			}),
		read(c, "hold", "x.held, x.why, "+signed,
			func(h *lot.Hold) []any { return []any{&h.Held, &h.Why, &how} },
			func(l *Lot, e lot.Entry, h lot.Hold) { h.Entry, h.Signed = e, how; l.Holds = append(l.Holds, h) }),
		read(c, "release", "x.early, "+signed,
			func(r *lot.Release) []any { return []any{&r.Early, &how} },
			func(l *Lot, e lot.Entry, r lot.Release) { r.Entry, r.Signed, l.Release = e, how, &r }),
		read(c, "bar_move", "x.size, x.grade, x.reason, x.change, x.note",
			func(m *lot.Move) []any { return []any{&m.Kind.Size, &m.Kind.Grade, &m.Reason, &m.Change, &m.Note} },
			func(l *Lot, e lot.Entry, m lot.Move) { m.Entry = e; l.Moves = append(l.Moves, m) }),
		selling(c), // after the moves
		read(c, "lot_note", "x.kind, x.text",
			func(n *noteRow) []any { return []any{&n.kind, &n.text} },
			func(l *Lot, e lot.Entry, n noteRow) {
				note := lot.Note{Entry: e, Text: n.text, Incident: n.kind == Mishap}
				if n.kind == Abandoned {
					l.Abandoned = &note
				} else {
					l.Notes = append(l.Notes, note)
				}
			}),
		troubles(c), // after the cut, which some of it belongs to
		c.t.each(
			"bar balance",
			`SELECT x.lot_id, x.size, x.grade, x.bars `+c.from("bar_balance", "lot_id"),
			c.args,
			func(r *sql.Rows) error {
				var id int64
				var k ledger.Kind
				var n int
				err := r.Scan(&id, &k.Size, &k.Grade, &n)
				if err == nil {
					byID[id].Balance[k] = n
				}
				return err
			},
		),
	)
}

// signed is how somebody showed that it is she who made an entry, empty when she was not asked.
const signed = `coalesce((SELECT s.how FROM entry_signed s WHERE s.entry_id = x.entry_id), '')`

// chosen is the lots whose records are read.
type chosen[L any] struct {
	t    *Tx
	args []any // their ids, as one JSON array
	byID map[int64]L

	clock *clockWords
}

// choose says which lots are meant, in their order.
func (c *chosen[L]) choose(ids []int64) error {
	text, err := json.Marshal(ids)
	if err != nil {
		return fmt.Errorf("lots to read: %w", err)
	}
	c.args = []any{string(text)}
	c.clock, err = c.t.clockWords()
	return err
}

// clockWords is what was said of wrong clocks, by entry: when it really happened, and
// what is still in doubt. It is nearly always nothing, so all of it is read at once.
type clockWords struct {
	at    map[int64]int64
	doubt map[int64]clock.Doubt
}

func (t *Tx) clockWords() (*clockWords, error) {
	c := &clockWords{map[int64]int64{}, map[int64]clock.Doubt{}}
	err := t.each("times put right", `SELECT of_id, occurred_at FROM entry_time ORDER BY entry_id`, nil, func(r *sql.Rows) error {
		var of, at int64
		err := r.Scan(&of, &at)
		c.at[of] = at
		return err
	})
	if err != nil {
		return nil, err
	}
	return c, t.each("doubts", `SELECT id, doubt FROM doubted`, nil, func(r *sql.Rows) error {
		var id int64
		var d clock.Doubt
		err := r.Scan(&id, &d)
		c.doubt[id] = d
		return err
	})
}

// from is the rows x of a table that belong to the chosen lots, in the same words
// for any choice. They are looked up lot by lot: the cross join keeps the engine
// from going through the whole history instead.
func (chosen[L]) from(table, column string) string {
	return `FROM json_each(?) j CROSS JOIN ` + table + ` x ON x.` + column + ` = j.value `
}

// cutRow is the bars of one size as they are written; note is the size's name or
// the cut's note.
type cutRow struct {
	first, second, tester, scrap int
	note                         string
}

func (r cutRow) bars() map[ledger.Grade]int {
	return map[ledger.Grade]int{ledger.First: r.first, ledger.Second: r.second, ledger.Tester: r.tester, ledger.Scrap: r.scrap}
}

type noteRow struct {
	kind NoteKind
	text string
}

// read goes through one table of records in order: into names where the
// table's own columns go, place puts the record with its head on its lot.
func read[T any](c chosen[*Lot], table, columns string, into func(*T) []any, place func(*Lot, lot.Entry, T)) error {
	query := `SELECT x.lot_id, ` + headColumns + `, ` + columns + ` ` + c.from(table, "lot_id") + headJoin("x") + ` ORDER BY x.entry_id`
	return c.t.each(table, query, c.args, func(rows *sql.Rows) error {
		var row T
		var id int64
		var h head
		if err := rows.Scan(append(append([]any{&id}, h.into()...), into(&row)...)...); err != nil {
			return err
		}
		place(c.byID[id], h.entry(c.clock), row)
		return nil
	})
}

// NoteKind is what a note on a lot is.
type NoteKind string

// The kinds.
const (
	Remark    NoteKind = "note"
	Mishap    NoteKind = "incident" // as it was written before incidents had records of their own, and still by hand
	Abandoned NoteKind = "abandoned"
)
