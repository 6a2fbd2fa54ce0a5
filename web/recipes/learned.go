package recipes

import (
	"fmt"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/shop/planning"
	"ashshelf/soap/gel"
	"ashshelf/web/draw"
)

// learnedPage is what the shop's own lots say of a recipe.
type learnedPage struct {
	Path, Name string
	planning.Said
	Rows   []learnedRow
	Gel    string // how its gels were seen
	Looked int    // lots of it that somebody looked at
	Shop   gel.Belief
}

// learnedRow is a figure with its strip.
type learnedRow struct {
	planning.Told
	Drawn draw.Picture
}

func (s *Room) learned(w http.ResponseWriter, r *http.Request) error {
	oid := chi.URLParam(r, "oid")
	history, err := s.Shop.RecipeHistory(r.Context(), oid)
	if err != nil {
		return err
	}
	settings, err := s.Shop.Settings(r.Context())
	if err != nil {
		return err
	}
	newest := history[0]
	p := learnedPage{Path: "/recipes/" + oid, Name: newest.Name}
	if p.Said, err = s.Shop.OwnLots(r.Context(), planning.About{Recipe: oid, Formula: newest.Formula}, nil, settings.PotLoss); err != nil {
		return err
	}
	for _, t := range p.Figures {
		p.Rows = append(p.Rows, learnedRow{t, draw.OfFigure(t.Figure, t.What+": "+t.Words())})
	}
	shop, own, err := s.Shop.Gels(r.Context(), oid)
	if err != nil {
		return err
	}
	p.Shop, p.Looked = shop, len(own)
	count := map[string]int{}
	for _, k := range own {
		count[k.Seen]++
	}
	var gels []string
	for _, seen := range []struct{ key, words string }{{"none", "no gel"}, {"ring", "a ring"}, {"full", "a full gel"}} {
		if n := count[seen.key]; n > 0 {
			gels = append(gels, fmt.Sprintf("%d %s", n, seen.words))
		}
	}
	p.Gel = strings.Join(gels, ", ")
	return s.Show(w, r, http.StatusOK, "learned", "What your own lots say", "Recipes", nil, p)
}
