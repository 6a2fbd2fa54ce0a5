package mold

import (
	"math"

	"ashshelf/soap/internal/stat"
)

// Pour is what one pour showed of a mold.
type Pour struct {
	Correction float64 // the factor that was planned with
	Off        float64 // mm that the soap came above the fill line, below it under zero
	Left       float64 // share of the batter that was left when the mold was full, 0 to 1
}

// What a mold learns from, and how far.
const (
	learnFrom = 2    // pours before anything is learned
	learnLast = 5    // of the newest pours
	learnMost = 0.05 // either way
)

// says is the factor that would have filled the mold to its line. What was
// poured, less what was left, came to fill + off where it should have come to
// fill. A mold without a fill height only learns from what was left.
func (p Pour) says(fill float64) float64 {
	c := p.Correction
	if c == 0 {
		c = 1
	}
	c *= 1 - p.Left
	if fill > 0 && fill+p.Off > 0 {
		c *= fill / (fill + p.Off)
	}
	return c
}

// Learn is the correction that a mold's pours call for, the newest last: the
// median of what the last five say, from two on, and never more than 5 %
// either way. The median keeps one bad pour from turning it. Before it has
// learned anything it is 1. seen is how many pours it rests on.
func Learn(pours []Pour, fill float64) (correction float64, seen int) {
	if len(pours) > learnLast {
		pours = pours[len(pours)-learnLast:]
	}
	seen = len(pours)
	if seen < learnFrom {
		return 1, seen
	}
	said := make([]float64, seen)
	for i, p := range pours {
		said[i] = p.says(fill)
	}
	return math.Min(1+learnMost, math.Max(1-learnMost, stat.Median(said))), seen
}
