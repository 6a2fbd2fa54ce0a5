package mold

import "ashshelf/soap/caution"

// Label is the weight that a label promises, which the bar must still have
// when it is sold.
type Label struct {
	Grams  float64
	Loss   float64 // percent of the raw weight that dries away
	Margin float64 // percent kept above the label, for uneven cuts
}

// UsualMargin is what is kept above a label in percent where nothing is said.
const UsualMargin = 2.0

// Check finds what cannot be worked with; path is where the label stands.
func (l Label) Check(p *caution.Problems, path string) {
	caution.Positive(p, path+".grams", "the weight on the label", l.Grams)
	if !(l.Loss >= 0 && l.Loss <= 40) {
		p.Add(path+".loss", "a bar loses between 0 and 40 %% while it dries")
	}
	if !(l.Margin >= 0 && l.Margin <= 50) {
		p.Add(path+".margin", "keep between 0 and 50 %% above the label")
	}
}

// Raw is what a fresh bar must weigh in g.
func (l Label) Raw() float64 { return l.Grams * (1 + l.Margin/100) / (1 - l.Loss/100) }

// Cured is what a fresh bar of raw grams will weigh when it is dry.
func (l Label) Cured(raw float64) float64 { return raw * (1 - l.Loss/100) }

// Stays is the margin above the label in percent that a fresh bar of raw grams
// leaves; below zero it falls short.
func (l Label) Stays(raw float64) float64 { return 100 * (l.Cured(raw)/l.Grams - 1) }
