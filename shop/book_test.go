package shop_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/additive"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

func named(name string, tags ...string) document.RecipeBody {
	f := formula()
	f.Name = name
	return document.RecipeBody{Formula: f, Tags: tags}
}

func (b *bench) book() map[string]catalog.Recipe {
	b.t.Helper()
	list, err := b.Recipes(ctx)
	require.NoError(b.t, err)
	out := map[string]catalog.Recipe{}
	for _, r := range list {
		out[r.Name] = r
	}
	return out
}

// A recipe is made small before it is trusted, and a change makes it a draft
// again; lots say what they were made from.
func TestARecipeLivesFromDraftToRetired(t *testing.T) {
	b, o, _ := planned(t)
	life := func() recipe.Life { return b.book()["Plain bar"].Life }
	assert.Equal(t, recipe.Draft, life())
	start := func() *lot.Lot {
		kept, err := b.KeepPlan(ctx, b.act(), o)
		require.NoError(t, err)
		oid, err := b.StartLot(ctx, b.act(), kept, 1, "")
		require.NoError(t, err)
		l, err := b.Lot(ctx, oid)
		require.NoError(t, err)
		return l
	}
	first := start()
	assert.Equal(t, lot.Trial, first.Frozen.Kind)
	b.weighed(first.OID)
	require.NoError(t, b.RecordPour(ctx, b.on(first.OID), first.OID, lot.Pour{Trace: "light"}))
	assert.Equal(t, recipe.Trial, life(), "its first pour makes it a trial")
	problem(t, b.SetLife(ctx, b.act(), o.Recipe, 1, "beloved"), "life")
	require.NoError(t, b.SetLife(ctx, b.act(), o.Recipe, 1, recipe.Tested))
	assert.Empty(t, start().Frozen.Kind, "made from a tested revision")
	_, err := b.KeepRecipe(ctx, b.act(), o.Recipe, 1, named("Plain bar"), "again", "")
	require.NoError(t, err)
	assert.Equal(t, recipe.Draft, life())
	var conflict *journal.Conflict
	assert.ErrorAs(t, b.SetLife(ctx, b.act(), o.Recipe, 1, recipe.Tested), &conflict, "said of a revision that is no longer the newest")
	history, err := b.RecipeHistory(ctx, o.Recipe)
	require.NoError(t, err)
	assert.Equal(t, recipe.Tested, history[1].Life, "the old revision keeps its own")
	require.NoError(t, b.SetLife(ctx, b.act(), o.Recipe, 2, recipe.Retired))
	assert.Equal(t, recipe.Retired, life())
	assert.ErrorIs(t, b.SetLife(ctx, b.act(), "nothing", 1, recipe.Tested), store.ErrNotFound)
}

func TestTheBookIsSearchedByEveryWordInIt(t *testing.T) {
	b := open(t)
	winter := named("Winter bar", "market", "winter")
	winter.Notes = "for cold hands"
	winter.Formula.Additives = []additive.Use{
		{Name: "Oatmeal", Stage: additive.InFats, Basis: additive.PercentOfFats, Rate: 1, Density: 1.4},
	}
	retired, err := b.KeepRecipe(ctx, b.act(), "", 0, named("Old bar"), "", "")
	require.NoError(t, err)
	_, err = b.KeepRecipe(ctx, b.act(), "", 0, winter, "", "")
	require.NoError(t, err)
	require.NoError(t, b.SetLife(ctx, b.act(), retired, 1, recipe.Retired))
	for query, want := range map[catalog.RecipeQuery][]string{
		{}:                               {"Winter bar"},
		{Life: "all"}:                    {"Old bar", "Winter bar"},
		{Life: "retired"}:                {"Old bar"},
		{Life: "tested"}:                 nil,
		{Text: "COLD oatmeal market"}:    {"Winter bar"},
		{Text: "coconut"}:                {"Winter bar"},
		{Text: "coconut", Life: "all"}:   {"Old bar", "Winter bar"},
		{Text: "winter tallow"}:          nil,
		{Text: "water", Life: "draft"}:   {"Winter bar"},
		{Text: "  ", Life: "draft"}:      {"Winter bar"},
		{Text: "hands", Life: "retired"}: nil,
	} {
		var got []string
		list, err := b.Recipes(ctx)
		require.NoError(t, err)
		for _, r := range list {
			if query.Matches(r) {
				got = append(got, r.Name)
			}
		}
		assert.Equal(t, want, got, "%+v", query)
	}
}

func TestRecipesFromAFileStandBesideReviseOrStayOut(t *testing.T) {
	b := open(t)
	_, err := b.KeepRecipe(ctx, b.act(), "", 0, named("Quern base"), "", "")
	require.NoError(t, err)
	changed := named("quern BASE")
	changed.Formula.Superfat = 7
	file := []document.RecipeBody{changed, named("Fresh one")}
	require.NoError(t, b.ImportRecipes(ctx, b.act(), file, catalog.Skip))
	assert.Len(t, b.book(), 2)
	assert.Equal(t, 5.0, b.book()["Quern base"].Formula.Superfat, "the book's own stays")
	require.NoError(t, b.ImportRecipes(ctx, b.act(), file, catalog.Revise))
	assert.Equal(t, 2, b.book()["quern BASE"].Number)
	assert.Equal(t, "from a file", b.book()["quern BASE"].Note)
	assert.Equal(t, 1, b.book()["Fresh one"].Number, "what does not differ makes no revision")
	require.NoError(t, b.ImportRecipes(ctx, b.act(), file, catalog.KeepBoth))
	list, err := b.Recipes(ctx)
	require.NoError(t, err)
	assert.Len(t, list, 4)
	spoiled := named("Spoiled")
	spoiled.Formula.Superfat = 90
	err = b.ImportRecipes(ctx, b.act(), []document.RecipeBody{named("Good"), spoiled}, catalog.Skip)
	assert.Contains(t, problem(t, err, "recipes[1].superfat_percent"), "between 0 and 40")
	assert.NotContains(t, b.book(), "Good", "all of them or none")
	for _, same := range catalog.OnDuplicates() {
		assert.NotEmpty(t, same.Words())
	}
}

func TestScentsAreMaterialsOfASupplier(t *testing.T) {
	b := open(t)
	fennel := document.ScentBody{
		Scent: additive.Scent{
			Name:     "Fennel",
			Supplier: "Wendle",
			Max:      1.5,
			MaxOf:    additive.OfSoap,
			Density:  0.95,
			Stated:   additive.Behaves,
		},
	}
	oid, err := b.KeepScent(ctx, b.act(), "", 0, fennel)
	require.NoError(t, err)
	_, err = b.KeepScent(ctx, b.act(), "", 0, fennel)
	assert.Contains(t, problem(t, err, "name"), "noted already")
	other := fennel
	other.Scent.Supplier = "Carrick"
	_, err = b.KeepScent(ctx, b.act(), "", 0, other)
	require.NoError(t, err, "the same name from another supplier is another material")
	fennel.Scent.Observed, fennel.Notes = additive.Seizes, "at 40 °C, 3 %"
	_, err = b.KeepScent(ctx, b.act(), oid, 1, fennel)
	require.NoError(t, err)
	history, err := b.ScentHistory(ctx, oid)
	require.NoError(t, err)
	require.Len(t, history, 2)
	assert.Equal(t, additive.Seizes, history[0].Scent.Behaviour())
	assert.Equal(t, additive.Behaves, history[1].Scent.Behaviour(), "the supplier's word, before anybody had seen it")
	for path, spoil := range map[string]func(*document.ScentBody){
		"name": func(s *document.ScentBody) { s.Scent.Name = " " }, "scent.max_percent": func(s *document.ScentBody) { s.Scent.Max = -1 },
		"scent.stated": func(s *document.ScentBody) { s.Scent.Stated = "dances" },
	} {
		bad := fennel
		spoil(&bad)
		_, err := b.KeepScent(ctx, b.act(), "", 0, bad)
		problem(t, err, path)
	}
}

// A teaspoon is weighed once; recipes note what they were written with only
// where the shop has no weight of its own.
func TestATeaspoonIsWeighedOnce(t *testing.T) {
	b := open(t)
	problem(t, b.NoteSpoon(ctx, b.act(), " ", 2), "spoon")
	problem(t, b.NoteSpoon(ctx, b.act(), "Mica", 0), "spoon_grams")
	require.NoError(t, b.NoteSpoon(ctx, b.act(), "Mica", 1.5))
	require.NoError(t, b.NoteSpoon(ctx, b.act(), "mica", 1.6))
	r := named("Coloured")
	use := func(name string, g float64) additive.Use {
		return additive.Use{Name: name, Stage: additive.InFats, Basis: additive.TspPerLbFats, Rate: 1, GramsPerTsp: g, Density: 2}
	}
	r.Formula.Additives = []additive.Use{use("Mica", 1.9), use("Pink clay", 2.2), use("Kaolin clay", 2.4)}
	_, err := b.KeepRecipe(ctx, b.act(), "", 0, r, "", "")
	require.NoError(t, err)
	spoons, err := b.Spoons(ctx)
	require.NoError(t, err)
	got := map[string]float64{}
	for _, s := range spoons {
		got[s.Name] = s.Grams
	}
	assert.Equal(
		t,
		map[string]float64{"mica": 1.6, "Pink clay": 2.2},
		got,
		"the newest weighing counts; what the table says needs no note",
	)
}

func TestMoldsRecipesAndToolsAreCheckedBeforeTheyAreKept(t *testing.T) {
	b := open(t)
	for path, spoil := range map[string]func(*document.RecipeBody){
		"name":   func(r *document.RecipeBody) { r.Formula.Name = "" },
		"policy": func(r *document.RecipeBody) { r.Policy = "forever" },
		"tags": func(r *document.RecipeBody) {
			r.Tags = []string{string(make([]byte,
				60))}
		},
		"process.mold":  func(r *document.RecipeBody) { r.Formula.Process.Material = "paper" },
		"process.trace": func(r *document.RecipeBody) { r.Formula.Process.Trace = "soup" },
		"process.unmold_until_h": func(r *document.RecipeBody) {
			r.Formula.Process.Opens, r.Formula.Process.Closes = 20,
				10
		}, "temperature": func(r *document.RecipeBody) { r.Formula.School = "boiling" },
		"full_liquid_percent_of_fats": func(r *document.RecipeBody) { r.Formula.FullLiquid = 400 },
	} {
		bad := named("Bar")
		spoil(&bad)
		_, err := b.KeepRecipe(ctx, b.act(), "", 0, bad, "", "")
		problem(t, err, path)
	}
	for path, tool := range map[string]document.ToolBody{
		"kind": {Kind: "spoon"}, "ml": {Kind: document.Pot}, "spacing": {Kind: document.Cutter, Wires: 5}, "wires": {Kind: document.Cutter,
			Spacing: 25, Wires: 0}, "tare": {Kind: document.Jug, ML: 1000, Tare: -2},
	} {
		_, err := b.KeepTool(ctx, b.act(), "", 0, "Thing", tool)
		problem(t, err, path)
	}
	for _, k := range document.ToolKinds() {
		assert.NotEmpty(t, k.Words())
	}
	_, err := b.KeepMold(ctx, b.act(), "", 0, "Nothing", document.MoldBody{Material: "lined"})
	problem(t, err, "mold.shape")
	_, err = b.KeepMold(ctx, b.act(), "", 0, " ", document.MoldBody{Material: "cloud"})
	problem(t, err, "material")
}
