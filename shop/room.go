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
	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// Shelf is what one sees looking along it.
type Shelf struct {
	Lots  []*lot.Lot // that are still about, newest first, without what was weighed for them
	Tasks []schedule.Task
	Racks []Rack // by name
	Room  rack.Room
	Bars  map[string]rack.Lot // of each lot, by its identity, as they stand
}

// Shelf returns the shelf as it stands now.
func (s *Shop) Shelf(ctx context.Context, zone *time.Location) (out Shelf, err error) {
	now := s.Now(zone)
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		if out.Racks, out.Room, err = emptyRoom(tx); err == nil {
			out.Lots, err = s.LotsIn(tx, store.LotsWhere{Stages: lots.OnShelf}, false)
		}
		return err
	})
	if err != nil {
		return out, err
	}
	out.Bars = furnish(out.Room, out.Lots, now)
	out.Tasks = schedule.Today(out.Lots, now)
	return out, nil
}

// Rack is one revision of a rack.
type Rack struct {
	store.Revision
	rack.Rack
}

func asRack(r store.Revision) (Rack, error) {
	body, err := document.Decode("rack "+r.Name, document.ReadRack, r.Body)
	return Rack{r, body}, err
}

// Racks returns the newest revision of every rack, by name, the second before the
// tenth.
func (s *Shop) Racks(ctx context.Context) ([]Rack, error) {
	return catalog.ReadCollection(ctx, s.Journal, racksIn, asRack)
}

func racksIn(tx *store.Tx) ([]store.Revision, error) {
	list, err := tx.Latest(store.Racks)
	slices.SortStableFunc(list, func(a, b store.Revision) int { return natural.Compare(a.Name, b.Name) })
	return list, err
}

// KeepRack makes a new revision of a rack, or a new one when base is 0. What
// stands on it must still have its place.
func (s *Shop) KeepRack(ctx context.Context, act journal.Act, oid string, base int, name string, body rack.Rack) (string, error) {
	p := body.Check()
	document.CheckName(&p, name)
	if err := p.Err(); err != nil {
		return "", err
	}
	return s.AddRevision(ctx, act, store.Racks, oid, base, name, "", "", body, func(c *journal.Change) error {
		return s.allStand(c, oid)
	})
}

// allStand finds the lots that have no place any more on a rack that was changed.
func (s *Shop) allStand(c *journal.Change, oid string) error {
	room, lots, err := s.roomIn(c.Tx, c.Now)
	if err != nil {
		return err
	}
	var p caution.Problems
	for _, l := range lots {
		if at, ok := l.PlaceNow(); ok && at.Rack == oid {
			if why := room.Fits(l.OnRack(c.Now), at); why != "" {
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
	lots, err := s.LotsIn(tx, store.LotsWhere{Stages: []lot.Stage{lot.Curing, lot.Ready}}, false)
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
	racks, err := catalog.ReadAll(revisions, asRack)
	if err != nil {
		return nil, room, err
	}
	for _, r := range racks {
		room.Racks[r.OID] = r.Rack
	}
	room.Apart, err = rulesIn(tx)
	return racks, room, err
}

// furnish puts lots where they stand, and returns the bars of each.
func furnish(room rack.Room, lots []*lot.Lot, now time.Time) map[string]rack.Lot {
	bars := make(map[string]rack.Lot, len(lots))
	for _, l := range lots {
		mine := l.OnRack(now)
		bars[l.OID] = mine
		if at, ok := l.PlaceNow(); ok {
			room.Standing[at] = append(room.Standing[at], mine)
		}
	}
	return bars
}

func rulesIn(tx *store.Tx) ([]rack.Apart, error) {
	body, err := tx.RackRules()
	if errors.Is(err, store.ErrNotFound) {
		return rack.Usual(), nil
	}
	if err != nil {
		return nil, err
	}
	return document.Decode("rack rules", func(b archive.Rules) []rack.Apart { return document.ReadApart(b.Apart) }, body)
}

// KeepApart keeps what must not stand beside what. What stands already stays; the
// room then says what is broken.
func (s *Shop) KeepApart(ctx context.Context, act journal.Act, rules []rack.Apart) error {
	if err := rack.CheckRules(rules).Err(); err != nil {
		return err
	}
	if rules == nil {
		rules = []rack.Apart{} // none is a rule as well
	}
	body, err := document.Encode(rules)
	if err != nil {
		return fmt.Errorf("rack rules: %w", err)
	}
	_, err = s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return "", c.Record("rack rules", func(entry int64) error { return c.AddRackRules(entry, body) })
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
func (s *Shop) PlaceLot(ctx context.Context, act journal.Act, oid, on string, level int) error {
	return s.OnLotUnseen(ctx, act, oid, lot.ToPlace, func(c *journal.Change, l *lot.Lot) error {
		room, _, err := s.roomIn(c.Tx, c.Now)
		if err != nil {
			return err
		}
		at, mine := rack.Spot{Rack: strings.TrimSpace(on), Level: level}, l.OnRack(c.Now)
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
		return c.Record("place", func(entry int64) error {
			return c.AddPlace(entry, l.ID, lot.Place{Rack: at.Rack, Level: max(0, at.Level)})
		})
	})
}

// PlaceAll puts every lot that has bars and no place on its best one, the oldest
// first. What fits nowhere stays without; it is refused when that is all.
func (s *Shop) PlaceAll(ctx context.Context, act journal.Act) error {
	_, err := s.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		room, lots, err := s.roomIn(c.Tx, c.Now)
		if err != nil {
			return "", err
		}
		placed, without := 0, 0
		for _, l := range slices.Backward(lots) {
			if _, ok := l.PlaceNow(); ok || !l.Stands() {
				continue
			}
			mine := l.OnRack(c.Now)
			at, _, ok := room.Best(mine)
			if !ok {
				without++
				continue
			}
			entry, err := c.Entry("place")
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
