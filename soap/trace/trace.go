// Package trace follows a material both ways: from a tin of oil to every bar it is in, and from a bar back to
// every tin.
//
// Things pass from one place to another: a delivery into a container of lye, the container into a lot, scraps of
// the lot into a younger one. Each of these is an edge with the weight that passed. What is in a place is taken as
// mixed, so that of a tin that was half of a container a lot that drew a tenth of it has a twentieth of the tin.
// Walked with the stream that says where it went and how much of it; walked against it, what is in it and how much.
package trace

import (
	"cmp"
	"errors"
	"slices"
)

// Kind is what a place is.
type Kind string

// The kinds, in the order in which a material passes through them.
const (
	Order    Kind = "order" // to a supplier
	Delivery Kind = "delivery"
	Stock    Kind = "stock" // a container of lye, or of a blend of fats
	Jar      Kind = "jar"   // of oil that steeps
	Lot      Kind = "lot"
)

// Kinds returns the kinds in their order.
func Kinds() []Kind { return []Kind{Order, Delivery, Stock, Jar, Lot} }

// Place is where a material can be, by its number.
type Place struct {
	Kind Kind
	ID   int64
}

// Edge is a weight in mg that passed from one place to another.
type Edge struct {
	From, To Place
	MG       int64
	What     string // such as "trimmings"; empty where there is nothing to say
}

// Graph is what is known of places: all edges that touch them, and what each holds or held in all, in mg.
type Graph interface {
	// Next are the edges out of places, with the stream or against it.
	Next(of []Place, down bool) ([]Edge, error)
	// Whole is what went through each of the places in all, in mg.
	Whole(of []Place) (map[Place]int64, error)
}

// Found is a place that a walk came to.
type Found struct {
	Place
	MG  float64 // of what was traced; against the stream, of this place in what was traced
	Via []Place // the places that it was reached from, in their order
}

// Walk follows what is in some places: with the stream to where it went, against it to where it came from. It
// returns the places it came to but for the first, and the edges it went along.
func Walk(g Graph, start []Place, down bool) (found []Found, along []Edge, err error) {
	seen := map[Place]bool{}
	for _, p := range start {
		seen[p] = true
	}
	reached := slices.Clone(start)
	for at := start; len(at) > 0; {
		edges, err := g.Next(at, down)
		if err != nil {
			return nil, nil, err
		}
		at = nil
		for _, e := range edges {
			along = append(along, e)
			if _, to := ends(e, down); !seen[to] {
				seen[to] = true
				at, reached = append(at, to), append(reached, to)
			}
		}
	}
	whole, err := g.Whole(reached)
	if err != nil {
		return nil, nil, err
	}
	amount, via, err := flow(start, along, down, whole)
	if err != nil {
		return nil, nil, err
	}
	for _, p := range reached[len(start):] {
		slices.SortFunc(via[p], compare)
		found = append(found, Found{p, amount[p], slices.Compact(via[p])})
	}
	slices.SortFunc(found, func(a, b Found) int { return compare(a.Place, b.Place) })
	return found, along, nil
}

func ends(e Edge, down bool) (from, to Place) {
	if down {
		return e.From, e.To
	}
	return e.To, e.From
}

func compare(a, b Place) int {
	kinds := Kinds()
	return cmp.Or(cmp.Compare(slices.Index(kinds, a.Kind), slices.Index(kinds, b.Kind)), cmp.Compare(a.ID, b.ID))
}

// ErrRound says that something went into itself.
var ErrRound = errors.New("trace: something went into itself")

// flow shares out what is in the first places along the edges, each place after all that flow into it.
func flow(start []Place, along []Edge, down bool, whole map[Place]int64) (amount map[Place]float64, via map[Place][]Place, err error) {
	amount, via = map[Place]float64{}, map[Place][]Place{}
	waits, out := map[Place]int{}, map[Place][]Edge{}
	for _, e := range along {
		from, to := ends(e, down)
		waits[to]++
		out[from] = append(out[from], e)
		via[to] = append(via[to], from)
	}
	var ready []Place
	for _, p := range start {
		if amount[p] = float64(whole[p]); waits[p] == 0 {
			ready = append(ready, p)
		}
	}
	done := 0
	for ; len(ready) > 0; ready = ready[1:] {
		p := ready[0]
		for _, e := range out[p] {
			_, to := ends(e, down)
			done++
			if whole[p] > 0 {
				amount[to] += amount[p] * min(1, float64(e.MG)/float64(whole[p]))
			}
			if waits[to]--; waits[to] == 0 {
				ready = append(ready, to)
			}
		}
	}
	if done < len(along) {
		return nil, nil, ErrRound
	}
	return amount, via, nil
}
