package planning

import (
	"context"
	"math"
	"sync"

	"ashshelf/soap/learn"
	"ashshelf/soap/lot"
	"ashshelf/soap/run"
	"ashshelf/soap/timetable"
	"ashshelf/store"
)

// Paces is how long the shop's own lots took for each part of their work, over what the table says for it.
type Paces struct {
	lots []tookOf // the newest first
}

type tookOf struct {
	recipe string
	ratio  map[string]float64 // by the part of the work
}

// How many lots are looked at: of a recipe, and of the shop for a hint.
const (
	mostOwn    = 15
	mostOthers = 30
)

// tookMemo remembers what lots took that are made: their records of it do not change any more.
type tookMemo struct {
	mu sync.Mutex
	of map[string]map[string]float64 // by the identity of a lot
}

// made are the stages of lots whose making is over.
var made = []lot.Stage{lot.Unmolded, lot.Curing, lot.Ready, lot.Gone}

// Paces reads how long lots of some recipes took, and the newest of the others for a hint.
func (pl *Planner) Paces(ctx context.Context, recipes []string) (out Paces, err error) {
	list, err := pl.Lots(ctx, store.LotsWhere{Stages: made, Most: mostOthers})
	if err != nil {
		return out, err
	}
	have := map[string]bool{}
	for _, l := range list {
		have[l.OID] = true
	}
	for _, recipe := range recipes {
		own, err := pl.Lots(ctx, store.LotsWhere{Recipe: recipe, Stages: made, Most: mostOwn})
		if err != nil {
			return out, err
		}
		for _, l := range own {
			if !have[l.OID] {
				have[l.OID] = true
				list = append(list, l)
			}
		}
	}
	for _, l := range list {
		ratio, err := pl.tookOf(ctx, l)
		if err != nil {
			return out, err
		}
		out.lots = append(out.lots, tookOf{l.Recipe, ratio})
	}
	return out, nil
}

// tookOf is what a lot took, over what the table says for it.
func (pl *Planner) tookOf(ctx context.Context, head *lot.Lot) (map[string]float64, error) {
	pl.took.mu.Lock()
	have, known := pl.took.of[head.OID]
	pl.took.mu.Unlock()
	if known {
		return have, nil
	}
	l, err := pl.Lot(ctx, head.OID)
	if err != nil {
		return nil, err
	}
	out, took := map[string]float64{}, learn.Took(l)
	whole := l.Order().Work("", roomOf(l), 1)
	table := map[string]float64{}
	for _, s := range whole.Steps {
		if part := run.PartOf(s.Name); len(s.Uses) > 0 || part == run.TraceWork {
			table[part] += float64(s.Minutes)
		}
	}
	for part, minutes := range took {
		if table[part] > 0 {
			out[part] = minutes / table[part]
		}
	}
	pl.took.mu.Lock()
	defer pl.took.mu.Unlock()
	if pl.took.of == nil || len(pl.took.of) > 2000 {
		pl.took.of = map[string]map[string]float64{}
	}
	pl.took.of[head.OID] = out
	return out, nil
}

// roomOf is how warm it was where a lot was made, or as warm as rooms are.
func roomOf(l *lot.Lot) float64 {
	if c := l.Warmth("room"); c != nil {
		return *c
	}
	return 20
}

// Figure is how long a part of the work of a recipe takes.
func (p Paces) Figure(recipe, part string, table float64) learn.Figure {
	var seen []learn.Seen
	for _, l := range p.lots {
		if ratio, ok := l.ratio[part]; ok {
			seen = append(seen, learn.Seen{Ratio: ratio, Own: l.recipe == recipe})
		}
	}
	return learn.Foretell(table, seen)
}

// apply gives the steps of a batch the minutes that the shop's own lots say, and returns what they are from. A trace in bouts
// has as many bouts as it needs.
func (p Paces) apply(b *timetable.Batch, recipe string) map[string]learn.Figure {
	out := map[string]learn.Figure{}
	table := map[string]float64{}
	for _, s := range b.Steps {
		table[run.PartOf(s.Name)] += float64(s.Minutes)
	}
	for i := range b.Steps {
		s := &b.Steps[i]
		part := run.PartOf(s.Name)
		if len(s.Uses) == 0 || part != s.Name || s.Minutes == 0 || table[part] > float64(s.Minutes) {
			continue
		}
		f := p.Figure(recipe, part, float64(s.Minutes))
		if f.Own+f.Others == 0 {
			continue
		}
		out[s.Name] = f
		s.Minutes = max(1, int(math.Round(f.Mid)))
	}
	return out
}
