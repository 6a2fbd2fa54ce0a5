package clock_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/clock"
)

func TestAClockIsDoubtedBeforeTheNewestEntryAndAfterALongRest(t *testing.T) {
	newest := time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		now  time.Time
		want clock.Doubt
	}{
		{time.Unix(0, 0), clock.Behind},
		{newest.Add(-2*time.Minute - time.Second), clock.Behind},
		{newest.Add(-2 * time.Minute), ""}, // set by the network
		{newest, ""},
		{newest.AddDate(0, 0, 42), ""}, // the longest usual cure
		{newest.AddDate(0, 0, 60), ""},
		{newest.AddDate(0, 0, 60).Add(time.Second), clock.Ahead},
		{newest.AddDate(10, 0, 0), clock.Ahead},
	} {
		assert.Equal(t, c.want, clock.Judge(c.now, newest), c.now)
	}
	assert.Empty(t, clock.Judge(time.Unix(0, 0), time.Time{}), "a new shop has nothing to hold it to")
	for _, d := range []clock.Doubt{clock.Behind, clock.Ahead} {
		assert.NotEmpty(t, d.Words())
	}
}
