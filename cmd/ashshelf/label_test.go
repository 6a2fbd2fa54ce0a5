package main

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const labelled = `{"format":"ashshelf.label-request/1",
 "recipe":{"format":"ashshelf.recipe/1","name":"Fig bar",
  "fats":[{"fat":"olive-oil","percent":100}],
  "alkali":{"naoh_percent":100,"naoh_purity_percent":100,"koh_purity_percent":90},
  "superfat_percent":0,"water":{"basis":"liquid-to-lye","value":2},
  "liquids":[{"liquid":"water","percent":100,"carries_lye":true}],
  "additives":[{"name":"Fig leaf","stage":"trace","comes_from":"none","rate":{"basis":"percent-of-fats","value":1}},
   {"name":"Brick dust","stage":"trace","comes_from":"none","label_name":"Ground brick",
    "colour":true,"rate":{"basis":"percent-of-fats","value":3}},
   {"name":"Titanium dioxide","stage":"trace","rate":{"basis":"percent-of-fats","value":0.1}}]},
 "style":"after-saponification","drying_loss_percent":10,
 "allergens":[{"additive":"Fig leaf","name":"Linalool","percent":4}],
 "words":"Cleans gently. Repels midges."}`

// The bar of the hand-worked olive recipe, with 41 g more in it: (1406.347 + 41) × 0.9 = 1302.612 g.
func TestTheLabelCommandSaysWhatStandsOnTheBand(t *testing.T) {
	run := func(in string, args ...string) (int, string, string) {
		var out, errs bytes.Buffer
		code := runLabel(args, strings.NewReader(in), &out, &errs)
		return code, out.String(), errs.String()
	}
	code, out, errs := run(labelled)
	require.Zero(t, code, errs)
	type share struct {
		Name    string
		Percent float64
	}
	var l struct {
		Format      string
		Ingredients []share
		Allergens   []share
		Marks       []string
		Claims      []struct{ Words, Tier, Why string }
		Text        string
	}
	require.NoError(t, json.Unmarshal([]byte(out), &l))
	assert.Equal(t, "ashshelf.label/1", l.Format)
	assert.Equal(t, "Sodium Olivate, Aqua, Glycerin, Fig leaf, Linalool, Ground brick, CI 77891", l.Text)
	assert.InDelta(t, 100*1031.491/1302.612, l.Ingredients[0].Percent, 0.001)
	require.Len(t, l.Allergens, 1)
	assert.InDelta(t, 100*10*.04/1302.612, l.Allergens[0].Percent, 1e-5)
	assert.Equal(t, []string{"vegan", "palm-free"}, l.Marks, "what has allergens of a scent is not unscented")
	require.Len(t, l.Claims, 2)
	assert.Equal(t, "plain", l.Claims[0].Tier)
	assert.Equal(t, "Repels midges", l.Claims[1].Words)
	assert.Equal(t, "approval", l.Claims[1].Tier)
	assert.NotEmpty(t, l.Claims[1].Why)

	code, out, _ = run(labelled, "-out", "text")
	assert.Zero(t, code)
	assert.Contains(t, out, "approval: Repels midges")

	for change, says := range map[string]string{
		`"additive":"Fig leaf"→"additive":"Pine"`:                                          "has no additive “Pine”",
		`"percent":4→"percent":0`:                                                          "allergens[0].percent",
		`loss_percent":10→loss_percent":30`:                                                "drying_loss_percent: only",
		`"style":"after-saponification"→"style":"as"`:                                      "style",
		`"style":"after-saponification",→`:                                                 "style",
		`olive-oil→moon-oil`:                                                               "recipe.fats[0].fat",
		`"superfat_percent":0→"superfat_percent":50`:                                       "recipe.superfat_percent",
		`"colour":true→"colour":3`:                                                         "recipe.additives[1].colour",
		`"label_name":"Ground brick"→"label_name":" "`:                                     "recipe.additives[1].label_name",
		`"name":"Fig bar"→"name":"Fig bar","label_name":1`:                                 "recipe.label_name: there is no such field",
		`"colour":true→"hue":true`:                                                         "recipe.additives[1].hue: there is no such field",
		`percent-of-fats","value":1}→grams-per-batch","value":9}`:                          "recipe.written_for_fats_g",
		`"rate":{"basis":"percent-of-fats","value":1}→"rate":{"basis":"by-eye","value":0}`: "by eye",
	} {
		old, with, _ := strings.Cut(change, "→")
		require.Equal(t, 1, strings.Count(labelled, old), old)
		code, out, errs := run(strings.Replace(labelled, old, with, 1))
		assert.Equal(t, 2, code, change)
		assert.Empty(t, out, change)
		assert.Contains(t, errs, says, change)
	}
	sized := strings.Replace(labelled, `percent-of-fats","value":1}`, `grams-per-batch","value":10}`, 1)
	code, out, errs = run(strings.Replace(sized, `"name":"Fig bar"`, `"name":"Fig bar","written_for_fats_g":1000`, 1))
	assert.Zero(t, code, errs)
	assert.Contains(t, out, "Fig leaf")
}
