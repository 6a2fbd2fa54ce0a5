package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/recipe"
)

// dusk is a two-colour bar: mica in its own oil, white in water, and a drizzle.
func dusk(t *testing.T) recipe.Formula {
	t.Helper()
	f := soap(t, 5, 30, shares{"olive-oil": 60, "coconut-oil": 30, "castor-oil": 10})
	colour := func(name, in string, spoons, rate, tsp, density float64) additive.Use {
		return additive.Use{
			Name:        name,
			Stage:       additive.Portion,
			Basis:       additive.TspPerLbFats,
			Rate:        rate,
			GramsPerTsp: tsp,
			Density:     density,
			Disperse:    &additive.Dispersal{In: in, Spoons: spoons},
		}
	}
	f.Portions = []recipe.Portion{
		{Name: "indigo", Percent: 60, Tone: "indigo", Colorants: []additive.Use{colour("Mica", "olive-oil", 2, 1, 1.7, 2.8)}},
		{
			Name:      "white",
			Percent:   40,
			Tone:      "white",
			Colorants: []additive.Use{colour("Titanium dioxide", additive.InWater, 1, 1, 3.5, 4.2)},
		},
	}
	f.Design = []recipe.Step{
		{Do: recipe.Layer, Portion: "indigo", Percent: 75},
		{Do: recipe.Layer, Portion: "white"},
		{Do: recipe.Swirl},
		{Do: recipe.Drizzle, Portion: "indigo"},
	}
	require.Empty(t, f.Check())
	return f
}

// By hand for 1000 g of fats: 60 % of 1000 g at a level teaspoon per pound is
// 0.6 × 1.7 × 1000/453.592 = 2.249 g of mica, 1.323 tsp; in 2 spoons of olive
// oil each, 1.323 × 2 × 4.92892 ml × 0.908 = 11.84 g. White: 0.4 × 3.5 × 2.2046
// = 3.086 g, 0.882 tsp, in 4.35 g of water.
func TestEachPortionIsColouredOnItsOwnWeight(t *testing.T) {
	f := dusk(t)
	a := f.AmountsFor(1000)
	assert.InDelta(t, 2.249, a.Additives[0], 0.001)
	assert.InDelta(t, 3.086, a.Additives[1], 0.001)
	apart := f.Apart(a)
	require.Len(t, apart, 2)
	assert.Equal(t, "olive-oil", f.Fats[apart[0].Fat].Fat.Slug)
	assert.InDelta(t, 11.84, apart[0].Grams, 0.01)
	assert.Equal(t, -1, apart[1].Fat)
	assert.InDelta(t, 4.35, apart[1].Grams, 0.01)
	plain := f
	plain.Portions, plain.Design = nil, nil
	b := plain.AmountsFor(1000)
	assert.InDelta(t, b.FatsTotal, a.FatsTotal, 1e-9, "the oil comes out of the batch's own")
	assert.InDelta(t, b.Liquid, a.Liquid, 1e-9, "and the water out of its liquid")
	assert.InDelta(t, f.CarryingWater(a), plain.CarryingWater(b)-apart[1].Grams, 1e-9, "which leaves less to carry the lye")
}

func TestWhatIsPouredIsTheWholeBatter(t *testing.T) {
	f := dusk(t)
	pours := f.Pours()
	require.Len(t, pours, 3)
	assert.InDelta(t, 0.45, pours[0].Share, 1e-9)
	assert.InDelta(t, 0.15, pours[2].Share, 1e-9, "the drizzle takes what is left")
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "portions")
		var g recipe.Formula
		for i := range n {
			g.Portions = append(g.Portions, recipe.Portion{Name: string(rune('a' + i)), Percent: 100 / float64(n)})
			if rapid.Bool().Draw(t, "in two") {
				g.Design = append(
					g.Design,
					recipe.Step{Do: recipe.Layer, Portion: string(rune('a' + i)), Percent: rapid.Float64Range(1, 99).Draw(t, "share")},
				)
			}
			g.Design = append(g.Design, recipe.Step{Do: recipe.Layer, Portion: string(rune('a' + i))})
		}
		sum := 0.0
		for _, p := range g.Pours() {
			require.GreaterOrEqual(t, p.Share, 0.0)
			sum += p.Share
		}
		require.InDelta(t, 1, sum, 1e-9)
	})
}

func TestADesignThatCannotBePouredIsRefused(t *testing.T) {
	for path, spoil := range map[string]func(*recipe.Formula){
		"portions":                             func(f *recipe.Formula) { f.Portions[0].Percent = 50 },
		"portions[1].name":                     func(f *recipe.Formula) { f.Portions[1].Name = "Indigo" },
		"design[0].do":                         func(f *recipe.Formula) { f.Design[0].Do = "juggle" },
		"design[1].portion":                    func(f *recipe.Formula) { f.Design[1].Portion = "green" },
		"design[3].percent":                    func(f *recipe.Formula) { f.Design[0].Percent = 0 },
		"portions[0].colorants[0].disperse.in": func(f *recipe.Formula) { f.Portions[0].Colorants[0].Disperse.In = "hempseed-oil" },
	} {
		f := dusk(t)
		spoil(&f)
		assert.NotEmpty(t, f.Check().At(path), "%s: %v", path, f.Check())
	}
	f := dusk(t)
	f.Portions[0].Scraps, f.Portions[1].Scraps = true, true
	assert.NotEmpty(t, f.Check().At("portions"), "scraps go into one of the portions")
	f = dusk(t)
	f.Design = f.Design[:3]
	assert.Contains(t, codes(f), "design.unpoured", "the reserved part is forgotten")
}

func TestAPowderThatWantsMoreOilThanThereIsIsSaid(t *testing.T) {
	f := dusk(t)
	for i := range f.Fats {
		switch f.Fats[i].Fat.Slug {
		case "olive-oil":
			f.Fats[i].Percent = 0.5
		case "coconut-oil":
			f.Fats[i].Percent = 89.5
		}
	}
	require.Empty(t, f.Check())
	assert.Contains(t, codes(f), "additive.dispersal")
}

func codes(f recipe.Formula) map[string]string {
	out := map[string]string{}
	a := f.AmountsFor(1000)
	for _, c := range f.Advise(f.SuperfatOf(a), a) {
		out[c.Code] = c.Text()
	}
	return out
}

func TestTwoRecipesSideBySideShowWhatDiffers(t *testing.T) {
	a, b := dusk(t), dusk(t)
	b.Superfat = 7
	b.Fats, _ = b.Fats.Swap("castor-oil", mustFat(t, "lard"))
	differs := map[string]recipe.Difference{}
	for _, d := range recipe.Compare(a, b, 1000) {
		if !d.Same {
			differs[d.What] = d
		}
	}
	assert.InDelta(t, 100, differs["Castor oil"].AG, 1e-9)
	assert.Zero(t, differs["Castor oil"].BG)
	assert.InDelta(t, 100, differs["Lard"].BG, 1e-9)
	assert.Equal(t, "7 %", differs["Superfat"].B)
	assert.Contains(t, differs, "Sodium hydroxide")
	assert.NotContains(t, differs, "Olive oil")
	for _, d := range recipe.Compare(a, a, 1000) {
		assert.True(t, d.Same, d.What)
	}
}

func mustFat(t *testing.T, slug string) fat.Fat {
	t.Helper()
	f, ok := fat.BySlug(slug)
	require.True(t, ok)
	return f
}
