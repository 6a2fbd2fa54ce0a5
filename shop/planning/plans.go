// Package planning is what is done before anything is weighed: an order for molds, bars or
// batter becomes pots, weights and cuts; plans are kept, put on a day, and started as lots.
//
// A plan is worked out from the records as they stand at one moment. Its weights stay as
// they were kept, whatever becomes of the recipe, until it is planned anew.
package planning

import (
	"context"
	"reflect"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/selling"
	"ashshelf/shop/stock"
	"ashshelf/soap/caution"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// Planner plans.
type Planner struct {
	*journal.Journal
	*catalog.Catalog
	*stock.Keeper
	*lots.Reader
	Seller *selling.Seller // who knows what was assessed

	known known
	made  madeMemo
	turns turnsMemo
}

// Plan is a kept plan.
type Plan struct {
	store.Plan
	document.PlanBody
}

// NextPot is the number of the pot that is to be started next, 0 when all
// were.
func (p Plan) NextPot() int {
	if n := len(p.Lots); n < p.PlanBody.Plan.Batches {
		return n + 1
	}
	return 0
}

// KeepPlan works an order out and keeps the plan as it is now.
func (pl *Planner) KeepPlan(ctx context.Context, act journal.Act, o Order) (oid string, err error) {
	if err := checkDay(o.Day, true); err != nil {
		return "", err
	}
	w, err := pl.ComputePlan(ctx, o)
	if err != nil {
		return "", err
	}
	return pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) { return keep(c, w, o.Day) })
}

// KeepPlans works orders out and keeps the plans of all of them, or of none.
func (pl *Planner) KeepPlans(ctx context.Context, act journal.Act, orders []Order) error {
	var all []ComputedPlan
	for _, o := range orders {
		if err := checkDay(o.Day, true); err != nil {
			return err
		}
		w, err := pl.ComputePlan(ctx, o)
		if err != nil {
			return err
		}
		all = append(all, w)
	}
	_, err := pl.ByPerson(ctx, act, func(c *journal.Change) (oid string, err error) {
		for i, w := range all {
			if oid, err = keep(c, w, orders[i].Day); err != nil {
				return "", err
			}
		}
		return oid, nil
	})
	return err
}

// keep writes a plan that was worked out, for a day or for none.
func keep(c *journal.Change, w ComputedPlan, day string) (oid string, err error) {
	text, err := document.Encode(w.PlanBody)
	if err != nil {
		return "", err
	}
	entry, err := c.Entry("plan")
	if err != nil {
		return "", err
	}
	oid = journal.NewOID()
	if err := c.AddPlan(entry, oid, w.Recipe.Entry.ID, text); err != nil || day == "" {
		return oid, err
	}
	return oid, setDay(c, oid, day, 0)
}

// asPlan reads kept plans. Their weights stay as they were kept; what their scents may
// do is what is known of them now.
func (pl *Planner) asPlan(tx *store.Tx) (func(store.Plan) (Plan, error), error) {
	known, err := catalog.KnownScents(tx)
	return func(p store.Plan) (Plan, error) {
		written, err := pl.PlanBody(p)
		if err != nil {
			return Plan{}, err
		}
		body := document.ReadPlan(written)
		if body.Request.Formula.Scent == nil {
			return Plan{p, body}, nil
		}
		kept := body.Request.Formula.Scent
		body.Request.Formula = body.Request.Formula.Live(known)
		if !reflect.DeepEqual(kept, body.Request.Formula.Scent) {
			body.Plan.Cautions = freshCautions(body.Request, body.Plan.Cautions)
			if one := body.Plan.PerBatch; one != nil {
				one.Cautions = body.Plan.Cautions
			}
		}
		return Plan{p, body}, nil
	}, err
}

// freshCautions are the cautions of a request as they are now, with those of the kept
// plan that it does not find itself, such as of cutters and labels.
func freshCautions(r plan.Request, kept []caution.Caution) []caution.Caution {
	now, err := plan.Make(r)
	if err != nil {
		return append(
			[]caution.Caution{
				{
					Code:   "plan.refused",
					Level:  caution.Block,
					Reason: "This plan cannot be made any more: " + err.Error() + ".",
					Remedy: "Plan it anew.",
				},
			},
			kept...)
	}
	out := now.Cautions
	for _, c := range kept {
		if !strings.HasPrefix(c.Code, "scent.") && !strings.HasPrefix(c.Code, "pot.") &&
			!slices.ContainsFunc(out, func(o caution.Caution) bool { return o.Code == c.Code }) {
			out = append(out, c)
		}
	}
	caution.Sort(out)
	return out
}

// Plan returns a kept plan.
func (pl *Planner) Plan(ctx context.Context, oid string) (out Plan, err error) {
	err = pl.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.Plan(oid)
		if err != nil {
			return err
		}
		read, err := pl.asPlan(tx)
		if err == nil {
			out, err = read(p)
		}
		return err
	})
	return out, err
}

// OpenPlans returns the newest plans that no lot was started from, at most so many,
// or all of them when most is 0, and how many there are.
func (pl *Planner) OpenPlans(ctx context.Context, most int) (out []Plan, all int, err error) {
	out, err = pl.readPlans(ctx, func(tx *store.Tx) (rows []store.Plan, err error) {
		if all, err = tx.CountOpenPlans(); err != nil {
			return nil, err
		}
		return tx.OpenPlans(most)
	})
	return out, all, err
}

// OpenPlansOn returns the plans that no lot was started from and that are meant for
// the days from one up to another, in their turns.
func (pl *Planner) OpenPlansOn(ctx context.Context, from, to string) ([]Plan, error) {
	return pl.readPlans(ctx, func(tx *store.Tx) ([]store.Plan, error) { return tx.OpenPlansOn(from, to) })
}

func (pl *Planner) readPlans(ctx context.Context, rows func(*store.Tx) ([]store.Plan, error)) (out []Plan, err error) {
	err = pl.Read(ctx, func(tx *store.Tx) error {
		list, err := rows(tx)
		if err != nil {
			return err
		}
		read, err := pl.asPlan(tx)
		if err != nil {
			return err
		}
		for _, p := range list {
			one, err := read(p)
			if err != nil {
				return err
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}
