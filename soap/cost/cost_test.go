package cost_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/cost"
)

func TestMoneyIsReadAndWrittenAsTheCurrencyHasIt(t *testing.T) {
	for _, c := range []struct {
		text, currency string
		minor          int64
		written        string
	}{
		{"38.50", "EUR", 3850, "38.50"}, {"38,5", "EUR", 3850, "38.50"}, {"€ 7", "EUR", 700, "7.00"}, {"0.05", "USD", 5, "0.05"},
		{"1200", "JPY", 1200, "1200"}, {"1.234", "KWD", 1234, "1.234"}, {"12 eur", "EUR", 1200, "12.00"}, {"0", "GBP", 0, "0.00"},
	} {
		got, err := cost.ParseMoney(c.text, c.currency)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.minor, got, c.text)
		assert.Equal(t, c.written, cost.Format(got, c.currency))
	}
	for _, bad := range []string{"", "-3", "about 5", "1.2.3", "1e99", "NaN"} {
		_, err := cost.ParseMoney(bad, "EUR")
		assert.Error(t, err, bad)
	}
	_, err := cost.ParseMoney("1.234", "EUR")
	assert.EqualError(t, err, "EUR has 2 digits after the point")
	_, err = cost.ParseMoney("1.5", "JPY")
	assert.EqualError(t, err, "JPY has no digits after the point")
	assert.Equal(t, "−0.07", cost.Format(-7, "EUR"))
}

// 25 kg for 300.00 are 1.2 cents a gram; 333 g are 399.6 cents, and shown are 4.00.
func TestAGramCostsItsShareOfTheDeliveryAndIsRoundedOnlyToBeShown(t *testing.T) {
	paid := cost.Minor(30000)
	part := paid.Of(333_000, 25_000_000)
	assert.Equal(t, "1998/5", part.String())
	assert.EqualValues(t, 400, part.Rounded())
	back, err := cost.ReadExact(part.String())
	require.NoError(t, err)
	assert.Zero(t, back.Cmp(part))
	_, err = cost.ReadExact("much")
	assert.Error(t, err)
	assert.EqualValues(t, 3, cost.Minor(5).Of(1, 2).Rounded(), "halves are rounded away from zero")
	assert.EqualValues(t, -3, cost.Minor(-5).Of(1, 2).Rounded())
	assert.Zero(t, cost.Minor(7).Of(1, 0).Sign(), "of nothing there is nothing")
}

// Three equal thirds of a cent that comes to one: the first gets it.
func TestWhatIsShownAddsUpByTheLargestRemainders(t *testing.T) {
	third := cost.Minor(100).Of(1, 3)
	assert.Equal(t, []int64{34, 33, 33}, cost.Shown([]cost.Money{third, third, third}))
	assert.Equal(t, []int64{0, 67, 33}, cost.Split(100, []int64{0, 2, 1}))
	assert.Equal(t, []int64{5, 5}, cost.Split(10, []int64{0, 0}), "where no weight is known, alike")
	rapid.Check(t, func(t *rapid.T) {
		weights := rapid.SliceOfN(rapid.Int64Range(0, 9_000_000), 1, 12).Draw(t, "weights")
		total := rapid.Int64Range(0, 1_000_000).Draw(t, "total")
		var sum int64
		for _, part := range cost.Split(total, weights) {
			require.GreaterOrEqual(t, part, int64(0))
			sum += part
		}
		require.Equal(t, total, sum, "freight is divided to the cent")
	})
}

// A stock of lye: 2000 g of alkali for 12.00 in 4000 g of solution; 1000 g are drawn for a lot, 500 g of water are added,
// then 700 g are drawn: of what is left, 3500 g with 9.00 in them, that is a fifth.
func TestAStockCarriesItsCostOnAndWaterThinsIt(t *testing.T) {
	var m cost.Mixture
	m.Add(4_000_000, cost.Sum{Known: cost.Minor(1200)})
	first := m.Take("a", 1_000_000)
	assert.EqualValues(t, 300, first.Known.Rounded())
	m.Add(500_000, cost.Sum{})
	second := m.Take("b", 700_000)
	assert.EqualValues(t, 180, second.Known.Rounded())
	m.Take("b", -350_000)
	mg, sum := m.TakenBy("b")
	assert.EqualValues(t, 350_000, mg)
	assert.EqualValues(t, 90, sum.Known.Rounded(), "what is put back takes its cost back")
	m.Take("", m.MG)
	assert.Zero(t, m.Left.Known.Sign(), "the last draw takes all the rest")
}

// Whatever is drawn and put back, the cost that went in is what is drawn and what is left.
func TestNoCostIsLostInAMixture(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var m cost.Mixture
		in, out := cost.Money{}, cost.Money{}
		for range rapid.IntRange(1, 25).Draw(t, "steps") {
			mg := rapid.Int64Range(1, 5_000_000).Draw(t, "mg")
			switch rapid.IntRange(0, 3).Draw(t, "what") {
			case 0:
				paid := cost.Minor(rapid.Int64Range(0, 5000).Draw(t, "paid"))
				m.Add(mg, cost.Sum{Known: paid})
				in = in.Plus(paid)
			case 1:
				m.Add(mg, cost.Sum{})
			case 2:
				if m.MG > 0 {
					out = out.Plus(m.Take("lot", min(mg, m.MG)).Known)
				}
			default:
				if had, _ := m.TakenBy("lot"); had > 0 {
					out = out.Plus(m.Take("lot", -min(mg, had)).Known)
				}
			}
			require.GreaterOrEqual(t, m.Left.Known.Sign(), 0)
			require.Zero(t, in.Cmp(out.Plus(m.Left.Known)))
		}
	})
}

func TestWhatHasNoPriceIsNotKnownAndNeverNothing(t *testing.T) {
	l := cost.Lot{Lines: []cost.Line{
		{Name: "Olive oil", MG: 500_000, Cost: cost.Minor(400)}, {Name: "Kaolin", MG: 10_000, UnknownMG: 10_000},
		{Name: "Salt", MG: 5000, Cost: cost.Minor(2), UnknownMG: 1000}, {Name: "Water", MG: 200_000},
	}, Minutes: 90, Rate: 2000}
	total := l.Total()
	assert.EqualValues(t, 3402, total.Known.Rounded(), "4.02 of materials, and an hour and a half at 20.00")
	assert.Equal(t, []string{"Kaolin", "Salt"}, total.Unknown)
	assert.False(t, total.Whole())
	assert.True(t, cost.Sum{Unknown: []string{"Kaolin"}}.None())
	priced := cost.Priced([]cost.Need{{Name: "Olive", MG: 10}, {Name: "Tap water", MG: 9, Free: true}, {Name: "Neem", MG: 4}},
		[]cost.Price{{Cost: cost.Minor(100), Amount: 1000}, {}, {}})
	assert.EqualValues(t, 1, priced[0].Cost.Rounded())
	assert.Zero(t, priced[1].UnknownMG)
	assert.EqualValues(t, 4, priced[2].UnknownMG)
}

// 24 firsts of 100 g, 2 seconds of 100 g and 400 g of trimmings share 12.00: 0.40 a bar, and 1.60 go with the trimmings.
func TestALotIsSharedByWeight(t *testing.T) {
	shares := cost.Divide(cost.Minor(1200), []cost.Pile{{"first grade", 24, 2_400_000}, {"seconds", 2, 200_000}, {"trimmings", 0, 400_000}})
	assert.EqualValues(t, 40, shares[0].Each().Rounded())
	assert.EqualValues(t, 40, shares[1].Each().Rounded())
	assert.EqualValues(t, 160, shares[2].Cost.Rounded())
	unweighed := cost.Divide(cost.Minor(90), []cost.Pile{{"first grade", 2, 0}, {"seconds", 1, 0}})
	assert.EqualValues(t, 60, unweighed[0].Cost.Rounded())
	l := cost.Lot{Lines: []cost.Line{{"Olive oil", 7, cost.Minor(10).Of(1, 3), 2}}, Minutes: 12, Rate: 1500}
	again, same, err := cost.Freeze("EUR", l, shares).Thaw()
	require.NoError(t, err)
	assert.Zero(t, again.Total().Known.Cmp(l.Total().Known), "what is frozen is exact")
	assert.Equal(t, l.Lines[0].UnknownMG, again.Lines[0].UnknownMG)
	assert.Zero(t, same[0].Cost.Cmp(shares[0].Cost))
	_, _, err = cost.Frozen{Lines: []cost.FrozenLine{{Cost: "?"}}}.Thaw()
	assert.Error(t, err)
}

func TestAPauseIsWorkForAQuarterOfAnHourAtMost(t *testing.T) {
	at := func(minutes ...int) (out []time.Time) {
		for _, m := range minutes {
			out = append(out, time.Date(2026, 3, 14, 9, m, 0, 0, time.UTC))
		}
		return out
	}
	assert.Equal(t, 10+15+5, cost.Minutes(at(0, 10, 120, 125)))
	assert.Equal(t, 10, cost.Minutes(at(10, 0)), "in whatever order they come")
	assert.Zero(t, cost.Minutes(nil))
}
