package draw_test

import (
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
)

// drying is a lot halfway through four weeks.
func drying(code string, bars int) draw.RackInput {
	policy, _ := cure.PolicyByCode("four")
	l := &lot.Lot{
		OID:     code,
		Code:    code,
		Frozen:  lot.Frozen{Recipe: "A name that is far too long for the tag of one lot", Policy: policy},
		Balance: map[ledger.Kind]int{ledger.Of(ledger.First): bars},
		Pour:    &lot.Pour{},
		Cut:     &lot.Cut{},
	}
	return draw.RackInput{Lot: l, Gate: &cure.Gate{DaysLeft: 14}, Stand: rack.Lot{ID: code, Bars: bars}, Tag: "day 14 of 28"}
}

func apart(t *testing.T, r draw.Rack) {
	t.Helper()
	for i, a := range r.Lots {
		for _, s := range a.Shapes {
			if s.Kind == "row" {
				assert.GreaterOrEqual(t, s.X, a.X)
				assert.LessOrEqual(t, s.X+float64(s.N-1)*s.Pitch+s.W, a.X+a.W+1e-9, "lot %d stays in its place", i)
			}
		}
		for _, b := range r.Lots[i+1:] {
			assert.False(t, a.X+1e-9 < b.X+b.W && b.X+1e-9 < a.X+a.W && a.Y < b.Y+b.H && b.Y < a.Y+a.H)
		}
		assert.LessOrEqual(t, a.X+a.W, r.W+1e-9)
		assert.LessOrEqual(t, a.Y+a.H, r.H+1)
	}
}

func rows(l draw.RackLot, class string) (out []draw.Shape) {
	for _, s := range l.Shapes {
		if s.Kind == "row" && s.Class == class {
			out = append(out, s)
		}
	}
	return out
}

func TestLotsWithoutAPlaceStandOnBoardsWithoutOverlap(t *testing.T) {
	var in []draw.RackInput
	for i := range 40 {
		one := drying(lot.Code(i+1), i*3)
		if i%5 == 0 {
			one.Lot.Holds = []lot.Hold{{Held: true, Why: "spots"}}
		}
		in = append(in, one)
	}
	r := draw.OfRack(in)
	require.Len(t, r.Lots, 40)
	apart(t, r)
	assert.Contains(t, r.Lots[0].Words, "on hold")
	damp := rows(r.Lots[1], "damp")
	require.Len(t, damp, 1)
	assert.InDelta(t, 19, damp[0].H, 1, "half its days left, half damp")
	assert.Equal(t, 2, damp[0].N, "three bars stand two deep on two places")
}

// A rack of 900 mm, two bars deep: 20 usual bars take ten places of 33 mm.
func TestARackIsDrawnToScaleFromItsTopLevelDown(t *testing.T) {
	shelf := rack.Rack{Levels: 3, WidthMM: 900, Deep: 2}
	turning := drying("2-K", 20)
	turning.Turn = true
	wanted := drying("3-M", 10)
	wanted.Found = true
	r := draw.OfStand(
		"By the window",
		shelf,
		[][]draw.RackInput{{drying("1-H", 40)}, nil, {turning, wanted, drying("4-S", 2)}},
		unit.Metric,
	)
	require.Len(t, r.Lots, 4)
	apart(t, r)
	at := map[string]draw.RackLot{}
	for _, l := range r.Lots {
		at[l.Code] = l
	}
	assert.Greater(t, at["1-H"].Y, at["2-K"].Y, "the lowest level is drawn lowest")
	assert.Less(t, at["2-K"].X, at["3-M"].X)
	assert.InDelta(t, at["1-H"].W, 2*at["2-K"].W, 1e-9, "twice the bars take twice the room")
	assert.Equal(t, 20, rows(at["1-H"], "damp")[0].N, "what is in front can be counted")
	assert.Len(t, rows(at["1-H"], "soap"), 2, "with those behind")
	assert.Contains(t, at["2-K"].Words, "turn its bars")
	assert.NotContains(t, at["3-M"].Words, "turn its bars")
	assert.True(t, at["3-M"].Found)
	assert.Contains(t, r.Title, "3 levels with 4 lots")
	words := ""
	for _, s := range r.Shapes {
		words += s.Text + "\n"
	}
	assert.Contains(t, words, "level 2 is free")
	assert.Contains(t, words, "240 mm free", "900 - 20 × 33")
}

// Forty small lots on a level want more room than it is drawn wide: it grows, and
// each keeps the room of its tag.
func TestACrowdedLevelGrowsWiderAndItsTagsStayApart(t *testing.T) {
	var level []draw.RackInput
	for i := range 40 {
		level = append(level, drying(lot.Code(i+1), 2))
	}
	r := draw.OfStand("Long", rack.Rack{Levels: 1, WidthMM: 4000, Deep: 1}, [][]draw.RackInput{level}, unit.US)
	apart(t, r)
	assert.Greater(t, r.W, 4000.0)
	// A rack of ten metres is drawn so small that bars are no longer counted.
	r = draw.OfStand("Hall", rack.Rack{Levels: 1, WidthMM: 10000, Deep: 1}, [][]draw.RackInput{{drying("1-H", 250)}}, unit.Metric)
	apart(t, r)
	assert.GreaterOrEqual(t, rows(r.Lots[0], "soap")[0].Pitch, 4.0)
}

func TestADrawingIsWrittenAsSoundXMLWhateverItsWords(t *testing.T) {
	one := drying("1-H", 3)
	one.Lot.OID, one.Lot.Frozen.Recipe, one.Tag = `a"b`, `<b>&"soap"</b>`, `5 > 4 & "so"`
	one.Found = true
	text := draw.OfRack([]draw.RackInput{one}).SVG()
	assert.NotContains(t, text, "<b>")
	d, n := xml.NewDecoder(strings.NewReader("<svg>"+text+"</svg>")), 0
	for {
		token, err := d.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		if s, ok := token.(xml.StartElement); ok {
			n++
			if s.Name.Local == "a" {
				assert.Contains(t, s.Attr, xml.Attr{Name: xml.Name{Local: "href"}, Value: `/lots/a"b`})
			}
		}
	}
	assert.Greater(t, n, 10)
	row := draw.Picture{
		Shapes: []draw.Shape{
			{Kind: "row", X: 1.004, Y: 2, W: 3, H: 4.5, N: 2, Pitch: 10, Class: "soap"},
			{Kind: "line", X: -0.001, Y: -0.05, X2: 12.345, Y2: 5},
		},
	}.SVG()
	assert.Equal(t, `<path class="soap" d="M1 2h3v4.5h-3zm10 0h3v4.5h-3z"/><line x1="0" y1="-0.05" x2="12.35" y2="5"/>`, row)
}
