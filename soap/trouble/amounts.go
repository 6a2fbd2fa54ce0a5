package trouble

import (
	"maps"
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
	Sound    bool    // a safety check that counts was good
	CookerML float64 // to the rim, 0 when there is none
	VolumeML float64 // of the batter with all that is in it
	SoapG    float64 // of the soap as it is now
	LostG    float64 // of water since the pour

	known *facts
}

func (b Batch) order() run.Order {
	return run.Order{Request: b.Request, Formula: b.Request.Formula, Sheet: b.Sheet}
}

// Moment is how far the pot has come.
func (b Batch) Moment() run.Moment { return b.State.Moment(b.At != InPot) }

// Missing is an item of the sheet that should be in the pot by now and is not, or
// not all of it.
type Missing struct {
	plan.Item
	Short float64 // g
	Thing run.Thing

	unstirred bool // it stands weighed on the bench
}

// facts are what every card asks of a batch.
type facts struct {
	missing, coming []Missing
	soap            run.Judgement // with what is to come and without what is missing
	undissolved     bool
	citric          float64 // g of citric acid that take up the lye which is left over on purpose, 0 for none
}

// look works the facts out, once for a set of cards.
func (b Batch) look() *facts {
	if b.known != nil {
		return b.known
	}
	f := &facts{}
	f.missing, f.coming = b.short()
	p := run.Pot{
		Grams:    map[plan.Key]float64{},
		Closed:   map[plan.Key]bool{},
		Parts:    b.State.Parts,
		Extras:   b.State.Extras,
		Combined: b.State.Combined,
	}
	maps.Copy(p.Grams, b.State.Grams)
	maps.Copy(p.Closed, b.State.Closed)
	for _, m := range f.missing {
		p.Closed[m.Key] = true
		if m.unstirred {
			p.Grams[m.Key] = 0
		}
	}
	f.soap = run.Judge(b.Request, b.Sheet, p)
	target := plan.Targets(b.Sheet)
	now := plan.Amounts(b.Request, func(key plan.Key) float64 {
		if p.Closed[key] {
			return p.Grams[key]
		}
		return max(p.Grams[key], target[key])
	})
	_, ok := b.Request.Formula.Dissolves(now)
	f.undissolved = !ok
	if b.Request.Formula.Superfat < 0 {
		_, f.citric = b.Request.Formula.Excess(now)
	}
	return f
}

// Missing are the items that were forgotten, in the order of the sheet: short of
// their weight, or weighed and never stirred in, when their time has passed or the
// maker has said that no more of them comes.
func (b Batch) Missing() []Missing { return b.look().missing }

// ToCome are the items that are still to be weighed or stirred in: nothing is
// wrong with them yet.
func (b Batch) ToCome() []Missing { return b.look().coming }

func (b Batch) short() (forgotten, coming []Missing) {
	o, moment := b.order(), b.Moment()
	things := o.Things()
	for _, s := range b.Sheet {
		for _, i := range s.Items {
			m := Missing{Item: i, Short: i.Target - b.State.Grams[i.Key], Thing: things[i.Key]}
			past := m.Thing.Past(moment)
			step, own := o.GoesIn(i.Key, m.Thing)
			switch short := m.Short > i.Tolerance+1e-9; {
			case short && (past || b.State.Closed[i.Key]):
				forgotten = append(forgotten, m)
			case short:
				coming = append(coming, m)
			case past && own && !b.State.Done[step]:
				m.Short, m.unstirred = b.State.Grams[i.Key], true
				forgotten = append(forgotten, m)
			}
		}
	}
	return forgotten, coming
}

// Heavy reports whether there is more lye in it than is safe, which only a safety
// check that counts can refute.
func (b Batch) Heavy() bool { return !b.Sound && b.look().soap.Heavy }

// Excess reports whether lye is left over in it on purpose and was not neutralised yet: it burns,
// and is no slip.
func (b Batch) Excess() bool { return !b.Sound && b.look().citric > 0 }

// Restore is the fat that brings a batch that is lye-heavy back to its own
// superfat: what is missing of it first, then the blend; empty for any other.
func (b Batch) Restore() []plan.Row {
	if !b.Heavy() {
		return nil
	}
	return b.look().soap.AddFats()
}

// Undissolved reports whether the liquids that carry the lye hold too little water
// for it, so that some of it lies in the batter as grains.
func (b Batch) Undissolved() bool { return b.look().undissolved }

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
