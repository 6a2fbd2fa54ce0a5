package simplex_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/internal/simplex"
)

// Worked by hand: 3x + 2y is most, with x + y at most 4 and x + 3y at most 6 and x at most 3, in the corner x 3, y 1.
func TestACornerIsWorkedByHand(t *testing.T) {
	x, err := simplex.Minimize([]float64{-3, -2, 0, 0, 0}, [][]float64{{1, 1, 1, 0, 0}, {1, 3, 0, 1, 0}, {1, 0, 0, 0, 1}}, []float64{4, 6, 3})
	require.NoError(t, err)
	assert.InDeltaSlice(t, []float64{3, 1, 0, 0, 0}, x, 1e-9)
}

func TestWhatHasNoAnswerIsTold(t *testing.T) {
	_, err := simplex.Minimize([]float64{1, 1}, [][]float64{{1, 1}, {1, 1}}, []float64{1, 2})
	assert.ErrorIs(t, err, simplex.ErrInfeasible)
	_, err = simplex.Minimize([]float64{-1, 0}, [][]float64{{1, -1}}, []float64{1})
	assert.ErrorIs(t, err, simplex.ErrUnbounded)
	x, err := simplex.Minimize([]float64{1, 2}, [][]float64{{1, 1}, {2, 2}}, []float64{1, 2})
	require.NoError(t, err, "a limit that stands twice")
	assert.InDeltaSlice(t, []float64{1, 0}, x, 1e-9)
}

// Beale's programme of 1955, on which the steepest step alone goes round for ever: the least is -1/20.
func TestWhereStepsGoRoundAnEndIsFound(t *testing.T) {
	c := []float64{-0.75, 150, -0.02, 6, 0, 0, 0}
	x, err := simplex.Minimize(c, [][]float64{{0.25, -60, -0.04, 9, 1, 0, 0}, {0.5, -90, -0.02, 3, 0, 1, 0}, {0, 0, 1, 0, 0, 0, 1}},
		[]float64{0, 0, 1})
	require.NoError(t, err)
	sum := 0.0
	for i, v := range x {
		sum += c[i] * v
	}
	assert.InDelta(t, -0.05, sum, 1e-9)
}

// Of programmes small enough to look at every corner, none is better than what is answered.
func TestNoCornerIsBetter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, m := rapid.IntRange(2, 5).Draw(t, "unknowns"), rapid.IntRange(1, 2).Draw(t, "limits")
		figure := func(what string) float64 { return float64(rapid.IntRange(-3, 6).Draw(t, what)) }
		c, b := make([]float64, n), make([]float64, m)
		a := make([][]float64, m)
		for j := range c {
			c[j] = float64(rapid.IntRange(0, 9).Draw(t, "cost"))
		}
		for i := range a {
			a[i], b[i] = make([]float64, n), figure("limit")
			for j := range a[i] {
				a[i][j] = figure("factor")
			}
		}
		best := math.Inf(1)
		corner := func(at []int) {
			x, ok := solve(a, b, at)
			if !ok {
				return
			}
			sum := 0.0
			for k, j := range at {
				if x[k] < -1e-9 {
					return
				}
				sum += c[j] * x[k]
			}
			best = math.Min(best, sum)
		}
		for i := range n {
			if m == 1 {
				corner([]int{i})
				continue
			}
			for j := i + 1; j < n; j++ {
				corner([]int{i, j})
			}
		}
		x, err := simplex.Minimize(c, a, b)
		if err != nil {
			if !math.IsInf(best, 1) {
				t.Fatalf("%v, and a corner is %v", err, best)
			}
			return
		}
		sum := 0.0
		for j, v := range x {
			if v < 0 {
				t.Fatal("below nothing")
			}
			sum += c[j] * v
		}
		for i := range a {
			at := 0.0
			for j, v := range x {
				at += a[i][j] * v
			}
			if math.Abs(at-b[i]) > 1e-6 {
				t.Fatalf("limit %d is %v, not %v", i, at, b[i])
			}
		}
		if sum > best+1e-6 {
			t.Fatalf("%v, and a corner is %v", sum, best)
		}
	})
}

// solve is the corner in which only some unknowns are more than nothing.
func solve(a [][]float64, b []float64, at []int) ([]float64, bool) {
	if len(at) == 1 {
		if a[0][at[0]] == 0 {
			return nil, false
		}
		return []float64{b[0] / a[0][at[0]]}, true
	}
	p, q, r, s := a[0][at[0]], a[0][at[1]], a[1][at[0]], a[1][at[1]]
	det := p*s - q*r
	if det == 0 {
		return nil, false
	}
	return []float64{(b[0]*s - q*b[1]) / det, (p*b[1] - b[0]*r) / det}, true
}
