package store

import (
	"errors"
	"fmt"
	"io/fs"
	"syscall"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// DiskTrouble is why the disk does not take a record; empty when it is none of the
// disk's.
type DiskTrouble string

// The troubles.
const (
	DiskFull     DiskTrouble = "full"
	DiskReadOnly DiskTrouble = "read-only"
	DiskBusy     DiskTrouble = "busy" // another program holds the records
	DiskBroken   DiskTrouble = "broken"
)

// Words says what is wrong, and what to do about it.
func (d DiskTrouble) Words() (what, remedy string) {
	switch d {
	case DiskFull:
		return "The disk with the records is full", "Free some space on it; what is on record is safe."
	case DiskReadOnly:
		return "The records cannot be written to", "Their folder or disk is write-protected, or belongs to somebody else. Allow writing there; what is on record is safe."
	case DiskBusy:
		return "Another program holds the records", "Close what else has the file open, such as a copy program or a database browser, and send it again."
	case DiskBroken:
		return "The disk with the records does not answer as it should", "Check that it is plugged in and sound, and keep the newest copy of the records apart."
	}
	return "", ""
}

// ErrBusy says that the records were held by somebody else for as long as a page waits.
var ErrBusy = errors.New("the records are held by something else")

// TroubleOf finds the disk's trouble in an error.
func TroubleOf(err error) DiskTrouble {
	if err == nil {
		return ""
	}
	if errors.Is(err, ErrBusy) {
		return DiskBusy
	}
	if full(err) {
		return DiskFull
	}
	if readOnly(err) || errors.Is(err, fs.ErrPermission) {
		return DiskReadOnly
	}
	var e *sqlite.Error
	if errors.As(err, &e) {
		switch e.Code() & 0xff {
		case sqlite3.SQLITE_FULL:
			return DiskFull
		case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_PERM:
			return DiskReadOnly
		case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
			return DiskBusy
		case sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB:
			return DiskBroken
		}
	}
	if errors.Is(err, syscall.EIO) {
		return DiskBroken
	}
	return ""
}

// ErrDisk says in a sentence why a folder cannot hold records.
type ErrDisk struct {
	Dir     string
	Trouble DiskTrouble
	Err     error
}

func (e *ErrDisk) Error() string {
	what, remedy := e.Trouble.Words()
	return fmt.Sprintf("%s (in %s). %s (%v)", what, e.Dir, remedy, e.Err)
}

func (e *ErrDisk) Unwrap() error { return e.Err }

// plainly puts the trouble of a disk in front of an error that it caused.
func plainly(dir string, err error) error {
	if t := TroubleOf(err); t != "" && !errors.Is(err, ErrDamaged) {
		return &ErrDisk{dir, t, err}
	}
	return err
}

// Trouble is what the disk said to the newest record, empty when it took it.
func (db *DB) Trouble() DiskTrouble {
	t, _ := db.trouble.Load().(DiskTrouble)
	return t
}

// Noted keeps the trouble of a disk that something beside the records met, such as a
// photo's file.
func (db *DB) Noted(err error) {
	if t := TroubleOf(err); t != "" {
		db.trouble.Store(t)
	}
}

// took notes how the disk took what was written, or should have been.
func (db *DB) took(err error, changed bool) {
	if db.Noted(err); err == nil && changed {
		db.trouble.Store(DiskTrouble(""))
	}
}
