// Package clock doubts the computer's clock. A laptop whose little battery is flat wakes
// up in 1970, and a year typed wrong makes bars of today a year old: whoever believes it
// sells too early or too late. Nothing on the bench tells the time better, so only two
// things are known: the clock never stands before what was recorded already, and a shop
// rarely rests for months. Either is told, and a person says what is right.
package clock

import "time"

// Doubt is what is odd about the clock; empty when nothing is.
type Doubt string

// The doubts.
const (
	Behind Doubt = "behind" // it stands before the newest entry
	Ahead  Doubt = "ahead"  // nothing was recorded for so long that it may be wrong
)

// Slack is how far a clock may go back without a word: it is set by the network now
// and then.
const Slack = 2 * time.Minute

// Rest is the longest that a shop rests without being asked: longer than the usual
// cure, so that every day on which bars are looked at lies within it.
const Rest = 60 * 24 * time.Hour

// Judge doubts a clock that says now, where the newest entry that is not in doubt itself
// was recorded at newest; that is zero where nothing was recorded yet.
func Judge(now, newest time.Time) Doubt {
	switch {
	case newest.IsZero():
		return ""
	case now.Before(newest.Add(-Slack)):
		return Behind
	case now.Sub(newest) > Rest:
		return Ahead
	}
	return ""
}

// Words says it of an entry that was recorded under the doubt.
func (d Doubt) Words() string {
	return map[Doubt]string{
		Behind: "recorded while the clock stood before the newest entry",
		Ahead:  "recorded while the clock may have been ahead",
	}[d]
}
