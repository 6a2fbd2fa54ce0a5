package shop

import (
	"context"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Scent is one revision of a scent of a supplier.
type Scent struct {
	store.Revision
	ScentBody
}

// ScentBody is what the shop knows of a scent: the supplier's word, its own
// experience, and notes of what happened at which dose, heat and liquid.
type ScentBody struct {
	Scent additive.Scent
	Notes string
}

func asScent(r store.Revision) (Scent, error) {
	body, err := decode("scent "+r.Name, readScent, r.Body)
	return Scent{r, body}, err
}

// Scents returns the newest revision of every scent, by name.
func (cat *Catalog) Scents(ctx context.Context) ([]Scent, error) {
	return readBook(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Scents) }, asScent)
}

// knownScents finds what the shop knows now of a scent by its label.
func knownScents(tx *store.Tx) (func(label string) (additive.Scent, bool), error) {
	revisions, err := tx.Latest(store.Scents)
	if err != nil {
		return nil, err
	}
	scents, err := list(revisions, asScent)
	return func(label string) (additive.Scent, bool) {
		for _, one := range scents {
			if strings.EqualFold(one.Scent.Label(), label) {
				return one.Scent, true
			}
		}
		return additive.Scent{}, false
	}, err
}

// ScentHistory returns all revisions of a scent, newest first.
func (cat *Catalog) ScentHistory(ctx context.Context, oid string) ([]Scent, error) {
	return readBook(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Scents, oid) }, asScent)
}

// CheckScent finds what cannot be worked with in a scent.
func CheckScent(body ScentBody) caution.Problems {
	var p, own caution.Problems
	checkName(&p, body.Scent.Name)
	body.Scent.Check(&own, "scent")
	for _, q := range own {
		if q.Path != "scent.name" { // said above
			p = append(p, q)
		}
	}
	return p
}

// KeepScent makes a new revision of a scent, or a new one when base is 0. Two
// scents may share a name, but not a name and a supplier.
func (cat *Catalog) KeepScent(ctx context.Context, act Act, oid string, base int, body ScentBody) (string, error) {
	p := CheckScent(body)
	have, err := cat.Scents(ctx)
	if err != nil {
		return "", err
	}
	for _, one := range have {
		if one.OID != oid && strings.EqualFold(one.Scent.Label(), body.Scent.Label()) {
			p.Add("name", "%s is noted already", one.Scent.Label())
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return cat.keep(ctx, act, store.Scents, oid, base, body.Scent.Label(), "", "", body)
}

// Spoons returns the shop's own weights of a level teaspoon, by name.
func (cat *Catalog) Spoons(ctx context.Context) (out []store.Spoon, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Spoons()
		return err
	})
	return out, err
}

// NoteSpoon notes what a level teaspoon of something weighs here, in grams.
func (cat *Catalog) NoteSpoon(ctx context.Context, act Act, name string, grams float64) error {
	var p caution.Problems
	name = strings.TrimSpace(name)
	if p.Name("spoon", name); name == "" {
		p.Add("spoon", "name what was weighed")
	}
	additive.CheckSpoon(&p, "spoon_grams", grams)
	if err := p.Err(); err != nil {
		return err
	}
	_, err := cat.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry("spoon")
		if err != nil {
			return "", err
		}
		return "", c.AddSpoon(entry, name, grams)
	})
	return err
}

// noteSpoons notes the teaspoons that were weighed for a recipe, where the
// shop has no weight of its own yet.
func (c *change) noteSpoons(uses []additive.Use) error {
	have, err := c.Spoons()
	if err != nil {
		return err
	}
	noted := map[string]bool{}
	for _, s := range have {
		noted[strings.ToLower(s.Name)] = true
	}
	for _, u := range uses {
		name := strings.TrimSpace(u.Name)
		known, _ := additive.Find(name)
		if u.GramsPerTsp <= 0 || u.GramsPerTsp == known.GramsPerTsp || noted[strings.ToLower(name)] {
			continue
		}
		noted[strings.ToLower(name)] = true
		entry, err := c.entry("spoon")
		if err != nil {
			return err
		}
		if err := c.AddSpoon(entry, name, u.GramsPerTsp); err != nil {
			return err
		}
	}
	return nil
}

// SetLife says where the newest revision of a recipe is in its life. number is
// the revision the page showed.
func (cat *Catalog) SetLife(ctx context.Context, act Act, oid string, number int, life recipe.Life) error {
	if !life.Valid() {
		return caution.Problems{{Path: "life", Text: "choose draft, trial made, tested or retired"}}
	}
	_, err := cat.byPerson(ctx, act, func(c *change) (string, error) {
		history, err := c.History(store.Recipes, oid)
		if err != nil {
			return "", err
		}
		if now := history[0]; now.Number != number {
			return "", &Conflict{What: "“" + now.Name + "”", Who: now.Who, When: now.Entry.Recorded}
		}
		return oid, c.setLife(oid, number, life)
	})
	return err
}

func (c *change) setLife(oid string, number int, life recipe.Life) error {
	entry, err := c.entry("recipe life")
	if err != nil {
		return err
	}
	return c.AddLife(entry, oid, number, string(life))
}

// lifeOf is where a revision of a recipe is in its life.
func (c *change) lifeOf(oid string, number int) (recipe.Life, error) {
	lives, err := c.Lives()
	if err != nil {
		return "", err
	}
	said := lives[oid]
	return recipe.LifeOf(recipe.Life(said.Life), said.Number, number), nil
}
