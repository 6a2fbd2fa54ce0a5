package selling

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/selling"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/ledger"
	"ashshelf/soap/product"
	"ashshelf/soap/sale"
	"ashshelf/store"
	"ashshelf/web/page"
)

// mostRuns is how many runs of labels stand beside the bars.
const mostRuns = 12

// loose is the address of bars that are no product's.
const loose = "loose"

// barsPage is the bars of one product: what is done with them, each in a form of its own.
type barsPage struct {
	Product  *selling.Product // nil for bars that are no product's
	OID      string
	Board    board
	Lots     []barsOf
	Forms    map[string]*page.Form
	Sell     []page.Option
	Reserve  []page.Option
	Bound    []page.Option
	Reasons  []page.Option
	For      []page.Option
	Names    []string // that bars were put by for
	Channels []string
	Runs     []selling.Run
}

// barsOf is bars of a lot, as they stand for a product.
type barsOf struct {
	product.Availability
	Others []string // names of the other products
	Put    []put
	Labels string // address of the labels for it
}

// put is bars that are put by.
type put struct {
	store.Reservation
	Bars int
}

// pile names bars of a lot for a form: lot, size, grade, and the reservation they are put by for.
type pile struct {
	lot string
	ledger.Kind
	forOID string
}

func (p pile) value() string {
	return strings.Join([]string{p.lot, string(p.Grade), p.forOID, p.Size}, "|")
}

func readPile(text string) (p pile, ok bool) {
	parts := strings.SplitN(text, "|", 4)
	if len(parts) < 4 {
		return p, false
	}
	return pile{lot: parts[0], Kind: ledger.Kind{Grade: ledger.Grade(parts[1]), Size: parts[3]}, forOID: parts[2]}, true
}

func (s *Room) bars(w http.ResponseWriter, r *http.Request) error {
	return s.showBars(w, r, http.StatusOK, chi.URLParam(r, "oid"), "", nil, nil)
}

// barActs are the forms of the page.
var barActs = []string{"sell", "reserve", "free"}

func (s *Room) showBars(w http.ResponseWriter, r *http.Request, status int, oid, act string, f *page.Form, notice *caution.Caution) error {
	stock, err := s.Shop.ReadyStock(r.Context())
	if err != nil {
		return err
	}
	p := barsPage{OID: oid, Channels: product.Channels(), Forms: map[string]*page.Form{}}
	for _, name := range barActs {
		p.Forms[name] = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	}
	if f != nil {
		p.Forms[act] = f
	}
	title := "Bars without a product"
	stands := stock.Available[oid]
	if oid == loose {
		stands = looseOf(stock)
		p.Board = boardOf(selling.Product{Name: title}, stands, stock.Today)
	} else {
		at := slices.IndexFunc(stock.Products, func(one selling.Product) bool { return one.OID == oid })
		if at < 0 {
			return fmt.Errorf("product %s: %w", oid, store.ErrNotFound)
		}
		p.Product = &stock.Products[at]
		title, p.Board = p.Product.Name, boardOf(*p.Product, stands, stock.Today)
		p.Board.Photo = stock.Photos[oid]
		if p.Runs, err = s.Shop.Runs(r.Context(), oid, "", mostRuns); err != nil {
			return err
		}
	}
	for _, one := range stands {
		p.add(one, stock)
	}
	for _, reason := range selling.Leaves() {
		p.Reasons = append(p.Reasons, page.Option{Value: string(reason), Label: string(reason)})
	}
	for _, kind := range selling.ForKinds() {
		p.For = append(p.For, page.Option{Value: kind, Label: forWords[kind]})
	}
	for _, one := range stock.Reservations {
		if !slices.Contains(p.Names, one.Name) {
			p.Names = append(p.Names, one.Name)
		}
	}
	return s.Show(w, r, status, "bars", title, "Sell", notice, p)
}

var forWords = map[string]string{"market": "a market", "order": "an order", "person": "a person", "family": "a family, of its own soap"}

// looseOf are the bars that no product takes, and those that are put by as they are.
func looseOf(stock selling.ReadyStock) (out []product.Availability) {
	for _, pile := range stock.LeftOver() {
		one := product.Availability{OnHand: pile, Shared: pile.Free()}
		for _, b := range pile.Bound {
			if b.Product == "" {
				one.Reserved += b.Bars
			}
		}
		if one.Shared+one.Reserved > 0 {
			out = append(out, one)
		}
	}
	return out
}

// add shows bars of a lot, and what may be done with them.
func (p *barsPage) add(one product.Availability, stock selling.ReadyStock) {
	st := barsOf{Availability: one}
	for _, other := range one.With {
		st.Others = append(st.Others, stock.Name(other))
	}
	slices.Sort(st.Others)
	productOID := p.OID
	if p.Product == nil {
		productOID = ""
	} else {
		st.Labels = "/products/" + p.OID + "/labels?" + url.Values{"pile": {pile{lot: one.Lot, Kind: one.Kind}.value()}}.Encode()
	}
	words := "lot " + one.Code + ", " + one.Kind.Words()
	here := pile{lot: one.Lot, Kind: one.Kind}
	if free := one.Labelled + one.Shared; free > 0 {
		if one.Blocked == "" && one.Ready == "" {
			p.Sell = append(p.Sell, page.Option{Value: here.value(), Label: fmt.Sprintf("%s: %d", words, free)})
		}
		p.Reserve = append(p.Reserve, page.Option{Value: here.value(), Label: fmt.Sprintf("%s: %d", words, free)})
	}
	if one.Labelled > 0 {
		p.Bound = append(p.Bound, page.Option{Value: here.value(), Label: fmt.Sprintf("%s: %d labelled", words, one.Labelled)})
	}
	for _, b := range one.Bound {
		if b.Product != productOID || b.For == "" {
			continue
		}
		for _, res := range stock.Reservations {
			if res.OID != b.For {
				continue
			}
			st.Put = append(st.Put, put{res, b.Bars})
			o := page.Option{Value: pile{one.Lot, one.Kind, b.For}.value(), Label: fmt.Sprintf("%s: %d for %s", words, b.Bars, res.Name)}
			p.Bound = append(p.Bound, o)
			if one.Ready == "" && (one.Blocked == "" || res.Kind == "family") {
				p.Sell = append(p.Sell, o)
			}
		}
	}
	p.Lots = append(p.Lots, st)
}

// barsAct does something with bars of a product.
func (s *Room) barsAct(w http.ResponseWriter, r *http.Request) error {
	oid, act := chi.URLParam(r, "oid"), chi.URLParam(r, "act")
	if act == "print" {
		return s.print(w, r)
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if act != "sell" && act != "reserve" && act != "free" {
		return fmt.Errorf("%s of a product: %w", act, store.ErrNotFound)
	}
	return s.Record(w, r, f, func() (string, error) {
		here, ok := readPile(f.Get("pile"))
		if !ok {
			f.Problems.Add("pile", "choose which bars")
		}
		bars := f.Count("bars")
		productOID := oid
		if oid == loose {
			productOID = ""
		}
		var day string
		if act == "reserve" {
			day = f.Day("for_day")
		}
		taken, err := s.taken(r, f)
		if err != nil {
			return "", err
		}
		if err := f.Problems.Err(); err != nil {
			return "", err
		}
		to := "/products/" + oid + "/bars"
		switch act {
		case "sell":
			return to, s.Shop.Sell(r.Context(), page.Act(r), here.lot, selling.Sale{
				Kind: here.Kind, Product: productOID, For: here.forOID, Reason: ledger.Reason(f.Get("reason")), Bars: bars,
				Channel: f.Get("channel"), Buyer: f.Get("buyer"), Event: f.Get("event"), Note: f.Get("note"),
				Pay: f.Get("pay"), Taken: taken,
			})
		case "reserve":
			return to, s.Shop.Reserve(r.Context(), page.Act(r), here.lot, here.Kind, productOID,
				selling.For{Kind: f.Get("for_kind"), Name: f.Get("for"), Day: day}, bars)
		}
		return to, s.Shop.Free(r.Context(), page.Act(r), here.lot, here.Kind, productOID, here.forOID, bars, f.Get("why"))
	}, func(status int, notice *caution.Caution) error { return s.showBars(w, r, status, oid, act, f, notice) })
}

// taken is what somebody says that bars brought, with the tax and what the channel keeps; nil where nobody says.
func (s *Room) taken(r *http.Request, f *page.Form) (*sale.Taken, error) {
	if f.Get("taken") == "" {
		return nil, nil
	}
	amount, err := cost.ParseMoney(f.Get("taken"), page.SessionOf(r).Currency)
	if err != nil {
		f.Problems.Add("taken", "%s", err.Error())
	}
	rules, err := s.Shop.SaleRules(r.Context())
	out := rules.Of(f.Get("channel"), amount, f.Get("pay"))
	return &out, err
}
