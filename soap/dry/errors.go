package dry

import (
	"fmt"
	"math"
)

// weighingErrors is one thought of how weighings are off: their scale, and air whose moisture
// hangs together from week to week.
type weighingErrors struct {
	inverse [][]float64 // of the covariance
	log     float64     // prior, and what is the same for all shapes
}

// moments are what a fit needs of a shape under one thought of the errors: with w the inverse,
// 1 the weight at the start and g what is gone.
type moments struct {
	oneOne, oneG, gG, oneY, gY, yY float64
	open                           float64 // what leaving the start open costs, which hardly depends on the loss
}

// observed are the weighings with what the noted damp of the air explains taken off, and the
// thoughts of how they are off.
func (c Case) observed(bad []bool) (y []float64, errs []weighingErrors) {
	n := len(c.Weighings)
	y = make([]float64, n)
	damp := c.damp()
	for i, w := range c.Weighings {
		y[i] = w.Grams * (1 - byHumidity*damp[i])
	}
	for _, air := range airs {
		cov := make([][]float64, n)
		for i, a := range c.Weighings {
			cov[i] = make([]float64, n)
			for k, b := range c.Weighings {
				weeks := math.Abs(a.Hours-b.Hours) / (7 * 24)
				stays := 1.0
				if weeks > 0 {
					stays = math.Pow(air.stays, weeks)
				}
				cov[i][k] = air.wide*air.wide*stays*a.Grams*b.Grams +
					byHumidity*byHumidity/4*damp[i]*damp[k]*a.Grams*b.Grams
			}
			cov[i][i] += handling*handling + c.Step*c.Step/12 + unlike*unlike*a.Grams*a.Grams
			if bad[i] {
				cov[i][i] += a.Grams * a.Grams // it says nothing
			}
		}
		inverse, logDet := invert(cov)
		errs = append(errs, weighingErrors{inverse, math.Log(air.prior) - logDet/2})
	}
	return y, errs
}

// damp is how much damper than on the whole the air was at each weighing, in percent; nought
// when nobody looked.
func (c Case) damp() []float64 {
	out := make([]float64, len(c.Weighings))
	var read []Air
	mean := 0.0
	for _, a := range c.Room {
		if a.Humidity >= 0 {
			read = append(read, a)
			mean += a.Humidity
		}
	}
	if len(read) < 2 {
		return out
	}
	mean /= float64(len(read))
	for i, w := range c.Weighings {
		out[i] = between(read, w.Hours, moisture) - mean
	}
	return out
}

// perDegree is how much faster water leaves a bar in a room that is a degree warmer, as a share: the
// vapour pressure of water rises by 6 % a degree, and what has to come through the bar first by
// half of that.
const perDegree = 0.03

// worn is how many hours a bar had dried at each weighing, in a room as warm as it was on the whole:
// warm weeks count for more and cold ones for less. Without readings it is the hours themselves.
func (c Case) worn() []float64 {
	out := make([]float64, len(c.Weighings))
	for i, w := range c.Weighings {
		out[i] = w.Hours
	}
	var read []Air
	for _, a := range c.Room {
		if !math.IsNaN(a.Celsius) {
			read = append(read, a)
		}
	}
	if len(read) < 2 {
		return out
	}
	const step = 12.0
	last := c.Weighings[len(c.Weighings)-1].Hours
	total, at := 0.0, make([]float64, len(out))
	for i, w := range c.Weighings {
		from := 0.0
		if i > 0 {
			from, at[i] = c.Weighings[i-1].Hours, at[i-1]
		}
		for from < w.Hours {
			to := min(from+step, w.Hours)
			at[i] += (to - from) * math.Exp(perDegree*between(read, (from+to)/2, warmth))
			from = to
		}
		total = at[i]
	}
	for i := range out {
		if total > 0 {
			out[i] = at[i] * last / total
		}
	}
	return out
}

func warmth(a Air) float64 { return a.Celsius }

func moisture(a Air) float64 { return a.Humidity }

// between is a figure of the air at an hour, on a line between the readings around it.
func between(read []Air, hours float64, figure func(Air) float64) float64 {
	for i, a := range read {
		if a.Hours < hours {
			continue
		}
		if i == 0 {
			return figure(a)
		}
		b := read[i-1]
		return figure(b) + (figure(a)-figure(b))*(hours-b.Hours)/(a.Hours-b.Hours)
	}
	return figure(read[len(read)-1])
}

// moments sums up a shape and the weighings.
func (e weighingErrors) moments(gone, y []float64) (m moments) {
	for i, row := range e.inverse {
		var one, g, obs float64
		for k, w := range row {
			one, g, obs = one+w, g+w*gone[k], obs+w*y[k]
		}
		m.oneOne, m.oneG, m.gG = m.oneOne+one, m.oneG+g, m.gG+gone[i]*g
		m.oneY, m.gY, m.yY = m.oneY+obs, m.gY+gone[i]*obs, m.yY+y[i]*obs
	}
	m.open = math.Log(m.startWeight(middleLoss)) / 2
	return m
}

// fit is how well a loss explains the weighings, with the weight at the start left open, and
// that weight.
func (m moments) fit(loss float64) (log, start float64) {
	sy := m.oneY - loss*m.gY
	start = sy / m.startWeight(loss)
	return -(m.yY-sy*start)/2 - m.open, start
}

// middleLoss is a loss as any.
const middleLoss = 0.11

// startWeight is how much the weighings say of the start.
func (m moments) startWeight(loss float64) float64 { return m.oneOne - 2*loss*m.oneG + loss*loss*m.gG }

// invert inverts a covariance by Cholesky, and gives the logarithm of its determinant.
func invert(a [][]float64) (inverse [][]float64, logDet float64) {
	n := len(a)
	l := make([][]float64, n)
	for i := range n {
		l[i] = make([]float64, n)
		for j := 0; j <= i; j++ {
			sum := a[i][j]
			for k := range j {
				sum -= l[i][k] * l[j][k]
			}
			if i == j {
				l[i][i] = math.Sqrt(math.Max(sum, 1e-12))
				logDet += 2 * math.Log(l[i][i])
			} else {
				l[i][j] = sum / l[j][j]
			}
		}
	}
	inverse = make([][]float64, n)
	for col := range n {
		x := make([]float64, n)
		for i := range n {
			sum := 0.0
			if i == col {
				sum = 1
			}
			for k := range i {
				sum -= l[i][k] * x[k]
			}
			x[i] = sum / l[i][i]
		}
		for i := n - 1; i >= 0; i-- {
			sum := x[i]
			for k := i + 1; k < n; k++ {
				sum -= l[k][i] * x[k]
			}
			x[i] = sum / l[i][i]
		}
		inverse[col] = x
	}
	return inverse, logDet
}

func at(list string, i int, field string) string { return fmt.Sprintf("%s[%d].%s", list, i, field) }
