package web

import (
	"net/http"
	"net/url"
	"strconv"

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
	Draw draw.Mold
	What string
}

func (s *Server) molds(w http.ResponseWriter, r *http.Request) {
	list, err := s.shop.Molds(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	all := make([]mold.Mold, len(list))
	for i, m := range list {
		all[i] = m.Mold
	}
	scale := draw.CommonScale(all)
	cards := make([]moldCard, len(list))
	for i, m := range list {
		cards[i] = moldCard{m, draw.OfMold(m.Mold, m.Bars, scale), materialWords(m.Material)}
	}
	s.show(w, r, http.StatusOK, "molds", "Molds", "Molds", nil, cards)
}

func materialWords(code string) string {
	for _, m := range shop.Materials() {
		if m.Code == code {
			return m.Words
		}
	}
	return code
}

func (s *Server) newMold(w http.ResponseWriter, r *http.Request) {
	b := newBench(store.Molds)
	f := &Form{Values: url.Values{"mold.shape": {"box"}, "material": {"lined"}}}
	if _, err := s.saveCopy(r, b, f); err != nil {
		s.fail(w, r, err)
		return
	}
	seeOther(w, r, b.Path)
}

type moldBench struct {
	bench
	Form      *Form
	Answers   moldAnswers
	History   []shop.Mold
	Shapes    []Option
	Materials []Option
	Dirty     bool
}

// moldAnswers is what a mold holds.
type moldAnswers struct {
	OK       bool
	Problems caution.Problems
	Volume   float64
	Batter   float64 // g of an everyday batter
	Density  float64
	Draw     draw.Mold
	Mold     mold.Mold
	Bars     int
	BarG     float64
}

func (s *Server) moldBook() book[shop.Mold] {
	return book[shop.Mold]{store.Molds, s.shop.MoldHistory, func(m shop.Mold) int { return m.Number },
		func(m shop.Mold, sys unit.System) *Form { return moldForm(m.Name, m.MoldBody, sys) }}
}

func (s *Server) mold(w http.ResponseWriter, r *http.Request) {
	o, ok := openBench(s, w, r, s.moldBook())
	if !ok {
		return
	}
	f := o.form
	untouched := o.OID == "" && f.Get("name") == "" && f.Get("mold.length_mm") == "" && f.Get("mold.water_g") == "" && f.Get("mold.diameter_mm") == ""
	name, body, problems := readMold(f)
	if f.Problems = problems; untouched {
		f.Problems = nil // an empty bench has made no mistake yet
	}
	s.showMold(w, r, http.StatusOK, o, name, body, f.Problems)
}

func (s *Server) showMold(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Mold], name string, body shop.MoldBody, problems caution.Problems) {
	if name == "" {
		name = "A new mold"
	}
	materials := make([]Option, 0, 4)
	for _, m := range shop.Materials() {
		materials = append(materials, Option{m.Code, m.Words})
	}
	s.show(w, r, status, "mold", name, "Molds", o.notice, moldBench{
		bench: o.bench, Form: o.form, Answers: answersForMold(body, problems), History: o.history, Shapes: options(mold.Shapes()), Materials: materials, Dirty: o.dirty,
	})
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
	_, body, problems := readMold(f)
	f.Problems = problems
	live := liveAnswer{Form: f, Names: fieldNames(f.Values), Answers: answersForMold(body, problems)}
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
	name, body, problems := readMold(f)
	o, status, ok := keepBench(s, w, r, s.moldBook(), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepMold(r.Context(), act(r), b.OID, b.Base, name, body)
	})
	if ok {
		s.showMold(w, r, status, o, name, body, problems)
	}
}

// moldForm writes a mold into a form, lengths in the owner's units.
func moldForm(name string, b shop.MoldBody, sys unit.System) *Form {
	f := &Form{Values: url.Values{}, System: sys}
	f.Set("name", name)
	f.Set("material", b.Material)
	f.Set("mold.shape", string(b.Mold.Shape))
	for field, v := range map[string]float64{"length_mm": b.Mold.Length, "width_mm": b.Mold.Width, "diameter_mm": b.Mold.Diameter, "fill_mm": b.Mold.Fill} {
		if v != 0 {
			f.Set("mold."+field, unit.FormatLength(v, sys))
		}
	}
	if b.Mold.WaterG != 0 {
		f.Set("mold.water_g", unit.Trim(b.Mold.WaterG, 1)+" g")
	}
	if b.Mold.Cavities != 0 {
		f.Set("mold.cavities", strconv.Itoa(b.Mold.Cavities))
	}
	if b.Bars != 0 {
		f.Set("bars", strconv.Itoa(b.Bars))
	}
	return f
}

// readMold reads the form of the bench into a mold.
func readMold(f *Form) (name string, body shop.MoldBody, p caution.Problems) {
	f.Problems = nil
	m := mold.Mold{Shape: mold.Shape(f.Get("mold.shape"))}
	switch m.Shape {
	case mold.Box:
		m.Length, m.Width, m.Fill = f.Length("mold.length_mm"), f.Length("mold.width_mm"), f.Length("mold.fill_mm")
	case mold.Cylinder:
		m.Diameter, m.Fill = f.Length("mold.diameter_mm"), f.Length("mold.fill_mm")
	case mold.Water:
		m.WaterG = f.Mass("mold.water_g")
		m.Cavities = ifTyped(f, "mold.cavities", f.Count, 1)
	}
	body = shop.MoldBody{Mold: m, Material: f.Get("material"), Bars: ifTyped(f, "bars", f.Count, 0)}
	name, p = f.Get("name"), f.Problems
	for _, q := range shop.CheckMold(name, body) {
		if p.At(q.Path) == "" {
			p = append(p, q)
		}
	}
	return name, body, p
}

// answersForMold says what the mold holds, with an everyday batter.
func answersForMold(b shop.MoldBody, problems caution.Problems) moldAnswers {
	a := moldAnswers{Problems: problems, Mold: b.Mold, Bars: b.Bars}
	var size caution.Problems
	b.Mold.Check(&size, "mold")
	if len(size) > 0 {
		return a
	}
	for _, p := range problems {
		if p.Path == "bars" || p.Path == "mold.cavities" {
			return a
		}
	}
	a.OK, a.Volume, a.Density = true, b.Mold.Volume(), recipe.EverydayDensity()
	a.Batter = a.Volume * a.Density
	if b.Bars > 0 {
		a.BarG = a.Batter / float64(b.Bars)
	}
	a.Draw = draw.OfMold(b.Mold, b.Bars, 0)
	return a
}
