package shop_test

import (
	"database/sql"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/planning"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/rack"
	"ashshelf/soap/schedule"
	"ashshelf/soap/trouble"
	"ashshelf/store"
)

// kettle notes a cooker that holds the batch.
func (b *bench) kettle() string {
	b.t.Helper()
	oid, err := b.KeepTool(ctx, b.act(), "", 0, "Slow cooker", document.ToolBody{Kind: document.Cooker, ML: 6000})
	require.NoError(b.t, err)
	return oid
}

// scented starts a lot with a scent, in a pot with a cooker beside it.
func (b *bench) scented() (oid, recipe string) {
	b.t.Helper()
	f := formula()
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Supplier: "Glasshouse", Density: 0.95}, Percent: 100}},
	}
	recipe, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: f}, "", "")
	require.NoError(b.t, err)
	o := planning.DefaultOrder(catalog.Settings{Shop: store.Shop{FillRule: string(plan.Computed), ScaleStep: 1}})
	o.Recipe, o.By, o.FatsG, o.Cooker = recipe, planning.ByFats, 1000, b.kettle()
	p, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(b.t, err)
	oid, err = b.StartLot(ctx, b.act(), p, 1, "")
	require.NoError(b.t, err)
	return oid, recipe
}

const fig = "additive:Fig (Glasshouse)"

func TestASeizedBatchIsCookedAndComesOutAsPlainBars(t *testing.T) {
	b := open(t)
	oid, recipe := b.scented()
	b.weighed(oid)
	problem(t, b.FileTrouble(ctx, b.act(), oid, shop.Report{Kind: "bored"}), "kind")
	problem(t, b.FileTrouble(ctx, b.act(), oid, shop.Report{Kind: trouble.Other}), "text")
	problem(t, b.FileTrouble(ctx, b.act(), oid, shop.Report{Kind: trouble.Seized, Way: "pray"}), "way")
	problem(t, b.FileTrouble(ctx, b.act(), oid, shop.Report{Kind: trouble.TooMuchLye, Way: "fat"}), "way")
	assert.Empty(t, b.lot(oid).Incidents, "what was refused left nothing behind")
	require.NoError(
		t,
		b.FileTrouble(
			ctx,
			b.act(),
			oid,
			shop.Report{Kind: trouble.Seized, Text: "a lump within a minute", Way: "cook", Blame: []string{fig, "fat:moon-oil"}},
		),
	)
	l := b.lot(oid)
	require.Len(t, l.Incidents, 1)
	i := l.Incidents[0]
	assert.True(t, l.Cooked() && l.Plain())
	assert.Equal(t, "four", l.Policy().Code, "cooked soap only dries")
	assert.Equal(t, 6*time.Hour, l.Unmolds().Opens, "and comes out the same evening")
	assert.Empty(t, l.Held(), "nothing is missing in it")
	assert.Equal(t, map[string]string{fig: "Fig (Glasshouse)"}, i.BlamedNow())
	require.NoError(t, b.TickRescue(ctx, b.act(), oid, i.ID, 0))
	require.NoError(t, b.TickRescue(ctx, b.act(), oid, i.ID, 0))
	var not *lot.NotNow
	assert.ErrorAs(t, b.TickRescue(ctx, b.act(), oid, i.ID, 40), &not)
	assert.ErrorAs(t, b.RecordOutcome(ctx, b.act(), oid, 999, "well"), &not)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "thick"}))
	b.now = b.now.Add(10 * time.Hour)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	assert.Contains(
		t,
		problem(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}}, ""), "first"),
		"seconds",
	)
	require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.Second: 9}}, ""))
	problem(t, b.RecordOutcome(ctx, b.act(), oid, i.ID, " "), "outcome")
	require.NoError(t, b.RecordOutcome(ctx, b.act(), oid, i.ID, "nine plain bars, good lather"))

	stories, err := b.Stories(ctx, []string{"recipe:" + recipe, fig, "fat:olive-oil"})
	require.NoError(t, err)
	require.Len(t, stories, 1)
	assert.Equal(t, "cook", stories[0].Way)
	assert.Equal(t, "nine plain bars, good lather", stories[0].Outcome)
	assert.Equal(t, "Fig (Glasshouse)", stories[0].Cause)

	require.NoError(t, b.SetBlame(ctx, b.act(), oid, i.ID, []string{"fat:olive-oil"}))
	stories, err = b.Stories(ctx, []string{fig})
	require.NoError(t, err)
	assert.Empty(t, stories, "the blame was changed")
	stories, err = b.Stories(ctx, []string{"fat:olive-oil"})
	require.NoError(t, err)
	assert.Len(t, stories, 1)
	assert.Len(t, b.lot(oid).Incidents[0].Blamed, 3, "what was said before stays on record")
}

func TestWhatIsNotSafeIsHeldAtOnceAndWhatCannotBeRescuedEnds(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	require.NoError(t, b.FileTrouble(ctx, b.act(), oid, shop.Report{Kind: trouble.Undissolved}))
	assert.NotEmpty(t, b.lot(oid).Held())
	require.NoError(t, b.ChooseWay(ctx, b.act(), oid, b.lot(oid).Incidents[0].ID, "lost"))
	assert.Contains(t, strings.Join(b.lot(oid).Held(), " "), "cannot be rescued")
	other := b.started()
	require.NoError(t, b.FileTrouble(ctx, b.act(), other, shop.Report{Kind: trouble.Spill, Way: "lost"}))
	assert.Equal(t, lot.Abandoned, b.lot(other).Stage())
	harmless := b.onTheRack()
	require.NoError(t, b.FileTrouble(ctx, b.act(), harmless, shop.Report{Kind: trouble.Ash}))
	assert.Empty(t, b.lot(harmless).Held(), "looks hold nothing")
}

func TestWhatIsMadeFromALotInheritsItsRestrictions(t *testing.T) {
	b := open(t)
	first := b.started()
	second := b.started()
	third := b.started()
	code := func(oid string) string { return b.lot(oid).Code }
	for path, try := range map[string]error{
		"parent":        b.CarryIn(ctx, b.act(), second, "999-A", "batter", 200),
		"what":          b.CarryIn(ctx, b.act(), second, code(first), "luck", 200),
		"carried_grams": b.CarryIn(ctx, b.act(), second, code(first), "batter", 0),
	} {
		problem(t, try, path)
	}
	assert.Contains(
		t,
		problem(t, b.CarryIn(ctx, b.act(), first, code(second), "batter", 200), "parent"),
		"not older",
		"nothing is made from its child",
	)
	require.NoError(t, b.CarryIn(ctx, b.act(), second, code(first), "batter", 200))
	require.NoError(t, b.CarryIn(ctx, b.act(), third, code(second), "rescued", 90))
	require.NoError(t, b.SetHold(ctx, b.on(first), first, true, "white spots"))
	assert.Contains(t, b.lot(second).Held()[0], "white spots")
	assert.Contains(t, b.lot(third).Held()[0], "lot "+code(first), "also over two steps")
	assert.Equal(t, code(second), b.lot(first).Children[0].Code)
	var not *lot.NotNow
	assert.ErrorAs(t, b.SetHold(ctx, b.on(third), third, false, "looks fine"), &not, "an inherited hold is lifted where it comes from")
	require.NoError(t, b.SetHold(ctx, b.on(first), first, false, "only ash"))
	assert.Empty(t, b.lot(third).Held())
	problem(t, b.SetMark(ctx, b.act(), first, "holy", true, "x"), "mark")
	problem(t, b.SetMark(ctx, b.act(), first, lot.Recalled, true, ""), "mark_why")
	require.NoError(t, b.SetMark(ctx, b.act(), first, lot.NotForSale, true, "made for one family"))
	require.NoError(t, b.SetMark(ctx, b.act(), first, lot.Recalled, true, "wrong label"))
	assert.Contains(t, b.lot(third).KeptFromSale(), "one family")
	assert.Contains(t, b.lot(third).Held()[0], "called back")
	require.NoError(t, b.SetMark(ctx, b.act(), first, lot.Recalled, false, "labels changed"))
	assert.Empty(t, b.lot(third).Held())
	assert.NotEmpty(t, b.lot(first).KeptFromSale())
}

func TestALotThatIsNotForSaleIsGivenAndNotSold(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	require.NoError(t, b.SetMark(ctx, b.act(), oid, lot.NotForSale, true, "their own milk"))
	problem(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Of(ledger.First), ledger.Sold, 1, ""), "reason")
	require.NoError(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Of(ledger.First), ledger.Gift, 1, "the family"))
}

// The seal of a release shows any later change of what was on record, be it made
// past the program; what is added later does not break it.
func TestTheSealOfAReleaseShowsAnAlteredRecord(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	sealed, err := b.Verify(ctx, b.lot(oid))
	require.NoError(t, err)
	assert.Empty(t, sealed.Digest, "not released yet")
	require.NoError(t, b.KeepReference(ctx, b.act(), oid, 1, "drawer 3"))
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	require.NoError(t, b.AddNext(ctx, b.act(), oid, "a little less water"))
	require.NoError(t, b.AddNote(ctx, b.on(oid), oid, false, "sold well"))
	sealed, err = b.Verify(ctx, b.lot(oid))
	require.NoError(t, err)
	assert.True(t, sealed.Same)
	assert.Len(t, sealed.Digest, 64)
	require.NoError(t, b.Close())

	db, err := sql.Open("sqlite", "file:"+filepath.Join(b.dir, store.File))
	require.NoError(t, err)
	_, err = db.Exec(`UPDATE weighing SET actual = actual + 1000 WHERE item = 'alkali:naoh'`)
	require.Error(t, err, "the database refuses it")
	_, err = db.Exec(`DROP TRIGGER weighing_keep_u; UPDATE weighing SET actual = actual + 1000 WHERE item = 'alkali:naoh'`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	b.Shop, err = shop.Open(ctx, b.dir, func() time.Time { return b.now })
	require.NoError(t, err)
	sealed, err = b.Verify(ctx, b.lot(oid))
	require.NoError(t, err)
	assert.False(t, sealed.Same, "but whoever goes past it is found out")
}

func TestACutCountsHalvesEndsAndTrimmingsThatGoIntoAnotherLot(t *testing.T) {
	b := open(t)
	oid := b.started()
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	cut := lot.Cut{
		Bars:       map[ledger.Grade]int{ledger.First: 8, ledger.Tester: 2},
		BarG:       110,
		Ends:       2,
		EndsG:      60,
		TrimmingsG: 45,
		Finish:     "bevel, Jon",
	}.Halved(4, ledger.First)
	spoilt := cut
	spoilt.Halves = 1 // of the usual, which nobody could tell from whole ones in the stock
	problem(t, b.RecordCut(ctx, b.on(oid), oid, spoilt, ""), "halves")
	spoilt = cut
	spoilt.Ends = -1
	problem(t, b.RecordCut(ctx, b.on(oid), oid, spoilt, ""), "ends")
	spoilt = cut
	spoilt.EndsG = 4000
	problem(t, b.RecordCut(ctx, b.on(oid), oid, spoilt, ""), "bar")
	require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, cut, ""))
	l := b.lot(oid)
	assert.Equal(t, 14, l.Cut.Count())
	assert.InDelta(t, 110*10+4*55+60+45, l.Cut.Weight(), 1e-9, "four halves weigh as two bars")
	assert.Equal(t, 4, l.Balance[ledger.Kind{Size: lot.HalfBar, Grade: ledger.First}], "and are counted as what they are")
	assert.InDelta(t, 880, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 10}, BarG: 110, Halves: 4}.BarsG(), 1e-9,
		"in old records they are among the whole ones")
	assert.Equal(t, "bevel, Jon", l.Cut.Finish)

	next := b.started()
	assert.Contains(t, problem(t, b.CarryIn(ctx, b.act(), next, l.Code, "trimmings", 60), "carried_grams"), "only 45 g")
	require.NoError(t, b.CarryIn(ctx, b.act(), next, l.Code, "trimmings", 30))
	assert.InDelta(t, 15, b.lot(oid).TrimmingsLeft(), 1e-6)
	list, err := b.Trimmings(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.NoError(t, b.CarryIn(ctx, b.act(), next, l.Code, "trimmings", 15))
	list, err = b.Trimmings(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, []lot.Pile{{Shape: lot.EndPieces, Pieces: 2, Grams: 60}}, list[0].Piles(), "worked in to the last gram")
}

// Bars and end pieces become scraps, scraps become petals and balls, and all of it goes into another
// lot: nothing is taken twice, and what is left is known of each.
func TestBarsAreDicedAndScrapsAreShapedAndGoIntoAnotherLot(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	b.now = b.now.Add(24 * time.Hour)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 10}, BarG: 110, Ends: 2, EndsG: 60,
		TrimmingsG: 40}, ""))
	first := ledger.Of(ledger.First)
	reshape := func(r lot.Reshaped) error { return b.Reshape(ctx, b.on(oid), oid, r) }
	for field, r := range map[string]lot.Reshaped{
		"pieces":      {Source: lot.WholeBars, Kind: first, Pieces: 11, Shape: lot.Scraps, Grams: 500},
		"shape_grams": {Source: lot.WholeBars, Kind: first, Pieces: 2, Shape: lot.Scraps, Grams: 300},
		"source":      {Source: lot.WholeBars, Kind: ledger.Of(ledger.Second), Pieces: 1, Shape: lot.Scraps, Grams: 50},
		"shape":       {Source: lot.Scraps, Shape: lot.Scraps, Grams: 10},
		"made":        {Source: lot.Scraps, Shape: lot.Petals, Grams: 10},
	} {
		problem(t, reshape(r), field)
	}
	tooMuch := lot.Reshaped{Source: lot.Scraps, Shape: lot.Petals, Made: 9, Grams: 90}
	assert.Contains(t, problem(t, reshape(tooMuch), "shape_grams"), "only 40 g")
	require.NoError(t, reshape(lot.Reshaped{Source: lot.WholeBars, Kind: first, Pieces: 2, Shape: lot.Scraps, Grams: 218}))
	assert.Equal(t, 8, b.lot(oid).Balance[first], "before its release as well as after")
	require.NoError(t, reshape(lot.Reshaped{Source: lot.EndPieces, Pieces: 1, Shape: lot.Scraps, Grams: 30}))
	assert.InDelta(t, 288, b.lot(oid).TrimmingsLeft(), 1e-6)
	require.NoError(t, reshape(lot.Reshaped{Source: lot.Scraps, Shape: lot.Petals, Made: 40, Grams: 100, Note: "thin"}))
	assert.Equal(t, []lot.Pile{
		{Shape: lot.EndPieces, Pieces: 1, Grams: 30},
		{Shape: lot.Scraps, Grams: 188},
		{Shape: lot.Petals, Pieces: 40, Grams: 100},
	}, b.lot(oid).Piles())

	code, next := b.lot(oid).Code, b.started()
	assert.Contains(t, problem(t, b.CarryIn(ctx, b.act(), next, code, "petals", 120), "carried_grams"), "only 100 g of the petals")
	require.NoError(t, b.CarryIn(ctx, b.act(), next, code, "petals", 50))
	assert.Equal(t, lot.Pile{Shape: lot.Petals, Pieces: 20, Grams: 50}, b.lot(oid).Pile(lot.Petals))
	assert.InDelta(t, 188, b.lot(oid).TrimmingsLeft(), 1e-6, "which are no other scraps")
	require.NoError(t, b.CarryIn(ctx, b.act(), next, code, "trimmings", 188))
	assert.InDelta(t, 0, b.lot(oid).TrimmingsLeft(), 1e-6)
	story := b.lot(oid).Story()
	told := ""
	for _, e := range story {
		told += e.Title + ": " + e.Text + "; "
	}
	assert.Contains(t, told, "Cut up: 2 first grade into scraps, 218 g")
	assert.Contains(t, told, "Cut up: scraps into 40 petals, 100 g")
}

func TestNoBarIsWashedWithBeforeItsSafetyCheck(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	wash := lot.Wash{Volume: 3, Creaminess: 2, Slime: 1, Scent: 4, Against: "lot 1"}
	var not *lot.NotNow
	assert.ErrorAs(t, b.Wash(ctx, b.act(), oid, wash), &not)
	b.now = b.now.Add(7 * 24 * time.Hour)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	spoilt := wash
	spoilt.Slime = 5
	problem(t, b.Wash(ctx, b.act(), oid, spoilt), "slime")
	require.NoError(t, b.Wash(ctx, b.act(), oid, wash))
	require.Len(t, b.lot(oid).Washes, 1)
	require.NoError(t, b.LookAfter(ctx, b.act(), "turn", "", oid))
	require.NoError(t, b.LookAfter(ctx, b.act(), "turn", "again", oid), "a second press")
	assert.Len(t, b.lot(oid).Cared, 1)
	problem(t, b.LookAfter(ctx, b.act(), "sing", "", oid), "care")
}

func TestALotIsPutWhereItFitsAndARackNeverLosesOne(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	_, err := b.KeepRack(ctx, b.act(), "", 0, " ", rack.Rack{Levels: 3, WidthMM: 500, Deep: 2})
	problem(t, err, "name")
	window, err := b.KeepRack(ctx, b.act(), "", 0, "By the window", rack.Rack{Levels: 3, WidthMM: 500, Deep: 2})
	require.NoError(t, err)
	problem(t, b.PlaceLot(ctx, b.act(), oid, window, 7), "place")
	problem(t, b.PlaceLot(ctx, b.act(), oid, "nowhere", 0), "place")
	require.NoError(t, b.PlaceLot(ctx, b.act(), oid, shop.BestPlace, 0))
	at, ok := b.lot(oid).PlaceNow()
	require.True(t, ok)
	assert.Equal(t, rack.Spot{Rack: window, Level: 1}, at, "at hand")
	require.NoError(t, b.PlaceLot(ctx, b.act(), oid, window, 1))
	assert.Len(t, b.lot(oid).Places, 1, "where it is already")
	_, err = b.KeepRack(ctx, b.act(), window, 1, "By the window", rack.Rack{Levels: 1, WidthMM: 500, Deep: 2})
	assert.Contains(t, problem(t, err, "levels"), "would have no place")
	_, err = b.KeepRack(ctx, b.act(), window, 1, "By the window", rack.Rack{Levels: 4, WidthMM: 500, Deep: 2})
	require.NoError(t, err)
	for range 20 {
		other := b.onTheRack()
		if err := b.PlaceLot(ctx, b.act(), other, shop.BestPlace, 0); err != nil {
			assert.Contains(t, problem(t, err, "place"), "no level has room")
			room, _, err := b.Room(ctx)
			require.NoError(t, err)
			for spot := range room.Standing {
				assert.GreaterOrEqual(t, room.Left(spot, ""), 0.0, "nothing stands over the edge")
			}
			require.NoError(t, b.PlaceLot(ctx, b.act(), oid, shop.NoPlace, 0))
			problem(t, b.PlaceLot(ctx, b.act(), oid, "", 0), "place")
			require.NoError(t, b.PlaceLot(ctx, b.act(), other, shop.BestPlace, 0), "a free place is taken")
			return
		}
	}
	require.Fail(t, "the rack never fills")
}

func TestAllLotsWithoutAPlaceAreGivenTheirBestAtOnce(t *testing.T) {
	b := open(t)
	one, two, three := b.onTheRack(), b.onTheRack(), b.onTheRack()
	problem(t, b.PlaceAll(ctx, b.act()), "place") // there is no rack
	narrow, err := b.KeepRack(ctx, b.act(), "", 0, "Narrow", rack.Rack{Levels: 2, WidthMM: 200, Deep: 2})
	require.NoError(t, err)
	require.NoError(t, b.PlaceLot(ctx, b.act(), two, narrow, 0))
	require.NoError(t, b.PlaceAll(ctx, b.act()))
	at := func(oid string) (rack.Spot, bool) { return b.lot(oid).PlaceNow() }
	spot, ok := at(one)
	require.True(t, ok, "the oldest first")
	assert.Equal(t, rack.Spot{Rack: narrow, Level: 1}, spot)
	spot, _ = at(two)
	assert.Equal(t, 0, spot.Level, "who has a place keeps it")
	_, ok = at(three)
	assert.False(t, ok, "what fits nowhere stays without")
	room, _, err := b.Room(ctx)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, room.Left(spot, ""), 0.0)
	problem(t, b.PlaceAll(ctx, b.act()), "place")
}

func TestTheRulesOfTheRoomAreKeptAndWhatBreaksThemIsTold(t *testing.T) {
	b := open(t)
	window, err := b.KeepRack(ctx, b.act(), "", 0, "By the window", rack.Rack{Levels: 2, WidthMM: 900, Deep: 2})
	require.NoError(t, err)
	one, two := b.onTheRack(), b.onTheRack()
	room := func() rack.Room { r, _, err := b.Room(ctx); require.NoError(t, err); return r }
	assert.Equal(t, rack.Usual(), room().Apart)
	rule := rack.Apart{A: rack.OnHold, B: rack.Young, Within: rack.OnRack}
	problem(t, b.KeepApart(ctx, b.act(), []rack.Apart{{A: rack.OnHold, B: rack.OnHold, Within: rack.OnRack}}), "apart[0].b")
	require.NoError(t, b.KeepApart(ctx, b.act(), []rack.Apart{rule}))
	require.NoError(t, b.PlaceLot(ctx, b.act(), one, window, 0))
	require.NoError(t, b.PlaceLot(ctx, b.act(), two, window, 1))
	assert.Empty(t, room().Broken())
	require.NoError(t, b.SetHold(ctx, b.on(two), two, true, "spots"))
	broken := room().Broken()
	require.NotEmpty(t, broken)
	assert.Equal(t, b.lot(two).Code, broken[0].One.Code)
	assert.Contains(t, problem(t, b.PlaceLot(ctx, b.act(), two, window, 0), "place"), "do not stand on one rack")
	_, err = b.KeepRack(ctx, b.act(), window, 1, "By the window", rack.Rack{Levels: 3, WidthMM: 900, Deep: 2})
	require.NoError(t, err, "a rack may change although a rule is broken on it")
	require.NoError(t, b.KeepApart(ctx, b.act(), nil))
	assert.Empty(t, room().Apart, "no rule at all is one as well")
}

// What the shop remembers of its lots is what a program that starts now reads.
func TestLotsAreRememberedAsTheyAreRecorded(t *testing.T) {
	b := open(t)
	window, err := b.KeepRack(ctx, b.act(), "", 0, "By the window", rack.Rack{Levels: 4, WidthMM: 900, Deep: 2})
	require.NoError(t, err)
	look := func() []*lot.Lot {
		lots, err := b.Lots(ctx, store.LotsWhere{})
		require.NoError(t, err)
		return lots
	}
	one, two, child := b.onTheRack(), b.onTheRack(), b.started()
	acts := []func() error{
		func() error { return b.LookAfter(ctx, b.act(), "turn", "", one, two) },
		func() error { return b.PlaceLot(ctx, b.act(), one, window, 2) },
		func() error { return b.SetHold(ctx, b.on(two), two, true, "spots") },
		func() error { return b.CarryIn(ctx, b.act(), child, b.lot(one).Code, "batter", 5) },
		func() error { return b.SetMark(ctx, b.act(), one, lot.Recalled, true, "wrong label") },
		func() error { return b.WeighSample(ctx, b.on(one), one, 101, 0, "") },
		func() error {
			return b.RecordCheck(ctx, b.on(one), one, lot.SafetyCheck{Method: "zap", Pass: true})
		},
	}
	for i, do := range acts {
		look()
		b.now = b.now.Add(2 * time.Hour)
		require.NoError(t, do(), "act %d", i)
		before := look()
		require.NoError(t, b.Close())
		b.Shop, err = shop.Open(ctx, b.dir, func() time.Time { return b.now })
		require.NoError(t, err)
		assert.Equal(t, look(), before, "act %d", i)
	}
}

func TestTheSecondRackComesBeforeTheTenth(t *testing.T) {
	b := open(t)
	for _, name := range []string{"Rack 10", "Rack 2", "Attic"} {
		_, err := b.KeepRack(ctx, b.act(), "", 0, name, rack.Rack{Levels: 2, WidthMM: 900, Deep: 2})
		require.NoError(t, err)
	}
	racks, err := b.Racks(ctx)
	require.NoError(t, err)
	assert.Equal(t, []string{"Attic", "Rack 2", "Rack 10"}, []string{racks[0].Name, racks[1].Name, racks[2].Name})
}

func TestALotThatDriesUnlikeItsSiblingsIsCalledOutUntilItsWeightsAreSetRight(t *testing.T) {
	b := open(t)
	weekly := func(oid string, weights ...float64) {
		for i, g := range weights {
			b.now = b.now.AddDate(0, 0, 7*min(i, 1))
			require.NoError(t, b.WeighSample(ctx, b.on(oid), oid, g, 0, ""))
		}
	}
	first := b.onTheRack()
	weekly(first, 118, 110, 106, 104.5, 104.3)
	recipe := b.lot(first).Recipe
	var oid string
	for range 4 {
		oid = b.startedOf(recipe)
		b.made(oid)
		weekly(oid, 118, 110, 106, 104.5, 104.3)
		assert.False(t, b.lot(oid).Odd)
	}
	oid = b.startedOf(recipe)
	b.made(oid)
	weekly(oid, 118, 104, 95, 90)
	called := func() bool {
		shelf, err := b.Shelf(ctx, time.UTC)
		require.NoError(t, err)
		return slices.ContainsFunc(shelf.Tasks, func(t schedule.Task) bool { return t.Kind == schedule.Odd && t.Lot.OID == oid })
	}
	assert.True(t, called(), "a quarter of its weight is gone in three weeks")

	// It was another bar: all three are set right, and stay at their weeks.
	b.now = b.now.AddDate(0, 0, 3)
	was := b.lot(oid).Facts(b.now).Samples
	for i, g := range []float64{110, 106, 104.5} {
		require.NoError(t, b.WeighSample(ctx, b.on(oid), oid, g, b.lot(oid).Samples[i+1].ID, "another bar"))
	}
	assert.False(t, called())
	now := b.lot(oid).Facts(b.now).Samples
	require.Len(t, now, 4)
	for i := range now {
		assert.True(t, now[i].At.Equal(was[i].At), "weighing %d", i)
	}
	assert.Equal(t, []float64{118, 110, 106, 104.5}, []float64{now[0].Grams, now[1].Grams, now[2].Grams, now[3].Grams})
}

// What a supplier and the shop know of a scent belongs to the scent: a recipe and a
// plan follow it, a lot keeps what it was made under.
func TestWhatIsKnownOfAScentIsLookedUpAndFrozenOnlyInALot(t *testing.T) {
	b := open(t)
	scent := document.ScentBody{
		Scent: additive.Scent{
			Name:     "Fig",
			Supplier: "Glasshouse",
			Density:  0.95,
			Max:      5,
			MaxOf:    additive.OfSoap,
			Observed: additive.Behaves,
		},
	}
	noted, err := b.KeepScent(ctx, b.act(), "", 0, scent)
	require.NoError(t, err)
	f := formula()
	f.Scent = &additive.Perfume{
		Rate:  3,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Supplier: "Glasshouse", Density: 0.95}, Percent: 100}},
	}
	rec, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: f}, "", "")
	require.NoError(t, err)
	o := planning.DefaultOrder(catalog.Settings{Shop: store.Shop{FillRule: string(plan.Computed), ScaleStep: 1}})
	o.Recipe, o.By, o.FatsG = rec, planning.ByFats, 1000
	early, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	lotOID, err := b.StartLot(ctx, b.act(), early, 1, "")
	require.NoError(t, err)
	late, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	codes := func() map[string]caution.Level {
		p, err := b.Plan(ctx, late)
		require.NoError(t, err)
		out := map[string]caution.Level{}
		for _, c := range p.PlanBody.Plan.Cautions {
			out[c.Code] = c.Level
		}
		return out
	}
	assert.NotContains(t, codes(), "scent.maximum")

	scent.Scent.Max, scent.Scent.Observed = 1.2, additive.Seizes
	_, err = b.KeepScent(ctx, b.act(), noted, 1, scent)
	require.NoError(t, err)
	history, err := b.RecipeHistory(ctx, rec)
	require.NoError(t, err)
	assert.Equal(t, additive.Seizes, history[0].Formula.Scent.Parts[0].Behaviour(), "the recipe knows what the shop saw")
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.Equal(t, 1.2, w.Request.Formula.Scent.Parts[0].Max)
	assert.Equal(t, caution.Block, codes()["scent.maximum"], "a plan that was kept before knows it too")
	assert.Contains(
		t,
		problem(t, func() error { _, err := b.StartLot(ctx, b.act(), late, 1, ""); return err }(), "override"),
		"supplier's maximum",
	)
	assert.Equal(t, additive.Behaves, b.lot(lotOID).Frozen.Formula.Scent.Parts[0].Behaviour(), "a lot keeps what it was made under")
}
