package label

import (
	"math"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Rules are what the region of a shop asks of its labels, and what the shop puts on all of them.
type Rules struct {
	Style    Style
	Colours  string  // by number or by name
	ByAdded  bool    // the list goes by what was put in
	Letter   float64 // least height of a small letter in mm
	Address  string  // of the maker
	Assessed bool    // nothing is sold whose recipe is not assessed, or is outside of its assessment
}

// UsualRules hold where a shop says nothing.
func UsualRules() Rules { return Rules{Style: AsPutIn, Colours: ColoursByNumber, Letter: 1.6} }

// Check finds what cannot be. Paths are the names of the fields.
func (r Rules) Check() (p caution.Problems) {
	if !slices.Contains(Styles(), r.Style) {
		p.Add("style", "choose how the list is said")
	}
	if r.Colours != ColoursByName && r.Colours != ColoursByNumber {
		p.Add("colours", "choose how colours are named")
	}
	caution.Range{Min: 0.9, Max: 5, Unit: "mm"}.Check(&p, "letter", "the least height of letters", r.Letter)
	if len(r.Address) > 300 {
		p.Add("address", "at most 300 letters")
	}
	return p
}

// Suppliers are what suppliers say of allergens, by [Key] of the additive.
type Suppliers map[string]Declaration

// Declaration is what a supplier declares of an additive, or of one delivery of it.
type Declaration struct {
	Allergens []Share
	None      bool   // the supplier says that there are none
	Source    string // the paper that says so
}

// Share is an allergen and its percent of the additive.
type Share struct {
	Name    string
	Percent float64
}

// Check finds what cannot be. Paths are the names of the fields.
func (d Declaration) Check() (p caution.Problems) {
	sum := 0.0
	seen := map[string]bool{}
	for _, a := range d.Allergens {
		if !(a.Percent > 0 && a.Percent <= 100) {
			p.Add("allergens", "%s is above 0 and up to 100 %%", a.Name)
		}
		if seen[Key(a.Name)] {
			p.Add("allergens", "%s stands there twice", a.Name)
		}
		seen[Key(a.Name)] = true
		sum += a.Percent
	}
	switch {
	case sum > 100+1e-9:
		p.Add("allergens", "together they are %s %%, and there are only 100", unit.Trim(sum, 2))
	case d.None && len(d.Allergens) > 0:
		p.Add("none", "either there are none, or those above")
	case !d.None && len(d.Allergens) == 0:
		p.Add("allergens", "write what the supplier declares, or tick that there are none")
	}
	return p
}

// Words says the allergens as they are typed, one a line.
func (d Declaration) Words() string {
	lines := make([]string, len(d.Allergens))
	for i, a := range d.Allergens {
		lines[i] = a.Name + " " + unit.Trim(a.Percent, 4) + " %"
	}
	return strings.Join(lines, "\n")
}

// within keeps what is declared of the additives of a formula.
func (s Suppliers) within(f recipe.Formula) (list []Declared, quiet []string) {
	for _, u := range f.Uses() {
		d, known := s[Key(u.Name)]
		if known && d.None {
			quiet = append(quiet, u.Name)
		}
		for _, a := range d.Allergens {
			list = append(list, Declared{Additive: u.Name, Name: a.Name, Percent: a.Percent})
		}
	}
	return list, quiet
}

// Of asks for the label of a recipe by the rules of the shop. named are the names that the shop gives its additives
// on a label, by [Key]; those that the recipe lacks do not matter.
func Of(f recipe.Formula, fats, dryingLoss float64, r Rules, s Suppliers, named map[string]Naming) Request {
	q := Request{Formula: f, Fats: fats, Style: r.Style, Colours: r.Colours, ByAdded: r.ByAdded, DryingLoss: dryingLoss}
	q.Allergens, q.Quiet = s.within(f)
	for _, u := range f.Uses() {
		if n, ok := named[Key(u.Name)]; ok {
			if q.Named == nil {
				q.Named = map[string]Naming{}
			}
			q.Named[Key(u.Name)] = n
		}
	}
	return q
}

// Lots answers what a label asks of lots.
type Lots struct {
	Suppliers func(*lot.Lot) Suppliers // of the deliveries that were weighed where that is known, else of the additive
	Loss      func(*lot.Lot) float64   // what its bars dry by, in percent of their raw weight
	Named     map[string]Naming        // names of additives on a label, by [Key]
}

// OfLot writes the label of a lot as it was weighed, with the soap of older lots that is in it.
func OfLot(l *lot.Lot, older []lot.Part, r Rules, of Lots, words string) (Label, error) {
	own, poured := ofLot(l, r, of)
	parts := []Part{{own, poured * (1 - own.DryingLoss/100)}}
	for _, p := range older {
		if p.Grams > 0 {
			q, _ := ofLot(p.Lot, r, of)
			parts = append(parts, Part{q, p.Grams})
		}
	}
	return Mix(parts, words)
}

// ofLot asks for the label of what was poured of a lot, and says how many g that was. No more dries than there is
// water.
func ofLot(l *lot.Lot, r Rules, of Lots) (q Request, poured float64) {
	f, fats := l.AsWeighed()
	q = Of(f, fats, 0, r, of.Suppliers(l), of.Named)
	p := pour(q)
	q.DryingLoss = math.Max(0, math.Min(of.Loss(l), 100*p.water/p.total))
	return q, p.total
}

// WillWeigh is what a bar of a kind weighs when it has dried, in g: its weight at the cut less what it loses, in
// percent of that. It is 0 where nobody weighed a bar.
func WillWeigh(l *lot.Lot, k ledger.Kind, loss float64) float64 {
	if l.Cut == nil {
		return 0
	}
	return l.Cut.Each(k) * (1 - loss/100)
}

// Said is the declaration in a line.
func (d Declaration) Said() string {
	text := strings.ReplaceAll(d.Words(), "\n", ", ")
	if d.None {
		text = "none, says the supplier"
	}
	if d.Source != "" {
		text += " (" + d.Source + ")"
	}
	return text
}
