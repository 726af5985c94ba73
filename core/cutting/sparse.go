package cutting

// Where sizes share no coarse measure a table has a cell for every tenth of a millimetre,
// and almost all of them say the same. Then only those sizes are kept at which a board is
// worth more than at any smaller one (Nemhauser and Ullmann 1969, Management Science
// 15:494).

// sparseCells is how large a table is made before such lists are tried, sparsePoints how
// many sizes they may hold in all.
const (
	sparseCells  = 400_000
	sparsePoints = 60_000
)

// point is a filling by what it takes and is worth: another one with so many of an item.
type point struct {
	size, value int64
	from        int32
	item, times int32
}

// fillSparse is fillTable by lists of sizes; false where they grow too long.
func (g *group) fillSparse(items []item, value []int64, most []int, rooms []int64) ([]worthMost, bool) {
	room := int64(0)
	for _, r := range rooms {
		room = max(room, r)
	}
	points := append(g.kept.points[:0], point{from: -1})
	list, next := append(g.kept.list[:0], 0), g.kept.next[:0]
	for _, i := range byRatio(items, value) {
		left := min(int64(most[i]), room/items[i].size)
		for bundle := int64(1); left > 0; bundle *= 2 { // any number is a sum of bundles
			bundle = min(bundle, left)
			left -= bundle
			size, worth := bundle*items[i].size, bundle*value[i]
			// Two lists in order, the second with the bundle put into each of the first,
			// merged; what is worth no more than a smaller one is left out.
			next = next[:0]
			top := int64(-1)
			a, b := 0, 0
			for a < len(list) || b < len(list) {
				with := b < len(list) && (a == len(list) || points[list[b]].size+size < points[list[a]].size)
				if !with {
					if p := &points[list[a]]; p.value > top {
						next, top = append(next, list[a]), p.value
					}
					a++
					continue
				}
				p := points[list[b]]
				if p.size+size > room {
					b = len(list)
					continue
				}
				if p.value+worth > top {
					top = p.value + worth
					next = append(next, int32(len(points)))
					points = append(points, point{p.size + size, top, list[b], int32(i), int32(bundle)})
				}
				b++
			}
			list, next = next, list
			if g.effort -= int64(4 * len(list)); len(points) > sparsePoints {
				return nil, false
			}
		}
	}
	g.kept.points, g.kept.list, g.kept.next = points, list, next
	out := make([]worthMost, len(rooms))
	for r, room := range rooms {
		at := 0
		for at+1 < len(list) && points[list[at+1]].size <= room {
			at++
		}
		out[r] = worthMost{value: points[list[at]].value, takes: make([]int, len(items)), exact: true}
		for p := points[list[at]]; p.from >= 0; p = points[p.from] {
			out[r].takes[p.item] += int(p.times)
		}
	}
	return out, true
}
