package e2e_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A telephone in the workshop loses its network in the middle of a run: the run goes on with what lies on
// the device, in its order, and everything is on record once when the network is back.
func TestARunGoesOnWithoutNetworkForItsMiddleThird(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 390, 844)
	lot := u.startsLot("Slow olive")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	all := eval[int](u, `document.querySelectorAll("#run .stage a[href*='step=']").length`)
	require.Greater(t, all, 12)
	want := map[string]float64{}
	next := func(n int) {
		for range n {
			at := u.bench()
			if at.Target > 0 {
				want[at.Item] = at.Target
			}
			u.asAsked(at)
		}
	}
	next(all / 3)
	u.open(bench)
	u.until("the whole run lies on the telephone",
		fmt.Sprintf(`caches.open("pages").then(c => c.keys()).then(k => k.filter(r => r.url.includes("step=")).length >= %d)`, all))

	u.kill()
	for range all / 3 {
		at := u.bench()
		if at.Target > 0 {
			want[at.Item] = at.Target
		}
		before := eval[string](u, `document.querySelector("#now-what").textContent`)
		u.asAsked(at)
		u.reads("#as-of", "Without network")
		assert.NotEqual(t, before, eval[string](u, `document.querySelector("#now-what").textContent`), "the work goes on")
	}
	u.reads("#outbox", "Not yet saved")
	assert.Equal(t, all/3, eval[int](u, `JSON.parse(localStorage.getItem("outbox")).length`), "in their order, each once")
	assert.False(t, eval[bool](u, `document.documentElement.scrollWidth > innerWidth + 1`), "nothing is wider than the telephone")

	u.crash()
	u.until("all of it is sent", `localStorage.getItem("outbox") === "[]"`)
	time.Sleep(600 * time.Millisecond)
	u.open(bench)
	require.False(t, eval[bool](u, `!!document.querySelector("#as-of")`), "the page is of now")
	u.toThePour(func(at benchStep, _, _ string) {
		if at.Target > 0 {
			want[at.Item] = at.Target
		}
	})
	u.press("It is poured")
	u.open(lot)
	for item, grams := range want {
		got := eval[float64](u, fmt.Sprintf(`Number([...document.querySelectorAll("[data-item]")].find(
			r => r.dataset.item === %q)?.querySelector("[data-actual]").textContent)`, item))
		assert.InDelta(t, grams, got, grams*0.011+0.3, "%s, once", item)
	}
	u.open("/settings")
	u.reads("#without-network", "keeps the pages it has seen")
}
