package catalog

import (
	"context"
	"slices"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Recipe is one revision of a recipe.
type Recipe struct {
	store.Revision
	document.RecipeBody
	Life recipe.Life // of this revision
}

func asRecipe(r store.Revision) (Recipe, error) {
	body, err := document.Decode("recipe "+r.Name, document.ReadRecipe, r.Body)
	body.Formula = body.Formula.Composed()
	return Recipe{Revision: r, RecipeBody: body}, err
}

// recipes reads revisions of recipes with where each is in its life.
func (cat *Catalog) readRecipes(ctx context.Context, read func(*store.Tx) ([]store.Revision, error)) (out []Recipe, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) error {
		revs, err := read(tx)
		if err != nil {
			return err
		}
		lives, err := tx.Lives()
		if err != nil {
			return err
		}
		if out, err = ReadAll(revs, asRecipe); err != nil {
			return err
		}
		known, err := KnownScents(tx)
		if err != nil {
			return err
		}
		for i := range out {
			out[i].Formula = out[i].Formula.Live(known)
			said := lives[out[i].OID]
			out[i].Life = recipe.LifeOf(recipe.Life(said.Life), said.Number, out[i].Number)
		}
		return nil
	})
	return out, err
}

// Recipes returns the newest revision of every recipe, by name.
func (cat *Catalog) Recipes(ctx context.Context) ([]Recipe, error) {
	return cat.readRecipes(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Recipes) })
}

// LatestRecipes is [Catalog.Recipes] within a transaction, without where each is in its life.
func LatestRecipes(tx *store.Tx) ([]Recipe, error) {
	revisions, err := tx.Latest(store.Recipes)
	if err != nil {
		return nil, err
	}
	return ReadAll(revisions, asRecipe)
}

// RecipeHistory returns all revisions of a recipe, newest first.
func (cat *Catalog) RecipeHistory(ctx context.Context, oid string) ([]Recipe, error) {
	return cat.readRecipes(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Recipes, oid) })
}

// KeepRecipe makes a new revision of a recipe, or a new recipe when base is 0,
// which may be a variant of parent. Teaspoons that were weighed for it are
// noted for all recipes.
func (cat *Catalog) KeepRecipe(
	ctx context.Context,
	act journal.Act,
	oid string,
	base int,
	body document.RecipeBody,
	note, parent string,
) (string, error) {
	if err := body.Check().Err(); err != nil {
		return "", err
	}
	return cat.AddRevision(
		ctx,
		act,
		store.Recipes,
		oid,
		base,
		body.Formula.Name,
		note,
		parent,
		body,
		func(c *journal.Change) error { return noteSpoons(c, body.Formula.Uses()) },
	)
}

// Asks are the names of all that a recipe is made of, each once.
func (r Recipe) Asks() []string {
	var out []string
	for _, s := range r.Formula.Fats {
		out = append(out, s.Fat.Name)
	}
	for _, l := range r.Formula.Liquids {
		out = append(out, l.Liquid.Name)
	}
	for _, u := range r.Formula.Uses() {
		out = append(out, u.Name)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// RecipeQuery is what somebody looks for in the book of recipes.
type RecipeQuery struct {
	Text string // words of the name, the notes, the tags or an ingredient
	Life string // a life, "all", or empty for all that is not retired
}

// Matches reports whether a recipe is looked for. All words must be in it.
func (q RecipeQuery) Matches(r Recipe) bool {
	switch q.Life {
	case "":
		if r.Life == recipe.Retired {
			return false
		}
	case "all":
	default:
		if string(r.Life) != q.Life {
			return false
		}
	}
	text := strings.ToLower(strings.Join(append([]string{r.Name, r.Notes}, r.Tags...), " "))
	text += " " + strings.ToLower(strings.Join(r.Asks(), " "))
	for _, word := range strings.Fields(strings.ToLower(q.Text)) {
		if !strings.Contains(text, word) {
			return false
		}
	}
	return true
}
