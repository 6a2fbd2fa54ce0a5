package e2e_test

import (
	"regexp"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// A laptop with a flat battery wakes up years ago. Every page says so, what is weighed then
// is marked, and when the clock is right again its time is put right.
func TestAWeightThatAWrongClockDatedIsPutRight(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/weigh")
	lot := eval[string](u, `document.querySelector("main form a[href^='/lots/']").getAttribute("href")`)
	u.crash(time.Date(2024, 1, 1, 0, 3, 0, 0, time.UTC))
	for _, page := range []string{"/", "/calendar", "/recipes", "/racks", lot} {
		u.open(page)
		u.reads("main", "Look at the clock")
		text := eval[string](u, `document.querySelector("main").textContent`)
		assert.Empty(t, regexp.MustCompile(`.{0,20}(?:(?:^|[^A-Z])[-−]\d{3,}|NaN|Infinity).{0,9}`).FindAllString(text, -1), page)
	}
	u.accessible("a lot while the clock is in doubt")
	was := eval[string](u, `document.querySelectorAll("#drying circle").length.toString()`)
	u.typeIn("f-sample", "101")
	u.press("Write it down")
	u.reads("main", "Clock in doubt")
	assert.NotEqual(t, was, eval[string](u, `document.querySelectorAll("#drying circle").length.toString()`))

	u.crash(morning)
	u.open(lot)
	u.reads("main", "put its time right")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "Look at the clock")
	u.typeIn("f-at", "yesterday at nine")
	u.press("Put it right")
	u.reads("#f-at-err", "14 Mar 2026 09:30")
	u.reads("#f-because-err", "")
	u.typeIn("f-at", "2026-03-13 09:00")
	u.typeIn("f-because", "the binder says so")
	u.press("Put it right")
	u.reads("main", "the binder says so")
	assert.NotContains(t, eval[string](u, `document.querySelector("main").textContent`), "put its time right")
	u.noErrors()
}
