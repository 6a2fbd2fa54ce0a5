package web

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/web/draw"
)

// makePage is the bench on make day: one weighing large, the others small.
type makePage struct {
	*lot.Lot
	Forms    map[string]*Form
	Current  *makeItem
	Sections []makeSection
	Done     int
	All      int
	Soap     run.Judgement
	Traces   []Option
	Seen     int64
	Left     []plan.Item
}

type makeSection struct {
	Title string
	Items []makeItem
}

type makeItem struct {
	plan.Item
	Section  string
	Entry    int64 // the weighing, 0 when not weighed
	Actual   float64
	Diff     float64
	Stand    int // -1 under, 0 in, 1 over
	Done     bool
	Current  bool
	Fill     draw.Fill
	Position int
}

func (s *Server) makeLot(w http.ResponseWriter, r *http.Request) {
	s.showMake(w, r, http.StatusOK, "", nil, nil)
}

func (s *Server) showMake(w http.ResponseWriter, r *http.Request, status int, posted string, f *Form, notice *caution.Caution) {
	oid := chi.URLParam(r, "oid")
	l, err := s.shop.Lot(r.Context(), oid)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if l.Stage() != lot.Weighed {
		if posted == "" {
			seeOther(w, r, "/lots/"+oid)
			return
		}
		// An old window of the bench: say that what it sent is not on record.
		left := &caution.Caution{Code: "web.refused", Level: caution.Warn, Reason: "This lot has left the bench.", Remedy: "Nothing was recorded."}
		if notice != nil {
			left.Reason = notice.Reason
		}
		s.showLot(w, r, status, posted, f, left)
		return
	}
	forms, err := s.forms(r, oid, posted, f)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if p := forms["pour"]; p.Get("trace") == "" {
		p.Set("trace", "light")
	}
	wanted := r.URL.Query().Get("item")
	if posted == "weigh" {
		wanted = f.Get("item")
	}
	p := benchOfLot(l, wanted)
	p.Forms = forms
	if p.Current != nil && forms["weigh"].Get("item") != p.Current.Key {
		// What was typed for another ingredient does not belong here.
		forms["weigh"] = &Form{Values: url.Values{}, System: sessionOf(r).System}
	}
	s.show(w, r, status, "make", "Lot "+l.Code+": "+l.Frozen.Recipe, "Make", notice, p)
}

// benchOfLot lays the run out: the wanted item or the first unweighed one is
// the current one.
func benchOfLot(l *lot.Lot, wanted string) makePage {
	actual := l.Actual()
	p := makePage{Lot: l, Soap: run.Judge(l.Frozen.Request, l.Frozen.Sheet, actual), Traces: words(lot.Traces()), Seen: l.LastEntry, Left: l.Unweighed()}
	entries := map[string]int64{}
	for _, w := range l.Weighings {
		if !l.Corrected(w.ID) {
			entries[w.Item] = w.ID
		}
	}
	current := wanted
	if current == "" && len(p.Left) > 0 {
		current = p.Left[0].Key
	}
	for _, sec := range l.Frozen.Sheet {
		ms := makeSection{Title: sec.Title}
		for _, i := range sec.Items {
			p.All++
			g, done := actual[i.Key]
			it := makeItem{Item: i, Section: sec.Title, Entry: entries[i.Key], Actual: g, Done: done, Diff: g - i.Target, Current: i.Key == current, Fill: draw.OfFill(i.Target, i.Tolerance, g), Position: p.All}
			if done {
				p.Done++
				it.Stand = run.InTolerance(i, g)
			}
			if it.Current {
				p.Current = &it
			}
			ms.Items = append(ms.Items, it)
		}
		p.Sections = append(p.Sections, ms)
	}
	return p
}

// typedLot keeps what is being typed into a form of a lot.
func (s *Server) typedLot(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	if _, err := s.shop.SaveCopy(r.Context(), act(r), "lot-"+chi.URLParam(r, "act"), chi.URLParam(r, "oid"), r.PostFormValue("tab"), 0, f.Values); err != nil {
		s.fail(w, r, err)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// actOnLot reads one form of a lot, calls its use case, and leads to where the
// work goes on.
func (s *Server) actOnLot(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	oid, name := chi.URLParam(r, "oid"), chi.URLParam(r, "act")
	do, ok := s.lotAct(r, oid, name, f)
	if !ok {
		s.notFound(w, r)
		return
	}
	onBench := name == "weigh" || name == "pour" || name == "giveup"
	err := f.Problems.Err()
	if err == nil {
		err = do()
	}
	if err == nil {
		if err = s.shop.DropCopy(r.Context(), "lot-"+name, oid); err == nil {
			to := "/lots/" + oid
			if name == "weigh" {
				to = "/make/" + oid
			}
			seeOther(w, r, to)
			return
		}
	}
	known := len(f.Problems)
	status, notice, ok := s.refused(w, r, err, f)
	if !ok {
		return
	}
	if known > 0 {
		f.Problems = f.Problems[:known] // they were the error itself
	}
	show := s.showLot
	if onBench {
		show = s.showMake
	}
	show(w, r, status, name, f, notice)
}

// lotAct reads the form of an act; the returned function carries it out.
func (s *Server) lotAct(r *http.Request, oid, name string, f *Form) (do func() error, ok bool) {
	ctx, a := r.Context(), act(r)
	temp := func(field string) *float64 {
		if f.Get(field) == "" {
			return nil
		}
		v := f.Temperature(field)
		return &v
	}
	switch name {
	case "weigh":
		w := shop.Weighed{Item: f.Get("item"), Grams: f.Mass("grams"), Sure: f.Get("sure") == "on", Corrects: entry(f, "corrects"), Reason: f.Get("reason")}
		return func() error { return s.shop.Weigh(ctx, a, oid, w) }, true
	case "pour":
		off := map[string]float64{}
		for field := range f.Values {
			if oid, ok := strings.CutPrefix(field, "off."); ok && f.Get(field) != "" {
				off[oid] = f.SignedLength(field)
			}
		}
		p := lot.Pour{Off: off, LyeC: temp("lye_c"), FatsC: temp("fats_c"), RoomC: temp("room_c"), Trace: f.Get("trace"), LeftG: ifTyped(f, "left", f.Mass, 0), Skipped: f.Get("skipped"), Note: f.Get("note")}
		return func() error { return s.shop.RecordPour(ctx, a, oid, p) }, true
	case "unmold":
		u := lot.Unmolding{Gel: f.Get("gel"), Note: f.Get("note")}
		return func() error { return s.shop.RecordUnmold(ctx, a, oid, u) }, true
	case "cut":
		c := lot.Cut{Bars: map[ledger.Grade]int{}, BarG: ifTyped(f, "bar", f.Mass, 0), TrimmingsG: ifTyped(f, "trimmings", f.Mass, 0), Note: f.Get("note")}
		for _, g := range append(ledger.Grades(), ledger.Scrap) {
			c.Bars[g] = ifTyped(f, string(g), f.Count, 0)
		}
		return func() error { return s.shop.RecordCut(ctx, a, oid, c) }, true
	case "sample":
		g, corrects := f.Mass("sample"), int64(0)
		if f.Get("correct") == "on" {
			corrects = entry(f, "last")
		}
		return func() error { return s.shop.WeighSample(ctx, a, oid, g, corrects, f.Get("reason")) }, true
	case "check":
		c := lot.SafetyCheck{Method: f.Get("method"), Pass: f.Get("result") == "good", Note: f.Get("note")}
		if c.Method == "ph" {
			v := f.Number("ph")
			c.PH = &v
			c.Pass, _ = cure.PHVerdict(v)
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
			return s.shop.MoveBars(ctx, a, oid, ledger.Grade(f.Get("grade")), ledger.Reason(f.Get("reason")), n, f.Get("note"))
		}, true
	case "note":
		return func() error { return s.shop.AddNote(ctx, a, oid, f.Get("incident") == "on", f.Get("text")) }, true
	case "giveup":
		return func() error { return s.shop.GiveUp(ctx, a, oid, f.Get("why")) }, true
	}
	return nil, false
}

// entry reads the number of an entry that is corrected.
func entry(f *Form, name string) int64 {
	id, err := strconv.ParseInt(f.Get(name), 10, 64)
	if err != nil {
		return 0
	}
	return id
}

// plural writes a count with its noun.
func plural(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	return strconv.Itoa(n) + " " + noun + "s"
}
