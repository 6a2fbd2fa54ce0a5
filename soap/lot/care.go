package lot

import (
	"time"

	"ashshelf/soap/run"
)

// Next is what to change next time.
type Next struct {
	Entry
	Text string
}

// Care is something done for a lot that is no record of its own.
type Care struct {
	Entry
	What string // "texture", "gel", "oven", "turn", "stamp" or [Diluted]
	Note string
}

// Diluted is the care that a paste of potassium hydroxide, or a sample of it, was
// diluted.
const Diluted = "dilute"

// Finished is the care that what was left for somebody to finish is done, and StillSoft that a loaf
// came out soft and is cut later.
const (
	Finished  = "finishing"
	StillSoft = "soft"
)

// Unfinished is what was left for somebody to finish and is not done yet; empty for nothing.
func (l *Lot) Unfinished() string {
	if _, done := l.LastCare(Finished); done || l.Cut == nil {
		return ""
	}
	return l.Cut.Finish
}

// CareWords says what was done.
func CareWords(what string) string {
	return map[string]string{"texture": "Top textured", "gel": "Gel looked for", "oven": "Oven off", "turn": "Bars turned",
		"stamp": "Stamped", Diluted: "Paste diluted",
		Finished: "Finished", StillSoft: "Came out soft"}[what]
}

// LastCare is when something was last done for the lot; ok is false when it never
// was.
func (l *Lot) LastCare(what string) (at time.Time, ok bool) {
	for _, c := range l.Cared {
		if c.What == what {
			at, ok = c.Occurred, true
		}
	}
	return at, ok
}

// Wash is how a bar washed, beside a fully cured one, in water equally warm.
// Figures go from 0 to 4.
type Wash struct {
	Entry
	Volume, Creaminess, Slime, Scent int
	Against                          string // the bar it was compared with
	Note                             string
}

// Spent is the time that a stage of make day took.
type Spent struct {
	Stage string
	Time  time.Duration
}

// Times are the stages of make day with the time between the first and the last
// thing that was written in each, and from there to the next.
func (l *Lot) Times() []Spent {
	at := map[string]time.Time{}
	for _, t := range l.Ticks {
		if t.Done {
			at[t.Step] = t.Occurred
		}
	}
	for _, w := range l.Weighings {
		if key := run.WeighKey(w.Item); at[key].Before(w.Occurred) {
			at[key] = w.Occurred
		}
	}
	if l.Pour != nil {
		at[run.PourKey] = l.Pour.Occurred
	}
	var out []Spent
	last := l.Started.Occurred
	for _, s := range run.Steps(l.Order()) {
		when, ok := at[s.Key]
		if !ok {
			continue
		}
		if n := len(out); n == 0 || out[n-1].Stage != s.Stage {
			out = append(out, Spent{Stage: s.Stage})
		}
		if d := when.Sub(last); d > 0 {
			out[len(out)-1].Time += d
			last = when
		}
	}
	return out
}
