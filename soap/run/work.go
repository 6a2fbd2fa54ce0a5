package run

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/timetable"
)

// What a pot takes at the bench.
const (
	Hands     = "hands"
	Scale     = "scale"
	JugAway   = "jug"
	PotAway   = "pot"
	Blender   = "blender"
	Heat      = "heat"
	OvenPlace = "oven"
	Calm      = "calm"  // as many as there are pots that do not hurry: see [HurriesLast]
	Quiet     = "quiet" // as many as there are pots: what hurries takes them all, so that nothing else is hot beside it
)

// The steps of a pot in a day.
const (
	ReadyWork   = "Get ready"
	LyeWork     = "Weigh and mix the lye"
	LyeCools    = "Lye cools"
	FatsWork    = "Weigh the fats"
	MeltWork    = "Melt the fats"
	FatsCool    = "Fats cool"
	HandWork    = "Weigh what goes in later"
	MeetWork    = "Lye into the fats"
	TraceWork   = "Blend to trace"
	RestWork    = "The blender rests"
	CookWork    = "Cook"
	FinishWork  = "Stir in the rest"
	WarmWork    = "Warm the oven"
	PourWork    = "Into the molds"
	CleanWork   = "Cover and clean up"
	boutWork    = "Blend, bout %d"
	restOf      = "The blender rests, %d"
	readyMin    = 6  // bench, gear, scale
	perMold     = 4  // line and mark, and as much to fill
	perItem     = 2  // on the scale
	mixMin      = 5  // lye into liquid, slowly
	meltMin     = 10 // the first kilo of hard fats, and so much for each more
	perKilo     = 4
	mostMelt    = 45
	meetMin     = 3
	perStir     = 1 // of each thing that is stirred in
	perPortion  = 4
	cleanMin    = 18
	cookMin     = 60
	usualTrace  = 8 // of a batter that is worked as long as most
	leastTrace  = 2
	mostTrace   = 60
	warmMin     = 20
	warmStays   = 60 // min that a warm oven may wait for its loaves
	longTrace   = 15 // from which on it is blended in bouts
	boutMin     = 3
	restMin     = 7
	meltedC     = 60.0 // °C of fats that were melted
	soon        = 2    // min that batter may wait between two steps
	beforeCover = 30
)

// Pace is how many minutes a part of the work takes in this shop, from what most makers take; nil where nothing is known.
type Pace func(part string, table float64) float64

// minutes are those of a part, one at the least.
func (p Pace) minutes(part string, table int) int {
	if p == nil || table <= 0 {
		return table
	}
	return max(1, int(math.Round(p(part, float64(table)))))
}

// Work is what a pot takes of a day: the steps of its run together, with how long each usually takes, as a batch of a
// timetable. pots is how many are made that day. The lye is mixed so that it meets its fats while both are warm enough
// and no longer too hot, by the pace at which they cool. The minutes are what most makers take, or what a shop's own lots
// say of its pace.
func (o Order) Work(name string, roomC float64, pots int, pace Pace) timetable.Batch {
	b := timetable.Batch{Name: name}
	add := func(s timetable.Step) { b.Steps = append(b.Steps, s) }
	s := o.sorted()
	low, high := o.Formula.Working()

	add(timetable.Step{Name: ReadyWork, Minutes: pace.minutes(ReadyWork, readyMin+perMold*o.molds()), Uses: []string{Hands}})
	lyeItems := len(s.beforeLye) + len(s.lye) + len(s.inLye)
	mixed, melted := LyeWork, FatsWork
	within := map[string]int{}
	add(timetable.Step{Name: LyeWork, Minutes: pace.minutes(LyeWork, perItem*lyeItems+mixMin), Uses: []string{Hands, Scale, Quiet},
		After: []string{ReadyWork}, Keeps: map[string]string{JugAway: MeetWork}})
	jug := o.Jug(Pot{}, roomC)
	if cool, pause, waits := cools(jug.PeakC(), roomC, lye.UsualTau(jug.Solution.Mass(), "open", false), low, high); waits {
		mixed = LyeCools
		add(timetable.Step{Name: LyeCools, Minutes: cool, Within: map[string]int{LyeWork: 0}})
		within[LyeCools] = pause
	}

	solid, grams := 0.0, 0.0
	for _, i := range s.solid {
		solid += i.Target
	}
	for _, i := range append(append([]plan.Item{}, s.solid...), s.fluid...) {
		grams += i.Target
	}
	weighed := perItem * max(1, len(s.solid)+len(s.fluid)+len(s.inFats))
	add(timetable.Step{Name: FatsWork, Minutes: pace.minutes(FatsWork, weighed), Uses: []string{Hands, Scale},
		After: []string{ReadyWork}, Keeps: map[string]string{PotAway: CleanWork}})
	if solid > 0 {
		melted = MeltWork
		minutes := meltMin + int(math.Ceil(perKilo*math.Max(0, solid/1000-1)))
		add(timetable.Step{Name: MeltWork, Minutes: min(minutes, mostMelt), Uses: []string{Heat, Quiet}, After: []string{FatsWork}})
		if cool, pause, waits := cools(math.Max(meltedC, high), roomC, lye.UsualTau(grams, "open", true), low, high); waits {
			melted = FatsCool
			add(timetable.Step{Name: FatsCool, Minutes: cool, Within: map[string]int{MeltWork: 0}})
			within[FatsCool] = pause
		}
	}
	before := []string{mixed, melted}
	if n := len(s.later) + len(s.hand); n > 0 {
		add(timetable.Step{Name: HandWork, Minutes: pace.minutes(HandWork, perItem*n), Uses: []string{Hands, Scale}, After: []string{ReadyWork}})
		before = append(before, HandWork)
	}
	o.togetherWork(&b, before, within, pots, pace)
	return b
}

// cools is how long a pot takes down to where it can be worked, and how long it stays there; no wait when it is never too hot.
func cools(startC, roomC, tau, low, high float64) (minutes, pause int, waits bool) {
	c := lye.Cooling{StartC: startC, RoomC: roomC, Tau: tau}
	until := c.Until(high)
	if !(until > 0) || until > timetable.Minutes {
		return 0, 0, false
	}
	pause = timetable.Minutes
	if colder := c.Until(low); roomC < low && !math.IsInf(colder, 0) && !math.IsNaN(colder) {
		pause = min(pause, int(colder-until))
	}
	return int(math.Ceil(until)), max(5, pause), true
}

// togetherWork are the steps from the meeting of lye and fats to a clean bench. Nothing comes between them for long.
func (o Order) togetherWork(b *timetable.Batch, before []string, within map[string]int, pots int, pace Pace) {
	_, hurries := o.Formula.RiskyScent()
	uses := func(names ...string) []string {
		names = append([]string{Hands}, names...)
		if !hurries {
			return append(names, Quiet)
		}
		for range pots {
			names = append(names, Quiet)
		}
		return names
	}
	newest := MeetWork
	b.Steps = append(b.Steps, timetable.Step{Name: MeetWork, Minutes: meetMin, Uses: uses(), After: before, Within: within,
		Keeps: map[string]string{Blender: CleanWork}})
	next := func(name string, minutes, pause int, taken []string) {
		b.Steps = append(b.Steps, timetable.Step{Name: name, Minutes: minutes, Uses: taken, After: []string{newest},
			Within: map[string]int{newest: pause}})
		newest = name
	}
	minutes := min(mostTrace, pace.minutes(TraceWork, o.TraceMinutes()))
	if minutes < longTrace {
		next(TraceWork, minutes, 0, uses())
	} else {
		for bout := 1; bout*(boutMin+restMin) < minutes; bout++ {
			next(fmt.Sprintf(boutWork, bout), boutMin, soon, uses())
			next(fmt.Sprintf(restOf, bout), restMin, 0, nil)
		}
		next(TraceWork, boutMin, restMin, uses())
	}
	if o.Formula.Process.Cooks() {
		next(CookWork, cookMin, soon, uses(Heat)) // nobody leaves a pot that cooks
	}
	stirred := perPortion * len(plan.PortionsOf(o.Formula, o.Pot))
	for _, i := range o.sorted().hand {
		if o.stageOf(i.Key) != "" {
			stirred += perStir
		}
	}
	if stirred > 0 {
		next(FinishWork, pace.minutes(FinishWork, stirred), 0, uses())
	}
	if o.InOven() {
		b.Steps = append(b.Steps, timetable.Step{Name: WarmWork, Minutes: warmMin, After: []string{ReadyWork}})
	}
	next(PourWork, pace.minutes(PourWork, max(perMold, perMold*o.molds())), soon, uses())
	if pour := &b.Steps[len(b.Steps)-1]; o.InOven() {
		pour.Within[WarmWork] = warmStays
	}
	next(CleanWork, pace.minutes(CleanWork, cleanMin), beforeCover, []string{Hands})
}

// TraceMinutes is how long the batter usually takes to trace, by how fast its blend and what is in it work.
func (o Order) TraceMinutes() int {
	return min(mostTrace, max(leastTrace, int(math.Round(usualTrace*o.Formula.Judge().Time.Figure/100))))
}

// InHand is a step of no length in which a pot keeps what it has taken already.
const InHand = "in hand"

// WorkOf is the step of a day that a step of the run belongs to.
func WorkOf(s Step) string {
	switch {
	case s.Stage == Ready:
		return ReadyWork
	case s.Stage == LyeStage:
		return LyeWork
	case Melts(s):
		return MeltWork
	case s.Stage == FatStage:
		return FatsWork
	case s.Stage == AtHand:
		return HandWork
	case s.Key == TraceKey:
		return TraceWork
	case Cooks(s):
		return CookWork
	case s.Key == MeetKey || s.Kind == Warm || s.Kind == Milk:
		return MeetWork
	case s.Stage == Together:
		return FinishWork
	case s.Stage == IntoMold:
		return PourWork
	}
	return CleanWork
}

// PartOf is the part of the work that a step of a day belongs to: bouts and rests are of the trace.
func PartOf(name string) string {
	for _, of := range []string{boutWork, restOf} {
		if strings.HasPrefix(name, strings.TrimSuffix(of, "%d")) {
			return TraceWork
		}
	}
	return name
}

// Rest is what is left of the work of a pot that was begun, from a minute of the day on: what is done is gone, what was done
// in part is shorter, lye and fats are as warm as they were read or are foretold, and the jug, pot and blender that are
// taken stay taken.
func (o Order) Rest(name string, roomC float64, pots int, state State, meet Meeting, now int, pace Pace) timetable.Batch {
	whole := o.Work(name, roomC, pots, pace)
	all, left := map[string]int{}, map[string]int{}
	for _, s := range Steps(o) {
		if s.Gone {
			continue
		}
		all[WorkOf(s)]++
		if !state.Done[s.Key] && !(s.Kind == Weigh && state.closed(s.Item)) {
			left[WorkOf(s)]++
		}
	}
	done := func(work string) bool { return all[work] > 0 && left[work] == 0 }
	combined := done(MeetWork)
	gone := map[string]bool{}
	for i := range whole.Steps {
		s := &whole.Steps[i]
		switch s.Name {
		case LyeCools:
			gone[s.Name] = combined || done(LyeWork) && o.waited(s, meet, roomC, now)
		case FatsCool: // what is read of both pots is in the lye's wait
			gone[s.Name] = combined || done(FatsWork) && (all[MeltWork] == 0 || done(MeltWork))
		default:
			work := s.Name
			if s.Uses == nil || all[work] == 0 { // a bout or a rest
				work = TraceWork
			}
			gone[s.Name] = done(work)
			if n := all[s.Name]; n > 0 && left[s.Name] < n && s.Minutes > 0 {
				s.Minutes = max(1, s.Minutes*left[s.Name]/n)
			}
		}
	}
	return remaining(whole, gone, now)
}

// waited shortens the wait for lye that was mixed to what is foretold, and has it go on now; true when it is over.
func (o Order) waited(s *timetable.Step, meet Meeting, roomC float64, now int) bool {
	switch {
	case math.IsNaN(meet.LyeC):
	case meet.OK:
		s.Minutes = int(math.Ceil(meet.Minutes))
	default: // of the fats nothing is known yet
		jug := o.Jug(Pot{}, roomC)
		s.Minutes, _, _ = cools(meet.LyeC, roomC, lye.UsualTau(jug.Solution.Mass(), "open", false), meet.Low, meet.High)
	}
	s.At, s.Within = now, nil
	return s.Minutes <= 0
}

// TroubleWork is what comes before all else in a pot in which something went wrong.
const TroubleWork = "Trouble"

// troubleMin is how long hands are with a pot in trouble, at the least.
const troubleMin = 20

// Troubled puts the trouble of a pot before all else that is done with it, from a minute of the day on: hands are with it, and
// the other pots wait. With 0 it waits itself, where there are more pots in trouble than hands.
func Troubled(b timetable.Batch, now int) timetable.Batch {
	first := timetable.Step{Name: TroubleWork, Minutes: troubleMin, Uses: []string{Hands, Quiet}, At: now}
	out := timetable.Batch{Name: b.Name, Steps: []timetable.Step{first}}
	for _, s := range b.Steps {
		if s.At == 0 { // what goes on by itself goes on
			s.After = append(slices.Clone(s.After), TroubleWork)
		}
		out.Steps = append(out.Steps, s)
	}
	return out
}

// remaining leaves out of a batch what is done. What it has taken until a step that is still to come is kept from now on.
func remaining(whole timetable.Batch, gone map[string]bool, now int) timetable.Batch {
	out := timetable.Batch{Name: whole.Name}
	held := map[string]string{}
	for _, s := range whole.Steps {
		if !gone[s.Name] {
			continue
		}
		for what, until := range s.Keeps {
			if !gone[until] {
				held[what] = until
			}
		}
	}
	started := map[string]bool{} // what goes on by itself: nothing can hold it up, so that no pause after it is too long
	for _, s := range whole.Steps {
		started[s.Name] = s.At > 0
	}
	if len(held) > 0 {
		out.Steps = append(out.Steps, timetable.Step{Name: InHand, At: now, Keeps: held})
	}
	for _, s := range whole.Steps {
		if gone[s.Name] {
			continue
		}
		s.After = slices.DeleteFunc(slices.Clone(s.After), func(name string) bool { return gone[name] })
		s.Within = maps.Clone(s.Within)
		maps.DeleteFunc(s.Within, func(name string, _ int) bool {
			if started[name] && !gone[name] {
				s.After = append(s.After, name)
			}
			return gone[name] || started[name]
		})
		if len(held) > 0 && s.At == 0 {
			s.After = append(s.After, InHand)
		}
		out.Steps = append(out.Steps, s)
	}
	return out
}
