package e2e_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// oid finds the identity of a mold, recipe or tool by its name in a room.
func (u *user) oid(room, name string) string {
	u.t.Helper()
	u.open(room)
	at := eval[string](
		u,
		fmt.Sprintf(`[...document.querySelectorAll("main a")].find(a => a.textContent.trim() === %q)?.pathname ?? ""`, name),
	)
	require.NotEmpty(u.t, at, "%s in %s", name, room)
	return at[strings.LastIndex(at, "/")+1:]
}

// fresh opens an empty plan bench.
func (u *user) freshPlan() {
	u.t.Helper()
	u.open("/plan")
	u.press("Start over")
	u.reads("#answers", "Choose a recipe")
}

// by chooses what the plan is counted by.
func (u *user) by(what string) {
	u.t.Helper()
	u.do("by "+what, chromedp.Click("#by-"+what))
}

func TestADayOfPlansComesTogetherOnTheBenchList(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	loaf, slab := u.oid("/molds", "Long loaf"), u.oid("/molds", "Birch slab")

	// Two loaves of one and a slab of another in a day.
	for _, p := range []struct{ recipe, mold, count string }{{"Slow olive", loaf, "2"}, {"Drover tallow", slab, "1"}} {
		u.freshPlan()
		u.fill("recipe", p.recipe, "count."+p.mold, p.count, "day", "2026-04-02")
		u.reads("#answers", "One pot of")
		u.press("Keep this plan")
		u.reads("h1", p.recipe)
		for size, paper := range papers {
			assert.LessOrEqual(t, u.pages(paper), 2, "the sheet of a simple recipe on %s", size)
		}
	}
	u.open("/plan/day/2026-04-02")
	order := func() []string {
		return eval[[]string](u, `[...document.querySelectorAll("main ol a.x, main ol strong a")].map(a => a.textContent)`)
	}
	assert.Equal(t, []string{"Slow olive", "Drover tallow"}, order(), "the slow one first, what may seize last")
	u.reads("main", "Hay and vetiver")
	u.reads("main", "2 × Long loaf")
	u.do("move", chromedp.Click(`button[aria-label="Drover tallow earlier"]`))
	u.reads("main ol li", "Drover tallow")
	assert.Equal(t, []string{"Drover tallow", "Slow olive"}, order(), "and as somebody puts it")
	u.crash()
	u.open("/plan/day/2026-04-02")
	assert.Equal(t, []string{"Drover tallow", "Slow olive"}, order())
	u.open("/plan/day/2026-02-31")
	u.reads("h1", "Not on the shelf")
	u.mu.Lock()
	u.wrong = nil // the console mentions the day that is not there
	u.mu.Unlock()
	u.open("/plan")
	u.fill("recipe", "Slow olive", "count."+loaf, "1", "day", "tomorrow")
	u.press("Keep this plan")
	u.reads("#f-day-err", "type the day like 14 Mar 2026")
	u.noErrors()
}

// The figures of plans of every kind are looked at without a browser.
func TestAPlanIsAnsweredWhileItIsTypedKeptAndStartedPotByPot(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	loaf, slab := u.oid("/molds", "Long loaf"), u.oid("/molds", "Birch slab")

	// An odd cavity mold that is known only by its water, one and all.
	u.open("/molds/new")
	u.fill("name", "Moon tray", "material", "silicone")
	u.do("water", chromedp.Click("#shape-water"))
	u.fill("mold.cavities", "8", "mold.water_g", "96 g", "mold.water_all_g", "700 g")
	u.reads("#f-mold-water_all_g-err", "8 × 96 g = 768 g")
	u.fill("mold.water_all_g", "772")
	u.reads("#answer-volume", "772 ml")
	u.accessible("a mold by water")
	u.press("Keep the mold")
	moons := eval[string](u, `location.pathname.split("/").pop()`)

	u.freshPlan()
	u.fill("recipe", "Quern base", "count."+moons, "3")
	u.reads("#answers", "24")
	u.reads("#answers", "Moon tray as they come")
	u.fill("count."+moons, "minus one")
	u.reads("#f-count-"+moons+"-err", "not a")
	u.accessible("the plan bench with a problem")

	// Sheep milk to its last gram, on whatever scale.
	u.freshPlan()
	u.fill("recipe", "Ewe morning")
	u.by("use-up")
	u.fill("use_up.name", "moon milk", "use_up.grams", "830 g")
	u.reads("#f-use_up-name-err", "not in the recipe")
	u.fill("use_up.name", "Sheep milk")
	u.reads("#answers", "Sheep milk into the fats or the batter, never onto hot lye 830")
	u.press("Keep this plan")
	u.reads("main", "830")
	assert.Contains(t, u.text(eval[string](u, `location.pathname`)+"/sheet.csv"), "Sheep milk,830")
	assert.Contains(t, u.text(eval[string](u, `location.pathname`)+"/plan.json"), `"format": "ashshelf.plan/1"`)

	// An order that needs three pots, and what the jug says to it.
	u.freshPlan()
	u.fill("recipe", "Quern base", "count."+loaf, "3", "count."+slab, "1")
	u.fill(
		"pot",
		eval[string](u, `[...document.querySelector("#f-pot").options].find(o => o.text.startsWith("Small steel pot")).value`),
	)
	u.reads("#answers", "3 equal pots of")
	assert.Equal(
		t,
		3,
		eval[int](u, `[...document.querySelectorAll("#answers svg text")].filter(t => t.textContent.startsWith("Pot ") && `+
			`!t.closest("#groups")).length`),
		"each pot is drawn with its molds",
	)
	u.reads("#groups", "No mold is then filled from two different pots")
	u.reads("#answers", "What one mold more would do")
	u.press("Keep this plan")
	plan := eval[string](u, `location.pathname`)
	for pot := 1; pot <= 3; pot++ {
		u.open(plan)
		u.reads("main", fmt.Sprintf("Start pot %d of 3", pot))
		u.press(fmt.Sprintf("Start pot %d", pot))
		u.reads("main", "Clear and wipe the bench")
	}
	u.open(plan)
	assert.Equal(t, 3, eval[int](u, `document.querySelectorAll("main a[href^='/lots/']").length`), "each pot is a lot")

	u.noErrors()
}

// A mold that comes too full is planned with less the next time.
func TestAMoldLearnsThroughThePagesAndForgets(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/molds/new")
	u.fill(
		"name",
		"New loaf",
		"mold.length_mm",
		"250",
		"mold.width_mm",
		"80",
		"mold.fill_mm",
		"60",
		"mold.height_mm",
		"85",
		"cut.thickness_mm",
		"25",
	)
	u.reads("#answer-volume", "1200 ml")
	u.press("Keep the mold")
	loaf := eval[string](u, `location.pathname.split("/").pop()`)
	for range 2 {
		u.freshPlan()
		u.fill("recipe", "Slow olive", "count."+loaf, "1")
		u.reads("#answers", "One pot of")
		u.press("Keep this plan")
		u.press("Start the lot")
		u.fromPaper("off."+loaf, "a bit")
		u.reads("#f-off-"+loaf+"-err", "not a number")
		u.fill("off."+loaf, "-2 mm")
		u.press("Put it on record")
		u.reads("h2", "Ready to sell?")
	}
	u.open("/molds/" + loaf)
	u.reads("main", "+3.4 % from 2 pours") // 60 ÷ 58
	u.reads("#answer-volume", "1241 ml")
	u.accessible("a mold that has learned")
	u.press("Start anew")
	u.reads("#answer-volume", "1200 ml")
	u.open("/lots")
	u.do("the newest lot", chromedp.Click(`main table a.code`))
	u.reads("h2", "Ready to sell?")
	u.press("Twice as much")
	u.reads("#answers", "20")
	assert.Equal(t, "2", eval[string](u, fmt.Sprintf(`document.querySelector('[name="count.%s"]').value`, loaf)))
	u.noErrors()
}

func TestEquipmentIsKept(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/equipment")
	u.press("Add equipment")
	u.fill("name", "Copper kettle", "ml", "six litres")
	u.reads("#f-ml-err", "not a number")
	u.fill("ml", "6 l", "tare", "2 lb 3 oz")
	u.press("Keep it")
	u.open("/equipment")
	u.reads("main", "6000 ml")
	u.reads("main", "992 g")
	u.open("/settings")
	u.fill("fine_step", "5 g")
	u.press("Keep the settings")
	u.reads("#f-fine_step-err", "finer than the bench scale")
	u.noErrors()
}

// The three plans of a day become lanes; a lye that is dragged by ten minutes takes with it what it must, and a second jug
// is seen to save time.
func TestAPlannedDayBecomesLanes(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 900)
	u.open("/plan/day/2026-03-15")
	u.press("Who does what when")
	u.reads("main", "All is done at")
	u.reads("main", "One more jug: done")
	u.reads("main", "Lye cools")
	u.accessible("the hours of a day")
	const ends = `document.querySelector(".hours-end b").textContent`
	before := eval[string](u, ends)
	steps := eval[int](u, `document.querySelectorAll("#hours-list li").length`)
	require.Greater(t, steps, 30)
	from := eval[int](u, `Number([...document.querySelectorAll("#hours-list li")].find(
		l => l.dataset.step === "Swifts at dusk|Weigh and mix the lye").dataset.from)`)
	const drag = `(() => {
		const block = [...document.querySelectorAll("#hours [data-step]")].find(b => b.dataset.step === %q);
		const at = block.getBoundingClientRect();
		const send = (type, x) => block.dispatchEvent(new PointerEvent(type, {bubbles: true, pointerId: 1, isPrimary: true,
			clientX: x, clientY: at.top + 5}));
		block.setPointerCapture = () => {};
		const lanes = document.getElementById("hours");
		const minute = Number(lanes.dataset.minute) * lanes.querySelector("svg").getBoundingClientRect().width / Number(lanes.dataset.width);
		const to = at.left + 3 + %d * minute;
		send("pointerdown", at.left + 3); send("pointermove", to); send("pointerup", to);
	})()`
	u.do("drag", chromedp.Evaluate[chromedp.Void](fmt.Sprintf(drag, "Swifts at dusk|Weigh and mix the lye", 10)))
	u.until("it is moved", `location.search.includes("at=") && (document.body?.textContent ?? "").includes("Had all else stayed")`)
	moved := `[...document.querySelectorAll("#hours-list li")].find(l => l.dataset.step === "Swifts at dusk|%s")?.dataset.from`
	assert.Equal(t, strconv.Itoa(from+10), eval[string](u, fmt.Sprintf(moved, "Weigh and mix the lye")))
	mixed := eval[string](u, `[...document.querySelectorAll("#hours-list li")].find(
		l => l.dataset.step === "Swifts at dusk|Weigh and mix the lye").children[1].textContent.trim()`)
	cools := eval[string](u, `[...document.querySelectorAll("#hours-list li")].find(
		l => l.dataset.step === "Swifts at dusk|Lye cools").children[0].textContent.trim()`)
	assert.Equal(t, mixed, cools, "nothing keeps lye from cooling")
	assert.Equal(t, steps, eval[int](u, `document.querySelectorAll("#hours-list li").length`), "nothing is lost")

	// It is kept for whoever looks at the day; what is moved then is moved besides.
	u.press("Keep it for this day")
	u.reads("main", "as it was kept for this day")
	u.open("/plan/day/2026-03-15/hours")
	u.reads("#hours-list", "you put it there")
	const fixed = `document.querySelectorAll("#hours-list li.is-fixed").length`
	assert.Equal(t, 1, eval[int](u, fixed))
	u.do("drag", chromedp.Evaluate[chromedp.Void](fmt.Sprintf(drag, "Swifts at dusk|Cover and clean up", 20)))
	u.until("both are moved", `location.search.includes("at=") && `+fixed+` === 2`)
	u.press("As usual again")
	u.until("nothing is kept", `document.readyState === "complete" && !location.search.includes("at=") && `+fixed+` === 0`)
	u.fill("jug", "2")
	u.press("Lay it")
	u.until("with a second jug", `location.search.includes("jug=2") && document.querySelector(".hours-end b") !== null`)
	assert.Less(t, eval[string](u, ends), before, "it is all done earlier")
	u.fill("hands", "nobody")
	u.press("Lay it")
	u.reads("main", "say how many there are, as a whole number")
	assert.Equal(t, "nobody", eval[string](u, `document.getElementById("f-hands").value`), "what was typed is kept")

	// On make day the next thing of all pots is the first line, and a pot that is started joins them.
	u.open("/make")
	u.reads("#next", "Now Get ready 13-Y, Ewe morning")
	u.accessible("what is next")
	u.open("/plan/day/2026-03-15")
	u.press("Quern base")
	u.press("Start")
	u.reads("#next", "Quern base")
	u.reads("#next", "13-Y, Ewe morning")
	u.noErrors()
}
