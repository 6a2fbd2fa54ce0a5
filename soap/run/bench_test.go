package run_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
)

// aDay is a day with one pair of hands and one of each thing but jugs and pots.
func aDay(batches []timetable.Batch, calm int) timetable.Day {
	return timetable.Day{Start: 540, End: 1200, Batches: batches, Resources: map[string]int{run.Hands: 1, run.Scale: 1, run.Blender: 1,
		run.Heat: 1, run.JugAway: 3, run.PotAway: 3, run.Quiet: len(batches), run.Calm: calm}}
}

// What hurries meets its lye only when all others are in their molds, wherever it stands in the order of the day.
func TestWhatHurriesComesLast(t *testing.T) {
	fast := workOf(t, func(f *recipe.Formula) {
		f.Additives = append(f.Additives, additive.Use{Name: "Clove leaf", Scent: true, Stage: additive.Trace, Behaviour: additive.Seizes,
			Basis: additive.PercentOfFats, Rate: 2, Density: 1})
	}).Work("Clove", 20, 3, nil)
	calm := workOf(t, nil)
	batches := []timetable.Batch{fast, calm.Work("A", 20, 3, nil), calm.Work("B", 20, 3, nil)}
	ordered, n := run.HurriesLast(batches, map[string]bool{"Clove": true}, 540)
	require.Equal(t, 2, n)
	d := aDay(ordered, n)
	require.NoError(t, d.Check().Err())
	at := map[string]timetable.Placed{}
	p := timetable.Lay(d)
	require.Empty(t, p.Late)
	for _, s := range p.Steps {
		at[s.Batch+s.Name] = s
	}
	for _, other := range []string{"A", "B"} {
		assert.GreaterOrEqual(t, at["Clove"+run.MeetWork].From, at[other+run.PourWork].To, other)
	}
	assert.Equal(t, 0, at["A"+run.ToCome].To-at["A"+run.ToCome].From)
	assert.True(t, run.Aside(run.ToCome))

	same, none := run.HurriesLast(batches[1:], map[string]bool{}, 540)
	assert.Zero(t, none)
	assert.Equal(t, batches[1:], same, "where nothing hurries nothing waits")
	alone, none := run.HurriesLast(batches[:1], map[string]bool{"Clove": true}, 540)
	assert.Zero(t, none)
	assert.Equal(t, batches[:1], alone)
}

// A loaf that goes into the oven has it warm by then, and no earlier than it stays warm.
func TestTheOvenIsWarmWhenItsLoafComes(t *testing.T) {
	b := workOf(t, func(f *recipe.Formula) { f.Process.Cover = "oven" }).Work("A", 20, 1, nil)
	require.NotNil(t, stepOf(b, run.WarmWork))
	p := timetable.Lay(aDay([]timetable.Batch{b}, 0))
	require.Empty(t, p.Late)
	var warm, pour timetable.Placed
	for _, s := range p.Steps {
		switch s.Name {
		case run.WarmWork:
			warm = s
		case run.PourWork:
			pour = s
		}
	}
	assert.LessOrEqual(t, warm.To, pour.From)
	assert.LessOrEqual(t, pour.From-warm.To, 60)
	assert.Nil(t, stepOf(workOf(t, nil).Work("B", 20, 1, nil), run.WarmWork))
}

func TestABenchIsCheckedInItsOwnWords(t *testing.T) {
	b := run.Bench{Start: 540, End: 1020}.With(run.Hands, 1).With(run.Hands, 2)
	assert.Equal(t, 2, b.Count(run.Hands))
	assert.Zero(t, b.Count(run.Scale))
	assert.NoError(t, b.Check().Err())
	assert.ErrorContains(t, b.With(run.JugAway, 21).Check().Err(), "0 to 20")
	assert.ErrorContains(t, run.Bench{Start: 600, End: 600}.Check().Err(), "after it begins")
	assert.ErrorContains(t, run.Bench{Start: 600, End: 1441}.Check().Err(), "times of the day")
	assert.NotContains(t, run.Laned(), run.OvenPlace)
}
