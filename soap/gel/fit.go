package gel

import "math"

// Look is a loaf that somebody looked at when it was out of its mold: "none", "ring" or "full".
type Look struct {
	Loaf   Loaf
	Batter Batter
	Place  Place
	Seen   string
}

// Turns is by how many steps of warmth a loaf has to differ from the model to begin to gel in its middle, and to gel to its
// edges; the ends of the net where it always does, or never.
type Turns struct{ Middle, All float64 }

// Belief is how much warmer or colder loaves are in a shop than the model has them, in steps: a step is 7 % more heat, a
// sixth less of it let through, and a gel 3 °C earlier, all of them at once. How likely each is stands on a net.
type Belief struct {
	likely []float64
	Looks  int // loaves that it is known from
}

// How far shops are from the model, and loaves from their shop, in steps: together they are 0.78, so that a step either way
// holds four of five. One look in ten is taken to be anything: a ring is easily overlooked.
const (
	spreadShops = 0.67
	spreadLoaf  = 0.40
	anything    = 0.10
	mostWarmer  = 3.0
	netStep     = 0.125
	turnsWithin = 0.2
	unseen      = 1.0 // steps either way of a shop of which nothing was seen
)

func netPoints() int { return int(2*mostWarmer/netStep) + 1 }

// stepAt is how much warmer a point of the net is.
func stepAt(i int) float64 { return float64(i)*netStep - mostWarmer }

// TurnsOf finds where a loaf would have turned. What is warmer never gels less, so that halving finds it.
func (k Look) TurnsOf() Turns {
	known := map[float64]Course{}
	at := func(steps float64) Course {
		c, ok := known[steps]
		if !ok {
			c = run(k.Loaf, k.Batter, k.Place, 1+heatPerStep*steps, math.Exp(-heldPerStep*steps), -gelPerStep*steps, true)
			known[steps] = c
		}
		return c
	}
	turn := func(gels func(Course) bool) float64 {
		low, high := -mostWarmer, mostWarmer
		for high-low > turnsWithin {
			if mid := (low + high) / 2; gels(at(mid)) {
				high = mid
			} else {
				low = mid
			}
		}
		return (low + high) / 2
	}
	return Turns{turn(func(c Course) bool { return c.Middle }), turn(func(c Course) bool { return c.All })}
}

// Fit is what is believed of a shop by what it saw: Bayes' rule over how much warmer its loaves are, each look weighed by how
// likely it is that such a loaf gels so far; turns runs parallel to what was seen. "not looked" counts for nothing.
func Fit(seen []string, turns []Turns) Belief {
	b := Belief{likely: make([]float64, netPoints())}
	for i := range b.likely {
		b.likely[i] = normal(stepAt(i), spreadShops)
	}
	for k, turn := range turns {
		upTo := func(steps, x float64) float64 { return math.Erfc((x-steps)/spreadLoaf/math.Sqrt2) / 2 } // the loaf is below steps
		from, until := math.Inf(-1), math.Inf(1)
		switch seen[k] {
		case "none":
			until = turn.Middle
		case "ring":
			from, until = turn.Middle, turn.All
		case "full":
			from = turn.All
		default:
			continue
		}
		b.Looks++
		for i := range b.likely {
			x := stepAt(i)
			b.likely[i] *= (1-anything)*math.Max(0, upTo(until, x)-upTo(from, x)) + anything/3
		}
	}
	return b
}

func normal(x, spread float64) float64 { return math.Exp(-x * x / (2 * spread * spread)) }

// warmth is how much warmer the next loaf is than the model has it: in the middle, and between what four of five are.
func (b Belief) warmth() (low, mid, high float64) {
	if b.likely == nil {
		b = Fit(nil, nil)
	}
	n := netPoints()
	next, all := make([]float64, n), 0.0
	for i, p := range b.likely {
		for j := range next {
			w := p * normal(stepAt(j)-stepAt(i), spreadLoaf)
			next[j] += w
			all += w
		}
	}
	at := func(share float64) float64 {
		sum := 0.0
		for i, p := range next {
			if p /= all; sum+p >= share {
				return stepAt(i) + netStep*((share-sum)/p-0.5)
			}
			sum += next[i] / all
		}
		return mostWarmer
	}
	return at(0.1), at(0.5), at(0.9)
}

// telling is from how much of a step on a shop is called other than the model.
const telling = 0.3

// Words says how loaves of the shop are beside the model; empty where that is not known.
func (b Belief) Words() string {
	if b.Looks == 0 {
		return ""
	}
	switch _, mid, _ := b.warmth(); {
	case mid > telling:
		return "yours stay warmer than the model has it"
	case mid < -telling:
		return "yours stay colder than the model has it"
	}
	return "yours are as warm as the model has it"
}
