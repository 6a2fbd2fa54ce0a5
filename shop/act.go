package shop

import (
	"strings"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
)

// deviates writes that an act was done outside of its window, which asks for a
// reason; within it there is nothing to write. Soap that came out at an odd time is
// cut at one too, so one reason serves for both.
func deviates(c *journal.Change, l *lot.Lot, act lot.Act, what, why string) error {
	out := l.OutOfWindow(c.At())
	if _, _, soft := l.CutWindow(); out == "" || soft || l.Deviated(lot.ToUnmold) {
		return nil
	}
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{
			{Path: "deviation", Text: "it is " + out + ". Write why it is done all the same; it goes on record as a deviation"},
		}
	}
	return deviation(c, l, act, what+" "+out, why)
}

// deviation writes that something was done otherwise than it should be, with the maker's reason.
func deviation(c *journal.Change, l *lot.Lot, act lot.Act, what, why string) error {
	return c.Record("deviation", func(entry int64) error {
		return c.AddDeviation(entry, l.ID, lot.Deviation{Act: act, What: what, Why: why})
	})
}
