package lot

import (
	"cmp"
	"fmt"
	"math"
	"strings"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/rack"
	"ashshelf/soap/recipe"
	"ashshelf/soap/run"
	"ashshelf/soap/trouble"
)

// Incident is trouble with a lot, with all that was said of it since.
type Incident struct {
	Entry
	Kind    trouble.Kind
	Called  string // the name of the kind when it was reported; empty before that was kept
	Text    string
	Way     string // key of the way that was chosen, empty before one is
	Outcome string // how it came out
	Blamed  []Blame
	Words   []IncidentUpdate
}

// Name says the kind, as it was called then.
func (i Incident) Name() string { return cmp.Or(i.Called, i.Kind.Name()) }

// IncidentUpdate is something that was said of an incident later.
type IncidentUpdate struct {
	Entry
	Incident     int64
	Way, Outcome string
	Name         string // of the way when it was chosen; empty before that was kept
}

// Blame says that something may have been the cause, or not after all.
type Blame struct {
	Entry
	Incident int64
	Subject  string // such as "additive:Fig leaf", "bought:…", "recipe:…"
	Name     string
	Blamed   bool
}

// ProcessChange is what became of a lot by a rescue.
type ProcessChange struct {
	Entry
	Cooked, Plain bool
	Why           string
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
	Mark string // "not-for-sale" or "recalled"
	On   bool
	Why  string
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

// Next is what to change next time.
type Next struct {
	Entry
	Text string
}

// Care is something done for a lot that is no record of its own.
type Care struct {
	Entry
	What string // "texture", "gel", "oven", "turn", "stamp" or [Diluted]
	Note string
}

// Diluted is the care that a paste of potassium hydroxide, or a sample of it, was
// diluted.
const Diluted = "dilute"

// CareWords says what was done.
func CareWords(what string) string {
	return map[string]string{"texture": "Top textured", "gel": "Gel looked for", "oven": "Oven off", "turn": "Bars turned",
		"stamp": "Stamped", Diluted: "Paste diluted"}[what]
}

// LastCare is when something was last done for the lot; ok is false when it never
// was.
func (l *Lot) LastCare(what string) (at time.Time, ok bool) {
	for _, c := range l.Cared {
		if c.What == what {
			at, ok = c.Occurred, true
		}
	}
	return at, ok
}

// Wash is how a bar washed, beside a fully cured one, in water equally warm.
// Figures go from 0 to 4.
type Wash struct {
	Entry
	Volume, Creaminess, Slime, Scent int
	Against                          string // the bar it was compared with
	Note                             string
}

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

// TrimmingsLeft is how many g of the lot's trimmings are not worked into another
// lot yet.
func (l *Lot) TrimmingsLeft() float64 {
	if l.Cut == nil {
		return 0
	}
	left := l.Cut.TrimmingsG
	for _, c := range l.Children {
		if c.What == "trimmings" {
			left -= c.Grams
		}
	}
	return math.Max(0, left)
}

// ReferenceBars is a reference bar that was put aside.
type ReferenceBars struct {
	Entry
	Bars  int
	Place string
}

// Batch is the lot as the soap that is in trouble. cookerML is the shop's cooker
// to the rim, 0 for none; that of the lot's plan goes before it.
func (l *Lot) Batch(cookerML float64) trouble.Batch {
	r := l.Frozen.Request
	r.Formula = l.Frozen.Formula
	b := trouble.Batch{
		At:       trouble.AsBars,
		Request:  r,
		Sheet:    l.Sheet(),
		State:    l.State(),
		Sound:    l.Sound(time.UTC) && !l.OnEarlyCheck(),
		CookerML: cookerML,
		VolumeML: l.PotNow().VolumeML,
		SoapG:    l.PotNow().Whole(),
	}
	if own := r.Vessels.Cooker.ML; own > 0 {
		b.CookerML = own
	}
	switch l.Stage() {
	case Making:
		b.At = trouble.InPot
	case InMold, Unmolded:
		b.At = trouble.InMold
	}
	if l.Cut != nil {
		if g := l.Cut.BarsG(); g > 0 {
			b.SoapG = g
		}
		if first, last := l.sampleRange(); first > 0 {
			share := 1 - last/first
			b.LostG = b.SoapG * share
			b.SoapG -= b.LostG
		}
	}
	return b
}

// sampleRange is the first and the newest weight of the marked bar, 0 without.
func (l *Lot) sampleRange() (first, last float64) {
	w := l.Weights()
	if len(w) == 0 {
		return 0, 0
	}
	return w[0].Grams, w[len(w)-1].Grams
}

// Card is the card of an incident for the lot as it is now.
func (l *Lot) Card(i Incident, cookerML float64) (trouble.Card, bool) {
	return trouble.CardOf(i.Kind, l.Batch(cookerML))
}

// wayName says a way that was chosen before names were kept, as its card calls it.
func (l *Lot) wayName(i Incident, key string) string {
	if c, ok := l.Card(i, 0); ok {
		if w, ok := c.Way(key); ok {
			return w.Name
		}
	}
	// What was forgotten and is in by now has no way on the card any more.
	if item, ok := strings.CutPrefix(key, "add:"); ok {
		if it, ok := l.Item(item); ok {
			return "Add " + it.Name
		}
	}
	return key
}

// Cooked reports whether the lot became cooked soap.
func (l *Lot) Cooked() bool {
	for _, t := range l.Turns {
		if t.Cooked {
			return true
		}
	}
	return false
}

// Plain reports whether the bars are sound but plain.
func (l *Lot) Plain() bool {
	for _, t := range l.Turns {
		if t.Plain {
			return true
		}
	}
	return false
}

// Policy is the cure policy that counts: a cooked lot follows that of cooked
// soap.
func (l *Lot) Policy() cure.Policy {
	if l.Cooked() {
		return cure.Cooked(l.Frozen.Policy)
	}
	return l.Frozen.Policy
}

// Unmolds is the window that counts, in the room that was noted at the pour: what the
// recipe itself says, and what stands in an oven, does not follow the room.
func (l *Lot) Unmolds() cure.Window {
	f := l.Frozen.Formula
	if !l.Cooked() {
		w, own := l.Frozen.Unmold, f.Process
		if l.Pour != nil && l.Pour.RoomC != nil && own.Closes == 0 && own.Kind != recipe.Oven && own.Cover != "oven" {
			w = w.InRoom(*l.Pour.RoomC)
		}
		return w
	}
	f.Process = recipe.Process{Kind: recipe.Cooked}
	material := "lined"
	if len(l.Frozen.Molds) > 0 {
		material = l.Frozen.Molds[0].Material
	}
	return cure.Unmold(f, material)
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

// Spent is the time that a stage of make day took.
type Spent struct {
	Stage string
	Time  time.Duration
}

// Times are the stages of make day with the time between the first and the last
// thing that was written in each, and from there to the next.
func (l *Lot) Times() []Spent {
	at := map[string]time.Time{}
	for _, t := range l.Ticks {
		if t.Done {
			at[t.Step] = t.Occurred
		}
	}
	for _, w := range l.Weighings {
		if key := run.WeighKey(w.Item); at[key].Before(w.Occurred) {
			at[key] = w.Occurred
		}
	}
	if l.Pour != nil {
		at[run.PourKey] = l.Pour.Occurred
	}
	var out []Spent
	last := l.Started.Occurred
	for _, s := range run.Steps(l.Order()) {
		when, ok := at[s.Key]
		if !ok {
			continue
		}
		if n := len(out); n == 0 || out[n-1].Stage != s.Stage {
			out = append(out, Spent{Stage: s.Stage})
		}
		if d := when.Sub(last); d > 0 {
			out[len(out)-1].Time += d
			last = when
		}
	}
	return out
}

// Suspect is something that may be the cause of trouble.
type Suspect struct {
	Subject, Name string
	Likely        bool
}

// Suspects are all that went into the lot and may be the cause, with those that
// usually are: the scent when batter seizes or rices or a scent fades, the fats
// when a bar spots, the lye when it is found undissolved, and the recipe itself in
// what is a matter of its balance.
func (l *Lot) Suspects(k trouble.Kind) []Suspect {
	likely := map[trouble.Kind]string{
		trouble.Seized: "scent", trouble.Ricing: "scent", trouble.Faded: "scent", trouble.Spots: "fat",
		trouble.Undissolved: "alkali", trouble.FalseTrace: "recipe",
		trouble.Separation: "recipe", trouble.Overheating: "recipe", trouble.Weeping: "recipe", trouble.TooSoft: "recipe",
		trouble.TooHard: "recipe", trouble.Rivers: "recipe", trouble.PartialGel: "recipe",
	}[k]
	scents := map[string]bool{}
	if s := l.Frozen.Formula.Scent; s != nil {
		for _, u := range s.Uses() {
			scents["additive:"+u.Key()] = true
		}
	}
	out := []Suspect{{"recipe:" + l.Recipe, "the recipe, " + l.Frozen.Recipe, likely == "recipe"}}
	for _, sec := range l.Frozen.Sheet {
		for _, i := range sec.Items {
			if strings.Contains(i.Key, ";for:") {
				continue
			}
			kind, _, _ := strings.Cut(i.Key, ":")
			if scents[i.Key] {
				kind = "scent"
			}
			out = append(out, Suspect{i.Key, i.Name, kind == likely})
		}
	}
	seen := map[string]bool{}
	for _, w := range l.Weighings {
		if w.From.OID != "" && !seen[w.From.OID] && !l.Corrected(w.ID) {
			seen[w.From.OID] = true
			out = append(out, Suspect{"bought:" + w.From.OID, w.From.Name + " of " + w.From.Label(), false})
		}
	}
	return out
}

// BlamedNow are the subjects that are blamed for an incident now.
func (i Incident) BlamedNow() map[string]string {
	out := map[string]string{}
	for _, b := range i.Blamed {
		delete(out, b.Subject)
		if b.Blamed {
			out[b.Subject] = b.Name
		}
	}
	return out
}

// RescueKey is the tick of a step of the way out of an incident.
func RescueKey(incident int64, step int) string { return fmt.Sprintf("trouble:%d:%d", incident, step) }
