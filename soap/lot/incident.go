package lot

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"ashshelf/soap/plan"
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
	if item, ok := strings.CutPrefix(key, trouble.AddPrefix); ok {
		if it, ok := l.Item(plan.Key(item)); ok {
			return "Add " + it.Name
		}
	}
	return key
}

// Cooked reports whether the lot became cooked soap.
func (l *Lot) Cooked() bool {
	for _, t := range l.ProcessChanges {
		if t.Cooked {
			return true
		}
	}
	return false
}

// Plain reports whether the bars are sound but plain.
func (l *Lot) Plain() bool {
	for _, t := range l.ProcessChanges {
		if t.Plain {
			return true
		}
	}
	return false
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
	scents := map[plan.Key]bool{}
	if s := l.Frozen.Formula.Scent; s != nil {
		for _, u := range s.Uses() {
			scents[plan.AdditiveKey(u)] = true
		}
	}
	out := []Suspect{{"recipe:" + l.Recipe, "the recipe, " + l.Frozen.Recipe, likely == "recipe"}}
	for _, sec := range l.Frozen.Sheet {
		for _, i := range sec.Items {
			if i.Key.Ingredient() != i.Key {
				continue
			}
			kind := string(i.Key.Kind())
			if scents[i.Key] {
				kind = "scent"
			}
			out = append(out, Suspect{string(i.Key), i.Name, kind == likely})
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
