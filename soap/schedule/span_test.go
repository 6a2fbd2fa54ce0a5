package schedule_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"ashshelf/soap/cure"
	"ashshelf/soap/schedule"
)

func TestWhatClosesSoonComesBeforeWhatHasTheWholeWeek(t *testing.T) {
	now := time.Date(2026, 3, 14, 10, 0, 0, 0, time.UTC)
	window := func(state cure.State, opens, closes time.Duration) schedule.Task {
		return schedule.Task{Kind: schedule.Unmold, State: state, Opens: now.Add(opens), Closes: now.Add(closes)}
	}
	for name, one := range map[string]struct {
		task schedule.Task
		span schedule.Span
	}{
		"a lot on the bench":         {schedule.Task{Kind: schedule.Finish, State: cure.Open}, schedule.ThisHour},
		"closes in two hours":        {window(cure.Open, -time.Hour, 2*time.Hour), schedule.ThisHour},
		"late":                       {window(cure.Late, -9*time.Hour, -time.Hour), schedule.ThisHour},
		"open until tomorrow":        {window(cure.Open, -time.Hour, 30*time.Hour), schedule.ThisDay},
		"opens this evening":         {window(cure.Waiting, 9*time.Hour, 30*time.Hour), schedule.ThisDay},
		"opens tomorrow":             {window(cure.Waiting, 20*time.Hour, 40*time.Hour), schedule.ThisWeek},
		"a bar to weigh":             {schedule.Task{Kind: schedule.Weigh, State: cure.Open}, schedule.ThisWeek},
		"held, somebody must decide": {schedule.Task{Kind: schedule.Held, State: cure.Open}, schedule.ThisDay},
		"a watch that was missed":    {schedule.Task{Kind: schedule.Gel, State: cure.Late, Closes: now}, schedule.ThisDay},
	} {
		assert.Equal(t, one.span, one.task.Span(now), name)
	}
}
