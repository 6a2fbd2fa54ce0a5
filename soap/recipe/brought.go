package recipe

import (
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/lye"
	"ashshelf/soap/material"
)

// Composed is the formula with the make-up of its additives, see [additive.Use.Composed].
func (f Formula) Composed() Formula {
	composed := func(list []additive.Use) []additive.Use {
		list = slices.Clone(list)
		for i := range list {
			list[i] = list[i].Composed()
		}
		return list
	}
	f.Additives, f.Portions = composed(f.Additives), slices.Clone(f.Portions)
	for i := range f.Portions {
		f.Portions[i].Colorants = composed(f.Portions[i].Colorants)
	}
	return f
}

// part is a weight in g of one of the materials of a formula.
type part struct {
	name  string
	grams float64
	material.Composition
}

// The parts of amounts: what is a fat, a liquid and an additive of the formula.
func (f Formula) fatParts(a Amounts) []part {
	out := make([]part, len(f.Fats))
	for i, s := range f.Fats {
		out[i] = part{s.Fat.Name, a.Fats[i], s.Fat.Composition()}
	}
	return out
}

func (f Formula) liquidParts(a Amounts) []part {
	out := make([]part, len(f.Liquids))
	for i, l := range f.Liquids {
		out[i] = part{l.Liquid.Name, a.Liquids[i], l.Liquid.Composition()}
	}
	return out
}

func (f Formula) additiveParts(a Amounts) []part {
	var out []part
	for i, u := range f.Uses() {
		out = append(out, part{u.Name, a.Additives[i], u.Composition()})
	}
	return out
}

// stirredParts are the additives but those that go on top.
func (f Formula) stirredParts(a Amounts) []part {
	var out []part
	uses := f.Uses()
	for i, p := range f.additiveParts(a) {
		if uses[i].Stage.Into() != additive.TheTop {
			out = append(out, p)
		}
	}
	return out
}

func (f Formula) parts(a Amounts) []part {
	return slices.Concat(f.fatParts(a), f.liquidParts(a), f.additiveParts(a))
}

// sum is what parts bring together.
func sum(parts ...[]part) (b material.Brought) {
	for _, list := range parts {
		for _, p := range list {
			b.Add(p.grams, p.Composition)
		}
	}
	return b
}

// Brought is what all fats, liquids and additives of the amounts bring, in g.
func (f Formula) Brought(a Amounts) material.Brought { return sum(f.parts(a)) }

// acids is the lye that the acids of additives and liquids take up, in grams of pure KOH.
func (f Formula) acids(a Amounts) float64 {
	return sum(f.liquidParts(a), f.additiveParts(a)).NaOH / lye.NaOHPerKOH
}

// AddedFat is how many points of superfat the fat of liquids and additives adds, and which of
// them hold it, the most first.
func (f Formula) AddedFat(a Amounts) (points float64, of []string) {
	var fatty []part
	for _, p := range append(f.liquidParts(a), f.stirredParts(a)...) {
		if p.grams*p.Fat > 0 {
			fatty = append(fatty, p)
		}
	}
	slices.SortStableFunc(fatty, func(x, y part) int {
		switch d := y.grams*y.Fat - x.grams*x.Fat; {
		case d < 0:
			return -1
		case d > 0:
			return 1
		}
		return 0
	})
	for _, p := range fatty {
		of = append(of, strings.ToLower(p.name))
	}
	all, own := f.Demand(a), sum(f.fatParts(a)).FatKOH
	if all == 0 || own == 0 {
		return 0, of
	}
	free := f.Alkali.Power(a.NaOH, a.KOH) - f.acids(a)
	return 100 * free * (1/own - 1/all), of
}

// TrueWater is the water of all liquids and additives in g.
func (f Formula) TrueWater(a Amounts) float64 { return f.Brought(a).Water }

// Salt is the salt that is stirred into the batter, in percent of the fats; 25 and more makes a salt
// bar. What is dissolved in the liquid makes a brine bar.
func (f Formula) Salt() float64 {
	if len(f.Uses()) == 0 { // a portion can bring it as well
		return 0
	}
	a := f.AmountsFor(1000)
	grains := f.additiveParts(a)
	for i, u := range f.Uses() {
		if u.Stage == additive.InLiquid {
			grains[i].Salt = 0
		}
	}
	return 100 * sum(grains).Salt / a.FatsTotal
}

// Lactate is the sodium lactate, as bought, in percent of the fats.
func (f Formula) Lactate(a Amounts) float64 {
	grams := 0.0
	for i, u := range f.Uses() {
		if u.Is("sodium lactate") {
			grams += a.Additives[i]
		}
	}
	return 100 * grams / a.FatsTotal
}

// AllSalt is all salt, dissolved or not, in percent of the fats.
func (f Formula) AllSalt(a Amounts) float64 { return 100 * f.Brought(a).Salt / a.FatsTotal }

// AddedSugar is the sugar of additives, honey's included, in percent of the fats.
func (f Formula) AddedSugar(a Amounts) float64 {
	return 100 * sum(f.additiveParts(a)).Sugar / a.FatsTotal
}

// Unweighed are the additives that are given by the spoon and of which no spoon was weighed.
func (f Formula) Unweighed() []string {
	var out []string
	for _, u := range f.Uses() {
		if u.Unweighed() {
			out = append(out, u.Key())
		}
	}
	return out
}

// WithoutSpoons is the formula without what is given by a spoon that nobody weighed: what can be
// worked out of it.
func (f Formula) WithoutSpoons() Formula {
	without := func(list []additive.Use) []additive.Use {
		list = slices.Clone(list)
		for i := range list {
			if list[i].Unweighed() {
				list[i].Basis, list[i].Rate = additive.GramsPerBatch, 0
			}
		}
		return list
	}
	f.Additives, f.Portions = without(f.Additives), slices.Clone(f.Portions)
	for i := range f.Portions {
		f.Portions[i].Colorants = without(f.Portions[i].Colorants)
	}
	return f
}
