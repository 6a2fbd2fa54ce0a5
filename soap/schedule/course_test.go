package schedule_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/lot"
	"ashshelf/soap/schedule"
)

// A lot's course is foreseen by its window and its cure, and is as it was once it is cut and released.
func TestACourseIsForeseenUntilItWent(t *testing.T) {
	l := poured(0)
	now := l.Pour.Occurred.Add(6 * time.Hour)
	c, ok := schedule.CourseOf(l, now)
	require.True(t, ok)
	w, _ := schedule.Window(l)
	assert.Equal(t, w.Best, c.Out)
	assert.False(t, c.Cut)
	assert.True(t, c.Closes.After(c.Opens))
	assert.True(t, c.Within(now.AddDate(1, 0, 0), now.AddDate(1, 1, 0)), "what is not released goes on")
	l.Cut = &lot.Cut{Entry: lot.Entry{Occurred: now}}
	l.Release = &lot.Release{Entry: lot.Entry{Occurred: now.AddDate(0, 0, 30)}}
	c, _ = schedule.CourseOf(l, now.AddDate(0, 0, 31))
	assert.Equal(t, now, c.Out)
	assert.True(t, c.Closes.IsZero(), "there is no window any more")
	assert.Equal(t, now.AddDate(0, 0, 30), c.Ready)
	assert.False(t, c.Within(now.AddDate(0, 1, 15), now.AddDate(0, 2, 0)), "it was released before")
	assert.Len(t, schedule.Courses([]*lot.Lot{l, {}}, now, now.AddDate(0, 0, 1), now), 1, "what was never poured has no course")
}
