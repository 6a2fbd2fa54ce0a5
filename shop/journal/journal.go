// Package journal is how anything gets on record, and how it is read back.
//
// Every record begins with an entry: what kind, who, from which device, when it happened
// and when it was written down. Entries are added and never altered; a correction is an
// entry of its own that names the one it corrects.
//
// # Recording
//
// A use case is a function that is given a [Change]: a transaction with a moment, a person
// and a device. [Journal.ByPerson] runs it and writes all of it or nothing:
//
//	_, err := j.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
//		return "", c.Record("remark", func(entry int64) error {
//			return c.AddNote(entry, lot, store.Remark, text)
//		})
//	})
//
// The [Act] says who it is and what the page had seen.
//
//   - Its Key names the pressed button. The same key is recorded once, however often it
//     arrives; with other values than the first time it is [ErrKeyReused].
//   - What was based on a state that has moved on since is a [*Conflict] and not recorded;
//     nothing is ever merged silently. Which entry counts is the use case's matter.
//   - What could not be read of a form (Unread) stops it before anything is written.
//   - The [Draft] it was typed in ends in the same transaction.
//   - An entry that is written while the clock is in doubt is marked as such.
//
// # Reading
//
// [Journal.Read] reads the records as they stand. What takes several reads runs them in one
// [Journal.Snapshot], so that all of it is of one moment.
package journal

import (
	"context"
	"crypto/rand"
	"errors"
	"slices"
	"strings"
	"sync/atomic"
	"time"
	_ "time/tzdata"

	"ashshelf/store"
	"ashshelf/store/disk"
)

// Version is the program's version, frozen into every lot.
const Version = "0.1"

// Journal is where everything is recorded.
type Journal struct {
	db  *store.DB
	dir string
	now func() time.Time

	life   atomic.Pointer[store.Life]
	moved  bool        // it was walked with a clock of its own, now or earlier
	madeUp atomic.Bool // it is being made up
}

// Open opens the journal in a data folder. now is the clock.
func Open(ctx context.Context, dir string, now func() time.Time) (*Journal, error) {
	db, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	j := &Journal{db: db, dir: dir, now: now}
	life, err := store.ReadLife(dir)
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	j.life.Store(&life)
	if err := j.Read(ctx, func(tx *store.Tx) (err error) {
		j.moved, err = tx.MovedClock()
		return err
	}); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return j, nil
}

// Dir is the folder of the records.
func (j *Journal) Dir() string { return j.dir }

// Life is the life of the shop that is lived now.
func (j *Journal) Life() store.Life { return *j.life.Load() }

// ErrGap says that nothing leaves the shop before somebody has looked for what is missing.
var ErrGap = errors.New("the shop was brought back from a copy: holds, checks and calls back that came after it may be missing. " +
	"Look through your papers, and say so on top of any page; then lots are released and bars leave")

// CloseGap is a person's word that she looked for what was recorded after the copy.
func (j *Journal) CloseGap(ctx context.Context, act Act) error {
	if !j.Life().Gap() {
		return nil
	}
	if _, err := j.ByPerson(ctx, act, func(c *Change) (string, error) {
		_, err := c.Entry("restored")
		return "", err
	}); err != nil {
		return err
	}
	life := j.Life()
	life.Looked = j.Clock().UTC().Truncate(time.Second)
	if err := store.WriteLife(j.dir, life); err != nil {
		return err
	}
	j.life.Store(&life)
	j.Touch()
	return nil
}

// RememberBlanked keeps in the folder which buyers have no name any more, so that no copy from before brings one back.
func (j *Journal) RememberBlanked(buyers []string) error {
	life := j.Life()
	life.Blanked = slices.Clone(life.Blanked)
	for _, one := range buyers {
		if !slices.Contains(life.Blanked, one) {
			life.Blanked = append(life.Blanked, one)
		}
	}
	if len(life.Blanked) == len(j.Life().Blanked) {
		return nil
	}
	if err := store.WriteLife(j.dir, life); err != nil {
		return err
	}
	j.life.Store(&life)
	return nil
}

// NewKey is a key for what a page sends. It names the life of the shop, so that what a
// browser still has of an earlier one is known by it.
func (j *Journal) NewKey() string { return j.Life().ID + lifeEnds + rand.Text() }

// lifeEnds is between the life and the rest of a key.
const lifeEnds = "-"

// ofThisLife refuses what was sent with a key of another life of the shop.
func (j *Journal) ofThisLife(key string) error {
	if life, _, named := strings.Cut(key, lifeEnds); named && life != j.Life().ID {
		return ErrOtherLife
	}
	return nil
}

// Clock is the moment by the shop's clock.
func (j *Journal) Clock() time.Time { return j.now() }

// snapshot is the key of a context's snapshot.
type snapshot struct{}

// Snapshot runs do so that all that is read under its context is read as it stood at one
// moment, whatever others record meanwhile. A snapshot within another is the outer one.
func (j *Journal) Snapshot(ctx context.Context, do func(context.Context) error) error {
	if _, ok := ctx.Value(snapshot{}).(*store.Tx); ok {
		return do(ctx)
	}
	return j.db.Read(ctx, func(tx *store.Tx) error { return do(context.WithValue(ctx, snapshot{}, tx)) })
}

// Read runs do on the records as they stand, or as they stood when the snapshot of the
// context was taken.
func (j *Journal) Read(ctx context.Context, do func(*store.Tx) error) error {
	if tx, ok := ctx.Value(snapshot{}).(*store.Tx); ok {
		return do(tx)
	}
	return j.db.Read(ctx, do)
}

// Write runs do on the records without an act of a person: what is no record, or is noted
// by the program itself.
func (j *Journal) Write(ctx context.Context, do func(*store.Tx) error) error {
	return j.db.Write(ctx, do)
}

// Touch says that something that pages show changed without a record.
func (j *Journal) Touch() { j.db.Touch() }

// NoteDisk tells what a file beside the records said when it was written.
func (j *Journal) NoteDisk(err error) { j.db.Noted(err) }

// ErrRealRecords says that a clock is moved only where no real records are.
var ErrRealRecords = errors.New(
	"the folder holds the records of a real shop: its clock is not moved, because what is recorded then would be false for ever",
)

// MayMoveClock reports whether the clock of a data folder may be moved: there is no
// shop yet, it is a demo, or its clock was moved before. insist overrides.
func MayMoveClock(ctx context.Context, dir string, insist bool) error {
	p, err := store.Peek(ctx, dir)
	if err != nil || insist || !p.Founded || p.Demo || p.Moved {
		return err
	}
	return ErrRealRecords
}

// MoveClock notes that the shop is walked from a moment of its own on, which every
// page says from then on. machine is the real time.
func (j *Journal) MoveClock(ctx context.Context, moment, machine time.Time) error {
	j.moved = true
	return j.Write(ctx, func(tx *store.Tx) error { return tx.AddMovedClock(moment, machine) })
}

// Moved reports whether the shop was ever walked with a moved clock: none of it is a
// real record then.
func (j *Journal) Moved() bool { return j.moved }

// Unsynced runs do without waiting for the disk after each record. It is for
// made-up shops only.
func (j *Journal) Unsynced(ctx context.Context, do func() error) error {
	j.madeUp.Store(true) // what is made up is written lot by lot, to and fro in time
	defer j.madeUp.Store(false)
	return j.db.Unsynced(ctx, do)
}

// DiskTrouble is what the disk said to the newest record; empty when it took it.
func (j *Journal) DiskTrouble() disk.Trouble { return j.db.Trouble() }

// Risky says why the shop's folder is a bad place for its records; empty when nothing is
// known against it.
func (j *Journal) Risky() string { return disk.Risky(j.dir) }

// Close closes the shop.
func (j *Journal) Close() error { return j.db.Close() }

// Version changes whenever records may have changed; see [store.DB.Version].
func (j *Journal) Version() int64 { return j.db.Version() }

// Now is the time by the shop's clock, in its zone.
func (j *Journal) Now(loc *time.Location) time.Time { return j.Clock().In(loc) }
