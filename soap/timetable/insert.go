package timetable

import (
	"cmp"
	"slices"
)

// board is a day with batches at fixed times, minute by minute, into which one more is put as early as it goes. It is
// quick where the search would be long: a full day that is laid batch by batch is rarely far from the best.
type board struct {
	day    Day
	forms  []form
	length int
	free   map[string][]int // how many of a resource are free in each minute
	starts map[int][]int    // of the steps of batches, from the start of the day
}

// form is what the steps of a batch are to each other, worked out once.
type form struct {
	index  map[string]int
	before [][]int
	order  []int // in which they are laid
	keeps  [][]kept
}

// kept is what is taken until the end of a step.
type kept struct {
	name string
	from int
}

func formsOf(d Day) (out []form) {
	for _, b := range d.Batches {
		f := form{index: map[string]int{}, before: make([][]int, len(b.Steps)), keeps: make([][]kept, len(b.Steps))}
		for j, s := range b.Steps {
			f.index[s.Name] = j
		}
		for j, s := range b.Steps {
			for _, name := range s.Before() {
				f.before[j] = append(f.before[j], f.index[name])
			}
			for _, name := range sortedKeys(s.Keeps) {
				z := f.index[s.Keeps[name]]
				f.keeps[z] = append(f.keeps[z], kept{name, j})
			}
		}
		f.order = f.inOrder(b)
		out = append(out, f)
	}
	return out
}

func newBoard(d Day, forms []form) *board {
	b := &board{day: d, forms: forms, length: d.End - d.Start, free: map[string][]int{}, starts: map[int][]int{}}
	for name, n := range d.Resources {
		row := make([]int, b.length)
		for m := range row {
			row[m] = n
		}
		b.free[name] = row
	}
	return b
}

func (b *board) take(name string, from, to, n int) {
	row := b.free[name]
	for m := max(0, from); m < min(to, b.length); m++ {
		row[m] -= n
	}
}

// fullAt is the last minute of a span in which no more of a resource is free, and -1 when there is some in each.
func (b *board) fullAt(name string, from, to int) int {
	row := b.free[name]
	for m := min(to, b.length) - 1; m >= max(0, from); m-- {
		if row[m] < 1 {
			return m
		}
	}
	return -1
}

// mostPasses bounds how often a batch is laid anew because a pause became too long.
const mostPasses = 400

// insert puts a batch in as early as it goes; false, with nothing changed, when it does not.
func (b *board) insert(at int) bool {
	batch := b.day.Batches[at]
	early := make([]int, len(batch.Steps))
	for j, s := range batch.Steps {
		early[j] = max(0, s.From-b.day.Start)
		if s.At > 0 {
			early[j] = s.At - b.day.Start
		}
	}
	for range mostPasses {
		starts, again := b.pass(batch, b.forms[at], early)
		if starts != nil {
			b.starts[at] = starts
			return true
		}
		if !again {
			return false
		}
	}
	return false
}

// pass lays the steps one after the other, each as early as it goes. Where a pause becomes too long, or what is kept is not
// free for long enough, it takes everything back, has the earlier step begin later, and says that it is worth another try.
func (b *board) pass(batch Batch, f form, early []int) (starts []int, again bool) {
	starts = make([]int, len(batch.Steps))
	type taken struct {
		name     string
		from, to int
	}
	var undo []taken
	defer func() {
		if starts == nil {
			for _, u := range undo {
				b.take(u.name, u.from, u.to, -1)
			}
		}
	}()
	take := func(name string, from, to int) {
		b.take(name, from, to, 1)
		undo = append(undo, taken{name, from, to})
	}
	for _, j := range f.order {
		s := batch.Steps[j]
		at := early[j]
		for _, i := range f.before[j] {
			at = max(at, starts[i]+batch.Steps[i].Minutes)
		}
		at = b.freeFrom(s, at)
		if at+s.Minutes > b.length || s.At > 0 && at != s.At-b.day.Start {
			return nil, false
		}
		for name, pause := range s.Within {
			i := f.index[name]
			if late := at - starts[i] - batch.Steps[i].Minutes - pause; late > 0 {
				return nil, b.later(batch, early, i, starts[i]+late)
			}
		}
		starts[j] = at
		for _, name := range s.Uses {
			take(name, at, at+s.Minutes)
		}
		for _, k := range f.keeps[j] {
			if full := b.fullAt(k.name, starts[k.from], at+s.Minutes); full >= 0 {
				return nil, b.later(batch, early, k.from, full+1)
			}
			take(k.name, starts[k.from], at+s.Minutes)
		}
	}
	return starts, false
}

// later has a step begin later, and says whether that can be.
func (b *board) later(batch Batch, early []int, step, at int) bool {
	if batch.Steps[step].At > 0 || at <= early[step] || at > b.length {
		return false
	}
	early[step] = at
	return true
}

// freeFrom is the first minute from which on a step has what it uses, and can begin to keep what it keeps.
func (b *board) freeFrom(s Step, at int) int {
	for again := true; again && at+s.Minutes <= b.length; {
		again = false
		wait := func(name string, minutes int) {
			if full := b.fullAt(name, at, at+minutes); full >= 0 {
				at, again = full+1, true
			}
		}
		for i, name := range s.Uses {
			need := 1
			for _, other := range s.Uses[:i] {
				if other == name {
					need++
				}
			}
			for m := at; need > 1 && m < min(at+s.Minutes, b.length); m++ {
				if b.free[name][m] < need {
					at, again = m+1, true
					break
				}
			}
			wait(name, s.Minutes)
		}
		for name := range s.Keeps {
			wait(name, max(1, s.Minutes))
		}
	}
	return at
}

// inOrder are the steps of a batch, each after all that come before it; of several that may, those with the longest way
// still before them first.
func (f form) inOrder(batch Batch) (out []int) {
	long := make([]int, len(batch.Steps))
	var way func(j int) int
	way = func(j int) int {
		if long[j] == 0 {
			long[j] = batch.Steps[j].Minutes + 1
			for k := range batch.Steps {
				if slices.Contains(f.before[k], j) {
					long[j] = max(long[j], batch.Steps[j].Minutes+1+way(k))
				}
			}
		}
		return long[j]
	}
	done := make([]bool, len(batch.Steps))
	for range batch.Steps {
		best := -1
		for j := range batch.Steps {
			if done[j] || slices.ContainsFunc(f.before[j], func(i int) bool { return !done[i] }) {
				continue
			}
			if best < 0 || way(j) > way(best) {
				best = j
			}
		}
		done[best] = true
		out = append(out, best)
	}
	return out
}

// lay puts all batches in, in an order; false when one does not go.
func (b *board) lay(order []int) bool {
	for _, at := range order {
		if !b.insert(at) {
			return false
		}
	}
	return true
}

// ends is when the last step is done, from the start of the day.
func (b *board) ends() (end int) {
	for at, starts := range b.starts {
		for j, from := range starts {
			end = max(end, from+b.day.Batches[at].Steps[j].Minutes)
		}
	}
	return end
}

// orders are some orders in which batches could be put in: those that are fixed in part first, then as they stand, the
// longest first, the shortest first, and each of them first.
func (d Day) orders(batches []int) (out [][]int) {
	fixed := func(i int) int {
		if slices.ContainsFunc(d.Batches[i].Steps, func(s Step) bool { return s.At > 0 }) {
			return 0
		}
		return 1
	}
	length := func(i int) (n int) {
		for _, s := range d.Batches[i].Steps {
			n += s.Minutes
		}
		return n
	}
	add := func(by func(a, b int) int) {
		list := slices.Clone(batches)
		slices.SortStableFunc(list, func(a, b int) int { return cmp.Or(cmp.Compare(fixed(a), fixed(b)), by(a, b)) })
		if !slices.ContainsFunc(out, func(have []int) bool { return slices.Equal(have, list) }) {
			out = append(out, list)
		}
	}
	add(func(int, int) int { return 0 })
	add(func(a, b int) int { return length(b) - length(a) })
	add(func(a, b int) int { return length(a) - length(b) })
	add(func(a, b int) int { return b - a })
	for _, first := range batches {
		add(func(a, b int) int {
			switch first {
			case a:
				return -1
			case b:
				return 1
			}
			return 0
		})
	}
	return out
}

// quick lays batches one by one, in some orders, and gives the best; nil when none goes.
func (d Day) quick(forms []form, batches []int, enough bool) (best *board) {
	for _, order := range d.orders(batches) {
		b := newBoard(d, forms)
		if b.lay(order) && (best == nil || b.ends() < best.ends()) {
			best = b
			if enough {
				return best
			}
		}
	}
	return best
}

// net is the board as a network, in which each step can be as early as those before it let it be.
func (b *board) net(batches []int) *net {
	n := newNet(b.day, batches)
	at := func(i int) int { return b.starts[n.nodes[i].batch][n.nodes[i].step] }
	for r, list := range n.byRes {
		slices.SortFunc(list, func(x, y int) int {
			return cmp.Or(cmp.Compare(at(n.holds[x].from), at(n.holds[y].from)), cmp.Compare(x, y))
		})
		chains := make([]int, n.room[r]) // the newest hold of each of them, by one
		for _, h := range list {
			one := n.holds[h]
			for c, newest := range chains {
				if newest == 0 {
					chains[c] = h + 1
					break
				}
				before := n.holds[newest-1]
				if at(before.until)+n.nodes[before.until].minutes <= at(one.from) {
					n.post(before, one)
					chains[c] = h + 1
					break
				}
			}
		}
	}
	if len(n.conflict(nil)) > 0 { // what took no time would take some if it moved: all stays where it is
		for i := range n.nodes {
			n.first[i] = at(i)
		}
	}
	return n
}
