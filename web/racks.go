package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/soap/rack"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
)

// racksPage is the racks of the room, each with its form, and one for a new one.
type racksPage struct {
	Racks []rackForm
	New   *Form
	Fors  []Option

	Apart           *Form // the rules of the room, a row each and one to fill in
	Rows            []int
	Groups, Withins []Option
	Broken          []string
}

type rackForm struct {
	shop.Rack
	Form  *Form
	Holds int
	Bars  int // that stand on it
}

func (s *Server) racks(w http.ResponseWriter, r *http.Request) {
	s.showRacks(w, r, http.StatusOK, "", nil, nil)
}

func (s *Server) showRacks(w http.ResponseWriter, r *http.Request, status int, posted string, f *Form, notice *caution.Caution) {
	list, err := s.shop.Racks(r.Context())
	var room rack.Room
	if err == nil {
		room, _, err = s.shop.Room(r.Context())
	}
	if err != nil {
		s.fail(w, r, err)
		return
	}
	sys := sessionOf(r).System
	p := racksPage{New: &Form{Values: url.Values{"deep": {"2"}, "levels": {"5"}}, System: sys}, Fors: options(rack.Fors())}
	if f != nil && posted == "" {
		p.New = f
	}
	p.Groups, p.Withins, p.Broken = append([]Option{{"", "–"}}, options(rack.Groups())...), options(rack.Withins()), brokenWords(room)
	if p.Apart = f; f == nil || posted != rulesForm {
		p.Apart = &Form{Values: url.Values{}, System: sys}
		typeRules(p.Apart, room.Apart)
	}
	for i := range rulesIn(p.Apart) + 1 {
		p.Rows = append(p.Rows, i)
	}
	for _, one := range list {
		v := rackForm{Rack: one, Form: f, Holds: one.Holds()}
		if f == nil || posted != one.OID {
			v.Form = &Form{System: sys, Values: url.Values{"name": {one.Name}, "levels": {strconv.Itoa(one.Levels)}, "width_mm": {unit.FormatLength(one.WidthMM, sys)}, "deep": {strconv.Itoa(one.Deep)}, "for": {string(one.For)}}}
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
	s.show(w, r, status, "racks", "Racks", "Shelf", notice, p)
}

// rulesForm names the form of the rules among those of the racks.
const rulesForm = "apart"

func typeRules(f *Form, rules []rack.Apart) {
	for i, r := range rules {
		at := fmt.Sprintf("apart[%d].", i)
		f.Set(at+"a", string(r.A))
		f.Set(at+"b", string(r.B))
		f.Set(at+"within", string(r.Within))
	}
}

// rulesIn is how many rows of rules a form has.
func rulesIn(f *Form) int {
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
func (s *Server) keepApart(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	var rules []rack.Apart
	for i := range rulesIn(f) {
		at := fmt.Sprintf("apart[%d].", i)
		if a, b := f.Get(at+"a"), f.Get(at+"b"); a+b != "" {
			rules = append(rules, rack.Apart{A: rack.Group(a), B: rack.Group(b), Within: rack.Within(f.Get(at + "within"))})
		}
	}
	err := s.shop.KeepApart(r.Context(), act(r), rules)
	if err == nil {
		seeOther(w, r, "/racks#apart")
		return
	}
	again := &Form{Values: url.Values{}, System: f.System}
	typeRules(again, rules)
	if status, notice, ok := s.refused(w, r, err, again); ok {
		s.showRacks(w, r, status, rulesForm, again, notice)
	}
}

// keepRack keeps a rack as it is typed.
func (s *Server) keepRack(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	oid := chi.URLParam(r, "oid")
	base := 0
	if oid != "" {
		base = max(1, int(entry(f, "number")))
	}
	body := rack.Rack{Levels: f.Count("levels"), WidthMM: f.Length("width_mm"), Deep: f.Count("deep"), For: rack.For(f.Get("for")), Retired: f.Get("retired") == "on"}
	err := f.Problems.Err()
	if err == nil {
		if _, err = s.shop.KeepRack(r.Context(), act(r), oid, base, f.Get("name"), body); err == nil {
			seeOther(w, r, "/racks")
			return
		}
		if status, notice, ok := s.refused(w, r, err, f); ok {
			s.showRacks(w, r, status, oid, f, notice)
		}
		return
	}
	s.showRacks(w, r, http.StatusUnprocessableEntity, oid, f, nil)
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
func (s *Server) stands(racks []shop.Rack, lots []draw.RackInput, sys unit.System) (out []stand, rest []draw.RackInput) {
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
		}
	}
	return out, rest
}

// placesOf are the levels that a lot can be put on, with the room that each has.
func (s *Server) placesOf(r *http.Request, l *lot.Lot) ([]Option, string, error) {
	if !l.Stands() {
		return nil, "", nil
	}
	racks, err := s.shop.Racks(r.Context())
	if err != nil || len(racks) == 0 {
		return nil, "", err
	}
	room, _, err := s.shop.Room(r.Context())
	if err != nil {
		return nil, "", err
	}
	mine := l.OnRack(s.shop.Now(sessionOf(r).Location))
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

// readPlace reads a level of a rack as the page wrote it; what is none becomes a
// problem.
func readPlace(f *Form, name string) (on string, level int) {
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
