// Package shop is what people do with Ash Shelf: keep a recipe, plan, pour,
// cut, release, sell.
//
// Each use case is one transaction that binds the rules of the core to the
// records in the store, at a moment, by a named person, from a device. A use
// case either records all of it or nothing. A change that arrives twice with
// the same key is recorded once, and one that was based on a state that has
// moved on since is refused and shown.
package shop

import (
	"context"
	"errors"
	"sync/atomic"
	"time"

	"ashshelf/store"

	_ "time/tzdata"
)

// Version is the program's version, frozen into every lot.
const Version = "0.1"

// Shop is the door to all use cases.
type Shop struct {
	db  *store.DB
	dir string
	now func() time.Time

	moved  bool        // it was walked with a clock of its own, now or earlier
	madeUp atomic.Bool // it is being made up

	curves dryingCache
	memory lotCache
}

// Open opens the shop in a data folder. now is the clock.
func Open(ctx context.Context, dir string, now func() time.Time) (*Shop, error) {
	db, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	s := &Shop{db: db, dir: dir, now: now}
	err = db.Read(ctx, func(tx *store.Tx) (err error) {
		s.moved, err = tx.MovedClock()
		return err
	})
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	if err := s.sweep(ctx); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return s, nil
}

// ErrRealRecords says that a clock is moved only where no real records are.
var ErrRealRecords = errors.New(
	"the folder holds the records of a real shop: its clock is not moved, because what is recorded then would be false for ever",
)

// MayMoveClock reports whether the clock of a data folder may be moved: there is no
// shop yet, it is a demo, or its clock was moved before. insist overrides.
func MayMoveClock(ctx context.Context, dir string, insist bool) error {
	p, err := store.Peek(ctx, dir)
	if err != nil || insist || !p.Founded || p.Demo || p.Moved {
		return err
	}
	return ErrRealRecords
}

// MoveClock notes that the shop is walked from a moment of its own on, which every
// page says from then on. machine is the real time.
func (s *Shop) MoveClock(ctx context.Context, moment, machine time.Time) error {
	s.moved = true
	return s.db.Write(ctx, func(tx *store.Tx) error { return tx.AddMovedClock(moment, machine) })
}

// Moved reports whether the shop was ever walked with a moved clock: none of it is a
// real record then.
func (s *Shop) Moved() bool { return s.moved }

// Unsynced runs do without waiting for the disk after each record. It is for
// made-up shops only.
func (s *Shop) Unsynced(ctx context.Context, do func() error) error {
	s.madeUp.Store(true) // what is made up is written lot by lot, to and fro in time
	defer s.madeUp.Store(false)
	return s.db.Unsynced(ctx, do)
}

// DiskTrouble is what the disk said to the newest record; empty when it took it.
func (s *Shop) DiskTrouble() store.DiskTrouble { return s.db.Trouble() }

// Risky says why the shop's folder is a bad place for its records; empty when nothing is
// known against it.
func (s *Shop) Risky() string { return store.Risky(s.dir) }

// Close closes the shop.
func (s *Shop) Close() error { return s.db.Close() }

// Version changes whenever records may have changed; see [store.DB.Version].
func (s *Shop) Version() int64 { return s.db.Version() }

// Now is the time by the shop's clock, in its zone.
func (s *Shop) Now(loc *time.Location) time.Time { return s.now().In(loc) }
