package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"

	"github.com/pressly/goose/v3"

	"ashshelf/store/disk"
)

// Use is what becomes of a table when the whole shop is written as a file.
type Use string

// The uses.
const (
	Record  Use = "record"  // what people put on record
	Derived Use = "derived" // worked out from the records, in the transaction that wrote them
	Local   Use = "local"   // of this machine and its browsers: it stays here
)

// Table is a table of the records.
type Table struct {
	Name   string
	Use    Use
	Secret string // a column that lets somebody in; it stays here and is made anew elsewhere
}

// Tables are all tables, in an order in which each comes after those it refers to.
func Tables() []Table {
	out := []Table{{"person", Record, ""}, {"device", Record, "token"}, {"entry", Record, ""}}
	for _, name := range []string{
		"shop", "recipe", "recipe_revision", "recipe_life", "mold", "mold_revision", "scent", "scent_revision",
		"spoon", "equipment", "equipment_revision", "rack", "rack_revision", "rack_rules", "plan", "plan_day",
		"plan_away", "stock", "stock_move", "stock_word", "cooling", "material", "material_revision", "supply_order",
		"supply_order_word", "ingredient_lot", "delivery", "delivery_price", "delivery_word", "delivery_paper", "infusion", "lot",
		"infusion_event", "weighing", "delivery_move", "delivery_reason", "run_tick", "run_temperature", "run_rescale", "run_extra", "run_scent",
		"run_writer", "photo", "pour", "pour_judgement", "mold_pour", "unmolding", "cut", "cut_more", "cut_size",
		"sample_weight", "safety_check", "hold", "release", "release_digest", "bar_move", "lot_cost", "opening_lot",
		"opening_release", "opening_move", "lot_note", "lot_place",
		"lot_care", "lot_wash", "lot_kept", "reshaped", "lot_next", "lot_mark", "lot_parent", "lot_turn",
		"lot_deviation", "incident", "incident_word", "incident_blame", "moved_clock", "clock_doubt", "clock_word",
		"entry_time", "entry_signed", "product", "product_revision", "product_photo", "sheet", "sheet_revision", "label_rules", "allergen_word",
		"assessment", "reservation", "label_run", "bar_binding", "bar_departure", "recall", "recall_lot", "recall_move", "recall_word",
		"complaint", "complaint_word", "market", "market_revision", "buyer", "buyer_name", "buyer_blank", "sale_order", "sale_order_revision",
		"sale_box", "till_entry", "market_home", "bar_sale", "order_move", "sale_document", "sale_rules", "bench",
	} {
		out = append(out, Table{name, Record, ""})
	}
	out = append(out, Table{"calendar_feed", Record, "secret"})
	for _, name := range []string{
		"lot_state", "plan_state", "stock_balance", "bar_balance", "lot_material", "delivery_balance", "opening_balance", "bound_balance",
	} {
		out = append(out, Table{name, Derived, ""})
	}
	for _, name := range []string{"request_key", "working_copy", "goose_db_version", "sqlite_sequence"} {
		out = append(out, Table{name, Local, ""})
	}
	return out
}

// Schema is the newest schema that this program knows.
func Schema() (int64, error) {
	p, err := provider(nil)
	if err != nil {
		return 0, err
	}
	sources := p.ListSources()
	return sources[len(sources)-1].Version, nil
}

func provider(db *sql.DB) (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, fmt.Errorf("migrations: %w", err)
	}
	if db == nil {
		if db, err = sql.Open("sqlite", ":memory:"); err != nil {
			return nil, fmt.Errorf("migrations: %w", err)
		}
		defer db.Close()
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return nil, fmt.Errorf("migrations: %w", err)
	}
	return p, nil
}

// toRead opens a file of records to look into, whether or not a program has it open.
func toRead(ctx context.Context, path string) (*sql.DB, error) {
	if _, err := os.Stat(path); err != nil {
		return nil, fmt.Errorf("records: %w", err)
	}
	if err := takeBack(ctx, path); err != nil {
		return nil, fmt.Errorf("records: %w", err)
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"ro"}}))
	if err != nil {
		return nil, fmt.Errorf("records: %w", err)
	}
	db.SetMaxOpenConns(1)
	return db, nil
}

// takeBack takes back the change that a power cut left half done in a file that no running shop has
// made its own yet, such as a copy that was just restored: a connection that only reads cannot, and
// refuses the file. A change that somebody is in the middle of is left alone.
func takeBack(ctx context.Context, path string) error {
	if info, err := os.Stat(path + "-journal"); err != nil || info.Size() == 0 {
		return nil // none was under way
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"rw"}}))
	if err != nil {
		return err
	}
	var n int
	return errors.Join(db.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_schema").Scan(&n), db.Close())
}

// Snapshot writes the records of a folder as they stand at one moment into a file of their
// own. It may run while the shop works: it takes no lock that others wait for, and upgrades
// nothing.
func Snapshot(ctx context.Context, dir, to string) error {
	db, err := toRead(ctx, filepath.Join(dir, File))
	if err != nil {
		return err
	}
	defer db.Close()
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", to); err != nil {
		return fmt.Errorf("copy the records: %w", plainly(dir, err))
	}
	if err := os.Chmod(to, 0o600); err != nil {
		return fmt.Errorf("copy the records: %w", err)
	}
	return nil
}

// Inspection is what a file of records holds.
type Inspection struct {
	Schema  int64
	Shop    string // its name; empty before there is one
	Demo    bool
	Lots    int
	Last    int // number of the newest lot, 0 for none
	Entries int64
	Photos  []string // files that lots have
}

// Inspect reads a file of records to its end: whether it is a sound database, all that is
// referred to is there, and what it holds. A file that is none, or damaged, is
// [ErrDamaged]; one of a newer program [ErrNewer]. Nothing is changed.
func Inspect(ctx context.Context, path string) (in Inspection, err error) {
	db, err := toRead(ctx, path)
	if err != nil {
		return in, err
	}
	defer db.Close()
	if err := whole(ctx, db); err != nil {
		return in, err
	}
	if err := db.QueryRowContext(ctx, "SELECT coalesce(max(version_id), 0) FROM goose_db_version").Scan(&in.Schema); err != nil {
		return in, fmt.Errorf("%w: it says no schema (%w)", ErrDamaged, err)
	}
	newest, err := Schema()
	if err != nil {
		return in, err
	}
	if in.Schema > newest {
		return in, fmt.Errorf("%w (schema %d, this program knows %d)", ErrNewer, in.Schema, newest)
	}
	err = db.QueryRowContext(ctx, "SELECT name, demo FROM shop ORDER BY entry_id DESC LIMIT 1").Scan(&in.Shop, &in.Demo)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return in, fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	err = db.QueryRowContext(ctx, "SELECT count(*), coalesce(max(number), 0), (SELECT count(*) FROM entry) FROM lot").
		Scan(&in.Lots, &in.Last, &in.Entries)
	if err != nil {
		return in, fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	in.Photos, err = photosOf(ctx, db)
	return in, err
}

// whole has the engine look at every page and every reference.
func whole(ctx context.Context, db *sql.DB) error {
	var said string
	if err := db.QueryRowContext(ctx, "PRAGMA integrity_check(1)").Scan(&said); err != nil {
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	if said != "ok" {
		return fmt.Errorf("%w: %s", ErrDamaged, said)
	}
	rows, err := db.QueryContext(ctx, "PRAGMA foreign_key_check")
	if err != nil {
		return fmt.Errorf("%w: %w", ErrDamaged, err)
	}
	defer rows.Close()
	if rows.Next() {
		return fmt.Errorf("%w: a record refers to one that is not there", ErrDamaged)
	}
	return rows.Err()
}

func photosOf(ctx context.Context, db *sql.DB) (out []string, err error) {
	query := ""
	for _, table := range []string{"photo", "delivery_paper", "product_photo"} { // programs of long ago knew fewer
		var have int
		if err := db.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_schema WHERE name = ?", table).Scan(&have); err != nil {
			return nil, fmt.Errorf("photos: %w", err)
		}
		switch {
		case have == 0:
		case query == "":
			query = "SELECT file FROM " + table
		default:
			query += " UNION SELECT file FROM " + table
		}
	}
	if query == "" {
		return nil, nil
	}
	rows, err := db.QueryContext(ctx, query+" ORDER BY file")
	if err != nil {
		return nil, fmt.Errorf("photos: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, fmt.Errorf("photos: %w", err)
		}
		out = append(out, name)
	}
	return out, rows.Err()
}

// Row is a row of a table: its columns in their order, and what is in them: an int64, a
// float64, a string, or nil.
type Row struct {
	Columns []string
	Values  []any
}

// Rows reads the tables of a file of records, row by row in the order of their keys, but for
// what stays on this machine. A table that its schema did not have yet has none.
func Rows(ctx context.Context, path string, each func(Table, Row) error) error {
	db, err := toRead(ctx, path)
	if err != nil {
		return err
	}
	defer db.Close()
	for _, t := range Tables() {
		if t.Use == Local {
			continue
		}
		if err := rowsOf(ctx, db, t, each); err != nil {
			return fmt.Errorf("read %s: %w", t.Name, err)
		}
	}
	return nil
}

func rowsOf(ctx context.Context, db *sql.DB, t Table, each func(Table, Row) error) error {
	columns, keys, err := columnsOf(ctx, db, t.Name)
	if err != nil || len(columns) == 0 {
		return err
	}
	var names []string
	for _, c := range columns {
		if c.name != t.Secret {
			names = append(names, c.name)
		}
	}
	if len(keys) == 0 {
		keys = names // a row of such a table is all of it
	}
	rows, err := db.QueryContext(ctx, fmt.Sprintf("SELECT %s FROM %s ORDER BY %s", quoted(names), quote(t.Name), quoted(keys)))
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		row := Row{Columns: names, Values: make([]any, len(names))}
		into := make([]any, len(names))
		for i := range into {
			into[i] = &row.Values[i]
		}
		if err := rows.Scan(into...); err != nil {
			return err
		}
		if err := each(t, row); err != nil {
			return err
		}
	}
	return rows.Err()
}

type column struct {
	name string
	real bool
}

func columnsOf(ctx context.Context, db *sql.DB, table string) (out []column, keys []string, err error) {
	rows, err := db.QueryContext(ctx, "SELECT name, type, pk FROM pragma_table_info(?) ORDER BY cid", table)
	if err != nil {
		return nil, nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var c column
		var kind string
		var pk int
		if err := rows.Scan(&c.name, &kind, &pk); err != nil {
			return nil, nil, err
		}
		if c.real = kind == "REAL"; pk > 0 {
			keys = append(keys, c.name)
		}
		out = append(out, c)
	}
	return out, keys, rows.Err()
}

func quote(name string) string { return `"` + strings.ReplaceAll(name, `"`, `""`) + `"` }

func quoted(names []string) string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = quote(n)
	}
	return strings.Join(out, ", ")
}

// ErrNotEmpty says that a folder where records are to be made holds some.
var ErrNotEmpty = errors.New("the folder is not empty")

// Build makes a file of records of a schema in an empty folder from the rows that fill hands
// over, all or nothing, and leaves it as a program of that schema would. secret makes what
// is put in the place of a secret.
func Build(
	ctx context.Context,
	dir string,
	schema int64,
	secret func() string,
	fill func(insert func(Table, Row) error) error,
) (err error) {
	files, err := os.ReadDir(dir)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("data folder: %w", err)
	}
	if len(files) > 0 {
		return fmt.Errorf("%w: %s", ErrNotEmpty, dir)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	path, half := filepath.Join(dir, File), filepath.Join(dir, File+".half")
	defer func() {
		if err != nil {
			for _, left := range []string{"", "-wal", "-shm", "-journal"} {
				if gone := os.Remove(half + left); gone != nil && !errors.Is(gone, fs.ErrNotExist) {
					err = errors.Join(err, gone)
				}
			}
		}
	}()
	if err := build(ctx, half, schema, secret, fill); err != nil {
		return err
	}
	if err := os.Chmod(half, 0o600); err != nil {
		return fmt.Errorf("records: %w", err)
	}
	if err := disk.Settle(half, path); err != nil {
		return fmt.Errorf("records: %w", err)
	}
	return nil
}

func build(
	ctx context.Context,
	path string,
	schema int64,
	secret func() string,
	fill func(func(Table, Row) error) error,
) (err error) {
	db, err := sql.Open("sqlite", dsn(path, url.Values{}))
	if err != nil {
		return fmt.Errorf("records: %w", err)
	}
	db.SetMaxOpenConns(1)
	defer func() { err = errors.Join(err, db.Close()) }()
	p, err := provider(db)
	if err != nil {
		return err
	}
	if _, err := p.UpTo(ctx, schema); err != nil {
		return fmt.Errorf("schema %d: %w", schema, err)
	}
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return fmt.Errorf("records: %w", err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, tx.Rollback())
		}
	}()
	if _, err := tx.ExecContext(ctx, "PRAGMA defer_foreign_keys = ON"); err != nil {
		return fmt.Errorf("records: %w", err)
	}
	columns := map[string]map[string]column{}
	for _, t := range Tables() {
		rows, err := tx.QueryContext(ctx, "SELECT name, type FROM pragma_table_info(?)", t.Name)
		if err != nil {
			return fmt.Errorf("columns of %s: %w", t.Name, err)
		}
		columns[t.Name] = map[string]column{}
		for rows.Next() {
			var name, kind string
			if err := rows.Scan(&name, &kind); err != nil {
				return errors.Join(fmt.Errorf("columns of %s: %w", t.Name, err), rows.Close())
			}
			columns[t.Name][name] = column{name, kind == "REAL"}
		}
		if err := errors.Join(rows.Err(), rows.Close()); err != nil {
			return fmt.Errorf("columns of %s: %w", t.Name, err)
		}
	}
	insert := func(t Table, row Row) error {
		names, values := row.Columns, make([]any, len(row.Values))
		for i, v := range row.Values {
			c, ok := columns[t.Name][names[i]]
			if !ok {
				return fmt.Errorf("%w: table %s has no %q in schema %d", ErrRow, t.Name, names[i], schema)
			}
			if whole, isInt := v.(int64); isInt && c.real {
				v = float64(whole)
			}
			values[i] = v
		}
		if t.Secret != "" {
			names, values = append(append([]string{}, names...), t.Secret), append(values, secret())
		}
		query := fmt.Sprintf("INSERT INTO %s (%s) VALUES (%s)", quote(t.Name), quoted(names),
			strings.TrimSuffix(strings.Repeat("?, ", len(names)), ", "))
		if _, err := tx.ExecContext(ctx, query, values...); err != nil {
			return fmt.Errorf("%w: table %s: %w", ErrRow, t.Name, err)
		}
		return nil
	}
	if err := fill(insert); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("%w: %w", ErrRow, err)
	}
	return whole(ctx, db)
}

// ErrRow says that a row is none of the shop's records.
var ErrRow = errors.New("a record in it is not sound")

// TableNames are the tables that a file of records has.
func TableNames(ctx context.Context, path string) (out []string, err error) {
	db, err := toRead(ctx, path)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	rows, err := db.QueryContext(ctx, "SELECT name FROM sqlite_schema WHERE type = 'table' ORDER BY name")
	if err != nil {
		return nil, fmt.Errorf("tables: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, fmt.Errorf("tables: %w", err)
		}
		out = append(out, name)
	}
	return out, rows.Err()
}
