package store

import (
	"database/sql"
	"net/url"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
)

// A folder with a shop's other files and no records starts no new shop in silence.
func TestMissingRecordsAreToldAndNotReplaced(t *testing.T) {
	for _, left := range []string{"photos", "shop.db-wal", "shop.db-journal", "copy-of-schema-9.db"} {
		for _, emptied := range []bool{false, true} {
			dir := t.TempDir()
			require.NoError(t, os.WriteFile(filepath.Join(dir, left), []byte("x"), 0o600))
			if emptied {
				require.NoError(t, os.WriteFile(filepath.Join(dir, File), nil, 0o600))
			}
			_, err := Open(bg, dir)
			assert.ErrorIs(t, err, ErrMissing)
			assert.ErrorContains(t, err, left)
			if left == "copy-of-schema-9.db" {
				assert.ErrorContains(t, err, "copies from before an upgrade: "+filepath.Join(dir, left))
			}
			if info, err := os.Stat(filepath.Join(dir, File)); err == nil {
				assert.True(t, emptied)
				assert.Zero(t, info.Size(), "nothing was touched")
			}
		}
	}
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "lock"), nil, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "notes.txt"), []byte("x"), 0o600))
	db, err := Open(bg, dir)
	require.NoError(t, err, "a new shop begins in a folder without one")
	require.NoError(t, db.Close())
}

// The records are for their owner alone, also where the folder is open to all and the
// file came from an older program.
func TestTheRecordsAreForTheirOwnerAlone(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.Chmod(dir, 0o755))
	for range 2 {
		db, err := Open(bg, dir)
		require.NoError(t, err)
		require.NoError(t, db.Write(bg, func(tx *Tx) error {
			_, err := tx.AddPerson("Ida", role.Maker)
			return err
		}))
		for _, name := range []string{File, File + "-wal"} {
			info, err := os.Stat(filepath.Join(dir, name))
			require.NoError(t, err)
			assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), name)
		}
		require.NoError(t, db.Close())
		require.NoError(t, os.Chmod(filepath.Join(dir, File), 0o644))
	}
}

func TestADamagedFileIsToldBeforeItIsOpened(t *testing.T) {
	for name, harm := range map[string]func([]byte) []byte{
		"another kind of file": func([]byte) []byte {
			return []byte("a shopping list, longer than a header of a database is, with soap on it and a hundred other things that nobody needs")
		},
		"cut off":     func(b []byte) []byte { return b[:len(b)/2] },
		"overwritten": func(b []byte) []byte { return append(b[:8192], append(make([]byte, 16384), b[8192+16384:]...)...) },
	} {
		dir := t.TempDir()
		fresh, err := Open(bg, dir)
		require.NoError(t, err)
		require.NoError(t, fresh.Close())
		path := filepath.Join(dir, File)
		whole, err := os.ReadFile(path)
		require.NoError(t, err)
		harmed := harm(append([]byte{}, whole...))
		require.NoError(t, os.WriteFile(path, harmed, 0o600))
		_, err = Open(bg, dir)
		assert.ErrorIs(t, err, ErrDamaged, name)
		after, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(t, harmed, after, "%s: nothing was touched", name)
	}
}

// A power cut in the middle of the first change to a file that was just put there, such as a restored
// copy, leaves a change half done that only a program that may write takes back. Whoever looks into the
// folder first does so, and the shop opens with what it had.
func TestAChangeHalfDoneIsTakenBackByWhoeverLooksFirst(t *testing.T) {
	begin := t.TempDir()
	db, err := Open(bg, begin)
	require.NoError(t, err)
	require.NoError(t, db.Write(bg, func(tx *Tx) error {
		_, err := tx.AddPerson("Ida", role.Owner)
		return err
	}))
	copied := filepath.Join(t.TempDir(), File)
	require.NoError(t, Snapshot(bg, begin, copied))
	require.NoError(t, db.Close())

	// The pages of a large change reach the file before it is done; that is where the power goes.
	half, err := sql.Open("sqlite", dsn(copied, url.Values{"_pragma": {"cache_size(1)", "journal_mode(delete)"}}))
	require.NoError(t, err)
	half.SetMaxOpenConns(1)
	tx, err := half.Begin()
	require.NoError(t, err)
	_, err = tx.Exec(`CREATE TABLE spilled (x BLOB)`)
	require.NoError(t, err)
	_, err = tx.Exec(`UPDATE person SET name = 'nobody'`)
	require.NoError(t, err)
	for range 50 {
		_, err = tx.Exec(`INSERT INTO spilled VALUES (randomblob(20000))`)
		require.NoError(t, err)
	}
	cut := func() string {
		dir := t.TempDir()
		for _, name := range []string{"", "-journal"} {
			body, err := os.ReadFile(copied + name)
			require.NoError(t, err)
			require.NoError(t, os.WriteFile(filepath.Join(dir, File+name), body, 0o600))
		}
		return dir
	}
	for name, look := range map[string]func(dir string) error{
		"the start":             func(dir string) error { _, err := Peek(bg, dir); return err },
		"the check of the file": func(dir string) error { return Sound(bg, dir) },
		"a copy":                func(dir string) error { return Snapshot(bg, dir, filepath.Join(t.TempDir(), "copy.db")) },
		"an export":             func(dir string) error { _, err := Inspect(bg, filepath.Join(dir, File)); return err },
		"the list of people":    func(dir string) error { _, err := PeopleIn(bg, dir); return err },
	} {
		dir := cut()
		require.NoError(t, look(dir), name)
		people, err := PeopleIn(bg, dir)
		require.NoError(t, err, name)
		require.Len(t, people, 1, name)
		assert.Equal(t, "Ida", people[0].Name, name)
		db, err := Open(bg, dir)
		require.NoError(t, err, name)
		require.NoError(t, db.Close())
	}
	require.NoError(t, tx.Rollback())
	require.NoError(t, half.Close())
}
