package web_test

import (
	"encoding/csv"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// coming is the address of the first market of a name that is to come.
func (v *visitor) coming(name string) string {
	v.t.Helper()
	_, page := v.get("/markets")
	at := regexp.MustCompile(`<a href="(/markets/[a-z0-9]{26})/pack">` + regexp.QuoteMeta(name) + `</a>`).FindStringSubmatch(page)
	require.NotNil(v.t, at, "no market %s", name)
	return at[1]
}

// A market goes from its day to its count without any script: what is wrong is told beside its field and kept as typed.
func TestAMarketIsHeldOnPaper(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/markets/new")
	at := first(t, page, `action="(/markets/new/[a-z0-9]+)"`)
	f := filled(t, page, at)
	f.Set("do", "keep")
	f.Set("name", "Slip market")
	f.Set("on", "soon")
	f.Set("fee", "dear")
	f.Set("deal_bars", "3")
	f.Set("times", "99")
	want := first(t, page, `name="(want\.[a-z0-9]{26})"`)
	f.Set(want, "many")
	status, page := v.post(at, f)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	for field, says := range map[string]string{"on": "2026", "fee": "type an amount", "deal_amount": "what they cost", want: "not a number"} {
		said, _ := read(t, page).Beside(field)
		assert.Contains(t, said, says, field)
		assert.Equal(t, f.Get(field), filled(t, page, at).Get(field), "%s stays as it was typed", field)
	}
	for field, value := range map[string]string{"on": "2026-03-14", "fee": "12", "deal_amount": "20", "times": "1", "every": "14", want: "",
		"float": "50"} {
		f.Set(field, value)
	}
	status, _ = v.post(at, f)
	require.Equal(t, http.StatusOK, status)
	m := v.coming("Slip market")
	_, page = v.get("/markets")
	assert.Equal(t, 2, strings.Count(page, ">Slip market<"), "and once more two weeks later")
	again := visitAgain(v, at, f)
	assert.Equal(t, http.StatusOK, again, "sent again it is the same")
	_, page = v.get("/markets")
	assert.Equal(t, 2, strings.Count(page, ">Slip market<"))

	_, page = v.get(m + "/pack")
	pile := first(t, page, `name="(pack\|[^"]+\|first\|)"`)
	v.refuses(m+"/pack", m+"/pack", pile, "not a whole number", pile, "-2", "do", pile)
	v.refuses(m+"/pack", m+"/pack", pile, "only", pile, "500", "do", pile)
	page = v.does(m+"/pack", m+"/pack", pile, "2", "do", pile)
	has(t, page, "2</b> bars in the box")
	v.refuses(m+"/stall", m+"/till", "bars", "not a number", "bars", "some", "pay", "cash")
	product := strings.Split(pile, "|")[1]
	page = v.does(m+"/stall", m+"/till", "product", product, "bars", "1", "pay", "cash")
	has(t, page, "&#34;amount&#34;:820", "without an amount it is the price")
	_, page = v.get(m + "/home")
	has(t, page, "by the till 58.20")
	left, given := strings.Replace(pile, "pack", "left", 1), strings.Replace(pile, "pack", "given", 1)
	v.refuses(m+"/home", m+"/home", "card", "count it", "cash", "58.20", "card", "")
	v.refuses(m+"/home", m+"/home", left, "between 0 and the 2", left, "3", "cash", "58.20", "card", "0")
	v.refuses(m+"/home", m+"/home", given, "between 0 and the 2", given, "9", "cash", "1", "card", "0")
	page = v.does(m+"/home", m+"/home", "cash", "58.20", "card", "0", "weather", "wind")
	hasAll(t, page, "to the cent", "1</b> of 2 sold", "wind")
	status, _ = v.post(m+"/home", url.Values{"cash": {"1"}, "card": {"1"}, "key": {"another"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "it is counted back once")
	v.refuses(m, m, "on", "its name, day and hours stand", "on", "2026-04-01", "do", "keep")

	// One that nothing was packed for is told from a binder.
	other := v.coming("Slip market")
	packed, sold, gone := "packed|"+product, "sold|"+product, "gone|"+product
	v.refuses(other+"/home", other+"/home", sold, "between 0 and the 5", packed, "5", sold, "6", "do", "remember")
	v.refuses(other+"/home", other+"/home", gone, "it was not sold out", packed, "5", sold, "4", gone, "12:00", "do", "remember")
	page = v.does(other+"/home", other+"/home", packed, "5", sold, "5", gone, "12:00", "do", "remember")
	has(t, page, "Gone at 12:00")
}

// visitAgain sends a form once more, as a double press does.
func visitAgain(v *visitor, at string, f url.Values) int {
	status, _ := v.post(at, f)
	return status
}

// What a telephone sends is taken once under its key, and nonsense is not.
func TestATillIsHeardOnce(t *testing.T) {
	t.Parallel()
	v := visit(t)
	m := v.coming("Quay market")
	product := strings.TrimPrefix(v.product("Fig by lamplight"), "/products/")
	_, page := v.get(m + "/stall")
	key := filled(t, page, m+"/till").Get("key")
	sends := func(key, held string, pairs ...string) *http.Response {
		f := url.Values{"key": {key}}
		for i := 0; i < len(pairs); i += 2 {
			f.Add(pairs[i], pairs[i+1])
		}
		q, err := http.NewRequestWithContext(bg, http.MethodPost, v.base+m+"/till", strings.NewReader(f.Encode()))
		require.NoError(t, err)
		q.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		q.Header.Set("Ashshelf-Outbox", "1")
		q.Header.Set("Ashshelf-Held", held)
		r, err := v.http.Do(q)
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		return r
	}
	sale := []string{"what", "sold", "pay", "cash", "amount", "1500", "line", product + ":2"}
	for range 2 {
		r := sends(key+"1", "60000", sale...)
		require.Equal(t, http.StatusNoContent, r.StatusCode)
		assert.Equal(t, key+"1", r.Header.Get("Ashshelf-Recorded"))
	}
	for name, bad := range map[string][]string{
		"no amount": {"what", "sold", "pay", "cash", "amount", "much", "line", product + ":2"},
		"no bars":   {"what", "sold", "pay", "cash", "amount", "1", "line", product + ":two"},
		"no money":  {"what", "sold", "pay", "shells", "amount", "1", "line", product + ":2"},
		"no thing":  {"what", "asked", "of", "moonbeam"}, "no word": {"what", "stolen", "of", product},
	} {
		r := sends(key+name, "0", bad...)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, name)
		assert.Empty(t, r.Header.Get("Ashshelf-Recorded"), name)
	}
	for _, held := range []string{"-5", "long", "99999999999999"} {
		assert.Equal(t, http.StatusUnprocessableEntity, sends(key+"held"+held, held, sale...).StatusCode, held)
	}
	assert.Equal(t, http.StatusNoContent, sends(key+"2", "0", "what", "undone", "of", key+"1").StatusCode)
	_, page = v.get(m + "/home")
	has(t, page, "by the till 60.00")
}

// An order is written down, packed, sent and told of in forms; the paper names the buyer as long as the name is there.
func TestAnOrderGoesOutWithItsPaper(t *testing.T) {
	t.Parallel()
	v := visit(t)
	fig := strings.TrimPrefix(v.product("Fig by lamplight"), "/products/")
	_, page := v.get("/orders/new?product=" + fig)
	at := first(t, page, `action="(/orders/new/[a-z0-9]+)"`)
	f := filled(t, page, at)
	assert.Equal(t, fig, f.Get("lines[0].product"))
	f.Set("do", "keep")
	f.Set("lines[2].bars", "x")
	status, page := v.post(at, f)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	for field, says := range map[string]string{
		"due": "2026", "lines[0].bars": "number", "lines[2].bars": "number", "lines[2].product": "choose",
	} {
		said, _ := read(t, page).Beside(field)
		assert.Contains(t, said, says, field)
	}
	for field, value := range map[string]string{"due": "2026-04-02", "lines[0].bars": "3", "lines[2].bars": "", "buyer_name": "Marsh View",
		"channel": "shop", "terms": "bought"} {
		f.Set(field, value)
	}
	status, page = v.post(at, f)
	require.Equal(t, http.StatusOK, status)
	order := first(t, page, `action="(/orders/[a-z0-9]{26})"`)
	_, page = v.get(order + "/box")
	has(t, page, "4.50", "the price of the channel")
	pile := first(t, page, `name="(pack\|`+fig+`[^"]+\|first\|)"`)
	v.does(order+"/box", order+"/box", pile, "3", "do", "all")
	paper := v.does(order+"/box", order+"/send")
	hasAll(t, paper, "Invoice I-0002", "Marsh View", "13.50", "Please pay within three weeks.")
	back := strings.Replace(pile, "pack", "returned", 1)
	v.refuses(order+"/box", order+"/tell", back, "3 of these are with the buyer", back, "4")
	v.refuses(order+"/box", order+"/tell", "order", "type how many", back, "")
	v.does(order+"/box", order+"/tell", back, "1")
	_, page = v.get(order + "/box")
	hasAll(t, page, "Back, to be looked at", "Credit note C-0001")
	v.does(order+"/box", order+"/tell", strings.Replace(pile, "pack", "judged sound", 1), "1")

	v.does("/buyers", "/buyers/B2/name", "buyer_name", "Marsh View Rooms")
	v.refuses("/buyers", "/buyers/B2/name", "B2-name", "say who it is", "buyer_name", " ")
	v.does("/buyers", "/buyers/B2/blank", "why", "they asked")
	_, page = v.get(order + "/box")
	assert.NotContains(t, page, "Marsh View")
	invoice := first(t, page, `href="(/papers/[a-z0-9]{26})"`)
	_, page = v.get(invoice)
	has(t, page, "Buyer B2", "the name was blanked")

	_, page = v.get("/sold/takings.csv?from=2026-03-01")
	rows, err := csv.NewReader(strings.NewReader(page)).ReadAll()
	require.NoError(t, err)
	var taken []string
	for _, row := range rows {
		if row[2] == "Order 2" {
			taken = append(taken, row[5]+" for "+row[6])
		}
	}
	assert.Equal(t, []string{"3 for 13.50", "-1 for -4.50"}, taken)
	status, _ = v.get("/sold?from=later&to=2026-13-40")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _ = v.get("/sold?from=2026-05-01&to=2026-04-01")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
}

func TestHowTheShopSellsIsSaidOnce(t *testing.T) {
	t.Parallel()
	v := visit(t)
	v.refuses("/selling", "/selling", "tax", "between 0 and 100", "tax", "400")
	v.refuses("/selling", "/selling", "pots_per_day", "number", "pots_per_day", "lots")
	v.refuses("/selling", "/selling", "channels[0].percent", "between 0", "channels[0].percent", "140")
	v.refuses("/selling", "/selling", "channels[2].name", "which channel", "channels[2].name", "", "channels[2].percent", "3")
	v.does("/selling", "/selling", "tax", "20", "pots_per_day", "1")
	_, page := v.get("/ahead")
	has(t, page, "1 pot in a day")
}

// What is proposed to be poured can be moved and made into plans; nonsense in the address is told.
func TestPoursAreMovedAndMadeIntoPlans(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/ahead")
	hasAll(t, page, "Any later, and", "Plant fair")
	later := regexp.MustCompile(`href="(/ahead\?pour=[^"]+)">a day later`).FindAllStringSubmatch(page, -1)
	require.NotEmpty(t, later)
	_, moved := v.get(html.UnescapeString(later[len(later)-1][1]))
	hasAll(t, moved, "are missing on", "As it was proposed")
	status, page := v.get("/ahead?pour=never|2|Fig")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "one of the pours cannot be read")
	status, _ = v.get("/ahead?pour=2026-05-01|1|Moonbeam")
	assert.Equal(t, http.StatusOK, status, "a recipe that is not known is passed over")
	page = v.does("/ahead", "/ahead")
	has(t, page, "Nothing else is to be poured")
	status, _ = v.post("/ahead", url.Values{"pour": {"2020-01-01|1|Fig and black tea"}, "key": {"then"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status, "the past is over")
}

// A day at the bench is offered what has to be poured soon, and a press plans it for that day.
func TestADayIsOfferedWhatHasToBePouredSoon(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, day := v.get("/plan/day/2026-05-01")
	has(t, day, `hx-get="/ahead/for/2026-05-01"`)
	_, offered := v.get("/ahead/for/2026-05-01")
	hasAll(t, offered, "What has to be poured soon", "Fig and black tea", "5 May", "at the latest")
	_, planned := v.post("/ahead", filled(t, offered, "/ahead"))
	hasAll(t, planned, "Bench list, Friday 1 May", "Fig and black tea", "Who does what when")
	_, early := v.get("/ahead/for/2026-03-16")
	has(t, early, "wants anything poured by then")
	_, over := v.get("/plan/day/2026-03-01")
	assert.NotContains(t, over, "/ahead/for/", "what is over is made no more")
	status, _ := v.get("/ahead/for/someday")
	assert.Equal(t, http.StatusNotFound, status)
}
