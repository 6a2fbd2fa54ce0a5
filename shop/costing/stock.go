package costing

import (
	"context"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Valuation is everything that was in the house at the end of a day, at what it cost.
type Valuation struct {
	Day       string
	Currency  string
	Materials []Valued
	Vessels   []Valued // stocks of lye and blends of fats
	Making    []Valued // poured, and in the molds or on the racks
	Ready     []Valued // released bars
	TakenOver []Valued // bars that were there when the books began
}

// Valued is one thing and what it cost.
type Valued struct {
	Name   string
	Detail string
	Href   string
	MG     int64
	Count  int // pieces, where they are counted
	Cost   cost.Sum
}

// Totals are the sums of the groups, and of all.
func Totals(groups ...[]Valued) (out []cost.Sum, all cost.Sum) {
	for _, g := range groups {
		var sum cost.Sum
		for _, v := range g {
			sum = sum.Plus(v.Cost)
		}
		out, all = append(out, sum), all.Plus(sum)
	}
	return out, all
}

// Groups are the groups in their order, with their names.
func (v Valuation) Groups() (names []string, groups [][]Valued) {
	return []string{"Materials", "Lye and blends made ahead", "In molds and curing", "Ready", "Taken over"},
		[][]Valued{v.Materials, v.Vessels, v.Making, v.Ready, v.TakenOver}
}

// StockOn values what was in the house at the end of a local day.
func (r *Reckoner) StockOn(ctx context.Context, day string) (out Valuation, err error) {
	settings, err := r.store.Settings(ctx)
	if err != nil {
		return out, err
	}
	at, err := time.ParseInLocation(time.DateOnly, day, settings.Location)
	if err != nil {
		return out, err
	}
	out.Day, out.Currency = day, settings.Currency
	err = r.Read(ctx, func(tx *store.Tx) error { return r.stockOn(tx, &out, settings, at.AddDate(0, 0, 1)) })
	return out, err
}

func (r *Reckoner) stockOn(tx *store.Tx, out *Valuation, settings catalog.Settings, until time.Time) error {
	sums, err := tx.DeliverySums(until)
	if err != nil {
		return err
	}
	deliveries, err := tx.Deliveries(store.DeliveriesWhere{})
	if err != nil {
		return err
	}
	g := newReading(tx, r, settings.HourRate)
	for _, d := range deliveries {
		left, ok := sums[d.ID]
		if !ok {
			continue
		}
		line := d.LineOf(left[0], left[1])
		v := Valued{Name: d.Name, Detail: d.Label(), Href: "/stores/deliveries/" + d.OID, MG: left[0], Cost: line.Sum()}
		if d.Unit == inventory.Pieces {
			v.Count, v.MG = int(left[0]), 0
		}
		out.Materials = append(out.Materials, v)
	}
	if err := g.vessels(out, until); err != nil {
		return err
	}
	moved, err := tx.LotsMovedSince(until)
	if err != nil {
		return err
	}
	lots, err := r.reader.LotsIn(tx, store.LotsWhere{Stages: []lot.Stage{lot.Making, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready}}, true)
	if err != nil {
		return err
	}
	known := map[string]bool{}
	for _, l := range lots {
		known[l.OID] = true
	}
	for _, oid := range moved {
		if known[oid] {
			continue
		}
		l, err := r.reader.LotIn(tx, oid)
		if err != nil {
			return err
		}
		lots = append(lots, l)
	}
	for _, l := range lots {
		if err := g.valued(out, l, until); err != nil {
			return err
		}
	}
	openings, err := tx.OpeningLots("")
	for _, o := range openings {
		if n := o.BarsOn(until); n > 0 {
			v := Valued{Name: o.Name, Detail: o.Code, Href: "/stores/opening", Count: n}
			if v.Cost.Unknown = []string{o.Code}; o.Cost != nil {
				v.Cost = cost.Sum{Known: cost.Minor(*o.Cost).Of(int64(n), int64(o.Came()))}
			}
			out.TakenOver = append(out.TakenOver, v)
		}
	}
	return err
}

// vessels values the stocks of lye and the blends of fats.
func (g *reading) vessels(out *Valuation, until time.Time) error {
	all, err := g.tx.Stocks(true, 10_000)
	if err != nil {
		return err
	}
	for _, one := range all {
		if !one.Made.Before(until) {
			continue
		}
		mix, err := g.follow(one, until)
		if err != nil {
			return err
		}
		if mix.MG > 0 {
			out.Vessels = append(out.Vessels, Valued{Name: one.Code, Href: "/lye/" + one.OID, MG: mix.MG, Cost: mix.Left})
		}
	}
	return nil
}

// valued values a lot at a moment: what is in the mold or on the rack carries all that went in, bars their share.
func (g *reading) valued(out *Valuation, l *lot.Lot, until time.Time) error {
	if l.Pour == nil || !l.Pour.Occurred.Before(until) || l.Abandoned != nil && l.Abandoned.Occurred.Before(until) {
		return nil
	}
	total, err := g.total(l)
	if err != nil {
		return err
	}
	v := Valued{Name: l.Frozen.Recipe, Detail: l.Code, Href: "/lots/" + l.OID}
	if l.Cut == nil || !l.Cut.Occurred.Before(until) {
		v.MG, v.Cost = inventory.MG(l.PotNow().Whole()), total
		out.Making = append(out.Making, v)
		return nil
	}
	v.Cost.Unknown = total.Unknown
	for _, share := range cost.Divide(total.Known, Piles(l)) {
		left := share.Count
		for _, kind := range l.Cut.Kinds() {
			if kind.Words() != share.Name {
				continue
			}
			for _, m := range l.Moves {
				if m.Kind == kind && m.Occurred.Before(until) {
					left += m.Change
				}
			}
			v.Count += left
			v.Cost.Known = v.Cost.Known.Plus(share.Cost.Of(int64(left), int64(max(1, share.Count))))
		}
	}
	if v.Count == 0 {
		return nil
	}
	if l.Release != nil && l.Release.Occurred.Before(until) {
		out.Ready = append(out.Ready, v)
	} else {
		out.Making = append(out.Making, v)
	}
	return nil
}
