package rehearse_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/soap/rehearse"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

var began = time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)

func at(minute int) lot.Entry {
	return lot.Entry{ID: int64(minute), Occurred: began.Add(time.Duration(minute) * time.Minute)}
}

// scented is a lot of three fats with a scent, of which nothing is done yet.
func scented(t *testing.T) *lot.Lot {
	t.Helper()
	olive, _ := fat.BySlug("olive-oil")
	coconut, _ := fat.BySlug("coconut-oil")
	shea, _ := fat.BySlug("shea-butter")
	f := recipe.Formula{
		Name: "Rehearsed", Superfat: 5, Alkali: lye.DefaultAlkali(), Water: recipe.Water{Basis: recipe.LyeStrength, Value: 33},
		Fats:    fat.Blend{{Fat: olive, Percent: 50}, {Fat: coconut, Percent: 30}, {Fat: shea, Percent: 20}},
		Liquids: []recipe.Liquid{{Liquid: liquid.Water(), Percent: 100, Carries: true}},
		Scent: &additive.Perfume{Rate: 2, Stage: additive.Trace, Parts: []additive.ScentPart{
			{Scent: additive.Scent{Name: "Fig", Density: 0.95}, Percent: 100},
		}},
	}
	r := plan.Request{Formula: f, Rule: plan.Computed, LiquidC: 20, Target: plan.Target{FatsG: 1000}, Scales: plan.Scales{Resolution: 1}}
	p, err := plan.Make(r)
	require.NoError(t, err)
	m := mold.Mold{Shape: mold.Box, Length: 250, Width: 80, Fill: 65}
	return &lot.Lot{Code: "1-H", Frozen: lot.Frozen{
		Formula: f, Request: r, Sheet: plan.Sheet(r, p), Pot: p, Molds: []lot.Mold{{Name: "Loaf", Count: 1, Mold: m}},
	}}
}

func sceneOf(t *testing.T, l *lot.Lot, slip rehearse.Slip) rehearse.Scene {
	t.Helper()
	for _, s := range rehearse.Scenes(l.Order()) {
		if s.Slip == slip {
			return s
		}
	}
	require.Fail(t, "no such slip", slip)
	return rehearse.Scene{}
}

func outcome(t *testing.T, l *lot.Lot, slip rehearse.Slip) rehearse.Outcome {
	t.Helper()
	for _, s := range rehearse.Judge(rehearse.Scenes(l.Order()), l) {
		if s.Slip == slip {
			assert.NotEmpty(t, s.Way)
			assert.NotEmpty(t, s.Slip.Words())
			return s.Outcome
		}
	}
	return ""
}

func TestEverySlipHasAStepOfItsOwn(t *testing.T) {
	scenes := rehearse.Scenes(scented(t).Order())
	require.Len(t, scenes, 6)
	steps := map[string]bool{}
	for _, s := range scenes {
		assert.False(t, steps[s.Step], "%s shares its step", s.Slip)
		steps[s.Step] = true
		assert.Equal(t, rehearse.Ahead, outcome(t, scented(t), s.Slip), "nothing is done yet")
	}
	bare := scented(t)
	bare.Frozen.Formula.Scent, bare.Frozen.Formula.Fats = nil, bare.Frozen.Formula.Fats[:1]
	for _, s := range rehearse.Scenes(bare.Order()) {
		assert.NotEqual(t, rehearse.NoScent, s.Slip, "what has no scent cannot forget it")
	}
}

func TestOuncesOnRecordAreLateOncePutRightAndMissedWhenTheyStay(t *testing.T) {
	l := scented(t)
	s := sceneOf(t, l, rehearse.Ounces)
	item, _ := l.Item(s.Item)
	weighing := func(e lot.Entry, grams float64) lot.Weighing {
		return lot.Weighing{Entry: e, Item: s.Item, Target: item.Target, Actual: grams}
	}
	l.Weighings = []lot.Weighing{weighing(at(1), item.Target)}
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.Ounces), "it never stood on record")
	l.Weighings = []lot.Weighing{weighing(at(1), item.Target/28.35)}
	l.Pour = &lot.Pour{Entry: at(60)}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.Ounces))
	right := weighing(at(2), item.Target)
	right.Corrects = 1
	l.Weighings = append(l.Weighings, right)
	assert.Equal(t, rehearse.Late, outcome(t, l, rehearse.Ounces))
}

func TestAnOverPourIsCaughtWhenItIsScoopedBackBeforeTheLyeMeetsTheFats(t *testing.T) {
	l := scented(t)
	s := sceneOf(t, l, rehearse.OverPour)
	item, _ := l.Item(s.Item)
	over := lot.Weighing{Entry: at(1), Item: s.Item, Target: item.Target, Actual: item.Target * 1.09}
	l.Weighings = []lot.Weighing{over}
	assert.Equal(t, rehearse.Late, outcome(t, l, rehearse.OverPour), "it may still be put right")
	back := lot.Weighing{Entry: at(2), Item: s.Item, Target: item.Target, Actual: -item.Target * 0.09}
	l.Weighings = append(l.Weighings, back)
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.OverPour))
	l.Weighings = l.Weighings[:1]
	l.Ticks = []lot.Tick{{Entry: at(30), Step: run.MeetKey, Done: true}}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.OverPour))
}

func TestWhoTypesWhatTheDisplaySaysInSeveralPouringsLostNothing(t *testing.T) {
	l := scented(t)
	s := sceneOf(t, l, rehearse.Contact)
	item, _ := l.Item(s.Item)
	for n := range 4 {
		l.Weighings = append(l.Weighings, lot.Weighing{Entry: at(n + 1), Item: s.Item, Target: item.Target, Actual: item.Target / 4})
	}
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.Contact))
	l.Weighings = l.Weighings[:2]
	assert.Equal(t, rehearse.Ahead, outcome(t, l, rehearse.Contact), "more may come")
	l.Pour = &lot.Pour{Entry: at(60)}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.Contact))
}

func TestHotLyeIsMissedByWhoNeverLookedAtItAgain(t *testing.T) {
	l := scented(t)
	l.Ticks = []lot.Tick{{Entry: at(30), Step: run.MeetKey, Done: true}}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.HotLye), "nobody read it")
	l.Temps = []lot.Temp{{Entry: at(20), Of: "lye", C: 78}}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.HotLye))
	l.Temps = append(l.Temps, lot.Temp{Entry: at(28), Of: "lye", C: 39})
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.HotLye))
}

func TestAScentThatComesAfterThePourWasForgotten(t *testing.T) {
	l := scented(t)
	s := sceneOf(t, l, rehearse.NoScent)
	assert.Equal(t, run.PourKey, s.To, "she finds herself at the pour")
	l.Pour = &lot.Pour{Entry: at(60)}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.NoScent))
	l.Ticks = []lot.Tick{{Entry: at(50), Step: s.Step, Done: true}}
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.NoScent))
}

func TestASeizedBatchIsCaughtByWhoChoosesAWayBeforeThePour(t *testing.T) {
	l := scented(t)
	l.Pour = &lot.Pour{Entry: at(60)}
	assert.Equal(t, rehearse.Missed, outcome(t, l, rehearse.Seizing))
	l.Incidents = []lot.Incident{{Entry: at(70), Kind: trouble.Seized, Way: "cook"}}
	assert.Equal(t, rehearse.Late, outcome(t, l, rehearse.Seizing))
	l.Incidents[0].Entry = at(50)
	assert.Equal(t, rehearse.Caught, outcome(t, l, rehearse.Seizing))
}
