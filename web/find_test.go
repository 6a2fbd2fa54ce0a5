package web_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAnythingIsFoundByAWordOfIt(t *testing.T) {
	t.Parallel()
	v := visit(t)
	for asked, wants := range map[string]string{
		"12w":           "<h1>Lot 12-W</h1>", // straight to it
		"quern base":    `<strong>12-W</strong>`,
		"tallow drov":   `<strong>Drover tallow</strong>`,
		"evoo":          `href="/recipes?q=Olive`, // by another name of the oil
		"long loaf":     `<strong>Long loaf</strong>`,
		"blue canister": `<strong>J2-K</strong>`,
		"nettle":        `href="/infusions#jar-`,
		"odile":         `<strong>Odile Marrow</strong>`,
		"steel pot":     `<strong>Small steel pot</strong>`,
		"foot pedal":    `href="/guide/`,
		"zeppelin":      "Nothing here has these words",
	} {
		status, page := v.get("/find?q=" + url.QueryEscape(asked))
		assert.Equal(t, http.StatusOK, status, asked)
		has(t, page, wants, asked)
	}
	status, page := v.get("/find?q=" + strings.Repeat("olive", 100))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "a few words are enough")
}

func TestTheGuideLeadsFromPageToPageWithinTheProgram(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/guide")
	has(t, page, `<h2 id="the-recipe-bench">`)
	has(t, page, `href="/guide/judgement"`)
	assert.NotContains(t, page, `.md"`, "no link leads to a file")
	_, page = v.get("/guide/judgement")
	has(t, page, `id="when-a-loaf-is-cut"`)
	status, _ := v.get("/guide/nowhere")
	assert.Equal(t, http.StatusNotFound, status)
}
