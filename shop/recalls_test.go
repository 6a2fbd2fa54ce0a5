package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/document"
	"ashshelf/shop/selling"
	"ashshelf/shop/stock"
	"ashshelf/shop/tracing"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/product"
	"ashshelf/soap/recall"
	"ashshelf/store"
)

// badTub is a tub of lye that went by a canister into a lot, whose scraps went into a second one. Of nine bars of the
// first four were sold: three at a fair, one to the inn.
type badTub struct {
	*bench
	tub, canister, first, second string
}

func withABadTub(t *testing.T) badTub {
	t.Helper()
	b, o, _ := planned(t)
	s := badTub{bench: b, tub: b.came(lyeKey, "Sodium hydroxide", "N", 5000, 2500)}
	var err error
	s.canister, err = b.FillStock(ctx, b.act(), stock.Filling{
		Kind: document.NaOH, Gear: true, Clear: true, From: s.tub,
		StockBody: document.StockBody{Target: 50, Purity: 100, AlkaliG: 2000, WaterG: 2000, Container: "Canister", ML: 6000, Material: "hdpe"},
	})
	require.NoError(t, err)
	o.Stock = s.canister
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	s.first, err = b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	b.poured(s.first)
	require.NoError(t, b.RecordUnmold(ctx, b.on(s.first), s.first, lot.Unmolding{Gel: "full"}, false, ""))
	cut := lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, BarG: 118, TrimmingsG: 140}
	require.NoError(t, b.RecordCut(ctx, b.on(s.first), s.first, cut, ""))
	s.second = b.started()
	require.NoError(t, b.CarryIn(ctx, b.on(s.second), s.second, b.lot(s.first).Code, "trimmings", 120))
	b.made(s.second)
	b.cured(s.first)
	require.NoError(t, b.ReleaseLot(ctx, b.on(s.first), s.first, ""))
	for _, w := range []selling.Sale{{Bars: 3, Channel: "market", Event: "Quay fair"}, {Bars: 1, Channel: "shop", Buyer: "the inn"}} {
		w.Kind, w.Reason = first, ledger.Sold
		require.NoError(t, b.Sell(ctx, b.act(), s.first, w))
	}
	return s
}

func (s badTub) subject() tracing.Subject { return tracing.Subject{Kind: "delivery", Of: s.tub} }

func (s badTub) begins(drill bool) string {
	s.t.Helper()
	oid, err := s.Begin(ctx, s.act(), s.subject(), "the works mixed it up", drill, "")
	require.NoError(s.t, err)
	return oid
}

func (s badTub) score(oid string) recall.Score {
	s.t.Helper()
	r, err := s.Recall(ctx, oid)
	require.NoError(s.t, err)
	return r.Score()
}

// What is weighed in is what is traced, both ways, in one step.
func TestATubIsTracedToTheLastBarAndBack(t *testing.T) {
	s := withABadTub(t)
	down, err := s.Trace(ctx, s.subject())
	require.NoError(t, err)
	require.Len(t, down.Vessels(), 1)
	require.Len(t, down.Lots(), 2)
	drawn := s.lot(s.first).Actual()[plan.StockKey]
	assert.InDelta(t, drawn/2, float64(down.Lots()[0].MG)/1000, 0.01, "half of the canister is of the tub")
	whole := 0.0
	for _, g := range s.lot(s.first).Actual() {
		whole += g
	}
	assert.InDelta(t, drawn/2*120/whole, float64(down.Lots()[1].MG)/1000, 0.01, "the scraps brought their share")
	assert.Equal(t, recall.Score{Made: 19, House: 15, Unknown: 3, Open: 1}, down.Score())

	up, err := s.Trace(ctx, tracing.Subject{Kind: "lot", Of: s.second})
	require.NoError(t, err)
	var of int64
	for _, step := range up.From {
		if step.OID == s.tub {
			of = step.MG
		}
	}
	assert.InDelta(t, float64(down.Lots()[1].MG), float64(of), 1)

	for _, subject := range []tracing.Subject{{Kind: "stock", Of: s.canister}, {Kind: "lot", Of: s.first}} {
		got, err := s.Trace(ctx, subject)
		require.NoError(t, err)
		assert.Len(t, got.Lots(), 2, subject.Kind)
	}
	for _, who := range []string{"quay FAIR", "the inn"} {
		got, err := s.Trace(ctx, tracing.Subject{Kind: "event", Of: who})
		require.NoError(t, err)
		assert.Equal(t, s.first, got.Start[0].OID, who)
	}
	_, err = s.Trace(ctx, tracing.Subject{Kind: "lot", Of: "nothing"})
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Trace(ctx, tracing.Subject{Kind: "fairy", Of: s.first})
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestARecallBlocksWhatIsLeftAndCountsToTheLastBar(t *testing.T) {
	s := withABadTub(t)
	_, err := s.Begin(ctx, s.act(), s.subject(), " ", false, "")
	problem(t, err, "why")
	oid := s.begins(false)
	for _, one := range []string{s.first, s.second} {
		assert.Contains(t, s.lot(one).Held()[0], "the works mixed it up")
	}
	d, _, err := s.Delivery(ctx, s.tub)
	require.NoError(t, err)
	assert.Equal(t, inventory.Recalled, d.Status)
	assert.Equal(t, store.Quarantine, s.stockIs(s.canister).Status)
	assert.Error(t, s.Sell(ctx, s.act(), s.first, selling.Sale{Kind: first, Reason: ledger.Sold, Bars: 1}))
	assert.Contains(t, problem(t, s.End(ctx, s.act(), oid, false, ""), "note"), "1 bars are not accounted for")

	r, err := s.Recall(ctx, oid)
	require.NoError(t, err)
	require.Len(t, r.Owing(), 1)
	inn := r.Owing()[0]
	assert.Equal(t, []any{"the inn", 1, s.first}, []any{inn.Buyer, inn.With, inn.Lot})
	note := func(lotOID string, m recall.Move) error { return s.Note(ctx, s.act(), oid, lotOID, m) }
	problem(t, note(s.first, recall.Move{What: recall.CameBack, Pool: recall.Buyer, Of: inn.Entry, Bars: 2}), "bars")
	problem(t, note(s.first, recall.Move{What: recall.CameBack, Pool: recall.House, Bars: 1}), "pool")
	problem(t, note(s.first, recall.Move{What: "eaten", Pool: recall.House, Bars: 1}), "what")
	require.NoError(t, note(s.first, recall.Move{What: recall.CameBack, Pool: recall.Buyer, Of: inn.Entry, Bars: 1}))
	assert.Equal(t, recall.Score{Made: 19, House: 15, Returned: 1, Unknown: 3}, s.score(oid))
	assert.Equal(t, 5, s.lot(s.first).Balance[first], "what came back is in no stock that is sold from")

	require.NoError(t, note(s.first, recall.Move{What: recall.Destroyed, Pool: recall.House, Bars: 5}))
	require.NoError(t, note(s.first, recall.Move{What: recall.Destroyed, Pool: recall.Returned, Bars: 1}))
	assert.Equal(t, recall.Score{Made: 19, House: 10, Destroyed: 6, Unknown: 3}, s.score(oid))
	assert.Zero(t, s.lot(s.first).Balance[first])
	require.NoError(t, s.End(ctx, s.act(), oid, false, "all found"))
	var not *lot.NotNow
	require.ErrorAs(t, note(s.second, recall.Move{What: recall.Destroyed, Pool: recall.House, Bars: 1}), &not)
	require.NoError(t, s.End(ctx, s.act(), oid, true, "one more letter"))
	require.NoError(t, note(s.second, recall.Move{What: recall.Destroyed, Pool: recall.House, Bars: 10}))
}

// What is destroyed is destroyed whatever was promised of it.
func TestWhatIsPutByIsDestroyedWithTheRest(t *testing.T) {
	s := withABadTub(t)
	oid, err := s.KeepProduct(ctx, s.act(), "", 0, product.Product{Name: "Slate", Recipes: []string{s.lot(s.first).Recipe},
		Grades: []ledger.Grade{ledger.First}, Net: 90})
	require.NoError(t, err)
	require.NoError(t, s.Reserve(ctx, s.act(), s.first, first, oid, selling.For{Kind: "person", Name: "Ada"}, 3))
	r := s.begins(false)
	require.NoError(t, s.Note(ctx, s.act(), r, s.first, recall.Move{What: recall.Destroyed, Pool: recall.House, Bars: 4}))
	assert.Equal(t, 1, s.lot(s.first).Balance[first])
	assert.Equal(t, 1, s.lot(s.first).BoundOf(first))
}

func TestADrillCountsAndBlocksNothing(t *testing.T) {
	s := withABadTub(t)
	oid := s.begins(true)
	assert.Empty(t, s.lot(s.first).Held())
	d, _, err := s.Delivery(ctx, s.tub)
	require.NoError(t, err)
	assert.Equal(t, inventory.Usable, d.Status)
	require.NoError(t, s.Note(ctx, s.act(), oid, s.first, recall.Move{What: recall.Destroyed, Pool: recall.House, Bars: 5}))
	assert.Equal(t, 5, s.lot(s.first).Balance[first], "the books stay as they are")
	assert.Equal(t, recall.Score{Made: 19, House: 10, Destroyed: 5, Unknown: 3, Open: 1}, s.score(oid))
	s.now = s.now.Add(25 * time.Minute)
	require.NoError(t, s.End(ctx, s.act(), oid, false, "nobody knew the inn's number"))
	r, err := s.Recall(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, 25*time.Minute, r.Took(s.now.Add(time.Hour)))
	assert.Equal(t, "nobody knew the inn's number", r.Note)
	list, err := s.Recalls(ctx)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

func TestAComplaintStandsOnItsLotAndOpensAHoldOrARecall(t *testing.T) {
	s := withABadTub(t)
	_, err := s.Complain(ctx, s.act(), store.Complaint{Kind: "skin", Said: "A rash."}, "99-Q")
	problem(t, err, "code")
	_, err = s.Complain(ctx, s.act(), store.Complaint{Kind: "odd"}, "")
	problem(t, err, "kind")
	problem(t, err, "said")
	oid, err := s.Complain(ctx, s.act(), store.Complaint{Kind: "skin", Said: "A rash.", From: "a guest"}, s.lot(s.first).Code)
	require.NoError(t, err)
	require.Len(t, s.lot(s.first).Complaints, 1)
	assert.False(t, s.lot(s.first).Complaints[0].Ended)
	problem(t, s.Answer(ctx, s.act(), oid, "done", " "), "text")
	require.NoError(t, s.Answer(ctx, s.act(), oid, "held", "until it is tested"))
	assert.Contains(t, s.lot(s.first).Held()[0], "complaint 1: until it is tested")
	r, err := s.Begin(ctx, s.act(), tracing.Subject{Kind: "lot", Of: s.first}, "lye-heavy after all", false, oid)
	require.NoError(t, err)
	assert.Len(t, s.lot(s.second).Held(), 3, "its own, and that of the lot whose scraps are in it, twice")
	require.NoError(t, s.Answer(ctx, s.act(), oid, "ended", "she is well"))
	list, err := s.Complaints(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, []string{"held", "recalled", "ended"}, []string{list[0].Words[0].What, list[0].Words[1].What, list[0].Words[2].What})
	assert.True(t, s.lot(s.first).Complaints[0].Ended)
	_, err = s.Recall(ctx, r)
	require.NoError(t, err)

	loose, err := s.Complain(ctx, s.act(), store.Complaint{Kind: "smell", Said: "Of nothing."}, "")
	require.NoError(t, err)
	problem(t, s.Answer(ctx, s.act(), loose, "held", "x"), "what")
	require.NoError(t, s.Answer(ctx, s.act(), loose, "done", "a new bar"))
}
