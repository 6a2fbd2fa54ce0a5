package timetable

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
)

// Broken is a rule that a plan breaks at a step.
type Broken struct {
	Batch, Step string
	Why         string
}

// Judge says what is wrong with a plan of a day that somebody made, such as one in which a step was moved by hand. Batches
// of which no step is placed are not judged.
func Judge(d Day, steps []Placed) (out []Broken) {
	type key struct{ batch, step string }
	from := map[key]int{}
	for _, s := range steps {
		from[key{s.Batch, s.Name}] = s.From
	}
	var spans []span
	for _, b := range d.Batches {
		ended := func(s Step) int { return from[key{b.Name, s.Name}] + s.Minutes }
		byName := map[string]Step{}
		for _, s := range b.Steps {
			byName[s.Name] = s
		}
		for _, s := range b.Steps {
			at, ok := from[key{b.Name, s.Name}]
			if !ok {
				continue
			}
			broken := func(format string, args ...any) {
				out = append(out, Broken{b.Name, s.Name, fmt.Sprintf(format, args...)})
			}
			if at < d.Start {
				broken("it begins at %s, before the day does", Clock(max(0, at)))
			}
			if ended(s) > d.End {
				broken("it ends at %s, after the day does", Clock(ended(s)))
			}
			if s.From > at {
				broken("it cannot begin before %s", Clock(s.From))
			}
			for _, name := range s.Before() {
				if gone := ended(byName[name]); gone > at {
					broken("“%s” is done at %s, and it begins at %s", name, Clock(gone), Clock(at))
				}
			}
			for _, name := range slices.Sorted(maps.Keys(s.Within)) {
				if pause := at - ended(byName[name]); pause > s.Within[name] {
					broken("it is %s after “%s”, and %s is the longest", lasting(pause), name, lasting(s.Within[name]))
				}
			}
			for _, name := range s.Uses {
				spans = append(spans, span{name, b.Name, s.Name, at, ended(s)})
			}
			for _, name := range sortedKeys(s.Keeps) {
				spans = append(spans, span{name, b.Name, s.Name, at, ended(byName[s.Keeps[name]])})
			}
		}
	}
	return append(out, d.over(spans)...)
}

// span is something that a step takes, for a time.
type span struct {
	resource, batch, step string
	from, until           int
}

// over are the steps that take more of something than there is, each time that it begins to be so.
func (d Day) over(spans []span) (out []Broken) {
	spans = slices.DeleteFunc(spans, func(s span) bool { return s.until <= s.from })
	slices.SortStableFunc(spans, func(a, b span) int { return cmp.Compare(a.from, b.from) })
	for i, s := range spans {
		taken := 1
		for _, other := range spans[:i] {
			if other.resource == s.resource && other.until > s.from {
				taken++
			}
		}
		if taken > d.Resources[s.resource] {
			out = append(out, Broken{s.batch, s.step, fmt.Sprintf("%d of %s would be taken at %s, of %d", taken, s.resource, Clock(s.from),
				d.Resources[s.resource])})
		}
	}
	return out
}

// Gain is what one more of something would bring.
type Gain struct {
	Resource string
	Earlier  int // minutes that the day would end earlier
	More     int // batches that could be made besides
}

// Gains says of each resource what one more of it would bring; those that bring nothing are left out.
func Gains(d Day, p Plan) (out []Gain) {
	for _, name := range slices.Sorted(maps.Keys(d.Resources)) {
		with := d
		with.Resources = maps.Clone(d.Resources)
		with.Resources[name]++
		got := Lay(with)
		g := Gain{name, p.Ends - got.Ends, len(p.Late) - len(got.Late)}
		if g.More > 0 || g.More == 0 && g.Earlier > 0 {
			out = append(out, g)
		}
	}
	return out
}
