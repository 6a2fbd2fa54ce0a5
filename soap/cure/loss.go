package cure

import (
	"math"

	"ashshelf/soap/dry"
	"ashshelf/soap/internal/stat"
	"ashshelf/soap/recipe"
)

// dryingShare is how much of the water in fresh soap dries away in a cure; the
// rest is held by the soap, by glycerin and by the damp of the room. At 33 % lye
// it gives 12 % of the raw weight, in the middle of the 8 to 15 % that bars
// lose.
const dryingShare = 0.6

// LabelYear is how long after the pour a weight on a label must still be there, in hours: a
// year, by which a bar has lost what it will.
const LabelYear = 365 * 24.0

// UsualLoss is the share of its raw weight in percent that a bar is expected to lose from the
// cut until a year after the pour: what earlier lots lost, by the one in the middle, leaning on
// what the formula lets expect as if that were one lot more; to a tenth.
func UsualLoss(f recipe.Formula, lost []float64) float64 {
	n := float64(len(lost))
	return math.Round(10*(ExpectedLoss(f)+n*stat.Median(lost))/(n+1)) / 10
}

// LostSinceCut is the share of its raw weight in percent that a lot's bars lose from the cut
// until a year after the pour, by how the marked bar dried. The first weighing may be weeks
// after the cut, and most is lost before it: rawG is what the bars weighed when they were cut,
// and counts when the marked bar was not weighed within two days of that.
func LostSinceCut(f dry.Forecast, firstHours, cutHours, rawG float64) float64 {
	const soon = 48.0
	start := f.At(cutHours)
	if firstHours > cutHours+soon && rawG > 0 {
		start = rawG
	}
	return 100 * (1 - f.At(LabelYear)/start)
}

// ExpectedLoss is the share of its raw weight in percent that a bar is expected
// to lose until it is dry, nothing of a paste, before any lot of the recipe has been weighed:
// the water of all liquids and additives in the whole, times what of it leaves.
func ExpectedLoss(f recipe.Formula) float64 {
	if f.Potash() {
		return 0 // a paste is kept from drying
	}
	a := f.AmountsFor(1000)
	water, whole := f.TrueWater(a), a.Batter()
	for _, g := range a.Additives {
		whole += g
	}
	return math.Round(100*dryingShare*water/whole*10) / 10
}
