// Package lot is one pot of soap from its first weighing to its last bar: its
// code, what happened to it, and what stage of life that makes.
//
// A lot is never edited. Each thing that happens is added, and where something
// was wrong a later entry corrects it and says why. What the lot was made from
// (recipe revision, plan, mold, policy) is frozen when it is started, so it
// can be read for ever as it was made.
package lot

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"ashshelf/soap/additive"
	"ashshelf/soap/clock"
	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/mold"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
)

// checkLetters leaves out letters that are misheard or misread for another
// letter or a digit. There are thirteen, a prime, so the letter shows every
// single wrong digit and every swap of neighbours.
const checkLetters = "AFHJKLMRSUWXY"

// Code is the name of lot number n, such as "214-K": a running number and a
// letter that catches a digit that was misread or misheard.
func Code(n int) string { return strconv.Itoa(n) + "-" + string(checkLetter(n)) }

func checkLetter(n int) byte {
	sum, weight := 0, 2
	for ; n > 0; n /= 10 {
		sum += n % 10 * weight
		weight = weight * 3 % 13
	}
	return checkLetters[sum%13]
}

// ParseCode reads a lot code as typed, with or without its dash, in either
// case. It says when the letter does not go with the number.
func ParseCode(text string) (n int, err error) {
	t := strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(text))
	if len(t) < 2 {
		return 0, fmt.Errorf("a lot code looks like %s", Code(214))
	}
	n, err = strconv.Atoi(t[:len(t)-1])
	if err != nil || n <= 0 || n > 1e9 {
		return 0, fmt.Errorf("a lot code looks like %s", Code(214))
	}
	if t[len(t)-1] != checkLetter(n) {
		return 0, fmt.Errorf(
			"there is no lot %s: the letter does not go with the number, one of them is misread",
			strings.ToUpper(text),
		)
	}
	return n, nil
}

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
	Item    string
	Target  float64 // g
	Actual  float64 // g; below zero is weighed back
	How     How
	Reading int64  // number of the scale's reading; 0 when it was not read from one
	From    Bought // the ingredient lot; its OID is empty where none was said
}

// Bought is an ingredient lot: a delivery of one ingredient.
type Bought struct {
	OID      string
	Item     string // key of the ingredient, such as "fat:olive-oil"
	Name     string
	Supplier string
	Code     string  // of the supplier
	Received string  // day, 2006-01-02; may be empty
	Purity   float64 // percent, by its certificate; 0 when not known
	SAP      float64 // mg KOH per g, by its certificate; 0 when not known
}

// Label names it in a line.
func (b Bought) Label() string {
	out := strings.Trim(b.Supplier+" "+b.Code, " ")
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
	Factor  float64 // of the plan that the lot was started from
	Because string  // item that was over
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

// Pour is the moment the batter went into the molds.
type Pour struct {
	Entry
	LyeC, FatsC, RoomC *float64
	Trace              string
	LeftG              float64
	Off                map[string]float64 // mm above the fill line by mold, below it under zero; for molds that were looked at
	Skipped            string             // why something planned was not weighed
	Note               string
	Judged             *Judged // nil when it was poured before that was kept
}

// Judged is how the pot was judged when it was poured.
type Judged struct {
	Superfat, Planned float64 // percent
	Heavy             bool    // there was more lye than is safe
	Said              string  // what was off, and what to do about it; empty when all was well
}

// Traces returns the words for how thick the batter was.
func Traces() []string { return []string{"emulsion", "light", "medium", "thick"} }

// Unmolding is the soap out of its mold.
type Unmolding struct {
	Entry
	Gel  string
	Note string
}

// Gels returns the words for how far the gel went.
func Gels() []string { return []string{"none", "ring", FullGel, "not looked"} }

// FullGel is a gel that went through all of it.
const FullGel = "full"

// Cut is the bars counted.
type Cut struct {
	Entry
	Bars       map[ledger.Grade]int // scrap included
	BarG       float64              // a typical raw bar, 0 when not weighed
	Sizes      []Size               // of other sizes
	TrimmingsG float64
	Ends       int     // end pieces that are kept as such
	EndsG      float64 // all of them together
	Halves     int     // of the usual bars, how many are halves
	Finish     string  // who finishes it, where that is left to somebody else
	Note       string
}

// Size is bars of a size of their own, beside the usual ones of the lot.
type Size struct {
	Name string
	BarG float64              // a typical raw bar, 0 when not weighed
	Bars map[ledger.Grade]int // scrap included
}

// Of is how many bars of a kind were cut.
func (c Cut) Of(k ledger.Kind) int {
	if k.Size == "" {
		return c.Bars[k.Grade]
	}
	for _, s := range c.Sizes {
		if s.Name == k.Size {
			return s.Bars[k.Grade]
		}
	}
	return 0
}

// Kinds are the kinds that can become stock, the usual bar first.
func (c Cut) Kinds() []ledger.Kind {
	names := []string{""}
	for _, s := range c.Sizes {
		names = append(names, s.Name)
	}
	var out []ledger.Kind
	for _, name := range names {
		for _, g := range ledger.Grades() {
			out = append(out, ledger.Kind{Size: name, Grade: g})
		}
	}
	return out
}

// Count is how many pieces were cut as bars, scrap included.
func (c Cut) Count() int {
	n := sum(c.Bars)
	for _, s := range c.Sizes {
		n += sum(s.Bars)
	}
	return n
}

// OfGrade is how many pieces of a grade were cut, of any size.
func (c Cut) OfGrade(g ledger.Grade) int {
	n := c.Bars[g]
	for _, s := range c.Sizes {
		n += s.Bars[g]
	}
	return n
}

func sum(bars map[ledger.Grade]int) (n int) {
	for _, k := range bars {
		n += k
	}
	return n
}

// BarsG is what the bars weighed when they were cut, in g, by a typical one of each
// size, halves as halves; 0 when a size that there are bars of was not weighed.
func (c Cut) BarsG() float64 {
	g := 0.0
	for _, s := range append([]Size{{BarG: c.BarG, Bars: c.Bars}}, c.Sizes...) {
		n := float64(sum(s.Bars))
		if s.Name == "" {
			n -= float64(c.Halves) / 2
		}
		if n > 0 && s.BarG == 0 {
			return 0
		}
		g += n * s.BarG
	}
	return g
}

// Weight is what came off the mold in g: bars, end pieces and trimmings.
func (c Cut) Weight() float64 { return c.BarsG() + c.EndsG + c.TrimmingsG }

// SampleWeight is the marked sample bar on the scale.
type SampleWeight struct {
	Entry
	Grams float64
}

// SafetyCheck is a zap or pH test.
type SafetyCheck struct {
	Entry
	Method string
	PH     *float64
	Pass   bool
	Note   string
}

// Hold stops a lot from being sold, or lifts an earlier hold.
type Hold struct {
	Entry
	Held bool
	Why  string
}

// Release is a named person's word that the bars may be sold.
type Release struct {
	Entry
	Early string // why before its time, empty when in time
}

// Move is bars in or out after the release.
type Move struct {
	Entry
	Kind   ledger.Kind
	Reason ledger.Reason
	Change int
	Note   string
}

// Note is a remark or an incident.
type Note struct {
	Entry
	Incident bool
	Text     string
}

// Deviation is something that was done otherwise than it should be, with the
// maker's reason.
type Deviation struct {
	Entry
	Act  Act // that was done
	What string
	Why  string
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

	Weighings  []Weighing
	Ticks      []Tick
	Temps      []Temp
	Rescales   []Rescale
	Extras     []Extra
	Scents     []ScentSeen
	Photos     []Photo
	Writer     Writer
	Incidents  []Incident
	Turns      []ProcessChange
	Parents    []Parent // that went into it
	Children   []Parent // that it went into
	Inherited  []Restriction
	Marks      []Mark
	Next       []Next
	Kept       []ReferenceBars
	Cared      []Care
	Washes     []Wash
	Places     []Place
	Pour       *Pour
	Unmolding  *Unmolding
	Cut        *Cut
	Samples    []SampleWeight
	Checks     []SafetyCheck
	Holds      []Hold
	Release    *Release
	Moves      []Move
	Notes      []Note
	Deviations []Deviation
	Retimes    []Retime
	Abandoned  *Note
	Balance    map[ledger.Kind]int // bars that are there
	LastEntry  int64
	Odd        bool // at its newest weighing it was not where earlier lots of the recipe were by then
}

// Stage is where a lot is in its life.
type Stage string

// The stages in the order of life.
const (
	Making    Stage = "making"  // started, being weighed and mixed
	InMold    Stage = "in-mold" // poured
	Unmolded  Stage = "unmolded"
	Curing    Stage = "curing" // cut, on the rack
	Ready     Stage = "ready"  // released, bars in stock
	Gone      Stage = "gone"   // released, no bar left
	Abandoned Stage = "abandoned"
)

// Words says the stage as a maker would.
func (s Stage) Words() string {
	switch s {
	case Making:
		return "on the bench"
	case InMold:
		return "in the mold"
	case Unmolded:
		return "to cut"
	case Gone:
		return "all moved out"
	}
	return string(s)
}

// Stage works out the stage from what happened.
func (l *Lot) Stage() Stage {
	switch {
	case l.Abandoned != nil:
		return Abandoned
	case l.Release != nil && l.InStock() == 0:
		return Gone
	case l.Release != nil:
		return Ready
	case l.Cut != nil:
		return Curing
	case l.Unmolding != nil:
		return Unmolded
	case l.Pour != nil:
		return InMold
	}
	return Making
}

// InStock is the number of bars that are there.
func (l *Lot) InStock() int {
	n := 0
	for _, c := range l.Balance {
		n += c
	}
	return n
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

// Weights are the weighings of the marked bar that hold, in order of time: what
// corrects an earlier one was read when that was.
func (l *Lot) Weights() []SampleWeight {
	var out []SampleWeight
	for _, s := range l.Samples {
		if !l.Corrected(s.ID) {
			out = append(out, s)
		}
	}
	slices.SortStableFunc(out, func(a, b SampleWeight) int { return a.Occurred.Compare(b.Occurred) })
	return out
}

// Facts gathers what the gate looks at. now is in the shop's zone.
func (l *Lot) Facts(now time.Time) cure.Facts {
	f := cure.Facts{Now: now, Policy: l.Policy(), Holds: l.Held(), Released: l.Release != nil}
	if l.Pour != nil {
		f.Poured = l.Pour.Occurred.In(now.Location())
	}
	for _, s := range l.Weights() {
		f.Samples = append(f.Samples, cure.Sample{At: s.Occurred.In(now.Location()), Grams: s.Grams})
	}
	f.From = l.ChecksFrom(now.Location())
	f.Checked = len(l.Checks) > 0
	f.Passed, f.Early = l.checked(f.From)
	return f
}

// SampleStep is the step in g that the marked bar's weights were read in: a tenth
// when any of them says so, a gram else.
func (l *Lot) SampleStep() float64 {
	for _, s := range l.Samples {
		if s.Grams != math.Trunc(s.Grams) {
			return 0.1
		}
	}
	return 1
}

// Gate works out what still keeps the bars from being sold. It is only
// meaningful once the lot is poured.
func (l *Lot) Gate(now time.Time) cure.Gate { return l.Facts(now).EvaluateGate() }
