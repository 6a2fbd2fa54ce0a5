package planning

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// ComputedPlan is an order that is worked out, not yet kept.
type ComputedPlan struct {
	Recipe catalog.Recipe
	document.PlanBody
	stockHas  float64 // g, in the container of lye
	coldStock string  // why nothing could be drawn from it today, of a plan for a later day
}

// goodLots are the newest lots of a recipe that were cut and are not held.
func (pl *Planner) goodLots(ctx context.Context, recipe string) ([]*lot.Lot, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Recipe: recipe, Most: 30})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(lots, func(l *lot.Lot) bool { return l.Cut == nil || len(l.Held()) > 0 }), nil
}

// lossOf is what bars of a recipe lose from the cut until a year after the pour, in percent.
// lots is how many of its released lots it is known from.
func (pl *Planner) lossOf(f recipe.Formula, good []*lot.Lot) (percent float64, lots int) {
	var seen []float64
	for _, l := range good {
		if l.Release == nil {
			continue
		}
		if lost, ok := pl.LostOf(l); ok {
			seen = append(seen, lost)
		}
	}
	return cure.UsualLoss(f, seen), len(seen)
}

// ComputePlan plans an order without keeping it, from the records as they stand at one
// moment.
func (pl *Planner) ComputePlan(ctx context.Context, o Order) (w ComputedPlan, err error) {
	err = pl.Snapshot(ctx, func(ctx context.Context) (err error) {
		w, err = pl.compute(ctx, o)
		return err
	})
	return w, err
}

func (pl *Planner) compute(ctx context.Context, o Order) (w ComputedPlan, err error) {
	history, err := pl.RecipeHistory(ctx, o.Recipe)
	if err != nil {
		return w, fmt.Errorf("choose a recipe: %w", err)
	}
	w.Recipe = history[0]
	w.PlanBody = document.PlanBody{
		Recipe:   w.Recipe.Name,
		Revision: w.Recipe.Number,
		Policy:   w.Recipe.Cure(),
		Notes:    w.Recipe.Notes,
		Scale:    o.Scales.Resolution,
		Label:    o.Label,
		Trial:    o.By == ByTrial,
	}
	f := w.Recipe.Formula
	if o.Water != nil {
		f.Water = *o.Water
	}
	w.Request = plan.Request{
		Formula:     f,
		Rule:        o.Rule,
		PotLoss:     o.PotLoss,
		PotCapacity: o.PotCapacity,
		Scales:      o.Scales,
		LiquidC:     o.LiquidC,
		Scraps:      o.Scraps,
	}
	tools, err := pl.Tools(ctx)
	if err != nil {
		return w, err
	}
	w.Request.Vessels = vesselsOf(o, tools)
	good, err := pl.goodLots(ctx, o.Recipe)
	if err != nil {
		return w, err
	}
	if w.Loss, w.LossOf = pl.lossOf(f, good); o.Label.Loss > 0 {
		w.Loss, w.LossOf = o.Label.Loss, 0
	}
	w.Label.Loss = w.Loss
	if err := pl.takeFrom(ctx, o, &w); err != nil {
		return w, err
	}
	if err := pl.molds(ctx, o, &w); err != nil {
		return w, err
	}
	if err := w.target(o); err != nil {
		return w, err
	}
	if len(w.Request.Target.Molds) == 0 {
		for _, m := range w.Molds {
			w.Request.Into += m.Count
		}
	}
	if w.Plan, err = plan.Make(w.Request); err != nil {
		return w, err
	}
	w.Request = w.Request.ForPots(w.Plan.Batches)
	if o.By != ByMolds && o.By != "" {
		w.fill()
	}
	if o.PotCapacity == 0 { // a load that was typed is a pot of somebody's own
		for _, c := range w.Request.Fit(w.Plan.Pot(), ofKind(tools, document.Pot), ofKind(tools, document.Jug)) {
			w.Plan.Warn(c)
		}
	}
	for _, m := range w.Molds {
		if l, wide := m.Mold.Liner(); l > 0 && (m.Material == "lined" || m.Material == "plastic") {
			w.Liners = append(w.Liners, document.Liner{Mold: m.Name, Count: m.Count, Length: l, Width: wide})
		}
	}
	if w.coldStock != "" {
		w.Plan.Warn(caution.Caution{Code: "lye.stock.cold", Level: caution.Warn,
			Reason: "As it stands today, " + w.coldStock + ".", Remedy: "It is asked for again when the lot is started."})
	}
	doubts, err := pl.Seller.Doubts(ctx, o.Recipe, f, w.Plan.Pot().FatsG)
	if err != nil {
		return w, err
	}
	for _, c := range doubts {
		w.Plan.Warn(c)
	}
	if err := w.enough(); err != nil {
		return w, err
	}
	if err := w.cut(o, tools); err != nil {
		return w, err
	}
	if len(w.Molds) > 0 {
		w.Split = w.moldTarget().PotsToMolds(w.Plan.Batches)
	}
	var e plan.Experience
	for _, l := range good {
		e.Add(l.Frozen.Formula, l.Frozen.Pot.FatsG)
	}
	w.New = e.New(f, w.Plan.Pot().FatsG)
	w.Sheet = plan.Sheet(w.Request, w.Plan.Pot())
	return w, nil
}

// ofKind are the vessels of a kind that are in use.
func ofKind(tools []catalog.Tool, kind document.ToolKind) (out []plan.Vessel) {
	for _, t := range tools {
		if t.Kind == kind && !t.Retired {
			out = append(out, plan.Vessel{Name: t.Name, ML: t.ML, Tare: t.Tare})
		}
	}
	return out
}

// vesselsOf are the vessels that the order names. A cooker that a seized batch is rescued in is the
// largest of the shop where none is named.
func vesselsOf(o Order, tools []catalog.Tool) plan.Vessels {
	find := func(oid string) plan.Vessel {
		for _, t := range tools {
			if t.OID == oid && oid != "" {
				return plan.Vessel{Name: t.Name, ML: t.ML, Tare: t.Tare}
			}
		}
		return plan.Vessel{}
	}
	v := plan.Vessels{Pot: find(o.Pot), Jug: find(o.Jug), Cooker: find(o.Cooker), RiskyLoad: o.RiskyLoad}
	if o.Cooker == "" {
		for _, one := range ofKind(tools, document.Cooker) {
			if one.ML > v.Cooker.ML {
				v.Cooker = one
			}
		}
	}
	return v
}

// target sets what the request aims for, from the order.
func (w *ComputedPlan) target(o Order) error {
	var p caution.Problems
	t := &w.Request.Target
	switch o.By {
	case ByBars:
		w.Label.Check(&p, "label")
		if o.Bars < 1 || o.Bars > 100000 {
			p.Add("bars", "say how many bars, 1 or more")
		}
		t.SoapG = float64(o.Bars) * w.Label.Raw()
	case ByUseUp:
		if o.UseUp.Name == "" {
			p.Add("use_up.name", "choose what is to be used up")
		}
		caution.Positive(&p, "use_up.grams", "the weight to use up", o.UseUp.Grams)
		t.Ingredient = &plan.Ingredient{Name: ingredientKey(w.Request.Formula, o.UseUp.Name), Grams: o.UseUp.Grams}
	case ByTrial, ByFats:
		caution.Positive(&p, "fats_g", "the weight of fats", o.FatsG)
		t.FatsG = o.FatsG
	case ByBatter:
		caution.Positive(&p, "batter_g", "the weight of batter", o.Batter)
		t.BatterG = o.Batter
	default:
		if len(w.Molds) == 0 {
			p.Add("molds", "say how many of at least one mold")
		}
		*t = w.moldTarget()
	}
	return p.Err()
}

// moldTarget is the molds of the order, to be filled to their lines.
func (w *ComputedPlan) moldTarget() (t plan.Target) {
	for _, m := range w.Molds {
		t.Molds = append(t.Molds, plan.MoldCount{Mold: m.Mold, Count: m.Count})
	}
	return t
}

// rimRoom is what stays free below a rim in mm.
const rimRoom = 5.0

// fill shares what an order that is not counted in molds comes to out between the molds it is poured
// into: all of them as full, to a line of their own, and no fuller than their rims allow. What does
// not fit is said.
func (w *ComputedPlan) fill() {
	hold := w.moldTarget().Volume()
	if hold <= 0 {
		return
	}
	share := w.Plan.VolumeML * w.Request.Reaches() / hold
	most := math.Inf(1)
	for _, m := range w.Molds {
		room := 1.0 // of what is not measured to its rim, the line is the rim
		if m.Mold.Fill > 0 && m.Mold.Height > m.Mold.Fill+rimRoom {
			room = (m.Mold.Height - rimRoom) / m.Mold.Fill
		}
		most = math.Min(most, room)
	}
	if over := share - most; over > 0.005 {
		left := over * hold
		into := "Have a spare mold ready, or choose one more."
		if w.Spare != "" {
			into = w.Spare + " takes it, or choose one more mold."
		}
		w.Plan.Warn(caution.Caution{Code: "fill.over", Level: caution.Warn, Remedy: into,
			Reason: fmt.Sprintf("%s g, about %s ml, do not fit these molds.", unit.Trim(left*w.Plan.Whole()/w.Plan.VolumeML, 0),
				unit.Trim(left, 0))})
		share = most
	}
	var heights []string
	for i := range w.Molds {
		w.Molds[i].Mold = w.Molds[i].Mold.FilledTo(share)
		if mm := w.Molds[i].Mold.Fill; mm > 0 {
			heights = append(heights, fmt.Sprintf("%s to %s mm", w.Molds[i].Name, unit.Trim(mm, 1)))
		} else {
			heights = append(heights, fmt.Sprintf("%s to %s %% of its line", w.Molds[i].Name, unit.Trim(100*share, 0)))
		}
	}
	w.Plan.Warn(caution.Caution{Code: "fill.height", Level: caution.Advice,
		Reason: "It fills " + strings.Join(heights, ", ") + ".", Remedy: "Mark that line before you pour."})
}

// ingredientKey finds an ingredient of a formula as somebody calls it; what is
// not found stays as it was typed, for the plan to refuse.
func ingredientKey(f recipe.Formula, name string) string {
	for _, s := range f.Fats {
		if strings.EqualFold(s.Fat.Name, name) {
			return s.Fat.Key()
		}
	}
	for _, l := range f.Liquids {
		if strings.EqualFold(l.Liquid.Name, name) {
			return l.Liquid.Slug
		}
	}
	for _, u := range f.Uses() {
		if strings.EqualFold(u.Key(), name) {
			return u.Key()
		}
	}
	return name
}

// molds looks up the molds of the order as they are filled and cut this once.
func (pl *Planner) molds(ctx context.Context, o Order, w *ComputedPlan) error {
	molds, err := pl.Molds(ctx)
	if err != nil {
		return err
	}
	var p caution.Problems
	if o.Label.Grams != 0 {
		w.Label.Check(&p, "label")
	}
	for _, m := range molds {
		if m.Spare && !m.Retired {
			w.Spare = m.Name
		}
		i := slices.IndexFunc(o.Molds, func(want OrderMold) bool { return want.OID == m.OID && want.Count != 0 })
		if i < 0 {
			continue
		}
		want := o.Molds[i]
		one := m.Mold
		if want.Fill > 0 && one.Fill > 0 {
			one = one.FilledTo(want.Fill / one.Fill)
			one.Check(&p, "mold."+m.OID)
		}
		w.Molds = append(
			w.Molds,
			lot.Mold{OID: m.OID, Name: m.Name, Material: m.Material, Mold: one, Count: want.Count, Cut: m.Usual()},
		)
	}
	return p.Err()
}

// More is what one more mold of a kind would do.
type More struct {
	Mold    string
	BatterG float64 // more
	Pots    int
}

// OneMore works out what one more of each mold of an order would do.
func (w ComputedPlan) OneMore() []More {
	var out []More
	if len(w.Request.Target.Molds) == 0 {
		return nil
	}
	for i, m := range w.Molds {
		r := w.Request
		r.Target.Molds = slices.Clone(r.Target.Molds)
		r.Target.Molds[i].Count++
		if p, err := plan.Make(r); err == nil {
			out = append(out, More{m.Name, p.InPot() - w.Plan.InPot(), p.Batches})
		}
	}
	return out
}
