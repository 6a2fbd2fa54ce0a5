package plan_test

import (
	"fmt"

	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// Two loaves of 25 × 8 cm, filled 6.5 cm high: what is weighed for them?
func ExampleMake() {
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	loaf := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}
	p, err := plan.Make(plan.Request{
		Formula: recipe.Formula{
			Name:     "Slow olive",
			Fats:     fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}},
			Alkali:   lye.DefaultAlkali(),
			Superfat: 5,
			Water:    recipe.Water{Basis: recipe.LyeStrength, Value: 33},
			Liquids:  []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		},
		Target:  plan.Target{Molds: []plan.MoldCount{{Mold: loaf, Count: 2}}},
		Rule:    plan.Computed,
		LiquidC: 20,
		Scales:  plan.Scales{Resolution: 1},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.0f g of batter fill %.0f ml\n", p.BatterG, p.VolumeML)
	fmt.Printf("%.0f g of fats, %.0f g of sodium hydroxide, %.0f g of water\n", p.FatsG, p.NaOH, p.LiquidG)
	// Output:
	// 2611 g of batter fill 2600 ml
	// 1824 g of fats, 260 g of sodium hydroxide, 527 g of water
}
