// Package supply knows what is short and what must be bought: what is in the house, what plans have promised, what
// a week takes, and when an order must go out so that it comes in time.
package supply

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/shop/document"
	stores "ashshelf/shop/inventory"
	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/cost"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/reformulate"
	"ashshelf/store"
)

// Buyer knows what is short.
type Buyer struct {
	*journal.Journal
	store  *stores.Stores
	reader *lots.Reader

	mu   sync.Mutex
	have Storeroom // as of a version of the records and a day
	at   snapshot
}

// New returns a buyer of a store.
func New(j *journal.Journal, s *stores.Stores, r *lots.Reader) *Buyer {
	return &Buyer{Journal: j, store: s, reader: r}
}

type snapshot struct {
	version int64
	today   string
}

// Storeroom is all that stands in the store, by shelves.
type Storeroom struct {
	Lines     []Line
	Today     string
	Twins     []inventory.Twins
	Unsettled []store.DeliveryMove // what the books were short of, and nobody has said why
	tree      stores.Tree
}

// Line is one material as it stands.
type Line struct {
	stores.Material
	inventory.Balance
	Life       inventory.Life
	Deliveries []inventory.Delivery // with something left or in no book, in the order in which they are to be used
	Reorder    inventory.Reorder
	Lead       int // days until an order comes
	OnTheWay   int64
	Buy        inventory.Packs // what to order now; Count 0 for nothing
	Newest     cost.Price      // what the newest delivery with a price cost
	Near       string          // the first date that it is to be used up by, when that is near or past
	NearState  inventory.Freshness
	NearAmount int64
}

// Of returns the line of a key; false where the store knows none.
func (s Storeroom) Of(k plan.Key) (Line, bool) {
	if i := s.tree.Of(k); i >= 0 {
		return s.Lines[i], true
	}
	return Line{}, false
}

// Free is what is free of each material, by its key.
func (s Storeroom) Free() map[plan.Key]int64 {
	out := map[plan.Key]int64{}
	for _, l := range s.Lines {
		out[inventory.Fold(l.Key)] = l.Balance.Free()
	}
	return out
}

// Known reports whether the books say anything of a material: no balance is no promise.
func (l Line) Known() bool {
	return slices.ContainsFunc(l.Deliveries, func(d inventory.Delivery) bool { return d.Booked }) || l.Newest.Known()
}

// Storeroom returns the store as it stands.
func (b *Buyer) Storeroom(ctx context.Context) (out Storeroom, err error) {
	settings, err := b.store.Settings(ctx)
	if err != nil {
		return out, err
	}
	now := b.store.Now(settings.Location)
	at := snapshot{b.Version(), now.Format(time.DateOnly)}
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.at == at && b.have.Today != "" {
		return b.have, nil
	}
	err = b.Read(ctx, func(tx *store.Tx) error {
		out, err = b.storeroomIn(tx, now)
		return err
	})
	if err == nil {
		b.have, b.at = out, at
	}
	return out, err
}

func (b *Buyer) storeroomIn(tx *store.Tx, now time.Time) (out Storeroom, err error) {
	out.Today = now.Format(time.DateOnly)
	materials, err := b.store.MaterialsIn(tx)
	if err != nil {
		return out, err
	}
	out.tree = stores.MaterialTree(materials)
	out.Lines = make([]Line, len(materials))
	for i, m := range materials {
		out.Lines[i] = Line{Material: m, Life: inventory.LifeOf(m.Material), Lead: leadOf(m.Material)}
	}
	deliveries, err := tx.Deliveries(store.DeliveriesWhere{Left: true})
	if err != nil {
		return out, err
	}
	for _, d := range deliveries {
		if i := out.tree.Of(d.Item); i >= 0 {
			out.Lines[i].Deliveries = append(out.Lines[i].Deliveries, d)
		}
	}
	reserved, err := b.reservedIn(tx, out.Today)
	if err != nil {
		return out, err
	}
	onTheWay, err := onTheWayIn(tx)
	if err != nil {
		return out, err
	}
	taken, err := tx.TakenSince(now.AddDate(0, 0, -7*inventory.UseWeeks))
	if err != nil {
		return out, err
	}
	weekly := map[int]float64{}
	for _, u := range taken {
		if i := out.tree.Of(u.Item); i >= 0 {
			weekly[i] += inventory.WeeklyUse(u.Amount, u.Since, out.Today)
		}
	}
	prices, err := tx.NewestPrices()
	if err != nil {
		return out, err
	}
	for _, d := range prices {
		if i := out.tree.Of(d.Item); i >= 0 {
			out.Lines[i].Newest = d.Price()
		}
	}
	for k, mg := range reserved {
		if i := out.tree.Of(k); i >= 0 {
			out.Lines[i].Reserved += mg
		}
	}
	for k, n := range onTheWay {
		if i := out.tree.Of(k); i >= 0 {
			out.Lines[i].OnTheWay += n
		}
	}
	for i := range out.Lines {
		out.Lines[i].finish(weekly[i], out.Today)
	}
	list := make([]inventory.Material, len(materials))
	for i, m := range materials {
		list[i] = m.Material
	}
	out.Twins = inventory.FindTwins(list)
	out.Unsettled, err = tx.DeliveryMoves(store.MovesWhere{Found: true})
	return out, err
}

// usualLead is how many days an order takes where nobody has noted it.
const usualLead = 7

func leadOf(m inventory.Material) int {
	lead := 0
	for _, o := range m.Offers {
		if o.Lead > 0 && (lead == 0 || o.Lead < lead) {
			lead = o.Lead
		}
	}
	if lead == 0 {
		return usualLead
	}
	return lead
}

// finish works out what follows from what was gathered.
func (l *Line) finish(weekly float64, today string) {
	l.Deliveries = inventory.InOrder(l.Deliveries, l.Life, today)
	l.Balance = inventory.BalanceOf(l.Deliveries, l.Reserved)
	for _, d := range l.Deliveries {
		if !d.Booked || d.Left <= 0 || !d.Open() {
			continue
		}
		if state := d.FreshOn(l.Life, today); state != inventory.Fresh {
			if l.Near == "" {
				l.Near, l.NearState = d.Expires(l.Life), state
			}
			l.NearAmount += d.Left
		}
	}
	if l.Always || l.Retire {
		l.Reserved = 0
		return
	}
	l.Reorder = inventory.ReorderOf(l.Balance, weekly, l.Lead, l.Safety, today)
	if need := l.Reorder.Buy - l.OnTheWay; need > 0 {
		l.Buy, _ = inventory.Cheapest(l.offers(), need)
		if l.Buy.Count == 0 {
			l.Buy = inventory.Packs{Offer: inventory.Offer{Amount: need, Price: -1}, Count: 1}
		}
	}
}

// offers are what suppliers sell; where nothing is noted, the last delivery is taken for a pack.
func (l *Line) offers() []inventory.Offer {
	if len(l.Offers) > 0 {
		return l.Offers
	}
	for _, d := range slices.Backward(l.Deliveries) {
		if d.Booked && d.Quantity > 0 {
			o := inventory.Offer{Supplier: d.Supplier, Amount: d.Quantity, Price: -1}
			if d.Goods != nil {
				o.Price = *d.Goods
			}
			return []inventory.Offer{o}
		}
	}
	return nil
}

// startedWithin is how long ago a plan was begun of which pots are still expected.
const startedWithin = 30 * 24 * time.Hour

// reservedIn is what is promised: pots of plans that are not started, and what is unweighed of open runs.
func (b *Buyer) reservedIn(tx *store.Tx, today string) (map[plan.Key]int64, error) {
	out := map[plan.Key]int64{}
	plans, err := tx.UnfinishedPlans(b.Clock().Add(-startedWithin))
	if err != nil {
		return nil, err
	}
	for _, p := range plans {
		if !inventory.Reserves(p.Day, today) {
			continue
		}
		written, err := b.reader.PlanBody(p)
		if err != nil {
			return nil, err
		}
		body := document.ReadPlan(written)
		left := int64(max(0, body.Plan.Batches-len(p.Lots)))
		for _, w := range WantsOf(body) {
			out[w.Key] += w.Amount * left
		}
	}
	making, err := b.reader.LotsIn(tx, store.LotsWhere{Stages: []lot.Stage{lot.Making}}, true)
	if err != nil {
		return nil, err
	}
	for _, l := range making {
		actual := l.Actual()
		for _, i := range l.Unweighed() {
			if rest := i.Target - actual[i.Key]; rest > 0 && inventory.Booked(i.Key) {
				out[inventory.KeyOf(l.Frozen.Formula, i.Key)] += inventory.MG(rest)
			}
		}
	}
	return out, nil
}

// WantsOf is what one pot of a plan takes out of the store.
func WantsOf(body document.PlanBody) (out []inventory.Want) {
	for _, s := range body.Sheet {
		for _, i := range s.Items {
			if !inventory.Booked(i.Key) {
				continue
			}
			k := inventory.Fold(inventory.KeyOf(body.Request.Formula, i.Key))
			at := slices.IndexFunc(out, func(w inventory.Want) bool { return w.Key == k })
			if at < 0 {
				at, out = len(out), append(out, inventory.Want{Key: k})
			}
			out[at].Amount += inventory.MG(i.Target)
		}
	}
	return out
}

func onTheWayIn(tx *store.Tx) (map[plan.Key]int64, error) {
	out := map[plan.Key]int64{}
	rows, err := tx.SupplyOrders("", 100)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		if r.Status != "sent" {
			continue
		}
		body, err := document.Decode("order", document.ReadOrder, r.Body)
		if err != nil {
			return nil, err
		}
		came, err := tx.OrderLines(r.ID)
		if err != nil {
			return nil, err
		}
		for i, l := range body.Lines {
			if rest := l.Amount() - came[i+1]; rest > 0 {
				out[l.Key] += rest
			}
		}
	}
	return out, nil
}

// Asked is what a plan asks of the store.
type Asked struct {
	Wants   []AskedLine
	Pots    int
	Enough  inventory.Enough
	First   string // the name of what runs out first
	Unknown bool   // the books do not know all that it takes
}

// AskedLine is one material that a plan takes.
type AskedLine struct {
	Name          string
	Key           plan.Key
	Want          int64 // for all its pots
	Have          int64
	Others        int64 // reserved by others
	Free          int64 // for this plan
	Short         int64
	Pots          int // that what is free is enough for
	Known, Always bool
}

// Ask asks whether there is enough for pots of a plan that still are to be made. reserved says that the plan is kept
// and counted among what is reserved already.
func (s Storeroom) Ask(body document.PlanBody, pots int, reserved bool) Asked {
	return s.ask(inventory.Pots{Count: pots, Each: WantsOf(body)}, reserved)
}

func (s Storeroom) ask(p inventory.Pots, reserved bool) (out Asked) {
	out.Pots = p.Count
	free := map[plan.Key]int64{}
	names := map[plan.Key]string{}
	counted := inventory.Pots{Count: p.Count}
	for _, w := range p.Each {
		l, ok := s.Of(w.Key)
		line := AskedLine{Key: w.Key, Name: string(w.Key), Want: w.Amount * int64(p.Count)}
		if ok {
			line.Name, line.Have, line.Known, line.Always = l.Name, l.Have, l.Known(), l.Always
			if line.Others = l.Reserved; reserved {
				line.Others = max(0, l.Reserved-line.Want)
			}
		}
		line.Free = line.Have - line.Others
		if line.Known && !line.Always {
			line.Short = max(0, line.Want-max(0, line.Free))
			free[w.Key], names[w.Key] = line.Free, line.Name
			counted.Each = append(counted.Each, w)
			line.Pots = int(max(0, line.Free) / max(1, w.Amount))
		}
		out.Unknown = out.Unknown || !line.Known && !line.Always
		out.Wants = append(out.Wants, line)
	}
	out.Enough = inventory.EnoughFor(counted, free)
	out.First = names[out.Enough.First]
	return out
}

// AskDay asks for all plans of a day together, and for each in its turn, when those before it have had theirs. reserved says
// that they are kept and counted among what is reserved already.
func (s Storeroom) AskDay(bodies []document.PlanBody, pots []int, reserved bool) (all Asked, each []Asked) {
	day := inventory.Pots{Count: 1}
	for i, body := range bodies {
		for _, w := range WantsOf(body) {
			at := slices.IndexFunc(day.Each, func(x inventory.Want) bool { return x.Key == w.Key })
			if at < 0 {
				at, day.Each = len(day.Each), append(day.Each, inventory.Want{Key: w.Key})
			}
			day.Each[at].Amount += w.Amount * int64(pots[i])
		}
	}
	all = s.ask(day, reserved)
	free := map[plan.Key]int64{}
	for _, l := range all.Wants {
		if l.Known && !l.Always {
			free[l.Key] = l.Free
		}
	}
	for i, body := range bodies {
		p := inventory.Pots{Count: pots[i]}
		for _, w := range WantsOf(body) {
			if _, known := free[w.Key]; known {
				p.Each = append(p.Each, w)
			}
		}
		one := Asked{Pots: pots[i], Enough: inventory.EnoughFor(p, free)}
		if l, ok := s.Of(one.Enough.First); ok {
			one.First = l.Name
		}
		for _, w := range p.Each {
			free[w.Key] -= w.Amount * int64(pots[i])
		}
		each = append(each, one)
	}
	return all, each
}

// Group is what is to be ordered from one supplier.
type Group struct {
	Supplier string // empty where nobody is noted
	Lines    []Line
	Total    int64 // minor units, of what has a price
	Priced   bool  // all of it has one
}

// ShoppingList is what must be ordered now, by supplier.
func (s Storeroom) ShoppingList() (out []Group) {
	at := map[string]int{}
	for _, l := range s.Lines {
		if l.Buy.Count == 0 {
			continue
		}
		name := l.Buy.Offer.Supplier
		i, ok := at[strings.ToLower(name)]
		if !ok {
			i = len(out)
			at[strings.ToLower(name)] = i
			out = append(out, Group{Supplier: name, Priced: true})
		}
		out[i].Lines = append(out[i].Lines, l)
		if sum, ok := l.Buy.Cost(); ok {
			out[i].Total += sum
		} else {
			out[i].Priced = false
		}
	}
	slices.SortStableFunc(out, func(a, b Group) int { return strings.Compare(a.Supplier, b.Supplier) })
	return out
}

// Soon are the materials that must be ordered within some days, the first first.
func (s Storeroom) Soon(days int) (out []Line) {
	until := inventory.AddDays(s.Today, days)
	for _, l := range s.Lines {
		if l.Reorder.By != "" && l.Reorder.By <= until && l.OnTheWay == 0 && !l.Retire && !l.Always {
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out, func(a, b Line) int { return strings.Compare(a.Reorder.By, b.Reorder.By) })
	return out
}

// UseUp are the materials with something near its date or past it, the soonest first; of those of one day the one
// that spoils sooner.
func (s Storeroom) UseUp() (out []Line) {
	for _, l := range s.Lines {
		if l.Near != "" {
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out, func(a, b Line) int {
		if d := strings.Compare(a.Near, b.Near); d != 0 {
			return d
		}
		return a.Life.Perishes() - b.Life.Perishes()
	})
	return out
}

// FatChoices are the fats that a blend may be made of: those that the store knows, those of the blend itself, and with the
// table all of its fats, each with its newest price by the kilogram, what is free of it, and how long that keeps.
func (b *Buyer) FatChoices(ctx context.Context, blend fat.Blend, table bool) (out []reformulate.Choice, err error) {
	room, err := b.Storeroom(ctx)
	if err != nil {
		return nil, err
	}
	today, err := time.Parse(time.DateOnly, room.Today)
	if err != nil {
		return nil, fmt.Errorf("fats to choose from: %w", err)
	}
	fats := slices.Clone(fat.Reference())
	for _, s := range blend {
		if _, known := fat.BySlug(s.Fat.Slug); !known {
			fats = append(fats, s.Fat)
		}
	}
	for _, f := range fats {
		line, known := room.Of(plan.FatKey(f))
		c := reformulate.Choice{Fat: f, Price: -1, Days: -1}
		if known {
			if line.Newest.Known() {
				c.Price = line.Newest.For(1_000_000).Float() // mg in a kilogram
			}
			c.InHouse = math.Max(0, float64(line.Balance.Free())/1000)
			for _, d := range line.Deliveries {
				until, err := time.Parse(time.DateOnly, d.Expires(line.Life))
				if days := until.Sub(today).Hours() / 24; err == nil && (c.Days < 0 || days < c.Days) {
					c.Days = math.Max(0, days)
				}
			}
		}
		own := slices.ContainsFunc(blend, func(s fat.Share) bool { return s.Fat.Key() == f.Key() })
		if table || own || known && (line.Known() || len(line.Recipes) > 0) {
			out = append(out, c)
		}
	}
	return out, nil
}
