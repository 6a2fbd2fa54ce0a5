// Package additive knows what goes into a soap besides fats, lye and liquid,
// when it goes in, and how much of it.
//
// A recipe says for each additive a stage (sugar before the lye, clay into the
// fats, scent at trace) and a rate. Rates are said in many ways, by weight of
// fats or of batter or in level teaspoons per pound; all of them come out in
// grams. Acids take up lye, which the recipe's alkali makes good.
package additive

import (
	_ "embed"
	"fmt"
	"slices"
	"strings"
	"sync"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/table"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

//go:embed additives.csv
var additivesCSV string

// Basis is what a rate is counted on.
type Basis string

// The bases.
const (
	PercentOfFats   Basis = "percent-of-fats"
	GramsPerKgFats  Basis = "g-per-kg-fats"
	PercentOfBatter Basis = "percent-of-batter"
	TspPerLbFats    Basis = "tsp-per-lb-fats"
	TspPerLbBatter  Basis = "tsp-per-lb-batter"
	TbspPerLbFats   Basis = "tbsp-per-lb-fats"
	TbspPerLbBatter Basis = "tbsp-per-lb-batter"
	GramsPerBatch   Basis = "grams-per-batch"
	TspPerMold      Basis = "tsp-per-mold"
	TbspPerMold     Basis = "tbsp-per-mold"
	GramsPerMold    Basis = "grams-per-mold"
	// ByEye is stirred in until it pleases: nothing is planned, and what went in is noted at
	// the bench.
	ByEye Basis = "by-eye"
)

// Bases returns all bases, the most usual first.
func Bases() []Basis {
	return []Basis{
		PercentOfFats, GramsPerKgFats, TspPerLbFats, TbspPerLbFats, PercentOfBatter, TspPerLbBatter, TbspPerLbBatter, GramsPerBatch,
		TspPerMold, TbspPerMold, GramsPerMold, ByEye,
	}
}

var basisWords = map[Basis]string{
	PercentOfFats: "% of fats", GramsPerKgFats: "g per kg of fats", PercentOfBatter: "% of batter",
	TspPerLbFats: "tsp per lb of fats", TspPerLbBatter: "tsp per lb of batter", GramsPerBatch: "g per batch",
	TbspPerLbFats: "tbsp per lb of fats", TbspPerLbBatter: "tbsp per lb of batter",
	TspPerMold: "tsp in each mold", TbspPerMold: "tbsp in each mold", GramsPerMold: "g in each mold", ByEye: "by eye",
}

// Words says the basis as a maker would.
func (b Basis) Words() string { return basisWords[b] }

// Valid reports whether b is one of [Bases].
func (b Basis) Valid() bool { return basisWords[b] != "" }

// Spoons reports whether the rate is in level spoons, which need the additive's own
// grams per teaspoon.
func (b Basis) Spoons() bool {
	return slices.Contains([]Basis{TspPerLbFats, TspPerLbBatter, TbspPerLbFats, TbspPerLbBatter, TspPerMold, TbspPerMold}, b)
}

// teaspoonsPerTablespoon is how many level teaspoons a tablespoon holds.
const teaspoonsPerTablespoon = 3

// Use is an additive as a recipe uses it.
type Use struct {
	Name        string
	Stage       Stage
	Basis       Basis
	Rate        float64
	GramsPerTsp float64 // grams per level teaspoon
	Density     float64 // true density in g/ml
	// Lye is the sodium hydroxide in grams that a gram of the additive takes
	// up; zero for all but acids. Neutral says that the recipe itself has it take
	// none, so that nothing is asked of it.
	Lye     float64
	Neutral bool
	// Behaviour is what a scent does to the batter; empty when it is no scent
	// or not known.
	Behaviour Behaviour
	Disperse  *Dispersal
	// Mark is where it comes from, as the owner says; the table knows its own.
	Mark material.Mark
	Made material.Composition // but for the lye it takes up
	// Scent is true for the parts of a recipe's scent. It follows from where they
	// stand and is not kept.
	Scent bool
	// Portion names the colour portion whose own weight the rate counts on,
	// and Part is that portion's share of the batch, 0 to 1. They follow from
	// where the additive stands in the recipe and are not kept with it.
	Portion string
	Part    float64
	// Oil is true for the oil of its own that a powder is stirred into.
	Oil bool
	// Molds is how many molds a pot fills, for rates that count on them; 0 for one. It follows
	// from the plan and is not kept with the additive.
	Molds float64
}

// Key names the use within a recipe.
func (u Use) Key() string {
	if u.Portion != "" {
		return u.Name + ", " + u.Portion
	}
	return u.Name
}

// From is where the additive comes from: by the table, or as the owner says of what
// is not in it. What behaves in batter as scents do is one.
func (u Use) From() material.Mark {
	if u.Scent || u.Behaviour != Unknown {
		return material.Scent
	}
	if k, ok := Find(u.Name); ok && u.Mark == material.NotKnown {
		return k.Mark
	}
	return u.Mark
}

// bittern are salts of magnesium, which are no salt of a salt bar.
var bittern = []string{"epsom", "magnesium", "dead sea", "bath salt", "bath salts", "bitter salt"}

// Composition is what the additive brings into a soap: as it was made up when the recipe was
// written, and what it takes up of the lye as the recipe says. A salt by any other name is salt.
func (u Use) Composition() material.Composition {
	c := u.Made
	if salt := strings.Contains(strings.ToLower(u.Name), "salt"); salt && c == (material.Composition{}) && u.Is("salt", "salts") &&
		!u.Is(bittern...) {
		c.Salt = 100
	}
	c.Lye = u.Lye
	return c
}

// Composed is the use with what the table knows of its make-up by its name, where nothing was
// written of it. What was once written stays, so that an old lot is read as it was made.
func (u Use) Composed() Use {
	if k, ok := Find(u.Name); ok && u.Made == (material.Composition{}) && !u.Scent && u.Behaviour == Unknown {
		u.Made = k.Made
	}
	return u
}

// Bittern reports whether the additive is a salt of magnesium, which curdles soap.
func (u Use) Bittern() bool { return u.Is(bittern...) }

// Is reports whether the additive's name holds one of some phrases as whole words. A
// scent is named after anything and is none of it.
func (u Use) Is(phrases ...string) bool {
	return !u.Scent && !u.Oil && u.Behaviour == Unknown && material.Has(u.Name, phrases...)
}

// Spoons is how many level teaspoons a weight of the additive is, 0 when its
// weight by the spoon is not known.
func (u Use) Spoons(grams float64) float64 {
	if u.GramsPerTsp <= 0 {
		return 0
	}
	return grams / u.GramsPerTsp
}

// mostMeasured is how many teaspoons somebody measures out; what takes more is weighed.
const mostMeasured = 12.0

// SpoonsOf says some level teaspoons; empty for none, and for more than anybody measures out.
func SpoonsOf(teaspoons float64) string {
	if teaspoons <= 0 || teaspoons > mostMeasured {
		return ""
	}
	return unit.Spoons(teaspoons)
}

// SpoonWords says a weight of the additive in level teaspoons, where a spoon would be used.
func (u Use) SpoonWords(grams float64) string { return SpoonsOf(u.Spoons(grams)) }

// Unweighed reports whether the rate is in spoons of which nobody said what one weighs.
func (u Use) Unweighed() bool { return u.Basis.Spoons() && !(u.GramsPerTsp > 0) }

// Behaviour is how a scent behaves in batter, by the shop's own experience
// where there is any, else by its supplier's word.
type Behaviour string

// The behaviours.
const (
	Unknown     Behaviour = ""
	Behaves     Behaviour = "behaves"
	Accelerates Behaviour = "accelerates"
	Seizes      Behaviour = "seizes"
	Rices       Behaviour = "rices"
	Slows       Behaviour = "slows"
	Discolours  Behaviour = "discolours"
	Tints       Behaviour = "tints"
	Fades       Behaviour = "fades"
)

// Behaviours returns all behaviours, the unknown first.
func Behaviours() []Behaviour {
	return []Behaviour{Unknown, Behaves, Accelerates, Seizes, Rices, Slows, Discolours, Tints, Fades}
}

// Words says the behaviour as a maker would.
func (b Behaviour) Words() string {
	if b == Unknown {
		return "no scent, or not known"
	}
	return string(b)
}

// Verb says the behaviour within a sentence.
func (b Behaviour) Verb() string {
	if b == Unknown {
		return "is not known"
	}
	return string(b)
}

// Valid reports whether b is one of [Behaviours].
func (b Behaviour) Valid() bool { return slices.Contains(Behaviours(), b) }

// Fast reports whether the scent leaves little time.
func (b Behaviour) Fast() bool { return b == Accelerates || b == Seizes || b == Rices }

// Grams is the weight of the additive for given weights of fats and of batter
// (fats, alkali and liquid) in one batch. In a colour portion the rate counts
// on the portion's part of both.
func (u Use) Grams(fats, batter float64) float64 {
	if u.Portion != "" {
		fats, batter = fats*u.Part, batter*u.Part
	}
	switch u.Basis {
	case PercentOfFats:
		return u.Rate / 100 * fats
	case GramsPerKgFats:
		return u.Rate / 1000 * fats
	case PercentOfBatter:
		return u.Rate / 100 * batter
	case TspPerLbFats:
		return u.Rate * u.GramsPerTsp * fats / unit.GramsPerPound
	case TspPerLbBatter:
		return u.Rate * u.GramsPerTsp * batter / unit.GramsPerPound
	case TbspPerLbFats:
		return teaspoonsPerTablespoon * u.Rate * u.GramsPerTsp * fats / unit.GramsPerPound
	case TbspPerLbBatter:
		return teaspoonsPerTablespoon * u.Rate * u.GramsPerTsp * batter / unit.GramsPerPound
	case TspPerMold:
		return u.Rate * u.GramsPerTsp * u.molds()
	case TbspPerMold:
		return teaspoonsPerTablespoon * u.Rate * u.GramsPerTsp * u.molds()
	case GramsPerMold:
		return u.Rate * u.molds()
	case ByEye:
		return 0
	default: // GramsPerBatch
		return u.Rate
	}
}

func (u Use) molds() float64 {
	if u.Molds > 0 {
		return u.Molds
	}
	return 1
}

// Check finds what cannot be worked with; path is where the additive stands.
func (u Use) Check(p *caution.Problems, path string) {
	if !u.Stage.Valid() {
		p.Add(path+".stage", "“%s” is not a stage", u.Stage)
	}
	if !u.Basis.Valid() {
		p.Add(path+".rate.basis", "“%s” is not a way to give a rate", u.Basis)
	}
	if !(u.Rate >= 0) || u.Rate > 1e6 {
		p.Add(path+".rate.value", "the rate %s cannot be used", unit.Trim(u.Rate, 3))
	}
	if into := u.Stage.Into(); u.Basis == ByEye && into != TheBatter && into != TheTrace && into != APortion {
		p.Add(path+".rate.basis", "by eye goes what is stirred in at emulsion, at trace or into a portion")
	}
	if u.Unweighed() {
		p.Add(path+".rate.grams_per_tsp", "say how many grams a level teaspoon of %s weighs", u.Name)
	}
	if u.Basis == PercentOfBatter && u.Rate > 100 {
		p.Add(path+".rate.value", "%s %% of the batter is more than the batter", unit.Trim(u.Rate, 1))
	}
	if !u.Behaviour.Valid() {
		p.Add(path+".behaviour", "“%s” is not a way that a scent behaves", u.Behaviour)
	}
	if !u.Mark.Valid() {
		p.Add(path+".mark", "“%s” is no way to say where it comes from", u.Mark)
	}
	caution.AdditiveDensity.Check(p, path+".density_g_per_ml", "the density", u.Density)
	u.checkDispersal(p, path)
}

// Known is an additive of the reference table: where it usually goes and what
// a teaspoon of it weighs, as a start for a recipe's own figures.
type Known struct {
	Slug, Name, Usual, Note string
	Stage                   Stage
	Density, GramsPerTsp    float64
	Lye                     float64
	Dissolves               float64 // g in 100 g of water at 20 °C, 0 for what does not or always does
	Mark                    material.Mark
	Names                   []string // as people say it
	INCI, ColourIndex       string   // its name on a label, and its number as a colour; empty for none
	Made                    material.Composition
}

// UsualStage is when it goes into a soap of one colour; what colours a portion
// goes straight into the fats there. What is not known goes in at trace.
func (k Known) UsualStage() Stage {
	switch k.Stage {
	case "":
		return Trace
	case Portion:
		return InFats
	}
	return k.Stage
}

var reference = sync.OnceValue(func() []Known {
	rows := table.Read(additivesCSV)
	out := make([]Known, len(rows))
	for i, r := range rows {
		out[i] = Known{
			Slug: r.Text("slug"), Name: r.Text("name"), Usual: r.Text("usual_rate"), Note: r.Text("note"),
			Stage: Stage(r.Text("stage")), Density: r.Number("density_g_ml"), GramsPerTsp: r.Number("g_per_tsp"),
			Lye: r.Number("lye_g_per_g"), Dissolves: r.Number("dissolves_g_per_100g"), Mark: material.ReadMark(r.Text("mark")),
			INCI: r.Text("inci"), ColourIndex: r.Text("ci"),
			Made: material.Composition{Water: r.Number("water_pct"), Fat: r.Number("fat_pct"), FatSAP: r.Number("fat_sap"),
				Salt: r.Number("salt_pct"), Sugar: r.Number("sugar_pct"), Protein: r.Number("protein_pct")},
		}
		for name := range strings.SplitSeq(r.Text("names"), ";") {
			if name != "" {
				out[i].Names = append(out[i].Names, name)
			}
		}
	}
	return out
})

// Reference returns the reference additives in the order of the table. The
// slice must not be changed.
func Reference() []Known { return reference() }

// Find looks a reference additive up by its slug, its name or how people say it, in large or
// small letters.
func Find(key string) (Known, bool) {
	k, ok := byName()[strings.ToLower(strings.TrimSpace(key))]
	return k, ok
}

// byName are the additives of the table by all that they are called, in small letters.
var byName = sync.OnceValue(func() map[string]Known {
	out := map[string]Known{}
	for _, k := range reference() {
		for _, name := range append([]string{k.Slug, k.Name}, k.Names...) {
			if name = strings.ToLower(name); out[name].Slug == "" {
				out[name] = k
			}
		}
	}
	return out
})

// UsualDensity is the density in g/ml of what has such a name, and that of water for what is
// not known.
func UsualDensity(name string) float64 {
	if k, ok := Find(name); ok && k.Density > 0 {
		return k.Density
	}
	return 1
}

// Describe names a use in one line, such as "2 % of fats, at trace".
func (u Use) Describe() string {
	return fmt.Sprintf("%s %s, %s", unit.Trim(u.Rate, 3), u.Basis.Words(), u.Stage.Words())
}
