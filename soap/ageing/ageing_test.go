package ageing_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/ageing"
	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

func bar(superfat float64, blend map[string]float64) recipe.Formula {
	f := recipe.Formula{
		Name: "x", Superfat: superfat, Alkali: lye.DefaultAlkali(),
		Water:   recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	for _, one := range fat.Reference() {
		if p, ok := blend[one.Slug]; ok {
			f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: p})
		}
	}
	return f
}

func lifeOf(t require.TestingT, f recipe.Formula) ageing.Life {
	require.Empty(t, f.Check())
	l, ok := ageing.Of(f, cure.Recommend(f))
	require.True(t, ok)
	return l
}

func TestABarHardensFoamsBetterAndGrowsKinderUntilItsFatsTurn(t *testing.T) {
	slugs := []string{"olive-oil", "coconut-oil", "beef-tallow", "shea-butter", "sunflower-oil", "castor-oil"}
	rapid.Check(t, func(t *rapid.T) {
		blend, left := map[string]float64{}, 100.0
		for _, slug := range slugs[1:] {
			p := float64(rapid.IntRange(1, 15).Draw(t, slug))
			blend[slug] = p
			left -= p
		}
		blend[slugs[0]] = left
		l := lifeOf(t, bar(float64(rapid.IntRange(0, 15).Draw(t, "superfat")), blend))
		a := rapid.Float64Range(l.Cut, ageing.Span-1).Draw(t, "day")
		b := rapid.Float64Range(a, ageing.Span).Draw(t, "later")
		assert.GreaterOrEqual(t, l.Firm(b), l.Firm(a))
		assert.GreaterOrEqual(t, l.Kind(b), l.Kind(a))
		assert.LessOrEqual(t, l.Fresh(b), l.Fresh(a))
		if b < l.Tires()/3 {
			assert.GreaterOrEqual(t, l.Lather(b), l.Lather(a)-1e-3)
		}
		for _, v := range []float64{l.Firm(a), l.Lather(a), l.Kind(a), l.Fresh(a)} {
			assert.True(t, v >= 0 && v <= 1, "%v", v)
		}
	})
}

func TestOliveStartsSoftAndEndsHardSlowly(t *testing.T) {
	olive, everyday := lifeOf(t, bar(4, map[string]float64{"olive-oil": 100})),
		lifeOf(t, bar(5, map[string]float64{"olive-oil": 45, "coconut-oil": 30, "beef-tallow": 20, "castor-oil": 5}))
	assert.Less(t, olive.Firm(30), everyday.Firm(30))
	assert.Greater(t, olive.Firm(365)-olive.Firm(60), 4*(everyday.Firm(365)-everyday.Firm(60)), "it goes on hardening")
	assert.Greater(t, olive.Kind(60), everyday.Kind(60))
	assert.Less(t, olive.Lather(60), everyday.Lather(60))
	assert.Equal(t, 60.0, olive.Ready)
}

// The words say how long a soap keeps; the day on which it tires agrees with them.
func TestABarTiresWhenItsWordsSay(t *testing.T) {
	for _, one := range []struct {
		sunflower   float64
		least, most float64
		words       string
	}{
		{0, 365, math.Inf(1), "keeps well over a year"},
		{20, 240, 560, "keeps about a year"},
		{36, 150, 365, "may turn rancid within the year: sell it young"},
		{70, 30, 180, "turns rancid in months: a short best-before"},
	} {
		f := bar(5, map[string]float64{"coconut-oil": 30, "beef-tallow": 70 - one.sunflower, "sunflower-oil": one.sunflower})
		require.Equal(t, one.words, f.Judge().Keeps.Words)
		tires := lifeOf(t, f).Tires()
		assert.True(t, tires >= one.least && tires <= one.most, "%s: day %v", one.words, tires)
	}
	assert.True(t, math.IsInf(ageing.Life{Dries: 1}.Tires(), 1), "nothing in it spoils")
}

func TestFreshSoapIsHarshWhateverItsFats(t *testing.T) {
	l := lifeOf(t, bar(8, map[string]float64{"olive-oil": 100}))
	assert.Less(t, l.Kind(0.5), 0.3)
	assert.Greater(t, l.Kind(28), 0.6)
}

func TestAPasteHasNoLifeOfABar(t *testing.T) {
	f := bar(3, map[string]float64{"olive-oil": 70, "coconut-oil": 30})
	f.Alkali.NaOHPercent = 0
	_, ok := ageing.Of(f, cure.Recommend(f))
	assert.False(t, ok)
}

func TestALifeIsHandedOverInALineAndNonsenseIsNone(t *testing.T) {
	l := lifeOf(t, bar(5, map[string]float64{"olive-oil": 60, "coconut-oil": 40}))
	again, ok := ageing.Parse(l.String())
	require.True(t, ok)
	assert.InDelta(t, l.Firm(40), again.Firm(40), 0.01)
	assert.Equal(t, l.String(), again.String())
	for _, bad := range []string{"", "1,2", "NaN,28,1,1,1,1,21.0,1", "1.00,28,30.0,40.0,20.0,12.0,0.0,9.0", l.String() + ",3", "1e9"} {
		_, ok := ageing.Parse(bad)
		assert.False(t, ok, bad)
	}
}
