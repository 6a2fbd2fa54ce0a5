package plan

import (
	"math"

	"ashshelf/soap/recipe"
)

// SuperfatRange is between which superfats, in percent, a pot comes to nineteen times in twenty,
// when its lye is weighed on the scale of its sheet and within the tolerance that is given there.
func SuperfatRange(f recipe.Formula, pot Plan, sheet []Section) (low, high float64) {
	off := 0.0
	for _, section := range sheet {
		for _, item := range section.Items {
			if item.Key == NaOHKey || item.Key == KOHKey {
				// Anything within the tolerance is as likely as anything else in it.
				off = math.Hypot(off, item.Tolerance/math.Sqrt(3))
			}
		}
	}
	low, high, _ = f.SuperfatRange(f.AmountsFor(pot.FatsG), off)
	// The weights of the sheet are rounded: the middle is what they come to.
	shift := pot.Superfat - (low+high)/2
	return low + shift, high + shift
}
