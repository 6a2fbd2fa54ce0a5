package additive_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
)

// By hand, for 1000 g of fats and 1434 g of batter; a pound is 453.59237 g.
func TestEveryWayToGiveARateComesOutInGrams(t *testing.T) {
	for basis, want := range map[additive.Basis]float64{
		additive.PercentOfFats: 20, additive.GramsPerKgFats: 2, additive.PercentOfBatter: 28.68,
		additive.TspPerLbFats: 2 * 2.4 * 1000 / 453.59237, additive.TspPerLbBatter: 2 * 2.4 * 1434 / 453.59237, additive.GramsPerBatch: 2,
	} {
		u := additive.Use{Name: "Kaolin", Stage: additive.InFats, Basis: basis, Rate: 2, GramsPerTsp: 2.4, Density: 2.6}
		assert.InDelta(t, want, u.Grams(1000, 1434), 1e-9, "%s", basis)
		assert.InDelta(t, want/2.4, u.Spoons(u.Grams(1000, 1434)), 1e-9, "spoons follow from the grams")
		u.Portion, u.Part = "white", 0.25
		if basis != additive.GramsPerBatch {
			assert.InDelta(t, want/4, u.Grams(1000, 1434), 1e-9, "in a portion the rate counts on the portion: %s", basis)
		}
	}
}

// Half a teaspoon of mica (1.7 g a teaspoon) in twice its spoons of an oil of
// 0.911 g/ml: 0.5 × 2 × 4.93 ml × 0.911.
func TestAPowderIsStirredSmoothBySpoonsOfItsCarrier(t *testing.T) {
	u := additive.Use{
		Name:        "Mica",
		Stage:       additive.Portion,
		Basis:       additive.GramsPerBatch,
		Rate:        0.85,
		GramsPerTsp: 1.7,
		Density:     2.8,
		Disperse:    &additive.Dispersal{In: "olive-oil", Spoons: 2},
	}
	assert.InDelta(t, 4.49, u.Carrier(0.85, 0.911), 0.01)
	problems := func(spoil func(*additive.Use)) caution.Problems {
		v, d := u, *u.Disperse
		v.Disperse = &d
		spoil(&v)
		var p caution.Problems
		v.Check(&p, "x")
		return p
	}
	assert.Empty(t, problems(func(*additive.Use) {}))
	assert.NotEmpty(t, problems(func(u *additive.Use) { u.Disperse.Spoons = 0 }).At("x.disperse.spoons"))
	assert.NotEmpty(t, problems(func(u *additive.Use) { u.Disperse.Spoons = 50 }).At("x.disperse.spoons"))
	assert.NotEmpty(
		t,
		problems(func(u *additive.Use) { u.GramsPerTsp = 0 }).At("x.rate.grams_per_tsp"),
		"a spoon that was never weighed",
	)
	for grams, ok := range map[float64]bool{0: false, 0.04: false, 0.2: true, 5.7: true, 31: false} {
		var p caution.Problems
		additive.CheckSpoon(&p, "spoon", grams)
		assert.Equal(t, ok, len(p) == 0, "%v g", grams)
	}
}

func clove() additive.Scent {
	return additive.Scent{
		Name:     "Clove bud",
		Supplier: "Wendle",
		Max:      0.5,
		MaxOf:    additive.OfSoap,
		Density:  1.05,
		Stated:   additive.Behaves,
		Observed: additive.Seizes,
	}
}

func codes(list []caution.Caution) map[string]caution.Level {
	out := map[string]caution.Level{}
	for _, c := range list {
		out[c.Code] = c.Level
	}
	return out
}

// 30 g of scent on 1000 g of fats, a fifth of it clove: 6 g in 1150 g of dry
// soap are 0.52 %.
func TestASuppliersMaximumBlocksUntilTheMakerWritesWhy(t *testing.T) {
	calm := additive.Scent{Name: "Bay laurel", Max: 5, MaxOf: additive.OfFats, Density: 0.88, Stated: additive.Behaves}
	p := additive.Perfume{
		Rate:  3,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: clove(), Percent: 20}, {Scent: calm, Percent: 80}},
	}
	var problems caution.Problems
	p.Check(&problems, "scent")
	require.Empty(t, problems)
	assert.Equal(t, caution.Block, codes(p.Advise(1000, 1150, 30))["scent.maximum"])
	assert.NotContains(t, codes(p.Advise(1000, 1250, 30)), "scent.maximum", "6 g in 1250 g are 0.48 %")
	p.OverMax = "assessed at 0.8 % by our assessor, paper 12"
	assert.Equal(t, caution.Warn, codes(p.Advise(1000, 1150, 30))["scent.maximum"])
	got := codes(p.Advise(1000, 1150, 33))
	assert.Contains(t, got, "scent.strong-lye", "what the shop saw counts, not the supplier's word")
	assert.Contains(t, got, "scent.word")
	assert.NotContains(t, codes(p.Advise(1000, 1150, 28)), "scent.strong-lye")
	p.Parts[1].Max = 0
	assert.Contains(t, codes(p.Advise(1000, 1150, 28)), "scent.no-maximum")
}

func TestThePartsOfAScentAreTheWholeScent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(0, 100).Draw(t, "part")
		rate, fats := rapid.Float64Range(0.1, 6).Draw(t, "rate"), rapid.Float64Range(10, 1e5).Draw(t, "fats")
		one, two := clove(), clove()
		two.Supplier = "Carrick"
		p := additive.Perfume{
			Rate:  rate,
			Stage: additive.Trace,
			Parts: []additive.ScentPart{{Scent: one, Percent: a}, {Scent: two, Percent: 100 - a}},
		}
		sum := 0.0
		for _, u := range p.Uses() {
			sum += u.Grams(fats, fats*1.4)
		}
		require.InEpsilon(t, fats*rate/100, sum, 1e-9)
	})
}

func TestAScentThatCannotBeIsRefusedInWords(t *testing.T) {
	for path, spoil := range map[string]func(*additive.Perfume){
		"s.rate_percent_of_fats":      func(p *additive.Perfume) { p.Rate = 0 },
		"s.stage":                     func(p *additive.Perfume) { p.Stage = additive.Top },
		"s.parts":                     func(p *additive.Perfume) { p.Parts[0].Percent = 90 },
		"s.parts[0].name":             func(p *additive.Perfume) { p.Parts[0].Name = " " },
		"s.parts[0].max_percent":      func(p *additive.Perfume) { p.Parts[0].Max = 140 },
		"s.parts[0].density_g_per_ml": func(p *additive.Perfume) { p.Parts[0].Density = 0 },
		"s.parts[0].observed":         func(p *additive.Perfume) { p.Parts[0].Observed = "sings" },
	} {
		p := additive.Perfume{Rate: 3, Stage: additive.Trace, Parts: []additive.ScentPart{{Scent: clove(), Percent: 100}}}
		spoil(&p)
		var problems caution.Problems
		p.Check(&problems, "s")
		assert.NotEmpty(t, problems.At(path), "%s: %v", path, problems)
	}
}

func TestAnAdditiveThatCannotBeIsRefusedInWords(t *testing.T) {
	good := additive.Use{Name: "Oat flour", Stage: additive.Trace, Basis: additive.TspPerLbFats, Rate: 1, GramsPerTsp: 2, Density: 1.4}
	for path, spoil := range map[string]func(*additive.Use){
		"x.stage":              func(u *additive.Use) { u.Stage = "supper" },
		"x.rate.basis":         func(u *additive.Use) { u.Basis = "handfuls" },
		"x.rate.value":         func(u *additive.Use) { u.Rate = math.NaN() },
		"x.rate.grams_per_tsp": func(u *additive.Use) { u.GramsPerTsp = 0 },
		"x.behaviour":          func(u *additive.Use) { u.Behaviour = "sings" },
		"x.density_g_per_ml":   func(u *additive.Use) { u.Density = 40 },
	} {
		u := good
		spoil(&u)
		var p caution.Problems
		u.Check(&p, "x")
		assert.NotEmpty(t, p.At(path), "%s: %v", path, p)
	}
	var p caution.Problems
	good.Check(&p, "x")
	assert.Empty(t, p)
	u := additive.Use{Name: "Salt", Stage: additive.Trace, Basis: additive.PercentOfBatter, Rate: 101, Density: 2.1}
	u.Check(&p, "x")
	assert.Contains(t, p.At("x.rate.value"), "more than the batter")
}

// Whatever the table holds can be put into a recipe where it usually goes.
func TestEveryAdditiveOfTheTableCanBeUsed(t *testing.T) {
	require.NotEmpty(t, additive.Reference())
	for _, k := range additive.Reference() {
		assert.True(t, k.UsualStage().Valid(), k.Slug)
		assert.NotEqual(t, additive.Portion, k.UsualStage(), "%s goes into a soap of one colour too", k.Slug)
		var p caution.Problems
		additive.Use{
			Name:        k.Name,
			Stage:       k.UsualStage(),
			Basis:       additive.GramsPerKgFats,
			Rate:        1,
			GramsPerTsp: k.GramsPerTsp,
			Density:     k.Density,
		}.Check(
			&p,
			k.Slug,
		)
		assert.Empty(t, p, k.Slug)
		for _, key := range []string{k.Slug, k.Name} {
			found, ok := additive.Find(key)
			assert.True(t, ok)
			assert.Equal(t, k.Slug, found.Slug)
		}
	}
	_, ok := additive.Find("moonlight")
	assert.False(t, ok)
}

// "Salt" is salt, and fills as salt does: a slab of salt bars would come out short else.
func TestNamesAsPeopleSayThemFindTheirMaterial(t *testing.T) {
	for name, slug := range map[string]string{
		"salt": "sea-salt-fine", "Fine sea salt": "sea-salt-fine", "table salt": "sea-salt-fine", " Sugar ": "sugar",
		"titanium dioxide": "titanium-dioxide", "vitamin E": "tocopherol", "sodium bicarbonate": "baking-soda", "Honey": "honey",
	} {
		k, ok := additive.Find(name)
		require.True(t, ok, name)
		assert.Equal(t, slug, k.Slug, name)
	}
	assert.Equal(t, 2.16, additive.UsualDensity("salt"))
	assert.Equal(t, 1.0, additive.UsualDensity("moon dust"))
	_, ok := additive.Find("salt of the earth")
	assert.False(t, ok, "what is only like a name is not taken for it")
	seen := map[string]string{}
	for _, k := range additive.Reference() {
		for _, name := range append([]string{k.Slug, k.Name}, k.Names...) {
			key := strings.ToLower(name)
			assert.True(t, seen[key] == "" || seen[key] == k.Slug, "%s is %s and %s", name, seen[key], k.Slug)
			seen[key] = k.Slug
		}
		assert.NotEmpty(t, k.INCI, k.Slug)
	}
}

// 75 g of a blend of one, three and two parts weigh 12.5, 37.5 and 25 g, or 75 g out of one bottle.
func TestAScentIsAFixedWeightOrABottleWhereItIsSaidSo(t *testing.T) {
	part := func(name string, parts, density float64, b additive.Behaviour) additive.ScentPart {
		return additive.ScentPart{Scent: additive.Scent{Name: name, Density: density, Observed: b}, Percent: parts * 100 / 6}
	}
	p := additive.Perfume{Grams: 75, Stage: additive.Trace, Parts: []additive.ScentPart{
		part("Bay", 1, 0.9, additive.Behaves), part("Cedar", 3, 0.95, additive.Behaves), part("Clove bud", 2, 1.05, additive.Accelerates)}}
	var bad caution.Problems
	p.Check(&bad, "s")
	require.Empty(t, bad)
	grams := func() (out []float64) {
		for _, u := range p.Uses() {
			out = append(out, u.Grams(4000, 6000))
		}
		return out
	}
	assert.InDeltaSlice(t, []float64{12.5, 37.5, 25}, grams(), 1e-9, "whatever the batch weighs")
	p.Bottle = "Hedge blend"
	require.Len(t, p.Uses(), 1)
	one := p.Uses()[0]
	assert.InDelta(t, 75, one.Grams(4000, 6000), 1e-9)
	assert.Equal(t, additive.Accelerates, one.Behaviour, "as its hastiest part")
	assert.InDelta(t, 6/(1/0.9+3/0.95+2/1.05), one.Density, 1e-9)
	p.Parts[2].Max = 0.5 // of the finished soap
	var codes []string
	for _, c := range p.Advise(1000, 1200, 30) {
		codes = append(codes, c.Code)
	}
	assert.Contains(t, codes, "scent.maximum", "25 g in 1200 g, though no rate is said")
	p.Grams = -3
	bad = nil
	p.Check(&bad, "s")
	assert.NotEmpty(t, bad)
}
