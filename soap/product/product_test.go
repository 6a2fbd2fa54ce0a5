package product_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/product"
)

func lamplight() product.Product {
	return product.Product{
		Name: "Fig by lamplight", Recipes: []string{"fig"}, Grades: []ledger.Grade{ledger.First}, Net: 95, Wording: "Cleans gently.",
		Prices: []product.Price{{Channel: "market", Amount: 750}}, Launch: "2026-02-01",
	}
}

func TestAProductThatCannotBeIsRefusedAtItsField(t *testing.T) {
	assert.Empty(t, lamplight().Check())
	for field, spoil := range map[string]func(*product.Product){
		"name":              func(p *product.Product) { p.Name = " " },
		"recipes":           func(p *product.Product) { p.Recipes = nil },
		"grades":            func(p *product.Product) { p.Grades = []ledger.Grade{ledger.Tester} },
		"net":               func(p *product.Product) { p.Net = 0 },
		"prices[0].channel": func(p *product.Product) { p.Prices[0].Channel = "" },
		"prices[1].channel": func(p *product.Product) { p.Prices = append(p.Prices, product.Price{Channel: "Market"}) },
		"prices[0].amount":  func(p *product.Product) { p.Prices[0].Amount = -1 },
		"launch":            func(p *product.Product) { p.Launch = "soon" },
		"until":             func(p *product.Product) { p.From, p.Until = "2026-05-01", "2026-04-01" },
	} {
		p := lamplight()
		spoil(&p)
		assert.NotEmpty(t, p.Check().At(field), field)
	}
}

// A claim that needs approval keeps a product from being offered until it is taken back or its approval is written
// down; a cosmetic one does not. The name is wording, too.
func TestAClaimKeepsAProductFromBeingOffered(t *testing.T) {
	p := lamplight()
	assert.Empty(t, p.NotOffered("2026-03-01"))
	p.Wording = "Cleans gently. Repels midges."
	assert.Contains(t, p.NotOffered("2026-03-01"), "“Repels midges” needs testing and approval")
	p.Approval = "B-2231 of 3 May"
	assert.Empty(t, p.NotOffered("2026-03-01"))
	p.Wording, p.Approval = "Softens hard hands.", ""
	assert.Empty(t, p.NotOffered("2026-03-01"))
	assert.Equal(t, label.Cosmetic, p.Claims()[1].Tier)
	p.Name, p.Wording = "Eczema bar", ""
	assert.NotEmpty(t, p.NotOffered("2026-03-01"))
}

func TestAProductIsOfferedFromItsLaunchAndInItsSeason(t *testing.T) {
	p := lamplight()
	assert.Equal(t, "it is launched on 1 Feb 2026", p.NotOffered("2026-01-31"))
	assert.Empty(t, p.NotOffered("2026-02-01"))
	p.From, p.Until = "2026-04-01", "2026-06-30"
	assert.Equal(t, "its season begins on 1 Apr 2026", p.NotOffered("2026-03-31"))
	assert.Empty(t, p.NotOffered("2026-06-30"))
	assert.Equal(t, "its season ended on 30 Jun 2026", p.NotOffered("2026-07-01"))
	p.Retired = true
	assert.Equal(t, "it is not sold any more", p.NotOffered("2026-05-01"))
}

func TestAPriceIsFoundByItsChannelHoweverItIsWritten(t *testing.T) {
	amount, ok := lamplight().Price(" MARKET ")
	assert.True(t, ok)
	assert.EqualValues(t, 750, amount)
	_, ok = lamplight().Price("web")
	assert.False(t, ok)
}

func TestBarsThatTwoProductsCouldUseStandWithBothUntilOneHasThem(t *testing.T) {
	products := map[string]product.Product{"lamp": lamplight(), "hearth": lamplight(), "old": lamplight()}
	retired := products["old"]
	retired.Retired = true
	products["old"] = retired
	half := ledger.Kind{Size: "half", Grade: ledger.First}
	piles := []product.OnHand{
		{Lot: "b", Number: 8, Recipe: "fig", Kind: ledger.Of(ledger.First), Bars: 18},
		{Lot: "a", Number: 3, Recipe: "fig", Kind: ledger.Of(ledger.First), Bars: 14, Aside: 1,
			Bound: []product.Bound{{Product: "lamp", Bars: 4}, {Product: "lamp", For: "fair", Bars: 2}, {For: "family", Bars: 1}}},
		{Lot: "c", Number: 2, Recipe: "fig", Kind: half, Bars: 6},
		{Lot: "d", Number: 1, Recipe: "salt", Kind: ledger.Of(ledger.First), Bars: 6},
	}
	got := product.Availabilities(products, piles)
	require.Len(t, got["lamp"], 2)
	assert.Equal(t, "a", got["lamp"][0].Lot, "the oldest first")
	assert.Equal(t, []int{4, 2, 6}, []int{got["lamp"][0].Labelled, got["lamp"][0].Reserved, got["lamp"][0].Shared})
	assert.Equal(t, 10, got["lamp"][0].Offered())
	assert.Equal(t, []string{"hearth"}, got["lamp"][0].With)
	require.Len(t, got["hearth"], 2)
	assert.Equal(t, []int{0, 0, 6}, []int{got["hearth"][0].Labelled, got["hearth"][0].Reserved, got["hearth"][0].Shared})
	assert.Empty(t, got["old"])
	piles[1].Blocked = "on hold"
	assert.Zero(t, product.Availabilities(products, piles)["lamp"][0].Offered())
	piles[1].Blocked, piles[1].Ready = "", "2026-05-01"
	assert.Zero(t, product.Availabilities(products, piles)["lamp"][0].Offered(), "never before its release")
}

// Of each pile, what is bound and what is free and what is kept is what there is, however it is shared out.
func TestEveryBarIsCountedOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		names := []string{"a", "b", "c"}
		products := map[string]product.Product{}
		for _, n := range names {
			p := lamplight()
			if rapid.Bool().Draw(t, "also salt "+n) {
				p.Recipes = append(p.Recipes, "salt")
			}
			products[n] = p
		}
		pile := product.OnHand{Lot: "x", Recipe: rapid.SampledFrom([]string{"fig", "salt"}).Draw(t, "recipe"), Kind: ledger.Of(ledger.First)}
		bound := 0
		for i := range rapid.IntRange(0, 5).Draw(t, "bounds") {
			b := product.Bound{Product: rapid.SampledFrom(names).Draw(t, fmt.Sprint("of ", i)), Bars: rapid.IntRange(1, 9).Draw(t, "bars")}
			if rapid.Bool().Draw(t, "reserved") {
				b.For = "fair"
			}
			bound += b.Bars
			pile.Bound = append(pile.Bound, b)
		}
		pile.Aside = rapid.IntRange(0, 3).Draw(t, "aside")
		pile.Bars = bound + pile.Aside + rapid.IntRange(0, 20).Draw(t, "free")
		sum, shared := 0, 0
		for _, list := range product.Availabilities(products, []product.OnHand{pile}) {
			for _, s := range list {
				sum += s.Labelled + s.Reserved
				shared = max(shared, s.Shared)
			}
		}
		if sum != bound || pile.Free() != pile.Bars-bound-pile.Aside || shared > pile.Free() {
			t.Fatalf("%d bound of %d, %d shared of %d", sum, bound, shared, pile.Free())
		}
	})
}
