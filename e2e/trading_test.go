package e2e_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tap touches a tile or a button of the stall.
func (u *user) tap(selector string, times int) {
	u.t.Helper()
	for range times {
		u.do("tap "+selector, chromedp.Click(selector))
	}
}

// packs types how many bars of a lot go into the box, as the field of the pile says.
func (u *user) packs(product, code, bars string) {
	u.t.Helper()
	ok := eval[bool](u, fmt.Sprintf(`(() => {
		const row = [...document.querySelectorAll(".packing > li")].find(r => r.querySelector("h2").textContent.trim() === %q);
		const pile = [...row.querySelectorAll(".pack-pile")].find(p => p.querySelector(".code").textContent === %q);
		pile.querySelector("input").value = %q;
		return true;
	})()`, product, code, bars))
	require.True(u.t, ok)
}

// A market on a telephone: packed the evening before, sold at without any network, and counted back to the cent and the bar.
func TestAMarketIsPackedSoldWithoutNetworkAndCountedBack(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 390, 844)
	u.keepsPages(true)
	u.open("/markets")
	u.press("Write a market down")
	u.fill("name", "Slip market", "on", "yesterday", "opens", "9", "closes", "8:00")
	u.press("Keep it")
	u.reads("#f-closes-err", "it would close before it opens")
	assert.Equal(t, "yesterday", eval[string](u, `document.getElementById("f-on").value`), "what was typed stays")
	u.fill("on", morning.Format(time.DateOnly), "closes", "18:00", "fee", "12", "float", "50", "deal_bars", "3", "deal_amount", "20")
	u.press("Keep it")
	u.press("Back")
	u.reads("h1", "Pack for Slip market")
	u.packs("Fig by lamplight", "3-M", "99")
	u.press("All of this is packed")
	u.reads(".packing", "wanted, but only")
	u.packs("Fig by lamplight", "3-M", "4")
	u.packs("Plain and sound", "3-M", "1")
	u.packs("Ferryman's olive", "2-K", "0")
	u.press("All of this is packed")
	u.reads("main", "5 bars in the box")
	u.accessible("the packing of a market")
	u.press("At the stall")
	u.reads(".stall-tiles", "4 left")
	u.accessible("the till of a stall")
	tile := func(n int) string { return fmt.Sprintf(".stall-tiles li:nth-child(%d) .stall-tile", n) }
	for _, selector := range []string{tile(1), "[data-pay=cash]"} {
		assert.GreaterOrEqual(t, eval[float64](u, `document.querySelector("`+selector+`").getBoundingClientRect().height`), 64.0)
	}
	u.until("the page lies on the telephone",
		`caches.open("pages").then(c => c.keys()).then(k => k.some(r => r.url.includes("/stall")))`)

	u.kill()
	u.open(eval[string](u, `location.pathname`))
	u.reads("#as-of", "Without network")
	fig, plain := tile(1), tile(2)
	u.tap(fig, 3)
	u.reads("#stall-lines", "3 × Fig by lamplight: 22.50 EUR")
	u.reads(fig, "the last one")
	u.tap("#stall-deal", 1)
	u.reads("#stall-lines", "3 for 20.00 (3 × Fig by lamplight): 20.00 EUR")
	u.tap("[data-pay=card]", 1)
	u.tap(plain, 1)
	u.tap("[data-pay=cash]", 1)
	u.reads("#stall-taken", "4 sold · cash 4.00 · card 20.00")
	u.tap("#stall-undo", 1)
	u.reads("#stall-taken", "3 sold · cash 0.00 · card 20.00")
	u.tap(plain, 1)
	u.tap("[data-pay=cash]", 1)
	u.reads(plain, "sold out at")
	u.tap(plain, 1)
	u.reads(plain, "1 asked")
	u.reads("#stall-box", "5 not yet at home")
	u.open(eval[string](u, `location.pathname`)) // the telephone was put away, and taken out again
	u.reads("#stall-taken", "4 sold · cash 4.00 · card 20.00")
	u.tap(fig, 1)
	u.tap("[data-pay=cash]", 1)
	u.reads(fig, "sold out at")
	u.tap(fig, 2) // one was there after all
	u.reads("#stall-lines", "Fig by lamplight: 7.50 EUR")
	u.tap("[data-pay=cash]", 1)
	u.reads(fig, "1 more than were packed")
	assert.False(t, eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`), "nothing is wider than the telephone")

	u.crash()
	u.until("all of it comes home", `document.getElementById("stall-box").hidden`)
	u.open(eval[string](u, `location.pathname`))
	u.reads("#stall-taken", "6 sold · cash 19.00 · card 20.00")
	u.open(strings.Replace(eval[string](u, `location.pathname`), "/stall", "/home", 1))
	u.reads("main", "The till says 1 more Fig by lamplight than were packed")
	u.press("It is counted back")
	u.reads("#f-cash-err", "count it")
	u.fill("cash", "68.50", "card", "20", "weather", "rain", "note", "A second table.")
	u.do("twice", chromedp.Evaluate[chromedp.Void](`(() => {
		const b = [...document.querySelectorAll("main button")].find(b => b.textContent.includes("counted back")); b.click(); b.click(); })()`))
	u.reads("main", "−0.50 off")
	u.reads("main", "4 of 4 sold")
	u.reads("main", "the till knows of 5")
	u.reads("main", "For the next time: A second table.")
	u.accessible("a market that was counted back")
	u.open("/markets")
	u.reads("main", "Slip market, rain")
	u.open("/trace?kind=event&of=" + "Slip+market%2C+" + strings.ReplaceAll(morning.Format("2 Jan 2006"), " ", "+"))
	u.reads("main", "3-M")
	u.noErrors()
}

// The next fair is planned from last year's sold-out, with the racks and the oil as limits; a pour that is moved says what it
// breaks, and one press makes the plans.
func TestTheNextFairIsPlannedFromLastYearsSoldOut(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/ahead")
	u.reads("main", "Plant fair sold 24 of 24 on")
	u.reads("main", "gone at 12:10")
	u.reads("main", "Any later, and Fig and black tea is missing on")
	u.reads("main", "Olive oil runs out")
	u.reads("main", "no day is left on which it could be poured")
	u.accessible("what to make by when")
	pours := eval[int](u, `document.querySelectorAll("#ahead-form input[name=pour]").length`)
	require.Positive(t, pours)

	// Dragged to a later day, the last block says what is missing then.
	u.do("drag", chromedp.Evaluate[chromedp.Void](`(() => {
		const block = [...document.querySelectorAll(".ahead-block")].at(-1), at = block.getBoundingClientRect();
		const send = (type, x) => block.dispatchEvent(new PointerEvent(type, {bubbles: true, pointerId: 1, isPrimary: true,
			clientX: x, clientY: at.top + 5}));
		block.setPointerCapture = () => {};
		const day = Number(document.getElementById("ahead").dataset.day)
			* document.querySelector("#ahead svg").getBoundingClientRect().width / Number(document.getElementById("ahead").dataset.width);
		send("pointerdown", at.left + 5); send("pointermove", at.left + 5 + 9 * day); send("pointerup", at.left + 5 + 9 * day);
	})()`))
	u.until("the page says what breaks", `location.search.includes("pour=") && (document.body?.textContent ?? "").includes("are missing on")`)
	u.back()
	u.press("a day earlier")
	u.reads("h1", "What to make by when")
	u.press("As it was proposed")

	u.press("Make these plans")
	u.reads("#kept", "made, each for its day")
	u.reads("main", "Nothing else is to be poured")
	u.open("/plan")
	u.reads("main", "Fig and black tea")

	// Four hundred bars find no room on the racks.
	u.open("/markets")
	u.do("the fair", chromedp.Evaluate[chromedp.Void](
		`[...document.querySelectorAll(".coming li")].find(l => l.textContent.includes("Plant fair")).querySelector("a[href$='/pack']").click()`))
	u.reads("h1", "Pack for Plant fair")
	u.press("Change it")
	want := eval[string](u, `[...document.querySelectorAll("label")].find(l => l.textContent === "Fig by lamplight").htmlFor.slice(2)`)
	u.typeIn("f-"+want, "900")
	u.press("Keep as revision 2")
	u.open("/ahead")
	u.reads("main", "there is no place for it to cure")
	u.noErrors()
}

// An order is packed by lot and sent with its paper; a part comes back, and is looked at.
func TestAnOrderIsPackedByLotAndPartOfItComesBack(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/orders")
	u.reads("main", "Order 1 for The Lantern House")
	u.press("Write an order down")
	u.fill("buyer_name", "Marsh View", "due", "2026-04-01", "channel", "guest house", "terms", "bought",
		"lines[0].product", "Fig by lamplight", "lines[0].bars", "none")
	u.press("Keep it")
	assert.Equal(t, "Marsh View", eval[string](u, `document.getElementById("f-buyer_name").value`), "what was typed stays")
	assert.Contains(t, eval[string](u, `document.querySelector("[id='f-lines[0].bars-err']")?.textContent ??
		[...document.querySelectorAll(".err")].map(e => e.textContent).join()`), "“none” is not a number")
	u.fill("lines[0].bars", "5", "lines[0].price", "4.80")
	u.press("Keep it")
	u.press("Back")
	u.reads("h1", "Order 2 for Marsh View")
	u.packs("Fig by lamplight", "3-M", "4")
	u.press("All of this is packed")
	u.reads("main", "4 in the box")
	u.accessible("an order")
	u.press("Send 4 bars")
	u.reads("h1", "Invoice I-0002")
	u.reads(".paper-out", "Marsh View")
	u.reads(".paper-out", "3-M")
	u.reads(".paper-out", "19.20")
	p := u.printed(chromedp.PaperA4)
	assert.Equal(t, 1, p.pages)
	assert.Empty(t, p.outside)
	u.press("To the order")
	u.reads("main", "partly sent")
	back := eval[string](u, `[...document.querySelectorAll("#with-them input")].find(i => i.name.startsWith("returned|")).name`)
	u.fill(back, "9")
	u.press("Write it down")
	u.reads("#with-them", "4 of these are with the buyer")
	u.fill(back, "2")
	u.press("Write it down")
	u.reads("h1", "Credit note C-0001")
	u.press("To the order")
	u.reads("#judge", "2 Fig by lamplight of lot 3-M")
	for _, what := range []string{"judged sound", "judged spoiled"} {
		u.fill(strings.Replace(back, "returned", what, 1), "1")
	}
	u.press("I have looked at them")
	u.until("nothing waits", `!document.getElementById("judge")`)
	u.open("/buyers")
	u.reads("main", "papers and traces hold a key")
	u.do("blank", chromedp.Evaluate[chromedp.Void](`[...document.querySelectorAll("form[action$='/blank']")].find(
		f => f.closest("li").textContent.includes("B2")).querySelector("button").click()`))
	u.until("the name is gone", `document.body?.innerHTML.includes("Marsh View") === false`)
	u.open("/orders")
	u.reads("main", "Order 2 for B2")
	u.open("/sold")
	u.reads("main", "Fig by lamplight")
	u.accessible("what sold")
	u.noErrors()
}
