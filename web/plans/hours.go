package plans

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/planning"
	"ashshelf/soap/caution"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// hoursPage is a day at the bench by its hours: who does what when.
type hoursPage struct {
	planning.Hours
	Form    *page.Form
	Has     []page.Option // what there is of each thing, to be asked for
	Kept    bool          // somebody kept the bench for this day
	Keeps   []page.Option // what is kept at a press, by its field
	Pots    []hoursBatch
	Ends    string
	AtLeast string
	Drawn   draw.Picture
	Drag    []draw.Dragged
	Minute  float64 // how wide it is drawn
	Rows    []hoursRow
	Gains   []string
	Moved   []string // what was moved by hand, as it is asked for
	Loose   string   // address of the day with nothing moved
}

// hoursBatch is a pot with its letter.
type hoursBatch struct {
	Letter, Name, Link string
}

// hoursRow is a step, by its time.
type hoursRow struct {
	timetable.Placed
	Letter         string
	At, Until      string
	Key            string
	Why            string
	Link           string // to the pot's run, or to its sheet
	Learned        string // what its minutes are from, where they are others than the table's
	Free           string // how much later it could be
	Fixed          bool
	Earlier, Later string // addresses with it moved
}

// moveStep is by how many minutes a step is moved at a press.
const moveStep = 10

// benchWords are the things of a bench as a page calls them.
var benchWords = map[string]string{run.Hands: "People", run.JugAway: "Lye jugs", run.PotAway: "Pots", run.Scale: "Scales",
	run.Blender: "Blenders", run.Heat: "Places to heat", run.OvenPlace: "Molds the oven takes"}

// laneWords are the things as their lanes are called.
var laneWords = map[string]string{run.Hands: "hands", run.JugAway: "jug", run.PotAway: "pot", run.Scale: "scale", run.Blender: "blender",
	run.Heat: "heat", "": "by itself"}

// movedValue writes a step that was moved, readMoved reads those of a form.
func movedValue(m run.Moved) string { return m.Batch + "|" + m.Step + "|" + timetable.Clock(m.At) }

func readMoved(f *page.Form) (out []run.Moved) {
	for _, text := range f.Values["at"] {
		parts := strings.Split(text, "|")
		if len(parts) != 3 {
			f.Problems.Add("at", "one of the steps that were moved cannot be read")
			continue
		}
		minute, ok := timetable.ReadClock(parts[2])
		if !ok {
			f.Problems.Add("at", "“%s” is no time of the day", parts[2])
			continue
		}
		out = append(out, run.Moved{Batch: parts[0], Step: parts[1], At: minute})
	}
	return out
}

// readBench reads who and what is there; what is not asked for is as it was kept.
func readBench(f *page.Form, kept run.Bench) run.Bench {
	if len(f.Values) == 0 {
		return kept
	}
	clock := func(name string, usual int) int {
		text := strings.TrimSpace(f.Get(name))
		if text == "" {
			return usual
		}
		minute, ok := timetable.ReadClock(text)
		if !ok {
			f.Problems.Add(name, "type the time like 09:30")
		}
		return minute
	}
	b := run.Bench{Start: clock("start", kept.Start), End: clock("end", kept.End), Has: kept.Has}
	for _, name := range run.Resources() {
		if text := strings.TrimSpace(f.Get(name)); text != "" {
			n, err := strconv.Atoi(text)
			if err != nil {
				f.Problems.Add(name, "say how many there are, as a whole number")
				continue
			}
			b = b.With(name, n)
		}
	}
	b.Moved, b.Note = readMoved(f), strings.TrimSpace(f.Get("note"))
	if len(f.Problems) == 0 {
		f.Problems = b.Check()
	}
	return b
}

func (s *Room) hours(w http.ResponseWriter, r *http.Request) error {
	return s.showHours(w, r, &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}, http.StatusOK, nil)
}

// showHours shows a day with the bench of a form.
func (s *Room) showHours(w http.ResponseWriter, r *http.Request, f *page.Form, status int, notice *caution.Caution) error {
	date := chi.URLParam(r, "date")
	if _, err := time.Parse(time.DateOnly, date); err != nil {
		return store.ErrNotFound
	}
	kept, own, err := s.Shop.Bench(r.Context(), date)
	if err != nil {
		return err
	}
	p := hoursPage{Form: f, Kept: own}
	p.Date = date
	bench := readBench(f, kept)
	if len(f.Problems) == 0 {
		if p.Hours, err = s.Shop.Hours(r.Context(), date, bench); err != nil {
			return err
		}
		if len(r.URL.Query()) > 0 { // of what was kept, what is over or is not to be made any more is passed over
			f.Problems = goneWords(p.Hours)
		}
		bench.Moved = slices.DeleteFunc(slices.Clone(bench.Moved), func(m run.Moved) bool { return slices.Contains(p.Gone, m) })
	}
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	} else {
		p.write(bench)
	}
	p.ask(bench)
	return s.Show(w, r, status, "hours", "The hours of "+dayWords(date), "Plan", notice, p)
}

// goneWords says what was put at a time and cannot be there.
func goneWords(h planning.Hours) (p caution.Problems) {
	for _, m := range h.Gone {
		if m.At < h.Day.Start || m.At >= h.Day.End {
			p.Add("at", "“%s” of “%s” cannot begin at %s: the day is from %s to %s", m.Step, m.Batch, timetable.Clock(m.At),
				timetable.Clock(h.Day.Start), timetable.Clock(h.Day.End))
		} else {
			p.Add("at", "“%s” of “%s” is no step of this day any more", m.Step, m.Batch)
		}
	}
	return p
}

// keepHours keeps who and what is there, for the day or as usual; or has the day follow what is usual again.
func (s *Room) keepHours(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	date := chi.URLParam(r, "date")
	keep := f.Get("keep")
	f.Values.Del("keep")
	return s.Record(w, r, f, func() (string, error) {
		at := "/plan/day/" + date + "/hours"
		if keep == "forget" {
			return at, s.Shop.ForgetBench(r.Context(), page.Act(r), date)
		}
		kept, _, err := s.Shop.Bench(r.Context(), date)
		if err != nil {
			return "", err
		}
		bench := readBench(f, kept)
		if err := f.Problems.Err(); err != nil {
			return "", err
		}
		laid, err := s.Shop.Hours(r.Context(), date, bench)
		if err != nil {
			return "", err
		}
		if p := goneWords(laid); keep == "day" && len(p) > 0 {
			return "", p
		}
		switch keep {
		case "usual":
			return at, s.Shop.KeepBench(r.Context(), page.Act(r), "", bench)
		case "day":
			return at, s.Shop.KeepBench(r.Context(), page.Act(r), date, bench)
		}
		return "", caution.Problems{{Path: "at", Text: "say whether it is kept for this day or as usual"}}
	}, func(status int, notice *caution.Caution) error { return s.showHours(w, r, f, status, notice) })
}

// ask writes what is asked for as it counts.
func (p *hoursPage) ask(b run.Bench) {
	set := func(name, text string) {
		if p.Form.Get(name) == "" {
			p.Form.Set(name, text)
		}
		p.Keeps = append(p.Keeps, page.Option{Value: name, Label: p.Form.Get(name)})
	}
	set("start", timetable.Clock(b.Start))
	set("end", timetable.Clock(b.End))
	for _, name := range run.Resources() {
		set(name, strconv.Itoa(b.Count(name)))
		p.Has = append(p.Has, page.Option{Value: name, Label: benchWords[name]})
	}
	set("note", b.Note)
	for _, m := range b.Moved {
		p.Keeps = append(p.Keeps, page.Option{Value: "at", Label: movedValue(m)})
	}
}

// write writes the day as it was laid.
func (p *hoursPage) write(b run.Bench) {
	letter, link := map[string]string{}, map[string]string{}
	for name, oid := range p.Lots {
		link[name] = "/make/" + oid
	}
	for name, oid := range p.Plans {
		link[name] = "/plans/" + oid
	}
	for i, one := range p.Day.Batches {
		letter[one.Name] = string(rune('A' + i%26))
		p.Pots = append(p.Pots, hoursBatch{letter[one.Name], one.Name, link[one.Name]})
	}
	for _, m := range b.Moved {
		p.Moved = append(p.Moved, movedValue(m))
	}
	if len(b.Moved) == 0 {
		for _, g := range timetable.Gains(p.Day, p.Plan) {
			p.Gains = append(p.Gains, gainWords(g))
		}
	}
	p.Ends, p.AtLeast = timetable.Clock(p.Plan.Ends), timetable.Clock(p.Plan.AtLeast)
	p.rows(b, letter, link)
	p.draw(letter)
}

func gainWords(g timetable.Gain) string {
	what := map[string]string{run.Hands: "One more pair of hands", run.JugAway: "One more jug", run.PotAway: "One more pot",
		run.Scale: "One more scale", run.Blender: "One more blender", run.Heat: "One more place to heat"}[g.Resource]
	switch {
	case what == "":
		return ""
	case g.More > 0:
		return fmt.Sprintf("%s: %s more.", what, page.Plural(g.More, "pot"))
	}
	return fmt.Sprintf("%s: done %d min earlier.", what, g.Earlier)
}

// rows are the steps by their time.
func (p *hoursPage) rows(b run.Bench, letter, link map[string]string) {
	query := without(p.Form.Values, "at")
	query.Set("start", timetable.Clock(b.Start)) // so that it is not the day as it was kept
	p.Loose = "?" + query.Encode()
	for _, s := range p.Plan.Steps {
		if run.Aside(s.Name) {
			continue
		}
		row := hoursRow{Placed: s, Letter: letter[s.Batch], Link: link[s.Batch], Key: s.Batch + "|" + s.Name}
		row.At, row.Until = timetable.Clock(s.From), timetable.Clock(s.To)
		if s.Waits != nil && (s.Waits.Resource == "" || s.Waits.Batch != s.Batch) { // one thing after the other needs no reason
			row.Why = s.Waits.Words()
		}
		if why := p.Pours[s.Batch]; s.Name == run.PourWork && row.Why == "" && why != "" {
			row.Why = why
		}
		if s.Name == run.WarmWork {
			if other := p.WarmFrom(s); other != "" {
				row.Why = "may still be warm from “" + other + "”: look at its thermometer"
			}
		}
		if f, ok := p.From[s.Batch][run.PartOf(s.Name)]; ok && f.Telling() {
			row.Learned = f.Words()
		}
		if s.Slack > 0 {
			row.Free = page.Plural(s.Slack, "minute")
		}
		with := func(by int) string {
			q := without(query, "at")
			for _, m := range b.Moved {
				if m.Batch != s.Batch || m.Step != s.Name {
					q.Add("at", movedValue(m))
				} else {
					row.Fixed = true
				}
			}
			q.Add("at", movedValue(run.Moved{Batch: s.Batch, Step: s.Name, At: min(max(0, s.From+by), timetable.Minutes)}))
			return "?" + q.Encode()
		}
		row.Earlier, row.Later = with(-moveStep), with(moveStep)
		p.Rows = append(p.Rows, row)
	}
}

func without(q url.Values, name string) url.Values {
	out := url.Values{}
	for k, v := range q {
		if k != name {
			out[k] = v
		}
	}
	return out
}

// draw lays the day out in lanes: hands first, then vessels and what is one, then what happens by itself.
func (p *hoursPage) draw(letter map[string]string) {
	tint := map[string]int{}
	for i, one := range p.Day.Batches {
		tint[one.Name] = i
	}
	fixedAt := map[string]bool{}
	for _, row := range p.Rows {
		fixedAt[row.Key] = row.Fixed
	}
	var lanes []draw.HourLane
	newest := run.Hands
	for _, l := range timetable.Lanes(p.Day, p.Plan, run.Laned()) {
		lane := draw.HourLane{Name: laneWords[l.Resource], Gap: l.Resource != newest}
		if l.Of > 1 {
			lane.Name = fmt.Sprintf("%s %d", lane.Name, l.Number)
		}
		newest = l.Resource
		for _, bar := range l.Bars {
			one := draw.HourBar{Letter: letter[bar.Batch], Tint: tint[bar.Batch], Words: bar.Step, From: bar.From, Until: bar.Until,
				Kept: bar.Kept}
			if l.Resource == run.Hands {
				one.Key = bar.Batch + "|" + bar.Step
			}
			one.Fixed = one.Key != "" && fixedAt[one.Key]
			lane.Bars = append(lane.Bars, one)
		}
		lanes = append(lanes, lane)
	}
	p.Drawn, p.Drag = draw.OfHours(lanes, p.Day.Start, p.Day.End, p.Plan.Ends,
		"The day in lanes: who does what when, and what is taken meanwhile")
	p.Minute = draw.HoursMinute(p.Day.Start, p.Day.End)
}
