package cutting

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// bestFill tries every filling of a room.
func bestFill(items []item, value []int64, most []int, room int64) int64 {
	if len(items) == 0 {
		return 0
	}
	best := int64(0)
	for n := 0; n <= most[0] && int64(n)*items[0].size <= room; n++ {
		best = max(best, int64(n)*value[0]+bestFill(items[1:], value[1:], most[1:], room-int64(n)*items[0].size))
	}
	return best
}

// Both knapsacks, the table and the branching, against trying everything; what
// they say is worth so much is, and fits.
func TestKnapsacks(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 13))
	for i := range 600 {
		var items []item
		var value []int64
		var most []int
		for k := range 1 + r.IntN(5) {
			items = append(items, single(int64(3+r.IntN(20))*7, k, 1, false))
			value = append(value, int64(r.IntN(50)))
			most = append(most, r.IntN(6))
		}
		rooms := []int64{int64(r.IntN(400)), int64(r.IntN(400))}
		g := &group{hard: []int{0}, effort: 1 << 40, kept: &kept{}}
		g.classes = []class{class{items: items}.sorted()}
		// Sorted by size: values stay with their items.
		items = g.classes[0].items
		v, m := make([]int64, len(items)), make([]int, len(items))
		for a, it := range items {
			v[a], m[a] = value[it.kind()], most[it.kind()]
		}
		value, most = v, m
		unit := g.classes[0].unit
		table := g.fillTable(items, value, most, rooms, unit, int(slices.Max(rooms)/unit))
		for k, room := range rooms {
			want := bestFill(items, value, most, room)
			for name, got := range map[string]worthMost{"table": table[k], "search": g.fillSearch(items, value, most,
				room, 1_000_000)} {
				size, worth := int64(0), int64(0)
				for a, n := range got.takes {
					size, worth = size+int64(n)*items[a].size, worth+int64(n)*value[a]
					if n > most[a] {
						t.Fatalf("%d, %s: %d of an item, at most %d", i, name, n, most[a])
					}
				}
				if got.value != want || worth != want || size > room || !got.exact {
					t.Fatalf(
						"%d, %s: worth %d, its pieces %d of size %d in %d; the most is %d",
						i,
						name,
						got.value,
						worth,
						size,
						room,
						want,
					)
				}
			}
		}
		// Given up at once, the search's value is still never too low.
		if got := g.fillSearch(items, value, most, rooms[0], 1); got.value < bestFill(items, value, most, rooms[0]) {
			t.Fatalf("%d: given up at %d", i, got.value)
		}
	}
}

// Whatever prices are put on the pieces, the bound drawn from them is no higher
// than the least that brute force finds.
func TestBoundFromAnyPrices(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 15))
	met := 0
	for i := range 1500 {
		q := random(r, 1+r.IntN(6))
		q.Keep, q.Effort, q.RipKerf = 1, DefaultEffort, q.Kerf
		least := cheapest(q)
		g := newGroup(q, "p")
		if least < 0 || len(g.unmet) > 0 {
			continue
		}
		var st state
		for _, k := range g.kinds {
			st.want = append(st.want, k.want)
		}
		for _, s := range g.stock {
			st.most, st.least = append(st.most, s.Quantity), append(st.least, 0)
		}
		m := g.master(st)
		for row := range m.y {
			m.y[row] = float64(r.IntN(3000)) * r.Float64()
		}
		if b := g.cents(m.bound().bound); b > least {
			t.Fatalf("%d: prices %v give a bound of %v, the least is %v\n%+v", i, m.y, b, least, q)
		}
		m = g.master(st)
		if m.solve(nil) && g.cents(m.bound().bound) == least {
			met++
		}
	}
	if met < 300 { // the program's own prices often meet it
		t.Errorf("met %d times", met)
	}
}
