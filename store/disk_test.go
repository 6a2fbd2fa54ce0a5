package store

import (
	"context"
	"database/sql"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
	"ashshelf/store/disk"
)

func TestWhatTheDiskSaidIsFoundInAnError(t *testing.T) {
	dir := t.TempDir()
	db, err := Open(bg, dir)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	path := filepath.Join(dir, File)
	said := func(query, mode string) error {
		raw, err := sql.Open("sqlite", "file:"+path+"?mode="+mode)
		require.NoError(t, err)
		defer raw.Close()
		_, err = raw.Exec(query)
		return err
	}
	const insert = `INSERT INTO person (name) VALUES ('Ida')`
	for _, c := range []struct {
		err  error
		want disk.Trouble
	}{
		{said(insert, "ro"), disk.ReadOnly},
		{said(`PRAGMA max_page_count = 1; CREATE TABLE t (x); INSERT INTO t SELECT zeroblob(100000)`, "rw"), disk.Full},
		{said(insert, "nonsense"), ""},
		{said(`INSERT INTO person (name) VALUES ('')`, "rw"), ""}, // its own refusal is none of the disk's
		{&fs.PathError{Op: "open", Path: path, Err: fs.ErrPermission}, disk.ReadOnly},
		{context.DeadlineExceeded, ""},
		{ErrNotFound, ""},
	} {
		require.Error(t, c.err)
		assert.Equal(t, c.want, disk.TroubleOf(fmt.Errorf("add person: %w", c.err)), c.err)
	}
	assert.Empty(t, disk.TroubleOf(nil))
	for _, d := range []disk.Trouble{disk.Full, disk.ReadOnly, disk.Busy, disk.Broken} {
		what, remedy := d.Words()
		assert.NotEmpty(t, what)
		assert.NotEmpty(t, remedy)
	}
}

// A writer waits for another program that holds the records, and for its turn, no longer
// than a page waits.
func TestAWriterDoesNotWaitForEver(t *testing.T) {
	dir := t.TempDir()
	db, err := Open(bg, dir)
	require.NoError(t, err)
	add := func(name string) error {
		return db.Write(bg, func(tx *Tx) error { _, err := tx.AddPerson(name, role.Maker); return err })
	}
	raw, err := sql.Open("sqlite", "file:"+filepath.Join(dir, File))
	require.NoError(t, err)
	other, err := raw.Conn(bg)
	require.NoError(t, err)
	_, err = other.ExecContext(bg, "BEGIN IMMEDIATE")
	require.NoError(t, err)
	began := time.Now()
	assert.Equal(t, disk.Busy, disk.TroubleOf(add("Ida")))
	assert.Less(t, time.Since(began), 15*time.Second)
	assert.Equal(t, disk.Busy, db.Trouble())
	_, err = other.ExecContext(bg, "ROLLBACK")
	require.NoError(t, err)
	require.NoError(t, other.Close())
	require.NoError(t, raw.Close())
	require.NoError(t, add("Ida"))
	assert.Empty(t, db.Trouble())

	db.write.wait = 20 * time.Millisecond
	held, ready := make(chan struct{}), make(chan struct{})
	done := make(chan error)
	go func() {
		done <- db.Write(bg, func(tx *Tx) error { close(ready); <-held; _, err := tx.AddPerson("Jon", role.Maker); return err })
	}()
	<-ready
	assert.ErrorIs(t, add("Kit"), disk.ErrBusy)
	close(held)
	require.NoError(t, <-done)
	require.NoError(t, add("Kit"))
	require.NoError(t, db.Close())
	assert.Equal(t, []string{"Ida", "Jon", "Kit"}, people(t, dir))
}

func TestAFolderThatIsCopiedWhileItIsUsedIsWarnedOf(t *testing.T) {
	base := t.TempDir()
	for name, risky := range map[string]bool{"soap": false, "Dropbox": true, "OneDrive - Quay Soap": true, "boxes": false,
		"mega-batch": false, "one drive": false} {
		dir := filepath.Join(base, name, "records")
		require.NoError(t, os.MkdirAll(dir, 0o700))
		if said := disk.Risky(dir); risky {
			assert.Contains(t, said, name)
		} else {
			assert.Empty(t, said, name)
		}
	}
	link := filepath.Join(base, "link")
	require.NoError(t, os.Symlink(filepath.Join(base, "Dropbox"), link))
	assert.NotEmpty(t, disk.Risky(link), "also by another name")
	assert.Empty(t, disk.Network(base))
	assert.Empty(t, disk.Risky(filepath.Join(base, "not there yet")))
}
