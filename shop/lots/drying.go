package lots

import (
	"context"
	"slices"
	"sync"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/dry"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// familySize is how many earlier lots of a recipe its drying is learned from, the
// newest.
const familySize = 6

// dryingCache remembers what was foretold of lots that have not changed since: it costs some
// milliseconds, and a page asks for a whole family.
type dryingCache struct {
	mu   sync.Mutex
	fits map[string]fitted
}

type fitted struct {
	entry    int64 // newest of the lot when it was foretold
	forecast dry.Forecast
}

// mostForecasts bounds what is remembered.
const mostForecasts = 600

func (c *dryingCache) of(l *lot.Lot, facts cure.Facts) dry.Forecast {
	c.mu.Lock()
	have, ok := c.fits[l.OID]
	c.mu.Unlock()
	if ok && have.entry == l.LastEntry {
		return have.forecast
	}
	f := facts.DryingCase().Foretell(dry.Any())
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.fits == nil || len(c.fits) >= mostForecasts {
		c.fits = map[string]fitted{}
	}
	c.fits[l.OID] = fitted{l.LastEntry, f}
	return f
}

// mostNext is how many notes for the next time are shown, the newest.
const mostNext = 5

// NextTime is a note of an earlier lot for the next one of its recipe.
type NextTime struct {
	lot.Next
	OID, Code string // of the lot
}

// NextTime are what the newest lots of a recipe were noted to change, the newest note first, but for
// one lot's own.
func (r *Reader) NextTime(ctx context.Context, recipe, but string) (out []NextTime, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		family, err := r.LotsIn(tx, store.LotsWhere{Recipe: recipe, Most: familySize}, false)
		for _, l := range family {
			for _, n := range l.Next {
				if l.OID != but {
					out = append(out, NextTime{n, l.OID, l.Code})
				}
			}
		}
		return err
	})
	slices.SortStableFunc(out, func(a, b NextTime) int { return b.Occurred.Compare(a.Occurred) })
	return out[:min(len(out), mostNext)], err
}

// Dried is how a lot dried by its own weighings alone; ok is false without one.
func (r *Reader) Dried(l *lot.Lot) (f dry.Forecast, ok bool) {
	facts := l.Facts(r.Clock())
	if l.Pour == nil || len(facts.Samples) == 0 {
		return f, false
	}
	return r.curves.of(l, facts), true
}

// Drying foretells how a lot dries from its weighings, leaning on how earlier
// lots of its recipe dried; nil without a weighing.
func (r *Reader) Drying(ctx context.Context, l *lot.Lot) (out *dry.Forecast, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.DryingIn(tx, l)
		return err
	})
	return out, err
}

// DryingIn is [Reader.Drying] within a transaction.
func (r *Reader) DryingIn(tx *store.Tx, l *lot.Lot) (*dry.Forecast, error) {
	facts := l.Facts(r.Clock())
	if l.Pour == nil || len(facts.Samples) == 0 {
		return nil, nil
	}
	family, err := r.LotsIn(
		tx,
		store.LotsWhere{Recipe: l.Recipe, Stages: []lot.Stage{lot.Curing, lot.Ready, lot.Gone}, Most: familySize + 1},
		false,
	)
	if err != nil {
		return nil, err
	}
	var known []dry.Forecast
	for _, one := range family {
		if own := one.Facts(r.Clock()); one.Number != l.Number && len(own.Samples) >= dry.Enough && len(known) < familySize {
			known = append(known, r.curves.of(one, own))
		}
	}
	f := facts.DryingCase().Foretell(dry.HabitOf(known))
	return &f, nil
}

// LostOf is what the bars of a lot lose from the cut until a year after the pour, in percent of their raw weight,
// by how the marked bar dried; ok is false as long as it was weighed too seldom to say.
func (r *Reader) LostOf(l *lot.Lot) (percent float64, ok bool) {
	if l.Cut == nil || l.Pour == nil || len(l.Samples) < cure.LeastWeighings {
		return 0, false
	}
	dried, ok := r.Dried(l)
	if !ok {
		return 0, false
	}
	since := func(at time.Time) float64 { return at.Sub(l.Pour.Occurred).Hours() }
	return cure.LostSinceCut(dried, since(l.Weights()[0].Occurred), since(l.Cut.Occurred), l.Cut.BarG), true
}

// LossOf is [Reader.LostOf] where it is known, else what soap of its recipe usually loses.
func (r *Reader) LossOf(l *lot.Lot) float64 {
	if lost, ok := r.LostOf(l); ok {
		return lost
	}
	return cure.UsualLoss(l.Frozen.Formula, nil)
}
