package draw_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/market"
	"ashshelf/soap/recall"
	"ashshelf/soap/tag"
	"ashshelf/web/draw"
)

func classes(p draw.Picture) map[string]int {
	out := map[string]int{}
	for _, s := range p.Shapes {
		out[s.Kind+" "+s.Class]++
	}
	return out
}

func TestABoardShowsEachBarAsWhatItIs(t *testing.T) {
	p, each := draw.OfBoard([]draw.Heap{
		{Code: "3-M", Reserved: 4, Labelled: 2, Shared: 6, Others: true}, {Code: "8-J", Soon: 5, When: "2 Apr"}, {Code: "9-L", Kept: 3},
	}, "figs")
	assert.Equal(t, 1, each)
	got := classes(p)
	assert.Equal(t, 4+2+6, got["rect soap"])
	assert.Equal(t, 2, got["rect dot"], "a band for each that is labelled")
	assert.Equal(t, 2*4, got["line ln-mark"], "a string for each that is put by")
	assert.Equal(t, 6, got["line ln-dash"])
	assert.Equal(t, 5, got["rect ln-fine"])
	assert.Equal(t, 3, got["rect kept-back"])
	assert.Equal(t, 3, got["line stop"], "crossed out, not only coloured")
	var codes []string
	for _, s := range p.Shapes {
		if s.Kind == "text" {
			codes = append(codes, s.Text)
		}
	}
	assert.Equal(t, []string{"3-M", "8-J 2 Apr", "9-L"}, codes, "the oldest to the left")
}

// However many bars there are, they stand on the board, and one stands for as many as it says.
func TestBarsStandOnTheBoardHoweverManyThereAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		heaps := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) draw.Heap {
			return draw.Heap{Code: "1-H", Shared: rapid.IntRange(0, 300).Draw(t, "shared"), Soon: rapid.IntRange(0, 300).Draw(t, "soon")}
		}), 0, 6).Draw(t, "heaps")
		p, each := draw.OfBoard(heaps, "")
		if each < 1 {
			t.Fatal("none")
		}
		for _, s := range p.Shapes {
			if s.Kind == "rect" && (s.X < 0 || s.X+s.W > p.W+1e-9 || s.Y < 0 || s.Y+s.H > p.H) {
				t.Fatalf("%+v is off a board of %v by %v", s, p.W, p.H)
			}
		}
	})
}

func TestWhereBarsAreIsCutInProportion(t *testing.T) {
	p := draw.OfWhere(recall.Score{Made: 20, House: 10, Unknown: 5, Open: 5})
	assert.Equal(t, "15 of 20 bars are accounted for", p.Title)
	parts := p.Shapes[1:]
	require.Len(t, parts, 3)
	assert.InDelta(t, parts[0].W, parts[1].W+parts[2].W, 1e-9)
	assert.InDelta(t, parts[0].X+parts[0].W, parts[1].X, 1e-9)
	assert.Empty(t, draw.OfWhere(recall.Score{}).Shapes[1:], "nothing of nothing")
}

func TestLabelsLieOnTheirPlacesOfTheSheet(t *testing.T) {
	s := tag.Sheet{PageW: 210, PageH: 297, Left: 10, Top: 8.5, Columns: 2, Rows: 5, W: 95, H: 56}
	lines := []tag.Line{{X: 2, Y: 5, Size: 3.2, Text: "Fig"}, {X: 2, Y: 9, Size: 3.2, Bold: true, Text: "95 g"}}
	p := draw.OfTagSheet(s, lines, 8, 5, "labels")
	require.Len(t, p.Shapes, 2*2, "the last two places of the sheet")
	assert.Equal(t, []float64{210, 297}, []float64{p.W, p.H})
	assert.InDelta(t, 12, p.Shapes[0].X, 1e-9)
	assert.InDelta(t, 8.5+4*56+5, p.Shapes[0].Y, 1e-9)
	assert.InDelta(t, 107, p.Shapes[2].X, 1e-9)
	assert.Equal(t, "tag tag-bold", p.Shapes[3].Class)
	assert.InDelta(t, 3.2, p.Shapes[3].Size, 1e-9)
	assert.Len(t, draw.OfSheet(s).Shapes, 1+10)
}

func TestAnOutcomeShowsEachBarAndWhatWasMissing(t *testing.T) {
	p := draw.OfOutcome(market.Outcome{Name: "Fig", Packed: 12, Sold: 8, Left: 2, Given: 1, Spoiled: 1, Wanted: 13})
	assert.Equal(t, "Fig: 8 of 12 sold, 13 would have been wanted", p.Title)
	got := classes(p)
	assert.Equal(t, 8, got["rect done"])
	assert.Equal(t, 2, got["rect soap"])
	assert.Equal(t, 2, got["rect kept-back"])
	assert.Equal(t, 3, got["rect ln-dash"], "what 8 sold and 2 left do not cover of 13")
	rapid.Check(t, func(t *rapid.T) {
		n := func(what string) int { return rapid.IntRange(0, 400).Draw(t, what) }
		p := draw.OfOutcome(market.Outcome{Sold: n("sold"), Left: n("left"), Given: n("given"), Wanted: n("wanted")})
		for _, s := range p.Shapes {
			if s.Kind == "rect" && (s.X < 0 || s.X+s.W > p.W+1 || s.W <= 0) {
				t.Fatalf("%+v is off a board of %v", s, p.W)
			}
		}
	})
}

func TestWhatWasEarnedIsCutInProportion(t *testing.T) {
	p := draw.OfEarned([]draw.Earned{
		{Name: "Fig", Cost: 300, Fee: 100, Tax: 100, Margin: 500}, {Name: "Salt", Cost: 200, Margin: -50}, {Name: "Old", Unknown: 250},
	}, "what sold")
	beams := map[string]float64{}
	for _, s := range p.Shapes {
		if s.Kind == "rect" {
			beams[s.Class] += s.W
		}
		assert.LessOrEqual(t, s.X+s.W, p.W, "all in one scale")
	}
	assert.InDelta(t, beams["done"], 500*beams["damp"]/100, 1e-9)
	assert.InDelta(t, beams["peg"], beams["damp"], 1e-9)
	assert.InDelta(t, beams["wood"], 5*beams["peg"], 1e-9, "300 of the one and 200 of the other")
	assert.InDelta(t, beams["soap"], 2.5*beams["peg"], 1e-9)
	assert.Equal(t, 1, classes(p)["line stop"], "a loss is crossed out")
}

func TestMonthsStandAsHighAsWhatTheyBrought(t *testing.T) {
	p := draw.OfMonths([]draw.Month{{Name: "Jan", Amount: 100}, {Name: "Feb", Amount: 400}, {Name: "Mar", Amount: -20}}, "months")
	var high []float64
	for _, s := range p.Shapes {
		if s.Class == "done" {
			high = append(high, s.H)
			assert.GreaterOrEqual(t, s.Y, 0.0)
		}
	}
	require.Len(t, high, 3)
	assert.InDelta(t, 4, high[1]/high[0], 1e-9)
	assert.Zero(t, high[2], "more came back than went")
}
