package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

func liquids(t *testing.T, rows ...recipe.Liquid) []recipe.Liquid {
	t.Helper()
	for i := range rows {
		l, ok := liquid.BySlug(rows[i].Liquid.Slug)
		require.True(t, ok, rows[i].Liquid.Slug)
		rows[i].Liquid = l
	}
	return rows
}

func of(slug string) liquid.Liquid { return liquid.Liquid{Slug: slug} }

func extra(name string, stage additive.Stage, rate float64) additive.Use {
	return additive.Use{Name: name, Stage: stage, Basis: additive.PercentOfFats, Rate: rate, Density: 1}
}

// Each hazard of the craft is said when it is there, and not when it is not.
func TestEachHazardIsSaidWhenItIsThereAndOnlyThen(t *testing.T) {
	everyday := func() recipe.Formula {
		return soap(t, 5, 33, shares{"olive-oil": 50, "coconut-oil": 30, "beef-tallow": 20})
	}
	quiet := codes(everyday())
	assert.Empty(t, quiet, "an everyday bar needs no advice")
	for code, change := range map[string]func(*recipe.Formula){
		"fats.coconut":          func(f *recipe.Formula) { *f = soap(t, 5, 33, shares{"olive-oil": 50, "coconut-oil": 50}) },
		"fats.butters":          func(f *recipe.Formula) { *f = soap(t, 5, 33, shares{"olive-oil": 80, "shea-butter": 20}) },
		"fats.share.castor-oil": func(f *recipe.Formula) { *f = soap(t, 5, 33, shares{"olive-oil": 85, "castor-oil": 15}) },
		"fats.share.jojoba-oil": func(f *recipe.Formula) { *f = soap(t, 5, 33, shares{"olive-oil": 88, "jojoba-oil": 12}) },
		"fats.rancid": func(f *recipe.Formula) {
			*f = soap(t, 5, 33, shares{"sunflower-oil": 50, "coconut-oil": 30, "olive-oil": 20})
		},
		"fats.sap-range": func(f *recipe.Formula) { f.Fats[0].Fat.SAP = 150 },
		"fats.separates": func(f *recipe.Formula) { *f = soap(t, 5, 33, shares{"palm-oil": 70, "coconut-oil": 30}) },
		"superfat.low":   func(f *recipe.Formula) { f.Superfat = 1 },
		"superfat.high":  func(f *recipe.Formula) { f.Superfat = 12 },
		"superfat.milk": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("coconut-milk"), Percent: 50}, recipe.Liquid{Liquid: of("water"), Percent: 50, Carries: true})
		},
		"liquid.olive": func(f *recipe.Formula) { *f = soap(t, 4, 27, shares{"olive-oil": 100}) },
		"lye.cooled":   func(f *recipe.Formula) { f.Water.Value = 52 },
		"liquid.scorch": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("goat-milk"), Percent: 100, Carries: true})
		},
		"liquid.beer": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("beer"), Percent: 100, Carries: true})
		},
		"liquid.seawater": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("sea-water"), Percent: 100, Carries: true})
		},
		"liquid.brine": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("brine"), Percent: 100, Carries: true})
		},
		"liquid.custom": func(f *recipe.Formula) {
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("water"), Percent: 70, Carries: true}, recipe.Liquid{Liquid: of("human-milk"), Percent: 30})
		},
		"additive.salt":       func(f *recipe.Formula) { f.Additives = []additive.Use{extra("Dead Sea salt", additive.Trace, 30)} },
		"additive.sugar":      func(f *recipe.Formula) { f.Additives = []additive.Use{extra("Sugar (granulated)", additive.Trace, 1)} },
		"additive.fatty-acid": func(f *recipe.Formula) { f.Additives = []additive.Use{extra("Stearic acid", additive.InFats, 2)} },
		"additive.acid": func(f *recipe.Formula) {
			f.Additives = []additive.Use{extra("Citric acid (anhydrous)", additive.InLiquid, 1)}
		},
		"additive.silk": func(f *recipe.Formula) {
			f.Liquids[0].Frozen = true
			f.Additives = []additive.Use{extra("Silk fibre", additive.InLye, 0.05)}
		},
		"scent.strong-lye": func(f *recipe.Formula) {
			u := extra("Spice blend", additive.Trace, 3)
			u.Behaviour = additive.Accelerates
			f.Additives = []additive.Use{u}
		},
		"infusion.heat": func(f *recipe.Formula) {
			f.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Marigold", HerbPct: 10, Loss: 2, Hours: 4}}
		},
		"infusion.standing": func(f *recipe.Formula) {
			f.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Marigold", HerbPct: 10, Loss: 2, Standing: true}}
		},
		"process.apart": func(f *recipe.Formula) { f.Process.LyeC, f.Process.FatsC = 60, 38 },
	} {
		f := everyday()
		change(&f)
		require.Empty(t, f.Check(), code)
		got := codes(f)
		assert.Contains(t, got, code)
		assert.NotContains(t, quiet, code)
	}
}

// Mostly coconut is meant to have a high superfat, sugar belongs in the liquid,
// and silk in warm lye.
func TestWhatIsDoneRightIsNotAdvisedOf(t *testing.T) {
	salt := soap(t, 18, 32, shares{"coconut-oil": 80, "olive-oil": 20}, extra("Sea salt (fine)", additive.Trace, 33), extra("Sugar (granulated)", additive.InLiquid, 1), extra("Silk fibre", additive.InLye, 0.05))
	for _, code := range []string{"fats.coconut", "superfat.high", "additive.salt", "additive.sugar", "additive.silk"} {
		assert.NotContains(t, codes(salt), code)
	}
	assert.InDelta(t, 33, salt.Salt(), 1e-9)
}

// Goat milk as all the liquid adds about one point of superfat, canned coconut
// milk five to six (at 33 % lye).
func TestMilkAddsItsOwnFat(t *testing.T) {
	for slug, want := range map[string][2]float64{"goat-milk": {0.8, 1.7}, "coconut-milk": {5, 7.5}, "water": {0, 0}} {
		f := soap(t, 3, 33, shares{"olive-oil": 70, "coconut-oil": 30})
		f.Liquids = liquids(t, recipe.Liquid{Liquid: of(slug), Percent: 100, Carries: true, Frozen: slug != "water"})
		got := f.MilkAdds(f.For(1000))
		assert.GreaterOrEqual(t, got, want[0], slug)
		assert.LessOrEqual(t, got, want[1], slug)
	}
}

// A third of a kilo of water at 87 % in milk: lye goes into as much water as it
// needs, and a little over, rounded up to 5 % of the liquid.
func TestTheLiquidIsSplitAsMakersLikeIt(t *testing.T) {
	f := soap(t, 4, 31, shares{"olive-oil": 50, "coconut-oil": 22, "beef-tallow": 28})
	f.Liquids = liquids(t, recipe.Liquid{Liquid: of("water"), Percent: 10, Carries: true}, recipe.Liquid{Liquid: of("sheep-milk"), Percent: 90})
	percents, err := f.Split()
	require.NoError(t, err)
	assert.Equal(t, []float64{50, 50}, percents)
	for i := range f.Liquids {
		f.Liquids[i].Percent = percents[i]
	}
	a := f.For(1000)
	assert.GreaterOrEqual(t, f.CarryingWater(a), recipe.LeastWater*(a.NaOH+a.KOH)-1e-9)
	f.Water.Value = 50
	_, err = f.Split()
	assert.ErrorContains(t, err, "use more liquid")
	f.Liquids[1].Carries = true
	_, err = f.Split()
	assert.ErrorContains(t, err, "leave another one without the tick")
}

func TestMarksFollowFromTheIngredientsAndAreLostByASubstitution(t *testing.T) {
	marks := func(f recipe.Formula) map[string]recipe.Mark {
		out := map[string]recipe.Mark{}
		for _, m := range f.Marks() {
			out[m.Name] = m
		}
		return out
	}
	f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
	for _, name := range []string{"vegan", "palm-free", "unscented"} {
		assert.True(t, marks(f)[name].Holds, name)
	}
	f.Fats, _ = f.Fats.Swap("coconut-oil", mustFat(t, "palm-kernel-oil"))
	assert.False(t, marks(f)["palm-free"].Holds)
	f.Fats, _ = f.Fats.Swap("olive-oil", mustFat(t, "lard"))
	assert.False(t, marks(f)["vegan"].Holds)
	f = soap(t, 5, 33, shares{"olive-oil": 95, "stearic-acid": 5})
	assert.True(t, marks(f)["vegan"].Ask, "only the supplier knows where stearic acid comes from")
	f.Scent = &additive.Perfume{Rate: 2, Stage: additive.Trace, Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Lavender", Density: 0.9}, Percent: 100}}}
	assert.False(t, marks(f)["unscented"].Holds)
	f = soap(t, 5, 33, shares{"olive-oil": 100})
	f.Liquids = liquids(t, recipe.Liquid{Liquid: of("coconut-milk"), Percent: 100, Carries: true, Frozen: true})
	assert.True(t, marks(f)["vegan"].Holds)
}

// A discount counts from the recipe's own full liquid, and is its own reverse.
func TestADiscountCountsFromTheRecipesOwnFullLiquid(t *testing.T) {
	f := recipe.Formula{FullLiquid: 38}
	assert.InDelta(t, 28.5, f.Discounted(25), 1e-9)
	assert.InDelta(t, 25, f.Discount(28.5), 1e-9)
	assert.InDelta(t, 36, recipe.Formula{}.Full(), 1e-9)
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(5, 100).Draw(t, "percent of fats")
		require.InEpsilon(t, v, f.Discounted(f.Discount(v)), 1e-9)
	})
}

// big is larger than any recipe of the book: 12 fats, 10 additives, 4 portions.
func big() recipe.Formula {
	f := recipe.Formula{Name: "Big", Superfat: 5, Alkali: lye.DefaultAlkali(), Water: recipe.Water{Basis: recipe.LyeStrength, Value: 31}, Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}}
	for _, one := range fat.Reference()[:12] {
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: 100.0 / 12})
	}
	for i := range 10 {
		f.Additives = append(f.Additives, additive.Use{Name: "Additive " + string(rune('A'+i)), Stage: additive.Trace, Basis: additive.PercentOfBatter, Rate: 0.5, Density: 1.2, Lye: 0.01})
	}
	for i := range 4 {
		f.Portions = append(f.Portions, recipe.Portion{Name: string(rune('a' + i)), Percent: 25, Colorants: []additive.Use{{Name: "Colour", Stage: additive.Portion, Basis: additive.TspPerLbFats, Rate: 1, GramsPerTsp: 2, Density: 2, Disperse: &additive.Dispersal{In: f.Fats[i].Fat.Slug, Spoons: 2}}}})
	}
	return f
}

func BenchmarkABigRecipeIsWorkedOutAndJudged(b *testing.B) {
	f := big()
	for b.Loop() {
		a := f.For(1000)
		f.Advise(f.SuperfatOf(a), a)
		f.Judge()
	}
}
