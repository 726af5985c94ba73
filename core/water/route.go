package water

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/site"
)

// Routing. Pipes run along a grid of all that matters: the tap, where beds are entered, and a little
// off every bed's edges; so the shortest way round the beds is among its lines.
const (
	offBed = 100 * measure.Millimetre
	// through is how many times as long a way counts that goes under another bed.
	through = 25
	// within is how many times as long it counts inside the bed it goes to.
	within = 3
	// mostRouted is of how many beds ways are sought round the others; more get straight ones.
	mostRouted = 24
)

// grid is where pipes may run.
type grid struct {
	xs, ys []measure.Length
	l      *site.Layout

	under []int            // of the stretches from each place along u and v: see cost
	best  []measure.Length // while a way is sought: how far each place is, below nought where that is not known
	from  []int
	open  ways
}

func newGrid(p *Plan, l *site.Layout, todo []int) *grid {
	g := &grid{xs: []measure.Length{p.Tap.U}, ys: []measure.Length{p.Tap.V}, l: l}
	for _, i := range todo {
		g.xs, g.ys = append(g.xs, p.Beds[i].Entry.U), append(g.ys, p.Beds[i].Entry.V)
	}
	if len(l.Stands) <= mostRouted {
		for _, s := range l.Stands {
			g.xs = append(g.xs, max(0, s.Lo.U-offBed), s.Hi.U+offBed)
			g.ys = append(g.ys, max(0, s.Lo.V-offBed), s.Hi.V+offBed)
		}
	}
	slices.Sort(g.xs)
	slices.Sort(g.ys)
	g.xs, g.ys = slices.Compact(g.xs), slices.Compact(g.ys)
	n := len(g.xs) * len(g.ys)
	g.under, g.best, g.from = make([]int, 2*n), make([]measure.Length, n), make([]int, n)
	for i := range g.under {
		g.under[i] = notLooked
	}
	return g
}

func (g *grid) node(s frame.Spot) int {
	i, _ := slices.BinarySearch(g.xs, s.U)
	j, _ := slices.BinarySearch(g.ys, s.V)
	return i*len(g.ys) + j
}

func (g *grid) spot(n int) frame.Spot { return frame.Spot{U: g.xs[n/len(g.ys)], V: g.ys[n%len(g.ys)]} }

// next are the neighbours of a place, as many of the four as there are.
func (g *grid) next(n int) (list [4]int, many int) {
	i, j := n/len(g.ys), n%len(g.ys)
	add := func(is bool, at int) {
		if is {
			list[many] = at
			many++
		}
	}
	add(i > 0, n-len(g.ys))
	add(i+1 < len(g.xs), n+len(g.ys))
	add(j > 0, n-1)
	add(j+1 < len(g.ys), n+1)
	return list, many
}

// Under what a stretch runs, besides a stand's number.
const (
	notLooked = -2
	nothing   = -1
)

// cost is how long a stretch to a neighbour counts: under another bed than the one it goes to, many times.
func (g *grid) cost(from, to, own int) measure.Length {
	a, b := g.spot(from), g.spot(to)
	long := manhattan(a, b)
	at := &g.under[2*min(from, to)]
	if max(from, to)-min(from, to) == 1 { // along v; else along u
		at = &g.under[2*min(from, to)+1]
	}
	if *at == notLooked {
		*at = nothing
		mid := frame.Spot{U: (a.U + b.U) / 2, V: (a.V + b.V) / 2}
		for i, s := range g.l.Stands {
			if mid.U > s.Lo.U && mid.U < s.Hi.U && mid.V > s.Lo.V && mid.V < s.Hi.V {
				*at = i
				break
			}
		}
	}
	switch *at {
	case nothing:
		return long
	case own:
		return long * within
	}
	return long * through
}

// way is a place that is reached, and at what cost.
type way struct {
	node int
	far  measure.Length
}

// before orders ways, the shortest first.
func (w way) before(o way) bool { return w.far < o.far || w.far == o.far && w.node < o.node }

// ways are a heap of them, the first on top.
type ways []way

func (w *ways) push(x way) {
	h := append(*w, x)
	for i := len(h) - 1; i > 0 && h[i].before(h[(i-1)/2]); i = (i - 1) / 2 {
		h[i], h[(i-1)/2] = h[(i-1)/2], h[i]
	}
	*w = h
}

func (w *ways) pop() way {
	h := *w
	first, last := h[0], len(h)-1
	h[0] = h[last]
	h = h[:last]
	for i := 0; ; {
		least := i
		for _, k := range [2]int{2*i + 1, 2*i + 2} {
			if k < last && h[k].before(h[least]) {
				least = k
			}
		}
		if least == i {
			break
		}
		h[i], h[least] = h[least], h[i]
		i = least
	}
	*w = h
	return first
}

// shortest is the cheapest way from anything laid to a place (Dijkstra 1959), from the laid end.
func (g *grid) shortest(laid map[int]bool, to, own int) (path []int, far measure.Length) {
	for i := range g.best {
		g.best[i] = -1
	}
	q := g.open[:0]
	for n := range laid {
		g.best[n] = 0
		q.push(way{n, 0})
	}
	for len(q) > 0 {
		w := q.pop()
		if w.far > g.best[w.node] {
			continue
		}
		if w.node == to {
			break
		}
		next, many := g.next(w.node)
		for _, n := range next[:many] {
			d := w.far + g.cost(w.node, n, own)
			if b := g.best[n]; b < 0 || d < b || d == b && w.node < g.from[n] {
				g.best[n], g.from[n] = d, w.node
				q.push(way{n, d})
			}
		}
	}
	g.open = q
	for n := to; ; n = g.from[n] {
		path = append(path, n)
		if laid[n] {
			break
		}
	}
	slices.Reverse(path)
	return path, g.best[to]
}

// route lays the main from the tap to every bed with drip: the nearest first, each from the nearest
// place on what is laid, round other beds.
func (p *Plan) route(l *site.Layout) {
	var todo []int
	for i, b := range p.Beds {
		if b.By == "drip" {
			todo = append(todo, i)
		}
	}
	g := newGrid(p, l, todo)
	tap := g.node(p.Tap)
	laid := map[int]bool{tap: true}
	for len(todo) > 0 {
		var path []int
		at, far := -1, measure.Length(0)
		for k, i := range todo {
			if w, d := g.shortest(laid, g.node(p.Beds[i].Entry), p.Beds[i].Stand); at < 0 || d < far {
				at, far, path = k, d, w
			}
		}
		todo = slices.Delete(todo, at, at+1)
		if len(path) < 2 {
			continue
		}
		if path[0] != tap {
			p.Branches++
		}
		start := g.spot(path[0])
		for k := 1; k < len(path); k++ {
			laid[path[k]] = true
			here := g.spot(path[k])
			if k+1 < len(path) {
				next := g.spot(path[k+1])
				if start.U == here.U && here.U == next.U || start.V == here.V && here.V == next.V {
					continue // straight on
				}
				p.Corners++
			}
			p.Pipes = append(p.Pipes, [2]frame.Spot{start, here})
			p.Main += manhattan(start, here)
			start = here
		}
	}
}
