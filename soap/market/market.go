// Package market is a day at a stall: what goes along, what the till took, and how it is counted back.
//
// What goes to a market is packed into its box, lot by lot, the evening before. At the stall bars are sold by what
// they are called: nobody looks for a lot's code in the rain. Back home what is left is counted. What is not left was
// sold, of the oldest lot first, as bars lie in the box, until somebody says otherwise; and the money is counted
// against what the till says there should be. A difference is told and kept, never smoothed over.
//
// What was sold out, and when, is worth more than what was sold: it says what could have been.
package market

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/unit"
)

// Deal is so many bars for one price; the zero Deal is none.
type Deal struct {
	Bars   int
	Amount int64 // minor units
}

// Want is bars of a product that somebody decided to bring.
type Want struct {
	Product string // its identity
	Bars    int
}

// Market is a day at a stall. Those of one name are one series.
type Market struct {
	On            string // day
	Opens, Closes string // hours as 15:04
	Place         string
	Channel       string // whose prices are asked
	Fee           int64  // for the stall, in minor units
	Float         int64  // change that goes along
	Deal          Deal
	Bring         []string // things besides soap
	Wants         []Want
	Note          string
	Off           bool // it does not take place
}

// clock is how an hour is written.
const clock = "15:04"

// most of what is written down of a market.
const (
	mostBring = 40
	mostText  = 2000
	mostMoney = 1_000_000_00
	mostWants = 200
	mostBars  = 10_000
)

// Check finds what cannot be. Paths are the names of the fields.
func (m Market) Check() (p caution.Problems) {
	if _, err := time.Parse(time.DateOnly, m.On); err != nil {
		p.Add("on", "say on which day it is, like 2026-05-02")
	}
	opens, err := time.Parse(clock, m.Opens)
	if err != nil {
		p.Add("opens", "type the hour it opens, like 9:00")
	}
	closes, errCloses := time.Parse(clock, m.Closes)
	if errCloses != nil {
		p.Add("closes", "type the hour it closes, like 14:30")
	}
	if err == nil && errCloses == nil && !closes.After(opens) {
		p.Add("closes", "it would close before it opens")
	}
	p.Name("place", m.Place)
	if strings.TrimSpace(m.Channel) == "" {
		p.Add("channel", "say whose prices are asked")
	}
	p.Name("channel", m.Channel)
	for field, amount := range map[string]int64{"fee": m.Fee, "float": m.Float, "deal_amount": m.Deal.Amount} {
		if amount < 0 || amount > mostMoney {
			p.Add(field, "that is no amount of a market")
		}
	}
	switch {
	case m.Deal == Deal{}:
	case m.Deal.Bars < 2 || m.Deal.Bars > 24:
		p.Add("deal_bars", "between 2 and 24 bars for one price")
	case m.Deal.Amount == 0:
		p.Add("deal_amount", "say what they cost together")
	}
	if len(m.Bring) > mostBring {
		p.Add("bring", "at most %d things", mostBring)
	}
	if len(strings.Join(m.Bring, "\n")) > mostText {
		p.Add("bring", "at most %d letters", mostText)
	}
	if len(m.Note) > mostText {
		p.Add("note", "at most %d letters", mostText)
	}
	seen := map[string]bool{}
	for i, w := range m.Wants {
		at := "wants[" + strconv.Itoa(i) + "]"
		if w.Bars < 0 || w.Bars > mostBars {
			p.Add(at, "between 0 and %d bars", mostBars)
		}
		if seen[w.Product] {
			p.Add(at, "this product is there twice")
		}
		seen[w.Product] = true
	}
	if len(m.Wants) > mostWants {
		p.Add("wants", "at most %d products", mostWants)
	}
	return p
}

// Wanted is how many bars of a product somebody decided to bring.
func (m Market) Wanted(product string) (bars int, ok bool) {
	i := slices.IndexFunc(m.Wants, func(w Want) bool { return w.Product == product })
	if i < 0 {
		return 0, false
	}
	return m.Wants[i].Bars, true
}

// Hours are the moments it opens and closes, in a zone.
func (m Market) Hours(zone *time.Location) (opens, closes time.Time) {
	at := func(hour string) time.Time {
		t, err := time.ParseInLocation(time.DateOnly+" "+clock, m.On+" "+hour, zone)
		if err != nil {
			return time.Time{} // Check has said so
		}
		return t
	}
	return at(m.Opens), at(m.Closes)
}

// Pay is how somebody paid.
type Pay string

// The ways.
const (
	Cash Pay = "cash"
	Card Pay = "card"
)

// Pays returns all of them.
func Pays() []Pay { return []Pay{Cash, Card} }

// Line is bars of a product in a sale.
type Line struct {
	Product string // its identity
	Bars    int
}

// Sale is what one buyer paid for at the stall.
type Sale struct {
	Key    string
	At     time.Time
	Pay    Pay
	Amount int64
	Lines  []Line
	Undone bool
}

// Asked is that somebody asked for a product that was gone.
type Asked struct {
	Product string
	At      time.Time
}

// CheckSale finds what no till can have taken.
func (s Sale) CheckSale() error {
	bars := 0
	for _, l := range s.Lines {
		if l.Product == "" || l.Bars < 1 || l.Bars > 500 {
			return fmt.Errorf("a sale of %d bars of “%s” cannot be", l.Bars, l.Product)
		}
		bars += l.Bars
	}
	switch {
	case bars == 0:
		return fmt.Errorf("a sale of nothing cannot be")
	case s.Amount < 0 || s.Amount > mostMoney:
		return fmt.Errorf("a sale of %d minor units cannot be", s.Amount)
	case !slices.Contains(Pays(), s.Pay):
		return fmt.Errorf("nobody pays by “%s”", s.Pay)
	}
	return nil
}

// Till is all that the till of a market says, in the order of the day.
type Till struct {
	Sales []Sale
	Asked []Asked
}

// standing are the sales that were not undone, in the order of their hours.
func (t Till) standing() []Sale {
	out := slices.DeleteFunc(slices.Clone(t.Sales), func(s Sale) bool { return s.Undone })
	slices.SortStableFunc(out, func(a, b Sale) int { return a.At.Compare(b.At) })
	return out
}

// Taken is what was paid in a way, in minor units.
func (t Till) Taken(by Pay) (sum int64) {
	for _, s := range t.standing() {
		if s.Pay == by {
			sum += s.Amount
		}
	}
	return sum
}

// Sold is how many bars of each product were sold.
func (t Till) Sold() map[string]int {
	out := map[string]int{}
	for _, s := range t.standing() {
		for _, l := range s.Lines {
			out[l.Product] += l.Bars
		}
	}
	return out
}

// Amounts is what was taken for each product. What was paid for several things together is shared by their prices,
// to the minor unit.
func (t Till) Amounts(price func(product string) int64) map[string]int64 {
	out := map[string]int64{}
	for _, s := range t.standing() {
		weights := make([]int64, len(s.Lines))
		for i, l := range s.Lines {
			weights[i] = price(l.Product) * int64(l.Bars)
		}
		for i, part := range cost.Split(s.Amount, weights) {
			out[s.Lines[i].Product] += part
		}
	}
	return out
}

// AskedFor is how often a product was asked for when it was gone.
func (t Till) AskedFor(product string) (n int) {
	for _, a := range t.Asked {
		if a.Product == product {
			n++
		}
	}
	return n
}

// Gone is when the last bar of a product was sold, of so many that were packed; ok is false when some were left.
func (t Till) Gone(product string, packed int) (at time.Time, ok bool) {
	for _, s := range t.standing() {
		for _, l := range s.Lines {
			if l.Product != product {
				continue
			}
			if packed -= l.Bars; packed <= 0 {
				return s.At, true
			}
		}
	}
	return time.Time{}, false
}

// mostMore is how many times more than was sold is thought to have been wanted: what was gone in the first quarter of an
// hour says that it was much liked, not that forty times as many people would have come. Makers make double of what sold
// out at a fair.
const mostMore = 2

// Unmet is how many bars of a product would have been sold on a day that began, and at which it was gone at an hour, had
// there been enough: at the pace until then, but no more than twice what was sold, and never less than what was
// sold and asked for. A day that is not known to have been sold out wants what it sold.
func Unmet(sold, asked int, opens, gone, closes time.Time) int {
	least := sold + asked
	if gone.IsZero() || !gone.Before(closes) {
		return least
	}
	until, all := gone.Sub(opens).Minutes(), closes.Sub(opens).Minutes()
	if until <= 0 {
		return max(least, mostMore*sold)
	}
	paced := math.Round(float64(sold) * all / until)
	return max(least, int(min(paced, mostMore*float64(sold))))
}

// Outcome is how a product did at a market.
type Outcome struct {
	Product              string // its identity
	Name                 string // as it was called then
	Packed, Left         int
	Given, Spoiled, Sold int
	Till                 int   // bars that the till knows of
	Amount               int64 // that was taken for them
	Asked                int
	Gone                 string // hour at which the last bar was sold; empty where some were left
	Wanted               int    // had there been enough
}

// Proposal is how many bars of a product to bring, and why.
type Proposal struct {
	Product string
	Bars    int // that are there to bring, at most
	Wanted  int
	Why     string
	New     bool // it was never at this market, so that nothing is known
}

// firstTime is how many bars of a product are brought that was never at this market.
const firstTime = 6

// Past is a market of the same name, as it was counted back.
type Past struct {
	On       string
	Outcomes []Outcome
}

func (m Past) of(product string) (Outcome, bool) {
	i := slices.IndexFunc(m.Outcomes, func(o Outcome) bool { return o.Product == product && o.Packed > 0 })
	if i < 0 {
		return Outcome{}, false
	}
	return m.Outcomes[i], true
}

// yearAgo is how many days around a year ago count as the same season.
const yearAgo = 45

// Propose says how many bars of a product to bring: what somebody decided; else the larger of what was wanted the last
// time and at this time last year, each made up for what was sold out. past is in any order.
func Propose(m Market, product string, ready int, past []Past) Proposal {
	p := Proposal{Product: product}
	if bars, ok := m.Wanted(product); ok {
		p.Wanted, p.Why = bars, "you said so"
	} else {
		for _, of := range asGuide(m.On, past) {
			if o, ok := of.of(product); ok && o.Wanted > p.Wanted {
				p.Wanted, p.Why = o.Wanted, "sold "+strconv.Itoa(o.Sold)+" of "+strconv.Itoa(o.Packed)+" on "+dayWords(of.On)
				if o.Gone != "" {
					p.Why += ", gone at " + o.Gone
				}
			}
		}
		if p.Why == "" {
			p.Wanted, p.Why, p.New = min(firstTime, ready), "it was not there before", true
			if slices.ContainsFunc(asGuide(m.On, past), func(of Past) bool { _, ok := of.of(product); return ok }) {
				p.Wanted, p.Why, p.New = 0, "nobody took one the last time", false
			}
		}
	}
	p.Bars = min(p.Wanted, ready)
	return p
}

// dayWords writes a day as it is read.
func dayWords(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return unit.FormatDay(at)
}

// asGuide are the markets that say what is wanted on a day: the newest before it, and the one nearest to a year before.
func asGuide(on string, past []Past) (out []Past) {
	day, err := time.Parse(time.DateOnly, on)
	if err != nil {
		return nil
	}
	var newest, year *Past
	away := func(p *Past) int {
		at, _ := time.Parse(time.DateOnly, p.On)
		return int(math.Abs(day.AddDate(-1, 0, 0).Sub(at).Hours() / 24))
	}
	for i := range past {
		p := &past[i]
		if p.On >= on {
			continue
		}
		if newest == nil || p.On > newest.On {
			newest = p
		}
		if away(p) <= yearAgo && (year == nil || away(p) < away(year)) {
			year = p
		}
	}
	if newest != nil {
		out = append(out, *newest)
	}
	if year != nil && year != newest {
		out = append(out, *year)
	}
	return out
}

// SameLastYear is the market of a series that a day is best beside: the one nearest to a year before.
func SameLastYear(on string, past []Past) (Past, bool) {
	guide := asGuide(on, past)
	day, err := time.Parse(time.DateOnly, on)
	if err != nil {
		return Past{}, false
	}
	for _, p := range slices.Backward(guide) {
		at, _ := time.Parse(time.DateOnly, p.On)
		if math.Abs(day.AddDate(-1, 0, 0).Sub(at).Hours()/24) <= yearAgo {
			return p, true
		}
	}
	return Past{}, false
}

// byAge puts the bars of a box in the order in which they are sold: the oldest lot first.
func byAge(a, b Boxed) int {
	return cmp.Or(cmp.Compare(a.Number, b.Number), cmp.Compare(a.Kind.Grade, b.Kind.Grade), cmp.Compare(a.Kind.Size, b.Kind.Size))
}
