package trading

import (
	"cmp"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/selling"
	"ashshelf/shop/trading"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/market"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// marketRow is a market in the list.
type marketRow struct {
	trading.Market
	Passed bool // its day is over, and it is not counted back
	Today  bool
	Sold   int
	Taken  int64
	Gone   []string // names of what was sold out
}

type marketsPage struct {
	Coming, Held []marketRow
	More         int // that are not shown
}

// mostHeld is how many markets that were counted back are listed.
const mostHeld = 30

func (s *Room) markets(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Markets(r.Context())
	if err != nil {
		return err
	}
	today := s.Shop.Now(page.SessionOf(r).Location).Format(time.DateOnly)
	var p marketsPage
	for _, m := range list {
		row := marketRow{Market: m, Passed: m.On < today, Today: m.On == today}
		if m.Home == nil {
			if !m.Off {
				p.Coming = append(p.Coming, row)
			}
			continue
		}
		if len(p.Held) == mostHeld {
			p.More++
			continue
		}
		for _, o := range m.Home.Outcomes {
			row.Sold += o.Sold
			row.Taken += o.Amount
			if o.Gone != "" {
				row.Gone = append(row.Gone, o.Name+" at "+o.Gone)
			}
		}
		p.Held = append(p.Held, row)
	}
	slices.Reverse(p.Coming) // the next one first
	return s.Show(w, r, http.StatusOK, "markets", "Markets", "Sell", nil, p)
}

// marketPage is the editor of a market.
type marketPage struct {
	page.Editor
	Form     *page.Form
	History  []trading.Market
	Products []selling.Product
	Channels []string
	Counted  bool
}

// Want is the field of how many bars of a product are brought.
func (marketPage) Want(oid string) string { return "want." + oid }

func (s *Room) marketDocuments() page.Documents[trading.Market] {
	return page.Documents[trading.Market]{
		Kind:    store.Markets,
		History: s.Shop.MarketHistory,
		Number:  func(m trading.Market) int { return m.Number },
		Form:    func(m trading.Market, sys unit.System) *page.Form { return marketForm(m.Name, m.Market, sys) },
		Fresh: func(r *http.Request) (*page.Form, error) {
			m := market.Market{Opens: "09:00", Closes: "15:00", Channel: "market", Bring: []string{
				"scales, checked", "float and card reader", "bags and bands", "water and a towel for hands", "cards with what is in each bar",
			}}
			return marketForm(r.URL.Query().Get("name"), m, page.SessionOf(r).System), nil
		},
	}
}

func marketForm(name string, m market.Market, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	for field, v := range map[string]string{
		"name": name, "on": m.On, "opens": m.Opens, "closes": m.Closes, "place": m.Place, "channel": m.Channel,
		"bring": strings.Join(m.Bring, "\n"), "note": m.Note,
	} {
		f.Set(field, v)
	}
	for field, v := range map[string]int64{"fee": m.Fee, "float": m.Float, "deal_amount": m.Deal.Amount} {
		if v > 0 {
			f.Set(field, strconv.FormatInt(v, 10)) // in minor units; written as money when it is shown
		}
	}
	if m.Deal.Bars > 0 {
		f.Set("deal_bars", strconv.Itoa(m.Deal.Bars))
	}
	for _, one := range m.Wants {
		f.Set("want."+one.Product, strconv.Itoa(one.Bars))
	}
	page.Tick(f, "off", m.Off)
	return f
}

func readMarket(f *page.Form, currency string) (name string, m market.Market, again trading.Again) {
	f.Problems = nil
	m = market.Market{
		On: f.Day("on"), Opens: hour(f, "opens"), Closes: hour(f, "closes"), Place: f.Get("place"), Channel: f.Get("channel"),
		Fee: money(f, "fee", currency), Float: money(f, "float", currency),
		Deal: market.Deal{Bars: page.IfTyped(f, "deal_bars", f.Count, 0), Amount: money(f, "deal_amount", currency)},
		Note: f.Get("note"), Off: f.Get("off") == "on",
	}
	for line := range strings.Lines(strings.ReplaceAll(f.Get("bring"), "\r\n", "\n")) {
		if line = strings.TrimSpace(line); line != "" {
			m.Bring = append(m.Bring, line)
		}
	}
	for field := range f.Values {
		if oid, is := strings.CutPrefix(field, "want."); is && f.Get(field) != "" {
			m.Wants = append(m.Wants, market.Want{Product: oid, Bars: f.Count(field)})
		}
	}
	slices.SortFunc(m.Wants, func(a, b market.Want) int { return strings.Compare(a.Product, b.Product) })
	again = trading.Again{Times: page.IfTyped(f, "times", f.Count, 0), Days: page.IfTyped(f, "every", f.Count, 0)}
	found := m.Check()
	for i, one := range found {
		for n, want := range m.Wants {
			if one.Path == fmt.Sprintf("wants[%d]", n) {
				found[i].Path = "want." + want.Product
			}
		}
	}
	told(f, found, nil)
	return f.Get("name"), m, again
}

// hour reads an hour of the day; what cannot be read stays as it was typed, and is told.
func hour(f *page.Form, field string) string {
	text := f.Get(field)
	for _, layout := range []string{"15:04", "15.04", "15"} {
		if t, err := time.Parse(layout, text); err == nil {
			return t.Format("15:04")
		}
	}
	return text
}

func (s *Room) market(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.marketDocuments())
	if err != nil {
		return err
	}
	if !o.Dirty {
		moneyIn(o.Form, page.SessionOf(r).Currency, "fee", "float", "deal_amount")
	} else {
		readMarket(o.Form, page.SessionOf(r).Currency)
	}
	return s.showMarket(w, r, http.StatusOK, o)
}

// moneyIn writes amounts of a form that was made from a record as money.
func moneyIn(f *page.Form, currency string, fields ...string) {
	for _, field := range fields {
		if n, err := strconv.ParseInt(f.Get(field), 10, 64); err == nil {
			f.Set(field, cost.Format(n, currency))
		}
	}
}

func (s *Room) showMarket(w http.ResponseWriter, r *http.Request, status int, o page.Opened[trading.Market]) error {
	p := marketPage{Editor: o.Editor, Form: o.Form, History: o.History}
	var err error
	if p.Products, err = s.Shop.Products(r.Context()); err != nil {
		return err
	}
	p.Products = slices.DeleteFunc(p.Products, func(one selling.Product) bool { return one.Retired })
	if p.Channels, err = s.channels(r); err != nil {
		return err
	}
	p.Counted = len(o.History) > 0 && o.History[0].Home != nil
	return s.Show(w, r, status, "market", cmp.Or(o.Form.Get("name"), "A market"), "Sell", o.Notice, p)
}

func (s *Room) liveMarket(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Markets).Typed)
	if err != nil {
		return err
	}
	readMarket(live.Form, page.SessionOf(r).Currency)
	return s.Render(w, r, http.StatusOK, "market-live", live)
}

func (s *Room) keepMarket(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	name, m, again := readMarket(f, page.SessionOf(r).Currency)
	problems := f.Problems
	o, status, err := page.KeepEdited(s.Kit, w, r, s.marketDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepMarket(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, name, m, again)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showMarket(w, r, status, o)
}

// packPage is a market as it is packed.
type packPage struct {
	trading.Packing
	Form *page.Form
	Rows []packRow
	Open bool // it can still be packed
}

func (s *Room) packing(w http.ResponseWriter, r *http.Request) error {
	return s.showPacking(w, r, http.StatusOK, &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}, nil)
}

func (s *Room) showPacking(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	m, err := s.Shop.Packing(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := packPage{Packing: m, Form: f, Open: m.Home == nil}
	p.Rows = rowsOf(f, m.Shelves, func(sh trading.Shelf) int { return sh.Proposal.Bars })
	for i := range p.Rows {
		row := &p.Rows[i]
		row.Short = max(0, row.Proposal.Wanted-row.Ready)
	}
	return s.Show(w, r, status, "market-pack", "Pack for "+m.Name, "Sell", notice, p)
}

func (s *Room) pack(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	list := packed(r, f)
	return s.Record(w, r, f, func() (string, error) {
		return "/markets/" + oid + "/pack", s.Shop.Pack(r.Context(), page.Act(r), oid, list)
	}, func(status int, notice *caution.Caution) error { return s.showPacking(w, r, status, f, notice) })
}

// tile is a product at the stall.
type tile struct {
	OID, Name string
	Price     int64
	Packed    int
}

// stallPage is the till of a market.
type stallPage struct {
	trading.Packing
	Tiles  []tile
	Till   string // what it said so far, as the script reads it
	Digits int
	Form   *page.Form
	Of     []page.Option
	Pays   []page.Option
}

// tillWord is a word of the till as the script writes and reads it.
type tillWord struct {
	Key    string         `json:"key"`
	What   string         `json:"what"`
	At     int64          `json:"at"` // ms
	Pay    string         `json:"pay,omitempty"`
	Amount int64          `json:"amount,omitempty"`
	Lines  map[string]int `json:"lines,omitempty"`
	Of     string         `json:"of,omitempty"`
}

func (s *Room) stall(w http.ResponseWriter, r *http.Request) error {
	return s.showStall(w, r, http.StatusOK, &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}, nil)
}

func (s *Room) showStall(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	m, err := s.Shop.Packing(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := stallPage{Packing: m, Form: f, Digits: cost.Digits(page.SessionOf(r).Currency)}
	for _, sh := range m.Shelves {
		if sh.In > 0 && sh.Priced {
			p.Tiles = append(p.Tiles, tile{sh.Product.OID, sh.Product.Name, sh.Price, sh.In})
		}
		if sh.Priced || sh.In > 0 {
			p.Of = append(p.Of, page.Option{Value: sh.Product.OID, Label: sh.Product.Name})
		}
	}
	for _, pay := range market.Pays() {
		p.Pays = append(p.Pays, page.Option{Value: string(pay), Label: string(pay)})
	}
	words := []tillWord{}
	for _, one := range m.Till.Sales {
		word := tillWord{Key: one.Key, What: "sold", At: one.At.UnixMilli(), Pay: string(one.Pay), Amount: one.Amount, Lines: map[string]int{}}
		for _, l := range one.Lines {
			word.Lines[l.Product] += l.Bars
		}
		words = append(words, word)
		if one.Undone {
			words = append(words, tillWord{Key: "undone " + one.Key, What: "undone", At: one.At.UnixMilli(), Of: one.Key})
		}
	}
	for i, one := range m.Till.Asked {
		words = append(words, tillWord{Key: "asked " + strconv.Itoa(i), What: "asked", At: one.At.UnixMilli(), Of: one.Product})
	}
	text, err := json.Marshal(words)
	if err != nil {
		return err
	}
	p.Till = string(text)
	return s.Show(w, r, status, "stall", m.Name, "Stall", notice, p)
}

// Unpriced are products in the box that have no price at this market.
func (p stallPage) Unpriced() (out []string) {
	for _, sh := range p.Shelves {
		if sh.In > 0 && !sh.Priced {
			out = append(out, sh.Product.Name)
		}
	}
	return out
}

// ring writes down what the till says: of the script, or of the form by hand.
func (s *Room) ring(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	rung := trading.Rung{Key: r.PostFormValue("key"), What: cmp.Or(f.Get("what"), "sold"), At: s.Shop.Clock(), Of: f.Get("of")}
	if text := r.Header.Get(page.HeldHeader); text != "" { // counted back from now, so that a telephone's clock may be wrong
		ms, err := strconv.ParseInt(text, 10, 64)
		if err != nil || ms < 0 {
			f.Problems.Add("till", "how long it was kept cannot be read")
		}
		rung.At = rung.At.Add(-time.Duration(ms) * time.Millisecond)
	}
	if rung.What == "sold" {
		rung.Sale, err = s.sale(r, f, oid)
		if err != nil {
			return err
		}
	}
	do := func() error { return s.Shop.Ring(r.Context(), page.Act(r), oid, rung) }
	to := "/markets/" + oid + "/stall"
	if r.Header.Get(page.OutboxHeader) != "" {
		if err := f.Problems.Err(); err != nil {
			return err
		}
		if err := do(); err != nil {
			return err
		}
		return page.Recorded(w, r, to)
	}
	return s.Record(w, r, f, func() (string, error) { return to, do() },
		func(status int, notice *caution.Caution) error { return s.showStall(w, r, status, f, notice) })
}

// sale reads what was sold: each line as product:bars, with what was paid; by hand one product, for its price where nothing is
// typed.
func (s *Room) sale(r *http.Request, f *page.Form, oid string) (out market.Sale, err error) {
	out.Pay = market.Pay(f.Get("pay"))
	if by := f.Get("product"); by != "" {
		bars := f.Count("bars")
		out.Lines = []market.Line{{Product: by, Bars: bars}}
		out.Amount = money(f, "amount", page.SessionOf(r).Currency)
		if f.Get("amount") == "" {
			m, err := s.Shop.Packing(r.Context(), oid)
			if err != nil {
				return out, err
			}
			out.Amount = m.Price(by) * int64(bars)
		}
		return out, nil
	}
	if out.Amount, err = strconv.ParseInt(f.Get("amount"), 10, 64); err != nil {
		f.Problems.Add("till", "what was paid cannot be read")
	}
	for _, line := range f.Values["line"] {
		product, count, _ := strings.Cut(line, ":")
		bars, err := strconv.Atoi(count)
		if err != nil {
			f.Problems.Add("till", "a line of the sale cannot be read")
		}
		out.Lines = append(out.Lines, market.Line{Product: product, Bars: bars})
	}
	return out, nil
}

// homeRow is bars of a lot as they are counted back.
type homeRow struct {
	market.Counted
	Name                       string
	LeftAt, GivenAt, SpoiledAt string // fields
}

// outcome is how a product did, drawn.
type outcome struct {
	market.Outcome
	Drawn draw.Picture
}

// homePage is a market as it is counted back, or was.
type homePage struct {
	trading.Counting
	Form     *page.Form
	Rows     []homeRow
	Beyond   []string
	Weathers []page.Option
	Outcomes []outcome
	Off      int64
	Recall   []recallRow // of a market that nothing was packed for
}

// recallRow is a product with the fields of what is remembered of it.
type recallRow struct {
	OID, Name          string
	Packed, Sold, Gone string // fields
}

func recallRowOf(p selling.Product) recallRow {
	return recallRow{p.OID, p.Name, trading.RecalledField(p.OID, "packed"), trading.RecalledField(p.OID, "sold"),
		trading.RecalledField(p.OID, "gone")}
}

func (s *Room) home(w http.ResponseWriter, r *http.Request) error {
	return s.showHome(w, r, http.StatusOK, nil, nil)
}

func (s *Room) showHome(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	c, err := s.Shop.Counting(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := homePage{Counting: c, Form: f}
	currency := page.SessionOf(r).Currency
	if f == nil {
		p.Form = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
		p.Form.Set("float", cost.Format(c.Float, currency))
	}
	for _, l := range c.Lines {
		row := homeRow{Counted: l, Name: c.NameOf(l.Product), LeftAt: trading.HomeField("left", l.Boxed),
			GivenAt: trading.HomeField("given", l.Boxed), SpoiledAt: trading.HomeField("spoiled", l.Boxed)}
		if f == nil {
			p.Form.Set(row.LeftAt, strconv.Itoa(l.Left))
		}
		p.Rows = append(p.Rows, row)
	}
	for oid, n := range c.Beyond {
		p.Beyond = append(p.Beyond, fmt.Sprintf("%d more %s than were packed", n, cmp.Or(c.NameOf(oid), "of something")))
	}
	slices.Sort(p.Beyond)
	p.Weathers = append(p.Weathers, page.Option{Label: "not noted"})
	for _, word := range market.Weathers() {
		p.Weathers = append(p.Weathers, page.Option{Value: word, Label: word})
	}
	if c.Home != nil {
		p.Off = c.Home.Balance.Off()
		for _, o := range c.Home.Outcomes {
			p.Outcomes = append(p.Outcomes, outcome{o, draw.OfOutcome(o)})
		}
	}
	if c.Home == nil && len(c.Lines) == 0 && len(c.Till.Sales) == 0 {
		products, err := s.Shop.Products(r.Context())
		if err != nil {
			return err
		}
		for _, one := range products {
			p.Recall = append(p.Recall, recallRowOf(one))
		}
	}
	title := "Home from " + c.Name
	return s.Show(w, r, status, "market-home", title, "Sell", notice, p)
}

func (s *Room) countBack(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	c, err := s.Shop.Counting(r.Context(), oid)
	if err != nil {
		return err
	}
	currency := page.SessionOf(r).Currency
	h := market.Home{Lines: c.Lines, Weather: f.Get("weather"), Note: f.Get("note")}
	for i := range h.Lines {
		l := &h.Lines[i]
		l.Left = f.Count(trading.HomeField("left", l.Boxed))
		l.Given = page.IfTyped(f, trading.HomeField("given", l.Boxed), f.Count, 0)
		l.Spoiled = page.IfTyped(f, trading.HomeField("spoiled", l.Boxed), f.Count, 0)
	}
	h.Float = money(f, "float", currency)
	if r.PostFormValue("do") == "remember" {
		return s.remember(w, r, f, oid, h)
	}
	for field, to := range map[string]*int64{"cash": &h.Cash, "card": &h.Card} {
		if f.Get(field) == "" {
			f.Problems.Add(field, "count it, and type what it comes to; 0 for nothing")
			continue
		}
		*to = money(f, field, currency)
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/markets/" + oid + "/home", s.Shop.CountBack(r.Context(), page.Act(r), oid, h)
	}, func(status int, notice *caution.Caution) error { return s.showHome(w, r, status, f, notice) })
}

// remember closes a market by what a binder says of it.
func (s *Room) remember(w http.ResponseWriter, r *http.Request, f *page.Form, oid string, h market.Home) error {
	currency := page.SessionOf(r).Currency
	h.Cash, h.Card = money(f, "cash", currency), money(f, "card", currency)
	products, err := s.Shop.Products(r.Context())
	if err != nil {
		return err
	}
	var list []market.Recalled
	for _, p := range products {
		row := recallRowOf(p)
		if page.Blank(f, "", row.Packed, row.Sold, row.Gone) {
			continue
		}
		list = append(list, market.Recalled{Product: p.OID, Packed: f.Count(row.Packed), Sold: f.Count(row.Sold), Gone: hour(f, row.Gone)})
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/markets/" + oid + "/home", s.Shop.Remember(r.Context(), page.Act(r), oid, list, h)
	}, func(status int, notice *caution.Caution) error { return s.showHome(w, r, status, f, notice) })
}
