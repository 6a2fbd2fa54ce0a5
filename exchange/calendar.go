package exchange

import (
	"fmt"
	"io"
	"time"

	ics "github.com/arran4/golang-ical"

	"ashshelf/soap/day"
	"ashshelf/soap/schedule"
)

// WriteCalendar writes what is foreseen as an iCalendar feed (RFC 5545). base is
// the address of the shop, such as "http://192.168.1.20:8420".
func WriteCalendar(w io.Writer, shop, base string, events []schedule.Event, now time.Time) error {
	c := ics.NewCalendarFor("Ash Shelf")
	c.SetMethod(ics.MethodPublish)
	c.SetName(oneLine(shop) + ": soap")
	c.SetRefreshInterval("PT1H")
	for _, e := range events {
		one := c.AddEvent(fmt.Sprintf("%s-%s-%s@ashshelf", e.Lot.OID, e.Kind, e.Day.Format("20060102")))
		one.SetDtStampTime(now)
		one.SetSummary(oneLine(fmt.Sprintf("%s: %s %s", e.Words(), e.Lot.Code, e.Lot.Frozen.Recipe)))
		text := e.Why
		if e.AllDay {
			on := day.Of(e.Day) // a date, whatever its clock does
			one.SetAllDayStartAt(on)
			one.SetAllDayEndAt(on.AddDate(0, 0, 1))
		} else {
			one.SetStartAt(e.Opens)
			one.SetEndAt(e.Closes)
			text = fmt.Sprintf("Best at %s. %s", e.Best.In(e.Day.Location()).Format("15:04"), e.Why)
			alarm := one.AddAlarm()
			alarm.SetAction(ics.ActionDisplay)
			alarm.SetDescription(e.Words())
			alarm.SetTrigger("PT0S")
		}
		if e.Off {
			text += " On a day off."
		}
		one.SetDescription(oneLine(text))
		one.SetURL(base + "/lots/" + e.Lot.OID)
	}
	if err := c.SerializeTo(w, ics.WithNewLineWindows); err != nil {
		return fmt.Errorf("write calendar: %w", err)
	}
	return nil
}
