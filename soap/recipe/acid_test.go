package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

// sourSoap is a kilo of olive oil at 5 % superfat, with one liquid in place of water.
func sourSoap(t *testing.T, slug string, strength float64) recipe.Formula {
	t.Helper()
	f := soap(t, 5, strength, shares{"olive-oil": 100})
	l, ok := liquid.BySlug(slug)
	require.True(t, ok)
	f.Liquids = []recipe.Liquid{{Liquid: l, Percent: 100, Carries: true}}
	require.Empty(t, f.Check())
	return f
}

// A kilo of olive oil at SAP 190 and 5 % superfat takes 1000 × 0.190 × 0.95 × 39.997 ÷ 56.1056 =
// 128.68 g of NaOH. At 33 % the liquid is 67/33 of the lye; a gram of vinegar of 5 % takes up
// 0.0333 g, so that the lye is 128.68 ÷ (1 − 0.0333 × 67/33) = 138.01 g.
func TestVinegarInPlaceOfWaterIsPaidForInLye(t *testing.T) {
	water, vinegar := sourSoap(t, "water", 33), sourSoap(t, "vinegar", 33)
	assert.InDelta(t, 128.68, water.AmountsFor(1000).NaOH, 0.01)
	a := vinegar.AmountsFor(1000)
	assert.InDelta(t, 138.01, a.NaOH, 0.01)
	assert.InDelta(t, a.NaOH*67/33, a.Liquid, 1e-6)
	assert.InDelta(t, 5, vinegar.SuperfatOf(a), 1e-9, "the superfat is as asked for")
	assert.InDelta(t, 9.33, vinegar.AcidTake(a), 0.01)
	said := false
	for _, c := range vinegar.Advise(5, a) {
		said = said || c.Code == "additive.acid-counted"
	}
	assert.True(t, said)
}

func TestALiquidThatTakesMoreThanItCarriesIsNoSoap(t *testing.T) {
	f := sourSoap(t, "vinegar", 33)
	f.Liquids[0].Liquid.Lye = 0.5
	require.NotEmpty(t, f.Check().At("liquids"), "0.5 × 67/33 is more than one")
	f.Liquids[0].Liquid.Lye = 0.4
	require.Empty(t, f.Check())
	assert.InDelta(t, 5, f.SuperfatOf(f.AmountsFor(1000)), 1e-6)
}

func TestTheSuperfatIsAsAskedForWhateverIsSour(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		f := sourSoap(t, rapid.SampledFrom([]string{"vinegar", "yoghurt", "buttermilk", "wine", "fruit-puree"}).Draw(rt, "liquid"),
			rapid.Float64Range(12, 50).Draw(rt, "strength"))
		fats := rapid.Float64Range(10, 50_000).Draw(rt, "fats")
		a := f.AmountsFor(fats)
		adds, _ := f.AddedFat(a)
		require.InDelta(rt, 5, f.SuperfatOf(a)-adds, 1e-6)
		twice := f.AmountsFor(2 * fats)
		require.InDelta(rt, 2*a.NaOH, twice.NaOH, 1e-6*a.NaOH, "scaling is linear")
	})
}

// The 9.33 g of lye that vinegar takes up are 0.233 mol and give 12.8 kJ: some 9 °C in the 418 g of
// such a jug, which hold about 3.4 J a gram and degree.
func TestWhatIsSourHeatsTheJugBesides(t *testing.T) {
	peak := func(slug string) float64 {
		f := sourSoap(t, slug, 33)
		s, frozen := f.Jug(f.AmountsFor(1000))
		return lye.PeakDry(s, 20, frozen)
	}
	assert.InDelta(t, 9, peak("vinegar")-peak("water"), 1)
	f := soap(t, 5, 33, shares{"olive-oil": 100})
	f.Additives = []additive.Use{extra("Citric acid", additive.InLiquid, 2).Takes(nil)}
	s, _ := f.Jug(f.AmountsFor(1000))
	assert.InDelta(t, 20*0.625, s.Taken, 1e-9)
	f.Additives[0].Stage = additive.Trace
	s, _ = f.Jug(f.AmountsFor(1000))
	assert.Zero(t, s.Taken, "at trace it heats no jug")
}
