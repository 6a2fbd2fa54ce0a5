// Package mold is what soap is poured into, and how much it holds.
//
// A mold is measured to the line it is meant to be filled to, never to the
// rim: by its inner length, width and fill height, or by the water it takes to
// that line (one millilitre of water weighs one gram). Where both are known
// they check each other. What is still off, a mold learns from how full it
// came: see [Learn]. How the soap is cut, and what thickness meets the weight on
// a label, is worked out from the same measures.
package mold

import (
	"fmt"
	"math"
	"slices"

	"ashshelf/soap/caution"
)

// Shape is how a mold is measured.
type Shape string

// The shapes.
const (
	Box      Shape = "box"      // a loaf or slab
	Grid     Shape = "grid"     // a box with dividers, which take volume
	Cylinder Shape = "cylinder" // standing: columns, round cavities, jars
	Water    Shape = "water"    // any shape, by the water it holds
)

// Shapes returns all shapes.
func Shapes() []Shape { return []Shape{Box, Grid, Cylinder, Water} }

var shapeWords = map[Shape]string{
	Box:      "box: loaf, slab, square cavity",
	Grid:     "box with dividers",
	Cylinder: "standing cylinder or jar",
	Water:    "any shape, by water weight",
}

// Words says the shape as a maker would.
func (s Shape) Words() string { return shapeWords[s] }

// Outline is how a cavity looks from above, where its ruler says nothing of it. It is for the eye:
// nothing is reckoned from it.
type Outline string

// Outlines returns the outlines that are drawn; empty for one that nobody said.
func Outlines() []Outline {
	return []Outline{"", "bar", "round", "oval", "hexagon", "heart", "leaf", "star", "flower"}
}

// Words names the outline.
func (o Outline) Words() string {
	if o == "" {
		return "not said"
	}
	return string(o)
}

// Mold is one mold, or a tray of equal cavities.
type Mold struct {
	Shape    Shape
	Length   float64 // box, grid: inner
	Width    float64 // box, grid: inner
	Diameter float64 // cylinder: inner
	Fill     float64 // height of the fill line; with [Water] only to speak of it
	Height   float64 // to the rim, 0 when not measured
	WaterG   float64 // to the fill line of one cavity, 0 when not weighed
	Cavities int     // how many equal ones; 0 counts as one
	Rows     int     // grid: cells across the width
	Cols     int     // grid: cells along the length
	Divider  float64 // grid: thickness of a divider
	Outline  Outline // water: of a cavity
	ByWater  bool    // the water counts, not the ruler, where both are known
	// Correction is what the mold has learned from its pours, a factor near 1;
	// 0 counts as 1.
	Correction float64
}

// count is the number of cavities.
func (m Mold) count() int { return max(1, m.Cavities) }

// FilledTo is the mold filled to a share of its line, above 1 beyond it.
func (m Mold) FilledTo(share float64) Mold {
	m.Fill *= share
	m.WaterG *= share
	return m
}

// Single reports whether each cavity is one piece of soap that is not cut.
func (m Mold) Single() bool { return m.count() > 1 || m.Shape == Grid }

// Ruler is the volume to the fill line in ml by the ruler, of all cavities
// together, 0 when it was not measured so.
func (m Mold) Ruler() float64 {
	switch m.Shape {
	case Box:
		return m.Length * m.Width * m.Fill / 1000 * float64(m.count())
	case Grid:
		return m.cellLength() * m.cellWidth() * m.Fill / 1000 * float64(m.Rows*m.Cols*m.count())
	case Cylinder:
		return math.Pi * m.Diameter * m.Diameter / 4 * m.Fill / 1000 * float64(m.count())
	}
	return 0
}

// Weighed is the volume in ml by the water it holds, of all cavities together,
// 0 when it was not weighed.
func (m Mold) Weighed() float64 { return m.WaterG * float64(m.count()) }

// Volume to the fill line in ml, of all cavities together, with what the mold
// has learned.
func (m Mold) Volume() float64 {
	v := m.Ruler()
	if m.Shape == Water || m.ByWater && m.WaterG > 0 {
		v = m.Weighed()
	}
	if m.Correction > 0 {
		v *= m.Correction
	}
	return v
}

func (m Mold) cellLength() float64 {
	return (m.Length - float64(m.Cols-1)*m.Divider) / float64(max(1, m.Cols))
}

func (m Mold) cellWidth() float64 {
	return (m.Width - float64(m.Rows-1)*m.Divider) / float64(max(1, m.Rows))
}

// LinerOverlap is what a liner is cut larger for at each edge, in mm, to fold
// over the rim.
const LinerOverlap = 20.0

// Liner is the sheet in mm that lines a box: its floor with both walls and the
// overlap each way. It is 0 for what is not lined that way.
func (m Mold) Liner() (length, width float64) {
	if m.Shape != Box || m.count() > 1 {
		return 0, 0
	}
	up := 2 * (math.Max(m.Height, m.Fill) + LinerOverlap)
	return m.Length + up, m.Width + up
}

// Headroom below which a top cannot be textured and additives have no room, in
// mm, and how far ruler and water may differ before one of them is wrong, in
// percent.
const (
	leastHeadroom = 5.0
	mostDiffer    = 3.0
)

// Advise gives the cautions about a mold's measures.
func (m Mold) Advise() []caution.Caution {
	var out []caution.Caution
	if m.Height > 0 && m.Fill > 0 && m.Height-m.Fill < leastHeadroom {
		out = append(
			out,
			caution.Caution{
				Code:   "mold.headroom",
				Level:  caution.Advice,
				Reason: fmt.Sprintf("Only %g mm are left above the fill line.", math.Max(0, math.Round((m.Height-m.Fill)*10)/10)),
				Remedy: "Leave headroom for additives and for a texture on top.",
			},
		)
	}
	if r, w := m.Ruler(), m.Weighed(); r > 0 && w > 0 && math.Abs(w/r-1)*100 > mostDiffer {
		out = append(
			out,
			caution.Caution{
				Code:   "mold.measures",
				Level:  caution.Warn,
				Reason: fmt.Sprintf("By the ruler it holds %.0f ml, by its water %.0f ml.", r, w),
				Remedy: "Measure again to the same line, inside the liner. The water is usually right: corners are round and walls lean.",
			},
		)
	}
	return out
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
	case Box, Grid:
		size("length_mm", "the inner length", m.Length)
		size("width_mm", "the inner width", m.Width)
		size("fill_mm", "the height of the fill line", m.Fill)
		if m.Shape == Grid {
			m.checkGrid(p, path)
		}
	case Cylinder:
		size("diameter_mm", "the inner diameter", m.Diameter)
		size("fill_mm", "the height of the fill line", m.Fill)
	case Water:
		caution.Positive(p, path+".water_g", "the water it holds", m.WaterG)
	default:
		p.Add(path+".shape", "“%s” is not a shape of mold", m.Shape)
	}
	if m.WaterG < 0 || m.WaterG > 1e6 {
		p.Add(path+".water_g", "the water it holds must lie between nothing and a tonne: check the unit")
	}
	if !slices.Contains(Outlines(), m.Outline) {
		p.Add(path+".outline", "“%s” is not a shape of cavity", m.Outline)
	}
	if m.Cavities < 0 || m.Cavities > 10000 {
		p.Add(path+".cavities", "the number of cavities is %d; it must be 1 or more", m.Cavities)
	}
	if m.Height != 0 && m.Height < m.Fill {
		p.Add(path+".height_mm", "the rim, at %g mm, lies below the fill line", m.Height)
	}
	if m.Height > largest {
		p.Add(path+".height_mm", "the rim is %.0f mm high, more than %.0f mm: check the unit", m.Height, largest)
	}
	if m.ByWater && m.WaterG == 0 {
		p.Add(path+".water_g", "weigh the water to the fill line, or let the ruler count")
	}
}

func (m Mold) checkGrid(p *caution.Problems, path string) {
	if m.Rows < 1 || m.Rows > 100 {
		p.Add(path+".rows", "the cells across the width must be 1 to 100")
		return
	}
	if m.Cols < 1 || m.Cols > 100 {
		p.Add(path+".cols", "the cells along the length must be 1 to 100")
		return
	}
	if m.Divider < 0 {
		p.Add(path+".divider_mm", "a divider cannot be thinner than nothing")
	} else if m.cellLength() <= 0 || m.cellWidth() <= 0 {
		p.Add(path+".divider_mm", "dividers of %g mm leave no room for soap", m.Divider)
	}
}

// Describe gives the measures in one line, in mm and g.
func (m Mold) Describe() string {
	switch m.Shape {
	case Box, Cylinder:
		size := fmt.Sprintf("%g × %g mm, filled to %g mm", m.Length, m.Width, m.Fill)
		if m.Shape == Cylinder {
			size = fmt.Sprintf("⌀ %g mm, filled to %g mm", m.Diameter, m.Fill)
		}
		if m.count() > 1 {
			return fmt.Sprintf("%d cavities, each %s", m.count(), size)
		}
		return size
	case Grid:
		return fmt.Sprintf("%g × %g mm in %d × %d cells, filled to %g mm", m.Length, m.Width, m.Cols, m.Rows, m.Fill)
	default:
		looks := ""
		if m.Outline != "" {
			looks = m.Outline.Words() + " "
		}
		if m.count() > 1 {
			return fmt.Sprintf("%d %scavities of %g g water", m.count(), looks, m.WaterG)
		}
		return fmt.Sprintf("%s%g g water", looks, m.WaterG)
	}
}
