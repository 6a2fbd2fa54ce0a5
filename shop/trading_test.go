package shop_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/tracing"
	"ashshelf/shop/trading"
	"ashshelf/soap/demand"
	"ashshelf/soap/market"
	"ashshelf/soap/product"
	"ashshelf/soap/recall"
	"ashshelf/soap/sale"
	"ashshelf/store"
)

// priced is the stand with a price of 7.50 at the market, and a market tomorrow.
type priced struct {
	stand
	market string
}

func atMarket(t *testing.T) priced {
	t.Helper()
	s := onTheStand(t)
	history, err := s.ProductHistory(ctx, s.product)
	require.NoError(t, err)
	p := history[0].Product
	p.Prices = []product.Price{{Channel: "market", Amount: 750}, {Channel: "guest house", Amount: 450}}
	_, err = s.KeepProduct(ctx, s.act(), s.product, 1, p)
	require.NoError(t, err)
	m := priced{stand: s}
	m.market, err = s.KeepMarket(ctx, s.act(), "", 0, "Quay market", m.day(0), trading.Again{Times: 2, Days: 14})
	require.NoError(t, err)
	return m
}

func (m priced) day(after int) market.Market {
	return market.Market{On: m.today().AddDate(0, 0, after).Format(time.DateOnly), Opens: "00:00", Closes: "23:59", Channel: "market",
		Fee: 2500, Float: 5000, Deal: market.Deal{Bars: 3, Amount: 2000}}
}

func (m priced) packs(bars int) error {
	return m.Pack(ctx, m.act(), m.market, []trading.Packed{{Product: m.product, Lot: m.lot, Kind: first, Bars: bars}})
}

func (m priced) rings(key string, bars int, amount int64, pay market.Pay) {
	m.t.Helper()
	require.NoError(m.t, m.Ring(ctx, m.act(), m.market, trading.Rung{Key: key, What: "sold", At: m.today(),
		Sale: market.Sale{Pay: pay, Amount: amount, Lines: []market.Line{{Product: m.product, Bars: bars}}}}))
}

func (m priced) packing() trading.Packing {
	m.t.Helper()
	p, err := m.Packing(ctx, m.market)
	require.NoError(m.t, err)
	return p
}

func TestAMarketIsPackedSoldAndCountedBack(t *testing.T) {
	m := atMarket(t)
	list, err := m.Markets(ctx)
	require.NoError(t, err)
	require.Len(t, list, 3, "and twice more")
	p := m.packing()
	require.Len(t, p.Shelves, 1)
	assert.Equal(t, 6, p.Shelves[0].Proposal.Bars, "it was never there")

	require.NoError(t, m.packs(7))
	assert.Equal(t, 7, m.packing().In())
	assert.Contains(t, problem(t, m.packs(10), trading.PackField(trading.Packed{Product: m.product, Lot: m.lot, Kind: first})), "only 2")
	require.Error(t, m.sells(3), "what is in a box goes to nobody else")
	require.NoError(t, m.packs(5))
	assert.Equal(t, 5, m.packing().In())
	assert.Equal(t, 4, m.of(m.product).Shared)

	m.rings("a", 2, 1500, market.Cash)
	m.rings("a", 2, 1500, market.Cash) // it is sent again, after the connection was lost
	m.rings("b", 1, 750, market.Card)
	m.rings("c", 1, 750, market.Card)
	require.NoError(t, m.Ring(ctx, m.act(), m.market, trading.Rung{Key: "u", What: "undone", At: m.today(), Of: "c"}))
	require.NoError(t, m.Ring(ctx, m.act(), m.market, trading.Rung{Key: "q", What: "asked", At: m.today(), Of: m.product}))
	for name, bad := range map[string]trading.Rung{
		"of nothing": {Key: "x", What: "sold", At: m.today()}, "of a thing unknown": {Key: "x", What: "asked", At: m.today(), Of: "moon"},
		"next year": {Key: "x", What: "undone", Of: "a", At: m.today().AddDate(1, 0, 0)}, "no word": {Key: "x", What: "stolen", At: m.today()},
		"no key": {What: "undone", Of: "a", At: m.today()},
	} {
		problem(t, m.Ring(ctx, m.act(), m.market, bad), "till")
		assert.Len(t, m.packing().Till.Sales, 3, name)
	}

	c, err := m.Counting(ctx, m.market)
	require.NoError(t, err)
	require.Len(t, c.Lines, 1)
	assert.Equal(t, 2, c.Lines[0].Left)
	assert.Equal(t, market.Balance{CashDue: 6500, CardDue: 750}, c.Expected)

	// One more is missing than the till knows, and a coin.
	c.Lines[0].Left, c.Lines[0].Given = 1, 1
	h := market.Home{Lines: c.Lines, Cash: 6450, Card: 750, Float: 5000, Weather: "rain"}
	require.NoError(t, m.CountBack(ctx, m.act(), m.market, h))
	l := m.bench.lot(m.lot)
	assert.Equal(t, 5, l.Balance[first], "nine, less three sold and one given away")
	assert.Zero(t, l.BoundOf(first), "what came home is free again")
	rec := m.packing().Home
	require.NotNil(t, rec)
	assert.EqualValues(t, -50, rec.Balance.Off())
	assert.Equal(t, market.Outcome{Product: m.product, Name: "Slate and lamp", Packed: 5, Left: 1, Given: 1, Sold: 3, Till: 3, Amount: 2250,
		Asked: 1, Wanted: 4}, rec.Outcomes[0])
	problem(t, m.CountBack(ctx, m.act(), m.market, h), "cash")
	problem(t, m.packs(2), "pack")
	m.rings("late", 1, 750, market.Cash)
	c, err = m.Counting(ctx, m.market)
	require.NoError(t, err)
	assert.Equal(t, 1, c.Late, "a telephone that came home late is told")

	sold, err := m.Sold(ctx, m.today().AddDate(0, 0, -1), m.today().AddDate(0, 0, 1))
	require.NoError(t, err)
	require.Len(t, sold.Products, 1)
	assert.Equal(t, 3, sold.Products[0].Bars)
	assert.EqualValues(t, 2250, sold.Products[0].Amount)

	// The next one of the name is packed by what was wanted at this one.
	next := list[1].OID
	p, err = m.Packing(ctx, next)
	require.NoError(t, err)
	assert.Equal(t, 4, p.Shelves[0].Proposal.Wanted)
}

func TestWhatWasSoldBeforeAHoldIsStillCountedBack(t *testing.T) {
	m := atMarket(t)
	require.NoError(t, m.packs(4))
	m.rings("a", 2, 1500, market.Cash)
	require.NoError(t, m.SetHold(ctx, m.on(m.lot), m.lot, true, "a complaint"))
	c, err := m.Counting(ctx, m.market)
	require.NoError(t, err)
	require.NoError(t, m.CountBack(ctx, m.act(), m.market, market.Home{Lines: c.Lines, Cash: 6500, Float: 5000}))
	assert.Equal(t, 7, m.bench.lot(m.lot).Balance[first])
}

func (m priced) orders(terms sale.Terms, bars int) string {
	m.t.Helper()
	oid, err := m.KeepSaleOrder(ctx, m.act(), "", 0, sale.Order{Channel: "guest house", Due: "2026-07-01", Terms: terms,
		Lines: []sale.Line{{Product: m.product, Bars: bars, Price: 450}}}, trading.NewBuyer{Name: "The Ferry Inn", Contact: "1 Quay"})
	require.NoError(m.t, err)
	return oid
}

func (m priced) fills(oid string, bars int) {
	m.t.Helper()
	require.NoError(m.t, m.PackOrder(ctx, m.act(), oid, []trading.Packed{{Product: m.product, Lot: m.lot, Kind: first, Bars: bars}}))
}

func (m priced) tells(oid string, what sale.What, bars int) error {
	these := sale.Bars{Product: m.product, Lot: m.lot, Kind: first}
	_, err := m.Tell(ctx, m.act(), oid, []trading.Happened{{Bars: these, What: what, Count: bars}}, "")
	return err
}

func (m priced) filling(oid string) trading.Filling {
	m.t.Helper()
	f, err := m.Filling(ctx, oid)
	require.NoError(m.t, err)
	return f
}

func TestAnOrderOnSaleOrReturnIsTheMakersUntilItIsSold(t *testing.T) {
	m := atMarket(t)
	oid := m.orders(sale.Return, 6)
	m.fills(oid, 5)
	_, err := m.Send(ctx, m.act(), oid)
	require.NoError(t, err)
	f := m.filling(oid)
	assert.Equal(t, sale.Partly, f.Stage())
	assert.Empty(t, f.Box)
	require.Len(t, f.Papers, 1)
	assert.Equal(t, "D-0001", f.Papers[0].Called())
	assert.Equal(t, 9, m.bench.lot(m.lot).Balance[first], "they are still the maker's")
	require.Error(t, m.sells(5), "and yet nobody else's")

	require.NoError(t, m.tells(oid, sale.Sold, 2))
	assert.Equal(t, 7, m.bench.lot(m.lot).Balance[first])
	require.NoError(t, m.tells(oid, sale.Returned, 3))
	field := trading.OrderField(sale.Returned, sale.Bars{Product: m.product, Lot: m.lot, Kind: first})
	assert.Contains(t, problem(t, m.tells(oid, sale.Returned, 1), field), "0 of these")
	assert.Equal(t, sale.ToJudge, m.filling(oid).Stage())
	require.Error(t, m.sells(5), "what came back waits until somebody looked at it")
	require.NoError(t, m.tells(oid, sale.JudgedSound, 2))
	require.NoError(t, m.tells(oid, sale.JudgedSpoiled, 1))
	assert.Equal(t, 6, m.bench.lot(m.lot).Balance[first])
	assert.Zero(t, m.bench.lot(m.lot).BoundOf(first))
	require.NoError(t, m.sells(5))
	f = m.filling(oid)
	assert.Equal(t, []string{"D-0001", "I-0001"}, []string{f.Papers[0].Called(), f.Papers[1].Called()})
	assert.EqualValues(t, 900, f.Papers[1].Total)
}

// Bars that stand with a buyer are in the house by the books: a recall says where they really are.
func TestARecallFindsTheBarsThatAreLent(t *testing.T) {
	m := atMarket(t)
	oid := m.orders(sale.Return, 5)
	m.fills(oid, 5)
	_, err := m.Send(ctx, m.act(), oid)
	require.NoError(t, err)
	require.NoError(t, m.tells(oid, sale.Sold, 2))
	lent := func() []recall.Went {
		r, err := m.Begin(ctx, m.act(), tracing.Subject{Kind: "lot", Of: m.lot}, "a rash", true, "")
		require.NoError(t, err)
		all, err := m.Recall(ctx, r)
		require.NoError(t, err)
		require.Len(t, all.Lots, 1)
		return all.Lots[0].Lent
	}
	with := lent()
	require.Len(t, with, 1)
	assert.Equal(t, []any{3, "The Ferry Inn", "Order 1"}, []any{with[0].Bars, with[0].Buyer, with[0].Event})
	require.NoError(t, m.tells(oid, sale.Returned, 3))
	assert.Empty(t, lent(), "they are home again")
}

func TestAnOrderThatIsBoughtIsInvoicedAndWhatComesBackIsCredited(t *testing.T) {
	m := atMarket(t)
	oid := m.orders(sale.Bought, 4)
	_, err := m.Send(ctx, m.act(), oid)
	problem(t, err, "send")
	m.fills(oid, 4)
	_, err = m.Send(ctx, m.act(), oid)
	require.NoError(t, err)
	assert.Equal(t, 5, m.bench.lot(m.lot).Balance[first])
	assert.Equal(t, sale.Done, m.filling(oid).Stage())
	require.NoError(t, m.tells(oid, sale.Returned, 2))
	assert.Equal(t, 5, m.bench.lot(m.lot).Balance[first], "nobody has looked at them")
	require.NoError(t, m.tells(oid, sale.JudgedSound, 1))
	assert.Equal(t, 6, m.bench.lot(m.lot).Balance[first])
	require.NoError(t, m.tells(oid, sale.JudgedTester, 1))
	f := m.filling(oid)
	assert.Equal(t, []string{"I-0001", "C-0001"}, []string{f.Papers[0].Called(), f.Papers[1].Called()})
	sold, err := m.Sold(ctx, m.today().AddDate(0, 0, -1), m.today().AddDate(0, 0, 1))
	require.NoError(t, err)
	require.Len(t, sold.Products, 1)
	assert.Equal(t, 2, sold.Products[0].Bars, "four, and two came back")
	assert.EqualValues(t, 900, sold.Products[0].Amount)

	// Nothing is taken from an order that was sent already.
	o := f.Order.Order
	o.Lines[0].Bars = 2
	_, err = m.KeepSaleOrder(ctx, m.act(), oid, 1, o, trading.NewBuyer{})
	assert.Contains(t, problem(t, err, "lines[0].bars"), "4 were sent")
}

func TestANameIsBlankedAndNoCopyBringsItBack(t *testing.T) {
	m := atMarket(t)
	oid := m.orders(sale.Bought, 1)
	f := m.filling(oid)
	assert.Equal(t, "The Ferry Inn", f.For())
	require.NoError(t, m.Blank(ctx, m.act(), f.Buyer.Key, "she asked"))
	assert.Equal(t, "B1", m.filling(oid).For())
	assert.Len(t, m.Life().Blanked, 1)

	// A copy from before has the name: it goes when the shop opens.
	require.NoError(t, m.NameBuyer(ctx, m.act(), "B1", trading.NewBuyer{Name: "The Ferry Inn"}))
	require.NoError(t, m.SweepNames(ctx))
	assert.Equal(t, "B1", m.filling(oid).For())

	// And so do names whose time is over.
	rules := sale.UsualRules()
	rules.KeepNames = 30
	require.NoError(t, m.KeepSaleRules(ctx, m.act(), rules))
	old, err := m.KeepSaleOrder(ctx, m.act(), "", 0, sale.Order{Channel: "web", Due: m.today().AddDate(0, 0, -31).Format(time.DateOnly),
		Terms: sale.Bought, Lines: []sale.Line{{Product: m.product, Bars: 1}}}, trading.NewBuyer{Name: "A stranger"})
	require.NoError(t, err)
	require.NoError(t, m.SweepNames(ctx))
	assert.Equal(t, "B2", m.filling(old).For())
	var buyers []store.Buyer
	buyers, err = m.Buyers(ctx)
	require.NoError(t, err)
	for _, b := range buyers {
		assert.Empty(t, b.Name)
	}
}

func (m priced) today() time.Time { return m.Clock() }

func (m priced) ahead() trading.Ahead {
	m.t.Helper()
	a, err := m.Ahead(ctx, nil)
	require.NoError(m.t, err)
	return a
}

// What is wanted, less what is there, is poured on the latest day that does; and once it is planned nothing is left to pour.
func TestAnOrderIsCountedBackToItsPours(t *testing.T) {
	m := atMarket(t)
	due := m.today().AddDate(0, 0, 70)
	_, err := m.KeepSaleOrder(ctx, m.act(), "", 0, sale.Order{Channel: "web", Due: due.Format(time.DateOnly), Terms: sale.Bought,
		Lines: []sale.Line{{Product: m.product, Bars: 20, Price: 800}}}, trading.NewBuyer{Name: "Ada"})
	require.NoError(t, err)
	a := m.ahead()
	require.Len(t, a.Pours, 1)
	p := a.Pours[0]
	assert.Equal(t, 2, p.Pots, "nine a pot, nine are there, twenty are wanted")
	last := due.AddDate(0, 0, -a.Request.Margin)
	assert.False(t, p.Ready.After(last))
	assert.True(t, p.Ready.AddDate(0, 0, 3).After(last), "not a week too early")
	late := p.Pour
	late.On = late.On.AddDate(0, 0, 7)
	moved, err := m.Ahead(ctx, []demand.Pour{late})
	require.NoError(t, err)
	missing := func(b demand.Broken) bool { return b.What == demand.Missing }
	assert.True(t, slices.ContainsFunc(moved.Broken, missing), "a week later is too late")
	press := m.act()
	for range 2 { // a press that is sent again makes none twice
		n, err := m.PlanPours(ctx, press, []demand.Pour{p.Pour})
		require.NoError(t, err)
		assert.Equal(t, 2, n)
	}
	plans, all, err := m.OpenPlans(ctx, 0)
	require.NoError(t, err)
	assert.Len(t, plans, all)
	booked := 0
	for _, one := range plans {
		if one.Day == p.On.Format(time.DateOnly) {
			booked++
		}
	}
	assert.Equal(t, 2, booked)
	a = m.ahead()
	assert.Empty(t, a.Pours, "what is planned for a day is counted on")
	assert.Empty(t, a.Short)

	_, err = m.KeepSaleOrder(ctx, m.act(), "", 0, sale.Order{Channel: "web", Due: m.today().AddDate(0, 0, 7).Format(time.DateOnly),
		Terms: sale.Bought, Lines: []sale.Line{{Product: m.product, Bars: 30, Price: 800}}}, trading.NewBuyer{Name: "Bea"})
	require.NoError(t, err)
	short := m.ahead().Short
	require.NotEmpty(t, short, "no soap is ready in a week")
	assert.Equal(t, 21, short[0].Bars)
}

// A soap that goes all the time is wanted before it is gone, and days on which none was there do not count against it.
func TestASteadySellerIsWantedWhileItLasts(t *testing.T) {
	m := atMarket(t)
	assert.Empty(t, m.ahead().Wanted)
	for range 6 {
		m.now = m.now.Add(4 * 24 * time.Hour)
		require.NoError(t, m.sells(1))
	}
	a := m.ahead()
	require.Len(t, a.Wanted, 1)
	w := a.Wanted[0]
	lead := a.Makings[0].Demand.Lead() + a.Request.Margin
	assert.Equal(t, m.today().AddDate(0, 0, lead+1).Format(time.DateOnly), w.On)
	weekly := float64(w.Bars) / float64(lead+7) * 7
	assert.InDelta(t, 7.0/4, weekly, 0.3, "one every four days since it was released, however short that is")
	assert.Contains(t, w.Why, "5 sold in 13 weeks, with none there on")
	require.NoError(t, m.sells(3))
	m.now = m.now.Add(28 * 24 * time.Hour)
	w = m.ahead().Wanted[0]
	assert.Greater(t, float64(w.Bars)/float64(lead+7)*7, 1.9, "nine in four weeks, and none were left since")
}
