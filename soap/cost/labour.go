package cost

import (
	"slices"
	"time"
)

// PauseMinutes is the longest pause between two entries that counts as work: a lye that cools for an hour is no hour
// of anybody's time.
const PauseMinutes = 15

// Minutes is how long somebody was at the bench, from when things were written down. A pause counts for at most
// [PauseMinutes].
func Minutes(at []time.Time) int {
	list := slices.Clone(at)
	slices.SortFunc(list, time.Time.Compare)
	sum := time.Duration(0)
	for i := 1; i < len(list); i++ {
		sum += min(list[i].Sub(list[i-1]), PauseMinutes*time.Minute)
	}
	return int(sum.Minutes() + 0.5)
}
