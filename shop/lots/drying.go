package lots

import (
	"context"
	"sync"

	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// familySize is how many earlier lots of a recipe its drying is learned from, the
// newest.
const familySize = 6

// dryingCache remembers what was fitted to lots that have not changed since: a fit
// costs some milliseconds, and a page asks for a whole family.
type dryingCache struct {
	mu   sync.Mutex
	fits map[string]fitted
}

type fitted struct {
	entry int64 // newest of the lot when it was fitted
	curve cure.Curve
}

// mostCurves bounds what is remembered.
const mostCurves = 5000

func (c *dryingCache) of(l *lot.Lot, samples []cure.Sample) cure.Curve {
	c.mu.Lock()
	have, ok := c.fits[l.OID]
	c.mu.Unlock()
	if ok && have.entry == l.LastEntry {
		return have.curve
	}
	f, _ := cure.Fit(samples, l.SampleStep(), cure.Any())
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.fits == nil || len(c.fits) >= mostCurves {
		c.fits = map[string]fitted{}
	}
	c.fits[l.OID] = fitted{l.LastEntry, f.Curve}
	return f.Curve
}

// Drying foretells how a lot dries from its weighings, leaning on how earlier
// lots of its recipe dried; nil without a weighing.
func (r *Reader) Drying(ctx context.Context, l *lot.Lot) (out *cure.Forecast, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.DryingIn(tx, l)
		return err
	})
	return out, err
}

// DryingIn is [Reader.Drying] within a transaction.
func (r *Reader) DryingIn(tx *store.Tx, l *lot.Lot) (*cure.Forecast, error) {
	samples := l.Facts(r.Clock()).Samples
	if len(samples) == 0 {
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
	var known []cure.Curve
	for _, one := range family {
		if own := one.Facts(r.Clock()).Samples; one.Number != l.Number && len(own) >= cure.Enough && len(known) < familySize {
			known = append(known, r.curves.of(one, own))
		}
	}
	f, ok := cure.Fit(samples, l.SampleStep(), cure.HabitOf(known))
	if !ok {
		return nil, nil
	}
	return &f, nil
}
