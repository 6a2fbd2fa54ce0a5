package lot_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/ledger"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/rack"
	"ashshelf/soap/recipe"
	"ashshelf/soap/trouble"
)

var begun = time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC)

// entries numbers the records of a lot, a minute apart.
type entries struct{ n int64 }

func (e *entries) next() lot.Entry {
	e.n++
	at := begun.Add(time.Duration(e.n) * time.Minute)
	return lot.Entry{ID: e.n, Occurred: at, Recorded: at, Who: "Ida"}
}

// oliveAndCoconut is a lot of a kilo of fats with a scent, just begun.
func oliveAndCoconut(t *testing.T, e *entries) *lot.Lot {
	t.Helper()
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	f := recipe.Formula{
		Name:     "Plain",
		Fats:     fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}},
		Alkali:   lye.DefaultAlkali(),
		Superfat: 5,
		Water: recipe.Water{
			Basis: recipe.LyeStrength,
			Value: 33,
		},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Scent: &additive.Perfume{
			Rate:  2,
			Stage: additive.Trace,
			Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig leaf", Density: 0.95}, Percent: 100}},
		},
	}
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: 20,
		Target:  plan.Target{FatsG: 1000},
		Scales:  plan.Scales{Resolution: 0.1},
	}
	p, err := plan.Make(r)
	require.NoError(t, err)
	policy, _ := cure.PolicyByCode("four-to-six")
	return &lot.Lot{OID: "one", Code: "1-F", Pot: 1, Recipe: "r", Started: e.next(), Balance: map[ledger.Kind]int{}, Frozen: lot.Frozen{
		Recipe: "Plain", Revision: 2, Formula: f, Request: r, Pot: p.Pot(), Sheet: plan.Sheet(r,
			p.Pot()), Policy: policy, Unmold: cure.Expected(f),
		Molds: []lot.Mold{
			{
				OID:      "m",
				Name:     "Loaf",
				Material: "lined",
				Count:    1,
				Mold:     mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65},
				Cut:      mold.Cut{Thickness: 25},
			},
		},
	}}
}

// weighed puts everything in, on its mark.
func weighed(l *lot.Lot, e *entries) {
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			l.Weighings = append(
				l.Weighings,
				lot.Weighing{Entry: e.next(), Item: i.Key, Target: i.Target, Actual: i.Target, How: lot.ByDevice, Reading: e.n},
			)
		}
	}
}

func told(l *lot.Lot) (out []string) {
	for _, e := range l.Story() {
		out = append(out, e.Title+": "+e.Text)
	}
	return out
}

// Every kind of record has its line in the story, in the order it was recorded.
func TestTheStoryLeavesNothingOut(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	ph := 9.5
	from := lot.Bought{OID: "b", Item: "fat:olive-oil", Name: "Olive oil", Supplier: "Quay Oils", Code: "QO-1", Received: "2026-01-02"}
	l.Weighings = []lot.Weighing{
		{Entry: e.next(), Item: "fat:olive-oil", Target: 700, Actual: 720, How: lot.OnPaper, From: from},
		{Entry: e.next(), Item: "fat:olive-oil", Target: 700, Actual: -20, How: lot.ByDevice, Reading: 7},
	}
	l.Ticks = []lot.Tick{
		{Entry: e.next(), Step: "batter:trace", Title: "Trace", Done: true, Trace: "light", Minutes: 6},
		{Entry: e.next(), Step: "ready:bench", Title: "Clear the bench", Note: "not yet"},
	}
	l.Temps = []lot.Temp{{Entry: e.next(), Of: "lye", C: 38.5}}
	l.Rescales = []lot.Rescale{{Entry: e.next(), Factor: 1.04, Because: "fat:olive-oil", Sheet: l.Frozen.Sheet, Pot: l.Frozen.Pot}}
	l.Extras = []lot.Extra{{Entry: e.next(), Name: "Rice bran oil", Grams: 12, SAP: 187}}
	l.Scents = []lot.ScentSeen{{Entry: e.next(), Scent: "Fig leaf", Behaviour: additive.Accelerates, Note: "a little"}}
	l.Photos = []lot.Photo{{Entry: e.next(), File: "p.jpg", Caption: "the swirl"}}
	l.Pour = &lot.Pour{Entry: e.next(), Trace: "light", Skipped: "no scent", Note: "shiny"}
	l.Unmolding = &lot.Unmolding{Entry: e.next(), Gel: "ring", Note: "clean"}
	l.Cut = &lot.Cut{
		Entry:      e.next(),
		Bars:       map[ledger.Grade]int{ledger.First: 9, ledger.Second: 1},
		BarG:       118,
		Halves:     2,
		Ends:       2,
		EndsG:      80,
		TrimmingsG: 46,
		Finish:     "Jon",
		Note:       "crisp",
		Sizes:      []lot.Size{{Name: "guest bar", BarG: 40, Bars: map[ledger.Grade]int{ledger.First: 3}}},
	}
	l.Samples = []lot.SampleWeight{{Entry: e.next(), Grams: 117.5}}
	l.Checks = []lot.SafetyCheck{
		{Entry: e.next(), Method: "ph", PH: &ph, Pass: true},
		{Entry: e.next(), Method: "zap", Note: "it zaps"},
	}
	l.Deviations = []lot.Deviation{{Entry: e.next(), Act: lot.ToCut, What: "cut late", Why: "a wedding"}}
	l.Holds = []lot.Hold{{Entry: e.next(), Held: true, Why: "white spots"}, {Entry: e.next(), Why: "it was flour"}}
	l.Incidents = []lot.Incident{
		{
			Entry: e.next(),
			Kind:  trouble.Seized,
			Text:  "a lump",
			Words: []lot.IncidentUpdate{{Entry: e.next(), Way: "press"}, {Entry: e.next(), Outcome: "nine plain bars"}},
			Blamed: []lot.Blame{
				{Entry: e.next(), Subject: "recipe:r", Name: "the recipe, Plain", Blamed: true},
				{Entry: e.next(), Subject: "recipe:r", Name: "the recipe, Plain"},
			},
		},
	}
	l.ProcessChanges = []lot.ProcessChange{{Entry: e.next(), Cooked: true, Plain: true, Why: "seized"}}
	l.Parents = []lot.Parent{{Entry: e.next(), OID: "zero", Code: "0-A", What: "trimmings", Grams: 50}}
	l.Children = []lot.Parent{{Entry: e.next(), OID: "two", Code: "2-H", What: "trimmings", Grams: 20, Child: true}}
	l.Marks = []lot.Mark{
		{Entry: e.next(), Mark: lot.NotForSale, On: true, Why: "a gift"},
		{Entry: e.next(), Mark: lot.Recalled, On: true, Why: "glass"},
		{Entry: e.next(), Mark: lot.Recalled, Why: "none found"},
	}
	l.Next = []lot.Next{{Entry: e.next(), Text: "less scent"}}
	l.Kept = []lot.ReferenceBars{{Entry: e.next(), Bars: 1, Place: "drawer"}}
	l.Cared = []lot.Care{{Entry: e.next(), What: "turn"}, {Entry: e.next(), What: lot.Diluted, Note: "a spoon of it"}}
	l.Washes = []lot.Wash{{Entry: e.next(), Volume: 3, Creaminess: 2, Against: "0-A", Note: "soft"}}
	l.Release = &lot.Release{Entry: e.next(), Early: "for the fair"}
	l.Moves = []lot.Move{{Entry: e.next(), Kind: ledger.Of(ledger.First), Reason: ledger.Sold, Change: -2, Note: "at the door"}}
	l.Notes = []lot.Note{{Entry: e.next(), Text: "smells of figs"}, {Entry: e.next(), Text: "a child tasted it", Incident: true}}
	l.Abandoned = &lot.Note{Entry: e.next(), Text: "the dog"}

	story := l.Story()
	for i := 1; i < len(story); i++ {
		assert.Greater(t, story[i].ID, story[i-1].ID)
	}
	lines := told(l)
	for _, want := range []string{
		"Started: Plain, revision 2, pot 1",
		"Weighed: Olive oil: 720 g of 700 g, noted on paper, from Quay Oils QO-1, received 2026-01-02",
		"Weighed back: Olive oil: 20 g, by the scale",
		"Done: light trace after 6 min", "Taken back: Clear the bench. not yet", "Temperature: lye 38.5 °C",
		"Rescaled: to 104 % of the plan, after Olive oil",
		"Added: Rice bran oil: 12 g, unplanned", "Photo: the swirl", "Poured: light trace; left out: no scent. shiny",
		"Unmolded: gel: ring. clean",
		"Cut: first grade 9, seconds 1, testers 0, scrap 0 of 118 g; guest bar of 40 g: first grade 3, seconds 0, testers 0, scrap " +
			"0; 2 of them halves; end pieces 2 of 80 g; trimmings of 46 g; left to finish: Jon. crisp",
		"Sample bar: 117.5 g", "Safety check: pH 9.5: passed, too early to count", "Safety check: tongue test: failed. it zaps",
		"Deviation: cut late: a wedding",
		"Held: white spots", "Hold lifted: it was flour", "Trouble: Seized. a lump", "Came out: Seized: nine plain bars",
		"May be the cause: Seized: the recipe, Plain", "Not the cause: Seized: the recipe, Plain",
		"Released: by Ida. for the fair", "Bars moved: -2 first grade, sold. at the door", "Note: smells of figs",
		"Trouble: a child tasted it", "Abandoned: the dog", "Reference bar: 1 kept: drawer",
	} {
		assert.Contains(t, lines, want)
	}
	assert.Len(t, lines, int(e.n), "one line for each record")
	assert.Equal(t, story[len(story)-1].ID, l.Newest().ID)
}

func TestACutIsCountedByKindAndWeighedWithItsHalves(t *testing.T) {
	c := lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 8, ledger.Scrap: 2}, BarG: 100, Halves: 2, EndsG: 30, TrimmingsG: 20,
		Sizes: []lot.Size{{Name: "guest bar", BarG: 40, Bars: map[ledger.Grade]int{ledger.First: 5}}}}
	assert.Equal(t, 15, c.Count())
	assert.Equal(t, 13, c.OfGrade(ledger.First))
	assert.Equal(t, 8, c.Of(ledger.Of(ledger.First)))
	assert.Equal(t, 5, c.Of(ledger.Kind{Size: "guest bar", Grade: ledger.First}))
	assert.Zero(t, c.Of(ledger.Kind{Size: "giant", Grade: ledger.First}))
	assert.Len(t, c.Kinds(), 2*len(ledger.Grades()))
	assert.InDelta(t, 9*100+5*40, c.BarsG(), 1e-9, "two halves weigh one bar")
	assert.InDelta(t, 1150, c.Weight(), 1e-9)
	c.Sizes[0].BarG = 0
	assert.Zero(t, c.BarsG(), "a size that was not weighed leaves the weight open")
}

// 45 g too much of 700 makes the rest 6.4 % larger, and that once the lye has met
// the fats no more.
func TestAnOverPourIsRescaledToWhileThePotsAreApart(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	l.Weighings = []lot.Weighing{{Entry: e.next(), Item: "fat:olive-oil", Target: 700, Actual: 745}}
	r, err := l.RescaledTo("fat:olive-oil")
	require.NoError(t, err)
	assert.InDelta(t, 745.0/700, r.Factor, 1e-9)
	r.Entry = e.next()
	l.Rescales = []lot.Rescale{r}
	assert.InDelta(t, r.Factor, l.Factor(), 1e-9)
	olive, ok := l.Item("fat:olive-oil")
	require.True(t, ok)
	assert.InDelta(t, 745, olive.Target, 0.1)
	assert.InDelta(t, l.Frozen.Pot.NaOH*r.Factor, l.PotNow().NaOH, 0.1)
	_, err = l.RescaledTo("fat:olive-oil")
	assert.ErrorContains(t, err, "not over any more")
	l.Weighings = append(l.Weighings, lot.Weighing{Entry: e.next(), Item: "fat:olive-oil", Actual: 30})
	l.Ticks = []lot.Tick{{Entry: e.next(), Step: "batter:combine", Done: true}}
	_, err = l.RescaledTo("fat:olive-oil")
	assert.ErrorContains(t, err, "too late to rescale")
	_, ok = l.Item("fat:moon")
	assert.False(t, ok)
}

// What was never weighed is to come before the pour, and was left out after it.
func TestThePotIsJudgedByWhatIsInItWhenItIsPoured(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	weighed(l, e)
	assert.InDelta(t, 5, l.JudgePot().Superfat, 0.1)
	for i, w := range l.Weighings {
		if w.Item == "fat:coconut-oil" {
			l.Weighings = append(l.Weighings[:i], l.Weighings[i+1:]...)
			break
		}
	}
	assert.InDelta(t, 5, l.AsPoured().Superfat, 0.1, "the coconut oil is still to come")
	l.Pour = &lot.Pour{Entry: e.next()}
	j := l.AsPoured()
	assert.True(t, j.Heavy, "it never came")
	assert.Less(t, j.Superfat, -20.0)
	assert.NotEmpty(t, j.Said)
	require.Len(t, l.Unweighed(), 1)
}

func TestTheBenchForetellsFromItsReadings(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	assert.Nil(t, l.Warmth("lye"))
	liquidC, roomC := 10.0, 18.0
	l.Temps = []lot.Temp{{Entry: e.next(), Of: "liquid", C: liquidC}, {Entry: e.next(), Of: "room", C: roomC}}
	l.Ticks = []lot.Tick{{Entry: e.next(), Step: "lye:in", Done: true}}
	weighed(l, e)
	now := begun.Add(40 * time.Minute)
	m := l.WhenToCombine(25, now)
	l.Temps = append(
		l.Temps,
		lot.Temp{Entry: lot.Entry{ID: 90, Occurred: now.Add(-10 * time.Minute)}, Of: "lye", C: 70},
		lot.Temp{Entry: lot.Entry{ID: 91, Occurred: now}, Of: "lye", C: 55},
	)
	assert.Equal(t, 55.0, *l.Warmth("lye"))
	assert.Len(t, l.Read("lye"), 2)
	assert.NotEqual(t, m, l.WhenToCombine(25, now), "the maker's readings win")
	assert.ElementsMatch(t, []string{"liquid", "lye", "fats", "room"}, lot.Pots())
	assert.NotEmpty(t, lot.Traces())
	assert.Contains(t, lot.Gels(), lot.FullGel)
}

func TestACorrectedSampleCountsWhenItWasRead(t *testing.T) {
	l := curing()
	at := func(id int64, day int, corrects int64) lot.Entry {
		return lot.Entry{ID: id, Occurred: poured.AddDate(0, 0, day), Corrects: corrects}
	}
	l.Samples = []lot.SampleWeight{
		{Entry: at(1, 1, 0), Grams: 118},
		{Entry: at(2, 8, 0), Grams: 11},
		{Entry: at(3, 15, 0), Grams: 109},
		{Entry: at(4, 8, 2), Grams: 112.5},
	}
	var got []float64
	for _, w := range l.Weights() {
		got = append(got, w.Grams)
	}
	assert.Equal(t, []float64{118, 112.5, 109}, got)
	assert.Equal(t, 0.1, l.SampleStep())
	l.Samples = l.Samples[:3]
	assert.Equal(t, 1.0, l.SampleStep(), "all of them whole grams")
	assert.Len(t, l.Facts(poured.AddDate(0, 0, 20)).Samples, 3)
}

func TestMarksAndWhatIsInheritedKeepBarsBack(t *testing.T) {
	l := curing()
	assert.Empty(t, l.KeptFromSale())
	l.Inherited = []lot.Restriction{
		{Code: "9-L", Kind: "hold", Why: "spots"},
		{Code: "8-J", Kind: lot.Recalled, Why: "glass"},
		{Code: "7-F", Kind: lot.NotForSale, Why: "own milk"},
	}
	assert.Equal(t, []string{"made with lot 9-L, which is on hold: spots", "made with lot 8-J, which is called back: glass"}, l.Held())
	assert.Equal(t, "made with lot 7-F: own milk", l.KeptFromSale())
	l.Marks = []lot.Mark{{Mark: lot.NotForSale, On: true, Why: "a gift"}, {Mark: lot.Recalled, On: true, Why: "a splinter"}}
	assert.Equal(t, "a gift", l.KeptFromSale())
	assert.Contains(t, l.Held(), "called back: a splinter")
	l.Marks = append(l.Marks, lot.Mark{Mark: lot.Recalled, Why: "none found"})
	assert.NotContains(t, l.Held(), "called back: a splinter")
	assert.Equal(t, "called back", lot.MarkWords(lot.Recalled))
	assert.Equal(t, "not for sale", lot.MarkWords(lot.NotForSale))
}

func TestALotStandsWhereItWasPutLastWhileItHasBars(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	weighed(l, e)
	l.Pour, l.Unmolding, l.Cut = &lot.Pour{Entry: e.next()}, &lot.Unmolding{Entry: e.next()}, &lot.Cut{Entry: e.next(), TrimmingsG: 46}
	l.Balance[ledger.Of(ledger.First)] = 10
	_, ok := l.PlaceNow()
	assert.False(t, ok, "it was put nowhere")
	l.Places = []lot.Place{{Rack: "left", Level: 2}, {Rack: "right", Level: 1}}
	at, ok := l.PlaceNow()
	assert.True(t, ok)
	assert.Equal(t, rack.Spot{Rack: "right", Level: 1}, at)
	on := l.OnRack(begun.AddDate(0, 0, 5))
	assert.Equal(t, 10, on.Bars)
	assert.InDelta(t, 25, on.ThickMM, 1)
	assert.Equal(t, 23, on.Days)
	assert.True(t, on.Scented)
	assert.Contains(t, on.Groups, rack.Young)
	l.Holds = []lot.Hold{{Held: true, Why: "spots"}}
	assert.Contains(t, l.OnRack(begun.AddDate(0, 0, 20)).Groups, rack.OnHold)
	assert.NotContains(t, l.OnRack(begun.AddDate(0, 0, 20)).Groups, rack.Young)
	l.Balance[ledger.Of(ledger.First)] = 0
	_, ok = l.PlaceNow()
	assert.False(t, ok, "no bar stands nowhere")
	assert.Equal(t, 46.0, l.TrimmingsLeft())
	l.Children = []lot.Parent{{What: "trimmings", Grams: 30}, {What: "batter", Grams: 500}}
	assert.Equal(t, 16.0, l.TrimmingsLeft())
	l.Children = append(l.Children, lot.Parent{What: "trimmings", Grams: 30})
	assert.Zero(t, l.TrimmingsLeft(), "never below nothing")
	l.Cut = nil
	assert.Zero(t, l.TrimmingsLeft())
}

func TestARescueTurnsALotIntoCookedOrPlainSoap(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	loaf := l.Unmolds()
	assert.False(t, l.Cooked() || l.Plain())
	l.ProcessChanges = []lot.ProcessChange{{Entry: e.next(), Plain: true}, {Entry: e.next(), Cooked: true}}
	assert.True(t, l.Cooked() && l.Plain())
	assert.NotEqual(t, loaf, l.Unmolds(), "cooked soap has a window of its own")
	assert.Equal(t, cure.Cooked(l.Frozen.Policy), l.Policy())
	l.Cared = []lot.Care{{Entry: e.next(), What: "turn"}, {Entry: e.next(), What: "turn"}}
	at, ok := l.LastCare("turn")
	assert.True(t, ok)
	assert.Equal(t, l.Cared[1].Occurred, at)
	_, ok = l.LastCare("oven")
	assert.False(t, ok)
	for _, what := range []string{"texture", "gel", "oven", "turn", "stamp", lot.Diluted} {
		assert.NotEmpty(t, lot.CareWords(what))
	}
}

// The soap in trouble is as it is by then: in the pot, in the mold, or as bars that
// have lost water.
func TestABatchInTroubleIsWhereTheLotIs(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	weighed(l, e)
	b := l.Batch(3000)
	assert.Equal(t, trouble.InPot, b.At)
	assert.Equal(t, 3000.0, b.CookerML)
	assert.InDelta(t, l.PotNow().Whole(), b.SoapG, 1e-9)
	l.Frozen.Request.Vessels.Cooker.ML = 5000
	assert.Equal(t, 5000.0, l.Batch(3000).CookerML, "that of the plan")
	l.Pour = &lot.Pour{Entry: e.next()}
	assert.Equal(t, trouble.InMold, l.Batch(0).At)
	l.Unmolding, l.Cut = &lot.Unmolding{
		Entry: e.next(),
	}, &lot.Cut{
		Entry: e.next(),
		Bars:  map[ledger.Grade]int{ledger.First: 10},
		BarG:  120,
	}
	l.Samples = []lot.SampleWeight{{Entry: e.next(), Grams: 120}, {Entry: e.next(), Grams: 108}}
	b = l.Batch(0)
	assert.Equal(t, trouble.AsBars, b.At)
	assert.InDelta(t, 120, b.LostG, 1e-9, "a tenth of 1200 g")
	assert.InDelta(t, 1080, b.SoapG, 1e-9)
	for _, k := range trouble.Kinds() {
		_, ok := l.Card(lot.Incident{Kind: k}, 0)
		assert.True(t, ok, k)
	}
	l.Incidents = []lot.Incident{
		{
			Entry: e.next(),
			Kind:  trouble.Forgotten,
			Words: []lot.IncidentUpdate{{Entry: e.next(), Way: "add:fat:olive-oil"}, {Entry: e.next(), Way: "dance"}},
		},
	}
	assert.Contains(t, told(l), "Way out: "+trouble.Forgotten.Name()+": Add Olive oil", "by the sheet where the card has it no more")
	assert.Contains(t, told(l), "Way out: "+trouble.Forgotten.Name()+": dance")
}

func TestWhatMayBeTheCauseIsLookedForInWhatWentIn(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	from := lot.Bought{OID: "b", Name: "Olive oil", Supplier: "Quay Oils", Code: "QO-1"}
	l.Weighings = []lot.Weighing{
		{Entry: e.next(), Item: "fat:olive-oil", Actual: 500, From: from},
		{Entry: e.next(), Item: "fat:olive-oil", Actual: 200, From: from},
	}
	likely := func(k trouble.Kind) (out []string) {
		for _, s := range l.Suspects(k) {
			if s.Likely {
				out = append(out, s.Name)
			}
		}
		return out
	}
	assert.Equal(t, []string{"Fig leaf"}, likely(trouble.Seized))
	assert.ElementsMatch(t, []string{"Olive oil", "Coconut oil (24 C melt)"}, likely(trouble.Spots))
	assert.Equal(t, []string{"Sodium hydroxide"}, likely(trouble.Undissolved))
	assert.Equal(t, []string{"the recipe, Plain"}, likely(trouble.Separation))
	bought := 0
	for _, s := range l.Suspects(trouble.Spots) {
		if s.Subject == "bought:b" {
			bought++
			assert.Equal(t, "Olive oil of Quay Oils QO-1", s.Name)
		}
	}
	assert.Equal(t, 1, bought, "a delivery is named once")
	i := lot.Incident{
		Blamed: []lot.Blame{
			{Subject: "a", Name: "A", Blamed: true},
			{Subject: "b", Name: "B", Blamed: true},
			{Subject: "a", Name: "A"},
		},
	}
	assert.Equal(t, map[string]string{"b": "B"}, i.BlamedNow())
	assert.NotEqual(t, lot.RescueKey(1, 2), lot.RescueKey(12, 0))
}

// A weight a minute, and the pour an hour after the last of them.
func TestMakeDayIsTimedByItsStages(t *testing.T) {
	e := &entries{}
	l := oliveAndCoconut(t, e)
	weighed(l, e)
	last := begun.Add(time.Duration(e.n) * time.Minute)
	l.Pour = &lot.Pour{Entry: lot.Entry{ID: 99, Occurred: last.Add(time.Hour)}}
	total := time.Duration(0)
	for _, s := range l.Times() {
		assert.NotEmpty(t, s.Stage)
		total += s.Time
	}
	assert.Equal(t, l.Pour.Occurred.Sub(l.Started.Occurred), total, "no minute is lost or counted twice")
}
