package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/liquid"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

func loaves(n int) plan.Target {
	return plan.Target{Molds: []plan.MoldCount{{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Count: n}}}
}

func spiced() recipe.Formula {
	f := everyday()
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{
			{Percent: 100, Scent: additive.Scent{Name: "Clove", Density: 1, Max: 9, Observed: additive.Seizes}},
		},
	}
	return f
}

func has(p plan.Plan, code string) bool {
	for _, c := range p.Cautions {
		if c.Code == code {
			return true
		}
	}
	return false
}

// Three loaves are 3900 ml. A pot of 6 litres is filled to 4.5 and takes them;
// one of 4 litres takes 3, so it is two pots, or three of whole loaves.
func TestAQuarterOfThePotStaysEmpty(t *testing.T) {
	pots := func(f recipe.Formula, v plan.Vessels, n int) plan.Plan {
		r := request(f, loaves(n))
		r.Vessels = v
		p, err := plan.Make(r)
		require.NoError(t, err)
		return p
	}
	assert.Equal(t, 1, pots(everyday(), plan.Vessels{Pot: plan.Vessel{ML: 6000}}, 3).Batches)
	assert.Equal(t, 3, pots(everyday(), plan.Vessels{Pot: plan.Vessel{ML: 4000}}, 3).Batches)
	assert.Equal(
		t,
		2,
		pots(everyday(), plan.Vessels{Pot: plan.Vessel{ML: 8000}, Jug: plan.Vessel{ML: 1100}}, 4).Batches,
		"the jug limits it too: its 825 ml are less than the lye of four loaves",
	)
	p := pots(spiced(), plan.Vessels{Pot: plan.Vessel{ML: 6000}, RiskyLoad: 60}, 3)
	assert.Equal(t, 3, p.Batches, "a scent that seizes gets 60 % of 4.5 l")
	assert.True(t, has(p, "pot.risky"))
	assert.True(
		t,
		has(pots(spiced(), plan.Vessels{Cooker: plan.Vessel{Name: "slow cooker", ML: 3000}}, 3), "pot.cooker"),
		"a seized batch would not fit the cooker",
	)
	assert.False(t, has(pots(everyday(), plan.Vessels{Cooker: plan.Vessel{ML: 3000}}, 3), "pot.cooker"))
}

func TestPotsFillAllTheMoldsAndFewAreShared(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		target := plan.Target{Molds: []plan.MoldCount{
			{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Count: rapid.IntRange(1, 9).Draw(t, "loaves")},
			{Mold: mold.Mold{Shape: mold.Water, WaterG: 110, Cavities: 12}, Count: rapid.IntRange(1, 5).Draw(t, "trays")},
		}}
		pots := rapid.IntRange(1, 6).Draw(t, "pots")
		filled := make([]float64, 2)
		for _, shares := range target.PotsToMolds(pots) {
			volume := 0.0
			for _, s := range shares {
				filled[s.Mold] += s.Count
				volume += s.Count * target.Molds[s.Mold].Mold.Volume()
			}
			require.InEpsilon(t, target.Volume()/float64(pots), volume, 1e-6, "pots are equal")
		}
		for i, m := range target.Molds {
			require.InDelta(t, float64(m.Count), filled[i], 1e-4)
		}
	})
	shares := loaves(4).PotsToMolds(2)
	assert.Equal(t, []plan.PotShare{{Mold: 0, Count: 2}}, shares[1], "whole molds to a pot")
}

// 830 g of sheep milk are used to the last gram, whatever the scale.
func TestAnIngredientIsUsedToItsLastGram(t *testing.T) {
	f := everyday()
	f.Liquids = []recipe.Liquid{row("water", 55, true), row("sheep-milk", 45, false)}
	r := request(f, plan.Target{Ingredient: &plan.Ingredient{Name: "sheep-milk", Grams: 830.4}})
	r.Resolution = 1
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 830.4, p.Liquids[1].Grams, 1e-9)
	assert.False(t, has(p, "target.left"))
	r.PotCapacity = 2000
	p, err = plan.Make(r)
	require.NoError(t, err)
	require.Greater(t, p.Batches, 1)
	assert.LessOrEqual(t, p.Liquids[1].Grams, 830.4, "never more than there is")
	assert.Greater(t, p.Liquids[1].Grams, 830.4-float64(p.Batches))
	assert.True(t, has(p, "target.left"), "and what stays over is said")
}

func TestBarsOfAWeightAreTheWholeSoap(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{salt(50)}
	r := request(f, plan.Target{SoapG: 60 * 127.5})
	r.PotLoss = 2
	r.Scraps = &plan.Scraps{Grams: 200, FatsPercent: 72, Density: 1}
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InEpsilon(t, 60*127.5, (p.BatterG+grams(p.Additives)+200)*0.98, 1e-9)
}

// What weighs little goes on the fine scale, and both keep the superfat.
func TestEachWeightIsRoundedToTheScaleThatSuits(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{{Name: "Silk", Stage: additive.InLye, Basis: additive.GramsPerBatch, Rate: 1.237, Density: 1.35}}
	r := request(f, plan.Target{FatsG: 1000})
	r.Scales = plan.Scales{Resolution: 1, FineStep: 0.01, FineMax: 200}
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 143.24, p.NaOH, 1e-9, "within what the fine scale takes")
	assert.InDelta(t, 291, p.LiquidG, 1e-9, "not within it")
	assert.InDelta(t, 1.24, p.Additives[0].Grams, 1e-9)
	r.Vessels = plan.Vessels{Jug: plan.Vessel{Name: "lye jug", Tare: 412}, Pot: plan.Vessel{Name: "pot", Tare: 1900}}
	sheet := plan.Sheet(r, p)
	require.Equal(t, "Lye jug", sheet[0].Title)
	assert.Equal(t, "lye jug", sheet[0].Vessel)
	assert.InDelta(t, 412+291, sheet[0].Items[0].Running, 1e-9)
	assert.InDelta(t, 412+291+143.24, sheet[0].Items[1].Running, 1e-9)
	assert.Equal(t, 2, sheet[0].Items[1].Decimals)
	assert.InDelta(t, 1900+300, sheet[1].Items[0].Running, 1e-9, "the pot goes on with its own tare")
	assert.InDelta(t, 1900+1000, sheet[2].Items[0].Running, 1e-9)
	assert.True(t, plan.Running(sheet))
	r.Vessels = plan.Vessels{Jug: plan.Vessel{Name: "lye jug"}}
	sheet = plan.Sheet(r, p)
	assert.Equal(t, "lye jug", sheet[0].Vessel, "it is named, weighed empty or not")
	assert.False(t, plan.Running(sheet), "without its empty weight the scale tells nothing")
}

// Beer is boiled down to two thirds and may be frozen besides: the sheet says
// both, since neither can be made up for on the day.
func TestALiquidThatIsBoiledDownAndFrozenSaysBoth(t *testing.T) {
	beer, ok := liquid.BySlug("beer")
	require.True(t, ok)
	f := everyday()
	f.Liquids = []recipe.Liquid{{Liquid: beer, Percent: 100, Carries: true, Frozen: true}}
	r := request(f, plan.Target{FatsG: 1000})
	p, err := plan.Make(r)
	require.NoError(t, err)
	note := plan.Sheet(r, p)[0].Items[0].Note
	assert.Contains(t, note, "boil "+unit.Grams(beer.Start(p.LiquidG))+" g down to this")
	assert.Contains(t, note, "frozen")
	f.Liquids[0].Liquid = liquid.Water()
	r = request(f, plan.Target{FatsG: 1000})
	p, err = plan.Make(r)
	require.NoError(t, err)
	assert.Equal(t, "frozen", plan.Sheet(r, p)[0].Items[0].Note)
}

func TestTheHabitsDifferByWhatTheyAlwaysDo(t *testing.T) {
	r := request(everyday(), loaves(2))
	habits, err := r.Habits(1)
	require.NoError(t, err)
	by := map[plan.FillRule]plan.Habit{}
	for _, h := range habits {
		by[h.Rule] = h
	}
	assert.InDelta(t, 0, by[plan.Computed].MM, 1e-6)
	assert.Zero(t, by[plan.Computed].Diff)
	assert.InDelta(t, 2600*0.9, by[plan.Times09].BatterG, 1e-6)
	assert.Less(t, by[plan.Times09].MM, -6.0, "a tenth short of 65 mm")
	assert.Greater(t, by[plan.Over09].MM, 6.0)
	assert.InDelta(t, by[plan.Over09].BatterG-by[plan.Computed].BatterG, by[plan.Over09].Diff, 1e-9)
}

func TestWhatIsNewSinceTheLastGoodLotIsListed(t *testing.T) {
	var e plan.Experience
	f := everyday()
	assert.NotEmpty(t, e.New(f, 3000), "a recipe that was never made")
	assert.Empty(t, e.New(f, 700), "but a trial is how it begins")
	e.Add(f, 1000)
	assert.Empty(t, e.New(f, 1200))
	assert.Contains(t, e.New(f, 2000)[0], "the largest so far had 1000 g")
	g := spiced()
	g.Fats, _ = g.Fats.Swap("beef-tallow", blend(map[string]float64{"lard": 100})[0].Fat)
	assert.Equal(t, []string{"Lard", "Clove"}, e.New(g, 1000))
	e.Add(g, 1000)
	g.Scent.Parts[0].Supplier = "Wendle"
	assert.Equal(t, []string{"Clove (Wendle)"}, e.New(g, 1000), "the same name from another supplier is another material")
}

func job(t *testing.T, name string, f recipe.Formula, fats float64) plan.Job {
	t.Helper()
	p, err := plan.Make(request(f, plan.Target{FatsG: fats}))
	require.NoError(t, err)
	return plan.Job{Name: name, Formula: f, Plan: p}
}

func TestADayIsAddedUpAndPutInOrder(t *testing.T) {
	olive := everyday()
	olive.Fats = blend(map[string]float64{"olive-oil": 100})
	olive.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Nettle", HerbPct: 10, Loss: 2, Overage: 5, Hours: 4}}
	jobs := []plan.Job{job(t, "spiced", spiced(), 1000), job(t, "plain", everyday(), 2000), job(t, "olive", olive, 1000)}
	by := map[string]plan.Total{}
	sum := 0.0
	for _, total := range plan.Totals(jobs) {
		by[total.Name] = total
		sum += total.Grams
	}
	assert.InDelta(t, 500+1000+1000, by["Olive oil"].Grams, 1e-9)
	assert.Equal(t, 3, by["Olive oil"].Jobs)
	assert.InDelta(t, 20, by["Clove"].Grams, 1e-9)
	whole := 0.0
	for _, j := range jobs {
		whole += j.Plan.BatterG + grams(j.Plan.Additives)
	}
	assert.InDelta(t, whole, sum, 1e-6, "nothing of a day is forgotten")
	var order []string
	for _, turn := range plan.Turns(jobs) {
		order = append(order, jobs[turn.Job].Name)
		assert.NotEmpty(t, turn.Why)
	}
	assert.Equal(t, []string{"olive", "plain", "spiced"}, order, "long traces early, what hurries last and alone")
	melts := plan.Melts(jobs)
	require.Len(t, melts, 1)
	assert.Equal(t, []int{0, 1}, melts[0].Jobs, "two soaps from one melted pot")
	assert.InDelta(t, 3000, melts[0].Grams, 1e-9)
	ready := plan.Infused(jobs)
	require.Len(t, ready, 1)
	assert.InDelta(t, 1000*1.05/0.8, ready[0].Steep.Start, 1e-9)
	assert.Len(t, plan.Lyes(jobs), 3)
}

func TestVesselsAndScalesThatCannotBeAreRefused(t *testing.T) {
	for path, spoil := range map[string]func(*plan.Request){
		"pot":                func(r *plan.Request) { r.Vessels.Pot.ML = -1 },
		"risky_load_percent": func(r *plan.Request) { r.Vessels.RiskyLoad = 140 },
		"fine_step_g":        func(r *plan.Request) { r.FineStep = 40 },
		"fine_max_g":         func(r *plan.Request) { r.FineMax = -1 },
		"target.soap_g":      func(r *plan.Request) { r.Target = plan.Target{SoapG: -4} },
		"pot_capacity_g":     func(r *plan.Request) { r.Vessels.Pot.ML = 1 },
	} {
		r := request(everyday(), loaves(1))
		spoil(&r)
		_, err := plan.Make(r)
		var p caution.Problems
		require.ErrorAs(t, err, &p, path)
		assert.NotEmpty(t, p.At(path), "%s: %v", path, p)
	}
}

// A pot that nobody named is looked for among the shop's: 9 l of batter fit none of 3.5 and 7.5 l, and a
// quarter of each stays empty.
func TestAVesselThatNobodyNamedIsLookedForAmongTheShops(t *testing.T) {
	r := plan.Request{Formula: everyday(), Rule: plan.Computed, LiquidC: 20, Target: plan.Target{FatsG: 6300}}
	p, err := plan.Make(r)
	require.NoError(t, err)
	pots := []plan.Vessel{{Name: "Small", ML: 3500}, {Name: "Big", ML: 7500}}
	jugs := []plan.Vessel{{Name: "Blue", ML: 2000}}
	codes := func(r plan.Request, pots, jugs []plan.Vessel) (out []string) {
		for _, c := range r.Fit(p, pots, jugs) {
			out = append(out, c.Code)
		}
		return out
	}
	assert.Equal(t, []string{"pot.none", "jug.none"}, codes(r, pots, jugs))
	assert.Empty(t, codes(r, []plan.Vessel{{Name: "Vat", ML: 15000}}, nil), "it fits, and nothing is known of jugs")
	r.Vessels.Pot = plan.Vessel{Name: "Small", ML: 3500}
	assert.Equal(t, []string{"jug.none"}, codes(r, pots, jugs), "what is named splits the order")
}
