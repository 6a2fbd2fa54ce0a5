// Package learn says what a lot will take and give by the shop's own lots, and how little that is known from.
//
// The table says eight minutes to trace; the last seven lots took between five and fourteen. How long the next one takes
// is a figure with a range: from the table while there is nothing else, from lots of other recipes as a hint of how a shop
// works, from lots with the same base or scent as a better one, and from lots of the same recipe as soon as there are some.
// A range means that four of five lots fall into it. Minutes are foretold like that, hours until a loaf is firm, what is
// lost between the pot and the cut, how many bars are good, and what dries away.
//
// The method: logarithms of what a lot showed, over what the table says for it, scatter around the recipe's own figure;
// recipes scatter around those of their base or scent, these around the shop, and shops around the table (a hierarchical
// normal model). What is believed is kept on a net of figures, for five ideas of how much lots scatter, and each lot weighs
// every figure by how well it would explain what was seen (Bayes' rule). A loaf that was firm when somebody looked says no
// more than that it was firm by then, and one that was soft that it was not. One lot in twenty is taken to be anything, so
// that a forgotten timer turns nothing; and many lots of one other recipe say little more than a few of them.
package learn

import (
	"fmt"
	"math"
	"strings"

	"ashshelf/soap/unit"
)

// Kind is what is foretold, and how far it is from the table before a lot was made: spreads as logarithms.
type Kind struct {
	shops   float64 // shops from the table
	recipes float64 // recipes from their shop
	alike   float64 // recipes from others of their base or scent
	lots    float64 // lots from their recipe
	share   bool    // it is a share, said in percent
	unit    string
}

// The kinds of figures: minutes of work, hours until a loaf is firm, what share of the pot comes to the cut, what share of the
// planned bars is good, and what share of a bar dries away in a year. How far they are apart is judged, not measured: each shop
// corrects it by its own lots.
var (
	Minutes = Kind{shops: 0.40, recipes: 0.25, alike: 0.15, lots: 0.30, unit: "min"}
	Firm    = Kind{shops: 0.20, recipes: 0.15, alike: 0.10, lots: 0.15, unit: "h"}
	Comes   = Kind{shops: 0.015, recipes: 0.008, alike: 0.006, lots: 0.010, share: true, unit: "%"}
	Good    = Kind{shops: 0.05, recipes: 0.04, alike: 0.03, lots: 0.05, share: true, unit: "%"}
	Dries   = Kind{shops: 0.20, recipes: 0.12, alike: 0.08, lots: 0.12, share: true, unit: "%"}
)

// Near is how near a lot is to the recipe that is asked about.
type Near int

// From far to near.
const (
	Other Near = iota // another recipe
	Alike             // one of the same base or scent
	Own               // the same recipe
)

// Seen is what a lot showed, over what the table says for it: a figure, or how much it is more than or at the most.
type Seen struct {
	Ratio       float64
	Over, Under float64 // where Ratio is 0; 0 for no bound
	Near        Near
	Recipe      string // lots of a recipe that is not asked about stand together
}

// valid reports whether something was seen at all.
func (s Seen) valid() bool {
	number := func(v float64) bool { return v > 0 && !math.IsInf(v, 0) }
	return number(s.Ratio) || s.Ratio == 0 && (number(s.Over) || number(s.Under)) && (s.Under == 0 || s.Over < s.Under)
}

// Figure is what is foretold. Four of five fall between Low and High.
type Figure struct {
	Kind           Kind
	Mid, Low, High float64
	Table          float64
	Own, Alike     int // lots that it is known from
	Others         int
}

const (
	anything     = 0.05 // of lots say nothing of their recipe
	worthTelling = 0.10 // of the table, by which a figure is another
	points       = 61   // of the net
	reach        = 4.0  // spreads either way
	fourOfFive   = 0.80
)

// How much lots may scatter, times what is thought, and how likely that is before any was made.
var (
	scatters = []float64{0.5, 0.71, 1, 1.41, 2}
	scatter0 = []float64{0.1, 0.2, 0.4, 0.2, 0.1}
)

// Foretell is a figure from what the table says and what lots showed.
func Foretell(k Kind, table float64, seen []Seen) Figure {
	f := Figure{Kind: k, Table: table}
	groups := [3][]Seen{}
	for _, s := range seen {
		if s.valid() {
			groups[s.Near] = append(groups[s.Near], s)
		}
	}
	f.Others, f.Alike, f.Own = len(groups[Other]), len(groups[Alike]), len(groups[Own])
	next := make([]float64, points) // how likely each figure of the next lot is
	var net net
	for i, scatter := range scatters {
		net = newNet(k, scatter*k.lots)
		net.weigh(groups[Other], k.recipes)
		net.spread(math.Sqrt(k.recipes*k.recipes - k.alike*k.alike))
		net.weigh(groups[Alike], k.alike)
		net.spread(k.alike)
		net.weigh(groups[Own], 0)
		net.spread(net.lots)
		for j, p := range net.belief {
			next[j] += scatter0[i] * p * math.Exp(net.evidence)
		}
	}
	at := func(share float64) float64 { return table * math.Exp(net.quantile(next, share)) }
	f.Low, f.Mid, f.High = at((1-fourOfFive)/2), at(0.5), at((1+fourOfFive)/2)
	return f
}

// net is what is believed of a figure, as a logarithm over the table's.
type net struct {
	at       []float64
	belief   []float64
	evidence float64 // logarithm of how well all that was seen is explained
	lots     float64 // how far lots are from their recipe
	wide     float64 // from the least figure to the most
}

func newNet(k Kind, lots float64) net {
	half := reach * math.Sqrt(k.shops*k.shops+k.recipes*k.recipes+k.lots*k.lots)
	n := net{lots: lots, wide: 2 * half}
	for i := range points {
		x := half * (2*float64(i)/(points-1) - 1)
		n.at = append(n.at, x)
		n.belief = append(n.belief, math.Exp(-x*x/(2*k.shops*k.shops)))
	}
	n.normal()
	return n
}

// normal makes the beliefs one, and keeps what they were in the evidence.
func (n *net) normal() {
	sum := 0.0
	for _, p := range n.belief {
		sum += p
	}
	for i := range n.belief {
		n.belief[i] /= sum
	}
	n.evidence += math.Log(sum)
}

// weigh takes lots in, whose recipes are so far from the one that is believed in. Lots of one such recipe count as many
// as tell as much of the recipes around it: as their mean does, and no more.
func (n *net) weigh(seen []Seen, recipes float64) {
	of := map[string]int{}
	for _, s := range seen {
		of[s.Recipe]++
	}
	spread := math.Hypot(n.lots, recipes)
	for _, s := range seen {
		count := float64(of[s.Recipe])
		counts := spread * spread / (n.lots*n.lots + count*recipes*recipes)
		for i, x := range n.at {
			likely := n.explains(s, x, spread)
			if counts < 1 {
				likely = math.Pow(likely, counts)
			}
			n.belief[i] *= likely
		}
		n.normal()
	}
}

// explains is how likely what was seen is if the figure is x.
func (n *net) explains(s Seen, x, spread float64) float64 {
	if s.Ratio > 0 {
		off := (math.Log(s.Ratio) - x) / spread
		return (1-anything)*math.Exp(-off*off/2)/(spread*math.Sqrt(2*math.Pi)) + anything/n.wide
	}
	below := func(bound float64) float64 { return math.Erfc((x-math.Log(bound))/spread/math.Sqrt2) / 2 }
	share := 1.0
	if s.Under > 0 {
		share = below(s.Under)
	}
	if s.Over > 0 {
		share -= below(s.Over)
	}
	return (1-anything)*math.Max(0, share) + anything/2
}

// spread has what is believed spread by so much: from a shop to a recipe, from that to a lot.
func (n *net) spread(by float64) {
	step := n.at[1] - n.at[0]
	kernel := make([]float64, points)
	for d := range kernel {
		off := float64(d) * step / by
		kernel[d] = math.Exp(-off * off / 2)
	}
	out := make([]float64, points)
	for i, p := range n.belief {
		all := 0.0
		for j := range out {
			all += kernel[max(i-j, j-i)]
		}
		p /= all
		for j := range out {
			out[j] += p * kernel[max(i-j, j-i)]
		}
	}
	n.belief = out
}

// quantile is below which figure so much of it lies: each point of the net stands for the figures around it.
func (n *net) quantile(likely []float64, share float64) float64 {
	all := 0.0
	for _, p := range likely {
		all += p
	}
	step, sum := n.at[1]-n.at[0], 0.0
	for i, p := range likely {
		if p /= all; sum+p >= share {
			return n.at[i] + step*((share-sum)/p-0.5)
		}
		sum += likely[i] / all
	}
	return n.at[points-1]
}

// Ratio is the figure over what the table says.
func (f Figure) Ratio() float64 {
	if !(f.Table > 0) {
		return 1
	}
	return f.Mid / f.Table
}

// Lots are all lots that it is known from.
func (f Figure) Lots() int { return f.Own + f.Alike + f.Others }

// Telling reports whether the figure is another than the table's by more than a tenth, so that it says why. Of shares of
// which nearly all is kept, it is what is lost that counts.
func (f Figure) Telling() bool {
	if f.Lots() == 0 {
		return false
	}
	if f.Kind.share && f.Table > 0.5 {
		return math.Abs(f.Mid-f.Table) > math.Max(0.01, worthTelling*(1-f.Table))
	}
	return math.Abs(f.Ratio()-1) > worthTelling
}

// From says what it is known from: "7 lots, 2 of its base or scent and 30 of other recipes".
func (f Figure) From() string {
	var parts []string
	if f.Own > 0 {
		parts = append(parts, fmt.Sprintf("%d %s", f.Own, map[bool]string{true: "lot", false: "lots"}[f.Own == 1]))
	}
	if f.Alike > 0 {
		parts = append(parts, fmt.Sprintf("%d of its base or scent", f.Alike))
	}
	if f.Others > 0 {
		parts = append(parts, fmt.Sprintf("%d of other recipes", f.Others))
	}
	switch len(parts) {
	case 0:
		return "no lot yet"
	case 1:
		return parts[0]
	}
	last := len(parts) - 1
	return strings.Join(parts[:last], ", ") + " and " + parts[last]
}

// Says writes an amount of the figure's kind: minutes whole, hours and percent to a tenth where they are few.
func (f Figure) Says(v float64) string {
	if f.Kind.share {
		v *= 100
		return unit.Trim(v, map[bool]int{true: 0, false: 1}[v >= 20 && v < 90])
	}
	return unit.Trim(v, map[bool]int{true: 1, false: 0}[f.Kind.unit == "h" && v < 10])
}

// Amount says the figure with its unit.
func (f Figure) Amount() string { return f.Says(f.Mid) + " " + f.Kind.unit }

// Range says between what four of five fall: "12 to 27".
func (f Figure) Range() string { return f.Says(f.Low) + " to " + f.Says(f.High) }

// Words says a figure with its range, and where it is from.
func (f Figure) Words() string {
	return fmt.Sprintf("%s, %s, from %s; the table says %s", f.Amount(), f.Range(), f.From(), f.Says(f.Table))
}

// Of is the figure of something for which the table says so many times as much.
func (f Figure) Of(times float64) Figure {
	f.Mid, f.Low, f.High, f.Table = f.Mid*times, f.Low*times, f.High*times, f.Table*times
	return f
}

// AtMost is the figure with no more than so much: of bars there are never more than planned.
func (f Figure) AtMost(most float64) Figure {
	f.Mid, f.Low, f.High = min(f.Mid, most), min(f.Low, most), min(f.High, most)
	return f
}
