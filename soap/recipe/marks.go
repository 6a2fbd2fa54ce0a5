package recipe

import (
	"ashshelf/soap/additive"
	"ashshelf/soap/material"
)

// Mark is something a soap may be called when its materials allow it. It is
// lost by a substitution, so it is worked out and never ticked.
type Mark struct {
	Name  string
	Holds bool
	Ask   bool     // nothing is against it, but something is not known
	Why   []string // what stands against it, or what to ask about
}

// Unscented is the mark of a soap that nothing was put into for its smell.
const Unscented = "unscented"

// Marks works out what the soap may be called, from the marks of its materials: one
// that is of animals, of palm or a scent stands against a name; one that is not
// known makes it a question.
func (f Formula) Marks() []Mark {
	vegan, palm, plain := Mark{Name: "vegan"}, Mark{Name: "palm-free"}, Mark{Name: Unscented}
	against := func(m *Mark, what string) { m.Why = append(m.Why, what) }
	var unknown []string
	see := func(name string, from material.Mark) {
		switch from {
		case material.Animal:
			against(&vegan, name)
		case material.Palm:
			against(&palm, name)
		case material.Scent:
			against(&plain, name)
		case material.NotKnown:
			unknown = append(unknown, "where "+name+" comes from")
		}
	}
	for _, s := range f.Fats {
		if s.Percent > 0 {
			see(s.Fat.Name, s.Fat.From())
		}
	}
	for _, l := range f.Liquids {
		if l.Percent > 0 {
			see(l.Liquid.Name, l.Liquid.From())
		}
	}
	for _, u := range f.Uses() {
		see(u.Name, u.From())
		if u.From() == material.Scent { // of which it is a second question where it comes from
			see(u.Name, u.Mark)
		}
	}
	if f.Scent != nil {
		plain.Why = []string{"the scent"}
	}
	out := []Mark{vegan, palm, plain}
	for i := range out {
		m := &out[i]
		switch {
		case len(m.Why) > 0:
		case m.Name != plain.Name && len(unknown) > 0:
			m.Ask, m.Why = true, unknown
		case m.Name == plain.Name && f.askScent() != "":
			m.Ask, m.Why = true, []string{"whether " + f.askScent() + " smells"}
		default:
			m.Holds = true
		}
	}
	return out
}

// askScent names an additive that may be a scent: one of the owner's own of which
// nothing is known.
func (f Formula) askScent() string {
	for _, u := range f.Additives {
		if _, known := additive.Find(u.Name); !known && u.From() == material.NotKnown {
			return u.Name
		}
	}
	return ""
}

// Live is the formula with what the shop knows now of its scents.
func (f Formula) Live(known func(label string) (additive.Scent, bool)) Formula {
	if f.Scent != nil {
		now := f.Scent.Live(known)
		f.Scent = &now
	}
	return f
}
