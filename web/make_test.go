package web_test

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"io"
	"log/slog"
	"mime/multipart"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device"
	"ashshelf/device/sim"
)

// newLot starts a lot of a recipe in one long loaf and returns its address.
func (v *visitor) newLot(recipe string) string {
	v.t.Helper()
	r, mold := strings.TrimPrefix(
		v.link("/recipes", "recipes", recipe),
		"/recipes/",
	), strings.TrimPrefix(
		v.link("/molds", "molds", "Long loaf"),
		"/molds/",
	)
	_, page := v.send("/plan?by=molds&recipe="+r+"&mold="+mold, "/plan", "do", "keep", "count."+mold, "1")
	plan := first(v.t, page, `action="(/plans/[a-z0-9]{26})"`)
	return first(v.t, v.does(plan, plan), `action="(/lots/[a-z0-9]{26})/tick"`)
}

func (v *visitor) tick(lot, step string, pairs ...string) string {
	v.t.Helper()
	return v.does(strings.Replace(lot, "/lots/", "/make/", 1)+"?step="+url.QueryEscape(step), lot+"/tick", pairs...)
}

// readings follows the stream of a lot's scale and hands over the number and the
// look of each picture until it is told to stop.
func (v *visitor) readings(lot, step string, see func(number, picture string) (enough bool)) {
	v.t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	req, err := http.NewRequestWithContext(
		ctx,
		http.MethodGet,
		v.base+strings.Replace(lot, "/lots/", "/make/", 1)+"/live?step="+url.QueryEscape(step),
		nil,
	)
	require.NoError(v.t, err)
	r, err := v.http.Do(req)
	require.NoError(v.t, err)
	defer r.Body.Close()
	require.Equal(v.t, "text/event-stream", r.Header.Get("Content-Type"))
	lines := bufio.NewScanner(r.Body)
	lines.Buffer(nil, 1<<20)
	var picture strings.Builder
	for lines.Scan() {
		if line := lines.Text(); line != "" {
			picture.WriteString(strings.TrimPrefix(line, "data: "))
			continue
		}
		number := ""
		if m := regexp.MustCompile(`name="reading" value="(\d+)"`).FindStringSubmatch(picture.String()); m != nil {
			number = m[1]
		}
		if see(number, picture.String()) {
			return
		}
		picture.Reset()
	}
	require.NoError(v.t, lines.Err(), "the stream ended early")
	require.Fail(v.t, "the stream ended early")
}

// benchWithScale is a bench with a simulated scale of a seed, until the test ends.
func benchWithScale(t testing.TB, seed uint64) *device.Set {
	t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	bench := device.NewSet(ctx, slog.New(slog.DiscardHandler))
	bench.Place(device.Scale, sim.NewScale(seed))
	return bench
}

func TestWhatTheScaleShowedIsWhatIsStored(t *testing.T) {
	t.Parallel()
	bench := benchWithScale(t, 5)
	v := visitBench(t, bench)
	lot := v.newLot("Slow olive")
	v.tick(lot, "ready:gear")
	page := v.benchAt(lot, "weigh:fat:olive-oil")
	has(t, page, "hx-sse:connect")
	target, err := strconv.ParseFloat(first(t, page, `id="target">([0-9.]+) `), 64)
	require.NoError(t, err)
	form := filled(t, page, lot+"/weigh")
	weigh := func(reading string) (int, string) {
		f := url.Values{}
		for k, vs := range form {
			f[k] = vs
		}
		f.Set("reading", reading)
		f.Set("key", "reading "+reading)
		return v.post(lot+"/weigh", f)
	}
	require.NoError(t, bench.Tell(device.Scale, fmt.Sprintf("pour %.1f 2000", target)))
	moving, still, figure := "", "", ""
	v.readings(lot, "weigh:fat:olive-oil", func(number, picture string) bool {
		switch {
		case strings.Contains(picture, "moving") && moving == "":
			moving = number
		case strings.Contains(picture, "stands still") && strings.Contains(picture, "on the mark"):
			still, figure = number, first(t, picture, `id="figure">([0-9.]+) g`)
			return true
		}
		return false
	})
	status, answer := weigh(moving)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, answer, "still moving")
	status, answer = weigh("12345")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, answer, "no longer known")
	status, _ = weigh(still)
	assert.Equal(t, http.StatusOK, status)
	_, record := v.get(lot)
	has(t, record, "by the scale")
	matches(
		t,
		record,
		`data-item="fat:olive-oil"[^/]*</td><td[^>]*>[0-9.]+</td><td class="n" data-actual>`+strings.TrimSuffix(figure, ".0"),
	)
	v.readings(lot, "weigh:fat:olive-oil", func(_, picture string) bool {
		return regexp.MustCompile(`id="figure">-?0\.[0-2] g`).MatchString(picture) // tared for the next one
	})

	require.NoError(t, bench.Tell(device.Scale, "unplug"))
	v.readings(lot, "weigh:alkali:naoh", func(_, picture string) bool { return strings.Contains(picture, "out of contact") })
	assert.Error(t, bench.Tell(device.Probe, "plug"), "there is no probe")
	status, _ = v.post("/bench/scale/tell", url.Values{"command": {"explode"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _ = v.get(strings.Replace(lot, "/lots/", "/make/", 1) + "/live?step=ready:bench")
	assert.Equal(t, http.StatusNotFound, status, "a step without a device has no stream")
}

// A page that streams does not keep the program from stopping.
func TestTheStreamEndsWhenTheProgramIsToldToStop(t *testing.T) {
	t.Parallel()
	s := demoShop(t)
	bench := benchWithScale(t, 5)
	pages := pagesOf(t, s, bench)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	server := pages.HTTP(l.Addr().String(), nil)
	done := make(chan error, 1)
	go func() { done <- server.Serve(l) }()
	v := &visitor{t: t, base: "http://" + l.Addr().String(), http: &http.Client{Jar: jar(t)}}
	v.post("/who", url.Values{"person": {"1"}})
	lot := v.newLot("Slow olive")
	stopped := make(chan error, 1)
	began := time.Now()
	req, err := http.NewRequest(
		http.MethodGet,
		v.base+strings.Replace(lot, "/lots/", "/make/", 1)+"/live?step=weigh:fat:olive-oil",
		nil,
	)
	require.NoError(t, err)
	r, err := v.http.Do(req)
	require.NoError(t, err)
	defer r.Body.Close()
	go func() { stopped <- server.Shutdown(context.Background()) }()
	_, err = io.Copy(io.Discard, r.Body)
	require.NoError(t, err)
	require.NoError(t, <-stopped)
	assert.Less(t, time.Since(began), 5*time.Second)
	assert.ErrorIs(t, <-done, http.ErrServerClosed)
}

// What makes a day that is not a weight: a handful more, a temperature, an
// over-pour put right in both ways, a photo, and the gear that was forgotten.
func TestTheBenchRecordsWhatHappensBesidesThePlan(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot := v.newLot("Slow olive")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	v.refuses(
		bench+"?step=weigh:alkali:naoh",
		lot+"/weigh",
		"grams",
		"goggles",
		"grams",
		first(t, v.benchAt(lot, "weigh:alkali:naoh"), `id="target">([0-9.]+) `)+" g",
	)
	v.tick(lot, "ready:gear")
	v.refuses(bench, lot+"/extra", "extra_grams", "not a number", "extra", "purple", "extra_grams", "a pinch")
	v.does(bench, lot+"/extra", "extra", "castor oil", "extra_grams", "30 g")
	v.refuses(bench, lot+"/temp", "read-lye", "type what", "of", "lye")
	v.does(bench, lot+"/temp", "of", "lye", "lye_c", "101 °F")
	_, record := v.get(lot)
	has(t, record, "Castor oil: 30 g, unplanned")
	has(t, record, "lye 38.3 °C")

	target := first(t, v.benchAt(lot, "weigh:fat:olive-oil"), `id="target">([0-9.]+) `)
	grams, err := strconv.ParseFloat(target, 64)
	require.NoError(t, err)
	over := bench + "?step=weigh:fat:olive-oil"
	page := v.does(over, lot+"/weigh", "grams", fmt.Sprintf("%.1f g", grams*1.05))
	has(t, page, "over the mark")
	page = v.does(over, lot+"/back")
	assert.False(t, strings.Contains(page, "over the mark"), "scooped back")
	v.does(over, lot+"/weigh", "grams", fmt.Sprintf("%.1f g", grams*0.05), "sure", "on")
	page = v.does(over, lot+"/rescale")
	assert.False(t, strings.Contains(page, "over the mark"), "the rest was made larger")
	_, record = v.get(lot)
	has(t, record, "to 105 % of the plan")
	status, _ := v.post(lot+"/rescale", url.Values{"item": {"fat:olive-oil"}, "key": {"again"}})
	assert.Equal(t, http.StatusConflict, status, "it is not over any more")

	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	require.NoError(t, form.WriteField("caption", "the pot"))
	require.NoError(t, form.WriteField("key", "photo"))
	part, err := form.CreateFormFile("photo", "pot.png")
	require.NoError(t, err)
	require.NoError(t, png.Encode(part, image.NewRGBA(image.Rect(0, 0, 30, 20))))
	require.NoError(t, form.Close())
	r, err := v.http.Post(v.base+lot+"/photo", form.FormDataContentType(), &body)
	status, page = v.read(r, err)
	require.Equal(t, http.StatusOK, status, read(t, page).Complaints())
	_, record = v.get(lot)
	photo := first(t, record, `src="(/photos/[0-9a-f]{64}\.jpg)"`)
	status, _ = v.get(photo)
	assert.Equal(t, http.StatusOK, status)
	status, page = v.post(lot+"/photo", url.Values{"key": {"none"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "choose a picture")
	status, _ = v.get("/photos/" + strings.Repeat("a", 64) + ".jpg")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestASecondDeviceIsToldWhoWritesAndTakesOver(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot := v.newLot("Slow olive")
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	v.tick(lot, "ready:bench")
	other := &visitor{t: t, base: v.base, http: &http.Client{Jar: jar(t)}}
	other.post("/who", url.Values{"person": {"2"}})
	_, page := other.get(bench)
	has(t, page, "You are watching")
	status, page := other.send(bench+"?step=ready:gear", lot+"/tick", "note", "all of it")
	assert.Equal(t, http.StatusConflict, status)
	has(t, page, "writes this run on")
	has(t, page, `value="all of it"`, "what was typed is kept")
	other.does(bench, lot+"/takeover")
	other.tick(lot, "ready:gear")
	_, page = v.get(bench)
	has(t, page, "You are watching", "now the first one watches")
}

func TestDevicesOfTheNetworkAreNamedInTheSettings(t *testing.T) {
	t.Parallel()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	scale := sim.NewScale(9)
	go func() { _ = scale.Serve(ctx, l) }()
	v := visitBench(t, device.NewSet(ctx, slog.New(slog.DiscardHandler)))
	v.refuses("/settings", "/settings", "scale_at", "host:port", "scale_at", "the kitchen")
	v.does("/settings", "/settings", "scale_at", l.Addr().String())
	require.NoError(t, scale.Do("put 42"))
	lot := v.newLot("Slow olive")
	v.readings(lot, "weigh:fat:olive-oil", func(_, picture string) bool { return strings.Contains(picture, `id="figure">42`) })
	v.does("/settings", "/settings", "scale_at", "")
	assert.False(t, strings.Contains(v.benchAt(lot, "weigh:fat:olive-oil"), "hx-sse:connect"), "taken away again")
}

func TestTheMarkedBarIsWeighedOffTheScale(t *testing.T) {
	t.Parallel()
	bench := benchWithScale(t, 7)
	v := visitBench(t, bench)
	lot := first(t, mustGet(v, "/"), `href="(/lots/[a-z0-9]{26})" id="at-9-L"`)
	reads := func(status int, says string) {
		t.Helper()
		assert.EventuallyWithT(t, func(c *assert.CollectT) {
			got, page := v.send(lot, lot+"/sample", "do", "scale")
			assert.Equal(c, status, got)
			assert.True(c, regexp.MustCompile(says).MatchString(page), says)
		}, 10*time.Second, 100*time.Millisecond)
	}
	reads(http.StatusUnprocessableEntity, "nothing lies on the scale") // once it stands still
	require.NoError(t, bench.Tell(device.Scale, "put 104.3"))
	reads(http.StatusOK, `name="sample" value="104(\.\d)? g"`)
	require.NoError(t, bench.Tell(device.Scale, "unplug"))
	reads(http.StatusUnprocessableEntity, "the scale cannot be read")
	v = visit(t)
	page := mustGet(v, lot)
	assert.NotContains(t, page, "Read the scale")
}

// A page that is older than the program shows a reading that nobody remembers: it is
// refused once, with what to do, and the page that says so goes on.
func TestAReadingOfBeforeARestartDoesNotStopTheBench(t *testing.T) {
	t.Parallel()
	bench := benchWithScale(t, 5)
	bench.Place(device.Probe, sim.NewProbe(5))
	require.Eventually(
		t,
		func() bool { s, _, _ := bench.Watch(device.Probe).State(); return s.On && s.Reading.Number > 0 },
		5*time.Second,
		10*time.Millisecond,
	)
	v := visitBench(t, bench)
	lot := v.newLot("Slow olive")
	address := strings.Replace(lot, "/lots/", "/make/", 1)
	for range 30 {
		_, page := v.get(address)
		if strings.Contains(page, `value="fats_c"`) {
			break
		}
		if strings.Contains(page, `id="target"`) {
			v.does(address, lot+"/weigh", "grams", first(t, page, `id="target">([0-9.]+) `)+" g")
			continue
		}
		v.does(address, lot+"/tick", "liquid_c", "8 °C", "check_g", "500", "reads_g", "500", "note", "as it should be", "reading", "")
	}
	status, page := v.send(address, lot+"/tick", "reading", "12345", "probe", "lye_c", "fats_c", "40 °C")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "no longer known")
	has(t, page, "40 °C", "what was typed is kept")
	again := filled(t, page, lot+"/tick")
	assert.NotEqual(t, "12345", again.Get("reading"), "the page that follows has a reading of now")
	again.Set("probe", "lye_c")
	status, page = v.post(lot+"/tick", again)
	assert.Equal(t, http.StatusOK, status, read(t, page).Complaints())
	assert.False(t, strings.Contains(page, `value="fats_c"`), "the bench goes on")
}
