package strength

import (
	"chamfer/core/frame"
)

// soften says how far what a piece lies on goes down under its share, where it lies on more
// than two pieces that bend: those in the middle of a floor give, and bring more to its
// sides.
func (w *walk) soften(row *Row, groups []group, n *node) {
	if len(groups) < 3 {
		return
	}
	gives := make([]float64, len(groups))
	for k, g := range groups {
		e := g.edges[0]
		if e.to == ground || w.nodes[e.to].upright() {
			return
		}
		gives[k] = w.goesDown(e.to, e.at) / n.Width.Metres()
	}
	across, deep := w.section(w.index[n.ID])
	e, _, _, _ := values(Member{Across: across, Deep: deep, Species: n.wood})
	row.Gives, row.EI = gives, e*across.Metres()*deep.Metres()*deep.Metres()*deep.Metres()/12
}

// goesDown is how far a lying piece goes down at a place, m, for each N/m on all of it, with
// what carries it at its ends.
func (w *walk) goesDown(i int, place frame.Point) float64 {
	if w.nodes[i].head >= 0 {
		i = w.nodes[i].head
	}
	n := &w.nodes[i]
	at := place.Along(n.Grain).Metres()
	if d, ok := w.sunk[sinkKey{i, at}]; ok {
		return d
	}
	groups := w.clusters(w.carry(i), n.Grain)
	if len(groups) < 2 {
		return 0
	}
	k := 1
	for k+1 < len(groups) && groups[k].at < at {
		k++
	}
	a, b := groups[k-1], groups[k]
	long := b.at - a.at
	x := min(max(at-a.at, 0), long)
	d := x * (long*long*long - 2*long*x*x + x*x*x) / 24 / w.stiff(i)
	for _, end := range []struct {
		g     group
		share float64
	}{{a, 1 - x/long}, {b, x / long}} {
		d += end.share * long / 2 * w.pressed(end.g.edges[0])
	}
	w.sunk[sinkKey{i, at}] = d
	return d
}

// sinkKey is a place along a piece.
type sinkKey struct {
	node int
	at   float64
}

// pressed is how far a lying piece goes down under a N at one place; an upright does not.
func (w *walk) pressed(e edge) float64 {
	if e.to == ground || w.nodes[e.to].upright() {
		return 0
	}
	i := e.to
	if w.nodes[i].head >= 0 {
		i = w.nodes[i].head
	}
	n := &w.nodes[i]
	groups := w.clusters(w.carry(i), n.Grain)
	if len(groups) < 2 {
		return 0
	}
	from, to := groups[0].at, groups[len(groups)-1].at
	a := min(max(e.at.Along(n.Grain).Metres()-from, 0), to-from)
	b := to - from - a
	return a * a * b * b / (3 * w.stiff(i) * (to - from))
}

// stiff is a lying piece's E I, with those that bend with it, N·m².
func (w *walk) stiff(i int) float64 {
	all := 0.0
	for _, k := range append([]int{i}, w.nodes[i].along...) {
		across, deep := w.section(k)
		e, _, _, _ := values(Member{Across: across, Deep: deep, Species: w.nodes[k].wood})
		all += e * across.Metres() * deep.Metres() * deep.Metres() * deep.Metres() / 12
	}
	return all
}
