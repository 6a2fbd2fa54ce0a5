package schedule

import (
	"slices"
	"time"

	"ashshelf/soap/lot"
)

// Course is a lot's way from its pour to the day it may be sold: as it went, and from now on as it is
// foreseen.
type Course struct {
	Lot      *lot.Lot
	Poured   time.Time
	Out      time.Time // of the mold and cut; foreseen at the best of its window
	Ready    time.Time // released, or the first day its cure allows
	Released bool
	Held     bool
	Cut      bool      // Out was, and is not foreseen
	Opens    time.Time // the window of the mold, as long as it is not cut
	Closes   time.Time
}

// CourseOf is the course of a lot that was poured; false for any other. now is in the shop's zone.
func CourseOf(l *lot.Lot, now time.Time) (Course, bool) {
	if l.Pour == nil || l.Abandoned != nil {
		return Course{}, false
	}
	c := Course{Lot: l, Poured: l.Pour.Occurred, Out: l.Pour.Occurred, Ready: l.Gate(now).ReadyOn, Held: len(l.Held()) > 0}
	switch w, ok := Window(l); {
	case l.Cut != nil:
		c.Out, c.Cut = l.Cut.Occurred, true
	case ok:
		c.Out, c.Opens, c.Closes = w.Best, w.Opens, w.Closes
	}
	if l.Release != nil {
		c.Ready, c.Released = l.Release.Occurred, true
	}
	return c, true
}

// Within reports whether any of the course falls between two moments. What is not released goes on.
func (c Course) Within(from, to time.Time) bool {
	return c.Poured.Before(to) && (!c.Released || c.Ready.After(from))
}

// Courses are the courses of the lots that fall between two moments, the earliest pour first.
func Courses(lots []*lot.Lot, from, to, now time.Time) (out []Course) {
	for _, l := range lots {
		if c, ok := CourseOf(l, now); ok && c.Within(from, to) {
			out = append(out, c)
		}
	}
	slices.SortStableFunc(out, func(a, b Course) int { return a.Poured.Compare(b.Poured) })
	return out
}
