package draw

import (
	"fmt"
	"time"

	date "ashshelf/soap/day"
	"ashshelf/soap/schedule"
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
