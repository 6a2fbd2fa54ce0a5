package store

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
)

// A folder with a shop's other files and no records starts no new shop in silence.
func TestMissingRecordsAreToldAndNotReplaced(t *testing.T) {
	for _, left := range []string{"photos", "shop.db-wal", "copy-of-schema-9.db"} {
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
