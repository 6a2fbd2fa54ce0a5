package additive

import (
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

// MaxOf is what a supplier's maximum counts on.
type MaxOf string

// The two ways that suppliers' papers use.
const (
	OfSoap MaxOf = "soap" // percent of the finished soap; the usual way
	OfFats MaxOf = "fats" // percent of the fats
)

// MaxOfs returns both ways, the usual one first.
func MaxOfs() []MaxOf { return []MaxOf{OfSoap, OfFats} }

// Words says the way as a supplier's paper does.
func (m MaxOf) Words() string {
	if m == OfFats {
		return "% of the fats"
	}
	return "% of the finished soap"
}

// Scent is an essential or fragrance oil of one supplier. Two with the same
// name from two suppliers are two materials: they behave differently and have
// different limits. What the supplier says and what the shop saw stand side by
// side; where the shop has seen it, that is believed.
type Scent struct {
	Name     string
	Supplier string
	Max      float64 // percent, for wash-off products; 0 when not known
	MaxOf    MaxOf
	Density  float64 // g/ml
	Stated   Behaviour
	Observed Behaviour
	Tint     string // the colour it turns the soap to

	Mark material.Mark // where it comes from, as its supplier says
}

// ScentDensity is taken in g/ml where none is given; most lie between 0.85
// and 1.05.
const ScentDensity = 0.95

// Label names the scent with its supplier.
func (s Scent) Label() string {
	if s.Supplier == "" {
		return s.Name
	}
	return s.Name + " (" + s.Supplier + ")"
}

// Behaviour is what to expect: the shop's own experience, else the supplier's
// word.
func (s Scent) Behaviour() Behaviour {
	if s.Observed != Unknown {
		return s.Observed
	}
	return s.Stated
}

// Check finds what cannot be worked with; path is where the scent stands.
func (s Scent) Check(p *caution.Problems, path string) {
	if strings.TrimSpace(s.Name) == "" {
		p.Add(path+".name", "give the scent a name")
	}
	p.Name(path+".name", s.Name)
	p.Name(path+".supplier", s.Supplier)
	if s.Max < 0 || s.Max > 100 {
		p.Add(path+".max_percent", "the supplier's maximum must lie between 0 and 100 %%")
	}
	if s.MaxOf != "" && s.MaxOf != OfSoap && s.MaxOf != OfFats {
		p.Add(path+".max_of", "the maximum counts on the soap or on the fats, not on “%s”", s.MaxOf)
	}
	if !s.Mark.Valid() {
		p.Add(path+".mark", "“%s” is no way to say where it comes from", s.Mark)
	}
	caution.AdditiveDensity.Check(p, path+".density_g_per_ml", "the density", s.Density)
	for name, b := range map[string]Behaviour{"stated": s.Stated, "observed": s.Observed} {
		if !b.Valid() {
			p.Add(path+"."+name, "“%s” is not a way that a scent behaves", b)
		}
	}
}

// ScentPart is a scent's share of a blend, in percent by weight.
type ScentPart struct {
	Scent
	Percent float64
}

// Perfume is the scent of a recipe: one scent, or a blend of parts that come to
// 100 %, at a rate in percent of the fats, or a fixed weight in every batch. A blend that
// stands mixed ahead is weighed as the one bottle that it is.
type Perfume struct {
	Rate   float64 // percent of fats
	Grams  float64 // of every batch, in place of the rate; 0 for the rate
	Bottle string  // name that the blend stands mixed under; empty where its parts are weighed one by one
	Stage  Stage
	Parts  []ScentPart
	// Portions are the colour portions that it is stirred into on their own, in this order, each by
	// its own weight of fats; none where it goes into the whole batter at its stage.
	Portions []string
	OverMax  string // why it goes above a supplier's maximum
}

// ScentStages are the moments a scent can go in, the usual one first. A
// well-behaved one may go into the fats, where it cannot be forgotten.
func ScentStages() []Stage { return []Stage{Trace, InFats, Emulsion, AfterCook} }

// Check finds what cannot be worked with; path is where the perfume stands.
func (s Perfume) Check(p *caution.Problems, path string) {
	if len(s.Parts) == 0 {
		p.Add(path, "name the scent, or the parts of its blend")
		return
	}
	if s.Grams != 0 {
		if !(s.Grams > 0) || s.Grams > 1e5 {
			p.Add(path+".rate_percent_of_fats", "the scent is %s g; a batch takes more than nothing of it", unit.Trim(s.Grams, 2))
		}
	} else if !(s.Rate > 0) || s.Rate > 20 {
		p.Add(
			path+".rate_percent_of_fats",
			"the scent is %s %% of the fats; it must be more than 0 and at most 20 %%",
			unit.Trim(s.Rate, 2),
		)
	}
	ok := false
	for _, stage := range ScentStages() {
		ok = ok || stage == s.Stage
	}
	if !ok {
		p.Add(path+".stage", "a scent goes into the fats, in at emulsion, at trace, or after the cook")
	}
	shares := make([]float64, len(s.Parts))
	for i, part := range s.Parts {
		at := fmt.Sprintf("%s.parts[%d]", path, i)
		part.Scent.Check(p, at)
		caution.Share.Check(p, at+".percent", "the part", part.Percent)
		shares[i] = part.Percent
	}
	caution.Sum(p, path+".parts", "parts of the scent", shares)
}

// Live is the perfume with what is known now of its parts, found by their labels: the
// supplier's limits and what the shop has seen belong to the material, not to the
// recipe that once wrote them down.
func (s Perfume) Live(known func(label string) (Scent, bool)) Perfume {
	s.Parts = slices.Clone(s.Parts)
	for i, part := range s.Parts {
		if now, ok := known(part.Label()); ok {
			s.Parts[i].Scent = now
		}
	}
	return s
}

// Uses are the parts as additives, or the bottle they are mixed in.
func (s Perfume) Uses() []Use {
	basis, rate := PercentOfFats, s.Rate
	if s.Grams > 0 {
		basis, rate = GramsPerBatch, s.Grams
	}
	if s.Bottle != "" {
		return []Use{{Name: s.Bottle, Stage: s.Stage, Basis: basis, Rate: rate, Density: s.density(), Behaviour: s.behaviour(), Scent: true}}
	}
	out := make([]Use, len(s.Parts))
	for i, part := range s.Parts {
		out[i] = Use{
			Name:      part.Label(),
			Stage:     s.Stage,
			Basis:     basis,
			Rate:      rate * part.Percent / 100,
			Density:   part.Density,
			Behaviour: part.Behaviour(),
			Mark:      part.Mark,
			Scent:     true,
		}
	}
	return out
}

// density is that of the parts mixed, in g/ml.
func (s Perfume) density() float64 {
	ml := 0.0 // of 100 g
	for _, part := range s.Parts {
		ml += part.Percent / part.Density
	}
	if ml <= 0 {
		return ScentDensity
	}
	return 100 / ml
}

// behaviour is how the parts behave together: as the hastiest of them, and not known where one is
// not.
func (s Perfume) behaviour() (out Behaviour) {
	for i, part := range s.Parts {
		b := part.Behaviour()
		if b.Fast() {
			return b
		}
		if i == 0 || b == Unknown {
			out = b
		}
	}
	return out
}

// share is the scent in percent of a weight of fats.
func (s Perfume) share(fats float64) float64 {
	if s.Grams > 0 {
		return 100 * s.Grams / fats
	}
	return s.Rate
}

// Advise judges the scent for a batch in which soap grams stay for good (fats,
// alkali and whatever does not dry away) on fats grams of fats. A supplier's
// maximum counts on the finished soap; the driest it can ever get is the strict
// way to count. strength is the lye's, in percent.
func (s Perfume) Advise(fats, soap, strength float64) []caution.Caution {
	var out []caution.Caution
	for _, part := range s.Parts {
		grams := fats * s.share(fats) / 100 * part.Percent / 100
		whole, of := soap, "of the finished soap"
		if part.MaxOf == OfFats {
			whole, of = fats, "of the fats"
		}
		share := 100 * grams / whole
		switch {
		case part.Max == 0:
			out = append(out, caution.Caution{Code: "scent.no-maximum", Level: caution.Advice,
				Reason: "No maximum is noted for " + part.Label() +
					".", Remedy: "Ask the supplier for the limit in wash-off products and note it with the scent."})
		case share > part.Max*(1+1e-9):
			c := caution.Caution{Code: "scent.maximum", Level: caution.Block,
				Reason: fmt.Sprintf(
					"%s comes to %s %% %s; its supplier's maximum is %s %%.",
					part.Label(),
					unit.Trim(share, 2),
					of,
					unit.Trim(part.Max, 2),
				),
				Remedy: fmt.Sprintf(
					"Use at most %s %% of the fats of this scent, or write down why it may be more.",
					unit.Trim(s.share(fats)*part.Max/share-0.005, 2),
				)}
			if s.OverMax != "" {
				c.Level, c.Remedy = caution.Warn, "Reason given: "+s.OverMax
			}
			out = append(out, c)
		}
		if part.Observed != Unknown && part.Stated != Unknown && part.Observed != part.Stated {
			out = append(out, caution.Caution{Code: "scent.word", Level: caution.Advice,
				Reason: fmt.Sprintf(
					"%s: its supplier says it %s; here it %s.",
					part.Label(),
					part.Stated.Verb(),
					part.Observed.Verb(),
				), Remedy: "The shop's own experience is what counts here."})
		}
		if part.Behaviour().Fast() && strength >= StrongLye {
			out = append(out, caution.Caution{Code: "scent.strong-lye", Level: caution.Warn,
				Reason: fmt.Sprintf(
					"%s %s, and the lye is strong (%s %%): there will be little time.",
					part.Label(),
					part.Behaviour().Verb(),
					unit.Trim(strength, 1),
				),
				Remedy: "Use more liquid (30 % lye or less), work cooler, add the scent last and by hand, in a smaller batch."})
		}
	}
	return out
}

// StrongLye is the lye strength in percent from which an accelerating scent
// leaves too little time.
const StrongLye = 33
