package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/material"
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
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("coconut-milk"), Percent: 50},
				recipe.Liquid{Liquid: of("water"), Percent: 50, Carries: true})
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
			f.Liquids = liquids(t, recipe.Liquid{Liquid: of("water"), Percent: 70, Carries: true},
				recipe.Liquid{Liquid: of("human-milk"), Percent: 30})
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
			f.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Nettle", HerbPct: 10, Loss: 2, Hours: 4}}
		},
		"infusion.standing": func(f *recipe.Formula) {
			f.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Nettle", HerbPct: 10, Loss: 2, Standing: true}}
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
	salt := soap(
		t,
		18,
		32,
		shares{"coconut-oil": 80, "olive-oil": 20},
		extra("Sea salt (fine)", additive.Trace, 33),
		extra("Sugar (granulated)", additive.InLiquid, 1),
		extra("Silk fibre", additive.InLye, 0.05),
	)
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
		got, of := f.AddedFat(f.AmountsFor(1000))
		require.Len(t, of, map[bool]int{true: 0, false: 1}[got == 0])
		assert.GreaterOrEqual(t, got, want[0], slug)
		assert.LessOrEqual(t, got, want[1], slug)
	}
}

// A third of a kilo of water at 87 % in milk: lye goes into as much water as it
// needs, and a little over, rounded up to 5 % of the liquid.
func TestTheLiquidIsSplitAsMakersLikeIt(t *testing.T) {
	f := soap(t, 4, 31, shares{"olive-oil": 50, "coconut-oil": 22, "beef-tallow": 28})
	f.Liquids = liquids(
		t,
		recipe.Liquid{Liquid: of("water"), Percent: 10, Carries: true},
		recipe.Liquid{Liquid: of("sheep-milk"), Percent: 90},
	)
	percents, err := f.Split()
	require.NoError(t, err)
	assert.Equal(t, []float64{50, 50}, percents)
	for i := range f.Liquids {
		f.Liquids[i].Percent = percents[i]
	}
	a := f.AmountsFor(1000)
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
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Palmarosa", Density: 0.9}, Percent: 100}},
	}
	assert.False(t, marks(f)["unscented"].Holds)
	assert.False(t, marks(f)["unscented"].Ask)
	f = soap(t, 5, 33, shares{"olive-oil": 100})
	f.Liquids = liquids(t, recipe.Liquid{Liquid: of("goat-milk"), Percent: 100, Carries: true, Frozen: true})
	assert.Equal(t, []string{"Goat milk"}, marks(f)["vegan"].Why, "no oat milk")
	f = soap(t, 5, 33, shares{"olive-oil": 100})
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Palmarosa", Density: 0.9, Mark: material.None}, Percent: 100}},
	}
	assert.True(t, marks(f)["palm-free"].Holds, "palmarosa is no palm")
	f.Scent.Parts[0].Scent.Mark = material.Animal
	assert.False(t, marks(f)["vegan"].Holds || marks(f)["vegan"].Ask)
	f.Scent = nil
	f.Additives = []additive.Use{extra("Milk thistle", additive.Trace, 1)}
	for _, name := range []string{"vegan", "palm-free", "unscented"} {
		assert.False(t, marks(f)[name].Holds, "%s: not known is not a tick", name)
		assert.True(t, marks(f)[name].Ask, name)
	}
	f.Additives[0].Mark = material.None
	assert.True(t, marks(f)["vegan"].Holds)
	f.Fats[0].Fat = fat.NewOwn("House fat", 195, 0.91, "olive-oil")
	assert.True(t, marks(f)["vegan"].Ask, "an own fat is not known, whatever it is like")
	f = soap(t, 5, 33, shares{"olive-oil": 100})
	f.Liquids = liquids(t, recipe.Liquid{Liquid: of("coconut-milk"), Percent: 100, Carries: true, Frozen: true})
	assert.True(t, marks(f)["vegan"].Holds)
}

// Every material of the tables, one by one: what stands against a name, and what is
// not known. Whatever is not listed is neither of animals nor of palm.
func TestEveryMaterialOfTheTablesHasItsMark(t *testing.T) {
	want := map[string]material.Mark{
		"beef-tallow": material.Animal, "lard": material.Animal, "beeswax": material.Animal, "lanolin": material.Animal,
		"palm-oil": material.Palm, "palm-kernel-oil": material.Palm,
		"mutton-tallow": material.Animal, "goose-fat": material.Animal, "duck-fat": material.Animal, "butterfat": material.Animal,
		"palm-olein": material.Palm, "palm-stearin": material.Palm, "red-palm-oil": material.Palm, "palm-kernel-flakes": material.Palm,
		"lauric-acid": material.NotKnown, "myristic-acid": material.NotKnown, "palmitic-acid": material.NotKnown,
		"oleic-acid": material.NotKnown, "vegetable-shortening": material.NotKnown,
		"stearic-acid": material.NotKnown, "avocado-butter": material.NotKnown,
		"goat-milk": material.Animal, "cow-milk": material.Animal, "sheep-milk": material.Animal, "human-milk": material.Animal,
		"buttermilk": material.Animal, "cream": material.Animal, "yoghurt": material.Animal, "whey": material.Animal,
		"beer": material.NotKnown, "wine": material.NotKnown,
		"silk-fibre": material.Animal, "milk-powder": material.Animal, "honey": material.Animal,
		"egg-yolk": material.Animal, "coconut-milk-powder": material.NotKnown, "sodium-lactate-60": material.NotKnown,
		"lactic-acid-80": material.NotKnown, "jojoba-beads": material.NotKnown,
	}
	seen := 0
	check := func(slug string, got material.Mark) {
		mark, listed := want[slug]
		if !listed {
			mark = material.None
		} else {
			seen++
		}
		assert.Equal(t, mark, got, slug)
	}
	for _, f := range fat.Reference() {
		check(f.Slug, f.From())
	}
	for _, l := range liquid.Reference() {
		check(l.Slug, l.From())
	}
	for _, k := range additive.Reference() {
		check(k.Slug, additive.Use{Name: k.Name}.From())
	}
	assert.Equal(t, len(want), seen, "everything listed is in a table")
}

// 2 % of citric acid take up some eight points of superfat, counted or not.
func TestAcidsAreCountedOrCalledOut(t *testing.T) {
	codes := func(f recipe.Formula) map[string]caution.Caution {
		out := map[string]caution.Caution{}
		a := f.AmountsFor(1000)
		for _, c := range f.Advise(f.SuperfatOf(a), a) {
			out[c.Code] = c
		}
		return out
	}
	acid := func(name string, rate float64) recipe.Formula {
		f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
		u := extra(name, additive.InLiquid, rate)
		u.Lye, _, _ = additive.Acid(name)
		f.Additives = []additive.Use{u}
		return f
	}
	counted := acid("Citric acid", 2)
	assert.InDelta(t, 5, counted.SuperfatOf(counted.AmountsFor(1000)), 1e-9)
	assert.Contains(t, codes(counted)["additive.acid-counted"].Reason, "8.3 points of superfat")
	silent := acid("lemon juice", 6)
	silent.Additives[0].Lye = 0
	assert.Contains(t, codes(silent), "additive.acid")
	asked := acid("Boswellic acid", 2)
	assert.Contains(t, codes(asked), "additive.acid-unknown")
	asked.Additives[0].Neutral = true
	assert.NotContains(t, codes(asked), "additive.acid-unknown", "the owner has asked")
	for _, name := range []string{"Sea salt and sage", "Placid", "Lemon verbena"} {
		f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
		f.Scent = &additive.Perfume{
			Rate:  4,
			Stage: additive.Trace,
			Parts: []additive.ScentPart{{Scent: additive.Scent{Name: name, Density: 0.9}, Percent: 100}},
		}
		for code := range codes(f) {
			assert.NotContains(t, code, "acid", name)
		}
		assert.Zero(t, f.Salt(), "%s is a scent and no salt", name)
	}
	assert.Equal(t, caution.Block, codes(acid("Citric acid", 12))["additive.acid-much"].Level)
}

// An acid by the weight of the batter asks for lye, which makes more batter, which
// asks for more acid: up to a point there is an answer, and past it none.
func TestAcidsThatLeaveNoSolutionAreRefused(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
		rate := rapid.Float64Range(0, 100).Draw(t, "percent of batter")
		f.Water = rapid.SampledFrom([]recipe.Water{{Basis: recipe.LyeStrength, Value: 33}, {Basis: recipe.LiquidToLye, Value: 2.5},
			{Basis: recipe.PercentOfFats, Value: 40}}).
			Draw(t, "liquid")
		f.Additives = []additive.Use{
			{Name: "Citric acid", Stage: additive.InLiquid, Basis: additive.PercentOfBatter, Rate: rate, Density: 1.6, Lye: 0.6246},
		}
		if p := f.Check(); len(p) > 0 {
			require.Greater(t, rate, 40.0)
			require.Contains(t, p.At("additives[0].rate.value"), "use at most")
			return
		}
		a := f.AmountsFor(1000)
		require.InDelta(t, 5, f.SuperfatOf(a), 1e-6)
		require.InEpsilon(
			t,
			rate/100*a.Batter()+1e-9,
			a.Additives[0]+1e-9,
			1e-9,
			"the batter that it counts on is the batter that there is",
		)
	})
	f := soap(t, 5, 33, shares{"olive-oil": 100})
	f.Additives = []additive.Use{
		{Name: "Citric acid", Stage: additive.InLiquid, Basis: additive.PercentOfBatter, Rate: 60, Density: 1.6, Lye: 0.6246},
	}
	assert.Error(t, f.Check().Err())
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
	f := recipe.Formula{
		Name:     "Big",
		Superfat: 5,
		Alkali:   lye.DefaultAlkali(),
		Water:    recipe.Water{Basis: recipe.LyeStrength, Value: 31},
		Liquids:  []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	for _, one := range fat.Reference()[:12] {
		f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: 100.0 / 12})
	}
	for i := range 10 {
		f.Additives = append(
			f.Additives,
			additive.Use{
				Name:    "Additive " + string(rune('A'+i)),
				Stage:   additive.Trace,
				Basis:   additive.PercentOfBatter,
				Rate:    0.5,
				Density: 1.2,
				Lye:     0.01,
			},
		)
	}
	for i := range 4 {
		f.Portions = append(
			f.Portions,
			recipe.Portion{
				Name:    string(rune('a' + i)),
				Percent: 25,
				Colorants: []additive.Use{
					{
						Name:        "Colour",
						Stage:       additive.Portion,
						Basis:       additive.TspPerLbFats,
						Rate:        1,
						GramsPerTsp: 2,
						Density:     2,
						Disperse:    &additive.Dispersal{In: f.Fats[i].Fat.Slug, Spoons: 2},
					},
				},
			},
		)
	}
	return f
}

func BenchmarkABigRecipeIsWorkedOutAndJudged(b *testing.B) {
	f := big()
	for b.Loop() {
		a := f.AmountsFor(1000)
		f.Advise(f.SuperfatOf(a), a)
		f.Judge()
	}
}
