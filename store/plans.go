package store

import (
	"database/sql"
	"fmt"
	"time"
)

// Plan is a kept plan. Body is JSON.
type Plan struct {
	OID      string
	Revision int64 // entry of the recipe revision
	Recipe   string
	Body     []byte
	Kept     time.Time
	Who      string
	Day      string   // the local date it is meant for, or empty
	Turn     int      // its place in that day
	Away     bool     // put away: nobody will make it
	Lots     []LotRow // pots that were started, by pot
}

// AddPlan keeps a plan.
func (t *Tx) AddPlan(entry int64, oid string, revision int64, body []byte) error {
	id, err := t.insert(
		"add plan",
		`INSERT INTO plan (oid, entry_id, revision, body) VALUES (?,?,?,?)`,
		oid,
		entry,
		revision,
		string(body),
	)
	if err != nil {
		return err
	}
	return t.exec("add plan state", `INSERT INTO plan_state (plan_id, open, day, turn) VALUES (?, 1, '', 0)`, id)
}

const planQuery = `SELECT p.oid, p.revision, r.oid, p.body, e.recorded_at, w.name, s.day, s.turn,
	coalesce((SELECT a.away FROM plan_away a WHERE a.plan_id = p.id ORDER BY a.entry_id DESC LIMIT 1), 0) FROM plan_state s
	JOIN plan p ON p.id = s.plan_id
	JOIN recipe_revision v ON v.entry_id = p.revision JOIN recipe r ON r.id = v.recipe_id
	JOIN entry e ON e.id = p.entry_id JOIN person w ON w.id = e.person_id `

// Plan returns a kept plan with the lots started from it.
func (t *Tx) Plan(oid string) (p Plan, err error) {
	list, err := t.plans(`WHERE p.oid = ?`, oid)
	if err == nil && len(list) == 0 {
		return p, fmt.Errorf("plan %s: %w", oid, ErrNotFound)
	}
	if err != nil {
		return p, err
	}
	p = list[0]
	p.Lots, err = t.lotRows(`WHERE p.oid = ? ORDER BY l.pot`, oid)
	return p, err
}

func (t *Tx) plans(where string, args ...any) (out []Plan, err error) {
	err = t.each("plans", planQuery+where, args, func(r *sql.Rows) error {
		var p Plan
		var at int64
		if err := r.Scan(&p.OID, &p.Revision, &p.Recipe, &p.Body, &at, &p.Who, &p.Day, &p.Turn, &p.Away); err != nil {
			return err
		}
		p.Kept = time.UnixMilli(at)
		out = append(out, p)
		return nil
	})
	return out, err
}

// OpenPlans returns the kept plans that have no lot yet, the newest first; most of
// them, or all when most is 0.
func (t *Tx) OpenPlans(most int) ([]Plan, error) {
	if most == 0 {
		most = -1
	}
	return t.plans(`WHERE s.open = 1 ORDER BY s.plan_id DESC LIMIT ?`, most)
}

// CountOpenPlans is how many kept plans have no lot yet.
func (t *Tx) CountOpenPlans() (n int, err error) {
	err = t.one("open plans", `SELECT count(*) FROM plan_state WHERE open = 1`, nil, &n)
	return n, err
}

// OpenPlansOn returns the kept plans that have no lot yet and are meant for the days
// from one up to another, in their turns.
func (t *Tx) OpenPlansOn(from, to string) ([]Plan, error) {
	return t.plans(`WHERE s.day <> '' AND s.day >= ? AND s.day <= ? AND s.open = 1 ORDER BY s.day, s.turn, s.plan_id`, from, to)
}

// PlansOf returns the plans of a day, in their turns.
func (t *Tx) PlansOf(day string) (out []Plan, err error) {
	if out, err = t.plans(`WHERE s.day <> '' AND s.day = ? ORDER BY s.turn, s.plan_id`, day); err != nil {
		return nil, err
	}
	for i := range out {
		if out[i].Lots, err = t.lotRows(`WHERE p.oid = ? ORDER BY l.pot`, out[i].OID); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Days returns the days from one on that plans are meant for, with how many.
func (t *Tx) Days(from string) (days []string, plans []int, err error) {
	err = t.each(
		"days",
		`SELECT day, count(*) FROM plan_state WHERE day <> '' AND day >= ? GROUP BY day ORDER BY day LIMIT 30`,
		[]any{from},
		func(r *sql.Rows) error {
			var day string
			var n int
			if err := r.Scan(&day, &n); err != nil {
				return err
			}
			days, plans = append(days, day), append(plans, n)
			return nil
		},
	)
	return days, plans, err
}

// SetPlanDay says which day a plan is meant for and its turn in it.
func (t *Tx) SetPlanDay(entry int64, oid, day string, turn int) error {
	if err := t.exec("set plan day",
		`INSERT INTO plan_day (entry_id, plan_id, day, turn) VALUES (?, (SELECT id FROM plan WHERE oid = ?), ?, ?)`, entry, oid,
		day, turn); err != nil {
		return err
	}
	return t.exec(
		"set plan state",
		`UPDATE plan_state SET day = ?, turn = ? WHERE plan_id = (SELECT id FROM plan WHERE oid = ?)`,
		day,
		turn,
		oid,
	)
}

// PutPlanAway says that a plan is put away, or taken out again: it is open once more when no lot was
// started from it.
func (t *Tx) PutPlanAway(entry int64, oid string, away bool) error {
	if err := t.exec("put plan away",
		`INSERT INTO plan_away (entry_id, plan_id, away) VALUES (?, (SELECT id FROM plan WHERE oid = ?), ?)`,
		entry, oid, away); err != nil {
		return err
	}
	return t.exec("set plan state",
		`UPDATE plan_state SET open = NOT ? AND NOT EXISTS (SELECT 1 FROM lot l WHERE l.plan_id = plan_state.plan_id)
		WHERE plan_id = (SELECT id FROM plan WHERE oid = ?)`, away, oid)
}

// MoldPour is how full a mold came in one pour.
type MoldPour struct {
	Mold       string  // identity
	Lot        string  // code, empty when it was noted by hand
	LotID      int64   // 0 likewise
	Correction float64 // that the pour was planned with
	OffMM      float64
	LeftShare  float64
	Forgotten  bool // what was learned up to here no longer counts
	Who        string
	At         time.Time
}

// AddMoldPour writes how full a mold came, or that what it learned is forgotten.
func (t *Tx) AddMoldPour(entry int64, p MoldPour) error {
	return t.exec(
		"add mold pour",
		`INSERT INTO mold_pour (entry_id, mold_id, lot_id, correction, off_mm, left_share, forgotten) VALUES (?, (SELECT id FROM `+
			`mold WHERE oid = ?), ?, ?, ?, ?, ?)`,
		entry,
		p.Mold,
		sql.NullInt64{Int64: p.LotID, Valid: p.LotID != 0},
		p.Correction,
		p.OffMM,
		p.LeftShare,
		p.Forgotten,
	)
}

// MoldPours returns the newest pours of a mold, the newest first.
func (t *Tx) MoldPours(mold string, most int) (out []MoldPour, err error) {
	err = t.each(
		"mold pours",
		`SELECT m.oid, coalesce(l.code, ''), v.correction, v.off_mm, v.left_share, v.forgotten, w.name, e.occurred_at FROM mold_pour v
		JOIN mold m ON m.id = v.mold_id LEFT JOIN lot l ON l.id = v.lot_id JOIN entry e ON e.id = v.entry_id JOIN person w ON w.id `+
			`= e.person_id WHERE m.oid = ? ORDER BY v.entry_id DESC LIMIT ?`,
		[]any{mold, most},
		func(r *sql.Rows) error {
			var p MoldPour
			var at int64
			if err := r.Scan(&p.Mold, &p.Lot, &p.Correction, &p.OffMM, &p.LeftShare, &p.Forgotten, &p.Who, &at); err != nil {
				return err
			}
			p.At = time.UnixMilli(at)
			out = append(out, p)
			return nil
		},
	)
	return out, err
}

// AddBench writes who and what is at the bench on a day, as JSON; the empty day is what is usual.
func (t *Tx) AddBench(entry int64, day string, body []byte) error {
	return t.exec("add bench", `INSERT INTO bench (entry_id, day, body) VALUES (?, ?, ?)`, entry, day, string(body))
}

// Bench is the newest word on the bench of a day; [ErrNotFound] when there is none.
func (t *Tx) Bench(day string) (body []byte, err error) {
	err = t.one("bench", `SELECT body FROM bench WHERE day = ? ORDER BY entry_id DESC LIMIT 1`, []any{day}, &body)
	return body, err
}
