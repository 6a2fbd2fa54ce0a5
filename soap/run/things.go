package run

import (
	"slices"

	"ashshelf/soap/additive"
	"ashshelf/soap/plan"
)

// Thing is what an item of a weigh sheet is to the pot, and with that until when
// it can go in.
type Thing string

// The things.
const (
	AFat      Thing = "fat"
	AnAlkali  Thing = "alkali"       // dry
	AStock    Thing = "stock"        // drawn lye, which is a solution already
	ALiquid   Thing = "liquid"       // that takes the lye
	OffTheLye Thing = "liquid apart" // milk and the like, into fats or batter
	BeforeLye Thing = "before lye"   // dissolved in the liquid: sugar, salt, acids
	IntoLye   Thing = "into lye"     // silk, lactate
	IntoFats  Thing = "into fats"    // clay, oatmeal
	IntoPot   Thing = "into batter"  // at emulsion or trace, or a colour of a portion
	AScent    Thing = "scent"
	OnTop     Thing = "on top"
)

// Things returns all things in the order of the work.
func Things() []Thing {
	return []Thing{ALiquid, BeforeLye, AnAlkali, AStock, IntoLye, AFat, IntoFats, OffTheLye, IntoPot, AScent, OnTop}
}

// Things says what each item of the sheet is, by its key.
func (o Order) Things() map[plan.Key]Thing {
	s, out := o.sorted(), map[plan.Key]Thing{}
	for thing, items := range map[Thing][]plan.Item{AnAlkali: s.lye, BeforeLye: s.beforeLye, IntoLye: s.inLye,
		AFat: append(s.solid, s.fluid...), IntoFats: s.inFats, OffTheLye: s.later, IntoPot: s.hand} {
		for _, i := range items {
			out[i.Key] = thing
		}
	}
	for key, thing := range out {
		switch {
		case key == plan.StockKey:
			out[key] = AStock
		case thing == BeforeLye && key.Kind() != plan.AdditiveItem:
			out[key] = ALiquid
		case thing == IntoPot && key.Kind() == plan.FatItem:
			out[key] = AFat
		case thing == IntoPot && o.scent(key):
			out[key] = AScent
		case thing == IntoPot && o.into(key) == additive.TheTop:
			out[key] = OnTop
		}
	}
	return out
}

// Moment is how far a pot has come.
type Moment string

// The moments in their order.
const (
	NotMixed Moment = "lye not mixed"
	Mixed    Moment = "lye mixed"
	Combined Moment = "combined"
	Molded   Moment = "in the mold"
)

// Moments returns all moments in their order.
func Moments() []Moment { return []Moment{NotMixed, Mixed, Combined, Molded} }

// Moment is how far the pot has come; poured says that it is in the molds.
func (s State) Moment(poured bool) Moment {
	switch {
	case poured:
		return Molded
	case s.Combined || s.Done[MeetKey]:
		return Combined
	case s.Done[LyeInKey]:
		return Mixed
	}
	return NotMixed
}

// Past reports whether the time at which a thing goes in has passed by a moment.
func (t Thing) Past(m Moment) bool {
	switch t {
	case ALiquid, BeforeLye, AnAlkali, AStock:
		return m != NotMixed
	case IntoLye, AFat, IntoFats, OffTheLye:
		return m == Combined || m == Molded
	case OnTop:
		return false
	}
	return m == Molded
}

// GoesIn reports whether an item that was weighed has a step of its own at which it
// goes in, and which that is.
func (o Order) GoesIn(key plan.Key, thing Thing) (step string, ok bool) {
	switch thing {
	case IntoLye, IntoFats, AScent:
		ok = true
	case OnTop:
		ok = !o.sprinkles()
	case IntoPot:
		ok = slices.Contains([]additive.Into{additive.TheBatter, additive.TheTrace}, o.into(key))
	}
	return inKey(key), ok
}
