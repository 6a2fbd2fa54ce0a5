package fat_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/fat"
)

func TestAFatIsFoundAsItIsTyped(t *testing.T) {
	for text, slug := range map[string]string{
		"olive-oil": "olive-oil", "Olive oil": "olive-oil", "EVOO": "olive-oil", "canola": "rapeseed-oil", "karite": "shea-butter",
		" Tallow ": "beef-tallow",
		"PKO":      "palm-kernel-oil", "hemp": "hempseed-oil", "babas": "babassu-oil", "wool f": "lanolin", "coconut": "coconut-oil",
	} {
		f, err := fat.Find(text)
		require.NoError(t, err, text)
		assert.Equal(t, slug, f.Slug, text)
	}
	_, err := fat.Find("sunfl")
	assert.ErrorContains(t, err, "Sunflower oil or Sunflower oil (high oleic)")
	_, err = fat.Find("moon oil")
	assert.ErrorContains(t, err, "not a fat of the table")
	_, err = fat.Find("")
	assert.Error(t, err)
	assert.Contains(t, fat.Names("coconut-oil").LookAlike, "fractionated")
}

func TestEverySynonymFindsItsOwnFat(t *testing.T) {
	for _, f := range fat.Reference() {
		for _, name := range append([]string{f.Slug, f.Name}, fat.Names(f.Slug).Synonyms...) {
			got, err := fat.Find(name)
			require.NoError(t, err, name)
			assert.Equal(t, f.Slug, got.Slug, name)
		}
	}
}

func TestASwapKeepsTheSum(t *testing.T) {
	a, _ := fat.BySlug("olive-oil")
	b, _ := fat.BySlug("coconut-oil")
	c, _ := fat.BySlug("lard")
	blend := fat.Blend{{Fat: a, Percent: 60}, {Fat: b, Percent: 40}}
	out, ok := blend.Swap("olive-oil", c)
	require.True(t, ok)
	assert.Equal(t, []float64{60, 40}, []float64{out[0].Percent, out[1].Percent})
	assert.Equal(t, "olive-oil", blend[0].Fat.Slug, "the blend itself stays")
	out, ok = blend.Swap("olive-oil", b)
	require.True(t, ok)
	assert.Equal(t, fat.Blend{{Fat: b, Percent: 100}}, out)
	_, ok = blend.Swap("lard", b)
	assert.False(t, ok)
}

func TestHeldSharesStayAndTheRestComesToAHundred(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := rapid.SliceOfN(rapid.Float64Range(0, 80), 1, 8).Draw(t, "shares")
		held := rapid.SliceOfN(rapid.Bool(), len(p), len(p)).Draw(t, "held")
		out, err := fat.Balance(p, held)
		if err != nil {
			return
		}
		sum := 0.0
		for i := range p {
			sum += out[i]
			if held[i] {
				require.Equal(t, p[i], out[i])
			}
			require.GreaterOrEqual(t, out[i], -1e-9)
		}
		require.InDelta(t, 100, sum, 1e-6)
	})
	_, err := fat.Balance([]float64{80, 30}, []bool{true, true})
	assert.ErrorContains(t, err, "110 %")
	_, err = fat.Balance([]float64{80}, []bool{true})
	assert.ErrorContains(t, err, "nothing free")
}
