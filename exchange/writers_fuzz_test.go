package exchange

import (
	"bytes"
	"encoding/csv"
	"strconv"
	"strings"
	"testing"
	"time"

	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
)

// Whatever a cell says, it comes back as one cell, and no spreadsheet takes it for a
// formula.
func FuzzNoCellIsAFormula(f *testing.F) {
	for _, s := range []string{"=1+1", "-3.5", "+44 1234", "@SUM(A1)", "\t=1", "a,b\"c\nd", "\r=x", "＝1", "1e9", "", "'=x",
		"\u00a0=1", "\ufeff=1"} {
		f.Add(s, "plain")
	}
	f.Fuzz(func(t *testing.T, one, two string) {
		var b bytes.Buffer
		if err := writeTable(&b, "cells", [][]string{{"what", "how"}, {one, two}}); err != nil {
			t.Fatal(err)
		}
		rows, err := csv.NewReader(&b).ReadAll()
		if err != nil || len(rows) != 2 || len(rows[1]) != 2 {
			t.Fatalf("%q and %q are %q: %v", one, two, rows, err)
		}
		for i, cell := range rows[1] {
			if _, err := strconv.ParseFloat(cell, 64); err == nil {
				continue
			}
			if begins := strings.TrimLeft(cell, " \t\r\n\u00a0\ufeff\v\f\x00"); begins != "" &&
				strings.ContainsAny(begins[:1], "=+-@") {
				t.Fatalf("cell %d of %q, %q begins like a formula: %q", i, one, two, cell)
			}
		}
	})
}

// Whatever a recipe or a shop is called, a calendar is lines of at most 75 bytes, each a
// property or the rest of one, with as many events as were foreseen.
func FuzzACalendarStaysACalendar(f *testing.F) {
	for _, s := range []string{"Slow olive", "x\r\nBEGIN:VEVENT", "x\nATTACH:http://x", "a;b,c\\d", strings.Repeat("é", 200),
		"\u2028DESCRIPTION:x", "\x85X", "\x00"} {
		f.Add(s, s)
	}
	day := time.Date(2026, 3, 14, 0, 0, 0, 0, time.UTC)
	f.Fuzz(func(t *testing.T, recipe, why string) {
		l := &lot.Lot{OID: "lot", Code: "1-F"}
		l.Frozen.Recipe = recipe
		events := []schedule.Event{
			{Task: schedule.Task{Kind: schedule.Unmold, Lot: l, Opens: day, Best: day, Closes: day.Add(time.Hour), Why: why}, Day: day},
			{
				Task:   schedule.Task{Kind: schedule.Weigh, Lot: l, Opens: day, Best: day, Closes: day, Why: why},
				Day:    day,
				AllDay: true,
				Off:    true,
			},
		}
		var b bytes.Buffer
		if err := WriteCalendar(&b, recipe, "http://127.0.0.1:8420", events, day); err != nil {
			t.Fatal(err)
		}
		text := b.String()
		count := map[string]int{}
		for line := range strings.SplitSeq(strings.TrimSuffix(text, "\r\n"), "\r\n") {
			if strings.ContainsAny(line, "\r\n") || len(line) > 75 {
				t.Fatalf("line %q of %q", line, text)
			}
			if !strings.HasPrefix(line, " ") {
				name, _, ok := strings.Cut(line, ":")
				name, _, _ = strings.Cut(name, ";")
				if !ok || strings.Trim(name, "ABCDEFGHIJKLMNOPQRSTUVWXYZ-") != "" {
					t.Fatalf("line %q of %q is no property", line, text)
				}
				count[line]++
			}
		}
		if count["BEGIN:VEVENT"] != 2 || count["END:VEVENT"] != 2 || count["BEGIN:VALARM"] != 1 || count["END:VCALENDAR"] != 1 {
			t.Fatalf("%q and %q make %v", recipe, why, count)
		}
	})
}
