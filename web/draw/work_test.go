package draw_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/web/draw"
)

// twoColours is a pot that is split in two and poured into two loaves and a round.
func twoColours(t *testing.T) run.Order {
	t.Helper()
	olive, _ := fat.BySlug("olive-oil")
	tallow, _ := fat.BySlug("beef-tallow")
	salt := additive.Use{Name: "Salt", Stage: additive.InLye, Basis: additive.PercentOfFats, Rate: 1, Density: 2}
	fig := additive.ScentPart{Scent: additive.Scent{Name: "Fig leaf", Density: 0.95}, Percent: 100}
	f := recipe.Formula{
		Name: "Two colours", Superfat: 5, Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33}, Alkali: lye.DefaultAlkali(),
		Fats:      fat.Blend{{Fat: tallow, Percent: 40}, {Fat: olive, Percent: 60}},
		Liquids:   []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Portions:  []recipe.Portion{{Name: "dark", Percent: 30, Tone: "charcoal"}, {Name: "pale", Percent: 70}},
		Process:   recipe.Process{Trace: "medium"},
		Scent:     &additive.Perfume{Rate: 3, Stage: additive.Trace, Parts: []additive.ScentPart{fig}},
		Additives: []additive.Use{salt},
	}
	r := plan.Request{Formula: f, Rule: plan.Computed, LiquidC: 20, Target: plan.Target{FatsG: 2000}, Scales: plan.Scales{Resolution: 1}}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return run.Order{Request: r, Formula: f, Sheet: plan.Sheet(r, p), Pot: p, Molds: []run.Vessel{
		{Name: "Long loaf", Material: "lined", Count: 2, Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}},
		{Name: "Round", Count: 1, Mold: mold.Mold{Shape: mold.Cylinder, Diameter: 76, Fill: 90}},
	}}
}

func workAt(t *testing.T, o run.Order, key string, w draw.Work) draw.Picture {
	t.Helper()
	for _, s := range run.Steps(o) {
		if s.Key == key {
			w.Order, w.Step = o, s
			p, ok := draw.OfWork(w)
			require.True(t, ok, key)
			return p
		}
	}
	require.Fail(t, "no such step", key)
	return draw.Picture{}
}

func TestEveryStepOfMakeDayIsAPictureOnItsCanvas(t *testing.T) {
	o := twoColours(t)
	bare := map[string]bool{"ready:bench": true, run.GearKey: true, "lye:stir": true, "after:clean": true, "after:tap": true}
	for _, s := range run.Steps(o) {
		p, ok := draw.OfWork(draw.Work{Order: o, Step: s, Warm: run.Meeting{LyeC: 61, FatsC: math.NaN(), Low: 35, High: 45}})
		if s.Kind == run.Weigh || s.Kind == run.Trace || bare[s.Key] {
			continue
		}
		require.True(t, ok, s.Key)
		assert.NotEmpty(t, p.Title, s.Key)
		for _, shape := range p.Shapes {
			assert.True(t, shape.X >= -1 && shape.X+shape.W <= p.W+1 && shape.Y >= -1 && shape.Y+shape.H <= p.H+1, "%s: %+v", s.Key, shape)
			assert.False(t, math.IsNaN(shape.Y+shape.Y2), "%s: %+v", s.Key, shape)
		}
	}
}

func TestThePotsStandByTheirWarmthBesideTheBandTheyMeetIn(t *testing.T) {
	o := twoColours(t)
	p := workAt(t, o, "batter:warm", draw.Work{Warm: run.Meeting{LyeC: 60, FatsC: 40, Low: 35, High: 45}})
	band, dots := of(p, "rect", "band-settled"), of(p, "circle", "found")
	require.Len(t, band, 1)
	require.Len(t, dots, 2)
	assert.Less(t, dots[0].Y, band[0].Y, "lye of 60 °C stands above the band")
	assert.InDelta(t, band[0].Y+band[0].H/2, dots[1].Y, 0.5, "fats of 40 °C in the middle of 35 to 45")
	p = workAt(t, o, "batter:warm", draw.Work{Warm: run.Meeting{LyeC: math.NaN(), FatsC: math.NaN(), Low: 35, High: 45}})
	assert.Empty(t, of(p, "circle", "found"), "nothing is drawn of a pot that nobody read")
}

func TestTraceStandsHigherTheThickerItIs(t *testing.T) {
	ribbon := math.Inf(1)
	for _, name := range lot.Traces()[1:] {
		p := draw.OfTrace(name)
		var end float64
		_, err := fmt.Sscanf(of(p, "path", "batter")[1].D[strings.Index(of(p, "path", "batter")[1].D, "V"):], "V%f", &end)
		require.NoError(t, err)
		assert.Less(t, end, ribbon, "what runs off the spoon of %s batter ends higher", name)
		ribbon = end
	}
	assert.Len(t, of(draw.OfTrace("emulsion"), "path", "ln-dash"), 1, "on an emulsion the line sinks in")
}

func TestPortionsFillAsTheyAreSplitOffEachInItsColour(t *testing.T) {
	o := twoColours(t)
	first := workAt(t, o, run.PortionKey("dark"), draw.Work{Done: map[string]bool{}})
	assert.Len(t, of(first, "rect", "tone tone-charcoal"), 1)
	assert.Empty(t, of(first, "rect", "tone tone-plain"), "the second is still empty")
	then := workAt(t, o, run.PortionKey("pale"), draw.Work{Done: map[string]bool{run.PortionKey("dark"): true}})
	require.Len(t, of(then, "rect", "tone tone-plain"), 1)
	assert.Greater(t, of(then, "rect", "tone tone-plain")[0].H, of(then, "rect", "tone tone-charcoal")[0].H, "70 % is more than 30 %")
}

func TestMoldsAreFilledOneByOne(t *testing.T) {
	o := twoColours(t)
	o.Formula.Portions = nil
	p := workAt(t, o, "fill:1", draw.Work{})
	soap := of(p, "rect", "batter")
	require.Len(t, soap, 3, "two loaves are full, the round fills")
	assert.InDelta(t, soap[0].H, soap[1].H, 1e-9)
	assert.InDelta(t, 65.0/250, soap[0].H/soap[0].W, 1e-9, "in true proportion")
	assert.InDelta(t, 90.0/2/76, soap[2].H/soap[2].W, 1e-9, "half full")
	assert.Len(t, of(workAt(t, o, "fill:0", draw.Work{}), "rect", "batter"), 2, "the round is still empty")
}
