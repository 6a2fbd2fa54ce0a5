package label_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/label"
)

// Each rule with words that promise and with their innocent twins.
func TestEachPromiseIsHeardAndItsInnocentTwinIsNot(t *testing.T) {
	for _, c := range []struct {
		tier  label.Tier
		words []string
		plain []string
	}{
		{label.Approval, []string{"Repels midges", "a mosquito repellent", "Keeps ticks off", "Moths hate it"},
			[]string{"water-repellent paper", "it ticks all boxes", "from a meadow of pollinating insects"}},
		{label.Approval, []string{"Heals cracked hands", "a healing bar", "Nature's remedy"},
			[]string{"a healthy herd", "milk of healthy goats"}},
		{label.Approval, []string{"Cures eczema", "an old cure for winter feet", "It cures"},
			[]string{"Cured six weeks", "cured for 42 days", "Cut by hand and cured on slatted racks", "It cures slowly", "Long cured"}},
		{label.Approval, []string{"Treats dry hands", "a treatment for hands"},
			[]string{"A little treat", "Treat yourself", "heat-treated wood"}},
		{label.Approval, []string{"medicated", "a therapeutic bar", "Clinically tested"}, []string{"retail therapy"}},
		{label.Approval, []string{"Clears acne", "for eczema", "no more itching", "good for rashes", "anti-inflammatory", "for sore muscles"},
			[]string{"We are itching to pour it again", "a rash decision", "wound by hand in paper",
				"honey from our own hives", "by the burns and fields", "an inflammable oil", "If you have allergies, read the list"}},
		{label.Approval, []string{"Kills germs", "antibacterial", "anti-bacterial", "Does not let germs live"}, []string{"with wheat germ oil"}},
		{label.Approval, []string{"SPF 15", "Protects from the sun", "sun protection", "Protects against sun"},
			[]string{"sunflower oil", "Keep it out of the sun", "the colour of a morning sun"}},
		{label.Approval, []string{"detoxifies", "Draws out toxins", "boosts your immune system", "Relieves stress"},
			[]string{"a leaf in relief", "from a regenerative farm"}},
		{label.Cosmetic, []string{"Softens hands", "moisturising", "for softer skin", "hydrates", "Healthy skin"},
			[]string{"soft colours", "a soft scent", "softened water", "with hydrated chrome green"}},
		{label.Cosmetic, []string{"Calms", "a relaxing bar", "soothing", "Refreshes you"},
			[]string{"the colour of a calm sea", "comfortable in the hand", "milk of calm goats",
				"a well balanced scent"}},
		{label.Cosmetic, []string{"for babies", "gentle enough for baby", "for newborns"}, []string{"baby blue", "a card with baby's breath"}},
		{label.Cosmetic, []string{"for sensitive skin", "hypoallergenic", "for all skin types"}, []string{"sensitive to light: keep it dark"}},
		{label.Cosmetic, []string{"for blemished skin", "reduces wrinkles", "anti-ageing", "firms your skin", "exfoliates"},
			[]string{"a firm bar", "earthy tones", "Small blemishes in the bar are its nature",
				"dark with spots of cocoa", "whitens kitchen towels"}},
		{label.Cosmetic, []string{"deodorises", "Keeps you fresh", "against body odour"}, []string{"fresh air", "smells fresh", "fresh as rain",
			"It may sweat in damp air"}},
	} {
		for _, words := range c.words {
			got := label.Read(words)
			require.Len(t, got, 1, words)
			assert.Equal(t, c.tier, got[0].Tier, "%s: %s", words, got[0].Why)
			assert.NotEmpty(t, got[0].Why, words)
			assert.NotEmpty(t, got[0].Instead, words)
		}
		for _, words := range c.plain {
			got := label.Read(words)
			require.NotEmpty(t, got, words)
			assert.Equal(t, label.Plain, got[0].Tier, "%s: %s", words, got[0].Why)
			assert.Empty(t, got[0].Why)
		}
	}
}

func TestWhatASoapIsAndDoesIsPlain(t *testing.T) {
	for _, words := range []string{"Cleans gently", "Cleans well", "Washes off grease and garden earth", "Smells of fig leaf and rain",
		"With olive oil, goat milk and honey", "Made by hand in small batches", "Poured in March, cured eight weeks", "Unscented",
		"A creamy lather", "Vegan and palm-free", "Let it drain and dry between uses", "9.5 % sheep's milk", "Colours by clay"} {
		got := label.Read(words)
		require.Len(t, got, 1, words)
		assert.Equal(t, label.Plain, got[0].Tier, "%s: %s", words, got[0].Why)
	}
}

func TestAWordingIsReadPhraseByPhrase(t *testing.T) {
	got := label.Read("Cleans gently. Repels midges!\nSoftens hands; heals them too…  • Smells of fig (9.5 % of it).")
	var words []string
	var tiers []label.Tier
	for _, c := range got {
		words, tiers = append(words, c.Words), append(tiers, c.Tier)
	}
	assert.Equal(t, []string{"Cleans gently", "Repels midges", "Softens hands", "heals them too", "Smells of fig (9.5 % of it)"}, words)
	assert.Equal(t, []label.Tier{label.Plain, label.Approval, label.Cosmetic, label.Approval, label.Plain}, tiers)
	assert.Contains(t, got[1].Why, "“repels” says that it keeps insects away")
	assert.Empty(t, label.Read(" \n. ; !"))
	assert.Equal(t, label.Approval, label.Read("Softens hands and heals them")[0].Tier, "the heavier promise of a phrase counts")
}

func TestWhatIsDeniedIsNotPromised(t *testing.T) {
	for _, words := range []string{"It does not repel midges", "This is not a sunscreen", "Not for babies", "It doesn't heal",
		"It does not heal or treat", "Not meant to treat anything", "It was never tested for sensitive skin"} {
		assert.Equal(t, label.Plain, label.Read(words)[0].Tier, words)
	}
	for _, words := range []string{"It not only cleans, it heals", "No more acne", "Why not heal?", "Germs do not survive it"} {
		assert.Equal(t, label.Approval, label.Read(words)[0].Tier, words)
	}
}

func FuzzReadingAWordingLosesNothingThatIsSaid(f *testing.F) {
	for _, s := range []string{"Cleans gently. Repels midges.", "9.5 %", "\xff.\xff", "…;•", "a.b", "heal*", "does not or"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, c := range label.Read(s) {
			assert.NotEmpty(t, c.Words)
			assert.Contains(t, s, c.Words)
			assert.Contains(t, label.Tiers(), c.Tier)
			assert.Equal(t, c.Tier == label.Plain, c.Why == "")
		}
	})
}
