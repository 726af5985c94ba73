package cutting

import (
	"cmp"
	"math"
	"slices"
)

// most is the exact answer to what a run's pieces can be worth: a bounded
// knapsack in whole numbers. Values are duals scaled to integers, so that a
// bound drawn from them is not a matter of rounding.
type worthMost struct {
	value int64 // no filling of the run is worth more
	takes []int // a filling; worth the value where exact
	exact bool
}

// tableCells is how large the table of a knapsack may be; past it the search
// branches.
const tableCells = 4_000_000

// fillBest finds, for every room, the items of a class that are worth most, each
// at most so often.
func (g *group) fillBest(c int, value []int64, most []int, rooms []int64) []worthMost {
	items := g.classes[c].items
	room := int64(0)
	for _, r := range rooms {
		room = max(room, r)
	}
	unit := g.classes[c].unit
	if unit == 0 {
		out := make([]worthMost, len(rooms))
		for i := range out {
			out[i] = worthMost{takes: make([]int, len(items)), exact: true}
		}
		return out
	}
	out := make([]worthMost, len(rooms))
	var hard []int // rooms, by index, whose search gave up
	search := g.hard[c] == 0 || room/unit*int64(len(items)) > tableCells
	room = 0
	for i, r := range rooms {
		if search {
			out[i] = g.fillSearch(items, value, most, r, fewNodes)
		}
		if !out[i].exact {
			hard = append(hard, i)
			room = max(room, r)
		}
	}
	switch {
	case !search:
		g.hard[c]--
	case len(hard) > 0:
		g.hard[c] = 20 // for so many times the table is made at once
	}
	if len(hard) == 0 {
		return out
	}
	top := room / unit
	layers := 0
	for i, it := range items {
		if value[i] > 0 {
			if int64(most[i]) >= room/it.size {
				layers++ // at once
				continue
			}
			for n := most[i]; n > 0; n >>= 1 {
				layers++
			}
		}
	}
	ask := make([]int64, len(hard))
	for k, i := range hard {
		ask[k] = rooms[i]
	}
	if top*int64(layers+1) > sparseCells {
		if found, ok := g.fillSparse(items, value, most, ask); ok {
			for k, f := range found {
				out[hard[k]] = f
			}
			return out
		}
	}
	if top*int64(layers+1) > tableCells {
		for _, i := range hard {
			out[i] = g.fillSearch(items, value, most, rooms[i], manyNodes)
		}
		return out
	}
	g.effort -= top * int64(layers+1)
	for k, f := range g.fillTable(items, value, most, ask, unit, int(top)) {
		out[hard[k]] = f
	}
	return out
}

// fillTable is the textbook table: best[c] is the most that fits c units. Items
// that are limited go in first, in packets of 1, 2, 4 ... up to their number; then
// those whose number could not be used up anyway, as often as they like. What was
// taken is found from the tables before each item.
func (g *group) fillTable(items []item, value []int64, most []int, rooms []int64, unit int64, top int) []worthMost {
	var limited, free []int
	for i, it := range items {
		size := int(it.size / unit)
		switch {
		case value[i] <= 0 || size > top || most[i] <= 0:
		case most[i] >= top/size:
			free = append(free, i)
		default:
			limited = append(limited, i)
		}
	}
	cells := top + 1
	if need := cells * (len(limited) + 2); cap(g.kept.table) < need {
		g.kept.table = make([]int64, need)
	}
	before := func(k int) []int64 { return g.kept.table[k*cells : (k+1)*cells : (k+1)*cells] }
	clear(before(0))
	for k, i := range limited {
		was, best := before(k), before(k+1)
		size := int(items[i].size / unit)
		left := min(most[i], top/size) - 1
		copy(best, was[:size])
		once(best[size:], was[size:], was[:cells-size], value[i])
		for times := 2; left > 0; times *= 2 {
			n := min(times, left)
			left -= n
			worth := int64(n) * value[i]
			lift(best[n*size:], best[:cells-n*size], worth)
		}
	}
	base, best := before(len(limited)), before(len(limited)+1)
	copy(best, base)
	for _, i := range free {
		worth := value[i]
		size := int(items[i].size / unit)
		raise(best[size:], best[:cells-size], worth)
	}
	out := make([]worthMost, len(rooms))
	all := make([]int, len(rooms)*len(items))
	for r, room := range rooms {
		c := int(room / unit)
		takes := all[r*len(items) : (r+1)*len(items) : (r+1)*len(items)]
		out[r] = worthMost{value: best[c], takes: takes, exact: true}
		for best[c] != base[c] {
			for _, i := range free {
				if size := int(items[i].size / unit); size <= c && best[c-size]+value[i] == best[c] {
					takes[i]++
					c -= size
					break
				}
			}
		}
		for k := len(limited) - 1; k >= 0; k-- {
			i := limited[k]
			was, is := before(k), before(k + 1)[c]
			for was[c] != is {
				takes[i]++
				c -= int(items[i].size / unit)
				is -= value[i]
			}
		}
	}
	return out
}

// raise puts an item into every room as often as it is worth it: to is from,
// some cells further on in the same table, so what is put in counts at once.
func raise(to, from []int64, worth int64) {
	for cap(from)-cap(to) >= 4 && len(to) >= 4 && len(from) >= 4 { // four that do not touch
		a, b := max(to[0], from[0]+worth), max(to[1], from[1]+worth)
		c, d := max(to[2], from[2]+worth), max(to[3], from[3]+worth)
		to[0], to[1], to[2], to[3] = a, b, c, d
		to, from = to[4:], from[4:]
	}
	for c, v := range from {
		to[c] = max(to[c], v+worth)
	}
}

// once puts an item into every room of another table once at most.
func once(to, was, from []int64, worth int64) {
	to, was = to[:len(from)], was[:len(from)]
	for c, v := range from {
		to[c] = max(was[c], v+worth)
	}
}

// lift puts an item into every room once at most: from the last room to the first,
// so that nothing put in counts for another.
func lift(to, from []int64, worth int64) {
	to = to[:len(from)]
	for len(to) >= 4 && len(from) >= 4 {
		t, f := to[len(to)-4:], from[len(from)-4:]
		a, b := max(t[0], f[0]+worth), max(t[1], f[1]+worth)
		c, d := max(t[2], f[2]+worth), max(t[3], f[3]+worth)
		t[0], t[1], t[2], t[3] = a, b, c, d
		to, from = to[:len(to)-4], from[:len(from)-4]
	}
	for c := len(from) - 1; c >= 0; c-- {
		to[c] = max(to[c], from[c]+worth)
	}
}

// The branching knapsack is tried for so many nodes before the table, and for so
// many where the table would be too large.
const (
	fewNodes  = 1500
	manyNodes = 40_000
)

// fewItems are sorted in place, and looked at in no time worth counting.
const fewItems = 32

// Of more items it takes about sortSteps of the smallest steps to put one in order, and up
// to manySteps more to look at a node.
const (
	sortSteps = 60
	manySteps = 24
)

// fillSearch branches over the items by value for their size, cut off by the
// value of the rest as if it could be divided. Where it gives up, its value is
// that of dividing everything.
func (g *group) fillSearch(items []item, value []int64, most []int, room int64, limit int) worthMost {
	order := byRatio(items, value)
	best := worthMost{takes: make([]int, len(items)), exact: true}
	takes := make([]int, len(items))
	nodes := 0
	var walk func(k int, room, v int64)
	walk = func(k int, room, v int64) {
		if nodes++; nodes > limit {
			return
		}
		if v > best.value {
			best.value = v
			copy(best.takes, takes)
		}
		if k == len(order) || float64(v)+dividedWorth(items, value, order[k:], most, room) <= float64(best.value) {
			return
		}
		i := order[k]
		for n := int(min(int64(most[i]), room/items[i].size)); n >= 0; n-- {
			takes[i] = n
			walk(k+1, room-int64(n)*items[i].size, v+int64(n)*value[i])
		}
		takes[i] = 0
	}
	walk(0, room, 0)
	over := int64(max(0, len(items)-fewItems))
	g.effort -= int64(nodes)*(8+min(over, manySteps)) + over*sortSteps
	if nodes > limit {
		best.exact = false
		best.value = int64(math.Ceil(dividedWorth(items, value, order, most, room)))
	}
	return best
}

// byRatio orders the items that are worth something by value for size.
func byRatio(items []item, value []int64) []int {
	var order []int
	for i := range items {
		if value[i] > 0 {
			order = append(order, i)
		}
	}
	ratio := func(i int) float64 { return float64(value[i]) / float64(items[i].size) }
	if len(order) > fewItems {
		ratios := make([]float64, len(items))
		for _, i := range order {
			ratios[i] = ratio(i)
		}
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(ratios[b], ratios[a]) })
		return order
	}
	for a := 1; a < len(order); a++ { // few, and nearly sorted
		for b := a; b > 0 && ratio(order[b]) > ratio(order[b-1]); b-- {
			order[b], order[b-1] = order[b-1], order[b]
		}
	}
	return order
}

// dividedWorth is what a room is worth where items could be divided, a little
// over rather than under.
func dividedWorth(items []item, value []int64, order []int, most []int, room int64) float64 {
	sum := 0.0
	for _, i := range order {
		all := int64(most[i]) * items[i].size
		if all >= room {
			return (sum+float64(value[i])*float64(room)/float64(items[i].size))*(1+over) + 1
		}
		sum += float64(value[i]) * float64(most[i])
		room -= all
	}
	return sum*(1+over) + 1
}
