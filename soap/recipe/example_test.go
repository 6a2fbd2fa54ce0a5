package recipe_test

import (
	"fmt"

	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

// A kilo of fats, seven tenths of it olive oil, at 5 % superfat: how much lye and water?
// By hand: 700 g × 190 and 300 g × 257 mg of potassium hydroxide for each gram, times 40.00
// over 56.11 for sodium hydroxide, times 0.95; and twice that and a little in water.
func ExampleFormula_AmountsFor() {
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	f := recipe.Formula{
		Name:     "Slow olive",
		Fats:     fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}},
		Alkali:   lye.DefaultAlkali(),
		Superfat: 5,
		Water:    recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids:  []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	if problems := f.Check(); len(problems) > 0 {
		fmt.Println(problems)
	}
	a := f.AmountsFor(1000)
	fmt.Printf("%.0f g of olive oil, %.0f g of coconut oil\n", a.Fats[0], a.Fats[1])
	fmt.Printf("%.1f g of sodium hydroxide in %.1f g of water\n", a.NaOH, a.Liquid)
	// Output:
	// 700 g of olive oil, 300 g of coconut oil
	// 142.3 g of sodium hydroxide in 288.9 g of water
}
