package e2e_test

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/e2e/browser"
)

// another opens a second window of the same shop beside the first.
func (u *user) another() *user {
	u.t.Helper()
	tab, end, err := browser.Start(u.tab, 1280, 800)
	require.NoError(u.t, err)
	u.t.Cleanup(end)
	second := &user{t: u.t, tab: tab, dir: u.dir, addr: u.addr, args: u.args}
	second.open("/who")
	second.press("Bastian Thrupp")
	return second
}

// A window that is loaded again is still the same one; what was recorded is not
// offered again when one comes back to it.
func TestAWindowLoadedAgainIsNoOtherWindow(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	at := "/recipes/" + u.oid("/recipes", "Slow olive")
	u.open(at)
	u.typeIn("f-superfat_percent", "6")
	u.reads("#answer-superfat", "6.0 %")
	u.open(at)
	u.reads("#notice", "changes that are not kept yet")
	u.typeIn("f-superfat_percent", "7")
	u.reads("#answer-superfat", "7.0 %")
	assert.NotContains(t, eval[string](u, `document.body.innerText`), "Another window")
	u.press("Keep as revision 2")
	u.reads("main", "Keep as revision 3")
	u.back()
	u.open(at)
	assert.NotContains(t, eval[string](u, `document.body.innerText`), "not kept yet")
	u.noErrors()
}

// Two people at one recipe: each is told of the other, the second to keep is
// refused with all that was typed, and a double click keeps once.
func TestTwoPeopleAtOneRecipeAndADoubleClick(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	at := "/recipes/" + u.oid("/recipes", "Slow olive")
	second := u.another()
	u.open(at)
	second.open(at)
	u.typeIn("f-superfat_percent", "5")
	u.reads("#answer-superfat", "5.0 %")
	second.typeIn("f-superfat_percent", "6")
	second.reads("#notice", "Another window typed")
	u.press("Keep as revision 2")
	u.reads("main", "Keep as revision 3")
	second.press("Keep as revision 2")
	second.reads("#notice", "was changed by Odile Marrow in the meantime")
	assert.Equal(t, "6", eval[string](second, `document.getElementById("f-superfat_percent").value`))
	second.open(at) // a reload tells why
	second.reads("#notice", "A newer revision was kept")
	second.press("Throw changes away")
	second.reads("main", "Keep as revision 3")

	u.open("/molds/new")
	u.fill("name", "Twice", "mold.length_mm", "100", "mold.width_mm", "100", "mold.fill_mm", "30")
	u.reads("#answer-volume", "300 ml")
	u.do("double click", chromedp.DoubleClick(`//main//button[contains(normalize-space(.), "Keep the `+
		`mold")]`), chromedp.Sleep(800*time.Millisecond))
	u.open("/molds")
	assert.Equal(t, 1, eval[int](u, `[...document.querySelectorAll("main h2")].filter(h => h.textContent === "Twice").length`))
	u.open("/plan")
	u.reads("h1", "Plan")
}

// The back button after keeping shows the page as the shop has it now, and
// sending the old one again records nothing new.
func TestTheBackButtonRecordsNothingTwice(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	loaf := u.oid("/molds", "Long loaf")
	u.freshPlan()
	u.fill("recipe", "Quern base", "count."+loaf, "1")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.reads("h1", "Weigh sheet")
	plan := eval[string](u, `location.pathname`)
	u.back()
	u.reads("h1", "Plan")
	u.open(plan)
	u.press("Start the lot")
	u.reads("main", "Clear and wipe the bench")
	lot := eval[string](u, `location.pathname`)
	u.back()
	u.reads("h1", "Weigh sheet")
	u.open(plan)
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Start the lot", "it is started already")
	u.open(lot)
	u.reads("main", "0 of")
	u.noErrors()
}
