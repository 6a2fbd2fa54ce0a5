package demand

import (
	"cmp"
	"slices"
	"sort"
)

// dated is a number of bars on a day, counted from today.
type dated struct{ day, bars int }

// need is a recipe with what is wanted of it and what there is, by day.
type need struct {
	name        string
	bars        int // of a pot
	mold, cure  int
	prompt      bool
	form        string // the mold it is poured into, empty where there is no limit of it
	forms       int    // how many of it a pot takes
	wants, have []dated
	latest      []int // the latest day of each pot that is needed, in order; a day of work
}

// work is a request in numbers.
type work struct {
	q       Request
	recipes []need
	cap     int // pots of a day, 0 for any
	rack    int // bars that cure at once, 0 for any
	molds   map[string]int
	busy    []int // bars on hand that cure, by day
	last    int   // the last day on which a pot is of use
}

// pour is one pot on a day.
type pour struct{ day, recipe int }

// solution is pots, by day and recipe.
type solution struct {
	pours []pour
	short int // bars that are not had
	late  int // the sum of the days
}

// better is fewer bars short, then fewer pots, then later.
func (s solution) better(o solution) bool {
	return cmp.Or(cmp.Compare(s.short, o.short), cmp.Compare(len(s.pours), len(o.pours)), cmp.Compare(o.late, s.late)) < 0
}

func newWork(q Request) *work {
	w := &work{q: q, cap: q.PotsPerDay, rack: q.RackBars, molds: q.Molds, last: -1}
	at := map[string]int{}
	for i, r := range q.Recipes {
		at[r.Name] = i
		one := need{name: r.Name, bars: r.Bars, mold: r.MoldDays, cure: r.CureDays, prompt: r.Prompt}
		if _, limited := q.Molds[r.Mold]; limited {
			one.form, one.forms = r.Mold, r.Molds
		}
		w.recipes = append(w.recipes, one)
	}
	for _, one := range q.Wanted {
		r := &w.recipes[at[one.Recipe]]
		r.wants = append(r.wants, dated{days(q.Today, one.On), one.Bars})
	}
	for _, one := range q.OnHand {
		r := &w.recipes[at[one.Recipe]]
		ready := days(q.Today, one.Ready)
		r.have = append(r.have, dated{ready, one.Bars})
		for d := range max(0, ready) {
			for len(w.busy) <= d {
				w.busy = append(w.busy, 0)
			}
			w.busy[d] += one.Bars
		}
	}
	for i := range w.recipes {
		r := &w.recipes[i]
		r.wants, r.have = byDay(r.wants), byDay(r.have)
		w.count(r)
		if n := len(r.wants); n > 0 {
			w.last = max(w.last, w.workday(r, r.wants[n-1].day-q.Margin-r.mold-r.cure))
		}
	}
	return w
}

// byDay adds up what is of one day, in order.
func byDay(list []dated) (out []dated) {
	slices.SortFunc(list, func(a, b dated) int { return a.day - b.day })
	for _, one := range list {
		if n := len(out); n > 0 && out[n-1].day == one.day {
			out[n-1].bars += one.bars
			continue
		}
		out = append(out, one)
	}
	return out
}

// count finds how many pots a recipe needs, and the latest day of each: as many as what is wanted up to a day is more
// than what there is by then. Pots that would be too late already are left out.
func (w *work) count(r *need) {
	wanted, had, h, pots := 0, 0, 0, 0
	for _, one := range r.wants {
		for ; h < len(r.have) && r.have[h].day <= one.day; h++ {
			had += r.have[h].bars
		}
		wanted += one.bars
		day := w.workday(r, one.day-w.q.Margin-r.mold-r.cure)
		if day < 0 { // it is too late for this one: what is short stays short, and is not made up for later
			if lost := wanted - had - pots*r.bars; lost > 0 {
				wanted -= lost
			}
			continue
		}
		for wanted > had+pots*r.bars {
			pots++
			r.latest = append(r.latest, day)
		}
	}
}

// workday is the day, or the last one before it on which a recipe can be poured; below zero for none since today.
func (w *work) workday(r *need, day int) int {
	for day >= 0 && w.shut(r, day) {
		day--
	}
	return max(day, -1)
}

// shut reports whether nobody works on a day, or on the day of a cut that cannot wait.
func (w *work) shut(r *need, day int) bool { return w.off(day) || r.prompt && w.off(day+r.mold) }

func (w *work) off(day int) bool {
	return slices.Contains(w.q.DaysOff, w.q.Today.AddDate(0, 0, day).Weekday())
}

// unmetOf is what of each want of a recipe is not had: bars go to the earliest want that they are ready for.
func (w *work) unmetOf(r int, pours []pour) []int {
	one := &w.recipes[r]
	supply := slices.Clone(one.have)
	for _, p := range pours {
		if p.recipe == r {
			supply = append(supply, dated{p.day + one.mold + one.cure + w.q.Margin, one.bars})
		}
	}
	slices.SortStableFunc(supply, func(a, b dated) int { return a.day - b.day })
	out := make([]int, len(one.wants))
	free, s := 0, 0
	for i, want := range one.wants {
		for ; s < len(supply) && supply[s].day <= want.day; s++ {
			free += supply[s].bars
		}
		got := min(free, want.bars)
		free -= got
		out[i] = want.bars - got
	}
	return out
}

func (w *work) unmet(pours []pour) (out [][]int) {
	for r := range w.recipes {
		out = append(out, w.unmetOf(r, pours))
	}
	return out
}

// valued is a set of pours with what it is worth.
func (w *work) valued(pours []pour) solution {
	s := solution{pours: slices.Clone(pours)}
	slices.SortFunc(s.pours, func(a, b pour) int { return cmp.Or(a.day-b.day, a.recipe-b.recipe) })
	for r := range w.recipes {
		s.short += w.shortOf(r, s.pours)
	}
	for _, p := range s.pours {
		s.late += p.day
	}
	return s
}

// placed is every pot that is needed on its latest day, whatever else there is.
func (w *work) placed() (out []pour) {
	for r, one := range w.recipes {
		for _, day := range one.latest {
			out = append(out, pour{day, r})
		}
	}
	return out
}

// floor is how many pots there are on each day and how many bars cure, as pours are laid on it.
type floor struct {
	w     *work
	pots  []int
	bars  []int
	forms map[string][]int // molds that are full, by day
}

func (w *work) floor() *floor {
	f := &floor{w, make([]int, w.last+1), slices.Clone(w.busy), map[string][]int{}}
	for _, day := range w.q.Booked {
		if d := days(w.q.Today, day); d >= 0 && d <= w.last {
			f.pots[d]++
		}
	}
	for form := range w.molds {
		f.forms[form] = make([]int, w.last+mostMoldDays+1)
	}
	return f
}

// takes reports whether one more pot of a recipe can be poured on a day.
func (f *floor) takes(p pour) bool {
	r := &f.w.recipes[p.recipe]
	if p.day < 0 || p.day > f.w.last || f.w.shut(r, p.day) || f.w.cap > 0 && f.pots[p.day] >= f.w.cap {
		return false
	}
	if f.w.molds != nil && r.form != "" {
		for d := p.day; d <= p.day+r.mold; d++ { // it is free again on the day after the cut
			if f.forms[r.form][d]+r.forms > f.w.molds[r.form] {
				return false
			}
		}
	}
	if f.w.rack == 0 {
		return true
	}
	for d := p.day + r.mold; d < p.day+r.mold+r.cure; d++ {
		have := 0
		if d < len(f.bars) {
			have = f.bars[d]
		}
		if have+r.bars > f.w.rack {
			return false
		}
	}
	return true
}

// lay puts a pot down, lift takes it away again.
func (f *floor) lay(p pour)  { f.change(p, 1) }
func (f *floor) lift(p pour) { f.change(p, -1) }

func (f *floor) change(p pour, by int) {
	f.pots[p.day] += by
	r := &f.w.recipes[p.recipe]
	if f.w.molds != nil && r.form != "" {
		for d := p.day; d <= p.day+r.mold; d++ {
			f.forms[r.form][d] += by * r.forms
		}
	}
	for d := p.day + r.mold; d < p.day+r.mold+r.cure; d++ {
		for len(f.bars) <= d {
			f.bars = append(f.bars, 0)
		}
		f.bars[d] += by * r.bars
	}
}

// solve finds the best pours: greedily, in several orders, made better as long as that helps; and where there are few
// enough ways, by trying all that could be better still.
func (w *work) solve() solution {
	best := w.improved(w.greedy(nil))
	if best.short == 0 && w.rack == 0 && len(w.molds) == 0 || len(w.placed()) == 0 {
		return best // pots on their latest free days: nothing is better
	}
	for _, order := range w.orders() {
		if s := w.improved(w.greedy(order)); s.better(best) {
			best = s
		}
	}
	return w.improved(w.tried(best)) // a search that was broken off may end at what can still be made better
}

// orders are ways to give recipes their turn: the larger pots first, the smaller ones, the longer and the shorter ones.
func (w *work) orders() (out [][]int) {
	for _, by := range []func(a, b need) int{
		func(a, b need) int { return b.bars - a.bars }, func(a, b need) int { return a.bars - b.bars },
		func(a, b need) int { return b.cure - a.cure }, func(a, b need) int { return a.cure - b.cure },
	} {
		order := make([]int, len(w.recipes))
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, func(a, b int) int { return by(w.recipes[a], w.recipes[b]) })
		out = append(out, order)
	}
	return out
}

// greedy lays each pot on the latest day that takes it: those that may be latest first, or recipe by recipe in an order.
func (w *work) greedy(order []int) solution {
	pots := w.placed()
	if order == nil {
		slices.SortStableFunc(pots, func(a, b pour) int { return b.day - a.day })
	} else {
		slices.SortStableFunc(pots, func(a, b pour) int {
			return cmp.Or(slices.Index(order, a.recipe)-slices.Index(order, b.recipe), b.day-a.day)
		})
	}
	f := w.floor()
	var out, without []pour
	for _, p := range pots {
		for ; p.day >= 0; p.day-- {
			if f.takes(p) {
				f.lay(p)
				out = append(out, p)
				break
			}
		}
		if p.day < 0 {
			without = append(without, p)
		}
	}
	for _, p := range without { // too late for what they were for, they may still be in time for something
		short := w.shortOf(p.recipe, out)
		for p.day = w.last; p.day >= 0; p.day-- {
			if f.takes(p) && w.shortOf(p.recipe, append(slices.Clone(out), p)) < short {
				f.lay(p)
				out = append(out, p)
				break
			}
		}
	}
	return w.valued(out)
}

// improved drops pots that nobody needs, and moves each as late as it may go without leaving more short.
func (w *work) improved(s solution) solution {
	f := w.floor()
	for _, p := range s.pours {
		f.lay(p)
	}
	pours := slices.Clone(s.pours)
	for changed := true; changed; {
		changed = false
		for i := 0; i < len(pours); i++ {
			p := pours[i]
			short := w.shortOf(p.recipe, pours)
			f.lift(p)
			rest := slices.Delete(slices.Clone(pours), i, i+1)
			if w.shortOf(p.recipe, rest) <= short {
				pours, changed = rest, true
				i--
				continue
			}
			// What is too late for a day is too late for all days after it.
			harmless := func(day int) bool {
				pours[i].day = day
				return w.shortOf(p.recipe, pours) <= short
			}
			late := p.day + sort.Search(w.last-p.day, func(n int) bool { return !harmless(p.day + 1 + n) })
			for pours[i].day = late; pours[i].day > p.day && !f.takes(pours[i]); {
				pours[i].day--
			}
			f.lay(pours[i])
			changed = changed || pours[i].day > p.day
		}
	}
	return w.valued(pours)
}

// shortOf is how many bars of a recipe are not had.
func (w *work) shortOf(r int, pours []pour) (n int) {
	for _, bars := range w.unmetOf(r, pours) {
		n += bars
	}
	return n
}

// mostWork is how much is tried before the best so far is taken: ways that are looked at, times the pots and wants that
// each is counted over. Small cases are searched to the end; a shop's year takes some tenths of a second at the most.
const mostWork = 1_000_000

// tried looks at all ways that could be better than the best so far, day by day from the last one back.
func (w *work) tried(best solution) solution {
	t := &trial{work: w, best: best, floor: w.floor(), left: make([]int, len(w.recipes))}
	size := 1
	for r, one := range w.recipes {
		t.left[r] = len(one.latest)
		size += len(one.latest) + len(one.wants) + len(one.have)
	}
	t.nodes = mostWork / size
	t.day(w.last, 0)
	return t.best
}

// trial is a search under way.
type trial struct {
	*work
	best  solution
	floor *floor
	left  []int // pots of each recipe that may still be poured
	pours []pour
	late  int
	nodes int // ways that may still be looked at
}

// day tries what can be poured on a day, of recipe r and those after it, and then the days before.
func (t *trial) day(day, r int) {
	if t.nodes--; t.nodes < 0 {
		return
	}
	if r == len(t.recipes) || day >= 0 && t.off(day) {
		day, r = day-1, 0
	}
	if day < 0 {
		if s := t.valued(t.pours); s.better(t.best) {
			t.best = s
		}
		return
	}
	if r == 0 && !t.hopeful(day) {
		return
	}
	p := pour{day, r}
	if t.left[r] > 0 && t.floor.takes(p) {
		t.floor.lay(p)
		t.pours, t.late, t.left[r] = append(t.pours, p), t.late+day, t.left[r]-1
		t.day(day, r)
		t.pours, t.late, t.left[r] = t.pours[:len(t.pours)-1], t.late-day, t.left[r]+1
		t.floor.lift(p)
	}
	t.day(day, r+1)
}

// hopeful reports whether days up to one could still make the pours so far the best: if all pots that are left could be
// poured on it.
func (t *trial) hopeful(day int) bool {
	all := slices.Clone(t.pours)
	for r, n := range t.left {
		for range n {
			all = append(all, pour{0, r}) // as early as can be: nothing is had sooner
		}
	}
	bound := t.valued(all)
	if bound.short > t.best.short {
		return false
	}
	if bound.short < t.best.short {
		return true
	}
	// The pots that the best has, less those that are poured, all on this day, would be the latest that can come.
	more := len(t.best.pours) - len(t.pours)
	return more >= 0 && (more > 0 || t.valued(t.pours).short <= t.best.short) &&
		(t.late+more*day > t.best.late || t.fewer(more))
}

// fewer reports whether fewer pots than the best has could do: as many as what is short now is more than what the best
// leaves short.
func (t *trial) fewer(more int) bool {
	short, least, largest := 0, 0, 1
	for r, one := range t.recipes {
		mine := t.shortOf(r, t.pours)
		short += mine
		least += (mine + one.bars - 1) / one.bars
		largest = max(largest, one.bars)
	}
	if t.best.short > 0 {
		least = (short - t.best.short + largest - 1) / largest
	}
	return least < more
}
