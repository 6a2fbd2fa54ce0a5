package recipe

import (
	"fmt"
	"strings"
	"unicode"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lye"
	"ashshelf/soap/unit"
)

// Foreign is a recipe from a book or a page, as it is stated: weights of fats
// and of lye. A stated lye is never to be trusted before it is recomputed.
type Foreign struct {
	Fats   fat.Blend // shares hold grams
	LyeG   float64   // g, as stated
	Alkali lye.Alkali
}

// Finding is what recomputing says.
type Finding struct {
	FatsG    float64
	LyeFull  float64 // g of lye that would leave no superfat
	LyeAt5   float64 // g of lye at 5 % superfat
	Superfat float64 // percent, as stated
	Verdict  caution.Caution
}

// ReadFats reads a list of fats with weights, one a line, the weight before or
// behind the name: "500 g olive oil", "Coconut oil 1 lb 2 oz". Problems are at
// "line 3" and so on.
func ReadFats(text string) (fat.Blend, caution.Problems) {
	var b fat.Blend
	var p caution.Problems
	for i, line := range strings.Split(text, "\n") {
		line = strings.TrimSpace(strings.Trim(strings.TrimSpace(line), "-•*"))
		if line == "" {
			continue
		}
		weight, name := splitWeight(line)
		g, err := unit.Mass(weight, "")
		if err != nil {
			p.Add("fats", "line %d, “%s”: give a weight with its unit, such as 500 g olive oil", i+1, line)
			continue
		}
		f, err := fat.Find(name)
		if err != nil {
			p.Add("fats", "line %d: %s", i+1, err)
			continue
		}
		b = append(b, fat.Share{Fat: f, Percent: g})
	}
	if len(b) == 0 && len(p) == 0 {
		p.Add("fats", "type the fats with their weights, one a line")
	}
	return b, p
}

// splitWeight parts a line into its weight and its name, whichever is first.
func splitWeight(line string) (weight, name string) {
	words := strings.Fields(strings.NewReplacer(":", " ", "=", " ", "\t", " ").Replace(line))
	isWeight := func(w string) bool {
		if strings.IndexFunc(w, unicode.IsDigit) >= 0 {
			_, errBare := unit.Mass(w, "g")
			return errBare == nil || strings.ContainsAny(w, "0123456789/.,")
		}
		_, err := unit.Mass("1 "+w, "")
		return err == nil
	}
	for _, fromFront := range []bool{true, false} {
		n := 0
		for n < len(words) {
			w := words[n]
			if !fromFront {
				w = words[len(words)-1-n]
			}
			if !isWeight(w) {
				break
			}
			n++
		}
		if n == 0 {
			continue
		}
		if fromFront {
			return strings.Join(words[:n], " "), strings.TrimPrefix(strings.Join(words[n:], " "), "of ")
		}
		return strings.Join(words[len(words)-n:], " "), strings.Join(words[:len(words)-n], " ")
	}
	return "", line
}

// Check recomputes a stated recipe.
func (f Foreign) Check() (Finding, error) {
	var p caution.Problems
	caution.Positive(&p, "lye", "the stated lye", f.LyeG)
	f.Alkali.Check(&p, "alkali")
	total := f.Fats.Sum(func(fat.Fat) bool { return true })
	caution.Positive(&p, "fats", "the weight of fats", total)
	if err := p.Err(); err != nil {
		return Finding{}, err
	}
	need := 0.0
	for _, s := range f.Fats {
		need += s.Percent * s.Fat.SAP / 1000
	}
	naoh, koh := f.Alkali.Weigh(need)
	full := naoh + koh
	r := Finding{FatsG: total, LyeFull: full, LyeAt5: full * 0.95, Superfat: 100 * (1 - f.LyeG/full)}
	pct := unit.Trim(r.Superfat, 1) + " %"
	bar := f.Alkali.NaOHPercent > 50
	switch {
	case r.Superfat < 0 || bar && r.Superfat < LeastBarSuperfat:
		r.Verdict = caution.Caution{Code: "foreign.lye-heavy", Level: caution.Block,
			Reason: fmt.Sprintf("Lye-heavy: the stated %s g of lye leave a superfat of %s.", unit.Trim(f.LyeG, 1), pct),
			Remedy: fmt.Sprintf("Do not make it as it stands. %s g of lye would leave 5 %%.", unit.Fixed(r.LyeAt5, 1))}
	case r.Superfat > 12:
		r.Verdict = caution.Caution{Code: "foreign.fat", Level: caution.Warn,
			Reason: fmt.Sprintf("Too fat: the stated %s g of lye leave a superfat of %s.", unit.Trim(f.LyeG, 1), pct),
			Remedy: fmt.Sprintf(
				"Right for a bar that is mostly coconut, else soft and quick to spoil. %s g of lye would leave 5 %%.",
				unit.Fixed(r.LyeAt5, 1),
			)}
	default:
		r.Verdict = caution.Caution{Code: "foreign.right", Level: caution.Advice,
			Reason: fmt.Sprintf(
				"The stated lye is right: it leaves a superfat of %s.",
				pct,
			), Remedy: "Weigh it all the same from your own recipe, with your own fats' figures."}
	}
	return r, nil
}
