package draw_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/web/draw"
)

// On the night of 29 March 2026 Dublin goes from one o'clock to two: the day has 23
// hours, and a window of six of them is as long as six hours are.
func TestTheWindowsOfADayStandAtTheirHoursAlsoWhenTheClocksChange(t *testing.T) {
	dublin, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	day := time.Date(2026, 3, 29, 0, 0, 0, 0, dublin)
	window := func(opens, closes time.Duration) schedule.Task {
		return schedule.Task{
			Lot:    &lot.Lot{Code: "1-H"},
			Kind:   schedule.Unmold,
			Opens:  day.Add(opens),
			Best:   day.Add((opens + closes) / 2),
			Closes: day.Add(closes),
		}
	}
	d := draw.OfDay(
		day,
		[]schedule.Task{window(0, 6*time.Hour), window(17*time.Hour, 40*time.Hour), window(-30*time.Hour, 50*time.Hour)},
		day.Add(5*time.Hour),
	)
	bars := of(d.Picture, "rect", "window")
	require.Len(t, bars, 3)
	whole := bars[2].W
	assert.InDelta(t, whole*6/23, bars[0].W, 1e-6)
	assert.InDelta(t, bars[2].X+whole, bars[1].X+bars[1].W, 1e-6, "what goes on is cut at midnight")
	assert.InDelta(t, whole*6/23, bars[1].W, 1e-6)
	assert.Len(t, of(d.Picture, "path", "ln"), 3, "and says so with an arrow")
	assert.Len(t, of(d.Picture, "line", "ln-mark"), 2, "the best moment of the second is tomorrow's")
	now := of(d.Picture, "line", "now-line")
	require.Len(t, now, 1)
	assert.InDelta(t, bars[2].X+whole*5/23, now[0].X, 1e-6)
	for _, s := range d.Shapes {
		assert.True(t, s.X >= 0 && s.X+s.W <= d.W && s.Y+s.H <= d.H, "%+v", s)
	}
}
