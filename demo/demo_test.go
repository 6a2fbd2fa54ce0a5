package demo_test

import (
	"context"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/demo"
	"ashshelf/shop"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

func TestWheneverItIsSomethingIsOpeningDryingAndReady(t *testing.T) {
	zone, err := time.LoadLocation(demo.Zone)
	require.NoError(t, err)
	for _, now := range []time.Time{
		time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC), time.Date(2026, 3, 29, 1, 5, 0, 0, time.UTC), // the night the clocks change
		time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 7, 4, 23, 59, 0, 0, time.UTC),
	} {
		clock := &demo.Clock{}
		s, err := shop.Open(context.Background(), t.TempDir(), clock.Now)
		require.NoError(t, err)
		require.NoError(t, demo.Seed(context.Background(), s, clock, now))
		lots, err := s.Lots(context.Background(), store.LotsWhere{})
		require.NoError(t, err)
		stages := map[lot.Stage]int{}
		for i, l := range lots {
			stages[l.Stage()]++
			assert.Equal(t, len(lots)-i, l.Number, "codes follow the order of starting")
			story := l.Story()
			for k := 1; k < len(story); k++ {
				assert.False(t, story[k].Occurred.Before(story[k-1].Occurred), "lot %s is told in order of time", l.Code)
				assert.False(t, story[k].Occurred.After(now))
			}
		}
		for _, stage := range []lot.Stage{lot.Making, lot.InMold, lot.Curing, lot.Ready, lot.Gone} {
			assert.Positive(t, stages[stage], "%s at %s", stage, now)
		}
		kinds := map[schedule.Kind]cure.State{}
		for _, task := range schedule.Today(lots, now.In(zone)) {
			kinds[task.Kind] = task.State
		}
		for _, k := range []schedule.Kind{schedule.Finish, schedule.Unmold, schedule.Weigh, schedule.Check, schedule.Release,
			schedule.Held} {
			assert.Contains(t, kinds, k, "%s", now)
		}
		require.NoError(t, s.Close())
	}
}

// A demo whose making was cut off leaves its folder empty, and is made the next time.
func TestADemoThatWasHalfMadeIsMadeAgain(t *testing.T) {
	dir, now := t.TempDir(), time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC)
	for _, after := range []time.Duration{time.Millisecond, 300 * time.Millisecond} {
		ctx, cancel := context.WithTimeout(context.Background(), after)
		require.Error(t, demo.Make(ctx, dir, now))
		cancel()
		held, err := store.Peek(context.Background(), dir)
		require.NoError(t, err)
		assert.False(t, held.Exists)
	}
	require.NoError(t, demo.Make(context.Background(), dir, now))
	files, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, files, 1, "nothing else is left")
	held, err := store.Peek(context.Background(), dir)
	require.NoError(t, err)
	assert.Equal(t, store.Peeked{Exists: true, Founded: true, Demo: true}, held)
}
