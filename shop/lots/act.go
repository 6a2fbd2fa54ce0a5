package lots

import (
	"context"
	"fmt"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
)

// Use is what a use case does to a lot within a change.
type Use = func(*journal.Change, *lot.Lot) error

// Unchecked asks nothing of a lot.
func Unchecked(*journal.Change, *lot.Lot) error { return nil }

// OnLot runs one act on a lot: what may happen is checked against its stage
// and against what the page had seen, and what follows is written with it.
func (r *Reader) OnLot(ctx context.Context, act journal.Act, oid string, what lot.Act, do Use) error {
	return r.OnLotWhere(ctx, act, oid, what, func(_ *journal.Change, l *lot.Lot) error {
		if act.Seen != l.LastEntry {
			newest := l.Newest()
			return &journal.Conflict{What: "lot " + l.Code, Who: newest.Who, When: newest.Recorded}
		}
		return nil
	}, do)
}

// OnLotUnseen is OnLot whatever the page had seen: for what is only added to a lot.
func (r *Reader) OnLotUnseen(ctx context.Context, act journal.Act, oid string, what lot.Act, do Use) error {
	return r.OnLotWhere(ctx, act, oid, what, Unchecked, do)
}

// OnLotWhere is OnLot with a check of its own in place of what the page had seen.
func (r *Reader) OnLotWhere(ctx context.Context, act journal.Act, oid string, what lot.Act, sound, do Use) error {
	_, err := r.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return oid, r.ActOn(c, oid, what, sound, do)
	})
	return err
}

// ActOn does something to a lot within a change, and brings its state up to date.
func (r *Reader) ActOn(c *journal.Change, oid string, what lot.Act, sound, do Use) error {
	l, err := r.LotIn(c.Tx, oid)
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
	after, err := r.LotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	return c.SetLotState(l.ID, after.Stage(), c.Last)
}
