package lye_test

import (
	"fmt"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
)

// A stock of half lye and half water, in a cellar at 8 °C: may it be used?
func ExampleStock_Check() {
	cellar := lye.Stock{Strength: 50, C: 8}
	var problems caution.Problems
	cellar.Check(&problems, "stock")
	fmt.Printf("crystals form at %.0f °C; it may be used: %t\n", cellar.Crystal(), len(problems) == 0)

	bench := lye.Stock{Strength: 50, C: 20}
	problems = nil
	bench.Check(&problems, "stock")
	draw := bench.Draw(100) // for 100 g of sodium hydroxide
	fmt.Printf("on the bench it may: %t; draw %.0f g of it, with %.0f g of water\n", len(problems) == 0, draw.Solution, draw.Water)
	// Output:
	// crystals form at 12 °C; it may be used: false
	// on the bench it may: true; draw 200 g of it, with 100 g of water
}
