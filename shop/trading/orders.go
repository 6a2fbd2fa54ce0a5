package trading

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/selling"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/ledger"
	"ashshelf/soap/market"
	"ashshelf/soap/sale"
	"ashshelf/store"
)

// Order is one revision of an order, with what became of it.
type Order struct {
	store.Revision
	sale.Order
	No    int64
	Moves []store.OrderMove
	Buyer store.Buyer // its name is empty when it was blanked
}

// OrderName is what an order is called.
func OrderName(no int64) string { return fmt.Sprintf("Order %d", no) }

// Called is what it is called.
func (o Order) Called() string { return OrderName(o.No) }

// For is whose it is: the name, or the key where that was blanked.
func (o Order) For() string {
	if o.Buyer.Name != "" {
		return o.Buyer.Name
	}
	return o.Buyer.Key
}

// moves are what became of its bars, as the core has it.
func (o Order) moves() (out []sale.Move) {
	for _, m := range o.Moves {
		out = append(out, m.Move)
	}
	return out
}

// Stage is how far it is.
func (o Order) Stage() sale.Stage { return o.Order.Stage(o.moves()) }

// Owed is how many bars of each line are still to be sent.
func (o Order) Owed() []int { return o.Order.Owed(o.moves()) }

// Standings is where its bars are.
func (o Order) Standings() map[sale.Bars]sale.Standing { return sale.Standings(o.moves()) }

func asOrder(r store.Revision) (Order, error) {
	body, err := document.Decode("order", document.ReadSaleOrder, r.Body)
	return Order{Revision: r, Order: body}, err
}

// SaleOrders are the newest revisions of all orders, the one that is due first at the top, those that are done last.
func (t *Trader) SaleOrders(ctx context.Context) (out []Order, err error) {
	err = t.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = ordersIn(tx)
		return err
	})
	return out, err
}

func ordersIn(tx *store.Tx) ([]Order, error) {
	revisions, err := tx.Latest(store.Orders)
	if err != nil {
		return nil, err
	}
	list, err := catalog.ReadAll(revisions, asOrder)
	if err != nil {
		return nil, err
	}
	moves, err := tx.OrderMoves("")
	if err != nil {
		return nil, err
	}
	of := map[int64][]store.OrderMove{}
	for _, m := range moves {
		of[m.Order] = append(of[m.Order], m)
	}
	numbers, err := tx.OrderNumbers()
	if err != nil {
		return nil, err
	}
	buyers, err := tx.Buyers()
	if err != nil {
		return nil, err
	}
	byKey := map[string]store.Buyer{}
	for _, b := range buyers {
		byKey[b.Key] = b
	}
	for i := range list {
		o := &list[i]
		o.No, o.Buyer = numbers[o.OID], byKey[o.Order.Buyer]
		o.Moves = of[o.No]
	}
	slices.SortStableFunc(list, func(a, b Order) int {
		done := func(o Order) int {
			if o.Stage() == sale.Done {
				return 1
			}
			return 0
		}
		if d := done(a) - done(b); d != 0 {
			return d
		}
		if done(a) == 1 {
			return strings.Compare(b.Due, a.Due)
		}
		return strings.Compare(a.Due, b.Due)
	})
	return list, nil
}

func orderIn(tx *store.Tx, oid string) (Order, error) {
	list, err := ordersIn(tx)
	if err != nil {
		return Order{}, err
	}
	i := slices.IndexFunc(list, func(o Order) bool { return o.OID == oid })
	if i < 0 {
		return Order{}, fmt.Errorf("order %s: %w", oid, store.ErrNotFound)
	}
	return list[i], nil
}

// Buyers are those who buy, by name.
func (t *Trader) Buyers(ctx context.Context) (out []store.Buyer, err error) {
	err = t.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Buyers()
		return err
	})
	return out, err
}

// NewBuyer is somebody who was not there before: the name, and how to reach her.
type NewBuyer struct{ Name, Contact string }

func (b *NewBuyer) check() (p caution.Problems) {
	b.Name, b.Contact = strings.Join(strings.Fields(b.Name), " "), strings.TrimSpace(b.Contact)
	if b.Name == "" {
		p.Add("buyer_name", "say who it is")
	}
	p.Name("buyer_name", b.Name)
	p.Name("buyer_contact", strings.ReplaceAll(b.Contact, "\n", " "))
	return p
}

// KeepSaleOrder makes a new revision of an order, or a new one when base is 0; of a buyer who is known by a key, or a new one
// where that is empty.
func (t *Trader) KeepSaleOrder(ctx context.Context, act journal.Act, oid string, base int, o sale.Order, who NewBuyer) (string, error) {
	o.Channel, o.Note = strings.TrimSpace(o.Channel), strings.TrimSpace(o.Note)
	var p caution.Problems
	anew := o.Buyer == ""
	if anew {
		p = who.check()
		o.Buyer = "new"
	}
	p = append(p, o.Check()...)
	if err := p.Err(); err != nil {
		return "", err
	}
	return t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if anew {
			if err := c.Record("buyer", func(entry int64) (err error) {
				if o.Buyer, err = c.AddBuyer(entry, journal.NewOID()); err != nil {
					return err
				}
				return c.NameBuyer(entry, o.Buyer, who.Name, who.Contact)
			}); err != nil {
				return "", err
			}
		}
		if err := t.checkOrder(c, oid, base, o); err != nil {
			return "", err
		}
		body, err := document.Encode(o)
		if err != nil {
			return "", err
		}
		if base == 0 {
			oid = journal.NewOID()
		}
		return oid, c.Record("order", func(entry int64) error {
			if base == 0 {
				if err := c.AddDocument(store.Orders, entry, oid, ""); err != nil {
					return err
				}
			}
			return c.AddRevision(store.Orders, entry, oid, base+1, o.Buyer, "", body)
		})
	})
}

// checkOrder holds a revision against what is known: its buyer, its products, and what was sent already.
func (t *Trader) checkOrder(c *journal.Change, oid string, base int, o sale.Order) error {
	buyers, err := c.Buyers()
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(buyers, func(b store.Buyer) bool { return b.Key == o.Buyer }) {
		return problem("buyer", "nobody has the key “%s”", o.Buyer)
	}
	products, err := selling.ProductsIn(c.Tx)
	if err != nil {
		return err
	}
	for i, l := range o.Lines {
		if !slices.ContainsFunc(products, func(p selling.Product) bool { return p.OID == l.Product }) {
			return problem(fmt.Sprintf("lines[%d].product", i), "this product is not known")
		}
	}
	if base == 0 {
		return nil
	}
	was, err := orderIn(c.Tx, oid)
	if err != nil {
		return err
	}
	if was.Number != base {
		return &journal.Conflict{What: was.Called(), Who: was.Who, When: was.Entry.Recorded}
	}
	if len(was.Moves) > 0 && (was.Terms != o.Terms || was.Order.Buyer != o.Buyer) {
		return problem("terms", "bars of it were sent: whose it is, and on which terms, stands")
	}
	for _, l := range was.Lines {
		sent := 0
		for of, s := range was.Standings() {
			if of.Product == l.Product {
				sent += s.Sent
			}
		}
		i := slices.IndexFunc(o.Lines, func(one sale.Line) bool { return one.Product == l.Product })
		switch {
		case sent > 0 && i < 0:
			return problem("lines", "%d bars of a line that is gone now were sent", sent)
		case sent > 0 && o.Lines[i].Bars < sent:
			return problem(fmt.Sprintf("lines[%d].bars", i), "%d were sent already", sent)
		}
	}
	return nil
}

// Filling is an order with its box and what could go into it.
type Filling struct {
	Order
	Shelves []Shelf
	Box     []market.Boxed // to be sent, without what stands with the buyer or waits
	Papers  []Paper
	Names   map[string]string // of all products, by identity
	Today   string
}

// Paper is a paper of an order.
type Paper struct {
	store.SaleDocument
	sale.Document
}

// Called is its number as it is printed.
func (p Paper) Called() string { return PaperName(p.SaleDocument.Kind, p.SaleDocument.Number) }

// PaperName writes the number of a paper.
func PaperName(k sale.Kind, number int) string { return fmt.Sprintf("%s-%04d", k.Letter(), number) }

// Filling reads an order.
func (t *Trader) Filling(ctx context.Context, oid string) (out Filling, err error) {
	err = t.Read(ctx, func(tx *store.Tx) error {
		out, err = t.fillingIn(tx, oid)
		return err
	})
	return out, err
}

func (t *Trader) fillingIn(tx *store.Tx, oid string) (out Filling, err error) {
	if out.Order, err = orderIn(tx, oid); err != nil {
		return out, err
	}
	stock, err := t.seller.ReadyStockIn(tx)
	if err != nil {
		return out, err
	}
	out.Today, out.Names = stock.Today, map[string]string{}
	for _, p := range stock.Products {
		out.Names[p.OID] = p.Name
	}
	box, err := boxIn(tx, store.Orders, oid)
	if err != nil {
		return out, err
	}
	out.Box = out.toSend(box)
	for _, s := range shelvesOf(stock, out.Box, stock.Today) {
		if slices.ContainsFunc(out.Lines, func(l sale.Line) bool { return l.Product == s.Product.OID }) {
			out.Shelves = append(out.Shelves, s)
		}
	}
	out.Papers, err = papersIn(tx, oid, "")
	return out, err
}

// toSend is what of a box is not with the buyer and did not come back: what is on sale or return is still the maker's, and
// stays put by.
func (o Order) toSend(box []market.Boxed) (out []market.Boxed) {
	standing := o.Standings()
	for _, b := range box {
		if o.Terms == sale.Return {
			s := standing[sale.Bars{Product: b.Product, Lot: b.Lot, Kind: b.Kind}]
			b.Bars -= s.With(o.Terms) + s.Waiting()
		}
		if b.Bars > 0 {
			out = append(out, b)
		}
	}
	return out
}

func papersIn(tx *store.Tx, order, oid string) (out []Paper, err error) {
	list, err := tx.SaleDocuments(order, oid)
	if err != nil {
		return nil, err
	}
	for _, one := range list {
		body, err := document.Decode("paper", document.ReadSaleDocument, one.Body)
		if err != nil {
			return nil, err
		}
		out = append(out, Paper{one, body})
	}
	return out, nil
}

// Paper is one paper, with who it goes to as far as that is still known.
func (t *Trader) Paper(ctx context.Context, oid string) (p Paper, who store.Buyer, err error) {
	err = t.Read(ctx, func(tx *store.Tx) error {
		list, err := papersIn(tx, "", oid)
		if err != nil {
			return err
		}
		if len(list) == 0 {
			return fmt.Errorf("paper %s: %w", oid, store.ErrNotFound)
		}
		p = list[0]
		buyers, err := tx.Buyers()
		for _, b := range buyers {
			if b.Key == p.Buyer {
				who = b
			}
		}
		return err
	})
	return p, who, err
}

// PackOrder has so many bars of each lot in the box of an order.
func (t *Trader) PackOrder(ctx context.Context, act journal.Act, oid string, list []Packed) error {
	_, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		o, err := orderIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		standing := o.Standings()
		for i, one := range list { // what stands with the buyer is put by, too
			if s := standing[sale.Bars{Product: one.Product, Lot: one.Lot, Kind: one.Kind}]; o.Terms == sale.Return {
				list[i].Bars += s.With(o.Terms) + s.Waiting()
			}
		}
		return oid, t.packIn(c, store.Orders, oid, selling.For{Kind: "order", Name: o.Called(), Day: o.Due}, list)
	})
	return err
}

// Send sends what is in the box of an order, with a paper: an invoice of what is bought, a delivery note of what is on
// sale or return. It may be a part of the order.
func (t *Trader) Send(ctx context.Context, act journal.Act, oid string) (paper string, err error) {
	return t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		f, err := t.fillingIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if len(f.Box) == 0 {
			return "", problem("send", "nothing is packed")
		}
		kind := sale.Invoice
		if f.Terms == sale.Return {
			kind = sale.Note
		}
		var d []paperBars
		for _, b := range f.Box {
			d = append(d, paperBars{sale.Bars{Product: b.Product, Lot: b.Lot, Kind: b.Kind}, b.Code, b.Bars})
		}
		return t.settle(c, f, kind, sale.Sent, d, "")
	})
}

// paperBars are bars on a paper.
type paperBars struct {
	sale.Bars
	Code  string
	Count int
}

// settle writes a paper for bars, and what becomes of them: they are sold, or come back.
func (t *Trader) settle(c *journal.Change, f Filling, kind sale.Kind, what sale.What, list []paperBars, note string) (string, error) {
	rules, err := selling.SaleRulesIn(c.Tx)
	if err != nil {
		return "", err
	}
	settings, err := c.Shop()
	if err != nil {
		return "", err
	}
	labels, err := selling.LabelRulesIn(c.Tx)
	if err != nil {
		return "", err
	}
	d := sale.Document{Kind: kind, On: f.Today, Address: labels.Address, Buyer: f.Order.Order.Buyer, Order: f.No, Terms: f.Terms,
		Percent: rules.Tax, Currency: settings.Currency, Text: rules.Terms}
	for _, b := range list {
		d.Add(f.Names[b.Product], b.Code, b.Count, f.Price(b.Product))
	}
	d.Tax = rules.TaxIn(d.Total)
	body, err := document.Encode(d)
	if err != nil {
		return "", err
	}
	one := store.SaleDocument{OID: journal.NewOID(), Kind: kind, Order: f.OID, Body: body}
	if err := c.Record("paper", func(entry int64) (err error) {
		one.Number, err = c.AddSaleDocument(entry, one)
		return err
	}); err != nil {
		return "", err
	}
	var weights []int64
	for _, b := range list {
		weights = append(weights, f.Price(b.Product)*int64(b.Count))
	}
	total := d.Total
	if kind == sale.Credit {
		total = -total
	}
	whole := rules.Of(f.Channel, total, "")
	amounts, taxes, fees := cost.Split(whole.Amount, weights), cost.Split(whole.Tax, weights), cost.Split(whole.Fee, weights)
	for i, b := range list {
		taken := sale.Taken{Amount: amounts[i], Tax: taxes[i], Fee: fees[i]}
		if err := t.moveOrdered(c, f, what, b, taken, PaperName(kind, one.Number), note); err != nil {
			return "", err
		}
	}
	return one.OID, nil
}

// moveOrdered writes what becomes of bars of an order, in the order and in their lot.
func (t *Trader) moveOrdered(c *journal.Change, f Filling, what sale.What, b paperBars, taken sale.Taken, paper, note string) error {
	if err := sale.May(f.Terms, f.Standings()[b.Bars], what, b.Count); err != nil {
		return problem(OrderField(what, b.Bars), "%s", err)
	}
	var entry int64
	if err := c.Record("order move", func(id int64) error {
		entry = id
		return c.AddOrderMove(id, f.OID, sale.Move{Bars: b.Bars, What: what, Count: b.Count}, paper, note)
	}); err != nil {
		return err
	}
	box, err := c.Box(store.Orders, f.OID)
	if err != nil {
		return err
	}
	s := selling.Sale{Kind: b.Kind, Product: b.Product, For: box.OID, Bars: b.Count, Channel: f.Channel, Buyer: f.Order.Order.Buyer,
		Event: f.Called(), Order: f.OID, Note: paper}
	theirs := f.Terms == sale.Bought // what was sent is the buyer's
	back := "came back from " + f.Called()
	switch {
	case what == sale.Sent && theirs, what == sale.Sold:
		s.Reason, s.Taken, s.Gone = ledger.Sold, &taken, what == sale.Sold
		return atField(OrderField(what, b.Bars), t.seller.SellIn(c, b.Lot, s))
	case what == sale.Returned && theirs:
		return c.AddBarSale(entry, store.BarSale{Lot: b.Lot, Kind: b.Kind, ProductOID: b.Product, Bars: -b.Count, Channel: f.Channel,
			Taken: taken}, "", f.OID)
	case what == sale.JudgedSound && theirs:
		return t.seller.BringBackIn(c, b.Lot, b.Kind, b.Count, back+", sound")
	case what == sale.JudgedSound:
		return t.seller.FreeIn(c, b.Lot, b.Kind, b.Product, box.OID, b.Count, back+", sound")
	case what == sale.JudgedSpoiled && !theirs, what == sale.JudgedTester && !theirs:
		s.Reason, s.Gone = ledger.Spoiled, true
		if what == sale.JudgedTester {
			s.Reason = ledger.TestUse
		}
		return t.seller.SellIn(c, b.Lot, s)
	}
	return nil
}

// OrderField is the field in which a number of bars is typed that something becomes of.
func OrderField(what sale.What, b sale.Bars) string {
	return string(what) + "|" + b.Product + "|" + b.Lot + "|" + string(b.Kind.Grade) + "|" + b.Kind.Size
}

// Happened is what became of bars that were sent.
type Happened struct {
	sale.Bars
	What  sale.What
	Count int
}

// Tell writes what became of bars that were sent: sold at the buyer's, come back, or judged when somebody had looked at
// them. What was sold on sale or return gets an invoice, what was bought and comes back a credit note.
func (t *Trader) Tell(ctx context.Context, act journal.Act, oid string, list []Happened, note string) (paper string, err error) {
	note = strings.TrimSpace(note)
	var p caution.Problems
	p.Name("note", note)
	if len(list) == 0 {
		p.Add("order", "type how many")
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		f, err := t.fillingIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		codes := map[string]string{}
		for _, m := range f.Moves {
			codes[m.Lot] = m.Code
		}
		var sold, back []paperBars
		for _, h := range list {
			b := paperBars{h.Bars, codes[h.Lot], h.Count}
			if err := sale.May(f.Terms, f.Standings()[h.Bars], h.What, h.Count); err != nil {
				p.Add(OrderField(h.What, h.Bars), "%s", err)
				continue
			}
			switch {
			case h.What == sale.Sold:
				sold = append(sold, b)
			case h.What == sale.Returned && f.Terms == sale.Bought:
				back = append(back, b)
			default:
				if err := t.moveOrdered(c, f, h.What, b, sale.Taken{}, "", note); err != nil {
					return "", err
				}
				f.Moves = append(f.Moves, store.OrderMove{Move: sale.Move{Bars: h.Bars, What: h.What, Count: h.Count}})
			}
		}
		if err := p.Err(); err != nil {
			return "", err
		}
		if len(sold) > 0 {
			if paper, err = t.settle(c, f, sale.Invoice, sale.Sold, sold, note); err != nil {
				return "", err
			}
		}
		if len(back) > 0 {
			if paper, err = t.settle(c, f, sale.Credit, sale.Returned, back, note); err != nil {
				return "", err
			}
		}
		return paper, nil
	})
}

// NameBuyer writes what a buyer is called now.
func (t *Trader) NameBuyer(ctx context.Context, act journal.Act, key string, who NewBuyer) error {
	if err := who.check().Err(); err != nil {
		return err
	}
	_, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return key, c.Record("buyer", func(entry int64) error { return c.NameBuyer(entry, key, who.Name, who.Contact) })
	})
	return err
}

// Blank takes the name of a buyer out for good. Orders, papers and traces keep the key.
func (t *Trader) Blank(ctx context.Context, act journal.Act, key, why string) error {
	why = strings.TrimSpace(why)
	var p caution.Problems
	p.Name("why", why)
	if err := p.Err(); err != nil {
		return err
	}
	if _, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		buyers, err := c.Buyers()
		if err != nil {
			return "", err
		}
		if !slices.ContainsFunc(buyers, func(b store.Buyer) bool { return b.Key == key }) {
			return "", fmt.Errorf("buyer %s: %w", key, store.ErrNotFound)
		}
		return key, c.Record("buyer blanked", func(entry int64) error { return c.BlankBuyer(entry, key, why) })
	}); err != nil {
		return err
	}
	return t.SweepNames(ctx)
}

// SweepNames takes out the names of buyers that are kept no longer: those whose last order was wanted more than the shop's
// days ago, and those that were blanked before, where a copy has brought them back.
func (t *Trader) SweepNames(ctx context.Context) error {
	var blanked []string
	err := t.Write(ctx, func(tx *store.Tx) error {
		settings, err := tx.Shop()
		if errors.Is(err, store.ErrNotFound) {
			return nil // nobody has founded it yet
		}
		if err != nil {
			return err
		}
		zone, err := time.LoadLocation(settings.Zone)
		if err != nil {
			return err
		}
		rules, err := selling.SaleRulesIn(tx)
		if err != nil {
			return err
		}
		if blanked, err = tx.Blanked(); err != nil {
			return err
		}
		gone := slices.Concat(blanked, t.Life().Blanked)
		list, err := tx.Buyers()
		if err != nil {
			return err
		}
		oldest := t.Now(zone).AddDate(0, 0, -rules.KeepNames).Format(time.DateOnly)
		for _, b := range list {
			if b.Name == "" || !slices.Contains(gone, b.OID) && (rules.KeepNames == 0 || b.Last >= oldest) {
				continue
			}
			if err := tx.ForgetBuyer(b.Key); err != nil {
				return err
			}
			blanked = append(blanked, b.OID)
		}
		return nil
	})
	if err != nil {
		return err
	}
	return t.RememberBlanked(blanked)
}

// OrderHistory returns all revisions of an order, newest first, each with what became of it.
func (t *Trader) OrderHistory(ctx context.Context, oid string) (out []Order, err error) {
	err = t.Read(ctx, func(tx *store.Tx) error {
		o, err := orderIn(tx, oid)
		if err != nil {
			return err
		}
		revisions, err := tx.History(store.Orders, oid)
		if err != nil {
			return err
		}
		out, err = catalog.ReadAll(revisions, asOrder)
		for i := range out {
			out[i].No, out[i].Moves, out[i].Buyer = o.No, o.Moves, o.Buyer
		}
		return err
	})
	return out, err
}
