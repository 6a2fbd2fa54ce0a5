package planning

import (
	"context"
	"fmt"
	"math"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/stock"
	"ashshelf/soap/caution"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Wanted is the pure alkali in g that the kept plans of the days to come weigh
// dry, so that a stock can be made for them.
func (pl *Planner) Wanted(ctx context.Context) (naoh, koh float64, plans int, err error) {
	open, _, err := pl.OpenPlans(ctx, 0)
	for _, p := range open {
		if p.Request.Stock != nil {
			continue
		}
		al := p.Request.Formula.Alkali
		naoh += p.PlanBody.Plan.NaOH * al.NaOHPurity / 100
		koh += p.PlanBody.Plan.KOH * al.KOHPurity / 100
		plans++
	}
	return naoh, koh, plans, err
}

// takeFrom sets the containers that an order takes from, when they can serve.
func (pl *Planner) takeFrom(ctx context.Context, o Order, w *ComputedPlan) error {
	var p caution.Problems
	find := func(field, oid string, fats bool) (stock.Stock, error) {
		one, err := pl.StockByOID(ctx, oid)
		if err != nil {
			return one, err
		}
		switch {
		case (one.Kind == document.Fats) != fats:
			p.Add(field, "%s does not hold that", one.Code)
		case one.Status != store.InUse:
			p.Add(field, "%s is not to be used: %s. Free it, or do without it.", one.Code, one.Why)
		case one.Balance <= 0:
			p.Add(field, "%s is empty by the books. Take another one, or do without it.", one.Code)
		}
		return one, nil
	}
	if o.Stock != "" {
		one, err := find("stock", o.Stock, false)
		if err != nil {
			return err
		}
		k := one.Lye()
		settings, err := pl.Settings(ctx)
		if err != nil {
			return err
		}
		if why := k.TooCold(); why != "" && o.later(pl.Now(settings.Location)) {
			w.coldStock, k.C = why, k.Clear() // as it must be by then
		}
		w.Request.Stock, w.Request.StockShare, w.StockOID = &k, o.StockShare, o.Stock
		w.stockHas = one.Balance
	}
	if o.FatStock != "" {
		one, err := find("fat_stock", o.FatStock, true)
		if err != nil {
			return err
		}
		w.Request.FatStock, w.FatStockOID = &plan.FatStock{Name: one.Code, Blend: one.Blend, Grams: one.Balance}, o.FatStock
	}
	return p.Err()
}

// enough refuses a plan that draws more than its stock holds.
func (w *ComputedPlan) enough() error {
	d := w.Plan.Draw
	if d == nil || w.StockOID == "" || d.Solution <= w.stockHas {
		return nil
	}
	share := 100.0
	if w.Request.StockShare > 0 {
		share = w.Request.StockShare
	}
	return caution.Problems{
		{Path: "stock", Text: fmt.Sprintf(
			"%s holds %s g and this order draws %s g: %s g are missing. Draw %s %% of the lye from it and weigh the rest dry, or make more.",
			w.Request.Stock.Name,
			unit.Trim(w.stockHas, 0),
			unit.Trim(d.Solution, 0),
			unit.Trim(d.Solution-w.stockHas, 0),
			unit.Trim(math.Floor(share*w.stockHas/d.Solution), 0),
		)},
	}
}

// stillTheSame refuses to start a lot when its stock is no longer what it was
// planned with.
func stillTheSame(c *journal.Change, p Plan) error {
	if p.StockOID == "" {
		return nil
	}
	one, err := stock.Find(c, p.StockOID)
	if err != nil {
		return err
	}
	switch {
	case one.Status != store.InUse:
		return caution.Problems{
			{Path: "override", Text: one.Code + " is not to be used: " + one.Why + ". Plan it anew with other lye."},
		}
	case one.Lye().TooCold() != "":
		return caution.Problems{{Path: "override", Text: one.Code + ": " + one.Lye().TooCold()}}
	case math.Abs(one.Strength-p.Request.Stock.Strength) > 0.05:
		return caution.Problems{
			{
				Path: "override",
				Text: fmt.Sprintf(
					"%s is now rated at %s %%; this was planned with %s %%. Plan it anew.",
					one.Code,
					unit.Trim(one.Strength, 1),
					unit.Trim(p.Request.Stock.Strength, 1),
				),
			},
		}
	}
	return nil
}
