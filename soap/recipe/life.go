package recipe

import "slices"

// Life is where a recipe is between its first draft and its retirement.
type Life string

// The states. A recipe is made small before it is trusted.
const (
	Draft   Life = "draft"
	Trial   Life = "trial"  // a trial batch was made
	Tested  Life = "tested" // fit for production
	Retired Life = "retired"
)

// Lives returns the states in order.
func Lives() []Life { return []Life{Draft, Trial, Tested, Retired} }

// Valid reports whether l is one of [Lives].
func (l Life) Valid() bool { return slices.Contains(Lives(), l) }

// Words says the state as a maker would.
func (l Life) Words() string {
	switch l {
	case Trial:
		return "trial made"
	case Tested:
		return "tested"
	case Retired:
		return "retired"
	}
	return "draft"
}

// LifeOf is the state of revision number, when the newest word on the recipe
// was said of revision of. What was tested before a change is a draft again; a
// retired recipe stays retired.
func LifeOf(said Life, of, number int) Life {
	switch {
	case said == "":
		return Draft
	case said == Retired || of == number:
		return said
	}
	return Draft
}
