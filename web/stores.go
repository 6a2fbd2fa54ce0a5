package web

import (
	"github.com/go-chi/chi/v5"
	"net/http"
	"net/url"

	"ashshelf/shop"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// storesPage is what the shop knows of its own materials.
type storesPage struct {
	Scents []shop.Scent
	Spoons []spoonLine
	Known  []additive.Known
	Form   *Form

	Trimmings []*lot.Lot // lots with some left, the freshest first
}

type spoonLine struct {
	store.Spoon
	Table float64 // what the table says, 0 when it says nothing
}

func (s *Server) storesRoom(w http.ResponseWriter, r *http.Request) {
	s.showStores(w, r, http.StatusOK, &Form{Values: url.Values{}, System: sessionOf(r).System}, nil)
}

func (s *Server) showStores(w http.ResponseWriter, r *http.Request, status int, f *Form, notice *caution.Caution) {
	p := storesPage{Form: f, Known: additive.Reference()}
	var err error
	if p.Scents, err = s.shop.Scents(r.Context()); err != nil {
		s.fail(w, r, err)
		return
	}
	spoons, err := s.shop.Spoons(r.Context())
	if err == nil {
		p.Trimmings, err = s.shop.Trimmings(r.Context())
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	for _, one := range spoons {
		known, _ := additive.Find(one.Name)
		p.Spoons = append(p.Spoons, spoonLine{one, known.GramsPerTsp})
	}
	s.show(w, r, status, "stores", "Stores", "Stores", notice, p)
}

func (s *Server) noteSpoon(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	grams := f.Mass("spoon_grams")
	err := f.Problems.Err()
	if err == nil {
		if err = s.shop.NoteSpoon(r.Context(), act(r), f.Get("spoon"), grams); err == nil {
			seeOther(w, r, "/stores#spoons")
			return
		}
	} else {
		f.Problems = nil
	}
	if status, notice, ok := s.refused(w, r, err, f); ok {
		s.showStores(w, r, status, f, notice)
	}
}

type scentBench struct {
	bench
	Form       *Form
	History    []shop.Scent
	Behaviours []Option
	MaxOfs     []Option
	Marks      []Option
	Dirty      bool
}

func (s *Server) scentBook() book[shop.Scent] {
	return book[shop.Scent]{store.Scents, s.shop.ScentHistory, func(one shop.Scent) int { return one.Number },
		func(one shop.Scent, sys unit.System) *Form { return scentForm(one.ScentBody, sys) }, freshScent}
}

func scentForm(b shop.ScentBody, sys unit.System) *Form {
	f := &Form{Values: url.Values{}, System: sys}
	f.Set("name", b.Scent.Name)
	f.Set("scent.supplier", b.Scent.Supplier)
	if b.Scent.Max > 0 {
		f.Set("scent.max_percent", unit.Trim(b.Scent.Max, 3))
	}
	f.Set("scent.max_of", string(b.Scent.MaxOf))
	f.Set("scent.density_g_per_ml", unit.Trim(b.Scent.Density, 3))
	f.Set("scent.stated", string(b.Scent.Stated))
	f.Set("scent.observed", string(b.Scent.Observed))
	f.Set("scent.tint", b.Scent.Tint)
	f.Set("scent.mark", string(b.Scent.Mark))
	f.Set("notes", b.Notes)
	return f
}

func readScentBody(f *Form) (shop.ScentBody, caution.Problems) {
	f.Problems = nil
	b := shop.ScentBody{Notes: f.Get("notes"), Scent: additive.Scent{
		Name: f.Get("name"), Supplier: f.Get("scent.supplier"), Max: ifTyped(f, "scent.max_percent", f.Number, 0), MaxOf: additive.MaxOf(f.Get("scent.max_of")),
		Density: ifTyped(f, "scent.density_g_per_ml", f.Number, additive.ScentDensity), Tint: f.Get("scent.tint"),
		Mark: material.Mark(f.Get("scent.mark")), Stated: additive.Behaviour(f.Get("scent.stated")), Observed: additive.Behaviour(f.Get("scent.observed")),
	}}
	if problems := f.Problems; len(problems) > 0 {
		return b, problems
	}
	return b, shop.CheckScent(b)
}

func freshScent(r *http.Request) (*Form, error) {
	return &Form{Values: url.Values{"name": {r.URL.Query().Get("name")}, "scent.max_of": {string(additive.OfSoap)}}}, nil
}

func (s *Server) scent(w http.ResponseWriter, r *http.Request) {
	o, ok := openBench(s, w, r, s.scentBook())
	if !ok {
		return
	}
	if _, problems := readScentBody(o.form); o.form.Get("name") != "" {
		o.form.Problems = problems
	}
	s.showScent(w, r, http.StatusOK, o)
}

func (s *Server) showScent(w http.ResponseWriter, r *http.Request, status int, o opened[shop.Scent]) {
	title := o.form.Get("name")
	if title == "" {
		title = "A new scent"
	}
	s.show(w, r, status, "scent", title, "Stores", o.notice, scentBench{bench: o.bench, Form: o.form, History: o.history, Behaviours: behaviourOptions(), MaxOfs: options(additive.MaxOfs()), Marks: options(material.Marks()), Dirty: o.dirty})
}

// behaviourOptions are the behaviours of what is known to be a scent.
func behaviourOptions() []Option {
	out := options(additive.Behaviours())
	out[0].Label = "not known"
	return out
}

func (s *Server) scentLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	other, err := s.saveCopy(r, benchOf(r, store.Scents), f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	_, f.Problems = readScentBody(f)
	live := liveAnswer{Form: f, Names: fieldNames(f.Values)}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "live-errors", live)
}

func (s *Server) keepScent(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	body, problems := readScentBody(f)
	o, status, ok := keepBench(s, w, r, s.scentBook(), f, func(b bench) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.shop.KeepScent(r.Context(), act(ending(r, b.Typed)), b.OID, b.Base, body)
	})
	if ok {
		s.showScent(w, r, status, o)
	}
}

// storesRoutes are the addresses of the stores.
func (s *Server) storesRoutes(r chi.Router) {
	r.Get("/stores", s.storesRoom)
	r.Post("/stores/spoons", s.noteSpoon)
	r.Get("/scents", func(w http.ResponseWriter, r *http.Request) { seeOther(w, r, "/stores") })
	r.Get("/scents/new", startNew(store.Scents))
	for _, at := range []string{"/scents/{oid}", "/scents/new/{token}"} {
		r.Get(at, s.scent)
		r.Post(at+"/live", s.scentLive)
		r.Post(at, s.keepScent)
	}
}
