package planning

import (
	"time"

	"ashshelf/shop/catalog"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// TargetKind is what an order is counted by.
type TargetKind string

// The ways to say an order.
const (
	ByMolds  TargetKind = "molds"
	ByBars   TargetKind = "bars"   // of a weight on the label
	ByUseUp  TargetKind = "use-up" // an ingredient, to its last gram
	ByTrial  TargetKind = "trial"  // a small one
	ByFats   TargetKind = "fats"
	ByBatter TargetKind = "batter"
)

// TargetKinds returns the ways, the usual one first.
func TargetKinds() []TargetKind {
	return []TargetKind{ByMolds, ByBars, ByUseUp, ByTrial, ByFats, ByBatter}
}

// Words says the way.
func (b TargetKind) Words() string {
	switch b {
	case ByBars:
		return "a number of bars"
	case ByUseUp:
		return "an ingredient to use up"
	case ByTrial:
		return "a trial"
	case ByFats:
		return "a weight of fats"
	case ByBatter:
		return "a weight of batter"
	}
	return "molds to fill"
}

// Order is what somebody wants made.
type Order struct {
	Recipe string     // identity
	By     TargetKind // [ByMolds] when not said
	Molds  []OrderMold
	FatsG  float64 // of a trial, or as the target
	Batter float64 // g
	Bars   int
	UseUp  plan.Ingredient

	Label       mold.Label // Grams 0 when no label is to be met; a Loss of 0 is taken from experience
	Rule        plan.FillRule
	PotLoss     float64 // percent
	PotCapacity float64 // g, 0 for any
	Pot         string  // identity of the pot, or empty
	Jug, Cooker string
	RiskyLoad   float64 // percent
	Scales      plan.Scales
	LiquidC     float64 // °C
	Scraps      *plan.Scraps
	Stock       string        // identity of the lye stock it draws from, or empty for dry lye
	StockShare  float64       // percent of the lye that is drawn; 0 for all of it
	FatStock    string        // identity of the blend it takes fats from
	Water       *recipe.Water // this once, in place of the recipe's own
	Day         string        // local date it is meant for, or empty
}

// OrderMold is a mold, how many of it, and what is different this once.
type OrderMold struct {
	OID   string
	Count int
	Fill  float64 // mm; 0 for the mold's own line
	Cut   CutWish
}

// CutWish is how a mold is cut this once: as it usually is, as the label
// wants it, at a thickness, or with a cutter.
type CutWish struct {
	Label     bool
	Thickness float64 // mm
	Cutter    string  // identity
}

// DefaultOrder is an order with the usual settings and nothing in it.
func DefaultOrder(s catalog.Settings) Order {
	return Order{
		By: ByMolds, Rule: plan.FillRule(s.FillRule), PotLoss: s.PotLoss, RiskyLoad: s.RiskyLoad, LiquidC: s.RoomC, FatsG: plan.TrialFats,
		Scales: plan.Scales{
			Resolution: s.ScaleStep,
			FineStep:   s.FineStep,
			FineMax:    s.FineMax,
		}, Label: mold.Label{Margin: mold.UsualMargin},
	}
}

// later reports whether the order is meant for a day after a moment of the shop's clock.
func (o Order) later(now time.Time) bool {
	return o.Day != "" && o.Day > now.Format(time.DateOnly)
}
