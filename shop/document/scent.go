package document

import (
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
)

// ScentBody is what the shop knows of a scent: the supplier's word, its own
// experience, and notes of what happened at which dose, heat and liquid.
type ScentBody struct {
	Scent additive.Scent
	Notes string
}

// CheckScent finds what cannot be worked with in a scent.
func CheckScent(body ScentBody) caution.Problems {
	var p, own caution.Problems
	CheckName(&p, body.Scent.Name)
	body.Scent.Check(&own, "scent")
	for _, q := range own {
		if q.Path != "scent.name" { // said above
			p = append(p, q)
		}
	}
	return p
}
