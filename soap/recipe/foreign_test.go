package recipe_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

// 1000 g at 211.5 mg KOH per g take 150.78 g NaOH in full.
func TestAStatedLyeIsRecomputed(t *testing.T) {
	fats, p := recipe.ReadFats("500 g olive oil\n- 300 g coconut\n\ntallow: 200 g\n")
	require.Empty(t, p)
	for stated, code := range map[float64]string{143: "foreign.right", 150: "foreign.lye-heavy", 160: "foreign.lye-heavy",
		120: "foreign.fat"} {
		f, err := recipe.Foreign{Fats: fats, LyeG: stated, Alkali: lye.DefaultAlkali()}.Check()
		require.NoError(t, err)
		assert.Equal(t, code, f.Verdict.Code, "%v g", stated)
		assert.InDelta(t, 150.78, f.LyeFull, 0.01)
		assert.InDelta(t, 143.24, f.LyeAt5, 0.01)
	}
	soft, err := recipe.Foreign{Fats: fats, LyeG: 235, Alkali: lye.Alkali{NaOHPercent: 0, NaOHPurity: 100, KOHPurity: 90}}.Check()
	require.NoError(t, err)
	assert.Equal(t, "foreign.right", soft.Verdict.Code, "liquid soap is meant to have none")
	assert.InDelta(t, 0, soft.Superfat, 0.1)
	_, err = recipe.Foreign{Fats: fats, Alkali: lye.DefaultAlkali()}.Check()
	var refused caution.Problems
	require.ErrorAs(t, err, &refused)
}

func TestAListOfFatsIsReadAsItIsPasted(t *testing.T) {
	fats, p := recipe.ReadFats("1 lb 2 oz of olive oil\nCoconut oil 12 oz\n100g shea\n0,5 kg lard")
	require.Empty(t, p)
	require.Len(t, fats, 4)
	assert.InDelta(t, 18*28.3495, fats[0].Percent, 0.01)
	assert.InDelta(t, 12*28.3495, fats[1].Percent, 0.01)
	assert.Equal(t, "shea-butter", fats[2].Fat.Slug)
	assert.InDelta(t, 500, fats[3].Percent, 1e-9)
	_, p = recipe.ReadFats("500 olive oil\n200 g moon oil\nsome lard")
	assert.Len(t, p, 3)
	_, p = recipe.ReadFats(" \n")
	assert.Len(t, p, 1)
}

func TestATestedRecipeIsADraftAgainOnceChanged(t *testing.T) {
	assert.Equal(t, recipe.Draft, recipe.LifeOf("", 0, 1))
	assert.Equal(t, recipe.Tested, recipe.LifeOf(recipe.Tested, 2, 2))
	assert.Equal(t, recipe.Draft, recipe.LifeOf(recipe.Tested, 2, 3))
	assert.Equal(t, recipe.Retired, recipe.LifeOf(recipe.Retired, 2, 3))
}

func FuzzAListOfFatsFromElsewhereIsReadOrRefused(f *testing.F) {
	for _, s := range []string{"500 g olive oil\nCoconut oil 1 lb 2 oz", "olive", "500", "- 1/2 oz: castor", "1 g\x00 olive oil",
		"9e99 g tallow", "500 g olive oil 500 g", "\n\n", "olive oil=20oz"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		b, p := recipe.ReadFats(s)
		if len(b) == 0 && len(p) == 0 {
			t.Fatalf("%q is neither a blend nor refused", s)
		}
		for _, one := range b {
			if !(one.Percent >= 0) || math.IsInf(one.Percent, 0) || one.Fat.SAP <= 0 {
				t.Fatalf("%q was read as %v of %v", s, one.Percent, one.Fat.Name)
			}
		}
	})
}
