package shop

import (
	"context"
	"fmt"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Recipe is one revision of a recipe.
type Recipe struct {
	store.Revision
	RecipeBody
	Life recipe.Life // of this revision
}

// RecipeBody is what a revision of a recipe says.
type RecipeBody struct {
	Formula recipe.Formula
	Policy  string // code of the cure policy; empty for the recommended one
	Notes   string
	Tags    []string
}

// Cure is the policy that lots of this recipe follow.
func (b RecipeBody) Cure() cure.Policy {
	if p, ok := cure.PolicyByCode(b.Policy); ok {
		return p
	}
	return cure.Recommend(b.Formula)
}

func asRecipe(r store.Revision) (Recipe, error) {
	body, err := decode("recipe "+r.Name, readRecipe, r.Body)
	return Recipe{Revision: r, RecipeBody: body}, err
}

func list[T any](in []store.Revision, as func(store.Revision) (T, error)) ([]T, error) {
	out := make([]T, 0, len(in))
	for _, r := range in {
		one, err := as(r)
		if err != nil {
			return nil, err
		}
		out = append(out, one)
	}
	return out, nil
}

func readBook[T any](
	ctx context.Context,
	j *Journal,
	read func(*store.Tx) ([]store.Revision, error),
	as func(store.Revision) (T, error),
) (out []T, err error) {
	err = j.Read(ctx, func(tx *store.Tx) error {
		revs, err := read(tx)
		if err != nil {
			return err
		}
		out, err = list(revs, as)
		return err
	})
	return out, err
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
		if out, err = list(revs, asRecipe); err != nil {
			return err
		}
		known, err := knownScents(tx)
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

// RecipeHistory returns all revisions of a recipe, newest first.
func (cat *Catalog) RecipeHistory(ctx context.Context, oid string) ([]Recipe, error) {
	return cat.readRecipes(ctx, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Recipes, oid) })
}

// keep adds a revision on top of revision base; base 0 opens a new recipe or
// mold. When others were kept since, it is a [*Conflict].
func (cat *Catalog) keep(
	ctx context.Context,
	act Act,
	b store.Collection,
	oid string,
	base int,
	name, note, parent string,
	body any,
	also ...func(*change) error,
) (string, error) {
	text, err := encode(body)
	if err != nil {
		return "", err
	}
	return cat.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry(string(b))
		if err != nil {
			return "", err
		}
		if base == 0 {
			oid = newOID()
			if err := c.AddDocument(b, entry, oid, parent); err != nil {
				return "", err
			}
		} else {
			have, err := c.History(b, oid)
			if err != nil {
				return "", err
			}
			if have[0].Number != base {
				return "", &Conflict{What: "“" + have[0].Name + "”", Who: have[0].Who, When: have[0].Entry.Recorded}
			}
			if err := c.DropCopy(string(b), oid); err != nil {
				return "", err
			}
		}
		if err := c.AddRevision(b, entry, oid, base+1, strings.TrimSpace(name), strings.TrimSpace(note), text); err != nil {
			return "", err
		}
		for _, do := range also {
			if err := do(c); err != nil {
				return "", err
			}
		}
		return oid, nil
	})
}

func checkName(p *caution.Problems, name string) {
	if n := strings.TrimSpace(name); n == "" {
		p.Add("name", "give it a name")
	} else {
		p.Name("name", n)
	}
}

// Check finds what cannot be worked with in a recipe.
func (b RecipeBody) Check() caution.Problems {
	p := b.Formula.Check()
	checkName(&p, b.Formula.Name)
	if _, ok := cure.PolicyByCode(b.Policy); !ok && b.Policy != "" {
		p.Add("policy", "choose a cure policy")
	}
	if m := b.Formula.Process.Material; m != "" && !isMaterial(m) {
		p.Add("process.mold", "choose what the mold is made of")
	}
	for _, t := range b.Tags {
		if len(t) > 40 {
			p.Add("tags", "keep each tag under 40 letters")
		}
	}
	return p
}

// KeepRecipe makes a new revision of a recipe, or a new recipe when base is 0,
// which may be a variant of parent. Teaspoons that were weighed for it are
// noted for all recipes.
func (cat *Catalog) KeepRecipe(ctx context.Context, act Act, oid string, base int, body RecipeBody, note, parent string) (string, error) {
	if err := body.Check().Err(); err != nil {
		return "", err
	}
	return cat.keep(
		ctx,
		act,
		store.Recipes,
		oid,
		base,
		body.Formula.Name,
		note,
		parent,
		body,
		func(c *change) error { return c.noteSpoons(body.Formula.Uses()) },
	)
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
	for _, s := range r.Formula.Fats {
		text += " " + strings.ToLower(s.Fat.Name)
	}
	for _, l := range r.Formula.Liquids {
		text += " " + strings.ToLower(l.Liquid.Name)
	}
	for _, u := range r.Formula.Uses() {
		text += " " + strings.ToLower(u.Name)
	}
	for _, word := range strings.Fields(strings.ToLower(q.Text)) {
		if !strings.Contains(text, word) {
			return false
		}
	}
	return true
}

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
func (cat *Catalog) ImportRecipes(ctx context.Context, act Act, list []RecipeBody, same OnDuplicate) error {
	var p caution.Problems
	for i, body := range list {
		for _, q := range body.Check() {
			p.Add(fmt.Sprintf("recipes[%d].%s", i, q.Path), "%s", q.Text)
		}
	}
	if err := p.Err(); err != nil {
		return err
	}
	_, err := cat.byPerson(ctx, act, func(c *change) (string, error) {
		revs, err := c.Latest(store.Recipes)
		if err != nil {
			return "", err
		}
		have := map[string]store.Revision{}
		for _, r := range revs {
			have[strings.ToLower(r.Name)] = r
		}
		for _, body := range list {
			if err := c.takeIn(body, have[strings.ToLower(strings.TrimSpace(body.Formula.Name))], same); err != nil {
				return "", err
			}
		}
		return "", nil
	})
	return err
}

// takeIn puts one recipe into the book; old is the one of its name, if any.
func (c *change) takeIn(body RecipeBody, old store.Revision, same OnDuplicate) error {
	text, err := encode(body)
	if err != nil {
		return err
	}
	if old.OID != "" && same != KeepBoth {
		have, err := asRecipe(old)
		if err != nil {
			return err
		}
		now, err := encode(have.RecipeBody) // it may have been written by an older program
		if err != nil {
			return err
		}
		if same == Skip || string(now) == string(text) {
			return nil
		}
	}
	entry, err := c.entry(string(store.Recipes))
	if err != nil {
		return err
	}
	oid, number := old.OID, old.Number+1
	if oid == "" || same != Revise {
		oid, number = newOID(), 1
		if err := c.AddDocument(store.Recipes, entry, oid, ""); err != nil {
			return err
		}
	}
	if err := c.AddRevision(store.Recipes, entry, oid, number, strings.TrimSpace(body.Formula.Name), "from a file", text); err != nil {
		return err
	}
	return c.noteSpoons(body.Formula.Uses())
}
