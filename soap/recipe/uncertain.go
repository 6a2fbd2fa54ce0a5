package recipe

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/unit"
)

// How far what a superfat rests on may be off, as shares, two standard deviations each.
const (
	offCertificate = 0.01 // a saponification value off a certificate
	offHearsay     = 0.03 // that of an own fat of which no certificate is said
	offNaOH        = 0.01 // the purity of sodium hydroxide as it is said
	offKOH         = 0.02 // that of potassium hydroxide, which is sold less even
)

// offSAP is one standard deviation of a fat's saponification value in mg KOH per g: a quarter
// of the published range for the value of the table, what a certificate leaves open for
// another one, and three times that for an own fat whose figure is from nowhere in particular.
func offSAP(one fat.Fat) float64 {
	if ref, ok := fat.BySlug(one.Slug); ok && ref.SAP == one.SAP {
		return (ref.SAPHigh - ref.SAPLow) / 4
	}
	if one.Slug == "" && !one.Certified {
		return one.SAP * offHearsay / 2
	}
	return one.SAP * offCertificate / 2
}

// SuperfatRange is between which superfats, in percent, the soap lies nineteen times in twenty,
// and the chance that it has more lye than its fats can take. weighing is how far the lye's
// weight may be off in g, one standard deviation.
//
// Source: with N the lye that the fats take and P the lye that is free for them, the superfat
// is 1 − P/N; what is off in either is off in it by (P/N) · √((σN/N)² + (σP/P)²).
func (f Formula) SuperfatRange(a Amounts, weighing float64) (low, high, heavy float64) {
	superfat := f.SuperfatOf(a)
	need := f.Demand(a)
	free := f.Alkali.Power(a.NaOH, a.KOH) - f.acids(a)
	if !(need > 0 && free > 0) {
		return superfat, superfat, 0
	}
	fats := 0.0
	for i, s := range f.Fats {
		off := a.Fats[i] * offSAP(s.Fat) / 1000
		fats += off * off
	}
	lye := 0.0
	for _, part := range []struct{ grams, off float64 }{{a.NaOH, offNaOH / 2}, {a.KOH, offKOH / 2}} {
		if part.grams > 0 {
			share := part.grams / (a.NaOH + a.KOH)
			off := share * math.Hypot(part.off, weighing/part.grams)
			lye += off * off
		}
	}
	sd := 100 * free / need * math.Sqrt(fats/(need*need)+lye)
	return superfat - 2*sd, superfat + 2*sd, math.Erfc(superfat/sd/math.Sqrt2) / 2
}

// Chances of too much lye from which a bar is warned of and stopped.
const (
	warnHeavy = 0.05
	stopHeavy = 0.2
)

// adviseRange warns of a bar that may well be lye-heavy, by what its fats and its lye are not
// known to. Soap of potash is meant to have none left over and is neutralised.
func (f Formula) adviseRange(superfat float64, a Amounts) []caution.Caution {
	low, high, heavy := f.SuperfatRange(a, 0)
	if !f.Bar() || f.LyeHeavy(superfat) || heavy < warnHeavy {
		return nil
	}
	c := caution.Caution{
		Code: "superfat.range", Level: caution.Warn,
		Reason: fmt.Sprintf("Fats differ, and so does lye: the superfat lies between %s and %s %%, and %s times in a hundred it is "+
			"below nothing.", unit.Trim(low, 1), unit.Trim(high, 1), unit.Trim(100*heavy, 0)),
		Remedy: "Ask for a little more, or take the saponification values of the suppliers' certificates.",
	}
	if heavy >= stopHeavy {
		c.Level = caution.Block
	}
	return []caution.Caution{c}
}
