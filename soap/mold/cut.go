package mold

import (
	"math"

	"ashshelf/soap/caution"
)

// Cut is how the soap of one mold is cut.
type Cut struct {
	Thickness float64 // of a bar, along the loaf
	Bars      int     // from one mold, where no thickness is said
	Loaves    int     // that a slab is split into across its width; 0 lets it follow
	Trim      float64 // taken off each end
	Halves    bool    // every bar is cut in two
	Cutter    string  // name of the cutter the thickness comes from
}

// Bars is what a cut makes of one mold. Lengths are in mm, volumes in ml.
type Bars struct {
	Count     int
	Volume    float64 // of one bar
	Thickness float64
	Loaves    int
	Ends      int       // end pieces, thinner than a bar
	EndVolume float64   // of all end pieces
	TrimML    float64   // of what is trimmed off the ends
	Marks     []float64 // from where soap begins
	Along     float64   // the length that is cut
}

// barDepth is the side of a bar in mm that a slab is split towards: what lies
// well in a hand.
const barDepth = 85.0

// grid says how a number of bars is cut from the mold: rows are the loaves
// that a slab is split into, cols the bars of each. Only boxes are split.
func (m Mold) grid(bars int) (rows, cols int) {
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

// leastEnd is the thickness in mm below which what is left over is a trimming
// and no end piece.
const leastEnd = 3.0

// along is the length in mm that bars are cut along: a loaf's length, a
// column's height.
func (m Mold) along() float64 {
	switch m.Shape {
	case Box:
		return m.Length
	case Cylinder:
		return m.Fill
	}
	return 0
}

// Check finds a cut that the mold cannot give; path is where the cut stands.
func (c Cut) Check(p *caution.Problems, path string, m Mold) {
	if c.Bars < 0 || c.Bars > 2000 {
		p.Add(path+".bars", "the number of bars must lie between 0 and 2000")
	}
	if c.Loaves < 0 || c.Loaves > 50 {
		p.Add(path+".loaves", "a slab is split into 1 to 50 loaves")
	}
	if c.Thickness < 0 || c.Thickness > 0 && c.Thickness < 4 {
		p.Add(path+".thickness_mm", "a bar of %g mm falls apart; cut at least 4 mm", c.Thickness)
	}
	if c.Trim < 0 {
		p.Add(path+".trim_mm", "what is trimmed off cannot be below zero")
	}
	if long := m.along(); long > 0 && !m.Single() {
		if 2*c.Trim >= long {
			p.Add(path+".trim_mm", "trimming %g mm off both ends leaves nothing of %g mm", c.Trim, long)
		} else if c.Thickness > long-2*c.Trim+1e-9 {
			p.Add(path+".thickness_mm", "a bar of %g mm is more than the %g mm that are there to cut", c.Thickness, long-2*c.Trim)
		}
	}
}

// Cuts works a cut out. Single cavities and the cells of a grid are bars as they
// are. A box is split into loaves and cut along its length, a column along its
// height; what is left at the end is an end piece. Where a number of bars is
// said in place of a thickness, the bars share the length evenly.
func (m Mold) Cuts(c Cut) Bars {
	b := Bars{Loaves: 1}
	switch {
	case m.Shape == Grid:
		b.Count = m.Rows * m.Cols * m.count()
	case m.count() > 1:
		b.Count = m.count()
	case m.along() > 0 && (c.Thickness > 0 || c.Bars > 0):
		b = m.slices(c)
	default:
		b.Count = c.Bars
	}
	if b.Count > 0 && b.Volume == 0 {
		b.Volume = m.Volume() / float64(b.Count)
	}
	if c.Halves {
		b.Count, b.Volume = 2*b.Count, b.Volume/2
	}
	return b
}

func (m Mold) slices(c Cut) Bars {
	long := m.along()
	room := math.Max(0, long-2*c.Trim)
	loaves, cols := max(1, c.Loaves), 0
	thick := c.Thickness
	if thick > 0 {
		// A bar that is short by less than a billionth is one: the bars then
		// share the room, so that no soap is made or lost.
		if cols = int(math.Floor(room/thick + 1e-9)); cols > 0 {
			thick = math.Min(thick, room/float64(cols))
		}
	} else {
		if c.Loaves > 0 {
			cols = max(1, c.Bars/c.Loaves)
		} else {
			loaves, cols = m.grid(c.Bars)
		}
		thick = room / float64(cols)
	}
	perMM := m.Volume() / long // ml for each mm of the length, all loaves
	b := Bars{Count: loaves * cols, Loaves: loaves, Thickness: thick, Along: long, TrimML: 2 * c.Trim * perMM}
	if b.Count > 0 {
		b.Volume = perMM * thick / float64(loaves)
	}
	if rest := room - float64(cols)*thick; rest >= leastEnd {
		b.Ends, b.EndVolume = loaves, rest*perMM
	} else if rest > 1e-6 {
		b.TrimML += rest * perMM
	}
	for i := range cols + 1 {
		at := c.Trim + float64(i)*thick
		if at > 1e-6 && at < long-1e-6 {
			b.Marks = append(b.Marks, at)
		}
	}
	return b
}

// BarSize is the measures in mm of a bar as the cut makes it: along the loaf, across it and as it
// stands in the mold. ok is false where the ruler does not know them.
func (m Mold) BarSize(c Cut) (along, across, tall float64, ok bool) {
	switch b := m.Cuts(c); {
	case m.Shape == Grid:
		along, across, tall = m.cellLength(), m.cellWidth(), m.Fill
	case m.Shape == Box && m.count() > 1:
		along, across, tall = m.Length, m.Width, m.Fill
	case m.Shape == Box:
		along, across, tall = b.Thickness, m.Width/float64(max(1, b.Loaves)), m.Fill
	case m.Shape == Cylinder && m.count() > 1:
		along, across, tall = m.Diameter, m.Diameter, m.Fill
	case m.Shape == Cylinder:
		along, across, tall = m.Diameter, m.Diameter, b.Thickness
	}
	if c.Halves {
		along /= 2
	}
	return along, across, tall, along > 0 && across > 0 && tall > 0
}

// ThicknessFor is how thick in mm a bar must be cut to have a volume in ml, 0
// where nothing is cut.
func (m Mold) ThicknessFor(volume float64, loaves int) float64 {
	if m.Single() || m.along() == 0 || m.Volume() == 0 {
		return 0
	}
	return volume * float64(max(1, loaves)) * m.along() / m.Volume()
}
