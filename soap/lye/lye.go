// Package lye is the chemistry of the alkali: how much sodium or potassium
// hydroxide a blend of fats needs, how heavy its solution is, when crystals
// fall out of it and how hot it gets.
//
// The need follows from the saponification value. One gram of fat with a value
// of 190 takes up 190 mg of potassium hydroxide, or 190 × 39.997/56.1056 =
// 135.4 mg of sodium hydroxide, gram molecule for gram molecule. The superfat
// is a discount on that: with 5 % superfat, 5 % of the lye is left out and a
// little fat stays unsaponified. Bought lye is never quite pure, so more of it
// is weighed than is needed pure.
//
// Densities, crystal points, specific heats and heats of solution are read by
// straight lines from the embedded tables, whose heads state their sources.
// What is not alkali in bought lye counts as water.
package lye

import (
	_ "embed"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/table"
)

// Molar masses in g/mol.
const (
	MolarNaOH  = 39.997
	MolarKOH   = 56.1056
	MolarWater = 18.015
)

// NaOHPerKOH is the weight of sodium hydroxide that does the work of one gram
// of potassium hydroxide.
const NaOHPerKOH = MolarNaOH / MolarKOH

// Physical constants of water and ice, J/g/K and J/g.
const (
	waterHeat   = 4.18
	iceHeat     = 2.1
	iceLatent   = 334
	FreezerC    = -18.0 // what frozen liquids are taken to start from, °C
	RoomC       = 20.0  // what liquids are taken to start from when not said
	CrystalStep = 5.0   // °C above the crystal point within which to warn
)

// Alkali says which hydroxides do the work and how pure they are, in percent.
// NaOHPercent is the share of the saponification done by sodium hydroxide; the
// rest is done by potassium hydroxide.
type Alkali struct {
	NaOHPercent float64
	NaOHPurity  float64
	KOHPurity   float64
}

// DefaultAlkali is pure sodium hydroxide; potassium hydroxide, where it is
// used, is 90 % as usually sold.
func DefaultAlkali() Alkali { return Alkali{100, 100, 90} }

// Check finds what cannot be worked with; path is where the alkali stands.
func (a Alkali) Check(p *caution.Problems, path string) {
	caution.Share.Check(p, path+".naoh_percent", "the share of NaOH", a.NaOHPercent)
	caution.Purity.Check(p, path+".naoh_purity_percent", "the purity of NaOH", a.NaOHPurity)
	caution.Purity.Check(p, path+".koh_purity_percent", "the purity of KOH", a.KOHPurity)
}

// Weigh turns a need, as grams of pure potassium hydroxide, into the weights
// of each alkali as bought.
func (a Alkali) Weigh(koh float64) (naohG, kohG float64) {
	share := a.NaOHPercent / 100
	return koh * share * NaOHPerKOH / (a.NaOHPurity / 100), koh * (1 - share) / (a.KOHPurity / 100)
}

// Power is the reverse of [Alkali.Weigh]: what weighed alkali is worth, in
// grams of pure potassium hydroxide.
func (a Alkali) Power(naohG, kohG float64) (koh float64) {
	return naohG*a.NaOHPurity/100/NaOHPerKOH + kohG*a.KOHPurity/100
}

// ByWeight is the share of sodium hydroxide in percent of both as they are weighed.
func (a Alkali) ByWeight() float64 {
	naoh, koh := a.Weigh(1)
	return 100 * naoh / (naoh + koh)
}

// SharedByWeight is the alkali of which sodium hydroxide is a share in percent of both as they are
// weighed.
func (a Alkali) SharedByWeight(percent float64) Alkali {
	naoh, koh := a.Power(percent, 0), a.Power(0, 100-percent)
	a.NaOHPercent = 100 * naoh / (naoh + koh)
	return a
}

//go:embed naoh_solution.csv
var naohSolutionCSV string

//go:embed koh_solution.csv
var kohSolutionCSV string

//go:embed koh_crystal.csv
var kohCrystalCSV string

//go:embed naoh_heat.csv
var naohHeatCSV string

//go:embed koh_heat.csv
var kohHeatCSV string

var (
	naohRows    = table.Read(naohSolutionCSV)
	kohRows     = table.Read(kohSolutionCSV)
	naohDensity = table.Curve(naohRows, "weight_pct", "density_g_ml")
	naohFall    = table.Curve(naohRows, "weight_pct", "density_fall_per_c")
	naohCrystal = table.Curve(naohRows, "weight_pct", "crystal_c")
	naohCp      = table.Curve(naohRows, "weight_pct", "specific_heat")
	kohDensity  = table.Curve(kohRows, "weight_pct", "density_g_ml").CarriedTo(55) // the table ends at 50 %
	kohCp       = table.Curve(kohRows, "weight_pct", "specific_heat")
	kohCrystal  = table.Curve(table.Read(kohCrystalCSV), "weight_pct", "crystal_c")
	naohHeat    = table.Curve(table.Read(naohHeatCSV), "n_water", "kj_per_mol")
	kohHeat     = table.Curve(table.Read(kohHeatCSV), "n_water", "kj_per_mol")
)

// CrystalC is the temperature in °C at which a sodium hydroxide solution of
// the given strength (weight percent) starts to form crystals.
func CrystalC(strength float64) float64 { return naohCrystal.At(strength) }

// CrystalKOH is the same of potassium hydroxide, which stays clear far longer.
func CrystalKOH(strength float64) float64 { return kohCrystal.At(strength) }

// Solution is alkali in liquid, by weights of pure alkali and of everything
// else, which counts as water.
type Solution struct {
	NaOH, KOH, Water float64 // grams
	Bound            float64 // grams of the water that came bound in bought potassium hydroxide
	Taken            float64 // grams of sodium hydroxide that acids in the liquid take up
}

// Mass of the solution in g.
func (s Solution) Mass() float64 { return s.NaOH + s.KOH + s.Water }

// Strength is the weight percent of both alkalis together.
func (s Solution) Strength() float64 {
	if s.Mass() == 0 {
		return 0
	}
	return (s.NaOH + s.KOH) / s.Mass() * 100
}

// mix weights a figure of each alkali's table by how much of it there is.
func (s Solution) mix(naoh, koh float64) float64 {
	if total := s.NaOH + s.KOH; total > 0 {
		return (naoh*s.NaOH + koh*s.KOH) / total
	}
	return naoh
}

// Density of the solution in g/ml at a temperature in °C: the 20 °C table,
// less its fall per degree. A mix of both alkalis is weighted between their
// tables at the total strength; potassium hydroxide borrows the fall per degree of
// sodium hydroxide, which is within 0.0001 g/ml.
func (s Solution) Density(celsius float64) float64 {
	w := s.Strength()
	return s.mix(naohDensity.At(w), kohDensity.At(w)) - naohFall.At(w)*(celsius-20)
}

// SpecificHeat of the solution in J/g/K.
func (s Solution) SpecificHeat() float64 {
	w := s.Strength()
	return s.mix(naohCp.At(w), kohCp.At(w))
}

// hydration is the heat in J that a mole of water gives off when potassium hydroxide
// binds it, at most one to a molecule. Bought flakes hold it already, so it is
// missing when they dissolve.
const hydration = 38000

// neutralising is the heat in J that a mole of lye gives off as an acid takes it up. Strong acids give
// 56 kJ; those of vinegar, fruit and milk a little less.
const neutralising = 55000

// Heat released in joules when the dry alkalis of s dissolve in its water, and acids in it take up
// their part.
func (s Solution) Heat() float64 {
	moles := s.NaOH/MolarNaOH + s.KOH/MolarKOH
	if moles == 0 {
		return 0
	}
	n := s.Water / MolarWater / moles
	bound := math.Min(s.Bound/MolarWater, s.KOH/MolarKOH)
	dissolving := -1000 * (naohHeat.At(n)*s.NaOH/MolarNaOH + kohHeat.At(n)*s.KOH/MolarKOH)
	return dissolving - hydration*bound + neutralising*s.Taken/MolarNaOH
}

// Frozen is a part of the liquid that goes in frozen, from the freezer.
type Frozen struct {
	Grams, Water float64 // all of it, and its water
}

// PeakDry is the highest temperature in °C when dry alkali dissolves in liquid
// that starts at startC, with nothing lost to the jug or the air: an upper
// limit, open jugs stay 15 to 30 degrees below it. Frozen liquid starts at
// [FreezerC] and must melt first. Where the heat is too little to melt all of
// it the answer is 0, melting ice.
//
// Source: heat of solution at the final dilution divided by mass times the
// specific heat at the final strength (see the heads of the tables).
func PeakDry(s Solution, startC float64, frozen Frozen) float64 {
	return s.warm(s.Heat(), startC, frozen)
}

func (s Solution) warm(heat, startC float64, frozen Frozen) float64 {
	if s.Mass() == 0 {
		return startC
	}
	cp := s.SpecificHeat()
	heat -= frozen.Water*iceLatent - frozen.Grams*iceHeat*FreezerC + frozen.Grams*waterHeat*startC
	peak := startC + heat/(s.Mass()*cp)
	if frozen.Water > 0 {
		return math.Max(peak, 0)
	}
	return peak
}

// Handling is the caution shown wherever lye is handled.
func Handling() caution.Caution {
	return caution.Caution{Code: "lye.handling", Level: caution.Advice,
		Reason: "Lye burns skin and eyes. Goggles, gloves, long sleeves, closed shoes; fresh air; no aluminium; no children or animals near.",
		Remedy: "Always lye into liquid, never liquid into lye. On skin or in eyes: rinse with running water for at least 15 " +
			"minutes and get medical help."}
}
