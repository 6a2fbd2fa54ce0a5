package lye_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
)

// 8 kg of 50 % stock from 98 % beads: 8000 × 50/98 = 4081.6 g, the rest water.
func TestAStockIsMadeWithThePurityTakenIntoAccount(t *testing.T) {
	b := lye.Batch{Stock: lye.Stock{Strength: 50}, Purity: 98, Grams: 8000}
	alkali, water := b.Weigh()
	assert.InDelta(t, 4081.63, alkali, 0.01)
	assert.InDelta(t, 3918.37, water, 0.01)
	assert.InDelta(t, 50, lye.Made(alkali, water, 98), 1e-9)
	assert.InDelta(t, 5246, b.Volume(8000), 1, "1.525 g/ml")
	rapid.Check(t, func(t *rapid.T) {
		b := lye.Batch{
			Stock:  lye.Stock{Strength: rapid.Float64Range(10, 49).Draw(t, "strength"), KOH: rapid.Bool().Draw(t, "koh")},
			Purity: rapid.Float64Range(50, 100).Draw(t, "purity"),
			Grams:  rapid.Float64Range(50, 1e5).Draw(t, "grams"),
		}
		var p caution.Problems
		if b.Check(&p, "b"); len(p) > 0 {
			return
		}
		alkali, water := b.Weigh()
		require.InEpsilon(t, b.Grams, alkali+water, 1e-12, "nothing is lost")
		require.GreaterOrEqual(t, water, 0.0)
		require.InEpsilon(t, b.Strength, lye.Made(alkali, water, b.Purity), 1e-9)
	})
	for path, bad := range map[string]lye.Batch{
		"b.strength": {Stock: lye.Stock{Strength: 70}, Purity: 98, Grams: 1000},
		"b.purity":   {Stock: lye.Stock{Strength: 50}, Purity: 30, Grams: 1000},
		"b.grams":    {Stock: lye.Stock{Strength: 50}, Purity: 98, Grams: -4},
	} {
		var p caution.Problems
		bad.Check(&p, "b")
		assert.NotEmpty(t, p.At(path), path)
	}
}

// The table's own nodes: what is read is the strength it was made with, at
// whatever warmth it is read.
func TestADensityTellsTheStrength(t *testing.T) {
	for strength, density := range map[float64]float64{50: 1.525, 40: 1.430, 33: 1.360, 20: 1.219} {
		got, ok := lye.ByDensity(density, 20, false)
		require.True(t, ok)
		assert.InDelta(t, strength, got, 0.02)
	}
	rapid.Check(t, func(t *rapid.T) {
		k := lye.Stock{Strength: rapid.Float64Range(5, 52).Draw(t, "strength"), KOH: rapid.Bool().Draw(t, "koh")}
		c := rapid.Float64Range(5, 45).Draw(t, "celsius")
		got, ok := lye.ByDensity(k.Density(c), c, k.KOH)
		require.True(t, ok)
		require.InDelta(t, k.Strength, got, 1e-6)
	})
	for _, d := range []float64{0.9, 1.0, 1.7} {
		_, ok := lye.ByDensity(d, 20, false)
		assert.False(t, ok, "%v g/ml is no lye of the table", d)
	}
}

func TestWaterComesAndGoes(t *testing.T) {
	water, peak, ok := lye.Stock{Strength: 50, C: 20}.Weaker(700, 35, 20)
	require.True(t, ok)
	assert.InDelta(t, 300, water, 1e-9)
	assert.InDelta(t, 50.5, peak, 1.5, "as when it is drawn into a batch: about 30 °C warmer")
	for _, to := range []float64{50, 60, 0, -5, math.NaN()} {
		_, _, ok := lye.Stock{Strength: 50}.Weaker(700, to, 20)
		assert.False(t, ok, "water never makes it stronger, nor water of it: %v", to)
	}
	assert.InDelta(t, 50.5, lye.Evaporated(50, 1000, 990.1), 0.001)
	assert.InDelta(t, 12, lye.Stock{Strength: 50}.Crystal(), 0.01)
	assert.InDelta(t, 10, lye.Stock{Strength: 50.7, KOH: true}.Crystal(), 0.01)
	assert.Less(t, lye.Stock{Strength: 40, KOH: true}.Crystal(), -20.0, "potash lye stays clear in the cold")
}

func TestContainersAreChosenByDensityAndMaterial(t *testing.T) {
	k := lye.Stock{Strength: 50}
	assert.Empty(t, k.Fill(8000, 6000), "8 kg take 5.2 l")
	assert.Equal(t, caution.Block, k.Fill(8000, 5000)[0].Level)
	assert.Equal(t, caution.Block, lye.Material("aluminium").Advise(80)[0].Level)
	assert.Empty(t, lye.Material("pp").Advise(110))
	assert.Equal(t, caution.Advice, lye.Material("hdpe").Advise(110)[0].Level)
	assert.Empty(t, lye.Material("hdpe").Advise(40))
	for _, m := range lye.Materials() {
		assert.NotEmpty(t, m.Words())
		assert.Positive(t, m.VesselHeat())
	}
}

// Energy of the parts before is energy of the whole after.
func TestTheHeatBalanceCloses(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		naoh, water := rapid.Float64Range(20, 400).Draw(t, "naoh"), rapid.Float64Range(420, 1500).Draw(t, "water")
		ice := water * rapid.Float64Range(0, 0.6).Draw(t, "ice")
		start := rapid.Float64Range(2, 35).Draw(t, "start")
		s := lye.Solution{NaOH: naoh, Water: water}
		peak := lye.PeakDry(s, start, lye.Frozen{Grams: ice, Water: ice})
		if peak == 0 {
			return // ice is left over
		}
		gained := s.Heat() - (naoh+water)*s.SpecificHeat()*(peak-start)
		melted := ice * (334 + 2.1*18 + 4.18*start)
		require.InDelta(t, 0, (gained-melted)/s.Heat(), 1e-9)
		vessel := s.Lossy(peak, 400, 1.9, start)
		require.LessOrEqual(t, vessel, math.Max(peak, start))
		require.InDelta(
			t,
			0,
			((naoh+water)*s.SpecificHeat()*(peak-vessel)-400*1.9*(vessel-start))/s.Heat(),
			1e-9,
			"what the lye loses the jug gains",
		)
	})
}

func TestIceIsFoundThatKeepsALimit(t *testing.T) {
	j := lye.Jug{Solution: lye.Solution{NaOH: 33, Water: 67}, LiquidC: 20}
	g, ok := j.FrozenFor(64, 67, 1)
	require.True(t, ok)
	assert.InDelta(t, 67.0/2, g, 2, "a half, as makers find")
	none, ok := j.FrozenFor(120, 67, 1)
	assert.True(t, ok)
	assert.Zero(t, none)
	_, ok = lye.Jug{Solution: lye.Solution{NaOH: 50, Water: 50}, LiquidC: 20}.FrozenFor(20, 50, 1)
	assert.False(t, ok, "not even all of it")
	rapid.Check(t, func(t *rapid.T) {
		limit := rapid.Float64Range(25, 100).Draw(t, "limit")
		share := rapid.SampledFrom([]float64{1, 0.87}).Draw(t, "water in it")
		g, ok := j.FrozenFor(limit, 67, share)
		at := func(g float64) float64 {
			one := j
			one.Frozen = lye.Frozen{Grams: g, Water: g * share}
			return one.LimitC()
		}
		if ok {
			require.LessOrEqual(t, at(g), limit+1e-6)
		}
		if ok && g > 0 {
			require.Greater(t, at(g*0.99), limit, "and no more of it than is needed")
		}
	})
}

func code(list []caution.Caution) (out []string) {
	for _, c := range list {
		out = append(out, string(c.Level)+" "+c.Code)
	}
	return out
}

func TestStrongLyeBoilsLater(t *testing.T) {
	assert.InDelta(t, 100, lye.Solution{Water: 100}.BoilsC(), 1e-9)
	assert.InDelta(t, 142, lye.Solution{NaOH: 50, Water: 50}.BoilsC(), 1e-9)
	dry := func(strength, liquidC float64) lye.Jug {
		return lye.Jug{Solution: lye.Solution{NaOH: strength, Water: 100 - strength}, LiquidC: liquidC}
	}
	assert.Equal(t, []string{"advice lye.spits"}, code(dry(33, 20).Advise()), "everyday lye")
	assert.Equal(t, []string{"advice lye.warm"}, code(dry(20, 20).Advise()))
	assert.Equal(t, []string{"warn lye.may-boil"}, code(dry(33, 32).Advise()))
	assert.Equal(t, []string{"block lye.liquid-hot", "warn lye.may-boil"}, code(dry(33, 41).Advise()))
	assert.Equal(t, []string{"block lye.liquid-hot", "block lye.boils"}, code(dry(33, 48).Advise()))
	for c := -5.0; c < 100; c += 3 {
		j := dry(33, c)
		assert.LessOrEqual(t, j.PeakC(), j.Solution.BoilsC(), "no figure above boiling is shown")
		for _, one := range j.Advise() {
			assert.NotContains(t, one.Reason, "130 °C")
		}
	}
}

// Flakes of potassium hydroxide hold water already, which gives off 38 kJ a mole
// less: 33 g of them in 67 g of water at 20 °C.
func TestFlakesOfPotashHeatLess(t *testing.T) {
	for purity, want := range map[float64]float64{95: 105, 90: 89, 85: 73} {
		pure := 33 * purity / 100
		j := lye.Jug{Solution: lye.Solution{KOH: pure, Water: 100 - pure, Bound: 33 - pure}, LiquidC: 20}
		assert.InDelta(t, want, j.PeakC(), 1.5, "%v %%", purity)
	}
	most := lye.Solution{KOH: lye.MolarKOH, Water: 200, Bound: lye.MolarWater}
	more := most
	more.Bound *= 3
	assert.InDelta(t, most.Heat(), more.Heat(), 1e-9, "at most one water to each")
}

// Lye of 30 % sprinkled slowly onto milk that is all frozen was measured at 28 °C;
// a third or a half of ice changes nothing of what makers find.
func TestAnUpperLimitLiesAboveWhatIsMeasured(t *testing.T) {
	j := func(frozen, share float64) lye.Jug {
		return lye.Jug{
			Solution: lye.Solution{NaOH: 30, Water: 70},
			LiquidC:  20,
			Frozen:   lye.Frozen{Grams: frozen, Water: frozen * share},
		}
	}
	assert.Greater(t, j(70, 0.87).LimitC(), 28.0)
	assert.Less(t, j(70, 0.87).LimitC(), 35.0)
	for _, part := range []float64{0, 70.0 / 3, 35} {
		assert.InDelta(t, lye.PeakDry(j(part, 1).Solution, 20, j(part, 1).Frozen), j(part, 1).LimitC(), 1e-9)
	}
}

func TestLyeBelowItsCrystalPointIsWarnedOf(t *testing.T) {
	s := lye.Solution{NaOH: 45, Water: 55}
	assert.Empty(t, s.AdviseCold(20))
	assert.Equal(t, []string{"warn lye.crystals.cold"}, code(s.AdviseCold(2)))
	assert.Empty(t, lye.Solution{KOH: 45, Water: 55}.AdviseCold(2), "potash lye stays clear")
	assert.Empty(t, lye.Solution{Water: 5}.AdviseCold(-10))
}

func TestCoolingIsAClockThatRunsBothWays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := lye.Cooling{
			StartC: rapid.Float64Range(50, 110).Draw(t, "start"),
			RoomC:  rapid.Float64Range(10, 28).Draw(t, "room"),
			Tau:    rapid.Float64Range(8, 200).Draw(t, "tau"),
		}
		want := rapid.Float64Range(c.RoomC+2, c.StartC-1).Draw(t, "want")
		require.InDelta(t, want, c.At(c.Until(want)), 1e-6)
	})
	c := lye.Cooling{StartC: 90, RoomC: 20, Tau: lye.UsualTau(1000, "open", false)}
	assert.InDelta(t, 75, c.Until(40), 5, "a litre from 90 to 40 °C")
	assert.Zero(t, c.Until(95))
	assert.True(t, math.IsInf(c.Until(15), 1))
	assert.Less(t, lye.UsualTau(1000, "ice", false), lye.UsualTau(1000, "water", false))
	assert.Greater(t, lye.UsualTau(8000, "open", false), lye.UsualTau(1000, "open", false))
	fats := lye.Cooling{StartC: 60, RoomC: 20, Tau: 40}
	minutes, ok := lye.Meet(c, fats, 30, 43, 10)
	require.True(t, ok)
	assert.LessOrEqual(t, c.At(minutes), 43.0)
	assert.InDelta(t, c.At(minutes), math.Max(30, fats.At(minutes)), 10, "fats that would set are kept warm until then")
	_, ok = lye.Meet(c, lye.Cooling{StartC: 29, RoomC: 20, Tau: 40}, 30, 43, 10)
	assert.False(t, ok, "what is too cold already is not ready, however warm the other is")
	_, ok = lye.Meet(c, fats, 10, 15, 10)
	assert.False(t, ok, "never below the room")
}

// Made pots with a known truth: after three readings of a kitchen thermometer,
// ten minutes apart, the waiting time still to come is within 15 % for nearly
// all of them.
func TestThreeReadingsTellTheWaitingTime(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 14))
	const pots = 500
	within := 0
	for range pots {
		grams := 300 + rng.Float64()*4000
		usual := lye.UsualTau(grams, "open", false)
		truth := lye.Cooling{StartC: 70 + rng.Float64()*35, RoomC: 16 + rng.Float64()*8, Tau: usual * math.Exp(rng.NormFloat64()*0.3)}
		var readings []lye.Reading
		for i := range 3 {
			at := float64(i) * 10
			readings = append(readings, lye.Reading{Minutes: at, C: truth.At(at) + rng.NormFloat64()*0.5})
		}
		learned := lye.Cooling{StartC: readings[0].C, RoomC: truth.RoomC, Tau: usual}.Learn(readings)
		wait, real := learned.Until(38)-20, truth.Until(38)-20
		if real < 5 || math.Abs(wait/real-1) <= 0.15 {
			within++
		}
	}
	assert.GreaterOrEqual(t, within, pots*90/100, "%d of %d within 15 %%", within, pots)
}

// A jug as physics has it, in steps of five seconds: natural convection by the 5/4 power of the
// distance, radiation by the fourth power of the temperature, and water that dries off the top as
// its vapour pressure asks for.
func physicalJug(startC, roomC, tau float64) func(minutes float64) float64 {
	kelvin := func(c float64) float64 { return c + 273.15 }
	vapour := func(c float64) float64 { return math.Exp(17.27 * c / (c + 237.3)) } // Tetens
	convection := func(d float64) float64 { return math.Pow(d/40, 1.25) }
	radiation := func(c float64) float64 { return math.Pow(kelvin(c), 4) - math.Pow(kelvin(roomC), 4) }
	evaporation := func(c float64) float64 { return vapour(c) - 0.5*vapour(roomC) }
	at := roomC + 40
	var path []float64
	for c := startC; c > roomC+1 && len(path) < 60*12*12; {
		path = append(path, c)
		rate := 0.55*convection(c-roomC) + 0.35*radiation(c)/radiation(at) + 0.10*evaporation(c)/evaporation(at)
		c -= 40 / tau * rate / 12
	}
	return func(minutes float64) float64 { return path[min(len(path)-1, int(minutes*12))] }
}

func TestWaitsAreNotTooShortForRealPots(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 71))
	const pots = 200
	ratio := make([]float64, pots)
	for i := range ratio {
		grams, start, room := 400+rng.Float64()*3000, 75+rng.Float64()*20, 17+rng.Float64()*7
		usual := lye.UsualTau(grams, "open", false)
		truth := physicalJug(start, room, usual*math.Exp(rng.NormFloat64()*0.25))
		var readings []lye.Reading
		for k := range 3 {
			at := float64(k) * 8
			readings = append(readings, lye.Reading{Minutes: at, C: truth(at) + rng.NormFloat64()*0.5})
		}
		real := 16.0
		for truth(real) > 38 {
			real += 0.1
		}
		told := lye.Cooling{StartC: readings[0].C, RoomC: room, Tau: usual}.Learn(readings).Until(38)
		ratio[i] = (told - 16) / (real - 16)
	}
	slices.Sort(ratio)
	assert.InDelta(t, 1, ratio[pots/2], 0.07, "the middle pot waits as long as it was told")
	assert.Greater(t, ratio[pots/10], 0.8, "nine pots in ten are not a fifth late")
}

func TestAJugsOwnClockScalesWithTheBatch(t *testing.T) {
	assert.InDelta(t, 60, lye.OwnTau(60, nil), 1e-9, "a jug that was never timed is as others are")
	assert.InDelta(t, 75, lye.OwnTau(60, []float64{1.2, 1.25, 4}), 1e-9, "one morning by the stove turns nothing")
	assert.InDelta(
		t,
		2*lye.OwnTau(lye.UsualTau(500, "open", false), []float64{1.3}),
		lye.OwnTau(lye.UsualTau(4000, "open", false), []float64{1.3}),
		1e-9,
		"eight times the lye, twice the time",
	)
}
