package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/plan"
)

// What is on record is read for as long as there is a record: how a key is written never
// changes.
func TestItemsAreNamedAsTheyAreOnRecord(t *testing.T) {
	oil, ok := fat.BySlug("olive-oil")
	assert.True(t, ok)
	clay := additive.Use{Name: "Pink clay"}
	assert.EqualValues(t, "fat:olive-oil", plan.FatKey(oil))
	assert.EqualValues(t, "additive:Pink clay", plan.AdditiveKey(clay))
	assert.EqualValues(t, "fat:olive-oil;for:Pink clay", plan.FatKey(oil).Apart(clay))
	for _, k := range []plan.Key{plan.NaOHKey, plan.KOHKey, plan.StockKey} {
		assert.True(t, k.Alkali(), k)
	}
	assert.False(t, plan.FatStockKey.Alkali())
	assert.Equal(t, plan.StockItem, plan.FatStockKey.Kind())
}

func TestAPartThatIsSetApartIsStillOfItsIngredient(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		word := rapid.StringMatching(`[A-Za-z][a-z -]{0,12}`)
		of := plan.AdditiveKey(additive.Use{Name: word.Draw(t, "ingredient")})
		apart := of.Apart(additive.Use{Name: word.Draw(t, "use")})
		assert.Equal(t, of, apart.Ingredient())
		assert.Equal(t, of, of.Ingredient())
		assert.Equal(t, plan.AdditiveItem, apart.Kind())
		assert.NotEqual(t, of, apart)
	})
}
