package sale

import (
	"fmt"
	"slices"
	"strconv"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/ledger"
)

// Terms are whose bars are that were sent.
type Terms string

// The terms.
const (
	Bought Terms = "bought" // sold when they are sent
	Return Terms = "return" // the maker's until they are sold; what is not sold comes back
)

// AllTerms returns them, the most usual first.
func AllTerms() []Terms { return []Terms{Bought, Return} }

// Words says them.
func (t Terms) Words() string {
	if t == Return {
		return "on sale or return"
	}
	return "bought"
}

// Line is what is ordered of a product.
type Line struct {
	Product string // its identity
	Bars    int
	Price   int64 // of a bar, in minor units
}

// Order is what somebody wants by a day.
type Order struct {
	Buyer   string // the key of a buyer, never a name
	Channel string
	Due     string // day
	Terms   Terms
	Lines   []Line
	Note    string
	Closed  bool // nothing more is owed of it, whatever was not sent
}

// Check finds what cannot be. Paths are the names of the fields.
func (o Order) Check() (p caution.Problems) {
	if o.Buyer == "" {
		p.Add("buyer", "say whose order it is")
	}
	if o.Channel == "" {
		p.Add("channel", "say in which channel it is sold")
	}
	p.Name("channel", o.Channel)
	if _, err := time.Parse(time.DateOnly, o.Due); err != nil {
		p.Add("due", "say by which day it is wanted, like 2026-05-02")
	}
	if !slices.Contains(AllTerms(), o.Terms) {
		p.Add("terms", "choose whose the bars are until they are sold")
	}
	if len(o.Note) > mostText {
		p.Add("note", "at most %d letters", mostText)
	}
	if len(o.Lines) == 0 {
		p.Add("lines", "say what is ordered")
	}
	if len(o.Lines) > mostLines {
		p.Add("lines", "at most %d lines", mostLines)
	}
	seen := map[string]bool{}
	for i, l := range o.Lines {
		at := "lines[" + strconv.Itoa(i) + "]."
		if l.Product == "" {
			p.Add(at+"product", "choose a product")
		}
		if seen[l.Product] {
			p.Add(at+"product", "this product is there already")
		}
		seen[l.Product] = true
		if l.Bars < 1 || l.Bars > mostBars {
			p.Add(at+"bars", "between 1 and %d bars", mostBars)
		}
		if l.Price < 0 || l.Price > mostMoney {
			p.Add(at+"price", "that is no price of a bar")
		}
	}
	return p
}

// Price is what a bar of a product costs in the order.
func (o Order) Price(product string) int64 {
	i := slices.IndexFunc(o.Lines, func(l Line) bool { return l.Product == product })
	if i < 0 {
		return 0
	}
	return o.Lines[i].Price
}

// What is what became of bars of an order.
type What string

// The moves. Judged is what somebody said of bars that came back, when she had looked at them.
const (
	Sent          What = "sent"
	Sold          What = "sold" // of those that stand with the buyer on sale or return
	Returned      What = "returned"
	JudgedSound   What = "judged sound"
	JudgedSpoiled What = "judged spoiled"
	JudgedTester  What = "judged tester"
)

// Judgements are what can be said of bars that came back.
func Judgements() []What { return []What{JudgedSound, JudgedSpoiled, JudgedTester} }

// Words says a judgement as it is chosen.
func (w What) Words() string {
	switch w {
	case JudgedSound:
		return "sound: back on the shelf"
	case JudgedSpoiled:
		return "spoiled: thrown away"
	case JudgedTester:
		return "a tester: given away to try"
	}
	return string(w)
}

// Bars are bars of a kind of a lot, as a product.
type Bars struct {
	Product string // its identity
	Lot     string // its identity
	Kind    ledger.Kind
}

// Move is what became of some of them.
type Move struct {
	Bars
	What  What
	Count int
}

// Standing is where the bars of an order are.
type Standing struct {
	Sent, Sold, Returned int
	Judged               map[What]int
}

// Waiting is how many came back and were not looked at yet.
func (s Standing) Waiting() int {
	n := s.Returned
	for _, judged := range s.Judged {
		n -= judged
	}
	return n
}

// With is how many are with the buyer: on sale or return those that are still the maker's.
func (s Standing) With(t Terms) int {
	if t == Return {
		return s.Sent - s.Sold - s.Returned
	}
	return s.Sent - s.Returned
}

// Standings is where the bars of an order are, by what they are.
func Standings(moves []Move) map[Bars]Standing {
	out := map[Bars]Standing{}
	for _, m := range moves {
		s := out[m.Bars]
		switch m.What {
		case Sent:
			s.Sent += m.Count
		case Sold:
			s.Sold += m.Count
		case Returned:
			s.Returned += m.Count
		default:
			if s.Judged == nil {
				s.Judged = map[What]int{}
			}
			s.Judged[m.What] += m.Count
		}
		out[m.Bars] = s
	}
	return out
}

// May says why a move cannot be; nil when it can. What is sold or comes back was sent, and what is judged came back.
func May(t Terms, s Standing, what What, count int) error {
	have, where := 0, ""
	switch what {
	case Sent:
		return nil // what is packed says how many
	case Sold:
		if t != Return {
			return fmt.Errorf("these were sold when they were sent")
		}
		have, where = s.With(t), "are still with the buyer"
	case Returned:
		have, where = s.With(t), "are with the buyer"
	case JudgedSound, JudgedSpoiled, JudgedTester:
		have, where = s.Waiting(), "wait to be looked at"
	default:
		return fmt.Errorf("“%s” is nothing that becomes of an order", what)
	}
	if count < 1 || count > have {
		return fmt.Errorf("%d of these %s", have, where)
	}
	return nil
}

// Owed is how many bars of each line are still to be sent, in the order of the lines: none of an order that is closed.
func (o Order) Owed(moves []Move) []int {
	out := make([]int, len(o.Lines))
	if o.Closed {
		return out
	}
	for i, l := range o.Lines {
		out[i] = l.Bars
		for _, m := range moves {
			if m.Product == l.Product && m.What == Sent {
				out[i] -= m.Count
			}
		}
		out[i] = max(0, out[i])
	}
	return out
}

// Stage is how far an order is.
type Stage string

// The stages.
const (
	ToPack   Stage = "to pack"
	Partly   Stage = "partly sent"
	WithThem Stage = "on sale or return" // all is sent, and some is still the maker's
	ToJudge  Stage = "back, to be looked at"
	Done     Stage = "done"
)

// Stage says how far it is.
func (o Order) Stage(moves []Move) Stage {
	owed, sent, with, waiting := 0, 0, 0, 0
	for _, n := range o.Owed(moves) {
		owed += n
	}
	for _, s := range Standings(moves) {
		sent, waiting = sent+s.Sent, waiting+s.Waiting()
		if o.Terms == Return {
			with += s.With(o.Terms)
		}
	}
	switch {
	case waiting > 0:
		return ToJudge
	case owed > 0 && sent > 0:
		return Partly
	case owed > 0:
		return ToPack
	case with > 0:
		return WithThem
	}
	return Done
}

// Kind is what a paper is.
type Kind string

// The papers.
const (
	Note    Kind = "delivery note"
	Invoice Kind = "invoice"
	Credit  Kind = "credit note"
)

// Letter is what its number begins with.
func (k Kind) Letter() string {
	switch k {
	case Invoice:
		return "I"
	case Credit:
		return "C"
	}
	return "D"
}

// Row is a line of a paper.
type Row struct {
	Name   string
	Lots   []string // codes
	Bars   int
	Price  int64
	Amount int64
}

// Document is a paper as it was made. Whose it is stands as a key: the name is looked up when it is printed.
type Document struct {
	Kind     Kind
	On       string // day
	Address  string // of the shop
	Buyer    string // key
	Order    int64
	Terms    Terms
	Rows     []Row
	Total    int64
	Percent  float64 // of tax
	Tax      int64   // that is in it
	Currency string
	Text     string
}

// Add puts bars of a lot on it: bars of one product at one price are one row.
func (d *Document) Add(name, lot string, bars int, price int64) {
	i := slices.IndexFunc(d.Rows, func(r Row) bool { return r.Name == name && r.Price == price })
	if i < 0 {
		i = len(d.Rows)
		d.Rows = append(d.Rows, Row{Name: name, Price: price})
	}
	r := &d.Rows[i]
	if !slices.Contains(r.Lots, lot) {
		r.Lots = append(r.Lots, lot)
	}
	r.Bars += bars
	r.Amount += int64(bars) * price
	d.Total += int64(bars) * price
}
