package cutting

import (
	"cmp"
	"encoding/binary"
	"math"
	"math/big"
	"slices"

	"chamfer/core/money"
)

// The search that closes what the linear program leaves open: first by how many
// boards of a stock are used, as in [span], then by what is cut together with the
// longest piece that is left. Of the ways to cut that board only those are tried
// that can still lead to a cheaper plan: a way that is worth so much less than its
// price at the program's prices adds as much to the bound.
type tree struct {
	g      *group
	best   []fill
	cost   money.Amount // of best, pieces left out counted dearly
	seen   map[string]money.Amount
	tries  int
	tail   bool         // the end of a dive is being searched
	target money.Amount // a dive is after a plan of this total; 0: after any
}

// reserve is the work that the first program and the plan drawn from it may take
// beyond the effort: a plan is never without them.
const reserve = 1_200_000

// search looks for the cheapest plan and returns a bound for it. A plan to beat
// is there from the start.
func (g *group) search(st state) (best []fill, cost, bound money.Amount) {
	t := &tree{g: g, seen: map[string]money.Amount{}, cost: math.MaxInt64}
	if g.sheet() {
		t.startSheets(st)
	} else {
		t.offer(greedy(g, st))
	}
	g.effort += g.reserve
	bound = t.byBound(st)
	return t.best, t.cost, min(bound, t.cost)
}

// offer takes a plan if it is cheaper than the best so far.
func (t *tree) offer(fills []fill, left []int) {
	cost := t.g.priceOf(fills)
	for _, n := range left {
		cost += money.Amount(n) * t.g.without
	}
	t.better(fills, cost)
}

func (t *tree) better(fills []fill, cost money.Amount) {
	if cost < t.cost {
		t.best, t.cost = slices.Clone(fills), cost
		if t.g.progress != nil && cost < t.g.without {
			t.g.progress(cost)
		}
	}
}

func (g *group) priceOf(fills []fill) money.Amount {
	sum := money.Amount(0)
	for _, f := range fills {
		sum += g.stock[g.ways[f.way].stock].Price
	}
	return sum
}

// branch searches what is left to do after some fills, and returns a bound for
// all plans that begin with them.
func (t *tree) branch(st state, done []fill, spent money.Amount, from []*column) money.Amount {
	g := t.g
	if spent >= t.cost {
		return t.cost
	}
	if st.done() {
		t.offer(done, nil)
		return spent
	}
	if t.stopped() {
		return spent
	}
	m := g.master(st)
	m.solve(from)
	b := m.bound()
	bound := t.up(done, spent, b.bound)
	if bound >= t.cost {
		return t.cost
	}
	if g.effort <= 0 {
		return bound
	}
	cols, times := m.shares()
	m.done()
	s, n, parted := g.partBoards(cols, times)
	if t.tries++; t.tries%10 == 0 {
		for skip := 0; skip < 2 && bound < t.cost; skip++ {
			t.dive(st, done, cols, times, skip, 0)
		}
	}
	if bound >= t.cost {
		return t.cost
	}
	if parted {
		return max(bound, t.byBoards(st, done, spent, s, n, cols))
	}
	return max(bound, t.byFills(st, done, spent, b, cols))
}

// stopped reports whether the effort is spent or no more is wanted.
func (t *tree) stopped() bool {
	select {
	case <-t.g.stop:
		t.g.effort = 0
	default:
	}
	return t.g.effort <= 0
}

// within does something with a part of the effort and reports whether that was
// enough.
func (g *group) within(effort int64, do func()) bool {
	kept := max(0, g.effort-effort)
	g.effort -= kept
	do()
	enough := g.effort > 0
	g.effort = max(0, g.effort) + kept
	return enough
}

// up is a bound on all that is spent, as a total that boards can come to.
func (t *tree) up(done []fill, spent money.Amount, parts *big.Int) money.Amount {
	return t.g.sums.up(spent+t.g.cents(parts), t.g.wasted(done))
}

// partBoards finds the stock of which the program would use the most uneven
// number of boards.
func (g *group) partBoards(cols []*column, times []float64) (stock, floor int, ok bool) {
	n := make([]float64, len(g.stock))
	for i, c := range cols {
		n[c.stock] += times[i]
	}
	most := uneven
	for s, v := range n {
		if off := math.Abs(v - math.Round(v)); off > most {
			stock, floor, most, ok = s, int(math.Floor(v)), off, true
		}
	}
	return stock, floor, ok
}

// byBoards splits into at most so many boards of a stock, and more.
func (t *tree) byBoards(st state, done []fill, spent money.Amount, s, floor int, from []*column) money.Amount {
	fewer, more := st.copied(), st.copied()
	fewer.most[s] = floor
	more.least[s] = floor + 1
	lo := t.branch(more, done, spent, from)
	return min(lo, t.branch(fewer, done, spent, from))
}

// byFills tries what can be cut together with the longest piece left.
func (t *tree) byFills(st state, done []fill, spent money.Amount, b priced, from []*column) money.Amount {
	g := t.g
	key := st.key()
	if before, ok := t.seen[key]; ok && before <= spent {
		return t.cost // what follows from here has been searched with no more spent
	}
	fills, whole := t.choices(st, spent, b)
	bound := money.Amount(math.MaxInt64)
	for _, f := range fills {
		if t.room(spent, b).Cmp(big.NewInt(f.adds)) < 0 {
			break // nor can those after it, by now, be cheaper
		}
		next := st.copied()
		next.use(g, f.fill, 1)
		price := g.stock[g.ways[f.fill.way].stock].Price
		// Boards are added to done in place: nothing below keeps it, and what stands behind
		// its end is written over by the next way to cut this one.
		bound = min(bound, t.branch(next, append(done, f.fill), spent+price, from))
		if g.effort <= 0 {
			return min(bound, spent)
		}
	}
	// A plan that leaves a piece out costs more than any that does not.
	if !whole || t.cost > g.without {
		return spent
	}
	t.seen[key] = spent
	return min(bound, t.cost)
}

// room is what may still be added to a bound for the plan to be a cent cheaper
// than the best.
func (t *tree) room(spent money.Amount, b priced) *big.Int {
	room := new(big.Int).Mul(big.NewInt(int64(t.cost-1-spent)), big.NewInt(t.g.scale))
	return room.Sub(room, b.bound)
}

func (s state) longest() int { return slices.IndexFunc(s.want, func(n int) bool { return n > 0 }) }

func (s state) key() string {
	b := make([]byte, 0, 2*(len(s.want)+2*len(s.least)))
	for _, list := range [][]int{s.want, s.least, s.most} {
		for _, n := range list {
			b = binary.AppendVarint(b, int64(n))
		}
	}
	return string(b)
}

// dive makes a whole plan of the program's parts: whole numbers of boards first,
// then the largest part rounded up, and the program again for what is left. The
// first to be rounded up is not the largest but the one so many after it, so that
// several dives end in different plans; or the programs are tilted.
func (t *tree) dive(st state, done []fill, cols []*column, times []float64, skip, tilt int) {
	g := t.g
	st = st.copied()
	fills := slices.Clone(done)
	g.effort -= int64(len(done))
	tails, quick := tailPieces, quickTails
	if t.target > 0 {
		tails = nil
	}
	for !st.done() && g.effort > 0 {
		any := false
		for i, c := range cols {
			n := int(times[i] + roundly)
			for ; n > 0 && st.has(g, c); n-- {
				st.use(g, c.fill, 1)
				fills, any = append(fills, c.fill), true
			}
		}
		if !any {
			var order []int
			for i, c := range cols {
				if st.has(g, c) {
					order = append(order, i)
				}
			}
			if len(order) == 0 {
				break
			}
			slices.SortStableFunc(order, func(a, b int) int { return -cmp.Compare(times[a], times[b]) })
			best := order[min(skip, len(order)-1)]
			skip = 0
			st.use(g, cols[best].fill, 1)
			fills = append(fills, cols[best].fill)
		}
		if st.done() {
			break
		}
		for n := count(st.want); len(tails) > 0 && n <= tails[0] && !t.tail; tails = tails[1:] {
			if len(tails) > 1 && n <= tails[1] {
				continue // the next will do
			}
			was := t.cost
			if t.finish(st, fills); t.cost < was || len(tails) == 1 {
				return
			}
		}
		m := g.master(st)
		m.tilt = tilt
		if !m.solve(cols) {
			break
		}
		if n := count(st.want); t.target > 0 && len(quick) > 0 && n <= quick[0] {
			for len(quick) > 0 && n <= quick[0] {
				quick = quick[1:]
			}
			if t.walk(&span{st: st, b: m.bound()}, t.target, fills, min(quickEffort, g.effort/walksShort)) &&
				t.cost <= t.target {
				m.done()
				return
			}
		}
		cols, times = m.shares()
		m.done()
		least := 0.0
		for i, c := range cols {
			least += c.price * times[i]
		}
		if len(cols) == 0 {
			break
		}
		lowest := money.Amount(math.Ceil(float64(g.priceOf(fills)) + least - 0.01))
		if g.sums.up(lowest, g.wasted(fills)) >= t.cost {
			return // it will not be cheaper
		}
	}
	if st.done() {
		t.offer(fills, nil)
		return
	}
	rest, left := greedy(g, st)
	t.offer(append(fills, rest...), left)
}

// tailPieces is how few pieces are left for the end of a dive to be searched
// whole, and for it to be searched again where that found nothing; tailEffort how
// much work that may be.
var tailPieces = []int{110, 36}

const tailEffort = 3_000_000

// finish searches the end of a dive.
func (t *tree) finish(st state, fills []fill) {
	t.tail = true
	t.g.within(tailEffort, func() { t.branch(st, fills, t.g.priceOf(fills), nil) })
	t.tail = false
}

// has reports whether a filling's stock is there and something it yields is
// still wanted.
func (s state) has(g *group, c *column) bool {
	if s.most[c.stock] == 0 {
		return false
	}
	useful := false
	for i, k := range c.kinds {
		if s.want[k] < int(c.count[i])-g.kinds[k].yield+1 {
			return false
		}
		useful = useful || s.want[k] > 0
	}
	return useful
}
