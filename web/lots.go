package web

import (
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/day"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/schedule"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

// lotLine is a lot in a list.
type lotLine struct {
	*lot.Lot
	Stage  lot.Stage
	Gate   *cure.Gate
	Drying cure.Drying
	Age    int
	Held   []string
	Batter float64
}

func lineOf(l *lot.Lot, now time.Time) lotLine {
	line := lotLine{Lot: l, Stage: l.Stage(), Held: l.Held(), Batter: l.Frozen.Pot.BatterG}
	if l.Pour != nil {
		f := l.Facts(now)
		g := f.Open()
		line.Gate, line.Drying, line.Age = &g, cure.Dry(f.Samples), cure.Days(f.Poured, now)
	}
	return line
}

// tag is the second line of a lot's tag.
func (l lotLine) tag() string {
	switch {
	case len(l.Held) > 0:
		return "on hold"
	case l.Stage == lot.Weighed:
		return "on the bench"
	case l.Stage == lot.InMold:
		return "in the mold"
	case l.Stage == lot.Unmolded:
		return "to cut"
	case l.Stage == lot.Curing && l.Gate.DaysLeft == 0:
		return "days done"
	case l.Stage == lot.Curing:
		return cure.DayOf(l.Age, l.Policy().Days)
	}
	return plural(l.InStock(), "bar") + " ready"
}

// Missing says in short what the gate still misses.
func (l lotLine) Missing() string {
	var out []string
	for _, c := range l.Gate.Conditions {
		if c.Met {
			continue
		}
		word := c.Code
		switch c.Code {
		case "check":
			word = "safety check"
		case "hold":
			word = "on hold"
		}
		out = append(out, word)
	}
	return strings.Join(out, ", ")
}

// mostPlans is how many open plans are listed when nobody asks for all.
const mostPlans = 20

func (s *Server) makeList(w http.ResponseWriter, r *http.Request) {
	lots, err := s.shop.OnBench(r.Context())
	if err != nil {
		s.fail(w, r, err)
		return
	}
	plans, all, err := s.shop.OpenPlans(r.Context(), mostPlans)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.show(w, r, http.StatusOK, "makelist", "Make", "Make", nil, struct {
		Lots  []*lot.Lot
		Plans []shop.Plan
		All   int
		None  bool
	}{lots, plans, all, len(lots) == 0 && len(plans) == 0})
}

// mostLots is how many lots the log shows at once.
const mostLots = 60

// lotsPage is the log: what was looked for, and what fits.
type lotsPage struct {
	Lines                  []lotLine
	All, From, To          int
	Before, After          string // addresses of the pages around this one
	Form                   *Form
	Stages, Recipes, Kinds []Option
	None, Narrowed         bool
}

// earlyCheck is the choice of lots that were released on a check made too early.
const earlyCheck = "early-check"

// foundLots are the lots that fit, and how many fit in all.
func (s *Server) foundLots(r *http.Request, where store.LotsWhere) ([]*lot.Lot, int, error) {
	if !where.Unproven {
		return s.shop.FindLots(r.Context(), where)
	}
	list, err := s.shop.OnEarlyCheck(r.Context())
	return list, len(list), err
}

func (s *Server) lots(w http.ResponseWriter, r *http.Request) {
	q := r.URL.Query()
	f := &Form{Values: q, System: sessionOf(r).System}
	if n, err := lot.ParseCode(f.Get("q")); err == nil {
		if list, err := s.shop.Lots(r.Context(), store.LotsWhere{Number: n}); err == nil && len(list) > 0 {
			seeOther(w, r, "/lots/"+list[0].OID)
			return
		}
	}
	where := store.LotsWhere{Text: f.Get("q"), Recipe: f.Get("recipe"), Material: f.Get("material"), Trouble: f.Get("trouble"), Most: mostLots}
	if stage := lot.Stage(f.Get("stage")); stage == earlyCheck {
		where.Unproven = true
	} else if stage != "" {
		where.Stages = []lot.Stage{stage}
	}
	where.From, where.To = readDay(f, "from", sessionOf(r).Location), readDay(f, "to", sessionOf(r).Location)
	if !where.To.IsZero() {
		where.To = day.Plus(where.To, 1) // the day itself belongs to it
	}
	if n, err := strconv.Atoi(f.Get("skip")); err == nil && n > 0 && n < 1e6 {
		where.Skip = n
	}
	p := lotsPage{Form: f, Narrowed: where.Text+where.Recipe+where.Material+where.Trouble+f.Get("stage")+f.Get("from")+f.Get("to") != ""}
	list, all, err := s.foundLots(r, where)
	if err == nil && all == 0 && !p.Narrowed {
		p.None = true
	}
	var recipes []shop.Recipe
	if err == nil {
		recipes, err = s.shop.Recipes(r.Context())
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	now := s.shop.Now(sessionOf(r).Location)
	for _, l := range list {
		p.Lines = append(p.Lines, lineOf(l, now))
	}
	p.All, p.From, p.To = all, min(where.Skip+1, all), where.Skip+len(list)
	listed := func(skip int) string {
		q := url.Values{}
		for name := range f.Values {
			if v := f.Get(name); v != "" && name != "skip" {
				q.Set(name, v)
			}
		}
		if skip > 0 {
			q.Set("skip", strconv.Itoa(skip))
		}
		return "/lots?" + q.Encode()
	}
	if where.Skip > 0 {
		p.Before = listed(max(0, where.Skip-mostLots))
	}
	if p.To < all {
		p.After = listed(p.To)
	}
	p.Stages = []Option{{"", "any stage"}}
	for _, st := range []lot.Stage{lot.Weighed, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready, lot.Gone, lot.Abandoned} {
		p.Stages = append(p.Stages, Option{string(st), st.Words()})
	}
	p.Stages = append(p.Stages, Option{earlyCheck, "released on an early check"})
	p.Recipes = []Option{{"", "any recipe"}}
	for _, one := range recipes {
		p.Recipes = append(p.Recipes, Option{one.OID, one.Name})
	}
	p.Kinds = []Option{{"", "trouble or not"}, {"any", "any trouble"}}
	for _, k := range trouble.Kinds() {
		p.Kinds = append(p.Kinds, Option{string(k), k.Name()})
	}
	s.show(w, r, http.StatusOK, "lots", "Lots", "Lots", nil, p)
}

// readDay reads a day of the calendar; what is none becomes a problem at its
// field.
func readDay(f *Form, name string, zone *time.Location) time.Time {
	if f.Get(name) == "" {
		return time.Time{}
	}
	t, err := time.Parse(time.DateOnly, f.Get(name))
	if err != nil || t.Year() < 1900 || t.Year() > 2200 {
		f.Problems.Add(name, "write the day like 2026-03-14")
		return time.Time{}
	}
	return day.Start(t, zone)
}

// lotPage is a lot's record with what can be done now.
type lotPage struct {
	lotLine
	Forms   Forms
	Story   []storyLine
	Curve   draw.Drying
	Window  *schedule.Task
	Actual  []actualLine
	Kinds   []kindLine
	Sizes   []int // rows of the cut's form for other sizes
	Sized   bool  // something is typed there
	Reasons []Option
	Gels    []Option
	Seen    int64

	Forecast *forecast
	Older    *lot.Lot // of the same recipe, whose bars should go first
	Troubles []incidentView
	Carried  []Option
	Marks    []markView
	Own      bool       // it has a hold of its own to lift
	Places   []Option   // where it can stand
	Place    string     // where it stands
	Stamp    *time.Time // until when a bar takes an impression
	Scale    bool       // there is one on the bench

	Outside string   // how far from its window it is unmolded or cut now
	Dilutes bool     // a paste that is tested when it is diluted
	Times   []Option // entries whose time can be put right
	Doubted bool     // one of them is in doubt

	LastSample int64 // the entry that a correction of the sample's weight takes the place of
}

type storyLine struct {
	lot.Event
	Corrected bool
}

type actualLine struct {
	plan.Item
	Actual  float64
	Weighed bool
}

// kindLine is how many bars of a kind there are.
type kindLine struct {
	Value, Words string
	Cut, Ready   int
}

// kindsOf are the kinds of bars that a lot gave.
func kindsOf(l *lot.Lot) []kindLine {
	var out []kindLine
	for _, k := range l.Cut.Kinds() {
		if n := l.Cut.Of(k); n > 0 {
			out = append(out, kindLine{string(k.Grade) + "/" + k.Size, k.Words(), n, l.Balance[k]})
		}
	}
	return out
}

// readKind reads a kind as [kindsOf] wrote it.
func readKind(text string) ledger.Kind {
	grade, size, _ := strings.Cut(text, "/")
	return ledger.Kind{Size: size, Grade: ledger.Grade(grade)}
}

// cutSizes is how many other sizes the form of a cut has room for.
const cutSizes = 2

// readCut reads the form of a cut; a size of which nothing is typed is none.
func readCut(f *Form) lot.Cut {
	counts := func(at string) map[ledger.Grade]int {
		out := map[ledger.Grade]int{}
		for _, g := range append(ledger.Grades(), ledger.Scrap) {
			out[g] = ifTyped(f, at+string(g), f.Count, 0)
		}
		return out
	}
	c := lot.Cut{Bars: counts(""), BarG: ifTyped(f, "bar", f.Mass, 0), TrimmingsG: ifTyped(f, "trimmings", f.Mass, 0), Ends: ifTyped(f, "ends", f.Count, 0), EndsG: ifTyped(f, "ends_g", f.Mass, 0), Halves: ifTyped(f, "halves", f.Count, 0), Finish: f.Get("finish"), Note: f.Get("note")}
	for i := range cutSizes {
		at := fmt.Sprintf("size[%d].", i)
		typed := false
		for _, name := range []string{"name", "bar", "first", "second", "tester", "scrap"} {
			typed = typed || f.Get(at+name) != ""
		}
		if typed {
			c.Sizes = append(c.Sizes, lot.Size{Name: f.Get(at + "name"), BarG: ifTyped(f, at+"bar", f.Mass, 0), Bars: counts(at)})
		}
	}
	return c
}

func (s *Server) lot(w http.ResponseWriter, r *http.Request) {
	s.showLot(w, r, http.StatusOK, "", nil, nil)
}

// forecast is how a lot dries, in days of the calendar.
type forecast struct {
	cure.Forecast
	LossPct, WeeklyPct   float64
	Settled, Early, Late time.Time
	Done                 bool      // settled by now
	Shown                bool      // by weighings too, as the gate wants it
	Likely               time.Time // when days and weight are both good
	Ahead                bool      // that is still to come, and nothing holds it
}

func forecastOf(l *lot.Lot, f cure.Forecast, now time.Time) *forecast {
	facts := l.Facts(now)
	first := facts.Samples[0].At
	v := &forecast{Forecast: f, LossPct: 100 * f.Loss, Settled: cure.On(first, f.Settled), Early: cure.On(first, f.Early), Late: cure.On(first, f.Late)}
	v.WeeklyPct = f.Weekly(math.Max(0, now.Sub(first).Hours()/24))
	v.Done, v.Shown = !v.Settled.After(now), cure.Dry(facts.Samples).Settled
	v.Likely = facts.Policy.ReadyOn(facts.Poured)
	if v.Settled.After(v.Likely) {
		v.Likely = v.Settled
	}
	v.Ahead = v.Likely.After(now) && len(facts.Holds) == 0
	return v
}

// Forms are the forms of a lot's acts, by act.
type Forms struct {
	system unit.System
	list   map[string]*Form
}

// Of is the form of an act, as it was last typed.
func (f Forms) Of(act string) *Form {
	if f.list[act] == nil {
		f.list[act] = &Form{Values: url.Values{}, System: f.system}
	}
	return f.list[act]
}

// forms returns the forms of a lot's acts as they were last typed, with the
// posted one in its place.
func (s *Server) forms(r *http.Request, oid, posted string, f *Form) (Forms, error) {
	out := Forms{sessionOf(r).System, map[string]*Form{}}
	drafts, err := s.shop.LotDrafts(r.Context(), oid)
	if err != nil {
		return out, err
	}
	for act, c := range drafts {
		out.Of(act).Values = url.Values(c.Form)
	}
	if f != nil {
		out.list[posted] = f
	}
	return out, nil
}

// lotWithForms is the lot of an address, the forms of its acts as far as they are
// typed, and what the cooker for a rescue holds.
func (s *Server) lotWithForms(r *http.Request, posted string, f *Form) (l *lot.Lot, forms Forms, cookerML float64, err error) {
	oid := chi.URLParam(r, "oid")
	if l, err = s.shop.Lot(r.Context(), oid); err == nil {
		forms, err = s.forms(r, oid, posted, f)
	}
	if err == nil {
		cookerML, err = s.shop.CookerML(r.Context())
	}
	return l, forms, cookerML, err
}

func (s *Server) showLot(w http.ResponseWriter, r *http.Request, status int, posted string, f *Form, notice *caution.Caution) {
	l, forms, cooker, err := s.lotWithForms(r, posted, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	now := s.shop.Now(sessionOf(r).Location)
	p := lotPage{lotLine: lineOf(l, now), Forms: forms, Seen: l.LastEntry, Gels: words(lot.Gels()), Actual: actuals(l),
		Troubles: incidentsOf(l, cooker), Carried: carriedOptions(), Marks: marksOf(l), Own: len(l.OwnHolds()) > 0}
	for _, e := range l.Story() {
		p.Story = append(p.Story, storyLine{e, l.Corrected(e.ID)})
	}
	for _, reason := range ledger.Reasons() {
		p.Reasons = append(p.Reasons, Option{string(reason), string(reason)})
	}
	if l.Pour != nil {
		f, err := s.shop.Drying(r.Context(), l)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		p.Curve = draw.OfDrying(l.Facts(now), f)
		if f != nil {
			p.Forecast = forecastOf(l, *f, now)
		}
	}
	p.Scale = s.bench.Watch(device.Scale) != nil
	if p.Stage == lot.Ready {
		if p.Older, err = s.shop.OlderReady(r.Context(), l); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	if p.Stage == lot.InMold {
		t := schedule.Window(l)
		t.State = l.Unmolds().At(now.Sub(l.Pour.Occurred))
		p.Window = &t
	}
	if st := p.Stage; (st == lot.InMold || st == lot.Unmolded) && !l.Deviated(lot.ToUnmold) {
		p.Outside = l.OutOfWindow(now)
	}
	p.Dilutes = l.ChecksFrom(now.Location()).First != ""
	if p.Places, p.Place, err = s.placesOf(r, l); err != nil {
		s.fail(w, r, err)
		return
	}
	if p.Stage == lot.Curing {
		if until := schedule.StampUntil(l); until.After(now) {
			p.Stamp = &until
		}
	}
	if w := l.Weights(); len(w) > 0 {
		p.LastSample = w[len(w)-1].ID
	}
	if l.Cut != nil {
		p.Kinds = kindsOf(l)
	}
	for _, e := range l.Timeline() {
		text := e.Title + ", " + e.Occurred.In(now.Location()).Format("2 Jan 2006, 15:04")
		if e.Doubt != "" {
			p.Doubted = true
			text += ": clock in doubt"
		}
		p.Times = append(p.Times, Option{strconv.FormatInt(e.ID, 10), text})
	}
	for i := range cutSizes {
		p.Sizes = append(p.Sizes, i)
	}
	for name := range forms.Of("cut").Values {
		p.Sized = p.Sized || strings.HasPrefix(name, "size[") && forms.Of("cut").Get(name) != ""
	}
	s.show(w, r, status, "lot", "Lot "+l.Code, "Lots", notice, p)
}

func actuals(l *lot.Lot) []actualLine {
	got := l.Actual()
	var out []actualLine
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			g, ok := got[i.Key]
			out = append(out, actualLine{Item: i, Actual: g, Weighed: ok})
		}
	}
	return out
}

// lotAct reads the form of an act; the returned function carries it out.
func (s *Server) lotAct(r *http.Request, oid, name string, f *Form) (do func() error, ok bool) {
	ctx, a := r.Context(), act(r)
	switch name {
	case "unmold":
		u := lot.Unmolding{Gel: f.Get("gel"), Note: f.Get("note")}
		return func() error { return s.shop.RecordUnmold(ctx, a, oid, u, f.Get("deviation")) }, true
	case "cut":
		c := readCut(f)
		return func() error { return s.shop.RecordCut(ctx, a, oid, c, f.Get("deviation")) }, true
	case "sample":
		g, corrects := f.Mass("sample"), int64(0)
		if f.Get("correct") == "on" {
			corrects = entry(f, "last")
		}
		return func() error { return s.shop.WeighSample(ctx, a, oid, g, corrects, f.Get("reason")) }, true
	case "check":
		c := lot.SafetyCheck{Method: f.Get("method"), Pass: f.Get("result") == "good", Note: f.Get("note")}
		if strip := f.Get("strip"); strip != "" && c.Method == "ph" {
			c.Note = strings.TrimSuffix("Strip or probe: "+strip+". "+c.Note, ". ")
		}
		if c.Method == "ph" {
			v := f.Number("ph")
			c.PH = &v
		} else if f.Get("result") == "" {
			f.Problems.Add("result", "say how it felt")
		}
		return func() error { return s.shop.RecordCheck(ctx, a, oid, c) }, true
	case "hold", "lift":
		return func() error { return s.shop.SetHold(ctx, a, oid, name == "hold", f.Get("why")) }, true
	case "release":
		if f.Get("sure") != "on" {
			f.Problems.Add("sure", "tick it: your name stands for this lot")
		}
		return func() error { return s.shop.ReleaseLot(ctx, a, oid, f.Get("early")) }, true
	case "move":
		n := f.Count("count")
		return func() error {
			return s.shop.MoveBars(ctx, a, oid, readKind(f.Get("kind")), ledger.Reason(f.Get("reason")), n, f.Get("note"))
		}, true
	case "retime":
		of, at := entry(f, "of"), f.Moment("at", sessionOf(r).Location)
		return func() error { return s.shop.Retime(ctx, a, oid, of, at, f.Get("because")) }, true
	case "note":
		return func() error { return s.shop.AddNote(ctx, a, oid, f.Get("incident") == "on", f.Get("text")) }, true
	}
	return nil, false
}

// lotsRoutes are the addresses of the log.
func (s *Server) lotsRoutes(r chi.Router) {
	r.Get("/make", s.makeList)
	r.Get("/lots", s.lots)
	r.Get("/lots/{oid}", s.lot)
}
