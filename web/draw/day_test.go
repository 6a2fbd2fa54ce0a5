package draw_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/gel"
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

// A bar is as wide as it is long, what is kept is an outline that nobody drags, and the end has its mark.
func TestADayInLanesIsDrawnToTheMinute(t *testing.T) {
	p, drag := draw.OfHours([]draw.HourLane{
		{Name: "hands", Bars: []draw.HourBar{{Letter: "A", Words: "Weigh and mix the lye", From: 540, Until: 600, Key: "a"},
			{Letter: "B", Tint: 1, Words: "Stir", From: 600, Until: 602, Key: "b", Fixed: true}}},
		{Name: "jug", Gap: true, Bars: []draw.HourBar{{Letter: "A", Words: "lye", From: 540, Until: 660, Kept: true}}},
	}, 540, 1020, 660, "the day")
	minute := draw.HoursMinute(540, 1020)
	require.Len(t, drag, 2)
	assert.InDelta(t, 60*minute, drag[0].W, 1e-9)
	assert.InDelta(t, drag[0].X+drag[0].W, drag[1].X, 1e-9)
	assert.Equal(t, "A, Weigh and mix the lye: 09:00 to 10:00", drag[0].Words)
	got := classes(p)
	assert.Equal(t, 1, got["rect hours-0"])
	assert.Equal(t, 1, got["rect hours-1 hours-fixed"])
	assert.Equal(t, 1, got["rect hours-0 hours-kept"])
	assert.Equal(t, 1, got["line ln-mark"])
	var said []string
	for _, s := range p.Shapes {
		if s.Kind == "text" && s.Class == "" {
			said = append(said, s.Text)
		}
		if s.Kind == "rect" {
			assert.LessOrEqual(t, s.X+s.W, p.W)
			assert.LessOrEqual(t, s.Y+s.H, p.H)
		}
	}
	require.Len(t, said, 2, "a bar of two minutes has no room for a letter")
	assert.True(t, strings.HasPrefix(said[0], "A Weigh"), said[0])
	assert.Equal(t, "A", said[1])
}

// Both halves of a loaf are drawn, warm cells darker, and the line of the gel runs where it stopped, on both sides alike.
func TestALoafThatGelsIsDrawnWithItsRing(t *testing.T) {
	c := gel.Course{Moments: []gel.Moment{{Hour: 2, Warmth: [][]float64{{40, 40}, {72, 50}, {40, 40}},
		Gelled: [][]bool{{false, false}, {true, false}, {false, false}}}}}
	p := draw.OfGel(c, 80, 60, "a loaf")
	got := classes(p)
	assert.Equal(t, 1, got["path gel-ring"])
	assert.Equal(t, 2, got["rect warm-1"], "two rows of one warmth are one rectangle each")
	assert.Equal(t, 1, got["rect warm-4"], "its middle")
	assert.Equal(t, 2, got["rect warm-2"], "and what is beside it, left and right")
	for _, s := range p.Shapes {
		if s.Class == "gel-ring" {
			assert.Equal(t, 6, strings.Count(s.D, "L"), "its top, its floor and its side, twice")
		}
		if s.Kind == "text" {
			assert.Equal(t, "2 h, 72 °C", s.Text)
		}
	}
}
