package shop

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/clock"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// clockIn doubts the clock by what was recorded. A shop that is walked with a clock of its
// own rests as long as it likes.
func (j *Journal) clockIn(tx *store.Tx) (clock.Doubt, time.Time, error) {
	if j.madeUp.Load() {
		return "", time.Time{}, nil
	}
	newest, err := tx.NewestEntry()
	doubt := clock.Judge(j.Clock(), newest)
	if j.moved && doubt == clock.Ahead {
		doubt = ""
	}
	return doubt, newest, err
}

// ConfirmClock is a person's word that the clock is right as it stands. What was recorded
// at a later moment is in doubt from then on.
func (s *Shop) ConfirmClock(ctx context.Context, act Act) error {
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		if c.doubt == "" {
			return "", nil
		}
		c.doubt = "" // the word itself is not in doubt
		entry, err := c.entry("clock")
		if err != nil {
			return "", err
		}
		return "", c.AddClockWord(entry, c.now)
	})
	s.Reader.ForgetLots()
	return err
}

// Retime records when something of a lot really happened that was recorded by a wrong
// clock.
func (s *Shop) Retime(ctx context.Context, act Act, oid string, of int64, at time.Time, why string) error {
	return s.onLot(ctx, act, oid, lot.ToRetime, func(c *change, l *lot.Lot) error {
		if c.doubt != "" { // it would be held to a future that is none, and settle a doubt by another
			return &lot.NotNow{Why: "the clock is in doubt: put it right first, or say that it is, and then this time"}
		}
		var p caution.Problems
		var not *lot.NotNow
		if err := l.CheckRetime(of, at, c.now); errors.As(err, &not) {
			p.Add("at", "%s", not.Why)
		} else if err != nil {
			return err
		}
		if why = strings.TrimSpace(why); why == "" {
			p.Add("because", "write how you know; both moments stay on record")
		}
		if err := p.Err(); err != nil {
			return err
		}
		was, _ := l.Retimable(of)
		entry, err := c.entry("retime")
		if err != nil {
			return err
		}
		said := func(t time.Time) string { return t.In(at.Location()).Format("2 January 2006, 15:04") }
		return c.AddRetime(
			entry,
			l.ID,
			lot.Retime{
				Of:   of,
				At:   at,
				Said: fmt.Sprintf("“%s” was at %s, not at %s: %s", was.Title, said(at), said(was.Occurred), why),
			},
		)
	})
}
