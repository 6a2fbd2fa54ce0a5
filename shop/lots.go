package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// lotsIn returns lots, newest first, reading what is not remembered. Within a change
// nothing is remembered, since that can be taken back.
func (r *Reader) lotsIn(tx *store.Tx, w store.LotsWhere, bench bool) ([]*lot.Lot, error) {
	heads, err := tx.LotHeads(w)
	if err != nil {
		return nil, err
	}
	out := make([]*lot.Lot, len(heads))
	use := !bench && !tx.Writing
	if use {
		out = r.memory.lookup(heads)
	}
	var unknown []store.LotHead
	for i, h := range heads {
		if out[i] == nil {
			unknown = append(unknown, h)
		}
	}
	fresh, err := tx.LotsOf(unknown, bench)
	if err != nil {
		return nil, err
	}
	for i := range out {
		if out[i] != nil {
			continue
		}
		if out[i], err = r.memory.decode(fresh[0]); err != nil {
			return nil, err
		}
		if use {
			r.memory.put(out[i])
		}
		fresh = fresh[1:]
	}
	return out, tx.Relate(out)
}

// Lots returns lots, newest first, without what was weighed, ticked and measured
// before the pour.
func (r *Reader) Lots(ctx context.Context, w store.LotsWhere) ([]*lot.Lot, error) {
	return r.readLots(ctx, w, false)
}

func (r *Reader) readLots(ctx context.Context, w store.LotsWhere, bench bool) (out []*lot.Lot, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.lotsIn(tx, w, bench)
		return err
	})
	return out, err
}

// FindLots returns the lots that fit, newest first, and how many fit in all.
func (r *Reader) FindLots(ctx context.Context, w store.LotsWhere) (out []*lot.Lot, all int, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		if all, err = tx.CountLots(w); err == nil {
			out, err = r.lotsIn(tx, w, false)
		}
		return err
	})
	return out, all, err
}

// OnEarlyCheck returns the lots that were released when only checks that were made
// too early spoke for them, newest first, whether bars of them are left or not.
func (r *Reader) OnEarlyCheck(ctx context.Context) ([]*lot.Lot, error) {
	lots, err := r.readLots(ctx, store.LotsWhere{Unproven: true}, false)
	return slices.DeleteFunc(lots, func(l *lot.Lot) bool { return !l.OnEarlyCheck() }), err
}

// OnShelf are the stages of lots that are still about.
var OnShelf = []lot.Stage{lot.Making, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready}

// Shelf is what one sees looking along it.
type Shelf struct {
	Lots  []*lot.Lot // that are still about, newest first, without what was weighed for them
	Tasks []schedule.Task
	Racks []Rack // by name
	Room  rack.Room
}

// Shelf returns the shelf as it stands now.
func (s *Shop) Shelf(ctx context.Context, zone *time.Location) (out Shelf, err error) {
	now := s.Now(zone)
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		if out.Racks, out.Room, err = emptyRoom(tx); err == nil {
			out.Lots, err = s.lotsIn(tx, store.LotsWhere{Stages: OnShelf}, false)
		}
		return err
	})
	if err != nil {
		return out, err
	}
	furnish(out.Room, out.Lots, now)
	out.Tasks = schedule.Today(out.Lots, now)
	return out, nil
}

// OlderReady is the oldest lot of the same recipe with bars that may go, when it
// is older than this one; nil when these are the oldest.
func (r *Reader) OlderReady(ctx context.Context, l *lot.Lot) (*lot.Lot, error) {
	lots, err := r.Lots(ctx, store.LotsWhere{Recipe: l.Recipe, Stages: []lot.Stage{lot.Ready}})
	for _, one := range slices.Backward(lots) {
		if one.Number < l.Number && one.InStock() > 0 && one.Gate(r.Clock()).Ready && one.KeptFromSale() == "" {
			return one, err
		}
	}
	return nil, err
}

// OnBench returns the lots that are being made.
func (r *Reader) OnBench(ctx context.Context) ([]*lot.Lot, error) {
	return r.readLots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making}}, true)
}

// Lot returns one lot.
func (r *Reader) Lot(ctx context.Context, oid string) (out *lot.Lot, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.lotIn(tx, oid)
		return err
	})
	return out, err
}

func (r *Reader) lotIn(tx *store.Tx, oid string) (*lot.Lot, error) {
	list, err := r.lotsIn(tx, store.LotsWhere{OID: oid}, true)
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("lot %s: %w", oid, store.ErrNotFound)
	}
	if err != nil {
		return nil, err
	}
	return list[0], nil
}

// onLot runs one act on a lot: what may happen is checked against its stage
// and against what the page had seen, and what follows is written with it.
func (s *Shop) onLot(ctx context.Context, act Act, oid string, what lot.Act, do func(*change, *lot.Lot) error) error {
	return s.onLotWhere(ctx, act, oid, what, func(_ *change, l *lot.Lot) error {
		if act.Seen != l.LastEntry {
			newest := l.Newest()
			return &Conflict{What: "lot " + l.Code, Who: newest.Who, When: newest.Recorded}
		}
		return nil
	}, do)
}

// onLotWhere is onLot with a check of its own in place of what the page had seen.
func (s *Shop) onLotWhere(ctx context.Context, act Act, oid string, what lot.Act, sound, do func(*change, *lot.Lot) error) error {
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		return oid, s.actOn(c, oid, what, sound, do)
	})
	return err
}

// actOn does something to a lot within a change, and brings its state up to date.
func (s *Shop) actOn(c *change, oid string, what lot.Act, sound, do func(*change, *lot.Lot) error) error {
	l, err := s.lotIn(c.Tx, oid)
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
	c.now, c.last = c.now.In(zone), 0
	if err := sound(c, l); err != nil {
		return err
	}
	if err := l.May(what, c.now); err != nil {
		return err
	}
	if err := do(c, l); err != nil || c.last == 0 {
		return err
	}
	after, err := s.lotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	return c.SetLotState(l.ID, after.Stage(), c.last)
}

// mostOff is how far in mm a mold can come from its line and still teach
// something.
const mostOff = 60

// deviates writes that an act was done outside of its window, which asks for a
// reason; within it there is nothing to write. Soap that came out at an odd time is
// cut at one too, so one reason serves for both.
func (c *change) deviates(l *lot.Lot, act lot.Act, what, why string) error {
	out := l.OutOfWindow(c.now)
	if out == "" || l.Deviated(lot.ToUnmold) {
		return nil
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{
			{Path: "deviation", Text: "it is " + out + ". Write why it is done all the same; it goes on record as a deviation"},
		}
	}
	entry, err := c.entry("deviation")
	if err != nil {
		return err
	}
	return c.AddDeviation(entry, l.ID, lot.Deviation{Act: act, What: what + " " + out, Why: why})
}

// AddNote writes a remark on a lot, or an incident.
func (s *Shop) AddNote(ctx context.Context, act Act, oid string, incident bool, text string) error {
	if text = strings.TrimSpace(text); text == "" {
		return caution.Problems{{Path: "text", Text: "write what happened"}}
	}
	kind := store.Remark
	if incident {
		kind = store.Mishap
	}
	return s.onLot(ctx, act, oid, lot.ToNote, func(c *change, l *lot.Lot) error {
		entry, err := c.entry(string(kind))
		if err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, kind, text)
	})
}

// GiveUp ends a lot that was started and will not be poured.
func (s *Shop) GiveUp(ctx context.Context, act Act, oid, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why the lot is given up"}}
	}
	return s.onRun(ctx, act, oid, lot.ToAbandon, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("abandoned")
		if err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, store.Abandoned, why)
	})
}
