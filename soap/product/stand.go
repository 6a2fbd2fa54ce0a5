package product

import (
	"cmp"
	"slices"

	"ashshelf/soap/ledger"
)

// Pile is bars of one kind of a lot, as they stand.
type Pile struct {
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
func (p Pile) Free() int {
	free := p.Bars - p.Aside
	for _, b := range p.Bound {
		free -= b.Bars
	}
	return max(0, free)
}

// Stand is what a product has of a pile.
type Stand struct {
	Pile
	Labelled int      // its own, for anybody
	Reserved int      // its own, put by for somebody
	Shared   int      // that it could take, as those could
	With     []string // identities of the other products
}

// Offered is how many of them may be sold to anybody.
func (s Stand) Offered() int {
	if s.Blocked != "" || s.Ready != "" {
		return 0
	}
	return s.Labelled + s.Shared
}

// Stands is what each product has, by its identity, oldest lots first. Bars that several products could use stand
// with each of them.
func Stands(products map[string]Product, piles []Pile) map[string][]Stand {
	out := map[string][]Stand{}
	piles = slices.Clone(piles)
	slices.SortStableFunc(piles, func(a, b Pile) int {
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
			s := Stand{Pile: pile}
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
