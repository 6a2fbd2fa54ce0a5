package making

import (
	"io"
	"net/http"
	"sort"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/trouble"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// troublePage is the cards of what can go wrong, or one of them.
type troublePage struct {
	*lot.Lot
	Groups   []troubleGroup
	Card     *trouble.Card
	Form     *page.Form
	Seen     int64
	Suspects []lot.Suspect
	Stories  []page.StoryTold
	Before   []lot.Incident // of this lot
}

type troubleGroup struct {
	Safety trouble.Safety
	Cards  []trouble.Card
}

func (s *Room) trouble(w http.ResponseWriter, r *http.Request) error {
	return s.showTrouble(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showTrouble(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error {
	l, forms, cooker, err := s.LotWithForms(r, posted, f)
	if err != nil {
		return err
	}
	batch := l.Batch(cooker)
	p := troublePage{Lot: l, Form: forms.Of("trouble"), Seen: l.LastEntry, Before: l.Incidents}
	kind := trouble.Kind(chi.URLParam(r, "kind"))
	if f != nil {
		if kind = trouble.Kind(f.Get("kind")); !kind.Valid() {
			kind = ""
			notice = &caution.Caution{
				Code:   "web.refused",
				Level:  caution.Warn,
				Reason: "Choose what it is.",
				Remedy: "Nothing was recorded.",
			}
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
		return s.Show(w, r, status, "trouble", "Trouble with lot "+l.Code, troubleRoom(l), notice, p)
	}
	card, ok := trouble.CardOf(kind, batch)
	if !ok {
		return store.ErrNotFound
	}
	p.Card, p.Suspects = &card, l.Suspects(kind)
	if p.Stories, err = s.Told(r, subjectsOf(l)); err != nil {
		return err
	}
	return s.Show(w, r, status, "trouble-card", card.Name+": lot "+l.Code, troubleRoom(l), notice, p)
}

// troubleRoom is the room that trouble belongs to: the bench, where first aid is
// one key away, or the log.
func troubleRoom(l *lot.Lot) string {
	if l.Stage() == lot.Making || l.Stage() == lot.InMold {
		return "Make"
	}
	return "Lots"
}

// subjectsOf are what an earlier incident may have been blamed on, of a lot.
func subjectsOf(l *lot.Lot) []string { return page.Subjects(l.Recipe, l.Frozen.Sheet) }

// troubleAct reads the form of an act of trouble; the returned function carries it
// out.
func (s *Room) troubleAct(r *http.Request, oid, name string, f *page.Form) (do func() error, ok bool) {
	ctx, a := r.Context(), page.Act(r)
	incident := page.Entry(f, "incident")
	switch name {
	case "trouble":
		report := shop.Report{Kind: trouble.Kind(f.Get("kind")), Text: f.Get("text"), Way: f.Get("way"), Blame: f.Values["blame"]}
		return func() error { return s.Shop.FileTrouble(ctx, a, oid, report) }, true
	case "way":
		return func() error { return s.Shop.ChooseWay(ctx, a, oid, incident, f.Get("way")) }, true
	case "outcome":
		return func() error { return s.Shop.RecordOutcome(ctx, a, oid, incident, f.Get("outcome")) }, true
	case "blame":
		return func() error { return s.Shop.SetBlame(ctx, a, oid, incident, f.Values["blame"]) }, true
	case "rescue":
		n, err := strconv.Atoi(f.Get("number"))
		if err != nil {
			n = -1
		}
		return func() error { return s.Shop.TickRescue(ctx, a, oid, incident, n) }, true
	case "carry":
		g := f.Mass("carried_grams")
		return func() error { return s.Shop.CarryIn(ctx, a, oid, f.Get("parent"), f.Get("what"), g) }, true
	case "mark":
		return func() error {
			return s.Shop.SetMark(ctx, a, oid, f.Get("mark"), f.Get("off") == "", f.Get("mark_why"))
		}, true
	case "next":
		return func() error { return s.Shop.AddNext(ctx, a, oid, f.Get("next")) }, true
	case "care":
		return func() error { return s.Shop.LookAfter(ctx, a, f.Get("care"), f.Get("care_note"), oid) }, true
	case "place":
		on, level := page.ReadPlace(f, "place")
		return func() error { return s.Shop.PlaceLot(ctx, a, oid, on, level) }, true
	case "wash":
		k := lot.Wash{
			Volume:     page.IfTyped(f, "volume", f.Count, 0),
			Creaminess: page.IfTyped(f, "creaminess", f.Count, 0),
			Slime:      page.IfTyped(f, "slime", f.Count, 0),
			Scent:      page.IfTyped(f, "scent", f.Count, 0),
			Against:    f.Get("against"),
			Note:       f.Get("wash_note"),
		}
		return func() error { return s.Shop.Wash(ctx, a, oid, k) }, true
	case "kept":
		n := f.Count("kept_bars")
		return func() error { return s.Shop.KeepReference(ctx, a, oid, n, f.Get("kept_place")) }, true
	}
	return nil, false
}

// recordPage is the whole record of a lot on paper.
type recordPage struct {
	*lot.Lot
	Stage     lot.Stage
	Sealed    lots.Sealed
	Materials []materialLine
	Steps     []recordStep
	Yield     []yieldLine
	Times     []timeLine
	Story     []page.StoryLine
	Incidents []page.IncidentView
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
func (s *Room) record(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	sealed, err := s.Shop.Verify(r.Context(), l)
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	p := recordPage{
		Lot:       l,
		Stage:     l.Stage(),
		Sealed:    sealed,
		Materials: materialsOf(l),
		Yield:     yieldOf(l),
		Incidents: page.IncidentsOf(l, 0),
		Printed:   now,
		Trial:     l.Frozen.Kind == lot.Trial,
	}
	soap := l.AsPoured()
	p.Soap, p.Planned, p.Said = soap.Superfat, soap.Planned, soap.Said
	for _, k := range l.Checks {
		if k.Pass && l.TooEarly(k) {
			p.EarlyChecks = append(p.EarlyChecks, k)
		}
	}
	if p.QR, err = draw.OfQR(page.AddressOf(r, "/lots/"+l.OID)); err != nil {
		return err
	}
	for _, e := range l.Story() {
		p.Story = append(p.Story, page.StoryLine{Event: e, Corrected: l.Corrected(e.ID)})
	}
	for _, t := range l.Times() {
		p.Times = append(p.Times, timeLine{t.Stage, page.MinutesWords(t.Time.Minutes())})
	}
	v := l.Frozen.Request.Vessels
	for what, one := range map[string]plan.Vessel{"Pot": v.Pot, "Lye jug": v.Jug, "Cooker": v.Cooker} {
		if one.Name != "" {
			p.Gear = append(p.Gear, gearLine{what, one.Name, one.Tare})
		}
	}
	sort.Slice(p.Gear, func(i, k int) bool { return p.Gear[i].What < p.Gear[k].What })
	return s.Show(w, r, http.StatusOK, "record", "Record of lot "+l.Code, "Lots", nil, p)
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
func (s *Room) recordFile(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	var sealed lots.Sealed
	if err == nil {
		sealed, err = s.Shop.Verify(r.Context(), l)
	}
	if err != nil {
		return err
	}
	return s.Download(
		w,
		r,
		page.FileName("lot "+l.Code, "-record.json"),
		"application/json",
		func(w io.Writer) error { return exchange.WriteLot(w, l, sealed.Digest) },
	)
}

func (s *Room) recordSheet(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	return s.Download(
		w,
		r,
		page.FileName("lot "+l.Code, "-record.csv"),
		"text/csv; charset=utf-8",
		func(w io.Writer) error { return exchange.WriteLotSheet(w, l) },
	)
}
