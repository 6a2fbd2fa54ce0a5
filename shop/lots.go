package shop

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"ashshelf/archive"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/schedule"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// lotCache remembers lots as they were read. The shelf, the racks and the month ask
// for the same few hundred again and again, and reading them from their records
// costs a hundred times what looking at them does. A lot's record only grows, and
// lot_state says how far: what is remembered is good as long as the newest entry
// is the same. Whoever gets a lot may look at it but not change it.
type lotCache struct {
	mu     sync.Mutex
	frozen map[string]lot.Frozen       // what lots were made from, by identity; that never changes
	lots   map[string]*lot.Lot         // without bench, and without what other lots say of them
	plans  map[string]archive.KeptPlan // as they are written, by identity
}

// plan reads what a plan was kept as.
func (m *lotCache) plan(p store.Plan) (archive.KeptPlan, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if have, ok := m.plans[p.OID]; ok {
		return have, nil
	}
	written, err := archive.Read[archive.KeptPlan](p.Body)
	if err != nil {
		return written, fmt.Errorf("plan %s: %w", p.OID, err)
	}
	putBounded(&m.plans, p.OID, written)
	return written, nil
}

// mostKnown bounds what is remembered: more than ever stand on the racks.
const mostKnown = 800

// putBounded remembers one more, forgetting all when there are too many.
func putBounded[T any](known *map[string]T, oid string, one T) {
	if *known == nil || len(*known) >= mostKnown {
		*known = map[string]T{}
	}
	(*known)[oid] = one
}

// decode reads what a lot was made from, and what it was rescaled to.
func (m *lotCache) decode(l *store.Lot) (*lot.Lot, error) {
	for i, body := range l.RescaleJSON {
		r, err := archive.Read[archive.Rescale](body)
		if err != nil {
			return nil, fmt.Errorf("rescale of lot %s: %w", l.Code, err)
		}
		l.Rescales[i].Sheet, l.Rescales[i].Pot = readSheet(r.Sheet), readPot(r.Pot)
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if have, ok := m.frozen[l.OID]; ok {
		l.Frozen = have
		return &l.Lot, nil
	}
	frozen, err := decode("lot "+l.Code, readFrozen, l.FrozenJSON)
	if err != nil {
		return nil, err
	}
	l.Frozen = frozen
	putBounded(&m.frozen, l.OID, frozen)
	return &l.Lot, nil
}

// lookup returns copies of the lots that are known, nil for the others.
func (m *lotCache) lookup(heads []store.LotHead) []*lot.Lot {
	m.mu.Lock()
	defer m.mu.Unlock()
	out := make([]*lot.Lot, len(heads))
	for i, h := range heads {
		if l, ok := m.lots[h.OID]; ok && l.LastEntry == h.LastEntry {
			one := *l
			out[i] = &one
		}
	}
	return out
}

// clear drops what is remembered of lots, after something changed that is not an entry
// of theirs.
func (m *lotCache) clear() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.lots = nil
}

func (m *lotCache) put(l *lot.Lot) {
	one := *l
	m.mu.Lock()
	defer m.mu.Unlock()
	putBounded(&m.lots, l.OID, &one)
}

// lotsIn returns lots, newest first, reading what is not remembered. Within a change
// nothing is remembered, since that can be taken back.
func (s *Shop) lotsIn(tx *store.Tx, w store.LotsWhere, bench bool) ([]*lot.Lot, error) {
	heads, err := tx.LotHeads(w)
	if err != nil {
		return nil, err
	}
	out := make([]*lot.Lot, len(heads))
	use := !bench && !tx.Writing
	if use {
		out = s.memory.lookup(heads)
	}
	var unknown []store.LotHead
	for i, h := range heads {
		if out[i] == nil {
			unknown = append(unknown, h)
		}
	}
	fresh, err := tx.LotsOf(unknown, bench)
	if err != nil {
		return nil, err
	}
	for i := range out {
		if out[i] != nil {
			continue
		}
		if out[i], err = s.memory.decode(fresh[0]); err != nil {
			return nil, err
		}
		if use {
			s.memory.put(out[i])
		}
		fresh = fresh[1:]
	}
	return out, tx.Relate(out)
}

// Lots returns lots, newest first, without what was weighed, ticked and measured
// before the pour.
func (s *Shop) Lots(ctx context.Context, w store.LotsWhere) ([]*lot.Lot, error) {
	return s.readLots(ctx, w, false)
}

func (s *Shop) readLots(ctx context.Context, w store.LotsWhere, bench bool) (out []*lot.Lot, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = s.lotsIn(tx, w, bench)
		return err
	})
	return out, err
}

// FindLots returns the lots that fit, newest first, and how many fit in all.
func (s *Shop) FindLots(ctx context.Context, w store.LotsWhere) (out []*lot.Lot, all int, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) (err error) {
		if all, err = tx.CountLots(w); err == nil {
			out, err = s.lotsIn(tx, w, false)
		}
		return err
	})
	return out, all, err
}

// OnEarlyCheck returns the lots that were released when only checks that were made
// too early spoke for them, newest first, whether bars of them are left or not.
func (s *Shop) OnEarlyCheck(ctx context.Context) ([]*lot.Lot, error) {
	lots, err := s.readLots(ctx, store.LotsWhere{Unproven: true}, false)
	return slices.DeleteFunc(lots, func(l *lot.Lot) bool { return !l.OnEarlyCheck() }), err
}

// OnShelf are the stages of lots that are still about.
var OnShelf = []lot.Stage{lot.Making, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready}

// Shelf is what one sees looking along it.
type Shelf struct {
	Lots  []*lot.Lot // that are still about, newest first, without what was weighed for them
	Tasks []schedule.Task
	Racks []Rack // by name
	Room  rack.Room
}

// Shelf returns the shelf as it stands now.
func (s *Shop) Shelf(ctx context.Context, zone *time.Location) (out Shelf, err error) {
	now := s.Now(zone)
	err = s.db.Read(ctx, func(tx *store.Tx) (err error) {
		if out.Racks, out.Room, err = emptyRoom(tx); err == nil {
			out.Lots, err = s.lotsIn(tx, store.LotsWhere{Stages: OnShelf}, false)
		}
		return err
	})
	if err != nil {
		return out, err
	}
	furnish(out.Room, out.Lots, now)
	out.Tasks = schedule.Today(out.Lots, now)
	return out, nil
}

// OlderReady is the oldest lot of the same recipe with bars that may go, when it
// is older than this one; nil when these are the oldest.
func (s *Shop) OlderReady(ctx context.Context, l *lot.Lot) (*lot.Lot, error) {
	lots, err := s.Lots(ctx, store.LotsWhere{Recipe: l.Recipe, Stages: []lot.Stage{lot.Ready}})
	for _, one := range slices.Backward(lots) {
		if one.Number < l.Number && one.InStock() > 0 && one.Gate(s.now()).Ready && one.KeptFromSale() == "" {
			return one, err
		}
	}
	return nil, err
}

// OnBench returns the lots that are being made.
func (s *Shop) OnBench(ctx context.Context) ([]*lot.Lot, error) {
	return s.readLots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making}}, true)
}

// Lot returns one lot.
func (s *Shop) Lot(ctx context.Context, oid string) (out *lot.Lot, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = s.lotIn(tx, oid)
		return err
	})
	return out, err
}

func (s *Shop) lotIn(tx *store.Tx, oid string) (*lot.Lot, error) {
	list, err := s.lotsIn(tx, store.LotsWhere{OID: oid}, true)
	if err == nil && len(list) == 0 {
		err = fmt.Errorf("lot %s: %w", oid, store.ErrNotFound)
	}
	if err != nil {
		return nil, err
	}
	return list[0], nil
}

// onLot runs one act on a lot: what may happen is checked against its stage
// and against what the page had seen, and what follows is written with it.
func (s *Shop) onLot(ctx context.Context, act Act, oid string, what lot.Act, do func(*change, *lot.Lot) error) error {
	return s.onLotWhere(ctx, act, oid, what, func(_ *change, l *lot.Lot) error {
		if act.Seen != l.LastEntry {
			newest := l.Newest()
			return &Conflict{What: "lot " + l.Code, Who: newest.Who, When: newest.Recorded}
		}
		return nil
	}, do)
}

// onLotWhere is onLot with a check of its own in place of what the page had seen.
func (s *Shop) onLotWhere(ctx context.Context, act Act, oid string, what lot.Act, sound, do func(*change, *lot.Lot) error) error {
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		return oid, s.actOn(c, oid, what, sound, do)
	})
	return err
}

// actOn does something to a lot within a change, and brings its state up to date.
func (s *Shop) actOn(c *change, oid string, what lot.Act, sound, do func(*change, *lot.Lot) error) error {
	l, err := s.lotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	settings, err := c.Shop()
	if err != nil {
		return err
	}
	zone, err := time.LoadLocation(settings.Zone)
	if err != nil {
		return fmt.Errorf("time zone: %w", err)
	}
	c.now, c.last = c.now.In(zone), 0
	if err := sound(c, l); err != nil {
		return err
	}
	if err := l.May(what, c.now); err != nil {
		return err
	}
	if err := do(c, l); err != nil || c.last == 0 {
		return err
	}
	after, err := s.lotIn(c.Tx, oid)
	if err != nil {
		return err
	}
	return c.SetLotState(l.ID, after.Stage(), c.last)
}

// RecordPour records the pour. What was not weighed needs a reason, and a soap
// that comes out lye-heavy is held.
func (s *Shop) RecordPour(ctx context.Context, act Act, oid string, p lot.Pour) error {
	if err := checkPour(p).Err(); err != nil {
		return err
	}
	return s.onRun(ctx, act, oid, lot.ToPour, func(c *change, l *lot.Lot) error { return c.pour(l, p) })
}

// checkPour finds what cannot be in the words on a pour.
func checkPour(p lot.Pour) caution.Problems {
	var bad caution.Problems
	for field, v := range map[string]*float64{"lye_c": p.LyeC, "fats_c": p.FatsC, "room_c": p.RoomC} {
		if v != nil {
			caution.Temperature.Check(&bad, field, "the temperature", *v)
		}
	}
	if !slices.Contains(lot.Traces(), p.Trace) {
		bad.Add("trace", "say how thick the batter was")
	}
	if p.LeftG < 0 {
		bad.Add("left", "what was left cannot be below zero")
	}
	for oid, off := range p.Off {
		if math.Abs(off) > mostOff {
			bad.Add("off."+oid, "say how many millimetres it came above the line, or below it with a minus; at most %d", mostOff)
		}
	}
	return bad
}

// pour writes the pour once all that was planned is done or explained.
func (c *change) pour(l *lot.Lot, p lot.Pour) error {
	p.Skipped = strings.TrimSpace(p.Skipped)
	if left := run.Undone(run.Steps(l.Order()), l.State()); len(left) > 0 && p.Skipped == "" {
		return caution.Problems{{Path: "skipped", Text: undone(left) + " Do it, or write why it is left out."}}
	}
	j := l.JudgePour()
	p.Judged = &j
	if err := c.trialMade(l); err != nil {
		return err
	}
	if err := c.teach(l, p); err != nil {
		return err
	}
	entry, err := c.entry("pour")
	if err != nil {
		return err
	}
	if err := c.AddPour(entry, l.ID, p); err != nil {
		return err
	}
	if j.Heavy {
		return c.hold(
			l,
			true,
			fmt.Sprintf(
				"poured with a superfat of %s %% where %s %% was meant: test it before anybody touches it",
				unit.Trim(j.Superfat, 1),
				unit.Trim(j.Planned, 1),
			),
		)
	}
	return nil
}

// undone says in a line what is not weighed and what is not done.
func undone(steps []run.Step) string {
	var weigh, do []string
	for _, s := range steps {
		if s.Kind == run.Weigh {
			weigh = append(weigh, s.Title)
		} else {
			do = append(do, strings.ToLower(s.Title[:1])+s.Title[1:])
		}
	}
	var out []string
	if len(weigh) > 0 {
		out = append(out, "Not weighed yet: "+strings.Join(weigh, ", ")+".")
	}
	if len(do) > 0 {
		out = append(out, "Not done yet: "+strings.Join(do, "; ")+".")
	}
	return strings.Join(out, " ")
}

// mostOff is how far in mm a mold can come from its line and still teach
// something.
const mostOff = 60

// teach notes how full the molds of a pour came: those that were looked at, and
// all of them where something was left over.
func (c *change) teach(l *lot.Lot, p lot.Pour) error {
	whole := l.PotNow().Whole()
	left := math.Min(p.LeftG/whole, 0.5)
	for _, m := range l.Frozen.Molds {
		off, looked := p.Off[m.OID]
		if m.OID == "" || !looked && left == 0 {
			continue
		}
		entry, err := c.entry("mold pour")
		if err != nil {
			return err
		}
		used := m.Mold.Correction
		if used == 0 {
			used = 1
		}
		if err := c.AddMoldPour(entry, store.MoldPour{Mold: m.OID, LotID: l.ID, Correction: used, OffMM: off,
			LeftShare: left}); err != nil {
			return err
		}
	}
	return nil
}

// trialMade moves a draft on once a lot of it was poured, as long as it was not
// changed since.
func (c *change) trialMade(l *lot.Lot) error {
	history, err := c.History(store.Recipes, l.Recipe)
	if err != nil {
		return err
	}
	life, err := c.lifeOf(l.Recipe, l.Frozen.Revision)
	if err != nil || life != recipe.Draft || history[0].Number != l.Frozen.Revision {
		return err
	}
	return c.setLife(l.Recipe, l.Frozen.Revision, recipe.Trial)
}

func (c *change) hold(l *lot.Lot, held bool, why string) error {
	entry, err := c.entry("hold")
	if err != nil {
		return err
	}
	return c.AddHold(entry, l.ID, held, why)
}

// deviates writes that an act was done outside of its window, which asks for a
// reason; within it there is nothing to write. Soap that came out at an odd time is
// cut at one too, so one reason serves for both.
func (c *change) deviates(l *lot.Lot, act lot.Act, what, why string) error {
	out := l.OutOfWindow(c.now)
	if out == "" || l.Deviated(lot.ToUnmold) {
		return nil
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{
			{Path: "deviation", Text: "it is " + out + ". Write why it is done all the same; it goes on record as a deviation"},
		}
	}
	entry, err := c.entry("deviation")
	if err != nil {
		return err
	}
	return c.AddDeviation(entry, l.ID, lot.Deviation{Act: act, What: what + " " + out, Why: why})
}

// RecordUnmold records that the soap came out of its mold. Outside of its window it
// asks for a reason.
func (s *Shop) RecordUnmold(ctx context.Context, act Act, oid string, u lot.Unmolding, deviation string) error {
	if !slices.Contains(lot.Gels(), u.Gel) {
		return caution.Problems{{Path: "gel", Text: "say how far the gel went"}}
	}
	return s.onLot(ctx, act, oid, lot.ToUnmold, func(c *change, l *lot.Lot) error {
		if err := c.deviates(l, lot.ToUnmold, "unmolded", deviation); err != nil {
			return err
		}
		entry, err := c.entry("unmolding")
		if err != nil {
			return err
		}
		return c.AddUnmolding(entry, l.ID, u)
	})
}

// checkCut finds what cannot be in a count of bars.
func checkCut(k lot.Cut) caution.Problems {
	var bad caution.Problems
	counts := func(at string, bars map[ledger.Grade]int) (total int) {
		for g, n := range bars {
			if n < 0 || n > 5000 {
				bad.Add(at+string(g), "the count must lie between 0 and 5000")
			}
			total += n
		}
		return total
	}
	usual := counts("", k.Bars)
	seen := map[string]bool{"": true}
	for i, one := range k.Sizes {
		at := fmt.Sprintf("size[%d].", i)
		n := counts(at, one.Bars)
		switch {
		case one.Name == "":
			bad.Add(at+"name", "say what size it is, such as guest bar")
		case utf8.RuneCountInString(one.Name) > 40:
			bad.Add(at+"name", "name it in 40 letters")
		case caution.Unseen(one.Name) != "" || strings.Contains(one.Name, "\n"):
			bad.Name(at+"name", one.Name)
		case seen[one.Name]:
			bad.Add(at+"name", "two sizes have this name")
		case n == 0:
			bad.Add(at+string(ledger.First), "count the bars of this size")
		}
		if one.BarG < 0 {
			bad.Add(at+"bar", "a weight cannot be below zero")
		}
		seen[one.Name] = true
	}
	if k.Count() == 0 && len(bad) == 0 {
		bad.Add(string(ledger.First), "count the bars; a lot that gave none is given up instead")
	}
	if k.BarG < 0 || k.TrimmingsG < 0 || k.EndsG < 0 {
		bad.Add("bar", "a weight cannot be below zero")
	}
	if k.Halves < 0 || k.Halves > usual {
		bad.Add("halves", "of %d bars, between none and all are halves", usual)
	}
	if k.Ends < 0 || k.Ends > 1000 {
		bad.Add("ends", "count the end pieces that are kept")
	}
	return bad
}

// RecordCut counts the bars and puts them on the rack. Outside of its window it
// asks for a reason.
func (s *Shop) RecordCut(ctx context.Context, act Act, oid string, k lot.Cut, deviation string) error {
	for i := range k.Sizes {
		k.Sizes[i].Name = strings.TrimSpace(k.Sizes[i].Name)
	}
	if err := checkCut(k).Err(); err != nil {
		return err
	}
	return s.onLot(ctx, act, oid, lot.ToCut, func(c *change, l *lot.Lot) error {
		if l.Plain() && k.OfGrade(ledger.First) > 0 {
			return caution.Problems{
				{Path: string(ledger.First), Text: "the bars of this lot are plain since its rescue: count them as seconds"},
			}
		}
		batter := l.PotNow().Whole()
		if weight := k.Weight(); k.BarsG() > 0 && weight > batter*1.1 {
			return caution.Problems{
				{
					Path: "bar",
					Text: fmt.Sprintf(
						"%d bars and what else was kept make %s g, more than the %s g that went into the mold: check counts and weights",
						k.Count(),
						unit.Grams(weight),
						unit.Grams(batter),
					),
				},
			}
		}
		if err := c.deviates(l, lot.ToCut, "cut", deviation); err != nil {
			return err
		}
		entry, err := c.entry("cut")
		if err != nil {
			return err
		}
		if err := c.AddCut(entry, l.ID, k); err != nil {
			return err
		}
		if more := k.Ends > 0 || k.EndsG > 0 || k.Halves > 0 || k.Finish != ""; more {
			if entry, err = c.entry("cut"); err != nil {
				return err
			}
			if err := c.AddCutMore(entry, l.ID, k); err != nil {
				return err
			}
		}
		if len(k.Sizes) > 0 {
			if entry, err = c.entry("cut"); err != nil {
				return err
			}
			for _, one := range k.Sizes {
				if err := c.AddCutSize(entry, l.ID, one); err != nil {
					return err
				}
			}
		}
		for _, kind := range k.Kinds() {
			if err := c.CountBars(l.ID, kind, k.Of(kind)); err != nil {
				return err
			}
		}
		return nil
	})
}

// WeighSample records the marked sample bar's weight, or corrects an earlier
// one.
func (s *Shop) WeighSample(ctx context.Context, act Act, oid string, grams float64, corrects int64, reason string) error {
	return s.onLot(ctx, act, oid, lot.ToSample, func(c *change, l *lot.Lot) error { return s.weigh(c, l, grams, corrects, reason) })
}

// weigh records a weight of the marked bar within a change.
func (s *Shop) weigh(c *change, l *lot.Lot, grams float64, corrects int64, reason string) error {
	if grams <= 0 {
		return caution.Problems{{Path: "sample", Text: "type what the scale reads, more than 0 g"}}
	}
	var before float64
	for _, w := range l.Weights() {
		if w.ID == corrects {
			c.when = w.Occurred // it is the same weighing, read rightly
			break
		}
		before = w.Grams
	}
	if corrects != 0 && c.when.IsZero() {
		return caution.Problems{{Path: "sample", Text: "this weight was corrected already"}}
	}
	if corrects != 0 && strings.TrimSpace(reason) == "" {
		return caution.Problems{{Path: "reason", Text: "write why the weight is corrected; both stay on record"}}
	}
	of, first := "the sample bar weighed %s g before", before == 0 && corrects == 0
	if cut := l.Cut; first && cut != nil && cut.BarG > 0 {
		before, of = cut.BarG, "a typical bar weighed %s g at the cut"
	}
	if oz, likely := run.Slip(before, grams); likely {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					of+"; %s g cannot be. Did you read ounces? %s oz would be %s g: type the unit with it.",
					unit.Trim(before, 1),
					unit.Trim(grams, 2),
					unit.Trim(grams, 2),
					unit.Trim(oz, 1),
				),
			},
		}
	}
	if first && before > 0 && (grams > before*1.25 || grams < before*0.5) {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					of+"; %s g cannot be one of them. Check the bar, the scale and the unit.",
					unit.Trim(before, 1),
					unit.Trim(grams, 1),
				),
			},
		}
	}
	if !first && before > 0 && (grams > before*1.03 || grams < before*0.6) {
		return caution.Problems{
			{
				Path: "sample",
				Text: fmt.Sprintf(
					"the sample bar weighed %s g before; %s g cannot be the same bar. Check the bar, the scale and the unit.",
					unit.Trim(before, 1),
					unit.Trim(grams, 1),
				),
			},
		}
	}
	entry, err := c.correction("sample", corrects, strings.TrimSpace(reason))
	if err != nil {
		return err
	}
	if err := c.AddSample(entry, l.ID, grams); err != nil {
		return err
	}
	return s.noteOddness(c, l.OID)
}

// Weight is what the marked bar of a lot weighs.
type Weight struct {
	OID   string
	Grams float64
}

// again is how soon a second weight of a bar is taken for a slip.
const again = time.Hour

// WeighRound records the marked bars of many lots, or of none when one of the
// weights cannot be. Its problems are at "g." and the lot's identity.
func (s *Shop) WeighRound(ctx context.Context, act Act, weights []Weight) error {
	if len(weights) == 0 {
		return caution.Problems{{Path: "round", Text: "no weight is typed yet"}}
	}
	_, err := s.byPerson(ctx, act, func(c *change) (string, error) {
		var bad caution.Problems
		for _, w := range weights {
			at := "g." + w.OID
			err := s.actOn(c, w.OID, lot.ToSample, func(c *change, l *lot.Lot) error {
				if list := l.Weights(); len(list) > 0 && c.now.Sub(list[len(list)-1].Occurred) < again {
					last := list[len(list)-1]
					return caution.Problems{
						{
							Text: fmt.Sprintf(
								"%s weighed it at %s already: %s g",
								last.Who,
								last.Occurred.In(c.now.Location()).Format("15:04"),
								unit.Trim(last.Grams, 1),
							),
						},
					}
				}
				return nil
			}, func(c *change, l *lot.Lot) error { return s.weigh(c, l, w.Grams, 0, "") })
			var p caution.Problems
			var not *lot.NotNow
			switch {
			case errors.As(err, &p):
				bad.Add(at, "%s", p[0].Text)
			case errors.As(err, &not):
				bad.Add(at, "%s", not.Why)
			case err != nil:
				return "", err
			}
		}
		return "", bad.Err()
	})
	return err
}

// RecordCheck records a safety check, as the core judges it. A failed one holds the
// lot.
func (s *Shop) RecordCheck(ctx context.Context, act Act, oid string, k lot.SafetyCheck) error {
	var err error
	if k.Pass, err = cure.Verdict(k.Method, k.PH, k.Pass); err != nil {
		return err
	}
	if k.Method != "ph" {
		k.PH = nil
	}
	return s.onLot(ctx, act, oid, lot.ToCheck, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("check")
		if err != nil {
			return err
		}
		if err := c.AddCheck(entry, l.ID, k); err != nil {
			return err
		}
		if !k.Pass {
			return c.hold(l, true, "the safety check failed")
		}
		return nil
	})
}

// SetHold holds a lot or lifts its holds, with a reason.
func (s *Shop) SetHold(ctx context.Context, act Act, oid string, held bool, why string) error {
	what := lot.ToLift
	if held {
		what = lot.ToHold
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why"}}
	}
	return s.onLot(ctx, act, oid, what, func(c *change, l *lot.Lot) error {
		if !held && len(l.OwnHolds()) == 0 {
			return &lot.NotNow{Why: "lot " + l.Code + " has no hold of its own"}
		}
		return c.hold(l, held, why)
	})
}

// ReleaseLot is the acting person's word that the bars may be sold. Before its
// time it needs a reason; over a failed or missing safety check or a hold it
// cannot be given.
func (s *Shop) ReleaseLot(ctx context.Context, act Act, oid, early string) error {
	return s.onLot(ctx, act, oid, lot.ToRelease, func(c *change, l *lot.Lot) error {
		if c.doubt != "" {
			return &lot.NotNow{Why: "the clock is in doubt: no lot is released before it is put right, or somebody says that it is"}
		}
		g := l.Gate(c.now)
		early = strings.TrimSpace(early)
		switch {
		case g.MayRelease:
			early = ""
		case !g.MayEarly:
			var missing []string
			for _, k := range g.Conditions {
				if !k.Met && k.Code != "release" {
					missing = append(missing, strings.ToLower(k.Name)+" ("+k.Detail+")")
				}
			}
			return caution.Problems{{Path: "early", Text: "cannot be released: " + strings.Join(missing, "; ")}}
		case early == "":
			return caution.Problems{{Path: "early", Text: "it is before its time: write why it may go all the same"}}
		}
		entry, err := c.entry("release")
		if err != nil {
			return err
		}
		if err := c.AddRelease(entry, l.ID, early); err != nil {
			return err
		}
		seal, err := digest(c.Tx, l.ID, entry, store.DigestVersion)
		if err != nil {
			return err
		}
		return c.AddDigest(l.ID, store.DigestVersion, seal)
	})
}

// MoveBars moves bars out of, or back into, a released lot.
func (s *Shop) MoveBars(ctx context.Context, act Act, oid string, k ledger.Kind, r ledger.Reason, count int, note string) error {
	return s.onLot(ctx, act, oid, lot.ToMove, func(c *change, l *lot.Lot) error {
		have := l.Balance[k]
		if l.Cut.Of(k) == 0 && have == 0 {
			return caution.Problems{{Path: "count", Text: "this lot has no " + k.Words()}}
		}
		if why := l.KeptFromSale(); why != "" && r == ledger.Sold {
			return caution.Problems{{Path: "reason", Text: "this lot is not for sale: " + why}}
		}
		by, err := ledger.Change(have, l.Cut.Of(k)-have, k, r, count)
		if err != nil {
			return caution.Problems{{Path: "count", Text: err.Error()}}
		}
		entry, err := c.entry("move")
		if err != nil {
			return err
		}
		if err := c.AddMove(entry, l.ID, lot.Move{Kind: k, Reason: r, Change: by, Note: strings.TrimSpace(note)}); err != nil {
			return err
		}
		return c.ChangeBars(l.ID, k, by)
	})
}

// AddNote writes a remark on a lot, or an incident.
func (s *Shop) AddNote(ctx context.Context, act Act, oid string, incident bool, text string) error {
	if text = strings.TrimSpace(text); text == "" {
		return caution.Problems{{Path: "text", Text: "write what happened"}}
	}
	kind := store.Remark
	if incident {
		kind = store.Mishap
	}
	return s.onLot(ctx, act, oid, lot.ToNote, func(c *change, l *lot.Lot) error {
		entry, err := c.entry(string(kind))
		if err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, kind, text)
	})
}

// GiveUp ends a lot that was started and will not be poured.
func (s *Shop) GiveUp(ctx context.Context, act Act, oid, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "why", Text: "write why the lot is given up"}}
	}
	return s.onRun(ctx, act, oid, lot.ToAbandon, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("abandoned")
		if err != nil {
			return err
		}
		return c.AddNote(entry, l.ID, store.Abandoned, why)
	})
}
