package selling

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop/tracing"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/recall"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// tracePage is where something went and what it came from, and where a recall begins.
type tracePage struct {
	tracing.Trace
	Form      *page.Form
	Asked     bool   // something is traced
	Nothing   string // what was asked for, where nothing of it went anywhere
	Kinds     []page.Option
	Rows      []tracing.Step // its lots
	More      int            // lots that are not shown
	Score     recall.Score
	Wheres    []draw.Where
	Drawn     draw.Picture
	Complaint string
	Names     []string // of scents, to choose from
}

// mostLots is how many lots are shown of what went everywhere. A recall has them all in its list.
const mostLots = 200

// kindWords are what can be traced by a name or a code; the others are reached from their own pages.
var kindWords = []page.Option{
	{Value: "lot", Label: "a lot, by its code"}, {Value: "event", Label: "an event or a buyer, by name"},
	{Value: "scent", Label: "a scent, by name"},
}

func (s *Room) trace(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	return s.showTrace(w, r, http.StatusOK, f, nil)
}

func (s *Room) showTrace(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	p := tracePage{Form: f, Kinds: kindWords, Complaint: f.Get("complaint")}
	subject := tracing.Subject{Kind: f.Get("kind"), Of: f.Get("of")}
	if number, err := lot.ParseCode(subject.Of); err == nil && subject.Kind == "lot" { // it was typed; a page names the identity
		lots, _, err := s.Shop.FindLots(r.Context(), store.LotsWhere{Number: number})
		if err != nil {
			return err
		}
		for _, one := range lots {
			subject.Of = one.OID
		}
	}
	scents, err := s.Shop.Scents(r.Context())
	if err != nil {
		return err
	}
	for _, one := range scents {
		p.Names = append(p.Names, one.Scent.Label())
	}
	title := "Where it went"
	if subject.Of != "" {
		found, err := s.Shop.Trace(r.Context(), subject)
		switch {
		case err == nil && len(found.Start) > 0:
			p.Trace, p.Asked, p.Score, p.Rows = found, true, found.Score(), found.Lots()
			if p.More = len(p.Rows) - mostLots; p.More > 0 {
				p.Rows = p.Rows[:mostLots]
			}
			p.Wheres, p.Drawn, title = draw.WheresOf(p.Score), draw.OfWhere(p.Score), "Where "+found.Name+" went"
		case err == nil:
			p.Nothing, title = found.Name, "Where "+found.Name+" went"
		case errors.Is(err, store.ErrNotFound):
			f.Problems.Add("of", "nothing of that name was found")
		default:
			return err
		}
	}
	return s.Show(w, r, status, "trace", title, "Sell", notice, p)
}

// begin begins a recall or a drill.
func (s *Room) begin(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if f.Get("how") != "recall" && f.Get("how") != "drill" {
		f.Problems.Add("how", "choose a recall or a drill")
	}
	return s.Record(w, r, f, func() (string, error) {
		r, err := s.Sign(r, "/recalls")
		if err != nil {
			return "", err
		}
		oid, err := s.Shop.Begin(r.Context(), page.Act(r), tracing.Subject{Kind: f.Get("kind"), Of: f.Get("of")}, f.Get("why"),
			f.Get("how") == "drill", f.Get("complaint"))
		return "/recalls/" + oid, err
	}, func(status int, notice *caution.Caution) error { return s.showTrace(w, r, status, f, notice) })
}

// recallsPage lists recalls and drills.
type recallsPage struct {
	List []recallLine
}

type recallLine struct {
	tracing.Recall
	Total recall.Score
	Took  string
	Drawn draw.Picture
}

func lineOf(one tracing.Recall, now time.Time) recallLine {
	l := recallLine{Recall: one, Total: one.Score(), Took: tookWords(one.Took(now))}
	l.Drawn = draw.OfWhere(l.Total)
	return l
}

// tookWords says how long a recall took.
func tookWords(d time.Duration) string {
	switch {
	case d < time.Minute:
		return "less than a minute"
	case d < 2*time.Hour:
		return page.Plural(int(d.Minutes()+0.5), "minute")
	case d < 48*time.Hour:
		return page.Plural(int(d.Hours()+0.5), "hour")
	}
	return page.Plural(int(d.Hours()/24+0.5), "day")
}

func (s *Room) recalls(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Recalls(r.Context())
	if err != nil {
		return err
	}
	var p recallsPage
	for _, one := range list {
		p.List = append(p.List, lineOf(one, s.Shop.Clock()))
	}
	return s.Show(w, r, http.StatusOK, "recalls", "Recalls and drills", "Sell", nil, p)
}

// recallPage is a recall with its score, lot by lot.
type recallPage struct {
	recallLine
	Wheres []draw.Where
	Rows   []recallRow
	Owing  []tracing.Owing
	Form   *page.Form
	End    *page.Form
	Bars   []page.Option
	Whats  []page.Option
	Whole  bool
}

// Lent reports whether some of them stand with a buyer on sale or return.
func (p recallPage) Lent() bool {
	return slices.ContainsFunc(p.Rows, func(r recallRow) bool { return len(r.Lot.Lent) > 0 })
}

// recallRow is a lot in a recall.
type recallRow struct {
	recall.Lot
	store.Named
	Total recall.Score
	Share int64
	Drawn draw.Picture
}

func (s *Room) recall(w http.ResponseWriter, r *http.Request) error {
	return s.showRecall(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showRecall(w http.ResponseWriter, r *http.Request, status int, act string, f *page.Form, notice *caution.Caution) error {
	one, err := s.Shop.Recall(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	p := recallPage{recallLine: lineOf(one, s.Shop.Clock()), Owing: one.Owing()}
	p.Wheres, p.Whole = draw.WheresOf(p.Total), p.Total.Whole()
	for i, l := range one.Lots {
		row := recallRow{Lot: l, Named: one.Row[l.OID], Total: l.Score(), Share: one.Shares[one.Recall.Lots[i]]}
		row.Drawn = draw.OfWhere(row.Total)
		p.Rows = append(p.Rows, row)
		p.Bars = append(p.Bars, poolOptions(row)...)
	}
	for _, what := range recall.Whats() {
		p.Whats = append(p.Whats, page.Option{Value: string(what), Label: what.Words()})
	}
	blank := func() *page.Form { return &page.Form{Values: url.Values{}, System: page.SessionOf(r).System} }
	p.Form, p.End = blank(), blank()
	switch {
	case f != nil && act == "end":
		p.End = f
	case f != nil:
		p.Form = f
	}
	title := fmt.Sprintf("Recall %d", one.Number)
	if one.Drill {
		title = fmt.Sprintf("Drill %d", one.Number)
	}
	return s.Show(w, r, status, "recall", title, "Sell", notice, p)
}

// poolOptions are where bars of a lot are that something can become of.
func poolOptions(row recallRow) (out []page.Option) {
	add := func(pool recall.Pool, of int64, n int, words string) {
		if n > 0 {
			out = append(out, page.Option{
				Value: strings.Join([]string{row.Lot.OID, string(pool), strconv.FormatInt(of, 10)}, "|"),
				Label: fmt.Sprintf("%s: %d %s", row.Code, n, words),
			})
		}
	}
	for _, w := range row.Went {
		if w.Known() {
			add(recall.Buyer, w.Entry, row.With(w.Entry), "with "+w.Buyer)
		}
	}
	add(recall.Unknown, 0, row.Total.Unknown, "with buyers nobody knows")
	add(recall.Returned, 0, row.Total.Returned, "that came back")
	add(recall.House, 0, row.Total.House, "in the house")
	return out
}

// recallAct notes what became of bars, or ends a recall.
func (s *Room) recallAct(w http.ResponseWriter, r *http.Request) error {
	oid, act := chi.URLParam(r, "oid"), chi.URLParam(r, "act")
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if act != "note" && act != "end" && act != "again" {
		return fmt.Errorf("%s of a recall: %w", act, store.ErrNotFound)
	}
	return s.Record(w, r, f, func() (string, error) {
		to := "/recalls/" + oid
		if act != "note" {
			return to, s.Shop.End(r.Context(), page.Act(r), oid, act == "again", f.Get("note"))
		}
		parts := strings.Split(f.Get("bars_of"), "|")
		if len(parts) != 3 {
			f.Problems.Add("bars_of", "choose which bars")
			parts = make([]string, 3)
		}
		of, err := strconv.ParseInt(parts[2], 10, 64)
		if err != nil {
			of = 0
		}
		m := recall.Move{What: recall.What(f.Get("what")), Pool: recall.Pool(parts[1]), Of: of, Bars: f.Count("bars"), Note: f.Get("note")}
		if err := f.Problems.Err(); err != nil {
			return "", err
		}
		return to, s.Shop.Note(r.Context(), page.Act(r), oid, parts[0], m)
	}, func(status int, notice *caution.Caution) error { return s.showRecall(w, r, status, act, f, notice) })
}

// letterPage is what is written to those who have bars of a recall.
type letterPage struct {
	tracing.Recall
	Buyers  []letterTo
	Address string
	Codes   []string
}

// letterTo is a buyer with what she has.
type letterTo struct {
	Name string
	Bars []tracing.Owing
}

// add writes bars into the letter to a buyer.
func (p *letterPage) add(buyer string, o tracing.Owing) {
	i := slices.IndexFunc(p.Buyers, func(to letterTo) bool { return strings.EqualFold(to.Name, buyer) })
	if i < 0 {
		i = len(p.Buyers)
		p.Buyers = append(p.Buyers, letterTo{Name: buyer})
	}
	p.Buyers[i].Bars = append(p.Buyers[i].Bars, o)
}

func (s *Room) letter(w http.ResponseWriter, r *http.Request) error {
	one, err := s.Shop.Recall(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	rules, err := s.Shop.LabelRules(r.Context())
	if err != nil {
		return err
	}
	p := letterPage{Recall: one, Address: rules.Address}
	for _, o := range one.Owing() {
		p.add(o.Buyer, o)
	}
	for _, l := range one.Lots {
		p.Codes = append(p.Codes, l.Code)
		for _, lent := range l.Lent {
			p.add(lent.Buyer, tracing.Owing{Lot: l.OID, Code: l.Code, Went: lent, With: lent.Bars})
		}
	}
	return s.Show(w, r, http.StatusOK, "recall-letter", fmt.Sprintf("Letter of recall %d", one.Number), "Sell", nil, p)
}

// recallCSV is the list of a recall: a row for each time that bars went out, and one for each lot of what is in the house.
func (s *Room) recallCSV(w http.ResponseWriter, r *http.Request) error {
	one, err := s.Shop.Recall(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	zone := page.SessionOf(r).Location
	return s.Download(w, r, page.FileName(fmt.Sprintf("recall %d", one.Number), ".csv"), "text/csv; charset=utf-8", func(to io.Writer) error {
		rows := [][]string{{"lot", "soap", "made", "bars", "where", "on", "buyer", "event", "still_there"}}
		for _, l := range one.Lots {
			name, made := one.Row[l.OID].More, strconv.Itoa(l.Made)
			row := func(bars int, where string, more ...string) {
				if bars > 0 {
					rows = append(rows, append([]string{l.Code, name, made, strconv.Itoa(bars), where}, more...))
				}
			}
			score := l.Score()
			for _, lent := range l.Lent {
				row(lent.Bars, "with a buyer on sale or return, among those in the house", lent.On.In(zone).Format(time.DateOnly), lent.Buyer,
					lent.Event, strconv.Itoa(lent.Bars))
			}
			row(score.House, "in the house", "", "", "", strconv.Itoa(score.House))
			row(score.Worked, "worked into other soap", "", "", "", "0")
			row(score.Returned, "came back", "", "", "", strconv.Itoa(score.Returned))
			row(score.Destroyed, "destroyed", "", "", "", "0")
			row(score.Lost, "missing at a count", "", "", "", "0")
			for _, went := range l.Went {
				still := ""
				if went.Known() {
					still = strconv.Itoa(l.With(went.Entry))
				}
				row(went.Bars, string(went.Reason), went.On.In(zone).Format(time.DateOnly), went.Buyer, went.Event, still)
			}
		}
		return exchange.WriteTable(to, "recall", rows)
	})
}

// complaintsPage lists complaints, and takes one.
type complaintsPage struct {
	List  []store.Complaint
	Form  *page.Form
	Forms map[string]*page.Form // of those that are answered, by identity
	Kinds []page.Option
	Whats []page.Option
}

func (s *Room) complaints(w http.ResponseWriter, r *http.Request) error {
	return s.showComplaints(w, r, http.StatusOK, "", &page.Form{Values: r.URL.Query()}, nil)
}

func (s *Room) showComplaints(w http.ResponseWriter, r *http.Request, status int, oid string, f *page.Form, notice *caution.Caution) error {
	list, err := s.Shop.Complaints(r.Context(), "")
	if err != nil {
		return err
	}
	p := complaintsPage{List: list, Forms: map[string]*page.Form{}, Whats: []page.Option{
		{Value: "done", Label: "done"}, {Value: "held", Label: "done, and the lot is put on hold"}, {Value: "ended", Label: "it ended so"},
	}}
	for _, kind := range tracing.ComplaintKinds() {
		p.Kinds = append(p.Kinds, page.Option{Value: kind[0], Label: kind[1]})
	}
	p.Form = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	for _, one := range list {
		p.Forms[one.OID] = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	}
	if oid == "" {
		p.Form = f
	} else {
		p.Forms[oid] = f
	}
	return s.Show(w, r, status, "complaints", "Complaints", "Sell", notice, p)
}

func (s *Room) complain(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		oid, err := s.Shop.Complain(r.Context(), page.Act(r), store.Complaint{Kind: f.Get("kind"), Said: f.Get("said"), From: f.Get("from")},
			f.Get("code"))
		return "/complaints#c-" + oid, err
	}, func(status int, notice *caution.Caution) error { return s.showComplaints(w, r, status, "", f, notice) })
}

func (s *Room) answer(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	if _, err := s.Shop.Complaints(r.Context(), oid); err != nil {
		return err
	}
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/complaints#c-" + oid, s.Shop.Answer(r.Context(), page.Act(r), oid, f.Get("what"), f.Get("text"))
	}, func(status int, notice *caution.Caution) error { return s.showComplaints(w, r, status, oid, f, notice) })
}
