package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

type shares map[string]float64

func soap(t require.TestingT, superfat, strength float64, blend shares, extras ...additive.Use) recipe.Formula {
	f := recipe.Formula{
		Name:      "x",
		Superfat:  superfat,
		Alkali:    lye.DefaultAlkali(),
		Water:     recipe.Water{Basis: recipe.LyeStrength, Value: strength},
		Liquids:   []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Additives: extras,
	}
	for _, one := range fat.Reference() {
		if p, ok := blend[one.Slug]; ok {
			f.Fats = append(f.Fats, fat.Share{Fat: one, Percent: p})
		}
	}
	require.Empty(t, f.Check())
	return f
}

// eight are made-up blends that span the field.
func eight(t *testing.T) map[string]recipe.Outlooks {
	salt := additive.Use{Name: "Sea salt", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 50, Density: 2.16}
	spice := additive.Use{
		Name:      "Clove-like blend",
		Stage:     additive.Trace,
		Basis:     additive.PercentOfFats,
		Rate:      3,
		Density:   1,
		Behaviour: additive.Accelerates,
	}
	out := map[string]recipe.Outlooks{}
	for name, f := range map[string]recipe.Formula{
		"all olive":  soap(t, 4, 33, shares{"olive-oil": 100}),
		"salt":       soap(t, 18, 32, shares{"coconut-oil": 80, "olive-oil": 15, "castor-oil": 5}, salt),
		"tallow":     soap(t, 5, 33, shares{"beef-tallow": 60, "coconut-oil": 20, "olive-oil": 15, "castor-oil": 5}),
		"everyday":   soap(t, 5, 33, shares{"olive-oil": 50, "coconut-oil": 30, "shea-butter": 10, "castor-oil": 10}),
		"seed oils":  soap(t, 5, 33, shares{"sunflower-oil": 40, "grapeseed-oil": 20, "coconut-oil": 25, "olive-oil": 15}),
		"palm":       soap(t, 5, 33, shares{"palm-oil": 45, "coconut-oil": 30, "rapeseed-oil": 25}),
		"shave":      soap(t, 5, 33, shares{"stearic-acid": 40, "beef-tallow": 30, "coconut-oil": 20, "castor-oil": 10}),
		"spiced hot": soap(t, 5, 40, shares{"palm-oil": 40, "coconut-oil": 33, "olive-oil": 27}, spice),
	} {
		out[name] = f.Judge()
	}
	return out
}

func TestBlendsAreOrderedAsMakersExpect(t *testing.T) {
	o := eight(t)
	order := func(what string, figure func(recipe.Outlooks) float64, most ...string) {
		t.Helper()
		for i := 1; i < len(most); i++ {
			a, b := figure(o[most[i-1]]), figure(o[most[i]])
			assert.Greater(t, a, b, "%s: %s before %s", what, most[i-1], most[i])
		}
	}
	order("foams quicker", func(o recipe.Outlooks) float64 { return o.Foam.Figure }, "salt", "everyday", "tallow", "all olive")
	order("foams quicker", func(o recipe.Outlooks) float64 { return o.Foam.Figure }, "palm", "seed oils", "all olive")
	order(
		"firmer at the cut",
		func(o recipe.Outlooks) float64 { return o.Early.Figure },
		"salt",
		"palm",
		"everyday",
		"seed oils",
		"all olive",
	)
	order("harder after cure", func(o recipe.Outlooks) float64 { return o.Cured.Figure }, "salt", "tallow", "everyday", "seed oils")
	order("harder after cure", func(o recipe.Outlooks) float64 { return o.Cured.Figure }, "all olive", "seed oils")
	order("spoils sooner", func(o recipe.Outlooks) float64 { return o.Keeps.Figure }, "seed oils", "everyday", "tallow")
	order("spoils sooner", func(o recipe.Outlooks) float64 { return o.Keeps.Figure }, "palm", "salt")
	order("gives more time", func(o recipe.Outlooks) float64 { return o.Time.Figure }, "all olive", "everyday", "tallow", "spiced hot")
	order("gives more time", func(o recipe.Outlooks) float64 { return o.Time.Figure }, "seed oils", "palm", "shave")
	order("dries the skin more", func(o recipe.Outlooks) float64 { return o.Skin.Figure }, "palm", "tallow", "all olive")
}

func TestOneChangeMovesTheOutlookTheRightWay(t *testing.T) {
	blend := shares{"olive-oil": 50, "coconut-oil": 30, "beef-tallow": 20}
	base := soap(t, 5, 33, blend)
	was := base.Judge()
	change := func(do func(*recipe.Formula)) recipe.Outlooks {
		f := soap(t, 5, 33, blend)
		do(&f)
		return f.Judge()
	}
	hot := change(func(f *recipe.Formula) { f.School = recipe.Hot })
	assert.Less(t, hot.Time.Figure, was.Time.Figure)
	assert.Greater(t, change(func(f *recipe.Formula) { f.School = recipe.Room }).Time.Figure, was.Time.Figure)
	assert.Less(t, change(func(f *recipe.Formula) { f.Water.Value = 40 }).Time.Figure, was.Time.Figure, "strong lye traces faster")
	assert.Less(t, change(func(f *recipe.Formula) { f.Water.Value = 25 }).Early.Figure, was.Early.Figure, "much water stays soft")
	assert.Greater(t, change(func(f *recipe.Formula) { f.Water.Value = 45 }).Early.Figure, was.Early.Figure, "strong lye is firm sooner")
	for _, hardener := range []string{"Sodium lactate", "Honey"} {
		assert.Greater(t, change(func(f *recipe.Formula) {
			f.Additives = []additive.Use{extra(hardener, additive.InLiquid, 2).Composed()}
		}).Early.Figure, was.Early.Figure, hardener)
	}
	assert.Less(t, change(func(f *recipe.Formula) { f.Process.LyeC, f.Process.FatsC = 55, 55 }).Time.Figure, was.Time.Figure,
		"what it wishes for both pots is how it is worked")
	assert.Less(t, change(func(f *recipe.Formula) { f.Superfat = 15 }).Skin.Figure, was.Skin.Figure)
	assert.Greater(t, change(func(f *recipe.Formula) { f.Superfat = 15 }).Keeps.Figure, was.Keeps.Figure)
	for _, acid := range []string{"stearic-acid", "lauric-acid", "myristic-acid", "palmitic-acid", "oleic-acid"} {
		quick := soap(t, 5, 33, shares{"olive-oil": 45, "coconut-oil": 30, "beef-tallow": 20, acid: 5})
		assert.Less(t, quick.Judge().Time.Figure, 0.65*was.Time.Figure, "%s takes up lye at once", acid)
	}
	spice := change(func(f *recipe.Formula) {
		f.School = recipe.Hot
		f.Additives = []additive.Use{
			{
				Name:      "Clove-like blend",
				Stage:     additive.Trace,
				Basis:     additive.PercentOfFats,
				Rate:      3,
				Density:   1,
				Behaviour: additive.Accelerates,
			},
		}
	})
	require.GreaterOrEqual(t, len(spice.Time.Causes), 2, "the two strongest causes are named")
	assert.Contains(t, spice.Time.Causes[0], "Clove-like blend")
	assert.Contains(t, spice.Time.Causes[1], "hot")
}

func TestWaxesAreNeverNormalisedIntoTheBlend(t *testing.T) {
	plain := soap(t, 5, 33, shares{"olive-oil": 100}).Judge()
	waxy := soap(t, 5, 33, shares{"olive-oil": 90, "jojoba-oil": 10}).Judge()
	oleic := func(o recipe.Outlooks) float64 { return o.Groups[3].Percent }
	assert.InDelta(t, 0.9*oleic(plain)+0.1*11, oleic(waxy), 1e-9)
}

func TestBothPotsAreWorkedAtWhatTheRecipeWishes(t *testing.T) {
	f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
	for _, one := range []struct{ lye, fats, low, high float64 }{
		{0, 0, 30, 43}, {55, 55, 50, 60}, {38, 46, 33, 51}, {50, 0, 30, 50}, {25, 25, 20, 30},
	} {
		f.Process.LyeC, f.Process.FatsC = one.lye, one.fats
		low, high := f.Working()
		assert.InDelta(t, one.low, low, 2.5, "%+v", one) // never so cold that coconut sets
		assert.InDelta(t, one.high, high, 1e-9, "%+v", one)
	}
	f.Process.LyeC, f.Process.FatsC = 55, 55
	assert.Equal(t, recipe.Hot, f.Worked())
	f.Process.LyeC, f.Process.FatsC = 25, 28
	assert.Equal(t, recipe.Room, f.Worked())
}

func TestShaveSoapAndPasteAreNotWarnedAsABarIs(t *testing.T) {
	f := soap(t, 4, 33, shares{"stearic-acid": 45, "coconut-oil": 40, "castor-oil": 15})
	for _, code := range []string{"fats.share.stearic-acid", "fats.share.castor-oil", "fats.coconut"} {
		assert.Contains(t, codes(f), code)
	}
	shave := f
	shave.Process.Kind = recipe.Shave
	assert.NotContains(t, codes(shave), "fats.share.stearic-acid")
	assert.NotContains(t, codes(shave), "fats.share.castor-oil")
	f.Alkali.NaOHPercent = 0
	assert.NotContains(t, codes(f), "fats.coconut")
}
