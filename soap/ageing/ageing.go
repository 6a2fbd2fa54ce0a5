// Package ageing tells a bar's life, from the cut to two years.
//
// A bar is soft when it is cut and hardens while its water leaves, an olive one over most of a
// year. Fresh soap is harsh for the few days that its lye still works; it grows kinder and
// foams better while it rests. In the end the oils that air spoils turn: it foams less, smells
// and spots. How a bar starts and what it becomes is judged by package recipe; here is how it
// gets from the one to the other. The rules are this program's own and stand in
// docs/judgement.md: they order bars and moments among each other, and measure nothing.
package ageing

import (
	"fmt"
	"math"

	"ashshelf/soap/cure"
	"ashshelf/soap/fat"
	"ashshelf/soap/recipe"
)

// Span is how far a life is told, in days from the pour.
const Span = 730.0

// Life is a bar's life. Firmness, foam and harshness are figures of package recipe.
type Life struct {
	Cut      float64 // day of the cut
	Ready    float64 // day from which its cure lets it be sold
	Early    float64 // how firm it is at the cut
	Cured    float64 // how firm it becomes
	Foam     float64 // how quickly it foams, cured
	Harsh    float64 // how dry it leaves the skin, cured
	Dries    float64 // days in which what has still to change shrinks to 1/e
	Perishes float64 // of its fats: higher is sooner
}

// What an everyday bar and one of olive oil alone take to dry, in days, and from which
// share of olive oil in percent a bar is on the way from the one to the other.
const everydayDries, oliveDries, oliveFrom = 21.0, 120.0, 50.0

// Of is the life of a bar of this formula under a policy of cure; false for what is no
// bar: a paste, liquid soap, soap in a jar.
func Of(f recipe.Formula, p cure.Policy) (Life, bool) {
	if !f.Form(f.Material(), false).Unmolded() {
		return Life{}, false
	}
	o := f.Judge()
	olive := math.Max(0, f.Fats.Sum(fat.OliveLike)-oliveFrom) / (100 - oliveFrom)
	return Life{
		Cut:      cure.Expected(f).Best.Hours() / 24,
		Ready:    float64(p.Days),
		Early:    o.Early.Figure,
		Cured:    math.Max(o.Early.Figure, o.Cured.Figure), // drying makes no bar softer
		Foam:     o.Foam.Figure,
		Harsh:    math.Max(0, o.Skin.Figure),
		Dries:    everydayDries + (oliveDries-everydayDries)*olive,
		Perishes: math.Max(0, o.Keeps.Figure),
	}, true
}

// What of the highest figure of a kind is drawn full: the hardest, quickest and harshest of
// usual bars.
const fullFirm, fullFoam, fullHarsh = 80.0, 45.0, 50.0

// left is the share of its drying that a bar has before it, of 1 at the cut.
func (l Life) left(day float64) float64 {
	return math.Exp(-math.Max(0, day-l.Cut) / l.Dries)
}

func share(figure, full float64) float64 { return math.Min(1, math.Max(0, figure/full)) }

// Firm is how firm the bar is on a day after the pour, from 0 to 1.
func (l Life) Firm(day float64) float64 {
	return share(l.Cured-(l.Cured-l.Early)*l.left(day), fullFirm)
}

// How much of its foam a bar lacks at the cut, and when its fats have turned.
const youngFoam, staleFoam = 0.35, 0.4

// Lather is how well the bar foams on a day, from 0 to 1.
func (l Life) Lather(day float64) float64 {
	return share(l.Foam, fullFoam) * (1 - youngFoam*l.left(day)) * (1 - staleFoam*(1-l.Fresh(day)))
}

// lyeDays is in how many days the lye still at work shrinks to 1/e; in that time soap is harsh
// whatever its fats. mellows is what resting adds after it.
const lyeDays, mellows = 2.0, 0.2

// Kind is how kind the bar is to the skin on a day, from 0 to 1. It foretells; whether a lot is
// mild, its safety check says.
func (l Life) Kind(day float64) float64 {
	return (1 - share(l.Harsh, fullHarsh)) * (1 - math.Exp(-day/lyeDays)) * (1 - mellows*l.left(day))
}

// A bar whose fats have the middle figure of those that keep "about a year" tires after one. A
// figure twice as high tires it in somewhat less than half the time.
const yearFigure, hastens, turns = 16.0, 1.2, 6.0

// Tires is the day on which the bar is half spoiled; beyond Span it is not drawn, and infinite
// where nothing in it spoils.
func (l Life) Tires() float64 {
	return 365 * math.Pow(yearFigure/l.Perishes, hastens)
}

// Fresh is how little of the bar's fats have turned on a day, from 1 down to 0.
func (l Life) Fresh(day float64) float64 {
	return 1 / (1 + math.Pow(day/l.Tires(), turns))
}

// figures are the life's, in the order in which they are written.
func (l *Life) figures() []*float64 {
	return []*float64{&l.Cut, &l.Ready, &l.Early, &l.Cured, &l.Foam, &l.Harsh, &l.Dries, &l.Perishes}
}

// layout is how a life is written in a line, for a page to hand back with the next change.
const layout = "%.2f,%.0f,%.1f,%.1f,%.1f,%.1f,%.1f,%.1f"

// String writes the life in a line, as exactly as it can be seen.
func (l Life) String() string {
	list := make([]any, 0, 8)
	for _, v := range l.figures() {
		list = append(list, *v)
	}
	return fmt.Sprintf(layout, list...)
}

// Parse reads what String wrote; false for anything else.
func Parse(s string) (Life, bool) {
	var l Life
	list := make([]any, 0, 8)
	for _, v := range l.figures() {
		list = append(list, v)
	}
	if n, err := fmt.Sscanf(s, "%f,%f,%f,%f,%f,%f,%f,%f", list...); err != nil || n != len(list) || l.String() != s {
		return Life{}, false
	}
	if !(l.Dries > 0 && l.Perishes >= 0 && l.Cut >= 0) {
		return Life{}, false
	}
	for _, v := range l.figures() {
		if !(math.Abs(*v) < 10_000) { // and no NaN
			return Life{}, false
		}
	}
	return l, true
}
