package sale_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/ledger"
	"ashshelf/soap/sale"
)

func rules() sale.Rules {
	r := sale.UsualRules()
	r.Tax = 20
	r.Channels = []sale.Channel{{Name: "Guest house", Percent: 40}, {Name: "web", Percent: 2.9, Each: 30}}
	return r
}

// Worked by hand: of 12.00 with 20 % on top of the net price, 2.00 is tax; a guest house keeps 4.80; a website 0.348 and 30.
func TestWhatIsInAPriceIsTakenApart(t *testing.T) {
	assert.Empty(t, rules().Check())
	assert.EqualValues(t, 200, rules().TaxIn(1200))
	assert.Equal(t, sale.Taken{Amount: 1200, Tax: 200, Fee: 480}, rules().Of("guest house", 1200, ""))
	assert.EqualValues(t, 35+30, rules().Fee("web", 1200))
	assert.Zero(t, rules().Fee("market", 1200))
	assert.EqualValues(t, 520, rules().Of("guest house", 1200, "").Net())
	assert.Equal(t, sale.Taken{Amount: -1200, Tax: -200, Fee: -480}, rules().Of("guest house", -1200, ""), "given back")
	assert.EqualValues(t, -35, rules().Of("web", -1200, "").Fee, "what a website takes of an order it keeps")
	assert.EqualValues(t, 10, rules().Fee("web", 10), "never more than there is")
}

func TestRulesThatCannotBeAreRefusedAtTheirField(t *testing.T) {
	for field, spoil := range map[string]func(*sale.Rules){
		"tax":                 func(r *sale.Rules) { r.Tax = -1 },
		"keep_names":          func(r *sale.Rules) { r.KeepNames = -1 },
		"pots_per_day":        func(r *sale.Rules) { r.PotsPerDay = 0 },
		"margin":              func(r *sale.Rules) { r.Margin = 90 },
		"channels[1].name":    func(r *sale.Rules) { r.Channels[1].Name = "GUEST house" },
		"channels[0].percent": func(r *sale.Rules) { r.Channels[0].Percent = 140 },
		"channels[0].each":    func(r *sale.Rules) { r.Channels[0].Each = -1 },
	} {
		r := rules()
		spoil(&r)
		assert.NotEmpty(t, r.Check().At(field), field)
	}
}

func order(terms sale.Terms) sale.Order {
	return sale.Order{Buyer: "B1", Channel: "Guest house", Due: "2026-05-20", Terms: terms,
		Lines: []sale.Line{{Product: "fig", Bars: 12, Price: 450}, {Product: "olive", Bars: 6, Price: 500}}}
}

func TestAnOrderThatCannotBeIsRefusedAtItsField(t *testing.T) {
	assert.Empty(t, order(sale.Bought).Check())
	for field, spoil := range map[string]func(*sale.Order){
		"buyer":            func(o *sale.Order) { o.Buyer = "" },
		"channel":          func(o *sale.Order) { o.Channel = "" },
		"due":              func(o *sale.Order) { o.Due = "soon" },
		"terms":            func(o *sale.Order) { o.Terms = "maybe" },
		"lines":            func(o *sale.Order) { o.Lines = nil },
		"lines[0].bars":    func(o *sale.Order) { o.Lines[0].Bars = 0 },
		"lines[0].price":   func(o *sale.Order) { o.Lines[0].Price = -1 },
		"lines[1].product": func(o *sale.Order) { o.Lines[1].Product = "fig" },
	} {
		o := order(sale.Bought)
		spoil(&o)
		assert.NotEmpty(t, o.Check().At(field), field)
	}
}

func TestAnOrderIsFollowedToTheBar(t *testing.T) {
	fig := sale.Bars{Product: "fig", Lot: "a", Kind: ledger.Of(ledger.First)}
	move := func(what sale.What, n int) sale.Move { return sale.Move{Bars: fig, What: what, Count: n} }
	o := order(sale.Return)
	assert.Equal(t, sale.ToPack, o.Stage(nil))
	moves := []sale.Move{move(sale.Sent, 10)}
	assert.Equal(t, []int{2, 6}, o.Owed(moves))
	assert.Equal(t, sale.Partly, o.Stage(moves))
	o.Closed = true
	assert.Equal(t, []int{0, 0}, o.Owed(moves), "nothing more is owed")
	assert.Equal(t, sale.WithThem, o.Stage(moves))
	moves = append(moves, move(sale.Sold, 6), move(sale.Returned, 3))
	s := sale.Standings(moves)[fig]
	assert.Equal(t, 1, s.With(o.Terms))
	assert.Equal(t, 3, s.Waiting())
	assert.Equal(t, sale.ToJudge, o.Stage(moves))
	moves = append(moves, move(sale.JudgedSound, 2), move(sale.JudgedSpoiled, 1), move(sale.Sold, 1))
	assert.Equal(t, sale.Done, o.Stage(moves))

	require.Error(t, sale.May(sale.Return, s, sale.Sold, 2), "only one is with them")
	require.Error(t, sale.May(sale.Return, s, sale.Returned, 2))
	require.Error(t, sale.May(sale.Return, s, sale.JudgedSound, 4))
	require.NoError(t, sale.May(sale.Return, s, sale.JudgedSound, 3))
	require.Error(t, sale.May(sale.Bought, s, sale.Sold, 1), "it was sold when it was sent")
	require.NoError(t, sale.May(sale.Bought, s, sale.Returned, 7), "of ten that were sent, seven can still come back")
	require.Error(t, sale.May(sale.Bought, s, "eaten", 1))
}

// Whatever may happen to an order: of what was sent, each bar is sold, with the buyer, waiting or judged, and never less than
// none is anywhere.
func TestNoBarOfAnOrderIsEverLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		terms := rapid.SampledFrom(sale.AllTerms()).Draw(t, "terms")
		bars := sale.Bars{Product: "fig", Lot: "a", Kind: ledger.Of(ledger.First)}
		var moves []sale.Move
		whats := append([]sale.What{sale.Sent, sale.Sold, sale.Returned}, sale.Judgements()...)
		for range 20 {
			what, n := rapid.SampledFrom(whats).Draw(t, "what"), rapid.IntRange(1, 9).Draw(t, "bars")
			if sale.May(terms, sale.Standings(moves)[bars], what, n) != nil {
				continue
			}
			moves = append(moves, sale.Move{Bars: bars, What: what, Count: n})
			s := sale.Standings(moves)[bars]
			judged := 0
			for _, n := range s.Judged {
				judged += n
			}
			if s.With(terms) < 0 || s.Waiting() < 0 || s.Sent != s.With(terms)+s.Sold+s.Waiting()+judged {
				t.Fatalf("%+v after %v", s, moves)
			}
		}
	})
}

func TestAPaperAddsUp(t *testing.T) {
	var d sale.Document
	d.Add("Fig", "3-M", 4, 450)
	d.Add("Fig", "2-K", 2, 450)
	d.Add("Olive", "2-K", 1, 500)
	require.Len(t, d.Rows, 2)
	assert.Equal(t, sale.Row{Name: "Fig", Lots: []string{"3-M", "2-K"}, Bars: 6, Price: 450, Amount: 2700}, d.Rows[0])
	assert.EqualValues(t, 3200, d.Total)
	assert.Equal(t, []string{"D", "I", "C"}, []string{sale.Note.Letter(), sale.Invoice.Letter(), sale.Credit.Letter()})
}
