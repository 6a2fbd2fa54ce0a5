package store

import (
	"errors"

	"ashshelf/store/disk"
)

// plainly puts the trouble of a disk in front of an error that it caused.
func plainly(dir string, err error) error {
	if t := disk.TroubleOf(err); t != "" && !errors.Is(err, ErrDamaged) {
		return &disk.Error{Dir: dir, Trouble: t, Err: err}
	}
	return err
}

// Trouble is what the disk said to the newest record, empty when it took it.
func (db *DB) Trouble() disk.Trouble {
	t, _ := db.trouble.Load().(disk.Trouble)
	return t
}

// Noted keeps the trouble of a disk that something beside the records met, such as a
// photo's file.
func (db *DB) Noted(err error) {
	if t := disk.TroubleOf(err); t != "" {
		db.trouble.Store(t)
	}
}

// took notes how the disk took what was written, or should have been.
func (db *DB) took(err error, changed bool) {
	if db.Noted(err); err == nil && changed {
		db.trouble.Store(disk.Trouble(""))
	}
}
