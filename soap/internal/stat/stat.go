// Package stat sums up what a shop measured of its own work.
//
// Where a mold, a jug or a recipe learns from what happened to it, the middle
// of the last few times counts and not their average: one pour that went wrong
// then turns nothing.
package stat

import "slices"

// Median is the middle of some values, or halfway between the two in the
// middle; 0 of none. The values stay as they are.
func Median(values []float64) float64 {
	if len(values) == 0 {
		return 0
	}
	v := slices.Sorted(slices.Values(values))
	return (v[(len(v)-1)/2] + v[len(v)/2]) / 2
}
