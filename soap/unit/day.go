package unit

import (
	"errors"
	"strings"
	"time"
)

// Day reads a day of the calendar as people write it: 2026-03-14, 14 Mar 2026, March 14, 2026 or
// 14.3.2026. What stands first between slashes is the month in a US shop and the day elsewhere. The year
// is said in full, 1900 to 2200. The time of the day returned is midnight, in UTC.
func Day(text string, s System) (time.Time, error) {
	slashed := "2/1/2006"
	if s == US {
		slashed = "1/2/2006"
	}
	plain := strings.Join(strings.Fields(strings.ReplaceAll(text, ",", " ")), " ")
	plain = strings.Replace(strings.ToLower(plain), "sept ", "sep ", 1)
	for _, layout := range []string{
		time.DateOnly, "2 Jan 2006", "2 January 2006", "2. January 2006", "Jan 2 2006", "January 2 2006", "2.1.2006", slashed,
	} {
		if day, err := time.Parse(layout, plain); err == nil && day.Year() >= 1900 && day.Year() <= 2200 {
			return day, nil
		}
	}
	return time.Time{}, errors.New("type the day like 14 Mar 2026, " + time.Date(2026, 3, 14, 0, 0, 0, 0, time.UTC).Format(slashed) +
		" or 2026-03-14")
}

// Moment reads a day, as [Day] does, and a time of it: 09:30, 9.30 or 2:30 pm.
func Moment(text string, s System, zone *time.Location) (time.Time, error) {
	words := strings.Fields(text)
	for n := 1; n <= 2 && n < len(words); n++ { // "2:30 pm" are two
		day, err := Day(strings.Join(words[:len(words)-n], " "), s)
		if err != nil {
			continue
		}
		clock := strings.ToLower(strings.Join(words[len(words)-n:], ""))
		for _, layout := range []string{"15:04", "15.04", "3:04pm", "3pm"} {
			if at, err := time.Parse(layout, clock); err == nil {
				return time.Date(day.Year(), day.Month(), day.Day(), at.Hour(), at.Minute(), 0, 0, zone), nil
			}
		}
	}
	return time.Time{}, errors.New("type the day and the hour, such as 14 Mar 2026 09:30")
}

// FormatDay writes a day so that nobody takes the month for the day.
func FormatDay(day time.Time) string { return day.Format("2 Jan 2006") }
