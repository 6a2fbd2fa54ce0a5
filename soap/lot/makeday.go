package lot

import (
	"time"

	"ashshelf/soap/plan"
	"ashshelf/soap/run"
)

// Sheet is the weigh sheet that counts now: the one the lot was started with, or
// the newest it was rescaled to.
func (l *Lot) Sheet() []plan.Section {
	if n := len(l.Rescales); n > 0 {
		return l.Rescales[n-1].Sheet
	}
	return l.Frozen.Sheet
}

// PotNow is the pot as it is to be made now.
func (l *Lot) PotNow() plan.Plan {
	if n := len(l.Rescales); n > 0 {
		return l.Rescales[n-1].Pot
	}
	return l.Frozen.Pot
}

// Factor is how much larger than planned the pot is made, 1 as planned.
func (l *Lot) Factor() float64 {
	if n := len(l.Rescales); n > 0 {
		return l.Rescales[n-1].Factor
	}
	return 1
}

// Order is what the run sheet of the lot is built from.
func (l *Lot) Order() run.Order {
	o := run.Order{
		Request: l.Frozen.Request, Formula: l.Frozen.Formula, Sheet: l.Sheet(), Pot: l.PotNow(), Rescued: l.Cooked() && l.Plain(),
	}
	for _, m := range l.Frozen.Molds {
		o.Molds = append(o.Molds, run.Vessel{Name: m.Name, Material: m.Material, Count: m.Count, Mold: m.Mold, Cut: m.Cut})
	}
	return o
}

// Item finds an item of the sheet that counts now.
func (l *Lot) Item(key plan.Key) (plan.Item, bool) {
	for _, s := range l.Sheet() {
		for _, i := range s.Items {
			if i.Key == key {
				return i, true
			}
		}
	}
	return plan.Item{}, false
}

// Actual is what was weighed by item key, all pours of an item together and less
// what was weighed back. A corrected weighing counts no more; its correction
// does.
func (l *Lot) Actual() map[plan.Key]float64 {
	out := map[plan.Key]float64{}
	for _, w := range l.Weighings {
		if !l.Corrected(w.ID) {
			out[w.Item] += w.Actual
		}
	}
	return out
}

// Done are the steps that are ticked, by key: the newest word on each counts.
func (l *Lot) Done() map[string]bool {
	out := map[string]bool{}
	for _, t := range l.Ticks {
		out[t.Step] = t.Done
	}
	return out
}

// State is how far the pot has come. An item is closed once it has reached its
// target, or when the maker said that no more of it comes.
func (l *Lot) State() run.State {
	s := run.State{Done: l.Done(), Pot: run.Pot{Grams: l.Actual(), Closed: map[plan.Key]bool{}}}
	for _, sec := range l.Sheet() {
		for _, i := range sec.Items {
			g, weighed := s.Grams[i.Key]
			s.Closed[i.Key] = s.Done[run.WeighKey(i.Key)] || weighed && run.InTolerance(i, g) >= 0
		}
	}
	for _, w := range l.Weighings {
		if w.From.OID != "" && !l.Corrected(w.ID) {
			s.Parts = append(s.Parts, run.Part{Item: w.Item, Grams: w.Actual, SAP: w.From.SAP, Purity: w.From.Purity})
		}
	}
	for _, x := range l.Extras {
		s.Extras = append(s.Extras, run.Extra{Grams: x.Grams, SAP: x.SAP})
	}
	s.Combined = s.Done[run.MeetKey]
	return s
}

// Unweighed returns the items of the sheet of which something is still to come.
func (l *Lot) Unweighed() []plan.Item {
	closed := l.State().Closed
	var out []plan.Item
	for _, s := range l.Sheet() {
		for _, i := range s.Items {
			if !closed[i.Key] {
				out = append(out, i)
			}
		}
	}
	return out
}

// RescaledTo works out what rescaling all that is not weighed yet to an item would
// make of the lot. The error says why that cannot be: a [*NotNow], or problems of
// the plan.
func (l *Lot) RescaledTo(key plan.Key) (Rescale, error) {
	i, _ := l.Item(key)
	over := run.Over(i, l.Actual()[key])
	if over == nil {
		return Rescale{}, &NotNow{i.Name + " is not over any more"}
	}
	if l.State().Combined {
		return Rescale{}, &NotNow{"the lye has met the fats: it is too late to rescale lot " + l.Code}
	}
	out := Rescale{Factor: l.Factor() * over.Factor, Because: key}
	var err error
	out.Pot, out.Sheet, err = l.Frozen.Request.Rescaled(l.Frozen.Pot, out.Factor)
	return out, err
}

// Read are the temperatures of a pot in order, those of the lye and the fats
// only since they stand to cool.
func (l *Lot) Read(of string) []run.Reading {
	var out []run.Reading
	for _, t := range l.Temps {
		if t.Of == of {
			out = append(out, run.Reading{At: t.Occurred, C: t.C})
		}
	}
	return out
}

// Warmth is the newest temperature of a pot, nil when it was never read.
func (l *Lot) Warmth(of string) *float64 {
	read := l.Read(of)
	if len(read) == 0 {
		return nil
	}
	return &read[len(read)-1].C
}

// mostTrace is how long after the lye met the fats the clock still says how long trace took.
const mostTrace = 4 * time.Hour

// SinceMet is how long ago the lye met the fats, by the clock; false where it did not, or so long ago that
// the clock says nothing of the trace.
func (l *Lot) SinceMet(now time.Time) (time.Duration, bool) {
	var at time.Time
	for _, t := range l.Ticks {
		if t.Step == run.MeetKey {
			if at = t.Occurred; !t.Done {
				at = time.Time{}
			}
		}
	}
	since := now.Sub(at)
	return since, !at.IsZero() && since >= 0 && since <= mostTrace
}

// WhenToCombine foretells when lye and fats can meet.
func (l *Lot) WhenToCombine(roomC float64, now time.Time) run.Meeting {
	var lyeIn time.Time
	start := roomC
	for _, t := range l.Ticks {
		if t.Step == run.LyeInKey && t.Done {
			lyeIn = t.Occurred
		}
	}
	if c := l.Warmth("liquid"); c != nil {
		start = *c
	}
	if c := l.Warmth("room"); c != nil {
		roomC = *c
	}
	return run.Forecast(l.Order(), l.Read("lye"), l.Read("fats"), lyeIn, start, roomC, now)
}
