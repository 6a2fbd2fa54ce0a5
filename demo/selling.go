package demo

import (
	"context"
	"time"

	"ashshelf/shop/selling"
	"ashshelf/shop/tracing"
	"ashshelf/soap/assess"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/plan"
	"ashshelf/soap/product"
	"ashshelf/soap/recall"
	"ashshelf/soap/tag"
	"ashshelf/store"
)

// scentKey names a scent in the store, as recipes name it.
func scentKey(name string) plan.Key { return plan.Key(string(plan.AdditiveItem) + ":" + name) }

// sell gives the shop its products: one whose words promise too much, a plain line of seconds, labels that were
// printed, bars that are put by, a complaint that was dealt with, and the drill of a recall.
func (d *seeder) sell() {
	const day = 24.0
	local := func(days float64) string {
		return d.now.Add(-time.Duration(days * day * float64(time.Hour))).Format(time.DateOnly)
	}
	ids := map[string]string{}
	d.at(60*day, func() {
		rules := label.UsualRules()
		rules.Address = "Quernhollow Soap, 3 Ferry Row, Inishquern"
		d.check("rules", d.shop.KeepLabelRules(d.ctx, d.act(odile), rules))
		oid, err := d.shop.KeepSheet(d.ctx, d.act(odile), "", 0, "Bands, ten on a page", tag.Sheet{
			PageW: tag.A4[0], PageH: tag.A4[1], Left: 10, Top: 8.5, Columns: 2, Rows: 5, W: 95, H: 56,
		})
		d.check("sheet", err)
		ids["sheet"] = oid
		for name, said := range map[string]label.Declaration{
			"Fig leaf and black tea (Wendle & Tarr)": {Allergens: []label.Share{{Name: "Linalool", Percent: 3.4}, {Name: "Coumarin", Percent: 0.9},
				{Name: "Hexyl Cinnamal", Percent: 0.2}}, Source: "certificate WT-5512"},
			"Hay and vetiver (Carrick Row Oils)": {Allergens: []label.Share{{Name: "Coumarin", Percent: 6}, {Name: "Geraniol", Percent: 0.8}},
				Source: "letter of Carrick Row"},
			"Samphire and grapefruit (Wendle & Tarr)": {Allergens: []label.Share{{Name: "Limonene", Percent: 41}, {Name: "Citral", Percent: 2}},
				Source: "certificate WT-5530"},
			"Oatmeal powder": {None: true, Source: "the mill says so"},
		} {
			d.check("allergens of "+name, d.shop.Declare(d.ctx, d.act(odile), scentKey(name), "", said))
		}
	})
	looked := product.Looked{Where: "register of marks, and the web", On: local(58), By: odile, Found: "nobody sells soap by it"}
	first := []ledger.Grade{ledger.First}
	for _, one := range []struct {
		key  string
		days float64
		product.Product
	}{
		{"fig", 58, product.Product{
			Name: "Fig by lamplight", Recipes: []string{d.recipes["fig"]}, Grades: first, Net: 95, Stamp: "lamp", Looked: looked,
			Prices: []product.Price{{Channel: "market", Amount: 750}, {Channel: "shop", Amount: 450}}, Launch: local(30),
			Care: product.UsualCare, Wording: "Cleans gently. Smells of fig leaf and black tea.",
		}},
		{"olive", 58, product.Product{
			Name: "Ferryman's olive", Recipes: []string{d.recipes["olive"]}, Grades: first, Net: 100, Looked: looked,
			Prices: []product.Price{{Channel: "market", Amount: 820}}, Care: product.UsualCare,
			Wording: "Nothing but olive oil, lye and water. Unscented. Cured for half a year.",
		}},
		{"hay", 20, product.Product{
			Name: "Drover's evening", Recipes: []string{d.recipes["tallow"]}, Grades: first, Net: 90,
			Prices: []product.Price{{Channel: "market", Amount: 750}}, Care: product.UsualCare,
			Wording: "Smells of a hayloft. Softens hard hands. Repels midges.",
		}},
		{"plain", 58, product.Product{
			Name: "Plain and sound", Recipes: []string{d.recipes["base"], d.recipes["fig"], d.recipes["tallow"], d.recipes["salt"]},
			Grades: []ledger.Grade{ledger.Second}, Net: 85, Prices: []product.Price{{Channel: "market", Amount: 400}}, Care: product.UsualCare,
			Wording: "A corner off, and as good as any.",
		}},
		{"hearth", 9, product.Product{
			Name: "Hearth and fig", Recipes: []string{d.recipes["fig"], d.recipes["base"]}, Grades: first, Net: 95, Limited: true,
			From: local(-20), Until: local(-80), Prices: []product.Price{{Channel: "market", Amount: 790}}, Care: product.UsualCare,
			Wording: "For the plant fair: the bar that goes with a row of seedlings.",
		}},
	} {
		d.at(one.days*day, func() {
			oid, err := d.shop.KeepProduct(d.ctx, d.act(odile), "", 0, one.Product)
			d.check("product "+one.Name, err)
			ids[one.key] = oid
		})
	}
	usual := ledger.Of(ledger.First)
	d.at(9*day, func() {
		fig := d.lot("3-M")
		run, err := d.shop.Print(d.ctx, d.act(bastian), selling.Of{Product: ids["fig"], Lot: fig, Kind: usual, Sheet: ids["sheet"]}, 8, 10)
		d.check("labels", err)
		ids["run"] = run
		d.check("put by", d.shop.Reserve(d.ctx, d.act(bastian), fig, usual, ids["fig"],
			selling.For{Kind: "market", Name: "Quay market", Day: local(-7)}, 4))
		d.check("put by", d.shop.Reserve(d.ctx, d.act(odile), d.lot("2-K"), usual, ids["olive"],
			selling.For{Kind: "person", Name: "the ferry office"}, 2))
	})
	d.at(8*day, func() {
		d.check("sold", d.shop.Sell(d.ctx, d.act(bastian), d.lot("3-M"), selling.Sale{
			Kind: usual, Product: ids["fig"], Reason: ledger.Sold, Bars: 2, Channel: "at the door", Buyer: "the ferry office",
		}))
	})
	d.at(7*day, func() {
		d.check("assessment", d.shop.Assess(d.ctx, d.act(odile), d.recipes["fig"], assess.Assessment{
			Reference: "A-117", On: local(12), By: "T. Orwin, assessor", Limits: []assess.Limit{
				{Name: "Olive oil", Min: 40, Max: 50}, {Name: "Coconut oil", Min: 20, Max: 30}, {Name: "Shea butter", Max: 15},
				{Name: "Rice bran oil", Max: 15}, {Name: "Castor oil", Max: 8}, {Name: "Sugar (granulated)", Max: 2}, {Name: "Kaolin clay", Max: 2},
				{Name: "Fig leaf and black tea (Wendle & Tarr)", Max: 3},
			},
		}))
	})
	d.at(5*day, func() {
		oid, err := d.shop.Complain(d.ctx, d.act(bastian),
			store.Complaint{Kind: "soft", Said: "It went to slime in a week.", From: "a neighbour"}, "1-H")
		d.check("complaint", err)
		ids["complaint"] = oid
	})
	d.at(4*day, func() {
		d.check("answer", d.shop.Answer(d.ctx, d.act(odile), ids["complaint"], "done",
			"It lay in water in the dish: gave her a rack and a new bar."))
		d.check("answer", d.shop.Answer(d.ctx, d.act(odile), ids["complaint"], "ended", "She is content; the bar was sound."))
	})
	d.at(3*day, func() {
		oid, err := d.shop.Begin(d.ctx, d.act(odile), tracing.Subject{Kind: "lot", Of: d.lot("3-M")},
			"Practice: as if the fig scent had been mixed up.", true, "")
		d.check("drill", err)
		ids["drill"] = oid
	})
	d.at(3*day-0.4, func() {
		r, err := d.shop.Recall(d.ctx, ids["drill"])
		d.check("drill", err)
		for _, o := range r.Owing() {
			d.check("drill", d.shop.Note(d.ctx, d.act(bastian), ids["drill"], o.Lot, recall.Move{
				What: recall.CameBack, Pool: recall.Buyer, Of: o.Entry, Bars: o.With, Note: "rang them: all are there",
			}))
		}
		d.check("drill", d.shop.End(d.ctx, d.act(odile), ids["drill"], false,
			"The market's bars are with nobody we know. Note buyers of more than five."))
	})
	d.trade(ids)
}

// lot is the identity of a lot of the story, by its code.
func (d *seeder) lot(code string) string {
	list, _, err := d.shop.FindLots(context.WithoutCancel(d.ctx), store.LotsWhere{Text: code, Most: 1})
	d.check("lot "+code, err)
	if len(list) == 0 {
		return ""
	}
	return list[0].OID
}
