package shop_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/clock"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
)

func (b *bench) doubt() clock.Doubt {
	b.t.Helper()
	s, err := b.Settings(ctx)
	require.NoError(b.t, err)
	return s.Doubt
}

// A laptop whose battery is flat wakes up in 1970: what is recorded then is marked, holds
// the lot, and is put right, with both moments on record.
func TestWhatAFlatBatteryDatedIsMarkedAndPutRight(t *testing.T) {
	b := open(t)
	oid := b.started()
	b.weighed(oid)
	real := b.now.Add(time.Hour)
	b.now = time.Date(1970, 1, 1, 1, 0, 0, 0, time.UTC)
	assert.Equal(t, clock.Behind, b.doubt())
	require.NoError(t, b.RecordPour(ctx, b.on(oid), oid, lot.Pour{Trace: "light"}))

	wrong, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	var not *lot.NotNow
	require.ErrorAs(t, b.Retime(ctx, b.on(oid), oid, wrong.Pour.ID, b.now, "by the same clock"), &not)

	b.now = real.AddDate(0, 0, 1)
	assert.Empty(t, b.doubt(), "it is right again")
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, clock.Behind, l.Pour.Doubt)
	assert.Contains(t, l.Held()[0], "Poured")
	g := l.Gate(b.now)
	assert.False(t, g.MayRelease || g.MayEarly, "56 years of cure are none")

	var p caution.Problems
	require.ErrorAs(t, b.Retime(ctx, b.on(oid), oid, l.Pour.ID, b.now.Add(time.Minute), "I was there"), &p)
	assert.Contains(t, p.At("at"), "future")
	require.ErrorAs(t, b.Retime(ctx, b.on(oid), oid, l.Pour.ID, l.Started.Occurred.Add(-time.Minute), ""), &p)
	assert.Contains(t, p.At("at"), "before “Started”")
	assert.NotEmpty(t, p.At("because"))
	require.NoError(t, b.Retime(ctx, b.on(oid), oid, l.Pour.ID, real, "the binder says so"))

	l, err = b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.True(t, l.Pour.Occurred.Equal(real))
	assert.Empty(t, l.Pour.Doubt)
	assert.Empty(t, l.Held())
	assert.Equal(t, "day 1 of 28", l.Gate(b.now).Conditions[0].Detail)
	story := l.Story()
	last := story[len(story)-1]
	assert.Equal(t, "Time put right", last.Title)
	assert.Contains(t, last.Text, "1 January 1970")
	assert.Contains(t, last.Text, "the binder says so")
}

// Before its own pour no lot is so many days below zero old.
func TestAClockBeforeThePourShowsNoDaysBelowZero(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	detail := l.Gate(time.Unix(0, 0).UTC()).Conditions[0].Detail
	assert.NotRegexp(t, `[-−]\d`, detail)
	assert.Contains(t, detail, "clock")
}

// A clock that is years ahead would make bars of today ready: nothing is released by it.
// When it is set back, somebody says so, and what it dated is in doubt.
func TestNothingIsReleasedByAClockThatRanAhead(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	released := func() error { return b.ReleaseLot(ctx, b.on(oid), oid, "") }
	real := b.now

	b.now = real.AddDate(10, 0, 0)
	assert.Equal(t, clock.Ahead, b.doubt())
	var not *lot.NotNow
	require.ErrorAs(t, released(), &not)
	assert.Contains(t, not.Why, "clock")
	require.NoError(t, b.AddNote(ctx, b.on(oid), oid, false, "written in the future"))
	assert.Equal(t, clock.Ahead, b.doubt(), "an entry in doubt does not settle it")

	// Nobody looked: it is taken for right, and a weight is dated by it.
	require.NoError(t, b.ConfirmClock(ctx, b.act()))
	assert.Empty(t, b.doubt())
	require.NoError(t, b.WeighSample(ctx, b.on(oid), oid, 104.2, 0, ""))

	b.now = real.AddDate(0, 0, 1)
	assert.Equal(t, clock.Behind, b.doubt(), "the newest entry lies ahead")
	require.ErrorAs(t, released(), &not)
	require.NoError(t, b.ConfirmClock(ctx, b.act()))
	assert.Empty(t, b.doubt())
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	weights := l.Weights()
	last := weights[len(weights)-1]
	assert.Equal(t, clock.Ahead, last.Doubt)
	assert.Contains(t, l.Held()[0], "Sample bar")
	require.NoError(t, b.Retime(ctx, b.on(oid), oid, last.ID, b.now.Add(-time.Hour), "yesterday's round"))
	require.NoError(t, released())
}

// A shop that rested for a season is asked once, and what was recorded before the answer
// is good.
func TestALongRestIsAskedAboutOnce(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	b.now = b.now.AddDate(0, 0, 61)
	require.NoError(t, b.RecordUnmold(ctx, b.on(oid), oid, lot.Unmolding{Gel: "none"}, false, "we were away"))
	l, err := b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Equal(t, clock.Ahead, l.Unmolding.Doubt)
	require.NoError(t, b.ConfirmClock(ctx, b.act()))
	require.NoError(t, b.ConfirmClock(ctx, b.act()), "and once more changes nothing")
	l, err = b.Lot(ctx, oid)
	require.NoError(t, err)
	assert.Empty(t, l.Unmolding.Doubt)
	b.now = b.now.AddDate(0, 0, 60)
	assert.Empty(t, b.doubt())
	assert.ErrorIs(t, b.ConfirmClock(ctx, journal.Act{Device: "tablet", DeviceLabel: "tablet"}), journal.ErrNobody)
}

// What is written down later says when it was, by whom and why, and is judged by when it was.
func TestWhatHappenedEarlierIsWrittenDownAsItWas(t *testing.T) {
	b := open(t)
	oid := b.inMold()
	pour := b.lot(oid).Pour.Occurred
	b.now = pour.Add(80 * time.Hour) // the window closed after two days
	earlier := func(after time.Duration) journal.Act {
		a := b.on(oid)
		a.Happened, a.Late = pour.Add(after), "Wren, before she left for the fair"
		return a
	}
	unmold := func(after time.Duration) error {
		return b.RecordUnmold(ctx, earlier(after), oid, lot.Unmolding{Gel: "none"}, false, "")
	}
	assert.Contains(t, problem(t, unmold(90*time.Hour), "when"), "future")
	assert.Contains(t, problem(t, unmold(-time.Hour), "when"), "before it was poured")
	require.NoError(t, unmold(24*time.Hour), "it was in its window then")
	problem(t, b.RecordCut(ctx, earlier(20*time.Hour), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}}, ""), "when")
	require.NoError(t, b.RecordCut(ctx, earlier(25*time.Hour), oid, lot.Cut{Bars: map[ledger.Grade]int{ledger.First: 9}}, ""))
	require.NoError(t, b.WeighSample(ctx, b.on(oid), oid, 110, 0, ""))
	require.NoError(t, b.WeighSample(ctx, earlier(26*time.Hour), oid, 118, 0, ""), "heavier than the later weight, as it was")
	l := b.lot(oid)
	assert.Empty(t, l.Deviations)
	assert.True(t, pour.Add(24*time.Hour).Equal(l.Unmolding.Occurred))
	assert.True(t, b.now.Equal(l.Unmolding.Recorded), "and it is on record when it was written")
	assert.Contains(t, l.Unmolding.Reason, "Wren")
	weights := l.Weights()
	assert.Equal(t, []float64{118, 110}, []float64{weights[0].Grams, weights[1].Grams}, "in the order of time")
	a := earlier(26 * time.Hour)
	problem(t, b.SetHold(ctx, a, oid, true, "odd smell"), "when")
}

func TestALotLivesOnAfterItsRelease(t *testing.T) {
	b := open(t)
	oid := b.onTheRack()
	b.cured(oid)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	require.NoError(t, b.ReleaseLot(ctx, b.on(oid), oid, ""))
	seal := b.lot(oid).Release.ID
	b.now = b.now.AddDate(0, 6, 0)
	last := b.lot(oid).Weights()
	require.NoError(t, b.WeighSample(ctx, b.on(oid), oid, last[len(last)-1].Grams-0.4, 0, ""))
	require.NoError(t, b.Wash(ctx, b.on(oid), oid, lot.Wash{Volume: 3, Creaminess: 3, Slime: 1, Scent: 1}))
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap", Pass: true}))
	l := b.lot(oid)
	assert.Equal(t, seal, l.Release.ID)
	assert.True(t, l.Gate(b.now).Ready)
	require.NoError(t, b.RecordCheck(ctx, b.on(oid), oid, lot.SafetyCheck{Method: "zap"}))
	assert.False(t, b.lot(oid).Gate(b.now).Ready, "a late failure holds")
}
