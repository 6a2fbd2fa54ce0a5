package unit_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/unit"
)

func TestADayIsReadAsItIsWrittenInTheShopsCountry(t *testing.T) {
	for _, text := range []string{
		"2026-03-14", "14 Mar 2026", " 14  march 2026 ", "March 14, 2026", "mar 14 2026", "14.3.2026", "14. March 2026",
	} {
		for _, s := range []unit.System{unit.Metric, unit.US} {
			day, err := unit.Day(text, s)
			require.NoError(t, err, text)
			assert.Equal(t, "2026-03-14", day.Format(time.DateOnly), text)
		}
	}
	sept, err := unit.Day("Sept 3, 2026", unit.US)
	require.NoError(t, err)
	assert.Equal(t, time.September, sept.Month())
	there, err := unit.Day("3/4/2026", unit.US)
	require.NoError(t, err)
	here, err := unit.Day("3/4/2026", unit.Metric)
	require.NoError(t, err)
	assert.Equal(t, []time.Month{time.March, time.April}, []time.Month{there.Month(), here.Month()})
	for _, bad := range []string{"", "yesterday", "3/14/2026", "14/3/26", "31 Feb 2026", "14 Mar", "14 Mar 1066", "14-3-2026"} {
		_, err := unit.Day(bad, unit.Metric)
		assert.ErrorContains(t, err, "14 Mar 2026, 14/3/2026 or 2026-03-14", bad)
	}
	_, err = unit.Day("14/3/2026", unit.US)
	assert.ErrorContains(t, err, "3/14/2026")
}

func TestADayThatIsWrittenIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		day := time.Date(1900, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, rapid.IntRange(0, 109_000).Draw(t, "days"))
		for _, s := range []unit.System{unit.Metric, unit.US} {
			back, err := unit.Day(unit.FormatDay(day), s)
			require.NoError(t, err)
			require.Equal(t, day, back)
		}
	})
}

func TestAMomentIsADayAndATimeOfIt(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	want := time.Date(2026, 3, 14, 14, 30, 0, 0, zone)
	for _, text := range []string{"2026-03-14 14:30", "14 Mar 2026 14.30", "Mar 14, 2026 2:30 pm", "3/14/2026 2:30PM"} {
		at, err := unit.Moment(text, unit.US, zone)
		require.NoError(t, err, text)
		assert.Equal(t, want, at, text)
	}
	for _, bad := range []string{"", "14:30", "14 Mar 2026", "14 Mar 2026 25:00", "14 Mar 2026 noon"} {
		_, err := unit.Moment(bad, unit.US, zone)
		assert.ErrorContains(t, err, "the day and the hour", bad)
	}
}
