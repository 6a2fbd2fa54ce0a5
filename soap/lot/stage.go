package lot

import (
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
