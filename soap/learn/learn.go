// Package learn says how long work takes by the shop's own lots, and how little that is known from.
//
// The table says eight minutes to trace; the last seven lots took between five and fourteen. How long the next one takes
// is a figure with a range: from the table while there is nothing else, from lots of other recipes as a hint of how fast a
// shop works, and from lots of the same recipe as soon as there are some. A range means that four of five lots fall into it.
//
// The method: logarithms of what a lot took, over what the table says for it, are normal around the recipe's own figure;
// recipes are normal around their shop's, and shops around the table (a hierarchical normal model, with spreads that the
// lots correct as they come; the next lot by Student's t). Lots far off count for less, so that one forgotten timer turns
// nothing.
package learn

import (
	"fmt"
	"math"
	"slices"
	"time"

	"ashshelf/soap/cost"
	"ashshelf/soap/internal/stat"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
)

// Seen is what a lot took, over what the table says for it.
type Seen struct {
	Ratio float64
	Own   bool // it is of the same recipe
}

// Figure is how long the next one takes, in minutes. Four of five fall between Low and High.
type Figure struct {
	Mid, Low, High float64
	Table          float64
	Own, Others    int // lots that it is known from
}

// What is known before any lot was made, as logarithms: how far shops are from the table, recipes from their shop, and lots
// from their recipe; the last counts as much as so many lots.
const (
	spreadShops   = 0.40
	spreadRecipes = 0.25
	spreadLots    = 0.30
	worthOfSpread = 4.0
	farOff        = 2.5  // spreads, from which on a lot counts for less
	hint          = 0.25 // of what lots of other recipes say of how far lots are from each other
	worthTelling  = 0.10 // of the table, by which a figure is another
)

// Foretell is a figure from what the table says and what lots took.
func Foretell(table float64, seen []Seen) Figure {
	f := Figure{Table: table}
	var own, others []float64
	for _, s := range seen {
		if !(s.Ratio > 0) || math.IsInf(s.Ratio, 0) {
			continue
		}
		if s.Own {
			own = append(own, math.Log(s.Ratio))
		} else {
			others = append(others, math.Log(s.Ratio))
		}
	}
	f.Own, f.Others = len(own), len(others)
	spread := spreadOf(own, others)
	// The shop: what lots of other recipes say of it, each with the spread of its recipe on top.
	mean, variance := 0.0, spreadShops*spreadShops
	mean, variance = with(mean, variance, others, spread*spread+spreadRecipes*spreadRecipes)
	// The recipe: the shop, and its own lots.
	variance += spreadRecipes * spreadRecipes
	mean, variance = with(mean, variance, own, spread*spread)
	wide := student(worthOfSpread+float64(len(own)+len(others))) * math.Sqrt(variance+spread*spread)
	f.Mid, f.Low, f.High = table*math.Exp(mean), table*math.Exp(mean-wide), table*math.Exp(mean+wide)
	return f
}

// with adds what was seen to what was thought: the mean of both by how sure each is. What is far off counts for less.
func with(mean, variance float64, seen []float64, spread float64) (float64, float64) {
	if len(seen) == 0 {
		return mean, variance
	}
	center := stat.Median(seen)
	precision, sum := 1/variance, mean/variance
	for _, v := range seen {
		weight := 1 / spread
		if off := math.Abs(v-center) / math.Sqrt(spread); off > farOff {
			weight *= farOff * farOff / (off * off)
		}
		precision += weight
		sum += v * weight
	}
	return sum / precision, 1 / precision
}

// spreadOf is how far lots are from their recipe: what is thought of it, and what the lots show.
func spreadOf(groups ...[]float64) float64 {
	sum, n := worthOfSpread*spreadLots*spreadLots, worthOfSpread
	for k, g := range groups {
		if len(g) < 2 {
			continue
		}
		center := stat.Median(g)
		between, counts := 0.0, 1.0
		if k > 0 { // they are of several recipes, which may be further from each other than is thought
			between, counts = spreadRecipes*spreadRecipes, hint
		}
		for _, v := range g {
			off := math.Min(math.Abs(v-center), farOff*spreadLots)
			sum += counts * math.Max(0, off*off-between)
			n += counts
		}
		n -= counts // the center was taken from them
	}
	return math.Sqrt(sum / n)
}

// student is how many spreads hold four of five, with so many degrees of freedom: the expansion of Cornish and Fisher
// around the normal 1.2816 (Abramowitz and Stegun 26.7.5).
func student(freedom float64) float64 {
	const z = 1.2815515655446004
	z3, z5 := z*z*z, z*z*z*z*z
	return z + (z3+z)/(4*freedom) + (5*z5+16*z3+3*z)/(96*freedom*freedom)
}

// Ratio is the figure over what the table says.
func (f Figure) Ratio() float64 {
	if !(f.Table > 0) {
		return 1
	}
	return f.Mid / f.Table
}

// Telling reports whether the figure is another than the table's by more than a tenth, so that it says why.
func (f Figure) Telling() bool { return math.Abs(f.Ratio()-1) > worthTelling }

// Words says a figure with its range, and where it is from.
func (f Figure) Words() string {
	from := "no lot yet"
	switch {
	case f.Own == 1:
		from = "1 lot"
	case f.Own > 1:
		from = fmt.Sprintf("%d lots", f.Own)
	}
	if f.Others > 0 {
		and := map[bool]string{true: " and ", false: ""}[f.Own > 0]
		if f.Own == 0 {
			from = ""
		}
		from += fmt.Sprintf("%s%d of other recipes", and, f.Others)
	}
	return fmt.Sprintf("%.0f min, %.0f to %.0f, from %s; the table says %.0f", f.Mid, f.Low, f.High, from, f.Table)
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
