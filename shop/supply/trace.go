package supply

import (
	"cmp"
	"context"
	"slices"

	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Trace is where a delivery went: into containers and jars, from them and by itself into lots, and from lots into
// others that took scraps or batter of them.
type Trace struct {
	Vessels []TracedVessel
	Lots    []TracedLot
}

// TracedVessel is a container or a jar that something of the delivery went into.
type TracedVessel struct {
	Name, Href string
	MG         int64 // of the delivery
}

// TracedLot is a lot that something of the delivery is in.
type TracedLot struct {
	*lot.Lot
	MG  int64  // of the delivery, as far as it was weighed; 0 for what came by way of another lot
	Via string // the container, jar or lot that it came by; empty when it was weighed into the pot
}

// Gone are the bars that left, by reason, and In those that are there.
func (t TracedLot) Gone() (out map[string]int) {
	out = map[string]int{}
	for _, m := range t.Moves {
		if m.Change < 0 {
			out[string(m.Reason)] -= m.Change
		}
	}
	return out
}

// TraceDelivery follows a delivery to every lot.
func (b *Buyer) TraceDelivery(ctx context.Context, oid string) (out Trace, err error) {
	err = b.Read(ctx, func(tx *store.Tx) error {
		d, err := tx.Delivery(oid)
		if err != nil {
			return err
		}
		out, err = b.TraceIn(tx, d)
		return err
	})
	return out, err
}

// TraceIn is [Buyer.TraceDelivery] within a transaction.
func (b *Buyer) TraceIn(tx *store.Tx, d inventory.Delivery) (out Trace, err error) {
	direct, err := tx.LotsFrom(d.ID)
	if err != nil {
		return out, err
	}
	at := map[string]int{}
	add := func(oid string, mg int64, via string) error {
		if i, ok := at[oid]; ok {
			out.Lots[i].MG += mg
			return nil
		}
		l, err := b.reader.LotIn(tx, oid)
		if err != nil {
			return err
		}
		at[oid] = len(out.Lots)
		out.Lots = append(out.Lots, TracedLot{l, mg, via})
		return nil
	}
	for _, one := range direct {
		if err := add(one.Lot, one.MG, ""); err != nil {
			return out, err
		}
	}
	vessels, err := tx.VesselsFrom(d.ID)
	if err != nil {
		return out, err
	}
	for _, v := range vessels {
		out.Vessels = append(out.Vessels, TracedVessel{v.Name, v.Href(), v.MG})
		for _, drawn := range v.Lots {
			if err := add(drawn.Lot, v.MG*drawn.MG/max(1, v.Whole), v.Name); err != nil {
				return out, err
			}
		}
	}
	for i := 0; i < len(out.Lots); i++ { // the list grows as children are found
		for _, child := range out.Lots[i].Children {
			if err := add(child.OID, 0, "lot "+out.Lots[i].Code); err != nil {
				return out, err
			}
		}
	}
	slices.SortStableFunc(out.Lots, func(a, b TracedLot) int { return cmp.Compare(a.Number, b.Number) })
	return out, nil
}
