package inventory

import (
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
)

// Opening is bars that were there when the books began. They are found by the code that is printed on them, are
// released by the word of somebody who knows them, and their trace ends before these books.
type Opening struct {
	ID         int64
	OID        string
	Code       string
	Name       string
	Made       string // local days; empty when nobody knows
	Ready      string
	Cost       *int64 // of all of them in minor units; nil when not known
	Note       string
	Bars       int // that are left; as taken over before they are on record
	Word       string
	ReleasedBy string // empty before somebody has released them
	At         time.Time
	Who        string
	Moves      []OpeningMove
}

// OpeningMove is a change of bars that were taken over.
type OpeningMove struct {
	Reason string
	Change int
	Note   string
	Who    string
	At     time.Time
}

// TakenOver is the reason of the first move.
const TakenOver = "taken over"

// BarsOn is how many bars there were before a moment.
func (o Opening) BarsOn(until time.Time) (n int) {
	for _, m := range o.Moves {
		if m.At.Before(until) {
			n += m.Change
		}
	}
	return n
}

// Came is how many bars were taken over.
func (o Opening) Came() int {
	if len(o.Moves) == 0 {
		return o.Bars
	}
	return o.Moves[0].Change
}

// Out is how many bars went out, net of those that came back.
func (o Opening) Out() (n int) {
	for _, m := range o.Moves {
		switch ledger.Reason(m.Reason) {
		case ledger.Recount, TakenOver:
		default:
			n -= m.Change
		}
	}
	return n
}

// mostBars is the most that one code is taken over with.
const mostBars = 5000

// Check finds what cannot be taken over.
func (o Opening) Check() caution.Problems {
	var p caution.Problems
	if strings.TrimSpace(o.Code) == "" {
		p.Add("code", "type the code that is printed on them")
	}
	if strings.TrimSpace(o.Name) == "" {
		p.Add("name", "say what soap it is")
	}
	p.Name("code", o.Code)
	p.Name("name", o.Name)
	if o.Bars < 1 || o.Bars > mostBars {
		p.Add("bars", "count the bars, 1 to %d", mostBars)
	}
	for field, day := range map[string]string{"made": o.Made, "ready": o.Ready} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			p.Add(field, "“%s” is not a day; write it like 2026-03-14", day)
		}
	}
	if o.Made != "" && o.Ready != "" && o.Ready < o.Made {
		p.Add("ready", "it would be ready before it was made")
	}
	return p
}

// MayLeave says why bars may not leave on a local day; empty when they may.
func (o Opening) MayLeave() string {
	if o.ReleasedBy == "" {
		return "nobody has released them yet"
	}
	return ""
}
