package draw

import (
	"fmt"
	"math"
	"time"
)

// AheadRow is a recipe on the ribbon of what to make by when: its pours, what is there, and when bars are wanted. Days count
// from today.
type AheadRow struct {
	Name   string
	Stands []AheadSpan // bars that will be there without pouring
	Pours  []AheadPour
	Wants  []AheadMark
}

// AheadSpan is bars from today until they are ready.
type AheadSpan struct {
	Ready float64
	Bars  int
}

// AheadPour is pots poured on a day.
type AheadPour struct {
	Day, Cut, Ready float64
	Pots            int
	Key             string // by which it is dragged
	Bad             bool   // it breaks something
}

// AheadMark is bars that are wanted on a day.
type AheadMark struct {
	Day   float64
	Bars  int
	Short bool
}

// The measures of the ribbon.
const (
	AheadW                = 1080.0
	AheadNames            = 150.0
	aheadHead, aheadRow   = 26.0, 58.0
	aheadRack             = 76.0
	aheadPour, aheadThick = 18.0, 10.0
)

// AheadDay is how wide a day is.
func AheadDay(days int) float64 { return (AheadW - AheadNames - 10) / float64(max(days, 1)) }

// Dragged is a pour as it can be dragged along the ribbon.
type Dragged struct {
	Key        string
	X, Y, W, H float64
	Words      string
}

// Rack is how full the racks are.
type AheadRack struct {
	Bars  []int // by day
	Holds int   // 0 where there are none
}

// OfAhead lays out the days ahead: a row for each recipe with its pours as blocks that dry out to the right until they are
// ready, and flags for what is wanted; below, how full the racks are. Off says of each day whether nobody works.
func OfAhead(rows []AheadRow, rack AheadRack, today time.Time, days int, off func(time.Time) bool, words string) (p Picture, drag []Dragged) {
	high := aheadHead + aheadRow*float64(len(rows)) + aheadRack
	p = Picture{W: AheadW, H: high, Title: words}
	day := AheadDay(days)
	x := func(d float64) float64 { return AheadNames + math.Min(float64(days), math.Max(0, d))*day }
	for d := range days {
		date := today.AddDate(0, 0, d)
		if off(date) {
			p.rect("off-day", x(float64(d)), aheadHead, day, high-aheadHead-aheadRack)
		}
		if date.Day() == 1 || d == 0 {
			p.line("ln-fine", x(float64(d)), aheadHead-6, x(float64(d)), high-aheadRack)
			if d == 0 || x(float64(d)) > AheadNames+70 {
				p.text("soft", x(float64(d))+3, 15, 14, "start", date.Format("2 Jan"))
			}
		}
	}
	for i, row := range rows {
		top := aheadHead + aheadRow*float64(i)
		mid := top + aheadRow/2
		p.line("ln-fine", 0, top+aheadRow, AheadW, top+aheadRow)
		p.text("soft", AheadNames-10, mid+5, 14, "end", short(row.Name, 20))
		for _, s := range row.Stands {
			if s.Ready > 0 {
				p.rect("ribbon-foreseen", x(0), mid+aheadThick, x(s.Ready)-x(0), aheadThick/2)
			}
			p.text("soft", x(math.Max(0, s.Ready))+2, mid+aheadThick+12, 12, "start", fmt.Sprintf("%d there", s.Bars))
		}
		for _, one := range row.Pours {
			class := "ribbon-mold"
			if one.Bad {
				class = "flag-near"
			}
			p.rect("ribbon-cure", x(one.Cut), mid-aheadThick/2, math.Max(0, x(one.Ready)-x(one.Cut)), aheadThick)
			wide := math.Max(10, x(one.Cut)-x(one.Day))
			p.rect(class, x(one.Day), mid-aheadPour/2, wide, aheadPour)
			if one.Pots > 1 {
				p.text("soft", x(one.Day)+2, mid-aheadPour/2-3, 12, "start", fmt.Sprintf("%d pots", one.Pots))
			}
			drag = append(drag, Dragged{one.Key, x(one.Day) - 6, mid - aheadPour/2 - 6, math.Max(24, wide+12), aheadPour + 12,
				fmt.Sprintf("%s, pour on %s", row.Name, today.AddDate(0, 0, int(one.Day)).Format("2 Jan"))})
		}
		for _, w := range row.Wants {
			class := "done"
			if w.Short {
				class = "stop"
			}
			at := x(w.Day)
			p.line("ln", at, mid-aheadRow/2+8, at, mid+aheadPour/2)
			p.path(class, fmt.Sprintf("M%.1f %.1fh11l-3.5 4 3.5 4h-11z", at, mid-aheadRow/2+8))
			p.text("soft", at+13, mid-aheadRow/2+18, 13, "start", fmt.Sprint(w.Bars))
		}
	}
	p.rackUse(rack, x, high, days)
	return p, drag
}

// rackUse draws how full the racks are: a skyline under the line of what they hold.
func (p *Picture) rackUse(rack AheadRack, x func(float64) float64, high float64, days int) {
	floor, top := high-16, high-aheadRack+14
	most := float64(max(rack.Holds, 1))
	for _, n := range rack.Bars {
		most = math.Max(most, float64(n))
	}
	p.text("soft", AheadNames-10, floor-16, 14, "end", "on the racks")
	y := func(n float64) float64 { return floor - n/most*(floor-top) }
	path := fmt.Sprintf("M%.1f %.1f", x(0), floor)
	for d, n := range rack.Bars {
		path += fmt.Sprintf("L%.1f %.1fL%.1f %.1f", x(float64(d)), y(float64(n)), x(float64(d+1)), y(float64(n)))
	}
	p.path("wet", path+fmt.Sprintf("L%.1f %.1fZ", x(float64(min(days, len(rack.Bars)))), floor))
	p.rect("wood", AheadNames, floor, AheadW-AheadNames, 4)
	if rack.Holds > 0 {
		p.line("ln-dash", AheadNames, y(float64(rack.Holds)), AheadW, y(float64(rack.Holds)))
		p.text("soft", AheadW-4, y(float64(rack.Holds))-4, 12, "end", fmt.Sprintf("room for %d", rack.Holds))
	}
}
