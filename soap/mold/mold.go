// Package mold is what soap is poured into, and how much it holds.
//
// A mold is measured to the line it is meant to be filled to, never to the
// rim: by its inner length, width and fill height, or by the water it takes to
// that line (one millilitre of water weighs one gram).
package mold

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
)

// Shape is how a mold is measured.
type Shape string

// The shapes.
const (
	Box      Shape = "box"      // a loaf or slab
	Cylinder Shape = "cylinder" // standing
	Water    Shape = "water"    // any shape, by the water it holds
)

// Shapes returns all shapes.
func Shapes() []Shape { return []Shape{Box, Cylinder, Water} }

var shapeWords = map[Shape]string{Box: "box: loaf or slab", Cylinder: "standing cylinder", Water: "any shape, by water weight"}

// Words says the shape as a maker would.
func (s Shape) Words() string { return shapeWords[s] }

// Mold is one mold, or a tray of equal cavities.
type Mold struct {
	Shape    Shape   `json:"shape"`
	Length   float64 `json:"length_mm,omitempty"`   // box, inner
	Width    float64 `json:"width_mm,omitempty"`    // box, inner
	Diameter float64 `json:"diameter_mm,omitempty"` // cylinder, inner
	Fill     float64 `json:"fill_mm,omitempty"`     // box and cylinder: height of the fill line
	WaterG   float64 `json:"water_g,omitempty"`     // water: to the fill line of one cavity
	Cavities int     `json:"cavities,omitempty"`    // water: how many; 0 counts as one
}

// count is the number of cavities.
func (m Mold) count() int { return max(1, m.Cavities) }

// Volume to the fill line in ml, of all cavities together.
func (m Mold) Volume() float64 {
	switch m.Shape {
	case Box:
		return m.Length * m.Width * m.Fill / 1000
	case Cylinder:
		return math.Pi * m.Diameter * m.Diameter / 4 * m.Fill / 1000
	default:
		return m.WaterG * float64(m.count())
	}
}

// barDepth is the side of a bar in mm that a slab is split towards: what lies
// well in a hand.
const barDepth = 85.0

// Grid says how a number of bars is cut from the mold: rows are the loaves
// that a slab is split into, cols the bars of each. Only boxes are split.
func (m Mold) Grid(bars int) (rows, cols int) {
	if bars < 1 {
		return 1, 1
	}
	rows, best := 1, math.Inf(1)
	for n := 1; m.Shape == Box && n <= bars; n++ {
		if off := math.Abs(m.Width/float64(n) - barDepth); bars%n == 0 && off < best {
			rows, best = n, off
		}
	}
	return rows, bars / rows
}

// largest is the longest side in mm that a bench mold can have.
const largest = 3000.0

// Check finds what cannot be worked with; path is where the mold stands.
func (m Mold) Check(p *caution.Problems, path string) {
	size := func(field, what string, v float64) {
		caution.Positive(p, path+"."+field, what, v)
		if v > largest {
			p.Add(path+"."+field, "%s is %.0f mm, more than %.0f mm: check the unit", what, v, largest)
		}
	}
	switch m.Shape {
	case Box:
		size("length_mm", "the inner length", m.Length)
		size("width_mm", "the inner width", m.Width)
		size("fill_mm", "the height of the fill line", m.Fill)
	case Cylinder:
		size("diameter_mm", "the inner diameter", m.Diameter)
		size("fill_mm", "the height of the fill line", m.Fill)
	case Water:
		caution.Positive(p, path+".water_g", "the water it holds", m.WaterG)
		if m.WaterG > 1e6 {
			p.Add(path+".water_g", "the water it holds is more than a tonne: check the unit")
		}
		if m.Cavities < 0 || m.Cavities > 10000 {
			p.Add(path+".cavities", "the number of cavities is %d; it must be 1 or more", m.Cavities)
		}
	default:
		p.Add(path+".shape", "“%s” is not a shape of mold", m.Shape)
	}
}

// Describe gives the measures in one line, in mm and g.
func (m Mold) Describe() string {
	switch m.Shape {
	case Box:
		return fmt.Sprintf("%g × %g mm, filled to %g mm", m.Length, m.Width, m.Fill)
	case Cylinder:
		return fmt.Sprintf("⌀ %g mm, filled to %g mm", m.Diameter, m.Fill)
	default:
		if m.count() > 1 {
			return fmt.Sprintf("%d cavities of %g g water", m.count(), m.WaterG)
		}
		return fmt.Sprintf("%g g water", m.WaterG)
	}
}
