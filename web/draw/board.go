package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/market"
	"ashshelf/soap/recall"
	"ashshelf/soap/tag"
)

// Heap is bars of one lot on a product's board.
type Heap struct {
	Code     string
	Labelled int // with a band round them
	Reserved int // tied with a string
	Shared   int // that other products could take as well, when Others
	Others   bool
	Soon     int // that are not released yet
	Kept     int // that may not go
	When     string
}

// The measures of a board. A bar stands on its long edge, as one sees it from the customer's side.
const (
	boardW, boardH = 560.0, 78.0
	boardFloor     = 56.0
	barW, barH     = 13.0, 40.0
	barGap         = 2.0
	heapGap        = 14.0
)

// OfBoard lays a product's bars on a board, the oldest lot to the left: a band round what is labelled, a string round
// what is put by, a dashed edge where others could take it as well, an empty outline for what is not ready, crossed
// out what may not go. With more bars than there is room for each stands for several; Each says for how many.
func OfBoard(heaps []Heap, words string) (p Picture, each int) {
	p = Picture{W: boardW, H: boardH, Title: words}
	bars := 0
	for _, h := range heaps {
		bars += h.Labelled + h.Reserved + h.Shared + h.Soon + h.Kept
	}
	room := boardW - 8 - heapGap*float64(max(0, len(heaps)-1))
	each = max(1, int(math.Ceil(float64(bars)*(barW+barGap)/math.Max(room*0.86, 1))))
	p.rect("wood", 0, boardFloor, boardW, 5)
	x := 4.0
	for _, h := range heaps {
		from := x
		for _, kind := range []struct {
			bars int
			draw func(x float64)
		}{
			{h.Reserved, p.tied}, {h.Labelled, p.banded}, {h.Shared, func(x float64) { p.plain(x, h.Others) }},
			{h.Soon, p.outlined}, {h.Kept, p.crossed},
		} {
			for range (kind.bars + each - 1) / each {
				if x+barW > boardW {
					break
				}
				kind.draw(x)
				x += barW + barGap
			}
		}
		label := h.Code
		if h.When != "" {
			label += " " + h.When
		}
		p.text("soft", from, boardFloor+19, 13, "start", label)
		x = math.Max(x, from+float64(len(label))*7) + heapGap
	}
	return p, each
}

func (p *Picture) plain(x float64, others bool) {
	p.rect("soap", x, boardFloor-barH, barW, barH)
	if others {
		p.line("ln-dash", x-0.5, boardFloor-barH-4, x+barW+0.5, boardFloor-barH-4)
	}
}

func (p *Picture) banded(x float64) {
	p.plain(x, false)
	p.rect("dot", x-0.6, boardFloor-barH*0.68, barW+1.2, barH*0.36)
}

func (p *Picture) tied(x float64) {
	p.plain(x, false)
	p.line("ln-mark", x-1, boardFloor-barH*0.5, x+barW+1, boardFloor-barH*0.5)
	p.line("ln-mark", x+barW/2, boardFloor-barH, x+barW/2, boardFloor)
}

func (p *Picture) outlined(x float64) { p.rect("ln-fine", x, boardFloor-barH, barW, barH) }

func (p *Picture) crossed(x float64) {
	p.rect("kept-back", x, boardFloor-barH, barW, barH)
	p.line("stop", x+1, boardFloor-barH+1, x+barW-1, boardFloor-1)
}

// Where is a part of the bars that were made: its name, how many, and the class it is drawn in.
type Where struct {
	Name  string
	Bars  int
	Class string
}

// WheresOf are the parts of a score, in the order in which they are drawn.
func WheresOf(s recall.Score) []Where {
	return []Where{
		{"in the house", s.House, "wood"}, {"worked into other soap", s.Worked, "wet"}, {"came back", s.Returned, "done"},
		{"destroyed", s.Destroyed, "kept-back"}, {"used up", s.Used, "band-settled"}, {"missing at a count", s.Lost, "peg"},
		{"with buyers nobody knows", s.Unknown, "damp"}, {"to be asked for", s.Open, "flag-near"},
	}
}

const whereW, whereH = 520.0, 22.0

// OfWhere lays out where the bars that were made are, as one bar that is cut in proportion.
func OfWhere(s recall.Score) Picture {
	p := Picture{W: whereW, H: whereH, Title: fmt.Sprintf("%d of %d bars are accounted for", s.Accounted(), s.Made)}
	p.rect("ln-fine", 0.5, 0.5, whereW-1, whereH-1)
	x := 1.0
	for _, part := range WheresOf(s) {
		if part.Bars <= 0 || s.Made <= 0 {
			continue
		}
		w := (whereW - 2) * float64(part.Bars) / float64(s.Made)
		p.rect(part.Class, x, 1, w, whereH-2)
		x += w
	}
	return p
}

// OfTag is one label, in mm, as it is printed.
func OfTag(lines []tag.Line, w, h float64, words string) Picture {
	p := Picture{W: w, H: h, Title: words}
	p.tagAt(lines, 0, 0)
	return p
}

// OfTagSheet is a page of labels, in mm: so many of the same, from a place on the sheet on.
func OfTagSheet(s tag.Sheet, lines []tag.Line, first, labels int, words string) Picture {
	p := Picture{W: s.PageW, H: s.PageH, Title: words}
	for i := first; i < min(s.Count(), first+labels); i++ {
		x, y := s.At(i)
		p.tagAt(lines, x, y)
	}
	return p
}

func (p *Picture) tagAt(lines []tag.Line, x, y float64) {
	for _, l := range lines {
		class := "tag"
		if l.Bold {
			class = "tag tag-bold"
		}
		p.text(class, x+l.X, y+l.Y, l.Size, "start", l.Text)
	}
}

// sheetScale is how many points of the drawing a mm of a sheet is.
const sheetScale = 1.4

// OfSheet draws a sheet of labels to scale, with the first label marked.
func OfSheet(s tag.Sheet) Picture {
	p := Picture{W: s.PageW * sheetScale, H: s.PageH * sheetScale, Title: fmt.Sprintf("%d labels on a sheet", s.Count())}
	p.rect("soap", 0.5, 0.5, p.W-1, p.H-1)
	for i := range s.Count() {
		x, y := s.At(i)
		class := "peg"
		if i == 0 {
			class = "batter"
		}
		p.rect(class, x*sheetScale, y*sheetScale, s.W*sheetScale, s.H*sheetScale)
	}
	return p
}

// The measures of what is drawn of a market: bars on a board, each a bar of soap while there is room.
const (
	outcomeW, outcomeH = 360.0, 40.0
	outcomeBar         = 9.0
	outcomeGap         = 2.0
	outcomeFloor       = 32.0
)

// OfOutcome draws how a product did at a market: bars that were sold are filled, those that came home are outlines, what was
// given away or spoiled is crossed out, and what more would have been wanted stands above the board's edge, dashed.
func OfOutcome(o market.Outcome) Picture {
	said := fmt.Sprintf("%s: %d of %d sold, %d would have been wanted", o.Name, o.Sold, o.Packed, o.Wanted)
	p := Picture{W: outcomeW, H: outcomeH, Title: said}
	missing := max(0, o.Wanted-o.Sold-o.Left)
	all := float64(o.Sold + o.Left + o.Given + o.Spoiled + missing)
	step := math.Min(outcomeBar+outcomeGap, (outcomeW-8)/math.Max(all, 1))
	wide := math.Max(1, step-outcomeGap)
	p.rect("wood", 0, outcomeFloor, outcomeW, 4)
	x := 4.0
	for _, part := range []struct {
		bars  int
		class string
	}{{o.Sold, "done"}, {o.Left, "soap"}, {o.Given + o.Spoiled, "kept-back"}, {missing, "ln-dash"}} {
		for range part.bars {
			p.rect(part.class, x, 4, wide, outcomeFloor-4)
			x += step
		}
	}
	return p
}

// Earned is what something brought, and what of it is what.
type Earned struct {
	Name                   string
	Cost, Fee, Tax, Margin float64 // minor units; the margin below zero is a loss
	Unknown                float64 // of the margin, that has costs in it which are not known
}

// The measures of what was sold: a beam for each thing, cut in proportion.
const (
	earnedW, earnedRow = 1000.0, 30.0
	earnedNames        = 190.0
)

// OfEarned lays out what was sold, a beam for each, all in one scale: what the bars cost, what the channel keeps, the tax, and
// what is left. A loss is a gap that is crossed out to the left of the beam's end.
func OfEarned(list []Earned, words string) Picture {
	p := Picture{W: earnedW, H: earnedRow*float64(len(list)) + 2, Title: words}
	most := 1.0
	for _, e := range list {
		most = math.Max(most, math.Max(0, e.Cost)+math.Max(0, e.Fee)+math.Max(0, e.Tax)+math.Max(0, e.Margin)+math.Max(0, e.Unknown))
	}
	scale := (earnedW - earnedNames - 4) / most
	for i, e := range list {
		y := float64(i)*earnedRow + 4
		p.text("soft", earnedNames-10, y+18, 15, "end", short(e.Name, 24))
		x := earnedNames
		for _, part := range []struct {
			v     float64
			class string
		}{{e.Cost, "wood"}, {e.Fee, "peg"}, {e.Tax, "damp"}, {e.Margin, "done"}, {e.Unknown, "soap"}} {
			if part.v <= 0 {
				continue
			}
			p.rect(part.class, x, y, part.v*scale, earnedRow-10)
			x += part.v * scale
		}
		if e.Margin < 0 {
			p.line("stop", math.Max(earnedNames, x+e.Margin*scale), y+(earnedRow-10)/2, x, y+(earnedRow-10)/2)
		}
	}
	return p
}

// Month is what was taken in one.
type Month struct {
	Name   string
	Amount float64
	Bars   int
}

const (
	monthsW, monthsH = 760.0, 130.0
	monthsFloor      = 104.0
)

// OfMonths draws takings by month, as stacks on a board.
func OfMonths(list []Month, words string) Picture {
	p := Picture{W: monthsW, H: monthsH, Title: words}
	p.rect("wood", 0, monthsFloor, monthsW, 4)
	most := 1.0
	for _, m := range list {
		most = math.Max(most, m.Amount)
	}
	step := monthsW / math.Max(float64(len(list)), 1)
	wide := math.Min(step-4, 64)
	for i, m := range list {
		x := float64(i)*step + (step-wide)/2
		high := math.Max(0, m.Amount) / most * (monthsFloor - 8)
		p.rect("done", x, monthsFloor-high, wide, high)
		p.text("soft", x+wide/2, monthsFloor+20, 13, "middle", m.Name)
	}
	return p
}
