package shelf

import (
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/maruel/natural"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// freshRound is how long what was typed in a round is still of this round: a weight
// of last week must not be taken for one of today.
const freshRound = 12 * time.Hour

// roundDraft is what is typed in a round, one for each device, since two people
// can go along the racks at once.
func roundDraft(r *http.Request) journal.Draft { return journal.OfRound(page.SessionOf(r).Device) }

// weighPage is a round along the racks with the scale: a field for each lot.
type weighPage struct {
	Form  *page.Form
	Lines []weighLine
	All   bool // that cure, and not only those that are due
	Scale bool
}

// weighLine is a lot whose marked bar is weighed.
type weighLine struct {
	OID, Code, Name, Where string
	Field                  string
	Last                   *lot.SampleWeight
	Life                   draw.Picture
}

func (s *Room) weighRound(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	c, err := s.Shop.Draft(r.Context(), roundDraft(r))
	if err != nil {
		return err
	}
	if c != nil && s.Shop.Now(time.UTC).Sub(c.Updated) < freshRound {
		f.Values = url.Values(c.Form)
	}
	return s.showRound(w, r, http.StatusOK, f, nil)
}

func (s *Room) showRound(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	shelf, err := s.Shop.Shelf(r.Context(), page.SessionOf(r).Location)
	if err != nil {
		return err
	}
	p := weighPage{Form: f, All: f.Get("all") == "on" || r.URL.Query().Get("all") == "on", Scale: s.Devices.Watch(device.Scale) != nil}
	due := map[string]bool{}
	for _, t := range shelf.Tasks {
		if t.Kind == schedule.Weigh {
			due[t.Lot.OID] = true
		}
	}
	where, now := whereOf(shelf.Racks), s.Shop.Now(page.SessionOf(r).Location)
	for _, l := range slices.Backward(shelf.Lots) {
		line := weighLine{OID: l.OID, Code: l.Code, Name: l.Frozen.Recipe, Where: where(l), Field: "g." + l.OID}
		// A lot that was just weighed by somebody else keeps its line while something is typed there.
		if l.Stage() != lot.Curing || !(p.All || due[l.OID] || f.Get(line.Field) != "") {
			continue
		}
		if weights := l.Weights(); len(weights) > 0 {
			line.Last = &weights[len(weights)-1]
		}
		if c, ok := schedule.CourseOf(l, now); ok {
			line.Life = draw.OfLotLife(c, now, draw.LifeDays(now, c), 260)
		}
		p.Lines = append(p.Lines, line)
	}
	slices.SortStableFunc(p.Lines, func(a, b weighLine) int { return natural.Compare(a.Where, b.Where) })
	return s.Show(w, r, status, "weigh", "Weigh the marked bars", "Shelf", notice, p)
}

// typedRound keeps what is being typed.
func (s *Room) typedRound(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if _, err := s.KeepTyped(r, roundDraft(r), f); err != nil {
		return err
	}
	w.WriteHeader(http.StatusNoContent)
	return nil
}

// recordRound records the weights that are typed, or types in what the scale shows.
func (s *Room) recordRound(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if field, ok := strings.CutPrefix(r.PostFormValue("do"), "scale "); ok {
		s.OffScale(f, field)
		return s.Record(w, r, f, func() (string, error) {
			_, err := s.KeepTyped(r, roundDraft(r), f)
			return "/weigh#" + page.FieldID(field), err
		}, func(status int, notice *caution.Caution) error {
			return s.showRound(w, r, status, f, notice)
		})
	}
	if r.PostFormValue("do") != "keep" {
		if _, err := s.KeepTyped(r, roundDraft(r), f); err != nil {
			return err
		}
		return page.SeeOther(w, r, "/weigh")
	}
	var weights []shop.Weight
	for _, name := range slices.Sorted(maps.Keys(f.Values)) {
		if oid, ok := strings.CutPrefix(name, "g."); ok && f.Get(name) != "" {
			weights = append(weights, shop.Weight{OID: oid, Grams: f.Mass(name)})
		}
	}
	return s.Record(w, r, f, func() (string, error) {
		return "/", s.Shop.WeighRound(r.Context(), page.Act(page.Ending(r, roundDraft(r))), weights)
	}, func(status int, notice *caution.Caution) error {
		if text := f.Err("round"); text != "" {
			notice = &caution.Caution{
				Code:   "web.refused",
				Level:  caution.Advice,
				Reason: page.Capital(text) + ".",
				Remedy: "Lay a bar on the scale and type what it reads.",
			}
		}
		return s.showRound(w, r, status, f, notice)
	})
}
