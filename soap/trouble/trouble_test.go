package trouble_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

// batch is a kilo of olive and coconut oil, 80 to 20, at 5 % superfat, with
// weights of one's own; what is not named is on its mark.
func batch(t require.TestingT, at trouble.At, own map[plan.Key]float64) trouble.Batch {
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	f := recipe.Formula{
		Name:     "Plain",
		Fats:     fat.Blend{{Fat: olive, Percent: 80}, {Fat: coconut, Percent: 20}},
		Alkali:   lye.DefaultAlkali(),
		Superfat: 5,
		Water: recipe.Water{
			Basis: recipe.LyeStrength,
			Value: 33,
		},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
	}
	r := plan.Request{
		Formula: f,
		Rule:    plan.Computed,
		LiquidC: 20,
		Target:  plan.Target{FatsG: 1000},
		Scales:  plan.Scales{Resolution: 0.1},
	}
	p, err := plan.Make(r)
	require.NoError(t, err)
	return combined(r, p, at, own)
}

// combined is a pot of a plan in which the lye has met the fats.
func combined(r plan.Request, p plan.Plan, at trouble.At, own map[plan.Key]float64) trouble.Batch {
	b := trouble.Batch{
		At:      at,
		Request: r,
		Sheet:   plan.Sheet(r, p),
		State: run.State{
			Done: map[string]bool{},
			Pot:  run.Pot{Grams: map[plan.Key]float64{}, Closed: map[plan.Key]bool{}, Combined: true},
		},
		CookerML: 3000,
		VolumeML: p.VolumeML,
		SoapG:    p.Whole(),
	}
	for _, s := range run.Steps(run.Order{Request: r, Formula: r.Formula, Sheet: b.Sheet, Pot: p}) {
		b.State.Done[s.Key] = true
	}
	for _, s := range b.Sheet {
		for _, i := range s.Items {
			g, ok := own[i.Key]
			if !ok {
				g = i.Target
			}
			b.State.Grams[i.Key], b.State.Closed[i.Key] = g, true
		}
	}
	return b
}

func way(t *testing.T, k trouble.Kind, b trouble.Batch, key string) trouble.Way {
	t.Helper()
	c, ok := trouble.CardOf(k, b)
	require.True(t, ok)
	w, ok := c.Way(key)
	require.True(t, ok, "%s has a way %s", k, key)
	return w
}

func TestEveryTroubleSaysWhatItIsWhetherItIsSafeAndWhatToDo(t *testing.T) {
	seen := map[trouble.Kind]bool{}
	for _, at := range []trouble.At{trouble.InPot, trouble.InMold, trouble.AsBars} {
		cards := trouble.Cards(batch(t, at, nil))
		assert.GreaterOrEqual(t, len(cards), 6)
		for _, c := range cards {
			seen[c.Kind] = true
			assert.NotEmpty(t, c.Name)
			assert.NotEmpty(t, c.What, c.Name)
			assert.NotEmpty(t, c.Why, c.Name)
			require.NotEmpty(t, c.Ways, c.Name)
			keys := map[string]bool{}
			for _, w := range c.Ways {
				assert.False(t, keys[w.Key], "%s has two ways %s", c.Name, w.Key)
				keys[w.Key] = true
				assert.NotEmpty(t, w.Name+w.Text, c.Name)
				assert.False(t, w.Ends.GiveUp && w.Ends.Plain, "what cannot be rescued is not sold")
			}
			if c.Safety == trouble.Unsafe {
				safe := false
				for _, w := range c.Ways {
					safe = safe || w.Ends.Hold != "" || w.Ends.GiveUp || w.Not != "" || len(w.Steps) > 0
				}
				assert.True(t, safe, c.Name)
			}
		}
	}
	for _, k := range trouble.Kinds() {
		assert.True(t, seen[k], "%s can be reached", k)
		assert.True(t, k.Valid())
	}
	assert.Equal(t, trouble.Spill, trouble.Kinds()[0], "people first")
	_, ok := trouble.CardOf("bored", batch(t, trouble.InPot, nil))
	assert.False(t, ok)
}

// 100 g of olive oil forgotten: putting exactly that in, or restoring by the
// blend, brings the superfat back to what was planned.
func TestAForgottenFatIsNamedWithItsGrams(t *testing.T) {
	b := batch(t, trouble.InPot, map[plan.Key]float64{"fat:olive-oil": 700})
	w := way(t, trouble.Forgotten, b, "add:fat:olive-oil")
	assert.Contains(t, w.Text, "100.0 g are missing")
	assert.Empty(t, w.Not)
	assert.NotEmpty(
		t,
		way(t, trouble.Forgotten, batch(t, trouble.InMold, map[plan.Key]float64{"fat:olive-oil": 700}), "add:fat:olive-oil").Not,
		"not into a mold",
	)

	mended := b.State.Pot
	mended.Grams["fat:olive-oil"] += 100
	j := run.Judge(b.Request, b.Sheet, mended)
	assert.InDelta(t, j.Planned, j.Superfat, 0.05)
}

// The lye of this batch is 134.9 g (1000 g of fats × 0.1420 × 0.95). 12 g more of
// it need fat in proportion: 12 ÷ 134.9 of the fats, 89 g, four fifths olive.
func TestTooMuchLyeIsMendedByTheBlend(t *testing.T) {
	lyeG := 0.0
	for _, s := range batch(t, trouble.InPot, nil).Sheet {
		for _, i := range s.Items {
			if i.Key == "alkali:naoh" {
				lyeG = i.Target
			}
		}
	}
	b := batch(t, trouble.InPot, map[plan.Key]float64{"alkali:naoh": lyeG + 12})
	rows := b.Restore()
	require.Len(t, rows, 2)
	sum := rows[0].Grams + rows[1].Grams
	assert.InDelta(t, 1000*12/lyeG, sum, 1)
	assert.InDelta(t, 0.8*sum, rows[0].Grams, 1e-6)
	w := way(t, trouble.TooMuchLye, b, "fat")
	assert.Contains(t, w.Text, "Olive oil")
	assert.NotEmpty(t, w.Ends.Hold, "it stays held until its check is good")
	assert.NotEmpty(t, way(t, trouble.Seized, b, "cook").Not, "cooking alone does not take up too much lye")
	assert.NotEmpty(t, way(t, trouble.TooMuchLye, batch(t, trouble.InPot, nil), "fat").Not, "a sound batch is not fattened")
	rapid.Check(t, func(t *rapid.T) {
		b := batch(t, trouble.InPot, map[plan.Key]float64{"alkali:naoh": lyeG * rapid.Float64Range(1.04, 1.4).Draw(t, "lye")})
		rows := b.Restore()
		require.Len(t, rows, 2)
		b.State.Grams["fat:olive-oil"] += rows[0].Grams
		b.State.Grams["fat:coconut-oil"] += rows[1].Grams
		require.False(t, b.Heavy(), "mended, nothing more is asked for")
	})
}

// A cooker of 3 l takes 2250 ml with room to climb: 1.6 l go in at once, 2.5 l in
// two loads, 5 l in three.
func TestTheCookerDecidesTheLoads(t *testing.T) {
	for ml, loads := range map[float64]int{1600: 1, 2250: 1, 2500: 2, 5000: 3} {
		b := batch(t, trouble.InPot, nil)
		b.VolumeML = ml
		c, ok := b.Cooking()
		require.True(t, ok)
		assert.Equal(t, loads, c.Loads, "%v ml", ml)
	}
	b := batch(t, trouble.InPot, nil)
	w := way(t, trouble.Seized, b, "cook")
	assert.True(t, w.Ends.Cooked && w.Ends.Plain, "cooked, sound and plain")
	timers := 0
	for _, s := range w.Steps {
		if s.Timer != nil {
			timers++
		}
	}
	assert.Equal(t, 1, timers, "it says when to stir")
	b.CookerML = 0
	assert.NotEmpty(t, way(t, trouble.Seized, b, "cook").Not)
}

// A kilo that has lost 90 g gets them back and 50 g for the steam.
func TestARebatchGetsBackWhatItLost(t *testing.T) {
	b := batch(t, trouble.AsBars, nil)
	b.SoapG, b.LostG = 1000, 90
	assert.InDelta(t, 140, b.RebatchLiquid(), 1e-9)
	assert.Contains(t, way(t, trouble.Faded, b, "rebatch").Text, "140")
}

// A kilo of fats of an excess of 5 % has lye left over: 9.9 g of pure potash, which 11.3 g of citric
// acid take up. No way leads to soap that is washed with before that.
func TestLyeLeftOverOnPurposeIsNeutralisedWhateverWentWrong(t *testing.T) {
	paste := func(superfat float64, sound bool) trouble.Batch {
		r := batch(t, trouble.InPot, nil).Request
		r.Formula.Alkali, r.Formula.Superfat = lye.Alkali{NaOHPurity: 100, KOHPurity: 90}, superfat
		p, err := plan.Make(r)
		require.NoError(t, err)
		b := combined(r, p, trouble.InPot, nil)
		b.Sound = sound
		return b
	}
	for _, c := range trouble.Cards(paste(-5, false)) {
		way, ok := c.Way("neutralise")
		require.True(t, ok, c.Name)
		assert.Contains(t, way.Steps[1].Text, "11.", c.Name)
		for _, w := range c.Ways {
			if w.Not == "" && !w.Ends.GiveUp {
				assert.NotEmpty(t, w.Ends.Hold, "%s, %s", c.Name, w.Name)
			}
		}
		_, fat := c.Way("fat")
		assert.False(t, fat && paste(-5, false).Heavy(), "fat is no way out of what was meant")
	}
	for _, b := range []trouble.Batch{paste(-5, true), paste(3, false)} {
		for _, c := range trouble.Cards(b) {
			_, ok := c.Way("neutralise")
			assert.False(t, ok, "%s: there is nothing to neutralise", c.Name)
		}
	}
}
