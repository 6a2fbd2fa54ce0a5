package recipes

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/unit"
	"ashshelf/web/page"
)

func TestAMisspeltFatIsAskedAboutAndNeverTaken(t *testing.T) {
	for typed, meant := range map[string]string{
		"olliv": "Olive oil", "coconit": "Coconut oil (24 C melt)", "caster oil": "Castor oil", "shae butter": "Shea butter",
		"zzzzqq": "", "xyz": "",
	} {
		f := &page.Form{Values: map[string][]string{"fats[0].fat": {typed}, "fats[0].percent": {"100"}}, System: unit.Metric}
		b, problems := readRecipe(f, stores{})
		assert.Empty(t, b.Formula.Fats, typed)
		if said := problems.At("fats[0].fat"); meant == "" {
			assert.NotContains(t, said, "did you mean")
		} else {
			assert.Contains(t, said, "did you mean "+meant+"?")
		}
	}
}
