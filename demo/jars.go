package demo

import (
	"ashshelf/soap/plan"
	"ashshelf/soap/steep"
)

// makeJars is what steeps in the shop: a jar of nettle that is strained and waits for its bar, and one
// that stands by the window for weeks.
func (d *seeder) makeJars() {
	const day = 24.0
	oid := ""
	start := func(hours float64, who string, j steep.Jar) {
		d.at(hours, func() {
			d.check("infusion", d.shop.StartInfusion(d.ctx, d.act(who), j, d.first(plan.FatKeyOf(j.Fat))))
			open, _, err := d.shop.Infusions(d.ctx)
			d.check("infusions", err)
			for _, one := range open {
				if one.Herb == "Dried nettle" {
					oid = one.OID
				}
			}
		})
	}
	happened := func(hours float64, who string, e steep.Event) {
		d.at(hours, func() {
			d.check("infusion", d.shop.ToInfusion(d.ctx, d.act(who), oid, e, d.first(plan.FatKeyOf("olive-oil"))))
		})
	}
	start(6*day, bastian, steep.Jar{Name: "Olive oil", Fat: "olive-oil", Herb: "Dried nettle", OilG: 620, HerbG: 74, Hours: 3, Warm: true})
	happened(6*day-1, bastian, steep.Event{What: steep.Stirred})
	happened(6*day-3, bastian, steep.Event{What: steep.Strained, Grams: 462})
	happened(6*day-3.2, bastian, steep.Event{What: steep.ToppedUp, Grams: 38, Note: "plain olive oil"})
	start(9*day, odile, steep.Jar{Name: "Rice bran oil", Fat: "rice-bran-oil",
		Herb: "Dried plantain leaf", OilG: 800, HerbG: 90, Hours: steep.StandingHours,
		Note: "on the sill, turned every few days"})
}
