package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"

	"ashshelf/store/disk"
)

// migrate brings an older database up to date, after a copy of it is kept.
func migrate(ctx context.Context, w *sql.DB, dir string) error {
	p, err := provider(w)
	if err != nil {
		return err
	}
	have, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("schema version: %w", err)
	}
	sources := p.ListSources()
	latest := sources[len(sources)-1].Version
	if have > latest {
		return fmt.Errorf("%w (schema %d, this program knows %d)", ErrNewer, have, latest)
	}
	if have == latest {
		return nil
	}
	if have > 0 {
		if err := keepCopy(ctx, w, dir, have); err != nil {
			return fmt.Errorf("copy before upgrade: %w", err)
		}
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("upgrade database: %w", err)
	}
	return nil
}

// keepCopy keeps the database as it is beside it, named by its schema, such as
// copy-of-schema-10.db. A copy is whole or not there, and never replaced: one that
// already holds the same records serves, another gets a number of its own.
func keepCopy(ctx context.Context, w *sql.DB, dir string, schema int64) error {
	newest, err := newestEntry(ctx, w)
	if err != nil {
		return err
	}
	name := filepath.Join(dir, fmt.Sprintf("copy-of-schema-%d.db", schema))
	for n := 2; ; n++ {
		if _, err := os.Stat(name); errors.Is(err, fs.ErrNotExist) {
			break
		} else if err != nil {
			return err
		}
		same, err := holds(ctx, name, newest)
		if err != nil || same {
			return err
		}
		name = filepath.Join(dir, fmt.Sprintf("copy-of-schema-%d-%d.db", schema, n))
	}
	half := name + ".half"
	if err := os.Remove(half); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if _, err := w.ExecContext(ctx, "VACUUM INTO ?", half); err != nil {
		return err
	}
	return disk.Settle(half, name)
}

func newestEntry(ctx context.Context, db *sql.DB) (id int64, err error) {
	err = db.QueryRowContext(ctx, "SELECT coalesce(max(id), 0) FROM entry").Scan(&id)
	return id, err
}

// holds reports whether a copy holds the records up to the newest entry and no more.
func holds(ctx context.Context, path string, newest int64) (bool, error) {
	db, err := toRead(ctx, path)
	if err != nil {
		return false, err
	}
	defer db.Close()
	id, err := newestEntry(ctx, db)
	if err != nil {
		return false, fmt.Errorf("%s: %w", filepath.Base(path), err)
	}
	return id == newest, nil
}
