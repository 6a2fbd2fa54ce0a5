// Package material is what a thing on the bench is, whatever goes into a soap: what
// words its name holds, and where it comes from.
//
// A soap may be called vegan, free of palm, or unscented when all that is in it is
// known to allow that. It follows from a mark that each material has in the tables
// or was given by the owner, never from letters inside of its name: goat milk is no
// oat milk, and palmarosa is no palm. What is not known is asked about and is no yes.
package material

import (
	"slices"
	"strings"
	"unicode"
)

// Mark says where a material comes from, as far as the names of a soap depend on it.
type Mark string

// The marks.
const (
	NotKnown Mark = ""
	None     Mark = "none"   // neither of animals nor of palm, and no scent
	Animal   Mark = "animal" // of animals
	Palm     Mark = "palm"   // of the oil palm
	Scent    Mark = "scent"
)

// Marks returns the marks that an owner can give, the unknown first.
func Marks() []Mark { return []Mark{NotKnown, None, Animal, Palm} }

// Valid reports whether m is a mark.
func (m Mark) Valid() bool { return m == Scent || slices.Contains(Marks(), m) }

// Words says the mark.
func (m Mark) Words() string {
	switch m {
	case None:
		return "neither of animals nor of palm"
	case Animal:
		return "of animals"
	case Palm:
		return "of palm"
	case Scent:
		return "a scent"
	}
	return "not known"
}

// ReadMark reads the mark of a table's row; what a table does not say is not known.
func ReadMark(text string) Mark {
	if m := Mark(text); m.Valid() {
		return m
	}
	return NotKnown
}

// Words are the words of a name in small letters; signs part them, but for the point
// or comma within a number and the percent sign after it.
func Words(name string) []string {
	runes := []rune(strings.ToLower(name))
	digit := func(i int) bool { return i >= 0 && i < len(runes) && unicode.IsDigit(runes[i]) }
	var out []string
	word := ""
	flush := func() {
		if word != "" {
			out = append(out, word)
		}
		word = ""
	}
	for i, r := range runes {
		switch {
		case r == ',' && digit(i-1) && digit(i+1):
			word += "."
		case r == '.' && digit(i-1) && digit(i+1):
			word += "."
		case r == '%':
			flush()
			out = append(out, "%")
		case digit(i) && word != "" && !digit(i-1) && !strings.HasSuffix(word, "."), unicode.IsLetter(r) && digit(i-1):
			flush()
			word += string(r)
		case unicode.IsLetter(r) || unicode.IsDigit(r):
			word += string(r)
		default:
			flush()
		}
	}
	flush()
	return out
}

// Has reports whether a name holds one of some phrases, each as whole words in a row.
func Has(name string, phrases ...string) bool {
	words := Words(name)
	for _, p := range phrases {
		if Holds(words, Words(p)) {
			return true
		}
	}
	return false
}

// Holds reports whether words hold other words in a row.
func Holds(words, phrase []string) bool {
	for i := 0; i+len(phrase) <= len(words); i++ {
		if slices.Equal(words[i:i+len(phrase)], phrase) {
			return len(phrase) > 0
		}
	}
	return false
}
