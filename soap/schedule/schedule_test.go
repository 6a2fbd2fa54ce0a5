package schedule_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
)

var noon = time.Date(2026, 3, 20, 12, 0, 0, 0, time.UTC)

func at(hoursAgo float64) lot.Entry {
	moment := noon.Add(-time.Duration(hoursAgo * float64(time.Hour)))
	return lot.Entry{ID: 1, Occurred: moment, Recorded: moment, Who: "Ida"}
}

// poured is a lot with an ordinary loaf's window.
func poured(hoursAgo float64) *lot.Lot {
	l := &lot.Lot{Code: "1-H", Started: at(hoursAgo + 2)}
	l.Frozen.Unmold = cure.Window{Opens: 12 * time.Hour, Best: 24 * time.Hour, Closes: 48 * time.Hour, Why: "an ordinary loaf"}
	l.Frozen.Policy = cure.Policies()[0]
	l.Pour = &lot.Pour{Entry: at(hoursAgo), Trace: "light"}
	l.Cared = []lot.Care{{Entry: at(hoursAgo), What: "texture"}, {Entry: at(hoursAgo), What: "gel"}}
	return l
}

func onTheRack(daysAgo float64) *lot.Lot {
	l := poured(daysAgo*24 + 24)
	l.Unmolding = &lot.Unmolding{Entry: at(daysAgo * 24)}
	l.Cut = &lot.Cut{Entry: at(daysAgo * 24), Bars: map[ledger.Grade]int{ledger.First: 9}}
	return l
}

func kinds(tasks []schedule.Task) (out []schedule.Kind) {
	for _, t := range tasks {
		out = append(out, t.Kind)
	}
	return out
}

func TestALoafIsCalledWhenItsWindowOpensAndWhenItCloses(t *testing.T) {
	for hours, state := range map[float64]cure.State{2: cure.Waiting, 11.9: cure.Waiting, 12.1: cure.Open, 47: cure.Open, 49: cure.Late} {
		tasks := schedule.Today([]*lot.Lot{poured(hours)}, noon)
		require.Len(t, tasks, 1, "%v h", hours)
		assert.Equal(t, state, tasks[0].State, "%v h", hours)
		assert.Equal(t, 12*time.Hour, tasks[0].Opens.Sub(noon.Add(-time.Duration(hours*float64(time.Hour)))))
		assert.NotEmpty(t, tasks[0].Kind.Words())
	}
	slow := poured(1)
	slow.Frozen.Unmold.Opens, slow.Frozen.Unmold.Best, slow.Frozen.Unmold.Closes = 84*time.Hour, 96*time.Hour, 120*time.Hour
	assert.Empty(t, schedule.Today([]*lot.Lot{slow}, noon), "what opens in three days is no task of today")
}

func TestWhatIsLateComesFirstAndAHeldLotWaitsForADecision(t *testing.T) {
	held := onTheRack(3)
	held.Holds = []lot.Hold{{Entry: at(20), Held: true, Why: "white spots"}}
	bench := &lot.Lot{Code: "9-L", Started: at(1)}
	tasks := schedule.Today([]*lot.Lot{poured(2), held, bench, poured(60)}, noon)
	assert.Equal(t, []schedule.Kind{schedule.Unmold, schedule.Finish, schedule.Held, schedule.Unmold}, kinds(tasks))
	assert.Equal(t, cure.Late, tasks[0].State)
	assert.Equal(t, "white spots", tasks[2].Why)
}

func TestABarIsWeighedEveryWeekAndALotWithoutACheckIsCalled(t *testing.T) {
	l := onTheRack(8)
	got := kinds(schedule.Today([]*lot.Lot{l}, noon))
	assert.Contains(t, got, schedule.Weigh)
	l.Samples = []lot.SampleWeight{{Entry: at(8 * 24), Grams: 118}, {Entry: at(2), Grams: 109}}
	assert.NotContains(t, kinds(schedule.Today([]*lot.Lot{l}, noon)), schedule.Weigh, "weighed two hours ago")
	gone := onTheRack(90)
	gone.Release = &lot.Release{Entry: at(10)}
	gone.Balance = map[ledger.Kind]int{}
	assert.Empty(t, schedule.Today([]*lot.Lot{gone}, noon), "what is sold out asks for nothing")
}

func TestTheFirstHoursAreWatched(t *testing.T) {
	fresh := func(hours float64) *lot.Lot {
		l := poured(hours)
		l.Cared = nil
		return l
	}
	now := func(hours float64) map[schedule.Kind]cure.State {
		out := map[schedule.Kind]cure.State{}
		for _, task := range schedule.Today([]*lot.Lot{fresh(hours)}, noon) {
			out[task.Kind] = task.State
			if task.State == cure.Late {
				assert.NotEmpty(t, task.Missed, "a missed window says what to do")
			}
		}
		return out
	}
	assert.Equal(
		t,
		map[schedule.Kind]cure.State{schedule.Texture: cure.Open, schedule.Gel: cure.Waiting, schedule.Unmold: cure.Waiting},
		now(0.5),
	)
	assert.Equal(t, cure.Open, now(2)[schedule.Gel])
	assert.Equal(t, cure.Late, now(4)[schedule.Texture])
	assert.NotContains(t, now(15), schedule.Texture, "what is long past is not spoken of")
	paper := fresh(0.5)
	paper.Frozen.Formula.Process.Cover, paper.Frozen.Formula.Process.Gel = "oven", "avoid"
	kinds := kinds(schedule.Today([]*lot.Lot{paper}, noon))
	assert.Contains(t, kinds, schedule.Oven)
	assert.NotContains(t, kinds, schedule.Gel, "soap that is kept from gelling shows no ring")
}

// The clocks go forward in the night of 29 March 2026: windows count hours, days
// of the calendar count dates.
func TestTheCalendarIsRightAcrossAChangeOfClocks(t *testing.T) {
	dublin, err := time.LoadLocation("Europe/Dublin")
	require.NoError(t, err)
	entry := func(at time.Time) lot.Entry { return lot.Entry{ID: 1, Occurred: at, Recorded: at, Who: "Ida"} }
	evening := time.Date(2026, 3, 28, 18, 0, 0, 0, dublin)
	l := poured(1)
	l.Pour.Entry = entry(evening)
	w, ok := schedule.Window(l)
	require.True(t, ok)
	assert.Equal(t, 24*time.Hour, w.Best.Sub(evening), "a day in the mold is 24 hours")
	assert.Equal(t, "19:00", w.Best.In(dublin).Format("15:04"), "which the clock calls an hour later")
	from := time.Date(2026, 3, 28, 0, 0, 0, 0, dublin)
	events := schedule.Calendar([]*lot.Lot{l}, from, from.AddDate(0, 0, 3), []string{"sun"})
	require.Len(t, events, 1)
	assert.Equal(t, "2026-03-29", events[0].Day.Format(time.DateOnly))
	assert.True(t, events[0].Off, "it is best on a day off")

	cut := onTheRack(1)
	cut.Pour.Entry, cut.Cut.Entry = entry(evening), entry(evening.Add(25*time.Hour))
	on := map[schedule.Kind]string{}
	for _, e := range schedule.Calendar([]*lot.Lot{cut}, from, from.AddDate(0, 2, 0), nil) {
		on[e.Kind] = e.Day.Format(time.DateOnly)
		assert.Equal(t, 0, e.Day.Hour(), "a day begins at midnight")
	}
	assert.Equal(
		t,
		map[schedule.Kind]string{
			schedule.Weigh:   "2026-04-05",
			schedule.Turn:    "2026-04-05",
			schedule.Check:   "2026-04-18",
			schedule.Release: "2026-04-25",
		},
		on,
	)
	assert.Equal(t, 72*time.Hour, schedule.StampUntil(cut).Sub(cut.Cut.Occurred))
	cut.Frozen.Unmold.Closes = 24 * time.Hour
	assert.Equal(t, 12*time.Hour, schedule.StampUntil(cut).Sub(cut.Cut.Occurred), "olive and salt harden in hours")
}

func TestADayHasTheWindowsThatAreOpenInItAndWhatIsDueOnIt(t *testing.T) {
	day := time.Date(2026, 3, 14, 0, 0, 0, 0, time.UTC)
	poured := func(at time.Time, opens, closes time.Duration) *lot.Lot {
		l := &lot.Lot{Pour: &lot.Pour{Entry: lot.Entry{Occurred: at}}}
		l.Frozen.Unmold = cure.Window{Opens: opens, Best: (opens + closes) / 2, Closes: closes}
		l.Frozen.Formula.Process.Gel = "avoid"
		l.Cared = []lot.Care{{What: "texture"}}
		return l
	}
	over := poured(day.Add(-20*time.Hour), 12*time.Hour, 60*time.Hour)      // yesterday evening to the day after
	yesterday := poured(day.Add(-50*time.Hour), 12*time.Hour, 48*time.Hour) // closed two hours ago
	later := poured(day.Add(13*time.Hour), 12*time.Hour, 48*time.Hour)      // opens tomorrow
	windows, due := schedule.On([]*lot.Lot{over, yesterday, later}, day, nil)
	require.Len(t, windows, 1)
	assert.Same(t, over, windows[0].Lot)
	assert.Empty(t, due)
	windows, _ = schedule.On([]*lot.Lot{over, yesterday, later}, day.AddDate(0, 0, 1), nil)
	require.Len(t, windows, 2)
	assert.Same(t, over, windows[0].Lot, "the earliest first")
}

func TestOfLotsThatAreToBeUnmoldedWhatClosesFirstComesFirst(t *testing.T) {
	young, old, middle := poured(14), poured(40), poured(20)
	tasks := schedule.Pressing(schedule.Today([]*lot.Lot{young, old, middle, poured(2)}, noon))
	require.Len(t, tasks, 3, "what is not open yet does not press")
	for i, l := range []*lot.Lot{old, middle, young} {
		assert.Same(t, l, tasks[i].Lot)
	}
}

func TestALotThatDriesOddlyIsCalled(t *testing.T) {
	l := onTheRack(10)
	assert.NotContains(t, kinds(schedule.Today([]*lot.Lot{l}, noon)), schedule.Odd)
	l.Odd = true
	assert.Contains(t, kinds(schedule.Today([]*lot.Lot{l}, noon)), schedule.Odd)
}

// An olive bar gets better for a year: it is washed with again at six and at twelve months.
func TestABarThatGetsBetterForMonthsIsWashedWithAgain(t *testing.T) {
	pour := time.Date(2026, 1, 10, 10, 0, 0, 0, time.UTC)
	l := poured(1)
	l.Pour.Occurred = pour
	entry := func(at time.Time) lot.Entry { return lot.Entry{ID: 9, Occurred: at, Recorded: at, Who: "Ida"} }
	l.Unmolding, l.Cut = &lot.Unmolding{Entry: entry(pour)}, &lot.Cut{Entry: entry(pour)}
	l.Checks = []lot.SafetyCheck{{Entry: entry(pour.AddDate(0, 0, 30)), Pass: true}}
	l.Release = &lot.Release{Entry: entry(pour.AddDate(0, 0, 70))}
	l.Balance = map[ledger.Kind]int{ledger.Of(ledger.First): 4}
	due := func(months, days int) bool {
		list := schedule.Today([]*lot.Lot{l}, pour.AddDate(0, months, days))
		return len(list) == 1 && list[0].Kind == schedule.Wash
	}
	assert.False(t, due(7, 0), "an ordinary bar is done")
	l.Frozen.Policy, _ = cure.PolicyByCode("long-olive")
	assert.False(t, due(5, 25))
	assert.True(t, due(6, 0))
	l.Washes = []lot.Wash{{Entry: entry(pour.AddDate(0, 6, 2))}}
	assert.False(t, due(8, 0))
	assert.True(t, due(12, 1))
	l.Washes = append(l.Washes, lot.Wash{Entry: entry(pour.AddDate(0, 12, 3))})
	assert.False(t, due(15, 0))
}

// A loaf that came out soft is cut when it holds a stroke, and what was left for somebody to finish is
// asked for until it is done.
func TestASoftLoafWaitsForItsCutAndUnfinishedBarsForTheirFinisher(t *testing.T) {
	out := time.Date(2026, 3, 20, 9, 0, 0, 0, time.UTC)
	entry := func(at time.Time) lot.Entry { return lot.Entry{ID: 9, Occurred: at, Recorded: at, Who: "Ida"} }
	l := poured(1)
	l.Unmolding = &lot.Unmolding{Entry: entry(out)}
	assert.Equal(t, cure.Open, schedule.Today([]*lot.Lot{l}, out)[0].State, "any other is cut now")
	l.Cared = []lot.Care{{Entry: entry(out), What: lot.StillSoft}}
	for hours, state := range map[int]cure.State{2: cure.Waiting, 13: cure.Open, 71: cure.Open, 80: cure.Late} {
		list := schedule.Today([]*lot.Lot{l}, out.Add(time.Duration(hours)*time.Hour))
		require.Len(t, list, 1)
		assert.Equal(t, schedule.Cut, list[0].Kind)
		assert.Equal(t, state, list[0].State, "%d hours after it came out", hours)
	}
	l.Cut = &lot.Cut{Entry: entry(out.Add(20 * time.Hour)), Finish: "bevel, Odile"}
	tidy := func() (why string) {
		for _, task := range schedule.Today([]*lot.Lot{l}, out.Add(30*time.Hour)) {
			if task.Kind == schedule.Tidy {
				why = task.Why
			}
		}
		return why
	}
	assert.Equal(t, "bevel, Odile", tidy())
	l.Cared = append(l.Cared, lot.Care{Entry: entry(out.Add(29 * time.Hour)), What: lot.Finished})
	assert.Empty(t, tidy())
}
