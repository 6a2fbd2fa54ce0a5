package inventory

import (
	"cmp"
	"slices"
	"time"

	"ashshelf/soap/cost"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
)

// Status is whether a delivery may be used.
type Status string

// The states of a delivery. A recalled one holds the lots it went into; of a doubtful one they are
// listed.
const (
	Usable   Status = "usable"
	Blocked  Status = "blocked"
	Doubtful Status = "doubtful"
	Recalled Status = "recalled"
)

// Statuses returns the states.
func Statuses() []Status { return []Status{Usable, Blocked, Doubtful, Recalled} }

// Words says the state.
func (s Status) Words() string {
	return map[Status]string{Usable: "may be used", Blocked: "blocked", Doubtful: "doubtful: lots are listed, and none goes in",
		Recalled: "recalled: its lots are held"}[s]
}

// Short says the state in a word.
func (s Status) Short() string { return string(s) }

// What is why a delivery's balance moves.
type What string

// The reasons. Counted sets it to what the scale says; Found is what a pot took that the books did
// not have.
const (
	Received What = "received"
	Weighed  What = "weighed"
	Filled   What = "filled"  // into a stock of lye or a blend of fats
	Steeped  What = "steeped" // into a jar of infused oil
	Packed   What = "packed"  // onto bars of a lot
	Spilled  What = "spilled"
	Thrown   What = "thrown"
	House    What = "house"
	Damaged  What = "damaged"
	SentBack What = "returned"
	Counted  What = "counted"
	Found    What = "found"
)

// Leaves are the reasons for which somebody takes from a delivery otherwise than by making soap.
func Leaves() []What { return []What{Spilled, Thrown, House, Damaged, SentBack, Packed} }

// Words says the reason.
func (w What) Words() string {
	return map[What]string{Received: "came in", Weighed: "weighed", Filled: "into a container", Steeped: "into a jar",
		Packed: "used for packing", Spilled: "spilled", Thrown: "thrown away", House: "used in the house", Damaged: "came damaged",
		SentBack: "sent back", Counted: "counted", Found: "the books were short"}[w]
}

// Bucket is what becomes of the cost of what left: used for soap, wasted, or sent back.
type Bucket string

// The buckets.
const (
	Used     Bucket = "used"
	Wasted   Bucket = "wasted"
	Returned Bucket = "returned"
	Stocked  Bucket = "stocked"
)

// Bucket is where a move's cost goes.
func (w What) Bucket() Bucket {
	switch w {
	case Weighed, Filled, Steeped, Packed:
		return Used
	case SentBack:
		return Returned
	case Received, Found:
		return Stocked
	}
	return Wasted
}

// Move is one change of a delivery's balance.
type Move struct {
	Entry   int64
	What    What
	Change  int64 // base units, below zero what left
	Priced  int64 // of it that carries a cost; the rest was in no book
	Lot     string
	LotOID  string
	Stock   string // code of the container
	Note    string
	Who     string
	At      time.Time
	Settled string // of what the books were short of: why, once somebody said so
}

// Delivery is one delivery as it stands.
type Delivery struct {
	ID int64
	lot.Bought
	Booked     bool // it has a balance; one that was only named at the bench has none
	Unit       Unit
	Quantity   int64 // that came in
	Left       int64
	Priced     int64  // of what is left
	Goods      *int64 // minor units; nil when the price is not known
	Freight    int64
	Tax        int64
	TaxBack    bool // the tax comes back, and is no cost
	BestBefore string
	Opened     string
	Status     Status
	Why        string
	Place      string
	Opening    bool // was there when the books began
	Papers     []Paper
	Moves      []Move
	Came       time.Time
	Who        string
}

// Paper is a certificate or an invoice that belongs to a delivery.
type Paper struct {
	File string // name of its content
	Name string
	Kind string // "application/pdf", "image/jpeg"
	Size int64
}

// Cost is what the delivery cost; false when its price is not known.
func (d Delivery) Cost() (cost.Money, bool) {
	if d.Goods == nil || d.Quantity <= 0 {
		return cost.Money{}, false
	}
	sum := *d.Goods + d.Freight
	if !d.TaxBack {
		sum += d.Tax
	}
	return cost.Minor(sum), true
}

// Price is what an amount of it cost; unknown where its price is.
func (d Delivery) Price() cost.Price {
	if sum, ok := d.Cost(); ok {
		return cost.Price{Cost: sum, Amount: d.Quantity}
	}
	return cost.Price{}
}

// LineOf is what a part of it cost: amount of which so much carries a cost.
func (d Delivery) LineOf(amount, priced int64) cost.Line {
	out := cost.Line{Name: d.Name, MG: amount}
	price := d.Price()
	if !price.Known() {
		out.UnknownMG = amount
		return out
	}
	out.Cost, out.UnknownMG = price.For(priced), amount-priced
	return out
}

// Take is how much of what is taken carries a cost: what was paid for goes first.
func (d Delivery) Take(amount int64) (priced int64) { return min(amount, d.Priced) }

// GiveBack is how much of what comes back carries a cost: what was in no book comes back first. out is
// what had been taken, of which outPriced carried a cost.
func GiveBack(amount, out, outPriced int64) (priced int64) {
	free := out - outPriced
	return max(0, min(outPriced, amount-min(free, amount)))
}

// Open reports whether it may be taken from.
func (d Delivery) Open() bool { return d.Status == "" || d.Status == Usable }

// InOrder sorts deliveries as they are to be used: what is past its date last of those that may be used,
// before it what expires first, at a tie the opened one, then the one that came first. Those that may
// not be used come at the end.
func InOrder(list []Delivery, l Life, today string) []Delivery {
	out := slices.Clone(list)
	rank := func(d Delivery) int {
		switch {
		case !d.Open():
			return 3
		case d.Booked && d.Left <= 0:
			return 2
		}
		return 0
	}
	last := func(day string) string { return cmp.Or(day, "9999") }
	slices.SortStableFunc(out, func(a, b Delivery) int {
		opened := func(d Delivery) int {
			if d.Opened != "" {
				return 0
			}
			return 1
		}
		return cmp.Or(
			cmp.Compare(rank(a), rank(b)),
			cmp.Compare(last(a.Expires(l)), last(b.Expires(l))),
			cmp.Compare(opened(a), opened(b)),
			cmp.Compare(a.Received, b.Received),
			cmp.Compare(a.ID, b.ID),
		)
	})
	return out
}

// Part is what is taken from one delivery.
type Part struct {
	Delivery Delivery
	Amount   int64
}

// Propose says which deliveries an amount is taken from, in their order, and how much the books are
// short of.
func Propose(inOrder []Delivery, amount int64) (parts []Part, missing int64) {
	for _, d := range inOrder {
		if amount <= 0 {
			break
		}
		if !d.Open() || !d.Booked || d.Left <= 0 {
			continue
		}
		take := min(amount, d.Left)
		parts, amount = append(parts, Part{d, take}), amount-take
	}
	return parts, max(0, amount)
}

// Balance is what there is of one material.
type Balance struct {
	Have     int64 // in deliveries that may be used
	Kept     int64 // in those that may not
	Reserved int64
}

// Free is what nobody has promised; below zero it is short.
func (b Balance) Free() int64 { return b.Have - b.Reserved }

// Short is how much is missing.
func (b Balance) Short() int64 { return max(0, -b.Free()) }

// BalanceOf adds deliveries up.
func BalanceOf(list []Delivery, reserved int64) (b Balance) {
	for _, d := range list {
		switch {
		case !d.Booked:
		case d.Open():
			b.Have += d.Left
		default:
			b.Kept += d.Left
		}
	}
	b.Reserved = reserved
	return b
}

// Milligrams of grams.
func MG(grams float64) int64 {
	if grams < 0 {
		return -int64(-grams*1000 + 0.5)
	}
	return int64(grams*1000 + 0.5)
}

// Grams of milligrams.
func Grams(mg int64) float64 { return float64(mg) / 1000 }

// Booked is a material of a sheet that takes nothing out of a delivery: a container, scraps, water.
func Booked(k plan.Key) bool {
	switch k.Kind() {
	case plan.StockItem, plan.ScrapsItem:
		return false
	}
	return !Unlimited(k.Ingredient())
}
