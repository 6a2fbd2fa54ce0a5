package e2e_test

import (
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
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
			n := u.pages(paper)
			assert.True(t, n >= 1 && n <= want.pages, "%s is %d pages of %s", at, n, size)
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
