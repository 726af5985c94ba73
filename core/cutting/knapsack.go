package cutting

import "math"

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
	search := g.classes[c].hard == 0 || room/unit*int64(len(items)) > tableCells
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
		g.classes[c].hard--
	case len(hard) > 0:
		g.classes[c].hard = 20 // for so many times the table is made at once
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
	if top*int64(layers+1) > tableCells {
		for _, i := range hard {
			out[i] = g.fillSearch(items, value, most, rooms[i], manyNodes)
		}
		return out
	}
	g.effort -= top * int64(layers+1)
	ask := make([]int64, len(hard))
	for k, i := range hard {
		ask[k] = rooms[i]
	}
	for k, f := range fillTable(items, value, most, ask, unit, int(top), layers) {
		out[hard[k]] = f
	}
	return out
}

// fillTable is the textbook table: best[c] is the most that fits c units. Items
// whose number could not be used up anyway go in one after the other, as often
// as they like; of the others packets of 1, 2, 4 ... up to their number.
func fillTable(items []item, value []int64, most []int, rooms []int64, unit int64, top, layers int) []worthMost {
	best := make([]int64, top+1)
	words := (top + 64) / 64
	type packet struct {
		item, times, size int
		took              []uint64
	}
	var packets []packet
	var free []packet
	bits := make([]uint64, words*layers)
	for i, it := range items {
		size := int(it.size / unit)
		if value[i] <= 0 || size > top {
			continue
		}
		left := most[i]
		if left >= top/size {
			free = append(free, packet{i, 1, size, nil})
			continue
		}
		for times := 1; left > 0; times *= 2 {
			n := min(times, left)
			left -= n
			size, worth := n*size, int64(n)*value[i]
			p := packet{i, n, size, bits[len(packets)*words : (len(packets)+1)*words]}
			for c := top; c >= size; c-- {
				if v := best[c-size] + worth; v > best[c] {
					best[c] = v
					p.took[c/64] |= 1 << (c % 64)
				}
			}
			packets = append(packets, p)
		}
	}
	last := make([]int16, top+1) // the free item that was added last, from 1
	for k, p := range free {
		worth := value[p.item]
		from, to := best[:top+1-p.size], best[p.size:]
		for c, was := range from {
			if v := was + worth; v > to[c] {
				to[c] = v
				last[c+p.size] = int16(k + 1)
			}
		}
	}
	out := make([]worthMost, len(rooms))
	for r, room := range rooms {
		c := int(room / unit)
		out[r] = worthMost{value: best[c], takes: make([]int, len(items)), exact: true}
		for last[c] > 0 {
			p := free[last[c]-1]
			out[r].takes[p.item]++
			c -= p.size
		}
		for k := len(packets) - 1; k >= 0; k-- {
			if p := packets[k]; p.took[c/64]>>(c%64)&1 == 1 {
				out[r].takes[p.item] += p.times
				c -= p.size
			}
		}
	}
	return out
}

// The branching knapsack is tried for so many nodes before the table, and for so
// many where the table would be too large.
const (
	fewNodes  = 1500
	manyNodes = 40_000
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
	g.effort -= int64(nodes) * 8
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
			return (sum+float64(value[i])*float64(room)/float64(items[i].size))*(1+1e-9) + 1
		}
		sum += float64(value[i]) * float64(most[i])
		room -= all
	}
	return sum*(1+1e-9) + 1
}
