// Package trading is markets and orders: what is packed for them, what was sold, what came home or back, and what it
// brought.
//
// What goes to a market or an order is put by for it: its box. Nothing else can take it from there, on no page, and
// what is sold is sold out of it. A market is counted back once; from then on its count stands. Of an order is known,
// to the bar, what is owed, sent, with the buyer, and back.
package trading

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"ashshelf/archive"
	"ashshelf/shop/catalog"
	"ashshelf/shop/costing"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/shop/selling"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/market"
	"ashshelf/soap/product"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Trader trades.
type Trader struct {
	*journal.Journal
	catalog  *catalog.Catalog
	seller   *selling.Seller
	planner  *planning.Planner
	buyer    *supply.Buyer
	reckoner *costing.Reckoner
	paces    paces
}

// New returns a trader.
func New(
	j *journal.Journal,
	c *catalog.Catalog,
	s *selling.Seller,
	p *planning.Planner,
	b *supply.Buyer,
	r *costing.Reckoner,
) *Trader {
	return &Trader{Journal: j, catalog: c, seller: s, planner: p, buyer: b, reckoner: r}
}

// Market is one revision of a day at a stall.
type Market struct {
	Name string // of this revision
	store.Revision
	market.Market
	Home *market.Record // nil until it was counted back
}

func asMarket(r store.Revision) (Market, error) {
	body, err := document.Decode("market "+r.Name, document.ReadMarket, r.Body)
	return Market{Name: r.Name, Revision: r, Market: body}, err
}

// Markets are the newest revisions of all markets, the latest first.
func (t *Trader) Markets(ctx context.Context) (out []Market, err error) {
	err = t.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = marketsIn(tx)
		return err
	})
	return out, err
}

func marketsIn(tx *store.Tx) ([]Market, error) {
	revisions, err := tx.Latest(store.Markets)
	if err != nil {
		return nil, err
	}
	list, err := catalog.ReadAll(revisions, asMarket)
	if err != nil {
		return nil, err
	}
	homes, err := tx.MarketHomes("")
	if err != nil {
		return nil, err
	}
	for i := range list {
		if body, ok := homes[list[i].OID]; ok {
			home, err := document.Decode("market counted back", document.ReadMarketHome, body)
			if err != nil {
				return nil, err
			}
			list[i].Home = &home
		}
	}
	slices.SortStableFunc(list, func(a, b Market) int { return strings.Compare(b.On, a.On) })
	return list, nil
}

// pastOf are the markets of a name that were counted back.
func pastOf(list []Market, name string) (out []market.Past) {
	for _, m := range list {
		if m.Home != nil && strings.EqualFold(m.Name, name) {
			out = append(out, market.Past{On: m.On, Outcomes: m.Home.Outcomes})
		}
	}
	return out
}

func marketIn(tx *store.Tx, oid string) (Market, []Market, error) {
	list, err := marketsIn(tx)
	if err != nil {
		return Market{}, nil, err
	}
	i := slices.IndexFunc(list, func(m Market) bool { return m.OID == oid })
	if i < 0 {
		_, err := tx.History(store.Markets, oid)
		return Market{}, nil, errors.Join(err, store.ErrNotFound)
	}
	return list[i], list, nil
}

// Again is that a market is held more than once.
type Again struct{ Times, Days int }

// mostAgain is how many markets are written down at once.
const mostAgain = 60

// KeepMarket makes a new revision of a market, or a new one when base is 0; then again every so many days.
func (t *Trader) KeepMarket(
	ctx context.Context,
	act journal.Act,
	oid string,
	base int,
	name string,
	m market.Market,
	again Again,
) (string, error) {
	name, m.Place, m.Channel = strings.Join(strings.Fields(name), " "), strings.TrimSpace(m.Place), strings.TrimSpace(m.Channel)
	p := m.Check()
	document.CheckName(&p, name)
	if again.Times < 0 || again.Times > mostAgain {
		p.Add("times", "at most %d times more", mostAgain)
	}
	if again.Times > 0 && (again.Days < 1 || again.Days > 400) {
		p.Add("every", "say how many days are between them")
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	body, err := document.Encode(m)
	if err != nil {
		return "", err
	}
	return t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		list, err := marketsIn(c.Tx)
		if err != nil {
			return "", err
		}
		if base > 0 {
			i := slices.IndexFunc(list, func(one Market) bool { return one.OID == oid })
			if i < 0 {
				return "", store.ErrNotFound
			}
			was := list[i]
			if was.Number != base {
				return "", &journal.Conflict{What: "“" + was.Name + "”", Who: was.Who, When: was.Entry.Recorded}
			}
			if was.Home != nil && (was.On != m.On || was.Opens != m.Opens || was.Closes != m.Closes || was.Name != name) {
				return "", problem("on", "it was counted back: its name, day and hours stand")
			}
			return oid, c.Record("market", func(entry int64) error { return c.AddRevision(store.Markets, entry, oid, base+1, name, "", body) })
		}
		first := ""
		for n := range again.Times + 1 {
			one := m
			on, err := time.Parse(time.DateOnly, m.On)
			if err != nil {
				return "", err
			}
			one.On = on.AddDate(0, 0, n*again.Days).Format(time.DateOnly)
			if n > 0 {
				one.Wants = nil // what was decided is of the first
			}
			same := slices.IndexFunc(list, func(have Market) bool { return have.On == one.On && strings.EqualFold(have.Name, name) })
			if same >= 0 {
				return "", problem("on", "%s is there on %s already", name, dayWords(one.On))
			}
			oid := journal.NewOID()
			if first == "" {
				first = oid
			}
			body, err := document.Encode(one)
			if err != nil {
				return "", err
			}
			if err := c.Record("market", func(entry int64) error {
				return errors.Join(c.AddDocument(store.Markets, entry, oid, ""), c.AddRevision(store.Markets, entry, oid, 1, name, "", body))
			}); err != nil {
				return "", err
			}
		}
		return first, nil
	})
}

func dayWords(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return unit.FormatDay(at)
}

// problem is one problem at a field.
func problem(field, format string, args ...any) error {
	var p caution.Problems
	p.Add(field, format, args...)
	return p.Err()
}

// Pile is bars of a lot that could go into a box, and how many are in it.
type Pile struct {
	product.Availability
	In int // the box
}

// Most is how many of them can be in the box.
func (p Pile) Most() int { return p.In + p.Offered() }

// Shelf is a product with its piles: the oldest lot first.
type Shelf struct {
	Product  selling.Product
	Piles    []Pile
	Ready    int // that are offered, and those in the box
	In       int
	Why      string // it is not offered; empty when it is
	Proposal market.Proposal
	Price    int64
	Priced   bool
}

// Packing is a market with its box.
type Packing struct {
	Market
	Shelves []Shelf
	Box     []market.Boxed
	Till    market.Till
	Past    []market.Past // of its name, counted back
	Today   string
}

// In is how many bars are in the box.
func (p Packing) In() (n int) {
	for _, b := range p.Box {
		n += b.Bars
	}
	return n
}

// Price is what a bar of a product costs at it.
func (p Packing) Price(oid string) int64 {
	for _, s := range p.Shelves {
		if s.Product.OID == oid {
			return s.Price
		}
	}
	return 0
}

// NameOf is what a product is called.
func (p Packing) NameOf(oid string) string {
	for _, s := range p.Shelves {
		if s.Product.OID == oid {
			return s.Product.Name
		}
	}
	return ""
}

// Packing reads a market with what can go into its box and what its till says.
func (t *Trader) Packing(ctx context.Context, oid string) (out Packing, err error) {
	err = t.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = t.packingIn(tx, oid)
		return err
	})
	return out, err
}

func (t *Trader) packingIn(tx *store.Tx, oid string) (out Packing, err error) {
	m, all, err := marketIn(tx, oid)
	if err != nil {
		return out, err
	}
	out.Market, out.Past = m, pastOf(all, m.Name)
	stock, err := t.seller.ReadyStockIn(tx)
	if err != nil {
		return out, err
	}
	out.Today = stock.Today
	if out.Box, err = boxIn(tx, store.Markets, oid); err != nil {
		return out, err
	}
	if out.Till, err = tillIn(tx, oid); err != nil {
		return out, err
	}
	for _, s := range shelvesOf(stock, out.Box, m.On) {
		s.Price, s.Priced = s.Product.Price(m.Channel)
		s.Proposal = market.Propose(m.Market, s.Product.OID, s.Ready, out.Past)
		out.Shelves = append(out.Shelves, s)
	}
	return out, nil
}

// boxIn are the bars in the box of a market or an order.
func boxIn(tx *store.Tx, of store.Collection, oid string) ([]market.Boxed, error) {
	r, err := tx.Box(of, oid)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return tx.Boxed(r.ID)
}

// shelvesOf are the products that are sold, with what could go into a box; a product that is in it already is there
// whatever has become of it.
func shelvesOf(stock selling.ReadyStock, box []market.Boxed, day string) (out []Shelf) {
	for _, p := range stock.Products {
		s := Shelf{Product: p, Why: p.NotOffered(day)}
		for _, one := range stock.Available[p.OID] {
			pile := Pile{Availability: one}
			for _, b := range box {
				if b.Product == p.OID && b.Lot == one.Lot && b.Kind == one.Kind {
					pile.In += b.Bars
				}
			}
			s.In += pile.In
			if pile.Most() > 0 {
				s.Piles = append(s.Piles, pile)
				s.Ready += pile.Most()
			}
		}
		if s.In > 0 || !p.Retired && s.Why == "" {
			out = append(out, s)
		}
	}
	return out
}

// Packed is how many bars of a lot are to be in a box as a product.
type Packed struct {
	Product, Lot string
	Kind         ledger.Kind
	Bars         int
}

// Pack has so many bars of each lot in the box of a market: more are put by, those that are too many are free again.
func (t *Trader) Pack(ctx context.Context, act journal.Act, oid string, list []Packed) error {
	_, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		m, _, err := marketIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if m.Home != nil {
			return "", problem("pack", "it was counted back: nothing goes into its box any more")
		}
		return oid, t.packIn(c, store.Markets, oid, selling.For{Kind: "market", Name: m.Name, Day: m.On}, list)
	})
	return err
}

// packIn has so many bars of each lot in a box.
func (t *Trader) packIn(c *journal.Change, of store.Collection, oid string, f selling.For, list []Packed) error {
	r, err := c.Box(of, oid)
	if errors.Is(err, store.ErrNotFound) {
		if r, err = selling.Reservation(c, f); err != nil {
			return err
		}
		err = c.Record("box", func(entry int64) error { return c.AddBox(entry, r.ID, of, oid) })
	}
	if err != nil {
		return err
	}
	f.OID = r.OID
	box, err := c.Boxed(r.ID)
	if err != nil {
		return err
	}
	var p caution.Problems
	for _, one := range list {
		in := 0
		for _, b := range box {
			if b.Product == one.Product && b.Lot == one.Lot && b.Kind == one.Kind {
				in += b.Bars
			}
		}
		var err error
		switch by := one.Bars - in; {
		case by > 0:
			err = t.seller.ReserveIn(c, one.Lot, one.Kind, one.Product, f, by)
		case by < 0:
			err = t.seller.FreeIn(c, one.Lot, one.Kind, one.Product, r.OID, -by, "taken out of the box")
		}
		var said caution.Problems
		if errors.As(err, &said) {
			for _, s := range said {
				p.Add(PackField(one), "%s", s.Text)
			}
			continue
		}
		if err != nil {
			return err
		}
	}
	return p.Err()
}

// PackField is the field in which bars of a lot are packed.
func PackField(p Packed) string {
	return "pack|" + p.Product + "|" + p.Lot + "|" + string(p.Kind.Grade) + "|" + p.Kind.Size
}

// ReadPackField reads it back; ok is false when it is none.
func ReadPackField(field string) (p Packed, ok bool) {
	parts := strings.SplitN(field, "|", 5)
	if len(parts) < 5 || parts[0] != "pack" {
		return p, false
	}
	return Packed{Product: parts[1], Lot: parts[2], Kind: ledger.Kind{Grade: ledger.Grade(parts[3]), Size: parts[4]}}, true
}

// tillIn is what the till of a market says.
func tillIn(tx *store.Tx, oid string) (out market.Till, err error) {
	entries, err := tx.TillEntries(oid)
	if err != nil {
		return out, err
	}
	for _, e := range entries {
		lines, err := document.Decode("till", func(b archive.TillLines) []market.Line { return document.ReadTillLines(b.Lines) }, e.Body)
		if err != nil {
			return out, err
		}
		switch e.What {
		case "sold":
			out.Sales = append(out.Sales, market.Sale{Key: e.OID, At: e.At, Pay: e.Pay, Amount: e.Amount, Lines: lines})
		case "asked":
			for _, l := range lines {
				out.Asked = append(out.Asked, market.Asked{Product: l.Product, At: e.At})
			}
		case "undone":
			for i := range out.Sales {
				if len(lines) == 1 && out.Sales[i].Key == lines[0].Product {
					out.Sales[i].Undone = true
				}
			}
		}
	}
	return out, nil
}

// Rung is what a till says: a sale, that a sale was undone, or that somebody asked for what was gone.
type Rung struct {
	Key  string
	What string // "sold", "undone" or "asked"
	At   time.Time
	Of   string // key of the sale that was undone, or the product that was asked for
	Sale market.Sale
}

// errTill is a word of a till that nobody can take.
func errTill(format string, args ...any) error { return problem("till", format, args...) }

// mostEarly is how long before now a till may have rung: a telephone that comes home after a week has been forgotten.
const mostEarly = 60 * 24 * time.Hour

// Ring writes down what the till of a market says, each once under its key. It asks nothing of the box: what was sold was
// sold, and what there cannot have been is asked about at home.
func (t *Trader) Ring(ctx context.Context, act journal.Act, oid string, r Rung) error {
	if r.Key == "" {
		return errTill("it has no key by which it would be known again")
	}
	var lines []market.Line
	switch r.What {
	case "sold":
		if err := r.Sale.CheckSale(); err != nil {
			return errTill("%s", err)
		}
		lines = r.Sale.Lines
	case "undone", "asked":
		if r.Of == "" {
			return errTill("say which")
		}
		lines = []market.Line{{Product: r.Of, Bars: 1}}
	default:
		return errTill("“%s” is nothing that a till says", r.What)
	}
	if now := t.Clock(); r.At.After(now.Add(time.Hour)) || r.At.Before(now.Add(-mostEarly)) {
		return errTill("it is too old to be of this market: write it down at home")
	}
	body, err := document.Encode(lines)
	if err != nil {
		return err
	}
	_, err = t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		if _, err := c.History(store.Markets, oid); err != nil {
			return "", err
		}
		if have, err := c.HasTillEntry(r.Key); err != nil || have {
			return oid, err
		}
		if r.What != "undone" {
			products, err := selling.ProductsIn(c.Tx)
			if err != nil {
				return "", err
			}
			for _, l := range lines {
				if !slices.ContainsFunc(products, func(p selling.Product) bool { return p.OID == l.Product }) {
					return "", errTill("one of these products is not known here")
				}
			}
		}
		e := store.TillEntry{OID: r.Key, What: r.What, At: r.At, Body: body}
		if r.What == "sold" {
			e.Pay, e.Amount = r.Sale.Pay, r.Sale.Amount
		}
		return oid, c.Record("till", func(entry int64) error { return c.AddTillEntry(entry, oid, e) })
	})
	return err
}

// Counting is a market as it is counted back: the box with what should be left of it, and the money.
type Counting struct {
	Packing
	Lines    []market.Counted
	Beyond   map[string]int // bars that were sold beyond what was in the box, by product
	Late     int            // what the till said after it was counted back
	Expected market.Balance // with nothing counted
}

// Counting reads it.
func (t *Trader) Counting(ctx context.Context, oid string) (out Counting, err error) {
	err = t.Read(ctx, func(tx *store.Tx) error {
		out.Packing, err = t.packingIn(tx, oid)
		if err != nil {
			return err
		}
		out.Lines, out.Beyond = market.Foreseen(out.Box, out.Till.Sold())
		out.Expected = market.Home{Lines: out.Lines, Float: out.Float}.Balanced(out.Till, out.Price)
		if out.Home != nil {
			known := 0
			for _, o := range out.Home.Outcomes {
				known += o.Till
			}
			for _, n := range out.Till.Sold() {
				out.Late += n
			}
			out.Late -= known
		}
		return nil
	})
	return out, err
}

// HomeField is the field of a count of bars of a lot.
func HomeField(what string, b market.Boxed) string {
	return what + "|" + b.Product + "|" + b.Lot + "|" + string(b.Kind.Grade) + "|" + b.Kind.Size
}

// CountBack closes a market: what is left goes back to the shelf, what was sold leaves by lot with what it brought, and
// the rest by its reason. The lines are those of the box as it is now.
func (t *Trader) CountBack(ctx context.Context, act journal.Act, oid string, h market.Home) error {
	h.Note = strings.TrimSpace(h.Note)
	if err := h.Check(func(i int, field string) string { return HomeField(field, h.Lines[i].Boxed) }).Err(); err != nil {
		return err
	}
	_, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		p, err := t.packingIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if p.Home != nil {
			return "", problem("cash", "it was counted back already, by %s", "somebody else")
		}
		zone, err := zoneOf(c.Tx)
		if err != nil {
			return "", err
		}
		if !sameBox(p.Box, h.Lines) {
			return "", &journal.Conflict{What: "the box of “" + p.Name + "”", Who: "somebody", When: c.Now}
		}
		opens, closes := p.Hours(zone)
		rec := market.Record{Home: h, Balance: h.Balanced(p.Till, p.Price), Outcomes: h.Outcomes(p.Till, p.Price, opens, closes)}
		for i := range rec.Outcomes {
			rec.Outcomes[i].Name = p.NameOf(rec.Outcomes[i].Product)
		}
		rules, err := selling.SaleRulesIn(c.Tx)
		if err != nil {
			return "", err
		}
		box, err := c.Box(store.Markets, oid)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return "", err
		}
		amounts := h.Amounts(rec.Outcomes)
		for i, line := range h.Lines {
			if line.Left > 0 {
				if err := t.seller.FreeIn(c, line.Lot, line.Kind, line.Product, box.OID, line.Left, "brought home from "+p.Name); err != nil {
					return "", atField(HomeField("left", line.Boxed), err)
				}
			}
			for _, gone := range []struct {
				as   ledger.Reason
				bars int
			}{{ledger.Sold, line.Sold()}, {ledger.Gift, line.Given}, {ledger.Spoiled, line.Spoiled}} {
				if gone.bars == 0 {
					continue
				}
				s := selling.Sale{Kind: line.Kind, Product: line.Product, For: box.OID, Reason: gone.as, Bars: gone.bars, Channel: p.Channel,
					Event: eventName(p.Market), Market: oid, Gone: true}
				if gone.as == ledger.Sold {
					taken := rules.Of(p.Channel, amounts[i], "")
					s.Taken = &taken
				}
				if err := t.seller.SellIn(c, line.Lot, s); err != nil {
					return "", atField(HomeField("left", line.Boxed), err)
				}
			}
		}
		body, err := document.Encode(rec)
		if err != nil {
			return "", err
		}
		return oid, c.Record("market home", func(entry int64) error { return c.AddMarketHome(entry, oid, body) })
	})
	return err
}

// eventName is what a market is called where its bars went.
func eventName(m Market) string { return m.Name + ", " + dayWords(m.On) }

// atField puts problems at a field.
func atField(field string, err error) error {
	var said caution.Problems
	if !errors.As(err, &said) {
		return err
	}
	var p caution.Problems
	for _, s := range said {
		p.Add(field, "%s", s.Text)
	}
	return p.Err()
}

// sameBox reports whether what was counted is what is in the box.
func sameBox(box []market.Boxed, lines []market.Counted) bool {
	if len(box) != len(lines) {
		return false
	}
	for _, l := range lines {
		if !slices.Contains(box, l.Boxed) {
			return false
		}
	}
	return true
}

func zoneOf(tx *store.Tx) (*time.Location, error) {
	settings, err := tx.Shop()
	if err != nil {
		return nil, err
	}
	return time.LoadLocation(settings.Zone)
}

// MarketHistory returns all revisions of a market, newest first.
func (t *Trader) MarketHistory(ctx context.Context, oid string) (out []Market, err error) {
	err = t.Read(ctx, func(tx *store.Tx) error {
		m, _, err := marketIn(tx, oid)
		if err != nil {
			return err
		}
		revisions, err := tx.History(store.Markets, oid)
		if err != nil {
			return err
		}
		out, err = catalog.ReadAll(revisions, asMarket)
		for i := range out {
			out[i].Home = m.Home
		}
		return err
	})
	return out, err
}

// RecalledField is the field of what is remembered of a product.
func RecalledField(product, field string) string { return field + "|" + product }

// Remember closes a market that nothing was packed for here, by what a binder or somebody's memory says of it: so that the
// next one of its name is packed by more than nothing. It moves no bars.
func (t *Trader) Remember(ctx context.Context, act journal.Act, oid string, list []market.Recalled, h market.Home) error {
	h.Lines, h.Note = nil, strings.TrimSpace(h.Note)
	p := h.Check(func(int, string) string { return "" })
	for _, r := range list {
		p = append(p, r.Check(func(field string) string { return RecalledField(r.Product, field) })...)
	}
	if len(list) == 0 {
		p.Add("remember", "say of at least one product how many were brought")
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := t.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		m, err := t.packingIn(c.Tx, oid)
		if err != nil {
			return "", err
		}
		if m.Home != nil {
			return "", problem("remember", "it was counted back already")
		}
		if m.In() > 0 || len(m.Till.Sales) > 0 {
			return "", problem("remember", "bars were packed for it: count them back")
		}
		zone, err := zoneOf(c.Tx)
		if err != nil {
			return "", err
		}
		products, err := selling.ProductsIn(c.Tx)
		if err != nil {
			return "", err
		}
		opens, closes := m.Hours(zone)
		rec := market.Record{Home: h}
		var due int64
		for _, r := range list {
			i := slices.IndexFunc(products, func(p selling.Product) bool { return p.OID == r.Product })
			if i < 0 {
				return "", problem("remember", "one of these products is not known here")
			}
			price, _ := products[i].Price(m.Channel)
			r.Name = products[i].Name
			o := r.Outcome(price, opens, closes)
			due += o.Amount
			rec.Outcomes = append(rec.Outcomes, o)
		}
		rec.Balance = market.Balance{Cash: h.Cash, CashDue: h.Float + due - h.Card, Card: h.Card, CardDue: h.Card}
		if h.Cash == 0 && h.Card == 0 {
			rec.Balance = market.Balance{} // nobody counted
		}
		body, err := document.Encode(rec)
		if err != nil {
			return "", err
		}
		return oid, c.Record("market home", func(entry int64) error { return c.AddMarketHome(entry, oid, body) })
	})
	return err
}
