package draw_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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
