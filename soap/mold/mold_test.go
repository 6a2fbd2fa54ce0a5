package mold_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
)

func loaf() mold.Mold { return mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65} }

// 300 × 200 × 40 mm with four and two dividers of 3 mm: cells of (300 − 12)/5 by
// (200 − 6)/3 mm.
func TestDividersTakeVolume(t *testing.T) {
	grid := mold.Mold{Shape: mold.Grid, Length: 300, Width: 200, Fill: 40, Cols: 5, Rows: 3, Divider: 3}
	assert.InDelta(t, 57.6*(194.0/3)*40*15/1000, grid.Volume(), 1e-6)
	b := grid.Cuts(mold.Cut{})
	assert.Equal(t, 15, b.Count)
	assert.InDelta(t, grid.Volume()/15, b.Volume, 1e-9)
	assert.Empty(t, b.Marks, "nothing is cut")
}

func TestCavitiesAndJarsCountTogether(t *testing.T) {
	jars := mold.Mold{Shape: mold.Cylinder, Diameter: 70, Fill: 50, Cavities: 6}
	assert.InDelta(t, 6*math.Pi*35*35*50/1000, jars.Volume(), 1e-6)
	assert.Equal(t, 6, jars.Cuts(mold.Cut{Thickness: 10}).Count, "a jar is not cut")
	odd := mold.Mold{Shape: mold.Water, WaterG: 96.5, Cavities: 8}
	assert.InDelta(t, 772, odd.Volume(), 1e-9, "an odd mold is known by its water alone")
}

func TestRulerAndWaterCheckEachOther(t *testing.T) {
	m := loaf()
	m.WaterG = 1290
	assert.Empty(t, m.Advise(), "within 3 %")
	assert.InDelta(t, 1300, m.Volume(), 1e-9)
	m.ByWater = true
	assert.InDelta(t, 1290, m.Volume(), 1e-9)
	m.WaterG = 1200
	assert.Equal(t, "mold.measures", m.Advise()[0].Code)
	m = loaf()
	m.Height = 67
	assert.Equal(t, "mold.headroom", m.Advise()[0].Code)
	l, w := m.Liner()
	assert.InDelta(t, 250+2*(67+20), l, 1e-9, "floor, two walls, two overlaps")
	assert.InDelta(t, 80+2*(67+20), w, 1e-9)
}

func TestMeasuresThatCannotBeAreRefusedWhereTheyStand(t *testing.T) {
	grid := mold.Mold{Shape: mold.Grid, Length: 300, Width: 200, Fill: 40, Cols: 5, Rows: 3, Divider: 3}
	for path, m := range map[string]mold.Mold{
		"m.rows":       func() mold.Mold { g := grid; g.Rows = 0; return g }(),
		"m.cols":       func() mold.Mold { g := grid; g.Cols = -1; return g }(),
		"m.divider_mm": func() mold.Mold { g := grid; g.Divider = 90; return g }(),
		"m.height_mm":  {Shape: mold.Box, Length: 250, Width: 80, Fill: 65, Height: 60},
		"m.water_g":    {Shape: mold.Box, Length: 250, Width: 80, Fill: 65, ByWater: true},
		"m.cavities":   {Shape: mold.Water, WaterG: 100, Cavities: -2},
		"m.length_mm":  {Shape: mold.Box, Length: 25000, Width: 80, Fill: 65},
		"m.shape":      {Shape: "heart"},
	} {
		var p caution.Problems
		m.Check(&p, "m")
		assert.NotEmpty(t, p.At(path), "%s: %v", path, p)
	}
	for path, c := range map[string]mold.Cut{
		"c.thickness_mm": {Thickness: 1}, "c.trim_mm": {Trim: 130}, "c.bars": {Bars: -1}, "c.loaves": {Loaves: 90},
	} {
		var p caution.Problems
		c.Check(&p, "c", loaf())
		assert.NotEmpty(t, p.At(path), "%s: %v", path, p)
	}
	var p caution.Problems
	mold.Cut{Thickness: 260}.Check(&p, "c", loaf())
	assert.Contains(t, p.At("c.thickness_mm"), "more than the 250 mm")
}

// A loaf of 250 mm in slices of 24 mm: ten bars and an end piece of 10 mm.
func TestALoafIsCutFromWhereSoapBegins(t *testing.T) {
	b := loaf().Cuts(mold.Cut{Thickness: 24})
	assert.Equal(t, 10, b.Count)
	assert.InDelta(t, 24*80*65/1000.0, b.Volume, 1e-9)
	assert.Equal(t, 1, b.Ends)
	assert.InDelta(t, 10*80*65/1000.0, b.EndVolume, 1e-9)
	assert.InDelta(t, 24, b.Marks[0], 1e-9)
	assert.InDelta(t, 240, b.Marks[len(b.Marks)-1], 1e-9)
	trimmed := loaf().Cuts(mold.Cut{Thickness: 24, Trim: 5})
	assert.Equal(t, 10, trimmed.Count)
	assert.InDelta(t, 5, trimmed.Marks[0], 1e-9)
	assert.InDelta(t, 10*80*65/1000.0, trimmed.TrimML, 1e-9)
	halves := loaf().Cuts(mold.Cut{Thickness: 24, Halves: true})
	assert.Equal(t, 20, halves.Count)
	assert.InDelta(t, b.Volume/2, halves.Volume, 1e-9)
}

func TestASlabIsSplitIntoLoavesAndThenBars(t *testing.T) {
	slab := mold.Mold{Shape: mold.Box, Length: 390, Width: 270, Fill: 30}
	b := slab.Cuts(mold.Cut{Bars: 27})
	assert.Equal(t, 3, b.Loaves, "bars of about 85 mm lie well in a hand")
	assert.InDelta(t, 390.0/9, b.Thickness, 1e-9)
	b = slab.Cuts(mold.Cut{Thickness: 40, Loaves: 4})
	assert.Equal(t, 36, b.Count)
	assert.Equal(t, 4, b.Ends)
	assert.Equal(
		t,
		9,
		mold.Mold{Shape: mold.Cylinder, Diameter: 76, Fill: 230}.Cuts(mold.Cut{Thickness: 25}).Count,
		"a column is cut along its height",
	)
}

// Bars, end pieces and trimmings are the whole soap.
func TestACutLosesNoSoap(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := mold.Mold{
			Shape:  mold.Box,
			Length: rapid.Float64Range(60, 900).Draw(t, "length"),
			Width:  rapid.Float64Range(40, 400).Draw(t, "width"),
			Fill:   rapid.Float64Range(20, 120).Draw(t, "fill"),
		}
		c := mold.Cut{
			Thickness: rapid.Float64Range(10, 50).Draw(t, "thickness"),
			Loaves:    rapid.IntRange(1, 6).Draw(t, "loaves"),
			Trim:      rapid.Float64Range(0, 10).Draw(t, "trim"),
			Halves:    rapid.Bool().Draw(t, "halves"),
		}
		b := m.Cuts(c)
		require.InEpsilon(t, m.Volume(), float64(b.Count)*b.Volume+b.EndVolume+b.TrimML, 1e-9)
		for i := 1; i < len(b.Marks); i++ {
			require.InDelta(t, b.Thickness, b.Marks[i]-b.Marks[i-1], 1e-6)
		}
	})
}

// 110 g on the label, 12 % to dry, 2 % to spare: 110 × 1.02 ÷ 0.88 = 127.5 g
// raw; at 1 g/ml a loaf of 80 × 65 mm gives that at 24.52 mm.
func TestALabelIsMetBackwardsAndForwards(t *testing.T) {
	l := mold.Label{Grams: 110, Loss: 12, Margin: 2}
	assert.InDelta(t, 127.5, l.Raw(), 0.001)
	assert.InDelta(t, 24.519, loaf().ThicknessFor(l.Raw(), 1), 0.001)
	assert.InDelta(t, 2, l.Stays(l.Raw()), 1e-9)
	assert.Less(t, l.Stays(120), 0.0, "too light a bar falls short")
	rapid.Check(t, func(t *rapid.T) {
		l := mold.Label{
			Grams:  rapid.Float64Range(20, 300).Draw(t, "label"),
			Loss:   rapid.Float64Range(0, 30).Draw(t, "loss"),
			Margin: rapid.Float64Range(0, 10).Draw(t, "margin"),
		}
		density, loaves := rapid.Float64Range(0.9, 1.3).Draw(t, "density"), rapid.IntRange(1, 4).Draw(t, "loaves")
		m := mold.Mold{Shape: mold.Box, Length: 900, Width: 300, Fill: 60}
		thick := m.ThicknessFor(l.Raw()/density, loaves)
		b := m.Cuts(mold.Cut{Thickness: thick, Loaves: loaves})
		if b.Count > 0 {
			require.InEpsilon(t, l.Grams*(1+l.Margin/100), l.Cured(b.Volume*density), 1e-9, "label to thickness and back to the label")
		}
	})
	var p caution.Problems
	mold.Label{Grams: 0, Loss: 60, Margin: -1}.Check(&p, "label")
	assert.Len(t, p, 3)
}

// What comes 2 mm over a 65 mm line was 3 % too much.
func TestAMoldLearnsFromHowFullItCame(t *testing.T) {
	over := mold.Pour{Off: 2}
	c, n := mold.Learn([]mold.Pour{over}, 65)
	assert.Equal(t, 1.0, c, "one pour teaches nothing")
	assert.Equal(t, 1, n)
	c, _ = mold.Learn([]mold.Pour{over, over}, 65)
	assert.InDelta(t, 65.0/67, c, 1e-9)
	c, _ = mold.Learn([]mold.Pour{over, {Off: 30}, over}, 65)
	assert.InDelta(t, 65.0/67, c, 1e-9, "one bad pour does not turn it")
	c, _ = mold.Learn([]mold.Pour{{Off: 20}, {Off: 20}}, 65)
	assert.InDelta(t, 0.95, c, 1e-9, "never more than 5 %")
	c, _ = mold.Learn([]mold.Pour{{Left: 0.03}, {Left: 0.03}}, 0)
	assert.InDelta(t, 0.97, c, 1e-9, "what was left teaches too")
	seven := []mold.Pour{{Off: -9}, {Off: -9}, {}, {}, {}, {}, {}}
	c, n = mold.Learn(seven, 65)
	assert.Equal(t, 1.0, c, "only the last five count")
	assert.Equal(t, 5, n)
}

// Whatever a mold truly holds within 5 % of what was measured, pours that were
// planned with what it has learned so far bring it there.
func TestAMoldThatIsMeasuredWrongComesRight(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		truth := rapid.Float64Range(0.955, 1.045).Draw(t, "truth")
		const fill = 65.0
		var pours []mold.Pour
		for range 8 {
			used, _ := mold.Learn(pours, fill)
			pours = append(pours, mold.Pour{Correction: used, Off: fill * (used/truth - 1)})
		}
		c, _ := mold.Learn(pours, fill)
		require.InDelta(t, truth, c, 1e-6)
	})
}

// The measures of a bar are those of its volume, whatever it comes from.
func TestABarsMeasuresAreThoseOfItsVolume(t *testing.T) {
	for name, one := range map[string]struct {
		mold mold.Mold
		cut  mold.Cut
	}{
		"loaf":     {mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, mold.Cut{Thickness: 25}},
		"slab":     {mold.Mold{Shape: mold.Box, Length: 300, Width: 255, Fill: 40}, mold.Cut{Thickness: 60, Loaves: 3}},
		"cavities": {mold.Mold{Shape: mold.Box, Length: 80, Width: 55, Fill: 25, Cavities: 12}, mold.Cut{}},
		"dividers": {mold.Mold{Shape: mold.Grid, Length: 300, Width: 200, Fill: 30, Rows: 3, Cols: 4, Divider: 3}, mold.Cut{}},
		"halves":   {mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, mold.Cut{Thickness: 25, Halves: true}},
	} {
		a, b, c, ok := one.mold.BarSize(one.cut)
		require.True(t, ok, name)
		assert.InEpsilon(t, one.mold.Cuts(one.cut).Volume, a*b*c/1000, 1e-9, name)
	}
	column := mold.Mold{Shape: mold.Cylinder, Diameter: 70, Fill: 200}
	a, b, c, ok := column.BarSize(mold.Cut{Thickness: 25})
	assert.True(t, ok)
	assert.Equal(t, []float64{70, 70, 25}, []float64{a, b, c})
	_, _, _, ok = mold.Mold{Shape: mold.Water, WaterG: 900}.BarSize(mold.Cut{Bars: 8})
	assert.False(t, ok, "water knows no measures")
}
