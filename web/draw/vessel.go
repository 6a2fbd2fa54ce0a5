package draw

import (
	"fmt"
	"math"
)

// VesselForm is what a material stands in.
type VesselForm string

// The forms: oils in canisters, hard fats in blocks, lye in tubs, liquids in jugs, powders in jars, scents in
// bottles, what is counted in cartons.
const (
	Canister VesselForm = "canister"
	Block    VesselForm = "block"
	Tub      VesselForm = "tub"
	Flagon   VesselForm = "flagon"
	Jar      VesselForm = "jar"
	Bottle   VesselForm = "bottle"
	Carton   VesselForm = "carton"
)

// VesselInput is what a vessel is drawn from, all in one unit.
type VesselInput struct {
	Form     VesselForm
	Holds    float64 // when it is full
	Largest  float64 // that any vessel of its shelf holds
	Have     float64 // that may be used
	Kept     float64 // that may not
	Reserved float64
	Mark     string // "near its date", "past its date" or empty
	Words    string // read aloud
}

// The measures of a vessel's picture.
const (
	vesselW, vesselH = 132.0, 126.0
	vesselFloor      = 122.0
	vesselTall       = 96.0 // of the largest of its shelf
	leastTall        = 46.0
	vesselGap        = 2.0 // between wall and content
	hatchStep        = 7.0
)

// vesselWide is the width of a form to its height.
var vesselWide = map[VesselForm]float64{Canister: 0.72, Block: 1.15, Tub: 0.95, Flagon: 0.62, Jar: 0.72, Bottle: 0.5, Carton: 1.05}

// OfVessel lays a vessel out with what is in it: what may be used from the floor up, what is promised of it hatched
// at the top of that, and what may not be used above it, crossed out. It is as large beside the others of its shelf
// as what it holds, by volume.
func OfVessel(in VesselInput) Picture {
	p := Picture{W: vesselW, H: vesselH, Title: in.Words}
	tall := math.Max(leastTall, vesselTall*math.Cbrt(in.Holds/math.Max(in.Largest, 1e-9)))
	wide := tall * vesselWide[in.Form]
	x, top := (vesselW-wide)/2, vesselFloor-tall
	inner := tall - 2*vesselGap
	high := func(v float64) float64 { return inner * math.Min(1, math.Max(0, v/math.Max(in.Holds, 1e-9))) }
	have := high(in.Have)
	floor := vesselFloor - vesselGap
	class := map[VesselForm]string{Block: "wood", Tub: "wet", Jar: "wood", Carton: "wood"}[in.Form]
	if class == "" {
		class = "batter"
	}
	if have > 0 {
		p.rect(class, x+vesselGap, floor-have, wide-2*vesselGap, have)
	}
	if promised := math.Min(have, high(in.Reserved)); promised > 0 {
		p.hatch("ln-hatch", x+vesselGap, floor-have, wide-2*vesselGap, promised)
	}
	if kept := math.Min(inner-have, high(in.Kept)); kept > 0 {
		y := floor - have - kept
		p.rect("kept-back", x+vesselGap, y, wide-2*vesselGap, kept)
		p.line("stop", x+vesselGap+3, y+2, x+wide-vesselGap-3, y+kept-2)
		p.line("stop", x+vesselGap+3, y+kept-2, x+wide-vesselGap-3, y+2)
	}
	p.wall(in.Form, x, top, wide)
	if in.Mark != "" {
		p.flag(x+wide, top, in.Mark)
	}
	return p
}

// wall draws the outline of a form.
func (p *Picture) wall(form VesselForm, x, top, wide float64) {
	right, mid := x+wide, x+wide/2
	open := fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", x, top, vesselFloor, right, top)
	switch form {
	case Canister:
		p.path("ln", open+fmt.Sprintf("H%.1fv-7h-12v7H%.1fz", mid+6, x))
		p.path("ln", fmt.Sprintf("M%.1f %.1fq0 -10 10 -10h%.1f", x+4, top, math.Max(4, wide/2-24)))
	case Tub:
		p.path("ln", open)
		p.rect("wood", x-3, top-6, wide+6, 7)
	case Flagon, Bottle:
		neck := wide * 0.17
		p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1fL%.1f %.1fv-9H%.1fv9z", x, top+8, vesselFloor, right, top+8,
			mid+neck, top-2, mid-neck))
	case Jar:
		p.path("ln", open)
		p.path("ln", fmt.Sprintf("M%.1f %.1fh%.1fv-7h-%.1fz", x+2, top, wide-4, wide-4))
	case Carton:
		p.path("ln", open)
		p.path("ln", fmt.Sprintf("M%.1f %.1fl-8 -7M%.1f %.1fl8 -7", x, top, right, top))
	default:
		p.path("ln", open+"z")
	}
}

// flag hangs a tag on a vessel: a pennant for what is near its date, a cross for what is past it.
func (p *Picture) flag(x, top float64, mark string) {
	if mark == PastDate {
		p.path("stop", fmt.Sprintf("M%.1f %.1fl12 12m0 -12l-12 12", x+2, top))
		return
	}
	p.path("ln", fmt.Sprintf("M%.1f %.1fv24", x+2, top-6))
	p.path("flag-near", fmt.Sprintf("M%.1f %.1fl15 6l-15 6z", x+2, top-6))
}

// What a vessel is marked with.
const (
	NearDate = "near its date"
	PastDate = "past its date"
)

// hatch draws lines at 45 degrees over a rectangle, cut at its edges.
func (p *Picture) hatch(class string, x, y, w, h float64) {
	for d := hatchStep / 2; d < w+h; d += hatchStep {
		// From the lower left: the line x - x0 = y0 + h - y, moved to the right by d.
		x1, y1 := x+math.Max(0, d-h), y+math.Max(0, h-d)
		x2, y2 := x+math.Min(w, d), y+h-math.Max(0, d-w)
		p.line(class, x1, y1, x2, y2)
	}
}
