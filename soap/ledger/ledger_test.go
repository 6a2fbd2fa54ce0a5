package ledger_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/ledger"
)

func TestBarsLeaveComeBackAndAreCountedAnew(t *testing.T) {
	for _, c := range []struct {
		reason    ledger.Reason
		have, out int
		count     int
		change    int
		refused   string
	}{
		{ledger.Sold, 9, 0, 4, -4, ""}, {ledger.Gift, 9, 0, 9, -9, ""}, {ledger.Spoiled, 9, 0, 10, 0,
			"only 9 first grade"}, {ledger.Sold, 9, 0, 0, 0, "1 or more"}, {ledger.Sold, 9, 0, -1, 0, "1 or more"},
		{ledger.Returned, 5, 4, 3, 3, ""}, {ledger.Returned, 5, 4, 5, 0, "4 of first grade went out"},
		{ledger.Recount, 5, 4, 0, -5, ""}, {ledger.Recount, 5, 4, 7, 2, ""}, {"lost", 5, 0, 1, 0, "is not a reason"},
	} {
		change, err := ledger.Change(c.have, c.out, ledger.Of(ledger.First), c.reason, c.count)
		if c.refused != "" {
			assert.ErrorContains(t, err, c.refused, "%+v", c)
			continue
		}
		require.NoError(t, err, "%+v", c)
		assert.Equal(t, c.change, change, "%+v", c)
	}
}

// Whatever is asked, a balance never falls below zero.
func TestABalanceNeverFallsBelowZero(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		have, out := rapid.IntRange(0, 40).Draw(t, "have"), rapid.IntRange(0, 40).Draw(t, "out")
		change, err := ledger.Change(
			have,
			out,
			ledger.Of(rapid.SampledFrom(ledger.Grades()).Draw(t, "grade")),
			rapid.SampledFrom(ledger.Reasons()).Draw(t, "reason"),
			rapid.IntRange(-5, 80).Draw(t, "count"),
		)
		if err == nil {
			require.GreaterOrEqual(t, have+change, 0)
		}
	})
}

func TestEveryGradeAndReasonHasItsWords(t *testing.T) {
	for _, g := range append(ledger.Grades(), ledger.Scrap) {
		assert.NotEmpty(t, g.Words())
	}
	for _, r := range ledger.Reasons() {
		assert.True(t, r.Valid())
	}
}

func TestAKindIsSaidByItsGradeAndItsSizeWhereThatIsNotTheUsual(t *testing.T) {
	assert.Equal(t, "seconds", ledger.Of(ledger.Second).Words())
	guest := ledger.Kind{Size: "guest bar", Grade: ledger.First}
	_, err := ledger.Change(2, 0, guest, ledger.Sold, 3)
	assert.EqualError(t, err, "3 wanted, but only 2 first grade, guest bar are ready in this lot")
}

func TestWhatAKindIsCalledIsReadBack(t *testing.T) {
	for _, g := range ledger.Grades() {
		for _, size := range []string{"", "half", "second, half"} {
			k := ledger.Kind{Size: size, Grade: g}
			got, ok := ledger.KindOf(k.Words())
			assert.True(t, ok, k.Words())
			assert.Equal(t, k, got)
		}
	}
	for _, words := range []string{"", "olive oil", ledger.First.Words() + "rate"} {
		_, ok := ledger.KindOf(words)
		assert.False(t, ok, words)
	}
}
