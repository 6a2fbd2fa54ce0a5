package recipes

import (
	"math"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/document"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfARecipeIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"recipe": func(f *page.Form) any {
			b, _ := readRecipe(f, stores{System: f.System, Spoons: map[string]float64{}})
			return b
		},
		"foreign": func(f *page.Form) any { return readForeign(f) },
	})
}

// typedRecipe reads a form as the bench does.
func typedRecipe(t *testing.T, sys unit.System, pairs ...string) (document.RecipeBody, *page.Form) {
	t.Helper()
	f := &page.Form{Values: url.Values{}, System: sys}
	for i := 0; i < len(pairs); i += 2 {
		f.Set(pairs[i], pairs[i+1])
	}
	b, problems := readRecipe(f, stores{System: sys, Spoons: map[string]float64{}})
	require.Empty(t, problems)
	return b, f
}

// A recipe typed in ounces, liquids and salt too, is kept in ounces with its total and opens as it was
// typed: 112 oz of fats, 33.6 oz of water, 5.6 oz of salt.
func TestARecipeTypedInWeightsOpensInThemWithItsTotal(t *testing.T) {
	typed := []string{"name", "Big pot", "superfat_percent", "5", "water.basis", "lye-strength", "water.value", "33",
		"fats[0].fat", "olive-oil", "fats[0].percent", "72 oz", "fats[1].fat", "coconut-oil", "fats[1].percent", "40 oz",
		"liquids[0].liquid", "water", "liquids[0].percent", "33.6 oz", "liquids[0].carries_lye", "on",
		"additives[0].name", "Sea salt (fine)", "additives[0].stage", "trace", "additives[0].rate.value", "5.6 oz",
		"additives[0].rate.basis", "percent-of-fats"}
	b, _ := typedRecipe(t, unit.US, typed...)
	assert.InDelta(t, 112*unit.GramsPerOunce, b.SizeG, 1e-6)
	assert.True(t, b.InWeights)
	assert.Equal(t, recipe.Water{Basis: recipe.PercentOfFats, Value: 30}, recipe.Water{Basis: b.Formula.Water.Basis,
		Value: math.Round(b.Formula.Water.Value*1e6) / 1e6}, "the liquid's own weight says how much there is")
	assert.InDelta(t, 5, b.Formula.Additives[0].Rate, 1e-9)
	opened := recipeForm(b, stores{System: unit.US, Spoons: map[string]float64{}})
	assert.InDelta(t, b.SizeG, answersFor(opened, b).Size, 1e-6, "no other size being asked for")
	for field, want := range map[string]string{"size": "", "fats[0].percent": "72 oz", "fats[1].percent": "40 oz",
		"liquids[0].percent": "33.6 oz", "additives[0].rate.value": "5.6 oz"} {
		assert.Equal(t, want, opened.Get(field), field)
	}
	again, problems := readRecipe(opened, stores{System: unit.US, Spoons: map[string]float64{}})
	require.Empty(t, problems)
	assert.InDelta(t, b.SizeG, again.SizeG, 1e-6)
	assert.InDelta(t, b.Formula.Water.Value, again.Formula.Water.Value, 1e-6)

	mixed := &page.Form{Values: opened.Values, System: unit.US}
	mixed.Set("liquids[1].liquid", "goat-milk")
	mixed.Set("liquids[1].percent", "20")
	_, problems = readRecipe(mixed, stores{System: unit.US, Spoons: map[string]float64{}})
	assert.Contains(t, problems.At("liquids"), "type all of them the same way")
}

// A recipe in percent opens at the size it was last looked at, and in percent.
func TestARecipeInPercentOpensAtItsSize(t *testing.T) {
	b, _ := typedRecipe(t, unit.Metric, "name", "Half kilo", "size", "500 g", "superfat_percent", "5", "water.basis", "lye-strength",
		"water.value", "33", "fats[0].fat", "olive-oil", "fats[0].percent", "100", "liquids[0].liquid", "water", "liquids[0].percent", "100",
		"liquids[0].carries_lye", "on")
	opened := recipeForm(b, stores{System: unit.Metric, Spoons: map[string]float64{}})
	assert.Equal(t, "500 g", opened.Get("size"))
	assert.Equal(t, "100", opened.Get("fats[0].percent"))
	usual, _ := typedRecipe(t, unit.US, "name", "Usual", "size", "2 lb", "superfat_percent", "5", "water.basis", "lye-strength",
		"water.value", "33", "fats[0].fat", "olive-oil", "fats[0].percent", "100", "liquids[0].liquid", "water", "liquids[0].percent", "100",
		"liquids[0].carries_lye", "on")
	assert.Zero(t, usual.SizeG, "what everything opens at is no size of its own")
}

// Portions and parts of a scent are shares however they are said: 1 part to 2, 400 g and 800 g, 1/3 and
// two thirds of a hundred.
func TestSharesAreSaidAsPartsWeightsOrPercent(t *testing.T) {
	base := []string{"name", "Thirds", "superfat_percent", "5", "water.basis", "lye-strength", "water.value", "33",
		"fats[0].fat", "olive-oil", "fats[0].percent", "100", "liquids[0].liquid", "water", "liquids[0].percent", "100",
		"liquids[0].carries_lye", "on", "portions[0].name", "dark", "portions[1].name", "white", "scent.rate_percent_of_fats", "2",
		"scent.parts[0].name", "Fig", "scent.parts[1].name", "Hay"}
	for _, said := range [][2]string{{"1 part", "2 parts"}, {"400 g", "800 g"}, {"8 oz", "1 lb"}, {"1/3", "66.6667"}} {
		b, _ := typedRecipe(t, unit.Metric, append(base, "portions[0].percent", said[0], "portions[1].percent", said[1],
			"scent.parts[0].percent", said[0], "scent.parts[1].percent", said[1])...)
		assert.InDelta(t, 100/3.0, b.Formula.Portions[0].Percent, 1e-3, "%v", said)
		assert.InDelta(t, 100/3.0, b.Formula.Scent.Parts[0].Percent, 1e-3, "%v", said)
	}
	f := &page.Form{Values: url.Values{}, System: unit.Metric}
	for i := 0; i < len(base); i += 2 {
		f.Set(base[i], base[i+1])
	}
	f.Set("portions[0].percent", "400 g")
	f.Set("portions[1].percent", "60")
	f.Set("scent.parts[0].percent", "50")
	f.Set("scent.parts[1].percent", "50")
	_, problems := readRecipe(f, stores{System: unit.Metric, Spoons: map[string]float64{}})
	assert.Contains(t, problems.At("portions"), "type all of them the same way")
}
