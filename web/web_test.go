package web_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/access"
	"ashshelf/demo"
	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/store"
	"ashshelf/web"
)

var moment = time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC)

// visitor is a browser without script at the demo shop.
type visitor struct {
	t    testing.TB
	base string
	http *http.Client

	pages http.Handler // behind base
	kit   *web.Server
}

// seeded is the demo shop as a file, made once for all tests.
var seeded = sync.OnceValues(func() ([]byte, error) { return demo.Records(context.Background(), moment) })

func visit(t testing.TB) *visitor { return visitBench(t, nil) }

// visitBench is a visitor of a shop with devices on its bench.
func visitBench(t testing.TB, bench *device.Set) *visitor {
	t.Helper()
	v := serve(t, demoShop(t), bench)
	v.post("/who", url.Values{"person": {"1"}})
	return v
}

// demoShop is the demo shop on a file of its own.
func demoShop(t testing.TB) *shop.Shop {
	t.Helper()
	file, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, writeShop(dir, file))
	s, err := shop.Open(context.Background(), dir, func() time.Time { return moment })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func serve(t testing.TB, s *shop.Shop, bench *device.Set) *visitor {
	t.Helper()
	pages := pagesOf(t, s, bench)
	handler := pages.Handler()
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	return &visitor{t, server.URL, &http.Client{Jar: jar(t)}, handler, pages}
}

// pagesOf are the pages of a shop, with accounts of their own.
func pagesOf(t testing.TB, s *shop.Shop, bench *device.Set) *web.Server {
	t.Helper()
	accounts, err := access.Open(context.Background(), s.Dir(), s.Life().ID, time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, accounts.Close()) })
	pages, err := web.New(s, accounts, bench, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	return pages
}

// jar keeps the cookies of one browser.
func jar(t testing.TB) http.CookieJar {
	t.Helper()
	out, err := cookiejar.New(nil)
	require.NoError(t, err)
	return out
}

// writeShop lays the records of a shop into a folder.
func writeShop(dir string, file []byte) error {
	return os.WriteFile(filepath.Join(dir, store.File), file, 0o600)
}

func (v *visitor) read(r *http.Response, err error) (int, string) {
	v.t.Helper()
	require.NoError(v.t, err)
	defer r.Body.Close()
	body, err := io.ReadAll(r.Body)
	require.NoError(v.t, err)
	if strings.HasPrefix(r.Header.Get("Content-Type"), "text/html") {
		return r.StatusCode, closeUp(string(body))
	}
	return r.StatusCode, string(body)
}

// blocks are the tags around which white space is not seen.
var blocks = func() map[string]bool {
	out := map[string]bool{}
	for _, name := range strings.Fields(`html head body main header nav div section form p table thead tbody tr td th ul ol li h1 h2 h3 h4
		details summary fieldset legend figure figcaption dl dt dd select option datalist br hr meta link script title`) {
		out[name] = true
	}
	return out
}()

// closeUp takes away the white space of a page that nobody sees, so that what is looked
// for does not depend on how its template is laid out. It is by hand: a pattern takes a fifth of all these tests' time.
func closeUp(page string) string {
	out := make([]byte, 0, len(page))
	after := false // a tag around which white space is not seen
	for i := 0; i < len(page); {
		c := page[i]
		if c == ' ' || c == '\n' || c == '\t' || c == '\r' || c == '\f' {
			for i < len(page) && strings.IndexByte(" \n\t\r\f", page[i]) >= 0 {
				i++
			}
			if !after {
				out = append(out, ' ')
			}
			after = false
			continue
		}
		after = false
		end := strings.IndexByte(page[i:], '>')
		if c != '<' || end < 0 {
			out = append(out, c)
			i++
			continue
		}
		tag := page[i : i+end+1]
		name := strings.TrimPrefix(tag[1:end], "/")
		if n := strings.IndexFunc(name, func(r rune) bool { return !(r >= 'a' && r <= 'z' || r >= '0' && r <= '9') }); n >= 0 {
			name = name[:n]
		}
		if blocks[name] {
			after = true
			out = bytes.TrimSuffix(out, []byte(" "))
		}
		out = append(out, strings.Join(strings.Fields(tag), " ")...)
		i += end + 1
	}
	return string(out)
}

func (v *visitor) get(path string) (int, string) {
	v.t.Helper()
	return v.read(v.http.Get(v.base + path))
}

func (v *visitor) post(path string, form url.Values) (int, string) {
	v.t.Helper()
	return v.read(v.http.PostForm(v.base+path, form))
}

// has and matches look for something on a page without printing all of it.
// Only the first text is looked for; what follows says why it should be there. Several texts are for hasAll.
func has(t testing.TB, page, text string, why ...any) {
	t.Helper()
	assert.True(t, strings.Contains(page, text), append([]any{"the page lacks %q; %v", text}, why)...)
}

// hasAll looks for each of some texts.
func hasAll(t testing.TB, page string, texts ...string) {
	t.Helper()
	for _, text := range texts {
		has(t, page, text)
	}
}

func matches(t *testing.T, page, pattern string, why ...any) {
	t.Helper()
	assert.True(t, regexp.MustCompile(pattern).MatchString(page), append([]any{"the page lacks %q; %v", pattern}, why)...)
}

func first(t testing.TB, page, pattern string) string {
	t.Helper()
	m := regexp.MustCompile(pattern).FindStringSubmatch(page)
	require.NotNil(t, m, pattern)
	return m[1]
}

func TestEveryPageOfTheDemoOpensAndKeepsThePolicy(t *testing.T) {
	t.Parallel()
	v := visit(t)
	seen := map[string]bool{}
	todo := []string{"/", "/look", "/who"}
	inline := regexp.MustCompile(`(?i)<script(?:\s[^>]*)?>[^<]|\sstyle=|\son\w+=|javascript:|hx-on`)
	links := regexp.MustCompile(`href="(/[^"#]*)`)
	for len(todo) > 0 && len(seen) < 150 {
		path := todo[0]
		todo = todo[1:]
		if seen[path] || strings.HasPrefix(path, "/static/") {
			continue
		}
		seen[path] = true
		r, err := v.http.Get(v.base + path)
		require.NoError(t, err)
		header := r.Header
		status, page := v.read(r, nil)
		require.Equal(t, http.StatusOK, status, path)
		require.Empty(t, inline.FindString(page), path)
		require.False(t, strings.Contains(page, "%!"), path)
		require.False(t, strings.Contains(page, "NaN"), path)
		require.Contains(t, header.Get("Content-Security-Policy"), "default-src 'none'")
		require.Equal(t, "nosniff", header.Get("X-Content-Type-Options"))
		for _, m := range links.FindAllStringSubmatch(page, -1) {
			todo = append(todo, strings.ReplaceAll(m[1], "&amp;", "&"))
		}
	}
	assert.Greater(t, len(seen), 40)
}

// wire is how many bytes an address takes on its way to a tablet, which asks for it compressed.
func (v *visitor) wire(path string) int {
	v.t.Helper()
	ask, err := http.NewRequest(http.MethodGet, v.base+path, nil)
	require.NoError(v.t, err)
	ask.Header.Set("Accept-Encoding", "gzip") // said by hand it is not undone
	r, err := v.http.Do(ask)
	require.NoError(v.t, err)
	defer r.Body.Close()
	require.Equal(v.t, http.StatusOK, r.StatusCode, path)
	n, err := io.Copy(io.Discard, r.Body)
	require.NoError(v.t, err)
	return int(n)
}

func TestAFirstPageIsUnder150KBOnTheWireWithAllThatItLoads(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/")
	loads := map[string]bool{"/static/app.js": true}
	for _, m := range regexp.MustCompile(`(?:href|src)="(/static/[^"#?]+)`).FindAllStringSubmatch(page, -1) {
		loads[m[1]] = true
	}
	total := v.wire("/")
	for path := range loads {
		total += v.wire(path)
	}
	assert.Greater(t, len(loads), 5)
	assert.Less(t, total, 150_000)
	t.Logf("%d bytes", total)
}

func TestBadInputIsAnsweredBesideTheFieldWithWhatWasTyped(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, book := v.get("/recipes")
	oid := first(t, book, `href="/recipes/([a-z0-9]{26})">Slow olive`)
	_, page := v.get("/recipes/" + oid)
	for name, c := range map[string]struct{ typed, says string }{
		"fats[0].percent":    {"140", "between 0 and 100"},
		"superfat_percent":   {"lots", "“lots” is not a number"},
		"water.value":        {"70", "between 10 and 52"},
		"liquids[0].percent": {"1,000", "could mean"},
	} {
		f := filled(t, page, "/recipes/"+oid)
		for k, val := range map[string]string{"name": "Slow olive", "superfat_percent": "4", "water.basis": "lye-strength",
			"water.value": "33", "fats[0].fat": "olive-oil", "fats[0].percent": "100",
			"liquids[0].liquid": "water", "liquids[0].percent": "100", "liquids[0].carries_lye": "on", "do": "keep"} {
			f.Set(k, val)
		}
		f.Set(name, c.typed)
		status, answer := v.post("/recipes/"+oid, f)
		assert.Equal(t, http.StatusUnprocessableEntity, status, name)
		id := "f-" + strings.NewReplacer("[", "-", "].", "-", ".", "-").Replace(name)
		matches(t, answer, regexp.QuoteMeta(`id="`+id+`-err">`)+"[^<]*"+regexp.QuoteMeta(c.says), name)
		matches(
			t,
			answer,
			regexp.QuoteMeta(`id="`+id+`"`)+`[^>]*value="`+regexp.QuoteMeta(c.typed)+`"`,
			"what was typed stays: %s",
			name,
		)
		_, again := v.get("/recipes/" + oid)
		has(t, again, `value="`+c.typed+`"`, "and survives a reload")
	}
}

func TestAMoldOfNoSizeAndAWeightInLettersAreRefused(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/molds/new")
	path := first(t, page, `action="(/molds/new/[a-z0-9]+)"`)
	f := filled(t, page, path)
	for k, val := range map[string]string{"name": "Nothing", "mold.shape": "box", "mold.length_mm": "0 mm",
		"mold.width_mm": "2.5 in", "mold.fill_mm": "", "material": "lined", "do": "keep"} {
		f.Set(k, val)
	}
	status, answer := v.post(path, f)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, answer, "the inner length is 0; it must be more than zero")
	has(t, answer, "type a length, such as")
	has(t, answer, `value="2.5 in"`)

	_, list := v.get("/make")
	lot := first(t, list, `href="/make/([a-z0-9]{26})"`)
	_, bench := v.get("/make/" + lot)
	f = filled(t, bench, "/lots/"+lot+"/weigh")
	f.Set("grams", "about a pound")
	status, answer = v.post("/lots/"+lot+"/weigh", f)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, answer, `value="about a pound"`)
	has(t, answer, "is not a number")
	f.Set("grams", "12 oz")
	status, answer = v.post("/lots/"+lot+"/weigh", f)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, answer, "It is right as it stands", "an odd weight is asked about")
}

func TestTheBenchAnswersLiveAndKeepsWhatIsTyped(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/recipes/new")
	path := first(t, page, `action="(/recipes/new/[a-z0-9]+)"`)
	f := filled(t, page, path)
	for k, val := range map[string]string{"name": "Mine", "size": "1000", "superfat_percent": "5", "water.basis": "lye-strength",
		"water.value": "33", "liquids[0].liquid": "water", "liquids[0].percent": "100", "liquids[0].carries_lye": "on",
		"fats[0].fat": "olive-oil", "fats[0].percent": "50", "fats[2].fat": "coconut-oil", "fats[2].percent": "30",
		"fats[3].fat": "beef-tallow", "fats[3].percent": "20"} {
		f.Set(k, val)
	}
	_, live := v.post(path+"/live", f)
	has(t, live, "143.24")
	has(t, live, `data-way="liquid-to-lye">2.03</span> parts liquid to one of lye`)
	f.Set("fats[3].percent", "2O")
	_, live = v.post(path+"/live", f)
	matches(
		t,
		live,
		`f-fats-3-percent-err"[^>]*>“2O” is not a number`,
		"the problem stands at the row of the form, whatever rows are empty",
	)
	_, again := v.get(path)
	has(t, again, `value="2O"`)
	f.Set("fats[3].percent", "20")
	f.Set("do", "keep")
	status, kept := v.post(path, f)
	require.Equal(t, http.StatusOK, status)
	has(t, kept, "Keep as revision 2")
	oidPath := first(t, kept, `action="(/recipes/[a-z0-9]{26})"`)
	f.Set("base", "1")
	f.Set("do", "remove fats[2]")
	_, removed := v.post(oidPath, f)
	has(t, removed, "changes that are not kept yet")
}

func TestTheBlendIsBalancedSwappedWeighedAndTakesOwnFats(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/recipes/new")
	path := first(t, page, `action="(/recipes/new/[a-z0-9]+)"`)
	f := filled(t, page, path)
	fill := func(more map[string]string) {
		for k, val := range map[string]string{"name": "Mine", "size": "1000", "superfat_percent": "5",
			"water.basis": "lye-strength", "water.value": "33", "liquids[0].liquid": "water", "liquids[0].percent": "100",
			"liquids[0].carries_lye": "on",
			"fats[0].fat":            "evoo", "fats[0].percent": "50", "fats[1].fat": "coconut", "fats[1].percent": "20"} {
			f.Set(k, val)
		}
		for k, val := range more {
			f.Set(k, val)
		}
	}
	fill(map[string]string{"do": "balance", "fats[1].held": "on"})
	_, page = v.post(path, f)
	matches(t, page, `name="fats\[0\].percent" value="80"`)
	matches(t, page, `name="fats\[1\].percent" value="20"`)

	fill(map[string]string{"do": "", "fats[0].percent": "600 g", "fats[1].percent": "400 g"})
	_, live := v.post(path+"/live", f)
	has(t, live, "146.8", "60 % olive and 40 % coconut")
	fill(map[string]string{"fats[0].percent": "600 g", "fats[1].percent": "40"})
	_, live = v.post(path+"/live", f)
	has(t, live, "type all of them the same way")

	fill(map[string]string{"fats[1].fat": "Emu fat", "fats[0].percent": "80"})
	_, live = v.post(path+"/live", f)
	has(t, live, "is not a fat of the table; or give its own figures")
	fill(
		map[string]string{
			"fats[1].fat":              "Emu fat",
			"fats[1].sap_koh_mg_per_g": "194",
			"fats[1].density_g_per_ml": "0.906",
			"fats[1].like":             "lard",
			"fats[0].percent":          "80",
		},
	)
	_, live = v.post(path+"/live", f)
	has(t, live, "Emu fat")
	has(t, live, "solid 20 %", "it takes after lard")

	fill(map[string]string{"fats[1].fat": "coconut", "fats[0].percent": "80", "swap.from": "olive-oil", "swap.to": "tallow"})
	f.Del("fats[1].sap_koh_mg_per_g")
	f.Del("fats[1].density_g_per_ml")
	_, live = v.post(path+"/live", f)
	matches(t, live, `With Olive oil</th><th>With Beef tallow`)
	f.Set("do", "swap")
	_, page = v.post(path, f)
	matches(t, page, `name="fats\[0\].fat" value="Beef tallow"`)
	f.Set("do", "up fats[1]")
	_, page = v.post(path, f)
	matches(t, page, `name="fats\[0\].fat" value="coconut"`)
}

func TestAPageSentTwiceRecordsOnce(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, shelf := v.get("/")
	lot := first(t, shelf, `href="/lots/([a-z0-9]{26})#bars"`)
	_, page := v.get("/lots/" + lot)
	f := filled(t, page, "/lots/"+lot+"/move")
	f.Set("count", "1")
	f.Set("kind", "first/")
	f.Set("reason", "sold")
	count := func() int {
		_, page := v.get("/lots/" + lot)
		n, err := strconv.Atoi(first(t, page, `<td>First grade</td><td class="n">\d+</td><td class="n"><span class="big">(\d+)`))
		require.NoError(t, err)
		return n
	}
	before := count()
	for range 2 {
		status, _ := v.post("/lots/"+lot+"/move", f)
		assert.Equal(t, http.StatusOK, status)
	}
	assert.Equal(t, before-1, count())
	f.Set("count", "3")
	status, answer := v.post("/lots/"+lot+"/move", f)
	assert.Equal(t, http.StatusConflict, status, "the back button with another number")
	has(t, answer, "sent before with other values")
	has(t, answer, `value="3"`)
	assert.Equal(t, before-1, count())
}

func TestAnEmptyShopOpensWithTheFirstRunPage(t *testing.T) {
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	_, page := v.get("/recipes")
	has(t, page, "Open the shop")
	f := filled(t, page, "/welcome")
	f.Set("name", "My bench")
	f.Set("zone", "Europe/Nowhere")
	f.Set("units", "us")
	f.Set("currency", "usd")
	f.Set("people", "Ida, , Jon ")
	f.Set("begin", "empty")
	status, page := v.post("/welcome", f)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "is not a time zone")
	has(t, page, `value="Ida, , Jon "`)
	f.Set("zone", "America/Chicago")
	_, page = v.post("/welcome", f)
	has(t, page, "Nothing on the shelf yet")
	has(t, page, "<strong>Ida</strong>")
	for _, path := range []string{"/recipes", "/molds", "/plan", "/make", "/lots", "/settings"} {
		status, _ := v.get(path)
		assert.Equal(t, http.StatusOK, status, path)
	}
}

func TestStrangersAreKeptOut(t *testing.T) {
	t.Parallel()
	v := visit(t)
	r, err := http.NewRequest(http.MethodPost, v.base+"/people", strings.NewReader("person=Mallory"))
	require.NoError(t, err)
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	status, _ := v.read(v.http.Do(r))
	assert.Equal(t, http.StatusForbidden, status)
	status, _ = v.post("/lots/nothing/weigh", url.Values{"note": {strings.Repeat("x", 3<<20)}})
	assert.Equal(t, http.StatusBadRequest, status, "too large a form")
	for _, path := range []string{"/lots/" + strings.Repeat("a", 26), "/recipes/x", "/plans/x", "/static/", "/static/../server.go",
		"/nowhere"} {
		status, _ := v.get(path)
		assert.Equal(t, http.StatusNotFound, status, path)
	}
	r, err = http.NewRequest(http.MethodGet, v.base+"/who?next=https://elsewhere.example/", nil)
	require.NoError(t, err)
	_, page := v.read(v.http.Do(r))
	has(t, page, `name="next" value="/"`)
}

// Contrast of text on its ground, by the formula of WCAG 2: AA asks for 4.5.
func TestTheTokensHaveTheirContrast(t *testing.T) {
	css, err := os.ReadFile("assets/app.css")
	require.NoError(t, err)
	colour := map[string][2]string{}
	for _, m := range regexp.MustCompile(`--color-([\w-]+): light-dark\((#\w{6}), (#\w{6})\)`).FindAllStringSubmatch(string(css), -1) {
		colour[m[1]] = [2]string{m[2], m[3]}
	}
	light := func(hex string) float64 {
		sum := 0.0
		for i, w := range []float64{0.2126, 0.7152, 0.0722} {
			n, err := strconv.ParseUint(hex[1+2*i:3+2*i], 16, 8)
			require.NoError(t, err)
			c := float64(n) / 255
			if c <= 0.04045 {
				c /= 12.92
			} else {
				c = math.Pow((c+0.055)/1.055, 2.4)
			}
			sum += w * c
		}
		return sum
	}
	for _, pair := range [][2]string{
		{"charcoal", "chalk"}, {"charcoal", "slab"}, {"charcoal", "ash"}, {"charcoal", "glow"}, {"charcoal", "haze"}, {"charcoal",
			"blush"}, {"charcoal", "fern"},
		{"smoke", "chalk"}, {"smoke", "slab"}, {"lamp", "slab"}, {"lamp", "chalk"}, {"on-lamp", "lamp"}, {"moss", "slab"}, {"moss",
			"fern"}, {"madder", "slab"}, {"madder", "chalk"},
	} {
		for scheme := range 2 {
			a, b := light(colour[pair[0]][scheme]), light(colour[pair[1]][scheme])
			ratio := (max(a, b) + 0.05) / (min(a, b) + 0.05)
			assert.GreaterOrEqual(t, ratio, 4.5, fmt.Sprintf("%s on %s, scheme %d", pair[0], pair[1], scheme))
		}
	}
}

// A live answer of a recipe that is larger than any in the book.
func BenchmarkABigRecipeIsAnsweredLive(b *testing.B) {
	v := visit(b)
	_, page := v.get("/recipes/new")
	path := first(b, page, `action="(/recipes/new/[a-z0-9]+)"`)
	f := filled(b, page, path)
	set := func(pairs ...string) {
		for i := 0; i < len(pairs); i += 2 {
			f.Set(pairs[i], pairs[i+1])
		}
	}
	set(
		"name",
		"Big",
		"size",
		"1000",
		"superfat_percent",
		"5",
		"water.basis",
		"lye-strength",
		"water.value",
		"31",
		"liquids[0].liquid",
		"water",
		"liquids[0].percent",
		"100",
		"liquids[0].carries_lye",
		"on",
	)
	for i, slug := range []string{"olive-oil", "coconut-oil", "palm-oil", "babassu-oil", "castor-oil", "lard", "shea-butter",
		"cocoa-butter", "beef-tallow", "rice-bran-oil"} {
		set(fmt.Sprintf("fats[%d].fat", i), slug, fmt.Sprintf("fats[%d].percent", i), "8")
	}
	set("fats[10].fat", "avocado-oil", "fats[10].percent", "10", "fats[11].fat", "sesame-oil", "fats[11].percent", "10")
	for i := range 10 {
		at := fmt.Sprintf("additives[%d].", i)
		set(at+"name", fmt.Sprint("Additive ", i), at+"stage", "trace", at+"rate.basis", "percent-of-batter", at+"rate.value", "0.5")
	}
	for i := range 4 {
		at := fmt.Sprintf("portions[%d].", i)
		set(
			at+"name",
			fmt.Sprint("portion ", i),
			at+"percent",
			"25",
			at+"colorants[0].name",
			"Mica",
			at+"colorants[0].rate.basis",
			"tsp-per-lb-fats",
			at+"colorants[0].rate.value",
			"1",
			at+"colorants[0].disperse.in",
			"olive-oil",
		)
	}
	_, live := v.post(path+"/live", f)
	has(b, live, "portion 3")
	for b.Loop() {
		v.post(path+"/live", f)
	}
}

// Pages, styles and scripts travel compressed; a stream of readings and what nobody asked
// to have compressed do not.
func TestWhatIsTextIsCompressedOnItsWay(t *testing.T) {
	t.Parallel()
	v := visitBench(t, benchWithScale(t, 5))
	lot := v.newLot("Slow olive")
	ask := func(path, accepts string) (encoding string, size int64) {
		r, err := http.NewRequest(http.MethodGet, v.base+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Encoding", accepts)
		answer, err := v.http.Do(r)
		require.NoError(t, err)
		defer answer.Body.Close()
		require.Equal(t, http.StatusOK, answer.StatusCode, path)
		if strings.Contains(path, "/live") {
			return answer.Header.Get("Content-Encoding"), 0
		}
		size, err = io.Copy(io.Discard, answer.Body)
		require.NoError(t, err)
		return answer.Header.Get("Content-Encoding"), size
	}
	for _, path := range []string{"/", "/recipes", "/static/dist/app.css", "/static/make.js", "/static/icons.svg", lot + "/record.json"} {
		how, small := ask(path, "gzip")
		assert.Equal(t, "gzip", how, path)
		how, large := ask(path, "identity")
		assert.Empty(t, how, path)
		assert.Less(t, small, large*6/10, path)
	}
	how, _ := ask(strings.Replace(lot, "/lots/", "/make/", 1)+"/live?step=weigh:fat:olive-oil", "gzip")
	assert.Empty(t, how)
	how, _ = ask("/static/dist/young-serif.woff2", "gzip")
	assert.Empty(t, how)
}
