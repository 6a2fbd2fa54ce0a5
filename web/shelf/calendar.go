package shelf

import (
	"fmt"
	"io"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop"
	"ashshelf/shop/catalog"
	"ashshelf/shop/planning"
	"ashshelf/soap/cure"
	"ashshelf/soap/day"
	"ashshelf/soap/schedule"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// monthPage is a month of what went and what is foreseen: a ribbon with each lot's way through its
// days, and what falls on each day in words.
type monthPage struct {
	Title         string
	Days          []monthDay
	Strips        []stripLine
	Left          int // lots that have no room on the ribbon
	Before, After string
	Events        int
	Feed          string // address of the feed, empty before one is made
}

type monthDay struct {
	Day     time.Time
	Outside bool // of the month
	Today   bool
	Off     bool
	Events  []schedule.Event
	Many    []manyEvents // of a kind of which there are too many to name
	Plans   []planning.Plan
}

// Something reports whether the day has anything on it.
func (d monthDay) Something() bool { return len(d.Events)+len(d.Many)+len(d.Plans) > 0 }

// stripLine is a lot, or a plan for a day, on the ribbon.
type stripLine struct {
	Address, Code, Name string
	Drawn               draw.Picture
}

// mostStrips is how many lots the ribbon has room for.
const mostStrips = 60

// ribbon lays lots and plans along the days of the page.
func (p *monthPage) ribbon(courses []schedule.Course, plans []planning.Plan, events []schedule.Event, start, now time.Time) {
	at := func(t time.Time) float64 { return draw.DaysFrom(start, t.In(now.Location())) }
	blank := draw.Strip{Days: len(p.Days), Off: make([]bool, len(p.Days)), Now: at(now)}
	for i, d := range p.Days {
		blank.Off[i] = d.Off
	}
	if len(courses) > mostStrips {
		p.Left = len(courses) - mostStrips
		courses = courses[p.Left:] // the newest stay
	}
	for _, c := range courses {
		s := draw.CourseStrip(c, start, now)
		s.Days, s.Off = blank.Days, blank.Off
		for _, e := range events {
			if e.Lot != nil && e.Lot.OID == c.Lot.OID {
				s.Dues = append(s.Dues, at(e.Day))
			}
		}
		line := stripLine{"/lots/" + c.Lot.OID, c.Lot.Code, c.Lot.Frozen.Recipe, draw.OfStrip(s)}
		line.Drawn.Title = draw.CourseWords(c, now)
		p.Strips = append(p.Strips, line)
	}
	for _, one := range plans {
		on, err := time.Parse(time.DateOnly, one.Day)
		if err != nil {
			continue
		}
		s := blank
		s.Plan = true
		s.Poured = float64(day.Between(start, on)) + 0.4 // in the course of the day
		s.Out = s.Poured + cure.Expected(one.Request.Formula).Best.Hours()/24
		s.Ready = math.Floor(s.Poured) + float64(one.Policy.Days)
		line := stripLine{"/plans/" + one.OID, "plan", one.PlanBody.Recipe, draw.OfStrip(s)}
		line.Drawn.Title = "To be made on " + on.Format("2 Jan")
		p.Strips = append(p.Strips, line)
	}
}

// Address is that of the day's page.
func (d monthDay) Address() string { return "/calendar/" + d.Day.Format(time.DateOnly) }

// manyEvents counts what falls on a day.
type manyEvents struct {
	Kind  schedule.Kind
	Count int
}

// gather puts the events of a kind together where there are many.
func (d *monthDay) gather() {
	count := map[schedule.Kind]int{}
	for _, e := range d.Events {
		count[e.Kind]++
	}
	var few []schedule.Event
	for _, e := range d.Events {
		if n := count[e.Kind]; n < manyTasks {
			few = append(few, e)
		} else if !slices.ContainsFunc(d.Many, func(m manyEvents) bool { return m.Kind == e.Kind }) {
			d.Many = append(d.Many, manyEvents{e.Kind, n})
		}
	}
	d.Events = few
}

// duePage is what falls on one day.
type duePage struct {
	Before, After, Month string
	Off                  bool
	Windows              []windowLine
	Drawn                draw.Day
	Due                  []todos
	Plans                []planning.Plan
}

// windowLine is a window in words.
type windowLine struct {
	schedule.Task
	When string
}

// calendarDay shows a day: its windows at their hours, what is due, what is planned.
func (s *Room) calendarDay(w http.ResponseWriter, r *http.Request, date time.Time) error {
	v := page.SessionOf(r)
	now, on := s.Shop.Now(v.Location), day.Start(date, v.Location)
	windows, due, err := s.Shop.DueOn(r.Context(), on, v.DaysOff)
	var plans []planning.Plan
	if err == nil {
		plans, err = s.Shop.OpenPlansOn(r.Context(), date.Format(time.DateOnly), date.Format(time.DateOnly))
	}
	var racks []shop.Rack
	if err == nil {
		racks, err = s.Shop.Racks(r.Context())
	}
	if err != nil {
		return err
	}
	p := duePage{
		Before: date.AddDate(0, 0, -1).Format(time.DateOnly),
		After:  date.AddDate(0, 0, 1).Format(time.DateOnly),
		Month:  date.Format("2006-01"),
		Drawn:  draw.OfDay(on, windows, now),
		Off:    slices.Contains(strings.Fields(v.DaysOff), strings.ToLower(date.Weekday().String()[:3])),
	}
	clock := func(t time.Time) string {
		if t = t.In(v.Location); t.Format(time.DateOnly) == date.Format(time.DateOnly) {
			return t.Format("15:04")
		}
		return t.Format("Mon 15:04")
	}
	for _, t := range windows {
		p.Windows = append(
			p.Windows,
			windowLine{t, fmt.Sprintf("opens %s, best at %s, closes %s", clock(t.Opens), clock(t.Best), clock(t.Closes))},
		)
	}
	where := whereOf(racks)
	for _, kind := range schedule.Kinds() {
		var of []schedule.Task
		for _, e := range due {
			if e.Kind == kind {
				of = append(of, e.Task)
			}
		}
		p.Due = append(p.Due, todosOf(of, v, now, where, kind)...)
	}
	p.Plans = plans
	return s.Show(w, r, http.StatusOK, "calendar-day", date.Format("Monday 2 January 2006"), "Shelf", nil, p)
}

// month shows the calendar of a month.
func (s *Room) month(w http.ResponseWriter, r *http.Request) error {
	v := page.SessionOf(r)
	now := s.Shop.Now(v.Location)
	first := time.Date(now.Year(), now.Month(), 1, 0, 0, 0, 0, time.UTC) // dates are walked as such
	if text := chi.URLParam(r, "month"); text != "" {
		if on, err := time.Parse(time.DateOnly, text); err == nil && on.Year() >= 2000 && on.Year() <= 2200 {
			return s.calendarDay(w, r, on)
		}
		t, err := time.Parse("2006-01", text)
		if err != nil || t.Year() < 2000 || t.Year() > 2200 {
			return store.ErrNotFound
		}
		first = t
	}
	start := first.AddDate(0, 0, -(int(first.Weekday())+6)%7) // the Monday before
	end := start.AddDate(0, 0, 42)
	events, err := s.Shop.Calendar(r.Context(), day.Start(start, v.Location), day.Start(end, v.Location), v.DaysOff)
	var plans []planning.Plan
	if err == nil {
		plans, err = s.Shop.OpenPlansOn(r.Context(), start.Format(time.DateOnly), end.Format(time.DateOnly))
	}
	var feed string
	if err == nil {
		feed, err = s.Shop.Feed(r.Context())
	}
	if err != nil {
		return err
	}
	p := monthPage{
		Title:  first.Format("January 2006"),
		Before: first.AddDate(0, -1, 0).Format("2006-01"),
		After:  first.AddDate(0, 1, 0).Format("2006-01"),
		Events: len(events),
	}
	if feed != "" {
		p.Feed = page.AddressOf(r, "/calendar/"+feed+".ics")
	}
	off := strings.Fields(v.DaysOff)
	for on := start; on.Before(end); on = on.AddDate(0, 0, 1) {
		if on.Weekday() == time.Monday && !on.Before(first.AddDate(0, 1, 0)) {
			break
		}
		one := monthDay{Day: on, Outside: on.Month() != first.Month(), Today: on.Format(time.DateOnly) == now.Format(time.DateOnly)}
		for _, d := range off {
			one.Off = one.Off || d == strings.ToLower(on.Weekday().String()[:3])
		}
		for _, e := range events {
			if day.Of(e.Day).Equal(on) {
				one.Events = append(one.Events, e)
			}
		}
		for _, plan := range plans {
			if plan.Day == on.Format(time.DateOnly) {
				one.Plans = append(one.Plans, plan)
			}
		}
		one.gather()
		p.Days = append(p.Days, one)
	}
	last := p.Days[len(p.Days)-1].Day
	courses, err := s.Shop.Ribbon(r.Context(), day.Start(start, v.Location), day.Start(last.AddDate(0, 0, 1), v.Location))
	if err != nil {
		return err
	}
	p.ribbon(courses, plans, events, day.Start(start, v.Location), now)
	return s.Show(w, r, http.StatusOK, "month", p.Title, "Shelf", nil, p)
}

// due answers a page that stays open with what is to be done by now.
func (s *Room) due(w http.ResponseWriter, r *http.Request) error {
	d, err := s.Reminds(r)
	if err != nil {
		return err
	}
	return s.Render(w, r, http.StatusOK, "due", d)
}

// renewFeed makes a new secret address of the calendar.
func (s *Room) renewFeed(w http.ResponseWriter, r *http.Request) error {
	if _, err := s.Form(r); err != nil {
		return err
	}
	if err := s.Shop.NewFeed(r.Context(), page.Act(r)); err != nil {
		return err
	}
	return page.SeeOther(w, r, "/calendar")
}

// How far back and ahead the feed reaches, in days.
const (
	feedBack  = 7
	feedAhead = 120
)

// feed serves the calendar to a program that knows its secret address. It asks
// for no name, since such programs have none.
func (s *Room) feed(w http.ResponseWriter, r *http.Request) error {
	ok, err := s.Shop.IsFeed(r.Context(), chi.URLParam(r, "secret"))
	if err == nil && !ok {
		return store.ErrNotFound
	}
	var settings catalog.Settings
	if err == nil {
		settings, err = s.Shop.Settings(r.Context())
	}
	var events []schedule.Event
	if err == nil {
		now := s.Shop.Now(settings.Location)
		events, err = s.Shop.Calendar(r.Context(), day.Plus(now, -feedBack), day.Plus(now, feedAhead), settings.DaysOff)
	}
	if err != nil {
		s.Log.Error("feed", "err", err)
		http.Error(w, "the calendar could not be made", http.StatusInternalServerError)
		return nil
	}
	return s.Download(w, r, "soap.ics", "text/calendar; charset=utf-8", func(w io.Writer) error {
		return exchange.WriteCalendar(w, settings.Name, page.AddressOf(r, ""), events, s.Shop.Now(settings.Location))
	})
}
