// Package search finds anything in the shop by a word of its name: lots by their code, recipes
// with what is in them, molds, equipment, scents, containers, jars, deliveries, products, recalls and people.
package search

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"ashshelf/shop"
	"ashshelf/shop/catalog"
	"ashshelf/soap/fat"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Kind is what sort of record a search came upon.
type Kind string

// What can be found, in the order in which it is shown.
const (
	Lot      Kind = "lot"
	Recipe   Kind = "recipe"
	Material Kind = "material" // that a recipe asks for
	Mold     Kind = "mold"
	Tool     Kind = "equipment"
	Scent    Kind = "scent"
	Stock    Kind = "stock"
	Jar      Kind = "infusion"
	Delivery Kind = "delivery"
	Opening  Kind = "taken over" // bars that were there before the books
	Product  Kind = "product"
	Recall   Kind = "recall"
	Market   Kind = "market"
	Order    Kind = "order" // of a buyer
	Person   Kind = "person"
)

// Found is one record that holds every word looked for.
type Found struct {
	Kind   Kind
	OID    string // of a person empty
	ID     int64  // of a person
	Name   string
	Detail string // what tells it from others of its name
}

// mostFound is how many records of a kind a search names; whoever wants more says more.
const mostFound = 8

// finder looks in one shop.
type finder struct{ *shop.Shop }

// Find looks for words in all that has a name: codes, recipes with what is in them, molds,
// equipment, scents, containers, jars, products, recalls, markets, orders and people. A word may be a part of one.
func Find(ctx context.Context, shop *shop.Shop, text string) ([]Found, error) {
	s := finder{shop}
	words := strings.Fields(strings.ToLower(text))
	if len(words) == 0 {
		return nil, nil
	}
	var out []Found
	for _, look := range []func(context.Context, string, func(Found, ...string)) error{
		s.findLots, s.findRecipes, s.findVessels, s.findStores, s.findSold, s.findPeople,
	} {
		many := map[Kind]int{}
		note := func(f Found, also ...string) {
			if held := strings.ToLower(f.Name + " " + f.Detail + " " + strings.Join(also, " ")); holdsAll(held, words) && many[f.Kind] < mostFound {
				many[f.Kind]++
				out = append(out, f)
			}
		}
		if err := look(ctx, text, note); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func holdsAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

func (s finder) findLots(ctx context.Context, text string, note func(Found, ...string)) error {
	where := store.LotsWhere{Text: strings.TrimSpace(text), Most: mostFound}
	if n, err := lot.ParseCode(text); err == nil {
		where = store.LotsWhere{Number: n}
	}
	list, _, err := s.FindLots(ctx, where)
	for _, l := range list { // the store has looked; all it gives belongs
		note(Found{Kind: Lot, OID: l.OID, Name: l.Code, Detail: l.Frozen.Recipe + ", " + l.Stage().Words()}, text)
	}
	return err
}

func (s finder) findRecipes(ctx context.Context, text string, note func(Found, ...string)) error {
	list, err := s.Recipes(ctx)
	in := map[string]int{} // how many recipes ask for a material
	for _, r := range list {
		for _, name := range r.Asks() {
			in[name]++
		}
		if (catalog.RecipeQuery{Text: text, Life: "all"}).Matches(r) {
			note(Found{Kind: Recipe, OID: r.OID, Name: r.Name, Detail: r.Life.Words()}, text)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(in)) {
		recipes := fmt.Sprintf("in %d recipes", in[name])
		if in[name] == 1 {
			recipes = "in one recipe"
		}
		note(Found{Kind: Material, Name: name, Detail: recipes}, synonymsOf(name)...)
	}
	return err
}

// synonymsOf are the other names of a fat; of anything else nothing.
func synonymsOf(name string) []string {
	if f, err := fat.Find(name); err == nil {
		return fat.Names(f.Slug).Synonyms
	}
	return nil
}

func (s finder) findVessels(ctx context.Context, _ string, note func(Found, ...string)) error {
	molds, err := s.Molds(ctx)
	if err != nil {
		return err
	}
	for _, m := range molds {
		note(Found{Kind: Mold, OID: m.OID, Name: m.Name})
	}
	tools, err := s.Tools(ctx)
	for _, t := range tools {
		note(Found{Kind: Tool, OID: t.OID, Name: t.Name, Detail: t.Kind.Words()})
	}
	return err
}

func (s finder) findStores(ctx context.Context, _ string, note func(Found, ...string)) error {
	scents, err := s.Scents(ctx)
	if err != nil {
		return err
	}
	for _, one := range scents {
		note(Found{Kind: Scent, OID: one.OID, Name: one.Scent.Name, Detail: one.Scent.Supplier})
	}
	stocks, err := s.Stocks(ctx, true)
	if err != nil {
		return err
	}
	for _, one := range stocks {
		note(Found{Kind: Stock, OID: one.OID, Name: one.Code, Detail: one.Container}, "lye "+string(one.Kind))
	}
	open, past, err := s.Infusions(ctx)
	for _, jar := range append(open, past...) {
		note(Found{Kind: Jar, OID: jar.OID, Name: jar.Herb + " in " + jar.Name})
	}
	if err != nil {
		return err
	}
	deliveries, err := s.Deliveries(ctx)
	if err != nil {
		return err
	}
	for _, d := range slices.Backward(deliveries) {
		note(Found{Kind: Delivery, OID: d.OID, Name: d.Name, Detail: d.Short()})
	}
	openings, err := s.Openings(ctx, "")
	for _, o := range openings {
		note(Found{Kind: Opening, OID: o.OID, Name: o.Code, Detail: o.Name})
	}
	return err
}

func (s finder) findSold(ctx context.Context, _ string, note func(Found, ...string)) error {
	products, err := s.Products(ctx)
	for _, p := range products {
		detail := "product"
		if p.Retired {
			detail = "not sold any more"
		}
		note(Found{Kind: Product, OID: p.OID, Name: p.Name, Detail: detail}, p.Stamp)
	}
	if err != nil {
		return err
	}
	recalls, err := s.Recalls(ctx)
	for _, r := range recalls {
		name := fmt.Sprintf("Recall %d", r.Number)
		if r.Drill {
			name = fmt.Sprintf("Drill %d", r.Number)
		}
		note(Found{Kind: Recall, OID: r.OID, Name: name, Detail: r.Name}, r.Why)
	}
	if err != nil {
		return err
	}
	markets, err := s.Markets(ctx)
	for _, m := range markets {
		note(Found{Kind: Market, OID: m.OID, Name: m.Name, Detail: m.On}, m.Place)
	}
	if err != nil {
		return err
	}
	orders, err := s.SaleOrders(ctx)
	for _, o := range orders {
		note(Found{Kind: Order, OID: o.OID, Name: o.Called(), Detail: o.For()}, o.Due)
	}
	return err
}

func (s finder) findPeople(ctx context.Context, _ string, note func(Found, ...string)) error {
	settings, err := s.Settings(ctx)
	for _, p := range settings.People {
		f := Found{Kind: Person, ID: p.ID, Name: p.Name}
		if !p.Active {
			f.Detail = "no longer works here"
		}
		note(f)
	}
	return err
}
