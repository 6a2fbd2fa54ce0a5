//go:build !linux && !darwin && !windows

package disk

import "math"

// Free is not known here: the disk says so itself when it is full.
func Free(string) (uint64, error) { return math.MaxUint64, nil }
