package e2e_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// atDemo opens the demo shop as one of its people.
func atDemo(t *testing.T, width, height int) *user {
	t.Helper()
	u := atBrowser(t, width, height)
	u.demoShop()
	u.start("demo", "-now", morning.Format(time.RFC3339))
	u.open("/")
	u.press("Odile Marrow")
	return u
}

// fill types into fields by their names, ticks and chooses, as a quick typist
// does; "x" ticks a box and "" clears one.
func (u *user) fill(pairs ...string) {
	u.t.Helper()
	require.Zero(u.t, len(pairs)%2)
	js, err := json.Marshal(pairs)
	require.NoError(u.t, err)
	missing := eval[string](u, fmt.Sprintf(`(() => { const p = %s; let missing = "";
		for (let i = 0; i < p.length; i += 2) {
			const f = document.querySelector('main [name="' + CSS.escape(p[i]) + '"]:not([type=hidden])');
			if (!f) { missing += p[i] + " "; continue; }
			const fold = f.closest("details.fold"); if (fold) fold.open = true; // it is opened before it is typed in
			if (f.type === "checkbox") f.checked = p[i+1] === "x";
			else if (f.tagName === "SELECT") { const o = [...f.options].find(o => o.value === p[i+1] || o.text === p[i+1]); if (!o) `+
		`missing += p[i] + "=" + p[i+1] + " "; else f.value = o.value; }
			else { f.focus(); f.value = p[i+1]; }
			f.dispatchEvent(new Event("input", {bubbles: true}));
		} return missing; })()`, js))
	require.Empty(u.t, missing, "fields that are not on the page")
}

// rows presses a button that adds a row until a list has n rows.
func (u *user) rows(list string, n int) {
	u.t.Helper()
	for range n {
		if eval[int](
			u,
			fmt.Sprintf(
				`[...document.querySelectorAll("main button")].filter(b => b.value.startsWith("remove %s[") && `+
					`!b.value.slice(%d).includes(".")).length`,
				list,
				len("remove "+list),
			),
		) >= n {
			return
		}
		u.do("add "+list, chromedp.Sleep(300*time.Millisecond)) // what was typed is on its way
		_, err := chromedp.Run(
			u.tab,
			chromedp.WaitEvent(
				page.LoadEventFired,
				nil,
				chromedp.Evaluate[chromedp.Void](fmt.Sprintf(`document.querySelector('main button[value="add %s"]').click()`, list)),
			),
		)
		require.NoError(u.t, err)
	}
}

// text fetches a path of the shop as somebody at the page would.
func (u *user) text(path string) string {
	u.t.Helper()
	return eval[string](u, fmt.Sprintf(`fetch(%q).then(r => r.text())`, path))
}

func (u *user) blend(pairs ...string) {
	u.t.Helper()
	u.rows("fats", len(pairs)/2)
	for i := 0; i < len(pairs); i += 2 {
		u.fill(fmt.Sprintf("fats[%d].fat", i/2), pairs[i], fmt.Sprintf("fats[%d].percent", i/2), pairs[i+1])
	}
}

var papers = map[string]chromedp.PaperSize{"A4": chromedp.PaperA4, "Letter": chromedp.PaperLetter}

// pages prints the page as a PDF and counts its sheets.
func (u *user) pages(paper chromedp.PaperSize) int {
	u.t.Helper()
	pdf, err := chromedp.Run(u.tab, chromedp.PrintToPDF(chromedp.PDFPaper(paper), chromedp.PDFPreferCSSPageSize()))
	require.NoError(u.t, err)
	if dir := os.Getenv("SHOTS"); dir != "" {
		_ = os.WriteFile(filepath.Join(dir, u.t.Name()+".pdf"), pdf, 0o644)
	}
	return bytes.Count(
		pdf,
		[]byte("/Type /Page\n"),
	) + bytes.Count(
		pdf,
		[]byte("/Type /Page/"),
	) + bytes.Count(
		pdf,
		[]byte("/Type/Page/"),
	)
}

// What a maker enters without paper: each comes out right, warns where it
// should, prints, and comes back from a file as it went.
func TestRecipesAreWrittenFromScratchPrintAndComeBackFromAFile(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	for _, c := range []struct {
		name  string
		write func()
		says  []string // among the answers
	}{
		{"Milk bar", func() {
			u.blend("olive", "55", "coconut", "25", "lard", "20")
			u.fill("superfat_percent", "3")
			u.rows("liquids", 2)
			u.fill("liquids[0].liquid", "water", "liquids[0].percent", "10", "liquids[1].liquid", "goat-milk", "liquids[1].percent", "90")
			u.reads("#answers", "Not a soap yet") // ten percent of water holds no lye
			u.press("Share out")
			u.reads("#answers", "Goat milk")
		}, []string{"of it from goat milk", "Water (distilled or soft) 1"}},
		{"Brine bar", func() {
			u.blend("coconut", "60", "olive", "40")
			u.fill("superfat_percent", "10", "liquids[0].liquid", "brine", "process.kind", "brine-bar")
		}, []string{"g of salt made up with", "stays cloudy", "Coconut-type fats are 60 %"}},
		{"Third salt bar", func() {
			u.blend("coconut", "80", "olive", "20")
			u.fill("superfat_percent", "18", "additives[0].name", "Sea salt (fine)", "additives[0].stage", "trace",
				"additives[0].rate.value", "33,3", "additives[0].rate.basis", "percent-of-fats")
		}, []string{"Sea salt (fine) at trace 333.0 g", "a salt loaf crumbles under the wire"}},
		{"All olive", func() {
			u.blend("evoo", "100")
			u.fill("water.basis", "percent-of-fats", "water.value", "20")
		}, []string{"Liquid in all 200.0 g", "128.68", "Very long: patience"}},
		{"Two colours", func() {
			u.blend("olive", "60", "coconut", "30", "castor", "10")
			u.rows("portions", 2)
			u.fill("portions[0].name", "blue", "portions[0].percent", "60", "portions[0].tone", "sky", "portions[1].name", "white",
				"portions[1].percent", "40", "portions[1].tone", "white")
			u.fill("portions[0].colorants[0].name", "Mica", "portions[0].colorants[0].rate.basis", "tsp-per-lb-fats",
				"portions[0].colorants[0].rate.value", "1", "portions[0].colorants[0].disperse.in", "olive-oil")
			u.fill("portions[1].colorants[0].name", "Titanium dioxide (water-dispersible)", "portions[1].colorants[0].rate.basis",
				"tsp-per-lb-fats", "portions[1].colorants[0].rate.value", "1", "portions[1].colorants[0].disperse.in", "water")
			u.rows("design", 3)
			u.fill("design[0].do", "pour", "design[0].portion", "blue", "design[0].percent", "80", "design[1].do", "pour",
				"design[1].portion", "white", "design[2].do", "drizzle", "design[2].portion", "blue", "design[2].note", "thin")
		}, []string{"stirred into 11.8 g of the batch's own Olive oil", "stirred into 4.3 g of the batch's own Water",
			"Drizzle over it “blue”: thin"}},
		{"Shave soap", func() {
			u.blend("stearic", "50", "coconut", "25", "castor", "15", "tallow", "10")
			u.fill("alkali.naoh_percent", "40", "superfat_percent", "4", "process.kind", "shave", "temperature", "hot")
		}, []string{"Sodium hydroxide", "NaOH saponifies 40 % and is 30 % of the lye by weight", "Hardly any", "It stays in its jar"}},
		{"Sink soap", func() {
			u.blend("olive", "60", "coconut", "40")
			u.fill("alkali.naoh_percent", "0", "superfat_percent", "-3", "process.kind", "cooked", "dilution.soap_percent", "26",
				"dilution.glycerin_percent", "4", "water.basis", "lye-strength", "water.value", "30")
		}, []string{"Potassium hydroxide", "Thinned to liquid soap", "Citric acid, at the most", "never unmolded or cut", "Made up to"}},
		{"Sour bar", func() {
			u.blend("olive", "70", "coconut", "30")
			u.fill("liquids[0].liquid", "vinegar")
		}, []string{"Acids take", "takes up", "points of superfat; it is counted"}},
		{"Speckled bar", func() {
			u.blend("olive", "70", "coconut", "30")
			u.fill("additives[0].name", "Buckwheat husks", "additives[0].rate.value", "1", "additives[0].rate.basis", "tsp-per-lb-fats")
			u.reads("#answers", "Without Buckwheat husks")
			u.reads("#answers", "Superfat in the pot 5.0 %") // what can be worked out is shown
			u.until("the field that is wanted is folded out",
				`document.querySelector('[name="additives[0].rate.grams_per_tsp"]').checkVisibility()`)
			u.fill("additives[0].rate.grams_per_tsp", "2.1")
		}, []string{"Buckwheat husks at trace 4.6 g"}},
		{"House oil", func() {
			u.blend("House oil", "100")
			u.fill("fats[0].sap_koh_mg_per_g", "189", "fats[0].density_g_per_ml", "0.91", "fats[0].like", "olive-oil")
			u.reads("#answers", "5.0 % (2 to 8)")
			u.fill("fats[0].certified", "x")
		}, []string{"5.0 % (4 to 6)"}},
		{"Cooked shea", func() {
			u.blend("olive", "62", "coconut", "33", "shea", "5")
			u.fill("fats[2].after_cook", "x")
			u.reads("#answers", "only cooked soap has an after the cook")
			u.fill("process.kind", "cooked")
		}, []string{"Shea butter", "cooked soap comes out the same evening"}},
		{"Nettle", func() {
			u.blend("olive", "70", "coconut", "30")
			u.rows("infusions", 1)
			u.fill("infusions[0].fat", "olive-oil", "infusions[0].herb", "Dried sage")
		}, []string{"start with 919 g of oil and 91.9 g of herb", "hot oil is never left alone"}},
	} {
		u.open("/recipes/new")
		u.fill("name", c.name)
		c.write()
		for _, s := range c.says {
			u.reads("#answers", s)
		}
		u.press("Keep the recipe")
		u.reads("main", "Keep as revision 2")
		at := eval[string](u, `location.pathname`)
		file := u.text(at + "/recipe.json")
		require.Contains(t, file, c.name)
		u.open("/recipes/import")
		u.do("paste", chromedp.SetValue("#f-text", file))
		u.press("Look what is in it")
		u.reads("main", "the book has one of this name")
		u.fill("same", "beside")
		u.press("Take 1 in")
		u.reads("h1", "Recipes")
		twins := eval[[]string](
			u,
			fmt.Sprintf(
				`[...document.querySelectorAll("main li h2 a")].filter(a => a.textContent === %q).map(a => a.pathname)`,
				c.name,
			),
		)
		require.Len(t, twins, 2)
		assert.Equal(t, u.text(twins[0]+"/recipe.json"), u.text(twins[1]+"/recipe.json"), "it comes back as it went")
		assert.Contains(t, u.text(at+"/blend.csv"), "what,kind,percent,grams")
		u.open(at + "/card")
		u.reads("article", "in the order of the work")
		for size, paper := range papers {
			n := u.pages(paper)
			assert.GreaterOrEqual(t, n, 1)
			assert.LessOrEqual(t, n, 2, "%s on %s", c.name, size)
		}
	}
	u.noErrors()
}

// Every recipe of the demo's book is put on the bench and kept again unchanged:
// the form loses nothing.
func TestTheBenchLosesNothingOfARecipe(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes")
	for _, at := range eval[[]string](u, `[...document.querySelectorAll("main li h2 a")].map(a => a.pathname)`) {
		before := u.text(at + "/recipe.json")
		u.open(at)
		u.press("Keep as revision")
		assert.Equal(t, before, u.text(at+"/recipe.json"), at)
	}
}

func TestTheBookIsSearchedComparedAndForeignRecipesAreChecked(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes")
	u.fill("q", "tallow stearic")
	u.press("Find")
	assert.Equal(
		t,
		[]string{"Barber's stone"},
		eval[[]string](u, `[...document.querySelectorAll("main li h2")].map(a => a.textContent)`),
	)
	u.open("/recipes?life=tested")
	u.open("/recipes?q=no+such+thing")
	u.reads("main", "No recipe is like that")

	u.open("/recipes")
	u.do("open", chromedp.Click(`//main//a[.="Fig and black tea"]`))
	u.reads("h1", "Fig and black tea")
	u.press("Side by side")
	u.reads("table", "2.5 % of fats")
	u.back()
	u.reads("h2", "Fats")
	u.open(eval[string](u, `location.pathname`))
	u.press("Retired")
	u.reads(".life", "Retired")
	u.open("/recipes")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Fig and black tea")

	u.open("/recipes/check")
	u.fill("fats", "500 g olive oil\n300 g coconut\n200 g moon oil", "lye", "150 g")
	u.press("Check it")
	u.reads("#f-fats-err", "moon oil")
	assert.Contains(t, eval[string](u, `document.getElementById("f-fats").value`), "moon oil", "what was pasted stays")
	u.fill("fats", "500 g olive oil\n300 g coconut\n200 g tallow", "lye", "150 g")
	u.press("Check it")
	u.reads("main", "Lye-heavy")
	u.press("Write it on the bench")
	u.reads("#answer-naoh", "143.24")
	u.fill("name", "From a page")
	u.press("Keep the recipe")
	u.reads("h1", "From a page")
	u.noErrors()
}

func TestScentsAndTeaspoonsOfTheStoresReachTheBench(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/scents")
	u.fill("spoon", "Mica", "spoon_grams", "a lot")
	u.press("Note it")
	u.reads("#f-spoon_grams-err", "not a number")
	u.fill("spoon_grams", "2,1")
	u.press("Note it")
	u.reads("#spoons", "2.1 g")
	u.press("Note a scent")
	u.fill("name", "Fig wood", "scent.supplier", "Wendle & Tarr", "scent.max_percent", "500")
	u.reads("#f-scent-max_percent-err", "between 0 and 100")
	u.fill("scent.max_percent", "1.5", "scent.stated", "behaves", "scent.observed", "accelerates")
	u.press("Keep the scent")
	u.reads("h1", "Fig wood")

	u.open("/recipes/new")
	u.fill("name", "Fig wood bar")
	u.blend("olive", "70", "coconut", "30")
	u.fill(
		"scent.rate_percent_of_fats",
		"3",
		"scent.parts[0].name",
		"Fig wood (Wendle & Tarr)",
		"additives[0].name",
		"Mica",
		"additives[0].rate.basis",
		"tsp-per-lb-fats",
		"additives[0].rate.value",
		"1",
	)
	u.reads("#answers", "its supplier's maximum is 1.5 %")
	u.reads("#answers", "Mica in the fats 4.6 g")
	u.fill("scent.over_maximum_because", "assessed at 3 %")
	u.reads("#answers", "Reason given: assessed at 3 %")
	u.accessible("the bench with a scent")
	u.noErrors()
}

// The caret stays where it is, whatever is typed in how many fields.
func TestTheAnswersNeverMoveTheCaret(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/new")
	u.blend("olive", "70", "coconut", "30")
	u.do("focus", chromedp.Focus("#f-superfat_percent"))
	u.typeIn("f-superfat_percent", "6.25")
	u.do(
		"the caret between two digits",
		chromedp.Evaluate[chromedp.Void](`document.getElementById("f-superfat_percent").setSelectionRange(2, 2)`),
	)
	u.do("a digit", chromedp.SendKeys("#f-superfat_percent", "1"))
	u.reads("#answer-superfat", "6.")
	time.Sleep(600 * time.Millisecond)
	assert.Equal(t, "f-superfat_percent", eval[string](u, `document.activeElement.id`))
	assert.True(t, strings.HasPrefix(eval[string](u, `document.activeElement.value`), "6"))
	assert.Equal(t, eval[int](u, `document.activeElement.selectionStart`), eval[int](u, `document.activeElement.selectionEnd`))
}

// The joints of the blend are moved by key and by hand: what one fat gives its neighbour takes, a locked
// one gives nothing, and the answers follow.
func TestTheBlendIsOneBarWhoseJointsAreMoved(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/" + u.oid("/recipes", "Ewe morning"))
	shares := func() string {
		return eval[string](u, `[...document.querySelectorAll("[name^='fats['][name$='.percent']")].map(e => e.value).join(" ")`)
	}
	joint := func(n int) string { return fmt.Sprintf(`document.querySelectorAll("#blend .joint")[%d]`, n) }
	require.Equal(t, "50 22 20 8", shares())
	u.do("on the first joint", chromedp.Evaluate[chromedp.Void](joint(0)+`.focus()`), chromedp.KeyEvent(kb.ArrowRight),
		chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.PageDown))
	assert.Equal(t, "47 25 20 8", shares())
	assert.Equal(t, "Olive oil 47 %, Coconut oil (24 C melt) 25 %", eval[string](u, joint(0)+`.getAttribute("aria-valuetext")`))
	u.reads("#answers", "470.0")
	u.accessible("the blend as a bar")
	at := eval[[]float64](u, `(() => { const r = `+joint(1)+`.getBoundingClientRect(), w = document.querySelector("#blend").clientWidth; `+
		`return [r.x + r.width / 2, r.y + r.height / 2, w]; })()`)
	u.do("drag", chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, at[0], at[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+at[2]/20, at[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+at[2]/10, at[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, at[0]+at[2]/10, at[1], chromedp.ButtonLeft))
	assert.Equal(t, "47 35 10 8", shares(), "a tenth of the bar is a tenth of the blend")

	// A fat goes to another place, with its share and its lock, by key and by hand.
	first := func() string { return eval[string](u, `document.querySelector("[name='fats[0].fat']").value`) }
	place := func(n int) string { return fmt.Sprintf(`document.querySelectorAll("#blend .place")[%d]`, n) }
	require.Contains(t, first(), "Olive")
	u.do("on the first fat", chromedp.Evaluate[chromedp.Void](place(0)+`.focus()`), chromedp.KeyEvent(kb.ArrowRight))
	assert.Equal(t, "35 47 10 8", shares())
	assert.Contains(t, first(), "Coconut")
	assert.Contains(t, eval[string](u, `document.activeElement.textContent`), "Olive", "the cursor goes along")
	mid := func(n int) []float64 {
		return eval[[]float64](u, `(() => { const r = `+place(n)+`.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	}
	from, to := mid(1), mid(0)
	u.do("drag it back", chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, from[0], from[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, to[0]+10, to[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, to[0]-20, to[1], chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, to[0]-20, to[1], chromedp.ButtonLeft))
	assert.Equal(t, "47 35 10 8", shares())

	u.fill("fats[1].held", "x")
	assert.True(t, eval[bool](u, joint(0)+`.disabled && `+joint(1)+`.disabled`), "what is locked stays")
	u.fill("fats[0].percent", "200 g")
	assert.True(t, eval[bool](u, `document.querySelector("#blend").hidden`), "a weight has no place on a bar of shares")
	u.fill("fats[0].percent", "47", "fats[3].fat", "olliv")
	u.reads("#f-fats-3-fat-err", "did you mean Olive oil?")
	u.noErrors()
}

// Who has no hand for a mouse writes a recipe all the same: what is folded is opened, a row added, a choice
// made and the recipe kept with keys alone.
func TestARecipeIsWrittenWithTheKeyboardAlone(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/new")
	typed := func(id, text string) {
		u.tabTo(id)
		u.do("type into "+id, chromedp.KeyEvent(text))
	}
	typed("f-name", "Barley bar")
	typed("f-fats-0-fat", "olive oil")
	typed("f-fats-0-percent", "70")
	typed("f-fats-1-fat", "coconut oil")
	typed("f-fats-1-percent", "30")
	u.reads("#answers", "Superfat")
	for range 40 {
		if eval[string](u, `document.activeElement.closest("summary")?.parentElement.id ?? ""`) == "additives" {
			break
		}
		u.do("tab", chromedp.KeyEvent(kb.Tab))
	}
	u.do("fold out", chromedp.KeyEvent(" "))
	typed("f-additives-0-name", "Oatmeal powder")
	typed("f-additives-0-rate-value", "2")
	u.tabTo("f-note")
	u.do("on to the button", chromedp.KeyEvent(kb.Tab))
	require.Contains(t, eval[string](u, `document.activeElement.textContent`), "Keep")
	u.keys("keep", kb.Enter)
	u.reads("main", "Barley bar")
	u.reads("main", "Revision 1")
	u.noErrors()
}

// A cheaper blend for the same bar is worked out, seen beside the one that it is, and taken over as a draft.
func TestACheaperBlendIsTakenAsADraft(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 900)
	u.open("/recipes")
	u.press("Fig and black tea")
	u.press("Another blend for the same bar")
	u.press("Work it out")
	u.reads("main", "A kilo of fats costs")
	u.reads("main", "a point more would save")
	u.accessible("another blend")
	sunflower := eval[string](u, `[...document.querySelectorAll(".blends tr")].find(r => r.textContent.includes("Sunflower oil (high oleic)"))
		.querySelectorAll("td")[1].textContent.trim()`)
	require.NotEmpty(t, sunflower)
	u.press("Take it as a draft")
	u.until("the bench has it", `location.hash === "#fats"`)
	u.until("with its share", fmt.Sprintf(`[...document.querySelectorAll("input[name$='.fat']")].some((i, n) =>
		i.value.startsWith("Sunflower oil (high") && document.querySelectorAll("input[name$='.percent']")[n].value + " %%" === %q)`, sunflower))
	assert.Equal(t, "another blend for the same bar", eval[string](u, `document.getElementById("f-note").value`))
	u.back()
	u.reads("h1", "Another blend")
	u.noErrors()
}
