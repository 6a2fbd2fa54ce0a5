package web

import (
	"cmp"
	"net/http"
	"net/url"
	"strconv"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

type moldCard struct {
	shop.Mold
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

func (s *Server) molds(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Molds(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	p := moldList{All: r.URL.Query().Has("all")}
	var shown []shop.Mold
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
		p.Cards = append(p.Cards, moldCard{m, draw.OfMold(m.Mold, bars, scale), materialWords(m.Material), bars, learnedWords(m)})
	}
	s.show(w, r, http.StatusOK, "molds", "Molds", "Molds", nil, p)
}

// learnedWords says what a mold has learned.
func learnedWords(m shop.Mold) string {
	if m.Mold.Correction == 0 {
		return ""
	}
	sign := "+"
	if m.Mold.Correction < 1 {
		sign = ""
	}
	return sign + unit.Trim(100*(m.Mold.Correction-1), 1) + " % from " + plural(min(len(m.Pours), 5), "pour")
}

func materialWords(code string) string {
	for _, m := range shop.Materials() {
		if m.Code == code {
			return m.Words
		}
	}
	return code
}

func freshMold(*http.Request) (*Form, error) {
	return &Form{Values: url.Values{"mold.shape": {"box"}, "material": {"lined"}}}, nil
}

type moldBench struct {
	bench
	Form      *Form
	Answers   moldAnswers
	History   []shop.Mold
	Shapes    []Option
	Materials []Option
	Cutters   []Option
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

func (s *Server) moldBook() book[shop.Mold] {
	return book[shop.Mold]{store.Molds, s.shop.MoldHistory, func(m shop.Mold) int { return m.Number },
		func(m shop.Mold, sys unit.System) *Form { return moldForm(m.Name, m.MoldBody, sys) }, freshMold}
}

func (s *Server) mold(w http.ResponseWriter, r *http.Request) {
	o, ok := openBench(s, w, r, s.moldBook())
	if !ok {
		return
	}
	tools, err := s.shop.Tools(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	f := o.form
	untouched := o.OID == "" && f.Get("name") == "" && blank(f, "mold.", "length_mm", "water_g", "water_all_g", "diameter_mm")
	name, body, problems := readMold(f, tools)
	if f.Problems = problems; untouched {
		f.Problems = nil // an empty bench has made no mistake yet
	}
	s.showMold(w, r, http.StatusOK, o, name, body, f.Problems, tools)
}

func (s *Server) showMold(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Mold], name string, body shop.MoldBody, problems caution.Problems, tools []shop.Tool) {
	p := moldBench{bench: o.bench, Form: o.form, History: o.history, Shapes: options(mold.Shapes()), Cutters: cutterOptions(tools, "by the thickness beside"), Dirty: o.dirty}
	if len(o.history) > 0 {
		p.Learned, p.Pours = learnedWords(o.history[0]), o.history[0].Pours
		body.Mold.Correction = o.history[0].Mold.Correction
	}
	p.Answers = answersForMold(body, problems, o.form.System)
	for _, m := range shop.Materials() {
		p.Materials = append(p.Materials, Option{m.Code, m.Words})
	}
	s.show(w, r, status, "mold", cmp.Or(name, "A new mold"), "Molds", o.notice, p)
}

// cutterOptions are the cutters of the shop.
func cutterOptions(tools []shop.Tool, none string) []Option {
	out := []Option{{"", none}}
	for _, t := range tools {
		if t.Kind == shop.Cutter && !t.Retired {
			out = append(out, Option{t.OID, t.Name + ", " + unit.Trim(t.Spacing, 1) + " mm"})
		}
	}
	return out
}

func (s *Server) moldLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	b := benchOf(r, store.Molds)
	other, err := s.saveCopy(r, b, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	tools, err := s.shop.Tools(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	_, body, problems := readMold(f, tools)
	if b.OID != "" {
		history, err := s.shop.MoldHistory(r.Context(), b.OID)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		body.Mold.Correction = history[0].Mold.Correction
	}
	f.Problems = problems
	live := liveAnswer{Form: f, Names: fieldNames(f.Values), Answers: answersForMold(body, problems, f.System)}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "mold-live", struct {
		liveAnswer
		System unit.System
	}{live, f.System})
}

func (s *Server) keepMold(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	tools, err := s.shop.Tools(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	name, body, problems := readMold(f, tools)
	o, status, ok := keepBench(s, w, r, s.moldBook(), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepMold(r.Context(), act(ending(r, b.Typed)), b.OID, b.Base, name, body)
	})
	if ok {
		s.showMold(w, r, status, o, name, body, problems, tools)
	}
}

// forgetMold starts what a mold learns anew.
func (s *Server) forgetMold(w http.ResponseWriter, r *http.Request) {
	if _, ok := s.form(w, r); !ok {
		return
	}
	oid := chi.URLParam(r, "oid")
	if err := s.shop.ForgetMold(r.Context(), act(r), oid); err != nil {
		if _, _, ok := s.refused(w, r, err, nil); !ok {
			return
		}
	}
	seeOther(w, r, "/molds/"+oid)
}

// moldForm writes a mold into a form, lengths in the owner's units.
func moldForm(name string, b shop.MoldBody, sys unit.System) *Form {
	f := &Form{Values: url.Values{}, System: sys}
	m := b.Mold
	f.Set("name", name)
	f.Set("material", b.Material)
	f.Set("mold.shape", string(m.Shape))
	for field, v := range map[string]float64{"mold.length_mm": m.Length, "mold.width_mm": m.Width, "mold.diameter_mm": m.Diameter, "mold.fill_mm": m.Fill, "mold.height_mm": m.Height, "mold.divider_mm": m.Divider,
		"cut.thickness_mm": b.Cut.Thickness, "cut.trim_mm": b.Cut.Trim} {
		if v != 0 {
			f.Set(field, unit.FormatLength(v, sys))
		}
	}
	if m.WaterG != 0 {
		f.Set("mold.water_g", unit.Trim(m.WaterG, 2)+" g")
	}
	for field, n := range map[string]int{"mold.cavities": m.Cavities, "mold.rows": m.Rows, "mold.cols": m.Cols, "bars": b.Bars, "cut.loaves": b.Cut.Loaves} {
		if n != 0 {
			f.Set(field, strconv.Itoa(n))
		}
	}
	tick(f, "mold.by_water", m.ByWater)
	tick(f, "cut.halves", b.Cut.Halves)
	tick(f, "spare", b.Spare)
	tick(f, "retired", b.Retired)
	return f
}

// readMold reads the form of the bench into a mold.
func readMold(f *Form, tools []shop.Tool) (name string, body shop.MoldBody, p caution.Problems) {
	f.Problems = nil
	m := mold.Mold{Shape: mold.Shape(f.Get("mold.shape"))}
	m.Cavities = ifTyped(f, "mold.cavities", f.Count, 0)
	switch m.Shape {
	case mold.Box, mold.Grid:
		m.Length, m.Width, m.Fill = f.Length("mold.length_mm"), f.Length("mold.width_mm"), f.Length("mold.fill_mm")
		if m.Shape == mold.Grid {
			m.Rows, m.Cols = f.Count("mold.rows"), f.Count("mold.cols")
			m.Divider = ifTyped(f, "mold.divider_mm", f.Length, 0)
		}
	case mold.Cylinder:
		m.Diameter, m.Fill = f.Length("mold.diameter_mm"), f.Length("mold.fill_mm")
	case mold.Water:
		m.Fill = ifTyped(f, "mold.fill_mm", f.Length, 0)
	}
	m.Height = ifTyped(f, "mold.height_mm", f.Length, 0)
	m.ByWater = f.Get("mold.by_water") == "on" && m.Shape != mold.Water
	readWater(f, &m)
	cut := mold.Cut{Thickness: ifTyped(f, "cut.thickness_mm", f.Length, 0), Loaves: ifTyped(f, "cut.loaves", f.Count, 0), Trim: ifTyped(f, "cut.trim_mm", f.Length, 0), Halves: f.Get("cut.halves") == "on"}
	for _, t := range tools {
		if t.OID == f.Get("cut.cutter") && t.Kind == shop.Cutter {
			cut.Thickness, cut.Cutter = t.Spacing, t.Name
		}
	}
	body = shop.MoldBody{Mold: m, Material: f.Get("material"), Bars: ifTyped(f, "bars", f.Count, 0), Cut: cut, Spare: f.Get("spare") == "on", Retired: f.Get("retired") == "on"}
	name, p = f.Get("name"), f.Problems
	for _, q := range shop.CheckMold(name, body) {
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
func readWater(f *Form, m *mold.Mold) {
	n := float64(max(1, m.Cavities))
	one, all := ifTyped(f, "mold.water_g", f.Mass, 0), ifTyped(f, "mold.water_all_g", f.Mass, 0)
	switch {
	case all > 0 && one > 0 && (one*n > all*(1+mostApart/100) || one*n < all*(1-mostApart/100)):
		f.Problems.Add("mold.water_all_g", "%s g for all, but %s × %s g = %s g: weigh again, or leave one of them empty", unit.Trim(all, 1), unit.Trim(n, 0), unit.Trim(one, 1), unit.Trim(n*one, 1))
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
func answersForMold(b shop.MoldBody, problems caution.Problems, sys unit.System) moldAnswers {
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
		a.Marks = append(a.Marks, markWords(at))
	}
	a.LinerL, a.LinerW = b.Mold.Liner()
	if b.Material != "lined" && b.Material != "plastic" {
		a.LinerL, a.LinerW = 0, 0
	}
	a.Cautions = b.Mold.Advise()
	a.Draw = draw.OfMold(b.Mold, a.Bars, 0)
	return a
}

// markWords says where a mark is made, in both units, because the ruler on a
// cutting table may have either.
func markWords(mm float64) string {
	return unit.Trim(mm, 1) + " mm (" + unit.Trim(mm/unit.MMPerInch, 2) + " in)"
}

// Equipment: pots, jugs, cookers and cutters.

type toolList struct {
	Tools   []shop.Tool
	Retired int
}

func (s *Server) tools(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Tools(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.show(w, r, http.StatusOK, "tools", "Equipment", "Molds", nil, toolList{Tools: list})
}

type toolBench struct {
	bench
	Form    *Form
	History []shop.Tool
	Kinds   []Option
}

func (s *Server) toolBook() book[shop.Tool] {
	return book[shop.Tool]{store.Tools, s.shop.ToolHistory, func(t shop.Tool) int { return t.Number },
		func(t shop.Tool, sys unit.System) *Form { return toolForm(t.Name, t.ToolBody, sys) }, freshTool}
}

func freshTool(*http.Request) (*Form, error) {
	return &Form{Values: url.Values{"kind": {string(shop.Pot)}}}, nil
}

func toolForm(name string, b shop.ToolBody, sys unit.System) *Form {
	f := &Form{Values: url.Values{}, System: sys}
	f.Set("name", name)
	f.Set("kind", string(b.Kind))
	f.Set("notes", b.Notes)
	if b.ML > 0 {
		f.Set("ml", unit.Trim(b.ML, 0)+" ml")
	}
	if b.Tare > 0 {
		f.Set("tare", unit.Trim(b.Tare, 1)+" g")
	}
	if b.Spacing > 0 {
		f.Set("spacing", unit.FormatLength(b.Spacing, sys))
	}
	if b.Wires > 0 {
		f.Set("wires", strconv.Itoa(b.Wires))
	}
	tick(f, "retired", b.Retired)
	return f
}

func readTool(f *Form) (name string, b shop.ToolBody, p caution.Problems) {
	f.Problems = nil
	b = shop.ToolBody{Kind: shop.ToolKind(f.Get("kind")), Notes: f.Get("notes"), Retired: f.Get("retired") == "on"}
	if b.Kind == shop.Cutter {
		b.Spacing, b.Wires = f.Length("spacing"), f.Count("wires")
	} else {
		b.ML = f.Volume("ml")
		b.Tare = ifTyped(f, "tare", f.Mass, 0)
	}
	name = f.Get("name")
	if p = f.Problems; len(p) == 0 {
		p = shop.CheckTool(name, b)
	}
	return name, b, p
}

func (s *Server) tool(w http.ResponseWriter, r *http.Request) {
	if o, ok := openBench(s, w, r, s.toolBook()); ok {
		s.showTool(w, r, http.StatusOK, o)
	}
}

func (s *Server) showTool(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Tool]) {
	s.show(w, r, status, "tool", cmp.Or(o.form.Get("name"), "New equipment"), "Molds", o.notice, toolBench{bench: o.bench, Form: o.form, History: o.history, Kinds: options(shop.ToolKinds())})
}

func (s *Server) toolLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	other, err := s.saveCopy(r, benchOf(r, store.Tools), f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	_, _, f.Problems = readTool(f)
	live := liveAnswer{Form: f, Names: fieldNames(f.Values)}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "live-errors", live)
}

func (s *Server) keepTool(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	name, body, problems := readTool(f)
	o, status, ok := keepBench(s, w, r, s.toolBook(), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepTool(r.Context(), act(ending(r, b.Typed)), b.OID, b.Base, name, body)
	})
	if ok {
		s.showTool(w, r, status, o)
	}
}

// moldsRoutes are the addresses of molds and equipment.
func (s *Server) moldsRoutes(r chi.Router) {
	r.Get("/molds", s.molds)
	r.Get("/molds/new", startNew(store.Molds))
	for _, at := range []string{"/molds/{oid}", "/molds/new/{token}"} {
		r.Get(at, s.mold)
		r.Post(at+"/live", s.moldLive)
		r.Post(at, s.keepMold)
	}

	r.Post("/molds/{oid}/forget", s.forgetMold)
	r.Get("/equipment", s.tools)
	r.Get("/equipment/new", startNew(store.Tools))
	for _, at := range []string{"/equipment/{oid}", "/equipment/new/{token}"} {
		r.Get(at, s.tool)
		r.Post(at+"/live", s.toolLive)
		r.Post(at, s.keepTool)
	}
}
