package lot

import (
	"math"
	"strings"

	"ashshelf/soap/run"
)

// JudgePot judges the pot as it stands.
func (l *Lot) JudgePot() run.Judgement {
	r := l.Frozen.Request
	r.Formula = l.Frozen.Formula
	return run.Judge(r, l.Sheet(), l.State().Pot)
}

// JudgePour judges the pot as it is poured: what was not weighed by now is not in it.
func (l *Lot) JudgePour() Judged {
	pot := l.State().Pot
	for _, i := range l.Unweighed() {
		pot.Closed[i.Key] = true
	}
	r := l.Frozen.Request
	r.Formula = l.Frozen.Formula
	j := run.Judge(r, l.Sheet(), pot)
	out := Judged{Superfat: j.Superfat, Planned: j.Planned, Heavy: j.Heavy}
	if j.Off != nil {
		out.Said = strings.TrimSpace(j.Off.Reason + " " + j.Off.Remedy)
	}
	return out
}

// AsPoured is the judgement that goes with the record: the one that was made at the
// pour. Where none was kept, it is worked out from what was weighed.
func (l *Lot) AsPoured() Judged {
	switch {
	case l.Pour == nil:
		j := l.JudgePot()
		return Judged{Superfat: j.Superfat, Planned: j.Planned, Heavy: j.Heavy}
	case l.Pour.Judged != nil:
		return *l.Pour.Judged
	}
	return l.JudgePour()
}

// Pour is the moment the batter went into the molds.
type Pour struct {
	Entry
	LyeC, FatsC, RoomC *float64
	Trace              string
	LeftG              float64
	Off                map[string]float64 // mm above the fill line by mold, below it under zero; for molds that were looked at
	Skipped            string             // why something planned was not weighed
	Note               string
	Judged             *Judged // nil when it was poured before that was kept
}

// Judged is how the pot was judged when it was poured.
type Judged struct {
	Superfat, Planned float64 // percent
	Heavy             bool    // there was more lye than is safe
	Said              string  // what was off, and what to do about it; empty when all was well
}

// Burns reports whether there is more lye in it than its fats can take, and than was meant.
func (j Judged) Burns() bool { return j.Heavy && j.Superfat < math.Min(0, j.Planned) }

// Traces returns the words for how thick the batter was.
func Traces() []string { return []string{"emulsion", "light", "medium", "thick"} }
