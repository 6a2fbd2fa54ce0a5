package web_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What stands on a label, from a recipe in the book.
func TestALabelIsReadOffARecipeAndItsWordsAreWeighed(t *testing.T) {
	t.Parallel()
	v := visit(t)
	kept := v.link("/recipes", "recipes", "Quern base")
	_, recipe := v.get(kept)
	has(t, recipe, kept+"/label")
	_, page := v.get(kept + "/label?" + url.Values{
		"style": {"after-saponification"}, "words": {"Cleans gently. Repels midges.\nSoftens <b>hands</b>"}, "loss": {"9,5"},
	}.Encode())
	hasAll(t, page, "Sodium Olivate, Sodium Cocoate", "Repels midges</b>: not without approval",
		"“repels” says that it keeps insects away",
		"Softens &lt;b&gt;hands&lt;/b&gt;</b>: a cosmetic claim", "Cleans gently</b>: plain")

	_, page = v.get(v.link("/recipes", "recipes", "Trial: hemp and tomato leaf") + "/label")
	has(t, page, "No allergens are declared of")

	_, page = v.get(kept + "/label")
	assert.NotContains(t, page, "No allergens are declared")
	hasAll(t, page, "Olea Europaea Fruit Oil", "Sodium Hydroxide")
	for _, c := range []struct{ field, bad, says string }{
		{"loss", "lots", "f-loss-err"}, {"loss", "61", "between 0 and 60"}, {"loss", "50", "no more can dry away"},
		{"style", "upside down", "say as-put-in"},
		{"colours", "loud", "say number or name"}, {"allergens", "Linalool 4 %", "line 1: write it as"},
		{"allergens", "Moonbeam: Linalool 4 %", "no additive “Moonbeam”"}, {"allergens", "Sugar (granulated): Linalool 104", "up to 100 %"},
	} {
		status, page := v.get(kept + "/label?" + url.Values{c.field: {c.bad}, "words": {"It heals"}}.Encode())
		assert.Equal(t, http.StatusOK, status)
		hasAll(t, page, c.says, "Mend what is marked", "It heals</b>: not without approval")
		assert.NotContains(t, page, "Sodium Hydroxide", c.bad)
	}
}
