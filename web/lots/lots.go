package lots

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/device"
	"ashshelf/shop/catalog"
	"ashshelf/shop/costing"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/day"
	"ashshelf/soap/dry"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/role"
	"ashshelf/soap/schedule"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// mostLots is how many lots the log shows at once.
const mostLots = 60

// lotsPage is the log: what was looked for, and what fits.
type lotsPage struct {
	Lines                  []lotLine
	Days                   int // that the strips are long
	All, From, To          int
	Before, After          string // addresses of the pages around this one
	Form                   *page.Form
	Stages, Recipes, Kinds []page.Option
	None, Narrowed         bool
	Closer                 bool // by more than words and a stage
}

// lotLine is a lot with its life drawn, where it was poured.
type lotLine struct {
	page.LotLine
	Life *draw.Picture
}

// lifeWide is how wide a life is drawn in the list.
const lifeWide = 320.0

// earlyCheck is the choice of lots that were released on a check made too early.
const earlyCheck = "early-check"

// foundLots are the lots that fit, and how many fit in all.
func (s *Room) foundLots(r *http.Request, where store.LotsWhere) ([]*lot.Lot, int, error) {
	if !where.Unproven {
		return s.Shop.FindLots(r.Context(), where)
	}
	list, err := s.Shop.OnEarlyCheck(r.Context())
	return list, len(list), err
}

func (s *Room) lots(w http.ResponseWriter, r *http.Request) error {
	q := r.URL.Query()
	f := &page.Form{Values: q, System: page.SessionOf(r).System}
	if f.Get("q") != "" { // a code that was printed before these books
		if old, err := s.Shop.Openings(r.Context(), f.Get("q")); err == nil && len(old) > 0 {
			return page.SeeOther(w, r, "/stores/opening#o-"+old[0].OID)
		}
	}
	if n, err := lot.ParseCode(f.Get("q")); err == nil {
		if list, err := s.Shop.Lots(r.Context(), store.LotsWhere{Number: n}); err == nil && len(list) > 0 {
			return page.SeeOther(w, r, "/lots/"+list[0].OID)
		}
	}
	where := store.LotsWhere{
		Text:     f.Get("q"),
		Recipe:   f.Get("recipe"),
		Material: f.Get("material"),
		Trouble:  f.Get("trouble"),
		Most:     mostLots,
	}
	if stage := lot.Stage(f.Get("stage")); stage == earlyCheck {
		where.Unproven = true
	} else if stage != "" {
		where.Stages = []lot.Stage{stage}
	}
	where.From, where.To = readDay(f, "from", page.SessionOf(r).Location), readDay(f, "to", page.SessionOf(r).Location)
	if !where.To.IsZero() {
		where.To = day.Plus(where.To, 1) // the day itself belongs to it
	}
	if n, err := strconv.Atoi(f.Get("skip")); err == nil && n > 0 && n < 1e6 {
		where.Skip = n
	}
	p := lotsPage{Form: f, Closer: where.Recipe+where.Material+where.Trouble+f.Get("from")+f.Get("to") != ""}
	p.Narrowed = p.Closer || where.Text+f.Get("stage") != ""
	list, all, err := s.foundLots(r, where)
	if err == nil && all == 0 && !p.Narrowed {
		p.None = true
	}
	var recipes []catalog.Recipe
	if err == nil {
		recipes, err = s.Shop.Recipes(r.Context())
	}
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	courses := map[string]schedule.Course{}
	for _, l := range list {
		if c, ok := schedule.CourseOf(l, now); ok {
			courses[l.OID] = c
		}
	}
	p.Days = draw.LifeDays(now, slices.Collect(maps.Values(courses))...)
	for _, l := range list {
		line := lotLine{LotLine: page.LineOf(l, now)}
		if c, ok := courses[l.OID]; ok {
			pic := draw.OfLotLife(c, now, p.Days, lifeWide)
			line.Life = &pic
		}
		p.Lines = append(p.Lines, line)
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
	p.Stages = []page.Option{{Value: "", Label: "any stage"}}
	for _, st := range []lot.Stage{lot.Making, lot.InMold, lot.Unmolded, lot.Curing, lot.Ready, lot.Gone, lot.Abandoned} {
		p.Stages = append(p.Stages, page.Option{Value: string(st), Label: st.Words()})
	}
	p.Stages = append(p.Stages, page.Option{Value: earlyCheck, Label: "released on an early check"})
	p.Recipes = []page.Option{{Value: "", Label: "any recipe"}}
	for _, one := range recipes {
		p.Recipes = append(p.Recipes, page.Option{Value: one.OID, Label: one.Name})
	}
	p.Kinds = []page.Option{{Value: "", Label: "trouble or not"}, {Value: "any", Label: "any trouble"}}
	for _, k := range trouble.Kinds() {
		p.Kinds = append(p.Kinds, page.Option{Value: string(k), Label: k.Name()})
	}
	return s.Show(w, r, http.StatusOK, "lots", "Lots", "Lots", nil, p)
}

// readDay reads a day of the calendar; what is none becomes a problem at its
// field.
func readDay(f *page.Form, name string, zone *time.Location) time.Time {
	t, err := time.Parse(time.DateOnly, f.Day(name))
	if err != nil {
		return time.Time{} // nothing was typed, or what was is told
	}
	return day.Start(t, zone)
}

// lotPage is a lot's record with what can be done now.
type lotPage struct {
	page.LotLine
	Forms   page.Forms
	Story   []page.StoryLine
	Curve   draw.Drying
	Window  *schedule.Task
	Actual  []actualLine
	Kinds   []kindLine
	Sources []page.Option // what can be cut up or shaped
	Shapes  []page.Option // into what
	Sizes   []int         // rows of the cut's form for other sizes

	NotAssessed string // why it is not sold where a safety assessment is needed
	Sized       bool   // something is typed there
	Reasons     []page.Option
	Gels        []page.Option
	Seen        int64

	Forecast *forecast
	Older    *lot.Lot // of the same recipe, whose bars should go first
	Troubles []page.IncidentView
	Carried  []page.Option
	Marks    []page.MarkView
	Own      bool          // it has a hold of its own to lift
	Places   []page.Option // where it can stand
	Place    string        // where it stands
	Stamp    *time.Time    // until when a bar takes an impression
	Scale    bool          // there is one on the bench

	Life  *draw.Picture // from its pour on
	Blend draw.Blend
	Look  *draw.Picture // of a soap in several colours
	Todo  *nextThing

	Outside string // how far from its window it is unmolded or cut now
	Dilutes bool   // a paste that is tested when it is diluted
	Counts  bool   // its pieces are to be counted now
	Thinned *recipe.Thinned
	Times   []page.Option // entries whose time can be put right
	Doubted bool          // one of them is in doubt

	Cost   *costing.Lot // what it cost, to whom that is shown; nil before anything was weighed
	Costly draw.Picture // the same by ingredient

	LastSample int64 // the entry that a correction of the sample's weight takes the place of
}

// nextThing is the one thing to do next with a lot.
type nextThing struct {
	Words, When, Href string
	State             cure.State
}

// nextOf is the most pressing task of a lot; nil where there is nothing to do.
func nextOf(l *lot.Lot, v *page.Session, now time.Time) *nextThing {
	list := schedule.Today([]*lot.Lot{l}, now)
	if len(list) == 0 {
		return nil
	}
	t := list[0]
	out := &nextThing{t.Words(), page.TaskWhen(t, v, now), "", t.State}
	switch t.Kind {
	case schedule.Finish:
		out.Href = "/make/" + l.OID
	case schedule.Cut, schedule.Unmold:
		out.Href = "#out"
	case schedule.Weigh, schedule.Odd:
		out.Href = "#drying"
	case schedule.Check, schedule.Again:
		out.Href = "#check"
	case schedule.Release:
		out.Href = "#release"
	case schedule.Held:
		out.Href = "#hold"
	case schedule.Wash:
		out.Href = "#wash"
	}
	return out
}

// Leads reports whether the part of an act stands open: it comes next, or something is typed in it
// or was refused.
func (p lotPage) Leads(act string) bool {
	if f := p.Forms.Of(act); len(f.Problems) > 0 || len(f.Values) > 0 {
		return true
	}
	next := ""
	switch st := p.Stage; {
	case st == lot.Curing && p.Gate != nil && (p.Gate.MayRelease || p.Gate.MayEarly && p.Gate.DaysLeft == 0):
		next = "release"
	case st == lot.Curing && p.Gate != nil && p.Gate.DaysLeft == 0 && len(p.Checks) == 0:
		next = "check"
	case st == lot.Ready && p.OnEarlyCheck():
		next = "check"
	}
	return act == next || act == "lift" && p.Own
}

type actualLine struct {
	plan.Item
	Actual  float64
	Weighed bool
	Added   bool   // unplanned
	Keep    string // address that makes it the recipe's rate; empty where that is none
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
func readCut(f *page.Form) lot.Cut {
	counts := func(at string) map[ledger.Grade]int {
		out := map[ledger.Grade]int{}
		for _, g := range append(ledger.Grades(), ledger.Scrap) {
			out[g] = page.IfTyped(f, at+string(g), f.Count, 0)
		}
		return out
	}
	c := lot.Cut{
		Bars:       counts(""),
		BarG:       page.IfTyped(f, "bar", f.Mass, 0),
		TrimmingsG: page.IfTyped(f, "trimmings", f.Mass, 0),
		Ends:       page.IfTyped(f, "ends", f.Count, 0),
		EndsG:      page.IfTyped(f, "ends_g", f.Mass, 0),
		Finish:     f.Get("finish"),
		Note:       f.Get("note"),
	}
	for i := range cutSizes {
		at := fmt.Sprintf("size[%d].", i)
		typed := false
		for _, name := range []string{"name", "bar", "first", "second", "tester", "scrap"} {
			typed = typed || f.Get(at+name) != ""
		}
		if typed {
			c.Sizes = append(c.Sizes, lot.Size{Name: f.Get(at + "name"), BarG: page.IfTyped(f, at+"bar", f.Mass, 0), Bars: counts(at)})
		}
	}
	grade := ledger.First // as the whole ones are
	if c.Bars[ledger.First] == 0 && c.Bars[ledger.Second] > 0 {
		grade = ledger.Second
	}
	return c.Halved(page.IfTyped(f, "halves", f.Count, 0), grade)
}

// sourcesOf is what there is of a lot to cut up or to shape, bars first.
func sourcesOf(l *lot.Lot) []page.Option {
	out := []page.Option{{Value: "", Label: "choose"}}
	for _, k := range kindsOf(l) {
		if k.Ready > 0 {
			out = append(out, page.Option{Value: string(lot.WholeBars) + "/" + k.Value, Label: k.Words})
		}
	}
	for _, p := range l.Piles() {
		out = append(out, page.Option{Value: string(p.Shape), Label: p.Words()})
	}
	return out
}

// readReshaped reads what was cut up or shaped.
func readReshaped(f *page.Form) lot.Reshaped {
	source, kind, _ := strings.Cut(f.Get("source"), "/")
	return lot.Reshaped{
		Source: lot.Shape(source),
		Kind:   readKind(kind),
		Pieces: page.IfTyped(f, "pieces", f.Count, 0),
		Shape:  lot.Shape(f.Get("shape")),
		Made:   page.IfTyped(f, "made", f.Count, 0),
		Grams:  page.IfTyped(f, "shape_grams", f.Mass, 0),
		Note:   f.Get("shape_note"),
	}
}

func (s *Room) lot(w http.ResponseWriter, r *http.Request) error {
	return s.ShowLot(w, r, http.StatusOK, "", nil, nil)
}

// forecast is how a lot dries, in days of the calendar.
type forecast struct {
	dry.Forecast
	LossPct, WeeklyPct   float64
	Settled, Early, Late time.Time
	Done                 bool      // settled by now
	Shown                bool      // by weighings too, as the gate wants it
	Likely               time.Time // when days and weight are both good
	Ahead                bool      // that is still to come, and nothing holds it
}

func forecastOf(l *lot.Lot, f dry.Forecast, now time.Time) *forecast {
	facts := l.Facts(now)
	on := func(hours float64) time.Time { return facts.Poured.Add(time.Duration(hours * float64(time.Hour))) }
	first := facts.Samples[0].At.Sub(facts.Poured).Hours()
	v := &forecast{
		Forecast: f,
		LossPct:  100 * (1 - f.FinalG/f.At(first)),
		Settled:  on(f.Likely),
		Early:    on(f.Early),
		Late:     on(f.Late),
	}
	v.WeeklyPct = f.Weekly(math.Max(first, now.Sub(facts.Poured).Hours()))
	v.Done, v.Shown = !v.Settled.After(now), facts.Drying().Settled
	v.Likely = facts.Policy.ReadyOn(facts.Poured)
	if v.Settled.After(v.Likely) {
		v.Likely = v.Settled
	}
	v.Ahead = v.Likely.After(now) && len(facts.Holds) == 0
	return v
}

// heroWide is how wide a life is drawn on the page of its lot.
const heroWide = 1040.0

func (s *Room) ShowLot(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error {
	l, forms, cooker, err := s.LotWithForms(r, posted, f)
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	p := lotPage{LotLine: page.LineOf(l, now), Forms: forms, Seen: l.LastEntry, Gels: page.Words(lot.Gels()), Actual: actuals(l),
		Troubles: page.IncidentsOf(l, cooker), Carried: page.CarriedOptions(), Marks: page.MarksOf(l), Own: len(l.OwnHolds()) > 0}
	if c, ok := schedule.CourseOf(l, now); ok {
		pic := draw.OfLotLife(c, now, draw.LifeDays(now, c), heroWide)
		p.Life = &pic
	}
	p.Blend, p.Todo = draw.OfBlend(l.Frozen.Formula.Fats), nextOf(l, page.SessionOf(r), now)
	if len(l.Frozen.Formula.Portions) > 0 {
		pic := draw.OfDesign(l.Frozen.Formula)
		p.Look = &pic
	}
	for _, e := range l.Story() {
		p.Story = append(p.Story, page.StoryLine{Event: e, Corrected: l.Corrected(e.ID)})
	}
	slices.Reverse(p.Story) // the newest is what one looks for
	for _, reason := range ledger.Reasons() {
		p.Reasons = append(p.Reasons, page.Option{Value: string(reason), Label: string(reason)})
	}
	if l.Pour != nil {
		f, err := s.Shop.Drying(r.Context(), l)
		if err != nil {
			return err
		}
		p.Curve = draw.OfDrying(l.Facts(now), f)
		if f != nil {
			p.Forecast = forecastOf(l, *f, now)
		}
	}
	if page.SessionOf(r).May(string(role.Maker)) && len(l.Weighings) > 0 {
		c, err := s.Shop.LotCost(r.Context(), l.OID)
		if err != nil {
			return err
		}
		p.Cost, p.Costly = &c, page.CostsOf(c.Lines, c.Currency)
	}
	p.Scale = s.Devices.Watch(device.Scale) != nil
	if p.Stage == lot.Ready {
		if p.NotAssessed, err = s.Shop.NotAssessed(r.Context(), l); err != nil {
			return err
		}
		if p.Older, err = s.Shop.OlderReady(r.Context(), l); err != nil {
			return err
		}
	}
	if t, ok := window(l); ok {
		t.State = l.Unmolds().At(now.Sub(l.Pour.Occurred))
		p.Window = &t
	}
	if st := p.Stage; (st == lot.InMold || st == lot.Unmolded) && !l.Deviated(lot.ToUnmold) {
		p.Outside = l.OutOfWindow(now)
	}
	p.Dilutes = l.ChecksFrom(now.Location()).First != ""
	p.Counts = p.Stage == lot.Unmolded || p.Stage == lot.InMold && !l.Form().Unmolded()
	if l.Pour != nil {
		p.Thinned = plan.Thinned(l.Frozen.Formula, l.PotNow())
	}
	if p.Places, p.Place, err = s.PlacesOf(r, l); err != nil {
		return err
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
		p.Kinds, p.Sources = kindsOf(l), sourcesOf(l)
		for _, shape := range lot.Shapes() {
			p.Shapes = append(p.Shapes, page.Option{Value: string(shape), Label: shape.Words()})
		}
	}
	for _, e := range l.Timeline() {
		text := e.Title + ", " + e.Occurred.In(now.Location()).Format("2 Jan 2006, 15:04")
		if e.Doubt != "" {
			p.Doubted = true
			text += ": clock in doubt"
		}
		p.Times = append(p.Times, page.Option{Value: strconv.FormatInt(e.ID, 10), Label: text})
	}
	for i := range cutSizes {
		p.Sizes = append(p.Sizes, i)
	}
	for name := range forms.Of("cut").Values {
		p.Sized = p.Sized || strings.HasPrefix(name, "size[") && forms.Of("cut").Get(name) != ""
	}
	return s.Show(w, r, status, "lot", "Lot "+l.Code, "Lots", notice, p)
}

// Finishing is what somebody may still have to do to the pieces.
func (p lotPage) Finishing() string {
	if p.Form().Unmolded() {
		return "bevel"
	}
	return "lids and labels"
}

// window is the window of a lot that is in its mold and comes out of it.
func window(l *lot.Lot) (schedule.Task, bool) {
	if l.Stage() != lot.InMold {
		return schedule.Task{}, false
	}
	return schedule.Window(l)
}

func actuals(l *lot.Lot) []actualLine {
	got := l.Actual()
	var out []actualLine
	fats := l.PotNow().FatsG
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			g, ok := got[i.Key]
			out = append(out, actualLine{Item: i, Actual: g, Weighed: ok})
		}
	}
	for _, x := range l.Extras {
		one := actualLine{Item: plan.Item{Name: x.Name}, Actual: x.Grams, Weighed: true, Added: true}
		if name, _, _ := strings.Cut(x.Name, ", into "); x.SAP == 0 && fats > 0 {
			one.Keep = "/recipes/" + l.Recipe + "?" + url.Values{
				"add": {name}, "per_kg": {unit.Trim(1000*x.Grams/fats, 2)}, "note": {"lot " + l.Code + ": " + x.Name},
			}.Encode() + "#additives"
		}
		out = append(out, one)
	}
	return out
}

// LotAct reads the form of an act; the returned function carries it out.
func (s *Room) LotAct(r *http.Request, oid, name string, f *page.Form) (do func() error, ok bool) {
	ctx, a := r.Context(), page.Earlier(r, f)
	switch name {
	case "unmold":
		u := lot.Unmolding{Gel: f.Get("gel"), Note: f.Get("note")}
		return func() error { return s.Shop.RecordUnmold(ctx, a, oid, u, f.Get("soft") == "on", f.Get("deviation")) }, true
	case "cut":
		c := readCut(f)
		return func() error { return s.Shop.RecordCut(ctx, a, oid, c, f.Get("deviation")) }, true
	case "sample":
		g, corrects := f.Mass("sample"), int64(0)
		if f.Get("correct") == "on" {
			corrects = page.Entry(f, "last")
		}
		return func() error { return s.Shop.WeighSample(ctx, a, oid, g, corrects, f.Get("reason")) }, true
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
		return func() error { return s.Shop.RecordCheck(ctx, a, oid, c) }, true
	case "hold", "lift":
		return func() error { return s.Shop.SetHold(ctx, a, oid, name == "hold", f.Get("why")) }, true
	case "release":
		if f.Get("sure") != "on" {
			f.Problems.Add("sure", "tick it: your name stands for this lot")
		}
		return func() error { return s.Shop.ReleaseLot(ctx, a, oid, f.Get("early")) }, true
	case "move":
		n := f.Count("count")
		return func() error {
			return s.Shop.MoveBars(ctx, a, oid, readKind(f.Get("kind")), ledger.Reason(f.Get("reason")), n, f.Get("note"))
		}, true
	case "reshape":
		k := readReshaped(f)
		return func() error { return s.Shop.Reshape(ctx, a, oid, k) }, true
	case "retime":
		of, at := page.Entry(f, "of"), f.Moment(page.SessionOf(r).Location, "at")
		return func() error { return s.Shop.Retime(ctx, a, oid, of, at, f.Get("because")) }, true
	case "note":
		return func() error { return s.Shop.AddNote(ctx, a, oid, f.Get("incident") == "on", f.Get("text")) }, true
	}
	return nil, false
}

// tag is what hangs on the rack beside a lot: its code to be read from across the room, and a square code
// that leads to its record.
func (s *Room) tag(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	p := struct {
		page.LotLine
		QR    draw.Picture
		Ready time.Time // from when its days are done; zero before the pour
		Kept  string    // what keeps it from sale
	}{LotLine: page.LineOf(l, now), Kept: l.KeptFromSale()}
	if p.QR, err = draw.OfQR(page.AddressOf(r, "/lots/"+l.OID)); err != nil {
		return err
	}
	if p.Gate != nil {
		p.Ready = p.Gate.ReadyOn
	}
	return s.Show(w, r, http.StatusOK, "racktag", "Tag of lot "+l.Code, "Lots", nil, p)
}

// label is what stands on a label of a lot, whatever it is sold as.
func (s *Room) label(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := struct {
		OID      string
		Label    label.Label
		Problems caution.Problems // why nobody can say what is in it
	}{OID: l.OID}
	if p.Label, err = s.Shop.LotLabel(r.Context(), l.OID); err != nil && !errors.As(err, &p.Problems) {
		return err
	}
	return s.Show(w, r, http.StatusOK, "lot-label", "What is in lot "+l.Code, "Lots", nil, p)
}

// LotsRoutes are the addresses of the log.
func (s *Room) LotsRoutes(r page.Routes) {
	r.Get("/lots", s.lots)
	r.Get("/lots/{oid}", s.lot)
	r.Get("/lots/{oid}/tag", s.tag)
	r.Get("/lots/{oid}/label", s.label)
}
