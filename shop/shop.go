// Package shop is what people do with Ash Shelf: keep a recipe, plan, pour,
// cut, release, sell.
//
// Each use case is one transaction that binds the rules of the core to the
// records in the store, at a moment, by a named person, from a device. A use
// case either records all of it or nothing. A change that arrives twice with
// the same key is recorded once, and one that was based on a state that has
// moved on since is refused and shown.
package shop

import (
	"cmp"
	"context"
	"crypto/rand"

	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"time"
	_ "time/tzdata" // zones, where the machine has none
	"unicode/utf8"

	"ashshelf/soap/caution"
	"ashshelf/soap/clock"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Version is the program's version, frozen into every lot.
const Version = "0.1"

// Shop is the door to all use cases.
type Shop struct {
	db  *store.DB
	dir string
	now func() time.Time

	moved  bool        // it was walked with a clock of its own, now or earlier
	madeUp atomic.Bool // it is being made up

	curves dryingCache
	memory lotCache
}

// Open opens the shop in a data folder. now is the clock.
func Open(ctx context.Context, dir string, now func() time.Time) (*Shop, error) {
	db, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	s := &Shop{db: db, dir: dir, now: now}
	err = db.Read(ctx, func(tx *store.Tx) (err error) {
		s.moved, err = tx.MovedClock()
		return err
	})
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	if err := s.sweep(ctx); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return s, nil
}

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
func (s *Shop) MoveClock(ctx context.Context, moment, machine time.Time) error {
	s.moved = true
	return s.db.Write(ctx, func(tx *store.Tx) error { return tx.AddMovedClock(moment, machine) })
}

// Moved reports whether the shop was ever walked with a moved clock: none of it is a
// real record then.
func (s *Shop) Moved() bool { return s.moved }

// Unsynced runs do without waiting for the disk after each record. It is for
// made-up shops only.
func (s *Shop) Unsynced(ctx context.Context, do func() error) error {
	s.madeUp.Store(true) // what is made up is written lot by lot, to and fro in time
	defer s.madeUp.Store(false)
	return s.db.Unsynced(ctx, do)
}

// DiskTrouble is what the disk said to the newest record; empty when it took it.
func (s *Shop) DiskTrouble() store.DiskTrouble { return s.db.Trouble() }

// Risky says why the shop's folder is a bad place for its records; empty when nothing is
// known against it.
func (s *Shop) Risky() string { return store.Risky(s.dir) }

// Close closes the shop.
func (s *Shop) Close() error { return s.db.Close() }

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
func (s *Shop) change(ctx context.Context, act Act, do func(*change) (ref string, err error)) (ref string, err error) {
	if err := act.Unread.Err(); err != nil {
		return "", err
	}
	err = s.db.Write(ctx, func(tx *store.Tx) error {
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
		c := &change{Tx: tx, act: act, now: s.now().UTC()}
		if c.doubt, c.newest, err = s.clockIn(tx); err != nil {
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
func (s *Shop) byPerson(ctx context.Context, act Act, do func(*change) (string, error)) (string, error) {
	return s.change(ctx, act, func(c *change) (string, error) {
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

// Settings is the shop with what follows from its settings.
type Settings struct {
	store.Shop
	Location *time.Location
	System   unit.System
	People   []store.Person
	Doubt    clock.Doubt // of the clock as it stands
	Newest   time.Time   // the entry that the clock is held to
}

// Working returns the people who work here now.
func (s Settings) Working() []store.Person {
	var out []store.Person
	for _, p := range s.People {
		if p.Active {
			out = append(out, p)
		}
	}
	return out
}

// Settings reads the settings; [ErrNotFounded] when there are none yet.
func (s *Shop) Settings(ctx context.Context) (out Settings, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) (err error) {
		if out.Shop, err = tx.Shop(); errors.Is(err, store.ErrNotFound) {
			return ErrNotFounded
		}
		if err != nil {
			return err
		}
		if out.Doubt, out.Newest, err = s.clockIn(tx); err != nil {
			return err
		}
		out.People, err = tx.People()
		return err
	})
	if err != nil {
		return out, err
	}
	out.System = unit.System(out.Units)
	if out.Location, err = time.LoadLocation(out.Zone); err != nil {
		return out, fmt.Errorf("time zone: %w", err)
	}
	return out, nil
}

// Version changes whenever records may have changed; see [store.DB.Version].
func (s *Shop) Version() int64 { return s.db.Version() }

// Now is the time by the shop's clock, in its zone.
func (s *Shop) Now(loc *time.Location) time.Time { return s.now().In(loc) }

// checkShop finds what cannot be worked with in settings.
func checkShop(v store.Shop) caution.Problems {
	var p caution.Problems
	if strings.TrimSpace(v.Name) == "" {
		p.Add("name", "give the shop a name")
	}
	p.Name("name", v.Name)
	p.Name("emergency", v.Emergency)
	if _, err := time.LoadLocation(v.Zone); err != nil || v.Zone == "" || v.Zone == "Local" {
		p.Add("zone", "“%s” is not a time zone; type it like Europe/Dublin", v.Zone)
	}
	if !unit.System(v.Units).Valid() {
		p.Add("units", "choose metric or US units")
	}
	if len(v.Currency) != 3 || strings.ToUpper(v.Currency) != v.Currency ||
		strings.Trim(v.Currency, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "" {
		p.Add("currency", "type the currency's three capital letters, such as EUR")
	}
	if !(v.ScaleStep >= 0.01 && v.ScaleStep <= 10) {
		p.Add("scale_step", "the scale's step must lie between 0.01 and 10 g")
	}
	if v.FineStep != 0 && !(v.FineStep >= 0.001 && v.FineStep < v.ScaleStep) {
		p.Add("fine_step", "a fine scale reads finer than the bench scale; leave it empty when there is none")
	}
	if v.FineStep != 0 && !(v.FineMax > 0 && v.FineMax <= 20000) {
		p.Add("fine_max", "say what the fine scale takes, such as 200 g")
	}
	if !slices.Contains(plan.FillRules(), plan.FillRule(v.FillRule)) {
		p.Add("fill_rule", "choose how molds are filled")
	}
	caution.PotLoss.Check(&p, "pot_loss", "what stays in the pot", v.PotLoss)
	if !(v.RoomC >= -10 && v.RoomC <= 45) {
		p.Add("room_c", "the workshop's temperature must lie between -10 and 45 °C")
	}
	for _, day := range strings.Fields(v.DaysOff) {
		if !slices.Contains([]string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}, day) {
			p.Add("days_off", "“%s” is no day of the week", day)
		}
	}
	for path, at := range map[string]string{"scale_at": v.ScaleAt, "probe_at": v.ProbeAt} {
		if host, port, err := net.SplitHostPort(at); at != "" && (err != nil || host == "" || port == "") {
			p.Add(path, "write where it is found as host:port, such as 192.168.1.30:8430, or leave it empty")
		}
	}
	if !(v.RiskyLoad > 0 && v.RiskyLoad <= 100) {
		p.Add("risky_load", "give a scent that may hurry between 1 and 100 %% of the pot's load")
	}
	return p
}

// usual fills in what a new shop has not said.
func usual(v store.Shop) store.Shop {
	v.FillRule = cmp.Or(v.FillRule, string(plan.Computed))
	v.RiskyLoad = cmp.Or(v.RiskyLoad, 60)
	v.RoomC = cmp.Or(v.RoomC, lye.RoomC)
	return v
}

// Found sets up a new shop with its people and returns the first of them.
func (s *Shop) Found(ctx context.Context, act Act, v store.Shop, people []string) (first int64, err error) {
	v = usual(v)
	p := checkShop(v)
	var names []string
	for _, n := range people {
		if n = strings.TrimSpace(n); n == "" {
			continue
		}
		checkPerson(&p, "people", n, names)
		names = append(names, n)
	}
	if len(names) == 0 {
		p.Add("people", "name at least one person; every record says who made it")
	}
	if err := p.Err(); err != nil {
		return 0, err
	}
	_, err = s.change(ctx, act, func(c *change) (string, error) {
		if _, err := c.Shop(); err == nil {
			return "", &Conflict{What: "the shop", Who: "somebody", When: c.now}
		}
		entry, err := c.entry("shop")
		if err != nil {
			return "", err
		}
		for i, n := range names {
			id, err := c.AddPerson(n)
			if err != nil {
				return "", err
			}
			if i == 0 {
				first = id
			}
		}
		return "", c.AddShop(entry, v)
	})
	return first, err
}

// ChangeSettings changes the settings from now on.
func (s *Shop) ChangeSettings(ctx context.Context, act Act, v store.Shop) error {
	if err := checkShop(v).Err(); err != nil {
		return err
	}
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		now, err := c.Shop()
		if err != nil {
			return "", err
		}
		v.Demo = now.Demo
		entry, err := c.entry("settings")
		if err != nil {
			return "", err
		}
		return "", c.AddShop(entry, v)
	})
	return err
}

// AddPerson takes somebody on.
func (s *Shop) AddPerson(ctx context.Context, act Act, name string) error {
	if name = strings.TrimSpace(name); name == "" {
		return caution.Problems{{Path: "person", Text: "type the person's name"}}
	}
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		names := make([]string, len(people))
		for i, p := range people {
			names[i] = p.Name
		}
		var p caution.Problems
		checkPerson(&p, "person", name, names)
		if err := p.Err(); err != nil {
			return "", err
		}
		if _, err := c.entry("person"); err != nil {
			return "", err
		}
		_, err = c.AddPerson(name)
		return "", err
	})
	return err
}

// longestName is more letters than any name on a label has.
const longestName = 80

// checkPerson finds what is wrong with a new name. A name signs for lots, so no
// two may be the same.
func checkPerson(p *caution.Problems, path, name string, others []string) {
	p.Name(path, name)
	if n := utf8.RuneCountInString(name); n > longestName && n <= caution.MostName {
		p.Add(path, "a name of %d letters does not fit; shorten it to %d", n, longestName)
	}
	if slices.ContainsFunc(others, func(o string) bool { return strings.EqualFold(o, name) }) {
		p.Add(path, "%s is on the list already; a name signs for lots, so tell two of them apart", name)
	}
}

// SetActive says whether a person still works here. The last one stays.
func (s *Shop) SetActive(ctx context.Context, act Act, id int64, active bool) error {
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		left := 0
		for _, p := range people {
			if p.Active && p.ID != id {
				left++
			}
		}
		if !active && left == 0 {
			return "", caution.Problems{{Path: "person", Text: "somebody must be working; add another person first"}}
		}
		if _, err := c.entry("person"); err != nil {
			return "", err
		}
		return "", c.SetActive(id, active)
	})
	return err
}
