// Package simplex solves small linear programmes.
//
// It is the simplex method in two phases on a dense tableau (Dantzig 1947). Where many limits meet in one point, steps by
// the steepest cost can go round in a ring for ever; after so many of them the least index is taken, which cannot (Bland
// 1977, "New finite pivoting rules"). Blends of fats are full of such points: shares that are limited to what they are.
package simplex

import (
	"errors"
	"math"
)

// What a programme can come to besides an answer.
var (
	ErrInfeasible = errors.New("no point keeps all limits")
	ErrUnbounded  = errors.New("nothing keeps the cost from falling for ever")
	ErrLost       = errors.New("no end was found in the steps that there are")
)

const (
	tiny   = 1e-9
	nearly = 1e-7 // of what is left of a limit that is kept
)

// tableau is the programme in terms of the unknowns that are not in the basis. The last row is the cost, the last column
// the limits.
type tableau struct {
	rows  [][]float64
	basis []int // the unknown of each row
	wide  int   // unknowns
}

// Minimize finds x ≥ 0 with A x = b that makes least of c x. A has a row for each of b and a column for each of c. It is
// exact to about 1e-7 for figures around 1 to 1000.
func Minimize(c []float64, a [][]float64, b []float64) (x []float64, err error) {
	n, m := len(c), len(b)
	t := tableau{wide: n + m, basis: make([]int, m)}
	for i := range m {
		row := make([]float64, n+m+1)
		sign := 1.0
		if b[i] < 0 {
			sign = -1
		}
		for j, v := range a[i] {
			row[j] = sign * v
		}
		row[n+i], row[n+m] = 1, sign*b[i]
		t.rows, t.basis[i] = append(t.rows, row), n+i
	}
	helpers := make([]float64, n+m+1)
	for i := range m { // the sum of the helpers, written in what is not in the basis
		for j, v := range t.rows[i] {
			if j < n || j == n+m {
				helpers[j] -= v
			}
		}
	}
	t.rows = append(t.rows, helpers)
	if err := t.run(n + m); err != nil {
		return nil, err
	}
	if -t.rows[m][t.wide] > nearly {
		return nil, ErrInfeasible
	}
	t.leave(n)
	cost := make([]float64, n+m+1)
	copy(cost, c)
	for i, at := range t.basis {
		if at >= n || c[at] == 0 {
			continue
		}
		for j, v := range t.rows[i] {
			cost[j] -= c[at] * v
		}
	}
	t.rows[m] = cost
	if err := t.run(n); err != nil {
		return nil, err
	}
	x = make([]float64, n)
	for i, at := range t.basis {
		if at < n {
			x[at] = math.Max(0, t.rows[i][t.wide])
		}
	}
	return x, nil
}

// run steps until no unknown among the first of them makes the cost less.
func (t *tableau) run(among int) error {
	m := len(t.basis)
	steep := 4 * (m + among)
	for step := range 60 * (m + among) {
		in := t.entering(among, step >= steep)
		if in < 0 {
			return nil
		}
		out := -1
		for i := range m {
			if t.rows[i][in] <= tiny {
				continue
			}
			ratio := t.rows[i][t.wide] / t.rows[i][in]
			if out < 0 {
				out = i
				continue
			}
			least := t.rows[out][t.wide] / t.rows[out][in]
			if ratio < least-tiny || ratio < least+tiny && t.basis[i] < t.basis[out] {
				out = i
			}
		}
		if out < 0 {
			return ErrUnbounded
		}
		t.pivot(out, in)
	}
	return ErrLost
}

// entering is the unknown to take in: the steepest, or the first that makes the cost less; -1 when none does.
func (t *tableau) entering(among int, first bool) int {
	cost := t.rows[len(t.basis)]
	in := -1
	for j := range among {
		if cost[j] >= -tiny {
			continue
		}
		if first {
			return j
		}
		if in < 0 || cost[j] < cost[in] {
			in = j
		}
	}
	return in
}

func (t *tableau) pivot(out, in int) {
	row := t.rows[out]
	by := row[in]
	for j := range row {
		row[j] /= by
	}
	row[in] = 1
	for i, other := range t.rows {
		if i == out || other[in] == 0 {
			continue
		}
		f := other[in]
		for j, v := range row {
			if v != 0 {
				other[j] -= f * v
			}
		}
		other[in] = 0
	}
	t.basis[out] = in
}

// leave takes helpers out of the basis that stayed in it with nothing; a row that says nothing new keeps its own.
func (t *tableau) leave(n int) {
	for i, at := range t.basis {
		if at < n {
			continue
		}
		best := -1
		for j := range n {
			if v := math.Abs(t.rows[i][j]); v > nearly && (best < 0 || v > math.Abs(t.rows[i][best])) {
				best = j
			}
		}
		if best >= 0 {
			t.pivot(i, best)
		}
	}
}
