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
// boards of a stock are used, then by what is cut together with the longest
// piece that is left. Of the ways to cut that board only those are tried that
// can still lead to a cheaper plan: a way that is worth so much less than its
// price at the program's prices adds as much to the bound.
type tree struct {
	g     *group
	best  []fill
	cost  money.Amount // of best, pieces left out counted dearly
	seen  map[string]money.Amount
	tries int
	idle  int  // dives since one found something cheaper
	begun bool // the first program is being solved
	tail  bool // the end of a dive is being searched
}

// reserve is the work that the first program and the plan drawn from it may take
// beyond the effort: a plan is never without them.
const reserve = 1_200_000

// search looks for the cheapest plan and returns a bound for it. A plan to beat
// is there from the start.
func (g *group) search(st state) (best []fill, cost, bound money.Amount) {
	t := &tree{g: g, seen: map[string]money.Amount{}}
	t.best, t.cost = nil, math.MaxInt64
	t.offer(greedy(g, st))
	g.effort += reserve
	t.begun = true
	bound = t.branch(st, nil, 0, nil)
	return t.best, t.cost, min(bound, t.cost)
}

// offer takes a plan if it is cheaper than the best so far.
func (t *tree) offer(fills []fill, left []int) {
	cost := t.g.priceOf(fills)
	for _, n := range left {
		cost += money.Amount(n) * t.g.without
	}
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
	select {
	case <-g.stop:
		g.effort = 0
	default:
	}
	if g.effort <= 0 {
		return spent
	}
	m := g.master(st)
	m.solve(from)
	b := m.bound()
	bound := t.up(spent, b.bound)
	if len(done) == 0 && g.sums.unit == 0 {
		g.listSums(t.cost)
		bound = t.up(spent, b.bound)
	}
	if bound >= t.cost {
		return t.cost
	}
	if g.effort <= 0 {
		return bound
	}
	cols, times := m.shares()
	s, n, parted := g.partBoards(cols, times)
	dives := 0
	switch {
	case t.begun:
		dives = 4
	case t.tries < 3 || t.tries%10 == 0 || !parted && len(done) == 0 && t.idle < mostIdle:
		dives = 2
	}
	t.tries++
	for skip := 0; skip < dives && bound < t.cost; skip++ {
		was := t.cost
		t.dive(st, done, cols, times, skip)
		if t.idle++; t.cost < was {
			t.idle = 0
		}
		if t.begun {
			t.begun = false
			g.effort = max(0, g.effort-reserve)
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

// up is a bound on all that is spent, as a total that boards can come to.
func (t *tree) up(spent money.Amount, parts *big.Int) money.Amount {
	return t.g.sums.up(spent + t.g.cents(parts))
}

// partBoards finds the stock of which the program would use the most uneven
// number of boards.
func (g *group) partBoards(cols []*column, times []float64) (stock, floor int, ok bool) {
	n := make([]float64, len(g.stock))
	for i, c := range cols {
		n[c.stock] += times[i]
	}
	most := 1e-4
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
		bound = min(bound, t.branch(next, append(slices.Clip(done), f.fill), spent+price, from))
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

// choice is a way to fill a board, with what it adds to the bound.
type choice struct {
	fill fill
	adds int64
}

// mostChoices is how many ways to fill the next board are tried.
const mostChoices = 4000

// choices lists what may be cut together with the longest piece left, the ways
// that cost least first, and whether that is all that could lead to a cheaper
// plan.
func (t *tree) choices(st state, spent money.Amount, b priced) ([]choice, bool) {
	g := t.g
	k := st.longest()
	room := t.room(spent, b)
	if room.Sign() < 0 {
		return nil, true
	}
	budget := int64(math.MaxInt64 / 4)
	if room.IsInt64() {
		budget = min(budget, room.Int64())
	}
	var list []choice
	whole := true
	waste := t.waste(st, spent)
	for w := range g.ways {
		s := g.ways[w].stock
		if st.most[s] == 0 {
			continue
		}
		base := int64(g.stock[s].Price) * g.scale
		if st.least[s] > 0 || base < b.stocks[s] {
			base = b.stocks[s]
		}
		l := &lister{g: g, way: w, value: b.value, least: base - budget, kind: k, wanted: st.want[k], waste: waste, want: slices.Clone(st.want)}
		l.run(0, 0)
		for _, f := range l.found {
			v := int64(0)
			for kind, n := range f.gets {
				v += b.value[kind] * int64(min(n, st.want[kind]))
			}
			list = append(list, choice{f, base - v})
		}
		whole = whole && !l.cut
	}
	slices.SortStableFunc(list, func(a, b choice) int { return cmp.Compare(a.adds, b.adds) })
	return list, whole
}

// waste is the most room that a cheaper plan can leave unused: all that could be
// bought for less than the best plan costs, less what the pieces take. Pieces
// that may be ripped take no room of their own that could be counted.
func (t *tree) waste(st state, spent money.Amount) float64 {
	g := t.g
	if !g.plain() {
		return math.Inf(1)
	}
	sum := 0.0
	for k, n := range st.want {
		sum -= float64(n) * float64(g.kinds[k].size)
	}
	left := float64(t.cost - 1 - spent)
	order := make([]int, len(g.ways))
	for w := range order {
		order[w] = w
	}
	price := func(w int) money.Amount { return g.stock[g.ways[w].stock].Price }
	slices.SortStableFunc(order, func(a, b int) int {
		return comparePrice(price(a), g.ways[a].runs[0].room, price(b), g.ways[b].runs[0].room)
	})
	for _, w := range order {
		n := math.Inf(1)
		if most := st.most[g.ways[w].stock]; most >= 0 {
			n = float64(most)
		}
		if p := float64(price(w)); p > 0 {
			n = min(n, left/p)
			left -= n * p
		}
		if n > 0 {
			sum += n * float64(g.ways[w].runs[0].room)
		}
	}
	return sum*(1+1e-12) + 1000 // nanometres, for the rounding of parts
}

// lister walks the fillings of a way that hold a kind, to which no wanted piece
// can be added, and which are worth enough.
type lister struct {
	g      *group
	way    int
	value  []int64
	least  int64   // the least a filling has to be worth
	kind   int     // that has to be in it
	waste  float64 // the most room a filling may leave
	wanted int     // of the kind, before the filling
	unused int64   // room left in the runs before this one
	want   []int
	takes  [][]int
	found  []fill
	cut    bool // the list was cut short
}

func (l *lister) run(r int, worth int64) {
	runs := l.g.ways[l.way].runs
	if l.cut {
		return
	}
	if r == len(runs) {
		if l.want[l.kind] == l.wanted || worth < l.least || float64(l.unused) > l.waste {
			return
		}
		if len(l.found) >= mostChoices {
			l.cut = true
			return
		}
		l.found = append(l.found, l.g.filled(l.way, cloneTakes(l.takes)))
		return
	}
	items := l.g.classes[runs[r].class].items
	l.takes = append(l.takes, make([]int, len(items)))
	// What the runs after this one can be worth at most, as if items could be
	// divided.
	after := 0.0
	for _, later := range runs[r+1:] {
		after += l.divided(later.class, 0, later.room)
	}
	l.fill(r, 0, runs[r].room, worth, after)
	l.takes = l.takes[:r]
}

// divided is what a room is worth filled with the items from i on, as if they
// could be divided and were without number.
func (l *lister) divided(class, i int, room int64) float64 {
	best := 0.0
	for _, it := range l.g.classes[class].items[i:] {
		if l.want[it.kind] > 0 {
			best = max(best, float64(l.value[it.kind])*float64(it.yield)/float64(it.size))
		}
	}
	return best*float64(room)*(1+1e-9) + 1
}

func (l *lister) fill(r, i int, room, worth int64, after float64) {
	if l.g.effort--; l.g.effort <= 0 {
		l.cut = true
	}
	if l.cut || float64(worth)+l.divided(l.g.ways[l.way].runs[r].class, i, room)+after < float64(l.least) {
		return
	}
	items := l.g.classes[l.g.ways[l.way].runs[r].class].items
	if i == len(items) {
		for _, it := range items {
			if it.size <= room && l.want[it.kind] > 0 {
				return // another piece would go in
			}
		}
		l.unused += room
		l.run(r+1, worth)
		l.unused -= room
		return
	}
	it := items[i]
	most := int(min(room/it.size, int64((l.want[it.kind]+it.yield-1)/it.yield)))
	low := 0
	if len(l.g.ways[l.way].runs) == 1 && it.kind == l.kind && it.yield == 1 {
		low = 1 // the longest piece has to be in it
	}
	for n := most; n >= low; n-- {
		got := min(n*it.yield, l.want[it.kind])
		l.takes[r][i] = n
		l.want[it.kind] -= got
		l.fill(r, i+1, room-int64(n)*it.size, worth+int64(got)*l.value[it.kind], after)
		l.want[it.kind] += got
	}
	l.takes[r][i] = 0
}

func cloneTakes(takes [][]int) [][]int {
	out := make([][]int, len(takes))
	for i, t := range takes {
		out[i] = slices.Clone(t)
	}
	return out
}

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
// several dives end in different plans.
func (t *tree) dive(st state, done []fill, cols []*column, times []float64, skip int) {
	g := t.g
	st = st.copied()
	fills := slices.Clone(done)
	tails := tailPieces
	for !st.done() && g.effort > 0 {
		any := false
		for i, c := range cols {
			n := int(times[i] + 1e-5)
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
		if !m.solve(cols) {
			break
		}
		cols, times = m.shares()
		least := 0.0
		for i, c := range cols {
			least += c.price * times[i]
		}
		if len(cols) == 0 {
			break
		}
		if float64(g.priceOf(fills))+least > float64(t.cost)-0.5 {
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

// mostIdle is how many dives find nothing before fewer are made: the best plan is
// then most likely there, and the work goes into its proof.
const mostIdle = 8

// tailPieces is how few pieces are left for the end of a dive to be searched
// whole, and for it to be searched again where that found nothing; tailEffort how
// much work that may be.
var tailPieces = []int{110, 36}

const tailEffort = 12_000_000

// finish searches the end of a dive.
func (t *tree) finish(st state, fills []fill) {
	g := t.g
	kept := max(0, g.effort-tailEffort)
	g.effort -= kept
	t.tail = true
	t.branch(st, fills, g.priceOf(fills), nil)
	t.tail = false
	g.effort = max(0, g.effort) + kept
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
