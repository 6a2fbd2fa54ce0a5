package label

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/material"
	"ashshelf/soap/unit"
)

// checkAllergens finds declarations that cannot be: of what the recipe lacks, and of more than there
// is.
func (q Request) checkAllergens(p *caution.Problems) {
	in := map[string]bool{}
	for _, u := range q.Formula.Uses() {
		in[Key(u.Name)] = true
	}
	sums := map[string]float64{}
	for i, a := range q.Allergens {
		at := fmt.Sprintf("allergens[%d].", i)
		if !in[Key(a.Additive)] {
			p.Add(at+"additive", "the recipe has no additive “%s”", a.Additive)
		}
		if strings.TrimSpace(a.Name) == "" {
			p.Add(at+"name", "say which allergen it is")
		}
		switch {
		case !(a.Percent > 0 && a.Percent <= 100):
			p.Add(at+"percent", "it is above 0 and up to 100 %% of %s", a.Additive)
		case sums[Key(a.Additive)] <= 100+1e-9:
			if sums[Key(a.Additive)] += a.Percent; sums[Key(a.Additive)] > 100+1e-9 {
				p.Add(at+"percent", "with this one %s %% of %s are declared, and there are only 100",
					unit.Trim(sums[Key(a.Additive)], 2), a.Additive)
			}
		}
	}
	for name := range q.Named {
		if !in[name] {
			p.Add("recipe.additives", "the recipe has no additive “%s” to give a label name to", name)
		}
	}
}

// undeclared are the scents of which nothing is declared, and what may be one: additives of which the
// tables and the owner say nothing. A list without their allergens may leave out what must be named.
func (q Request) undeclared() (out []string) {
	declared := map[string]bool{}
	for _, a := range q.Allergens {
		declared[Key(a.Additive)] = true
	}
	for _, name := range q.Quiet {
		declared[Key(name)] = true
	}
	for _, u := range q.Formula.Uses() {
		_, known := additive.Find(u.Name)
		scent := u.From() == material.Scent || !known && u.From() == material.NotKnown
		if scent && !u.Oil && !declared[Key(u.Name)] && !slices.Contains(out, u.Name) {
			out = append(out, u.Name)
		}
	}
	return out
}

// allergens sums what is declared over all additives.
func (p poured) allergens(declared []Declared, bar float64) []Allergen {
	grams := map[string]float64{}
	for _, e := range p.entries {
		grams[Key(e.key)] += e.grams
	}
	var all []Allergen
	for _, d := range declared {
		all = append(all, Allergen{strings.TrimSpace(d.Name), grams[Key(d.Additive)] * d.Percent / bar})
	}
	return all
}

// named adds up what has the same name and keeps what lies above [Threshold], the most first.
func named(list []Allergen) []Allergen {
	var all []Allergen
	at := map[string]int{}
	for _, a := range list {
		i, known := at[Key(a.Name)]
		if !known {
			i = len(all)
			at[Key(a.Name)] = i
			all = append(all, Allergen{Name: a.Name})
		}
		all[i].Percent += a.Percent
	}
	all = slices.DeleteFunc(all, func(a Allergen) bool { return a.Percent <= Threshold*(1+1e-9) })
	slices.SortStableFunc(all, func(a, b Allergen) int { return cmp.Compare(b.Percent, a.Percent) })
	return all
}

// ReadDeclared reads declarations, one a line: the additive, a colon, the allergen and its percent of
// the additive, as in "Fig leaf: Linalool 4 %". Problems are at "line 3" and so on.
func ReadDeclared(text string) (list []Declared, p caution.Problems) {
	eachLine(text, func(at, line string) {
		of, rest, ok := strings.Cut(line, ":")
		one, why := readShare(rest)
		if !ok || why != "" {
			p.Add(at, "%s", cmp.Or(why, "write it as “Fig leaf: Linalool 4 %”"))
			return
		}
		list = append(list, Declared{Additive: strings.TrimSpace(of), Name: one.Name, Percent: one.Percent})
	})
	return list, p
}

// DeclaredWords are declarations as [ReadDeclared] reads them.
func DeclaredWords(list []Declared) string {
	lines := make([]string, len(list))
	for i, d := range list {
		lines[i] = d.Additive + ": " + d.Name + " " + unit.Trim(d.Percent, 4) + " %"
	}
	return strings.Join(lines, "\n")
}

// ReadShares reads what is declared of one additive, one a line, as in "Linalool 4 %".
func ReadShares(text string) (list []Share, p caution.Problems) {
	eachLine(text, func(at, line string) {
		one, why := readShare(line)
		if why != "" {
			p.Add(at, "%s", why)
			return
		}
		list = append(list, one)
	})
	return list, p
}

// eachLine calls do with the lines that hold something.
func eachLine(text string, do func(at, line string)) {
	n := 0
	for line := range strings.Lines(text) {
		n++
		if strings.TrimSpace(line) != "" {
			do(fmt.Sprintf("line %d", n), line)
		}
	}
}

// readShare reads an allergen and its percent; why says what is wrong.
func readShare(text string) (s Share, why string) {
	words := strings.Fields(strings.TrimSuffix(strings.TrimSpace(text), "%"))
	if len(words) < 2 {
		return s, "write it as a name and a number of percent, as in “Linalool 4 %”"
	}
	percent, err := unit.Number(words[len(words)-1])
	if err != nil {
		return s, "“" + words[len(words)-1] + "” is no number of percent"
	}
	return Share{strings.Join(words[:len(words)-1], " "), percent}, ""
}
