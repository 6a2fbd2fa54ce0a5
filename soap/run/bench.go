package run

import (
	"slices"

	"ashshelf/soap/caution"
	"ashshelf/soap/timetable"
)

// Bench is who and what is there on a day, and for how long; and what somebody wants done at a time of it. Times are minutes
// after midnight.
type Bench struct {
	Start, End int
	Has        []Resource
	Moved      []Moved
	Note       string // for everybody who is there
}

// Resource is how many there are of something, by the names of what a pot takes.
type Resource struct {
	Name  string
	Count int
}

// Moved is a step of a batch that begins at a time, whatever else.
type Moved struct {
	Batch, Step string
	At          int
}

// Resources are what can be few on a day, in the order in which one asks for them.
func Resources() []string { return []string{Hands, JugAway, PotAway, Scale, Blender, Heat, OvenPlace} }

// Laned are those of [Resources] that a day is drawn by: what a step takes and gives back. What is full in the oven stays full.
func Laned() []string {
	return slices.DeleteFunc(Resources(), func(name string) bool { return name == OvenPlace })
}

// Limits of a bench.
const (
	mostOfEach = 20
	mostMoved  = 200
)

// Count is how many there are of something.
func (b Bench) Count(name string) int {
	for _, t := range b.Has {
		if t.Name == name {
			return t.Count
		}
	}
	return 0
}

// With is the bench with so many of something.
func (b Bench) With(name string, count int) Bench {
	b.Has = slices.DeleteFunc(slices.Clone(b.Has), func(t Resource) bool { return t.Name == name })
	b.Has = append(b.Has, Resource{name, count})
	return b
}

// Check finds what cannot be a bench.
func (b Bench) Check() (p caution.Problems) {
	for _, name := range Resources() {
		if n := b.Count(name); n < 0 || n > mostOfEach {
			p.Add(name, "say how many there are, 0 to %d", mostOfEach)
		}
	}
	if b.Start < 0 || b.End > timetable.Minutes {
		p.Add("start", "give times of the day")
	}
	if b.End <= b.Start {
		p.Add("end", "the day has to end after it begins")
	}
	p.Name("note", b.Note)
	if len(b.Moved) > mostMoved {
		p.Add("at", "at most %d steps can be put at a time", mostMoved)
	}
	return p
}

// ToCome is a step of no length at which a pot that does not hurry begins to be waited for.
const ToCome = "to come"

// HurriesLast has the pots of a day that hurry meet their lye only when all others are in their molds: then nobody is called
// away from them, and nothing else suffers if they seize. calm is how many they wait for, as there have to be of [Calm].
func HurriesLast(batches []timetable.Batch, hurries map[string]bool, start int) (out []timetable.Batch, calm int) {
	waits := slices.ContainsFunc(batches, func(b timetable.Batch) bool { return hurries[b.Name] && has(b, MeetWork) })
	for _, b := range batches {
		if waits && !hurries[b.Name] && has(b, PourWork) {
			b = waitedFor(b, start)
			calm++
		}
		out = append(out, b)
	}
	for i, b := range out {
		if !hurries[b.Name] {
			continue
		}
		out[i].Steps = slices.Clone(b.Steps)
		for j, s := range b.Steps {
			if s.Name == MeetWork {
				out[i].Steps[j].Uses = append(slices.Clone(s.Uses), slices.Repeat([]string{Calm}, calm)...)
			}
		}
	}
	return out, calm
}

func has(b timetable.Batch, step string) bool {
	return slices.ContainsFunc(b.Steps, func(s timetable.Step) bool { return s.Name == step })
}

// waitedFor is a pot with a step before all that is not fixed, from which on it is waited for until it is poured.
func waitedFor(b timetable.Batch, start int) timetable.Batch {
	out := timetable.Batch{Name: b.Name, Steps: []timetable.Step{{Name: ToCome, At: max(1, start), Keeps: map[string]string{Calm: PourWork}}}}
	for _, s := range b.Steps {
		if s.At == 0 || s.Name == PourWork {
			s.After = append(slices.Clone(s.After), ToCome)
		}
		out.Steps = append(out.Steps, s)
	}
	return out
}

// Aside reports whether a step only says what is taken, and is nothing that somebody does.
func Aside(step string) bool { return step == InHand || step == ToCome }
