package recipe_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// twoTones is a soap of a dark and a white portion, two to one.
func twoTones(t require.TestingT) recipe.Formula {
	f := soap(t, 5, 33, shares{"olive-oil": 60, "coconut-oil": 40})
	f.Portions = []recipe.Portion{{Name: "dark", Percent: 100 * 2 / 3.0, Tone: "charcoal"}, {Name: "white", Percent: 100 / 3.0, Tone: "white"}}
	f.Scent = &additive.Perfume{Rate: 3, Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Density: 0.95}, Percent: 100}}}
	return f
}

// gramsOf are the weights in a kilogram of fats by what they are called in the recipe.
func gramsOf(f recipe.Formula) map[string]float64 {
	out := map[string]float64{}
	a := f.AmountsFor(1000)
	for i, u := range f.Uses() {
		out[u.Key()] += a.Additives[i]
	}
	return out
}

func TestAScentGoesIntoOnePortionOrIntoEachOnItsOwn(t *testing.T) {
	f := twoTones(t)
	assert.InDelta(t, 30, gramsOf(f)["Fig"], 1e-9)
	f.Scent.Portions = []string{"white"}
	require.Empty(t, f.Check())
	assert.InDelta(t, 10, gramsOf(f)["Fig, white"], 1e-9, "a third of the fats takes a third of it")
	assert.NotContains(t, gramsOf(f), "Fig")
	f.Scent.Portions = []string{"white", "dark"}
	assert.InDelta(t, 20, gramsOf(f)["Fig, dark"], 1e-9)
	assert.Equal(t, "Fig, white", f.Uses()[0].Key(), "in the order that is said")
	f.Scent.Rate, f.Scent.Grams = 0, 75
	assert.InDelta(t, 75, gramsOf(f)["Fig, dark"]+gramsOf(f)["Fig, white"], 1e-9, "a fixed weight is shared out")
	f.Scent.Portions = []string{"green", "white", "white"}
	found := strings.Join(texts(f.Check()), "; ")
	assert.Contains(t, found, "no portion “green”")
	assert.Contains(t, found, "into “white” once")
}

func texts(list []caution.Problem) (out []string) {
	for _, p := range list {
		out = append(out, p.Text)
	}
	return out
}

func TestAPortionDroppedIntoAnotherIsPouredWithIt(t *testing.T) {
	f := twoTones(t)
	f.Design = []recipe.Step{
		{Do: recipe.Drop, Portion: "white", Into: "dark", Percent: 50},
		{Do: recipe.Layer, Portion: "dark"},
		{Do: recipe.Layer, Portion: "white"},
	}
	require.Empty(t, f.Check())
	pours := f.Pours()
	require.Len(t, pours, 2)
	assert.InDelta(t, 2/3.0+1/6.0, pours[0].Share, 1e-9)
	assert.Equal(t, []recipe.Tone{"white"}, pours[0].Dropped)
	assert.InDelta(t, 1/6.0, pours[1].Share, 1e-9)
	taken := f.Takings()
	assert.InDelta(t, 100/6.0, taken[1]["white"], 1e-9, "what was dropped goes with the pot")
	assert.Equal(t, "drop “white” into the pot of “dark”, 50 % of it", f.Design[0].Words())
	f.Design[1].Percent = 50 // of a pot that holds 5/6 of the batter by then
	assert.InDelta(t, 5/12.0, f.Pours()[0].Share, 1e-9)

	f.Design = []recipe.Step{{Do: recipe.Drop, Portion: "white", Into: "white"}, {Do: recipe.Drop, Portion: "dark", Into: "blue"}}
	assert.Len(t, f.Check(), 2, "into another pot, and one that there is")
	f.Design = []recipe.Step{{Do: recipe.Drop, Portion: "white", Into: "dark"}, {Do: recipe.Layer, Portion: "white"}}
	assert.Contains(t, texts(f.Check()), "nothing is left of “white” for this step")
}

// Whatever is dropped into whatever, no batter is lost or made: what is poured and what stays in the
// pots is the whole.
func TestBatterIsNeitherLostNorMadeByDropsAndPours(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := soap(t, 5, 33, shares{"olive-oil": 60, "coconut-oil": 40})
		f.Portions = []recipe.Portion{{Name: "a", Percent: 50}, {Name: "b", Percent: 30}, {Name: "c", Percent: 20}}
		name := rapid.SampledFrom([]string{"a", "b", "c"})
		for range rapid.IntRange(1, 6).Draw(t, "steps") {
			one := recipe.Step{Do: rapid.SampledFrom([]recipe.Act{recipe.Drop, recipe.Layer}).Draw(t, "do"), Portion: name.Draw(t, "of"),
				Into: name.Draw(t, "into"), Percent: float64(10 * rapid.IntRange(0, 10).Draw(t, "percent"))}
			f.Design = append(f.Design, one)
			if len(f.Check()) > 0 {
				f.Design = f.Design[:len(f.Design)-1]
			}
		}
		if len(f.Design) == 0 {
			return // all of it is poured without saying
		}
		poured := 0.0
		for _, p := range f.Pours() {
			poured += p.Share
		}
		unpoured := 0.0
		for _, name := range []string{"a", "b", "c"} {
			one := f
			one.Design = append(slices.Clone(f.Design), recipe.Step{Do: recipe.Layer, Portion: name})
			unpoured += one.Pours()[len(one.Pours())-1].Share
		}
		assert.InDelta(t, 1, poured+unpoured, 1e-9)
	})
}

func TestSpoonsInEachMoldGrowWithTheMoldsOfThePot(t *testing.T) {
	oats := additive.Use{Name: "Rolled oats", Stage: additive.Top, Basis: additive.TspPerMold, Rate: 3, GramsPerTsp: 2, Density: 0.4}
	f := soap(t, 5, 33, shares{"olive-oil": 60, "coconut-oil": 40}, oats)
	assert.InDelta(t, 6, gramsOf(f)["Rolled oats"], 1e-9, "a recipe by itself fills one mold")
	f.Molds = 4
	assert.InDelta(t, 24, gramsOf(f)["Rolled oats"], 1e-9)
	assert.Equal(t, f.AmountsFor(500).Additives, f.AmountsFor(2000).Additives, "whatever the batch weighs")
}

// A drizzle of mica in oil of its own: 5 g of a mica that weighs 2.5 g by the spoon are two spoons;
// in three spoons of oil each that is six spoons, 6 × 4.92892 ml × 0.911 g/ml.
func TestADrizzleIsStirredIntoOilOfItsOwnWhichCounts(t *testing.T) {
	mica := additive.Use{Name: "Gold mica", Stage: additive.Trace, Basis: additive.GramsPerBatch, Rate: 5, GramsPerTsp: 2.5, Density: 3,
		Disperse: &additive.Dispersal{In: "olive-oil", Spoons: 3, Own: true}}
	f := soap(t, 5, 33, shares{"coconut-oil": 100}, mica)
	olive, _ := fat.BySlug("olive-oil")
	a := f.AmountsFor(1000)
	assert.InDelta(t, 6*unit.MLPerTeaspoon*olive.Density, gramsOf(f)["Olive oil, for Gold mica"], 1e-9)
	assert.InDelta(t, 1000, a.FatsTotal, 1e-9, "none of it is out of the batch's own")
	assert.Empty(t, f.Apart(a))
	assert.Greater(t, f.SuperfatOf(a), 5.5, "it is fat that no lye was reckoned for")
	f.Additives[0].Stage = additive.Top
	assert.InDelta(t, 5, f.SuperfatOf(f.AmountsFor(1000)), 1e-9, "on top it meets no lye, and hides none that is too much")
	points, _ := f.AddedFat(f.AmountsFor(1000))
	assert.Zero(t, points)
	mica.Disperse.In = "no such oil"
	f.Additives = []additive.Use{mica}
	assert.NotEmpty(t, f.Check())
}

func TestWhatGoesInByEyeHasNoWeightBeforehand(t *testing.T) {
	cocoa := additive.Use{Name: "Cocoa powder", Stage: additive.Trace, Basis: additive.ByEye, Density: 1}
	f := soap(t, 5, 33, shares{"coconut-oil": 100}, cocoa)
	assert.Zero(t, gramsOf(f)["Cocoa powder"])
	f.Additives[0].Stage = additive.InLiquid
	assert.NotEmpty(t, f.Check(), "what is in the lye is weighed")
}
