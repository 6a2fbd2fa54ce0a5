// Package costing works out what things cost: a lot from the deliveries that really went into it, a recipe at the
// prices of today, and everything that is in the house on a day.
package costing

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/steep"
	"ashshelf/store"
)

// Reckoner works out what things cost.
type Reckoner struct {
	*journal.Journal
	store  *stores.Stores
	reader *lots.Reader

	mu     sync.Mutex
	prices *Prices // as of a version of the records
	at     int64
}

// New returns a reckoner of a store.
func New(j *journal.Journal, s *stores.Stores, r *lots.Reader) *Reckoner {
	return &Reckoner{Journal: j, store: s, reader: r}
}

// Lot is what a lot cost.
type Lot struct {
	cost.Lot
	Shares   []cost.Share
	Currency string
	Frozen   bool      // as it was at the release
	Now      cost.Sum  // what it comes to by what is known now, where it is frozen
	Taken    []Carried // what other lots took of it, at what it carries
	Packed   cost.Sum  // what its bars were packed in since, which is reckoned when it is used
	Packs    []cost.Line
}

// Carried is soap that went into another lot.
type Carried struct {
	lot.Parent
	Cost cost.Money
}

// Changed reports whether what is known now is another sum than was frozen.
func (l Lot) Changed() bool {
	return l.Frozen && (l.Now.Known.Cmp(l.Total().Known) != 0 || len(l.Now.Unknown) != len(l.Total().Unknown))
}

// LotCost is what a lot cost: as it was frozen at its release, else by what is known now.
func (r *Reckoner) LotCost(ctx context.Context, oid string) (out Lot, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		l, err := r.reader.LotIn(tx, oid)
		if err != nil {
			return err
		}
		out, err = r.costIn(tx, l)
		return err
	})
	return out, err
}

func (r *Reckoner) costIn(tx *store.Tx, l *lot.Lot) (out Lot, err error) {
	settings, err := tx.Shop()
	if err != nil {
		return out, err
	}
	g := newReading(tx, r, settings.HourRate)
	now, err := g.lot(l)
	if err != nil {
		return out, err
	}
	out = Lot{Lot: now, Currency: settings.Currency}
	packs, err := g.moved(store.MovesWhere{Lot: l.ID, Packed: true})
	if err != nil {
		return out, err
	}
	for _, m := range packs {
		line := m.of.LineOf(m.mg, m.priced)
		out.Packs, out.Packed = append(out.Packs, line), out.Packed.Plus(line.Sum())
	}
	out.Shares = cost.Divide(now.Total().Known, Piles(l))
	body, err := tx.LotCost(l.ID)
	switch {
	case errors.Is(err, store.ErrNotFound):
	case err != nil:
		return out, err
	default:
		frozen, err := document.Decode("cost of lot "+l.Code, document.ReadCost, body)
		if err != nil {
			return out, err
		}
		out.Frozen, out.Now, out.Currency = true, now.Total(), frozen.Currency
		if out.Lot, out.Shares, err = frozen.Thaw(); err != nil {
			return out, err
		}
	}
	perMG, whole := out.Total().Known, weightOf(l)
	for _, child := range l.Children {
		out.Taken = append(out.Taken, Carried{child, perMG.Of(inventory.MG(child.Grams), whole)})
	}
	return out, nil
}

// Freeze keeps what a lot cost, at its release, under the head of that.
func (r *Reckoner) Freeze(c *journal.Change, l *lot.Lot, entry int64) error {
	now, err := r.costIn(c.Tx, l)
	if err != nil {
		return err
	}
	text, err := document.Encode(cost.Freeze(now.Currency, now.Lot, now.Shares))
	if err != nil {
		return err
	}
	return c.AddLotCost(entry, l.ID, text)
}

// Piles are what the cost of a lot is shared over by weight: firsts, seconds, and trimmings and ends that were kept.
// Testers and what was scrapped carry nothing. Before the cut there are none.
func Piles(l *lot.Lot) (out []cost.Pile) {
	k := l.Cut
	if k == nil {
		return nil
	}
	usual := inventory.MG(k.BarG)
	if usual == 0 && k.Count() > 0 {
		usual = inventory.MG(l.PotNow().Whole()-k.TrimmingsG) / int64(k.Count())
	}
	for _, kind := range k.Kinds() {
		if kind.Grade == ledger.Tester {
			continue
		}
		if n := k.Of(kind); n > 0 {
			each := inventory.MG(k.Each(kind))
			if each == 0 {
				each = usual
			}
			out = append(out, cost.Pile{Name: kind.Words(), Count: n, MG: each * int64(n)})
		}
	}
	if k.TrimmingsG > 0 {
		out = append(out, cost.Pile{Name: "trimmings", MG: inventory.MG(k.TrimmingsG)})
	}
	if k.EndsG > 0 {
		out = append(out, cost.Pile{Name: "end pieces", Count: k.Ends, MG: inventory.MG(k.EndsG)})
	}
	return out
}

// weightOf is the weight that the cost of a lot is shared over, in mg: what the cut gave, before it all that is in it.
func weightOf(l *lot.Lot) (sum int64) {
	for _, p := range Piles(l) {
		sum += p.MG
	}
	if sum == 0 {
		sum = inventory.MG(l.PotNow().Whole())
	}
	return sum
}

// reading reads what goes into lots, each vessel and each parent once.
type reading struct {
	tx     *store.Tx
	r      *Reckoner
	rate   int64
	stocks map[string]*cost.Mixture
	jars   map[string]*cost.Mixture
	within []string // lots that are being read, so that none counts into itself
	kept   []catalog.Material
	looked bool // for those
	list   map[int64]inventory.Delivery
}

func newReading(tx *store.Tx, r *Reckoner, rate int64) *reading {
	return &reading{
		tx: tx, r: r, rate: rate, stocks: map[string]*cost.Mixture{}, jars: map[string]*cost.Mixture{}, list: map[int64]inventory.Delivery{},
	}
}

// delivery reads a delivery once.
func (g *reading) delivery(id int64) (inventory.Delivery, error) {
	if d, ok := g.list[id]; ok {
		return d, nil
	}
	list, err := g.tx.Deliveries(store.DeliveriesWhere{ID: id})
	if err != nil || len(list) == 0 {
		return inventory.Delivery{}, err
	}
	g.list[id] = list[0]
	return list[0], nil
}

// moved is what moves took, and what that cost, by delivery.
type moved struct {
	of     inventory.Delivery
	mg     int64
	priced int64
}

func (g *reading) moved(w store.MovesWhere) (out []moved, err error) {
	moves, err := g.tx.DeliveryMoves(w)
	if err != nil {
		return nil, err
	}
	for _, m := range moves {
		if m.What.Bucket() != inventory.Used || (m.What == inventory.Packed) != w.Packed {
			continue
		}
		at := slices.IndexFunc(out, func(x moved) bool { return x.of.ID == m.Delivery })
		if at < 0 {
			d, err := g.delivery(m.Delivery)
			if err != nil {
				return nil, err
			}
			at, out = len(out), append(out, moved{of: d})
		}
		out[at].mg, out[at].priced = out[at].mg-m.Change, out[at].priced-m.Priced
	}
	return out, nil
}

// lot works out what a lot cost by what is known now.
func (g *reading) lot(l *lot.Lot) (out cost.Lot, err error) {
	g.within = append(g.within, l.OID)
	defer func() { g.within = g.within[:len(g.within)-1] }()
	of := map[plan.Key]int{} // line of a material
	line := func(k plan.Key, name string) *cost.Line {
		i, ok := of[k]
		if !ok {
			i = len(out.Lines)
			of[k], out.Lines = i, append(out.Lines, cost.Line{Name: name})
		}
		return &out.Lines[i]
	}
	names := map[plan.Key]string{}
	for _, s := range l.Sheet() {
		for _, i := range s.Items {
			names[i.Key] = i.Name
		}
	}
	covered := map[plan.Key]int64{}
	from, err := g.moved(store.MovesWhere{Lot: l.ID})
	if err != nil {
		return out, err
	}
	byItem := map[plan.Key][]moved{}
	for _, m := range from {
		k := inventory.Fold(m.of.Item)
		byItem[k] = append(byItem[k], m)
	}
	add := func(k plan.Key, name string, list []moved) {
		for _, m := range list {
			to, part := line(k, name), m.of.LineOf(m.mg, m.priced)
			to.MG, to.Cost, to.UnknownMG = to.MG+part.MG, to.Cost.Plus(part.Cost), to.UnknownMG+part.UnknownMG
			covered[k] += m.mg
		}
	}
	keys, actual := orderOf(l)
	for _, item := range keys {
		k, mg := inventory.Fold(inventory.KeyOf(l.Frozen.Formula, item)), inventory.MG(actual[item])
		if mg == 0 {
			continue
		}
		switch {
		case item == plan.StockKey || item == plan.FatStockKey:
			oid := l.Frozen.Stock
			if item == plan.FatStockKey {
				oid = l.Frozen.FatStock
			}
			if err := g.drawn(&out, names[item], oid, l, mg); err != nil {
				return out, err
			}
		case item.Kind() == plan.ScrapsItem:
		case inventory.Unlimited(k):
			line(k, names[item]).MG += mg
		default:
			m, err := g.material(k, names[item])
			if err != nil {
				return out, err
			}
			if _, done := covered[k]; !done {
				covered[k] = 0
				for key, list := range byItem {
					if m.Is(key) || key == k {
						add(k, m.Name, list)
						delete(byItem, key)
					}
				}
			}
			covered[k] -= mg
		}
	}
	for _, in := range l.Infused {
		fat, err := g.infused(&out, in, l)
		if err != nil {
			return out, err
		}
		covered[inventory.Fold(plan.FatKeyOf(fat))] += inventory.MG(in.Grams)
	}
	for k, left := range covered {
		if left < 0 { // weighed from no delivery that the books know
			name, err := g.nameOf(k, names)
			if err != nil {
				return out, err
			}
			to := line(k, name)
			to.MG, to.UnknownMG = to.MG-left, to.UnknownMG-left
		}
	}
	for _, list := range byItem { // what was recorded of no item of the sheet
		for _, m := range list {
			add(inventory.Fold(m.of.Item), m.of.Name, []moved{m})
		}
	}
	for _, x := range l.Extras { // nobody said where it was from
		out.Lines = append(out.Lines, cost.Line{Name: x.Name + ", added", MG: inventory.MG(x.Grams), UnknownMG: inventory.MG(x.Grams)})
	}
	if err := g.parents(&out, l); err != nil {
		return out, err
	}
	slices.SortStableFunc(out.Lines, func(a, b cost.Line) int { return cmp.Or(b.Cost.Cmp(a.Cost), strings.Compare(a.Name, b.Name)) })
	out.Rate = g.rate
	if out.Rate > 0 {
		out.Minutes = cost.Minutes(atBench(l))
	}
	return out, nil
}

// material is what the shop knows of a key, read once.
func (g *reading) material(k plan.Key, name string) (inventory.Material, error) {
	if !g.looked {
		var err error
		if g.kept, err = catalog.MaterialsIn(g.tx); err != nil {
			return inventory.Material{}, err
		}
		g.looked = true
	}
	for _, one := range g.kept {
		if one.Of.Is(k) {
			return one.Of, nil
		}
	}
	return stores.FromKey(k, name), nil
}

func (g *reading) nameOf(k plan.Key, names map[plan.Key]string) (string, error) {
	for item, name := range names {
		if inventory.Fold(item.Ingredient()) == k {
			return name, nil
		}
	}
	m, err := g.material(k, "")
	if m.Name == "" {
		m.Name = string(k)
	}
	return m.Name, err
}

// orderOf are the items that were weighed for a lot, in the order of their first weighing.
func orderOf(l *lot.Lot) (keys []plan.Key, actual map[plan.Key]float64) {
	for _, w := range l.Weighings {
		if !slices.Contains(keys, w.Item) {
			keys = append(keys, w.Item)
		}
	}
	return keys, l.Actual()
}

// atBench are the moments at which something was written down of the making, up to the pour, and of the cut.
func atBench(l *lot.Lot) (out []time.Time) {
	if l.Pour != nil {
		out = append(out, l.Pour.Occurred)
	}
	for _, w := range l.Weighings {
		out = append(out, w.Occurred)
	}
	for _, k := range l.Ticks {
		out = append(out, k.Occurred)
	}
	return append(out, l.Started.Occurred)
}

// drawn adds what was drawn from a container.
func (g *reading) drawn(out *cost.Lot, name, oid string, l *lot.Lot, mg int64) error {
	line := cost.Line{Name: name, MG: mg}
	mix, err := g.container(oid)
	if err != nil {
		return err
	}
	if mix == nil {
		line.UnknownMG = mg
	} else {
		_, sum := mix.TakenBy(l.OID)
		if line.Cost = sum.Known; !sum.Whole() {
			line.UnknownMG = mg
		}
	}
	out.Lines = append(out.Lines, line)
	return nil
}

// container follows what went into a container and out of it; nil where nobody knows which it was.
func (g *reading) container(oid string) (*cost.Mixture, error) {
	if oid == "" {
		return nil, nil
	}
	if mix, ok := g.stocks[oid]; ok {
		return mix, nil
	}
	one, err := g.tx.Stock(oid)
	if err != nil {
		return nil, err
	}
	mix, err := g.follow(one, time.Time{})
	g.stocks[oid] = mix
	return mix, err
}

// follow follows a container up to a moment, or up to now.
func (g *reading) follow(one store.Stock, until time.Time) (*cost.Mixture, error) {
	filled, err := g.filled(store.MovesWhere{Stock: one.ID}, "what "+one.Code+" was filled with")
	if err != nil {
		return nil, err
	}
	mix := &cost.Mixture{}
	for _, m := range one.Moves {
		if !until.IsZero() && !m.At.Before(until) {
			break
		}
		switch change := inventory.MG(m.Change); {
		case m.What == store.Made:
			mix.Add(change, filled)
		case change > 0 && m.What != store.Drawn:
			mix.Add(change, cost.Sum{}) // water, or found on the scale
		case m.What == store.Drawn:
			mix.Take(m.LotOID, -change)
		default:
			mix.Take("", -change)
		}
	}
	return mix, nil
}

// filled is what went into a vessel; not known where nothing was recorded.
func (g *reading) filled(w store.MovesWhere, what string) (cost.Sum, error) {
	list, err := g.moved(w)
	if err != nil {
		return cost.Sum{}, err
	}
	if len(list) == 0 {
		return cost.Sum{Unknown: []string{what}}, nil
	}
	var sum cost.Sum
	for _, m := range list {
		sum = sum.Plus(m.of.LineOf(m.mg, m.priced).Sum())
	}
	return sum, nil
}

// infused adds oil out of a jar.
func (g *reading) infused(out *cost.Lot, in lot.Infused, l *lot.Lot) (fat string, err error) {
	j, err := g.tx.Infusion(in.Jar)
	if err != nil {
		return "", err
	}
	mix, err := g.jar(j)
	if err != nil {
		return "", err
	}
	mg := inventory.MG(in.Grams)
	line := cost.Line{Name: in.Oil + " on " + in.Herb, MG: mg}
	of, sum := mix.TakenBy(l.OID)
	if line.Cost = sum.Known.Of(mg, of); !sum.Whole() {
		line.UnknownMG = mg
	}
	out.Lines = append(out.Lines, line)
	return j.Fat, nil
}

// jar follows what went into a jar of infused oil and out of it. What it was topped up with later counts with what it
// was started with.
func (g *reading) jar(j steep.Jar) (*cost.Mixture, error) {
	if mix, ok := g.jars[j.OID]; ok {
		return mix, nil
	}
	moves, err := g.tx.DeliveryMoves(store.MovesWhere{Jar: j.OID})
	if err != nil {
		return nil, err
	}
	filled, err := g.filled(store.MovesWhere{Jar: j.OID}, "the jar of "+j.Name)
	if err != nil {
		return nil, err
	}
	fills := 1 // times that oil went in
	mix := &cost.Mixture{}
	for _, e := range j.Events {
		switch mg := inventory.MG(e.Grams); e.What {
		case steep.Strained:
			mix.Add(mg, filled) // what the herb kept is part of what the oil cost
		case steep.ToppedUp:
			var plain cost.Sum
			if fills++; fills > len(moves) {
				plain.Unknown = []string{"plain oil that topped up the jar"}
			}
			mix.Add(mg, plain)
		case steep.Used:
			mix.Take(e.LotID, mg)
		}
	}
	g.jars[j.OID] = mix
	return mix, nil
}

// total is what a lot cost: as it was frozen, else by what is known now.
func (g *reading) total(l *lot.Lot) (cost.Sum, error) {
	body, err := g.tx.LotCost(l.ID)
	if errors.Is(err, store.ErrNotFound) {
		whole, err := g.lot(l)
		return whole.Total(), err
	}
	if err != nil {
		return cost.Sum{}, err
	}
	frozen, err := document.Decode("cost of lot "+l.Code, document.ReadCost, body)
	if err != nil {
		return cost.Sum{}, err
	}
	was, _, err := frozen.Thaw()
	return was.Total(), err
}

// parents adds soap of other lots at what it carried there.
func (g *reading) parents(out *cost.Lot, l *lot.Lot) error {
	for _, p := range l.Parents {
		line := cost.Line{Name: p.What + " of lot " + p.Code, MG: inventory.MG(p.Grams)}
		if slices.Contains(g.within, p.OID) {
			line.UnknownMG = line.MG
			out.Lines = append(out.Lines, line)
			continue
		}
		parent, err := g.r.reader.LotIn(g.tx, p.OID)
		if err != nil {
			return err
		}
		total, err := g.total(parent)
		if err != nil {
			return err
		}
		if line.Cost = total.Known.Of(line.MG, weightOf(parent)); !total.Whole() {
			line.UnknownMG = line.MG
		}
		out.Lines = append(out.Lines, line)
	}
	return nil
}

// BarCosts is what a bar of each kind carries of what its lot cost, as it was frozen at the release, by the identity of the
// lot. A lot of which not everything was known is left out.
func (r *Reckoner) BarCosts(tx *store.Tx, lotOIDs []string) (map[string]map[ledger.Kind]cost.Money, error) {
	bodies, err := tx.LotCosts(lotOIDs)
	if err != nil {
		return nil, err
	}
	out := map[string]map[ledger.Kind]cost.Money{}
	for oid, body := range bodies {
		frozen, err := document.Decode("cost of a lot", document.ReadCost, body)
		if err != nil {
			return nil, err
		}
		all, shares, err := frozen.Thaw()
		if err != nil {
			return nil, err
		}
		if !all.Total().Whole() {
			continue
		}
		out[oid] = map[ledger.Kind]cost.Money{}
		for _, s := range shares {
			if k, ok := ledger.KindOf(s.Name); ok {
				out[oid][k] = s.Each()
			}
		}
	}
	return out, nil
}
