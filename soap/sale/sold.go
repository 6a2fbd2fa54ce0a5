package sale

import (
	"cmp"
	"slices"

	"ashshelf/soap/cost"
)

// Entry is bars that were sold, or came back: below zero.
type Entry struct {
	Bars  int
	Known bool // what was taken is
	Taken
	Cost  cost.Money // of all of them
	Whole bool       // the cost is known
}

// Sum is what was sold of something.
type Sum struct {
	Key, Name string
	Bars      int
	Unpriced  int // bars of which it is not known what they brought
	Uncosted  int // bars of which it is not known what they cost
	Taken
	Cost cost.Money
}

// Add adds what was sold to it.
func (s *Sum) Add(e Entry) {
	s.Bars += e.Bars
	if !e.Known {
		s.Unpriced += e.Bars
		return // what it brought is not known, so that its cost would only look like a loss
	}
	s.Taken = s.Taken.Plus(e.Taken)
	s.Cost = s.Cost.Plus(e.Cost)
	if !e.Whole {
		s.Uncosted += e.Bars
	}
}

// Margin is what is left of it: without the tax, what the channel keeps, and what the bars cost.
func (s Sum) Margin() cost.Money { return cost.Minor(s.Net()).Minus(s.Cost) }

// Group adds up what was sold by what it has in common; the largest takings first, then by name.
func Group[T any](list []T, of func(T) (key, name string, e Entry)) (out []Sum) {
	at := map[string]int{}
	for _, one := range list {
		key, name, e := of(one)
		i, ok := at[key]
		if !ok {
			i = len(out)
			at[key] = i
			out = append(out, Sum{Key: key, Name: name})
		}
		out[i].Add(e)
	}
	slices.SortStableFunc(out, func(a, b Sum) int {
		return cmp.Or(cmp.Compare(b.Amount, a.Amount), cmp.Compare(b.Bars, a.Bars), cmp.Compare(a.Name, b.Name))
	})
	return out
}
