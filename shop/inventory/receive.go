package inventory

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// MostAmount is the most that one delivery can be: a tonne, or a million pieces.
const MostAmount = 1_000_000_000

// Receive takes deliveries into the books, all or none: against an order, or by themselves when order is empty.
func (s *Stores) Receive(ctx context.Context, act journal.Act, order string, list []inventory.Receipt) (oids []string, err error) {
	if err := checkReceipts(list).Err(); err != nil {
		return nil, err
	}
	first, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		settings, err := c.Shop()
		if err != nil {
			return "", err
		}
		for _, r := range list {
			oid, err := receive(c, r, order, settings.TaxBack)
			if err != nil {
				return "", err
			}
			oids = append(oids, oid)
		}
		return oids[0], nil
	})
	if err == nil && oids == nil { // it stands already
		oids = []string{first}
	}
	return oids, err
}

func checkReceipts(list []inventory.Receipt) caution.Problems {
	var p caution.Problems
	if len(list) == 0 {
		p.Add("amount", "type what came of at least one line")
	}
	for i, r := range list {
		at := ""
		if len(list) > 1 || r.Line > 0 {
			at = fmt.Sprintf("lines[%d].", max(0, r.Line-1))
			if r.Line == 0 {
				at = fmt.Sprintf("lines[%d].", i)
			}
		}
		if r.Key == "" {
			p.Add(at+"name", "say what it is")
		}
		for field, v := range map[string]string{"name": r.Name, "supplier": r.Supplier, "code": r.Code, "place": r.Place} {
			p.Name(at+field, strings.TrimSpace(v))
		}
		if strings.TrimSpace(r.Supplier+r.Code) == "" {
			p.Add(at+"supplier", "name the supplier, or the code on the container")
		}
		switch {
		case r.Amount <= 0:
			p.Add(at+"amount", "say how much came, more than nothing")
		case r.Amount > MostAmount:
			p.Add(at+"amount", "that is more than a tonne: check the unit")
		case r.Damaged < 0 || r.Damaged > r.Amount:
			p.Add(at+"damaged", "no more can be damaged than came")
		}
		if r.Purity != 0 {
			caution.Purity.Check(&p, at+"purity", "the purity", r.Purity)
		}
		checkSAP(&p, at+"sap", r.Key, r.SAP)
		checkDays(&p, at, r.Received, r.BestBefore, r.Opened)
	}
	return p
}

func checkDays(p *caution.Problems, at, received, bestBefore, opened string) {
	for field, day := range map[string]string{"received": received, "best_before": bestBefore, "opened": opened} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			p.Add(at+field, "“%s” is not a day; write it like 2026-03-14", day)
		}
	}
	if received != "" && bestBefore != "" && bestBefore < received {
		p.Add(at+"best_before", "it would be past its date before it came: check the year")
	}
}

// checkSAP refuses a saponification value that the fat cannot have: it would hide that a pot is lye-heavy.
func checkSAP(p *caution.Problems, at string, k plan.Key, sap float64) {
	if sap == 0 {
		return
	}
	caution.SAPValue.Check(p, at, "the saponification value", sap)
	key, is := k.Fat()
	if !is {
		p.Add(at, "only fats have a saponification value")
		return
	}
	if f, err := fat.Find(key); err == nil {
		f.SAP = sap
		if doubt, is := f.AdviseSAP(); is && (doubt.Level == caution.Block || doubt.Code == "fats.sap-naoh") && len(*p) == 0 {
			p.Add(at, "%s", doubt.Text())
		}
	}
}

func receive(c *journal.Change, r inventory.Receipt, order string, taxBack bool) (oid string, err error) {
	d := inventory.Delivery{
		Bought: lot.Bought{
			OID: journal.NewOID(), Item: r.Key, Name: strings.TrimSpace(r.Name), Supplier: strings.TrimSpace(r.Supplier),
			Code: strings.TrimSpace(r.Code), Received: r.Received, Purity: r.Purity, SAP: r.SAP,
		},
		Unit: r.Unit, Quantity: r.Amount, Opening: r.Opening,
	}
	if err := c.Record("ingredient lot", func(entry int64) error { return c.AddBought(entry, d.Bought) }); err != nil {
		return "", err
	}
	if d.ID, err = c.IngredientLotID(d.OID); err != nil {
		return "", err
	}
	return d.OID, enter(c, d, r, order, taxBack)
}

// enter puts an ingredient lot into the books with what came of it.
func enter(c *journal.Change, d inventory.Delivery, r inventory.Receipt, order string, taxBack bool) error {
	if err := c.Record("delivery", func(entry int64) error { return c.AddDelivery(entry, d, order, r.Line) }); err != nil {
		return err
	}
	if err := c.Record("delivery price", func(entry int64) error {
		return c.AddDeliveryPrice(entry, d.ID, r.Goods, r.Freight, r.Tax, taxBack, "")
	}); err != nil {
		return err
	}
	word := store.DeliveryWord{}
	for said, to := range map[*string]**string{&r.BestBefore: &word.BestBefore, &r.Opened: &word.Opened, &r.Place: &word.Place} {
		if *said = strings.TrimSpace(*said); *said != "" {
			*to = said
		}
	}
	if word != (store.DeliveryWord{}) {
		if err := c.Record("delivery word", func(entry int64) error { return c.AddDeliveryWord(entry, d.ID, word) }); err != nil {
			return err
		}
	}
	came := inventory.Move{What: inventory.Received, Change: r.Amount, Priced: r.Amount}
	if err := c.Record("delivery move", func(entry int64) error { return c.MoveDelivery(entry, d.ID, came, store.MoveOf{}) }); err != nil {
		return err
	}
	if r.Damaged == 0 {
		return nil
	}
	lost := inventory.Move{What: inventory.Damaged, Change: -r.Damaged, Priced: -r.Damaged}
	return c.Record("delivery move", func(entry int64) error { return c.MoveDelivery(entry, d.ID, lost, store.MoveOf{}) })
}

// BookIn takes a delivery into the books that was only named at the bench so far; what was weighed of it since
// is taken out of it with it.
func (s *Stores) BookIn(ctx context.Context, act journal.Act, oid string, r inventory.Receipt) error {
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		if d.Booked {
			return &lot.NotNow{Why: "this delivery is in the books already"}
		}
		r.Key, r.Name, r.Supplier, r.Code = d.Item, d.Name, d.Supplier, d.Code
		r.Received, r.Purity, r.SAP = d.Received, d.Purity, d.SAP
		r.Unit = inventory.Milligrams
		if err := checkReceipts([]inventory.Receipt{r}).Err(); err != nil {
			return err
		}
		settings, err := c.Shop()
		if err != nil {
			return err
		}
		d.Unit, d.Quantity = r.Unit, r.Amount
		if err := enter(c, d, r, "", settings.TaxBack); err != nil {
			return err
		}
		weighed, err := c.WeighedFrom(d.ID)
		if err != nil {
			return err
		}
		for _, w := range weighed {
			if _, err := TakeFor(c, oid, w.MG, inventory.Weighed, store.MoveOf{Lot: w.Lot}, "before it was in the books"); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Stores) onDelivery(ctx context.Context, act journal.Act, oid string, do func(*journal.Change, inventory.Delivery) error) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		d, err := c.Delivery(oid)
		if err != nil {
			return "", err
		}
		return oid, do(c, d)
	})
	return err
}

func booked(d inventory.Delivery) error {
	if !d.Booked {
		return &lot.NotNow{Why: "this delivery was only named at the bench: take it into the books first, with how much came"}
	}
	return nil
}

// Leave records what left a delivery otherwise than into a pot: spilled, thrown away, used in the house, damaged,
// sent back, or used for packing.
// For packing, code is of the lot whose bars were packed, or empty.
func (s *Stores) Leave(
	ctx context.Context,
	act journal.Act,
	oid string,
	what inventory.What,
	amount int64,
	code, note string,
) error {
	var p caution.Problems
	if !slices.Contains(inventory.Leaves(), what) {
		p.Add("what", "choose what became of it")
	}
	if amount <= 0 {
		p.Add("amount", "say how much, more than nothing")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		if err := booked(d); err != nil {
			return err
		}
		if amount > d.Left {
			return caution.Problems{{Path: "amount", Text: "by the books there is less than that. Count it, then the books agree with it"}}
		}
		var of store.MoveOf
		if code = strings.TrimSpace(code); code != "" {
			if what != inventory.Packed {
				return caution.Problems{{Path: "lot", Text: "only packing is for a lot; leave it empty"}}
			}
			number, err := lot.ParseCode(code)
			heads, found := []store.LotHead(nil), err
			if err == nil {
				heads, found = c.LotHeads(store.LotsWhere{Number: number})
			}
			if found != nil || len(heads) == 0 {
				return caution.Problems{{Path: "lot", Text: fmt.Sprintf("there is no lot “%s”", code)}}
			}
			of.Lot = heads[0].ID
		}
		m := inventory.Move{What: what, Change: -amount, Priced: -d.Take(amount), Note: strings.TrimSpace(note)}
		return c.Record("delivery move", func(entry int64) error { return c.MoveDelivery(entry, d.ID, m, of) })
	})
}

// Count sets the books to what is there, with the reason of the difference.
func (s *Stores) Count(ctx context.Context, act journal.Act, oid string, is int64, why string) error {
	var p caution.Problems
	if is < 0 || is > MostAmount {
		p.Add("counted", "say what is there, nothing or more")
	}
	if why = strings.TrimSpace(why); why == "" {
		p.Add("count_why", "write why, such as spilled, a wrong tare, given away")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		if err := booked(d); err != nil {
			return err
		}
		if act.Seen != 0 && len(d.Moves) > 0 && d.Moves[len(d.Moves)-1].Entry > act.Seen {
			newest := d.Moves[len(d.Moves)-1]
			return &journal.Conflict{What: d.Name + " of " + d.Label(), Who: newest.Who, When: newest.At}
		}
		return count(c, d, is, why)
	})
}

// Settle says why the books were short at a pot.
func (s *Stores) Settle(ctx context.Context, act journal.Act, move int64, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why, such as the tin held more than it says"}}
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		open, err := c.DeliveryMoves(store.MovesWhere{Found: true})
		if err != nil {
			return "", err
		}
		for _, m := range open {
			if m.Entry == move {
				return m.OID, c.Record("delivery reason", func(entry int64) error { return c.AddDeliveryReason(entry, move, why) })
			}
		}
		return "", &lot.NotNow{Why: "somebody has said why already"}
	})
	return err
}

// Unsettled is what the books were short of, and nobody has said why.
func (s *Stores) Unsettled(ctx context.Context) (out []store.DeliveryMove, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.DeliveryMoves(store.MovesWhere{Found: true})
		return err
	})
	return out, err
}

// Reprice writes what a delivery cost after all: a later invoice, or a price that was not known. What was frozen
// before stays as it is, beside it.
func (s *Stores) Reprice(ctx context.Context, act journal.Act, oid string, goods *int64, freight, tax int64, why string) error {
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		if err := booked(d); err != nil {
			return err
		}
		if why = strings.TrimSpace(why); why == "" && d.Goods != nil {
			return caution.Problems{{Path: "price_why", Text: "write why the price is another one; both stay on record"}}
		}
		settings, err := c.Shop()
		if err != nil {
			return err
		}
		return c.Record("delivery price", func(entry int64) error {
			return c.AddDeliveryPrice(entry, d.ID, goods, freight, tax, settings.TaxBack, why)
		})
	})
}

// Mark notes what became known of a delivery: its date, when it was opened, where it stands. A nil field is not said.
func (s *Stores) Mark(ctx context.Context, act journal.Act, oid string, w store.DeliveryWord) error {
	var p caution.Problems
	text := func(v *string) string {
		if v == nil {
			return ""
		}
		return *v
	}
	checkDays(&p, "", "", text(w.BestBefore), text(w.Opened))
	p.Name("place", text(w.Place))
	if err := p.Err(); err != nil {
		return err
	}
	w.Status = nil
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		return c.Record("delivery word", func(entry int64) error { return c.AddDeliveryWord(entry, d.ID, w) })
	})
}

// AddPaper notes a certificate or an invoice whose file is there.
func (s *Stores) AddPaper(ctx context.Context, act journal.Act, oid string, paper inventory.Paper) error {
	return s.onDelivery(ctx, act, oid, func(c *journal.Change, d inventory.Delivery) error {
		return c.Record("delivery paper", func(entry int64) error { return c.AddDeliveryPaper(entry, d.ID, paper) })
	})
}

// Delivery returns a delivery with its moves.
func (s *Stores) Delivery(ctx context.Context, oid string) (d inventory.Delivery, m inventory.Material, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		if d, err = tx.Delivery(oid); err != nil {
			return err
		}
		m, err = MaterialIn(tx, d.Item, d.Name)
		return err
	})
	return d, m, err
}

// Order is an order to a supplier with what came of it.
type Order struct {
	store.SupplyOrder
	inventory.Order
	Came map[int]int64 // by line, from 1
}

// Open reports whether something is still to come.
func (o Order) Open() bool { return o.Status == "sent" }

// Orders returns the newest orders, or the one of an identity.
func (s *Stores) Orders(ctx context.Context, oid string) (out []Order, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		rows, err := tx.SupplyOrders(oid, 100)
		for _, r := range rows {
			body, err := document.Decode(fmt.Sprintf("order %d", r.Number), document.ReadOrder, r.Body)
			if err != nil {
				return err
			}
			came, err := tx.OrderLines(r.ID)
			if err != nil {
				return err
			}
			out = append(out, Order{r, body, came})
		}
		return err
	})
	if err == nil && oid != "" && len(out) == 0 {
		err = fmt.Errorf("order %s: %w", oid, store.ErrNotFound)
	}
	return out, err
}

// PlaceOrder writes an order to a supplier.
func (s *Stores) PlaceOrder(ctx context.Context, act journal.Act, supplier string, o inventory.Order) (oid string, err error) {
	p := o.Check()
	if supplier = strings.TrimSpace(supplier); supplier == "" {
		p.Add("supplier", "say who sells it")
	}
	p.Name("supplier", supplier)
	if err := p.Err(); err != nil {
		return "", err
	}
	text, err := document.Encode(o)
	if err != nil {
		return "", err
	}
	return s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		number, err := c.NextSupplyOrder()
		if err != nil {
			return "", err
		}
		oid := journal.NewOID()
		return oid, c.Record("supply order", func(entry int64) error {
			_, err := c.AddSupplyOrder(entry, oid, number, supplier, text)
			return err
		})
	})
}

// CloseOrder says that nothing more comes of an order, or that it was withdrawn.
func (s *Stores) CloseOrder(ctx context.Context, act journal.Act, oid, what, note string) error {
	if what != "closed" && what != "withdrawn" && what != "sent" {
		return caution.Problems{{Path: "what", Text: "choose what becomes of the order"}}
	}
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		rows, err := c.SupplyOrders(oid, 1)
		if err == nil && len(rows) == 0 {
			err = fmt.Errorf("order %s: %w", oid, store.ErrNotFound)
		}
		if err != nil {
			return "", err
		}
		return oid, c.Record("supply order word", func(entry int64) error {
			return c.AddSupplyOrderWord(entry, rows[0].ID, what, strings.TrimSpace(note))
		})
	})
	return err
}

// FilledFrom are the deliveries that a container was filled from; none where that was not recorded.
func (s *Stores) FilledFrom(ctx context.Context, container int64) (out []inventory.Delivery, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Deliveries(store.DeliveriesWhere{Stock: container})
		return err
	})
	return out, err
}

// DeliveriesOf are the deliveries that came of an order.
func (s *Stores) DeliveriesOf(ctx context.Context, order string) (out []inventory.Delivery, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Deliveries(store.DeliveriesWhere{Order: order})
		return err
	})
	return out, err
}

// Deliveries are all deliveries that ever came, without their moves.
func (s *Stores) Deliveries(ctx context.Context) (out []inventory.Delivery, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Deliveries(store.DeliveriesWhere{})
		return err
	})
	return out, err
}

// AllDeliveries are all deliveries that ever came, each with its moves.
func (s *Stores) AllDeliveries(ctx context.Context) (out []inventory.Delivery, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		if out, err = tx.Deliveries(store.DeliveriesWhere{}); err != nil {
			return err
		}
		at := map[int64]int{}
		for i, d := range out {
			at[d.ID] = i
		}
		moves, err := tx.DeliveryMoves(store.MovesWhere{})
		for _, m := range moves {
			i := at[m.Delivery]
			out[i].Moves = append(out[i].Moves, m.Move)
		}
		return err
	})
	return out, err
}
