package recipe

import (
	"strings"

	"ashshelf/soap/fat"
)

// Mark is something a soap may be called when its ingredients allow it. It is
// lost by a substitution, so it is worked out and never ticked.
type Mark struct {
	Name  string
	Holds bool
	Ask   bool     // it depends on what only the supplier can say
	Why   []string // what stands against it, or what to ask about
}

// Words that give away where an additive comes from.
var (
	animalWords = []string{"milk", "honey", "silk", "beeswax", "lanolin", "tallow", "lard", "egg", "cream", "yoghurt", "yogurt", "whey", "collagen", "pearl", "cochineal", "carmine"}
	plantWords  = []string{"coconut milk", "oat milk", "almond milk", "soy milk", "rice milk", "hemp milk", "milk thistle", "eggplant"}
	palmWords   = []string{"palm"}
	openWords   = []string{"stearic", "glycerin", "glycerine", "sodium lactate", "vitamin e"}
)

func hasWord(name string, words []string) bool {
	name = strings.ToLower(name)
	for _, w := range words {
		if strings.Contains(name, w) {
			return true
		}
	}
	return false
}

func animalAdditive(name string) bool {
	return !hasWord(name, plantWords) && hasWord(name, animalWords)
}

// Marks works out what the soap may be called.
func (f Formula) Marks() []Mark {
	vegan, palm, plain := Mark{Name: "vegan", Holds: true}, Mark{Name: "palm-free", Holds: true}, Mark{Name: "unscented", Holds: true}
	against := func(m *Mark, what string) { m.Holds, m.Why = false, append(m.Why, what) }
	ask := func(m *Mark, what string) { m.Ask, m.Why = true, append(m.Why, "where "+what+" comes from") }
	for _, s := range f.Fats {
		x := s.Fat
		switch {
		case x.Kind == fat.Animal || x.Slug == "beeswax" || x.Slug == "lanolin" || x.Kind == fat.Own && hasWord(x.Name, animalWords):
			against(&vegan, x.Name)
		case x.Kind == fat.Own || x.Kind == fat.Acid:
			ask(&vegan, x.Name)
		}
		switch {
		case hasWord(x.Name, palmWords):
			against(&palm, x.Name)
		case x.Kind == fat.Own || x.Kind == fat.Acid:
			ask(&palm, x.Name)
		}
	}
	for _, l := range f.Liquids {
		if l.Percent > 0 && animalAdditive(l.Liquid.Name) && l.Liquid.Slug != "coconut-milk" {
			against(&vegan, l.Liquid.Name)
		}
	}
	for _, u := range f.Uses() {
		if animalAdditive(u.Name) {
			against(&vegan, u.Name)
		} else if hasWord(u.Name, openWords) {
			ask(&vegan, u.Name)
			ask(&palm, u.Name)
		}
		if hasWord(u.Name, palmWords) {
			against(&palm, u.Name)
		}
		if u.Behaviour != "" || hasWord(u.Name, []string{"scent", "fragrance", "essential oil", "perfume"}) {
			against(&plain, u.Name)
		}
	}
	if f.Scent != nil {
		plain.Holds, plain.Why = false, []string{"the scent"}
	}
	out := []Mark{vegan, palm, plain}
	for i := range out {
		if !out[i].Holds {
			out[i].Ask = false
		} else if out[i].Ask {
			out[i].Holds = false
		}
	}
	return out
}
