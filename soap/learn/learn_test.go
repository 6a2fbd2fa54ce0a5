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

// lots are so many lots with what they showed, over what the table says.
func lots(near learn.Near, ratios ...float64) (out []learn.Seen) {
	for _, r := range ratios {
		out = append(out, learn.Seen{Ratio: r, Near: near})
	}
	return out
}

// others are lots of recipes that differ from each other.
func others(ratios ...float64) []learn.Seen {
	out := lots(learn.Other, ratios...)
	for i := range out {
		out[i].Recipe = fmt.Sprint(i)
	}
	return out
}

func minutes(table float64, seen ...[]learn.Seen) learn.Figure {
	var all []learn.Seen
	for _, s := range seen {
		all = append(all, s...)
	}
	return learn.Foretell(learn.Minutes, table, all)
}

func TestWithoutLotsTheTableSpeaks(t *testing.T) {
	f := minutes(8)
	assert.InDelta(t, 8, f.Mid, 1e-9)
	assert.Less(t, f.Low, 5.0)
	assert.Greater(t, f.High, 13.0)
	assert.False(t, f.Telling())
	assert.Equal(t, "8 min, 4 to 17, from no lot yet; the table says 8", f.Words())
}

func TestLotsOfARecipeSayMoreThanThoseOfOthers(t *testing.T) {
	one := minutes(8, lots(learn.Own, 2))
	many := minutes(8, lots(learn.Own, 2, 1.9, 2.1, 2, 2, 1.9, 2.1))
	assert.Greater(t, one.Mid, 9.0, "one lot that took twice as long moves it")
	assert.Less(t, one.Mid, 16.0, "and does not settle it")
	assert.InDelta(t, 15.5, many.Mid, 0.8, "seven nearly do")
	assert.Less(t, many.High-many.Low, one.High-one.Low, "and narrow the range")
	assert.Contains(t, many.Words(), "from 7 lots; the table says 8")

	seven := others(2, 1.9, 2.1, 2, 2, 1.9, 2.1)
	hint := minutes(8, seven)
	assert.Greater(t, hint.Mid, 11.0, "a shop that takes its time takes it with another recipe as well")
	assert.Less(t, hint.Mid, many.Mid)
	assert.Contains(t, hint.Words(), "from 7 of other recipes")
	assert.Contains(t, minutes(8, seven, lots(learn.Own, 2, 2)).Words(), "from 2 lots and 7 of other recipes")

	alike := lots(learn.Alike, 2, 1.9, 2.1, 2, 2, 1.9, 2.1)
	for i := range alike {
		alike[i].Recipe = fmt.Sprint(i)
	}
	near := minutes(8, alike)
	assert.Greater(t, near.Mid, hint.Mid, "what has the same base or scent says more than what has neither")
	assert.Less(t, near.Mid, many.Mid, "and less than the recipe's own lots")
	assert.Contains(t, minutes(8, seven, alike, lots(learn.Own, 2)).Words(), "from 1 lot, 7 of its base or scent and 7 of other recipes")

	for i := range seven {
		seven[i].Recipe = "one"
	}
	narrow := minutes(8, seven)
	assert.Less(t, narrow.Mid, hint.Mid, "seven lots of one other recipe say less of a shop than those of seven")
}

func TestOneForgottenTimerTurnsNothing(t *testing.T) {
	calm := minutes(10, lots(learn.Own, 1, 1.1, 0.9, 1, 1.05))
	odd := minutes(10, lots(learn.Own, 1, 1.1, 0.9, 1, 1.05, 12))
	assert.InDelta(t, calm.Mid, odd.Mid, 0.6)
	assert.Equal(t, minutes(10), minutes(10, lots(learn.Own, 0, -3, math.NaN(), math.Inf(1))), "what cannot be counts for nothing")
}

// A loaf that was firm says that it was firm by then, and one that was soft that it was not.
func TestALoafIsSeenAtOneMoment(t *testing.T) {
	firm := func(seen ...learn.Seen) learn.Figure {
		for i := range seen {
			seen[i].Near = learn.Own
		}
		return learn.Foretell(learn.Firm, 17, seen)
	}
	usual := learn.Seen{Under: 1.4}
	calm := firm(usual, usual, usual, usual)
	assert.False(t, calm.Telling(), "loaves that are firm when they should be turn nothing: %v", calm.Mid)
	assert.InDelta(t, 17, calm.Mid, 1.7)
	late := firm(learn.Seen{Under: 10}, learn.Seen{Under: 10})
	assert.InDelta(t, 17, late.Mid, 0.1, "one that was left for a week says nothing")
	soft := firm(learn.Seen{Over: 1.4, Under: 2}, learn.Seen{Over: 1.4}, learn.Seen{Over: 1.3})
	assert.Greater(t, soft.Mid, 22.0, "three that came out soft say that it takes longer")
	assert.True(t, soft.Telling())
	early := firm(learn.Seen{Under: 0.6}, learn.Seen{Under: 0.65}, learn.Seen{Under: 0.6})
	assert.Less(t, early.Mid, 14.0, "and three that were firm early that it takes less")
	assert.Contains(t, soft.Words(), " h, ")
	assert.Equal(t, firm(), firm(learn.Seen{Over: 2, Under: 1}), "firm before it was soft cannot be")
}

func TestWhatIsKeptIsToldInPercent(t *testing.T) {
	f := learn.Foretell(learn.Comes, 0.98, lots(learn.Own, 0.95, 0.96, 0.955, 0.95))
	assert.InDelta(t, 0.94, f.Mid, 0.01)
	assert.True(t, f.Telling())
	assert.Contains(t, f.Words(), "%")
	assert.False(t, learn.Foretell(learn.Comes, 0.98, lots(learn.Own, 0.999, 1, 1)).Telling())
	good := learn.Foretell(learn.Good, 1, lots(learn.Own, 1, 1, 1, 0.9)).AtMost(1)
	assert.LessOrEqual(t, good.High, 1.0, "there are never more good bars than were planned")
}

// A range holds what it says on shops whose truth is another than the model's: slow and fast ones, recipes far from each
// other, lots that scatter little or much, others that are all one recipe, and now and then a lot that is far off.
// Printed with -v.
func TestRangesHoldOnSimulatedShops(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	normal := func(spread float64) float64 { return math.Exp(spread * r.NormFloat64()) }
	for _, kind := range []struct {
		name                 string
		shops, recipes, lots float64 // how far they are from each other
		slow                 float64 // of all shops
		odd                  float64 // share of lots that are far off
		one                  bool    // the lots of others are all of one recipe
		least, most          float64 // of what falls into its range
	}{
		{"as the model has it", 0.40, 0.25, 0.30, 1, 0, false, 0.72, 0.90},
		{"all slower than the table", 0.20, 0.25, 0.30, 1.6, 0, false, 0.72, 0.92},
		{"recipes far from each other", 0.30, 0.60, 0.25, 1, 0, false, 0.58, 0.95},
		{"others are one recipe", 0.40, 0.25, 0.30, 1, 0, true, 0.70, 0.90},
		{"steady hands", 0.30, 0.20, 0.12, 1, 0, false, 0.78, 1},
		{"lots that scatter", 0.30, 0.20, 0.50, 1, 0, false, 0.60, 0.84},
		{"one in twelve forgotten", 0.30, 0.25, 0.25, 1, 0.08, false, 0.74, 0.92},
	} {
		line := fmt.Sprintf("%-28s", kind.name)
		for _, known := range []int{0, 1, 3, 7, 15} {
			in, all := 0, 200
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
				another := shop * normal(kind.recipes)
				for i := range 6 {
					if kind.one {
						seen = append(seen, learn.Seen{Ratio: lot(another), Recipe: "another"})
						continue
					}
					seen = append(seen, learn.Seen{Ratio: lot(shop * normal(kind.recipes)), Recipe: fmt.Sprint(i)})
				}
				recipe := shop * normal(kind.recipes)
				for range known {
					seen = append(seen, learn.Seen{Ratio: lot(recipe), Near: learn.Own})
				}
				f := learn.Foretell(learn.Minutes, 10, seen)
				next := 10 * recipe * normal(kind.lots)
				if next >= f.Low && next <= f.High {
					in++
				}
			}
			share := float64(in) / float64(all)
			line += fmt.Sprintf("  %2d lots %.2f", known, share)
			assert.GreaterOrEqual(t, share, kind.least, "%s, %d lots", kind.name, known)
			assert.LessOrEqual(t, share, kind.most, "%s, %d lots", kind.name, known)
		}
		t.Log(line)
	}
}

// Nobody sees a loaf become firm: it is looked at when its window says so, and found firm or soft.
func TestFirmnessHoldsOnSimulatedShops(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for _, pace := range []float64{0.75, 1, 1.3} {
		line := fmt.Sprintf("firm at %.2f of the table", pace)
		for _, known := range []int{0, 3, 7, 15} {
			in, all := 0, 300
			for range all {
				recipe := pace * math.Exp(0.12*r.NormFloat64())
				var seen []learn.Seen
				for range known {
					firm, looked := recipe*math.Exp(0.15*r.NormFloat64()), 1.4*math.Exp(0.2*r.NormFloat64())
					if firm <= looked {
						seen = append(seen, learn.Seen{Under: looked, Near: learn.Own})
					} else {
						seen = append(seen, learn.Seen{Over: looked, Under: looked + 0.7, Near: learn.Own})
					}
				}
				f := learn.Foretell(learn.Firm, 1, seen)
				if next := recipe * math.Exp(0.15*r.NormFloat64()); next >= f.Low && next <= f.High {
					in++
				}
			}
			share := float64(in) / float64(all)
			line += fmt.Sprintf("  %2d lots %.2f", known, share)
			assert.GreaterOrEqual(t, share, 0.55, "%v, %d lots", pace, known)
			assert.LessOrEqual(t, share, 0.98, "%v, %d lots", pace, known)
		}
		t.Log(line)
	}
}

// A range holds its figure, and twice the table is twice the figure.
func TestARangeHoldsItsFigureAndGrowsWithTheTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seen := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) learn.Seen {
			s := learn.Seen{Near: rapid.SampledFrom([]learn.Near{learn.Own, learn.Alike, learn.Other}).Draw(t, "near"),
				Recipe: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "recipe")}
			switch rapid.IntRange(0, 2).Draw(t, "seen") {
			case 0:
				s.Ratio = rapid.Float64Range(0.05, 20).Draw(t, "ratio")
			case 1:
				s.Over = rapid.Float64Range(0.05, 20).Draw(t, "over")
			case 2:
				s.Under = rapid.Float64Range(0.05, 20).Draw(t, "under")
			}
			return s
		}), 0, 20).Draw(t, "seen")
		kind := rapid.SampledFrom([]learn.Kind{learn.Minutes, learn.Firm, learn.Comes, learn.Good, learn.Dries}).Draw(t, "kind")
		f, twice := learn.Foretell(kind, 10, seen), learn.Foretell(kind, 20, seen)
		if !(f.Low > 0 && f.Low < f.Mid && f.Mid < f.High) {
			t.Fatalf("%+v", f)
		}
		if math.Abs(twice.Mid-2*f.Mid) > 1e-9*twice.Mid || math.Abs(twice.High-2*f.High) > 1e-9*twice.High {
			t.Fatalf("%+v and %+v", f, twice)
		}
	})
}

func BenchmarkFigure(b *testing.B) {
	var all []learn.Seen
	for i := range 30 {
		all = append(all, others(0.8 + float64(i%7)/10)[0])
		all[i].Recipe = fmt.Sprint(i % 9)
	}
	all = append(all, lots(learn.Own, 1, 1.1, 1.3, 0.9, 1.2, 1, 1, 1.4, 1.1, 0.8, 1, 1, 1, 1, 1.2)...)
	for b.Loop() {
		learn.Foretell(learn.Minutes, 10, all)
	}
}
