package label_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

func twoOils(uses ...additive.Use) recipe.Formula {
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	return recipe.Formula{
		Name: "Two oils", Fats: fat.Blend{{Fat: olive, Percent: 60}, {Fat: coconut, Percent: 40}}, Alkali: lye.DefaultAlkali(), Superfat: 5,
		Water:     recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Liquids:   []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Additives: uses,
	}
}

func names(l label.Label) (out []string) {
	for _, i := range l.Ingredients {
		out = append(out, i.Name)
	}
	return out
}

// Of 100 g of these fats: KOH value 0.6 × 190 + 0.4 × 257 = 216.8 or so, ÷ 1000 × 0.713 × 0.95 = 14.7 g of lye, and 29.8 g of
// water at 33 %. A loss of 12 % takes 17 g of the 144.5 g: 12.5 g of water is left, which is less than the lye, and more
// was put in.
func TestAListCanGoByWhatWasPutIn(t *testing.T) {
	q := label.Request{Formula: twoOils(), Style: label.AsPutIn, DryingLoss: 12}
	bar, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, []string{"Olea Europaea Fruit Oil", "Cocos Nucifera Oil", "Sodium Hydroxide", "Aqua"}, names(bar))
	q.ByAdded = true
	added, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, []string{"Olea Europaea Fruit Oil", "Cocos Nucifera Oil", "Aqua", "Sodium Hydroxide"}, names(added))
	assert.InDelta(t, bar.Ingredients[3].Percent, added.Ingredients[2].Percent, 1e-9, "the shares stay those of the bar")

	q.Style = label.AfterSaponification
	soap, err := label.Make(q)
	require.NoError(t, err)
	assert.Equal(t, []string{"Sodium Olivate", "Sodium Cocoate", "Aqua"}, names(soap)[:3], "nearly all of each oil, then the water")
	sum := 0.0
	for _, i := range soap.Ingredients {
		if i.Name != "Glycerin" { // which nobody put in
			sum += i.Added
		}
	}
	poured := 100 * (1 / 0.88)
	assert.InDelta(t, poured, sum+lyeShare(bar), 0.01, "what was put in is all there, but for the lye that is in the soap")
}

func lyeShare(l label.Label) float64 {
	for _, i := range l.Ingredients {
		if i.Name == "Sodium Hydroxide" {
			return i.Added
		}
	}
	return 0
}

func TestScrapsBringTheirNamesTheirAllergensAndTheirMarks(t *testing.T) {
	fig := stirred("Fig leaf", 4)
	fig.Behaviour = additive.Behaves
	palm, err := fat.Find("palm oil")
	require.NoError(t, err)
	old := twoOils(fig)
	old.Fats[1] = fat.Share{Fat: palm, Percent: 40}
	plain := label.Request{Formula: twoOils(), Style: label.AsPutIn, DryingLoss: 12}
	scraps := label.Request{Formula: old, Style: label.AsPutIn, DryingLoss: 12,
		Allergens: []label.Declared{{Additive: "Fig leaf", Name: "Linalool", Percent: 3}}}
	alone, err := label.Make(scraps)
	require.NoError(t, err)
	l, err := label.Mix([]label.Part{{Request: plain, Grams: 700}, {Request: scraps, Grams: 300}}, "Vegan.")
	require.NoError(t, err)
	assert.Contains(t, names(l), "Elaeis Guineensis Oil")
	require.Len(t, l.Allergens, 1)
	assert.InDelta(t, alone.Allergens[0].Percent*0.3, l.Allergens[0].Percent, 1e-9)
	assert.NotContains(t, l.Marks, "palm-free")
	assert.NotContains(t, l.Marks, "unscented")
	sum := 0.0
	for _, i := range l.Ingredients {
		sum += i.Percent
	}
	assert.InDelta(t, 100, sum, 1e-6)
	few, err := label.Mix([]label.Part{{Request: plain, Grams: 999}, {Request: scraps, Grams: 1}}, "")
	require.NoError(t, err)
	assert.Empty(t, few.Allergens, "under the threshold of the bar that they are in")
}

// However the parts are, the list is of the whole, and a mark holds for all of it or for none.
func TestAMixOfSoapsIsWholeAndCalledOnlyWhatAllOfThemAre(t *testing.T) {
	honey := additive.Use{Name: "Honey", Stage: additive.Trace, Basis: additive.PercentOfFats, Rate: 2, Density: 1.4}
	rapid.Check(t, func(t *rapid.T) {
		var parts []label.Part
		animal := false
		for range rapid.IntRange(1, 4).Draw(t, "parts") {
			f := twoOils()
			if rapid.Bool().Draw(t, "honey") {
				f, animal = twoOils(honey), true
			}
			parts = append(parts, label.Part{Grams: rapid.Float64Range(1, 900).Draw(t, "grams"), Request: label.Request{
				Formula: f, Style: rapid.SampledFrom(label.Styles()).Draw(t, "style"), DryingLoss: rapid.Float64Range(0, 15).Draw(t, "loss")}})
		}
		l, err := label.Mix(parts, "")
		if err != nil {
			t.Fatal(err)
		}
		sum, vegan := 0.0, false
		for _, i := range l.Ingredients {
			sum += i.Percent
		}
		for _, m := range l.Marks {
			vegan = vegan || m == "vegan"
		}
		if sum < 100-1e-6 || sum > 100+1e-6 || vegan == animal {
			t.Fatalf("%v %%, %v", sum, l.Marks)
		}
	})
}

func TestAWordingSaysAMarkOrDoesNot(t *testing.T) {
	for words, marks := range map[string][]string{
		"Vegan and palm-free.":                   {"palm-free", "vegan"},
		"Made without palm, unscented":           {"palm-free", "unscented"},
		"Not vegan: there is honey in it":        nil,
		"It isn’t unscented, it smells of hay":   nil,
		"Not vegan once, but vegan now":          {"vegan"},
		"Smells of vanilla and of a palm garden": nil,
		"No scent at all":                        {"unscented"},
	} {
		assert.Equal(t, marks, label.MarksSaid(words), words)
	}
}

// A lot that was weighed otherwise than planned, and into which somebody poured honey, has the label of what is in it.
func TestTheLabelOfALotIsOfWhatWasWeighed(t *testing.T) {
	f := twoOils()
	pot, err := plan.Make(plan.Request{Formula: f, Rule: plan.Computed, Target: plan.Target{FatsG: 1000}})
	require.NoError(t, err)
	l := &lot.Lot{Frozen: lot.Frozen{Formula: f, Pot: pot, Request: plan.Request{
		Formula: f, Rule: plan.Computed, Target: plan.Target{FatsG: 1000},
	}}}
	l.Frozen.Sheet = plan.Sheet(l.Frozen.Request, pot)
	of := label.Lots{
		Suppliers: func(*lot.Lot) label.Suppliers { return nil },
		Loss:      func(*lot.Lot) float64 { return 12 },
	}
	asPlanned, err := label.OfLot(l, nil, label.UsualRules(), of, "")
	require.NoError(t, err)
	same, err := label.Make(label.Request{Formula: f, Style: label.AsPutIn, DryingLoss: 12})
	require.NoError(t, err)
	assert.Equal(t, names(same), names(asPlanned))
	for i, one := range same.Ingredients {
		assert.InDelta(t, one.Percent, asPlanned.Ingredients[i].Percent, 0.02, one.Name)
	}
	assert.Contains(t, asPlanned.Marks, "vegan")

	l.Weighings = []lot.Weighing{{Entry: lot.Entry{ID: 1}, Item: plan.FatKey(f.Fats[0].Fat), Actual: 300}, // half of what was meant
		{Entry: lot.Entry{ID: 2}, Item: plan.FatKey(f.Fats[1].Fat), Actual: 400}}
	l.Extras = []lot.Extra{{Name: "Honey", Grams: 30}}
	l.Pour = &lot.Pour{Judged: &lot.Judged{Superfat: 5}}
	got, fats := l.AsWeighed()
	assert.InDelta(t, 700, fats, 1e-9)
	assert.InDelta(t, 100*300.0/700, got.Fats[0].Percent, 1e-9)
	real, err := label.OfLot(l, nil, label.UsualRules(), of, "")
	require.NoError(t, err)
	assert.Equal(t, "Cocos Nucifera Oil", real.Ingredients[0].Name)
	assert.Contains(t, names(real), "Mel")
	assert.NotContains(t, real.Marks, "vegan")
	assert.Zero(t, label.WillWeigh(l, ledger.Of(ledger.First), 12), "nobody weighed a bar")
	l.Cut = &lot.Cut{BarG: 118}
	assert.InDelta(t, 118*0.88, label.WillWeigh(l, ledger.Of(ledger.First), 12), 1e-9)
}

func TestADeclarationIsReadAndCheckedAsItIsTyped(t *testing.T) {
	list, p := label.ReadShares("Linalool 4 %\n\nHexyl Cinnamal 0,2\n")
	require.Empty(t, p)
	d := label.Declaration{Allergens: list}
	assert.Empty(t, d.Check())
	assert.Equal(t, "Linalool 4 %\nHexyl Cinnamal 0.2 %", d.Words())
	assert.Equal(t, "none, says the supplier (letter)", label.Declaration{None: true, Source: "letter"}.Said())
	_, p = label.ReadShares("Linalool\nCitral much")
	assert.NotEmpty(t, p.At("line 1"))
	assert.NotEmpty(t, p.At("line 2"))
	for _, bad := range []label.Declaration{
		{}, {Allergens: []label.Share{{Name: "A", Percent: 0}}}, {Allergens: []label.Share{{Name: "A", Percent: 60}, {Name: "B", Percent: 60}}},
		{Allergens: []label.Share{{Name: "A", Percent: 1}, {Name: "a", Percent: 1}}},
	} {
		assert.NotEmpty(t, bad.Check().At("allergens"))
	}
	assert.NotEmpty(t, label.Declaration{None: true, Allergens: []label.Share{{Name: "A", Percent: 1}}}.Check().At("none"))
	rules := label.UsualRules()
	assert.Empty(t, rules.Check())
	rules.Letter = 0.2
	assert.NotEmpty(t, rules.Check().At("letter"))
}
