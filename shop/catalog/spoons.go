package catalog

import (
	"context"
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/store"
)

// Spoons returns the shop's own weights of a level teaspoon, by name.
func (cat *Catalog) Spoons(ctx context.Context) (out []store.Spoon, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = tx.Spoons()
		return err
	})
	return out, err
}

// NoteSpoon notes what a level teaspoon of something weighs here, in grams.
func (cat *Catalog) NoteSpoon(ctx context.Context, act journal.Act, name string, grams float64) error {
	var p caution.Problems
	name = strings.TrimSpace(name)
	if p.Name("spoon", name); name == "" {
		p.Add("spoon", "name what was weighed")
	}
	additive.CheckSpoon(&p, "spoon_grams", grams)
	if err := p.Err(); err != nil {
		return err
	}
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return "", c.Record("spoon", func(entry int64) error { return c.AddSpoon(entry, name, grams) })
	})
	return err
}

// SpoonOf is what a level teaspoon of something weighs in g: as the shop weighed it, else by the table;
// 0 where neither knows.
func (cat *Catalog) SpoonOf(ctx context.Context, name string) (float64, error) {
	list, err := cat.Spoons(ctx)
	for _, one := range list {
		if strings.EqualFold(one.Name, strings.TrimSpace(name)) {
			return one.Grams, err
		}
	}
	known, _ := additive.Find(name)
	return known.GramsPerTsp, err
}

// noteSpoons notes the teaspoons that were weighed for a recipe, where the
// shop has no weight of its own yet.
func noteSpoons(c *journal.Change, uses []additive.Use) error {
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
		entry, err := c.Entry("spoon")
		if err != nil {
			return err
		}
		if err := c.AddSpoon(entry, name, u.GramsPerTsp); err != nil {
			return err
		}
	}
	return nil
}
