package stock

import (
	"context"
	"slices"
	"strings"

	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/soap/steep"
	"ashshelf/store"
)

// mostJars is how many infusions are looked through.
const mostJars = 200

// Infusions returns the jars that something is still to be done with, those that are ready to strain
// first, and after them the newest of the others.
func (k *Keeper) Infusions(ctx context.Context) (open, past []steep.Jar, err error) {
	err = k.Read(ctx, func(tx *store.Tx) error {
		list, err := tx.Infusions(mostJars)
		for _, j := range list {
			if j.Open() {
				open = append(open, j)
			} else {
				past = append(past, j)
			}
		}
		return err
	})
	slices.SortStableFunc(open, func(a, b steep.Jar) int { return a.Ready().Compare(b.Ready()) })
	return open, past, err
}

// InfusionsOf returns the jars of an oil that it can be drawn from, the oldest first.
func (k *Keeper) InfusionsOf(ctx context.Context, fatKey string) ([]steep.Jar, error) {
	open, _, err := k.Infusions(ctx)
	open = slices.DeleteFunc(open, func(j steep.Jar) bool { return j.Fat != fatKey || j.Steeping() })
	return open, err
}

// StartInfusion records that a jar was started. The oil is found by any of its names; from is the delivery that it
// is out of, or empty.
func (k *Keeper) StartInfusion(ctx context.Context, act journal.Act, j steep.Jar, from string) error {
	j.Name, j.Herb, j.Note = strings.TrimSpace(j.Name), strings.TrimSpace(j.Herb), strings.TrimSpace(j.Note)
	if j.Fat = j.Name; j.Name != "" {
		if known, err := fat.Find(j.Name); err == nil {
			j.Fat, j.Name = known.Key(), known.Name
		}
	}
	if err := j.Check().Err(); err != nil {
		return err
	}
	_, err := k.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		j.OID = journal.NewOID()
		if err := c.Record("infusion", func(entry int64) error { return c.AddInfusion(entry, j) }); err != nil {
			return "", err
		}
		return j.OID, stores.OutOf(c, plan.FatKeyOf(j.Fat), j.Name, from, inventory.MG(j.OilG), inventory.Steeped,
			store.MoveOf{Infusion: j.OID}, "from")
	})
	return err
}

// ToInfusion records what happened to a jar; from is the delivery of plain oil that it is topped up from, or empty.
func (k *Keeper) ToInfusion(ctx context.Context, act journal.Act, oid string, e steep.Event, from string) error {
	_, err := k.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if err := Happened(c, oid, 0, e); err != nil || e.What != steep.ToppedUp {
			return oid, err
		}
		j, err := c.Infusion(oid)
		if err != nil {
			return "", err
		}
		return oid, stores.OutOf(c, plan.FatKeyOf(j.Fat), j.Name, from, inventory.MG(e.Grams), inventory.Steeped,
			store.MoveOf{Infusion: oid}, "from")
	})
	return err
}

// Happened writes what happened to a jar, for a lot or for none, within a change.
func Happened(c *journal.Change, oid string, lotID int64, e steep.Event) error {
	j, err := c.Infusion(oid)
	if err != nil {
		return err
	}
	e.Note = strings.TrimSpace(e.Note)
	if err := j.May(e).Err(); err != nil {
		return err
	}
	return c.Record("infusion", func(entry int64) error { return c.AddInfusionEvent(entry, oid, lotID, e) })
}
