package stat_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/internal/stat"
)

func TestOneBadPourTurnsNothing(t *testing.T) {
	assert.Zero(t, stat.Median(nil))
	assert.InDelta(t, 3, stat.Median([]float64{3}), 1e-12)
	assert.InDelta(t, 2.5, stat.Median([]float64{4, 1, 3, 2}), 1e-12)
	pours := []float64{0.98, 0.97, 4, 0.99, 0.98}
	assert.InDelta(t, 0.98, stat.Median(pours), 1e-12)
	assert.Equal(t, []float64{0.98, 0.97, 4, 0.99, 0.98}, pours, "their order in time is kept")
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.SliceOfN(rapid.Float64Range(-1e3, 1e3), 1, 9).Draw(t, "values")
		m, below, above := stat.Median(v), 0, 0
		for _, x := range v {
			if x < m {
				below++
			}
			if x > m {
				above++
			}
		}
		require.LessOrEqual(t, below, len(v)/2)
		require.LessOrEqual(t, above, len(v)/2)
	})
}
