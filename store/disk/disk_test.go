package disk

import (
	"testing"

	"github.com/stretchr/testify/assert"
	sqlite3 "modernc.org/sqlite/lib"
)

func TestAnIndexThatCannotGrowMeansAFullDiskAndNotABrokenOne(t *testing.T) {
	assert.Equal(t, Full, ofCode(sqlite3.SQLITE_IOERR_SHMSIZE))
	assert.Equal(t, Full, ofCode(sqlite3.SQLITE_FULL))
	assert.Equal(t, Broken, ofCode(sqlite3.SQLITE_IOERR_READ))
	assert.Equal(t, Trouble(""), ofCode(sqlite3.SQLITE_CONSTRAINT))
}
