package cutting

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/money"
)

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
		base := g.base(s, st, b)
		l := &lister{g: g, way: w, value: b.value, least: base - budget, kind: k, wanted: st.want[k], waste: waste, want: slices.Clone(st.want), most: mostChoices}
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

// base is what a board of a stock is worth in a bound: a filling that is worth less
// adds the difference.
func (g *group) base(s int, st state, b priced) int64 {
	price := int64(g.stock[s].Price) * g.scale
	if st.least[s] > 0 || price < b.stocks[s] {
		return b.stocks[s]
	}
	return price
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

// anyKind is for fillings that need not hold any one kind.
const anyKind = -1

// lister walks the fillings of a way that hold a kind, to which no wanted piece
// can be added, and which are worth enough.
type lister struct {
	g      *group
	way    int
	value  []int64
	least  int64   // the least a filling has to be worth
	kind   int     // that has to be in it, or anyKind
	waste  float64 // the most room a filling may leave
	wanted int     // of the kind, before the filling
	unused int64   // room left in the runs before this one
	want   []int
	takes  [][]int
	found  []fill
	most   int  // fillings are listed
	cut    bool // the list was cut short
}

func (l *lister) run(r int, worth int64) {
	runs := l.g.ways[l.way].runs
	if l.cut {
		return
	}
	if r == len(runs) {
		if l.kind != anyKind && l.want[l.kind] == l.wanted || worth < l.least || float64(l.unused) > l.waste {
			return
		}
		if len(l.found) >= l.most {
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
	if len(l.g.ways[l.way].runs) == 1 && it.kind == l.kind && it.yield == 1 && !l.g.sheet() {
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
