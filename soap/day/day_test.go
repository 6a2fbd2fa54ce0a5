package day_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/day"
)

func zone(t require.TestingT, name string) *time.Location {
	z, err := time.LoadLocation(name)
	require.NoError(t, err)
	return z
}

// Zones that change at midnight, by half an hour, leave out a day, or lie far out.
var odd = []string{
	"UTC",
	"Europe/Dublin",
	"America/Havana",
	"America/Santiago",
	"America/Asuncion",
	"Africa/Cairo",
	"Asia/Beirut",
	"Australia/Lord_Howe",
	"Pacific/Apia",
	"Pacific/Kiritimati",
	"Pacific/Kwajalein",
	"Asia/Kathmandu",
	"America/St_Johns",
	"Pacific/Marquesas",
}

func TestADayStartsWhereItsClockDoes(t *testing.T) {
	at := func(zoneName, date, want string) {
		t.Helper()
		d, err := time.Parse(time.DateOnly, date)
		require.NoError(t, err)
		assert.Equal(t, want, day.Start(d, zone(t, zoneName)).Format("2006-01-02 15:04 -0700"))
	}
	at("Europe/Dublin", "2026-03-29", "2026-03-29 00:00 +0000")
	at("America/Havana", "2026-03-08", "2026-03-08 01:00 -0400")   // there is no midnight
	at("America/Santiago", "2026-09-06", "2026-09-06 01:00 -0300") // nor here
	at("America/Santiago", "2026-04-05", "2026-04-05 00:00 -0400") // after an hour that came twice
	at("Pacific/Apia", "2011-12-29", "2011-12-29 00:00 -1000")
	at("Pacific/Apia", "2011-12-30", "2011-12-31 00:00 +1400") // a day that never was
	at("Pacific/Kiritimati", "2026-01-01", "2026-01-01 00:00 +1400")
}

// Walking days comes to an end, in every zone: each is later than the one before, and
// counting there and back agrees.
func TestDaysAreWalkedOneByOne(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		z := zone(t, rapid.SampledFrom(odd).Draw(t, "zone"))
		from := time.Unix(rapid.Int64Range(946_684_800, 4_102_444_800).Draw(t, "moment"), 0).In(z)
		n := rapid.IntRange(-400, 400).Draw(t, "days")
		to := day.Plus(from, n)
		skipped := !day.Of(to).Equal(day.Of(from).AddDate(0, 0, n))
		if !skipped {
			require.Equal(t, n, day.Between(from, to), "%s", z)
		}
		require.True(t, day.Of(to.Add(-time.Minute)).Before(day.Of(to)), "%s: it is the first minute", to)
		require.True(t, day.Plus(to, 1).After(to), "%s", to)
	})
	apia := zone(t, "Pacific/Apia")
	seen := 0
	for d := time.Date(2011, 12, 25, 0, 0, 0, 0, apia); d.Before(time.Date(2012, 1, 5, 0, 0, 0, 0, apia)); d = day.Plus(d, 1) {
		require.Less(t, seen, 20)
		seen++
	}
	assert.Equal(t, 10, seen, "eleven days on the calendar, one of which never was")
}
