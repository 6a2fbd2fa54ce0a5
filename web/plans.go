package web

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
)

// planCopy is where the plan bench's working copy is kept: one for the shop.
const planCopy = "bench"

type planBench struct {
	Form    *Form
	Recipes []Option
	Molds   []planMold
	Rules   []Option
	Answers planAnswers
	Open    []shop.Plan
	Ready   bool // there is a recipe and a mold to plan with
}

type planMold struct {
	shop.Mold
	Field string
	Draw  draw.Mold
	Holds float64
}

// planAnswers is the plan as it stands.
type planAnswers struct {
	OK       bool
	Problems caution.Problems
	Worked   shop.Worked
	Pot      plan.Plan
	BarG     float64
	Bars     int
	System   unit.System
	Blocked  bool
}

func (s *Server) planBench(w http.ResponseWriter, r *http.Request) {
	c, err := s.shop.Copy(r.Context(), "plan", planCopy)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	f := &Form{Values: url.Values{}, System: sessionOf(r).System}
	if c != nil {
		f.Values = url.Values(c.Form)
	} else {
		o := sessionOf(r).DefaultOrder()
		f.Set("fill_rule", string(o.Rule))
		f.Set("pot_loss_percent", unit.Trim(o.PotLoss, 2))
		f.Set("resolution_g", unit.Trim(o.ScaleStep, 2)+" g")
		f.Set("liquid_temperature_c", unit.FormatTemperature(o.LiquidC, f.System))
	}
	// A link from a recipe or a mold chooses it.
	if v := r.URL.Query().Get("recipe"); v != "" {
		f.Set("recipe", v)
	}
	if v := r.URL.Query().Get("mold"); v != "" && f.Get("count."+v) == "" {
		f.Set("count."+v, "1")
	}
	s.showPlan(w, r, http.StatusOK, f, nil)
}

func (s *Server) showPlan(w http.ResponseWriter, r *http.Request, status int, f *Form, notice *caution.Caution) {
	recipes, err := s.shop.Recipes(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	molds, err := s.shop.Molds(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	open, err := s.shop.OpenPlans(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	b := planBench{Form: f, Rules: options(plan.FillRules()), Open: open, Ready: len(recipes) > 0 && len(molds) > 0, Recipes: []Option{{"", "choose a recipe"}}}
	for _, one := range recipes {
		b.Recipes = append(b.Recipes, Option{one.OID, one.Name})
	}
	all := make([]mold.Mold, len(molds))
	for i, m := range molds {
		all[i] = m.Mold
	}
	scale := draw.CommonScale(all)
	for _, m := range molds {
		b.Molds = append(b.Molds, planMold{m, "count." + m.OID, draw.OfMold(m.Mold, m.Bars, scale), m.Mold.Volume()})
	}
	b.Answers, err = s.answersForPlan(r, f, status != http.StatusOK)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.show(w, r, status, "plan", "Plan", "Plan", notice, b)
}

// readOrder reads the plan bench.
func readOrder(f *Form) (o shop.Order) {
	o.Recipe, o.Rule = f.Get("recipe"), plan.FillRule(f.Get("fill_rule"))
	o.PotLoss = ifTyped(f, "pot_loss_percent", f.Number, 0)
	o.PotCapacity = ifTyped(f, "pot_capacity_g", f.Mass, 0)
	o.ScaleStep = f.Mass("resolution_g")
	o.LiquidC = f.Temperature("liquid_temperature_c")
	for name := range f.Values {
		if oid, ok := strings.CutPrefix(name, "count."); ok && f.Get(name) != "" {
			o.Molds = append(o.Molds, shop.OrderMold{OID: oid, Count: f.Count(name)})
		}
	}
	if o.Recipe == "" {
		f.Problems.Add("recipe", "choose what to make")
	}
	return o
}

// answersForPlan works the order out. Problems stay beside their fields; while
// nothing was sent, an empty bench is not a mistake.
func (s *Server) answersForPlan(r *http.Request, f *Form, sent bool) (planAnswers, error) {
	had := f.Problems
	f.Problems = nil
	o := readOrder(f)
	a := planAnswers{System: f.System}
	if !sent && (o.Recipe == "" || len(o.Molds) == 0) {
		f.Problems = nil
		return a, nil
	}
	if len(f.Problems) == 0 {
		w, err := s.shop.WorkOut(r.Context(), o)
		var p caution.Problems
		switch {
		case errors.As(err, &p):
			f.Problems = p
		case err != nil:
			return a, err
		default:
			a.OK, a.Worked, a.Pot, a.Bars = true, w, w.Plan.Pot(), w.Bars()
			a.Blocked = len(caution.Blocks(w.Plan.Cautions)) > 0
			if a.Bars > 0 {
				a.BarG = (a.Pot.BatterG + additives(a.Pot)) * (1 - o.PotLoss/100) / float64(a.Bars)
			}
		}
	}
	for _, p := range had {
		if f.Problems.At(p.Path) == "" {
			f.Problems = append(f.Problems, p)
		}
	}
	a.Problems = f.Problems
	return a, nil
}

func additives(p plan.Plan) float64 {
	sum := 0.0
	for _, r := range p.Additives {
		sum += r.Grams
	}
	return sum
}

func (s *Server) planLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	other, err := s.shop.SaveCopy(r.Context(), act(r), "plan", planCopy, r.PostFormValue("tab"), 0, f.Values)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	a, err := s.answersForPlan(r, f, false)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	live := liveAnswer{Form: f, Names: append(fieldNames(f.Values), "molds"), Answers: a}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "plan-live", live)
}

func (s *Server) keepPlan(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	if r.PostFormValue("do") == "discard" {
		if err := s.shop.DropCopy(r.Context(), "plan", planCopy); err != nil {
			s.fail(w, r, err)
			return
		}
		seeOther(w, r, "/plan")
		return
	}
	if r.PostFormValue("do") != "keep" {
		if _, err := s.shop.SaveCopy(r.Context(), act(r), "plan", planCopy, r.PostFormValue("tab"), 0, f.Values); err != nil {
			s.fail(w, r, err)
			return
		}
		seeOther(w, r, "/plan")
		return
	}
	o := readOrder(f)
	err := f.Problems.Err()
	if err == nil {
		var oid string
		if oid, err = s.shop.KeepPlan(r.Context(), act(r), o); err == nil {
			if err = s.shop.DropCopy(r.Context(), "plan", planCopy); err == nil {
				seeOther(w, r, "/plans/"+oid)
				return
			}
		}
	}
	status, notice, ok := s.refused(w, r, err, nil)
	if !ok {
		return
	}
	if _, err := s.shop.SaveCopy(r.Context(), act(r), "plan", planCopy, r.PostFormValue("tab"), 0, f.Values); err != nil {
		s.fail(w, r, err)
		return
	}
	s.showPlan(w, r, status, f, notice)
}

type planPage struct {
	shop.Plan
	Form    *Form
	Pot     plan.Plan
	BarG    float64
	Blocks  []caution.Caution
	NextPot int
	Volume  float64
}

func (s *Server) plan(w http.ResponseWriter, r *http.Request) {
	s.showKeptPlan(w, r, http.StatusOK, &Form{Values: url.Values{}, System: sessionOf(r).System}, nil)
}

func (s *Server) showKeptPlan(w http.ResponseWriter, r *http.Request, status int, f *Form, notice *caution.Caution) {
	p, err := s.shop.Plan(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	page := planPage{Plan: p, Form: f, Pot: p.PlanBody.Plan.Pot(), Blocks: caution.Blocks(p.PlanBody.Plan.Cautions), NextPot: p.NextPot(), Volume: p.Request.Target.Volume()}
	if n := p.Bars(); n > 0 {
		page.BarG = (page.Pot.BatterG + additives(page.Pot)) * (1 - p.Request.PotLoss/100) / float64(n)
	}
	s.show(w, r, status, "weighsheet", "Weigh sheet: "+p.PlanBody.Recipe, "Plan", notice, page)
}

func (s *Server) startLot(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	pot, err := strconv.Atoi(f.Get("pot"))
	if err != nil {
		pot = 0
	}
	oid, err := s.shop.StartLot(r.Context(), act(r), chi.URLParam(r, "oid"), pot, f.Get("override"))
	if err == nil {
		seeOther(w, r, "/make/"+oid)
		return
	}
	status, notice, ok := s.refused(w, r, err, f)
	if ok {
		s.showKeptPlan(w, r, status, f, notice)
	}
}

// tagOf is the line on a lot's tag at the rack.
func tagOf(day, of int) string { return fmt.Sprintf("day %d of %d", day, of) }
