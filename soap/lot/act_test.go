package lot_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/recipe"
)

var poured = time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)

// curing is a lot that was poured and cut, at 100 % sodium hydroxide.
func curing() *lot.Lot {
	usual, _ := cure.PolicyByCode("four-to-six")
	l := &lot.Lot{
		Code:      "1-F",
		Pour:      &lot.Pour{Entry: lot.Entry{Occurred: poured}},
		Unmolding: &lot.Unmolding{Gel: "none"},
		Cut:       &lot.Cut{},
	}
	l.Frozen.Policy, l.Frozen.Formula.Alkali.NaOHPercent = usual, 100
	l.Frozen.Unmold = cure.Window{Opens: 12 * time.Hour, Best: 24 * time.Hour, Closes: 48 * time.Hour, Why: "an ordinary loaf"}
	return l
}

func checked(hours float64, pass bool) lot.SafetyCheck {
	return lot.SafetyCheck{Entry: lot.Entry{Occurred: poured.Add(time.Duration(hours * float64(time.Hour)))}, Method: "zap", Pass: pass}
}

func TestASafetyCheckCountsFromTheHourAtWhichItProvesSomething(t *testing.T) {
	diluted := func(l *lot.Lot, hours float64) {
		l.Cared = append(
			l.Cared,
			lot.Care{Entry: lot.Entry{Occurred: poured.Add(time.Duration(hours * float64(time.Hour)))}, What: lot.Diluted},
		)
	}
	for name, c := range map[string]struct {
		soap  func(*lot.Lot)
		hours float64
	}{
		"an ordinary loaf": {func(*lot.Lot) {}, 168},
		"a ring of gel":    {func(l *lot.Lot) { l.Unmolding.Gel = "ring" }, 168},
		"a full gel":       {func(l *lot.Lot) { l.Unmolding.Gel = lot.FullGel }, 72},
		"cooked":           {func(l *lot.Lot) { l.Frozen.Formula.Process.Kind = recipe.Cooked }, 24},
		"rebatched":        {func(l *lot.Lot) { l.Frozen.Formula.Process.Kind = recipe.Rebatch }, 24},
		"cooked on its third day": {func(l *lot.Lot) {
			l.ProcessChanges = []lot.ProcessChange{{Entry: lot.Entry{Occurred: poured.Add(72 * time.Hour)}, Cooked: true}}
		}, 96},
		"a policy that waits":        {func(l *lot.Lot) { l.Frozen.Policy = cure.OwnChecked(45, 14) }, 14*24 - 12},
		"a policy that cannot hurry": {func(l *lot.Lot) { l.Frozen.Policy = cure.OwnChecked(45, 2) }, 168},
		"a paste diluted on day three": {func(l *lot.Lot) {
			l.Frozen.Formula.Alkali = lye.Alkali{KOHPurity: 90}
			l.Frozen.Formula.Process.Kind = recipe.Cooked
			diluted(l, 60)
		}, 60},
	} {
		for _, off := range []float64{-0.1, 0} {
			l := curing()
			c.soap(l)
			l.Checks = []lot.SafetyCheck{checked(c.hours+off, true)}
			assert.Equal(t, off == 0, l.Sound(time.UTC), "%s, %v hours", name, c.hours+off)
			gate := l.Gate(poured.Add(40 * 24 * time.Hour))
			assert.Equal(t, off == 0, gate.MayEarly || gate.MayRelease, "%s: no early release before it", name)
			if off < 0 {
				assert.Contains(t, gate.Conditions[2].Detail, "too early", name)
				assert.Error(t, l.May(lot.ToWash, poured.Add(40*24*time.Hour)), name)
			}
		}
	}
	l := curing()
	l.Frozen.Formula.Alkali = lye.Alkali{KOHPurity: 90}
	l.Checks = []lot.SafetyCheck{checked(1000, true)}
	assert.False(t, l.Sound(time.UTC), "a paste that was never diluted was never tested")
	assert.Contains(t, l.Gate(poured.Add(1500 * time.Hour)).Conditions[2].Detail, "dilute")
}

func TestAnEarlyCheckIsKeptAndALaterOneDecides(t *testing.T) {
	l := curing()
	l.Checks = []lot.SafetyCheck{checked(2, true), checked(200, true)}
	assert.True(t, l.Sound(time.UTC))
	l.Checks = append(l.Checks, checked(210, false))
	assert.False(t, l.Sound(time.UTC))
	l.Checks = []lot.SafetyCheck{checked(2, false), checked(200, true)}
	assert.True(t, l.Sound(time.UTC), "raw soap zaps; what counts is what it came to")
}

// What was released before this was known stays released, and is named.
func TestALotReleasedOnAnEarlyCheckStaysReleasedAndIsNamed(t *testing.T) {
	l := curing()
	l.Checks = []lot.SafetyCheck{checked(2, true)}
	assert.False(t, l.OnEarlyCheck(), "it is not released")
	l.Release = &lot.Release{Entry: lot.Entry{Occurred: poured.Add(3 * time.Hour)}}
	now := poured.Add(30 * 24 * time.Hour)
	assert.True(t, l.Gate(now).Ready)
	assert.True(t, l.OnEarlyCheck())
	l.Checks = append(l.Checks, checked(700, true))
	assert.False(t, l.OnEarlyCheck())
	l.Checks = append(l.Checks, checked(710, false))
	assert.False(t, l.Gate(now).Ready, "a later check that fails closes the gate")
}

func TestSoapOutsideOfItsWindowIsADeviation(t *testing.T) {
	l := curing()
	at := func(h float64) string { return l.OutOfWindow(poured.Add(time.Duration(h * float64(time.Hour)))) }
	assert.Contains(t, at(0.05), "before its window opens, which is 12 hours")
	assert.Empty(t, at(12))
	assert.Empty(t, at(48))
	assert.Contains(t, at(49), "after its window closed")
}

func TestEveryActIsKnown(t *testing.T) {
	l := curing()
	for _, act := range lot.Acts() {
		if err := l.May(act, poured); err != nil {
			require.NotContains(t, err.Error(), "nothing that can be done", act)
		}
	}
}
