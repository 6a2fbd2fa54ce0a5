package exchange_test

import (
	"bytes"
	"encoding/csv"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
)

func aStore() exchange.Stores {
	price := int64(5890)
	return exchange.Stores{
		Currency: "EUR",
		Materials: []inventory.Material{{
			Key: "fat:olive-oil", Name: "Olive oil", Kind: inventory.Fat, Unit: inventory.Milligrams, Label: "Olea Europaea Fruit Oil",
			Offers: []inventory.Offer{
				{Supplier: "Quay\nOils", Amount: 5_000_000, Price: 5890, Lead: 6}, {Supplier: "Barn", Amount: 1_000_000, Price: -1},
			},
		}, {Key: "packaging:box", Name: "=Box", Kind: inventory.Packaging, Unit: inventory.Pieces}},
		Deliveries: []inventory.Delivery{
			{
				Bought: lot.Bought{OID: "d1", Item: "fat:olive-oil", Name: "Olive oil", Supplier: "Quay Oils", Code: "QO-1", Received: "2026-01-02"},
				Booked: true, Unit: inventory.Milligrams, Quantity: 5_000_000, Left: 4_362_000, Priced: 4_362_000, Goods: &price, Freight: 110,
				Status: inventory.Usable, BestBefore: "2027-01-01", Moves: []inventory.Move{
					{What: inventory.Received, Change: 5_000_000, Who: "Ida", At: time.Date(2026, 1, 2, 9, 0, 0, 0, time.UTC)},
					{What: inventory.Weighed, Change: -638_000, Lot: "4-K", Who: "Ida", At: time.Date(2026, 1, 3, 9, 0, 0, 0, time.UTC)},
					{What: inventory.Found, Change: 5, Settled: "it held more", Who: "Ida", At: time.Date(2026, 1, 4, 9, 0, 0, 0, time.UTC)},
				},
			},
			{
				Bought: lot.Bought{OID: "d2", Item: "packaging:box", Name: "=Box", Code: "B"}, Booked: true, Unit: inventory.Pieces,
				Quantity: 400, Left: 380, Status: inventory.Blocked,
			},
		},
	}
}

func TestAStoreIsWrittenInItsPublishedFormat(t *testing.T) {
	var out bytes.Buffer
	require.NoError(t, exchange.WriteStores(&out, aStore()))
	text, err := os.ReadFile("schema/stores-1.schema.json")
	require.NoError(t, err)
	schema, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("urn:ashshelf:stores-1", schema))
	doc, err := jsonschema.UnmarshalJSON(&out)
	require.NoError(t, err)
	require.NoError(t, c.MustCompile("urn:ashshelf:stores-1").Validate(doc))
	first := doc.(map[string]any)["deliveries"].([]any)[0].(map[string]any)
	assert.Equal(t, "60.00", first["cost"])
	assert.Equal(t, "4362", first["grams_left"].(interface{ String() string }).String())
	second := doc.(map[string]any)["deliveries"].([]any)[1].(map[string]any)
	assert.NotContains(t, second, "cost", "a price that is not known is not written as nothing")
}

func TestAStoreIsWrittenAsTables(t *testing.T) {
	for what, write := range map[string]func(*bytes.Buffer) error{
		"fat:olive-oil,Olive oil,fat":                   func(b *bytes.Buffer) error { return exchange.WriteMaterials(b, aStore()) },
		"QO-1,2026-01-02,2027-01-01,,usable,5000,,4362": func(b *bytes.Buffer) error { return exchange.WriteDeliveries(b, aStore()) },
		"weighed,-638,,4-K":                             func(b *bytes.Buffer) error { return exchange.WriteMoves(b, aStore()) },
	} {
		var b bytes.Buffer
		require.NoError(t, write(&b))
		assert.Contains(t, b.String(), what)
		rows, err := csv.NewReader(&b).ReadAll()
		require.NoError(t, err)
		for _, row := range rows {
			for _, cell := range row {
				assert.False(t, strings.HasPrefix(cell, "="), "no cell is a formula")
			}
		}
	}
}

func TestAListIsReadByTheNamesOfItsColumns(t *testing.T) {
	rows, err := exchange.ReadList([]byte("\ufeffMaterial;Best before;Amount\n Olive oil ;1 Nov 2026;2,5 kg\nSalt;;\"1 kg\"\n"))
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, map[string]string{"name": "Olive oil", "best_before": "1 Nov 2026", "amount": "2,5 kg"}, rows[0].Cells)
	assert.Equal(t, 3, rows[1].Line)
	tabs, err := exchange.ReadList([]byte("soap\tbars\nOld bar\t12"))
	require.NoError(t, err)
	assert.Equal(t, "12", tabs[0].Cells["bars"])
	for text, why := range map[string]string{
		"":                              "empty",
		"material,colour of the lid\n":  "colour of the lid",
		"price,cost\n":                  "two columns",
		"material,amount\nOlive oil\n":  "row 2 cannot be read",
		"material\n\"open":              "cannot be read",
		"material\n\xff\xfe":            "UTF-8",
		strings.Repeat("material", 2e5): "megabyte",
		"material\n" + strings.Repeat("a\n", 600): "more than 500 rows",
	} {
		_, err := exchange.ReadList([]byte(text))
		assert.ErrorContains(t, err, why)
	}
}

func FuzzAListIsReadOrRefused(f *testing.F) {
	f.Add([]byte("material,amount,price\nOlive oil,5 kg,40\n"))
	f.Add([]byte("soap;bars;code\n\"Old\nbar\";3;Q"))
	f.Fuzz(func(t *testing.T, text []byte) {
		rows, err := exchange.ReadList(text)
		if err != nil {
			require.Empty(t, rows)
			return
		}
		for _, r := range rows {
			require.Greater(t, r.Line, 1)
			for name := range r.Cells {
				require.NotEmpty(t, name)
			}
		}
	})
}
