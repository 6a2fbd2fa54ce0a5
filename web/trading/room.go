// Package trading is the pages of markets and orders: what is packed, the till of a stall, what comes home, what was sold,
// and what to make by when.
package trading

import (
	"embed"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"ashshelf/shop/trading"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/product"
	"ashshelf/store"
	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows it.
type Room struct{ *page.Kit }

// TradingRoutes are its addresses.
func (s *Room) TradingRoutes(r page.Routes) {
	r.Get("/markets", s.markets)
	r.Get("/markets/new", page.StartNew(store.Markets))
	r.Get("/markets/new/{token}", s.market)
	r.Post("/markets/new/{token}", s.keepMarket)
	r.Post("/markets/new/{token}/live", s.liveMarket)
	r.Get("/markets/{oid}", s.market)
	r.Post("/markets/{oid}", s.keepMarket)
	r.Post("/markets/{oid}/live", s.liveMarket)
	r.Get("/markets/{oid}/pack", s.packing)
	r.Post("/markets/{oid}/pack", s.pack)
	r.Get("/markets/{oid}/stall", s.stall)
	r.Post("/markets/{oid}/till", s.ring)
	r.Get("/markets/{oid}/home", s.home)
	r.Post("/markets/{oid}/home", s.countBack)
	r.Get("/orders", s.orders)
	r.Get("/orders/new", page.StartNew(store.Orders))
	r.Get("/orders/new/{token}", s.order)
	r.Post("/orders/new/{token}", s.keepOrder)
	r.Post("/orders/new/{token}/live", s.liveOrder)
	r.Get("/orders/{oid}", s.order)
	r.Post("/orders/{oid}", s.keepOrder)
	r.Post("/orders/{oid}/live", s.liveOrder)
	r.Get("/orders/{oid}/box", s.filling)
	r.Post("/orders/{oid}/box", s.fill)
	r.Post("/orders/{oid}/send", s.send)
	r.Post("/orders/{oid}/tell", s.tell)
	r.Get("/papers/{oid}", s.paper)
	r.Get("/buyers", s.buyers)
	r.Post("/buyers/{key}/name", s.nameBuyer)
	r.Post("/buyers/{key}/blank", s.blankBuyer)
	r.Get("/sold", s.sold)
	r.Get("/sold/takings.csv", s.takings)
	r.Get("/ahead", s.ahead)
	r.Get("/ahead/for/{date}", s.aheadFor)
	r.Post("/ahead", s.makePlans)
	r.Get("/selling", s.rules)
	r.Post("/selling", s.keepRules)
}

// money reads an amount; nothing typed is nothing.
func money(f *page.Form, field, currency string) int64 {
	if f.Get(field) == "" {
		return 0
	}
	v, err := cost.ParseMoney(f.Get(field), currency)
	if err != nil {
		f.Problems.Add(field, "%s", err.Error())
	}
	return v
}

// told puts what the core finds at the fields of a form, beside what could not be read; each field is told once.
func told(f *page.Form, found caution.Problems, at page.Places) {
	for _, one := range found {
		if one.Path = at.Of(one.Path); f.Problems.At(one.Path) == "" {
			f.Problems = append(f.Problems, one)
		}
	}
}

// packRow is a product with its bars by lot, as they are packed.
type packRow struct {
	trading.Shelf
	Piles []packPile
	Left  int // of an order's line, that is still to be packed
	Short int // of what is proposed or owed, that is not there
}

// packPile is bars of one lot in it.
type packPile struct {
	trading.Pile
	Field string
}

// rowsOf are the products that can go into a box. What is proposed is laid out over the lots, the oldest first; what is in the
// box already counts.
func rowsOf(f *page.Form, shelves []trading.Shelf, want func(trading.Shelf) int) (out []packRow) {
	for _, s := range shelves {
		row := packRow{Shelf: s}
		left := want(s)
		for _, pile := range s.Piles {
			p := packPile{pile, trading.PackField(trading.Packed{Product: s.Product.OID, Lot: pile.Lot, Kind: pile.Kind})}
			n := max(pile.In, min(left, pile.Most()))
			left -= n
			if _, typed := f.Values[p.Field]; !typed {
				f.Set(p.Field, fmt.Sprint(n))
			}
			row.Piles = append(row.Piles, p)
		}
		row.Short = max(0, left)
		out = append(out, row)
	}
	return out
}

// packed reads what is to be in a box: all of it, or the one field whose button was pressed.
func packed(r *http.Request, f *page.Form) (out []trading.Packed) {
	only, one := trading.ReadPackField(r.PostFormValue("do"))
	for name := range f.Values {
		p, ok := trading.ReadPackField(name)
		if !ok || one && p != only {
			continue
		}
		if f.Get(name) == "" {
			continue
		}
		p.Bars = f.Count(name)
		out = append(out, p)
	}
	slices.SortFunc(out, func(a, b trading.Packed) int { return strings.Compare(trading.PackField(a), trading.PackField(b)) })
	return out
}

// channels are the usual ones and those of the shop's rules.
func (s *Room) channels(r *http.Request) ([]string, error) {
	rules, err := s.Shop.SaleRules(r.Context())
	out := product.Channels()
	for _, c := range rules.Channels {
		if !slices.ContainsFunc(out, func(have string) bool { return strings.EqualFold(have, c.Name) }) {
			out = append(out, c.Name)
		}
	}
	return out, err
}
