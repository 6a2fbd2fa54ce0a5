package exchange_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/exchange"
	"ashshelf/soap/timetable"
)

const twoPots = `{"format":"ashshelf.day-request/1","start":"08:00","end":"10:00","resources":{"hands":1,"jug":2,"scale":1},"batches":[
 {"name":"A","steps":[{"name":"lye","minutes":10,"uses":["hands","scale"],"keeps":{"jug":"stir"}},
  {"name":"stir","minutes":15.0,"uses":["hands"],"after":["lye"],"within":{"lye":3e1},"from":"08:30"}]},
 {"name":"B","steps":[{"name":"all","minutes":90,"uses":["hands"],"at":"08:10"}]}]}`

func TestADayIsWrittenAsItsSchemaSays(t *testing.T) {
	d, err := exchange.ReadDay(strings.NewReader(twoPots))
	require.NoError(t, err)
	assert.Equal(t, timetable.Step{Name: "stir", Minutes: 15, Uses: []string{"hands"}, After: []string{"lye"},
		Within: map[string]int{"lye": 30}, From: 510}, d.Batches[0].Steps[1], "a whole number is one, with a point and with an exponent")
	assert.Equal(t, 490, d.Batches[1].Steps[0].At)
	plan := timetable.Lay(d)
	require.Len(t, plan.Late, 1)
	var text bytes.Buffer
	require.NoError(t, exchange.WriteDay(&text, plan))
	holdsTo(t, "day-1", &text)
}

// Whatever is sent, it is answered with a day that breaks no rule, or with problems that say where.
func FuzzADayIsLaidOrRefused(f *testing.F) {
	f.Add(twoPots)
	f.Add(strings.Replace(twoPots, "10:00", "24:00", 1))
	f.Add(strings.Replace(twoPots, `"jug":"stir"`, `"jug":"lye","hands":"stir"`, 1))
	f.Add(strings.Replace(twoPots, `"after":["lye"]`, `"after":["stir"]`, 1))
	shortenBriefly(f)
	f.Fuzz(func(t *testing.T, text string) {
		d, err := exchange.ReadDay(strings.NewReader(text))
		if err != nil {
			return
		}
		plan := timetable.Lay(d)
		if broken := timetable.Judge(d, plan.Steps); len(broken) > 0 {
			t.Fatalf("%+v", broken)
		}
		if plan.AtLeast > plan.Ends || plan.Ends > d.End {
			t.Fatalf("ends %d, at least %d", plan.Ends, plan.AtLeast)
		}
		if err := exchange.WriteDayText(&bytes.Buffer{}, plan); err != nil {
			t.Fatal(err)
		}
	})
}
