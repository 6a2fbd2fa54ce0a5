package draw

import (
	"fmt"
	"math"
	"time"

	"ashshelf/soap/day"
	"ashshelf/soap/schedule"
)

// Strip is a lot on the ribbon: days and parts of days from where the ribbon begins.
type Strip struct {
	Days   int
	Day    float64 // how wide one is drawn; 0 for a thumb's width
	Off    []bool  // by day
	Now    float64
	Poured float64
	Out    float64 // of the mold
	Ready  float64
	Opens  float64 // the window of the mold; no window where Closes is not after it
	Closes float64
	Dues   []float64 // when something of it is due

	Plan     bool // not poured yet
	Cut      bool
	Released bool
	Held     bool
}

const (
	stripDay, stripH     = 22.0, 34.0
	stripMid             = 15.0
	moldThick, dryThick  = 20.0, 9.0 // of the ribbon, in the mold and when it is dry
	stripDue, stripDueAt = 2.4, 30.0
)

// CourseStrip is the strip of a lot's course, with the days counted from a moment on.
func CourseStrip(c schedule.Course, from, now time.Time) Strip {
	at := func(t time.Time) float64 { return DaysFrom(from, t.In(now.Location())) }
	s := Strip{
		Now: at(now), Poured: at(c.Poured), Out: at(c.Out), Ready: at(c.Ready), Cut: c.Cut, Released: c.Released, Held: c.Held,
	}
	if !c.Closes.IsZero() {
		s.Opens, s.Closes = at(c.Opens), at(c.Closes)
	}
	return s
}

// DaysFrom are the days of the calendar and parts of a day from the first of a ribbon to a moment,
// which says the zone.
func DaysFrom(from, t time.Time) float64 {
	return float64(day.Between(from, t)) + t.Sub(day.Start(day.Of(t), t.Location())).Hours()/24
}

// shortest and longest life in days that the strip of one lot has room for, and what it shows after
// the day that it is ready.
const shortestLife, longestLife, afterReady = 42, 400, 10

// LifeDays is for how many days the strips of some lots are laid out, so that each lot is seen whole
// and all in one scale, from its own pour on.
func LifeDays(now time.Time, courses ...schedule.Course) int {
	days := shortestLife
	for _, c := range courses {
		days = max(days, int(DaysFrom(c.Poured.In(now.Location()), c.Ready.In(now.Location())))+afterReady)
	}
	return min(days, longestLife)
}

// OfLotLife draws one lot's life from its pour on, so many days of it across the width.
func OfLotLife(c schedule.Course, now time.Time, days int, wide float64) Picture {
	s := CourseStrip(c, c.Poured.In(now.Location()), now)
	s.Days, s.Day = days, wide/float64(days)
	p := OfStrip(s)
	p.Title = CourseWords(c, now)
	return p
}

// CourseWords says a course in a line.
func CourseWords(c schedule.Course, now time.Time) string {
	said := func(t time.Time) string { return t.In(now.Location()).Format("2 Jan") }
	if c.Released {
		return "Poured " + said(c.Poured) + ", released " + said(c.Ready)
	}
	return "Poured " + said(c.Poured) + ", its days are done on " + said(c.Ready)
}

// OfStrip draws a lot's way through the days: thick in its mold, narrower and narrower as it dries, with a
// flag where it is ready. What is foreseen is drawn without a firm edge.
func OfStrip(s Strip) Picture {
	wide := s.Day
	if wide == 0 {
		wide = stripDay
	}
	p := Picture{W: wide * float64(max(s.Days, 1)), H: stripH}
	x := func(day float64) float64 { return math.Min(p.W, math.Max(0, day*wide)) }
	for i, off := range s.Off {
		if off {
			p.rect("off-day", float64(i)*wide, 0, wide, stripH)
		}
	}
	kind := func(firm string, sure bool) string {
		if s.Plan || !sure {
			return "ribbon-foreseen"
		}
		return firm
	}
	if from, to := x(s.Poured), x(s.Out); to > from {
		p.rect(kind("ribbon-mold", s.Cut || s.Poured <= s.Now), from, stripMid-moldThick/2, to-from, moldThick)
	}
	if from, to := x(s.Out), x(s.Ready); to > from {
		thick := func(day float64) float64 {
			share := math.Min(1, math.Max(0, (day-s.Out)/math.Max(1e-9, s.Ready-s.Out)))
			return moldThick - (moldThick-dryThick)*math.Sqrt(share) // water leaves fast at first
		}
		top, bottom := "", ""
		along(from, to, 2*wide, func(at float64) {
			half := thick(at/wide) / 2
			top += fmt.Sprintf("L%.1f %.1f", at, stripMid-half)
			bottom = fmt.Sprintf("L%.1f %.1f", at, stripMid+half) + bottom
		})
		p.path(kind("ribbon-cure", s.Cut), "M"+top[1:]+bottom+"Z")
	}
	if from, to := x(s.Ready), x(s.Now); !s.Released && !s.Plan && to > from { // its days are done, and it waits
		p.rect("ribbon-foreseen", from, stripMid-dryThick/2, to-from, dryThick)
	}
	if from := x(s.Ready); s.Released && from < p.W {
		p.rect("ribbon-ready", from, stripMid-dryThick/2, p.W-from, dryThick)
	}
	if s.Closes > s.Opens && !s.Cut {
		if from, to := x(s.Opens), x(s.Closes); to > from {
			p.rect("ribbon-window", from, 1, to-from, stripMid*2-2)
		}
	}
	if on := s.Ready * wide; on >= 0 && on < p.W {
		class := "peg"
		if s.Released {
			class = "done"
		}
		p.line("ln", on, 1, on, stripMid+dryThick/2)
		p.path(class, fmt.Sprintf("M%.1f 1h11l-3.5 4 3.5 4h-11z", on))
	}
	if s.Held {
		from, to := x(s.Poured), x(math.Max(s.Ready, s.Now))
		p.path("stop", fmt.Sprintf("M%.1f %.1fL%.1f %.1fM%.1f %.1fL%.1f %.1f", from+2, 4.0, to-2, 26.0, from+2, 26.0, to-2, 4.0))
	}
	for _, due := range s.Dues {
		if at := (math.Floor(due) + 0.5) * wide; due >= 0 && at < p.W {
			p.circle("dot", at, stripDueAt, stripDue)
		}
	}
	if at := s.Now * wide; at >= 0 && at <= p.W {
		p.line("now-line", at, 0, at, stripH)
	}
	return p
}

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

// AheadRack is how full the racks are.
type AheadRack struct {
	Bars  []int // by day
	Holds int   // 0 where there are none
}

// OfAhead lays out the days ahead: a row for each recipe with its pours as blocks that dry out to the right until they are
// ready, and flags for what is wanted; below, how full the racks are. Off says of each day whether nobody works.
func OfAhead(
	rows []AheadRow,
	rack AheadRack,
	today time.Time,
	days int,
	off func(time.Time) bool,
	words string,
) (p Picture, drag []Dragged) {
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
				p.text("soft", x(one.Day)+2, mid-aheadPour/2-3, 12, "start", fmt.Sprint(one.Pots))
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
