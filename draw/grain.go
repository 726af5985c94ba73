package draw

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/frame"
)

// tone picks the shade of a face: tops are lightest, faces to the right
// darkest, and end grain has its own.
func (d *drawing) tone(f face, p *frame.Part) string {
	if math.Abs(f.normal.dot(p.Way())) > 0.6 {
		return "d-timber-end"
	}
	switch {
	case d.elevation():
		return "d-timber-face"
	case f.normal[2] > 0.6:
		return "d-timber-top"
	case f.normal[0] > 0.6 || f.normal[1] > 0.6:
		return "d-timber-side"
	}
	return "d-timber-face"
}

// grain hints at the wood: two wavering lines along a face, rings on an end.
func (d *drawing) grain(f face, p *frame.Part, pts []pt) {
	if len(pts) != 4 {
		return
	}
	way := vec(p.Way())
	along := math.Abs(f.normal.dot(way)) <= 0.6
	u, v := 0, 1 // pts[0]->pts[1] and pts[1]->pts[2]
	e0 := math.Hypot(pts[1].x-pts[0].x, pts[1].y-pts[0].y)
	e1 := math.Hypot(pts[2].x-pts[1].x, pts[2].y-pts[1].y)
	if min(e0, e1) < 9 {
		return
	}
	mix := func(a, b pt, t float64) pt { return pt{a.x + (b.x-a.x)*t, a.y + (b.y-a.y)*t} }
	if !along {
		c := mix(pts[0], pts[2], 0.5)
		r := min(e0, e1)
		for _, k := range []float64{0.14, 0.28, 0.42} {
			d.add(`<circle class="d-grain" cx="%s" cy="%s" r="%s"/>`, n(c.x), n(c.y), n(r*k))
		}
		return
	}
	// The grain runs along the edge that lies along the part's grain axis.
	run := func(i int) float64 { return math.Abs(f.corners[i+1].dot(way) - f.corners[i].dot(way)) }
	if run(1) > run(0) {
		u, v = 1, 2
	}
	s0, s1 := pts[u], pts[v]             // one long edge
	t0, t1 := pts[(u+3)%4], pts[(v+1)%4] // the edge across from it
	seed := float64(len(p.ID)*7+p.Course*13) * 0.37
	for k, t := range []float64{0.3, 0.68} {
		wob := 0.05 * math.Sin(seed+float64(k)*2)
		a, b := mix(s0, t0, t+wob), mix(s1, t1, t-wob)
		q := mix(mix(a, b, 0.5), mix(s0, t0, 0), 0.04*math.Sin(seed*3+float64(k)))
		d.add(`<path class="d-grain" d="M%s %sQ%s %s %s %s"/>`, n(a.x), n(a.y), n(q.x), n(q.y), n(b.x), n(b.y))
	}
}

// flecks stipples a soil surface, the same way every time.
func (d *page) flecks(pts []pt) {
	lo, hi := bounds(pts)
	var b strings.Builder
	seed := uint32(7)
	for y := lo.y + 10; y < hi.y-6; y += 26 {
		for x := lo.x + 10; x < hi.x-6; x += 29 {
			seed = seed*1664525 + 1013904223
			q := pt{x + float64(seed>>24&15), y + float64(seed>>16&15)}
			if inside(q, pts) && inside(pt{q.x + 4, q.y + 2}, pts) {
				fmt.Fprintf(&b, "M%s %sl3 1", n(q.x), n(q.y))
			}
		}
	}
	d.add(`<path d="%s" stroke="var(--soil-fleck)" stroke-width="1.6" stroke-linecap="round" fill="none"/>`, b.String())
}
