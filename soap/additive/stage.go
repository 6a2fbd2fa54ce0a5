package additive

import "slices"

// Stage is when an additive goes in.
type Stage string

// The stages. How they are written never changes.
const (
	InLiquid  Stage = "liquid"    // dissolved in the liquid before the lye
	InLye     Stage = "lye-water" // into the lye
	InFats    Stage = "fats"      // into the fats before the lye
	Emulsion  Stage = "emulsion"
	Trace     Stage = "trace"
	Portion   Stage = "portion" // into one colour portion
	Top       Stage = "top"     // on top after the pour
	AfterCook Stage = "after-cook"
)

// Into is what an additive goes into. Where it stands on the weigh sheet and at which step
// it goes in follow from it.
type Into string

// What additives go into.
const (
	ThePlainLiquid Into = "liquid"  // of the jug, before the lye
	TheLye         Into = "lye"     // in the jug
	TheFats        Into = "fats"    // in the pot, before the lye
	TheBatter      Into = "batter"  // before it traces
	TheTrace       Into = "trace"   // last of all that is stirred into the pot
	APortion       Into = "portion" // that was split off the batter
	TheTop         Into = "top"     // of the filled mold
)

// stages says of each stage, in the order of the work, how a maker says it, what it goes
// into, and whether it is in the batter that is split into portions. A new stage is a line
// here; a new Into has its place in package plan (Sheet) and in package run (Steps), and
// the test of the stages in package run fails until it has both.
var stages = []struct {
	Stage
	words string
	into  Into
	split bool
}{
	{InLiquid, "in the liquid, before the lye", ThePlainLiquid, true},
	{InLye, "in the lye", TheLye, true},
	{InFats, "in the fats", TheFats, true},
	{Emulsion, "at emulsion", TheBatter, true},
	{Trace, "at trace", TheTrace, true},
	{Portion, "in a portion", APortion, false},
	{Top, "on top", TheTop, false},
	{AfterCook, "after the cook", TheTrace, true},
}

// Stages returns the stages in the order of the work.
func Stages() []Stage {
	out := make([]Stage, len(stages))
	for i, s := range stages {
		out[i] = s.Stage
	}
	return out
}

// StagesInto returns the stages at which something goes into one of these, in the order of
// the work.
func StagesInto(into ...Into) (out []Stage) {
	for _, s := range stages {
		if slices.Contains(into, s.into) {
			out = append(out, s.Stage)
		}
	}
	return out
}

// Words says the stage as a maker would; empty for what is none.
func (s Stage) Words() string {
	for _, one := range stages {
		if one.Stage == s {
			return one.words
		}
	}
	return ""
}

// Valid reports whether s is one of [Stages].
func (s Stage) Valid() bool { return s.Words() != "" }

// Into is what an additive of the stage goes into; empty for what is no stage.
func (s Stage) Into() Into {
	for _, one := range stages {
		if one.Stage == s {
			return one.into
		}
	}
	return ""
}

// BeforeSplit reports whether it is in the batter that is split into portions.
func (s Stage) BeforeSplit() bool {
	for _, one := range stages {
		if one.Stage == s {
			return one.split
		}
	}
	return false
}
