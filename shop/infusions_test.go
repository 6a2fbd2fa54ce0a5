package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/tracing"
	"ashshelf/soap/fat"
	"ashshelf/soap/plan"
	"ashshelf/soap/steep"
)

// Oil steeps on a herb, is strained and topped up, and a lot takes it at the scale: the jar knows what
// is left, the lot's record tells of the jar, and what the herb kept is known from then on.
func TestAnInfusionGoesFromItsJarIntoALotAndTeachesWhatTheHerbKeeps(t *testing.T) {
	b := open(t)
	oid := b.started()
	olive, _ := fat.BySlug("olive-oil")
	item := plan.FatKey(olive)
	target := b.target(oid, item)
	jar := steep.Jar{Name: "olive oil", Herb: "Nettle leaf ", OilG: target + 120, HerbG: 60, Hours: 4, Warm: true}
	problem(t, b.StartInfusion(ctx, b.act(), steep.Jar{Name: "Olive oil", Herb: "Nettle", OilG: 500, Hours: 4}, ""), "herb_g")
	require.NoError(t, b.StartInfusion(ctx, b.act(), jar, ""))
	jars, _, err := b.Infusions(ctx)
	require.NoError(t, err)
	require.Len(t, jars, 1)
	started := jars[0]
	assert.Equal(t, "olive-oil", started.Fat, "found by its name")
	to := func(e steep.Event) error { return b.ToInfusion(ctx, b.act(), started.OID, e, "") }
	problem(t, to(steep.Event{What: steep.ToppedUp, Grams: 10}), "grams")
	none, err := b.InfusionsOf(ctx, olive.Key())
	require.NoError(t, err)
	assert.Empty(t, none, "nothing is drawn from a jar that steeps")

	b.now = b.now.Add(4 * time.Hour)
	require.NoError(t, to(steep.Event{What: steep.Strained, Grams: target + 15}))
	weigh := func(grams float64) error {
		return b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: item, Grams: grams, Infusion: started.OID, Sure: true})
	}
	assert.Contains(t, problem(t, weigh(target+40), "grams"), "of this infusion are left")
	coconut, _ := fat.BySlug("coconut-oil")
	other := shop.Weighed{Item: plan.FatKey(coconut), Grams: b.target(oid, plan.FatKey(coconut)), Infusion: started.OID}
	assert.Contains(t, problem(t, b.Weigh(ctx, b.on(oid), oid, other), "from"), "that jar holds Olive oil")
	require.NoError(t, weigh(target))
	drawn, err := b.InfusionsOf(ctx, olive.Key())
	require.NoError(t, err)
	require.Len(t, drawn, 1)
	assert.InDelta(t, 15, drawn[0].Left(), 1e-3)
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: item, Grams: 5, Back: true, Infusion: started.OID}))
	drawn, err = b.InfusionsOf(ctx, olive.Key())
	require.NoError(t, err)
	assert.InDelta(t, 20, drawn[0].Left(), 1e-3, "weighed back, it is in the jar again")
	assert.Equal(t, b.lot(oid).Code, drawn[0].Events[1].Lot)
	from, err := b.Trace(ctx, tracing.Subject{Kind: "jar", Of: started.OID})
	require.NoError(t, err)
	assert.InDelta(t, target-5, float64(from.Lots()[0].MG)/1000, 0.01)
	r, err := b.Begin(ctx, b.act(), tracing.Subject{Kind: "jar", Of: started.OID}, "the herb was another one", false, "")
	require.NoError(t, err)
	assert.Contains(t, problem(t, weigh(5), "grams"), "called back by recall 1")
	require.NoError(t, b.End(ctx, b.act(), r, false, ""), "no bar was made of it yet")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: item, Grams: 1, Infusion: started.OID, Sure: true}))
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: item, Grams: 1, Back: true, Infusion: started.OID}))
	loss, of := steep.Learned("nettle leaf", drawn)
	assert.Equal(t, 1, of)
	assert.InDelta(t, 105.0/60, loss, 1e-6)
	told := ""
	for _, e := range b.lot(oid).Story() {
		told += e.Title + ": " + e.Text + "; "
	}
	assert.Contains(t, told, "g of Olive oil on Nettle leaf, of a jar begun with")

	problem(t, to(steep.Event{What: steep.Discard}), "note")
	require.NoError(t, to(steep.Event{What: steep.Discard, Note: "it clouded"}))
	open, past, err := b.Infusions(ctx)
	require.NoError(t, err)
	assert.Empty(t, open)
	assert.Len(t, past, 1)
}
