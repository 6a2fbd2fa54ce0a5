// Package run is make day: what has been weighed so far and what soap that
// makes.
//
// A plan says what should be weighed; a scale says what was. Actual weights
// change the soap: ten grams too much lye take a point or two off the
// superfat. After each weighing the superfat is worked out anew from what is in
// the pot and the targets still to come, judged against what the recipe
// means to have, and where it is unsafe the remedy is worked out while it can
// still be put right, which is before the pour.
package run

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Judgement is the soap as it stands.
type Judgement struct {
	Superfat float64          // percent, of what is weighed plus what is still to come
	Planned  float64          // percent, as planned
	Off      *caution.Caution // nil when all is well
	AddFatG  float64          // grams of the blend that bring a lye-heavy soap back to its plan; else 0
}

// Points off the planned superfat at which a soap is noted and called out.
const (
	noted     = 1.0
	calledOut = 2.0
)

// Judge works out the soap from the actual weights by item key; an item that
// is not in the map is still to come and counts with its target.
func Judge(r plan.Request, sheet []plan.Section, actual map[string]float64) Judgement {
	f := r.Formula
	target := map[string]float64{}
	for _, s := range sheet {
		for _, i := range s.Items {
			target[i.Key] = i.Target
		}
	}
	now := plan.Amounts(r, func(key string) float64 {
		if g, ok := actual[key]; ok {
			return g
		}
		return target[key]
	})
	planned := plan.Amounts(r, func(key string) float64 { return target[key] })
	j := Judgement{Superfat: f.SuperfatOf(now), Planned: f.SuperfatOf(planned)}
	off := j.Superfat - j.Planned
	pct := func(v float64) string { return unit.Trim(v, 1) + " %" }
	switch {
	case f.Bar() && j.Superfat < recipe.LeastBarSuperfat || j.Planned > 0 && j.Superfat < j.Planned/2 || j.Superfat < 0:
		j.AddFatG = fatToRestore(f, now, j.Planned)
		j.Off = &caution.Caution{Code: "run.lye-heavy", Level: caution.Block,
			Reason: fmt.Sprintf("Lye-heavy: what is weighed and still to come makes a superfat of %s instead of %s.", pct(j.Superfat), pct(j.Planned)),
			Remedy: fmt.Sprintf("Before the lye meets the fats, add %s g of the same blend of fats, or take the extra lye back out.", unit.Grams(j.AddFatG))}
	case math.Abs(off) > calledOut:
		j.Off = &caution.Caution{Code: "run.superfat-off", Level: caution.Warn,
			Reason: fmt.Sprintf("The superfat comes to %s instead of %s.", pct(j.Superfat), pct(j.Planned)),
			Remedy: "Check the last weights against the sheet; correct what was mistyped."}
	case math.Abs(off) > noted:
		j.Off = &caution.Caution{Code: "run.superfat-noted", Level: caution.Advice,
			Reason: fmt.Sprintf("The superfat comes to %s instead of %s.", pct(j.Superfat), pct(j.Planned)),
			Remedy: "No harm yet; watch the weights to come."}
	}
	return j
}

// fatToRestore is how many grams of the formula's blend bring the amounts to
// the wanted superfat in percent.
//
// Source: with power P (as KOH) and demand D, 1 − P/(D + x·SAP) = wanted.
func fatToRestore(f recipe.Formula, a recipe.Amounts, wanted float64) float64 {
	left := 1 - f.SuperfatOf(a)/100 // P / D
	demand := 0.0
	for i, s := range f.Fats {
		demand += a.Fats[i] * s.Fat.SAP / 1000
	}
	for i, l := range f.Liquids {
		demand += a.Liquids[i] * l.Liquid.Fat / 100 * l.Liquid.FatSAP / 1000
	}
	x := demand * (left/(1-wanted/100) - 1) / (f.Fats.SAP() / 1000)
	return math.Max(0, x)
}

// Slip looks at a typed weight beside its target. It returns what the entry
// would be had it been read in ounces, when that explains it far better; the
// maker then says which it was.
func Slip(target, grams float64) (ounces float64, likely bool) {
	if target <= 0 || grams <= 0 {
		return 0, false
	}
	asOunces := grams * unit.GramsPerOunce
	near := func(v float64) bool { return math.Abs(v/target-1) < 0.1 }
	return asOunces, near(asOunces) && !near(grams)
}

// InTolerance says how a weight stands to its item: -1 under, 0 in, 1 over.
func InTolerance(i plan.Item, grams float64) int {
	switch {
	case grams < i.Target-i.Tolerance-1e-9:
		return -1
	case grams > i.Target+i.Tolerance+1e-9:
		return 1
	}
	return 0
}
