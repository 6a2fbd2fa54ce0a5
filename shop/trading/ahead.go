package trading

import (
	"cmp"
	"context"
	"maps"
	"math"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/planning"
	"ashshelf/shop/selling"
	"ashshelf/shop/supply"
	"ashshelf/soap/cure"
	"ashshelf/soap/day"
	"ashshelf/soap/demand"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/market"
	"ashshelf/soap/sale"
	"ashshelf/store"
)

// Wanted is bars of a product that are wanted by a day.
type Wanted struct {
	Product, Name string
	Bars          int
	On            string
	For           string // such as a market or an order
	Link          string // to it
	Why           string
	steady        []sale.Day // what it sold so far, of a steady seller
}

// Making is what is known of a recipe from its newest lot that was cut: what a pot gives, and how long it takes.
type Making struct {
	Recipe  catalog.Recipe
	Name    string
	Lot     *lot.Lot
	Demand  demand.Recipe
	Policy  cure.Policy
	Pot     document.PlanBody // of one pot, as it would be planned today
	NoPot   string            // why it could not be planned; empty when it could
	order   planning.Order
	product string
}

// PouredBy is a pour that is proposed, or that somebody chose, with what speaks for its day.
type PouredBy struct {
	demand.Pour
	Making *Making
	Limit  demand.Limit // that keeps it from being later; empty where none does
	Of     string       // the recipe that it is about
	Until  time.Time    // from when on the limit is over; of what is missing, the day
	Stores supply.Asked // what it takes, when those before it have had theirs
}

// Stand is bars that will be there without pouring.
type Stand struct {
	Recipe, Code string
	Bars         int
	Ready        time.Time
}

// Spare is a product of which more is there than is wanted.
type Spare struct {
	Product, Name string
	Bars          int
}

// Ahead is what to make by when.
type Ahead struct {
	Request  demand.Request
	Wanted   []Wanted
	Makings  []Making
	Unknown  []string // products that are wanted and of whose recipe no lot was cut yet
	Pours    []PouredBy
	Short    []demand.Short
	Broken   []demand.Broken // by pours that somebody chose, and molds by any
	Stands   []Stand
	Spares   []Spare
	Rack     []int // bars that cure, by day
	Days     int
	Undated  int // open plans that are meant for no day, so that nobody can count on them
	Today    time.Time
	Currency string
}

// MakingOf is what is known of a recipe by its name in the plan.
func (a Ahead) MakingOf(name string) *Making {
	for i := range a.Makings {
		if a.Makings[i].Demand.Name == name {
			return &a.Makings[i]
		}
	}
	return nil
}

// steadyLeast is how many bars a week make a steady seller.
const steadyLeast = 0.25

// aheadDays is how many days ahead markets and orders count.
const aheadDays = 240

// promptWindow is how many hours a loaf may wait at the most that is cut whatever day it is.
const promptWindow = 30

// others is the name under which bars fill the racks that nobody plans with.
const others = "bars that are nobody’s or may not go"

// Ahead works out what to make by when: chosen are pours that somebody would rather make than those that are proposed.
func (t *Trader) Ahead(ctx context.Context, chosen []demand.Pour) (out Ahead, err error) {
	settings, err := t.catalog.Settings(ctx)
	if err != nil {
		return out, err
	}
	now := t.Now(settings.Location)
	out.Currency, out.Today = settings.Currency, dateOf(now.Format(time.DateOnly))
	out.Request.Today = out.Today
	for _, name := range strings.Fields(settings.DaysOff) {
		for d := time.Sunday; d <= time.Saturday; d++ {
			if strings.HasPrefix(strings.ToLower(d.String()), name) {
				out.Request.DaysOff = append(out.Request.DaysOff, d)
			}
		}
	}
	var stock selling.ReadyStock
	var shelves []Shelf
	version := t.Version()
	err = t.Read(ctx, func(tx *store.Tx) error {
		if stock, err = t.seller.ReadyStockIn(tx); err != nil {
			return err
		}
		rules, err := selling.SaleRulesIn(tx)
		if err != nil {
			return err
		}
		out.Request.PotsPerDay, out.Request.Margin = rules.PotsPerDay, rules.Margin
		if out.Request.RackBars, err = rackIn(tx); err != nil {
			return err
		}
		shelves = shelvesOf(stock, nil, stock.Today)
		return t.wantedIn(tx, &out, shelves, now, version)
	})
	if err != nil {
		return out, err
	}
	if err := t.makings(ctx, &out, settings, stock, now); err != nil {
		return out, err
	}
	if err := t.onHand(ctx, &out, stock); err != nil {
		return out, err
	}
	out.wants()
	pours := chosen
	if len(chosen) == 0 {
		p, err := demand.Back(out.Request)
		if err != nil {
			return out, err
		}
		pours, out.Short = p.Pours, p.Short
	}
	judged := out.Request
	if judged.Molds, err = t.moldsAtOnce(ctx, now); err != nil {
		return out, err
	}
	for i := range judged.Recipes {
		if have, ok := judged.Molds[judged.Recipes[i].Mold]; ok && have < judged.Recipes[i].Molds {
			judged.Molds[judged.Recipes[i].Mold] = judged.Recipes[i].Molds
		}
	}
	if out.Broken, err = demand.Judge(judged, pours); err != nil {
		return out, err
	}
	if len(chosen) == 0 {
		// What is missing is short, with its reason.
		out.Broken = slices.DeleteFunc(out.Broken, func(b demand.Broken) bool { return b.What == demand.Missing })
	}
	if err := t.reasons(ctx, &out, pours); err != nil {
		return out, err
	}
	out.spare(shelves)
	for _, w := range out.Wanted {
		out.Days = max(out.Days, day.Between(out.Today, dateOf(w.On))+7)
	}
	for _, p := range pours {
		out.Days = max(out.Days, day.Between(out.Today, p.Ready)+7)
	}
	out.Days = min(max(out.Days, 42), aheadDays+60)
	out.Rack = demand.RackOn(out.Request, pours, out.Days)
	return out, nil
}

// dateOf is a day without an hour.
func dateOf(text string) time.Time {
	t, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return time.Time{}
	}
	return t
}

// rackIn is how many bars the racks of the shop hold; 0 where there are none.
func rackIn(tx *store.Tx) (n int, err error) {
	revisions, err := tx.Latest(store.Racks)
	if err != nil {
		return 0, err
	}
	for _, r := range revisions {
		body, err := document.Decode("rack "+r.Name, document.ReadRack, r.Body)
		if err != nil {
			return 0, err
		}
		n += body.Holds()
	}
	return n, nil
}

// wantedIn gathers what is wanted: by markets, by orders, and by those who come all the time.
func (t *Trader) wantedIn(tx *store.Tx, out *Ahead, shelves []Shelf, now time.Time, version int64) error {
	today, last := now.Format(time.DateOnly), now.AddDate(0, 0, aheadDays).Format(time.DateOnly)
	markets, err := marketsIn(tx)
	if err != nil {
		return err
	}
	products, err := selling.ProductsIn(tx)
	if err != nil {
		return err
	}
	for _, m := range markets {
		if m.Home != nil || m.Off || m.On < today || m.On > last {
			continue
		}
		box, err := boxIn(tx, store.Markets, m.OID)
		if err != nil {
			return err
		}
		in := map[string]int{}
		for _, b := range box {
			in[b.Product] += b.Bars
		}
		past := pastOf(markets, m.Name)
		for _, p := range products {
			if p.NotOffered(m.On) != "" {
				continue
			}
			prop := market.Propose(m.Market, p.OID, math.MaxInt32, past)
			if n := prop.Wanted - in[p.OID]; n > 0 && !prop.New {
				out.Wanted = append(out.Wanted, Wanted{p.OID, p.Name, n, m.On, m.Name, "/markets/" + m.OID + "/pack", prop.Why, nil})
			}
		}
	}
	orders, err := ordersIn(tx)
	if err != nil {
		return err
	}
	for _, o := range orders {
		box, err := boxIn(tx, store.Orders, o.OID)
		if err != nil {
			return err
		}
		packed := map[string]int{}
		for _, b := range o.toSend(box) {
			packed[b.Product] += b.Bars
		}
		for i, n := range o.Owed() {
			if n -= packed[o.Lines[i].Product]; n > 0 {
				name := ""
				for _, p := range products {
					if p.OID == o.Lines[i].Product {
						name = p.Name
					}
				}
				out.Wanted = append(out.Wanted, Wanted{o.Lines[i].Product, name, n, max(o.Due, today), o.Called(),
					"/orders/" + o.OID + "/box", "", nil})
			}
		}
	}
	return t.steadyIn(tx, out, shelves, now, version)
}

// paces remembers what products sold by day, as long as nothing is recorded and it is the same day: a pour that is dragged
// along the days asks for it at each.
type paces struct {
	mu      sync.Mutex
	version int64
	day     string
	of      map[string][]sale.Day // by product
}

// steadyIn adds what sells outside of markets and orders. How much of it depends on how long it takes to make. version is what
// the records were before they were read.
func (t *Trader) steadyIn(tx *store.Tx, out *Ahead, shelves []Shelf, now time.Time, version int64) (err error) {
	t.paces.mu.Lock()
	defer t.paces.mu.Unlock()
	if today := now.Format(time.DateOnly); t.paces.of == nil || t.paces.version != version || t.paces.day != today {
		if t.paces.of, err = pacesIn(tx, shelves, now); err != nil {
			t.paces.of = nil
			return err
		}
		t.paces.version, t.paces.day = version, today
	}
	for _, s := range shelves {
		if days, steady := t.paces.of[s.Product.OID]; steady {
			out.Wanted = append(out.Wanted, Wanted{Product: s.Product.OID, Name: s.Product.Name, For: "those who come all the time", steady: days})
		}
	}
	return nil
}

// pacesIn reads what products sold by day outside of markets and orders, of those that sell all the time.
func pacesIn(tx *store.Tx, shelves []Shelf, now time.Time) (map[string][]sale.Day, error) {
	first := dateOf(now.Format(time.DateOnly)).AddDate(0, 0, -sale.History)
	from := time.Date(first.Year(), first.Month(), first.Day(), 0, 0, 0, 0, now.Location())
	sales, err := tx.BarSales(from, now)
	if err != nil {
		return nil, err
	}
	out := map[string][]sale.Day{}
	for _, one := range sales {
		if one.Market != "" || one.Order != 0 {
			continue
		}
		at := day.Between(from, one.At.In(now.Location()))
		if at < 0 || at >= sale.History {
			continue
		}
		if out[one.ProductOID] == nil {
			out[one.ProductOID] = make([]sale.Day, sale.History)
		}
		on := &out[one.ProductOID][at]
		on.Bars = max(0, on.Bars+one.Bars) // what came back was not wanted
	}
	maps.DeleteFunc(out, func(_ string, days []sale.Day) bool { return sale.Expect(days, sale.PaceDays).Weekly < steadyLeast })
	if len(out) == 0 {
		return out, nil
	}
	held, err := tx.HeldSince(from)
	if err != nil {
		return nil, err
	}
	for _, s := range shelves {
		own := slices.DeleteFunc(slices.Clone(held), func(h store.Held) bool { return !s.Product.Takes(h.Recipe, h.Kind) })
		days := out[s.Product.OID]
		for i := range days {
			end := from.AddDate(0, 0, i+1)
			days[i].Absent = !slices.ContainsFunc(own, func(h store.Held) bool { return h.On(end) > 0 })
		}
	}
	return out, nil
}

// makings finds what is known of the recipes of all that is wanted.
func (t *Trader) makings(ctx context.Context, out *Ahead, settings catalog.Settings, stock selling.ReadyStock, now time.Time) error {
	names := map[string]bool{}
	for i, w := range out.Wanted {
		at := slices.IndexFunc(stock.Products, func(p selling.Product) bool { return p.OID == w.Product })
		if at < 0 {
			continue
		}
		p := stock.Products[at]
		if !slices.Contains(p.Grades, ledger.First) {
			continue // seconds come by themselves
		}
		m := slices.IndexFunc(out.Makings, func(m Making) bool { return m.product == p.OID })
		if m < 0 {
			made, err := t.makingOf(ctx, p, settings)
			if err != nil {
				return err
			}
			if made == nil {
				if !slices.Contains(out.Unknown, p.Name) {
					out.Unknown = append(out.Unknown, p.Name)
				}
				continue
			}
			for names[made.Demand.Name] { // a recipe that is two products is two of the plan
				made.Demand.Name += " as " + p.Name
			}
			names[made.Demand.Name] = true
			m = len(out.Makings)
			out.Makings = append(out.Makings, *made)
		}
		if w.steady != nil {
			lead := out.Makings[m].Demand.Lead() + out.Request.Margin
			e := sale.Expect(w.steady, lead+7)
			out.Wanted[i].On = now.AddDate(0, 0, lead+1).Format(time.DateOnly)
			out.Wanted[i].Bars, out.Wanted[i].Why = e.Bars, e.Why
		}
	}
	return nil
}

// makingOf is what is known of the making of a product: of the recipe of which a lot was cut last; nil where there is none.
func (t *Trader) makingOf(ctx context.Context, p selling.Product, settings catalog.Settings) (*Making, error) {
	kind := ledger.Kind{Size: p.Size, Grade: ledger.First}
	var newest *lot.Lot
	for _, oid := range p.Recipes {
		list, err := t.planner.Lots(ctx, store.LotsWhere{Recipe: oid, Stages: []lot.Stage{lot.Curing, lot.Ready, lot.Gone}, Most: 1})
		if err != nil {
			return nil, err
		}
		if len(list) > 0 && (newest == nil || list[0].Number > newest.Number) && list[0].Cut.Of(kind) > 0 {
			newest = list[0]
		}
	}
	if newest == nil {
		return nil, nil
	}
	l := newest
	history, err := t.catalog.RecipeHistory(ctx, l.Recipe)
	if err != nil {
		return nil, err
	}
	molded := max(0, day.Between(l.Pour.Occurred.In(settings.Location), l.Cut.Occurred.In(settings.Location)))
	m := &Making{Recipe: history[0], Name: history[0].Name, Lot: l, Policy: l.Policy(), product: p.OID, Demand: demand.Recipe{
		Name: history[0].Name, Bars: l.Cut.Of(kind), MoldDays: molded,
		CureDays: max(0, l.Policy().Days-molded), Prompt: !l.Frozen.Unmold.None() && l.Frozen.Unmold.Closes <= promptWindow,
	}}
	m.order = planning.DefaultOrder(settings)
	m.order.Recipe = l.Recipe
	for _, one := range l.Frozen.Molds {
		if one.OID == "" {
			m.NoPot = "its molds are not known any more"
			continue
		}
		m.order.Molds = append(m.order.Molds, planning.OrderMold{OID: one.OID, Count: one.Count})
		m.Demand.Mold, m.Demand.Molds = one.Name, one.Count
	}
	if m.NoPot == "" {
		w, err := t.planner.ComputePlan(ctx, m.order)
		if err != nil {
			m.NoPot = err.Error()
		} else {
			m.Pot = w.PlanBody
		}
	}
	return m, nil
}

// onHand adds what is there and what will be: bars that are nobody's yet, lots that cure, and pots that are being made or are
// planned for a day.
func (t *Trader) onHand(ctx context.Context, out *Ahead, stock selling.ReadyStock) error {
	add := func(recipe, code string, bars int, ready time.Time) {
		if bars > 0 {
			out.Stands = append(out.Stands, Stand{recipe, code, bars, ready})
			out.Request.OnHand = append(out.Request.OnHand, demand.Stock{Recipe: recipe, Bars: bars, Ready: ready})
		}
	}
	filler := 0
	fill := func(bars int, ready time.Time) {
		if bars > 0 && ready.After(out.Today) {
			filler++
			out.Request.OnHand = append(out.Request.OnHand, demand.Stock{Recipe: others, Bars: bars, Ready: ready})
		}
	}
	for _, pile := range stock.Piles {
		ready := out.Today
		if pile.Ready != "" {
			ready = dateOf(max(pile.Ready, pile.Latest))
		}
		taken := false
		for _, m := range out.Makings {
			size := ""
			for _, p := range stock.Products {
				if p.OID == m.product {
					size = p.Size
				}
			}
			if m.Recipe.OID != pile.Recipe || pile.Kind != (ledger.Kind{Size: size, Grade: ledger.First}) || pile.Blocked != "" || taken {
				continue
			}
			free := pile.Free()
			for _, b := range pile.Bound {
				if b.For == "" && b.Product == m.product {
					free += b.Bars
				}
			}
			add(m.Demand.Name, pile.Code, free, ready)
			fill(pile.Bars-free, ready)
			taken = true
		}
		if !taken {
			fill(pile.Bars, ready)
		}
	}
	if filler > 0 {
		out.Request.Recipes = append(out.Request.Recipes, demand.Recipe{Name: others, Bars: 1})
	}
	lots, err := t.planner.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Making, lot.InMold, lot.Unmolded}})
	if err != nil {
		return err
	}
	for _, l := range lots {
		for _, m := range out.Makings {
			if m.Recipe.OID == l.Recipe && len(l.Held()) == 0 {
				from := out.Today
				if l.Pour != nil {
					from = dateOf(l.Pour.Occurred.Format(time.DateOnly))
				}
				ready := from.AddDate(0, 0, m.Demand.Lead())
				if ready.Before(out.Today) {
					ready = out.Today
				}
				add(m.Demand.Name, l.Code, m.Demand.Bars, ready)
				break
			}
		}
	}
	plans, err := t.planner.OpenPlansOn(ctx, out.Today.Format(time.DateOnly), out.Today.AddDate(0, 0, aheadDays).Format(time.DateOnly))
	if err != nil {
		return err
	}
	for _, p := range plans {
		on := dateOf(p.Day)
		for range p.PlanBody.Plan.Batches {
			out.Request.Booked = append(out.Request.Booked, on)
		}
		for _, m := range out.Makings {
			if m.Recipe.Name == p.PlanBody.Recipe {
				add(m.Demand.Name, "planned for "+dayWords(p.Day), m.Demand.Bars*p.PlanBody.Plan.Batches, on.AddDate(0, 0, m.Demand.Lead()))
				break
			}
		}
	}
	open, _, err := t.planner.OpenPlans(ctx, 0)
	for _, p := range open {
		if p.Day == "" {
			out.Undated++
		}
	}
	return err
}

// wants puts what is wanted into the request.
func (a *Ahead) wants() {
	for _, m := range a.Makings {
		a.Request.Recipes = append(a.Request.Recipes, m.Demand)
		for _, w := range a.Wanted {
			if w.Product == m.product && w.Bars > 0 {
				a.Request.Wanted = append(a.Request.Wanted, demand.Want{Recipe: m.Demand.Name, Bars: w.Bars, On: dateOf(w.On)})
			}
		}
	}
	slices.SortStableFunc(a.Wanted, func(x, y Wanted) int { return cmp.Or(cmp.Compare(x.On, y.On), cmp.Compare(x.Name, y.Name)) })
}

// moldsAtOnce is how many molds of each name stood full at once, the most of the last year: what the shop surely has.
func (t *Trader) moldsAtOnce(ctx context.Context, now time.Time) (map[string]int, error) {
	lots, err := t.planner.Lots(ctx, store.LotsWhere{From: now.AddDate(-1, 0, 0), To: now.AddDate(0, 0, 1)})
	if err != nil {
		return nil, err
	}
	type change struct {
		at time.Time
		n  int
	}
	of := map[string][]change{}
	for _, l := range lots {
		if l.Pour == nil {
			continue
		}
		for _, m := range l.Frozen.Molds {
			of[m.Name] = append(of[m.Name], change{l.Pour.Occurred, m.Count})
			if l.Unmolding != nil {
				of[m.Name] = append(of[m.Name], change{l.Unmolding.Occurred, -m.Count})
			}
		}
	}
	out := map[string]int{}
	for name, list := range of {
		slices.SortStableFunc(list, func(a, b change) int { return a.at.Compare(b.at) })
		n := 0
		for _, c := range list {
			n += c.n
			out[name] = max(out[name], n)
		}
	}
	return out, nil
}

// reasons says of each pour why it is not later, and what it takes from the stores.
func (t *Trader) reasons(ctx context.Context, out *Ahead, pours []demand.Pour) error {
	room, err := t.buyer.Storeroom(ctx)
	if err != nil {
		return err
	}
	var bodies []document.PlanBody
	var pots []int
	for i, p := range pours {
		m := out.MakingOf(p.Recipe)
		if m == nil {
			continue
		}
		one := PouredBy{Pour: p, Making: m}
		one.Ready = p.On.AddDate(0, 0, m.Demand.Lead())
		if one.Limit, one.Of, one.Until, err = demand.WhyNotLater(out.Request, pours, i); err != nil {
			return err
		}
		out.Pours = append(out.Pours, one)
		bodies, pots = append(bodies, m.Pot), append(pots, p.Pots)
	}
	_, each := room.AskDay(bodies, pots, false)
	for i := range out.Pours {
		out.Pours[i].Stores = each[i]
	}
	return nil
}

// spare are products of which more is ready than anybody wants: what could be sold instead of what is short.
func (a *Ahead) spare(shelves []Shelf) {
	for _, s := range shelves {
		n := 0
		for _, p := range s.Piles {
			n += p.Offered()
		}
		for _, w := range a.Wanted {
			if w.Product == s.Product.OID {
				n -= w.Bars
			}
		}
		if n > 0 {
			a.Spares = append(a.Spares, Spare{s.Product.OID, s.Product.Name, n})
		}
	}
	slices.SortStableFunc(a.Spares, func(x, y Spare) int { return y.Bars - x.Bars })
}

// PlanPours makes a plan for each pot of pours, for its day, all of them or none; the stores are promised to them from then
// on. A press that is sent again makes none twice.
func (t *Trader) PlanPours(ctx context.Context, act journal.Act, pours []demand.Pour) (n int, err error) {
	ahead, err := t.Ahead(ctx, pours)
	if err != nil {
		return 0, err
	}
	if len(ahead.Pours) == 0 {
		return 0, problem("pours", "nothing is to be poured")
	}
	for _, p := range ahead.Pours {
		if p.Making.NoPot != "" {
			return 0, problem("pours", "%s cannot be planned: %s", p.Recipe, p.Making.NoPot)
		}
		if p.On.Before(ahead.Today) {
			return 0, problem("pours", "%s is over", dayWords(p.On.Format(time.DateOnly)))
		}
	}
	var orders []planning.Order
	for _, p := range ahead.Pours {
		order := p.Making.order
		order.Day = p.On.Format(time.DateOnly)
		orders = append(orders, slices.Repeat([]planning.Order{order}, p.Pots)...)
	}
	return len(orders), t.planner.KeepPlans(ctx, act, orders)
}

// Makes reports whether it is planned for a product.
func (m Making) Makes(product string) bool { return m.product == product }
