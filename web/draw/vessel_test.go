package draw

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func shapesOf(p Picture, class string) (out []Shape) {
	for _, s := range p.Shapes {
		if s.Class == class {
			out = append(out, s)
		}
	}
	return out
}

func TestAVesselShowsWhatIsThereWhatIsPromisedAndWhatIsKeptBack(t *testing.T) {
	p := OfVessel(VesselInput{Form: Canister, Holds: 20, Largest: 20, Have: 10, Kept: 5, Reserved: 4})
	have, kept := shapesOf(p, "batter"), shapesOf(p, "kept-back")
	require.Len(t, have, 1)
	require.Len(t, kept, 1)
	assert.InDelta(t, (vesselTall-2*vesselGap)/2, have[0].H, 1e-9, "half full")
	assert.InDelta(t, have[0].H/2, kept[0].H, 1e-9)
	assert.InDelta(t, have[0].Y, kept[0].Y+kept[0].H, 1e-9, "what may not be used stands above it")
	for _, l := range shapesOf(p, "ln-hatch") {
		assert.GreaterOrEqual(t, min(l.Y, l.Y2), have[0].Y-1e-9)
		assert.LessOrEqual(t, max(l.Y, l.Y2), have[0].Y+have[0].H*0.4+1e-9, "four of the ten are promised")
	}
	assert.NotEmpty(t, shapesOf(p, "ln-hatch"))
	assert.Empty(t, shapesOf(OfVessel(VesselInput{Form: Jar, Holds: 1, Largest: 1, Have: 1}), "ln-hatch"))
	assert.NotEmpty(t, shapesOf(OfVessel(VesselInput{Form: Jar, Holds: 1, Largest: 1, Have: 1, Mark: NearDate}), "flag-near"))
	assert.NotEmpty(t, shapesOf(OfVessel(VesselInput{Form: Jar, Holds: 1, Largest: 1, Have: 1, Mark: PastDate}), "stop"))
}

// Whatever stands in the store, nothing is drawn beyond the picture, and no level beyond its vessel.
func TestNoVesselIsDrawnBeyondItsPicture(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		amount := func(name string) float64 { return rapid.Float64Range(0, 50).Draw(t, name) }
		in := VesselInput{
			Form:  rapid.SampledFrom([]VesselForm{Canister, Block, Tub, Flagon, Jar, Bottle, Carton}).Draw(t, "form"),
			Holds: amount("holds"), Largest: amount("largest"), Have: amount("have"), Kept: amount("kept"),
			Reserved: amount("reserved"), Mark: rapid.SampledFrom([]string{"", NearDate, PastDate}).Draw(t, "mark"),
		}
		in.Largest = max(in.Largest, in.Holds)
		for _, s := range OfVessel(in).Shapes {
			if s.Kind == "path" {
				continue
			}
			require.GreaterOrEqual(t, min(s.X, s.X+s.W), 0.0)
			require.LessOrEqual(t, max(s.X+s.W, s.X2), vesselW)
			require.GreaterOrEqual(t, min(s.Y, s.Y+s.H), 0.0)
			require.LessOrEqual(t, max(s.Y+s.H, s.Y2), vesselH)
		}
	})
}

func TestCostsAreBarsInOneScaleAndWhatIsNotKnownHasAnOpenEnd(t *testing.T) {
	p := OfCosts([]CostLine{
		{Name: "Olive oil", Minor: 800, Text: "8.00"}, {Name: "Coconut oil", Minor: 200, Text: "2.00"},
		{Name: "Salt", Text: "not known", Unknown: true},
	})
	bars := shapesOf(p, "wood")
	require.Len(t, bars, 2)
	assert.InDelta(t, 4, bars[0].W/bars[1].W, 1e-9)
	assert.Len(t, shapesOf(p, "ln-dash"), 1)
	for _, b := range bars {
		assert.LessOrEqual(t, b.X+b.W, costW-costText+1e-9)
	}
}

func TestAPriceThatRisesIsAddedToTheBarAndOneThatFallsLeavesItsPlaceEmpty(t *testing.T) {
	p := OfRise([]RiseLine{
		{Name: "Quern base", Before: 80, After: 98}, {Name: "Ebb salt bar", Before: 60, After: 40}, {Name: "Soap", Before: 50, After: 50},
	})
	boards, more := shapesOf(p, "wood"), shapesOf(p, "batter")
	require.Len(t, boards, 3)
	require.Len(t, more, 1)
	assert.InDelta(t, 18.0/80, more[0].W/boards[0].W, 1e-9)
	assert.InDelta(t, boards[0].X+boards[0].W, more[0].X, 1e-9)
	assert.Len(t, shapesOf(p, "ln-dash"), 1)
	assert.LessOrEqual(t, more[0].X+more[0].W, costW-costText+1e-9)
}
