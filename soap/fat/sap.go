package fat

import (
	"fmt"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// Molar masses in g/mol, and the constants of a fat that is three acids on one
// glycerin: each bond that is made sets a water free.
const (
	molarKOH      = 56.1056
	molarGlycerin = 92.094
	molarWater    = 18.015
)

// FromAcids is the saponification value in mg KOH per g of a fat whose acids these
// are; 0 when they name less than most of it. Waxes are no such fats.
//
// Source: a mole of triglyceride takes three of KOH, 3 × 56105.6 / (3 M + glycerin −
// 3 water) for acids of the mean molar mass M, the mean taken by moles.
func (a Acids) FromAcids() float64 {
	mean, ok := a.meanMolar()
	if !ok {
		return 0
	}
	return 3 * 1000 * molarKOH / (3*mean + molarGlycerin - 3*molarWater)
}

// FromFreeAcids is the value of the acids themselves, which take a mole of KOH each; 0 when
// they name less than most of it.
func (a Acids) FromFreeAcids() float64 {
	mean, ok := a.meanMolar()
	if !ok {
		return 0
	}
	return 1000 * molarKOH / mean
}

// meanMolar is the mean molar mass of the acids by moles; ok is false when they name less than
// most of the fat.
func (a Acids) meanMolar() (mean float64, ok bool) {
	sum, moles := 0.0, 0.0
	for _, one := range []struct{ percent, molar float64 }{
		{a.CaprylicCapric, 158}, {a.Lauric, 200.3}, {a.Myristic, 228.4}, {a.Palmitic, 256.4}, {a.Palmitoleic, 254.4}, {a.Stearic, 284.5},
		{a.Ricinoleic, 298.5}, {a.Oleic, 282.5}, {a.Linoleic, 280.4}, {a.Linolenic, 278.4}, {a.LongChain, 325},
	} {
		sum, moles = sum+one.percent, moles+one.percent/one.molar
	}
	return sum / moles, sum >= mostNamed
}

// mostNamed is how much of a fat its acids must name, in percent, before its
// saponification value is told from them.
const mostNamed = 85.0

// How far a value may lie from what the acids say, and the range of most fats, for
// one of which nothing else is known.
const (
	acidsWithin = 0.03
	leastSAP    = 165.0
	mostSAP     = 270.0
	farAbove    = 1.05 // of the range, from which the soap is lye-heavy
	naohPerKOH  = 39.997 / molarKOH
)

// expected is the range that the fat's saponification value should lie in, and by
// what; sure is false when it is only that of most fats.
func (f Fat) expected() (low, high float64, by string, sure bool) {
	like, liked := BySlug(f.Like)
	own := f.Acids != (Acids{}) && f.Acids != like.Acids
	ref, known := BySlug(f.Slug)
	switch {
	case known:
		return ref.SAPLow, ref.SAPHigh, "the published range of " + ref.Name, true
	case own && f.Acids.FromAcids() > 0:
		v := f.Acids.FromAcids()
		return v * (1 - acidsWithin), v * (1 + acidsWithin), "what its fatty acids come to", true
	case liked:
		return like.SAPLow, like.SAPHigh, "the published range of " + like.Name + ", which it is said to be like", true
	}
	return leastSAP, mostSAP, "the range of most fats", false
}

// AdviseSAP says when the saponification value can hardly be the fat's: a little
// outside of what it should be warns, far above it blocks, because the soap is then
// lye-heavy whatever superfat is asked for. A value for sodium hydroxide is named as
// what it is.
func (f Fat) AdviseSAP() (c caution.Caution, doubtful bool) {
	low, high, by, sure := f.expected()
	if f.SAP >= low && f.SAP <= high {
		return c, false
	}
	num := func(v float64) string { return unit.Trim(v, 0) }
	c = caution.Caution{Code: "fats.sap-range", Level: caution.Warn,
		Reason: fmt.Sprintf(
			"The saponification value %s of %s lies outside of %s to %s, %s.",
			unit.Trim(f.SAP, 1),
			f.Name,
			num(low),
			num(high),
			by,
		),
		Remedy: "Check it against the supplier's certificate; it must be mg KOH per g of fat."}
	asKOH := f.SAP / naohPerKOH
	switch {
	case f.SAP < low && asKOH >= low && asKOH <= high:
		c.Code = "fats.sap-naoh"
		c.Reason += fmt.Sprintf(" It looks like a value for sodium hydroxide: as mg KOH it is %s.", unit.Trim(asKOH, 1))
		c.Remedy = "Type " + unit.Trim(asKOH, 1) + ", when the certificate says the same."
	case sure && f.SAP > high*farAbove:
		c.Level = caution.Block
		c.Reason += fmt.Sprintf(" With it the recipe takes about %s %% more lye than the fat can.", num(100*(f.SAP/((low+high)/2)-1)))
	}
	return c, true
}
