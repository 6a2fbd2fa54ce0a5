package sale_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/sale"
)

// history is 65 weeks that sold so many bars each Saturday.
func history(weekly func(week int) int) []sale.Day {
	days := make([]sale.Day, sale.History)
	for i := range days {
		if i%7 == 5 {
			days[i].Bars = weekly(i / 7)
		}
	}
	return days
}

func TestASteadySellerGoesOnAsItDid(t *testing.T) {
	e := sale.Expect(history(func(int) int { return 2 }), 42)
	assert.Equal(t, 12, e.Bars, "two a week for six weeks")
	assert.InDelta(t, 1, e.Season, 1e-9)
	assert.Contains(t, e.Why, "26 sold in 13 weeks")

	young := history(func(int) int { return 2 })[sale.SeasonDays:]
	e = sale.Expect(young, 42)
	assert.Equal(t, 12, e.Bars, "a shop without a last year goes by its last weeks")
	assert.Equal(t, "26 sold in 13 weeks", e.Why)
	assert.Zero(t, sale.Expect(nil, 42).Bars)
	assert.Zero(t, sale.Expect(young, 0).Bars)
}

// Weeks 0 to 12 are those before this time last year, 13 to 18 the six that are ahead, a year ago; 52 to 64 are the last.
func TestASeasonIsLastYearsCurveAtThisYearsPace(t *testing.T) {
	e := sale.Expect(history(func(week int) int {
		switch {
		case week < 13:
			return 2
		case week < 19:
			return 4
		case week >= 52:
			return 3
		}
		return 1
	}), 42)
	assert.InDelta(t, 2, e.Season, 1e-9)
	assert.Equal(t, 36, e.Bars, "three a week, twice as many in the season, for six weeks")
	assert.Contains(t, e.Why, "2 times as fast")

	e = sale.Expect(history(func(week int) int {
		if week >= 13 && week < 19 {
			return 5
		}
		return 0
	}), 42)
	assert.Equal(t, 30, e.Bars, "what sells in its season only goes by that")
	assert.Equal(t, "30 sold in the same days last year", e.Why)

	e = sale.Expect(history(func(week int) int {
		switch {
		case week < 13:
			return 1
		case week < 19:
			return 40
		}
		return 2
	}), 42)
	assert.InDelta(t, 3, e.Season, 1e-9, "one great day is no season")
	assert.Equal(t, 2, sale.Expect(history(func(week int) int {
		if week == 60 || week == 13 {
			return 4
		}
		return 0
	}), 42).Bars, "nor are four bars")
}

// Had bars been there, more would have gone: days without any do not count.
func TestDaysWithoutBarsDoNotCount(t *testing.T) {
	days := history(func(week int) int {
		if week >= 58 {
			return 0
		}
		return 3
	})
	for i := 58 * 7; i < len(days); i++ {
		days[i].Absent = true
	}
	e := sale.Expect(days[sale.SeasonDays:], 28)
	assert.Equal(t, 12, e.Bars, "three a week, though none were there for seven of the thirteen")
	assert.Contains(t, e.Why, "with none there on 49 of the days")

	for i := 53 * 7; i < len(days); i++ {
		days[i] = sale.Day{Absent: true}
	}
	e = sale.Expect(days[sale.SeasonDays:], 28)
	assert.Equal(t, 1, e.Bars, "one week is too little to go by: three bars in thirteen weeks")
}

// More sold is never less expected, nothing is expected of nothing, and no season goes beyond its bounds.
func TestMoreSoldIsNeverLessExpected(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		days := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) sale.Day {
			return sale.Day{Bars: rapid.IntRange(0, 4).Draw(t, "bars"), Absent: rapid.Bool().Draw(t, "absent")}
		}), 0, sale.History).Draw(t, "days")
		ahead := rapid.IntRange(1, 200).Draw(t, "ahead")
		e := sale.Expect(days, ahead)
		if e.Season > 3+1e-9 || e.Season < 1.0/3-1e-9 || e.Bars < 0 || float64(e.Bars)+1e-6 < e.Weekly/7*float64(ahead) {
			t.Fatalf("%+v", e)
		}
		if len(days) > 0 && e.Season == 1 {
			more := append([]sale.Day(nil), days...)
			more[len(more)-1] = sale.Day{Bars: more[len(more)-1].Bars + 50, Absent: more[len(more)-1].Absent}
			if got := sale.Expect(more, ahead); got.Season == 1 && got.Bars < e.Bars {
				t.Fatalf("%d, and %d with fifty more sold yesterday", e.Bars, got.Bars)
			}
		}
	})
}
