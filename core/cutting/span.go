package cutting

import (
	"math"
	"slices"

	"chamfer/core/aside"
	"chamfer/core/money"
)

// span is a range of plans, by the fewest and the most boards of each stock, with
// what the linear program says of it.
type span struct {
	st    state
	bound money.Amount // nothing in the range is cheaper
	b     priced
	cols  []*column
	times []float64
	dived int  // so many ways to begin a dive were tried
	shut  bool // what can be cut together is more than is listed
}

// Dives from the first program and from one that uses whole numbers of boards. The
// first few begin with the fillings that the program uses in turn; those after them
// with another solution of it.
const (
	firstDives = 4
	wholeDives = 16
	plainDives = 2
	mostDives  = 100
)

// wholeEffort is how much work is first put into what can be cut together where
// the numbers of boards are whole; twice as much each time it did not suffice.
const wholeEffort = 10_000_000

// byBound splits the range with the lowest bound until nothing cheaper than the best
// plan can be in any. What it returns no plan can beat.
func (t *tree) byBound(st state) money.Amount {
	g := t.g
	first := t.span(st, nil)
	g.listSums(t.cost)
	first.bound = t.up(nil, 0, first.b.bound)
	alike := func() {}
	if len(g.like) > 0 && first.bound < t.cost {
		alike = t.startAlike(st)
	}
	open, listed := t.quickly(first), money.Amount(math.MaxInt64)
	if slices.ContainsFunc(open, func(n span) bool { return n.bound < t.cost }) {
		alike()
	}
	var again []span // whose whole numbers of boards are not searched to the end
	effort := int64(wholeEffort)
	for begun := true; !t.stopped(); begun = false {
		dear := func(n span) bool { return n.bound >= t.cost }
		open, again = slices.DeleteFunc(open, dear), slices.DeleteFunc(again, dear)
		if len(open) == 0 {
			left := func(n span) bool { return !n.shut || n.dived < mostDives }
			if t.cost > g.without || !slices.ContainsFunc(again, left) {
				break
			}
			open, again, effort = again, nil, 2*effort
		}
		var n span
		n, open = lowest(open)
		if begun {
			t.from(&n)
			g.effort = max(0, g.effort-g.reserve)
		}
		_, _, parted := g.partBoards(n.cols, n.times)
		dives := 0
		switch {
		case begun:
			dives = firstDives
		case !parted:
			dives = wholeDives
		}
		t.dives(&n, dives/2, begun, effort)
		if t.cost < listed { // fewer fillings are worth trying than were before
			listed = t.cost
			t.byList(&first, effort)
		}
		if !parted && !begun {
			t.byList(&n, effort)
		}
		if n.bound = max(n.bound, first.bound); n.bound >= t.cost {
			continue
		}
		if parted {
			on := n
			t.apart(
				func(t *tree) { t.from(&on) },
				func(t *tree) { open = t.split(n, open) },
			)
			continue
		}
		if !n.shut {
			n.shut = g.within(effort, func() { n.bound = max(n.bound, t.byFills(n.st, nil, 0, n.b, n.cols)) })
		}
		if n.bound >= t.cost {
			continue
		}
		if !n.st.one() && t.cost < g.without {
			for _, part := range n.others() {
				child := t.span(part, n.cols)
				if child.bound = max(child.bound, n.bound); child.bound < t.cost {
					open = append(open, child)
				}
			}
			n.shut = false
		}
		again = append(again, n)
	}
	bound := t.cost
	for _, n := range slices.Concat(open, again) {
		bound = min(bound, n.bound)
	}
	return max(bound, first.bound)
}

// besides is how many ranges are split while one is dived from.
const besides = 8

// split splits a range in two, into at most so many boards of a stock and more, and
// after it those with the lowest bounds.
func (t *tree) split(n span, open []span) []span {
	for range besides {
		s, floor, parted := t.g.partBoards(n.cols, n.times)
		if !parted {
			return append(open, n)
		}
		open = t.halves(n, s, floor, open, false)
		if len(open) == 0 || t.stopped() {
			return open
		}
		n, open = lowest(open)
	}
	return append(open, n)
}

// halves puts the two parts of a range with the others, as far as they may hold a cheaper
// plan. Both are solved side by side where nothing else is.
func (t *tree) halves(n span, s, floor int, open []span, beside bool) []span {
	fewer, more := n.st.copied(), n.st.copied()
	fewer.most[s], more.least[s] = floor, floor+1
	var both [2]span
	if beside {
		t.apart(func(t *tree) { both[0] = t.span(fewer, n.cols) }, func(t *tree) { both[1] = t.span(more, n.cols) })
	} else {
		both = [2]span{t.span(fewer, n.cols), t.span(more, n.cols)}
	}
	for _, half := range both {
		if half.bound = max(half.bound, n.bound); half.bound < t.cost {
			open = append(open, half)
		}
	}
	return open
}

// lowest takes out the range with the lowest bound, of like ones the latest.
func lowest(open []span) (span, []span) {
	at := 0
	for i, n := range open {
		if n.bound <= open[at].bound {
			at = i
		}
	}
	n := open[at]
	return n, slices.Delete(open, at, at+1)
}

// span solves the program of a range, starting from fillings that were of use.
func (t *tree) span(st state, from []*column) span {
	m := t.g.master(st)
	m.solve(from)
	n := span{st: st, b: m.bound()}
	n.bound = t.up(nil, 0, n.b.bound)
	n.cols, n.times = m.shares()
	m.done()
	return n
}

// dives makes so many pairs of dives from a span, fewer where they take more than
// twice what then goes into what can be cut together.
func (t *tree) dives(n *span, pairs int, begun bool, effort int64) {
	for start := t.g.effort; pairs > 0 && n.bound < t.cost; pairs-- {
		one, two := *n, *n
		two.dived++
		t.apart(func(t *tree) { t.from(&one) }, func(t *tree) { t.from(&two) })
		n.dived += 2
		if !begun && start-t.g.effort > 2*effort {
			break
		}
	}
}

// from dives from a span, each time in another way.
func (t *tree) from(n *span) {
	n.dived++
	if n.dived <= plainDives {
		t.dive(n.st, nil, n.cols, n.times, n.dived-1, 0)
		return
	}
	m := t.g.master(n.st)
	m.tilt = n.dived
	if m.solve(n.cols) {
		cols, times := m.shares()
		m.done()
		t.dive(n.st, nil, cols, times, 0, n.dived)
	}
}

// apart does pieces of work side by side, each knowing only what was known before
// them, so that what comes of them does not hang on which is done first.
func (t *tree) apart(work ...func(t *tree)) {
	if t.g.sheet() { // ways to lay sheets out are found on the way, and shared
		for _, do := range work {
			do(t)
		}
		return
	}
	parts := make([]*tree, len(work))
	for i := range work {
		g := *t.g
		g.effort /= int64(len(work))
		g.hard = slices.Clone(g.hard)
		g.pool = slices.Clip(g.pool)
		g.columns, g.progress = nil, nil
		g.kept = t.g.beside[i]
		parts[i] = &tree{g: &g, best: t.best, cost: t.cost, seen: map[string]money.Amount{}}
	}
	for _, fault := range aside.Do(len(work), func(i int) { work[i](parts[i]) }) {
		if fault != nil {
			panic(fault)
		}
	}
	g := t.g
	share, known := g.effort/int64(len(work)), len(g.pool)
	for _, part := range parts {
		g.effort -= share - part.g.effort
		for _, c := range part.g.pool[known:] {
			g.keepColumn(c)
		}
		t.better(part.best, part.cost)
	}
}

// one reports whether a range is of one number of boards of each stock.
func (st state) one() bool { return slices.Equal(st.least, st.most) }

// others splits off the numbers of boards that the program uses, all whole, from
// the rest of the range, and returns the rest in parts.
func (n *span) others() []state {
	used := make([]float64, len(n.st.most))
	for i, c := range n.cols {
		used[c.stock] += n.times[i]
	}
	var parts []state
	for s, u := range used {
		k := int(u + 0.5)
		if n.st.most[s] < 0 || n.st.most[s] > k {
			part := n.st.copied()
			part.least[s] = k + 1
			parts = append(parts, part)
		}
		if n.st.least[s] < k {
			part := n.st.copied()
			part.most[s] = k - 1
			parts = append(parts, part)
		}
		n.st.least[s], n.st.most[s] = k, k
	}
	return parts
}
