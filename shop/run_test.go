package shop_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"io"
	"os"
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
	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/soap/additive"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/store"
)

func (b *bench) lot(oid string) *lot.Lot {
	b.t.Helper()
	l, err := b.Lot(ctx, oid)
	require.NoError(b.t, err)
	return l
}

func (b *bench) target(oid string, key plan.Key) float64 {
	b.t.Helper()
	i, ok := b.lot(oid).Item(key)
	require.True(b.t, ok, key)
	return i.Target
}

const olive, lyeKey, water = "fat:olive-oil", "alkali:naoh", "liquid:water"

func TestABottleThatRunsOutIsMadeUpFromTheNext(t *testing.T) {
	b := open(t)
	oid := b.started()
	goal := b.target(oid, olive)
	weigh := func(w shop.Weighed) error { return b.Weigh(ctx, b.on(oid), oid, w) }
	first := &lot.Bought{Supplier: "Oil Barn", Code: "OB-7", Received: "2026-02-01", SAP: 188}
	require.NoError(t, weigh(shop.Weighed{Item: olive, Grams: goal * 0.6, New: first}))
	assert.Contains(t, names(b.lot(oid).Unweighed()), "Olive oil", "what is short is still to come")
	lots, err := b.Bought(ctx, olive)
	require.NoError(t, err)
	require.Len(t, lots, 1)
	problem(t, weigh(shop.Weighed{Item: olive, Grams: goal * 0.4, New: &lot.Bought{}}), "supplier")
	problem(t, weigh(shop.Weighed{Item: olive, Grams: goal * 0.4, New: &lot.Bought{Code: "x", Received: "last week"}}), "received")
	problem(t, weigh(shop.Weighed{Item: olive, Grams: goal * 0.4, New: &lot.Bought{Code: "x", SAP: 5}}), "sap")
	require.NoError(t, weigh(shop.Weighed{Item: olive, Grams: goal * 0.4, New: &lot.Bought{Code: "OB-8", SAP: 192}}))
	l := b.lot(oid)
	assert.InDelta(t, goal, l.Actual()[olive], 0.01)
	assert.Equal(t, "Oil Barn OB-7, received 2026-02-01", l.Weighings[0].From.Label())
	assert.NotContains(t, names(l.Unweighed()), "Olive oil")

	require.NoError(t, weigh(shop.Weighed{Item: olive, Grams: 12, Back: true}))
	assert.InDelta(t, goal-12, b.lot(oid).Actual()[olive], 0.01)
	problem(t, weigh(shop.Weighed{Item: olive, Grams: goal, Back: true}), "grams")
	require.NoError(t, weigh(shop.Weighed{Item: olive, Grams: 12, From: lots[0].OID}))
	assert.Equal(t, 188.0, b.lot(oid).Weighings[3].From.SAP)
	assert.NotEqual(t, b.lot(oid).JudgePot().Planned, b.lot(oid).JudgePot().Superfat, "the lots that were picked decide")
}

func names(items []plan.Item) (out []string) {
	for _, i := range items {
		out = append(out, i.Name)
	}
	return out
}

func TestAnOverPourRescalesWhatIsNotYetWeighed(t *testing.T) {
	b := open(t)
	oid := b.started()
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: run.GearKey}))
	waterWas, lyeWas := b.target(oid, water), b.target(oid, lyeKey)
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: waterWas}))
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: lyeKey, Grams: lyeWas * 1.1}))
	heavy := b.lot(oid).JudgePot()
	require.NotNil(t, heavy.Off)
	assert.Contains(t, heavy.Off.Remedy, "rescale")
	var not *lot.NotNow
	assert.ErrorAs(t, b.Rescale(ctx, b.on(oid), oid, water), &not, "only what is over is rescaled to")
	require.NoError(t, b.Rescale(ctx, b.on(oid), oid, lyeKey))
	l := b.lot(oid)
	assert.InDelta(t, 1.1, l.Factor(), 1e-9)
	assert.InDelta(t, 5, l.JudgePot().Superfat, 0.3, "the soap is back at its plan")
	assert.Contains(t, names(l.Unweighed()), "Water (distilled or soft)", "the water comes up short and is topped up")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: b.target(oid, water) - waterWas}))
	assert.ErrorAs(t, b.Rescale(ctx, b.on(oid), oid, lyeKey), &not, "a second press does not grow it again")
	b.weighed(oid)
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))
	assert.Empty(t, b.lot(oid).Held())
}

func TestTheLyeMeetsTheFatsOnceAndInItsTurn(t *testing.T) {
	b := open(t)
	oid := b.started()
	tick := func(k shop.Ticked) error { return b.Tick(ctx, b.on(oid), oid, k) }
	assert.Contains(
		t,
		problem(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: lyeKey, Grams: b.target(oid, lyeKey)}), "grams"),
		"goggles",
	)
	require.NoError(t, tick(shop.Ticked{Step: run.GearKey}))
	before := b.lot(oid).LastEntry
	require.NoError(t, tick(shop.Ticked{Step: run.GearKey}), "a second press")
	assert.Equal(t, before, b.lot(oid).LastEntry, "writes nothing")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: lyeKey, Grams: b.target(oid, lyeKey)}))
	cool, hot := 18.0, 71.0
	assert.Contains(t, problem(t, tick(shop.Ticked{Step: run.LyeInKey, LiquidC: &cool}), "step"), "Water (distilled or soft)")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: b.target(oid, water)}))
	assert.Contains(t, problem(t, tick(shop.Ticked{Step: run.LyeInKey, LiquidC: &hot}), "step"), "boils up")
	require.NoError(t, tick(shop.Ticked{Step: run.LyeInKey, LiquidC: &cool}))
	assert.Contains(t, problem(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: 20, Sure: false}), "grams"), "already")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: 20, Back: true}))
	assert.Contains(t, problem(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: 20}), "grams"), "spits")
	require.NoError(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: 20, Sure: true}), "it stands in a second jug")
	require.Len(t, b.lot(oid).Deviations, 1, "the maker's word is on record")
	assert.Contains(t, problem(t, tick(shop.Ticked{Step: run.MeetKey}), "note"), "Olive oil")
	problem(t, tick(shop.Ticked{Step: "batter:warm", LyeC: &cool}), "lye_c")
	problem(t, tick(shop.Ticked{Step: run.ScaleKey, CheckG: 500}), "reads_g")
	assert.Contains(t, problem(t, tick(shop.Ticked{Step: run.ScaleKey, CheckG: 500, ReadsG: 480}), "note"), "20 g off")
	problem(t, tick(shop.Ticked{Step: run.TraceKey, Note: "odd", Trace: "runny"}), "trace")
	problem(t, tick(shop.Ticked{Step: run.WeighKey(olive)}), "note")
	var not *lot.NotNow
	assert.ErrorAs(t, tick(shop.Ticked{Step: "design:9"}), &not)
	assert.ErrorAs(t, tick(shop.Ticked{Step: run.PourKey}), &not, "the pour is more than a tick")
	require.NoError(t, tick(shop.Ticked{Step: run.GearKey, Undo: true, Note: "glove torn"}))
	assert.False(t, b.lot(oid).Done()[run.GearKey])
	assert.InDelta(t, cool, *b.lot(oid).Warmth("liquid"), 1e-9)
	ready := b.lot(oid).WhenToCombine(20, b.now)
	assert.Greater(t, ready.LyeC, 60.0, "unread lye counts as hot")
}

func TestOneDeviceWritesARunAndAnotherTakesOver(t *testing.T) {
	b := open(t)
	oid := b.started()
	phone := func() journal.Act {
		a := b.on(oid)
		a.Device, a.DeviceLabel = "phone", "phone"
		return a
	}
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: "ready:bench"}))
	var elsewhere *shop.NotWriter
	require.ErrorAs(t, b.Tick(ctx, phone(), oid, shop.Ticked{Step: run.GearKey}), &elsewhere)
	assert.Equal(t, "tablet", elsewhere.Writer.Label)
	assert.False(t, b.Writes(b.lot(oid), "phone"))
	assert.True(t, b.Writes(b.lot(oid), "tablet"))
	require.NoError(t, b.TakeOver(ctx, phone(), oid))
	require.NoError(t, b.Tick(ctx, phone(), oid, shop.Ticked{Step: run.GearKey}))
	require.ErrorAs(t, b.Weigh(ctx, b.on(oid), oid, shop.Weighed{Item: water, Grams: 10}), &elsewhere, "the first now watches")
	b.now = b.now.Add(31 * time.Minute)
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: "ready:mold:0"}), "a device that was put down gives way")

	other := b.started()
	require.NoError(t, b.Tick(ctx, b.on(other), other, shop.Ticked{Step: "ready:bench"}))
	assert.True(t, b.lot(other).Done()["ready:bench"])
	assert.False(t, b.lot(other).Done()[run.GearKey], "two pots of a day stay apart")
}

func TestAPaperSheetIsFilledInAfterwardsAsSuch(t *testing.T) {
	b := open(t)
	oid := b.started()
	l := b.lot(oid)
	weights := map[plan.Key]float64{}
	for _, i := range l.Unweighed() {
		weights[i.Key] = i.Target
	}
	poured := b.now.Add(-20 * time.Hour)
	paper := func(change func(*shop.Paper)) error {
		lyeC, fatsC := 38.0, 41.0
		p := shop.Paper{
			When:    poured,
			Weights: map[plan.Key]float64{},
			Minutes: 9,
			Pour:    lot.Pour{Trace: "medium", LyeC: &lyeC, FatsC: &fatsC},
		}
		for k, g := range weights {
			p.Weights[k] = g
		}
		change(&p)
		return b.RecordPaper(ctx, b.on(oid), oid, p)
	}
	problem(t, paper(func(p *shop.Paper) { p.When = b.now.Add(time.Hour) }), "when")
	problem(t, paper(func(p *shop.Paper) { p.When = time.Time{} }), "when")
	problem(t, paper(func(p *shop.Paper) { p.When = b.now.AddDate(0, -4, 0) }), "when")
	problem(t, paper(func(p *shop.Paper) { p.Pour.Trace = "" }), "trace")
	problem(t, paper(func(p *shop.Paper) { delete(p.Weights, olive) }), "weight."+olive)
	assert.Contains(t, problem(t, paper(func(p *shop.Paper) { p.Weights[olive] /= 28.35 }), "weight."+olive), "ounces")
	require.NoError(t, paper(func(*shop.Paper) {}))
	l = b.lot(oid)
	require.NotNil(t, l.Pour)
	assert.Equal(t, poured.UnixMilli(), l.Pour.Occurred.UnixMilli(), "windows count from when it was poured")
	assert.Equal(t, b.now.UnixMilli(), l.Pour.Recorded.UnixMilli())
	for _, w := range l.Weighings {
		assert.Equal(t, lot.OnPaper, w.How)
	}
	assert.Equal(t, 41.0, *l.Warmth("fats"))
	assert.Empty(t, run.Undone(run.Steps(l.Order()), l.State()))
}

func TestAnUnplannedHandfulOfFatCountsAndAPinchOfColourDoesNot(t *testing.T) {
	b := open(t)
	oid := b.started()
	problem(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: " ", Grams: 3}), "extra")
	problem(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "purple", Grams: 0}), "extra_grams")
	before := b.lot(oid).JudgePot().Superfat
	require.NoError(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "purple", Grams: 3}))
	assert.InDelta(t, before, b.lot(oid).JudgePot().Superfat, 1e-9)
	require.NoError(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "castor oil", Grams: 30}))
	assert.Greater(t, b.lot(oid).JudgePot().Superfat, before+1)
	assert.Len(t, b.lot(oid).Extras, 2)
}

// startedWith keeps a formula as a recipe and starts a lot of a kilogram of its fats.
func (b *bench) startedWith(f recipe.Formula) (recipe, oid string) {
	b.t.Helper()
	recipe, err := b.KeepRecipe(ctx, b.act(), "", 0, document.RecipeBody{Formula: f}, "", "")
	require.NoError(b.t, err)
	o := planning.DefaultOrder(catalog.Settings{Shop: store.Shop{FillRule: string(plan.Computed), ScaleStep: 1}})
	o.Recipe, o.By, o.FatsG = recipe, planning.ByFats, 1000
	p, err := b.KeepPlan(ctx, b.act(), o)
	require.NoError(b.t, err)
	oid, err = b.StartLot(ctx, b.act(), p, 1, "")
	require.NoError(b.t, err)
	return recipe, oid
}

func TestTheStoresLearnHowAScentBehaved(t *testing.T) {
	b := open(t)
	scent, err := b.KeepScent(
		ctx,
		b.act(),
		"",
		0,
		document.ScentBody{Scent: additive.Scent{Name: "Fig", Supplier: "Glasshouse", Density: 0.95, Stated: additive.Behaves}},
	)
	require.NoError(t, err)
	f := formula()
	f.Scent = &additive.Perfume{
		Rate:  2,
		Stage: additive.Trace,
		Parts: []additive.ScentPart{{Scent: additive.Scent{Name: "Fig", Supplier: "Glasshouse", Density: 0.95}, Percent: 100}},
	}
	r, oid := b.startedWith(f)
	var in run.Step
	for _, s := range run.Steps(b.lot(oid).Order()) {
		if s.Kind == run.Scent {
			in = s
		}
	}
	k := shop.Ticked{Step: in.Key, Behaviour: "dances", Remember: true}
	problem(t, b.Tick(ctx, b.on(oid), oid, k), "behaviour")
	k.Behaviour = additive.Accelerates
	assert.Contains(t, problem(t, b.Tick(ctx, b.on(oid), oid, k), "note"), "met the fats", "a scent has nothing to go into yet")
	b.weighed(oid) // up to the pour, the scent in without a word
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: in.Key, Undo: true}))
	k.Note = "thick in a minute"
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, k))
	history, err := b.ScentHistory(ctx, scent)
	require.NoError(t, err)
	require.Len(t, history, 2)
	assert.Equal(t, additive.Accelerates, history[0].Scent.Observed)
	assert.Equal(t, additive.Behaves, history[0].Scent.Stated, "the supplier's word stays apart")
	assert.Contains(t, history[0].Notes, "thick in a minute")
	assert.Equal(t, recipe.Draft, lifeOf(t, b, r), "a scent that was seen changes no recipe")
}

// A scent that stands in a recipe alone becomes a material of the stores when it is to be remembered; a
// mixed bottle is none.
func TestAScentOfARecipeAloneBecomesAMaterial(t *testing.T) {
	b := open(t)
	started := func(bottle string) (oid string, in run.Step) {
		f := formula()
		f.Name += " " + bottle
		f.Scent = &additive.Perfume{
			Rate:   2,
			Stage:  additive.Trace,
			Bottle: bottle,
			Parts: []additive.ScentPart{
				{Scent: additive.Scent{Name: "Fig", Supplier: "Glasshouse", Density: 0.95, Max: 3}, Percent: 60},
				{Scent: additive.Scent{Name: "Hay", Density: 0.95}, Percent: 40},
			},
		}
		_, oid = b.startedWith(f)
		for _, s := range slices.Backward(run.Steps(b.lot(oid).Order())) {
			if s.Kind == run.Scent {
				in = s
			}
		}
		b.weighed(oid)
		require.NoError(t, b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: in.Key, Undo: true}))
		return oid, in
	}
	oid, in := started("")
	k := shop.Ticked{Step: in.Key, Behaviour: additive.Accelerates, Remember: true, Note: "thick in a minute"}
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, k))
	kept, err := b.Scents(ctx)
	require.NoError(t, err)
	require.Len(t, kept, 1)
	assert.Equal(t, in.Item.Name, kept[0].Scent.Label())
	assert.Equal(t, additive.Accelerates, kept[0].Scent.Observed)
	assert.EqualValues(t, 3, kept[0].Scent.Max, "what the recipe knew of it comes along")
	assert.Contains(t, kept[0].Notes, "thick in a minute")

	oid, in = started("Barn door")
	k.Step = in.Key
	assert.Contains(t, problem(t, b.Tick(ctx, b.on(oid), oid, k), "remember"), "not the bottle")
	k.Remember = false
	require.NoError(t, b.Tick(ctx, b.on(oid), oid, k))
}

func lifeOf(t *testing.T, b *bench, oid string) recipe.Life {
	t.Helper()
	list, err := b.Recipes(ctx)
	require.NoError(t, err)
	for _, r := range list {
		if r.OID == oid {
			return r.Life
		}
	}
	return ""
}

func TestAPhotoIsKeptSmallWithoutWhatTheCameraNoted(t *testing.T) {
	b := open(t)
	oid := b.started()
	img := image.NewRGBA(image.Rect(0, 0, 2400, 900))
	var raw bytes.Buffer
	require.NoError(t, jpeg.Encode(&raw, img, nil))
	// A camera's note that the picture lies on its side and where it was taken.
	exif := append(
		[]byte(
			"\xff\xd8\xff\xe1\x00\x22Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00",
		),
		raw.Bytes()[2:]...)
	require.NoError(t, b.AddPhoto(ctx, b.on(oid), oid, bytes.NewReader(exif), "the swirl"))
	p := b.lot(oid).Photos[0]
	assert.Equal(t, [2]int{600, 1600}, [2]int{p.W, p.H}, "upright and smaller")
	f, err := b.Photo(ctx, p.File)
	require.NoError(t, err)
	kept, err := io.ReadAll(f)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	assert.NotContains(t, string(kept), "Exif")
	for _, name := range []string{"../shop.db", "x.jpg", strings.Repeat("0", 64) + ".jpg"} {
		_, err := b.Photo(ctx, name)
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
	assert.Contains(t, problem(t, b.AddPhoto(ctx, b.on(oid), oid, strings.NewReader("GIF89a"), ""), "photo"), "JPEG")
	problem(t, b.AddPhoto(ctx, b.on(oid), oid, bytes.NewReader(raw.Bytes()[:700]), ""), "photo")
}

// A picture that was cut off while it was written, or whose record never came, is gone
// after the next start; those on record and what else lies there stay.
func TestPicturesWithoutARecordAreSweptAtTheStart(t *testing.T) {
	b := open(t)
	oid := b.started()
	var raw bytes.Buffer
	require.NoError(t, jpeg.Encode(&raw, image.NewRGBA(image.Rect(0, 0, 20, 20)), nil))
	require.NoError(t, b.AddPhoto(ctx, b.on(oid), oid, bytes.NewReader(raw.Bytes()), "kept"))
	file := b.lot(oid).Photos[0].File
	folder := filepath.Join(b.dir, "photos")
	orphan := strings.Repeat("0", 64) + ".jpg"
	for _, name := range []string{"new-123", orphan, "holiday.jpg"} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte("x"), 0o600))
	}
	require.NoError(t, b.Close())
	s, err := shop.Open(ctx, b.dir, func() time.Time { return b.now })
	require.NoError(t, err)
	b.Shop = s
	left, err := os.ReadDir(folder)
	require.NoError(t, err)
	var names []string
	for _, f := range left {
		names = append(names, f.Name())
	}
	assert.ElementsMatch(t, []string{file, "holiday.jpg"}, names)
}

// What a step was called and how the pot was judged go on record with them.
func TestWhatWasSaidAtTheBenchIsKept(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	require.NotEmpty(t, l.Ticks)
	for _, k := range l.Ticks {
		assert.NotEmpty(t, k.Title, k.Step)
	}
	require.NotNil(t, l.Pour.Judged)
	assert.InDelta(t, 5, l.Pour.Judged.Superfat, 1)
	assert.Equal(t, l.JudgePour(), *l.Pour.Judged)
}

// Two pages tick a step: the second is nothing new, unless it brings a word, which is
// refused and not dropped.
func TestAWordToAStepThatIsTickedAlreadyIsNotDropped(t *testing.T) {
	b := open(t)
	oid := b.started()
	tick := func(note string) error {
		return b.Tick(ctx, b.on(oid), oid, shop.Ticked{Step: "ready:bench", Note: note})
	}
	require.NoError(t, tick("wiped twice"))
	require.NoError(t, tick("wiped twice"), "the same again")
	require.NoError(t, tick(""), "nothing new")
	var conflict *journal.Conflict
	require.ErrorAs(t, tick("the cat was in"), &conflict)
	assert.Contains(t, conflict.Error(), "Clear and wipe the bench")
	assert.Len(t, b.lot(oid).Ticks, 1)
}

func TestAReasonForAMarkThatStandsAlreadyIsNotDropped(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	mark := func(on bool, why string) error {
		return b.SetMark(ctx, b.act(), oid, lot.NotForSale, on, why)
	}
	var not *lot.NotNow
	require.ErrorAs(t, mark(false, "it never was"), &not)
	require.NoError(t, mark(true, "for one family"))
	require.NoError(t, mark(true, "for one family"), "the same again")
	var conflict *journal.Conflict
	require.ErrorAs(t, mark(true, "a wedding"), &conflict)
	assert.Len(t, b.lot(oid).Marks, 1)
}

// What goes in unplanned is measured as it is at hand: two spoons count as the shop weighs them, and
// what nobody has weighed is asked for in grams.
func TestSomethingIsAddedByTheSpoon(t *testing.T) {
	b := open(t)
	oid := b.started()
	require.NoError(t, b.NoteSpoon(ctx, b.act(), "Alder bark", 1.4))
	require.NoError(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "alder bark", Spoons: 2}))
	require.NoError(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "Kaolin clay", Spoons: 1}), "by the table")
	grams := []float64{b.lot(oid).Extras[0].Grams, b.lot(oid).Extras[1].Grams}
	assert.InDeltaSlice(t, []float64{2.8, 2.4}, grams, 1e-9)
	strange := b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "Stardust", Spoons: 1})
	assert.Contains(t, problem(t, strange, "extra_grams"), "nobody has weighed")
	problem(t, b.AddExtra(ctx, b.on(oid), oid, shop.Added{Name: "Mica", Grams: 1, Portion: "moon"}), "extra_portion")
}
