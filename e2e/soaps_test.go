package e2e_test

import (
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// figure is the first number of a text that a pattern finds in its first group.
func figure(t *testing.T, text, pattern string) float64 {
	t.Helper()
	m := regexp.MustCompile(pattern).FindStringSubmatch(text)
	require.NotNil(t, m, "%s in %q", pattern, text)
	v, err := strconv.ParseFloat(m[1], 64)
	require.NoError(t, err)
	return v
}

// A salt bar in two colours, one by eye and one scented: each portion is half of what is in the pot, salt
// and all; the scent goes into the white one alone; what was stirred in by eye is on record.
func TestASaltBarInTwoColoursWeighsWhatIsInThePot(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes/new")
	u.fill("name", "Tide line", "superfat_percent", "18")
	u.blend("coconut", "80", "olive", "20")
	u.fill("additives[0].name", "Sea salt (fine)", "additives[0].stage", "trace", "additives[0].rate.value", "50",
		"additives[0].rate.basis", "percent-of-fats")
	u.rows("portions", 2)
	u.fill("portions[0].name", "silt", "portions[0].percent", "1/2", "portions[0].tone", "earth", "portions[1].name", "white",
		"portions[1].percent", "1/2", "portions[1].tone", "white", "portions[0].colorants[0].name", "Cocoa powder",
		"portions[0].colorants[0].rate.basis", "by-eye")
	u.press("Keep the recipe")
	u.fill("scent.parts[0].name", "Samphire (Carrick Row Oils)", "scent.rate_percent_of_fats", "2", "scent.portions", "White")
	u.reads("#answers", "Samphire")
	u.press("Keep as revision")
	u.press("Plan it")
	u.by("fats")
	u.fill("fats_g", "1000 g")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.reads("main", "by eye")
	u.press("Start the lot")
	weighed, split := 0.0, map[string]float64{}
	seen := ""
	u.toThePour(func(at benchStep, title, text string) {
		seen += title + "; "
		if name, ok := strings.CutPrefix(at.Step, "portion:"); ok {
			split[name] = figure(t, title, `: (\d+) g`)
		}
		// All that is weighed before the split goes into the pot but what is for a portion alone.
		if at.Target > 0 && !strings.Contains(at.Item, "white") {
			weighed += at.Target
		}
		if strings.HasPrefix(at.Step, "eye:") {
			u.accessible("a colour by eye")
		}
	})
	assert.InDelta(t, weighed/2, split["silt"], 2, "half of what is in the pot, salt and all")
	assert.InDelta(t, weighed/2, split["white"], 2)
	assert.Contains(t, seen, "Cocoa powder by eye, into “silt”")
	assert.Contains(t, seen, "into “white”")
	lot := strings.Replace(eval[string](u, `location.pathname`), "/make/", "/lots/", 1)
	u.press("It is poured")
	u.open(lot)
	u.reads("main", "Cocoa powder, into “silt”")
	u.reads("main", "4 g")
	u.noErrors()
}

// Bars of a young lot are diced and the scraps go into another soap, to its last bar: what was diced left
// the stock, the new lot takes the scraps as they were weighed, and its bars count them in.
func TestConfettiIsMadeOfDicedBarsToItsLastBar(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lot := u.startsLot("Quern base")
	code := strings.TrimSpace(figureless(eval[string](u, `document.querySelector("h1").textContent`)))
	u.fromPaperOn("2026-03-13", "08:30")
	u.open(lot)
	u.press("It is out")
	u.fill("first", "9", "halves", "2", "bar", "120", "trimmings", "30 g")
	u.press("Put them on the rack")
	u.reads(".gate", "day 1 of 28")
	u.do("open", chromedp.Click(`//summary[contains(., "Dice, shave or press")]`))
	u.fill("source", "first grade", "pieces", "12", "shape", "scraps", "shape_grams", "400 g")
	u.press("Record the pieces")
	u.reads("#f-pieces-err", "only 9 first grade are there")
	u.fill("pieces", "3", "shape_grams", "355 g")
	u.press("Record the pieces")
	u.reads("#piles", "scraps, 385 g")
	u.accessible("a lot that was diced")
	u.open("/scents")
	u.reads("#trimmings", "scraps, 385 g")

	u.freshPlan()
	u.fill("recipe", "Slow olive", "count."+u.loaf(), "1", "scraps.grams", "385 g")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.reads("main", "Scraps of soap")
	u.press("Start the lot")
	second := strings.Replace(eval[string](u, `location.pathname`), "/make/", "/lots/", 1)
	u.toThePour(func(at benchStep, _, _ string) {
		if at.Item == "scraps:soap" {
			u.do("open", chromedp.Click(`//summary[contains(normalize-space(.), "Something of another lot went in")]`))
			u.fill("parent", code, "what", "scraps, or trimmings", "carried_grams", "385 g")
			u.do("write it", chromedp.Click(`//form[contains(@action, "/carry")]//button`), chromedp.Sleep(600*time.Millisecond))
		}
	})
	u.press("It is poured")
	u.open(lot)
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "In hand of it", "all of it went in")
	u.crash(time.Date(2026, 3, 15, 4, 30, 0, 0, time.UTC))
	u.open(second)
	u.press("It is out")
	u.fill("first", "10", "bar", "4.8 oz")
	u.press("Put them on the rack")
	u.reads(".gate", "day 1 of 60")
	u.noErrors()
}

// figureless is the code of a lot in a headline such as "Lot 12-K: Quern base".
func figureless(title string) string {
	return strings.TrimPrefix(strings.SplitN(title, ":", 2)[0], "Lot ")
}

// A whole lot by somebody who weighs in ounces: a recipe typed in ounces opens as it was typed, and every
// weight on the bench is on her scale, with grams beside the lye.
func TestALotIsMadeInOunces(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/settings")
	u.fill("units", "us")
	u.press("Keep the settings")
	u.open("/recipes/new")
	u.fill("name", "Pound for pound", "superfat_percent", "5")
	u.blend("olive", "12 oz", "coconut", "6.5 oz", "tallow", "3 1/2 oz")
	u.fill("liquids[0].percent", "7.25 oz", "additives[0].name", "Sea salt (fine)", "additives[0].stage", "liquid",
		"additives[0].rate.value", "0.2 oz", "additives[0].rate.basis", "percent-of-fats")
	u.reads("#answers", "7.25 oz")
	u.reads("#readings", "The weights of the liquids say how much")
	u.press("Keep the recipe")
	assert.Equal(t, "|3.5 oz|7.25 oz|0.2 oz", eval[string](u, `["size", "fats-2-percent", "liquids-0-percent", `+
		`"additives-0-rate-value"].map(id => document.getElementById("f-" + id).value).join("|")`), "it opens as it was typed")
	u.press("Plan it")
	u.by("fats")
	u.fill("fats_g", "22 oz")
	u.reads("#answers", "One pot of")
	u.press("Keep this plan")
	u.press("Start the lot")
	foreign := regexp.MustCompile(`\d (g|kg|ml|mm|°C)\b`)
	u.toThePour(func(at benchStep, _, text string) {
		if at.Item == "alkali:naoh" {
			assert.Regexp(t, `\d oz`, text)
			assert.Regexp(t, `\d g`, text, "grams stand beside the lye")
			return
		}
		assert.NotRegexp(t, foreign, strings.ReplaceAll(text, "mg KOH per g", ""), at.Step)
	})
	lot := strings.Replace(eval[string](u, `location.pathname`), "/make/", "/lots/", 1)
	u.press("It is poured")
	u.crash(time.Date(2026, 3, 15, 16, 0, 0, 0, time.UTC))
	u.open(lot)
	u.press("It is out")
	u.fill("first", "7", "bar", "4.4", "trimmings", "0.5 oz")
	u.press("Put them on the rack")
	u.typeIn("f-sample", "4.3")
	u.press("Write it down")
	u.reads("main", "4.3 oz")
	assert.NotRegexp(t, `\d g of`, eval[string](u, `document.querySelector("#drying, .slab")?.textContent ?? ""`))
	u.noErrors()
}
