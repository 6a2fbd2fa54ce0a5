package lots

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
	"ashshelf/store/disk"
)

func TestPicturesLeaveRoomForRecords(t *testing.T) {
	said := func(have int, left uint64) string {
		r := &Reader{folder: "photos", free: func(string) (uint64, error) { return left, nil }}
		err := r.Takes(have)
		if err == nil {
			return ""
		}
		var p caution.Problems
		require.ErrorAs(t, err, &p)
		return p.At("photo")
	}
	assert.Empty(t, said(0, leastFree))
	assert.Empty(t, said(mostPhotos-1, 1<<40))
	assert.Contains(t, said(mostPhotos, 1<<40), "60 pictures, as many as a lot keeps")
	assert.Contains(t, said(0, 312<<20), "312 MB left, which are kept for records")
	left, err := disk.Free(t.TempDir())
	require.NoError(t, err)
	assert.Positive(t, left)
}
