// Package ledger counts bars in and out.
//
// Bars come from the cut, sorted by grade, and by size where a lot gave more than
// one. They may be moved out only after
// the lot is released, and never more of them than are there. Counts are whole
// bars; every move keeps its sign, so the balance is the sum of the moves.
package ledger

import (
	"fmt"
	"strings"
)

// Grade is how good a bar is.
type Grade string

// The grades.
const (
	First  Grade = "first"
	Second Grade = "second" // sound, but plain
	Tester Grade = "tester"
	Scrap  Grade = "scrap"
)

// Grades returns the grades that can be sold or given, best first. Scrap
// is counted at the cut and never becomes stock.
func Grades() []Grade { return []Grade{First, Second, Tester} }

// Words says the grade for a count of bars.
func (g Grade) Words() string {
	switch g {
	case First:
		return "first grade"
	case Second:
		return "seconds"
	case Tester:
		return "testers"
	}
	return string(g)
}

// Kind is what bars are counted as.
type Kind struct {
	Size  string // empty for the usual bar of the lot
	Grade Grade
}

// Of is the usual bar of a grade.
func Of(g Grade) Kind { return Kind{Grade: g} }

// Words says the kind for a count of bars.
func (k Kind) Words() string {
	if k.Size == "" {
		return k.Grade.Words()
	}
	return k.Grade.Words() + ", " + k.Size
}

// KindOf reads back what [Kind.Words] wrote.
func KindOf(words string) (Kind, bool) {
	for _, g := range Grades() {
		if rest, ok := strings.CutPrefix(words, g.Words()); ok {
			if size, sized := strings.CutPrefix(rest, ", "); sized || rest == "" {
				return Kind{Size: size, Grade: g}, true
			}
		}
	}
	return Kind{}, false
}

// Reason is why bars move.
type Reason string

// The reasons. Recount may go either way, Returned comes in, the others go out.
const (
	Sold     Reason = "sold"
	Gift     Reason = "gift"
	TestUse  Reason = "tester"
	Spoiled  Reason = "spoiled"
	Returned Reason = "returned"
	Recount  Reason = "recount"
)

// Reasons returns all reasons, the most usual first.
func Reasons() []Reason { return []Reason{Sold, Gift, TestUse, Spoiled, Returned, Recount} }

// Sign is +1 for what comes in, -1 for what goes out, 0 for a recount, whose
// count is the new balance.
func (r Reason) Sign() int {
	switch r {
	case Returned:
		return 1
	case Recount:
		return 0
	}
	return -1
}

// Valid reports whether r is one of [Reasons].
func (r Reason) Valid() bool {
	for _, known := range Reasons() {
		if r == known {
			return true
		}
	}
	return false
}

// ShortError says that a move would take more bars than there are.
type ShortError struct {
	Want, Have int
	Kind       Kind
}

func (e *ShortError) Error() string {
	return fmt.Sprintf("%d wanted, but only %d %s are ready in this lot", e.Want, e.Have, e.Kind.Words())
}

// Change turns a typed count into the signed change of a balance. The balance
// never goes below zero, and nothing more can come back than went out.
func Change(have, out int, k Kind, r Reason, count int) (int, error) {
	if !r.Valid() {
		return 0, fmt.Errorf("“%s” is not a reason to move bars", r)
	}
	if count < 0 || count == 0 && r != Recount {
		return 0, fmt.Errorf("say how many bars, 1 or more")
	}
	switch r.Sign() {
	case 1:
		if count > out {
			return 0, fmt.Errorf("%d bars cannot come back: %d of %s went out", count, out, k.Words())
		}
		return count, nil
	case 0:
		return count - have, nil
	}
	if count > have {
		return 0, &ShortError{count, have, k}
	}
	return -count, nil
}
