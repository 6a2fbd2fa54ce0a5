// Package demo makes up a shop to look around in: Quernhollow Soap, its two
// people, their scents, molds and recipes, and lots at every stage of life.
//
// Everything goes through the use cases that the pages call, at moments before
// now, so that something is always opening, drying and ready. Nothing in it is
// real.
package demo

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"slices"
	"time"

	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/soap/additive"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/rack"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
	"ashshelf/store"
	"ashshelf/store/disk"
)

// Zone is the demo shop's time zone.
const Zone = "Europe/Dublin"

// Clock is a clock that the seeding moves through the past.
type Clock struct{ at time.Time }

// Now is the moment the clock shows.
func (c *Clock) Now() time.Time { return c.at }

// seeder carries what the steps of the story share. The first error stops it.
type seeder struct {
	ctx     context.Context
	shop    *shop.Shop
	clock   *Clock
	now     time.Time
	people  map[string]int64
	recipes map[string]string
	scents  map[string]additive.Scent
	molds   map[string]string
	tools   map[string]string
	steps   []step
	err     error
}

// step is something that happened a number of hours before now.
type step struct {
	hours float64
	do    func()
}

// at adds a step to the story; the story is told in order of time.
func (d *seeder) at(hours float64, do func()) { d.steps = append(d.steps, step{hours, do}) }

// tell runs the steps, the oldest first, each at its moment.
func (d *seeder) tell() {
	slices.SortStableFunc(d.steps, func(a, b step) int { return cmp.Compare(b.hours, a.hours) })
	for _, s := range d.steps {
		if d.err == nil && s.hours >= 0 {
			d.ago(s.hours)
			s.do()
		}
	}
}

const (
	odile   = "Odile Marrow"
	bastian = "Bastian Thrupp"
)

// half is the folder within a data folder in which a demo shop is made.
const half = "half-made"

// Make makes the demo shop in an empty data folder, as it stands at now. It is made
// aside and put in its place when it is whole: where the making was cut off, the folder
// is as empty as before.
func Make(ctx context.Context, dir string, now time.Time) error {
	aside := filepath.Join(dir, half)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	if err := store.Sound(ctx, dir); err != nil {
		return err
	}
	if err := os.RemoveAll(aside); err != nil {
		return fmt.Errorf("what was left half made: %w", err)
	}
	clock := &Clock{}
	s, err := shop.Open(ctx, aside, clock.Now)
	if err != nil {
		return fmt.Errorf("open %s: %w", aside, err)
	}
	if err := errors.Join(Seed(ctx, s, clock, now), s.Close()); err != nil {
		return err
	}
	if err := disk.Settle(filepath.Join(aside, store.File), filepath.Join(dir, store.File)); err != nil {
		return fmt.Errorf("put the demo in its place: %w", err)
	}
	return os.RemoveAll(aside)
}

// Records are the records of the demo shop as it stands at now, as the file that
// lies in a data folder.
func Records(ctx context.Context, now time.Time) ([]byte, error) {
	dir, err := os.MkdirTemp("", "ashshelf-made-up-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	if err := Make(ctx, dir, now); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, store.File))
}

// Seed fills an empty shop that was opened with the clock.
func Seed(ctx context.Context, s *shop.Shop, clock *Clock, now time.Time) error {
	return s.Unsynced(ctx, func() error { return seed(ctx, s, clock, now) })
}

func seed(ctx context.Context, s *shop.Shop, clock *Clock, now time.Time) error {
	d := &seeder{
		ctx:     ctx,
		shop:    s,
		clock:   clock,
		now:     now,
		people:  map[string]int64{},
		recipes: map[string]string{},
		scents:  map[string]additive.Scent{},
		molds:   map[string]string{},
		tools:   map[string]string{},
	}
	clock.at = now.Add(-200 * 24 * time.Hour)
	_, err := s.Found(ctx, d.act(""), store.Shop{
		Name: "Quernhollow Soap", Zone: Zone, Units: "metric", Currency: "EUR", ScaleStep: 1, FineStep: 0.1, FineMax: 300,
		PotLoss: 1, RoomC: 18, Demo: true,
		Emergency: "the numbers of your country, in Settings",
	}, []string{odile, bastian})
	if err != nil {
		return fmt.Errorf("found the demo shop: %w", err)
	}
	settings, err := s.Settings(ctx)
	if err != nil {
		return err
	}
	for _, p := range settings.People {
		d.people[p.Name] = p.ID
	}
	d.book()
	d.story()
	d.tell()
	clock.at = now
	return d.err
}

func (d *seeder) act(who string) journal.Act {
	return journal.Act{Person: d.people[who], Device: "demo-bench", DeviceLabel: "bench tablet"}
}

func (d *seeder) check(what string, err error) {
	if d.err == nil && err != nil {
		d.err = fmt.Errorf("demo: %s: %w", what, err)
	}
}

// ago sets the clock to a number of hours before now.
func (d *seeder) ago(hours float64) {
	d.clock.at = d.now.Add(-time.Duration(hours * float64(time.Hour)))
}

// making is one lot of the story. Hours count back from now to the pour.
type making struct {
	recipe, mold string
	count        int
	who          string
	hours        float64
	trace        string
	note         string
	off          float64 // mm from the fill line that the mold came to; 0 when nobody looked
	oid          string  // once it is started
}

// start plans and starts a lot in the hours before its pour.
func (d *seeder) start(m *making) {
	var kept string
	d.at(m.hours+3, func() {
		settings, err := d.shop.Settings(d.ctx)
		d.check("settings", err)
		o := planning.DefaultOrder(settings)
		o.Recipe, o.Molds, o.Rule = d.recipes[m.recipe], []planning.OrderMold{{OID: d.molds[m.mold], Count: m.count}}, plan.Computed
		kept, err = d.shop.KeepPlan(d.ctx, d.act(m.who), o)
		d.check("plan "+m.recipe, err)
	})
	d.at(m.hours+1.5, func() {
		var err error
		m.oid, err = d.shop.StartLot(d.ctx, d.act(m.who), kept, 1, "")
		d.check("start "+m.recipe, err)
	})
}

// on adds one act on a lot, with the lot's newest state seen.
func (d *seeder) on(m *making, hours float64, who, what string, do func(a journal.Act, oid string) error) {
	d.at(hours, func() {
		l, err := d.shop.Lot(d.ctx, m.oid)
		if err == nil {
			a := d.act(who)
			a.Seen = l.LastEntry
			err = do(a, m.oid)
		}
		d.check(what+" "+m.recipe, err)
	})
}

// wobble is a small made-up weighing error in grams, the same at every run.
func wobble(i int) float64 { return []float64{0, 0.4, -0.3, 1, 0, -0.6, 0.2, 0, 0.8, -0.2}[i%10] }

// bench goes through the first most steps of a lot's run, two minutes each.
func (d *seeder) makeDay(m *making, most int) {
	for i := range most {
		d.on(m, m.hours+1.4-0.033*float64(i), m.who, "step", func(a journal.Act, oid string) error {
			l, err := d.shop.Lot(d.ctx, oid)
			if err != nil {
				return err
			}
			left := run.Undone(run.Steps(l.Order()), l.State())
			if len(left) == 0 {
				return nil
			}
			if step := left[0]; step.Kind != run.Weigh {
				return d.shop.Tick(d.ctx, a, oid, m.ticked(step))
			}
			return d.weigh(a, oid, left[0].Item, i+int(m.hours))
		})
	}
}

// weigh weighs an item nearly on its mark, out of what is to be used first.
func (d *seeder) weigh(a journal.Act, oid string, i plan.Item, n int) error {
	w := shop.Weighed{Item: i.Key, Grams: i.Target}
	if i.Target > 60 {
		w.Grams = math.Round((i.Target+wobble(n)*math.Min(1, i.Tolerance))/0.1) * 0.1
	}
	m, err := d.shop.Lot(d.ctx, oid)
	if err != nil {
		return err
	}
	from, _, err := d.shop.AtHand(d.ctx, inventory.KeyOf(m.Frozen.Formula, i.Key), i.Name)
	if err != nil {
		return err
	}
	parts, _ := inventory.Propose(from, inventory.MG(w.Grams))
	for n, part := range parts {
		switch n {
		case 0:
			w.From = part.Delivery.OID
		case 1:
			w.Then = part.Delivery.OID
		}
	}
	return d.shop.Weigh(d.ctx, a, oid, w)
}

// ticked is a step done as the made-up shop does it.
func (m making) ticked(step run.Step) shop.Ticked {
	k := shop.Ticked{Step: step.Key}
	c := func(v float64) *float64 { return &v }
	switch step.Kind {
	case run.LyeIn:
		k.LiquidC = c(8) // cold enough for a liquid that foams too
	case run.Warm:
		k.LyeC, k.FatsC = c(38), c(41)
	case run.Meet:
		k.Note = "both warm to the hand"
	case run.Trace:
		k.Trace, k.Minutes = m.trace, map[string]float64{"emulsion": 40, "light": 6, "medium": 9, "thick": 2}[m.trace]
	case run.Milk:
		k.Onto = "fats"
	}
	return k
}

// most is more than any run of the demo has.
const most = 60

// poured makes a lot up to its pour.
func (d *seeder) poured(m making) *making {
	lot1 := &m
	d.start(lot1)
	d.makeDay(lot1, most)
	d.on(lot1, m.hours, m.who, "pour", func(a journal.Act, oid string) error {
		lyeC, fatsC, room := 38.0, 41.0, 19.5
		p := lot.Pour{LyeC: &lyeC, FatsC: &fatsC, RoomC: &room, Trace: m.trace, Note: m.note}
		if m.off != 0 {
			p.Off = map[string]float64{d.molds[m.mold]: m.off}
		}
		return d.shop.RecordPour(d.ctx, a, oid, p)
	})
	return lot1
}

// cut makes a lot up to its bars on the rack.
func (d *seeder) cut(m making, after float64, bars map[ledger.Grade]int, barG float64) *making {
	l := d.poured(m)
	d.cutUp(l, after, bars, barG)
	return l
}

func (d *seeder) cutUp(l *making, after float64, bars map[ledger.Grade]int, barG float64) {
	m := *l
	d.on(l, m.hours-after, m.who, "unmold", func(a journal.Act, oid string) error {
		return d.shop.RecordUnmold(d.ctx, a, oid, lot.Unmolding{Gel: "full"}, false, "")
	})
	d.on(l, m.hours-after-0.5, m.who, "cut", func(a journal.Act, oid string) error {
		return d.shop.RecordCut(d.ctx, a, oid, lot.Cut{Bars: bars, BarG: barG, TrimmingsG: 46}, "")
	})
}

// dry weighs the sample bar on the given days since the pour.
func (d *seeder) dry(l *making, fresh, loss float64, days ...float64) {
	for i, day := range days {
		g := fresh * (1 - loss*(1-math.Exp(-day/13)))
		g = math.Round(g*10+wobble(i)) / 10
		d.on(l, l.hours-day*24, l.who, "sample", func(a journal.Act, oid string) error {
			return d.shop.WeighSample(d.ctx, a, oid, g, 0, "")
		})
	}
}

func (d *seeder) tested(l *making, who string, hours float64) {
	d.on(l, hours, who, "check", func(a journal.Act, oid string) error {
		return d.shop.RecordCheck(d.ctx, a, oid, lot.SafetyCheck{Method: "zap", Pass: true, Note: "only soap"})
	})
}

func (d *seeder) released(l *making, who string, hours float64) {
	d.on(l, hours, who, "release", func(a journal.Act, oid string) error { return d.shop.ReleaseLot(d.ctx, a, oid, "") })
}

func (d *seeder) moved(l *making, who string, hours float64, g ledger.Grade, r ledger.Reason, n int, note string) {
	d.on(l, hours, who, "move", func(a journal.Act, oid string) error {
		return d.shop.MoveBars(d.ctx, a, oid, ledger.Of(g), r, n, note)
	})
}

// stand puts what cures and what is ready on two racks.
func (d *seeder) stand() {
	d.at(1.6, func() {
		for _, r := range []struct {
			name string
			body rack.Rack
		}{
			{"By the window", rack.Rack{Levels: 4, WidthMM: 650, Deep: 2, For: rack.Unscented}},
			{"Back wall", rack.Rack{Levels: 3, WidthMM: 900, Deep: 2, For: rack.Scented}},
		} {
			_, err := d.shop.KeepRack(d.ctx, d.act(odile), "", 0, r.name, r.body)
			d.check("rack "+r.name, err)
		}
		_, lots, err := d.shop.Room(d.ctx)
		d.check("room", err)
		slices.Reverse(lots) // the oldest first
		for _, l := range lots {
			if l.Stands() {
				d.check("place "+l.Code, d.shop.PlaceLot(d.ctx, d.act(odile), l.OID, shop.BestPlace, 0))
			}
		}
	})
}

// firsts are the bars of a good cut.
func firsts(n, seconds int) map[ledger.Grade]int {
	return map[ledger.Grade]int{ledger.First: n, ledger.Second: seconds, ledger.Tester: 1}
}

// story is the lots: sold out, ready, held, due, drying, in the mold, on the
// bench.
func (d *seeder) story() {
	week := []float64{2, 7, 14, 21, 28, 35, 42, 49, 56, 63, 70}
	const day = 24.0

	sold := d.cut(
		making{recipe: "base", mold: "loaf", count: 2, who: odile, hours: 118 * day, trace: "light", off: 1.5},
		26,
		firsts(18, 1),
		118,
	)
	d.dry(sold, 118, 0.13, week[:7]...)
	d.tested(sold, odile, 92*day)
	d.released(sold, odile, 68*day)
	d.moved(sold, bastian, 60*day, ledger.First, ledger.Sold, 14, "harvest stall")
	d.moved(sold, bastian, 52*day, ledger.First, ledger.Sold, 4, "village shop")
	d.moved(sold, bastian, 51*day, ledger.Second, ledger.Gift, 1, "")
	d.moved(sold, bastian, 50*day, ledger.Tester, ledger.TestUse, 1, "by the basin")

	olive := d.cut(
		making{
			recipe: "olive",
			mold:   "loaf",
			count:  1,
			who:    odile,
			hours:  96 * day,
			trace:  "emulsion",
			off:    1,
			note:   "Forty minutes to trace, in bouts.",
		},
		17,
		firsts(9, 0),
		121,
	)
	d.dry(olive, 121, 0.15, append(week, 80, 90)...)
	d.tested(olive, odile, 60*day)
	d.released(olive, odile, 3*day)
	d.moved(olive, odile, 2*day, ledger.First, ledger.Sold, 2, "at the door")

	fig := d.cut(
		making{
			recipe: "fig",
			mold:   "slab",
			count:  1,
			who:    bastian,
			hours:  74 * day,
			trace:  "medium",
			note:   "Stayed fluid, textured with a spoon.",
		},
		24,
		firsts(25, 1),
		112,
	)
	d.dry(fig, 112, 0.13, week[:7]...)
	d.tested(fig, bastian, 50*day)
	d.released(fig, odile, 30*day)

	bad := d.poured(
		making{
			recipe: "tallow",
			mold:   "loaf",
			count:  1,
			who:    bastian,
			hours:  52 * day,
			trace:  "thick",
			note:   "Went thick within a minute of the scent.",
		},
	)
	d.on(bad, 52*day-0.2, bastian, "trouble", func(a journal.Act, oid string) error {
		l, err := d.shop.Lot(d.ctx, oid)
		if err != nil {
			return err
		}
		report := shop.Report{Kind: trouble.Seized, Text: "A lump within a minute of the scent.", Way: "press"}
		for _, s := range l.Suspects(trouble.Seized) {
			if s.Likely {
				report.Blame = append(report.Blame, s.Subject)
			}
		}
		return d.shop.FileTrouble(d.ctx, a, oid, report)
	})
	d.cutUp(bad, 20, map[ledger.Grade]int{ledger.Second: 9, ledger.Tester: 1}, 117)
	d.on(bad, 52*day-20.6, bastian, "outcome", func(a journal.Act, oid string) error {
		l, err := d.shop.Lot(d.ctx, oid)
		if err != nil {
			return err
		}
		return d.shop.RecordOutcome(d.ctx, a, oid, l.Incidents[0].ID, "Nine plain bars with holes; white spots when cut")
	})
	d.on(bad, 52*day-20.7, odile, "hold", func(a journal.Act, oid string) error {
		return d.shop.SetHold(d.ctx, a, oid, true, "white spots in the cut face: test three bars before anybody touches it")
	})
	d.dry(bad, 117, 0.12, 2, 9, 16, 30, 44)

	due := d.cut(making{recipe: "sheep", mold: "loaf", count: 1, who: odile, hours: 45 * day, trace: "light"}, 40, firsts(9, 0), 119)
	d.dry(due, 119, 0.12, 3, 7, 14, 21, 28, 35, 43)
	d.tested(due, odile, 20*day)

	salt := d.cut(
		making{
			recipe: "salt",
			mold:   "rounds",
			count:  2,
			who:    bastian,
			hours:  31 * day,
			trace:  "light",
			note:   "Poured fast; no cracks.",
		},
		17,
		firsts(22, 1),
		118,
	)
	d.dry(salt, 118, 0.06, 2, 8, 15, 22, 30)

	mid := d.cut(
		making{recipe: "base", mold: "loaf", count: 2, who: odile, hours: 19 * day, trace: "light", off: 2},
		25,
		firsts(19, 0),
		118,
	)
	d.dry(mid, 118, 0.13, 2, 6, 11)

	drying := d.cut(
		making{recipe: "fig", mold: "loaf", count: 2, who: bastian, hours: 9 * day, trace: "medium"},
		24,
		firsts(18, 1),
		117,
	)
	d.dry(drying, 117, 0.13, 2, 8)

	d.cut(
		making{
			recipe: "tallow",
			mold:   "short",
			count:  2,
			who:    odile,
			hours:  3 * day,
			trace:  "light",
			note:   "Scent held back to the end, no trouble this time.",
		},
		22,
		firsts(13, 0),
		104,
	)

	d.poured(
		making{recipe: "trial", mold: "short", count: 1, who: odile, hours: 26, trace: "medium", note: "Hemp makes it green as moss."},
	)
	d.poured(making{recipe: "olive", mold: "loaf", count: 1, who: bastian, hours: 17, trace: "light", note: "Blended in five bouts."})
	d.poured(making{recipe: "base", mold: "loaf", count: 1, who: odile, hours: 2, trace: "light"})

	for i, p := range []struct{ recipe, mold string }{{"fig", "loaf"}, {"base", "loaf"}, {"swift", "slab"}} {
		d.at(5-float64(i), func() {
			settings, err := d.shop.Settings(d.ctx)
			d.check("settings", err)
			o := planning.DefaultOrder(settings)
			o.Recipe, o.Molds, o.Pot, o.Jug, o.Cooker = d.recipes[p.recipe], []planning.OrderMold{
				{OID: d.molds[p.mold], Count: 2 - i/2},
			}, d.tools["pot"], d.tools["jug"], d.tools["cooker"]
			o.Day = d.now.In(settings.Location).AddDate(0, 0, 1).Format("2006-01-02")
			_, err = d.shop.KeepPlan(d.ctx, d.act(odile), o)
			d.check("plan for tomorrow", err)
		})
	}

	d.stock()
	d.makeStocks()
	d.makeJars()
	d.stand()
	d.sell()

	bench := &making{recipe: "sheep", mold: "loaf", count: 2, who: odile, hours: 0}
	d.start(bench)
	d.makeDay(bench, 9)
}
