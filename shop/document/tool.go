package document

import (
	"ashshelf/soap/caution"
)

// ToolKind is what a piece of equipment does.
type ToolKind string

// The kinds.
const (
	Pot    ToolKind = "pot"
	Jug    ToolKind = "jug"
	Cooker ToolKind = "cooker"
	Cutter ToolKind = "cutter"
)

// ToolKinds returns all kinds.
func ToolKinds() []ToolKind { return []ToolKind{Pot, Jug, Cooker, Cutter} }

// Words says the kind.
func (k ToolKind) Words() string {
	switch k {
	case Pot:
		return "pot, to mix in"
	case Jug:
		return "lye jug"
	case Cooker:
		return "cooker, for a rescue"
	}
	return "cutter with set wires"
}

// ToolBody is what a revision of a piece of equipment says.
type ToolBody struct {
	Kind    ToolKind
	ML      float64 // to the rim
	Tare    float64 // g, empty
	Spacing float64 // between the wires of a cutter
	Wires   int
	Notes   string
	Retired bool
}

// CheckTool finds what cannot be worked with in a piece of equipment.
func CheckTool(name string, b ToolBody) caution.Problems {
	var p caution.Problems
	CheckName(&p, name)
	switch b.Kind {
	case Pot, Jug, Cooker:
		caution.Positive(&p, "ml", "what it holds to the rim", b.ML)
		if b.ML > 1e6 {
			p.Add("ml", "that is more than a cubic metre: check the unit")
		}
	case Cutter:
		caution.Positive(&p, "spacing", "the spacing of the wires", b.Spacing)
		if b.Wires < 1 || b.Wires > 200 {
			p.Add("wires", "a cutter has 1 to 200 wires")
		}
	default:
		p.Add("kind", "choose what it is")
	}
	if b.Tare < 0 || b.Tare > 1e5 {
		p.Add("tare", "an empty vessel weighs between nothing and 100 kg")
	}
	return p
}
