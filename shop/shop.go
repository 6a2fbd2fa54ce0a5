// Package shop is what people do with Ash Shelf: pour, cut, place, look after, weigh,
// check, release, hand out, and what goes wrong.
//
// Each use case is one transaction that binds the rules of the core to the records in the
// store, at a moment, by a named person, from a device, and records all of it or nothing;
// how, package journal says. What a pour needs beforehand has packages of its own, which
// the door [Shop] opens with it: the catalogue of what the shop has, the containers of
// lye, the plans, and the reading of lots.
package shop

import (
	"context"
	"errors"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/costing"
	"ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/shop/planning"
	"ashshelf/shop/selling"
	"ashshelf/shop/stock"
	"ashshelf/shop/supply"
	"ashshelf/shop/tracing"
	"ashshelf/shop/trading"
)

// Shop is the door to all use cases.
type Shop struct {
	*journal.Journal
	*catalog.Catalog
	*inventory.Stores
	*stock.Keeper
	*lots.Reader
	*planning.Planner
	*supply.Buyer
	*costing.Reckoner
	*selling.Seller
	*tracing.Tracer
	*trading.Trader
}

// Open opens the shop in a data folder. now is the clock.
func Open(ctx context.Context, dir string, now func() time.Time) (*Shop, error) {
	j, err := journal.Open(ctx, dir, now)
	if err != nil {
		return nil, err
	}
	s := &Shop{Journal: j}
	s.Catalog = &catalog.Catalog{Journal: j}
	s.Stores = &inventory.Stores{Journal: j, Catalog: s.Catalog}
	s.Keeper = &stock.Keeper{Journal: j}
	s.Reader = lots.NewReader(j, dir)
	s.Tracer = tracing.New(j, s.Reader)
	s.Seller = selling.New(j, s.Catalog, s.Reader)
	s.Planner = &planning.Planner{Journal: j, Catalog: s.Catalog, Keeper: s.Keeper, Reader: s.Reader, Seller: s.Seller}
	s.Buyer = supply.New(j, s.Stores, s.Reader)
	s.Reckoner = costing.New(j, s.Stores, s.Reader)
	s.Trader = trading.New(j, s.Catalog, s.Seller, s.Planner, s.Buyer, s.Reckoner)
	if err := errors.Join(s.SweepPhotos(ctx), s.SweepDrafts(ctx), s.SweepNames(ctx)); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// ConfirmClock is a person's word that the clock is right as it stands. What was recorded
// at a later moment is in doubt from then on.
func (s *Shop) ConfirmClock(ctx context.Context, act journal.Act) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if c.Doubt == "" {
			return "", nil
		}
		c.Doubt = "" // the word itself is not in doubt
		return "", c.Record("clock", func(entry int64) error { return c.AddClockWord(entry, c.Now) })
	})
	s.Reader.ForgetLots()
	return err
}
