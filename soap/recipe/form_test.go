package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/recipe"
)

func TestWhatIsNotCutHasNoCut(t *testing.T) {
	f := soap(t, 5, 33, shares{"olive-oil": 70, "coconut-oil": 30})
	for _, one := range []struct {
		material string
		divided  bool
		form     recipe.Form
	}{
		{recipe.LinedMold, false, recipe.Loaf}, {recipe.Silicone, false, recipe.Loaf}, {recipe.Silicone, true, recipe.Pieces},
		{recipe.Cavities, false, recipe.Pieces}, {recipe.Jar, false, recipe.Jars}, {recipe.Jar, true, recipe.Jars},
	} {
		assert.Equal(t, one.form, f.Form(one.material, one.divided), "%+v", one)
	}
	assert.Equal(t, recipe.LinedMold, f.Material())
	shave := f
	shave.Process.Kind = recipe.Shave
	assert.Equal(t, recipe.Jar, shave.Material(), "shave soap is meant for jars")
	potash := f
	potash.Alkali.NaOHPercent = 0
	assert.Equal(t, recipe.Paste, potash.Form(recipe.LinedMold, false), "whatever it is poured into")
	for _, m := range []recipe.Form{recipe.Jars, recipe.Paste} {
		assert.False(t, m.Unmolded())
		assert.False(t, m.Cut())
		assert.NotEmpty(t, m.Stays())
		assert.NotEqual(t, "bar", m.Piece())
	}
	assert.True(t, recipe.Pieces.Unmolded())
	assert.False(t, recipe.Pieces.Cut())
}

// Triolein (884 g/mol) and three moles of potash (168.3 g) give three of potassium oleate (961.7 g)
// and one of glycerol (92.1 g): a kilo of a fat with its SAP of 190.4 makes 1086 g of dry soap, a
// tenth less at a superfat of ten.
func TestDrySoapIsWhatStoichiometryMakesOfTheFats(t *testing.T) {
	f := soap(t, 0, 30, shares{"olive-oil": 100})
	f.Fats[0].Fat.SAP = 190.4
	f.Alkali.NaOHPercent = 0
	assert.InDelta(t, 1000+190.4-190.4/56.1056/3*92.094, f.DrySoap(f.AmountsFor(1000)), 0.01)
	assert.InDelta(t, 1086, f.DrySoap(f.AmountsFor(1000)), 1)
	whole := f.DrySoap(f.AmountsFor(1000))
	f.Superfat = 10
	assert.InDelta(t, 0.9*whole, f.DrySoap(f.AmountsFor(1000)), 0.01)
	f.Superfat = -5
	assert.InDelta(t, whole, f.DrySoap(f.AmountsFor(1000)), 0.01, "lye left over makes no more soap")
}

func TestAPasteIsThinnedWithNothingLost(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		f := soap(t, 0, 30, shares{"olive-oil": 60, "coconut-oil": 40})
		f.Alkali.NaOHPercent = 0
		f.Superfat = float64(rapid.IntRange(-8, 10).Draw(rt, "superfat"))
		f.Dilution = &recipe.Dilution{Soap: rapid.Float64Range(10, 35).Draw(rt, "soap"), Glycerin: rapid.Float64Range(0, 10).Draw(rt, "glycerin")}
		require.Empty(rt, f.Check())
		a := f.AmountsFor(rapid.Float64Range(50, 20_000).Draw(rt, "fats"))
		thin, ok := f.Thin(a, *f.Dilution)
		require.True(rt, ok)
		require.InEpsilon(rt, thin.Total, thin.Paste+thin.Water+thin.Glycerin+thin.Citric+thin.AcidIn, 1e-9)
		require.InEpsilon(rt, f.Dilution.Soap, 100*thin.Soap/thin.Total, 1e-9)
		require.Equal(rt, f.Superfat < 0, thin.Citric > 0, "what is left over on purpose is neutralised")
	})
	f := soap(t, 5, 30, shares{"olive-oil": 100})
	f.Dilution = &recipe.Dilution{Soap: 28}
	assert.NotEmpty(t, f.Check().At("dilution"), "a bar is not thinned")
	f.Alkali.NaOHPercent = 0
	f.Dilution.Soap = 50
	require.Empty(t, f.Check())
	f.Dilution.Glycerin = 38
	assert.Contains(t, f.Check().At("dilution.soap_percent"), "the most it can be")
	f.Dilution.Soap, f.Dilution.Glycerin = 60, -1
	assert.NotEmpty(t, f.Check().At("dilution.soap_percent"))
	assert.NotEmpty(t, f.Check().At("dilution.glycerin_percent"))
}
