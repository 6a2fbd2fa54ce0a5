package web_test

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/store"
	"ashshelf/store/disktest"
)

// On a full disk nothing is recorded and every page says so; what was typed is still
// there, and goes as soon as there is space.
func TestAFullDiskIsToldOnEveryPageAndWhatWasTypedStays(t *testing.T) {
	disk, err := disktest.New(t.TempDir(), 16<<20)
	if errors.Is(err, disktest.ErrMayNot) {
		t.Skip(err)
	}
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, disk.Close()) })
	file, err := seeded()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(disk.Dir, store.File), file, 0o600))
	s, err := shop.Open(context.Background(), disk.Dir, func() time.Time { return moment })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	v := serve(t, s, nil)
	v.post("/who", url.Values{"person": {"1"}})
	_, page := v.get("/lots")
	lot := first(t, page, `href="(/lots/[a-z0-9]{26})"`)

	require.NoError(t, disk.Fill(0))
	status := http.StatusOK
	for range 2000 {
		if status, page = v.send(lot, lot+"/note", "text", "smells of figs and of hay"); status == http.StatusInsufficientStorage {
			break
		}
	}
	require.Equal(t, http.StatusInsufficientStorage, status)
	has(t, page, "The disk with the records is full")
	has(t, page, "Nothing was recorded")
	has(t, page, "smells of figs and of hay")
	for _, at := range []string{"/", "/recipes", "/calendar", lot} {
		_, page := v.get(at)
		has(t, page, "The disk with the records is full", at)
	}
	require.NoError(t, disk.Empty())
	v.does(lot, lot+"/note", "text", "there is space again")
	_, page = v.get(lot)
	assert.NotContains(t, page, "is full")
	has(t, page, "there is space again")
}
