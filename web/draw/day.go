package draw

import (
	"fmt"
	"math"
	"time"

	date "ashshelf/soap/day"
	"ashshelf/soap/schedule"
	"ashshelf/soap/timetable"
)

// Day is a day from midnight to midnight with the windows that fall into it: each a
// bar from when it opens to when it closes, with a mark where it is best.
type Day struct{ Picture }

const (
	dayW      = 760.0
	dayLeft   = 232.0 // of the hours; what is to be done stands before them
	dayRow    = 46.0
	dayTop    = 26.0
	dayBar    = 20.0
	dayLabel  = 30 // letters that fit before the hours
	arrowWide = 7.0
)

// OfDay lays a local day out, the earliest window first. now is marked when it falls
// into the day.
func OfDay(day time.Time, windows []schedule.Task, now time.Time) Day {
	d := Day{Picture{W: dayW, H: dayTop + float64(len(windows))*dayRow + 8}}
	end := date.Plus(day, 1)
	long := end.Sub(day).Hours() // 23 or 25 when the clocks change
	x := func(t time.Time) float64 { return dayLeft + (dayW-dayLeft-26)*t.Sub(day).Hours()/long }
	clamp := func(t time.Time) time.Time {
		if t.Before(day) {
			return day
		}
		if t.After(end) {
			return end
		}
		return t
	}
	for h := 0; h <= 24; h += 3 {
		at := time.Date(day.Year(), day.Month(), day.Day(), h, 0, 0, 0, day.Location())
		d.line("ln-fine", x(at), dayTop-6, x(at), d.H-4)
		if h%6 == 0 {
			d.text("soft", x(at), 14, 12.5, "middle", fmt.Sprintf("%d:00", h))
		}
	}
	y := dayTop
	for _, w := range windows {
		from, to := clamp(w.Opens), clamp(w.Closes)
		bar := y + 4
		d.rect("window", x(from), bar, x(to)-x(from), dayBar)
		if w.Opens.Before(day) {
			d.path(
				"ln",
				fmt.Sprintf("M%.1f %.1fl%.1f %.1fl%.1f %.1f", x(day)+arrowWide+3, bar+4, -arrowWide, dayBar/2-4, arrowWide, dayBar/2-4),
			)
		}
		if w.Closes.After(end) {
			d.path(
				"ln",
				fmt.Sprintf("M%.1f %.1fl%.1f %.1fl%.1f %.1f", x(end)-arrowWide-3, bar+4, arrowWide, dayBar/2-4, -arrowWide, dayBar/2-4),
			)
		}
		if !w.Best.Before(day) && w.Best.Before(end) {
			d.line("ln-mark", x(w.Best), bar-4, x(w.Best), bar+dayBar+4)
		}
		d.text("title", 0, y+14, 15, "start", w.Lot.Code)
		d.text("", 10.5*float64(len(w.Lot.Code))+6, y+14, 13.5, "start", w.Words())
		d.text("soft", 0, y+31, 12.5, "start", short(w.Lot.Frozen.Recipe, dayLabel))
		y += dayRow
	}
	if !now.Before(day) && now.Before(end) {
		d.line("now-line", x(now), dayTop-8, x(now), d.H-2)
	}
	d.Title = "The windows of the day: " + counted(len(windows), "window")
	return d
}

// The measures of a day in lanes.
const (
	HoursW                 = 1080.0
	hoursNames             = 112.0
	hoursHead, hoursLane   = 30.0, 34.0
	hoursBar, hoursGap     = 26.0, 12.0
	hoursLetter, hoursText = 15.0, 13.0
)

// HoursTints is how many batches are told apart by their tint; their letters tell all of them.
const HoursTints = 5

// HourLane is one of something through the day.
type HourLane struct {
	Name string
	Gap  bool // before it: another thing begins
	Bars []HourBar
}

// HourBar is a time in which it is taken. Minutes are after midnight.
type HourBar struct {
	Letter      string // of the batch
	Tint        int
	Words       string // the step
	From, Until int
	Kept        bool   // drawn as an outline: it waits, and nobody works on it
	Key         string // by which it is dragged and opened; empty for what is kept
	Fixed       bool   // it was moved by hand
}

// HoursMinute is how wide a minute is.
func HoursMinute(start, end int) float64 {
	return (HoursW - hoursNames - 4) / float64(max(end-start, 1))
}

// OfHours lays out a day in lanes, with a line at each hour and a mark where all is done.
func OfHours(lanes []HourLane, start, end, ends int, words string) (p Picture, drag []Dragged) {
	minute := HoursMinute(start, end)
	x := func(m int) float64 { return hoursNames + float64(m-start)*minute }
	high := hoursHead + 6
	for _, l := range lanes {
		high += hoursLane
		if l.Gap {
			high += hoursGap
		}
	}
	p = Picture{W: HoursW, H: high, Title: words}
	step := 60
	if end-start > 12*60 {
		step = 120
	}
	for m := (start + step - 1) / step * step; m <= end; m += step {
		p.line("hours-line", x(m), hoursHead-6, x(m), high)
		anchor := "middle"
		if m == end {
			anchor = "end"
		}
		p.text("soft", x(m), 16, 14, anchor, timetable.Clock(m))
	}
	y := hoursHead
	for _, l := range lanes {
		if l.Gap {
			y += hoursGap
		}
		p.text("soft", hoursNames-10, y+hoursBar/2+5, 14, "end", short(l.Name, 15))
		p.line("hours-line", hoursNames, y+hoursBar+4, HoursW-4, y+hoursBar+4)
		for _, b := range l.Bars {
			wide := math.Max(2, float64(b.Until-b.From)*minute)
			class := fmt.Sprintf("hours-%d", b.Tint%HoursTints)
			if b.Kept {
				class += " hours-kept"
			}
			if b.Fixed {
				class += " hours-fixed"
			}
			p.rect(class, x(b.From), y, wide, hoursBar)
			p.inBar(b, x(b.From), y, wide)
			if b.Key != "" {
				drag = append(drag, Dragged{b.Key, x(b.From), y, wide, hoursBar,
					fmt.Sprintf("%s, %s: %s to %s", b.Letter, b.Words, timetable.Clock(b.From), timetable.Clock(b.Until))})
			}
		}
		y += hoursLane
	}
	if ends > start {
		p.line("ln-mark", x(ends), hoursHead-8, x(ends), high)
	}
	return p, drag
}

// inBar writes what has room in a bar: the letter of its batch, and as much of its words as goes.
func (p *Picture) inBar(b HourBar, x, y, wide float64) {
	letters := int((wide - 8) / (hoursText * 0.56))
	said := b.Letter
	if room := letters - len(b.Letter) - 1; room >= 5 && !b.Kept {
		said += " " + short(b.Words, room)
	}
	if letters >= len(b.Letter) {
		p.text("", x+5, y+hoursBar/2+5, hoursText, "start", said)
	}
}
