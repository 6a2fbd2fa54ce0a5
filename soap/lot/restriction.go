package lot

import "fmt"

// Hold stops a lot from being sold, or lifts an earlier hold.
type Hold struct {
	Entry
	Held   bool
	Why    string
	Signed Signature
}

// Held returns the reasons that hold the lot now: its own, which lifting takes
// away, and what it inherits, which only goes when it goes from where it comes.
func (l *Lot) Held() []string {
	out := append(l.OwnHolds(), l.inherited()...)
	out = append(out, l.inDoubt()...)
	if why, ok := l.MarkedNow()[Recalled]; ok {
		out = append(out, "called back: "+why)
	}
	return out
}

// OwnHolds are the holds of the lot itself. Lifting takes all of them.
func (l *Lot) OwnHolds() []string {
	var out []string
	for _, h := range l.Holds {
		if h.Held {
			out = append(out, h.Why)
		} else {
			out = nil
		}
	}
	return out
}

// Parent is something of another lot that went into this one.
type Parent struct {
	Entry
	OID, Code string
	What      string // "batter", "trimmings" or "rescued"
	Grams     float64
	Child     bool // the link read the other way: OID and Code are of the lot that it went into
}

// Carried returns the kinds of what is carried from lot to lot.
func Carried() []string { return []string{"batter", "trimmings", "rescued"} }

// Restriction is what keeps the bars of a lot back because of a lot that it was
// made from.
type Restriction struct {
	Code string // of that lot
	Kind string // [HoldKind], or a mark
	Why  string
}

// HoldKind is a restriction by a hold.
const HoldKind = "hold"

// Mark says that a lot is not for sale, or called back.
type Mark struct {
	Entry
	Mark   string // "not-for-sale" or "recalled"
	On     bool
	Why    string
	Signed Signature
}

// The marks.
const (
	NotForSale = "not-for-sale"
	Recalled   = "recalled"
)

// MarkWords says a mark.
func MarkWords(mark string) string {
	if mark == Recalled {
		return "called back"
	}
	return "not for sale"
}

// ReferenceBars is a reference bar that was put aside.
type ReferenceBars struct {
	Entry
	Bars  int
	Place string
}

// MarkedNow are the marks that hold now, with their reasons.
func (l *Lot) MarkedNow() map[string]string {
	out := map[string]string{}
	for _, m := range l.Marks {
		delete(out, m.Mark)
		if m.On {
			out[m.Mark] = m.Why
		}
	}
	return out
}

// inherited are the restrictions that the lots it was made from bring along.
func (l *Lot) inherited() []string {
	var out []string
	for _, r := range l.Inherited {
		switch r.Kind {
		case HoldKind:
			out = append(out, fmt.Sprintf("made with lot %s, which is on hold: %s", r.Code, r.Why))
		case Recalled:
			out = append(out, fmt.Sprintf("made with lot %s, which is called back: %s", r.Code, r.Why))
		}
	}
	return out
}

// KeptFromSale says why the lot is not for sale, by its own mark or that of a lot
// that it was made from; empty when it may be sold once it is released.
func (l *Lot) KeptFromSale() string {
	if why, ok := l.MarkedNow()[NotForSale]; ok {
		return why
	}
	for _, r := range l.Inherited {
		if r.Kind == NotForSale {
			return "made with lot " + r.Code + ": " + r.Why
		}
	}
	return ""
}
