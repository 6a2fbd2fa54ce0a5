package web_test

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Looking writes nothing, wherever one looks, also at a bench for something new.
func TestLookingWritesNothing(t *testing.T) {
	t.Parallel()
	s := demoShop(t)
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	before := s.Version()
	queue := []string{"/", "/recipes/new", "/molds/new", "/scents/new", "/equipment/new", "/lye/new"}
	seen := map[string]bool{}
	for len(queue) > 0 && len(seen) < 300 {
		at := queue[0]
		queue = queue[1:]
		if seen[at] || strings.HasPrefix(at, "/static") {
			continue
		}
		seen[at] = true
		status, page := v.get(at)
		assert.Less(t, status, 500, at)
		require.Equal(t, before, s.Version(), "GET %s wrote something", at)
		queue = append(queue, read(t, page).Links()...)
	}
	assert.Greater(t, len(seen), 100)
}

// Who only asks for the head of a page gets it.
func TestTheHeadOfAPageIsAnswered(t *testing.T) {
	t.Parallel()
	v := visit(t)
	for path, want := range map[string]int{"/": http.StatusOK, "/recipes": http.StatusOK, "/static/app.js": http.StatusOK,
		"/nowhere": http.StatusNotFound} {
		r, err := v.http.Head(v.base + path)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		assert.Equal(t, want, r.StatusCode, path)
	}
}

// A new recipe is there once something is typed, and its bench is as it was left.
func TestANewRecipeIsKeptFromItsFirstLetter(t *testing.T) {
	t.Parallel()
	v := visit(t)
	page := func(path string) string {
		status, text := v.get(path)
		require.Equal(t, http.StatusOK, status, path)
		return text
	}
	at, f := v.variant("Quern base")
	assert.Equal(t, "Quern base variant", f.Get("name"), "a variant before anything is typed")
	f.Set("name", "Half a name")
	status, _ := v.post(at+"/live", f)
	require.Equal(t, http.StatusOK, status)
	has(t, page(at), "Half a name")
	f.Set("do", "keep")
	f.Set("name", "A whole name")
	status, kept := v.post(at, f)
	require.Equal(t, http.StatusOK, status)
	has(t, kept, "A whole name")
	assert.NotContains(t, page(at), "A whole name", "what is kept is no draft any more")
	status, _ = v.post("/lots/nowhere/typed/note", url.Values{"note": {"hello"}})
	assert.Equal(t, http.StatusNotFound, status, "nothing is typed for a lot that is not there")
	status, said := v.post(at+"/live", url.Values{"notes": {strings.Repeat("soap ", 60_000)}})
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	has(t, said, "longer than fits")
}

// However many plans are kept, the month shows each on its day, the lye room counts
// all of them, and a list of them leads to the rest.
func TestEveryKeptPlanCountsHoweverManyThereAre(t *testing.T) {
	t.Parallel()
	s := demoShop(t)
	ctx := context.Background()
	open, _, err := s.OpenPlans(ctx, 0)
	require.NoError(t, err)
	naoh, _, plans, err := s.Wanted(ctx)
	require.NoError(t, err)
	recipes, err := s.Recipes(ctx)
	require.NoError(t, err)
	settings, err := s.Settings(ctx)
	require.NoError(t, err)
	o := planning.DefaultOrder(settings)
	for _, r := range recipes {
		if r.Name == "Quern base" {
			o.Recipe = r.OID
		}
	}
	o.By, o.FatsG, o.Day = planning.ByFats, 1000, "2026-03-20"
	for range 25 {
		_, err := s.KeepPlan(ctx, journal.Act{Person: 1, Device: "tablet", DeviceLabel: "tablet"}, o)
		require.NoError(t, err)
	}
	now, all, err := s.OpenPlans(ctx, 20)
	require.NoError(t, err)
	assert.Len(t, now, 20)
	assert.Equal(t, len(open)+25, all)
	more, _, counted, err := s.Wanted(ctx)
	require.NoError(t, err)
	assert.Equal(t, plans+25, counted)
	assert.Greater(t, more, naoh+25*100)

	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	times := func(path, text string) int {
		_, page := v.get(path)
		return strings.Count(page, text)
	}
	assert.Equal(t, 25, times("/calendar/2026-03-20", "Make Quern base"))
	assert.GreaterOrEqual(t, times("/calendar", "Make Quern base"), 25)
	assert.Equal(t, 1, times("/plan", "/plan?open=all"))
	assert.Equal(t, all, times("/plan?open=all", " in all</td>"))

	lots, err := s.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making}})
	require.NoError(t, err)
	_, err = s.StartLot(ctx, journal.Act{Person: 1, Device: "tablet", DeviceLabel: "tablet"}, now[0].OID, 1, "")
	require.NoError(t, err)
	after, err := s.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making}})
	require.NoError(t, err)
	assert.Len(t, after, len(lots)+1)
	_, left, err := s.OpenPlans(ctx, 20)
	require.NoError(t, err)
	assert.Equal(t, all-1, left, "a plan that a lot was started from is not open")
}
