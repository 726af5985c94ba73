package planting

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"chamfer/core/measure"
)

// Spot is a cell of a bed's grid, with what decides what grows well there.
type Spot struct {
	Surface, Column, Row int
	Deep                 measure.Length
	Hours                float64        // of sun a day through the growing season, crops aside
	Off                  int            // cells between it and whoever reaches, 0 at the edge they stand at
	Pole                 int            // cells between it and the side of the pole, where tall things stand
	Trellis              bool           // it is at something to climb
	Past                 map[string]int // families that stood here, by how many years ago
	Kept                 *Crop          // grows here already, and stays
}

// Ask is what is to be laid out.
type Ask struct {
	Surfaces []Surface
	Spots    []Spot
	Wants    []Wanted
	// Lost is how many hours a day something so high, on cells wide by deep from one on, takes from another.
	Lost     func(high measure.Length, from Spot, wide, deep int, to Spot) float64
	Folklore bool
	Steps    int // of the search at most; 0 for as many as are usual
}

// Wanted is so many plants of a crop.
type Wanted struct {
	Crop Crop
	N    int
}

// Placed is one patch as it was laid out: cells from its corner on.
type Placed struct {
	Crop                 Crop
	Surface, Column, Row int
	Wide, Deep           int // cells
	Why                  []string
}

// Layout is what came of it. It is Proved where no other placing of the same patches on the grid costs less; Bound is
// what any costs at least.
type Layout struct {
	Placed      []Placed
	Left        []Wanted // that found no room
	Cost, Bound int
	Proved      bool
	Tried       int // steps of the search
}

const (
	usualSteps = 300_000
	mostWork   = 12_000_000 // of pairs looked at: a second or so, however much is wanted
	fewItems   = 12
	mostItems  = 150

	perHour   = 100 // of sun that is missing; one that is only lost, and not missed, is a tenth
	perDepth  = 10  // a centimetre of soil that is missing
	perPole   = 3   // cell away from the side of the pole, for what is tall: it shades what is not planted yet
	perFar    = 4   // cell away from the edge, for what is picked often
	noTrellis = 300 // for what climbs, where there is something to climb
	tooSoon   = 400 // the family stood there too lately
	beside    = 150 // a neighbour that harms, by grade
	thirst    = 20  // a step of water between neighbours
	hunger    = 10  // a step of feeding
	apartFrom = 10  // a neighbour that helps is elsewhere, by grade
)

// item is one patch that is to be placed: a block of cells.
type item struct {
	crop Crop
	of   int // which want
	w, d int
	kind int   // those of a kind are alike: of one want, as large
	at   []int // cells it may have its left front corner on
}

// blockOf is what makes two items the same.
type blockOf struct {
	crop string
	w, d int
}

func (it item) block() blockOf { return blockOf{it.crop.ID, it.w, it.d} }

// layer is a layout being searched.
type layer struct {
	Ask
	index  map[[3]int]int
	items  []item
	unary  [][]int   // by item and corner cell
	pair   [][]int32 // by two kinds, what they cost on two cells; -1 for what was not reckoned yet
	kinds  int
	best   []int
	cost   int
	now    []int
	taken  []bool
	steps  int
	work   int   // pairs that were looked at
	floor  []int // least of the items from the k-th on
	proved bool
}

// LayOut places crops on a bed's grid: each want as blocks of cells as large as its plants need. Tall ones go where
// they
// take least sun from others, climbers to the trellis, roots where it is deep enough, families where they have not
// stood lately, what is picked often near whoever reaches. The placing is searched whole where the size allows;
// else the best that was found is told with a bound. Cells that are kept are left as they are.
func LayOut(a Ask) Layout {
	l := &layer{Ask: a, index: map[[3]int]int{}}
	if l.Steps == 0 {
		l.Steps = usualSteps
	}
	for i, s := range a.Spots {
		l.index[[3]int{s.Surface, s.Column, s.Row}] = i
	}
	l.taken = make([]bool, len(a.Spots))
	left := l.cut()
	out := Layout{Left: left}
	for {
		l.price()
		if l.greedy() {
			break
		}
		if len(l.items) <= fewItems { // a placing there may be that greed does not see
			l.cost, l.now = math.MaxInt, make([]int, len(l.items))
			l.free()
			if l.search(0, 0); l.cost < math.MaxInt {
				break
			}
			l.steps = 0
			l.greedy()
		}
		// What could not be placed is left, one block at a time where they are few, until the rest has room.
		for k := len(l.items) - 1; k >= 0; k-- {
			if l.now[k] >= 0 {
				continue
			}
			out.Left = append(out.Left, Wanted{l.items[k].crop, l.holds(l.items[k])})
			l.items = slices.Delete(l.items, k, k+1)
			if len(l.items) < fewItems {
				break
			}
		}
	}
	l.proved = true
	if len(l.items) > 0 {
		l.improve()
		l.again()
		l.otherwise()
		l.now = make([]int, len(l.items))
		l.search(0, 0)
	}
	out.Cost, out.Proved, out.Tried = l.cost, l.proved, l.steps
	if out.Bound = l.cost; !l.proved {
		out.Bound = min(l.bound(), l.cost)
	}
	out.Placed = l.told()
	out.Left = together(out.Left)
	return out
}

// together adds up what found no room, crop by crop.
func together(left []Wanted) (list []Wanted) {
	for _, w := range left {
		if i := slices.IndexFunc(list, func(o Wanted) bool { return o.Crop.ID == w.Crop.ID }); i >= 0 {
			list[i].N += w.N
		} else {
			list = append(list, w)
		}
	}
	return list
}

// cell is how large a cell of a surface is.
func (l *layer) cell(surface int) (wide, deep measure.Length) {
	s := l.Surfaces[surface]
	return (s.Hi.U - s.Lo.U) / measure.Length(s.Columns), (s.Hi.V - s.Lo.V) / measure.Length(s.Rows)
}

// cut cuts wants into blocks: single cells where a plant has room in one, else the fewest that a plant takes.
func (l *layer) cut() (left []Wanted) {
	wide, deep := l.cell(0)
	for k := range l.Surfaces {
		w, d := l.cell(k)
		wide, deep = min(wide, w), min(deep, d)
	}
	for k, want := range l.Wants {
		for n := want.N; n > 0; {
			it := l.largest(item{crop: want.Crop, of: k}, n, wide, deep)
			if len(l.items) >= mostItems {
				left = append(left, Wanted{want.Crop, n})
				break
			}
			l.items = append(l.items, it)
			n -= l.holds(it)
		}
	}
	slices.SortStableFunc(l.items, func(a, b item) int { // the largest and the tallest first
		return cmp.Or(cmp.Compare(b.w*b.d, a.w*a.d), cmp.Compare(b.crop.High, a.crop.High), cmp.Compare(a.of, b.of),
			cmp.Compare(a.w, b.w))
	})
	return left
}

// largest is the block that wastes least of so many plants: none larger than four cells each way, and one plant's where
// there is no other.
func (l *layer) largest(it item, n int, wide, deep measure.Length) item {
	it.w, it.d = blocks(it.crop.Each, wide), blocks(it.crop.Each, deep)
	if l.Surfaces[0].Pots != nil {
		it.w, it.d = 1, 1
		return it
	}
	if it.w*it.d == 1 {
		return it
	}
	best := it
	for it.d = 1; it.d <= min(4, l.Surfaces[0].Rows); it.d++ {
		for it.w = 1; it.w <= min(4, l.Surfaces[0].Columns); it.w++ {
			h, was := l.room(it), max(1, l.room(best))
			if h > 0 && h <= n && h*best.w*best.d > was*it.w*it.d {
				best = it
			}
		}
	}
	return best
}

// room is how many plants a block takes on open soil, along and across.
func (l *layer) room(it item) int {
	wide, deep := l.cell(0)
	n := func(l measure.Length) int { return int((l + l/100) / it.crop.Each) }
	return n(wide*measure.Length(it.w)) * n(deep*measure.Length(it.d))
}

// blocks is how many cells a plant needs one way; a cell that is a hair short counts.
func blocks(each, cell measure.Length) int {
	return max(1, int((each+cell-1-cell/100)/cell))
}

// holds is how many plants are counted on for a block: one at least.
func (l *layer) holds(it item) int { return max(1, l.room(it)) }

// cells are those of an item with its corner on one; false where it has no room there.
func (l *layer) cells(it item, at int) (list []int, ok bool) {
	s := l.Spots[at]
	for r := range it.d {
		for c := range it.w {
			i, there := l.index[[3]int{s.Surface, s.Column + c, s.Row + r}]
			if !there || l.Spots[i].Kept != nil {
				return nil, false
			}
			list = append(list, i)
		}
	}
	return list, true
}

// alone is what a crop costs on a cell by itself, part by part.
func alone(c Crop, s Spot, trellis bool) (sun, deep, far, climb, past int) {
	sun = int(math.Round(perHour * max(0, float64(c.SunHours)-s.Hours)))
	deep = int(max(0, c.Deep-s.Deep) / (10 * measure.Millimetre) * perDepth)
	if c.Picked.Max >= 8 || c.Kind == "herb" || c.Kind == "fruit" {
		far = perFar * s.Off
	}
	if c.High > 900*measure.Millimetre {
		far += perPole * s.Pole
	}
	if c.Climbs() && trellis && !s.Trellis {
		climb = noTrellis
	}
	if ago, was := s.Past[c.Family]; was && ago <= Rest(c) {
		past = tooSoon
	}
	return sun, deep, far, climb, past
}

// onCells is what a block costs on cells by itself: the mean of them, and the whole of its family's coming back too
// soon where it does on any.
func (l *layer) onCells(it item, cells []int, trellis bool) int {
	sum, back := 0, 0
	for _, i := range cells {
		sun, deep, far, climb, past := alone(it.crop, l.Spots[i], trellis)
		sum += sun + deep + far + climb
		back = max(back, past)
	}
	return sum/len(cells) + back
}

// price reckons what each item costs on each cell, and where it has room.
func (l *layer) price() {
	trellis := slices.ContainsFunc(l.Spots, func(s Spot) bool { return s.Trellis })
	l.unary = make([][]int, len(l.items))
	of := map[blockOf]int{}
	for k := range l.items {
		it := &l.items[k]
		if _, ok := of[it.block()]; !ok {
			of[it.block()] = len(of)
		}
		it.kind = of[it.block()]
	}
	l.kinds, l.pair = len(of), make([][]int32, len(of)*len(of))
	for k := range l.items {
		it := &l.items[k]
		if k > 0 && l.items[k-1].block() == it.block() {
			it.at, l.unary[k] = l.items[k-1].at, l.unary[k-1]
			continue
		}
		it.at, l.unary[k] = nil, make([]int, len(l.Spots))
		for at := range l.Spots {
			cells, ok := l.cells(*it, at)
			if !ok {
				continue
			}
			sum := l.onCells(*it, cells, trellis)
			for i, s := range l.Spots { // beside what stays
				if s.Kept != nil {
					sum += l.pairCost(*it, at, item{crop: *s.Kept, w: 1, d: 1}, i)
				}
			}
			l.unary[k][at] = sum
			it.at = append(it.at, at)
		}
		slices.SortStableFunc(it.at, func(a, b int) int { return cmp.Compare(l.unary[k][a], l.unary[k][b]) })
	}
	l.floor = make([]int, len(l.items)+1)
	for k := len(l.items) - 1; k >= 0; k-- {
		l.floor[k] = l.floor[k+1]
		if at := l.items[k].at; len(at) > 0 {
			l.floor[k] += l.unary[k][at[0]]
		}
	}
}

// pairCost is what two blocks cost with their corners on two cells: never less than nothing.
func (l *layer) pairCost(a item, at int, b item, bt int) int {
	s, t := l.Spots[at], l.Spots[bt]
	cost := 0
	for _, way := range [2]struct {
		tall, low item
		from, to  Spot
	}{{a, b, s, t}, {b, a, t, s}} {
		lost := l.shadow(way.tall, way.from, way.low, way.to)
		need := max(0, float64(way.low.crop.SunHours)-(way.to.Hours-lost)) -
			max(0, float64(way.low.crop.SunHours)-way.to.Hours)
		cost += int(math.Round(perHour*need + perHour/10*lost))
	}
	near := near(a, s, b, t)
	for _, p := range Known(a.crop, b.crop, l.Folklore) {
		switch {
		case p.Helps && !near:
			cost += apartFrom * max(1, p.Grade)
		case !p.Helps && near:
			cost += beside * max(1, p.Grade)
		}
	}
	if near {
		cost += thirst*abs(a.crop.Thirsty()-b.crop.Thirsty()) + hunger*abs(a.crop.Hungry()-b.crop.Hungry())
	}
	return cost
}

// shadow is how many hours a taller block takes from the middle of a lower one, on whose leaves it falls half way up.
func (l *layer) shadow(tall item, from Spot, low item, to Spot) float64 {
	if l.Lost == nil || tall.crop.High < low.crop.High+300*measure.Millimetre {
		return 0
	}
	return l.Lost(tall.crop.High-low.crop.High/2, from, tall.w, tall.d, l.middle(low, to))
}

// near reports whether two blocks touch, be it at a corner.
func near(a item, s Spot, b item, t Spot) bool {
	gap := func(x, wide, y, wide2 int) int { return max(y-(x+wide-1), x-(y+wide2-1)) }
	return s.Surface == t.Surface && gap(s.Column, a.w, t.Column, b.w) <= 1 && gap(s.Row, a.d, t.Row, b.d) <= 1
}

// middle is the cell in the middle of a block that has its corner on s.
func (l *layer) middle(it item, s Spot) Spot {
	if i, ok := l.index[[3]int{s.Surface, s.Column + (it.w-1)/2, s.Row + (it.d-1)/2}]; ok {
		return l.Spots[i]
	}
	return s
}

// free frees all cells but those that are kept.
func (l *layer) free() {
	for i, s := range l.Spots {
		l.taken[i] = s.Kept != nil
	}
}

func abs(n int) int { return max(n, -n) }

// added is what an item costs beside those placed before it.
func (l *layer) added(k, at, placed int) (cost int) {
	for o := range placed {
		if l.now[o] >= 0 {
			cost += l.pairOf(k, at, o, l.now[o])
		}
	}
	return cost
}

// pairOf is pairCost, kept; those of one crop cost nothing.
func (l *layer) pairOf(k, at, o, ot int) int {
	a, b := l.items[k], l.items[o]
	if a.of == b.of {
		return 0
	}
	if a.of > b.of {
		a, b, at, ot = b, a, ot, at
	}
	n := len(l.Spots)
	t := l.pair[a.kind*l.kinds+b.kind]
	if t == nil {
		t = make([]int32, n*n)
		for i := range t {
			t[i] = -1
		}
		l.pair[a.kind*l.kinds+b.kind] = t
	}
	c := &t[at*n+ot]
	if *c < 0 {
		*c = int32(l.pairCost(a, at, b, ot))
	}
	return int(*c)
}

// put takes or frees an item's cells; false where one is taken already.
func (l *layer) put(k, at int, take bool) bool {
	cells, _ := l.cells(l.items[k], at)
	if take && slices.ContainsFunc(cells, func(i int) bool { return l.taken[i] }) {
		return false
	}
	for _, i := range cells {
		l.taken[i] = take
	}
	return true
}

// greedy places item by item where each adds least; false where one finds no room.
func (l *layer) greedy() bool {
	l.now, l.cost = make([]int, len(l.items)), 0
	l.free()
	all := true
	for k, it := range l.items {
		best, least := -1, math.MaxInt
		for _, at := range it.at {
			if c := l.unary[k][at] + l.added(k, at, k); c < least && l.put(k, at, true) {
				l.put(k, at, false)
				best, least = at, c
			}
		}
		if l.now[k] = best; best < 0 {
			all = false
			continue
		}
		l.put(k, best, true)
		l.cost += least
	}
	l.best = slices.Clone(l.now)
	return all
}

// total is what a placing costs.
func (l *layer) total(at []int) (cost int) {
	for k, a := range at {
		cost += l.unary[k][a]
		for o := range k {
			cost += l.pairOf(k, a, o, at[o])
		}
	}
	return cost
}

// improve moves single items, and swaps pairs of the same size, while that costs less.
func (l *layer) improve() {
	l.now = slices.Clone(l.best)
	for round := 0; round < 30 && l.work < mostWork; round++ {
		better := false
		for k := range l.items {
			old := l.now[k]
			l.put(k, old, false)
			best, least := old, l.besides(k, old)
			for _, at := range l.items[k].at {
				if l.unary[k][at] >= least {
					break
				}
				if c := l.besides(k, at); c < least && l.put(k, at, true) {
					l.put(k, at, false)
					best, least = at, c
				}
			}
			l.now[k] = best
			l.put(k, best, true)
			better = better || best != old
		}
		for k := range l.items {
			for o := range k {
				if a, b := l.items[k], l.items[o]; a.of == b.of || a.w != b.w || a.d != b.d {
					continue
				}
				was := l.besides(k, l.now[k]) + l.besides(o, l.now[o])
				l.now[k], l.now[o] = l.now[o], l.now[k]
				if l.besides(k, l.now[k])+l.besides(o, l.now[o]) < was {
					better = true
				} else {
					l.now[k], l.now[o] = l.now[o], l.now[k]
				}
			}
		}
		if !better {
			break
		}
	}
	if c := l.total(l.now); c < l.cost {
		l.cost, l.best = c, slices.Clone(l.now)
	}
	l.free()
}

// otherwise begins anew: from the best turned front to back, left to right and both, and from all items put down in
// other orders. What the few at a time do not get over is got over so.
func (l *layer) otherwise() {
	best, cost := l.best, l.cost
	keep := func() {
		if l.cost < cost {
			best, cost = slices.Clone(l.best), l.cost
		}
	}
	dice := rand.New(rand.NewPCG(23, uint64(len(l.items))))
	from := slices.Clone(best)
	for n := range starts {
		if l.work > mostWork {
			break
		}
		l.now = make([]int, len(l.items))
		for k := range l.now {
			l.now[k] = -1
		}
		l.free()
		whole := true
		for _, k := range dice.Perm(len(l.items)) {
			at := -1
			if n < 3 {
				at = l.mirrored(l.items[k], from[k], n != 1, n != 0)
				if at >= 0 && !l.put(k, at, true) {
					at = -1
				}
			} else if at = l.cheapest(k); at >= 0 {
				l.put(k, at, true)
			}
			if l.now[k] = at; at < 0 {
				whole = false
				break
			}
		}
		if !whole {
			continue
		}
		l.best, l.cost = slices.Clone(l.now), l.total(l.now)
		l.free()
		for k, at := range l.best {
			l.put(k, at, true)
		}
		l.improve()
		l.again()
		keep()
	}
	l.best, l.cost = best, cost
	l.free()
}

// starts is how often the search begins anew.
const starts = 9

// mirrored is where an item comes to when its surface is turned over; -1 where it has no room there.
func (l *layer) mirrored(it item, at int, rows, columns bool) int {
	s := l.Spots[at]
	g := l.Surfaces[s.Surface]
	if rows {
		s.Row = g.Rows - it.d - s.Row
	}
	if columns {
		s.Column = g.Columns - it.w - s.Column
	}
	i, ok := l.index[[3]int{s.Surface, s.Column, s.Row}]
	if !ok {
		return -1
	}
	if _, room := l.cells(it, i); !room {
		return -1
	}
	return i
}

// cheapest is the free place where an item adds least to those that are down; -1 for none.
func (l *layer) cheapest(k int) int {
	best, least := -1, math.MaxInt
	for _, at := range l.items[k].at {
		if l.unary[k][at] >= least {
			break
		}
		if c := l.besides(k, at); c < least && l.put(k, at, true) {
			l.put(k, at, false)
			best, least = at, c
		}
	}
	return best
}

// rounds is how often a few items are taken up and put down anew, by the number of items.
const rounds = 50

// again takes a few items up, puts them down one by one where each adds least, and keeps what costs less: the dice are
// the same each time.
func (l *layer) again() {
	dice := rand.New(rand.NewPCG(17, uint64(len(l.items))))
	n := len(l.items)
	for range rounds * n {
		if l.work > mostWork {
			break
		}
		l.now = slices.Clone(l.best)
		l.free()
		for k, at := range l.now {
			l.put(k, at, true)
		}
		up := dice.Perm(n)[:min(n, 2+dice.IntN(4))]
		for _, k := range up {
			l.put(k, l.now[k], false)
			l.now[k] = -1
		}
		whole := true
		for _, k := range up {
			at := l.cheapest(k)
			if l.now[k] = at; at < 0 {
				whole = false
				break
			}
			l.put(k, at, true)
		}
		if whole {
			if c := l.total(l.now); c < l.cost {
				l.cost, l.best = c, slices.Clone(l.now)
			}
		}
	}
	l.free()
}

// besides is what an item costs on a cell with all others as they are.
func (l *layer) besides(k, at int) int {
	c := l.unary[k][at]
	l.work += len(l.now)
	for o, ot := range l.now {
		if o != k && ot >= 0 {
			c += l.pairOf(k, at, o, ot)
		}
	}
	return c
}

// search goes over the placings that may cost less than the best, item by item; like items in the order of their cells.
func (l *layer) search(k, cost int) {
	if k == len(l.items) {
		l.cost, l.best = cost, slices.Clone(l.now)
		return
	}
	twin := k > 0 && l.items[k-1].block() == l.items[k].block()
	for _, at := range l.items[k].at {
		if l.steps >= l.Steps {
			l.proved = false
			return
		}
		if cost+l.unary[k][at]+l.floor[k+1] >= l.cost {
			return // those behind it cost no less
		}
		if twin && at < l.now[k-1] {
			continue
		}
		l.steps++
		c := cost + l.unary[k][at] + l.added(k, at, k)
		if c+l.floor[k+1] >= l.cost || !l.put(k, at, true) {
			continue
		}
		l.now[k] = at
		l.search(k+1, c)
		l.put(k, at, false)
	}
}

// bound is what any placing costs at least: items alone, single cells shared out by [Assign].
func (l *layer) bound() int {
	sum := 0
	var rows [][]int
	for k, it := range l.items {
		if it.w*it.d > 1 {
			sum += l.unary[k][it.at[0]]
			continue
		}
		row := make([]int, len(l.Spots))
		for i := range row {
			row[i] = Forbidden
		}
		for _, at := range it.at {
			row[at] = l.unary[k][at]
		}
		rows = append(rows, row)
	}
	x, _, _, ok := Assign(rows)
	if !ok {
		return sum
	}
	for i, j := range x {
		sum += rows[i][j]
	}
	return sum
}

// told are the patches, those of one crop side by side together, each with why it is there.
func (l *layer) told() (list []Placed) {
	for k, at := range l.best {
		s, it := l.Spots[at], l.items[k]
		list = append(list, Placed{Crop: it.crop, Surface: s.Surface, Column: s.Column, Row: s.Row, Wide: it.w, Deep: it.d,
			Why: l.why(k, at)})
	}
	slices.SortStableFunc(list, func(a, b Placed) int {
		return cmp.Or(cmp.Compare(a.Surface, b.Surface), cmp.Compare(a.Row, b.Row), cmp.Compare(a.Column, b.Column))
	})
	join := func(along bool) {
		for i := 0; i < len(list); i++ {
			for j := 0; j < len(list); j++ {
				a, b := &list[i], list[j]
				if i == j || a.Crop.ID != b.Crop.ID || a.Surface != b.Surface {
					continue
				}
				side := along && a.Row == b.Row && a.Deep == b.Deep && a.Column+a.Wide == b.Column
				behind := !along && a.Column == b.Column && a.Wide == b.Wide && a.Row+a.Deep == b.Row
				if !side && !behind {
					continue
				}
				if side {
					a.Wide += b.Wide
				} else {
					a.Deep += b.Deep
				}
				list = slices.Delete(list, j, j+1)
				i, j = -1, len(list)
			}
		}
	}
	if l.Surfaces[0].Pots == nil {
		join(true)
		join(false)
	}
	return list
}

// why says what an item's place came to.
func (l *layer) why(k, at int) (list []string) {
	it, s := l.items[k], l.Spots[at]
	trellis := slices.ContainsFunc(l.Spots, func(s Spot) bool { return s.Trellis })
	sun, deep, _, climb, past := alone(it.crop, s, trellis)
	switch {
	case sun > 0:
		list = append(list, fmt.Sprintf("%.1f hours of sun, %.1f short of what it likes", s.Hours,
			float64(it.crop.SunHours)-s.Hours))
	default:
		list = append(list, fmt.Sprintf("%.1f hours of sun, and it asks for %d", s.Hours, it.crop.SunHours))
	}
	if deep > 0 {
		list = append(list, "its roots go deeper than the bed")
	}
	if it.crop.Climbs() && trellis {
		if climb == 0 {
			list = append(list, "at the trellis")
		} else {
			list = append(list, "away from the trellis, where there is no room left")
		}
	}
	if past > 0 {
		list = append(list, "its family stood here too lately")
	}
	taken := 0.0
	var helped, harmed []string
	for o, ot := range l.best {
		if o == k {
			continue
		}
		other, t := l.items[o].crop, l.Spots[ot]
		taken = max(taken, l.shadow(it, s, l.items[o], t))
		if near(it, s, l.items[o], t) {
			for _, p := range Known(it.crop, other, l.Folklore) {
				if p.Helps {
					helped = append(helped, strings.ToLower(other.Name))
				} else {
					harmed = append(harmed, strings.ToLower(other.Name))
				}
			}
		}
	}
	if taken > 0.05 {
		list = append(list, fmt.Sprintf("it takes up to %.1f hours of sun from what grows beside it", taken))
	} else if it.crop.High > 900*measure.Millimetre {
		list = append(list, "tall, and it shades nothing that is lower")
	}
	if len(helped) > 0 {
		slices.Sort(helped)
		list = append(list, "beside "+strings.Join(slices.Compact(helped), ", "))
	}
	if len(harmed) > 0 {
		slices.Sort(harmed)
		list = append(list, "beside "+strings.Join(slices.Compact(harmed), ", ")+", which does it no good")
	}
	return list
}
