package store

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"ashshelf/store/disk"
)

// ErrMissing says that a folder holds what belongs to a shop, and no records.
var ErrMissing = errors.New("the shop's records are not here, although what belongs to them is")

// ErrDamaged says that the file of the records is not as a database is.
var ErrDamaged = errors.New("the file of the shop's records is damaged")

// Sound looks at a folder before anything is opened in it. An empty folder is fine, a
// new shop begins there. Where the records are missing beside a shop's other files, or
// are damaged, nothing is touched and the copies that there are named.
func Sound(ctx context.Context, dir string) error {
	path := filepath.Join(dir, File)
	info, err := os.Stat(path)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("records: %w", err)
	}
	if err != nil || info.Size() == 0 {
		left, err := leftovers(dir)
		if err != nil || len(left) == 0 {
			return err
		}
		return fmt.Errorf(
			"%w (%s)%s. Nothing was touched. Put %s back, or choose an empty folder",
			ErrMissing,
			strings.Join(left, ", "),
			copies(dir),
			File,
		)
	}
	said, err := quickCheck(ctx, path)
	if ctx.Err() != nil {
		return ctx.Err()
	}
	var e *sqlite.Error
	if errors.As(err, &e) && (e.Code()&0xff == sqlite3.SQLITE_CORRUPT || e.Code()&0xff == sqlite3.SQLITE_NOTADB) {
		said = err.Error()
	} else if err != nil {
		return fmt.Errorf("look at the records: %w", err)
	}
	if said == "ok" {
		return nil
	}
	return fmt.Errorf("%w: %s%s. Nothing was touched. Keep it as it is, and work with a copy", ErrDamaged, said, copies(dir))
}

// quickCheck asks the engine whether the pages of a file are sound, and returns what it says.
func quickCheck(ctx context.Context, path string) (said string, err error) {
	db, err := toRead(ctx, path)
	if err != nil {
		return "", err
	}
	defer db.Close()
	err = db.QueryRowContext(ctx, "PRAGMA quick_check(1)").Scan(&said)
	return said, err
}

// writable tries whether files can be made in a folder. A full disk is none of its
// business: what is on record can still be read.
func writable(dir string) error {
	f, err := os.CreateTemp(dir, "half-")
	if err != nil {
		if disk.TroubleOf(err) == disk.ReadOnly {
			return err
		}
		return nil
	}
	return errors.Join(f.Close(), os.Remove(f.Name()))
}

// leftovers are files of a folder that only a shop with records leaves.
func leftovers(dir string) (out []string, err error) {
	files, err := os.ReadDir(dir)
	if err != nil {
		return nil, fmt.Errorf("data folder: %w", err)
	}
	for _, f := range files {
		switch name := f.Name(); {
		case name == PhotoFolder,
			name == File+"-wal", name == File+"-journal",
			strings.HasPrefix(name, "copy-of-schema-") && strings.HasSuffix(name, ".db"),
			strings.HasPrefix(name, "before-schema-"):
			out = append(out, name)
		}
	}
	return out, nil
}

// copies says which copies of the records lie in a folder.
func copies(dir string) string {
	var found []string
	for _, pattern := range []string{"copy-of-schema-*.db", "before-schema-*.db"} {
		names, err := filepath.Glob(filepath.Join(dir, pattern))
		if err != nil {
			return "" // the patterns are sound
		}
		found = append(found, names...)
	}
	if len(found) == 0 {
		return ""
	}
	return "; copies from before an upgrade: " + strings.Join(found, ", ")
}
