// Package label says what stands on the band round a bar: what is in it, in which order and by
// which names, what an allergic buyer must be told, and what the words on it promise.
//
// A list of ingredients is said in one of two ways. As put in, it names what the maker weighed:
// the oils, the alkali, the water that is left once the bar has dried. After saponification it
// names what is in the bar: the soap that the lye made of each oil, the glycerin it set free, and
// the oil that the superfat left over. Both come out of the same weights, and both weigh exactly
// what the dry bar does. Names follow the reference tables and can be said otherwise.
//
// What a country asks of a label differs; its rules and the word of an assessor come first.
package label

import (
	"cmp"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Style is which of the two ways a list of ingredients is said in.
type Style string

// The styles.
const (
	AsPutIn             Style = "as-put-in"
	AfterSaponification Style = "after-saponification"
)

// Styles returns the styles.
func Styles() []Style { return []Style{AsPutIn, AfterSaponification} }

// Words says the style.
func (s Style) Words() string {
	if s == AfterSaponification {
		return "as it is after saponification"
	}
	return "as it was put in"
}

// Threshold is the share of the bar in percent above which an allergen is named on what is rinsed
// off.
const Threshold = 0.01

// AnyOrder is the share of the bar in percent under which ingredients may follow in any order.
const AnyOrder = 1.0

// ColoursByName and ColoursByNumber are the two habits of naming colours.
const (
	ColoursByNumber = "number"
	ColoursByName   = "name"
)

// Naming is how an additive stands on a label, where it is not as the tables have it.
type Naming struct {
	Label    string // empty for the usual name
	Colour   bool   // it is a colour, and comes last
	NoColour bool   // it is none, whatever the table says
	Number   string // of the colour, such as CI 77891; empty for the table's
}

// Declared is an allergen in an additive, as its supplier declares it.
type Declared struct {
	Additive string
	Name     string  // of the allergen
	Percent  float64 // of the additive, above 0 and up to 100
}

// Request is what a label is asked for.
type Request struct {
	Formula    recipe.Formula
	Fats       float64 // g of one pot, for rates that count on a pot or a mold; 0 where nobody says
	Style      Style
	DryingLoss float64           // of everything poured, in percent, all of it water
	Named      map[string]Naming // by [Key]
	Colours    string            // by number or by name; by number when empty
	Allergens  []Declared
	Words      string   // the wording beside the list
	ByAdded    bool     // the list goes by what was put in, where a region orders it so
	Quiet      []string // additives whose suppliers say that they hold no allergen
}

// Ingredient is one name of the list.
type Ingredient struct {
	Name    string
	Percent float64 // of the finished bar
	Added   float64 // of the finished bar, as much as was put in for it
	Colour  bool
}

// Allergen is one that must be named.
type Allergen struct {
	Name    string
	Percent float64 // of the finished bar
}

// Label is what stands on the band.
type Label struct {
	Ingredients []Ingredient // descending by weight, colours after all others
	Allergens   []Allergen   // above [Threshold], the most first
	Undeclared  []string     // what may hold allergens, and nobody declared any of it
	Marks       []string     // what the bar may be called
	Claims      []Claim      // of the wording, phrase by phrase
}

// Text is the list as it is printed in one line. Allergens follow what is in the bar, and colours
// come last; none is named twice.
func (l Label) Text() string {
	var names []string
	seen := map[string]bool{}
	add := func(name string) {
		if key := Key(name); !seen[key] {
			seen[key] = true
			names = append(names, name)
		}
	}
	for _, i := range l.Ingredients {
		if !i.Colour {
			add(i.Name)
		}
	}
	for _, a := range l.Allergens {
		add(a.Name)
	}
	for _, i := range l.Ingredients {
		if i.Colour {
			add(i.Name)
		}
	}
	return strings.Join(names, ", ")
}

// Make writes the label. What cannot be answered is of type [caution.Problems], with paths of the
// open format.
func Make(q Request) (Label, error) { return Mix([]Part{{Request: q, Grams: 1}}, q.Words) }

// Part is soap that is in a bar: what was poured for it, and what it weighs in there. Scraps of an
// older lot are a part of their own.
type Part struct {
	Request
	Grams float64
}

// Mix writes the label of a bar that is made of several soaps: shares add up by weight, and it may be
// called only what all of them may be. The first part is what the others were worked into; its habits
// of naming and ordering hold.
func Mix(parts []Part, words string) (Label, error) {
	l := Label{Claims: Read(words)}
	whole := 0.0
	for _, part := range parts {
		whole += part.Grams
	}
	var rows []row
	var allergens []Allergen
	for i, part := range parts {
		one, err := part.work()
		if err != nil {
			return Label{}, err
		}
		share := part.Grams / whole / one.bar
		for _, r := range one.rows {
			r.grams, r.added = r.grams*share, r.added*share
			rows = append(rows, r)
		}
		for _, a := range one.allergens {
			allergens = append(allergens, Allergen{a.Name, a.Percent * part.Grams / whole})
		}
		for _, name := range one.undeclared {
			if !slices.Contains(l.Undeclared, name) {
				l.Undeclared = append(l.Undeclared, name)
			}
		}
		if i == 0 {
			l.Marks = one.marks
		}
		l.Marks = slices.DeleteFunc(l.Marks, func(m string) bool { return !slices.Contains(one.marks, m) })
	}
	l.Ingredients = list(rows, parts[0].ByAdded)
	l.Allergens = named(allergens)
	return l, nil
}

// worked is one soap as it is worked out.
type worked struct {
	rows              []row
	bar               float64 // g of the finished bar
	allergens         []Allergen
	undeclared, marks []string
}

// work works out one soap.
func (q Request) work() (w worked, err error) {
	var p caution.Problems
	for _, problem := range q.Formula.Check() {
		p.Add("recipe."+problem.Path, "%s", problem.Text)
	}
	if !slices.Contains(Styles(), q.Style) {
		p.Add("style", "say as-put-in or after-saponification")
	}
	if q.Colours != "" && q.Colours != ColoursByName && q.Colours != ColoursByNumber {
		p.Add("colours", "say number or name")
	}
	caution.Range{Min: 0, Max: 60, Unit: "%"}.Check(&p, "drying_loss_percent", "what the bar loses", q.DryingLoss)
	if len(p) > 0 {
		return w, p
	}
	q.checkRates(&p)
	q.checkAllergens(&p)
	if len(p) > 0 {
		return w, p
	}
	pot := pour(q)
	if most := 100 * pot.water / pot.total; q.DryingLoss > most*(1+1e-9) {
		p.Add("drying_loss_percent", "only %s %% of what is poured is water: no more can dry away", unit.Trim(most, 1))
		return w, p
	}
	w.rows = pot.rows(q.Style)
	pot.dry(w.rows, q.DryingLoss)
	w.bar = pot.total * (1 - q.DryingLoss/100)
	w.allergens, w.undeclared = pot.allergens(q.Allergens, w.bar), q.undeclared()
	for _, m := range q.Formula.Marks() {
		if m.Holds && (m.Name != recipe.Unscented || len(q.Allergens) == 0) { // what has allergens of scent smells
			w.marks = append(w.marks, m.Name)
		}
	}
	return w, nil
}

// list adds up what has the same name and puts it in order. The rows weigh 1 in all.
func list(rows []row, byAdded bool) []Ingredient {
	var out []Ingredient
	at := map[string]int{}
	for _, r := range rows {
		if !(r.grams > 1e-9) {
			continue
		}
		i, known := at[Key(r.name)]
		if !known {
			i = len(out)
			at[Key(r.name)] = i
			out = append(out, Ingredient{Name: r.name, Colour: r.colour})
		}
		out[i].Percent += 100 * r.grams
		out[i].Added += 100 * r.added
	}
	slices.SortStableFunc(out, func(a, b Ingredient) int {
		if a.Colour != b.Colour {
			if a.Colour {
				return 1
			}
			return -1
		}
		if byAdded {
			return cmp.Or(cmp.Compare(b.Added, a.Added), cmp.Compare(b.Percent, a.Percent))
		}
		return cmp.Compare(b.Percent, a.Percent)
	})
	return out
}

// Key makes two spellings of a name the same.
func Key(name string) string { return strings.ToLower(strings.Join(strings.Fields(name), " ")) }
