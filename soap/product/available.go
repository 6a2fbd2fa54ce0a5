package product

import (
	"cmp"
	"slices"

	"ashshelf/soap/ledger"
)

// OnHand is bars of one kind of a lot, as they stand.
type OnHand struct {
	Lot     string // its identity
	Code    string
	Number  int // of the lot; the lower, the older
	Recipe  string
	Kind    ledger.Kind
	Bars    int
	Bound   []Bound
	Aside   int    // reference bars, which nobody is offered
	Blocked string // why none of them may go; empty when they may
	Ready   string // day from which they may, where that is still to come; empty now
	Latest  string // and the latest day of its range
}

// Bound are bars that are one product's, or put by for somebody.
type Bound struct {
	Product string // identity; empty for bars that are put by as they are
	For     string // identity of the reservation; empty for bars that are only labelled
	Bars    int
}

// Free is how many bars are nobody's yet.
func (p OnHand) Free() int {
	free := p.Bars - p.Aside
	for _, b := range p.Bound {
		free -= b.Bars
	}
	return max(0, free)
}

// Availability is what a product has of the bars on hand of a lot.
type Availability struct {
	OnHand
	Labelled int      // its own, for anybody
	Reserved int      // its own, put by for somebody
	Shared   int      // that it could take, as those could
	With     []string // identities of the other products
}

// Offered is how many of them may be sold to anybody.
func (s Availability) Offered() int {
	if s.Blocked != "" || s.Ready != "" {
		return 0
	}
	return s.Labelled + s.Shared
}

// Availabilities is what each product has, by its identity, oldest lots first. Bars that several products could use are
// shown with each of them.
func Availabilities(products map[string]Product, piles []OnHand) map[string][]Availability {
	out := map[string][]Availability{}
	piles = slices.Clone(piles)
	slices.SortStableFunc(piles, func(a, b OnHand) int {
		return cmp.Or(cmp.Compare(a.Number, b.Number), cmp.Compare(a.Kind.Grade, b.Kind.Grade), cmp.Compare(a.Kind.Size, b.Kind.Size))
	})
	for _, pile := range piles {
		var takers []string
		for oid, p := range products {
			if !p.Retired && p.Takes(pile.Recipe, pile.Kind) {
				takers = append(takers, oid)
			}
		}
		slices.Sort(takers)
		for oid := range products {
			s := Availability{OnHand: pile}
			for _, b := range pile.Bound {
				switch {
				case b.Product != oid:
				case b.For == "":
					s.Labelled += b.Bars
				default:
					s.Reserved += b.Bars
				}
			}
			if slices.Contains(takers, oid) {
				s.Shared = pile.Free()
				s.With = slices.DeleteFunc(slices.Clone(takers), func(other string) bool { return other == oid })
			}
			if s.Labelled+s.Reserved+s.Shared > 0 {
				out[oid] = append(out[oid], s)
			}
		}
	}
	return out
}
