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
	key, tab = first(t, page, `name="key" value="([A-Z0-9]{26})"`), first(t, page, `name="tab" value="([A-Z0-9]{26})"`)
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
	form := filled(t, look(), "/settings/people")
	form.Set("person", "Nele")
	for range 2 {
		status, page := v.post("/settings/people", form)
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
