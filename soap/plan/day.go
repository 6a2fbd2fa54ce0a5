package plan

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/liquid"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Job is one order of a day at the bench.
type Job struct {
	Name    string
	Formula recipe.Formula
	Plan    Plan // the whole order
}

// Total is how much of one ingredient a day takes.
type Total struct {
	Kind  string // "fat", "alkali", "liquid", "additive"
	Name  string
	Grams float64
	Jobs  int // that want it
}

// Totals adds the ingredients of a day up, each kind in the order in which it
// first comes.
func Totals(jobs []Job) []Total {
	var out []Total
	at := map[string]int{}
	add := func(kind, name string, grams float64) {
		if grams <= 0 {
			return
		}
		key := kind + ":" + strings.ToLower(name)
		i, ok := at[key]
		if !ok {
			i = len(out)
			at[key] = i
			out = append(out, Total{Kind: kind, Name: name})
		}
		out[i].Grams += grams
		out[i].Jobs++
	}
	for _, j := range jobs {
		for i, s := range j.Formula.Fats {
			add("fat", s.Fat.Name, j.Plan.Fats[i].Grams)
		}
	}
	for _, j := range jobs {
		add("alkali", "Sodium hydroxide", j.Plan.NaOH)
		add("alkali", "Potassium hydroxide", j.Plan.KOH)
	}
	for _, j := range jobs {
		for i, l := range j.Formula.Liquids {
			add("liquid", l.Liquid.Name, j.Plan.Liquids[i].Grams)
		}
	}
	for _, j := range jobs {
		for i, u := range j.Formula.Uses() {
			add("additive", u.Name, j.Plan.Additives[i].Grams)
		}
	}
	return out
}

// Melt is a blend of fats that several orders of a day share: it can be melted
// in one pot and weighed out of it.
type Melt struct {
	Jobs  []int
	Grams float64
	Each  []float64 // g of fats for each of the jobs
}

// Melts finds the orders whose blends are the same.
func Melts(jobs []Job) []Melt {
	byBlend := map[string]*Melt{}
	var order []string
	for i, j := range jobs {
		parts := make([]string, len(j.Formula.Fats))
		for k, s := range j.Formula.Fats {
			parts[k] = s.Fat.Key() + "=" + unit.Trim(s.Percent, 2)
		}
		slices.Sort(parts)
		key := strings.Join(parts, ";")
		m := byBlend[key]
		if m == nil {
			m = &Melt{}
			byBlend[key] = m
			order = append(order, key)
		}
		m.Jobs = append(m.Jobs, i)
		m.Grams += j.Plan.FatsG
		m.Each = append(m.Each, j.Plan.FatsG)
	}
	var out []Melt
	for _, key := range order {
		if m := byBlend[key]; len(m.Jobs) > 1 {
			out = append(out, *m)
		}
	}
	return out
}

// Ready is an infused oil that must stand strained before a day starts.
type Ready struct {
	Oil   string
	Herb  string
	Grams float64
	Steep liquid.Steep
	Job   int
}

// Infused lists the infused oils that a day wants.
func Infused(jobs []Job) []Ready {
	var out []Ready
	for n, j := range jobs {
		for _, in := range j.Formula.Infusions {
			for i, s := range j.Formula.Fats {
				if s.Fat.Key() == in.Fat {
					g := j.Plan.Fats[i].Grams
					out = append(out, Ready{s.Fat.Name, in.Herb, g, in.For(g), n})
				}
			}
		}
	}
	return out
}

// Turn is the place of an order in a day, with its reason.
type Turn struct {
	Job int
	Why string
}

// Turns proposes the order of a day by three rules. Lye is made for all first,
// the hottest first, because it must cool. Then what takes longest to trace is
// poured first, so that it can be blended in bouts beside the others. What
// hurries, because its scent accelerates or is not known, comes last and alone.
func Turns(jobs []Job) []Turn {
	out := make([]Turn, len(jobs))
	time := make([]float64, len(jobs))
	last := make([]int, len(jobs)) // 1 for what hurries
	for i, j := range jobs {
		o := j.Formula.Judge().Time
		time[i], out[i] = o.Figure, Turn{i, o.Words}
		if scent, risky := j.Formula.RiskyScent(); risky {
			last[i], out[i].Why = 1, "last and alone: "+scent+" may leave little time"
		}
	}
	slices.SortStableFunc(out, func(a, b Turn) int {
		return cmp.Or(cmp.Compare(last[a.Job], last[b.Job]), cmp.Compare(time[b.Job], time[a.Job]))
	})
	return out
}

// Lyes is the order in which the lye of a day is made, the hottest first.
func Lyes(jobs []Job) []Turn {
	out := make([]Turn, len(jobs))
	for i, j := range jobs {
		out[i] = Turn{i, fmt.Sprintf("up to %s °C", unit.Trim(j.Plan.PeakC, 0))}
	}
	slices.SortStableFunc(out, func(a, b Turn) int { return cmp.Compare(jobs[b.Job].Plan.PeakC, jobs[a.Job].Plan.PeakC) })
	return out
}
