package lot

import (
	"fmt"
	"slices"
	"time"

	"ashshelf/soap/cure"
	"ashshelf/soap/ledger"
	"ashshelf/soap/unit"
)

// Unmolding is the soap out of its mold.
type Unmolding struct {
	Entry
	Gel  string
	Note string
}

// When soap that came out soft is cut: what holds a stroke by then is cut, and what does not after
// three days is looked at as trouble.
const (
	softOpens, softBest, softCloses = 12 * time.Hour, 24 * time.Hour, 72 * time.Hour
)

// CutWindow is when a loaf that came out soft is cut, counted from when it came out; ok is false for any
// other.
func (l *Lot) CutWindow() (from time.Time, w cure.Window, ok bool) {
	at, soft := l.LastCare(StillSoft)
	if !soft || l.Unmolding == nil || l.Cut != nil {
		return at, w, false
	}
	return at, cure.Window{Opens: softOpens, Best: softBest, Closes: softCloses, Why: "it came out soft"}, true
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
	Halves     int     // of the usual bars, how many are halves; of old records: now they are a size, see [Cut.Halved]
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

// HalfBar is the name of the size of a usual bar cut in two.
const HalfBar = "half bar"

// Halved is the cut with so many half bars beside the whole ones, sorted by a grade: a size of their
// own, so that nobody sells one for a whole.
func (c Cut) Halved(halves int, g ledger.Grade) Cut {
	if halves != 0 {
		c.Sizes = append(slices.Clone(c.Sizes), Size{Name: HalfBar, BarG: c.BarG / 2, Bars: map[ledger.Grade]int{g: halves}})
	}
	return c
}

// Each is what a raw bar of a kind weighs in g, 0 when it was not weighed.
func (c Cut) Each(k ledger.Kind) float64 {
	for _, s := range c.Sizes {
		if s.Name == k.Size {
			return s.BarG
		}
	}
	return c.BarG
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

// words says what a cut gave.
func (c Cut) words() string {
	graded := func(bars map[ledger.Grade]int) string {
		return fmt.Sprintf(
			"first grade %d, seconds %d, testers %d, scrap %d",
			bars[ledger.First],
			bars[ledger.Second],
			bars[ledger.Tester],
			bars[ledger.Scrap],
		)
	}
	weighing := func(g float64) string {
		if g == 0 {
			return ""
		}
		return " of " + unit.Trim(g, 1) + " g"
	}
	text := graded(c.Bars) + weighing(c.BarG)
	for _, s := range c.Sizes {
		text += "; " + s.Name + weighing(s.BarG) + ": " + graded(s.Bars)
	}
	if c.Halves > 0 {
		text += fmt.Sprintf("; %d of them halves", c.Halves)
	}
	if c.Ends > 0 || c.EndsG > 0 {
		text += fmt.Sprintf("; end pieces %d", c.Ends) + weighing(c.EndsG)
	}
	if c.TrimmingsG > 0 {
		text += "; trimmings" + weighing(c.TrimmingsG)
	}
	if c.Finish != "" {
		text += "; left to finish: " + c.Finish
	}
	return text
}
