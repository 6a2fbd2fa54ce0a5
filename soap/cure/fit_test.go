package cure_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/cure"
)

var firstDay = time.Date(2026, 1, 10, 9, 0, 0, 0, time.UTC)

// weighed are weighings of a bar on days, without error.
func weighed(c cure.Curve, days ...float64) []cure.Sample {
	out := make([]cure.Sample, len(days))
	for i, d := range days {
		out[i] = cure.Sample{At: cure.On(firstDay, d), Grams: c.At(d)}
	}
	return out
}

// A bar of 120 g that loses 12 % with τ of 14 days: after two weeks 63.2 % of its
// 14.4 g are gone.
func TestABarDriesAlongACurveThatFlattens(t *testing.T) {
	c := cure.Curve{StartG: 120, Loss: 0.12, Tau: 14}
	assert.InDelta(t, 105.6, c.FinalG(), 1e-9)
	assert.InDelta(t, 120-14.4*(1-1/math.E), c.At(14), 1e-9)
	assert.InDelta(t, cure.SettledLoss, c.Weekly(c.Settles()), 1e-9, "it settles when the week's loss is at the limit")
	assert.Zero(t, cure.Curve{StartG: 100, Loss: 0.001, Tau: 14}.Settles(), "a bar that hardly dries is settled")
	rapid.Check(t, func(t *rapid.T) {
		c := cure.Curve{
			StartG: 100,
			Loss:   rapid.Float64Range(0.03, 0.25).Draw(t, "loss"),
			Tau:    rapid.Float64Range(4, 60).Draw(t, "tau"),
		}
		a, b := rapid.Float64Range(0, 100).Draw(t, "a"), rapid.Float64Range(0, 100).Draw(t, "b")
		require.LessOrEqual(t, c.At(math.Max(a, b)), c.At(math.Min(a, b))+1e-9, "it never gains")
		if s := c.Settles(); s > 0 {
			require.InDelta(t, cure.SettledLoss, c.Weekly(s), 1e-6)
		}
	})
}

func TestManyWeighingsFindTheCurveAndOneBadOneDoesNotTurnIt(t *testing.T) {
	truth := cure.Curve{StartG: 118, Loss: 0.13, Tau: 12}
	samples := weighed(truth, 0, 3, 7, 14, 21, 28, 35)
	f, ok := cure.Fit(samples, 0.1, cure.Any())
	require.True(t, ok)
	assert.InDelta(t, truth.FinalG(), f.FinalG(), 0.6)
	assert.InDelta(t, truth.Settles(), f.Settled, 2)
	assert.False(t, f.Leans)
	samples[4].Grams -= 9 // another bar on the scale
	bad, _ := cure.Fit(samples, 0.1, cure.Any())
	assert.InDelta(t, f.FinalG(), bad.FinalG(), 0.5, "one bad weighing")
	assert.InDelta(t, f.Settled, bad.Settled, 2)
	_, ok = cure.Fit(nil, 0.1, cure.Any())
	assert.False(t, ok)
}

func TestFewWeighingsLeanOnEarlierLotsAndSaySo(t *testing.T) {
	truth := cure.Curve{StartG: 118, Loss: 0.07, Tau: 8}
	siblings := []cure.Curve{
		{StartG: 120, Loss: 0.072, Tau: 8.2},
		{StartG: 118, Loss: 0.069, Tau: 7.7},
		{StartG: 121, Loss: 0.071, Tau: 8},
		{StartG: 119, Loss: 0.07, Tau: 8.1},
	}
	two := weighed(truth, 0, 3)
	alone, _ := cure.Fit(two, 0.1, cure.Any())
	leaning, _ := cure.Fit(two, 0.1, cure.HabitOf(siblings))
	assert.True(t, alone.Leans && leaning.Leans)
	assert.Equal(t, []int{0, 4}, []int{alone.LeanOn, leaning.LeanOn})
	off := func(f cure.Forecast) float64 { return math.Abs(f.FinalG() - truth.FinalG()) }
	assert.Less(t, off(leaning), off(alone))
	assert.Less(t, leaning.Late-leaning.Early, alone.Late-alone.Early, "and is surer")
	assert.False(t, leaning.Odd)

	odd, _ := cure.Fit(weighed(cure.Curve{StartG: 118, Loss: 0.17, Tau: 8}, 0, 3, 7, 14, 21), 0.1, cure.HabitOf(siblings))
	assert.True(t, odd.Odd, "a lot that loses twice as much is called out")
	lonely, _ := cure.Fit(weighed(cure.Curve{StartG: 118, Loss: 0.17, Tau: 8}, 0, 3, 7, 14, 21), 0.1, cure.HabitOf(siblings[:2]))
	assert.False(t, lonely.Odd, "two lots are no family")
}

// simulated is a family of lots of one recipe with known truth: weighed at the cut
// and about weekly, on a scale that reads tenths or whole grams, now and then
// wrong by grams.
func simulated(rng *rand.Rand, lots int) (truths []cure.Curve, samples [][]cure.Sample, step float64) {
	any := cure.Any()
	loss, lnTau := any.Loss+0.028*rng.NormFloat64(), any.LnTau+0.3*rng.NormFloat64()
	step = []float64{0.1, 0.1, 1}[rng.IntN(3)]
	for range lots {
		c := cure.Curve{
			StartG: 90 + 50*rng.Float64(),
			Loss:   math.Max(0.03, loss+0.014*rng.NormFloat64()),
			Tau:    math.Exp(lnTau + 0.16*rng.NormFloat64()),
		}
		var list []cure.Sample
		weighings := 3 + rng.IntN(5)
		for k := range weighings {
			day := 7*float64(k) + rng.Float64()
			if k == 0 {
				day = 0
			}
			g := c.At(day) + 0.15*rng.NormFloat64()
			if k > 0 && rng.Float64() < 0.02 {
				g += 4 * rng.NormFloat64()
			}
			list = append(list, cure.Sample{At: cure.On(firstDay, day), Grams: math.Round(g/step) * step})
		}
		truths, samples = append(truths, c), append(samples, list)
	}
	return truths, samples, step
}

// On 500 lots of known truth the range covers the day of settling nine times in
// ten, and the forecast is off by less than a day on average.
func TestTheRangeIsHonestOnSimulatedLots(t *testing.T) {
	rng := rand.New(rand.NewPCG(20, 26))
	covered, bias, n := 0, 0.0, 0
	for range 100 {
		truths, samples, step := simulated(rng, 5)
		var known []cure.Curve
		for i, truth := range truths {
			f, ok := cure.Fit(samples[i], step, cure.HabitOf(known))
			require.True(t, ok)
			settles := truth.Settles()
			if settles >= f.Early-1e-9 && settles <= f.Late+1e-9 {
				covered++
			}
			bias += f.Settled - settles
			n++
			if len(samples[i]) >= 4 {
				known = append(known, f.Curve)
			}
		}
	}
	require.Equal(t, 500, n)
	assert.InDelta(t, 90, 100*float64(covered)/float64(n), 3, "nine in ten")
	assert.Less(t, math.Abs(bias/float64(n)), 1.0, "days")
}

func BenchmarkFit(b *testing.B) {
	samples := weighed(cure.Curve{StartG: 118, Loss: 0.12, Tau: 13}, 0, 7, 14, 21, 28, 35)
	for b.Loop() {
		cure.Fit(samples, 0.1, cure.Any())
	}
}
