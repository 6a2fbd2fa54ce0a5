package recipe_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
	"ashshelf/soap/recipe"
)

// Olive oil is published at 184 to 196, a standard deviation of 3 on 190; lye at half a percent:
// 0.95 × √((3/190)² + 0.005²) = 1.57 points, so that 5 % is 1.9 to 8.1 %.
func TestASuperfatIsAsSureAsItsOilsAndItsLye(t *testing.T) {
	f := soap(t, 5, 33, shares{"olive-oil": 100})
	a := f.AmountsFor(1000)
	low, high, heavy := f.SuperfatRange(a, 0)
	assert.InDelta(t, 1.85, low, 0.02)
	assert.InDelta(t, 8.15, high, 0.02)
	assert.Less(t, heavy, 0.001)

	f.Fats[0].Fat.SAP = 191 // off a certificate
	low, high, _ = f.SuperfatRange(f.AmountsFor(1000), 0)
	assert.InDelta(t, 2*100*0.95*math.Hypot(0.005, 0.005), (high-low)/2, 0.01, "a certificate makes it surer")

	many := soap(t, 5, 33, shares{"olive-oil": 40, "coconut-oil": 30, "beef-tallow": 30})
	low, high, _ = many.SuperfatRange(many.AmountsFor(1000), 0)
	assert.Less(t, high-low, 5.2, "what is off in one oil is not off in the others")
	coarse, _, _ := many.SuperfatRange(many.AmountsFor(50), 1)
	assert.Less(t, coarse, low, "a gram is much in a small pot")
}

// Ten thousand bars of oils and lye as they come.
func TestTheRangeHoldsForOilsAndLyeAsTheyCome(t *testing.T) {
	f := soap(t, 4, 33, shares{"olive-oil": 50, "coconut-oil": 30, "shea-butter": 20})
	a := f.AmountsFor(1000)
	low, high, heavy := f.SuperfatRange(a, 0.5)
	rng := rand.New(rand.NewPCG(1, 2))
	in, below := 0, 0
	const bars = 10_000
	for range bars {
		real, got := f, a
		real.Fats = append(real.Fats[:0:0], f.Fats...)
		for i := range real.Fats {
			one := &real.Fats[i].Fat
			one.SAP += rng.NormFloat64() * (one.SAPHigh - one.SAPLow) / 4
		}
		got.NaOH = (a.NaOH + 0.5*rng.NormFloat64()) * (1 + 0.005*rng.NormFloat64())
		s := real.SuperfatOf(got)
		if s >= low && s <= high {
			in++
		}
		if s < 0 {
			below++
		}
	}
	assert.InDelta(t, 95.4, 100*float64(in)/bars, 1)
	assert.InDelta(t, 100*heavy, 100*float64(below)/bars, 0.5)
}

func TestABarThatMayWellBeLyeHeavyIsWarnedOf(t *testing.T) {
	level := func(f recipe.Formula) caution.Level {
		require.Empty(t, f.Check())
		a := f.AmountsFor(1000)
		for _, c := range f.Advise(f.SuperfatOf(a), a) {
			if c.Code == "superfat.range" {
				return c.Level
			}
		}
		return ""
	}
	assert.Equal(t, caution.Warn, level(soap(t, 2.2, 33, shares{"olive-oil": 100})), "eight in a hundred")
	assert.Empty(t, level(soap(t, 5, 33, shares{"olive-oil": 100})))
	wide := soap(t, 2.2, 33, shares{"tamanu-oil": 100}) // published at 186 to 212
	assert.Equal(t, caution.Block, level(wide))
	wide.Fats[0].Fat.SAP = 203
	assert.Empty(t, level(wide), "a certificate settles it")
	potash := soap(t, 1, 33, shares{"olive-oil": 100})
	potash.Alkali.NaOHPercent = 0
	assert.Empty(t, level(potash), "soap of potash is neutralised")
}
