package selling

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/product"
	"ashshelf/soap/sale"
	"ashshelf/store"
)

// ReadyStock is what there is to sell.
type ReadyStock struct {
	Products     []Product
	Available    map[string][]product.Availability // of each product, by its identity
	Lots         map[string]*lot.Lot               // by identity
	Unassigned   []product.OnHand                  // bars that no product takes
	Piles        []product.OnHand                  // all bars
	Photos       map[string]string                 // file of a picture, by the product's identity
	Reservations []store.Reservation
	Rules        label.Rules
	Today        string
}

// Name is what a product is called, by its identity.
func (s ReadyStock) Name(oid string) string {
	for _, p := range s.Products {
		if p.OID == oid {
			return p.Name
		}
	}
	return ""
}

// LeftOver are the bars that no product takes, and those that are put by as they are, or may go to nobody: the oldest
// first.
func (s ReadyStock) LeftOver() (out []product.OnHand) {
	for _, p := range slices.Backward(s.Piles) {
		nobodys := slices.ContainsFunc(s.Unassigned, func(n product.OnHand) bool { return n.Lot == p.Lot && n.Kind == p.Kind })
		asTheyAre := slices.ContainsFunc(p.Bound, func(b product.Bound) bool { return b.Product == "" })
		if nobodys || asTheyAre {
			out = append(out, p)
		}
	}
	return out
}

// ReadyStock reads what there is to sell, now and soon.
func (s *Seller) ReadyStock(ctx context.Context) (out ReadyStock, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = s.ReadyStockIn(tx)
		return err
	})
	return out, err
}

// ReadyStockIn is [Seller.ReadyStock] within a transaction.
func (s *Seller) ReadyStockIn(tx *store.Tx) (out ReadyStock, err error) {
	settings, err := tx.Shop()
	if err != nil {
		return out, err
	}
	zone, err := time.LoadLocation(settings.Zone)
	if err != nil {
		return out, err
	}
	now := s.Now(zone)
	out.Today, out.Lots = now.Format(time.DateOnly), map[string]*lot.Lot{}
	if out.Products, err = ProductsIn(tx); err != nil {
		return out, err
	}
	if out.Rules, err = LabelRulesIn(tx); err != nil {
		return out, err
	}
	if out.Photos, err = tx.ProductPhotos(); err != nil {
		return out, err
	}
	if out.Reservations, err = tx.Reservations(""); err != nil {
		return out, err
	}
	list, err := s.reader.LotsIn(tx, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}}, false)
	if err != nil {
		return out, err
	}
	var piles []product.OnHand
	byOID := map[string]product.Product{}
	for _, p := range out.Products {
		byOID[p.OID] = p.Product
	}
	for _, l := range list {
		out.Lots[l.OID] = l
		weighed := l
		if out.Rules.Assessed && l.Release != nil { // what was weighed is held against the assessment, as a sale does
			if weighed, err = s.reader.LotIn(tx, l.OID); err != nil {
				return out, err
			}
		}
		blocked, err := s.blocked(tx, out.Rules, weighed)
		if err != nil {
			return out, err
		}
		for _, k := range l.Cut.Kinds() {
			if l.Balance[k] == 0 || k.Grade == ledger.Tester {
				continue
			}
			pile := s.pileOf(l, k, blocked, now)
			piles = append(piles, pile)
			taken := slices.ContainsFunc(out.Products, func(p Product) bool { return !p.Retired && p.Takes(l.Recipe, k) })
			if !taken && pile.Free() > 0 {
				out.Unassigned = append(out.Unassigned, pile)
			}
		}
	}
	out.Available, out.Piles = product.Availabilities(byOID, piles), piles
	return out, nil
}

// blocked says why none of a lot's bars may be sold to anybody; empty when they may once they are released.
func (s *Seller) blocked(tx *store.Tx, r label.Rules, l *lot.Lot) (string, error) {
	if held := l.Held(); len(held) > 0 {
		return strings.Join(held, "; "), nil
	}
	if why := l.KeptFromSale(); why != "" {
		return "not for sale: " + why, nil
	}
	return notAssessed(tx, r, l)
}

// pileOf is the bars of a kind of a lot. What is curing is ready from the day of its policy, or from the day by which
// it is settled by how it dries.
func (s *Seller) pileOf(l *lot.Lot, k ledger.Kind, blocked string, now time.Time) product.OnHand {
	p := product.OnHand{
		Lot: l.OID, Code: l.Code, Number: l.Number, Recipe: l.Recipe, Kind: k, Bars: l.Balance[k], Aside: l.Aside(k), Blocked: blocked,
	}
	for _, b := range l.Bound {
		if b.Kind == k {
			p.Bound = append(p.Bound, product.Bound{Product: b.Product, For: b.For, Bars: b.Bars})
		}
	}
	g := l.Gate(now)
	if l.Release != nil {
		if !g.Ready && p.Blocked == "" {
			p.Blocked = "something is against it since it was released"
		}
		return p
	}
	p.Ready = g.ReadyOn.Format(time.DateOnly)
	if f, ok := s.reader.Dried(l); ok {
		on := func(hours float64) string {
			return l.Pour.Occurred.In(now.Location()).Add(time.Duration(hours * float64(time.Hour))).Format(time.DateOnly)
		}
		p.Latest = max(p.Ready, on(f.Late))
		p.Ready = max(p.Ready, on(f.Early))
	}
	return p
}

// For is whom or what bars are put by for: anew, or for a reservation that is there.
type For struct {
	Kind, Name, Day string
	OID             string // of the reservation; empty for one by kind, name and day
}

// ForKinds are what bars can be put by for, the most usual first.
func ForKinds() []string { return []string{"market", "order", "person", "family"} }

func (f *For) check() (p caution.Problems) {
	f.Name = strings.Join(strings.Fields(f.Name), " ")
	if !slices.Contains(ForKinds(), f.Kind) {
		p.Add("for_kind", "choose what they are put by for")
	}
	if f.Name == "" {
		p.Add("for", "say for whom or for what")
	}
	p.Name("for", f.Name)
	if _, err := time.Parse(time.DateOnly, f.Day); f.Day != "" && err != nil {
		p.Add("for_day", "“%s” is not a day; write it like 2026-03-14", f.Day)
	}
	return p
}

// Reserve puts bars by: labelled ones of the product first, then free ones. product is empty for bars that are put
// by as they are.
func (s *Seller) Reserve(ctx context.Context, act journal.Act, oid string, k ledger.Kind, productOID string, f For, bars int) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) { return oid, s.ReserveIn(c, oid, k, productOID, f, bars) })
	return err
}

// ReserveIn is [Seller.Reserve] within a change.
func (s *Seller) ReserveIn(c *journal.Change, oid string, k ledger.Kind, productOID string, f For, bars int) error {
	var p caution.Problems
	if f.OID == "" {
		p = f.check()
	}
	if bars < 1 {
		p.Add("bars", "say how many, 1 or more")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return s.reader.ActOn(c, oid, lot.ToBind, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
		if err := s.takes(c, l, k, productOID); err != nil {
			return err
		}
		if err := mayBeFor(l, f); err != nil {
			return err
		}
		labelled := boundTo(l, k, productOID, "")
		free := l.FreeOf(k)
		if bars > labelled+free {
			return problem("bars", "%d wanted, but only %d %s of lot %s are nobody’s", bars, labelled+free, k.Words(), l.Code)
		}
		to, err := Reservation(c, f)
		if err != nil {
			return err
		}
		if n := min(bars, labelled); n > 0 && productOID != "" {
			if err := bind(c, l, k, lot.Reserved, productOID, 0, -n, f.Name); err != nil {
				return err
			}
		}
		return bind(c, l, k, lot.Reserved, productOID, to.ID, bars, "")
	})
}

// mayBeFor keeps the bars of a family's own soap for that family: the first one they are put by for. It keeps soap that
// is for anybody from being noted as a family's.
func mayBeFor(l *lot.Lot, f For) error {
	why := l.KeptFromSale()
	if why == "" {
		if f.Kind == "family" {
			return problem("for_kind", "lot %s is for anybody: mark it as not for sale first, or put its bars by for a person", l.Code)
		}
		return nil
	}
	if f.Kind != "family" {
		return problem("for_kind", "lot %s is not for sale: %s. Its bars go only to the family’s own order", l.Code, why)
	}
	for _, b := range l.Bindings {
		if b.For != "" && !strings.EqualFold(b.For, f.Name) {
			return problem("for", "the bars of lot %s are %s’s", l.Code, b.For)
		}
	}
	return nil
}

// takes finds a product that bars cannot be.
func (s *Seller) takes(c *journal.Change, l *lot.Lot, k ledger.Kind, productOID string) error {
	if l.Cut == nil || l.Cut.Of(k) == 0 {
		return problem("bars", "lot %s has no %s", l.Code, k.Words())
	}
	if productOID == "" {
		return nil
	}
	p, err := productIn(c.Tx, productOID)
	if err != nil {
		return err
	}
	if !p.Takes(l.Recipe, k) {
		return problem("bars", "%s of lot %s are no %s", k.Words(), l.Code, p.Name)
	}
	return nil
}

// boundTo is how many bars are a product's and put by for a reservation, empty for none.
func boundTo(l *lot.Lot, k ledger.Kind, productOID, forOID string) (n int) {
	for _, b := range l.Bound {
		if b.Kind == k && b.Product == productOID && b.For == forOID {
			n += b.Bars
		}
	}
	return n
}

// Reservation finds what bars are put by for, or opens it.
func Reservation(c *journal.Change, f For) (store.Reservation, error) {
	if f.OID != "" {
		list, err := c.Reservations(f.OID)
		if err == nil && len(list) == 0 {
			err = store.ErrNotFound
		}
		if err != nil {
			return store.Reservation{}, err
		}
		return list[0], nil
	}
	r, err := c.ReservationFor(f.Kind, f.Name, f.Day)
	if !errors.Is(err, store.ErrNotFound) {
		return r, err
	}
	r = store.Reservation{OID: journal.NewOID(), Kind: f.Kind, Name: f.Name, Day: f.Day}
	err = c.Record("reservation", func(entry int64) error {
		r.ID, err = c.AddReservation(entry, r)
		return err
	})
	return r, err
}

func bind(c *journal.Change, l *lot.Lot, k ledger.Kind, what lot.Bound, productOID string, to int64, change int, note string) error {
	return c.Record("binding", func(entry int64) error { return c.Bind(entry, l.ID, k, what, productOID, to, change, note) })
}

// Free takes bars back that are labelled or put by. What was labelled before it was put by stays the product's; a
// second word makes it free again, when the label is off.
func (s *Seller) Free(
	ctx context.Context,
	act journal.Act,
	oid string,
	k ledger.Kind,
	productOID, forOID string,
	bars int,
	why string,
) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return oid, s.FreeIn(c, oid, k, productOID, forOID, bars, why)
	})
	return err
}

// FreeIn is [Seller.Free] within a change.
func (s *Seller) FreeIn(c *journal.Change, oid string, k ledger.Kind, productOID, forOID string, bars int, why string) error {
	if bars < 1 {
		return problem("bars", "say how many, 1 or more")
	}
	return s.reader.ActOn(c, oid, lot.ToBind, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
		if have := boundTo(l, k, productOID, forOID); bars > have {
			return problem("bars", "only %d are bound so", have)
		}
		to, err := reservedAs(c, forOID)
		if err != nil {
			return err
		}
		why = strings.TrimSpace(why)
		if err := bind(c, l, k, lot.Freed, productOID, to, -bars, why); err != nil || forOID == "" || productOID == "" {
			return err
		}
		if keep := min(bars, stillLabelled(l, k, productOID)); keep > 0 {
			return bind(c, l, k, lot.Labelled, productOID, 0, keep, "it has its label")
		}
		return nil
	})
}

// stillLabelled is how many bars of a kind carry the label of a product and are put by.
func stillLabelled(l *lot.Lot, k ledger.Kind, productOID string) int {
	n := -boundTo(l, k, productOID, "")
	for _, r := range l.LabelRuns {
		if r.Kind == k && r.ProductOID == productOID {
			n += r.Bars
		}
	}
	return max(0, n)
}

func reservedAs(c *journal.Change, oid string) (int64, error) {
	if oid == "" {
		return 0, nil
	}
	r, err := Reservation(c, For{OID: oid})
	return r.ID, err
}

// Sale is bars that leave as a product, or as they are.
type Sale struct {
	Kind    ledger.Kind
	Product string // identity; empty for none
	For     string // identity of the reservation they were put by for; empty for none
	Reason  ledger.Reason
	Bars    int
	Channel string
	Buyer   string
	Event   string
	Note    string
	Pay     string
	Taken   *sale.Taken // for all of them; nil for what the product costs in the channel
	Market  string      // identity of the market it was sold at; empty for none
	Order   string      // identity of the order it was sold for; empty for none
	Gone    bool        // they have left already: it is only accounted for, whatever came since
}

// Leaves are the reasons by which bars leave as a product.
func Leaves() []ledger.Reason {
	return []ledger.Reason{ledger.Sold, ledger.Gift, ledger.TestUse, ledger.Spoiled}
}

func (w *Sale) check() (p caution.Problems) {
	for field, v := range map[string]*string{"channel": &w.Channel, "buyer": &w.Buyer, "event": &w.Event, "note": &w.Note, "pay": &w.Pay} {
		*v = strings.Join(strings.Fields(*v), " ")
		p.Name(field, *v)
	}
	if !slices.Contains(Leaves(), w.Reason) {
		p.Add("reason", "choose why they leave")
	}
	if w.Bars < 1 {
		p.Add("bars", "say how many, 1 or more")
	}
	return p
}

// Sell has bars of a lot leave: those that are put by for somebody, or labelled ones of the product and then shared
// ones.
func (s *Seller) Sell(ctx context.Context, act journal.Act, oid string, w Sale) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) { return oid, s.SellIn(c, oid, w) })
	return err
}

// SellIn is [Seller.Sell] within a change.
func (s *Seller) SellIn(c *journal.Change, oid string, w Sale) error {
	if err := w.check().Err(); err != nil {
		return err
	}
	what := lot.ToMove
	if w.Gone {
		what = lot.ToAccount
	}
	return s.reader.ActOn(c, oid, what, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
		if s.Life().Gap() {
			return &lot.NotNow{Why: journal.ErrGap.Error()}
		}
		if err := s.takes(c, l, w.Kind, w.Product); err != nil {
			return err
		}
		to, err := reservedAs(c, w.For)
		if err != nil {
			return err
		}
		if err := s.maySell(c, l, w); err != nil {
			return err
		}
		bound := boundTo(l, w.Kind, w.Product, w.For)
		free := l.FreeOf(w.Kind)
		if w.For != "" {
			free = 0
		} else if w.Product == "" {
			bound = 0
		}
		if w.Bars > bound+free {
			return problem("bars", "%d wanted, but only %d %s of lot %s are there for that", w.Bars, bound+free, w.Kind.Words(), l.Code)
		}
		if n := min(bound, w.Bars); n > 0 {
			if err := bind(c, l, w.Kind, lot.Left, w.Product, to, -n, ""); err != nil {
				return err
			}
		}
		return c.Record("move", func(entry int64) error {
			m := lot.Move{Kind: w.Kind, Reason: w.Reason, Change: -w.Bars, Note: w.Note}
			if err := c.AddMove(entry, l.ID, m); err != nil {
				return err
			}
			went := lot.Went{Channel: w.Channel, Buyer: w.Buyer, Event: w.Event}
			if err := c.AddDeparture(entry, w.Product, to, went); err != nil {
				return err
			}
			if err := s.addTaken(c, entry, l, w); err != nil {
				return err
			}
			return c.ChangeBars(l.ID, w.Kind, -w.Bars)
		})
	})
}

// addTaken writes what was taken for bars: what somebody said, or what the product costs in the channel. What has no
// price there has no amount.
func (s *Seller) addTaken(c *journal.Change, entry int64, l *lot.Lot, w Sale) error {
	if w.Reason != ledger.Sold || w.Product == "" {
		return nil
	}
	if w.Taken == nil {
		p, err := productIn(c.Tx, w.Product)
		if err != nil {
			return err
		}
		price, ok := p.Price(w.Channel)
		if !ok {
			return nil
		}
		rules, err := SaleRulesIn(c.Tx)
		if err != nil {
			return err
		}
		taken := rules.Of(w.Channel, price*int64(w.Bars), w.Pay)
		w.Taken = &taken
	}
	return c.AddBarSale(entry, store.BarSale{Lot: l.OID, Kind: w.Kind, ProductOID: w.Product, Bars: w.Bars, Channel: w.Channel,
		Taken: *w.Taken}, w.Market, w.Order)
}

// BringBackIn has bars that were sold come back into their lot, sound.
func (s *Seller) BringBackIn(c *journal.Change, oid string, k ledger.Kind, bars int, note string) error {
	return s.reader.ActOn(c, oid, lot.ToAccount, lots.Unchecked, func(c *journal.Change, l *lot.Lot) error {
		have := l.Balance[k]
		by, err := ledger.Change(have, l.Cut.Of(k)-have, k, ledger.Returned, bars)
		if err != nil {
			return problem("bars", "%s", err)
		}
		return c.Record("move", func(entry int64) error {
			if err := c.AddMove(entry, l.ID, lot.Move{Kind: k, Reason: ledger.Returned, Change: by, Note: note}); err != nil {
				return err
			}
			return c.ChangeBars(l.ID, k, by)
		})
	})
}

// maySell says why bars of a lot may not be sold so. What is spoiled is thrown away whatever it is.
func (s *Seller) maySell(c *journal.Change, l *lot.Lot, w Sale) error {
	if w.Reason == ledger.Spoiled || w.Gone {
		return nil
	}
	if why := l.KeptFromSale(); why != "" {
		family := slices.ContainsFunc(l.Bound, func(b lot.BoundBars) bool { return b.Kind == w.Kind && b.For == w.For && w.For != "" })
		if !family {
			return problem("bars", "lot %s is not for sale: %s. Its bars go only to the family’s own order", l.Code, why)
		}
	}
	return s.Saleable(c.Tx, l, w.Reason, w.Product, c.Now)
}

// Saleable says why bars of a lot may not be sold for a reason as a product, empty for bars as they are: the word of
// an assessor is wanting, or the product is not offered.
func (s *Seller) Saleable(tx *store.Tx, l *lot.Lot, reason ledger.Reason, productOID string, now time.Time) error {
	if reason != ledger.Sold {
		return nil
	}
	rules, err := LabelRulesIn(tx)
	if err != nil {
		return err
	}
	why, err := notAssessed(tx, rules, l)
	if err != nil {
		return err
	}
	if why != "" {
		return problem("reason", "lot %s is not sold: %s", l.Code, why)
	}
	if productOID == "" {
		return nil
	}
	p, err := productIn(tx, productOID)
	if err != nil {
		return err
	}
	today, err := day(tx, now)
	if err != nil {
		return err
	}
	if why := p.NotOffered(today); why != "" {
		return problem("reason", "%s is not offered: %s", p.Name, why)
	}
	return nil
}
