package lot_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

func TestACodeReadsBackHoweverItIsTyped(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 999999).Draw(t, "number")
		code := lot.Code(n)
		for _, typed := range []string{code, " " + code + " ", code[:len(code)-2] + code[len(code)-1:], "0" + code} {
			got, err := lot.ParseCode(typed)
			require.NoError(t, err, typed)
			require.Equal(t, n, got)
		}
	})
}

func TestAMisreadDigitOrASwapIsNoticed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(10, 99999).Draw(t, "number")
		code := []byte(lot.Code(n))
		i := rapid.IntRange(0, len(code)-3).Draw(t, "place")
		wrong := append([]byte{}, code...)
		if rapid.Bool().Draw(t, "swap") && i+1 < len(code)-2 {
			wrong[i], wrong[i+1] = wrong[i+1], wrong[i]
		} else {
			wrong[i] = '0' + byte(rapid.IntRange(0, 9).Draw(t, "digit"))
		}
		if string(wrong) == string(code) || wrong[0] == '0' {
			t.Skip("the same code")
		}
		_, err := lot.ParseCode(string(wrong))
		require.Error(t, err, "%s for %s", wrong, code)
	})
	_, err := lot.ParseCode("soap")
	assert.ErrorContains(t, err, "looks like")
}

func TestACorrectionTakesThePlaceOfWhatItCorrects(t *testing.T) {
	l := lot.Lot{
		Code: "1-F",
		Frozen: lot.Frozen{
			Sheet: []plan.Section{{Items: []plan.Item{{Key: "fat:olive-oil", Target: 500}, {Key: "alkali:naoh", Target: 70}}}},
		},
	}
	l.Weighings = []lot.Weighing{
		{Entry: lot.Entry{ID: 1}, Item: "fat:olive-oil", Actual: 560},
		{Entry: lot.Entry{ID: 2, Corrects: 1, Reason: "read 5 for 0"}, Item: "fat:olive-oil", Actual: 500},
	}
	assert.Equal(t, map[plan.Key]float64{"fat:olive-oil": 500}, l.Actual())
	assert.True(t, l.Corrected(1))
	require.Len(t, l.Unweighed(), 1)
	assert.EqualValues(t, "alkali:naoh", l.Unweighed()[0].Key)
	assert.Len(t, l.Story(), 3, "the original stays in the story")
}

func TestALotGoesThroughItsLifeInOrder(t *testing.T) {
	now := time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)
	l := &lot.Lot{Code: "1-F", Balance: map[ledger.Kind]int{}}
	step := func(stage lot.Stage, may, mayNot []lot.Act) {
		t.Helper()
		assert.Equal(t, stage, l.Stage())
		assert.Error(t, l.May("enchant", now), "what nobody knows is never done")
		for _, act := range may {
			assert.NoError(t, l.May(act, now), "%s at %s", act, stage)
		}
		for _, act := range mayNot {
			assert.Error(t, l.May(act, now), "%s at %s", act, stage)
		}
	}
	step(
		lot.Making,
		[]lot.Act{lot.ToWeigh, lot.ToPour, lot.ToHold, lot.ToAbandon},
		[]lot.Act{lot.ToUnmold, lot.ToCut, lot.ToSample, lot.ToRelease, lot.ToMove},
	)
	l.Pour = &lot.Pour{Entry: lot.Entry{Occurred: now}}
	step(lot.InMold, []lot.Act{lot.ToUnmold}, []lot.Act{lot.ToWeigh, lot.ToPour, lot.ToCut, lot.ToAbandon})
	l.Unmolding = &lot.Unmolding{}
	step(lot.Unmolded, []lot.Act{lot.ToCut}, []lot.Act{lot.ToUnmold, lot.ToRelease})
	l.Cut = &lot.Cut{}
	l.Balance[ledger.Of(ledger.First)] = 10
	step(lot.Curing, []lot.Act{lot.ToSample, lot.ToCheck, lot.ToRelease}, []lot.Act{lot.ToCut, lot.ToMove})
	l.Release = &lot.Release{}
	l.Checks = []lot.SafetyCheck{{Pass: true}}
	step(lot.Ready, []lot.Act{lot.ToMove}, []lot.Act{lot.ToRelease})
	l.Holds = []lot.Hold{{Held: true, Why: "complaint"}}
	step(lot.Ready, nil, []lot.Act{lot.ToMove})
	l.Holds = append(l.Holds, lot.Hold{Why: "it was another shop's bar"})
	step(lot.Ready, []lot.Act{lot.ToMove}, nil)
	l.Balance[ledger.Of(ledger.First)] = 0
	step(lot.Gone, nil, []lot.Act{lot.ToWeigh, lot.ToRelease})
}

func TestBarsNeverGoBelowZeroNorComeBackTwice(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		have, out := rapid.IntRange(0, 40).Draw(t, "have"), rapid.IntRange(0, 40).Draw(t, "out")
		by, err := ledger.Change(
			have,
			out,
			ledger.Of(ledger.First),
			rapid.SampledFrom(ledger.Reasons()).Draw(t, "reason"),
			rapid.IntRange(-3, 60).Draw(t, "count"),
		)
		if err == nil {
			require.GreaterOrEqual(t, have+by, 0)
		}
	})
	_, err := ledger.Change(5, 0, ledger.Of(ledger.First), ledger.Sold, 6)
	assert.ErrorContains(t, err, "only 5")
	_, err = ledger.Change(5, 2, ledger.Of(ledger.First), ledger.Returned, 3)
	assert.ErrorContains(t, err, "cannot come back")
	by, err := ledger.Change(5, 2, ledger.Of(ledger.First), ledger.Recount, 4)
	require.NoError(t, err)
	assert.Equal(t, -1, by)
}

func TestTheWindowFollowsTheRoomThatWasNotedAtThePour(t *testing.T) {
	room := 30.0
	l := &lot.Lot{Pour: &lot.Pour{}}
	l.Frozen.Unmold = cure.Window{Opens: 12 * time.Hour, Best: 24 * time.Hour, Closes: 48 * time.Hour, Why: "an ordinary loaf"}
	as := l.Frozen.Unmold
	assert.Equal(t, as, l.Unmolds(), "nothing was noted")
	l.Pour.RoomC = &room
	assert.Less(t, l.Unmolds().Best, as.Best)
	l.Frozen.Formula.Process.Cover = "oven"
	assert.Equal(t, as, l.Unmolds(), "an oven does not follow the room")
	l.Frozen.Formula.Process = recipe.Process{Opens: 12, Closes: 48}
	assert.Equal(t, as, l.Unmolds(), "the recipe says so itself")
}

// A step that the program no longer knows, or calls otherwise, is told as it was
// called when it was ticked; so are troubles and the ways out of them.
func TestAnOldLotIsToldInTheWordsOfItsTime(t *testing.T) {
	l := lot.Lot{Code: "1-F", Ticks: []lot.Tick{
		{Entry: lot.Entry{ID: 2}, Step: "batter:sing", Title: "Sing to the batter", Done: true},
		{Entry: lot.Entry{ID: 3}, Step: "ready:gear", Done: true, Note: "two pairs of gloves"},
		{Entry: lot.Entry{ID: 4}, Step: "ready:gear", Title: "Goggles first", Done: true},
	}, Incidents: []lot.Incident{{Entry: lot.Entry{ID: 5}, Kind: "sulking", Called: "It sulks",
		Words: []lot.IncidentUpdate{{Entry: lot.Entry{ID: 6}, Way: "hum", Name: "Hum to it"}}}}}
	l.Pour = &lot.Pour{Entry: lot.Entry{ID: 7}, Judged: &lot.Judged{Superfat: 12.5, Planned: 5, Said: "far off"}}
	var told []string
	for _, e := range l.Story() {
		told = append(told, e.Title+": "+e.Text)
	}
	for _, want := range []string{"Done: Sing to the batter", "Done: Protective gear on. two pairs of gloves",
		"Done: Goggles first", "Trouble: It sulks", "Way out: It sulks: Hum to it"} {
		assert.Contains(t, told, want)
	}
	assert.Equal(t, lot.Judged{Superfat: 12.5, Planned: 5, Said: "far off"}, l.AsPoured(), "whatever its weights would come to today")
}

// A code that is taken is that of one lot only, however it is written.
func FuzzALotCodeIsReadOrRefused(f *testing.F) {
	for _, s := range []string{lot.Code(1), lot.Code(214), "214k", " 2 1 4 - K", "-", "999999999999A", "٢١٤K", "12\x00-W", "+12W", "0A"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		n, err := lot.ParseCode(s)
		if err != nil {
			return
		}
		again, err := lot.ParseCode(lot.Code(n))
		if err != nil || again != n || n <= 0 {
			t.Fatalf("%q was read as lot %d, and %s as %d: %v", s, n, lot.Code(n), again, err)
		}
	})
}
