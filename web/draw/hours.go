package draw

import (
	"fmt"
	"math"

	"ashshelf/soap/timetable"
)

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
