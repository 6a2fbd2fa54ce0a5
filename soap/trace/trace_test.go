package trace_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/trace"
)

// ways is a graph in memory. What goes into a place is what it holds, more than that where it is said.
type ways struct {
	edges []trace.Edge
	whole map[trace.Place]int64
}

func (w ways) Next(of []trace.Place, down bool) (out []trace.Edge, err error) {
	for _, e := range w.edges {
		if down && slices.Contains(of, e.From) || !down && slices.Contains(of, e.To) {
			out = append(out, e)
		}
	}
	return out, nil
}

func (w ways) Whole(of []trace.Place) (map[trace.Place]int64, error) {
	out := map[trace.Place]int64{}
	for _, p := range of {
		out[p] = w.whole[p]
	}
	return out, nil
}

func at(kind trace.Kind, id int64) trace.Place { return trace.Place{Kind: kind, ID: id} }

func amounts(found []trace.Found) map[trace.Place]float64 {
	out := map[trace.Place]float64{}
	for _, f := range found {
		out[f.Place] = f.MG
	}
	return out
}

// A tub of 1000 went half into a canister of 1000, of which lot 1 drew 400 and lot 2 drew 100; lot 1 took 300 of the
// tub besides, weighs 2000, and 500 of it went as scraps into lot 3.
func TestATubIsFollowedThroughCanisterAndScraps(t *testing.T) {
	tub, canister, other := at(trace.Delivery, 1), at(trace.Stock, 1), at(trace.Delivery, 2)
	first, second, third := at(trace.Lot, 1), at(trace.Lot, 2), at(trace.Lot, 3)
	w := ways{[]trace.Edge{
		{From: tub, To: canister, MG: 500}, {From: other, To: canister, MG: 500}, {From: tub, To: first, MG: 300},
		{From: canister, To: first, MG: 400}, {From: canister, To: second, MG: 100}, {From: first, To: third, MG: 500},
	}, map[trace.Place]int64{tub: 1000, other: 500, canister: 1000, first: 2000, second: 900, third: 1500}}

	found, along, err := trace.Walk(w, []trace.Place{tub}, true)
	require.NoError(t, err)
	assert.Len(t, along, 5)
	got := amounts(found)
	assert.InDelta(t, 500, got[canister], 1e-9)
	assert.InDelta(t, 300+200, got[first], 1e-9, "by itself, and half of what came by the canister")
	assert.InDelta(t, 50, got[second], 1e-9)
	assert.InDelta(t, 125, got[third], 1e-9, "a quarter of the lot")
	i := slices.IndexFunc(found, func(f trace.Found) bool { return f.Place == first })
	assert.Equal(t, []trace.Place{tub, canister}, found[i].Via)

	back, _, err := trace.Walk(w, []trace.Place{third}, false)
	require.NoError(t, err)
	in := amounts(back)
	assert.InDelta(t, got[third], in[tub], 1e-9, "both ways say the same")
	assert.InDelta(t, 50, in[other], 1e-9)
}

func TestWhatWentIntoItselfIsAFault(t *testing.T) {
	a, b := at(trace.Lot, 1), at(trace.Lot, 2)
	w := ways{[]trace.Edge{{From: a, To: b, MG: 1}, {From: b, To: a, MG: 1}}, map[trace.Place]int64{a: 1, b: 1}}
	_, _, err := trace.Walk(w, []trace.Place{a}, true)
	require.ErrorIs(t, err, trace.ErrRound)
}

// On any ways that only go on: of a tub never more is found in the ends than was in it, and what one way says of a
// place the other says of the tub.
func TestNothingIsFoundThatWasNotThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 9).Draw(t, "places")
		places := make([]trace.Place, n)
		for i := range places {
			places[i] = at(trace.Lot, int64(i+1))
		}
		w := ways{whole: map[trace.Place]int64{}}
		in, out := make([]int64, n), make([]int64, n)
		for i := range n {
			w.whole[places[i]] = in[i] + rapid.Int64Range(1, 1000).Draw(t, "besides")
			for j := i + 1; j < n; j++ {
				left := w.whole[places[i]] - out[i]
				if !rapid.Bool().Draw(t, "goes on") || left == 0 {
					continue
				}
				mg := rapid.Int64Range(1, left).Draw(t, "mg")
				out[i], in[j] = out[i]+mg, in[j]+mg
				w.edges = append(w.edges, trace.Edge{From: places[i], To: places[j], MG: mg})
			}
		}
		found, _, err := trace.Walk(w, places[:1], true)
		if err != nil {
			t.Fatal(err)
		}
		stays := float64(w.whole[places[0]] - out[0])
		for _, f := range found {
			stays += f.MG * (1 - float64(out[f.ID-1])/float64(w.whole[f.Place]))
			back, _, err := trace.Walk(w, []trace.Place{f.Place}, false)
			if err != nil {
				t.Fatal(err)
			}
			if got := amounts(back)[places[0]]; got < f.MG-1e-6 || got > f.MG+1e-6 {
				t.Fatalf("%v: %v down, %v up", f.Place, f.MG, got)
			}
		}
		if whole := float64(w.whole[places[0]]); stays < whole-1e-6 || stays > whole+1e-6 {
			t.Fatalf("of %v there is %v", whole, stays)
		}
	})
}
