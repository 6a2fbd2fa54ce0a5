// Package recall keeps the score of a recall: of every bar that was made, where it is now.
//
// A recall is over when nothing is open: what is in the house, what came back, what was destroyed, what was worked
// into other soap that is called back with it, and what went to buyers nobody knows, each with its event and day,
// add up to what was made. A drill counts the same and blocks nothing. A bar that comes back is booked in and is
// never for sale again.
package recall

import (
	"maps"
	"slices"
	"time"

	"ashshelf/soap/ledger"
)

// Went are bars that left together.
type Went struct {
	Entry  int64 // of the move
	On     time.Time
	Bars   int
	Reason ledger.Reason
	Buyer  string // who has them, where that is known
	Event  string // where they were sold, or what stands beside the move
}

// Known reports whether somebody can be told.
func (w Went) Known() bool { return w.Buyer != "" }

// Pool is where bars are that something is noted of.
type Pool string

// The pools.
const (
	House    Pool = "house"    // on the shelf
	Buyer    Pool = "buyer"    // with somebody known
	Unknown  Pool = "unknown"  // with somebody nobody knows
	Returned Pool = "returned" // came back, and wait
)

// What is what became of bars in a recall.
type What string

// What may become of bars.
const (
	CameBack  What = "returned"
	Destroyed What = "destroyed"
	Used      What = "used" // the buyer has none left
)

// Whats returns what may become of bars.
func Whats() []What { return []What{CameBack, Destroyed, Used} }

// Words says what became of them.
func (w What) Words() string {
	return map[What]string{CameBack: "came back", Destroyed: "destroyed", Used: "used up"}[w]
}

// Move is a note of a recall: what became of so many bars of a lot.
type Move struct {
	Entry int64
	At    time.Time
	Who   string
	What  What
	Pool  Pool
	Of    int64 // the move that they left by, of pool [Buyer]
	Bars  int
	Note  string
}

// Lot is a lot in a recall.
type Lot struct {
	OID, Code string
	Made      int // bars that were counted at the cut, but for scrap
	House     int // that are there by the books
	Worked    int // cut up and worked into other soap
	Destroyed int // spoiled before, and thrown away
	Lost      int // missing at a count; below zero where more were found
	Went      []Went
	Moves     []Move
	Lent      []Went // of those in the house by the books, that stand with a buyer on sale or return
}

// Score is where the bars of a lot are.
type Score struct {
	Made, House, Worked, Returned, Destroyed, Used, Lost int
	Unknown                                              int // with buyers nobody knows
	Open                                                 int // with buyers who are known, and have not answered
}

// Plus adds up.
func (s Score) Plus(o Score) Score {
	return Score{
		s.Made + o.Made, s.House + o.House, s.Worked + o.Worked, s.Returned + o.Returned, s.Destroyed + o.Destroyed, s.Used + o.Used,
		s.Lost + o.Lost, s.Unknown + o.Unknown, s.Open + o.Open,
	}
}

// Accounted is how many bars are accounted for.
func (s Score) Accounted() int {
	return s.House + s.Worked + s.Returned + s.Destroyed + s.Used + s.Lost + s.Unknown
}

// Whole reports whether every bar is accounted for.
func (s Score) Whole() bool { return s.Open == 0 && s.Accounted() == s.Made }

// Percent is how many of a hundred bars are accounted for.
func (s Score) Percent() int {
	if s.Made == 0 {
		return 100
	}
	return 100 * s.Accounted() / s.Made
}

// Score counts a lot. In a drill, what is noted as destroyed in the house is still there.
func (l Lot) Score() Score {
	s := Score{Made: l.Made, House: l.House, Worked: l.Worked, Destroyed: l.Destroyed, Lost: l.Lost}
	for _, w := range l.Went {
		if w.Known() {
			s.Open += w.Bars
		} else {
			s.Unknown += w.Bars
		}
	}
	for _, m := range l.Moves {
		switch m.Pool {
		case House:
			s.House -= m.Bars
		case Buyer:
			s.Open -= m.Bars
		case Unknown:
			s.Unknown -= m.Bars
		case Returned:
			s.Returned -= m.Bars
		}
		switch m.What {
		case CameBack:
			s.Returned += m.Bars
		case Destroyed:
			s.Destroyed += m.Bars
		case Used:
			s.Used += m.Bars
		}
	}
	return s
}

// With is how many bars of a departure are still with their buyer, 0 where nobody knows who that is.
func (l Lot) With(entry int64) int {
	for _, w := range l.Went {
		if w.Entry == entry && w.Known() {
			n := w.Bars
			for _, m := range l.Moves {
				if m.Pool == Buyer && m.Of == entry {
					n -= m.Bars
				}
			}
			return n
		}
	}
	return 0
}

// Takes says how many bars of a pool there are to note something of.
func (l Lot) Takes(p Pool, of int64) int {
	s := l.Score()
	switch p {
	case House:
		return s.House
	case Buyer:
		return l.With(of)
	case Unknown:
		return s.Unknown
	case Returned:
		return s.Returned
	}
	return 0
}

// Pools are the pools that something can become of in a way: what is in the house does not come back, and what
// came back is not used up.
func (w What) Pools() []Pool {
	switch w {
	case CameBack:
		return []Pool{Buyer, Unknown}
	case Destroyed:
		return []Pool{House, Buyer, Unknown, Returned}
	case Used:
		return []Pool{Buyer, Unknown}
	}
	return nil
}

// May reports whether so many bars of a pool can become that.
func (l Lot) May(w What, p Pool, of int64, bars int) bool {
	return slices.Contains(w.Pools(), p) && bars > 0 && bars <= l.Takes(p, of)
}

// Net takes what came back before off what went out: off the same buyer's where she is known, else off what went
// to nobody known, else off whoever had them. What is returned has more than no bars each.
func Net(went []Went) []Went {
	var out []Went
	back := map[string]int{}
	for _, w := range went {
		if w.Bars > 0 {
			out = append(out, w)
		} else {
			back[w.Buyer] -= w.Bars
		}
	}
	take := func(n int, from func(Went) bool) int {
		for i := range out {
			if from(out[i]) {
				k := min(n, out[i].Bars)
				out[i].Bars -= k
				n -= k
			}
		}
		return n
	}
	for _, buyer := range slices.Sorted(maps.Keys(back)) {
		n := back[buyer]
		n = take(n, func(w Went) bool { return w.Buyer == buyer })
		n = take(n, func(w Went) bool { return !w.Known() })
		take(n, func(Went) bool { return true })
	}
	return slices.DeleteFunc(out, func(w Went) bool { return w.Bars == 0 })
}
