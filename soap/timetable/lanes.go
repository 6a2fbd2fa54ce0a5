package timetable

import (
	"cmp"
	"slices"
)

// Lane is one of something through the day: the second jug, the first pair of hands.
type Lane struct {
	Resource string // empty for what happens by itself
	Number   int    // from 1
	Of       int    // there are
	Bars     []Bar
}

// Bar is a time in which it is taken.
type Bar struct {
	Batch, Step string // the step that takes it
	From, Until int
	Kept        bool // beyond the step
}

// Lanes divides a plan into lanes, resource by resource in an order; those that are not named are left out. Who is first
// takes the first that is free. Last come the steps that take nothing: they happen by themselves.
func Lanes(d Day, p Plan, resources []string) (out []Lane) {
	of := map[string][]Bar{}
	ends := map[[2]string]int{}
	for _, s := range p.Steps {
		ends[[2]string{s.Batch, s.Name}] = s.To
	}
	steps := map[[2]string]Step{}
	for _, b := range d.Batches {
		for _, s := range b.Steps {
			steps[[2]string{b.Name, s.Name}] = s
		}
	}
	for _, placed := range p.Steps {
		s := steps[[2]string{placed.Batch, placed.Name}]
		for _, name := range s.Uses {
			of[name] = append(of[name], Bar{placed.Batch, placed.Name, placed.From, placed.To, false})
		}
		for _, name := range sortedKeys(s.Keeps) {
			of[name] = append(of[name], Bar{placed.Batch, placed.Name, placed.From, ends[[2]string{placed.Batch, s.Keeps[name]}], true})
		}
		if len(s.Uses) == 0 && len(s.Keeps) == 0 {
			of[""] = append(of[""], Bar{placed.Batch, placed.Name, placed.From, placed.To, false})
		}
	}
	for _, name := range append(slices.Clone(resources), "") {
		bars := slices.DeleteFunc(of[name], func(b Bar) bool { return b.Until <= b.From }) // no time is taken
		slices.SortStableFunc(bars, func(a, b Bar) int { return cmp.Compare(a.From, b.From) })
		first := len(out)
		for range d.Resources[name] {
			out = append(out, Lane{Resource: name, Number: len(out) - first + 1, Of: d.Resources[name]})
		}
		for _, b := range bars {
			at := slices.IndexFunc(out[first:], func(l Lane) bool { return len(l.Bars) == 0 || l.Bars[len(l.Bars)-1].Until <= b.From })
			if at < 0 {
				at = len(out) - first
				out = append(out, Lane{Resource: name, Number: at + 1})
			}
			out[first+at].Bars = append(out[first+at].Bars, b)
		}
	}
	return out
}
