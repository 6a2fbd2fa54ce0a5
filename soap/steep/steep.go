// Package steep follows an infusion: oil that stands on a dried herb until it is strained.
//
// A jar is started with oil and herb by weight. While it steeps it is stirred and looked at; then
// it is strained through cloth and weighed, topped up with plain oil where it came out short, and
// drawn from as batches are made. What the herb kept back is known once the strained oil was
// weighed: so each jar teaches how much that herb keeps, and the next recipe starts with the right
// amount.
package steep

import (
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/internal/stat"
	"ashshelf/soap/unit"
)

// What is something that happens to a jar.
type What string

// What happens to jars.
const (
	Stirred  What = "stirred" // or looked at
	Strained What = "strained"
	ToppedUp What = "topped-up" // with plain oil
	Used     What = "used"      // for a lot; below zero is what was poured back
	Discard  What = "discarded"
)

// Event is one thing that happened to a jar.
type Event struct {
	What  What
	Grams float64 // g of oil: strained, added, taken
	Lot   string  // code of the lot it was taken for
	LotID string  // and its identity
	When  time.Time
	Who   string
	Note  string
}

// Jar is an infusion as it was started, with what happened to it since, in order.
type Jar struct {
	OID     string
	Fat     string // key of the oil
	Name    string // of the oil, for people
	Herb    string // dried
	OilG    float64
	HerbG   float64
	Hours   float64 // that it is to steep
	Warm    bool    // on low heat; else it stands
	Note    string
	Started time.Time
	Who     string
	Events  []Event
}

// Weeks that a jar stands without heat where nothing else is said, and the least and most oil of a
// jar in g.
const (
	StandingHours     = 6 * 7 * 24.0
	leastOil, mostOil = 10.0, 100_000.0
	mostHours         = 5000.0
)

// Check finds what cannot be worked with.
func (j Jar) Check() caution.Problems {
	var p caution.Problems
	if strings.TrimSpace(j.Name) == "" {
		p.Add("fat", "say which oil")
	}
	p.Name("fat", j.Name)
	if strings.TrimSpace(j.Herb) == "" {
		p.Add("herb", "name the herb")
	}
	p.Name("herb", j.Herb)
	if !(j.OilG >= leastOil && j.OilG <= mostOil) {
		p.Add("oil", "start with %v g of oil or more, and at most 100 kg", leastOil)
	}
	if !(j.HerbG > 0 && j.HerbG <= j.OilG) {
		p.Add("herb_g", "weigh the herb: more than 0 g, and no more than the oil weighs")
	}
	if !(j.Hours > 0 && j.Hours <= mostHours) {
		p.Add("hours", "say how long it steeps, more than 0 and at most %v hours", mostHours)
	}
	return p
}

// Ready is when it has steeped long enough.
func (j Jar) Ready() time.Time { return j.Started.Add(time.Duration(j.Hours * float64(time.Hour))) }

func (j Jar) first(w What) (Event, bool) {
	for _, e := range j.Events {
		if e.What == w {
			return e, true
		}
	}
	return Event{}, false
}

// Strained is the oil in g that came through the cloth; false as long as it steeps.
func (j Jar) Strained() (float64, bool) {
	e, ok := j.first(Strained)
	return e.Grams, ok
}

// Discarded reports whether it was thrown away.
func (j Jar) Discarded() bool {
	_, gone := j.first(Discard)
	return gone
}

// Left is what there is of it in g: nothing before it is strained.
func (j Jar) Left() float64 {
	if j.Discarded() {
		return 0
	}
	sum := 0.0
	for _, e := range j.Events {
		switch e.What {
		case Strained, ToppedUp:
			sum += e.Grams
		case Used:
			sum -= e.Grams
		}
	}
	return max(0, sum)
}

// leastLeft is the weight in g below which a jar is empty: what clings to it.
const leastLeft = 2.0

// Stage says where it is.
func (j Jar) Stage(now time.Time) string {
	_, strained := j.Strained()
	switch {
	case j.Discarded():
		return "thrown away"
	case !strained && now.Before(j.Ready()):
		return "steeping"
	case !strained:
		return "ready to strain"
	case j.Left() < leastLeft:
		return "used up"
	}
	return "strained"
}

// Steeping reports whether it is not strained yet.
func (j Jar) Steeping() bool {
	_, strained := j.Strained()
	return !strained && !j.Discarded()
}

// Open reports whether there is still something to do with it.
func (j Jar) Open() bool { return j.Steeping() || j.Left() >= leastLeft }

// Loss is how many g of oil each g of the herb kept; false before it was strained.
func (j Jar) Loss() (float64, bool) {
	out, ok := j.Strained()
	if !ok || j.HerbG <= 0 {
		return 0, false
	}
	return max(0, (j.OilG-out)/j.HerbG), true
}

// slack is how much more in g than the books say may be taken: scales differ.
const slack = 1.0

// May finds what an event cannot be now; problems stand at the field grams.
func (j Jar) May(e Event) caution.Problems {
	var p caution.Problems
	_, strained := j.Strained()
	needs := func() {
		if !(e.Grams > 0) || e.Grams > mostOil {
			p.Add("grams", "type what the scale reads, more than 0 g")
		}
	}
	switch {
	case j.Discarded():
		p.Add("grams", "it was thrown away")
	case e.What == Stirred || e.What == Discard:
		if e.What == Discard && strings.TrimSpace(e.Note) == "" {
			p.Add("note", "write why it is thrown away")
		}
	case e.What == Strained && strained:
		p.Add("grams", "it was strained already")
	case e.What == Strained:
		if needs(); e.Grams > j.OilG+j.HerbG {
			p.Add("grams", "%s g is more than went into the jar", unit.Trim(e.Grams, 1))
		}
	case !strained:
		p.Add("grams", "strain it first: the oil is still on the herb")
	case e.What == ToppedUp:
		needs()
	case e.What == Used:
		if left := j.Left(); e.Grams > left+slack {
			p.Add("grams", "only %s g of this infusion are left", unit.Trim(left, 1))
		}
	default:
		p.Add("what", "say what happened to it")
	}
	return p
}

// Learned is what a herb keeps back in g of oil per g, the median of the jars of it that were
// strained, and how many those are.
func Learned(herb string, jars []Jar) (loss float64, of int) {
	var seen []float64
	for _, j := range jars {
		if v, ok := j.Loss(); ok && strings.EqualFold(strings.TrimSpace(j.Herb), strings.TrimSpace(herb)) {
			seen = append(seen, v)
		}
	}
	if len(seen) == 0 {
		return 0, 0
	}
	return stat.Median(seen), len(seen)
}
