package shop

import (
	"context"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// TargetKind is what an order is counted by.
type TargetKind string

// The ways to say an order.
const (
	ByMolds  TargetKind = "molds"
	ByBars   TargetKind = "bars"   // of a weight on the label
	ByUseUp  TargetKind = "use-up" // an ingredient, to its last gram
	ByTrial  TargetKind = "trial"  // a small one
	ByFats   TargetKind = "fats"
	ByBatter TargetKind = "batter"
)

// TargetKinds returns the ways, the usual one first.
func TargetKinds() []TargetKind {
	return []TargetKind{ByMolds, ByBars, ByUseUp, ByTrial, ByFats, ByBatter}
}

// Words says the way.
func (b TargetKind) Words() string {
	switch b {
	case ByBars:
		return "a number of bars"
	case ByUseUp:
		return "an ingredient to use up"
	case ByTrial:
		return "a trial"
	case ByFats:
		return "a weight of fats"
	case ByBatter:
		return "a weight of batter"
	}
	return "molds to fill"
}

// Order is what somebody wants made.
type Order struct {
	Recipe string     // identity
	By     TargetKind // [ByMolds] when not said
	Molds  []OrderMold
	FatsG  float64 // of a trial, or as the target
	Batter float64 // g
	Bars   int
	UseUp  plan.Ingredient

	Label       mold.Label // Grams 0 when no label is to be met; a Loss of 0 is taken from experience
	Rule        plan.FillRule
	PotLoss     float64 // percent
	PotCapacity float64 // g, 0 for any
	Pot         string  // identity of the pot, or empty
	Jug, Cooker string
	RiskyLoad   float64 // percent
	Scales      plan.Scales
	LiquidC     float64 // °C
	Scraps      *plan.Scraps
	Stock       string        // identity of the lye stock it draws from, or empty for dry lye
	StockShare  float64       // percent of the lye that is drawn; 0 for all of it
	FatStock    string        // identity of the blend it takes fats from
	Water       *recipe.Water // this once, in place of the recipe's own
	Day         string        // local date it is meant for, or empty
}

// OrderMold is a mold, how many of it, and what is different this once.
type OrderMold struct {
	OID   string
	Count int
	Fill  float64 // mm; 0 for the mold's own line
	Cut   CutWish
}

// CutWish is how a mold is cut this once: as it usually is, as the label
// wants it, at a thickness, or with a cutter.
type CutWish struct {
	Label     bool
	Thickness float64 // mm
	Cutter    string  // identity
}

// ComputedPlan is an order that is worked out, not yet kept.
type ComputedPlan struct {
	Recipe Recipe
	PlanBody
	stockHas float64 // g, in the container of lye
}

// PlanBody is a plan as it is kept.
type PlanBody struct {
	Recipe   string // name
	Revision int
	Request  plan.Request
	Plan     plan.Plan
	Molds    []lot.Mold
	Sheet    []plan.Section // of one pot
	Policy   cure.Policy
	Scale    float64
	Trial    bool

	Cuts   []CutPlan // parallel to Molds
	Loss   float64   // percent that bars are expected to lose
	LossOf int       // lots that this is known from
	Label  mold.Label
	Split  [][]plan.PotShare // pots to molds
	New    []string          // not tried with this recipe before
	Spare  string            // the mold that takes what is left over
	Liners []Liner

	StockOID    string // the lye container it draws from
	FatStockOID string // the blend it takes fats from
}

// CutPlan is what is cut from one mold of a plan.
type CutPlan struct {
	mold.Bars
	RawG   float64 // of a bar
	CuredG float64 // expected
	EndG   float64
	Stays  float64 // margin above the label in percent, where there is one
	Cutter string
}

// Liner is a sheet to cut for a mold.
type Liner struct {
	Mold          string
	Count         int
	Length, Width float64 // mm
}

// Bars is how many bars are expected of one pot, 0 when not all molds say.
func (b PlanBody) Bars() int { return b.barsOf(0) }

// barsOf is how many bars are expected of pot number i, from 0.
func (b PlanBody) barsOf(i int) int {
	whole, part := 0, 0.0
	for _, m := range b.Molds {
		if m.Bars == 0 {
			return 0
		}
		whole += m.Bars * m.Count
	}
	if i >= len(b.Split) {
		return whole / max(1, b.Plan.Batches)
	}
	for _, s := range b.Split[i] {
		part += s.Count * float64(b.Molds[s.Mold].Bars)
	}
	return int(math.Round(part))
}

// moldsOf are the molds that pot number i fills, from 0; one that is filled from
// two pots counts with both.
func (b PlanBody) moldsOf(i int) []lot.Mold {
	if i >= len(b.Split) {
		return b.Molds
	}
	var out []lot.Mold
	for _, s := range b.Split[i] {
		m := b.Molds[s.Mold]
		m.Count = int(math.Ceil(s.Count - 1e-6))
		out = append(out, m)
	}
	return out
}

// Plan is a kept plan.
type Plan struct {
	store.Plan
	PlanBody
}

// NextPot is the number of the pot that is to be started next, 0 when all
// were.
func (p Plan) NextPot() int {
	if n := len(p.Lots); n < p.PlanBody.Plan.Batches {
		return n + 1
	}
	return 0
}

// goodLots are the newest lots of a recipe that were cut and are not held.
func (pl *Planner) goodLots(ctx context.Context, recipe string) ([]*lot.Lot, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Recipe: recipe, Most: 30})
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(lots, func(l *lot.Lot) bool { return l.Cut == nil || len(l.Held()) > 0 }), nil
}

// lossOf is what bars of a recipe lose while they dry, in percent. lots is how
// many of its released lots it is known from.
func lossOf(f recipe.Formula, good []*lot.Lot) (percent float64, lots int) {
	var seen []float64
	for _, l := range good {
		if l.Release != nil && len(l.Samples) >= 3 {
			seen = append(seen, cure.Dry(l.Facts(l.Release.Occurred).Samples).LostPct)
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
	w.PlanBody = PlanBody{
		Recipe:   w.Recipe.Name,
		Revision: w.Recipe.Number,
		Policy:   w.Recipe.Cure(),
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
	if w.Loss, w.LossOf = lossOf(f, good); o.Label.Loss > 0 {
		w.Loss, w.LossOf = o.Label.Loss, 0
	}
	w.Label.Loss = w.Loss
	if err := pl.takeFrom(ctx, o, &w); err != nil {
		return w, err
	}
	if err := pl.target(ctx, o, &w); err != nil {
		return w, err
	}
	if w.Plan, err = plan.Make(w.Request); err != nil {
		return w, err
	}
	if err := w.enough(); err != nil {
		return w, err
	}
	if err := w.cut(o, tools); err != nil {
		return w, err
	}
	if len(w.Molds) > 0 {
		w.Split = w.Request.Target.PotsToMolds(w.Plan.Batches)
	}
	var e plan.Experience
	for _, l := range good {
		e.Add(l.Frozen.Formula, l.Frozen.Pot.FatsG)
	}
	w.New = e.New(f, w.Plan.Pot().FatsG)
	w.Sheet = plan.Sheet(w.Request, w.Plan.Pot())
	return w, nil
}

func vesselsOf(o Order, tools []Tool) plan.Vessels {
	find := func(oid string) plan.Vessel {
		for _, t := range tools {
			if t.OID == oid && oid != "" {
				return plan.Vessel{Name: t.Name, ML: t.ML, Tare: t.Tare}
			}
		}
		return plan.Vessel{}
	}
	return plan.Vessels{Pot: find(o.Pot), Jug: find(o.Jug), Cooker: find(o.Cooker), RiskyLoad: o.RiskyLoad}
}

// target sets what the request aims for, from the order.
func (pl *Planner) target(ctx context.Context, o Order, w *ComputedPlan) error {
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
		return pl.moldTarget(ctx, o, w)
	}
	return p.Err()
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

func (pl *Planner) moldTarget(ctx context.Context, o Order, w *ComputedPlan) error {
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
			if one.WaterG > 0 {
				one.WaterG *= want.Fill / one.Fill
			}
			one.Fill = want.Fill
			one.Check(&p, "mold."+m.OID)
		}
		w.Molds = append(
			w.Molds,
			lot.Mold{OID: m.OID, Name: m.Name, Material: m.Material, Mold: one, Count: want.Count, Cut: m.Usual()},
		)
		w.Request.Target.Molds = append(w.Request.Target.Molds, plan.MoldCount{Mold: one, Count: want.Count})
		if m.Material == "lined" || m.Material == "plastic" {
			if l, wd := one.Liner(); l > 0 {
				w.Liners = append(w.Liners, Liner{m.Name, want.Count, l, wd})
			}
		}
	}
	if len(w.Molds) == 0 {
		p.Add("molds", "say how many of at least one mold")
	}
	return p.Err()
}

// cut works out the bars of each mold, now that it is known what a millilitre
// of this soap weighs.
func (w *ComputedPlan) cut(o Order, tools []Tool) error {
	var p caution.Problems
	density := soapDensity(w.Request, w.Plan)
	for i := range w.Molds {
		m := &w.Molds[i]
		want := o.Molds[slices.IndexFunc(o.Molds, func(x OrderMold) bool { return x.OID == m.OID })].Cut
		at, cutter := "cut."+m.OID, Tool{}
		switch {
		case want.Label && o.Label.Grams == 0:
			p.Add(at, "say the weight on the label, then its thickness follows")
		case want.Label:
			// Rounded up to half a millimetre, which is what a guide can be set to.
			m.Cut.Thickness = math.Ceil(2*m.Mold.ThicknessFor(w.Label.Raw()/density, m.Cut.Loaves)-1e-9) / 2
			m.Cut.Bars = 0
		case want.Thickness > 0:
			m.Cut.Thickness, m.Cut.Bars = want.Thickness, 0
		case want.Cutter != "":
			k := slices.IndexFunc(tools, func(t Tool) bool { return t.OID == want.Cutter })
			if k < 0 {
				p.Add(at, "that cutter is not among the equipment")
				break
			}
			cutter = tools[k]
			m.Cut.Thickness, m.Cut.Bars, m.Cut.Cutter = cutter.Spacing, 0, cutter.Name
		}
		var wrong caution.Problems
		m.Cut.Check(&wrong, at, m.Mold)
		for _, q := range wrong {
			p.Add(at, "%s", q.Text)
		}
		b := m.Mold.Cuts(m.Cut)
		m.Bars = b.Count
		c := CutPlan{Bars: b, RawG: b.Volume * density, EndG: b.EndVolume * density, Cutter: cutter.Name}
		c.CuredG = mold.Label{Loss: w.Loss}.Cured(c.RawG)
		if w.Label.Grams > 0 && b.Count > 0 {
			c.Stays = w.Label.Stays(c.RawG)
			if c.Stays < -0.005 {
				w.shortOfLabel(*m, c, density, tools)
			}
		}
		w.Cuts = append(w.Cuts, c)
	}
	caution.Sort(w.Plan.Cautions)
	if w.Plan.PerBatch != nil {
		caution.Sort(w.Plan.PerBatch.Cautions)
	}
	return p.Err()
}

// soapDensity is what a millilitre of the soap as it is poured weighs in g,
// additives and scraps included.
func soapDensity(r plan.Request, p plan.Plan) float64 {
	sum := p.BatterG
	for _, a := range p.Additives {
		sum += a.Grams
	}
	if r.Scraps != nil {
		sum += r.Scraps.Grams
	}
	return sum / p.VolumeML
}

// shortOfLabel says that a cut falls short of the label, by how much, and what
// would meet it: a thicker cut, a cutter of the shop that serves, or a fuller
// mold.
func (w *ComputedPlan) shortOfLabel(m lot.Mold, c CutPlan, density float64, tools []Tool) {
	var ways []string
	need := m.Mold.ThicknessFor(w.Label.Raw()/density, max(1, c.Loaves))
	if need > 0 {
		ways = append(ways, fmt.Sprintf("cut %s mm thick", unit.Trim(math.Ceil(2*need-1e-9)/2, 1)))
		best := Tool{}
		for _, t := range tools {
			if t.Kind == Cutter && !t.Retired && t.Spacing >= need-1e-9 && (best.OID == "" || t.Spacing < best.Spacing) {
				best = t
			}
		}
		if best.OID != "" {
			ways = append(ways, fmt.Sprintf("use the %s (%s mm)", best.Name, unit.Trim(best.Spacing, 1)))
		}
	}
	if m.Mold.Fill > 0 && c.RawG > 0 {
		fill := m.Mold.Fill * w.Label.Raw() / c.RawG
		if m.Mold.Height == 0 || fill < m.Mold.Height {
			ways = append(ways, fmt.Sprintf("fill to %s mm in place of %s", unit.Trim(math.Ceil(fill), 0), unit.Trim(m.Mold.Fill, 1)))
		}
	}
	how := ""
	if len(ways) > 0 {
		how = strings.ToUpper(ways[0][:1]) + strings.Join(ways, ", or ")[1:] + "."
	}
	add := caution.Caution{Code: "label.short", Level: caution.Warn,
		Reason: fmt.Sprintf(
			"%s: a bar cures to about %s g, %s g short of its label of %s g.",
			m.Name,
			unit.Fixed(c.CuredG, 1),
			unit.Fixed(w.Label.Grams-c.CuredG, 1),
			unit.Trim(w.Label.Grams, 1),
		), Remedy: how}
	w.Plan.Cautions = append(w.Plan.Cautions, add)
	if w.Plan.PerBatch != nil {
		w.Plan.PerBatch.Cautions = append(w.Plan.PerBatch.Cautions, add)
	}
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
	for i, m := range w.Molds {
		r := w.Request
		r.Target.Molds = slices.Clone(r.Target.Molds)
		r.Target.Molds[i].Count++
		if p, err := plan.Make(r); err == nil {
			out = append(out, More{m.Name, p.BatterG - w.Plan.BatterG, p.Batches})
		}
	}
	return out
}

// KeepPlan works an order out and keeps the plan as it is now.
func (pl *Planner) KeepPlan(ctx context.Context, act Act, o Order) (oid string, err error) {
	if err := checkDay(o.Day, true); err != nil {
		return "", err
	}
	w, err := pl.ComputePlan(ctx, o)
	if err != nil {
		return "", err
	}
	text, err := encode(w.PlanBody)
	if err != nil {
		return "", err
	}
	return pl.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry("plan")
		if err != nil {
			return "", err
		}
		oid := newOID()
		if err := c.AddPlan(entry, oid, w.Recipe.Entry.ID, text); err != nil || o.Day == "" {
			return oid, err
		}
		return oid, c.setDay(oid, o.Day, 0)
	})
}

// asPlan reads kept plans. Their weights stay as they were kept; what their scents may
// do is what is known of them now.
func (pl *Planner) asPlan(tx *store.Tx) (func(store.Plan) (Plan, error), error) {
	known, err := knownScents(tx)
	return func(p store.Plan) (Plan, error) {
		written, err := pl.PlanBody(p)
		if err != nil {
			return Plan{}, err
		}
		body := readPlan(written)
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

// StartLot starts the next pot of a plan as a lot and returns its identity. A
// plan that is blocked needs a written reason.
func (pl *Planner) StartLot(ctx context.Context, act Act, planOID string, pot int, override string) (oid string, err error) {
	return pl.byPerson(ctx, act, func(c *change) (string, error) {
		kept, err := c.Plan(planOID)
		if err != nil {
			return "", err
		}
		read, err := pl.asPlan(c.Tx)
		if err != nil {
			return "", err
		}
		p, err := read(kept)
		if err != nil {
			return "", err
		}
		if p.NextPot() == 0 || p.NextPot() != pot {
			return "", &Conflict{What: "this plan", Who: "somebody", When: c.now}
		}
		override = strings.TrimSpace(override)
		if blocks := caution.Blocks(p.PlanBody.Plan.Cautions); len(blocks) > 0 && override == "" {
			return "", caution.Problems{{Path: "override", Text: blocks[0].Text() + " To start all the same, write why."}}
		}
		if err := c.stillTheSame(p); err != nil {
			return "", err
		}
		number, err := c.NextLotNumber()
		if err != nil {
			return "", err
		}
		kind := ""
		life, err := c.lifeOf(p.Plan.Recipe, p.PlanBody.Revision)
		if err != nil {
			return "", err
		}
		if life != recipe.Tested || p.Trial {
			kind = lot.Trial
		}
		molds := p.moldsOf(pot - 1)
		material := materialFor(p.Request.Formula, molds)
		frozen, err := encode(lot.Frozen{
			Program: Version, Recipe: p.PlanBody.Recipe, Revision: p.PlanBody.Revision, Formula: p.Request.Formula,
			Pot: p.PlanBody.Plan.Pot(), Sheet: p.Sheet, Molds: molds, Policy: p.Policy, Request: p.Request, Scale: p.Scale,
			Unmold: cure.Unmold(
				p.Request.Formula,
				material,
			), Overrides: override, Expected: p.barsOf(pot - 1), Kind: kind, Stock: p.StockOID, FatStock: p.FatStockOID,
		})
		if err != nil {
			return "", err
		}
		entry, err := c.entry("lot")
		if err != nil {
			return "", err
		}
		oid := newOID()
		if err := c.AddLot(entry, oid, number, lot.Code(number), planOID, p.Plan.Recipe, pot, frozen, lot.Making); err != nil {
			return "", err
		}
		for _, sec := range p.Sheet {
			for _, i := range sec.Items {
				if err := c.AddMaterial(oid, i.Key, i.Name); err != nil {
					return "", err
				}
			}
		}
		return oid, nil
	})
}

// DefaultOrder is an order with the usual settings and nothing in it.
func DefaultOrder(s Settings) Order {
	return Order{
		By: ByMolds, Rule: plan.FillRule(s.FillRule), PotLoss: s.PotLoss, RiskyLoad: s.RiskyLoad, LiquidC: s.RoomC, FatsG: plan.TrialFats,
		Scales: plan.Scales{
			Resolution: s.ScaleStep,
			FineStep:   s.FineStep,
			FineMax:    s.FineMax,
		}, Label: mold.Label{Margin: mold.UsualMargin},
	}
}

// materialFor is what the molds of a lot are made of, which decides when it
// comes out: the first one's, or what the recipe is meant for.
func materialFor(f recipe.Formula, molds []lot.Mold) string {
	if len(molds) > 0 {
		return molds[0].Material
	}
	if f.Process.Material != "" {
		return f.Process.Material
	}
	return "lined"
}
