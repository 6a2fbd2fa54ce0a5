package planning

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"ashshelf/soap/learn"
	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
)

// Hours is a day at the bench as a timetable: each pot is a batch. Those that were begun stand first, each from where it
// stands, then those of the day's plans in their turns.
type Hours struct {
	Day     timetable.Day
	Plan    timetable.Plan
	Date    string
	Today   bool               // it is what is left of today
	Lots    map[string]string  // identities of the lots that were begun, by the names of their batches
	Plans   map[string]string  // and of the plans of the others
	From    Learned            // what minutes are from
	Refused []timetable.Late   // pots that have no mold or no place in the oven
	Pours   map[string]string  // what a pour waits for or what is to be emptied for it, by batch
	Untold  []string           // molds of which nobody said how many there are
	NotLast []string           // pots that hurry, and are not last: the day has no room for that
	Gone    []run.Moved        // steps that were put at a time, and are none of the day any more, or at no time of it
	Broken  []timetable.Broken // by what was moved, had all else stayed
	Free    timetable.Plan     // as it would be with nothing moved
}

// Learned is what the minutes of steps are from, where the shop's own lots say something: by batch and part of the work.
type Learned map[string]map[string]learn.Figure

// Recipes are the recipes of the day's plans.
func (d Day) Recipes() (out []string) {
	for _, p := range d.Plans {
		if !slices.Contains(out, p.Plan.Recipe) {
			out = append(out, p.Plan.Recipe)
		}
	}
	return out
}

// Pots are those that were not started yet.
func (p Plan) Pots() int { return max(0, p.PlanBody.Plan.Batches-len(p.Lots)) }

// Order is one pot of a plan as a run, in its molds.
func (p Plan) Order(pot int) run.Order {
	o := run.Order{Request: p.Request, Formula: p.Request.Formula, Sheet: p.Sheet, Pot: p.PlanBody.Plan.Pot()}
	for _, m := range p.MoldsOf(pot) {
		o.Molds = append(o.Molds, run.Vessel{Name: m.Name, Material: m.Material, Count: m.Count, Mold: m.Mold, Cut: m.Cut})
	}
	return o
}

// toLay is what a day is laid from.
type toLay struct {
	*Hours
	bench   run.Bench
	roomC   float64
	own     Experience
	stand   *stand
	pots    int             // of the day, those that were begun among them
	hurries map[string]bool // by batch
}

// Hours lays a day with a bench. Today it begins now, with the pots on the bench as they stand; a bench that is past its hours
// goes on until midnight.
func (pl *Planner) Hours(ctx context.Context, date string, b run.Bench) (h Hours, err error) {
	settings, err := pl.Settings(ctx)
	if err != nil {
		return h, err
	}
	d, err := pl.Day(ctx, date)
	if err != nil {
		return h, err
	}
	now := pl.Now(settings.Location)
	h = Hours{Date: date, Today: date == now.Format(dayFormat), Lots: map[string]string{}, Plans: map[string]string{}, From: Learned{},
		Pours: map[string]string{}}
	var begun []*lot.Lot
	if h.Today {
		if begun, err = pl.BeingMade(ctx); err != nil {
			return h, err
		}
		minute := min(now.Hour()*60+now.Minute(), timetable.Minutes-1)
		b.Start = max(1, minute)
		if b.End <= b.Start+60 {
			b.End = timetable.Minutes
		}
	}
	recipes := d.Recipes()
	for _, l := range begun {
		recipes = append(recipes, l.Recipe)
	}
	t := toLay{Hours: &h, bench: b, roomC: settings.RoomC, pots: len(begun), hurries: map[string]bool{}}
	if t.own, err = pl.Experience(ctx, recipes); err != nil {
		return h, err
	}
	day, err := time.ParseInLocation(dayFormat, date, settings.Location)
	if err != nil {
		return h, fmt.Errorf("the hours of %s: %w", date, err)
	}
	if t.stand, err = pl.standOn(ctx, day, b); err != nil {
		return h, err
	}
	h.Day = timetable.Day{Start: b.Start, End: b.End, Resources: map[string]int{}, Hurry: h.Today}
	for _, r := range b.Has {
		h.Day.Resources[r.Name] = r.Count
	}
	for _, p := range d.Plans {
		t.pots += p.Pots()
	}
	h.Day.Resources[run.Quiet] = max(1, t.pots)
	for _, l := range begun {
		t.begun(l, now)
	}
	for _, p := range d.Plans {
		t.planned(p)
	}
	h.Untold = t.stand.untold
	t.lay()
	return h, nil
}

// begun puts what is left of a pot in, from where it stands. Its jug, pot and molds are taken already: a shop may be using more
// than it has written down.
func (t toLay) begun(l *lot.Lot, now time.Time) {
	name := l.Code + ", " + l.Frozen.Recipe
	o, from := l.Order(), map[string]learn.Figure{}
	start := t.Day.Start
	pace := t.own.pace(About{l.Recipe, l.Frozen.Formula}, from)
	rest := o.Rest(name, t.roomC, t.pots, l.State(), l.WhenToCombine(t.roomC, now), start, pace)
	t.stand.take(l.Frozen.Molds, o.InOven())
	if len(rest.Steps) == 0 {
		return
	}
	t.From[name], t.Lots[name] = from, l.OID
	if slices.ContainsFunc(l.Incidents, func(i lot.Incident) bool { return i.Outcome == "" }) {
		at := start
		if t.troubled() >= t.bench.Count(run.Hands) {
			at = 0
		}
		rest = run.Troubled(rest, at)
	}
	t.Day.Batches = append(t.Day.Batches, rest)
	for _, s := range rest.Steps {
		if s.Name == run.InHand {
			for what := range s.Keeps {
				t.Day.Resources[what] = max(t.Day.Resources[what], t.taken(what))
			}
		}
	}
}

// troubled is how many pots are in trouble.
func (t toLay) troubled() (n int) {
	for _, b := range t.Day.Batches {
		if b.Steps[0].Name == run.TroubleWork {
			n++
		}
	}
	return n
}

// taken is how many of something are in hand.
func (t toLay) taken(what string) (n int) {
	for _, b := range t.Day.Batches {
		for _, s := range b.Steps {
			if _, has := s.Keeps[what]; has && s.Name == run.InHand {
				n++
			}
		}
	}
	return n
}

// planned puts the pots of a plan in that were not started.
func (t toLay) planned(p Plan) {
	for n := range p.Pots() {
		pot := len(p.Lots) + n
		o := p.Order(pot)
		name := t.unused(p.PlanBody.Recipe)
		from, why, refused := t.stand.pour(fresh(p, pot), o.InOven(), t.Day.End)
		t.Plans[name] = p.OID
		if refused != "" {
			t.Refused = append(t.Refused, timetable.Late{Batch: name, Why: refused})
			continue
		}
		t.From[name] = map[string]learn.Figure{}
		b := o.Work(name, t.roomC, t.pots, t.own.pace(About{p.Plan.Recipe, p.Request.Formula}, t.From[name]))
		if why != "" {
			t.Pours[name] = why
		}
		for i, s := range b.Steps {
			if s.Name == run.PourWork && from > t.Day.Start {
				b.Steps[i].From = from
			}
		}
		_, t.hurries[name] = o.Formula.RiskyScent()
		t.Day.Batches = append(t.Day.Batches, b)
	}
}

// unused is a name for a pot of a recipe that no other pot of the day has.
func (t toLay) unused(recipe string) string {
	name := recipe
	for n := 2; t.Plans[name] != ""; n++ {
		name = fmt.Sprintf("%s, pot %d", recipe, n)
	}
	return name
}

// lay lays the day: what hurries last, where the day has room for that; and what was moved where it was put.
func (t toLay) lay() {
	apart := t.Day
	last := apart
	var calm int
	if last.Batches, calm = run.HurriesLast(apart.Batches, t.hurries, apart.Start); calm > 0 {
		last.Resources = maps.Clone(apart.Resources)
		last.Resources[run.Calm] = calm
		t.Day = last
	}
	t.Free = timetable.Lay(t.Day)
	if calm > 0 && len(t.Free.Late) > 0 {
		if free := timetable.Lay(apart); len(free.Late) < len(t.Free.Late) {
			for name := range t.hurries {
				if t.hurries[name] {
					t.NotLast = append(t.NotLast, name)
				}
			}
			slices.Sort(t.NotLast)
			t.Day, t.Free = apart, free
		}
	}
	t.move()
}

// move puts steps at the times that somebody wants them at, and lays the rest anew.
func (t toLay) move() {
	t.Plan = t.Free
	asIf, moved := slices.Clone(t.Free.Steps), false
	for _, m := range t.bench.Moved {
		s := stepOf(t.Day, m)
		if s == nil || m.At < max(1, t.Day.Start) || m.At >= t.Day.End {
			t.Gone = append(t.Gone, m)
			continue
		}
		s.At, moved = m.At, true
		for i, one := range asIf {
			if one.Batch == m.Batch && one.Name == m.Step {
				asIf[i].From, asIf[i].To = m.At, m.At+one.To-one.From
			}
		}
	}
	if moved {
		t.Broken = timetable.Judge(t.Day, asIf)
		t.Plan = timetable.Lay(t.Day)
	}
}

// stepOf is the step that was moved; nil when the day has none like it.
func stepOf(day timetable.Day, m run.Moved) *timetable.Step {
	for _, b := range day.Batches {
		for j := range b.Steps {
			if b.Name == m.Batch && b.Steps[j].Name == m.Step {
				return &b.Steps[j]
			}
		}
	}
	return nil
}

// Next are the next things that somebody does with her hands, the first of them first; they are the same for everybody.
func (h Hours) Next() (out []timetable.Placed) {
	hands := map[[2]string]bool{}
	for _, b := range h.Day.Batches {
		for _, s := range b.Steps {
			hands[[2]string{b.Name, s.Name}] = slices.Contains(s.Uses, run.Hands)
		}
	}
	for _, s := range h.Plan.Steps {
		if hands[[2]string{s.Batch, s.Name}] {
			out = append(out, s)
		}
	}
	return out
}

// stillWarm is how long an oven that was warmed for a loaf may be warm enough for the next, in minutes.
const stillWarm = 120

// WarmFrom is the pot for which the oven was warmed before, if it may still be warm from that when a step warms it; empty
// where there is none. So that it is warmed once for two loaves.
func (h Hours) WarmFrom(warm timetable.Placed) string {
	for _, s := range h.Plan.Steps { // by their time
		switch {
		case s.Batch == warm.Batch && s.Name == warm.Name:
			return ""
		case s.Name == run.WarmWork && warm.From-s.To <= stillWarm:
			return s.Batch
		}
	}
	return ""
}

// Late are the pots that are not made on the day, and why.
func (h Hours) Late() []timetable.Late { return append(slices.Clone(h.Refused), h.Plan.Late...) }

// Conduct lays what is left of today anew, with the bench as it was kept.
func (pl *Planner) Conduct(ctx context.Context) (h Hours, err error) {
	settings, err := pl.Settings(ctx)
	if err != nil {
		return h, err
	}
	today := pl.Now(settings.Location).Format(dayFormat)
	b, _, err := pl.Bench(ctx, today)
	if err != nil {
		return h, err
	}
	return pl.Hours(ctx, today, b)
}
