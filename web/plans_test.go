package web_test

import (
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/journal"
	"ashshelf/soap/run"
	"ashshelf/web/page/dom"
)

// planner types into the planner, which answers while one types.
type planner struct {
	*visitor
	form    url.Values
	answers dom.Page
}

// planning begins a plan.
func (v *visitor) planning(pairs ...string) *planner {
	v.t.Helper()
	v.post("/plan", url.Values{"do": {"discard"}})
	_, page := v.get("/plan")
	p := &planner{visitor: v, form: filled(v.t, page, "/plan")}
	p.types(pairs...)
	return p
}

// types fills in fields and reads what is answered.
func (p *planner) types(pairs ...string) {
	p.t.Helper()
	for i := 0; i < len(pairs); i += 2 {
		p.form.Set(pairs[i], pairs[i+1])
	}
	status, live := p.post("/plan/live", p.form)
	require.Equal(p.t, http.StatusOK, status)
	p.answers = read(p.t, live)
}

// says reports what the answers say.
func (p *planner) says(text string) {
	p.t.Helper()
	all := p.answers.Text("body")
	assert.True(p.t, strings.Contains(all, text), "%q is not among the answers: %.2000s", text, all)
}

// beside reports what is said beside a field.
func (p *planner) beside(field, text string) {
	p.t.Helper()
	said, ok := p.answers.Beside(field)
	assert.True(p.t, ok, field)
	assert.Contains(p.t, said, text)
}

// oid is the identity of something by its name in a list.
func (v *visitor) oid(room, name string) string {
	v.t.Helper()
	path := v.link("/"+room, room, name)
	return path[strings.LastIndex(path, "/")+1:]
}

func TestPlansOfEveryKindComeOutExactly(t *testing.T) {
	t.Parallel()
	v := visit(t)
	loaf, slab, grid := v.oid("molds", "Long loaf"), v.oid("molds", "Birch slab"), v.oid("molds", "Salt grid")
	base, milk, salt := v.oid("recipes", "Quern base"), v.oid("recipes", "Ewe morning"), v.oid("recipes", "Ebb salt bar")

	t.Run("an ingredient to its last gram, on whatever scale", func(t *testing.T) {
		p := v.planning("recipe", milk, "by", "use-up", "use_up.name", "moon milk", "use_up.grams", "830 g")
		p.beside("use_up.name", "not in the recipe")
		p.types("use_up.name", "Sheep milk")
		p.says("Sheep milk into the fats or the batter, never onto hot lye 830")
	})
	t.Run("a salt bar in a grid comes out level, since salt displaces", func(t *testing.T) {
		p := v.planning("recipe", salt, "count."+grid, "2")
		p.says("Sea salt (fine)")
		p.says("computed from the batter")
		p.says("to the line")
		p.says("above the line")
		assert.Equal(t, "30", p.answers.Text("#answer-bars"))
		p.types("count."+grid, "minus one")
		p.beside("count."+grid, "not a")
	})
	t.Run("trimmings take the place of fresh batter", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "2")
		p.says("One pot of")
		before := p.answers.Text("#answer-batter")
		p.types("scraps.grams", "420 g")
		assert.NotEqual(t, before, p.answers.Text("#answer-batter"))
		p.types("scraps.grams", "9 kg")
		p.says("use fewer scraps or a larger target")
	})
	t.Run("an order for three pots", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "3", "count."+slab, "1", "pot", v.oid("equipment", "Small steel pot"))
		p.says("3 equal pots of")
		p.says("What one mold more would do")
	})
	t.Run("a label that the wires can meet, and one that they cannot", func(t *testing.T) {
		p := v.planning("recipe", base, "count."+loaf, "1", "label.grams", "110 g", "cut."+loaf, v.oid("equipment", "Five-wire"))
		p.says("above the label")
		p.types("label.grams", "125 g")
		p.says("short of the label")
		p.says("use the Wide cutter (31 mm)")
		p.types("cut."+loaf, "label")
		p.says("above the label")
		p.types("by", "bars", "bars", "60")
		p.says("One pot of")
	})
}

// The sheet says the grams of each pouring, and all of them are what stands in the pot and reaches
// the molds. A plan that will not be made is put away, and is in the lists again when it is taken out.
func TestASheetSaysEachPouringAndAPlanIsPutAway(t *testing.T) {
	t.Parallel()
	v := visit(t)
	p := v.planning("recipe", v.oid("recipes", "Swifts at dusk"), "count."+v.oid("molds", "Birch slab"), "1")
	p.form.Set("do", "keep")
	_, kept := v.post("/plan", p.form)
	at := first(t, kept, `action="(/plans/[a-z0-9]{26})/away"`)
	sum := 0.0
	for _, one := range regexp.MustCompile(`: <strong>(\d+) g, about \d+ ml</strong>`).FindAllStringSubmatch(kept, -1) {
		grams, err := strconv.ParseFloat(one[1], 64)
		require.NoError(t, err)
		sum += grams
	}
	pot := number(t, kept, `data-print="In the pot">([0-9.]+) g`)
	assert.InEpsilon(t, pot*0.99, sum, 0.005, "the demo's pots keep one percent")

	listed := func() bool {
		_, list := v.get("/plan?open=all")
		return strings.Contains(list, at)
	}
	require.True(t, listed())
	away := func(word string) string {
		f := filled(t, kept, at+"/away")
		f.Set("away", word)
		_, kept = v.post(at+"/away", f)
		return kept
	}
	has(t, away("yes"), "Take it out again")
	assert.False(t, listed())
	assert.NotContains(t, kept, "Start the lot")
	has(t, away("no"), "Start the lot")
	assert.True(t, listed())

	// Its day is typed as people write it; what is no day is told, and nothing is lost.
	f := filled(t, kept, at+"/day")
	f.Set("day", "the ides")
	_, refused := v.post(at+"/day", f)
	has(t, refused, "type the day like 14 Mar 2026, 14/3/2026 or 2026-03-14")
	has(t, refused, `value="the ides"`)
	f.Set("day", "16/3/2026")
	_, day := v.post(at+"/day", f)
	has(t, day, "Monday 16 March")
	_, kept = v.get(at)
	has(t, kept, `value="16 Mar 2026"`)
}

// A day is laid by its hours: what is there is asked for, a step that is moved takes with it what must, and nonsense is told.
func TestADayIsLaidByItsHours(t *testing.T) {
	t.Parallel()
	v := visit(t)
	const at = "/plan/day/2026-03-15/hours"
	_, page := v.get(at)
	hasAll(t, page, "All is done at", "Lye cools", "Swifts at dusk", "minutes to spare")
	_, two := v.get(at + "?jug=2")
	first := regexp.MustCompile(`All is done at <b>(\d\d:\d\d)`)
	require.NotEmpty(t, first.FindStringSubmatch(page))
	assert.Less(t, first.FindStringSubmatch(two)[1], first.FindStringSubmatch(page)[1], "with a second jug all is done earlier")
	later := regexp.MustCompile(`href="(\?[^"]+)" aria-label="\+10 minutes: [A-Z], Weigh and mix the lye"`).FindStringSubmatch(page)
	require.NotEmpty(t, later)
	_, moved := v.get(at + html.UnescapeString(later[1]))
	hasAll(t, moved, "Had all else stayed:", "you put it there", "As it was laid")
	// What was moved is kept for the day, for whoever looks; the day is as usual again at a press. What is usual keeps nothing moved.
	keep := func(page, what string, with ...string) (int, string) {
		f := filled(t, page, at)
		f.Set("keep", what)
		for i := 0; i < len(with); i += 2 {
			f.Set(with[i], with[i+1])
		}
		return v.post(at, f)
	}
	_, kept := keep(moved, "day")
	hasAll(t, kept, "as it was kept for this day", "you put it there")
	_, again := v.get(at)
	hasAll(t, again, "As usual again", "you put it there")
	_, loose := v.get(at + html.UnescapeString(regexp.MustCompile(`href="(\?[^"]+)">As it was laid`).FindStringSubmatch(again)[1]))
	assert.NotContains(t, loose, "you put it there")
	_, usual := keep(again, "forget")
	assert.NotContains(t, usual, "you put it there")
	assert.NotContains(t, usual, "As usual again")
	_, every := keep(two, "usual")
	assert.Equal(t, first.FindStringSubmatch(two)[1], first.FindStringSubmatch(every)[1], "two jugs from now on")
	_, other := v.get("/plan/day/2026-03-16/hours")
	has(t, other, `name="jug" value="2"`)
	status, refused := keep(usual, "day", "hands", "many")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	hasAll(t, refused, "whole number", `value="many"`)
	status, refused = keep(usual, "someday")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, refused, "for this day or as usual")
	for query, says := range map[string]string{"start=nine": "type the time like 09:30", "hands=many": "whole number", "jug=-1": "0 to 20",
		"end=08:00": "end after it begins",
		"at=x":      "cannot be read", "at=a|b|late": "no time of the day", "at=a|b|10:00": "no step of this day",
		"at=Swifts+at+dusk|Lye+cools|03:00": "cannot begin at 03:00: the day is from 09:00 to 17:00"} {
		status, page := v.get(at + "?" + strings.ReplaceAll(query, "|", "%7C"))
		assert.Equal(t, http.StatusUnprocessableEntity, status, query)
		has(t, page, says)
	}
	_, short := v.get(at + "?end=10:00")
	hasAll(t, short, "Not on this day:", "by itself, and the day has 1 h 00")
	_, empty := v.get("/plan/day/2026-05-01/hours")
	has(t, empty, "No pot is left to be started")
	status, _ = v.get("/plan/day/someday/hours")
	assert.Equal(t, http.StatusNotFound, status)
}

// What was put at a time that is over by now does not keep anybody from keeping what is left of the day.
func TestWhatIsOverIsKeptNoMore(t *testing.T) {
	t.Parallel()
	v := visit(t)
	plan := v.planFor("2026-03-14")
	const at = "/plan/day/2026-03-14/hours" // it is half past ten
	act := journal.Act{Person: 1, Device: "bench", Key: "then"}
	require.NoError(t, v.kit.Shop.KeepBench(bg, act, "2026-03-14", run.Bench{Start: 540, End: 1020,
		Moved: []run.Moved{{Batch: plan, Step: run.LyeWork, At: 560}, {Batch: plan, Step: run.CleanWork, At: 960}}}))
	_, page := v.get(at)
	assert.Equal(t, 1, strings.Count(page, "you put it there"))
	kept := v.does(at, at, "keep", "day")
	hasAll(t, kept, "as it was kept for this day", "you put it there")
}

// The next thing to do across all pots is one line at the top: of the pot on the bench, and of those of today's plans.
func TestTheNextThingOfAllPotsStandsAtTheTop(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, page := v.get("/make")
	hasAll(t, page, "The hours of today", "13-Y, Ewe morning")
	next := regexp.MustCompile(`(?s)<ol>.*?<b class="tabular-nums">([^<]+)</b> <a href="(/make/[a-z0-9]+)">`).FindStringSubmatch(page)
	require.NotEmpty(t, next)
	assert.Equal(t, "Now", next[1])
	run := next[2]
	_, alone := v.get("/make/next?lot=" + strings.TrimPrefix(run, "/make/"))
	assert.NotContains(t, alone, "<li>", "on the page of the only pot there is nothing to add")
	_, trace := v.get(run + "?step=batter:trace")
	hasAll(t, trace, "To trace:", "from 1 lot", "the table says")

	plan := v.planFor("2026-03-14")
	_, both := v.get("/make/next?lot=" + strings.TrimPrefix(run, "/make/"))
	hasAll(t, both, "<li>", "Now")
	_, hours := v.get("/plan/day/2026-03-14/hours")
	hasAll(t, hours, "From now on, all is done at", "13-Y, Ewe morning", plan)
	assert.NotContains(t, hours, "in hand", "what is taken already is no step")
}

// planFor gives one of the open plans a day, and names its recipe.
func (v *visitor) planFor(day string) string {
	v.t.Helper()
	_, list := v.get("/plan/day/2026-03-15")
	at := regexp.MustCompile(`href="(/plans/[a-z0-9]{26})">([^<]+)</a>`).FindStringSubmatch(list)
	require.NotEmpty(v.t, at)
	v.does(at[1], at[1]+"/day", "day", day)
	return html.UnescapeString(at[2])
}

// Whether a loaf gels is foretold for its mold, its heat and its cover, and held against what lots showed; nonsense is told.
func TestWhetherALoafGelsIsForetold(t *testing.T) {
	t.Parallel()
	v := visit(t)
	_, list := v.get("/plan/day/2026-03-15")
	at := regexp.MustCompile(`href="(/plans/[a-z0-9]{26})">Quern base</a>`).FindStringSubmatch(list)
	require.NotEmpty(t, at)
	_, sheet := v.get(at[1])
	has(t, sheet, "Will it gel?")
	_, page := v.get(at[1] + "/gel")
	hasAll(t, page, "It gels from about", "What lots of it showed", "of the last 2 lots", "of your loaves: yours")
	_, warm := v.get(at[1] + "/gel?cover=oven&oven=75&start=45")
	hasAll(t, warm, "It gels to its edges", "gel-ring")
	_, cold := v.get(at[1] + "/gel?cover=chill&start=28")
	has(t, cold, "It does not gel")
	recipe := regexp.MustCompile(`href="(/recipes/[a-z0-9]{26}/learned)"`).FindStringSubmatch(sheet)
	require.NotEmpty(t, recipe)
	hasAll(t, sheet, "By your own lots", "the table says")
	_, learned := v.get(recipe[1])
	hasAll(t, learned, "What your own lots say", "To trace", "Until it is firm", "Good bars of those planned", "2 lots, ",
		"somebody looked at", "Out of its mold")
	for query, says := range map[string]string{"start=300": "between 10 and 95", "room=hot": "“hot”",
		"cover=oven&oven=500": "between 30 and 110", "mold=9": "choose a mold of the plan"} {
		status, page := v.get(at[1] + "/gel?" + query)
		assert.Equal(t, http.StatusUnprocessableEntity, status, query)
		has(t, page, says)
	}
}
