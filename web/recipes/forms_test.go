package recipes

import (
	"testing"

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
