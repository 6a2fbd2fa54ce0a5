package label

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// said is a phrase of the table as somebody might say it.
func said(phrase []string) []string {
	return strings.Fields(strings.NewReplacer("*", "", "#", "6").Replace(strings.Join(phrase, " ")))
}

// A phrase of the table that is never heard, or a twin that no phrase needs, would be a rule that is
// not there.
func TestEveryPhraseOfTheTableIsHeardAndEveryTwinIsNeeded(t *testing.T) {
	require.NotEmpty(t, rules())
	for _, r := range rules() {
		assert.Contains(t, []Tier{Cosmetic, Approval}, r.tier, r.name)
		assert.NotEmpty(t, r.says, r.name)
		assert.NotEmpty(t, r.instead, r.name)
		for _, p := range r.phrases {
			_, heard := r.find(said(p))
			assert.True(t, heard, "%s: %v", r.name, p)
		}
		for _, twin := range r.innocent {
			words := said(twin)
			_, heard := r.find(words)
			assert.False(t, heard, "%s: %v", r.name, twin)
			bare := rule{phrases: r.phrases}
			_, heard = bare.find(words)
			assert.True(t, heard, "%s: nothing would be heard in %v anyway", r.name, twin)
		}
		assert.Equal(t, Plain, Read(r.instead)[0].Tier, "%s: the sound way promises something as well", r.name)
	}
}
