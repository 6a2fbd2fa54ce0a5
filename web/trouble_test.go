package web_test

import (
	"encoding/csv"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
)

func TestTroubleIsFiledWithTheAmountsOfTheBatch(t *testing.T) {
	t.Parallel()
	v := visit(t)
	lot := v.newLot("Fig and black tea")
	v.through(lot)
	bench := strings.Replace(lot, "/lots/", "/make/", 1)
	_, page := v.get(bench)
	has(t, page, `data-key="t"`, "trouble is one key away")
	_, cards := v.get(lot + "/trouble")
	for _, name := range []string{"Seized", "Ricing", "False trace", "Separating", "Undissolved lye", "Lye or batter on somebody"} {
		has(t, cards, name)
	}
	card := lot + "/trouble/seized"
	_, page = v.get(card)
	has(t, page, "Cook it")
	matches(t, page, `value="additive:Fig[^"]*" checked`, "the scent is the usual suspect")
	v.refuses(card, lot+"/trouble", "way", "one of the ways", "way", "pray")
	f := filled(t, page, lot+"/trouble")
	f.Set("way", "cook")
	f.Set("text", "a lump within a minute")
	f["blame"] = []string{html.UnescapeString(first(t, page, `name="blame" value="(additive:Fig[^"]*)" checked`))}
	status, page := v.post(lot+"/trouble", f)
	require.Equal(t, http.StatusOK, status, read(t, page).Complaints())
	has(t, page, "Scoop all of it into the cooker")
	has(t, page, "Start 15 min")
	page = v.does(bench, lot+"/rescue")
	matches(t, page, `done</span><span class="flex-1">Gloves`, "the first step is ticked")
	page = v.does(bench, lot+"/outcome", "outcome", "nine plain bars")
	has(t, page, "nine plain bars")

	// The next one of the recipe is told of it: in the plan, at the start, and
	// when the scent is weighed.
	recipe, mold := strings.TrimPrefix(
		v.link("/recipes", "recipes", "Fig and black tea"),
		"/recipes/",
	), strings.TrimPrefix(
		v.link("/molds", "molds", "Long loaf"),
		"/molds/",
	)
	_, plan := v.send("/plan?by=molds&recipe="+recipe+"&mold="+mold, "/plan", "do", "look", "count."+mold, "1")
	has(t, plan, "It happened before", "the plan tells")
	has(t, plan, "nine plain bars")
	next := v.newLot("Fig and black tea")
	has(t, v.benchAt(next, "ready:bench"), "It happened before")
	step := first(t, v.benchAt(next, "pour"), `href="/make/[a-z0-9]{26}\?step=(weigh%3aadditive%3aFig[^"]*)"`)
	_, page = v.get(strings.Replace(next, "/lots/", "/make/", 1) + "?step=" + step)
	has(t, page, "It happened before", "when the scent is weighed")

	// Blamed no more, it is told no more.
	_, page = v.get(lot)
	blame := filled(t, page, lot+"/blame")
	delete(blame, "blame")
	status, _ = v.post(lot+"/blame", blame)
	require.Equal(t, http.StatusOK, status)
	assert.False(t, strings.Contains(v.benchAt(next, "ready:bench"), "It happened before"))
}

func TestTheLogIsSearchedByWhatALotWas(t *testing.T) {
	t.Parallel()
	v := visit(t)
	count := func(query string) int {
		_, page := v.get("/lots?" + query)
		return len(regexp.MustCompile(`<td><a class="code"`).FindAllString(page, -1))
	}
	all := count("")
	require.Greater(t, all, 10)
	recipe := strings.TrimPrefix(v.link("/recipes", "recipes", "Slow olive"), "/recipes/")
	for query, n := range map[string]int{
		"q=slow+olive": 2, "recipe=" + recipe: 2, "material=fig+leaf": 2, "trouble=seized": 1, "trouble=any": 1,
		"trouble=spill": 0, "stage=ready": 2,
		"from=2026-03-14": 2, "to=2025-11-30": 1, "from=2026-03-14&stage=making": 1, "q=" + url.QueryEscape("100%"): 0,
		"material=_": 0, "q=nobody": 0, "skip=5": all - 5, "skip=-3": all,
	} {
		assert.Equal(t, n, count(query), query)
	}
	_, page := v.get("/lots?from=yesterday")
	has(t, page, "type the day like")
	_, page = v.get("/lots?q=4s")
	has(t, page, "Lot 4-S", "a code leads to its lot")
}

// The checklist of a lot record, as the guide has it.
func TestTheRecordAnswersItsChecklistLineByLine(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, list := v.get("/lots?stage=ready")
	lot := first(t, list, `href="(/lots/[a-z0-9]{26})">3-M`)
	_, record := v.get(lot + "/record")
	guide, err := os.ReadFile("../docs/record.md")
	require.NoError(t, err)
	lines := regexp.MustCompile("(?m)^\\| ([^|]+) \\| `#(r-[a-z]+)` \\|").FindAllStringSubmatch(string(guide), -1)
	require.GreaterOrEqual(t, len(lines), 12)
	for _, line := range lines {
		section := regexp.MustCompile(`(?s)id="` + line[2] + `".*?</section>`).FindString(record)
		require.NotEmpty(t, section, "%s has its place", line[1])
		assert.Greater(t, len(regexp.MustCompile(`<[^>]*>`).ReplaceAllString(section, "")), 12, "%s says something", line[1])
	}
	for _, word := range []string{"Fig and black tea", "revision 2", "Quay Oils QO-0417", "Bastian Thrupp", "tongue test: passed",
		"Released", "Digest of the release", "Nothing on record up to the release was altered", "medium trace"} {
		has(t, record, word)
	}

	_, text := v.get(lot + "/record.json")
	asLot(t, text)
	_, table := v.get(lot + "/record.csv")
	rows, err := csv.NewReader(strings.NewReader(table)).ReadAll()
	require.NoError(t, err)
	assert.Greater(t, len(rows), 35)
	assert.Equal(t, "number", rows[0][0])
	for i := 2; i < len(rows); i++ {
		require.Len(t, rows[i], len(rows[0]), fmt.Sprint(i))
	}
}

func TestWhatIsCarriedOverIsShownOnBothLots(t *testing.T) {
	t.Parallel()
	v := visit(t)
	older, younger := v.newLot("Slow olive"), v.newLot("Slow olive")
	_, page := v.get(older)
	code := first(t, page, `<h1>Lot ([^<]+)</h1>`)
	v.refuses(younger, younger+"/carry", "parent", "looks like", "parent", "that one", "carried_grams", "200 g")
	v.does(younger, younger+"/carry", "parent", code, "what", "batter", "carried_grams", "200 g")
	v.does(older, older+"/hold", "why", "white spots")
	_, page = v.get(younger)
	has(t, page, "made with lot "+code+", which is on hold: white spots")
	has(t, page, "Hold this lot", "an inherited hold is not lifted here")
	_, page = v.get(older)
	has(t, page, "200 g of its batter went into lot")
	v.refuses(older, older+"/mark", "mark-not-for-sale", "why", "mark_why", "")
	page = v.does(older, older+"/mark", "mark_why", "for one family")
	has(t, page, "Not for sale:")
	_, page = v.get(younger)
	has(t, page, "for one family")
	v.does(older, older+"/next", "next", "less water & more salt")
	_, page = v.get(older)
	to := first(t, page, `href="(/recipes/[a-z0-9]{26}\?note=[^"#]*)`)
	_, bench := v.get(to)
	has(t, bench, `value="less water &amp; more salt"`, "what to change next time becomes a revision's note")
	_, list := v.get("/lots?stage=curing")
	rack := first(t, list, `href="(/lots/[a-z0-9]{26})">9-L`)
	v.refuses(rack, rack+"/kept", "kept_place", "where", "kept_bars", "1")
	page = v.does(rack, rack+"/kept", "kept_bars", "1", "kept_place", "drawer 3")
	has(t, page, "1 reference bar kept: drawer 3")
}

// asLot holds a record against its published schema.
func asLot(t testing.TB, text string) {
	t.Helper()
	doc, err := jsonschema.UnmarshalJSON(strings.NewReader(text))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	for _, name := range []string{"recipe-1", "lot-1"} {
		schema, err := exchange.Schemas().Open(name + ".schema.json")
		require.NoError(t, err)
		body, err := jsonschema.UnmarshalJSON(schema)
		require.NoError(t, err)
		require.NoError(t, c.AddResource("urn:ashshelf:"+name, body))
	}
	assert.NoError(t, c.MustCompile("urn:ashshelf:lot-1").Validate(doc))
}
