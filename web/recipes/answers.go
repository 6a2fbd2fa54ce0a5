package recipes

import (
	"cmp"
	"net/http"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/costing"
	"ashshelf/shop/document"
	"ashshelf/soap/additive"
	"ashshelf/soap/ageing"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/cure"
	"ashshelf/soap/inventory"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/role"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// recipeAnswers is what a recipe comes to, for the size it is shown at.
type recipeAnswers struct {
	OK        bool
	Problems  caution.Problems
	Size      float64 // g of fats
	Formula   recipe.Formula
	Amounts   recipe.Amounts
	Plan      plan.Plan
	Ways      map[string]float64
	Basis     string
	Fats      []plan.Row // with the names of the fats
	Liquids   []liquidLine
	Rows      []useLine // what goes in besides, portions apart
	Portions  []portionLine
	Steep     []steepLine
	Solid     float64
	Blend     draw.Blend
	Superfat  float64
	Low, High float64 // between which the superfat lies nineteen times in twenty
	AddedFat  float64 // points of superfat from what holds fat besides the fats
	FatOf     []string
	Acids     float64 // g of lye that acids take
	Water     float64 // g of true water for each g of lye that carry it
	Cure      cure.Policy
	Unmold    cure.Window
	Thinned   *recipe.Thinned
	Missing   []string // additives that are left out of the figures, since their spoons have no weight
	System    unit.System
	Cautions  []caution.Caution
	Judged    []recipe.Outlook
	Acidity   []string      // the families of its fatty acids, the largest first
	LifeDrawn *draw.Picture // the bar's life; nil where it is no bar
	Life      string        // what is drawn, or was before the recipe became none
	Before    string        // the life before the last change
	Look      *draw.Picture
	Steps     []recipe.Step

	LiquidWeighed bool // the liquids are typed as weights, which say how much there is
	Marks         []recipe.Mark
	Swap          *swapAnswer
	Cost          *barCost // what a bar costs; nil where it is not shown
}

// barCost is what a bar of a recipe costs by what is in the house, and to replace.
type barCost struct {
	BarMG    int64
	Known    bool // it was weighed at a cut
	Today    cost.Sum
	Replace  cost.Sum
	Picture  draw.Picture
	Currency string
}

// doubt says what is outside of the assessment of the recipe.
func (s *Room) doubt(r *http.Request, a *recipeAnswers, f recipe.Formula) error {
	if !a.OK {
		return nil
	}
	doubts, err := s.Shop.Doubts(r.Context(), chi.URLParam(r, "oid"), f, a.Size)
	a.Cautions = append(a.Cautions, doubts...)
	return err
}

// cost works out what a bar costs, and what a swap does to it.
func (s *Room) cost(r *http.Request, a *recipeAnswers, f recipe.Formula) error {
	if !a.OK || !page.SessionOf(r).May(string(role.Maker)) {
		return nil
	}
	prices, err := s.Shop.Prices(r.Context())
	if err != nil {
		return err
	}
	grams, known, err := s.Shop.BarOf(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	today, replace := costing.OfFormula(f, grams, prices)
	if len(today.Total().Unknown) == len(today.Lines) {
		return nil // nothing is known of any price
	}
	slices.SortStableFunc(replace.Lines, func(a, b cost.Line) int { return b.Cost.Cmp(a.Cost) })
	a.Cost = &barCost{
		BarMG: inventory.MG(grams), Known: known, Today: today.Total(), Replace: replace.Total(), Currency: prices.Currency,
		Picture: page.CostsOf(replace.Lines, prices.Currency),
	}
	if a.Swap == nil {
		return nil
	}
	after := f
	after.Fats = a.Swap.blend
	_, then := costing.OfFormula(after, grams, prices)
	said := func(sum cost.Sum) string {
		text := cost.Format(sum.Known.Rounded(), prices.Currency) + " " + prices.Currency
		if !sum.Whole() {
			text += " and what is not known: " + strings.Join(sum.Unknown, ", ")
		}
		return text
	}
	a.Swap.Rows = append(a.Swap.Rows, swapRow{"A bar costs, to make again", said(replace.Total()), said(then.Total())})
	return nil
}

// Readings is the liquid in all the ways to say it but the one that was typed.
func (a recipeAnswers) Readings() []reading {
	var out []reading
	for _, o := range waterBases {
		if v, ok := a.Ways[o.Value]; ok {
			out = append(out, reading{o, unit.Trim(v, wayDecimals(o.Value)), o.Value == a.Basis})
		}
	}
	return out
}

// reading is one way to say the liquid.
type reading struct {
	page.Option
	Text  string
	Typed bool
}

// waterBases are the ways to say how much liquid there is.
var waterBases = []page.Option{
	{Value: string(recipe.LyeStrength), Label: "% lye strength"},
	{Value: string(recipe.LiquidToLye), Label: "parts liquid to one of lye"},
	{Value: string(recipe.PercentOfFats), Label: "% of the fats"},
	{Value: discount, Label: "% less than full"},
}

// Mixed is what both alkalis do, by what each saponifies and by weight; empty for one alone.
func (a recipeAnswers) Mixed() string {
	al := a.Formula.Alkali
	if al.NaOHPercent == 0 || al.NaOHPercent == 100 {
		return ""
	}
	return "NaOH saponifies " + unit.Trim(al.NaOHPercent, 1) + " % and is " + unit.Trim(al.ByWeight(), 1) + " % of the lye by weight."
}

// Stirred reports whether something is stirred in besides fats, lye and liquid.
func (a recipeAnswers) Stirred() bool { return a.Plan.InPot() > a.Plan.BatterG+0.5 }

// SeveralLiquids reports whether the liquids want a line each.
func (a recipeAnswers) SeveralLiquids() bool {
	return len(a.Liquids) > 1 || len(a.Liquids) == 1 && (a.Liquids[0].Note != "" || !a.Formula.Liquids[0].Liquid.Plain)
}

// OverMax reports whether a scent goes above its supplier's maximum.
func (a recipeAnswers) OverMax() bool {
	return slices.ContainsFunc(a.Cautions, func(c caution.Caution) bool { return c.Code == "scent.maximum" })
}

type liquidLine struct {
	Name  string
	Grams float64
	Note  string
}

// useLine is one thing that goes in, by weight first and by the spoon second.
type useLine struct {
	Name, When, Spoons string
	Grams              float64
	Apart              []plan.Row // oil or water set apart to stir it into
}

type portionLine struct {
	plan.PortionSize
	Uses []useLine
}

type steepLine struct {
	Oil      string
	Infusion liquid.Infusion
	Steep    liquid.Steep
	Start    string // address where a jar of it is started
}

// answersFor works the recipe out for the size that the form shows.
func answersFor(f *page.Form, body document.RecipeBody) recipeAnswers {
	size, problem := readSize(cmp.Or(f.Get("size"), page.UsualSize(f.System)), f.System)
	if usual := f.Get("size") == "" || f.Get("size") == page.UsualSize(f.System); usual && body.InWeights {
		size = body.SizeG // of its own, where no other was asked for
	}
	if problem != "" {
		f.Problems.Add("size", "%s", problem)
	}
	a := recipeAnswers{Size: size, Formula: body.Formula, Problems: f.Problems, Basis: f.Get("water.basis"), System: f.System}
	if _, inGrams := f.Share("liquids[0].percent"); inGrams {
		a.LiquidWeighed = true
	}
	if a.Missing = unweighed(body.Formula, f.Problems); len(a.Missing) > 0 {
		body.Formula = body.Formula.WithoutSpoons()
		a.Formula = body.Formula
	} else if len(f.Problems) > 0 {
		return a
	}
	return a.workOut(f, body)
}

// unweighed are the additives whose spoons nobody has weighed, where nothing else is wrong: all but
// they can be worked out.
func unweighed(fm recipe.Formula, p caution.Problems) []string {
	for _, one := range p {
		if !strings.HasSuffix(one.Path, spoonField) {
			return nil
		}
	}
	return fm.Unweighed()
}

// spoonField is the field for what a level teaspoon weighs.
const spoonField = ".rate.grams_per_tsp"

// answersOf works a kept recipe out for a weight of fats.
func answersOf(body document.RecipeBody, size float64, system unit.System) recipeAnswers {
	return recipeAnswers{Size: size, Formula: body.Formula, Basis: string(body.Formula.Water.Basis), System: system}.workOut(nil, body)
}

func (a recipeAnswers) workOut(f *page.Form, body document.RecipeBody) recipeAnswers {
	fm := body.Formula
	p, err := plan.Make(plan.Request{Formula: fm, Rule: plan.Computed, LiquidC: lye.RoomC, Target: plan.Target{FatsG: a.Size}})
	if err != nil {
		a.Problems = asProblems(err)
		return a
	}
	a.OK, a.Plan, a.Amounts, a.Superfat = true, p, fm.AmountsFor(a.Size), p.Superfat
	a.Ways = map[string]float64{}
	same := a.Amounts.EquivalentWater()
	for basis, v := range same {
		a.Ways[string(basis)] = v
	}
	a.Ways[discount] = fm.Discount(same[recipe.PercentOfFats])
	a.Low, a.High, _ = fm.SuperfatRange(a.Amounts, 0)
	a.AddedFat, a.FatOf = fm.AddedFat(a.Amounts)
	a.Acids = fm.AcidTake(a.Amounts)
	a.Water = fm.CarryingWater(a.Amounts) / (a.Amounts.NaOH + a.Amounts.KOH)
	for i, s := range fm.Fats {
		a.Fats = append(a.Fats, plan.Row{Name: s.Fat.Name, Grams: a.Amounts.Fats[i]})
	}
	for i, l := range fm.Liquids {
		a.Liquids = append(a.Liquids, liquidLine{l.Liquid.Name, a.Amounts.Liquids[i], plan.LiquidNote(l.Liquid, a.Amounts.Liquids[i])})
	}
	lines := useLines(fm, a.Amounts)
	for i, u := range fm.Uses() {
		if u.Portion == "" {
			a.Rows = append(a.Rows, lines[i])
		}
	}
	for _, size := range plan.PortionsOf(fm, p) {
		one := portionLine{PortionSize: size}
		for i, u := range fm.Uses() {
			if u.Portion == size.Name {
				one.Uses = append(one.Uses, lines[i])
			}
		}
		a.Portions = append(a.Portions, one)
	}
	for _, in := range fm.Infusions {
		for i, s := range fm.Fats {
			if s.Fat.Key() == in.Fat {
				a.Steep = append(a.Steep, steepOf(s.Fat.Name, in, a.Amounts.Fats[i], a.System))
			}
		}
	}
	a.Cautions = p.Cautions
	a.Solid, a.Blend = fm.Fats.Solid(), draw.OfBlend(fm.Fats)
	if f != nil {
		a.Swap = swapFor(f, body)
	}
	o := fm.Judge()
	a.Judged, a.Acidity = o.All(), familyWords(o.Groups)
	a.Cure, a.Unmold = body.Cure(), cure.Expected(fm)
	a.drawLife()
	if a.Steps = fm.DesignSteps(); len(a.Steps) > 0 {
		look := draw.OfDesign(fm)
		a.Look = &look
	}
	a.Marks = fm.Marks()
	a.Thinned = plan.Thinned(fm, p)
	return a
}

func steepOf(oil string, in liquid.Infusion, grams float64, sys unit.System) steepLine {
	st := in.For(grams)
	return steepLine{oil, in, st, page.InfusionAddress(oil, in, st, sys)}
}

// lifeOf draws the life of a recipe's bar; nil where it makes none.
func lifeOf(body document.RecipeBody) *draw.Picture {
	life, ok := ageing.Of(body.Formula, body.Cure())
	if !ok {
		return nil
	}
	drawn := draw.OfLife(life, nil)
	return &drawn
}

// drawLife draws the bar's life with the one before the last change, where there is one.
func (a *recipeAnswers) drawLife() {
	life, ok := ageing.Of(a.Formula, a.Cure)
	if !ok {
		return
	}
	var shadow *ageing.Life
	if before, ok := ageing.Parse(a.Before); ok {
		shadow = &before
	}
	drawn := draw.OfLife(life, shadow)
	a.Life, a.LifeDrawn = life.String(), &drawn
}

// after takes what the page showed before this answer: the life it drew, and the shadow of that,
// which stays when this change did not touch the bar. Half a change, such as shares that do not
// come to a whole yet, hands both on.
func (a *recipeAnswers) after(shown, before string) {
	if a.LifeDrawn == nil {
		a.Life, a.Before = shown, before
		return
	}
	if a.Before = shown; shown == a.Life {
		a.Before = before
	}
	a.drawLife()
}

// familyWords says the families of fatty acids that are there, the largest first.
func familyWords(groups []recipe.Group) []string {
	groups = slices.DeleteFunc(slices.Clone(groups), func(g recipe.Group) bool { return g.Percent < 0.5 })
	slices.SortStableFunc(groups, func(a, b recipe.Group) int { return cmp.Compare(b.Percent, a.Percent) })
	var out []string
	for _, g := range groups {
		out = append(out, g.Name+" "+unit.Trim(g.Percent, 0)+" %")
	}
	return out
}

// useLines are the additives, scents and colorants with what is set apart for
// each.
func useLines(f recipe.Formula, a recipe.Amounts) []useLine {
	uses := f.Uses()
	out := make([]useLine, len(uses))
	for i, u := range uses {
		out[i] = useLine{Name: u.Name, When: u.Stage.Words(), Grams: a.Additives[i]}
		out[i].Spoons = u.SpoonWords(a.Additives[i])
		if u.Stage == additive.Portion {
			out[i].When = ""
		}
	}
	for _, one := range f.Apart(a) {
		if one.Fat >= 0 {
			out[one.For].Apart = append(out[one.For].Apart, plan.Row{Name: f.Fats[one.Fat].Fat.Name, Grams: one.Grams})
		} else if one.Liquid >= 0 {
			out[one.For].Apart = append(out[one.For].Apart, plan.Row{Name: f.Liquids[one.Liquid].Liquid.Name, Grams: one.Grams})
		}
	}
	return out
}

func asProblems(err error) caution.Problems {
	if p, ok := err.(caution.Problems); ok {
		return p
	}
	return caution.Problems{{Text: err.Error()}}
}
