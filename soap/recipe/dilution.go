package recipe

import (
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
)

// Dilution is how a paste of potash is thinned to liquid soap.
type Dilution struct {
	Soap     float64 // dry soap in percent of the liquid soap
	Glycerin float64 // added glycerin in percent of it
}

// Words says the dilution in a line; empty for none.
func (d *Dilution) Words() string {
	if d == nil {
		return ""
	}
	words := unit.Trim(d.Soap, 1) + " % dry soap"
	if d.Glycerin > 0 {
		words += ", " + unit.Trim(d.Glycerin, 1) + " % glycerin"
	}
	return words
}

// UsualDilution is one that flows and still foams.
func UsualDilution() Dilution { return Dilution{Soap: 28} }

// What liquid soap can hold: more dry soap than this stays a jelly, and less is water that spoils.
var (
	dilutionSoap     = caution.Range{Min: 5, Max: 50, Unit: "%"}
	dilutionGlycerin = caution.Range{Min: 0, Max: 40, Unit: "%"}
)

// Thinned is what liquid soap is made up of, in g.
type Thinned struct {
	Paste    float64 // what the whole paste weighs, when no water is lost
	Soap     float64 // dry soap in it
	Glycerin float64 // to add
	Citric   float64 // citric acid that neutralises lye left over on purpose, at the most
	AcidIn   float64 // water that the acid is dissolved in
	Water    float64 // to add, hot, besides
	Total    float64 // what all of it is made up to
}

// AcidDilution is how many grams of water a gram of citric acid is dissolved in before it goes
// into soap: a stronger one curdles it where it falls.
const AcidDilution = 4.0

// MolarGlycerol is the molar mass in g/mol of the glycerol that a fat sets free.
const MolarGlycerol = 92.094

// DrySoap is the soap proper in the amounts, in g: of the fat that has become soap, with the
// alkali it took up, less what it set free.
//
// Source: a fat and three moles of alkali give three of soap and one of glycerol; a free fatty
// acid and a mole of alkali one of soap and one of water.
func (f Formula) DrySoap(a Amounts) float64 {
	demand := f.Demand(a)
	if demand == 0 {
		return 0
	}
	done := math.Min(1, 1-f.SuperfatOf(a)/100) // share of the fats that becomes soap
	potassium := 1 - f.Alkali.NaOHPercent/100
	perMole := potassium*molarKOH + (1-potassium)*lye.MolarNaOH
	soap := 0.0
	add := func(grams, sap float64, free bool) {
		moles := grams * sap / 1000 / molarKOH
		sets := moles / 3 * MolarGlycerol
		if free {
			sets = moles * lye.MolarWater
		}
		soap += grams + moles*perMole - sets
	}
	for _, p := range f.parts(a) {
		add(p.grams*p.Fat/100, p.FatSAP, p.FreeAcid)
	}
	return soap * done
}

// Thin works out how the paste of these amounts is thinned. What it lost in its cook is part of the
// water that makes it up to the total. ok is false where the paste holds less dry soap than is
// asked for.
func (f Formula) Thin(a Amounts, d Dilution) (t Thinned, ok bool) {
	t.Paste = a.Batter()
	for _, g := range a.Additives {
		t.Paste += g
	}
	t.Soap = f.DrySoap(a)
	t.Total = t.Soap / (d.Soap / 100)
	t.Glycerin = t.Total * d.Glycerin / 100
	if f.Superfat < 0 {
		_, t.Citric = f.Excess(a)
		t.AcidIn = t.Citric * AcidDilution
	}
	t.Water = t.Total - t.Paste - t.Glycerin - t.Citric - t.AcidIn
	return t, t.Water >= 0
}

// checkDilution finds what cannot be worked with.
func (f Formula) checkDilution(p *caution.Problems) {
	d := f.Dilution
	if d == nil {
		return
	}
	dilutionSoap.Check(p, "dilution.soap_percent", "the dry soap", d.Soap)
	dilutionGlycerin.Check(p, "dilution.glycerin_percent", "the glycerin", d.Glycerin)
	if !f.Potash() {
		p.Add("dilution", "only a paste of potash alone is thinned to liquid soap")
	}
	if len(*p) > 0 {
		return
	}
	if t, ok := f.Thin(f.AmountsFor(1000), *d); !ok {
		room := t.Total - t.Water
		p.Add("dilution.soap_percent", "the paste itself, with what goes into it, is thinner than that: %.0f %% is the most it can be",
			math.Floor(100*t.Soap/room))
	}
}
