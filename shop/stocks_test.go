package shop_test

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/shop"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/stock"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/store"
)

// filling is 8 kg of 50 % stock from 98 % beads.
func filling() stock.Filling {
	return stock.Filling{
		Kind:  document.NaOH,
		Gear:  true,
		Clear: true,
		StockBody: document.StockBody{
			Target:    50,
			Purity:    98,
			AlkaliG:   4081.6,
			WaterG:    3918.4,
			Lot:       "N-1",
			Container: "Canister",
			ML:        10000,
			Material:  "hdpe",
			Tare:      400,
		},
	}
}

func (b *bench) filled(f stock.Filling) string {
	b.t.Helper()
	oid, err := b.FillStock(ctx, b.act(), f)
	require.NoError(b.t, err)
	return oid
}

func (b *bench) stockIs(oid string) stock.Stock {
	b.t.Helper()
	s, err := b.StockByOID(ctx, oid)
	require.NoError(b.t, err)
	return s
}

func TestAStockIsRatedAtWhatWasReallyWeighed(t *testing.T) {
	b := open(t)
	f := filling()
	f.WaterG = 4100
	s := b.stockIs(b.filled(f))
	assert.InDelta(t, 100*4081.6*0.98/8181.6, s.Strength, 1e-9)
	assert.InDelta(t, 8181.6, s.Balance, 1e-9)
	assert.Equal(t, "J1-H", s.Code)
	for path, spoil := range map[string]func(*stock.Filling){
		"kind": func(f *stock.Filling) { f.Kind = "both" }, "gear": func(f *stock.Filling) { f.Gear = false },
		"clear":    func(f *stock.Filling) { f.Clear = false },
		"material": func(f *stock.Filling) { f.Material = "aluminium" }, "ml": func(f *stock.Filling) { f.ML = 3000 },
		"container":      func(f *stock.Filling) { f.Container = " " },
		"stock.strength": func(f *stock.Filling) { f.Target = 70 }, "alkali_g": func(f *stock.Filling) { f.AlkaliG = 0 },
		"tare": func(f *stock.Filling) { f.Tare = -1 },
	} {
		bad := filling()
		spoil(&bad)
		_, err := b.FillStock(ctx, b.act(), bad)
		problem(t, err, path)
	}
	heavy := filling()
	heavy.WaterG = 3000
	_, err := b.FillStock(ctx, b.act(), heavy)
	assert.Contains(t, problem(t, err, "alkali_g"), "comes to 56.5 %")
}

// Three lots draw, one with sugar and salt and one half milk; then the jug is
// weighed and the books agree.
func TestLotsDrawFromTheStockAndTheBooksAgreeWithTheScale(t *testing.T) {
	b, o, _ := planned(t)
	jug := b.filled(filling())
	o.Stock = jug
	drawn := 0.0
	for range 3 {
		kept, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
		oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
		require.NoError(t, err)
		l, err := b.Lot(ctx, oid)
		require.NoError(t, err)
		target := 0.0
		for _, i := range l.Frozen.Sheet[0].Items {
			if i.Key == plan.StockKey {
				target = i.Target
			}
		}
		require.Positive(t, target)
		b.weighed(oid)
		drawn += target
		require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
		l, err = b.Lot(ctx, oid)
		require.NoError(t, err)
		assert.Empty(t, l.Held(), "the superfat counts what the stock brought")
	}
	s := b.stockIs(jug)
	assert.InDelta(t, 8000-drawn, s.Balance, 1e-6)
	assert.Len(t, s.Moves, 4)
	assert.NotEmpty(t, s.Moves[1].Lot, "each draw knows its lot")
	require.NoError(t, b.CountStock(ctx, b.act(), jug, s.Balance+400+3, false, ""), "three grams are no event")
	assert.InDelta(t, s.Balance+3, b.stockIs(jug).Balance, 1e-6)
	assert.Contains(t, problem(t, b.CountStock(ctx, b.act(), jug, s.Balance+400-200, false, ""), "why"), "away from the books")
	problem(t, b.CountStock(ctx, b.act(), jug, 100, false, "?"), "gross")
	before := b.stockIs(jug)
	require.NoError(t, b.CountStock(ctx, b.act(), jug, before.Balance+400-60, true, "left open over night"))
	after := b.stockIs(jug)
	assert.InDelta(t, before.Strength*before.Balance/(before.Balance-60), after.Strength, 1e-9, "only water left")
}

func TestACorrectedDrawPutsTheDifferenceBack(t *testing.T) {
	b, o, _ := planned(t)
	o.Stock = b.filled(filling())
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: run.GearKey}))
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: plan.StockKey, Grams: 300, Sure: true}))
	assert.InDelta(t, 7700, b.stockIs(o.Stock).Balance, 1e-9)
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	require.NoError(
		t,
		b.Weigh(
			ctx,
			b.on(oid),
			oid,
			shop.Weighed{Item: plan.StockKey, Grams: 250, Sure: true, Corrects: l.Weighings[0].ID, Reason: "read the wrong line"},
		),
	)
	assert.InDelta(t, 7750, b.stockIs(o.Stock).Balance, 1e-9)
}

func TestAPlanIsToldWhenAStockCannotServe(t *testing.T) {
	b, o, _ := planned(t)
	small := filling()
	small.AlkaliG, small.WaterG = 102.04, 97.96
	o.Stock = b.filled(small)
	_, err := b.ComputePlan(ctx, o)
	assert.Contains(t, problem(t, err, "stock"), "are missing")
	o.Stock = b.filled(filling())
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	require.NoError(t, b.VerifyStock(ctx, b.act(), o.Stock, 1.470, 20))
	rated := b.stockIs(o.Stock)
	assert.InDelta(t, 44.2, rated.Strength, 0.2, "more than half a point off: rated anew")
	_, err = b.StartLot(ctx, b.act(), kept, 1, "")
	assert.Contains(t, problem(t, err, "override"), "now rated at")
	require.NoError(t, b.VerifyStock(ctx, b.act(), o.Stock, rated.Lye().Density(20)+0.002, 20))
	assert.InDelta(t, rated.Strength, b.stockIs(o.Stock).Strength, 1e-9, "a small difference stays as it was rated")
	problem(t, b.VerifyStock(ctx, b.act(), o.Stock, 0.9, 20), "density")
	problem(t, b.VerifyStock(ctx, b.act(), o.Stock, 1.5, -40), "at_c")
	require.NoError(t, b.SetStockStatus(ctx, b.act(), o.Stock, "quarantine", "crust at the neck"))
	_, err = b.ComputePlan(ctx, o)
	assert.Contains(t, problem(t, err, "stock"), "crust at the neck")
	problem(t, b.DrawStock(ctx, b.act(), o.Stock, 10, "soap"), "grams")
	problem(t, b.SetStockStatus(ctx, b.act(), o.Stock, "open", " "), "status_why")
	require.NoError(t, b.SetStockStatus(ctx, b.act(), o.Stock, "open", "cleaned"))
	require.NoError(t, b.ReadStock(ctx, b.act(), o.Stock, 4))
	_, err = b.ComputePlan(ctx, o)
	assert.Contains(t, problem(t, err, "lye_stock.temperature_c"), "crystals form")
	tomorrow := o
	tomorrow.Day = b.now.AddDate(0, 0, 1).Format(time.DateOnly)
	w, err := b.ComputePlan(ctx, tomorrow)
	require.NoError(t, err, "a page that plans a later day only warns")
	assert.Contains(t, codesOf(w.Plan.Cautions), "lye.stock.cold")
	kept, err = b.KeepPlan(ctx, b.act(), tomorrow)
	require.NoError(t, err)
	_, err = b.StartLot(ctx, b.act(), kept, 1, "we are in a hurry")
	assert.Contains(t, problem(t, err, "override"), "crystals form", "today's pour it stops, whatever the reason")
	b.now = b.now.Add(13 * time.Hour)
	_, err = b.ComputePlan(ctx, o)
	require.NoError(t, err, "by then it is as warm as the room")
	require.NoError(t, b.SetStockStatus(ctx, b.act(), o.Stock, "gone", "neutralised at the yard"))
	assert.Zero(t, b.stockIs(o.Stock).Balance)
	var not *lot.NotNow
	assert.ErrorAs(t, b.ReadStock(ctx, b.act(), o.Stock, 20), &not)
	list, err := b.Stocks(ctx, false)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

func TestAStockIsDilutedToALowerStrength(t *testing.T) {
	b := open(t)
	jug := b.filled(filling())
	require.NoError(t, b.DiluteStock(ctx, b.act(), jug, 2000))
	s := b.stockIs(jug)
	assert.InDelta(t, 10000, s.Balance, 1e-9)
	assert.InDelta(t, 40, s.Strength, 0.01)
	assert.Contains(t, problem(t, b.DiluteStock(ctx, b.act(), jug, 5000), "dilute_water"), "the container holds")
	problem(t, b.DiluteStock(ctx, b.act(), jug, 0), "dilute_water")
}

func TestTwoPeopleDrawingAtOnceNeverEmptyItTwice(t *testing.T) {
	b := open(t)
	small := filling()
	small.AlkaliG, small.WaterG = 510.2, 489.8
	jug := b.filled(small)
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			a := journal.Act{Person: b.person, Device: fmt.Sprint("bench ", i), DeviceLabel: "bench", Key: fmt.Sprint("draw ", i)}
			_ = b.DrawStock(ctx, a, jug, 300, "soap") // all but three are told how little there is
		}()
	}
	wg.Wait()
	assert.InDelta(t, 100, b.stockIs(jug).Balance, 1e-9)
}

// Whatever is tried, the balance is the sum of the moves and never negative.
func TestTheBooksOfAContainerBalance(t *testing.T) {
	b := open(t)
	jug := b.filled(filling())
	rapid.Check(t, func(rt *rapid.T) {
		g := rapid.Float64Range(-50, 4000).Draw(rt, "grams")
		switch rapid.IntRange(0, 2).Draw(rt, "act") {
		case 0:
			_ = b.DrawStock(ctx, b.act(), jug, g, "soap") // refusals are part of it
		case 1:
			_ = b.CountStock(ctx, b.act(), jug, 400+g, false, "counted")
		default:
			_ = b.DiluteStock(ctx, b.act(), jug, g/20)
		}
		s := b.stockIs(jug)
		sum := 0.0
		for _, m := range s.Moves {
			sum += m.Change
		}
		require.InDelta(rt, sum, s.Balance, 1e-6)
		require.GreaterOrEqual(rt, s.Balance, 0.0)
	})
}

func TestFatsAreBlendedAheadAndTakenByThePlan(t *testing.T) {
	b, o, _ := planned(t)
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	_, err := b.FillFats(ctx, b.act(), document.StockBody{Container: "Bucket", ML: -1}, nil)
	problem(t, err, "ml")
	problem(t, err, "fats")
	_, err = b.FillFats(
		ctx,
		b.act(),
		document.StockBody{Container: "Bucket", Blend: fat.Blend{{Fat: olive, Percent: 10}, {Fat: olive, Percent: 10}}},
		nil,
	)
	problem(t, err, "fats[1].fat")
	bucket, err := b.FillFats(
		ctx,
		b.act(),
		document.StockBody{Container: "Bucket", Tare: 500, Blend: fat.Blend{{Fat: coconut, Percent: 1500}, {Fat: olive, Percent: 500}}},
		nil,
	)
	require.NoError(t, err)
	o.FatStock = bucket
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 0.3*w.Plan.FatsG/0.75, w.Plan.FatDraw, 1, "as much as the coconut oil allows")
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	b.weighed(oid)
	assert.InDelta(t, 2000-w.Plan.FatDraw, b.stockIs(bucket).Balance, 1e-6)
	var not *lot.NotNow
	assert.ErrorAs(t, b.DiluteStock(ctx, b.act(), bucket, 10), &not)
	require.NoError(t, b.DrawStock(ctx, b.act(), bucket, b.stockIs(bucket).Balance, "candles"))
	_, err = b.ComputePlan(ctx, o)
	assert.Contains(t, problem(t, err, "fat_stock"), "is empty by the books")
	o.FatStock, o.Stock = "", bucket
	_, err = b.ComputePlan(ctx, o)
	assert.Contains(t, problem(t, err, "stock"), "does not hold that")
}

func TestAJugLearnsItsClock(t *testing.T) {
	b := open(t)
	jug, err := b.KeepTool(ctx, b.act(), "", 0, "Jug", document.ToolBody{Kind: document.Jug, ML: 3000, Tare: 300})
	require.NoError(t, err)
	usual := lye.UsualTau(1000, "open", false)
	for _, ratio := range []float64{1.5, 1.4, 3} {
		require.NoError(t, b.NoteCooling(ctx, b.act(), store.Cooled{Tool: jug, Stands: "open", Usual: usual, Learned: usual * ratio}))
	}
	tau, seen, err := b.Tau(ctx, jug, "open", false, 2000)
	require.NoError(t, err)
	assert.Equal(t, 3, seen)
	assert.InDelta(t, 1.5*lye.UsualTau(2000, "open", false), tau, 1e-9, "the median, for any size")
	tau, seen, err = b.Tau(ctx, "", "open", false, 1000)
	require.NoError(t, err)
	assert.Zero(t, seen)
	assert.InDelta(t, usual, tau, 1e-9)
	problem(t, b.NoteCooling(ctx, b.act(), store.Cooled{Usual: usual}), "readings")
}

func TestWhatThePlansWantIsAddedUp(t *testing.T) {
	b, o, _ := planned(t)
	for range 2 {
		_, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
	}
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	naoh, koh, plans, err := b.Wanted(ctx)
	require.NoError(t, err)
	assert.InDelta(t, 2*w.Plan.NaOH, naoh, 1e-6)
	assert.Zero(t, koh)
	assert.Equal(t, 2, plans)
}

func codesOf(list []caution.Caution) []string {
	out := make([]string, len(list))
	for i, c := range list {
		out[i] = c.Code
	}
	return out
}
