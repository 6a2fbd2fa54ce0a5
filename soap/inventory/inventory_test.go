package inventory_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
)

const kilo = 1_000_000

func tin(code string, left int64, bestBefore, opened string) inventory.Delivery {
	return inventory.Delivery{
		Bought: lot.Bought{OID: code, Name: "Olive oil", Supplier: "Mill", Code: code, Received: "2026-01-02"}, Booked: true,
		Unit: inventory.Milligrams, Quantity: 5 * kilo, Left: left, Priced: left, BestBefore: bestBefore, Opened: opened,
		Status: inventory.Usable,
	}
}

func codes(list []inventory.Delivery) (out []string) {
	for _, d := range list {
		out = append(out, d.Code)
	}
	return out
}

func TestWhatExpiresFirstIsUsedFirstAndAtATieWhatIsOpen(t *testing.T) {
	life := inventory.Life{Closed: 18, Opened: 6}
	late, early := tin("late", kilo, "2027-05-01", ""), tin("early", kilo, "2026-12-01", "")
	opened := tin("opened", kilo, "2027-05-01", "2026-03-01") // ends 1 Sep 2026, six months after it was opened
	assert.Equal(t, "2026-09-01", opened.Expires(life))
	tie := tin("tie", kilo, "2026-12-01", "2026-06-30")
	blocked, empty := tin("blocked", kilo, "2026-04-01", ""), tin("empty", 0, "2026-04-01", "")
	blocked.Status = inventory.Blocked
	order := inventory.InOrder([]inventory.Delivery{late, blocked, early, empty, opened, tie}, life, "2026-03-14")
	assert.Equal(t, []string{"opened", "tie", "early", "late", "empty", "blocked"}, codes(order))
	assert.Equal(t, inventory.Past, opened.FreshOn(life, "2026-09-01"))
	assert.Equal(t, inventory.Soon, opened.FreshOn(life, "2026-07-20"))
	assert.Equal(t, inventory.Fresh, opened.FreshOn(life, "2026-03-14"))
	undated := tin("undated", kilo, "", "")
	assert.Equal(t, "2027-07-02", undated.Expires(life), "without a date, from the day it came")
	assert.Empty(t, undated.Expires(inventory.Life{Closed: inventory.Forever, Opened: inventory.Forever}))
}

func TestAWeighingIsSplitWhereATinRunsOut(t *testing.T) {
	list := []inventory.Delivery{tin("a", 230_000, "2026-12-01", ""), tin("b", 2*kilo, "2027-12-01", "")}
	parts, missing := inventory.Propose(list, 640_000)
	require.Len(t, parts, 2)
	assert.EqualValues(t, 230_000, parts[0].Amount)
	assert.EqualValues(t, 410_000, parts[1].Amount)
	assert.Zero(t, missing)
	list[1].Status = inventory.Blocked
	parts, missing = inventory.Propose(list, 640_000)
	assert.Len(t, parts, 1, "what is blocked gives nothing")
	assert.EqualValues(t, 410_000, missing)
}

func TestHowLongAnOilKeepsFollowsFromItsAcids(t *testing.T) {
	of := func(kind inventory.Kind, name string) inventory.Life {
		return inventory.LifeOf(inventory.Material{Key: inventory.NewKey(kind, name), Name: name, Kind: kind})
	}
	assert.Equal(t, 9, of(inventory.Fat, "Hempseed oil").Closed)
	assert.Equal(t, 12, of(inventory.Fat, "Rice bran oil").Closed)
	assert.Equal(t, 18, of(inventory.Fat, "Olive oil").Closed)
	assert.Equal(t, 24, of(inventory.Fat, "Coconut oil").Closed)
	assert.Equal(t, 12, of(inventory.Scent, "Samphire and grapefruit").Closed, "citrus keeps a year")
	assert.Equal(t, 24, of(inventory.Scent, "Hay and vetiver").Closed)
	assert.Equal(t, inventory.Forever, of(inventory.Alkali, "Sodium hydroxide").Closed)
	assert.Zero(t, of(inventory.Liquid, "Sheep milk").Closed, "nobody can say")
	own := inventory.Material{Key: plan.FatKeyOf("olive-oil"), Kind: inventory.Fat, Closed: 30, Opened: 20}
	assert.Equal(t, inventory.Life{Closed: 30, Opened: 20}, inventory.LifeOf(own), "what the shop says counts")
}

// Bought is used, wasted, sent back and left: in milligrams and to the cent, whatever happened in between.
func TestWhatWasBoughtIsWhatBecameOfItToTheCent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		goods := rapid.Int64Range(1, 90_000).Draw(t, "goods")
		d := tin("d", 0, "", "")
		d.Quantity = rapid.Int64Range(1, 30*kilo).Draw(t, "quantity")
		d.Left, d.Priced, d.Goods, d.Freight = d.Quantity, d.Quantity, &goods, rapid.Int64Range(0, 900).Draw(t, "freight")
		priced := map[inventory.Bucket]int64{}
		var out, outPriced int64
		for range rapid.IntRange(0, 30).Draw(t, "steps") {
			n := rapid.Int64Range(1, 9*kilo).Draw(t, "amount")
			switch what := rapid.SampledFrom([]inventory.What{inventory.Weighed, inventory.Spilled, inventory.SentBack, inventory.Found,
				inventory.Counted}).Draw(t, "what"); what {
			case inventory.Found:
				d.Left += n // which nobody paid for
			case inventory.Counted: // poured back into the tin
				back := min(n, out)
				p := inventory.GiveBack(back, out, outPriced)
				require.GreaterOrEqual(t, p, int64(0))
				require.LessOrEqual(t, p, min(back, outPriced))
				d.Left, d.Priced, out, outPriced = d.Left+back, d.Priced+p, out-back, outPriced-p
				priced[inventory.Used] -= p
			default:
				n = min(n, d.Left)
				p := d.Take(n)
				d.Left, d.Priced = d.Left-n, d.Priced-p
				priced[what.Bucket()] += p
				if what == inventory.Weighed {
					out, outPriced = out+n, outPriced+p
				}
			}
			require.GreaterOrEqual(t, d.Left, int64(0))
			require.GreaterOrEqual(t, d.Priced, int64(0))
			require.LessOrEqual(t, d.Priced, d.Left)
		}
		price := d.Price()
		parts := []cost.Money{price.For(d.Priced)}
		for _, b := range []inventory.Bucket{inventory.Used, inventory.Wasted, inventory.Returned} {
			parts = append(parts, price.For(priced[b]))
		}
		all, _ := d.Cost()
		require.Zero(t, all.Cmp(cost.Total(parts)), "exactly")
		var shown int64
		for _, minor := range cost.Shown(parts) {
			shown += minor
		}
		require.Equal(t, goods+d.Freight, shown, "and as it is shown")
	})
}

func TestTaxThatComesBackIsNoCostAndAPriceThatIsNotKnownNone(t *testing.T) {
	goods := int64(1000)
	d := tin("d", kilo, "", "")
	_, known := d.Cost()
	assert.False(t, known)
	assert.EqualValues(t, kilo, d.LineOf(kilo, kilo).UnknownMG)
	d.Goods, d.Freight, d.Tax = &goods, 50, 210
	sum, _ := d.Cost()
	assert.EqualValues(t, 1260, sum.Rounded())
	d.TaxBack = true
	sum, _ = d.Cost()
	assert.EqualValues(t, 1050, sum.Rounded())
	line := d.LineOf(2*kilo, kilo)
	assert.EqualValues(t, 210, line.Cost.Rounded(), "a fifth of it")
	assert.EqualValues(t, kilo, line.UnknownMG, "of the rest nobody knows what it cost")
}

func TestFreightIsSharedByWeightAndByPriceWhereSomethingIsCounted(t *testing.T) {
	price := func(v int64) *int64 { return &v }
	list := []inventory.Receipt{
		{Unit: inventory.Milligrams, Amount: 5 * kilo, Goods: price(5000)}, {Unit: inventory.Milligrams, Amount: 15 * kilo, Goods: price(5000)},
	}
	inventory.Share(list, 801, 2000, inventory.ByWeight)
	assert.EqualValues(t, []int64{200, 601}, []int64{list[0].Freight, list[1].Freight})
	assert.EqualValues(t, []int64{1000, 1000}, []int64{list[0].Tax, list[1].Tax}, "tax goes by the price")
	list[1].Unit = inventory.Pieces
	inventory.Share(list, 801, 0, inventory.ByWeight)
	assert.EqualValues(t, []int64{401, 400}, []int64{list[0].Freight, list[1].Freight})
}

func TestEnoughForThreeOfFourPotsAndWhatRunsOutFirst(t *testing.T) {
	olive, shea := plan.FatKeyOf("olive-oil"), plan.FatKeyOf("shea-butter")
	p := inventory.Pots{Count: 4, Each: []inventory.Want{{Key: olive, Amount: 400_000}, {Key: shea, Amount: 100_000}}}
	e := inventory.EnoughFor(p, map[plan.Key]int64{olive: 1_300_000, shea: 2 * kilo})
	assert.Equal(t, inventory.Enough{Pots: 3, Of: 4, First: olive, Missing: 300_000}, e)
	e = inventory.EnoughFor(p, map[plan.Key]int64{olive: 1_600_000, shea: 400_000})
	assert.Equal(t, inventory.Enough{Pots: 4, Of: 4}, e)
	e = inventory.EnoughFor(p, map[plan.Key]int64{olive: -5, shea: kilo})
	assert.Equal(t, inventory.Enough{Pots: 0, Of: 4, First: olive, Missing: 1_600_000}, e)
	assert.True(t, inventory.Reserves("", "2026-03-14"))
	assert.True(t, inventory.Reserves("2026-03-11", "2026-03-14"))
	assert.False(t, inventory.Reserves("2026-03-10", "2026-03-14"), "three days past its day it reserves no more")
}

// 700 g a week; it comes in 7 days, with a reserve of 7: order at 1400 g. With 2800 g free that is two weeks away.
func TestAnOrderGoesOutSoThatItComesInTime(t *testing.T) {
	weekly := inventory.WeeklyUse(9_100_000, "2025-01-01", "2026-03-14")
	assert.InDelta(t, 700_000, weekly, 1e-6, "of the last thirteen weeks")
	assert.InDelta(t, 9_100_000/4.0, inventory.WeeklyUse(9_100_000, "2026-03-10", "2026-03-14"), 1e-6, "no less than four weeks count")
	r := inventory.ReorderOf(inventory.Balance{Have: 2_800_000}, weekly, 7, 7, "2026-03-14")
	assert.EqualValues(t, 1_400_000, r.Point)
	assert.Equal(t, "2026-03-28", r.By)
	assert.Zero(t, r.Buy)
	r = inventory.ReorderOf(inventory.Balance{Have: kilo}, weekly, 7, 7, "2026-03-14")
	assert.Equal(t, "2026-03-14", r.By)
	assert.EqualValues(t, 1_400_000+8*700_000-kilo, r.Buy)
	r = inventory.ReorderOf(inventory.Balance{Have: kilo, Reserved: 1_500_000}, 0, 7, 0, "2026-03-14")
	assert.EqualValues(t, 500_000, r.Buy, "what plans are short of, even where nothing was used yet")
	assert.Empty(t, inventory.ReorderOf(inventory.Balance{Have: kilo}, 0, 7, 7, "2026-03-14").By)
}

func TestPacksCoverWhatIsWantedForTheLeastMoney(t *testing.T) {
	small := inventory.Offer{Supplier: "Mill", Amount: 5 * kilo, Price: 5890}
	big := inventory.Offer{Supplier: "Mill", Amount: 25 * kilo, Price: 27_400}
	open := inventory.Offer{Supplier: "Quarry", Amount: kilo, Price: -1}
	p, ok := inventory.Cheapest([]inventory.Offer{open, big, small}, 7*kilo)
	require.True(t, ok)
	assert.Equal(t, inventory.Packs{Offer: small, Count: 2}, p)
	p, _ = inventory.Cheapest([]inventory.Offer{open, big, small}, 22*kilo)
	assert.Equal(t, inventory.Packs{Offer: big, Count: 1}, p, "274.00 rather than five tins")
	p, _ = inventory.Cheapest([]inventory.Offer{open}, 2*kilo+1)
	assert.Equal(t, 3, p.Count)
	_, ok = inventory.Cheapest(nil, kilo)
	assert.False(t, ok)
	rapid.Check(t, func(t *rapid.T) {
		want := rapid.Int64Range(1, 90*kilo).Draw(t, "want")
		p, _ := inventory.Cheapest([]inventory.Offer{small, big}, want)
		require.GreaterOrEqual(t, p.Amount(), want)
		require.Less(t, p.Amount()-p.Offer.Amount, want, "no pack too many")
	})
}

func TestNamesThatCouldBeOneThingAreListedAndNothingIsGuessed(t *testing.T) {
	of := func(kind inventory.Kind, name string) inventory.Material {
		return inventory.Material{Key: inventory.NewKey(kind, name), Name: name, Kind: kind, Unit: inventory.Milligrams}
	}
	kaolin, clay := of(inventory.Additive, "Kaolin"), of(inventory.Colour, "Kaolin clay")
	goat, oat := of(inventory.Liquid, "Goat milk"), of(inventory.Liquid, "Oat drink")
	twins := inventory.FindTwins([]inventory.Material{kaolin, clay, goat, oat, of(inventory.Fat, "Palm kernel oil")})
	require.Len(t, twins, 1)
	assert.Equal(t, "Kaolin", twins[0].A.Name)
	kaolin.Not = []plan.Key{inventory.Fold(clay.Key)}
	assert.Empty(t, inventory.FindTwins([]inventory.Material{kaolin, clay}), "once somebody has said that they are two")
	merged := inventory.Material{Key: kaolin.Key, Also: []plan.Key{clay.Key}}
	assert.True(t, merged.Is("additive:KAOLIN CLAY"))
	assert.False(t, merged.Is("additive:clay"))
}

func TestAMaterialIsFoundByWhatRecipesCallIt(t *testing.T) {
	assert.Equal(t, plan.FatKeyOf("olive-oil"), inventory.NewKey(inventory.Fat, "olive oil"))
	assert.Equal(t, plan.NaOHKey, inventory.NewKey(inventory.Alkali, "Sodium hydroxide"))
	assert.Equal(t, plan.KOHKey, inventory.NewKey(inventory.Alkali, "KOH flakes"))
	assert.Equal(t, plan.LiquidKeyOf("sheep-milk"), inventory.NewKey(inventory.Liquid, "Sheep milk"))
	assert.Equal(t, plan.Key("additive:sea salt"), inventory.NewKey(inventory.Additive, " Sea salt"))
	assert.Equal(t, plan.Key("packaging:box"), inventory.NewKey(inventory.Packaging, "Box"))
	assert.Equal(t, inventory.Colour, inventory.KindOf(additive.Use{Name: "Titanium dioxide"}))
	assert.Equal(t, inventory.Scent, inventory.KindOf(additive.Use{Name: "Smoke", Scent: true}))
	assert.False(t, inventory.Booked("liquid:water;for:Kaolin"), "tap water, also what is set apart")
	assert.False(t, inventory.Booked(plan.StockKey))
	assert.True(t, inventory.Booked(plan.FatKeyOf("olive-oil")))
	for _, k := range inventory.Kinds() {
		assert.NotEmpty(t, k.Words())
		assert.NotEmpty(t, k.Shelf())
	}
	for _, w := range append(inventory.Leaves(), inventory.Received, inventory.Weighed, inventory.Counted, inventory.Found) {
		assert.NotEmpty(t, w.Words())
	}
}

func TestWhatCannotBeKeptOfAMaterialOrAnOrderIsSaid(t *testing.T) {
	bad := inventory.Material{
		Unit: inventory.Pieces, Kind: inventory.Fat, Dense: 9, Closed: 999, Safety: -1, Offers: []inventory.Offer{{Lead: 999}},
	}
	p := bad.Check()
	for _, path := range []string{"name", "unit", "dense", "closed", "safety", "offers[0].supplier", "offers[0].amount", "offers[0].lead"} {
		assert.NotEmpty(t, p.At(path), path)
	}
	assert.NotEmpty(t, inventory.Order{}.Check())
	assert.NotEmpty(t, inventory.Order{Lines: []inventory.OrderLine{{Pack: 1}}}.Check().At("lines[0].packs"))
	o := inventory.Opening{Bars: 0, Made: "2026-03-02", Ready: "2026-03-01"}
	for _, path := range []string{"code", "name", "bars", "ready"} {
		assert.NotEmpty(t, o.Check().At(path), path)
	}
}
