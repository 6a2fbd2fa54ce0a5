package stores

import (
	"fmt"
	"net/http"
	"net/url"

	"github.com/go-chi/chi/v5"

	stores "ashshelf/shop/inventory"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/plan"
	"ashshelf/web/page"
)

func (s *Room) orders(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Orders(r.Context(), "")
	if err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "orders", "Orders", "Stores", nil, list)
}

// placeOrder makes an order of the packs that were typed beside a supplier's part of the shopping list.
func (s *Room) placeOrder(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	var o inventory.Order
	o.Due, o.Note = f.Day("due"), f.Get("note")
	for i := range page.Rows(f.Values, "lines") {
		at := fmt.Sprintf("lines[%d].", i)
		if f.Get(at+"packs") == "" || f.Get(at+"packs") == "0" {
			continue
		}
		l, ok := room.Of(plan.Key(f.Get(at + "key")))
		if !ok {
			f.Problems.Add(at+"packs", "this material is gone from the list")
			continue
		}
		line := inventory.OrderLine{
			Key: l.Key, Name: l.Name, Unit: l.Unit, Article: f.Get(at + "article"), Packs: f.Count(at + "packs"), Price: -1,
		}
		line.Pack = amountIn(f, at+"pack", l.Material.Material)
		if v := moneyIn(r, f, at+"price"); v != nil {
			line.Price = *v
		}
		o.Lines = append(o.Lines, line)
	}
	return s.Record(w, r, f, func() (string, error) {
		oid, err := s.Shop.PlaceOrder(r.Context(), page.Act(r), f.Get("supplier"), o)
		return "/stores/orders/" + oid, err
	}, func(status int, notice *caution.Caution) error { return s.showShopping(w, r, status, f, notice) })
}

// orderPage is an order, with the form of what came.
type orderPage struct {
	stores.Order
	Form  *page.Form
	Lines []orderLine
	Come  []inventory.Delivery
	Total int64
	All   bool // all of it has a price
}

type orderLine struct {
	inventory.OrderLine
	At   string // of its fields
	Came int64
	Rest int64
	Fat  bool
	Lye  bool
}

func (s *Room) order(w http.ResponseWriter, r *http.Request) error {
	return s.showOrder(w, r, http.StatusOK, nil, nil)
}

func (s *Room) showOrder(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	list, err := s.Shop.Orders(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := orderPage{Order: list[0], Form: f, All: true}
	fresh := f == nil
	if fresh {
		p.Form = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
		p.Form.Set("received", page.LocalDay(s.Shop.Now(page.SessionOf(r).Location).Format("2006-01-02")))
	}
	for i, l := range p.Order.Lines {
		line := orderLine{OrderLine: l, At: fmt.Sprintf("lines[%d].", i), Came: p.Came[i+1]}
		line.Rest = max(0, l.Amount()-line.Came)
		_, line.Fat = l.Key.Fat()
		line.Lye = l.Key.Alkali()
		if sum, ok := l.Cost(); ok {
			p.Total += sum
		} else {
			p.All = false
		}
		p.Lines = append(p.Lines, line)
	}
	if p.Come, err = s.Shop.DeliveriesOf(r.Context(), p.OID); err != nil {
		return err
	}
	return s.Show(w, r, status, "order", fmt.Sprintf("Order %d to %s", p.Number, p.Supplier), "Stores", notice, p)
}

// receiveOrder takes in what came of an order. Freight and tax of the invoice are shared over its lines.
func (s *Room) receiveOrder(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	list, err := s.Shop.Orders(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	o := list[0]
	var in []inventory.Receipt
	received := f.Day("received")
	for i, l := range o.Lines {
		at := fmt.Sprintf("lines[%d].", i)
		if page.Blank(f, at, "amount") {
			if !page.Blank(f, at, "code", "goods", "damaged") {
				f.Problems.Add(at+"amount", "say how much came of it")
			}
			continue
		}
		m := inventory.Material{Key: l.Key, Name: l.Name, Unit: l.Unit}
		if known, ok := room.Of(l.Key); ok {
			m = known.Material.Material
		}
		one := receiptIn(r, f, at, m)
		one.Received, one.Supplier, one.Line = received, o.Supplier, i+1
		in = append(in, one)
	}
	by := inventory.FreightBy(page.SessionOf(r).FreightBy)
	inventory.Share(in, moneyOr(moneyIn(r, f, "freight")), moneyOr(moneyIn(r, f, "tax")), by)
	return s.Record(w, r, f, func() (string, error) {
		_, err := s.Shop.Receive(r.Context(), page.Act(r), o.OID, in)
		return "/stores/orders/" + o.OID, err
	}, func(status int, notice *caution.Caution) error { return s.showOrder(w, r, status, f, notice) })
}

func (s *Room) closeOrder(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	return s.Record(w, r, f, func() (string, error) {
		return "/stores/orders/" + oid, s.Shop.CloseOrder(r.Context(), page.Act(r), oid, f.Get("what"), f.Get("note"))
	}, func(status int, notice *caution.Caution) error { return s.showOrder(w, r, status, f, notice) })
}
