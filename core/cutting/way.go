package cutting

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/measure"
)

// Before pieces are marked on it a board is a few runs, stretches that can be
// cut into pieces: one between its trims, several where a defect parts it, or
// the strips it is ripped into.
//
//	|trim|========= run =========|bad|==== run ====|trim|

// item is what a run can be cut into: a piece, a blank that is ripped into several pieces
// of its length, or one that is ripped into strips which are crosscut in their turn.
type item struct {
	size   int64 // length + kerf
	gets   []yield
	strips []strip // where they are crosscut; nil for a piece and for pieces side by side
	// The piece lies across the board: its width is what is cut off, its length
	// what that is ripped to.
	turned bool
}

// yield is so many pieces of a kind.
type yield struct{ kind, n int }

// strip is one strip of a blank: its width, and the pieces that it is crosscut into.
type strip struct {
	width measure.Length
	kinds []int
}

// single is an item of so many pieces of one kind.
func single(size int64, kind, n int, turned bool) item {
	return item{size: size, gets: []yield{{kind, n}}, turned: turned}
}

// kind is the one kind that an item is of which is not crosscut once more.
func (it item) kind() int { return it.gets[0].kind }

// worth is what all that comes out of an item is worth.
func (it item) worth(value []int64) int64 {
	sum := int64(0)
	for _, y := range it.gets {
		sum += value[y.kind] * int64(y.n)
	}
	return sum
}

// most is after how many of an item nothing that it yields is wanted any more.
func (it item) most(want []int) int {
	n := 0
	for _, y := range it.gets {
		left := want[y.kind]
		if y.n > 1 { // dividing takes long, and most items yield one piece
			left = (left + y.n - 1) / y.n
		}
		n = max(n, left)
	}
	return n
}

// useful is how many of an item a plan is begun with: as long as anything of pieces side by
// side is wanted, and all of what several strips are crosscut into.
func (it item) useful(want []int) int {
	if it.strips == nil {
		return it.most(want)
	}
	n := math.MaxInt
	for _, y := range it.gets {
		n = min(n, want[y.kind]/y.n)
	}
	return n
}

// of is how many pieces of a kind come out of an item.
func (it item) of(kind int) int {
	for _, y := range it.gets {
		if y.kind == kind {
			return y.n
		}
	}
	return 0
}

// class is the items that may come out of the runs of one width, longest first.
type class struct {
	width measure.Length
	items []item
	unit  int64 // every size is a multiple of it
}

// run is a stretch of a board.
type run struct {
	class  int
	at     measure.Length // from the board's left end
	length measure.Length
	room   int64 // length + kerf
	wide   measure.Length
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
	full := map[measure.Length]int{}
	for _, s := range g.stock {
		if _, ok := full[g.widthOf(s)]; !ok {
			full[g.widthOf(s)] = len(g.classes)
			g.classes = append(g.classes, g.blanks(g.widthOf(s)))
		}
	}
	g.full = len(g.classes)
	for _, c := range g.classes {
		for _, it := range c.items {
			for _, y := range it.gets {
				g.kinds[y.kind].yield = max(g.kinds[y.kind].yield, y.n)
			}
		}
	}
	strips := map[measure.Length]int{}
	strip := func(width measure.Length, it item) {
		c, ok := strips[width]
		if !ok {
			c = len(g.classes)
			strips[width] = c
			g.classes = append(g.classes, class{width: width})
		}
		g.classes[c].items = append(g.classes[c].items, it)
	}
	for i, k := range g.kinds {
		if k.width > 0 && k.straight {
			strip(k.width, single(k.size, i, 1, false))
		}
		if k.turn {
			strip(k.length, single(int64(k.width+g.kerf), i, 1, true))
		}
	}
	if g.sheet() {
		g.trimmings()
	}
	for c := range g.classes {
		g.classes[c] = g.classes[c].sorted()
	}
	for s, stock := range g.stock {
		if stock.parted {
			g.ways = append(g.ways, g.partings(s, stock)...)
			continue
		}
		g.ways = append(g.ways, g.way(s, stock, []int{full[g.widthOf(stock)]}))
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

// sheetWide is the width over which stock is a sheet: boards are sold up to 286 mm
// wide (PS 20, nominal 12 in).
const sheetWide = 300 * measure.Millimetre

func (g *group) sheet() bool { return g.wide() > sheetWide }

// trimmings lets a sheet's strips hold narrower panels too, which are ripped to
// their width once they are cut off.
func (g *group) trimmings() {
	for c := g.full; c < len(g.classes); c++ {
		wide := g.classes[c].width
		for i, k := range g.kinds {
			if k.straight && k.width > 0 && k.width < wide {
				g.classes[c].items = append(g.classes[c].items, single(k.size, i, 1, false))
			}
			if k.turn && k.length < wide {
				g.classes[c].items = append(g.classes[c].items, single(int64(k.width+g.kerf), i, 1, true))
			}
		}
	}
}

// blanks is what a board of a width is crosscut into: pieces of its own width, blanks that
// are ripped into pieces of one kind side by side, and those of [group.blanksOf].
func (g *group) blanks(wide measure.Length) class {
	c := class{}
	for i, k := range g.kinds {
		if n := perWidth(wide, k.width, g.ripKerf); n > 0 && k.straight {
			c.items = append(c.items, single(k.size, i, n, false))
		}
		if n := perWidth(wide, k.length, g.ripKerf); n > 0 && k.turn {
			c.items = append(c.items, single(int64(k.width+g.kerf), i, n, true))
		}
	}
	if !g.sheet() {
		c.items = append(c.items, g.blanksOf(wide)...)
	}
	return c
}

// widthOf is a board's width; where it is not said, that of the widest.
func (g *group) widthOf(s Stock) measure.Length {
	if s.Width == 0 {
		return g.wide()
	}
	return s.Width
}

// oneWidth reports whether all boards are of one width.
func (g *group) oneWidth() bool {
	return !slices.ContainsFunc(g.stock, func(s Stock) bool { return g.widthOf(s) != g.wide() })
}

// way parts a stock into its stretches, each into strips of the classes.
func (g *group) way(s int, stock Stock, classes []int) way {
	w := way{stock: s}
	for _, c := range classes {
		wide := g.classes[c].width
		if wide == 0 {
			wide = g.widthOf(stock)
		}
		for _, r := range stock.runs() {
			w.runs = append(w.runs, run{c, r[0], r[1] - r[0], int64(r[1] - r[0] + g.kerf), wide})
		}
	}
	return w
}

// mostMixes is how many ways to rip a board are tried.
const mostMixes = 120

// mixes lists the sets of strips, as classes, that fill a board's width and to
// which no further strip can be added. Strips of the full width are not ripped.
func (g *group) mixes(wide measure.Length) [][]int {
	var list [][]int
	var mix []int
	var add func(c int, room measure.Length)
	add = func(c int, room measure.Length) {
		if len(list) >= mostMixes || g.sheet() && len(list) >= 40 || len(mix) > 12 {
			g.cut = true
			return
		}
		full := true
		for k := g.full; k < len(g.classes); k++ {
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
	add(g.full, wide+g.ripKerf)
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

// perWidth is how many pieces of a width come out of a board side by side; one of
// no width of its own is as wide as the board.
func perWidth(board, strip, kerf measure.Length) int {
	switch {
	case strip <= 0 || strip == board || board == 0:
		return 1
	case strip > board:
		return 0
	}
	return int((board + kerf) / (strip + kerf))
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

// filled counts what a fill yields.
func (g *group) filled(w int, takes [][]int) fill {
	f := fill{way: w, takes: takes, gets: make([]int, len(g.kinds))}
	for r, t := range takes {
		for i, n := range t {
			it := g.classes[g.ways[w].runs[r].class].items[i]
			for _, y := range it.gets {
				f.gets[y.kind] += n * y.n
			}
		}
	}
	return f
}
