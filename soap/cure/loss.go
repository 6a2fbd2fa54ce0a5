package cure

import (
	"math"

	"ashshelf/soap/internal/stat"
	"ashshelf/soap/recipe"
)

// dryingShare is how much of the water in fresh soap dries away in a cure; the
// rest is held by the soap, by glycerin and by the damp of the room. At 33 % lye
// it gives 12 % of the raw weight, in the middle of the 8 to 15 % that bars
// lose.
const dryingShare = 0.6

// UsualLoss is the share of its raw weight in percent that a bar is expected to
// lose until it is dry: the median of what released lots lost, to a tenth, or
// without any what the formula lets expect.
func UsualLoss(f recipe.Formula, lost []float64) float64 {
	if len(lost) == 0 {
		return ExpectedLoss(f)
	}
	return math.Round(10*stat.Median(lost)) / 10
}

// ExpectedLoss is the share of its raw weight in percent that a bar is expected
// to lose until it is dry, before any lot of the recipe has been weighed:
// the water of liquids in the whole, additives included, times what of it
// leaves.
func ExpectedLoss(f recipe.Formula) float64 {
	const fats = 1000.0
	a := f.AmountsFor(fats)
	water, whole := 0.0, a.Batter()
	for i, l := range f.Liquids {
		water += a.Liquids[i] * l.Liquid.Water / 100
	}
	for _, g := range a.Additives {
		whole += g
	}
	return math.Round(100*dryingShare*water/whole*10) / 10
}
