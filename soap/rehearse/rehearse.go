// Package rehearse throws slips into a rehearsal of a pour, and tells at its end what was caught.
//
// Everybody slips; what matters is when it is noticed. A rehearsal goes through a whole run with a
// simulated scale and no lye, and at some steps something goes wrong as it does at a bench: the scale
// stands on ounces, the hand pours too much, the scent is left behind, the lye is too hot, the scale is
// out of contact, the batter turns to putty. The maker is not told that it is a slip. At the end the
// record of the run says what became of each: caught in time, late, or missed.
package rehearse

import (
	"fmt"
	"math"
	"slices"

	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

// Slip is something that goes wrong at a bench.
type Slip string

// The slips.
const (
	Ounces   Slip = "ounces"    // the scale stands on ounces
	OverPour Slip = "over-pour" // more goes in than is asked for
	Contact  Slip = "contact"   // the scale's plug has a thermometer in it
	HotLye   Slip = "hot-lye"   // it has not cooled
	NoScent  Slip = "no-scent"  // it stands behind the maker, and the pour is next
	Seizing  Slip = "seizing"   // the batter turns to putty
)

// Words names a slip.
func (s Slip) Words() string {
	return map[Slip]string{
		Ounces: "The scale stood on ounces", OverPour: "Too much was poured", Contact: "The scale was out of contact",
		HotLye: "The lye had not cooled", NoScent: "The scent was left behind", Seizing: "The batter seized",
	}[s]
}

// Scene is a slip at the step where it happens.
type Scene struct {
	Slip  Slip
	Step  string   // key
	Item  plan.Key // of a weighing
	Says  string   // what the maker sees
	Scale string   // what the simulated scale is told, and the probe
	Probe string
	To    string // key of the step that the maker finds herself at instead; empty for this one
}

// grams in an ounce.
const perOunce = 28.349523125

// How far off the slips are: an over-pour in shares of the target, and the temperature in °C that hot
// lye shows.
const (
	overBy = 0.09
	hotC   = 78.0
)

// aPour is how many seconds a hand takes to pour an ingredient.
const aPour = 4.0

// least is the weight in g from which an item is heavy enough for a slip that can be seen.
const least = 40.0

// Scenes lays the slips out over a run, each at a step of its own, the same way each time for one order.
func Scenes(o run.Order) []Scene {
	var out []Scene
	var heavy, scents []run.Step
	steps := run.Steps(o)
	for _, s := range steps {
		if s.Kind == run.Weigh && s.Item.Key.Kind() == plan.FatItem && s.Item.Target >= least {
			heavy = append(heavy, s)
		}
		if s.Kind == run.Scent {
			scents = append(scents, s)
		}
	}
	at := func(slip Slip, s run.Step, says string) *Scene {
		out = append(out, Scene{Slip: slip, Step: s.Key, Item: s.Item.Key, Says: says})
		return &out[len(out)-1]
	}
	put := func(grams float64) string { return fmt.Sprintf("pour %.1f %.0f", grams, math.Max(least, grams/aPour)) }
	if len(heavy) > 0 {
		s := heavy[0]
		at(Ounces, s, "Somebody weighed a parcel here before you. You pour, and look up when the figure seems about right.").
			Scale = put(s.Item.Target / perOunce)
	}
	if len(heavy) > 1 {
		s := heavy[1]
		at(OverPour, s, "The bottle gurgles, and for a moment it comes too fast.").Scale = put(s.Item.Target * (1 + overBy))
	}
	if len(heavy) > 2 {
		at(Contact, heavy[2], "A plug was pulled and put back, and it is not the scale’s. The display on the bench still works.").
			Scale = "unplug"
	}
	for _, s := range steps {
		switch {
		case s.Kind == run.Warm:
			at(HotLye, s, "It feels as if it had stood for an hour. The probe hangs in the lye.").Probe = fmt.Sprintf("heat %.0f", hotC)
		}
	}
	// Last of all, when everything is in and the molds are near.
	if i := slices.IndexFunc(steps, func(s run.Step) bool { return s.Stage == run.IntoMold && s.Kind != run.Pour }); i >= 0 {
		at(Seizing, steps[i], "As you lift the pot it turns from cream to putty within a breath, and pulls away from its wall.")
	}
	if len(scents) > 0 {
		at(NoScent, scents[0], "The telephone rings. When you come back the molds stand ready, and the batter is as thick as it should be.").
			To = run.PourKey
	}
	return out
}

// Outcome is what became of a slip.
type Outcome string

// The outcomes.
const (
	Caught Outcome = "caught"
	Late   Outcome = "late"
	Missed Outcome = "missed"
	Ahead  Outcome = "ahead" // the run did not come to it
)

// Seen is a slip with what became of it, and what would have been the way.
type Seen struct {
	Scene
	Outcome Outcome
	Way     string
}

// ways are what one does about each.
var ways = map[Slip]string{
	Ounces:   "A figure far below what is to go is asked about. Look at the unit beside it, set the scale back, weigh again.",
	OverPour: "Scoop it back out while it is on its own, or let the rest grow with it. Never go on over the mark.",
	Contact:  "Read the display and type the figure, or put the right plug in. Nothing that was written down is lost.",
	HotLye:   "Wait, or set the jug into cold water; both pots meet between the two temperatures, close to each other.",
	NoScent:  "The pour says what is not in. Go back, stir it in by hand, then pour.",
	Seizing:  "The t key has the card: stir, and then either pack it into the molds at once or cook it. Write down which.",
}

// Judge tells what became of each slip, from the record of the run.
func Judge(scenes []Scene, l *lot.Lot) []Seen {
	out := make([]Seen, len(scenes))
	for i, s := range scenes {
		out[i] = Seen{Scene: s, Outcome: outcomeOf(s, l), Way: ways[s.Slip]}
	}
	return out
}

func outcomeOf(s Scene, l *lot.Lot) Outcome {
	state := l.State()
	switch s.Slip {
	case Ounces:
		return weighed(s, l, state, func(w lot.Weighing) bool { return near(w.Actual, w.Target/perOunce) })
	case Contact:
		item, ok := l.Item(s.Item)
		switch {
		case ok && state.Closed[s.Item] && run.InTolerance(item, state.Grams[s.Item]) == 0:
			return Caught // in one pouring or several
		case state.Closed[s.Item] || l.Pour != nil:
			return Missed
		}
	case OverPour:
		return overPoured(s, l, state)
	case HotLye:
		return hot(l, state)
	case NoScent:
		switch {
		case state.Done[s.Step] && (l.Pour == nil || before(l, s.Step)):
			return Caught
		case l.Pour != nil:
			return Missed
		}
	case Seizing:
		i := slices.IndexFunc(l.Incidents, func(i lot.Incident) bool { return i.Kind == trouble.Seized })
		switch {
		case i >= 0 && l.Incidents[i].Way != "" && (l.Pour == nil || l.Incidents[i].Occurred.Before(l.Pour.Occurred)):
			return Caught
		case i >= 0:
			return Late
		case l.Pour != nil:
			return Missed
		}
	}
	return Ahead
}

// near reports whether two weights are the same but for what a scale and a hand do.
func near(a, b float64) bool { return math.Abs(a-b) <= math.Max(2, 0.05*math.Abs(b)) }

// weighed judges a slip that would be on record as a weighing of its kind.
func weighed(s Scene, l *lot.Lot, state run.State, slipped func(lot.Weighing) bool) Outcome {
	for _, w := range l.Weighings {
		if w.Item != s.Item || !slipped(w) {
			continue
		}
		if l.Corrected(w.ID) || near(state.Grams[s.Item], w.Target) {
			return Late // it stood on record, and was put right
		}
		if state.Closed[s.Item] || l.Pour != nil {
			return Missed
		}
		return Late
	}
	if state.Closed[s.Item] {
		return Caught
	}
	return Ahead
}

func overPoured(s Scene, l *lot.Lot, state run.State) Outcome {
	item, ok := l.Item(s.Item)
	if !ok || !state.Closed[s.Item] && state.Grams[s.Item] == 0 {
		return Ahead
	}
	if run.InTolerance(item, state.Grams[s.Item]) <= 0 {
		return Caught // scooped back, or the rest was made to fit
	}
	if l.Pour != nil || state.Combined {
		return Missed
	}
	return Late
}

// hot judges lye that was not let cool, by the last reading before it met the fats.
func hot(l *lot.Lot, state run.State) Outcome {
	if !state.Combined && l.Pour == nil {
		return Ahead
	}
	var met lot.Tick
	for _, t := range l.Ticks {
		if t.Step == run.MeetKey && t.Done {
			met = t
		}
	}
	last := math.NaN()
	for _, r := range l.Read("lye") {
		if !r.At.After(met.Occurred) {
			last = r.C
		}
	}
	switch _, high := l.Frozen.Formula.Working(); {
	case math.IsNaN(last), last > high+tolerated:
		return Missed
	}
	return Caught
}

// tolerated is how many °C above the working range nobody would call too hot.
const tolerated = 5.0

// before reports whether a step was ticked before the pour.
func before(l *lot.Lot, step string) bool {
	for _, t := range l.Ticks {
		if t.Step == step && t.Done && !t.Occurred.After(l.Pour.Occurred) {
			return true
		}
	}
	return false
}
