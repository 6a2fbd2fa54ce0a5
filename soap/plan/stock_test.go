package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/additive"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// What is drawn, what is weighed dry and what is added are the recipe's alkali
// and liquid, to the milligram.
func TestADrawWithWhatIsAddedIsTheRecipesLyeAndLiquid(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := everyday()
		f.Water.Value = rapid.Float64Range(25, 38).Draw(t, "strength")
		koh := rapid.Bool().Draw(t, "koh")
		f.Alkali = lye.Alkali{NaOHPercent: 100, NaOHPurity: 98, KOHPurity: 90}
		if koh {
			f.Alkali.NaOHPercent = 30
		}
		f.Liquids = []recipe.Liquid{row("water", 80, true), row("goat-milk", 20, false)}
		r := request(f, plan.Target{FatsG: rapid.Float64Range(300, 5000).Draw(t, "fats")})
		r.Stock = &lye.Stock{Strength: rapid.Float64Range(44, 50).Draw(t, "stock"), C: 21, KOH: koh}
		r.StockShare = rapid.SampledFrom([]float64{0, 25, 60, 100}).Draw(t, "share")
		p, err := plan.Make(r)
		if err != nil {
			return // the stock brings too much water for it, which is said elsewhere
		}
		pure := p.Draw.Solution - p.Draw.Water
		all, purity := p.NaOH, 0.98
		if koh {
			all, purity = p.KOH, 0.90
		}
		share := r.StockShare / 100
		if share == 0 {
			share = 1
		}
		require.InDelta(t, all*purity*share, pure, 1e-3)
		back := plan.Amounts(r, func(key plan.Key) float64 {
			for _, s := range plan.Sheet(r, p) {
				for _, i := range s.Items {
					if i.Key == key {
						return i.Target
					}
				}
			}
			return 0
		})
		require.InDelta(t, p.NaOH, back.NaOH, 0.06, "within a tenth of a gram, which is what a draw is weighed to")
		require.InDelta(t, p.KOH, back.KOH, 0.06)
		require.InDelta(t, p.Superfat, f.SuperfatOf(back), 0.1)
	})
}

func TestTheStockGoesInAfterItsWaterAndSugarIsDissolvedFirst(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{
		{Name: "Sugar (granulated)", Stage: additive.InLiquid, Basis: additive.PercentOfFats, Rate: 1, Density: 1.59},
	}
	r := request(f, plan.Target{FatsG: 1000})
	r.Stock = &lye.Stock{Strength: 50, C: 21, Name: "J3"}
	p, err := plan.Make(r)
	require.NoError(t, err)
	var keys []plan.Key
	for _, i := range plan.Sheet(r, p)[0].Items {
		keys = append(keys, i.Key)
	}
	assert.Equal(t, []plan.Key{"liquid:water", "additive:Sugar (granulated)", plan.StockKey}, keys)
	assert.InDelta(t, 290.8-143.24, p.Draw.LiquidToAdd, 0.05, "half of the water comes with the lye")
	assert.Less(t, p.PeakC, 60.0, "diluting warms far less than dissolving")
	r.StockShare = 40
	part, err := plan.Make(r)
	require.NoError(t, err)
	assert.Greater(t, part.PeakC, p.PeakC)
	keys = nil
	for _, i := range plan.Sheet(r, part)[0].Items {
		keys = append(keys, i.Key)
	}
	assert.Equal(t, []plan.Key{"liquid:water", "additive:Sugar (granulated)", "alkali:naoh", plan.StockKey}, keys)
}

func TestWhatAStockCannotDoIsSaid(t *testing.T) {
	f := everyday()
	f.Additives = []additive.Use{
		{Name: "Salt dissolved in the liquid", Stage: additive.InLiquid, Basis: additive.PercentOfFats, Rate: 8, Density: 2.16},
		{Name: "Silk fibre", Stage: additive.InLye, Basis: additive.GramsPerBatch, Rate: 0.5, Density: 1.35},
	}
	r := request(f, plan.Target{FatsG: 1000})
	dry, err := plan.Make(r)
	require.NoError(t, err)
	assert.False(t, has(dry, "additive.dissolve"), "80 g of salt dissolve in 291 g of water")
	r.Stock = &lye.Stock{Strength: 50, C: 21}
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.True(t, has(p, "additive.dissolve"), "but not in the 148 g that are left")
	assert.True(t, has(p, "additive.silk"), "and silk wants warmth")

	all := everyday()
	all.Liquids = []recipe.Liquid{row("goat-milk", 100, true)}
	all.Liquids[0].Frozen = true
	r = request(all, plan.Target{FatsG: 1000})
	r.Stock = &lye.Stock{Strength: 50, C: 21}
	_, err = plan.Make(r)
	text := refused(t, err).At("lye_stock.naoh_percent")
	assert.Contains(t, text, "holds only 0 g of plain water")
	assert.Contains(t, text, "weigh dry lye instead")
	half := everyday()
	half.Liquids = []recipe.Liquid{row("water", 30, true), row("goat-milk", 70, false)}
	r = request(half, plan.Target{FatsG: 1000})
	r.Stock = &lye.Stock{Strength: 50, C: 21}
	_, err = plan.Make(r)
	assert.Contains(t, refused(t, err).At("lye_stock.naoh_percent"), "draw only 60 % of it", "87 g of water hold 87 of 143 g")
}

func TestFatsComeFromABlendAndTheRestIsToppedUp(t *testing.T) {
	f := everyday() // 50 olive, 30 coconut, 20 tallow
	hard := plan.FatStock{Name: "hard oils", Blend: blend(map[string]float64{"coconut-oil": 50, "beef-tallow": 50})}
	r := request(f, plan.Target{FatsG: 1000})
	r.FatStock = &hard
	r.Resolution = 0.1
	p, err := plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 400, p.FatDraw, 1, "twice the tallow, which is the scarce one")
	weighed := plan.Targets(plan.Sheet(r, p))
	assert.InDelta(t, 100, weighed["fat:coconut-oil"], 0.6)
	assert.NotContains(t, weighed, plan.FatKeyOf("beef-tallow"))
	assert.InDelta(t, 500, weighed["fat:olive-oil"], 1e-9)
	back := plan.Amounts(r, func(key plan.Key) float64 { return weighed[key] })
	assert.InDelta(t, 1000, back.FatsTotal, 0.6)
	assert.InDelta(t, p.Superfat, f.SuperfatOf(back), 0.1)
	hard.Grams = 150
	p, err = plan.Make(r)
	require.NoError(t, err)
	assert.InDelta(t, 150, p.FatDraw, 1e-9, "no more than there is")
	r.Vessels.Pot = plan.Vessel{ML: 700} // three pots, each of which could take 133 g
	hard.Grams = 300
	p, err = plan.Make(r)
	require.NoError(t, err)
	require.Equal(t, 3, p.Batches)
	assert.InDelta(t, 100, p.Pot().FatDraw, 1e-9, "they share what there is")
	assert.InDelta(t, 300, p.FatDraw, 1e-9)
	hard.Blend = blend(map[string]float64{"palm-oil": 100})
	_, err = plan.Make(r)
	assert.Contains(t, refused(t, err).At("fat_stock"), "not in this recipe")
}
