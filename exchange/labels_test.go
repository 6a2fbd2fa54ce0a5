package exchange_test

import (
	"bytes"
	"errors"
	"io"
	"io/fs"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/caution"
	"ashshelf/soap/label"
)

const figBar = `{"format":"ashshelf.label-request/1",
 "recipe":{"fats":[{"fat":"olive-oil","percent":90},
   {"name":"Pumpkin seed oil","sap_koh_mg_per_g":190,"density_g_per_ml":0.92,"percent":10}],
  "superfat_percent":5,"water":{"basis":"lye-strength","value":33},
  "liquids":[{"liquid":"goat-milk","percent":50},{"liquid":"water","percent":50,"carries_lye":true}],
  "additives":[{"name":"Fig leaf","stage":"trace","colour":false,"rate":{"basis":"percent-of-fats","value":2}}],
  "portions":[{"name":"red","percent":100,"colorants":[
   {"name":"Iron oxide, red","colour":"CI 77491","label_name":"Red earth","rate":{"basis":"percent-of-fats","value":0.2}}]}]},
 "style":"as-put-in","colours":"name","drying_loss_percent":8,
 "allergens":[{"additive":"Fig leaf","name":"Linalool","percent":4}],"words":"Softens hands."}`

// holdsTo holds a text to a published schema.
func holdsTo(t *testing.T, name string, text io.Reader) {
	t.Helper()
	schema, err := fs.ReadFile(exchange.Schemas(), name+".schema.json")
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(schema))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("urn:ashshelf:"+name, doc))
	got, err := jsonschema.UnmarshalJSON(text)
	require.NoError(t, err)
	assert.NoError(t, c.MustCompile("urn:ashshelf:"+name).Validate(got))
}

func TestALabelIsWrittenAsItsSchemaSays(t *testing.T) {
	q, err := exchange.ReadLabelRequest(strings.NewReader(figBar))
	require.NoError(t, err)
	made, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t,
		"Olea Europaea Fruit Oil, Caprae Lac, Sodium Hydroxide, Pumpkin seed oil, Fig leaf, Aqua, Linalool, Red earth", made.Text())

	var text bytes.Buffer
	require.NoError(t, exchange.WriteLabel(&text, made))
	holdsTo(t, "label-1", &text)

	q.Style = label.AfterSaponification
	made, err = label.Make(q)
	require.NoError(t, err)
	assert.Contains(t, made.Text(), "Saponified Pumpkin seed oil")
}

func TestOneThingHasOneNameOnALabel(t *testing.T) {
	twice := strings.Replace(figBar, `"additives":[`,
		`"additives":[{"name":"Iron oxide, red","stage":"trace","label_name":"Rust","rate":{"basis":"percent-of-fats","value":1}},`, 1)
	_, err := exchange.ReadLabelRequest(strings.NewReader(twice))
	var p caution.Problems
	require.ErrorAs(t, err, &p)
	assert.NotEmpty(t, p.At("recipe.portions[0].colorants[0].label_name"))
}

// Whatever is sent, it is answered with a label or with problems that say where.
func FuzzALabelRequestIsAnsweredOrRefused(f *testing.F) {
	f.Add(figBar)
	f.Add(strings.Replace(figBar, "as-put-in", "after-saponification", 1))
	f.Add(strings.Replace(figBar, `"fats":[`, `"fats":{},"x":[`, 1))
	f.Add(strings.Replace(figBar, `"portions":[`, `"portions":[[],3,null,`, 1))
	shortenBriefly(f)
	f.Fuzz(func(t *testing.T, text string) {
		q, err := exchange.ReadLabelRequest(strings.NewReader(text))
		if err == nil {
			var made label.Label
			if made, err = label.Make(q); err == nil {
				sum := 0.0
				for _, i := range made.Ingredients {
					sum += i.Percent
				}
				require.InDelta(t, 100, sum, 1e-6)
				require.NoError(t, exchange.WriteLabel(&bytes.Buffer{}, made))
				return
			}
		}
		var p caution.Problems
		require.True(t, errors.As(err, &p), "%v", err)
		require.NotEmpty(t, p)
	})
}
