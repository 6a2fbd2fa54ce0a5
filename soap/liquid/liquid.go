// Package liquid knows the liquids of a recipe: water, milks, beer, brine.
//
// Only the water in a liquid dissolves lye, so milk (87 % water) carries less
// lye than its weight suggests. A milk also brings fat of its own, which takes
// part in the soap and raises the superfat.
package liquid

import (
	_ "embed"
	"sync"

	"ashshelf/soap/internal/table"
)

//go:embed liquids.csv
var liquidsCSV string

// Liquid is one liquid and its typical composition in percent by weight.
type Liquid struct {
	Slug   string  `json:"slug"`
	Name   string  `json:"name"`
	Water  float64 `json:"water"`
	Fat    float64 `json:"fat,omitempty"`
	FatSAP float64 `json:"fat_sap,omitempty"` // mg KOH per g of the liquid's own fat
	// Plain is true of water in any form: a lye stock, which brings water of
	// its own, can take its place.
	Plain bool   `json:"plain,omitempty"`
	Note  string `json:"note,omitempty"`
}

// Ice is the slug of frozen water, which is always frozen.
const Ice = "ice"

var reference = sync.OnceValue(func() []Liquid {
	rows := table.Read(liquidsCSV)
	out := make([]Liquid, len(rows))
	for i, r := range rows {
		out[i] = Liquid{
			Slug: r.Text("slug"), Name: r.Text("name"), Water: r.Number("water_pct"), Fat: r.Number("fat_pct"),
			FatSAP: r.Number("fat_sap"), Plain: r.Text("displaces_stock_water") == "1", Note: r.Text("note"),
		}
	}
	return out
})

// Reference returns the reference liquids in the order of the table. The slice
// must not be changed.
func Reference() []Liquid { return reference() }

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

// Water is the plain water that recipes start with.
func Water() Liquid { return reference()[0] }
