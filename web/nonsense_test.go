package web_test

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// nonsense is what keyboards, sleeves and strangers type.
var nonsense = []string{
	"", "0", "-1", "1e308", "-0", "NaN", "Inf", "1,000", "1.000,5", "١٢", "½", "1/0", "12 lb 400", "999999999999", "on", "yes",
	"olive-oil", "coconut", "💧", strings.Repeat("x",
		5000),
	"<script>alert(1)</script>", "'; DROP TABLE lot; --", "%s%n", "../../etc", "\x00", "\n\n", "2026-02-31", "50", "33", "1 kg",
	"70 °F", "-300 °C",
}

// Whatever is typed into whichever fields of whichever page, the answer is a
// page, never a fault; and what is shown of it is never taken for markup.
func TestNonsenseIsAnsweredAndNeverBreaksAPage(t *testing.T) {
	t.Parallel()
	v := visit(t)
	rng := rand.New(rand.NewPCG(20, 26))
	link := func(room, pattern string) string {
		_, page := v.get(room)
		return first(t, page, pattern)
	}
	recipe, mold, lot := link(
		"/recipes",
		`href="(/recipes/[a-z0-9]{26})"`,
	), link(
		"/molds",
		`href="(/molds/[a-z0-9]{26})"`,
	), link(
		"/lots",
		`href="/lots/([a-z0-9]{26})"`,
	)
	stock, tool, scent := link(
		"/lye",
		`href="(/lye/[a-z0-9]{26})"`,
	), link(
		"/equipment",
		`href="(/equipment/[a-z0-9]{26})"`,
	), link(
		"/scents",
		`href="(/scents/[a-z0-9]{26})"`,
	)
	delivery := link("/stores/of?key=fat:olive-oil", `href="(/stores/deliveries/[a-z0-9]{26})"`)
	material := link("/stores/of?key=fat:olive-oil", `href="(/materials/[a-z0-9]{26})"`)
	order := link("/stores/orders", `href="(/stores/orders/[a-z0-9]{26})"`)
	opening := link("/stores/opening", `action="(/stores/opening/[a-z0-9]{26}/)`)
	kept := link("/plan", `href="(/plans/[a-z0-9]{26})"`)
	bench := link("/make", `href="(/make/[a-z0-9]{26})"`)
	making := strings.TrimPrefix(bench, "/make/")
	refused := 0
	for _, c := range []struct {
		page  string
		posts []string
		does  []string
	}{
		{recipe, []string{recipe, recipe + "/live", recipe + "/life"},
			[]string{"keep", "balance", "swap", "split", "add fats", "remove fats[0]", "up design[0]", "add x[y",
				"remove portions[9].colorants[-1]"}},
		{mold, []string{mold, mold + "/live"}, []string{"keep", ""}},
		{tool, []string{tool, tool + "/live"}, []string{"keep", ""}},
		{scent, []string{scent, scent + "/live"}, []string{"keep"}},
		{"/plan", []string{"/plan", "/plan/live"}, []string{"keep", ""}},
		{kept, []string{kept, kept + "/day"}, []string{""}},
		{"/lye/new", []string{"/lye/new", "/lye/new/live"}, []string{"keep", ""}},
		{"/lye/fats", []string{"/lye/fats", "/lye/fats/live"}, []string{"keep", "add fats", "remove fats[1]"}},
		{"/lye/heat", []string{"/lye/heat", "/lye/heat/live"}, []string{"note", ""}},
		{stock, []string{stock + "/draw", stock + "/count", stock + "/verify", stock + "/read", stock + "/dilute",
			stock + "/status"}, []string{""}},
		{"/scents", []string{"/stores/spoons"}, []string{""}},
		{delivery, []string{delivery + "/count", delivery + "/leave", delivery + "/price", delivery + "/mark", delivery + "/status",
			delivery + "/book"}, []string{""}},
		{material, []string{material, material + "/live"}, []string{"keep"}},
		{"/stores", []string{"/stores/why", "/stores/names"}, []string{""}},
		{"/stores/receive", []string{"/stores/receive"}, []string{""}},
		{"/stores/shopping", []string{"/stores/orders"}, []string{""}},
		{order, []string{order, order + "/close"}, []string{""}},
		{"/stores/opening", []string{"/stores/opening", "/stores/opening/file", opening + "release", opening + "move"}, []string{"", "take"}},
		{"/settings", []string{"/settings"}, []string{""}},
		{"/people", []string{"/people", "/devices/7/remove"}, []string{""}},
		{"/people/2", []string{"/people/2/role", "/people/2/invite", "/people/2/out"}, []string{""}},
		{"/you", []string{"/you/pin", "/you/passphrase"}, []string{""}},
		{"/recipes/import", []string{"/recipes/import"}, []string{"look", "take"}},
		{"/recipes/check", []string{"/recipes/check"}, []string{""}},
		{"/lots/" + lot, []string{"/lots/" + lot + "/note", "/lots/" + lot + "/move", "/lots/" + lot + "/sample",
			"/lots/" + lot + "/release", "/lots/" + lot + "/check", "/lots/" + lot + "/hold", "/lots/" + lot + "/lift",
			"/lots/" + lot + "/cut", "/lots/" + lot + "/unmold"}, []string{""}},
		{bench, []string{"/lots/" + making + "/weigh", "/lots/" + making + "/back", "/lots/" + making + "/extra",
			"/lots/" + making + "/temp", "/lots/" + making + "/tick", "/lots/" + making + "/rescale"}, []string{""}},
		{bench + "?step=lye:in", []string{"/lots/" + making + "/tick"}, []string{""}},
		{bench + "?step=batter:trace", []string{"/lots/" + making + "/tick"}, []string{""}},
		{"/lots/" + lot, []string{"/lots/" + lot + "/mark", "/lots/" + lot + "/next", "/lots/" + lot + "/kept",
			"/lots/" + lot + "/place", "/lots/" + lot + "/wash", "/lots/" + lot + "/care", "/lots/" + lot + "/carry",
			"/lots/" + lot + "/way", "/lots/" + lot + "/outcome", "/lots/" + lot + "/blame", "/lots/" + lot + "/rescue"}, []string{""}},
		{"/lots/" + making + "/trouble/seized", []string{"/lots/" + making + "/trouble", "/lots/" + making + "/typed/trouble"},
			[]string{""}},
		{"/calendar", []string{"/calendar/feed"}, []string{""}},
		{"/copies", []string{"/copies"}, []string{""}},
		{"/racks", []string{"/racks", link("/racks", `action="(/racks/[a-z0-9]{26})"`)}, []string{""}},
		{"/racks", []string{"/racks/apart"}, []string{""}},
		{"/", []string{"/places"}, []string{""}},
		{"/weigh?all=on", []string{"/weigh", "/weigh/typed"}, []string{"keep", "scale g.x", "look"}},
		{bench + "/paper", []string{"/lots/" + making + "/paper"}, []string{""}},
		{bench + "?step=pour", []string{"/lots/" + making + "/pour", "/lots/" + making + "/giveup"}, []string{""}},
		{"/recipes/new", []string{"/recipes/check"}, []string{""}},
	} {
		status, page := v.get(c.page)
		require.Equal(t, http.StatusOK, status, c.page)
		names := read(t, page).Fields()
		require.NotEmpty(t, names, c.page)
		for round := range 14 {
			path := c.posts[round%len(c.posts)]
			form := url.Values{"key": {fmt.Sprint(c.page, round)}, "do": {c.does[rng.IntN(len(c.does))]}, "base": {"1"}, "seen": {"1"}}
			for _, name := range names {
				if _, set := form[name]; !set && rng.IntN(4) > 0 {
					form.Set(name, nonsense[rng.IntN(len(nonsense))])
				}
			}
			status, answer := v.post(path, form)
			require.Less(t, status, 500, "%s with %v", path, form)
			if status == http.StatusUnprocessableEntity || status == http.StatusConflict {
				refused++
				require.True(t, read(t, answer).Told(), "%s refuses %v without a word", path, form)
			}
			require.NotEqual(t, http.StatusNotFound, status, path)
			require.False(t, strings.Contains(answer, "<script>alert"), path)
			require.False(t, strings.Contains(answer, "NaN g"), path)
		}
		status, _ = v.get(c.page)
		require.Less(t, status, 500, "%s still opens", c.page)
	}
	assert.Greater(t, refused, 50, "most of it is refused in words")
}

// Addresses that somebody makes up lead nowhere, quietly.
func TestAddressesOfNothingAreNotThere(t *testing.T) {
	t.Parallel()
	v := visit(t)
	gone := strings.Repeat("q", 26)
	for _, path := range []string{
		"/recipes/" + gone, "/recipes/" + gone + "/card", "/recipes/" + gone + "/compare", "/recipes/" + gone + "/label",
		"/recipes/" + gone + "/recipe.json",
		"/recipes/new/short", "/molds/" + gone, "/equipment/" + gone, "/scents/" + gone,
		"/materials/" + gone, "/stores/deliveries/" + gone, "/stores/orders/" + gone, "/stores/of?key=fat:moon",
		"/plans/" + gone, "/plans/" + gone + "/sheet.csv", "/plans/" + gone + "/plan.json", "/plan/day/yesterday",
		"/plan?again=" + gone, "/lye/" + gone, "/lye/" + gone + "/label", "/lye/heat?plan=" + gone, "/make/" + gone,
		"/make/" + gone + "/paper", "/make/" + gone + "/live", "/lots/" + gone + "/trouble", "/lots/" + gone + "/record",
		"/lots/" + gone + "/record.json", "/lots/" + gone + "/record.csv", "/calendar/2026-13", "/calendar/1-1",
	} {
		status, _ := v.get(path)
		assert.Equal(t, http.StatusNotFound, status, path)
	}
	for _, path := range []string{"/stores/deliveries/" + gone + "/count", "/stores/orders/" + gone + "/close",
		"/stores/opening/" + gone + "/release", "/lye/" + gone + "/draw", "/lye/" + gone + "/fly", "/molds/" + gone + "/forget",
		"/recipes/" + gone + "/life", "/plans/" + gone + "/day", "/plans/" + gone + "/away"} {
		status, _ := v.post(path, url.Values{"grams": {"1"}, "note": {"x"}, "life": {"tested"}, "base": {"1"}})
		assert.Equal(t, http.StatusNotFound, status, path)
	}
	_, page := v.get("/recipes")
	recipe := first(t, page, `href="(/recipes/[a-z0-9]{26})"`)
	status, _ := v.get(recipe + "/revisions/99")
	assert.Equal(t, http.StatusNotFound, status)
	_, page = v.get(recipe + "/card?size=lots")
	has(t, page, "is not a number")
	_, page = v.get(recipe + "/card?size=2+kg")
	has(t, page, "For 2000 g of fats")
}

// Two windows on the same thing: the second to keep is told, and nothing of the
// first is lost.
func TestTwoWindowsOnOneMoldNeverMergeSilently(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, list := v.get("/molds")
	path := first(t, list, `href="(/molds/[a-z0-9]{26})">Short silicone loaf`)
	_, one := v.get(path)
	_, two := v.get(path)
	mold := func(page, width string) url.Values {
		f := filled(t, page, path)
		for k, val := range map[string]string{"name": "Short silicone loaf", "mold.shape": "box", "mold.length_mm": "165",
			"mold.width_mm": width, "mold.fill_mm": "60", "material": "silicone", "bars": "7", "do": "keep"} {
			f.Set(k, val)
		}
		return f
	}
	status, page := v.post(path, mold(one, "77"))
	require.Equal(t, http.StatusOK, status)
	has(t, page, "Keep as revision 3")
	status, page = v.post(path, mold(two, "78"))
	assert.Equal(t, http.StatusConflict, status)
	has(t, page, "was changed by")
	has(t, page, `value="78"`, "what the second typed is still there")
	status, _ = v.post(path, mold(one, "77"))
	assert.Equal(t, http.StatusOK, status, "a double click keeps once")
	f := filled(t, two, path)
	f.Set("do", "discard")
	_, page = v.post(path, f)
	has(t, page, "Keep as revision 3")
	has(t, page, `value="77 mm"`)
}

// A stock page sent twice draws once, and the back button with another number
// draws nothing.
func TestADrawSentTwiceIsDrawnOnce(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, list := v.get("/lye")
	path := first(t, list, `href="(/lye/[a-z0-9]{26})"><span class="code">J2`)
	balance := func() string {
		_, page := v.get(path)
		return first(t, page, `id="balance">([0-9]+) g`)
	}
	require.Equal(t, "6776", balance())
	_, page := v.get(path)
	f := filled(t, page, path+"/draw")
	f.Set("grams", "100 g")
	f.Set("note", "a small test")
	for range 2 {
		status, _ := v.post(path+"/draw", f)
		assert.Equal(t, http.StatusOK, status)
	}
	assert.Equal(t, "6676", balance())
	f.Set("grams", "200 g")
	status, page := v.post(path+"/draw", f)
	assert.Equal(t, http.StatusConflict, status)
	has(t, page, "sent before with other values")
	assert.Equal(t, "6676", balance())
	f = filled(t, page, path+"/draw")
	f.Set("grams", "9 kg")
	f.Set("note", "too much")
	status, page = v.post(path+"/draw", f)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "by the books J2-K holds only 6676 g")
	has(t, page, `value="9 kg"`)
}

// What nobody can see is refused beside the field, in every form, with what was typed
// kept; a note of a whole book is too long.
func TestWhatCannotBeSeenIsRefusedBesideItsField(t *testing.T) {
	v := visit(t)
	_, page := v.get("/lots?stage=curing")
	lot := first(t, page, `href="(/lots/[a-z0-9]{26})"`)
	v.refuses(lot, lot+"/note", "text", "U+0007", "text", "smells of \a figs")
	v.refuses(lot, lot+"/note", "text", "shorten it to 5000", "text", strings.Repeat("x", 6000))
	v.refuses(lot, lot+"/hold", "why", "U+202E", "why", "w\u202ehy")
	v.refuses("/people", "/people", "person", "one line", "person", "Ida\nMarrow")
	v.refuses("/settings", "/settings", "name", "U+0000", "name", "Quay\x00Soap")
	_, page = v.get("/molds")
	mold := first(t, page, `href="(/molds/[a-z0-9]{26})"`)
	v.refuses(mold, mold, "name", "one line", "name", "Loaf\nof two lines", "do", "keep")
	_, page = v.send(lot, lot+"/note", "text", "smells of \x1b figs")
	has(t, page, "smells of", "what was typed is kept")
	v.does(lot, lot+"/note", "text", "two lines\r\nare fine, too 🧼")
}
