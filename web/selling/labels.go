package selling

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/selling"
	"ashshelf/soap/caution"
	"ashshelf/soap/label"
	"ashshelf/soap/plan"
	"ashshelf/soap/tag"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// labelsPage is the label of a product on bars of a lot, before it is printed.
type labelsPage struct {
	Form    *page.Form
	OID     string
	Name    string
	Piles   []page.Option
	Sheets  []page.Option
	Tag     selling.Tag
	Drawn   draw.Picture
	Made    bool // there is a label to show
	Refused []caution.Problem
}

func (s *Room) labels(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	return s.showLabels(w, r, http.StatusOK, f, nil)
}

func (s *Room) showLabels(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	oid := chi.URLParam(r, "oid")
	history, err := s.Shop.ProductHistory(r.Context(), oid)
	if err != nil {
		return err
	}
	stock, err := s.Shop.ReadyStock(r.Context())
	if err != nil {
		return err
	}
	sheets, err := s.Shop.Sheets(r.Context())
	if err != nil {
		return err
	}
	p := labelsPage{Form: f, OID: oid, Name: history[0].Name}
	for _, one := range stock.Available[oid] {
		p.Piles = append(p.Piles, page.Option{
			Value: pile{lot: one.Lot, Kind: one.Kind}.value(),
			Label: fmt.Sprintf("lot %s, %s: %d without a label", one.Code, one.Kind.Words(), one.Shared),
		})
	}
	for _, one := range sheets {
		p.Sheets = append(p.Sheets, page.Option{Value: one.OID, Label: fmt.Sprintf("%s, %s by %s mm, %d on a sheet", one.Name,
			unit.Trim(one.W, 1), unit.Trim(one.H, 1), one.Count())})
	}
	if f.Get("pile") == "" && len(p.Piles) > 0 {
		f.Set("pile", p.Piles[0].Value)
	}
	if f.Get("sheet") == "" && len(p.Sheets) > 0 {
		f.Set("sheet", p.Sheets[0].Value)
	}
	if here, ok := readPile(f.Get("pile")); ok && f.Get("sheet") != "" {
		if p.Tag, err = s.Shop.Tag(r.Context(), selling.Of{Product: oid, Lot: here.lot, Kind: here.Kind, Sheet: f.Get("sheet")}); err != nil {
			return err
		}
		p.Made, p.Refused = true, p.Tag.Refused
		p.Drawn = draw.OfTag(p.Tag.Printed.Lines, p.Tag.Sheet.W, p.Tag.Sheet.H, "the label, at its size")
		if !f.Values.Has("bars") {
			f.Set("bars", strconv.Itoa(p.Tag.Bars))
			f.Set("labels", strconv.Itoa(max(1, p.Tag.Bars)))
		}
	}
	return s.Show(w, r, status, "labels", "Labels for "+p.Name, "Sell", notice, p)
}

// print records a run of labels and leads to it.
func (s *Room) print(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		here, ok := readPile(f.Get("pile"))
		if !ok {
			f.Problems.Add("lot", "choose which bars")
		}
		bars, labels := f.Count("bars"), f.Count("labels")
		if err := f.Problems.Err(); err != nil {
			return "", err
		}
		run, err := s.Shop.Print(r.Context(), page.Act(r), selling.Of{Product: oid, Lot: here.lot, Kind: here.Kind, Sheet: f.Get("sheet")},
			bars, labels)
		return "/labels/" + run, err
	}, func(status int, notice *caution.Caution) error { return s.showLabels(w, r, status, f, notice) })
}

// runPage is a run of labels as it goes to the printer.
type runPage struct {
	selling.Run
	Form   *page.Form
	First  int // place on the first sheet from which it is printed, from 1
	Sheets []draw.Picture
}

func (s *Room) run(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	runs, err := s.Shop.Runs(r.Context(), "", oid, 1)
	if err != nil {
		return err
	}
	p := runPage{Run: runs[0], Form: &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}, First: 1}
	sheet := tag.Sheet{PageW: p.Printed.W, PageH: p.Printed.H, Columns: 1, Rows: 1, W: p.Printed.W, H: p.Printed.H}
	sheets, err := s.Shop.Sheets(r.Context())
	if err != nil {
		return err
	}
	for _, one := range sheets { // as the shop has it today: the labels are the same, where they stand may be put right
		if one.Name == p.Printed.Sheet && one.W == p.Printed.W && one.H == p.Printed.H {
			sheet = one.Sheet
		}
	}
	if p.Form.Values.Has("first") {
		if p.First = p.Form.Count("first"); p.Form.Err("first") == "" && (p.First < 1 || p.First > sheet.Count()) {
			p.Form.Problems.Add("first", "the sheet has places 1 to %d", sheet.Count())
		}
		if p.Form.Err("first") != "" {
			p.First = 1
		}
	} else {
		p.Form.Set("first", "1")
	}
	words := fmt.Sprintf("labels of lot %s", p.Code)
	for at, left := p.First-1, p.Labels; left > 0; at = 0 {
		p.Sheets = append(p.Sheets, draw.OfTagSheet(sheet, p.Printed.Lines, at, left, words))
		left -= sheet.Count() - at
	}
	return s.Show(w, r, http.StatusOK, "label-run", fmt.Sprintf("%d labels, lot %s", p.Labels, p.Code), "Sell", nil, p)
}

// rulesPage is what the region asks of labels, and the sheets of the shop.
type rulesPage struct {
	Form    *page.Form
	Styles  []page.Option
	Colours []page.Option
	Orders  []page.Option
	Sheets  []selling.Sheet
}

func (s *Room) rules(w http.ResponseWriter, r *http.Request) error {
	rules, err := s.Shop.LabelRules(r.Context())
	if err != nil {
		return err
	}
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	f.Set("style", string(rules.Style))
	f.Set("colours", rules.Colours)
	f.Set("order", map[bool]string{true: "added", false: "bar"}[rules.ByAdded])
	f.Set("letter", unit.Trim(rules.Letter, 2))
	f.Set("address", rules.Address)
	page.Tick(f, "assessed", rules.Assessed)
	return s.showRules(w, r, http.StatusOK, f, nil)
}

func (s *Room) showRules(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := rulesPage{
		Form:    f,
		Colours: []page.Option{{Value: label.ColoursByNumber, Label: "by number"}, {Value: label.ColoursByName, Label: "by name"}},
		Orders: []page.Option{
			{Value: "bar", Label: "by what is in the bar"}, {Value: "added", Label: "by what was put in"},
		},
	}
	for _, style := range label.Styles() {
		p.Styles = append(p.Styles, page.Option{Value: string(style), Label: style.Words()})
	}
	var err error
	if p.Sheets, err = s.Shop.Sheets(r.Context()); err != nil {
		return err
	}
	return s.Show(w, r, status, "label-rules", "Rules and sheets of labels", "Sell", notice, p)
}

func (s *Room) keepRules(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	rules := label.Rules{
		Style: label.Style(f.Get("style")), Colours: f.Get("colours"), ByAdded: f.Get("order") == "added", Letter: f.Number("letter"),
		Address: strings.ReplaceAll(f.Get("address"), "\r\n", "\n"), Assessed: f.Get("assessed") == "on",
	}
	if order := f.Get("order"); order != "added" && order != "bar" {
		f.Problems.Add("order", "choose what the list goes by")
	}
	return s.Record(w, r, f, func() (string, error) { return "/labels", s.Shop.KeepLabelRules(r.Context(), page.Act(r), rules) },
		func(status int, notice *caution.Caution) error { return s.showRules(w, r, status, f, notice) })
}

// sheetPage is the editor of a sheet of labels.
type sheetPage struct {
	page.Editor
	Form  *page.Form
	Sheet tag.Sheet
	Drawn draw.Picture
	Whole bool // it can be drawn
}

func (s *Room) sheetDocuments() page.Documents[selling.Sheet] {
	return page.Documents[selling.Sheet]{
		Kind:    store.Sheets,
		History: s.Shop.SheetHistory,
		Number:  func(one selling.Sheet) int { return one.Number },
		Form:    func(one selling.Sheet, sys unit.System) *page.Form { return sheetForm(one.Name, one.Sheet, sys) },
		Fresh: func(r *http.Request) (*page.Form, error) {
			sys, size := page.SessionOf(r).System, tag.A4
			if sys == unit.US {
				size = tag.Letter
			}
			return sheetForm("", tag.Sheet{PageW: size[0], PageH: size[1], Left: 10, Top: 12, Columns: 2, Rows: 5, W: 93, H: 54}, sys), nil
		},
	}
}

// measures are the fields of a sheet that are lengths.
func measures(s *tag.Sheet) map[string]*float64 {
	return map[string]*float64{
		"page_w": &s.PageW, "page_h": &s.PageH, "left": &s.Left, "top": &s.Top, "w": &s.W, "h": &s.H, "gap_x": &s.GapX, "gap_y": &s.GapY,
	}
}

func sheetForm(name string, d tag.Sheet, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	f.Set("name", name)
	for field, v := range measures(&d) {
		f.Set(field, unit.Trim(*v, 2)+" mm")
	}
	f.Set("columns", strconv.Itoa(d.Columns))
	f.Set("rows", strconv.Itoa(d.Rows))
	return f
}

func readSheet(f *page.Form) (d tag.Sheet, p caution.Problems) {
	f.Problems = nil
	for field, v := range measures(&d) {
		if f.Get(field) == "" && strings.HasPrefix(field, "gap") {
			continue // no gap
		}
		*v = page.IfTyped(f, field, func(name string) float64 {
			if v, err := unit.Number(f.Get(name)); err == nil {
				return v // mm, whatever the owner's units: sheets are sold by them
			}
			return f.Length(name)
		}, 0)
	}
	d.Columns, d.Rows = page.IfTyped(f, "columns", f.Count, 0), page.IfTyped(f, "rows", f.Count, 0)
	return d, f.Problems
}

func (s *Room) sheet(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.sheetDocuments())
	if err != nil {
		return err
	}
	return s.showSheet(w, r, http.StatusOK, o)
}

func sheetOf(f *page.Form) (d tag.Sheet, drawn draw.Picture, whole bool) {
	d, p := readSheet(f)
	for _, one := range d.Check() {
		if p.At(one.Path) == "" {
			p = append(p, one)
		}
	}
	if f.Problems = p; len(p) > 0 {
		return d, drawn, false
	}
	return d, draw.OfSheet(d), true
}

func (s *Room) showSheet(w http.ResponseWriter, r *http.Request, status int, o page.Opened[selling.Sheet]) error {
	p := sheetPage{Editor: o.Editor, Form: o.Form}
	kept := o.Form.Problems
	p.Sheet, p.Drawn, p.Whole = sheetOf(o.Form)
	if len(kept) > 0 {
		o.Form.Problems = kept
	}
	title := o.Form.Get("name")
	if title == "" {
		title = "A new sheet of labels"
	}
	return s.Show(w, r, status, "label-sheet", title, "Sell", o.Notice, p)
}

func (s *Room) liveSheet(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Sheets).Typed)
	if err != nil {
		return err
	}
	p := sheetPage{Form: live.Form}
	p.Sheet, p.Drawn, p.Whole = sheetOf(live.Form)
	live.Answers = p
	return s.Render(w, r, http.StatusOK, "sheet-live", live)
}

func (s *Room) keepSheet(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	d, problems := readSheet(f)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.sheetDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepSheet(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, f.Get("name"), d)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showSheet(w, r, status, o)
}

// filePage is a product's file for an inspector.
type filePage struct {
	selling.File
	Runs               []selling.Run
	MostRuns, MostLots int
}

// mostFileRuns is how many runs of labels a file shows.
const mostFileRuns = 60

func (s *Room) file(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	file, err := s.Shop.ProductFile(r.Context(), oid)
	if err != nil {
		return err
	}
	p := filePage{File: file, MostRuns: mostFileRuns, MostLots: selling.MostFileLots}
	if p.Runs, err = s.Shop.Runs(r.Context(), oid, "", mostFileRuns); err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "product-file", "File of "+file.Product.Name, "Sell", nil, p)
}

// allergensPage is what a supplier declares of an additive, or of one delivery of it.
type allergensPage struct {
	Form     *page.Form
	Key      plan.Key
	Name     string
	Delivery string
	Of       string // the delivery in words
	Back     string
}

func (s *Room) allergens(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	d, _, err := s.Shop.Declared(r.Context(), plan.Key(f.Get("item")), f.Get("delivery"))
	if err != nil {
		return err
	}
	f.Set("allergens", d.Words())
	f.Set("source", d.Source)
	page.Tick(f, "none", d.None)
	return s.showAllergens(w, r, http.StatusOK, f, nil)
}

func (s *Room) showAllergens(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := allergensPage{Form: f, Key: plan.Key(f.Get("item")), Delivery: f.Get("delivery"), Back: "/stores"}
	_, p.Name, _ = strings.Cut(string(p.Key), ":")
	if p.Delivery != "" {
		d, m, err := s.Shop.Delivery(r.Context(), p.Delivery)
		if err != nil {
			return err
		}
		p.Name, p.Of, p.Back = m.Name, d.Label(), "/stores/deliveries/"+p.Delivery
	} else if p.Key.Kind() != plan.AdditiveItem || p.Name == "" {
		return fmt.Errorf("allergens of “%s”: %w", p.Key, store.ErrNotFound)
	} else {
		p.Back = "/stores/of?" + url.Values{"key": {string(p.Key)}}.Encode()
	}
	return s.Show(w, r, status, "allergens", "Allergens in "+p.Name, "Stores", notice, p)
}

func (s *Room) keepAllergens(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	d := label.Declaration{Source: f.Get("source"), None: f.Get("none") == "on"}
	var p caution.Problems
	d.Allergens, p = label.ReadShares(f.Get("allergens"))
	for _, one := range p {
		f.Problems.Add("allergens", "%s: %s", one.Path, one.Text)
	}
	to := "/allergens?" + url.Values{"item": {f.Get("item")}, "delivery": {f.Get("delivery")}}.Encode()
	return s.Record(w, r, f, func() (string, error) {
		return to, s.Shop.Declare(r.Context(), page.Act(r), plan.Key(f.Get("item")), f.Get("delivery"), d)
	}, func(status int, notice *caution.Caution) error { return s.showAllergens(w, r, status, f, notice) })
}
