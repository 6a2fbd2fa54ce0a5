package planning

import (
	"context"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// Day is a day at the bench with all that is planned for it.
type Day struct {
	Date   string   // local, as 2026-03-14
	Plans  []Plan   // in their turns
	Why    []string // of each turn, where it is proposed
	Moved  bool     // somebody has put them in an order of their own
	Jobs   []plan.Job
	Totals []plan.Total
	Melts  []plan.Melt
	Ready  []plan.Ready
	Lyes   []plan.Turn
}

// dayFormat writes a local date.
const dayFormat = "2006-01-02"

func checkDay(day string, mayBeEmpty bool) error {
	if _, err := time.Parse(dayFormat, day); err != nil && !(mayBeEmpty && day == "") {
		return caution.Problems{{Path: "day", Text: "type the day like 2026-03-14"}}
	}
	return nil
}

// Day returns what is planned for a local date. Until somebody moves a plan,
// the order is the proposed one.
func (pl *Planner) Day(ctx context.Context, date string) (d Day, err error) {
	if err := checkDay(date, false); err != nil {
		return d, err
	}
	err = pl.Read(ctx, func(tx *store.Tx) (err error) {
		d, err = pl.dayIn(tx, date)
		return err
	})
	return d, err
}

func (pl *Planner) dayIn(tx *store.Tx, date string) (Day, error) {
	d := Day{Date: date}
	rows, err := tx.PlansOf(date)
	if err != nil {
		return d, err
	}
	read, err := pl.asPlan(tx)
	if err != nil {
		return d, err
	}
	var plans []Plan
	var jobs []plan.Job
	for _, row := range rows {
		p, err := read(row)
		if err != nil {
			return d, err
		}
		plans = append(plans, p)
		jobs = append(jobs, plan.Job{Name: p.PlanBody.Recipe, Formula: p.Request.Formula, Plan: p.PlanBody.Plan})
		d.Moved = d.Moved || p.Turn > 0
	}
	for i, turn := range plan.Turns(jobs) {
		at := turn.Job
		if d.Moved {
			at = i // as they were put; what came later stands first, with no turn yet
		}
		d.Plans, d.Jobs = append(d.Plans, plans[at]), append(d.Jobs, jobs[at])
		d.Why = append(d.Why, "")
		if !d.Moved {
			d.Why[i] = turn.Why
		}
	}
	d.Totals, d.Melts, d.Ready, d.Lyes = plan.Totals(d.Jobs), plan.Melts(d.Jobs), plan.Infused(d.Jobs), plan.Lyes(d.Jobs)
	return d, nil
}

// Days returns the days from one on that something is planned for, with how
// many plans each has.
func (pl *Planner) Days(ctx context.Context, from string) (days []string, plans []int, err error) {
	err = pl.Read(ctx, func(tx *store.Tx) (err error) {
		days, plans, err = tx.Days(from)
		return err
	})
	return days, plans, err
}

func setDay(c *journal.Change, oid, day string, turn int) error {
	return c.Record("plan day", func(entry int64) error { return c.SetPlanDay(entry, oid, day, turn) })
}

// SetDay says which day a plan is meant for; an empty day takes it off.
func (pl *Planner) SetDay(ctx context.Context, act journal.Act, oid, day string) error {
	if err := checkDay(day, true); err != nil {
		return err
	}
	_, err := pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		p, err := c.Plan(oid)
		if err != nil {
			return "", err
		}
		if p.Away && day != "" {
			return "", caution.Problems{{Path: "day", Text: "this plan is put away: take it out again first"}}
		}
		return oid, setDay(c, oid, day, 0)
	})
	return err
}

// PutPlanAway puts a plan away that nobody will make, off its day too, or takes it out again. What was
// started from it goes on.
func (pl *Planner) PutPlanAway(ctx context.Context, act journal.Act, oid string, away bool) error {
	_, err := pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		p, err := c.Plan(oid)
		if err != nil || p.Away == away {
			return oid, err
		}
		if away && p.Day != "" {
			if err := setDay(c, oid, "", 0); err != nil {
				return "", err
			}
		}
		return oid, c.Record("plan away", func(entry int64) error { return c.PutPlanAway(entry, oid, away) })
	})
	return err
}

// MovePlan moves a plan one place earlier or later in its day.
func (pl *Planner) MovePlan(ctx context.Context, act journal.Act, day, oid string, earlier bool) error {
	if err := checkDay(day, false); err != nil {
		return err
	}
	_, err := pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		d, err := pl.dayIn(c.Tx, day)
		if err != nil {
			return "", err
		}
		at := -1
		for i, p := range d.Plans {
			if p.OID == oid {
				at = i
			}
		}
		to := at + 1
		if earlier {
			to = at - 1
		}
		if at < 0 || to < 0 || to >= len(d.Plans) {
			return oid, nil // it is where it can be already
		}
		d.Plans[at], d.Plans[to] = d.Plans[to], d.Plans[at]
		for i, p := range d.Plans {
			if p.Turn == i+1 {
				continue
			}
			if err := setDay(c, p.OID, day, i+1); err != nil {
				return "", err
			}
		}
		return oid, nil
	})
	return err
}
