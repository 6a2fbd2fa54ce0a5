package catalog

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/role"
	"ashshelf/store"
)

// AddPerson takes somebody on.
func (cat *Catalog) AddPerson(ctx context.Context, act journal.Act, name string, r role.Role) error {
	var p caution.Problems
	if name = strings.TrimSpace(name); name == "" {
		p.Add("person", "type the person's name")
	}
	if !r.Valid() {
		p.Add("role", "choose owner, maker or helper")
	}
	if err := p.Err(); err != nil {
		return err
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
		_, err = c.AddPerson(name, r)
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

// changePerson alters one person. An owner who works here must be left, since nobody else
// takes people on or keeps the copies.
func (cat *Catalog) changePerson(ctx context.Context, act journal.Act, id int64, path string, alter func(*store.Person)) error {
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		people, err := c.People()
		if err != nil {
			return "", err
		}
		i := slices.IndexFunc(people, func(p store.Person) bool { return p.ID == id })
		if i < 0 {
			return "", fmt.Errorf("person %d: %w", id, store.ErrNotFound)
		}
		before := people[i]
		alter(&people[i])
		if !slices.ContainsFunc(people, func(p store.Person) bool { return p.Active && p.Role == role.Owner }) {
			return "", caution.Problems{{Path: path, Text: "an owner must be working here; make somebody else an owner first"}}
		}
		if people[i] == before {
			return "", nil
		}
		if _, err := c.Entry("person"); err != nil {
			return "", err
		}
		return "", errors.Join(c.SetActive(id, people[i].Active), c.SetRole(id, people[i].Role))
	})
	return err
}

// SetActive says whether a person still works here. The last owner stays.
func (cat *Catalog) SetActive(ctx context.Context, act journal.Act, id int64, active bool) error {
	return cat.changePerson(ctx, act, id, "person", func(p *store.Person) { p.Active = active })
}

// SetRole says what a person may do. The last owner stays one.
func (cat *Catalog) SetRole(ctx context.Context, act journal.Act, id int64, r role.Role) error {
	if !r.Valid() {
		return caution.Problems{{Path: "role", Text: "choose owner, maker or helper"}}
	}
	return cat.changePerson(ctx, act, id, "role", func(p *store.Person) { p.Role = r })
}
