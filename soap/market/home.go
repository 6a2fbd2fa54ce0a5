package market

import (
	"slices"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/ledger"
)

// Boxed is bars of a lot in the box of a market, as a product.
type Boxed struct {
	Product string // its identity
	Lot     string // its identity
	Code    string
	Number  int // of the lot; the lower, the older
	Kind    ledger.Kind
	Bars    int
}

// Counted is what became of them.
type Counted struct {
	Boxed
	Left, Given, Spoiled int
}

// Sold is what is not left and went in no other way.
func (c Counted) Sold() int { return c.Bars - c.Left - c.Given - c.Spoiled }

// Foreseen is what should be left by the till: sold is taken from the oldest lot first. What was sold beyond the box is
// left over, by product.
func Foreseen(box []Boxed, sold map[string]int) (lines []Counted, beyond map[string]int) {
	box = slices.Clone(box)
	slices.SortStableFunc(box, byAge)
	rest := map[string]int{}
	for product, n := range sold {
		rest[product] = n
	}
	for _, b := range box {
		n := min(rest[b.Product], b.Bars)
		rest[b.Product] -= n
		lines = append(lines, Counted{Boxed: b, Left: b.Bars - n})
	}
	beyond = map[string]int{}
	for product, n := range rest {
		if n > 0 {
			beyond[product] = n
		}
	}
	return lines, beyond
}

// Home is a market counted back.
type Home struct {
	Lines      []Counted
	Cash, Card int64 // as counted; cash with the float
	Float      int64
	Weather    string
	Note       string
}

// Weathers are the words for a day's weather.
func Weathers() []string { return []string{"sun", "clouds", "wind", "rain", "cold", "heat"} }

// Check finds what cannot be. Paths are left[i], given[i] and spoiled[i] by line.
func (h Home) Check(at func(line int, field string) string) (p caution.Problems) {
	for i, c := range h.Lines {
		for field, n := range map[string]int{"left": c.Left, "given": c.Given, "spoiled": c.Spoiled} {
			if n < 0 || n > c.Bars {
				p.Add(at(i, field), "between 0 and the %d that were packed", c.Bars)
			}
		}
		if len(p) == 0 && c.Sold() < 0 {
			p.Add(at(i, "left"), "that is %d more than the %d that were packed", -c.Sold(), c.Bars)
		}
	}
	for field, amount := range map[string]int64{"cash": h.Cash, "card": h.Card, "float": h.Float} {
		if amount < 0 || amount > mostMoney {
			p.Add(field, "that is no amount of a market")
		}
	}
	if h.Weather != "" && !slices.Contains(Weathers(), h.Weather) {
		p.Add("weather", "choose one of the words")
	}
	if len(h.Note) > mostText {
		p.Add("note", "at most %d letters", mostText)
	}
	return p
}

// Balance is what was counted against what there should be, in minor units.
type Balance struct{ Cash, CashDue, Card, CardDue int64 }

// Off is how much more was counted than there should be; below zero what is missing.
func (b Balance) Off() int64 { return b.Cash + b.Card - b.CashDue - b.CardDue }

// Balanced holds the money against the till: cash is the float and what was paid so. A stall without a till owes
// what its bars cost, in whatever way it was paid.
func (h Home) Balanced(t Till, price func(product string) int64) Balance {
	b := Balance{Cash: h.Cash, CashDue: h.Float + t.Taken(Cash), Card: h.Card, CardDue: t.Taken(Card)}
	if len(t.standing()) == 0 {
		due := -h.Card
		for _, c := range h.Lines {
			due += price(c.Product) * int64(c.Sold())
		}
		b.CashDue, b.CardDue = h.Float+due, h.Card
	}
	return b
}

// Outcomes is how each product did, in the order of the lines. opens and closes are the hours of the market.
func (h Home) Outcomes(t Till, price func(product string) int64, opens, closes time.Time) (out []Outcome) {
	tilled, amounts := t.Sold(), t.Amounts(price)
	for _, c := range h.Lines {
		i := slices.IndexFunc(out, func(o Outcome) bool { return o.Product == c.Product })
		if i < 0 {
			i = len(out)
			out = append(out, Outcome{Product: c.Product, Till: tilled[c.Product], Amount: amounts[c.Product], Asked: t.AskedFor(c.Product)})
		}
		o := &out[i]
		o.Packed, o.Left, o.Given, o.Spoiled, o.Sold = o.Packed+c.Bars, o.Left+c.Left, o.Given+c.Given, o.Spoiled+c.Spoiled, o.Sold+c.Sold()
	}
	for i := range out {
		o := &out[i]
		if len(t.standing()) == 0 {
			o.Amount = price(o.Product) * int64(o.Sold)
		}
		var gone time.Time
		if at, ok := t.Gone(o.Product, o.Packed-o.Given-o.Spoiled); ok && o.Left == 0 {
			gone, o.Gone = at, at.In(opens.Location()).Format(clock)
		}
		o.Wanted = Unmet(o.Sold, o.Asked, opens, gone, closes)
	}
	return out
}

// Amounts shares what was taken for each product over the lines by the bars that were sold of each, to the minor unit.
func (h Home) Amounts(outcomes []Outcome) []int64 {
	out := make([]int64, len(h.Lines))
	for _, o := range outcomes {
		var at []int
		var weights []int64
		for i, c := range h.Lines {
			if c.Product == o.Product && c.Sold() > 0 {
				at, weights = append(at, i), append(weights, int64(c.Sold()))
			}
		}
		if len(at) == 0 {
			continue
		}
		for i, part := range cost.Split(o.Amount, weights) {
			out[at[i]] = part
		}
	}
	return out
}

// Record is a market as it was counted back, with what came of it.
type Record struct {
	Home     Home
	Balance  Balance
	Outcomes []Outcome
}

// Recalled is how a product did at a market that was not counted here: from a binder, or from memory.
type Recalled struct {
	Product, Name string
	Packed, Sold  int
	Gone          string // hour as 15:04; empty where some were left, or nobody knows
}

// Outcome is how it did, at a price; opens and closes are the hours of the market.
func (r Recalled) Outcome(price int64, opens, closes time.Time) Outcome {
	o := Outcome{Product: r.Product, Name: r.Name, Packed: r.Packed, Left: r.Packed - r.Sold, Sold: r.Sold, Till: r.Sold,
		Amount: price * int64(r.Sold), Gone: r.Gone}
	var gone time.Time
	if at, err := time.Parse(clock, r.Gone); err == nil {
		y, m, d := opens.Date()
		gone = time.Date(y, m, d, at.Hour(), at.Minute(), 0, 0, opens.Location())
	}
	o.Wanted = Unmet(o.Sold, 0, opens, gone, closes)
	return o
}

// Check finds what cannot be. at is the field of a line.
func (r Recalled) Check(at func(field string) string) (p caution.Problems) {
	if r.Packed < 0 || r.Packed > mostBars {
		p.Add(at("packed"), "between 0 and %d bars", mostBars)
	}
	if r.Sold < 0 || r.Sold > r.Packed {
		p.Add(at("sold"), "between 0 and the %d that were brought", r.Packed)
	}
	if _, err := time.Parse(clock, r.Gone); r.Gone != "" && err != nil {
		p.Add(at("gone"), "type the hour, like 14:20")
	} else if r.Gone != "" && r.Sold < r.Packed {
		p.Add(at("gone"), "some came home: it was not sold out")
	}
	return p
}
