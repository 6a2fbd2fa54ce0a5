package timetable_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/timetable"
)

// pot is a batch as most are made: lye that cools while fats melt.
func pot(name string) timetable.Batch {
	return timetable.Batch{Name: name, Steps: []timetable.Step{
		{Name: "lye", Minutes: 10, Uses: []string{"hands", "scale"}, Keeps: map[string]string{"jug": "combine"}},
		{Name: "cool", Minutes: 60, After: []string{"lye"}},
		{Name: "fats", Minutes: 20, Uses: []string{"hands", "scale"}, Keeps: map[string]string{"pot": "pour"}},
		{Name: "combine", Minutes: 15, Uses: []string{"hands"}, After: []string{"cool", "fats"}, Within: map[string]int{"cool": 30}},
		{Name: "pour", Minutes: 15, Uses: []string{"hands"}, After: []string{"combine"}},
	}}
}

func day(batches ...timetable.Batch) timetable.Day {
	return timetable.Day{Start: 8 * 60, End: 17 * 60, Batches: batches,
		Resources: map[string]int{"hands": 1, "jug": 2, "pot": 1, "scale": 1}}
}

func TestOnePotIsDoneWhenItsLyeIsCool(t *testing.T) {
	d := day(pot("A"))
	require.Empty(t, d.Check())
	p := timetable.Lay(d)
	assert.Equal(t, "09:40", timetable.Clock(p.Ends), "ten minutes, an hour, and half an hour")
	assert.Equal(t, p.Ends, p.AtLeast)
	assert.Empty(t, p.Late)
	require.Len(t, p.Steps, 5)
	at := func(name string) timetable.Placed {
		for _, s := range p.Steps {
			if s.Name == name {
				return s
			}
		}
		return timetable.Placed{}
	}
	assert.Equal(t, &timetable.Wait{Resource: "hands", Batch: "A", Step: "lye", Until: 490}, at("fats").Waits, "two hands")
	assert.Equal(t, 40, at("fats").Slack, "they have melted long before the lye is cool")
	assert.Zero(t, at("cool").Slack)
}

// Worked by hand: the one pot is taken from the fats to the pour, 50 minutes each; the first may begin when its lye is weighed,
// and meets it at 09:10, so that pots follow at 09:40, 10:30 and 11:20 at the earliest, but for what hands do in between.
func TestOnePotHoldsUpTheSecondBatch(t *testing.T) {
	p := timetable.Lay(day(pot("A"), pot("B")))
	assert.Equal(t, "10:30", timetable.Clock(p.Ends), "the second batch has the pot 50 minutes after the first is poured")
	assert.True(t, p.Proved)
	gains := timetable.Gains(day(pot("A"), pot("B")), p)
	require.Len(t, gains, 1)
	assert.Equal(t, timetable.Gain{Resource: "pot", Earlier: 20}, gains[0], "two pots, and the hands hold it up")
}

func TestWhatDoesNotFitIsLateAsAWhole(t *testing.T) {
	d := day(pot("A"), pot("B"), pot("C"))
	d.End = 10*60 + 45
	p := timetable.Lay(d)
	require.Len(t, p.Late, 1)
	assert.Equal(t, "C", p.Late[0].Batch)
	assert.NotEmpty(t, p.Late[0].Why)
	assert.Len(t, p.Steps, 10, "the rest stands")

	d.End = 9 * 60
	p = timetable.Lay(d)
	assert.Len(t, p.Late, 3)
	assert.Equal(t, "it takes 1 h 40 by itself, and the day has 1 h 00", p.Late[0].Why)
	assert.Equal(t, d.Start, p.Ends)
	assert.Equal(t, d.Start, p.AtLeast)

	d = day(pot("A"))
	d.Resources["jug"] = 0
	assert.Equal(t, "“lye” takes 1 of jug, and there are 0", timetable.Lay(d).Late[0].Why)
}

// Lye waits until its fats can meet it: with one pot the second lye is not mixed too early.
func TestLyeDoesNotStandLongerThanItMay(t *testing.T) {
	d := day(pot("A"), pot("B"), pot("C"))
	d.Resources["jug"] = 3
	for _, s := range timetable.Lay(d).Steps {
		if s.Name == "cool" && s.Waits != nil && s.Waits.Resource == "" {
			assert.Equal(t, "combine", s.Waits.Step)
			return
		}
	}
	t.Fatal("no lye waited")
}

func TestADayThatCannotBeIsToldWhereItIsWrong(t *testing.T) {
	for path, change := range map[string]func(*timetable.Day){
		"end":                       func(d *timetable.Day) { d.End = d.Start },
		"start":                     func(d *timetable.Day) { d.Start = -1 },
		"resources":                 func(d *timetable.Day) { d.Resources[" "] = 1 },
		"batches[1].name":           func(d *timetable.Day) { d.Batches[1].Name = "A" },
		"batches[0].name":           func(d *timetable.Day) { d.Batches[0].Name = " " },
		"batches[0].steps":          func(d *timetable.Day) { d.Batches[0].Steps = nil },
		"batches[0].steps[1].name":  func(d *timetable.Day) { d.Batches[0].Steps[1].Name = "lye" },
		"batches[0].steps[1].after": func(d *timetable.Day) { d.Batches[0].Steps[1].After = []string{"stir"} },
		"batches[0].steps[3].within": func(d *timetable.Day) {
			d.Batches[0].Steps[3].Within = map[string]int{"cool": -1}
		},
		"batches[0].steps[2].uses":    func(d *timetable.Day) { d.Batches[0].Steps[2].Uses = []string{"crane"} },
		"batches[0].steps[0].keeps":   func(d *timetable.Day) { d.Batches[0].Steps[0].Keeps = map[string]string{"jug": "fats"} },
		"batches[0].steps[0].after":   func(d *timetable.Day) { d.Batches[0].Steps[0].After = []string{"cool"} },
		"batches[0].steps[1].at":      func(d *timetable.Day) { d.Batches[0].Steps[1].At = 7 * 60 },
		"batches[0].steps[4].minutes": func(d *timetable.Day) { d.Batches[0].Steps[4].Minutes = -5 },
	} {
		d := day(pot("A"), pot("B"))
		change(&d)
		var paths []string
		for _, one := range d.Check() {
			paths = append(paths, one.Path)
		}
		assert.Contains(t, paths, path)
	}
}

func TestAClockIsReadAsItIsWritten(t *testing.T) {
	for minute := range timetable.Minutes + 1 {
		got, ok := timetable.ReadClock(timetable.Clock(minute))
		assert.True(t, ok)
		assert.Equal(t, minute, got)
	}
	for _, text := range []string{"", "8:00", "24:01", "08:60", "-1:00", "0800", "08:0x", "99:00", "08:00:00"} {
		_, ok := timetable.ReadClock(text)
		assert.False(t, ok, text)
	}
}
