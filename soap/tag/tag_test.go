package tag_test

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/tag"
)

func sheet() tag.Sheet {
	return tag.Sheet{PageW: 210, PageH: 297, Left: 10, Top: 8.5, Columns: 2, Rows: 5, W: 95, H: 56}
}

func TestALabelStandsWhereTheSheetHasIt(t *testing.T) {
	s := sheet()
	assert.Empty(t, s.Check())
	assert.Equal(t, 10, s.Count())
	x, y := s.At(0)
	assert.Equal(t, []float64{10, 8.5}, []float64{x, y})
	x, y = s.At(3) // the second of the second row
	assert.Equal(t, []float64{105, 64.5}, []float64{x, y})
	s.GapX, s.GapY, s.W = 3, 2, 92
	x, y = s.At(9)
	assert.Equal(t, []float64{105, 8.5 + 4*58}, []float64{x, y})
	assert.Equal(t, []int{0, 1, 1, 2, 3}, []int{s.Sheets(0), s.Sheets(1), s.Sheets(10), s.Sheets(11), s.Sheets(21)})
}

func TestASheetThatCannotBeIsRefusedAtItsField(t *testing.T) {
	for field, spoil := range map[string]func(*tag.Sheet){
		"columns": func(s *tag.Sheet) { s.Columns = 3 },
		"rows":    func(s *tag.Sheet) { s.Rows = 6 },
		"w":       func(s *tag.Sheet) { s.W = 3 },
		"h":       func(s *tag.Sheet) { s.H = 0 },
		"page_w":  func(s *tag.Sheet) { s.PageW = 5000 },
		"gap_x":   func(s *tag.Sheet) { s.GapX = -1 },
		"top":     func(s *tag.Sheet) { s.Top = -0.1 },
	} {
		s := sheet()
		spoil(&s)
		assert.NotEmpty(t, s.Check().At(field), field)
	}
}

// An "o" of the face is 0.516 of its size high and an "x" half of it, so 1.6 mm take letters of 3.2 mm, which
// printers call 9 points.
func TestLettersAreAsHighAsTheyAreAskedFor(t *testing.T) {
	assert.InDelta(t, 3.2, tag.SizeOf(1.6), 1e-9)
	lines, err := tag.Lay([]tag.Block{{Text: "Fig by lamplight", Letter: 2.4, Bold: true}, {Text: "95 g", Letter: 1.6, Gap: 1}}, 95, 56)
	require.NoError(t, err)
	require.Len(t, lines, 2)
	assert.InDelta(t, 4.8, lines[0].Size, 1e-9)
	assert.InDelta(t, tag.Padding+0.72*4.8, lines[0].Y, 1e-9)
	assert.InDelta(t, tag.Padding+1.18*4.8+1+0.72*3.2, lines[1].Y, 1e-9)
}

func TestWhatDoesNotFitIsSaidAndNeverMadeSmaller(t *testing.T) {
	long := strings.Repeat("Olea Europaea Fruit Oil, ", 30)
	lines, err := tag.Lay([]tag.Block{{Text: long, Letter: 1.6}}, 50, 30)
	var much *tag.TooMuch
	require.True(t, errors.As(err, &much))
	assert.Positive(t, much.Tall)
	assert.Contains(t, err.Error(), "mm too high")
	for _, l := range lines {
		assert.InDelta(t, 3.2, l.Size, 1e-9)
	}
	_, err = tag.Lay([]tag.Block{{Text: "Hydroxyisohexylcyclohexenecarboxaldehyde", Letter: 1.6}}, 30, 30)
	require.True(t, errors.As(err, &much))
	assert.Contains(t, err.Error(), "wider than the label")
}

// Whatever is written, no line that fits is wider than the label, none is of another size, and no word is lost.
func TestNoLineIsWiderThanTheLabel(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		words := rapid.SliceOfN(rapid.StringMatching(`[A-Za-zéÄß0-9,.%()-]{1,14}`), 1, 40).Draw(t, "words")
		letter := rapid.Float64Range(0.9, 3).Draw(t, "letter")
		bold := rapid.Bool().Draw(t, "bold")
		w, h := rapid.Float64Range(20, 200).Draw(t, "w"), rapid.Float64Range(10, 200).Draw(t, "h")
		lines, err := tag.Lay([]tag.Block{{Text: strings.Join(words, " "), Letter: letter, Bold: bold}}, w, h)
		var back []string
		for i, l := range lines {
			back = append(back, strings.Fields(l.Text)...)
			if l.Size != tag.SizeOf(letter) {
				t.Fatalf("line %d is of another size", i)
			}
			if err == nil && (l.X+tag.Width(l.Text, bold)*l.Size > w-tag.Padding+1e-6 || l.Y > h) {
				t.Fatalf("line %d sticks out", i)
			}
		}
		if strings.Join(back, " ") != strings.Join(words, " ") {
			t.Fatalf("%q became %q", words, back)
		}
	})
}

// A letter that the table lacks is taken to be as wide as the widest.
func TestALetterThatNobodyKnowsIsTakenToBeWide(t *testing.T) {
	assert.InDelta(t, 1, tag.Width("語", false), 1e-9)
	assert.Greater(t, tag.Width("mm", true), tag.Width("mm", false))
	assert.Less(t, tag.Width("iiii", false), tag.Width("MMMM", false))
}
