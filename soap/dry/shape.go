package dry

import (
	"math"
	"sync"
)

// shape is a way in which the water leaves: which share of all that will leave is gone after a
// time. Real bars do not dry by one exponential: the skin dries fast and the core slowly, and
// how far apart the two are is different from bar to bar.
type shape struct {
	kind             kind
	fast, slow, part float64 // time constants in days, and the share of the fast one
	cut              bool    // it begins with the first weighing, not with the pour
	prior            float64
}

type kind int

const (
	single    kind = iota // one exponential
	twofold               // a skin and a core
	slab                  // diffusion out of two faces
	brick                 // diffusion out of six, of a bar whose measures are known
	kindCount = int(brick) + 1
)

// terms is how many of the series of a slab are added up; what is left of it is under a
// thousandth after an hour.
const terms = 60

// held is the share of its water that a slab still has, t being in units of its time constant:
// the series of diffusion out of a slab into dry air (Crank, The Mathematics of Diffusion,
// 1975, eq. 4.18).
func held(t float64) float64 {
	if t <= 0 {
		return 1
	}
	if t < 0.05 { // the series is slow here; the law of the square root is exact enough
		return 1 - 4/math.Pi*math.Sqrt(t/math.Pi)
	}
	sum := 0.0
	for k := range terms {
		n := float64(2*k + 1)
		add := 8 / (math.Pi * math.Pi * n * n) * math.Exp(-n*n*t)
		sum += add
		if add < 1e-12 {
			break
		}
	}
	return sum
}

// gone is which share of all that will leave has left after days.
func (s shape) gone(days float64, bar Bar) float64 {
	if days <= 0 {
		return 0
	}
	switch s.kind {
	case single:
		return -math.Expm1(-days / s.slow)
	case twofold:
		return -s.part*math.Expm1(-days/s.fast) - (1-s.part)*math.Expm1(-days/s.slow)
	case slab:
		return 1 - held(days/s.slow)
	}
	// The thinnest measure has the time constant, the others theirs by the square of theirs.
	left := 1.0
	for _, mm := range []float64{bar.Length, bar.Width, bar.Thickness} {
		thick := mm / bar.thinnest()
		left *= held(days / (s.slow * thick * thick))
	}
	return 1 - left
}

// spaced are n values from a to b at equal ratios.
func spaced(a, b float64, n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = a * math.Pow(b/a, float64(i)/float64(n-1))
	}
	return out
}

// beside is how usual a value is beside a range in which all are the same, by its distance in
// logarithms.
func beside(v, low, high, wide float64) float64 {
	d := math.Max(math.Log(low/v), math.Log(v/high))
	if d <= 0 {
		return 1
	}
	return math.Exp(-d * d / (2 * wide * wide))
}

// Usual ranges of time constants in days, and of the share of the skin.
const (
	singleLow, singleHigh = 5.0, 20.0
	fastLow, fastHigh     = 3.0, 9.0
	slowLow, slowHigh     = 16.0, 36.0
	slabLow, slabHigh     = 10.0, 34.0
)

// shapes are all that are thought of, each kind as usual as another. Those out of a brick count
// only when the bar's measures are known, in place of half of the slabs.
var shapes = sync.OnceValue(func() []shape {
	var out []shape
	var sums [kindCount]float64
	add := func(s shape) {
		sums[s.kind] += s.prior
		out = append(out, s)
	}
	for _, tau := range spaced(2.5, 45, 36) {
		add(shape{kind: single, slow: tau, prior: beside(tau, singleLow, singleHigh, 0.3)})
	}
	for _, fast := range spaced(fastLow, fastHigh, 5) {
		for _, slow := range spaced(slowLow, slowHigh, 5) {
			for _, part := range []float64{0.4, 0.5, 0.6, 0.7, 0.8} {
				add(shape{kind: twofold, fast: fast, slow: slow, part: part, prior: 1})
			}
		}
	}
	for _, k := range []kind{slab, brick} {
		for _, tau := range spaced(6, 60, 20) {
			for _, cut := range []bool{false, true} {
				add(shape{kind: k, slow: tau, cut: cut, prior: beside(tau, slabLow, slabHigh, 0.3)})
			}
		}
	}
	for i := range out {
		out[i].prior /= sums[out[i].kind]
	}
	return out
})

// Losses in all, as shares of what the bar weighed when it began to dry.
var losses = func() []float64 {
	var out []float64
	for pct := 2.0; pct <= 24; pct += 0.5 {
		out = append(out, pct/100)
	}
	return out
}()

// usualLoss is how usual a loss is: 6 to 16 %, and more or less the rarer the further.
func usualLoss(loss float64) float64 {
	switch {
	case loss < 0.06:
		return math.Exp(-math.Pow((0.06-loss)/0.015, 2) / 2)
	case loss > 0.16:
		return math.Exp(-math.Pow((loss-0.16)/0.03, 2) / 2)
	}
	return 1
}

// settles is after how many days of drying a week takes no more than limit (a share) of the
// weight, by halving: a week takes less the later it is.
func (s shape) settles(loss, limit float64, bar Bar) float64 {
	open := func(day float64) bool {
		now := 1 - loss*s.gone(day, bar)
		return now-(1-loss*s.gone(day+7, bar)) > limit*now
	}
	if !open(0) {
		return 0
	}
	low, high := 0.0, horizon
	if open(high) {
		return high
	}
	for high-low > 1.0/24 {
		if mid := (low + high) / 2; open(mid) {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

// horizon is as far as is looked ahead, in days.
const horizon = 730.0

// settleTable are the settling times of all shapes but bricks for a limit.
type settleTable [][]float64

var settleTables sync.Map // by limit

// settleTimes works them out once for each limit; there are few.
func settleTimes(limit float64) settleTable {
	if have, ok := settleTables.Load(limit); ok {
		return have.(settleTable)
	}
	all := shapes()
	out := make(settleTable, len(all))
	for i, s := range all {
		if s.kind == brick {
			continue
		}
		out[i] = make([]float64, len(losses))
		for j, loss := range losses {
			out[i][j] = s.settles(loss, limit, Bar{})
		}
	}
	settleTables.Store(limit, out)
	return out
}
