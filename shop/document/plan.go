package document

import (
	"math"

	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
)

// PlanBody is a plan as it is kept.
type PlanBody struct {
	Recipe   string // name
	Revision int
	Request  plan.Request
	Plan     plan.Plan
	Molds    []lot.Mold
	Sheet    []plan.Section // of one pot
	Policy   cure.Policy
	Notes    string // of the recipe
	Scale    float64
	Trial    bool

	Cuts   []CutPlan // parallel to Molds
	Loss   float64   // percent that bars are expected to lose
	LossOf int       // lots that this is known from
	Label  mold.Label
	Split  [][]plan.PotShare // pots to molds
	New    []string          // not tried with this recipe before
	Spare  string            // the mold that takes what is left over
	Liners []Liner

	StockOID    string // the lye container it draws from
	FatStockOID string // the blend it takes fats from
}

// CutPlan is what is cut from one mold of a plan.
type CutPlan struct {
	mold.Bars
	RawG   float64 // of a bar
	CuredG float64 // expected
	EndG   float64
	Stays  float64 // margin above the label in percent, where there is one
	Cutter string
}

// Liner is a sheet to cut for a mold.
type Liner struct {
	Mold          string
	Count         int
	Length, Width float64 // mm
}

// Bars is how many bars are expected of one pot, 0 when not all molds say.
func (b PlanBody) Bars() int { return b.BarsOf(0) }

// BarsOf is how many bars are expected of pot number i, from 0.
func (b PlanBody) BarsOf(i int) int {
	whole, part := 0, 0.0
	for _, m := range b.Molds {
		if m.Bars == 0 {
			return 0
		}
		whole += m.Bars * m.Count
	}
	if i >= len(b.Split) {
		return whole / max(1, b.Plan.Batches)
	}
	for _, s := range b.Split[i] {
		part += s.Count * float64(b.Molds[s.Mold].Bars)
	}
	return int(math.Round(part))
}

// MoldsOf are the molds that pot number i fills, from 0; one that is filled from
// two pots counts with both.
func (b PlanBody) MoldsOf(i int) []lot.Mold {
	if i >= len(b.Split) {
		return b.Molds
	}
	var out []lot.Mold
	for _, s := range b.Split[i] {
		m := b.Molds[s.Mold]
		m.Count = int(math.Ceil(s.Count - 1e-6))
		out = append(out, m)
	}
	return out
}
