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
	gone.Balance = map[ledger.Grade]int{}
	assert.Empty(t, schedule.Today([]*lot.Lot{gone}, noon), "what is sold out asks for nothing")
}
