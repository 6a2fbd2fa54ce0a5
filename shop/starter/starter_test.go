package starter_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/shop/starter"
	"ashshelf/soap/caution"
	"ashshelf/store"
)

func founded(t *testing.T) (*shop.Shop, journal.Act) {
	t.Helper()
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	act := journal.Act{Device: "bench", DeviceLabel: "the bench", Key: "first"}
	v := store.Shop{Name: "Tide Lane", Zone: "UTC", Units: "metric", Currency: "EUR", ScaleStep: 1}
	act.Person, err = s.Found(context.Background(), act, v, []string{"Wren"})
	require.NoError(t, err)
	return s, act
}

func TestEveryRecipeOfTheStarterBenchIsSoundAndStaysADraft(t *testing.T) {
	s, act := founded(t)
	require.NoError(t, starter.Bench(context.Background(), s, act))
	recipes, err := s.Recipes(context.Background())
	require.NoError(t, err)
	require.Len(t, recipes, 3)
	for _, r := range recipes {
		f := r.Formula
		require.NoError(t, f.Check().Err(), r.Name)
		sum := 0.0
		for _, share := range f.Fats {
			sum += share.Percent
		}
		assert.InDelta(t, 100, sum, 1e-9, r.Name)
		for _, c := range f.Advise(f.Superfat, f.AmountsFor(1000)) {
			assert.Equal(t, caution.Advice, c.Level, "%s: %s", r.Name, c.Reason)
		}
		assert.Equal(t, "draft", r.Life.Words(), "untested here")
		assert.Contains(t, r.Notes, "trial")
	}
	molds, err := s.Molds(context.Background())
	require.NoError(t, err)
	assert.Len(t, molds, 2)
}

func TestANewShopIsToldOneThingToDoNext(t *testing.T) {
	s, act := founded(t)
	next := func() starter.Step {
		w, err := starter.WayOf(context.Background(), s, time.UTC)
		require.NoError(t, err)
		return w.Next
	}
	assert.Equal(t, starter.Write, next())
	require.NoError(t, starter.Bench(context.Background(), s, act))
	assert.Equal(t, starter.Plan, next(), "recipes and molds are there")
}
