package run_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
)

func bench(t *testing.T, superfat float64) (plan.Request, []plan.Section) {
	t.Helper()
	olive, _ := fat.BySlug("olive-oil")
	f := recipe.Formula{Name: "Plain", Fats: fat.Blend{{Fat: olive, Percent: 100}}, Alkali: lye.DefaultAlkali(), Superfat: superfat,
		Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33}, Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}}
	r := plan.Request{Formula: f, Rule: plan.Computed, LiquidC: 20, Target: plan.Target{FatsG: 1000}, Scales: plan.Scales{Resolution: 0.1}}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return r, plan.Sheet(r, p)
}

// in is a pot with weights of which no more will come.
func in(grams map[string]float64) run.Pot {
	p := run.Pot{Grams: grams, Closed: map[string]bool{}}
	for key := range grams {
		p.Closed[key] = true
	}
	return p
}

// 1000 g of olive oil take 135.45 g of NaOH; at 5 % superfat 128.7 g.
func TestTheSuperfatFollowsWhatWasReallyWeighed(t *testing.T) {
	f, sheet := bench(t, 5)
	none := run.Judge(f, sheet, run.Pot{})
	assert.InDelta(t, 5, none.Superfat, 0.05, "what is still to come counts as planned")
	assert.Nil(t, none.Off)

	for lyeG, level := range map[float64]caution.Level{127: caution.Advice, 125: caution.Warn, 131.5: caution.Warn, 133.5: caution.Block} {
		j := run.Judge(f, sheet, in(map[string]float64{"alkali:naoh": lyeG}))
		assert.InDelta(t, 100*(1-lyeG/135.45), j.Superfat, 0.02)
		require.NotNil(t, j.Off, "%v g", lyeG)
		assert.Equal(t, level, j.Off.Level, "%v g of lye", lyeG)
	}
}

func TestTheRemedyForTooMuchLyeIsExact(t *testing.T) {
	f, sheet := bench(t, 5)
	j := run.Judge(f, sheet, in(map[string]float64{"alkali:naoh": 138}))
	require.NotNil(t, j.Off)
	fixed := run.Judge(f, sheet, in(map[string]float64{"alkali:naoh": 138, "fat:olive-oil": 1000 + j.AddFatG}))
	assert.InDelta(t, j.Planned, fixed.Superfat, 1e-9)
}

func TestASaltBarIsMeantToHaveTwentyPercent(t *testing.T) {
	f, sheet := bench(t, 20)
	assert.Nil(t, run.Judge(f, sheet, run.Pot{}).Off)
	j := run.Judge(f, sheet, in(map[string]float64{"alkali:naoh": 123}))
	assert.Equal(t, caution.Block, j.Off.Level, "9 % is less than half of what was meant")
}

func TestOuncesTypedForGramsAreNoticed(t *testing.T) {
	grams, likely := run.Slip(1000, 35.27)
	assert.True(t, likely)
	assert.InDelta(t, 1000, grams, 0.2)
	_, likely = run.Slip(1000, 990)
	assert.False(t, likely)
	_, likely = run.Slip(1000, 500)
	assert.False(t, likely)
}

func TestAGramOverIsWithinTolerance(t *testing.T) {
	i := plan.Item{Target: 500, Tolerance: 2.5}
	assert.Equal(t, []int{-1, 0, 0, 0, 1}, []int{run.InTolerance(i, 490), run.InTolerance(i, 497.5), run.InTolerance(i, 501), run.InTolerance(i, 502.5), run.InTolerance(i, 510)})
}
