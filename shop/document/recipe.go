package document

import (
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/recipe"
)

// RecipeBody is what a revision of a recipe says.
type RecipeBody struct {
	Formula recipe.Formula
	Policy  string // code of the cure policy; empty for the recommended one
	Notes   string
	Tags    []string
	// SizeG is the weight of fats in g that it was written for and opens at; 0 for none.
	SizeG float64
	// InWeights says that its shares were typed as weights of that size, and are shown so.
	InWeights bool
}

// Cure is the policy that lots of this recipe follow.
func (b RecipeBody) Cure() cure.Policy {
	if p, ok := cure.PolicyByCode(b.Policy); ok {
		return p
	}
	return cure.Recommend(b.Formula)
}

// CheckName finds what is wrong with the name of anything.
func CheckName(p *caution.Problems, name string) {
	if n := strings.TrimSpace(name); n == "" {
		p.Add("name", "give it a name")
	} else {
		p.Name("name", n)
	}
}

// Check finds what cannot be worked with in a recipe.
func (b RecipeBody) Check() caution.Problems {
	p := b.Formula.Check()
	CheckName(&p, b.Formula.Name)
	if _, ok := cure.PolicyByCode(b.Policy); !ok && b.Policy != "" {
		p.Add("policy", "choose a cure policy")
	}
	if m := b.Formula.Process.Material; m != "" && !isMaterial(m) {
		p.Add("process.mold", "choose what the mold is made of")
	}
	if b.SizeG != 0 && !(b.SizeG > 0 && b.SizeG <= 1e6) {
		p.Add("size", "give a weight of fats above zero, and below a tonne")
	}
	for _, t := range b.Tags {
		if len(t) > 40 {
			p.Add("tags", "keep each tag under 40 letters")
		}
	}
	return p
}
