package recipe_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/fat"
	"ashshelf/soap/recipe"
)

func TestTheSuperfatOfCookedSoapIsHeldBack(t *testing.T) {
	f := soap(t, 6, 33, shares{"olive-oil": 60, "coconut-oil": 35, "shea-butter": 5})
	shea := -1
	for i, s := range f.Fats {
		if s.Fat.Slug == "shea-butter" {
			shea = i
		}
	}
	whole := f.AmountsFor(1000)
	f.Fats[shea].AfterCook = true
	assert.Contains(t, f.Check().At("fats["+string(rune('0'+shea))+"].after_cook"), "hot process", "cold soap has no after")
	f.Process.Kind = recipe.Cooked
	require.Empty(t, f.Check())
	assert.Equal(t, whole, f.AmountsFor(1000), "the lye is that of all its fats")
	assert.NotContains(t, codes(f), "cook.held-back")

	f.Superfat = 3
	assert.Contains(t, codes(f), "cook.held-back", "more is held back than stays unsaponified")
	for i := range f.Fats {
		f.Fats[i].AfterCook = true
	}
	assert.NotEmpty(t, f.Check(), "the pot would be empty")
}

func TestAnOwnFatIsAsSureAsItsCertificate(t *testing.T) {
	f := soap(t, 5, 33, shares{"olive-oil": 100})
	f.Fats[0].Fat = fat.NewOwn("House oil", 190, 0.91, "olive-oil")
	width := func() float64 {
		low, high, _ := f.SuperfatRange(f.AmountsFor(1000), 0)
		return high - low
	}
	hearsay := width()
	f.Fats[0].Fat.Certified = true
	assert.Less(t, width(), hearsay/2)
}
