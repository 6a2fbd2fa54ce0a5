package planning

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
	"ashshelf/store"
)

// stand is when the molds of a day and the places in its oven are free: a mold is full until the window of what is in it
// opens, and for the rest of the day once something is poured into it.
type stand struct {
	molds  map[string][]place // by mold, the first free first; of those of which it is known how many there are
	oven   []place
	untold []string // molds of which it is not
}

// place is one mold, or one place in the oven, and the minute from which on it is free; who is the lot that is in it until
// then.
type place struct {
	from int
	who  string
}

// standOn looks at what is in molds on a day that begins at a time of a location.
func (pl *Planner) standOn(ctx context.Context, midnight time.Time, b run.Bench) (*stand, error) {
	known, err := pl.Molds(ctx)
	if err != nil {
		return nil, err
	}
	full, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold}})
	if err != nil {
		return nil, err
	}
	s := &stand{molds: map[string][]place{}}
	for _, m := range known {
		if m.Owned > 0 {
			s.molds[m.OID] = make([]place, m.Owned)
		}
	}
	s.oven = make([]place, b.Count(run.OvenPlace))
	for _, l := range full {
		until := place{timetable.Minutes, l.Code}
		if w := l.Unmolds(); !w.None() {
			until.from = minuteOf(l.Pour.Occurred.Add(w.Opens).In(midnight.Location()), midnight)
		}
		for _, w := range s.wants(l.Frozen.Molds, l.Order().InOven()) {
			fill(w.places, w.count, until)
		}
	}
	s.untold = nil // of what is to be poured, not of what was
	return s, nil
}

// minuteOf is the minute of a day by its clock from which on it is at least then: the first of it for what was before, and none
// of it for what is after.
func minuteOf(at, midnight time.Time) int {
	switch {
	case at.Before(midnight):
		return 0
	case !at.Before(midnight.AddDate(0, 0, 1)):
		return timetable.Minutes
	}
	return min(timetable.Minutes, at.Hour()*60+at.Minute()+1)
}

func loaves(molds []lot.Mold) (n int) {
	for _, m := range molds {
		n += m.Count
	}
	return n
}

// fill takes so many places until a time, the first free first, as far as there are any.
func fill(places []place, count int, until place) {
	sorted(places)
	for i := range min(count, len(places)) {
		places[i] = until
	}
	sorted(places)
}

func sorted(places []place) {
	slices.SortStableFunc(places, func(a, b place) int { return cmp.Compare(a.from, b.from) })
}

// want is so many of the places that there are of something.
type want struct {
	places []place
	count  int
	what   string
}

// wants are the molds of a pot that are counted, and its places in the oven.
func (s *stand) wants(molds []lot.Mold, oven bool) (out []want) {
	for _, m := range molds {
		if places, counted := s.molds[m.OID]; counted {
			out = append(out, want{places, m.Count, m.Name})
		} else if m.OID != "" && !slices.Contains(s.untold, m.Name) {
			s.untold = append(s.untold, m.Name)
		}
	}
	if oven {
		out = append(out, want{s.oven, loaves(molds), "place in the oven"})
	}
	return out
}

// take fills what a pot is poured into, for the rest of the day, as far as there is some.
func (s *stand) take(molds []lot.Mold, oven bool) {
	for _, w := range s.wants(molds, oven) {
		fill(w.places, w.count, place{timetable.Minutes, "a pot of this day"})
	}
}

// pour is from which minute on what a pot is poured into is free, and what is to be done or waited for first; or why it is not
// free by the end of the day.
func (s *stand) pour(molds []lot.Mold, oven bool, end int) (from int, why, refused string) {
	for _, w := range s.wants(molds, oven) {
		sorted(w.places)
		free := slices.IndexFunc(w.places, func(p place) bool { return p.from >= end })
		if free < 0 {
			free = len(w.places)
		}
		if free < w.count {
			return 0, "", fmt.Sprintf("it needs %d of “%s”, and of %d only %d can be free in time%s", w.count, w.what, len(w.places), free,
				in(w.places[free:]))
		}
		if taken := w.places[:w.count]; in(taken) != "" && taken[w.count-1].from >= from {
			from = taken[w.count-1].from
			why = fmt.Sprintf("“%s” is to be emptied first%s", w.what, in(taken))
			if from > 0 {
				why = fmt.Sprintf("waits for “%s”, which can be emptied from %s on%s", w.what, timetable.Clock(from), in(taken))
			}
		}
	}
	s.take(molds, oven)
	return from, why, ""
}

// fresh are the molds that a pot begins: one that the pot before has filled in part is not another one.
func fresh(p Plan, pot int) (out []lot.Mold) {
	if pot >= len(p.Split) {
		return p.MoldsOf(pot)
	}
	upTo := func(pots, mold int) (n float64) {
		for _, shares := range p.Split[:pots] {
			for _, s := range shares {
				if s.Mold == mold {
					n += s.Count
				}
			}
		}
		return n
	}
	whole := func(n float64) int { return int(math.Ceil(n - 1e-6)) }
	for i, m := range p.Molds {
		if m.Count = whole(upTo(pot+1, i)) - whole(upTo(pot, i)); m.Count > 0 {
			out = append(out, m)
		}
	}
	return out
}

// in says who is in some places.
func in(places []place) string {
	var who []string
	for _, p := range places {
		if p.who != "" && !slices.Contains(who, p.who) {
			who = append(who, p.who)
		}
	}
	if len(who) == 0 {
		return ""
	}
	return ": taken by " + strings.Join(who, ", ")
}
