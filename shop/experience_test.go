package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/document"
	"ashshelf/shop/planning"
	"ashshelf/soap/learn"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

// madeSlowly makes a lot with so long for each weighing, and so long to trace.
func (b *bench) madeSlowly(oid string, each time.Duration, trace float64) {
	b.t.Helper()
	l, err := b.Lot(ctx, oid)
	require.NoError(b.t, err)
	for _, step := range run.Steps(l.Order()) {
		if step.Kind == run.Pour {
			break
		}
		b.now = b.now.Add(each)
		switch l := b.lot(oid); {
		case l.Done()[step.Key] || step.Kind == run.Weigh && l.State().Closed[step.Item.Key]:
		case step.Kind == run.Weigh:
			require.NoError(b.t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: step.Item.Key, Grams: step.Item.Target}), step.Title)
		default:
			k := done(step)
			if step.Kind == run.Trace {
				k.Minutes = trace
			}
			require.NoError(b.t, b.Tick(ctx, b.on(oid), oid, k), step.Title)
		}
	}
	require.NoError(b.t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	b.fromMold(oid)
}

// What lots took is what the next one is foretold from, with how many there were; a lot that was left alone for an hour
// says nothing of the part that it was left in.
func TestTheShopLearnsFromItsOwnLots(t *testing.T) {
	b := open(t)
	r, first := b.startedWith(formula())
	about := planning.About{Recipe: r, Formula: formula()}
	e, err := b.Experience(ctx, []string{r})
	require.NoError(t, err)
	f := e.Minutes(about, run.TraceWork, 8)
	assert.Equal(t, learn.Foretell(learn.Minutes, 1, nil).Of(8), f, "a pot that is being made says nothing yet")

	b.madeSlowly(first, 4*time.Minute, 24)
	for range 3 {
		oid := b.startedOf(r)
		b.madeSlowly(oid, 4*time.Minute, 24)
	}
	table := 0.0
	for _, s := range b.lot(first).Order().Work("", 20, 1, nil).Steps {
		if s.Name == run.TraceWork {
			table = float64(s.Minutes)
		}
	}
	e, err = b.Experience(ctx, []string{r})
	require.NoError(t, err)
	f = e.Minutes(about, run.TraceWork, table)
	assert.Equal(t, 4, f.Own)
	assert.InDelta(t, 24, f.Mid, 5)
	assert.True(t, f.Telling())
	assert.Contains(t, f.Words(), "from 4 lots; the table says")
	other := e.Minutes(planning.About{Recipe: "another recipe"}, run.TraceWork, table)
	assert.Equal(t, []int{0, 4}, []int{other.Own, other.Others})
	assert.Less(t, other.Mid, f.Mid)

	took := learn.Took(b.lot(first))
	assert.InDelta(t, 24, took[run.TraceWork], 1e-9)
	weighed := 0
	for _, i := range b.lot(first).Sheet() {
		if i.Place == plan.ToMelt || i.Place == plan.Fluid {
			weighed += len(i.Items)
		}
	}
	assert.Greater(t, took[run.FatsWork], 4*float64(weighed)-1, "four minutes each")

	slow := b.startedOf(r)
	b.madeSlowly(slow, 40*time.Minute, 24)
	assert.NotContains(t, learn.Took(b.lot(slow)), run.FatsWork, "that was a pause, not work")
	assert.Contains(t, learn.Took(b.lot(slow)), run.TraceWork, "and what was written down of the trace stands")
}

// Loaves that came out soft when they should be firm move the window of the next lot, which says why; one or two do not.
func TestSoftLoavesMoveTheWindowOfTheNextLot(t *testing.T) {
	b := open(t)
	r, _ := b.startedWith(formula())
	oid := b.startedOf(r)
	table := b.lot(oid).Frozen.Unmold
	for n := range 4 {
		assert.Equal(t, table.Opens, b.lot(oid).Frozen.Unmold.Opens, "after %d lots", n)
		b.weighed(oid)
		require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
		b.now = b.now.Add(table.Best + 4*time.Hour)
		require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, true, ""))
		b.now = b.now.Add(20 * time.Hour)
		require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Scrap: 1}, BarG: 118}, ""))
		if oid = b.startedOf(r); n >= 2 {
			break
		}
	}
	moved := b.lot(oid).Frozen.Unmold
	assert.Greater(t, moved.Opens, table.Opens)
	assert.Equal(t, table.Closes, moved.Closes)
	assert.Contains(t, moved.Why, "later by your own lots: firm after")
	assert.Contains(t, moved.Why, "from 3 lots; the table says")
	assert.Equal(t, table, b.lot(oid).TableWindow(), "and is learned from beside the table, not beside itself")

	said, err := b.OwnLots(ctx, planning.About{Recipe: r, Formula: formula()}, nil, 1)
	require.NoError(t, err)
	figures := map[string]learn.Figure{}
	for _, f := range said.Figures {
		figures[f.What] = f.Figure
		assert.Equal(t, 3, f.Own, f.What)
	}
	good := figures["Good bars of those planned"]
	assert.InDelta(t, 0.9, good.Mid, 0.03, "one of ten was scrap")
	assert.Contains(t, figures, "Of the pot at the cut")
	assert.NotContains(t, figures, "Dries away in a year", "no bar was weighed while it dried")
}

// Loaves that are firm when one usually looks bring no window forward, however many: nobody saw when they were. Those that were
// looked at early do.
func TestOnlyLoavesThatWereSeenFirmEarlyBringAWindowForward(t *testing.T) {
	for name, c := range map[string]struct {
		after time.Duration
		moves bool
	}{"when one usually looks": {24 * time.Hour, false}, "early": {9 * time.Hour, true}} {
		b := open(t)
		r, _ := b.startedWith(formula())
		oid := b.startedOf(r)
		table := b.lot(oid).Frozen.Unmold
		for range 9 {
			b.weighed(oid)
			require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
			b.now = b.now.Add(c.after)
			require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, "it was firm"))
			oid = b.startedOf(r)
		}
		assert.Equal(t, c.moves, b.lot(oid).Frozen.Unmold.Opens < table.Opens, name)
	}
}

// A mold that two pots of a plan fill between them is one mold.
func TestAMoldThatTwoPotsFillIsOne(t *testing.T) {
	b := open(t)
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(t, err)
	m, err := b.KeepMold(ctx, b.act(), "", 0, "Loaf",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Material: "lined", Bars: 10, Owned: 5})
	require.NoError(t, err)
	settings, err := b.Settings(ctx)
	require.NoError(t, err)
	o := planning.DefaultOrder(settings)
	o.Recipe, o.Molds, o.Day, o.PotCapacity = r, []planning.OrderMold{{OID: m, Count: 5}}, "2026-03-05", 3700
	oid, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	p, err := b.Plan(ctx, oid)
	require.NoError(t, err)
	require.Equal(t, 2, p.PlanBody.Plan.Batches)
	require.Equal(t, 3, p.MoldsOf(0)[0].Count)
	require.Equal(t, 3, p.MoldsOf(1)[0].Count, "the third of five is poured from both")
	bench, _, err := b.Bench(ctx, o.Day)
	require.NoError(t, err)
	h, err := b.Hours(ctx, o.Day, bench)
	require.NoError(t, err)
	assert.Empty(t, h.Refused, "five are enough")
}

// Gels that were seen say how warm loaves stay in this shop.
func TestSeenGelsSayHowWarmLoavesStay(t *testing.T) {
	b := open(t)
	r, _ := b.startedWith(formula())
	oid := b.startedOf(r)
	for range 3 {
		b.poured(oid)
		require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
		oid = b.startedOf(r)
	}
	shop, own, err := b.Gels(ctx, r)
	require.NoError(t, err)
	assert.Len(t, own, 3)
	assert.Equal(t, 3, shop.Looks)
	assert.Equal(t, "yours stay warmer than the model has it", shop.Words(), "open loaves that gelled through")
	other, none, err := b.Gels(ctx, "another")
	require.NoError(t, err)
	assert.Empty(t, none)
	assert.Equal(t, 3, other.Looks, "they are loaves of the shop for any recipe")
}

// The next thing to do follows what is ticked, whoever looks; trouble in one pot comes before all else.
func TestTheNextThingFollowsTheRecords(t *testing.T) {
	b := open(t)
	one := b.started()
	next := func() string {
		t.Helper()
		c, err := b.Conduct(ctx)
		require.NoError(t, err)
		require.NotEmpty(t, c.Next())
		return c.Next()[0].Name
	}
	assert.Equal(t, run.ReadyWork, next())
	for _, step := range run.Steps(b.lot(one).Order()) {
		if step.Stage == run.Ready {
			require.NoError(t, b.Tick(ctx, b.on(one), one, done(step)), step.Title)
		}
	}
	assert.NotEqual(t, run.ReadyWork, next(), "what is ticked is done")
	two := b.started()
	c, err := b.Conduct(ctx)
	require.NoError(t, err)
	assert.Len(t, c.Lots, 2)
	assert.Empty(t, c.Plan.Late)
	require.NoError(t, b.FileTrouble(ctx, b.on(two), two, shop.Report{Kind: trouble.Seized, Text: "like concrete"}))
	assert.Equal(t, run.TroubleWork, next(), "hands go where something went wrong")

	// Late in the evening the bench goes on.
	b.now = time.Date(2026, 3, 2, 23, 30, 0, 0, time.UTC)
	c, err = b.Conduct(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, c.Plan.Late, "what does not fit before midnight is said")
}

// The bench of a day is as it was kept for that day, else as usual, else as the equipment says; and can be as usual again.
func TestABenchIsKeptForADayOrAsUsual(t *testing.T) {
	b := open(t)
	bench, kept, err := b.Bench(ctx, "2026-03-05")
	require.NoError(t, err)
	assert.False(t, kept)
	assert.Equal(t, []int{9 * 60, 17 * 60}, []int{bench.Start, bench.End})
	assert.Equal(t, []int{1, 1, 2}, []int{bench.Count(run.Hands), bench.Count(run.JugAway), bench.Count(run.OvenPlace)})

	usual := bench.With(run.Hands, 2).With(run.OvenPlace, 4)
	usual.Start = 8 * 60
	require.NoError(t, b.KeepBench(ctx, b.act(), "", usual))
	for _, name := range []string{"One", "Two", "Three"} {
		_, err := b.KeepTool(ctx, b.act(), "", 0, name, document.ToolBody{Kind: document.Jug, ML: 2000})
		require.NoError(t, err)
	}
	bench, kept, err = b.Bench(ctx, "2026-03-05")
	require.NoError(t, err)
	assert.False(t, kept, "that is what is usual")
	assert.Equal(t, []int{8 * 60, 2, 4}, []int{bench.Start, bench.Count(run.Hands), bench.Count(run.OvenPlace)})
	assert.Equal(t, 1, bench.Count(run.JugAway), "one was kept when none was written down")
	require.NoError(t, b.KeepBench(ctx, b.act(), "", bench.With(run.JugAway, 3)))
	bench, _, err = b.Bench(ctx, "2026-03-05")
	require.NoError(t, err)
	assert.Equal(t, 3, bench.Count(run.JugAway))

	day := bench.With(run.Hands, 3)
	day.Moved = []run.Moved{{Batch: "Quern base", Step: run.LyeWork, At: 600}}
	require.NoError(t, b.KeepBench(ctx, b.act(), "2026-03-05", day))
	bench, kept, err = b.Bench(ctx, "2026-03-05")
	require.NoError(t, err)
	assert.True(t, kept)
	assert.Equal(t, day.Moved, bench.Moved)
	assert.Equal(t, 3, bench.Count(run.Hands))
	other, kept, err := b.Bench(ctx, "2026-03-06")
	require.NoError(t, err)
	assert.False(t, kept)
	assert.Empty(t, other.Moved, "another day is as usual")
	require.NoError(t, b.ForgetBench(ctx, b.act(), "2026-03-05"))
	bench, kept, err = b.Bench(ctx, "2026-03-05")
	require.NoError(t, err)
	assert.False(t, kept)
	assert.Equal(t, 2, bench.Count(run.Hands))

	day.End = day.Start
	problem(t, b.KeepBench(ctx, b.act(), "2026-03-05", day), "end")
	problem(t, b.KeepBench(ctx, b.act(), "someday", bench), "day")
}

// A mold is full until what is in it may come out, and for the rest of the day once something is poured into it.
func TestADayFillsNoMoldThatIsFull(t *testing.T) {
	b := open(t)
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(t, err)
	shape := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}
	owned := func(n int) document.MoldBody {
		return document.MoldBody{Mold: shape, Material: "lined", Bars: 10, Owned: n}
	}
	m, err := b.KeepMold(ctx, b.act(), "", 0, "Loaf", owned(3))
	require.NoError(t, err)
	planned := func(day string) string {
		t.Helper()
		settings, err := b.Settings(ctx)
		require.NoError(t, err)
		o := planning.DefaultOrder(settings)
		o.Recipe, o.Molds, o.Day = r, []planning.OrderMold{{OID: m, Count: 1}}, day
		p, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
		return p
	}
	started := func() string {
		t.Helper()
		oid, err := b.StartLot(ctx, b.act(), planned(""), 1, "")
		require.NoError(t, err)
		return oid
	}
	laid := func(day string) planning.Hours {
		t.Helper()
		bench, _, err := b.Bench(ctx, day)
		require.NoError(t, err)
		bench.Start, bench.End = 8*60, 20*60
		h, err := b.Hours(ctx, day, bench)
		require.NoError(t, err)
		return h
	}
	b.now = time.Date(2026, 3, 3, 22, 0, 0, 0, time.UTC)
	b.poured(started()) // its window opens at ten o'clock on the next day
	require.Equal(t, time.Date(2026, 3, 4, 22, 0, 0, 0, time.UTC), b.now)
	b.now = time.Date(2026, 3, 3, 23, 0, 0, 0, time.UTC)
	for range 3 {
		planned("2026-03-04")
	}
	h := laid("2026-03-04")
	require.Empty(t, h.Late(), "%v", h.Late())
	var pours []int
	for _, s := range h.Plan.Steps {
		if s.Name == run.PourWork {
			pours = append(pours, s.From)
		}
	}
	require.Len(t, pours, 3)
	assert.GreaterOrEqual(t, pours[2], 10*60, "the third waits for the loaf to come out")
	require.Len(t, h.Pours, 1)
	for _, why := range h.Pours {
		assert.Contains(t, why, "waits for “Loaf”, which can be emptied from 10:0")
	}
	b.now = time.Date(2026, 3, 4, 11, 0, 0, 0, time.UTC)
	h = laid("2026-03-04")
	require.Len(t, h.Pours, 1)
	for _, why := range h.Pours {
		assert.Contains(t, why, "which can be emptied", "its window is open, and it is still full")
	}
	b.now = time.Date(2026, 3, 3, 23, 0, 0, 0, time.UTC)
	planned("2026-03-04")
	late := laid("2026-03-04").Late()
	require.Len(t, late, 1, "there are three, and each is poured once a day")
	assert.Contains(t, late[0].Why, "it needs 1 of “Loaf”, and of 3 only 0 can be free in time")
	assert.Contains(t, late[0].Why, "a pot of this day")

	_, err = b.KeepMold(ctx, b.act(), m, 1, "Loaf", owned(0))
	require.NoError(t, err)
	h = laid("2026-03-04")
	assert.Empty(t, h.Late())
	assert.Equal(t, []string{"Loaf"}, h.Untold, "where nobody said how many there are, none is full")
}

// Two loaves go into one warm oven; a third has no place in it.
func TestTheOvenTakesAsManyLoavesAsItHasPlaces(t *testing.T) {
	b := open(t)
	f := formula()
	f.Process.Cover = "oven"
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: f}, "", "")
	require.NoError(t, err)
	m, err := b.KeepMold(ctx, b.act(), "", 0, "Loaf",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Material: "lined", Bars: 10, Owned: 9})
	require.NoError(t, err)
	settings, err := b.Settings(ctx)
	require.NoError(t, err)
	o := planning.DefaultOrder(settings)
	o.Recipe, o.Molds, o.Day = r, []planning.OrderMold{{OID: m, Count: 1}}, "2026-03-05"
	for range 3 {
		_, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
	}
	bench, _, err := b.Bench(ctx, o.Day)
	require.NoError(t, err)
	h, err := b.Hours(ctx, o.Day, bench.With(run.JugAway, 3).With(run.PotAway, 3))
	require.NoError(t, err)
	require.Len(t, h.Refused, 1)
	assert.Contains(t, h.Refused[0].Why, "it needs 1 of “place in the oven”, and of 2 only 0")
	warmed := map[string]string{}
	for _, s := range h.Plan.Steps {
		if s.Name == run.WarmWork {
			warmed[s.Batch] = h.WarmFrom(s)
		}
	}
	assert.Equal(t, map[string]string{"Plain bar": "", "Plain bar, pot 2": "Plain bar"}, warmed, "it is warmed once for both")
}
