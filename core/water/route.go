package water

import (
	"container/heap"
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
	return g
}

func (g *grid) node(s frame.Spot) int {
	i, _ := slices.BinarySearch(g.xs, s.U)
	j, _ := slices.BinarySearch(g.ys, s.V)
	return i*len(g.ys) + j
}

func (g *grid) spot(n int) frame.Spot { return frame.Spot{U: g.xs[n/len(g.ys)], V: g.ys[n%len(g.ys)]} }

// next are the neighbours of a place.
func (g *grid) next(n int) (list []int) {
	i, j := n/len(g.ys), n%len(g.ys)
	if i > 0 {
		list = append(list, n-len(g.ys))
	}
	if i+1 < len(g.xs) {
		list = append(list, n+len(g.ys))
	}
	if j > 0 {
		list = append(list, n-1)
	}
	if j+1 < len(g.ys) {
		list = append(list, n+1)
	}
	return list
}

// cost is how long a stretch counts: under another bed than the one it goes to, many times.
func (g *grid) cost(a, b frame.Spot, own int) measure.Length {
	long := manhattan(a, b)
	mid := frame.Spot{U: (a.U + b.U) / 2, V: (a.V + b.V) / 2}
	for i, s := range g.l.Stands {
		if mid.U <= s.Lo.U || mid.U >= s.Hi.U || mid.V <= s.Lo.V || mid.V >= s.Hi.V {
			continue
		}
		if i == own {
			return long * within
		}
		return long * through
	}
	return long
}

// way is a place that is reached, and at what cost.
type way struct {
	node int
	far  measure.Length
}

type ways []way

func (w ways) Len() int { return len(w) }
func (w ways) Less(a, b int) bool {
	return w[a].far < w[b].far || w[a].far == w[b].far && w[a].node < w[b].node
}
func (w ways) Swap(a, b int) { w[a], w[b] = w[b], w[a] }
func (w *ways) Push(x any)   { *w = append(*w, x.(way)) }
func (w *ways) Pop() any {
	old := *w
	x := old[len(old)-1]
	*w = old[:len(old)-1]
	return x
}

// shortest is the cheapest way from anything laid to a place (Dijkstra 1959), from the laid end.
func (g *grid) shortest(laid map[int]bool, to, own int) (path []int, far measure.Length) {
	best, from := map[int]measure.Length{}, map[int]int{}
	var q ways
	for n := range laid {
		best[n] = 0
		q = append(q, way{n, 0})
	}
	heap.Init(&q)
	for q.Len() > 0 {
		w := heap.Pop(&q).(way)
		if w.far > best[w.node] {
			continue
		}
		if w.node == to {
			break
		}
		for _, n := range g.next(w.node) {
			d := w.far + g.cost(g.spot(w.node), g.spot(n), own)
			if b, seen := best[n]; !seen || d < b || d == b && w.node < from[n] {
				best[n], from[n] = d, w.node
				heap.Push(&q, way{n, d})
			}
		}
	}
	for n := to; ; n = from[n] {
		path = append(path, n)
		if laid[n] {
			break
		}
	}
	slices.Reverse(path)
	return path, best[to]
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
