package cutting

import (
	"cmp"
	"slices"

	"chamfer/core/measure"
)

// Before pieces are marked on it a board is a few runs, stretches that can be
// cut into pieces: one between its trims, several where a defect parts it, or
// the strips it is ripped into.
//
//	|trim|========= run =========|bad|==== run ====|trim|

// item is what a run can be cut into: a piece, or a blank that is ripped into
// several pieces of its length.
type item struct {
	size  int64 // length + kerf
	kind  int
	yield int // pieces of the kind
}

// class is the items that may come out of the runs of one width, longest first.
type class struct {
	width measure.Length
	items []item
	unit  int64 // every size is a multiple of it
	hard  int   // how often yet the branching knapsack is not tried
}

// run is a stretch of a board.
type run struct {
	class  int
	at     measure.Length // from the board's left end
	length measure.Length
	room   int64 // length + kerf
}

// way is a way to part a stock into runs.
type way struct {
	stock int
	runs  []run
	part  measure.Length // where the shop parts the board, or 0
}

// fill is one board cut: what comes out of each of its runs, by item, and how
// many pieces of each kind that is.
type fill struct {
	way   int
	takes [][]int
	gets  []int
}

// runs lists the stretches between trims and defects.
func (s Stock) runs() [][2]measure.Length {
	from := s.TrimStart
	var list [][2]measure.Length
	for _, d := range s.Defects {
		if d.From > from {
			list = append(list, [2]measure.Length{from, d.From})
		}
		from = max(from, d.To)
	}
	if to := s.Length - s.TrimEnd; to > from {
		list = append(list, [2]measure.Length{from, to})
	}
	return list
}

// Clear is the longest stretch between trims and defects that lies past a point.
func (s Stock) Clear(past measure.Length) measure.Length {
	longest := measure.Length(0)
	for _, run := range s.runs() {
		longest = max(longest, run[1]-max(run[0], past))
	}
	return longest
}

// parted lays out the ways to part every stock: as it is, for pieces of its full
// width and for blanks that are ripped afterwards, and ripped over its whole
// length into strips of the widths that are wanted.
func (g *group) parted() {
	full := class{}
	for i, k := range g.kinds {
		full.items = append(full.items, item{k.size, i, perWidth(g.wide(), k.width, g.ripKerf)})
	}
	g.classes = []class{full.sorted()}
	strips := map[measure.Length]int{}
	for i, k := range g.kinds {
		if k.width == 0 {
			continue
		}
		c, ok := strips[k.width]
		if !ok {
			c = len(g.classes)
			strips[k.width] = c
			g.classes = append(g.classes, class{width: k.width})
		}
		g.classes[c].items = append(g.classes[c].items, item{k.size, i, 1})
	}
	for c := range g.classes {
		g.classes[c] = g.classes[c].sorted()
	}
	for s, stock := range g.stock {
		if stock.parted {
			g.ways = append(g.ways, g.partings(s, stock)...)
			continue
		}
		g.ways = append(g.ways, g.way(s, stock, []int{0}))
		if stock.Width == 0 {
			continue
		}
		for _, mix := range g.mixes(stock.Width) {
			if w := g.way(s, stock, mix); len(w.runs) > 0 {
				g.ways = append(g.ways, w)
			}
		}
	}
}

// way parts a stock into its stretches, each into strips of the classes.
func (g *group) way(s int, stock Stock, classes []int) way {
	w := way{stock: s}
	for _, c := range classes {
		for _, r := range stock.runs() {
			w.runs = append(w.runs, run{c, r[0], r[1] - r[0], int64(r[1] - r[0] + g.kerf)})
		}
	}
	return w
}

// mixes lists the sets of strips, as classes, that fill a board's width and to
// which no further strip can be added. Strips of the full width are not ripped.
func (g *group) mixes(wide measure.Length) [][]int {
	var list [][]int
	var mix []int
	var add func(c int, room measure.Length)
	add = func(c int, room measure.Length) {
		if len(list) >= 40 || len(mix) > 12 {
			return
		}
		full := true
		for k := 1; k < len(g.classes); k++ {
			full = full && g.classes[k].width+g.ripKerf > room
		}
		if full && len(mix) > 0 {
			list = append(list, slices.Clone(mix))
		}
		for k := c; k < len(g.classes); k++ {
			if need := g.classes[k].width + g.ripKerf; need <= room && g.classes[k].width < wide {
				mix = append(mix, k)
				add(k, room-need)
				mix = mix[:len(mix)-1]
			}
		}
	}
	add(1, wide+g.ripKerf)
	return list
}

// wide is the width of the group's boards.
func (g *group) wide() measure.Length {
	w := measure.Length(0)
	for _, s := range g.stock {
		w = max(w, s.Width)
	}
	return w
}

// perWidth is how many strips of a width come out of a board side by side.
func perWidth(board, strip, kerf measure.Length) int {
	if strip <= 0 || strip >= board {
		return 1
	}
	return max(1, int((board+kerf)/(strip+kerf)))
}

func (c class) sorted() class {
	slices.SortStableFunc(c.items, func(a, b item) int { return -cmp.Compare(a.size, b.size) })
	c.unit = 0
	for _, it := range c.items {
		c.unit = gcd(c.unit, it.size)
	}
	return c
}

func gcd(a, b int64) int64 {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}

// plain reports whether every board is one run of whole pieces, which the
// search of [explorer] can do.
func (g *group) plain() bool {
	for _, w := range g.ways {
		if len(w.runs) != 1 {
			return false
		}
	}
	for _, it := range g.classes[0].items {
		if it.yield != 1 {
			return false
		}
	}
	return true
}

// single is a fill of a way of one run.
func (g *group) single(w int, takes []int) fill {
	return g.filled(w, [][]int{takes})
}

// filled counts what a fill yields.
func (g *group) filled(w int, takes [][]int) fill {
	f := fill{way: w, takes: takes, gets: make([]int, len(g.kinds))}
	for r, t := range takes {
		for i, n := range t {
			it := g.classes[g.ways[w].runs[r].class].items[i]
			f.gets[it.kind] += n * it.yield
		}
	}
	return f
}
