package additive_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/additive"
)

// g of NaOH that a gram takes up: 3 × 39.997/192.12 of citric acid, 1 × 39.997/60.05 × 5 %
// of vinegar, and so on.
func TestAnAcidIsKnownByAnyOfItsNames(t *testing.T) {
	for name, want := range map[string]float64{
		"Citric acid": 0.6246, "citric acid, food grade": 0.6246, "Citric": 0.6246, "E330 (citric)": 0.6246,
		"Citric acid (anhydrous)": 0.625,
		"Citric acid monohydrate": 0.5710, "Lemon juice": 0.0344, "Juice of lemons": 0.0344, "apple cider vinegar": 0.0333,
		"Vinegar, 6 %": 0.0400, "Vinegar (5 %)": 0.0333,
		"Lactic acid 80 %": 0.3552, "Lactic acid, 88 %": 0.3907, "lactic acid 80%": 0.3552, "Vitamin C": 0.2271,
		"Baking soda": 0.4761, "Cream of Tartar": 0.2125,
		"Disodium EDTA": 0.2149, "EDTA, disodium": 0.2149, "Glycolic acid 70 %": 0.3682, "tartaric acid": 0.5330,
		"Lactic acid 8,5 %": 0.0377,
	} {
		lye, known, ask := additive.Acid(name)
		assert.True(t, known, name)
		assert.False(t, ask, name)
		assert.InDelta(t, want, lye, 0.0005, name)
	}
	for _, name := range []string{"Tetrasodium EDTA", "Sodium citrate", "Sodium lactate", "Sodium gluconate 60 %", "Hyaluronic acid"} {
		lye, known, ask := additive.Acid(name)
		assert.True(t, known && !ask, name)
		assert.Zero(t, lye, name)
	}
	for _, name := range []string{"Placid waters", "Lemon verbena", "Sea salt and sage", "Acidophilus", "Kaolin clay",
		"Juicy pear", "Stearic acid", "Lemongrass", "Lime leaf"} {
		lye, known, ask := additive.Acid(name)
		assert.False(t, known && lye > 0, name)
		assert.False(t, ask, name)
	}
	for _, name := range []string{"Boswellic acid", "Pear juice", "EDTA", "Fruit acids"} {
		_, known, ask := additive.Acid(name)
		assert.True(t, !known && ask, "%s is asked about", name)
	}
}
