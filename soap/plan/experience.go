package plan

import (
	"fmt"
	"math"

	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Experience is what a recipe was made with in the lots that came out well.
type Experience struct {
	Lots int
	with map[Key]bool
	most float64 // g of fats in a pot
}

// Add takes a lot into the experience.
func (e *Experience) Add(f recipe.Formula, fatsG float64) {
	if e.with == nil {
		e.with = map[Key]bool{}
	}
	e.Lots++
	e.most = math.Max(e.most, fatsG)
	for key := range materials(f) {
		e.with[key] = true
	}
}

// materials are all that a formula is made of, by a key that tells suppliers of
// scents apart, with how they are spoken of.
func materials(f recipe.Formula) map[Key]string {
	out := map[Key]string{}
	for _, s := range f.Fats {
		out[FatKey(s.Fat)] = s.Fat.Name
	}
	for _, l := range f.Liquids {
		if l.Percent > 0 {
			out[LiquidKey(l.Liquid)] = l.Liquid.Name
		}
	}
	for _, u := range f.Uses() {
		out[keyOf(AdditiveItem, u.Name)] = u.Name
	}
	return out
}

// muchLarger is how many times the largest pot so far makes a pot a new size.
const muchLarger = 1.5

// TrialFats is a trial in g of fats where nothing else is said: half a kilo to
// a kilo is usual.
const TrialFats = 700.0

// New lists what a pot of this formula would try for the first time, in the
// order of the recipe. It is empty for what was made so before.
func (e Experience) New(f recipe.Formula, fatsG float64) []string {
	if e.Lots == 0 {
		if fatsG <= muchLarger*TrialFats {
			return nil // it is a trial itself
		}
		return []string{"the recipe itself: no lot of it has come out well yet"}
	}
	var out []string
	names := materials(f)
	say := func(key Key) {
		if name, ok := names[key]; ok && !e.with[key] {
			out = append(out, name)
			delete(names, key)
		}
	}
	for _, s := range f.Fats {
		say(FatKey(s.Fat))
	}
	for _, l := range f.Liquids {
		say(LiquidKey(l.Liquid))
	}
	for _, u := range f.Uses() {
		say(keyOf(AdditiveItem, u.Name))
	}
	if fatsG > muchLarger*e.most {
		out = append(out, fmt.Sprintf("a pot of %s g of fats; the largest so far had %s g", unit.Trim(fatsG, 0), unit.Trim(e.most, 0)))
	}
	return out
}
