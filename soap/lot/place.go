package lot

import (
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/rack"
)

// Place is where a lot was put.
type Place struct {
	Entry
	Rack  string // identity; empty when it was taken off
	Level int    // 0 is the lowest
}

// Stands reports whether the lot has bars that stand somewhere.
func (l *Lot) Stands() bool {
	stage := l.Stage()
	return (stage == Curing || stage == Ready) && l.InStock() > 0
}

// PlaceNow is where the lot stands; ok is false when it has no place, or no bars
// any more.
func (l *Lot) PlaceNow() (at rack.Spot, ok bool) {
	n := len(l.Places)
	if n == 0 || l.Places[n-1].Rack == "" || !l.Stands() {
		return rack.Spot{}, false
	}
	return rack.Spot{Rack: l.Places[n-1].Rack, Level: l.Places[n-1].Level}, true
}

// OnRack is the lot as it stands on a rack: its bars, how thick they are, how many
// days they still cure, and what matters to its neighbours.
func (l *Lot) OnRack(now time.Time) rack.Lot {
	f := l.Frozen.Formula
	out := rack.Lot{ID: l.OID, Code: l.Code, Bars: l.InStock(), Scented: f.Scent != nil}
	for _, m := range l.Frozen.Molds {
		if t := m.Mold.Cuts(m.Cut).Thickness; t > 0 {
			out.ThickMM = t
			break
		}
	}
	if l.Pour != nil && l.Release == nil {
		out.Days = l.Policy().DaysLeft(l.Pour.Occurred.In(now.Location()), now)
	}
	add := func(g rack.Group, is bool) {
		if is {
			out.Groups = append(out.Groups, g)
		}
	}
	add(rack.Young, l.Release == nil && l.Cut != nil && cure.Days(l.Cut.Occurred.In(now.Location()), now) < rack.YoungDays)
	add(rack.Salty, cure.SaltBar(f))
	add(rack.Olive, cure.MostlyOlive(f))
	add(rack.Milky, cure.MilkBar(f))
	add(rack.OnHold, len(l.Held()) > 0)
	add(rack.Released, l.Release != nil)
	return out
}
