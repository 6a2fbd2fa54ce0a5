package stores

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/ledger"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/page"
)

// openingPage takes over what was there when the books began, and shows the bars that were.
type openingPage struct {
	Lots    []inventory.Opening
	Form    *page.Form // of bars that are typed
	At      string     // whose form Moved is
	Moved   *page.Form
	Blank   *page.Form // of the others
	Reasons []page.Option
	Columns []string
	List    *listPreview
}

// listPreview shows what each row of a list will become.
type listPreview struct {
	Text  string // as it was sent
	Form  *page.Form
	Rows  []listRow
	Good  int
	Bad   int
	Note  bool // it is a delivery note, and nothing was there before
	Error string
}

type listRow struct {
	Line    int
	Becomes string
	Wrong   []string
	bars    *inventory.Opening
	stock   *inventory.Receipt
}

func (s *Room) opening(w http.ResponseWriter, r *http.Request) error {
	return s.showOpening(w, r, http.StatusOK, openingPage{}, nil)
}

func (s *Room) showOpening(w http.ResponseWriter, r *http.Request, status int, p openingPage, notice *caution.Caution) error {
	var err error
	if p.Lots, err = s.Shop.Openings(r.Context(), ""); err != nil {
		return err
	}
	empty := func() *page.Form { return &page.Form{Values: url.Values{}, System: page.SessionOf(r).System} }
	if p.Form == nil {
		p.Form = empty()
	}
	p.Blank = empty()
	if p.Moved == nil {
		p.Moved = empty()
	}
	p.Reasons, p.Columns = page.Words([]string{
		string(ledger.Sold), string(ledger.Gift), string(ledger.TestUse), string(ledger.Spoiled), string(ledger.Returned), string(ledger.Recount),
	}), exchange.Columns()
	return s.Show(w, r, status, "opening-stock", "What was there before", "Stores", notice, p)
}

func barsIn(r *http.Request, f *page.Form) inventory.Opening {
	o := inventory.Opening{
		Code: f.Get("code"), Name: f.Get("name"), Made: f.Day("made"), Ready: f.Day("ready"), Cost: moneyIn(r, f, "goods"), Note: f.Get("note"),
	}
	if f.Get("bars") != "" {
		o.Bars = f.Count("bars")
	}
	return o
}

func (s *Room) takeOver(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	o := barsIn(r, f)
	return s.Record(w, r, f, func() (string, error) {
		return "/stores/opening", s.Shop.TakeOverStock(r.Context(), page.Act(r), []inventory.Opening{o}, nil)
	}, func(status int, notice *caution.Caution) error {
		return s.showOpening(w, r, status, openingPage{Form: f}, notice)
	})
}

// onOpening releases bars that were taken over, or moves them.
func (s *Room) onOpening(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid, act := chi.URLParam(r, "oid"), chi.URLParam(r, "act")
	var do func() error
	switch act {
	case "release":
		do = func() error { return s.Shop.ReleaseOpening(r.Context(), page.Act(r), oid, f.Get("word")) }
	case "move":
		n := f.Count("count")
		do = func() error {
			return s.Shop.MoveOpening(r.Context(), page.Act(r), oid, ledger.Reason(f.Get("reason")), n, f.Get("note"))
		}
	default:
		return store.ErrNotFound
	}
	signed, unsigned := s.Sign(r, "/stores/opening/{oid}/{act}")
	return s.Record(w, r, f, func() (string, error) {
		if unsigned != nil {
			return "", unsigned
		}
		r = signed
		return "/stores/opening", do()
	}, func(status int, notice *caution.Caution) error {
		return s.showOpening(w, r, status, openingPage{Moved: f, At: oid}, notice)
	})
}

// takeOverFile previews a list, and takes it over once somebody has seen what each row becomes.
func (s *Room) takeOverFile(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	text := f.Values.Get("list")
	if file, _, err := r.FormFile("file"); err == nil {
		defer file.Close()
		body, err := io.ReadAll(io.LimitReader(file, 2<<20))
		if err != nil {
			return err
		}
		text = string(body)
	} else if !errors.Is(err, http.ErrMissingFile) && !errors.Is(err, http.ErrNotMultipart) {
		return err
	}
	note := f.Get("as") == "note"
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	list := s.previewOf(r, room, text, note)
	list.Form = f
	if r.PostFormValue("do") != "take" || list.Error != "" || list.Good == 0 || list.Bad > 0 && f.Get("without") != "on" {
		if r.PostFormValue("do") == "take" && list.Bad > 0 {
			f.Problems.Add("without", "%d rows were not understood: mend them, or tick that they are left out", list.Bad)
		}
		return s.showOpening(w, r, http.StatusOK, openingPage{List: &list}, nil)
	}
	var bars []inventory.Opening
	var stock []inventory.Receipt
	for _, row := range list.Rows {
		switch {
		case len(row.Wrong) > 0:
		case row.bars != nil:
			bars = append(bars, *row.bars)
		default:
			stock = append(stock, *row.stock)
		}
	}
	return s.Record(w, r, f, func() (string, error) {
		if !note {
			return "/stores/opening", s.Shop.TakeOverStock(r.Context(), page.Act(r), bars, stock)
		}
		_, err := s.Shop.Receive(r.Context(), page.Act(r), "", stock)
		return "/stores", err
	}, func(status int, notice *caution.Caution) error {
		return s.showOpening(w, r, status, openingPage{List: &list}, notice)
	})
}

// previewOf reads a list row by row as if each were typed.
func (s *Room) previewOf(r *http.Request, room supply.Storeroom, text string, note bool) listPreview {
	out := listPreview{Text: text, Note: note}
	rows, err := exchange.ReadList([]byte(text))
	if err != nil {
		out.Error = page.Capital(err.Error())
		return out
	}
	if len(rows) == 0 {
		out.Error = "Below the names of the columns the list has no rows."
	}
	seen := map[string]int{}
	for _, row := range rows {
		one := s.rowOf(r.Context(), r, room, row, note)
		if o := one.bars; o != nil && len(one.Wrong) == 0 {
			if before, twice := seen[strings.ToLower(o.Code)]; twice {
				one.Wrong = append(one.Wrong, fmt.Sprintf("the code stands on row %d already", before))
			}
			seen[strings.ToLower(o.Code)] = row.Line
		}
		if len(one.Wrong) > 0 {
			out.Bad++
		} else {
			out.Good++
		}
		out.Rows = append(out.Rows, one)
	}
	return out
}

func (s *Room) rowOf(ctx context.Context, r *http.Request, room supply.Storeroom, row exchange.ListRow, note bool) (out listRow) {
	out.Line = row.Line
	session := page.SessionOf(r)
	f := &page.Form{Values: url.Values{}, System: session.System}
	for name, cell := range row.Cells {
		f.Set(name, cell)
	}
	if f.Get("bars") != "" {
		if note {
			out.Wrong = append(out.Wrong, "bars are taken over, they do not come with a delivery")
			return out
		}
		o := barsIn(r, f)
		f.Problems = append(f.Problems, o.Check()...)
		if have, err := s.Shop.Openings(ctx, o.Code); err == nil && len(have) > 0 && o.Code != "" {
			f.Problems.Add("code", "%s was taken over already", o.Code)
		}
		out.bars = &o
		out.Becomes = fmt.Sprintf("%s %s, code %s", page.Plural(o.Bars, "bar"), o.Name, o.Code)
	} else {
		in := s.stockRow(r, f, room)
		in.Opening = !note
		out.stock = &in
		out.Becomes = page.AmountWords(in.Amount, in.Unit, session.System) + " of " + in.Name
		if from := strings.TrimSpace(in.Supplier + " " + in.Code); from != "" {
			out.Becomes += ", " + from
		}
		if in.Goods == nil {
			out.Becomes += ", price not known"
		}
		if in.Supplier+in.Code == "" {
			f.Problems.Add("supplier", "name the supplier, or the code on the container")
		}
	}
	for _, p := range f.Problems {
		out.Wrong = append(out.Wrong, p.Text)
	}
	return out
}

// stockRow reads a row of materials.
func (s *Room) stockRow(r *http.Request, f *page.Form, room supply.Storeroom) inventory.Receipt {
	name := f.Get("name")
	l, unknown := byName(room, name)
	m := l.Material.Material
	switch kind := inventory.Kind(strings.ToLower(f.Get("kind"))); {
	case name == "":
		f.Problems.Add("name", "the row does not say what it is")
	case unknown != nil && kind == "":
		f.Problems.Add("name", "“%s” is not in the catalogue: say in a column “kind” what it is (%s)", name, kindNames())
	case unknown != nil && kind.Words() == "":
		f.Problems.Add("kind", "“%s” is no kind: it is one of %s", f.Get("kind"), kindNames())
	case unknown != nil:
		m = inventory.Material{Key: inventory.NewKey(kind, name), Name: name, Kind: kind, Unit: inventory.Milligrams}
		if kind == inventory.Packaging || kind == inventory.Tool {
			m.Unit = inventory.Pieces
		}
	}
	return receiptIn(r, f, "", m)
}

func kindNames() string {
	var words []string
	for _, k := range inventory.Kinds() {
		words = append(words, string(k))
	}
	return strings.Join(words, ", ")
}

func gramsOrEmpty(mg int64) string {
	if mg == 0 {
		return ""
	}
	return unit.Trim(inventory.Grams(mg), 3)
}

func countOrEmpty(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// files of the store.

func (s *Room) asFile(w http.ResponseWriter, r *http.Request, name, kind string, write func(io.Writer, exchange.Stores) error) error {
	out := exchange.Stores{Currency: page.SessionOf(r).Currency}
	materials, err := s.Shop.Materials(r.Context())
	if err != nil {
		return err
	}
	for _, m := range materials {
		out.Materials = append(out.Materials, m.Material)
	}
	if out.Deliveries, err = s.Shop.AllDeliveries(r.Context()); err != nil {
		return err
	}
	return s.Download(w, r, name, kind, func(to io.Writer) error { return write(to, out) })
}

func (s *Room) storesJSON(w http.ResponseWriter, r *http.Request) error {
	return s.asFile(w, r, "stores.json", "application/json", exchange.WriteStores)
}

func (s *Room) materialsCSV(w http.ResponseWriter, r *http.Request) error {
	return s.asFile(w, r, "materials.csv", "text/csv; charset=utf-8", exchange.WriteMaterials)
}

func (s *Room) deliveriesCSV(w http.ResponseWriter, r *http.Request) error {
	return s.asFile(w, r, "deliveries.csv", "text/csv; charset=utf-8", exchange.WriteDeliveries)
}

func (s *Room) movesCSV(w http.ResponseWriter, r *http.Request) error {
	return s.asFile(w, r, "movements.csv", "text/csv; charset=utf-8", exchange.WriteMoves)
}
