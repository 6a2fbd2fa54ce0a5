package molds

import (
	"cmp"
	"net/http"
	"net/url"
	"strconv"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

type moldCard struct {
	catalog.Mold
	Draw    draw.Mold
	What    string
	Bars    mold.Bars
	Learned string // "+1.2 % from 4 pours", or empty
}

type moldList struct {
	Cards   []moldCard
	Retired int
	All     bool // the retired ones are shown too
}

func (s *Room) molds(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Molds(r.Context())
	if err != nil {
		return err
	}
	p := moldList{All: r.URL.Query().Has("all")}
	var shown []catalog.Mold
	var all []mold.Mold
	for _, m := range list {
		if m.Retired {
			p.Retired++
			if !p.All {
				continue
			}
		}
		shown, all = append(shown, m), append(all, m.Mold)
	}
	scale := draw.CommonScale(all)
	for _, m := range shown {
		bars := m.Cuts()
		p.Cards = append(p.Cards, moldCard{m, draw.OfMold(m.Mold, bars, scale), page.MaterialWords(m.Material), bars, learnedWords(m)})
	}
	return s.Show(w, r, http.StatusOK, "molds", "Molds", "Molds", nil, p)
}

// learnedWords says what a mold has learned.
func learnedWords(m catalog.Mold) string {
	if m.Mold.Correction == 0 {
		return ""
	}
	sign := "+"
	if m.Mold.Correction < 1 {
		sign = ""
	}
	return sign + unit.Trim(100*(m.Mold.Correction-1), 1) + " % from " + page.Plural(min(len(m.Pours), 5), "pour")
}

func freshMold(*http.Request) (*page.Form, error) {
	return &page.Form{Values: url.Values{"mold.shape": {"box"}, "material": {"lined"}}}, nil
}

type moldPage struct {
	page.Editor
	Form      *page.Form
	Answers   moldAnswers
	History   []catalog.Mold
	Shapes    []page.Option
	Outlines  []page.Option
	Materials []page.Option
	Cutters   []page.Option
	Dirty     bool
	Learned   string
	Pours     []store.MoldPour
}

// moldAnswers is what a mold holds.
type moldAnswers struct {
	OK       bool
	Problems caution.Problems
	Volume   float64
	Ruler    float64 // ml by the ruler, where both are known
	Weighed  float64 // ml by the water
	Batter   float64 // g of an everyday batter
	Density  float64
	Draw     draw.Mold
	Mold     mold.Mold
	Bars     mold.Bars
	BarG     float64
	EndG     float64
	Marks    []string // where the knife goes
	LinerL   float64  // mm
	LinerW   float64
	Cautions []caution.Caution
}

func (s *Room) moldDocuments() page.Documents[catalog.Mold] {
	return page.Documents[catalog.Mold]{
		Kind:    store.Molds,
		History: s.Shop.MoldHistory,
		Number:  func(m catalog.Mold) int { return m.Number },
		Form:    func(m catalog.Mold, sys unit.System) *page.Form { return moldForm(m.Name, m.MoldBody, sys) },
		Fresh:   freshMold,
	}
}

func (s *Room) mold(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.moldDocuments())
	if err != nil {
		return err
	}
	tools, err := s.Shop.Tools(r.Context())
	if err != nil {
		return err
	}
	f := o.Form
	untouched := o.OID == "" && f.Get("name") == "" && page.Blank(f, "mold.", "length_mm", "water_g", "water_all_g", "diameter_mm")
	name, body, problems := readMold(f, tools)
	if f.Problems = problems; untouched {
		f.Problems = nil // an empty bench has made no mistake yet
	}
	return s.showMold(w, r, http.StatusOK, o, name, body, f.Problems, tools)
}

func (s *Room) showMold(
	w http.ResponseWriter,
	r *http.Request,
	status int,
	o page.Opened[catalog.Mold],
	name string,
	body document.MoldBody,
	problems caution.Problems,
	tools []catalog.Tool,
) error {
	p := moldPage{
		Editor:   o.Editor,
		Form:     o.Form,
		History:  o.History,
		Shapes:   page.Options(mold.Shapes()),
		Outlines: page.Options(mold.Outlines()),
		Cutters:  page.CutterOptions(tools, "by the thickness beside"),
		Dirty:    o.Dirty,
	}
	if len(o.History) > 0 {
		p.Learned, p.Pours = learnedWords(o.History[0]), o.History[0].Pours
		body.Mold.Correction = o.History[0].Mold.Correction
	}
	p.Answers = answersForMold(body, problems, o.Form.System)
	for _, m := range document.Materials() {
		p.Materials = append(p.Materials, page.Option{Value: m.Code, Label: m.Words})
	}
	return s.Show(w, r, status, "mold", cmp.Or(name, "A new mold"), "Molds", o.Notice, p)
}

func (s *Room) moldLive(w http.ResponseWriter, r *http.Request) error {
	b := page.EditorOf(r, store.Molds)
	live, err := s.Live(r, b.Typed)
	if err != nil {
		return err
	}
	f := live.Form
	tools, err := s.Shop.Tools(r.Context())
	if err != nil {
		return err
	}
	_, body, problems := readMold(f, tools)
	if b.OID != "" {
		history, err := s.Shop.MoldHistory(r.Context(), b.OID)
		if err != nil {
			return err
		}
		body.Mold.Correction = history[0].Mold.Correction
	}
	f.Problems, live.Answers = problems, answersForMold(body, problems, f.System)
	return s.Render(w, r, http.StatusOK, "mold-live", struct {
		page.LiveAnswer
		System unit.System
	}{live, f.System})
}

func (s *Room) keepMold(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	tools, err := s.Shop.Tools(r.Context())
	if err != nil {
		return err
	}
	name, body, problems := readMold(f, tools)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.moldDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepMold(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, name, body)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showMold(w, r, status, o, name, body, problems, tools)
}

// forgetMold starts what a mold learns anew.
func (s *Room) forgetMold(w http.ResponseWriter, r *http.Request) error {
	if _, err := s.Form(r); err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	if err := s.Shop.ForgetMold(r.Context(), page.Act(r), oid); err != nil {
		return err
	}
	if err := page.SayKept(w, r, page.Kept{Said: "Kept."}); err != nil {
		return err
	}
	return page.SeeOther(w, r, "/molds/"+oid)
}

// moldForm writes a mold into a form, lengths in the owner's units.
func moldForm(name string, b document.MoldBody, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	m := b.Mold
	f.Set("name", name)
	f.Set("material", b.Material)
	f.Set("mold.shape", string(m.Shape))
	f.Set("mold.outline", string(m.Outline))
	for field, v := range map[string]float64{"mold.length_mm": m.Length, "mold.width_mm": m.Width, "mold.diameter_mm": m.Diameter,
		"mold.fill_mm": m.Fill, "mold.height_mm": m.Height, "mold.divider_mm": m.Divider,
		"cut.thickness_mm": b.Cut.Thickness, "cut.trim_mm": b.Cut.Trim} {
		if v != 0 {
			f.Set(field, unit.FieldLength(v, sys))
		}
	}
	if m.WaterG != 0 {
		f.Set("mold.water_g", unit.FieldMass(m.WaterG, f.System))
	}
	for field, n := range map[string]int{"mold.cavities": m.Cavities, "mold.rows": m.Rows, "mold.cols": m.Cols, "bars": b.Bars,
		"cut.loaves": b.Cut.Loaves, "owned": b.Owned} {
		if n != 0 {
			f.Set(field, strconv.Itoa(n))
		}
	}
	page.Tick(f, "mold.by_water", m.ByWater)
	page.Tick(f, "cut.halves", b.Cut.Halves)
	page.Tick(f, "spare", b.Spare)
	page.Tick(f, "retired", b.Retired)
	return f
}

// readMold reads the form of the bench into a mold.
func readMold(f *page.Form, tools []catalog.Tool) (name string, body document.MoldBody, p caution.Problems) {
	f.Problems = nil
	m := mold.Mold{Shape: mold.Shape(f.Get("mold.shape"))}
	m.Cavities = page.IfTyped(f, "mold.cavities", f.Count, 0)
	switch m.Shape {
	case mold.Box, mold.Grid:
		m.Length, m.Width, m.Fill = f.Length("mold.length_mm"), f.Length("mold.width_mm"), f.Length("mold.fill_mm")
		if m.Shape == mold.Grid {
			m.Rows, m.Cols = f.Count("mold.rows"), f.Count("mold.cols")
			m.Divider = page.IfTyped(f, "mold.divider_mm", f.Length, 0)
		}
	case mold.Cylinder:
		m.Diameter, m.Fill = f.Length("mold.diameter_mm"), f.Length("mold.fill_mm")
	case mold.Water:
		m.Fill = page.IfTyped(f, "mold.fill_mm", f.Length, 0)
		m.Outline = mold.Outline(f.Get("mold.outline"))
	}
	m.Height = page.IfTyped(f, "mold.height_mm", f.Length, 0)
	m.ByWater = f.Get("mold.by_water") == "on" && m.Shape != mold.Water
	readWater(f, &m)
	cut := mold.Cut{
		Thickness: page.IfTyped(f, "cut.thickness_mm", f.Length, 0),
		Loaves:    page.IfTyped(f, "cut.loaves", f.Count, 0),
		Trim:      page.IfTyped(f, "cut.trim_mm", f.Length, 0),
		Halves:    f.Get("cut.halves") == "on",
	}
	for _, t := range tools {
		if t.OID == f.Get("cut.cutter") && t.Kind == document.Cutter {
			cut.Thickness, cut.Cutter = t.Spacing, t.Name
		}
	}
	body = document.MoldBody{
		Mold:     m,
		Material: f.Get("material"),
		Bars:     page.IfTyped(f, "bars", f.Count, 0),
		Cut:      cut,
		Spare:    f.Get("spare") == "on",
		Retired:  f.Get("retired") == "on",
		Owned:    page.IfTyped(f, "owned", f.Count, 0),
	}
	name, p = f.Get("name"), f.Problems
	for _, q := range document.CheckMold(name, body) {
		if p.At(q.Path) == "" { // an unread number is only reported once
			p = append(p, q)
		}
	}
	return name, body, p
}

// mostApart is how far in percent the water of one cavity, times their number,
// may be from the water of all, before one of the two is wrong.
const mostApart = 2.0

// readWater reads the water of one cavity, of all of them, or both.
func readWater(f *page.Form, m *mold.Mold) {
	n := float64(max(1, m.Cavities))
	one, all := page.IfTyped(f, "mold.water_g", f.Mass, 0), page.IfTyped(f, "mold.water_all_g", f.Mass, 0)
	switch {
	case all > 0 && one > 0 && (one*n > all*(1+mostApart/100) || one*n < all*(1-mostApart/100)):
		f.Problems.Add(
			"mold.water_all_g",
			"%s g for all, but %s × %s g = %s g: weigh again, or leave one of them empty",
			unit.Trim(all, 1),
			unit.Trim(n, 0),
			unit.Trim(one, 1),
			unit.Trim(n*one, 1),
		)
	case all > 0:
		m.WaterG = all / n
	default:
		m.WaterG = one
	}
	if m.Shape == mold.Water && one == 0 && all == 0 && f.Err("mold.water_g") == "" && f.Err("mold.water_all_g") == "" {
		f.Mass("mold.water_g") // asks for it
	}
}

// answersForMold says what the mold holds, with an everyday batter.
func answersForMold(b document.MoldBody, problems caution.Problems, sys unit.System) moldAnswers {
	a := moldAnswers{Problems: problems, Mold: b.Mold}
	for _, p := range problems {
		if p.Path != "name" && p.Path != "material" {
			return a
		}
	}
	if b.Mold.Volume() <= 0 {
		return a
	}
	a.OK, a.Volume, a.Density = true, b.Mold.Volume(), recipe.EverydayDensity()
	a.Batter = a.Volume * a.Density
	if a.Ruler, a.Weighed = b.Mold.Ruler(), b.Mold.Weighed(); a.Ruler == 0 || a.Weighed == 0 {
		a.Ruler, a.Weighed = 0, 0
	}
	a.Bars = b.Cuts()
	a.BarG, a.EndG = a.Bars.Volume*a.Density, a.Bars.EndVolume*a.Density
	for _, at := range a.Bars.Marks {
		a.Marks = append(a.Marks, page.MarkWords(at))
	}
	a.LinerL, a.LinerW = b.Mold.Liner()
	if b.Material != "lined" && b.Material != "plastic" {
		a.LinerL, a.LinerW = 0, 0
	}
	a.Cautions = b.Mold.Advise()
	a.Draw = draw.OfMold(b.Mold, a.Bars, 0)
	return a
}

// MoldsRoutes are the addresses of molds and equipment.
func (s *Room) MoldsRoutes(r page.Routes) {
	r.Get("/molds", s.molds)
	r.Get("/molds/new", page.StartNew(store.Molds))
	for _, at := range []string{"/molds/{oid}", "/molds/new/{token}"} {
		r.Get(at, s.mold)
		r.Post(at+"/live", s.moldLive)
		r.Post(at, s.keepMold)
	}

	r.Post("/molds/{oid}/forget", s.forgetMold)
	r.Get("/equipment", s.tools)
	r.Get("/equipment/new", page.StartNew(store.Tools))
	for _, at := range []string{"/equipment/{oid}", "/equipment/new/{token}"} {
		r.Get(at, s.tool)
		r.Post(at+"/live", s.toolLive)
		r.Post(at, s.keepTool)
	}
}
