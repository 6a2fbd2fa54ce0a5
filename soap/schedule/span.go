package schedule

import (
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/day"
)

// Span is how soon a task wants doing.
type Span int

// The spans, the most pressing first.
const (
	ThisHour Span = iota
	ThisDay
	ThisWeek
)

// presses is how long before its window closes a task is one of this hour.
const presses = 3 * time.Hour

// Span says how soon the task wants doing: at once what is late or closes within hours, today what
// closes today or somebody must decide; the rest, which no window closes on, in the course of the week.
func (t Task) Span(now time.Time) Span {
	switch {
	case t.Kind == Finish, t.State == cure.Late && !t.Care():
		return ThisHour
	case t.State == cure.Late: // a watch that was missed
		return ThisDay
	case t.Kind == Again, t.Kind == Held:
		return ThisDay
	case t.Closes.IsZero():
		return ThisWeek
	case t.State == cure.Open && t.Closes.Sub(now) <= presses:
		return ThisHour
	case t.Opens.Before(day.Plus(now, 1)):
		return ThisDay
	}
	return ThisWeek
}
