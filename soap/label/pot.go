package label

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/material"
	"ashshelf/soap/recipe"
)

// The names that follow from the work and stand in no table.
const (
	aqua     = "Aqua"
	glycerin = "Glycerin"
	parfum   = "Parfum"
	soda     = "Sodium Hydroxide"
	potash   = "Potassium Hydroxide"
)

// anyPot is the weight of fats in g that a recipe is worked out for where nothing in it counts on
// the size of a pot.
const anyPot = 1000.0

// entry is a material in the pot: what it is called, what it weighs and what it is made of.
type entry struct {
	row
	key   string // the name that an additive has in the recipe
	soap  string // what its fat is called once it is soap; empty where it stays within its row
	salt  string // what its acid is called once it is neutralised; empty where it stays so
	made  material.Composition
	waxen bool // of its fat come long alcohols in place of glycerin
	held  bool // back until the cook is over
	top   bool // on the filled mold, where no lye meets it
}

// row is a name with its weight in g, and how much of that is water that can still dry.
type row struct {
	name         string
	grams, water float64
	added        float64 // that was put in for it; of what only comes about, as much as there is
	colour       bool
}

// poured is all that goes into one pot, in g.
type poured struct {
	entries    []entry
	naoh, koh  float64 // as weighed
	alkali     lye.Alkali
	total      float64
	water      float64 // of all liquids and additives
	sodium     float64 // mol of alkali
	potassium  float64
	sodiumPart float64 // of the alkali, by moles
}

// pour works the pot out.
func pour(q Request) poured {
	f := q.Formula.Composed()
	a := f.AmountsFor(cmp.Or(q.Fats, anyPot))
	pot := poured{naoh: a.NaOH, koh: a.KOH, alkali: f.Alkali, water: f.TrueWater(a), total: a.Batter()}
	for i, s := range f.Fats {
		pot.entries = append(pot.entries, entry{
			row: row{name: s.Fat.Labelled(), grams: a.Fats[i]}, soap: s.Fat.Soap(), made: s.Fat.Composition(),
			waxen: s.Fat.Family() == fat.Wax, held: s.AfterCook,
		})
	}
	for i, l := range f.Liquids {
		pot.entries = append(pot.entries, liquidEntries(l.Liquid, a.Liquids[i])...)
	}
	for i, u := range f.Uses() {
		pot.total += a.Additives[i]
		pot.entries = append(pot.entries, q.additiveEntry(u, a.Additives[i]))
	}
	pot.sodium = a.NaOH * f.Alkali.NaOHPurity / 100 / lye.MolarNaOH
	pot.potassium = a.KOH * f.Alkali.KOHPurity / 100 / lye.MolarKOH
	pot.sodiumPart = pot.sodium / (pot.sodium + pot.potassium)
	for i := range pot.entries {
		pot.entries[i].added = pot.entries[i].grams
	}
	return pot
}

// liquidEntries are the rows of a liquid: one, but for brine, which is water and salt.
func liquidEntries(l liquid.Liquid, grams float64) []entry {
	made := l.Composition()
	water := grams * made.Water / 100
	if name, solid, two := strings.Cut(l.INCI(), ", "); two {
		return []entry{
			{row: row{name: name, grams: water, water: water}},
			{row: row{name: solid, grams: grams - water}},
		}
	}
	return []entry{{row: row{name: l.INCI(), grams: grams, water: water}, salt: additive.SaltOf(l.Name), made: made}}
}

// additiveEntry is the row of an additive, named as asked for or as the tables have it.
func (q Request) additiveEntry(u additive.Use, grams float64) entry {
	made := u.Composition()
	e := entry{
		row: row{grams: grams, water: grams * made.Water / 100}, key: u.Name, made: made,
		held: u.Stage == additive.AfterCook, top: u.Stage.Into() == additive.TheTop,
	}
	known, _ := additive.Find(u.Name)
	asked := q.Named[Key(u.Name)]
	number := asked.Number
	switch {
	case asked.NoColour:
		number = ""
	case number == "" && known.ColourIndex != "":
		number = "CI " + known.ColourIndex
	}
	e.colour = asked.Colour || number != ""
	e.name = cmp.Or(asked.Label, known.INCI, u.Name)
	switch {
	case number != "" && q.Colours != ColoursByName && (asked.Label == "" || asked.Number != ""):
		e.name = number
	case asked.Label == "" && u.From() == material.Scent:
		e.name = parfum
	case u.Oil:
		if oil, err := fat.Find(u.OilName()); err == nil {
			e.name, e.soap, e.made = cmp.Or(asked.Label, oil.Labelled()), oil.Soap(), oil.Composition()
		}
	case made.Lye > 0 && asked.Label == "":
		e.salt = additive.SaltOf(u.Name)
	}
	return e
}

// rows are the names of the list with their weights before anything dries.
func (p poured) rows(style Style) []row {
	if style == AsPutIn {
		rows := []row{{name: soda, grams: p.naoh, added: p.naoh}, {name: potash, grams: p.koh, added: p.koh}}
		for _, e := range p.entries {
			rows = append(rows, e.row)
		}
		return rows
	}
	return p.saponified()
}

// saponified is what the lye makes of everything.
//
// Source: three moles of alkali and one of a fat give three of soap and one of glycerol; one of
// alkali and one of a free fatty acid, or of another acid, give one of its salt and one of water; a
// wax gives soap and long alcohols, which stay with it. What the superfat leaves is the same share
// of each fat that was in the pot with the lye; what is held back until the cook is over meets what
// the others left of it.
func (p poured) saponified() []row {
	var rows []row
	free := p.sodium + p.potassium
	pot, held := 0.0, 0.0
	for _, e := range p.entries {
		free -= e.acid()
		switch {
		case e.top:
		case e.held:
			held += e.fatty()
		default:
			pot += e.fatty()
		}
	}
	inPot := share(free, pot)
	afterwards := share(free-inPot*pot, held)
	for _, e := range p.entries {
		done := inPot
		switch {
		case e.top:
			done = 0
		case e.held:
			done = afterwards
		}
		rows = append(rows, p.become(e, done)...)
	}
	left := math.Max(0, free-inPot*pot-afterwards*held)
	water := p.naoh*(1-p.alkali.NaOHPurity/100) + p.koh*(1-p.alkali.KOHPurity/100) // what flakes hold besides
	return append(rows,
		row{name: aqua, grams: water, water: water},
		row{name: soda, grams: left * p.sodiumPart * lye.MolarNaOH},
		row{name: potash, grams: left * (1 - p.sodiumPart) * lye.MolarKOH})
}

// share is how much of a demand is met, 0 to 1.
func share(given, demand float64) float64 {
	if demand <= 0 {
		return 0
	}
	return math.Max(0, math.Min(1, given/demand))
}

// fatty is the alkali in mol that the fat of an entry would take, and acid what its acid takes.
func (e entry) fatty() float64 {
	return e.grams * e.made.Fat / 100 * e.made.FatSAP / 1000 / lye.MolarKOH
}
func (e entry) acid() float64 { return e.grams * e.made.Lye / lye.MolarNaOH }

// become is what an entry is when a share of its fat has become soap and its acid is neutralised.
func (p poured) become(e entry, done float64) []row {
	var rows []row
	rest, moles := e.row, e.fatty()*done
	gained := func(mol float64) float64 { // g of alkali
		return mol * (p.sodiumPart*lye.MolarNaOH + (1-p.sodiumPart)*lye.MolarKOH)
	}
	addWater := func(grams, added float64) {
		rows = append(rows, row{name: aqua, grams: grams, water: grams, added: added})
	}
	if acid := e.acid(); acid > 0 {
		rest.grams += gained(acid) - acid*lye.MolarWater
		addWater(acid*lye.MolarWater, 0)
		if e.salt != "" { // the water it was dissolved in is water, and the rest its salt
			addWater(rest.water, rest.water)
			rows = append(rows, p.shared(e.salt, rest.grams-rest.water, rest.added-rest.water, acid)...)
			return rows
		}
	}
	if moles == 0 {
		return append(rows, rest)
	}
	soap := gained(moles)
	switch {
	case e.made.FreeAcid:
		soap -= moles * lye.MolarWater
		addWater(moles*lye.MolarWater, 0)
	case !e.waxen:
		soap -= moles / 3 * recipe.MolarGlycerol
		glycerol := moles / 3 * recipe.MolarGlycerol
		rows = append(rows, row{name: glycerin, grams: glycerol, added: glycerol})
	}
	if e.soap == "" { // such as milk, which stays one row
		rest.grams += soap
		return append(rows, rest)
	}
	fats := e.grams * e.made.Fat / 100 * done
	rest.grams -= fats
	rest.added -= fats
	rows = append(rows, p.shared(e.soap, fats+soap, fats, moles)...)
	return append(rows, rest)
}

// shared parts a salt of some weight between the two alkalis. Their salts differ by the weight of
// the metal alone: so many moles of it, in the share of each. What was put in for them is shared alike.
func (p poured) shared(name string, grams, added, moles float64) []row {
	heavier := moles * (lye.MolarKOH - lye.MolarNaOH)
	sodium := p.sodiumPart * (grams - (1-p.sodiumPart)*heavier)
	return []row{
		{name: name, grams: sodium, added: added * p.sodiumPart},
		{name: ofPotash(name), grams: grams - sodium, added: added * (1 - p.sodiumPart)},
	}
}

// ofPotash is what potassium hydroxide makes of what sodium hydroxide makes a soap or salt of.
func ofPotash(name string) string {
	if rest, ok := strings.CutPrefix(name, "Sodium "); ok {
		return "Potassium " + rest
	}
	return name
}

// dry takes what dries away off the water: plain water first, and what that does not hold off the
// milk and the like, by the water that is in each.
func (p poured) dry(rows []row, percent float64) {
	loss := p.total * percent / 100
	take := func(of func(row) bool) {
		held := 0.0
		for _, r := range rows {
			if of(r) {
				held += r.water
			}
		}
		part := share(loss, held)
		for i, r := range rows {
			if of(r) {
				rows[i].grams -= part * r.water
				rows[i].water -= part * r.water
			}
		}
		loss -= part * held
	}
	plain := func(r row) bool { return r.name == aqua }
	take(plain)
	take(func(r row) bool { return !plain(r) })
}

// perPot are the bases of a rate that count on the size of a pot.
var perPot = []additive.Basis{additive.GramsPerBatch, additive.TspPerMold, additive.TbspPerMold, additive.GramsPerMold}

// checkRates finds additives of which nobody can say how much is in a bar.
func (q Request) checkRates(p *caution.Problems) {
	for _, u := range q.Formula.Uses() {
		switch {
		case u.Basis == additive.ByEye:
			p.Add("recipe.additives", "%s is stirred in by eye: a label needs to know how much it is", u.Name)
		case slices.Contains(perPot, u.Basis) && !(q.Fats > 0):
			p.Add("recipe.written_for_fats_g", "%s counts on a pot or a mold: say how many g of fats are in one", u.Name)
		}
	}
}
