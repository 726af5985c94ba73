package cutting

import (
	"cmp"
	"math/big"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// worth orders plans: least price, then the aims in their order.
type worth struct {
	price  money.Amount
	useful int64 // sum over leftovers worth keeping of their millimetres squared
	boards int
	setups int // ways to cut a board; only known of whole plans
	ok     bool
}

func (w worth) better(than worth, aims []Aim) bool {
	switch {
	case !w.ok || !than.ok:
		return w.ok && !than.ok
	case w.price != than.price:
		return w.price < than.price
	}
	for _, a := range aims {
		by := 0
		switch a {
		case Leftovers:
			by = cmp.Compare(than.useful, w.useful)
		case Setups:
			by = cmp.Compare(w.setups, than.setups)
		case Boards:
			by = cmp.Compare(w.boards, than.boards)
		}
		if by != 0 {
			return by < 0
		}
	}
	return false
}

// useful values a leftover: one long piece is worth more than the same length
// in crumbs, so it counts by its square, and below the keep length not at all.
func (g *group) useful(left measure.Length) int64 {
	if left < g.keep {
		return 0
	}
	mm := int64(left / measure.Millimetre)
	return mm * mm
}

// explorer walks all plans from a state (pieces still wanted, limited stock
// still there) by filling one board at a time, always one that takes the
// longest piece still wanted; some board has to. States are numbered in mixed
// radix and each is solved once. It finds the plan that is best by all aims, and
// serves plain groups that are small.
type explorer struct {
	g      *group
	radix  []int
	st     state
	seen   map[int]node
	effort int
}

type node struct {
	worth worth
	first fill
}

// maxStates bounds the numbering; past it the exact search is not begun.
const maxStates = 4_000_000

// exact returns the best plan for a state, and false where the effort ran out or
// not everything can be had.
func exact(g *group, st state, effort int) ([]fill, bool) {
	e := &explorer{g: g, st: st.copied(), seen: map[int]node{}, effort: effort}
	states := 1
	for _, n := range slices.Concat(st.want, st.most) {
		r := max(n, 0) + 1
		e.radix = append(e.radix, r)
		if states *= r; states > min(maxStates, 40*effort) {
			return nil, false
		}
	}
	w := e.best()
	g.effort -= int64(effort-e.effort) * 12
	if e.effort <= 0 || !w.ok {
		return nil, false
	}
	var fills []fill
	for !e.st.done() {
		f := e.seen[e.number()].first
		e.st.use(g, f, 1)
		fills = append(fills, f)
	}
	return fills, true
}

func (e *explorer) number() int {
	n := 0
	for i, w := range e.st.want {
		n = n*e.radix[i] + w
	}
	for i, h := range e.st.most {
		n = n*e.radix[len(e.st.want)+i] + max(h, 0)
	}
	return n
}

func (e *explorer) best() worth {
	k := e.st.longest()
	if k < 0 {
		return worth{ok: true}
	}
	id := e.number()
	if n, ok := e.seen[id]; ok {
		return n.worth
	}
	var best node
	items := e.g.classes[0].items // a plain group has one class, and its items are the kinds
	for w, way := range e.g.ways {
		if room := way.runs[0].room; e.st.most[way.stock] != 0 && room >= items[k].size {
			takes := make([]int, len(items))
			takes[k] = 1
			e.fillUp(&best, w, takes, k, room-items[k].size)
		}
	}
	e.seen[id] = best
	return best.worth
}

// fillUp tries every way to go on filling a board with kinds from i on.
func (e *explorer) fillUp(best *node, w int, takes []int, i int, room int64) {
	if e.effort--; e.effort <= 0 {
		return
	}
	way := e.g.ways[w]
	if i == len(takes) {
		e.move(w, takes, -1)
		v := e.best()
		e.move(w, takes, 1)
		v.price += e.g.stock[way.stock].Price
		v.useful += e.g.useful(max(0, measure.Length(room)-e.g.kerf))
		v.boards++
		if v.better(best.worth, e.g.aims) {
			*best = node{v, e.g.whole(w, slices.Clone(takes))}
		}
		return
	}
	size := e.g.classes[0].items[i].size
	most := min(int64(e.st.want[i]-takes[i]), room/size)
	kept := takes[i]
	for n := most; n >= 0; n-- {
		takes[i] = kept + int(n)
		e.fillUp(best, w, takes, i+1, room-n*size)
	}
	takes[i] = kept
}

// move takes a board's pieces from what is wanted, or gives them back.
func (e *explorer) move(w int, takes []int, by int) {
	for k, n := range takes {
		e.st.want[k] += n * by
	}
	if s := e.g.ways[w].stock; e.st.most[s] >= 0 {
		e.st.most[s] += by
	}
}

// greedy fills boards one at a time by least price for the wood used. It returns
// the pieces it could not place.
func greedy(g *group, st state) ([]fill, []int) {
	st = st.copied()
	var fills []fill
	left := make([]int, len(g.kinds))
	for {
		k := st.longest()
		if k < 0 {
			return fills, left
		}
		best, bestUsed := fill{way: -1}, int64(0)
		for w := range g.ways {
			if st.most[g.ways[w].stock] == 0 {
				continue
			}
			f, used := g.stuff(w, k, st)
			if used > 0 && (bestUsed == 0 || comparePrice(g.priceOf([]fill{f}), used, g.priceOf([]fill{best}), bestUsed) < 0) {
				best, bestUsed = f, used
			}
		}
		if bestUsed == 0 { // none of this kind can be had any more
			left[k] += st.want[k]
			st.want[k] = 0
			continue
		}
		times := 1
		for g.again(best, st, times) {
			times++
		}
		st.use(g, best, times)
		for range times {
			fills = append(fills, best)
		}
	}
}

// again reports whether a fill can be cut once more after so many times.
func (g *group) again(f fill, st state, times int) bool {
	if most := st.most[g.ways[f.way].stock]; most >= 0 && most <= times {
		return false
	}
	for k, n := range f.gets {
		if n > 0 && st.want[k] < n*(times+1) {
			return false
		}
	}
	return true
}

// fewerKinds of panels are tried with one fewer of each; of more, what would go in then
// is not worth its time.
const fewerKinds = 24

// stuffSteps is about how many of the smallest steps one item takes in stuff.
const stuffSteps = 4

// stuff fills one board with a piece of kind k and, after it, whatever leaves
// least over: longest pieces first, or one fewer of any kind where that packs
// tighter. It returns how much of the board's room is used, nothing where the
// piece does not go in.
//
// It is done whatever effort is left, and counted; without any the longest first is
// all that is tried.
func (g *group) stuff(w, k int, st state) (fill, int64) {
	var best fill
	bestUsed := int64(0)
	way := g.ways[w]
	for skip := -1; skip < len(g.kinds); skip++ {
		if skip >= 0 && (st.want[skip] == 0 || g.effort <= 0 || g.sheet() && len(g.kinds) > fewerKinds) {
			continue // none of it goes in anyway, or there is no time to try one fewer
		}
		for _, run := range way.runs {
			g.effort -= stuffSteps * int64(len(g.classes[run.class].items))
		}
		want := slices.Clone(st.want)
		takes := make([][]int, len(way.runs))
		used, first := int64(0), false
		for r, run := range way.runs {
			items := g.classes[run.class].items
			takes[r] = make([]int, len(items))
			room := run.room
			put := func(i, n int) {
				takes[r][i] += n
				room -= int64(n) * items[i].size
				for _, y := range items[i].gets {
					want[y.kind] = max(0, want[y.kind]-n*y.n)
				}
			}
			if i := slices.IndexFunc(items, func(it item) bool { return it.of(k) > 0 && it.size <= run.room }); !first && i >= 0 && items[i].size <= room {
				put(i, 1)
				first = true
			}
			for i, it := range items {
				n := min(int64(it.useful(want)), room/it.size)
				if skip >= 0 && it.of(skip) > 0 && n > 0 {
					n--
				}
				put(i, int(n))
			}
			used += run.room - room
		}
		if first && used > bestUsed {
			best, bestUsed = g.filled(w, takes), used
		}
	}
	return best, bestUsed
}

// comparePrice compares the price of some wood with that of other wood, length
// for length, exactly.
func comparePrice(p money.Amount, used int64, q money.Amount, usedQ int64) int {
	a := new(big.Int).Mul(big.NewInt(int64(p)), big.NewInt(usedQ))
	b := new(big.Int).Mul(big.NewInt(int64(q)), big.NewInt(used))
	return a.Cmp(b)
}

func count(want []int) int {
	n := 0
	for _, w := range want {
		n += w
	}
	return n
}
