// Package assess holds a recipe against its safety assessment.
//
// In some regions nobody may sell a cosmetic that a qualified assessor has not looked at. She names what she
// looked at: these fats from so much to so much, this scent up to so much, these colours. A recipe within that
// needs nothing new; one outside may not be sold as assessed. The shop writes down what the assessor wrote, and
// the program only compares. Her word comes first.
package assess

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/label"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Limit is what the assessor allows of one ingredient, in percent of the fats.
type Limit struct {
	Name     string
	Min, Max float64
}

// Assessment is what an assessor wrote of a recipe.
type Assessment struct {
	Reference string
	On        string // day
	By        string
	Limits    []Limit // of all that may be in it
	Note      string  // such as what she says of seawater
	Withdrawn bool    // it does not hold any more
}

// Check finds what cannot be. Paths are the names of the fields.
func (a Assessment) Check() (p caution.Problems) {
	if strings.TrimSpace(a.Reference) == "" {
		p.Add("reference", "write the number or name that stands on it")
	}
	if strings.TrimSpace(a.By) == "" {
		p.Add("by", "say who assessed it")
	}
	if _, err := time.Parse(time.DateOnly, a.On); err != nil {
		p.Add("on", "say on which day; write it like 2026-03-14")
	}
	if len(a.Limits) == 0 {
		p.Add("limits", "write what it allows, one a line: without it everything would be outside")
	}
	seen := map[string]bool{}
	for _, l := range a.Limits {
		switch {
		case seen[label.Key(l.Name)]:
			p.Add("limits", "%s stands there twice", l.Name)
		case !(l.Min >= 0) || !(l.Max <= 1000) || !(l.Min <= l.Max):
			p.Add("limits", "%s: from %s to %s %% of the fats cannot be", l.Name, unit.Trim(l.Min, 3), unit.Trim(l.Max, 3))
		}
		seen[label.Key(l.Name)] = true
	}
	return p
}

// ReadLimits reads limits, one a line: the ingredient, a colon, and its percent of the fats, as in
// "Olive oil: 40 to 60 %" or "Fig leaf: up to 4 %". Problems are at "line 3" and so on.
func ReadLimits(text string) (list []Limit, p caution.Problems) {
	n := 0
	for line := range strings.Lines(text) {
		n++
		at := fmt.Sprintf("line %d", n)
		if strings.TrimSpace(line) == "" {
			continue
		}
		cut := strings.LastIndex(line, ":")
		if cut < 0 {
			p.Add(at, "write it as “Olive oil: 40 to 60 %%” or “Fig leaf: up to 4 %%”")
			continue
		}
		rest := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(line[cut+1:]), "%"))
		low, high, between := strings.Cut(strings.NewReplacer("–", " to ", "%", "").Replace(rest), " to ")
		one := Limit{Name: strings.TrimSpace(line[:cut])}
		var err error
		if top, is := strings.CutPrefix(rest, "up to "); is {
			one.Max, err = unit.Number(strings.TrimSpace(top))
		} else if between {
			if one.Min, err = unit.Number(strings.TrimSpace(low)); err == nil {
				one.Max, err = unit.Number(strings.TrimSpace(high))
			}
		} else {
			p.Add(at, "say from where to where, as in “40 to 60 %%” or “up to 4 %%”")
			continue
		}
		if err != nil || one.Name == "" {
			p.Add(at, "write it as “Olive oil: 40 to 60 %%” or “Fig leaf: up to 4 %%”")
			continue
		}
		list = append(list, one)
	}
	return list, p
}

// Words says the limit as it is typed.
func (l Limit) Words() string {
	if l.Min == 0 {
		return l.Name + ": up to " + unit.Trim(l.Max, 3) + " %"
	}
	return l.Name + ": " + unit.Trim(l.Min, 3) + " to " + unit.Trim(l.Max, 3) + " %"
}

// slack forgives what rounding does to a share, in percent of the fats.
const slack = 1e-6

// Outside says what of a formula is outside of the assessment, one sentence each; nothing when it is within. fats
// is the weight of the fats of a pot in g, for rates that count on one.
func (a Assessment) Outside(f recipe.Formula, fats float64) (out []string) {
	if a.Withdrawn {
		return []string{"assessment " + a.Reference + " does not hold any more"}
	}
	have := contents(f, fats)
	for _, l := range a.Limits {
		switch share := shareOf(have, l.Name); {
		case share > l.Max+slack:
			out = append(out, fmt.Sprintf("%s is %s %% of the fats, and the assessment allows up to %s %%",
				l.Name, unit.Trim(share, 2), unit.Trim(l.Max, 3)))
		case share < l.Min-slack:
			out = append(out, fmt.Sprintf("%s is %s %% of the fats, and the assessment wants at least %s %%",
				l.Name, unit.Trim(share, 2), unit.Trim(l.Min, 3)))
		}
	}
	for _, one := range have {
		if !slices.ContainsFunc(a.Limits, func(l Limit) bool { return same(l.Name, one.Name) }) {
			out = append(out, one.Name+" is not in the assessment")
		}
	}
	return out
}

// contents are what an assessor looks at, in percent of the fats: fats, additives, and liquids but for water.
func contents(f recipe.Formula, fats float64) (out []Limit) {
	if !(fats > 0) {
		fats = 1000
	}
	amounts := f.AmountsFor(fats)
	add := func(name string, grams float64) {
		if !(grams > 0) {
			return
		}
		i := slices.IndexFunc(out, func(l Limit) bool { return same(l.Name, name) })
		if i < 0 {
			i = len(out)
			out = append(out, Limit{Name: name})
		}
		out[i].Max += 100 * grams / fats
		out[i].Min = out[i].Max
	}
	for i, s := range f.Fats {
		add(s.Fat.Name, amounts.Fats[i])
	}
	for i, l := range f.Liquids {
		if l.Liquid.Composition().Water < 100 {
			add(l.Liquid.Name, amounts.Liquids[i])
		}
	}
	for i, u := range f.Uses() {
		if !u.Oil {
			add(u.Name, amounts.Additives[i])
		}
	}
	return out
}

// same reports whether two names are one ingredient: the same letters, or the same fat by any name that the tables
// know it by.
func same(a, b string) bool {
	if label.Key(a) == label.Key(b) {
		return true
	}
	one, err := fat.Find(a)
	other, err2 := fat.Find(b)
	return err == nil && err2 == nil && one.Key() == other.Key()
}

func shareOf(have []Limit, name string) float64 {
	for _, one := range have {
		if same(one.Name, name) {
			return one.Max
		}
	}
	return 0
}

// Of proposes limits for a formula as it stands, to be put right by what the assessor's paper says: fats as they
// are, all else up to what is in it.
func Of(f recipe.Formula, fats float64) (out []Limit) {
	out = contents(f, fats)
	for i := range out {
		out[i].Max = math.Ceil(out[i].Max*100-1e-6) / 100
		if out[i].Min = math.Floor(out[i].Min*100+1e-6) / 100; i >= len(f.Fats) {
			out[i].Min = 0
		}
	}
	return out
}
