package stores

import (
	"errors"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/tracing"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// deliveryPage is the story of a delivery: what is left, where it went, and what can be done with it.
type deliveryPage struct {
	inventory.Delivery
	Material inventory.Material
	Forms    map[string]*page.Form
	Seen     int64
	Vessel   draw.Picture
	Expires  string
	State    inventory.Freshness
	Unit1    cost.Money // what a kilo, a pound or a piece cost
	Per      string
	CostAll  cost.Money
	HasPrice bool
	Leaves   []page.Option
	Statuses []page.Option
	Went     tracing.Trace
	Sums     []bucketSum
}

// bucketSum is what became of a part of the cost.
type bucketSum struct {
	Name   string
	Amount int64
	Minor  int64
}

func (s *Room) delivery(w http.ResponseWriter, r *http.Request) error {
	return s.showDelivery(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showDelivery(w http.ResponseWriter, r *http.Request, status int, act string, f *page.Form, notice *caution.Caution) error {
	d, m, err := s.Shop.Delivery(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	session := page.SessionOf(r)
	life := inventory.LifeOf(m)
	p := deliveryPage{
		Delivery: d, Material: m, Forms: map[string]*page.Form{}, Expires: d.Expires(life), Leaves: page.Options(inventory.Leaves()),
		Statuses: page.Options(inventory.Statuses()),
		State:    d.FreshOn(life, s.Shop.Now(session.Location).Format("2006-01-02")),
	}
	for _, name := range []string{"leave", "count", "status", "price", "mark", "paper", "book"} {
		p.Forms[name] = &page.Form{Values: url.Values{}, System: session.System}
	}
	p.Forms["status"].Set("status", string(d.Status))
	p.Forms["mark"].Set("best_before", page.LocalDay(d.BestBefore))
	p.Forms["mark"].Set("opened", page.LocalDay(d.Opened))
	p.Forms["mark"].Set("place", d.Place)
	if d.Goods != nil {
		p.Forms["price"].Set("goods", cost.Format(*d.Goods, session.Currency))
		p.Forms["price"].Set("freight", cost.Format(d.Freight, session.Currency))
		p.Forms["price"].Set("tax", cost.Format(d.Tax, session.Currency))
	}
	if f != nil {
		p.Forms[act] = f
	}
	if n := len(d.Moves); n > 0 {
		p.Seen = d.Moves[n-1].Entry
	}
	in := draw.VesselInput{Form: formOf(m), Holds: float64(max(d.Quantity, d.Left)), Words: d.Name, Have: float64(d.Left)}
	if in.Largest = in.Holds; !d.Open() {
		in.Have, in.Kept = 0, float64(d.Left)
	}
	p.Vessel = draw.OfVessel(in)
	p.CostAll, p.HasPrice = d.Cost()
	if price := d.Price(); price.Known() {
		kilo := inventory.MG(1000)
		if p.Per = "kilo"; session.System == "us" {
			kilo, p.Per = inventory.MG(453.59237), "pound"
		}
		if d.Unit == inventory.Pieces {
			kilo, p.Per = 1, "piece"
		}
		p.Unit1 = price.For(kilo)
		p.Sums = sumsOf(d)
	}
	if p.Went, err = s.Shop.Trace(r.Context(), tracing.Subject{Kind: "delivery", Of: d.OID}); err != nil {
		return err
	}
	return s.Show(w, r, status, "delivery", d.Name+", "+d.Short(), "Stores", notice, p)
}

// sumsOf divides what a delivery cost over what became of it, to the minor unit.
func sumsOf(d inventory.Delivery) (out []bucketSum) {
	price := d.Price()
	names := []string{"used for soap", "wasted", "sent back", "left"}
	amounts, priced := make([]int64, len(names)), make([]int64, len(names))
	for _, m := range d.Moves {
		at := map[inventory.Bucket]int{inventory.Used: 0, inventory.Wasted: 1, inventory.Returned: 2}
		if i, ok := at[m.What.Bucket()]; ok {
			amounts[i], priced[i] = amounts[i]-m.Change, priced[i]-m.Priced
		}
	}
	amounts[3], priced[3] = d.Left, d.Priced
	parts := make([]cost.Money, len(names))
	for i, n := range priced {
		parts[i] = price.For(n)
	}
	for i, minor := range cost.Shown(parts) {
		out = append(out, bucketSum{names[i], amounts[i], minor})
	}
	return out
}

// onDelivery does something with a delivery.
func (s *Room) onDelivery(w http.ResponseWriter, r *http.Request) error {
	act, oid := chi.URLParam(r, "act"), chi.URLParam(r, "oid")
	if act == "paper" {
		return s.addPaper(w, r, oid)
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	d, m, err := s.Shop.Delivery(r.Context(), oid)
	if err != nil {
		return err
	}
	do, ok := map[string]func() error{
		"leave": func() error {
			amount := amountIn(f, "amount", m)
			if err := f.Problems.Err(); err != nil {
				return err
			}
			return s.Shop.Leave(r.Context(), page.Act(r), oid, inventory.What(f.Get("what")), amount, f.Get("lot"), f.Get("note"))
		},
		"count": func() error {
			is := amountIn(f, "counted", m)
			if err := f.Problems.Err(); err != nil {
				return err
			}
			return s.Shop.Count(r.Context(), page.Act(r), oid, is, f.Get("count_why"))
		},
		"status": func() error {
			return s.Shop.SetDeliveryStatus(r.Context(), page.Act(r), oid, inventory.Status(f.Get("status")), f.Get("status_why"))
		},
		"price": func() error {
			goods, freight, tax := moneyIn(r, f, "goods"), moneyIn(r, f, "freight"), moneyIn(r, f, "tax")
			if err := f.Problems.Err(); err != nil {
				return err
			}
			return s.Shop.Reprice(r.Context(), page.Act(r), oid, goods, moneyOr(freight), moneyOr(tax), f.Get("price_why"))
		},
		"mark": func() error {
			bestBefore, opened, place := f.Day("best_before"), f.Day("opened"), f.Get("place")
			if err := f.Problems.Err(); err != nil {
				return err
			}
			word := store.DeliveryWord{BestBefore: &bestBefore, Opened: &opened, Place: &place, Why: f.Get("note")}
			return s.Shop.Mark(r.Context(), page.Act(r), oid, word)
		},
		"open": func() error {
			today := s.Shop.Now(page.SessionOf(r).Location).Format("2006-01-02")
			return s.Shop.Mark(r.Context(), page.Act(r), oid, store.DeliveryWord{Opened: &today})
		},
		"book": func() error {
			in := inventory.Receipt{Amount: amountIn(f, "amount", m), Goods: moneyIn(r, f, "goods"), BestBefore: f.Day("best_before")}
			in.Freight = moneyOr(moneyIn(r, f, "freight"))
			if err := f.Problems.Err(); err != nil {
				return err
			}
			return s.Shop.BookIn(r.Context(), page.Act(r), d.OID, in)
		},
	}[act]
	if !ok {
		return store.ErrNotFound
	}
	signed, unsigned := s.Sign(r, "/stores/deliveries/{oid}/{act}")
	return s.Record(w, r, f, func() (string, error) {
		if unsigned != nil {
			return "", unsigned
		}
		r = signed
		return "/stores/deliveries/" + oid, do()
	},
		func(status int, notice *caution.Caution) error { return s.showDelivery(w, r, status, act, f, notice) })
}

// addPaper keeps a certificate or an invoice.
func (s *Room) addPaper(w http.ResponseWriter, r *http.Request, oid string) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		file, head, err := r.FormFile("photo")
		if errors.Is(err, http.ErrMissingFile) || errors.Is(err, http.ErrNotMultipart) {
			return "", caution.Problems{{Path: "photo", Text: "choose a picture or a PDF"}}
		}
		if err != nil {
			return "", err
		}
		defer file.Close()
		name, err := s.Shop.KeepPaper(file)
		if err != nil {
			return "", err
		}
		said := f.Get("name")
		if said == "" {
			said = strings.TrimSpace(head.Filename)
		}
		return "/stores/deliveries/" + oid + "#papers", s.Shop.AddPaper(r.Context(), page.Act(r), oid, inventory.Paper{File: name, Name: said})
	}, func(status int, notice *caution.Caution) error {
		return s.showDelivery(w, r, status, "paper", f, notice)
	})
}

// receivePage takes deliveries in: one by itself, or what came of an order.
type receivePage struct {
	Form  *page.Form
	Names []string
	Kinds []page.Option
	Fat   bool
}

func (s *Room) receiveForm(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	if l, ok := room.Of(plan.Key(r.URL.Query().Get("key"))); ok {
		f.Set("name", l.Name)
		f.Set("place", l.Place)
		if len(l.Offers) > 0 {
			f.Set("supplier", l.Offers[0].Supplier)
		}
	}
	f.Set("received", page.LocalDay(room.Today))
	return s.showReceive(w, r, http.StatusOK, f, nil)
}

func (s *Room) showReceive(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	p := receivePage{Form: f, Names: materialNames(room), Kinds: page.Options(inventory.Kinds())}
	return s.Show(w, r, status, "receive", "A delivery came", "Stores", notice, p)
}

// receiptIn reads one delivery from the fields that begin with at.
func receiptIn(r *http.Request, f *page.Form, at string, m inventory.Material) inventory.Receipt {
	out := inventory.Receipt{
		Key: m.Key, Name: m.Name, Unit: m.Unit, Supplier: f.Get(at + "supplier"), Code: f.Get(at + "code"),
		Received: f.Day(at + "received"), BestBefore: f.Day(at + "best_before"), Opened: f.Day(at + "opened"),
		Purity: page.IfTyped(f, at+"purity", f.Number, 0), SAP: page.IfTyped(f, at+"sap", f.Number, 0),
		Goods: moneyIn(r, f, at+"goods"), Place: f.Get(at + "place"),
		Freight: moneyOr(moneyIn(r, f, at+"freight")), Tax: moneyOr(moneyIn(r, f, at+"tax")),
	}
	if f.Get(at+"amount") == "" {
		f.Problems.Add(at+"amount", "say how much came")
	} else {
		out.Amount = amountIn(f, at+"amount", m)
	}
	if f.Get(at+"damaged") != "" {
		out.Damaged = amountIn(f, at+"damaged", m)
	}
	return out
}

func (s *Room) receive(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	var m inventory.Material
	switch l, unknown := byName(room, f.Get("name")); {
	case f.Get("name") == "":
		f.Problems.Add("name", "say what it is")
	case unknown == nil:
		m = l.Material.Material
	case slices.Contains(inventory.Kinds(), inventory.Kind(f.Get("kind"))):
		kind := inventory.Kind(f.Get("kind"))
		m = inventory.Material{Key: inventory.NewKey(kind, f.Get("name")), Name: f.Get("name"), Kind: kind, Unit: inventory.Milligrams}
		if kind == inventory.Packaging || kind == inventory.Tool {
			m.Unit = inventory.Pieces
		}
	default:
		f.Problems.Add("kind", "%s", unknown.Error())
	}
	in := receiptIn(r, f, "", m)
	in.Opening = f.Get("opening") == "on"
	return s.Record(w, r, f, func() (string, error) {
		oids, err := s.Shop.Receive(r.Context(), page.Act(r), "", []inventory.Receipt{in})
		if err != nil {
			return "", err
		}
		return "/stores/deliveries/" + oids[0], nil
	}, func(status int, notice *caution.Caution) error { return s.showReceive(w, r, status, f, notice) })
}
