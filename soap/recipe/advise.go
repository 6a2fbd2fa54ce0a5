package recipe

import (
	"fmt"
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

// Bar reports whether the soap is a bar, which most of the saponification
// being done by sodium hydroxide makes it.
func (f Formula) Bar() bool { return f.Alkali.NaOHPercent > 50 }

// LeastBarSuperfat is the superfat in percent below which a bar is lye-heavy:
// the usual errors of scale and of saponification values are not covered.
const LeastBarSuperfat = 2.0

// leastSoftSuperfat is the same of soft and liquid soap, which is meant to have
// none: two points below zero is more than a scale that reads grams is off by.
const leastSoftSuperfat = -2.0

// LyeHeavy reports whether soap of a superfat in percent has more lye than is
// safe, or than was meant: soap of potash may be meant to have some left over, which is
// neutralised later.
func (f Formula) LyeHeavy(superfat float64) bool {
	if f.Bar() {
		return superfat < LeastBarSuperfat
	}
	return superfat < min(0, f.Superfat)+leastSoftSuperfat
}

// Potash reports whether potassium hydroxide alone makes the soap: a paste, which is thinned and
// never a bar. An alkali of which nothing is said is none.
func (f Formula) Potash() bool { return f.Alkali.NaOHPercent == 0 && f.Alkali.KOHPurity > 0 }

// molarCitric is the molar mass of citric acid in g/mol, of which a mole takes up three of lye,
// and molarKOH that of potassium hydroxide.
const (
	molarCitric = 192.12
	molarKOH    = lye.MolarKOH
)

// Excess is the potash, pure and in grams, that is left over when all fat is soap, and the citric
// acid that neutralises it; nothing when fat is left over.
func (f Formula) Excess(a Amounts) (koh, citric float64) {
	koh = math.Max(0, -f.SuperfatOf(a)/100*f.Demand(a))
	return koh, koh * molarCitric / (3 * molarKOH)
}

// Advise gives all cautions about the formula itself, for a batch of the given
// amounts. superfat is what the soap really comes to, in percent.
func (f Formula) Advise(superfat float64, a Amounts) []caution.Caution {
	out := f.adviseBlend(superfat)
	out = append(out, f.adviseSuperfat(superfat, a)...)
	out = append(out, f.adviseRange(superfat, a)...)
	out = append(out, f.adviseAfterCook(a)...)
	out = append(out, f.adviseLiquid(a)...)
	out = append(out, f.adviseAdditives(a)...)
	out = append(out, f.adviseBrought(a)...)
	if f.Scent != nil {
		out = append(out, f.Scent.Advise(a.FatsTotal, f.driest(a), a.EquivalentWater()[LyeStrength])...)
	}
	out = append(out, f.adviseApart(a)...)
	out = append(out, f.adviseDesign()...)
	for _, i := range f.Infusions {
		out = append(out, i.Advise()...)
	}
	return append(out, f.Process.advise()...)
}

// adviseBlend is the advice about the blend that is meant for soap of this kind: what a bar is warned
// of makes the lather of shave soap, and a paste is no bar.
func (f Formula) adviseBlend(superfat float64) []caution.Caution {
	return slices.DeleteFunc(f.Fats.Advise(superfat), func(c caution.Caution) bool {
		switch {
		case f.Process.Kind == Shave:
			return c.Code == "fats.share.stearic-acid" || c.Code == "fats.share.castor-oil"
		case f.Potash():
			return c.Code == "fats.coconut" || c.Code == "fats.butters"
		}
		return false
	})
}

// driest is the weight of the soap when all its water has left, in grams: fats,
// alkali, what is solid in the liquids, and the additives.
func (f Formula) driest(a Amounts) float64 {
	sum := a.FatsTotal + a.NaOH + a.KOH
	for i, l := range f.Liquids {
		sum += a.Liquids[i] * (100 - l.Liquid.Water) / 100
	}
	for i := range a.Additives {
		sum += a.Additives[i]
	}
	return sum
}

// milkPoint is how much superfat a milk must add to be spoken of, in points.
const milkPoint = 0.6

func (f Formula) adviseSuperfat(superfat float64, a Amounts) []caution.Caution {
	var out []caution.Caution
	if f.LyeHeavy(superfat) {
		least, what := LeastBarSuperfat, "bar"
		if !f.Bar() {
			least, what = 0, "soft soap"
		}
		out = append(out, caution.Caution{Code: "superfat.low", Level: caution.Block,
			Reason: "A " + what + " with " + unit.Trim(superfat, 1) + " % superfat is lye-heavy: it can burn the skin.",
			Remedy: "Keep a " + what + " at " + unit.Trim(least, 0) + " % or more; 5 % is usual for bars."})
	}
	if koh, citric := f.Excess(a); f.Superfat < 0 && koh > 0 {
		out = append(out, caution.Caution{Code: "superfat.excess", Level: caution.Warn,
			Reason: fmt.Sprintf("Lye is left over on purpose: %s g of pure potash when all fat is soap. It burns until it is neutralised.",
				unit.Trim(koh, 1)),
			Remedy: fmt.Sprintf("When the soap is thinned and clear, stir in up to %s g of citric acid, dissolved in four times its weight "+
				"of water, a little at a time, until a sample reads pH 9 to 10.5. The lot is held until then.", unit.Trim(citric, 1)),
		})
	}
	if superfat > 10 && f.Fats.Sum(fat.CoconutType) < 50 && !f.Potash() {
		out = append(out, caution.Caution{Code: "superfat.high", Level: caution.Advice,
			Reason: "A superfat of " + unit.Trim(superfat, 1) + " % makes a soft bar that spoils sooner.",
			Remedy: "Above 10 % is for bars that are mostly coconut."})
	}
	if adds, of := f.AddedFat(a); adds >= milkPoint && f.Superfat >= 5 && f.Fats.Sum(fat.CoconutType) < 50 {
		out = append(out, caution.Caution{Code: "superfat.milk", Level: caution.Advice,
			Reason: fmt.Sprintf(
				"The fat in %s adds %s points: the superfat comes to %s %%.",
				strings.Join(of, " and "),
				unit.Fixed(adds, 1),
				unit.Trim(superfat, 1),
			),
			Remedy: "About 3 % is usual when milk or its like brings fat of its own."})
	}
	return out
}

// Where an olive batter with much liquid may split: olive in percent of the
// fats, liquid in percent of the fats.
const splitOlive, splitLiquid = 70.0, 33.0

func (f Formula) adviseLiquid(a Amounts) []caution.Caution {
	var out []caution.Caution
	add := func(code string, level caution.Level, reason, remedy string) {
		out = append(out, caution.Caution{Code: code, Level: level, Reason: reason, Remedy: remedy})
	}
	same := a.EquivalentWater()
	if v := f.Fats.Sum(fat.OliveLike); v >= splitOlive && same[PercentOfFats] > splitLiquid {
		add(
			"liquid.olive",
			caution.Advice,
			fmt.Sprintf(
				"With %s %% olive oil or its like and liquid at %s %% of the fats the batter may split and stays soft for long.",
				unit.Trim(v, 0),
				unit.Trim(same[PercentOfFats], 0),
			),
			"About 20 to 25 % of the fats suits olive soap.",
		)
	}
	carried := f.Alkali.NaOHPercent > 0 && f.CarryingWater(a) > 0
	if strength := 100 * a.NaOH / (a.NaOH + f.CarryingWater(a)); carried && a.KOH == 0 {
		if c := lye.CrystalC(strength); c >= lye.RoomC-0.01 && strength <= caution.MostDissolved+1e-9 {
			add(
				"lye.cooled",
				caution.Warn,
				fmt.Sprintf(
					"This lye is %s %% in its water: it dissolves hot, but crystals fall out of it below about %s °C.",
					unit.Trim(strength, 1),
					unit.Trim(c, 0),
				),
				"Use it while it is warm, stir it clear, or let more water carry the lye (50 % or less).",
			)
		} else if f.Worked() == Room && c+lye.CrystalStep >= lye.RoomC {
			add("lye.cooled", caution.Advice,
				fmt.Sprintf("This lye is %s %% in its water and may form crystals at about %s °C, near the room's temperature.",
					unit.Trim(strength, 1), unit.Trim(c, 0)),
				"Look at the bottom of the jug before you pour, and stir it clear.")
		}
	}
	for _, l := range f.Liquids {
		if l.Percent <= 0 {
			continue
		}
		name := l.Liquid.Name
		switch {
		case l.Liquid.Composition().Browns() && l.Carries && !l.Frozen && l.Liquid.BoilDown == 0:
			add("liquid.scorch", caution.Advice, name+" carries the lye unfrozen: it scorches, browns and smells.",
				"Freeze it and sprinkle the lye slowly, or let water carry the lye and add it to the fats.")
		case l.Liquid.BoilDown > 0 && l.Carries:
			add("liquid.beer", caution.Warn, "Lye into hot or fizzing "+strings.ToLower(name)+" boils over.",
				"Boil it down until gas and alcohol are gone, chill it, use a tall jug, and sprinkle the lye slowly.")
		case l.Liquid.Slug == liquid.SeaWater:
			add("liquid.seawater", caution.Warn, "Collected sea water varies and may not be accepted by an assessor.",
				"Brine from salt and water is the safe way: 35 g of salt made up to 1000 g.")
		}
		if l.Liquid.Slug == liquid.HumanMilk {
			add(
				"liquid.custom",
				caution.Warn,
				"Soap with own milk is a personal batch: it is not for sale.",
				"Keep it and all that is made from it in the family.",
			)
		}
		if l.Liquid.Slug == liquid.Brine {
			add(
				"liquid.brine",
				caution.Advice,
				"Brine of sea salt stays cloudy: clear or not says nothing about the lye.",
				"Feel the bottom of the jug with the spatula for grit.",
			)
		}
	}
	return out
}

// From how much sugar, in percent of the fats, soap heats up by itself, and from how much salt, in
// percent of salt and water of the liquids, soap salts out, unless it is mostly coconut, whose
// soap a sea dissolves.
const (
	heatingSugar = 4.0
	saltingOut   = 10.0
	coconutInSea = 60.0
)

// adviseBrought speaks of what liquids and additives bring together, whichever of them it is in.
func (f Formula) adviseBrought(a Amounts) []caution.Caution {
	var out []caution.Caution
	if sugar := 100 * f.Brought(a).Sugar / a.FatsTotal; sugar >= heatingSugar {
		c := caution.Caution{Code: "sugar.heats", Level: caution.Advice,
			Reason: fmt.Sprintf("Liquid and additives bring %s g of sugar to 100 g of fats: it browns, and heats the batter by itself.",
				unit.Trim(sugar, 1)),
			Remedy: "Work cool, do not insulate it, and look at it in the first hours: cracks and a rising middle want cold air."}
		if pr := f.Process; pr.Gel == "force" || pr.Cover == "insulate" || pr.Cover == "oven" || pr.Kind == Oven {
			c.Level = caution.Warn
			c.Reason += " It is to be kept warm besides."
		}
		out = append(out, c)
	}
	dissolved := sum(f.liquidParts(a))
	for i, u := range f.Uses() {
		if u.Stage == additive.InLiquid {
			dissolved.Add(a.Additives[i], u.Composition())
		}
	}
	if salt := 100 * dissolved.Salt / (dissolved.Salt + dissolved.Water); salt >= saltingOut && f.Fats.Sum(fat.CoconutType) < coconutInSea {
		out = append(out, caution.Caution{Code: "liquid.salting-out", Level: caution.Warn,
			Reason: fmt.Sprintf("The liquid is a brine of %s %%: most soap is salted out of it, and the batter grains or thickens at once.",
				unit.Trim(salt, 0)),
			Remedy: fmt.Sprintf("Keep it under %s %%, stir the rest of the salt in at trace, or let coconut and its like be %s %% of the fats.",
				unit.Trim(saltingOut, 0), unit.Trim(coconutInSea, 0))})
	}
	return out
}

func (f Formula) adviseAdditives(a Amounts) []caution.Caution {
	var out []caution.Caution
	add := func(code string, level caution.Level, reason, remedy string) {
		out = append(out, caution.Caution{Code: code, Level: level, Reason: reason, Remedy: remedy})
	}
	frozen := ""
	for _, l := range f.Liquids {
		if l.Carries && l.Percent > 0 && (l.Frozen || l.Liquid.Slug == liquid.Ice) {
			frozen = strings.ToLower(l.Liquid.Name)
		}
	}
	for i, l := range f.Liquids {
		if l.Liquid.Lye > 0 && a.Liquids[i] > 0 {
			out = append(out, f.adviseCounted(l.Liquid.Name, l.Liquid.Lye, a.Liquids[i], a))
		}
	}
	for i, u := range f.Uses() {
		if !u.Scent && u.Behaviour == additive.Unknown {
			out = append(out, f.adviseAcid(u, a.Additives[i], a)...)
		}
		switch {
		case u.Is("stearic", "palmitic acid", "myristic acid", "lauric acid", "oleic acid"):
			add(
				"additive.fatty-acid",
				caution.Warn,
				u.Name+" takes up lye at once and is no inert additive: as one, its lye is not counted.",
				"Take it out here and put it into the blend of fats.",
			)
		case u.Bittern():
			add(
				"additive.salt",
				caution.Warn,
				u.Name+" holds magnesium: it turns soap to scum and weeps.",
				"Use plain sea salt or table salt, fine and dry.",
			)
		case u.Is("seawater", "sea water"):
			add(
				"liquid.seawater",
				caution.Warn,
				"Collected sea water varies and may not be accepted by an assessor.",
				"Brine from salt and water is the safe way: 35 g of salt made up to 1000 g.",
			)
		case u.Is("sugar") && u.Stage != additive.InLiquid && u.Stage != additive.Top:
			add(
				"additive.sugar",
				caution.Warn,
				u.Name+" no longer dissolves once the lye is in.",
				"Dissolve it in the liquid before the lye.",
			)
		case u.Is("silk") && u.Stage == additive.InLye && frozen != "":
			add(
				"additive.silk",
				caution.Warn,
				u.Name+" needs the warmth of fresh lye to dissolve; with "+frozen+" the lye stays cold.",
				"Dissolve the silk in a part of the lye made with water at room temperature, or leave it out.",
			)
		}
		if i < len(f.Additives) && u.Behaviour.Fast() { // the recipe's scent speaks for itself
			if strength := f.AmountsFor(1000).EquivalentWater()[LyeStrength]; strength >= additive.StrongLye {
				add(
					"scent.strong-lye",
					caution.Warn,
					fmt.Sprintf(
						"%s %s, and the lye is strong (%s %%): there will be little time.",
						u.Name,
						u.Behaviour.Verb(),
						unit.Trim(strength, 1),
					),
					"Use more liquid (30 % lye or less), work cooler, add the scent last and by hand, in a smaller batch.",
				)
			}
		}
	}
	return out
}

// muchAcid is the share of all lye that acids may take up, in percent, before it is
// taken for a slip.
const muchAcid = 30.0

// adviseCounted says how much of the lye the acid of an additive or a liquid takes up, where it
// is counted.
func (f Formula) adviseCounted(name string, takes, grams float64, a Amounts) caution.Caution {
	naoh, koh := f.Alkali.Weigh(grams * takes / lye.NaOHPerKOH)
	points := 0.0
	if d := f.Demand(a); d > 0 {
		points = 100 * grams * takes / lye.NaOHPerKOH / d
	}
	c := caution.Caution{
		Code: "additive.acid-counted", Level: caution.Advice,
		Reason: fmt.Sprintf("%s takes up %s g of the lye, %s points of superfat; it is counted.", name, unit.Trim(naoh+koh, 1),
			unit.Fixed(points, 1)),
		Remedy: "It is as strong as its name or its row says: check that against the label.",
	}
	if share := 100 * (naoh + koh) / (a.NaOH + a.KOH); share > muchAcid {
		c.Code, c.Level = "additive.acid-much", caution.Block
		c.Reason += fmt.Sprintf(" That is %s %% of all of it.", unit.Trim(share, 0))
		c.Remedy = "Check its amount and what a gram of it takes up; a few percent of the fats are usual."
	}
	return c
}

// adviseAcid says what an additive takes up of the lye: how much where it is counted,
// that it is not where it is not, and asks about what may be an acid.
func (f Formula) adviseAcid(u additive.Use, grams float64, a Amounts) []caution.Caution {
	one := func(code string, level caution.Level, reason, remedy string) []caution.Caution {
		return []caution.Caution{{Code: "additive." + code, Level: level, Reason: reason, Remedy: remedy}}
	}
	takes, known, ask := additive.Acid(u.Name)
	if u.Lye > 0 {
		return []caution.Caution{f.adviseCounted(u.Name, u.Lye, grams, a)}
	}
	switch {
	case known && takes > 0:
		return one(
			"acid",
			caution.Warn,
			u.Name+" takes up lye, which this recipe does not count: the superfat comes out higher.",
			"Say so in its row: "+unit.Trim(takes, 4)+" g of NaOH per gram.",
		)
	case ask && !u.Neutral:
		return one(
			"acid-unknown",
			caution.Warn,
			u.Name+" may be an acid, which takes up lye; what it takes is not known here.",
			"Ask its supplier and write into its row how much NaOH a gram of it takes, 0 for none.",
		)
	}
	return nil
}
