package plan_test

import (
	"errors"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

func blend(shares map[string]float64) fat.Blend {
	var b fat.Blend
	for _, f := range fat.Reference() {
		if p, ok := shares[f.Slug]; ok {
			b = append(b, fat.Share{Fat: f, Percent: p})
		}
	}
	return b
}

func row(slug string, percent float64, carries bool) recipe.Liquid {
	l, ok := liquid.BySlug(slug)
	if !ok {
		panic(slug)
	}
	return recipe.Liquid{Liquid: l, Percent: percent, Carries: carries}
}

// everyday is the recipe of the worked case.
func everyday() recipe.Formula {
	return recipe.Formula{
		Name: "Everyday", Fats: blend(map[string]float64{"olive-oil": 50, "coconut-oil": 30,
			"beef-tallow": 20}), Alkali: lye.DefaultAlkali(),
		Superfat: 5, Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33}, Liquids: []recipe.Liquid{row("water", 100, true)},
	}
}

func request(f recipe.Formula, t plan.Target) plan.Request {
	return plan.Request{Formula: f, Target: t, Rule: plan.Computed, LiquidC: 20}
}

func salt(rate float64) additive.Use {
	return additive.Use{Name: "Sea salt", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: rate, Density: 2.16}
}

func grams(rows []plan.Row) float64 {
	sum := 0.0
	for _, r := range rows {
		sum += r.Grams
	}
	return sum
}

func refused(t *testing.T, err error) caution.Problems {
	t.Helper()
	var p caution.Problems
	require.True(t, errors.As(err, &p), "%v", err)
	return p
}

// By hand: 0.5·190 + 0.3·257 + 0.2·197 = 211.5 mg KOH per g; × 0.95 × 39.997/56.1056 = 143.24 g NaOH.
func TestTheWorkedCaseComesOutAsByHand(t *testing.T) {
	p, err := plan.Make(request(everyday(), plan.Target{FatsG: 1000}))
	require.NoError(t, err)
	assert.InDelta(t, 143.24, p.NaOH, 0.005)
	assert.InDelta(t, 290.8, p.LiquidG, 0.05)
	assert.InDelta(t, 1434.05, p.BatterG, 0.01)
	assert.InDelta(t, 69.73, p.FatShare, 0.005)
	assert.InDelta(t, 1.004, p.Density, 0.0005)
	assert.InDelta(t, 5, p.Superfat, 1e-9)
	assert.InDelta(t, 110, p.PeakC, 1)
}

func TestMoldsAreFilledToTheirLineAdditivesAndScrapsIncluded(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := everyday()
		f.Additives = []additive.Use{
			salt(rapid.Float64Range(0, 100).Draw(t, "salt")),
			{Name: "Silk", Stage: additive.InLye, Basis: additive.GramsPerBatch, Rate: 0.3, Density: 1.35},
		}
		loaf := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: rapid.Float64Range(30, 90).Draw(t, "fill")}
		r := request(f, plan.Target{Molds: []plan.MoldCount{{Mold: loaf, Count: rapid.IntRange(1, 12).Draw(t, "count")}}})
		r.PotLoss = rapid.Float64Range(0, 3).Draw(t, "loss")
		r.PotCapacity = rapid.SampledFrom([]float64{0, 2500, 9000}).Draw(t, "pot")
		r.Scraps = &plan.Scraps{Grams: rapid.Float64Range(0, 300).Draw(t, "scraps"), FatsPercent: 72, Density: 1}
		p, err := plan.Make(r)
		require.NoError(t, err)
		silk := p.Additives[1].Grams
		require.InDelta(t, 0.3*float64(p.Batches), silk, 1e-9, "what is fixed per batch counts per pot")
		volume := p.BatterG/p.Density + p.Additives[0].Grams/2.16 + silk/1.35 + r.Scraps.Grams
		require.InEpsilon(t, r.Target.Volume()/(1-r.PotLoss/100), volume, 1e-9)
		require.InEpsilon(t, p.BatterG, p.FatsG+p.NaOH+p.KOH+p.LiquidG, 1e-12, "mass is conserved")
		require.InEpsilon(t, p.FatsG, grams(p.Fats), 1e-12)
		if p.PerBatch != nil {
			require.InEpsilon(t, p.NaOH, p.PerBatch.NaOH*float64(p.Batches), 1e-12)
			require.LessOrEqual(
				t,
				p.PerBatch.BatterG+grams(p.PerBatch.Additives)+r.Scraps.Grams/float64(p.Batches),
				r.PotCapacity*(1+1e-9),
			)
		}
	})
}

func TestARecipeScaledByKScalesAllByK(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := everyday()
		f.Alkali = lye.Alkali{NaOHPercent: rapid.SampledFrom([]float64{0, 5, 40, 100}).Draw(t, "naoh"), NaOHPurity: 98, KOHPurity: 90}
		f.Additives = []additive.Use{
			salt(30),
			{Name: "Citric acid", Stage: additive.InLiquid, Basis: additive.PercentOfBatter, Rate: 1, Density: 1.66, Lye: 0.625},
		}
		k := rapid.Float64Range(0.5, 40).Draw(t, "k")
		one, err := plan.Make(request(f, plan.Target{FatsG: 1000}))
		require.NoError(t, err)
		many, err := plan.Make(request(f, plan.Target{FatsG: 1000 * k}))
		require.NoError(t, err)
		for _, pair := range [][2]float64{{one.NaOH, many.NaOH}, {one.KOH, many.KOH}, {one.LiquidG, many.LiquidG},
			{one.BatterG, many.BatterG}, {grams(one.Additives), grams(many.Additives)}} {
			require.InDelta(t, pair[0]*k, pair[1], 1e-6*k)
		}
		require.InDelta(t, one.Density, many.Density, 1e-9)
		require.InDelta(t, 5, many.Superfat, 1e-6, "the acid's own lye leaves the superfat alone")
	})
}

func TestTargetsAreMetExactly(t *testing.T) {
	f := everyday()
	f.Liquids = []recipe.Liquid{row("water", 60, true), row("sheep-milk", 40, false)}
	f.Additives = []additive.Use{salt(50)}
	milk, err := plan.Make(request(f, plan.Target{Ingredient: &plan.Ingredient{Name: "sheep-milk", Grams: 650}}))
	require.NoError(t, err)
	assert.InDelta(t, 650, milk.Liquids[1].Grams, 1e-9)
	batter, err := plan.Make(request(f, plan.Target{BatterG: 2000}))
	require.NoError(t, err)
	assert.InDelta(t, 2000, batter.BatterG, 1e-9)
	salted, err := plan.Make(request(f, plan.Target{Ingredient: &plan.Ingredient{Name: "Sea salt", Grams: 420}}))
	require.NoError(t, err)
	assert.InDelta(t, 840, salted.FatsG, 1e-9)

	scraps := request(f, plan.Target{FatsG: 1000})
	scraps.Scraps = &plan.Scraps{Grams: 420, FatsPercent: 72, Density: 1}
	p, err := plan.Make(scraps)
	require.NoError(t, err)
	assert.InDelta(t, 1000-0.72*420, p.FatsG, 1e-9, "the scraps bring part of the fats")
}

// Goat milk as all the liquid adds about one point, canned coconut milk five to six.
func TestMilkFatRaisesTheSuperfat(t *testing.T) {
	for slug, want := range map[string][2]float64{"goat-milk": {0.9, 1.5}, "coconut-milk": {5, 6.1}} {
		f := everyday()
		f.Water = recipe.Water{Basis: recipe.PercentOfFats, Value: 25}
		f.Liquids = []recipe.Liquid{row(slug, 100, true)}
		f.Liquids[0].Frozen = true
		more := f.SuperfatOf(f.AmountsFor(1000)) - 5
		assert.True(t, more >= want[0] && more <= want[1], "%s adds %.2f points", slug, more)
	}
}

func TestTheThreeWaysToSayTheLiquidAgree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := everyday()
		f.Water.Value = rapid.Float64Range(20, 45).Draw(t, "strength")
		a := f.AmountsFor(1000)
		for basis, v := range a.EquivalentWater() {
			f.Water = recipe.Water{Basis: basis, Value: v}
			require.InEpsilon(t, a.Liquid, f.AmountsFor(1000).Liquid, 1e-9, basis)
		}
	})
}

func TestAStockGivesWayToPlainWaterOnly(t *testing.T) {
	f := everyday()
	f.Liquids = []recipe.Liquid{row("water", 60, true), row("sheep-milk", 40, false)}
	r := request(f, plan.Target{FatsG: 1000})
	r.Stock = &lye.Stock{Strength: 50, C: 21}
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 2*p.NaOH, p.Draw.Solution, 1e-9)
	assert.InDelta(t, p.Liquids[0].Grams-p.NaOH, p.Draw.LiquidToAdd, 1e-9)
	assert.InDelta(t, p.LiquidG, grams(p.Liquids), 1e-9, "the recipe's liquid stays whole")

	f.Liquids = []recipe.Liquid{row("water", 45, true), row("sheep-milk", 55, false)}
	r.Formula = f
	_, err = plan.Make(r)
	text := refused(t, err).At("lye_stock.naoh_percent")
	assert.Contains(t, text, "too much")
	assert.Contains(t, text, "weigh dry lye", "what would work is said")
}

func TestLyeThatCannotDissolveIsRefusedWithWhatIsMissing(t *testing.T) {
	f := everyday()
	f.Liquids = []recipe.Liquid{row("water", 40, true), row("sheep-milk", 60, false)}
	_, err := plan.Make(request(f, plan.Target{FatsG: 1000}))
	assert.Contains(t, refused(t, err).At("recipe.liquids"), "g are missing")
}

// Four loaves of about 1.3 kg in a pot that takes 3 kg: two pots of two.
func TestPotsAreFewEqualAndOfWholeMolds(t *testing.T) {
	loaf := plan.MoldCount{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Count: 4}
	r := request(everyday(), plan.Target{Molds: []plan.MoldCount{loaf}})
	r.PotCapacity = 3000
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.Equal(t, 2, p.Batches)
	r.Target.Molds[0].Count = 3
	r.PotCapacity = 2000
	p, err = plan.Make(r)
	require.NoError(t, err)
	assert.Equal(t, 3, p.Batches, "two pots would fit, but three leave no mold half full")
}

func TestHabitsSayHowFarTheyMissTheLine(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{salt(50)}
	r := request(f, plan.Target{Molds: []plan.MoldCount{{Mold: mold.Mold{Shape: mold.Water, WaterG: 110, Cavities: 12}, Count: 2}}})
	codes := func(rule plan.FillRule) (string, float64) {
		r.Rule = rule
		p, err := plan.Make(r)
		require.NoError(t, err)
		for _, c := range p.Cautions {
			if c.Code == "fill.overflow" || c.Code == "fill.short" {
				return c.Code, p.BatterG
			}
		}
		return "", p.BatterG
	}
	code, batter := codes(plan.AsWater)
	assert.Equal(t, "fill.overflow", code)
	assert.InDelta(t, 2640, batter, 1e-6)
	_, batter = codes(plan.Over09)
	assert.InDelta(t, 2640/0.9, batter, 1e-6)
	code, _ = codes(plan.Computed)
	assert.Empty(t, code)
}

func TestRoundingNeverTakesMoreThanHalfAPointOffTheSuperfat(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := request(everyday(), plan.Target{FatsG: rapid.Float64Range(30, 3000).Draw(t, "fats")})
		r.Resolution = rapid.SampledFrom([]float64{0.1, 1}).Draw(t, "step")
		p, err := plan.Make(r)
		require.NoError(t, err)
		require.Greater(t, p.Superfat, 5-0.5-1e-9)
		for _, g := range []float64{p.NaOH, p.Fats[0].Grams, p.Liquids[0].Grams} {
			require.InDelta(t, math.Round(g/r.Resolution), g/r.Resolution, 1e-6, "%v on a scale of %v g", g, r.Resolution)
		}
		asked := false
		for _, c := range p.Cautions {
			asked = asked || c.Code == "scale.coarse"
		}
		require.Equal(t, math.Abs(p.Superfat-5) > 0.5, asked, "a finer scale is asked for when it is needed")
	})
}

func TestWhatCannotBeWeighedIsRefused(t *testing.T) {
	for _, fats := range []float64{0.001, 0.3} {
		_, err := plan.Make(request(everyday(), plan.Target{FatsG: fats}))
		assert.Contains(t, refused(t, err).At("target"), "too small to weigh")
	}
	r := request(everyday(), plan.Target{FatsG: 2})
	r.Resolution = 1
	_, err := plan.Make(r)
	assert.Contains(t, refused(t, err).At("target"), "finer scale")
	r = request(everyday(), plan.Target{BatterG: 400})
	r.Scraps = &plan.Scraps{Grams: 500, FatsPercent: 72, Density: 1}
	_, err = plan.Make(r)
	assert.Contains(t, refused(t, err).At("target"), "scraps")
}

func TestNonsenseIsRefusedWhereItStands(t *testing.T) {
	spoil := func(do func(*plan.Request)) caution.Problems {
		f := everyday()
		f.Fats = append(fat.Blend{}, f.Fats...)
		r := request(f, plan.Target{FatsG: 1000})
		do(&r)
		_, err := plan.Make(r)
		return refused(t, err)
	}
	for path, do := range map[string]func(*plan.Request){
		"recipe.fats":                func(r *plan.Request) { r.Formula.Fats[0].Percent = 90 },
		"recipe.fats[1]":             func(r *plan.Request) { r.Formula.Fats[1].Fat = r.Formula.Fats[0].Fat },
		"recipe.superfat_percent":    func(r *plan.Request) { r.Formula.Superfat = 140 },
		"recipe.water.value":         func(r *plan.Request) { r.Formula.Water.Value = 70 },
		"recipe.alkali.naoh_percent": func(r *plan.Request) { r.Formula.Alkali.NaOHPercent = math.NaN() },
		"recipe.liquids":             func(r *plan.Request) { r.Formula.Liquids[0].Carries = false },
		"target":                     func(r *plan.Request) { r.Target.BatterG = 5 },
		"target.ingredient.name": func(r *plan.Request) {
			r.Target = plan.Target{Ingredient: &plan.Ingredient{Name: "gold",
				Grams: 5}}
		},
		"target.molds[0].mold.length_mm": func(r *plan.Request) {
			r.Target = plan.Target{Molds: []plan.MoldCount{{Mold: mold.Mold{Shape: mold.Box, Width: 80, Fill: 60}, Count: 1}}}
		},
		"target.molds[0].count": func(r *plan.Request) {
			r.Target = plan.Target{Molds: []plan.MoldCount{{Mold: mold.Mold{Shape: mold.Water, WaterG: 80}, Count: 0}}}
		},
		"lye_stock.temperature_c": func(r *plan.Request) { r.Stock = &lye.Stock{Strength: 50, C: 9} },
	} {
		assert.NotEmpty(t, spoil(do).At(path), path)
	}
}

func TestTheSheetFollowsTheWork(t *testing.T) {
	f := everyday()
	f.Liquids = []recipe.Liquid{row("water", 60, true), row("sheep-milk", 40, false)}
	f.Additives = []additive.Use{
		{Name: "Sugar", Stage: additive.InLiquid, Basis: additive.PercentOfFats, Rate: 1, Density: 1.59},
		salt(25),
		{Name: "Petals", Stage: additive.Top, Basis: additive.GramsPerBatch, Rate: 0.4, Density: 1},
	}
	r := request(f, plan.Target{FatsG: 1000})
	r.Resolution = 1
	p, err := plan.Make(r)
	require.NoError(t, err)
	var order []plan.Key
	total := 0.0
	for _, s := range plan.Sheet(r, p) {
		for _, i := range s.Items {
			order = append(order, i.Key)
			total += i.Target
		}
	}
	assert.Equal(
		t,
		[]plan.Key{
			"liquid:water",
			"additive:Sugar",
			"alkali:naoh",
			"fat:coconut-oil",
			"fat:beef-tallow",
			"fat:olive-oil",
			"liquid:sheep-milk",
			"additive:Sea salt",
			"additive:Petals",
		},
		order,
		"sugar before the lye, solid fats before liquid ones, milk kept off the lye, salt at trace",
	)
	assert.InDelta(t, p.BatterG+grams(p.Additives), total, 1e-9, "nothing is forgotten")
	back := plan.Amounts(r, func(key plan.Key) float64 {
		for _, s := range plan.Sheet(r, p) {
			for _, i := range s.Items {
				if i.Key == key {
					return i.Target
				}
			}
		}
		return 0
	})
	assert.InDelta(t, p.Superfat, f.SuperfatOf(back), 1e-9)
}

func BenchmarkPlan(b *testing.B) {
	f := everyday()
	f.Additives = []additive.Use{salt(50)}
	r := request(
		f,
		plan.Target{Molds: []plan.MoldCount{{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Count: 3}}},
	)
	r.PotCapacity = 9000
	b.ReportAllocs()
	for b.Loop() {
		if _, err := plan.Make(r); err != nil {
			b.Fatal(err)
		}
	}
}

// On a scale of whole grams 41.4 g of lye are 41 or 42: a point of superfat. Some grams of the
// largest fat put that right, which lye alone cannot.
func TestAFatCarriesTheRoundingOfTheLye(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		step := rapid.SampledFrom([]float64{1, 2, 5}).Draw(t, "step")
		f := everyday()
		f.Superfat = rapid.Float64Range(3, 8).Draw(t, "superfat")
		batter := rapid.Float64Range(320*step, 3000).Draw(t, "batter")
		r := plan.Request{
			Formula: f, Rule: plan.Computed, LiquidC: 20, Target: plan.Target{BatterG: batter}, Scales: plan.Scales{Resolution: step},
		}
		p, err := plan.Make(r)
		require.NoError(t, err)
		require.InDelta(t, f.Superfat, p.Superfat, 0.5)
		require.InEpsilon(t, batter, p.BatterG, 0.04, "and it stays the batch that was asked for")
		for _, s := range plan.Sheet(r, p) {
			for _, i := range s.Items {
				require.InDelta(t, 0, math.Remainder(i.Target, step), 1e-6, "%s: the scale shows it", i.Name)
			}
		}
	})
}

func TestWhatIsSetApartToStirAColourIntoIsAWeightThatTheScaleShows(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{{
		Name: "Pink clay", Stage: additive.InFats, Basis: additive.TspPerLbFats, Rate: 1, GramsPerTsp: 2.4, Density: 2.6,
		Disperse: &additive.Dispersal{In: f.Fats[0].Fat.Key(), Spoons: 1},
	}}
	r := plan.Request{Formula: f, Rule: plan.Computed, LiquidC: 20, Target: plan.Target{FatsG: 800}, Scales: plan.Scales{Resolution: 1}}
	p, err := plan.Make(r)
	require.NoError(t, err)
	fats := 0.0
	apart := false
	for _, s := range plan.Sheet(r, p) {
		for _, i := range s.Items {
			require.InDelta(t, i.Target, math.Round(i.Target), 1e-9, i.Name)
			apart = apart || strings.Contains(i.Name, "set apart")
			if i.Key.Kind() == plan.FatItem {
				fats += i.Target
			}
		}
	}
	assert.True(t, apart)
	assert.InDelta(t, 800, fats, 1.5, "what is set apart is part of its fat")
}

func TestSpoonsAreForWhatIsMeasuredByTheSpoon(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{
		{Name: "Mica", Stage: additive.Trace, Basis: additive.GramsPerBatch, Rate: 0.6, GramsPerTsp: 1.7, Density: 2.8},
		{Name: "Sea salt", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 50, GramsPerTsp: 5.7, Density: 2.16},
		{Name: "Kaolin clay", Stage: additive.InFats, Basis: additive.TbspPerLbFats, Rate: 1, GramsPerTsp: 2.4, Density: 2.6},
	}
	r := request(f, plan.Target{FatsG: 907.18})
	r.Resolution = 1
	p, err := plan.Make(r)
	require.NoError(t, err)
	notes, grams := map[string]string{}, map[string]float64{}
	for _, s := range plan.Sheet(r, p) {
		for _, i := range s.Items {
			notes[i.Name], grams[i.Name] = i.Note, i.Target
		}
	}
	assert.Contains(t, notes["Mica"], "⅜ tsp", "0.6 g are not the 1 g that a coarse scale shows")
	assert.NotContains(t, notes["Sea salt"], "sp", "nobody measures eighty spoons of salt")
	assert.InDelta(t, 14, grams["Kaolin clay"], 0.5, "two pounds, two tablespoons of three teaspoons")
	assert.Contains(t, notes["Kaolin clay"], "2 tbsp")
}
