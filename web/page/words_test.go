package page_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"ashshelf/web/page"
)

func TestWindowsAreSaidAsFinelyAsTheyAreKnown(t *testing.T) {
	for said, d := range map[string]time.Duration{
		"2.5": 2*time.Hour + 25*time.Minute,
		"10":  10*time.Hour + 10*time.Minute,
		"41":  40*time.Hour + 50*time.Minute,
		"504": 504 * time.Hour,
	} {
		assert.Equal(t, said, page.Hours(d))
	}
	assert.Equal(t, "14 Mar 2026", page.DayWritten("2026-03-14"))
	assert.Equal(t, "some day", page.DayWritten("some day"))
}
