package plans

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/document"
	"ashshelf/shop/planning"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/plan"
	"ashshelf/store"
	"ashshelf/web/page"
)

// dayLink leads to a day at the bench.
type dayLink struct {
	Date, Words string
	Plans       string
}

// dayWords says a local date.
func dayWords(date string) string {
	t, err := time.Parse("2006-01-02", date)
	if err != nil {
		return date
	}
	return t.Format("Monday 2 January")
}

func (s *Room) dayLinks(r *http.Request) ([]dayLink, error) {
	days, counts, err := s.Shop.Days(r.Context(), s.Shop.Now(page.SessionOf(r).Location).Format("2006-01-02"))
	var out []dayLink
	for i, d := range days {
		out = append(out, dayLink{d, dayWords(d), page.Plural(counts[i], "plan")})
	}
	return out, err
}

// dayPage is the bench list of a day.
type dayPage struct {
	planning.Day
	Turns  []dayTurn
	Lyes   []lyeLine
	Melts  []meltLine
	Liners []document.Liner
	Kinds  []totalKind
	Form   *page.Form
	Asked  supply.Asked // of the store, for all of it
	ToCome bool         // it is today or later: what demand wants is offered
}

type dayTurn struct {
	planning.Plan
	Why         string
	First, Last bool
	Scent       string // that hurries, or empty
	Asked       supply.Asked
}

type lyeLine struct {
	Name      string
	NaOH, KOH float64
	Liquid    float64
	Why       string
	Pots      int
}

type meltLine struct {
	Grams float64
	Parts []plan.Row
}

type totalKind struct {
	Title string
	Rows  []plan.Total
}

func (s *Room) day(w http.ResponseWriter, r *http.Request) error {
	return s.showDay(w, r, http.StatusOK, nil)
}

func (s *Room) showDay(w http.ResponseWriter, r *http.Request, status int, notice *caution.Caution) error {
	date := chi.URLParam(r, "date")
	d, err := s.Shop.Day(r.Context(), date)
	var wrong caution.Problems
	if errors.As(err, &wrong) { // not a date
		return store.ErrNotFound
	}
	if err != nil {
		return err
	}
	p := dayPage{Day: d, Form: &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}}
	for i, one := range d.Plans {
		t := dayTurn{Plan: one, Why: d.Why[i], First: i == 0, Last: i == len(d.Plans)-1}
		if scent, risky := one.Request.Formula.RiskyScent(); risky {
			t.Scent = scent
		}
		p.Turns = append(p.Turns, t)
		p.Liners = append(p.Liners, one.Liners...)
	}
	p.ToCome = date >= s.Shop.Now(page.SessionOf(r).Location).Format(time.DateOnly)
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	var bodies []document.PlanBody
	var pots []int
	for _, one := range d.Plans {
		bodies, pots = append(bodies, one.PlanBody), append(pots, max(0, one.PlanBody.Plan.Batches-len(one.Lots)))
	}
	var each []supply.Asked
	p.Asked, each = room.AskDay(bodies, pots, true)
	for i := range p.Turns {
		p.Turns[i].Asked = each[i]
	}
	for _, turn := range d.Lyes {
		j := d.Jobs[turn.Job]
		p.Lyes = append(p.Lyes, lyeLine{j.Name, j.Plan.NaOH, j.Plan.KOH, j.Plan.LiquidG, turn.Why, j.Plan.Batches})
	}
	for _, m := range d.Melts {
		line := meltLine{Grams: m.Grams}
		for k, job := range m.Jobs {
			line.Parts = append(line.Parts, plan.Row{Name: d.Jobs[job].Name, Grams: m.Each[k]})
		}
		p.Melts = append(p.Melts, line)
	}
	titles := map[string]string{"fat": "Fats", "alkali": "Lye", "liquid": "Liquids", "additive": "Additives, scents and colours"}
	for _, kind := range []string{"fat", "alkali", "liquid", "additive"} {
		k := totalKind{Title: titles[kind]}
		for _, t := range d.Totals {
			if t.Kind == kind {
				k.Rows = append(k.Rows, t)
			}
		}
		if len(k.Rows) > 0 {
			p.Kinds = append(p.Kinds, k)
		}
	}
	return s.Show(w, r, status, "day", fmt.Sprintf("Bench list, %s", dayWords(date)), "Plan", notice, p)
}

// movePlan moves a plan in its day.
func (s *Room) movePlan(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	date := chi.URLParam(r, "date")
	return s.Record(w, r, f, func() (string, error) {
		return "/plan/day/" + date, s.Shop.MovePlan(r.Context(), page.Act(r), date, f.Get("plan"), f.Get("to") == "earlier")
	}, func(status int, notice *caution.Caution) error {
		return s.showDay(w, r, status, notice)
	})
}
