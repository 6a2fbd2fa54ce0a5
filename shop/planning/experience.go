package planning

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"ashshelf/soap/cure"
	"ashshelf/soap/learn"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/store"
)

// Experience is what the shop's own lots took and gave, the newest first.
type Experience struct {
	lots    []shown
	minutes *minutes
}

// minutes are how long parts of the work take, over what the table says, by recipe and part: a day asks for each of them
// often, and as long as no lot is finished they are the same.
type minutes struct {
	mu sync.Mutex
	of map[[2]string]minutesOf
}

// minutesOf is a figure of a recipe as it stood when it was asked for.
type minutesOf struct {
	formula recipe.Formula
	learn.Figure
}

// known remembers the newest experience, as long as the lots are the same that it is from.
type known struct {
	mu      sync.Mutex
	recipes []string
	heads   []lotHead
	of      Experience
}

// lotHead is a lot with the newest entry of its record.
type lotHead struct {
	oid   string
	entry int64
}

// shown is a lot with what it showed, over what the table says for it.
type shown struct {
	lot   *lot.Lot
	made  made
	dried learn.Seen
}

// made is what the making of a lot showed.
type made struct {
	entry   int64              // the newest of the lot, when this was read
	minutes map[string]float64 // by the part of the work
	potG    float64            // that went into the molds and stayed in the pot, 0 where not all was weighed
}

// How many lots are looked at: of a recipe, and of the shop for a hint.
const (
	mostOwn    = 15
	mostOthers = 30
)

// madeMemo remembers what the making of lots showed.
type madeMemo struct {
	mu sync.Mutex
	of map[string]made // by the identity of a lot
}

// mostMemo is how many lots are remembered, so that a shop of many years does not fill the memory.
const mostMemo = 2000

// cooled are the stages of lots whose making is over.
var cooled = []lot.Stage{lot.Unmolded, lot.Curing, lot.Ready, lot.Gone}

// Experience reads what lots of some recipes showed, and the newest of the others for a hint.
func (pl *Planner) Experience(ctx context.Context, recipes []string) (out Experience, err error) {
	list, err := pl.Lots(ctx, store.LotsWhere{Stages: cooled, Most: mostOthers})
	if err != nil {
		return out, err
	}
	have := map[string]bool{}
	for _, l := range list {
		have[l.OID] = true
	}
	for _, recipe := range recipes {
		own, err := pl.Lots(ctx, store.LotsWhere{Recipe: recipe, Stages: cooled, Most: mostOwn})
		if err != nil {
			return out, err
		}
		for _, l := range own {
			if !have[l.OID] {
				have[l.OID] = true
				list = append(list, l)
			}
		}
	}
	var heads []lotHead
	for _, l := range list {
		heads = append(heads, lotHead{l.OID, l.LastEntry})
	}
	pl.known.mu.Lock()
	defer pl.known.mu.Unlock()
	if pl.known.of.minutes != nil && slices.Equal(pl.known.recipes, recipes) && slices.Equal(pl.known.heads, heads) {
		return pl.known.of, nil
	}
	out.minutes = &minutes{of: map[[2]string]minutesOf{}}
	for _, l := range list {
		one := shown{lot: l}
		if one.made, err = pl.madeOf(ctx, l); err != nil {
			return out, err
		}
		if lost, ok := pl.LostOf(l); ok {
			if usual := cure.ExpectedLoss(l.Frozen.Formula); usual > 0 {
				one.dried = learn.Seen{Ratio: lost / usual}
			}
		}
		out.lots = append(out.lots, one)
	}
	pl.known.recipes, pl.known.heads, pl.known.of = recipes, heads, out
	return out, nil
}

// madeOf is what the making of a lot showed.
func (pl *Planner) madeOf(ctx context.Context, head *lot.Lot) (made, error) {
	pl.made.mu.Lock()
	have, known := pl.made.of[head.OID]
	pl.made.mu.Unlock()
	if known && have.entry == head.LastEntry {
		return have, nil
	}
	l, err := pl.Lot(ctx, head.OID)
	if err != nil {
		return made{}, err
	}
	out := made{entry: head.LastEntry, minutes: map[string]float64{}}
	table := map[string]float64{}
	for _, s := range l.Order().Work("", roomOf(l), 1, nil).Steps {
		if part := run.PartOf(s.Name); len(s.Uses) > 0 || part == run.TraceWork {
			table[part] += float64(s.Minutes)
		}
	}
	for part, minutes := range learn.Took(l) {
		if table[part] > 0 {
			out.minutes[part] = minutes / table[part]
		}
	}
	if len(l.Unweighed()) == 0 {
		for _, g := range l.Actual() {
			out.potG += g
		}
	}
	pl.made.mu.Lock()
	defer pl.made.mu.Unlock()
	if pl.made.of == nil || len(pl.made.of) > mostMemo {
		pl.made.of = map[string]made{}
	}
	pl.made.of[head.OID] = out
	return out, nil
}

// roomOf is how warm it was where a lot was made, or as warm as rooms are.
func roomOf(l *lot.Lot) float64 {
	if c := l.Warmth("room"); c != nil {
		return *c
	}
	return 20
}

// About is the recipe that a figure is asked for.
type About struct {
	Recipe  string
	Formula recipe.Formula
}

// foretell is a figure of a kind, by what each lot showed of it.
func (e Experience) foretell(a About, k learn.Kind, table float64, of func(shown) (learn.Seen, bool)) learn.Figure {
	var seen []learn.Seen
	for _, l := range e.lots {
		s, ok := of(l)
		if !ok {
			continue
		}
		s.Recipe = l.lot.Recipe
		switch f := l.lot.Frozen.Formula; {
		case l.lot.Recipe == a.Recipe:
			s.Near = learn.Own
		case learn.SameBase(a.Formula, f) || learn.SameScent(a.Formula, f):
			s.Near = learn.Alike
		}
		seen = append(seen, s)
	}
	return learn.Foretell(k, table, seen)
}

// firmSeen reports whether that a loaf is firm sooner or later than the table has it was seen of own lots, and does not only
// follow from that none was soft.
func (e Experience) firmSeen(a About, f learn.Figure) bool {
	early, soft := e.looks(a)
	if f.Ratio() < 1 {
		return f.Own >= leastFirm && early >= leastFirm
	}
	return f.Own >= leastFirm && soft > 0
}

// Minutes is how long a part of the work takes.
func (e Experience) Minutes(a About, part string, table float64) learn.Figure {
	key := [2]string{a.Recipe, part}
	e.minutes.mu.Lock()
	defer e.minutes.mu.Unlock()
	f, known := e.minutes.of[key]
	if !known || !learn.Same(f.formula, a.Formula) {
		f.formula, f.Figure = a.Formula, e.foretell(a, learn.Minutes, 1, func(l shown) (learn.Seen, bool) {
			ratio, ok := l.made.minutes[part]
			return learn.Seen{Ratio: ratio}, ok
		})
		e.minutes.of[key] = f
	}
	return f.Of(table)
}

// Trace is how long the batter takes to trace.
func (e Experience) Trace(a About) learn.Figure {
	return e.Minutes(a, run.TraceWork, float64(run.Order{Formula: a.Formula}.TraceMinutes()))
}

// Firm is after how many hours a loaf is firm, where the table has a window for it.
func (e Experience) Firm(a About, w cure.Window) learn.Figure {
	return e.foretell(a, learn.Firm, learn.HoursToFirm(w.Opens, w.Best), func(l shown) (learn.Seen, bool) {
		return learn.Firmness(l.lot)
	})
}

// Comes is what share of the pot comes to the cut; potLoss is what the plan leaves in the pot, in percent.
func (e Experience) Comes(a About, potLoss float64) learn.Figure {
	return e.foretell(a, learn.Comes, 1-potLoss/100, func(l shown) (learn.Seen, bool) {
		return learn.Came(l.lot, l.made.potG)
	})
}

// Good is what share of the planned bars is good.
func (e Experience) Good(a About) learn.Figure {
	return e.foretell(a, learn.Good, 1, func(l shown) (learn.Seen, bool) { return learn.Counted(l.lot) }).AtMost(1)
}

// Dries is what share of a bar dries away in a year.
func (e Experience) Dries(a About) learn.Figure {
	return e.foretell(a, learn.Dries, cure.ExpectedLoss(a.Formula)/100, func(l shown) (learn.Seen, bool) {
		return l.dried, l.dried.Ratio > 0
	})
}

// pace is how long the parts of the work of a recipe take; what is asked for is kept in from by its part, where lots say
// something.
func (e Experience) pace(a About, from map[string]learn.Figure) run.Pace {
	return func(part string, table float64) float64 {
		f := e.Minutes(a, part, table)
		if f.Lots() > 0 {
			from[part] = f
		}
		return f.Mid
	}
}

// Told is a figure as a page shows it.
type Told struct {
	What string
	learn.Figure
	Faint bool // it was only seen where the table would have it, too
}

// Telling is [learn.Figure.Telling] of what was seen by itself.
func (t Told) Telling() bool { return !t.Faint && t.Figure.Telling() }

// Foretold is all that the shop's own lots say of a recipe in the molds of a plan; what they say nothing of is left out.
func (e Experience) Foretold(a About, w cure.Window, potLoss float64) (out []Told) {
	add := func(what string, f learn.Figure) {
		if f.Lots() > 0 && f.Table > 0 {
			out = append(out, Told{What: what, Figure: f})
		}
	}
	add("To trace", e.Trace(a))
	if !w.None() {
		f := e.Firm(a, w)
		if add("Until it is firm", f); f.Lots() > 0 {
			out[len(out)-1].Faint = !e.firmSeen(a, f)
		}
	}
	if !a.Formula.Process.Cooks() {
		add("Of the pot at the cut", e.Comes(a, potLoss))
	}
	add("Good bars of those planned", e.Good(a))
	add("Dries away in a year", e.Dries(a))
	return out
}

// leastFirm is how many own lots bring a window forward: that they were firm before the table has them firm was seen. A loaf that
// is firm when one usually looks may have been soft an hour before.
const leastFirm = 3

// looks are how many own lots were seen firm before the table has them firm, and how many came out soft.
func (e Experience) looks(a About) (early, soft int) {
	for _, l := range e.lots {
		if s, ok := learn.Firmness(l.lot); ok && l.lot.Recipe == a.Recipe {
			switch {
			case s.Over > 0:
				soft++
			case s.Under < 1:
				early++
			}
		}
	}
	return early, soft
}

// Window is the window of a soap as the shop's own lots found it, with why where that is another than the table's; a window
// of the recipe's own, and that of cooked soap, stay.
func (e Experience) Window(a About, table cure.Window) cure.Window {
	if table.None() || a.Formula.Process.Closes > 0 || a.Formula.Process.Cooks() {
		return table
	}
	f := e.Firm(a, table)
	if !f.Telling() || !e.firmSeen(a, f) {
		return table
	}
	how := map[bool]string{true: "sooner", false: "later"}[f.Ratio() < 1]
	return table.Learned(f.Ratio(), fmt.Sprintf("%s by your own lots: firm after %s h, %s, from %s; the table says %s", how, f.Says(f.Mid),
		f.Range(), f.From(), f.Says(f.Table)))
}

// Said is all that the shop's own lots say of a recipe.
type Said struct {
	Figures []Told
	Table   cure.Window // of its loaves, as the table has it
	Window  cure.Window // as the next lot will have it
}

// OwnLots is all that the shop's own lots say of a recipe as it stands in some molds.
func (pl *Planner) OwnLots(ctx context.Context, a About, molds []lot.Mold, potLoss float64) (out Said, err error) {
	e, err := pl.Experience(ctx, []string{a.Recipe})
	if err != nil {
		return out, err
	}
	form, material := lot.FormIn(a.Formula, molds)
	out.Table = cure.Unmold(a.Formula, form, material)
	out.Window = e.Window(a, out.Table)
	firm := out.Table
	if !form.Cut() || a.Formula.Process.Closes > 0 || a.Formula.Process.Cooks() {
		firm = cure.Window{}
	}
	out.Figures = e.Foretold(a, firm, potLoss)
	return out, nil
}
