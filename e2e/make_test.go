package e2e_test

import (
	"fmt"
	"strconv"
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

// benchStep is the step that the bench shows.
type benchStep struct {
	Step   string
	Item   string
	Target float64 // g, of a weighing
}

func (u *user) bench() benchStep {
	u.t.Helper()
	text := eval[string](
		u,
		`(() => { const s = document.querySelector(".now"); return [s.querySelector("[name=step]")?.value ?? `+
			`(s.querySelector("#pour") ? "pour" : ""), s.querySelector("[name=item]")?.value ?? "", `+
			`s.querySelector("#target")?.textContent.replace(/[^0-9.]/g, "") ?? ""].join("|"); })()`,
	)
	words := strings.Split(text, "|")
	require.Len(u.t, words, 3)
	at := benchStep{Step: words[0], Item: words[1]}
	if words[2] != "" {
		g, err := strconv.ParseFloat(words[2], 64)
		require.NoError(u.t, err)
		at.Target = g
	}
	return at
}

// asAsked does a step as the bench asks for it, weights typed on their mark.
func (u *user) asAsked(at benchStep) {
	u.t.Helper()
	if at.Target > 0 {
		u.fill("grams", fmt.Sprint(at.Target)+" "+eval[string](u, `document.querySelector("#target .hand-unit").textContent`))
		u.press("Write it down")
		return
	}
	if strings.HasPrefix(at.Step, "eye:") {
		u.fill("grams", "4 g")
	}
	for field, value := range map[string]string{"liquid_c": "8 °C", "lye_c": "38 °C", "fats_c": "40 °C", "minutes": "7",
		"check_g": "500 g", "reads_g": "500 g"} {
		if eval[bool](u, fmt.Sprintf(`!!document.querySelector('.now [name="%s"]:not([type=hidden])')`, field)) {
			u.fill(field, value)
		}
	}
	if eval[bool](u, `!!document.querySelector('.now [name="onto"]')`) {
		u.do("into the fats", chromedp.Click(`.now [name="onto"][value="fats"]`))
	}
	if at.Step == "ready:scale" {
		u.press("Go on")
		return
	}
	u.press("Done")
}

// toThePour goes through the run as it is asked up to the pour; each sees every step before it is
// done.
func (u *user) toThePour(each func(at benchStep, title, text string)) {
	u.t.Helper()
	for n := 0; ; n++ {
		require.Less(u.t, n, 80)
		at := u.bench()
		if at.Step == "pour" {
			return
		}
		if each != nil {
			each(at, eval[string](u, `document.querySelector("#now-what").textContent`),
				eval[string](u, `document.querySelector(".now").textContent.replace(/\s+/g, " ")`))
		}
		u.asAsked(at)
	}
}

// fromPaper fills a whole sheet in at once, every weight on its mark.
func (u *user) fromPaper(more ...string) {
	u.t.Helper()
	u.press("Fill in from paper")
	pairs := append([]string{"day", "2026-03-13", "time", "16:20", "lye_c", "38", "fats_c", "41", "minutes", "35"}, more...)
	for _, row := range strings.Split(eval[string](u,
		`[...document.querySelectorAll("main [name^='weight.']")].map(i => i.name + "=" + `+
			`i.closest(".field").querySelector(".hint").textContent.replace(/[^0-9.]/g, "")).join("|")`),
		"|") {
		name, grams, _ := strings.Cut(row, "=")
		pairs = append(pairs, name, grams)
	}
	u.fill(pairs...)
	u.press("Put it on record")
}

// startsLot starts a lot of a recipe into one long loaf and returns its address.
func (u *user) startsLot(recipe string) (lot string) {
	u.t.Helper()
	loaf := u.oid("/molds", "Long loaf")
	u.freshPlan()
	u.fill("recipe", recipe, "count."+loaf, "1")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.press("Start the lot")
	u.reads("h1", recipe)
	return strings.Replace(eval[string](u, `location.pathname`), "/make/", "/lots/", 1)
}

// scale tells the simulated scale what happens on the bench.
func (u *user) scale(command string) {
	u.t.Helper()
	status := eval[int](
		u,
		fmt.Sprintf(
			`fetch("/bench/scale/tell", {method: "POST", body: new URLSearchParams({command: %q})}).then(r => r.status)`,
			command,
		),
	)
	require.Less(u.t, status, 300, command)
}

// shows waits until the scale stands still at about a weight.
func (u *user) shows(grams float64) {
	u.t.Helper()
	var got string
	for range 80 {
		got = eval[string](u, `(document.querySelector("#figure")?.textContent ?? "") + " " + `+
			`(document.querySelector("#live")?.textContent.replace(/\s+/g, " ") ?? "")`)
		if g, err := strconv.ParseFloat(strings.Fields(got + " x")[0], 64); err == nil && strings.Contains(got, "stands still") &&
			g > grams-0.5 &&
			g < grams+0.5 {
			return
		}
		time.Sleep(100 * time.Millisecond)
	}
	require.Failf(u.t, "the scale", "shows %q, not %v g", got, grams)
}

// A whole lot off the simulated scale: too much poured, ounces typed for grams,
// the pour tried without its scent, the plug pulled, and the power cut while an
// entry is on its way. Nothing is lost and nothing is there twice.
func TestALotIsMadeOffTheScaleThroughSlipsAPulledPlugAndAPowerCut(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Fig and black tea")
	u.accessible("the first step of make day")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	fats, scent := 0, ""
	want := map[string]float64{}
	for n := 0; ; n++ {
		require.Less(t, n, 60)
		at := u.bench()
		if at.Step == "pour" {
			break
		}
		if at.Target > 0 && want[at.Item] == 0 {
			want[at.Item] = at.Target
		}
		switch {
		case at.Item == "alkali:naoh":
			u.fill("grams", fmt.Sprintf("%.2f", at.Target/28.3495))
			u.refused("Write it down")
			u.reads("#f-grams-err", "ounces")
			u.asAsked(at)
		case strings.HasPrefix(at.Item, "fat:"):
			fats++
			switch fats {
			case 1: // too much, scooped back
				u.scale(fmt.Sprintf("put %.1f", at.Target*1.08))
				u.shows(at.Target * 1.08)
				u.reads("#live", "over")
				u.press("Write it down")
				u.reads("main", "over the mark")
				u.accessible("an over-pour")
				u.press("are back out")
			case 2: // a bottle runs out, then the plug is pulled
				part := float64(int(at.Target * 0.6))
				u.scale(fmt.Sprintf("pour %.1f 400", part))
				u.shows(part)
				u.press("Write it down")
				u.reads("#target", fmt.Sprint(int(at.Target-part)))
				u.scale("unplug")
				u.reads("#live", "out of contact")
				u.reads(".now", "are in")
				u.accessible("a scale out of contact")
				u.fill("grams", fmt.Sprintf("%.1f g", at.Target-part))
				u.press("Write it down")
				u.scale("plug")
			case 3: // the power is cut while the entry is on its way
				u.fill("grams", fmt.Sprint(at.Target))
				time.Sleep(700 * time.Millisecond)
				u.kill()
				u.rested()
				u.do("press", chromedp.Click(`.now button[data-key="PageDown"]`))
				u.reads("#outbox", "Not yet saved")
				u.crash()
				u.until("wait for the outbox", `localStorage.getItem("outbox") === "[]"`)
				time.Sleep(600 * time.Millisecond)
				u.open(bench)
			default:
				u.scale(fmt.Sprintf("put %.1f", at.Target))
				u.shows(at.Target)
				u.press("Write it down")
			}
		case strings.HasPrefix(at.Item, "additive:Fig"):
			scent = at.Item
			u.open(bench + "?step=pour")
			u.refused("It is poured")
			u.reads("#f-skipped-err", "Fig leaf and black tea")
			u.open(bench + "?step=weigh:" + at.Item)
			u.asAsked(at)
		case strings.HasPrefix(at.Step, "in:additive:Fig"):
			u.do("it accelerated", chromedp.Click(`.now [name="behaviour"][value="accelerates"]`), chromedp.Click("#f-remember"))
			u.press("Done")
		default:
			u.asAsked(at)
		}
	}
	require.NotEmpty(t, scent, "the recipe has its scent")
	require.GreaterOrEqual(t, fats, 3)
	u.reads("main", "All weighed")
	u.fill("left", "12 g")
	u.press("It is poured")
	u.reads("#now-what", "Tap out the bubbles")
	for range 3 {
		u.press("Done")
	}
	u.reads("main", "Ready to sell?")

	// The record: every item on its mark, once.
	u.open(lot)
	for item, grams := range want {
		got := eval[float64](
			u,
			fmt.Sprintf(
				`Number([...document.querySelectorAll("[data-item]")].find(r => r.dataset.item === %q)?.querySelector("[data-actual]").textContent)`,
				item,
			),
		)
		assert.InDelta(t, grams, got, grams*0.011+0.3, item)
	}
	u.reads("main", "by the scale")
	u.open("/scents")
	u.reads("main", "accelerates")
	u.noErrors()
}

// keys presses keys as a keyboard does, and waits for the page that follows.
func (u *user) keys(what, keys string) {
	u.t.Helper()
	before := eval[string](u, `window.beforeKeys = "same"; document.querySelector("input[name=key]").value`)
	u.rested()
	u.do(what, chromedp.KeyEvent(keys))
	for range 80 {
		if got := eval[string](u,
			`document.readyState === "complete" && document.querySelector("input[name=key]")?.value || ""`); got != "" &&
			got != before {
			time.Sleep(50 * time.Millisecond)
			return
		}
		time.Sleep(50 * time.Millisecond)
	}
	u.picture()
	require.Fail(
		u.t,
		"no page follows",
		"%s: %s",
		what,
		eval[string](u, `document.querySelector(".now")?.textContent.replace(/\s+/g, " ") ?? ""`),
	)
}

// tabTo moves the focus with the tabulator key until it is on a field.
func (u *user) tabTo(id string) {
	u.t.Helper()
	for range 60 {
		if eval[string](u, `document.activeElement.id`) == id {
			return
		}
		u.do("tab", chromedp.KeyEvent(kb.Tab))
	}
	require.Fail(u.t, "never reached "+id)
}

// Without a mouse: what is asked is focused or reached with the tabulator, a
// pedal's key goes on and back, and the back key of the pedal undoes nothing.
func TestALotIsMadeByKeyboardAlone(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 800, 1280)
	lot := u.startsLot("Slow olive")
	for n := 0; ; n++ {
		require.Less(t, n, 60)
		at := u.bench()
		if at.Step == "pour" {
			break
		}
		if n == 3 { // back is safe
			u.keys("back", kb.PageUp)
			assert.NotEqual(t, at.Step, u.bench().Step)
			u.keys("on", kb.PageDown)
			assert.Equal(t, at.Step, u.bench().Step)
		}
		switch {
		case at.Target > 0:
			u.tabTo("f-grams")
			u.do("type", chromedp.KeyEvent(fmt.Sprint(at.Target)))
			u.keys("enter", kb.Enter)
		case at.Step == "ready:scale": // no known weight is at hand, and the foot goes on
			u.keys("pedal", kb.PageDown)
		case at.Step == "lye:in":
			u.tabTo("f-liquid_c")
			u.do("type", chromedp.KeyEvent("19"))
			u.keys("pedal", kb.PageDown)
		case at.Step == "batter:warm":
			u.tabTo("f-lye_c")
			u.do("type", chromedp.KeyEvent("38"))
			u.tabTo("f-fats_c")
			u.do("type", chromedp.KeyEvent("40"))
			u.keys("enter", kb.Enter)
		default:
			u.keys("pedal", kb.PageDown)
		}
		require.NotEqual(
			t,
			at.Step+fmt.Sprint(at.Target),
			u.bench().Step+fmt.Sprint(u.bench().Target),
			eval[string](u, `document.querySelector(".now").textContent`),
		)
	}
	wide := eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`)
	assert.False(t, wide, "the bench fits a tablet held upright")
	u.keys("poured", kb.PageDown)
	u.reads("#now-what", "Tap out the bubbles")
	u.open(lot)
	u.reads("main", "light trace")
	u.noErrors()
}

// Two tablets at one pot: the second watches what the first writes, and takes
// over when it is asked to. A timer rings on its page.
func TestASecondTabletWatchesAndTakesOver(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	u.asAsked(u.bench())
	_, err := chromedp.Call(u.tab, network.ClearBrowserCookies, cdp.Empty{}) // another device
	require.NoError(t, err)
	u.open(bench)
	u.press("Bastian Thrupp")
	u.reads("main", "You are watching")
	u.accessible("a run that is watched")
	u.refused("Done")
	u.reads("#notice", "writes this run on")
	u.open(bench)
	u.press("Write here from now on")
	u.asAsked(u.bench())
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "You are watching")

	u.do("start a timer", chromedp.Click(`[data-timer="Blender rests"]`))
	u.reads("#timer-list", "Blender rests")
	u.do(
		"let a minute pass",
		chromedp.Evaluate[chromedp.Void](
			`localStorage.setItem("timers", JSON.stringify(JSON.parse(localStorage.getItem("timers")).map(t => ({...t, ends: Date.now() - 1}))))`,
		),
	)
	u.reads("#timer-list .rings", "now")
	u.reads("title", "(!) Blender rests")
	u.do("reload", chromedp.Reload())
	u.reads("#timer-list .rings", "now")
	u.do("stop it", chromedp.Click(`#timer-list button`))
	u.reads("title", "Lot")
}

// A sheet that was filled in with a pencil is put on record afterwards.
func TestAPaperSheetIsFilledInAfterTheDay(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	u.press("Fill in from paper")
	u.accessible("a sheet from paper")
	u.press("Put it on record")
	u.reads("main", "type the day and the hour")
	u.open(strings.Replace(lot, "/lots/", "/make/", 1))
	u.fromPaper("note", "slow and calm")
	u.reads("h1", "Lot")
	u.open(lot)
	u.reads("main", "poured Fri 13 Mar, 16:20")
	u.reads("main", "noted on paper")
	u.noErrors()
}

// What is still to go is read from a metre away at any size, and nothing that is touched is smaller than
// a wet thumb. A figure typed while nothing has the cursor goes into the weight.
func TestTheBenchIsReadFromAMetreAndPressedInWetGloves(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Slow olive")
	for u.bench().Target == 0 {
		u.asAsked(u.bench())
	}
	for _, size := range [][2]int64{{1280, 800}, {800, 1280}, {390, 844}} {
		u.do("size", chromedp.EmulateViewport(size[0], size[1]), chromedp.Sleep(300*time.Millisecond))
		u.until("the scale shows", `!!document.querySelector("#to-go")`)
		px := eval[float64](u, `parseFloat(getComputedStyle(document.querySelector("#to-go")).fontSize)`)
		assert.GreaterOrEqual(t, px, 96.0, "%v", size)
		small := eval[string](u, `[...document.querySelectorAll("#run :is(.btn, select), .btn-aid, #run input:not([type=hidden], `+
			`[type=checkbox], [type=radio])")].filter(e => !e.closest(".hand-demo") && e.checkVisibility() && `+
			`e.getBoundingClientRect().height < 64).map(e => e.textContent.trim() || e.name).join(", ")`)
		assert.Empty(t, small, "%v", size)
		assert.False(t, eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`), "%v: nothing is pushed off", size)
	}
	u.do("nowhere", chromedp.Evaluate[chromedp.Void](`document.activeElement.blur()`), chromedp.KeyEvent("4"), chromedp.KeyEvent("2"))
	assert.Equal(t, "42", eval[string](u, `document.getElementById("f-grams").value`))
	u.open(strings.Replace(lot, "/lots/", "/make/", 1))
	u.do("trouble", chromedp.KeyEvent("t"), chromedp.Sleep(600*time.Millisecond))
	assert.Contains(t, eval[string](u, `location.pathname`), "/trouble", "the keys of trouble work from the empty field too")
	u.noErrors()
}
