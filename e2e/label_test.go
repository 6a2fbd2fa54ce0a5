package e2e_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The owner writes the words of a label and sees what they promise while she types.
func TestWordsOfALabelAreReadAsTheyAreTyped(t *testing.T) {
	t.Parallel()
	u := atDemo(t, 1280, 800)
	u.open("/recipes")
	u.press("Quern base")
	u.press("On the label")
	u.reads("#band", "Olea Europaea Fruit Oil")
	u.typeIn("f-words", "Cleans gently. Heals cracked hands.")
	u.reads("#band", "Heals cracked hands: not without approval")
	u.reads("#band", "Cleans gently: plain")
	assert.Equal(t, "f-words", eval[string](u, `document.activeElement.id`), "the typing goes on")
	u.accessible("label")
	u.typeIn("f-words", "Cleans cracked hands.")
	u.reads("#band", "Cleans cracked hands: plain")
	u.choose("f-style", "after-saponification")
	u.reads("#band", "Sodium Olivate")

	u.typeIn("f-loss", "80")
	u.reads("#f-loss-err", "between 0 and 60")
	u.reads("#band", "Mend what is marked")
	u.typeIn("f-loss", "9")
	u.reads("#band", "Sodium Olivate")
	u.reads("#f-loss-err", "")
	u.press("Read it")
	u.until("the address is the label's", `location.search.includes("loss=9&")`)
	u.open(eval[string](u, `location.pathname + location.search`))
	u.reads("#band", "Cleans cracked hands: plain")
	u.noErrors()
}
