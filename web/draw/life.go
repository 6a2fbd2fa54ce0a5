package draw

import (
	"fmt"
	"math"
	"strings"

	"ashshelf/soap/ageing"
	"ashshelf/soap/unit"
)

// The canvas of a bar's life: bubbles over the bar, the feel of it under it, and the time.
const (
	lifeW, lifeH          = 480.0, 222.0
	lifeL, lifeR          = 44.0, 456.0
	lifeFloor             = 152.0 // where the bar stands
	lifeFlat, lifeTall    = 10.0, 84.0
	lifeFeel              = 172.0
	lifeAxis              = 190.0
	lifeMarks             = 16.0
	lifeBubbles, lifeEach = 1.5, 13.0 // the radius of none and of all foam
	lifeRough             = 10.0      // how far harsh soap's line swings
	lifeStretch           = 1.5       // days: below it time runs even, above it ever faster
)

// lifeDays are the days that the axis names.
var lifeDays = []struct {
	day  float64
	text string
}{{1, "1 day"}, {7, "1 week"}, {28, "4 weeks"}, {91, "3 months"}, {365, "1 year"}, {ageing.Span, "2 years"}}

// lifeX is where a day stands on the axis.
func lifeX(day float64) float64 {
	return lifeL + (lifeR-lifeL)*math.Log1p(day/lifeStretch)/math.Log1p(ageing.Span/lifeStretch)
}

// lifeDay is the day that stands at x.
func lifeDay(x float64) float64 {
	return lifeStretch * math.Expm1((x-lifeL)/(lifeR-lifeL)*math.Log1p(ageing.Span/lifeStretch))
}

// lifeTop is the upper edge of the bar on a day: a soft one slumps, a firm one stands tall.
func lifeTop(l ageing.Life, day float64) float64 {
	return lifeFloor - lifeFlat - (lifeTall-lifeFlat)*l.Firm(day)
}

// OfLife draws a bar's life on a time that stretches: how firm it stands, how it foams, how it
// feels, until which day it may not be sold, and how spots of age come over it. The life before
// the last change, where there is one, is its shadow.
func OfLife(l ageing.Life, before *ageing.Life) Picture {
	p := Picture{W: lifeW, H: lifeH}
	ready := lifeX(math.Max(l.Cut, l.Ready))
	p.path("life-young", lifeBody(l, lifeX(l.Cut), ready))
	p.path("life-ready", lifeBody(l, ready, lifeR))
	p.ageSpots(l)
	p.bubbles(l)
	p.path("ln", feel(l))
	if before != nil {
		p.path("life-shadow", "M"+lifeEdge(*before, lifeX(before.Cut), lifeR))
		p.path("life-shadow", foamEdge(*before))
		p.path("life-shadow", feel(*before))
	}
	p.text("soft", lifeL-8, 70, 13, "end", "foam")
	p.text("soft", lifeL-8, lifeFloor-8, 13, "end", "bar")
	p.text("soft", lifeL-8, lifeFeel+4, 13, "end", "skin")

	p.line("ln-mark", ready, lifeMarks-8, ready, lifeFloor)
	p.text("", ready-6, lifeMarks, 13, "end", "cured "+unit.Trim(l.Ready, 0)+" days")
	p.Title = "The bar's life from the cut to two years: cured after " + unit.Trim(l.Ready, 0) + " days"
	if tires := l.Tires(); tires < ageing.Span {
		x, text := lifeX(tires), "tires, "+roughly(tires)
		anchor, gap := "start", 5.0
		if x > lifeR-90 {
			anchor, gap = "end", -5
		}
		y := lifeMarks
		if x < ready+5 || anchor == "end" && x-90 < ready+5 {
			y += 15 // under the word of the cure
		}
		p.line("ln-dash", x, y-8, x, lifeFloor)
		p.text("", x+gap, y, 13, anchor, text)
		p.Title += "; " + text
	} else {
		p.text("", lifeR, lifeMarks, 13, "end", "fresh at two years")
		p.Title += "; fresh at two years"
	}
	p.line("ln-fine", lifeL, lifeAxis, lifeR, lifeAxis)
	for _, one := range lifeDays {
		p.line("ln-fine", lifeX(one.day), lifeAxis, lifeX(one.day), lifeAxis+5)
		p.text("soft", lifeX(one.day), lifeAxis+20, 13, "middle", one.text)
	}
	return p
}

// roughly says a number of days as one would of a bar that ages.
func roughly(days float64) string {
	if days < 60 {
		return fmt.Sprintf("%.0f weeks", math.Max(1, math.Round(days/7)))
	}
	return fmt.Sprintf("%.0f months", math.Round(days/30.4))
}

const lifeStep = 6.0

// along runs from x to x in steps, both of them in.
func along(from, to, step float64, each func(x float64)) {
	for x := from; x < to-1e-9; x += step {
		each(x)
	}
	each(to)
}

// lifeEdge is the bar's upper edge between two places, without a letter before its first point.
func lifeEdge(l ageing.Life, from, to float64) string {
	var points []string
	along(from, to, lifeStep, func(x float64) {
		points = append(points, fmt.Sprintf("%.1f %.1f", x, lifeTop(l, lifeDay(x))))
	})
	return strings.Join(points, "L")
}

func lifeBody(l ageing.Life, from, to float64) string {
	return fmt.Sprintf("M%.1f %.1fL%sL%.1f %.1fZ", from, lifeFloor, lifeEdge(l, from, to), to, lifeFloor)
}

func bubble(l ageing.Life, day float64) float64 { return lifeBubbles + lifeEach*l.Lather(day) }

// foamEdge is how high the bubbles reach.
func foamEdge(l ageing.Life) string {
	var points []string
	along(lifeX(l.Cut), lifeR, lifeStep, func(x float64) {
		day := lifeDay(x)
		points = append(points, fmt.Sprintf("%.1f %.1f", x, lifeTop(l, day)-2*bubble(l, day)))
	})
	return "M" + strings.Join(points, "L")
}

// bubbles sit on the bar in heaps of three, the larger the better it foams.
func (p *Picture) bubbles(l ageing.Life) {
	const apart = 38.0
	for x := lifeX(l.Cut) + apart/2; x < lifeR-lifeBubbles-lifeEach; x += apart {
		day := lifeDay(x)
		r := bubble(l, day)
		y := lifeTop(l, day)
		p.circle("bubble", x+1.3*r, y-0.6*r, 0.6*r)
		p.circle("bubble", x-1.2*r, y-0.5*r, 0.5*r)
		p.circle("bubble", x, y-r, r)
	}
}

// ageSpots come over the bar as its fats turn, scattered evenly and always the same.
func (p *Picture) ageSpots(l ageing.Life) {
	const spots, across, down, turn = 240, 0.6180339887, 0.7548776662, 0.5698402910
	for i := range spots {
		n := float64(i + 1)
		x := lifeX(l.Cut) + (lifeR-4-lifeX(l.Cut))*math.Mod(n*across, 1)
		day := lifeDay(x)
		if math.Mod(n*turn, 1) >= 1-l.Fresh(day) {
			continue
		}
		top := lifeTop(l, day) + 5
		p.circle("age-spot", x, top+(lifeFloor-5-top)*math.Mod(n*down, 1), 2.2)
	}
}

// feel is the line under the bar: jagged while soap is harsh, smooth when it is kind. It swings by
// the square, so that mild soap looks as smooth as it is.
func feel(l ageing.Life) string {
	points := []string{}
	up := 1.0
	along(lifeX(l.Cut), lifeR, lifeStep, func(x float64) {
		up = -up
		points = append(points, fmt.Sprintf("%.1f %.1f", x, lifeFeel+up*lifeRough*math.Pow(1-l.Kind(lifeDay(x)), 2)))
	})
	return "M" + strings.Join(points, "L")
}
