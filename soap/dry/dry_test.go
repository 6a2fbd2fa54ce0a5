package dry_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/dry"
)

// weekly is a bar of a number of grams that loses a share with a time constant in days, weighed
// at the cut and then each week on a scale of tenths.
func weekly(grams, loss, tau float64, times int) dry.Case {
	c := dry.Case{Step: 0.1, Limit: 0.5}
	for k := range times {
		h := 24 + 168*float64(k)
		g := grams * (1 - loss*(1-math.Exp(-h/24/tau)))
		c.Weighings = append(c.Weighings, dry.Weighing{Hours: h, Grams: math.Round(10*g) / 10})
	}
	return c
}

// A bar of 120 g that loses 12 % with a time constant of ten days comes to 105.6 g. A week takes
// q = 1 − e^(−0.7) of what is left to go, so it is settled when 0.12 · e^(−t/10) · (q − 0.005) is
// 0.005 · 0.88: after 25.5 days.
func TestManyWeighingsFindTheCurveAndOneBadOneDoesNotTurnIt(t *testing.T) {
	c := weekly(120, 0.12, 10, 7)
	f := c.Foretell(dry.Any())
	assert.InDelta(t, 105.6, f.FinalG, 0.4)
	assert.InDelta(t, 25.5*24, f.Likely, 36)
	assert.Less(t, f.Early, f.Late)
	assert.Greater(t, f.Chance, 0.99)
	assert.False(t, f.Leans)
	assert.InDelta(t, 120*(1-0.12*(1-math.Exp(-2.0))), f.At(20*24), 0.3)
	assert.Less(t, f.WeeklyPct, 0.2)
	c.Weighings[4].Grams -= 9 // another bar on the scale
	bad := c.Foretell(dry.Any())
	assert.InDelta(t, f.FinalG, bad.FinalG, 0.5)
	assert.InDelta(t, f.Likely, bad.Likely, 48)
}

func TestOneWeighingIsAnsweredFromWhatBarsDo(t *testing.T) {
	f := weekly(120, 0.12, 10, 1).Foretell(dry.Any())
	assert.True(t, f.Leans)
	assert.InDelta(t, 0.89*120, f.FinalG, 0.04*120)
	assert.Greater(t, f.Likely, 14*24.0)
	assert.Greater(t, f.Late-f.Early, 20*24.0, "hardly anything is known")
	assert.Less(t, f.Chance, 0.1)
}

func TestFewWeighingsLeanOnEarlierLotsAndOddOnesAreCalledOut(t *testing.T) {
	var earlier []dry.Forecast
	for _, loss := range []float64{0.072, 0.069, 0.071, 0.07} {
		earlier = append(earlier, weekly(118, loss, 8, 6).Foretell(dry.Any()))
	}
	two := weekly(118, 0.07, 8, 2)
	alone, leaning := two.Foretell(dry.Any()), two.Foretell(dry.HabitOf(earlier))
	assert.True(t, alone.Leans && leaning.Leans)
	assert.Equal(t, []int{0, 4}, []int{alone.Lots, leaning.Lots})
	truth := 118 * 0.93
	assert.Less(t, math.Abs(leaning.FinalG-truth), math.Abs(alone.FinalG-truth))
	assert.Less(t, leaning.Late-leaning.Early, alone.Late-alone.Early, "and is surer")
	assert.False(t, leaning.Odd)
	assert.True(t, weekly(118, 0.17, 8, 5).Foretell(dry.HabitOf(earlier)).Odd, "one that loses twice as much is called out")
	assert.False(t, weekly(118, 0.17, 8, 5).Foretell(dry.HabitOf(earlier[:2])).Odd, "two lots are no family")
}

// Air that is known to be damp explains a bar that stands still on the scale.
func TestDampAirThatWasNotedIsTakenOff(t *testing.T) {
	c := weekly(120, 0.12, 14, 6)
	noted := c
	noted.Weighings = append([]dry.Weighing{}, c.Weighings...)
	humidity := []float64{50, 50, 50, 50, 50, 80}
	for i := range noted.Weighings {
		noted.Room = append(noted.Room, dry.Air{Hours: noted.Weighings[i].Hours, Humidity: humidity[i], Celsius: 19})
		noted.Weighings[i].Grams *= 1 + 0.0001*(humidity[i]-50)
	}
	silent := noted
	silent.Room = nil
	want := c.Foretell(dry.Any()).Likely
	with, without := noted.Foretell(dry.Any()).Likely, silent.Foretell(dry.Any()).Likely
	assert.Less(t, math.Abs(with-want), math.Abs(without-want))
}

// A bar that dries faster in warm weeks and slower in cold ones is no bar that changes its mind.
func TestWarmWeeksThatWereNotedCountForMore(t *testing.T) {
	c := dry.Case{Step: 0.1, Limit: 0.5}
	room := []float64{24, 14, 25, 12, 22, 13}
	worn, before := 0.0, 0.0
	for i, celsius := range room {
		h := 24 + 168*float64(i)
		worn += (h - before) / 24 * math.Exp(0.03*(celsius-18))
		before = h
		c.Weighings = append(c.Weighings, dry.Weighing{Hours: h, Grams: math.Round(1200*(1-0.12*(1-math.Exp(-worn/14)))) / 10})
		c.Room = append(c.Room, dry.Air{Hours: max(0, h-167), Humidity: -1, Celsius: celsius}, dry.Air{Hours: h, Humidity: -1, Celsius: celsius})
	}
	require.Empty(t, c.Check())
	silent := c
	silent.Room = nil
	const truth = 120 * 0.88
	noted := c.Foretell(dry.Any())
	assert.Less(t, math.Abs(noted.FinalG-truth), math.Abs(silent.Foretell(dry.Any()).FinalG-truth))
	for i := range c.Room {
		c.Room[i].Celsius = 21
	}
	even, same := c.Foretell(dry.Any()), silent.Foretell(dry.Any())
	assert.InDelta(t, same.Likely, even.Likely, 1e-6, "a room that is always as warm is no news")
	c.Room[3].Celsius = math.NaN()
	require.Empty(t, c.Check())
	assert.InDelta(t, same.Likely, c.Foretell(dry.Any()).Likely, 1e-6, "and one that nobody read neither")
}

// A cube of soap dries out of six faces: faster, and earlier at the end, than a slab as thin.
func TestABarOfKnownMeasuresMayDryOutOfAllItsFaces(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	c := dry.Case{Step: 0.1, Limit: 0.5, Weighings: someTruth(rng, "diffusion").weighed(rng, 3, 0.1, 0)}
	cube := c
	cube.Bar = dry.Bar{Length: 40, Width: 40, Thickness: 40}
	require.Empty(t, cube.Check())
	assert.NotEqual(t, c.Foretell(dry.Any()).Likely, cube.Foretell(dry.Any()).Likely)
}

func TestABarOnlyEverLosesItsOwnWater(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := dry.Case{Step: rapid.SampledFrom([]float64{0.1, 1}).Draw(t, "step"), Limit: rapid.Float64Range(0.1, 2).Draw(t, "limit")}
		for k := range rapid.IntRange(1, 9).Draw(t, "weighings") {
			c.Weighings = append(c.Weighings, dry.Weighing{Hours: 24 + 170*float64(k), Grams: rapid.Float64Range(5, 500).Draw(t, "grams")})
		}
		require.Empty(t, c.Check())
		f := c.Foretell(dry.Any())
		for _, v := range []float64{f.Likely, f.Early, f.Late, f.FinalG, f.WeeklyPct, f.Chance} {
			require.False(t, math.IsNaN(v) || math.IsInf(v, 0) || v < -1e-9, "%+v", f)
		}
		require.LessOrEqual(t, f.Early, f.Likely)
		require.LessOrEqual(t, f.Likely, f.Late)
		a, b := rapid.Float64Range(24, 9000).Draw(t, "a"), rapid.Float64Range(24, 9000).Draw(t, "b")
		require.LessOrEqual(t, f.At(max(a, b)), f.At(min(a, b))+1e-9)
		require.GreaterOrEqual(t, f.SettledBy(max(a, b)), f.SettledBy(min(a, b)))
	})
}

func TestWhatCannotBeWorkedWithIsSaid(t *testing.T) {
	good := weekly(120, 0.12, 10, 3)
	good.Room = []dry.Air{{Hours: 0, Humidity: 50, Celsius: 18}, {Hours: 24, Humidity: 60, Celsius: 19}}
	require.Empty(t, good.Check())
	for path, spoil := range map[string]func(*dry.Case){
		"scale_step_g":             func(c *dry.Case) { c.Step = 0 },
		"settled_percent_per_week": func(c *dry.Case) { c.Limit = math.NaN() },
		"bar.thickness_mm":         func(c *dry.Case) { c.Bar = dry.Bar{Length: 80, Width: 60} },
		"weights":                  func(c *dry.Case) { c.Weighings = nil },
		"weights[1].hours":         func(c *dry.Case) { c.Weighings[1].Hours = c.Weighings[0].Hours },
		"weights[2].grams":         func(c *dry.Case) { c.Weighings[2].Grams = -1 },
		"room[1].hours":            func(c *dry.Case) { c.Room[1].Hours = 0 },
		"room[0].humidity_percent": func(c *dry.Case) { c.Room[0].Humidity = 101 },
		"room[0].temperature_c":    func(c *dry.Case) { c.Room[0].Celsius = math.Inf(1) },
	} {
		bad := good
		bad.Weighings, bad.Room = append([]dry.Weighing{}, good.Weighings...), append([]dry.Air{}, good.Room...)
		spoil(&bad)
		assert.NotEmpty(t, bad.Check().At(path), path)
	}
}

func BenchmarkForetell(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	c := dry.Case{Step: 0.1, Limit: 0.5, Weighings: someTruth(rng, "skin and core").weighed(rng, 6, 0.1, 0.0025)}
	for b.Loop() {
		c.Foretell(dry.Any())
	}
}
