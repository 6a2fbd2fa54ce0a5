package lot

import (
	"strings"
	"time"

	"ashshelf/soap/additive"
	"ashshelf/soap/plan"
)

// How a weight or a temperature came onto the record.
type How string

// The ways.
const (
	Typed    How = "typed"
	ByDevice How = "scale" // read from a scale or a probe
	OnPaper  How = "paper" // noted on paper and filled in afterwards
)

// Weighing is one pour of one ingredient, or what was taken back out of it.
type Weighing struct {
	Entry
	Item    plan.Key
	Target  float64 // g
	Actual  float64 // g; below zero is weighed back
	How     How
	Reading int64  // number of the scale's reading; 0 when it was not read from one
	From    Bought // the ingredient lot; its OID is empty where none was said
}

// Bought is an ingredient lot: a delivery of one ingredient.
type Bought struct {
	OID      string
	Item     plan.Key // of the ingredient, whatever part of it is set apart
	Name     string
	Supplier string
	Code     string  // of the supplier
	Received string  // day, 2006-01-02; may be empty
	Purity   float64 // percent, by its certificate; 0 when not known
	SAP      float64 // mg KOH per g, by its certificate; 0 when not known
}

// Short names it in a few words: who sold it, and the code on it.
func (b Bought) Short() string { return strings.Trim(b.Supplier+" "+b.Code, " ") }

// Label names it in a line.
func (b Bought) Label() string {
	out := b.Short()
	if b.Received != "" {
		out += ", received " + b.Received
	}
	return strings.TrimPrefix(out, ", ")
}

// Tick is a step of the run sheet done, left out, or taken back.
type Tick struct {
	Entry
	Step    string
	Title   string // of the step when it was ticked; empty before that was kept
	Done    bool
	Note    string  // why it was left out, or what was seen
	Trace   string  // at the trace
	Minutes float64 // to it
}

// Temp is a temperature that was read.
type Temp struct {
	Entry
	Of  string // "liquid", "lye", "fats" or "room"
	C   float64
	How How
}

// Pots are what a temperature can be read of.
func Pots() []string { return []string{"liquid", "lye", "fats", "room"} }

// Rescale makes all that is still to come larger or smaller.
type Rescale struct {
	Entry
	Factor  float64  // of the plan that the lot was started from
	Because plan.Key // the item that was over
	Sheet   []plan.Section
	Pot     plan.Plan
}

// Extra is something that went in unplanned.
type Extra struct {
	Entry
	Name  string
	Grams float64
	SAP   float64 // mg KOH per g where it is a fat; else 0
}

// ScentSeen is how a scent behaved in the pot.
type ScentSeen struct {
	Entry
	Scent     string
	Behaviour additive.Behaviour
	Note      string
}

// Photo is a picture of the lot.
type Photo struct {
	Entry
	File    string // name of its content
	W, H    int
	Caption string
}

// Writer is the device that writes a run; others watch.
type Writer struct {
	Device int64  // 0 when nothing was written yet
	Token  string // by which its browser is known
	Label  string
	Who    string
	Since  time.Time
}
