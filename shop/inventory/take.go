package inventory

import (
	"errors"
	"fmt"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// Short is what the books were short of when somebody took from a delivery.
type Short struct {
	Delivery inventory.Delivery
	Amount   int64
}

// Take takes an amount out of a delivery within a change, under a head that is written already. When the books
// hold less, what is missing is brought in first, without a cost. A delivery that is in no book, or none, gives
// nothing. Whether it may be used is asked before, by [MayTake]: what is put right afterwards was taken in any case.
func Take(c *journal.Change, oid string, entry, amount int64, what inventory.What, of store.MoveOf, note string) (*Short, error) {
	if oid == "" || amount == 0 {
		return nil, nil
	}
	d, err := c.Delivery(oid)
	if err != nil {
		return nil, err
	}
	if !d.Booked {
		return nil, nil
	}
	if amount < 0 {
		return nil, giveBack(c, d, entry, -amount, what, of, note)
	}
	var short *Short
	if missing := amount - d.Left; missing > 0 {
		found := inventory.Move{What: inventory.Found, Change: missing}
		if err := c.Record("delivery move", func(head int64) error { return c.MoveDelivery(head, d.ID, found, of) }); err != nil {
			return nil, err
		}
		short = &Short{d, missing}
	}
	return short, c.MoveDelivery(entry, d.ID, inventory.Move{What: what, Change: -amount, Priced: -d.Take(amount), Note: note}, of)
}

// giveBack puts back what was taken before for the same purpose, what was in no book first.
func giveBack(c *journal.Change, d inventory.Delivery, entry, amount int64, what inventory.What, of store.MoveOf, note string) error {
	moves, err := c.DeliveryMoves(store.MovesWhere{Delivery: d.ID, Lot: of.Lot, Stock: of.Stock, Jar: of.Infusion})
	if err != nil {
		return err
	}
	var out, priced int64
	for _, m := range moves {
		if m.What == what {
			out, priced = out-m.Change, priced-m.Priced
		}
	}
	return c.MoveDelivery(entry, d.ID,
		inventory.Move{What: what, Change: amount, Priced: inventory.GiveBack(amount, out, priced), Note: note}, of)
}

// MayTake refuses what is blocked, with the reason.
func MayTake(d inventory.Delivery) error {
	if d.Open() {
		return nil
	}
	why := d.Why
	if why != "" {
		why = ": " + why
	}
	return caution.Problems{{Path: "from", Text: fmt.Sprintf("%s is %s%s. Choose another delivery", strings.TrimSpace(
		d.Name+" of "+d.Label()), d.Status.Short(), why)}}
}

// OutOf takes an amount of a material out of a delivery under a head of its own; a delivery of something else is
// refused, at a field.
func OutOf(c *journal.Change, k plan.Key, name, oid string, amount int64, what inventory.What, of store.MoveOf, field string) error {
	if oid == "" {
		return nil
	}
	d, err := c.Delivery(oid)
	if errors.Is(err, store.ErrNotFound) {
		return caution.Problems{{Path: field, Text: "choose a delivery from the list"}}
	}
	if err != nil {
		return err
	}
	m, err := MaterialIn(c.Tx, k, name)
	if err != nil {
		return err
	}
	if !m.Is(d.Item) {
		return caution.Problems{{Path: field, Text: "that delivery is " + d.Name + ", and this is " + name}}
	}
	if err := MayTake(d); err != nil {
		return caution.Problems{{Path: field, Text: err.Error()}}
	}
	_, err = TakeFor(c, oid, amount, what, of, "")
	return err
}

// TakeFor is [Take] under a head of its own.
func TakeFor(c *journal.Change, oid string, amount int64, what inventory.What, of store.MoveOf, note string) (short *Short, err error) {
	if oid == "" || amount == 0 {
		return nil, nil
	}
	err = c.Record("delivery move", func(entry int64) error {
		short, err = Take(c, oid, entry, amount, what, of, note)
		return err
	})
	return short, err
}

// Emptied counts a delivery to nothing, when its tin turned out to be empty; what the books still had is what
// somebody explains.
func Emptied(c *journal.Change, oid, note string) error {
	d, err := c.Delivery(oid)
	if err != nil || !d.Booked || d.Left == 0 {
		return err
	}
	return count(c, d, 0, note)
}

// count sets a delivery to what is there.
func count(c *journal.Change, d inventory.Delivery, is int64, note string) error {
	m := inventory.Move{What: inventory.Counted, Change: is - d.Left, Note: note}
	if m.Change < 0 {
		m.Priced = -d.Take(-m.Change)
	}
	return c.Record("delivery move", func(entry int64) error { return c.MoveDelivery(entry, d.ID, m, store.MoveOf{}) })
}
