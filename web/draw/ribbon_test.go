package draw_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/web/draw"
)

func TestALotIsThickInItsMoldAndNarrowsAsItDries(t *testing.T) {
	s := draw.Strip{Days: 35, Off: make([]bool, 35), Now: 10, Poured: 2, Out: 3, Ready: 30, Cut: true, Dues: []float64{9.2, 40}}
	s.Off[6] = true
	p := draw.OfStrip(s)
	require.Len(t, of(p, "rect", "ribbon-mold"), 1)
	assert.InDelta(t, p.W/35, of(p, "rect", "ribbon-mold")[0].W, 1e-9, "a day in the mold")
	assert.Len(t, of(p, "path", "ribbon-cure"), 1)
	assert.Len(t, of(p, "rect", "off-day"), 1)
	assert.Len(t, of(p, "path", "peg"), 1, "the flag is foreseen")
	assert.Len(t, of(p, "circle", "dot"), 1, "what is due beyond the ribbon is not on it")
	assert.Len(t, of(p, "line", "now-line"), 1)
	s.Released, s.Now = true, 90
	p = draw.OfStrip(s)
	assert.Len(t, of(p, "path", "done"), 1)
	assert.NotEmpty(t, of(p, "rect", "ribbon-ready"))
	assert.Empty(t, of(p, "line", "now-line"), "another month has no today")
}

func TestWhatIsForeseenHasNoFirmEdgeAndNothingLeavesTheRibbon(t *testing.T) {
	inMold := draw.OfStrip(draw.Strip{Days: 35, Now: 3, Poured: 2.5, Out: 3.5, Ready: 30.5, Opens: 3.2, Closes: 4.5})
	assert.Len(t, of(inMold, "rect", "ribbon-window"), 1)
	assert.Len(t, of(inMold, "rect", "ribbon-mold"), 1, "it stands in its mold")
	assert.Len(t, of(inMold, "path", "ribbon-foreseen"), 1, "its cure is to come")
	plan := draw.OfStrip(draw.Strip{Days: 35, Now: 3, Poured: 20, Out: 21, Ready: 48, Plan: true})
	assert.Len(t, of(plan, "rect", "ribbon-foreseen"), 1)
	assert.Empty(t, of(plan, "path", "peg"), "ready after the ribbon ends")
	waits := draw.OfStrip(draw.Strip{Days: 35, Now: 20, Poured: -20, Out: -19, Ready: 8, Cut: true, Held: true})
	assert.InDelta(t, 12*22.0, of(waits, "rect", "ribbon-foreseen")[0].W, 1e-9, "its days are done, and it waits until today")
	assert.NotEmpty(t, of(waits, "path", "stop"))
	for _, s := range []draw.Strip{
		{Days: 35, Now: 99, Poured: -40, Out: -39, Ready: -10, Released: true, Cut: true},
		{Days: 35, Now: -5, Poured: -400, Out: -399, Ready: 600, Cut: true, Held: true}, {},
	} {
		for _, one := range draw.OfStrip(s).Shapes {
			if one.Kind == "rect" {
				assert.True(t, one.X >= 0 && one.X+one.W <= 22*35+1e-9, "%+v", one)
			}
		}
	}
}

// A pour stands at its day and dries until it is ready; a want that is not met has another flag; the racks are a skyline.
func TestTheDaysAheadShowPoursWantsAndRacks(t *testing.T) {
	sunday := func(d time.Time) bool { return d.Weekday() == time.Sunday }
	today := time.Date(2026, 3, 2, 0, 0, 0, 0, time.UTC) // a Monday
	p, drag := draw.OfAhead([]draw.AheadRow{
		{Name: "Hedgerow bar", Stands: []draw.AheadSpan{{Bars: 12}, {Bars: 20, Ready: 10}},
			Pours: []draw.AheadPour{{Key: "a", Day: 3, Cut: 4, Ready: 32, Pots: 2}, {Key: "b", Day: 9, Cut: 10, Ready: 38, Pots: 1, Bad: true}},
			Wants: []draw.AheadMark{{Day: 40, Bars: 60}, {Day: 5, Bars: 8, Short: true}}},
	}, draw.AheadRack{Bars: []int{10, 30, 20}, Holds: 25}, today, 42, sunday, "ahead")
	got := classes(p)
	assert.Equal(t, 6, got["rect off-day"], "six Sundays in six weeks")
	assert.Equal(t, 2, got["rect ribbon-cure"])
	assert.Equal(t, 1, got["rect ribbon-mold"])
	assert.Equal(t, 1, got["rect flag-near"], "what breaks something is another colour")
	assert.Equal(t, 1, got["path done"])
	assert.Equal(t, 1, got["path stop"])
	assert.Equal(t, 1, got["path wet"])
	assert.Equal(t, 1, got["line ln-dash"], "what the racks hold")
	require.Len(t, drag, 2)
	assert.Equal(t, "Hedgerow bar, pour on 5 Mar", drag[0].Words)
	assert.InDelta(t, 6*draw.AheadDay(42), drag[1].X-drag[0].X, 1e-9, "six days apart")
	for _, one := range drag {
		assert.GreaterOrEqual(t, one.W, 24.0, "wide enough for a finger or a mouse")
	}
	for _, s := range p.Shapes {
		if s.Kind == "rect" {
			assert.GreaterOrEqual(t, s.X, 0.0)
			assert.LessOrEqual(t, s.X+s.W, p.W+1e-9)
		}
	}
}
