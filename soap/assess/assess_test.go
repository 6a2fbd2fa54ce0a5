package assess_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/assess"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

func fig(t *testing.T) recipe.Formula {
	t.Helper()
	olive, err := fat.Find("olive oil")
	require.NoError(t, err)
	coconut, err := fat.Find("coconut oil")
	require.NoError(t, err)
	return recipe.Formula{
		Name: "Fig", Fats: fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}}, Alkali: lye.DefaultAlkali(), Superfat: 5,
		Water:     recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids:   []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Additives: []additive.Use{{Name: "Fig leaf", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 3, Density: 1}},
	}
}

func paper(limits string) assess.Assessment {
	list, _ := assess.ReadLimits(limits)
	return assess.Assessment{Reference: "A-1", On: "2026-03-01", By: "T. Orwin", Limits: list}
}

func TestARecipeIsWithinItsAssessmentOrItIsSaidWhatIsNot(t *testing.T) {
	f := fig(t)
	// A coconut oil is one by any name of the tables; water is nobody's matter.
	within := "Olive oil: 60 to 80 %\nCoconut oil: up to 30 %\nFig leaf: up to 3 %\nKaolin clay: up to 2 %"
	assert.Empty(t, paper(within).Outside(f, 0), "what may be in it need not be")
	for _, c := range []struct{ limits, says string }{
		{"Olive oil: 71 to 80 %\nCoconut oil: up to 30 %\nFig leaf: up to 3 %",
			"Olive oil is 70 % of the fats, and the assessment wants at least 71 %"},
		{"Olive oil: 60 to 80 %\nCoconut oil: up to 29.9 %\nFig leaf: up to 3 %", "and the assessment allows up to 29.9 %"},
		{"Olive oil: 60 to 80 %\nCoconut oil: up to 30 %\nFig leaf: up to 2.9 %", "Fig leaf is 3 % of the fats"},
		{"Olive oil: 60 to 80 %\nCoconut oil: up to 30 %", "Fig leaf is not in the assessment"},
	} {
		out := paper(c.limits).Outside(f, 0)
		require.Len(t, out, 1, c.limits)
		assert.Contains(t, out[0], c.says)
	}
	off := paper(within)
	off.Withdrawn = true
	assert.NotEmpty(t, off.Outside(f, 0))
}

// A rate that counts on a pot is held against the fats of that pot.
func TestALimitHoldsForThePotThatIsMade(t *testing.T) {
	f := fig(t)
	f.Additives[0].Basis, f.Additives[0].Rate = additive.GramsPerBatch, 30
	a := paper("Olive oil: 60 to 80 %\nCoconut oil: up to 30 %\nFig leaf: up to 3 %")
	assert.Empty(t, a.Outside(f, 1000))
	assert.NotEmpty(t, a.Outside(f, 900))
}

func TestTheProposedLimitsHoldTheRecipeTheyAreOf(t *testing.T) {
	f := fig(t)
	assert.Empty(t, assess.Assessment{Limits: assess.Of(f, 0)}.Outside(f, 0))
}

func TestLimitsAreReadAsTheyAreTypedAndWrongLinesAreNamed(t *testing.T) {
	list, p := assess.ReadLimits("Olive oil: 40 to 60 %\n\nFig leaf: up to 4\nTea: 1–2 %\n")
	require.Empty(t, p)
	require.Len(t, list, 3)
	assert.Equal(t, assess.Limit{Name: "Tea", Min: 1, Max: 2}, list[2])
	_, p = assess.ReadLimits("Olive oil\nFig leaf: much\nTea: 1 to some %\n: up to 3")
	assert.NotEmpty(t, p.At("line 1"))
	assert.NotEmpty(t, p.At("line 2"))
	assert.NotEmpty(t, p.At("line 3"))
	assert.NotEmpty(t, p.At("line 4"))
	for field, a := range map[string]assess.Assessment{
		"reference": {On: "2026-03-01", By: "T", Limits: list}, "on": {Reference: "A", On: "soon", By: "T", Limits: list},
		"by": {Reference: "A", On: "2026-03-01", Limits: list}, "limits": {Reference: "A", On: "2026-03-01", By: "T"},
	} {
		assert.NotEmpty(t, a.Check().At(field), field)
	}
	upside := assess.Assessment{Reference: "A", On: "2026-03-01", By: "T", Limits: []assess.Limit{{Name: "Tea", Min: 5, Max: 2}}}
	assert.NotEmpty(t, upside.Check().At("limits"))
}

func FuzzLimits(f *testing.F) {
	f.Add("Olive oil: 40 to 60 %\nFig leaf: up to 4 %")
	f.Add("a: b: 1 to 2")
	f.Fuzz(func(t *testing.T, text string) {
		list, _ := assess.ReadLimits(text)
		for _, l := range list {
			again, p := assess.ReadLimits(l.Words())
			if strings.ContainsAny(l.Name, "\r\n") || l.Min > l.Max || l.Min < 0 || l.Max > 1000 {
				continue
			}
			if len(p) > 0 || len(again) != 1 || again[0].Name != l.Name {
				t.Fatalf("%q is read as %v, %v", l.Words(), again, p)
			}
		}
	})
}
