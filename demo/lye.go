package demo

import (
	"ashshelf/shop/document"
	"ashshelf/shop/stock"
	"ashshelf/soap/fat"
	"ashshelf/soap/plan"
)

// makeStocks is what stands in the lye corner: a canister in use, an old one in
// quarantine, and a blend of hard fats.
func (d *seeder) makeStocks() {
	const day = 24.0
	made := map[string]string{}
	fill := func(key string, hours float64, f stock.Filling) {
		d.at(hours, func() {
			f.From = d.first(plan.NaOHKey)
			oid, err := d.shop.FillStock(d.ctx, d.act(odile), f)
			d.check("stock "+key, err)
			made[key] = oid
		})
	}
	fill(
		"old",
		110*day,
		stock.Filling{
			Kind:  document.NaOH,
			Gear:  true,
			Clear: true,
			StockBody: document.StockBody{
				Target:    50,
				Purity:    99,
				AlkaliG:   2020,
				WaterG:    1980,
				Lot:       "NH-0417",
				Container: "Grey canister",
				ML:        5000,
				Material:  "hdpe",
				Tare:      380,
			},
		},
	)
	d.at(60*day, func() {
		d.check("draw", d.shop.DrawStock(d.ctx, d.act(bastian), made["old"], 2210, "for the harvest lots, before it was kept here"))
	})
	d.at(20*day, func() { d.check("verify", d.shop.VerifyStock(d.ctx, d.act(odile), made["old"], 1.487, 19)) })
	d.at(20*day-1, func() {
		d.check(
			"quarantine",
			d.shop.SetStockStatus(
				d.ctx,
				d.act(odile),
				made["old"],
				"quarantine",
				"crust at the neck, and weaker than its label: find out first",
			),
		)
	})
	fill(
		"blue",
		12*day,
		stock.Filling{
			Kind:  document.NaOH,
			Gear:  true,
			Clear: true,
			StockBody: document.StockBody{
				Target:    50,
				Purity:    99,
				AlkaliG:   4041,
				WaterG:    3960,
				Lot:       "NH-0522",
				Container: "Blue canister",
				ML:        10000,
				Material:  "hdpe",
				Tare:      455,
			},
		},
	)
	for _, draw := range []struct{ day, grams float64 }{{9, 268}, {6, 544}, {3, 410}} {
		d.at(draw.day*day, func() {
			d.check("draw", d.shop.DrawStock(d.ctx, d.act(odile), made["blue"], draw.grams, "a lot on the old paper sheet"))
		})
	}
	d.at(2*day, func() {
		d.check("count", d.shop.CountStock(d.ctx, d.act(odile), made["blue"], 7231, false, ""))
	})
	d.at(4, func() { d.check("read", d.shop.ReadStock(d.ctx, d.act(odile), made["blue"], 16)) })
	d.at(8*day, func() {
		grams := func(slug string, g float64) fat.Share {
			return fat.Share{Fat: blend(share{slug, 1})[0].Fat, Percent: g}
		}
		_, err := d.shop.FillFats(
			d.ctx,
			d.act(bastian),
			document.StockBody{
				Container: "Hard oils bucket",
				ML:        12000,
				Tare:      610,
				Blend:     fat.Blend{grams("coconut-oil", 5600), grams("shea-butter", 2400)},
				Note:      "For Quern base and its variants.",
			},
			[]string{d.first(plan.FatKeyOf("coconut-oil")), d.first(plan.FatKeyOf("shea-butter"))},
		)
		d.check("blend of fats", err)
	})
}
