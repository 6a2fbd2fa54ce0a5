package recall_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"ashshelf/soap/ledger"
	"ashshelf/soap/recall"
)

// Of 27 bars 14 are in the house, 11 were sold at a market, and the ferry office has 2.
func figs() recall.Lot {
	return recall.Lot{OID: "fig", Code: "3-M", Made: 27, House: 14, Went: []recall.Went{
		{Entry: 7, Bars: 11, Reason: ledger.Sold, Event: "Saturday market"}, {Entry: 9, Bars: 2, Reason: ledger.Sold, Buyer: "ferry office"},
	}}
}

func TestEveryBarIsAccountedForOnceBuyersHaveAnswered(t *testing.T) {
	l := figs()
	s := l.Score()
	assert.Equal(t, recall.Score{Made: 27, House: 14, Unknown: 11, Open: 2}, s)
	assert.Equal(t, 25, s.Accounted())
	assert.False(t, s.Whole())
	assert.Equal(t, 92, s.Percent())
	l.Moves = []recall.Move{
		{What: recall.CameBack, Pool: recall.Buyer, Of: 9, Bars: 1}, {What: recall.Used, Pool: recall.Buyer, Of: 9, Bars: 1},
	}
	assert.True(t, l.Score().Whole())
	assert.Equal(t, 1, l.Score().Returned)
	assert.Zero(t, l.With(9))
	l.Moves = append(l.Moves, recall.Move{What: recall.Destroyed, Pool: recall.Returned, Bars: 1},
		recall.Move{What: recall.CameBack, Pool: recall.Unknown, Bars: 3})
	assert.Equal(t, recall.Score{Made: 27, House: 14, Returned: 3, Destroyed: 1, Used: 1, Unknown: 8}, l.Score())
}

func TestNoMoreIsNotedThanThereIs(t *testing.T) {
	l := figs()
	assert.True(t, l.May(recall.CameBack, recall.Buyer, 9, 2))
	assert.False(t, l.May(recall.CameBack, recall.Buyer, 9, 3))
	assert.False(t, l.May(recall.CameBack, recall.Buyer, 7, 1), "nobody known has those")
	assert.False(t, l.May(recall.CameBack, recall.House, 0, 1), "what is in the house does not come back")
	assert.False(t, l.May(recall.Used, recall.Returned, 0, 1))
	assert.False(t, l.May(recall.Destroyed, recall.Returned, 0, 1), "nothing came back yet")
	assert.False(t, l.May(recall.Destroyed, recall.House, 0, 0))
}

func TestWhatCameBackBeforeIsNotAskedForAgain(t *testing.T) {
	net := recall.Net([]recall.Went{
		{Entry: 1, Bars: 5, Buyer: "inn"}, {Entry: 2, Bars: 9}, {Entry: 3, Bars: -2, Buyer: "inn"}, {Entry: 4, Bars: -9},
	})
	assert.Equal(t, []recall.Went{{Entry: 1, Bars: 3, Buyer: "inn"}}, net)
}

// Whatever is noted of whichever bars, as long as it may be: what is accounted for and what is open is what was made.
func TestTheScoreAlwaysAddsUpToWhatWasMade(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := recall.Lot{House: rapid.IntRange(0, 30).Draw(t, "house"), Worked: rapid.IntRange(0, 5).Draw(t, "worked"),
			Destroyed: rapid.IntRange(0, 5).Draw(t, "spoiled"), Lost: rapid.IntRange(-2, 2).Draw(t, "lost")}
		l.Made = l.House + l.Worked + l.Destroyed + l.Lost
		for i := range rapid.IntRange(0, 5).Draw(t, "departures") {
			w := recall.Went{Entry: int64(i + 1), Bars: rapid.IntRange(1, 12).Draw(t, "bars")}
			if rapid.Bool().Draw(t, "known") {
				w.Buyer = "somebody"
			}
			l.Made += w.Bars
			l.Went = append(l.Went, w)
		}
		for range rapid.IntRange(0, 20).Draw(t, "notes") {
			m := recall.Move{
				What: rapid.SampledFrom(recall.Whats()).Draw(t, "what"), Bars: rapid.IntRange(1, 6).Draw(t, "n"),
				Pool: rapid.SampledFrom([]recall.Pool{recall.House, recall.Buyer, recall.Unknown, recall.Returned}).Draw(t, "pool"),
			}
			if m.Pool == recall.Buyer {
				m.Of = rapid.Int64Range(0, 6).Draw(t, "of")
			}
			if l.May(m.What, m.Pool, m.Of, m.Bars) {
				l.Moves = append(l.Moves, m)
			}
		}
		s := l.Score()
		if s.Accounted()+s.Open != l.Made {
			t.Fatalf("%d and %d of %d: %+v", s.Accounted(), s.Open, l.Made, s)
		}
		for _, n := range []int{s.House, s.Returned, s.Unknown, s.Open, s.Used} {
			if n < 0 {
				t.Fatalf("%+v", s)
			}
		}
	})
}
