package plan

import (
	"math"

	"ashshelf/soap/additive"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// InPot is what stands in the pot when all is stirred in, in g: fats, lye and liquid with the
// scraps and every additive but what goes on top. It is the one sum that is called the pot's.
func (p Plan) InPot() float64 {
	sum := p.BatterG + p.ScrapsG
	for _, a := range p.Additives {
		if a.Stage.Into() != additive.TheTop {
			sum += a.Grams
		}
	}
	return sum
}

// PortionSize is how much batter a colour portion is.
type PortionSize struct {
	recipe.Portion
	Grams, ML float64 // to split off
	With      float64 // g, with its own colours and scraps stirred in
}

// Title names the portion with what to split off, by scale or by bucket.
func (p PortionSize) Title() string {
	return "Portion “" + p.Name + "”: " + unit.Fixed(p.Grams, 0) + " g, about " + unit.Fixed(p.ML, 0) + " ml"
}

// PortionsOf sizes the colour portions of one pot: shares of what is in it then, which is all
// that is stirred into the pot. What goes into a portion alone comes after the split, and what
// goes on top last.
func PortionsOf(f recipe.Formula, pot Plan) []PortionSize {
	weight, volume := pot.BatterG, pot.BatterG/pot.Density
	uses := f.Uses()
	for i, u := range uses {
		if u.Stage.BeforeSplit() {
			weight += pot.Additives[i].Grams
			volume += pot.Additives[i].Grams / u.Density
		}
	}
	own := false // a portion takes the scraps
	for _, p := range f.Portions {
		own = own || p.Scraps
	}
	if !own {
		weight, volume = weight+pot.ScrapsG, volume+pot.ScrapsML
	}
	var out []PortionSize
	for _, p := range f.Portions {
		one := PortionSize{Portion: p, Grams: weight * p.Percent / 100, ML: volume * p.Percent / 100}
		one.With = one.Grams
		for i, u := range uses {
			if u.Portion == p.Name {
				one.With += pot.Additives[i].Grams
			}
		}
		if p.Scraps {
			one.With += pot.ScrapsG
		}
		out = append(out, one)
	}
	return out
}

// Reaches is the share of the pot that reaches the molds, 0 to 1.
func (r Request) Reaches() float64 { return 1 - r.PotLoss/100 }

// PourSize is what one pouring takes.
type PourSize struct{ Grams, ML float64 }

// Words says the size; empty for what pours nothing.
func (s PourSize) Words() string {
	if s.Grams < 0.5 {
		return ""
	}
	return unit.Fixed(s.Grams, 0) + " g, about " + unit.Fixed(s.ML, 0) + " ml"
}

// DesignPours is what each step of the design pours of one pot, or drops from one portion into
// another, parallel to [recipe.Formula.DesignSteps]; nothing for steps that move nothing. reaches
// is the share of the pot that reaches the molds, 0 to 1.
func DesignPours(f recipe.Formula, pot Plan, reaches float64) []PourSize {
	whole := map[string]PourSize{"": {pot.InPot(), pot.potML(f)}}
	share := map[string]float64{"": 1}
	for _, p := range PortionsOf(f, pot) {
		whole[p.Name] = PourSize{p.With, p.ML * p.With / math.Max(p.Grams, 1e-9)}
		share[p.Name] = p.Percent / 100
	}
	steps := f.DesignSteps()
	out := make([]PourSize, len(steps))
	for i, taken := range f.Takings() {
		k := 1.0 // of what changes pots all arrives
		if steps[i].Do.Pours() {
			k = reaches
		}
		for name, percent := range taken {
			if of := share[name]; of > 0 {
				out[i].Grams += k * percent / 100 / of * whole[name].Grams
				out[i].ML += k * percent / 100 / of * whole[name].ML
			}
		}
	}
	return out
}

// potML is the volume of what stands in the pot in ml.
func (p Plan) potML(f recipe.Formula) float64 {
	ml := p.VolumeML
	for i, u := range f.Uses() {
		if u.Stage.Into() == additive.TheTop {
			ml -= p.Additives[i].Grams / u.Density
		}
	}
	return ml
}

// MoldPours is what goes into one mold of each kind of a pot, by what they hold in ml: shares of what
// reaches the molds, and no more than fills them.
func MoldPours(f recipe.Formula, pot Plan, reaches float64, holds []float64, counts []int) []PourSize {
	all := 0.0
	for i, ml := range holds {
		all += ml * float64(counts[i])
	}
	out := make([]PourSize, len(holds))
	ml := pot.potML(f)
	if all <= 0 || ml <= 0 {
		return out
	}
	full := math.Min(1, reaches*ml/all)
	for i, v := range holds {
		out[i] = PourSize{full * v * pot.InPot() / ml, full * v}
	}
	return out
}
