package timetable_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/timetable"
)

// wrong says what is wrong with starts of the steps of a day, by batch and step; it knows nothing of how they came about.
func wrong(d timetable.Day, starts map[[2]string]int) string {
	use := map[string][]int{} // by minute
	take := func(name string, from, to int) {
		if use[name] == nil {
			use[name] = make([]int, timetable.Minutes+1)
		}
		for m := from; m < to; m++ {
			use[name][m]++
		}
	}
	for _, b := range d.Batches {
		ends := map[string]int{}
		for _, s := range b.Steps {
			if from, ok := starts[[2]string{b.Name, s.Name}]; ok {
				ends[s.Name] = from + s.Minutes
			}
		}
		if len(ends) == 0 {
			continue
		}
		if len(ends) != len(b.Steps) {
			return b.Name + " is made in part"
		}
		for _, s := range b.Steps {
			from := starts[[2]string{b.Name, s.Name}]
			if from < d.Start || ends[s.Name] > d.End {
				return s.Name + " is outside of the day"
			}
			for _, name := range s.After {
				if ends[name] > from {
					return s.Name + " before " + name
				}
			}
			for name, pause := range s.Within {
				if ends[name] > from || from-ends[name] > pause {
					return s.Name + " not within the pause after " + name
				}
			}
			for _, name := range s.Uses {
				take(name, from, ends[s.Name])
			}
			for name, until := range s.Keeps {
				take(name, from, ends[until])
			}
		}
	}
	for name, list := range use {
		if n := slices.Max(list); n > d.Resources[name] {
			return fmt.Sprintf("%d of %s at once", n, name)
		}
	}
	return ""
}

func startsOf(p timetable.Plan) map[[2]string]int {
	out := map[[2]string]int{}
	for _, s := range p.Steps {
		out[[2]string{s.Batch, s.Name}] = s.From
	}
	return out
}

// aDay is any day: so many batches of so many steps, in units of minutes.
func aDay(batches, steps, unit, length int) *rapid.Generator[timetable.Day] {
	return rapid.Custom(func(t *rapid.T) timetable.Day {
		d := timetable.Day{Start: 480, End: 480 + unit*length, Resources: map[string]int{
			"hands": rapid.IntRange(1, 2).Draw(t, "hands"), "jug": rapid.IntRange(1, 2).Draw(t, "jugs"), "pot": 1}}
		names := []string{"hands", "jug", "pot"}
		for b := range rapid.IntRange(1, batches).Draw(t, "batches") {
			one := timetable.Batch{Name: string(rune('A' + b))}
			many := rapid.IntRange(1, steps).Draw(t, "steps")
			for j := range many {
				s := timetable.Step{Name: fmt.Sprint("step ", j), Minutes: unit * rapid.IntRange(0, 4).Draw(t, "minutes"),
					Keeps: map[string]string{}, Within: map[string]int{}}
				for i := range j {
					switch rapid.IntRange(0, 5).Draw(t, "order") {
					case 0, 1:
						s.After = append(s.After, fmt.Sprint("step ", i))
					case 2:
						s.Within[fmt.Sprint("step ", i)] = unit * rapid.IntRange(0, 3).Draw(t, "pause")
					}
				}
				for _, name := range names {
					if rapid.IntRange(0, 3).Draw(t, name) == 0 {
						s.Uses = append(s.Uses, name)
					}
				}
				one.Steps = append(one.Steps, s)
			}
			for j := range one.Steps { // keeps until a step that comes after it
				if rapid.IntRange(0, 2).Draw(t, "keeps") == 0 {
					for z := many - 1; z > j; z-- {
						if slices.Contains(one.Steps[z].Before(), one.Steps[j].Name) {
							one.Steps[j].Keeps[names[rapid.IntRange(1, 2).Draw(t, "what")]] = one.Steps[z].Name
							break
						}
					}
				}
			}
			d.Batches = append(d.Batches, one)
		}
		return d
	})
}

// bestOf tries all plans of all that are to be made, and gives the earliest end; 0 when there is none.
func bestOf(d timetable.Day, unit int, made []string) int {
	var steps []struct {
		b timetable.Batch
		s timetable.Step
	}
	for _, b := range d.Batches {
		if slices.Contains(made, b.Name) {
			for _, s := range b.Steps {
				steps = append(steps, struct {
					b timetable.Batch
					s timetable.Step
				}{b, s})
			}
		}
	}
	part := d
	part.Batches = slices.DeleteFunc(slices.Clone(d.Batches), func(b timetable.Batch) bool { return !slices.Contains(made, b.Name) })
	best := 0
	starts := map[[2]string]int{}
	var try func(i, end int)
	try = func(i, end int) {
		if best > 0 && end >= best {
			return
		}
		if i == len(steps) {
			if wrong(part, starts) == "" {
				best = end
			}
			return
		}
		b, s := steps[i].b, steps[i].s
		for at := d.Start; at+s.Minutes <= d.End; at += unit {
			ok := true
			for _, name := range s.Before() {
				k := slices.IndexFunc(b.Steps, func(o timetable.Step) bool { return o.Name == name })
				gone := starts[[2]string{b.Name, name}] + b.Steps[k].Minutes
				pause, limited := s.Within[name]
				ok = ok && gone <= at && (!limited || at-gone <= pause)
			}
			if !ok {
				continue
			}
			starts[[2]string{b.Name, s.Name}] = at
			try(i+1, max(end, at+s.Minutes))
			delete(starts, [2]string{b.Name, s.Name})
		}
	}
	try(0, d.Start)
	return best
}

// On days small enough to try all there is, no plan ends earlier, the bound is not above it, and a batch is left out only
// when there is no way to make it with those before it.
func TestSmallDaysAreAsShortAsTheyCanBe(t *testing.T) {
	const unit = 30
	rapid.Check(t, func(t *rapid.T) {
		d := aDay(3, 2, unit, rapid.IntRange(2, 8).Draw(t, "length")).Draw(t, "day")
		if p := d.Check(); len(p) > 0 {
			t.Fatal(p)
		}
		plan := timetable.Lay(d)
		if w := wrong(d, startsOf(plan)); w != "" {
			t.Fatalf("%s: %+v", w, plan)
		}
		var made []string
		for _, b := range d.Batches {
			best := bestOf(d, unit, append(slices.Clone(made), b.Name))
			late := slices.ContainsFunc(plan.Late, func(l timetable.Late) bool { return l.Batch == b.Name })
			if late != (best == 0) {
				t.Fatalf("%s: late %v, and the best with it ends at %d: %+v", b.Name, late, best, plan)
			}
			if !late {
				made = append(made, b.Name)
			}
		}
		if len(made) == 0 {
			return
		}
		if best := bestOf(d, unit, made); plan.Ends != best || plan.AtLeast > best || !plan.Proved {
			t.Fatalf("ends %d, at least %d, proved %v, and the best is %d", plan.Ends, plan.AtLeast, plan.Proved, best)
		}
	})
}

// A thousand random days: nothing out of order, nothing taken twice, no pause too long, and the bound below the end.
func TestNoDayBreaksARule(t *testing.T) {
	made, days := 0, 0
	for seed := range 1000 {
		d := aDay(8, 8, 15, 36).Example(seed)
		require.Empty(t, d.Check())
		plan := timetable.Lay(d)
		require.Empty(t, wrong(d, startsOf(plan)), "day %d", seed)
		require.LessOrEqual(t, plan.AtLeast, plan.Ends)
		require.Equal(t, len(d.Batches), len(plan.Late)+batchesOf(plan))
		made += batchesOf(plan)
		days += len(d.Batches)
		if seed%50 == 0 {
			require.Equal(t, plan, timetable.Lay(d), "the same day is laid the same way")
		}
	}
	assert.Greater(t, made, days/3, "most are made")
}

func batchesOf(p timetable.Plan) int {
	names := map[string]bool{}
	for _, s := range p.Steps {
		names[s.Batch] = true
	}
	return len(names)
}

// Whatever somebody moves, the judge finds fault exactly when there is one.
func TestTheJudgeFindsFaultExactlyWhenThereIsOne(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := aDay(3, 4, 15, 24).Draw(t, "day")
		plan := timetable.Lay(d)
		if got := timetable.Judge(d, plan.Steps); len(got) > 0 {
			t.Fatalf("%+v of a plan that was laid", got)
		}
		if len(plan.Steps) == 0 {
			return
		}
		moved := slices.Clone(plan.Steps)
		i := rapid.IntRange(0, len(moved)-1).Draw(t, "step")
		moved[i].From += 15 * rapid.IntRange(-8, 8).Draw(t, "by")
		got, want := timetable.Judge(d, moved), wrong(d, startsOf(timetable.Plan{Steps: moved}))
		if (len(got) > 0) != (want != "") {
			t.Fatalf("%+v, and %q", got, want)
		}
	})
}

// A step that is moved by hand stays where it was put, and what must moves with it.
func TestWhatIsFixedStaysAndTheRestMoves(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := aDay(3, 4, 15, 40).Draw(t, "day")
		plan := timetable.Lay(d)
		if len(plan.Steps) == 0 {
			return
		}
		one := plan.Steps[rapid.IntRange(0, len(plan.Steps)-1).Draw(t, "step")]
		at := one.From + 10*rapid.IntRange(0, 6).Draw(t, "by")
		for b := range d.Batches {
			for j := range d.Batches[b].Steps {
				if d.Batches[b].Name == one.Batch && d.Batches[b].Steps[j].Name == one.Name {
					d.Batches[b].Steps[j].At = at
				}
			}
		}
		again := timetable.Lay(d)
		if w := wrong(d, startsOf(again)); w != "" {
			t.Fatal(w)
		}
		for _, s := range again.Steps {
			if s.Batch == one.Batch && s.Name == one.Name && s.From != at {
				t.Fatalf("it was put at %d and stands at %d", at, s.From)
			}
		}
	})
}

// long is a day of eight batches of thirty steps, as a workshop of two people has it at the most.
func long() timetable.Day {
	d := timetable.Day{Start: 0, End: 1440, Resources: map[string]int{"hands": 2, "jug": 3, "pot": 3, "scale": 1, "blender": 1, "oven": 1}}
	for b := range 8 {
		one := timetable.Batch{Name: string(rune('A' + b))}
		for j := range 30 {
			s := timetable.Step{Name: fmt.Sprint(j), Minutes: 2 + (j*7+b*3)%9, Uses: []string{"hands"}}
			switch {
			case j < 8:
				s.Uses = append(s.Uses, "scale")
				if j > 0 {
					s.After = []string{fmt.Sprint(j - 1)}
				}
				if j == 0 {
					s.Keeps = map[string]string{"jug": "18"}
				}
			case j == 8:
				s.Uses, s.Minutes, s.After = nil, 50, []string{"7"} // it cools
			case j < 18:
				s.Uses = append(s.Uses, "scale")
				if j > 9 {
					s.After = []string{fmt.Sprint(j - 1)}
				} else {
					s.Keeps = map[string]string{"pot": "25"}
				}
			case j == 18:
				s.After, s.Within = []string{"8", "17"}, map[string]int{"8": 60}
				s.Uses = append(s.Uses, "blender")
			default:
				s.After, s.Within = []string{fmt.Sprint(j - 1)}, map[string]int{fmt.Sprint(j - 1): 15}
			}
			one.Steps = append(one.Steps, s)
		}
		d.Batches = append(d.Batches, one)
	}
	return d
}

func TestALongDayIsLaidWhole(t *testing.T) {
	d := long()
	require.Empty(t, d.Check())
	start := time.Now()
	plan := timetable.Lay(d)
	t.Log(time.Since(start), plan.Ends, plan.AtLeast, plan.Late)
	assert.Empty(t, wrong(d, startsOf(plan)))
	assert.Empty(t, plan.Late)
	assert.Less(t, float64(plan.Ends), 1.25*float64(plan.AtLeast))
}

func BenchmarkEightBatchesOfThirtySteps(b *testing.B) {
	d := long()
	for b.Loop() {
		timetable.Lay(d)
	}
}

// Every time that something is taken stands in a lane, none over another, and there are no more lanes than there is of it.
func TestLanesHoldAllThatIsTaken(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := aDay(4, 5, 15, 40).Draw(t, "day")
		plan := timetable.Lay(d)
		lanes := timetable.Lanes(d, plan, []string{"hands", "jug", "pot"})
		count, minutes := map[string]int{}, 0
		for _, l := range lanes {
			count[l.Resource]++
			for i, b := range l.Bars {
				minutes += b.Until - b.From
				if i > 0 && l.Bars[i-1].Until > b.From {
					t.Fatalf("%+v over %+v", b, l.Bars[i-1])
				}
			}
		}
		for _, name := range []string{"hands", "jug", "pot"} {
			if count[name] != d.Resources[name] {
				t.Fatalf("%d lanes of %s", count[name], name)
			}
		}
		ends, want := map[[2]string]int{}, 0
		for _, one := range plan.Steps {
			ends[[2]string{one.Batch, one.Name}] = one.To
		}
		for _, b := range d.Batches {
			for _, s := range b.Steps {
				to, made := ends[[2]string{b.Name, s.Name}]
				if !made {
					continue
				}
				want += s.Minutes * len(s.Uses)
				for _, until := range s.Keeps {
					want += ends[[2]string{b.Name, until}] - (to - s.Minutes)
				}
				if len(s.Uses) == 0 && len(s.Keeps) == 0 {
					want += s.Minutes
				}
			}
		}
		if minutes != want {
			t.Fatalf("%d minutes of %d", minutes, want)
		}
	})
}
