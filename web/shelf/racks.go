package shelf

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// racksPage is the racks of the room, each with its form, and one for a new one.
type racksPage struct {
	Racks []rackForm
	New   *page.Form
	Fors  []page.Option

	Apart           *page.Form // the rules of the room, a row each and one to fill in
	Rows            []int
	Groups, Withins []page.Option
	Broken          []string
}

type rackForm struct {
	shop.Rack
	Form  *page.Form
	Holds int
	Bars  int // that stand on it
	Drawn draw.Rack
}

func (s *Room) racks(w http.ResponseWriter, r *http.Request) error {
	return s.showRacks(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showRacks(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error {
	list, err := s.Shop.Racks(r.Context())
	var room rack.Room
	if err == nil {
		room, _, err = s.Shop.Room(r.Context())
	}
	if err != nil {
		return err
	}
	sys := page.SessionOf(r).System
	p := racksPage{New: &page.Form{Values: url.Values{"deep": {"2"}, "levels": {"5"}}, System: sys}, Fors: page.Options(rack.LevelUses())}
	if f != nil && posted == "" {
		p.New = f
	}
	p.Groups, p.Withins, p.Broken = append(
		[]page.Option{{Value: "", Label: "–"}},
		page.Options(rack.Groups())...), page.Options(
		rack.RuleScopes(),
	), brokenWords(
		room,
	)
	if p.Apart = f; f == nil || posted != rulesForm {
		p.Apart = &page.Form{Values: url.Values{}, System: sys}
		typeRules(p.Apart, room.Apart)
	}
	for i := range rulesIn(p.Apart) + 1 {
		p.Rows = append(p.Rows, i)
	}
	shelf, err := s.Shop.Shelf(r.Context(), page.SessionOf(r).Location)
	if err != nil {
		return err
	}
	now := s.Shop.Now(page.SessionOf(r).Location)
	var standing []draw.RackInput
	for _, l := range slices.Backward(shelf.Lots) {
		line := page.LineOf(l, now)
		standing = append(standing, draw.RackInput{Lot: l, Gate: line.Gate, Stand: shelf.Bars[l.OID], Tag: line.Tag(), Now: now})
	}
	stands, _ := s.stands(list, standing, sys)
	drawn := map[string]draw.Rack{}
	for _, one := range stands {
		drawn[one.OID] = one.Rack
	}
	for _, one := range list {
		v := rackForm{Rack: one, Form: f, Holds: one.Holds(), Drawn: drawn[one.OID]}
		if f == nil || posted != one.OID {
			v.Form = &page.Form{
				System: sys,
				Values: url.Values{
					"name":     {one.Name},
					"levels":   {strconv.Itoa(one.Levels)},
					"width_mm": {unit.FieldLength(one.WidthMM, sys)},
					"deep":     {strconv.Itoa(one.Deep)},
					"for":      {string(one.For)},
				},
			}
			if one.Retired {
				v.Form.Set("retired", "on")
			}
		}
		for at, lots := range room.Standing {
			for _, l := range lots {
				if at.Rack == one.OID {
					v.Bars += l.Bars
				}
			}
		}
		p.Racks = append(p.Racks, v)
	}
	return s.Show(w, r, status, "racks", "Racks", "Shelf", notice, p)
}

// rulesForm names the form of the rules among those of the racks.
const rulesForm = "apart"

func typeRules(f *page.Form, rules []rack.Apart) {
	for i, r := range rules {
		at := fmt.Sprintf("apart[%d].", i)
		f.Set(at+"a", string(r.A))
		f.Set(at+"b", string(r.B))
		f.Set(at+"within", string(r.Within))
	}
}

// rulesIn is how many rows of rules a form has.
func rulesIn(f *page.Form) int {
	n := 0
	for f.Values.Has(fmt.Sprintf("apart[%d].a", n)) {
		n++
	}
	return n
}

// brokenWords says what stands against the rules of the room.
func brokenWords(room rack.Room) []string {
	var out []string
	for _, b := range room.Broken() {
		out = append(out, fmt.Sprintf("Lot %s stands with lot %s, though %s.", b.One.Code, b.Other.Code, b.Rule.Words()))
	}
	return out
}

// keepApart keeps what must not stand beside what. A row of which nothing is chosen
// is no rule.
func (s *Room) keepApart(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	var rules []rack.Apart
	for i := range rulesIn(f) {
		at := fmt.Sprintf("apart[%d].", i)
		if a, b := f.Get(at+"a"), f.Get(at+"b"); a+b != "" {
			rules = append(rules, rack.Apart{A: rack.Group(a), B: rack.Group(b), Within: rack.RuleScope(f.Get(at + "within"))})
		}
	}
	typed := &page.Form{Values: url.Values{}, System: f.System}
	typeRules(typed, rules)
	return s.Record(w, r, typed, func() (string, error) {
		return "/racks#apart", s.Shop.KeepApart(r.Context(), page.Act(r), rules)
	}, func(status int, notice *caution.Caution) error {
		return s.showRacks(w, r, status, rulesForm, typed, notice)
	})
}

// keepRack keeps a rack as it is typed.
func (s *Room) keepRack(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	oid := chi.URLParam(r, "oid")
	base := 0
	if oid != "" {
		base = max(1, int(page.Entry(f, "number")))
	}
	body := rack.Rack{
		Levels:  f.Count("levels"),
		WidthMM: f.Length("width_mm"),
		Deep:    f.Count("deep"),
		For:     rack.LevelUse(f.Get("for")),
		Retired: f.Get("retired") == "on",
	}
	return s.Record(w, r, f, func() (string, error) {
		_, err := s.Shop.KeepRack(r.Context(), page.Act(r), oid, base, f.Get("name"), body)
		return "/racks", err
	}, func(status int, notice *caution.Caution) error {
		return s.showRacks(w, r, status, oid, f, notice)
	})
}

// stand is one rack as it is drawn.
type stand struct {
	OID, Name         string
	Rack              draw.Rack
	Bars, Of          int
	Ready, Held, Turn int // lots
}

// stands draws the racks of the room with what stands on each; rest are the lots
// without a place.
func (s *Room) stands(racks []shop.Rack, lots []draw.RackInput, sys unit.System) (out []stand, rest []draw.RackInput) {
	levels, at := map[string][][]draw.RackInput{}, map[string]int{}
	for _, r := range racks {
		if !r.Retired {
			levels[r.OID], at[r.OID] = make([][]draw.RackInput, r.Levels), len(out)
			out = append(out, stand{OID: r.OID, Name: r.Name, Of: r.Holds()})
		}
	}
	for _, in := range lots {
		spot, ok := in.Lot.PlaceNow()
		rows := levels[spot.Rack]
		if !ok || spot.Level >= len(rows) {
			rest = append(rest, in)
			continue
		}
		rows[spot.Level] = append(rows[spot.Level], in)
		one := &out[at[spot.Rack]]
		one.Bars += in.Lot.InStock()
		switch {
		case len(in.Lot.Held()) > 0:
			one.Held++
		case in.Lot.Stage() == lot.Ready:
			one.Ready++
		case in.Turn:
			one.Turn++
		}
	}
	for _, r := range racks {
		if i, ok := at[r.OID]; ok {
			out[i].Rack = draw.OfStand(r.Name, r.Rack, levels[r.OID], sys)
			out[i].Rack.OID = r.OID
		}
	}
	return out, rest
}
