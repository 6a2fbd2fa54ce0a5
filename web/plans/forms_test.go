package plans

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/shop/planning"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
	"ashshelf/web/page"
	"ashshelf/web/page/pagetest"
)

func FuzzTheFormOfAPlanIsReadOrRefused(f *testing.F) {
	pagetest.FuzzForms(f, map[string]func(*page.Form) any{
		"order": func(f *page.Form) any { return readOrder(f) },
	})
}

// A paste and a cooked soap do not gel by the heat of a mold, and nobody is told that they would.
func TestOnlyALoafIsForetoldToGel(t *testing.T) {
	loaf := recipe.Formula{Alkali: lye.DefaultAlkali()}
	paste, cooked := loaf, loaf
	paste.Alkali.NaOHPercent = 0
	cooked.Process.Kind = recipe.Cooked
	assert.Empty(t, planning.NoLoaf(loaf))
	assert.Contains(t, planning.NoLoaf(paste), "no loaf")
	assert.Contains(t, planning.NoLoaf(cooked), "in its pot")
}

func TestOwnLotsThatSpeakAgainstAGelAreHeard(t *testing.T) {
	assert.True(t, gelPage{Seen: make([]gelSeen, 3), Fits: 1}.Doubted())
	assert.False(t, gelPage{Seen: make([]gelSeen, 3), Fits: 2}.Doubted())
	assert.False(t, gelPage{}.Doubted(), "no lot says nothing")
}
