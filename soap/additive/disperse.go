package additive

import (
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

// InWater is the place of a [Dispersal] in water.
const InWater = "water"

// Dispersal is how a powder is stirred smooth before it goes in: spoons of
// water, or of one of the batch's own oils, for each spoon of the powder.
// Neither is extra: the water is part of the recipe's liquid and the oil part
// of its fats, set apart beforehand. Only an oil of its own, as a drizzle is
// stirred into, comes on top of both and is weighed besides.
type Dispersal struct {
	In     string  `json:"in"` // InWater, the key of a fat of the blend, or of any fat where it is its own
	Spoons float64 `json:"spoons"`
	Own    bool    `json:"own,omitempty"`
}

// OwnOil is the oil of its own that the additive is stirred into, as a use of the same stage and
// rate: what it weighs follows the powder's weight. It is all fat, and counts in the superfat.
func (u Use) OwnOil(name string, density float64, made material.Composition, mark material.Mark) Use {
	oil := u
	oil.Name, oil.Density, oil.Lye, oil.Neutral, oil.Disperse, oil.Oil = name+ownOilFor+u.Name, density, 0, false, nil, true
	oil.Made, oil.Mark = made, mark
	oil.Rate *= u.Disperse.Spoons * unit.MLPerTeaspoon * density / max(u.GramsPerTsp, 1e-9)
	return oil
}

const ownOilFor = ", for "

// OilName is the fat that an oil of an additive's own is.
func (u Use) OilName() string {
	name, _, _ := strings.Cut(u.Name, ownOilFor)
	return name
}

// mostSpoons of carrier to one of powder; more is a mistake of writing.
const mostSpoons = 20

// Carrier is how many grams of a carrier of the given density (g/ml) the
// powder wants.
func (u Use) Carrier(grams, density float64) float64 {
	if u.Disperse == nil || u.GramsPerTsp <= 0 {
		return 0
	}
	return grams / u.GramsPerTsp * u.Disperse.Spoons * unit.MLPerTeaspoon * density
}

func (u Use) checkDispersal(p *caution.Problems, path string) {
	d := u.Disperse
	if d == nil {
		return
	}
	if !(d.Spoons > 0) || d.Spoons > mostSpoons {
		p.Add(path+".disperse.spoons", "stir it into more than 0 and at most %d spoons to one of %s", mostSpoons, u.Name)
	}
	if !(u.GramsPerTsp > 0) {
		p.Add(path+".rate.grams_per_tsp", "say how many grams a level teaspoon of %s weighs: it is stirred in by the spoon", u.Name)
	}
}

// CheckSpoon finds a weight of a level teaspoon that cannot be: the lightest
// fibres weigh a tenth of a gram, pure metal would be a hundred times that.
func CheckSpoon(p *caution.Problems, path string, grams float64) {
	if !(grams >= 0.05) || grams > 30 {
		p.Add(path, "a level teaspoon weighs between 0.05 and 30 g, not %s g", unit.Trim(grams, 2))
	}
}

// Usual spoons of carrier to one spoon of powder: white in as much water, mica
// in twice as much oil.
const (
	UsualWaterSpoons = 1.0
	UsualOilSpoons   = 2.0
)
