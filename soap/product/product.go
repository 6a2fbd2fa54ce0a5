// Package product is what a bar is sold as: its name, what may be said of it, what it costs where, and which
// bars of which lots may carry that name.
//
// A product is not a recipe. One lot can become two products, such as whole and half bars, or firsts and a plain
// line; one product can come from many lots, and a line of seconds from many recipes. A bar that several products
// could use is shared by them until somebody labels, packs or reserves it: from then on it is that product's.
//
// What the words beside a bar promise decides whether it may be offered at all. Local rules come first.
package product

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/label"
	"ashshelf/soap/ledger"
	"ashshelf/soap/unit"
)

// Price is what a bar costs in a channel, in minor units.
type Price struct {
	Channel string
	Amount  int64
}

// Channels are the usual ones, the most usual first; a shop can name others.
func Channels() []string { return []string{"market", "shop", "web", "at the door"} }

// Looked is the note that somebody looked whether the name is another's mark.
type Looked struct {
	Where string // a register, the web
	On    string // day
	By    string
	Found string
}

// Product is what bars are sold as.
type Product struct {
	Name     string
	Recipes  []string // identities of the recipes whose bars it can be
	Grades   []ledger.Grade
	Size     string  // the size of the cut; empty for the usual bar
	Stamp    string  // that is pressed into it
	Net      float64 // g that the label says
	Prices   []Price
	From     string // first and last day of its season; empty for the whole year
	Until    string
	Limited  bool // an edition that is not made again
	Launch   string
	Care     string // such as "let it drain and dry between uses"
	Wording  string // on the label, the card and the page
	Approval string // what allows a claim that needs approval, with its number and day
	Looked   Looked
	Retired  bool
}

// mostText is how much is written in a field of a product.
const mostText = 2000

// UsualCare is the care note that goes with a bar of soap.
const UsualCare = "Let it drain and dry between uses."

// Check finds what cannot be. Paths are the names of the fields.
func (d Product) Check() (p caution.Problems) {
	if strings.TrimSpace(d.Name) == "" {
		p.Add("name", "say what it is called")
	}
	p.Name("name", d.Name)
	if len(d.Recipes) == 0 {
		p.Add("recipes", "choose at least one recipe whose bars it can be")
	}
	if len(d.Grades) == 0 {
		p.Add("grades", "choose which bars it is: firsts, seconds or both")
	}
	for _, g := range d.Grades {
		if g != ledger.First && g != ledger.Second {
			p.Add("grades", "only firsts and seconds are sold")
		}
	}
	p.Name("size", d.Size)
	caution.Range{Min: 1, Max: 5000, Unit: "g"}.Check(&p, "net", "the weight on the label", d.Net)
	seen := map[string]bool{}
	for i, one := range d.Prices {
		at := "prices[" + strconv.Itoa(i) + "]."
		if strings.TrimSpace(one.Channel) == "" {
			p.Add(at+"channel", "say where it is sold at this price")
		}
		if seen[label.Key(one.Channel)] {
			p.Add(at+"channel", "this channel has a price already")
		}
		seen[label.Key(one.Channel)] = true
		if one.Amount < 0 || one.Amount > 1_000_000_00 {
			p.Add(at+"amount", "that is no price of a bar")
		}
	}
	for field, day := range map[string]string{"from": d.From, "until": d.Until, "launch": d.Launch, "looked_on": d.Looked.On} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			p.Add(field, "“%s” is not a day; write it like 2026-03-14", day)
		}
	}
	if d.From != "" && d.Until != "" && d.Until < d.From {
		p.Add("until", "the season would end before it begins")
	}
	for field, text := range map[string]string{"wording": d.Wording, "care": d.Care, "approval": d.Approval, "looked_found": d.Looked.Found} {
		if len(text) > mostText {
			p.Add(field, "at most %d letters", mostText)
		}
	}
	return p
}

// Claims reads what the words on the product promise: its name is wording, too.
func (d Product) Claims() []label.Claim {
	return append(label.Read(d.Name), label.Read(d.Wording)...)
}

// Claimed are the phrases that need approval.
func (d Product) Claimed() (out []label.Claim) {
	for _, c := range d.Claims() {
		if c.Tier == label.Approval {
			out = append(out, c)
		}
	}
	return out
}

// NotOffered says why the product is not offered on a day; empty when it is.
func (d Product) NotOffered(day string) string {
	switch {
	case d.Retired:
		return "it is not sold any more"
	case len(d.Claimed()) > 0 && strings.TrimSpace(d.Approval) == "":
		return "“" + d.Claimed()[0].Words + "” needs testing and approval: take it back, or write its approval down"
	case d.Launch > day:
		return "it is launched on " + dayWords(d.Launch)
	case d.From != "" && day < d.From:
		return "its season begins on " + dayWords(d.From)
	case d.Until != "" && day > d.Until:
		return "its season ended on " + dayWords(d.Until)
	}
	return ""
}

// Takes reports whether bars of a kind of a lot of a recipe can be this product.
func (d Product) Takes(recipe string, k ledger.Kind) bool {
	return slices.Contains(d.Recipes, recipe) && slices.Contains(d.Grades, k.Grade) && label.Key(d.Size) == label.Key(k.Size)
}

// Price is what it costs in a channel; ok is false where no price is noted.
func (d Product) Price(channel string) (amount int64, ok bool) {
	for _, p := range d.Prices {
		if label.Key(p.Channel) == label.Key(channel) {
			return p.Amount, true
		}
	}
	return 0, false
}

// dayWords writes a day as it is read.
func dayWords(day string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return unit.FormatDay(at)
}
