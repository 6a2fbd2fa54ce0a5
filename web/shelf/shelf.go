package shelf

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/maruel/natural"

	"ashshelf/shop"
	"ashshelf/shop/starter"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// shelfPage is what is to be done today, and where everything stands.
type shelfPage struct {
	Copies *caution.Caution // what the owner has to know of them
	Spans  []span           // what is to be done now, today and this week
	Stands []stand
	Jump   bool       // so many racks that one jumps to them
	Rack   *draw.Rack // of what has no place, nil when all have one
	Loose  int        // lots that could have a place
	Drying []page.LotLine
	Ready  []page.LotLine
	More   lotCounts
	Broken []string // what stands against the rules of the room
	Bars   int      // ready to sell
	Curing int
	Empty  bool
	Find   *page.Form
	Found  string              // where what was looked for stands
	At     string              // the address of its place on the page
	Way    []wayStep           // to the first bars of a new shop; empty once there were some
	Before []inventory.Opening // bars from before the books that may be sold
	Stores []storeTask         // what the store asks for today
	Here   string              // the address from which the tasks are kept up to date
}

// wayStep is a step on the way to a shop's first bars.
type wayStep struct {
	Name       string
	Done, Next bool
	Do, Href   string // what is pressed for the next one
}

// storeTask is something that the store asks for today.
type storeTask struct {
	Words, Href string
	Late        bool
}

// nearOrders is how far ahead, in days, the shelf says what must be ordered.
const nearOrders = 3

// storeTasks are why the books were short, what must be ordered, and what is past its date.
func (s *Room) storeTasks(r *http.Request) (out []storeTask, err error) {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return nil, err
	}
	if n := len(room.Unsettled); n > 0 {
		out = append(out, storeTask{"The books were short " + times(n) + ": say why", "/stores#why", false})
	}
	for _, l := range room.Soon(nearOrders) {
		if !l.Known() {
			continue
		}
		one := storeTask{Words: "Order " + l.Name + " by " + page.LocalDay(l.Reorder.By), Href: "/stores#order"}
		if l.Reorder.By == room.Today {
			one.Words, one.Late = "Order "+l.Name+" now", l.Balance.Short() > 0
		}
		out = append(out, one)
	}
	for _, l := range room.UseUp() {
		if l.NearState == inventory.Past {
			out = append(out, storeTask{l.Name + " is past its date", "/stores#use-up", true})
		}
	}
	return out, nil
}

func times(n int) string {
	if n == 1 {
		return "once"
	}
	return page.Plural(n, "time")
}

// wayOf is how far a new shop is.
func (s *Room) wayOf(r *http.Request) ([]wayStep, error) {
	way, err := starter.WayOf(r.Context(), s.Shop, page.SessionOf(r).Location)
	if err != nil || way.Next == "" {
		return nil, err
	}
	lot := "/lots/" + way.Lot
	out := []wayStep{
		{Name: "A recipe", Do: "Write a recipe", Href: "/recipes/new"},
		{Name: "A mold", Do: "Measure a mold", Href: "/molds/new"},
		{Name: "A plan", Do: "Plan a pour", Href: "/plan"},
		{Name: "Make it", Do: "Carry on at the bench", Href: "/make/" + way.Lot},
		{Name: "Cut it", Do: "To the lot, for its window", Href: lot},
		{Name: "Let it cure", Do: "Weigh its marked bar", Href: lot},
		{Name: "Release it", Do: "Look whether it may go", Href: lot + "#release"},
	}
	if way.Plan != "" {
		out[3].Do, out[3].Href = "To the plan: print its sheet, or start it", "/plans/"+way.Plan
	}
	at := slices.Index(starter.Steps(), way.Next)
	for i := range out {
		out[i].Done, out[i].Next = i < at, i == at
	}
	return out, nil
}

// lotCounts are the lots that a list leaves out.
type lotCounts struct{ Drying, Ready int }

// mostListed is how many lots a list of the shelf has; the log has all.
const mostListed = 40

// manyTasks is from how many tasks of a kind on they stand together on one card, and
// mostOnCard how many of them it names before it is asked for all.
const (
	manyTasks  = 4
	mostOnCard = 5
)

// todo is a task as the shelf shows it.
type todo struct {
	schedule.Task
	Code, Name        string // of its lot
	When, Href, Where string
	Press             bool // done by one press
}

// todos are tasks of one kind: on a card each, or many together.
type todos struct {
	Kind  schedule.Kind
	State cure.State
	List  []todo
	Many  bool
	Press bool
	When  string // what is true of all of them alike
	All   int
	More  int    // that the card does not name
	Lots  string // the identities of all, for the press that does all
}

// span is what is to be done as soon as each other.
type span struct {
	Key, Title string
	Todos      []todos
}

// spansOf parts tasks by how soon they want doing; today is there also where nothing is due.
func spansOf(tasks []schedule.Task, v *page.Session, now time.Time, where func(*lot.Lot) string, whole schedule.Kind) []span {
	parted := map[schedule.Span][]schedule.Task{}
	for _, t := range tasks {
		parted[t.Span(now)] = append(parted[t.Span(now)], t)
	}
	out := []span{
		{"hour", "Now", todosOf(parted[schedule.ThisHour], v, now, where, whole)},
		{"day", "Today, " + now.Format("Mon 2 Jan"), todosOf(parted[schedule.ThisDay], v, now, where, whole)},
		{"week", "This week", todosOf(parted[schedule.ThisWeek], v, now, where, whole)},
	}
	return slices.DeleteFunc(out, func(s span) bool { return s.Key != "day" && len(s.Todos) == 0 })
}

// todosOf groups tasks by kind and state, in the order in which the first of each
// comes. where says where a lot stands; whole is the kind that is named in full.
func todosOf(tasks []schedule.Task, v *page.Session, now time.Time, where func(*lot.Lot) string, whole schedule.Kind) []todos {
	var out []todos
	for _, t := range tasks {
		one := todo{
			Task:  t,
			Code:  t.Lot.Code,
			Name:  t.Lot.Frozen.Recipe,
			Href:  "/lots/" + t.Lot.OID,
			When:  page.TaskWhen(t, v, now),
			Where: where(t.Lot),
			Press: t.Care() && t.State != cure.Waiting,
		}
		if t.Kind == schedule.Finish {
			one.Href = "/make/" + t.Lot.OID
		}
		i := slices.IndexFunc(out, func(g todos) bool { return g.Kind == t.Kind && g.State == t.State })
		if i < 0 {
			i = len(out)
			out = append(out, todos{Kind: t.Kind, State: t.State, Press: one.Press})
		}
		out[i].List = append(out[i].List, one)
	}
	for i := range out {
		g := &out[i]
		g.All, g.Many = len(g.List), len(g.List) >= manyTasks
		if !g.Many {
			continue
		}
		// In the order in which one walks along the racks.
		slices.SortStableFunc(g.List, func(a, b todo) int { return natural.Compare(a.Where, b.Where) })
		oids := make([]string, len(g.List))
		for k, one := range g.List {
			oids[k] = one.Lot.OID
		}
		g.Lots = strings.Join(oids, " ")
		if alike := g.List[0].When; !slices.ContainsFunc(g.List, func(one todo) bool { return one.When != alike }) {
			g.When = alike
			for k := range g.List {
				g.List[k].When = ""
			}
		}
		if g.Kind != whole && g.All > mostOnCard {
			g.List, g.More = g.List[:mostOnCard], g.All-mostOnCard
		}
	}
	return out
}

func (s *Room) shelf(w http.ResponseWriter, r *http.Request) error {
	return s.showShelf(w, r, http.StatusOK, nil)
}

func (s *Room) showShelf(w http.ResponseWriter, r *http.Request, status int, notice *caution.Caution) error {
	v := page.SessionOf(r)
	shelf, err := s.Shop.Shelf(r.Context(), v.Location)
	lots, tasks, racks := shelf.Lots, shelf.Tasks, shelf.Racks
	p := shelfPage{Empty: len(lots) == 0, Find: &page.Form{Values: url.Values{}, System: v.System}}
	var found *lot.Lot
	if looked := strings.TrimSpace(r.URL.Query().Get("find")); err == nil && looked != "" {
		p.Find.Set("find", looked)
		found, err = s.lookedFor(r, p.Find, looked)
	}
	if err != nil {
		return err
	}
	if p.Copies, err = s.Copies(r.Context()); err != nil {
		return err
	}
	if p.Stores, err = s.storeTasks(r); err != nil {
		return err
	}
	old, err := s.Shop.Openings(r.Context(), "")
	if err != nil {
		return err
	}
	for _, o := range old {
		if o.Bars > 0 && o.ReleasedBy != "" {
			p.Before = append(p.Before, o)
		}
	}
	if p.Way, err = s.wayOf(r); err != nil {
		return err
	}
	now := s.Shop.Now(v.Location)
	slices.Reverse(lots) // the oldest stands where it is reached first
	turn := map[string]bool{}
	for _, t := range tasks {
		if t.Kind == schedule.Turn {
			turn[t.Lot.OID] = true
		}
	}
	var onRacks []draw.RackInput
	for _, l := range lots {
		line := page.LineOf(l, now)
		in := draw.RackInput{
			Lot: l, Gate: line.Gate, Stand: shelf.Bars[l.OID], Tag: line.Tag(), Found: found != nil && found.OID == l.OID, Now: now,
		}
		if line.Stage == lot.InMold {
			if window, ok := schedule.Window(l); ok {
				in.Mold, in.Tag = &window, moldTag(window, now)
			}
		}
		if line.Stage == lot.Curing {
			in.Turn = turn[l.OID]
			p.Drying = append(p.Drying, line)
			p.Curing += l.InStock()
		} else if line.Stage == lot.Ready {
			p.Ready = append(p.Ready, line)
			if line.Gate.Ready {
				p.Bars += l.InStock()
			}
		}
		if in.Found {
			p.At = "at-" + l.Code
		}
		onRacks = append(onRacks, in)
	}
	where := whereOf(racks)
	if found != nil {
		p.Found = foundWords(found, where(found))
	}
	if p.Broken = brokenWords(shelf.Room); len(p.Broken) > mostOnCard {
		p.Broken = append(p.Broken[:mostOnCard], fmt.Sprintf("So do %d more.", len(p.Broken)-mostOnCard))
	}
	whole := schedule.Kind(r.URL.Query().Get("all"))
	if p.Here = "/"; whole.Words() != "" {
		p.Here += "?all=" + string(whole)
	}
	p.Spans = spansOf(tasks, v, now, where, whole)
	stands, rest := s.stands(racks, onRacks, v.System)
	p.Stands, p.Jump = stands, len(stands) > 3
	for _, in := range rest {
		if in.Lot.Stands() && len(stands) > 0 {
			p.Loose++
		}
	}
	if len(rest) > 0 {
		drawn := draw.OfRack(rest)
		p.Rack = &drawn
	}
	slices.SortStableFunc(p.Drying, func(a, b page.LotLine) int { return cmp.Compare(a.Gate.DaysLeft, b.Gate.DaysLeft) })
	p.More = lotCounts{max(0, len(p.Drying)-mostListed), max(0, len(p.Ready)-mostListed)}
	p.Drying, p.Ready = p.Drying[:len(p.Drying)-p.More.Drying], p.Ready[:len(p.Ready)-p.More.Ready]
	return s.Show(w, r, status, "shelf", "Shelf", "Shelf", notice, p)
}

// moldTag says how long a lot stays in its mold.
func moldTag(window schedule.Task, now time.Time) string {
	switch {
	case now.Before(window.Opens):
		return "in its mold, out " + page.Until(window.Opens, now)
	case now.Before(window.Closes):
		return "out by " + window.Closes.In(now.Location()).Format("Mon 15:04")
	}
	return "its window closed " + page.Until(window.Closes, now)
}

// lookedFor finds the lot of a code; what is none becomes a problem at its field.
func (s *Room) lookedFor(r *http.Request, f *page.Form, code string) (*lot.Lot, error) {
	n, err := lot.ParseCode(code)
	if err != nil {
		f.Problems.Add("find", "%s", err.Error())
		return nil, nil
	}
	list, err := s.Shop.Lots(r.Context(), store.LotsWhere{Number: n})
	if err != nil {
		return nil, err
	}
	if len(list) > 0 {
		return list[0], nil
	}
	f.Problems.Add("find", "there is no lot %s", lot.Code(n))
	return nil, nil
}

// foundWords says where a lot that was looked for stands.
func foundWords(l *lot.Lot, where string) string {
	is := "Lot " + l.Code
	switch stage := l.Stage(); {
	case where != "":
		return is + " stands on " + where
	case stage == lot.Gone || stage == lot.Abandoned:
		return is + " is not on the shelf any more: " + stage.Words()
	case l.Stands():
		return is + " has no place yet"
	default:
		return is + " is not on a rack yet: " + stage.Words()
	}
}

// whereOf returns what says where a lot stands, empty for nowhere.
func whereOf(racks []shop.Rack) func(*lot.Lot) string {
	names := map[string]string{}
	for _, r := range racks {
		names[r.OID] = r.Name
	}
	return func(l *lot.Lot) string {
		if at, ok := l.PlaceNow(); ok && names[at.Rack] != "" {
			return fmt.Sprintf("%s, level %d", names[at.Rack], at.Level+1)
		}
		return ""
	}
}

// tookCare records that lots were looked after together.
func (s *Room) tookCare(w http.ResponseWriter, r *http.Request) error {
	return s.onShelf(w, r, func(f *page.Form) error {
		return s.Shop.LookAfter(r.Context(), page.Act(r), f.Get("care"), "", strings.Fields(f.Get("lots"))...)
	})
}

// place puts one lot where it was dragged to, or all that have no place on their best ones.
func (s *Room) place(w http.ResponseWriter, r *http.Request) error {
	return s.onShelf(w, r, func(f *page.Form) error {
		oid := f.Get("lot")
		if oid == "" {
			return s.Shop.PlaceAll(r.Context(), page.Act(r))
		}
		was, err := s.Shop.Lot(r.Context(), oid)
		if errors.Is(err, store.ErrNotFound) {
			return caution.Problems{{Path: "lot", Text: "there is no such lot on the shelf"}}
		}
		if err != nil {
			return err
		}
		on, level := page.ReadPlace(f, "place")
		if err := f.Problems.Err(); err != nil {
			return err
		}
		if err := s.Shop.PlaceLot(r.Context(), page.Act(r), oid, on, level); err != nil {
			return err
		}
		back := shop.NoPlace
		if at, ok := was.PlaceNow(); ok {
			back = fmt.Sprintf("%s:%d", at.Rack, at.Level)
		}
		return page.SayKept(w, r, page.Kept{
			Said: "Lot " + was.Code + " is moved.",
			Undo: &page.Undo{Path: "/places", Fields: map[string]string{"lot": oid, "place": back}},
		})
	})
}

// onShelf does what a form of the shelf asks for and shows the shelf again, with
// what was wrong on top.
func (s *Room) onShelf(w http.ResponseWriter, r *http.Request, do func(*page.Form) error) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/", do(f)
	}, func(status int, notice *caution.Caution) error {
		if notice == nil {
			notice = &caution.Caution{
				Code:   "web.refused",
				Level:  caution.Warn,
				Reason: page.Capital(f.Problems[0].Text) + ".",
				Remedy: "Nothing was recorded.",
			}
		}
		return s.showShelf(w, r, status, notice)
	})
}

// ShelfRoutes are the addresses of the shelf, its racks and the month.
func (s *Room) ShelfRoutes(r page.Routes) {
	r.Get("/", s.shelf)
	r.Post("/care", s.tookCare)
	r.Post("/places", s.place)
	r.Get("/weigh", s.weighRound)
	r.Post("/weigh", s.recordRound)
	r.Post("/weigh/typed", s.typedRound)
	r.Get("/racks", s.racks)
	r.Post("/racks", s.keepRack)
	r.Post("/racks/apart", s.keepApart)
	r.Post("/racks/{oid}", s.keepRack)
	r.Get("/calendar", s.month)
	r.Get("/calendar/{month}", s.month)
	r.Post("/calendar/feed", s.renewFeed)
}

// DueRoute is asked by every page.
func (s *Room) DueRoute(r page.Routes) {
	r.Get("/due", s.due)
}

// FeedRoute is the calendar for other programs, which sign in by its secret.
func (s *Room) FeedRoute(r page.Routes) {
	r.Get("/calendar/{secret:[a-z0-9]{26}}.ics", s.feed)
}
