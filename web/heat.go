package web

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strings"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

// heatPage answers how hot lye becomes, how long it cools, and how much ice
// keeps it under a limit.
type heatPage struct {
	Form    *Form
	Answers heatAnswers
	Schools []Option
	Stands  []Option
	Jugs    []Option
	Frozens []Option
}

type heatAnswers struct {
	OK       bool
	Problems caution.Problems
	Strength float64
	PeakC    float64
	LossyC   float64 // with the jug's share; the same as PeakC without one
	Jug      bool
	BoilsC   float64
	Low      float64
	High     float64
	ToRange  string // how long until the working range
	From     string // the minute that the times count from, when it was measured
	Meet     string
	Tau      float64
	Seen     int // coolings of the shop that this rests on
	Learned  bool
	Ice      string // how much of the liquid to freeze, in words
	IceOK    bool
	IceAsked bool
	Limit    float64
	Picture  draw.Picture
	Cautions []caution.Caution
	cooled   store.Cooled
}

// heatInput is what is typed on the heat bench.
type heatInput struct {
	solution   lye.Solution
	liquid     float64
	liquidC    float64
	frozen     float64 // g
	waterShare float64
	limit      float64
	roomC      float64
	stands     lye.Vessel
	jug        string
	school     recipe.School
	fats       float64
	fatsC      float64
	readings   []lye.Reading
}

func freshHeat(roomC float64, sys unit.System) url.Values {
	return url.Values{"kind": {shop.NaOH}, "alkali_g": {"143 g"}, "liquid_g": {"290 g"}, "liquid_c": {unit.FormatTemperature(roomC, sys)}, "room_c": {unit.FormatTemperature(roomC, sys)},
		"stands": {"open"}, "school": {string(recipe.Warm)}, "frozen_is": {"ice"}, "fats_g": {"1000 g"}, "fats_c": {unit.FormatTemperature(55, sys)}}
}

func (s *Server) heat(w http.ResponseWriter, r *http.Request) {
	f, err := s.typedBench(r, heatCopy, freshHeat(sessionOf(r).RoomC, sessionOf(r).System))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if oid := r.URL.Query().Get("plan"); oid != "" {
		if err := s.heatOfPlan(r, f, oid); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	s.showHeat(w, r, http.StatusOK, f, nil)
}

// heatOfPlan writes what a pot of a plan weighs onto the bench.
func (s *Server) heatOfPlan(r *http.Request, f *Form, oid string) error {
	p, err := s.shop.Plan(r.Context(), oid)
	if err != nil {
		return err
	}
	pot := p.PlanBody.Plan.Pot()
	f.Set("kind", shop.NaOH) // a mix of both counts as the one that heats more
	if pot.NaOH == 0 {
		f.Set("kind", shop.KOH)
	}
	carried, frozen := 0.0, 0.0
	for i, l := range p.Request.Formula.Liquids {
		if l.Carries {
			carried += pot.Liquids[i].Grams
			if l.Frozen {
				frozen += pot.Liquids[i].Grams
			}
		}
	}
	f.Set("alkali_g", unit.Trim(pot.NaOH+pot.KOH, 1)+" g")
	f.Set("liquid_g", unit.Trim(carried, 1)+" g")
	f.Set("frozen_g", "")
	if frozen > 0 {
		f.Set("frozen_g", unit.Trim(frozen, 1)+" g")
	}
	f.Set("fats_g", unit.Trim(pot.FatsG, 0)+" g")
	f.Set("school", string(p.Request.Formula.School))
	f.Set("readings", "")
	return nil
}

func (s *Server) showHeat(w http.ResponseWriter, r *http.Request, status int, f *Form, notice *caution.Caution) {
	tools, err := s.shop.Tools(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	a, ok := s.heatAnswers(w, r, f)
	if !ok {
		return
	}
	s.show(w, r, status, "heat", "Heat and ice", "Lye", notice, heatPage{Form: f, Answers: a, Schools: options(recipe.Schools()), Stands: options(lye.Vessels()),
		Jugs: toolOptions(tools, shop.Jug, "do not count the jug"), Frozens: []Option{{"ice", "ice"}, {"milk", "frozen milk"}}})
}

// frozenMilk is the water in frozen milk, 0 to 1.
const frozenMilk = 0.87

func readHeat(f *Form) heatInput {
	in := heatInput{liquid: f.Mass("liquid_g"), liquidC: f.Temperature("liquid_c"), roomC: f.Temperature("room_c"), stands: lye.Vessel(f.Get("stands")), jug: f.Get("jug"), school: recipe.School(f.Get("school")),
		frozen: ifTyped(f, "frozen_g", f.Mass, 0), limit: ifTyped(f, "limit_c", f.Temperature, 0), fats: ifTyped(f, "fats_g", f.Mass, 0), fatsC: ifTyped(f, "fats_c", f.Temperature, 0), waterShare: 1}
	if f.Get("frozen_is") == "milk" {
		in.waterShare = frozenMilk
	}
	alkali := f.Mass("alkali_g")
	if f.Get("kind") == shop.KOH {
		in.solution = lye.Solution{KOH: alkali, Water: in.liquid}
	} else {
		in.solution = lye.Solution{NaOH: alkali, Water: in.liquid}
	}
	p := &f.Problems
	if len(*p) == 0 {
		caution.Positive(p, "alkali_g", "the lye", alkali)
		caution.Positive(p, "liquid_g", "the liquid", in.liquid)
		caution.Temperature.Check(p, "liquid_c", "the liquid", in.liquidC)
		if in.frozen > in.liquid {
			p.Add("frozen_g", "more is frozen than there is liquid in all")
		}
		if strength := 100 * alkali / (alkali + in.liquid); strength > caution.MostDissolved && in.liquid > 0 {
			p.Add("liquid_g", "%s %% lye does not dissolve: at least %s g of liquid", unit.Trim(strength, 1), unit.Trim(math.Ceil(alkali*(100-caution.MostDissolved)/caution.MostDissolved), 0))
		}
	}
	in.readings = readReadings(f)
	return in
}

// readReadings reads logged temperatures, one a line: minutes and degrees.
func readReadings(f *Form) []lye.Reading {
	var out []lye.Reading
	for i, line := range strings.Split(f.Values.Get("readings"), "\n") {
		if line = strings.TrimSpace(line); line == "" {
			continue
		}
		words := strings.Fields(strings.NewReplacer(":", " ", ";", " ", "min", " ").Replace(line))
		if len(words) < 2 {
			f.Problems.Add("readings", "line %d: write minutes and degrees, such as 10 78", i+1)
			return nil
		}
		m, err := unit.Number(words[0])
		var c float64
		if err == nil {
			c, err = unit.Temperature(strings.Join(words[1:], " "), f.System.TemperatureUnit())
		}
		if err != nil || m < 0 {
			f.Problems.Add("readings", "line %d, “%s”: write minutes and degrees, such as 10 78", i+1, line)
			return nil
		}
		out = append(out, lye.Reading{Minutes: m, C: c})
	}
	return out
}

func minutesWords(m float64) string {
	switch {
	case math.IsInf(m, 1):
		return "never: its surroundings are warmer"
	case m < 1:
		return "now"
	case m < 100:
		return fmt.Sprintf("%.0f minutes", m)
	}
	return fmt.Sprintf("%.1f hours", m/60)
}

// heatAnswers works out what is typed on the heat bench; a fault is answered,
// and ok is false.
func (s *Server) heatAnswers(w http.ResponseWriter, r *http.Request, f *Form) (a heatAnswers, ok bool) {
	tools, err := s.shop.Tools(r.Context())
	if err == nil {
		a, err = s.workOutHeat(r, f, tools)
	}
	if err != nil {
		s.fail(w, r, err)
	}
	return a, err == nil
}

func (s *Server) workOutHeat(r *http.Request, f *Form, tools []shop.Tool) (a heatAnswers, err error) {
	had := f.Problems
	f.Problems = nil
	in := readHeat(f)
	a.Problems = f.Problems
	f.Problems = append(had, f.Problems...)
	if len(a.Problems) > 0 {
		return a, nil
	}
	sol := in.solution
	grams := sol.NaOH + sol.KOH + sol.Water
	a.OK, a.Strength, a.BoilsC = true, 100*(sol.NaOH+sol.KOH)/grams, sol.BoilsC()
	a.PeakC = lye.PeakDry(sol, in.liquidC, lye.Frozen{Grams: in.frozen, Water: in.frozen * in.waterShare})
	a.LossyC = a.PeakC
	for _, t := range tools {
		if t.OID == in.jug && t.Tare > 0 {
			a.Jug = true
			a.LossyC = sol.Lossy(a.PeakC, t.Tare, lye.Material("pp").VesselHeat(), in.roomC)
		}
	}
	a.Low, a.High = in.school.Range()
	around := lye.Surroundings(in.roomC, in.stands)
	if a.Tau, a.Seen, err = s.shop.Tau(r.Context(), in.jug, in.stands, false, grams); err != nil {
		return a, err
	}
	cool := lye.Cooling{StartC: a.LossyC, RoomC: around, Tau: a.Tau}
	a.cooled = store.Cooled{Tool: in.jug, Stands: string(in.stands), Usual: lye.UsualTau(grams, in.stands, false)}
	now := 0.0
	if len(in.readings) > 0 {
		cool = cool.Learn(in.readings)
		a.Tau, a.Learned, a.cooled.Learned = cool.Tau, len(in.readings) > 1, cool.Tau
		now = in.readings[len(in.readings)-1].Minutes
		a.From = unit.Trim(now, 0)
	}
	wait := cool.Until(a.High) - now
	a.ToRange = minutesWords(math.Max(0, wait))
	picture := draw.HeatInput{Lye: cool, Low: a.Low, High: a.High, Meet: math.NaN(), Readings: in.readings}
	if in.fats > 0 && f.Get("fats_c") != "" {
		tau, _, err := s.shop.Tau(r.Context(), "", in.stands, true, in.fats)
		if err != nil {
			return a, err
		}
		fats := lye.Cooling{StartC: in.fatsC, RoomC: around, Tau: tau}
		picture.Fats = &fats
		a.Meet = "Lye and fats do not come together within the range on their own: warm or cool one of them."
		if m, ok := lye.Meet(cool, fats, a.High, mostApartC); ok {
			picture.Meet = m
			a.Meet = fmt.Sprintf("Ready to combine in %s: lye at %s, fats at %s.", minutesWords(math.Max(0, m-now)), unit.FormatTemperature(cool.At(m), f.System), unit.FormatTemperature(fats.At(m), f.System))
			if fats.At(m) < a.Low {
				a.Meet += " By then the fats are below the range; keep them warm so that solid ones do not set."
			}
		}
	}
	if f.Get("limit_c") != "" {
		a.iceFor(in, f.System)
	}
	a.Picture = draw.OfHeat(picture)
	a.Cautions = append(sol.AdviseBoil(a.PeakC), a.Cautions...)
	return a, nil
}

// mostApartC is how far lye and fats may be apart when they are combined, °C.
const mostApartC = 10.0

// iceFor answers the reverse question: how much of the liquid to freeze.
func (a *heatAnswers) iceFor(in heatInput, sys unit.System) {
	a.IceAsked, a.Limit = true, in.limit
	g, ok := lye.FrozenFor(in.solution, in.liquidC, in.limit, in.liquid, in.waterShare)
	a.IceOK = ok
	limit := unit.FormatTemperature(in.limit, sys)
	switch {
	case g == 0:
		a.Ice = "It stays under " + limit + " without ice."
	case ok:
		a.Ice = fmt.Sprintf("Freeze %s g of the %s g (%s %%) to stay under %s.", unit.Trim(math.Ceil(g), 0), unit.Trim(in.liquid, 0), unit.Trim(math.Ceil(100*g/in.liquid), 0), limit)
	default:
		peak := lye.PeakDry(in.solution, in.liquidC, lye.Frozen{Grams: in.liquid, Water: in.liquid * in.waterShare})
		a.Ice = fmt.Sprintf("Even with all of it frozen it reaches %s. Stand the jug in ice and water and add the lye in portions, or use more liquid.", unit.FormatTemperature(peak, sys))
	}
}

func (s *Server) heatLive(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	other, err := s.keepTyped(r, heatCopy, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	a, ok := s.heatAnswers(w, r, f)
	if !ok {
		return
	}
	live := liveAnswer{Form: f, Names: fieldNames(f.Values), Answers: a}
	if other {
		live.Notice = noticeElsewhere
	}
	s.render(w, r, http.StatusOK, "heat-live", live)
}

// noteHeat keeps what the readings told of a jug, for the next time.
func (s *Server) noteHeat(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok || s.typedAgain(w, r, heatCopy, "/lye/heat", f) {
		return
	}
	a, ok := s.heatAnswers(w, r, f)
	if !ok {
		return
	}
	err := a.Problems.Err()
	if err == nil {
		if err = s.shop.NoteCooling(r.Context(), act(r), a.cooled); err == nil {
			f.Set("readings", "")
			if _, err = s.keepTyped(r, heatCopy, f); err == nil {
				seeOther(w, r, "/lye/heat")
				return
			}
		}
	}
	f.Problems = nil
	if status, notice, ok := s.refused(w, r, err, f); ok {
		s.showHeat(w, r, status, f, notice)
	}
}
