package caution_test

import (
	"errors"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/caution"
)

func TestTheMostSeriousComesFirstAndTheRestKeepTheirOrder(t *testing.T) {
	list := []caution.Caution{
		{Code: "a", Level: caution.Advice},
		{Code: "b", Level: caution.Block},
		{Code: "c", Level: caution.Warn},
		{Code: "d", Level: caution.Advice},
		{Code: "e", Level: caution.Block},
	}
	caution.Sort(list)
	order := ""
	for _, c := range list {
		order += c.Code
	}
	assert.Equal(t, "becad", order)
	assert.Len(t, caution.Blocks(list), 2)
	assert.Equal(t, "Too hot. Wait.", caution.Caution{Reason: "Too hot.", Remedy: "Wait."}.Text())
	assert.Equal(t, "Too hot.", caution.Caution{Reason: "Too hot."}.Text())
}

func TestProblemsAreAnErrorWithPlaces(t *testing.T) {
	var p caution.Problems
	require.NoError(t, p.Err())
	p.Add("fats[1].percent", "the share is %s", "140 %")
	p.Add("", "nothing to weigh")
	p.Add("fats[1].percent", "said again")
	err := p.Err()
	require.Error(t, err)
	var again caution.Problems
	require.True(t, errors.As(err, &again))
	assert.Equal(t, "the share is 140 %", again.At("fats[1].percent"), "the first one at a place is shown")
	assert.Empty(t, again.At("fats[2].percent"))
	assert.Equal(t, "fats[1].percent: the share is 140 %\nnothing to weigh\nfats[1].percent: said again", err.Error())
}

func TestRangesRefuseWhatLiesOutsideAndWhatIsNoNumber(t *testing.T) {
	for v, fine := range map[float64]bool{0: true, 40: true, 5: true, -0.01: false, 40.01: false, math.Inf(1): false} {
		var p caution.Problems
		caution.Superfat.Check(&p, "s", "the superfat", v)
		assert.Equal(t, fine, len(p) == 0, "%v", v)
	}
	var p caution.Problems
	caution.Superfat.Check(&p, "s", "the superfat", math.NaN())
	caution.Positive(&p, "w", "the weight", 0)
	caution.Positive(&p, "x", "the weight", math.NaN())
	caution.Positive(&p, "y", "the weight", math.Inf(1))
	assert.Len(t, p, 4)
	p = nil
	caution.Superfat.Check(&p, "s", "the superfat", 140)
	assert.Equal(t, "the superfat is 140; it must lie between 0 and 40 %", p.At("s"))
}

func TestSharesComeToAHundredWithinAHundredth(t *testing.T) {
	for _, c := range []struct {
		shares []float64
		says   string
	}{
		{[]float64{50, 50}, ""}, {[]float64{33.33, 33.33, 33.34}, ""}, {[]float64{33.33, 33.33, 33.33}, ""}, {[]float64{50, 49.98},
			"0.02 % missing"}, {[]float64{60, 50}, "10 % too much"}, {nil, "100 % missing"},
	} {
		var p caution.Problems
		caution.Sum(&p, "fats", "fats", c.shares)
		if c.says == "" {
			assert.Empty(t, p, "%v", c.shares)
		} else {
			assert.Contains(t, p.At("fats"), c.says)
		}
	}
}
