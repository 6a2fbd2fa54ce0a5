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

// A telephone in the workshop loses its network in the middle of a run: the run goes on with what lies on
// the device, in its order, and everything is on record once when the network is back.
func TestARunGoesOnWithoutNetworkForItsMiddleThird(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 390, 844)
	u.keepsPages(true)
	lot := u.startsLot("Slow olive")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	all := eval[int](u, `document.querySelectorAll("#run .stage a[href*='step=']").length`)
	require.Greater(t, all, 12)
	want := map[string]float64{}
	next := func(n int) {
		for range n {
			at := u.bench()
			if at.Target > 0 {
				want[at.Item] = at.Target
			}
			u.asAsked(at)
		}
	}
	next(all / 3)
	u.open(bench)
	u.until("the whole run lies on the telephone",
		fmt.Sprintf(`caches.open("pages").then(c => c.keys()).then(k => k.filter(r => r.url.includes("step=")).length >= %d)`, all))

	u.kill()
	for range all / 3 {
		at := u.bench()
		if at.Target > 0 {
			want[at.Item] = at.Target
		}
		before := eval[string](u, `document.querySelector("#now-what").textContent`)
		u.asAsked(at)
		u.reads("#as-of", "Without network")
		assert.NotEqual(t, before, eval[string](u, `document.querySelector("#now-what").textContent`), "the work goes on")
	}
	u.reads("#outbox", "Not yet saved")
	assert.Equal(t, all/3, eval[int](u, `JSON.parse(localStorage.getItem("outbox")).length`), "in their order, each once")
	assert.False(t, eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`), "nothing is wider than the telephone")

	u.crash()
	u.until("all of it is sent", `localStorage.getItem("outbox") === "[]"`)
	time.Sleep(600 * time.Millisecond)
	u.open(bench)
	require.False(t, eval[bool](u, `!!document.querySelector("#as-of")`), "the page is of now")
	u.toThePour(func(at benchStep, _, _ string) {
		if at.Target > 0 {
			want[at.Item] = at.Target
		}
	})
	u.press("It is poured")
	u.open(lot)
	for item, grams := range want {
		got := eval[float64](u, fmt.Sprintf(`Number([...document.querySelectorAll("[data-item]")].find(
			r => r.dataset.item === %q)?.querySelector("[data-actual]").textContent)`, item))
		assert.InDelta(t, grams, got, grams*0.011+0.3, "%s, once", item)
	}
	u.open("/settings")
	u.reads("#without-network", "keeps the pages it has seen")
}

// A plan is rehearsed with every slip thrown in. Who catches all of them is told so, and the shop has no
// record of any of it.
func TestARehearsalThrowsEverySlipAndLeavesNoRecord(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lots := func() int {
		u.open("/lots")
		return eval[int](u, `document.querySelectorAll("main tbody tr").length`)
	}
	before := lots()
	loaf := u.oid("/molds", "Long loaf")
	u.freshPlan()
	u.fill("recipe", "Fig and black tea", "count."+loaf, "1")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	plan := eval[string](u, `location.pathname`)
	u.press("Rehearse it")
	u.reads(".beside", "Rehearsal.")
	u.accessible("a rehearsal")
	played := map[string]bool{}
	for n := 0; ; n++ {
		require.Less(t, n, 90)
		at := u.bench()
		scene := eval[string](u, `[...document.querySelectorAll(".now .note")].map(n => n.textContent).find(t => t.includes("Rehearsal:")) ?? ""`)
		switch {
		case strings.Contains(scene, "parcel") && !played["ounces"]:
			played["ounces"] = true
			u.shows(at.Target / 28.3495)
			u.refused("Write it down")
			u.reads("#f-grams-err", "ounces")
			u.scale("lift")
			u.asAsked(at)
			continue
		case strings.Contains(scene, "gurgles") && !played["over"]:
			played["over"] = true
			u.shows(at.Target * 1.09)
			u.press("Write it down")
			u.reads("main", "over the mark")
			u.press("are back out")
			continue
		case strings.Contains(scene, "plug was pulled") && !played["contact"]:
			played["contact"] = true
			u.reads("#live", "out of contact")
			u.asAsked(at) // read off its display and typed
			u.scale("plug")
			continue
		case strings.Contains(scene, "stood for an hour"):
			played["hot"] = true
		case strings.Contains(scene, "putty") && !played["seized"]:
			played["seized"] = true
			u.open(strings.Replace(eval[string](u, `location.pathname`), "/make/", "/lots/", 1) + "/trouble/seized")
			u.do("stir on", chromedp.Evaluate[chromedp.Void](`document.querySelector("main input[name=way]")?.click()`))
			u.press("Put it on record")
			continue
		case strings.Contains(scene, "telephone rings") && !played["scent"]:
			played["scent"] = true
			u.refused("It is poured")
			u.reads("main", "Fig leaf")
			u.open(eval[string](u, `location.pathname`))
			continue
		}
		if at.Step == "pour" {
			break
		}
		if next := eval[string](u, `document.querySelector("section.border-madder [data-key=PageDown]")?.textContent.trim() ?? ""`); next != "" {
			u.press("Done") // a step of the way out comes first
			continue
		}
		u.asAsked(at)
	}
	u.press("It is poured")
	u.open("/rehearsal")
	t.Log(eval[string](u, `document.querySelector("main ol").innerText`))
	assert.Equal(t, 6, eval[int](u, `document.querySelectorAll("main ol > li .state-good").length`), "all are caught in time")
	u.accessible("how a rehearsal went")

	u.press("Leave it")
	assert.Equal(t, before, lots(), "nothing of it is a record")
	u.open(plan)
	u.reads("main", "Start")
	u.reads(".who", "Odile Marrow")
	u.noErrors()
}
