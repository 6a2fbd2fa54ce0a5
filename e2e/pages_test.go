package e2e_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// particular is what tells two pages of a kind apart: an identity, a day, a number, a kind of trouble.
var particular = regexp.MustCompile(`/trouble/[a-z-]+|[0-9a-z]{26}|[0-9]{4}-[0-9]{2}(-[0-9]{2})?|\b[0-9]+\b`)

// kindOf is the kind of page that an address leads to.
func kindOf(address string) string {
	path, _, _ := strings.Cut(address, "?")
	return particular.ReplaceAllString(path, "{}")
}

// scheme is one way to look at all pages.
type scheme struct {
	name, colours string
	width, height int
	look          func(*user, string)
}

// Every kind of page that a link leads to is looked at once in each scheme: by daylight on a
// laptop, in the dark on a small tablet, and on a telephone, where nothing may be wider than its window.
func TestEveryPageReadsWell(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	schemes := []scheme{
		{"by day", "light", 1280, 800, (*user).wellMade},
		{"in the dark", "dark", 800, 1100, (*user).readable},
		{"on a telephone", "light", 390, 844, func(*user, string) {}},
	}
	seen := map[string]bool{}
	queue := []string{"/", "/look"}
	for len(queue) > 0 {
		at := queue[0]
		queue = queue[1:]
		kind := kindOf(at)
		if seen[kind] {
			continue
		}
		seen[kind] = true
		u.under(schemes[0])
		u.open(at)
		queue = append(queue, u.leadsTo()...)
		for i, one := range schemes {
			if i > 0 {
				u.under(one)
			}
			one.look(u, at+" "+one.name)
			assert.False(t, eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`), "%s is wider than the window %s", at, one.name)
		}
	}
	assert.Greater(t, len(seen), 35)
	u.noErrors()
}

// under has the page shown in a scheme.
func (u *user) under(one scheme) {
	u.t.Helper()
	_, err := chromedp.Call(u.tab, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
		Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: one.colours}},
	})
	require.NoError(u.t, err)
	u.do("window", chromedp.EmulateViewport(int64(one.width), int64(one.height)))
}

// leadsTo are the pages that a page links to, without files and what stands in the address
// after #.
func (u *user) leadsTo() []string {
	u.t.Helper()
	return eval[[]string](u, `[...document.querySelectorAll("a[href^='/']")].map(a => a.getAttribute("href").split("#")[0])
		.filter(to => to && !to.startsWith("/static") && !/\.(json|csv|ics|jpg|zip|crt)$/.test(to.split("?")[0]))`)
}

// With colours of her own, and on a telephone, she still sees in which room she is.
func TestTheRoomOneIsInShowsWithoutItsColourAndOnATelephone(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 390, 844)
	forced := emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "forced-colors", Value: "active"}}}
	_, err := chromedp.Call(u.tab, emulation.SetEmulatedMedia, forced)
	require.NoError(t, err)
	u.open("/stores")
	require.True(t, eval[bool](u, `matchMedia("(forced-colors: active)").matches`))
	line := `(of) => { const s = getComputedStyle(of.querySelector("span")); return s.outlineStyle + " " + s.outlineWidth; }`
	here := eval[string](u, `(`+line+`)(document.querySelector(".strip nav [aria-current]"))`)
	there := eval[string](u, `(`+line+`)(document.querySelector(".strip nav a:not([aria-current])"))`)
	assert.NotEqual(t, there, here, "the current room has a frame that no other has")
	assert.True(t, eval[bool](u, `(() => { const r = document.querySelector(".strip nav [aria-current]").getBoundingClientRect();
		return r.left >= 0 && r.right <= innerWidth && r.top >= 0 && r.bottom <= innerHeight; })()`), "it is in sight")
}
