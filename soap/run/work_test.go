package run_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
)

func stepOf(b timetable.Batch, name string) *timetable.Step {
	i := slices.IndexFunc(b.Steps, func(s timetable.Step) bool { return s.Name == name })
	if i < 0 {
		return nil
	}
	return &b.Steps[i]
}

// workOf is a pot of two kilos of olive and coconut oil, changed as it is said.
func workOf(t *testing.T, change func(*recipe.Formula)) run.Order {
	t.Helper()
	f := recipe.Formula{Name: "Quern base", Fats: blendOf(t, 60, 40), Alkali: lye.DefaultAlkali(), Superfat: 5,
		Water:   recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}}}
	if change != nil {
		change(&f)
	}
	require.NoError(t, f.Check().Err())
	r := plan.Request{Formula: f, Rule: plan.Computed, Target: plan.Target{FatsG: 2000}, LiquidC: 20, Scales: plan.Scales{Resolution: 0.1}}
	pot, err := plan.Make(r)
	require.NoError(t, err)
	return run.Order{Request: r, Formula: f, Pot: pot, Sheet: plan.Sheet(r, pot),
		Molds: []run.Vessel{{Name: "Loaf", Material: "lined", Count: 2, Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}}}}
}

// blendOf is olive and coconut oil in percent.
func blendOf(t *testing.T, olive, coconut float64) (b fat.Blend) {
	t.Helper()
	for slug, percent := range map[string]float64{"olive-oil": olive, "coconut-oil": coconut} {
		if one, ok := fat.BySlug(slug); ok && percent > 0 {
			b = append(b, fat.Share{Fat: one, Percent: percent})
		}
	}
	return b
}

// dayOf is a day with one of each thing, and as many quiet corners as pots.
func dayOf(batches ...timetable.Batch) timetable.Day {
	return timetable.Day{Start: 540, End: 1200, Batches: batches, Resources: map[string]int{run.Hands: 1, run.Scale: 1, run.JugAway: 2,
		run.PotAway: 2, run.Blender: 1, run.Heat: 1, run.Quiet: max(1, len(batches))}}
}

func TestAPotIsADayOfStepsThatCanBeLaid(t *testing.T) {
	b := workOf(t, nil).Work("Quern base", 20, 1, nil)
	d := dayOf(b)
	require.Empty(t, d.Check())
	p := timetable.Lay(d)
	require.Empty(t, p.Late)
	lye, cools, meets := stepOf(b, run.LyeWork), stepOf(b, run.LyeCools), stepOf(b, run.MeetWork)
	require.NotNil(t, cools)
	assert.Equal(t, run.MeetWork, lye.Keeps[run.JugAway], "a jug is away until its lye is in the fats")
	assert.Equal(t, map[string]int{run.LyeWork: 0}, cools.Within, "nothing keeps lye from cooling")
	assert.Greater(t, cools.Minutes, 20)
	assert.Greater(t, meets.Within[run.LyeCools], 5, "and it is not for ever that it is warm enough")
	warm := stepOf(workOf(t, nil).Work("x", 28, 1, nil), run.LyeCools)
	assert.Greater(t, warm.Minutes, cools.Minutes, "in a warm room it takes longer")
	for _, s := range b.Steps {
		assert.Positive(t, s.Minutes, s.Name)
	}
}

func TestWhatHurriesIsAlone(t *testing.T) {
	fast := workOf(t, func(f *recipe.Formula) {
		f.Additives = append(f.Additives, additive.Use{Name: "Clove leaf", Scent: true, Stage: additive.Trace, Behaviour: additive.Seizes,
			Basis: additive.PercentOfFats, Rate: 2, Density: 1})
	}).Work("Clove", 20, 2, nil)
	calm := workOf(t, nil).Work("Quern base", 20, 2, nil)
	quiet := func(s *timetable.Step) (n int) {
		for _, name := range s.Uses {
			if name == run.Quiet {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 2, quiet(stepOf(fast, run.PourWork)), "nothing else is hot beside it")
	assert.Equal(t, 1, quiet(stepOf(calm, run.PourWork)))
	p := timetable.Lay(dayOf(fast, calm))
	require.Empty(t, p.Late)
	at := map[string]timetable.Placed{}
	for _, s := range p.Steps {
		at[s.Batch+s.Name] = s
	}
	for _, hot := range []string{run.LyeWork, run.MeltWork, run.MeetWork, run.TraceWork, run.PourWork} {
		one, ok := at["Quern base"+hot]
		if ok {
			assert.True(t, one.To <= at["Clove"+run.MeetWork].From || one.From >= at["Clove"+run.PourWork].To, hot)
		}
	}
}

func TestASlowBatterIsBlendedInBouts(t *testing.T) {
	b := workOf(t, func(f *recipe.Formula) { f.Fats = blendOf(t, 100, 0) }).Work("Slow olive", 20, 1, nil)
	bout, rest := stepOf(b, "Blend, bout 1"), stepOf(b, "The blender rests, 1")
	require.NotNil(t, bout)
	require.NotNil(t, rest)
	assert.Empty(t, rest.Uses, "hands are free while it rests")
	assert.Nil(t, stepOf(b, run.MeltWork), "nothing is to be melted")
}

// Minutes follow the pace of the shop, and a batter that takes longer here than the table has it is blended in as many bouts
// as it needs.
func TestWorkFollowsThePaceOfTheShop(t *testing.T) {
	slow := func(part string, table float64) float64 {
		if part == run.TraceWork {
			return 40
		}
		return 2 * table
	}
	usual, own := workOf(t, nil).Work("x", 20, 1, nil), workOf(t, nil).Work("x", 20, 1, slow)
	assert.Nil(t, stepOf(usual, "Blend, bout 1"))
	assert.NotNil(t, stepOf(own, "Blend, bout 3"))
	assert.Equal(t, 2*stepOf(usual, run.FatsWork).Minutes, stepOf(own, run.FatsWork).Minutes)
	assert.Equal(t, stepOf(usual, run.MeltWork).Minutes, stepOf(own, run.MeltWork).Minutes, "fats melt at their own pace")
}

// What is done is gone, what is taken stays taken, and lye that was mixed goes on cooling whatever else is done.
func TestWhatIsLeftOfAPotBeginsWhereItStands(t *testing.T) {
	o := workOf(t, nil)
	state := run.State{Done: map[string]bool{}, Pot: run.Pot{Grams: map[plan.Key]float64{}, Closed: map[plan.Key]bool{}}}
	unknown := run.Meeting{LyeC: math.NaN(), FatsC: math.NaN()}
	fresh := o.Rest("A", 20, 1, state, unknown, 600, nil)
	assert.Equal(t, o.Work("A", 20, 1, nil), fresh, "nothing is done yet")

	for _, s := range run.Steps(o) {
		if s.Stage == run.Ready || s.Stage == run.LyeStage {
			state.Done[s.Key] = true
		}
	}
	mixed := o.Rest("A", 20, 1, state, unknown, 600, nil)
	assert.Nil(t, stepOf(mixed, run.ReadyWork))
	assert.Nil(t, stepOf(mixed, run.LyeWork))
	assert.Equal(t, map[string]string{run.JugAway: run.MeetWork}, stepOf(mixed, run.InHand).Keeps, "the jug is still away")
	cools := stepOf(mixed, run.LyeCools)
	assert.Equal(t, 600, cools.At)
	warm := o.Rest("A", 20, 1, state, run.Meeting{LyeC: 50, FatsC: 45, OK: true, Minutes: 11.2}, 600, nil)
	assert.Equal(t, 12, stepOf(warm, run.LyeCools).Minutes, "what was read says how long it still takes")
	alone := o.Rest("A", 20, 1, state, run.Meeting{LyeC: 60, FatsC: math.NaN(), Low: 38, High: 49}, 600, nil)
	assert.Less(t, stepOf(alone, run.LyeCools).Minutes, stepOf(mixed, run.LyeCools).Minutes, "or the lye alone does")
	cold := o.Rest("A", 20, 1, state, run.Meeting{LyeC: 36, FatsC: 36, OK: true}, 600, nil)
	assert.Nil(t, stepOf(cold, run.LyeCools))

	// However late it is, a pot that was begun is laid.
	d := dayOf(mixed)
	d.Start, d.Resources[run.Quiet] = 600, 1
	require.Empty(t, d.Check())
	plan := timetable.Lay(d)
	require.Empty(t, plan.Late)
	busy := timetable.Batch{Name: "B", Steps: []timetable.Step{{Name: "all hands", Minutes: 200, Uses: []string{run.Hands}}}}
	d.Batches = append([]timetable.Batch{busy}, d.Batches...)
	require.Empty(t, timetable.Lay(d).Late, "lye that became cold waits, and is not given up")

	// What went wrong in one pot takes the hands from the other, and the lye cools all the same.
	other := o.Work("B", 20, 2, nil)
	trouble := dayOf(run.Troubled(mixed, 600), other)
	trouble.Start = 600
	require.Empty(t, trouble.Check())
	laid := timetable.Lay(trouble)
	require.Empty(t, laid.Late)
	at := map[string]int{}
	for _, s := range laid.Steps {
		at[s.Batch+s.Name] = s.From
	}
	assert.Equal(t, 600, at["A"+run.LyeCools])
	for _, s := range mixed.Steps {
		if len(s.Uses) > 0 {
			assert.GreaterOrEqual(t, at["A"+s.Name], at["A"+run.TroubleWork]+20, s.Name)
		}
	}

	for _, s := range run.Steps(o) {
		state.Done[s.Key] = !s.After
	}
	poured := o.Rest("A", 20, 1, state, unknown, 600, nil)
	require.Len(t, poured.Steps, 2)
	assert.Equal(t, run.CleanWork, poured.Steps[1].Name)
	assert.Equal(t, map[string]string{run.PotAway: run.CleanWork, run.Blender: run.CleanWork}, poured.Steps[0].Keeps)
}
