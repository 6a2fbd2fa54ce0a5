package trading

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/trading"
	"ashshelf/soap/caution"
	"ashshelf/soap/day"
	"ashshelf/soap/demand"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// pourRow is a pour with what speaks for its day and what it takes.
type pourRow struct {
	trading.PouredBy
	Value   string // as it is sent
	Day     string
	Why     string
	Short   string // of the stores
	NoPot   string
	Broken  []string // what it breaks
	Earlier string   // addresses of the page with it moved by a day
	Later   string
}

// shortRow is bars that cannot be had, with what could be sold instead.
type shortRow struct {
	demand.Short
	Words string
}

// aheadPage is what to make by when.
type aheadPage struct {
	trading.Ahead
	Form    *page.Form
	Rows    []pourRow
	Shorts  []shortRow
	Other   []string // what is broken that is no pour's own
	Drawn   draw.Picture
	Drag    []draw.Dragged
	DayW    float64
	Chosen  bool
	Without []trading.Wanted // that no recipe is planned for
}

// pourValue is a pour as it is sent: recipe, day and pots.
func pourValue(p demand.Pour) string {
	return p.On.Format(time.DateOnly) + "|" + strconv.Itoa(p.Pots) + "|" + p.Recipe
}

// readPours reads the pours that somebody chose; what cannot be read is told.
func readPours(f *page.Form) (out []demand.Pour) {
	for _, text := range f.Values["pour"] {
		parts := strings.SplitN(text, "|", 3)
		if len(parts) < 3 {
			f.Problems.Add("pours", "one of the pours cannot be read")
			continue
		}
		on, err := time.Parse(time.DateOnly, parts[0])
		pots, errPots := strconv.Atoi(parts[1])
		if err != nil || errPots != nil || pots < 1 || pots > 100 {
			f.Problems.Add("pours", "one of the pours cannot be read")
			continue
		}
		out = append(out, demand.Pour{Recipe: parts[2], On: on, Pots: pots})
	}
	return out
}

func (s *Room) ahead(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	status := http.StatusOK
	pours := readPours(f)
	if len(f.Problems) > 0 {
		status, pours = http.StatusUnprocessableEntity, nil
	}
	return s.showAhead(w, r, status, f, pours, nil)
}

// limitWords says why a pour is not later.
func limitWords(l demand.Limit, of string, until time.Time) string {
	on := page.LocalDay(until.Format(time.DateOnly))
	switch l {
	case demand.Missing:
		return "any later, and " + of + " is missing on " + on
	case demand.RackFull:
		return "the racks are full until " + on
	case demand.TooManyPots:
		return "the days until " + on + " have their pots"
	case demand.OnDayOff:
		return "nobody works before " + on
	case demand.CutOnDayOff:
		return "its cut would fall on a day off until " + on
	case demand.MoldTaken:
		return "its molds are full until " + on
	}
	return "it could be later"
}

// brokenWords says what pours break.
func brokenWords(b demand.Broken) string {
	on := page.LocalDay(b.On.Format(time.DateOnly))
	switch b.What {
	case demand.BeforeToday:
		return on + " is over"
	case demand.OnDayOff:
		return "nobody works on " + on
	case demand.CutOnDayOff:
		return "its cut falls on " + on + ", a day off, and does not wait"
	case demand.TooManyPots:
		return fmt.Sprintf("%s has %s more than a day takes", on, page.Plural(b.By, "pot"))
	case demand.MoldTaken:
		return fmt.Sprintf("from %s on %d more are wanted of the mold %s than were ever full at once", on, b.By, b.Recipe)
	case demand.RackFull:
		return fmt.Sprintf("from %s there are %s more than the racks hold", on, page.Plural(b.By, "bar"))
	}
	return fmt.Sprintf("%d of %s are missing on %s", b.By, b.Recipe, on)
}

func (s *Room) showAhead(
	w http.ResponseWriter,
	r *http.Request,
	status int,
	f *page.Form,
	pours []demand.Pour,
	notice *caution.Caution,
) error {
	a, err := s.Shop.Ahead(r.Context(), pours)
	if err != nil {
		return err
	}
	p := aheadPage{Ahead: a, Form: f, Chosen: len(pours) > 0, DayW: draw.AheadDay(a.Days)}
	p.pours()
	why := map[demand.Why]string{
		demand.NoTime: "no day is left on which it could be poured",
		demand.NoPots: "the days that are left are full",
		demand.NoRack: "there is no place for it to cure",
	}
	for _, one := range a.Short {
		p.Shorts = append(p.Shorts, shortRow{one, fmt.Sprintf("%d of %s on %s: %s", one.Bars, one.Recipe,
			page.LocalDay(one.On.Format(time.DateOnly)), why[one.Why])})
	}
	for _, want := range a.Wanted {
		if !slices.ContainsFunc(a.Makings, func(m trading.Making) bool { return m.Makes(want.Product) }) {
			p.Without = append(p.Without, want)
		}
	}
	p.draw()
	return s.Show(w, r, status, "ahead", "What to make by when", "Sell", notice, p)
}

// pours are the pours with their words; what is broken stands at the pour that does it, where it is one's own.
func (p *aheadPage) pours() {
	var all []demand.Pour
	for _, one := range p.Ahead.Pours {
		all = append(all, one.Pour)
	}
	told := map[int]bool{}
	for i, one := range p.Ahead.Pours {
		row := pourRow{PouredBy: one, Value: pourValue(one.Pour), Day: one.On.Format(time.DateOnly), NoPot: one.Making.NoPot,
			Why: limitWords(one.Limit, one.Of, one.Until)}
		if n := one.Stores.Pots - one.Stores.Enough.Pots; n > 0 && one.Stores.First != "" {
			row.Short = fmt.Sprintf("%s runs out: the stores are enough for %s of %d", one.Stores.First,
				page.Plural(one.Stores.Enough.Pots, "pot"), one.Stores.Pots)
		}
		for n, b := range p.Broken {
			own := b.Recipe == one.Recipe && (b.What == demand.OnDayOff || b.What == demand.BeforeToday) && b.On.Equal(one.On) ||
				b.Recipe == one.Recipe && b.What == demand.CutOnDayOff && b.On.Equal(one.On.AddDate(0, 0, one.Making.Demand.MoldDays)) ||
				b.What == demand.TooManyPots && b.On.Equal(one.On)
			if own {
				row.Broken = append(row.Broken, brokenWords(b))
				told[n] = true
			}
		}
		moved := func(by int) string {
			q := url.Values{}
			for j, other := range all {
				if j == i {
					other.On = other.On.AddDate(0, 0, by)
				}
				q.Add("pour", pourValue(other))
			}
			return "/ahead?" + q.Encode()
		}
		row.Earlier, row.Later = moved(-1), moved(1)
		p.Rows = append(p.Rows, row)
	}
	for n, b := range p.Broken {
		if !told[n] {
			p.Other = append(p.Other, brokenWords(b))
		}
	}
}

// draw lays out the ribbon.
func (p *aheadPage) draw() {
	from := p.Today
	at := func(t time.Time) float64 { return float64(day.Between(from, t)) }
	var rows []draw.AheadRow
	for _, m := range p.Makings {
		row := draw.AheadRow{Name: m.Demand.Name}
		for _, st := range p.Stands {
			if st.Recipe == m.Demand.Name {
				row.Stands = append(row.Stands, draw.AheadSpan{Ready: at(st.Ready), Bars: st.Bars})
			}
		}
		for _, one := range p.Rows {
			if one.Recipe == m.Demand.Name {
				row.Pours = append(row.Pours, draw.AheadPour{Day: at(one.On), Cut: at(one.On) + float64(m.Demand.MoldDays), Ready: at(one.Ready),
					Pots: one.Pots, Key: one.Value, Bad: len(one.Broken) > 0})
			}
		}
		for _, want := range p.Request.Wanted {
			if want.Recipe != m.Demand.Name {
				continue
			}
			short := slices.ContainsFunc(p.Short, func(s demand.Short) bool { return s.Recipe == want.Recipe && s.On.Equal(want.On) }) ||
				slices.ContainsFunc(p.Broken, func(b demand.Broken) bool {
					return b.What == demand.Missing && b.Recipe == want.Recipe && b.On.Equal(want.On)
				})
			row.Wants = append(row.Wants, draw.AheadMark{Day: at(want.On), Bars: want.Bars, Short: short})
		}
		rows = append(rows, row)
	}
	off := func(t time.Time) bool { return slices.Contains(p.Request.DaysOff, t.Weekday()) }
	p.Drawn, p.Drag = draw.OfAhead(rows, draw.AheadRack{Bars: p.Rack, Holds: p.Request.RackBars}, p.Today, p.Days, off,
		"The days ahead: pours, what is wanted, and how full the racks are")
}

// makePlans makes the plans of the pours on the page.
func (s *Room) makePlans(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	pours := readPours(f)
	return s.Record(w, r, f, func() (string, error) {
		n, err := s.Shop.PlanPours(r.Context(), page.Act(r), pours)
		if err != nil {
			return "", err
		}
		to := "/ahead"
		if date := f.Get("day"); demandDay(date) {
			to = "/plan/day/" + date
		}
		return to, page.SayKept(w, r, page.Kept{Said: page.Plural(n, "plan") + " made, each for its day. The stores are promised to them."})
	}, func(status int, notice *caution.Caution) error { return s.showAhead(w, r, status, f, pours, notice) })
}

// soonDays is how many days before it has to be a pour is offered for a day at the bench.
const soonDays = 14

// soonPour is a pour that could be made on a day.
type soonPour struct {
	demand.Pour
	Value string // as it would be made on that day
	By    string // the day by which it has to be
	Why   string
}

func demandDay(date string) bool {
	_, err := time.Parse(time.DateOnly, date)
	return err == nil
}

// aheadFor is what markets, orders and steady sellers want poured on a day at the bench or soon after it, as a part of the
// page of that day.
func (s *Room) aheadFor(w http.ResponseWriter, r *http.Request) error {
	date := chi.URLParam(r, "date")
	on, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return store.ErrNotFound
	}
	a, err := s.Shop.Ahead(r.Context(), nil)
	if err != nil {
		return err
	}
	p := struct {
		Date  string
		Pours []soonPour
	}{Date: date}
	for _, one := range a.Pours {
		if one.On.After(on.AddDate(0, 0, soonDays)) || one.Making.NoPot != "" || on.Before(a.Today) {
			continue
		}
		pour := one.Pour
		pour.On = on
		p.Pours = append(p.Pours, soonPour{Pour: one.Pour, Value: pourValue(pour), By: one.On.Format(time.DateOnly),
			Why: limitWords(one.Limit, one.Of, one.Until)})
	}
	return s.Show(w, r, http.StatusOK, "ahead-for", "What has to be poured soon", "Plan", nil, p)
}
