// Package store keeps the shop's records in one SQLite file. It knows which records
// there are of a lot, since it reads and writes them, and none of the rules by which
// they come about.
//
// What happened is written to tables that only grow: the database itself
// refuses a change or a deletion. All writing goes through one connection, one
// transaction at a time, which is on the disk before it is acknowledged; any
// number of readers see the last finished state. A lock on the data folder
// keeps a second program out.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"sync/atomic"

	"github.com/gofrs/flock"
	_ "modernc.org/sqlite" // the database engine

	"ashshelf/store/disk"
)

//go:embed migrations/*.sql
var migrations embed.FS

// File is the name of the database in the data folder.
const File = "shop.db"

// DB is an open shop database.
type DB struct {
	write *conns // one connection, immediate transactions
	read  *conns // read-only
	lock  *flock.Flock
	wrote atomic.Int64 // how often it was written to
	typed atomic.Int64 // how often drafts were

	trouble atomic.Value // a disk.Trouble
}

// ErrLocked says that another program has the data folder open.
var ErrLocked = errors.New("the data folder is in use by another ashshelf")

// ErrNewer says that the database was written by a newer program.
var ErrNewer = errors.New("the data folder was written by a newer ashshelf; upgrade the program")

// Open opens the database in dir, making both when they are missing and
// bringing an older database up to date. A copy of an older one is kept first.
func Open(ctx context.Context, dir string) (*DB, error) {
	db, err := openIn(ctx, dir)
	return db, plainly(dir, err)
}

// Lock keeps every other program out of a data folder, which is made when it is missing,
// until it is unlocked.
func Lock(dir string) (*flock.Flock, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("data folder: %w", err)
	}
	lock := flock.New(filepath.Join(dir, lockFile))
	got, err := lock.TryLock()
	if err != nil {
		return nil, fmt.Errorf("lock data folder: %w", err)
	}
	if !got {
		return nil, ErrLocked
	}
	return lock, nil
}

// lockFile is the file that stands for the folder.
const lockFile = "lock"

func openIn(ctx context.Context, dir string) (*DB, error) {
	lock, err := Lock(dir)
	if err != nil {
		return nil, err
	}
	db := &DB{lock: lock}
	if err = writable(dir); err == nil {
		err = Sound(ctx, dir)
	}
	if err == nil {
		err = db.open(ctx, dir)
	}
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return db, nil
}

// mostBusy is how long, in milliseconds, a connection waits for another program that
// holds the records; together with [mostWait] it is less than a page waits.
const mostBusy = 4000

func dsn(path string, extra url.Values) string {
	extra.Add("_pragma", "busy_timeout("+strconv.Itoa(mostBusy)+")")
	extra.Add("_pragma", "foreign_keys(1)")
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + extra.Encode()
}

func (db *DB) open(ctx context.Context, dir string) error {
	path := filepath.Join(dir, File)
	if err := disk.OwnersAlone(path); err != nil {
		return err
	}
	write, err := sql.Open("sqlite", dsn(path, url.Values{
		"_pragma": {"journal_mode(WAL)", "synchronous(FULL)"}, "_txlock": {"immediate"},
	}))
	if err != nil {
		return fmt.Errorf("open database: %w", err)
	}
	db.write = newConns(write, 1)
	if err := migrate(ctx, write, dir); err != nil {
		return err
	}
	read, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"ro"}, "_pragma": {"query_only(1)"}}))
	if err != nil {
		return fmt.Errorf("open database for reading: %w", err)
	}
	db.read = newConns(read, max(4, runtime.NumCPU()))
	return nil
}

// Unsynced runs do without waiting for the disk after each write, and waits once
// at the end. Only made-up records are written so: a power cut in the middle
// may spoil the file.
func (db *DB) Unsynced(ctx context.Context, do func() error) error {
	pragma := func(text string) error {
		one, err := db.write.take(ctx)
		if err != nil {
			return err
		}
		defer db.write.give(one)
		_, err = one.ExecContext(ctx, "PRAGMA "+text)
		return err
	}
	if err := pragma("synchronous = OFF"); err != nil {
		return fmt.Errorf("stop waiting for the disk: %w", err)
	}
	err := do()
	for _, text := range []string{"synchronous = FULL", "wal_checkpoint(TRUNCATE)"} {
		if again := pragma(text); again != nil {
			err = errors.Join(err, fmt.Errorf("wait for the disk again: %w", again))
		}
	}
	return err
}

// Close closes the database and gives the data folder free. Everything that
// reads or writes must have ended.
func (db *DB) Close() error {
	var errs []error
	for _, pool := range []*conns{db.read, db.write} {
		if pool != nil {
			errs = append(errs, pool.close())
		}
	}
	return errors.Join(append(errs, db.lock.Unlock())...)
}

// Peeked is what a data folder holds.
type Peeked struct {
	Exists  bool // there is a database
	Founded bool // with a shop in it
	Demo    bool
	Moved   bool // it was walked with a clock of its own
}

// Peek tells about a data folder without changing it.
func Peek(ctx context.Context, dir string) (p Peeked, err error) {
	path := filepath.Join(dir, File)
	if _, err := os.Stat(path); errors.Is(err, fs.ErrNotExist) {
		return p, nil
	} else if err != nil {
		return p, fmt.Errorf("data folder: %w", err)
	}
	p.Exists = true
	defer func() {
		if protected := writable(dir); err != nil && protected != nil {
			err = plainly(dir, protected) // it is looked into through files beside it
		}
	}()
	db, err := toRead(ctx, path)
	if err != nil {
		return p, err
	}
	defer db.Close()
	err = db.QueryRowContext(ctx, "SELECT demo FROM shop ORDER BY entry_id DESC LIMIT 1").Scan(&p.Demo)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return p, fmt.Errorf("read shop: %w", err)
	}
	p.Founded = err == nil
	// A database of an earlier program has no such table, and no moved clock.
	var moved int
	if err := db.QueryRowContext(ctx, "SELECT count(*) FROM sqlite_schema WHERE name = 'moved_clock'").Scan(&moved); err != nil {
		return p, fmt.Errorf("read schema: %w", err)
	}
	if moved > 0 {
		if err := db.QueryRowContext(ctx, "SELECT count(*) > 0 FROM moved_clock").Scan(&p.Moved); err != nil {
			return p, fmt.Errorf("read clock: %w", err)
		}
	}
	return p, nil
}

// PeopleIn reads who is in the shop of a folder, whether or not a program has it open.
func PeopleIn(ctx context.Context, dir string) (out []Person, err error) {
	db, err := toRead(ctx, filepath.Join(dir, File))
	if err != nil {
		return nil, err
	}
	defer db.Close()
	rows, err := db.QueryContext(ctx, selectPeople)
	if err != nil {
		return nil, fmt.Errorf("people: %w; open the shop once with this program first", err)
	}
	defer rows.Close()
	for rows.Next() {
		var p Person
		if err := rows.Scan(p.into()...); err != nil {
			return nil, fmt.Errorf("people: %w", err)
		}
		out = append(out, p)
	}
	return out, rows.Err()
}

// Tx reads and, within [DB.Write], writes.
type Tx struct {
	conn    *conn
	ctx     context.Context
	Writing bool // what is read may yet be taken back
	changed bool // something was written
}

// Write runs f in one writing transaction. When Write returns nil the change
// is on the disk.
//
// It waits for its turn as long as a page can wait, and is [disk.ErrBusy] then.
func (db *DB) Write(ctx context.Context, f func(*Tx) error) error {
	defer db.wrote.Add(1) // also of what failed: a commit may have landed and not said so
	return db.writes(ctx, f)
}

// WriteDrafts is [DB.Write] for what writes nothing but drafts.
func (db *DB) WriteDrafts(ctx context.Context, f func(*Tx) error) error {
	defer db.typed.Add(1)
	return db.writes(ctx, f)
}

func (db *DB) writes(ctx context.Context, f func(*Tx) error) error {
	changed := false
	err := db.write.within(ctx, true, func(tx *Tx) error {
		defer func() { changed = tx.changed }()
		return f(tx)
	})
	db.took(err, changed)
	return err
}

// DraftVersion changes whenever drafts may have changed and nothing else.
func (db *DB) DraftVersion() int64 { return db.typed.Load() }

// Version changes whenever the database may have changed, but for drafts alone. Who reads it, then reads
// records, and finds it the same later, has read what still holds.
func (db *DB) Version() int64 { return db.wrote.Load() }

// Touch changes the version without a record.
func (db *DB) Touch() { db.wrote.Add(1) }

// Read runs f on one unchanging view of the database.
func (db *DB) Read(ctx context.Context, f func(*Tx) error) error {
	return db.read.within(ctx, false, f)
}

// ErrNotFound says that nothing has the given identity.
var ErrNotFound = errors.New("not found")

func (t *Tx) exec(what, query string, args ...any) error {
	_, err := t.run(what, query, args)
	return err
}

func (t *Tx) insert(what, query string, args ...any) (int64, error) {
	r, err := t.run(what, query, args)
	if err != nil {
		return 0, err
	}
	return r.LastInsertId()
}

func (t *Tx) run(what, query string, args []any) (sql.Result, error) {
	s, done, err := t.stmt(query)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", what, err)
	}
	defer done()
	t.changed = true
	r, err := s.ExecContext(t.ctx, args...)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", what, err)
	}
	return r, nil
}

// one scans a single row; no row is [ErrNotFound].
func (t *Tx) one(what, query string, args []any, into ...any) error {
	s, done, err := t.stmt(query)
	if err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	defer done()
	t.changed = t.changed || strings.HasPrefix(query, "INSERT") || strings.HasPrefix(query, "UPDATE")
	err = s.QueryRowContext(t.ctx, args...).Scan(into...)
	if errors.Is(err, sql.ErrNoRows) {
		return fmt.Errorf("%s: %w", what, ErrNotFound)
	}
	if err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	return nil
}

// each calls scan for every row. scan must not ask the database itself.
func (t *Tx) each(what, query string, args []any, scan func(*sql.Rows) error) error {
	s, done, err := t.stmt(query)
	if err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	defer done()
	rows, err := s.QueryContext(t.ctx, args...)
	if err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	defer rows.Close()
	for rows.Next() {
		if err := scan(rows); err != nil {
			return fmt.Errorf("%s: %w", what, err)
		}
	}
	if err := rows.Err(); err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	return nil
}

// plainly puts the trouble of a disk in front of an error that it caused.
func plainly(dir string, err error) error {
	if t := disk.TroubleOf(err); t != "" && !errors.Is(err, ErrDamaged) {
		return &disk.Error{Dir: dir, Trouble: t, Err: err}
	}
	return err
}

// Trouble is what the disk said to the newest record, empty when it took it.
func (db *DB) Trouble() disk.Trouble {
	t, _ := db.trouble.Load().(disk.Trouble)
	return t
}

// Noted keeps the trouble of a disk that something beside the records met, such as a
// photo's file.
func (db *DB) Noted(err error) {
	if t := disk.TroubleOf(err); t != "" {
		db.trouble.Store(t)
	}
}

// took notes how the disk took what was written, or should have been.
func (db *DB) took(err error, changed bool) {
	if db.Noted(err); err == nil && changed {
		db.trouble.Store(disk.Trouble(""))
	}
}
