// Package draw turns computed values into pictures.
//
// Each picture is first a layout: plain figures in the units of its own canvas,
// worked out here and tested here. The page then writes the layout down as SVG
// without any arithmetic of its own. Shapes carry a class for their colour,
// never a colour, so that a picture follows the scheme of the page and prints.
package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/cure"
	"ashshelf/soap/dry"
	"ashshelf/soap/fat"
	"ashshelf/soap/learn"
	"ashshelf/soap/unit"
)

// Shape is one mark: a rect, circle, line, path or text, or a row of N equal rects,
// one Pitch from the next.
type Shape struct {
	Kind       string // "rect", "circle", "line", "path", "text", "row"
	X, Y, W, H float64
	X2, Y2, R  float64
	D          string // of a path
	Class      string
	Text       string
	Anchor     string // of a text: start, middle, end
	Size       float64
	N          int
	Pitch      float64
}

// Picture is a canvas with shapes.
type Picture struct {
	W, H   float64
	Shapes []Shape
	Title  string // read aloud in place of the picture
}

func (p *Picture) rect(class string, x, y, w, h float64) {
	p.Shapes = append(p.Shapes, Shape{Kind: "rect", X: x, Y: y, W: math.Max(w, 0), H: math.Max(h, 0), Class: class})
}

func (p *Picture) line(class string, x, y, x2, y2 float64) {
	p.Shapes = append(p.Shapes, Shape{Kind: "line", X: x, Y: y, X2: x2, Y2: y2, Class: class})
}

func (p *Picture) circle(class string, x, y, r float64) {
	p.Shapes = append(p.Shapes, Shape{Kind: "circle", X: x, Y: y, R: r, Class: class})
}

func (p *Picture) path(class, d string) {
	p.Shapes = append(p.Shapes, Shape{Kind: "path", D: d, Class: class})
}

func (p *Picture) row(class string, x, y, w, h float64, n int, pitch float64) {
	p.Shapes = append(p.Shapes, Shape{Kind: "row", X: x, Y: y, W: math.Max(w, 0), H: math.Max(h, 0), N: n, Pitch: pitch, Class: class})
}

func (p *Picture) text(class string, x, y, size float64, anchor, text string) {
	p.Shapes = append(p.Shapes, Shape{Kind: "text", X: x, Y: y, Size: size, Anchor: anchor, Text: text, Class: class})
}

// Blend is a blend of fats as one board, sawn in proportion: solid fats to the
// left in wood, liquid ones to the right.
type Blend struct {
	Picture
	Parts []BlendPart
}

// BlendPart is one fat of the board.
type BlendPart struct {
	Name    string
	Percent float64
	Solid   bool
}

const blendWidth, blendHeight = 480.0, 30.0

// OfBlend lays a blend out.
func OfBlend(b fat.Blend) Blend {
	out := Blend{Picture: Picture{W: blendWidth, H: blendHeight}}
	x := 0.0
	for _, solid := range []bool{true, false} {
		for _, s := range b {
			if s.Fat.Solid != solid {
				continue
			}
			class := "share share-liquid"
			if solid {
				class = "share share-solid"
			}
			w := s.Percent / 100 * blendWidth
			out.rect(class, x, 0, w, blendHeight)
			out.Parts = append(out.Parts, BlendPart{s.Fat.Name, s.Percent, solid})
			x += w
		}
	}
	out.Title = fmt.Sprintf("%s %% solid fats, %s %% liquid", unit.Trim(b.Solid(), 0), unit.Trim(100-b.Solid(), 0))
	return out
}

// Fill is a beaker that fills to a mark as an ingredient is weighed.
type Fill struct {
	Picture
	Level float64 // share of the target that is in, 1 at the mark
}

// What a figure's strip is drawn with.
const (
	figureW, figureH   = 300.0, 34.0
	figureLow, figureY = 12.0, 17.0
)

// OfFigure draws a foretold figure as a strip from nothing to beyond its range: a bar that four of five lots fall into, a
// mark at its middle, and a hollow ring where the table is. A share of which nearly all is kept begins near its range, so
// that one sees something.
func OfFigure(f learn.Figure, words string) Picture {
	p := Picture{W: figureW, H: figureH, Title: words}
	from, until := 0.0, 1.15*math.Max(f.High, f.Table)
	if least := math.Min(f.Low, f.Table); least > 0.7*until {
		from, until = least-0.3*(until-least), 1.15*until-0.15*least
	}
	at := func(v float64) float64 {
		return figureLow + (figureW-2*figureLow)*math.Min(1, math.Max(0, (v-from)/math.Max(until-from, 1e-9)))
	}
	p.line("ln-fine", figureLow, figureY, figureW-figureLow, figureY)
	p.rect("wet", at(f.Low), figureY-7, at(f.High)-at(f.Low), 14)
	p.circle("ln", at(f.Table), figureY, 6)
	p.line("ln-mark", at(f.Mid), 4, at(f.Mid), figureH-4)
	return p
}

const (
	fillW, fillH = 200.0, 250.0
	fillFloor    = 232.0
	fillMark     = 70.0 // y of the target
)

// OfFill lays the beaker out for an actual weight beside its target. Under, in and
// over are told by the sign in the beaker as well as by colour: a hollow arrow
// down to what is missing, a tick, a filled arrow up past the mark.
func OfFill(target, tolerance, actual float64) Fill {
	f := Fill{Picture: Picture{W: fillW, H: fillH}}
	if target > 0 {
		f.Level = actual / target
	}
	span := fillFloor - fillMark
	y := math.Min(fillFloor, math.Max(18, fillFloor-span*f.Level))
	band := math.Max(3, span*tolerance/math.Max(target, 1e-9))
	f.rect("soap", 30, 14, 130, fillFloor-14)
	wet, word := "wet", "still under"
	switch {
	case actual > target+tolerance+1e-9:
		wet, word = "fill-over", "over"
	case actual >= target-tolerance-1e-9:
		wet, word = "fill-in", "on the mark"
	}
	if f.Level > 0 {
		f.rect(wet, 31, y, 128, fillFloor-y)
	}
	f.rect("batter", 30, fillMark-band, 130, 2*band)
	f.line("ln-mark", 22, fillMark, 172, fillMark)
	f.path("ln", "M24 8H166M30 8V232H160V8")
	f.path("dot", "M174 70l14 -8v16z")
	switch wet {
	case "fill-in":
		f.path("sign-in", "M72 150l16 18 30-38")
	case "fill-over":
		f.path("dot", "M95 28l20 30h-40z")
	default:
		f.path("ln", "M95 200l14-22h-28z")
	}
	f.Title = fmt.Sprintf("%s g of %s g, %s", unit.Grams(actual), unit.Grams(target), word)
	return f
}

// Drying is the sample bar's weight over the days since the pour.
type Drying struct {
	Picture
	Points int
}

const (
	dryW, dryH           = 560.0, 230.0
	dryL, dryR, dryT     = 54.0, 540.0, 16.0
	dryFloor             = 190.0
	dryDaysLeast         = 35
	dryDaysMost          = 800
	drySteps             = 40
	dryWord              = 48.0       // how wide the word "settled" is
	dryHeadroom, dryRoom = 1.01, 0.84 // of the first weight, at the top and the floor
)

// OfDrying lays the weighings out against the days the policy asks for, with the
// curve that was fitted to them, where there is one, and the days between which
// its weight will have settled.
func OfDrying(poured cure.Facts, f *dry.Forecast) Drying {
	d := Drying{Picture: Picture{W: dryW, H: dryH}, Points: len(poured.Samples)}
	days := float64(max(dryDaysLeast, poured.Policy.Days+7, cure.Days(poured.Poured, poured.Now)+3))
	before := 0.0 // days from the pour to the first weighing
	if f != nil {
		before = math.Max(0, poured.Samples[0].At.Sub(poured.Poured).Hours()/24)
		days = math.Min(math.Max(days, f.Late/24+3), 2*days)
	}
	days, before = math.Min(days, dryDaysMost), math.Min(before, dryDaysMost) // beyond them a clock was wrong
	x := func(day float64) float64 { return dryL + (dryR-dryL)*math.Min(1, math.Max(0, day/days)) }
	d.line("ln", dryL, dryFloor, dryR, dryFloor)
	d.line("ln", dryL, dryT, dryL, dryFloor)
	for w := 0.0; w*7 <= days; w++ {
		d.line("ln-fine", x(w*7), dryFloor, x(w*7), dryFloor+5)
		if int(w)%2 == 0 || days < 60 {
			d.text("soft", x(w*7), dryFloor+20, 13, "middle", unit.Trim(w, 0))
		}
	}
	d.text("soft", dryR, dryFloor+36, 13, "end", "weeks since the pour")
	mark := x(float64(poured.Policy.Days))
	side, step := "start", 5.0 // of the mark that its word stands on
	if f != nil {
		early, late := x(math.Min(days, f.Early/24)), x(math.Min(days, f.Late/24))
		if late > mark && early < mark+dryWord+12 {
			side, step = "end", -5
			if early < mark { // before the band, whose edge would cross it
				step = early - mark - 5
			}
		}
		d.rect("band-settled", early, dryT, math.Max(2, late-early), dryFloor-dryT)
		if late-early > dryWord {
			d.text("soft", (early+late)/2, dryFloor-6, 12, "middle", "settled")
		} else if late+dryWord < dryR {
			d.text("soft", late+5, dryFloor-6, 12, "start", "settled")
		}
	}
	d.line("ln-mark", mark, dryT, mark, dryFloor)
	d.text("soft", mark+step, dryT+12, 13, side, fmt.Sprintf("%d days", poured.Policy.Days))
	if len(poured.Samples) == 0 {
		d.text("soft", (dryL+dryR)/2, 110, 15, "middle", "no weighing yet")
		d.Title = "No weighing of the sample bar yet"
		return d
	}
	first := poured.Samples[0].Grams
	low := first * dryRoom
	for _, s := range poured.Samples {
		low = math.Min(low, s.Grams*0.99)
	}
	y := func(g float64) float64 {
		return dryFloor - (dryFloor-dryT)*(g-low)/(first*dryHeadroom-low)
	}
	for _, pct := range []float64{0, 5, 10, 15} {
		g := first * (1 - pct/100)
		if g < low {
			continue
		}
		d.line("ln-fine", dryL-4, y(g), dryL, y(g))
		d.text("soft", dryL-8, y(g)+4, 13, "end", unit.Trim(g, 0)+" g")
	}
	if f != nil {
		curve := ""
		for i := range drySteps + 1 {
			at := before + (days-before)*float64(i)/drySteps
			step := "L"
			if i == 0 {
				step = "M"
			}
			curve += fmt.Sprintf("%s%.1f %.1f", step, x(at), math.Min(dryFloor, y(f.At(24*at))))
		}
		d.path("ln-dash", curve)
	}
	path := ""
	for i, s := range poured.Samples {
		px, py := x(s.At.Sub(poured.Poured).Hours()/24), y(s.Grams)
		step := "L"
		if i == 0 {
			step = "M"
		}
		path += fmt.Sprintf("%s%.1f %.1f", step, px, py)
		d.circle("dot", px, py, 4.5)
	}
	d.path("ln", path)
	last := poured.Samples[len(poured.Samples)-1]
	d.Title = fmt.Sprintf(
		"%d weighings of the sample bar, from %s g to %s g",
		len(poured.Samples),
		unit.Grams(first),
		unit.Grams(last.Grams),
	)
	return d
}
