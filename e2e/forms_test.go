package e2e_test

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A paste of potash goes its own way: no window, no cut, no rack to dry on. It is counted in tubs,
// thinned by the plan, neutralised, tested in water, and released without a settled weight.
func TestAPasteIsThinnedCountedAndReleasedWithoutARack(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/new")
	u.fill("name", "Sink soap")
	u.blend("olive", "60", "coconut", "40")
	u.fill("alkali.naoh_percent", "0", "superfat_percent", "-3", "process.kind", "cooked", "dilution.soap_percent", "26",
		"dilution.glycerin_percent", "4", "water.basis", "lye-strength", "water.value", "30")
	u.reads("#answers", "Made up to")
	u.accessible("a recipe of potash")
	u.press("Keep the recipe")
	u.press("Plan it")
	u.fill("fats_g", "1000 g")
	eval[bool](u, `document.querySelector('[name="by"][value="fats"]').click(), true`)
	u.reads("#answers", "Thinned to liquid soap")
	u.press("Keep this plan")
	u.reads("main", "Thinned to liquid soap")
	u.accessible("a weigh sheet of a paste")
	u.press("Start the lot")
	u.reads("h1", "Sink soap")
	lot := eval[string](u, `location.pathname.replace("/make/", "/lots/")`)
	assert.NotContains(t, eval[string](u, `document.body.textContent`), "Tap out the bubbles")
	u.fromPaper()
	u.open(lot)
	u.reads("main", "A paste, to be put up")
	u.reads("main", "lye left over on purpose")
	u.reads("#thinned-total", "4224 g") // 1098 g of dry soap in 26 %
	u.accessible("a paste that was poured")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Unmold")
	u.open("/")
	u.reads("main", "Count the tubs")
	u.open(lot)
	u.fill("first", "2", "bar", "600")
	u.press("Count them in")
	u.reads("main", "It is diluted")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "marked tub weighs")

	u.crash(morning.AddDate(0, 0, 15))
	u.open(lot)
	u.press("It is diluted")
	u.fill("ph", "9.8")
	eval[bool](u, `document.getElementById("method-ph").click(), true`)
	u.press("Record the check")
	u.fill("why", "neutralised with 12 g")
	u.press("Lift")
	u.reads("#gate-h + ol", "a paste does not dry")
	u.fill("sure", "x")
	u.press("Release")
	u.reads("main", "by Odile Marrow")
	u.noErrors()
}

// Soap in jars is poured, counted, and weighed as it stands; it is never unmolded, cut or turned.
func TestSoapInJarsIsCountedAsItStands(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes")
	u.press("Barber's stone")
	u.reads("#answers", "It stays in its jar")
	u.press("Plan it")
	u.fill("fats_g", "600 g")
	eval[bool](u, `document.querySelector('[name="by"][value="fats"]').click(), true`)
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.press("Start the lot")
	u.reads("h1", "Barber's stone")
	lot := eval[string](u, `location.pathname.replace("/make/", "/lots/")`)
	u.fromPaper()
	u.open("/")
	u.reads("main", "Count the jars")
	u.open(lot)
	u.reads("main", "In its jars")
	u.reads("#count", "Count the jars")
	u.fill("first", "6", "bar", "150")
	u.press("Count them in")
	u.reads("#drying", "The marked jar weighs")
	u.accessible("soap in jars")
	u.noErrors()
}

// The keys are listed by one of them, and can be switched off for a browser.
func TestTheKeysAreListedAndCanBeSwitchedOff(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/lye")
	open := func(id string) bool {
		return eval[bool](u, `document.getElementById("`+id+`").matches(":popover-open")`)
	}
	u.do("ask", chromedp.KeyEvent("?"))
	assert.True(t, open("keys"))
	u.accessible("the keys")
	u.do("switch off", chromedp.Click("#keys-off"), chromedp.KeyEvent(kb.Escape))
	assert.False(t, open("keys"))
	u.do("first aid by its key", chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`), chromedp.KeyEvent("!"))
	assert.False(t, open("first-aid"), "no sign does anything")
	u.open("/lye")
	u.do("switch on", chromedp.Click(".keys-help"), chromedp.Click("#keys-off"), chromedp.KeyEvent(kb.Escape))
	u.do("first aid by its key", chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`), chromedp.KeyEvent("!"))
	assert.True(t, open("first-aid"))
	u.noErrors()
}

// Who opens an empty shop has a weigh sheet in her hand after fewer than ten presses and ten fields.
func TestANewcomerHasAPrintedSheetInUnderTenPressesAndTenFields(t *testing.T) {
	t.Parallel()
	u := atBrowser(t, 820, 1180)
	u.start("serve")
	u.open("/")
	presses, fields := 0, 0
	press := func(text string) { presses++; u.press(text) }
	typed := func(id, text string) { fields++; u.typeIn(id, text) }
	typed("f-name", "Lintel Soap")
	typed("f-people", "Wren Hollow")
	assert.True(t, eval[bool](u, `document.getElementById("f-zone").value === Intl.DateTimeFormat().resolvedOptions().timeZone`))
	u.accessible("three questions")
	press("Open the shop")
	u.reads(".way [aria-current]", "A plan")
	u.accessible("the way to the first bars")
	press("Plan a pour")
	fields++
	u.fill("recipe", "Weekday bar")
	fields++
	count := eval[string](u, `document.querySelector("main input[name^='count.']").name`)
	u.fill(count, "1")
	u.reads("#answers", "Olive oil")
	press("Keep this plan")
	u.reads("main", "In the order of the work")
	presses++ // the print button
	require.True(t, eval[bool](u, `!!document.querySelector("main button[data-print]")`))
	assert.LessOrEqual(t, u.pages(papers["A4"]), 2, "one sheet of paper, on both sides")
	assert.Less(t, presses, 10)
	assert.Less(t, fields, 10)
	t.Logf("%d presses, %d fields", presses, fields)
	u.open("/")
	u.reads(".way [aria-current]", "Make it")
	u.noErrors()
}
