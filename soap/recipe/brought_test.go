package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/recipe"
)

// A litre of whole milk is some 125 g of powder in water: 36.5 g of salts and sugar apart, both bring
// about 35 g of fat.
func TestMilkIsTheSameAsMilkOrAsPowder(t *testing.T) {
	milk := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
	powder := milk
	milk.Liquids = liquids(t, recipe.Liquid{Liquid: of("cow-milk"), Percent: 100, Carries: true, Frozen: true})
	a := milk.AmountsFor(1000)
	powder.Additives = []additive.Use{extra("Milk powder", additive.InFats, a.Liquid*0.125/10).Composed()}
	b := powder.AmountsFor(1000)
	as, _ := milk.AddedFat(a)
	dry, of := powder.AddedFat(b)
	assert.InEpsilon(t, as, dry, 0.1)
	assert.Equal(t, []string{"milk powder"}, of)
	assert.InEpsilon(t, milk.Brought(a).Protein, powder.Brought(b).Protein, 0.15)
	assert.Contains(t, codes(milkier(powder)), "superfat.milk", "and is spoken of alike")
}

// milkier is a formula with twice its first additive.
func milkier(f recipe.Formula) recipe.Formula {
	f.Additives = []additive.Use{f.Additives[0]}
	f.Additives[0].Rate *= 2
	return f
}

func TestSugarIsSugarInHoneyToo(t *testing.T) {
	sweet := func(name string, rate float64) recipe.Formula {
		f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
		f.Additives = []additive.Use{extra(name, additive.InLiquid, rate).Composed()}
		return f
	}
	honey, sugar := sweet("Honey", 2), sweet("Sugar", 1.64)
	a := honey.AmountsFor(1000)
	assert.InDelta(t, 1.64, honey.AddedSugar(a), 1e-9, "82 % of honey is sugar")
	assert.InDelta(t, 3.4, honey.TrueWater(a)-sugar.TrueWater(a), 1e-9, "and 17 % water")
	assert.NotContains(t, codes(honey), "sugar.heats")
	assert.Contains(t, codes(sweet("Honey", 6)), "sugar.heats")
	warm := sweet("honey", 6)
	warm.Process.Cover = "insulate"
	for _, c := range warm.Advise(5, warm.AmountsFor(1000)) {
		if c.Code == "sugar.heats" {
			assert.Equal(t, "warn", string(c.Level), "kept warm besides")
		}
	}
}

func TestAStrongBrineSaltsSoapOutUnlessItIsOfCoconut(t *testing.T) {
	brined := func(water float64, fats shares) recipe.Formula {
		f := soap(t, 5, 33, fats)
		f.Liquids = liquids(t, recipe.Liquid{Liquid: of("brine"), Percent: 100, Carries: true})
		f.Liquids[0].Liquid.Water = water
		return f
	}
	olive, coconut := shares{"olive-oil": 70, "coconut-oil": 30}, shares{"olive-oil": 20, "coconut-oil": 80}
	assert.NotContains(t, codes(brined(96.5, olive)), "liquid.salting-out", "sea strength is for everybody")
	assert.Contains(t, codes(brined(82, olive)), "liquid.salting-out")
	assert.NotContains(t, codes(brined(82, coconut)), "liquid.salting-out")
	same := soap(t, 5, 33, olive)
	same.Additives = []additive.Use{extra("Grey salt of the islands", additive.InLiquid, 6)}
	assert.Contains(t, codes(same), "liquid.salting-out", "it does not matter which row the salt is in")
	assert.Zero(t, same.Salt(), "dissolved, it makes no salt bar")
	inPortion := soap(t, 5, 33, coconut)
	inPortion.Portions = []recipe.Portion{{Name: "all", Percent: 100, Colorants: []additive.Use{extra("Sea salt", additive.Portion, 30)}}}
	assert.InDelta(t, 30, inPortion.Salt(), 1e-9, "a portion can bring it as well, and its loaf is cut within hours")
	assert.InDelta(t, 6, same.AllSalt(same.AmountsFor(1000)), 1e-9)
	magnesium := soap(t, 5, 33, olive)
	magnesium.Additives = []additive.Use{extra("Epsom salt", additive.Trace, 30)}
	assert.Zero(t, magnesium.AllSalt(magnesium.AmountsFor(1000)))
}

// Whatever is in a soap is in it once: what its parts bring comes to no more than it weighs.
func TestWhatIsBroughtIsNoMoreThanWasPutIn(t *testing.T) {
	f := soap(t, 5, 30, shares{"olive-oil": 60, "coconut-oil": 30, "stearic-acid": 10})
	f.Liquids = liquids(t, recipe.Liquid{Liquid: of("goat-milk"), Percent: 60},
		recipe.Liquid{Liquid: of("vinegar"), Percent: 40, Carries: true})
	for _, k := range additive.Reference() {
		f.Additives = append(f.Additives, extra(k.Name, additive.Trace, 1).Takes(nil))
	}
	a := f.AmountsFor(1000)
	b := f.Brought(a)
	whole := a.Batter() - a.NaOH - a.KOH
	for _, g := range a.Additives {
		whole += g
	}
	require.Less(t, b.Water+b.Fat+b.Salt+b.Sugar+b.Protein, whole)
	assert.InDelta(t, f.AcidTake(a)*f.Alkali.NaOHPurity/100, b.NaOH, 1e-6, "the acids of liquids and additives are the same ones")
}
