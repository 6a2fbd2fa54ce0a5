package e2e_test

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// Without a mouse: a lot is found on the shelf, opened, put on another level, and
// found there. A rule that it breaks is told.
func TestALotIsFoundAndPutElsewhereByKeyboardAlone(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/")
	u.tabTo("f-find")
	u.do("type", chromedp.KeyEvent("9l"))
	u.keys("find", kb.Enter)
	u.reads("#find", "Lot 9-L stands on Back wall, level 2.")
	u.accessible("a lot found on the shelf")
	u.tabTo("at-9-L")
	u.keys("open", kb.Enter)
	u.reads("h1", "Lot 9-L")
	u.tabTo("place-fold")
	u.do("fold out", chromedp.KeyEvent(" "))
	u.tabTo("f-place")
	u.do("choose", chromedp.KeyEvent(kb.End))
	u.do("choose", chromedp.KeyEvent(kb.ArrowUp)) // the last is no place at all
	u.do("on", chromedp.KeyEvent(kb.Tab))
	u.keys("put it there", kb.Enter)
	u.reads("main", "It stands on Back wall, level 3")
	u.open("/?find=9-L")
	u.reads("#find", "level 3")

	u.open("/racks")
	u.do(
		"a rule",
		chromedp.SetValue(`#f-apart-1-a`, "young"),
		chromedp.SetValue(`#f-apart-1-b`, "released"),
		chromedp.SetValue(`#f-apart-1-within`, "rack"),
	)
	u.press("Keep the rules")
	u.reads("main", "Lot 9-L stands with lot 3-M")
	u.open("/")
	u.reads("main", "Lot 9-L stands with lot 3-M")

	u.open("/weigh")
	u.accessible("a round with the scale")
	u.do("type", chromedp.SendKeys(`.weigh input[name^="g."]`, "104"))
	u.do("kept while it is typed", chromedp.Sleep(900*time.Millisecond))
	u.open("/weigh") // a reload in the middle
	u.press("Write all of them down")
	u.open("/lots?q=9-L")
	u.reads("main", "Sample bar 104 g")
	u.open("/calendar/2026-03-14")
	u.noErrors()
}

// On a phone a rack scrolls by itself; the page does not.
func TestTheShelfFitsAPhone(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 390, 844)
	u.open("/")
	assert.False(
		t,
		eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`),
		"%v",
		eval[string](
			u,
			`[...document.querySelectorAll("main *")].filter(e => !e.closest(".rackbox") && e.getBoundingClientRect().right > `+
				`innerWidth + 1).map(e => e.outerHTML.slice(0, 80)).join("\n")`,
		),
	)
	assert.GreaterOrEqual(
		t,
		eval[float64](u, `document.querySelector(".rack").getBoundingClientRect().width`),
		740.0,
		"its letters keep their size",
	)
	u.noErrors()
}
