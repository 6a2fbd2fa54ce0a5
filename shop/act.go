package shop

import (
	"context"
	"fmt"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
)

// lotUse is what a use case does to a lot within a change.
type lotUse = func(*journal.Change, *lot.Lot) error

// unchecked asks nothing of a lot.
func unchecked(*journal.Change, *lot.Lot) error { return nil }

// onLot runs one act on a lot: what may happen is checked against its stage
// and against what the page had seen, and what follows is written with it.
func (s *Shop) onLot(ctx context.Context, act journal.Act, oid string, what lot.Act, do lotUse) error {
	return s.onLotWhere(ctx, act, oid, what, func(_ *journal.Change, l *lot.Lot) error {
		if act.Seen != l.LastEntry {
			newest := l.Newest()
			return &journal.Conflict{What: "lot " + l.Code, Who: newest.Who, When: newest.Recorded}
		}
		return nil
	}, do)
}

// onLotUnseen is onLot whatever the page had seen: for what is only added to a lot.
func (s *Shop) onLotUnseen(ctx context.Context, act journal.Act, oid string, what lot.Act, do lotUse) error {
	return s.onLotWhere(ctx, act, oid, what, unchecked, do)
}

// onLotWhere is onLot with a check of its own in place of what the page had seen.
func (s *Shop) onLotWhere(ctx context.Context, act journal.Act, oid string, what lot.Act, sound, do lotUse) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return oid, s.actOn(c, oid, what, sound, do)
	})
	return err
}

// actOn does something to a lot within a change, and brings its state up to date.
func (s *Shop) actOn(c *journal.Change, oid string, what lot.Act, sound, do lotUse) error {
	l, err := s.LotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	settings, err := c.Shop()
	if err != nil {
		return err
	}
	zone, err := time.LoadLocation(settings.Zone)
	if err != nil {
		return fmt.Errorf("time zone: %w", err)
	}
	c.Now, c.Last = c.Now.In(zone), 0
	if err := sound(c, l); err != nil {
		return err
	}
	if err := l.May(what, c.Now); err != nil {
		return err
	}
	if !c.Happened.IsZero() {
		if err := l.CheckEarlier(what, c.Happened, c.Now); err != nil {
			return caution.Problems{{Path: "when", Text: err.Error()}}
		}
	}
	if err := do(c, l); err != nil || c.Last == 0 {
		return err
	}
	after, err := s.LotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	return c.SetLotState(l.ID, after.Stage(), c.Last)
}

// deviates writes that an act was done outside of its window, which asks for a
// reason; within it there is nothing to write. Soap that came out at an odd time is
// cut at one too, so one reason serves for both.
func deviates(c *journal.Change, l *lot.Lot, act lot.Act, what, why string) error {
	out := l.OutOfWindow(c.At())
	if _, _, soft := l.CutWindow(); out == "" || soft || l.Deviated(lot.ToUnmold) {
		return nil
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{
			{Path: "deviation", Text: "it is " + out + ". Write why it is done all the same; it goes on record as a deviation"},
		}
	}
	return deviation(c, l, act, what+" "+out, why)
}

// deviation writes that something was done otherwise than it should be, with the maker's reason.
func deviation(c *journal.Change, l *lot.Lot, act lot.Act, what, why string) error {
	return c.Record("deviation", func(entry int64) error {
		return c.AddDeviation(entry, l.ID, lot.Deviation{Act: act, What: what, Why: why})
	})
}
