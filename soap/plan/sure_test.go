package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/plan"
)

func TestASmallPotOnACoarseScaleIsLessSure(t *testing.T) {
	width := func(fats, step float64) float64 {
		r := request(everyday(), plan.Target{FatsG: fats})
		r.Scales = plan.Scales{Resolution: step}
		p, err := plan.Make(r)
		require.NoError(t, err)
		low, high := plan.SuperfatRange(r.Formula, p, plan.Sheet(r, p))
		assert.True(t, low < p.Superfat && p.Superfat < high)
		assert.InDelta(t, p.Superfat, (low+high)/2, 1e-9)
		return high - low
	}
	assert.Less(t, width(1000, 0.1), width(100, 1))
	assert.InDelta(t, width(1000, 0.1), width(10_000, 0.1), 0.2, "a large pot is no surer: the oils are what they are")
}
