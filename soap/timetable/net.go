package timetable

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// net is the network of steps: nodes are steps, an edge says that one begins so many minutes after another at the least.
// Times count from the start of the day.
type net struct {
	day       Day
	length    int // of the day
	nodes     []node
	out, in   [][]edge
	first     []int // the earliest start of each
	last      []int // the latest start of each, for the end that is asked for
	holds     []hold
	byRes     [][]int // holds of each resource, in the order of their starts
	names     []string
	room      []int  // of each resource
	pairs     []pair // of holds that cannot be at once
	settled   []bool // of each pair
	trail     []change
	queue     []int
	queued    []bool
	broken    bool // it cannot be, with nothing tried yet
	left      int  // steps of the search that are left
	exhausted bool // they were used up
}

type node struct {
	batch, step int
	minutes     int
}

type edge struct {
	to     int
	least  int // minutes from one start to the other, at the least
	reason reason
}

// reason is why an edge is there.
type reason struct {
	kind     byte // 'o' order, 'w' within, 'r' a resource
	resource int
}

// hold is something that is taken from the start of a step to the end of the same or a later one.
type hold struct {
	resource, from, until int
}

// pair is two holds of something of which there is one.
type pair struct{ a, b int }

// change is what is taken back.
type change struct {
	kind byte // 'f' first, 'l' last, 'e' an edge, 'p' a pair
	at   int
	was  int
	to   int
}

// newNet is the network of some batches, with all that is fixed, and nothing decided.
func newNet(d Day, batches []int) *net {
	n := &net{day: d, length: d.End - d.Start}
	resource := map[string]int{}
	for name := range d.Resources {
		n.names = append(n.names, name)
	}
	slices.Sort(n.names)
	for i, name := range n.names {
		resource[name] = i
		n.room = append(n.room, d.Resources[name])
	}
	n.byRes = make([][]int, len(n.names))
	for _, bi := range batches {
		b := d.Batches[bi]
		base := len(n.nodes)
		index := map[string]int{}
		for j, s := range b.Steps {
			index[s.Name] = base + j
			n.nodes = append(n.nodes, node{bi, j, s.Minutes})
			n.out, n.in = append(n.out, nil), append(n.in, nil)
		}
		for j, s := range b.Steps {
			for _, name := range s.Before() {
				n.edge(index[name], base+j, n.nodes[index[name]].minutes, reason{kind: 'o'})
			}
			for name, pause := range s.Within {
				n.edge(base+j, index[name], -(n.nodes[index[name]].minutes + pause), reason{kind: 'w'})
			}
			for _, name := range s.Uses {
				n.hold(resource[name], base+j, base+j)
			}
			for _, name := range sortedKeys(s.Keeps) {
				n.hold(resource[name], base+j, index[s.Keeps[name]])
			}
		}
	}
	n.pair()
	n.first, n.last = make([]int, len(n.nodes)), make([]int, len(n.nodes))
	n.queued = make([]bool, len(n.nodes))
	n.until(n.length)
	return n
}

// pair finds the holds of which one ends before the other begins, whatever else: those of what there is one of.
func (n *net) pair() {
	long := make([]bool, len(n.holds))
	for i, h := range n.holds {
		long[i] = n.shortest(h) > 0
	}
	for r, list := range n.byRes {
		if n.room[r] != 1 {
			continue
		}
		for x, i := range list {
			for _, j := range list[x+1:] {
				if long[i] && long[j] {
					n.pairs = append(n.pairs, pair{i, j})
				}
			}
		}
	}
	n.settled = make([]bool, len(n.pairs))
}

func sortedKeys(m map[string]string) (out []string) {
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

func (n *net) hold(resource, from, until int) {
	n.byRes[resource] = append(n.byRes[resource], len(n.holds))
	n.holds = append(n.holds, hold{resource, from, until})
}

func (n *net) edge(from, to, least int, why reason) {
	n.out[from] = append(n.out[from], edge{to, least, why})
	n.in[to] = append(n.in[to], edge{from, least, why})
}

// until begins anew with an end that is asked for.
func (n *net) until(end int) {
	n.broken = false
	for i, one := range n.nodes {
		s := n.day.Batches[one.batch].Steps[one.step]
		n.first[i], n.last[i] = max(0, s.From-n.day.Start), end-one.minutes
		if s.At > 0 {
			n.first[i], n.last[i] = s.At-n.day.Start, min(n.last[i], s.At-n.day.Start)
		}
	}
	for i := range n.nodes {
		if n.first[i] > n.last[i] || !n.spread(i) {
			n.broken = true
			break
		}
	}
	n.trail = n.trail[:0]
}

// spread carries what changed at a step on to all that hang on it; false when it cannot be.
func (n *net) spread(at int) bool {
	n.queue = append(n.queue[:0], at)
	n.queued[at] = true
	ok := true
	for len(n.queue) > 0 {
		i := n.queue[len(n.queue)-1]
		n.queue = n.queue[:len(n.queue)-1]
		n.queued[i] = false
		if !ok {
			continue
		}
		for _, e := range n.out[i] {
			if t := n.first[i] + e.least; t > n.first[e.to] {
				n.trail = append(n.trail, change{'f', e.to, n.first[e.to], 0})
				n.first[e.to] = t
				ok = ok && t <= n.last[e.to]
				n.enqueue(e.to)
			}
		}
		for _, e := range n.in[i] {
			if t := n.last[i] - e.least; t < n.last[e.to] {
				n.trail = append(n.trail, change{'l', e.to, n.last[e.to], 0})
				n.last[e.to] = t
				ok = ok && t >= n.first[e.to]
				n.enqueue(e.to)
			}
		}
	}
	return ok
}

func (n *net) enqueue(i int) {
	if !n.queued[i] {
		n.queued[i] = true
		n.queue = append(n.queue, i)
	}
}

// post says that one hold ends before another begins; false when that cannot be.
func (n *net) post(before, after hold) bool {
	from, to := before.until, after.from
	n.edge(from, to, n.nodes[from].minutes, reason{'r', before.resource})
	n.trail = append(n.trail, change{'e', from, 0, to})
	if from == to {
		return false
	}
	return n.spread(from) && n.spread(to)
}

// back takes back what was done since a mark.
func (n *net) back(mark int) {
	for len(n.trail) > mark {
		c := n.trail[len(n.trail)-1]
		n.trail = n.trail[:len(n.trail)-1]
		switch c.kind {
		case 'f':
			n.first[c.at] = c.was
		case 'l':
			n.last[c.at] = c.was
		case 'e':
			n.out[c.at] = n.out[c.at][:len(n.out[c.at])-1]
			n.in[c.to] = n.in[c.to][:len(n.in[c.to])-1]
		case 'p':
			n.settled[c.at] = false
		}
	}
}

func (n *net) begins(h hold) int { return n.first[h.from] }
func (n *net) ended(h hold) int  { return n.first[h.until] + n.nodes[h.until].minutes }

// ends is when the last step is done.
func (n *net) ends() (end int) {
	for i, one := range n.nodes {
		end = max(end, n.first[i]+one.minutes)
	}
	return end
}

// conflict is the first time at which more of something is taken than there is, when all is as early as it can be: as many
// who take it as there is, and one more. Empty when there is none.
func (n *net) conflict(into []int) []int {
	at := math.MaxInt
	into = into[:0]
	var active []int
	for r, list := range n.byRes {
		for i := 1; i < len(list); i++ { // they are nearly in order
			for j := i; j > 0 && n.earlier(list[j], list[j-1]); j-- {
				list[j], list[j-1] = list[j-1], list[j]
			}
		}
		active = active[:0]
		for _, h := range list {
			begins := n.begins(n.holds[h])
			if begins >= at {
				break
			}
			if n.ended(n.holds[h]) <= begins {
				continue // it takes no time
			}
			active = slices.DeleteFunc(active, func(a int) bool { return n.ended(n.holds[a]) <= begins })
			active = append(active, h)
			if len(active) > n.room[r] {
				at = begins
				into = append(into[:0], active...)
				break
			}
		}
	}
	return into
}

func (n *net) earlier(a, b int) bool {
	if x, y := n.begins(n.holds[a]), n.begins(n.holds[b]); x != y {
		return x < y
	}
	return a < b
}

// order is that one hold ends before another begins, and what it would cost.
type order struct {
	before, after int
	end           int // the day would end then at the earliest
	shift         int // by how much the later one moves
}

// orders are the ways out of a conflict, the most promising first.
func (n *net) orders(conflict []int, end int) (out []order) {
	for _, i := range conflict {
		for _, j := range conflict {
			a, b := n.holds[i], n.holds[j]
			if i == j || n.ended(a) > n.last[b.from] {
				continue
			}
			out = append(out, order{i, j, n.ended(a) + end - n.last[b.from], n.ended(a) - n.begins(b)})
		}
	}
	slices.SortFunc(out, func(x, y order) int {
		return cmp.Or(cmp.Compare(x.end, y.end), cmp.Compare(x.shift, y.shift), cmp.Compare(x.before, y.before), cmp.Compare(x.after, y.after))
	})
	return out
}

// settle puts pairs in order of which only one is left; false when a pair has none. Among those that are at once when all is
// as early as it can be it names the one with the least room, and -1 when there is none.
func (n *net) settle() (tightest int, ok bool) {
	tightest = -1
	least := math.Inf(1)
	for i, p := range n.pairs {
		if n.settled[i] {
			continue
		}
		a, b := n.holds[p.a], n.holds[p.b]
		ab, ba := n.last[b.from]-n.ended(a), n.last[a.from]-n.ended(b)
		switch {
		case ab < 0 && ba < 0:
			return -1, false
		case ab < 0 || ba < 0:
			if ab < 0 {
				a, b = b, a
			}
			n.settled[i] = true
			n.trail = append(n.trail, change{'p', i, 0, 0})
			if !n.before(a, b) && !n.post(a, b) {
				return -1, false
			}
		case n.begins(a) < n.ended(b) && n.begins(b) < n.ended(a):
			// the bias of Smith and Cheng (1993): of two alike, the one whose orders are alike as well
			few, many := float64(min(ab, ba)+1), float64(max(ab, ba)+1)
			if room := few / math.Sqrt(few/many); room < least {
				least, tightest = room, i
			}
		}
	}
	return tightest, true
}

// before reports whether one hold ends before another begins by the edges that are there.
func (n *net) before(a, b hold) bool {
	for _, e := range n.out[a.until] {
		if e.to == b.from && e.least >= n.nodes[a.until].minutes {
			return true
		}
	}
	return false
}

// search looks for a plan that departs from the most promising order so often at the most; cut says that there were others.
func (n *net) search(end, departures int) (found, cut bool) {
	if n.left -= 1 + len(n.holds)/8 + len(n.pairs)/32; n.left < 0 {
		n.exhausted = true
		return false, true
	}
	tightest, ok := n.settle()
	if !ok {
		return false, false
	}
	conflict := n.conflict(nil)
	if len(conflict) == 0 {
		return true, false
	}
	var orders []order
	if tightest >= 0 {
		orders = n.either(n.pairs[tightest])
	} else {
		orders = n.orders(conflict, end)
	}
	for k, o := range orders {
		if k > departures {
			return false, true
		}
		mark := len(n.trail)
		if n.post(n.holds[o.before], n.holds[o.after]) {
			ok, more := n.search(end, departures-k)
			if ok {
				return true, false
			}
			cut = cut || more
			if n.exhausted {
				return false, true
			}
		}
		n.back(mark)
	}
	return false, cut
}

// either are both orders of a pair, the one that leaves more room first.
func (n *net) either(p pair) []order {
	a, b := n.holds[p.a], n.holds[p.b]
	if n.last[b.from]-n.ended(a) >= n.last[a.from]-n.ended(b) {
		return []order{{before: p.a, after: p.b}, {before: p.b, after: p.a}}
	}
	return []order{{before: p.b, after: p.a}, {before: p.a, after: p.b}}
}

// solve looks for a plan that ends by then; none says that there is none.
func (n *net) solve(end, effort int) (found, none bool) {
	n.left, n.exhausted = effort, false
	for departures := 0; ; departures = max(1, 2*departures) {
		n.back(0)
		n.until(end)
		if n.broken {
			return false, true
		}
		found, cut := n.search(end, departures)
		if found || !cut {
			return found, !found
		}
		if n.exhausted {
			return false, false
		}
	}
}

// How long is searched, in steps of which a day of eight batches does some ten thousand in 100 ms.
const (
	effortFits = 60_000
	effortBest = 120_000
)

// impossible says why a day has no room for its batches, of which the last is the new one; empty where nothing says so.
func (n *net) impossible() string {
	newest := n.day.Batches[n.nodes[len(n.nodes)-1].batch]
	alone := newNet(Day{Start: n.day.Start, End: n.day.End + 2*Minutes, Resources: n.day.Resources, Batches: []Batch{newest}}, []int{0})
	if alone.broken {
		return "its pauses leave no way through its steps"
	}
	if least := alone.bound(); least > n.length {
		return fmt.Sprintf("it takes %s by itself, and the day has %s", lasting(least), lasting(n.length))
	}
	if n.broken {
		return "what is fixed leaves no way through its steps"
	}
	if r, taken, has := n.fullest(); r != "" {
		return fmt.Sprintf("with those before it, %s would be taken for %s, and the day has %s of it", r, lasting(taken), lasting(has))
	}
	return ""
}

// fits looks for any plan within the day, and says why there is none.
func (n *net) fits() (why string) {
	switch found, none := n.solve(n.length, n.day.effort(effortFits)); {
	case found:
		return ""
	case none:
		return "there is no way to do it beside those before it by " + Clock(n.day.End)
	}
	return "no way was found to do it beside those before it by " + Clock(n.day.End)
}

// lasting says how long something is.
func lasting(minutes int) string {
	if minutes < 60 {
		return fmt.Sprintf("%d min", minutes)
	}
	return fmt.Sprintf("%d h %02d", minutes/60, minutes%60)
}

// fullest is what would be taken for longer than the day has of it; empty where nothing is.
func (n *net) fullest() (name string, taken, has int) {
	sum := make([]int, len(n.room))
	for _, h := range n.holds {
		sum[h.resource] += n.shortest(h)
	}
	for r, minutes := range sum {
		if minutes > n.room[r]*n.length {
			return n.names[r], minutes, n.room[r] * n.length
		}
	}
	return "", 0, 0
}

// shortest is how long a hold lasts at the least: the longest path from its first step through its last.
func (n *net) shortest(h hold) int {
	if h.from == h.until {
		return n.nodes[h.from].minutes
	}
	far := make([]int, len(n.nodes))
	for i := range far {
		far[i] = math.MinInt
	}
	far[h.from] = 0
	todo := []int{h.from}
	for len(todo) > 0 {
		i := todo[0]
		todo = todo[1:]
		for _, e := range n.out[i] {
			if e.reason.kind == 'o' && far[i]+e.least > far[e.to] {
				far[e.to] = far[i] + e.least
				todo = append(todo, e.to)
			}
		}
	}
	return far[h.until] + n.nodes[h.until].minutes
}

// bound is when the day ends at the earliest: the longest way through the steps, and for each thing that is taken, of any
// part of those who take it, what they take of it together, after the first of them can begin and before what the
// shortest-tailed has after it.
func (n *net) bound() int {
	if n.broken {
		return 0
	}
	least, tails := n.ends(), n.tails()
	type load struct{ head, minutes, tail int }
	for r, list := range n.byRes {
		if n.room[r] == 0 {
			continue
		}
		var loads []load
		for _, i := range list {
			h := n.holds[i]
			if m := n.shortest(h); m > 0 {
				loads = append(loads, load{n.first[h.from], m, tails[h.until] - n.nodes[h.until].minutes})
			}
		}
		slices.SortFunc(loads, func(a, b load) int { return cmp.Compare(b.tail, a.tail) })
		for _, from := range loads {
			sum := 0
			for _, one := range loads { // those with a longer tail first, so that each tail is the shortest so far
				if one.head >= from.head {
					sum += one.minutes
					least = max(least, from.head+(sum+n.room[r]-1)/n.room[r]+one.tail)
				}
			}
		}
	}
	return least
}

// tails are how long it is from the start of each step to the end of the day at the least.
func (n *net) tails() []int {
	out := make([]int, len(n.nodes))
	for i, one := range n.nodes {
		out[i] = one.minutes
	}
	for again := true; again; { // there is no ring that makes anything longer: it would be broken
		again = false
		for i := range n.nodes {
			for _, e := range n.out[i] {
				if t := e.least + out[e.to]; t > out[i] {
					out[i], again = t, true
				}
			}
		}
	}
	return out
}

// better betters a plan, down to what no plan can beat; proved says that none is earlier.
func (n *net) better(least int) (best *net, proved bool) {
	effort := n.day.effort(effortBest)
	for n.ends() > least {
		next := newNet(n.day, n.batches())
		found, none := next.solve(n.ends()-1, effort)
		if !found {
			return n, none
		}
		effort, n = next.left, next
	}
	return n, true
}

func (n *net) batches() (out []int) {
	for _, one := range n.nodes {
		if len(out) == 0 || out[len(out)-1] != one.batch {
			out = append(out, one.batch)
		}
	}
	return out
}

// placed are the steps as they are laid, with what they wait for and how far they could move.
func (n *net) placed() (out []Placed) {
	n.slacken()
	for i, one := range n.nodes {
		s := n.day.Batches[one.batch].Steps[one.step]
		begins := n.day.Start + n.first[i]
		out = append(out, Placed{Batch: n.day.Batches[one.batch].Name, Name: s.Name, From: begins, To: begins + one.minutes,
			Slack: n.last[i] - n.first[i], Waits: n.waits(i, s)})
	}
	return out
}

// slacken works out how late each step could be with the day as early as it ends.
func (n *net) slacken() {
	end := n.ends()
	for i, one := range n.nodes {
		if n.day.Batches[one.batch].Steps[one.step].At == 0 {
			n.last[i] = end - one.minutes
		}
	}
	for i := range n.nodes {
		n.spread(i)
	}
}

// waits is what keeps a step from beginning as soon as all before it is done.
func (n *net) waits(i int, s Step) *Wait {
	free := max(0, s.From-n.day.Start)
	for _, e := range n.in[i] {
		if e.reason.kind == 'o' {
			free = max(free, n.first[e.to]+e.least)
		}
	}
	if s.At > 0 || n.first[i] <= free {
		return nil
	}
	for _, e := range n.in[i] {
		if n.first[e.to]+e.least != n.first[i] || e.reason.kind == 'o' {
			continue
		}
		other := n.nodes[e.to]
		w := Wait{Batch: n.day.Batches[other.batch].Name, Step: n.day.Batches[other.batch].Steps[other.step].Name,
			Until: n.day.Start + n.first[i]}
		if e.reason.kind == 'r' {
			w.Resource = n.names[e.reason.resource]
		}
		return &w
	}
	return nil
}
