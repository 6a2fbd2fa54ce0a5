// Package dry foretells how a bar dries from a few weighings.
//
// A bar loses 6 to 16 % of its weight, fast at first and then slower and slower; how the skin
// and the core share in it nobody knows beforehand, and the air gives back half a percent in a
// damp week. So no single curve is fitted. Many ways to dry are thought of (one exponential; a
// fast skin and a slow core; diffusion out of a slab, or out of a bar of known measures), each
// with many losses, and each is weighed by how well it explains what the scale said and by how
// bars of the shop dried before. What is foretold is the mean and the spread over all of them:
// the bar's own water, without the air's.
package dry

import (
	"cmp"
	"math"
	"slices"

	"ashshelf/soap/caution"
)

// Weighing is the marked bar on the scale.
type Weighing struct {
	Hours float64 // since the pour
	Grams float64
}

// Bar is a bar's measures in mm; a zero one is not known.
type Bar struct{ Length, Width, Thickness float64 }

func (b Bar) known() bool       { return b.Length > 0 && b.Width > 0 && b.Thickness > 0 }
func (b Bar) thinnest() float64 { return min(b.Length, b.Width, b.Thickness) }

// Air is what the room was like.
type Air struct {
	Hours    float64 // since the pour
	Humidity float64 // percent; below zero when it was not read
	Celsius  float64 // NaN when it was not read
}

// Case is a bar that dries.
type Case struct {
	Step      float64 // g that the scale reads in
	Limit     float64 // percent of its weight that a settled bar loses in a week
	Bar       Bar
	Weighings []Weighing // in order of time
	Room      []Air      // in order of time; none when nobody looked
}

// Bounds of what is taken.
const (
	mostWeighings = 500
	mostHours     = 5 * 365 * 24
	mostGrams     = 50_000
)

// Check finds what cannot be worked with.
func (c Case) Check() caution.Problems {
	var p caution.Problems
	if !(c.Step >= 0.001 && c.Step <= 50) {
		p.Add("scale_step_g", "the scale's step must lie between 0.001 and 50 g")
	}
	if !(c.Limit >= 0.01 && c.Limit <= 10) {
		p.Add("settled_percent_per_week", "a settled bar loses between 0.01 and 10 %% in a week, not %v", c.Limit)
	}
	if b := c.Bar; b != (Bar{}) {
		for path, mm := range map[string]float64{"bar.length_mm": b.Length, "bar.width_mm": b.Width, "bar.thickness_mm": b.Thickness} {
			if !(mm >= 2 && mm <= 1000) {
				p.Add(path, "a bar is between 2 and 1000 mm long, wide and thick")
			}
		}
	}
	switch {
	case len(c.Weighings) == 0:
		p.Add("weights", "there is no weighing")
	case len(c.Weighings) > mostWeighings:
		p.Add("weights", "%d weighings are more than a bar has; %d do", len(c.Weighings), mostWeighings)
	}
	before := -1.0
	for i, w := range c.Weighings {
		if !(w.Hours >= 0 && w.Hours <= mostHours) || w.Hours <= before {
			p.Add(at("weights", i, "hours"), "weighings follow each other, in hours since the pour")
		}
		if !(w.Grams > 0 && w.Grams <= mostGrams) {
			p.Add(at("weights", i, "grams"), "a bar weighs more than nothing and no more than %d g", mostGrams)
		}
		before = w.Hours
	}
	before = -1
	for i, a := range c.Room {
		if !(a.Hours >= 0 && a.Hours <= mostHours) || a.Hours <= before {
			p.Add(at("room", i, "hours"), "readings of the room follow each other, in hours since the pour")
		}
		if !(a.Humidity <= 100) {
			p.Add(at("room", i, "humidity_percent"), "air is between 0 and 100 %% damp")
		}
		if !math.IsNaN(a.Celsius) && !(a.Celsius >= -20 && a.Celsius <= 60) {
			p.Add(at("room", i, "temperature_c"), "a room is between -20 and 60 °C")
		}
		before = a.Hours
	}
	return p
}

// Forecast is how a bar will dry.
type Forecast struct {
	Points int
	Aside  int  // of those, how many nothing explains: they count for nothing
	Lots   int  // earlier lots that it leans on
	Leans  bool // on earlier lots, or on what bars do in general, since its own weighings are few

	// Likely is after how many hours since the pour it is settled, nine times in ten between
	// Early and Late.
	Likely, Early, Late float64
	Chance              float64 // that it is settled at the last weighing
	FinalG, WeeklyPct   float64 // what it dries towards; what the week after the last weighing takes

	Odd               bool // it dries unlike the earlier lots of its recipe
	BandLow, BandHigh float64

	of    Case
	paths []path
}

// path is one way to dry with one loss, and how much it counts.
type path struct {
	shape, loss int
	start       float64 // g when it began to dry
	weight      float64
	settles     float64 // hours since the pour
}

// Enough is how many weighings speak for themselves.
const Enough = 4

// How far a weighing is off besides the step of the scale: in g by handling, and as a share by
// what no way to dry that is thought of has.
const (
	handling = 0.05
	unlike   = 0.0006
)

// airs are how far the air's moisture moves a weight, as a share, and how much of that is left
// a week later, with how usual each is.
var airs = []struct{ wide, stays, prior float64 }{
	{0, 0, 0.15}, {0.001, 0.5, 0.15}, {0.002, 0.6, 0.2}, {0.0035, 0.6, 0.25}, {0.006, 0.6, 0.25},
}

// byHumidity is how much heavier a bar is in air that is damper by a percent, as a share, and
// how well that is known: half of it either way.
const byHumidity = 0.0001

// Foretell foretells how a bar dries. The case must have been checked.
func (c Case) Foretell(h Habit) Forecast {
	f := Forecast{Points: len(c.Weighings), Lots: h.lots, Leans: len(c.Weighings) < Enough, of: c}
	bad := make([]bool, len(c.Weighings))
	f.paths = c.weigh(h, bad)
	for range len(c.Weighings) / 3 { // a weighing that nothing explains is set aside, one after another
		worst := f.worst(bad)
		if worst < 0 {
			break
		}
		bad[worst] = true
		f.Aside++
		f.paths = c.weigh(h, bad)
	}
	last := c.Weighings[len(c.Weighings)-1].Hours
	for _, p := range f.paths {
		f.FinalG += p.weight * p.start * (1 - losses[p.loss])
		if p.settles <= last {
			f.Chance += p.weight
		}
	}
	f.WeeklyPct = f.Weekly(last)
	f.Early, f.Likely, f.Late = f.quantile(0.05), f.quantile(0.5), f.quantile(0.95)
	f.judge(h)
	return f
}

// began is after how many days since the pour a shape begins.
func (c Case) began(s shape) float64 {
	if s.cut && len(c.Weighings) > 0 {
		return c.Weighings[0].Hours / 24
	}
	return 0
}

// usable reports whether a shape is thought of for this bar, and how much it counts beside
// others of its prior: a bar of known measures dries as often as a slab as by all its faces.
func (c Case) usable(s shape) (count float64, ok bool) {
	switch {
	case s.kind == brick:
		return 0.5, c.Bar.known()
	case s.kind == slab && c.Bar.known():
		return 0.5, true
	}
	return 1, true
}

// weigh weighs every shape with every loss; weighings that are bad count for nothing.
func (c Case) weigh(h Habit, bad []bool) []path {
	y, errs := c.observed(bad)
	worn := c.worn()
	all := shapes()
	settle := settleTimes(c.Limit / 100)
	type scored struct {
		path
		log float64
	}
	scores := make([]scored, 0, len(all)*len(losses))
	best := math.Inf(-1)
	gone := make([]float64, len(c.Weighings))
	logs, starts := make([]float64, len(errs)), make([]float64, len(errs))
	sums := make([]moments, len(errs))
	for i, s := range all {
		count, ok := c.usable(s)
		if !ok {
			continue
		}
		began := c.began(s)
		for k, hours := range worn {
			gone[k] = s.gone(hours/24-began, c.Bar)
		}
		for e, one := range errs {
			sums[e] = one.moments(gone, y)
		}
		for j, loss := range losses {
			weight := count * h.prior(s, i, j)
			if weight <= 0 {
				continue
			}
			top := math.Inf(-1)
			for e := range errs {
				logs[e], starts[e] = sums[e].fit(loss)
				logs[e] += errs[e].log
				top = max(top, logs[e])
			}
			if top < best-far {
				continue // far from what explains it best so far
			}
			sum, start := 0.0, 0.0
			for e := range errs {
				w := math.Exp(logs[e] - top)
				sum, start = sum+w, start+w*starts[e]
			}
			one := scored{path{i, j, start / sum, 0, 0}, math.Log(weight) + top + math.Log(sum)}
			best = max(best, one.log)
			scores = append(scores, one)
		}
	}
	var out []path
	total := 0.0
	for _, one := range scores {
		if one.weight = math.Exp(one.log - best); one.weight < least {
			continue
		}
		s := all[one.shape]
		days := 0.0
		if s.kind == brick {
			days = s.settles(losses[one.loss], c.Limit/100, c.Bar)
		} else {
			days = settle[one.shape][one.loss]
		}
		one.settles = 24 * (days + c.began(s))
		total += one.weight
		out = append(out, one.path)
	}
	for i := range out {
		out[i].weight /= total
	}
	slices.SortFunc(out, func(a, b path) int { return cmp.Compare(a.settles, b.settles) })
	return out
}

// What is far from the best explanation counts for nothing: its logarithm, and its weight.
const (
	far   = 12.0
	least = 1e-4
)

// quantile is the settling time under which so much of the weight lies; the paths are in its
// order.
func (f *Forecast) quantile(q float64) float64 {
	sum := 0.0
	for _, p := range f.paths {
		if sum += p.weight; sum >= q {
			return p.settles
		}
	}
	return f.paths[len(f.paths)-1].settles
}

// at is the weight of one path after hours.
func (f *Forecast) at(p path, hours float64) float64 {
	s := shapes()[p.shape]
	return p.start * (1 - losses[p.loss]*s.gone(hours/24-f.of.began(s), f.of.Bar))
}

// At is the weight in g after hours since the pour, the bar's own water alone.
func (f *Forecast) At(hours float64) float64 {
	sum := 0.0
	for _, p := range f.paths {
		sum += p.weight * f.at(p, hours)
	}
	return sum
}

// Weekly is what the week after some hours takes, in percent of the weight then.
func (f *Forecast) Weekly(hours float64) float64 {
	now := f.At(hours)
	return 100 * (now - f.At(hours+7*24)) / now
}

// SettledBy is the chance that it is settled after some hours.
func (f *Forecast) SettledBy(hours float64) float64 {
	sum := 0.0
	for _, p := range f.paths {
		if p.settles <= hours {
			sum += p.weight
		}
	}
	return sum
}

// worst is the weighing that is furthest from what is foretold, when that is further than scale
// and air explain; below zero when there is none.
func (f *Forecast) worst(bad []bool) int {
	const tooFar = 5.0
	worst, most := -1, tooFar
	for i, w := range f.of.Weighings {
		if bad[i] {
			continue
		}
		wide := airs[len(airs)-1].wide * w.Grams
		sigma := math.Sqrt(handling*handling + f.of.Step*f.of.Step/12 + wide*wide)
		if off := math.Abs(w.Grams-f.At(w.Hours)) / sigma; off > most {
			worst, most = i, off
		}
	}
	return worst
}
