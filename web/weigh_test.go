package web_test

import (
	"context"
	"log/slog"
	"net/http"
	"regexp"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device"
	"ashshelf/device/sim"
	"ashshelf/soap/unit"
)

func TestMarkedBarsAreWeighedInOneRound(t *testing.T) {
	t.Parallel()
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	bench := device.NewBench(ctx, slog.New(slog.DiscardHandler))
	bench.Place(device.Scale, sim.NewScale(3))
	v := visitBench(t, bench)
	rows := regexp.MustCompile(`(?s)<td class="n">(?:([\d.]+) g.*?|–)</td>.*?name="(g\.[a-z0-9]{26})"`).FindAllStringSubmatch(mustGet(v, "/weigh"), -1)
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
		require.Equal(t, http.StatusOK, status, complaint(page))
	}
	page = mustGet(v, "/weigh")
	assert.Len(t, regexp.MustCompile(`name="g\.`).FindAllString(page, -1), before-2, "what was weighed is no longer due")
	_, page = v.get("/lots/" + one[2:])
	has(t, page, "<strong>Sample bar</strong> "+lighter(rows[0]))
	v.refuses("/weigh?all=on", "/weigh", one, "weighed it at 10:30 already", "do", "keep", one, lighter(rows[0]))
}
