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
	waste := t.waste(st, t.cost-1-spent)
	for w := range g.ways {
		s := g.ways[w].stock
		if st.most[s] == 0 {
			continue
		}
		base := g.base(s, st, b)
		l := &lister{g: g, way: w, value: b.value, least: base - budget, kind: k, waste: waste, most: mostChoices}
		l.list(st)
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
// bought for so much money, less what the pieces take at least.
func (t *tree) waste(st state, budget money.Amount) float64 {
	g := t.g
	if g.takes == nil {
		return math.Inf(1)
	}
	sum := 0.0
	for k, n := range st.want {
		sum -= float64(n) * float64(g.takes[k])
	}
	left := float64(budget)
	order := make([]int, len(g.stock))
	for s := range order {
		order[s] = s
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return comparePrice(g.stock[a].Price, g.roomIn[a], g.stock[b].Price, g.roomIn[b])
	})
	for _, s := range order {
		n := math.Inf(1)
		if most := st.most[s]; most >= 0 {
			n = float64(most)
		}
		if p := float64(g.stock[s].Price); p > 0 {
			n = min(n, left/p)
			left -= n * p
		}
		if n > 0 {
			sum += n * float64(g.roomIn[s])
		}
	}
	return sum*(1+tie) + 1000 // nanometres, for the rounding of parts
}

// listSteps is about how many of the smallest steps a lister's takes.
const listSteps = 4

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
	before []int   // wanted, before the filling
	want   []int
	takes  [][]int
	ratio  [][]float64 // of each run, the most that its items from one on are worth for their size
	found  []fill
	listed int
	most   int    // fillings are listed
	keep   func() // takes what was found instead of the list
	cut    bool   // the list was cut short
}

// list walks all fillings for what is left to do.
func (l *lister) list(st state) {
	l.before, l.want = st.want, slices.Clone(st.want)
	for _, r := range l.g.ways[l.way].runs {
		items := l.g.classes[r.class].items
		ratio := make([]float64, len(items)+1)
		for i := len(items) - 1; i >= 0; i-- {
			ratio[i] = ratio[i+1]
			if it := items[i]; it.most(st.want) > 0 {
				ratio[i] = max(ratio[i], float64(it.worth(l.value))/float64(it.size))
			}
		}
		l.ratio = append(l.ratio, ratio)
	}
	l.run(0, 0)
}

func (l *lister) run(r int, worth int64) {
	runs := l.g.ways[l.way].runs
	if l.cut {
		return
	}
	if r == len(runs) {
		if l.kind != anyKind && l.want[l.kind] == l.before[l.kind] || worth < l.least || l.unused() > l.waste {
			return
		}
		if l.listed++; l.listed > l.most {
			l.cut = true
			return
		}
		if l.keep != nil {
			l.keep()
			return
		}
		l.found = append(l.found, l.g.filled(l.way, cloneTakes(l.takes)))
		return
	}
	items := l.g.classes[runs[r].class].items
	l.takes = append(l.takes, make([]int, len(items)))
	after := 0.0
	for later := r + 1; later < len(runs); later++ {
		after += l.divided(later, 0, runs[later].room)
	}
	l.fill(r, 0, runs[r].room, worth, after)
	l.takes = l.takes[:r]
}

// divided is what a room is worth filled with the items of a run from i on, as if they
// could be divided and were without number.
func (l *lister) divided(run, i int, room int64) float64 {
	return l.ratio[run][i]*float64(room)*(1+over) + 1
}

func (l *lister) fill(r, i int, room, worth int64, after float64) {
	if l.g.effort -= listSteps; l.g.effort <= 0 {
		l.cut = true
	}
	if l.cut || float64(worth)+l.divided(r, i, room)+after < float64(l.least) {
		return
	}
	items := l.g.classes[l.g.ways[l.way].runs[r].class].items
	if i == len(items) {
		for _, it := range items {
			if it.size <= room && it.most(l.want) > 0 {
				return // another piece would go in
			}
		}
		l.run(r+1, worth)
		return
	}
	it := items[i]
	most := it.most(l.want)
	if int64(most)*it.size > room {
		most = int(room / it.size)
	}
	low := 0
	if len(l.g.ways[l.way].runs) == 1 && !l.g.sheet() && l.kind != anyKind && l.g.kinds[l.kind].width == 0 &&
		it.of(l.kind) > 0 {
		low = 1 // the longest piece has to be in it
	}
	if len(it.gets) == 1 {
		y := it.gets[0]
		had := l.want[y.kind]
		for n := most; n >= low; n-- {
			got := min(n*y.n, had)
			rest, sum := room-int64(n)*it.size, worth+int64(got)*l.value[y.kind]
			if float64(sum)+l.divided(r, i+1, rest)+after < float64(l.least) {
				if l.ratio[r][i] > l.ratio[r][i+1] && got == n*y.n {
					break // nor with fewer, which are worth more than what comes after
				}
				continue
			}
			l.takes[r][i], l.want[y.kind] = n, had-got
			l.fill(r, i+1, rest, sum, after)
		}
		l.takes[r][i], l.want[y.kind] = 0, had
		return
	}
	had := make([]int, len(it.gets))
	for j, y := range it.gets {
		had[j] = l.want[y.kind]
	}
	for n := most; n >= low; n-- {
		sum := worth
		for j, y := range it.gets {
			got := min(n*y.n, had[j])
			l.want[y.kind] = had[j] - got
			sum += int64(got) * l.value[y.kind]
		}
		l.takes[r][i] = n
		l.fill(r, i+1, room-int64(n)*it.size, sum, after)
	}
	for j, y := range it.gets {
		l.want[y.kind] = had[j]
	}
	l.takes[r][i] = 0
}

// unused is the room that a filling leaves of its board.
func (l *lister) unused() float64 {
	if math.IsInf(l.waste, 1) {
		return 0
	}
	room := l.g.roomIn[l.g.ways[l.way].stock]
	for k, n := range l.want {
		room -= int64(l.before[k]-n) * l.g.takes[k]
	}
	return float64(room)
}

func cloneTakes(takes [][]int) [][]int {
	out := make([][]int, len(takes))
	for i, t := range takes {
		out[i] = slices.Clone(t)
	}
	return out
}
