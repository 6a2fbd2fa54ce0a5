package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/maruel/natural"

	"ashshelf/archive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/store"
)

// Rack is one revision of a rack.
type Rack struct {
	store.Revision
	rack.Rack
}

func asRack(r store.Revision) (Rack, error) {
	body, err := decode("rack "+r.Name, readRack, r.Body)
	return Rack{r, body}, err
}

// Racks returns the newest revision of every rack, by name, the second before the
// tenth.
func (s *Shop) Racks(ctx context.Context) ([]Rack, error) {
	return readBook(ctx, s.Journal, racksIn, asRack)
}

func racksIn(tx *store.Tx) ([]store.Revision, error) {
	list, err := tx.Latest(store.Racks)
	slices.SortStableFunc(list, func(a, b store.Revision) int { return natural.Compare(a.Name, b.Name) })
	return list, err
}

// KeepRack makes a new revision of a rack, or a new one when base is 0. What
// stands on it must still have its place.
func (s *Shop) KeepRack(ctx context.Context, act Act, oid string, base int, name string, body rack.Rack) (string, error) {
	p := body.Check()
	checkName(&p, name)
	if err := p.Err(); err != nil {
		return "", err
	}
	return s.keep(ctx, act, store.Racks, oid, base, name, "", "", body, func(c *change) error {
		return s.allStand(c, oid)
	})
}

// allStand finds the lots that have no place any more on a rack that was changed.
func (s *Shop) allStand(c *change, oid string) error {
	room, lots, err := s.roomIn(c.Tx, c.now)
	if err != nil {
		return err
	}
	var p caution.Problems
	for _, l := range lots {
		if at, ok := l.PlaceNow(); ok && at.Rack == oid {
			if why := room.Fits(l.OnRack(c.now), at); why != "" {
				p.Add("levels", "lot %s stands on it and would have no place: %s", l.Code, why)
			}
		}
	}
	return p.Err()
}

// Room is all racks with what stands on them, and the lots that have bars.
func (s *Shop) Room(ctx context.Context) (rack.Room, []*lot.Lot, error) {
	var lots []*lot.Lot
	var out rack.Room
	err := s.Read(ctx, func(tx *store.Tx) (err error) {
		out, lots, err = s.roomIn(tx, s.Clock())
		return err
	})
	return out, lots, err
}

func (s *Shop) roomIn(tx *store.Tx, now time.Time) (rack.Room, []*lot.Lot, error) {
	_, room, err := emptyRoom(tx)
	if err != nil {
		return room, nil, err
	}
	lots, err := s.lotsIn(tx, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}}, false)
	if err != nil {
		return room, nil, err
	}
	furnish(room, lots, now)
	return room, lots, nil
}

// emptyRoom is the racks, by name, and the room of them and its rules.
func emptyRoom(tx *store.Tx) ([]Rack, rack.Room, error) {
	room := rack.Room{Racks: map[string]rack.Rack{}, Standing: map[rack.Spot][]rack.Lot{}}
	revisions, err := racksIn(tx)
	if err != nil {
		return nil, room, err
	}
	racks, err := list(revisions, asRack)
	if err != nil {
		return nil, room, err
	}
	for _, r := range racks {
		room.Racks[r.OID] = r.Rack
	}
	room.Apart, err = rulesIn(tx)
	return racks, room, err
}

// furnish puts lots where they stand.
func furnish(room rack.Room, lots []*lot.Lot, now time.Time) {
	for _, l := range lots {
		if at, ok := l.PlaceNow(); ok {
			room.Standing[at] = append(room.Standing[at], l.OnRack(now))
		}
	}
}

func rulesIn(tx *store.Tx) ([]rack.Apart, error) {
	body, err := tx.RackRules()
	if errors.Is(err, store.ErrNotFound) {
		return rack.Usual(), nil
	}
	if err != nil {
		return nil, err
	}
	return decode("rack rules", func(b archive.Rules) []rack.Apart { return readApart(b.Apart) }, body)
}

// KeepApart keeps what must not stand beside what. What stands already stays; the
// room then says what is broken.
func (s *Shop) KeepApart(ctx context.Context, act Act, rules []rack.Apart) error {
	if err := rack.CheckRules(rules).Err(); err != nil {
		return err
	}
	if rules == nil {
		rules = []rack.Apart{} // none is a rule as well
	}
	body, err := encode(rules)
	if err != nil {
		return fmt.Errorf("rack rules: %w", err)
	}
	_, err = s.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry("rack rules")
		if err != nil {
			return "", err
		}
		return "", c.AddRackRules(entry, body)
	})
	return err
}

// BestPlace puts a lot where the rules of the racks put it, NoPlace takes it off.
const (
	BestPlace = "best"
	NoPlace   = "none"
)

// PlaceLot puts a lot on a level of a rack, on its best place, or off its place
// with [NoPlace]. It is refused where it does not fit or does not belong.
func (s *Shop) PlaceLot(ctx context.Context, act Act, oid, on string, level int) error {
	return s.onLotWhere(ctx, act, oid, lot.ToPlace, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		room, _, err := s.roomIn(c.Tx, c.now)
		if err != nil {
			return err
		}
		at, mine := rack.Spot{Rack: strings.TrimSpace(on), Level: level}, l.OnRack(c.now)
		switch {
		case at.Rack == "":
			return caution.Problems{{Path: "place", Text: "choose where it stands"}}
		case at.Rack == NoPlace:
			at = rack.Spot{}
		case at.Rack == BestPlace:
			best, _, ok := room.Best(mine)
			if !ok {
				return caution.Problems{{Path: "place", Text: "no level has room for it beside what may stand beside it"}}
			}
			at = best
		default:
			if why := room.Refuses(mine, at); why != "" {
				return caution.Problems{{Path: "place", Text: why}}
			}
		}
		if have, ok := l.PlaceNow(); ok && have == at || !ok && at.Rack == "" {
			return nil
		}
		entry, err := c.entry("place")
		if err != nil {
			return err
		}
		return c.AddPlace(entry, l.ID, lot.Place{Rack: at.Rack, Level: max(0, at.Level)})
	})
}

// PlaceAll puts every lot that has bars and no place on its best one, the oldest
// first. What fits nowhere stays without; it is refused when that is all.
func (s *Shop) PlaceAll(ctx context.Context, act Act) error {
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		room, lots, err := s.roomIn(c.Tx, c.now)
		if err != nil {
			return "", err
		}
		placed, without := 0, 0
		for _, l := range slices.Backward(lots) {
			if _, ok := l.PlaceNow(); ok || !l.Stands() {
				continue
			}
			mine := l.OnRack(c.now)
			at, _, ok := room.Best(mine)
			if !ok {
				without++
				continue
			}
			entry, err := c.entry("place")
			if err != nil {
				return "", err
			}
			if err := c.AddPlace(entry, l.ID, lot.Place{Rack: at.Rack, Level: at.Level}); err != nil {
				return "", err
			}
			if err := c.SetLotState(l.ID, l.Stage(), entry); err != nil {
				return "", err
			}
			room.Standing[at] = append(room.Standing[at], mine)
			placed++
		}
		if placed == 0 && without > 0 {
			return "", caution.Problems{{Path: "place", Text: "no level has room for any of them beside what may stand beside it"}}
		}
		return "", nil
	})
	return err
}
