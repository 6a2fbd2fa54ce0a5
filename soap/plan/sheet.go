package plan

import (
	"math"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/liquid"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Item is one weighing of the weigh sheet.
type Item struct {
	Key       Key
	Name      string
	Target    float64 // g
	Tolerance float64 // g either way that needs no second look
	Decimals  int     // that the scale shows
	Note      string
	Running   float64 // g that the scale shows when the vessel was not tared
}

// Section is the weighings that go into one vessel, in the order of the work.
type Section struct {
	Place  Place  // where it goes
	Title  string // for people
	Items  []Item
	Vessel string // what it is weighed into, where the shop named it
	// ByEye are what is stirred in besides, until it pleases.
	ByEye []string
}

// byEye takes a use in that has no weight.
func (s *Section) byEye(u additive.Use) {
	if u.Basis == additive.ByEye {
		s.ByEye = append(s.ByEye, u.Name)
	}
}

// Total is the weight of the section in g.
func (s Section) Total() float64 {
	sum := 0.0
	for _, i := range s.Items {
		sum += i.Target
	}
	return sum
}

// Running reports whether some weight of a sheet has a running total.
func Running(sheet []Section) bool {
	return slices.ContainsFunc(sheet, func(s Section) bool {
		return slices.ContainsFunc(s.Items, func(i Item) bool { return i.Running > 0 })
	})
}

// Targets are the weights of a sheet in g.
func Targets(sheet []Section) map[Key]float64 {
	out := map[Key]float64{}
	for _, s := range sheet {
		for _, i := range s.Items {
			out[i.Key] = i.Target
		}
	}
	return out
}

// tolerance is half a percent, which moves the superfat by about half a
// point at the most, but no finer than the step of the scale.
func tolerance(grams, step float64) float64 {
	return math.Max(step, math.Round(grams*0.005/step)*step)
}

// Sheet is the weigh sheet of one pot in the order of the work: the lye jug
// first, since it must cool, then the solid fats, which must melt, the liquid
// fats, and what goes in later. Liquids that do not carry the lye come after
// the fats they are stirred into. Weights are given as the scale that suits
// them reads; small amounts that it cannot show as on a scale ten times finer.
// What goes into a named vessel has its running total on an untared scale
// beside it.
func Sheet(r Request, pot Plan) []Section {
	f, scales, vessels := r.Formula, r.Scales, r.Vessels
	if scales.Resolution <= 0 {
		scales.Resolution = 0.1
	}
	item := func(key Key, name string, grams float64, note string) Item {
		step := scales.step(grams)
		own := step
		if math.Abs(grams-math.Round(grams/step)*step) > 1e-6 {
			own = step / 10
		}
		return Item{Key: key, Name: name, Target: grams, Tolerance: tolerance(grams, own), Decimals: unit.Decimals(own), Note: note}
	}
	uses := f.Uses()
	amounts := pot.amounts()
	apart := f.Apart(amounts)
	lessFat, lessLiquid := make([]float64, len(f.Fats)), make([]float64, len(f.Liquids))
	carriers := map[int][]Item{} // by use
	for _, one := range apart {
		g := scales.nearest(one.Grams)
		if g <= 0 { // a few drops, which no scale of the shop shows
			continue
		}
		u := uses[one.For]
		var row Item
		if one.Fat >= 0 {
			x := f.Fats[one.Fat].Fat
			lessFat[one.Fat] += g
			row = item(FatKey(x).Apart(u), x.Name+", set apart", g, spooned("to stir "+u.Name+" into; part of the fats", one.Grams/x.Density))
		} else {
			l := f.Liquids[one.Liquid].Liquid
			lessLiquid[one.Liquid] += g
			row = item(LiquidKey(l).Apart(u), l.Name+", set apart", g, spooned("to stir "+u.Name+" into, hot; part of the liquid", one.Grams))
		}
		carriers[one.For] = append(carriers[one.For], row)
	}
	exact := f.AmountsFor(pot.FatsG).Additives // a spoon knows no rounding of the scale
	extra := func(i int) []Item {
		u, g := uses[i], pot.Additives[i].Grams
		if g <= 0 {
			return nil
		}
		note := u.Stage.Words()
		if words := u.SpoonWords(exact[i]); words != "" {
			note += ", about " + words
		}
		return append(carriers[i], item(AdditiveKey(u), u.Name, g, note))
	}
	goesInto := func(into ...additive.Into) []Item {
		var out []Item
		for _, stage := range additive.StagesInto(into...) {
			for i, u := range uses {
				if u.Stage == stage && u.Portion == "" {
					out = append(out, extra(i)...)
				}
			}
		}
		return out
	}
	jug := Section{Place: InJug, Title: "Lye jug"}
	later := Section{Place: OffLye, Title: "Liquid kept off the lye"}
	gives := 1.0 // share of the plain water that is still added when a stock brings its own
	if pot.Draw != nil {
		if plain := f.PlainWater(amounts); plain > 0 {
			gives = pot.Draw.LiquidToAdd / plain
		}
	}
	for i, l := range f.Liquids {
		grams := pot.Liquids[i].Grams - lessLiquid[i]
		if l.Liquid.Plain && pot.Draw != nil {
			grams = scales.nearest(grams * gives)
		}
		if grams <= 0 {
			continue
		}
		row := item(LiquidKey(l.Liquid), l.Liquid.Name, grams, LiquidNote(l.Liquid, grams))
		if l.Frozen {
			row.Note = strings.TrimPrefix(row.Note+"; frozen", "; ")
		}
		if l.Liquid.Plain && pot.Draw != nil {
			row.Note = "first, before the stock"
		}
		if l.Carries || l.Liquid.Plain && pot.Draw != nil {
			jug.Items = append(jug.Items, row)
		} else {
			if row.Note == "" {
				row.Note = "into the fats or the batter, never onto hot lye"
			}
			later.Items = append(later.Items, row)
		}
	}
	jug.Items = append(jug.Items, goesInto(additive.ThePlainLiquid)...)
	naoh, koh := r.dry(pot.NaOH, pot.KOH)
	if naoh > 0 {
		jug.Items = append(jug.Items, item(NaOHKey, "Sodium hydroxide", naoh, "lye into liquid, slowly"))
	}
	if koh > 0 {
		jug.Items = append(jug.Items, item(KOHKey, "Potassium hydroxide", koh, "lye into liquid, slowly"))
	}
	if pot.Draw != nil {
		name := "Lye stock, " + unit.Trim(r.Stock.Strength, 1) + " %"
		if r.Stock.Name != "" {
			name = "Lye stock " + r.Stock.Name + ", " + unit.Trim(r.Stock.Strength, 1) + " %"
		}
		jug.Items = append(
			jug.Items,
			item(StockKey, name, scales.nearest(pot.Draw.Solution), "into the liquid, through a strainer; no crystals on its bottom"),
		)
	}
	jug.Items = append(jug.Items, goesInto(additive.TheLye)...)

	solid, fluid := Section{Place: ToMelt, Title: "Fats to melt"}, Section{Place: Fluid, Title: "Liquid fats"}
	heldBack := Section{Place: AtHand, Title: "Held back until after the cook"}
	if pot.FatDraw > 0 {
		solid.Items = append(
			solid.Items,
			item(FatStockKey, "Fats from "+r.FatStock.Name, pot.FatDraw, "warmed and stirred through before any is taken"),
		)
	}
	for i, s := range f.Fats {
		grams := pot.Fats[i].Grams - lessFat[i]
		if pot.FatDraw > 0 {
			grams = scales.nearest(grams - r.FatStock.brings(s.Fat.Key(), pot.FatDraw))
		}
		if grams <= 0 {
			continue
		}
		to, note := &fluid, infusionNote(f, s.Fat.Key(), pot.Fats[i].Grams)
		switch {
		case s.AfterCook:
			to, note = &heldBack, strings.TrimPrefix(note+"; "+additive.AfterCook.Words(), "; ")
		case s.Fat.Solid:
			to = &solid
		}
		to.Items = append(to.Items, item(FatKey(s.Fat), s.Fat.Name, grams, note))
	}
	all := []Section{
		jug, solid, fluid,
		{Place: ToStir, Title: "Stirred into the fats", Items: goesInto(additive.TheFats)},
		later,
		heldBack,
		{
			Place: AtHand,
			Title: "At hand for emulsion and trace",
			Items: goesInto(additive.TheBatter, additive.TheTrace, additive.APortion),
		},
	}
	if pot.ScrapsG > 0 {
		all = append(all, Section{Place: AtHand, Title: "Scraps of soap", Items: []Item{
			item(ScrapsKey, "Scraps of soap", scales.nearest(pot.ScrapsG), "diced small, and of which lot is said where they are weighed"),
		}})
	}
	for _, p := range PortionsOf(f, pot) {
		sec := Section{Place: AtHand, Title: p.Title()}
		for i, u := range uses {
			if u.Portion == p.Name {
				sec.Items = append(sec.Items, extra(i)...)
				sec.byEye(u)
			}
		}
		all = append(all, sec)
	}
	eyes := Section{Place: AtHand, Title: "By eye"}
	for _, u := range uses {
		if u.Portion == "" {
			eyes.byEye(u)
		}
	}
	all = append(all, eyes)
	all = append(all, Section{Place: AtHand, Title: "On top", Items: goesInto(additive.TheTop)})
	out := all[:0:0]
	for _, s := range all {
		if len(s.Items)+len(s.ByEye) > 0 {
			out = append(out, s)
		}
	}
	runningTotals(out, vessels)
	return out
}

// spooned adds to a note how many spoons some millilitres are.
func spooned(note string, ml float64) string {
	if words := additive.SpoonsOf(ml / unit.MLPerTeaspoon); words != "" {
		return note + ", about " + words
	}
	return note
}

// Place is where a section of the sheet goes.
type Place string

// The places. Everything that goes in later stands at hand.
const (
	InJug  Place = "jug"
	ToMelt Place = "melt"
	Fluid  Place = "fluid"
	ToStir Place = "stir"
	OffLye Place = "off-lye"
	AtHand Place = "hand"
)

// runningTotals adds up what goes into the jug and into the pot. What was set
// apart is weighed into cups of its own.
func runningTotals(sheet []Section, v Vessels) {
	into := map[Place]*Vessel{InJug: &v.Jug, ToMelt: &v.Pot, Fluid: &v.Pot, ToStir: &v.Pot}
	total := map[*Vessel]float64{&v.Jug: v.Jug.Tare, &v.Pot: v.Pot.Tare}
	for i := range sheet {
		vessel := into[sheet[i].Place]
		if vessel == nil {
			continue
		}
		if sheet[i].Vessel = vessel.Name; vessel.Tare == 0 {
			continue
		}
		for k := range sheet[i].Items {
			total[vessel] += sheet[i].Items[k].Target
			sheet[i].Items[k].Running = total[vessel]
		}
	}
}

// LiquidNote says how a weight of a liquid is come by where that takes more
// than weighing it: the salt and water of a brine, the start of boiled-down
// beer. It is empty for all others.
func LiquidNote(l liquid.Liquid, grams float64) string {
	if salt := l.Salt(grams); salt > 0 {
		return unit.Grams(salt) + " g of salt made up with " + unit.Grams(grams-salt) + " g of water"
	}
	if l.BoilDown > 1 {
		return "boil " + unit.Grams(l.Start(grams)) + " g down to this, and chill it"
	}
	return ""
}

func infusionNote(f recipe.Formula, key string, grams float64) string {
	for _, i := range f.Infusions {
		if i.Fat == key {
			s := i.For(grams)
			return "infused with " + i.Herb + ": from " + unit.Grams(
				s.Start,
			) + " g with " + unit.Grams(
				s.Herb,
			) + " g of herb; strained, topped up with plain oil"
		}
	}
	return ""
}

// amounts are the weights of the plan as amounts of its formula.
func (p Plan) amounts() recipe.Amounts {
	grams := func(rows []Row) (out []float64) {
		for _, r := range rows {
			out = append(out, r.Grams)
		}
		return out
	}
	return recipe.Amounts{
		Fats:      grams(p.Fats),
		FatsTotal: p.FatsG,
		NaOH:      p.NaOH,
		KOH:       p.KOH,
		Liquids:   grams(p.Liquids),
		Liquid:    p.LiquidG,
		Additives: grams(p.Additives),
	}
}

// Amounts turns weights by item key back into the amounts of a formula, so
// that the soap that was really weighed can be judged. What was set apart is
// part of its fat or liquid, and what was drawn from a container is what it
// holds: a lye stock its alkali and plain water, a blend its fats.
func Amounts(r Request, grams func(Key) float64) recipe.Amounts {
	f := r.Formula
	uses := f.Uses()
	fromFats, fromLye := 0.0, 0.0
	if r.FatStock != nil {
		fromFats = grams(FatStockKey)
	}
	if r.Stock != nil {
		fromLye = grams(StockKey)
	}
	all := func(key Key) float64 {
		sum := grams(key)
		for _, u := range uses {
			if u.Disperse != nil {
				sum += grams(key.Apart(u))
			}
		}
		return sum
	}
	a := recipe.Amounts{NaOH: grams(NaOHKey), KOH: grams(KOHKey)}
	for _, s := range f.Fats {
		g := all(FatKey(s.Fat))
		if fromFats > 0 {
			g += r.FatStock.brings(s.Fat.Key(), fromFats)
		}
		a.Fats = append(a.Fats, g)
		a.FatsTotal += g
	}
	for _, l := range f.Liquids {
		g := all(LiquidKey(l.Liquid))
		a.Liquids = append(a.Liquids, g)
		a.Liquid += g
	}
	for _, u := range uses {
		a.Additives = append(a.Additives, grams(AdditiveKey(u)))
	}
	if fromLye > 0 {
		r.addStock(&a, fromLye)
	}
	return a
}

// addStock adds what a draw of g grams brings: alkali as if it had been weighed
// as bought, and water in the place of the plain water it stands in for.
func (r Request) addStock(a *recipe.Amounts, g float64) {
	pure := g * r.Stock.Strength / 100
	water := g - pure
	if al := r.Formula.Alkali; r.Stock.KOH {
		a.KOH += pure * 100 / al.KOHPurity
		water -= pure * (100 - al.KOHPurity) / al.KOHPurity
	} else {
		a.NaOH += pure * 100 / al.NaOHPurity
		water -= pure * (100 - al.NaOHPurity) / al.NaOHPurity
	}
	for i, l := range r.Formula.Liquids {
		if l.Liquid.Plain {
			a.Liquids[i] += water
			a.Liquid += water
			return
		}
	}
}
