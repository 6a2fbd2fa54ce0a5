package exchange_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io/fs"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// hedgerow uses every part of the format.
const hedgerow = `{"format":"ashshelf.plan-request/1","recipe":{"format":"ashshelf.recipe/1","name":"Hedgerow bar",
 "fats":[{"fat":"olive-oil","percent":50},{"fat":"coconut-oil","percent":30,"sap_koh_mg_per_g":255},
         {"name":"House tallow","sap_koh_mg_per_g":196.5,"density_g_per_ml":0.905,"percent":20}],
 "alkali":{"naoh_percent":100,"naoh_purity_percent":100,"koh_purity_percent":90},
 "superfat_percent":5,"water":{"basis":"lye-strength","value":33},
 "liquids":[{"liquid":"water","percent":60,"carries_lye":true},{"liquid":"sheep-milk","percent":40,"frozen":false}],
 "additives":[{"name":"Sea salt","stage":"trace","density_g_per_ml":2.16,"rate":{"basis":"percent-of-fats","value":50}},
              {"name":"Kaolin","stage":"fats","rate":{"basis":"tsp-per-lb-fats","value":1,"grams_per_tsp":2.4}}]},
 "target":{"molds":[{"mold":{"shape":"box","length_mm":250,"width_mm":80,"fill_mm":65},"count":3}]},
 "fill_rule":"computed","pot_loss_percent":0,"pot_capacity_g":2500,"resolution_g":0,
 "lye_stock":{"naoh_percent":50,"temperature_c":21},"liquid_temperature_c":20,
 "scraps":{"grams":0,"fats_percent":72,"density_g_per_ml":1.0}}`

func TestAPlanIsWrittenAsItsSchemaSays(t *testing.T) {
	r, err := exchange.ReadRequest(strings.NewReader(hedgerow))
	require.NoError(t, err)
	p, err := plan.Make(r)
	require.NoError(t, err)
	require.Greater(t, p.Batches, 1)
	var text bytes.Buffer
	require.NoError(t, exchange.WritePlan(&text, p))

	schema, err := fs.ReadFile(exchange.Schemas(), "plan-1.schema.json")
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(schema))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("urn:ashshelf:plan-1", doc))
	got, err := jsonschema.UnmarshalJSON(&text)
	require.NoError(t, err)
	assert.NoError(t, c.MustCompile("urn:ashshelf:plan-1").Validate(got))

	var human bytes.Buffer
	require.NoError(t, exchange.WritePlanText(&human, p))
	assert.Contains(t, human.String(), "lye stock to draw")
	assert.Contains(t, human.String(), "equal batches")
}

func TestATypingErrorNeverPassesSilently(t *testing.T) {
	_, err := exchange.ReadRequest(strings.NewReader(hedgerow))
	require.NoError(t, err)
	for _, c := range []struct{ old, new, path, why string }{
		{`"fill_rule"`, `"fil_rule"`, "fil_rule", "no such field"},
		{`"superfat_percent":5`, `"superfat_percent":5,"superfat_percent":6`, "recipe.superfat_percent", "twice"},
		{`"superfat_percent":5,`, ``, "recipe.superfat_percent", "missing"},
		{`"superfat_percent":5`, `"superfat_percent":"5"`, "recipe.superfat_percent", "number"},
		{`"superfat_percent":5`, `"superfat_percent":1e400`, "recipe.superfat_percent", "too large"},
		{`"superfat_percent":5`, `"superfat_percent":1e-999999999`, "recipe.superfat_percent", "too large"},
		{`"superfat_percent":5`, `"Superfat_percent":5`, "recipe.Superfat_percent", "no such field"},
		{`"olive-oil"`, `"olive-oill"`, "recipe.fats[0].fat", "not a fat"},
		{`"fat":"olive-oil"`, `"fat":"olive-oil","name":"Olive"`, "recipe.fats[0].name", "does not go"},
		{`"sap_koh_mg_per_g":196.5,`, ``, "recipe.fats[2].sap_koh_mg_per_g", "missing"},
		{`"sheep-milk"`, `"moon-milk"`, "recipe.liquids[1].liquid", "not a liquid"},
		{`"stage":"fats"`, `"stage":"fat"`, "recipe.additives[1].stage", "one of"},
		{`,"grams_per_tsp":2.4`, ``, "recipe.additives[1].rate.grams_per_tsp", "missing"},
		{`"width_mm":80,`, ``, "target.molds[0].mold.width_mm", "missing"},
		{`"count":3`, `"count":2.5`, "target.molds[0].count", "integer"},
		{`"target":{`, `"target":{"fats_g":5,`, "target", "give 1"},
		{`"pot_capacity_g":2500`, `"pot_capacity_g":0`, "pot_capacity_g", ""},
	} {
		text := strings.Replace(hedgerow, c.old, c.new, 1)
		require.NotEqual(t, hedgerow, text, c.old)
		_, err := exchange.ReadRequest(strings.NewReader(text))
		var p caution.Problems
		require.True(t, errors.As(err, &p), "%s: %v", c.new, err)
		assert.Contains(t, p.At(c.path), c.why, "%s: %v", c.new, p)
		assert.NotEmpty(t, p.At(c.path), "%s: %v", c.new, p)
	}
	for _, broken := range []string{"", "{", hedgerow + "{}", "[]", "null", `{"format":"ashshelf.plan-request/2"}`,
		strings.Repeat(" ", 2<<20)} {
		_, err := exchange.ReadRequest(strings.NewReader(broken))
		var p caution.Problems
		assert.True(t, errors.As(err, &p), "%.20q: %v", broken, err)
	}
}

func TestWhatIsLeftOutHasItsStatedDefault(t *testing.T) {
	r, err := exchange.ReadRequest(
		strings.NewReader(
			`{"format":"ashshelf.plan-request/1","recipe":{"fats":[{"fat":"lard","percent":100}],"superfat_percent":5,` +
				`"water":{"basis":"liquid-to-lye","value":2},
		"additives":[{"name":"Ash","stage":"top","rate":{"basis":"grams-per-batch","value":2}}]},"target":{"fats_g":500},` +
				`"scraps":{"grams":10},"lye_stock":{"naoh_percent":40}}`,
		),
	)
	require.NoError(t, err)
	assert.Equal(t, plan.Computed, r.Rule)
	assert.Equal(t, 20.0, r.LiquidC)
	assert.Equal(t, 20.0, r.Stock.C)
	assert.Equal(t, plan.Scraps{Grams: 10, FatsPercent: 72, Density: 1}, *r.Scraps)
	assert.Equal(t, 100.0, r.Formula.Alkali.NaOHPurity)
	assert.Equal(t, 90.0, r.Formula.Alkali.KOHPurity)
	assert.Equal(t, 1.0, r.Formula.Additives[0].Density)
	require.Len(t, r.Formula.Liquids, 1)
	assert.True(t, r.Formula.Liquids[0].Carries && r.Formula.Liquids[0].Liquid.Slug == "water")
}

func TestARecipeComesBackAsItWent(t *testing.T) {
	r, err := exchange.ReadRequest(strings.NewReader(hedgerow))
	require.NoError(t, err)
	f := r.Formula
	f.School = recipe.Room
	f.Fats[2].Fat = fat.NewOwn("House tallow", 196.5, 0.905, "beef-tallow")
	f.Alkali.NaOHPercent = 60
	f.Additives[0].Behaviour, f.Additives[1].Lye = additive.Accelerates, 0.3
	f.Additives[0] = f.Additives[0].Takes(nil) // a scent is named after anything
	f.Fats[2].Fat.Acids.Oleic, f.Fats[2].Fat.INCI = 44, "Tallow of the house"
	f.FullLiquid = 38
	f.Liquids[1].Liquid.Fat, f.Liquids[1].Frozen = 7.4, true
	f.Scent = &additive.Perfume{Rate: 2.5, Stage: additive.InFats, OverMax: "assessed", Parts: []additive.ScentPart{
		{
			Percent: 40,
			Scent: additive.Scent{
				Name:     "Bay laurel",
				Supplier: "Wendle",
				Max:      3,
				MaxOf:    additive.OfSoap,
				Density:  0.88,
				Stated:   additive.Behaves,
				Observed: additive.Fades,
				Tint:     "none",
			},
		},
		{Percent: 60, Scent: additive.Scent{Name: "Cedar", Density: additive.ScentDensity}}}}
	mica := additive.Use{
		Name:        "Mica",
		Basis:       additive.TspPerLbFats,
		Rate:        1,
		GramsPerTsp: 1.7,
		Density:     2.8,
		Disperse:    &additive.Dispersal{In: "olive-oil", Spoons: 2},
	}
	f.Portions = []recipe.Portion{
		{Name: "blue", Percent: 70, Tone: "indigo", Colorants: []additive.Use{mica}},
		{Name: "plain", Percent: 30, Scraps: true},
	}
	f.Design = []recipe.Step{
		{Do: recipe.Layer, Portion: "blue", Percent: 80},
		{Do: recipe.Layer, Portion: "plain"},
		{Do: recipe.Drizzle, Portion: "blue", Note: "from high up"},
	}
	f.Infusions = []liquid.Infusion{{Fat: "olive-oil", Herb: "Nettle", HerbPct: 12, Loss: 2.2, Overage: 0, Hours: 3}}
	f.Process = recipe.Process{
		Kind:     recipe.Oven,
		LyeC:     40,
		FatsC:    42,
		Trace:    "light",
		Gel:      "force",
		Cover:    "oven",
		Material: "lined",
		Opens:    10,
		Closes:   20,
	}
	one := exchange.Recipe{Formula: f, Notes: "two\nlines", Policy: "four", Tags: []string{"winter", "market"}}
	var text bytes.Buffer
	require.NoError(t, exchange.WriteRecipe(&text, one))
	back, err := exchange.ReadRecipes(&text)
	require.NoError(t, err)
	assert.Equal(t, []exchange.Recipe{one}, back)

	second := one
	second.Formula.Name = "Another"
	require.NoError(t, exchange.WriteBook(&text, []exchange.Recipe{one, second}))
	back, err = exchange.ReadRecipes(&text)
	require.NoError(t, err)
	assert.Equal(t, []exchange.Recipe{one, second}, back)

	var sheet bytes.Buffer
	f.Fats[2].Fat.Name = "=HYPERLINK()"
	require.NoError(t, exchange.WriteBlend(&sheet, f, 1000))
	assert.Contains(t, sheet.String(), "Olive oil,fat,50.00,500.00,")
	assert.Contains(t, sheet.String(), "'=HYPERLINK()")

	for _, bad := range []string{`{"format":"ashshelf.recipe/9"}`, `{"format":"ashshelf.book/1","recipes":[{"name":"x"}]}`,
		`{"format":"ashshelf.recipe/1","fats":[{"fat":"lard","percent":100}],"superfat_percent":5,"water":{"basis":"liquid-to-lye","value":2}}`,
		`[1]`} {
		_, err := exchange.ReadRecipes(strings.NewReader(bad))
		var p caution.Problems
		assert.True(t, errors.As(err, &p), "%s: %v", bad, err)
	}
}

// shortenBriefly bounds how often an interesting input is tried shorter. What an input
// covers is not the same each time, since maps are walked in any order, so that its
// shortening goes on for a minute without an end.
func shortenBriefly(f *testing.F) {
	require.NoError(f, flag.Set("test.fuzzminimizetime", "20x"))
}

func FuzzAnythingReadIsPlannedOrRefused(f *testing.F) {
	f.Add(hedgerow)
	f.Add(strings.Replace(hedgerow, "50", "0", 1))
	f.Add(`{"format":"ashshelf.plan-request/1"}`)
	planned := func(text string) error {
		began := time.Now()
		r, err := exchange.ReadRequest(strings.NewReader(text))
		if err != nil {
			return nil
		}
		p, err := plan.Make(r)
		var refused caution.Problems
		if err != nil && !errors.As(err, &refused) {
			return fmt.Errorf("neither planned nor refused: %w", err)
		}
		var out bytes.Buffer
		if err == nil && (exchange.WritePlan(&out, p) != nil || !json.Valid(out.Bytes())) {
			return fmt.Errorf("a plan that cannot be written: %+v", p)
		}
		if took := time.Since(began); took > 2*time.Second {
			return fmt.Errorf("it took %v", took)
		}
		return nil
	}
	shortenBriefly(f)
	require.NoError(f, planned(hedgerow), "tables and schemas are read by now: that makes no input interesting")
	f.Fuzz(func(t *testing.T, text string) {
		if err := planned(text); err != nil {
			t.Fatal(err)
		}
	})
}

func TestAWeighSheetGoesIntoASpreadsheet(t *testing.T) {
	r, err := exchange.ReadRequest(
		strings.NewReader(strings.Replace(hedgerow, `"lye_stock":{"naoh_percent":50,"temperature_c":21},`, "", 1)),
	)
	require.NoError(t, err)
	r.Scales = plan.Scales{Resolution: 1}
	r.Vessels = plan.Vessels{Jug: plan.Vessel{Name: "jug", Tare: 300}}
	r.Formula.Additives[1].Name = "=Kaolin"
	p, err := plan.Make(r)
	require.NoError(t, err)
	sheet := plan.Sheet(r, p.Pot())
	var out bytes.Buffer
	require.NoError(t, exchange.WriteSheet(&out, sheet))
	lines := strings.Split(strings.TrimSpace(out.String()), "\n")
	assert.Equal(t, "vessel,what,grams,within,running,note,weighed,remarks", lines[0])
	items := 0
	for _, s := range sheet {
		items += len(s.Items)
	}
	assert.Len(t, lines, items+1, "one line for each weighing")
	assert.Contains(t, out.String(), "'=Kaolin", "a name is never taken for a formula")
	assert.Regexp(t, `Lye jug,Water \(distilled or soft\),\d+,\d+,\d+,`, lines[1], "with what an untared scale shows")
}

func TestAStockIsOfOneAlkali(t *testing.T) {
	of := func(stock string) error {
		_, err := exchange.ReadRequest(strings.NewReader(strings.Replace(hedgerow, `{"naoh_percent":50,"temperature_c":21}`, stock, 1)))
		return err
	}
	require.NoError(t, of(`{"koh_percent":45}`))
	for _, bad := range []string{`{}`, `{"naoh_percent":50,"koh_percent":45}`, `{"temperature_c":20}`, `{"naoh_percent":"50"}`} {
		var p caution.Problems
		assert.ErrorAs(t, of(bad), &p, bad)
	}
}

// Where something in a file of recipes is wrong, the place is said.
func TestAFileOfRecipesSaysWhereItIsWrong(t *testing.T) {
	good := `{"name":"Bar","fats":[{"fat":"lard","percent":100}],"superfat_percent":5,"water":{"basis":"liquid-to-lye","value":2}}`
	book := func(second string) string {
		return `{"format":"ashshelf.book/1","recipes":[` + good + `,` + second + `]}`
	}
	for at, text := range map[string]string{
		"recipes[1].fats[0].fat":      book(strings.Replace(good, `"fat":"lard"`, `"fat":"moon"`, 1)),
		"recipes[1].superfat_percent": book(strings.Replace(good, `:5,`, `:55,`, 1)),
		"recipes[1].name":             book(strings.Replace(good, `"name":"Bar",`, ``, 1)),
		"recipes[1].liquids[0].liquid": book(strings.Replace(good, `"superfat`,
			`"liquids":[{"liquid":"ink","percent":100}],"superfat`, 1)),
		"recipes[1].scent.parts": book(strings.Replace(good, `"superfat`,
			`"scent":{"rate_percent_of_fats":2,"parts":[{"name":"Fennel","percent":90}]},"superfat`, 1)),
		"recipes[1].portions": book(strings.Replace(good, `"superfat`, `"portions":[{"name":"a","percent":50}],"superfat`, 1)),
		"recipes[1].infusions[0].fat": book(strings.Replace(good, `"superfat`,
			`"infusions":[{"fat":"olive-oil","herb":"Mint"}],"superfat`, 1)),
		"recipes[1].fats[0].acids": book(strings.Replace(good, `"percent":100`,
			`"percent":100,"fatty_acids_percent":{"oleic":80,"stearic":60}`, 1)),
	} {
		_, err := exchange.ReadRecipes(strings.NewReader(text))
		var p caution.Problems
		require.ErrorAs(t, err, &p, at)
		assert.NotEmpty(t, p.At(at), "%s: %v", at, p)
	}
	both, err := exchange.ReadRecipes(strings.NewReader(book(strings.Replace(good, "Bar", "Other", 1))))
	require.NoError(t, err)
	assert.Len(t, both, 2)
}

func FuzzAnyFileOfRecipesIsReadOrRefused(f *testing.F) {
	f.Add(
		`{"format":"ashshelf.recipe/1","name":"Bar","fats":[{"fat":"lard","percent":100}],"superfat_percent":5,` +
			`"water":{"basis":"liquid-to-lye","value":2}}`,
	)
	f.Add(`{"format":"ashshelf.book/1","recipes":[]}`)
	f.Add(`[`)
	shortenBriefly(f)
	f.Fuzz(func(t *testing.T, text string) {
		list, err := exchange.ReadRecipes(strings.NewReader(text))
		if err != nil {
			return
		}
		var out bytes.Buffer
		if err := exchange.WriteBook(&out, list); err != nil {
			t.Fatalf("what was read cannot be written: %v", err)
		}
		again, err := exchange.ReadRecipes(&out)
		if err != nil || len(again) != len(list) {
			t.Fatalf("what was written cannot be read: %v", err)
		}
	})
}

// A file made to be tedious is answered at once, with no more than somebody reads.
func TestATediousFileIsAnsweredShortly(t *testing.T) {
	list := func(n int, one string) string { return strings.TrimSuffix(strings.Repeat(one+",", n), ",") }
	recipe := func(fats string) string {
		return `{"format":"ashshelf.recipe/1","name":"Bar","fats":[` + fats +
			`],"superfat_percent":5,"water":{"basis":"liquid-to-lye","value":2}}`
	}
	for name, text := range map[string]string{
		"a long list":             recipe(list(300_000, `{}`)),
		"a list of wrong fats":    recipe(list(100, `{}`)),
		"a book of wrong recipes": `{"format":"ashshelf.book/1","recipes":[` + list(2000, `{}`) + `]}`,
		"a book of wrong fats":    `{"format":"ashshelf.book/1","recipes":[` + list(2000, recipe(list(100, `{}`))) + `]}`,
		"a book of too many":      `{"format":"ashshelf.book/1","recipes":[` + list(2001, `{}`) + `]}`,
		"many fields": `{"format":"ashshelf.recipe/1",` + func() string {
			var b strings.Builder
			for i := range 50_000 {
				fmt.Fprintf(&b, `"f%d":1,`, i)
			}
			return strings.TrimSuffix(b.String(), ",")
		}() + `}`,
		"a long name of a field":    `{"format":"ashshelf.recipe/1","` + strings.Repeat("x", 900_000) + `":1}`,
		"a long text":               strings.Replace(recipe(`{"fat":"lard","percent":100}`), "Bar", strings.Repeat("soap ", 100_000), 1),
		"a long list of unknown":    `{"format":"ashshelf.recipe/1","anything":[` + list(200_000, `1`) + `]}`,
		"lists within lists within": strings.Repeat(`[`, 9000) + strings.Repeat(`]`, 9000),
	} {
		began := time.Now()
		_, err := exchange.ReadRecipes(strings.NewReader(text))
		var p caution.Problems
		require.ErrorAs(t, err, &p, name)
		assert.LessOrEqual(t, len(p), 21, name)
		assert.Less(t, len(p.Error()), 20_000, name)
		assert.Less(t, time.Since(began), 2*time.Second, name)
		_, err = exchange.ReadRequest(strings.NewReader(text))
		require.ErrorAs(t, err, &p, name)
		assert.LessOrEqual(t, len(p), 21, name)
	}
	good := recipe(`{"fat":"lard","percent":100}`)
	all, err := exchange.ReadRecipes(strings.NewReader(`{"format":"ashshelf.book/1","recipes":[` + list(2000, good) + `]}`))
	require.NoError(t, err)
	assert.Len(t, all, 2000, "a book of two thousand is one")
}

func TestACookedPasteComesBackAsItWent(t *testing.T) {
	r, err := exchange.ReadRequest(strings.NewReader(hedgerow))
	require.NoError(t, err)
	f := r.Formula
	f.Alkali = lye.Alkali{NaOHPercent: 0, NaOHPurity: 100, KOHPurity: 90}
	f.Superfat, f.Process.Kind = -3, recipe.Cooked
	f.Fats[1].AfterCook = true
	f.Fats[2].Fat = fat.NewOwn("House tallow", 196.5, 0.905, "beef-tallow")
	f.Fats[2].Fat.Certified = true
	f.Dilution = &recipe.Dilution{Soap: 26, Glycerin: 4}
	one := exchange.Recipe{Formula: f}
	var text bytes.Buffer
	require.NoError(t, exchange.WriteRecipe(&text, one))
	back, err := exchange.ReadRecipes(&text)
	require.NoError(t, err)
	assert.Equal(t, []exchange.Recipe{one}, back)
}
