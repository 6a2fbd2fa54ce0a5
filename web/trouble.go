package web

import (
	"io"
	"net/http"
	"sort"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
)

// troublePage is the cards of what can go wrong, or one of them.
type troublePage struct {
	*lot.Lot
	Groups   []troubleGroup
	Card     *trouble.Card
	Form     *Form
	Seen     int64
	Suspects []lot.Suspect
	Stories  []storyTold
	Before   []lot.Incident // of this lot
}

type troubleGroup struct {
	Safety trouble.Safety
	Cards  []trouble.Card
}

// storyTold is an incident as it is told again.
type storyTold struct {
	store.Story
	Name, WayName string
}

// incidentView is an incident with what can be done about it.
type incidentView struct {
	lot.Incident
	Card     trouble.Card
	Chosen   *trouble.Way
	Steps    []rescueStep
	Suspects []lot.Suspect // Likely says whether it is blamed now
	Done     int
}

type rescueStep struct {
	trouble.Step
	Number int
	Done   bool
}

func (s *Server) trouble(w http.ResponseWriter, r *http.Request) {
	s.showTrouble(w, r, http.StatusOK, "", nil, nil)
}

func (s *Server) showTrouble(w http.ResponseWriter, r *http.Request, status int, posted string, f *Form, notice *caution.Caution) {
	l, forms, cooker, err := s.lotWithForms(r, posted, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	batch := l.Batch(cooker)
	p := troublePage{Lot: l, Form: forms.Of("trouble"), Seen: l.LastEntry, Before: l.Incidents}
	kind := trouble.Kind(chi.URLParam(r, "kind"))
	if f != nil {
		if kind = trouble.Kind(f.Get("kind")); !kind.Valid() {
			kind = ""
			notice = &caution.Caution{Code: "web.refused", Level: caution.Warn, Reason: "Choose what it is.", Remedy: "Nothing was recorded."}
		}
	}
	if kind == "" {
		for _, safety := range []trouble.Safety{trouble.Danger, trouble.Unsafe, trouble.Test, trouble.Harmless} {
			g := troubleGroup{Safety: safety}
			for _, c := range trouble.Cards(batch) {
				if c.Safety == safety {
					g.Cards = append(g.Cards, c)
				}
			}
			if len(g.Cards) > 0 {
				p.Groups = append(p.Groups, g)
			}
		}
		s.show(w, r, status, "trouble", "Trouble with lot "+l.Code, troubleRoom(l), notice, p)
		return
	}
	card, ok := trouble.CardOf(kind, batch)
	if !ok {
		s.notFound(w, r)
		return
	}
	p.Card, p.Suspects = &card, l.Suspects(kind)
	if p.Stories, err = s.told(r, subjectsOf(l)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.show(w, r, status, "trouble-card", card.Name+": lot "+l.Code, troubleRoom(l), notice, p)
}

// troubleRoom is the room that trouble belongs to: the bench, where first aid is
// one key away, or the log.
func troubleRoom(l *lot.Lot) string {
	if l.Stage() == lot.Weighed || l.Stage() == lot.InMold {
		return "Make"
	}
	return "Lots"
}

// subjectsOf are what an earlier incident may have been blamed on, of a lot.
func subjectsOf(l *lot.Lot) []string { return subjects(l.Recipe, l.Frozen.Sheet) }

func subjects(recipe string, sheet []plan.Section) []string {
	out := []string{"recipe:" + recipe}
	for _, sec := range sheet {
		for _, i := range sec.Items {
			out = append(out, i.Key)
		}
	}
	return out
}

// told are the stories of what went wrong before with any of the subjects.
func (s *Server) told(r *http.Request, subjects []string) ([]storyTold, error) {
	list, err := s.shop.Stories(r.Context(), subjects)
	var out []storyTold
	for _, one := range list {
		t := storyTold{Story: one, Name: trouble.Kind(one.Kind).Name()}
		if card, ok := trouble.CardOf(trouble.Kind(one.Kind), trouble.Batch{At: trouble.InPot}); ok {
			if way, ok := card.Way(one.Way); ok {
				t.WayName = way.Name
			}
		}
		out = append(out, t)
	}
	sort.SliceStable(out, func(i, k int) bool { return out[i].When.After(out[k].When) })
	return out, err
}

// incidentsOf are the incidents of a lot with what can be done about each, the
// newest first.
func incidentsOf(l *lot.Lot, cookerML float64) []incidentView {
	var out []incidentView
	done := l.Done()
	for n := len(l.Incidents) - 1; n >= 0; n-- {
		i := l.Incidents[n]
		v := incidentView{Incident: i}
		v.Card, _ = l.Card(i, cookerML)
		if way, ok := v.Card.Way(i.Way); ok {
			v.Chosen = &way
			for k, step := range way.Steps {
				one := rescueStep{step, k, done[lot.RescueKey(i.ID, k)]}
				if one.Done {
					v.Done++
				}
				v.Steps = append(v.Steps, one)
			}
		}
		blamed := i.BlamedNow()
		for _, suspect := range l.Suspects(i.Kind) {
			_, suspect.Likely = blamed[suspect.Subject]
			v.Suspects = append(v.Suspects, suspect)
		}
		out = append(out, v)
	}
	return out
}

// troubleAct reads the form of an act of trouble; the returned function carries it
// out.
func (s *Server) troubleAct(r *http.Request, oid, name string, f *Form) (do func() error, ok bool) {
	ctx, a := r.Context(), act(r)
	incident := entry(f, "incident")
	switch name {
	case "trouble":
		report := shop.Report{Kind: trouble.Kind(f.Get("kind")), Text: f.Get("text"), Way: f.Get("way"), Blame: f.Values["blame"]}
		return func() error { return s.shop.FileTrouble(ctx, a, oid, report) }, true
	case "way":
		return func() error { return s.shop.ChooseWay(ctx, a, oid, incident, f.Get("way")) }, true
	case "outcome":
		return func() error { return s.shop.ComeOut(ctx, a, oid, incident, f.Get("outcome")) }, true
	case "blame":
		return func() error { return s.shop.SetBlame(ctx, a, oid, incident, f.Values["blame"]) }, true
	case "rescue":
		n, err := strconv.Atoi(f.Get("number"))
		if err != nil {
			n = -1
		}
		return func() error { return s.shop.TickRescue(ctx, a, oid, incident, n) }, true
	case "carry":
		g := f.Mass("carried_grams")
		return func() error { return s.shop.CarryIn(ctx, a, oid, f.Get("parent"), f.Get("what"), g) }, true
	case "mark":
		return func() error {
			return s.shop.SetMark(ctx, a, oid, f.Get("mark"), f.Get("off") == "", f.Get("mark_why"))
		}, true
	case "next":
		return func() error { return s.shop.AddNext(ctx, a, oid, f.Get("next")) }, true
	case "care":
		return func() error { return s.shop.LookAfter(ctx, a, f.Get("care"), f.Get("care_note"), oid) }, true
	case "place":
		on, level := readPlace(f, "place")
		return func() error { return s.shop.PlaceLot(ctx, a, oid, on, level) }, true
	case "wash":
		k := lot.Wash{Volume: ifTyped(f, "volume", f.Count, 0), Creaminess: ifTyped(f, "creaminess", f.Count, 0), Slime: ifTyped(f, "slime", f.Count, 0), Scent: ifTyped(f, "scent", f.Count, 0), Against: f.Get("against"), Note: f.Get("wash_note")}
		return func() error { return s.shop.Wash(ctx, a, oid, k) }, true
	case "kept":
		n := f.Count("kept_bars")
		return func() error { return s.shop.KeepReference(ctx, a, oid, n, f.Get("kept_place")) }, true
	}
	return nil, false
}

// marksOf are the marks that a lot can have, with how they stand.
func marksOf(l *lot.Lot) []markView {
	now := l.MarkedNow()
	var out []markView
	for _, m := range []string{lot.NotForSale, lot.Recalled} {
		why, on := now[m]
		out = append(out, markView{m, lot.MarkWords(m), on, why})
	}
	return out
}

type markView struct {
	Mark, Words string
	On          bool
	Why         string
}

// carriedOptions are what is carried from lot to lot.
func carriedOptions() []Option {
	return []Option{{"batter", "wet batter"}, {"trimmings", "trimmings"}, {"rescued", "rescued soap"}}
}

// recordPage is the whole record of a lot on paper.
type recordPage struct {
	*lot.Lot
	Stage     lot.Stage
	Sealed    shop.Sealed
	Materials []materialLine
	Steps     []recordStep
	Yield     []yieldLine
	Times     []timeLine
	Story     []storyLine
	Incidents []incidentView
	Printed   time.Time
	Soap      float64
	Planned   float64
	Said      string // of the superfat at the pour
	Trial     bool
	Gear      []gearLine
	QR        draw.Picture // leads to the lot

	EarlyChecks []lot.SafetyCheck // that were good and do not count
}

type materialLine struct {
	plan.Item
	Actual, Diff float64
	Weighed      bool
	Lots         []string
	Who          []string
	Corrected    []string
}

type recordStep struct {
	Title, Note string
	When        time.Time
	Who         string
}

type yieldLine struct {
	At               string
	Theory, Real     float64
	Percent          float64
	Unit             string
	Known, HasTheory bool
}

type timeLine struct {
	Stage, Took string
}

type gearLine struct {
	What, Name string
	Tare       float64
}

// record shows the whole story of a lot on one page that prints.
func (s *Server) record(w http.ResponseWriter, r *http.Request) {
	l, err := s.shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	sealed, err := s.shop.Verify(r.Context(), l)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	now := s.shop.Now(sessionOf(r).Location)
	p := recordPage{Lot: l, Stage: l.Stage(), Sealed: sealed, Materials: materialsOf(l), Yield: yieldOf(l), Incidents: incidentsOf(l, 0), Printed: now, Trial: l.Frozen.Kind == lot.Trial}
	soap := l.AsPoured()
	p.Soap, p.Planned, p.Said = soap.Superfat, soap.Planned, soap.Said
	for _, k := range l.Checks {
		if k.Pass && l.TooEarly(k) {
			p.EarlyChecks = append(p.EarlyChecks, k)
		}
	}
	if p.QR, err = draw.OfQR(addressOf(r, "/lots/"+l.OID)); err != nil {
		s.fail(w, r, err)
		return
	}
	for _, e := range l.Story() {
		p.Story = append(p.Story, storyLine{e, l.Corrected(e.ID)})
	}
	for _, t := range l.Times() {
		p.Times = append(p.Times, timeLine{t.Stage, minutesWords(t.Time.Minutes())})
	}
	v := l.Frozen.Request.Vessels
	for what, one := range map[string]plan.Vessel{"Pot": v.Pot, "Lye jug": v.Jug, "Cooker": v.Cooker} {
		if one.Name != "" {
			p.Gear = append(p.Gear, gearLine{what, one.Name, one.Tare})
		}
	}
	sort.Slice(p.Gear, func(i, k int) bool { return p.Gear[i].What < p.Gear[k].What })
	s.show(w, r, http.StatusOK, "record", "Record of lot "+l.Code, "Lots", nil, p)
}

// materialsOf are the items of a lot with every delivery, weigher and
// correction.
func materialsOf(l *lot.Lot) []materialLine {
	actual := l.Actual()
	var out []materialLine
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			g, ok := actual[i.Key]
			m := materialLine{Item: i, Actual: g, Weighed: ok, Diff: g - i.Target}
			seen := map[string]bool{}
			once := func(list *[]string, text string) {
				if text != "" && !seen[text] {
					seen[text] = true
					*list = append(*list, text)
				}
			}
			for _, w := range l.Weighings {
				if w.Item != i.Key {
					continue
				}
				if w.Corrects != 0 {
					for _, first := range l.Weighings {
						if first.ID == w.Corrects {
							m.Corrected = append(m.Corrected, unit.Trim(first.Actual, 2)+" g, corrected: "+w.Reason)
						}
					}
				}
				if !l.Corrected(w.ID) {
					once(&m.Who, w.Who)
					if w.From.OID != "" {
						once(&m.Lots, w.From.Label())
					}
				}
			}
			out = append(out, m)
		}
	}
	return out
}

// yieldOf is what came out at pour, cut and release against what should have.
func yieldOf(l *lot.Lot) []yieldLine {
	var out []yieldLine
	line := func(at string, theory, real float64, u string, known bool) {
		y := yieldLine{At: at, Theory: theory, Real: real, Unit: u, Known: known, HasTheory: theory > 0}
		if known && theory > 0 {
			y.Percent = 100 * real / theory
		}
		out = append(out, y)
	}
	weighed := 0.0
	for _, g := range l.Actual() {
		weighed += g
	}
	line("weighed in, against the sheet", l.PotNow().Whole(), weighed, "g", weighed > 0)
	if l.Pour != nil {
		line("poured into the molds, of what was weighed", weighed, weighed-l.Pour.LeftG, "g", true)
	}
	if l.Cut != nil {
		bars := l.Cut.Count()
		line("bars cut, against the plan", float64(l.Frozen.Expected), float64(bars), "bars", true)
		sound := bars - l.Cut.OfGrade(ledger.Scrap)
		line("sound bars, of those cut", float64(bars), float64(sound), "bars", true)
		if l.Release != nil {
			line("bars released, of those cut", float64(bars), float64(sound), "bars", true)
		}
	}
	return out
}

// recordFile sends the record of a lot in the open format, recordSheet everything
// that happened to it as CSV.
func (s *Server) recordFile(w http.ResponseWriter, r *http.Request) {
	l, err := s.shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	var sealed shop.Sealed
	if err == nil {
		sealed, err = s.shop.Verify(r.Context(), l)
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.download(w, r, fileName("lot "+l.Code, "-record.json"), "application/json", func(w io.Writer) error { return exchange.WriteLot(w, l, sealed.Digest) })
}

func (s *Server) recordSheet(w http.ResponseWriter, r *http.Request) {
	l, err := s.shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.download(w, r, fileName("lot "+l.Code, "-record.csv"), "text/csv; charset=utf-8", func(w io.Writer) error { return exchange.WriteLotSheet(w, l) })
}
