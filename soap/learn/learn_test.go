package learn_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/learn"
)

func own(ratios ...float64) (out []learn.Seen) {
	for _, r := range ratios {
		out = append(out, learn.Seen{Ratio: r, Own: true})
	}
	return out
}

func TestWithoutLotsTheTableSpeaks(t *testing.T) {
	f := learn.Foretell(8, nil)
	assert.InDelta(t, 8, f.Mid, 1e-9)
	assert.Less(t, f.Low, 5.0)
	assert.Greater(t, f.High, 13.0)
	assert.False(t, f.Telling())
	assert.Equal(t, "8 min, 3 to 19, from no lot yet; the table says 8", f.Words())
}

func TestLotsOfARecipeSayMoreThanThoseOfOthers(t *testing.T) {
	one := learn.Foretell(8, own(2))
	many := learn.Foretell(8, own(2, 2, 2, 2, 2, 2, 2))
	assert.Greater(t, one.Mid, 9.0, "one lot that took twice as long moves it")
	assert.Less(t, one.Mid, 16.0, "and does not settle it")
	assert.InDelta(t, 15.5, many.Mid, 0.8, "seven nearly do")
	assert.Less(t, many.High-many.Low, one.High-one.Low, "and narrow the range")
	assert.Contains(t, many.Words(), "from 7 lots; the table says 8")

	var others []learn.Seen
	for range 7 {
		others = append(others, learn.Seen{Ratio: 2})
	}
	hint := learn.Foretell(8, others)
	assert.Greater(t, hint.Mid, 11.0, "a shop that takes its time takes it with another recipe as well")
	assert.Less(t, hint.Mid, many.Mid)
	assert.Contains(t, hint.Words(), "from 7 of other recipes")
	assert.Contains(t, learn.Foretell(8, append(others, own(2, 2)...)).Words(), "from 2 lots and 7 of other recipes")
}

func TestOneForgottenTimerTurnsNothing(t *testing.T) {
	calm := learn.Foretell(10, own(1, 1.1, 0.9, 1, 1.05))
	odd := learn.Foretell(10, own(1, 1.1, 0.9, 1, 1.05, 12))
	assert.InDelta(t, calm.Mid, odd.Mid, 1.0)
	assert.Equal(t, learn.Foretell(10, nil), learn.Foretell(10, own(0, -3, math.NaN(), math.Inf(1))), "what cannot be counts for nothing")
}

// A range holds what it says on shops whose truth is another than the model's: slow and fast ones, recipes far from each
// other, lots that scatter little or much, and now and then one that is far off. Printed with -v.
func TestRangesHoldOnSimulatedShops(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	normal := func(spread float64) float64 { return math.Exp(spread * r.NormFloat64()) }
	for _, kind := range []struct {
		name                 string
		shops, recipes, lots float64 // how far they are from each other
		slow                 float64 // of all shops
		odd                  float64 // share of lots that are far off
		least, most          float64 // of what falls into its range
	}{
		{"as the model has it", 0.40, 0.25, 0.30, 1, 0, 0.76, 0.86},
		{"all slower than the table", 0.20, 0.25, 0.30, 1.6, 0, 0.72, 0.90},
		{"recipes far from each other", 0.30, 0.60, 0.25, 1, 0, 0.62, 0.88},
		{"steady hands", 0.30, 0.20, 0.12, 1, 0, 0.80, 1},
		{"lots that scatter", 0.30, 0.20, 0.50, 1, 0, 0.64, 0.84},
		{"one in twelve forgotten", 0.30, 0.25, 0.25, 1, 0.08, 0.72, 0.90},
	} {
		line := fmt.Sprintf("%-28s", kind.name)
		for _, lots := range []int{0, 1, 3, 7, 15} {
			in, all := 0, 4000
			for range all {
				shop := kind.slow * normal(kind.shops)
				lot := func(recipe float64) float64 {
					v := recipe * normal(kind.lots)
					if r.Float64() < kind.odd {
						v *= 3
					}
					return v
				}
				var seen []learn.Seen
				for range 6 {
					seen = append(seen, learn.Seen{Ratio: lot(shop * normal(kind.recipes))})
				}
				recipe := shop * normal(kind.recipes)
				for range lots {
					seen = append(seen, learn.Seen{Ratio: lot(recipe), Own: true})
				}
				f := learn.Foretell(10, seen)
				next := 10 * recipe * normal(kind.lots)
				if next >= f.Low && next <= f.High {
					in++
				}
			}
			share := float64(in) / float64(all)
			line += fmt.Sprintf("  %2d lots %.2f", lots, share)
			assert.GreaterOrEqual(t, share, kind.least, "%s, %d lots", kind.name, lots)
			assert.LessOrEqual(t, share, kind.most, "%s, %d lots", kind.name, lots)
		}
		t.Log(line)
	}
}

// A range holds its figure, and twice the table is twice the figure.
func TestARangeHoldsItsFigureAndGrowsWithTheTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seen := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) learn.Seen {
			return learn.Seen{Ratio: rapid.Float64Range(0.05, 20).Draw(t, "ratio"), Own: rapid.Bool().Draw(t, "own")}
		}), 0, 20).Draw(t, "seen")
		f, twice := learn.Foretell(10, seen), learn.Foretell(20, seen)
		if !(f.Low > 0 && f.Low < f.Mid && f.Mid < f.High) {
			t.Fatalf("%+v", f)
		}
		if math.Abs(twice.Mid-2*f.Mid) > 1e-9*twice.Mid || math.Abs(twice.High-2*f.High) > 1e-9*twice.High {
			t.Fatalf("%+v and %+v", f, twice)
		}
	})
}
