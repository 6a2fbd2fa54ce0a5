package lot

import (
	"fmt"
	"time"
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
	ToMove    Act = "move"    // bars
	ToAccount Act = "account" // for bars that have left already
	ToCare    Act = "care"
	ToWash    Act = "wash" // with a bar
	ToPlace   Act = "place"
	ToKeep    Act = "kept" // a reference bar
	ToReshape Act = "reshape"
	ToHold    Act = "hold"
	ToLift    Act = "lift"
	ToNote    Act = "note"
	ToTrouble Act = "trouble"
	ToMark    Act = "mark"
	ToPhoto   Act = "photo"
	ToNext    Act = "next"   // what to change next time
	ToRetime  Act = "retime" // when something really happened
	ToBind    Act = "bind"   // bars to a product, or put them by
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
		ToAccount,
		ToCare,
		ToWash,
		ToPlace,
		ToKeep,
		ToReshape,
		ToHold,
		ToLift,
		ToNote,
		ToTrouble,
		ToMark,
		ToPhoto,
		ToNext,
		ToRetime,
		ToBind,
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
			return not("lot %s is %s: nothing is weighed into it any more", l.Code, l.StageWords())
		}
	case ToTick:
		if stage != Making && stage != InMold {
			return not("lot %s is %s: its run is over", l.Code, l.StageWords())
		}
	case ToCare:
		if l.Pour == nil || l.Release != nil && l.Unfinished() == "" {
			return not("lot %s is %s: nothing is to be looked after", l.Code, l.StageWords())
		}
	case ToWash:
		if l.Cut == nil {
			return not("lot %s is %s; bars are washed with after the cut", l.Code, l.StageWords())
		}
		if !l.Sound(now.Location()) {
			return not("no bar of lot %s is washed with before its safety check is good", l.Code)
		}
	case ToPlace:
		if !l.Stands() {
			return not("lot %s is %s: it stands on no rack", l.Code, l.StageWords())
		}
	case ToCarry:
		if stage != Making {
			return not("lot %s is %s: nothing goes into it any more", l.Code, l.StageWords())
		}
	case ToBind:
		if stage != Curing && stage != Ready {
			return not("lot %s is %s: it has no bars to label or to put by", l.Code, l.StageWords())
		}
	case ToKeep:
		if l.Cut == nil {
			return not("lot %s is %s; a reference bar is kept after the cut", l.Code, l.StageWords())
		}
	case ToReshape:
		if l.Cut == nil {
			return not("lot %s is %s; soap is diced and shaped after the cut", l.Code, l.StageWords())
		}
	case ToPour:
		if stage != Making {
			return not("lot %s has been poured already", l.Code)
		}
	case ToUnmold:
		if why := l.Form().Stays(); why != "" {
			return not("lot %s: %s", l.Code, why)
		}
		if stage != InMold {
			return not("lot %s is %s, not in the mold", l.Code, l.StageWords())
		}
	case ToCut:
		if !l.Form().Unmolded() && stage == InMold {
			return nil // it is counted as it stands
		}
		if stage != Unmolded {
			return not("lot %s is %s; it is cut after it is unmolded", l.Code, l.StageWords())
		}
	case ToSample, ToCheck:
		if l.Cut == nil {
			return not("lot %s is %s; bars are weighed and checked after the cut", l.Code, l.StageWords())
		}
	case ToRelease:
		if stage != Curing {
			return not("lot %s is %s, not curing", l.Code, l.StageWords())
		}
	case ToMove:
		if l.Release == nil {
			return not("lot %s is not released: none of its bars may leave yet", l.Code)
		}
		if g := l.Gate(now); !g.Ready {
			return not("lot %s is on hold: none of its bars may leave", l.Code)
		}
	case ToAccount: // a hold that came since does not bring them back
		if l.Release == nil {
			return not("lot %s is not released: none of its bars may have left", l.Code)
		}
	case ToRetime:
		if l.Release != nil {
			return not("lot %s is released: its record is sealed as it is", l.Code)
		}
	case ToHold, ToLift:
		if stage == Abandoned {
			return not("lot %s was abandoned", l.Code)
		}
	case ToNote, ToTrouble, ToMark, ToPhoto, ToNext:
	default:
		return not("“%s” is nothing that can be done to a lot", act)
	}
	return nil
}

// mostRescueSteps is more steps than any way out has.
const mostRescueSteps = 12
