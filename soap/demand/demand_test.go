package demand_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/demand"
)

var today = time.Date(2026, 3, 2, 0, 0, 0, 0, time.UTC) // a Monday

func on(day int) time.Time { return today.AddDate(0, 0, day) }

func hedgerow() demand.Request {
	return demand.Request{
		Today: today, PotsPerDay: 2, DaysOff: []time.Weekday{time.Sunday}, Margin: 3, RackBars: 400,
		Recipes: []demand.Recipe{{Name: "Hedgerow bar", Bars: 20, MoldDays: 1, CureDays: 28}},
		OnHand:  []demand.Stock{{Recipe: "Hedgerow bar", Bars: 12, Ready: today}},
		Wanted:  []demand.Want{{Recipe: "Hedgerow bar", Bars: 60, On: time.Date(2026, 6, 6, 0, 0, 0, 0, time.UTC)}},
	}
}

func back(t require.TestingT, q demand.Request) demand.Plan {
	p, err := demand.Back(q)
	require.NoError(t, err)
	return p
}

func said(p demand.Plan) (out []string) {
	for _, one := range p.Pours {
		out = append(out, fmt.Sprintf("%d %s on %s, ready %s", one.Pots, one.Recipe, one.On.Format("2 Jan"), one.Ready.Format("2 Jan")))
	}
	for _, one := range p.Short {
		out = append(out, fmt.Sprintf("%d %s short on %s: %s", one.Bars, one.Recipe, one.On.Format("2 Jan"), one.Why))
	}
	return out
}

// Worked by hand: 60 wanted less 12 there are 48, three pots of 20. Wanted on Saturday the 6th of June, three days to
// spare and 29 from the pour make Tuesday the 5th of May the latest: two pots on it, and one the day before.
func TestAFairIsCountedBackFrom(t *testing.T) {
	q := hedgerow()
	assert.Equal(t, []string{"1 Hedgerow bar on 4 May, ready 2 Jun", "2 Hedgerow bar on 5 May, ready 3 Jun"}, said(back(t, q)))
	q.PotsPerDay = 1 // the 3rd of May is a Sunday
	assert.Equal(t, []string{
		"1 Hedgerow bar on 2 May, ready 31 May", "1 Hedgerow bar on 4 May, ready 2 Jun", "1 Hedgerow bar on 5 May, ready 3 Jun",
	}, said(back(t, q)))
	q.RackBars = 40 // no three pots cure at once: the third is cut, cured and gone before the second is cut
	got := said(back(t, q))
	assert.Len(t, got, 3)
	assert.Contains(t, got[0], "on 7 Apr")
	q.RackBars = 19
	assert.Equal(t, []string{"48 Hedgerow bar short on 6 Jun: rack"}, said(back(t, q)))
	q.RackBars, q.Today = 0, time.Date(2026, 5, 6, 0, 0, 0, 0, time.UTC)
	assert.Equal(t, []string{"48 Hedgerow bar short on 6 Jun: time"}, said(back(t, q)))
	q.Today = time.Date(2026, 5, 4, 0, 0, 0, 0, time.UTC) // Monday and Tuesday are left, with a pot each
	assert.Equal(t, []string{
		"1 Hedgerow bar on 4 May, ready 2 Jun", "1 Hedgerow bar on 5 May, ready 3 Jun", "8 Hedgerow bar short on 6 Jun: pots",
	}, said(back(t, q)))
	q = hedgerow()
	q.Wanted = nil
	assert.Empty(t, said(back(t, q)))
}

// An all-olive loaf is cut within a day: none is poured on a Saturday where nobody works on Sundays. And with one mold of it, a
// loaf is poured every second day at the most.
func TestACutThatCannotWaitAndAFullMoldMoveAPour(t *testing.T) {
	q := hedgerow()
	q.Wanted[0].On = time.Date(2026, 6, 3, 0, 0, 0, 0, time.UTC) // 32 days after Saturday the 2nd of May
	q.Wanted[0].Bars = 32
	assert.Equal(t, []string{"1 Hedgerow bar on 2 May, ready 31 May"}, said(back(t, q)))
	q.Recipes[0].Prompt = true
	assert.Equal(t, []string{"1 Hedgerow bar on 1 May, ready 30 May"}, said(back(t, q)))
	q.Recipes[0].Prompt, q.Recipes[0].Mold, q.Recipes[0].Molds, q.Molds = false, "loaf", 1, map[string]int{"loaf": 1}
	q.Wanted[0].Bars = 72
	assert.Equal(t, []string{
		"1 Hedgerow bar on 28 Apr, ready 27 May", "1 Hedgerow bar on 30 Apr, ready 29 May", "1 Hedgerow bar on 2 May, ready 31 May",
	}, said(back(t, q)))
	q.Recipes[0].Molds = 2
	assert.NotEmpty(t, q.Check().At("recipes[0].molds"))
}

// Bars that are ready too late for one want are there for the next, and what a pot has over is, too.
func TestWhatIsLeftOfOneWantServesTheNext(t *testing.T) {
	q := hedgerow()
	q.Wanted = []demand.Want{{Recipe: "Hedgerow bar", Bars: 30, On: on(60)}, {Recipe: "Hedgerow bar", Bars: 10, On: on(80)}}
	q.OnHand[0].Ready = on(70)
	assert.Equal(t, []string{"2 Hedgerow bar on 30 Mar, ready 28 Apr"}, said(back(t, q)), "40, and the 12 are not needed")
	q.Wanted[0].On = on(10)
	assert.Equal(t, []string{"30 Hedgerow bar short on 12 Mar: time"}, said(back(t, q)), "and the 12 do for the second")
}

func TestWhatCannotBeWorkedWithIsRefusedAtItsPlace(t *testing.T) {
	for path, spoil := range map[string]func(*demand.Request){
		"pots_per_day":            func(q *demand.Request) { q.PotsPerDay = 0 },
		"margin_days":             func(q *demand.Request) { q.Margin = -1 },
		"rack_bars":               func(q *demand.Request) { q.RackBars = -1 },
		"days_off":                func(q *demand.Request) { q.DaysOff = []time.Weekday{0, 1, 2, 3, 4, 5, 6} },
		"recipes[0].bars_per_pot": func(q *demand.Request) { q.Recipes[0].Bars = 0 },
		"recipes[1].name":         func(q *demand.Request) { q.Recipes = append(q.Recipes, q.Recipes[0]) },
		"recipes[0].cure_days":    func(q *demand.Request) { q.Recipes[0].CureDays = 5000 },
		"on_hand[0].recipe":       func(q *demand.Request) { q.OnHand[0].Recipe = "Moonbeam" },
		"on_hand[0].bars":         func(q *demand.Request) { q.OnHand[0].Bars = -1 },
		"wanted[0].bars":          func(q *demand.Request) { q.Wanted[0].Bars = 0 },
		"wanted[0].on":            func(q *demand.Request) { q.Wanted[0].On = on(20000) },
	} {
		q := hedgerow()
		spoil(&q)
		assert.NotEmpty(t, q.Check().At(path), path)
		_, err := demand.Back(q)
		assert.Error(t, err, path)
	}
}

// drawn is a request of a few days and recipes.
func drawn(t *rapid.T, days, recipes, most int) demand.Request {
	q := demand.Request{
		Today: today, PotsPerDay: rapid.IntRange(1, 2).Draw(t, "pots a day"), Margin: rapid.IntRange(0, 2).Draw(t, "margin"),
		RackBars: rapid.SampledFrom([]int{0, 4, 8, 12, 20}).Draw(t, "rack"),
	}
	if rapid.Bool().Draw(t, "a day off") {
		q.DaysOff = []time.Weekday{time.Wednesday, time.Saturday}
	}
	if rapid.Bool().Draw(t, "molds") {
		q.Molds = map[string]int{"loaf": rapid.IntRange(1, 3).Draw(t, "loaves")}
	}
	for i := range recipes {
		name := string(rune('A' + i))
		q.Recipes = append(q.Recipes, demand.Recipe{Name: name, Bars: rapid.IntRange(2, 6).Draw(t, "bars"),
			MoldDays: rapid.IntRange(0, 2).Draw(t, "mold"), CureDays: rapid.IntRange(0, 4).Draw(t, "cure"),
			Prompt: rapid.Bool().Draw(t, "prompt"), Mold: rapid.SampledFrom([]string{"loaf", "slab"}).Draw(t, "form"), Molds: 1})
		for range rapid.IntRange(0, 2).Draw(t, "stocks") {
			q.OnHand = append(q.OnHand, demand.Stock{Recipe: name, Bars: rapid.IntRange(1, 4).Draw(t, "have"),
				Ready: on(rapid.IntRange(-2, days).Draw(t, "ready"))})
		}
		for range rapid.IntRange(0, 2).Draw(t, "wants") {
			q.Wanted = append(q.Wanted, demand.Want{Recipe: name, Bars: rapid.IntRange(1, most).Draw(t, "want"),
				On: on(rapid.IntRange(0, days).Draw(t, "on"))})
		}
	}
	return q
}

// score is what a plan is worth: bars short, pots, and how late they are.
type score struct{ short, pots, late int }

func (s score) better(o score) bool {
	if s.short != o.short {
		return s.short < o.short
	}
	if s.pots != o.pots {
		return s.pots < o.pots
	}
	return s.late > o.late
}

// held checks a set of pours against every limit, and says what they are worth. It is written straight from what is
// asked of a plan, bar by bar and day by day.
func held(q demand.Request, pours map[string][]int) (score, string) {
	var s score
	pots, rack, forms := map[int]int{}, map[int]int{}, map[string]map[int]int{"loaf": {}, "slab": {}, "": {}}
	for _, one := range q.OnHand {
		for d := 0; on(d).Before(one.Ready); d++ {
			rack[d] += one.Bars
		}
	}
	standing := map[int]bool{}
	for _, r := range q.Recipes {
		for _, d := range pours[r.Name] {
			s.pots++
			s.late += d
			if pots[d]++; d < 0 || pots[d] > q.PotsPerDay || slices.Contains(q.DaysOff, on(d).Weekday()) {
				return s, fmt.Sprintf("a pot on day %d", d)
			}
			if r.Prompt && slices.Contains(q.DaysOff, on(d+r.MoldDays).Weekday()) {
				return s, fmt.Sprintf("the pot of day %d is cut on a day off", d)
			}
			for c := d; c <= d+r.MoldDays; c++ {
				forms[r.Mold][c] += r.Molds
				if have, limited := q.Molds[r.Mold]; limited && forms[r.Mold][c] > have {
					return s, fmt.Sprintf("no %s is free on day %d", r.Mold, c)
				}
			}
			for c := d + r.MoldDays; c < d+r.MoldDays+r.CureDays; c++ {
				rack[c] += r.Bars
				standing[c] = true
			}
		}
	}
	for d := range standing {
		if q.RackBars > 0 && rack[d] > q.RackBars {
			return s, fmt.Sprintf("%d bars on the racks on day %d", rack[d], d)
		}
	}
	for _, r := range q.Recipes {
		have := map[int]int{}
		for _, one := range q.OnHand {
			if one.Recipe == r.Name {
				have[int(one.Ready.Sub(today).Hours()/24)] += one.Bars
			}
		}
		for _, d := range pours[r.Name] {
			have[d+r.MoldDays+r.CureDays+q.Margin] += r.Bars
		}
		free := 0
		for d := -10; d < 60; d++ {
			free += have[d]
			for _, want := range q.Wanted {
				if want.Recipe == r.Name && want.On.Equal(on(d)) {
					got := min(free, want.Bars)
					free, s.short = free-got, s.short+want.Bars-got
				}
			}
		}
	}
	return s, ""
}

func poursOf(p demand.Plan) map[string][]int {
	out := map[string][]int{}
	for _, one := range p.Pours {
		for range one.Pots {
			out[one.Recipe] = append(out[one.Recipe], int(one.On.Sub(today).Hours()/24))
		}
	}
	return out
}

func shortOf(p demand.Plan) (n int) {
	for _, one := range p.Short {
		n += one.Bars
	}
	return n
}

// All ways to pour on a few days, one by one.
func exhaustive(q demand.Request, days, mostPots int) score {
	best, any := score{}, false
	pours := map[string][]int{}
	var next func(recipe, from, left int)
	next = func(recipe, from, left int) {
		if s, wrong := held(q, pours); wrong == "" && (!any || s.better(best)) {
			best, any = s, true
		}
		if left == 0 {
			return
		}
		for r := recipe; r < len(q.Recipes); r++ {
			name, first := q.Recipes[r].Name, 0
			if r == recipe {
				first = from
			}
			for d := first; d <= days; d++ {
				pours[name] = append(pours[name], d)
				next(r, d, left-1)
				pours[name] = pours[name][:len(pours[name])-1]
			}
		}
	}
	next(0, 0, mostPots)
	return best
}

func TestSmallPlansAreTheBestThatThereAre(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := drawn(t, 7, 2, 7)
		p, err := demand.Back(q)
		if err != nil {
			t.Fatal(err)
		}
		got, wrong := held(q, poursOf(p))
		if wrong != "" {
			t.Fatalf("%s: %v", wrong, said(p))
		}
		if got.short != shortOf(p) {
			t.Fatalf("%d are short, and it says %d: %v", got.short, shortOf(p), said(p))
		}
		if best := exhaustive(q, 7, 3); got.pots <= 3 && best.better(got) {
			t.Fatalf("%+v, and %+v can be had: %v", got, best, said(p))
		}
	})
}

// Whatever is wanted of however much: no limit is broken, and every pour is of use and as late as it may be by itself.
func TestAPlanKeepsItsLimitsAndIsAsLateAsItMayBe(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := drawn(t, 30, 4, 30)
		p, err := demand.Back(q)
		if err != nil {
			t.Fatal(err)
		}
		pours := poursOf(p)
		s, wrong := held(q, pours)
		if wrong != "" || s.short != shortOf(p) {
			t.Fatalf("%s, %d short: %v", wrong, s.short, said(p))
		}
		for name, days := range pours {
			for i, d := range days {
				rest := slices.Delete(slices.Clone(days), i, i+1)
				pours[name] = rest
				if without, _ := held(q, pours); without.short <= s.short {
					t.Fatalf("the pot of %s on day %d is of no use: %v", name, d, said(p))
				}
				for later := d + 1; later <= 30; later++ {
					pours[name] = append(slices.Clone(rest), later)
					if moved, wrong := held(q, pours); wrong == "" && moved.short <= s.short {
						t.Fatalf("the pot of %s on day %d could be on day %d: %v", name, d, later, said(p))
					}
				}
				pours[name] = days
			}
		}
		for _, one := range p.Pours {
			i := slices.IndexFunc(q.Recipes, func(r demand.Recipe) bool { return r.Name == one.Recipe })
			if !one.Ready.Equal(one.On.AddDate(0, 0, q.Recipes[i].Lead())) {
				t.Fatalf("ready on %v", one.Ready)
			}
		}
	})
}

// To want more never leaves less to be poured or fewer bars short, where nothing but the days is in the way.
func TestToWantMoreIsNeverToMakeLess(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := drawn(t, 30, 2, 30)
		q.RackBars, q.PotsPerDay, q.Molds = 0, 1000, nil
		before := back(t, q)
		for i := range q.Wanted {
			q.Wanted[i].Bars += rapid.IntRange(0, 20).Draw(t, "more")
		}
		after := back(t, q)
		a, _ := held(q, poursOf(before))
		b, _ := held(q, poursOf(after))
		assert.LessOrEqual(t, a.pots, b.pots)
		assert.LessOrEqual(t, shortOf(before), shortOf(after))
	})
}

// A year of a busy shop: twelve recipes, a market every second Saturday and a fair, within the budget of 200 ms.
func BenchmarkAYearIsCountedBack(b *testing.B) {
	q := demand.Request{Today: today, PotsPerDay: 3, DaysOff: []time.Weekday{time.Sunday}, Margin: 3, RackBars: 1200}
	for i := range 12 {
		name := string(rune('A' + i))
		q.Recipes = append(q.Recipes, demand.Recipe{Name: name, Bars: 18 + i, MoldDays: 1 + i%2, CureDays: 28 + 7*(i%4)})
		q.OnHand = append(q.OnHand, demand.Stock{Recipe: name, Bars: 10 + i, Ready: on(5 * i)})
		for week := range 26 {
			q.Wanted = append(q.Wanted, demand.Want{Recipe: name, Bars: 6 + (week+i)%5, On: on(5 + 14*week)})
		}
		q.Wanted = append(q.Wanted, demand.Want{Recipe: name, Bars: 40, On: on(100)})
	}
	for b.Loop() {
		if _, err := demand.Back(q); err != nil {
			b.Fatal(err)
		}
	}
}

func TestAPourThatIsMovedSaysWhatItBreaks(t *testing.T) {
	q := hedgerow()
	q.RackBars, q.Molds = 40, map[string]int{"loaf": 1}
	q.Recipes[0].Mold, q.Recipes[0].Molds, q.Recipes[0].Prompt = "loaf", 1, true
	pour := func(day time.Time, pots int) demand.Pour {
		return demand.Pour{Recipe: "Hedgerow bar", On: day, Pots: pots}
	}
	judged := func(pours ...demand.Pour) (out []string) {
		list, err := demand.Judge(q, pours)
		require.NoError(t, err)
		for _, b := range list {
			out = append(out, fmt.Sprintf("%s %s by %d", b.On.Format("2 Jan"), b.What, b.By))
		}
		return out
	}
	may := func(d int) time.Time { return time.Date(2026, 5, d, 0, 0, 0, 0, time.UTC) }
	assert.Equal(t, []string{"3 May day off by 1", "6 Jun missing by 28"}, judged(pour(may(3), 1)))
	assert.Equal(t, []string{"3 May cut on a day off by 1", "6 Jun missing by 28"}, judged(pour(may(2), 1)))
	assert.Equal(t, []string{"4 May mold by 2", "4 May pots by 1", "5 May rack by 20"}, judged(pour(may(4), 3)))
	assert.Equal(t, []string{"6 Jun missing by 48"}, judged(pour(may(6), 1)), "a day too late is too late")
	assert.Equal(t, []string{"1 Mar before today by 1", "6 Jun missing by 28"}, judged(pour(on(-1), 1)))
	assert.Empty(t, demand.RackOn(q, nil, 0))
	assert.Equal(t, []int{0, 20, 20}, demand.RackOn(q, []demand.Pour{pour(today, 1)}, 3))
	_, err := demand.Judge(demand.Request{}, nil)
	assert.Error(t, err)
}

func TestAPlanSaysWhyItIsNotLater(t *testing.T) {
	q := hedgerow()
	q.RackBars = 40
	p := back(t, q)
	require.Len(t, p.Pours, 2)
	what, _, on, err := demand.WhyNotLater(q, p.Pours, 1)
	require.NoError(t, err)
	assert.Equal(t, demand.Missing, what, "any later is too late for the fair")
	assert.Equal(t, "6 Jun", on.Format("2 Jan"))
	what, _, _, err = demand.WhyNotLater(q, p.Pours, 0)
	require.NoError(t, err)
	assert.Equal(t, demand.RackFull, what, "the others stand on the racks until then")
	q.RackBars, q.Booked = 0, []time.Time{time.Date(2026, 5, 5, 0, 0, 0, 0, time.UTC)}
	assert.Equal(t, []string{"2 Hedgerow bar on 4 May, ready 2 Jun", "1 Hedgerow bar on 5 May, ready 3 Jun"}, said(back(t, q)),
		"a day that has a pot takes one more only")
}

// What is planned breaks nothing but what it says is short.
func TestAPlanIsJudgedAsItWasMade(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := drawn(t, 20, 3, 20)
		p := back(t, q)
		list, err := demand.Judge(q, p.Pours)
		require.NoError(t, err)
		missing := 0
		for _, b := range list {
			if b.What != demand.Missing {
				t.Fatalf("%+v of %v", b, said(p))
			}
			missing += b.By
		}
		assert.Equal(t, shortOf(p), missing)
	})
}
