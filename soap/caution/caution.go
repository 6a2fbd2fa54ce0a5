// Package caution says what can be wrong with a soap and how badly.
//
// A caution is something a careful colleague would say aloud: advice on a
// matter of taste, a warning, or a block, which no lot is started from without
// a written reason. Every caution gives its reason and a way out. The subjects
// of the core (fats, lye, plan ...) find cautions; what a caution is and the
// limits that numbers must keep are written here and nowhere else.
//
// A problem is different: it is an input that cannot be worked with at all, at
// a named place, such as a superfat of 140 %.
package caution

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"ashshelf/soap/unit"
)

// Level is how serious a caution is.
type Level string

// The levels, mildest first.
const (
	Advice Level = "advice"
	Warn   Level = "warn"
	Block  Level = "block"
)

func (l Level) rank() int { return slices.Index([]Level{Advice, Warn, Block}, l) }

// Caution is one thing to mind. Code is stable and dotted, such as
// "superfat.low"; Reason says what is the matter and Remedy what helps.
type Caution struct {
	Code   string
	Level  Level
	Reason string
	Remedy string
}

// Text is the reason followed by the remedy.
func (c Caution) Text() string {
	return strings.TrimSpace(c.Reason + " " + c.Remedy)
}

// Sort puts the most serious cautions first and keeps the order otherwise.
func Sort(list []Caution) {
	slices.SortStableFunc(list, func(a, b Caution) int { return b.Level.rank() - a.Level.rank() })
}

// Blocks returns those of the list that block.
func Blocks(list []Caution) []Caution {
	var out []Caution
	for _, c := range list {
		if c.Level == Block {
			out = append(out, c)
		}
	}
	return out
}

// Problem is an input that cannot be worked with, at a place such as
// "fats[2].percent".
type Problem struct {
	Path string
	Text string
}

func (p Problem) String() string {
	if p.Path == "" {
		return p.Text
	}
	return p.Path + ": " + p.Text
}

// Problems is an error made of one or more problems.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, one := range p {
		lines[i] = one.String()
	}
	return strings.Join(lines, "\n")
}

// Add appends a problem.
func (p *Problems) Add(path, format string, args ...any) {
	*p = append(*p, Problem{path, fmt.Sprintf(format, args...)})
}

// Err is the problems as an error, or nil when there are none.
func (p Problems) Err() error {
	if len(p) == 0 {
		return nil
	}
	return p
}

// At returns the text of the first problem at path, or "".
func (p Problems) At(path string) string {
	for _, one := range p {
		if one.Path == path {
			return one.Text
		}
	}
	return ""
}

// Range is a closed interval that a number must lie in.
type Range struct {
	Min, Max float64
	Unit     string
}

// The limits of what can be computed with; taste is not their business.
var (
	Superfat        = Range{0, 40, "%"}
	PotashSuperfat  = Range{-10, 40, "%"} // soap of potash alone may be made with lye left over, which is neutralised
	Purity          = Range{50, 100, "%"}
	LyeStrength     = Range{10, 52, "%"} // NaOH stops dissolving near 52 %
	LiquidToLye     = Range{0.9, 9, "to 1"}
	PercentOfFats   = Range{5, 100, "% of fats"}
	Share           = Range{0, 100, "%"}
	WaterShare      = Range{0.1, 100, "%"}           // of a liquid of a recipe; glycerin has hardly any
	SAPValue        = Range{10, 600, "mg KOH per g"} // waxes 85, the shortest fats under 600
	FatDensity      = Range{0.7, 1.2, "g/ml"}
	AdditiveDensity = Range{0.05, 25, "g/ml"}
	PotLoss         = Range{0, 50, "%"}
	Temperature     = Range{-30, 100, "°C"}
)

// MostDissolved is the highest share of alkali, in percent of alkali and
// water, that is taken to dissolve while the lye is warm.
const MostDissolved = 53.5

// ShareTolerance is how far from 100 a list of percentages may sum.
const ShareTolerance = 0.01

// Check adds a problem at path when v lies outside the range.
func (r Range) Check(p *Problems, path, what string, v float64) {
	if math.IsNaN(v) || v < r.Min || v > r.Max {
		p.Add(
			path,
			"%s is %s; it must lie between %s and %s %s",
			what,
			unit.Trim(v, 3),
			unit.Trim(r.Min, 3),
			unit.Trim(r.Max, 3),
			r.Unit,
		)
	}
}

// Positive adds a problem at path when v is not above zero.
func Positive(p *Problems, path, what string, v float64) {
	if !(v > 0) || math.IsInf(v, 0) {
		p.Add(path, "%s is %s; it must be more than zero", what, unit.Trim(v, 3))
	}
}

// Sum adds a problem at path when the percentages do not come to 100.
func Sum(p *Problems, path, what string, percents []float64) {
	total := 0.0
	for _, v := range percents {
		total += v
	}
	if d := total - 100; math.Abs(d) > ShareTolerance+1e-9 {
		too := "too much"
		if d < 0 {
			too = "missing"
		}
		p.Add(path, "the %s come to %s %%, not 100 %%: %s %% %s", what, unit.Trim(total, 2), unit.Trim(math.Abs(d), 2), too)
	}
}
