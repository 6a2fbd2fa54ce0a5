package inventory

import (
	"cmp"
	"slices"

	"ashshelf/soap/plan"
)

// Want is what one pot takes of one material.
type Want struct {
	Key    plan.Key
	Amount int64
}

// Pots is a plan as the store sees it: pots alike that are still to be made.
type Pots struct {
	Count int
	Each  []Want
}

// Enough says for how many of its pots there is enough, and which material runs out first.
type Enough struct {
	Pots, Of int
	First    plan.Key // empty where it is enough for all
	Missing  int64    // of it, for all
}

// EnoughFor counts the pots that can be made of what is free. What is unlimited is never asked for.
func EnoughFor(p Pots, free map[plan.Key]int64) Enough {
	out := Enough{Pots: p.Count, Of: p.Count}
	for _, w := range p.Each {
		if w.Amount <= 0 {
			continue
		}
		have := max(0, free[w.Key])
		can := int(min(int64(p.Count), have/w.Amount))
		missing := w.Amount*int64(p.Count) - have
		if can < out.Pots || can == out.Pots && can < p.Count && missing > out.Missing {
			out.Pots, out.First, out.Missing = can, w.Key, missing
		}
	}
	return out
}

// HeldDays is how many days after its day a plan still reserves what it takes.
const HeldDays = 3

// Reserves reports whether a plan for a day, or for none, still reserves on a local day.
func Reserves(day, today string) bool { return day == "" || DaysBetween(day, today) <= HeldDays }

// UseWeeks is how far back the weekly use is counted.
const UseWeeks = 13

// WeeklyUse is what a week takes of a material of which soap took so much within the last [UseWeeks]. Where
// the shop has had it for less long, that time counts, but no less than four weeks.
func WeeklyUse(taken int64, since, today string) float64 {
	weeks := min(UseWeeks, max(4, float64(DaysBetween(since, today))/7))
	return max(0, float64(taken)/weeks)
}

// Reorder is when a material must be ordered.
type Reorder struct {
	Weekly float64 // base units a week
	Point  int64   // order when no more than this is free
	By     string  // local day; empty where nothing is used
	Buy    int64   // how much, before packs
}

// CoverWeeks is how many weeks an order is to last beyond the time until it comes.
const CoverWeeks = 8

// ReorderOf works out when and how much: the order point is weekly use × weeks until it comes, and the
// reserve on top. What plans are short of is wanted now.
func ReorderOf(b Balance, weekly float64, leadDays, safetyDays int, today string) Reorder {
	r := Reorder{Weekly: weekly, Point: int64(weekly*float64(leadDays+safetyDays)/7 + 0.5)}
	if b.Free() < 0 {
		r.By = today
		r.Buy = -b.Free() + int64(weekly*CoverWeeks+0.5)
		return r
	}
	if weekly <= 0 {
		return r
	}
	days := int(float64(b.Free()-r.Point) / weekly * 7)
	r.By = AddDays(today, max(0, days))
	if days <= 0 {
		r.Buy = max(0, r.Point+int64(weekly*CoverWeeks+0.5)-b.Free())
	}
	return r
}

// Packs is how an amount is bought: so many of an offer.
type Packs struct {
	Offer Offer
	Count int
}

// Amount is what comes.
func (p Packs) Amount() int64 { return int64(p.Count) * p.Offer.Amount }

// Cost is what it costs by the offer, in minor units; false when that has no price.
func (p Packs) Cost() (int64, bool) { return int64(p.Count) * p.Offer.Price, p.Offer.Price >= 0 }

// Cheapest picks the offer that covers an amount for the least money in whole packs; offers without a
// price come after those with one, and among them the one that leaves the least over.
func Cheapest(offers []Offer, amount int64) (Packs, bool) {
	if amount <= 0 || len(offers) == 0 {
		return Packs{}, false
	}
	all := make([]Packs, 0, len(offers))
	for _, o := range offers {
		if o.Amount > 0 {
			all = append(all, Packs{o, int((amount + o.Amount - 1) / o.Amount)})
		}
	}
	if len(all) == 0 {
		return Packs{}, false
	}
	slices.SortStableFunc(all, func(a, b Packs) int {
		ca, oka := a.Cost()
		cb, okb := b.Cost()
		switch {
		case oka && !okb:
			return -1
		case okb && !oka:
			return 1
		case oka && ca != cb:
			return cmp.Compare(ca, cb)
		}
		return cmp.Compare(a.Amount(), b.Amount())
	})
	return all[0], true
}
