package lot

import (
	"fmt"
	"slices"
	"time"

	"ashshelf/soap/cure"
)

// Act is something that people do to a lot.
type Act string

// The acts.
const (
	ToWeigh   Act = "weigh"
	ToTick    Act = "tick" // a step of the run
	ToCarry   Act = "carry"
	ToAbandon Act = "abandon"
	ToPour    Act = "pour"
	ToUnmold  Act = "unmold"
	ToCut     Act = "cut"
	ToSample  Act = "sample" // the marked bar on the scale
	ToCheck   Act = "check"  // its safety
	ToRelease Act = "release"
	ToMove    Act = "move" // bars
	ToCare    Act = "care"
	ToWash    Act = "wash" // with a bar
	ToPlace   Act = "place"
	ToKeep    Act = "kept" // a reference bar
	ToHold    Act = "hold"
	ToLift    Act = "lift"
	ToNote    Act = "note"
	ToTrouble Act = "trouble"
	ToMark    Act = "mark"
	ToPhoto   Act = "photo"
	ToNext    Act = "next"   // what to change next time
	ToRetime  Act = "retime" // when something really happened
)

// Acts returns all acts.
func Acts() []Act {
	return []Act{
		ToWeigh,
		ToTick,
		ToCarry,
		ToAbandon,
		ToPour,
		ToUnmold,
		ToCut,
		ToSample,
		ToCheck,
		ToRelease,
		ToMove,
		ToCare,
		ToWash,
		ToPlace,
		ToKeep,
		ToHold,
		ToLift,
		ToNote,
		ToTrouble,
		ToMark,
		ToPhoto,
		ToNext,
		ToRetime,
	}
}

// NotNow says that something cannot happen to a lot at its stage of life.
type NotNow struct{ Why string }

func (e *NotNow) Error() string { return e.Why }

// May reports whether an act can happen now; the error is a [*NotNow]. What is none
// of [Acts] never can.
func (l *Lot) May(act Act, now time.Time) error {
	stage := l.Stage()
	not := func(format string, args ...any) error { return &NotNow{fmt.Sprintf(format, args...)} }
	switch act {
	case ToWeigh, ToAbandon:
		if stage != Making {
			return not("lot %s is %s: nothing is weighed into it any more", l.Code, stage.Words())
		}
	case ToTick:
		if stage != Making && stage != InMold {
			return not("lot %s is %s: its run is over", l.Code, stage.Words())
		}
	case ToCare:
		if l.Pour == nil || l.Release != nil {
			return not("lot %s is %s: nothing is to be looked after", l.Code, stage.Words())
		}
	case ToWash:
		if l.Cut == nil {
			return not("lot %s is %s; bars are washed with after the cut", l.Code, stage.Words())
		}
		if !l.Sound(now.Location()) {
			return not("no bar of lot %s is washed with before its safety check is good", l.Code)
		}
	case ToPlace:
		if !l.Stands() {
			return not("lot %s is %s: it stands on no rack", l.Code, stage.Words())
		}
	case ToCarry:
		if stage != Making {
			return not("lot %s is %s: nothing goes into it any more", l.Code, stage.Words())
		}
	case ToKeep:
		if l.Cut == nil {
			return not("lot %s is %s; a reference bar is kept after the cut", l.Code, stage.Words())
		}
	case ToPour:
		if stage != Making {
			return not("lot %s has been poured already", l.Code)
		}
	case ToUnmold:
		if stage != InMold {
			return not("lot %s is %s, not in the mold", l.Code, stage.Words())
		}
	case ToCut:
		if stage != Unmolded {
			return not("lot %s is %s; it is cut after it is unmolded", l.Code, stage.Words())
		}
	case ToSample, ToCheck:
		if l.Cut == nil {
			return not("lot %s is %s; bars are weighed and checked after the cut", l.Code, stage.Words())
		}
	case ToRelease:
		if stage != Curing {
			return not("lot %s is %s, not curing", l.Code, stage.Words())
		}
	case ToMove:
		if l.Release == nil {
			return not("lot %s is not released: none of its bars may leave yet", l.Code)
		}
		if g := l.Gate(now); !g.Ready {
			return not("lot %s is on hold: none of its bars may leave", l.Code)
		}
	case ToRetime:
		if l.Release != nil {
			return not("lot %s is released: its record is sealed as it is", l.Code)
		}
	case ToHold, ToLift:
		if stage == Abandoned {
			return not("lot %s was given up", l.Code)
		}
	case ToNote, ToTrouble, ToMark, ToPhoto, ToNext:
	default:
		return not("“%s” is nothing that can be done to a lot", act)
	}
	return nil
}

// ChecksFrom is from when a safety check of the lot counts.
func (l *Lot) ChecksFrom(zone *time.Location) cure.Checkable {
	c := cure.Chemistry{Paste: l.Frozen.Formula.Alkali.NaOHPercent == 0}
	if l.Pour != nil {
		c.Poured = l.Pour.Occurred.In(zone)
	}
	if l.Frozen.Formula.Process.Cooks() {
		c.Cooked = c.Poured // it is poured when it is cooked
	}
	for _, t := range l.Turns {
		if t.Cooked {
			c.Cooked = later(c.Cooked, t.Occurred.In(zone))
		}
	}
	if !c.Cooked.IsZero() {
		c.Cooked = later(c.Cooked, l.lastRescue().In(zone))
	}
	c.Gelled = l.Unmolding != nil && l.Unmolding.Gel == FullGel
	if at, ok := l.LastCare(Diluted); ok {
		c.Diluted = at.In(zone)
	}
	return cure.ChecksFrom(c, l.Policy())
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// lastRescue is when the last step of a rescue was done: a cook is over by then.
func (l *Lot) lastRescue() (at time.Time) {
	for _, i := range l.Incidents {
		for n := range mostRescueSteps {
			for _, t := range l.Ticks {
				if t.Done && t.Step == RescueKey(i.ID, n) {
					at = later(at, t.Occurred)
				}
			}
		}
	}
	return at
}

// mostRescueSteps is more steps than any way out has.
const mostRescueSteps = 12

// checked reports how the safety check stands. A check that was made too early is
// kept and does not count; a bar that was released when it still did stays released
// as long as no later check fails.
func (l *Lot) checked(from cure.Checkable) (passed, early bool) {
	for _, k := range l.Checks {
		switch counts := from.Counts(k.Occurred); {
		case !k.Pass:
			passed, early = false, false
		case counts || l.Release != nil:
			passed, early = true, false
		default:
			early = !passed
		}
	}
	return passed, early
}

// Sound reports whether a safety check that counts was good, and none since failed.
func (l *Lot) Sound(zone *time.Location) bool {
	passed, _ := l.checked(l.ChecksFrom(zone))
	return passed
}

// TooEarly reports whether a check of the lot was made too early to count.
func (l *Lot) TooEarly(k SafetyCheck) bool {
	return !l.ChecksFrom(k.Occurred.Location()).Counts(k.Occurred)
}

// OnEarlyCheck reports whether the lot was released when only early checks spoke for
// it, and none that counts was made since.
func (l *Lot) OnEarlyCheck() bool {
	return l.Release != nil && !slices.ContainsFunc(l.Checks, func(k SafetyCheck) bool { return k.Pass && !l.TooEarly(k) })
}

// OutOfWindow says, in words, how far from its window a lot is unmolded or cut at a
// moment; empty within it.
func (l *Lot) OutOfWindow(at time.Time) string {
	if l.Pour == nil {
		return ""
	}
	w, after := l.Unmolds(), at.Sub(l.Pour.Occurred)
	switch w.At(after) {
	case cure.Waiting:
		return "before its window opens, which is " + hours(w.Opens) + " after the pour: " + w.Why
	case cure.Late:
		return "after its window closed, which was " + hours(w.Closes) + " after the pour: " + w.Why
	}
	return ""
}

func hours(d time.Duration) string { return fmt.Sprintf("%.3g hours", d.Hours()) }

// Deviated reports whether an act on the lot is on record as a deviation.
func (l *Lot) Deviated(act Act) bool {
	return slices.ContainsFunc(l.Deviations, func(d Deviation) bool { return d.Act == act })
}
