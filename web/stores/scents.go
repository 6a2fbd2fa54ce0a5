package stores

import (
	"net/http"
	"net/url"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/page"
)

// scentsPage is what the shop knows of its own materials.
type scentsPage struct {
	Scents []catalog.Scent
	Spoons []spoonLine
	Known  []additive.Known
	Form   *page.Form

	Trimmings []*lot.Lot // lots with some left, the freshest first
}

type spoonLine struct {
	store.Spoon
	Table float64 // what the table says, 0 when it says nothing
}

func (s *Room) scentsRoom(w http.ResponseWriter, r *http.Request) error {
	return s.showScents(w, r, http.StatusOK, &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}, nil)
}

func (s *Room) showScents(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := scentsPage{Form: f, Known: additive.Reference()}
	var err error
	if p.Scents, err = s.Shop.Scents(r.Context()); err != nil {
		return err
	}
	spoons, err := s.Shop.Spoons(r.Context())
	if err == nil {
		p.Trimmings, err = s.Shop.Trimmings(r.Context())
	}
	if err != nil {
		return err
	}
	for _, one := range spoons {
		known, _ := additive.Find(one.Name)
		p.Spoons = append(p.Spoons, spoonLine{one, known.GramsPerTsp})
	}
	return s.Show(w, r, status, "scents", "Scents, teaspoons and scraps", "Stores", notice, p)
}

func (s *Room) noteSpoon(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	grams := f.Mass("spoon_grams")
	return s.Record(w, r, f, func() (string, error) {
		return "/scents#spoons", s.Shop.NoteSpoon(r.Context(), page.Act(r), f.Get("spoon"), grams)
	}, func(status int, notice *caution.Caution) error {
		return s.showScents(w, r, status, f, notice)
	})
}

type scentPage struct {
	page.Editor
	Form       *page.Form
	History    []catalog.Scent
	Behaviours []page.Option
	MaxOfs     []page.Option
	Marks      []page.Option
	Dirty      bool
}

func (s *Room) scentDocuments() page.Documents[catalog.Scent] {
	return page.Documents[catalog.Scent]{
		Kind:    store.Scents,
		History: s.Shop.ScentHistory,
		Number:  func(one catalog.Scent) int { return one.Number },
		Form:    func(one catalog.Scent, sys unit.System) *page.Form { return scentForm(one.ScentBody, sys) },
		Fresh:   freshScent,
	}
}

func scentForm(b document.ScentBody, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
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

func readScentBody(f *page.Form) (document.ScentBody, caution.Problems) {
	f.Problems = nil
	b := document.ScentBody{Notes: f.Get("notes"), Scent: additive.Scent{
		Name: f.Get(
			"name",
		), Supplier: f.Get("scent.supplier"), Max: page.IfTyped(f, "scent.max_percent", f.Number, 0),
		MaxOf:   additive.MaxOf(f.Get("scent.max_of")),
		Density: page.IfTyped(f, "scent.density_g_per_ml", f.Number, additive.ScentDensity), Tint: f.Get("scent.tint"),
		Mark: material.Mark(
			f.Get("scent.mark"),
		), Stated: additive.Behaviour(f.Get("scent.stated")), Observed: additive.Behaviour(f.Get("scent.observed")),
	}}
	if problems := f.Problems; len(problems) > 0 {
		return b, problems
	}
	return b, document.CheckScent(b)
}

func freshScent(r *http.Request) (*page.Form, error) {
	return &page.Form{Values: url.Values{"name": {r.URL.Query().Get("name")}, "scent.max_of": {string(additive.OfSoap)}}}, nil
}

func (s *Room) scent(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.scentDocuments())
	if err != nil {
		return err
	}
	if _, problems := readScentBody(o.Form); o.Form.Get("name") != "" {
		o.Form.Problems = problems
	}
	return s.showScent(w, r, http.StatusOK, o)
}

func (s *Room) showScent(w http.ResponseWriter, r *http.Request, status int, o page.Opened[catalog.Scent]) error {
	title := o.Form.Get("name")
	if title == "" {
		title = "A new scent"
	}
	return s.Show(
		w,
		r,
		status,
		"scent",
		title,
		"Stores",
		o.Notice,
		scentPage{
			Editor:     o.Editor,
			Form:       o.Form,
			History:    o.History,
			Behaviours: behaviourOptions(),
			MaxOfs:     page.Options(additive.MaxOfs()),
			Marks:      page.Options(material.Marks()),
			Dirty:      o.Dirty,
		},
	)
}

// behaviourOptions are the behaviours of what is known to be a scent.
func behaviourOptions() []page.Option {
	out := page.Options(additive.Behaviours())
	out[0].Label = "not known"
	return out
}

func (s *Room) scentLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Scents).Typed)
	if err != nil {
		return err
	}
	_, live.Form.Problems = readScentBody(live.Form)
	return s.Render(w, r, http.StatusOK, "live-errors", live)
}

func (s *Room) keepScent(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	body, problems := readScentBody(f)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.scentDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepScent(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, body)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showScent(w, r, status, o)
}

// StoresRoutes are the addresses of the stores.
func (s *Room) StoresRoutes(r page.Routes) {
	r.Get("/scents", s.scentsRoom)
	r.Post("/stores/spoons", s.noteSpoon)
	r.Get("/infusions", s.infusions)
	r.Post("/infusions", s.startInfusion)
	r.Post("/infusions/{oid}", s.toInfusion)
	s.storeRoutes(r)
	r.Get("/scents/new", page.StartNew(store.Scents))
	for _, at := range []string{"/scents/{oid}", "/scents/new/{token}"} {
		r.Get(at, s.scent)
		r.Post(at+"/live", s.scentLive)
		r.Post(at, s.keepScent)
	}
}
