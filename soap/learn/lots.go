package learn

import (
	"math"
	"slices"
	"time"

	"ashshelf/soap/cost"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
)

// sameShare is by how many percent of the fats an oil may differ in what is the same base.
const sameShare = 2.0

// SameBase reports whether two recipes are of the same fats, in nearly the same shares.
func SameBase(a, b recipe.Formula) bool {
	shares := map[string]float64{}
	for _, s := range a.Fats {
		shares[s.Fat.Key()] += s.Percent
	}
	for _, s := range b.Fats {
		shares[s.Fat.Key()] -= s.Percent
	}
	for _, off := range shares {
		if math.Abs(off) > sameShare {
			return false
		}
	}
	return true
}

// SameScent reports whether two recipes smell of the same; what has no scent smells of nothing that is the same.
func SameScent(a, b recipe.Formula) bool {
	x, y := scents(a), scents(b)
	return len(x) > 0 && slices.Equal(x, y)
}

// Same reports whether two formulas are of the same base and the same scent, or both of none: what is alike to one is to the
// other.
func Same(a, b recipe.Formula) bool { return SameBase(a, b) && slices.Equal(scents(a), scents(b)) }

func scents(f recipe.Formula) (out []string) {
	if f.Scent != nil {
		for _, p := range f.Scent.Parts {
			out = append(out, p.Label())
		}
	}
	for _, u := range f.Additives {
		if u.Behaviour != "" {
			out = append(out, u.Name)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// HoursToFirm is what a window says of when a loaf is firm: between when it opens and its best, halfway by their ratio.
func HoursToFirm(opens, best time.Duration) float64 { return math.Sqrt(opens.Hours() * best.Hours()) }

// Firmness is what a lot showed of how long its loaf takes until it is firm: by then where it came out firm, not before where
// it came out soft. Nothing of what is not cut, what was cooked, and what follows a window of its recipe's own.
func Firmness(l *lot.Lot) (s Seen, ok bool) {
	w := l.TableWindow()
	if l.Pour == nil || l.Unmolding == nil || w.None() || !l.Form().Cut() || l.Cooked() || l.Frozen.Formula.Process.Closes > 0 {
		return s, false
	}
	table := HoursToFirm(w.Opens, w.Best)
	since := func(at time.Time) float64 { return at.Sub(l.Pour.Occurred).Hours() / table }
	out := since(l.Unmolding.Occurred)
	if _, soft := l.LastCare(lot.StillSoft); !soft {
		return Seen{Under: out}, out > 0
	}
	s.Over = out
	if l.Cut != nil && since(l.Cut.Occurred) > out {
		s.Under = since(l.Cut.Occurred)
	}
	return s, out > 0
}

// Shares of a pot and of its bars between which what was counted can be true.
const (
	leastComes, mostComes = 0.5, 1.05
	leastGood             = 0.02
)

// Came is what share of a pot of so many g came to the cut, over the share that its plan had reach the molds: what sticks to
// pot and molds is missing, and what dried in the mold. False where bars were not weighed, of what was cooked, which gives
// off far more, and where batter or trimmings went from lot to lot.
func Came(l *lot.Lot, potG float64) (s Seen, ok bool) {
	if l.Cut == nil || l.Pour == nil || l.Cut.BarsG() <= 0 || !(potG > 0) || l.Cooked() || len(l.Parents)+len(l.Children) > 0 {
		return s, false
	}
	share := (l.Cut.Weight() + l.Pour.LeftG) / potG
	return Seen{Ratio: share / l.Frozen.Request.Reaches()}, share >= leastComes && share <= mostComes
}

// Counted is how many of the planned bars were good. False where none were planned, or others were cut than was planned.
func Counted(l *lot.Lot) (s Seen, ok bool) {
	if l.Cut == nil || l.Frozen.Expected <= 0 || len(l.Cut.Sizes) > 0 || l.Cut.Halves > 0 || l.Cut.Count() > l.Frozen.Expected {
		return s, false
	}
	good := float64(l.Cut.Count()-l.Cut.OfGrade(ledger.Scrap)) / float64(l.Frozen.Expected)
	return Seen{Ratio: math.Max(leastGood, good)}, true
}

// longestTrace is the longest time to trace that counts, in minutes: a batter that was left overnight says nothing.
const longestTrace = 240

// Took is how long each part of a lot's work took, in minutes, as far as its record says it: what was written down of the
// trace, and for what is done with the hands the time from one entry to the next. A part with a pause in it that is too
// long to be work is left out, and so is what was written down later.
func Took(l *lot.Lot) map[string]float64 {
	type entry struct {
		at   time.Time
		work string
	}
	work := map[string]string{}
	for _, s := range run.Steps(l.Order()) {
		work[s.Key] = run.WorkOf(s)
	}
	list := []entry{{l.Started.Occurred, ""}}
	out := map[string]float64{}
	for _, t := range l.Ticks {
		if !t.Done {
			continue
		}
		if t.Step == run.TraceKey && t.Minutes > 0 && t.Minutes <= longestTrace {
			out[run.TraceWork] = t.Minutes
		}
		list = append(list, entry{t.Occurred, work[t.Step]})
	}
	for _, w := range l.Weighings {
		if w.Actual > 0 {
			list = append(list, entry{w.Occurred, work[run.WeighKey(plan.Key(w.Item))]})
		}
	}
	slices.SortStableFunc(list, func(a, b entry) int { return a.at.Compare(b.at) })
	sums, broken := map[string]float64{}, map[string]bool{}
	for i := 1; i < len(list); i++ {
		gap := list[i].at.Sub(list[i-1].at).Minutes()
		if gap > cost.PauseMinutes {
			broken[list[i].work] = true
		}
		sums[list[i].work] += gap
	}
	for _, name := range []string{run.ReadyWork, run.LyeWork, run.FatsWork, run.HandWork, run.FinishWork, run.PourWork, run.CleanWork} {
		if sums[name] > 0 && !broken[name] {
			out[name] = sums[name]
		}
	}
	return out
}
