package plan

import (
	"math"

	"ashshelf/soap/additive"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Item is one weighing of the weigh sheet.
type Item struct {
	Key       string  `json:"key"` // "fat:olive-oil", "alkali:naoh" ...; unique in a sheet
	Name      string  `json:"name"`
	Target    float64 `json:"target"`    // g
	Tolerance float64 `json:"tolerance"` // g either way that needs no second look
	Decimals  int     `json:"decimals"`  // that the scale shows
	Note      string  `json:"note,omitempty"`
}

// Section is the weighings that go into one vessel, in the order of the work.
type Section struct {
	Title string `json:"title"`
	Items []Item `json:"items"`
}

// Total is the weight of the section in g.
func (s Section) Total() float64 {
	sum := 0.0
	for _, i := range s.Items {
		sum += i.Target
	}
	return sum
}

// tolerance is half a percent, which moves the superfat by about half a
// point at the most, but no finer than the step of the scale.
func tolerance(grams, step float64) float64 {
	return math.Max(step, math.Round(grams*0.005/step)*step)
}

// Sheet is the weigh sheet of one pot in the order of the work: the lye jug
// first, since it must cool, then the solid fats, which must melt, the liquid
// fats, and what goes in later. Liquids that do not carry the lye come after
// the fats they are stirred into. step is what the scale reads, in g; small
// amounts that it cannot show are given as on a scale ten times finer.
func Sheet(f recipe.Formula, pot Plan, step float64) []Section {
	if step <= 0 {
		step = 0.1
	}
	item := func(key, name string, grams float64, note string) Item {
		own := step
		if math.Abs(grams-math.Round(grams/step)*step) > 1e-6 {
			own = step / 10
		}
		return Item{Key: key, Name: name, Target: grams, Tolerance: tolerance(grams, own), Decimals: unit.Decimals(own), Note: note}
	}
	extras := func(stages ...additive.Stage) []Item {
		var out []Item
		for _, stage := range stages {
			for i, u := range f.Additives {
				if u.Stage == stage && pot.Additives[i].Grams > 0 {
					out = append(out, item("additive:"+u.Name, u.Name, pot.Additives[i].Grams, stage.Words()))
				}
			}
		}
		return out
	}
	jug := Section{Title: "Lye jug"}
	later := Section{Title: "Liquid kept off the lye"}
	for i, l := range f.Liquids {
		grams := pot.Liquids[i].Grams
		if grams == 0 {
			continue
		}
		row := item("liquid:"+l.Liquid.Slug, l.Liquid.Name, grams, "")
		if l.Frozen {
			row.Note = "frozen"
		}
		if l.Carries {
			jug.Items = append(jug.Items, row)
		} else {
			if row.Note == "" {
				row.Note = "into the fats or the batter, never onto hot lye"
			}
			later.Items = append(later.Items, row)
		}
	}
	jug.Items = append(jug.Items, extras(additive.InLiquid)...)
	if pot.NaOH > 0 {
		jug.Items = append(jug.Items, item("alkali:naoh", "Sodium hydroxide", pot.NaOH, "lye into liquid, slowly"))
	}
	if pot.KOH > 0 {
		jug.Items = append(jug.Items, item("alkali:koh", "Potassium hydroxide", pot.KOH, "lye into liquid, slowly"))
	}
	jug.Items = append(jug.Items, extras(additive.InLye)...)

	solid, fluid := Section{Title: "Fats to melt"}, Section{Title: "Liquid fats"}
	for i, s := range f.Fats {
		if pot.Fats[i].Grams == 0 {
			continue
		}
		to := &fluid
		if s.Fat.Solid {
			to = &solid
		}
		to.Items = append(to.Items, item("fat:"+s.Fat.Key(), s.Fat.Name, pot.Fats[i].Grams, ""))
	}
	all := []Section{
		jug, solid, fluid,
		{Title: "Stirred into the fats", Items: extras(additive.InFats)},
		later,
		{Title: "At hand for emulsion and trace", Items: extras(additive.Emulsion, additive.Trace, additive.Portion, additive.AfterCook)},
		{Title: "On top", Items: extras(additive.Top)},
	}
	out := all[:0:0]
	for _, s := range all {
		if len(s.Items) > 0 {
			out = append(out, s)
		}
	}
	return out
}

// Amounts turns weights by item key back into the amounts of a formula, so
// that the soap that was really weighed can be judged.
func Amounts(f recipe.Formula, grams func(key string) float64) recipe.Amounts {
	a := recipe.Amounts{NaOH: grams("alkali:naoh"), KOH: grams("alkali:koh")}
	for _, s := range f.Fats {
		g := grams("fat:" + s.Fat.Key())
		a.Fats = append(a.Fats, g)
		a.FatsTotal += g
	}
	for _, l := range f.Liquids {
		g := grams("liquid:" + l.Liquid.Slug)
		a.Liquids = append(a.Liquids, g)
		a.Liquid += g
	}
	for _, u := range f.Additives {
		a.Additives = append(a.Additives, grams("additive:"+u.Name))
	}
	return a
}
