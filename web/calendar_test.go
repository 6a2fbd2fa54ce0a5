package web_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/lot"
)

func TestTheMonthAndItsFeedTellWhatIsDue(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/calendar")
	has(t, page, "March 2026")
	has(t, page, "Unmold and cut")
	has(t, page, "Make Quern base", "plans with a day are there")
	assert.False(t, strings.Contains(page, ".ics"), "no address before one is made")
	_, april := v.get("/calendar/2026-04")
	has(t, april, "Release")
	status, _ := v.get("/calendar/soon")
	assert.Equal(t, http.StatusNotFound, status)

	page = v.does("/calendar", "/calendar/feed")
	address := first(t, page, `id="feed">([^<]+)<`)
	stranger := &visitor{t: t, base: v.base, http: &http.Client{}}
	feed := func() (int, string) { return stranger.get(strings.TrimPrefix(address, v.base)) }
	status, text := feed()
	require.Equal(t, http.StatusOK, status, "a calendar program has no name to give")
	calendar, err := ics.ParseCalendar(strings.NewReader(text))
	require.NoError(t, err)
	require.Greater(t, len(calendar.Events()), 8)
	seen := map[string]bool{}
	for _, e := range calendar.Events() {
		assert.False(t, seen[e.Id()], "%s comes once", e.Id())
		seen[e.Id()] = true
		start, err := e.GetStartAt()
		require.NoError(t, err)
		end, err := e.GetEndAt()
		require.NoError(t, err)
		assert.True(t, end.After(start), e.Id())
	}
	has(t, text, "Unmold and cut: 12-W Quern base")
	for _, line := range strings.Split(strings.TrimRight(text, "\r\n"), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "lines are folded")
	}

	v.does("/calendar", "/calendar/feed")
	status, _ = feed()
	assert.Equal(t, http.StatusNotFound, status, "the old address leads nowhere")
	status, _ = stranger.get("/calendar/" + strings.Repeat("a", 26) + ".ics")
	assert.Equal(t, http.StatusNotFound, status)
}

func TestWhatIsDoneLeavesTheShelf(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/")
	turns := regexp.MustCompile(`action="(/lots/[a-z0-9]{26})/care"`).FindAllStringSubmatch(page, -1)
	require.NotEmpty(t, turns, "bars want turning")
	lot := turns[0][1]
	status, after := v.post(lot+"/care", filled(t, page, lot+"/care"))
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, len(turns)-1, strings.Count(after, `/care"`))
	_, record := v.get(lot)
	matches(t, record, `Bars turned|Top textured|Gel looked for`)
	status, _ = v.post(lot+"/care", map[string][]string{"care": {"sing"}, "key": {"x"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)

	v.does("/settings", "/settings", "off.sun", "on")
	_, month := v.get("/calendar")
	has(t, month, "day off")
}

func TestALotIsPutOnARackThatIsDrawn(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/racks")
	has(t, page, "By the window")
	status, page := v.send("/racks", "/racks", "name", "Cellar", "levels", "two", "width_mm", "120 cm")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "not a number")
	has(t, page, `value="120 cm"`, "what was typed stays")
	v.does("/racks", "/racks", "name", "Cellar", "levels", "2", "width_mm", "120 cm")
	_, page = v.get("/")
	has(t, page, "Cellar, 2 levels with 0 lots")
	matches(t, page, `aria-label="By the window, 4 levels with \d+ lots"`)
	_, list := v.get("/lots?stage=curing")
	lot := first(t, list, `href="(/lots/[a-z0-9]{26})">9-L`)
	_, page = v.get(lot)
	cellar := first(t, page, `<option value="([a-z0-9]{26}:1)">Cellar, level 2`)
	page = v.does(lot, lot+"/place", "place", cellar)
	has(t, page, "It stands on <strong>Cellar, level 2</strong>")
	matches(t, page, `<select id="f-place"[^>]*><option value="`+cellar+`">`, "and stays there when nothing else is chosen")
	_, page = v.get("/")
	has(t, page, "Cellar, 2 levels with 1 lot")
}

func TestALotIsCutIntoBarsOfTwoSizes(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/")
	lot := first(t, page, `href="(/lots/[a-z0-9]{26})" id="at-10-M"`)
	v.does(lot, lot+"/unmold", "gel", "full")
	status, page := v.send(lot, lot+"/cut", "first", "4", "bar", "100 g", "size[0].first", "6", "size[0].bar", "40 g")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "say what size it is", `value="40 g"`, `<details class="more mt-2" open>`)
	v.does(lot, lot+"/cut", "first", "4", "bar", "100 g", "size[0].name", "guest bar", "size[0].first", "6", "size[0].bar", "40 g")
	_, sheet := v.get(lot + "/record.json")
	for _, want := range []string{`"sizes_cut"`, `"guest bar"`, `"bar_g": 40`} {
		has(t, sheet, want)
	}
	asLot(t, sheet)
	_, page = v.get(lot)
	has(t, page, "guest bar of 40 g: first grade 6")
}

func TestEveryPageRemindsOfTheWindowsThatAreOpen(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/recipes")
	hasAll(t, page, `<span aria-hidden="true"><b>4</b></span>`, "due now: ", "Unmold and cut 11-S", "Look for the gel ring 12-W")
	_, part := v.get("/due")
	has(t, part, `<span aria-hidden="true"><b>4</b></span>`)
	assert.NotContains(t, part, "<html")
	lot := first(t, mustGet(v, "/"), `href="(/lots/[a-z0-9]{26})" id="at-11-S"`)
	v.does(lot, lot+"/unmold", "gel", "full")
	_, page = v.get("/recipes")
	has(t, page, "; Cut 11-S")
	_, day := v.get("/calendar/2026-03-14")
	hasAll(t, day, "Saturday 14 March 2026", "opens 08:45, best at 09:15, closes 11:30")
	_, day = v.get("/calendar/2026-03-15")
	hasAll(t, day, "Make Swifts at dusk", "opens Fri 21:15, best at Sat 09:45, closes 08:30")
	for _, path := range []string{"/calendar/2026-02-30", "/calendar/0001-01-01", "/calendar/yesterday"} {
		status, _ := v.get(path)
		assert.Equal(t, http.StatusNotFound, status, path)
	}
}

func TestWhatHasNoPlaceIsPutOnItsBest(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/")
	assert.NotContains(t, page, "without a place on")
	lot := first(t, page, `href="(/lots/[a-z0-9]{26})" id="at-9-L"`)
	v.does(lot, lot+"/place", "place", "none")
	_, page = v.get("/")
	has(t, page, "Put the one without a place on its best")
	form := filled(t, page, "/places")
	_, page = v.post("/places", form)
	assert.NotContains(t, page, "without a place on")
	_, page = v.post("/places", form)
	assert.NotContains(t, page, "without a place on", "a double click is one")
	_, page = v.get(lot)
	has(t, page, "It stands on <strong>Back wall")
	status, page := v.post("/care", url.Values{"care": {"sing"}, "lots": {"x"}, "key": {"k"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "Choose what was done. Nothing was recorded.")
}

func TestTheOwnerSaysWhatStandsApart(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/racks")
	matches(t, page, `(?s)name="apart\[0\]\.a".*?<option value="scented" selected>`)
	v.refuses(
		"/racks",
		"/racks/apart",
		"apart[1].b",
		"choose others than the first",
		"apart[1].a",
		"hold",
		"apart[1].b",
		"hold",
		"apart[1].within",
		"rack",
	)
	page = v.does(
		"/racks",
		"/racks/apart",
		"apart[0].a",
		"",
		"apart[0].b",
		"",
		"apart[1].a",
		"hold",
		"apart[1].b",
		"released",
		"apart[1].within",
		"rack",
	)
	matches(t, page, `(?s)name="apart\[0\]\.a".*?<option value="hold" selected>`)
	says := `Lot 4-S stands with lot 3-M, though lots on hold and released lots do not stand on one rack.`
	has(t, page, says)
	_, page = v.get("/")
	has(t, page, says)
	v.does("/racks", "/racks/apart", "apart[0].a", "", "apart[0].b", "")
	_, page = v.get("/")
	assert.NotContains(t, page, "do not stand")
}

func TestALotIsFoundWhereItStands(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/?find=9l")
	matches(t, page, `Lot 9-L stands on [^<]+, level \d\.`)
	has(t, page, `<a class="btn btn-small ml-2" href="#at-9-L">`)
	matches(t, page, `id="at-9-L" aria-label="Lot 9-L [^"]+, found" class="is-found"`)
	_, page = v.get("/?find=12-W")
	has(t, page, "Lot 12-W is not on a rack yet: in the mold")
	_, page = v.get("/?find=1-H")
	matches(t, page, `Lot 1-H is not on the shelf any more`)
	for typed, says := range map[string]string{"9-K": "the letter does not go with the number", "thyme": "a lot code looks like",
		lot.Code(4711): "there is no lot " + lot.Code(4711)} {
		_, page = v.get("/?find=" + typed)
		has(t, page, says, `value="`+typed+`"`)
	}
}

func TestBarsOfManyLotsAreTurnedWithOnePress(t *testing.T) {
	v := busy(t, 0, 5)
	_, page := v.get("/")
	matches(t, page, `<strong>Turn the bars: 1\d lots</strong>`)
	more := first(t, page, `href="/\?all=turn#do-turn">and (\d+) more</a>`)
	_, whole := v.get("/?all=turn")
	assert.NotContains(t, whole, `#do-turn">and`, "all are named, "+more+" more than before")
	status, after := v.post("/care", filled(t, page, "/care"))
	require.Equal(t, http.StatusOK, status)
	assert.NotContains(t, after, "<strong>Turn the bars")
	status, page = v.post("/care", url.Values{"care": {"sing"}, "lots": {"x"}, "key": {"k"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "On the rack")
}

func TestTheForecastOfALotSaysWhatItsGateSays(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, shelf := v.get("/")
	forecasts := 0
	for _, path := range regexp.MustCompile(`href="(/lots/[a-z0-9]+)" id="at-[^"]+" aria-label="Lot`).FindAllStringSubmatch(shelf, -1) {
		_, page := v.get(path[1])
		if !strings.Contains(page, "It dries towards") {
			continue
		}
		forecasts++
		require.True(t, strings.Contains(page, "</svg>Weight<"))
		met := regexp.MustCompile(`<li class="met"><span[^>]*><svg[^>]*><use[^>]*></svg>\s*Weight`).MatchString(page)
		assert.Equal(t, met, strings.Contains(page, "Its weight has settled."), "%s", path[1])
		assert.False(t, met && strings.Contains(page, "wants a weighing"), "%s", path[1])
	}
	assert.Greater(t, forecasts, 5)
}

// Every day of a month is there once, also where midnight is missing, comes twice, or a
// whole day was left out; and the page comes at once.
func TestTheMonthEndsWhateverItsClocksDo(t *testing.T) {
	t.Parallel()
	v := visit(t)
	days := regexp.MustCompile(`class="day" href="/calendar/([0-9-]+)"`)
	for zone, months := range map[string][]string{
		"America/Havana": {"2026-03", "2026-11"}, "America/Santiago": {"2026-04",
			"2026-09"}, "Pacific/Apia": {"2011-12"}, "Africa/Cairo": {"2026-04"}, "Pacific/Kiritimati": {"2026-01"},
		"Europe/Dublin": {"2026-03", "2026-10"},
	} {
		v.does("/settings", "/settings", "zone", zone)
		for _, month := range months {
			began := time.Now()
			_, page := v.get("/calendar/" + month)
			assert.Less(t, time.Since(began), 5*time.Second, "%s in %s", month, zone)
			var got []string
			for _, m := range days.FindAllStringSubmatch(page, -1) {
				got = append(got, m[1])
			}
			require.NotEmpty(t, got, "%s in %s", month, zone)
			assert.Zero(t, len(got)%7, "whole weeks")
			for i, one := range got[1:] {
				before, err := time.Parse(time.DateOnly, got[i])
				require.NoError(t, err)
				assert.Equal(t, before.AddDate(0, 0, 1).Format(time.DateOnly), one, "%s in %s", month, zone)
			}
			for _, one := range got[:8] {
				status, _ := v.get("/calendar/" + one)
				assert.Equal(t, http.StatusOK, status, "%s in %s", one, zone)
			}
		}
	}
}
