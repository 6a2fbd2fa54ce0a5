// Package rack is where curing soap stands: racks with levels, and which lot goes
// where.
//
// A level is so wide and so many bars deep, and bars want air around them. What must
// not stand beside what is up to the owner; as long as she says nothing, scented
// lots stand apart from unscented ones, which would take their smell on. What
// leaves first stands at hand, on the middle levels; what cures for months stands
// high and low. Lots stand side by side and never one behind another, so the
// oldest can always be reached. A closed box keeps the scent of what is released;
// what still dries does not go into one.
package rack

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
)

// LevelUse is what a rack is meant for.
type LevelUse string

// The kinds of racks.
const (
	Any       LevelUse = ""
	Scented   LevelUse = "scented"
	Unscented LevelUse = "unscented"
	Closed    LevelUse = "closed" // a box or drawer with a lid: keeps the scent in, and the water too
)

// Words says what a rack is for.
func (f LevelUse) Words() string {
	switch f {
	case Scented:
		return "scented soap only"
	case Unscented:
		return "unscented soap only"
	case Closed:
		return "a closed box, for released soap"
	}
	return "any soap"
}

// LevelUses returns all kinds.
func LevelUses() []LevelUse { return []LevelUse{Any, Scented, Unscented, Closed} }

// Rack is one rack of the room.
type Rack struct {
	Levels  int
	WidthMM float64 // of a level
	Deep    int     // bars one behind another
	For     LevelUse
	Retired bool
}

// Check finds what cannot be worked with.
func (r Rack) Check() caution.Problems {
	var p caution.Problems
	if r.Levels < 1 || r.Levels > 20 {
		p.Add("levels", "a rack has 1 to 20 levels")
	}
	if !(r.WidthMM >= 100 && r.WidthMM <= 10000) {
		p.Add("width_mm", "a level is between 10 cm and 10 m wide")
	}
	if r.Deep < 1 || r.Deep > 10 {
		p.Add("deep", "say how many bars stand one behind another, 1 to 10")
	}
	if !slices.Contains(LevelUses(), r.For) {
		p.Add("for", "choose what it is for")
	}
	return p
}

// drying is how much room a bar is given beside its own thickness, in mm, where it stands open to dry.
const drying = 8.0

// air is how much room a bar has beside its own thickness, in mm: none in a closed box.
func (r Rack) air() float64 {
	if r.For == Closed {
		return 0
	}
	return drying
}

// UsualThick is how thick a bar is taken to be where its cut does not say, in mm.
const UsualThick = 25.0

// Lot is what stands, or wants to stand, on a rack.
type Lot struct {
	ID, Code string
	Bars     int
	ThickMM  float64 // of a bar; 0 for the usual
	Scented  bool
	Days     int     // that it still has to cure
	Groups   []Group // besides whether it is scented
}

// Group is what lots have in common that matters to their neighbours.
type Group string

// The groups. A lot can be of many.
const (
	IsScented   Group = "scented"
	IsUnscented Group = "unscented"
	Young       Group = "young"
	Salty       Group = "salt"
	Olive       Group = "olive"
	Milky       Group = "milk"
	OnHold      Group = "hold"
	Released    Group = "released"
)

// Groups returns all groups.
func Groups() []Group {
	return []Group{IsScented, IsUnscented, Young, Salty, Olive, Milky, OnHold, Released}
}

// YoungDays is how long after its cut a lot counts as young: it gives off most of
// its water then.
const YoungDays = 14

// Words says what the lots of a group are.
func (g Group) Words() string {
	switch g {
	case Young:
		return "lots of the first two weeks"
	case Salty:
		return "salt bars"
	case Olive:
		return "mostly-olive lots"
	case Milky:
		return "milk bars"
	case OnHold:
		return "lots on hold"
	case Released:
		return "released lots"
	}
	return string(g) + " lots"
}

func (l Lot) in(g Group) bool {
	switch g {
	case IsScented:
		return l.Scented
	case IsUnscented:
		return !l.Scented
	}
	return slices.Contains(l.Groups, g)
}

// RuleScope is how far two lots are apart that stand apart.
type RuleScope string

// The distances.
const (
	OnLevel RuleScope = "level"
	OnRack  RuleScope = "rack"
)

// Words says what the lots do not share.
func (w RuleScope) Words() string {
	if w == OnRack {
		return "on one rack"
	}
	return "on one level"
}

// RuleScopes returns all distances.
func RuleScopes() []RuleScope { return []RuleScope{OnLevel, OnRack} }

// Apart is a rule of the room: lots of one group do not stand with lots of another.
type Apart struct {
	A      Group
	B      Group
	Within RuleScope
}

// Words says the rule.
func (a Apart) Words() string {
	return fmt.Sprintf("%s and %s do not stand %s", a.A.Words(), a.B.Words(), a.Within.Words())
}

// Usual are the rules of a room whose owner has not said any.
func Usual() []Apart { return []Apart{{IsScented, IsUnscented, OnLevel}} }

// CheckRules finds rules that cannot be worked with, at "apart[0].a" and so on.
func CheckRules(rules []Apart) caution.Problems {
	var p caution.Problems
	for i, r := range rules {
		at := fmt.Sprintf("apart[%d].", i)
		if !slices.Contains(Groups(), r.A) {
			p.Add(at+"a", "choose which lots")
		}
		if !slices.Contains(Groups(), r.B) {
			p.Add(at+"b", "choose which lots they stand apart from")
		} else if r.A == r.B {
			p.Add(at+"b", "choose others than the first")
		}
		if !slices.Contains(RuleScopes(), r.Within) {
			p.Add(at+"within", "choose how far apart")
		}
	}
	return p
}

// parts reports whether the rule keeps two lots apart.
func (a Apart) parts(one, other Lot) bool {
	return one.in(a.A) && other.in(a.B) || one.in(a.B) && other.in(a.A)
}

// Width is how much of a level a lot takes, in mm.
func (r Rack) Width(l Lot) float64 {
	thick := l.ThickMM
	if thick <= 0 {
		thick = UsualThick
	}
	return math.Ceil(float64(l.Bars)/float64(max(1, r.Deep))) * (thick + r.air())
}

// Holds is how many usual bars the whole rack holds.
func (r Rack) Holds() int {
	return r.Levels * r.Deep * int(r.WidthMM/(UsualThick+r.air()))
}

// Spot is a level of a rack; level 0 is the lowest.
type Spot struct {
	Rack  string
	Level int
}

// Room is all racks with what stands on them.
type Room struct {
	Racks    map[string]Rack // by identity
	Standing map[Spot][]Lot
	Apart    []Apart
}

// Left is how much of a level is free for others than the lot, in mm.
func (r Room) Left(at Spot, but string) float64 {
	left := r.Racks[at.Rack].WidthMM
	for _, l := range r.Standing[at] {
		if l.ID != but {
			left -= r.Racks[at.Rack].Width(l)
		}
	}
	return left
}

// Fits says why a lot has no room or no business on a level, whoever stands beside
// it; empty when it has.
func (r Room) Fits(l Lot, at Spot) string {
	rack, ok := r.Racks[at.Rack]
	switch {
	case !ok || rack.Retired:
		return "there is no such rack"
	case at.Level < 0 || at.Level >= rack.Levels:
		return fmt.Sprintf("the rack has %d levels", rack.Levels)
	case rack.For == Scented && !l.Scented, rack.For == Unscented && l.Scented:
		return "the rack is for " + rack.For.Words()
	case rack.For == Closed && !l.in(Released):
		return "it is a closed box, and soap that is not released yet needs air"
	}
	if need, left := rack.Width(l), r.Left(at, l.ID); need > left+1e-9 {
		return fmt.Sprintf("it takes %s mm and %s mm are free", unit.Trim(need, 0), unit.Trim(math.Max(0, left), 0))
	}
	return ""
}

// Refuses says why a lot cannot stand on a level; empty when it can.
func (r Room) Refuses(l Lot, at Spot) string {
	if why := r.Fits(l, at); why != "" {
		return why
	}
	for _, rule := range r.Apart {
		if other, ok := r.against(rule, l, at); ok {
			return fmt.Sprintf("%s, and lot %s stands there", rule.Words(), other.Code)
		}
	}
	return ""
}

// against finds a lot that a rule keeps apart from one that stands, or would stand,
// at a place.
func (r Room) against(rule Apart, l Lot, at Spot) (other Lot, ok bool) {
	from, to := at.Level, at.Level
	if rule.Within == OnRack {
		from, to = 0, r.Racks[at.Rack].Levels-1
	}
	for level := from; level <= to; level++ {
		for _, other := range r.Standing[Spot{at.Rack, level}] {
			if other.ID != l.ID && rule.parts(l, other) {
				return other, true
			}
		}
	}
	return Lot{}, false
}

// Broken is a rule that two lots break that stand already: one was put on hold
// since, or the rule is new.
type Broken struct {
	Rule       Apart
	One, Other Lot
	At         Spot // of the first
}

// Broken returns what stands against the rules, each lot once for a rule.
func (r Room) Broken() []Broken {
	var out []Broken
	for at, lots := range r.Standing {
		for _, l := range lots {
			for _, rule := range r.Apart {
				if !l.in(rule.A) {
					continue // told of the other side
				}
				if other, ok := r.against(rule, l, at); ok {
					out = append(out, Broken{rule, l, other, at})
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b Broken) int {
		return cmp.Or(strings.Compare(a.One.Code, b.One.Code), strings.Compare(a.Rule.Words(), b.Rule.Words()))
	})
	return out
}

// longCure is from how many days on a lot counts as one that stays.
const longCure = 45

// Best is the best place for a lot and why; ok is false when it fits nowhere. Of
// the levels that take it, what stays for months gets the one furthest from the
// middle, all else the one nearest to it; among equals the one that it fills best.
// What goes into a closed box is put there by hand.
func (r Room) Best(l Lot) (at Spot, why string, ok bool) {
	type choice struct {
		at    Spot
		reach float64 // from the middle of the rack, 0 to 1
		left  float64
	}
	var list []choice
	for id, rack := range r.Racks {
		if rack.For == Closed {
			continue
		}
		for level := range rack.Levels {
			spot := Spot{id, level}
			if r.Refuses(l, spot) != "" {
				continue
			}
			middle := float64(rack.Levels-1) / 2
			reach := 0.0
			if middle > 0 {
				reach = math.Abs(float64(level)-middle) / middle
			}
			list = append(list, choice{spot, reach, r.Left(spot, l.ID) - rack.Width(l)})
		}
	}
	if len(list) == 0 {
		return Spot{}, "", false
	}
	stays := l.Days >= longCure
	slices.SortFunc(list, func(a, b choice) int {
		byReach := cmp.Compare(a.reach, b.reach)
		if stays {
			byReach = -byReach
		}
		return cmp.Or(byReach, cmp.Compare(a.left, b.left), strings.Compare(a.at.Rack, b.at.Rack), cmp.Compare(a.at.Level, b.at.Level))
	})
	why = "at hand, since it leaves soon"
	if stays {
		why = "out of the way, since it stays for months"
	}
	return list[0].at, why, true
}
