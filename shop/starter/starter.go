// Package starter is the first ten minutes of a shop: a bench to begin with, and what comes next until
// the first bars are released.
//
// The bench is two everyday molds and three sound recipes of our own, made through the same use cases
// as anything else. They are drafts: sound by the rules, and untested here, so that the first lot of
// each is a trial.
package starter

import (
	"context"
	"fmt"
	"time"

	"ashshelf/shop"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Note stands on each recipe of the bench.
const Note = "Of the starter bench: sound by the rules, and untested here. Make one loaf of it as a trial, and wash " +
	"with it yourself, before you sell any."

// share is a fat of a recipe and its percentage.
type share struct {
	slug    string
	percent float64
}

// recipes of the bench. None needs palm, none is scented, and each works with what a grocer and a
// supplier of soap makers have.
var recipes = []struct {
	name     string
	superfat float64
	strength float64 // percent of lye in lye and liquid
	fats     []share
}{
	{"Weekday bar", 5, 33, []share{{"olive-oil", 50}, {"coconut-oil", 25}, {"shea-butter", 20}, {"castor-oil", 5}}},
	{"Workshop bar", 5, 33, []share{{"beef-tallow", 45}, {"olive-oil", 30}, {"coconut-oil", 20}, {"castor-oil", 5}}},
	{"Slow Sunday bar", 6, 35, []share{{"olive-oil", 80}, {"coconut-oil", 15}, {"castor-oil", 5}}},
}

// molds of the bench: the sizes are usual ones, and are to be measured anew.
var molds = []struct {
	name string
	body document.MoldBody
}{
	{"Loaf, 25 × 8 cm", document.MoldBody{
		Mold: mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}, Material: "lined", Cut: mold.Cut{Thickness: 25},
	}},
	{"Six silicone bars", document.MoldBody{
		Mold: mold.Mold{Shape: mold.Water, WaterG: 100, Cavities: 6, Outline: "bar"}, Material: "cavities",
	}},
}

// Bench keeps the molds and recipes in a shop. The key of the act begins the key of each.
func Bench(ctx context.Context, s *shop.Shop, act journal.Act) error {
	under := func(n int) journal.Act {
		one := act
		if act.Key != "" {
			one.Key = fmt.Sprintf("%s.%d", act.Key, n)
		}
		return one
	}
	for i, m := range molds {
		if _, err := s.KeepMold(ctx, under(i), "", 0, m.name, m.body); err != nil {
			return fmt.Errorf("starter mold %s: %w", m.name, err)
		}
	}
	for i, r := range recipes {
		body := document.RecipeBody{Notes: Note, Tags: []string{"starter"}, Formula: recipe.Formula{
			Name: r.name, Superfat: r.superfat, Water: recipe.Water{Basis: recipe.LyeStrength, Value: r.strength},
			Alkali: lye.DefaultAlkali(), School: recipe.Warm,
			Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		}}
		for _, one := range r.fats {
			f, ok := fat.BySlug(one.slug)
			if !ok {
				return fmt.Errorf("starter recipe %s: no fat %s", r.name, one.slug)
			}
			body.Formula.Fats = append(body.Formula.Fats, fat.Share{Fat: f, Percent: one.percent})
		}
		if _, err := s.KeepRecipe(ctx, under(len(molds)+i), "", 0, body, "of the starter bench", ""); err != nil {
			return fmt.Errorf("starter recipe %s: %w", r.name, err)
		}
	}
	return nil
}

// Step is one of the first things that a shop does.
type Step string

// The steps from an empty shop to bars that may be sold, in their order.
const (
	Write   Step = "write"   // a recipe
	Measure Step = "measure" // a mold
	Plan    Step = "plan"    // a pour
	Make    Step = "make"
	Cut     Step = "cut"
	Cure    Step = "cure"
	Release Step = "release"
)

// Steps are all steps.
func Steps() []Step { return []Step{Write, Measure, Plan, Make, Cut, Cure, Release} }

// Way is how far a new shop is.
type Way struct {
	Next Step   // empty once bars were released
	Lot  string // identity of the lot that it is about, where there is one
	Plan string // identity of the plan that is to be made
}

// looked is how many lots of a shop that has released none are looked at.
const looked = 50

// WayOf is how far a shop is on its way to its first bars.
func WayOf(ctx context.Context, s *shop.Shop, zone *time.Location) (w Way, err error) {
	done, err := s.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Ready, lot.Gone}, Most: 1})
	if err != nil || len(done) > 0 {
		return w, err
	}
	lots, err := s.Lots(ctx, store.LotsWhere{Most: looked})
	if err != nil {
		return w, err
	}
	order := Steps()
	best := -1
	for _, l := range lots {
		step := Step("")
		switch l.Stage() {
		case lot.Making:
			step = Make
		case lot.InMold, lot.Unmolded:
			step = Cut
		case lot.Curing:
			if step = Cure; l.Gate(s.Now(zone)).MayRelease {
				step = Release
			}
		}
		for i, one := range order {
			if one == step && i > best {
				best, w = i, Way{Next: step, Lot: l.OID}
			}
		}
	}
	if best >= 0 {
		return w, nil
	}
	plans, _, err := s.OpenPlans(ctx, 1)
	if err != nil {
		return w, err
	}
	if len(plans) > 0 {
		return Way{Next: Make, Plan: plans[0].OID}, nil
	}
	molds, err := s.Molds(ctx)
	if err != nil {
		return w, err
	}
	recipes, err := s.Recipes(ctx)
	switch {
	case err != nil:
		return w, err
	case len(recipes) == 0:
		return Way{Next: Write}, nil
	case len(molds) == 0:
		return Way{Next: Measure}, nil
	}
	return Way{Next: Plan}, nil
}
