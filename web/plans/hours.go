package plans

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

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
	Date    string
	Form    *page.Form
	Has     []page.Option // what there is of each thing, to be asked for
	Batches []hoursBatch
	Plan    timetable.Plan
	Ends    string
	AtLeast string
	Drawn   draw.Picture
	Drag    []draw.Dragged
	Minute  float64 // how wide it is drawn
	Rows    []hoursRow
	Late    []timetable.Late
	Gains   []string
	Broken  []timetable.Broken // by what was moved, had all else stayed
	Moved   []string           // what was moved by hand, as it is asked for
	Free    string             // address of the day with nothing moved
	From    planning.Learned   // what the minutes of steps are from
	Today   bool               // it is what is left of today
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
	run.Blender: "Blenders", run.Heat: "Places to heat"}

// laneWords are the things as their lanes are called.
var laneWords = map[string]string{run.Hands: "hands", run.JugAway: "jug", run.PotAway: "pot", run.Scale: "scale", run.Blender: "blender",
	run.Heat: "heat", "": "by itself"}

// fixed is a step that somebody wants at a time.
type fixed struct {
	batch, step string
	at          int
}

func (x fixed) value() string { return x.batch + "|" + x.step + "|" + timetable.Clock(x.at) }

// readFixed reads the steps that were moved by hand.
func readFixed(f *page.Form) (out []fixed) {
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
		out = append(out, fixed{parts[0], parts[1], minute})
	}
	return out
}

// readBench reads who and what is there; what is not asked for is as usual.
func readBench(f *page.Form, usual planning.Bench) planning.Bench {
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
	b := planning.Bench{Start: clock("start", usual.Start), End: clock("end", usual.End), Has: map[string]int{}}
	for _, name := range planning.BenchHas() {
		b.Has[name] = usual.Has[name]
		if text := strings.TrimSpace(f.Get(name)); text != "" {
			n, err := strconv.Atoi(text)
			if err != nil {
				f.Problems.Add(name, "say how many there are, as a whole number")
				continue
			}
			b.Has[name] = n
		}
	}
	if len(f.Problems) == 0 {
		f.Problems = b.Check()
	}
	return b
}

func (s *Room) hours(w http.ResponseWriter, r *http.Request) error {
	date := chi.URLParam(r, "date")
	d, err := s.Shop.Day(r.Context(), date)
	var wrong caution.Problems
	if errors.As(err, &wrong) { // not a date
		return store.ErrNotFound
	}
	if err != nil {
		return err
	}
	usual, err := s.Shop.UsualBench(r.Context())
	if err != nil {
		return err
	}
	settings, err := s.Shop.Settings(r.Context())
	if err != nil {
		return err
	}
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	p := hoursPage{Date: date, Form: f}
	bench := readBench(f, usual)
	moved := readFixed(f)
	status, day, links := http.StatusOK, timetable.Day{}, map[string]string{}
	if date == s.Shop.Now(settings.Location).Format("2006-01-02") && len(f.Problems) == 0 { // what is left of it, from where it stands
		c, err := s.Shop.Conduct(r.Context(), bench)
		if err != nil {
			return err
		}
		day, bench.Start, bench.End, p.Today, p.From = c.Day, c.Day.Start, c.Day.End, true, c.From
		for name, oid := range c.Lots {
			links[name] = "/make/" + oid
		}
	} else {
		e, err := s.Shop.Experience(r.Context(), d.Recipes())
		if err != nil {
			return err
		}
		day, p.From = d.Hours(bench, settings.RoomC, e, 0)
	}
	for _, m := range moved {
		if stepOf(day, m) == nil {
			f.Problems.Add("at", "“%s” of “%s” is no step of this day any more", m.step, m.batch)
		} else if m.at < max(1, day.Start) || m.at >= day.End {
			f.Problems.Add("at", "“%s” of “%s” cannot begin at %s: the day is from %s to %s", m.step, m.batch, timetable.Clock(m.at),
				timetable.Clock(day.Start), timetable.Clock(day.End))
		}
	}
	if len(f.Problems) > 0 {
		status = http.StatusUnprocessableEntity
	} else {
		p.lay(d, bench, day, links, moved)
	}
	p.ask(bench)
	return s.Show(w, r, status, "hours", "The hours of "+dayWords(date), "Plan", nil, p)
}

// ask writes what is asked for as it counts.
func (p *hoursPage) ask(b planning.Bench) {
	set := func(name, text string) {
		if p.Form.Get(name) == "" {
			p.Form.Set(name, text)
		}
	}
	set("start", timetable.Clock(b.Start))
	set("end", timetable.Clock(b.End))
	for _, name := range planning.BenchHas() {
		set(name, strconv.Itoa(b.Has[name]))
		p.Has = append(p.Has, page.Option{Value: name, Label: benchWords[name]})
	}
}

// lay lays the day, with what was moved where it was put.
func (p *hoursPage) lay(d planning.Day, b planning.Bench, day timetable.Day, link map[string]string, moved []fixed) {
	letter := map[string]string{}
	at := len(link) // pots that were begun stand first
	for _, one := range d.Plans {
		for range one.Pots() {
			link[day.Batches[at].Name] = "/plans/" + one.OID
			at++
		}
	}
	for i, one := range day.Batches {
		letter[one.Name] = string(rune('A' + i%26))
		p.Batches = append(p.Batches, hoursBatch{letter[one.Name], one.Name, link[one.Name]})
	}
	free := timetable.Lay(day)
	p.Plan = free
	if len(moved) > 0 {
		asIf := free
		asIf.Steps = append([]timetable.Placed{}, free.Steps...)
		for _, m := range moved {
			stepOf(day, m).At = m.at
			for i, s := range asIf.Steps {
				if s.Batch == m.batch && s.Name == m.step {
					asIf.Steps[i].From, asIf.Steps[i].To = m.at, m.at+s.To-s.From
				}
			}
			p.Moved = append(p.Moved, m.value())
		}
		p.Broken = timetable.Judge(day, asIf.Steps)
		p.Plan = timetable.Lay(day)
	} else {
		for _, g := range timetable.Gains(day, free) {
			p.Gains = append(p.Gains, gainWords(g))
		}
	}
	p.Late = p.Plan.Late
	p.Ends, p.AtLeast = timetable.Clock(p.Plan.Ends), timetable.Clock(p.Plan.AtLeast)
	p.rows(letter, link, moved)
	p.draw(b, day, letter)
}

// stepOf is the step that was moved; nil when the day has none like it.
func stepOf(day timetable.Day, m fixed) *timetable.Step {
	for _, b := range day.Batches {
		for j := range b.Steps {
			if b.Name == m.batch && b.Steps[j].Name == m.step {
				return &b.Steps[j]
			}
		}
	}
	return nil
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
func (p *hoursPage) rows(letter, link map[string]string, moved []fixed) {
	query := p.Form.Values
	p.Free = "?" + without(query, "at").Encode()
	for _, s := range p.Plan.Steps {
		if s.Name == run.InHand {
			continue
		}
		row := hoursRow{Placed: s, Letter: letter[s.Batch], Link: link[s.Batch], Key: s.Batch + "|" + s.Name}
		row.At, row.Until = timetable.Clock(s.From), timetable.Clock(s.To)
		if s.Waits != nil && (s.Waits.Resource == "" || s.Waits.Batch != s.Batch) { // one thing after the other needs no reason
			row.Why = s.Waits.Words()
		}
		if f, ok := p.From[s.Batch][run.PartOf(s.Name)]; ok && f.Telling() {
			row.Learned = f.Words()
		}
		if s.Slack > 0 {
			row.Free = page.Plural(s.Slack, "minute")
		}
		with := func(by int) string {
			q := without(query, "at")
			for _, m := range moved {
				if m.batch != s.Batch || m.step != s.Name {
					q.Add("at", m.value())
				} else {
					row.Fixed = true
				}
			}
			q.Add("at", fixed{s.Batch, s.Name, min(max(0, s.From+by), timetable.Minutes)}.value())
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
func (p *hoursPage) draw(b planning.Bench, day timetable.Day, letter map[string]string) {
	tint := map[string]int{}
	for i, one := range day.Batches {
		tint[one.Name] = i
	}
	fixedAt := map[string]bool{}
	for _, row := range p.Rows {
		fixedAt[row.Key] = row.Fixed
	}
	var lanes []draw.HourLane
	newest := run.Hands
	for _, l := range timetable.Lanes(day, p.Plan, planning.BenchHas()) {
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
	p.Drawn, p.Drag = draw.OfHours(lanes, b.Start, b.End, p.Plan.Ends, "The day in lanes: who does what when, and what is taken meanwhile")
	p.Minute = draw.HoursMinute(b.Start, b.End)
}
