package page

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/cost"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/schedule"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
)

// LotLine is a lot in a list.
type LotLine struct {
	*lot.Lot
	Stage  lot.Stage
	Gate   *cure.Gate
	Drying cure.Drying
	Age    int
	Held   []string
	InPot  float64
}

func LineOf(l *lot.Lot, now time.Time) LotLine {
	line := LotLine{Lot: l, Stage: l.Stage(), Held: l.Held(), InPot: l.PotNow().InPot()}
	if l.Pour != nil {
		f := l.Facts(now)
		g := f.EvaluateGate()
		line.Gate, line.Drying, line.Age = &g, cure.Weighed(f.Samples), cure.Days(f.Poured, now)
	}
	return line
}

// Tag is the second line of a lot's tag.
func (l LotLine) Tag() string {
	switch {
	case len(l.Held) > 0:
		return "on hold"
	case l.Stage == lot.Making:
		return "on the bench"
	case l.Stage == lot.InMold:
		return "in the mold"
	case l.Stage == lot.Unmolded:
		return "to cut"
	case l.Stage == lot.Curing && l.Gate.DaysLeft == 0:
		return "days done"
	case l.Stage == lot.Curing:
		return cure.DayOf(l.Age, l.Policy().Days)
	}
	if l.KeptFromSale() != "" {
		return Plural(l.InStock(), l.Form().Piece()) + ", not for sale"
	}
	return Plural(l.InStock(), l.Form().Piece()) + " ready"
}

// TaskWhen says when a task's window opens or closes, or why it is there.
func TaskWhen(t schedule.Task, v *Session, now time.Time) string {
	best := t.Best.In(v.Location).Format("15:04")
	switch {
	case t.Closes.IsZero():
		return t.Why
	case t.State == cure.Waiting:
		return fmt.Sprintf("opens %s, best at %s", Until(t.Opens, now), best)
	case t.State == cure.Open:
		return fmt.Sprintf("best at %s, closes %s", best, Until(t.Closes, now))
	}
	return fmt.Sprintf("closed %s: %s", Until(t.Closes, now), t.Missed)
}

// MostPlans is how many open plans are listed when nobody asks for all.
const MostPlans = 20

type StoryLine struct {
	lot.Event
	Corrected bool
}

// Forms are the forms of a lot's acts, by act.
type Forms struct {
	system unit.System
	List   map[string]*Form
}

// Of is the form of an act, as it was last typed.
func (f Forms) Of(act string) *Form {
	if f.List[act] == nil {
		f.List[act] = &Form{Values: url.Values{}, System: f.system}
	}
	return f.List[act]
}

// Forms returns the forms of a lot's acts as they were last typed, with the
// posted one in its place.
func (s *Kit) Forms(r *http.Request, oid, posted string, f *Form) (Forms, error) {
	out := Forms{SessionOf(r).System, map[string]*Form{}}
	drafts, err := s.Shop.LotDrafts(r.Context(), oid)
	if err != nil {
		return out, err
	}
	for act, c := range drafts {
		out.Of(act).Values = url.Values(c.Form)
	}
	if f != nil {
		out.List[posted] = f
	}
	return out, nil
}

// LotWithForms is the lot of an address, the forms of its acts as far as they are
// typed, and what the cooker for a rescue holds.
func (s *Kit) LotWithForms(r *http.Request, posted string, f *Form) (l *lot.Lot, forms Forms, cookerML float64, err error) {
	oid := chi.URLParam(r, "oid")
	if l, err = s.Shop.Lot(r.Context(), oid); err == nil {
		forms, err = s.Forms(r, oid, posted, f)
	}
	if err == nil {
		cookerML, err = s.Shop.CookerML(r.Context())
	}
	return l, forms, cookerML, err
}

// PlacesOf are the levels that a lot can be put on, with the room that each has.
func (s *Kit) PlacesOf(r *http.Request, l *lot.Lot) ([]Option, string, error) {
	if !l.Stands() {
		return nil, "", nil
	}
	racks, err := s.Shop.Racks(r.Context())
	if err != nil || len(racks) == 0 {
		return nil, "", err
	}
	room, _, err := s.Shop.Room(r.Context())
	if err != nil {
		return nil, "", err
	}
	mine := l.OnRack(s.Shop.Now(SessionOf(r).Location))
	out := []Option{{shop.BestPlace, "the best place"}}
	if _, why, ok := room.Best(mine); ok {
		out[0].Label += ", " + why
	}
	now := ""
	have, placed := l.PlaceNow()
	for _, one := range racks {
		for level := range one.Levels {
			at := rack.Spot{Rack: one.OID, Level: level}
			label := fmt.Sprintf("%s, level %d", one.Name, level+1)
			if placed && at == have {
				now = label
			}
			if room.Refuses(mine, at) == "" {
				option := Option{one.OID + ":" + strconv.Itoa(level), label}
				if placed && at == have {
					out = slices.Insert(out, 0, option) // what is chosen when nobody chooses
					continue
				}
				out = append(out, option)
			}
		}
	}
	if placed {
		out = append(out, Option{shop.NoPlace, "no place"})
	}
	return out, now, nil
}

// ReadPlace reads a level of a rack as the page wrote it; what is none becomes a
// problem.
func ReadPlace(f *Form, name string) (on string, level int) {
	on, rest, named := strings.Cut(f.Get(name), ":")
	if !named {
		return on, 0
	}
	level, err := strconv.Atoi(rest)
	if err != nil || level < 0 {
		f.Problems.Add(name, "choose where it stands")
	}
	return on, level
}

// Missing says in short what the gate still misses.
func (l LotLine) Missing() string {
	var out []string
	for _, c := range l.Gate.Conditions {
		if c.Met {
			continue
		}
		word := c.Code
		switch c.Code {
		case "check":
			word = "safety check"
		case "hold":
			word = "on hold"
		}
		out = append(out, word)
	}
	return strings.Join(out, ", ")
}

// CostsOf draws what ingredients cost.
func CostsOf(lines []cost.Line, currency string) draw.Picture {
	parts := make([]cost.Money, len(lines))
	for i, l := range lines {
		parts[i] = l.Cost
	}
	shown := cost.Shown(parts)
	out := make([]draw.CostLine, 0, len(lines))
	for i, l := range lines {
		if l.Cost.Sign() == 0 && l.UnknownMG == 0 {
			continue // water costs nothing
		}
		one := draw.CostLine{Name: l.Name, Minor: shown[i], Unknown: l.UnknownMG > 0}
		switch {
		case one.Unknown && l.Cost.Sign() == 0:
			one.Text = "not known"
		case one.Unknown:
			one.Text = cost.Format(shown[i], currency) + " and more"
		default:
			one.Text = cost.Format(shown[i], currency)
		}
		out = append(out, one)
	}
	return draw.OfCosts(out)
}
