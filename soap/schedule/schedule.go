// Package schedule says what is to be done today: which molds open, which bar
// is to be weighed, which lot waits for its check or its release.
//
// Nothing is entered into a calendar. Every task follows from the records of
// the lots and the time, so it is there when it is due and gone when it is done.
package schedule

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/day"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
)

// Kind is what is to be done.
type Kind string

// The kinds of tasks, in the order of a lot's life.
const (
	Finish  Kind = "finish"  // a lot on the bench is not poured yet
	Texture Kind = "texture" // the top, when it holds
	Gel     Kind = "gel"     // look for the ring
	Oven    Kind = "oven"    // off at bedtime
	Unmold  Kind = "unmold"  // and cut
	Cut     Kind = "cut"     // out of the mold, not cut
	Stamp   Kind = "stamp"   // while it takes an impression
	Tidy    Kind = lot.Finished
	Weigh   Kind = "weigh"   // the sample bar
	Turn    Kind = "turn"    // the bars on their rack
	Check   Kind = "check"   // zap or pH
	Again   Kind = "again"   // released on a check that was made too early
	Release Kind = "release" // all is met but the release
	Odd     Kind = "odd"     // it dries unlike its siblings
	Wash    Kind = "wash"    // with a bar that goes on getting better for months
	Held    Kind = "held"    // somebody must decide
)

var words = map[Kind]string{
	Finish: "Finish the pour", Unmold: "Unmold and cut", Cut: "Cut", Weigh: "Weigh the sample bar",
	Texture: "Texture the top", Gel: "Look for the gel ring", Oven: "Oven off", Stamp: "Stamp", Turn: "Turn the bars",
	Check: "Make the safety check", Again: "Check it again", Release: "Release", Held: "On hold: decide",
	Odd: "Look at it: it dries oddly", Wash: "Wash with one again", Tidy: "Finish the bars",
}

// Kinds returns all kinds, the most pressing first.
func Kinds() []Kind { return slices.Clone(order) }

// Words says the task as a maker would.
func (k Kind) Words() string { return words[k] }

// Words says the task as a maker would of soap of the lot's form: what is not cut is counted.
func (t Task) Words() string {
	if t.Lot == nil {
		return t.Kind.Words()
	}
	form := t.Lot.Form()
	switch {
	case t.Kind == Unmold && !form.Cut():
		return "Unmold and count"
	case t.Kind == Cut && !form.Cut():
		return "Count the " + form.Piece() + "s"
	case t.Kind == Weigh && form == recipe.Jars:
		return "Weigh the marked jar"
	}
	return t.Kind.Words()
}

// Task is one thing to do for one lot.
type Task struct {
	Lot                 *lot.Lot
	Kind                Kind
	State               cure.State
	Opens, Best, Closes time.Time // of an unmold window, else zero
	Why                 string
	Missed              string // what to do when the window has closed
}

// Care reports whether the task is done by one press, as a care of the lot.
func (t Task) Care() bool {
	return slices.Contains([]Kind{Texture, Gel, Oven, Stamp, Turn, Tidy}, t.Kind)
}

// soon is how far ahead a window that is not open yet is shown.
const soon = 24 * time.Hour

// longPast is how long a missed watch is still spoken of.
const longPast = 6 * time.Hour

// Today returns the tasks of the lots, the most pressing first. now is in the
// shop's zone.
func Today(lots []*lot.Lot, now time.Time) []Task {
	var out []Task
	for _, l := range lots {
		out = append(out, tasks(l, now)...)
	}
	rank := func(t Task) int {
		switch {
		case t.State == cure.Late && !t.Care():
			return 0
		case t.State == cure.Waiting, t.State == cure.Late: // a watch that was missed presses no more
			return 2
		}
		return 1
	}
	slices.SortStableFunc(out, func(a, b Task) int {
		if d := rank(a) - rank(b); d != 0 {
			return d
		}
		if d := slices.Index(order, a.Kind) - slices.Index(order, b.Kind); d != 0 {
			return d
		}
		return a.Closes.Compare(b.Closes) // what closes first
	})
	return out
}

var order = []Kind{Finish, Oven, Texture, Gel, Cut, Unmold, Stamp, Again, Release, Check, Odd, Held, Tidy, Weigh, Turn, Wash}

func tasks(l *lot.Lot, now time.Time) []Task {
	task := func(k Kind, state cure.State, why string) Task { return Task{Lot: l, Kind: k, State: state, Why: why} }
	switch l.Stage() {
	case lot.Making:
		return []Task{task(Finish, cure.Open, "")}
	case lot.InMold:
		var out []Task
		if !l.Form().Unmolded() {
			out = append(out, task(Cut, cure.Open, l.Form().Stays()))
		}
		for _, t := range inMold(l, now.Location()) {
			t.State = stateOf(t, now)
			switch {
			case t.State == cure.Waiting && t.Opens.Sub(now) > soon:
			case t.State == cure.Late && t.Kind != Unmold && now.Sub(t.Closes) > longPast:
			default:
				out = append(out, t)
			}
		}
		return out
	case lot.Unmolded:
		if from, w, soft := l.CutWindow(); soft {
			t := task(Cut, w.At(now.Sub(from)), w.Why)
			t.Opens, t.Best, t.Closes = from.Add(w.Opens), from.Add(w.Best), from.Add(w.Closes)
			t.Missed = "cut it now, or open its card of trouble: soap this soft asks for its weights"
			return []Task{t}
		}
		return []Task{task(Cut, cure.Open, "")}
	case lot.Curing:
		f := l.Facts(now)
		if held := l.Held(); len(held) > 0 {
			return []Task{task(Held, cure.Open, held[0])}
		}
		var out []Task
		if l.Odd {
			out = append(out, task(Odd, cure.Open, "not where earlier lots of the recipe were by then"))
		}
		if f.Checked && f.Passed && f.EvaluateGate().MayRelease { // without a check it is not worked out
			return append(out, task(Release, cure.Open, ""))
		}
		if f.CheckDue() {
			out = append(out, task(Check, cure.Open, ""))
		}
		if f.SampleDue(l.Cut.Occurred.In(now.Location())) {
			out = append(out, task(Weigh, cure.Open, ""))
		}
		if who := l.Unfinished(); who != "" {
			out = append(out, task(Tidy, cure.Open, who))
		}
		if l.Form().Unmolded() && !now.Before(TurnOn(l, now.Location())) {
			out = append(out, task(Turn, cure.Open, "so that they dry evenly and do not bend"))
		}
		return out
	case lot.Ready:
		if l.OnEarlyCheck() {
			return []Task{task(Again, cure.Open, "it was released on a check made too early to prove anything")}
		}
		if who := l.Unfinished(); who != "" {
			return []Task{task(Tidy, cure.Open, who)}
		}
		if months, due := washAgain(l, now); due {
			return []Task{task(Wash, cure.Open, fmt.Sprintf("%d months old: how it lathers now", months))}
		}
	}
	return nil
}

// inMold are the tasks of a poured lot that go by the hour.
func inMold(l *lot.Lot, zone *time.Location) []Task {
	out := watches(l, zone)
	if w, ok := Window(l); ok {
		out = append(out, w)
	}
	return out
}

// longLived is from how many days of its best on a soap is washed with again at six and at
// twelve months.
const longLived = 180

// washAgain reports whether a lot that gets better for months has come to an age at which it is
// washed with again, and was not since.
func washAgain(l *lot.Lot, now time.Time) (months int, due bool) {
	if l.Policy().Until < longLived || l.Pour == nil || len(l.Held()) > 0 {
		return 0, false
	}
	for _, months := range []int{12, 6} {
		from := l.Pour.Occurred.In(now.Location()).AddDate(0, months, 0)
		if now.Before(from) {
			continue
		}
		since := slices.ContainsFunc(l.Washes, func(w lot.Wash) bool { return !w.Occurred.Before(from) })
		return months, !since
	}
	return 0, false
}

// Window is the unmold window of a poured lot; ok is false for what stays where it was poured.
func Window(l *lot.Lot) (t Task, ok bool) {
	w, at := l.Unmolds(), l.Pour.Occurred
	t = Task{
		Lot:    l,
		Kind:   Unmold,
		Opens:  at.Add(w.Opens),
		Best:   at.Add(w.Best),
		Closes: at.Add(w.Closes),
		Why:    w.Why,
		Missed: "take it out now, and cut it gently: warm it a little if the wire cracks it",
	}
	if !l.Form().Cut() {
		t.Missed = "take it out when it comes: nothing is cut"
	}
	return t, !w.None()
}

func stateOf(t Task, now time.Time) cure.State {
	return cure.Window{Opens: t.Opens.Sub(t.Opens), Closes: t.Closes.Sub(t.Opens)}.At(now.Sub(t.Opens))
}

// The watches of the first hours, counted from the pour: a top holds its texture
// after minutes to hours; the ring of a gel shows after about two hours.
const (
	textureOpens, textureBest, textureCloses = 15 * time.Minute, 45 * time.Minute, 3 * time.Hour
	gelOpens, gelBest, gelCloses             = 90 * time.Minute, 2 * time.Hour, 5 * time.Hour
)

// bedtime is the hour of the clock at which an oven is switched off at the latest.
const bedtime = 22

// watches are what is looked after in the mold before it comes out, as long as it
// was not done.
func watches(l *lot.Lot, zone *time.Location) []Task {
	var out []Task
	poured := l.Pour.Occurred
	process := l.Frozen.Formula.Process
	add := func(k Kind, opens, best, closes time.Time, why, missed string) {
		if _, done := l.LastCare(string(k)); !done {
			out = append(out, Task{Lot: l, Kind: k, Opens: opens, Best: best, Closes: closes, Why: why, Missed: missed})
		}
	}
	form := l.Form()
	if !l.Done()["after:tap"] && form != recipe.Paste {
		add(
			Texture,
			poured.Add(textureOpens),
			poured.Add(textureBest),
			poured.Add(textureCloses),
			"when the top holds a stroke",
			"it has set: leave it as it is, plane it after the cut if you mind",
		)
	}
	if process.Gel != "avoid" && !l.Cooked() && form != recipe.Paste {
		add(
			Gel,
			poured.Add(gelOpens),
			poured.Add(gelBest),
			poured.Add(gelCloses),
			"a darker ring from the middle outwards; do not poke it",
			"look at the cut face instead, and note it when it is out",
		)
	}
	if process.Cover == "oven" || process.Kind == recipe.Oven {
		local := poured.In(zone)
		off := time.Date(local.Year(), local.Month(), local.Day(), bedtime, 0, 0, 0, zone)
		if off.Sub(poured) < 2*time.Hour {
			off = poured.Add(2 * time.Hour)
		}
		add(
			Oven,
			off.Add(-2*time.Hour),
			off,
			off.Add(2*time.Hour),
			"it stays in overnight, in the warmth that is left",
			"switch it off now and look for cracks; cool it if it climbs",
		)
	}
	return out
}

// turnEvery is how often bars are turned, in days.
const turnEvery = 7

// TurnOn is the local day from which the bars of a lot want turning.
func TurnOn(l *lot.Lot, zone *time.Location) time.Time {
	last := l.Cut.Occurred
	if at, ok := l.LastCare("turn"); ok {
		last = at
	}
	return day.Plus(last.In(zone), turnEvery)
}

// StampUntil is how long after its cut a bar takes an impression: olive and salt
// harden within hours, an ordinary bar within days. It is no time at all for what stays in its jar.
func StampUntil(l *lot.Lot) time.Time {
	if !l.Form().Unmolded() {
		return time.Time{}
	}
	hours := 72.0
	if w := l.Unmolds(); w.Closes <= 24*time.Hour {
		hours = 12
	}
	return l.Cut.Occurred.Add(time.Duration(hours * float64(time.Hour)))
}

// Event is something on a day of the calendar.
type Event struct {
	Task
	Day    time.Time // the start of its local day
	AllDay bool
	Off    bool // on a day off
}

// Calendar returns what is foreseen of lots between two local days, in order: the
// windows of what is in a mold, and of what cures the days on which it wants
// weighing, turning, its check, and on which its policy allows the release. Days
// off are weekdays in short, such as "sat".
func Calendar(lots []*lot.Lot, from, to time.Time, off []string) []Event {
	zone := from.Location()
	var out []Event
	add := func(t Task, allDay bool) {
		when := t.Best
		if allDay {
			when = t.Opens
		}
		on := day.Plus(when.In(zone), 0)
		if !on.Before(from) && on.Before(to) {
			out = append(out, Event{t, on, allDay, slices.Contains(off, strings.ToLower(on.Weekday().String()[:3]))})
		}
	}
	for _, l := range lots {
		switch l.Stage() {
		case lot.InMold:
			for _, t := range inMold(l, zone) {
				add(t, false)
			}
		case lot.Curing:
			facts := l.Facts(to)
			last := l.Cut.Occurred
			if n := len(facts.Samples); n > 0 {
				last = facts.Samples[n-1].At
			}
			on := func(k Kind, at time.Time, why string) {
				add(Task{Lot: l, Kind: k, Opens: at, Best: at, Why: why}, true)
			}
			if l.Form() != recipe.Paste {
				on(Weigh, day.Plus(last.In(zone), cure.SampleEvery), "the marked "+l.Form().Piece()+", weekly")
			}
			if l.Form().Unmolded() {
				on(Turn, TurnOn(l, zone), "")
			}
			if !facts.Passed {
				on(Check, day.Plus(facts.Poured.In(zone), cure.CheckAsked), "zap or pH")
			}
			on(Release, facts.Policy.ReadyOn(facts.Poured.In(zone)), "the days of its cure are done; weight and check decide as well")
		}
	}
	slices.SortStableFunc(out, func(a, b Event) int {
		if c := a.Day.Compare(b.Day); c != 0 {
			return c
		}
		return a.Best.Compare(b.Best)
	})
	return out
}

// Pressing picks from tasks those that go by the hour and are to be done now, in
// their order.
func Pressing(tasks []Task) []Task {
	return slices.DeleteFunc(slices.Clone(tasks), func(t Task) bool {
		late := t.State == cure.Late && t.Care() // it presses no more
		return t.State == cure.Waiting || late || !slices.Contains([]Kind{Oven, Texture, Gel, Unmold, Cut}, t.Kind)
	})
}

// longest is how many days a window lasts at the most, and how long after its pour
// it closes.
const longest = 7

// On returns what falls on a local day: the windows that are open at some time of
// it, the earliest first, and what is due on it.
func On(lots []*lot.Lot, on time.Time, off []string) (windows []Task, due []Event) {
	end := day.Plus(on, 1)
	for _, e := range Calendar(lots, day.Plus(on, -longest), day.Plus(end, longest), off) {
		switch {
		case !e.AllDay && e.Opens.Before(end) && e.Closes.After(on):
			windows = append(windows, e.Task)
		case e.AllDay && e.Day.Equal(on):
			due = append(due, e)
		}
	}
	slices.SortStableFunc(windows, func(a, b Task) int { return a.Opens.Compare(b.Opens) })
	return windows, due
}
