// Package gel foretells whether a loaf gels: its middle, all of it, or nothing.
//
// Fresh soap goes on reacting in its mold, and that makes it warm. Where it becomes warm enough for its water, soap turns
// from an opaque paste into a clear gel; what is drier needs more heat. The middle keeps its heat, the edges lose theirs to
// the mold and the room. So a large loaf in a blanket gels through, a small one in the open does not, and in between a ring
// stays where the gel stopped.
//
// The model: heat is led through a cross-section of a long loaf (two dimensions, a net of cells, small steps in time), made
// by a reaction that goes faster the warmer it is and the more soap there is already, and lost through mold and top. Its
// figures are from chemistry where they are known (55 kJ for a mole of ester that is split by lye, as for ethyl acetate;
// 2.0 and 3.6 J for a gram and a degree of fats and lye), and set so that what makers see comes out where they are not:
// how fast it goes, how well molds keep heat, and how warm a gel is for its water. So each answer is worked out three
// times, with less heat and more, and only what all three say is sure. How much less and more follows from what a shop saw
// of its own loaves, see [Fit].
package gel

import (
	"fmt"
	"math"
	"slices"

	"ashshelf/soap/caution"
)

// Loaf is the soap in its mold, as a cross-section that is long in the third direction.
type Loaf struct {
	Width, Height float64 // mm, of the soap
	Material      string  // of the mold: "silicone", "lined", "plastic", "jar"
}

// Batter is what the heat comes from and goes into. Weights are of any batch.
type Batter struct {
	FatsG, LyeG, WaterG, OtherG float64 // LyeG is pure alkali
	MolesOfLye                  float64
	Warms                       []string // what makes it warmer than is reckoned: sugar, honey, milk, salt
}

// Place is where it stands.
type Place struct {
	StartC float64 // of the batter at the pour
	RoomC  float64
	Cover  string  // "leave", "insulate", "oven", "chill"
	OvenC  float64 // for "oven": when it goes in
}

// Check finds what cannot be foretold.
func (l Loaf) Check() (p caution.Problems) {
	if !(l.Width >= 10 && l.Width <= 1000) {
		p.Add("width", "between 10 and 1000 mm")
	}
	if !(l.Height >= 10 && l.Height <= 400) {
		p.Add("height", "between 10 and 400 mm")
	}
	return p
}

// Check finds what cannot be foretold.
func (pl Place) Check() (p caution.Problems) {
	if !(pl.StartC >= 10 && pl.StartC <= 95) {
		p.Add("start", "between 10 and 95 °C")
	}
	if !(pl.RoomC >= -5 && pl.RoomC <= 45) {
		p.Add("room", "between -5 and 45 °C")
	}
	if pl.Cover == "oven" && !(pl.OvenC >= 30 && pl.OvenC <= 110) {
		p.Add("oven", "between 30 and 110 °C")
	}
	return p
}

// What the model is made of.
const (
	heatOfLye   = 55_000.0 // J for a mole of ester that is split and bound
	warmthFats  = 2.0      // J/g/K
	warmthLye   = 3.6      // J/g/K of alkali in water
	warmthOther = 2.5
	conduction  = 0.33   // W/m/K of batter
	density     = 1030.0 // kg/m³
	atTrace     = 0.08   // of the reaction that is done when it is poured
	halfAt40    = 2.3    // h until half is done in a batter that stays at 40 °C
	activation  = 52_000.0
	gasConstant = 8.314
	gelDry      = 100.0 // °C of a gel without water, and how many °C each percent of water in it takes off
	gelPerWater = 1.5
	tooHot      = 92.0 // °C in the middle, from which on it heaves, cracks or leaks
	cell        = 5.0  // mm
	mostHours   = 20.0
	halfOpen    = 0.5   // of the reaction, from which on it gels however slowly it came
	reacted     = 0.995 // of the reaction, from which on what is below its gel only cools
	ovenCools   = 3.0   // h in which an oven that is off loses two thirds of its heat
	coldC       = 6.0   // °C of the cold
	moreOfSugar = 0.25  // of the heat that sugar, honey, milk or salt may bring besides
)

// What a step of warmth is: see [Fit].
const (
	heatPerStep = 0.07 // more heat
	heldPerStep = 0.19 // less of it let through, as a logarithm
	gelPerStep  = 3.0  // °C by which it gels earlier
)

// through is what a mold lets through in W/m²/K with the air at it, and top what the surface does.
func (l Loaf) through(cover string) (sides, top float64) {
	sides, top = 7, 10
	switch l.Material {
	case "silicone":
		sides = 8.5
	case "lined":
		sides = 4
	case "jar":
		sides, top = 7, 7
	}
	if cover == "insulate" || cover == "oven" {
		sides, top = 1/(1/sides+0.35), 1/(1/top+0.35)
	}
	return sides, top
}

// GelC is how warm soap has to be to gel, in °C: the less water, the warmer.
func (b Batter) GelC() float64 {
	soap := b.FatsG + b.LyeG
	water := 100 * b.WaterG / math.Max(1, soap+b.WaterG)
	return math.Max(45, gelDry-gelPerWater*water)
}

// Moment is the cross-section at a time: the right half from the middle outward, row by row from the bottom.
type Moment struct {
	Hour   float64
	Warmth [][]float64
	Gelled [][]bool // up to then
}

// Course is what happens in a loaf.
type Course struct {
	PeakC   float64 // where it is warmest
	PeakAt  float64 // h
	Share   float64 // of the cross-section that gels, 0 to 1
	Middle  bool    // some of it does
	All     bool
	Hot     bool
	Moments []Moment
}

// Verdict is how sure something is.
type Verdict string

// The verdicts.
const (
	No      Verdict = "no"
	Perhaps Verdict = "perhaps"
	Yes     Verdict = "yes"
)

// Outlook is what is foretold, and how sure it is.
type Outlook struct {
	GelC              float64
	Likely            Course
	Middle, All, Hot  Verdict
	LeastC, MostC     float64 // of the middle, at its peak
	LeastPct, MostPct float64 // of the cross-section that gels, in percent
	Unsure            []string
}

// Foretell says what will happen to a loaf in a shop of which so much is believed.
func Foretell(l Loaf, b Batter, pl Place, shop Belief) (Outlook, error) {
	if err := append(l.Check(), pl.Check()...).Err(); err != nil {
		return Outlook{}, err
	}
	low, mid, high := shop.warmth()
	likely, less := warmer(l, b, pl, mid, 0), warmer(l, b, pl, low, 0)
	sugar := 0.0
	if len(b.Warms) > 0 { // by how much nobody knows: what could be is not called out of the question
		sugar = moreOfSugar
	}
	more := warmer(l, b, pl, high, sugar)
	hottest := more // how far gels went says little of the peak: that a shop's loaves gel late does not keep them from heaving
	if high < unseen {
		hottest = warmer(l, b, pl, unseen, sugar)
	}
	say := func(of func(Course) bool) Verdict {
		switch {
		case of(less) && of(more):
			return Yes
		case of(less) || of(more) || of(likely):
			return Perhaps
		}
		return No
	}
	o := Outlook{GelC: b.GelC(), Likely: likely, LeastC: less.PeakC, MostC: more.PeakC, LeastPct: 100 * less.Share, MostPct: 100 * more.Share,
		Middle: say(func(c Course) bool { return c.Middle }), All: say(func(c Course) bool { return c.All }),
		Hot: say(func(c Course) bool { return c.Hot })}
	if o.MostC = math.Max(o.MostC, hottest.PeakC); o.Hot == No && hottest.Hot {
		o.Hot = Perhaps
	}
	for _, what := range b.Warms {
		o.Unsure = append(o.Unsure, what+" makes it warmer than is reckoned here")
	}
	if l.Width > 3*l.Height {
		o.Unsure = append(o.Unsure, "a slab loses heat at its ends as well, which a long loaf does not")
	}
	return o, nil
}

// times at which the cross-section is kept, in hours.
var times = []float64{0.5, 1, 2, 3, 4, 6, 8, 12}

// warmer follows a loaf that is so many steps warmer than the model has it, with so much more heat besides.
func warmer(l Loaf, b Batter, pl Place, steps, sugar float64) Course {
	return run(l, b, pl, 1+heatPerStep*steps+sugar, math.Exp(-heldPerStep*steps), -gelPerStep*steps, false)
}

// The reaction's speed over that at 40 °C (Arrhenius), by tenths of a degree: to look it up is much faster than to work it out
// for each cell at each step, and no farther off than a thousandth.
const (
	coldest, hottest = -30.0, 220.0
	perDegree        = 10.0
)

var speeds = func() (out []float64) {
	for i := range int((hottest-coldest)*perDegree) + 2 {
		c := coldest + float64(i)/perDegree
		out = append(out, math.Exp(-activation/gasConstant*(1/(c+273.15)-1/313.15)))
	}
	return out
}()

// speedAt is how much faster it goes at a temperature than at 40 °C.
func speedAt(c float64) float64 {
	at := (math.Min(hottest, math.Max(coldest, c)) - coldest) * perDegree
	i := int(at)
	return speeds[i] + (at-float64(i))*(speeds[i+1]-speeds[i])
}

// run follows a loaf for a day: heat is made as the reaction goes, and led away. One that is brief ends when nothing more can
// gel, and keeps nothing of its hours.
func run(l Loaf, b Batter, pl Place, heat, through, shift float64, brief bool) (c Course) {
	nx, ny := max(2, int(math.Round(l.Width/2/cell))), max(3, int(math.Round(l.Height/cell)))
	dx, dy := l.Width/2/float64(nx)/1000, l.Height/float64(ny)/1000
	all := b.FatsG + b.LyeG + b.WaterG + b.OtherG
	warmth := 1000 * (warmthFats*b.FatsG + warmthLye*(b.LyeG+b.WaterG) + warmthOther*b.OtherG) / all // J/kg/K
	made := heat * heatOfLye * b.MolesOfLye / (all / 1000)                                           // J/kg when all is done
	gelAt := b.GelC() + shift
	sides, top := l.through(pl.Cover)
	sides, top = sides*through, top*through
	field := func(v float64) [][]float64 {
		out := make([][]float64, ny)
		for y := range out {
			out[y] = slices.Repeat([]float64{v}, nx)
		}
		return out
	}
	t, next, done := field(pl.StartC), field(0), field(atTrace)
	gelled := make([][]bool, ny)
	for y := range gelled {
		gelled[y] = make([]bool, nx)
	}
	diffuse := conduction / (density * warmth)
	dt := 0.2 * math.Min(dx*dx, dy*dy) / diffuse
	// The logistic reaction has half of it done after halfAt40 at 40 °C, from what was done at trace.
	rate40 := math.Log((1-atTrace)/atTrace) / (halfAt40 * 3600)
	kept := 0
	for at := 0.0; at < mostHours*3600; at += dt {
		air := pl.air(at / 3600)
		for y := range ny {
			for x := range nx {
				here := t[y][x]
				flow := 0.0 // W/m³
				lead := func(other, d float64) { flow += conduction * (other - here) / (d * d) }
				lose := func(u, d float64) { flow += (air - here) / (1/u + d/2/conduction) / d }
				if x > 0 {
					lead(t[y][x-1], dx)
				} // the middle line is a mirror
				if x < nx-1 {
					lead(t[y][x+1], dx)
				} else {
					lose(sides, dx)
				}
				if y > 0 {
					lead(t[y-1][x], dy)
				} else {
					lose(sides, dy)
				}
				if y < ny-1 {
					lead(t[y+1][x], dy)
				} else {
					lose(top, dy)
				}
				step := math.Min(1-done[y][x], rate40*speedAt(here)*done[y][x]*(1-done[y][x])*dt)
				done[y][x] += step
				next[y][x] = here + flow*dt/(density*warmth) + made*step/warmth
			}
		}
		t, next = next, t
		for y := range ny {
			for x := range nx {
				if t[y][x] >= gelAt && done[y][x] >= halfOpen {
					gelled[y][x] = true
				}
			}
		}
		warmest := math.Inf(-1)
		for y := range ny {
			warmest = math.Max(warmest, t[y][0])
		}
		if warmest > c.PeakC {
			c.PeakC, c.PeakAt = warmest, at/3600
		}
		if brief && done[ny/2][0] > reacted && warmest < gelAt { // the middle is the warmest, and makes no more heat
			break
		}
		if kept < len(times) && at/3600 >= times[kept] {
			c.Moments = append(c.Moments, moment(times[kept], t, gelled))
			kept++
		}
	}
	count := 0
	for y := range ny {
		for x := range nx {
			if gelled[y][x] {
				count++
			}
		}
	}
	c.Share = float64(count) / float64(nx*ny)
	c.Middle, c.All, c.Hot = count > 0, count == nx*ny, c.PeakC >= tooHot
	return c
}

// air is how warm it is around the mold after so many hours.
func (pl Place) air(hour float64) float64 {
	switch pl.Cover {
	case "chill":
		return coldC
	case "oven":
		return pl.RoomC + (pl.OvenC-pl.RoomC)*math.Exp(-hour/ovenCools)
	}
	return pl.RoomC
}

func moment(hour float64, t [][]float64, gelled [][]bool) Moment {
	m := Moment{Hour: hour}
	for y := range t {
		m.Warmth = append(m.Warmth, slices.Clone(t[y]))
		m.Gelled = append(m.Gelled, slices.Clone(gelled[y]))
	}
	return m
}

// Words says an outlook in a sentence.
func (o Outlook) Words() string {
	switch {
	case o.All == Yes:
		return "It gels to its edges"
	case o.Middle == No:
		return "It does not gel"
	case o.Middle == Perhaps:
		return "Its middle may gel, or nothing does"
	case o.All == Perhaps:
		return "Its middle gels; whether its edges do is not sure"
	}
	return fmt.Sprintf("Its middle gels, its edges do not: a ring, with %.0f to %.0f %% of it inside", o.LeastPct, o.MostPct)
}

// Fits reports whether what somebody saw ("none", "ring", "full") is what was foretold, as far as that was sure.
func (o Outlook) Fits(seen string) bool {
	switch seen {
	case "full":
		return o.All != No
	case "ring":
		return o.Middle != No && o.All != Yes
	case "none":
		return o.Middle != Yes
	}
	return true
}
