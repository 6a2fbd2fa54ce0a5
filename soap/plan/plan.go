// Package plan answers "how much of everything?": a recipe and a target, such
// as three loaves or a kilo and a half of fats, become one or more equal pots
// with the grams of each ingredient.
//
// All amounts of a formula grow with its weight of fats, so a plan looks for
// the weight of fats that meets the target and asks the recipe for the rest.
// Molds are met by volume: what the batter, the additives and any scraps take
// up together is what the molds hold.
package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// FillRule is how the weight of batter that fills a mold is found.
type FillRule string

// The rules. Makers carry three habits from the weight of the water a mold
// holds; computing the density of the batter settles between them.
const (
	Computed FillRule = "computed"
	AsWater  FillRule = "as-water"  // batter weighs what the water weighs
	Times09  FillRule = "times-0.9" // oil is lighter than water
	Over09   FillRule = "over-0.9"  // more volume for each gram
)

// FillRules returns all rules, the default first.
func FillRules() []FillRule { return []FillRule{Computed, AsWater, Times09, Over09} }

var ruleWords = map[FillRule]string{
	Computed: "computed from the batter",
	AsWater:  "batter = water weight",
	Times09:  "water weight × 0.9",
	Over09:   "water weight ÷ 0.9",
}

// Words says the rule as a maker would.
func (r FillRule) Words() string { return ruleWords[r] }

func (r FillRule) factor() float64 {
	switch r {
	case Times09:
		return 0.9
	case Over09:
		return 1 / 0.9
	default:
		return 1
	}
}

// MoldCount is a number of equal molds.
type MoldCount struct {
	Mold  mold.Mold
	Count int
}

// Ingredient is an amount of one ingredient to use up.
type Ingredient struct {
	Name  string
	Grams float64
}

// Target is what is wanted; exactly one field is set.
type Target struct {
	Molds      []MoldCount
	FatsG      float64
	BatterG    float64
	SoapG      float64 // batter, additives and scraps together, as it is poured
	Ingredient *Ingredient
}

// Volume is what the molds hold in ml.
func (t Target) Volume() float64 {
	sum := 0.0
	for _, m := range t.Molds {
		sum += m.Mold.Volume() * float64(m.Count)
	}
	return sum
}

// Scraps is fresh soap that is worked in. It belongs to the whole: it fills
// part of the molds and brings part of the fats.
type Scraps struct {
	Grams       float64
	FatsPercent float64
	Density     float64
}

// Scraps where nothing is said of them: a batter of everyday strength, without additives.
const (
	UsualScrapFats    = 72.0 // percent
	UsualScrapDensity = 1.0  // g/ml
)

// Request is all that a plan is made from.
type Request struct {
	Formula     recipe.Formula
	Target      Target
	Rule        FillRule
	PotLoss     float64 // percent that stays in the pot
	PotCapacity float64 // usable load of a pot in g, 0 for any
	Vessels     Vessels
	Scales
	Stock      *lye.Stock // draw its alkali from this
	StockShare float64    // percent of that alkali that is drawn; 0 for all of it
	FatStock   *FatStock  // take fats from this
	LiquidC    float64    // temperature the liquids start from
	Scraps     *Scraps    // worked in, over the whole order
	Into       int        // molds that it is poured into, where they are not what is aimed at
}

// ForPots is the request with its formula as it is for each of so many pots: rates that count on
// molds know how many a pot fills.
func (r Request) ForPots(pots int) Request {
	molds := r.Into
	for _, m := range r.Target.Molds {
		molds += m.Count
	}
	r.Formula.Molds = float64(molds) / float64(max(pots, 1))
	return r
}

// Row is a weight of one ingredient in g.
type Row struct {
	Name  string
	Stage additive.Stage
	Grams float64
}

// Draw is what is taken from the stock in g.
type Draw struct {
	Solution    float64
	Water       float64
	LiquidToAdd float64 // of the recipe's plain water
}

// Plan is the answer: the whole order, or one of its pots.
type Plan struct {
	Batches   int
	Fats      []Row
	FatsG     float64
	NaOH      float64 // as weighed
	KOH       float64
	Liquids   []Row
	LiquidG   float64
	Draw      *Draw
	FatDraw   float64 // g of the fat stock
	Additives []Row
	BatterG   float64
	Density   float64 // g/ml at 35 °C
	FatShare  float64 // fats in percent of batter
	Superfat  float64 // percent, milk fat counted
	PeakC     float64 // upper limit of the lye's temperature, which is its boiling point at the most
	Cautions  []caution.Caution
	PerBatch  *Plan
	VolumeML  float64 // batter, additives and scraps
	ScrapsG   float64
	ScrapsML  float64
}

// Whole is batter, scraps and additives together in g.
func (p Plan) Whole() float64 {
	sum := p.BatterG + p.ScrapsG
	for _, a := range p.Additives {
		sum += a.Grams
	}
	return sum
}

// Warn adds a caution to the plan and to its pot.
func (p *Plan) Warn(c caution.Caution) {
	p.Cautions = append(slices.Clone(p.Cautions), c)
	caution.Sort(p.Cautions)
	if p.PerBatch != nil {
		p.PerBatch.Cautions = p.Cautions
	}
}

// Pot is the plan of one pot.
func (p Plan) Pot() Plan {
	if p.PerBatch != nil {
		return *p.PerBatch
	}
	return p
}

// The finest weights that make sense: a tenth of a gram of lye, a hundredth of
// anything else. A target below them is too small to weigh.
const (
	leastLye = 0.1
	least    = 0.01
)

// mostPots is the largest order that is taken for a real one.
const mostPots = 500

// Check finds what cannot be worked with in the request, its formula included.
func (r Request) Check() caution.Problems {
	var p caution.Problems
	for _, q := range r.Formula.Check() {
		p = append(p, caution.Problem{Path: "recipe." + q.Path, Text: q.Text})
	}
	set := 0
	if len(r.Target.Molds) > 0 {
		set++
	}
	for i, m := range r.Target.Molds {
		at := fmt.Sprintf("target.molds[%d]", i)
		m.Mold.Check(&p, at+".mold")
		if m.Count < 1 || m.Count > 10000 {
			p.Add(at+".count", "the number of molds is %d; it must be 1 or more", m.Count)
		}
	}
	if r.Target.FatsG != 0 {
		set++
		caution.Positive(&p, "target.fats_g", "the weight of fats", r.Target.FatsG)
	}
	if r.Target.BatterG != 0 {
		set++
		caution.Positive(&p, "target.batter_g", "the weight of batter", r.Target.BatterG)
	}
	if r.Target.SoapG != 0 {
		set++
		caution.Positive(&p, "target.soap_g", "the weight of soap", r.Target.SoapG)
	}
	if in := r.Target.Ingredient; in != nil {
		set++
		caution.Positive(&p, "target.ingredient.grams", "the weight to use up", in.Grams)
		if _, ok := r.find(in.Name); !ok {
			p.Add("target.ingredient.name", "“%s” is not in the recipe", in.Name)
		}
	}
	if set != 1 {
		p.Add("target", "say one target: molds, a weight of fats, a weight of batter, or an ingredient to use up")
	}
	if ruleWords[r.Rule] == "" {
		p.Add("fill_rule", "“%s” is not a fill rule", r.Rule)
	}
	caution.PotLoss.Check(&p, "pot_loss_percent", "what stays in the pot", r.PotLoss)
	if r.PotCapacity < 0 {
		p.Add("pot_capacity_g", "the usable load of the pot must be more than zero")
	}
	r.Scales.check(&p)
	r.Vessels.check(&p)
	caution.Temperature.Check(&p, "liquid_temperature_c", "the temperature of the liquid", r.LiquidC)
	if r.Stock != nil {
		r.Stock.Check(&p, "lye_stock")
		if r.StockShare < 0 || r.StockShare > 100 {
			p.Add("lye_stock.share", "draw between 0 and 100 %% of the lye from the stock")
		}
	}
	if r.FatStock != nil {
		r.FatStock.check(&p, r.Formula)
	}
	if s := r.Scraps; s != nil {
		if s.Grams < 0 {
			p.Add("scraps.grams", "the weight of scraps cannot be below zero")
		}
		caution.Share.Check(&p, "scraps.fats_percent", "the fats in the scraps", s.FatsPercent)
		caution.AdditiveDensity.Check(&p, "scraps.density_g_per_ml", "the density of the scraps", s.Density)
	}
	return p
}

// find locates an ingredient by name: what it weighs in given amounts.
func (r Request) find(name string) (func(recipe.Amounts) float64, bool) {
	for i, s := range r.Formula.Fats {
		if s.Fat.Key() == name {
			return func(a recipe.Amounts) float64 { return a.Fats[i] }, true
		}
	}
	for i, l := range r.Formula.Liquids {
		if l.Liquid.Slug == name {
			return func(a recipe.Amounts) float64 { return a.Liquids[i] }, true
		}
	}
	for i, u := range r.Formula.Uses() {
		if u.Key() == name {
			return func(a recipe.Amounts) float64 { return a.Additives[i] }, true
		}
	}
	return nil, false
}

// Make plans the order. An error is of type [caution.Problems] and says for
// each problem by how much and what would work.
func Make(r Request) (Plan, error) {
	if err := r.Check().Err(); err != nil {
		return Plan{}, err
	}
	fats, n, err := r.split()
	if err != nil {
		return Plan{}, err
	}
	r = r.ForPots(n)
	pot := r.Formula.AmountsFor(fats)
	amounts, tooFine, err := r.round(pot, n)
	if err != nil {
		return Plan{}, err
	}
	var problems caution.Problems
	if r.Stock == nil {
		if _, ok := r.Formula.Dissolves(amounts); !ok {
			q := r.Formula.UndissolvedProblem(amounts)
			problems.Add("recipe."+q.Path, "%s", q.Text)
		}
	} else {
		r.checkStock(&problems, amounts)
	}
	if err := problems.Err(); err != nil {
		return Plan{}, err
	}

	exact := r.Formula.SuperfatOf(pot)
	one := r.answer(amounts, 1, n)
	one.Cautions = r.advise(one, amounts, n, exact, tooFine)
	if n == 1 {
		return one, nil
	}
	whole := r.answer(amounts, n, n)
	whole.Cautions = one.Cautions
	whole.PerBatch = &one
	return whole, nil
}

// split finds the weight of fats of one pot and the number of equal pots.
func (r Request) split() (fats float64, pots int, err error) {
	fits := func(n int) (float64, bool, error) {
		r := r.ForPots(n)
		f, err := r.solve(n)
		if err != nil {
			return 0, false, err
		}
		return f, r.fits(r.Formula.AmountsFor(f), n), nil
	}
	for n := 1; n <= mostPots; n++ {
		f, ok, err := fits(n)
		if err != nil {
			return 0, 0, err
		}
		if !ok {
			continue
		}
		// Whole molds to a pot where that is at hand: a mold is not left half
		// full while the next pot is mixed.
		for m := n; m <= n+n/2 && n > 1; m++ {
			if !r.wholeMolds(m) {
				continue
			}
			if g, ok, err := fits(m); err == nil && ok {
				return g, m, nil
			}
		}
		return f, n, nil
	}
	var p caution.Problems
	p.Add("pot_capacity_g", "more than %d pots would be needed; use a larger pot, a larger jug or a smaller target", mostPots)
	return 0, 0, p
}

func (r Request) wholeMolds(n int) bool {
	for _, m := range r.Target.Molds {
		if m.Count%n != 0 {
			return false
		}
	}
	return len(r.Target.Molds) > 0
}

// load is what one pot carries: everything but what goes on top.
func (r Request) load(a recipe.Amounts, pots int) float64 {
	sum := a.Batter()
	for i, u := range r.Formula.Uses() {
		if u.Stage.Into() != additive.TheTop {
			sum += a.Additives[i]
		}
	}
	if r.Scraps != nil {
		sum += r.Scraps.Grams / float64(pots)
	}
	return sum
}

// solve finds the weight of fats in one of n pots at which the whole order
// meets the target. What is measured rises with the fats, and all but
// proportionally, so a few steps of the secant rule settle it.
func (r Request) solve(n int) (float64, error) {
	measure, goal := r.measure(n)
	f0, m0 := 0.0, measure(0)
	f1 := 1000.0
	tooSmall := func(detail string) (float64, error) {
		var p caution.Problems
		p.Add("target", "the target is too small to weigh%s", detail)
		return 0, p
	}
	if m0 >= goal {
		switch {
		case r.Scraps != nil && r.Scraps.Grams > 0:
			return tooSmall(
				fmt.Sprintf(": the %s g of scraps fill it already; use fewer scraps or a larger target", unit.Trim(r.Scraps.Grams, 0)),
			)
		case r.Target.Ingredient != nil:
			var p caution.Problems
			p.Add(
				"target.ingredient.name",
				"“%s” is a fixed amount in every batch, so it cannot set the size; name a target in molds or weight",
				r.Target.Ingredient.Name,
			)
			return 0, p
		default:
			return tooSmall(": what is fixed per batch is more than the target")
		}
	}
	for step := 0; step < 40; step++ {
		m1 := measure(f1)
		if m1 == m0 {
			var p caution.Problems
			p.Add(
				"target.ingredient.name",
				"“%s” does not grow with the size of the batch, so it cannot set it; name a target in molds or weight",
				r.Target.Ingredient.Name,
			)
			return 0, p
		}
		next := f1 + (goal-m1)*(f1-f0)/(m1-m0)
		f0, m0, f1 = f1, m1, math.Max(next, 0)
		if math.Abs(f1-f0) <= 1e-12*math.Max(f1, 1e-9) {
			break
		}
	}
	if f1 > 1e9 {
		var p caution.Problems
		p.Add("target", "the target is too large to be made: check the unit")
		return 0, p
	}
	return f1, nil
}

// measure returns how the target is measured for fats grams in each of n pots,
// and the goal.
func (r Request) measure(n int) (func(fats float64) float64, float64) {
	pots := float64(n)
	scraps := Scraps{Density: 1}
	if r.Scraps != nil {
		scraps = *r.Scraps
	}
	reach := r.Reaches()
	t := r.Target
	switch {
	case t.FatsG > 0:
		return func(fats float64) float64 { return pots*fats + scraps.Grams*scraps.FatsPercent/100 }, t.FatsG
	case t.BatterG > 0:
		return func(fats float64) float64 { return pots*r.Formula.AmountsFor(fats).Batter() + scraps.Grams }, t.BatterG
	case t.SoapG > 0:
		return func(fats float64) float64 {
			a := r.Formula.AmountsFor(fats)
			sum := a.Batter()
			for _, g := range a.Additives {
				sum += g
			}
			return reach * (pots*sum + scraps.Grams)
		}, t.SoapG
	case t.Ingredient != nil:
		of, _ := r.find(t.Ingredient.Name)
		return func(fats float64) float64 { return pots * of(r.Formula.AmountsFor(fats)) }, t.Ingredient.Grams
	case r.Rule == Computed:
		return func(fats float64) float64 { return reach * r.volume(r.Formula.AmountsFor(fats), n) }, t.Volume()
	default:
		return func(fats float64) float64 {
			return reach * (pots*r.Formula.AmountsFor(fats).Batter() +
				scraps.Grams)
		}, t.Volume() * r.Rule.factor()
	}
}

// volume is what everything of n such pots takes in ml.
func (r Request) volume(a recipe.Amounts, n int) float64 {
	v := 0.0
	if b := a.Batter(); b > 0 {
		v = b / r.Formula.Density(a)
	}
	for i, u := range r.Formula.Uses() {
		v += a.Additives[i] / u.Density
	}
	v *= float64(n)
	if r.Scraps != nil {
		v += r.Scraps.Grams / r.Scraps.Density
	}
	return v
}

// round brings the amounts of a pot to what the scale reads. The lye goes to
// the nearest step, or down where the nearest would take more than half a
// point off the superfat. tooFine names additives that the scale cannot show,
// which keep their exact weight.
func (r Request) round(a recipe.Amounts, pots int) (out recipe.Amounts, tooFine []string, err error) {
	var small caution.Problems
	step := r.step(a.NaOH + a.KOH) // of the lye
	nearest := r.nearest
	tooLittle := func(name string, g, least float64) {
		small.Add(
			"target",
			"the target is too small to weigh: it takes %s g of %s and the least that can be weighed is %s g; make more, or use a finer scale",
			unit.Trim(g, 3),
			name,
			unit.Trim(least, 2),
		)
	}
	weigh := func(name string, g float64) float64 {
		rounded := nearest(g)
		if g > 0 && (rounded == 0 || g < least) {
			tooLittle(name, g, math.Max(r.step(g), least))
		}
		return rounded
	}
	out = a
	out.Fats, out.Liquids, out.Additives = make(
		[]float64,
		len(a.Fats),
	), make(
		[]float64,
		len(a.Liquids),
	), make(
		[]float64,
		len(a.Additives),
	)
	out.FatsTotal, out.Liquid = 0, 0
	for i, g := range a.Fats {
		out.Fats[i] = weigh(r.Formula.Fats[i].Fat.Name, g)
		out.FatsTotal += out.Fats[i]
	}
	out.NaOH = weigh("sodium hydroxide", a.NaOH)
	out.KOH = weigh("potassium hydroxide", a.KOH)
	if l := a.NaOH + a.KOH; l < leastLye {
		tooLittle("lye", l, leastLye)
	}
	for i, g := range a.Liquids {
		out.Liquids[i] = weigh(r.Formula.Liquids[i].Liquid.Name, g)
		out.Liquid += out.Liquids[i]
	}
	for i, g := range a.Additives {
		if out.Additives[i] = nearest(g); g > 0 && out.Additives[i] == 0 {
			out.Additives[i] = g
			tooFine = append(tooFine, r.Formula.Uses()[i].Key())
		}
	}
	if len(small) > 0 {
		return out, nil, small[:1]
	}
	r.useUp(&out, pots)
	r.carry(&out, r.Formula.SuperfatOf(a))
	// On a coarse scale the fats may have gone down too, so one step is not
	// always enough.
	down := func(g float64) float64 { return math.Max(0, math.Round((g-step)*1e6)/1e6) }
	for step > 0 && r.Formula.SuperfatOf(a)-r.Formula.SuperfatOf(out) > mostSuperfatShift {
		if out.NaOH > out.KOH {
			out.NaOH = down(out.NaOH)
		} else {
			out.KOH = down(out.KOH)
		}
		if out.NaOH+out.KOH == 0 {
			tooLittle("lye", a.NaOH+a.KOH, step)
			return out, nil, small
		}
	}
	return out, tooFine, nil
}

// worthCarrying is how many points off the superfat the rounding of the lye must be before a fat
// makes up for it, and mostCarried the share of all fats that it is changed by at the most.
const (
	worthCarrying = 0.25
	mostCarried   = 0.02
)

// carry lets the largest fat make up for the rounding of the lye: a gram more or less of it
// moves the superfat by far less than a gram of lye, so that it comes nearer to what was asked for.
// A weight of fats that was asked for stays, and so does what is used up or held back.
func (r Request) carry(a *recipe.Amounts, superfat float64) {
	if r.Target.FatsG > 0 || math.Abs(r.Formula.SuperfatOf(*a)-superfat) < worthCarrying {
		return
	}
	largest := -1
	for i, s := range r.Formula.Fats {
		used := r.Target.Ingredient != nil && r.Target.Ingredient.Name == s.Fat.Key()
		if !used && !s.AfterCook && (largest < 0 || a.Fats[i] > a.Fats[largest]) {
			largest = i
		}
	}
	if largest < 0 || r.step(a.Fats[largest]) == 0 {
		return
	}
	demand := r.Formula.Demand(*a)
	wanted := demand * (100 - r.Formula.SuperfatOf(*a)) / (100 - superfat) // at which this lye is right
	most := mostCarried * a.FatsTotal
	change := min(most, max(-most, (wanted-demand)*1000/r.Formula.Fats[largest].Fat.SAP))
	carried := *a
	carried.Fats = slices.Clone(a.Fats)
	carried.Fats[largest] = r.nearest(a.Fats[largest] + change)
	carried.FatsTotal += carried.Fats[largest] - a.Fats[largest]
	if off := math.Abs(r.Formula.SuperfatOf(carried) - superfat); off < math.Abs(r.Formula.SuperfatOf(*a)-superfat) {
		*a = carried
	}
}

// mostSuperfatShift is how many points rounding to the scale may move the
// superfat before a finer scale is asked for.
const mostSuperfatShift = 0.5

// checkStock refuses a stock that brings more water than the recipe's own
// plain water.
func (r Request) checkStock(p *caution.Problems, a recipe.Amounts) {
	d := r.Stock.Draw(r.drawn(a))
	plain := r.Formula.PlainWater(a)
	if d.Water <= plain*(1+1e-9)+1e-9 {
		return
	}
	pure := d.Solution - d.Water
	var ways []string
	if least := math.Ceil(10*lye.WeakestFor(pure, plain)-1e-6) / 10; least <= caution.LyeStrength.Max {
		ways = append(ways, fmt.Sprintf("use a stock of %s %% or stronger", unit.Trim(least, 1)))
	}
	if _, ok := r.Formula.Dissolves(a); ok {
		ways = append(ways, "weigh dry lye instead")
	}
	if r.StockShare != 0 || plain > 0 {
		ways = append(
			ways,
			fmt.Sprintf("draw only %s %% of it and weigh the rest dry", unit.Trim(math.Floor(r.share100()*plain/d.Water), 0)),
		)
	}
	ways = append(ways, "let more of the liquid be water")
	p.Add(
		"lye_stock.naoh_percent",
		"a %s %% stock brings %s g of water for one batch, but its recipe holds only %s g of plain water: %s g too much; %s",
		unit.Trim(
			r.Stock.Strength,
			1,
		),
		unit.Trim(d.Water, 1),
		unit.Trim(plain, 1),
		unit.Trim(d.Water-plain, 1),
		strings.Join(ways, ", or "),
	)
}

// answer writes down times pots of the amounts; pots is how many there are in
// all.
func (r Request) answer(a recipe.Amounts, times, pots int) Plan {
	k, f := float64(times), r.Formula
	uses := f.Uses()
	p := Plan{
		Batches: times, FatsG: k * a.FatsTotal, NaOH: k * a.NaOH, KOH: k * a.KOH, LiquidG: k * a.Liquid,
		BatterG: k * a.Batter(), Density: f.Density(a), FatShare: 100 * a.FatsTotal / a.Batter(), Superfat: f.SuperfatOf(a),
		Fats: make([]Row, len(f.Fats)), Liquids: make([]Row, len(f.Liquids)), Additives: make([]Row, len(uses)),
		VolumeML: r.volume(a, pots) * k / float64(pots),
	}
	for i, s := range f.Fats {
		p.Fats[i] = Row{Name: s.Fat.Key(), Grams: k * a.Fats[i]}
	}
	for i, l := range f.Liquids {
		p.Liquids[i] = Row{Name: l.Liquid.Slug, Grams: k * a.Liquids[i]}
	}
	for i, u := range uses {
		p.Additives[i] = Row{Name: u.Key(), Stage: u.Stage, Grams: k * a.Additives[i]}
	}
	if s := r.Scraps; s != nil {
		p.ScrapsG = k * s.Grams / float64(pots)
		p.ScrapsML = p.ScrapsG / s.Density
	}
	if r.FatStock != nil {
		p.FatDraw = k * r.FatStock.takes(f, a, pots)
	}
	if r.Stock != nil {
		d := r.Stock.Draw(r.drawn(a))
		p.Draw = &Draw{k * d.Solution, k * d.Water, k * math.Max(0, f.PlainWater(a)-d.Water)}
	}
	p.PeakC = r.Jug(a).PeakC()
	return p
}

// advise gathers the cautions of a plan. one is a pot of it.
func (r Request) advise(one Plan, a recipe.Amounts, pots int, exact float64, tooFine []string) []caution.Caution {
	out := []caution.Caution{lye.Handling()}
	out = append(out, r.Formula.Advise(one.Superfat, a)...)
	out = append(out, r.Jug(a).Advise()...)
	if r.Stock != nil {
		out = append(out, r.Stock.Advise()...)
	}
	out = append(out, r.adviseDissolving(one, a)...)
	if shift := one.Superfat - exact; math.Abs(shift) > mostSuperfatShift {
		out = append(out, caution.Caution{Code: "scale.coarse", Level: caution.Warn,
			Reason: fmt.Sprintf(
				"Rounded to %s g the superfat comes to %s %% instead of %s %%.",
				unit.Trim(r.Resolution, 2),
				unit.Trim(one.Superfat, 1),
				unit.Trim(exact, 1),
			),
			Remedy: "Weigh the lye on a finer scale, or make a larger batch."})
	}
	for _, name := range tooFine {
		out = append(out, caution.Caution{Code: "scale.additive", Level: caution.Advice,
			Reason: fmt.Sprintf(
				"%s is too little for a scale that reads %s g.",
				name,
				unit.Trim(r.Resolution, 2),
			), Remedy: "Use a finer scale for it."})
	}
	out = append(out, r.advisePots(a, pots)...)
	if in := r.Target.Ingredient; in != nil {
		if of, ok := r.find(in.Name); ok {
			if left := in.Grams - float64(pots)*of(a); left > 0.005 {
				out = append(
					out,
					caution.Caution{
						Code:   "target.left",
						Level:  caution.Advice,
						Reason: fmt.Sprintf("%s g of it stay over.", unit.Trim(left, 2)),
						Remedy: "Equal pots on this scale take no more; a single pot, or a finer scale, uses all of it.",
					},
				)
			}
		}
	}
	if hold := r.Target.Volume(); hold > 0 && r.Rule != Computed {
		over := r.Reaches()*r.volume(a, pots) - hold
		switch {
		case over > hold*0.01:
			out = append(out, caution.Caution{Code: "fill.overflow", Level: caution.Warn,
				Reason: fmt.Sprintf("By this habit %s ml more is mixed than the molds hold to the fill line.", unit.Trim(over, 0)),
				Remedy: "Have a spare mold ready, or let the fill be computed."})
		case over < -hold*0.01:
			out = append(out, caution.Caution{Code: "fill.short", Level: caution.Advice,
				Reason: fmt.Sprintf("By this habit the molds stay %s ml short of the fill line.", unit.Trim(-over, 0)),
				Remedy: "Let the fill be computed for full bars."})
		}
	}
	caution.Sort(out)
	return out
}
