package plans

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/planning"
	"ashshelf/soap/gel"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
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
	Shop    gel.Belief
	Unknown string
}

// gelSeen is a lot of the recipe, as it was seen and as it would have been foretold.
type gelSeen struct {
	OID, Code, Mold, Seen, Told string
	Fits                        bool
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
		"oven": unit.FieldTemperature(planning.UsualOvenC, f.System), "cover": planning.CoverOf(formula), "mold": "0"}
	for name, v := range usual {
		if f.Get(name) == "" {
			f.Set(name, v)
		}
	}
	for i, m := range kept.Molds {
		if _, ok := planning.LoafOf(m); ok {
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
	case planning.NoLoaf(formula) != "":
		p.Unknown = planning.NoLoaf(formula)
	case len(p.Molds) == 0:
		p.Unknown = "Of these molds no cross-section is known: measure one with a ruler, as a box or a tube"
	case len(f.Problems) > 0:
		status = http.StatusUnprocessableEntity
	default:
		loaf, _ := planning.LoafOf(kept.Molds[at])
		shop, own, err := s.Shop.Gels(r.Context(), kept.Plan.Recipe)
		if err != nil {
			return err
		}
		o, err := gel.Foretell(loaf, planning.BatterOf(formula, kept.PlanBody.Plan), place, shop)
		if errors.As(err, &f.Problems) {
			status = http.StatusUnprocessableEntity
			break
		}
		if err != nil {
			return err
		}
		p.Outlook = &o
		p.Drawn = draw.OfGel(o.Likely, loaf.Width, loaf.Height, "The loaf from the side over its first hours: "+o.Words())
		p.Shop = shop
		p.hold(own, shop)
	}
	return s.Show(w, r, status, "gel", "Will it gel?", "Plan", nil, p)
}

// hold holds lots of the recipe of which somebody looked against what would have been foretold of them.
func (p *gelPage) hold(own []planning.Looked, shop gel.Belief) {
	for _, k := range own {
		o, err := gel.Foretell(k.Loaf, k.Batter, k.Place, shop)
		if err != nil {
			continue // what was read then cannot be reckoned with
		}
		one := gelSeen{OID: k.Lot.OID, Code: k.Lot.Code, Mold: k.Lot.Frozen.Molds[0].Name, Seen: k.Seen, Told: o.Words()}
		if one.Fits = o.Fits(one.Seen); one.Fits {
			p.Fits++
		}
		p.Seen = append(p.Seen, one)
	}
}

// Doubted reports whether lots of the recipe showed something else more often than not.
func (p gelPage) Doubted() bool { return len(p.Seen) > 0 && 2*p.Fits < len(p.Seen) }

// Held says how the model did on what was seen.
func (p gelPage) Held() string {
	if len(p.Seen) == 0 {
		return ""
	}
	return fmt.Sprintf("It fits %d of the last %s that somebody looked at.", p.Fits, page.Plural(len(p.Seen), "lot"))
}
