package demo

import (
	"time"

	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/store"
)

// stuff is a material of the story.
type stuff struct {
	key  plan.Key
	name string
}

// bought is a delivery of the story. Days count back from now.
type bought struct {
	stuff
	supplier    string
	code        string
	days        float64
	grams       float64 // or pieces
	cents       int64
	keeps       int // days until its best-before, from now; 0 for none
	openedAfter float64
	purity, sap float64
	place       string
}

const (
	quay   = "Quay Oils"
	kiln   = "Kiln Lane Chemicals"
	wendle = "Wendle & Tarr"
	row    = "Carrick Row Oils"
	mill   = "Gorse Mill Stores"
	paper  = "Tallis Paperworks"
)

// deliveries are what the made-up shop has bought over half a year. Olive oil rises by a third in that time.
func deliveries() []bought {
	of := func(kind inventory.Kind, name string) stuff { return stuff{inventory.NewKey(kind, name), name} }
	scent := func(name, from string) stuff { return of(inventory.Scent, name+" ("+from+")") }
	thing := func(name string) stuff { return of(inventory.Additive, name) }
	fat := func(slug, name string) stuff { return stuff{plan.FatKeyOf(slug), name} }
	return []bought{
		{stuff{plan.NaOHKey, "Sodium hydroxide"}, kiln, "KL-2281", 192, 10000, 4650, 0, 0, 99.2, 0, "lye cupboard"},
		{stuff{plan.KOHKey, "Potassium hydroxide"}, kiln, "KL-1904", 190, 1000, 1190, 0, 0, 90, 0, "lye cupboard"},
		{fat("olive-oil", "Olive oil"), quay, "QO-0417", 190, 5000, 4250, 240, 2, 0, 0, "cool room"},
		{fat("olive-oil", "Olive oil"), quay, "QO-0468", 110, 2700, 2590, 330, 1, 0, 0, "cool room"},
		{fat("olive-oil", "Olive oil"), quay, "QO-0533", 48, 3000, 3320, 420, 0, 0, 188.4, "cool room"},
		{fat("coconut-oil", "Coconut oil"), quay, "QC-1120", 190, 11000, 5340, 500, 3, 0, 257, "cool room"},
		{fat("coconut-oil", "Coconut oil"), quay, "QC-1187", 60, 5000, 2690, 600, 1, 0, 0, "cool room"},
		{fat("castor-oil", "Castor oil"), quay, "QR-0202", 188, 2500, 1975, 300, 3, 0, 0, "cool room"},
		{fat("shea-butter", "Shea butter"), row, "SB-77", 186, 3250, 3180, 420, 2, 0, 0, "cool room"},
		{fat("shea-butter", "Shea butter"), row, "SB-91", 30, 3000, 3180, 600, 0, 0, 0, "cool room"},
		{fat("shea-butter", "Shea butter"), row, "SB-94", 16, 3000, 3180, 600, 0, 0, 0, "by the door"},
		{fat("beef-tallow", "Beef tallow"), mill, "T-31", 120, 4000, 1480, 360, 2, 0, 0, "cool room"},
		{fat("rice-bran-oil", "Rice bran oil"), quay, "RB-311", 186, 5000, 2590, 150, 2, 0, 0, "cool room"},
		{fat("sunflower-oil-high-oleic", "Sunflower oil (high oleic)"), quay, "SH-070", 150, 3000, 1290, 200, 2, 0, 0, "cool room"},
		{fat("hempseed-oil", "Hempseed oil"), row, "HS-12", 100, 1000, 1640, 34, 5, 0, 0, "cool room"},
		{fat("cocoa-butter", "Cocoa butter"), row, "CB-08", 40, 1000, 1890, 620, 0, 0, 0, "cool room"},
		{stuff{plan.LiquidKeyOf("sheep-milk"), "Sheep milk"}, mill, "frozen, January", 56, 3000, 960, 90, 0, 0, 0, "freezer"},
		{thing("Kaolin clay"), row, "K-2", 185, 500, 690, 0, 3, 0, 0, "dry shelf"},
		{thing("Oatmeal powder"), mill, "O-14", 100, 500, 240, 120, 2, 0, 0, "dry shelf"},
		{thing("Sea salt (fine)"), mill, "S-60", 90, 5000, 640, 0, 2, 0, 0, "dry shelf"},
		{thing("Sugar (granulated)"), mill, "Z-9", 150, 2000, 310, 0, 2, 0, 0, "dry shelf"},
		{thing("Activated charcoal"), row, "AC-5", 60, 100, 780, 0, 0, 0, 0, "dry shelf"},
		{thing("Indigo mica"), row, "M-33", 60, 50, 590, 0, 0, 0, 0, "dry shelf"},
		{thing("Titanium dioxide (water-dispersible)"), row, "TW-1", 60, 100, 540, 0, 0, 0, 0, "dry shelf"},
		{scent("Fig leaf and black tea", wendle), wendle, "WT-5512", 150, 250, 3150, 420, 2, 0, 0, "scent drawer"},
		{scent("Bay laurel oil", wendle), wendle, "WT-5604", 60, 100, 2480, 500, 0, 0, 0, "scent drawer"},
		{scent("Clove bud oil", wendle), wendle, "WT-5560", 60, 30, 690, 500, 0, 0, 0, "scent drawer"},
		{scent("Samphire and grapefruit", wendle), wendle, "WT-5431", 185, 250, 2790, 21, 100, 0, 0, "scent drawer"},
		{scent("Hay and vetiver", row), row, "CR-118", 120, 100, 1560, 400, 4, 0, 0, "scent drawer"},
		{of(inventory.Packaging, "Folding box, 60 × 90"), paper, "B-60", 180, 400, 9600, 0, 0, 0, 0, "attic"},
	}
}

// described are the materials that have a page of their own, with who sells them.
func described() []inventory.Material {
	fats := func(slug, name, place string, offers ...inventory.Offer) inventory.Material {
		return inventory.Material{Key: plan.FatKeyOf(slug), Name: name, Kind: inventory.Fat, Unit: inventory.Milligrams, Place: place,
			Safety: 7, Offers: offers}
	}
	kilos := func(supplier, article string, kilos, cents int64, lead int) inventory.Offer {
		return inventory.Offer{Supplier: supplier, Article: article, Amount: kilos * 1_000_000, Price: cents, Lead: lead}
	}
	return []inventory.Material{
		fats("olive-oil", "Olive oil", "cool room", kilos(quay, "Olive, 5 l tin", 5, 5890, 6), kilos(quay, "Olive, 25 l", 25, 27400, 10)),
		fats("coconut-oil", "Coconut oil", "cool room", kilos(quay, "Coconut 24, bucket", 5, 2690, 6)),
		fats("rice-bran-oil", "Rice bran oil", "cool room", kilos(quay, "Rice bran, 5 l", 5, 2640, 6)),
		fats("shea-butter", "Shea butter", "cool room", kilos(row, "Shea, block", 3, 3180, 9)),
		{Key: plan.NaOHKey, Name: "Sodium hydroxide", Kind: inventory.Alkali, Label: "Sodium Hydroxide", Unit: inventory.Milligrams,
			Place: "lye cupboard", Safety: 14, Offers: []inventory.Offer{kilos(kiln, "Pearls, tub", 10, 4820, 8)}},
		{Key: inventory.NewKey(inventory.Packaging, "Folding box, 60 × 90"), Name: "Folding box, 60 × 90", Kind: inventory.Packaging,
			Unit: inventory.Pieces, Place: "attic", Safety: 14,
			Offers: []inventory.Offer{{Supplier: paper, Article: "B-60", Amount: 400, Price: 9900, Lead: 12}}},
	}
}

// stock fills the store as the story goes on: deliveries and what is known of them, an order that came short, one that
// is on the way, a cup that was spilled, a block that smells, and bars from before the books.
func (d *seeder) stock() {
	const day = 24.0
	d.at(199*day, func() {
		for _, m := range described() {
			_, err := d.shop.KeepMaterial(d.ctx, d.act(odile), "", 0, m)
			d.check("material "+m.Name, err)
		}
	})
	ids := map[string]string{}
	local := func(days float64) string {
		return d.now.Add(-time.Duration(days * day * float64(time.Hour))).Format(time.DateOnly)
	}
	for _, one := range deliveries() {
		in := inventory.Receipt{
			Key: one.key, Name: one.name, Supplier: one.supplier, Code: one.code, Received: local(one.days), Purity: one.purity, SAP: one.sap,
			Unit: inventory.Milligrams, Amount: inventory.MG(one.grams), Goods: &one.cents, Place: one.place,
		}
		if one.key.Kind() == "packaging" {
			in.Unit, in.Amount = inventory.Pieces, int64(one.grams)
		}
		if one.keeps > 0 {
			in.BestBefore = local(-float64(one.keeps))
		}
		d.at(one.days*day, func() {
			oids, err := d.shop.Receive(d.ctx, d.act(odile), "", []inventory.Receipt{in})
			d.check("delivery "+one.code, err)
			if err == nil {
				ids[one.code] = oids[0]
			}
		})
		if one.openedAfter > 0 && one.openedAfter < one.days {
			opened := local(one.days - one.openedAfter)
			d.at((one.days-one.openedAfter)*day, func() {
				d.check("open "+one.code, d.shop.Mark(d.ctx, d.act(bastian), ids[one.code], store.DeliveryWord{Opened: &opened}))
			})
		}
	}
	line := func(slug, name, article string, packs int, cents int64) inventory.OrderLine {
		return inventory.OrderLine{Key: plan.FatKeyOf(slug), Name: name, Unit: inventory.Milligrams, Article: article,
			Pack: 5_000_000, Packs: packs, Price: cents}
	}
	d.at(28*day, func() {
		oid, err := d.shop.PlaceOrder(d.ctx, d.act(odile), quay, inventory.Order{
			Lines: []inventory.OrderLine{line("coconut-oil", "Coconut oil", "Coconut 24, bucket", 2, 2690)}, Due: local(21),
		})
		d.check("order", err)
		ids["short"] = oid
	})
	d.at(20*day, func() {
		price := int64(2690)
		in := []inventory.Receipt{{Key: plan.FatKeyOf("coconut-oil"), Name: "Coconut oil", Supplier: quay, Code: "QC-1203", Received: local(20),
			BestBefore: local(-680), Unit: inventory.Milligrams, Amount: 5_000_000, Goods: &price, Place: "cool room", Line: 1}}
		inventory.Share(in, 690, 0, inventory.ByWeight)
		_, err := d.shop.Receive(d.ctx, d.act(bastian), ids["short"], in)
		d.check("half of the order", err)
		d.check("close the order", d.shop.CloseOrder(d.ctx, d.act(odile), ids["short"], "closed", "the second bucket is sold out there"))
	})
	d.at(2*day, func() {
		_, err := d.shop.PlaceOrder(d.ctx, d.act(odile), quay, inventory.Order{
			Lines: []inventory.OrderLine{line("rice-bran-oil", "Rice bran oil", "Rice bran, 5 l", 1, 2640)}, Due: local(-5),
		})
		d.check("order", err)
	})
	d.at(43*day, func() {
		d.check("spill", d.shop.Leave(d.ctx, d.act(bastian), ids["QO-0533"], inventory.Spilled, 180_000, "", "a cup went over at the sink"))
	})
	d.at(6*day, func() {
		d.check("block", d.shop.SetDeliveryStatus(d.ctx, d.act(odile), ids["SB-94"], inventory.Blocked,
			"grainy, and smells of the lorry: Carrick Row is asked"))
	})
	d.at(190*day, func() {
		cost := int64(1960)
		d.check("take over", d.shop.TakeOverStock(d.ctx, d.act(odile), []inventory.Opening{
			{Code: "QH-31", Name: "Old hearth bar", Bars: 14, Made: local(260), Ready: local(225), Cost: &cost},
			{Code: "QH-33", Name: "Barley and honey", Bars: 9, Made: local(240), Note: "no sheet was kept"},
		}, nil))
	})
	d.at(185*day, func() {
		list, err := d.shop.Openings(d.ctx, "QH-31")
		d.check("openings", err)
		if err == nil {
			d.check("release", d.shop.ReleaseOpening(d.ctx, d.act(odile), list[0].OID, "from my own binder; tested on the tongue in spring"))
			d.check("sold", d.shop.MoveOpening(d.ctx, d.act(odile), list[0].OID, "sold", 8, "at the door"))
		}
	})
}

// first is the delivery of a material that is to be used first.
func (d *seeder) first(k plan.Key) string {
	list, _, err := d.shop.AtHand(d.ctx, k, "")
	d.check("deliveries of "+string(k), err)
	if len(list) == 0 || !list[0].Booked || list[0].Left <= 0 {
		return ""
	}
	return list[0].OID
}
