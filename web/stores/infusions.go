package stores

import (
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/liquid"
	"ashshelf/soap/steep"
	"ashshelf/web/page"
)

// infusionsPage is the jars of infused oil and the form to start one.
type infusionsPage struct {
	Form    *page.Form
	Open    []jarLine
	Past    []jarLine
	Oils    []string
	From    []page.Option // deliveries that an oil is out of
	Learned []learnedLoss
}

// jarLine is a jar as it stands now, with the form of what is done to it next.
type jarLine struct {
	steep.Jar
	Form  *page.Form
	Stage string
	Left  float64
	Out   float64 // g that came through the cloth
	Loss  float64 // g of oil that each g of the herb kept
}

type learnedLoss struct {
	Herb string
	Loss float64
	Of   int
}

func (s *Room) infusions(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	for _, field := range []string{"fat", "herb", "oil", "herb_g", "hours", "warm"} {
		if v := r.URL.Query().Get(field); v != "" {
			f.Set(field, v)
		}
	}
	return s.showInfusions(w, r, http.StatusOK, "", f, nil)
}

// showInfusions shows the jars; f is the form that was sent for the jar of an identity, or to start
// one.
func (s *Room) showInfusions(w http.ResponseWriter, r *http.Request, status int, oid string, f *page.Form, notice *caution.Caution) error {
	open, past, err := s.Shop.Infusions(r.Context())
	if err != nil {
		return err
	}
	empty := func() *page.Form { return &page.Form{Values: url.Values{}, System: page.SessionOf(r).System} }
	p := infusionsPage{Form: f}
	if oid != "" {
		p.Form = empty()
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	line := func(j steep.Jar) jarLine {
		one := jarLine{Jar: j, Form: empty(), Stage: j.Stage(now), Left: j.Left()}
		one.Out, _ = j.Strained()
		one.Loss, _ = j.Loss()
		if j.OID == oid {
			one.Form = f
		}
		return one
	}
	seen := map[string]bool{}
	all := append(append([]steep.Jar(nil), open...), past...)
	for _, j := range all {
		if herb := strings.ToLower(j.Herb); !seen[herb] {
			seen[herb] = true
			if loss, of := steep.Learned(j.Herb, all); of > 0 {
				p.Learned = append(p.Learned, learnedLoss{j.Herb, loss, of})
			}
		}
	}
	for _, j := range open {
		p.Open = append(p.Open, line(j))
	}
	for _, j := range past {
		p.Past = append(p.Past, line(j))
	}
	for _, one := range fat.Reference() {
		p.Oils = append(p.Oils, one.Name)
	}
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	p.From = page.FromOptions(room, inventory.Fat, page.SessionOf(r).System)
	return s.Show(w, r, status, "infusions", "Infusions", "Stores", notice, p)
}

// weightOrSpoons reads a weight of a herb; spoons count as the shop or the table has weighed them.
func (s *Room) weightOrSpoons(r *http.Request, f *page.Form, name, of string) (float64, error) {
	if f.Get(name) == "" {
		return 0, nil
	}
	grams, spoons := f.MassOrSpoons(name)
	if spoons == 0 {
		return grams, nil
	}
	each, err := s.Shop.SpoonOf(r.Context(), of)
	if err != nil {
		return 0, err
	}
	if each == 0 {
		f.Problems.Add(name, "nobody has weighed a spoon of %s here: type grams, or weigh a level teaspoon of it once in the stores", of)
	}
	return spoons * each, nil
}

func (s *Room) startInfusion(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	j := steep.Jar{
		Name:  f.Get("fat"),
		Herb:  f.Get("herb"),
		OilG:  page.IfTyped(f, "oil", f.Mass, 0),
		Warm:  f.Get("warm") == "on",
		Note:  f.Get("note"),
		Hours: page.IfTyped(f, "hours", f.Number, 0),
	}
	if f.Get("hours") == "" {
		if j.Hours = steep.StandingHours; j.Warm {
			j.Hours = liquid.UsualHours
		}
	}
	if j.HerbG, err = s.weightOrSpoons(r, f, "herb_g", j.Herb); err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/infusions", s.Shop.StartInfusion(r.Context(), page.Act(r), j, f.Get("from"))
	}, func(status int, notice *caution.Caution) error {
		return s.showInfusions(w, r, status, "", f, notice)
	})
}

func (s *Room) toInfusion(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	e := steep.Event{What: steep.What(f.Get("what")), Note: f.Get("note"), Grams: page.IfTyped(f, "grams", f.Mass, 0)}
	if e.What == steep.Used {
		e.What = "" // which a lot takes at its bench
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/infusions", s.Shop.ToInfusion(r.Context(), page.Act(r), oid, e, f.Get("from"))
	}, func(status int, notice *caution.Caution) error {
		return s.showInfusions(w, r, status, oid, f, notice)
	})
}
