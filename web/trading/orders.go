package trading

import (
	"cmp"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/selling"
	"ashshelf/shop/trading"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/ledger"
	"ashshelf/soap/sale"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/page"
)

// orderRow is an order in the list.
type orderRow struct {
	trading.Order
	At    sale.Stage
	Bars  int // that are ordered
	Owed  int
	With  int // on sale or return
	Names []string
	Late  bool
}

type ordersPage struct {
	Open, Done []orderRow
	More       int
}

// mostDone is how many orders that are done are listed.
const mostDone = 30

func (s *Room) orders(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.SaleOrders(r.Context())
	if err != nil {
		return err
	}
	names, err := s.names(r)
	if err != nil {
		return err
	}
	today := s.Shop.Now(page.SessionOf(r).Location).Format("2006-01-02")
	var p ordersPage
	for _, o := range list {
		row := orderRow{Order: o, At: o.Stage()}
		for i, n := range o.Owed() {
			row.Owed += n
			row.Bars += o.Lines[i].Bars
			row.Names = append(row.Names, fmt.Sprintf("%d %s", o.Lines[i].Bars, names[o.Lines[i].Product]))
		}
		if o.Terms == sale.Return {
			for _, st := range o.Standings() {
				row.With += st.With(o.Terms)
			}
		}
		row.Late = row.Owed > 0 && o.Due < today
		switch {
		case row.At != sale.Done:
			p.Open = append(p.Open, row)
		case len(p.Done) < mostDone:
			p.Done = append(p.Done, row)
		default:
			p.More++
		}
	}
	return s.Show(w, r, http.StatusOK, "sale-orders", "Orders", "Sell", nil, p)
}

// names are what all products are called, by identity.
func (s *Room) names(r *http.Request) (map[string]string, error) {
	list, err := s.Shop.Products(r.Context())
	out := map[string]string{}
	for _, p := range list {
		out[p.OID] = p.Name
	}
	return out, err
}

// orderPage is the editor of an order.
type orderPage struct {
	page.Editor
	Form     *page.Form
	History  []trading.Order
	Buyers   []page.Option
	Products []page.Option
	Terms    []page.Option
	Channels []string
	Rows     []string
}

const moreLines = 3

func (s *Room) orderDocuments() page.Documents[trading.Order] {
	return page.Documents[trading.Order]{
		Kind:    store.Orders,
		History: s.Shop.OrderHistory,
		Number:  func(o trading.Order) int { return o.Number },
		Form:    func(o trading.Order, sys unit.System) *page.Form { return orderForm(o.Order, sys) },
		Fresh: func(r *http.Request) (*page.Form, error) {
			f := orderForm(sale.Order{Terms: sale.Bought, Channel: "shop"}, page.SessionOf(r).System)
			f.Set("lines[0].product", r.URL.Query().Get("product"))
			return f, nil
		},
	}
}

func orderForm(o sale.Order, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	for field, v := range map[string]string{"buyer": o.Buyer, "channel": o.Channel, "due": o.Due, "terms": string(o.Terms), "note": o.Note} {
		f.Set(field, v)
	}
	for i, l := range o.Lines {
		at := fmt.Sprintf("lines[%d].", i)
		f.Set(at+"product", l.Product)
		f.Set(at+"bars", strconv.Itoa(l.Bars))
		f.Set(at+"price", strconv.FormatInt(l.Price, 10)) // in minor units; written as money when it is shown
	}
	page.Tick(f, "closed", o.Closed)
	return f
}

// readOrder reads an order; a bar costs what its product does in the channel where nothing is typed.
func readOrder(f *page.Form, currency string, products []selling.Product) (o sale.Order, who trading.NewBuyer) {
	f.Problems = nil
	o = sale.Order{Buyer: f.Get("buyer"), Channel: f.Get("channel"), Due: f.Day("due"), Terms: sale.Terms(f.Get("terms")), Note: f.Get("note"),
		Closed: f.Get("closed") == "on"}
	who = trading.NewBuyer{Name: f.Get("buyer_name"), Contact: strings.ReplaceAll(f.Get("buyer_contact"), "\r\n", "\n")}
	places := page.Places{}
	for i := range page.Rows(f.Values, "lines") {
		row := fmt.Sprintf("lines[%d].", i)
		if page.Blank(f, row, "product", "bars", "price") {
			continue
		}
		l := sale.Line{Product: f.Get(row + "product"), Bars: f.Count(row + "bars"), Price: money(f, row+"price", currency)}
		if f.Get(row+"price") == "" {
			if n := slices.IndexFunc(products, func(p selling.Product) bool { return p.OID == l.Product }); n >= 0 {
				price, ok := products[n].Price(o.Channel)
				if l.Price = price; !ok {
					f.Problems.Add(row+"price", "it has no price in this channel: type one")
				}
			}
		}
		places.Row("lines", "lines", i, len(o.Lines))
		o.Lines = append(o.Lines, l)
	}
	checked := o
	if checked.Buyer == "" {
		checked.Buyer = "new"
	}
	told(f, checked.Check(), places)
	return o, who
}

func (s *Room) order(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.orderDocuments())
	if err != nil {
		return err
	}
	products, err := s.Shop.Products(r.Context())
	if err != nil {
		return err
	}
	if o.Dirty {
		readOrder(o.Form, page.SessionOf(r).Currency, products)
	} else {
		for i := range page.Rows(o.Form.Values, "lines") {
			moneyIn(o.Form, page.SessionOf(r).Currency, fmt.Sprintf("lines[%d].price", i))
		}
	}
	return s.showOrder(w, r, http.StatusOK, o)
}

func (s *Room) showOrder(w http.ResponseWriter, r *http.Request, status int, o page.Opened[trading.Order]) error {
	p := orderPage{Editor: o.Editor, Form: o.Form, History: o.History, Terms: page.Options(sale.AllTerms()),
		Rows: page.Prefixes(o.Form, "lines", page.Rows(o.Form.Values, "lines")+moreLines)}
	buyers, err := s.Shop.Buyers(r.Context())
	if err != nil {
		return err
	}
	p.Buyers = append(p.Buyers, page.Option{Label: "somebody new"})
	for _, b := range buyers {
		if b.Name != "" || b.Key == o.Form.Get("buyer") {
			p.Buyers = append(p.Buyers, page.Option{Value: b.Key, Label: strings.TrimSpace(b.Name + " " + b.Key)})
		}
	}
	products, err := s.Shop.Products(r.Context())
	if err != nil {
		return err
	}
	p.Products = append(p.Products, page.Option{})
	for _, one := range products {
		if !one.Retired {
			p.Products = append(p.Products, page.Option{Value: one.OID, Label: one.Name})
		}
	}
	if p.Channels, err = s.channels(r); err != nil {
		return err
	}
	title := "A new order"
	if len(o.History) > 0 {
		title = o.History[0].Called()
	}
	return s.Show(w, r, status, "sale-order", title, "Sell", o.Notice, p)
}

func (s *Room) liveOrder(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Orders).Typed)
	if err != nil {
		return err
	}
	products, err := s.Shop.Products(r.Context())
	if err != nil {
		return err
	}
	readOrder(live.Form, page.SessionOf(r).Currency, products)
	return s.Render(w, r, http.StatusOK, "market-live", live)
}

func (s *Room) keepOrder(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	products, err := s.Shop.Products(r.Context())
	if err != nil {
		return err
	}
	order, who := readOrder(f, page.SessionOf(r).Currency, products)
	problems := f.Problems
	o, status, err := page.KeepEdited(s.Kit, w, r, s.orderDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepSaleOrder(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, order, who)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showOrder(w, r, status, o)
}

// tellRow is bars of a lot that were sent, with what can be said of them.
type tellRow struct {
	sale.Bars
	sale.Standing
	Name, Code string
	Out        int // with the buyer
	Wait       int
	Sold       string // fields; empty where nothing can be said
	Back       string
	Judged     []page.Option // field and words of each judgement
}

// fillPage is an order as it is packed and followed.
type fillPage struct {
	trading.Filling
	Form  *page.Form
	Rows  []packRow
	Tells []tellRow
	At    sale.Stage
	Owed  []owed
	Sent  bool
}

// owed is a line with what is still to be sent of it.
type owed struct {
	sale.Line
	Name string
	Left int
}

func (s *Room) filling(w http.ResponseWriter, r *http.Request) error {
	return s.showFilling(w, r, http.StatusOK, &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}, nil)
}

func (s *Room) showFilling(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	o, err := s.Shop.Filling(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := fillPage{Filling: o, Form: f, At: o.Stage(), Sent: len(o.Moves) > 0}
	left := map[string]int{}
	for i, n := range o.Owed() {
		p.Owed = append(p.Owed, owed{o.Lines[i], o.Names[o.Lines[i].Product], n})
		left[o.Lines[i].Product] = n
	}
	p.Rows = rowsOf(f, o.Shelves, func(sh trading.Shelf) int { return left[sh.Product.OID] })
	codes := map[string]string{}
	for _, m := range o.Moves {
		codes[m.Lot] = m.Code
	}
	for bars, st := range o.Standings() {
		row := tellRow{Bars: bars, Standing: st, Name: o.Names[bars.Product], Code: codes[bars.Lot], Out: st.With(o.Terms), Wait: st.Waiting()}
		if row.Out > 0 {
			row.Back = trading.OrderField(sale.Returned, bars)
			if o.Terms == sale.Return {
				row.Sold = trading.OrderField(sale.Sold, bars)
			}
		}
		if row.Wait > 0 {
			for _, j := range sale.Judgements() {
				row.Judged = append(row.Judged, page.Option{Value: trading.OrderField(j, bars), Label: j.Words()})
			}
		}
		p.Tells = append(p.Tells, row)
	}
	slices.SortFunc(p.Tells, func(a, b tellRow) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Code, b.Code)) })
	return s.Show(w, r, status, "order-box", o.Called()+" for "+o.For(), "Sell", notice, p)
}

// Packed is how many bars are in the box.
func (p fillPage) Packed() (n int) {
	for _, b := range p.Box {
		n += b.Bars
	}
	return n
}

// Waits reports whether something came back and was not looked at.
func (p fillPage) Waits() bool {
	return slices.ContainsFunc(p.Tells, func(t tellRow) bool { return t.Wait > 0 })
}

// Out reports whether something is with the buyer.
func (p fillPage) Out() bool {
	return slices.ContainsFunc(p.Tells, func(t tellRow) bool { return t.Out > 0 })
}

func (s *Room) fill(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	list := packed(r, f)
	return s.Record(w, r, f, func() (string, error) {
		return "/orders/" + oid + "/box", s.Shop.PackOrder(r.Context(), page.Act(r), oid, list)
	}, func(status int, notice *caution.Caution) error { return s.showFilling(w, r, status, f, notice) })
}

func (s *Room) send(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	return s.Record(w, r, f, func() (string, error) {
		paper, err := s.Shop.Send(r.Context(), page.Act(r), oid)
		return "/papers/" + paper, err
	}, func(status int, notice *caution.Caution) error { return s.showFilling(w, r, status, f, notice) })
}

// tell reads what became of bars that were sent.
func (s *Room) tell(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	var list []trading.Happened
	for name := range f.Values {
		parts := strings.SplitN(name, "|", 5)
		if len(parts) < 5 || f.Get(name) == "" || parts[0] == "pack" {
			continue
		}
		n := f.Count(name)
		if n == 0 {
			continue
		}
		list = append(list, trading.Happened{What: sale.What(parts[0]), Count: n, Bars: sale.Bars{Product: parts[1], Lot: parts[2],
			Kind: ledger.Kind{Grade: ledger.Grade(parts[3]), Size: parts[4]}}})
	}
	slices.SortFunc(list, func(a, b trading.Happened) int {
		return strings.Compare(trading.OrderField(a.What, a.Bars), trading.OrderField(b.What, b.Bars))
	})
	return s.Record(w, r, f, func() (string, error) {
		paper, err := s.Shop.Tell(r.Context(), page.Act(r), oid, list, f.Get("note"))
		if paper != "" {
			return "/papers/" + paper, err
		}
		return "/orders/" + oid + "/box", err
	}, func(status int, notice *caution.Caution) error { return s.showFilling(w, r, status, f, notice) })
}

// paperPage is a delivery note, an invoice or a credit note.
type paperPage struct {
	trading.Paper
	Who   store.Buyer
	Order string // address of the order
}

func (s *Room) paper(w http.ResponseWriter, r *http.Request) error {
	p, who, err := s.Shop.Paper(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	title := unit.Capital(string(p.Document.Kind)) + " " + p.Called()
	return s.Show(w, r, http.StatusOK, "paper-out", title, "Sell", nil, paperPage{p, who, "/orders/" + p.SaleDocument.Order + "/box"})
}

// buyersPage is who buys, and how long their names are kept.
type buyersPage struct {
	Buyers []store.Buyer
	Forms  map[string]*page.Form
	Rules  sale.Rules
	Blank  int // whose name is blanked
}

func (s *Room) buyers(w http.ResponseWriter, r *http.Request) error {
	return s.showBuyers(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showBuyers(w http.ResponseWriter, r *http.Request, status int, key string, f *page.Form, notice *caution.Caution) error {
	list, err := s.Shop.Buyers(r.Context())
	if err != nil {
		return err
	}
	rules, err := s.Shop.SaleRules(r.Context())
	if err != nil {
		return err
	}
	p := buyersPage{Forms: map[string]*page.Form{}, Rules: rules}
	for _, b := range list {
		if b.Name == "" {
			p.Blank++
			continue
		}
		form := &page.Form{Values: url.Values{"buyer_name": {b.Name}, "buyer_contact": {b.Contact}}, System: page.SessionOf(r).System}
		if b.Key == key && f != nil {
			form = f
		}
		p.Buyers, p.Forms[b.Key] = append(p.Buyers, b), form
	}
	return s.Show(w, r, status, "buyers", "Who buys", "Sell", notice, p)
}

func (s *Room) nameBuyer(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	key := chi.URLParam(r, "key")
	return s.Record(w, r, f, func() (string, error) {
		return "/buyers", s.Shop.NameBuyer(r.Context(), page.Act(r), key,
			trading.NewBuyer{Name: f.Get("buyer_name"), Contact: strings.ReplaceAll(f.Get("buyer_contact"), "\r\n", "\n")})
	}, func(status int, notice *caution.Caution) error { return s.showBuyers(w, r, status, key, f, notice) })
}

func (s *Room) blankBuyer(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	key := chi.URLParam(r, "key")
	return s.Record(w, r, f, func() (string, error) {
		return "/buyers", s.Shop.Blank(r.Context(), page.Act(r), key, f.Get("why"))
	}, func(status int, notice *caution.Caution) error { return s.showBuyers(w, r, status, key, f, notice) })
}

// rulesPage is how the shop sells.
type rulesPage struct {
	Form     *page.Form
	Rows     []string
	Channels []string
}

const moreChannels = 2

func (s *Room) rules(w http.ResponseWriter, r *http.Request) error {
	rules, err := s.Shop.SaleRules(r.Context())
	if err != nil {
		return err
	}
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	f.Set("tax", unit.Trim(rules.Tax, 3))
	f.Set("keep_names", strconv.Itoa(rules.KeepNames))
	f.Set("pots_per_day", strconv.Itoa(rules.PotsPerDay))
	f.Set("margin", strconv.Itoa(rules.Margin))
	f.Set("terms", rules.Terms)
	for i, c := range rules.Channels {
		at := fmt.Sprintf("channels[%d].", i)
		f.Set(at+"name", c.Name)
		f.Set(at+"percent", unit.Trim(c.Percent, 3))
		f.Set(at+"each", cost.Format(c.Each, page.SessionOf(r).Currency))
	}
	return s.showRules(w, r, http.StatusOK, f, nil)
}

func (s *Room) showRules(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := rulesPage{Form: f, Rows: page.Prefixes(f, "channels", page.Rows(f.Values, "channels")+moreChannels)}
	var err error
	if p.Channels, err = s.channels(r); err != nil {
		return err
	}
	return s.Show(w, r, status, "selling-rules", "How the shop sells", "Sell", notice, p)
}

func (s *Room) keepRules(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	currency := page.SessionOf(r).Currency
	rules := sale.Rules{Tax: page.IfTyped(f, "tax", f.Number, 0), KeepNames: page.IfTyped(f, "keep_names", f.Count, 0),
		PotsPerDay: f.Count("pots_per_day"), Margin: f.Count("margin"), Terms: strings.ReplaceAll(f.Get("terms"), "\r\n", "\n")}
	places := page.Places{}
	for i := range page.Rows(f.Values, "channels") {
		row := fmt.Sprintf("channels[%d].", i)
		if page.Blank(f, row, "name", "percent", "each") {
			continue
		}
		places.Row("channels", "channels", i, len(rules.Channels))
		rules.Channels = append(rules.Channels, sale.Channel{Name: f.Get(row + "name"), Percent: page.IfTyped(f, row+"percent", f.Number, 0),
			Each: money(f, row+"each", currency)})
	}
	told(f, rules.Check(), places)
	return s.Record(w, r, f, func() (string, error) {
		return "/selling", s.Shop.KeepSaleRules(r.Context(), page.Act(r), rules)
	}, func(status int, notice *caution.Caution) error { return s.showRules(w, r, status, f, notice) })
}
