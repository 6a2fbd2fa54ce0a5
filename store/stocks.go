package store

import (
	"database/sql"
	"errors"
	"fmt"
	"time"

	"ashshelf/soap/steep"
)

// Stock is a container of lye or of blended fats. Body is JSON.
type Stock struct {
	ID      int64
	OID     string
	Code    string
	Kind    string // "naoh", "koh" or "fats"
	Body    []byte
	Made    time.Time
	Who     string
	Balance float64 // g
	Moves   []StockMove
	Words   []StockUpdate
}

// StockMove is what went in or out of a container.
type StockMove struct {
	Entry  int64
	What   MoveKind
	Change float64 // g
	Lot    string  // code of the lot it went to, or empty
	LotOID string
	Note   string
	Who    string
	At     time.Time
}

// StockUpdate is what became known of a container; a nil field was not said.
type StockUpdate struct {
	Strength *float64
	Celsius  *float64
	Status   Status // empty when not said
	How, Why string
	Who      string
	At       time.Time
}

// NextStockNumber is one more than any container ever had.
func (t *Tx) NextStockNumber() (n int, err error) {
	err = t.one("next stock", `SELECT coalesce(max(number), 0) + 1 FROM stock`, nil, &n)
	return n, err
}

// AddStock writes a new container with nothing in it.
func (t *Tx) AddStock(entry int64, oid string, number int, code, kind string, body []byte) (id int64, err error) {
	if id, err = t.insert("add stock", `INSERT INTO stock (oid, entry_id, number, code, kind, body) VALUES (?,?,?,?,?,?)`, oid,
		entry, number, code, kind, string(body)); err != nil {
		return 0, err
	}
	return id, t.exec("open stock", `INSERT INTO stock_balance (stock_id, mg) VALUES (?, 0)`, id)
}

// ErrEmpty says that a container holds less than is to be taken.
var ErrEmpty = errors.New("the container holds less than that")

// MoveStock writes what went in or out and changes the balance with it. It is
// [ErrEmpty] when less is there than is taken.
func (t *Tx) MoveStock(entry, id int64, m StockMove, lotID int64) error {
	mg := Milligrams(m.Change)
	var have int64
	if err := t.one("stock balance", `SELECT mg FROM stock_balance WHERE stock_id = ?`, []any{id}, &have); err != nil {
		return err
	}
	if have+mg < 0 {
		return fmt.Errorf("take %g g of %g g: %w", -m.Change, grams(have), ErrEmpty)
	}
	if err := t.exec("add stock move", `INSERT INTO stock_move (entry_id, stock_id, what, change, lot_id, note) VALUES (?,?,?,?,?,?)`,
		entry, id, m.What, mg, sql.NullInt64{Int64: lotID, Valid: lotID != 0}, m.Note); err != nil {
		return err
	}
	return t.exec("change stock", `UPDATE stock_balance SET mg = mg + ? WHERE stock_id = ?`, mg, id)
}

// AddStockWord writes what became known of a container.
func (t *Tx) AddStockWord(entry, id int64, w StockUpdate) error {
	return t.exec(
		"add stock word",
		`INSERT INTO stock_word (entry_id, stock_id, strength, celsius, status, how, why) VALUES (?,?,?,?,?,?,?)`,
		entry,
		id,
		w.Strength,
		w.Celsius,
		sql.NullString{String: string(w.Status), Valid: w.Status != ""},
		w.How,
		w.Why,
	)
}

const stockQuery = `SELECT s.id, s.oid, s.code, s.kind, s.body, e.occurred_at, w.name, b.mg FROM stock s
	JOIN stock_balance b ON b.stock_id = s.id JOIN entry e ON e.id = s.entry_id JOIN person w ON w.id = e.person_id `

func (t *Tx) stocks(where string, args ...any) (out []Stock, err error) {
	err = t.each("stocks", stockQuery+where, args, func(r *sql.Rows) error {
		var s Stock
		var at, mg int64
		if err := r.Scan(&s.ID, &s.OID, &s.Code, &s.Kind, &s.Body, &at, &s.Who, &mg); err != nil {
			return err
		}
		s.Made, s.Balance = time.UnixMilli(at), grams(mg)
		out = append(out, s)
		return nil
	})
	if err != nil {
		return nil, err
	}
	for i := range out {
		if err := t.stockStory(&out[i]); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (t *Tx) stockStory(s *Stock) error {
	err := t.each(
		"stock moves",
		`SELECT v.entry_id, v.what, v.change, coalesce(l.code, ''), coalesce(l.oid, ''), v.note, w.name, e.occurred_at FROM `+
			`stock_move v LEFT JOIN lot l ON l.id = v.lot_id
		JOIN entry e ON e.id = v.entry_id JOIN person w ON w.id = e.person_id WHERE v.stock_id = ? ORDER BY v.entry_id`,
		[]any{s.ID},
		func(r *sql.Rows) error {
			var m StockMove
			var mg, at int64
			if err := r.Scan(&m.Entry, &m.What, &mg, &m.Lot, &m.LotOID, &m.Note, &m.Who, &at); err != nil {
				return err
			}
			m.Change, m.At = grams(mg), time.UnixMilli(at)
			s.Moves = append(s.Moves, m)
			return nil
		},
	)
	if err != nil {
		return err
	}
	return t.each(
		"stock words",
		`SELECT v.strength, v.celsius, coalesce(v.status, ''), v.how, v.why, w.name, e.occurred_at FROM stock_word v
		JOIN entry e ON e.id = v.entry_id JOIN person w ON w.id = e.person_id WHERE v.stock_id = ? ORDER BY v.entry_id`,
		[]any{s.ID},
		func(r *sql.Rows) error {
			var m StockUpdate
			var at int64
			if err := r.Scan(&m.Strength, &m.Celsius, &m.Status, &m.How, &m.Why, &m.Who, &at); err != nil {
				return err
			}
			m.At = time.UnixMilli(at)
			s.Words = append(s.Words, m)
			return nil
		},
	)
}

// Stocks returns the containers that are not gone, the newest first; with all,
// also those that are, as many as most.
func (t *Tx) Stocks(all bool, most int) ([]Stock, error) {
	return t.stocks(
		`WHERE ? OR NOT EXISTS (SELECT 1 FROM stock_word g WHERE g.stock_id = s.id AND g.status = ?) ORDER BY s.id DESC LIMIT ?`,
		all,
		Gone,
		most,
	)
}

// Stock returns one container.
func (t *Tx) Stock(oid string) (s Stock, err error) {
	list, err := t.stocks(`WHERE s.oid = ?`, oid)
	if err == nil && len(list) == 0 {
		return s, fmt.Errorf("stock %s: %w", oid, ErrNotFound)
	}
	if err != nil {
		return s, err
	}
	return list[0], nil
}

// Cooled is how a pot cooled: the clock that its readings told, beside the usual
// one, in minutes.
type Cooled struct {
	Tool           string // identity of the jug or pot, or empty
	Stands         string
	Fats           bool
	Usual, Learned float64
}

// AddCooled writes how a pot cooled.
func (t *Tx) AddCooled(entry int64, c Cooled) error {
	return t.exec(
		"add cooling",
		`INSERT INTO cooling (entry_id, tool_id, stands, fats, usual, learned) VALUES (?, (SELECT id FROM equipment WHERE oid = ?), ?, ?, ?, ?)`,
		entry,
		c.Tool,
		c.Stands,
		c.Fats,
		c.Usual,
		c.Learned,
	)
}

// Cooled returns how pots that stood so cooled, the newest first.
func (t *Tx) Cooled(tool, stands string, fats bool, most int) (out []Cooled, err error) {
	err = t.each(
		"coolings",
		`SELECT coalesce(q.oid, ''), c.stands, c.fats, c.usual, c.learned FROM cooling c LEFT JOIN equipment q ON q.id = c.tool_id
		WHERE coalesce(q.oid, '') = ? AND c.stands = ? AND c.fats = ? ORDER BY c.entry_id DESC LIMIT ?`,
		[]any{tool, stands, fats, most},
		func(r *sql.Rows) error {
			var c Cooled
			if err := r.Scan(&c.Tool, &c.Stands, &c.Fats, &c.Usual, &c.Learned); err != nil {
				return err
			}
			out = append(out, c)
			return nil
		},
	)
	return out, err
}

// MoveKind is why something went into a container or out of it.
type MoveKind string

// The reasons.
const (
	Made     MoveKind = "made"
	Drawn    MoveKind = "draw"
	Counted  MoveKind = "count" // set to what the scale says
	Watered  MoveKind = "water"
	Disposed MoveKind = "away"
)

// Words says the reason.
func (k MoveKind) Words() string {
	return map[MoveKind]string{Made: "Made", Drawn: "Drawn", Counted: "Set to the scale", Watered: "Water added",
		Disposed: "Disposed of"}[k]
}

// Status is whether a container may be used.
type Status string

// The states.
const (
	InUse      Status = "open"
	Quarantine Status = "quarantine"
	Gone       Status = "gone"
)

// Statuses returns the states.
func Statuses() []Status { return []Status{InUse, Quarantine, Gone} }

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
