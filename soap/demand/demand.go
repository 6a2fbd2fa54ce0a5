// Package demand works out what must be poured by when, so that what is wanted on a day is ready by then.
//
// It counts back: a bar for a fair must be poured so many days earlier as it stays in the mold, cures, and should
// have to spare. Bars that are there, or will be, come off first. Pots are whole; only so many are made in a day, none
// on a day off, and bars that cure need their place on the racks from the cut until they are ready. Each pot is poured
// as late as all of that allows, since soap that waits is money that waits. What cannot be had any more is said, with
// the reason, and never more of it than must be.
package demand

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/caution"
)

// Recipe is what one pot of a recipe gives, and how long it takes.
type Recipe struct {
	Name     string
	Bars     int // of a pot
	MoldDays int // from the pour to the cut
	CureDays int // from the cut until its bars are ready

	Prompt bool   // the cut waits for nobody: it never falls on a day off
	Mold   string // that a pot is poured into; empty where any will do
	Molds  int    // how many of it a pot takes
}

// Lead is how many days after its pour a pot is ready.
func (r Recipe) Lead() int { return r.MoldDays + r.CureDays }

// Stock is bars that are there: ready from a day on, which may be past.
type Stock struct {
	Recipe string
	Bars   int
	Ready  time.Time
}

// Want is bars that are wanted on a day.
type Want struct {
	Recipe string
	Bars   int
	On     time.Time
}

// Request is what is asked for. Days are dates without an hour, in UTC.
type Request struct {
	Today      time.Time
	PotsPerDay int
	DaysOff    []time.Weekday
	Margin     int            // days that a pour is ready before it is wanted
	RackBars   int            // that cure at once; 0 for no limit
	Molds      map[string]int // how many there are of each; one that is not named is no limit
	Booked     []time.Time    // days on which a pot is planned already, one for each
	Recipes    []Recipe
	OnHand     []Stock
	Wanted     []Want
}

// Pour is pots of a recipe on a day.
type Pour struct {
	Recipe    string
	On, Ready time.Time
	Pots      int
}

// Why is what keeps bars from being had.
type Why string

// The reasons.
const (
	NoTime Why = "time" // no day is left on which they could be poured
	NoPots Why = "pots" // the days that are left are full, or the molds are
	NoRack Why = "rack" // there is no place for them to cure
)

// Short is bars that cannot be had.
type Short struct {
	Recipe string
	Bars   int
	On     time.Time
	Why    Why
}

// Plan is what to pour, by day, and what cannot be had.
type Plan struct {
	Pours []Pour
	Short []Short
}

// The limits of what is worked out. They are far above what one shop does.
const (
	mostRecipes, mostLines = 500, 5000
	mostDays               = 3660
	mostBars               = 1_000_000
	mostMoldDays           = 60
)

// Check finds what cannot be worked with. Paths are those of the open format.
func (q Request) Check() (p caution.Problems) {
	caution.Range{Min: 1, Max: 1000, Unit: "pots"}.Check(&p, "pots_per_day", "the pots of a day", float64(q.PotsPerDay))
	caution.Range{Min: 0, Max: 365, Unit: "days"}.Check(&p, "margin_days", "the margin", float64(q.Margin))
	caution.Range{Min: 0, Max: mostBars, Unit: "bars"}.Check(&p, "rack_bars", "the place on the racks", float64(q.RackBars))
	if len(q.DaysOff) >= 7 {
		p.Add("days_off", "there must be a day on which somebody works")
	}
	if len(q.Recipes) > mostRecipes {
		p.Add("recipes", "at most %d recipes", mostRecipes)
	}
	known := map[string]bool{}
	for i, r := range q.Recipes {
		at := fmt.Sprintf("recipes[%d].", i)
		if strings.TrimSpace(r.Name) == "" {
			p.Add(at+"name", "a recipe needs a name")
		}
		if known[r.Name] {
			p.Add(at+"name", "“%s” is there twice", r.Name)
		}
		known[r.Name] = true
		caution.Range{Min: 1, Max: mostBars, Unit: "bars"}.Check(&p, at+"bars_per_pot", "the bars of a pot", float64(r.Bars))
		caution.Range{Min: 0, Max: mostMoldDays, Unit: "days"}.Check(&p, at+"mold_days", "the days in the mold", float64(r.MoldDays))
		caution.Range{Min: 0, Max: 1095, Unit: "days"}.Check(&p, at+"cure_days", "the days of the cure", float64(r.CureDays))
		if have, limited := q.Molds[r.Mold]; limited && (r.Molds < 1 || r.Molds > have) {
			p.Add(at+"molds", "a pot takes %d molds, and there are %d", r.Molds, have)
		}
	}
	line := func(at, recipe string, bars, least int, on time.Time, field string) {
		if !known[recipe] {
			p.Add(at+"recipe", "there is no recipe “%s”", recipe)
		}
		caution.Range{Min: float64(least), Max: mostBars, Unit: "bars"}.Check(&p, at+"bars", "the bars", float64(bars))
		if far := days(q.Today, on); far > mostDays || far < -mostDays {
			p.Add(at+field, "it is more than ten years away")
		}
	}
	if len(q.OnHand) > mostLines || len(q.Wanted) > mostLines {
		p.Add("wanted", "at most %d lines", mostLines)
		return p
	}
	for i, s := range q.OnHand {
		line(fmt.Sprintf("on_hand[%d].", i), s.Recipe, s.Bars, 0, s.Ready, "ready")
	}
	for i, w := range q.Wanted {
		line(fmt.Sprintf("wanted[%d].", i), w.Recipe, w.Bars, 1, w.On, "on")
	}
	return p
}

// days is how many days b is after a.
func days(a, b time.Time) int { return int(b.Sub(a).Hours() / 24) }

// Back plans backwards from what is wanted. What cannot be worked with is of type [caution.Problems].
func Back(q Request) (Plan, error) {
	if err := q.Check().Err(); err != nil {
		return Plan{}, err
	}
	w := newWork(q)
	best := w.solve()
	out := Plan{}
	for _, one := range best.pours {
		r := q.Recipes[one.recipe]
		on := q.Today.AddDate(0, 0, one.day)
		if n := len(out.Pours); n > 0 && out.Pours[n-1].Recipe == r.Name && out.Pours[n-1].On.Equal(on) {
			out.Pours[n-1].Pots++
			continue
		}
		out.Pours = append(out.Pours, Pour{Recipe: r.Name, On: on, Pots: 1, Ready: on.AddDate(0, 0, r.Lead())})
	}
	out.Short = w.shorts(best)
	return out, nil
}

// shorts says what cannot be had, and why: what no day could give, what full days keep, and what the racks do.
func (w *work) shorts(best solution) (out []Short) {
	free := *w
	free.cap, free.rack, free.molds = 0, 0, nil
	never := free.unmet(free.placed())
	full := *w
	full.rack = 0
	pots := full.unmet(full.solve().pours)
	for r, one := range w.recipes {
		left := w.unmetOf(r, best.pours)
		for i, bars := range left {
			add := func(n int, why Why) {
				if n > 0 {
					out = append(out, Short{Recipe: one.name, Bars: n, On: w.q.Today.AddDate(0, 0, one.wants[i].day), Why: why})
				}
			}
			late := min(bars, never[r][i])
			crowded := min(bars-late, max(0, pots[r][i]-late))
			rest := bars - late - crowded
			if w.rack == 0 {
				crowded, rest = crowded+rest, 0
			}
			add(late, NoTime)
			add(crowded, NoPots)
			add(rest, NoRack)
		}
	}
	slices.SortStableFunc(out, func(a, b Short) int { return cmp.Or(a.On.Compare(b.On), strings.Compare(a.Recipe, b.Recipe)) })
	return out
}
