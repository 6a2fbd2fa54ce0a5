package shop_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/shop"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/ledger"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/role"
	"ashshelf/soap/run"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// bench is a shop on a real file with a clock that the test moves.
type bench struct {
	*shop.Shop
	t      *testing.T
	dir    string
	now    time.Time
	person int64
	keys   int
}

var ctx = context.Background()

// empty is the file of a shop with nothing in it: to make its tables takes longer than many a test.
var empty = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "ashshelf-empty-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	s, err := shop.Open(ctx, dir, time.Now)
	if err != nil {
		return nil, err
	}
	if err := s.Close(); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, store.File))
})

func open(t *testing.T) *bench {
	t.Helper()
	b := &bench{t: t, dir: t.TempDir(), now: time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)}
	file, err := empty()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(b.dir, store.File), file, 0o600))
	s, err := shop.Open(ctx, b.dir, func() time.Time { return b.now })
	require.NoError(t, err)
	b.Shop = s
	t.Cleanup(func() { assert.NoError(t, b.Close()) })
	b.person, err = b.Found(
		ctx,
		journal.Act{Device: "tablet", DeviceLabel: "tablet"},
		store.Shop{Name: "Test bench", Zone: "Europe/Dublin", Units: "metric", Currency: "EUR", ScaleStep: 1},
		[]string{"Ida", "Jon"},
	)
	require.NoError(t, err)
	return b
}

// act is a fresh act by the first person.
func (b *bench) act() journal.Act {
	b.keys++
	return journal.Act{Person: b.person, Device: "tablet", DeviceLabel: "tablet", Key: fmt.Sprint("key ", b.keys)}
}

// on is an act on a lot whose newest state was seen.
func (b *bench) on(oid string) journal.Act {
	b.t.Helper()
	l, err := b.Lot(ctx, oid)
	require.NoError(b.t, err)
	a := b.act()
	a.Seen = l.LastEntry
	return a
}

func formula() recipe.Formula {
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	return recipe.Formula{
		Name:     "Plain bar",
		Fats:     fat.Blend{{Fat: olive, Percent: 70}, {Fat: coconut, Percent: 30}},
		Alkali:   lye.DefaultAlkali(),
		Superfat: 5,
		Water: recipe.Water{
			Basis: recipe.LyeStrength,
			Value: 33,
		},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
}

func (b *bench) started() (oid string) {
	b.t.Helper()
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(b.t, err)
	return b.startedOf(r)
}

// startedOf starts a lot of a recipe in a mold of its own.
func (b *bench) startedOf(r string) (oid string) {
	b.t.Helper()
	m, err := b.KeepMold(
		ctx,
		b.act(),
		"",
		0,
		"Loaf",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Material: "lined", Bars: 10},
	)
	require.NoError(b.t, err)
	settings, err := b.Settings(ctx)
	require.NoError(b.t, err)
	o := planning.DefaultOrder(settings)
	o.Recipe, o.Molds = r, []planning.OrderMold{{OID: m, Count: 1}}
	p, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(b.t, err)
	oid, err = b.StartLot(ctx, b.act(), p, 1, "")
	require.NoError(b.t, err)
	return oid
}

// weighed goes through the run of a lot up to the pour, every weight on its mark.
func (b *bench) weighed(oid string) {
	b.t.Helper()
	b.through(oid, func(i plan.Item) float64 { return i.Target })
}

// through goes through the run of a lot up to the pour with weights of one's own.
func (b *bench) through(oid string, grams func(plan.Item) float64) {
	b.t.Helper()
	b.throughBy(oid, func(oid string, i plan.Item) error {
		return b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: i.Key, Grams: grams(i)})
	})
}

// throughBy goes through the run of a lot up to the pour, and weighs as weigh does.
func (b *bench) throughBy(oid string, weigh func(oid string, i plan.Item) error) {
	b.t.Helper()
	l, err := b.Lot(ctx, oid)
	require.NoError(b.t, err)
	for _, step := range run.Steps(l.Order()) {
		if step.Kind == run.Pour {
			return
		}
		l, err := b.Lot(ctx, oid)
		require.NoError(b.t, err)
		switch {
		case l.Done()[step.Key] || step.Kind == run.Weigh && l.State().Closed[step.Item.Key]:
		case step.Kind == run.Weigh:
			require.NoError(b.t, weigh(oid, step.Item), step.Title)
		default:
			require.NoError(b.t, b.Tick(ctx, b.on(oid), oid, done(step)), step.Title)
		}
	}
}

// done is a step done as it should be.
func done(step run.Step) shop.Ticked {
	c := func(v float64) *float64 { return &v }
	k := shop.Ticked{Step: step.Key}
	switch step.Kind {
	case run.LyeIn:
		k.LiquidC = c(20)
	case run.Check:
		k.CheckG, k.ReadsG = 500, 499.5
	case run.Warm:
		k.LyeC, k.FatsC = c(38), c(40)
	case run.Trace:
		k.Trace, k.Minutes = "light", 6
	case run.Milk:
		k.Onto = "fats"
	case run.Eye:
		k.Grams = 4
	case run.Meet:
		k.Note = "as it is" // whatever the weights have come to
	}
	return k
}

func (b *bench) onTheRack() (oid string) {
	b.t.Helper()
	oid = b.started()
	b.made(oid)
	return oid
}

// inMold starts a lot and pours it a day ago.
func (b *bench) inMold() (oid string) {
	b.t.Helper()
	oid = b.started()
	b.poured(oid)
	return oid
}

func (b *bench) poured(oid string) {
	b.t.Helper()
	b.weighed(oid)
	require.NoError(b.t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
}

// made takes a lot from its start to the rack.
func (b *bench) made(oid string) {
	b.t.Helper()
	b.poured(oid)
	b.fromMold(oid)
}

// fromMold takes a lot that was poured a day ago out of its mold and to the rack.
func (b *bench) fromMold(oid string) {
	b.t.Helper()
	require.NoError(b.t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	require.NoError(
		b.t,
		b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Second: 1}, BarG: 118}, ""),
	)
}

func (b *bench) cured(oid string) {
	b.t.Helper()
	for i, g := range []float64{118, 108.5, 105.2, 104, 103.6} {
		b.now = b.now.AddDate(0, 0, 7*min(i, 1))
		require.NoError(b.t, b.WeighSample(ctx, b.on(oid), oid, g, 0, ""))
	}
	require.NoError(b.t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
}

func problem(t *testing.T, err error, path string) string {
	t.Helper()
	var p caution.Problems
	require.True(t, errors.As(err, &p), "%v", err)
	require.NotEmpty(t, p.At(path), "%v", p)
	return p.At(path)
}

func TestALotGoesFromTheBookToTheStall(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	problem(t, b.ReleaseLot(ctx, b.on(oid), oid, ""), "early")
	assert.Error(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Of(ledger.First), ledger.Sold, 1, ""), "nothing leaves before the release")
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	require.NoError(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Of(ledger.First), ledger.Sold, 4, "market"))
	problem(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Of(ledger.First), ledger.Sold, 6, ""), "count")
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(
		t,
		map[ledger.Kind]int{ledger.Of(ledger.First): 5, ledger.Of(ledger.Second): 1, ledger.Of(ledger.Tester): 0},
		l.Balance,
	)
	assert.Equal(t, lot.Ready, l.Stage())
	for _, e := range l.Story() {
		assert.Equal(t, "Ida", e.Who)
		assert.Equal(t, "tablet", e.Device)
	}
}

func TestTheOldestBarsOfARecipeGoFirst(t *testing.T) {
	b := open(t)
	old := b.onTheRack()
	l := b.lot(old)
	settings, err := b.Settings(ctx)
	require.NoError(t, err)
	order := planning.DefaultOrder(settings)
	order.Recipe, order.Molds = l.Recipe, []planning.OrderMold{{OID: l.Frozen.Molds[0].OID, Count: 1}}
	plan, err := b.KeepPlan(ctx, b.act(), order)
	require.NoError(t, err)
	young, err := b.StartLot(ctx, b.act(), plan, 1, "")
	require.NoError(t, err)
	b.made(young)
	older := func() *lot.Lot {
		have, err := b.OlderReady(ctx, b.lot(young))
		require.NoError(t, err)
		return have
	}
	assert.Nil(t, older(), "what is not released is not offered")
	b.cured(old)
	require.NoError(t, b.ReleaseLot(ctx, b.on(old), old, ""))
	require.NotNil(t, older())
	assert.Equal(t, old, older().OID)
	have, err := b.OlderReady(ctx, b.lot(old))
	require.NoError(t, err)
	assert.Nil(t, have, "nothing is older than itself")
	require.NoError(t, b.SetHold(ctx, b.on(old), old, true, "a spot"))
	assert.Nil(t, older(), "held bars are not offered")
	require.NoError(t, b.SetHold(ctx, b.on(old), old, false, "only a pressed mark"))
	require.NoError(t, b.MoveBars(ctx, b.on(old), old, ledger.Of(ledger.First), ledger.Sold, 9, ""))
	require.NoError(t, b.MoveBars(ctx, b.on(old), old, ledger.Of(ledger.Second), ledger.Sold, 1, ""))
	assert.Nil(t, older(), "what is gone is not offered")
}

func TestADoubleClickRecordsOnce(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	a := b.on(oid)
	a.Fingerprint = "four bars"
	require.NoError(t, b.MoveBars(ctx, a, oid, ledger.Of(ledger.First), ledger.Sold, 4, ""))
	require.NoError(t, b.MoveBars(ctx, a, oid, ledger.Of(ledger.First), ledger.Sold, 4, ""), "the second click is told the same")
	a.Fingerprint = "six bars"
	assert.ErrorIs(
		t,
		b.MoveBars(ctx, a, oid, ledger.Of(ledger.First), ledger.Sold, 6, ""),
		journal.ErrKeyReused,
		"the back button with another number is not",
	)
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, 5, l.Balance[ledger.Of(ledger.First)])
}

func TestTwoTabsNeverMergeSilently(t *testing.T) {
	b := open(t)
	oid := b.started()
	first, second := b.on(oid), b.on(oid)
	require.NoError(t, b.Weigh(ctx, first, oid, shop.Weighed{Item: "liquid:water", Grams: 270, Sure: true}))
	var conflict *journal.Conflict
	require.ErrorAs(t, b.Weigh(ctx, second, oid, shop.Weighed{Item: "liquid:water", Grams: 280, Sure: true}), &conflict)
	assert.Equal(t, "Ida", conflict.Who)

	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(t, err)
	_, err = b.KeepRecipe(ctx, b.act(), r, 1, document.RecipeBody{Formula: formula()}, "one tab", "")
	require.NoError(t, err)
	_, err = b.KeepRecipe(ctx, b.act(), r, 1, document.RecipeBody{Formula: formula()}, "the other", "")
	require.ErrorAs(t, err, &conflict)
	history, err := b.RecipeHistory(ctx, r)
	require.NoError(t, err)
	assert.Len(t, history, 2, "the old revision stays, and the stale one is not kept")
}

func TestTwoPeopleSellingAtOnceNeverOversell(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	a := b.on(oid)
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			mine := a
			mine.Key = fmt.Sprint("stall ", i)
			_ = b.MoveBars(
				ctx,
				mine,
				oid,
				ledger.Of(ledger.First),
				ledger.Sold,
				3,
				"",
			) // all but one are told that the lot has moved on
		}()
	}
	wg.Wait()
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, 6, l.Balance[ledger.Of(ledger.First)])
}

func TestSlipsOfTheScaleAreAskedAboutOnce(t *testing.T) {
	b := open(t)
	oid := b.started()
	weigh := func(w shop.Weighed) error { return b.Weigh(ctx, b.on(oid), oid, w) }
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	oil := l.Frozen.Sheet[2].Items[0]
	require.EqualValues(t, "fat:olive-oil", oil.Key)
	assert.Contains(t, problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target / 28.35}), "grams"), "ounces")
	assert.Contains(t, problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target * 3}), "grams"), "far from")
	problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: 0}), "grams")
	require.NoError(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target * 3, Sure: true}))
	assert.Contains(t, problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target}), "grams"), "already")
	var not *lot.NotNow
	assert.ErrorAs(t, weigh(shop.Weighed{Item: "fat:moon-oil", Grams: 1}), &not)

	l, err = b.Lot(ctx, oid)
	require.NoError(t, err)
	wrong := l.Weighings[0].ID
	problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target, Corrects: wrong}), "reason")
	require.NoError(t, weigh(shop.Weighed{Item: oil.Key, Grams: oil.Target, Corrects: wrong, Reason: "read the wrong line"}))
	problem(t, weigh(shop.Weighed{Item: oil.Key, Grams: 5, Sure: true, Corrects: wrong, Reason: "again"}), "grams")
	l, err = b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, oil.Target, l.Actual()[oil.Key])
	assert.Len(t, l.Weighings, 2, "both stay on record")
}

func TestAPourWithSomethingUnweighedSaysWhy(t *testing.T) {
	b := open(t)
	oid := b.started()
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: "liquid:water", Grams: 270, Sure: true}))
	assert.Contains(t, problem(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}), "skipped"), "Olive oil")
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light", Skipped: "the scale died"}))
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Empty(t, l.Held(), "nothing alkaline was weighed")
}

func TestALyeHeavyPourIsHeldAndAFailedCheckToo(t *testing.T) {
	b := open(t)
	oid := b.started()
	b.through(oid, func(i plan.Item) float64 {
		if i.Key == "alkali:naoh" {
			return i.Target * 1.04
		}
		return i.Target
	})
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "thick"}))
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	require.Len(t, l.Held(), 1)
	assert.Contains(t, l.Held()[0], "superfat")

	burning := b.started()
	b.through(burning, func(i plan.Item) float64 {
		if i.Key == "alkali:naoh" {
			return i.Target * 1.06
		}
		return i.Target
	})
	assert.Contains(t, problem(t, b.RecordPour(ctx, b.on(burning), burning, lot.Pour{Trace: "thick", Skipped: "we are late"}), "pour"),
		"more lye in it than its fats can take", "whatever the reason")
	require.NoError(t, b.AddExtra(ctx, b.on(burning), burning, shop.Added{Name: "Olive oil", Grams: 200}))
	require.NoError(t, b.RecordPour(ctx, b.on(burning), burning, lot.Pour{Trace: "thick"}), "put right, it is poured")

	oid = b.onTheRack()
	b.cured(oid)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap"}))
	assert.Error(t, b.ReleaseLot(ctx, b.on(oid), oid, "the fair is tomorrow"), "never over a failed check")
	require.NoError(t, b.SetHold(ctx, b.on(oid), oid, false, "tested three more bars"))
	assert.Error(t, b.ReleaseLot(ctx, b.on(oid), oid, "the fair is tomorrow"), "lifting the hold does not mend the check")
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
}

func TestAnEarlyReleaseNeedsAReason(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.now = b.now.Add(48 * time.Hour) // three days after the pour, it gelled through
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	assert.Contains(t, problem(t, b.ReleaseLot(ctx, b.on(oid), oid, " "), "early"), "before its time")
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, "for our own basin"))
}

func TestALotKeepsWhatItWasMadeFrom(t *testing.T) {
	b := open(t)
	oid := b.started()
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	changed := formula()
	changed.Superfat, changed.Name = 12, "Plain bar, fatter"
	_, err = b.KeepRecipe(ctx, b.act(), l.Recipe, 1, document.RecipeBody{Formula: changed}, "", "")
	require.NoError(t, err)
	again, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, 5.0, again.Frozen.Formula.Superfat)
	assert.Equal(t, "Plain bar", again.Frozen.Recipe)
}

func TestOnlyPeopleOfTheShopRecord(t *testing.T) {
	b := open(t)
	oid := b.started()
	a := b.on(oid)
	a.Person = 0
	assert.ErrorIs(t, b.AddNote(ctx, a, oid, false, "hello"), journal.ErrNobody)
	require.NoError(t, b.SetActive(ctx, b.act(), 2, false))
	a.Person = 2
	assert.ErrorIs(t, b.AddNote(ctx, a, oid, false, "hello"), journal.ErrNobody, "who has left records nothing")
	problem(t, b.SetActive(ctx, b.act(), 1, false), "person")
}

func TestWhatIsTypedIsKeptAndAnotherWindowIsNoticed(t *testing.T) {
	b := open(t)
	fresh := journal.OfNew(store.Recipes, strings.Repeat("a", 26))
	form := map[string][]string{"superfat_percent": {"a hundred and forty"}}
	other, err := b.SaveDraft(ctx, b.act(), fresh, "tab one", 3, form)
	require.NoError(t, err)
	assert.False(t, other)
	other, err = b.SaveDraft(ctx, b.act(), fresh, "tab two", 3, form)
	require.NoError(t, err)
	assert.True(t, other)
	c, err := b.Draft(ctx, fresh)
	require.NoError(t, err)
	assert.Equal(t, form, c.Form)
	assert.Equal(t, 3, c.Base)
}

func TestTheDatabaseItselfKeepsTheRecords(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	raw, err := sql.Open("sqlite", "file:"+filepath.Join(b.dir, store.File))
	require.NoError(t, err)
	defer raw.Close()
	for _, table := range []string{"entry", "weighing", "pour", "unmolding", "cut", "recipe_revision", "mold_revision", "plan",
		"lot", "shop", "request_key"} {
		var n int
		require.NoError(t, raw.QueryRow("SELECT count(*) FROM "+table).Scan(&n))
		require.Positive(t, n, table)
		_, err := raw.Exec("DELETE FROM " + table)
		assert.ErrorContains(t, err, "only added to", table)
		var column string
		require.NoError(t, raw.QueryRow("SELECT name FROM pragma_table_info('"+table+"') ORDER BY cid LIMIT 1").Scan(&column))
		_, err = raw.Exec("UPDATE " + table + " SET " + column + " = " + column)
		assert.ErrorContains(t, err, "only added to", table)
	}
	_, err = raw.Exec("UPDATE bar_balance SET bars = -1")
	assert.ErrorContains(t, err, "CHECK")
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, lot.Curing, l.Stage())
}

// Whatever is tried, the balance is the cut plus the moves, and never negative.
func TestTheBarsBalance(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	guest := lot.Size{Name: "guest bar", BarG: 40, Bars: map[ledger.Grade]int{ledger.First: 5, ledger.Tester: 1, ledger.Scrap: 1}}
	require.NoError(
		t,
		b.RecordCut(
			ctx,
			b.on(oid),
			oid,
			lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 6, ledger.Second: 1}, BarG: 118, Sizes: []lot.Size{guest}},
			"",
		),
	)
	assert.Equal(t, 13, b.lot(oid).InStock())
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	kinds := b.lot(oid).Cut.Kinds()
	require.Len(t, kinds, 6)
	rapid.Check(t, func(rt *rapid.T) {
		k := rapid.SampledFrom(kinds).Draw(rt, "kind")
		r := rapid.SampledFrom(ledger.Reasons()).Draw(rt, "reason")
		_ = b.MoveBars(ctx, b.on(oid), oid, k, r, rapid.IntRange(-1, 8).Draw(rt, "count"), "") // refusals are part of it
		l, err := b.Lot(ctx, oid)
		require.NoError(rt, err)
		for _, k := range kinds {
			sum := l.Cut.Of(k)
			for _, m := range l.Moves {
				if m.Kind == k {
					sum += m.Change
				}
			}
			require.Equal(rt, sum, l.Balance[k])
			require.GreaterOrEqual(rt, sum, 0)
		}
	})
}

func TestBarsOfAnotherSizeAreCountedByThemselves(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	usual := map[ledger.Grade]int{ledger.First: 6}
	guest := func(name string, g float64, n int) lot.Size {
		return lot.Size{Name: name, BarG: g, Bars: map[ledger.Grade]int{ledger.First: n}}
	}
	for path, sizes := range map[string][]lot.Size{
		"size[0].name": {guest(" ", 40, 2)}, "size[1].name": {guest("guest bar", 40, 2),
			guest("guest bar ", 30, 2)}, "size[0].first": {guest("guest bar", 40, 0)}, "size[0].bar": {guest("guest bar", -1, 1)},
		"bar": {guest("guest bar", 400, 12)}, // more than went into the mold
	} {
		problem(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: usual, BarG: 118, Sizes: sizes}, ""), path)
	}
	require.NoError(
		t,
		b.RecordCut(
			ctx,
			b.on(oid),
			oid,
			lot.Cut{Bars: usual, BarG: 118, Sizes: []lot.Size{guest("guest bar", 40, 8)}, TrimmingsG: 30, Finish: "bevel"},
			"",
		),
	)
	l := b.lot(oid)
	assert.InDelta(t, 118*6+40*8+30, l.Cut.Weight(), 1e-9)
	assert.Equal(t, 14, l.Cut.Count())
	unweighed := *l.Cut
	unweighed.BarG = 0
	assert.Zero(t, unweighed.BarsG(), "what was not weighed is not made up from another size")
	story := l.Story()
	assert.Equal(
		t,
		"first grade 6, seconds 0, testers 0, scrap 0 of 118 g; guest bar of 40 g: first grade 8, seconds 0, testers 0, scrap 0; "+
			"trimmings of 30 g; left to finish: bevel",
		story[len(story)-1].Text,
	)
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	kind := ledger.Kind{Size: "guest bar", Grade: ledger.First}
	require.NoError(t, b.MoveBars(ctx, b.on(oid), oid, kind, ledger.Sold, 7, ""))
	assert.Contains(t, problem(t, b.MoveBars(ctx, b.on(oid), oid, kind, ledger.Sold, 2, ""), "count"), "only 1 first grade, guest bar")
	assert.Contains(
		t,
		problem(t, b.MoveBars(ctx, b.on(oid), oid, ledger.Kind{Size: "slab", Grade: ledger.First}, ledger.Sold, 1, ""), "count"),
		"no first grade, slab",
	)
	assert.Equal(t, 7, b.lot(oid).InStock())
	sealed, err := b.Verify(ctx, b.lot(oid))
	require.NoError(t, err)
	assert.True(t, sealed.Same, "the seal covers the sizes")
}

func TestTheSameFolderIsNotOpenedTwiceNorANewerOneAtAll(t *testing.T) {
	b := open(t)
	_, err := shop.Open(ctx, b.dir, time.Now)
	require.ErrorIs(t, err, store.ErrLocked)

	dir := t.TempDir()
	s, err := shop.Open(ctx, dir, time.Now)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	raw, err := sql.Open("sqlite", "file:"+filepath.Join(dir, store.File))
	require.NoError(t, err)
	_, err = raw.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	require.NoError(t, raw.Close())
	_, err = shop.Open(ctx, dir, time.Now)
	assert.ErrorIs(t, err, store.ErrNewer)
}

func TestAShopIsFoundedOnceAndSoundly(t *testing.T) {
	dir := t.TempDir()
	s, err := shop.Open(ctx, dir, time.Now)
	require.NoError(t, err)
	defer s.Close()
	_, err = s.Settings(ctx)
	require.ErrorIs(t, err, journal.ErrNotFounded)
	good := store.Shop{Name: "Bench", Zone: "Europe/Dublin", Units: "us", Currency: "USD", ScaleStep: 0.1}
	for path, spoil := range map[string]func(*store.Shop){
		"name": func(v *store.Shop) { v.Name = " " }, "zone": func(v *store.Shop) { v.Zone = "Moon/Crater" },
		"units":    func(v *store.Shop) { v.Units = "stones" },
		"currency": func(v *store.Shop) { v.Currency = "eur" }, "scale_step": func(v *store.Shop) { v.ScaleStep = 0 },
	} {
		bad := good
		spoil(&bad)
		_, err := s.Found(ctx, journal.Act{Device: "d"}, bad, []string{"Ida"})
		problem(t, err, path)
	}
	_, err = s.Found(ctx, journal.Act{Device: "d"}, good, []string{" "})
	problem(t, err, "people")
	_, err = s.Found(ctx, journal.Act{Device: "d"}, good, []string{"Ida", "Eve", "IDA "})
	assert.Contains(t, problem(t, err, "people"), "tell two of them apart")
	ida, err := s.Found(ctx, journal.Act{Device: "d"}, good, []string{"Ida"})
	require.NoError(t, err)
	by := func(key string) journal.Act { return journal.Act{Person: ida, Key: key, Device: "d"} }
	problem(t, s.AddPerson(ctx, by("twice"), " ida ", role.Maker), "person")
	problem(t, s.AddPerson(ctx, by("long"), strings.Repeat("å", 81), role.Maker), "person")
	require.NoError(t, s.AddPerson(ctx, by("fits"), strings.Repeat("å", 80), role.Maker))
	var conflict *journal.Conflict
	_, err = s.Found(ctx, journal.Act{Device: "d"}, good, []string{"Eve"})
	assert.ErrorAs(t, err, &conflict)
}

// planned is a bench with a recipe, a loaf and equipment.
func planned(t *testing.T) (b *bench, o planning.Order, loaf string) {
	t.Helper()
	b = open(t)
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: formula()}, "", "")
	require.NoError(t, err)
	loaf, err = b.KeepMold(
		ctx,
		b.act(),
		"",
		0,
		"Loaf",
		document.MoldBody{
			Mold:     mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65},
			Material: "lined",
			Cut:      mold.Cut{Thickness: 25},
		},
	)
	require.NoError(t, err)
	settings, err := b.Settings(ctx)
	require.NoError(t, err)
	o = planning.DefaultOrder(settings)
	o.Recipe, o.Molds = r, []planning.OrderMold{{OID: loaf, Count: 1}}
	return b, o, loaf
}

func TestAMoldIsPlannedWithWhatItsPoursTaught(t *testing.T) {
	b, o, loaf := planned(t)
	first, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	for range 2 {
		kept, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
		oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
		require.NoError(t, err)
		b.weighed(oid)
		problem(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light", Off: map[string]float64{loaf: 300}}), "off."+loaf)
		require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light", Off: map[string]float64{loaf: 1.3}}))
	}
	then, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InEpsilon(t, first.Plan.BatterG*65/66.3, then.Plan.BatterG, 2e-3, "1.3 mm too full twice: a fiftieth less")
	assert.InDelta(t, 65/66.3, then.Molds[0].Mold.Correction, 1e-9, "and the lot freezes it")
	history, err := b.MoldHistory(ctx, loaf)
	require.NoError(t, err)
	require.Len(t, history[0].Pours, 2)
	assert.Equal(t, "Ida", history[0].Pours[0].Who)
	require.NoError(t, b.ForgetMold(ctx, b.act(), loaf))
	again, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, first.Plan.BatterG, again.Plan.BatterG, 1e-9)
	_, err = b.KeepMold(
		ctx,
		b.act(),
		loaf,
		1,
		"Loaf",
		document.MoldBody{Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65, Correction: 0.5}, Material: "lined"},
	)
	require.NoError(t, err)
	history, err = b.MoldHistory(ctx, loaf)
	require.NoError(t, err)
	assert.Zero(t, history[0].Mold.Correction, "what it learned is never typed")
}

func TestTheLabelDecidesTheCut(t *testing.T) {
	b, o, loaf := planned(t)
	wires, err := b.KeepTool(ctx, b.act(), "", 0, "Five wires", document.ToolBody{Kind: document.Cutter, Wires: 5, Spacing: 25})
	require.NoError(t, err)
	wide, err := b.KeepTool(ctx, b.act(), "", 0, "Wide wires", document.ToolBody{Kind: document.Cutter, Wires: 3, Spacing: 32})
	require.NoError(t, err)
	o.Label = mold.Label{Grams: 110, Loss: 12, Margin: 2}
	o.Molds[0].Cut = planning.CutWish{Label: true}
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 25, w.Cuts[0].Thickness, 0.51, "110 × 1.02 ÷ 0.88 = 127.5 g of raw soap")
	assert.GreaterOrEqual(t, w.Cuts[0].Stays, 2.0)
	o.Molds[0].Cut = planning.CutWish{Cutter: wires}
	o.Label.Grams = 130
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.Less(t, w.Cuts[0].Stays, 0.0)
	text := ""
	for _, c := range w.Plan.Cautions {
		if c.Code == "label.short" {
			text = c.Text()
		}
	}
	assert.Contains(t, text, "use the Wide wires (32 mm)")
	assert.Contains(t, text, "fill to")
	o.Molds[0].Cut = planning.CutWish{Cutter: wide}
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.Positive(t, w.Cuts[0].Stays)
	o.Molds[0].Cut = planning.CutWish{Thickness: 300}
	_, err = b.ComputePlan(ctx, o)
	problem(t, err, "cut."+loaf)
	o.By, o.Bars, o.Molds = planning.ByBars, 60, nil
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InEpsilon(t, 60*w.Label.Raw(), w.Plan.BatterG*(1-o.PotLoss/100), 2e-3, "sixty raw bars and what stays in the pot")
}

// Whatever an order is counted by goes into molds: 400 g of water, used up in two loaves, come to one
// fill height for both; what their rims do not allow is said, and the spare takes it.
func TestAnIngredientToUseUpFillsTheMoldsThatAreChosen(t *testing.T) {
	b, o, _ := planned(t)
	o.Molds[0].Count = 2
	o.By, o.UseUp = planning.ByUseUp, plan.Ingredient{Name: "Water (distilled or soft)", Grams: 400}
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 400, w.Plan.LiquidG, 0.01)
	line := w.Molds[0].Mold.Fill
	assert.InEpsilon(t, w.Plan.VolumeML*(1-o.PotLoss/100), 2*w.Molds[0].Mold.Volume(), 1e-6, "both to one line")
	assert.Contains(t, codesOf(w.Plan.Cautions), "fill.height")
	assert.NotContains(t, codesOf(w.Plan.Cautions), "fill.over")
	assert.Positive(t, w.Cuts[0].RawG)
	raw := w.Cuts[0].RawG
	o.UseUp.Grams = 300
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InEpsilon(t, 0.75, w.Molds[0].Mold.Fill/line, 0.01)
	assert.InEpsilon(t, 0.75, w.Cuts[0].RawG/raw, 0.01, "lower bars are lighter ones")
	o.UseUp.Grams = 4000
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.Contains(t, codesOf(w.Plan.Cautions), "fill.over")
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	assert.NotEmpty(t, b.lot(oid).Frozen.Molds, "and the lot knows its molds")
}

func TestWhatIsCountedByIsAskedFor(t *testing.T) {
	b, o, _ := planned(t)
	for path, spoil := range map[string]func(*planning.Order){
		"molds":        func(o *planning.Order) { o.Molds = nil },
		"bars":         func(o *planning.Order) { o.By, o.Label.Grams = planning.ByBars, 100 },
		"label.grams":  func(o *planning.Order) { o.By, o.Bars = planning.ByBars, 10 },
		"use_up.name":  func(o *planning.Order) { o.By, o.UseUp.Grams = planning.ByUseUp, 10 },
		"use_up.grams": func(o *planning.Order) { o.By, o.UseUp.Name = planning.ByUseUp, "Olive oil" },
		"fats_g":       func(o *planning.Order) { o.By, o.FatsG = planning.ByTrial, 0 },
		"batter_g":     func(o *planning.Order) { o.By = planning.ByBatter },
		"day":          func(o *planning.Order) { o.Day = "soon" },
	} {
		bad := o
		bad.Molds = append([]planning.OrderMold{}, o.Molds...)
		spoil(&bad)
		_, err := b.KeepPlan(ctx, b.act(), bad)
		problem(t, err, path)
	}
	o.By, o.UseUp = planning.ByUseUp, plan.Ingredient{Name: "olive OIL", Grams: 700}
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 700, w.Plan.Fats[0].Grams, 1e-9, "by its name or by its key")
	o.By = planning.ByTrial
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, lot.Trial, l.Frozen.Kind)
}

// Each pot is a lot with the molds and the bars that are its own.
func TestEachPotIsALotWithItsOwnMolds(t *testing.T) {
	b, o, loaf := planned(t)
	o.Molds = []planning.OrderMold{{OID: loaf, Count: 4}}
	o.PotCapacity = 2700
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	p, err := b.Plan(ctx, kept)
	require.NoError(t, err)
	require.Equal(t, 2, p.PlanBody.Plan.Batches)
	sum := 0
	for pot := 1; pot <= 2; pot++ {
		oid, err := b.StartLot(ctx, b.act(), kept, pot, "")
		require.NoError(t, err)
		l, err := b.Lot(ctx, oid)
		require.NoError(t, err)
		require.Len(t, l.Frozen.Molds, 1)
		assert.Equal(t, 2, l.Frozen.Molds[0].Count)
		sum += l.Frozen.Expected
	}
	assert.Equal(t, 40, sum)
	_, err = b.StartLot(ctx, b.act(), kept, 3, "")
	var conflict *journal.Conflict
	assert.ErrorAs(t, err, &conflict)
}

func TestADayKeepsTheOrderItWasPutIn(t *testing.T) {
	b, o, _ := planned(t)
	o.Day = "2026-03-09"
	var plans []string
	for range 3 {
		p, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
		plans = append(plans, p)
	}
	order := func() (out []string) {
		d, err := b.Day(ctx, o.Day)
		require.NoError(t, err)
		for _, p := range d.Plans {
			out = append(out, p.OID)
		}
		return out
	}
	assert.Equal(t, plans, order())
	require.NoError(t, b.MovePlan(ctx, b.act(), o.Day, plans[2], true))
	assert.Equal(t, []string{plans[0], plans[2], plans[1]}, order())
	require.NoError(t, b.MovePlan(ctx, b.act(), o.Day, plans[0], true), "the first stays first")
	require.NoError(t, b.SetDay(ctx, b.act(), plans[2], ""))
	assert.Equal(t, []string{plans[0], plans[1]}, order())
	days, counts, err := b.Days(ctx, "2026-03-01")
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-03-09"}, days)
	assert.Equal(t, []int{2}, counts)
	problem(t, b.SetDay(ctx, b.act(), plans[0], "9 March"), "day")
	_, err = b.Day(ctx, "2026-02-31")
	problem(t, err, "day")
}

func TestAPlanThatNobodyWillMakeIsPutAwayAndTakenOutAgain(t *testing.T) {
	b, o, _ := planned(t)
	o.Day = "2026-03-09"
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	open := func() int {
		_, all, err := b.OpenPlans(ctx, 20)
		require.NoError(t, err)
		return all
	}
	require.Equal(t, 1, open())
	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, true))
	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, true), "twice is once")
	p, err := b.Plan(ctx, kept)
	require.NoError(t, err)
	assert.True(t, p.Away)
	assert.Zero(t, open())
	days, _, err := b.Days(ctx, "2026-03-01")
	require.NoError(t, err)
	assert.Empty(t, days, "it is off its day")
	assert.Contains(t, problem(t, b.SetDay(ctx, b.act(), kept, "2026-03-10"), "day"), "take it out again first")
	assert.Contains(t, started(b, kept), "take it out again first")

	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, false))
	assert.Equal(t, 1, open())
	assert.Empty(t, started(b, kept))
	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, true))
	require.NoError(t, b.PutPlanAway(ctx, b.act(), kept, false))
	assert.Zero(t, open(), "a lot was started from it")
}

// started starts the first pot of a plan, and says what hindered it.
func started(b *bench, plan string) string {
	if _, err := b.StartLot(ctx, b.act(), plan, 1, ""); err != nil {
		return err.Error()
	}
	return ""
}

func TestExpectedLossComesFromTheRecipesOwnLots(t *testing.T) {
	b, o, _ := planned(t)
	w, err := b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 12, w.Loss, 1, "the formula lets expect about 12 %")
	assert.Zero(t, w.LossOf)
	assert.Empty(t, w.New, "a loaf is small enough to be the trial itself")
	kept, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(t, err)
	oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
	require.NoError(t, err)
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))
	require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 10}, BarG: 118}, ""))
	b.cured(oid)
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	w, err = b.ComputePlan(ctx, o)
	require.NoError(t, err)
	assert.InDelta(t, 12.2, w.Loss, 0.4, "what the lot lost since the cut, and what the formula lets expect")
	assert.Equal(t, 1, w.LossOf)
	assert.Empty(t, w.New)
	w, err = b.ComputePlan(
		ctx,
		planning.Order{Recipe: o.Recipe, By: planning.ByFats, FatsG: 9000, Rule: o.Rule, Scales: o.Scales, LiquidC: 20},
	)
	require.NoError(t, err)
	assert.NotEmpty(t, w.New, "nine kilos in a pot are new")
}

// What a hand slips on at the rack is asked about and nothing is recorded.
func TestSlipsAtTheRackAreRefusedInWords(t *testing.T) {
	b := open(t)
	oid := b.started()
	var not *lot.NotNow
	assert.ErrorAs(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""), &not, "nothing is poured yet")
	assert.ErrorAs(t, b.WeighSample(ctx, b.on(oid), oid, 118, 0, ""), &not)
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(24 * time.Hour)
	problem(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "wobbly"}, false, ""), "gel")
	assert.ErrorAs(
		t,
		b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}}, ""),
		&not,
		"it is in the mold",
	)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "full"}, false, ""))

	for field, cut := range map[string]lot.Cut{
		"first":  {},
		"second": {Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Second: -1}},
		"bar":    {Bars: map[ledger.Grade]int{ledger.First: 90}, BarG: 118},
	} {
		problem(t, b.RecordCut(ctx, b.on(oid), oid, cut, ""), field)
	}
	problem(t, b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, TrimmingsG: -1}, ""), "bar")
	require.NoError(
		t,
		b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Scrap: 1}, BarG: 118}, ""),
	)

	sample := func(g float64, corrects int64, why string) error {
		return b.WeighSample(ctx, b.on(oid), oid, g, corrects, why)
	}
	problem(t, sample(0, 0, ""), "sample")
	assert.Contains(t, problem(t, sample(4.1, 0, ""), "sample"), "4.1 oz would be 116.2 g", "the first weight is held to the cut")
	assert.Contains(t, problem(t, sample(30, 0, ""), "sample"), "at the cut")
	require.NoError(t, sample(118, 0, ""))
	b.now = b.now.AddDate(0, 0, 7)
	assert.Contains(t, problem(t, sample(4.1, 0, ""), "sample"), "Did you read ounces", "ounces, or another bar")
	assert.Contains(t, problem(t, sample(125, 0, ""), "sample"), "cannot be the same bar", "a bar does not gain")
	require.NoError(t, sample(101, 0, ""))
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	last := l.Samples[len(l.Samples)-1].ID
	problem(t, sample(111, last, " "), "reason")
	require.NoError(t, sample(111, last, "read upside down"))
	assert.Contains(t, problem(t, sample(112, last, "again"), "sample"), "corrected already")
	l, err = b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Len(t, l.Samples, 3, "both weights stay on record")

	sour, fine := 15.0, 9.5
	problem(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "ph", PH: &sour}), "ph")
	problem(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "ph"}), "ph")
	problem(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "smell", PH: &fine}), "method")
	problem(t, b.SetHold(ctx, b.on(oid), oid, true, "\t"), "why")
	assert.ErrorAs(t, b.SetHold(ctx, b.on(oid), oid, false, "all is well"), &not, "nothing holds it")
	assert.ErrorAs(t, b.GiveUp(ctx, b.on(oid), oid, "too late"), &not, "what is on the rack is not given up")
}

// Poured, out, cut, “only soap”, released: all within minutes. Raw soap is never on
// sale, whatever reason is given.
func TestRawSoapIsNotReleasedWhateverIsSaid(t *testing.T) {
	b := open(t)
	oid := b.started()
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	b.now = b.now.Add(time.Minute)
	assert.Contains(
		t,
		problem(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, false, " "), "deviation"),
		"before its window opens",
	)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, false, "the mold leaked"))
	require.NoError(
		t,
		b.RecordCut(ctx, b.on(oid), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, BarG: 118}, ""),
		"one reason serves for both",
	)
	l := b.lot(oid)
	require.Len(t, l.Deviations, 1)
	assert.Equal(t, "the mold leaked", l.Deviations[0].Why)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	assert.Contains(t, problem(t, b.ReleaseLot(ctx, b.on(oid), oid, "test"), "early"), "too early")
	b.now = b.now.Add(7 * 24 * time.Hour)
	assert.Contains(t, problem(t, b.ReleaseLot(ctx, b.on(oid), oid, "test"), "early"), "too early", "an early check does not ripen")
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, "for our own basin"))
	sealed, err := b.Verify(ctx, b.lot(oid))
	require.NoError(t, err)
	assert.True(t, sealed.Same)
	none, err := b.OnEarlyCheck(ctx)
	require.NoError(t, err)
	assert.Empty(t, none)
}

func TestALateCutIsADeviationToo(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, false, ""))
	b.now = b.now.Add(80 * time.Hour)
	bars := lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}, BarG: 118}
	assert.Contains(t, problem(t, b.RecordCut(ctx, b.on(oid), oid, bars, ""), "deviation"), "after its window closed")
	assert.Nil(t, b.lot(oid).Cut, "nothing was recorded")
	require.NoError(t, b.RecordCut(ctx, b.on(oid), oid, bars, "away at the fair"))
	assert.Equal(t, lot.ToCut, b.lot(oid).Deviations[0].Act)
}

func TestAReadingOfThirteenIsNoPass(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.now = b.now.Add(30 * 24 * time.Hour)
	thirteen := 13.0
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "ph", PH: &thirteen, Pass: true}))
	assert.False(t, b.lot(oid).Checks[0].Pass)
	assert.NotEmpty(t, b.lot(oid).Held())
}

// A lot that was released under the rules of an earlier program, on a check of the
// first day, keeps its release and its seal, and is listed for the owner.
func TestALotReleasedOnAnEarlyCheckIsListed(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	b.now = b.now.Add(8 * 24 * time.Hour)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, "for our own basin"))
	raw, err := sql.Open("sqlite", filepath.Join(b.dir, "shop.db"))
	require.NoError(t, err)
	defer raw.Close()
	// As the earlier program left it: only the first check, on the first day.
	_, err = raw.Exec(
		`DROP TRIGGER IF EXISTS safety_check_keep_d; DELETE FROM safety_check WHERE entry_id = (SELECT max(entry_id) FROM safety_check)`,
	)
	require.NoError(t, err)
	require.NoError(t, b.Close())
	b.Shop, err = shop.Open(ctx, b.dir, func() time.Time { return b.now })
	require.NoError(t, err)
	list, err := b.OnEarlyCheck(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, oid, list[0].OID)
	assert.True(t, list[0].Gate(b.now).Ready, "it stays released")
	shelf, err := b.Shop.Shelf(ctx, time.UTC)
	require.NoError(t, err)
	var kinds []schedule.Kind
	for _, task := range shelf.Tasks {
		kinds = append(kinds, task.Kind)
	}
	assert.Contains(t, kinds, schedule.Again)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	list, err = b.OnEarlyCheck(ctx)
	require.NoError(t, err)
	assert.Empty(t, list, "tested again it is as good as any")
}

// Everything that is done for a lot can be written down, whichever program first knew it.
func TestAllThatIsDoneForALotIsWrittenDown(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	for _, what := range []string{"turn", "stamp", lot.Diluted} {
		require.NoError(t, b.LookAfter(ctx, b.on(oid), what, "done", oid), what)
	}
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	_, diluted := l.LastCare(lot.Diluted)
	assert.True(t, diluted)
}

// Soap of potash that was meant to have lye left over is poured as planned, and held until it is
// neutralised.
func TestAPlannedExcessOfPotashIsHeldUntilItIsNeutralised(t *testing.T) {
	b := open(t)
	f := formula()
	f.Alkali.NaOHPercent, f.Superfat = 0, -4
	r, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: f}, "", "")
	require.NoError(t, err)
	oid := b.startedOf(r)
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	l := b.lot(oid)
	require.Len(t, l.Held(), 1)
	assert.Regexp(t, `neutralise it with up to [\d.]+ g of citric acid`, l.Held()[0])
	require.NoError(t, b.SetHold(ctx, b.on(oid), oid, false, "neutralised, pH 9.4"))
	assert.Empty(t, b.lot(oid).Held())
}
