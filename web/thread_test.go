package web_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/web/page/dom"
)

// read reads a page as a browser does.
func read(t testing.TB, html string) dom.Page {
	t.Helper()
	p, err := dom.Parse(html)
	require.NoError(t, err)
	return p
}

// filled is what a browser would send of a form as it stands on a page.
func filled(t testing.TB, page, action string) url.Values {
	t.Helper()
	_, form, ok := read(t, page).Form(action)
	require.True(t, ok, "no form leads to %s", action)
	return form
}

// send fills in a form of a page, sends it, and returns the page that follows.
func (v *visitor) send(path, action string, pairs ...string) (int, string) {
	v.t.Helper()
	_, page := v.get(path)
	f := filled(v.t, page, action)
	for i := 0; i+1 < len(pairs); i += 2 {
		f.Set(pairs[i], pairs[i+1])
	}
	return v.post(action, f)
}

// does sends a form that must be taken.
func (v *visitor) does(path, action string, pairs ...string) string {
	v.t.Helper()
	status, page := v.send(path, action, pairs...)
	require.Equal(v.t, http.StatusOK, status, "%s with %v: %v", action, pairs, read(v.t, page).Complaints())
	return page
}

// refuses sends a form that must be refused at a field, with a word in it.
func (v *visitor) refuses(path, action, field, says string, pairs ...string) {
	v.t.Helper()
	status, page := v.send(path, action, pairs...)
	require.Equal(v.t, http.StatusUnprocessableEntity, status, "%s with %v", action, pairs)
	said, ok := read(v.t, page).Beside(field)
	require.True(v.t, ok, "%s has no field %s", action, field)
	assert.Contains(v.t, said, says, "%s with %v", action, pairs)
}

// visitOver is a visitor whose days pass.
func visitOver(t testing.TB, now *time.Time) *visitor {
	t.Helper()
	file, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, writeShop(dir, file))
	s, err := shop.Open(context.Background(), dir, func() time.Time { return *now })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	return v
}

// link is the address on a page of what is called so.
func (v *visitor) link(page, room, name string) string {
	v.t.Helper()
	_, list := v.get(page)
	return first(v.t, list, `href="(/`+room+`/[a-z0-9]{26})"[^>]*>(?:<[^>]*>)*`+regexp.QuoteMeta(name))
}

// The whole thread with no script at all: every step is a form and a page.
func TestAPourIsPlannedMadeCuredAndSoldWithoutAnyScript(t *testing.T) {
	t.Parallel()
	now := moment
	v := visitOver(t, &now)
	recipe, mold := strings.TrimPrefix(
		v.link("/recipes", "recipes", "Slow olive"),
		"/recipes/",
	), strings.TrimPrefix(
		v.link("/molds", "molds", "Long loaf"),
		"/molds/",
	)
	bench := "/plan?by=molds&recipe=" + recipe + "&mold=" + mold
	v.refuses(bench, "/plan", "count."+mold, "not a number", "do", "keep", "count."+mold, "many")
	_, page := v.send(bench, "/plan", "do", "keep", "count."+mold, "1")
	has(t, page, "Weigh sheet: Slow olive", read(t, page).Complaints())
	plan := first(t, page, `action="(/plans/[a-z0-9]{26})"`)
	_, sheet := v.get(plan + "/sheet.csv")
	has(t, sheet, "Sodium hydroxide")
	_, answer := v.get(plan + "/plan.json")
	has(t, answer, `"ashshelf.plan/1"`)

	page = v.does(plan, plan)
	lot := first(t, page, `action="(/lots/[a-z0-9]{26})/tick"`)
	bench = strings.Replace(lot, "/lots/", "/make/", 1)
	v.through(lot)
	page = v.benchAt(lot, "weigh:fat:olive-oil")
	has(t, page, "All weighed")
	item := "fat:olive-oil"
	wrong := filled(t, page, lot+"/weigh")
	wrong.Set("corrects", first(t, page, `name="corrects" value="(\d+)"`))
	wrong.Set("grams", "100 g")
	status, refused := v.post(lot+"/weigh", wrong)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, refused, "why the weight is corrected")
	bench += "?step=pour"
	v.refuses(bench, lot+"/pour", "lye_c", "not a number", "lye_c", "warm")
	v.refuses(bench, lot+"/pour", "off."+mold, "not a number", "off."+mold, "a finger")
	v.does(bench, lot+"/pour", "lye_c", "38", "fats_c", "41 °C", "off."+mold, "-2 mm", "left", "0 g")
	_, learned := v.get("/molds/" + mold)
	has(t, learned, "2 mm")

	now = now.Add(26 * time.Hour)
	for typed, code := range map[string]int{"1 g": http.StatusConflict, "a bit": http.StatusUnprocessableEntity} {
		status, page := v.post(lot+"/weigh", url.Values{"item": {item}, "grams": {typed}, "key": {"late " + typed}})
		assert.Equal(t, code, status)
		has(t, page, "Nothing was recorded", "an old window of the bench is told so")
	}
	v.refuses(lot, lot+"/unmold", "deviation", "after its window closed", "note", "clean")
	v.does(lot, lot+"/unmold", "note", "clean", "deviation", "away at the fair")
	_, record := v.get(lot + "/record")
	has(t, record, "away at the fair")
	assert.NotContains(t, record, "<p>None.</p>", "a deviation is no secret")
	v.refuses(lot, lot+"/cut", "first", "not a number", "first", "ten")
	v.does(lot, lot+"/cut", "first", "9", "second", "1", "bar", "120", "trimmings", "40 g")
	v.refuses(lot, lot+"/sample", "sample", "not a number", "sample", "light")
	for _, grams := range []string{"120", "112", "109.6", "109,2", "109"} {
		v.does(lot, lot+"/sample", "sample", grams)
		now = now.Add(11 * 24 * time.Hour)
	}
	v.refuses(lot, lot+"/check", "result", "how it felt", "method", "zap")
	v.refuses(lot, lot+"/check", "ph", "not a number", "method", "ph", "ph", "pink")
	page = v.does(lot, lot+"/check", "method", "ph", "ph", "9.6")
	has(t, page, "Release")
	v.does(lot, lot+"/hold", "why", "a label is missing")
	_, page = v.get(lot)
	has(t, page, "On hold")
	assert.NotContains(t, page, "release this lot for sale", "what is held has no way out")
	v.does(lot, lot+"/lift", "why", "found it")
	early := []string{}
	if _, page = v.get(lot); strings.Contains(page, "Before its time") {
		early = []string{"early", "asked for"}
	}
	v.refuses(lot, lot+"/release", "sure", "your name stands", early...)
	v.does(lot, lot+"/release", append(early, "sure", "on")...)
	v.refuses(lot, lot+"/move", "count", "only 9", "count", "10")
	page = v.does(lot, lot+"/move", "count", "4", "note", "market")
	matches(t, page, `First grade</td><td class="n">9</td><td class="n"><span class="big">5<`)
	_, page = v.get("/lots?q=slow+olive")
	has(t, page, lot)
}

// benchAt is the bench of a lot at a step.
func (v *visitor) benchAt(lot, step string) string {
	v.t.Helper()
	_, page := v.get(strings.Replace(lot, "/lots/", "/make/", 1) + "?step=" + url.QueryEscape(step))
	return page
}

// through goes through the run of a lot up to its pour, as the bench asks for it.
func (v *visitor) through(lot string) {
	v.t.Helper()
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	for range 60 {
		_, page := v.get(bench)
		switch {
		case strings.Contains(page, `id="pour"`):
			return
		case strings.Contains(page, `id="target"`):
			v.does(bench, lot+"/weigh", "grams", first(v.t, page, `id="target">([0-9.]+) `)+" g")
		default:
			v.does(
				bench,
				lot+"/tick",
				"liquid_c",
				"8 °C",
				"lye_c",
				"38 °C",
				"fats_c",
				"40 °C",
				"onto",
				"fats",
				"minutes",
				"7",
				"check_g",
				"500",
				"reads_g",
				"500",
				"note",
				"as it should be",
			)
		}
	}
	require.Fail(v.t, "the run of "+lot+" never comes to its pour")
}

// What is begun can be left: the lot is given up, with a reason, and its code
// is never used again.
func TestALotIsGivenUpWithAReason(t *testing.T) {
	t.Parallel()
	v := visit(t)
	bench := v.link("/make", "make", "Carry on")
	lot := strings.Replace(bench, "/make/", "/lots/", 1)
	_, page := v.get(bench)
	code := first(t, page, `<h1>Lot ([^:]+):`)
	status, _ := v.post(lot+"/typed/pour", url.Values{"note": {"nearly done"}, "tab": {"one"}})
	assert.Equal(t, http.StatusNoContent, status)
	has(t, v.benchAt(lot, "pour"), "nearly done", "what was typed into the pour is kept")
	v.refuses(bench, lot+"/giveup", "why", "why", "why", "")
	page = v.does(bench, lot+"/giveup", "why", "the jug fell")
	has(t, page, "the jug fell")
	_, list := v.get("/make")
	assert.NotContains(t, list, bench)
	_, list = v.get("/lots?q=" + url.QueryEscape(code))
	has(t, list, lot, "it stays in the log as %s", code)
}

// A person who is changed on the page of a refused form comes back to a page.
func TestTheAddressOfAFormLeadsToItsPage(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot, jug := v.link("/lots", "lots", ""), v.link("/lye", "lye", "")
	for address, to := range map[string]string{lot + "/pour": lot, lot + "/typed/pour": lot, jug + "/draw": jug,
		"/people/2/role": "/people/2", "/stores/spoons": "/stores", "/plan/live": "/plan"} {
		r, err := v.http.Get(v.base + address)
		status, _ := v.read(r, err)
		assert.Equal(t, http.StatusOK, status, address)
		assert.Equal(t, to, r.Request.URL.Path)
	}
	req, err := http.NewRequest(http.MethodDelete, v.base+lot, nil)
	require.NoError(t, err)
	status, _ := v.read(v.http.Do(req))
	assert.Equal(t, http.StatusMethodNotAllowed, status)
}

// Two plans of a day change places, and change back.
func TestADaysPlansAreMoved(t *testing.T) {
	t.Parallel()
	v := visit(t)
	mold := strings.TrimPrefix(v.link("/molds", "molds", "Long loaf"), "/molds/")
	for _, name := range []string{"Slow olive", "Drover tallow"} {
		recipe := strings.TrimPrefix(v.link("/recipes", "recipes", name), "/recipes/")
		_, page := v.send("/plan?by=molds&recipe="+recipe+"&mold="+mold, "/plan", "do", "keep", "count."+mold, "1", "day", "2026-05-06")
		has(t, page, "Weigh sheet: "+name, read(t, page).Complaints())
	}
	day := "/plan/day/2026-05-06"
	order := func() (out []string) {
		_, page := v.get(day)
		for _, m := range regexp.MustCompile(`aria-label="([^"]+) earlier"`).FindAllStringSubmatch(page, -1) {
			out = append(out, m[1])
		}
		return out
	}
	before := order()
	_, page := v.get(day)
	last := regexp.MustCompile(`name="plan" value="([a-z0-9]{26})"`).FindAllStringSubmatch(page, -1)
	require.NotEmpty(t, last)
	status, _ := v.post(day, url.Values{"plan": {last[len(last)-1][1]}, "to": {"earlier"}, "key": {"m1"}})
	assert.Equal(t, http.StatusOK, status)
	assert.NotEqual(t, before, order())
	v.post(day, url.Values{"plan": {last[len(last)-1][1]}, "to": {"later"}, "key": {"m2"}})
	assert.Equal(t, before, order())
	v.post(day, url.Values{"plan": {strings.Repeat("q", 26)}, "to": {"earlier"}, "key": {"m3"}})
	assert.Equal(t, before, order(), "a plan that another took away moves nothing")
}
