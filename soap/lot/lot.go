// Package lot is one pot of soap from its first weighing to its last bar: its
// code, what happened to it, and what stage of life that makes.
//
// A lot is never edited. Each thing that happens is added, and where something
// was wrong a later entry corrects it and says why. What the lot was made from
// (recipe revision, plan, mold, policy) is frozen when it is started, so it
// can be read for ever as it was made.
package lot

import (
	"time"

	"ashshelf/soap/clock"
	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// Frozen is what a lot was made from, as it was then.
type Frozen struct {
	Program   string // version of the program
	Recipe    string
	Revision  int
	Formula   recipe.Formula
	Pot       plan.Plan // this pot
	Sheet     []plan.Section
	Molds     []Mold
	Policy    cure.Policy
	Notes     string // of the recipe, as they stood
	Unmold    cure.Window
	Overrides string // why it was started in spite of a block
	Request   plan.Request
	Expected  int
	Scale     float64
	Kind      string // Trial, or empty
	Stock     string // identity of the lye container it draws from
	FatStock  string // and of the blend of fats
}

// Trial is the kind of a lot made from a recipe that was not tested yet.
const Trial = "trial"

// Mold is a mold as it was when the lot was started.
type Mold struct {
	OID      string
	Name     string
	Material string
	Mold     mold.Mold // with its correction
	Count    int
	Bars     int // bars cut from one
	Cut      mold.Cut
}

// Infused is oil of an infusion that went into the lot; below zero is what was poured back.
type Infused struct {
	Entry
	Jar         string // its identity
	Oil, Herb   string
	Grams       float64
	OilG, HerbG float64 // that the jar was started with
}

// Entry is the head that all that happens has in common.
type Entry struct {
	ID       int64
	Occurred time.Time
	Recorded time.Time
	Who      string
	Device   string
	Corrects int64       // the entry this one corrects, 0 when none
	Reason   string      // why it corrects
	Doubt    clock.Doubt // of the clock that it was recorded by, as long as nobody put it right
}

// Signature is how somebody showed that it is she who makes an entry: with her PIN or her
// passphrase, or not at all when she was not asked.
type Signature string

// Words goes on after a name.
func (s Signature) Words() string {
	switch s {
	case "pin":
		return ", PIN given"
	case "passphrase":
		return ", passphrase given"
	}
	return ""
}

// by says in brackets whose word something is, when she showed that it is hers.
func (s Signature) by(who string) string {
	if s == "" {
		return ""
	}
	return " (" + who + s.Words() + ")"
}

// Note is a remark or an incident.
type Note struct {
	Entry
	Incident bool
	Text     string
}

// Retime says when something really happened that was recorded by a wrong clock.
type Retime struct {
	Entry
	Of   int64 // the entry
	At   time.Time
	Said string // which entry, what stood there before, and how one knows
}

// Lot is the whole record.
type Lot struct {
	ID      int64
	OID     string
	Number  int
	Code    string
	Started Entry
	Pot     int // which pot of its plan, from 1
	PlanOID string
	Recipe  string // opaque id
	Frozen  Frozen

	Weighings      []Weighing
	Ticks          []Tick
	Temps          []Temp
	Rescales       []Rescale
	Extras         []Extra
	Scents         []ScentSeen
	Photos         []Photo
	Writer         Writer
	Incidents      []Incident
	ProcessChanges []ProcessChange
	Parents        []Parent // that went into it
	Children       []Parent // that it went into
	Inherited      []Restriction
	Marks          []Mark
	Next           []Next
	Kept           []ReferenceBars
	Reshaped       []Reshaped
	Infused        []Infused
	Cared          []Care
	Washes         []Wash
	Places         []Place
	Pour           *Pour
	Unmolding      *Unmolding
	Cut            *Cut
	Samples        []SampleWeight
	Checks         []SafetyCheck
	Holds          []Hold
	Release        *Release
	Moves          []Move
	Bindings       []Binding
	LabelRuns      []LabelRun
	Complaints     []Complaint
	Bound          []BoundBars // that are bound now
	Notes          []Note
	Deviations     []Deviation
	Retimes        []Retime
	Abandoned      *Note
	Balance        map[ledger.Kind]int // bars that are there
	LastEntry      int64
	Odd            bool // at its newest weighing it was not where earlier lots of the recipe were by then

	Dried *Dried // what its weighings tell, worked out once; nil to work it out each time
}

// Newest is the head of the last thing that happened.
func (l *Lot) Newest() Entry {
	story := l.Story()
	return story[len(story)-1].Entry
}

// Corrected reports whether a later entry takes the place of this one.
func (l *Lot) Corrected(entry int64) bool {
	for _, w := range l.Weighings {
		if w.Corrects == entry {
			return true
		}
	}
	for _, s := range l.Samples {
		if s.Corrects == entry {
			return true
		}
	}
	return false
}
