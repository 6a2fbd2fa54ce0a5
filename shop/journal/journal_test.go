package journal

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
	"ashshelf/store"
)

var bg = context.Background()

func open(t *testing.T) *Journal {
	j, err := Open(bg, t.TempDir(), func() time.Time { return time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC) })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, j.Close()) })
	return j
}

// hire adds a person under a key and counts how often that was done.
func hire(j *Journal, key, name string) (ref string, err error) {
	return j.Change(bg, Act{Device: "bench", Key: key, Fingerprint: name}, func(c *Change) (string, error) {
		_, err := c.AddPerson(name, role.Maker)
		return name, err
	})
}

func TestASnapshotIsOfOneMomentWhateverIsRecordedMeanwhile(t *testing.T) {
	j := open(t)
	people := func(ctx context.Context) (n int) {
		require.NoError(t, j.Read(ctx, func(tx *store.Tx) error {
			all, err := tx.People()
			n = len(all)
			return err
		}))
		return n
	}
	require.NoError(t, j.Snapshot(bg, func(ctx context.Context) error {
		assert.Zero(t, people(ctx))
		_, err := hire(j, "1", "Ida")
		require.NoError(t, err)
		assert.Zero(t, people(ctx), "as it stood when the snapshot was taken")
		assert.Equal(t, 1, people(bg), "and outside of it as it stands")
		return j.Snapshot(ctx, func(ctx context.Context) error {
			assert.Zero(t, people(ctx), "one within another is the outer one")
			return nil
		})
	}))
	assert.Equal(t, 1, people(bg))
}

func TestTheSameKeyRecordsOnceAndWithOtherValuesNotAtAll(t *testing.T) {
	j := open(t)
	for range 2 {
		ref, err := hire(j, "1", "Ida")
		require.NoError(t, err)
		assert.Equal(t, "Ida", ref, "what came of it is known the second time too")
	}
	_, err := hire(j, "1", "Jon")
	require.ErrorIs(t, err, ErrKeyReused)
	require.NoError(t, j.Read(bg, func(tx *store.Tx) error {
		all, err := tx.People()
		assert.Len(t, all, 1)
		return err
	}))
}

func TestNobodyRecordsWhoDoesNotWorkHere(t *testing.T) {
	j := open(t)
	ran := false
	_, err := j.ByPerson(bg, Act{Person: 7, Device: "bench"}, func(*Change) (string, error) {
		ran = true
		return "", nil
	})
	require.ErrorIs(t, err, ErrNobody)
	assert.False(t, ran)
}
