package catalog

import (
	"context"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// SetLife says where the newest revision of a recipe is in its life. number is
// the revision the page showed.
func (cat *Catalog) SetLife(ctx context.Context, act journal.Act, oid string, number int, life recipe.Life) error {
	if !life.Valid() {
		return caution.Problems{{Path: "life", Text: "choose draft, trial made, tested or retired"}}
	}
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		history, err := c.History(store.Recipes, oid)
		if err != nil {
			return "", err
		}
		if now := history[0]; now.Number != number {
			return "", &journal.Conflict{What: "“" + now.Name + "”", Who: now.Who, When: now.Entry.Recorded}
		}
		return oid, SetLife(c, oid, number, life)
	})
	return err
}

// SetLife says within a change where a revision is in its life, when that is news.
func SetLife(c *journal.Change, oid string, number int, life recipe.Life) error {
	return c.Record("recipe life", func(entry int64) error { return c.AddLife(entry, oid, number, string(life)) })
}

// LifeOf is where a revision of a recipe is in its life.
func LifeOf(c *journal.Change, oid string, number int) (recipe.Life, error) {
	lives, err := c.Lives()
	if err != nil {
		return "", err
	}
	said := lives[oid]
	return recipe.LifeOf(recipe.Life(said.Life), said.Number, number), nil
}
