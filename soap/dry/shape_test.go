package dry

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A slab has lost half of its water after 0.0492 · π² = 0.486 of its time constant (Crank, The
// Mathematics of Diffusion, 1975, eq. 4.23: Dt/l² = 0.0492 for half).
func TestASlabLosesHalfOfItsWaterWhenItIsSaidTo(t *testing.T) {
	assert.InDelta(t, 0.5, held(0.0492*math.Pi*math.Pi), 0.002)
	assert.InDelta(t, 8/(math.Pi*math.Pi)*math.Exp(-3), held(3), 1e-6, "then its slowest part goes by one exponential")
	assert.InDelta(t, held(0.05-1e-9), held(0.05+1e-9), 1e-4, "the law of the square root goes over into the series")
	assert.Equal(t, 1.0, held(-1))
	last := 1.0
	for x := 0.0; x < 8; x += 0.001 {
		now := held(x)
		assert.LessOrEqual(t, now, last+1e-12)
		last = now
	}
}

func TestEachKindOfDryingIsAsUsualAsAnother(t *testing.T) {
	var sums [kindCount]float64
	for _, s := range shapes() {
		sums[s.kind] += s.prior
	}
	for _, sum := range sums {
		assert.InDelta(t, 1, sum, 1e-9)
	}
}

func TestACubeOutOfSixFacesIsFasterThanASlab(t *testing.T) {
	cube := Bar{40, 40, 40}
	for day := 0.5; day < 60; day++ {
		assert.Greater(t, shape{kind: brick, slow: 20}.gone(day, cube), shape{kind: slab, slow: 20}.gone(day, cube))
	}
}
