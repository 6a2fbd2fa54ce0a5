package stores

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/page"
)

// ofPage is one material as it stands: its vessel, its deliveries, and what is to be done.
type ofPage struct {
	supply.Line
	Today  string
	Vessel vessel
	Past   []inventory.Delivery // with nothing left, the newest first
	UseUp  []useUp              // plans that use up what is near its date
	Weekly int64
	Spoon  float64 // g that a level teaspoon weighs, 0 where nobody knows
	Scent  string  // address of what is known of it as a scent
}

// useUp is a plan of a recipe that uses a material up.
type useUp struct{ Recipe, Href string }

// mostPast is how many empty deliveries are shown.
const mostPast = 12

func (s *Room) of(w http.ResponseWriter, r *http.Request) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	l, ok := room.Of(plan.Key(r.URL.Query().Get("key")))
	if !ok {
		return store.ErrNotFound
	}
	p := ofPage{Line: l, Today: room.Today, Vessel: vesselOf(l, room.Today, holds(l), page.SessionOf(r).System)}
	p.Weekly = int64(l.Reorder.Weekly + 0.5)
	if p.Past, err = s.Shop.UsedUp(r.Context(), l.Key, l.Name, mostPast); err != nil {
		return err
	}
	if p.Spoon, err = s.Shop.SpoonOf(r.Context(), l.Name); err != nil {
		return err
	}
	scents, err := s.Shop.Scents(r.Context())
	if err != nil {
		return err
	}
	for _, one := range scents {
		if inventory.SameName(one.Scent.Label(), l.Name) {
			p.Scent = "/scents/" + one.OID
		}
	}
	if l.Have > 0 && (l.Kind == inventory.Fat || l.Kind == inventory.Liquid || l.Kind == inventory.Additive) {
		grams := l.NearAmount
		if grams == 0 {
			grams = max(0, l.Balance.Free())
		}
		name := l.Name
		if _, of, ok := strings.Cut(string(l.Key), ":"); ok && l.Kind != inventory.Additive {
			name = of // recipes name fats and liquids by their keys
		}
		for _, in := range l.Recipes {
			p.UseUp = append(p.UseUp, useUp{in.Name, "/plan?" + url.Values{
				"recipe": {in.OID}, "by": {"use-up"}, "use_up.name": {name},
				"use_up.grams": {unit.FieldMass(inventory.Grams(grams), page.SessionOf(r).System)},
			}.Encode()})
		}
	}
	return s.Show(w, r, http.StatusOK, "store-of", l.Name, "Stores", nil, p)
}

// materialPage is the editor of a material.
type materialPage struct {
	page.Editor
	Form    *page.Form
	History []catalog.Material
	Kinds   []page.Option
	Units   []page.Option
	Rows    []string
	Dirty   bool
	Back    string
	Lives   string // how long its kind keeps
}

func (s *Room) materialDocuments() page.Documents[catalog.Material] {
	return page.Documents[catalog.Material]{
		Kind:    store.Materials,
		History: s.Shop.MaterialHistory,
		Number:  func(one catalog.Material) int { return one.Number },
		Form:    func(one catalog.Material, sys unit.System) *page.Form { return materialForm(one.Of, sys) },
		Fresh:   s.freshMaterial,
	}
}

// freshMaterial begins with what recipes and deliveries say of a key.
func (s *Room) freshMaterial(r *http.Request) (*page.Form, error) {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return nil, err
	}
	if l, ok := room.Of(plan.Key(r.URL.Query().Get("key"))); ok {
		return materialForm(l.Material.Material, page.SessionOf(r).System), nil
	}
	return materialForm(inventory.Material{Kind: inventory.Packaging, Unit: inventory.Pieces}, page.SessionOf(r).System), nil
}

const moreRows = 2

func materialForm(m inventory.Material, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	months := func(n int) string {
		switch n {
		case 0:
			return ""
		case inventory.Forever:
			return "for ever"
		}
		return strconv.Itoa(n)
	}
	f.Set("key", string(m.Key))
	f.Set("name", m.Name)
	f.Set("kind", string(m.Kind))
	f.Set("label", m.Label)
	f.Set("unit", string(m.Unit))
	if m.Dense > 0 {
		f.Set("dense", unit.Trim(m.Dense, 3))
	}
	f.Set("place", m.Place)
	f.Set("closed", months(m.Closed))
	f.Set("opened", months(m.Opened))
	if m.Safety > 0 {
		f.Set("safety", strconv.Itoa(m.Safety))
	}
	f.Set("also", keysText(m.Also))
	f.Set("not", keysText(m.Not))
	page.Tick(f, "retire", m.Retire)
	for i, o := range m.Offers {
		at := fmt.Sprintf("offers[%d].", i)
		f.Set(at+"supplier", o.Supplier)
		f.Set(at+"article", o.Article)
		f.Set(at+"amount", fieldAmount(o.Amount, m.Unit, sys))
		if o.Price >= 0 {
			f.Set(at+"price", strconv.FormatInt(o.Price, 10)) // in minor units; written as money when it is shown
		}
		if o.Lead > 0 {
			f.Set(at+"lead", strconv.Itoa(o.Lead))
		}
	}
	return f
}

func keysText(list []plan.Key) string {
	words := make([]string, len(list))
	for i, k := range list {
		words[i] = string(k)
	}
	return strings.Join(words, "\n")
}

func keysIn(text string) (out []plan.Key) {
	for line := range strings.SplitSeq(text, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			out = append(out, plan.Key(line))
		}
	}
	return out
}

func fieldAmount(n int64, u inventory.Unit, sys unit.System) string {
	if u == inventory.Pieces {
		return strconv.FormatInt(n, 10)
	}
	if sys != unit.US && n%1000 == 0 {
		return page.AmountWords(n, u, sys) // a whole number of grams, which kilos say exactly
	}
	return unit.FieldMass(inventory.Grams(n), sys)
}

func readMaterial(f *page.Form, currency string) (inventory.Material, caution.Problems) {
	f.Problems = nil
	months := func(name string) int {
		switch text := strings.ToLower(f.Get(name)); text {
		case "":
			return 0
		case "for ever", "forever", "ever":
			return inventory.Forever
		}
		n := f.Count(name)
		if n == 0 && f.Err(name) == "" {
			f.Problems.Add(name, "type months, or leave it empty")
		}
		return n
	}
	m := inventory.Material{
		Key: plan.Key(f.Get("key")), Name: f.Get("name"), Kind: inventory.Kind(f.Get("kind")), Label: f.Get("label"),
		Unit: inventory.Unit(f.Get("unit")), Dense: page.IfTyped(f, "dense", f.Number, 0), Place: f.Get("place"),
		Closed: months("closed"), Opened: months("opened"), Safety: page.IfTyped(f, "safety", f.Count, 0),
		Also: keysIn(f.Get("also")), Not: keysIn(f.Get("not")), Retire: f.Get("retire") == "on",
	}
	for i := range page.Rows(f.Values, "offers") {
		at := fmt.Sprintf("offers[%d].", i)
		if page.Blank(f, at, "supplier", "article", "amount", "price", "lead") {
			continue
		}
		o := inventory.Offer{
			Supplier: f.Get(at + "supplier"), Article: f.Get(at + "article"), Amount: amountIn(f, at+"amount", m),
			Price: -1, Lead: page.IfTyped(f, at+"lead", f.Count, 0),
		}
		if f.Get(at+"price") != "" {
			v, err := cost.ParseMoney(f.Get(at+"price"), currency)
			if err != nil {
				f.Problems.Add(at+"price", "%s", err.Error())
			}
			o.Price = v
		}
		m.Offers = append(m.Offers, o)
	}
	return m, f.Problems
}

// priced writes the prices of a form that was made from a record as money.
func priced(f *page.Form, currency string) {
	for i := range page.Rows(f.Values, "offers") {
		at := fmt.Sprintf("offers[%d].price", i)
		if n, err := strconv.ParseInt(f.Get(at), 10, 64); err == nil {
			f.Set(at, cost.Format(n, currency))
		}
	}
}

func (s *Room) material(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.materialDocuments())
	if err != nil {
		return err
	}
	if !o.Dirty {
		priced(o.Form, page.SessionOf(r).Currency)
	} else if o.Form.Get("name") != "" {
		_, o.Form.Problems = readMaterial(o.Form, page.SessionOf(r).Currency)
	}
	return s.showMaterial(w, r, http.StatusOK, o)
}

func (s *Room) showMaterial(w http.ResponseWriter, r *http.Request, status int, o page.Opened[catalog.Material]) error {
	title := o.Form.Get("name")
	if title == "" {
		title = "A new material"
	}
	p := materialPage{
		Editor: o.Editor, Form: o.Form, History: o.History, Dirty: o.Dirty, Kinds: page.Options(inventory.Kinds()),
		Units: []page.Option{{Value: string(inventory.Milligrams), Label: "weighed"}, {Value: string(inventory.Pieces), Label: "counted"}},
		Rows:  page.Prefixes(o.Form, "offers", page.Rows(o.Form.Values, "offers")+moreRows), Back: "/stores",
	}
	if key := o.Form.Get("key"); key != "" {
		p.Back = "/stores/of?" + url.Values{"key": {key}}.Encode()
	}
	life := inventory.LifeOf(inventory.Material{
		Key: plan.Key(o.Form.Get("key")), Name: o.Form.Get("name"), Kind: inventory.Kind(o.Form.Get("kind")),
	})
	p.Lives = lifeWords(life)
	return s.Show(w, r, status, "material", title, "Stores", o.Notice, p)
}

// lifeWords says how long something keeps.
func lifeWords(l inventory.Life) string {
	months := func(n int) string {
		switch n {
		case 0:
			return "nobody can say"
		case inventory.Forever:
			return "for ever, dry and tight"
		}
		return page.Plural(n, "month")
	}
	if l.Closed == l.Opened {
		return months(l.Closed)
	}
	return months(l.Closed) + " closed, " + months(l.Opened) + " opened"
}

func (s *Room) materialLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Materials).Typed)
	if err != nil {
		return err
	}
	_, live.Form.Problems = readMaterial(live.Form, page.SessionOf(r).Currency)
	return s.Render(w, r, http.StatusOK, "live-errors", live)
}

func (s *Room) keepMaterial(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	m, problems := readMaterial(f, page.SessionOf(r).Currency)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.materialDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepMaterial(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, m)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showMaterial(w, r, status, o)
}

// twins decides whether two names are one thing.
func (s *Room) twins(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		room, err := s.Shop.Storeroom(r.Context())
		if err != nil {
			return "", err
		}
		a, okA := room.Of(plan.Key(f.Get("a")))
		b, okB := room.Of(plan.Key(f.Get("b")))
		if !okA || !okB || f.Get("same") != "yes" && f.Get("same") != "no" {
			return "", caution.Problems{{Text: "choose whether the two names are one thing"}}
		}
		return "/stores#names", s.Shop.DecideTwins(r.Context(), page.Act(r), a.Material.Material, b.Material.Material, f.Get("same") == "yes")
	}, func(status int, notice *caution.Caution) error { return s.showStoreroom(w, r, status, nil, notice) })
}

// storeRoutes are the addresses of what is bought and kept.
func (s *Room) storeRoutes(r page.Routes) {
	r.Get("/stores", s.storeroom)
	r.Get("/stores/of", s.of)
	r.Get("/stores/table", s.table)
	r.Get("/stores/shopping", s.shopping)
	r.Get("/stores/shopping.csv", s.shoppingCSV)
	r.Post("/stores/why", s.settle)
	r.Post("/stores/names", s.twins)
	r.Get("/stores/receive", s.receiveForm)
	r.Post("/stores/receive", s.receive)
	r.Get("/stores/orders", s.orders)
	r.Post("/stores/orders", s.placeOrder)
	r.Get("/stores/orders/{oid}", s.order)
	r.Post("/stores/orders/{oid}", s.receiveOrder)
	r.Post("/stores/orders/{oid}/close", s.closeOrder)
	r.Get("/stores/deliveries/{oid}", s.delivery)
	r.Post("/stores/deliveries/{oid}/{act}", s.onDelivery)
	r.Get("/stores/prices", s.prices)
	r.Get("/stores/value", s.value)
	r.Get("/stores/value.csv", s.valueCSV)
	r.Get("/stores/opening", s.opening)
	r.Post("/stores/opening", s.takeOver)
	r.Post("/stores/opening/file", s.takeOverFile)
	r.Post("/stores/opening/{oid}/{act}", s.onOpening)
	r.Get("/stores/stores.json", s.storesJSON)
	r.Get("/stores/materials.csv", s.materialsCSV)
	r.Get("/stores/deliveries.csv", s.deliveriesCSV)
	r.Get("/stores/moves.csv", s.movesCSV)
	r.Get("/materials", func(w http.ResponseWriter, r *http.Request) error { return page.SeeOther(w, r, "/stores") })
	r.Get("/materials/new", page.StartNew(store.Materials))
	for _, at := range []string{"/materials/{oid}", "/materials/new/{token}"} {
		r.Get(at, s.material)
		r.Post(at+"/live", s.materialLive)
		r.Post(at, s.keepMaterial)
	}
}
