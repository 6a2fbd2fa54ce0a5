package shop_test

import (
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/shop"
	"ashshelf/shop/costing"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/stock"
	"ashshelf/shop/tracing"
	"ashshelf/soap/cost"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/steep"
	"ashshelf/store"
)

const coconut plan.Key = "fat:coconut-oil"

// came takes a delivery into the books by itself.
func (b *bench) came(k plan.Key, name, code string, grams float64, cents int64) (oid string) {
	b.t.Helper()
	in := inventory.Receipt{
		Key: k, Name: name, Supplier: "Oil Barn", Code: code, Received: "2026-03-01", Unit: inventory.Milligrams, Amount: inventory.MG(grams),
	}
	if cents > 0 {
		in.Goods = &cents
	}
	oids, err := b.Receive(ctx, b.act(), "", []inventory.Receipt{in})
	require.NoError(b.t, err)
	return oids[0]
}

// left is what the books say of a delivery, in g.
func (b *bench) left(oid string) float64 {
	b.t.Helper()
	d, _, err := b.Delivery(ctx, oid)
	require.NoError(b.t, err)
	return inventory.Grams(d.Left)
}

// out weighs an item out of what is to be used first, and out of the next when that runs out.
func (b *bench) out(oid string, i plan.Item) error {
	from, _, err := b.AtHand(ctx, i.Key, i.Name)
	require.NoError(b.t, err)
	w := shop.Weighed{Item: i.Key, Grams: i.Target}
	parts, _ := inventory.Propose(from, inventory.MG(i.Target))
	for n, to := range []*string{&w.From, &w.Then} {
		if n < len(parts) {
			*to = parts[n].Delivery.OID
		}
	}
	return b.Weigh(ctx, b.on(oid), oid, w)
}

// Worked by hand: freight of 3.00 over 1 kg and 2 kg is 1.00 and 2.00, so that olive oil A costs 9.00 a kilo and coconut
// oil 6.50. Into the pot go 430 g of A (3.87), 208 g of B at 12.00 (2.496), 274 g of coconut oil (1.781) and 130 g of lye
// at 5.00 (0.65): 8.797. Ten bars of one weight carry 0.8797 each.
func TestALotCostsWhatReallyWentIntoIt(t *testing.T) {
	b := open(t)
	oid := b.started()
	order, err := b.PlaceOrder(ctx, b.act(), "Oil Barn", inventory.Order{Lines: []inventory.OrderLine{
		{Key: olive, Name: "Olive oil", Unit: inventory.Milligrams, Pack: 1_000_000, Packs: 2, Price: 800},
		{Key: coconut, Name: "Coconut oil", Unit: inventory.Milligrams, Pack: 2_000_000, Packs: 1, Price: 1100},
	}})
	require.NoError(t, err)
	room, err := b.Storeroom(ctx)
	require.NoError(t, err)
	line, _ := room.Of(olive)
	assert.EqualValues(t, 2_000_000, line.OnTheWay)
	assert.EqualValues(t, 638_000, line.Reserved, "what is unweighed of an open run")
	eight, eleven := int64(800), int64(1100)
	in := []inventory.Receipt{
		{Key: olive, Name: "Olive oil", Supplier: "Oil Barn", Code: "A", Unit: inventory.Milligrams, Amount: 1_000_000, Goods: &eight, Line: 1},
		{
			Key: coconut, Name: "Coconut oil", Supplier: "Oil Barn", Code: "C", Unit: inventory.Milligrams, Amount: 2_000_000, Goods: &eleven,
			Line: 2,
		},
	}
	inventory.Share(in, 300, 0, inventory.ByWeight)
	oids, err := b.Receive(ctx, b.act(), order, in)
	require.NoError(t, err)
	list, err := b.Orders(ctx, order)
	require.NoError(t, err)
	assert.EqualValues(t, 1_000_000, list[0].Came[1], "a kilo of olive oil is still to come")
	require.NoError(t, b.CloseOrder(ctx, b.act(), order, "closed", "sold out there"))
	a := oids[0]
	second := b.came(olive, "Olive oil", "B", 1000, 1200)
	b.came(lyeKey, "Sodium hydroxide", "N", 1000, 500)
	opened := "2026-03-02"
	require.NoError(t, b.Mark(ctx, b.act(), a, store.DeliveryWord{Opened: &opened}))
	problem(t, b.Count(ctx, b.act(), a, 430_000, " "), "count_why")
	stale := b.act()
	stale.Seen = 1
	var moved *journal.Conflict
	require.ErrorAs(t, b.Count(ctx, stale, a, 430_000, "from an old window"), &moved, "what moved since is not counted over")
	require.NoError(t, b.Count(ctx, b.act(), a, 430_000, "a cup was spilled"))

	b.throughBy(oid, b.out)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	assert.Zero(t, b.left(a))
	assert.InDelta(t, 792, b.left(second), 1e-9)
	weighings := b.lot(oid).Weighings
	assert.Equal(t, []string{"A", "B"}, []string{weighings[len(weighings)-2].From.Code, weighings[len(weighings)-1].From.Code},
		"one weighing, two deliveries")
	b.fromMold(oid)
	b.cured(oid)
	now, err := b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, "8797/10", now.Total().Known.String())
	assert.True(t, now.Total().Whole())
	assert.False(t, now.Frozen)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))

	fifteen := int64(1500)
	problem(t, b.Reprice(ctx, b.act(), second, &fifteen, 0, 0, ""), "price_why")
	require.NoError(t, b.Reprice(ctx, b.act(), second, &fifteen, 0, 0, "the invoice says so"))
	then, err := b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.True(t, then.Frozen)
	assert.Equal(t, "8797/10", then.Total().Known.String(), "frozen at the release")
	assert.True(t, then.Changed())
	assert.Equal(t, "9421/10", then.Now.Known.String(), "208 g of B at 15.00 are 3.12")
	require.Len(t, then.Shares, 2)
	assert.EqualValues(t, 88, then.Shares[0].Each().Rounded())
	assert.EqualValues(t, then.Total().Known.Rounded(), total(then.Shares))

	boxes, err := b.Receive(ctx, b.act(), "", []inventory.Receipt{{
		Key: "packaging:box", Name: "Box", Supplier: "Paperworks", Unit: inventory.Pieces, Amount: 400, Goods: ptr(int64(8000)),
	}})
	require.NoError(t, err)
	problem(t, b.Leave(ctx, b.act(), boxes[0], inventory.Packed, 9, "99-Q", ""), "lot")
	problem(t, b.Leave(ctx, b.act(), boxes[0], inventory.Thrown, 9, b.lot(oid).Code, ""), "lot")
	require.NoError(t, b.Leave(ctx, b.act(), boxes[0], inventory.Packed, 9, b.lot(oid).Code, ""))
	packed, err := b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, "180", packed.Packed.Known.String(), "nine boxes at 0.20, reckoned when they are used")
	assert.Equal(t, "8797/10", packed.Total().Known.String())
	require.NoError(t, b.Leave(ctx, b.act(), boxes[0], inventory.Thrown, 391, "", "damp"))

	d, _, err := b.Delivery(ctx, a)
	require.NoError(t, err)
	assert.Equal(t, []inventory.What{inventory.Received, inventory.Counted, inventory.Weighed},
		[]inventory.What{d.Moves[0].What, d.Moves[1].What, d.Moves[2].What})
	assert.Equal(t, b.lot(oid).Code, d.Moves[2].Lot)
	value, err := b.StockOn(ctx, b.now.Format("2006-01-02"))
	require.NoError(t, err)
	// B's 792 g at 15.00, C's 1726 g at 6.50, N's 870 g at 5.00, and ten bars.
	assert.Equal(t, cost.Minor(1188*10).Plus(cost.Minor(11219)).Plus(cost.Minor(4350)).Plus(cost.Minor(8797)).Of(1, 10).String(),
		all(value).String())
	before, err := b.StockOn(ctx, "2026-03-01")
	require.NoError(t, err)
	assert.Zero(t, all(before).Sign(), "before anything came there was nothing")
}

func total(shares []cost.Share) (sum int64) {
	parts := make([]cost.Money, len(shares))
	for i, s := range shares {
		parts[i] = s.Cost
	}
	for _, v := range cost.Shown(parts) {
		sum += v
	}
	return sum
}

func TestTheMakerIsNeverStoppedAtThePotAndTheBooksAskWhy(t *testing.T) {
	b := open(t)
	oid := b.started()
	tin := b.came(olive, "Olive oil", "A", 600, 600)
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: 638, From: tin}))
	assert.Zero(t, b.left(tin))
	open, err := b.Unsettled(ctx)
	require.NoError(t, err)
	require.Len(t, open, 1)
	assert.EqualValues(t, 38_000, open[0].Change)
	c, err := b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, "600", c.Total().Known.String(), "the tin's whole cost")
	assert.Equal(t, []string{"Olive oil"}, c.Total().Unknown, "and 38 g that nobody paid for")
	problem(t, b.Settle(ctx, b.act(), open[0].Entry, ""), "why")
	require.NoError(t, b.Settle(ctx, b.act(), open[0].Entry, "the tin held more than it says"))
	assert.Error(t, b.Settle(ctx, b.act(), open[0].Entry, "again"))
	open, err = b.Unsettled(ctx)
	require.NoError(t, err)
	assert.Empty(t, open)
	// 50 g go back: the 38 that were in no book first.
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: 50, Back: true}))
	assert.InDelta(t, 50, b.left(tin), 1e-9)
	c, err = b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, "588", c.Total().Known.String())
	assert.True(t, c.Total().Whole())
	// What was misread is corrected, and the tin with it.
	w := b.lot(oid).Weighings
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid,
		shop.Weighed{Item: olive, Grams: 600, Corrects: w[0].ID, Reason: "read 638 for 600"}))
	assert.InDelta(t, 88, b.left(tin), 1e-9)
	assert.Equal(t, "A", b.lot(oid).Weighings[2].From.Code, "a corrected weight keeps its delivery")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: 40, From: tin, Sure: true, Empty: true}))
	assert.Zero(t, b.left(tin), "it was empty, whatever the books said")
	other := b.came(coconut, "Coconut oil", "C", 500, 400)
	assert.Contains(t, problem(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: 5, From: other, Sure: true}), "from"),
		"that delivery is Coconut oil")
}

// Two benches weigh out of one tin at once: nothing is lost, and nothing is taken twice.
func TestParallelWeighingsFromOneDeliveryNeverLoseOrDoubleAGram(t *testing.T) {
	b := open(t)
	oids := []string{b.started(), b.started()}
	tin := b.came(olive, "Olive oil", "A", 5000, 5000)
	var wg sync.WaitGroup
	var mu sync.Mutex
	taken := 0.0
	for i := range 24 {
		a := b.act()
		a.Seen = 1 << 40
		wg.Add(1)
		go func() {
			defer wg.Done()
			w := shop.Weighed{Item: olive, Grams: 10 + float64(i), From: tin, Sure: true}
			if assert.NoError(t, b.Weigh(ctx, a, oids[i%2], w)) && assert.NoError(t, b.Weigh(ctx, a, oids[i%2], w), "the same press again") {
				mu.Lock()
				taken += w.Grams
				mu.Unlock()
			}
		}()
	}
	wg.Wait()
	require.Greater(t, taken, 200.0)
	assert.InDelta(t, 5000-taken, b.left(tin), 1e-9)
	assert.InDelta(t, taken, b.lot(oids[0]).Actual()[olive]+b.lot(oids[1]).Actual()[olive], 1e-9)
}

// Of a recalled delivery every lot is held: the one it was weighed into, the one that drew from a stock of it, and the
// one that took scraps of the first.
func TestARecallReachesThroughTheStockAndTheScraps(t *testing.T) {
	b, o, _ := planned(t)
	tub := b.came(lyeKey, "Sodium hydroxide", "N", 5000, 2500)
	stockOf, err := b.FillStock(ctx, b.act(), stock.Filling{
		Kind: document.NaOH, Gear: true, Clear: true, From: tub,
		StockBody: document.StockBody{Target: 50, Purity: 100, AlkaliG: 2000, WaterG: 2000, Container: "Canister", ML: 6000, Material: "hdpe"},
	})
	require.NoError(t, err)
	assert.InDelta(t, 3000, b.left(tub), 1e-9)
	o.Stock = stockOf
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	first, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	b.poured(first)
	require.NoError(t, b.RecordUnmold(ctx, b.on(first), first, lot.Unmolding{Gel: "full"}, false, ""))
	cut := lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, BarG: 118, TrimmingsG: 140}
	require.NoError(t, b.RecordCut(ctx, b.on(first), first, cut, ""))
	drawn := inventory.MG(b.lot(first).Actual()[plan.StockKey])
	require.Positive(t, drawn)
	c, err := b.LotCost(ctx, first)
	require.NoError(t, err)
	// 2000 g of alkali cost 10.00 and are in 4000 g: a gram of solution carries a quarter of a cent.
	for _, l := range c.Lines {
		if l.Name == b.name(first, plan.StockKey) {
			assert.Equal(t, cost.Minor(1000).Of(drawn, 4_000_000).String(), l.Cost.String())
		}
	}
	second := b.started()
	require.NoError(t, b.CarryIn(ctx, b.on(second), second, b.lot(first).Code, "trimmings", 100))
	carried, err := b.LotCost(ctx, first)
	require.NoError(t, err)
	taken, err := b.LotCost(ctx, second)
	require.NoError(t, err)
	require.Len(t, carried.Taken, 1)
	assert.Equal(t, carried.Total().Known.Of(100_000, 9*118_000+140_000).String(), carried.Taken[0].Cost.String())
	assert.Equal(t, carried.Taken[0].Cost.String(), taken.Total().Known.String(), "scraps bring the cost that they left with")
	went, err := b.Trace(ctx, tracing.Subject{Kind: "delivery", Of: tub})
	require.NoError(t, err)
	require.Len(t, went.Vessels(), 1)
	require.Len(t, went.Lots(), 2)
	assert.Equal(t, first, went.Lots()[0].OID)
	assert.InDelta(t, float64(drawn)/2, float64(went.Lots()[0].MG), 1)
	assert.Equal(t, b.lot(first).Code, went.Lots()[1].Via[0].Name)

	problem(t, b.SetDeliveryStatus(ctx, b.act(), tub, inventory.Recalled, ""), "status_why")
	problem(t, b.SetDeliveryStatus(ctx, b.act(), tub, "odd", "x"), "status")
	require.NoError(t, b.SetDeliveryStatus(ctx, b.act(), tub, inventory.Doubtful, "asked the supplier"))
	assert.Empty(t, b.lot(first).Held(), "of a doubtful one lots are only listed")
	require.NoError(t, b.SetDeliveryStatus(ctx, b.act(), tub, inventory.Recalled, "mixed up at the works"))
	for _, oid := range []string{first, second} {
		assert.Contains(t, fmt.Sprint(b.lot(oid).Held()), "mixed up at the works")
	}
	kept, err = b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	third, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	b.throughBy(third, func(oid string, i plan.Item) error {
		weigh := func() error { return b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: i.Key, Grams: i.Target}) }
		if i.Key == plan.StockKey {
			assert.Contains(t, problem(t, weigh(), "grams"), "which is recalled", "what is left in the canister holds it too")
			require.NoError(t, b.SetDeliveryStatus(ctx, b.act(), tub, inventory.Usable, "the wrong letter"))
		}
		return weigh()
	})
	require.Positive(t, b.lot(third).Actual()[plan.StockKey])
	require.NoError(t, b.SetDeliveryStatus(ctx, b.act(), tub, inventory.Recalled, "mixed up after all"))
	_, err = b.FillStock(ctx, b.act(), stock.Filling{
		Kind: document.NaOH, Gear: true, Clear: true, From: tub,
		StockBody: document.StockBody{Target: 50, Purity: 100, AlkaliG: 100, WaterG: 100, Container: "Jug", ML: 600, Material: "hdpe"},
	})
	assert.Contains(t, problem(t, err, "from"), "is recalled")
	tin := b.came(olive, "Olive oil", "A", 1000, 900)
	require.NoError(t, b.SetDeliveryStatus(ctx, b.act(), tin, inventory.Blocked, "smells"))
	assert.Contains(t, problem(t, b.Weigh(ctx, b.on(second), second, shop.Weighed{Item: olive, Grams: 638, From: tin}), "from"), "is blocked")
	assert.InDelta(t, 1000, b.left(tin), 1e-9)
}

func TestBlendsAndJarsTakeOutOfTheirDeliveries(t *testing.T) {
	b := open(t)
	oil, shea := b.came(olive, "Olive oil", "A", 2000, 2000), b.came(coconut, "Coconut oil", "C", 2000, 1000)
	find := func(slug string) fat.Fat { f, _ := fat.BySlug(slug); return f }
	blend := document.StockBody{Container: "Bucket", Blend: fat.Blend{
		{Fat: find("olive-oil"), Percent: 500}, {Fat: find("coconut-oil"), Percent: 1500},
	}}
	_, err := b.FillFats(ctx, b.act(), blend, []string{shea, oil})
	problem(t, err, "fats[0].from")
	blend.Blend = fat.Blend{{Fat: find("olive-oil"), Percent: 500}, {Fat: find("coconut-oil"), Percent: 1500}}
	_, err = b.FillFats(ctx, b.act(), blend, []string{oil, shea})
	require.NoError(t, err)
	assert.InDelta(t, 1500, b.left(oil), 1e-9)
	assert.InDelta(t, 500, b.left(shea), 1e-9)
	jar := steep.Jar{Name: "Olive oil", Herb: "Nettle", OilG: 400, HerbG: 40, Hours: 4, Warm: true}
	problem(t, b.StartInfusion(ctx, b.act(), jar, shea), "from")
	require.NoError(t, b.StartInfusion(ctx, b.act(), jar, oil))
	assert.InDelta(t, 1100, b.left(oil), 1e-9)
	problem(t, b.Leave(ctx, b.act(), oil, inventory.House, 1_200_000, "", ""), "amount")
	problem(t, b.Leave(ctx, b.act(), oil, inventory.Weighed, 1, "", ""), "what")
	require.NoError(t, b.Leave(ctx, b.act(), oil, inventory.SentBack, 1_100_000, "", "rancid"))
	assert.Zero(t, b.left(oil))
}

func TestADeliveryThatWasOnlyNamedAtTheBenchIsTakenInLater(t *testing.T) {
	b := open(t)
	oid := b.started()
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: 638, New: &lot.Bought{Supplier: "Oil Barn", Code: "X"}}))
	from := b.lot(oid).Weighings[0].From.OID
	problem(t, b.BookIn(ctx, b.act(), from, inventory.Receipt{}), "amount")
	assert.Error(t, b.Leave(ctx, b.act(), from, inventory.Spilled, 5, "", ""), "of what is in no book nobody knows what is left")
	price := int64(3000)
	require.NoError(t, b.BookIn(ctx, b.act(), from, inventory.Receipt{Amount: 3_000_000, Goods: &price}))
	assert.InDelta(t, 3000-638, b.left(from), 1e-9)
	c, err := b.LotCost(ctx, oid)
	require.NoError(t, err)
	assert.EqualValues(t, 638, c.Total().Known.Rounded(), "and the lot knows what it cost")
	assert.Error(t, b.BookIn(ctx, b.act(), from, inventory.Receipt{Amount: 1}))
}

func TestBarsFromBeforeTheBooksAreFoundByTheirCodeAndSoldOnAWord(t *testing.T) {
	b := open(t)
	paid := int64(1000)
	old := inventory.Opening{Code: "QH-31", Name: "Old hearth", Bars: 10, Made: "2025-12-01", Ready: "2026-01-10", Cost: &paid}
	require.NoError(t, b.TakeOverStock(ctx, b.act(), []inventory.Opening{old}, nil))
	problem(t, b.TakeOverStock(ctx, b.act(), []inventory.Opening{{Code: "qh-31", Name: "x", Bars: 1}}, nil), "code")
	problem(t, b.TakeOverStock(ctx, b.act(), []inventory.Opening{{Code: "a", Name: "x", Bars: 1}, {Code: "A", Name: "y", Bars: 1}}, nil),
		"bars[1].code")
	assert.Error(t, b.TakeOverStock(ctx, b.act(), nil, nil))
	list, err := b.Openings(ctx, "qh-31")
	require.NoError(t, err)
	require.Len(t, list, 1)
	oid := list[0].OID
	assert.ErrorContains(t, b.MoveOpening(ctx, b.act(), oid, ledger.Sold, 1, ""), "nobody has released them")
	problem(t, b.ReleaseOpening(ctx, b.act(), oid, " "), "word")
	require.NoError(t, b.ReleaseOpening(ctx, b.act(), oid, "from my binder"))
	assert.Error(t, b.ReleaseOpening(ctx, b.act(), oid, "again"))
	require.NoError(t, b.MoveOpening(ctx, b.act(), oid, ledger.Sold, 4, "stall"))
	problem(t, b.MoveOpening(ctx, b.act(), oid, ledger.Sold, 7, ""), "count")
	problem(t, b.MoveOpening(ctx, b.act(), oid, ledger.Returned, 5, ""), "count")
	list, err = b.Openings(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, 6, list[0].Bars)
	assert.Equal(t, "Ida", list[0].ReleasedBy)
	v, err := b.StockOn(ctx, "2026-03-02")
	require.NoError(t, err)
	assert.EqualValues(t, 600, v.TakenOver[0].Cost.Known.Rounded())
	late := inventory.Opening{Code: "QH-40", Name: "Young", Bars: 3, Ready: "2026-09-01"}
	require.NoError(t, b.TakeOverStock(ctx, b.act(), []inventory.Opening{late}, nil))
	list, err = b.Openings(ctx, "QH-40")
	require.NoError(t, err)
	problem(t, b.ReleaseOpening(ctx, b.act(), list[0].OID, "they look fine"), "word")
	b.now = time.Date(2026, 8, 31, 22, 30, 0, 0, time.UTC)
	problem(t, b.ReleaseOpening(ctx, b.act(), list[0].OID, "half past eleven at night"), "word")
	b.now = b.now.Add(time.Hour)
	require.NoError(t, b.ReleaseOpening(ctx, b.act(), list[0].OID, "half past midnight, the day they are ready"))
}

func TestAPlanSaysForHowManyPotsThereIsEnough(t *testing.T) {
	b, o, _ := planned(t)
	o.PotCapacity = 1400 // so that it takes several
	o.Molds[0].Count = 3
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	pots := w.Plan.Batches
	require.Greater(t, pots, 1)
	each := w.Plan.Pot().Fats[0].Grams
	b.came(olive, "Olive oil", "A", each*float64(pots)-100, 4000)
	b.came(coconut, "Coconut oil", "C", 50_000, 9000)
	b.came(lyeKey, "Sodium hydroxide", "N", 50_000, 9000)
	room, err := b.Storeroom(ctx)
	require.NoError(t, err)
	asked := room.Ask(w.PlanBody, pots, false)
	assert.Equal(t, pots-1, asked.Enough.Pots)
	assert.Equal(t, "Olive oil", asked.First)
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	room, err = b.Storeroom(ctx)
	require.NoError(t, err)
	line, _ := room.Of(olive)
	assert.InDelta(t, each*float64(pots)*1000, float64(line.Reserved), 1000*float64(pots), "a kept plan reserves what it takes")
	assert.Positive(t, line.Balance.Short())
	groups := room.ShoppingList()
	require.Len(t, groups, 1)
	assert.Equal(t, "Oil Barn", groups[0].Supplier, "where nothing is noted, from whom it came last")
	all, turns := room.AskDay([]document.PlanBody{w.PlanBody}, []int{pots}, true)
	assert.Equal(t, "Olive oil", turns[0].First)
	assert.NotEmpty(t, all.Wants)
	require.NoError(t, b.SetDay(ctx, b.act(), kept, "2026-03-03"))
	b.now = b.now.AddDate(0, 0, 6)
	room, err = b.Storeroom(ctx)
	require.NoError(t, err)
	line, _ = room.Of(olive)
	assert.Zero(t, line.Reserved, "three days past its day it reserves nothing")
	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, true))
}

func TestTheCatalogueKnowsWhatRecipesNameAndMergesNothingByGuess(t *testing.T) {
	b := open(t)
	b.started()
	names := func() (out []string) {
		list, err := b.Materials(ctx)
		require.NoError(t, err)
		for _, m := range list {
			out = append(out, m.Name)
		}
		return out
	}
	assert.Equal(t, []string{"Coconut oil (24 C melt)", "Olive oil", "Sodium hydroxide", "Water (distilled or soft)"}, names())
	require.NoError(t, b.NoteSpoon(ctx, b.act(), "Kaolin", 2.4))
	b.came(inventory.NewKey(inventory.Additive, "Kaolin clay"), "Kaolin clay", "K", 100, 300)
	room, err := b.Storeroom(ctx)
	require.NoError(t, err)
	require.Len(t, room.Twins, 1)
	twins := room.Twins[0]
	require.NoError(t, b.DecideTwins(ctx, b.act(), twins.A, twins.B, true))
	room, err = b.Storeroom(ctx)
	require.NoError(t, err)
	assert.Empty(t, room.Twins)
	line, ok := room.Of("additive:Kaolin clay")
	require.True(t, ok)
	assert.Equal(t, "Kaolin", line.Name)
	assert.EqualValues(t, 100_000, line.Have, "its delivery is found by either name")
	_, err = b.KeepMaterial(ctx, b.act(), "", 0, inventory.Material{Name: "kaolin clay", Kind: inventory.Additive, Unit: inventory.Milligrams})
	problem(t, err, "name")
	_, err = b.KeepMaterial(ctx, b.act(), "", 0, inventory.Material{})
	problem(t, err, "name")
}

// Whatever happens to deliveries, what is left is the sum of what moved, and what was paid is where it went.
func TestTheStoreBalances(t *testing.T) {
	b := open(t)
	oid := b.started()
	rapid.Check(t, func(rt *rapid.T) {
		price := rapid.Int64Range(1, 9000).Draw(rt, "price")
		tin := b.came(olive, "Olive oil", fmt.Sprint("T", b.keys), rapid.Float64Range(50, 3000).Draw(rt, "grams"), price)
		for range rapid.IntRange(1, 8).Draw(rt, "steps") {
			n := rapid.Int64Range(1, 900_000).Draw(rt, "amount")
			var err error
			switch rapid.IntRange(0, 4).Draw(rt, "what") {
			case 0:
				err = b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: inventory.Grams(n), From: tin, Sure: true})
			case 1:
				err = b.Leave(ctx, b.act(), tin, inventory.Spilled, n, "", "")
			case 2:
				err = b.Count(ctx, b.act(), tin, n, "weighed")
			case 3:
				err = b.Leave(ctx, b.act(), tin, inventory.SentBack, n, "", "")
			default:
				err = b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: olive, Grams: inventory.Grams(n), Back: true})
			}
			_ = err // what cannot be is refused, and changes nothing
		}
		d, _, err := b.Delivery(ctx, tin)
		require.NoError(rt, err)
		var sum, priced int64
		parts := []cost.Money{d.Price().For(d.Priced)}
		for _, m := range d.Moves {
			sum, priced = sum+m.Change, priced+m.Priced
			if m.What != inventory.Received {
				parts = append(parts, d.Price().For(-m.Priced))
			}
		}
		require.Equal(rt, sum, d.Left)
		require.Equal(rt, priced, d.Priced)
		require.GreaterOrEqual(rt, d.Left, d.Priced)
		require.Zero(rt, cost.Total(parts).Cmp(cost.Minor(price)))
	})
}

// A part of the shop's day: what swaps and prices do to a bar.
func TestAPriceMovesTheBarOfEveryRecipeThatTakesIt(t *testing.T) {
	b, _, _ := planned(t)
	b.came(olive, "Olive oil", "A", 1000, 1000)
	b.came(coconut, "Coconut oil", "C", 1000, 500)
	b.came(lyeKey, "Sodium hydroxide", "N", 1000, 400)
	p, err := b.Prices(ctx)
	require.NoError(t, err)
	costs, err := b.RecipeCosts(ctx, p)
	require.NoError(t, err)
	require.NotEmpty(t, costs)
	before := costs[0].Replace.Total()
	require.True(t, before.Whole(), "water costs nothing: %v", before.Unknown)
	dearer, err := b.RecipeCosts(ctx, p.With(olive, cost.Price{Cost: cost.Minor(2000), Amount: 1_000_000}))
	require.NoError(t, err)
	oliveMG := int64(0)
	for _, l := range costs[0].Replace.Lines {
		if l.Name == "Olive oil" {
			oliveMG = l.MG
		}
	}
	rise := dearer[0].Replace.Total().Known.Minus(before.Known)
	assert.Equal(t, cost.Minor(1000).Of(oliveMG, 1_000_000).String(), rise.String(), "ten a kilo more on the olive oil in the bar")
	assert.Zero(t, p.Today(olive).Cost.Cmp(cost.Minor(1000)))
	assert.False(t, p.Newest("fat:shea-butter").Known())
}

func TestACertificateIsKeptWithItsDelivery(t *testing.T) {
	b := open(t)
	tin := b.came(olive, "Olive oil", "A", 1000, 900)
	name, err := b.KeepPaper(strings.NewReader("%PDF-1.7 a certificate"))
	require.NoError(t, err)
	require.NoError(t, b.AddPaper(ctx, b.act(), tin, inventory.Paper{File: name, Name: "certificate of A"}))
	stray, err := b.KeepPaper(strings.NewReader("%PDF-1.7 of nothing"))
	require.NoError(t, err)
	_, err = b.KeepPaper(strings.NewReader("no paper at all"))
	problem(t, err, "photo")
	require.NoError(t, b.SweepPhotos(ctx))
	f, err := b.Photo(ctx, name)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	_, err = b.Photo(ctx, stray)
	require.ErrorIs(t, err, store.ErrNotFound, "what no delivery has is swept")
	in, err := store.Inspect(ctx, filepath.Join(b.dir, store.File))
	require.NoError(t, err)
	assert.Equal(t, []string{name}, in.Photos, "a copy takes it along")
}

func ptr[T any](v T) *T { return &v }

// all is what a valuation comes to.
func all(v costing.Valuation) cost.Money {
	_, groups := v.Groups()
	_, sum := costing.Totals(groups...)
	return sum.Known
}

// name is what an item of a lot's sheet is called.
func (b *bench) name(oid string, k plan.Key) string {
	i, _ := b.lot(oid).Item(k)
	return i.Name
}

// A button that is pressed twice, or sent again after the answer was lost, leads to the delivery that
// the first press wrote.
func TestADeliveryThatIsSentAgainIsTheSameDelivery(t *testing.T) {
	b := open(t)
	act := b.act()
	in := []inventory.Receipt{{
		Key: "fat:olive-oil", Name: "Olive oil", Supplier: "Oil Barn", Code: "T-9", Received: "2026-03-01", Unit: inventory.Milligrams,
		Amount: inventory.MG(5000),
	}}
	first, err := b.Receive(ctx, act, "", in)
	require.NoError(t, err)
	again, err := b.Receive(ctx, act, "", in)
	require.NoError(t, err)
	assert.Equal(t, first, again)
	assert.InDelta(t, 5000, b.left(first[0]), 1e-9)
}
