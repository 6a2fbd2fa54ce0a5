package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/soap/learn"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
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
	paces, err := b.Paces(ctx, []string{r})
	require.NoError(t, err)
	f := paces.Figure(r, run.TraceWork, 8)
	assert.Equal(t, learn.Foretell(8, nil), f, "a pot that is being made says nothing yet")

	b.madeSlowly(first, 4*time.Minute, 24)
	for range 3 {
		oid := b.startedOf(r)
		b.madeSlowly(oid, 4*time.Minute, 24)
	}
	table := 0.0
	for _, s := range b.lot(first).Order().Work("", 20, 1).Steps {
		if s.Name == run.TraceWork {
			table = float64(s.Minutes)
		}
	}
	paces, err = b.Paces(ctx, []string{r})
	require.NoError(t, err)
	f = paces.Figure(r, run.TraceWork, table)
	assert.Equal(t, 4, f.Own)
	assert.InDelta(t, 24, f.Mid, 5)
	assert.True(t, f.Telling())
	assert.Contains(t, f.Words(), "from 4 lots; the table says")
	other := paces.Figure("another recipe", run.TraceWork, table)
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
