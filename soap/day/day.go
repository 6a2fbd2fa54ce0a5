// Package day is the days on the wall. Cures, windows and the month count them, and a
// day is not always 24 hours long: clocks change, in some places at midnight, so that
// midnight is not there or comes twice, and once in a while a whole day is left out.
// So days are counted as dates, and turned into moments only at the end.
package day

import (
	"sort"
	"time"
)

// Of is the local date of a moment, as midnight in UTC, where every day has 24 hours.
func Of(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}

// Start is the first moment of a date in a zone; of a date that the zone left out, it is
// that of the next one.
func Start(date time.Time, zone *time.Location) time.Time {
	// No zone is further than 15 hours from UTC, and none ever left out more than a day.
	early := date.Add(-15 * time.Hour)
	const span = 24 + 15 + 15
	// Whole minutes: no zone changed at a part of one since there are zones by law.
	minutes := sort.Search(span*60, func(n int) bool {
		return !Of(early.Add(time.Duration(n) * time.Minute).In(zone)).Before(date)
	})
	return early.Add(time.Duration(minutes) * time.Minute).In(zone)
}

// Plus is the start of the local day so many days after that of a moment, before it
// when n is below zero.
func Plus(t time.Time, n int) time.Time { return Start(Of(t).AddDate(0, 0, n), t.Location()) }

// Between is the number of local days from a to b.
func Between(a, b time.Time) int { return int(Of(b).Sub(Of(a)).Hours()) / 24 }
