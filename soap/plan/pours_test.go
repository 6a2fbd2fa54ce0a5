package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// twoColours is a salt bar in two colours: salt and scent are stirred in before it is split.
func twoColours(first float64) recipe.Formula {
	f := everyday()
	f.Additives = []additive.Use{salt(50)}
	f.Scent = &additive.Perfume{Rate: 3, Stage: additive.Trace, Parts: []additive.ScentPart{
		{Scent: additive.Scent{Name: "Bay", Density: 0.95}, Percent: 100}}}
	clay := additive.Use{Name: "Pink clay", Basis: additive.PercentOfFats, Rate: 2, Density: 2.6}
	f.Portions = []recipe.Portion{{Name: "pink", Percent: first, Colorants: []additive.Use{clay}}, {Name: "plain", Percent: 100 - first}}
	f.Design = []recipe.Step{
		{Do: recipe.Layer, Portion: "plain", Percent: 60}, {Do: recipe.Swirl}, {Do: recipe.Layer, Portion: "pink"},
		{Do: recipe.Drizzle, Portion: "plain"},
	}
	return f
}

// 1000 g of fats make 1518 g with salt: half of that is 1030 g with 500 g of salt and 30 g of scent in it, not
// half of the bare batter.
func TestAPortionIsAShareOfWhatIsInThePotThen(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := twoColours(float64(rapid.IntRange(5, 95).Draw(t, "first")))
		r := request(f, plan.Target{FatsG: rapid.Float64Range(200, 5000).Draw(t, "fats")})
		if rapid.Bool().Draw(t, "scraps") {
			r.Scraps = &plan.Scraps{Grams: 100, FatsPercent: 70, Density: 1}
			f.Portions[1].Scraps = rapid.Bool().Draw(t, "into one portion")
		}
		p, err := plan.Make(r)
		require.NoError(t, err)
		split, with := 0.0, 0.0
		for _, one := range plan.PortionsOf(f, p) {
			split, with = split+one.Grams, with+one.With
		}
		require.InEpsilon(t, p.InPot(), with, 1e-9, "the portions are the pot")
		if !f.Portions[1].Scraps {
			clay := 0.0
			for _, a := range p.Additives {
				if a.Stage == additive.Portion {
					clay += a.Grams
				}
			}
			require.InEpsilon(t, p.InPot()-clay, split, 1e-9, "what is split is all but the colours")
		}
		poured := 0.0
		sizes := plan.DesignPours(f, p, 0.97)
		for i, s := range f.DesignSteps() {
			require.Equal(t, s.Do.Pours(), sizes[i].Words() != "", "%v has its grams, if it pours", s.Do)
			poured += sizes[i].Grams
		}
		require.InEpsilon(t, 0.97*p.InPot(), poured, 1e-9, "and the pours are all that reaches the molds")
	})
	p, err := plan.Make(request(twoColours(50), plan.Target{FatsG: 1000}))
	require.NoError(t, err)
	half := plan.PortionsOf(twoColours(50), p)[0].Grams
	assert.InDelta(t, (p.BatterG+500+30)/2, half, 0.5)
}

func TestEachMoldHasItsGrams(t *testing.T) {
	loaf := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}
	slab := mold.Mold{Shape: mold.Box, Length: 300, Width: 250, Fill: 30}
	f := everyday()
	r := request(f, plan.Target{Molds: []plan.MoldCount{{Mold: loaf, Count: 2}, {Mold: slab, Count: 1}}})
	r.PotLoss = 2
	p, err := plan.Make(r)
	require.NoError(t, err)
	each := plan.MoldPours(f, p, 0.98, []float64{loaf.Volume(), slab.Volume()}, []int{2, 1})
	assert.InEpsilon(t, 0.98*p.InPot(), 2*each[0].Grams+each[1].Grams, 1e-3)
	assert.InEpsilon(t, slab.Volume()/loaf.Volume(), each[1].Grams/each[0].Grams, 1e-9)
	more, err := plan.Make(request(f, plan.Target{FatsG: 6000}))
	require.NoError(t, err)
	full := plan.MoldPours(f, more, 1, []float64{loaf.Volume()}, []int{1})
	assert.InEpsilon(t, loaf.Volume(), full[0].ML, 1e-9, "no more than it holds")
	assert.Empty(t, plan.MoldPours(f, p, 1, []float64{0}, []int{1})[0].Words())
}

// Scraps are weighed like anything else, and what is cut counts them.
func TestScrapsAreALineOfTheSheet(t *testing.T) {
	r := request(everyday(), plan.Target{SoapG: 2000})
	r.Scraps = &plan.Scraps{Grams: 300, FatsPercent: 70, Density: 1}
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 300, plan.Targets(plan.Sheet(r, p))[plan.ScrapsKey], 1e-9)
	assert.InDelta(t, 2000, p.Whole(), 1)
	smaller, sheet, err := r.Rescaled(p, 0.8)
	require.NoError(t, err)
	assert.InDelta(t, 300, plan.Targets(sheet)[plan.ScrapsKey], 1e-9, "what is diced is diced")
	assert.Less(t, smaller.Whole(), p.Whole())
}
