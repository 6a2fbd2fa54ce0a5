package draw_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/ageing"
	"ashshelf/web/draw"
)

var (
	everydayLife = ageing.Life{Cut: 1, Ready: 28, Early: 40, Cured: 60, Foam: 25, Harsh: 18, Dries: 21, Perishes: 12}
	seedOilLife  = ageing.Life{Cut: 1, Ready: 28, Early: 25, Cured: 40, Foam: 15, Harsh: 10, Dries: 21, Perishes: 40}
)

// labels are the words on a picture with where they are.
func labels(p draw.Picture) map[string]draw.Shape {
	out := map[string]draw.Shape{}
	for _, s := range p.Shapes {
		if s.Kind == "text" {
			out[s.Text] = s
		}
	}
	return out
}

func TestABarsLifeShowsWhenItIsCuredAndWhenItTires(t *testing.T) {
	keeps, tires := draw.OfLife(everydayLife, nil), draw.OfLife(seedOilLife, nil)
	assert.Contains(t, labels(keeps), "cured 28 days")
	assert.Contains(t, tires.Title, "tires, 4 months")
	assert.Less(t, len(of(keeps, "circle", "age-spot")), len(of(tires, "circle", "age-spot")))
	assert.NotEmpty(t, of(tires, "circle", "age-spot"))
	// A bar that keeps has no spot while it is cured and sold within half a year.
	ready := labels(keeps)["3 months"].X
	for _, s := range of(keeps, "circle", "age-spot") {
		assert.Greater(t, s.X, ready)
	}
	assert.Contains(t, draw.OfLife(ageing.Life{Cut: 1, Ready: 28, Dries: 21, Cured: 50}, nil).Title, "fresh at two years")
}

func TestABetterFoamHasLargerBubblesAndTheyGrowWithTheCure(t *testing.T) {
	radii := func(l ageing.Life) []float64 {
		var out []float64
		for _, s := range of(draw.OfLife(l, nil), "circle", "bubble") {
			out = append(out, s.R)
		}
		return out
	}
	quick, slow := radii(everydayLife), radii(seedOilLife)
	require.Equal(t, len(quick), len(slow))
	for i := range quick {
		assert.Greater(t, quick[i], slow[i])
	}
	assert.Greater(t, quick[len(quick)/2], quick[0])
}

// Nothing leaves the canvas, whatever the figures, and no word stands on another.
func TestALifeStaysOnItsCanvas(t *testing.T) {
	for _, l := range []ageing.Life{
		everydayLife, seedOilLife,
		{Cut: 0.2, Ready: 720, Early: 500, Cured: 900, Foam: 300, Harsh: 0, Dries: 120, Perishes: 14},
		{Cut: 3, Ready: 1, Early: -50, Cured: -20, Foam: -3, Harsh: 400, Dries: 21, Perishes: 300},
		{Cut: 2, Ready: 360, Early: 10, Cured: 40, Foam: 10, Harsh: 5, Dries: 60, Perishes: 17},
	} {
		p := draw.OfLife(l, &everydayLife)
		var words []draw.Shape
		for _, s := range p.Shapes {
			switch s.Kind {
			case "circle":
				assert.True(t, s.X-s.R >= 0 && s.X+s.R <= p.W && s.Y-s.R >= 0 && s.Y+s.R <= p.H, "%+v", s)
			case "text":
				words = append(words, s)
			}
		}
		box := func(s draw.Shape) (float64, float64) {
			w := 6.6 * float64(len(s.Text))
			switch s.Anchor {
			case "end":
				return s.X - w, s.X
			case "middle":
				return s.X - w/2, s.X + w/2
			}
			return s.X, s.X + w
		}
		for i, a := range words {
			left, right := box(a)
			assert.True(t, left >= -1 && right <= p.W+4, "%q from %v to %v", a.Text, left, right)
			for _, b := range words[:i] {
				l2, r2 := box(b)
				assert.False(t, a.Y-b.Y < 13 && b.Y-a.Y < 13 && left < r2 && l2 < right, "%q stands on %q", a.Text, b.Text)
			}
		}
	}
}

func TestTheLifeBeforeTheLastChangeIsItsShadow(t *testing.T) {
	assert.Empty(t, of(draw.OfLife(everydayLife, nil), "path", "life-shadow"))
	shadows := of(draw.OfLife(everydayLife, &seedOilLife), "path", "life-shadow")
	require.Len(t, shadows, 3, "firmness, foam, feel")
	assert.NotEqual(t, of(draw.OfLife(everydayLife, nil), "path", "ln")[0].D, shadows[2].D)
}
