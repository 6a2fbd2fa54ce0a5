package catalog

import (
	"context"
	"fmt"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/store"
)

// OnDuplicate is what to do with a recipe from a file when the book has one of that
// name.
type OnDuplicate string

// The ways.
const (
	Skip     OnDuplicate = "skip"
	Revise   OnDuplicate = "revise"
	KeepBoth OnDuplicate = "beside"
)

// OnDuplicates returns the ways, the most careful first.
func OnDuplicates() []OnDuplicate { return []OnDuplicate{Skip, Revise, KeepBoth} }

// Words says the way.
func (s OnDuplicate) Words() string {
	switch s {
	case Revise:
		return "add it as a new revision where it differs"
	case KeepBoth:
		return "put it beside, as a recipe of its own"
	}
	return "leave it out, the book's own stays"
}

// ImportRecipes puts recipes from a file into the book, all of them or none.
func (cat *Catalog) ImportRecipes(ctx context.Context, act journal.Act, list []document.RecipeBody, same OnDuplicate) error {
	var p caution.Problems
	for i, body := range list {
		for _, q := range body.Check() {
			p.Add(fmt.Sprintf("recipes[%d].%s", i, q.Path), "%s", q.Text)
		}
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		revs, err := c.Latest(store.Recipes)
		if err != nil {
			return "", err
		}
		have := map[string]store.Revision{}
		for _, r := range revs {
			have[strings.ToLower(r.Name)] = r
		}
		for _, body := range list {
			if err := importOne(c, body, have[strings.ToLower(strings.TrimSpace(body.Formula.Name))], same); err != nil {
				return "", err
			}
		}
		return "", nil
	})
	return err
}

// importOne puts one recipe into the book; old is the one of its name, if any.
func importOne(c *journal.Change, body document.RecipeBody, old store.Revision, same OnDuplicate) error {
	text, err := document.Encode(body)
	if err != nil {
		return err
	}
	if old.OID != "" && same != KeepBoth {
		have, err := asRecipe(old)
		if err != nil {
			return err
		}
		now, err := document.Encode(have.RecipeBody) // it may have been written by an older program
		if err != nil {
			return err
		}
		if same == Skip || string(now) == string(text) {
			return nil
		}
	}
	entry, err := c.Entry(string(store.Recipes))
	if err != nil {
		return err
	}
	oid, number := old.OID, old.Number+1
	if oid == "" || same != Revise {
		oid, number = journal.NewOID(), 1
		if err := c.AddDocument(store.Recipes, entry, oid, ""); err != nil {
			return err
		}
	}
	if err := c.AddRevision(store.Recipes, entry, oid, number, strings.TrimSpace(body.Formula.Name), "from a file", text); err != nil {
		return err
	}
	return noteSpoons(c, body.Formula.Uses())
}
