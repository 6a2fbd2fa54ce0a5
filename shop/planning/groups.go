package planning

import (
	"context"
	"errors"
	"math"
	"slices"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
)

// Groups are the plans that an order is better made as where its molds are of several kinds: equal
// pots of the whole would fill a mold from two of them. What is too large for one pot has pots of its
// own, in equal parts poured at once; the others have theirs. None where equal pots serve.
func (pl *Planner) Groups(ctx context.Context, o Order) (out []ComputedPlan, err error) {
	err = pl.Snapshot(ctx, func(ctx context.Context) (err error) {
		whole, err := pl.compute(ctx, o)
		if err != nil || !crosses(whole) {
			return err
		}
		orders, err := pl.groupOrders(ctx, o, whole)
		if err != nil || len(orders) < 2 {
			return err
		}
		pots := 0
		for _, one := range orders {
			w, err := pl.compute(ctx, one)
			if err != nil {
				return err
			}
			pots += w.Plan.Batches
			out = append(out, w)
		}
		if pots > whole.Plan.Batches+len(out) {
			out = nil // more work than the crossing is worth
		}
		return nil
	})
	var refused caution.Problems
	if errors.As(err, &refused) { // said where the order itself is worked out
		return nil, nil
	}
	return out, err
}

// crosses reports whether a mold of several kinds of an order is filled from two pots.
func crosses(w ComputedPlan) bool {
	if len(w.Molds) < 2 || len(w.Request.Target.Molds) == 0 {
		return false
	}
	for _, pot := range w.Split {
		for _, s := range pot {
			if math.Abs(s.Count-math.Round(s.Count)) > 1e-6 {
				return true
			}
		}
	}
	return false
}

// groupOrders are the order's parts: each kind of mold that is too large for one pot, and the others
// together; each kind alone where all of them fit a pot. What is used up of scraps and stocks stays with
// the first.
func (pl *Planner) groupOrders(ctx context.Context, o Order, whole ComputedPlan) ([]Order, error) {
	part := func(keep func(oid string) bool, first bool) Order {
		one := o
		one.Molds = slices.DeleteFunc(slices.Clone(o.Molds), func(m OrderMold) bool { return !keep(m.OID) })
		if !first {
			one.Scraps = nil
		}
		return one
	}
	var large []string
	for _, m := range whole.Molds {
		single := part(func(oid string) bool { return oid == m.OID }, false)
		for i := range single.Molds {
			single.Molds[i].Count = 1
		}
		w, err := pl.compute(ctx, single)
		if err != nil {
			return nil, err
		}
		if w.Plan.Batches > 1 {
			large = append(large, m.OID)
		}
	}
	var out []Order
	for _, m := range whole.Molds {
		if len(large) == 0 || slices.Contains(large, m.OID) {
			out = append(out, part(func(oid string) bool { return oid == m.OID }, len(out) == 0))
		}
	}
	if len(large) > 0 && len(large) < len(whole.Molds) {
		out = append(out, part(func(oid string) bool { return !slices.Contains(large, oid) }, len(out) == 0))
	}
	return out, nil
}

// KeepGroups keeps an order as the plans that [Planner.Groups] makes of it; the identity is that of the
// first.
func (pl *Planner) KeepGroups(ctx context.Context, act journal.Act, o Order) (oid string, err error) {
	if err := checkDay(o.Day, true); err != nil {
		return "", err
	}
	list, err := pl.Groups(ctx, o)
	if err != nil {
		return "", err
	}
	if len(list) == 0 {
		return "", caution.Problems{{Path: "molds", Text: "equal pots serve this order: keep it as one plan"}}
	}
	return pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		first := ""
		for _, w := range list {
			one, err := keep(c, w, o.Day)
			if err != nil {
				return "", err
			}
			if first == "" {
				first = one
			}
		}
		return first, nil
	})
}
