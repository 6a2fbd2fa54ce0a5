package gel

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// batter is a kilo of common fats with lye of a strength, in percent.
func batter(strength float64) Batter {
	lye := 138.0
	return Batter{FatsG: 1000, LyeG: lye, WaterG: lye * (100 - strength) / strength, MolesOfLye: lye / 40}
}

func told(t *testing.T, l Loaf, b Batter, pl Place) Outlook {
	t.Helper()
	o, err := Foretell(l, b, pl, Belief{})
	require.NoError(t, err)
	return o
}

// Worked by hand: 3.45 mol of lye make 3.45 × 55 = 190 kJ; the kilo of fats takes 2.0 and the 418 g of lye 1.51 kJ for a
// degree. That is 54 degrees if nothing is lost, less the part that was done at trace: 50. The middle of a block that is too
// large to lose anything in time comes to it.
func TestTheMiddleOfABlockKeepsAllItsHeat(t *testing.T) {
	c := run(Loaf{400, 400, "lined"}, batter(33), Place{StartC: 40, RoomC: 20, Cover: "insulate"}, 1, 1, 0, false)
	assert.InDelta(t, 40+54*(1-atTrace), c.PeakC, 1.5)
}

func TestWhatMakersSeeIsForetold(t *testing.T) {
	loaf, small := Loaf{80, 65, "lined"}, Loaf{50, 25, "silicone"}
	wrapped := told(t, loaf, batter(33), Place{StartC: 40, RoomC: 20, Cover: "insulate"})
	assert.Equal(t, []Verdict{Yes, No}, []Verdict{wrapped.Middle, wrapped.Hot}, "a wrapped loaf gels")
	assert.InDelta(t, 70, wrapped.GelC, 3)
	bare := told(t, small, batter(33), Place{StartC: 35, RoomC: 20, Cover: "leave"})
	assert.Equal(t, No, bare.Middle, "single bars in the open do not")
	assert.Equal(t, "It does not gel", bare.Words())
	cold := told(t, loaf, batter(28), Place{StartC: 30, RoomC: 18, Cover: "chill"})
	assert.Equal(t, No, cold.Middle, "nor does a loaf in the cold")
	oven := told(t, Loaf{80, 65, "silicone"}, batter(33), Place{StartC: 40, RoomC: 20, Cover: "oven", OvenC: 60})
	assert.Equal(t, Yes, oven.All, "in the oven it gels to its edges")
	assert.Equal(t, "It gels to its edges", oven.Words())
	large := told(t, Loaf{150, 120, "lined"}, batter(40), Place{StartC: 55, RoomC: 24, Cover: "insulate"})
	assert.NotEqual(t, No, large.Hot, "a large hot block of strong lye may heave")
	honey := batter(33)
	honey.Warms = []string{"Honey"}
	assert.Equal(t, []string{"Honey makes it warmer than is reckoned here"}, told(t, loaf, honey, Place{StartC: 40, RoomC: 20}).Unsure)
	assert.NotEqual(t, No, told(t, loaf, honey, Place{StartC: 40, RoomC: 20, Cover: "insulate"}).Hot, "honey wrapped up may heave")
}

// Between nothing and all of it the gel stops in a ring: its middle is clear, its edge is not.
func TestAGelThatStopsIsARing(t *testing.T) {
	found := false
	for start := 34.0; start < 50; start++ {
		c := run(Loaf{90, 75, "silicone"}, batter(33), Place{StartC: start, RoomC: 20, Cover: "leave"}, 1, 1, 0, false)
		if !c.Middle || c.All {
			continue
		}
		found = true
		last := c.Moments[len(c.Moments)-1]
		assert.False(t, last.Gelled[0][len(last.Gelled[0])-1], "the corner stays opaque")
		assert.Greater(t, c.Share, 0.0)
	}
	assert.True(t, found)
}

// Nothing is warmer than its heat can make it, and more of what keeps heat in never makes it colder.
func TestHeatIsNotMadeOfNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := Loaf{float64(rapid.IntRange(30, 160).Draw(t, "width")), float64(rapid.IntRange(20, 100).Draw(t, "height")),
			rapid.SampledFrom([]string{"lined", "silicone", "plastic", "jar"}).Draw(t, "material")}
		b := batter(float64(rapid.IntRange(25, 45).Draw(t, "strength")))
		pl := Place{StartC: float64(rapid.IntRange(22, 60).Draw(t, "start")), Cover: "leave"}
		pl.RoomC = float64(rapid.IntRange(10, 30).Draw(t, "room"))
		open := run(l, b, pl, 1, 1, 0, false)
		all := b.FatsG + b.LyeG + b.WaterG
		most := pl.StartC + heatOfLye*b.MolesOfLye/(warmthFats*b.FatsG+warmthLye*(b.LyeG+b.WaterG))
		if open.PeakC > math.Max(most, pl.RoomC)+0.5 {
			t.Fatalf("%v °C of %v at the most, %v g", open.PeakC, most, all)
		}
		pl.Cover = "insulate"
		if wrapped := run(l, b, pl, 1, 1, 0, false); wrapped.PeakC < open.PeakC-0.3 || wrapped.Share < open.Share-0.02 {
			t.Fatalf("wrapped %v, open %v", wrapped.PeakC, open.PeakC)
		}
		pl.Cover = "leave"
		more := run(Loaf{l.Width * 1.5, l.Height * 1.5, l.Material}, b, pl, 1, 1, 0, false)
		if more.PeakC < open.PeakC-1 && pl.RoomC <= pl.StartC {
			t.Fatalf("a larger one %v, the smaller %v", more.PeakC, open.PeakC)
		}
	})
}

// On simulated shops whose heat, molds and water are others than the model's, what is called sure is so in nine of ten.
func TestWhatIsSureHoldsOnSimulatedShops(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	sure, right, all := 0, 0, 0
	for range 80 {
		l := Loaf{40 + 80*r.Float64(), 30 + 60*r.Float64(), []string{"lined", "silicone"}[r.IntN(2)]}
		b := batter(26 + 16*r.Float64())
		pl := Place{StartC: 28 + 22*r.Float64(), RoomC: 15 + 10*r.Float64(), Cover: []string{"leave", "insulate", "chill"}[r.IntN(3)]}
		o := told(t, l, b, pl)
		truth := run(l, b, pl, 1+0.05*r.NormFloat64(), math.Exp(0.12*r.NormFloat64()), 2*r.NormFloat64(), false)
		all++
		if o.Middle == Perhaps {
			continue
		}
		sure++
		if (o.Middle == Yes) == truth.Middle {
			right++
		}
	}
	t.Logf("of %d loaves %d were sure, and %d of them right", all, sure, right)
	assert.Greater(t, float64(right), 0.9*float64(sure))
	assert.Greater(t, sure, all/2, "and it is sure of more than half")
}

// A shop whose blankets are better than the model's says so by what it saw, and one look turns little.
func TestAShopIsFittedByWhatItSaw(t *testing.T) {
	low, mid, high := Belief{}.warmth()
	assert.InDelta(t, -1, low, 0.05)
	assert.InDelta(t, 0, mid, 1e-9)
	assert.InDelta(t, 1, high, 0.05)
	assert.Empty(t, Belief{}.Words())

	// A loaf that the model has gel in its middle if it is half a step colder, and to its edges if it is half a step warmer.
	turn := Turns{-0.5, 0.5}
	full := func(n int) Belief {
		var seen []string
		var turns []Turns
		for range n {
			seen, turns = append(seen, "full"), append(turns, turn)
		}
		return Fit(seen, turns)
	}
	_, one, _ := full(1).warmth()
	_, many, _ := full(8).warmth()
	assert.Greater(t, one, 0.2)
	assert.Greater(t, many, 0.7)
	assert.Equal(t, "yours stay warmer than the model has it", full(8).Words())
	none := Fit([]string{"none", "none", "none", "none", "none"}, []Turns{turn, turn, turn, turn, turn})
	assert.Equal(t, "yours stay colder than the model has it", none.Words())
	assert.Equal(t, "yours are as warm as the model has it", Fit([]string{"ring"}, []Turns{turn}).Words())
	assert.Zero(t, Fit([]string{"not looked"}, []Turns{turn}).Looks)

	k := Look{Loaf: Loaf{80, 65, "lined"}, Batter: batter(33), Place: Place{StartC: 38, RoomC: 20, Cover: "leave"}}
	turns := k.TurnsOf()
	assert.LessOrEqual(t, turns.Middle, turns.All, "it gels in its middle before it does to its edges")
	assert.False(t, warmer(k.Loaf, k.Batter, k.Place, turns.Middle-2*turnsWithin, 0).Middle)
	assert.True(t, warmer(k.Loaf, k.Batter, k.Place, turns.Middle+2*turnsWithin, 0).Middle)
}

// A run that ends when nothing more can gel gels as far as one that goes on.
func TestABriefRunGelsAsFarAsAWholeOne(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	gelled := 0
	for range 60 {
		l := Loaf{40 + 80*r.Float64(), 30 + 60*r.Float64(), []string{"lined", "silicone"}[r.IntN(2)]}
		b := batter(26 + 16*r.Float64())
		pl := Place{StartC: 28 + 22*r.Float64(), RoomC: 10 + 15*r.Float64(), Cover: []string{"leave", "insulate", "chill"}[r.IntN(3)]}
		whole, brief := run(l, b, pl, 1, 1, 0, false), run(l, b, pl, 1, 1, 0, true)
		assert.Equal(t, whole.Share, brief.Share, "%v %v", l, pl)
		if whole.Middle {
			gelled++
		}
	}
	assert.Greater(t, gelled, 10)
	assert.Less(t, gelled, 50)
}

// On simulated shops that are warmer or colder than the model, what is called sure is so in nine of ten, and the more loaves
// were looked at, the more is sure. Printed with -v.
func TestFittedShopsHoldOnSimulatedShops(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	var turns []Turns
	for range 24 {
		k := Look{Loaf: Loaf{40 + 80*r.Float64(), 30 + 60*r.Float64(), []string{"lined", "silicone"}[r.IntN(2)]},
			Batter: batter(26 + 16*r.Float64()),
			Place:  Place{StartC: 28 + 22*r.Float64(), RoomC: 15 + 10*r.Float64(), Cover: []string{"leave", "insulate"}[r.IntN(2)]}}
		turns = append(turns, k.TurnsOf())
	}
	share := map[int]float64{}
	for _, looks := range []int{0, 4, 12} {
		sure, right, all := 0, 0, 400
		for range all {
			shop := spreadShops * r.NormFloat64()
			warmth := func() float64 { return shop + spreadLoaf*r.NormFloat64() }
			var seen []string
			var of []Turns
			for range looks {
				k := turns[r.IntN(len(turns))]
				w := warmth()
				far := "none"
				switch {
				case w > k.All:
					far = "full"
				case w > k.Middle:
					far = "ring"
				}
				seen, of = append(seen, far), append(of, k)
			}
			low, _, high := Fit(seen, of).warmth()
			k := turns[r.IntN(len(turns))]
			if gels := low > k.Middle; gels || high < k.Middle {
				sure++
				if gels == (warmth() > k.Middle) {
					right++
				}
			}
		}
		share[looks] = float64(sure) / float64(all)
		t.Logf("%2d looks: sure of %.2f, and right of %.2f of them", looks, share[looks], float64(right)/float64(sure))
		assert.Greater(t, float64(right), 0.9*float64(sure), looks)
	}
	assert.Greater(t, share[12], share[0], "looking makes surer")
}

// That a shop's loaves did not gel says little of how hot one may become: it is not called out of the question.
func TestThatGelsWereNotSeenKeepsNoLoafFromHeaving(t *testing.T) {
	var seen []string
	var turns []Turns
	for range 12 {
		seen, turns = append(seen, "none"), append(turns, Turns{-1, 0})
	}
	cold := Fit(seen, turns)
	tried := 0
	for start := 40.0; start < 70; start++ {
		l, b, pl := Loaf{150, 120, "lined"}, batter(38), Place{StartC: start, RoomC: 20, Cover: "insulate"}
		before := told(t, l, b, pl)
		after, err := Foretell(l, b, pl, cold)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, after.MostC, before.MostC-0.5)
		if before.Hot != No {
			tried++
			assert.NotEqual(t, No, after.Hot, start)
		}
	}
	assert.Positive(t, tried)
}

func TestWhatCannotBeForetoldIsTold(t *testing.T) {
	for path, of := range map[string]struct {
		l  Loaf
		pl Place
	}{
		"width":  {Loaf{0, 60, "lined"}, Place{StartC: 40, RoomC: 20}},
		"height": {Loaf{80, 900, "lined"}, Place{StartC: 40, RoomC: 20}},
		"start":  {Loaf{80, 60, "lined"}, Place{StartC: 140, RoomC: 20}},
		"room":   {Loaf{80, 60, "lined"}, Place{StartC: 40, RoomC: 99}},
		"oven":   {Loaf{80, 60, "lined"}, Place{StartC: 40, RoomC: 20, Cover: "oven", OvenC: 300}},
	} {
		_, err := Foretell(of.l, batter(33), of.pl, Belief{})
		assert.ErrorContains(t, err, path)
	}
}

func TestWhatWasSeenIsHeldAgainstWhatWasForetold(t *testing.T) {
	ring := Outlook{Middle: Yes, All: No}
	assert.True(t, ring.Fits("ring"))
	assert.False(t, ring.Fits("none"))
	assert.False(t, ring.Fits("full"))
	assert.True(t, ring.Fits("not looked"))
	assert.True(t, Outlook{Middle: Perhaps, All: No}.Fits("none"))
}
