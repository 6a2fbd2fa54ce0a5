// Package sale is what a sale brings, and what an order is still owed.
//
// The price that somebody pays has the tax in it that goes to the state, and what the channel keeps: a shop takes its
// part, a website so much of each order. What is left is the maker's, less what the bar cost. Orders are packed by lot,
// sent in parts, settled, and may come back in part; each of these is noted, so that what a shop still has on its
// counter is known to the bar. What comes back waits until somebody has looked at it.
package sale

import (
	"slices"
	"strconv"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/label"
)

// Channel is a way by which bars are sold, with what it keeps.
type Channel struct {
	Name    string
	Percent float64 // of the price
	Each    int64   // of every order, in minor units
}

// Rules are how the shop sells, and how much it makes.
type Rules struct {
	Tax        float64 // percent that is added to the net price, and is in every price that is asked
	Channels   []Channel
	KeepNames  int // days that names of buyers are kept after their last order; 0 for as long as nobody blanks them
	PotsPerDay int
	Margin     int // days that bars are ready before they are wanted
	Terms      string
}

// UsualRules are those of a shop that said nothing.
func UsualRules() Rules { return Rules{PotsPerDay: 2, Margin: 3} }

// most of what is written down.
const (
	mostText     = 2000
	mostChannels = 30
	mostMoney    = 1_000_000_00
	mostBars     = 10_000
	mostLines    = 100
)

// Check finds what cannot be. Paths are the names of the fields.
func (r Rules) Check() (p caution.Problems) {
	caution.Range{Min: 0, Max: 100, Unit: "%"}.Check(&p, "tax", "the tax", r.Tax)
	caution.Range{Min: 0, Max: 3660, Unit: "days"}.Check(&p, "keep_names", "how long names are kept", float64(r.KeepNames))
	caution.Range{Min: 1, Max: 20, Unit: "pots"}.Check(&p, "pots_per_day", "the pots of a day", float64(r.PotsPerDay))
	caution.Range{Min: 0, Max: 60, Unit: "days"}.Check(&p, "margin", "the days to spare", float64(r.Margin))
	if len(r.Terms) > mostText {
		p.Add("terms", "at most %d letters", mostText)
	}
	if len(r.Channels) > mostChannels {
		p.Add("channels", "at most %d", mostChannels)
	}
	seen := map[string]bool{}
	for i, c := range r.Channels {
		at := "channels[" + strconv.Itoa(i) + "]."
		if strings.TrimSpace(c.Name) == "" {
			p.Add(at+"name", "say which channel it is")
		}
		p.Name(at+"name", c.Name)
		if seen[label.Key(c.Name)] {
			p.Add(at+"name", "this channel is there already")
		}
		seen[label.Key(c.Name)] = true
		caution.Range{Min: 0, Max: 100, Unit: "%"}.Check(&p, at+"percent", "what it keeps", c.Percent)
		if c.Each < 0 || c.Each > mostMoney {
			p.Add(at+"each", "that is no fee of an order")
		}
	}
	return p
}

// thousandths is how exact a percentage is reckoned with.
const thousandths = 1000

// TaxIn is the tax that is in a price, in minor units.
func (r Rules) TaxIn(amount int64) int64 {
	rate := int64(r.Tax*thousandths + 0.5)
	return cost.Minor(amount).Of(rate, 100*thousandths+rate).Rounded()
}

// Fee is what a channel keeps of an order's price, its fixed part once.
func (r Rules) Fee(channel string, amount int64) int64 {
	i := slices.IndexFunc(r.Channels, func(c Channel) bool { return label.Key(c.Name) == label.Key(channel) })
	if i < 0 || amount <= 0 {
		return 0
	}
	c := r.Channels[i]
	return min(amount, cost.Minor(amount).Of(int64(c.Percent*thousandths+0.5), 100*thousandths).Rounded()+c.Each)
}

// Taken is what bars brought, in minor units. What came back is below zero.
type Taken struct {
	Amount, Tax, Fee int64
	Pay              string
}

// Of works out what is in an amount that was taken in a channel.
func (r Rules) Of(channel string, amount int64, pay string) Taken {
	if amount < 0 { // given back: the channel gives its part back, too, but for what it takes of every order
		back := Rules{Tax: r.Tax, Channels: slices.Clone(r.Channels)}
		for i := range back.Channels {
			back.Channels[i].Each = 0
		}
		return Taken{amount, -r.TaxIn(-amount), -back.Fee(channel, -amount), pay}
	}
	return Taken{amount, r.TaxIn(amount), r.Fee(channel, amount), pay}
}

// Net is what is left of it before what the bars cost.
func (t Taken) Net() int64 { return t.Amount - t.Tax - t.Fee }

// Plus adds up.
func (t Taken) Plus(o Taken) Taken {
	return Taken{t.Amount + o.Amount, t.Tax + o.Tax, t.Fee + o.Fee, t.Pay}
}
