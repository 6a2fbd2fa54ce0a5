package planning

import (
	"context"
	"strings"
	"time"

	"ashshelf/soap/day"
	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
	"ashshelf/store"
)

// Calendar returns what is foreseen of the lots between two local days.
func (pl *Planner) Calendar(ctx context.Context, from, to time.Time, daysOff string) ([]schedule.Event, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	return schedule.Calendar(lots, from, to, strings.Fields(daysOff)), err
}

// ribbonBack is how many days before a ribbon begins a lot was poured that can still be on it, where it
// was released since; mostOnRibbon how many of those are looked at.
const (
	ribbonBack   = 200
	mostOnRibbon = 150
)

// Ribbon returns the courses of the lots that fall between two local days; see [schedule.Courses].
func (pl *Planner) Ribbon(ctx context.Context, from, to time.Time) ([]schedule.Course, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Unmolded, lot.Curing}})
	if err != nil {
		return nil, err
	}
	released, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.Ready, lot.Gone}, From: day.Plus(from, -ribbonBack), To: to,
		Most: mostOnRibbon})
	return schedule.Courses(append(lots, released...), from, to, pl.Now(from.Location())), err
}

// Pressing returns what is to be done this hour; see [schedule.Pressing].
func (pl *Planner) Pressing(ctx context.Context, zone *time.Location) ([]schedule.Task, error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Unmolded}})
	return schedule.Pressing(schedule.Today(lots, pl.Now(zone))), err
}

// DueOn returns what falls on a local day; see [schedule.On].
func (pl *Planner) DueOn(
	ctx context.Context,
	on time.Time,
	daysOff string,
) (windows []schedule.Task, due []schedule.Event, err error) {
	lots, err := pl.Lots(ctx, store.LotsWhere{Stages: []lot.Stage{lot.InMold, lot.Curing}})
	windows, due = schedule.On(lots, on, strings.Fields(daysOff))
	return windows, due, err
}
