package demand

import (
	"cmp"
	"slices"
	"time"
)

// Limit is what a pour can break.
type Limit string

// The limits.
const (
	BeforeToday Limit = "before today"
	OnDayOff    Limit = "day off"
	CutOnDayOff Limit = "cut on a day off" // of a loaf that does not wait
	TooManyPots Limit = "pots"
	MoldTaken   Limit = "mold"
	RackFull    Limit = "rack"
	Missing     Limit = "missing" // bars that are wanted
)

// Broken is a limit that pours break on a day, and by how much.
type Broken struct {
	What   Limit
	On     time.Time
	Recipe string // empty where it is nobody's alone
	By     int
}

// Judge says what pours break that somebody chose, in the order of the days, and what they leave missing. Pours of recipes
// that are not known are passed over.
func Judge(q Request, pours []Pour) (out []Broken, err error) {
	if err := q.Check().Err(); err != nil {
		return nil, err
	}
	w := newWork(q)
	var chosen []pour
	pots, bars := map[int]int{}, map[int]int{}
	molds := map[string]map[int]int{}
	broken := func(what Limit, day int, recipe string, by int) {
		out = append(out, Broken{what, q.Today.AddDate(0, 0, day), recipe, by})
	}
	for d, n := range w.busy {
		bars[d] = n
	}
	for _, day := range q.Booked {
		pots[days(q.Today, day)]++
	}
	standing := map[int]bool{}
	for _, p := range pours {
		i := slices.IndexFunc(q.Recipes, func(r Recipe) bool { return r.Name == p.Recipe })
		if i < 0 {
			continue
		}
		r, day := &w.recipes[i], days(q.Today, p.On)
		for range p.Pots {
			chosen = append(chosen, pour{day, i})
		}
		pots[day] += p.Pots
		for d := day + r.mold; d < day+r.mold+r.cure; d++ {
			bars[d] += r.bars * p.Pots
			standing[d] = true
		}
		if r.form != "" {
			if molds[r.form] == nil {
				molds[r.form] = map[int]int{}
			}
			for d := day; d <= day+r.mold; d++ {
				molds[r.form][d] += r.forms * p.Pots
			}
		}
		switch {
		case day < 0:
			broken(BeforeToday, day, r.name, -day)
		case w.off(day):
			broken(OnDayOff, day, r.name, p.Pots)
		case r.prompt && w.off(day+r.mold):
			broken(CutOnDayOff, day+r.mold, r.name, p.Pots)
		}
	}
	for day, n := range pots {
		if n > w.cap && slices.ContainsFunc(chosen, func(p pour) bool { return p.day == day }) {
			broken(TooManyPots, day, "", n-w.cap)
		}
	}
	for form, days := range molds {
		eachSpan(days, func(n int) bool { return n > w.molds[form] }, func(day, most int) { broken(MoldTaken, day, form, most-w.molds[form]) })
	}
	if w.rack > 0 {
		eachSpan(bars, func(n int) bool { return n > w.rack }, func(day, most int) {
			if standing[day] {
				broken(RackFull, day, "", most-w.rack)
			}
		})
	}
	for r, list := range w.unmet(chosen) {
		for i, n := range list {
			if n > 0 {
				broken(Missing, w.recipes[r].wants[i].day, w.recipes[r].name, n)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b Broken) int {
		return cmp.Or(a.On.Compare(b.On), cmp.Compare(a.What, b.What), cmp.Compare(a.Recipe, b.Recipe))
	})
	return out, nil
}

// WhyNotLater says what keeps a pot of the i-th pour from being poured a day later, and from which day on that is over; what is
// Missing is over never. It is empty where nothing does.
func WhyNotLater(q Request, pours []Pour, i int) (what Limit, recipe string, until time.Time, err error) {
	before, err := Judge(q, pours)
	if err != nil {
		return "", "", until, err
	}
	for d := 1; d <= mostWait; d++ {
		moved := slices.Clone(pours)
		moved[i].On = moved[i].On.AddDate(0, 0, d)
		if moved[i].Pots > 1 {
			moved[i].Pots--
			one := pours[i]
			one.Pots, one.On = 1, moved[i].On
			moved[i].On = pours[i].On
			moved = append(moved, one)
		}
		now, err := Judge(q, moved)
		if err != nil {
			return "", "", until, err
		}
		more := slices.DeleteFunc(now, func(b Broken) bool { return slices.Contains(before, b) })
		if len(more) == 0 {
			return what, recipe, pours[i].On.AddDate(0, 0, d), nil
		}
		if j := slices.IndexFunc(more, func(b Broken) bool { return b.What == Missing }); j >= 0 {
			if what == "" {
				what, recipe, until = Missing, more[j].Recipe, more[j].On
			}
			return what, recipe, until, nil
		}
		if what == "" {
			what, recipe, until = more[0].What, more[0].Recipe, more[0].On
		}
	}
	return what, recipe, until, nil
}

// mostWait is how many days later a pour is tried for a reason.
const mostWait = 60

// eachSpan calls tell for the first day of each span of days that are all bad, with the worst of them.
func eachSpan(of map[int]int, bad func(int) bool, tell func(day, most int)) {
	var all []int
	for day, n := range of {
		if bad(n) {
			all = append(all, day)
		}
	}
	slices.Sort(all)
	for i := 0; i < len(all); {
		first, most := all[i], of[all[i]]
		for i++; i < len(all) && all[i] == all[i-1]+1; i++ {
			most = max(most, of[all[i]])
		}
		tell(first, most)
	}
}

// RackOn is how many bars cure on each day from today on, with those of pours; for as many days as are asked.
func RackOn(q Request, pours []Pour, many int) []int {
	w := newWork(q)
	out := make([]int, many)
	for d := range min(many, len(w.busy)) {
		out[d] = w.busy[d]
	}
	for _, p := range pours {
		i := slices.IndexFunc(q.Recipes, func(r Recipe) bool { return r.Name == p.Recipe })
		if i < 0 {
			continue
		}
		r, day := &w.recipes[i], days(q.Today, p.On)
		for d := max(0, day+r.mold); d < min(many, day+r.mold+r.cure); d++ {
			out[d] += r.bars * p.Pots
		}
	}
	return out
}
