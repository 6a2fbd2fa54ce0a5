package document

import (
	"ashshelf/soap/caution"
	"ashshelf/soap/mold"
)

// MoldBody is what a revision of a mold says.
type MoldBody struct {
	Mold     mold.Mold
	Material string
	Bars     int      // bars cut from one, where Cut says no thickness
	Cut      mold.Cut // as it is usually cut
	Spare    bool     // takes what is left over
	Retired  bool     // no longer planned with
	Owned    int      // how many there are; 0 where nobody said
}

// Usual is the cut the mold is usually given.
func (b MoldBody) Usual() mold.Cut {
	c := b.Cut
	if c.Thickness == 0 && c.Bars == 0 {
		c.Bars = b.Bars
	}
	return c
}

// Cuts is what the usual cut makes of it.
func (b MoldBody) Cuts() mold.Bars { return b.Mold.Cuts(b.Usual()) }

// Material is what a mold is made of; it decides when soap comes out.
type Material struct{ Code, Words string }

// Materials returns the kinds of molds.
func Materials() []Material {
	return []Material{
		{"lined", "wood, lined"},
		{"silicone", "silicone"},
		{"plastic", "plastic, lined"},
		{"cavities", "single cavities"},
		{"jar", "jars"},
	}
}

func isMaterial(code string) bool {
	for _, m := range Materials() {
		if m.Code == code {
			return true
		}
	}
	return false
}

// CheckMold finds what cannot be worked with in a mold.
func CheckMold(name string, body MoldBody) caution.Problems {
	var p caution.Problems
	CheckName(&p, name)
	body.Mold.Check(&p, "mold")
	if !isMaterial(body.Material) {
		p.Add("material", "choose what the mold is made of")
	}
	if body.Bars < 0 || body.Bars > 2000 {
		p.Add("bars", "the number of bars must lie between 0 and 2000")
	}
	if body.Owned < 0 || body.Owned > 500 {
		p.Add("owned", "say how many there are, up to 500, or leave it empty")
	}
	body.Cut.Check(&p, "cut", body.Mold)
	return p
}
