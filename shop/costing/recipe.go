package costing

import (
	"context"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/catalog"
	stores "ashshelf/shop/inventory"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Prices is what materials cost: what is in the house by what was paid for it, and what it costs to replace, by the
// newest delivery or a supplier's offer, whichever was written down later.
type Prices struct {
	Currency string
	today    map[plan.Key]cost.Price
	newest   map[plan.Key]cost.Price
	tree     stores.Tree
	names    []stores.Material
}

// With returns the prices with that of one material set anew, both in the house and to replace it.
func (p Prices) With(k plan.Key, price cost.Price) Prices {
	out := Prices{Currency: p.Currency, today: map[plan.Key]cost.Price{}, newest: map[plan.Key]cost.Price{}, tree: p.tree, names: p.names}
	for key, v := range p.today {
		out.today[key] = v
	}
	for key, v := range p.newest {
		out.newest[key] = v
	}
	out.today[p.key(k)], out.newest[p.key(k)] = price, price
	return out
}

func (p Prices) key(k plan.Key) plan.Key {
	if i := p.tree.Of(k); i >= 0 {
		return inventory.Fold(p.names[i].Key)
	}
	return inventory.Fold(k)
}

// Today is what a material costs as it stands in the house; Newest what it costs to replace.
func (p Prices) Today(k plan.Key) cost.Price { return p.today[p.key(k)] }

// Newest is said at [Prices.Today].
func (p Prices) Newest(k plan.Key) cost.Price { return p.newest[p.key(k)] }

// Prices reads what materials cost.
func (r *Reckoner) Prices(ctx context.Context) (out Prices, err error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	version := r.Version()
	if r.prices != nil && r.at == version {
		return *r.prices, nil
	}
	defer func() {
		if err == nil {
			r.prices, r.at = &out, version
		}
	}()
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = r.pricesIn(tx)
		return err
	})
	return out, err
}

func (r *Reckoner) pricesIn(tx *store.Tx) (out Prices, err error) {
	settings, err := tx.Shop()
	if err != nil {
		return out, err
	}
	out = Prices{Currency: settings.Currency, today: map[plan.Key]cost.Price{}, newest: map[plan.Key]cost.Price{}}
	if out.names, err = r.store.MaterialsIn(tx); err != nil {
		return out, err
	}
	out.tree = stores.MaterialTree(out.names)
	newest, err := tx.NewestPrices()
	if err != nil {
		return out, err
	}
	came := map[plan.Key]time.Time{}
	for _, d := range newest {
		out.newest[out.key(d.Item)], came[out.key(d.Item)] = d.Price(), d.Came
	}
	for _, m := range out.names {
		k := inventory.Fold(m.Key)
		if !m.Since.After(came[k]) {
			continue // it came later than its offers were written down
		}
		for _, o := range m.Offers {
			if o.Price >= 0 && o.Amount > 0 {
				out.newest[k] = cost.Price{Cost: cost.Minor(o.Price), Amount: o.Amount}
				break
			}
		}
	}
	left, err := tx.Deliveries(store.DeliveriesWhere{Left: true})
	if err != nil {
		return out, err
	}
	for _, d := range left {
		price := d.Price()
		if !price.Known() || d.Priced <= 0 || !d.Open() {
			continue
		}
		k := out.key(d.Item)
		have := out.today[k]
		out.today[k] = cost.Price{Cost: have.Cost.Plus(price.For(d.Priced)), Amount: have.Amount + d.Priced}
	}
	for k, v := range out.newest {
		if !out.today[k].Known() {
			out.today[k] = v
		}
	}
	return out, nil
}

// RecipeCost is what soap of a recipe costs, for as much as one bar is cut of.
type RecipeCost struct {
	OID, Name string
	BarMG     int64 // of a raw bar
	Known     bool  // the bar was weighed; else 100 g are taken
	Today     cost.Lot
	Replace   cost.Lot
}

// usualBar is the weight that is taken for a bar where none was weighed, in g.
const usualBar = 100.0

// basis is the fats that a formula is worked out for, in g: enough that nothing is rounded away.
const basis = 10_000.0

// OfFormula is what a bar of a formula costs at prices.
func OfFormula(f recipe.Formula, barG float64, p Prices) (today, replace cost.Lot) {
	a := f.AmountsFor(basis)
	type part struct {
		key   plan.Key
		name  string
		grams float64
	}
	var parts []part
	for i, s := range f.Fats {
		parts = append(parts, part{plan.FatKey(s.Fat), s.Fat.Name, a.Fats[i]})
	}
	parts = append(parts, part{plan.NaOHKey, "Sodium hydroxide", a.NaOH}, part{plan.KOHKey, "Potassium hydroxide", a.KOH})
	for i, l := range f.Liquids {
		parts = append(parts, part{plan.LiquidKey(l.Liquid), l.Liquid.Name, a.Liquids[i]})
	}
	for i, u := range f.Uses() {
		parts = append(parts, part{inventory.NewKey(inventory.Additive, u.Name), u.Name, a.Additives[i]})
	}
	whole := 0.0
	for _, one := range parts {
		whole += one.grams
	}
	var needs []cost.Need
	var now, newest []cost.Price
	for _, one := range parts {
		if one.grams <= 0 {
			continue
		}
		needs = append(needs, cost.Need{Name: one.name, MG: inventory.MG(one.grams * barG / whole), Free: inventory.Unlimited(one.key)})
		now, newest = append(now, p.Today(one.key)), append(newest, p.Newest(one.key))
	}
	return cost.Lot{Lines: cost.Priced(needs, now)}, cost.Lot{Lines: cost.Priced(needs, newest)}
}

// RecipeCosts is what a bar of each recipe costs at prices, the dearest first; recipes that nobody makes any more are
// left out.
func (r *Reckoner) RecipeCosts(ctx context.Context, p Prices) (out []RecipeCost, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		recipes, err := catalog.LatestRecipes(tx)
		if err != nil {
			return err
		}
		lives, err := tx.Lives()
		if err != nil {
			return err
		}
		bars, err := tx.BarsOfRecipes()
		if err != nil {
			return err
		}
		for _, one := range recipes {
			if lives[one.OID].Life == string(recipe.Retired) {
				continue
			}
			c := RecipeCost{OID: one.OID, Name: one.Name, BarMG: bars[one.OID]}
			if c.Known = c.BarMG > 0; !c.Known {
				c.BarMG = inventory.MG(usualBar)
			}
			c.Today, c.Replace = OfFormula(one.Formula, inventory.Grams(c.BarMG), p)
			out = append(out, c)
		}
		return nil
	})
	slices.SortStableFunc(out, func(a, b RecipeCost) int {
		if d := b.Replace.Total().Known.Cmp(a.Replace.Total().Known); d != 0 {
			return d
		}
		return strings.Compare(a.Name, b.Name)
	})
	return out, err
}

// BarOf is the weight of a raw bar of a recipe in g, as it was cut last; what is usual where none was weighed.
func (r *Reckoner) BarOf(ctx context.Context, oid string) (grams float64, known bool, err error) {
	err = r.Read(ctx, func(tx *store.Tx) error {
		bars, err := tx.BarsOfRecipes()
		if mg := bars[oid]; mg > 0 {
			grams, known = inventory.Grams(mg), true
		}
		return err
	})
	if !known {
		grams = usualBar
	}
	return grams, known, err
}
