// Package tracing answers where things went and came from, and runs a recall by the answer.
//
// A supplier writes that a batch of oil was mixed up: which lots, which bars, where are they now? One step says it,
// through containers of lye, blends, jars and scraps, both ways. A recall then blocks what is left, says who is to be
// told, and counts until every bar is accounted for. A drill does the same without blocking anything, against the
// clock, and is kept.
package tracing

import (
	"context"
	"fmt"
	"slices"

	"ashshelf/shop/journal"
	"ashshelf/shop/lots"
	"ashshelf/soap/recall"
	"ashshelf/soap/trace"
	"ashshelf/store"
)

// Tracer traces.
type Tracer struct {
	*journal.Journal
	reader *lots.Reader
}

// New returns a tracer.
func New(j *journal.Journal, r *lots.Reader) *Tracer { return &Tracer{j, r} }

// Subject is what is traced: a place of package trace by its identity, a product by its, an event or a buyer by name,
// a scent by name.
type Subject struct{ Kind, Of string }

// Step is a place on the way.
type Step struct {
	store.Named
	MG   int64         // of what is traced that is in it; on the way back, of it that is in what is traced
	Via  []store.Named // where it came by
	Bars *recall.Lot   // of a lot: its bars
}

// Score is where the bars of a lot are.
func (s Step) Score() recall.Score {
	if s.Bars == nil {
		return recall.Score{}
	}
	return s.Bars.Score()
}

// Gone is how many bars of a lot are not in the house any more.
func (s Step) Gone() int {
	if s.Bars == nil {
		return 0
	}
	return s.Bars.Made - s.Bars.House - s.Bars.Worked
}

// Trace is where something went, and what it came from.
type Trace struct {
	Subject
	Name     string
	Start    []Step
	To, From []Step
}

// Lots are the lots in it: those it began with and those it went to.
func (t Trace) Lots() (out []Step) {
	for _, s := range append(slices.Clone(t.Start), t.To...) {
		if s.Kind == trace.Lot {
			out = append(out, s)
		}
	}
	return out
}

// Vessels are the containers and jars that it went into.
func (t Trace) Vessels() (out []Step) {
	for _, s := range t.To {
		if s.Kind == trace.Stock || s.Kind == trace.Jar {
			out = append(out, s)
		}
	}
	return out
}

// Score adds up the bars of all its lots.
func (t Trace) Score() (sum recall.Score) {
	for _, s := range t.Lots() {
		sum = sum.Plus(s.Score())
	}
	return sum
}

// Trace follows something both ways.
func (r *Tracer) Trace(ctx context.Context, s Subject) (out Trace, err error) {
	err = r.Read(ctx, func(tx *store.Tx) (err error) {
		out, err = TraceIn(tx, s)
		return err
	})
	return out, err
}

// TraceIn is [Tracer.Trace] within a transaction.
func TraceIn(tx *store.Tx, s Subject) (out Trace, err error) {
	out.Subject = s
	start, err := startOf(tx, s)
	if err != nil {
		return out, err
	}
	to, _, err := trace.Walk(tx, start, true)
	if err != nil {
		return out, err
	}
	from, _, err := trace.Walk(tx, start, false)
	if err != nil {
		return out, err
	}
	all := slices.Clone(start)
	var lotIDs []int64
	for _, f := range append(slices.Clone(to), from...) {
		all = append(all, f.Place)
	}
	for _, p := range all {
		if p.Kind == trace.Lot && !slices.Contains(lotIDs, p.ID) {
			lotIDs = append(lotIDs, p.ID)
		}
	}
	names, err := tx.Names(all)
	if err != nil {
		return out, err
	}
	bars, err := tx.Bars(lotIDs)
	if err != nil {
		return out, err
	}
	step := func(f trace.Found) Step {
		one := Step{Named: names[f.Place], MG: int64(f.MG + 0.5)}
		for _, v := range f.Via {
			one.Via = append(one.Via, names[v])
		}
		if i := slices.Index(lotIDs, f.ID); f.Kind == trace.Lot && i >= 0 {
			one.Bars = &bars[i]
		}
		return one
	}
	whole, err := tx.Whole(start)
	if err != nil {
		return out, err
	}
	for _, p := range start {
		out.Start = append(out.Start, step(trace.Found{Place: p, MG: float64(whole[p])}))
	}
	for _, f := range to {
		out.To = append(out.To, step(f))
	}
	for _, f := range from {
		out.From = append(out.From, step(f))
	}
	out.Name, err = nameOf(tx, s, out.Start)
	return out, err
}

// startOf are the places that a trace begins with.
func startOf(tx *store.Tx, s Subject) ([]trace.Place, error) {
	if slices.Contains([]string{"product", "event", "scent"}, s.Kind) {
		return tx.Beginning(s.Kind, s.Of)
	}
	p, err := tx.PlaceOf(trace.Kind(s.Kind), s.Of)
	return []trace.Place{p}, err
}

// nameOf says what is traced.
func nameOf(tx *store.Tx, s Subject, start []Step) (string, error) {
	switch s.Kind {
	case "product":
		history, err := tx.History(store.Products, s.Of)
		if err != nil {
			return "", err
		}
		return history[0].Name, nil
	case "event", "scent":
		return s.Of, nil
	}
	if len(start) == 0 {
		return "", fmt.Errorf("%s %s: %w", s.Kind, s.Of, store.ErrNotFound)
	}
	n := start[0].Named
	switch {
	case n.Kind == trace.Lot:
		return "Lot " + n.Name + ", " + n.More, nil
	case n.More != "":
		return n.Name + ", " + n.More, nil
	}
	return n.Name, nil
}
