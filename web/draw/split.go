package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/unit"
)

// SplitPot is a pot and the molds it fills.
type SplitPot struct {
	Name, Load string
	Full       float64 // share of the pot that is full, 0 when not known
	Molds      []SplitMold
}

// SplitMold is how many molds of a name a pot fills.
type SplitMold struct {
	Name  string
	Count float64
}

const (
	splitW    = 480.0
	splitRow  = 62.0
	splitMost = 8 // pots drawn; more are counted
	potX      = 8.0
	potW      = 52.0
	potH      = 40.0
	moldBoxW  = 22.0
	moldBoxH  = 16.0
	boxesMost = 6 // molds of a kind drawn; the figure has the count
	splitX    = 176.0
)

// OfSplit draws each pot with what it fills, one below the other.
func OfSplit(pots []SplitPot) Picture {
	p := Picture{W: splitW, Title: fmt.Sprintf("%d pots and the molds each fills:", len(pots))}
	y := 6.0
	for i, pot := range pots {
		if i == splitMost {
			p.text("soft", potX, y+14, 14, "start", fmt.Sprintf("and %d more pots like these", len(pots)-splitMost))
			y += 20
			break
		}
		p.pot(pot, y)
		x := splitX
		for _, m := range pot.Molds {
			x = p.splitMolds(m, x, y)
			p.Title += fmt.Sprintf(" %s fills %s × %s;", pot.Name, unit.Trim(m.Count, 2), m.Name)
		}
		y += splitRow
	}
	p.H = y
	return p
}

// pot draws a pot with its handle, filled to its share or to the usual three
// quarters.
func (p *Picture) pot(pot SplitPot, y float64) {
	full := math.Min(pot.Full, 1)
	if full == 0 {
		full = 0.75
	}
	h := (potH - 4) * full
	p.rect("batter", potX+1, y+potH-h, potW-2, h)
	p.path("ln", fmt.Sprintf("M%.1f %.1fv%.1fh%.1fv%.1f", potX, y, potH, potW, -potH))
	p.path("ln", fmt.Sprintf("M%.1f %.1fq10 1 10 9", potX+potW, y+8))
	p.text("title", potX+potW+16, y+16, 15, "start", pot.Name)
	p.text("soft", potX+potW+16, y+34, 14, "start", pot.Load)
	p.line("ln-fine", splitX-22, y+potH/2, splitX-8, y+potH/2)
	p.path("dot", fmt.Sprintf("M%.1f %.1fl-6 -4v8z", splitX-4, y+potH/2))
}

// splitMolds draws the molds of one kind and returns where the next begin. One
// that is only part filled here is part filled in the picture.
func (p *Picture) splitMolds(m SplitMold, x, y float64) float64 {
	left := m.Count
	start := x
	for range min(boxesMost, int(math.Ceil(m.Count-1e-6))) {
		part := math.Min(1, left)
		p.rect("soap", x, y+4, moldBoxW, moldBoxH)
		p.rect("batter", x, y+4+moldBoxH*(1-part), moldBoxW, moldBoxH*part)
		x += moldBoxW + 4
		left--
	}
	words := unit.Trim(m.Count, 2) + " × " + m.Name
	p.text("", start, y+38, 13.5, "start", short(words, 34))
	return math.Max(x, start+7*float64(len([]rune(short(words, 34))))) + 16
}
