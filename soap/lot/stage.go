package lot

import (
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/ledger"
	"ashshelf/soap/recipe"
)

// Move is bars in or out after the release.
type Move struct {
	Entry
	Kind   ledger.Kind
	Reason ledger.Reason
	Change int
	Note   string
	Went   Went
}

// Stage is where a lot is in its life.
type Stage string

// The stages in the order of life.
const (
	Making    Stage = "making"  // started, being weighed and mixed
	InMold    Stage = "in-mold" // poured
	Unmolded  Stage = "unmolded"
	Curing    Stage = "curing" // cut, on the rack
	Ready     Stage = "ready"  // released, bars in stock
	Gone      Stage = "gone"   // released, no bar left
	Abandoned Stage = "abandoned"
)

// Words says the stage as a maker would.
func (s Stage) Words() string {
	switch s {
	case Making:
		return "on the bench"
	case InMold:
		return "in the mold"
	case Unmolded:
		return "to cut"
	case Gone:
		return "all moved out"
	}
	return string(s)
}

// StageWords says the stage as a maker would of soap of the lot's form.
func (l *Lot) StageWords() string {
	stage, form := l.Stage(), l.Form()
	switch {
	case stage == InMold && form == recipe.Jars:
		return "in its jars"
	case stage == InMold && form == recipe.Paste:
		return "a paste, to be put up"
	case stage == Unmolded && !form.Cut():
		return "to count"
	}
	return stage.Words()
}

// Stage works out the stage from what happened.
func (l *Lot) Stage() Stage {
	switch {
	case l.Abandoned != nil:
		return Abandoned
	case l.Release != nil && l.InStock() == 0:
		return Gone
	case l.Release != nil:
		return Ready
	case l.Cut != nil:
		return Curing
	case l.Unmolding != nil:
		return Unmolded
	case l.Pour != nil:
		return InMold
	}
	return Making
}

// InStock is the number of bars that are there.
func (l *Lot) InStock() int {
	n := 0
	for _, c := range l.Balance {
		n += c
	}
	return n
}

// Went is where bars went that left: as which product, by which channel, to whom and at which event. What nobody
// said is empty.
type Went struct {
	Product string // its name
	Channel string
	Buyer   string
	Event   string
}

// Words says it in a line.
func (w Went) Words() string {
	var out []string
	for _, part := range []string{w.Product, w.Channel, w.Event} {
		if part != "" {
			out = append(out, part)
		}
	}
	if w.Buyer != "" {
		out = append(out, "to "+w.Buyer)
	}
	return strings.Join(out, ", ")
}

// Binding makes bars one product's, puts them by, or takes either back.
type Binding struct {
	Entry
	Kind    ledger.Kind
	What    Bound
	Product string // name, empty for bars that are put by as they are
	For     string // whom or what they are put by for
	Change  int
	Note    string
}

// Bound is why bars are bound, or not any more.
type Bound string

// The reasons.
const (
	Labelled Bound = "labelled"
	Reserved Bound = "reserved"
	Freed    Bound = "freed"
	Left     Bound = "left" // with a move
	Back     Bound = "back"
)

func (b Binding) words() string {
	n := max(b.Change, -b.Change)
	text := fmt.Sprintf("%d %s", n, b.Kind.Words())
	if b.Product != "" {
		text += " as " + b.Product
	}
	if b.For != "" {
		text += " for " + b.For
	}
	return withNote(text, b.Note)
}

// LabelRun is labels that were printed for bars of the lot.
type LabelRun struct {
	Entry
	OID        string
	Kind       ledger.Kind
	Product    string
	ProductOID string
	Number     int // revision of the product
	Bars       int
	Labels     int // that were printed
}

// BoundBars are bars that are bound now.
type BoundBars struct {
	Kind    ledger.Kind
	Product string // identity
	For     string // identity of the reservation
	Name    string // of the reservation
	Bars    int
}

// Complaint is what somebody complained of in bars of the lot, with what was done.
type Complaint struct {
	Entry
	OID    string
	Number int
	Kind   string
	Said   string
	Ended  bool
}

// BoundOf is how many bars of a kind are labelled or put by.
func (l *Lot) BoundOf(k ledger.Kind) (n int) {
	for _, b := range l.Bound {
		if b.Kind == k {
			n += b.Bars
		}
	}
	return n
}

// Aside is how many bars of a kind are kept for reference: those that were put aside are taken to be of the best
// bars that there are.
func (l *Lot) Aside(k ledger.Kind) int {
	if l.Cut == nil {
		return 0
	}
	left := 0
	for _, kept := range l.Kept {
		left += kept.Bars
	}
	kinds := l.Cut.Kinds()
	slices.SortStableFunc(kinds, func(a, b ledger.Kind) int {
		return slices.Index(ledger.Grades(), a.Grade) - slices.Index(ledger.Grades(), b.Grade)
	})
	for _, one := range kinds {
		here := min(left, l.Balance[one]-l.BoundOf(one))
		if one == k {
			return max(0, here)
		}
		left -= max(0, here)
	}
	return 0
}

// FreeOf is how many bars of a kind are nobody's: neither bound nor kept for reference.
func (l *Lot) FreeOf(k ledger.Kind) int { return max(0, l.Balance[k]-l.BoundOf(k)-l.Aside(k)) }
