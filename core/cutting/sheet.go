package cutting

import "slices"

// A sheet is ripped into strips over its whole length and the strips are crosscut
// into panels. With many panels there are too many sets of strips to list them; so
// a sheet is laid out strip after strip, each the one whose panels are worth most
// for its width.
//
//	|  panel  |k|   panel   |k| panel |left|   strip
//	----------------------------------------   rip
//	|     panel     |k|   panel   |   left |   strip

// layOut fills a sheet of a stock and reports whether anything went in. Of the
// first strips the nth best is taken, so that several layouts can be had.
func (g *group) layOut(s int, value []int64, st state, nth int) (fill, bool) {
	stock := g.stock[s]
	left := st.copied()
	room := stock.Width + g.ripKerf
	var mix []int
	var takes [][]int
	for {
		type strip struct {
			class int
			runs  []run
			takes [][]int
			worth float64
		}
		var list []strip
		for c := g.full; c < len(g.classes); c++ {
			need := g.classes[c].width + g.ripKerf
			if need > room || g.classes[c].width >= stock.Width || !g.wanted(c, left) {
				continue
			}
			next := strip{class: c, runs: g.way(s, stock, []int{c}).runs}
			want := left.copied()
			for _, r := range next.runs {
				items := g.classes[c].items
				worth, most := make([]int64, len(items)), make([]int, len(items))
				for i, it := range items {
					if most[i] = want.want[it.kind()]; most[i] > 0 {
						worth[i] = value[it.kind()]
					}
				}
				take := g.fillSearch(items, worth, most, r.room, fewNodes).takes
				for i, n := range take {
					k := items[i].kind()
					n = min(n, want.want[k]) // it may lie either way
					take[i] = n
					want.want[k] -= n
					next.worth += float64(n) * float64(value[k])
				}
				next.takes = append(next.takes, take)
			}
			if next.worth /= float64(need); next.worth > 0 {
				list = append(list, next)
			}
		}
		if len(list) == 0 {
			break
		}
		slices.SortStableFunc(list, func(a, b strip) int {
			switch {
			case a.worth > b.worth:
				return -1
			case a.worth < b.worth:
				return 1
			}
			return 0
		})
		best := list[min(nth, len(list)-1)]
		nth = 0
		for r := range best.runs {
			for i, n := range best.takes[r] {
				left.want[g.classes[best.class].items[i].kind()] -= n
			}
		}
		room -= g.classes[best.class].width + g.ripKerf
		mix, takes = append(mix, best.class), append(takes, best.takes...)
	}
	if len(mix) == 0 {
		return fill{}, false
	}
	return g.filled(g.wayOf(s, mix), takes), true
}

// wanted reports whether something just as wide as a class of strips is still wanted: a
// strip without it had better be narrower.
func (g *group) wanted(class int, st state) bool {
	width := g.classes[class].width
	for _, it := range g.classes[class].items {
		k := g.kinds[it.kind()]
		across := k.width
		if it.turned {
			across = k.length
		}
		if across == width && st.want[it.kind()] > 0 {
			return true
		}
	}
	return false
}

// wayOf is the way to part a stock into strips of the classes, in their order.
func (g *group) wayOf(s int, mix []int) int {
	w := g.way(s, g.stock[s], mix)
	at := slices.IndexFunc(g.ways, func(o way) bool { return o.stock == s && slices.Equal(o.runs, w.runs) })
	if at < 0 {
		at = len(g.ways)
		g.ways = append(g.ways, w)
	}
	return at
}

// layouts are how many first strips are tried for a sheet.
const layouts = 3

// startSheets makes a plan of sheets to beat, with half of the effort; what it leaves is
// put wherever it fits; and one that is laid out so from the start, in the ways that have
// been found.
func (t *tree) startSheets(st state) {
	g := t.g
	var fills []fill
	rest := st
	g.within(g.effort/2, func() { fills, rest = g.sheets(st) })
	end, left := greedy(g, rest)
	t.offer(append(fills, end...), left)
	t.offer(greedy(g, st))
}

// sheets is a plan made sheet by sheet, each the cheapest for the area of what is
// in it, and what is left to lay out when the effort ends.
func (g *group) sheets(st state) ([]fill, state) {
	st = st.copied()
	area := make([]int64, len(g.kinds))
	for k, kind := range g.kinds {
		w := kind.width
		if w == 0 {
			w = g.wide()
		}
		area[k] = int64(kind.length/1e6) * int64(w/1e6)
	}
	var fills []fill
	for !st.done() && g.effort > 0 {
		var best fill
		least := 0.0
		offer := func(f fill) {
			in := 0.0
			for k, n := range f.gets {
				in += float64(area[k]) * float64(min(n, st.want[k]))
			}
			if price := float64(g.stock[g.ways[f.way].stock].Price+1) / in; in > 0 && (least == 0 || price < least) {
				best, least = f, price
			}
		}
		for s := range g.stock {
			if st.most[s] == 0 {
				continue
			}
			for nth := range layouts {
				if f, ok := g.layOut(s, area, st, nth); ok {
					offer(f)
				}
			}
		}
		for w, found := range g.worthiest(area, st) {
			if found.takes != nil {
				offer(g.filled(w, found.takes))
			}
		}
		if least == 0 {
			break
		}
		st.use(g, best, 1)
		fills = append(fills, best)
	}
	return fills, st
}
