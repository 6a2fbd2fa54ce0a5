package plan

import (
	"fmt"
	"math"

	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// Vessel is a pot, a jug or a cooker.
type Vessel struct {
	Name string
	ML   float64 // to the rim; 0 when it sets no limit
	Tare float64 // g, empty
}

// Vessels are what the work is done in.
type Vessels struct {
	Pot    Vessel
	Jug    Vessel
	Cooker Vessel // where a seized batch is rescued
	// RiskyLoad is how much of a pot's usable load a fast or unknown scent is
	// given, in percent; 0 for all of it. A smaller batch is out of the pot
	// sooner.
	RiskyLoad float64
}

// usable is the share of a vessel that is filled: a quarter stays empty.
const usable = 0.75

func (v Vessels) check(p *caution.Problems) {
	for name, one := range map[string]Vessel{"pot": v.Pot, "jug": v.Jug, "cooker": v.Cooker} {
		if one.ML < 0 || one.Tare < 0 {
			p.Add(name, "the %s cannot hold or weigh less than nothing", name)
		}
	}
	if v.RiskyLoad < 0 || v.RiskyLoad > 100 {
		p.Add("risky_load_percent", "the load for a risky scent must lie between 0 and 100 %%")
	}
}

// share is how much of its load a pot is given for this formula, 0 to 1.
func (r Request) share() float64 {
	if _, risky := r.Formula.RiskyScent(); risky && r.Vessels.RiskyLoad > 0 {
		return r.Vessels.RiskyLoad / 100
	}
	return 1
}

// fits reports whether each of n such pots, and its lye jug, holds its part.
func (r Request) fits(a recipe.Amounts, n int) bool {
	const slack = 1 + 1e-9
	share := r.share()
	if r.PotCapacity > 0 && r.load(a, n) > r.PotCapacity*share*slack {
		return false
	}
	if v := r.Vessels.Pot.ML; v > 0 && r.volume(a, n)/float64(n) > v*usable*share*slack {
		return false
	}
	if v := r.Vessels.Jug.ML; v > 0 && r.jugML(a) > v*usable*slack {
		return false
	}
	return true
}

// Fit says of a pot, or of its lye, that no vessel of a shop holds it with a quarter to spare. Vessels
// that the request names are not looked for.
func (r Request) Fit(pot Plan, pots, jugs []Vessel) []caution.Caution {
	var out []caution.Caution
	look := func(named Vessel, what, code string, ml float64, have []Vessel) {
		if named.ML > 0 || len(have) == 0 {
			return
		}
		largest := have[0]
		for _, v := range have {
			if v.ML > largest.ML {
				largest = v
			}
		}
		if largest.ML > 0 && ml > largest.ML*usable {
			out = append(out, caution.Caution{Code: code, Level: caution.Warn,
				Reason: fmt.Sprintf("%s %s ml is more than the largest of the shop takes: %s, filled to %s ml.", what, unit.Trim(ml, 0),
					largest.Name, unit.Trim(largest.ML*usable, 0)),
				Remedy: "Choose what it is mixed in, and the order is split to fit."})
		}
	}
	look(r.Vessels.Pot, "A pot of", "pot.none", pot.VolumeML, pots)
	look(r.Vessels.Jug, "Lye of", "jug.none", r.jugML(pot.amounts()), jugs)
	return out
}

// jugML is what the lye of one pot takes up in its jug, in ml.
func (r Request) jugML(a recipe.Amounts) float64 {
	s, _ := r.Formula.Jug(a)
	return (s.NaOH + s.KOH + s.Water) / s.Density(20)
}

// advisePots gives the cautions about the pots that an order was split into.
func (r Request) advisePots(a recipe.Amounts, pots int) []caution.Caution {
	var out []caution.Caution
	scent, risky := r.Formula.RiskyScent()
	ml := r.volume(a, pots) / float64(pots)
	if v := r.Vessels.Cooker; risky && v.ML > 0 && ml > v.ML*usable {
		name := v.Name
		if name == "" {
			name = "cooker"
		}
		out = append(out, caution.Caution{Code: "pot.cooker", Level: caution.Warn,
			Reason: fmt.Sprintf(
				"%s may seize, and a batch of %s ml does not fit the %s, which is filled to %s ml.",
				scent,
				unit.Trim(ml, 0),
				name,
				unit.Trim(v.ML*usable, 0),
			),
			Remedy: "Make smaller batches, so that a seized one can be cooked."})
	}
	if share := r.share(); share < 1 && (r.PotCapacity > 0 || r.Vessels.Pot.ML > 0) {
		out = append(out, caution.Caution{Code: "pot.risky", Level: caution.Advice,
			Reason: fmt.Sprintf(
				"%s gets only %s %% of the pot's load.",
				scent,
				unit.Trim(share*100, 0),
			), Remedy: "A smaller batch is out of the pot before it sets."})
	}
	return out
}

// PotShare is how many molds of one kind a pot fills.
type PotShare struct {
	Mold  int // index into the target's molds
	Count float64
}

// PotsToMolds shares the molds of a target out between equal pots: whole molds
// to each where the counts allow it, else one mold after the other until a pot
// is empty, so that as few molds as can be are filled from two pots.
func (t Target) PotsToMolds(pots int) [][]PotShare {
	out := make([][]PotShare, pots)
	each := t.Volume() / float64(pots)
	whole := true
	for _, m := range t.Molds {
		whole = whole && m.Count%pots == 0
	}
	pot, room := 0, each
	for i, m := range t.Molds {
		if whole {
			for k := range out {
				out[k] = append(out[k], PotShare{i, float64(m.Count / pots)})
			}
			continue
		}
		v, left := m.Mold.Volume(), float64(m.Count)
		for left > 1e-6 && v > 0 {
			take := math.Min(left, room/v)
			if take > 1e-6 {
				out[pot] = append(out[pot], PotShare{i, take})
			}
			left -= take
			room -= take * v
			if room < each*1e-6 {
				if pot == pots-1 {
					break
				}
				pot, room = pot+1, each
			}
		}
	}
	return out
}

// Habit is what one of the fill rules would mix.
type Habit struct {
	Rule    FillRule
	BatterG float64 // of the whole order
	Diff    float64 // g more than what is asked for
	MM      float64 // mm above the fill line, below it under zero; 0 without a fill height
}

// Habits compares the fill rules for molds: what each would mix, and how far
// from the line it would come. pots is how many the order is split into.
func (r Request) Habits(pots int) ([]Habit, error) {
	if len(r.Target.Molds) == 0 {
		return nil, nil
	}
	fill := 0.0
	for _, m := range r.Target.Molds {
		if fill = m.Mold.Fill; fill > 0 {
			break
		}
	}
	hold, reach := r.Target.Volume(), r.Reaches()
	var out []Habit
	asked := 0.0
	for _, rule := range FillRules() {
		q := r.ForPots(pots)
		q.Rule = rule
		fats, err := q.solve(pots)
		if err != nil {
			return nil, err
		}
		a := q.Formula.AmountsFor(fats)
		h := Habit{Rule: rule, BatterG: float64(pots) * a.Batter(), MM: (reach*q.volume(a, pots)/hold - 1) * fill}
		if rule == r.Rule {
			asked = h.BatterG
		}
		out = append(out, h)
	}
	for i := range out {
		out[i].Diff = out[i].BatterG - asked
	}
	return out, nil
}
