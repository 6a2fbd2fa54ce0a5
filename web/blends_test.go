package web_test

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Another blend for the same bar is asked for, seen beside the one that it is, and taken over as a draft; nonsense is told.
func TestAnotherBlendIsAskedForAndTaken(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, list := v.get("/recipes")
	recipe := regexp.MustCompile(`href="(/recipes/[a-z0-9]{26})"[^>]*>\s*Fig and black tea`).FindStringSubmatch(list)
	require.NotEmpty(t, recipe)
	at := recipe[1] + "/blends"
	_, page := v.get(at)
	hasAll(t, page, "Another blend for the same bar", "The cheapest at today’s prices")
	_, page = v.get(at + "?wish=cheapest&band=3")
	hasAll(t, page, "As it is", "The cheapest", "What spoils first", "A kilo of fats costs", "a point more would save",
		"NaOH for a kilo of fats")
	_, gone := v.get(at + "?wish=without&gone=castor-oil&band=3")
	has(t, gone, "None of these fats keeps the bar so near")
	_, wide := v.get(at + "?wish=without&gone=castor-oil&band=8")
	has(t, wide, "Nearest to the bar that it is")
	for query, says := range map[string]string{"wish=nicer": "choose what is wanted", "wish=cheapest&band=wide": "not a number",
		"wish=cheapest&band=90": "between 0.5 and 15 points", "wish=without": "choose a fat of the recipe",
		"wish=from-house&grams=lots": "“lots”"} {
		status, page := v.get(at + "?" + query)
		assert.Equal(t, http.StatusUnprocessableEntity, status, query)
		has(t, page, says)
	}

	// Nothing is written by looking; taking one writes a draft with its shares.
	_, before := v.get(recipe[1])
	assert.NotContains(t, before, "another blend for the same bar")
	status, bench := v.post(at, filled(t, page, at))
	assert.Equal(t, http.StatusOK, status)
	hasAll(t, bench, "another blend for the same bar", "Sunflower oil (high oleic)")
	status, _ = v.post(at, map[string][]string{"blend": {"moonbeam=100"}, "key": {"x"}})
	assert.Equal(t, http.StatusOK, status, "what cannot be read leads back to the question")
}
