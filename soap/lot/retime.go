package lot

import (
	"cmp"
	"fmt"
	"slices"
	"time"
)

// timed is an entry whose moment the making of the lot goes by.
type timed struct {
	Entry
	Title string
	rank  int // in the order in which such things happen
}

// timeline is what the making of the lot goes by: from its start to its newest
// weighing and check.
func (l *Lot) timeline() []timed {
	out := []timed{{l.Started, "Started", 0}}
	if l.Pour != nil {
		out = append(out, timed{l.Pour.Entry, "Poured", 1})
	}
	if l.Unmolding != nil {
		out = append(out, timed{l.Unmolding.Entry, "Unmolded", 2})
	}
	if l.Cut != nil {
		out = append(out, timed{l.Cut.Entry, "Cut", 3})
	}
	for _, w := range l.Weights() {
		out = append(out, timed{w.Entry, fmt.Sprintf("Sample bar, %.4g g", w.Grams), 4})
	}
	for _, k := range l.Checks {
		out = append(out, timed{k.Entry, "Safety check", 4})
	}
	return out
}

// Timeline are the entries whose time can be put right, those in doubt first.
func (l *Lot) Timeline() []Event {
	list := l.timeline()
	slices.SortStableFunc(list, func(a, b timed) int { return cmp.Compare(min(1, len(b.Doubt)), min(1, len(a.Doubt))) })
	out := make([]Event, len(list))
	for i, t := range list {
		out[i] = Event{Entry: t.Entry, Title: t.Title}
	}
	return out
}

// Retimable is one of the timeline.
func (l *Lot) Retimable(entry int64) (Event, bool) {
	for _, e := range l.Timeline() {
		if e.ID == entry {
			return e, true
		}
	}
	return Event{}, false
}

// doubted reports in a glance whether anything of a lot is in doubt: nearly none is.
func (l *Lot) doubted() bool {
	return l.Pour != nil && l.Pour.Doubt != "" || l.Unmolding != nil && l.Unmolding.Doubt != "" || l.Cut != nil && l.Cut.Doubt != "" ||
		slices.ContainsFunc(l.Samples, func(s SampleWeight) bool { return s.Doubt != "" }) ||
		slices.ContainsFunc(l.Checks, func(k SafetyCheck) bool { return k.Doubt != "" })
}

// inDoubt are the reasons that hold a lot because of a clock: what was recorded by one that
// was in doubt, as long as nobody put its time right. Days that are counted from it say
// nothing. A lot that is released is sealed as it is.
func (l *Lot) inDoubt() []string {
	if l.Release != nil || !l.doubted() {
		return nil
	}
	var out []string
	for _, t := range l.timeline() {
		if t.Doubt != "" && t.rank > 0 { // nothing is counted from the start
			out = append(out, fmt.Sprintf("“%s” was %s; put its time right", t.Title, t.Doubt.Words()))
		}
	}
	return out
}

// CheckEarlier finds why an act cannot have happened at an earlier moment than it is written down: it
// lies in the future, or before what must have been done by then.
func (l *Lot) CheckEarlier(act Act, at, now time.Time) error {
	last, what := time.Time{}, ""
	after := func(e *Entry, name string) {
		if e.Occurred.After(last) {
			last, what = e.Occurred, name
		}
	}
	switch act {
	case ToUnmold, ToCut, ToCare, ToSample, ToCheck, ToWash, ToMove:
		if l.Pour != nil {
			after(&l.Pour.Entry, "it was poured")
		}
	default:
		return &NotNow{"this is written down when it happens"}
	}
	if l.Unmolding != nil && act != ToCare {
		after(&l.Unmolding.Entry, "it was unmolded")
	}
	if l.Cut != nil && act != ToCare {
		after(&l.Cut.Entry, "it was cut")
	}
	if l.Release != nil && act == ToMove {
		after(&l.Release.Entry, "it was released")
	}
	switch {
	case at.After(now):
		return &NotNow{"that lies in the future"}
	case at.Before(last):
		return &NotNow{fmt.Sprintf("that is before %s, at %s", what, last.In(now.Location()).Format("2 January 2006, 15:04"))}
	}
	return nil
}

// CheckRetime finds why an entry cannot have happened at a moment: it lies in the future,
// or is not in its order with what is known for sure.
func (l *Lot) CheckRetime(entry int64, at, now time.Time) error {
	list := l.timeline()
	i := slices.IndexFunc(list, func(t timed) bool { return t.ID == entry })
	if i < 0 {
		return &NotNow{"that is nothing of this lot whose time can be put right"}
	}
	if at.After(now) {
		return &NotNow{"that lies in the future"}
	}
	for _, other := range list {
		when := other.Occurred.In(now.Location()).Format("2 January 2006, 15:04")
		switch {
		case other.ID == entry || other.Doubt != "":
		case other.rank < list[i].rank && at.Before(other.Occurred):
			return &NotNow{fmt.Sprintf("that is before “%s”, at %s", other.Title, when)}
		case other.rank > list[i].rank && at.After(other.Occurred):
			return &NotNow{fmt.Sprintf("that is after “%s”, at %s", other.Title, when)}
		}
	}
	return nil
}
