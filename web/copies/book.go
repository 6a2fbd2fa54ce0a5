package copies

import (
	"net/http"

	"ashshelf/shop/catalog"
	"ashshelf/shop/lots"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/schedule"
	"ashshelf/store"
	"ashshelf/web/page"
)

// bookSize is the weight of fats in g that the recipes of the book are for.
const bookSize = 1000.0

// bookPage is what a day at the bench needs when no screen works.
type bookPage struct {
	Tasks   []schedule.Task
	Lots    []page.LotLine
	Recipes []bookRecipe
	Size    float64
}

// bookRecipe is a recipe with its weights.
type bookRecipe struct {
	catalog.Recipe
	Sheet []plan.Section
	Batch float64 // g of batter
	Facts []page.Fact
	Not   string // why it has no weights
}

// book is the recipes, the open lots and what is due, to be printed.
func (s *Room) book(w http.ResponseWriter, r *http.Request) error {
	v := page.SessionOf(r)
	recipes, err := s.Shop.Recipes(r.Context())
	if err != nil {
		return err
	}
	open, err := s.Shop.Lots(r.Context(), store.LotsWhere{Stages: lots.OnShelf})
	if err != nil {
		return err
	}
	now := s.Shop.Now(v.Location)
	p := bookPage{Tasks: schedule.Today(open, now), Size: bookSize}
	for _, l := range open {
		p.Lots = append(p.Lots, page.LineOf(l, now))
	}
	for _, one := range recipes {
		if one.Life == recipe.Retired {
			continue
		}
		b := bookRecipe{Recipe: one, Facts: page.ProcessFacts(one.RecipeBody, v.System)}
		request := plan.Request{
			Formula: one.Formula, Rule: plan.Computed, LiquidC: v.RoomC,
			Target: plan.Target{FatsG: bookSize}, Scales: plan.Scales{Resolution: 0.1},
		}
		made, err := plan.Make(request)
		if err != nil {
			b.Not = err.Error()
		} else {
			b.Sheet, b.Batch = plan.Sheet(request, made.Pot()), made.Pot().BatterG
		}
		p.Recipes = append(p.Recipes, b)
	}
	return s.Show(w, r, http.StatusOK, "paperbook", "The book on paper", "Settings", nil, p)
}
