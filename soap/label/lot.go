package label

import (
	"math"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
)

// Habits are how a shop's labels are written: what its region asks for.
type Habits struct {
	Style   Style
	Colours string
	ByAdded bool
}

// Suppliers are what suppliers say of allergens, by [Key] of the additive.
type Suppliers map[string]Declaration

// Declaration is what is declared of an additive.
type Declaration struct {
	Allergens []Declared
	None      bool // the supplier says that there are none
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

// Of asks for the label of a recipe by the habits of the shop.
func Of(f recipe.Formula, fats, dryingLoss float64, h Habits, s Suppliers) Request {
	q := Request{Formula: f, Fats: fats, Style: h.Style, Colours: h.Colours, ByAdded: h.ByAdded, DryingLoss: dryingLoss}
	q.Allergens, q.Quiet = s.within(f)
	return q
}

// Lots answers what a label asks of lots.
type Lots struct {
	Suppliers func(*lot.Lot) Suppliers // of the deliveries that were weighed where that is known, else of the additive
	Loss      func(*lot.Lot) float64   // what its bars dry by, in percent of their raw weight
}

// OfLot writes the label of a lot as it was weighed, with the soap of older lots that is in it.
func OfLot(l *lot.Lot, older []lot.Part, h Habits, of Lots, words string) (Label, error) {
	own, poured := ofLot(l, h, of)
	parts := []Part{{own, poured * (1 - own.DryingLoss/100)}}
	for _, p := range older {
		if p.Grams > 0 {
			q, _ := ofLot(p.Lot, h, of)
			parts = append(parts, Part{q, p.Grams})
		}
	}
	return Mix(parts, words)
}

// ofLot asks for the label of what was poured of a lot, and says how many g that was. No more dries than there is
// water.
func ofLot(l *lot.Lot, h Habits, of Lots) (q Request, poured float64) {
	f, fats := l.AsWeighed()
	q = Of(f, fats, 0, h, of.Suppliers(l))
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
