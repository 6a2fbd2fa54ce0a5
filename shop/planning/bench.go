package planning

import (
	"context"
	"errors"
	"slices"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/run"
	"ashshelf/store"
)

// Usual hours of a day at the bench, and how many loaves an oven takes.
const (
	usualStart = 9 * 60
	usualEnd   = 17 * 60
	usualOven  = 2
)

// usualDay is the day under which what is usual is kept.
const usualDay = ""

// Bench is who and what is there on a local date: as somebody kept it for that day, else as usual; kept says which.
func (pl *Planner) Bench(ctx context.Context, date string) (b run.Bench, kept bool, err error) {
	tools, err := pl.Tools(ctx)
	if err != nil {
		return b, false, err
	}
	err = pl.Read(ctx, func(tx *store.Tx) (err error) {
		if b, kept, err = benchIn(tx, date); err != nil || kept {
			return err
		}
		var said bool
		if b, said, err = benchIn(tx, usualDay); err == nil && !said {
			b = run.Bench{Start: usualStart, End: usualEnd}.With(run.OvenPlace, usualOven)
		}
		return err
	})
	if err != nil {
		return b, false, err
	}
	count := counted(tools)
	have := map[string]bool{}
	for _, r := range b.Has {
		have[r.Name] = true
	}
	for _, name := range run.Resources() { // what nobody said: as many jugs and pots as are written down, and one of all else
		if !have[name] {
			b = b.With(name, max(1, count[name]))
		}
	}
	return b, kept, nil
}

// counted are the jugs and pots that are written down.
func counted(tools []catalog.Tool) map[string]int {
	out := map[string]int{}
	for _, t := range tools {
		switch {
		case t.Retired:
		case t.Kind == document.Jug:
			out[run.JugAway]++
		case t.Kind == document.Pot:
			out[run.PotAway]++
		}
	}
	return out
}

func benchIn(tx *store.Tx, date string) (b run.Bench, said bool, err error) {
	body, err := tx.Bench(date)
	if errors.Is(err, store.ErrNotFound) {
		return b, false, nil
	}
	if err != nil {
		return b, false, err
	}
	b, err = document.Decode("bench", document.ReadBench, body)
	return b, b.End > 0, err // one that does not last is taken back
}

// KeepBench keeps who and what is there on a local date, with the steps that somebody put at a time; for the empty date it is
// what is usual, and jugs and pots go on being counted from the equipment as long as they are as many.
func (pl *Planner) KeepBench(ctx context.Context, act journal.Act, date string, b run.Bench) error {
	if err := checkDay(date, true); err != nil {
		return err
	}
	if err := b.Check().Err(); err != nil {
		return err
	}
	if date == usualDay {
		tools, err := pl.Tools(ctx)
		if err != nil {
			return err
		}
		count := counted(tools)
		b.Moved, b.Note = nil, "" // they are of a day
		b.Has = slices.DeleteFunc(slices.Clone(b.Has), func(r run.Resource) bool { return count[r.Name] > 0 && count[r.Name] == r.Count })
	}
	return pl.keepBench(ctx, act, date, b)
}

// ForgetBench has a day follow what is usual again.
func (pl *Planner) ForgetBench(ctx context.Context, act journal.Act, date string) error {
	if err := checkDay(date, false); err != nil {
		return err
	}
	return pl.keepBench(ctx, act, date, run.Bench{})
}

func (pl *Planner) keepBench(ctx context.Context, act journal.Act, date string, b run.Bench) error {
	body, err := document.Encode(b)
	if err != nil {
		return err
	}
	_, err = pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		return "", c.Record("bench", func(entry int64) error { return c.AddBench(entry, date, body) })
	})
	return err
}
