package cutting

import (
	"math/big"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// worth orders plans: least price, then the most useful leftovers, then the
// fewest boards.
type worth struct {
	price  money.Amount
	useful int64 // sum over leftovers worth keeping of their millimetres squared
	boards int
	ok     bool
}

func (w worth) better(than worth) bool {
	switch {
	case !w.ok || !than.ok:
		return w.ok
	case w.price != than.price:
		return w.price < than.price
	case w.useful != than.useful:
		return w.useful > than.useful
	}
	return w.boards < than.boards
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
// radix and each is solved once.
type explorer struct {
	g      *group
	radix  []int
	want   []int
	have   []int
	seen   map[int]node
	effort int
}

type node struct {
	worth worth
	first fill
}

// maxStates bounds the numbering; past it the exact search is not begun.
const maxStates = 4_000_000

// exact returns the best plan for want and have, and false where the effort
// ran out or not everything can be had.
func exact(g *group, want, have []int, effort int) ([]fill, bool) {
	e := &explorer{g: g, want: slices.Clone(want), have: slices.Clone(have), seen: map[int]node{}, effort: effort}
	states := 1
	for _, n := range append(slices.Clone(want), have...) {
		r := max(n, 0) + 1
		e.radix = append(e.radix, r)
		if states *= r; states > maxStates {
			return nil, false
		}
	}
	w := e.best()
	if e.effort <= 0 || !w.ok {
		return nil, false
	}
	var fills []fill
	for e.longest() >= 0 {
		f := e.seen[e.number()].first
		e.use(f, 1)
		fills = append(fills, f)
	}
	return fills, true
}

func (e *explorer) number() int {
	n := 0
	for i, w := range e.want {
		n = n*e.radix[i] + w
	}
	for i, h := range e.have {
		n = n*e.radix[len(e.want)+i] + max(h, 0)
	}
	return n
}

func (e *explorer) longest() int {
	return slices.IndexFunc(e.want, func(n int) bool { return n > 0 })
}

func (e *explorer) use(f fill, times int) {
	for i, n := range f.takes {
		e.want[i] -= n * times
	}
	if e.have[f.stock] != Unlimited {
		e.have[f.stock] -= times
	}
}

func (e *explorer) best() worth {
	k := e.longest()
	if k < 0 {
		return worth{ok: true}
	}
	id := e.number()
	if n, ok := e.seen[id]; ok {
		return n.worth
	}
	var best node
	for s := range e.g.stock {
		if e.have[s] == 0 || e.g.room[s] < e.g.kinds[k].size {
			continue
		}
		f := fill{stock: s, takes: make([]int, len(e.want))}
		f.takes[k] = 1
		e.fillUp(&best, f, k, e.g.room[s]-e.g.kinds[k].size)
	}
	e.seen[id] = best
	return best.worth
}

// fillUp tries every way to go on filling f with kinds from i on.
func (e *explorer) fillUp(best *node, f fill, i int, room int64) {
	if e.effort--; e.effort <= 0 {
		return
	}
	if i == len(e.want) {
		s := e.g.stock[f.stock]
		e.use(f, 1)
		w := e.best()
		e.use(f, -1)
		w.price += s.Price
		w.useful += e.g.useful(e.g.left(f))
		w.boards++
		if w.better(best.worth) {
			*best = node{w, fill{f.stock, slices.Clone(f.takes)}}
		}
		return
	}
	most := min(int64(e.want[i]-f.takes[i]), room/e.g.kinds[i].size)
	kept := f.takes[i]
	for n := most; n >= 0; n-- {
		f.takes[i] = kept + int(n)
		e.fillUp(best, f, i+1, room-n*e.g.kinds[i].size)
	}
	f.takes[i] = kept
}

// greedy fills boards one at a time by least price for the wood used, and
// leaves the tail to the exact search as soon as that can be done in a small
// part of the effort. It returns the pieces it could not place.
func greedy(g *group, want, have []int) ([]fill, []int) {
	want, have = slices.Clone(want), slices.Clone(have)
	var fills []fill
	for {
		k := slices.IndexFunc(want, func(n int) bool { return n > 0 })
		if k < 0 {
			return fills, want
		}
		if count(want) <= 12 {
			if tail, ok := exact(g, want, have, max(g.effort/8, 1000)); ok {
				return append(fills, tail...), make([]int, len(want))
			}
		}
		var best fill
		var bestUsed int64
		for s := range g.stock {
			if have[s] == 0 || g.room[s] < g.kinds[k].size {
				continue
			}
			f, used := g.stuff(s, k, want)
			if bestUsed == 0 || comparePrice(g.stock[s].Price, used, g.stock[best.stock].Price, bestUsed) < 0 {
				best, bestUsed = f, used
			}
		}
		if bestUsed == 0 { // none of this kind can be had any more
			skipped := want[k]
			want[k] = 0
			rest, left := greedy(g, want, have)
			left[k] += skipped
			return append(fills, rest...), left
		}
		fills = append(fills, best)
		for i, n := range best.takes {
			want[i] -= n
		}
		if have[best.stock] != Unlimited {
			have[best.stock]--
		}
	}
}

// stuff fills one board with a piece of kind k and, after it, whatever leaves
// least over: longest pieces first, or one fewer of any kind where that packs
// tighter.
func (g *group) stuff(s, k int, want []int) (fill, int64) {
	var best fill
	var bestUsed int64
	for skip := -1; skip < len(want); skip++ {
		f := fill{stock: s, takes: make([]int, len(want))}
		room := g.room[s] - g.kinds[k].size
		f.takes[k] = 1
		for i := k; i < len(want); i++ {
			n := min(int64(want[i]-f.takes[i]), room/g.kinds[i].size)
			if i == skip && n > 0 {
				n--
			}
			f.takes[i] += int(n)
			room -= n * g.kinds[i].size
		}
		if used := g.room[s] - room; used > bestUsed {
			best, bestUsed = f, used
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

// woodBound is a price no plan can beat: all pieces melted down and poured into
// the stock that is cheapest for its room, limited stock only as far as it
// goes, rounded up to a whole cent.
func (g *group) woodBound(want, have []int) money.Amount {
	need := new(big.Int)
	for i, k := range g.kinds {
		need.Add(need, new(big.Int).Mul(big.NewInt(k.size), big.NewInt(int64(want[i]))))
	}
	order := make([]int, len(g.stock))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return comparePrice(g.stock[a].Price, g.room[a], g.stock[b].Price, g.room[b])
	})
	total := new(big.Rat)
	for _, s := range order {
		room := big.NewInt(g.room[s])
		boards := new(big.Rat).SetFrac(need, room) // of this stock, to hold what is left
		if have[s] != Unlimited {
			if limit := new(big.Rat).SetInt64(int64(have[s])); boards.Cmp(limit) > 0 {
				boards = limit
			}
		}
		total.Add(total, new(big.Rat).Mul(boards, new(big.Rat).SetInt64(int64(g.stock[s].Price))))
		if have[s] == Unlimited {
			break
		}
		need.Sub(need, new(big.Int).Mul(room, big.NewInt(int64(have[s]))))
		if need.Sign() <= 0 {
			break
		}
	}
	up := new(big.Int).Add(total.Num(), new(big.Int).Sub(total.Denom(), big.NewInt(1)))
	return money.Amount(up.Quo(up, total.Denom()).Int64())
}
