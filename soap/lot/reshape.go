package lot

import (
	"fmt"
	"math"

	"ashshelf/soap/ledger"
	"ashshelf/soap/unit"
)

// Shape is what soap is in after the cut, besides its bars.
type Shape string

// The shapes. Trimmings are scraps from the cut on.
const (
	WholeBars Shape = "bars"
	EndPieces Shape = "ends"
	Scraps    Shape = "scraps"
	Petals    Shape = "petals" // shaved off, to be laid into or onto another soap
	Balls     Shape = "balls"  // scraps pressed together
)

// Sources are what can be cut up or shaped, Shapes what it becomes.
func Sources() []Shape { return []Shape{WholeBars, EndPieces, Scraps, Petals, Balls} }

// Shapes is said at [Sources].
func Shapes() []Shape { return []Shape{Scraps, Petals, Balls} }

var shapeWords = map[Shape]string{
	WholeBars: "bars", EndPieces: "end pieces", Scraps: "scraps", Petals: "petals", Balls: "pressed balls",
}

// Words says the shape for a count of it.
func (s Shape) Words() string { return shapeWords[s] }

// Counted reports whether the shape is counted in pieces; scraps are only weighed.
func (s Shape) Counted() bool { return s != Scraps }

// Reshaped is soap of a lot that was cut up or shaped: no more of it than there was, and it
// stays this lot's, whatever becomes of it.
type Reshaped struct {
	Entry
	Source Shape
	Kind   ledger.Kind // of bars
	Pieces int         // that were taken, 0 of scraps
	Shape  Shape
	Made   int // pieces, 0 of scraps
	Grams  float64
	Note   string
}

func (r Reshaped) words() string {
	from := r.Source.Words()
	if r.Source == WholeBars {
		from = r.Kind.Words()
	}
	if r.Source.Counted() {
		from = fmt.Sprintf("%d %s", r.Pieces, from)
	}
	into := r.Shape.Words()
	if r.Shape.Counted() {
		into = fmt.Sprintf("%d %s", r.Made, into)
	}
	return withNote(fmt.Sprintf("%s into %s, %s g", from, into, unit.Trim(r.Grams, 1)), r.Note)
}

// Pile is how much there is of a shape: pieces where it is counted, and its weight in g.
type Pile struct {
	Shape  Shape
	Pieces int
	Grams  float64
}

// Pile is what is left of a shape of this lot: what came off at the cut and was shaped since, less
// what was shaped on and what went into other lots, which goes by weight out of the scraps.
func (l *Lot) Pile(s Shape) Pile {
	p := Pile{Shape: s}
	if l.Cut == nil {
		return p
	}
	switch s {
	case EndPieces:
		p.Pieces, p.Grams = l.Cut.Ends, l.Cut.EndsG
	case Scraps:
		p.Grams = l.Cut.TrimmingsG
		for _, c := range l.Children {
			if c.What == "trimmings" {
				p.Grams -= c.Grams
			}
		}
	}
	for _, r := range l.Reshaped {
		if r.Shape == s {
			p.Pieces, p.Grams = p.Pieces+r.Made, p.Grams+r.Grams
		}
		if r.Source == s {
			p.Pieces, p.Grams = p.Pieces-r.Pieces, p.Grams-r.Grams
		}
	}
	p.Pieces, p.Grams = max(0, p.Pieces), math.Max(0, p.Grams)
	return p
}

// Piles are the shapes that there is some of, end pieces first.
func (l *Lot) Piles() []Pile {
	var out []Pile
	for _, s := range []Shape{EndPieces, Scraps, Petals, Balls} {
		if p := l.Pile(s); p.Pieces > 0 || p.Grams >= leastPile {
			out = append(out, p)
		}
	}
	return out
}

// leastPile is the weight in g from which scraps are worth naming.
const leastPile = 0.5

// Words says the pile, such as "24 petals, 60 g".
func (p Pile) Words() string {
	out := p.Shape.Words()
	if p.Shape.Counted() {
		out = fmt.Sprintf("%d %s", p.Pieces, out)
	}
	if p.Grams >= leastPile {
		out += ", " + unit.Trim(p.Grams, 0) + " g"
	}
	return out
}

// TrimmingsLeft is how many g of the lot's scraps, trimmings among them, are not worked into
// another lot yet.
func (l *Lot) TrimmingsLeft() float64 { return l.Pile(Scraps).Grams }
