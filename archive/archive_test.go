package archive_test

import (
	"bytes"
	"database/sql"
	"encoding/json"
	"fmt"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite" // the database engine

	"ashshelf/archive"
	"ashshelf/archive/past"
)

// kind is one kind of body: where it stands in the database, and how it is read.
type kind struct {
	query string
	since int                                         // the schema that had it first
	plain func(text []byte) (again []byte, err error) // read with nothing unknown, and written as it was
	read  func(text []byte) (again []byte, err error) // lifted, and written anew
}

func kindOf[T any, P interface {
	*T
	archive.Body
}](since int, query string) kind {
	return kind{query, since, func(text []byte) ([]byte, error) {
		var b T
		d := json.NewDecoder(bytes.NewReader(text))
		d.DisallowUnknownFields()
		if err := d.Decode(&b); err != nil {
			return nil, err
		}
		return json.Marshal(b)
	}, func(text []byte) ([]byte, error) {
		b, err := archive.Read[T, P](text)
		if err != nil {
			return nil, err
		}
		return archive.Write[T, P](b)
	}}
}

var kinds = map[string]kind{
	"recipe":    kindOf[archive.Recipe](1, `SELECT body FROM recipe_revision`),
	"mold":      kindOf[archive.Mold](1, `SELECT body FROM mold_revision`),
	"lot":       kindOf[archive.Lot](1, `SELECT frozen FROM lot`),
	"plan":      kindOf[archive.KeptPlan](1, `SELECT body FROM plan`),
	"scent":     kindOf[archive.KeptScent](2, `SELECT body FROM scent_revision`),
	"equipment": kindOf[archive.Tool](3, `SELECT body FROM equipment_revision`),
	"container": kindOf[archive.Container](4, `SELECT body FROM stock`),
	"rescale":   kindOf[archive.Rescale](5, `SELECT body FROM run_rescale`),
	"rack":      kindOf[archive.Rack](8, `SELECT body FROM rack_revision`),
	"rules":     kindOf[archive.Rules](9, `SELECT body FROM rack_rules`),
	"material":  kindOf[archive.Material](16, `SELECT body FROM material_revision`),
	"order":     kindOf[archive.SupplyOrder](16, `SELECT body FROM supply_order`),
	"cost":      kindOf[archive.LotCost](16, `SELECT body FROM lot_cost`),

	"product":     kindOf[archive.Product](17, `SELECT body FROM product_revision`),
	"sheet":       kindOf[archive.Sheet](17, `SELECT body FROM sheet_revision`),
	"label rules": kindOf[archive.LabelRules](17, `SELECT body FROM label_rules`),
	"allergens":   kindOf[archive.Declaration](17, `SELECT body FROM allergen_word`),
	"assessment":  kindOf[archive.Assessment](17, `SELECT body FROM assessment`),
	"labels":      kindOf[archive.PrintedLabel](17, `SELECT body FROM label_run`),

	"market":     kindOf[archive.Market](18, `SELECT body FROM market_revision`),
	"till":       kindOf[archive.TillLines](18, `SELECT body FROM till_entry`),
	"home":       kindOf[archive.MarketHome](18, `SELECT body FROM market_home`),
	"sale order": kindOf[archive.SaleOrder](18, `SELECT body FROM sale_order_revision`),
	"document":   kindOf[archive.SaleDocument](18, `SELECT body FROM sale_document`),
	"sale rules": kindOf[archive.SaleRules](18, `SELECT body FROM sale_rules`),

	"bench": kindOf[archive.Bench](19, `SELECT body FROM bench`),
}

// bodies are the bodies of a kind that the program of a schema wrote.
func bodies(t *testing.T, k kind, schema int) (out [][]byte) {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, past.Unpack(schema, dir, "shop.db"))
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "shop.db")+"?mode=ro")
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query(k.query)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var text string
		require.NoError(t, rows.Scan(&text))
		out = append(out, []byte(text))
	}
	require.NoError(t, rows.Err())
	return out
}

// What any program wrote is read to its last field: written again it is the same.
func TestWhatWasEverWrittenIsReadToTheLastField(t *testing.T) {
	for name, k := range kinds {
		for schema := k.since; schema <= past.Newest; schema++ {
			t.Run(fmt.Sprint(name, " of schema ", schema), func(t *testing.T) {
				t.Parallel()
				list := bodies(t, k, schema)
				require.NotEmpty(t, list)
				for _, text := range list {
					again, err := k.plain(text)
					require.NoError(t, err, "nothing in it is unknown: %s", text)
					if name == "rules" && text[0] == '[' { // as it was written before it had a version
						var rules struct{ Apart json.RawMessage }
						require.NoError(t, json.Unmarshal(again, &rules))
						again = rules.Apart
					}
					require.JSONEq(t, string(text), string(again))
					newest, err := k.read(text)
					require.NoError(t, err)
					twice, err := k.read(newest)
					require.NoError(t, err)
					assert.Equal(t, string(newest), string(twice), "what is lifted is not lifted again")
				}
			})
		}
	}
}

// A sheet of the first version knew its places by titles.
func TestASheetOfTheFirstVersionSaysWhereItsSectionsGo(t *testing.T) {
	text := []byte(
		`{"sheet":[{"title":"Lye jug","items":[]},{"title":"Fats to melt"},{"title":"Liquid fats"},{"title":"Stirred into the ` +
			`fats"},{"title":"Liquid kept off the lye"},{"title":"Portion “clay”"}]}`,
	)
	var got []string
	r, err := archive.Read[archive.Rescale](text)
	require.NoError(t, err)
	for _, s := range r.Sheet {
		got = append(got, s.Place)
	}
	assert.Equal(t, []string{"jug", "melt", "fluid", "stir", "off-lye", "hand"}, got)
	again, err := archive.Write(archive.Rescale{Sheet: []archive.Section{{Place: "hand", Title: "Lye jug"}}})
	require.NoError(t, err)
	if r, err = archive.Read[archive.Rescale](again); assert.NoError(t, err) {
		assert.Equal(t, "hand", r.Sheet[0].Place, "a portion may be called as it likes since")
	}
}

func TestWhatANewerProgramWroteIsNotGuessedAt(t *testing.T) {
	for name, k := range kinds {
		_, err := k.read([]byte(`{"v":1000}`))
		assert.ErrorIs(t, err, archive.ErrNewer, name)
		_, err = k.read([]byte(`{"v":`))
		assert.Error(t, err, name)
	}
	assert.Equal(t, 3, archive.Newest[archive.Lot](), "raising it needs a step, and a shop of the past")
}

// Any bytes are read or refused, and what is read can be written and read again.
func FuzzABodyIsReadOrRefused(f *testing.F) {
	var names []string
	for name := range kinds {
		names = append(names, name)
	}
	f.Add(`{"v":2,"sheet":[{"place":"jug","title":"x","items":[{"key":"a","target":1}]}],"pot":{"per_batch":{}}}`)
	f.Add(`[{"a":"scented","b":"olive","within":"level"}]`)
	f.Add(
		`{"formula":{"fats":[{"fat":{"name":"Olive oil","acids":{"oleic":70}},"percent":100}],"scent":{"parts":[{"name":"fig","percent":100}]}}}`,
	)
	f.Fuzz(func(t *testing.T, text string) {
		for _, name := range names {
			again, err := kinds[name].read([]byte(text))
			if err != nil {
				continue
			}
			twice, err := kinds[name].read(again)
			require.NoError(t, err, name)
			require.Equal(t, string(again), string(twice), name)
		}
	})
}
