package e2e_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// toScale goes on as asked until an item is to be weighed whose key begins like this.
func (u *user) toScale(item string) benchStep {
	u.t.Helper()
	for range 40 {
		at := u.bench()
		if at.Item != "" && strings.HasPrefix(at.Item, item) && at.Target > 0 {
			return at
		}
		u.asAsked(at)
	}
	require.Fail(u.t, "no "+item+" to weigh")
	return benchStep{}
}

// On a browser's first visit, with nothing in its cache, the scale is live each time.
func TestTheScaleIsLiveOnTheFirstVisit(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	at := u.toScale("fat:")
	address := strings.Replace(lot, "/lots/", "/make/", 1) + "?item=" + at.Item
	for range 5 {
		_, err := chromedp.Call(u.tab, network.ClearBrowserCache, cdp.Empty{})
		require.NoError(t, err)
		u.open(address)
		was := eval[string](u, `document.querySelector("#live [name=reading]").value`)
		u.until("the figure moves on", fmt.Sprintf(`document.querySelector("#live [name=reading]")?.value !== %q`, was))
	}
	u.noErrors()
}

// With the program stopped for some seconds the page still shows what lay on the scale
// before: it says so, and nothing of it can be written down.
func TestAStaleReadingCannotBeWrittenDown(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	at := u.toScale("fat:")
	u.scale(fmt.Sprintf("put %.1f", at.Target))
	u.shows(at.Target)
	u.freeze(true)
	u.until("it is greyed", `document.querySelector("#live.is-stale") !== null`)
	assert.True(t, eval[bool](u, `document.querySelector("#live [name=reading]").disabled`))
	u.reads("#live .stale-word", "Out of date")
	u.freeze(false)
	u.until("and comes back", `document.querySelector("#live.is-stale") === null`)
	u.shows(at.Target)
	// A reading of before, sent without its page: refused, and nothing is recorded.
	reading := eval[string](u, `document.querySelector("#live [name=reading]").value`)
	time.Sleep(6 * time.Second)
	refused := eval[string](
		u,
		fmt.Sprintf(
			`(async () => { const f = new FormData(document.querySelector('form[data-outbox][action$="/weigh"]')); f.set("reading", `+
				`%q); f.set("grams", ""); const a = await fetch(%q, {method: "POST", body: new URLSearchParams(f)}); return a.status + " `+
				`" + (await a.text()).includes("some time ago"); })()`,
			reading,
			lot+"/weigh",
		),
	)
	assert.Equal(t, "422 true", refused)
}

// The pedal goes on over what is right. 88 g too much it does not pass, and two
// presses within a second are one.
func TestThePedalPassesNoMistakeAndCountsOnce(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.startsLot("Slow olive")
	first := u.bench().Step
	u.rested()
	u.do("a foot that bounces", chromedp.KeyEvent(kb.PageDown))
	time.Sleep(500 * time.Millisecond) // the next page is there
	second := u.bench().Step
	assert.NotEqual(t, first, second)
	u.do("still bouncing", chromedp.KeyEvent(kb.PageDown), chromedp.KeyEvent(kb.Enter))
	time.Sleep(900 * time.Millisecond)
	assert.Equal(t, second, u.bench().Step, "a second press within a second is none")

	at := u.toScale("fat:olive")
	u.fill("grams", fmt.Sprintf("%.1f g", at.Target+88))
	u.press("Write it down")
	u.reads("main", "over the mark")
	over := u.bench()
	u.rested()
	u.do("the pedal", chromedp.KeyEvent(kb.PageDown))
	time.Sleep(700 * time.Millisecond)
	u.rested()
	u.do("and Enter", chromedp.KeyEvent(kb.Enter))
	time.Sleep(700 * time.Millisecond)
	assert.Equal(t, over.Step, u.bench().Step, "a mistake is not passed by a key")
	u.reads("main", "over the mark")
	u.press("are back out")
	u.reads("main", "Go on")
	u.noErrors()
}

// A scent that is weighed and not in stops the first portion, with a way to it.
func TestAScentThatIsNotInStopsTheFirstPortion(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Fig and black tea")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	for range 60 {
		at := u.bench()
		if strings.HasPrefix(at.Step, "in:additive:Fig") {
			break
		}
		u.asAsked(at)
	}
	u.open(bench + "?step=fill:0")
	u.reads("main", "Not in yet")
	u.accessible("a scent that is not in")
	u.refused("Done")
	u.reads("main", "Not in yet: Fig leaf and black tea")
	assert.Equal(t, "fill:0", u.bench().Step)
	u.press("Fig leaf and black tea (Wendle & Tarr)")
	assert.True(t, strings.HasPrefix(u.bench().Step, "in:additive:Fig"))
	u.press("Done")
	u.asAsked(u.bench())
	u.reads("#now-what", "It is poured")
	u.noErrors()
}

// Nobody is named any more while an entry is on its way: it is kept, and goes when
// somebody is.
func TestAnEntryWaitsUntilSomebodyIsNamed(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	step := u.bench().Step
	who := eval[string](u, `document.querySelector(".who").textContent.trim()`)
	cookies := eval[string](u, `document.cookie`)
	assert.Empty(t, cookies, "no script reads who it is")
	_, err := chromedp.Call(u.tab, network.DeleteCookies, network.DeleteCookiesParams{Name: "who", URL: "http://" + u.addr})
	require.NoError(t, err)
	u.rested()
	u.do("press", chromedp.Click(`.now button[data-key="PageDown"]`))
	u.reads("#outbox", "It waits until somebody says who is at the bench")
	assert.Contains(t, eval[string](u, `localStorage.getItem("outbox")`), step, "the entry is still there")
	u.press("Choose who works")
	u.press(strings.TrimSpace(strings.Split(who, " at the bench")[0]))
	u.until("it goes", `localStorage.getItem("outbox") === "[]"`)
	u.open(strings.Replace(lot, "/lots/", "/make/", 1) + "?step=" + step)
	u.reads("main", "done")
}
