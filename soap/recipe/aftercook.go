package recipe

import (
	"fmt"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// checkAfterCook finds fats that are held back from a cook that is none, or from a pot that
// would be empty.
func (f Formula) checkAfterCook(p *caution.Problems) {
	held, rest := "", false
	for i, s := range f.Fats {
		switch {
		case !s.AfterCook:
			rest = rest || s.Percent > 0
		case !f.Process.Cooks():
			p.Add(path("fats", i)+".after_cook", "only cooked soap has an after the cook: choose hot process or rebatch, or let %s melt with "+
				"the others", s.Fat.Name)
			return
		case held == "":
			held = path("fats", i) + ".after_cook"
		}
	}
	if held != "" && !rest {
		p.Add(held, "at least one fat goes into the pot before the cook")
	}
}

// adviseAfterCook says when more fat is held back than the superfat: the pot is lye-heavy until it
// goes in, and part of it becomes soap all the same.
func (f Formula) adviseAfterCook(a Amounts) []caution.Caution {
	heldBack, grams := 0.0, 0.0
	var names []string
	for i, s := range f.Fats {
		if s.AfterCook {
			heldBack += a.Fats[i] * s.Fat.SAP / 1000
			grams += a.Fats[i]
			names = append(names, strings.ToLower(s.Fat.Name))
		}
	}
	spare := f.Demand(a) * f.SuperfatOf(a) / 100 // lye that the fats would take and is not there
	if grams == 0 || heldBack <= spare*(1+1e-9) {
		return nil
	}
	return []caution.Caution{{Code: "cook.held-back", Level: caution.Warn,
		Reason: fmt.Sprintf("The pot is lye-heavy until %s goes in after the cook: it is more than the superfat, and part of it becomes soap.",
			strings.Join(names, " and ")),
		Remedy: fmt.Sprintf("Hold back at most %s %% of the fats, or cook on until a sample is mild after it went in.",
			unit.Trim(100*grams/a.FatsTotal*max(0, spare)/heldBack, 1))}}
}
