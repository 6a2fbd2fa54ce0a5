package draw_test

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/shop/document"
	"ashshelf/soap/cure"
	"ashshelf/soap/dry"
	"ashshelf/soap/fat"
	"ashshelf/soap/learn"
	"ashshelf/soap/mold"
	"ashshelf/soap/run"
	"ashshelf/web/draw"
)

func of(p draw.Picture, kind, class string) []draw.Shape {
	var out []draw.Shape
	for _, s := range p.Shapes {
		if s.Kind == kind && s.Class == class {
			out = append(out, s)
		}
	}
	return out
}

func TestABlendIsSawnInProportionSolidFatsFirst(t *testing.T) {
	olive, _ := fat.BySlug("olive-oil")
	tallow, _ := fat.BySlug("beef-tallow")
	b := draw.OfBlend(fat.Blend{{Fat: olive, Percent: 75}, {Fat: tallow, Percent: 25}})
	require.Len(t, b.Shapes, 2)
	assert.Equal(t, "share share-solid", b.Shapes[0].Class)
	assert.InDelta(t, b.W/4, b.Shapes[0].W, 1e-9)
	assert.InDelta(t, b.Shapes[0].W, b.Shapes[1].X, 1e-9)
	assert.Contains(t, b.Title, "25 % solid")
}

func TestACavityIsDrawnAsWhatItIsWithinItsOwnPlace(t *testing.T) {
	for _, o := range mold.Outlines()[1:] {
		p := draw.OfMold(mold.Mold{Shape: mold.Water, WaterG: 84, Cavities: 6, Outline: o}, mold.Bars{}, 0)
		edges := of(p.Picture, "path", "batter")
		require.Len(t, edges, 6, "one for each cavity that is a %s", o)
		assert.Empty(t, of(p.Picture, "rect", "batter"), "a %s is no square", o)
		assert.NotContains(t, p.Title, "not known")
		assert.True(t, strings.HasPrefix(edges[0].D, "M") && strings.HasSuffix(edges[0].D, "Z"))
		for _, n := range strings.FieldsFunc(edges[0].D, func(r rune) bool { return strings.ContainsRune("MCZ ", r) }) {
			v, err := strconv.ParseFloat(n, 64)
			require.NoError(t, err)
			assert.True(t, v >= 0 && v <= max(p.W, p.H), "%s: %v", o, v)
		}
	}
}

func TestAMoldKeepsItsProportionsAndStaysOnItsCanvas(t *testing.T) {
	for _, m := range []mold.Mold{
		{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, {Shape: mold.Box, Length: 60, Width: 400, Fill: 300},
		{Shape: mold.Cylinder, Diameter: 76, Fill: 230}, {Shape: mold.Water, WaterG: 112, Cavities: 12}, {Shape: mold.Water,
			WaterG: 1500},
		{Shape: mold.Box, Length: 250, Width: 80, Fill: 65, Height: 90}, {Shape: mold.Grid, Length: 300, Width: 200, Fill: 40,
			Rows: 3, Cols: 5, Divider: 3},
		{Shape: mold.Cylinder, Diameter: 70, Fill: 50, Cavities: 6}, {Shape: mold.Box, Length: 80, Width: 55, Fill: 30, Cavities: 9},
	} {
		d := draw.OfMold(m, m.Cuts(mold.Cut{Thickness: 24, Trim: 4}), 0)
		soap := append(of(d.Picture, "rect", "batter"), of(d.Picture, "circle", "batter")...)
		require.NotEmpty(t, soap)
		for _, s := range d.Shapes {
			assert.True(t, s.X >= 0 && s.X+s.W <= d.W && s.Y+s.H <= d.H+1e-9, "%v: %+v on %v × %v", m, s, d.W, d.H)
		}
		if m.Shape == mold.Box && m.Cavities < 2 {
			assert.InDelta(t, m.Length/m.Fill, soap[0].W/soap[0].H, 1e-9, "front")
			assert.InDelta(t, m.Length/m.Width, soap[1].W/soap[1].H, 1e-9, "from above")
		}
	}
	loaf, slab := mold.Mold{
		Shape:  mold.Box,
		Length: 250,
		Width:  80,
		Fill:   65,
	}, mold.Mold{
		Shape:  mold.Box,
		Length: 390,
		Width:  270,
		Fill:   30,
	}
	scale := draw.CommonScale([]mold.Mold{loaf, slab})
	a, b := draw.OfMold(loaf, mold.Bars{}, scale), draw.OfMold(slab, mold.Bars{}, scale)
	assert.InDelta(t, 250.0/390, of(a.Picture, "rect", "batter")[0].W/of(b.Picture, "rect", "batter")[0].W, 1e-9, "one scale for all")
}

func TestCutsAreDrawnWhereTheKnifeGoes(t *testing.T) {
	loaf := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}
	cut := loaf.Cuts(mold.Cut{Thickness: 24, Trim: 5, Loaves: 2}) // 10 slices, marks at 5, 29 … 245, in two loaves
	d := draw.OfMold(loaf, cut, 1)
	var marks []float64
	across := 0
	left := of(d.Picture, "rect", "batter")[0].X
	for _, s := range of(d.Picture, "line", "ln-dash") {
		if s.X == s.X2 {
			marks = append(marks, s.X-left)
		} else {
			across++
		}
	}
	assert.Equal(t, 1, across, "the slab is split once")
	assert.InDelta(t, 5, marks[0], 1e-9)
	assert.Len(t, marks, 2*len(cut.Marks), "in front and from above")
	assert.Len(t, of(d.Picture, "rect", "damp"), 2, "both trimmed ends are shown")
}

func TestTheBeakerRisesToItsMark(t *testing.T) {
	level := func(actual float64) float64 {
		p := draw.OfFill(500, 2.5, actual).Picture
		for _, class := range []string{"wet", "fill-in", "fill-over"} {
			if wet := of(p, "rect", class); len(wet) > 0 {
				return wet[0].Y
			}
		}
		return 1e9
	}
	mark := of(draw.OfFill(500, 2.5, 0).Picture, "line", "ln-mark")[0].Y
	assert.InDelta(t, mark, level(500), 1e-9)
	assert.Greater(t, level(250), mark)
	assert.Less(t, level(550), mark)
	assert.GreaterOrEqual(t, level(5000), 0.0, "it never rises off the canvas")
	assert.LessOrEqual(t, level(-20), 1e9, "what is taken out of an empty cup is not drawn below its floor")
	under, in, over := draw.OfFill(500, 2.5, 400), draw.OfFill(500, 2.5, 501), draw.OfFill(500, 2.5, 510)
	assert.NotEmpty(t, of(in.Picture, "path", "sign-in"), "a tick when it is in")
	assert.Empty(t, of(over.Picture, "path", "sign-in"))
	assert.Len(t, of(over.Picture, "path", "dot"), 2, "an arrow up when it is over, beside the one at the mark")
	assert.Contains(t, under.Title, "still under")
	assert.Contains(t, over.Title, "over")
}

// The bench shows how far a run is: what is done stands full, the stage at hand is marked once.
func TestTheBenchFillsAsTheRunGoesOn(t *testing.T) {
	stages := []draw.BenchStage{{Name: run.Ready, Done: 2, All: 4}, {Name: run.LyeStage, Done: 3, All: 3},
		{Name: run.FatStage, Done: 1, All: 4, Current: true},
		{Name: run.AtHand, All: 2}, {Name: run.Together, All: 5}, {Name: run.IntoMold, All: 2}, {Name: run.AfterStage, All: 3}}
	p := draw.OfBench(stages)
	assert.Equal(t, "Fats: 1 of 4 done; 6 of 23 steps done", p.Title)
	assert.Len(t, of(p, "circle", "damp-lens"), 1, "one lens of two")
	jug, pot := of(p, "rect", "wet"), of(p, "rect", "batter")
	require.Len(t, jug, 1)
	assert.Greater(t, jug[0].H, 3*pot[0].H, "the jug is full, the pot a quarter")
	marks := of(p, "rect", "found")
	require.Len(t, marks, 1)
	assert.InDelta(t, 2.5*p.W/7, marks[0].X+marks[0].W/2, 0.5)
	for _, s := range p.Shapes {
		if s.Kind == "rect" {
			assert.True(t, s.X >= 0 && s.X+s.W <= p.W && s.Y >= 0 && s.Y+s.H <= p.H, "%+v", s)
		}
	}
	assert.NotEmpty(t, draw.OfBench(nil).Title)
}

func TestTheForecastIsDrawnBesideTheWeighings(t *testing.T) {
	start := time.Date(2026, 1, 1, 9, 0, 0, 0, time.UTC)
	f := cure.Facts{Poured: start, Now: start.AddDate(0, 0, 20), Policy: cure.Policies()[0]}
	for i, g := range []float64{120, 114, 110} {
		f.Samples = append(f.Samples, cure.Sample{At: start.AddDate(0, 0, 1+7*i), Grams: g})
	}
	forecast := f.DryingCase().Foretell(dry.Any())
	d := draw.OfDrying(f, &forecast)
	assert.Len(t, of(d.Picture, "path", "ln-dash"), 1)
	band := of(d.Picture, "rect", "band-settled")
	require.Len(t, band, 1)
	assert.GreaterOrEqual(t, band[0].W, 2.0)
	assert.LessOrEqual(t, band[0].X+band[0].W, d.W)
}

func TestTheDryingCurveFallsWithTheWeight(t *testing.T) {
	start := time.Date(2026, 1, 1, 9, 0, 0, 0, time.UTC)
	policy, _ := cure.PolicyByCode("four")
	f := cure.Facts{Poured: start, Now: start.AddDate(0, 0, 30), Policy: policy}
	assert.Contains(t, draw.OfDrying(f, nil).Title, "No weighing")
	for day, g := range map[int]float64{2: 118} {
		f.Samples = append(f.Samples, cure.Sample{At: start.AddDate(0, 0, day), Grams: g})
	}
	f.Samples = append(
		f.Samples,
		cure.Sample{At: start.AddDate(0, 0, 9), Grams: 108},
		cure.Sample{At: start.AddDate(0, 0, 30), Grams: 60},
	)
	d := draw.OfDrying(f, nil)
	dots := of(d.Picture, "circle", "dot")
	require.Len(t, dots, 3)
	for i := 1; i < 3; i++ {
		assert.Greater(t, dots[i].X, dots[i-1].X)
		assert.Greater(t, dots[i].Y, dots[i-1].Y, "lighter is lower")
	}
	for _, s := range dots {
		assert.True(t, s.X <= d.W && s.Y <= d.H && s.Y >= 0, "%+v", s)
	}
}

func TestPotsAreDrawnWithTheMoldsTheyFill(t *testing.T) {
	var pots []draw.SplitPot
	for i := range 11 {
		pots = append(
			pots,
			draw.SplitPot{
				Name:  fmt.Sprint("Pot ", i+1),
				Load:  "2000 g",
				Full:  0.5,
				Molds: []draw.SplitMold{{Name: "Loaf", Count: 2.5}, {Name: "A tray with quite a long name to it", Count: 9}},
			},
		)
	}
	p := draw.OfSplit(pots)
	text := ""
	for _, s := range of(p, "text", "") {
		text += s.Text + "\n"
	}
	assert.Contains(t, text, "2.5 × Loaf")
	assert.Contains(t, of(p, "text", "soft")[8].Text, "3 more pots")
	boxes := of(p, "rect", "soap")
	assert.Len(t, boxes, 8*(3+6), "part filled molds are drawn, and many are counted")
	for _, s := range p.Shapes {
		assert.LessOrEqual(t, s.Y+s.H, p.H)
	}
	part := of(p, "rect", "batter")[3] // the third loaf of the first pot
	assert.InDelta(t, boxes[2].H/2, part.H, 1e-9)
}

func TestVesselsStandInOneScaleFilledAsFarAsTheyMayBe(t *testing.T) {
	big := draw.OfTool(document.ToolBody{Kind: document.Pot, ML: 8000}, 8000)
	small := draw.OfTool(document.ToolBody{Kind: document.Jug, ML: 1000}, 8000)
	pot, jug := of(big, "rect", "batter"), of(small, "rect", "wet")
	require.Len(t, pot, 1)
	require.Len(t, jug, 1)
	assert.InDelta(t, 2, (pot[0].W+2)/(jug[0].W+2), 1e-9, "an eighth of the volume is half as wide")
	assert.InDelta(t, 0.75, pot[0].H/(104-2), 1e-9, "a quarter stays empty")
	cutter := draw.OfTool(document.ToolBody{Kind: document.Cutter, Wires: 5, Spacing: 20}, 8000)
	wires := of(cutter, "line", "ln")
	require.Len(t, wires, 5)
	assert.InDelta(t, wires[1].X-wires[0].X, wires[4].X-wires[3].X, 1e-9)
}

// A figure's strip shows its range around what to expect, and the table where it is.
func TestAFigureStandsInItsRangeBesideTheTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		low := rapid.Float64Range(0.01, 500).Draw(t, "low")
		f := learn.Figure{Low: low, Mid: low * rapid.Float64Range(1, 3).Draw(t, "mid")}
		f.High = f.Mid * rapid.Float64Range(1, 3).Draw(t, "high")
		f.Table = low * rapid.Float64Range(0.2, 9).Draw(t, "table")
		p := draw.OfFigure(f, "x")
		bar, mark, table := of(p, "rect", "wet")[0], of(p, "line", "ln-mark")[0], of(p, "circle", "ln")[0]
		if mark.X < bar.X-1e-6 || mark.X > bar.X+bar.W+1e-6 {
			t.Fatalf("the mark at %v is outside of %v to %v", mark.X, bar.X, bar.X+bar.W)
		}
		if (table.X < mark.X-1e-6) != (f.Table < f.Mid-1e-9) && math.Abs(f.Table-f.Mid) > 1e-3*f.Mid {
			t.Fatalf("the table is on the wrong side")
		}
		for _, x := range []float64{bar.X, bar.X + bar.W, table.X} {
			if x < 0 || x > p.W {
				t.Fatalf("%v is outside", x)
			}
		}
	})
}
