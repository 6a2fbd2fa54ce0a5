package web_test

import (
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// foreign is a figure in a unit that a shop of ounces, inches and °F does not use.
var foreign = regexp.MustCompile(`(?:^|[\s(±×])-?\d[\d.,]*\s?(?:g|kg|ml|mm|cm|°C)(?:$|[\s.,;:)!?–])`)

// An ounce shop sees ounces, inches and °F on every page. Grams stand beside them where lye is weighed,
// in files, and in what people wrote themselves.
func TestAnOunceShopSeesItsOwnUnits(t *testing.T) {
	t.Parallel()
	s := demoShop(t)
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	_, settings := v.get("/settings")
	action, f, ok := read(t, settings).Form("/settings")
	require.True(t, ok)
	f.Set("units", "us")
	status, _ := v.post(action, f)
	require.Less(t, status, 400)
	nameless := regexp.MustCompile(`\d°(?:$|[^CF])`) // degrees of nobody knows what
	queue := []string{"/", "/recipes/new", "/molds/new", "/scents/new", "/equipment/new", "/lye/new", "/lye/heat", "/lye/fats", "/plan"}
	seen := map[string]bool{}
	for len(queue) > 0 && len(seen) < 250 {
		at := queue[0]
		queue = queue[1:]
		path, _, _ := strings.Cut(at, "?")
		if seen[at] || strings.HasPrefix(at, "/static") || strings.Contains(path, ".") || strings.HasPrefix(at, "/photos") || path == "/look" ||
			strings.HasPrefix(path, "/guide") { // it speaks to shops of either units
			continue
		}
		seen[at] = true
		_, text := v.get(at)
		page := read(t, text)
		queue = append(queue, page.Links()...)
		for _, said := range page.Ours() {
			assert.NotRegexp(t, nameless, said, at)
			if found := foreign.FindString(" " + said + " "); found != "" {
				assert.Fail(t, "a foreign unit", "%s: %q in %q", at, strings.TrimSpace(found), said)
			}
		}
	}
	assert.Greater(t, len(seen), 60)
}
