package dry

import "math"

// Habit is how bars of a recipe usually dry: what its earlier lots did, or what bars do in
// general.
type Habit struct {
	lots  int
	usual []float64 // by shape and loss; nil for what bars do in general
}

// Any is the habit of bars in general.
func Any() Habit { return Habit{} }

// anyWeight is how many lots the general habit counts as.
const anyWeight = 1.0

// Lots of one recipe differ by the weather and by the maker: this much in the loss, in the
// logarithm of the time constants, and in the share of the skin.
const (
	lossWide = 0.012
	tauWide  = 0.15
	partWide = 0.1
)

// HabitOf learns from the forecasts of earlier lots, leaning on what bars do in general as long
// as they are few. Each is taken with all that it leaves open, and widened by how lots differ.
func HabitOf(earlier []Forecast) Habit {
	if len(earlier) == 0 {
		return Any()
	}
	all := shapes()
	h := Habit{len(earlier), make([]float64, len(all)*len(losses))}
	share := 1 / (float64(len(earlier)) + anyWeight)
	general := 0.0
	for i, s := range all {
		for j, loss := range losses {
			w := s.prior * usualLoss(loss)
			h.usual[i*len(losses)+j] = w
			general += w
		}
	}
	for k := range h.usual {
		h.usual[k] *= share * anyWeight / general
	}
	for _, f := range earlier {
		for _, p := range f.paths {
			if p.weight > 1e-3 {
				h.spread(all, p, share*p.weight)
			}
		}
	}
	return h
}

// apart is how far two shapes of a kind are from each other, in spreads of lots.
func (s shape) apart(other shape) float64 {
	d := math.Log(s.slow/other.slow) / tauWide
	if s.kind != twofold {
		return math.Abs(d)
	}
	return math.Hypot(math.Hypot(d, math.Log(s.fast/other.fast)/tauWide), (s.part-other.part)/partWide)
}

// nearby is how many spreads away something still counts.
const nearby = 3.0

// spread lays the weight of one path over those that are like it.
func (h Habit) spread(all []shape, p path, weight float64) {
	type near struct {
		at int
		w  float64
	}
	var byShape, byLoss []near
	shapeSum, lossSum := 0.0, 0.0
	for i, s := range all {
		if s.kind != all[p.shape].kind || s.cut != all[p.shape].cut {
			continue
		}
		if d := s.apart(all[p.shape]); d < nearby {
			one := near{i, math.Exp(-d * d / 2)}
			byShape, shapeSum = append(byShape, one), shapeSum+one.w
		}
	}
	for j, loss := range losses {
		if d := math.Abs(loss-losses[p.loss]) / lossWide; d < nearby {
			one := near{j, math.Exp(-d * d / 2)}
			byLoss, lossSum = append(byLoss, one), lossSum+one.w
		}
	}
	weight /= shapeSum * lossSum
	for _, s := range byShape {
		for _, l := range byLoss {
			h.usual[s.at*len(losses)+l.at] += weight * s.w * l.w
		}
	}
}

// prior is how usual a loss is for a shape.
func (h Habit) prior(s shape, i, j int) float64 {
	if h.usual == nil {
		return s.prior * usualLoss(losses[j])
	}
	return h.usual[i*len(losses)+j]
}

// oddFrom is how many earlier lots make a band to be outside of.
const oddFrom = 3

// judge compares the newest weighing with where lots of the habit are by then: a band that
// holds 95 of 100 of them, the error of two weighings included.
func (f *Forecast) judge(h Habit) {
	c := f.of
	first, last := c.Weighings[0], c.Weighings[len(c.Weighings)-1]
	if h.lots < oddFrom || last.Hours-first.Hours < 24 {
		return
	}
	sum, mean, square := 0.0, 0.0, 0.0
	for i, s := range shapes() {
		count, ok := c.usable(s)
		if !ok {
			continue
		}
		began := c.began(s)
		before, after := s.gone(first.Hours/24-began, c.Bar), s.gone(last.Hours/24-began, c.Bar)
		for j, loss := range losses {
			w := count * h.prior(s, i, j)
			r := (1 - loss*after) / (1 - loss*before)
			sum, mean, square = sum+w, mean+w*r, square+w*r*r
		}
	}
	mean /= sum
	start := f.At(first.Hours)
	off := math.Hypot(math.Hypot(handling, c.Step/math.Sqrt(12))/start, damped)
	spread := math.Sqrt(math.Max(0, square/sum-mean*mean) + 2*off*off)
	f.BandLow, f.BandHigh = start*(mean-1.96*spread), start*(mean+1.96*spread)
	now := f.At(last.Hours)
	f.Odd = now < f.BandLow || now > f.BandHigh
}

// damped is how far the air commonly moves a weight, as a share.
const damped = 0.002
