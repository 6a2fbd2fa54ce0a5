package exchange

import (
	"bytes"
	"encoding/csv"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
)

// Whoever is named like a formula, in whatever column, is none to a spreadsheet; what
// is a number stays one.
func TestNoCellIsAFormula(t *testing.T) {
	for cell, want := range map[string]string{
		"=1+1": "'=1+1", "+cmd": "'+cmd", "-cmd": "'-cmd", "@sum": "'@sum", " =1": "' =1", "\t=1": "'\t=1", "\r=1": "'\r=1",
		"＝1": "'＝1", "-12.5": "-12.5", "+3": "+3", "1e3": "1e3", "": "", "Olive oil": "Olive oil",
	} {
		assert.Equal(t, want, plain(cell), "%q", cell)
	}
	l := &lot.Lot{
		Code:    "1-F",
		Started: lot.Entry{ID: 1, Who: "=HYPERLINK(1)", Device: "@pad", Occurred: time.Unix(0, 0), Recorded: time.Unix(0, 0)},
	}
	l.Notes = []lot.Note{{Entry: lot.Entry{ID: 2, Who: "+Ida", Reason: "-x"}, Text: "=1"}}
	var out bytes.Buffer
	require.NoError(t, WriteLotSheet(&out, l))
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	for _, row := range rows {
		for _, cell := range row {
			assert.False(
				t,
				strings.HasPrefix(cell, "=") || strings.HasPrefix(cell, "@") || strings.HasPrefix(cell, "+I") ||
					strings.HasPrefix(cell, "-x"),
				cell,
			)
		}
	}
}

// A name that breaks its line cannot begin another entry of a calendar.
func TestNoNameBreaksOutOfACalendar(t *testing.T) {
	evil := "Fig\r\nEND:VEVENT\rBEGIN:VEVENT\nSUMMARY:hello"
	l := &lot.Lot{OID: "o", Code: "1-F", Frozen: lot.Frozen{Recipe: evil}}
	e := schedule.Event{Task: schedule.Task{Lot: l, Kind: schedule.Weigh, Why: evil}, Day: time.Now(), AllDay: true}
	var out bytes.Buffer
	require.NoError(t, WriteCalendar(&out, evil, "http://localhost", []schedule.Event{e}, time.Now()))
	c, err := ics.ParseCalendar(&out)
	require.NoError(t, err)
	assert.Len(t, c.Events(), 1)
}
