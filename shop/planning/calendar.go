package planning

import (
	"context"
	"strings"
	"time"

	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// Calendar returns what is foreseen of the lots between two local days.
func (pl *Planner) Calendar(ctx context.Context, from, to time.Time, daysOff string) ([]schedule.Event, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	return schedule.Calendar(lots, from, to, strings.Fields(daysOff)), err
}

// Pressing returns what is to be done this hour; see [schedule.Pressing].
func (pl *Planner) Pressing(ctx context.Context, zone *time.Location) ([]schedule.Task, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Unmolded}})
	return schedule.Pressing(schedule.Today(lots, pl.Now(zone))), err
}

// DueOn returns what falls on a local day; see [schedule.On].
func (pl *Planner) DueOn(
	ctx context.Context,
	day time.Time,
	daysOff string,
) (windows []schedule.Task, due []schedule.Event, err error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	windows, due = schedule.On(lots, day, strings.Fields(daysOff))
	return windows, due, err
}
