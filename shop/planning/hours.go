package planning

import (
	"context"
	"fmt"
	"slices"

	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/learn"
	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
)

// Bench is who and what is there on a day, and for how long. Times are minutes after midnight.
type Bench struct {
	Start, End int
	Has        map[string]int // by the names of [run]
}

// Usual hours of a day at the bench.
const (
	usualStart = 9 * 60
	usualEnd   = 17 * 60
)

// BenchHas are the things that can be few on a day, in the order in which a page asks for them.
func BenchHas() []string {
	return []string{run.Hands, run.JugAway, run.PotAway, run.Scale, run.Blender, run.Heat}
}

// UsualBench is one pair of hands with the jugs and pots that the shop has written down, and one of all else.
func (pl *Planner) UsualBench(ctx context.Context) (Bench, error) {
	b := Bench{Start: usualStart, End: usualEnd, Has: map[string]int{}}
	tools, err := pl.Tools(ctx)
	if err != nil {
		return b, err
	}
	for _, t := range tools {
		if t.Retired {
			continue
		}
		switch t.Kind {
		case document.Jug:
			b.Has[run.JugAway]++
		case document.Pot:
			b.Has[run.PotAway]++
		}
	}
	for _, name := range BenchHas() {
		b.Has[name] = max(1, b.Has[name])
	}
	return b, nil
}

// Check finds what cannot be a bench.
func (b Bench) Check() (p caution.Problems) {
	for _, name := range BenchHas() {
		if n := b.Has[name]; n < 0 || n > 20 {
			p.Add(name, "say how many there are, 0 to 20")
		}
	}
	if b.End <= b.Start {
		p.Add("end", "the day has to end after it begins")
	}
	return p
}

// Hours is the day as a timetable: each pot that is still to be started is a batch, in the turns of its plans. begun is how
// many pots are being made besides.
func (d Day) Hours(b Bench, roomC float64, e Experience, begun int) (timetable.Day, Learned) {
	out := timetable.Day{Start: b.Start, End: b.End, Resources: map[string]int{}}
	for name, n := range b.Has {
		out.Resources[name] = n
	}
	pots := begun
	for _, p := range d.Plans {
		pots += p.Pots()
	}
	out.Resources[run.Quiet] = max(1, pots)
	names, learned := map[string]bool{}, Learned{}
	for _, p := range d.Plans {
		o := run.Order{Request: p.Request, Formula: p.Request.Formula, Sheet: p.Sheet, Pot: p.PlanBody.Plan}
		batches := max(1, p.PlanBody.Plan.Batches)
		for _, m := range p.Molds {
			each := (m.Count + batches - 1) / batches
			o.Molds = append(o.Molds, run.Vessel{Name: m.Name, Material: m.Material, Count: each, Mold: m.Mold, Cut: m.Cut})
		}
		for range p.Pots() {
			name := p.PlanBody.Recipe
			for n := 2; names[name]; n++ {
				name = fmt.Sprintf("%s, pot %d", p.PlanBody.Recipe, n)
			}
			names[name] = true
			learned[name] = map[string]learn.Figure{}
			about := About{p.Plan.Recipe, p.Request.Formula}
			out.Batches = append(out.Batches, o.Work(name, roomC, pots, e.pace(about, learned[name])))
		}
	}
	return out, learned
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

// Conducted is what is left of a day: pots that were begun, each from where it stands, and those that are still to come.
type Conducted struct {
	Day  timetable.Day
	Plan timetable.Plan
	Lots map[string]string // identities of lots, by the names of their batches
	From Learned
}

// Next are the next things that somebody does with her hands, the first of them first; they are the same for everybody.
func (c Conducted) Next() (out []timetable.Placed) {
	hands := map[[2]string]bool{}
	for _, b := range c.Day.Batches {
		for _, s := range b.Steps {
			hands[[2]string{b.Name, s.Name}] = slices.Contains(s.Uses, run.Hands)
		}
	}
	for _, s := range c.Plan.Steps {
		if hands[[2]string{s.Batch, s.Name}] {
			out = append(out, s)
		}
	}
	return out
}

// Conduct lays what is left of today anew: the pots on the bench as they stand, and those of today's plans that were not
// begun. A bench that is past its hours goes on until midnight.
func (pl *Planner) Conduct(ctx context.Context, b Bench) (c Conducted, err error) {
	settings, err := pl.Settings(ctx)
	if err != nil {
		return c, err
	}
	now := pl.Now(settings.Location)
	lots, err := pl.BeingMade(ctx)
	if err != nil {
		return c, err
	}
	d, err := pl.Day(ctx, now.Format(dayFormat))
	if err != nil {
		return c, err
	}
	minute := min(now.Hour()*60+now.Minute(), timetable.Minutes-1)
	b.Start = max(1, minute)
	if b.End <= b.Start+60 {
		b.End = timetable.Minutes
	}
	recipes := d.Recipes()
	for _, l := range lots {
		recipes = append(recipes, l.Recipe)
	}
	e, err := pl.Experience(ctx, recipes)
	if err != nil {
		return c, err
	}
	c.Day, c.From = d.Hours(b, settings.RoomC, e, len(lots))
	c.Lots = map[string]string{}
	pots := c.Day.Resources[run.Quiet]
	var begun []timetable.Batch
	troubled := 0
	for _, l := range lots {
		name := l.Code + ", " + l.Frozen.Recipe
		from := map[string]learn.Figure{}
		pace := e.pace(About{l.Recipe, l.Frozen.Formula}, from)
		rest := l.Order().Rest(name, settings.RoomC, pots, l.State(), l.WhenToCombine(settings.RoomC, now), b.Start, pace)
		if len(rest.Steps) == 0 {
			continue
		}
		c.From[name] = from
		if slices.ContainsFunc(l.Incidents, func(i lot.Incident) bool { return i.Outcome == "" }) {
			at := b.Start
			if troubled++; troubled > b.Has[run.Hands] {
				at = 0
			}
			rest = run.Troubled(rest, at)
		}
		begun = append(begun, rest)
		c.Lots[name] = l.OID
		for _, s := range rest.Steps { // a shop may be using more than it has written down
			if s.Name == run.InHand {
				for what := range s.Keeps {
					c.Day.Resources[what] = max(c.Day.Resources[what], taken(begun, what))
				}
			}
		}
	}
	c.Day.Batches, c.Day.Hurry = append(begun, c.Day.Batches...), true
	c.Plan = timetable.Lay(c.Day)
	return c, nil
}

// taken is how many of something are in hand.
func taken(begun []timetable.Batch, what string) (n int) {
	for _, b := range begun {
		for _, s := range b.Steps {
			if _, has := s.Keeps[what]; has && s.Name == run.InHand {
				n++
			}
		}
	}
	return n
}
