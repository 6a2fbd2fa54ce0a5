// Package recipe is a soap formula: a blend of fats in percent, an alkali, a
// superfat, a liquid and additives, and what they come to for a given weight
// of fats.
//
// A formula has no size. Give it a weight of fats and it answers with grams of
// everything; everything grows in proportion, apart from what is fixed per
// batch. The liquid can be said in three ways that makers are loyal to: lye
// strength, liquid-to-lye ratio, or percent of fats; each follows from the
// others.
package recipe

import (
	"math"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
)

// Basis is the way in which the amount of liquid is said.
type Basis string

// The three ways. Lye means the alkali as weighed.
const (
	LyeStrength   Basis = "lye-strength"    // g lye in 100 g of lye and liquid
	LiquidToLye   Basis = "liquid-to-lye"   // g liquid per g lye
	PercentOfFats Basis = "percent-of-fats" // g liquid per 100 g fats
)

// Bases returns the three ways.
func Bases() []Basis { return []Basis{LyeStrength, LiquidToLye, PercentOfFats} }

var basisWords = map[Basis]string{LyeStrength: "lye strength", LiquidToLye: "liquid to lye", PercentOfFats: "% of fats"}

// Words says the basis as a maker would.
func (b Basis) Words() string { return basisWords[b] }

// Water is the amount of liquid, said in one of the ways.
type Water struct {
	Basis Basis
	Value float64
}

// Liquid is one of the liquids of a formula. The percentages are of the whole
// liquid by weight.
type Liquid struct {
	Liquid  liquid.Liquid
	Percent float64
	Carries bool // the lye is dissolved in it
	Frozen  bool
}

// Formula is a recipe without a size.
type Formula struct {
	Name      string
	Fats      fat.Blend
	Alkali    lye.Alkali
	Superfat  float64 // percent of the lye left out
	Water     Water
	Liquids   []Liquid
	Additives []additive.Use
	School    School // of temperature; warm when not said

	Scent      *additive.Perfume
	Portions   []Portion // of the batter, each coloured on its own
	Design     []Step
	Infusions  []liquid.Infusion
	Process    Process
	Dilution   *Dilution // of a paste of potash, where it is thinned
	FullLiquid float64   // the recipe's own full liquid, % of fats; 0 for the usual
	Molds      float64   // that a pot fills, where a rate counts on them; a plan says it, 0 for one
}

// UsualFull is the full liquid in percent of the fats where a recipe does not
// say its own; makers call 33 to 38 % full.
const UsualFull = 36.0

// Full is the recipe's own full liquid in percent of the fats.
func (f Formula) Full() float64 {
	if f.FullLiquid > 0 {
		return f.FullLiquid
	}
	return UsualFull
}

// Discount is how far liquid, in percent of the fats, lies below the recipe's
// own full liquid, in percent of that; below zero when there is more.
func (f Formula) Discount(percentOfFats float64) float64 { return 100 * (1 - percentOfFats/f.Full()) }

// Discounted is the liquid in percent of the fats at a discount.
func (f Formula) Discounted(discount float64) float64 { return f.Full() * (1 - discount/100) }

// Check finds everything that cannot be worked with. Paths are those of the
// open recipe format, such as "fats[1].percent".
func (f Formula) Check() caution.Problems {
	var p caution.Problems
	names := map[string]string{}
	unique := func(path, name string) {
		key := strings.ToLower(strings.TrimSpace(name))
		if key == "" {
			p.Add(path, "give it a name")
			return
		}
		p.Name(path, name)
		if first, taken := names[key]; taken {
			p.Add(path, "“%s” is in the recipe already (%s)", name, first)
			return
		}
		names[key] = path
	}

	if len(f.Fats) == 0 {
		p.Add("fats", "a soap needs at least one fat")
	}
	shares := make([]float64, len(f.Fats))
	for i, s := range f.Fats {
		at := path("fats", i)
		unique(at, s.Fat.Key())
		caution.Share.Check(&p, at+".percent", "the share", s.Percent)
		caution.SAPValue.Check(&p, at+".sap_koh_mg_per_g", "the saponification value", s.Fat.SAP)
		caution.FatDensity.Check(&p, at+".density_g_per_ml", "the density", s.Fat.Density)
		s.Fat.Acids.Check(&p, at+".acids")
		shares[i] = s.Percent
	}
	if len(f.Fats) > 0 {
		caution.Sum(&p, "fats", "fats", shares)
	}
	f.Alkali.Check(&p, "alkali")
	least := caution.Superfat
	if f.Potash() {
		least = caution.PotashSuperfat
	}
	least.Check(&p, "superfat_percent", "the superfat", f.Superfat)
	switch f.Water.Basis {
	case LyeStrength:
		caution.LyeStrength.Check(&p, "water.value", "the lye strength", f.Water.Value)
	case LiquidToLye:
		caution.LiquidToLye.Check(&p, "water.value", "the liquid-to-lye ratio", f.Water.Value)
	case PercentOfFats:
		caution.PercentOfFats.Check(&p, "water.value", "the liquid", f.Water.Value)
	default:
		p.Add("water.basis", "“%s” is not a way to say the liquid", f.Water.Basis)
	}

	if len(f.Liquids) == 0 {
		p.Add("liquids", "name at least one liquid")
	} else {
		shares = make([]float64, len(f.Liquids))
		carries := false
		for i, l := range f.Liquids {
			at := path("liquids", i)
			unique(at, l.Liquid.Slug)
			l.Liquid.Check(&p, at)
			caution.Share.Check(&p, at+".percent", "the share", l.Percent)
			shares[i] = l.Percent
			carries = carries || l.Carries && l.Percent > 0
		}
		caution.Sum(&p, "liquids", "liquids", shares)
		if !carries {
			p.Add("liquids", "say which liquid carries the lye")
		}
	}
	if !f.School.Valid() {
		p.Add("temperature", "“%s” is not a school of temperature", f.School)
	}
	for i, a := range f.Additives {
		at := path("additives", i)
		unique(at, a.Name)
		a.Check(&p, at)
		f.checkCarrier(&p, at, a)
	}
	if f.Scent != nil {
		for i, part := range f.Scent.Parts {
			unique(path("scent.parts", i), part.Label())
		}
		f.Scent.Check(&p, "scent")
		f.checkScented(&p)
	}
	f.checkDesign(&p, unique)
	for i, one := range f.Infusions {
		at := path("infusions", i)
		if !slices.ContainsFunc(f.Fats, func(s fat.Share) bool { return s.Fat.Key() == one.Fat }) {
			p.Add(at+".fat", "choose the fat of the blend that is infused")
		}
		if slices.ContainsFunc(f.Infusions[:i], func(x liquid.Infusion) bool { return x.Fat == one.Fat }) {
			p.Add(at+".fat", "this fat is infused already; one herb mix to a fat")
		}
		one.Check(&p, at)
	}
	f.Process.check(&p)
	f.checkAfterCook(&p)
	f.checkDilution(&p)
	if len(p) == 0 {
		f.checkAcids(&p)
	}
	if f.FullLiquid != 0 {
		caution.PercentOfFats.Check(&p, "full_liquid_percent_of_fats", "the full liquid", f.FullLiquid)
	}
	return p
}

func path(list string, i int) string { return list + "[" + unit.Trim(float64(i), 0) + "]" }

// Amounts is what a formula comes to for one batch, in grams. The slices run
// parallel to those of the formula.
type Amounts struct {
	Fats      []float64
	FatsTotal float64
	NaOH, KOH float64 // as weighed
	Liquids   []float64
	Liquid    float64   // all liquids
	Additives []float64 // parallel to [Formula.Uses]
}

// Batter is fats, alkali and liquid together, without additives.
func (a Amounts) Batter() float64 { return a.FatsTotal + a.NaOH + a.KOH + a.Liquid }

// AmountsFor works out the amounts for a weight of fats in grams. The formula must
// have passed [Formula.Check].
//
// Source: alkali = Σ fat × SAP × (1 − superfat) + what acids take up, divided
// by purity; the liquid from it by the chosen basis. The lye that an acid takes
// up grows with the batter when its rate counts on that, and the batter with it: a
// share c of each gram of batter is such lye and its liquid, so that the batter is
// what it would be without, divided by 1 − c ([Formula.acidShare]).
func (f Formula) AmountsFor(fats float64) Amounts {
	uses := f.Uses()
	a := Amounts{
		Fats: make([]float64, len(f.Fats)), FatsTotal: fats,
		Liquids: make([]float64, len(f.Liquids)), Additives: make([]float64, len(uses)),
	}
	for i, s := range f.Fats {
		a.Fats[i] = fats * s.Percent / 100
	}
	need := fats * f.Fats.SAP() / 1000 * (1 - f.Superfat/100)
	fixed := make([]float64, len(uses)) // of each additive, whatever the batter
	for i, u := range uses {
		fixed[i] = u.Grams(fats, 0)
	}
	// The acid of a liquid takes up lye, which asks for more of the liquid: each round adds a
	// small part of what the round before added, until nothing is left to add.
	sour := f.liquidAcid()
	for round, take := 0, 0.0; ; round, take = round+1, a.Liquid*sour {
		n, k := f.Alkali.Weigh(need + take + acidTake(uses, fixed))
		batter := 0.0
		if left := 1 - f.acidShare(); left > 0 {
			batter = (fats + n + k + f.liquidFor(fats, n+k)) / left
		}
		for i, u := range uses {
			a.Additives[i] = u.Grams(fats, batter)
		}
		a.NaOH, a.KOH = f.Alkali.Weigh(need + take + acidTake(uses, a.Additives))
		a.Liquid = f.liquidFor(fats, a.NaOH+a.KOH)
		if math.Abs(a.Liquid*sour-take) <= 1e-12*math.Abs(need) || round == mostRounds {
			break
		}
	}
	for i, l := range f.Liquids {
		a.Liquids[i] = a.Liquid * l.Percent / 100
	}
	return a
}

// mostRounds is more than any liquid that [Formula.Check] lets pass takes.
const mostRounds = 1000

// liquidAcid is the lye that the acid in a gram of all liquid takes up, in grams of pure KOH.
func (f Formula) liquidAcid() float64 {
	sum := 0.0
	for _, l := range f.Liquids {
		sum += l.Percent / 100 * l.Liquid.Lye / lye.NaOHPerKOH
	}
	return sum
}

// acidShare is how much more batter each gram of it makes by the acids that count
// on it: the lye they take up and the liquid that comes with that lye. At 1 and
// more no amount of lye is enough.
func (f Formula) acidShare() float64 {
	uses := f.Uses()
	one := make([]float64, len(uses)) // g of each in a gram of batter
	for i, u := range uses {
		one[i] = u.Grams(1, 1) - u.Grams(1, 0)
	}
	n, k := f.Alkali.Weigh(acidTake(uses, one))
	return n + k + f.liquidFor(0, n+k)
}

// mostAcid is the share of [Formula.acidShare] from which a recipe has no solution
// that could be weighed.
const mostAcid = 0.95

// checkAcids finds acids that take up more lye than there can be.
func (f Formula) checkAcids(p *caution.Problems) {
	n, k := f.Alkali.Weigh(f.liquidAcid())
	if f.liquidFor(0, n+k) >= mostAcid { // what it takes asks for as much of it again
		p.Add("liquids", "the liquid takes up more lye than it can carry: there is no such soap; use less of what is sour")
		return
	}
	share := f.acidShare()
	if share < mostAcid {
		return
	}
	for i, u := range f.Additives {
		if most := u.Rate * mostAcid / share; u.Lye > 0 && u.Grams(1, 1) > u.Grams(1, 0) {
			p.Add(
				path("additives", i)+".rate.value",
				"%s takes up more lye than the batter can hold, however much is weighed: there is no such soap; use at most %s %s of it",
				u.Name,
				unit.Trim(math.Floor(most*10)/10, 1),
				u.Basis.Words(),
			)
			return
		}
	}
	p.Add("additives", "the acids take up more lye than the batter can hold: there is no such soap; use less of them")
}

// acidTake is the lye that acids among the additives take up, in grams of
// pure KOH.
func acidTake(uses []additive.Use, grams []float64) float64 {
	sum := 0.0
	for i, u := range uses {
		sum += grams[i] * u.Lye / lye.NaOHPerKOH
	}
	return sum
}

// AcidTake is how many grams of the weighed alkali, both kinds together, go
// into acids of additives and liquids and not into soap.
func (f Formula) AcidTake(a Amounts) float64 {
	naoh, koh := f.Alkali.Weigh(f.acids(a))
	return naoh + koh
}

func (f Formula) liquidFor(fats, lyeG float64) float64 {
	switch f.Water.Basis {
	case LyeStrength:
		return lyeG * (100 - f.Water.Value) / f.Water.Value
	case LiquidToLye:
		return lyeG * f.Water.Value
	default:
		return fats * f.Water.Value / 100
	}
}

// EquivalentWater says the liquid of these amounts in each of the three ways.
func (a Amounts) EquivalentWater() map[Basis]float64 {
	l := a.NaOH + a.KOH
	return map[Basis]float64{
		LyeStrength:   100 * l / (l + a.Liquid),
		LiquidToLye:   a.Liquid / l,
		PercentOfFats: 100 * a.Liquid / a.FatsTotal,
	}
}

// Superfat is the superfat in percent of what really is in the amounts,
// whatever the formula asked for: one minus the lye that is left for fats,
// divided by the lye that all fats, the liquids' own included, would take.
// It falls below zero when there is more lye than the fats can take.
func (f Formula) SuperfatOf(a Amounts) float64 {
	demand := f.Demand(a)
	free := f.Alkali.Power(a.NaOH, a.KOH) - f.acids(a)
	switch {
	case demand > 0:
		return 100 * (1 - free/demand)
	case free > 0:
		return -100 // lye and no fat at all
	}
	return 100
}

// Demand is the lye that all fats of the amounts would take, those that liquids and additives
// bring included, in grams of pure KOH.
// What goes on top of the filled mold is not among them: its fat never meets the lye of the pot, and
// must not hide that there is too much of it.
func (f Formula) Demand(a Amounts) float64 {
	return sum(f.fatParts(a), f.liquidParts(a), f.stirredParts(a)).FatKOH
}

// MixC is the temperature at which batter is poured and its density counted.
const MixC = 35.0

// Density of the batter in g/ml at [MixC], without additives: all mass over
// the volumes of the liquid fats and of the lye solution, in which every liquid
// counts.
func (f Formula) Density(a Amounts) float64 {
	s := f.solution(a)
	volume := 0.0
	for i, sh := range f.Fats {
		volume += a.Fats[i] / (sh.Fat.Density - fat.DensityFall*(MixC-25))
	}
	rest := a.NaOH + a.KOH + a.Liquid
	return a.Batter() / (volume + rest/s.Density(MixC))
}

// EverydayDensity is the density in g/ml of an everyday batter (olive, coconut
// and tallow at 33 % lye), to size a mold by before a recipe is chosen. Batters
// of common recipes lie within 2 % of it.
func EverydayDensity() float64 {
	f := Formula{
		Superfat: 5,
		Alkali:   lye.DefaultAlkali(),
		Water:    Water{LyeStrength, 33},
		Liquids:  []Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	for slug, percent := range map[string]float64{"olive-oil": 50, "coconut-oil": 30, "beef-tallow": 20} {
		one, _ := fat.BySlug(slug)
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: percent})
	}
	return f.Density(f.AmountsFor(1000))
}

// solution is all alkali in all liquid.
func (f Formula) solution(a Amounts) lye.Solution {
	naoh, koh := a.NaOH*f.Alkali.NaOHPurity/100, a.KOH*f.Alkali.KOHPurity/100
	return lye.Solution{NaOH: naoh, KOH: koh, Water: a.NaOH + a.KOH - naoh - koh + a.Liquid, Bound: a.KOH - koh}
}

// Jug is what is in the lye jug: the alkali and the liquids that carry it,
// and which part of those is frozen.
func (f Formula) Jug(a Amounts) (lye.Solution, lye.Frozen) {
	return f.jug(a, func(l Liquid) bool { return l.Carries })
}

// StockJug is the lye jug when a ready stock is drawn: plain water of any row
// gives way to it and joins it.
func (f Formula) StockJug(a Amounts) (lye.Solution, lye.Frozen) {
	return f.jug(a, func(l Liquid) bool { return l.Carries || l.Liquid.Plain })
}

func (f Formula) jug(a Amounts, in func(Liquid) bool) (lye.Solution, lye.Frozen) {
	s := f.solution(a)
	s.Water -= a.Liquid
	apart := f.apartWater(a)
	var frozen lye.Frozen
	for i, l := range f.Liquids {
		if !in(l) {
			continue
		}
		s.Water += a.Liquids[i] - apart[i]
		s.Taken += (a.Liquids[i] - apart[i]) * l.Liquid.Lye
		if l.Frozen || l.Liquid.Slug == liquid.Ice {
			frozen.Grams += a.Liquids[i]
			frozen.Water += a.Liquids[i] * l.Liquid.Water / 100
		}
	}
	for i, u := range f.Uses() {
		if into := u.Stage.Into(); into == additive.ThePlainLiquid || into == additive.TheLye {
			s.Taken += a.Additives[i] * u.Lye
		}
	}
	return s, frozen
}

// PlainWater is the weight of the liquids that a lye stock can stand in for:
// water that is not set apart for something else.
func (f Formula) PlainWater(a Amounts) float64 {
	sum, apart := 0.0, f.apartWater(a)
	for i, l := range f.Liquids {
		if l.Liquid.Plain {
			sum += a.Liquids[i] - apart[i]
		}
	}
	return sum
}

// CarryingWater is the weight of true water in the liquids that carry the lye.
func (f Formula) CarryingWater(a Amounts) float64 {
	water, apart := 0.0, f.apartWater(a)
	for i, row := range f.Liquids {
		if row.Carries {
			water += (a.Liquids[i] - apart[i]) * row.Liquid.Water / 100
		}
	}
	return water
}

// Dissolves reports how strong the lye would be, as percent of alkali in
// alkali and true water of the liquids that carry it, and whether that much
// dissolves.
func (f Formula) Dissolves(a Amounts) (strength float64, ok bool) {
	l, water := a.NaOH+a.KOH, f.CarryingWater(a)
	if l == 0 {
		return 0, true
	}
	strength = 100 * l / (l + water)
	return strength, strength <= caution.MostDissolved+1e-9
}

// UndissolvedProblem says that the carrying liquids hold too little water for
// the lye, by how much, and what would work.
func (f Formula) UndissolvedProblem(a Amounts) caution.Problem {
	strength, _ := f.Dissolves(a)
	l := a.NaOH + a.KOH
	need := l * (100 - caution.MostDissolved) / caution.MostDissolved
	have := l * (100 - strength) / strength
	var p caution.Problems
	p.Add(
		"liquids",
		"the liquids that carry the lye hold %s g of water for %s g of lye (%s %% lye); lye stops dissolving past %s %%, which "+
			"needs at least %s g of water: %s g are missing. Let more of the liquid carry the lye, use more water, or a weaker lye",
		unit.Trim(
			have,
			1,
		),
		unit.Trim(l, 1),
		unit.Trim(strength, 1),
		unit.Trim(caution.MostDissolved, 1),
		unit.Trim(need, 1),
		unit.Trim(need-have, 1),
	)
	return p[0]
}

// Milk is the share of milk in the liquid, in percent.
func (f Formula) Milk() float64 {
	sum := 0.0
	for _, l := range f.Liquids {
		if l.Liquid.Milk() {
			sum += l.Percent
		}
	}
	return sum
}

// RiskyScent names a scent that may leave little time: one that accelerates,
// seizes or rices, or one that nobody knows yet.
func (f Formula) RiskyScent() (name string, risky bool) {
	for _, u := range f.Additives {
		if u.Behaviour.Fast() {
			return u.Name, true
		}
	}
	if f.Scent != nil {
		for _, p := range f.Scent.Parts {
			if b := p.Behaviour(); b.Fast() || b == additive.Unknown {
				return p.Label(), true
			}
		}
	}
	return "", false
}
