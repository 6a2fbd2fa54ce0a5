// Package timetable lays the steps of a day at the bench beside each other.
//
// Two batches of soap want the same two hands, one scale and two jugs. While the lye of one cools its fats can melt, and
// the next can be weighed; but a jug is taken from the lye until it meets its fats, a pot until the soap is poured, and
// lye that stood too long is cold again. Each step says how long it takes, what it uses and what it keeps taken until
// which later step, what has to be done before, and how long a pause may be at the most. What comes out is when each
// begins, so that nothing is ever taken twice, nothing ends after the day does, and the last is done as early as a
// search of bounded length finds; with a bound that no plan of the day could beat, how long each step could wait without
// moving the end, and what it waits for.
//
// The method: steps and their pauses are a network of differences (simple temporal network), whose earliest times are
// longest paths. Where more of something is taken in it than there is, one of those who take it has to end before
// another begins; each such order is tried, the most promising first, and with few departures from that (limited
// discrepancy search), until no order is left or the steps of the search are used up. It is the precedence constraint
// posting of Cesta, Oddi and Smith (1998) with the search of Harvey and Ginsberg (1995). It draws no lots: the same day
// is laid the same way each time.
package timetable

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"ashshelf/soap/caution"
)

// Day is what is to be done in a day, and what with. Times are minutes after midnight.
type Day struct {
	Start, End int
	Resources  map[string]int // how many there are of each: hands, jugs, pots, scales
	Batches    []Batch        // those before go before: what does not fit is the later one
	Hurry      bool           // a tenth of the search does: it is laid again in a minute
}

// effort is how long is searched.
func (d Day) effort(usual int) int {
	if d.Hurry {
		return usual / 10
	}
	return usual
}

// Batch is the steps of a pot.
type Batch struct {
	Name  string
	Steps []Step
}

// Step is one thing that is done, without a break.
type Step struct {
	Name    string
	Minutes int
	Uses    []string          // what it takes while it lasts; a name that stands twice is two of it
	Keeps   map[string]string // what it takes from its start to the end of a later step
	After   []string          // steps of the batch that have ended before
	Within  map[string]int    // the longest pause since a step of the batch ended, in minutes; which is before it, too
	At      int               // it begins then, and at no other time; 0 where that is free
	From    int               // it does not begin before
}

// Placed is when a step is done.
type Placed struct {
	Batch, Name string
	From, To    int
	Slack       int   // how much later it could begin with all of the day as early as it is; 0 where nothing may move
	Waits       *Wait // why it does not begin when all before it is done; nil when it does
}

// Wait is what a step waits for: something that another has until then, or a later step that has to follow soon.
type Wait struct {
	Resource    string // empty where it waits so that another follows in time
	Batch, Step string // who has it, or which step has to follow
	Until       int
}

// Words says what a step waits for.
func (w Wait) Words() string {
	if w.Resource == "" {
		return fmt.Sprintf("waits until %s, so that “%s” follows soon enough", Clock(w.Until), w.Step)
	}
	return fmt.Sprintf("waits for %s until %s: taken by “%s” of %s", w.Resource, Clock(w.Until), w.Step, w.Batch)
}

// Late is a batch that is not made, and why.
type Late struct {
	Batch, Why string
}

// Plan is a day that was laid.
type Plan struct {
	Steps   []Placed // by time, then as the batches stand
	Ends    int      // the last step; the day's start when nothing is made
	AtLeast int      // when the batches that are made cannot be done before, whoever plans
	Proved  bool     // no plan with these batches ends earlier
	Late    []Late
}

// Limits of what is asked: a day has 1440 minutes, and a search has to end.
const (
	Minutes     = 24 * 60
	MostBatches = 40
	MostSteps   = 600 // of all batches
)

// Check finds what cannot be a day. Paths are those of the written form.
func (d Day) Check() (p caution.Problems) {
	switch {
	case d.Start < 0 || d.Start >= Minutes:
		p.Add("start", "give a time of the day")
	case d.End <= d.Start || d.End > Minutes:
		p.Add("end", "has to be later than the start, by 24:00")
	}
	for _, name := range slices.Sorted(maps.Keys(d.Resources)) {
		if n := d.Resources[name]; strings.TrimSpace(name) == "" || n < 0 || n > 1000 {
			p.Add("resources", "“%s”: give a name, and a number from 0 to 1000", name)
		}
	}
	if len(d.Batches) > MostBatches {
		p.Add("batches", "at most %d in a day", MostBatches)
	}
	all := 0
	names := map[string]bool{}
	for i, b := range d.Batches {
		at := fmt.Sprintf("batches[%d]", i)
		if strings.TrimSpace(b.Name) == "" {
			p.Add(at+".name", "give it a name")
		}
		if names[b.Name] {
			p.Add(at+".name", "“%s” stands twice", b.Name)
		}
		names[b.Name] = true
		all += len(b.Steps)
		if len(b.Steps) == 0 {
			p.Add(at+".steps", "a batch has a step at least")
		}
		p = append(p, d.checkSteps(at, b)...)
	}
	if all > MostSteps {
		p.Add("batches", "at most %d steps in a day", MostSteps)
	}
	return p
}

// checkSteps finds what is wrong in the steps of a batch.
func (d Day) checkSteps(at string, b Batch) (p caution.Problems) {
	index := map[string]int{}
	for j, s := range b.Steps {
		path := fmt.Sprintf("%s.steps[%d]", at, j)
		if strings.TrimSpace(s.Name) == "" {
			p.Add(path+".name", "give it a name")
		}
		if _, twice := index[s.Name]; twice {
			p.Add(path+".name", "“%s” stands twice in the batch", s.Name)
		}
		index[s.Name] = j
		if s.Minutes < 0 || s.Minutes > Minutes {
			p.Add(path+".minutes", "give whole minutes, 0 to %d", Minutes)
		}
		if s.At < 0 || s.At > Minutes || s.From < 0 || s.From > Minutes {
			p.Add(path+".at", "give a time of the day")
		} else if s.At > 0 && (s.At < d.Start || s.At+s.Minutes > d.End) {
			p.Add(path+".at", "at %s it is outside of the day", Clock(s.At))
		}
	}
	known := func(path, name string) bool {
		_, ok := index[name]
		if !ok {
			p.Add(path, "“%s” is no step of the batch", name)
		}
		return ok
	}
	for j, s := range b.Steps {
		path := fmt.Sprintf("%s.steps[%d]", at, j)
		for _, name := range s.After {
			known(path+".after", name)
		}
		for _, name := range slices.Sorted(maps.Keys(s.Within)) {
			if n := s.Within[name]; known(path+".within", name) && (n < 0 || n > Minutes) {
				p.Add(path+".within", "give whole minutes, 0 to %d", Minutes)
			}
		}
		for _, name := range s.Uses {
			if _, ok := d.Resources[name]; !ok {
				p.Add(path+".uses", "“%s” is none of the resources", name)
			}
		}
		for _, name := range slices.Sorted(maps.Keys(s.Keeps)) {
			if _, ok := d.Resources[name]; !ok {
				p.Add(path+".keeps", "“%s” is none of the resources", name)
			}
			known(path+".keeps", s.Keeps[name])
		}
	}
	if len(p) > 0 {
		return p
	}
	before := ancestors(b, index)
	for j, s := range b.Steps {
		path := fmt.Sprintf("%s.steps[%d]", at, j)
		if before[j][j] {
			p.Add(path+".after", "“%s” would have to be done before itself", s.Name)
			continue
		}
		for _, name := range slices.Sorted(maps.Keys(s.Keeps)) {
			if z := index[s.Keeps[name]]; z != j && !before[z][j] {
				p.Add(path+".keeps", "“%s” does not come after “%s”: name a later step", s.Keeps[name], s.Name)
			}
		}
	}
	return p
}

// Before are the steps that have ended before a step: those it is after, and those it follows within a pause.
func (s Step) Before() []string {
	out := slices.Clone(s.After)
	for _, name := range slices.Sorted(maps.Keys(s.Within)) {
		if !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	return out
}

// ancestors says of each step which ones come before it, itself among them when they go round in a ring.
func ancestors(b Batch, index map[string]int) []map[int]bool {
	out := make([]map[int]bool, len(b.Steps))
	for j := range b.Steps {
		seen := map[int]bool{}
		todo := []int{j}
		for len(todo) > 0 {
			at := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			for _, name := range b.Steps[at].Before() {
				if i := index[name]; !seen[i] {
					seen[i] = true
					todo = append(todo, i)
				}
			}
		}
		out[j] = seen
	}
	return out
}

// Clock writes minutes after midnight as a time of the day.
func Clock(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// ReadClock reads a time of the day, 00:00 to 24:00.
func ReadClock(text string) (minute int, ok bool) {
	h, m, found := strings.Cut(text, ":")
	if !found || len(h) != 2 || len(m) != 2 || strings.Trim(h+m, "0123456789") != "" {
		return 0, false
	}
	minute = (int(h[0]-'0')*10+int(h[1]-'0'))*60 + int(m[0]-'0')*10 + int(m[1]-'0')
	return minute, m < "60" && minute <= Minutes
}

// Lay lays a day that [Day.Check] finds nothing wrong with.
func Lay(d Day) Plan {
	out := Plan{Ends: d.Start, AtLeast: d.Start, Proved: true}
	forms := formsOf(d)
	var made []int
	var best *net
	for i, b := range d.Batches {
		with := append(slices.Clone(made), i)
		why := d.hopeless(b)
		if why == "" {
			tried := newNet(d, with)
			if why = tried.impossible(); why == "" {
				if board := d.quick(forms, with, true); board != nil {
					made, best = with, board.net(with)
					continue
				}
				if why = tried.fits(); why == "" {
					made, best = with, tried
					continue
				}
			}
		}
		out.Late = append(out.Late, Late{b.Name, why})
	}
	if best == nil {
		return out
	}
	out.AtLeast = d.Start + newNet(d, made).bound()
	if board := d.quick(forms, made, false); board != nil {
		if n := board.net(made); n.ends() < best.ends() {
			best = n
		}
	}
	best, out.Proved = best.better(out.AtLeast - d.Start)
	out.Ends = d.Start + best.ends()
	out.Steps = best.placed()
	slices.SortStableFunc(out.Steps, func(a, b Placed) int { return cmp.Compare(a.From, b.From) })
	return out
}

// hopeless says why a batch could not be made if it were the only one; empty where it could for all that is counted here.
func (d Day) hopeless(b Batch) string {
	for _, s := range b.Steps {
		need := map[string]int{}
		for _, name := range s.Uses {
			need[name]++
		}
		for name := range s.Keeps {
			need[name]++
		}
		for _, name := range slices.Sorted(maps.Keys(need)) {
			if have := d.Resources[name]; have < need[name] && s.Minutes > 0 {
				return fmt.Sprintf("“%s” takes %d of %s, and there are %d", s.Name, need[name], name, have)
			}
		}
	}
	return ""
}
