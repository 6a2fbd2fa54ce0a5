package lot

import (
	"fmt"
	"math"
	"slices"
	"sync"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/dry"
	"ashshelf/soap/recipe"
)

// ChecksFrom is from when a safety check of the lot counts.
func (l *Lot) ChecksFrom(zone *time.Location) cure.Checkable {
	c := cure.Chemistry{Paste: l.Form() == recipe.Paste}
	if l.Pour != nil {
		c.Poured = l.Pour.Occurred.In(zone)
	}
	if l.Frozen.Formula.Process.Cooks() {
		c.Cooked = c.Poured // it is poured when it is cooked
	}
	for _, t := range l.ProcessChanges {
		if t.Cooked {
			c.Cooked = later(c.Cooked, t.Occurred.In(zone))
		}
	}
	if !c.Cooked.IsZero() {
		c.Cooked = later(c.Cooked, l.lastRescue().In(zone))
	}
	c.Gelled = l.Unmolding != nil && l.Unmolding.Gel == FullGel
	if at, ok := l.LastCare(Diluted); ok {
		c.Diluted = at.In(zone)
	}
	return cure.ChecksFrom(c, l.Policy())
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// lastRescue is when the last step of a rescue was done: a cook is over by then.
func (l *Lot) lastRescue() (at time.Time) {
	for _, i := range l.Incidents {
		for n := range mostRescueSteps {
			for _, t := range l.Ticks {
				if t.Done && t.Step == RescueKey(i.ID, n) {
					at = later(at, t.Occurred)
				}
			}
		}
	}
	return at
}

// checked reports how the safety check stands. A check that was made too early is
// kept and does not count; a bar that was released when it still did stays released
// as long as no later check fails.
func (l *Lot) checked(from cure.Checkable) (passed, early bool) {
	for _, k := range l.Checks {
		switch counts := from.Counts(k.Occurred); {
		case !k.Pass:
			passed, early = false, false
		case counts || l.Release != nil:
			passed, early = true, false
		default:
			early = !passed
		}
	}
	return passed, early
}

// Sound reports whether a safety check that counts was good, and none since failed.
func (l *Lot) Sound(zone *time.Location) bool {
	passed, _ := l.checked(l.ChecksFrom(zone))
	return passed
}

// TooEarly reports whether a check of the lot was made too early to count.
func (l *Lot) TooEarly(k SafetyCheck) bool {
	return !l.ChecksFrom(k.Occurred.Location()).Counts(k.Occurred)
}

// OnEarlyCheck reports whether the lot was released when only early checks spoke for
// it, and none that counts was made since.
func (l *Lot) OnEarlyCheck() bool {
	return l.Release != nil && !slices.ContainsFunc(l.Checks, func(k SafetyCheck) bool { return k.Pass && !l.TooEarly(k) })
}

// OutOfWindow says, in words, how far from its window a lot is unmolded or cut at a
// moment; empty within it.
func (l *Lot) OutOfWindow(at time.Time) string {
	if l.Pour == nil {
		return ""
	}
	w, after := l.Unmolds(), at.Sub(l.Pour.Occurred)
	if w.None() {
		return ""
	}
	switch w.At(after) {
	case cure.Waiting:
		return "before its window opens, which is " + hours(w.Opens) + " after the pour: " + w.Why
	case cure.Late:
		return "after its window closed, which was " + hours(w.Closes) + " after the pour: " + w.Why
	}
	return ""
}

func hours(d time.Duration) string { return fmt.Sprintf("%.3g hours", d.Hours()) }

// Deviated reports whether an act on the lot is on record as a deviation.
func (l *Lot) Deviated(act Act) bool {
	return slices.ContainsFunc(l.Deviations, func(d Deviation) bool { return d.Act == act })
}

// SampleWeight is the marked sample bar on the scale.
type SampleWeight struct {
	Entry
	Grams float64
}

// SafetyCheck is a zap or pH test.
type SafetyCheck struct {
	Entry
	Method string
	PH     *float64
	Pass   bool
	Note   string
}

// Release is a named person's word that the bars may be sold.
type Release struct {
	Entry
	Early  string // why before its time, empty when in time
	Signed Signature
}

// Deviation is something that was done otherwise than it should be, with the
// maker's reason.
type Deviation struct {
	Entry
	Act  Act // that was done
	What string
	Why  string
}

// Weights are the weighings of the marked bar that hold, in order of time: what
// corrects an earlier one was read when that was.
func (l *Lot) Weights() []SampleWeight {
	var out []SampleWeight
	for _, s := range l.Samples {
		if !l.Corrected(s.ID) {
			out = append(out, s)
		}
	}
	slices.SortStableFunc(out, func(a, b SampleWeight) int { return a.Occurred.Compare(b.Occurred) })
	return out
}

// Facts gathers what the gate looks at. now is in the shop's zone.
func (l *Lot) Facts(now time.Time) cure.Facts {
	f := cure.Facts{Form: l.Form(), Now: now, Policy: l.Policy(), Holds: l.Held(), Released: l.Release != nil}
	f.InTime = f.Released && l.Release.Early == ""
	if l.Pour != nil {
		f.Poured = l.Pour.Occurred.In(now.Location())
	}
	for _, s := range l.Weights() {
		f.Samples = append(f.Samples, cure.Sample{At: s.Occurred.In(now.Location()), Grams: s.Grams})
	}
	f.Step, f.Bar = l.SampleStep(), l.barSize()
	if l.Dried != nil {
		f.Known = l.Dried.drying
	}
	f.From = l.ChecksFrom(now.Location())
	f.Checked = len(l.Checks) > 0
	f.Passed, f.Early = l.checked(f.From)
	return f
}

// Dried is what the weighings of a lot tell, worked out when somebody asks, and once for a lot
// and its copies, which nobody changes.
type Dried struct {
	once sync.Once
	of   *Lot
	told cure.Drying
}

func (d *Dried) drying() cure.Drying {
	d.once.Do(func() { d.told = d.of.Facts(time.Time{}).Drying() })
	return d.told
}

// RememberDrying has what the weighings tell worked out once.
func (l *Lot) RememberDrying() {
	of := *l
	of.Dried = nil
	l.Dried = &Dried{of: &of}
}

// barSize is the measures of a bar of the lot, where all of its molds make the same; nothing of
// what stays in a jar, which dries from its top alone.
func (l *Lot) barSize() (out dry.Bar) {
	if !l.Form().Unmolded() {
		return out
	}
	for i, m := range l.Frozen.Molds {
		along, across, tall, ok := m.Mold.BarSize(m.Cut)
		bar := dry.Bar{Length: across, Width: tall, Thickness: along}
		if !ok || i > 0 && bar != out {
			return dry.Bar{}
		}
		out = bar
	}
	return out
}

// SampleStep is the step in g that the marked bar's weights were read in: a tenth
// when any of them says so, a gram else.
func (l *Lot) SampleStep() float64 {
	for _, s := range l.Samples {
		if s.Grams != math.Trunc(s.Grams) {
			return 0.1
		}
	}
	return 1
}

// Gate works out what still keeps the bars from being sold. It is only
// meaningful once the lot is poured.
func (l *Lot) Gate(now time.Time) cure.Gate { return l.Facts(now).EvaluateGate() }

// Policy is the cure policy that counts: a cooked lot follows that of cooked
// soap.
func (l *Lot) Policy() cure.Policy {
	if l.Cooked() {
		return cure.Cooked(l.Frozen.Policy)
	}
	return l.Frozen.Policy
}

// FormIn is what a formula stands as in some molds, and the material of the mold that decides it:
// as long as one of them is cut, the lot is; without molds it is as the formula says.
func FormIn(f recipe.Formula, molds []Mold) (form recipe.Form, material string) {
	order := []recipe.Form{recipe.Loaf, recipe.Pieces, recipe.Jars, recipe.Paste}
	for _, m := range molds {
		if one := f.Form(m.Material, m.Mold.Single()); form == "" || slices.Index(order, one) < slices.Index(order, form) {
			form, material = one, m.Material
		}
	}
	if form == "" {
		return f.Form(f.Material(), false), f.Material()
	}
	return form, material
}

// Form is what the lot stands as.
func (l *Lot) Form() recipe.Form {
	form, _ := FormIn(l.Frozen.Formula, l.Frozen.Molds)
	return form
}

// Unmolds is the window that counts, in the room that was noted at the pour: what the
// recipe itself says, and what stands in an oven, does not follow the room. What stays
// where it was poured has none.
func (l *Lot) Unmolds() cure.Window {
	if l.Form().Unmolded() && !l.Cooked() {
		return l.inRoom(l.Frozen.Unmold)
	}
	return l.TableWindow()
}

// TableWindow is [Lot.Unmolds] as it would be if no lot of the shop had said otherwise.
func (l *Lot) TableWindow() cure.Window {
	f := l.Frozen.Formula
	form, material := FormIn(f, l.Frozen.Molds)
	if form.Unmolded() && l.Cooked() {
		f.Process = recipe.Process{Kind: recipe.Cooked}
	}
	w := cure.Unmold(f, form, material)
	if !form.Unmolded() || l.Cooked() {
		return w
	}
	return l.inRoom(w)
}

// inRoom is a window in the room that was noted at the pour.
func (l *Lot) inRoom(w cure.Window) cure.Window {
	own := l.Frozen.Formula.Process
	if l.Pour != nil && l.Pour.RoomC != nil && own.Closes == 0 && own.Kind != recipe.Oven && own.Cover != "oven" {
		w = w.InRoom(*l.Pour.RoomC)
	}
	return w
}
