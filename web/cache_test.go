package web_test

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// without are a page and the keys that its forms were given, apart.
func without(t testing.TB, page string) (rest, key, tab string) {
	t.Helper()
	key, tab = first(t, page, `name="key" value="([a-z0-9]{10}-[A-Z0-9]{26})"`), first(t, page, `name="tab" value="([A-Z0-9]{26})"`)
	return strings.NewReplacer(key, "", tab, "").Replace(page), key, tab
}

func TestAPageStaysAsItWasMadeUntilSomethingIsRecorded(t *testing.T) {
	t.Parallel()
	v := visit(t)
	look := func() string { _, page := v.get("/settings"); return page }
	one, key, tab := without(t, look())
	again, otherKey, otherTab := without(t, look())
	assert.Equal(t, one, again)
	assert.NotEqual(t, key, otherKey, "each look has a key of its own, so that it can be sent once")
	assert.NotEqual(t, tab, otherTab)

	// What is recorded on one page shows on all.
	_, shelf := v.get("/calendar")
	v.does("/settings", "/settings", "off.wed", "on")
	_, after := v.get("/calendar")
	assert.Greater(t, strings.Count(after, "day off"), strings.Count(shelf, "day off"))

	// A press sent twice is one, also when the page was looked at in between.
	_, people := v.get("/people")
	form := filled(t, people, "/people")
	form.Set("person", "Nele")
	for range 2 {
		status, page := v.post("/people", form)
		require.Equal(t, http.StatusOK, status)
		assert.Equal(t, 1, strings.Count(page, ">Nele<"))
		look()
	}

	// Whoever works now is on the page, not who worked before.
	at := map[string]string{}
	for _, id := range []string{"1", "2", "1"} {
		v.post("/who", url.Values{"person": {id}})
		_, page := v.get("/")
		name := first(t, page, `<strong>([^<]+)</strong> at the bench`)
		if at[id] != "" {
			assert.Equal(t, at[id], name)
		}
		at[id] = name
	}
	assert.NotEqual(t, at["1"], at["2"])
}

// A page that nothing changed is not made again; a record makes all of them anew, and what
// somebody types only those that show it.
func TestAPageIsMadeOnceAsLongAsItHolds(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/lots?stage=curing")
	lot := first(t, page, `href="(/lots/[a-z0-9]{26})"`)
	made := func(paths ...string) int64 {
		before := v.kit.PagesMade()
		for _, path := range paths {
			status, _ := v.get(path)
			require.Equal(t, http.StatusOK, status)
		}
		return v.kit.PagesMade() - before
	}
	all := []string{"/", "/calendar", "/lots", lot}
	assert.EqualValues(t, 3, made(all...), "the shelf was looked at already; each other for the first time")
	assert.Zero(t, made(all...), "and then no more")

	_, page = v.get(lot)
	form := filled(t, page, lot+"/note")
	form.Set("text", "smells of figs")
	status, _ := v.post(lot+"/typed/note", form)
	require.Less(t, status, 300)
	assert.Zero(t, made("/", "/calendar", "/lots"), "nobody's typing empties the cache")
	assert.EqualValues(t, 1, made(lot), "but for the page that shows it")
	_, page = v.get(lot)
	has(t, page, "smells of figs")
	assert.Zero(t, made(lot))

	v.does("/people", "/people", "person", "Wren")
	assert.EqualValues(t, 4, made(all...), "a record makes all of them anew")
}

// Many look while somebody writes: everybody gets a whole page, and who looks after
// a press sees what it did.
func TestPagesAreMadeAndWrittenBesideEachOther(t *testing.T) {
	t.Parallel()
	v := visit(t)
	done := make(chan struct{})
	var looking sync.WaitGroup
	for i := range 4 {
		looking.Go(func() {
			for {
				select {
				case <-done:
					return
				default:
				}
				r, err := v.http.Get(v.base + []string{"/", "/racks", "/lots", "/calendar"}[i])
				if !assert.NoError(t, err) {
					return
				}
				body, err := io.ReadAll(r.Body)
				r.Body.Close()
				if !assert.NoError(t, err) || !assert.True(t, strings.HasSuffix(strings.TrimSpace(string(body)), "</html>")) {
					return
				}
			}
		})
	}
	for i := range 12 {
		name := fmt.Sprintf("Rack %d", i+1)
		v.does("/racks", "/racks", "name", name, "levels", "2", "width_mm", "80 cm")
		_, page := v.get("/")
		has(t, page, name+` <span`)
	}
	close(done)
	looking.Wait()
}
