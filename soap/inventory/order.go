package inventory

import (
	"fmt"

	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/plan"
)

// Order is what was ordered from a supplier.
type Order struct {
	Lines []OrderLine
	Due   string // local day by which it should come
	Note  string
}

// OrderLine is packs of one material.
type OrderLine struct {
	Key     plan.Key
	Name    string
	Unit    Unit
	Article string
	Pack    int64
	Packs   int
	Price   int64 // of a pack in minor units, below zero when not known
}

// Amount is what is to come of the line.
func (l OrderLine) Amount() int64 { return l.Pack * int64(l.Packs) }

// Cost is what the line costs, by the offer; false when that has no price.
func (l OrderLine) Cost() (int64, bool) { return l.Price * int64(l.Packs), l.Price >= 0 }

// Check finds what cannot be ordered.
func (o Order) Check() caution.Problems {
	var p caution.Problems
	if len(o.Lines) == 0 {
		p.Add("supplier", "choose what to order: type packs beside at least one line")
	}
	for i, l := range o.Lines {
		at := fmt.Sprintf("lines[%d].", i)
		if l.Packs < 1 || l.Packs > 10_000 {
			p.Add(at+"packs", "order 1 to 10 000 packs")
		}
		if l.Pack <= 0 {
			p.Add(at+"pack", "say how much is in a pack")
		}
	}
	return p
}

// Receipt is one delivery as it comes in.
type Receipt struct {
	Key        plan.Key
	Name       string
	Supplier   string
	Code       string
	Received   string // local day
	BestBefore string
	Opened     string
	Purity     float64
	SAP        float64
	Unit       Unit
	Amount     int64 // that came, what is damaged included
	Damaged    int64 // of it
	Goods      *int64
	Freight    int64
	Tax        int64
	Place      string
	Opening    bool // was there when the books began
	Line       int  // of its order, from 1; 0 for none
}

// FreightBy is what freight is shared by.
type FreightBy string

// The ways.
const (
	ByWeight FreightBy = "weight"
	ByPrice  FreightBy = "price"
)

// Share divides the freight and the tax of an invoice over what came on it: freight by weight, or by
// price where the shop shares it so, or where something came that is not weighed; tax by price.
func Share(list []Receipt, freight, tax int64, by FreightBy) {
	weights, prices := make([]int64, len(list)), make([]int64, len(list))
	for i, r := range list {
		if weights[i] = r.Amount; r.Unit == Pieces {
			by = ByPrice
		}
		if r.Goods != nil {
			prices[i] = *r.Goods
		}
	}
	if by == ByPrice {
		weights = prices
	}
	for i, part := range cost.Split(freight, weights) {
		list[i].Freight = part
	}
	for i, part := range cost.Split(tax, prices) {
		list[i].Tax = part
	}
}
