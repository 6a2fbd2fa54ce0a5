package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// full is a request with every part, to be changed one part at a time.
const full = `{"format":"ashshelf.plan-request/1",
 "recipe":{"format":"ashshelf.recipe/1","name":"Hedgerow bar",
  "fats":[{"fat":"olive-oil","percent":50},{"fat":"coconut-oil","percent":30},{"fat":"beef-tallow","percent":20}],
  "alkali":{"naoh_percent":100,"naoh_purity_percent":100,"koh_purity_percent":90},
  "superfat_percent":5,"water":{"basis":"lye-strength","value":33},
  "liquids":[{"liquid":"water","percent":100,"carries_lye":true}],
  "additives":[{"name":"Sea salt","stage":"trace","density_g_per_ml":2.16,"rate":{"basis":"percent-of-fats","value":50}}]},
 "target":{"molds":[{"mold":{"shape":"box","length_mm":250,"width_mm":80,"fill_mm":65},"count":3}]},
 "fill_rule":"computed","pot_loss_percent":0,"pot_capacity_g":9000,"resolution_g":0,"liquid_temperature_c":20}`

// changed replaces one part of the full request.
func changed(t *testing.T, old, with string) string {
	t.Helper()
	require.Equal(t, 1, strings.Count(full, old), "%s stands once in the request", old)
	return strings.Replace(full, old, with, 1)
}

// Each refusal of docs/formats.md: exit 2, nothing on standard output, and on
// standard error where it is, by how much, and what would work.
func TestEveryRefusalSaysWhereAndWhatWouldWork(t *testing.T) {
	stock := func(s string) string {
		return changed(t, `"resolution_g":0`, `"resolution_g":0,"lye_stock":`+s)
	}
	for _, c := range []struct{ request, says string }{
		{changed(t, `"superfat_percent":5`, `"superfat_percent":41`), "between 0 and 40"},
		{changed(t, `"superfat_percent":5`, `"superfat_percent":-1`), "between 0 and 40"},
		{changed(t, `"naoh_purity_percent":100`, `"naoh_purity_percent":49`), "between 50 and 100"},
		{changed(t, `"koh_purity_percent":90`, `"koh_purity_percent":101`), "between 50 and 100"},
		{changed(t, `"value":33`, `"value":53`), "between 10 and 52"},
		{changed(t, `"basis":"lye-strength","value":33`, `"basis":"liquid-to-lye","value":0.8`), "between 0.9 and 9"},
		{changed(t, `"basis":"lye-strength","value":33`, `"basis":"percent-of-fats","value":4`), "between 5 and 100"},
		{changed(t, `"length_mm":250`, `"length_mm":0`), "target.molds[0].mold.length_mm"},
		{changed(t, `"count":3`, `"count":0`), "target.molds[0]"},
		{changed(t, `"fat":"olive-oil","percent":50`, `"fat":"olive-oil","percent":49`), "1 % missing"},
		{changed(t, `"fat":"olive-oil"`, `"fat":"moon-oil"`), "not a fat of the reference table"},
		{changed(t, `"name":"Hedgerow bar"`, `"name":"Hedgerow bar","colour":"green"`), "colour"},
		{changed(t, `"superfat_percent":5`, `"superfat_percent":5,"superfat_percent":6`), "superfat_percent"},
		{changed(t, `"fill_rule":"computed"`, `"fill_rule":"by eye"`), "fill_rule"},
		{changed(t, `"carries_lye":true}`, `"carries_lye":false}`), "carries the lye"},
		{changed(t, `{"liquid":"water","percent":100,"carries_lye":true}`,
			`{"liquid":"water","percent":20,"carries_lye":true},{"liquid":"goat-milk","percent":80,"carries_lye":false}`), "are missing"},
		{changed(t, `"target":{"molds":[{"mold":{"shape":"box","length_mm":250,"width_mm":80,"fill_mm":65},"count":3}]}`,
			`"target":{"fats_g":0.05}`), "too small to weigh"},
		{changed(t, `"target":{"molds":[{"mold":{"shape":"box","length_mm":250,"width_mm":80,"fill_mm":65},"count":3}]}`,
			`"target":{"ingredient":{"name":"goat-milk","grams":500}}`), "is not in the recipe"},
		{stock(`{"naoh_percent":50,"temperature_c":8}`), "crystals form"},
		{stock(`{"naoh_percent":30,"temperature_c":21}`), "use a stock of 33 % or stronger"},
		{stock(`{"naoh_percent":70,"temperature_c":21}`), "between 10 and 52"},
		{stock(`{"naoh_percent":50,"koh_percent":50}`), "lye_stock"},
		{changed(t, `"liquid_temperature_c":20`, `"liquid_temperature_c":-40`), "between -30 and 100"},
		{changed(t, `"pot_capacity_g":9000`, `"pot_capacity_g":3`), "larger pot"},
		{changed(t, `{"name":"Sea salt","stage":"trace","density_g_per_ml":2.16,"rate":{"basis":"percent-of-fats","value":50}}`,
			`{"name":"Citric acid","stage":"liquid","rate":{"basis":"percent-of-batter","value":60}}`),
			"there is no such soap; use at most"},
	} {
		code, out, errs := run3(c.request)
		assert.Equal(t, 2, code, "%s\n%s", c.says, errs)
		assert.Empty(t, out, c.says)
		assert.Contains(t, errs, c.says)
	}
}

func TestWhatIsOnlyACautionIsPlanned(t *testing.T) {
	for _, c := range []struct{ request, code string }{
		{changed(t, `"superfat_percent":5`, `"superfat_percent":1`), "superfat.low"},
		{changed(t, `"fill_rule":"computed"`, `"fill_rule":"over-0.9"`), "fill.overflow"},
		{changed(t, `"resolution_g":0`, `"resolution_g":0,"lye_stock":{"naoh_percent":50,"temperature_c":15}`), "lye.crystals.near"},
		{changed(t, `"resolution_g":0`, `"resolution_g":5`), "lye.handling"},
	} {
		code, out, errs := run3(c.request)
		require.Zero(t, code, "%s\n%s", c.code, errs)
		var p struct {
			Cautions []struct{ Code, Level, Text string }
			Batches  int
			PerBatch *struct {
				NaOH float64 `json:"naoh_g"`
			} `json:"per_batch"`
			NaOH float64 `json:"naoh_g"`
		}
		require.NoError(t, json.Unmarshal([]byte(out), &p))
		codes := map[string]bool{}
		for _, one := range p.Cautions {
			codes[one.Code] = true
			assert.Contains(t, []string{"advice", "warn", "block"}, one.Level)
			assert.NotEmpty(t, one.Text)
		}
		assert.True(t, codes[c.code], "%s in %v", c.code, codes)
	}
}

// 2 % of citric acid, by any of its names, takes 12.5 g of NaOH for a kilo of fats;
// a file that says itself what it takes is believed.
func TestAnAcidIsCountedUnlessTheFileSaysHowMuch(t *testing.T) {
	lye := func(additive string) float64 {
		code, out, errs := run3(
			changed(
				t,
				`{"name":"Sea salt","stage":"trace","density_g_per_ml":2.16,"rate":{"basis":"percent-of-fats","value":50}}`,
				additive,
			),
		)
		require.Zero(t, code, errs)
		var p struct {
			NaOH     float64 `json:"naoh_g"`
			Fats     float64 `json:"fats_g"`
			Superfat float64 `json:"superfat_percent"`
		}
		require.NoError(t, json.Unmarshal([]byte(out), &p))
		return p.NaOH / p.Fats * 1000
	}
	without := lye(`{"name":"Kaolin","stage":"fats","rate":{"basis":"percent-of-fats","value":2}}`)
	for name, takes := range map[string]float64{"Citric acid": 12.49, "citric acid, monohydrate": 11.42, "Lemon juice": 0.69,
		"Placid blue": 0, "Sodium citrate": 0} {
		assert.InDelta(
			t,
			takes,
			lye(`{"name":"`+name+`","stage":"liquid","rate":{"basis":"percent-of-fats","value":2}}`)-without,
			0.01,
			name,
		)
	}
	assert.InDelta(
		t,
		10,
		lye(`{"name":"Citric acid","stage":"liquid","lye_g_per_g":0.5,"rate":{"basis":"percent-of-fats","value":2}}`)-without,
		0.01,
	)
	assert.InDelta(
		t,
		0,
		lye(`{"name":"Citric acid","stage":"liquid","lye_g_per_g":0,"rate":{"basis":"percent-of-fats","value":2}}`)-without,
		0.01,
	)
	assert.InDelta(
		t,
		0,
		lye(`{"name":"Citric acid","stage":"trace","behaviour":"behaves","rate":{"basis":"percent-of-fats","value":2}}`)-without,
		0.01,
		"a scent of that name is none",
	)
}

// A recipe with all that it can say is planned like any other, and soft soap of
// potassium hydroxide draws from its own stock.
func TestTheCommandTakesAllThatARecipeSays(t *testing.T) {
	everything := changed(t, `"name":"Hedgerow bar",`, `"name":"Hedgerow bar","temperature":"room","full_liquid_percent_of_fats":38,
	 "scent":{"rate_percent_of_fats":2,"parts":[{"name":"Fig leaf","percent":100,"max_percent":5}]},
	 "portions":[{"name":"blue","percent":60,"colorants":[{"name":"Mica","density_g_per_ml":2.8,`+
		`"rate":{"basis":"tsp-per-lb-fats","value":1,"grams_per_tsp":1.7},"disperse":{"in":"olive-oil","spoons":2}}]},`+
		`{"name":"plain","percent":40}],
	 "design":[{"do":"pour","portion":"blue"},{"do":"pour","portion":"plain"},{"do":"swirl"}],
	 "infusions":[{"fat":"olive-oil","herb":"Nettle"}],"process":{"kind":"cold","trace":"light"},"tags":["winter"],`)
	code, out, errs := run3(everything)
	require.Zero(t, code, errs)
	assert.Contains(t, out, `"Fig leaf"`)
	assert.Contains(t, out, `"Mica, blue"`)
	soft := strings.Replace(
		changed(t, `"naoh_percent":100`, `"naoh_percent":0`),
		`"resolution_g":0`,
		`"resolution_g":0,"lye_stock":{"koh_percent":45,"temperature_c":5}`,
		1,
	)
	code, out, errs = run3(soft)
	require.Zero(t, code, errs)
	var p struct {
		KOH  float64 `json:"koh_g"`
		Peak float64 `json:"lye_peak_c"`
		Draw struct {
			Solution float64 `json:"solution_g"`
			Water    float64 `json:"water_in_solution_g"`
		} `json:"lye_draw"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	assert.InEpsilon(t, p.KOH*0.9, p.Draw.Solution-p.Draw.Water, 1e-9, "the draw brings the pure alkali")
	assert.Greater(t, p.Peak, 15.0)
	code, text, _ := run3(soft, "-out", "text")
	require.Zero(t, code)
	assert.Contains(t, text, "lye stock to draw")
}
