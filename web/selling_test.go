package web_test

import (
	"encoding/csv"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/store"
)

// product is the address of a product of the demo shop.
func (v *visitor) product(name string) string {
	v.t.Helper()
	_, page := v.get("/products")
	at := regexp.MustCompile(`<a href="(/products/[a-z0-9]{26})/bars">` + regexp.QuoteMeta(name) + `</a>`).FindStringSubmatch(page)
	require.NotNil(v.t, at, "no product %s", name)
	return at[1]
}

// A product goes from a recipe to labels without any script: what is wrong is told beside its field and kept as typed.
func TestAProductIsMadeAndItsClaimTakenBack(t *testing.T) {
	t.Parallel()
	v := visit(t)
	recipe := strings.TrimPrefix(v.link("/recipes", "recipes", "Slow olive"), "/recipes/")
	status, page := v.get("/products/new?recipe=" + recipe)
	require.Equal(t, http.StatusOK, status)
	at := first(t, page, `action="(/products/new/[a-z0-9]+)"`)
	f := filled(t, page, at)
	assert.Equal(t, "Slow olive", f.Get("name"))
	assert.Equal(t, "on", f.Get("recipe."+recipe))
	f.Set("do", "keep")
	status, page = v.post(at, f)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	said, _ := read(t, page).Beside("net")
	assert.Contains(t, said, "between 1 and 5000")
	f.Set("net", "100 g")
	f.Set("prices[0].channel", "market")
	f.Set("prices[0].amount", "eight")
	f.Set("wording", "Cleans gently. Heals cracked hands.")
	status, page = v.post(at, f)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	said, _ = read(t, page).Beside("prices[0].amount")
	assert.Contains(t, said, "type an amount")
	has(t, page, "Heals cracked hands</b>: not without approval")
	f.Set("prices[0].amount", "8.20")
	status, page = v.post(at, f)
	require.Equal(t, http.StatusOK, status)
	product := first(t, page, `action="(/products/[a-z0-9]{26})"`)
	_, page = v.get(product + "/bars")
	hasAll(t, page, "Not offered:", "Heals cracked hands", "8.20")
	_, page = v.get(product + "/labels")
	hasAll(t, page, "These labels are not printed", "needs testing and approval")
	v.refuses(product+"/bars", product+"/sell", "sell-reason", "needs testing and approval", "bars", "1", "reason", "sold")

	v.does(product, product, "wording", "Cleans cracked hands.", "do", "keep")
	_, page = v.get(product + "/bars")
	assert.NotContains(t, page, "Not offered")
	v.does(product+"/bars", product+"/sell", "bars", "1", "reason", "sold", "buyer", "Ada")
	_, page = v.get("/products/new/nothing/live")
	assert.NotContains(t, page, "Heals")
}

// Bars are put by, freed and sold in forms; nonsense is told beside its field.
func TestBarsArePutByAndLeave(t *testing.T) {
	t.Parallel()
	v := visit(t)
	fig := v.product("Fig by lamplight")
	bars := fig + "/bars"
	v.refuses(bars, fig+"/reserve", "for", "say for whom", "bars", "1", "for_kind", "person")
	v.refuses(bars, fig+"/reserve", "reserve-bars", "nobody’s", "bars", "400", "for_kind", "person", "for", "Ada")
	v.refuses(bars, fig+"/reserve", "for_day", "type the day like", "bars", "1", "for_kind", "market", "for", "fair", "for_day", "some day")
	v.refuses(bars, fig+"/sell", "sell-bars", "is not a number", "bars", "many", "reason", "sold")
	page := v.does(bars, fig+"/reserve", "bars", "2", "for_kind", "person", "for", "Ada <b>Quill</b>")
	has(t, page, "2 for Ada &lt;b&gt;Quill&lt;/b&gt;")
	pile := first(t, page, `<option value="([^"]+)"[^>]*>[^<]*2 for Ada`)
	page = v.does(bars, fig+"/free", "pile", pile, "bars", "1", "why", "one is enough")
	has(t, page, "1 for Ada")
	page = v.does(bars, fig+"/sell", "pile", pile, "bars", "1", "reason", "sold", "event", "Quay fair", "buyer", "Ada Quill")
	assert.NotContains(t, page, "1 for Ada")
	_, page = v.get("/trace?kind=event&of=quay+fair")
	hasAll(t, page, "3-M", "to", "Ada Quill")
	for path, pairs := range map[string][]string{
		fig + "/sell": {"pile", "nothing", "bars", "1", "reason", "sold"}, fig + "/fly": {"bars", "1"},
		"/products/nothing/sell": {"pile", "a|first||", "bars", "1"},
	} {
		form := url.Values{"key": {"k-" + path}}
		for i := 0; i < len(pairs); i += 2 {
			form.Set(pairs[i], pairs[i+1])
		}
		status, _ := v.post(path, form)
		assert.Contains(t, []int{http.StatusUnprocessableEntity, http.StatusNotFound}, status, path)
	}
	for _, path := range []string{
		"/products/nothing/bars", "/products/nothing/labels", "/products/nothing/file", "/labels/nothing", "/recalls/nothing",
	} {
		status, _ := v.get(path)
		assert.Equal(t, http.StatusNotFound, status, path)
	}
}

// A run of labels is printed in mm, and stays as it was.
func TestLabelsArePrintedAsTheSheetHasThem(t *testing.T) {
	t.Parallel()
	v := visit(t)
	fig := v.product("Fig by lamplight")
	_, page := v.get(fig + "/labels")
	hasAll(t, page, `width="95mm" height="56mm"`, "Olea Europaea Fruit Oil", "Lot 3-M", "Linalool")
	v.refuses(fig+"/labels", fig+"/print", "bars", "only 6", "bars", "60", "labels", "60")
	page = v.does(fig+"/labels", fig+"/print", "bars", "3", "labels", "12")
	hasAll(t, page, "12 labels, lot 3-M", `width="210mm" height="297mm"`)
	run := first(t, page, `action="(/labels/[a-z0-9]+)"`)
	assert.Equal(t, 2, strings.Count(page, `height="297mm"`), "ten on a sheet")
	_, page = v.get(run + "?first=9")
	assert.Equal(t, 2, strings.Count(page, `height="297mm"`))
	_, page = v.get(run + "?first=10")
	assert.Equal(t, 3, strings.Count(page, `height="297mm"`))
	_, page = v.get(run + "?first=99")
	has(t, page, "places 1 to 10")
	_, page = v.get(fig + "/file")
	hasAll(t, page, "A-117", "certificate WT-5512", "register of marks")

	v.refuses("/labels", "/labels", "letter", "between 0.9 and 5", "letter", "0.1")
	page = v.does("/labels", "/labels", "letter", "4", "address", "Quernhollow Soap")
	has(t, page, `value="4"`)
	_, page = v.get(fig + "/labels")
	has(t, page, "mm too high for the label")
	_, page = v.get("/sheets/new")
	at := first(t, page, `action="(/sheets/new/[a-z0-9]+)"`)
	f := filled(t, page, at)
	f.Set("name", "Rounds")
	f.Set("columns", "9")
	f.Set("do", "keep")
	status, page := v.post(at, f)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	said, _ := read(t, page).Beside("columns")
	assert.Contains(t, said, "and the sheet is 210 mm wide")
}

// What a supplier and an assessor say is written down where it belongs, and used.
func TestAllergensAndAnAssessmentAreWrittenDown(t *testing.T) {
	t.Parallel()
	v := visit(t)
	key := "/allergens?item=additive%3Atomato+leaf+and+basil+%28carrick+row+oils%29"
	v.refuses(key, "/allergens", "allergens", "as in “Linalool 4 %”", "allergens", "Linalool")
	v.refuses(key, "/allergens", "allergens", "write what the supplier declares")
	v.refuses(key, "/allergens", "none", "either there are none", "allergens", "Linalool 4", "none", "on")
	page := v.does(key, "/allergens", "allergens", "Linalool 4 %\nEugenol 0,3", "source", "letter")
	has(t, page, "Eugenol 0.3 %")
	trial := v.link("/recipes", "recipes", "Trial: hemp and tomato leaf")
	_, page = v.get(trial + "/label")
	has(t, page, "Linalool")
	assert.NotContains(t, page, "No allergens are declared of Tomato")
	status, _ := v.get("/allergens?item=fat:olive-oil")
	assert.Equal(t, http.StatusNotFound, status)

	at := "/assessments/" + strings.TrimPrefix(trial, "/recipes/")
	v.refuses(at, at, "reference", "write the number", "by", "T", "on", "2026-03-01")
	v.refuses(at, at, "limits", "line 1: say from where to where", "reference", "A", "by", "T", "on", "2026-03-01", "limits", "Olive oil: 5")
	page = v.does(at, at, "reference", "A-1", "by", "T. Orwin", "on", "2026-03-01", "limits", "Olive oil: up to 5 %")
	hasAll(t, page, "The recipe is outside of it", "is not in the assessment")
	_, page = v.get(trial)
	has(t, page, "and the assessment allows up to 5 %")
}

// A drill goes from a bottle to the last bar; its list is a file, and its letter says to whom.
func TestADrillIsRunAndKept(t *testing.T) {
	t.Parallel()
	v := visit(t)
	fig := strings.TrimPrefix(v.product("Fig by lamplight"), "/products/")
	trace := "/trace?kind=product&of=" + fig
	_, page := v.get(trace)
	hasAll(t, page, "27</b> bars in 1 lot", "QO-0417", "Quay market", "to the", "ferry office")
	v.refuses(trace, "/recalls", "why", "write why", "how", "drill")
	page = v.does(trace, "/recalls", "how", "drill", "why", "Practice <i>run</i>")
	hasAll(t, page, "Drill 2", "25</b> of 27 bars", "Practice &lt;i&gt;run&lt;/i&gt;")
	at := first(t, page, `action="(/recalls/[a-z0-9]+)/note"`)
	pile := first(t, page, `<option value="([^"]+)"[^>]*>[^<]*with the ferry office`)
	v.refuses(at, at+"/note", "bars", "only 2", "bars_of", pile, "bars", "3", "what", "returned")
	v.refuses(at, at+"/note", "bars", "is not a number", "bars_of", pile, "bars", "all", "what", "returned")
	_, page = v.get(at + "/letter")
	hasAll(t, page, "To the ferry office", "This is a drill")
	_, body := v.get(at + "/bars.csv")
	rows, err := csv.NewReader(strings.NewReader(body)).ReadAll()
	require.NoError(t, err)
	sum := 0
	for _, row := range rows[1:] {
		n := 0
		for _, c := range row[3] {
			n = 10*n + int(c-'0')
		}
		sum += n
	}
	assert.Equal(t, 27, sum, "every bar stands in the list once")
	page = v.does(at, at+"/note", "bars_of", pile, "bars", "2", "what", "used")
	hasAll(t, page, "27</b> of 27 bars", "Every bar is accounted for")
	page = v.does(at, at+"/end", "note", "It took too long.")
	hasAll(t, page, "It took too long.", "Open it again")
	_, page = v.get("/recalls")
	hasAll(t, page, "Drill 2</a>", "100 % of 27 bars")
	_, page = v.get("/lots")
	assert.NotContains(t, page, "called back")
	_, page = v.get("/trace?kind=lot&of=3m")
	has(t, page, "Where Lot 3-M")
	_, page = v.get("/trace?kind=lot&of=99-Z")
	has(t, page, "nothing of that name was found")
}

// A recall is a word that somebody answers for: it takes her PIN. So do the words on a delivery and on old bars.
func TestARecallTakesThePINOfWhoBeginsIt(t *testing.T) {
	t.Parallel()
	v := visit(t)
	fig := strings.TrimPrefix(v.product("Fig by lamplight"), "/products/")
	require.NoError(t, v.kit.Door.SetPIN(bg, 1, helpersPIN))
	v.kit.Shop.Touch()
	trace := "/trace?kind=product&of=" + fig
	v.refuses(trace, "/recalls", "sign-recall", "type it", "how", "recall", "why", "mixed up")
	page := v.does(trace, "/recalls", "how", "drill", "why", "practice")
	has(t, page, "Drill 2")
	page = v.does(trace, "/recalls", "how", "recall", "why", "mixed up", "secret", helpersPIN)
	has(t, page, "Recall 3")
	_, page = v.get("/lots/" + v.lotOf("3-M"))
	has(t, page, "called back: recall 3: mixed up")

	_, page = v.get("/stores/of?key=fat:olive-oil")
	delivery := first(t, page, `href="(/stores/deliveries/[a-z0-9]+)"`)
	v.refuses(delivery, delivery+"/status", "sign-recalled", "type it", "status", "recalled", "status_why", "x")
	v.does(delivery, delivery+"/status", "status", "doubtful", "status_why", "asked")
	v.does(delivery, delivery+"/status", "status", "recalled", "status_why", "x", "secret", helpersPIN)
}

func (v *visitor) lotOf(code string) string {
	v.t.Helper()
	list, _, err := v.kit.Shop.FindLots(bg, store.LotsWhere{Text: code, Most: 1})
	require.NoError(v.t, err)
	require.Len(v.t, list, 1)
	return list[0].OID
}

func TestAComplaintIsAnswered(t *testing.T) {
	t.Parallel()
	v := visit(t)
	v.refuses("/complaints", "/complaints", "said", "write what she says", "kind", "skin")
	v.refuses("/complaints", "/complaints", "code", "there is no lot", "kind", "skin", "said", "A rash.", "code", "99-G")
	page := v.does("/complaints", "/complaints", "kind", "skin", "said", "A <b>rash</b>.", "code", "3-M", "from", "a guest")
	hasAll(t, page, "A &lt;b&gt;rash&lt;/b&gt;.", "Complaint 2, lot")
	at := first(t, page, `action="(/complaints/[a-z0-9]+)"`)
	lot := "/lots/" + v.lotOf("3-M")
	_, page = v.get(lot)
	has(t, page, "Complaint:")
	page = v.does("/complaints", at, "what", "held", "text", "until it is tested")
	has(t, page, "Lot on hold")
	_, page = v.get(lot)
	has(t, page, "complaint 2: until it is tested")
	page = v.does("/complaints", at, "what", "ended", "text", "she is well")
	assert.NotContains(t, page, `action="`+at+`"`)
	_, page = v.get(lot)
	assert.NotContains(t, page, "Complaint:</b>")
}
