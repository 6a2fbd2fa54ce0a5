package soap_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
)

func TestEveryFatOfTheTableIsSound(t *testing.T) {
	seen := map[string]bool{}
	require.Greater(t, len(fat.Reference()), 25)
	for _, f := range fat.Reference() {
		assert.False(t, seen[f.Slug], f.Slug)
		seen[f.Slug] = true
		assert.True(t, f.SAPLow <= f.SAP && f.SAP <= f.SAPHigh, "%s: %v of %v to %v", f.Slug, f.SAP, f.SAPLow, f.SAPHigh)
		assert.True(t, f.Density >= 0.85 && f.Density < 0.97, f.Slug)
		a := f.Acids
		sum := a.CaprylicCapric + a.Lauric + a.Myristic + a.Palmitic + a.Palmitoleic + a.Stearic + a.Ricinoleic + a.Oleic +
			a.Linoleic + a.Linolenic + a.LongChain
		if f.Kind != fat.Wax {
			assert.InDelta(t, 100, sum, 9, "%s: fatty acids come to about 100 %%", f.Slug)
		}
		var p caution.Problems
		caution.SAPValue.Check(&p, "sap", "the value", f.SAP)
		caution.FatDensity.Check(&p, "density", "the density", f.Density)
		assert.NoError(t, p.Err(), f.Slug)
	}
	_, ok := fat.BySlug("moon-oil")
	assert.False(t, ok)
}

func TestEveryLiquidAndAdditiveOfTheTablesIsSound(t *testing.T) {
	assert.Equal(t, "water", liquid.Water().Slug)
	for _, l := range liquid.Reference() {
		assert.True(t, (l.Water > 55 || l.Slug == "glycerin") && l.Water+l.Fat <= 100, l.Slug)
		var p caution.Problems
		l.Check(&p, "l")
		assert.NoError(t, p.Err(), l.Slug)
		assert.Equal(t, l.Fat > 0, l.FatSAP > 0, "%s: fat has a SAP", l.Slug)
	}
	for _, a := range additive.Reference() {
		assert.True(t, a.Stage.Valid(), a.Slug)
		u := additive.Use{
			Name:        a.Name,
			Stage:       a.Stage,
			Basis:       additive.TspPerLbFats,
			Rate:        1,
			GramsPerTsp: a.GramsPerTsp,
			Density:     a.Density,
			Lye:         a.Lye,
		}
		var p caution.Problems
		u.Check(&p, "a")
		assert.NoError(t, p.Err(), a.Slug)
	}
	// One mole of citric acid (192.124 g) takes three of NaOH.
	citric, _ := additive.Find("citric-acid")
	assert.InDelta(t, 3*39.997/192.124, citric.Lye, 0.001)
}

func TestRatesComeOutInGrams(t *testing.T) {
	use := func(b additive.Basis, rate float64) float64 {
		return additive.Use{Basis: b, Rate: rate, GramsPerTsp: 2.4}.Grams(453.59237, 907.18474)
	}
	assert.InDelta(t, 2.4, use(additive.TspPerLbFats, 1), 1e-9)
	assert.InDelta(t, 4.8, use(additive.TspPerLbBatter, 1), 1e-9)
	assert.InDelta(t, 9.0718, use(additive.PercentOfFats, 2), 1e-4)
	assert.InDelta(t, 9.0718, use(additive.PercentOfBatter, 1), 1e-4)
	assert.InDelta(t, 4.5359, use(additive.GramsPerKgFats, 10), 1e-4)
	assert.InDelta(t, 7.0, use(additive.GramsPerBatch, 7), 1e-9)
}

func TestAdviceComesWithItsReason(t *testing.T) {
	codes := func(superfat float64, shares map[string]float64) []string {
		var b fat.Blend
		for slug, p := range shares {
			f, ok := fat.BySlug(slug)
			require.True(t, ok, slug)
			b = append(b, fat.Share{Fat: f, Percent: p})
		}
		var out []string
		for _, c := range b.Advise(superfat) {
			assert.NotEmpty(t, c.Reason)
			assert.NotEmpty(t, c.Remedy)
			out = append(out, c.Code)
		}
		return out
	}
	assert.Empty(t, codes(5, map[string]float64{"olive-oil": 60, "coconut-oil": 25, "beef-tallow": 15}))
	assert.Contains(t, codes(5, map[string]float64{"olive-oil": 50, "coconut-oil": 50}), "fats.coconut")
	assert.NotContains(
		t,
		codes(20, map[string]float64{"olive-oil": 20, "coconut-oil": 80}),
		"fats.coconut",
		"a high superfat makes good for it",
	)
	assert.Contains(t, codes(5, map[string]float64{"olive-oil": 80, "castor-oil": 20}), "fats.share.castor-oil")
	assert.Contains(t, codes(5, map[string]float64{"olive-oil": 50, "sunflower-oil": 50}), "fats.rancid")
	assert.Contains(t, codes(5, map[string]float64{"olive-oil": 70, "shea-butter": 15, "mango-butter": 15}), "fats.butters")
}

func TestMoldsHoldWhatGeometrySays(t *testing.T) {
	assert.InDelta(t, 1300, mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}.Volume(), 1e-9)
	assert.InDelta(t, 1043.4, mold.Mold{Shape: mold.Cylinder, Diameter: 76, Fill: 230}.Volume(), 0.05)
	assert.InDelta(t, 1344, mold.Mold{Shape: mold.Water, WaterG: 112, Cavities: 12}.Volume(), 1e-9)
	assert.InDelta(t, 1.0, recipe.EverydayDensity(), 0.02)
}
