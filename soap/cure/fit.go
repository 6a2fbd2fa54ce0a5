package cure

import (
	"math"
	"slices"
	"time"
)

// Curve is how a bar dries: towards a final weight, along a curve that flattens.
//
//	m(t) = m∞ + (m0 − m∞) · e^(−t/τ)
type Curve struct {
	StartG float64 // m0, at the first weighing
	Loss   float64 // 1 − m∞/m0, what leaves in the end, as a share
	Tau    float64 // τ in days
}

// At is the weight in g after days.
func (c Curve) At(days float64) float64 { return c.StartG * (1 - c.Loss*(1-math.Exp(-days/c.Tau))) }

// FinalG is the weight that it dries towards, in g.
func (c Curve) FinalG() float64 { return c.StartG * (1 - c.Loss) }

// Weekly is the loss of the week that begins after days, in percent of the weight
// then.
func (c Curve) Weekly(days float64) float64 {
	now := c.At(days)
	return 100 * (now - c.At(days+7)) / now
}

// Settles is after how many days the weekly loss falls under the limit; 0 when it
// is under it from the start.
func (c Curve) Settles() float64 {
	s, q := SettledLoss/100, 1-math.Exp(-7/c.Tau)
	// Loss·e^(−t/τ)·q ≤ s·(1 − Loss + Loss·e^(−t/τ))
	if q <= s || c.Loss <= 0 {
		return 0
	}
	return math.Max(0, c.Tau*math.Log(c.Loss*(q-s)/(s*(1-c.Loss))))
}

// Habit is how bars of a recipe usually dry: what its earlier lots did, or what
// bars do in general. Loss and ln τ are taken as normal.
type Habit struct {
	Lots           int // earlier lots that it rests on
	Loss, LossSD   float64
	LnTau, LnTauSD float64
}

// Any is the habit of bars in general: 8 to 15 % leave in all, most of it in the
// first weeks.
func Any() Habit { return Habit{Loss: 0.115, LossSD: 0.035, LnTau: math.Log(14), LnTauSD: 0.4} }

// Lots of one recipe differ by the weather and by the maker: never by less than
// this.
const (
	leastLossSD  = 0.012
	leastLnTauSD = 0.15
	anyWeight    = 1.0 // how many lots the general habit counts as
)

// HabitOf learns from the curves of earlier lots of a recipe, leaning on what
// bars do in general as long as they are few.
func HabitOf(curves []Curve) Habit {
	h := Any()
	n := float64(len(curves))
	if n == 0 {
		return h
	}
	loss, lnTau := anyWeight*h.Loss, anyWeight*h.LnTau
	for _, c := range curves {
		loss, lnTau = loss+c.Loss, lnTau+math.Log(c.Tau)
	}
	w := n + anyWeight
	out := Habit{Lots: len(curves), Loss: loss / w, LnTau: lnTau / w}
	// The spread between lots, and how well the mean itself is known.
	lossVar, tauVar := 0.0, 0.0
	for _, c := range curves {
		lossVar += (c.Loss - out.Loss) * (c.Loss - out.Loss)
		tauVar += (math.Log(c.Tau) - out.LnTau) * (math.Log(c.Tau) - out.LnTau)
	}
	between := func(sum, least, general float64) float64 {
		spread := math.Max(least, math.Sqrt(sum/w))
		return math.Sqrt(spread*spread + general*general/(w*w))
	}
	out.LossSD, out.LnTauSD = between(lossVar, leastLossSD, h.LossSD), between(tauVar, leastLnTauSD, h.LnTauSD)
	return out
}

// Forecast is a curve that was fitted to weighings, with what follows from it.
type Forecast struct {
	Curve
	Points int
	LeanOn int  // earlier lots that it leans on, where its own weighings are few
	Leans  bool // on earlier lots, or on what bars do in general
	// Settled is after how many days since the first weighing the weekly loss falls
	// under the limit; it is between Early and Late nine times in ten.
	Settled, Early, Late float64
	Odd                  bool // it dries unlike the earlier lots of its recipe
	BandLow, BandHigh    float64
}

// Enough is how many weighings speak for themselves.
const Enough = 4

// oddFrom is how many earlier lots make a band to be outside of.
const oddFrom = 3

// How far a weighing is off, in g, besides the step of the scale: handling, and
// the water that damp air gives back. Now and then one is plainly wrong, which is
// why errors count as Student's t, with few degrees of freedom, and not as
// normal.
const (
	handling = 0.15
	freedom  = 4.0
)

// gridSize is how finely loss and τ are looked through, each way.
const gridSize = 31

// reach is how many spreads of the habit are looked through to each side.
const reach = 3.6

// Fit fits the curve to weighings in order of time, on a scale that reads in
// steps of g, leaning on a habit. It looks through a grid of losses and τ and
// weighs each by how well it explains the weighings and how usual it is; the
// answers are means and quantiles over the grid, so that one bad weighing does
// not turn them. ok is false without any weighing.
func Fit(samples []Sample, step float64, h Habit) (f Forecast, ok bool) {
	if len(samples) == 0 {
		return f, false
	}
	days := make([]float64, len(samples))
	for i, s := range samples {
		days[i] = s.At.Sub(samples[0].At).Hours() / 24
	}
	sigma := math.Hypot(handling, step/math.Sqrt(12))
	var at [gridSize * gridSize]cell
	best := math.Inf(-1)
	shape := make([]float64, len(samples))
	for i := range gridSize {
		z := reach * (2*float64(i)/(gridSize-1) - 1)
		tau := math.Exp(h.LnTau + z*h.LnTauSD)
		gone := make([]float64, len(samples))
		for k, t := range days {
			gone[k] = 1 - math.Exp(-t/tau)
		}
		for j := range gridSize {
			y := reach * (2*float64(j)/(gridSize-1) - 1)
			loss := math.Min(0.6, math.Max(0.001, h.Loss+y*h.LossSD))
			for k := range shape {
				shape[k] = 1 - loss*gone[k]
			}
			start, like := startOf(samples, shape, sigma)
			c := cell{Curve{start, loss, tau}, like - (z*z+y*y)/2, 0}
			at[i*gridSize+j] = c
			best = math.Max(best, c.log)
		}
	}
	f.Points = len(samples)
	f.Leans = len(samples) < Enough
	if f.Leans {
		f.LeanOn = h.Lots
	}
	sum, lnTau := 0.0, 0.0
	for i := range at {
		at[i].weight = math.Exp(at[i].log - best)
		w := at[i].weight
		sum += w
		f.StartG, f.Loss, lnTau = f.StartG+w*at[i].StartG, f.Loss+w*at[i].Loss, lnTau+w*math.Log(at[i].Tau)
	}
	f.StartG, f.Loss, f.Tau = f.StartG/sum, f.Loss/sum, math.Exp(lnTau/sum)
	q := quantiles(at[:], sum, Curve.Settles, 0.05, 0.5, 0.95)
	f.Early, f.Settled, f.Late = q[0], q[1], q[2]
	f.odd(samples, days, sigma, h)
	return f, true
}

// cell is one curve of the grid.
type cell struct {
	Curve
	log, weight float64
}

// startOf is the weight at the start that explains the weighings best for a shape,
// and how likely they are then: a mean over the weighings in which each counts
// the less the further it is off.
func startOf(samples []Sample, shape []float64, sigma float64) (start, log float64) {
	weight := make([]float64, len(samples))
	for i := range weight {
		weight[i] = 1
	}
	ratios := make([]float64, len(samples))
	for i, s := range samples {
		ratios[i] = s.Grams / shape[i]
	}
	if len(ratios) > 2 { // from the middle one, so that a bad one cannot set the start
		sorted := slices.Clone(ratios)
		slices.Sort(sorted)
		start = sorted[len(sorted)/2]
	} else {
		start = ratios[0]
	}
	for range 4 {
		up, down := 0.0, 0.0
		for i, s := range samples {
			r := (s.Grams - start*shape[i]) / sigma
			w := (freedom + 1) / (freedom + r*r)
			up, down = up+w*s.Grams*shape[i], down+w*shape[i]*shape[i]
		}
		start = up / down
	}
	for i, s := range samples {
		r := (s.Grams - start*shape[i]) / sigma
		log -= (freedom + 1) / 2 * math.Log1p(r*r/freedom)
	}
	return start, log
}

// quantiles of a figure over the weighted grid.
func quantiles(at []cell, sum float64, figure func(Curve) float64, at100 ...float64) []float64 {
	type pair struct{ v, w float64 }
	list := make([]pair, len(at))
	for i, c := range at {
		list[i] = pair{figure(c.Curve), c.weight}
	}
	slices.SortFunc(list, func(a, b pair) int {
		switch {
		case a.v < b.v:
			return -1
		case a.v > b.v:
			return 1
		}
		return 0
	})
	out := make([]float64, len(at100))
	run, k := 0.0, 0
	for _, p := range list {
		run += p.w
		for k < len(at100) && run >= at100[k]*sum {
			out[k] = p.v
			k++
		}
	}
	for ; k < len(out); k++ {
		out[k] = list[len(list)-1].v
	}
	return out
}

// odd compares the newest weighing with where lots of the habit are by then: a
// band that holds 95 of 100 of them, the error of two weighings included.
func (f *Forecast) odd(samples []Sample, days []float64, sigma float64, h Habit) {
	last := len(samples) - 1
	if h.Lots < oddFrom || last < 1 || days[last] < 1 {
		return
	}
	mean := 1 - h.Loss*(1-math.Exp(-days[last]/math.Exp(h.LnTau)))
	// How the share that is left moves with loss and with ln τ.
	x := days[last] / math.Exp(h.LnTau)
	byLoss, byTau := 1-math.Exp(-x), h.Loss*x*math.Exp(-x)
	spread := math.Sqrt(byLoss*byLoss*h.LossSD*h.LossSD + byTau*byTau*h.LnTauSD*h.LnTauSD + 2*sigma*sigma/(f.StartG*f.StartG))
	f.BandLow, f.BandHigh = f.StartG*(mean-1.96*spread), f.StartG*(mean+1.96*spread)
	now := f.At(days[last])
	f.Odd = now < f.BandLow || now > f.BandHigh
}

// On is the day a number of days after the first weighing.
func On(first time.Time, days float64) time.Time {
	return first.Add(time.Duration(days * 24 * float64(time.Hour)))
}
