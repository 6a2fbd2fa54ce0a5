package demo

import (
	"fmt"
	"time"

	"ashshelf/shop/trading"
	"ashshelf/soap/ledger"
	"ashshelf/soap/market"
	"ashshelf/soap/sale"
)

// trade gives the shop its markets and orders: a quay market every second week, of which one is to be packed, last spring's
// plant fair with a scent that was gone at noon, and a guest house that takes bars on sale or return. ids are the products.
func (d *seeder) trade(ids map[string]string) {
	const day = 24.0
	local := func(days float64) string {
		return d.now.Add(-time.Duration(days * day * float64(time.Hour))).Format(time.DateOnly)
	}
	ferry, quay, fair := "", "", ""
	first := ledger.Of(ledger.First)
	d.at(57*day, func() {
		rules := sale.UsualRules()
		rules.Channels = []sale.Channel{{Name: "guest house", Percent: 35}, {Name: "web", Percent: 3, Each: 25}}
		rules.Terms, rules.KeepNames = "Please pay within three weeks.", 730
		d.check("sale rules", d.shop.KeepSaleRules(d.ctx, d.act(odile), rules))
	})
	quayDay := market.Market{Opens: "09:00", Closes: "14:30", Place: "below the crane", Channel: "market", Fee: 1800, Float: 6000,
		Deal: market.Deal{Bars: 3, Amount: 2000}, Bring: []string{"float and card reader", "bags and bands", "the small scale, checked",
			"a card for each soap", "towel and water"}}
	d.at(40*day, func() {
		m := quayDay
		m.On = local(21)
		oid, err := d.shop.KeepMarket(d.ctx, d.act(bastian), "", 0, "Quay market", m, trading.Again{Times: 5, Days: 14})
		d.check("market", err)
		quay = oid
		spring := market.Market{On: local(310), Opens: "10:00", Closes: "17:00", Place: "walled garden, Inishquern", Channel: "market",
			Fee: 6500, Float: 10000, Note: "Seedlings beside soap: people come back for the fig."}
		fair, err = d.shop.KeepMarket(d.ctx, d.act(odile), "", 0, "Plant fair", spring, trading.Again{})
		d.check("market", err)
		d.check("fair", d.shop.Remember(d.ctx, d.act(odile), fair, []market.Recalled{
			{Product: ids["fig"], Packed: 24, Sold: 24, Gone: "12:10"}, {Product: ids["olive"], Packed: 10, Sold: 8},
			{Product: ids["plain"], Packed: 12, Sold: 9},
		}, market.Home{Weather: "sun", Cash: 10000 + 19860, Card: 8300, Float: 10000, Note: "Twice as many fig bars, and be there by nine."}))
		spring.On, spring.Note, spring.Off = local(-84), "", false
		_, err = d.shop.KeepMarket(d.ctx, d.act(odile), "", 0, "Plant fair", spring, trading.Again{})
		d.check("market", err)
	})
	fig := trading.Packed{Kind: first}
	d.at(21.6*day, func() {
		fig.Product, fig.Lot, fig.Bars = ids["fig"], d.lot("3-M"), 11
		d.check("packed", d.shop.Pack(d.ctx, d.act(bastian), quay, []trading.Packed{fig}))
	})
	d.at(20.4*day, func() {
		for i, one := range []struct {
			hour   string
			bars   int
			amount int64
			pay    market.Pay
		}{
			{"09:25", 1, 750, market.Cash}, {"09:50", 3, 2000, market.Card}, {"10:40", 1, 750, market.Cash}, {"11:15", 2, 1500, market.Cash},
			{"12:30", 3, 2000, market.Cash}, {"13:40", 1, 750, market.Card},
		} {
			at, err := time.ParseInLocation("2006-01-02 15:04", local(21)+" "+one.hour, d.now.Location())
			d.check("hour", err)
			d.check("till", d.shop.Ring(d.ctx, d.act(bastian), quay, trading.Rung{Key: fmt.Sprintf("quay %d", i), What: "sold", At: at,
				Sale: market.Sale{Pay: one.pay, Amount: one.amount, Lines: []market.Line{{Product: fig.Product, Bars: one.bars}}}}))
		}
		asked := trading.Rung{Key: "quay asked", What: "asked", Of: fig.Product, At: d.clock.at}
		d.check("asked", d.shop.Ring(d.ctx, d.act(bastian), quay, asked))
		c, err := d.shop.Counting(d.ctx, quay)
		d.check("counting", err)
		d.check("home", d.shop.CountBack(d.ctx, d.act(bastian), quay, market.Home{Lines: c.Lines, Cash: c.Expected.CashDue - 20,
			Card: c.Expected.CardDue, Float: c.Float, Weather: "clouds", Note: "Cards with what is in each: everybody asks."}))
	})
	d.at(7*day, func() {
		m := quayDay
		m.On, m.Off, m.Note = local(7), true, "Storm: nobody puts a stall up."
		d.check("market", d.marketOn(local(7), func(oid string) error {
			_, err := d.shop.KeepMarket(d.ctx, d.act(bastian), oid, 1, "Quay market", m, trading.Again{})
			return err
		}))
	})
	d.at(6*day, func() {
		d.check("packed", d.marketOn(local(-7), func(oid string) error {
			fig.Bars = 4
			return d.shop.Pack(d.ctx, d.act(bastian), oid, []trading.Packed{fig})
		}))
	})
	d.at(2.6*day, func() {
		oid, err := d.shop.KeepSaleOrder(d.ctx, d.act(odile), "", 0, sale.Order{Channel: "guest house", Due: local(-12), Terms: sale.Return,
			Lines: []sale.Line{{Product: ids["olive"], Bars: 4, Price: 520}, {Product: ids["fig"], Bars: 6, Price: 480}},
			Note:  "One bar for each room at the head of the stairs."},
			trading.NewBuyer{Name: "The Lantern House", Contact: "2 Ferry Row, Inishquern"})
		d.check("order", err)
		ferry = oid
	})
	d.at(2.5*day, func() {
		bars := sale.Bars{Product: ids["olive"], Lot: d.lot("2-K"), Kind: first}
		three := trading.Packed{Product: bars.Product, Lot: bars.Lot, Kind: first, Bars: 3}
		d.check("packed", d.shop.PackOrder(d.ctx, d.act(odile), ferry, []trading.Packed{three}))
		_, err := d.shop.Send(d.ctx, d.act(odile), ferry)
		d.check("sent", err)
	})
	d.at(0.5*day, func() {
		_, err := d.shop.Tell(d.ctx, d.act(odile), ferry, []trading.Happened{
			{Bars: sale.Bars{Product: ids["olive"], Lot: d.lot("2-K"), Kind: first}, What: sale.Sold, Count: 1},
		}, "the guest in the north room")
		d.check("sold there", err)
	})
}

// marketOn does something with the market of a day.
func (d *seeder) marketOn(on string, do func(oid string) error) error {
	list, err := d.shop.Markets(d.ctx)
	if err != nil {
		return err
	}
	for _, m := range list {
		if m.On == on {
			return do(m.OID)
		}
	}
	return fmt.Errorf("no market on %s", on)
}
