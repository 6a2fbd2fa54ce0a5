package cost

import "slices"

// Sum is what something cost as far as it is known, with the names of what has no price.
type Sum struct {
	Known   Money
	Unknown []string
}

// Whole reports whether all of it is known.
func (s Sum) Whole() bool { return len(s.Unknown) == 0 }

// None reports whether nothing of it is known.
func (s Sum) None() bool { return !s.Whole() && s.Known.Sign() == 0 }

// Plus adds.
func (s Sum) Plus(o Sum) Sum {
	out := Sum{Known: s.Known.Plus(o.Known), Unknown: slices.Clone(s.Unknown)}
	for _, name := range o.Unknown {
		if !slices.Contains(out.Unknown, name) {
			out.Unknown = append(out.Unknown, name)
		}
	}
	return out
}

// Of is the share of it that part is of whole.
func (s Sum) Of(part, whole int64) Sum { return Sum{s.Known.Of(part, whole), s.Unknown} }

// Mixture is a vessel that things go into at what they cost, and that is drawn from: a stock of
// lye, a blend of fats, a jar of infused oil. It is the same throughout, so that a draw takes its
// share of the cost that is left, and the last draw all the rest. Water that is added thins it and
// costs nothing; what evaporates or is spilled takes its share along.
type Mixture struct {
	MG    int64 // that is in it
	Left  Sum   // what that cost
	taken map[string]draw
}

type draw struct {
	mg   int64
	cost Sum
}

// Add puts something in.
func (m *Mixture) Add(mg int64, cost Sum) { m.MG, m.Left = m.MG+mg, m.Left.Plus(cost) }

// Take draws for somebody, and says what that cost. Below zero it is what was put back, at what it
// was taken for.
func (m *Mixture) Take(by string, mg int64) Sum {
	if m.taken == nil {
		m.taken = map[string]draw{}
	}
	had := m.taken[by]
	var out Sum
	switch {
	case mg < 0:
		if back := min(-mg, had.mg); back > 0 {
			out = Sum{Known: Money{}.Minus(had.cost.Known.Of(back, had.mg)), Unknown: had.cost.Unknown}
		}
	default:
		out = m.Left.Of(min(mg, m.MG), m.MG)
	}
	m.MG -= mg
	m.Left = Sum{m.Left.Known.Minus(out.Known), m.Left.Unknown}
	m.taken[by] = draw{had.mg + mg, had.cost.Plus(out)}
	return out
}

// TakenBy is what somebody has drawn in all, net of what was put back.
func (m *Mixture) TakenBy(by string) (mg int64, cost Sum) {
	one := m.taken[by]
	return one.mg, one.cost
}

// Line is one ingredient of a lot.
type Line struct {
	Name      string
	MG        int64
	Cost      Money // as far as it is known
	UnknownMG int64 // of it that has no price
}

// Lot is what a lot cost.
type Lot struct {
	Lines   []Line
	Minutes int   // of work at the bench
	Rate    int64 // minor units an hour; 0 when the shop does not count its time
}

// Labour is what the minutes cost.
func (l Lot) Labour() Money { return Minor(l.Rate).Of(int64(l.Minutes), 60) }

// Total is what all of it cost.
func (l Lot) Total() Sum {
	out := Sum{Known: l.Labour()}
	for _, one := range l.Lines {
		out = out.Plus(one.Sum())
	}
	return out
}

// Sum is what the line cost.
func (l Line) Sum() Sum {
	s := Sum{Known: l.Cost}
	if l.UnknownMG > 0 {
		s.Unknown = []string{l.Name}
	}
	return s
}

// Pile is pieces of one kind that came out of the cut: bars of a size and grade, or trimmings that
// are kept.
type Pile struct {
	Name  string
	Count int // of pieces; 0 of trimmings
	MG    int64
}

// Share is what the pieces of a pile carry.
type Share struct {
	Pile
	Cost Money
}

// Each is what one piece carries; all of it where they are not counted.
func (s Share) Each() Money { return s.Cost.Of(1, int64(max(1, s.Count))) }

// Divide shares a cost by weight. Where nothing of it was weighed the pieces share alike.
func Divide(total Money, piles []Pile) []Share {
	var sum int64
	for _, p := range piles {
		sum += p.MG
	}
	out := make([]Share, len(piles))
	pieces := int64(0)
	for _, p := range piles {
		pieces += int64(p.Count)
	}
	for i, p := range piles {
		out[i] = Share{p, total.Of(p.MG, sum)}
		if sum == 0 {
			out[i].Cost = total.Of(int64(p.Count), pieces)
		}
	}
	return out
}

// Price is what an amount of a material costs. The zero value is a price that is not known.
type Price struct {
	Cost   Money
	Amount int64 // mg, or pieces
}

// Known reports whether there is a price.
func (p Price) Known() bool { return p.Amount > 0 }

// For is what so much of it costs.
func (p Price) For(amount int64) Money { return p.Cost.Of(amount, p.Amount) }

// Need is how much of a material a recipe takes.
type Need struct {
	Name string
	MG   int64
	Free bool // costs nothing: water from the tap, ice
}

// Priced is what needs cost at prices, each with its line.
func Priced(needs []Need, prices []Price) []Line {
	out := make([]Line, len(needs))
	for i, n := range needs {
		out[i] = Line{Name: n.Name, MG: n.MG}
		switch {
		case n.Free:
		case prices[i].Known():
			out[i].Cost = prices[i].For(n.MG)
		default:
			out[i].UnknownMG = n.MG
		}
	}
	return out
}

// Frozen is what a lot cost at a moment, to be kept: a later invoice changes what is known now, and
// stands beside it.
type Frozen struct {
	Currency string
	Lines    []FrozenLine
	Minutes  int
	Rate     int64
	Shares   []FrozenShare
}

// FrozenLine is a [Line] with its exact cost as text.
type FrozenLine struct {
	Name      string
	MG        int64
	Cost      string
	UnknownMG int64
}

// FrozenShare is a [Share] with its exact cost as text.
type FrozenShare struct {
	Name  string
	Count int
	MG    int64
	Cost  string
}

// Freeze keeps what a lot cost.
func Freeze(currency string, l Lot, shares []Share) Frozen {
	out := Frozen{Currency: currency, Minutes: l.Minutes, Rate: l.Rate}
	for _, one := range l.Lines {
		out.Lines = append(out.Lines, FrozenLine{one.Name, one.MG, one.Cost.String(), one.UnknownMG})
	}
	for _, one := range shares {
		out.Shares = append(out.Shares, FrozenShare{one.Name, one.Count, one.MG, one.Cost.String()})
	}
	return out
}

// Thaw reads what was kept.
func (f Frozen) Thaw() (l Lot, shares []Share, err error) {
	l = Lot{Minutes: f.Minutes, Rate: f.Rate}
	for _, one := range f.Lines {
		sum, err := ReadExact(one.Cost)
		if err != nil {
			return l, nil, err
		}
		l.Lines = append(l.Lines, Line{one.Name, one.MG, sum, one.UnknownMG})
	}
	for _, one := range f.Shares {
		sum, err := ReadExact(one.Cost)
		if err != nil {
			return l, nil, err
		}
		shares = append(shares, Share{Pile{one.Name, one.Count, one.MG}, sum})
	}
	return l, shares, nil
}
