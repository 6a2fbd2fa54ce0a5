package lot_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

// Reference bars are taken to be of the best that there are, of what is nobody's; what is left of them comes off the
// next grade.
func TestReferenceBarsAreOfTheBestThatAreNobodys(t *testing.T) {
	first, second := ledger.Of(ledger.First), ledger.Of(ledger.Second)
	l := &lot.Lot{
		Cut:     &lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9, ledger.Second: 3}},
		Balance: map[ledger.Kind]int{first: 5, second: 3},
		Bound:   []lot.BoundBars{{Kind: first, Product: "lamp", Bars: 2}, {Kind: first, For: "fair", Bars: 2}},
		Kept:    []lot.ReferenceBars{{Bars: 2}},
	}
	assert.Equal(t, []int{4, 1, 1}, []int{l.BoundOf(first), l.Aside(first), l.Aside(second)})
	assert.Equal(t, []int{0, 2}, []int{l.FreeOf(first), l.FreeOf(second)})
	l.Kept = nil
	assert.Equal(t, []int{1, 3}, []int{l.FreeOf(first), l.FreeOf(second)})
	went := lot.Went{Product: "Slate", Channel: "market", Event: "Quay fair", Buyer: "Ada"}
	assert.Equal(t, "Slate, market, Quay fair, to Ada", went.Words())
	assert.Empty(t, lot.Went{}.Words())
}
