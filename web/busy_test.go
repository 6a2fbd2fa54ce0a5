package web_test

import (
	"context"
	"database/sql"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/soap/inventory"
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
	for _, table := range strs(`SELECT m.name FROM sqlite_master m WHERE m.type = 'table' AND EXISTS (SELECT 1 FROM ` +
		`pragma_table_info(m.name) WHERE name = 'lot_id')`) {
		chosen[table] = `lot_id IN (` + lots + `)`
	}
	for _, table := range strs(`SELECT m.name FROM sqlite_master m WHERE m.type = 'table' AND EXISTS (SELECT 1 FROM ` +
		`pragma_table_info(m.name) WHERE name = 'incident_id')`) {
		if chosen[table] == "" {
			chosen[table] = `incident_id IN (SELECT id FROM incident WHERE lot_id IN (` + lots + `))`
		}
	}
	delete(chosen, "stock_move") // a jug is not drawn from again by a copy
	delete(chosen, "delivery_move")
	for _, table := range []string{"complaint", "recall_lot", "recall_move"} { // nobody calls back what was never made
		delete(chosen, table)
	}
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
		statement, err := tx.Prepare(
			fmt.Sprintf(
				`INSERT INTO %s (%s) SELECT %s FROM %s WHERE %s`,
				table,
				strings.Join(into, ", "),
				strings.Join(values, ", "),
				table,
				chosen[table],
			),
		)
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

// spread puts the copies on the racks that came later, of which each has its share.
func spread(t testing.TB, db *sql.DB) {
	t.Helper()
	_, err := db.Exec(`DROP TRIGGER IF EXISTS lot_place_keep_u`)
	require.NoError(t, err)
	_, err = db.Exec(`UPDATE lot_place SET
		rack = (SELECT oid FROM rack WHERE id = (SELECT CASE WHEN count(*) > 2 THEN 3 + lot_place.lot_id / $apart % (count(*) - 2) `+
		`ELSE 1 END FROM rack)),
		level = lot_place.lot_id % 5 WHERE lot_id > $apart`, sql.Named("apart", apart))
	require.NoError(t, err)
}

// more writes moves and weighings down under the lots that are gone, each with a
// head of its own: bars that came back and were sold again, so that their ledgers
// still balance, and weeks in which the marked bar lost nothing any more.
func more(t testing.TB, db *sql.DB, moves, weighings int) {
	t.Helper()
	tx, err := db.Begin()
	require.NoError(t, err)
	const first = 1 << 40 // beyond all entries
	const gone = ` FROM lot l JOIN lot_state s ON s.lot_id = l.id AND s.stage = 'gone' AND l.id > $apart JOIN entry e ON e.id = ` +
		`s.last_entry CROSS JOIN n `
	for _, statement := range []string{
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id) SELECT $first + l.id * 64 + i, CASE WHEN i < ` +
			`$moves THEN 'move' ELSE 'sample' END, e.occurred_at + i * 604800000, e.occurred_at + i * 604800000, e.person_id, e.device_id` +
			gone,
		`INSERT INTO bar_move (entry_id, lot_id, grade, reason, change, note) SELECT $first + l.id * 64 + i, l.id, 'first', CASE i ` +
			`% 2 WHEN 0 THEN 'returned' ELSE 'sold' END, CASE i % 2 WHEN 0 THEN 1 ELSE -1 END, ''` +
			gone + `WHERE i < $moves`,
		`INSERT INTO sample_weight (entry_id, lot_id, weight) SELECT $first + l.id * 64 + i, l.id, (SELECT min(weight) FROM ` +
			`sample_weight w WHERE w.lot_id = l.id)` +
			gone + `WHERE i >= $moves`,
	} {
		_, err := tx.Exec(
			`WITH RECURSIVE n (i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i + 1 < $moves + $weighings) `+statement,
			sql.Named("moves", moves),
			sql.Named("weighings", weighings),
			sql.Named("first", first),
			sql.Named("apart", apart),
		)
		require.NoError(t, err)
	}
	_, err = tx.Exec(
		`UPDATE lot_state SET last_entry = $first + lot_id * 64 + $last WHERE stage = 'gone' AND lot_id > $apart`,
		sql.Named("first", first),
		sql.Named("last", moves+weighings-1),
		sql.Named("apart", apart),
	)
	require.NoError(t, err)
	require.NoError(t, tx.Commit())
}

// around writes down what a shop of ten years has beside its lots: the plans that they
// were started from, some that are still open, containers of stock that were used up,
// and people who came and went.
func around(t testing.TB, db *sql.DB, plans, open, stocks, people int) {
	t.Helper()
	tx, err := db.Begin()
	require.NoError(t, err)
	const first = 1 << 41 // beyond all entries
	for _, statement := range []string{
		`INSERT INTO person (name, active) SELECT 'Helper ' || i, i % 10 = 0 FROM n WHERE i < $people`,
		// One plan for each of some lots, and the newest are open.
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id) SELECT $first + i, 'plan', e.occurred_at, ` +
			`e.recorded_at, e.person_id, e.device_id FROM n JOIN plan p ON p.id = 1 JOIN entry e ON e.id = p.entry_id WHERE i < $plans + $open`,
		`INSERT INTO plan (id, oid, entry_id, revision, body) SELECT $first + i, p.oid || 'k' || i, $first + i, p.revision, p.body ` +
			`FROM n JOIN plan p ON p.id = 1 WHERE i < $plans + $open`,
		`INSERT INTO plan_state (plan_id, open, day, turn) SELECT $first + i, i >= $plans, CASE WHEN i % 3 = 0 THEN '' ELSE ` +
			`date('2026-03-14', ((i - $plans) / 4) || ' days') END, 0 FROM n WHERE i < $plans + $open`,
		`UPDATE lot SET plan_id = $first + numbered.i FROM (SELECT id, row_number() OVER (ORDER BY id) - 1 AS i FROM lot WHERE id ` +
			`> $apart) numbered WHERE numbered.id = lot.id AND numbered.i < $plans`,
		// Containers, each made, drawn from nine times, and gone.
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id) SELECT 2 * $first + i * 16 + j.value, ` +
			`'stock', e.occurred_at, e.recorded_at, e.person_id,` +
			` e.device_id FROM n JOIN stock s ON s.id = 1 JOIN entry e ON e.id = s.entry_id JOIN json_each('[0,1,2,3,4,5,6,7,8,9,10,` +
			`11]') j WHERE i < $stocks`,
		`INSERT INTO stock (id, oid, entry_id, number, code, kind, body) SELECT 1000 + i, s.oid || 'k' || i, 2 * $first + i * 16,` +
			` 1000 + i, 'OLD' || i, s.kind, s.body FROM n JOIN stock s ON s.id = 1 WHERE i < $stocks`,
		`INSERT INTO stock_move (entry_id, stock_id, what, change, note) SELECT 2 * $first + i * 16 + j.value, 1000 + i,` +
			` CASE j.value WHEN 1 THEN 'made' ELSE 'draw' END, CASE j.value WHEN 1 THEN 900000 ELSE -100000 END,` +
			` '' FROM n JOIN json_each('[1,2,3,4,5,6,7,8,9,10]') j WHERE i < $stocks`,
		`INSERT INTO stock_word (entry_id, stock_id, status, how, why) SELECT 2 * $first + i * 16 + 11, 1000 + i, 'gone', '',` +
			` 'empty' FROM n WHERE i < $stocks`,
		`INSERT INTO stock_balance (stock_id, mg) SELECT 1000 + i, 0 FROM n WHERE i < $stocks`,
	} {
		most := max(plans+open, stocks, people)
		_, err := tx.Exec(
			`WITH RECURSIVE n (i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i + 1 < $most) `+statement,
			sql.Named("most", most),
			sql.Named(
				"plans",
				plans,
			),
			sql.Named("open", open),
			sql.Named("stocks", stocks),
			sql.Named("people", people),
			sql.Named("first", first),
			sql.Named("apart", apart),
		)
		require.NoError(t, err, statement)
	}
	require.NoError(t, tx.Commit())
}

// stored writes down deliveries that were bought over the years and used up, each in so many weighings of a gram.
func stored(t testing.TB, db *sql.DB, deliveries, each int) {
	t.Helper()
	tx, err := db.Begin()
	require.NoError(t, err)
	const first = 1 << 43 // beyond all entries
	for _, statement := range []string{
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id) SELECT $first + n.i * 128 + k.value, 'delivery',
			e.occurred_at - 86400000 * (n.i + 30), e.recorded_at - 86400000 * (n.i + 30), e.person_id, e.device_id
			FROM n JOIN ingredient_lot g ON g.id = 1 + n.i % $known JOIN entry e ON e.id = g.entry_id JOIN json_each('[0,1,2]') k`,
		`INSERT INTO ingredient_lot (id, oid, entry_id, item, name, supplier, code, received, purity, sap)
			SELECT $apart + n.i, g.oid || 'k' || n.i, $first + n.i * 128, g.item, g.name, g.supplier, 'OLD-' || n.i,
			date(g.received, (-30 - n.i) || ' days'), g.purity, g.sap FROM n JOIN ingredient_lot g ON g.id = 1 + n.i % $known`,
		`INSERT INTO delivery (entry_id, delivery_id, unit, quantity, opening)
			SELECT $first + n.i * 128, $apart + n.i, 'mg', $each * 1000, 0 FROM n`,
		`INSERT INTO delivery_price (entry_id, delivery_id, goods, freight, tax, tax_back, note)
			SELECT $first + n.i * 128 + 1, $apart + n.i, 1000 + n.i, 0, 0, 0, '' FROM n`,
		`INSERT INTO delivery_move (entry_id, delivery_id, what, change, priced, note)
			SELECT $first + n.i * 128 + 2, $apart + n.i, 'received', $each * 1000, $each * 1000, '' FROM n`,
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id)
			SELECT $first + n.i * 128 + 3 + j.i, 'weighing', e.occurred_at + 3600000, e.recorded_at + 3600000, e.person_id, e.device_id
			FROM n JOIN n j ON j.i < $each JOIN entry e ON e.id = $first + n.i * 128`,
		`INSERT INTO delivery_move (entry_id, delivery_id, what, change, priced, lot_id, note)
			SELECT $first + n.i * 128 + 3 + j.i, $apart + n.i, 'weighed', -1000, -1000, $old + (n.i * $each + j.i) % $lots * $apart, ''
			FROM n JOIN n j ON j.i < $each`,
		`INSERT INTO weighing (entry_id, lot_id, item, target, actual, how, from_id)
			SELECT m.entry_id, m.lot_id, g.item, 1000, 1000, 'typed', m.delivery_id
			FROM delivery_move m JOIN ingredient_lot g ON g.id = m.delivery_id WHERE m.entry_id > $first AND m.lot_id IS NOT NULL`,
		`INSERT INTO delivery_balance (delivery_id, amount, priced) SELECT $apart + n.i, 0, 0 FROM n`,
	} {
		var known, lots, old int
		require.NoError(t, tx.QueryRow(`SELECT count(*) FROM ingredient_lot WHERE id < ?`, apart).Scan(&known))
		require.NoError(t, tx.QueryRow(`SELECT count(*), min(id) FROM lot WHERE id > ? AND id % ? = 1`, apart, apart).Scan(&lots, &old))
		_, err := tx.Exec(
			`WITH RECURSIVE n (i) AS (SELECT 0 UNION ALL SELECT i + 1 FROM n WHERE i + 1 < $most) `+statement,
			sql.Named("most", deliveries), sql.Named("each", each), sql.Named("first", first), sql.Named("apart", apart),
			sql.Named("known", known), sql.Named("lots", lots), sql.Named("old", old),
		)
		require.NoError(t, err, statement)
	}
	require.NoError(t, tx.Commit())
}

// soldAs writes down of all bars that were sold as which product they went and what they brought, of every lot that is gone that
// labels were printed for it, and a market every second week for ten years, each counted back.
func soldAs(t testing.TB, db *sql.DB) {
	t.Helper()
	tx, err := db.Begin()
	require.NoError(t, err)
	for _, statement := range []string{
		`INSERT INTO bar_departure (entry_id, product_id, reservation_id, channel, buyer, event)
			SELECT m.entry_id, 1 + m.lot_id % 3, NULL, 'market', CASE m.entry_id % 20 WHEN 0 THEN 'the ferry office' ELSE '' END,
			'Market ' || m.lot_id / $apart % 200 FROM bar_move m WHERE m.reason = 'sold' AND m.lot_id > $apart
			AND m.entry_id NOT IN (SELECT entry_id FROM bar_departure)`,
		`INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id)
			SELECT $first + l.id, 'labels', e.occurred_at, e.recorded_at, e.person_id, e.device_id FROM lot l JOIN lot_state s ON s.lot_id = l.id
			JOIN entry e ON e.id = s.last_entry WHERE s.stage = 'gone' AND l.id > $apart`,
		`INSERT INTO label_run (entry_id, oid, lot_id, size, grade, product_id, number, bars, labels, body)
			SELECT $first + l.id, 'run' || l.id, l.id, '', 'first', 1 + l.id % 3, 1, 18, 20, (SELECT body FROM label_run LIMIT 1)
			FROM lot l JOIN lot_state s ON s.lot_id = l.id WHERE s.stage = 'gone' AND l.id > $apart`,
		`INSERT INTO bar_sale (entry_id, lot_id, size, grade, product_id, bars, channel, amount, tax, fee, pay)
			SELECT m.entry_id, m.lot_id, m.size, m.grade, 1 + m.lot_id % 3, -m.change, 'market', -m.change * 750, 0, 0, 'cash' FROM bar_move m
			WHERE m.reason = 'sold' AND m.lot_id > $apart AND m.change < 0`,
		`WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 260)
			INSERT INTO entry (id, kind, occurred_at, recorded_at, person_id, device_id)
			SELECT $first * 2 + i + 1000 * k.value, 'market', e.occurred_at, e.recorded_at, e.person_id, e.device_id
			FROM n, json_each('[0,1]') k, (SELECT * FROM entry WHERE id = (SELECT min(entry_id) FROM market)) e`,
		`INSERT INTO market (oid, entry_id) SELECT 'marketheldbefore' || (id - $first * 2), id FROM entry
			WHERE id > $first * 2 AND id <= $first * 2 + 260`,
		`INSERT INTO market_revision (entry_id, market_id, number, name, body)
			SELECT m.entry_id, m.id, 1, 'Week market', json_set((SELECT body FROM market_revision LIMIT 1), '$.on',
				date('2026-03-01', '-' || 14 * (m.entry_id - $first * 2) || ' days')) FROM market m WHERE m.entry_id > $first * 2`,
		`INSERT INTO market_home (entry_id, market_id, body)
			SELECT m.entry_id + 1000, m.id, (SELECT body FROM market_home LIMIT 1) FROM market m WHERE m.entry_id > $first * 2`,
	} {
		_, err := tx.Exec(statement, sql.Named("apart", apart), sql.Named("first", 1<<44))
		require.NoError(t, err, statement)
	}
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
	more(t, db, 18, 6)
	around(t, db, min(gone, 1500), 60, 200, 40)
	if gone > 0 {
		stored(t, db, min(gone, 3000), 66)
	}
	soldAs(t, db)
	began := time.Now()
	s, err := shop.Open(context.Background(), dir, func() time.Time { return moment })
	require.NoError(t, err)
	size, err := os.Stat(dir + "/" + store.File)
	require.NoError(t, err)
	t.Logf("opened in %v, %d MB", time.Since(began).Round(time.Millisecond), size.Size()>>20)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	for i := range curing / 3 {
		v.does("/racks", "/racks", "name", fmt.Sprintf("Rack %d", i+3), "levels", "5", "width_mm", "1.5 m")
	}
	spread(t, db)
	for _, table := range []string{"lot", "plan", "stock_move", "weighing", "sample_weight", "bar_move", "ingredient_lot",
		"delivery_move", "bar_departure", "bar_sale", "label_run", "market", "entry"} {
		var n int
		require.NoError(t, db.QueryRow(`SELECT count(*) FROM `+table).Scan(&n))
		t.Logf("%d rows of %s", n, table)
	}
	require.NoError(t, db.Close())
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
	assert.Less(t, v.wire("/"), 60_000, "and is quickly on a tablet")
	_, page = v.get("/plan")
	has(t, page, "/plan?open=all", "sixty plans are open")
	_, page = v.get("/stores")
	assert.NotContains(t, page, "OLD-", "of what was used up years ago nothing stands in the storeroom")
	_, page = v.get("/stores/deliveries/" + first(t, mustGet(v, "/stores/of?key=fat:olive-oil"), `/stores/deliveries/([a-z0-9]+k[0-9]+)"`))
	matches(t, page, `(?s)Where it went.*href="/lots/`)
	_, page = v.get("/lye")
	assert.NotContains(t, page, "OLD1", "what is used up is out of sight")
}

// What pages cost the server in a shop of ten years, as a table: built afresh, the
// slowest of a hundred left out; again, when nothing was recorded since (ns/op);
// and a static file of the same bytes.
//
//	go test ./web -run NONE -bench BusyShop
func BenchmarkPagesOfABusyShop(b *testing.B) {
	v := busy(b, 4800, 32)
	_, home := v.get("/?find=" + lot.Code(7))
	path := first(b, home, `href="(/lots/[a-z0-9]+)" id="at-`+lot.Code(7))
	recipes := first(b, mustGet(v, "/recipes"), `href="(/recipes/[a-z0-9]{26})"`)
	product := v.product("Fig by lamplight")
	deliveries, err := v.kit.Shop.Deliveries(bg)
	require.NoError(b, err)
	at := slices.IndexFunc(deliveries, func(d inventory.Delivery) bool { return d.Code == "OLD-1500" })
	tub := "/trace?kind=delivery&of=" + deliveries[at].OID
	for _, page := range []string{"/", "/lots", "/lots?q=fig", "/lots?trouble=any", path, path + "/record", recipes, "/calendar",
		"/calendar/2026-03-14", "/make", "/plan", "/plan/day/2026-03-16", "/lye", "/settings", "/recipes", "/stores",
		"/stores/of?key=fat:olive-oil", "/stores/value", "/stores/prices", "/racks", "/products", product + "/bars", product + "/file",
		tub, "/trace?kind=event&of=Market+7", "/recalls", "/complaints", "/markets", "/orders", "/sold", "/ahead"} {
		b.Run(strings.NewReplacer("/", "_", "?", "_").Replace(page), func(b *testing.B) {
			var fresh []time.Duration
			sep := "?"
			if strings.Contains(page, "?") {
				sep = "&"
			}
			for i := range 300 {
				took, _ := ask(b, v, v.pages, page+sep+"n="+strconv.Itoa(i))
				fresh = append(fresh, took)
			}
			slices.Sort(fresh)
			_, body := ask(b, v, v.pages, page)
			dir := b.TempDir()
			require.NoError(b, os.WriteFile(dir+"/page.html", body, 0o600))
			files := http.FileServer(http.Dir(dir))
			var file time.Duration
			const times = 200
			for range times {
				took, _ := ask(b, v, files, "/page.html")
				file += took / times
			}
			for b.Loop() {
				ask(b, v, v.pages, page)
			}
			b.ReportMetric(float64(len(body))/1024, "KB")
			b.ReportMetric(float64(v.wire(page))/1024, "wire-KB")
			b.ReportMetric(float64(fresh[len(fresh)/2].Microseconds())/1000, "fresh-ms")
			b.ReportMetric(float64(fresh[len(fresh)*99/100].Microseconds())/1000, "fresh-p99-ms")
			b.ReportMetric(float64(file.Nanoseconds()), "file-ns")
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(file.Nanoseconds()), "times-file")
		})
	}
}

func mustGet(v *visitor, path string) string {
	status, page := v.get(path)
	require.Equal(v.t, http.StatusOK, status)
	return page
}

// ask has a page made, by the visitor's browser but not over the wire.
func ask(t testing.TB, v *visitor, from http.Handler, path string) (time.Duration, []byte) {
	r := httptest.NewRequest(http.MethodGet, path, nil)
	r.Host = "localhost"
	base, err := url.Parse(v.base)
	require.NoError(t, err)
	for _, c := range v.http.Jar.Cookies(base) {
		r.AddCookie(c)
	}
	w := httptest.NewRecorder()
	start := time.Now()
	from.ServeHTTP(w, r)
	took := time.Since(start)
	require.Equal(t, http.StatusOK, w.Code, path)
	return took, w.Body.Bytes()
}

// What the cache brings while two people type into other pages: how long the shelf takes,
// and how many of the looks at it had to make it.
func BenchmarkTheShelfOfABusyShopWhileTwoPeopleType(b *testing.B) {
	v := busy(b, 1500, 32)
	_, page := v.get("/lots?stage=curing")
	lot := first(b, page, `href="(/lots/[a-z0-9]+)"`)
	_, page = v.get(lot)
	form := filled(b, page, lot+"/note")
	done := make(chan struct{})
	var typing sync.WaitGroup
	for n := range 2 {
		typing.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-done:
					return
				case <-time.After(250 * time.Millisecond):
				}
				own := url.Values{}
				for name := range form {
					own.Set(name, form.Get(name))
				}
				own.Set("text", fmt.Sprint("smells of figs ", n, i))
				own.Set("key", "")
				v.post(lot+"/typed/note", own)
			}
		})
	}
	before, looks := v.kit.PagesMade(), 0
	b.ResetTimer()
	for b.Loop() {
		v.get("/")
		looks++
		time.Sleep(20 * time.Millisecond)
	}
	b.StopTimer()
	b.ReportMetric(float64(v.kit.PagesMade()-before)/float64(looks), "made/look")
	close(done)
	typing.Wait()
}
