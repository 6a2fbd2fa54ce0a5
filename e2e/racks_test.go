package e2e_test

import (
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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
	u.reads("#find", "Lot 9-L stands on Back wall, level 1.")
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

// A lot is dragged to another level, or moved there by key; what was done is said, and can be undone; a
// level that does not take it says why and nothing moves.
func TestALotIsMovedOnTheDrawing(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/")
	levelOf := func(code string) string {
		u.open("/?find=" + code)
		return eval[string](u, `document.querySelector("#find").textContent.match(/stands on ([^.]*)\./)[1]`)
	}
	require.Equal(t, "By the window, level 2", levelOf("7-F"))
	u.do("on the lot", chromedp.Evaluate[chromedp.Void](`document.getElementById("at-7-F").focus()`))
	u.do("up", chromedp.KeyEvent(kb.ArrowUp, chromedp.KeyModifiers(chromedp.ModifierShift)), chromedp.Sleep(600*time.Millisecond))
	u.reads("#kept", "Lot 7-F is moved.")
	assert.Equal(t, "at-7-F", eval[string](u, `document.activeElement.id`), "the focus stays with it")
	u.accessible("what was kept, over the shelf")
	u.press("Undo")
	require.Equal(t, "By the window, level 2", levelOf("7-F"))

	u.open("/")
	at := eval[[]float64](u, `(() => {
		const lot = document.getElementById("at-7-F").getBoundingClientRect(), rack = document.getElementById("at-7-F").ownerSVGElement;
		const [, y, h] = rack.dataset.levels.split(" ").find(l => l.startsWith("2:")).split(":").map(Number), r = rack.getBoundingClientRect();
		return [lot.x + 20, lot.y + 40, r.y + (y + h / 2) * r.height / rack.viewBox.baseVal.height]; })()`)
	u.do("drag", chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, at[0], at[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+5, at[1]-12, chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+5, at[2], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, at[0]+5, at[2], chromedp.ButtonLeft))
	u.reads("#kept", "Lot 7-F is moved.")
	require.Equal(t, "By the window, level 3", levelOf("7-F"))

	// The back wall has no room for it on its lowest level.
	u.open("/")
	u.do("to a level that is full", chromedp.Evaluate[chromedp.Void](`(() => { const form = document.getElementById("to-place");
		form.elements.lot.value = document.getElementById("at-3-M").getAttribute("href").split("/").pop();
		form.elements.place.value = document.querySelector("svg.rack[data-rack]").dataset.rack + ":0"; form.requestSubmit(); })()`),
		chromedp.Sleep(600*time.Millisecond))
	u.reads("#notice", "Nothing was recorded")
	require.Equal(t, "Back wall, level 2", levelOf("3-M"))
	u.noErrors()
}

// After a row is added, moved or taken out the cursor is where the work goes on, and not at the page's top.
func TestTheCursorStaysWhereTheWorkIs(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/new")
	u.fill("fats[0].fat", "olive", "fats[0].percent", "60", "fats[1].fat", "lard", "fats[1].percent", "40")
	focused := func() string {
		return eval[string](u, `document.activeElement.name + " " + document.activeElement.value`)
	}
	u.press("Add a fat")
	assert.Equal(t, "fats[2].fat ", focused())
	u.fill("fats[2].fat", "coconut", "fats[2].percent", "20")
	u.do("up", chromedp.Click(`button[value="up fats[2]"]`), chromedp.Sleep(700*time.Millisecond))
	assert.Equal(t, "do up fats[1]", focused(), "it can go on upwards")
	u.do("out", chromedp.Click(`button[value="remove fats[2]"]`), chromedp.Sleep(700*time.Millisecond))
	assert.Contains(t, focused(), "fats[1].fat")
	u.press("Bring to 100 %")
	assert.Equal(t, "do balance", focused())
	u.noErrors()
}
