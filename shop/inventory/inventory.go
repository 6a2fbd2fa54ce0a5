// Package inventory keeps the store: what came in, what is left of it, and where it went.
//
// A delivery's balance is the sum of its moves and never below zero. Nobody is stopped at the pot by it: when
// the scale took more than the books hold, what was missing is brought in by the same transaction, without a
// cost, and somebody says later why.
package inventory

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"sync"
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/shop/journal"
	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Stores is the store of the shop.
type Stores struct {
	*journal.Journal
	*catalog.Catalog

	mu      sync.Mutex
	used    map[plan.Key]inventory.Material // what recipes and scents name, as of a version of the records
	usedIn  map[plan.Key][]Recipe
	version int64
	read    bool
}

// Material is a material of the catalogue: with a page of its own, or as recipes and deliveries name it.
type Material struct {
	inventory.Material
	OID     string    // empty while it has no page of its own
	Since   time.Time // when its page was written last
	Recipes []Recipe  // that it is used in
}

// Recipe is a recipe that takes a material.
type Recipe struct{ OID, Name string }

// Materials is the catalogue: what has a page of its own, and what recipes, scents, teaspoons and deliveries name
// besides. By kind and name.
func (s *Stores) Materials(ctx context.Context) (out []Material, err error) {
	err = s.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = s.MaterialsIn(tx)
		return err
	})
	return out, err
}

// MaterialsIn is [Stores.Materials] within a transaction.
func (s *Stores) MaterialsIn(tx *store.Tx) ([]Material, error) {
	kept, err := catalog.MaterialsIn(tx)
	if err != nil {
		return nil, err
	}
	used, usedIn, err := s.named(tx)
	if err != nil {
		return nil, err
	}
	deliveries, err := tx.Deliveries(store.DeliveriesWhere{Left: true})
	if err != nil {
		return nil, err
	}
	var out []Material
	at := map[plan.Key]int{}
	for _, one := range kept {
		for _, k := range append([]plan.Key{one.Of.Key}, one.Of.Also...) {
			at[inventory.Fold(k)] = len(out)
		}
		out = append(out, Material{Material: one.Of, OID: one.OID, Since: one.Entry.Recorded})
	}
	add := func(m inventory.Material) int {
		k := inventory.Fold(m.Key)
		i, ok := at[k]
		if !ok {
			i = len(out)
			at[k] = i
			out = append(out, Material{Material: m})
		}
		return i
	}
	for k, m := range used {
		i := add(m)
		if out[i].Label == "" {
			out[i].Label = m.Label
		}
		if out[i].Dense == 0 {
			out[i].Dense = m.Dense
		}
		out[i].Recipes = append(out[i].Recipes, usedIn[k]...)
	}
	for _, d := range deliveries {
		add(FromKey(d.Item, d.Name))
	}
	for i := range out {
		slices.SortFunc(out[i].Recipes, func(a, b Recipe) int { return cmp.Or(strings.Compare(a.Name, b.Name), strings.Compare(a.OID, b.OID)) })
		out[i].Recipes = slices.Compact(out[i].Recipes)
		if inventory.Unlimited(out[i].Key) {
			out[i].Always = true
		}
	}
	kinds := inventory.Kinds()
	slices.SortStableFunc(out, func(a, b Material) int {
		if d := slices.Index(kinds, a.Kind) - slices.Index(kinds, b.Kind); d != 0 {
			return d
		}
		return strings.Compare(strings.ToLower(a.Name), strings.ToLower(b.Name))
	})
	return out, nil
}

// FromKey is what a key and a name say of a material that nobody has described.
func FromKey(k plan.Key, name string) inventory.Material {
	m := inventory.Material{Key: inventory.Fold(k), Name: name, Kind: inventory.Additive, Unit: inventory.Milligrams}
	switch k.Kind() {
	case plan.FatItem:
		m.Key, m.Kind = k, inventory.Fat
		if key, _ := k.Fat(); m.Name == "" {
			m.Name = key
		}
		if f, err := fat.Find(m.Name); err == nil {
			m.Label, m.Dense = f.INCI, f.Density
		}
	case plan.AlkaliItem:
		m.Key, m.Kind, m.Label = k, inventory.Alkali, "Sodium Hydroxide"
		if m.Name = "Sodium hydroxide"; k == plan.KOHKey {
			m.Name, m.Label = "Potassium hydroxide", "Potassium Hydroxide"
		}
	case plan.LiquidItem:
		m.Kind = inventory.Liquid
	case plan.AdditiveItem:
		if known, ok := additive.Find(name); ok {
			m.Label, m.Kind = known.INCI, inventory.KindOf(additive.Use{Name: name})
		}
	default:
		switch {
		case strings.HasPrefix(string(k), "packaging:"):
			m.Kind, m.Unit = inventory.Packaging, inventory.Pieces
		case strings.HasPrefix(string(k), "tool:"):
			m.Kind, m.Unit = inventory.Tool, inventory.Pieces
		}
	}
	return m
}

// named are the materials that recipes, scents and teaspoons name. They are read anew when anything was recorded.
func (s *Stores) named(tx *store.Tx) (map[plan.Key]inventory.Material, map[plan.Key][]Recipe, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	version, err := tx.NamedVersion()
	if err != nil {
		return nil, nil, err
	}
	if s.read && s.version == version && !tx.Writing {
		return s.used, s.usedIn, nil
	}
	used, usedIn := map[plan.Key]inventory.Material{}, map[plan.Key][]Recipe{}
	note := func(m inventory.Material, in Recipe) {
		k := inventory.Fold(m.Key)
		if have, ok := used[k]; !ok || have.Label == "" && m.Label != "" {
			used[k] = m
		}
		if in != (Recipe{}) {
			usedIn[k] = append(usedIn[k], in)
		}
	}
	recipes, err := catalog.LatestRecipes(tx)
	if err != nil {
		return nil, nil, err
	}
	for _, r := range recipes {
		for _, m := range MaterialsOf(r.Formula) {
			note(m, Recipe{r.OID, r.Name})
		}
	}
	scents, err := tx.Latest(store.Scents)
	if err != nil {
		return nil, nil, err
	}
	for _, r := range scents {
		one, err := catalog.AsScent(r)
		if err != nil {
			return nil, nil, err
		}
		m := FromKey(inventory.NewKey(inventory.Scent, one.Scent.Label()), one.Scent.Label())
		m.Kind, m.Dense = inventory.Scent, one.Scent.Density
		note(m, Recipe{})
	}
	spoons, err := tx.Spoons()
	if err != nil {
		return nil, nil, err
	}
	for _, one := range spoons {
		note(FromKey(inventory.NewKey(inventory.Additive, one.Name), one.Name), Recipe{})
	}
	if !tx.Writing {
		s.used, s.usedIn, s.version, s.read = used, usedIn, version, true
	}
	return used, usedIn, nil
}

// MaterialsOf are what a formula takes.
func MaterialsOf(f recipe.Formula) (out []inventory.Material) {
	for _, share := range f.Fats {
		m := FromKey(plan.FatKey(share.Fat), share.Fat.Name)
		m.Label, m.Dense = share.Fat.INCI, share.Fat.Density
		out = append(out, m)
	}
	if f.Alkali.NaOHPercent > 0 {
		out = append(out, FromKey(plan.NaOHKey, ""))
	}
	if f.Alkali.NaOHPercent < 100 {
		out = append(out, FromKey(plan.KOHKey, ""))
	}
	for _, l := range f.Liquids {
		out = append(out, FromKey(plan.LiquidKey(l.Liquid), l.Liquid.Name))
	}
	for _, u := range f.Uses() {
		m := FromKey(inventory.NewKey(inventory.Additive, u.Name), u.Name)
		if m.Kind = inventory.KindOf(u); m.Kind == inventory.Scent {
			m.Dense = additive.ScentDensity
		}
		out = append(out, m)
	}
	return out
}

// Tree is which material each key means.
type Tree struct{ at map[plan.Key]int }

// MaterialTree indexes materials by all their keys.
func MaterialTree(list []Material) Tree {
	t := Tree{map[plan.Key]int{}}
	for i, m := range list {
		for _, k := range append([]plan.Key{m.Key}, m.Also...) {
			t.at[inventory.Fold(k)] = i
		}
	}
	return t
}

// Of is where a key's material stands; below zero where there is none.
func (t Tree) Of(k plan.Key) int {
	if i, ok := t.at[inventory.Fold(k)]; ok {
		return i
	}
	return -1
}

// MaterialIn reads what the shop knows of a key: a material with a page of its own, else what the key says.
func MaterialIn(tx *store.Tx, k plan.Key, name string) (inventory.Material, error) {
	kept, err := catalog.MaterialsIn(tx)
	for _, one := range kept {
		if one.Of.Is(k) {
			return one.Of, err
		}
	}
	return FromKey(k, name), err
}

// AtHand are the deliveries that an ingredient can be weighed from, in the order in which they are to be used:
// those with something left, and the newest of those that are in no book.
func (s *Stores) AtHand(ctx context.Context, item plan.Key, name string) (out []inventory.Delivery, m inventory.Material, err error) {
	settings, err := s.Settings(ctx)
	if err != nil {
		return nil, m, err
	}
	today := s.Now(settings.Location).Format("2006-01-02")
	err = s.Read(ctx, func(tx *store.Tx) error {
		out, m, err = AtHandIn(tx, item, name, today)
		return err
	})
	return out, m, err
}

// mostUnbooked is how many deliveries that are in no book are offered of one ingredient.
const mostUnbooked = 6

// AtHandIn is [Stores.AtHand] within a transaction, on a local day.
func AtHandIn(tx *store.Tx, item plan.Key, name, today string) ([]inventory.Delivery, inventory.Material, error) {
	m, err := MaterialIn(tx, item, name)
	if err != nil {
		return nil, m, err
	}
	list, err := deliveriesOf(tx, m, item, true)
	if err != nil {
		return nil, m, err
	}
	unbooked := 0
	for i := len(list) - 1; i >= 0; i-- {
		if !list[i].Booked {
			if unbooked++; unbooked > mostUnbooked {
				list = slices.Delete(list, i, i+1)
			}
		}
	}
	return inventory.InOrder(list, inventory.LifeOf(m), today), m, nil
}

func deliveriesOf(tx *store.Tx, m inventory.Material, item plan.Key, left bool) (out []inventory.Delivery, err error) {
	keys := append([]plan.Key{m.Key, item}, m.Also...)
	var seen []plan.Key
	for _, k := range keys {
		if k = inventory.Fold(k); k == "" || slices.Contains(seen, k) {
			continue
		}
		seen = append(seen, k)
		list, err := tx.Deliveries(store.DeliveriesWhere{Item: k, Left: left})
		if err != nil {
			return nil, err
		}
		out = append(out, list...)
	}
	slices.SortStableFunc(out, func(a, b inventory.Delivery) int { return int(a.ID - b.ID) })
	return out, nil
}

// UsedUp are the newest deliveries of a material with nothing left, the newest first.
func (s *Stores) UsedUp(ctx context.Context, k plan.Key, name string, most int) (out []inventory.Delivery, err error) {
	err = s.Read(ctx, func(tx *store.Tx) error {
		m, err := MaterialIn(tx, k, name)
		if err != nil {
			return err
		}
		all, err := deliveriesOf(tx, m, k, false)
		for _, d := range slices.Backward(all) {
			if d.Booked && d.Left == 0 && len(out) < most {
				out = append(out, d)
			}
		}
		return err
	})
	return out, err
}
