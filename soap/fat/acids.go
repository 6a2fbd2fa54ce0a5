package fat

import (
	"fmt"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// acidNames are the families in the order of a table, as they are typed.
var acidNames = []struct {
	name string
	of   func(*Acids) *float64
}{
	{"caprylic and capric", func(a *Acids) *float64 { return &a.CaprylicCapric }},
	{"lauric", func(a *Acids) *float64 { return &a.Lauric }},
	{"myristic", func(a *Acids) *float64 { return &a.Myristic }},
	{"palmitic", func(a *Acids) *float64 { return &a.Palmitic }},
	{"palmitoleic", func(a *Acids) *float64 { return &a.Palmitoleic }},
	{"stearic", func(a *Acids) *float64 { return &a.Stearic }},
	{"ricinoleic", func(a *Acids) *float64 { return &a.Ricinoleic }},
	{"oleic", func(a *Acids) *float64 { return &a.Oleic }},
	{"linoleic", func(a *Acids) *float64 { return &a.Linoleic }},
	{"linolenic", func(a *Acids) *float64 { return &a.Linolenic }},
	{"long-chain", func(a *Acids) *float64 { return &a.LongChain }},
}

// mostAcids is what a make-up may come to in percent: typical figures of a table
// are rounded one by one and need not sum to 100.
const mostAcids = 105

// ReadAcids reads a make-up as it stands on a certificate, in percent:
// "oleic 62, linoleic 20, palmitic 9". What is not named is taken as none. A
// word that is no fatty acid, a share that cannot be, or more than 100 % in all
// is an error.
func ReadAcids(text string) (Acids, error) {
	var a Acids
	// A comma between digits is a decimal; between words it parts them.
	for _, part := range splitList(text) {
		words := strings.Fields(strings.ReplaceAll(part, "%", " "))
		if len(words) < 2 {
			return Acids{}, fmt.Errorf("“%s”: give a fatty acid and its percentage, such as oleic 62", part)
		}
		name, number := strings.ToLower(strings.Join(words[:len(words)-1], " ")), words[len(words)-1]
		v, err := unit.Number(number)
		if err != nil {
			return Acids{}, fmt.Errorf("“%s”: %w", part, err)
		}
		name = strings.TrimSuffix(name, " acid")
		found := false
		for _, n := range acidNames {
			if n.name == name || n.name == "caprylic and capric" && (name == "caprylic" || name == "capric") {
				*n.of(&a) += v
				found = true
			}
		}
		if !found {
			return Acids{}, fmt.Errorf("“%s” is not a fatty acid that is reckoned with here", name)
		}
		if v < 0 || v > 100 {
			return Acids{}, fmt.Errorf("“%s”: it must lie between 0 and 100 %%", part)
		}
	}
	if sum := a.Sum(); sum > mostAcids {
		return Acids{}, fmt.Errorf("the fatty acids come to %s %%, more than the whole", unit.Trim(sum, 1))
	}
	return a, nil
}

// splitList parts a text at semicolons, new lines, and commas that are not
// inside a number.
func splitList(text string) []string {
	digit := func(i int) bool { return i >= 0 && i < len(text) && text[i] >= '0' && text[i] <= '9' }
	var out []string
	start := 0
	cut := func(end int) {
		if part := strings.TrimSpace(text[start:end]); part != "" {
			out = append(out, part)
		}
		start = end + 1
	}
	for i := range len(text) {
		if c := text[i]; c == ';' || c == '\n' || c == ',' && !(digit(i-1) && digit(i+1)) {
			cut(i)
		}
	}
	if start < len(text) {
		cut(len(text))
	}
	return out
}

// Sum is all the named fatty acids together, in percent.
func (a Acids) Sum() float64 {
	sum := 0.0
	for _, n := range acidNames {
		sum += *n.of(&a)
	}
	return sum
}

// String writes a make-up as [ReadAcids] reads it.
func (a Acids) String() string {
	var parts []string
	for _, n := range acidNames {
		if v := *n.of(&a); v != 0 {
			parts = append(parts, n.name+" "+unit.Trim(v, 2))
		}
	}
	return strings.Join(parts, ", ")
}

// Check finds shares that cannot be; path is where the make-up stands.
func (a Acids) Check(p *caution.Problems, path string) {
	for _, n := range acidNames {
		if v := *n.of(&a); !(v >= 0 && v <= 100) {
			p.Add(path, "%s acid is %s %%; it must lie between 0 and 100 %%", n.name, unit.Trim(v, 2))
		}
	}
	if sum := a.Sum(); sum > mostAcids {
		p.Add(path, "the fatty acids come to %s %%, more than the whole", unit.Trim(sum, 1))
	}
}
