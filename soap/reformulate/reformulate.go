// Package reformulate finds another blend of fats for nearly the same bar.
//
// A bar is what its fatty acids make it: lauric and myristic foam, palmitic and stearic are firm, oleic is mild, linoleic
// and linolenic spoil first, ricinoleic holds the foam; caprylic and capric foam as well, but are neither firm nor gentle,
// and count on their own. A blend that has nearly as much of each makes nearly the same bar, whatever oils it is of. So one
// can ask for the cheapest of them at today's prices, for one without palm, for one out of what is in the house, for one a
// little firmer, or for one without an oil that cannot be had any more. The shares are the unknowns of a linear programme:
// they sum to 100, each within its limit, each group of acids within some points of what it is. It is solved by the simplex
// method, and what stood in the way is found by giving each limit a point more.
package reformulate

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/internal/simplex"
	"ashshelf/soap/material"
)

// Wish is what is asked for.
type Wish string

// The wishes.
const (
	Cheapest  Wish = "cheapest"
	NoPalm    Wish = "no-palm"
	FromHouse Wish = "from-house"
	Firmer    Wish = "firmer"
	Without   Wish = "without"
)

// Wishes returns all wishes.
func Wishes() []Wish { return []Wish{Cheapest, NoPalm, FromHouse, Firmer, Without} }

// Words says a wish.
func (w Wish) Words() string {
	switch w {
	case Cheapest:
		return "the cheapest at today’s prices"
	case NoPalm:
		return "without palm"
	case FromHouse:
		return "out of what is in the house, the oldest first"
	case Firmer:
		return "a little firmer"
	}
	return "without one of its fats"
}

// Choice is a fat that may be taken.
type Choice struct {
	Fat     fat.Fat
	Price   float64 // of a kilogram; below zero where it is not known
	InHouse float64 // g
	Days    float64 // until what is in the house is old; below zero where nothing says so
}

// Request is what is wanted of a blend.
type Request struct {
	Blend   fat.Blend // as it is
	Choices []Choice  // what may be taken; fats of the blend among them where they may stay
	Wish    Wish
	Gone    string  // key of the fat to do without, for [Without]
	Band    float64 // points by which a group of acids may be off
	Grams   float64 // of fats, to be taken out of the house; 0 where that is no limit
	Marks   []material.Mark
}

// Limits of a request.
const (
	UsualBand = 3.0
	LeastBand = 0.5
	MostBand  = 15.0
	firmerBy  = 2.0 // points of the firm acids
	leastUsed = 2.0 // percent: less of a fat is not worth a bottle
	grain     = 0.5 // percent, in which shares are written
	relax     = 1.0 // points or percent by which a limit is tried looser
	mostWays  = 3
)

// Check finds what cannot be asked.
func (q Request) Check() (p caution.Problems) {
	if !slices.Contains(Wishes(), q.Wish) {
		p.Add("wish", "choose what is wanted")
	}
	if !(q.Band >= LeastBand && q.Band <= MostBand) {
		p.Add("band", "between %g and %g points", LeastBand, MostBand)
	}
	if len(q.Blend) == 0 {
		p.Add("fats", "the recipe has no fats yet")
	}
	if q.Wish == Without && !slices.ContainsFunc(q.Blend, func(s fat.Share) bool { return s.Fat.Key() == q.Gone }) {
		p.Add("gone", "choose a fat of the recipe")
	}
	return p
}

// Group is fatty acids that do the same in a bar, in percent of all.
type Group struct {
	Name  string
	Of    func(fat.Acids) float64
	Floor bool // less of it is a change as well; where it is not, less only keeps longer
}

// Groups are the groups that are kept.
func Groups() []Group {
	return []Group{
		{"what foams", func(a fat.Acids) float64 { return a.Lauric + a.Myristic }, true},
		{"what is firm", func(a fat.Acids) float64 { return a.Palmitic + a.Stearic + a.LongChain }, true},
		{"what is mild", func(a fat.Acids) float64 { return a.Oleic + a.Palmitoleic }, true},
		{"what holds the foam", func(a fat.Acids) float64 { return a.Ricinoleic }, true},
		{"what spoils first", func(a fat.Acids) float64 { return a.Linoleic + a.Linolenic }, false},
		{"what is short and bites", func(a fat.Acids) float64 { return a.CaprylicCapric }, false},
	}
}

// Bind is a limit that stands in the way.
type Bind struct {
	What  string  // such as “Coconut oil at its limit of 35 %”
	Saves float64 // of a kilogram, with a point more; 0 where price is not what is asked for, or not known
}

// Way is a blend that does.
type Way struct {
	Title  string
	Blend  fat.Blend
	Price  float64 // of a kilogram; below zero where one is not known
	Groups []GroupOf
	Binds  []Bind
	Off    float64 // points by which the worst group is off
}

// GroupOf is a group as it was and as it is.
type GroupOf struct {
	Name       string
	Was, Is    float64
	Beyond     bool // the band does not reach so far
	OnlyHigher bool // only more of it counts
}

// Answer is the ways that were found. When none keeps the bar, Near is the nearest that could be had.
type Answer struct {
	Ways []Way
	Near *Way
	None string // why there is not even that
}

// row is a limit of the programme: the sum of factors times shares is at least low and at most high.
type row struct {
	factor    []float64
	low, high float64
	what      string // as it is told when it stands in the way
	group     int    // of acids; -1 for the limit of a fat
}

// programme is what is solved: choices that are left, their limits, and what each costs by some measure.
type programme struct {
	q       Request
	choices []Choice
	rows    []row
}

// Solve finds the ways.
func Solve(q Request) (Answer, error) {
	if err := q.Check().Err(); err != nil {
		return Answer{}, err
	}
	p := q.programme()
	if len(p.choices) == 0 {
		return Answer{None: "no fat is left to choose from: write down what you can buy, or take the table of fats as well"}, nil
	}
	var out Answer
	for _, aim := range p.aims() {
		if len(out.Ways) == mostWays {
			break
		}
		way, err := p.way(aim)
		if errors.Is(err, simplex.ErrInfeasible) {
			break
		}
		if err != nil {
			return out, err
		}
		if !slices.ContainsFunc(out.Ways, func(w Way) bool { return alike(w.Blend, way.Blend) }) && !alike(way.Blend, q.Blend) {
			out.Ways = append(out.Ways, way)
		}
	}
	if len(out.Ways) > 0 {
		return out, nil
	}
	near, err := p.nearest()
	switch {
	case errors.Is(err, simplex.ErrInfeasible):
		out.None = "what may be taken does not make up a whole: each has its limit, and there is too little of it"
	case err != nil:
		return out, err
	case alike(near.Blend, q.Blend):
		out.None = "the blend that it is does it best"
	default:
		out.Near = &near
	}
	return out, nil
}

// alike reports whether two blends are the same to a grain.
func alike(a, b fat.Blend) bool {
	share := map[string]float64{}
	for _, s := range a {
		share[s.Fat.Key()] += s.Percent
	}
	for _, s := range b {
		share[s.Fat.Key()] -= s.Percent
	}
	for _, d := range share {
		if math.Abs(d) > grain {
			return false
		}
	}
	return true
}

// programme writes down what may be taken, and within which limits.
func (q Request) programme() programme {
	p := programme{q: q}
	now := map[string]float64{}
	for _, s := range q.Blend {
		now[s.Fat.Key()] += s.Percent
	}
	for _, c := range q.Choices {
		key := c.Fat.Key()
		switch {
		case c.Fat.Acids.Sum() < 50 || c.Fat.SAP <= 0: // not known well enough
			continue
		case now[key] == 0 && (c.Fat.Kind == fat.Wax || c.Fat.Kind == fat.Acid): // neither is a fat that one takes for another
			continue
		case q.Wish == Without && key == q.Gone:
			continue
		case q.Wish == NoPalm && c.Fat.From() != material.None && c.Fat.From() != material.Animal:
			continue
		case q.Wish == Cheapest && c.Price < 0:
			continue
		case q.Wish == FromHouse && c.InHouse <= 0:
			continue
		case slices.Contains(q.Marks, c.Fat.From()):
			continue
		}
		p.choices = append(p.choices, c)
	}
	n := len(p.choices)
	for i, c := range p.choices {
		most, what := 100.0, ""
		if c.Fat.MaxShare > 0 {
			most = math.Max(c.Fat.MaxShare, now[c.Fat.Key()])
			what = fmt.Sprintf("%s at its limit of %g %%", c.Fat.Name, most)
		}
		if q.Wish == FromHouse && q.Grams > 0 && 100*c.InHouse/q.Grams < most {
			most = 100 * c.InHouse / q.Grams
			what = fmt.Sprintf("%s, of which %.0f g are in the house", c.Fat.Name, c.InHouse)
		}
		if most < 100 {
			one := make([]float64, n)
			one[i] = 1
			p.rows = append(p.rows, row{one, math.Inf(-1), most, what, -1})
		}
	}
	was := q.Blend.Acids()
	for g, group := range Groups() {
		at := group.Of(was)
		low, high := at-q.Band, at+q.Band
		if !group.Floor {
			low = math.Inf(-1)
		}
		if q.Wish == Firmer && g == 1 {
			low = at + firmerBy
			high = math.Max(high, low+q.Band)
		}
		factor := make([]float64, n)
		for i, c := range p.choices {
			factor[i] = group.Of(c.Fat.Acids) / 100
		}
		p.rows = append(p.rows, row{factor, low, high, group.Name, g})
	}
	return p
}

// aim is what a way makes least of: so much for each percent of each fat, and for each point that a group is off.
type aim struct {
	title string
	cost  []float64
	off   float64
}

// aims are the ways that are tried, the one that the wish is about first.
func (p programme) aims() []aim {
	n := len(p.choices)
	price, change, old := make([]float64, n), make([]float64, n), make([]float64, n)
	priced := true
	for i, c := range p.choices {
		price[i] = math.Max(0, c.Price)
		priced = priced && c.Price >= 0
		change[i] = 1
		if slices.ContainsFunc(p.q.Blend, func(s fat.Share) bool { return s.Fat.Key() == c.Fat.Key() }) {
			change[i] = 0
		}
		if old[i] = 1; c.InHouse > 0 && c.Days >= 0 {
			old[i] = math.Min(1, c.Days/365)
		}
	}
	var out []aim
	add := func(title string, cost []float64, off float64) { out = append(out, aim{title, cost, off}) }
	if p.q.Wish == FromHouse {
		add("uses up the oldest", old, 0.01)
	}
	if p.q.Wish == Cheapest {
		add("the cheapest", price, 0)
	}
	add("nearest to the bar that it is", make([]float64, n), 1)
	add("of the fats that it has, as far as that goes", change, 0.05)
	if priced && p.q.Wish != Cheapest {
		add("the cheapest of them", price, 0)
	}
	return out
}

// way is the blend that an aim leads to: solved, cleared of what is hardly there, and rounded to what is written.
func (p programme) way(a aim) (Way, error) {
	shares, err := p.solve(a, p.rows, 0)
	if err != nil {
		return Way{}, err
	}
	shares = p.cleared(a, shares)
	w := p.asWay(a.title, shares)
	w.Binds = p.binds(a, shares)
	return w, nil
}

// cleared leaves out fats of which there is hardly any, where the rest does without them.
func (p programme) cleared(a aim, shares []float64) []float64 {
	rows := slices.Clone(p.rows)
	some := false
	for i, v := range shares {
		if v > 1e-6 && v < leastUsed {
			one := make([]float64, len(shares))
			one[i] = 1
			rows, some = append(rows, row{one, math.Inf(-1), 0, "", -1}), true
		}
	}
	if !some {
		return shares
	}
	if again, err := p.solve(a, rows, 0); err == nil {
		return again
	}
	return shares
}

// asWay writes shares as a blend, in grains that sum to 100, the largest first.
func (p programme) asWay(title string, shares []float64) Way {
	w := Way{Title: title, Price: 0}
	units := make([]int, len(shares))
	type rest struct {
		i int
		r float64
	}
	var rests []rest
	left := int(math.Round(100 / grain))
	for i, v := range shares {
		units[i] = int(math.Floor(v/grain + 1e-9))
		left -= units[i]
		rests = append(rests, rest{i, v/grain - float64(units[i])})
	}
	slices.SortStableFunc(rests, func(a, b rest) int {
		switch {
		case a.r > b.r:
			return -1
		case a.r < b.r:
			return 1
		}
		return 0
	})
	for k := 0; left > 0 && k < len(rests); k++ {
		if shares[rests[k].i] > 1e-6 {
			units[rests[k].i]++
			left--
		}
	}
	for i, u := range units {
		if u == 0 {
			continue
		}
		c := p.choices[i]
		percent := float64(u) * grain
		w.Blend = append(w.Blend, fat.Share{Fat: c.Fat, Percent: percent})
		if c.Price < 0 || w.Price < 0 {
			w.Price = -1
		} else {
			w.Price += percent / 100 * c.Price
		}
	}
	slices.SortStableFunc(w.Blend, func(a, b fat.Share) int {
		switch {
		case a.Percent > b.Percent:
			return -1
		case a.Percent < b.Percent:
			return 1
		}
		return strings.Compare(a.Fat.Name, b.Fat.Name)
	})
	was, is := p.q.Blend.Acids(), w.Blend.Acids()
	for g, group := range Groups() {
		one := GroupOf{Name: group.Name, Was: group.Of(was), Is: group.Of(is), OnlyHigher: !group.Floor}
		off := one.Is - one.Was
		if !group.Floor {
			off = math.Max(0, off)
		}
		if p.q.Wish == Firmer && g == 1 {
			off = math.Min(0, off-firmerBy) // more is what is asked for
		}
		one.Beyond = math.Abs(off) > p.q.Band+grain
		w.Off = math.Max(w.Off, math.Abs(off))
		w.Groups = append(w.Groups, one)
	}
	return w
}

// binds are the limits that stand in the way: what a point more of each would save.
func (p programme) binds(a aim, shares []float64) (out []Bind) {
	before := p.price(shares)
	for k, r := range p.rows {
		at := 0.0
		for i, v := range shares {
			at += r.factor[i] * v
		}
		low, high := at-r.low < 1e-6, r.high-at < 1e-6
		if !low && !high {
			continue
		}
		rows := slices.Clone(p.rows)
		what := r.what
		if low {
			rows[k].low -= relax
		} else {
			rows[k].high += relax
		}
		if r.group >= 0 {
			what = fmt.Sprintf("%s: no less than %.1f", r.what, r.low)
			if high {
				what = fmt.Sprintf("%s: no more than %.1f", r.what, r.high)
			}
		}
		b := Bind{What: what}
		if looser, err := p.solve(a, rows, 0); err == nil && before >= 0 {
			if after := p.price(looser); after >= 0 {
				b.Saves = math.Max(0, before-after)
			}
		}
		out = append(out, b)
	}
	slices.SortStableFunc(out, func(x, y Bind) int {
		switch {
		case x.Saves > y.Saves:
			return -1
		case x.Saves < y.Saves:
			return 1
		}
		return 0
	})
	return out
}

// price is what a kilogram costs; below zero where that is not known.
func (p programme) price(shares []float64) (sum float64) {
	for i, v := range shares {
		if v > 1e-6 && p.choices[i].Price < 0 {
			return -1
		}
		sum += v / 100 * p.choices[i].Price
	}
	return sum
}

// nearest is the blend whose groups are off by least, whatever the band.
func (p programme) nearest() (Way, error) {
	shares, err := p.solve(aim{off: 1}, p.rows, 1000)
	if err != nil {
		return Way{}, err
	}
	return p.asWay("the nearest that can be had", shares), nil
}

// solve finds the shares that make least of an aim. A group may leave its band for so much a point; 0 lets none. Limits of
// single fats are many, and few stand in the way: they are looked at when they are broken.
func (p programme) solve(a aim, rows []row, beyond float64) ([]float64, error) {
	var some, rest []row
	for _, r := range rows {
		if r.group >= 0 {
			some = append(some, r)
		} else {
			rest = append(rest, r)
		}
	}
	for {
		shares, err := p.minimize(a, some, beyond)
		if err != nil {
			return nil, err
		}
		broken := func(r row) bool {
			at := 0.0
			for i, v := range shares {
				at += r.factor[i] * v
			}
			return at > r.high+1e-7
		}
		before := len(some)
		rest = slices.DeleteFunc(rest, func(r row) bool {
			if broken(r) {
				some = append(some, r)
				return true
			}
			return false
		})
		if len(some) == before {
			return shares, nil
		}
	}
}

func (p programme) minimize(a aim, rows []row, beyond float64) ([]float64, error) {
	n := len(p.choices)
	var groups []int
	for k, r := range rows {
		if r.group >= 0 {
			groups = append(groups, k)
		}
	}
	// The unknowns: the shares; of each group how far it is above and below what it was; and what is left of each limit.
	columns := n + 2*len(groups)
	aboveAt := func(g int) int { return n + 2*g }
	type line struct {
		at  map[int]float64
		sum float64
	}
	var lines []line
	slack := columns
	whole := line{map[int]float64{}, 100}
	for i := range n {
		whole.at[i] = 1
	}
	lines = append(lines, whole)
	limit := func(at map[int]float64, sign, bound float64) { // sign 1: at most, -1: at least
		at[slack] = sign
		slack++
		lines = append(lines, line{at, bound})
	}
	was := p.q.Blend.Acids()
	cost := map[int]float64{}
	for i := range n {
		if a.cost != nil {
			cost[i] = a.cost[i]
		}
	}
	for g, k := range groups {
		r := rows[k]
		at := map[int]float64{}
		for i, f := range r.factor {
			at[i] = f
		}
		at[aboveAt(g)], at[aboveAt(g)+1] = -1, 1
		of := Groups()[r.group]
		lines = append(lines, line{at, of.Of(was)})
		cost[aboveAt(g)] = a.off
		if of.Floor {
			cost[aboveAt(g)+1] = a.off
		}
	}
	for _, r := range rows {
		for _, side := range []struct{ sign, bound float64 }{{1, r.high}, {-1, r.low}} {
			if math.IsInf(side.bound, 0) {
				continue
			}
			at := map[int]float64{}
			for i, f := range r.factor {
				if f != 0 {
					at[i] = f
				}
			}
			if beyond > 0 && r.group >= 0 {
				at[slack], cost[slack] = -side.sign, beyond
				slack++
			}
			limit(at, side.sign, side.bound)
		}
	}
	A, b := make([][]float64, len(lines)), make([]float64, len(lines))
	for y, l := range lines {
		A[y], b[y] = make([]float64, slack), l.sum
		for x, v := range l.at {
			A[y][x] = v
		}
	}
	c := make([]float64, slack)
	for x, v := range cost {
		c[x] = v
	}
	x, err := simplex.Minimize(c, A, b)
	if err == nil {
		return x[:n], nil
	}
	return nil, fmt.Errorf("blend: %w", err)
}
