// Package lots reads what was recorded of lots: one by one, the ones that are about, how
// they dry, their pictures, and whether the record of a release is still what was sealed.
//
// A lot's record only grows, so what was read of it once is remembered until its newest
// entry is another one. What is recorded on lots is the matter of package shop.
package lots

import (
	"context"
	"fmt"
	"path/filepath"
	"slices"

	"ashshelf/shop/journal"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/store"
	"ashshelf/store/disk"
)

// Reader reads lots.
type Reader struct {
	*journal.Journal
	folder string // of the photos
	free   func(folder string) (uint64, error)
	curves dryingCache
	memory lotCache
}

// NewReader returns a reader of the lots of a data folder.
func NewReader(j *journal.Journal, dir string) *Reader {
	return &Reader{Journal: j, folder: filepath.Join(dir, store.PhotoFolder), free: disk.Free}
}

// LotsIn returns lots, newest first, reading what is not remembered. Within a change
// nothing is remembered, since that can be taken back.
func (r *Reader) LotsIn(tx *store.Tx, w store.LotsWhere, withMaking bool) ([]*lot.Lot, error) {
	heads, err := tx.LotHeads(w)
	if err != nil {
		return nil, err
	}
	out := make([]*lot.Lot, len(heads))
	use := !withMaking && !tx.Writing
	if use {
		out = r.memory.lookup(heads)
	}
	var unknown []store.LotHead
	for i, h := range heads {
		if out[i] == nil {
			unknown = append(unknown, h)
		}
	}
	fresh, err := tx.LotsOf(unknown, withMaking)
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

func (r *Reader) readLots(ctx context.Context, w store.LotsWhere, withMaking bool) (out []*lot.Lot, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.LotsIn(tx, w, withMaking)
		return err
	})
	return out, err
}

// Poured is how many pours somebody recorded here.
func (r *Reader) Poured(ctx context.Context, person int64) (n int, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		n, err = tx.Poured(person)
		return err
	})
	return n, err
}

// FindLots returns the lots that fit, newest first, and how many fit in all.
func (r *Reader) FindLots(ctx context.Context, w store.LotsWhere) (out []*lot.Lot, all int, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		if all, err = tx.CountLots(w); err == nil {
			out, err = r.LotsIn(tx, w, false)
		}
		return err
	})
	return out, all, err
}

// CountLots is how many lots there are.
func (r *Reader) CountLots(ctx context.Context) (n int, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		n, err = tx.CountLots(store.LotsWhere{})
		return err
	})
	return n, err
}

// OnEarlyCheck returns the lots that were released when only checks that were made
// too early spoke for them, newest first, whether bars of them are left or not.
func (r *Reader) OnEarlyCheck(ctx context.Context) ([]*lot.Lot, error) {
	lots, err := r.readLots(ctx, store.LotsWhere{Unproven: true}, false)
	return slices.DeleteFunc(lots, func(l *lot.Lot) bool { return !l.OnEarlyCheck() }), err
}

// OnShelf are the stages of lots that are still about.
var OnShelf = []lot.Stage{lot.Making, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready}

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

// BeingMade returns the lots that are being made.
func (r *Reader) BeingMade(ctx context.Context) ([]*lot.Lot, error) {
	return r.readLots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making}}, true)
}

// Lot returns one lot.
func (r *Reader) Lot(ctx context.Context, oid string) (out *lot.Lot, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.LotIn(tx, oid)
		return err
	})
	return out, err
}

// LotIn reads one lot with its making; [store.ErrNotFound] when there is none.
func (r *Reader) LotIn(tx *store.Tx, oid string) (*lot.Lot, error) {
	list, err := r.LotsIn(tx, store.LotsWhere{OID: oid}, true)
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("lot %s: %w", oid, store.ErrNotFound)
	}
	if err != nil {
		return nil, err
	}
	return list[0], nil
}

// mostBought is how many ingredient lots of one ingredient are offered.
const mostBought = 6

// Bought returns the newest ingredient lots of an item.
func (r *Reader) Bought(ctx context.Context, item plan.Key) (out []lot.Bought, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Bought(item.Ingredient(), mostBought)
		return err
	})
	return out, err
}

// Trimmings returns the lots with scraps, end pieces or shaped soap that is not worked in yet,
// the freshest first.
func (r *Reader) Trimmings(ctx context.Context) (out []*lot.Lot, err error) {
	lots, err := r.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}})
	for _, l := range lots {
		if len(l.Piles()) > 0 {
			out = append(out, l)
		}
	}
	return out, err
}

// mostStories is how many stories are told of one cause.
const mostStories = 3

// Stories returns what went wrong before with a recipe or with anything that goes
// into it, each incident once, under the cause that is named first.
func (r *Reader) Stories(ctx context.Context, subjects []string) (out []store.Story, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		told := map[string]bool{}
		for _, subject := range subjects {
			list, err := tx.Stories(subject, mostStories)
			if err != nil {
				return err
			}
			for _, one := range list {
				if key := one.LotOID + one.When.String(); !told[key] {
					told[key] = true
					out = append(out, one)
				}
			}
		}
		return nil
	})
	return out, err
}
