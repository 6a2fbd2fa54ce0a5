package draw_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/web/draw"
)

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
