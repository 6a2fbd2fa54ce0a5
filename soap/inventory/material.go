// Package inventory is what lies in the store: which materials a shop knows, what came in by which
// delivery and how much of it is left, which tin is opened next, and what must be ordered by when.
//
// Everything is counted in whole base units, milligrams or pieces, so that what came in is always
// what went out and what is left. Each delivery is a lot of its own: two tins of "the same" oil have
// different saponification values, dates and prices, and a bad one must be found again.
package inventory

import (
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/material"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// Kind is what a material is to the store.
type Kind string

// The kinds, in the order of the shelves.
const (
	Fat       Kind = "fat"
	Alkali    Kind = "alkali"
	Liquid    Kind = "liquid"
	Additive  Kind = "additive"
	Colour    Kind = "colour"
	Scent     Kind = "scent"
	Packaging Kind = "packaging"
	Tool      Kind = "tool" // that is used up: gloves, filters, blades
)

// Kinds returns the kinds.
func Kinds() []Kind { return []Kind{Fat, Alkali, Liquid, Additive, Colour, Scent, Packaging, Tool} }

// Words says the kind.
func (k Kind) Words() string {
	return map[Kind]string{Fat: "oil, fat or wax", Alkali: "lye", Liquid: "liquid", Additive: "additive", Colour: "colour",
		Scent: "scent", Packaging: "packaging", Tool: "tool that is used up"}[k]
}

// Shelf is what stands over the shelf of its kind.
func (k Kind) Shelf() string {
	return map[Kind]string{Fat: "Oils and fats", Alkali: "Lye", Liquid: "Liquids", Additive: "Additives", Colour: "Colours",
		Scent: "Scents", Packaging: "Packaging", Tool: "Tools that are used up"}[k]
}

// Unit is what a material is counted in.
type Unit string

// The units. What is bought by volume is counted by weight, by its density.
const (
	Milligrams Unit = "mg"
	Pieces     Unit = "piece"
)

// Offer is a pack as a supplier sells it.
type Offer struct {
	Supplier string
	Article  string // its name or number there
	Amount   int64  // in one pack
	Price    int64  // minor units, below zero when not known
	Lead     int    // days until it comes
}

// Material is what the shop knows of something it buys.
type Material struct {
	Key    plan.Key
	Name   string
	Kind   Kind
	Label  string // its name in a list of ingredients
	Unit   Unit
	Dense  float64 // g/ml of what is bought by volume, 0 when it is not
	Place  string
	Closed int // months that it keeps closed; 0 as its kind does, [Forever] for ever
	Opened int // and opened
	Safety int // days of use that are kept as a reserve
	Offers []Offer
	Also   []plan.Key // other names that are the same thing
	Not    []plan.Key // names that look like it and are something else
	Always bool       // there is always enough of it, and it costs nothing
	Retire bool       // not bought any more
}

// Forever is a life that does not end.
const Forever = -1

// packagingKey and toolKey begin the keys of what no pot takes.
const packagingKey, toolKey = "packaging:", "tool:"

// NewKey names a material of a kind by its name, as recipes name it.
func NewKey(k Kind, name string) plan.Key {
	name = strings.TrimSpace(name)
	switch k {
	case Fat:
		if f, err := fat.Find(name); err == nil {
			return plan.FatKey(f)
		}
		return plan.FatKeyOf(fat.Fat{Name: name}.Key())
	case Alkali:
		if material.Has(name, "potassium", "KOH") {
			return plan.KOHKey
		}
		return plan.NaOHKey
	case Liquid:
		for _, l := range liquid.Reference() {
			if strings.EqualFold(l.Name, name) || strings.EqualFold(l.Slug, name) {
				return plan.LiquidKey(l)
			}
		}
		return plan.LiquidKey(liquid.Liquid{Slug: strings.ToLower(name)})
	case Packaging:
		return plan.Key(packagingKey + strings.ToLower(name))
	case Tool:
		return plan.Key(toolKey + strings.ToLower(name))
	}
	return plan.Key(string(plan.AdditiveItem) + ":" + strings.ToLower(name))
}

// KeyOf is the material that an item of a pot is taken from: an additive whatever portion it is
// for, and a fat or liquid also where a part of it is set apart.
func KeyOf(f recipe.Formula, item plan.Key) plan.Key {
	item = item.Ingredient()
	if item.Kind() != plan.AdditiveItem {
		return item
	}
	for _, u := range f.Uses() {
		if plan.AdditiveKey(u) == item {
			return Fold(plan.Key(string(plan.AdditiveItem) + ":" + u.Name))
		}
	}
	return Fold(item)
}

// Fold writes a key in small letters: "Sea salt" and "sea salt" are one additive.
func Fold(k plan.Key) plan.Key { return plan.Key(strings.ToLower(string(k))) }

// KindOf is what something in a recipe is to the store.
func KindOf(u additive.Use) Kind {
	known, _ := additive.Find(u.Name)
	switch {
	case u.Scent || u.Behaviour != additive.Unknown:
		return Scent
	case known.ColourIndex != "" || u.Portion != "":
		return Colour
	}
	return Additive
}

// unlimited are the liquids that come from the tap.
var unlimited = []plan.Key{"liquid:water", "liquid:tap-water", "liquid:ice"}

// Unlimited reports whether there is always enough of it: water, and ice made of it.
func Unlimited(k plan.Key) bool { return slices.Contains(unlimited, k) }

// Is reports whether a key means this material.
func (m Material) Is(k plan.Key) bool {
	k = Fold(k)
	return Fold(m.Key) == k || slices.ContainsFunc(m.Also, func(a plan.Key) bool { return Fold(a) == k })
}

// SameName reports whether two names are one, whatever the size of their letters.
func SameName(a, b string) bool { return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b)) }

// Check finds what cannot be kept of a material.
func (m Material) Check() caution.Problems {
	var p caution.Problems
	if m.Name == "" {
		p.Add("name", "name it as you do at the bench")
	}
	p.Name("name", m.Name)
	p.Name("label", m.Label)
	p.Name("place", m.Place)
	if !slices.Contains(Kinds(), m.Kind) {
		p.Add("kind", "choose what it is")
	}
	if m.Unit != Milligrams && m.Unit != Pieces {
		p.Add("unit", "choose whether it is weighed or counted")
	}
	if m.Unit == Pieces && m.Kind != Packaging && m.Kind != Tool {
		p.Add("unit", "what goes into soap is weighed")
	}
	if m.Dense != 0 && !(m.Dense >= 0.3 && m.Dense <= 3) {
		p.Add("dense", "a density lies between 0.3 and 3 g/ml")
	}
	for _, one := range []struct {
		at     string
		months int
	}{{"closed", m.Closed}, {"opened", m.Opened}} {
		if one.months != Forever && (one.months < 0 || one.months > 240) {
			p.Add(one.at, "type months, 1 to 240")
		}
	}
	if m.Safety < 0 || m.Safety > 365 {
		p.Add("safety", "type days, 0 to 365")
	}
	for i, o := range m.Offers {
		at := fmt.Sprintf("offers[%d].", i)
		if o.Supplier == "" {
			p.Add(at+"supplier", "say who sells it")
		}
		p.Name(at+"supplier", o.Supplier)
		p.Name(at+"article", o.Article)
		if o.Amount <= 0 {
			p.Add(at+"amount", "say how much is in a pack")
		}
		if o.Lead < 0 || o.Lead > 365 {
			p.Add(at+"lead", "type days, 0 to 365")
		}
	}
	return p
}

// Twins are names that could be one thing: their words are the same, or those of the one are all in
// the other, as "Kaolin" and "Kaolin clay". Which are listed for the owner; nothing is merged.
type Twins struct{ A, B Material }

// FindTwins looks for pairs among materials that nobody has decided about.
func FindTwins(list []Material) (out []Twins) {
	words := make([][]string, len(list))
	for i, m := range list {
		words[i] = significant(m.Name)
	}
	for i, a := range list {
		for j := i + 1; j < len(list); j++ {
			b := list[j]
			if a.Unit != b.Unit || slices.Contains(a.Not, Fold(b.Key)) || slices.Contains(b.Not, Fold(a.Key)) || a.Always || b.Always {
				continue
			}
			if a.Kind != b.Kind && !(edible(a.Kind) && edible(b.Kind)) {
				continue
			}
			if within(words[i], words[j]) || within(words[j], words[i]) {
				out = append(out, Twins{a, b})
			}
		}
	}
	return out
}

// edible are the kinds between which recipes are not always sure.
func edible(k Kind) bool { return k == Additive || k == Colour || k == Scent }

func within(a, b []string) bool {
	if len(a) == 0 {
		return false
	}
	for _, w := range a {
		if !slices.Contains(b, w) {
			return false
		}
	}
	return true
}

// noise are words that make no other thing of a name.
var noise = []string{
	"oil", "butter", "clay", "powder", "the", "of", "and", "fine", "ground", "refined", "virgin", "extra", "pure", "fragrance",
}

func significant(name string) (out []string) {
	for _, w := range material.Words(name) {
		if !slices.Contains(noise, w) && !slices.Contains(out, w) {
			out = append(out, strings.TrimSuffix(w, "s"))
		}
	}
	return out
}
