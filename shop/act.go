package shop

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/clock"
	"ashshelf/store"
)

// Act says who does something, from where, and how to know it again.
type Act struct {
	Person      int64
	Device      string // token of the device
	DeviceLabel string
	Key         string // idempotency key; the same key records once
	Fingerprint string // of what was sent, so that a key is not used for two things
	Seen        int64  // the newest entry the page knew of, where that matters
	Draft       Draft  // that ends with it; none when empty

	Unread caution.Problems // of what was typed; as long as there are any nothing is recorded
}

// Errors that pages answer in their own way.
var (
	ErrNotFounded = errors.New("the shop is not founded yet")
	ErrNobody     = errors.New("choose who is working first")
	ErrKeyReused  = errors.New("this page was sent before with other values, which were recorded; nothing was recorded now")
)

// Conflict says that something changed since the page was made.
type Conflict struct {
	What string
	Who  string
	When time.Time
}

func (c *Conflict) Error() string {
	return fmt.Sprintf("%s was changed by %s in the meantime; nothing was recorded", c.What, c.Who)
}

// change is one running use case.
type change struct {
	*store.Tx
	act    Act
	device int64
	now    time.Time
	last   int64 // the newest entry written
	doubt  clock.Doubt
	newest time.Time // that the clock is held to
	when   time.Time // it happened, where that is not now
}

// entry writes the head of a record and returns its number.
func (c *change) entry(kind string) (int64, error) { return c.correction(kind, 0, "") }

func (c *change) correction(kind string, corrects int64, why string) (id int64, err error) {
	id, err = c.AddEntry(
		store.Entry{
			Kind:     kind,
			Occurred: latest(c.when, c.now),
			Recorded: c.now,
			Person:   c.act.Person,
			Device:   c.device,
			Corrects: corrects,
			Reason:   why,
		},
	)
	c.last = id
	if err != nil || c.doubt == "" {
		return id, err
	}
	return id, c.AddClockDoubt(id, c.doubt, c.newest)
}

// latest is when something happened: as it was said, or now.
func latest(said, now time.Time) time.Time {
	if said.IsZero() {
		return now
	}
	return said
}

// change runs a use case once per key. ref is what came of it, also when it
// was recorded before.
func (j *Journal) change(ctx context.Context, act Act, do func(*change) (ref string, err error)) (ref string, err error) {
	return j.changeBy(ctx, j.db.Write, act, do)
}

// changeBy is change by way of a write of its own.
func (j *Journal) changeBy(
	ctx context.Context,
	write func(context.Context, func(*store.Tx) error) error,
	act Act,
	do func(*change) (ref string, err error),
) (ref string, err error) {
	if err := act.Unread.Err(); err != nil {
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
		c := &change{Tx: tx, act: act, now: j.Clock().UTC()}
		if c.doubt, c.newest, err = j.clockIn(tx); err != nil {
			return err
		}
		if c.device, err = tx.Device(act.Device, act.DeviceLabel, c.now); err != nil {
			return err
		}
		if ref, err = do(c); err != nil {
			return err
		}
		if act.Draft != (Draft{}) {
			if err := tx.DropCopy(act.Draft.Kind, act.Draft.Ref); err != nil {
				return err
			}
		}
		if act.Key == "" {
			return nil
		}
		return tx.UseKey(act.Key, act.Fingerprint, ref, c.now)
	})
	return ref, err
}

// byPerson is change for everything that a named person answers for.
func (j *Journal) byPerson(ctx context.Context, act Act, do func(*change) (string, error)) (string, error) {
	return j.change(ctx, act, func(c *change) (string, error) {
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

// newOID makes an identity for addresses and codes: 26 letters and digits that
// cannot be guessed.
func newOID() string { return strings.ToLower(rand.Text()) }
