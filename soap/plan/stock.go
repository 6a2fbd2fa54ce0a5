package plan

import (
	"fmt"
	"math"

	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// share100 is how much of its alkali is drawn from the stock, in percent.
func (r Request) share100() float64 {
	if r.StockShare == 0 {
		return 100
	}
	return r.StockShare
}

// drawn is the pure alkali in g that one pot draws from the stock.
func (r Request) drawn(a recipe.Amounts) float64 {
	al := r.Formula.Alkali
	pure := a.NaOH * al.NaOHPurity / 100
	if r.Stock.KOH {
		pure = a.KOH * al.KOHPurity / 100
	}
	return pure * r.share100() / 100
}

// Jug is the lye jug of one pot of the given amounts.
func (r Request) Jug(a recipe.Amounts) lye.Jug {
	j := lye.Jug{LiquidC: r.LiquidC}
	if r.Stock == nil {
		j.Solution, j.Frozen = r.Formula.Jug(a)
		return j
	}
	j.Solution, j.Frozen = r.Formula.StockJug(a)
	j.Stock, j.Drawn = r.Stock, r.drawn(a)
	if r.Stock.KOH { // what is drawn was dissolved long ago
		j.Solution.Bound *= 1 - r.share100()/100
	}
	return j
}

// JugOf is the lye jug of a pot of its plan.
func (r Request) JugOf(pot Plan) lye.Jug { return r.Jug(pot.amounts()) }

// dry is what is left to weigh of each alkali, as bought, in g.
func (r Request) dry(naoh, koh float64) (float64, float64) {
	if r.Stock == nil {
		return naoh, koh
	}
	left := 1 - r.share100()/100
	if r.Stock.KOH {
		return naoh, koh * left
	}
	return naoh * left, koh
}

// adviseDissolving says when what goes into the liquid before the lye does not
// dissolve in what is left of it: a stock brings its own water, so there is
// less to dissolve sugar and salt in.
func (r Request) adviseDissolving(one Plan, a recipe.Amounts) []caution.Caution {
	var out []caution.Caution
	water := r.Formula.CarryingWater(a)
	if one.Draw != nil {
		water = one.Draw.LiquidToAdd
	}
	for i, u := range r.Formula.Uses() {
		known, _ := additive.Find(u.Name)
		if u.Stage.Into() != additive.ThePlainLiquid || known.Dissolves == 0 {
			continue
		}
		if most := water * known.Dissolves / 100; a.Additives[i] > most {
			out = append(out, caution.Caution{Code: "additive.dissolve", Level: caution.Warn,
				Reason: fmt.Sprintf(
					"%s g of %s do not dissolve in the %s g of water that go in before the lye: at most %s g do.",
					unit.Grams(a.Additives[i]),
					u.Name,
					unit.Grams(water),
					unit.Grams(most),
				),
				Remedy: "Use a weaker stock or dry lye, more liquid, or less of it."})
		}
	}
	for _, u := range r.Formula.Uses() {
		if one.Draw != nil && u.Stage.Into() == additive.TheLye && u.Is("silk") && one.PeakC < silkC {
			out = append(out, caution.Caution{Code: "additive.silk", Level: caution.Warn,
				Reason: fmt.Sprintf(
					"%s wants the warmth of fresh lye; a draw from the stock only warms to about %s °C.",
					u.Name,
					unit.Trim(one.PeakC, 0),
				),
				Remedy: "Dissolve the silk in a part of the lye that is weighed dry, or leave it out."})
		}
	}
	return out
}

// silkC is the warmth in °C below which silk stays a fibre.
const silkC = 60.0

// FatStock is a blend of fats that was melted together ahead, which several
// recipes share.
type FatStock struct {
	Name  string
	Blend fat.Blend // percent of the container
	Grams float64   // that are there; 0 when it does not matter
}

// check finds a blend that the formula cannot use; it may hold only fats of the
// recipe.
func (s FatStock) check(p *caution.Problems, f recipe.Formula) {
	if len(s.Blend) == 0 {
		p.Add("fat_stock", "the blend is empty")
	}
	for _, one := range s.Blend {
		if one.Percent <= 0 {
			continue
		}
		found := false
		for _, have := range f.Fats {
			found = found || have.Fat.Key() == one.Fat.Key()
			if have.AfterCook && have.Fat.Key() == one.Fat.Key() {
				p.Add("fat_stock", "%s holds %s, which this recipe holds back until after the cook", s.Name, one.Fat.Name)
			}
		}
		if !found {
			p.Add("fat_stock", "%s holds %s, which is not in this recipe", s.Name, one.Fat.Name)
		}
	}
}

// takes is how many g of the blend each of some equal pots takes: as much as its
// scarcest fat allows, and no more than there is for all of them. The rest of
// the fats is topped up.
func (s FatStock) takes(f recipe.Formula, a recipe.Amounts, pots int) float64 {
	most := math.Inf(1)
	if s.Grams > 0 {
		most = s.Grams / float64(pots)
	}
	for _, one := range s.Blend {
		if one.Percent <= 0 {
			continue
		}
		for i, have := range f.Fats {
			if have.Fat.Key() == one.Fat.Key() {
				most = math.Min(most, a.Fats[i]/(one.Percent/100))
			}
		}
	}
	if math.IsInf(most, 1) {
		return 0
	}
	return math.Max(0, math.Floor(most))
}

// brings is how much of a fat comes with a draw, in g.
func (s FatStock) brings(key string, draw float64) float64 {
	for _, one := range s.Blend {
		if one.Fat.Key() == key {
			return draw * one.Percent / 100
		}
	}
	return 0
}
