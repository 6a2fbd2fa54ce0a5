// Package rack is where curing soap stands: racks with levels, and which lot goes
// where.
//
// A level is so wide and so many bars deep, and bars want air around them. Scented
// lots stand apart from unscented ones, which would take their smell on. What
// leaves first stands at hand, on the middle levels; what cures for months stands
// high and low. Lots stand side by side and never one behind another, so the
// oldest can always be reached.
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

// For is what a rack is meant for.
type For string

// The kinds of racks.
const (
	Any       For = ""
	Scented   For = "scented"
	Unscented For = "unscented"
)

// Words says what a rack is for.
func (f For) Words() string {
	switch f {
	case Scented:
		return "scented soap only"
	case Unscented:
		return "unscented soap only"
	}
	return "any soap"
}

// Fors returns all kinds.
func Fors() []For { return []For{Any, Scented, Unscented} }

// Rack is one rack of the room.
type Rack struct {
	Levels  int     `json:"levels"`
	WidthMM float64 `json:"width_mm"` // of a level
	Deep    int     `json:"deep"`     // bars one behind another
	For     For     `json:"for,omitempty"`
	Retired bool    `json:"retired,omitempty"`
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
	if !slices.Contains(Fors(), r.For) {
		p.Add("for", "choose what it is for")
	}
	return p
}

// air is how much room a bar is given beside its own thickness, in mm.
const air = 8.0

// UsualThick is how thick a bar is taken to be where its cut does not say, in mm.
const UsualThick = 25.0

// Lot is what stands, or wants to stand, on a rack.
type Lot struct {
	ID      string
	Bars    int
	ThickMM float64 // of a bar; 0 for the usual
	Scented bool
	Days    int // that it still has to cure
}

// Width is how much of a level a lot takes, in mm.
func (r Rack) Width(l Lot) float64 {
	thick := l.ThickMM
	if thick <= 0 {
		thick = UsualThick
	}
	return math.Ceil(float64(l.Bars)/float64(max(1, r.Deep))) * (thick + air)
}

// Holds is how many usual bars the whole rack holds.
func (r Rack) Holds() int {
	return r.Levels * r.Deep * int(r.WidthMM/(UsualThick+air))
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

// Refuses says why a lot cannot stand on a level; empty when it can.
func (r Room) Refuses(l Lot, at Spot) string {
	rack, ok := r.Racks[at.Rack]
	switch {
	case !ok || rack.Retired:
		return "there is no such rack"
	case at.Level < 0 || at.Level >= rack.Levels:
		return fmt.Sprintf("the rack has %d levels", rack.Levels)
	case rack.For == Scented && !l.Scented, rack.For == Unscented && l.Scented:
		return "the rack is for " + rack.For.Words()
	}
	if need, left := rack.Width(l), r.Left(at, l.ID); need > left+1e-9 {
		return fmt.Sprintf("it takes %s mm and %s mm are free", unit.Trim(need, 0), unit.Trim(math.Max(0, left), 0))
	}
	for _, other := range r.Standing[at] {
		if other.ID != l.ID && other.Scented != l.Scented {
			return "scented and unscented lots stand apart"
		}
	}
	return ""
}

// longCure is from how many days on a lot counts as one that stays.
const longCure = 45

// Best is the best place for a lot and why; ok is false when it fits nowhere. Of
// the levels that take it, what stays for months gets the one furthest from the
// middle, all else the one nearest to it; among equals the one that it fills best.
func (r Room) Best(l Lot) (at Spot, why string, ok bool) {
	type choice struct {
		at    Spot
		reach float64 // from the middle of the rack, 0 to 1
		left  float64
	}
	var list []choice
	for id, rack := range r.Racks {
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
