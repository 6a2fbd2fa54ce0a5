package lye_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
)

// One mole of fat's ester takes one mole of hydroxide, whichever it is.
func TestTheTwoAlkalisDoTheWorkMoleForMole(t *testing.T) {
	naoh, koh := lye.Alkali{NaOHPercent: 100, NaOHPurity: 100, KOHPurity: 100}.Weigh(lye.MolarKOH)
	assert.InDelta(t, lye.MolarNaOH, naoh, 1e-9)
	assert.Zero(t, koh)
}

func TestSplitAlkalisAddUpToTheWholeAndReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := lye.Alkali{
			NaOHPercent: rapid.Float64Range(0, 100).Draw(t, "share"),
			NaOHPurity:  rapid.Float64Range(50, 100).Draw(t, "naoh"),
			KOHPurity:   rapid.Float64Range(50, 100).Draw(t, "koh"),
		}
		need := rapid.Float64Range(1, 1e5).Draw(t, "need")
		naoh, koh := a.Weigh(need)
		assert.InEpsilon(t, need, a.Power(naoh, koh), 1e-12)
	})
}

// The worked checks at the head of the heat table.
func TestHeatOfTheWorkedChecks(t *testing.T) {
	dry := lye.PeakDry(lye.Solution{NaOH: 33, Water: 67}, 20, lye.Frozen{})
	assert.InDelta(t, 110, dry, 1)
	stock := lye.Stock{Strength: 50, C: 21}
	assert.InDelta(t, 50.5, stock.PeakDraw(lye.Solution{NaOH: 35, Water: 65}, 35, 19, lye.Frozen{}), 0.5)
}

// The handbook's figures: a third of the water as ice from the freezer leaves
// a 33 % solution near 80 °C, a half near 64 °C.
func TestIceTakesTheHeat(t *testing.T) {
	s := lye.Solution{NaOH: 33, Water: 67}
	assert.InDelta(t, 80, lye.PeakDry(s, 20, lye.Frozen{Grams: 67.0 / 3, Water: 67.0 / 3}), 2)
	assert.InDelta(t, 64, lye.PeakDry(s, 20, lye.Frozen{Grams: 67.0 / 2, Water: 67.0 / 2}), 2)
	assert.Zero(
		t,
		lye.PeakDry(lye.Solution{NaOH: 1, Water: 99}, 5, lye.Frozen{Grams: 90, Water: 90}),
		"ice that does not melt stays at nought",
	)
}

func TestStrongerLyeIsHeavierAndWarmLyeLighter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := rapid.Float64Range(1, 51).Draw(t, "strength")
		koh := rapid.Float64Range(0, 1).Draw(t, "koh")
		at := func(w, c float64) float64 {
			return lye.Solution{NaOH: w * (1 - koh), KOH: w * koh, Water: 100 - w}.Density(c)
		}
		assert.Greater(t, at(w+0.5, 20), at(w, 20))
		assert.Less(t, at(w, 35), at(w, 20))
	})
	assert.InDelta(t, 1.360-15*0.00064, lye.Solution{NaOH: 33, Water: 67}.Density(35), 1e-9, "the table's own row")
}

func TestADrawBringsItsAlkaliAndItsWater(t *testing.T) {
	d := lye.Stock{Strength: 50, C: 21}.Draw(143.24)
	assert.InDelta(t, 286.48, d.Solution, 1e-9)
	assert.InDelta(t, 143.24, d.Water, 1e-9)
	assert.InDelta(t, 50, lye.WeakestFor(143.24, d.Water), 1e-9)
}

func TestCrystalsAreRefusedBelowTheirPointAndWarnedOfNearIt(t *testing.T) {
	assert.InDelta(t, 12, lye.CrystalC(50), 1e-9)
	check := func(c float64) (refused, warned bool) {
		k := lye.Stock{Strength: 50, C: c}
		var p caution.Problems
		k.Check(&p, "lye_stock")
		return len(p) > 0, len(k.Advise()) > 0
	}
	refused, _ := check(11.9)
	assert.True(t, refused)
	for _, c := range []float64{12, 15, 17} {
		refused, warned := check(c)
		assert.False(t, refused, c)
		assert.True(t, warned, c)
	}
	_, warned := check(17.1)
	assert.False(t, warned)
}

// Half of the saponification by each, all pure, is 39.997 to 56.1056 by weight: 41.6 % sodium hydroxide.
func TestTheShareOfAnAlkaliIsSaidByWeightToo(t *testing.T) {
	assert.InDelta(t, 41.62, lye.Alkali{NaOHPercent: 50, NaOHPurity: 100, KOHPurity: 100}.ByWeight(), 0.01)
	rapid.Check(t, func(t *rapid.T) {
		a := lye.Alkali{
			NaOHPercent: rapid.Float64Range(0, 100).Draw(t, "share"),
			NaOHPurity:  rapid.Float64Range(80, 100).Draw(t, "naoh"),
			KOHPurity:   rapid.Float64Range(80, 100).Draw(t, "koh"),
		}
		assert.InDelta(t, a.NaOHPercent, a.SharedByWeight(a.ByWeight()).NaOHPercent, 1e-9)
	})
}
