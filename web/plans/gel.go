package plans

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/planning"
	"ashshelf/soap/gel"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// gelPage says whether a plan's loaf will gel.
type gelPage struct {
	planning.Plan
	Form    *page.Form
	Molds   []page.Option
	Covers  []page.Option
	Outlook *gel.Outlook
	Drawn   draw.Picture
	Seen    []gelSeen
	Fits    int // of those that were looked at
	Unknown string
}

// gelSeen is a lot of the recipe, as it was seen and as it would have been foretold.
type gelSeen struct {
	OID, Code, Mold, Seen, Told string
	Fits                        bool
}

// mostGelSeen is how many lots are held against the model.
const mostGelSeen = 6

// usualOven is how warm the lowest oven is, in °C.
const usualOven = 60.0

// batterOf is where the heat of a pot comes from and goes into.
func batterOf(f recipe.Formula, p plan.Plan) gel.Batter {
	b := gel.Batter{FatsG: p.FatsG, LyeG: p.NaOH + p.KOH, WaterG: p.LiquidG}
	b.MolesOfLye = p.NaOH*f.Alkali.NaOHPurity/100/39.997 + p.KOH*f.Alkali.KOHPurity/100/56.106
	for _, a := range p.Additives {
		b.OtherG += a.Grams
	}
	if f.Milk() > 0 {
		b.Warms = append(b.Warms, "milk")
	}
	for _, u := range f.Uses() {
		if u.Is("sugar", "honey", "syrup") || u.Is("salt") {
			b.Warms = append(b.Warms, u.Name)
		}
	}
	return b
}

// coverOf is how the mold is covered where nobody says otherwise.
func coverOf(f recipe.Formula) string { return string(run.Order{Formula: f}.Cover()) }

// noLoaf says why the heat of a mold says nothing of a soap; empty where it does.
func noLoaf(f recipe.Formula) string {
	switch {
	case f.Potash():
		return "A paste of potash is no loaf: it clears over days, whatever its heat"
	case f.Process.Cooks():
		return "It is cooked, and has gelled in its pot"
	}
	return ""
}

// loafOf is a mold as a cross-section; false where it has none that is known.
func loafOf(m lot.Mold) (gel.Loaf, bool) {
	l := gel.Loaf{Width: m.Mold.Width, Height: m.Mold.Fill, Material: m.Material}
	switch m.Mold.Shape {
	case mold.Box:
	case mold.Cylinder:
		l.Width = m.Mold.Diameter * 0.886 // the square with as much in it
	case mold.Grid:
		l.Width = m.Mold.Width / float64(max(1, m.Mold.Rows))
	default:
		return l, false
	}
	return l, l.Check().Err() == nil
}

func (s *Room) gel(w http.ResponseWriter, r *http.Request) error {
	kept, err := s.Shop.Plan(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	settings, err := s.Shop.Settings(r.Context())
	if err != nil {
		return err
	}
	f := &page.Form{Values: r.URL.Query(), System: page.SessionOf(r).System}
	p := gelPage{Plan: kept, Form: f, Covers: page.Options(recipe.Covers())}
	formula := kept.Request.Formula
	low, high := formula.Working()
	usual := map[string]string{"start": unit.FieldTemperature((low+high)/2, f.System), "room": unit.FieldTemperature(settings.RoomC, f.System),
		"oven": unit.FieldTemperature(usualOven, f.System), "cover": coverOf(formula), "mold": "0"}
	for name, v := range usual {
		if f.Get(name) == "" {
			f.Set(name, v)
		}
	}
	for i, m := range kept.Molds {
		if _, ok := loafOf(m); ok {
			p.Molds = append(p.Molds, page.Option{Value: strconv.Itoa(i), Label: m.Name})
		}
	}
	place := gel.Place{StartC: f.Temperature("start"), RoomC: f.Temperature("room"), OvenC: f.Temperature("oven"), Cover: f.Get("cover")}
	at, err := strconv.Atoi(f.Get("mold"))
	if len(p.Molds) > 0 && (err != nil || at < 0 || at >= len(kept.Molds)) {
		f.Problems.Add("mold", "choose a mold of the plan")
	}
	status := http.StatusOK
	switch {
	case noLoaf(formula) != "":
		p.Unknown = noLoaf(formula)
	case len(p.Molds) == 0:
		p.Unknown = "Of these molds no cross-section is known: measure one with a ruler, as a box or a tube"
	case len(f.Problems) > 0:
		status = http.StatusUnprocessableEntity
	default:
		loaf, _ := loafOf(kept.Molds[at])
		o, err := gel.Foretell(loaf, batterOf(formula, kept.PlanBody.Plan), place)
		if errors.As(err, &f.Problems) {
			status = http.StatusUnprocessableEntity
			break
		}
		if err != nil {
			return err
		}
		p.Outlook = &o
		p.Drawn = draw.OfGel(o.Likely, loaf.Width, loaf.Height, "The loaf from the side over its first hours: "+o.Words())
		if err := s.gelsSeen(r, &p); err != nil {
			return err
		}
	}
	return s.Show(w, r, status, "gel", "Will it gel?", "Plan", nil, p)
}

// gelsSeen are lots of the recipe of which somebody looked, with what would have been foretold of them.
func (s *Room) gelsSeen(r *http.Request, p *gelPage) error {
	lots, err := s.Shop.Lots(r.Context(), store.LotsWhere{Recipe: p.Plan.Plan.Recipe, Most: 20})
	if err != nil {
		return err
	}
	for _, l := range lots {
		if len(p.Seen) == mostGelSeen || l.Unmolding == nil || l.Pour == nil || l.Unmolding.Gel == "not looked" || len(l.Frozen.Molds) == 0 {
			continue
		}
		loaf, ok := loafOf(l.Frozen.Molds[0])
		if !ok {
			continue
		}
		low, high := l.Frozen.Formula.Working()
		place := gel.Place{StartC: (low + high) / 2, RoomC: 20, OvenC: usualOven, Cover: coverOf(l.Frozen.Formula)}
		if l.Pour.LyeC != nil && l.Pour.FatsC != nil {
			place.StartC = (*l.Pour.LyeC + *l.Pour.FatsC) / 2
		}
		if l.Pour.RoomC != nil {
			place.RoomC = *l.Pour.RoomC
		}
		o, err := gel.Foretell(loaf, batterOf(l.Frozen.Formula, l.Frozen.Pot), place)
		if err != nil {
			continue // what was read then cannot be reckoned with
		}
		one := gelSeen{OID: l.OID, Code: l.Code, Mold: l.Frozen.Molds[0].Name, Seen: l.Unmolding.Gel, Told: o.Words()}
		one.Fits = o.Fits(one.Seen)
		if one.Fits {
			p.Fits++
		}
		p.Seen = append(p.Seen, one)
	}
	return nil
}

// Doubted reports whether lots of the recipe showed something else more often than not.
func (p gelPage) Doubted() bool { return len(p.Seen) > 0 && 2*p.Fits < len(p.Seen) }

// Held says how the model did on what was seen.
func (p gelPage) Held() string {
	if len(p.Seen) == 0 {
		return ""
	}
	return fmt.Sprintf("Of the last %s that somebody looked at, it would have been right of %d.", page.Plural(len(p.Seen), "lot"), p.Fits)
}
