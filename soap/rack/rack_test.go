package rack_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/rack"
)

// A level of a metre, two bars deep: 25 mm bars with 8 mm of air make 30 side by
// side, 60 on the level, 300 on five levels.
func TestALevelHoldsWhatItsWidthAndDepthAllow(t *testing.T) {
	r := rack.Rack{Levels: 5, WidthMM: 1000, Deep: 2}
	require.NoError(t, r.Check().Err())
	assert.Equal(t, 300, r.Holds())
	assert.InDelta(t, 10*33, r.Width(rack.Lot{Bars: 20}), 1e-9)
	assert.InDelta(t, 11*33, r.Width(rack.Lot{Bars: 21}), 1e-9, "a bar over takes a place")
	assert.InDelta(t, 10*38, r.Width(rack.Lot{Bars: 20, ThickMM: 30}), 1e-9)
	for _, bad := range []rack.Rack{{Levels: 0, WidthMM: 900, Deep: 1}, {Levels: 4, WidthMM: 10, Deep: 1},
		{Levels: 4, WidthMM: 900}, {Levels: 4, WidthMM: 900, Deep: 1, For: "fish"}} {
		assert.Error(t, bad.Check().Err())
	}
}

// A closed box keeps the scent of released soap, bar against bar; what still dries stays in the open, and
// nothing goes into a box by itself.
func TestAClosedBoxTakesReleasedSoapBarAgainstBar(t *testing.T) {
	r := room()
	r.Racks["box"] = rack.Rack{Levels: 1, WidthMM: 500, Deep: 2, For: rack.Closed}
	in := rack.Spot{Rack: "box"}
	lot := rack.Lot{ID: "1", Bars: 40, Scented: true}
	assert.Contains(t, r.Refuses(lot, in), "not released yet needs air")
	lot.Groups = []rack.Group{rack.Released}
	assert.Empty(t, r.Refuses(lot, in), "20 bars of 25 mm side by side are half a metre")
	assert.Equal(t, 40, r.Racks["box"].Holds())
	lot.Bars++
	assert.Contains(t, r.Refuses(lot, in), "mm are free")
	r.Racks = map[string]rack.Rack{"box": r.Racks["box"]}
	lot.Bars = 4
	_, _, ok := r.Best(lot)
	assert.False(t, ok)
}

func room() rack.Room {
	return rack.Room{
		Racks: map[string]rack.Rack{
			"a": {Levels: 5, WidthMM: 600, Deep: 2},
			"b": {Levels: 3, WidthMM: 600, Deep: 2, For: rack.Scented},
		},
		Standing: map[rack.Spot][]rack.Lot{},
		Apart:    rack.Usual(),
	}
}

func TestWhatLeavesSoonStandsAtHandAndWhatStaysOutOfTheWay(t *testing.T) {
	r := room()
	soon, why, ok := r.Best(rack.Lot{ID: "1", Bars: 20, Days: 28})
	require.True(t, ok)
	assert.Equal(t, rack.Spot{Rack: "a", Level: 2}, soon, "the middle one")
	assert.NotEmpty(t, why)
	stays, _, _ := r.Best(rack.Lot{ID: "2", Bars: 20, Days: 300})
	assert.Contains(t, []int{0, 4}, stays.Level)
}

func TestScentedLotsStandApart(t *testing.T) {
	r := room()
	plain, scented := rack.Lot{ID: "1", Bars: 6, Days: 28}, rack.Lot{ID: "2", Bars: 6, Days: 28, Scented: true}
	r.Standing[rack.Spot{Rack: "a", Level: 2}] = []rack.Lot{plain}
	assert.Contains(t, r.Refuses(scented, rack.Spot{Rack: "a", Level: 2}), "scented lots and unscented lots do not stand on one level")
	assert.Contains(t, r.Refuses(plain, rack.Spot{Rack: "b", Level: 1}), "scented soap only")
	assert.Empty(t, r.Refuses(scented, rack.Spot{Rack: "b", Level: 1}))
	assert.Contains(t, r.Refuses(scented, rack.Spot{Rack: "a", Level: 9}), "5 levels")
	assert.Contains(t, r.Refuses(scented, rack.Spot{Rack: "c"}), "no such rack")
	assert.Contains(t, r.Refuses(rack.Lot{ID: "3", Bars: 200}, rack.Spot{Rack: "a", Level: 0}), "mm are free")
	assert.Empty(t, r.Refuses(plain, rack.Spot{Rack: "a", Level: 2}), "a lot does not stand in its own way")
}

// Whatever comes, what is put on its best place fits there and stands apart.
func TestTheBestPlaceAlwaysFits(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := room()
		for i := range rapid.IntRange(1, 60).Draw(t, "lots") {
			l := rack.Lot{
				ID:      fmt.Sprint(i),
				Bars:    rapid.IntRange(1, 40).Draw(t, "bars"),
				Scented: rapid.Bool().Draw(t, "scented"),
				Days:    rapid.IntRange(1, 300).Draw(t, "days"),
			}
			at, _, ok := r.Best(l)
			if !ok {
				for id, k := range r.Racks {
					for level := range k.Levels {
						require.NotEmpty(t, r.Refuses(l, rack.Spot{Rack: id, Level: level}), "nowhere means nowhere")
					}
				}
				continue
			}
			require.Empty(t, r.Refuses(l, at))
			r.Standing[at] = append(r.Standing[at], l)
			require.GreaterOrEqual(t, r.Left(at, ""), -1e-9)
			for _, other := range r.Standing[at] {
				require.Equal(t, l.Scented, other.Scented)
			}
		}
	})
}

func TestTheOwnerSaysWhatMustNotStandBesideWhat(t *testing.T) {
	salt, young := rack.Lot{
		ID:     "1",
		Code:   "6-Y",
		Bars:   6,
		Groups: []rack.Group{rack.Salty},
	}, rack.Lot{
		ID:     "2",
		Code:   "9-L",
		Bars:   6,
		Groups: []rack.Group{rack.Young},
	}
	r := room()
	low, high := rack.Spot{Rack: "a", Level: 0}, rack.Spot{Rack: "a", Level: 4}
	r.Standing[low] = []rack.Lot{salt}
	assert.Empty(t, r.Refuses(young, low), "no rule says so")

	r.Apart = []rack.Apart{{A: rack.Young, B: rack.Salty, Within: rack.OnLevel}}
	require.NoError(t, rack.CheckRules(r.Apart).Err())
	assert.Equal(
		t,
		"lots of the first two weeks and salt bars do not stand on one level, and lot 6-Y stands there",
		r.Refuses(young, low),
	)
	assert.Empty(t, r.Refuses(young, high))
	assert.Empty(t, r.Refuses(salt, low), "a lot is not in its own way")
	r.Apart[0].Within = rack.OnRack
	assert.NotEmpty(t, r.Refuses(young, high), "the whole rack")
	at, _, ok := r.Best(rack.Lot{ID: "3", Bars: 2, Scented: true, Groups: young.Groups})
	require.True(t, ok)
	assert.Equal(t, "b", at.Rack, "the best place keeps to the rules")

	// A rule that comes later moves nothing, but is told of.
	r.Standing[high] = []rack.Lot{young}
	assert.Empty(t, r.Fits(young, high))
	broken := r.Broken()
	require.Len(t, broken, 1)
	assert.Equal(t, []string{"9-L", "6-Y"}, []string{broken[0].One.Code, broken[0].Other.Code})
	r.Apart = nil
	assert.Empty(t, r.Broken())
	for _, bad := range []rack.Apart{{A: "fish", B: rack.Young, Within: rack.OnLevel},
		{A: rack.Young, B: rack.Young, Within: rack.OnLevel}, {A: rack.Young, Within: rack.OnRack},
		{A: rack.Young, B: rack.Olive, Within: "house"}} {
		assert.Error(t, rack.CheckRules([]rack.Apart{bad}).Err(), bad)
	}
}
