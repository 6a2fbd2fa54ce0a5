package shop

import (
	"context"
	"crypto/subtle"
	"errors"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// LookAfter records that lots were looked after: a top textured, all bars of a
// room turned. A second press within the hour is the same one.
func (s *Shop) LookAfter(ctx context.Context, act Act, what, note string, oids ...string) error {
	if lot.CareWords(what) == "" {
		return caution.Problems{{Path: "care", Text: "choose what was done"}}
	}
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		for _, oid := range oids {
			err := s.actOn(c, oid, lot.ToCare, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
				if at, done := l.LastCare(what); done && c.now.Sub(at) < time.Hour {
					return nil
				}
				entry, err := c.entry("care")
				if err != nil {
					return err
				}
				return c.AddCare(entry, l.ID, lot.Care{What: what, Note: strings.TrimSpace(note)})
			})
			if err != nil {
				return "", err
			}
		}
		return "", nil
	})
	return err
}

// Calendar returns what is foreseen of the lots between two local days.
func (pl *Planner) Calendar(ctx context.Context, from, to time.Time, daysOff string) ([]schedule.Event, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	return schedule.Calendar(lots, from, to, strings.Fields(daysOff)), err
}

// Pressing returns what is to be done this hour; see [schedule.Pressing].
func (pl *Planner) Pressing(ctx context.Context, zone *time.Location) ([]schedule.Task, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Unmolded}})
	return schedule.Pressing(schedule.Today(lots, pl.Now(zone))), err
}

// DueOn returns what falls on a local day; see [schedule.On].
func (pl *Planner) DueOn(ctx context.Context, day time.Time, daysOff string) (windows []schedule.Task, due []schedule.Event, err error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	windows, due = schedule.On(lots, day, strings.Fields(daysOff))
	return windows, due, err
}

// NewFeed makes a new secret address of the calendar; the one before leads
// nowhere from then on.
func (cat *Catalog) NewFeed(ctx context.Context, act Act) error {
	_, err := cat.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry("calendar feed")
		if err != nil {
			return "", err
		}
		return "", c.AddFeed(entry, newOID())
	})
	return err
}

// Feed is the secret of the calendar's address, empty before one is made.
func (cat *Catalog) Feed(ctx context.Context) (secret string, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		if secret, err = tx.Feed(); errors.Is(err, store.ErrNotFound) {
			return nil
		}
		return err
	})
	return secret, err
}

// IsFeed reports whether a secret is the one that counts.
func (cat *Catalog) IsFeed(ctx context.Context, secret string) (bool, error) {
	have, err := cat.Feed(ctx)
	return have != "" && subtle.ConstantTimeCompare([]byte(have), []byte(secret)) == 1, err
}
