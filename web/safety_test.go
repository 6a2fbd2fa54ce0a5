package web_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// variant opens a variant of a recipe of the demo and returns where it is worked on,
// with its form.
func (v *visitor) variant(recipe string) (bench string, f url.Values) {
	v.t.Helper()
	from := v.link("/recipes", "recipes", recipe)
	r, err := v.http.Get(v.base + "/recipes/new?from=" + from[len("/recipes/"):])
	require.NoError(v.t, err)
	bench = r.Request.URL.Path
	_, page := v.read(r, err)
	return bench, filled(v.t, page, bench)
}

// A variant of a recipe with another scent from the list: its own limit counts, and
// nothing of the old one is left in a field that nobody sees.
func TestAnotherScentBringsItsOwnLimit(t *testing.T) {
	t.Parallel()
	v := visit(t)
	bench, f := v.variant("Fig and black tea")
	for name := range f {
		assert.NotRegexp(t, `scent\.parts.*(max|stated|observed|supplier)`, name, "what the stores know is in no field")
	}
	f.Set("scent.parts[0].name", "Clove bud oil (Wendle & Tarr)")
	f.Set("scent.rate_percent_of_fats", "9")
	_, live := v.post(bench+"/live", f)
	has(t, live, "maximum is 0.6 %", "its supplier's limit stops it")
	assert.NotContains(t, live, "No maximum is noted")
	// Figures sent along for a scent of the stores are no facts.
	f.Set("scent.parts[0].max_percent", "40")
	f.Set("scent.parts[0].observed", "behaves")
	_, live = v.post(bench+"/live", f)
	has(t, live, "maximum is 0.6 %")
}

// Figures that were typed for one material are not those of another: the row asks.
func TestOwnFiguresStayWithWhatTheyWereTypedFor(t *testing.T) {
	t.Parallel()
	v := visit(t)
	bench, f := v.variant("Quern base")
	f.Set("fats[0].sap_koh_mg_per_g", "194")
	f.Set("additives[0].name", "House acid")
	f.Set("additives[0].lye_g_per_g", "0.6")
	status, page := v.post(bench, f) // Enter: look again
	require.Equal(t, http.StatusOK, status)
	f = filled(t, page, bench)
	assert.Equal(t, "Olive oil", f.Get("fats[0].of"))
	f.Set("fats[0].fat", "Coconut oil (24 C melt)")
	f.Set("fats[1].fat", "olive")
	f.Set("additives[0].name", "Sugar (granulated)")
	_, live := v.post(bench+"/live", f)
	has(t, live, "were given for Olive oil")
	has(t, live, "were given for House acid")
	f.Set("do", "clear additives[0]")
	_, page = v.post(bench, f)
	f = filled(t, page, bench)
	assert.Empty(t, f.Get("additives[0].lye_g_per_g"))
	f.Set("do", "own fats[0]")
	_, page = v.post(bench, f)
	f = filled(t, page, bench)
	assert.Equal(t, "194", f.Get("fats[0].sap_koh_mg_per_g"), "nothing is lost")
	f.Del("do")
	_, live = v.post(bench+"/live", f)
	assert.NotContains(t, live, "were given for")
	has(t, live, "194", "but coconut oil of 194 is called out")
	has(t, live, "lies outside of 248 to 265")
}

func TestAnUnknownAcidIsAskedAbout(t *testing.T) {
	t.Parallel()
	v := visit(t)
	bench, f := v.variant("Quern base")
	f.Set("additives[0].name", "Boswellic acid")
	_, live := v.post(bench+"/live", f)
	has(t, live, "may be an acid")
	f.Set("additives[0].lye_g_per_g", "0")
	_, live = v.post(bench+"/live", f)
	assert.NotContains(t, live, "may be an acid")
	f.Set("additives[0].lye_g_per_g", "much")
	_, live = v.post(bench+"/live", f)
	assert.Regexp(t, regexp.MustCompile(`lye_g_per_g-err[^<]*>[^<]*(not a number|number)`), live)
	f.Set("additives[0].name", "citric acid monohydrate")
	f.Set("additives[0].lye_g_per_g", "")
	_, live = v.post(bench+"/live", f)
	has(t, live, "points of superfat; it is counted")
}

// What is not understood is no kilo: nothing is shown for it.
func TestAWeightOfFatsThatIsNotUnderstoodShowsNoLye(t *testing.T) {
	t.Parallel()
	v := visit(t)
	bench, f := v.variant("Quern base")
	f.Set("size", "500 g")
	_, live := v.post(bench+"/live", f)
	has(t, live, `id="answer-naoh"`)
	kept := v.link("/recipes", "recipes", "Quern base")
	for _, bad := range []string{"1,250 g", "abc", "0", "-4", "1e99"} {
		f.Set("size", bad)
		_, live := v.post(bench+"/live", f)
		assert.NotContains(t, live, `id="answer-naoh"`, bad)
		assert.Regexp(t, `#f-size-err"[^>]*>[^<]*[a-z]`, live, bad)
		_, card := v.get(kept + "/revisions/1?size=" + url.QueryEscape(bad))
		assert.NotContains(t, card, "Sodium hydroxide", bad)
		has(t, card, `value="`+bad+`"`, "what was typed stays")
		_, sheet := v.get(kept + "/blend.csv?size=" + url.QueryEscape(bad))
		assert.NotContains(t, sheet, "alkali", bad)
		_, both := v.get(kept + "/compare?size=" + url.QueryEscape(bad))
		assert.NotRegexp(t, `Sodium hydroxide</t[dh]><td class="n">[0-9]`, both, bad)
	}
}

// A page that nobody is named on records nothing, and says so in place of leading on.
func TestAnEntryOfNobodyIsRefusedAndNotLedOn(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot := v.newLot("Slow olive")
	_, page := v.get(lot)
	f := filled(t, page, lot+"/note")
	f.Set("text", "a word")
	v.http.Jar = jar(t)
	v.http.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	status, page := v.post(lot+"/note", f)
	assert.Equal(t, http.StatusUnauthorized, status)
	has(t, page, "Nothing was recorded")
	has(t, page, "Odile Marrow", "it offers who works")
}

// The outbox is answered by the key of its entry, or not at all.
func TestAnOutboxEntryIsAnsweredByItsKey(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot := v.newLot("Slow olive")
	bench := v.benchAt(lot, "ready:bench")
	f := filled(t, bench, lot+"/tick")
	send := func(f url.Values) *http.Response {
		r, err := http.NewRequest(http.MethodPost, v.base+lot+"/tick", strings.NewReader(f.Encode()))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Ashshelf-Outbox", "1")
		answer, err := v.http.Do(r)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer
	}
	answer := send(f)
	assert.Equal(t, http.StatusNoContent, answer.StatusCode)
	assert.Equal(t, f.Get("key"), answer.Header.Get("Ashshelf-Recorded"))
	assert.Contains(t, answer.Header.Get("Ashshelf-Next"), "/make/")
	assert.Equal(t, f.Get("key"), send(f).Header.Get("Ashshelf-Recorded"), "sent twice it is recorded once and answered alike")
	f.Set("step", "no:such")
	f.Set("key", "another")
	answer = send(f)
	assert.Empty(t, answer.Header.Get("Ashshelf-Recorded"), "what is refused is not recorded")
	assert.GreaterOrEqual(t, answer.StatusCode, 400)
}
