package web_test

import (
	"context"
	"database/sql"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// apart is how far the rows of one copy are from those of the next.
const apart = 100_000

// repeat writes the lots of a stage down again and again, each copy with all its
// records, numbers of its own and some time earlier than the one before. So a
// shop gets the history of ten years in seconds.
func repeat(t testing.TB, db *sql.DB, stage lot.Stage, from, copies int, earlier time.Duration) {
	t.Helper()
	tx, err := db.Begin()
	require.NoError(t, err)
	strs := func(query string, args ...any) (out []string) {
		rows, err := tx.Query(query, args...)
		require.NoError(t, err)
		defer rows.Close()
		for rows.Next() {
			var s string
			require.NoError(t, rows.Scan(&s))
			out = append(out, s)
		}
		require.NoError(t, rows.Err())
		return out
	}
	lots := fmt.Sprintf(`SELECT lot_id FROM lot_state WHERE stage = '%s' AND lot_id < %d`, stage, apart)
	// The tables of a lot, and those of its incidents.
	chosen := map[string]string{"lot": `id IN (` + lots + `)`}
	for _, table := range strs(`SELECT m.name FROM sqlite_master m WHERE m.type = 'table' AND EXISTS (SELECT 1 FROM pragma_table_info(m.name) WHERE name = 'lot_id')`) {
		chosen[table] = `lot_id IN (` + lots + `)`
	}
	for _, table := range strs(`SELECT m.name FROM sqlite_master m WHERE m.type = 'table' AND EXISTS (SELECT 1 FROM pragma_table_info(m.name) WHERE name = 'incident_id')`) {
		if chosen[table] == "" {
			chosen[table] = `incident_id IN (SELECT id FROM incident WHERE lot_id IN (` + lots + `))`
		}
	}
	delete(chosen, "stock_move") // a jug is not drawn from again by a copy
	var entries []string
	for table, where := range chosen {
		if len(strs(`SELECT name FROM pragma_table_info(?) WHERE name = 'entry_id'`, table)) > 0 {
			entries = append(entries, fmt.Sprintf(`SELECT entry_id FROM %s WHERE %s`, table, where))
		}
	}
	chosen["entry"] = `id IN (` + strings.Join(entries, " UNION ") + `)`
	tables := []string{"entry", "lot"}
	for table := range chosen {
		if !slices.Contains(tables, table) {
			tables = append(tables, table)
		}
	}
	for _, table := range tables {
		var into, values []string
		for _, column := range strs(`SELECT name FROM pragma_table_info(?)`, table) {
			value := column
			owner := strs(`SELECT "table" FROM pragma_foreign_key_list(?) WHERE "from" = ?`, table, column)
			switch {
			case column == "id", len(owner) > 0 && chosen[owner[0]] != "", column == "last_entry":
				value += ` + $k * $apart`
			case table == "lot" && (column == "pot" || column == "number"):
				value += ` + $k * 100`
			case column == "oid":
				value += ` || 'k' || $k`
			case column == "code" && table == "lot":
				value = `'copy-' || (number + $k * 100)`
			case strings.HasSuffix(column, "_at"):
				value += ` - $k * $earlier`
			}
			into, values = append(into, column), append(values, value)
		}
		statement, err := tx.Prepare(fmt.Sprintf(`INSERT INTO %s (%s) SELECT %s FROM %s WHERE %s`, table, strings.Join(into, ", "), strings.Join(values, ", "), table, chosen[table]))
		require.NoError(t, err, table)
		for k := from; k < from+copies; k++ {
			_, err := statement.Exec(sql.Named("k", k), sql.Named("apart", apart), sql.Named("earlier", earlier.Milliseconds()))
			require.NoError(t, err, table)
		}
	}
	_, err = tx.Exec(`DROP TRIGGER IF EXISTS lot_keep_u`)
	require.NoError(t, err)
	for _, number := range strs(`SELECT number FROM lot WHERE code LIKE 'copy-%'`) {
		n, err := strconv.Atoi(number)
		require.NoError(t, err)
		_, err = tx.Exec(`UPDATE lot SET code = ? WHERE number = ?`, lot.Code(n), n)
		require.NoError(t, err)
	}
	assert.Empty(t, strs(`SELECT "table" FROM pragma_foreign_key_check`), "every record belongs to something")
	require.NoError(t, tx.Commit())
}

// busy is a visitor of the demo shop after many more lots: those that are gone,
// and those on the racks, repeated so often.
func busy(t testing.TB, gone, curing int) *visitor {
	t.Helper()
	file, err := seeded()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, writeShop(dir, file))
	db, err := sql.Open("sqlite", dir+"/"+store.File)
	require.NoError(t, err)
	db.SetMaxOpenConns(1)
	repeat(t, db, lot.Gone, 1, gone, 17*time.Hour)
	repeat(t, db, lot.Curing, gone+1, curing, time.Millisecond)
	require.NoError(t, db.Close())
	s, err := shop.Open(context.Background(), dir, func() time.Time { return moment })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	return v
}

func TestALongHistoryIsSearchedAndPagedAndTheShelfStaysWhole(t *testing.T) {
	v := busy(t, 300, 20)
	_, page := v.get("/lots")
	matches(t, page, `1 to 60 of 4\d\d `)
	assert.Equal(t, 60, strings.Count(page, `<a class="code" href="/lots/`), "a page of the log is a page")
	code := lot.Code(15001) // one of the oldest
	status, page := v.get("/lots?q=" + code)
	require.Equal(t, http.StatusOK, status)
	has(t, page, code)
	_, page = v.get("/")
	assert.Greater(t, strings.Count(page, `aria-label="Lot `), 100, "all that cures stands on the shelf")
}

// What pages cost in a shop of ten years: about 5,000 lots, 200 of them curing.
func BenchmarkPagesOfABusyShop(b *testing.B) {
	v := busy(b, 4800, 32)
	for _, path := range []string{"/", "/lots", "/lots?q=fig", "/lots?trouble=any", "/lots?q=" + lot.Code(7), "/calendar", "/make", "/plan", "/recipes", "/stores", "/racks"} {
		b.Run(strings.NewReplacer("/", "_", "?", "_").Replace(path), func(b *testing.B) {
			for b.Loop() {
				if status, _ := v.get(path); status != http.StatusOK {
					b.Fatal(status)
				}
			}
		})
	}
}
