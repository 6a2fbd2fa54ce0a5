package recipe

import (
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// LeastWater is how many grams of water a gram of lye gets at the least when a
// part of the liquid is kept off it: one to one, and a little over, because
// steam leaves.
const LeastWater = 1.1

// splitStep is the step in percent that makers split a liquid by.
const splitStep = 5.0

// Split shares the liquid out between the rows that carry the lye and those
// that are kept off it, such as milk that goes into the fats: as much as the lye
// needs in water, rounded up to the next 5 % of the liquid, and the rest for the
// others, each group in its own proportions. It returns the percentages of the
// rows.
func (f Formula) Split() ([]float64, error) {
	a := f.AmountsFor(1000)
	carrying, off, water := 0.0, 0.0, 0.0
	for _, l := range f.Liquids {
		if l.Carries {
			carrying += l.Percent
			water += l.Percent * l.Liquid.Water / 100
		} else {
			off += l.Percent
		}
	}
	var p caution.Problems
	if carrying == 0 || off == 0 {
		p.Add(
			"liquids",
			"tick which liquid carries the lye, and leave another one without the tick, then the liquid can be split between them",
		)
		return nil, p
	}
	apart := 0.0
	for _, g := range f.apartWater(a) {
		apart += g
	}
	need := LeastWater*(a.NaOH+a.KOH) + apart
	grams := need / (water / carrying)
	share := math.Ceil(100*grams/a.Liquid/splitStep-1e-9) * splitStep
	if share >= 100 {
		p.Add(
			"liquids",
			"the lye wants %s g of water for each kg of fats and all the liquid is only %s g: use more liquid before a part of it is "+
				"kept off the lye",
			unit.Trim(need, 0),
			unit.Trim(a.Liquid, 0),
		)
		return nil, p
	}
	out := make([]float64, len(f.Liquids))
	for i, l := range f.Liquids {
		if l.Carries {
			out[i] = share * l.Percent / carrying
		} else {
			out[i] = (100 - share) * l.Percent / off
		}
	}
	return out, nil
}
