package unit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/unit"
)

func TestATextOfOursReadsInTheShopsUnits(t *testing.T) {
	for metric, us := range map[string]string{
		"At up to 95 °C it steams.":                             "At up to 203 °F it steams.",
		"Between 30 and 43 °C, within 10 °C of each other.":     "Between 86 and 109 °F, within 18 °F of each other.",
		"warm, 30 to 43 °C":                                     "warm, 86 to 109 °F",
		"are more than 10 °C apart.":                            "are more than 18 °F apart.",
		"frozen liquids start at -18 °C":                        "frozen liquids start at 0 °F",
		"up to 7.4 g of citric acid":                            "up to 0.26 oz of citric acid",
		"Scoop 1200 g back":                                     "Scoop 2 lb 10.33 oz back",
		"Liner 350 × 260 mm each; mark the fill line at 65 mm.": "Liner 13.78 × 10.24 in each; mark the fill line at 2.56 in.",
		"412 g, about 400 ml":                                   "14.53 oz, about 13.5 fl oz",
		"1.032 g/ml, and 10 g per kg of fats":                   "1.032 g/ml, and 10 g per kg of fats",
		"no figure at all":                                      "no figure at all",
		"5 % superfat, 28 days, pH 9 to 10.5":                   "5 % superfat, 28 days, pH 9 to 10.5",
		"lot 12-G and 3 grades":                                 "lot 12-G and 3 grades",
		"the stock is at 8 °C, 4 °C below the 12 °C at which":   "the stock is at 46 °F, 7 °F below the 54 °F at which",
		"2.5 kg of it":                                          "5 lb 8.18 oz of it",
	} {
		assert.Equal(t, us, unit.Said(metric, unit.US), metric)
		assert.Equal(t, metric, unit.Said(metric, unit.Metric))
	}
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.String().Draw(t, "text")
		assert.Equal(t, text, unit.Said(text, unit.Metric))
		unit.Said(text, unit.US) // whatever it is, it is said or left
	})
}
