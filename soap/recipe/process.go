package recipe

import (
	"fmt"
	"math"
	"slices"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
)

// Kind is the process a soap is made by.
type Kind string

// The processes.
const (
	Cold     Kind = "cold"
	Oven     Kind = "oven"
	Cooked   Kind = "cooked"
	Rebatch  Kind = "rebatch"
	SaltBar  Kind = "salt-bar"
	BrineBar Kind = "brine-bar"
	AllOlive Kind = "all-olive"
	Shave    Kind = "shave"
	Confetti Kind = "confetti"
)

var kindWords = map[Kind]string{
	Cold: "cold process", Oven: "cold process, helped by the oven", Cooked: "hot process (cooked)", Rebatch: "rebatch",
	SaltBar: "salt bars", BrineBar: "brine bars", AllOlive: "all-olive", Shave: "shave soap in jars",
	Confetti: "confetti, with fresh scraps",
}

// Kinds returns the processes, the usual one first.
func Kinds() []Kind {
	return []Kind{Cold, Oven, Cooked, SaltBar, BrineBar, AllOlive, Shave, Confetti, Rebatch}
}

// Words says the process.
func (k Kind) Words() string { return kindWords[k] }

// Trace is how thick the batter is when it is poured.
type Trace string

// Traces returns the traces from thin to thick.
func Traces() []Trace { return []Trace{"emulsion", "light", "medium", "thick"} }

// Words says the trace.
func (t Trace) Words() string { return string(t) }

// Gel is what is wished of the gel phase.
type Gel string

// Gels returns the wishes, the undecided first.
func Gels() []Gel { return []Gel{"allow", "force", "avoid"} }

// Words says the wish.
func (g Gel) Words() string {
	switch g {
	case "force":
		return "gel it: brighter colours, sooner out"
	case "avoid":
		return "keep it from gelling: paler, for milk and fine tops"
	}
	return "let it gel or not"
}

// Cover is what happens to the mold after the pour.
type Cover string

// Covers returns the ways.
func Covers() []Cover { return []Cover{"leave", "insulate", "oven", "chill"} }

// Words says the way.
func (c Cover) Words() string {
	switch c {
	case "insulate":
		return "insulate with towels"
	case "oven":
		return "lowest oven, switched off, overnight"
	case "chill":
		return "into the cold"
	}
	return "leave it open"
}

// Process is how a recipe is meant to be made. Everything may be left open.
type Process struct {
	Kind     Kind
	LyeC     float64 // °C wished at combining, 0 for the school's
	FatsC    float64 // °C
	Trace    Trace
	Gel      Gel
	Cover    Cover
	Material string  // what the mold is meant to be made of
	Opens    float64 // h after the pour; 0 for what the rules say
	Closes   float64 // h after the pour
}

// Cooks reports whether the batter is cooked, which finishes its chemistry.
func (pr Process) Cooks() bool { return pr.Kind == Cooked || pr.Kind == Rebatch }

func (pr Process) check(p *caution.Problems) {
	word := func(ok bool, field, what, value string) {
		if !ok && value != "" {
			p.Add("process."+field, "“%s” is not %s", value, what)
		}
	}
	word(kindWords[pr.Kind] != "", "kind", "a process", string(pr.Kind))
	word(slices.Contains(Traces(), pr.Trace), "trace", "a trace", string(pr.Trace))
	word(slices.Contains(Gels(), pr.Gel), "gel", "a wish for the gel", string(pr.Gel))
	word(slices.Contains(Covers(), pr.Cover), "cover", "a way to cover", string(pr.Cover))
	caution.Temperature.Check(p, "process.lye_c", "the temperature of the lye", pr.LyeC)
	caution.Temperature.Check(p, "process.fats_c", "the temperature of the fats", pr.FatsC)
	if pr.Opens < 0 || pr.Opens > 500 {
		p.Add("process.unmold_from_h", "unmold between 0 and 500 hours after the pour")
	}
	if pr.Closes < 0 || pr.Closes > 500 || pr.Closes > 0 && pr.Closes <= pr.Opens {
		p.Add("process.unmold_until_h", "the window must close after it opens, within 500 hours")
	}
}

func (pr Process) advise() []caution.Caution {
	d := pr.LyeC - pr.FatsC
	if pr.LyeC != 0 && pr.FatsC != 0 && math.Abs(d) > lye.MostApart {
		return []caution.Caution{
			{Code: "process.apart", Level: caution.Advice, Reason: fmt.Sprintf("The lye and the fats are meant to meet more than %.0f "+
				"°C apart.", lye.MostApart),
				Remedy: fmt.Sprintf("Within about %.0f °C of each other they trace as expected, and solid fats do not set again.", lye.MostApart)},
		}
	}
	return nil
}
