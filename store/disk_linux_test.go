package store

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
	"ashshelf/store/disk"
	"ashshelf/store/disktest"
)

// smallDisk is a disk of a few megabytes.
func smallDisk(t *testing.T) *disktest.Disk {
	t.Helper()
	d, err := disktest.New(t.TempDir(), 4<<20)
	if errors.Is(err, disktest.ErrMayNot) {
		t.Skip(err)
	}
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, d.Close()) })
	return d
}

// On a full disk what was acknowledged stays, nothing else is, and the next record after
// space was made is taken.
func TestAFullDiskLosesNothingAndIsTold(t *testing.T) {
	small := smallDisk(t)
	db, err := Open(bg, small.Dir)
	require.NoError(t, err)
	var want []string
	add := func() error {
		name := fmt.Sprint("Person ", len(want))
		err := db.Write(bg, func(tx *Tx) error { _, err := tx.AddPerson(name, role.Maker); return err })
		if err == nil {
			want = append(want, name)
		}
		return err
	}
	require.NoError(t, add())
	for round := range 3 {
		require.NoError(t, small.Fill(round<<12))
		var refused error
		for range 2000 {
			if refused = add(); refused != nil {
				break
			}
		}
		require.Error(t, refused)
		assert.Equal(t, disk.Full, disk.TroubleOf(refused), "%v", refused)
		assert.Equal(t, disk.Full, db.Trouble())
		_ = db.Write(bg, func(*Tx) error { return nil })
		assert.Equal(t, disk.Full, db.Trouble(), "nothing was written that shows otherwise")
		require.NoError(t, small.Empty())
		require.NoError(t, add())
		assert.Empty(t, db.Trouble())
	}
	require.NoError(t, db.Close())
	assert.Equal(t, want, people(t, small.Dir))

	require.NoError(t, small.Fill(0))
	_, err = Open(bg, small.Dir)
	if err != nil { // it may need no space to open
		var said *disk.Error
		require.ErrorAs(t, err, &said)
		assert.Equal(t, disk.Full, said.Trouble)
		assert.ErrorContains(t, err, small.Dir)
	}
}

func TestAProtectedDiskIsToldAtTheStart(t *testing.T) {
	small := smallDisk(t)
	db, err := Open(bg, small.Dir)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, small.Protect(true))
	_, err = Open(bg, small.Dir)
	var said *disk.Error
	require.ErrorAs(t, err, &said)
	assert.Equal(t, disk.ReadOnly, said.Trouble)
	assert.ErrorContains(t, err, "cannot be written to")
	require.NoError(t, small.Protect(false))
	db, err = Open(bg, small.Dir)
	require.NoError(t, err)
	require.NoError(t, db.Close())
}
