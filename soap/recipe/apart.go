package recipe

import (
	"math"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/unit"
)

// Apart is a part of a fat or of the water that is set apart to stir a powder
// into. It belongs to the recipe's own fats and liquid.
type Apart struct {
	Fat    int     // index into the fats, -1 for water
	Liquid int     // index into the liquids, -1 for a fat
	For    int     // index into [Formula.Uses]
	Grams  float64 // to set apart
	Short  float64 // g that the recipe does not have
}

// Apart works out what is set apart in a batch of these amounts. Oil is taken
// out of the fat that is named, water out of the plain water there is most of;
// what the recipe does not hold is said as short.
func (f Formula) Apart(a Amounts) []Apart {
	var out []Apart
	fats, liquids := map[int]float64{}, map[int]float64{}
	for k, u := range f.Uses() {
		if u.Disperse == nil || u.Disperse.Own || k >= len(a.Additives) || a.Additives[k] <= 0 {
			continue
		}
		one := Apart{Fat: -1, Liquid: -1, For: k}
		if u.Disperse.In == additive.InWater {
			one.Liquid = f.mostWater(a)
			if one.Grams = u.Carrier(a.Additives[k], 1); one.Liquid < 0 {
				one.Short, one.Grams = one.Grams, 0
			} else {
				one.Short = math.Max(0, liquids[one.Liquid]+one.Grams-a.Liquids[one.Liquid])
				one.Grams -= one.Short
				liquids[one.Liquid] += one.Grams
			}
			out = append(out, one)
			continue
		}
		for i, s := range f.Fats {
			if s.Fat.Key() == u.Disperse.In {
				one.Fat = i
				one.Grams = u.Carrier(a.Additives[k], s.Fat.Density)
				one.Short = math.Max(0, fats[i]+one.Grams-a.Fats[i])
				one.Grams -= one.Short
				fats[i] += one.Grams
				out = append(out, one)
			}
		}
	}
	return out
}

// mostWater is the plain water that there is most of, or -1.
func (f Formula) mostWater(a Amounts) int {
	best := -1
	for i, l := range f.Liquids {
		if l.Liquid.Plain && !l.Frozen && l.Liquid.Slug != "ice" && a.Liquids[i] > 0 && (best < 0 || a.Liquids[i] > a.Liquids[best]) {
			best = i
		}
	}
	return best
}

// apartWater is how much of each liquid is set apart, in grams.
func (f Formula) apartWater(a Amounts) []float64 {
	out := make([]float64, len(f.Liquids))
	for _, one := range f.Apart(a) {
		if one.Liquid >= 0 {
			out[one.Liquid] += one.Grams
		}
	}
	return out
}

func (f Formula) checkCarrier(p *caution.Problems, path string, u additive.Use) {
	if u.Disperse == nil || u.Disperse.In == additive.InWater {
		return
	}
	if u.Disperse.Own {
		if _, err := fat.Find(u.Disperse.In); err != nil {
			p.Add(path+".disperse.in", "the oil that %s is stirred into is not known", u.Name)
		}
		return
	}
	for _, s := range f.Fats {
		if s.Fat.Key() == u.Disperse.In {
			return
		}
	}
	p.Add(path+".disperse.in", "%s is stirred into a fat that is not in the blend: the oil comes out of the batch's own", u.Name)
}

func (f Formula) adviseApart(a Amounts) []caution.Caution {
	var out []caution.Caution
	uses := f.Uses()
	for _, one := range f.Apart(a) {
		if one.Short > 0.05 {
			what := "plain water"
			if one.Fat >= 0 {
				what = f.Fats[one.Fat].Fat.Name
			}
			out = append(out, caution.Caution{Code: "additive.dispersal", Level: caution.Warn,
				Reason: uses[one.For].Key() + " wants more " + what + " to be stirred smooth than the recipe holds, by " + unit.Trim(
					one.Short,
					1,
				) + " g.",
				Remedy: "Stir it into something the recipe has enough of, or with fewer spoons."})
		}
	}
	return out
}
