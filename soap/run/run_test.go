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
		Water: recipe.Water{
			Basis: recipe.LyeStrength,
			Value: 33,
		}, Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}}
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: 20,
		Target:  plan.Target{FatsG: 1000},
		Scales:  plan.Scales{Resolution: 0.1},
	}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return r, plan.Sheet(r, p)
}

// in is a pot with weights of which no more will come.
func in(grams map[plan.Key]float64) run.Pot {
	p := run.Pot{Grams: grams, Closed: map[plan.Key]bool{}}
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

	for lyeG, level := range map[float64]caution.Level{127: caution.Advice, 125: caution.Warn, 131.5: caution.Warn,
		133.5: caution.Block} {
		j := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": lyeG}))
		assert.InDelta(t, 100*(1-lyeG/135.45), j.Superfat, 0.02)
		require.NotNil(t, j.Off, "%v g", lyeG)
		assert.Equal(t, level, j.Off.Level, "%v g of lye", lyeG)
	}
}

func TestTheRemedyForTooMuchLyeIsExact(t *testing.T) {
	f, sheet := bench(t, 5)
	j := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": 138}))
	require.NotNil(t, j.Off)
	more := j.AddFats()
	require.Len(t, more, 1)
	fixed := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": 138, "fat:olive-oil": 1000 + more[0].Grams}))
	assert.InDelta(t, j.Planned, fixed.Superfat, 1e-9)
}

// 100 g of the oil left out and 8 g too much lye: first the 100 g, by their name,
// and only what then is still needed of the blend.
func TestWhatIsMissingIsNamedBeforeAnyBlend(t *testing.T) {
	f, sheet := bench(t, 5)
	j := run.Judge(f, sheet, in(map[plan.Key]float64{"fat:olive-oil": 900}))
	require.True(t, j.Heavy)
	assert.InDelta(t, 100, run.Judge(f, sheet, in(map[plan.Key]float64{"fat:olive-oil": 900})).Missing[0].Grams, 0.1)
	assert.Empty(t, j.Blend)
	assert.Contains(t, j.Off.Remedy, "what is missing (100.0 g Olive oil)")
	assert.NotContains(t, j.Off.Remedy, "blend")
	both := run.Judge(f, sheet, in(map[plan.Key]float64{"fat:olive-oil": 900, "alkali:naoh": 136.7}))
	assert.InDelta(t, 100, both.Missing[0].Grams, 1e-9)
	assert.InDelta(t, 1000*8/128.7, both.Blend[0].Grams, 0.5)
}

// 12 g of the lye left out: 12 g in 24 g of water bring the superfat back.
func TestTooLittleLyeIsGivenItsAmountAsASolution(t *testing.T) {
	f, sheet := bench(t, 5)
	whole := sheet[0].Items[1].Target
	j := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": whole - 12}))
	assert.Equal(t, caution.Warn, j.Off.Level)
	assert.Contains(t, j.Off.Remedy, "12.0 g of NaOH in 24.0 g of water")
	fixed := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": whole - 12 + j.Lye.NaOH}))
	assert.InDelta(t, j.Planned, fixed.Superfat, 1e-9)
	assert.Empty(t, run.Solution{}.Words())
}

func TestASaltBarIsMeantToHaveTwentyPercent(t *testing.T) {
	f, sheet := bench(t, 20)
	assert.Nil(t, run.Judge(f, sheet, run.Pot{}).Off)
	j := run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": 123}))
	assert.InDelta(t, 9.2, j.Superfat, 0.1)
	assert.False(t, j.Heavy, "9 % of superfat burns nobody")
	assert.Equal(t, caution.Warn, j.Off.Level, "but it is less than half of what was meant")
	assert.True(t, run.Judge(f, sheet, in(map[plan.Key]float64{"alkali:naoh": 133.5})).Heavy, "1.4 % does, in any bar")
}

// Liquid soap is meant to have no superfat; a scale of a gram may put it a few
// tenths below that, which stops nothing; three percent too much lye is lye-heavy.
func TestLiquidSoapIsNotStoppedByTheRoundingOfTheScale(t *testing.T) {
	for step, size := range map[float64]float64{0.1: 1000, 1: 500} {
		r, _ := bench(t, 0)
		r.Formula.Alkali.NaOHPercent = 0
		r.Formula.Water.Value = 30
		r.Scales.Resolution, r.Target.FatsG = step, size
		p, err := plan.Make(r)
		require.NoError(t, err)
		sheet := plan.Sheet(r, p)
		assert.Nil(t, run.Judge(r, sheet, run.Pot{}).Off)
		koh := sheet[0].Items[1]
		require.EqualValues(t, "alkali:koh", koh.Key)
		within := run.Judge(r, sheet, in(map[plan.Key]float64{koh.Key: koh.Target + koh.Tolerance}))
		assert.False(t, within.Heavy, "within the tolerance of the sheet: %v", within.Superfat)
		assert.True(t, run.Judge(r, sheet, in(map[plan.Key]float64{koh.Key: koh.Target * 1.03})).Heavy)
	}
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
	assert.Equal(
		t,
		[]int{-1, 0, 0, 0, 1},
		[]int{
			run.InTolerance(i, 490),
			run.InTolerance(i, 497.5),
			run.InTolerance(i, 501),
			run.InTolerance(i, 502.5),
			run.InTolerance(i, 510),
		},
	)
}
