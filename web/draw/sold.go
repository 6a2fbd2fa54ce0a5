package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/market"
)

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
	p := Picture{W: outcomeW, H: outcomeH, Title: fmt.Sprintf("%s: %d of %d sold, %d would have been wanted", o.Name, o.Sold, o.Packed, o.Wanted)}
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
