package liquid_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/caution"
	"ashshelf/soap/liquid"
)

// Sea strength is 35 g of salt made up to 1000 g, not 35 g to 1000 g of water.
func TestABrineIsMadeUpToItsTotalWeight(t *testing.T) {
	brine, ok := liquid.BySlug(liquid.Brine)
	require.True(t, ok)
	assert.InDelta(t, 35, brine.Salt(1000), 1e-9)
	assert.Zero(t, liquid.Water().Salt(1000))
	brine.Water = 80 // a strong brine of one's own
	assert.InDelta(t, 60, brine.Salt(300), 1e-9)
}

func TestBeerIsStartedWithMoreThanIsWanted(t *testing.T) {
	beer, ok := liquid.BySlug("beer")
	require.True(t, ok)
	assert.InDelta(t, 450, beer.Start(300), 1e-9, "a third of the weight boils off")
	assert.InDelta(t, 300, liquid.Water().Start(300), 1e-9)
}

// 600 g wanted, a tenth of herb that keeps twice its weight, 5 % spare:
// 600 × 1.05 ÷ (1 − 0.2) = 787.5 g of oil and 78.75 g of herb.
func TestAnInfusionStartsWithWhatTheHerbWillKeep(t *testing.T) {
	i := liquid.Infusion{Fat: "olive-oil", Herb: "Nettle", HerbPct: 10, Loss: 2, Overage: 5, Hours: 4}
	s := i.For(600)
	assert.InDelta(t, 787.5, s.Start, 1e-9)
	assert.InDelta(t, 78.75, s.Herb, 1e-9)
	assert.InDelta(t, 630, s.Yield, 1e-9)
	assert.InDelta(t, 25, s.TopUp(575), 1e-9)
	assert.Zero(t, s.TopUp(640))
}

func TestWhatAnInfusionYieldsIsItsOilLessWhatTheHerbKeeps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		i := liquid.Infusion{
			Fat:     "x",
			Herb:    "x",
			HerbPct: rapid.Float64Range(0.1, 40).Draw(t, "herb"),
			Loss:    rapid.Float64Range(0, 2).Draw(t, "loss"),
			Overage: rapid.Float64Range(0, 50).Draw(t, "spare"),
			Hours:   3,
		}
		var p caution.Problems
		i.Check(&p, "i")
		require.Empty(t, p)
		need := rapid.Float64Range(1, 1e5).Draw(t, "need")
		s := i.For(need)
		require.InEpsilon(t, s.Start-s.Herb*i.Loss, s.Yield, 1e-9)
		require.InEpsilon(t, need*(1+i.Overage/100), s.Yield, 1e-9, "it is enough")
	})
}

func TestInfusionsAndCompositionsThatCannotBeAreRefused(t *testing.T) {
	for path, i := range map[string]liquid.Infusion{
		"i.herb":                {Herb: "", HerbPct: 10, Loss: 2, Hours: 3},
		"i.herb_percent_of_oil": {Herb: "x", HerbPct: 80, Loss: 0.1, Hours: 3},
		"i.loss_g_per_g":        {Herb: "x", HerbPct: 50, Loss: 2, Hours: 3},
		"i.overage_percent":     {Herb: "x", HerbPct: 10, Loss: 2, Overage: -1, Hours: 3},
		"i.hours":               {Herb: "x", HerbPct: 10, Loss: 2, Hours: -3},
	} {
		var p caution.Problems
		i.Check(&p, "i")
		assert.NotEmpty(t, p.At(path), path)
	}
	milk, _ := liquid.BySlug("goat-milk")
	for path, spoil := range map[string]func(*liquid.Liquid){
		"l.water_percent": func(l *liquid.Liquid) { l.Water = 120 }, "l.fat_percent": func(l *liquid.Liquid) { l.Fat = 20 },
		"l.boil_down":            func(l *liquid.Liquid) { l.BoilDown = 0.5 },
		"l.fat_sap_koh_mg_per_g": func(l *liquid.Liquid) { l.FatSAP = 2 },
	} {
		bad := milk
		spoil(&bad)
		var p caution.Problems
		bad.Check(&p, "l")
		assert.NotEmpty(t, p.At(path), path)
	}
}
