package shop_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/document"
	"ashshelf/shop/planning"
	"ashshelf/soap/mold"
)

// A slab that no pot holds and three loaves: equal pots would fill the slab and a loaf from two of them.
// The slab is made of two equal halves instead, the loaves of pots of their own, and nothing is lost.
func TestASlabGetsTwoHalvesAndTheLoavesPotsOfTheirOwn(t *testing.T) {
	b := open(t)
	recipe, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(t, err)
	kept := func(name string, m mold.Mold) string {
		oid, err := b.KeepMold(ctx, b.act(), "", 0, name, document.MoldBody{Mold: m, Material: "lined", Bars: 10})
		require.NoError(t, err)
		return oid
	}
	slab := kept("Slab", mold.Mold{Shape: mold.Box, Length: 400, Width: 300, Fill: 40})
	loaf := kept("Loaf", mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65})
	settings, err := b.Settings(ctx)
	require.NoError(t, err)
	o := planning.DefaultOrder(settings)
	o.Recipe, o.PotCapacity, o.Day = recipe, 3000, "2026-03-20"
	o.Molds = []planning.OrderMold{{OID: slab, Count: 1}, {OID: loaf, Count: 3}}
	whole, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	require.Equal(t, 3, whole.Plan.Batches)

	groups, err := b.Groups(ctx, o)
	require.NoError(t, err)
	require.Len(t, groups, 2)
	assert.Equal(t, "Slab", groups[0].Molds[0].Name)
	assert.Equal(t, 2, groups[0].Plan.Batches)
	assert.Equal(t, "Loaf", groups[1].Molds[0].Name)
	sum := 0.0
	for _, one := range groups {
		assert.LessOrEqual(t, one.Plan.Pot().InPot(), 3000.0)
		sum += one.Plan.BatterG
	}
	assert.InDelta(t, whole.Plan.BatterG, sum, 0.01*sum, "the same soap in all")

	first, err := b.KeepGroups(ctx, b.act(), o)
	require.NoError(t, err)
	d, err := b.Day(ctx, "2026-03-20")
	require.NoError(t, err)
	require.Len(t, d.Plans, 2)
	assert.Contains(t, []string{d.Plans[0].Plan.OID, d.Plans[1].Plan.OID}, first)

	o.PotCapacity = 0
	none, err := b.Groups(ctx, o)
	require.NoError(t, err)
	assert.Empty(t, none, "one pot fills them all")
	problem(t, second(b.KeepGroups(ctx, b.act(), o)), "molds")
	o.PotCapacity, o.Molds = 3000, []planning.OrderMold{{OID: loaf, Count: 4}}
	none, err = b.Groups(ctx, o)
	require.NoError(t, err)
	assert.Empty(t, none, "molds of one kind need no groups")
}

func second(_ string, err error) error { return err }
