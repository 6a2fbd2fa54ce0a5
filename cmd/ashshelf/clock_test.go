package main

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/store"
)

func TestAMomentIsReadOrRefusedInWords(t *testing.T) {
	clock, moment, err := clockFrom("2026-03-14T10:30:00Z")
	require.NoError(t, err)
	assert.WithinDuration(t, moment, clock(), time.Second)
	for _, bad := range []string{"tomorrow", "2026-03-14", "14:30"} {
		_, _, err := clockFrom(bad)
		assert.ErrorContains(t, err, "2026-03-14T10:30:00Z")
		assert.Equal(t, 1, runServe([]string{"-now", bad, "-data", t.TempDir()}))
	}
	clock, _, err = clockFrom("")
	require.NoError(t, err)
	assert.WithinDuration(t, time.Now(), clock(), time.Second)
}

// A year can be walked in an afternoon, in an empty folder or one that was walked
// before, never over real records unless somebody insists.
func TestTheClockOfARealShopIsNotMoved(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	open := func(clock func() time.Time) *shop.Shop {
		s, err := shop.Open(ctx, dir, clock)
		require.NoError(t, err)
		return s
	}
	assert.NoError(t, journal.MayMoveClock(ctx, dir, false), "an empty folder")
	s := open(time.Now)
	_, err := s.Found(
		ctx,
		journal.Act{Device: "d", DeviceLabel: "d"},
		store.Shop{Name: "Real", Zone: "Europe/Dublin", Units: "metric", Currency: "EUR", ScaleStep: 1},
		[]string{"Ida"},
	)
	require.NoError(t, err)
	assert.False(t, s.Moved())
	require.NoError(t, s.Close())
	assert.ErrorIs(t, journal.MayMoveClock(ctx, dir, false), journal.ErrRealRecords)
	assert.Equal(t, 1, runServe([]string{"-now", "2027-01-01T08:00:00Z", "-data", dir}))
	assert.NoError(t, journal.MayMoveClock(ctx, dir, true), "unless somebody insists")

	clock, moment, err := clockFrom("2027-01-01T08:00:00Z")
	require.NoError(t, err)
	s = open(clock)
	require.NoError(t, s.MoveClock(ctx, moment, time.Now()))
	assert.Equal(t, 2027, s.Now(time.UTC).Year())
	require.NoError(t, s.Close())
	assert.NoError(t, journal.MayMoveClock(ctx, dir, false), "it is a walked one now")
	s = open(time.Now)
	assert.True(t, s.Moved(), "and says so for ever")
	require.NoError(t, s.Close())
}
