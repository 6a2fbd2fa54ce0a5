package planning

import (
	"context"
	"sync"

	"ashshelf/soap/gel"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/store"
)

// UsualOvenC is how warm the lowest oven is, in °C.
const UsualOvenC = 60.0

// BatterOf is where the heat of a pot comes from and goes into.
func BatterOf(f recipe.Formula, p plan.Plan) gel.Batter {
	b := gel.Batter{FatsG: p.FatsG, LyeG: p.NaOH + p.KOH, WaterG: p.LiquidG}
	b.MolesOfLye = p.NaOH*f.Alkali.NaOHPurity/100/39.997 + p.KOH*f.Alkali.KOHPurity/100/56.106
	for _, a := range p.Additives {
		b.OtherG += a.Grams
	}
	if f.Milk() > 0 {
		b.Warms = append(b.Warms, "milk")
	}
	for _, u := range f.Uses() {
		if u.Is("sugar", "honey", "syrup") || u.Is("salt") {
			b.Warms = append(b.Warms, u.Name)
		}
	}
	return b
}

// CoverOf is how the mold is covered where nobody says otherwise.
func CoverOf(f recipe.Formula) string { return string(run.Order{Formula: f}.Cover()) }

// NoLoaf says why the heat of a mold says nothing of a soap; empty where it does.
func NoLoaf(f recipe.Formula) string {
	switch {
	case f.Potash():
		return "A paste of potash is no loaf: it clears over days, whatever its heat"
	case f.Process.Cooks():
		return "It is cooked, and has gelled in its pot"
	}
	return ""
}

// LoafOf is a mold as a cross-section; false where it has none that is known.
func LoafOf(m lot.Mold) (gel.Loaf, bool) {
	l := gel.Loaf{Width: m.Mold.Width, Height: m.Mold.Fill, Material: m.Material}
	switch m.Mold.Shape {
	case mold.Box:
	case mold.Cylinder:
		l.Width = m.Mold.Diameter * 0.886 // the square with as much in it
	case mold.Grid:
		l.Width = m.Mold.Width / float64(max(1, m.Mold.Rows))
	default:
		return l, false
	}
	return l, l.Check().Err() == nil
}

// Looked is a lot at which somebody looked, as a loaf.
type Looked struct {
	gel.Look
	Lot *lot.Lot
}

// lookOf is a lot as a loaf that was looked at; false where nobody looked, or its loaf is not known.
func lookOf(l *lot.Lot) (k Looked, ok bool) {
	if l.Unmolding == nil || l.Pour == nil || l.Unmolding.Gel == "not looked" || len(l.Frozen.Molds) == 0 || l.Cooked() ||
		NoLoaf(l.Frozen.Formula) != "" {
		return k, false
	}
	k.Lot, k.Seen, k.Batter = l, l.Unmolding.Gel, BatterOf(l.Frozen.Formula, l.Frozen.Pot)
	if k.Loaf, ok = LoafOf(l.Frozen.Molds[0]); !ok {
		return k, false
	}
	low, high := l.Frozen.Formula.Working()
	k.Place = gel.Place{StartC: (low + high) / 2, RoomC: 20, OvenC: UsualOvenC, Cover: CoverOf(l.Frozen.Formula)}
	if l.Pour.LyeC != nil && l.Pour.FatsC != nil {
		k.Place.StartC = (*l.Pour.LyeC + *l.Pour.FatsC) / 2
	}
	if l.Pour.RoomC != nil {
		k.Place.RoomC = *l.Pour.RoomC
	}
	return k, k.Place.Check().Err() == nil
}

// turnsMemo remembers where loaves would have turned: it takes a while to find.
type turnsMemo struct {
	mu sync.Mutex
	of map[string]gel.Turns // by the identity of a lot
}

// mostLooks is how many loaves of the shop, and of a recipe, its gels are fitted to.
const mostLooks = 8

// Gels is what is believed of how warm the shop's loaves stay, by those that were looked at, the recipe's own and the newest
// of the others; own are those of the recipe.
func (pl *Planner) Gels(ctx context.Context, recipe string) (b gel.Belief, own []Looked, err error) {
	var looks []Looked
	for _, of := range []string{recipe, ""} {
		lots, err := pl.Lots(ctx, store.LotsWhere{Recipe: of, Stages: cooled, Most: mostOthers})
		if err != nil {
			return b, nil, err
		}
		n := 0
		for _, l := range lots {
			k, ok := lookOf(l)
			if !ok || n == mostLooks || of == "" && l.Recipe == recipe {
				continue
			}
			n++
			looks = append(looks, k)
		}
		if of == recipe {
			own = looks
		}
	}
	var seen []string
	var turns []gel.Turns
	for _, k := range looks {
		seen, turns = append(seen, k.Seen), append(turns, pl.turnsOf(k))
	}
	return gel.Fit(seen, turns), own, nil
}

// turnsOf is where a loaf that was looked at would have turned.
func (pl *Planner) turnsOf(k Looked) gel.Turns {
	pl.turns.mu.Lock()
	defer pl.turns.mu.Unlock()
	out, known := pl.turns.of[k.Lot.OID]
	if known {
		return out
	}
	if pl.turns.of == nil || len(pl.turns.of) > mostMemo {
		pl.turns.of = map[string]gel.Turns{}
	}
	out = k.TurnsOf()
	pl.turns.of[k.Lot.OID] = out
	return out
}
