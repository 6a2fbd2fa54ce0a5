package draw_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
)

func TestAJugShowsItsLevelAndItsMarginToCrystals(t *testing.T) {
	level := func(share float64) float64 {
		wet := of(draw.OfJug(draw.JugInput{Level: share, Text: "1 kg", C: 20, CrystalC: 12, Lye: true}).Picture, "rect", "wet")
		if len(wet) == 0 {
			return 0
		}
		return wet[0].H
	}
	assert.InDelta(t, level(1)/2, level(0.5), 1e-9)
	assert.Zero(t, level(0))
	assert.InDelta(t, level(1), level(1.7), 1e-9, "never over the brim")
	warm := draw.OfJug(draw.JugInput{Level: 0.5, Text: "1 kg", C: 25, CrystalC: 12, Lye: true})
	cold := draw.OfJug(draw.JugInput{Level: 0.5, Text: "1 kg", C: 10, CrystalC: 12, Lye: true})
	mark := func(j draw.Jug) float64 { return of(j.Picture, "line", "ln-mark")[0].Y }
	frozen := of(warm.Picture, "rect", "damp")[0].Y
	assert.Less(t, mark(warm), frozen, "above the crystal point")
	assert.Greater(t, mark(cold), frozen, "below it")
	assert.Contains(t, warm.Title, "crystals form from 12 °C")
	assert.Empty(t, of(draw.OfJug(draw.JugInput{Level: 0.5, Text: "1 kg"}).Picture, "line", "ln-mark"), "fats have no crystals to fear")
	assert.Len(t, of(draw.OfJug(draw.JugInput{Text: "1 kg", Stopped: true}).Picture, "path", "stop"), 1)
}

func TestTheLyeComesDownTheHeatDrawing(t *testing.T) {
	fats := lye.Cooling{StartC: 55, RoomC: 20, Tau: 36}
	in := draw.HeatInput{
		Lye:      lye.Cooling{StartC: 92, RoomC: 20, Tau: 60},
		Fats:     &fats,
		Low:      30,
		High:     43,
		Meet:     70,
		Readings: []lye.Reading{{Minutes: 0, C: 92}, {Minutes: 10, C: 80}},
	}
	p := draw.OfHeat(in)
	assert.Len(t, of(p, "path", "ln curve-lye"), 1)
	assert.Len(t, of(p, "path", "ln-dash"), 1, "the fats beside it")
	assert.Len(t, of(p, "circle", "dot"), 2)
	band := of(p, "rect", "batter")[0]
	dots := of(p, "circle", "dot")
	assert.Less(t, dots[0].Y, dots[1].Y, "hotter is higher")
	assert.Less(t, dots[1].Y, band.Y, "80 °C is above the working range")
	assert.Contains(t, p.Title, "ready together after 70 minutes")
	for _, meet := range []float64{5, 40, 60, 70, 100, 150} {
		in.Meet = meet
		p := draw.OfHeat(in)
		line := of(p, "line", "ln-mark")[0]
		for _, s := range p.Shapes {
			if strings.HasPrefix(s.Text, "working range") {
				assert.False(t, s.X-170 < line.X && line.X < s.X, "the moment, minute %v, never strikes the words out", meet)
			}
		}
	}
	sides := map[unit.System][]string{
		unit.Metric: {"20 °C", "40 °C", "60 °C", "80 °C"},
		unit.US:     {"40 °F", "80 °F", "120 °F", "160 °F", "200 °F"},
	}
	for in.Units = range sides {
		var side []string
		for _, s := range draw.OfHeat(in).Shapes {
			if s.Anchor == "end" && strings.Contains(s.Text, "°") && !strings.HasPrefix(s.Text, "working") {
				side = append(side, s.Text)
			}
		}
		assert.Equal(t, sides[in.Units], side, "round figures of the shop's own degrees")
	}
	in.Meet, in.Fats = math.NaN(), nil
	p = draw.OfHeat(in)
	assert.Empty(t, of(p, "line", "ln-mark"))
	for _, s := range p.Shapes {
		assert.False(t, math.IsNaN(s.X) || math.IsNaN(s.Y), "%+v", s)
	}
	in.Lye.RoomC = 40 // never down to the range
	assert.NotContains(t, of(draw.OfHeat(in), "path", "ln curve-lye")[0].D, "NaN")
}

// A code of 26 letters behind an address fits, and every dark square lies
// within the quiet margin.
func TestAQRCodeKeepsItsQuietMargin(t *testing.T) {
	p, err := draw.OfQR("http://192.0.2.7:8420/lye/abcdefghijklmnopqrstuvwxyz")
	require.NoError(t, err)
	ink := of(p, "path", "qr-ink")[0].D
	assert.Greater(t, strings.Count(ink, "h1v1h-1z"), 200)
	assert.NotContains(t, ink, "M3 ")
	assert.Equal(t, p.W, of(p, "rect", "qr-paper")[0].W)
	_, err = draw.OfQR(strings.Repeat("x", 9000))
	assert.Error(t, err)
	assert.NotEmpty(t, draw.Corrosive().Title)
}

// Layers have the height of their share; a swirl makes waves of those before it.
func TestADesignStandsInTheMoldAsItIsPoured(t *testing.T) {
	f := recipe.Formula{
		Portions: []recipe.Portion{{Name: "indigo", Percent: 60, Tone: "indigo"}, {Name: "white", Percent: 40, Tone: "white"}},
		Design: []recipe.Step{
			{Do: recipe.Layer, Portion: "indigo"},
			{Do: recipe.Layer, Portion: "white", Percent: 75},
			{Do: recipe.Dividers},
			{Do: recipe.Drizzle, Portion: "white"},
			{Do: recipe.Sprinkle},
		},
	}
	p := draw.OfDesign(f)
	assert.Len(t, of(p, "path", "tone tone-indigo"), 1)
	assert.Len(t, of(p, "path", "drizzle drizzle-white"), 1)
	assert.Len(t, of(p, "line", "ln-dash"), 5, "dividers")
	assert.NotEmpty(t, of(p, "circle", "dot"), "what is sprinkled on top")
	labels := ""
	for _, s := range of(p, "text", "") {
		labels += s.Text + ";"
		assert.GreaterOrEqual(t, s.Size, 16.0, "it reads on paper")
	}
	assert.Equal(t, "indigo 60 %;white 30 %;", labels)
	flat := of(p, "path", "tone tone-indigo")[0].D
	f.Design = append(f.Design[:2:2], append([]recipe.Step{{Do: recipe.Swirl}}, f.Design[2:]...)...)
	assert.NotEqual(t, flat, of(draw.OfDesign(f), "path", "tone tone-indigo")[0].D)
	f.Design = nil
	assert.Len(t, of(draw.OfDesign(f), "text", ""), 2, "without steps the portions are poured one after the other")
}
