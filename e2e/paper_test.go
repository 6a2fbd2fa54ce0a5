package e2e_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/ledongthuc/pdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is printed is read at arm's length and written on: its figures, rows and feet are looked at as the
// printer gets them, on both papers.
func TestPaperIsReadAtArmsLengthAndWrittenOn(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	sheet := "/plans/" + u.oid("/plan?open=all", "Swifts at dusk")
	lot := "/lots/" + u.oid("/lots", "7-F")
	for at, want := range map[string]struct {
		pages int // at most
		foot  string
	}{
		sheet:                  {3, "Swifts at dusk, revision 1, kept 14 Mar 2026"},
		lot + "/record":        {5, "Lot 7-F, Quern base, printed"},
		"/plan/day/2026-03-15": {3, "Bench list for"},
		"/weigh":               {1, "Marked bars,"},
		lot + "/tag":           {1, ""},
	} {
		u.open(at)
		for size, paper := range papers {
			p := u.printed(paper)
			assert.LessOrEqual(t, p.pages, want.pages, "%s on %s", at, size)
			assert.GreaterOrEqual(t, p.smallest, 8.95, "points of the smallest letters of %s on %s", at, size)
			assert.Empty(t, p.outside, "%s on %s: what is cut off", at, size)
			assert.True(t, strings.Contains(p.last, fmt.Sprintf("page%dof%d", p.pages, p.pages)), "%s on %s says which page it is", at, size)
			if at == sheet {
				assert.Greater(t, p.sizes[19], 40, "letters of 19 pt: the targets")
			}
		}
		_, err := chromedp.Call(u.tab, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: "print"})
		require.NoError(t, err)
		u.do("as it is printed", chromedp.Sleep(100*time.Millisecond))
		shown := func(selector string) int {
			return eval[int](u, `[...document.querySelectorAll("`+selector+`")].filter(
				e => e.checkVisibility() && e.getBoundingClientRect().height > 1).length`)
		}
		assert.Zero(t, shown("main button, main a.btn, .strip, .help"), "%s: nothing on paper can be pressed", at)
		if want.foot != "" {
			u.reads(".running", want.foot)
			assert.Equal(t, 1, shown(".running"), at)
		}
		if strings.HasPrefix(at, "/plan/day/") {
			assert.Positive(t, shown(".box"), "the bench list is ticked off as well")
		}
		if at == sheet {
			assert.GreaterOrEqual(t, eval[float64](u, `parseFloat(getComputedStyle(document.querySelector(".aim-paper")).fontSize) * 0.75`), 18.0,
				"points of a target")
			assert.GreaterOrEqual(t, eval[float64](u, `Math.min(...[...document.querySelectorAll(".sheet-rows tbody td.box")].map(
				e => e.parentElement.getBoundingClientRect().height)) / 96 * 25.4`), 11.9, "mm to write on")
			assert.Positive(t, shown(".box"), "boxes to tick")
			assert.Less(t, eval[float64](u, `document.querySelector(".note").getBoundingClientRect().top`),
				eval[float64](u, `document.querySelector(".sheet-rows").getBoundingClientRect().top`), "the caution comes first")
		}
		_, err = chromedp.Call(u.tab, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: ""})
		require.NoError(t, err)
	}
	u.open(lot + "/tag")
	u.reads("article", "Days done")
	u.accessible("a rack tag")
	u.noErrors()
}

// print is what is read back from a page as it was printed.
type print struct {
	pages    int
	smallest float64     // pt
	sizes    map[int]int // letters of a size in pt
	outside  []string    // what stands beyond the paper's edge
	last     string      // letters of the last page; of embedded type they are only numbers
}

// printed prints the page as a PDF and reads it back.
func (u *user) printed(paper chromedp.PaperSize) print {
	u.t.Helper()
	file, err := chromedp.Run(u.tab, chromedp.PrintToPDF(chromedp.PDFPaper(paper), chromedp.PDFPreferCSSPageSize()))
	require.NoError(u.t, err)
	r, err := pdf.NewReader(bytes.NewReader(file), int64(len(file)))
	require.NoError(u.t, err)
	p := print{pages: r.NumPage(), smallest: 1000, sizes: map[int]int{}}
	for n := 1; n <= p.pages; n++ {
		page := r.Page(n)
		box := page.V.Key("MediaBox")
		wide, tall := box.Index(2).Float64(), box.Index(3).Float64()
		p.last = ""
		for _, letter := range page.Content().Text {
			if strings.TrimSpace(letter.S) == "" {
				continue
			}
			p.smallest = min(p.smallest, letter.FontSize)
			p.sizes[int(letter.FontSize+0.5)]++
			p.last += letter.S
			if letter.X < 0 || letter.X > wide || letter.Y < 0 || letter.Y > tall {
				p.outside = append(p.outside, letter.S)
			}
		}
	}
	return p
}
