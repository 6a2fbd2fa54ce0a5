package stock

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// heatPage answers how hot lye becomes, how long it cools, and how much ice
// keeps it under a limit.
type heatPage struct {
	Form    *page.Form
	Answers heatAnswers
	Schools []page.Option
	Stands  []page.Option
	Jugs    []page.Option
	Alkalis []page.Option
}

type heatAnswers struct {
	OK       bool
	Problems caution.Problems
	Strength float64
	PeakC    float64
	Measured bool    // a reading is warmer than was worked out, and counts
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
	jug        lye.Jug
	liquid     float64
	waterShare float64 // of what is frozen
	limit      float64
	roomC      float64
	stands     lye.Vessel
	tool       string // that the lye is in
	school     recipe.School
	fats       float64
	fatsC      float64
	readings   []lye.Reading
}

func freshHeat(roomC float64, sys unit.System) url.Values {
	naoh, liquid := "143 g", "290 g"
	if sys == unit.US {
		naoh, liquid = "5 oz", "10 oz"
	}
	return url.Values{
		"naoh_g":   {naoh},
		"liquid_g": {liquid},
		"liquid_c": {unit.FieldTemperature(roomC, sys)},
		"room_c":   {unit.FieldTemperature(roomC, sys)},
		"stands":   {"open"},
		"school":   {string(recipe.Warm)},
		"fats_g":   {page.UsualSize(sys)},
		"fats_c":   {unit.FieldTemperature(55, sys)},
	}
}

func (s *Room) heat(w http.ResponseWriter, r *http.Request) error {
	f, err := s.typedForm(r, heatDraft, freshHeat(page.SessionOf(r).RoomC, page.SessionOf(r).System))
	if err != nil {
		return err
	}
	if old := f.Get("alkali_g"); old != "" && f.Get("naoh_g")+f.Get("koh_g") == "" { // typed before both alkalis had a field
		f.Set(f.Get("kind")+"_g", old)
	}
	if oid := r.URL.Query().Get("plan"); oid != "" {
		if err := s.heatOfPlan(r, f, oid); err != nil {
			return err
		}
	}
	return s.showHeat(w, r, http.StatusOK, f, nil)
}

// heatOfPlan writes the jug of a pot of a plan onto the bench.
func (s *Room) heatOfPlan(r *http.Request, f *page.Form, oid string) error {
	p, err := s.Shop.Plan(r.Context(), oid)
	if err != nil {
		return err
	}
	pot := p.PlanBody.Plan.Pot()
	jug, al := p.Request.JugOf(pot), p.Request.Formula.Alkali
	grams := func(name string, g float64) {
		f.Set(name, "")
		if g > 0.05 {
			f.Set(name, unit.FieldMass(g, f.System))
		}
	}
	dry := jug.Solution // what is not drawn
	for _, name := range []string{"stock_g", "stock_percent", "stock_is", "stock_c"} {
		f.Set(name, "")
	}
	if k := jug.Stock; k != nil {
		d := k.Draw(jug.Drawn)
		grams("stock_g", d.Solution)
		f.Set("stock_percent", unit.Trim(k.Strength, 2))
		f.Set("stock_c", unit.FieldTemperature(k.C, f.System))
		f.Set("stock_is", document.NaOH)
		dry.Water -= d.Water
		if k.KOH {
			f.Set("stock_is", document.KOH)
			dry.KOH -= jug.Drawn
		} else {
			dry.NaOH -= jug.Drawn
		}
	}
	naoh, koh := dry.NaOH/al.NaOHPurity*100, dry.KOH/al.KOHPurity*100
	grams("naoh_g", naoh)
	grams("koh_g", koh)
	f.Set("naoh_purity", unit.Trim(al.NaOHPurity, 2))
	f.Set("koh_purity", unit.Trim(al.KOHPurity, 2))
	grams("liquid_g", dry.Mass()-naoh-koh)
	grams("taken_g", dry.Taken)
	grams("frozen_g", jug.Frozen.Grams)
	f.Set("frozen_water_percent", "")
	if jug.Frozen.Grams > 0 {
		f.Set("frozen_water_percent", unit.Trim(100*jug.Frozen.Water/jug.Frozen.Grams, 2))
	}
	f.Set("liquid_c", unit.FieldTemperature(p.Request.LiquidC, f.System))
	f.Set("fats_g", unit.FieldMass(pot.FatsG, f.System))
	f.Set("school", string(p.Request.Formula.Worked()))
	f.Set("readings", "")
	return nil
}

func (s *Room) showHeat(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	tools, err := s.Shop.Tools(r.Context())
	if err != nil {
		return err
	}
	a, err := s.heatAnswers(r, f)
	if err != nil {
		return err
	}
	return s.Show(
		w,
		r,
		status,
		"heat",
		"Heat and ice",
		"Lye",
		notice,
		heatPage{Form: f, Answers: a, Schools: page.Options(recipe.Schools()), Stands: page.Options(lye.Vessels()),
			Jugs: page.ToolOptions(
				tools,
				document.Jug,
				"do not count the jug",
			), Alkalis: []page.Option{{Value: document.NaOH, Label: "sodium hydroxide"}, {Value: document.KOH, Label: "potassium hydroxide"}}},
	)
}

func readHeat(f *page.Form) heatInput {
	usual := lye.DefaultAlkali()
	in := heatInput{
		liquid: page.IfTyped(f, "liquid_g", f.Mass, 0),
		roomC:  f.Temperature("room_c"),
		stands: lye.Vessel(f.Get("stands")),
		tool:   f.Get("jug"),
		school: recipe.School(f.Get("school")),
		limit: page.IfTyped(
			f,
			"limit_c",
			f.Temperature,
			0,
		),
		fats:       page.IfTyped(f, "fats_g", f.Mass, 0),
		fatsC:      page.IfTyped(f, "fats_c", f.Temperature, 0),
		waterShare: page.IfTyped(f, "frozen_water_percent", f.Number, 100) / 100,
	}
	naoh, koh := page.IfTyped(f, "naoh_g", f.Mass, 0), page.IfTyped(f, "koh_g", f.Mass, 0)
	al := lye.Alkali{
		NaOHPurity: page.IfTyped(f, "naoh_purity", f.Number, usual.NaOHPurity),
		KOHPurity:  page.IfTyped(f, "koh_purity", f.Number, usual.KOHPurity),
	}
	frozen := page.IfTyped(f, "frozen_g", f.Mass, 0)
	in.jug = lye.Jug{LiquidC: f.Temperature("liquid_c"), Frozen: lye.Frozen{Grams: frozen, Water: frozen * in.waterShare}}
	stock := page.IfTyped(f, "stock_g", f.Mass, 0)
	p := &f.Problems
	if stock > 0 {
		k := lye.Stock{Strength: f.Number("stock_percent"), C: f.Temperature("stock_c"), KOH: f.Get("stock_is") == document.KOH}
		caution.LyeStrength.Check(p, "stock_percent", "the strength of the stock", k.Strength)
		in.jug.Stock, in.jug.Drawn = &k, stock*k.Strength/100
	}
	if len(*p) == 0 {
		caution.Purity.Check(p, "naoh_purity", "the purity", al.NaOHPurity)
		caution.Purity.Check(p, "koh_purity", "the purity", al.KOHPurity)
		caution.Temperature.Check(p, "liquid_c", "the liquid", in.jug.LiquidC)
		if naoh+koh+stock <= 0 {
			p.Add("naoh_g", "say how much lye: dry, or from a stock")
		}
		if in.liquid+stock <= 0 {
			p.Add("liquid_g", "say how much liquid takes the lye")
		}
		if in.jug.Solution.Taken = page.IfTyped(f, "taken_g", f.Mass, 0); in.jug.Solution.Taken > naoh+koh+in.jug.Drawn {
			p.Add("taken_g", "acids cannot take up more lye than there is")
		}
		if frozen > in.liquid {
			p.Add("frozen_g", "more is frozen than there is liquid in all")
		}
		if !(in.waterShare > 0 && in.waterShare <= 1) {
			p.Add("frozen_water_percent", "between 1 and 100 %%: ice is all water, milk about 87 %%")
		}
	}
	sol := &in.jug.Solution
	sol.NaOH, sol.KOH = naoh*al.NaOHPurity/100, koh*al.KOHPurity/100
	sol.Bound = koh - sol.KOH
	sol.Water = naoh + koh - sol.NaOH - sol.KOH + in.liquid + stock
	if k := in.jug.Stock; k != nil {
		sol.Water -= in.jug.Drawn
		if k.KOH {
			sol.KOH += in.jug.Drawn
		} else {
			sol.NaOH += in.jug.Drawn
		}
	}
	if strength := sol.Strength(); strength > caution.MostDissolved && len(*p) == 0 {
		need := (sol.NaOH+sol.KOH)*(100-caution.MostDissolved)/caution.MostDissolved - (sol.Water - in.liquid)
		p.Add("liquid_g", "%s %% lye does not dissolve: at least %s g of liquid", unit.Trim(strength, 1), unit.Trim(math.Ceil(need), 0))
	}
	in.readings = readReadings(f)
	return in
}

// readReadings reads logged temperatures, one a line: minutes and degrees.
func readReadings(f *page.Form) []lye.Reading {
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

// heatAnswers works out what is typed on the heat bench; a fault is answered,
// and ok is false.
func (s *Room) heatAnswers(r *http.Request, f *page.Form) (a heatAnswers, err error) {
	tools, err := s.Shop.Tools(r.Context())
	if err != nil {
		return a, err
	}
	return s.computeHeat(r, f, tools)
}

func (s *Room) computeHeat(r *http.Request, f *page.Form, tools []catalog.Tool) (a heatAnswers, err error) {
	had := f.Problems
	f.Problems = nil
	in := readHeat(f)
	a.Problems = f.Problems
	f.Problems = append(had, f.Problems...)
	if len(a.Problems) > 0 {
		return a, nil
	}
	sol := in.jug.Solution
	grams := sol.Mass()
	a.OK, a.Strength, a.BoilsC, a.PeakC = true, sol.Strength(), sol.BoilsC(), in.jug.PeakC()
	for _, r := range in.readings {
		if r.C > a.PeakC {
			a.PeakC, a.Measured = r.C, true
		}
	}
	a.LossyC = a.PeakC
	for _, t := range tools {
		if t.OID == in.tool && t.Tare > 0 {
			a.Jug = true
			a.LossyC = sol.Lossy(a.PeakC, t.Tare, lye.Material("pp").VesselHeat(), in.roomC)
		}
	}
	a.Low, a.High = in.school.Range()
	around := lye.Surroundings(in.roomC, in.stands)
	if a.Tau, a.Seen, err = s.Shop.Tau(r.Context(), in.tool, in.stands, false, grams); err != nil {
		return a, err
	}
	cool := lye.Cooling{StartC: a.LossyC, RoomC: around, Tau: a.Tau}
	a.cooled = store.Cooled{Tool: in.tool, Stands: string(in.stands), Usual: lye.UsualTau(grams, in.stands, false)}
	now := 0.0
	if len(in.readings) > 0 {
		cool = cool.Learn(in.readings)
		a.Tau, a.Learned, a.cooled.Learned = cool.Tau, len(in.readings) > 1, cool.Tau
		now = in.readings[len(in.readings)-1].Minutes
		a.From = unit.Trim(now, 0)
	}
	wait := cool.Until(a.High) - now
	a.ToRange = page.MinutesWords(math.Max(0, wait))
	picture := draw.HeatInput{Lye: cool, Low: a.Low, High: a.High, Meet: math.NaN(), Readings: in.readings, Units: f.System}
	if in.fats > 0 && f.Get("fats_c") != "" {
		tau, _, err := s.Shop.Tau(r.Context(), "", in.stands, true, in.fats)
		if err != nil {
			return a, err
		}
		fats := lye.Cooling{StartC: in.fatsC, RoomC: around, Tau: tau}
		picture.Fats = &fats
		a.Meet = "Lye and fats do not come together within the range on their own: warm or cool one of them."
		if fats.StartC < a.Low {
			a.Meet = "The fats are below the range already: warm them first."
		}
		if m, ok := lye.Meet(cool, fats, a.Low, a.High, lye.MostApart); ok {
			picture.Meet = m
			a.Meet = fmt.Sprintf(
				"Ready to combine in %s: lye at %s, fats at %s.",
				page.MinutesWords(math.Max(0, m-now)),
				unit.FormatTemperature(cool.At(m), f.System),
				unit.FormatTemperature(math.Max(fats.At(m), a.Low), f.System),
			)
			if fats.At(m) < a.Low {
				a.Meet += " Keep the fats from falling below that until then, so that solid ones do not set."
			}
		}
	}
	if f.Get("limit_c") != "" {
		a.iceFor(in, f.System)
	}
	a.Picture = draw.OfHeat(picture)
	a.Cautions = append(in.jug.Advise(), sol.AdviseCold(around)...)
	caution.Sort(a.Cautions)
	return a, nil
}

// iceFor answers the reverse question: how much of the liquid to freeze.
func (a *heatAnswers) iceFor(in heatInput, sys unit.System) {
	a.IceAsked, a.Limit = true, in.limit
	g, ok := in.jug.FrozenFor(in.limit, in.liquid, in.waterShare)
	a.IceOK = ok
	limit := unit.FormatTemperature(in.limit, sys)
	switch {
	case g == 0:
		a.Ice = "It stays under " + limit + " without ice."
	case ok:
		a.Ice = fmt.Sprintf(
			"Freeze %s g of the %s g (%s %%) to stay under %s.",
			unit.Trim(math.Ceil(g), 0),
			unit.Trim(in.liquid, 0),
			unit.Trim(math.Ceil(100*g/in.liquid), 0),
			limit,
		)
	default:
		all := in.jug
		all.Frozen = lye.Frozen{Grams: in.liquid, Water: in.liquid * in.waterShare}
		a.Ice = fmt.Sprintf(
			"Even with all of it frozen it reaches %s. Stand the jug in ice and water and add the lye in portions, or use more liquid.",
			unit.FormatTemperature(all.PeakC(), sys),
		)
	}
}

func (s *Room) heatLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, heatDraft)
	if err != nil {
		return err
	}
	if live.Answers, err = s.heatAnswers(r, live.Form); err != nil {
		return err
	}
	return s.Render(w, r, http.StatusOK, "heat-live", live)
}

// noteHeat keeps what the readings told of a jug, for the next time.
func (s *Room) noteHeat(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if done, err := s.OnlyTyped(w, r, heatDraft, "/lye/heat", f); done {
		return err
	}
	a, err := s.heatAnswers(r, f)
	if err != nil {
		return err
	}
	f.Problems = a.Problems
	return s.Record(w, r, f, func() (string, error) {
		if err := s.Shop.NoteCooling(r.Context(), page.Act(r), a.cooled); err != nil {
			return "", err
		}
		f.Set("readings", "")
		_, err := s.KeepTyped(r, heatDraft, f)
		return "/lye/heat", err
	}, func(status int, notice *caution.Caution) error {
		return s.showHeat(w, r, status, f, notice)
	})
}
