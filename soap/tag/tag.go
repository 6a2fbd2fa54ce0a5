// Package tag lays out labels on a sheet, in millimetres, as they come out of the printer.
//
// A sheet is what the shop bought or cuts itself: so many labels in columns and rows, each so wide and so high.
// Letters have a least height, because somebody with weak eyes and a rash must be able to read what is in the
// bar. The height is that of a small letter such as an "o", which is what laws mean where capitals and small
// letters are mixed. So a text fits or it does not: it is never made smaller, and what is too much is said.
//
// Lines are broken by the widths of the letters of the face that prints them, so that what is worked out here
// is what the paper shows.
package tag

import (
	_ "embed"
	"strings"
	"sync"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/table"
	"ashshelf/soap/unit"
)

// Sheet is a sheet of labels. Lengths are in mm.
type Sheet struct {
	PageW, PageH  float64
	Left, Top     float64 // of the first label
	Columns, Rows int
	W, H          float64 // of one label
	GapX, GapY    float64 // between labels
}

// A4 is a page of the usual size in most countries, Letter of that in North America.
var (
	A4     = [2]float64{210, 297}
	Letter = [2]float64{215.9, 279.4}
)

// LeastLetter is the usual least height of letters in mm.
const LeastLetter = 1.6

// Check finds what no printer can print. Paths are the names of the fields.
func (s Sheet) Check() (p caution.Problems) {
	mm := func(field, what string, v, least, most float64) {
		caution.Range{Min: least, Max: most, Unit: "mm"}.Check(&p, field, what, v)
	}
	mm("page_w", "the sheet's width", s.PageW, 20, 450)
	mm("page_h", "the sheet's height", s.PageH, 20, 450)
	mm("w", "a label's width", s.W, 15, 300)
	mm("h", "a label's height", s.H, 10, 300)
	mm("left", "the left margin", s.Left, 0, 100)
	mm("top", "the top margin", s.Top, 0, 100)
	mm("gap_x", "the gap between columns", s.GapX, 0, 100)
	mm("gap_y", "the gap between rows", s.GapY, 0, 100)
	if s.Columns < 1 || s.Columns > 20 {
		p.Add("columns", "between 1 and 20 columns")
	}
	if s.Rows < 1 || s.Rows > 40 {
		p.Add("rows", "between 1 and 40 rows")
	}
	if len(p) > 0 {
		return p
	}
	if need := s.Left + float64(s.Columns)*(s.W+s.GapX) - s.GapX; need > s.PageW+tiny {
		p.Add("columns", "they take %s mm, and the sheet is %s mm wide", unit.Trim(need, 1), unit.Trim(s.PageW, 1))
	}
	if need := s.Top + float64(s.Rows)*(s.H+s.GapY) - s.GapY; need > s.PageH+tiny {
		p.Add("rows", "they take %s mm, and the sheet is %s mm high", unit.Trim(need, 1), unit.Trim(s.PageH, 1))
	}
	return p
}

// tiny forgives what a sum of tenths of a millimetre is off by.
const tiny = 1e-6

// Count is how many labels a sheet has.
func (s Sheet) Count() int { return s.Columns * s.Rows }

// At is where the left upper corner of a label is, counted from 0 along the rows.
func (s Sheet) At(n int) (x, y float64) {
	return s.Left + float64(n%s.Columns)*(s.W+s.GapX), s.Top + float64(n/s.Columns)*(s.H+s.GapY)
}

// Sheets is how many sheets so many labels take.
func (s Sheet) Sheets(labels int) int { return (labels + s.Count() - 1) / s.Count() }

// Block is a part of a label: one text in letters of one height.
type Block struct {
	Text   string
	Letter float64 // height of a small letter in mm
	Bold   bool
	Gap    float64 // above it, in mm
}

// Line is a line as it is printed.
type Line struct {
	X, Y float64 // of the beginning of its base line, from the left upper corner of the label
	Size float64 // of the letters, as a printer counts it, in mm
	Bold bool
	Text string
}

// Printed is a label as it came out of the printer: it never changes, whatever the product says later.
type Printed struct {
	Sheet       string // its name
	W, H        float64
	Lines       []Line
	Ingredients string // the list by itself
	Allergens   []string
	Marks       []string
	Net         float64 // g that it says
	Wording     string
}

// Padding is what stays white at the edge of a label, in mm.
const Padding = 2.0

// The face, in parts of its size: how high a small o is, how far letters reach above the base line and below it,
// and how far apart lines stand.
const (
	smallLetter = 0.5
	ascent      = 0.72
	descent     = 0.2
	leading     = 1.18
)

// SizeOf is the size at which a small letter is so high.
func SizeOf(letter float64) float64 { return letter / smallLetter }

// TooMuch says that a text does not fit onto a label.
type TooMuch struct {
	Tall float64 // mm that it is too high
	Word string  // that is wider than the label; empty where none is
}

func (e *TooMuch) Error() string {
	if e.Word != "" {
		return "“" + e.Word + "” is wider than the label"
	}
	return "the text is " + unit.Trim(e.Tall, 1) + " mm too high for the label: take a larger one, or fewer words"
}

// Lay breaks the blocks into lines on a label of a width and a height. What does not fit is of type [*TooMuch],
// with the lines as far as they go.
func Lay(blocks []Block, w, h float64) ([]Line, error) {
	var out []Line
	y, wide := Padding, w-2*Padding
	var wrong error
	for _, b := range blocks {
		if strings.TrimSpace(b.Text) == "" {
			continue
		}
		if len(out) > 0 {
			y += b.Gap
		}
		size := SizeOf(b.Letter)
		for _, text := range wrap(b.Text, wide/size, b.Bold) {
			if Width(text, b.Bold)*size > wide+tiny && wrong == nil {
				wrong = &TooMuch{Word: text}
			}
			out = append(out, Line{X: Padding, Y: y + ascent*size, Size: size, Bold: b.Bold, Text: text})
			y += leading * size
		}
	}
	if len(out) > 0 {
		last := out[len(out)-1]
		if over := last.Y + descent*last.Size - (h - Padding); over > tiny && wrong == nil {
			wrong = &TooMuch{Tall: over}
		}
	}
	return out, wrong
}

// wrap breaks a text at its blanks so that no line is wider than it may be, in parts of the size.
func wrap(text string, wide float64, bold bool) (out []string) {
	for paragraph := range strings.SplitSeq(text, "\n") {
		line := ""
		for _, word := range strings.Fields(paragraph) {
			longer := word
			if line != "" {
				longer = line + " " + word
			}
			if line != "" && Width(longer, bold) > wide {
				out = append(out, line)
				longer = word
			}
			line = longer
		}
		if line != "" {
			out = append(out, line)
		}
	}
	return out
}

// Width is how wide a text is, in parts of the size of its letters. A letter that is in no table counts as the
// widest: rather a line too short than one that is cut off.
func Width(text string, bold bool) (sum float64) {
	face := widths()
	for _, r := range text {
		w, known := face[r]
		switch {
		case !known:
			sum += widest
		case bold:
			sum += w[1]
		default:
			sum += w[0]
		}
	}
	return sum
}

// widest is the width of a letter of which nothing is known, in parts of its size.
const widest = 1.0

//go:embed widths.csv
var widthsCSV string

// widths are those of the regular and the bold cut.
var widths = sync.OnceValue(func() map[rune][2]float64 {
	out := map[rune][2]float64{}
	for _, row := range table.Read(widthsCSV) {
		out[rune(row.Number("code"))] = [2]float64{row.Number("regular") / 1000, row.Number("bold") / 1000}
	}
	return out
})
