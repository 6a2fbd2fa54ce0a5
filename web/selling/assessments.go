package selling

import (
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/catalog"
	"ashshelf/soap/assess"
	"ashshelf/soap/caution"
	"ashshelf/web/page"
)

// assessmentPage is what an assessor says of a recipe, and what of it is outside.
type assessmentPage struct {
	Form    *page.Form
	Recipe  catalog.Recipe
	Known   bool
	Outside []string
	Asked   bool // the shop says that it needs one
}

// Hint says how limits are written.
func (assessmentPage) Hint() string {
	return "One a line, as “Olive oil: 40 to 60 %” or “Fig leaf: up to 4 %”. What it does not name is outside."
}

func (s *Room) assessment(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	history, err := s.Shop.RecipeHistory(r.Context(), oid)
	if err != nil {
		return err
	}
	a, err := s.Shop.Assessment(r.Context(), oid)
	if err != nil {
		return err
	}
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	limits := assess.Of(history[0].Formula, history[0].SizeG)
	if a != nil {
		limits = a.Limits
		for field, v := range map[string]string{"reference": a.Reference, "on": a.On, "by": a.By, "note": a.Note} {
			f.Set(field, v)
		}
		page.Tick(f, "withdrawn", a.Withdrawn)
	}
	lines := make([]string, len(limits))
	for i, l := range limits {
		lines[i] = l.Words()
	}
	f.Set("limits", strings.Join(lines, "\n"))
	return s.showAssessment(w, r, http.StatusOK, f, nil)
}

func (s *Room) showAssessment(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	oid := chi.URLParam(r, "oid")
	history, err := s.Shop.RecipeHistory(r.Context(), oid)
	if err != nil {
		return err
	}
	p := assessmentPage{Form: f, Recipe: history[0]}
	a, err := s.Shop.Assessment(r.Context(), oid)
	if err != nil {
		return err
	}
	if a != nil {
		p.Known, p.Outside = true, a.Outside(p.Recipe.Formula, p.Recipe.SizeG)
	}
	rules, err := s.Shop.LabelRules(r.Context())
	if err != nil {
		return err
	}
	p.Asked = rules.Assessed
	return s.Show(w, r, status, "assessment", "Assessment of "+p.Recipe.Name, "Recipes", notice, p)
}

func (s *Room) keepAssessment(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	a := assess.Assessment{
		Reference: f.Get("reference"), On: f.Day("on"), By: f.Get("by"), Note: f.Get("note"), Withdrawn: f.Get("withdrawn") == "on",
	}
	var p caution.Problems
	a.Limits, p = assess.ReadLimits(f.Get("limits"))
	for _, one := range p {
		f.Problems.Add("limits", "%s: %s", one.Path, one.Text)
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/assessments/" + oid, s.Shop.Assess(r.Context(), page.Act(r), oid, a)
	}, func(status int, notice *caution.Caution) error { return s.showAssessment(w, r, status, f, notice) })
}
