package journal

import (
	"context"
	"crypto/rand"
	"strings"
	"time"

	"ashshelf/soap/clock"
	"ashshelf/store"
)

// Change is one running use case.
type Change struct {
	*store.Tx
	act      Act
	DeviceID int64
	Now      time.Time
	Last     int64 // the newest entry written
	Doubt    clock.Doubt
	newest   time.Time // that the clock is held to
	Happened time.Time // it happened, where that is not now
}

// Entry writes the head of a record and returns its number.
func (c *Change) Entry(kind string) (int64, error) { return c.Correction(kind, 0, "") }

// Record writes the head of a record, and what add makes of its number.
func (c *Change) Record(kind string, add func(entry int64) error) error {
	entry, err := c.Entry(kind)
	if err != nil {
		return err
	}
	return add(entry)
}

// Correction writes the head of a record that takes the place of another one, 0 for none.
func (c *Change) Correction(kind string, corrects int64, why string) (id int64, err error) {
	if corrects == 0 && why == "" {
		why = c.act.Late
	}
	id, err = c.AddEntry(
		store.Entry{
			Kind:     kind,
			Occurred: c.At(),
			Recorded: c.Now,
			Person:   c.act.Person,
			Device:   c.DeviceID,
			Corrects: corrects,
			Reason:   why,
		},
	)
	c.Last = id
	if err == nil && c.act.Signed != "" {
		err = c.AddSigned(id, c.act.Signed)
	}
	if err != nil || c.Doubt == "" {
		return id, err
	}
	return id, c.AddClockDoubt(id, c.Doubt, c.newest)
}

// At is when what is recorded happened: as it was said, or now.
func (c *Change) At() time.Time { return latest(c.Happened, c.Now) }

// latest is when something happened: as it was said, or now.
func latest(said, now time.Time) time.Time {
	if said.IsZero() {
		return now
	}
	return said
}

// Change runs a use case once per key. ref is what came of it, also when it
// was recorded before.
func (j *Journal) Change(ctx context.Context, act Act, do func(*Change) (ref string, err error)) (ref string, err error) {
	return j.changeBy(ctx, j.db.Write, act, do)
}

// changeBy is change by way of a write of its own.
func (j *Journal) changeBy(
	ctx context.Context,
	write func(context.Context, func(*store.Tx) error) error,
	act Act,
	do func(*Change) (ref string, err error),
) (ref string, err error) {
	if err := act.Unread.Err(); err != nil {
		return "", err
	}
	if err := j.ofThisLife(act.Key); err != nil {
		return "", err
	}
	err = write(ctx, func(tx *store.Tx) error {
		print, earlier, used, err := tx.Key(act.Key)
		if err != nil {
			return err
		}
		if used && act.Key != "" {
			if print != act.Fingerprint {
				return ErrKeyReused
			}
			ref = earlier
			return nil
		}
		c := &Change{Tx: tx, act: act, Now: j.Clock().UTC(), Happened: act.Happened}
		if c.Doubt, c.newest, err = j.DoubtIn(tx); err != nil {
			return err
		}
		if c.DeviceID, err = tx.Device(act.Device, act.DeviceLabel, c.Now); err != nil {
			return err
		}
		if ref, err = do(c); err != nil {
			return err
		}
		if act.Draft != (Draft{}) {
			if err := tx.DropDraft(act.Draft.Kind, act.Draft.Ref); err != nil {
				return err
			}
		}
		if act.Key == "" {
			return nil
		}
		return tx.UseKey(act.Key, act.Fingerprint, ref, c.Now)
	})
	return ref, err
}

// ByPerson is change for everything that a named person answers for.
func (j *Journal) ByPerson(ctx context.Context, act Act, do func(*Change) (string, error)) (string, error) {
	return j.Change(ctx, act, func(c *Change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		for _, p := range people {
			if p.ID == act.Person && p.Active {
				return do(c)
			}
		}
		return "", ErrNobody
	})
}

// NewOID makes an identity for addresses and codes: 26 letters and digits that
// cannot be guessed.
func NewOID() string { return strings.ToLower(rand.Text()) }

// clockIn doubts the clock by what was recorded. A shop that is walked with a clock of its
// own rests as long as it likes.
func (j *Journal) DoubtIn(tx *store.Tx) (clock.Doubt, time.Time, error) {
	if j.madeUp.Load() {
		return "", time.Time{}, nil
	}
	newest, err := tx.NewestEntry()
	doubt := clock.Judge(j.Clock(), newest)
	if j.moved && doubt == clock.Ahead {
		doubt = ""
	}
	return doubt, newest, err
}
