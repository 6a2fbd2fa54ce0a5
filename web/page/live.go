package page

import (
	"net/url"

	"ashshelf/soap/caution"
)

// LiveAnswer is what comes back while somebody types: the answers and, for
// every field, what is wrong with it.
type LiveAnswer struct {
	Form    *Form
	Names   []string
	Answers any
	Notice  *caution.Caution
}

func FieldNames(v url.Values) []string {
	var out []string
	for name := range v {
		out = append(out, name)
	}
	return append(out, "fats", "liquids", "scent", "scent.parts", "portions")
}
