package steep_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/steep"
)

var began = time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)

func nettle() steep.Jar {
	return steep.Jar{Fat: "olive-oil", Name: "Olive oil", Herb: "Nettle leaf", OilG: 520, HerbG: 52, Hours: 4, Warm: true, Started: began}
}

func TestAJarSteepsIsStrainedToppedUpAndDrawnFrom(t *testing.T) {
	j := nettle()
	require.Empty(t, j.Check())
	assert.Equal(t, "steeping", j.Stage(began.Add(3*time.Hour)))
	assert.Equal(t, "ready to strain", j.Stage(began.Add(4*time.Hour)))
	assert.Zero(t, j.Left())
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Used, Grams: 10}), "the oil is still on the herb")
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Strained, Grams: 600}), "more than went in")
	j.Events = append(j.Events, steep.Event{What: steep.Strained, Grams: 429})
	loss, ok := j.Loss()
	require.True(t, ok)
	assert.InDelta(t, 1.75, loss, 1e-9, "91 g of oil stay with 52 g of herb")
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Strained, Grams: 400}), "once")
	j.Events = append(j.Events, steep.Event{What: steep.ToppedUp, Grams: 71})
	assert.InDelta(t, 500, j.Left(), 1e-9)
	assert.InDelta(t, 1.75, first(j.Loss()), 1e-9, "plain oil teaches nothing")
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Used, Grams: 502}))
	j.Events = append(j.Events, steep.Event{What: steep.Used, Grams: 499})
	assert.Equal(t, "used up", j.Stage(began.Add(9*time.Hour)), "what clings to the jar is nothing")
	assert.False(t, j.Open())
}

func first(v float64, _ bool) float64 { return v }

func TestWhatIsThrownAwayNeedsAReasonAndIsGone(t *testing.T) {
	j := nettle()
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Discard}))
	assert.Empty(t, j.May(steep.Event{What: steep.Discard, Note: "it smells of vinegar"}))
	j.Events = append(j.Events, steep.Event{What: steep.Strained, Grams: 400}, steep.Event{What: steep.Discard, Note: "clouded"})
	assert.Zero(t, j.Left())
	assert.NotEmpty(t, j.May(steep.Event{What: steep.Used, Grams: 10}))
	assert.Equal(t, "thrown away", j.Stage(began))
}

func TestAHerbTeachesWhatItKeepsBack(t *testing.T) {
	jar := func(herb string, out float64) steep.Jar {
		j := nettle()
		j.Herb, j.Events = herb, []steep.Event{{What: steep.Strained, Grams: out}}
		return j
	}
	loss, n := steep.Learned(" nettle LEAF", []steep.Jar{jar("Nettle leaf", 416), jar("Nettle leaf", 442), jar("Plantain", 100), nettle()})
	assert.Equal(t, 2, n, "of this herb, and strained")
	assert.InDelta(t, 1.75, loss, 1e-9)
	_, n = steep.Learned("Comfrey", nil)
	assert.Zero(t, n)
}

func TestNonsenseIsNoJar(t *testing.T) {
	for field, change := range map[string]func(*steep.Jar){
		"fat": func(j *steep.Jar) { j.Name = " " }, "herb": func(j *steep.Jar) { j.Herb = "" }, "oil": func(j *steep.Jar) { j.OilG = 200_000 },
		"herb_g": func(j *steep.Jar) { j.HerbG = 600 }, "hours": func(j *steep.Jar) { j.Hours = 0 },
	} {
		j := nettle()
		change(&j)
		require.Len(t, j.Check(), 1, field)
		assert.Equal(t, field, j.Check()[0].Path)
	}
}

// Whatever happens to a jar, never more is taken than there was.
func TestNoJarGivesMoreThanItHeld(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		j := nettle()
		in, out := 0.0, 0.0
		for range rapid.IntRange(0, 12).Draw(t, "events") {
			e := steep.Event{
				What:  rapid.SampledFrom([]steep.What{steep.Strained, steep.ToppedUp, steep.Used, steep.Stirred}).Draw(t, "what"),
				Grams: float64(rapid.IntRange(-10, 500).Draw(t, "grams")),
			}
			if len(j.May(e)) > 0 || e.What == steep.Used && e.Grams < 0 {
				continue
			}
			j.Events = append(j.Events, e)
			switch e.What {
			case steep.Strained, steep.ToppedUp:
				in += e.Grams
			case steep.Used:
				out += e.Grams
			}
		}
		assert.LessOrEqual(t, out, in+12, "a gram of slack each time")
		assert.GreaterOrEqual(t, j.Left(), 0.0)
	})
}
