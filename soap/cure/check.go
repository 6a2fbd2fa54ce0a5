package cure

import (
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/day"
	"ashshelf/soap/unit"
)

// Checkable is from when a safety check of a lot proves something. Before, raw soap
// zaps and reads high whatever it will become, or reads mild on its skin while its
// core is not done.
type Checkable struct {
	From  time.Time // in the shop's zone
	Why   string
	First string // what must be done before any check counts; empty for nothing
}

// When a safety check begins to prove something: a cook finishes the chemistry and
// a full gel nearly does; everything else takes a week.
//
// Source: the shop's handbook, on the two clocks of a cure.
const (
	afterCook = 24 * time.Hour
	afterGel  = 72 * time.Hour
	afterPour = 7 * 24 * time.Hour
)

// Chemistry is what decides how soon a soap is done: when it was poured and cooked,
// whether it was seen to gel through, and whether it is a paste of potassium
// hydroxide, which is tested in water.
type Chemistry struct {
	Poured  time.Time
	Cooked  time.Time // zero for never
	Gelled  bool      // a full gel was seen
	Paste   bool
	Diluted time.Time // zero for not yet
}

// ChecksFrom is from when a safety check counts. A policy may let it wait longer,
// never less.
func ChecksFrom(c Chemistry, p Policy) Checkable {
	out := Checkable{From: c.Poured.Add(afterPour), Why: "raw soap takes a week"}
	switch {
	case !c.Cooked.IsZero():
		out = Checkable{From: c.Cooked.Add(afterCook), Why: "cooked soap is done a day after its cook"}
	case c.Gelled:
		out = Checkable{From: c.Poured.Add(afterGel), Why: "soap that gelled through is done after three days"}
	}
	if asked := day.Plus(c.Poured, p.CheckDay); p.CheckDay > 0 && asked.After(out.From) {
		out.From, out.Why = asked, "its policy waits for it"
	}
	if c.Paste {
		switch {
		case c.Diluted.IsZero():
			out.First = "dilute the paste, or a sample of it, and note that it is diluted"
		case c.Diluted.After(out.From):
			out.From, out.Why = c.Diluted, "a paste is tested when it is diluted"
		}
	}
	return out
}

// Counts reports whether a check made at a moment proves something.
func (c Checkable) Counts(made time.Time) bool { return c.First == "" && !made.Before(c.From) }

// After reports whether no check counts yet at a moment.
func (c Checkable) After(now time.Time) bool { return !c.Counts(now) }

// Words says from when a check counts, and why.
func (c Checkable) Words() string {
	if c.First != "" {
		return c.First + " first"
	}
	return "it counts from " + c.From.Format("Mon 2 Jan, 15:04") + ", since " + c.Why
}

// Verdict judges a safety check: by the tongue, what was felt decides; by pH, the
// reading does, whatever anybody says of it. Problems are at "method" and "ph".
func Verdict(method string, ph *float64, mild bool) (pass bool, err error) {
	var p caution.Problems
	switch method {
	case "zap":
		return mild, nil
	case "ph":
		if ph == nil || !(*ph >= 0 && *ph <= 14) {
			p.Add("ph", "type the reading, between 0 and 14")
			return false, p
		}
		pass, _ = PHVerdict(*ph)
		return pass, nil
	}
	p.Add("method", "say whether it was a tongue test or a pH reading")
	return false, p
}

// What a pH reading of soap in water can be.
const leastPH, mostPH = 9.0, 10.5

// PHVerdict judges a pH reading of soap in water. Real soap reads about 9 to
// 10.5; lower doubts the strip, higher means free lye.
func PHVerdict(ph float64) (pass bool, text string) {
	switch {
	case ph < leastPH:
		return false, "soap never reads below " + unit.Trim(leastPH, 0) + ": the strip or the probe is doubtful, test again"
	case ph <= mostPH:
		return true, "in the range of good soap"
	}
	return false, "above " + unit.Trim(mostPH, 1) + " there may be free lye: hold the lot and test again"
}
