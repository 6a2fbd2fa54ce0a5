package web_test

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/soap/unit"
)

func TestMarkedBarsAreWeighedInOneRound(t *testing.T) {
	t.Parallel()
	bench := benchWithScale(t, 3)
	v := visitBench(t, bench)
	rows := regexp.MustCompile(`(?s)<td class="n">(?:([\d.]+) g.*?|–)</td>.*?name="(g\.[a-z0-9]{26})"`).
		FindAllStringSubmatch(mustGet(v, "/weigh"), -1)
	require.GreaterOrEqual(t, len(rows), 2, "bars are due")
	lighter := func(row []string) string {
		last, err := strconv.ParseFloat(row[1], 64)
		if err != nil { // its first weight
			last = 110
		}
		return unit.Trim(last*0.99, 1) + " g"
	}
	one, two := rows[0][2], rows[1][2]
	v.refuses("/weigh", "/weigh", one, "is not a number", "do", "keep", one, "heavy", two, lighter(rows[1]))
	status, page := v.send("/weigh", "/weigh", "do", "keep")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "No weight is typed yet")

	// All or nothing: a bar that cannot be weighed keeps the other back, and what
	// was typed stays.
	gone := "g.00000000000000000000000000"
	status, _ = v.send("/weigh", "/weigh", "do", "keep", gone, "100 g", two, lighter(rows[1]))
	assert.Equal(t, http.StatusNotFound, status)
	v.refuses("/weigh", "/weigh", one, "more than 0 g", "do", "keep", one, "0", two, lighter(rows[1]))

	reads := lighter(rows[1])
	require.NoError(t, bench.Tell(device.Scale, "put "+reads[:len(reads)-2]))
	assert.EventuallyWithT(t, func(c *assert.CollectT) {
		status, page := v.send("/weigh", "/weigh", "do", "scale "+two, one, lighter(rows[0]))
		assert.Equal(c, http.StatusOK, status)
		assert.True(c, regexp.MustCompile(`name="`+regexp.QuoteMeta(two)+`" value="\d+`).MatchString(page), "it reads what lies on it")
	}, 10*time.Second, 100*time.Millisecond)
	page = mustGet(v, "/weigh")
	has(t, page, `name="`+one+`" value="`+lighter(rows[0])+`"`, "all=on")
	before := len(regexp.MustCompile(`name="g\.`).FindAllString(page, -1))

	form := filled(t, page, "/weigh")
	form.Set("do", "keep")
	for range 2 { // a double click
		status, page = v.post("/weigh", form)
		require.Equal(t, http.StatusOK, status, read(t, page).Complaints())
	}
	page = mustGet(v, "/weigh")
	assert.Len(t, regexp.MustCompile(`name="g\.`).FindAllString(page, -1), before-2, "what was weighed is no longer due")
	_, page = v.get("/lots/" + one[2:])
	has(t, page, "<strong>Sample bar</strong> "+lighter(rows[0]))
	v.refuses("/weigh?all=on", "/weigh", one, "weighed it at 10:30 already", "do", "keep", one, lighter(rows[0]))
}

// Two people go along the racks with a tablet each, and what one types is not the
// other's. What is still there on the next day is not taken for that day's.
func TestWhatIsTypedInARoundIsOfItsDeviceAndItsDay(t *testing.T) {
	t.Parallel()
	file, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, writeShop(dir, file))
	var later atomic.Int64 // hours
	s, err := shop.Open(context.Background(), dir, func() time.Time { return moment.Add(time.Duration(later.Load()) * time.Hour) })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	ida := serve(t, s, nil)
	jon := &visitor{t: t, base: ida.base, http: &http.Client{Jar: jar(t)}}
	for _, v := range []*visitor{ida, jon} {
		v.post("/who", url.Values{"person": {"1"}})
	}
	page := mustGet(ida, "/weigh")
	field := first(t, page, `name="(g\.[a-z0-9]{26})"`)
	form := filled(t, page, "/weigh")
	form.Set(field, "101.5 g")
	ida.post("/weigh/typed", form)
	has(t, mustGet(ida, "/weigh"), `value="101.5 g"`)
	assert.NotContains(t, mustGet(jon, "/weigh"), "101.5")
	later.Store(23)
	assert.NotContains(t, mustGet(ida, "/weigh"), "101.5")
}
