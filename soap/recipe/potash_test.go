package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
)

// A kilo of olive oil takes 190 g of pure KOH. With five points more, 9.5 g are left over, which
// 9.5 × 192.12 ÷ (3 × 56.1056) = 10.84 g of citric acid take up.
func TestSoapOfPotashMayHaveLyeLeftOverThatIsNeutralised(t *testing.T) {
	f := soap(t, 5, 30, shares{"olive-oil": 100})
	f.Superfat = -5
	require.NotEmpty(t, f.Check().At("superfat_percent"), "a bar may not")
	f.Alkali.NaOHPercent = 50
	require.NotEmpty(t, f.Check().At("superfat_percent"), "nor mixed alkali")
	f.Alkali.NaOHPercent = 0
	require.Empty(t, f.Check())
	a := f.AmountsFor(1000)
	koh, citric := f.Excess(a)
	assert.InDelta(t, 9.5, koh, 0.01)
	assert.InDelta(t, 10.84, citric, 0.01)
	assert.InDelta(t, 190*1.05*100/f.Alkali.KOHPurity, a.KOH, 0.05)
	assert.False(t, f.LyeHeavy(f.SuperfatOf(a)), "it is meant so")
	assert.True(t, f.LyeHeavy(-7.5), "but not more than that")
	var codes []string
	for _, c := range f.Advise(f.SuperfatOf(a), a) {
		codes = append(codes, c.Code)
		assert.NotEqual(t, caution.Block, c.Level, c.Reason)
	}
	assert.Contains(t, codes, "superfat.excess")
	assert.Contains(t, f.Judge().Early.Words, "paste")
	f.Superfat = -11
	require.NotEmpty(t, f.Check().At("superfat_percent"))

	f.Superfat = 2
	koh, _ = f.Excess(f.AmountsFor(1000))
	assert.Zero(t, koh, "fat is left over")
}
