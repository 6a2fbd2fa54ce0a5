package market_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/ledger"
	"ashshelf/soap/market"
)

func quay() market.Market {
	return market.Market{On: "2026-05-02", Opens: "09:00", Closes: "15:00", Channel: "market", Fee: 2500, Float: 5000,
		Deal: market.Deal{Bars: 3, Amount: 2000}}
}

var opens, closes = quay().Hours(time.UTC)

func at(clock string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", "2026-05-02 "+clock)
	if err != nil {
		panic(err)
	}
	return t
}

func price(product string) int64 { return map[string]int64{"fig": 750, "plain": 400}[product] }

func TestAMarketThatCannotBeIsRefusedAtItsField(t *testing.T) {
	assert.Empty(t, quay().Check())
	for field, spoil := range map[string]func(*market.Market){
		"on":          func(m *market.Market) { m.On = "Saturday" },
		"opens":       func(m *market.Market) { m.Opens = "nine" },
		"closes":      func(m *market.Market) { m.Closes = "08:30" },
		"channel":     func(m *market.Market) { m.Channel = " " },
		"fee":         func(m *market.Market) { m.Fee = -1 },
		"float":       func(m *market.Market) { m.Float = 1e12 },
		"deal_bars":   func(m *market.Market) { m.Deal.Bars = 1 },
		"deal_amount": func(m *market.Market) { m.Deal.Amount = 0 },
		"wants[0]":    func(m *market.Market) { m.Wants = []market.Want{{Product: "fig", Bars: -1}} },
		"wants[1]":    func(m *market.Market) { m.Wants = []market.Want{{Product: "fig", Bars: 1}, {Product: "fig", Bars: 2}} },
	} {
		m := quay()
		spoil(&m)
		assert.NotEmpty(t, m.Check().At(field), field)
	}
}

// Worked by hand. Six hours; ten sold by 12:00, half of the day, would have been twenty. Gone after the first half hour at
// ten would be a hundred and twenty, which nobody believes: twenty. Ten by 13:00 would
// have been fifteen. Two who asked besides want two, and no less than that.
func TestWhatWasSoldOutWasWantedMore(t *testing.T) {
	assert.Equal(t, 20, market.Unmet(10, 0, opens, at("12:00"), closes))
	assert.Equal(t, 20, market.Unmet(10, 0, opens, at("09:30"), closes))
	assert.Equal(t, 20, market.Unmet(10, 0, opens, opens, closes))
	assert.Equal(t, 15, market.Unmet(10, 0, opens, at("13:00"), closes))
	assert.Equal(t, 12, market.Unmet(10, 2, opens, at("14:50"), closes))
	assert.Equal(t, 10, market.Unmet(10, 0, opens, time.Time{}, closes), "some were left")
	assert.Equal(t, 10, market.Unmet(10, 0, opens, at("15:20"), closes), "after it closed")
}

func TestOneBringsWhatWasWantedTheLastTimeOrThisTimeLastYear(t *testing.T) {
	past := []market.Past{
		{On: "2026-04-18", Outcomes: []market.Outcome{{Product: "fig", Packed: 10, Sold: 8, Wanted: 8}, {Product: "salt", Packed: 6}}},
		{On: "2025-05-03", Outcomes: []market.Outcome{{Product: "fig", Packed: 12, Sold: 12, Wanted: 17, Gone: "13:10"}}},
		{On: "2025-09-06", Outcomes: []market.Outcome{{Product: "fig", Packed: 40, Sold: 40, Wanted: 40}}},
		{On: "2026-05-16", Outcomes: []market.Outcome{{Product: "fig", Packed: 99, Sold: 99, Wanted: 99}}},
	}
	p := market.Propose(quay(), "fig", 50, past)
	assert.Equal(t, 17, p.Bars)
	assert.Equal(t, "sold 12 of 12 on 3 May 2025, gone at 13:10", p.Why)
	assert.Equal(t, 9, market.Propose(quay(), "fig", 9, past).Bars, "no more than there are")
	assert.Zero(t, market.Propose(quay(), "salt", 50, past).Bars, "nobody took one")
	assert.Equal(t, 6, market.Propose(quay(), "olive", 50, past).Bars, "it was never there")
	m := quay()
	m.Wants = []market.Want{{Product: "fig", Bars: 3}}
	assert.Equal(t, "you said so", market.Propose(m, "fig", 50, past).Why)
	year, ok := market.SameLastYear("2026-05-02", past)
	require.True(t, ok)
	assert.Equal(t, "2025-05-03", year.On)
	_, ok = market.SameLastYear("2026-01-10", past)
	assert.False(t, ok)
}

func day() market.Till {
	return market.Till{
		Sales: []market.Sale{
			{Key: "a", At: at("09:40"), Pay: market.Cash, Amount: 750, Lines: []market.Line{{Product: "fig", Bars: 1}}},
			{Key: "b", At: at("10:10"), Pay: market.Card, Amount: 2000,
				Lines: []market.Line{{Product: "fig", Bars: 2}, {Product: "plain", Bars: 1}}},
			{Key: "c", At: at("10:20"), Pay: market.Cash, Amount: 400, Lines: []market.Line{{Product: "plain", Bars: 1}}, Undone: true},
			{Key: "d", At: at("12:00"), Pay: market.Cash, Amount: 750, Lines: []market.Line{{Product: "fig", Bars: 1}}},
		},
		Asked: []market.Asked{{Product: "fig", At: at("12:30")}},
	}
}

func box() []market.Boxed {
	first := ledger.Of(ledger.First)
	return []market.Boxed{
		{Product: "fig", Lot: "new", Code: "3-M", Number: 9, Kind: first, Bars: 3},
		{Product: "fig", Lot: "old", Code: "2-K", Number: 4, Kind: first, Bars: 1},
		{Product: "plain", Lot: "old", Code: "2-K", Number: 4, Kind: ledger.Of(ledger.Second), Bars: 5},
	}
}

// Worked by hand: of the 20.00 for two at 7.50 and one at 4.00, 15/19 are 15.79 and 4/19 are 4.21.
func TestWhatWasPaidTogetherIsSharedByPrice(t *testing.T) {
	till := day()
	assert.Equal(t, map[string]int64{"fig": 750 + 1579 + 750, "plain": 421}, till.Amounts(price))
	assert.Equal(t, map[string]int{"fig": 4, "plain": 1}, till.Sold(), "what was undone was never sold")
	assert.EqualValues(t, 1500, till.Taken(market.Cash))
	assert.EqualValues(t, 2000, till.Taken(market.Card))
	gone, ok := till.Gone("fig", 4)
	assert.True(t, ok)
	assert.Equal(t, at("12:00"), gone)
	_, ok = till.Gone("plain", 5)
	assert.False(t, ok)
}

func TestTheOldestLotIsSoldFirstAndWhatNoBoxHeldIsAskedAbout(t *testing.T) {
	lines, beyond := market.Foreseen(box(), map[string]int{"fig": 3, "plain": 7, "hay": 1})
	require.Len(t, lines, 3)
	assert.Equal(t, "2-K", lines[0].Code)
	assert.Equal(t, []int{0, 0, 1}, []int{lines[0].Left, lines[1].Left, lines[2].Left}, "one old fig, five plain, two of three new figs")
	assert.Equal(t, map[string]int{"plain": 2, "hay": 1}, beyond)
}

func TestAMarketIsCountedBackToTheCentAndTheBar(t *testing.T) {
	lines, _ := market.Foreseen(box(), day().Sold())
	h := market.Home{Lines: lines, Float: 5000, Cash: 6450, Card: 2000}
	assert.Empty(t, h.Check(func(int, string) string { return "x" }))
	b := h.Balanced(day(), price)
	assert.EqualValues(t, 6500, b.CashDue)
	assert.EqualValues(t, -50, b.Off(), "half a coin is missing, and it is said")
	out := h.Outcomes(day(), price, opens, closes)
	require.Len(t, out, 2)
	assert.Equal(t, market.Outcome{Product: "fig", Packed: 4, Sold: 4, Till: 4, Amount: 3079, Asked: 1, Gone: "12:00", Wanted: 8}, out[0])
	assert.Equal(t, market.Outcome{Product: "plain", Packed: 5, Left: 4, Sold: 1, Till: 1, Amount: 421, Wanted: 1}, out[1])
	assert.Equal(t, []int64{770, 421, 2309}, h.Amounts(out), "a quarter of 30.79 is 7.70, three quarters 23.09")

	h.Lines[1].Given = 9
	assert.NotEmpty(t, h.Check(func(_ int, field string) string { return field }).At("given"))

	lines, _ = market.Foreseen(box(), day().Sold())
	// A stall without a till owes what its bars cost, in whatever way it was paid.
	h = market.Home{Lines: lines, Float: 5000, Cash: 5000 + 3400 - 1000, Card: 1000}
	b = h.Balanced(market.Till{}, price)
	assert.Zero(t, b.Off())
	assert.EqualValues(t, 3000, h.Outcomes(market.Till{}, price, opens, closes)[0].Amount)
}

// Whatever is packed, sold and counted: every bar has gone somewhere, and every cent of what was taken for bars that were in
// the box is some lot's.
func TestEveryBarAndEveryCentIsAccountedFor(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		names := []string{"fig", "plain", "free"}
		var boxed []market.Boxed
		for i := range rapid.IntRange(1, 6).Draw(t, "piles") {
			boxed = append(boxed, market.Boxed{Product: rapid.SampledFrom(names).Draw(t, "of"), Lot: string(rune('a' + i)),
				Number: rapid.IntRange(1, 4).Draw(t, "number"), Kind: ledger.Of(ledger.First), Bars: rapid.IntRange(1, 9).Draw(t, "bars")})
		}
		var till market.Till
		for range rapid.IntRange(0, 8).Draw(t, "sales") {
			s := market.Sale{At: opens.Add(time.Duration(rapid.IntRange(0, 360).Draw(t, "minute")) * time.Minute), Pay: market.Cash,
				Amount: int64(rapid.IntRange(0, 5000).Draw(t, "amount")), Undone: rapid.Bool().Draw(t, "undone")}
			for _, n := range names {
				if rapid.Bool().Draw(t, "has "+n) {
					s.Lines = append(s.Lines, market.Line{Product: n, Bars: rapid.IntRange(1, 4).Draw(t, "of it")})
				}
			}
			till.Sales = append(till.Sales, s)
		}
		lines, beyond := market.Foreseen(boxed, till.Sold())
		h := market.Home{Lines: lines}
		packed, went, extra, sold := 0, 0, 0, 0
		for _, b := range boxed {
			packed += b.Bars
		}
		for _, l := range lines {
			went += l.Left + l.Given + l.Spoiled + l.Sold()
			sold += l.Sold()
		}
		for _, n := range beyond {
			extra += n
		}
		all := 0
		for _, n := range till.Sold() {
			all += n
		}
		if packed != went || sold+extra != all {
			t.Fatalf("%d packed and %d accounted for; %d sold, %d beyond of %d", packed, went, sold, extra, all)
		}
		out := h.Outcomes(till, price, opens, closes)
		var given, taken int64
		for _, part := range h.Amounts(out) {
			given += part
		}
		for _, o := range out {
			if o.Sold > 0 {
				taken += o.Amount
			}
			if o.Wanted < o.Sold {
				t.Fatalf("%d wanted and %d sold", o.Wanted, o.Sold)
			}
		}
		if given != taken {
			t.Fatalf("%d taken and %d shared out", taken, given)
		}
	})
}

func TestATillTakesNoSaleThatCannotBe(t *testing.T) {
	good := day().Sales[0]
	assert.NoError(t, good.CheckSale())
	for name, spoil := range map[string]func(*market.Sale){
		"of nothing":     func(s *market.Sale) { s.Lines = nil },
		"of no bars":     func(s *market.Sale) { s.Lines = []market.Line{{Product: "fig"}} },
		"for less":       func(s *market.Sale) { s.Amount = -1 },
		"by nothing":     func(s *market.Sale) { s.Pay = "" },
		"of no product":  func(s *market.Sale) { s.Lines = []market.Line{{Bars: 1}} },
		"of a warehouse": func(s *market.Sale) { s.Lines = []market.Line{{Product: "fig", Bars: 5000}} },
	} {
		bad := good
		spoil(&bad)
		assert.Error(t, bad.CheckSale(), name)
	}
}

func TestAMarketFromABinderSaysWhatWasWanted(t *testing.T) {
	r := market.Recalled{Product: "fig", Name: "Fig", Packed: 10, Sold: 10, Gone: "12:00"}
	assert.Empty(t, r.Check(func(f string) string { return f }))
	o := r.Outcome(750, opens, closes)
	assert.Equal(t, market.Outcome{Product: "fig", Name: "Fig", Packed: 10, Sold: 10, Till: 10, Amount: 7500, Gone: "12:00", Wanted: 20}, o)
	for field, bad := range map[string]market.Recalled{
		"packed": {Packed: -1}, "sold": {Packed: 3, Sold: 4}, "gone": {Packed: 3, Sold: 3, Gone: "noon"},
	} {
		assert.NotEmpty(t, bad.Check(func(f string) string { return f }).At(field), field)
	}
	assert.NotEmpty(t, market.Recalled{Packed: 3, Sold: 2, Gone: "12:00"}.Check(func(f string) string { return f }).At("gone"))
}
