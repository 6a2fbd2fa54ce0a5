package inventory

import (
	"time"

	"ashshelf/soap/fat"
	"ashshelf/soap/material"
)

// Life is how long a material keeps, in months; [Forever] where it does not end, 0 where nobody
// can say.
type Life struct{ Closed, Opened int }

// Usual lives, where neither the label nor the owner says otherwise: the fewer of its acids the air
// can spoil, the longer an oil keeps. The handbook gives linoleic-rich oils 6 to 12 months, olive 18
// to 24, coconut, tallow and butters two years, citrus oils one year and most scents two; opened
// they keep about two thirds as long. They are the cautious ends, and each material may have its own.
var (
	soonRancid  = Life{9, 6}
	sooner      = Life{12, 9}
	oilLife     = Life{18, 12}
	hardFatLife = Life{24, 18}
	citrusLife  = Life{12, 12}
	scentLife   = Life{24, 24}
	mineralLife = Life{Forever, Forever}
)

// Percent of linoleic and linolenic acid from which an oil keeps like the frail and the middling ones,
// and of saturated acids from which it keeps like tallow.
const frail, middling, saturated = 40.0, 20.0, 50.0

// LifeOf is how long a material keeps: as the shop says, else as its kind does.
func LifeOf(m Material) Life {
	l := usualLife(m)
	if m.Closed != 0 {
		l.Closed = m.Closed
	}
	if m.Opened != 0 {
		l.Opened = m.Opened
	}
	return l
}

func usualLife(m Material) Life {
	switch m.Kind {
	case Fat:
		key, _ := m.Key.Fat()
		f, err := fat.Find(key)
		if err != nil {
			return Life{}
		}
		a := f.Acids
		switch poly := a.Linoleic + a.Linolenic; {
		case poly >= frail:
			return soonRancid
		case poly >= middling:
			return sooner
		case a.CaprylicCapric+a.Lauric+a.Myristic+a.Palmitic+a.Stearic >= saturated:
			return hardFatLife
		}
		return oilLife
	case Scent:
		if material.Has(m.Name, "orange", "lemon", "grapefruit", "lime", "bergamot", "mandarin", "citrus", "yuzu", "clementine") {
			return citrusLife
		}
		return scentLife
	case Alkali, Packaging, Tool, Colour:
		return mineralLife
	}
	return Life{}
}

// Perishes orders materials by how soon they spoil: the fewest months first, those without an end last.
func (l Life) Perishes() int {
	if l.Closed <= 0 {
		return 1 << 20
	}
	return l.Closed
}

// Expires is the local day from which a delivery is past its date: its best-before, or when it was
// opened and how long it then keeps, whichever is earlier. Where no paper says a best-before, it is
// reckoned from the day it came. It is empty where nothing ends it.
func (d Delivery) Expires(l Life) string {
	end := d.BestBefore
	earlier := func(from string, months int) {
		day, err := time.Parse(time.DateOnly, from)
		if err != nil || months <= 0 {
			return
		}
		if to := day.AddDate(0, months, 0).Format(time.DateOnly); end == "" || to < end {
			end = to
		}
	}
	if end == "" {
		earlier(d.Received, l.Closed)
	}
	earlier(d.Opened, l.Opened)
	return end
}

// Freshness is where a delivery stands before its date.
type Freshness string

// The states. Soon is within [NearDays].
const (
	Fresh Freshness = "fresh"
	Soon  Freshness = "soon"
	Past  Freshness = "past"
)

// NearDays is how many days before its date a delivery is to be used up.
const NearDays = 60

// FreshOn says how a delivery stands on a local day.
func (d Delivery) FreshOn(l Life, today string) Freshness {
	end := d.Expires(l)
	if end == "" {
		return Fresh
	}
	if end <= today {
		return Past
	}
	if DaysBetween(today, end) <= NearDays {
		return Soon
	}
	return Fresh
}

// DaysBetween counts days from one local day to another.
func DaysBetween(from, to string) int {
	a, err1 := time.Parse(time.DateOnly, from)
	b, err2 := time.Parse(time.DateOnly, to)
	if err1 != nil || err2 != nil {
		return 0
	}
	return int(b.Sub(a).Hours() / 24)
}

// AddDays is the local day so many days after one.
func AddDays(day string, n int) string {
	d, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return ""
	}
	return d.AddDate(0, 0, n).Format(time.DateOnly)
}
