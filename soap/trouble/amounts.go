package trouble

import (
	"math"

	"ashshelf/soap/plan"
	"ashshelf/soap/run"
)

// Batch is the soap that is in trouble.
type Batch struct {
	At       At
	Request  plan.Request // with the formula of the lot
	Sheet    []plan.Section
	State    run.State
	CookerML float64 // to the rim, 0 when there is none
	VolumeML float64 // of the batter with all that is in it
	SoapG    float64 // of the soap as it is now
	LostG    float64 // of water since the pour
}

// missing is an item of the sheet that is not, or not all, in the pot.
type missing struct {
	plan.Item
	Short float64 // g
	Fat   bool
	Water bool
}

// Missing are the items that are short, in the order of the sheet.
func (b Batch) missing() []missing {
	var out []missing
	for _, s := range b.Sheet {
		for _, i := range s.Items {
			if short := i.Target - b.State.Grams[i.Key]; short > i.Tolerance+1e-9 {
				kind, _, _ := cutKey(i.Key)
				out = append(out, missing{i, short, kind == "fat", kind == "liquid"})
			}
		}
	}
	return out
}

func cutKey(key string) (kind, rest string, ok bool) {
	for i := range key {
		if key[i] == ':' {
			return key[:i], key[i+1:], true
		}
	}
	return key, "", false
}

// without is the superfat in percent if what is missing stays out.
func (b Batch) without() float64 {
	return run.Judge(b.Request, b.Sheet, b.asIs()).Superfat
}

// asIs is the pot with nothing more to come.
func (b Batch) asIs() run.Pot {
	p := b.State.Pot
	p.Closed = map[string]bool{}
	for _, s := range b.Sheet {
		for _, i := range s.Items {
			p.Closed[i.Key] = true
		}
	}
	return p
}

// Restore is the fat that brings the batch back to its own superfat, split over
// the blend, in g; empty when it is not lye-heavy.
func (b Batch) Restore() []plan.Row { return run.Judge(b.Request, b.Sheet, b.asIs()).AddFats }

// Heavy reports whether there is more lye than the recipe allows.
func (b Batch) Heavy() bool { return len(b.Restore()) > 0 }

// Cook is how a batch is cooked.
type Cook struct {
	Loads   int // of the cooker
	ML      float64
	Minutes float64 // each
	Stir    float64 // minutes between stirs
}

// A cook takes half an hour to an hour until it is translucent and climbs while
// it does, so a cooker is filled to three quarters.
const (
	cookUsable  = 0.75
	cookMinutes = 45.0
	cookStir    = 15.0
)

// Cooking is how the batch goes through the cooker; ok is false without one.
func (b Batch) Cooking() (c Cook, ok bool) {
	if b.CookerML <= 0 {
		return c, false
	}
	room := b.CookerML * cookUsable
	return Cook{max(1, int(math.Ceil(b.VolumeML/room-1e-9))), room, cookMinutes, cookStir}, true
}

// rebatchOver is the liquid that a rebatch is given beyond what it lost, as a
// share of the soap, for the steam that leaves.
const rebatchOver = 0.05

// RebatchLiquid is how many grams of water grated soap is given so that it melts
// again: what it has lost since the pour, and a twentieth of its weight for the
// steam.
func (b Batch) RebatchLiquid() float64 { return b.LostG + rebatchOver*b.SoapG }
