package copies

import (
	"net/http"
	"slices"

	"ashshelf/shop/catalog"
	"ashshelf/shop/lots"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
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
	Lots    []bookLot
	Recipes []bookRecipe
	Size    float64
}

// bookLot is an open lot, with all that keeps its bars here.
type bookLot struct {
	page.LotLine
	Kept []string
}

// keptHere says why bars of a lot must not leave, in the words of a paper that is read
// without the program.
func keptHere(line page.LotLine) (out []string) {
	for _, why := range line.Held {
		out = append(out, "held: "+why)
	}
	if why := line.KeptFromSale(); why != "" {
		out = append(out, "not for sale: "+why)
	}
	if why, called := line.MarkedNow()[lot.Recalled]; called {
		out = append(out, "called back: "+why)
	}
	if line.Release == nil {
		out = append(out, "not released")
	}
	return out
}

// bookRecipe is a recipe with its weights.
type bookRecipe struct {
	catalog.Recipe
	Sheet []plan.Section
	Batch float64 // g of batter
	Facts []page.Fact
	Not   string // why it has no weights

	LifeWords string
	Cautions  []caution.Caution
}

// beside are the cautions of a recipe that the one on lye, which stands on top, does not say.
func beside(all []caution.Caution) []caution.Caution {
	return slices.DeleteFunc(slices.Clone(all), func(c caution.Caution) bool { return c.Code == "lye.handling" })
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
		line := page.LineOf(l, now)
		p.Lots = append(p.Lots, bookLot{line, keptHere(line)})
	}
	for _, one := range recipes {
		if one.Life == recipe.Retired {
			continue
		}
		b := bookRecipe{Recipe: one, Facts: page.ProcessFacts(one.RecipeBody, cure.Expected(one.Formula), v.System), LifeWords: one.Life.Words()}
		request := plan.Request{
			Formula: one.Formula, Rule: plan.Computed, LiquidC: v.RoomC,
			Target: plan.Target{FatsG: bookSize}, Scales: plan.Scales{Resolution: 0.1},
		}
		made, err := plan.Make(request)
		if err != nil {
			b.Not = err.Error()
		} else {
			b.Sheet, b.Batch, b.Cautions = plan.Sheet(request, made.Pot()), made.Pot().BatterG, beside(made.Cautions)
		}
		p.Recipes = append(p.Recipes, b)
	}
	return s.Show(w, r, http.StatusOK, "paperbook", "The book on paper", "Settings", nil, p)
}
