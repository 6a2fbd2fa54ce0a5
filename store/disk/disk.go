// Package disk is what the disk under the records can do to them: it is full or
// write-protected, another program holds the file, a folder is copied away while it is
// written to. Each has a name and words here, and a way to be sure that a file is really
// on it.
package disk

import (
	"errors"
	"fmt"
	"io/fs"
	"syscall"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble is why the disk does not take a record; empty when it is none of the
// disk's.
type Trouble string

// The troubles.
const (
	Full     Trouble = "full"
	ReadOnly Trouble = "read-only"
	Busy     Trouble = "busy" // another program holds the records
	Broken   Trouble = "broken"
)

// Words says what is wrong, and what to do about it.
func (d Trouble) Words() (what, remedy string) {
	switch d {
	case Full:
		return "The disk with the records is full", "Free some space on it; what is on record is safe."
	case ReadOnly:
		return "The records cannot be " +
			"written to", "Their folder or disk is write-protected, or belongs to somebody else. Allow writing there; what is on record is safe."
	case Busy:
		return "Another program holds the " +
			"records", "Close what else has the file open, such as a copy program or a database browser, and send it again."
	case Broken:
		return "The disk with the records does not answer as it " +
			"should", "Check that it is plugged in and sound, and keep the newest copy of the records apart."
	}
	return "", ""
}

// ErrBusy says that the records were held by somebody else for as long as a page waits.
var ErrBusy = errors.New("the records are held by something else")

// TroubleOf finds the disk's trouble in an error.
func TroubleOf(err error) Trouble {
	if err == nil {
		return ""
	}
	if errors.Is(err, ErrBusy) {
		return Busy
	}
	if full(err) {
		return Full
	}
	if readOnly(err) || errors.Is(err, fs.ErrPermission) {
		return ReadOnly
	}
	var e *sqlite.Error
	if errors.As(err, &e) {
		if t := ofCode(e.Code()); t != "" {
			return t
		}
	}
	if errors.Is(err, syscall.EIO) {
		return Broken
	}
	return ""
}

// ofCode is the trouble that a code of the database speaks of.
func ofCode(code int) Trouble {
	if code == sqlite3.SQLITE_IOERR_SHMSIZE { // the index beside the records could not grow: there was no room for it
		return Full
	}
	switch code & 0xff {
	case sqlite3.SQLITE_FULL:
		return Full
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_PERM:
		return ReadOnly
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return Busy
	case sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
		return Broken
	}
	return ""
}

// Error says in a sentence why a folder cannot hold records.
type Error struct {
	Dir     string
	Trouble Trouble
	Err     error
}

func (e *Error) Error() string {
	what, remedy := e.Trouble.Words()
	return fmt.Sprintf("%s (in %s). %s (%v)", what, e.Dir, remedy, e.Err)
}

func (e *Error) Unwrap() error { return e.Err }
