package web

import (
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/exchange"
	"ashshelf/shop"
	"ashshelf/soap/schedule"
)

// monthPage is a month of what is foreseen, in weeks of days.
type monthPage struct {
	Title         string
	Weeks         [][]monthDay
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
	Plans   []shop.Plan
}

// month shows the calendar of a month.
func (s *Server) month(w http.ResponseWriter, r *http.Request) {
	v := sessionOf(r)
	now := s.shop.Now(v.Location)
	first := time.Date(now.Year(), now.Month(), 1, 0, 0, 0, 0, v.Location)
	if text := chi.URLParam(r, "month"); text != "" {
		t, err := time.ParseInLocation("2006-01", text, v.Location)
		if err != nil || t.Year() < 2000 || t.Year() > 2200 {
			s.notFound(w, r)
			return
		}
		first = t
	}
	start := first.AddDate(0, 0, -(int(first.Weekday())+6)%7) // the Monday before
	end := start.AddDate(0, 0, 42)
	events, err := s.shop.Calendar(r.Context(), start, end, v.DaysOff)
	var plans []shop.Plan
	if err == nil {
		plans, err = s.shop.OpenPlans(r.Context())
	}
	var feed string
	if err == nil {
		feed, err = s.shop.Feed(r.Context())
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	p := monthPage{Title: first.Format("January 2006"), Before: first.AddDate(0, -1, 0).Format("2006-01"), After: first.AddDate(0, 1, 0).Format("2006-01"), Events: len(events)}
	if feed != "" {
		p.Feed = addressOf(r, "/calendar/"+feed+".ics")
	}
	off := strings.Fields(v.DaysOff)
	for day := start; day.Before(end); day = day.AddDate(0, 0, 1) {
		if day.Weekday() == time.Monday {
			if !day.Before(first.AddDate(0, 1, 0)) {
				break
			}
			p.Weeks = append(p.Weeks, nil)
		}
		one := monthDay{Day: day, Outside: day.Month() != first.Month(), Today: day.Format(time.DateOnly) == now.Format(time.DateOnly)}
		for _, d := range off {
			one.Off = one.Off || d == strings.ToLower(day.Weekday().String()[:3])
		}
		for _, e := range events {
			if e.Day.Equal(day) {
				one.Events = append(one.Events, e)
			}
		}
		for _, plan := range plans {
			if plan.Day == day.Format(time.DateOnly) {
				one.Plans = append(one.Plans, plan)
			}
		}
		week := &p.Weeks[len(p.Weeks)-1]
		*week = append(*week, one)
	}
	s.show(w, r, http.StatusOK, "month", p.Title, "Shelf", nil, p)
}

// renewFeed makes a new secret address of the calendar.
func (s *Server) renewFeed(w http.ResponseWriter, r *http.Request) {
	if _, ok := s.form(w, r); !ok {
		return
	}
	if err := s.shop.NewFeed(r.Context(), act(r)); err != nil {
		if _, _, ok := s.refused(w, r, err, nil); ok {
			seeOther(w, r, "/calendar")
		}
		return
	}
	seeOther(w, r, "/calendar")
}

// How far back and ahead the feed reaches, in days.
const (
	feedBack  = 7
	feedAhead = 120
)

// feed serves the calendar to a program that knows its secret address. It asks
// for no name, since such programs have none.
func (s *Server) feed(w http.ResponseWriter, r *http.Request) {
	ok, err := s.shop.IsFeed(r.Context(), chi.URLParam(r, "secret"))
	if err == nil && !ok {
		http.NotFound(w, r)
		return
	}
	var settings shop.Settings
	if err == nil {
		settings, err = s.shop.Settings(r.Context())
	}
	var events []schedule.Event
	if err == nil {
		now := s.shop.Now(settings.Location)
		today := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, settings.Location)
		events, err = s.shop.Calendar(r.Context(), today.AddDate(0, 0, -feedBack), today.AddDate(0, 0, feedAhead), settings.DaysOff)
	}
	if err != nil {
		s.log.Error("feed", "err", err)
		http.Error(w, "the calendar could not be made", http.StatusInternalServerError)
		return
	}
	s.download(w, r, "soap.ics", "text/calendar; charset=utf-8", func(w io.Writer) error {
		return exchange.WriteCalendar(w, settings.Name, addressOf(r, ""), events, s.shop.Now(settings.Location))
	})
}
