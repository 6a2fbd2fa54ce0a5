package selling

import (
	"cmp"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/catalog"
	"ashshelf/shop/selling"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/product"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// board is a product with its bars as they stand.
type board struct {
	selling.Product
	Drawn      draw.Picture
	Each       int // bars that one of the drawing stands for
	Ready      int // that may be sold to anybody
	Put        int // by for somebody
	Soon       int
	From, Till string // when the first of those are ready, and the latest day of the range
	Kept       int
	NotOffered string
	Photo      string
}

// boardOf adds up what a product has.
func boardOf(p selling.Product, stands []product.Availability, today string) board {
	b := board{Product: p, NotOffered: p.NotOffered(today)}
	heaps := make([]draw.Heap, 0, len(stands))
	for _, s := range stands {
		h := heapOf(s)
		heaps = append(heaps, h)
		b.Kept += h.Kept
		if h.Soon > 0 {
			if b.Soon += h.Soon; b.From == "" || s.Ready < b.From {
				b.From, b.Till = s.Ready, s.Latest
			}
		}
		b.Put += s.Reserved
		b.Ready += s.Offered()
	}
	b.Drawn, b.Each = draw.OfBoard(heaps, fmt.Sprintf("%s: %d ready, %d put by, %d soon", p.Name, b.Ready, b.Put, b.Soon))
	return b
}

// heapOf is what of a pile is drawn, and how.
func heapOf(s product.Availability) draw.Heap {
	h := draw.Heap{Code: s.Code, Others: len(s.With) > 0, Reserved: s.Reserved}
	switch {
	case s.Blocked != "":
		h.Kept = s.Labelled + s.Shared
	case s.Ready != "":
		h.Soon, h.When = s.Labelled+s.Shared, page.LocalDay(s.Ready)
	default:
		h.Labelled, h.Shared = s.Labelled, s.Shared
	}
	return h
}

// readyPage is what there is to sell.
type readyPage struct {
	Boards       []board
	Retired      []selling.Product
	Loose        int // bars that no product takes
	Reservations []store.Reservation
}

func (s *Room) readyStock(w http.ResponseWriter, r *http.Request) error {
	stock, err := s.Shop.ReadyStock(r.Context())
	if err != nil {
		return err
	}
	p := readyPage{Reservations: stock.Reservations}
	for _, one := range stock.Products {
		if one.Retired {
			p.Retired = append(p.Retired, one)
			continue
		}
		b := boardOf(one, stock.Available[one.OID], stock.Today)
		b.Photo = stock.Photos[one.OID]
		p.Boards = append(p.Boards, b)
	}
	for _, pile := range stock.Unassigned {
		p.Loose += pile.Free()
	}
	return s.Show(w, r, http.StatusOK, "ready-stock", "Sell", "Sell", nil, p)
}

// productPage is the editor of a product.
type productPage struct {
	page.Editor
	Form     *page.Form
	History  []selling.Product
	Recipes  []catalog.Recipe
	Rows     []string
	Channels []string
	Claims   []label.Claim
	Photo    string
}

// ID is the id of the box of a recipe.
func (productPage) Box(oid string) string { return "recipe." + oid }

func (s *Room) documents() page.Documents[selling.Product] {
	return page.Documents[selling.Product]{
		Kind:    store.Products,
		History: s.Shop.ProductHistory,
		Number:  func(p selling.Product) int { return p.Number },
		Form: func(p selling.Product, sys unit.System) *page.Form {
			return productForm(p.Product, sys)
		},
		Fresh: s.freshProduct,
	}
}

// freshProduct begins with a recipe where one is named.
func (s *Room) freshProduct(r *http.Request) (*page.Form, error) {
	d := product.Product{Grades: []ledger.Grade{ledger.First}, Care: product.UsualCare}
	if oid := r.URL.Query().Get("recipe"); oid != "" {
		history, err := s.Shop.RecipeHistory(r.Context(), oid)
		if err != nil {
			return nil, err
		}
		d.Name, d.Recipes = history[0].Name, []string{oid}
	}
	return productForm(d, page.SessionOf(r).System), nil
}

const moreRows = 2

func productForm(d product.Product, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	for name, v := range map[string]string{
		"name": d.Name, "size": d.Size, "stamp": d.Stamp, "from": d.From, "until": d.Until, "launch": d.Launch, "care": d.Care,
		"wording": d.Wording, "approval": d.Approval, "looked_where": d.Looked.Where, "looked_on": d.Looked.On, "looked_by": d.Looked.By,
		"looked_found": d.Looked.Found,
	} {
		f.Set(name, v)
	}
	for _, oid := range d.Recipes {
		f.Set("recipe."+oid, "on")
	}
	for _, g := range d.Grades {
		f.Set("grade."+string(g), "on")
	}
	if d.Net > 0 {
		f.Set("net", unit.FieldMass(d.Net, sys))
	}
	page.Tick(f, "limited", d.Limited)
	page.Tick(f, "retired", d.Retired)
	for i, one := range d.Prices {
		at := fmt.Sprintf("prices[%d].", i)
		f.Set(at+"channel", one.Channel)
		f.Set(at+"amount", strconv.FormatInt(one.Amount, 10)) // in minor units; written as money when it is shown
	}
	return f
}

func readProduct(f *page.Form, currency string) (d product.Product, p caution.Problems) {
	f.Problems = nil
	d = product.Product{
		Name: f.Get("name"), Size: f.Get("size"), Stamp: f.Get("stamp"), Net: page.IfTyped(f, "net", f.Mass, 0), From: f.Day("from"),
		Until: f.Day("until"), Launch: f.Day("launch"), Limited: f.Get("limited") == "on", Retired: f.Get("retired") == "on",
		Care: f.Get("care"), Wording: strings.ReplaceAll(f.Get("wording"), "\r\n", "\n"), Approval: f.Get("approval"),
		Looked: product.Looked{Where: f.Get("looked_where"), On: f.Day("looked_on"), By: f.Get("looked_by"), Found: f.Get("looked_found")},
	}
	for name := range f.Values {
		if oid, is := strings.CutPrefix(name, "recipe."); is && f.Get(name) == "on" {
			d.Recipes = append(d.Recipes, oid)
		}
	}
	slices.Sort(d.Recipes)
	for _, g := range []ledger.Grade{ledger.First, ledger.Second} {
		if f.Get("grade."+string(g)) == "on" {
			d.Grades = append(d.Grades, g)
		}
	}
	for i := range page.Rows(f.Values, "prices") {
		at := fmt.Sprintf("prices[%d].", i)
		if page.Blank(f, at, "channel", "amount") {
			continue
		}
		v, err := cost.ParseMoney(f.Get(at+"amount"), currency)
		if err != nil {
			f.Problems.Add(at+"amount", "%s", err.Error())
		}
		d.Prices = append(d.Prices, product.Price{Channel: f.Get(at + "channel"), Amount: v})
	}
	return d, f.Problems
}

// checked reads a form and finds all that is wrong with it, as keeping it would.
func checked(f *page.Form, currency string) product.Product {
	d, p := readProduct(f, currency)
	for _, one := range d.Check() {
		if p.At(one.Path) == "" {
			p = append(p, one)
		}
	}
	f.Problems = p
	return d
}

func (s *Room) product(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.documents())
	if err != nil {
		return err
	}
	if !o.Dirty {
		priced(o.Form, page.SessionOf(r).Currency)
	} else if o.Form.Get("name") != "" {
		checked(o.Form, page.SessionOf(r).Currency)
	}
	return s.showProduct(w, r, http.StatusOK, o)
}

// priced writes the prices of a form that was made from a record as money.
func priced(f *page.Form, currency string) {
	for i := range page.Rows(f.Values, "prices") {
		at := fmt.Sprintf("prices[%d].amount", i)
		if n, err := strconv.ParseInt(f.Get(at), 10, 64); err == nil {
			f.Set(at, cost.Format(n, currency))
		}
	}
}

func (s *Room) showProduct(w http.ResponseWriter, r *http.Request, status int, o page.Opened[selling.Product]) error {
	p := productPage{
		Editor: o.Editor, Form: o.Form, History: o.History, Channels: product.Channels(),
		Rows: page.Prefixes(o.Form, "prices", page.Rows(o.Form.Values, "prices")+moreRows),
	}
	p.Claims = product.Product{Name: o.Form.Get("name"), Wording: o.Form.Get("wording")}.Claims()
	var err error
	if p.Recipes, err = s.Shop.Recipes(r.Context()); err != nil {
		return err
	}
	p.Recipes = slices.DeleteFunc(p.Recipes, func(one catalog.Recipe) bool {
		return o.Form.Get("recipe."+one.OID) == "" && one.Life == recipe.Retired
	})
	stock, err := s.Shop.ReadyStock(r.Context())
	if err != nil {
		return err
	}
	p.Photo = stock.Photos[o.OID]
	return s.Show(w, r, status, "product", cmp.Or(o.Form.Get("name"), "A new product"), "Sell", o.Notice, p)
}

func (s *Room) liveProduct(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Products).Typed)
	if err != nil {
		return err
	}
	d := checked(live.Form, page.SessionOf(r).Currency)
	live.Names = append(live.Names, "recipes", "grades")
	live.Answers = d.Claims()
	return s.Render(w, r, http.StatusOK, "product-live", live)
}

func (s *Room) keepProduct(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	d, problems := readProduct(f, page.SessionOf(r).Currency)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.documents(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepProduct(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, d)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showProduct(w, r, status, o)
}

// photo keeps a picture of a product.
func (s *Room) photo(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		file, _, err := r.FormFile("photo")
		if err != nil {
			return "", caution.Problems{{Path: "photo", Text: "choose a picture"}}
		}
		defer file.Close()
		name, _, err := s.Shop.KeepPhoto(file)
		if err != nil {
			return "", err
		}
		return "/products/" + oid, s.Shop.AddProductPhoto(r.Context(), page.Act(r), oid, name)
	}, func(status int, notice *caution.Caution) error {
		o, err := page.OpenEditor(s.Kit, r, s.documents())
		if err != nil {
			return err
		}
		if !o.Dirty {
			priced(o.Form, page.SessionOf(r).Currency)
		}
		o.Form.Problems, o.Notice = f.Problems, notice
		return s.showProduct(w, r, status, o)
	})
}
