package store

import (
	"context"
	"database/sql"
	"io/fs"
	"os"
	"path/filepath"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

// at makes a database as the program of an earlier schema left it.
func at(t *testing.T, version int64, rows ...string) (dir string) {
	t.Helper()
	dir = t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, File)+"?_pragma=foreign_keys(1)")
	require.NoError(t, err)
	files, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	p, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	require.NoError(t, err)
	_, err = p.UpTo(context.Background(), version)
	require.NoError(t, err)
	for _, row := range rows {
		_, err := db.Exec(row)
		require.NoError(t, err, row)
	}
	require.NoError(t, db.Close())
	return dir
}

// What a shop of the first schema had recorded is all there in the newest one,
// and a copy of how it was lies beside it.
func TestAShopOfTheFirstSchemaComesUpToDateWithAllItsRecords(t *testing.T) {
	dir := at(
		t,
		1,
		`INSERT INTO person (name) VALUES ('Ida')`,
		`INSERT INTO device (token, label, first_seen) VALUES ('t', 'tablet', 1)`,
		`INSERT INTO entry (kind, occurred_at, recorded_at, device_id) VALUES ('shop', 1, 1, 1)`,
		`INSERT INTO shop (entry_id, name, zone, units, currency, emergency, scale_step, demo) VALUES (1, 'Old bench', 'UTC', `+
			`'metric', 'EUR', '112', 0.5, 0)`,
		`INSERT INTO entry (kind, occurred_at, recorded_at, person_id, device_id) VALUES ('recipe', 2, 2, 1, 1), ('mold', 3, 3, 1, `+
			`1), ('plan', 4, 4, 1, 1)`,
		`INSERT INTO recipe (oid, entry_id) VALUES ('r', 2)`,
		`INSERT INTO recipe_revision (entry_id, recipe_id, number, name, note, body) VALUES (2, 1, 1, 'Old bar', 'first', '{}')`,
		`INSERT INTO mold (oid, entry_id) VALUES ('m', 3)`,
		`INSERT INTO mold_revision (entry_id, mold_id, number, name, body) VALUES (3, 1, 1, 'Old loaf', '{}')`,
		`INSERT INTO plan (oid, entry_id, revision, body) VALUES ('p', 4, 2, '{}')`,
		`INSERT INTO entry (kind, occurred_at, recorded_at, person_id, device_id) VALUES ('lot', 5, 5, 1, 1), ('weighing', 6, 6, 1, 1)`,
		`INSERT INTO lot (oid, number, code, entry_id, plan_id, recipe_id, pot, frozen) VALUES ('l', 1, '1-H', 5, 1, 1, 1, `+
			`'{"sheet":[{"items":[{"key":"fat:olive-oil","name":"Olive oil"}]}]}')`,
		`INSERT INTO lot_state (lot_id, stage, last_entry) VALUES (1, 'making', 6)`,
		`INSERT INTO weighing (entry_id, lot_id, item, target, actual) VALUES (6, 1, 'fat:olive-oil', 500000, 501000)`,
		`INSERT INTO bar_balance (lot_id, grade, bars) VALUES (1, 'first', 7)`,
	)
	db, err := Open(context.Background(), dir)
	require.NoError(t, err)
	defer db.Close()
	require.NoError(t, db.Read(context.Background(), func(tx *Tx) error {
		s, err := tx.Shop()
		require.NoError(t, err)
		assert.Equal(
			t,
			Shop{
				Name:      "Old bench",
				Zone:      "UTC",
				Units:     "metric",
				Currency:  "EUR",
				Emergency: "112",
				ScaleStep: 0.5,
				FillRule:  "computed",
				PotLoss:   1,
				RiskyLoad: 60,
				RoomC:     20,
			},
			s,
			"what is new has its default",
		)
		for book, name := range map[Collection]string{Recipes: "Old bar", Molds: "Old loaf"} {
			revs, err := tx.Latest(book)
			require.NoError(t, err)
			require.Len(t, revs, 1)
			assert.Equal(t, name, revs[0].Name)
		}
		p, err := tx.Plan("p")
		require.NoError(t, err)
		assert.Equal(t, "Ida", p.Who)
		assert.Empty(t, p.Day)
		found, err := tx.LotHeads(LotsWhere{Material: "fat:olive-oil"})
		require.NoError(t, err)
		require.Len(t, found, 1, "an old lot is found by its oil")
		lots, err := tx.LotsOf(found, true)
		require.NoError(t, err)
		require.Len(t, lots, 1)
		require.Len(t, lots[0].Weighings, 1)
		assert.Equal(t, 501.0, lots[0].Weighings[0].Actual)
		assert.Equal(t, lot.Typed, lots[0].Weighings[0].How, "an old weight counts as typed")
		assert.Equal(t, 7, lots[0].Balance[ledger.Of(ledger.First)], "its bars are of the usual size")
		return nil
	}))
	assert.FileExists(t, filepath.Join(dir, "copy-of-schema-1.db"))
}

// Every table of what happened refuses to be changed or thinned out, whichever
// migration made it.
func TestEveryRecordIsOnlyAddedTo(t *testing.T) {
	dir := at(t, 11)
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, File))
	require.NoError(t, err)
	defer db.Close()
	rows, err := db.Query(
		`SELECT m.name FROM sqlite_master m WHERE m.type = 'table' AND EXISTS (SELECT 1 FROM pragma_table_info(m.name) WHERE name = 'entry_id')`,
	)
	require.NoError(t, err)
	var tables []string
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		tables = append(tables, name)
	}
	require.NoError(t, rows.Close())
	require.Greater(t, len(tables), 20)
	for _, table := range tables {
		var n int
		require.NoError(
			t,
			db.QueryRow(`SELECT count(*) FROM sqlite_master WHERE type = 'trigger' AND tbl_name = ? AND sql LIKE '%only added to%'`,
				table).
				Scan(&n),
		)
		assert.Equal(t, 2, n, "%s keeps its rows", table)
	}
}

// An upgrade that is cut off, however often, leaves the first copy as it was; one of
// other records stands beside it.
func TestACopyBeforeAnUpgradeIsNeverReplaced(t *testing.T) {
	dir := at(t, 1,
		`INSERT INTO device (token, label, first_seen) VALUES ('t', 'tablet', 1)`,
		`INSERT INTO entry (kind, occurred_at, recorded_at, device_id) VALUES ('shop', 1, 1, 1)`)
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, File))
	require.NoError(t, err)
	defer db.Close()
	ctx := context.Background()
	copies := func() (out []string) {
		found, err := filepath.Glob(filepath.Join(dir, "copy-of-*"))
		require.NoError(t, err)
		for _, path := range found {
			out = append(out, filepath.Base(path))
		}
		return out
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "copy-of-schema-1.db.half"), []byte("cut off"), 0o600))
	require.NoError(t, keepCopy(ctx, db, dir, 1))
	assert.Equal(t, []string{"copy-of-schema-1.db"}, copies(), "whole, and nothing half")
	first, err := os.ReadFile(filepath.Join(dir, "copy-of-schema-1.db"))
	require.NoError(t, err)
	for range 5 {
		require.NoError(t, keepCopy(ctx, db, dir, 1))
	}
	assert.Len(t, copies(), 1, "the same records need no other copy")
	_, err = db.Exec(`INSERT INTO entry (kind, occurred_at, recorded_at, device_id) VALUES ('shop', 2, 2, 1)`)
	require.NoError(t, err)
	require.NoError(t, keepCopy(ctx, db, dir, 1))
	assert.Equal(t, []string{"copy-of-schema-1-2.db", "copy-of-schema-1.db"}, copies())
	again, err := os.ReadFile(filepath.Join(dir, "copy-of-schema-1.db"))
	require.NoError(t, err)
	assert.Equal(t, first, again)
}
