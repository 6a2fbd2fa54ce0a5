package e2e_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A batch seizes, is cooked, and comes out as plain bars that are sold; the next
// one with its scent is told the story.
func TestASeizedBatchIsRescuedByCookingIntoPlainBars(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 800, 1280)
	lot := u.startsLot("Fig and black tea")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	for at := u.bench(); !strings.HasPrefix(at.Step, "in:additive:Fig"); at = u.bench() {
		u.asAsked(at)
	}
	stirs := u.bench().Step

	// A wrong weight is corrected; the first stays.
	u.open(bench + "?step=weigh:fat:olive-oil")
	was := eval[string](u, `document.querySelector(".now [name=corrects]").closest("li").textContent.match(/[0-9.]+/)[0]`)
	u.do("open what is on record", chromedp.Click(`//summary[contains(normalize-space(.), "correct or weigh back")]`))
	u.do(
		"correct",
		chromedp.Evaluate[chromedp.Void](
			`(() => { const f = document.querySelector(".now [name=corrects]").form; f.querySelector("[name=grams]").value = "501 g"; `+
				`f.querySelector("[name=reason]").value = "read the wrong line"; })()`,
		),
	)
	u.press("Correct it")
	u.reads(".now", was+" g")
	u.reads(".now", "read the wrong line")

	u.do("the key of trouble", chromedp.KeyEvent("t"))
	u.reads("h1", "Trouble with lot")
	u.open(bench + "?step=" + stirs)
	u.do("it seizes", chromedp.Click(`.now [name="behaviour"][value="seizes"]`))
	u.press("Done")
	u.reads("h1", "Seized") // its card is open before anybody looks for it
	u.reads("main", "Cook it")
	u.accessible("a card of trouble")
	u.do("cook it", chromedp.Click(`main [name=way][value=cook]`))
	u.fill("text", "a lump within a minute")
	u.press("Put it on record")
	u.reads("main", "Scoop all of it into the cooker")
	u.accessible("a rescue on the bench")
	u.do("a timer", chromedp.Click(`main section [data-timer="Stir the cook"]`))
	u.reads("#timer-list", "Stir the cook")
	left := func() int { return eval[int](u, `document.querySelectorAll("main form[action$='/rescue']").length`) }
	for n := left(); n > 0; n = left() { // the foot follows the rescue, and not the run under it
		u.rested()
		u.keys("pedal", kb.PageDown)
		require.Equal(t, n-1, left())
	}
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Swirl")
	u.open(bench + "?step=pour")
	u.fill("skipped", "seized and cooked: no swirl")
	u.press("It is poured")
	u.crash(morning.Add(9 * time.Hour))
	u.open(lot)
	u.reads("main", "cooked soap comes out the same evening")
	u.press("It is out")
	u.fill("first", "9")
	u.press("Put them on the rack")
	u.reads("#f-first-err", "count them as seconds")
	u.fill("first", "0", "second", "9", "bar", "120")
	u.press("Put them on the rack")
	u.do("open the outcome", chromedp.Click(`//summary[contains(normalize-space(.), "How it came out")]`))
	u.fill("outcome", "nine plain bars, good lather")
	u.do("write it", chromedp.Click(`//form[contains(@action, "/outcome")]//button`))
	u.reads("main", "It came out: nine plain bars")
	for week, grams := range []string{"120", "110.3", "106.9", "105.8", "105.4"} {
		u.crash(morning.Add(time.Duration(10+week*7*24) * time.Hour))
		u.open(lot)
		u.typeIn("f-sample", grams)
		u.press("Write it down")
	}
	u.do("only soap", chromedp.Click(`input[name="result"][value="good"]`))
	u.press("Record the check")
	u.do("tick", chromedp.Click(`#f-sure`))
	u.press("Release")
	u.reads("#bars", "Seconds")
	u.fill("count", "3")
	u.press("Move them")
	u.reads("#bars", "9 6")

	// The record, on paper.
	u.press("The whole record")
	u.reads("#r-deviations", "a lump within a minute")
	u.reads("#r-deviations", "nine plain bars")
	u.reads("#r-story", "read the wrong line")
	u.reads("#r-materials", was+" g, corrected")
	u.reads("#r-release", "Nothing on record up to the release was altered")
	assert.LessOrEqual(t, u.pages(chromedp.PaperA4), 5)

	u.open(lot)
	u.do("open what to change", chromedp.Click(`//summary[contains(normalize-space(.), "What to change next time")]`))
	u.fill("next", "scent at thirty degrees")
	u.press("Keep it")

	// The second run with the scent is told of the first.
	u.freshPlan()
	u.fill("recipe", "Fig and black tea", "count."+u.loaf(), "1")
	u.reads("#answers", "It happened before: Seized with Fig leaf")
	u.reads("#answers", "nine plain bars, good lather")
	u.reads("#answers", "Next time, said lot")
	u.reads("#answers", "scent at thirty degrees")
	u.noErrors()
}

// loaf is the identity of the long loaf on the plan bench.
func (u *user) loaf() string {
	u.t.Helper()
	return eval[string](
		u,
		`[...document.querySelectorAll('[name^="count."]')].find(i => i.closest("li, tr, section, `+
			`div")?.parentElement.textContent.includes("Long loaf")).name.slice(6)`,
	)
}

// Batter of a lot that is held later goes into another: the hold shows on both,
// and goes from both.
func TestBatterThatIsCarriedOverBringsItsHoldAlong(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	first := u.startsLot("Slow olive")
	code := strings.TrimPrefix(strings.SplitN(eval[string](u, `document.querySelector("h1").textContent`), ":", 2)[0], "Lot ")
	second := u.startsLot("Slow olive")
	u.do("open", chromedp.Click(`//summary[contains(normalize-space(.), "Something of another lot went in")]`))
	u.fill("parent", code, "what", "wet batter", "carried_grams", "7 oz")
	u.do("write it", chromedp.Click(`//form[contains(@action, "/carry")]//button`), chromedp.Sleep(600*time.Millisecond))
	u.open(first)
	u.reads("main", "198.4 g of its batter went into lot")
	u.fill("why", "grit in the jug")
	u.press("Hold this lot")
	for _, lot := range []string{first, second} {
		u.open(lot)
		u.reads("main", "grit in the jug")
	}
	u.reads("main", fmt.Sprintf("made with lot %s, which is on hold", code))
	u.accessible("a lot with an inherited hold")
	u.open(first)
	u.fill("why", "it was sugar")
	u.press("Lift it")
	u.open(second)
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "On hold")
	u.noErrors()
}
