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

// useful values a leftover: one long piece is worth more than the same length in crumbs, so
// it counts by its length's square, by its width, and below the keep length not at all.
func (g *group) useful(left, width measure.Length) int64 {
	if left < g.keep {
		return 0
	}
	mm := int64(left / measure.Millimetre)
	return mm * mm * min(max(1, int64(width/measure.Millimetre)), widest)
}

// widest bounds what a leftover's width counts, so that no sum of them is too large.
const widest = 2000

// unopened is what a board of each stock counts that is owned and not cut at all: as
// leftovers do, of the length that can be cut. What would have to be bought counts nothing.
func (g *group) unopened() []int64 {
	worth := make([]int64, len(g.stock))
	for i, s := range g.stock {
		if s.owned() {
			for _, r := range s.runs() {
				worth[i] += g.useful(r[1]-r[0], g.widthOf(s))
			}
		}
	}
	return worth
}

// owned reports whether a board costs nothing and there are only so many.
func (s Stock) owned() bool { return s.Price == 0 && s.Home() }

// explorer walks all plans from a state (pieces still wanted, limited stock
// still there) by filling one board at a time, always one that takes the
// longest piece still wanted; some board has to. States are numbered in mixed
// radix and each is solved once. It finds the plan that is best by all aims, and
// serves groups that are small.
type explorer struct {
	g      *group
	radix  []int
	st     state
	seen   map[int]node
	free   [][][][]int // of every way, room for what a board takes
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
	e := &explorer{g: g, st: st.copied(), seen: map[int]node{}, free: make([][][][]int, len(g.ways)), effort: effort}
	for i, most := range e.st.most {
		if pieces := count(st.want); most > pieces {
			e.st.most[i] = pieces // no plan takes more boards than pieces
		}
	}
	states := 1
	for _, n := range slices.Concat(e.st.want, e.st.most) {
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
	for w, way := range e.g.ways {
		if e.st.most[way.stock] == 0 {
			continue
		}
		if len(way.runs) == 1 && e.g.kinds[k].width == 0 && way.runs[0].room < e.g.kinds[k].size {
			continue // the piece is longer than the board
		}
		f := filler{e: e, best: &best, way: w, kind: k, wanted: e.st.want[k], takes: e.room(w)}
		f.run(0, -e.g.whole[way.stock])
		e.free[w] = append(e.free[w], f.takes)
	}
	e.seen[id] = best
	return best.worth
}

// room is where the takes of a board of a way are written, used again where it is free.
func (e *explorer) room(w int) [][]int {
	if last := len(e.free[w]) - 1; last >= 0 {
		takes := e.free[w][last]
		e.free[w] = e.free[w][:last]
		return takes
	}
	runs := e.g.ways[w].runs
	takes := make([][]int, len(runs))
	for r, run := range runs {
		takes[r] = make([]int, len(e.g.classes[run.class].items))
	}
	return takes
}

// filler tries every way to fill one board with a kind in it.
type filler struct {
	e      *explorer
	best   *node
	way    int
	kind   int
	wanted int // of the kind, before
	takes  [][]int
}

func (f *filler) run(r int, useful int64) {
	e := f.e
	runs := e.g.ways[f.way].runs
	if r < len(runs) {
		f.fill(r, 0, runs[r].room, useful)
		return
	}
	if e.st.want[f.kind] == f.wanted {
		return
	}
	s := e.g.ways[f.way].stock
	limited := e.st.most[s] > 0
	if limited {
		e.st.most[s]--
	}
	v := e.best()
	if limited {
		e.st.most[s]++
	}
	v.price += e.g.stock[s].Price
	v.useful += useful
	v.boards++
	if v.better(f.best.worth, e.g.aims) {
		*f.best = node{v, e.g.filled(f.way, cloneTakes(f.takes))}
	}
}

// fill tries every way to go on filling a run with items from i on.
func (f *filler) fill(r, i int, room, useful int64) {
	e := f.e
	if e.effort--; e.effort <= 0 {
		return
	}
	run := e.g.ways[f.way].runs[r]
	items := e.g.classes[run.class].items
	if i == len(items) {
		f.run(r+1, useful+e.g.useful(max(0, measure.Length(room)-e.g.kerf), run.wide))
		return
	}
	it := items[i]
	most, low := int(min(int64(it.most(e.st.want)), room/it.size)), 0
	if len(f.takes) == 1 && it.of(f.kind) > 0 && e.g.kinds[f.kind].width == 0 && !it.turned {
		low = 1 // nothing else holds the kind
	}
	if len(it.gets) == 1 {
		y := it.gets[0]
		had := e.st.want[y.kind]
		for n := most; n >= low; n-- {
			e.st.want[y.kind] = max(0, had-n*y.n)
			f.takes[r][i] = n
			f.fill(r, i+1, room-int64(n)*it.size, useful)
		}
		f.takes[r][i], e.st.want[y.kind] = 0, had
		return
	}
	had := make([]int, len(it.gets))
	for j, y := range it.gets {
		had[j] = e.st.want[y.kind]
	}
	for n := most; n >= low; n-- {
		for j, y := range it.gets {
			e.st.want[y.kind] = max(0, had[j]-n*y.n)
		}
		f.takes[r][i] = n
		f.fill(r, i+1, room-int64(n)*it.size, useful)
	}
	f.takes[r][i] = 0
	for j, y := range it.gets {
		e.st.want[y.kind] = had[j]
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
			if used > 0 &&
				(bestUsed == 0 || comparePrice(g.priceOf([]fill{f}), used, g.priceOf([]fill{best}), bestUsed) < 0) {
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
			if i := slices.IndexFunc(items, func(it item) bool { return it.of(k) > 0 && it.size <= run.room }); !first &&
				i >= 0 &&
				items[i].size <= room {
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
