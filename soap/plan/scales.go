package plan

import (
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Scales are what the shop weighs on: a bench scale, and perhaps a fine one
// that only takes small weights.
type Scales struct {
	Resolution float64 // step of the bench scale in g, 0 for full precision
	FineStep   float64 // step of the fine scale in g, 0 when there is none
	FineMax    float64 // the most the fine scale takes in g, its vessel included
}

func (s Scales) check(p *caution.Problems) {
	if s.Resolution < 0 || s.Resolution > 100 {
		p.Add("resolution_g", "the step of the scale must lie between 0 and 100 g")
	}
	if s.FineStep < 0 || s.FineStep > 10 {
		p.Add("fine_step_g", "the step of the fine scale must lie between 0 and 10 g")
	}
	if s.FineMax < 0 || s.FineMax > 1e5 {
		p.Add("fine_max_g", "what the fine scale takes must lie between 0 and 100 kg")
	}
}

// fineShare is how much of what a fine scale takes is left for the weight
// itself; the rest is for the cup it stands in.
const fineShare = 0.8

// step is the step in g of the scale that suits a weight: the fine one as long
// as it takes it, else the bench scale.
func (s Scales) step(grams float64) float64 {
	if s.FineStep > 0 && s.Resolution > 0 && s.FineStep < s.Resolution && grams <= s.FineMax*fineShare {
		return s.FineStep
	}
	return s.Resolution
}

// nearest rounds a weight to its scale.
func (s Scales) nearest(grams float64) float64 {
	step := s.step(grams)
	if step == 0 {
		return grams
	}
	// Rounded once more in decimal, so that 0.1 g steps give 12.3, not 12.299999.
	return math.Round(math.Round(grams/step)*step*1e6) / 1e6
}

// useUp keeps the ingredient that is to be used up from being rounded past what
// there is: of one pot it is taken to its last gram, of several pots the step
// below.
func (r Request) useUp(a *recipe.Amounts, pots int) {
	in := r.Target.Ingredient
	if in == nil {
		return
	}
	each := in.Grams / float64(pots)
	if step := r.step(each); pots > 1 && step > 0 {
		each = math.Floor(each/step+1e-9) * step
	}
	set := func(key string, g, total *float64) bool {
		if key != in.Name {
			return false
		}
		if total != nil {
			*total += each - *g
		}
		*g = each
		return true
	}
	for i, s := range r.Formula.Fats {
		if set(s.Fat.Key(), &a.Fats[i], &a.FatsTotal) {
			return
		}
	}
	for i, l := range r.Formula.Liquids {
		if set(l.Liquid.Slug, &a.Liquids[i], &a.Liquid) {
			return
		}
	}
	for i, u := range r.Formula.Uses() {
		if set(u.Key(), &a.Additives[i], nil) {
			return
		}
	}
}

// Rescaled is one pot made larger or smaller by a factor, with its weigh sheet.
// What a recipe fixes per batch stays as it is. The error is of type
// [caution.Problems], such as when the pot would run over.
func (r Request) Rescaled(pot Plan, factor float64) (Plan, []Section, error) {
	r.Target, r.Scraps, r.PotCapacity = Target{FatsG: pot.FatsG * factor}, nil, 0
	room := r.Vessels.Pot.ML * brim
	r.Vessels.Pot.ML, r.Vessels.Jug.ML = 0, 0
	p, err := Make(r)
	if err != nil {
		return Plan{}, nil, err
	}
	p.ScrapsG, p.ScrapsML = pot.ScrapsG, pot.ScrapsML // they are there, whatever the rest is made to
	p.VolumeML += p.ScrapsML
	if room > 0 && p.VolumeML > room {
		var problems caution.Problems
		problems.Add(
			"factor",
			"rescaled, it is %s ml, which the pot does not hold with room to stir: scoop back instead",
			unit.Trim(p.VolumeML, 0),
		)
		return Plan{}, nil, problems
	}
	return p, Sheet(r, p), nil
}

// brim is the share of a pot that a rescaled batch may fill, once it is under
// way: more than is planned with, less than runs over at the blender.
const brim = 0.9
