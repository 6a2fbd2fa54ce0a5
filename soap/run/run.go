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
	"slices"
	"strings"

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
	AddFats  []plan.Row       // the same, fat by fat
}

// Points off the planned superfat at which a soap is noted and called out.
const (
	noted     = 1.0
	calledOut = 2.0
)

// Part is something that was weighed from an ingredient lot whose figures are
// known: a fat with the saponification value of its certificate, an alkali with
// its purity. A figure that is not known is 0 and counts as in the recipe.
type Part struct {
	Item   string
	Grams  float64
	SAP    float64 // mg KOH per g
	Purity float64 // percent
}

// Extra is something that went in unplanned. What is no fat has a SAP of 0.
type Extra struct {
	Grams, SAP float64
}

// Pot is what is in the pot so far.
type Pot struct {
	Grams    map[string]float64 // by item
	Closed   map[string]bool    // items of which no more will come; others come at least to their target
	Parts    []Part
	Extras   []Extra
	Combined bool // the lye has met the fats
}

// coming is how much of an item there will be.
func (p Pot) coming(key string, target float64) float64 {
	g := p.Grams[key]
	if p.Closed[key] {
		return g
	}
	return math.Max(g, target)
}

// real is the formula with the figures of the lots that were really picked: each
// fat's SAP and each alkali's purity is the mean over its grams, those that are
// still to come counted as in the recipe. Unplanned fats join at the end.
func (p Pot) real(f recipe.Formula, a recipe.Amounts) (recipe.Formula, recipe.Amounts) {
	mean := func(item string, usual, total float64, figure func(Part) float64) float64 {
		sum, known := 0.0, 0.0
		for _, one := range p.Parts {
			key, _, _ := strings.Cut(one.Item, ";for:")
			if v := figure(one); key == item && v > 0 {
				sum, known = sum+one.Grams*v, known+one.Grams
			}
		}
		if known <= 0 || total <= 0 {
			return usual
		}
		return (sum + math.Max(0, total-known)*usual) / math.Max(total, known)
	}
	sap := func(o Part) float64 { return o.SAP }
	purity := func(o Part) float64 { return o.Purity }
	f.Fats, a.Fats = slices.Clone(f.Fats), slices.Clone(a.Fats)
	for i, s := range f.Fats {
		f.Fats[i].Fat.SAP = mean("fat:"+s.Fat.Key(), s.Fat.SAP, a.Fats[i], sap)
	}
	f.Alkali.NaOHPurity = mean("alkali:naoh", f.Alkali.NaOHPurity, a.NaOH, purity)
	f.Alkali.KOHPurity = mean("alkali:koh", f.Alkali.KOHPurity, a.KOH, purity)
	for _, x := range p.Extras {
		if x.SAP > 0 {
			extra := f.Fats[0]
			extra.Percent, extra.Fat.SAP = 0, x.SAP
			f.Fats, a.Fats = append(f.Fats, extra), append(a.Fats, x.Grams)
			a.FatsTotal += x.Grams
		}
	}
	return f, a
}

// Judge works out the soap that comes of what is weighed and what is still to
// come, from the ingredient lots that were picked, against what was planned.
func Judge(r plan.Request, sheet []plan.Section, p Pot) Judgement {
	target := map[string]float64{}
	for _, s := range sheet {
		for _, i := range s.Items {
			target[i.Key] = i.Target
		}
	}
	f, now := p.real(r.Formula, plan.Amounts(r, func(key string) float64 { return p.coming(key, target[key]) }))
	planned := plan.Amounts(r, func(key string) float64 { return target[key] })
	j := Judgement{Superfat: f.SuperfatOf(now), Planned: r.Formula.SuperfatOf(planned)}
	off := j.Superfat - j.Planned
	pct := func(v float64) string { return unit.Trim(v, 1) + " %" }
	switch {
	case f.Bar() && j.Superfat < recipe.LeastBarSuperfat || j.Planned > 0 && j.Superfat < j.Planned/2 || j.Superfat < 0:
		j.AddFatG = fatToRestore(f, now, j.Planned)
		for _, s := range r.Formula.Fats {
			j.AddFats = append(j.AddFats, plan.Row{Name: s.Fat.Name, Grams: j.AddFatG * s.Percent / 100})
		}
		j.Off = &caution.Caution{Code: "run.lye-heavy", Level: caution.Block,
			Reason: fmt.Sprintf("Lye-heavy: what is weighed and still to come makes a superfat of %s instead of %s.", pct(j.Superfat), pct(j.Planned)),
			Remedy: j.remedy(p.Combined)}
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

func (j Judgement) remedy(combined bool) string {
	fats := make([]string, 0, len(j.AddFats))
	for _, a := range j.AddFats {
		if a.Grams >= 0.05 {
			fats = append(fats, unit.Grams(a.Grams)+" g "+a.Name)
		}
	}
	amount := fmt.Sprintf("%s g more of the blend (%s)", unit.Grams(j.AddFatG), strings.Join(fats, ", "))
	if combined {
		return "It is combined already: it is held, and what saves it is a rebatch with " + amount + ". Nobody touches it bare-handed."
	}
	return "Before the lye meets the fats, weigh in " + amount + ", or rescale what is not yet weighed."
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

// OverPour is an item of which more went in than its tolerance allows, with the
// two ways on.
type OverPour struct {
	Item   plan.Item
	By     float64 // g over
	Factor float64 // by which everything grows when it is rescaled to this item
}

// Over finds how far an item is over its target, nil when it is not.
func Over(i plan.Item, grams float64) *OverPour {
	if InTolerance(i, grams) <= 0 || i.Target <= 0 {
		return nil
	}
	return &OverPour{i, grams - i.Target, grams / i.Target}
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
