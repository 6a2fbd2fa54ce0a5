// Package schedule says what is to be done today: which molds open, which bar
// is to be weighed, which lot waits for its check or its release.
//
// Nothing is entered into a calendar. Every task follows from the records of
// the lots and the time, so it is there when it is due and gone when it is done.
package schedule

import (
	"slices"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
)

// Kind is what is to be done.
type Kind string

// The kinds of tasks, in the order of a lot's life.
const (
	Finish  Kind = "finish"  // a lot on the bench is not poured yet
	Unmold  Kind = "unmold"  // and cut
	Cut     Kind = "cut"     // out of the mold, not cut
	Weigh   Kind = "weigh"   // the sample bar
	Check   Kind = "check"   // zap or pH
	Release Kind = "release" // all is met but the release
	Held    Kind = "held"    // somebody must decide
)

var words = map[Kind]string{
	Finish: "Finish the pour", Unmold: "Unmold and cut", Cut: "Cut", Weigh: "Weigh the sample bar",
	Check: "Make the safety check", Release: "Release", Held: "On hold: decide",
}

// Words says the task as a maker would.
func (k Kind) Words() string { return words[k] }

// Task is one thing to do for one lot.
type Task struct {
	Lot                 *lot.Lot
	Kind                Kind
	State               cure.State
	Opens, Best, Closes time.Time // of an unmold window, else zero
	Why                 string
}

// soon is how far ahead a window that is not open yet is shown.
const soon = 24 * time.Hour

// Today returns the tasks of the lots, the most pressing first. now is in the
// shop's zone.
func Today(lots []*lot.Lot, now time.Time) []Task {
	var out []Task
	for _, l := range lots {
		out = append(out, tasks(l, now)...)
	}
	rank := map[cure.State]int{cure.Late: 0, cure.Open: 1, cure.Waiting: 2}
	slices.SortStableFunc(out, func(a, b Task) int {
		if d := rank[a.State] - rank[b.State]; d != 0 {
			return d
		}
		return slices.Index(order, a.Kind) - slices.Index(order, b.Kind)
	})
	return out
}

var order = []Kind{Finish, Cut, Unmold, Release, Check, Held, Weigh}

func tasks(l *lot.Lot, now time.Time) []Task {
	task := func(k Kind, state cure.State, why string) Task { return Task{Lot: l, Kind: k, State: state, Why: why} }
	switch l.Stage() {
	case lot.Weighed:
		return []Task{task(Finish, cure.Open, "")}
	case lot.InMold:
		t := Window(l)
		t.State = l.Unmolds().At(now.Sub(l.Pour.Occurred))
		if t.State == cure.Waiting && t.Opens.Sub(now) > soon {
			return nil
		}
		return []Task{t}
	case lot.Unmolded:
		return []Task{task(Cut, cure.Open, "")}
	case lot.Curing:
		f := l.Facts(now)
		if held := l.Held(); len(held) > 0 {
			return []Task{task(Held, cure.Open, held[0])}
		}
		if f.Open().MayRelease {
			return []Task{task(Release, cure.Open, "")}
		}
		var out []Task
		if f.CheckDue() {
			out = append(out, task(Check, cure.Open, ""))
		}
		if f.SampleDue(l.Cut.Occurred.In(now.Location())) {
			out = append(out, task(Weigh, cure.Open, ""))
		}
		return out
	}
	return nil
}

// Window is the unmold window of a poured lot.
func Window(l *lot.Lot) Task {
	w, at := l.Unmolds(), l.Pour.Occurred
	return Task{Lot: l, Kind: Unmold, Opens: at.Add(w.Opens), Best: at.Add(w.Best), Closes: at.Add(w.Closes), Why: w.Why}
}
