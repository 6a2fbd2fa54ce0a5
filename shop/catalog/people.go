package catalog

import (
	"context"
	"slices"
	"strings"
	"unicode/utf8"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
)

// AddPerson takes somebody on.
func (cat *Catalog) AddPerson(ctx context.Context, act journal.Act, name string) error {
	if name = strings.TrimSpace(name); name == "" {
		return caution.Problems{{Path: "person", Text: "type the person's name"}}
	}
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		names := make([]string, len(people))
		for i, p := range people {
			names[i] = p.Name
		}
		var p caution.Problems
		checkPerson(&p, "person", name, names)
		if err := p.Err(); err != nil {
			return "", err
		}
		if _, err := c.Entry("person"); err != nil {
			return "", err
		}
		_, err = c.AddPerson(name)
		return "", err
	})
	return err
}

// longestName is more letters than any name on a label has.
const longestName = 80

// checkPerson finds what is wrong with a new name. A name signs for lots, so no
// two may be the same.
func checkPerson(p *caution.Problems, path, name string, others []string) {
	p.Name(path, name)
	if n := utf8.RuneCountInString(name); n > longestName && n <= caution.MostName {
		p.Add(path, "a name of %d letters does not fit; shorten it to %d", n, longestName)
	}
	if slices.ContainsFunc(others, func(o string) bool { return strings.EqualFold(o, name) }) {
		p.Add(path, "%s is on the list already; a name signs for lots, so tell two of them apart", name)
	}
}

// SetActive says whether a person still works here. The last one stays.
func (cat *Catalog) SetActive(ctx context.Context, act journal.Act, id int64, active bool) error {
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		left := 0
		for _, p := range people {
			if p.Active && p.ID != id {
				left++
			}
		}
		if !active && left == 0 {
			return "", caution.Problems{{Path: "person", Text: "somebody must be working; add another person first"}}
		}
		if _, err := c.Entry("person"); err != nil {
			return "", err
		}
		return "", c.SetActive(id, active)
	})
	return err
}
