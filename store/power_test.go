package store

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"testing"
	"unsafe"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"modernc.org/libc"
	sqlite3 "modernc.org/sqlite/lib"

	"ashshelf/soap/role"
)

// plates stands between the database engine and its files and knows what of them has
// reached the plate: what was there when a file was last synced. A power loss leaves
// that, and nothing that was written since.
type plates struct {
	mu     sync.Mutex
	paths  map[uintptr]string // of open files
	plate  map[string][]byte
	own    map[uintptr]uintptr // the engine's methods of a file, by those that stand in for them
	ours   map[uintptr]uintptr // and the other way round
	pinned []any               // what the engine only knows an address of
}

// memory is what the engine means by an address.
func memory[T any](p uintptr) *T { return (*T)(*(*unsafe.Pointer)(unsafe.Pointer(&p))) }

// address is a function as the engine calls it.
func address(f any) uintptr { return (*[2]uintptr)(unsafe.Pointer(&f))[1] }

// called is the function that the engine has at an address.
func called[F any](p uintptr) F { return *(*F)(unsafe.Pointer(&struct{ uintptr }{p})) }

type (
	opens   = func(tls *libc.TLS, vfs, name, file uintptr, flags int32, out uintptr) int32
	syncs   = func(tls *libc.TLS, file uintptr, flags int32) int32
	deletes = func(tls *libc.TLS, vfs, name uintptr, syncDir int32) int32
)

// insert puts the disk under the engine, for all databases that are opened from now on
// until the test ends.
func insert(t *testing.T) *plates {
	tls := libc.NewTLS()
	t.Cleanup(tls.Close)
	vfs := memory[sqlite3.Tsqlite3_vfs](sqlite3.Xsqlite3_vfs_find(tls, 0))
	was := *vfs
	t.Cleanup(func() { *vfs = was })
	d := &plates{paths: map[uintptr]string{}, plate: map[string][]byte{}, own: map[uintptr]uintptr{}, ours: map[uintptr]uintptr{}}
	sync := func(tls *libc.TLS, file uintptr, flags int32) int32 {
		d.mu.Lock()
		path, own := d.paths[file], d.own[memory[sqlite3.Tsqlite3_file](file).FpMethods]
		d.mu.Unlock()
		rc := called[syncs](memory[sqlite3.Tsqlite3_io_methods](own).FxSync)(tls, file, flags)
		if content, err := os.ReadFile(path); rc == sqlite3.SQLITE_OK && err == nil {
			d.mu.Lock()
			d.plate[path] = content
			d.mu.Unlock()
		}
		return rc
	}
	open := func(tls *libc.TLS, v, name, file uintptr, flags int32, out uintptr) int32 {
		rc := called[opens](was.FxOpen)(tls, v, name, file, flags, out)
		f := memory[sqlite3.Tsqlite3_file](file)
		if rc != sqlite3.SQLITE_OK || name == 0 || f.FpMethods == 0 {
			return rc
		}
		d.mu.Lock()
		defer d.mu.Unlock()
		d.paths[file] = libc.GoString(name)
		if d.ours[f.FpMethods] == 0 {
			methods := *memory[sqlite3.Tsqlite3_io_methods](f.FpMethods)
			methods.FxSync = address(sync)
			d.pinned = append(d.pinned, &methods)
			mine := uintptr(unsafe.Pointer(&methods))
			d.ours[f.FpMethods], d.own[mine] = mine, f.FpMethods
		}
		f.FpMethods = d.ours[f.FpMethods]
		return rc
	}
	forget := func(tls *libc.TLS, v, name uintptr, syncDir int32) int32 {
		d.mu.Lock()
		delete(d.plate, libc.GoString(name))
		d.mu.Unlock()
		return called[deletes](was.FxDelete)(tls, v, name, syncDir)
	}
	d.pinned = append(d.pinned, open, sync, forget)
	t.Cleanup(func() { runtime.KeepAlive(d) })
	vfs.FxOpen, vfs.FxDelete = address(open), address(forget)
	return d
}

// lose is the folder as it is found after the power was lost: what is on the plate.
func (d *plates) lose(t *testing.T, dir string) (after string) {
	t.Helper()
	after = t.TempDir()
	d.mu.Lock()
	defer d.mu.Unlock()
	for path, content := range d.plate {
		if filepath.Dir(path) == dir {
			require.NoError(t, os.WriteFile(filepath.Join(after, filepath.Base(path)), content, 0o600))
		}
	}
	return after
}

// people are the names on record in a folder, which is sound.
func people(t *testing.T, dir string) (names []string) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, File))
	require.NoError(t, err)
	defer db.Close()
	var sound string
	require.NoError(t, db.QueryRow(`PRAGMA integrity_check`).Scan(&sound))
	require.Equal(t, "ok", sound)
	rows, err := db.Query(`SELECT name FROM person ORDER BY id`)
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		names = append(names, name)
	}
	require.NoError(t, rows.Err())
	return names
}

// What was acknowledged is there after the power is lost at any moment since, also
// while the log is folded back into the database.
func TestWhatWasAcknowledgedOutlivesAPowerLoss(t *testing.T) {
	d := insert(t)
	dir, err := filepath.EvalSymlinks(t.TempDir())
	require.NoError(t, err)
	db, err := Open(context.Background(), dir)
	require.NoError(t, err)
	add := func(name string) {
		t.Helper()
		require.NoError(t, db.Write(context.Background(), func(tx *Tx) error {
			_, err := tx.AddPerson(name, role.Maker)
			return err
		}))
	}
	folded := false
	var want []string
	for i := range 24 {
		name := fmt.Sprint(i, strings.Repeat(" of the bench", 20_000)) // enough to fold the log back in
		add(name)
		want = append(want, name)
		assert.Equal(t, len(want), len(people(t, d.lose(t, dir))), "after %d writes", i+1)
		d.mu.Lock()
		folded = folded || len(d.plate[filepath.Join(dir, File)]) > 1<<20
		d.mu.Unlock()
	}
	assert.True(t, folded, "the log was folded back in the meantime")
	assert.Equal(t, want, people(t, d.lose(t, dir)))

	// The disk really drops what nobody waited for.
	require.NoError(t, db.Unsynced(context.Background(), func() error {
		add("Nobody")
		assert.Equal(t, want, people(t, d.lose(t, dir)))
		return nil
	}))
	assert.Equal(t, append(want, "Nobody"), people(t, d.lose(t, dir)), "and keeps it once somebody did")
	require.NoError(t, db.Close())
}
