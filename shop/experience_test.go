package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/planning"
	"ashshelf/soap/learn"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

// madeSlowly makes a lot with so long for each weighing, and so long to trace.
func (b *bench) madeSlowly(oid string, each time.Duration, trace float64) {
	b.t.Helper()
	l, err := b.Lot(ctx, oid)
	require.NoError(b.t, err)
	for _, step := range run.Steps(l.Order()) {
		if step.Kind == run.Pour {
			break
		}
		b.now = b.now.Add(each)
		switch l := b.lot(oid); {
		case l.Done()[step.Key] || step.Kind == run.Weigh && l.State().Closed[step.Item.Key]:
		case step.Kind == run.Weigh:
			require.NoError(b.t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: step.Item.Key, Grams: step.Item.Target}), step.Title)
		default:
			k := done(step)
			if step.Kind == run.Trace {
				k.Minutes = trace
			}
			require.NoError(b.t, b.Tick(ctx, b.on(oid), oid, k), step.Title)
		}
	}
	require.NoError(b.t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	b.fromMold(oid)
}

// What lots took is what the next one is foretold from, with how many there were; a lot that was left alone for an hour
// says nothing of the part that it was left in.
func TestTheShopLearnsFromItsOwnLots(t *testing.T) {
	b := open(t)
	r, first := b.startedWith(formula())
	about := planning.About{Recipe: r, Formula: formula()}
	e, err := b.Experience(ctx, []string{r})
	require.NoError(t, err)
	f := e.Minutes(about, run.TraceWork, 8)
	assert.Equal(t, learn.Foretell(learn.Minutes, 1, nil).Of(8), f, "a pot that is being made says nothing yet")

	b.madeSlowly(first, 4*time.Minute, 24)
	for range 3 {
		oid := b.startedOf(r)
		b.madeSlowly(oid, 4*time.Minute, 24)
	}
	table := 0.0
	for _, s := range b.lot(first).Order().Work("", 20, 1, nil).Steps {
		if s.Name == run.TraceWork {
			table = float64(s.Minutes)
		}
	}
	e, err = b.Experience(ctx, []string{r})
	require.NoError(t, err)
	f = e.Minutes(about, run.TraceWork, table)
	assert.Equal(t, 4, f.Own)
	assert.InDelta(t, 24, f.Mid, 5)
	assert.True(t, f.Telling())
	assert.Contains(t, f.Words(), "from 4 lots; the table says")
	other := e.Minutes(planning.About{Recipe: "another recipe"}, run.TraceWork, table)
	assert.Equal(t, []int{0, 4}, []int{other.Own, other.Others})
	assert.Less(t, other.Mid, f.Mid)

	took := learn.Took(b.lot(first))
	assert.InDelta(t, 24, took[run.TraceWork], 1e-9)
	weighed := 0
	for _, i := range b.lot(first).Sheet() {
		if i.Place == plan.ToMelt || i.Place == plan.Fluid {
			weighed += len(i.Items)
		}
	}
	assert.Greater(t, took[run.FatsWork], 4*float64(weighed)-1, "four minutes each")

	slow := b.startedOf(r)
	b.madeSlowly(slow, 40*time.Minute, 24)
	assert.NotContains(t, learn.Took(b.lot(slow)), run.FatsWork, "that was a pause, not work")
	assert.Contains(t, learn.Took(b.lot(slow)), run.TraceWork, "and what was written down of the trace stands")
}

// Loaves that came out soft when they should be firm move the window of the next lot, which says why; one or two do not.
func TestSoftLoavesMoveTheWindowOfTheNextLot(t *testing.T) {
	b := open(t)
	r, _ := b.startedWith(formula())
	oid := b.startedOf(r)
	table := b.lot(oid).Frozen.Unmold
	for n := range 4 {
		assert.Equal(t, table.Opens, b.lot(oid).Frozen.Unmold.Opens, "after %d lots", n)
		b.weighed(oid)
		require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
		b.now = b.now.Add(table.Best + 4*time.Hour)
		require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, true, ""))
		b.now = b.now.Add(20 * time.Hour)
		require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Scrap: 1}, BarG: 118}, ""))
		if oid = b.startedOf(r); n >= 2 {
			break
		}
	}
	moved := b.lot(oid).Frozen.Unmold
	assert.Greater(t, moved.Opens, table.Opens)
	assert.Equal(t, table.Closes, moved.Closes)
	assert.Contains(t, moved.Why, "later by your own lots: firm after")
	assert.Contains(t, moved.Why, "from 3 lots; the table says")
	assert.Equal(t, table, b.lot(oid).TableWindow(), "and is learned from beside the table, not beside itself")

	said, err := b.OwnLots(ctx, planning.About{Recipe: r, Formula: formula()}, nil, 1)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"none": 3}, said.Gels)
	figures := map[string]learn.Figure{}
	for _, f := range said.Figures {
		figures[f.What] = f.Figure
		assert.Equal(t, 3, f.Own, f.What)
	}
	good := figures["Good bars of those planned"]
	assert.InDelta(t, 0.9, good.Mid, 0.03, "one of ten was scrap")
	assert.Contains(t, figures, "Of the pot at the cut")
	assert.NotContains(t, figures, "Dries away in a year", "no bar was weighed while it dried")
}

// Gels that were seen say how warm loaves stay in this shop.
func TestSeenGelsSayHowWarmLoavesStay(t *testing.T) {
	b := open(t)
	r, _ := b.startedWith(formula())
	oid := b.startedOf(r)
	for range 3 {
		b.poured(oid)
		require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
		oid = b.startedOf(r)
	}
	shop, own, err := b.Gels(ctx, r)
	require.NoError(t, err)
	assert.Len(t, own, 3)
	assert.Equal(t, 3, shop.Looks)
	assert.Equal(t, "yours stay warmer than the model has it", shop.Words(), "open loaves that gelled through")
	other, none, err := b.Gels(ctx, "another")
	require.NoError(t, err)
	assert.Empty(t, none)
	assert.Equal(t, 3, other.Looks, "they are loaves of the shop for any recipe")
}

// The next thing to do follows what is ticked, whoever looks; trouble in one pot comes before all else.
func TestTheNextThingFollowsTheRecords(t *testing.T) {
	b := open(t)
	one := b.started()
	next := func() string {
		t.Helper()
		c, err := b.Conduct(ctx)
		require.NoError(t, err)
		require.NotEmpty(t, c.Next())
		return c.Next()[0].Name
	}
	assert.Equal(t, run.ReadyWork, next())
	for _, step := range run.Steps(b.lot(one).Order()) {
		if step.Stage == run.Ready {
			require.NoError(t, b.Tick(ctx, b.on(one), one, done(step)), step.Title)
		}
	}
	assert.NotEqual(t, run.ReadyWork, next(), "what is ticked is done")
	two := b.started()
	c, err := b.Conduct(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Lots, 2)
	assert.Empty(t, c.Plan.Late)
	require.NoError(t, b.FileTrouble(ctx, b.on(two), two, shop.Report{Kind: trouble.Seized, Text: "like concrete"}))
	assert.Equal(t, run.TroubleWork, next(), "hands go where something went wrong")

	// Late in the evening the bench goes on.
	b.now = time.Date(2026, 3, 2, 23, 30, 0, 0, time.UTC)
	c, err = b.Conduct(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, c.Plan.Late, "what does not fit before midnight is said")
}
