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
	Heavy    bool             // there is more lye than is safe
	Off      *caution.Caution // nil when all is well
	Missing  []plan.Row       // fats of the sheet that are short and bring a soap with too little fat back towards its plan
	Blend    []plan.Row       // what more of the blend it takes after that, fat by fat
	Lye      Solution         // what brings a soap with too little lye back to its plan
}

// AddFats are the fats that bring the soap back to its plan, those that are
// missing and the blend together; empty where there is fat enough.
func (j Judgement) AddFats() []plan.Row {
	out := slices.Clone(j.Missing)
	for _, more := range j.Blend {
		if i := slices.IndexFunc(out, func(r plan.Row) bool { return r.Name == more.Name }); i >= 0 {
			out[i].Grams += more.Grams
		} else {
			out = append(out, more)
		}
	}
	return out
}

// Solution is lye that is given to a pot afterwards, in g as bought. It goes in as
// a solution of its own, in twice its weight of water: dry lye never goes into
// batter, nor into lye that is mixed.
type Solution struct {
	NaOH, KOH float64
}

// waterPerLye is the water in g that a gram of lye gets when it is given to a pot
// afterwards: lye of 33 %, which is sure to dissolve and soon cools.
const waterPerLye = 2.0

// Water is the water in g that it is dissolved in.
func (s Solution) Water() float64 { return waterPerLye * (s.NaOH + s.KOH) }

// Words says what to weigh, such as "12 g of NaOH in 24 g of water"; empty when
// there is nothing to add.
func (s Solution) Words() string {
	var lye []string
	for _, one := range []plan.Row{{Name: "NaOH", Grams: s.NaOH}, {Name: "KOH", Grams: s.KOH}} {
		if one.Grams >= leastRow {
			lye = append(lye, unit.Grams(one.Grams)+" g of "+one.Name)
		}
	}
	if len(lye) == 0 {
		return ""
	}
	return strings.Join(lye, " and ") + " in " + unit.Grams(s.Water()) + " g of water"
}

// leastRow is the least weight in g that is worth naming.
const leastRow = 0.05

// Rows writes weights in a line, such as "80 g Olive oil, 20 g Coconut oil".
func Rows(rows []plan.Row) string {
	var out []string
	for _, r := range rows {
		if r.Grams >= leastRow {
			out = append(out, unit.Grams(r.Grams)+" g "+r.Name)
		}
	}
	return strings.Join(out, ", ")
}

// Points off the planned superfat at which a soap is noted and called out, and
// those that the rounding of a scale explains.
const (
	noted     = 1.0
	calledOut = 2.0
	rounding  = 0.5
)

// Part is something that was weighed from an ingredient lot whose figures are
// known: a fat with the saponification value of its certificate, an alkali with
// its purity. A figure that is not known is 0 and counts as in the recipe.
type Part struct {
	Item   plan.Key
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
	Grams    map[plan.Key]float64
	Closed   map[plan.Key]bool // items of which no more will come; others come at least to their target
	Parts    []Part
	Extras   []Extra
	Combined bool // the lye has met the fats
}

// coming is how much of an item there will be.
func (p Pot) coming(key plan.Key, target float64) float64 {
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
	mean := func(item plan.Key, usual, total float64, figure func(Part) float64) float64 {
		sum, known := 0.0, 0.0
		for _, one := range p.Parts {
			if v := figure(one); one.Item.Ingredient() == item && v > 0 {
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
		f.Fats[i].Fat.SAP = mean(plan.FatKey(s.Fat), s.Fat.SAP, a.Fats[i], sap)
	}
	f.Alkali.NaOHPurity = mean(plan.NaOHKey, f.Alkali.NaOHPurity, a.NaOH, purity)
	f.Alkali.KOHPurity = mean(plan.KOHKey, f.Alkali.KOHPurity, a.KOH, purity)
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
//
// Too much lye blocks ([recipe.Formula.LyeHeavy]); more than two points off the
// plan, or less than half of the superfat that was meant, is called out; one
// point is noted.
func Judge(r plan.Request, sheet []plan.Section, p Pot) Judgement {
	target := plan.Targets(sheet)
	f, now := p.real(r.Formula, plan.Amounts(r, func(key plan.Key) float64 { return p.coming(key, target[key]) }))
	planned := plan.Amounts(r, func(key plan.Key) float64 { return target[key] })
	j := Judgement{Superfat: f.SuperfatOf(now), Planned: r.Formula.SuperfatOf(planned)}
	off := j.Superfat - j.Planned
	j.Heavy = f.LyeHeavy(j.Superfat)
	half := j.Planned > 0 && j.Superfat < j.Planned/2 && off < -rounding
	if off < 0 {
		j.Missing, j.Blend = fatToRestore(f, now, planned, j.Planned)
	} else if off > 0 {
		j.Lye = lyeToRestore(f, now, j.Planned)
	}
	call := func(code string, level caution.Level, reason, remedy string) {
		pct := func(v float64) string { return unit.Trim(v, 1) + " %" }
		j.Off = &caution.Caution{
			Code:   "run." + code,
			Level:  level,
			Reason: fmt.Sprintf(reason, pct(j.Superfat), pct(j.Planned)),
			Remedy: remedy,
		}
	}
	const is = "The superfat comes to %s instead of %s."
	switch {
	case j.Heavy:
		call(
			"lye-heavy",
			caution.Block,
			"Lye-heavy: what is weighed and still to come makes a superfat of %s instead of %s.",
			j.fatRemedy(p.Combined),
		)
	case half || off < -calledOut:
		call(
			"superfat-off",
			caution.Warn,
			is,
			"Check the last weights against the sheet; correct what was mistyped. "+j.fatRemedy(p.Combined),
		)
	case off > calledOut:
		call(
			"superfat-off",
			caution.Warn,
			is,
			"Check the last weights against the sheet; correct what was mistyped. "+j.lyeRemedy(p.Combined),
		)
	case math.Abs(off) > noted:
		call("superfat-noted", caution.Advice, is, "No harm yet; watch the weights to come.")
	}
	return j
}

// fatRemedy says what fat brings a soap with too little of it back: what is
// missing by name before any blend.
func (j Judgement) fatRemedy(combined bool) string {
	var amounts []string
	if rows := Rows(j.Missing); rows != "" {
		amounts = append(amounts, "what is missing ("+rows+")")
	}
	if rows := Rows(j.Blend); rows != "" {
		sum := 0.0
		for _, r := range j.Blend {
			sum += r.Grams
		}
		amounts = append(amounts, fmt.Sprintf("%s g more of the blend (%s)", unit.Grams(sum), rows))
	}
	amount := strings.Join(amounts, " and ")
	switch {
	case amount == "":
		return "Nobody touches it bare-handed until somebody has tested it."
	case combined && j.Heavy:
		return "It is combined already: it is held, and what saves it is a rebatch with " + amount + ". Nobody touches it bare-handed."
	case combined:
		return "It is combined already. While it is fluid, stir in " + amount + ", warm; or leave it."
	}
	return "Before the lye meets the fats, weigh in " + amount + ", or rescale what is not yet weighed."
}

// lyeRemedy says what lye brings a soap with too little of it back.
func (j Judgement) lyeRemedy(combined bool) string {
	words := j.Lye.Words()
	switch {
	case words == "":
		return ""
	case combined:
		return "To put it right while it is fluid: dissolve " + words +
			", let it cool, and stir it in thinly; never dry. Left as it is, the bar is softer and keeps less long."
	}
	return "To put it right: dissolve " + words +
		" in a second jug, let it cool, and pour it into the fats with the rest; never dry into lye that is mixed."
}

// fatToRestore is the fat that brings the amounts to the wanted superfat in
// percent: first what is short of the planned amounts, as much of it as is
// needed, then the formula's blend.
//
// Source: with power P (as KOH) and demand D, 1 − P/(D + Σ x·SAP) = wanted.
func fatToRestore(f recipe.Formula, now, planned recipe.Amounts, wanted float64) (missing, blend []plan.Row) {
	left := 1 - f.SuperfatOf(now)/100 // P / D
	need := f.Demand(now) * (left/(1-wanted/100) - 1)
	short := 0.0 // demand of all that is missing
	for i := range planned.Fats {
		short += math.Max(0, planned.Fats[i]-now.Fats[i]) * f.Fats[i].Fat.SAP / 1000
	}
	if now.FatsTotal == 0 { // no fat at all: nothing to multiply
		need = short
	}
	if need <= 0 {
		return nil, nil
	}
	if share := math.Min(1, need/math.Max(short, 1e-12)); short > 0 {
		for i := range planned.Fats {
			if g := share * (planned.Fats[i] - now.Fats[i]); g > 0 {
				missing = append(missing, plan.Row{Name: f.Fats[i].Fat.Name, Grams: g})
			}
		}
	}
	if rest := need - short; rest > 1e-9 {
		for _, s := range f.Fats[:len(planned.Fats)] {
			if s.Percent > 0 {
				blend = append(blend, plan.Row{Name: s.Fat.Name, Grams: rest / (f.Fats.SAP() / 1000) * s.Percent / 100})
			}
		}
	}
	return missing, blend
}

// lyeToRestore is the lye that brings the amounts down to the wanted superfat in
// percent, shared between both alkalis as the formula shares them.
//
// Source: the superfat is 1 − P/D, so each point of it takes D/100 of power.
func lyeToRestore(f recipe.Formula, now recipe.Amounts, wanted float64) (s Solution) {
	s.NaOH, s.KOH = f.Alkali.Weigh(f.Demand(now) * (f.SuperfatOf(now) - wanted) / 100)
	return s
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
