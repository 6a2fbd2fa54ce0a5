// Package liquid knows the liquids of a recipe: water, milks, beer, brine.
//
// Only the water in a liquid dissolves lye, so milk (87 % water) carries less
// lye than its weight suggests. A milk also brings fat of its own, which takes
// part in the soap and raises the superfat.
package liquid

import (
	_ "embed"
	"sync"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/table"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

//go:embed liquids.csv
var liquidsCSV string

// Liquid is one liquid and its typical composition in percent by weight.
type Liquid struct {
	Slug   string
	Name   string
	Water  float64
	Fat    float64
	FatSAP float64 // mg KOH per g of the liquid's own fat
	Lye    float64 // g of sodium hydroxide that the acid in a gram of it takes up
	// Plain is true of water in any form: a lye stock, which brings water of
	// its own, can take its place.
	Plain bool
	Note  string
	// BoilDown is how many grams to start with for each gram of a liquid that
	// is boiled down first; 0 for all others.
	BoilDown float64
}

// Slugs of liquids that rules speak of.
const (
	Ice       = "ice" // frozen water, which is always frozen
	Brine     = "brine"
	SeaWater  = "sea-water" // collected, unlike brine
	HumanMilk = "human-milk"
)

var reference = sync.OnceValue(func() []Liquid {
	rows := table.Read(liquidsCSV)
	out := make([]Liquid, len(rows))
	for i, r := range rows {
		out[i] = Liquid{
			Slug: r.Text("slug"), Name: r.Text("name"), Water: r.Number("water_pct"), Fat: r.Number("fat_pct"),
			FatSAP: r.Number(
				"fat_sap",
			), Lye: r.Number("lye_g_per_g"), BoilDown: r.Number("boil_down"), Plain: r.Text("displaces_stock_water") == "1", Note: r.Text("note"),
		}
	}
	return out
})

// Reference returns the reference liquids in the order of the table. The slice
// must not be changed.
func Reference() []Liquid { return reference() }

// marks are those of the table, by slug.
var marks = sync.OnceValue(func() map[string]material.Mark {
	out := map[string]material.Mark{}
	for _, r := range table.Read(liquidsCSV) {
		out[r.Text("slug")] = material.ReadMark(r.Text("mark"))
	}
	return out
})

// labelled are the names of the table on a label, by slug.
var labelled = sync.OnceValue(func() map[string]string {
	out := map[string]string{}
	for _, r := range table.Read(liquidsCSV) {
		out[r.Text("slug")] = r.Text("inci")
	}
	return out
})

// INCI is what the liquid is called on a label; its own name where the table has none.
func (l Liquid) INCI() string {
	if name := labelled()[l.Slug]; name != "" {
		return name
	}
	return l.Name
}

// madeUp is what the table says of the solids, by slug.
var madeUp = sync.OnceValue(func() map[string]material.Composition {
	out := map[string]material.Composition{}
	for _, r := range table.Read(liquidsCSV) {
		out[r.Text("slug")] = material.Composition{Salt: r.Number("salt_pct"), Sugar: r.Number("sugar_pct"), Protein: r.Number("protein_pct")}
	}
	return out
})

// Composition is what the liquid brings into a soap: water, fat and acid as they are said, the
// rest as the table has it. A brine that is stronger than the table's is so by its salt.
func (l Liquid) Composition() material.Composition {
	c := madeUp()[l.Slug]
	c.Water, c.Fat, c.FatSAP, c.Lye = l.Water, l.Fat, l.FatSAP, l.Lye
	if l.Slug == Brine {
		c.Salt = 100 - l.Water
	}
	return c
}

// From is where the liquid comes from; what is not of the table is not known.
func (l Liquid) From() material.Mark { return marks()[l.Slug] }

// BySlug finds a reference liquid.
func BySlug(slug string) (Liquid, bool) {
	for _, l := range reference() {
		if l.Slug == slug {
			return l, true
		}
	}
	return Liquid{}, false
}

// Milk reports whether a liquid is an animal or plant milk, which scorches on
// hot lye and makes a softer bar at first.
func (l Liquid) Milk() bool { return l.Fat > 0 }

// Salt is how many grams of salt are in the given grams of a brine; the rest is
// water. A brine is made up to its total weight: 35 g of salt in 1000 g of sea
// strength. It is 0 for every other liquid.
func (l Liquid) Salt(grams float64) float64 {
	if l.Slug != Brine {
		return 0
	}
	return grams * l.Composition().Salt / 100
}

// Start is how many grams to start boiling down with to have the given grams.
func (l Liquid) Start(grams float64) float64 {
	if l.BoilDown <= 1 {
		return grams
	}
	return grams * l.BoilDown
}

// mostLye is more than the sourest liquid takes up, in g of sodium hydroxide a gram.
const mostLye = 0.7

// Check finds what cannot be worked with in a composition that was typed; path
// is where the liquid stands.
func (l Liquid) Check(p *caution.Problems, path string) {
	caution.WaterShare.Check(p, path+".water_percent", "the water in it", l.Water)
	caution.Share.Check(p, path+".fat_percent", "the fat in it", l.Fat)
	if l.Water+l.Fat > 100 {
		p.Add(path+".fat_percent", "water and fat together are more than the whole")
	}
	if l.Fat > 0 {
		caution.SAPValue.Check(p, path+".fat_sap_koh_mg_per_g", "the saponification value of its fat", l.FatSAP)
	}
	if !(l.Lye >= 0 && l.Lye <= mostLye) {
		p.Add(path+".lye_g_per_g", "a liquid takes up between 0 and %s g of lye a gram; vinegar of 5 %% takes 0.0333", unit.Trim(mostLye, 1))
	}
	if l.BoilDown != 0 && (l.BoilDown < 1 || l.BoilDown > 20) {
		p.Add(path+".boil_down", "start with 1 to 20 times what is wanted")
	}
}

// Water is the plain water that recipes start with.
func Water() Liquid { return reference()[0] }
