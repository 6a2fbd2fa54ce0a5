package lye

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// Stock is a ready solution of one alkali, made ahead and kept.
type Stock struct {
	Strength float64 // weight percent of pure alkali
	C        float64 // its temperature, °C
	KOH      bool    // of potassium hydroxide, else of sodium hydroxide
	Name     string  // of the container, where the shop has named it
}

// Word names the alkali.
func (k Stock) Word() string {
	if k.KOH {
		return "potassium hydroxide"
	}
	return "sodium hydroxide"
}

// Of is a solution of that strength with the given grams of pure alkali.
func (k Stock) Of(pure float64) Solution {
	water := k.Draw(pure).Water
	if k.KOH {
		return Solution{KOH: pure, Water: water}
	}
	return Solution{NaOH: pure, Water: water}
}

// Crystal is the temperature in °C at which crystals start to form.
func (k Stock) Crystal() float64 {
	if k.KOH {
		return CrystalKOH(k.Strength)
	}
	return CrystalC(k.Strength)
}

// Density of the stock in g/ml at a temperature in °C.
func (k Stock) Density(celsius float64) float64 { return k.Of(100).Density(celsius) }

// Limits of what a stock can be, in percent: weaker is hardly a stock, stronger
// does not stay dissolved.
var stockStrength = caution.Range{Min: caution.LyeStrength.Min, Max: caution.LyeStrength.Max, Unit: "%"}

// Check finds what cannot be worked with; path is where the stock stands. A
// stock below its crystal point is refused: what pours off is weaker than the
// label.
func (k Stock) Check(p *caution.Problems, path string) {
	before := len(*p)
	field := ".naoh_percent"
	if k.KOH {
		field = ".koh_percent"
	}
	stockStrength.Check(p, path+field, "the strength of the stock", k.Strength)
	caution.Temperature.Check(p, path+".temperature_c", "the temperature of the stock", k.C)
	if len(*p) > before {
		return
	}
	if why := k.TooCold(); why != "" {
		p.Add(path+".temperature_c", "%s", why)
	}
}

// Clear is the warmth in °C from which the stock is clear with room to spare.
func (k Stock) Clear() float64 { return math.Ceil(k.Crystal() + CrystalStep - 0.1) }

// TooCold says why nothing is poured off the stock as it stands; empty when it is clear.
func (k Stock) TooCold() string {
	c := k.Crystal()
	if k.C >= c {
		return ""
	}
	return fmt.Sprintf("the stock is at %s °C, %s °C below the %s °C at which crystals form in a %s %% solution: what pours off would be "+
		"weaker than the label; warm it to %s °C or more and stir it clear before use, or weigh dry lye",
		unit.Trim(k.C, 1), unit.Trim(c-k.C, 1), unit.Trim(c, 1), unit.Trim(k.Strength, 1), unit.Trim(k.Clear(), 0))
}

// Advise warns when the stock is close to its crystal point.
func (k Stock) Advise() []caution.Caution {
	c := k.Crystal()
	if k.C > c+CrystalStep {
		return nil
	}
	return []caution.Caution{{Code: "lye.crystals.near", Level: caution.Warn,
		Reason: fmt.Sprintf(
			"The stock is at %s °C; a %s %% solution forms crystals from about %s °C.",
			unit.Trim(k.C, 1),
			unit.Trim(k.Strength, 1),
			unit.Trim(c, 1),
		),
		Remedy: fmt.Sprintf("Warm it above %s °C, stir it clear and pour it through a strainer.", unit.Trim(c+CrystalStep, 0))}}
}

// Draw is what a batch takes from a stock.
type Draw struct {
	Solution float64 // g of stock to weigh
	Water    float64 // g of water that comes with it
}

// Draw says how much stock brings the given grams of pure alkali.
func (k Stock) Draw(pure float64) Draw {
	total := pure / (k.Strength / 100)
	return Draw{total, total - pure}
}

// WeakestFor is the lowest strength in percent of a stock whose draw of pure
// grams brings no more than the given grams of water.
func WeakestFor(pure, water float64) float64 { return 100 * pure / (pure + water) }

// PeakDraw is the highest temperature in °C when a draw from the stock is
// poured into the rest of the liquid. final is the whole solution afterwards:
// the alkali of the draw, any that is added dry, and all water. pure is how
// much of its alkali comes from the stock; liquidC is the temperature of the
// liquid that was put first.
//
// Source: the difference of the heats of solution at the two dilutions.
func (k Stock) PeakDraw(final Solution, pure, liquidC float64, frozen Frozen) float64 {
	if final.Mass() == 0 {
		return liquidC
	}
	before := k.Of(pure)
	rest := final.Mass() - before.Mass()
	own := before.Mass() * before.SpecificHeat()
	start := (own*k.C + rest*waterHeat*liquidC) / (own + rest*waterHeat)
	return final.warm(final.Heat()-before.Heat(), start, frozen)
}

// Batch is the making of a stock: what to weigh.
type Batch struct {
	Stock
	Purity float64 // percent, of the alkali as bought
	Grams  float64 // of stock to make
}

// Check finds what cannot be made; path is where the batch stands.
func (b Batch) Check(p *caution.Problems, path string) {
	stockStrength.Check(p, path+".strength", "the strength", b.Strength)
	caution.Purity.Check(p, path+".purity", "the purity", b.Purity)
	if !(b.Grams >= 50) || b.Grams > 100000 {
		p.Add(path+".grams", "make between 50 g and 100 kg of stock, not %s g", unit.Trim(b.Grams, 1))
	}
	if len(*p) == 0 && b.Strength >= b.Purity {
		p.Add(path+".strength", "bought at %s %% it cannot make a solution of %s %%", unit.Trim(b.Purity, 1), unit.Trim(b.Strength, 1))
	}
}

// Weigh is the alkali as bought and the water in g. What is not alkali in it
// counts as water.
func (b Batch) Weigh() (alkali, water float64) {
	alkali = b.Grams * b.Strength / b.Purity
	return alkali, b.Grams - alkali
}

// Jug is the vessel that it is made in, with water of a temperature.
func (b Batch) Jug(waterC float64) Jug {
	s := b.Of(b.Grams * b.Strength / 100)
	if alkali, _ := b.Weigh(); b.KOH {
		s.Bound = alkali - s.KOH
	}
	return Jug{Solution: s, LiquidC: waterC}
}

// Made is the strength in percent of pure alkali that weighed amounts come to.
func Made(alkali, water, purity float64) float64 {
	if alkali+water <= 0 {
		return 0
	}
	return alkali * purity / (alkali + water)
}

// Volume is what grams of the stock take up in ml at 20 °C.
func (k Stock) Volume(grams float64) float64 { return grams / k.Density(20) }

// ByDensity finds the strength in percent that a density in g/ml, read at a
// temperature in °C, speaks of: the hydrometer's check. ok is false for what no
// solution of the table can have.
func ByDensity(density, celsius float64, koh bool) (strength float64, ok bool) {
	at := func(s float64) float64 { return Stock{Strength: s, KOH: koh}.Density(celsius) }
	low, high := 1.0, 54.0
	if density < at(low) || density > at(high) {
		return 0, false
	}
	for range 60 { // density rises with strength
		if mid := (low + high) / 2; at(mid) < density {
			low = mid
		} else {
			high = mid
		}
	}
	return (low + high) / 2, true
}

// Verdicts on a stock that was checked.
const (
	// ReRate is how many points of strength a check by density may be off before
	// the stock is given another strength.
	ReRate = 0.5
	// Mismatch is how far the scale may be from the books, in percent, before it
	// is called out.
	Mismatch = 1.0
)

// Weaker is how many grams of water at a temperature bring grams of the stock
// down to another strength, and how hot it gets: the stock is poured into the
// water. It is not ok when water cannot do it, as it never makes a lye stronger.
func (k Stock) Weaker(grams, to, waterC float64) (water, peakC float64, ok bool) {
	if !(to > 0) || to >= k.Strength {
		return 0, 0, false
	}
	water = grams * (k.Strength/to - 1)
	pure := grams * k.Strength / 100
	after := k.Of(pure)
	after.Water += water
	return water, Jug{Solution: after, LiquidC: waterC, Stock: &k, Drawn: pure}.PeakC(), true
}

// Evaporated is the strength that a stock has come to when the books say grams
// and the scale says less, and only water has left.
func Evaporated(strength, books, scale float64) float64 {
	if scale <= 0 {
		return 0
	}
	return strength * books / scale
}

// Material is what a container is made of.
type Material string

// Materials returns what containers are made of, the best first.
func Materials() []Material {
	return []Material{"hdpe", "pp", "steel", "glass", "pet", "aluminium", "zinc", "other"}
}

// Words says the material.
func (m Material) Words() string {
	switch m {
	case "hdpe":
		return "HDPE, thick walled"
	case "pp":
		return "polypropylene"
	case "steel":
		return "stainless steel"
	case "glass":
		return "glass"
	case "pet":
		return "PET, as drinks come in"
	case "aluminium":
		return "aluminium"
	case "zinc":
		return "zinc, tin or galvanised"
	}
	return "something else"
}

// Advise says what a container of this material does with lye of up to peakC.
func (m Material) Advise(peakC float64) []caution.Caution {
	one := func(level caution.Level, reason, remedy string) []caution.Caution {
		return []caution.Caution{{Code: "lye.container", Level: level, Reason: reason, Remedy: remedy}}
	}
	switch m {
	case "aluminium", "zinc":
		return one(caution.Block, "Lye eats "+m.Words()+" and sets hydrogen free.", "Use HDPE, polypropylene or stainless steel.")
	case "glass":
		return one(
			caution.Warn,
			"Lye etches glass, and heat or a knock breaks it.",
			"Make it in steel or polypropylene, keep it in HDPE.",
		)
	case "pet":
		return one(
			caution.Warn,
			"PET softens when it is hot, and a drinks bottle is mistaken for a drink.",
			"Keep lye in HDPE that never held food, with its own label.",
		)
	case "other":
		return one(caution.Warn, "Not everything holds strong lye.", "HDPE, polypropylene and stainless steel do.")
	case "hdpe":
		if peakC > 90 {
			return one(
				caution.Advice,
				"HDPE softens near "+unit.Trim(peakC, 0)+" °C.",
				"Make the lye in steel or polypropylene, and fill it over when it is cool.",
			)
		}
	}
	return nil
}

// Fill checks that a container takes grams of stock, with room to move; ml is
// what it holds to the brim.
func (k Stock) Fill(grams, ml float64) []caution.Caution {
	const most = 0.95 // of a container; caps and warm days need some air
	need := k.Volume(grams)
	if ml <= 0 || need <= ml*most {
		return nil
	}
	return []caution.Caution{{Code: "lye.capacity", Level: caution.Block,
		Reason: fmt.Sprintf(
			"%s g of a %s %% solution take up %s ml; the container holds %s ml.",
			unit.Trim(grams, 0),
			unit.Trim(k.Strength, 1),
			unit.Trim(need, 0),
			unit.Trim(ml, 0),
		),
		Remedy: fmt.Sprintf("Make at most %s g, or share it between two containers.", unit.Trim(math.Floor(ml*most*k.Density(20)), 0))}}
}
