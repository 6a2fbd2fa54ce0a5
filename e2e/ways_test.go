package e2e_test

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// An ordinary loaf, an all-olive one and a salt loaf are poured on one morning and
// go their own ways: the salt first, the olive before it turns to stone, the
// ordinary one in its time; and each cures by its own rule.
func TestAnOliveASaltAndAnOrdinaryLotEachGoTheirOwnWay(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	lots := map[string]string{}
	for _, recipe := range []string{"Quern base", "Slow olive", "Ebb salt bar"} {
		lots[recipe] = u.startsLot(recipe)
		u.fromPaperOn("2026-03-14", "08:30")
		u.reads("main", "Ready to sell?")
	}
	at := func(hours float64) {
		u.crash(time.Date(2026, 3, 14, 8, 30, 0, 0, time.UTC).Add(time.Duration(hours * float64(time.Hour))))
	}
	window := func(recipe, state string) {
		u.open(lots[recipe])
		u.reads("main", state)
	}
	at(2)
	window("Ebb salt bar", "now opens")
	window("Slow olive", "soon opens")
	u.open("/")
	u.reads("main", "Look for the gel ring")
	at(5)
	window("Ebb salt bar", "late opens")
	u.open("/")
	u.reads("main", "take it out now, and cut it gently")
	at(18)
	window("Slow olive", "now opens")
	window("Quern base", "now opens")
	at(26)
	window("Slow olive", "late opens")
	window("Quern base", "now opens")
	for recipe, days := range map[string]string{"Quern base": "day 1 of 28", "Slow olive": "day 1 of 60", "Ebb salt bar": "day 1 of 28"} {
		u.open(lots[recipe])
		if recipe != "Quern base" {
			u.reads("main", "Outside of its window")
			u.press("It is out")
			u.reads("#f-deviation-err", "after its window closed")
			u.fill("deviation", "away at the fair")
		}
		u.press("It is out")
		u.fill("first", "9", "bar", "110", "trimmings", "30 g", "ends", "1", "ends_g", "40 g")
		u.press("Put them on the rack")
		u.reads(".gate", days)
	}
	u.open("/scents")
	u.reads("#trimmings", "Slow olive")

	// They dry, the salt bar least; the forecast and the month follow.
	for week, grams := range []map[string]string{{"Quern base": "110", "Slow olive": "110", "Ebb salt bar": "110"},
		{"Quern base": "101.1", "Slow olive": "102", "Ebb salt bar": "107.4"},
		{"Quern base": "98", "Slow olive": "97.5", "Ebb salt bar": "106.2"},
		{"Quern base": "96.9", "Slow olive": "94.8", "Ebb salt bar": "105.8"},
		{"Quern base": "96.5", "Slow olive": "93.2", "Ebb salt bar": "105.6"}} {
		at(27 + float64(week)*7*24)
		for recipe, g := range grams {
			u.open(lots[recipe])
			u.typeIn("f-sample", g)
			u.press("Write it down")
		}
	}
	u.reads("#drying", "It dries towards")
	for _, recipe := range []string{"Quern base", "Ebb salt bar"} {
		u.open(lots[recipe])
		u.do("only soap", chromedp.Click(`input[name="result"][value="good"]`))
		u.press("Record the check")
		u.do("tick", chromedp.Click(`#f-sure`))
		u.press("Release")
		u.reads("#bars", "First grade")
	}
	u.open(lots["Slow olive"])
	u.reads(".gate", "day 29 of 60")
	u.reads("h2#gate-h", "Likely from")
	assert.False(t, eval[bool](u, `!!document.querySelector("#bars")`), "olive waits")
	u.open("/calendar/2026-05")
	u.reads("main", "Release")

	// The olive waits for its days, and is then released like the others.
	for week, g := range []string{"90.4", "90.2"} {
		at(27 + float64(8+week)*7*24)
		u.open(lots["Slow olive"])
		u.typeIn("f-sample", g)
		u.press("Write it down")
	}
	u.do("only soap", chromedp.Click(`input[name="result"][value="good"]`))
	u.press("Record the check")
	u.do("tick", chromedp.Click(`#f-sure`))
	u.press("Release")
	u.reads("#bars", "First grade")
	u.open("/")
	u.reads(`section[aria-labelledby="ready"]`, "Slow olive")
	u.noErrors()
}

// fromPaperOn is fromPaper for a day and a time.
func (u *user) fromPaperOn(day, clock string) {
	u.t.Helper()
	u.fromPaper("day", day, "time", clock, "note", "as usual")
}
