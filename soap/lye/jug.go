package lye

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// Jug is the vessel in which lye is made, with all that goes into it: liquid first,
// fluid and frozen, then dry alkali, a draw from a stock, or both. Whoever asks how
// hot lye becomes asks a jug: the plan, the heat bench and make day.
type Jug struct {
	Solution Solution // as it will stand, with all liquid
	LiquidC  float64  // of the fluid liquid that takes the lye, °C
	Frozen   Frozen   // part of the liquid
	Stock    *Stock   // that a draw comes from; nil where all alkali is dry
	Drawn    float64  // g of pure alkali that come with the draw
}

// MostLiquidC is the warmth in °C above which no lye goes into a liquid: it boils up
// where it falls in, whatever the whole comes to.
const MostLiquidC = 40.0

// MostApart is how far lye and fats may be from each other when they meet, in °C.
const MostApart = 10.0

// openJug is how far an open jug that is stirred stays below its upper limit at the
// least, in °C.
const openJug = 15.0

// sprinkled is what a jug takes up from a room of 20 °C, in °C, while lye is
// sprinkled for half an hour onto liquid that is all frozen. As long as half of the
// liquid is fluid the lye goes in as fast as ever and nothing is taken up.
const sprinkled = 8.0

// LimitC is the highest temperature in °C that the lye can come to: the heat of
// solution with nothing lost, and what the room gives a jug that stands cold for
// long. What is measured lies below it.
func (j Jug) LimitC() float64 {
	peak := PeakDry(j.Solution, j.LiquidC, j.Frozen)
	if j.Stock != nil {
		peak = j.Stock.PeakDraw(j.Solution, j.Drawn, j.LiquidC, j.Frozen)
	}
	return peak + sprinkled*math.Max(0, 2*j.frozenShare()-1)
}

// frozenShare is how much of the liquid is frozen, 0 to 1.
func (j Jug) frozenShare() float64 {
	liquid := j.Solution.Water - j.Solution.Bound
	if j.Stock != nil {
		liquid -= j.Stock.Draw(j.Drawn).Water
	}
	if liquid <= 0 {
		return 0
	}
	return math.Min(1, j.Frozen.Grams/liquid)
}

// PeakC is the limit as it is shown: lye gets no hotter than it boils.
func (j Jug) PeakC() float64 { return math.Min(j.LimitC(), j.Solution.BoilsC()) }

// Advise says what the heat of the lye calls for. It blocks where lye is sure to
// boil up.
func (j Jug) Advise() []caution.Caution {
	var out []caution.Caution
	add := func(code string, level caution.Level, reason, remedy string) {
		out = append(out, caution.Caution{Code: code, Level: level, Reason: reason, Remedy: remedy})
	}
	deg := func(c float64) string { return unit.Trim(c, 0) + " °C" }
	limit, boils := j.LimitC(), j.Solution.BoilsC()
	const colder = "Start with colder liquid, use part of it as ice, or add the lye in portions with time to cool between."
	if j.LiquidC > MostLiquidC && j.frozenShare() < 1 {
		add(
			"lye.liquid-hot",
			caution.Block,
			fmt.Sprintf("The liquid is at %s; lye boils up in it above %s.", deg(j.LiquidC), deg(MostLiquidC)),
			"Cool it first, in cold water or the fridge.",
		)
	}
	switch {
	case limit-openJug >= boils:
		add("lye.boils", caution.Block, "This lye boils: it is mixed too warm, and boils at "+deg(boils)+".", colder)
	case limit >= boils:
		add("lye.may-boil", caution.Warn, "This lye may boil up and spit; it boils at "+deg(boils)+".", colder)
	case limit >= 95:
		add(
			"lye.spits",
			caution.Advice,
			"At up to "+deg(limit)+" it steams and may spit where the lye falls in.",
			"Add it slowly, in portions, stirring, with your face away from the steam. Let it cool to the working range before it meets the fats.",
		)
	case limit >= 60:
		add(
			"lye.warm",
			caution.Advice,
			"The lye heats to "+deg(limit)+" at the most.",
			"Let it cool to the working range before it meets the fats.",
		)
	}
	return append(out, j.Solution.AdviseCold(limit)...)
}

// AdviseCold warns when the solution is colder than its crystal point.
func (s Solution) AdviseCold(celsius float64) []caution.Caution {
	w := s.Strength()
	point := s.mix(naohCrystal.At(w), kohCrystal.At(w))
	if s.NaOH+s.KOH <= 0 || celsius >= point {
		return nil
	}
	return []caution.Caution{{Code: "lye.crystals.cold", Level: caution.Warn,
		Reason: fmt.Sprintf(
			"At %s °C crystals form in this lye: it is %s %% strong and clear only above about %s °C. What is poured off them is "+
				"too weak, and they are not in the soap.",
			unit.Trim(celsius, 0),
			unit.Trim(w, 1),
			unit.Trim(point, 0),
		),
		Remedy: "Keep it warmer, stir it clear before it is poured, and look at the bottom of the jug; or use a weaker lye."}}
}

// FrozenFor is how many grams of the liquid must go in frozen, with a share of water
// of 0 to 1, so that the lye stays at or below a limit in °C. liquid is all that
// carries the lye. ok is false when even all of it frozen is not enough.
func (j Jug) FrozenFor(limitC, liquid, waterShare float64) (grams float64, ok bool) {
	limit := func(g float64) float64 {
		j.Frozen = Frozen{g, g * waterShare}
		return j.LimitC()
	}
	if limit(0) <= limitC {
		return 0, true
	}
	if limit(liquid) > limitC {
		return liquid, false
	}
	low, high := 0.0, liquid
	for range 60 {
		if mid := (low + high) / 2; limit(mid) > limitC {
			low = mid
		} else {
			high = mid
		}
	}
	return high, true
}
