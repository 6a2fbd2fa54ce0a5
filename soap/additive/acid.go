package additive

import (
	_ "embed"
	"strconv"
	"strings"
	"sync"

	"ashshelf/soap/internal/table"
	"ashshelf/soap/material"
)

//go:embed acids.csv
var acidsCSV string

// molarNaOH is the molar mass of sodium hydroxide in g/mol.
const molarNaOH = 39.997

// acid is one of the table: how much sodium hydroxide it takes up.
type acid struct {
	name            string
	phrases         [][]string // of whole words, any of its names
	molar, hydrate  float64    // g/mol; hydrate is 0 where none is sold
	takes, strength float64    // protons; percent that is usually sold
	salt            string     // its name on a label once lye has neutralised it
}

var acids = sync.OnceValue(func() []acid {
	rows := table.Read(acidsCSV)
	out := make([]acid, len(rows))
	for i, r := range rows {
		a := acid{
			name:     r.Text("name"),
			molar:    r.Number("molar_g_mol"),
			hydrate:  r.Number("hydrate_g_mol"),
			takes:    r.Number("takes"),
			strength: r.Number("strength_pct"),
			salt:     r.Text("salt"),
		}
		for _, n := range append([]string{a.name}, strings.Split(r.Text("names"), ";")...) {
			if words := material.Words(n); len(words) > 0 {
				a.phrases = append(a.phrases, words)
			}
		}
		out[i] = a
	}
	return out
})

// sour are words that may mean an acid when no name of the table is there.
var sour = []string{"acid", "acids", "juice", "vinegar", "edta", "kombucha", "sauerkraut"}

// inFats are acids that are fats: they belong into the blend, which says so itself.
var inFats = []string{"stearic acid", "palmitic acid", "myristic acid", "lauric acid", "oleic acid", "fatty acid", "fatty acids"}

// Acid is what a name says of taking up lye: g of sodium hydroxide for each gram, by
// any of an acid's names as whole words, with a strength or hydrate that is in the
// name ("lactic acid 88 %", "citric acid monohydrate"). known is true also for what
// is known to take none. ask is true for a name that may be an acid's and is not
// known.
func Acid(name string) (lye float64, known, ask bool) {
	if k, ok := Find(name); ok {
		return k.Lye, true, false
	}
	words := material.Words(name)
	best, found := acidIn(words)
	if !found {
		return 0, false, material.Has(name, sour...) && !material.Has(name, inFats...)
	}
	molar := best.molar
	if best.hydrate > 0 && material.Has(name, "monohydrate", "dihydrate", "hydrate") {
		molar = best.hydrate
	}
	strength := best.strength
	if s, ok := strengthIn(words); ok {
		strength = s
	}
	return best.takes * molarNaOH / molar * strength / 100, true, false
}

// acidIn is the acid of the table with the longest of its names in some words.
func acidIn(words []string) (best acid, found bool) {
	longest := 0
	for _, a := range acids() {
		for _, p := range a.phrases {
			if len(p) > longest && material.Holds(words, p) {
				best, longest = a, len(p)
			}
		}
	}
	return best, longest > 0
}

// SaltOf is what an acid of some name is called on a label once sodium hydroxide has neutralised
// it, such as Sodium Citrate; empty for what is no acid, and for juices, which keep their name.
func SaltOf(name string) string {
	best, _ := acidIn(material.Words(name))
	return best.salt
}

// Takes is the use with what a gram of it takes up: as said, 0 included, else by its
// name, which says what it is made up of as well. A scent takes none, whatever it is called.
func (u Use) Takes(said *float64) Use {
	u.Lye, u.Neutral, u.Made = 0, false, material.Composition{}
	u = u.Composed()
	switch {
	case said != nil:
		u.Lye, u.Neutral = *said, *said == 0
	case !u.Scent && u.Behaviour == Unknown:
		u.Lye, _, _ = Acid(u.Name)
	}
	return u
}

// strengthIn is the number before a percent sign.
func strengthIn(words []string) (percent float64, ok bool) {
	for i := 1; i < len(words); i++ {
		if words[i] != "%" {
			continue
		}
		if v, err := strconv.ParseFloat(words[i-1], 64); err == nil && v > 0 && v <= 100 {
			return v, true
		}
	}
	return 0, false
}
