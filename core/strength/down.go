package strength

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// together is how near supports lie that count as one, in m: a hand, 0.12. A board's screws
// in a leg and the block beside it are one support; it does not turn between them.
const together = 0.12

// apart is how near two pieces lie that count as one support of what lies over both, in m.
const apart = 0.02

// down lets the wet soil on floors and the weight of all pieces down to the ground.
func (w *walk) down() {
	w.soilOnFloors()
	w.settle(OnFloor)
}

// soilOnFloors lays the soil of the room above each floor on its slats, each with its share
// by its width and the depth over it.
func (w *walk) soilOnFloors() {
	for _, f := range w.Frame.Floors {
		lo, hi := w.around(f.Slats)
		kg, top := 0.0, measure.Length(0)
		for _, c := range w.Frame.Cavities {
			mid := middle(c.Outline)
			if mid.U < lo.X || mid.U > hi.X || mid.V < lo.Y || mid.V > hi.Y {
				continue
			}
			kg, top = kg+c.Net().CubicMetres()*wetOf(w.Frame, w.Catalog), max(top, c.Top)
		}
		share, all := make([]float64, len(f.Slats)), 0.0
		for i, id := range f.Slats {
			n := &w.nodes[w.index[id]]
			deep := top - (n.lo.Z+n.hi.Z)/2
			share[i] = n.Width.Metres() * deep.Metres() * (n.hi.Along(n.Grain) - n.lo.Along(n.Grain)).Metres()
			all += share[i]
		}
		for i, id := range f.Slats {
			n := &w.nodes[w.index[id]]
			if all > 0 {
				n.each += Weight(kg) * share[i] / all / (n.hi.Along(n.Grain) - n.lo.Along(n.Grain)).Metres()
			}
		}
	}
}

// around is the box round some pieces.
func (w *walk) around(ids []string) (lo, hi frame.Point) {
	for i, id := range ids {
		n := &w.nodes[w.index[id]]
		if i == 0 {
			lo, hi = n.lo, n.hi
			continue
		}
		lo = frame.Point{X: min(lo.X, n.lo.X), Y: min(lo.Y, n.lo.Y), Z: min(lo.Z, n.lo.Z)}
		hi = frame.Point{X: max(hi.X, n.hi.X), Y: max(hi.Y, n.hi.Y), Z: max(hi.Z, n.hi.Z)}
	}
	return lo, hi
}

// middle is the middle of an outline's bounds.
func middle(outline []frame.Spot) frame.Spot {
	lo, hi := outline[0], outline[0]
	for _, s := range outline {
		lo = frame.Spot{U: min(lo.U, s.U), V: min(lo.V, s.V)}
		hi = frame.Spot{U: max(hi.U, s.U), V: max(hi.V, s.V)}
	}
	return frame.Spot{U: (lo.U + hi.U) / 2, V: (lo.V + hi.V) / 2}
}

// settle hands loads down from piece to piece, each when all that lies on it is known.
func (w *walk) settle(path Path) {
	for _, i := range w.order() {
		n := &w.nodes[i]
		switch {
		case n.head >= 0: // it bends with what it is screwed to
			o := &w.nodes[n.head]
			o.points = append(o.points, n.points...)
			o.points = append(o.points, weightOf(n))
		case n.upright():
			w.stand(i, path)
		default:
			w.span(i, path)
		}
	}
}

// weightOf is a piece's own weight and what is spread on it, at its middle.
func weightOf(n *node) Point {
	from, to := n.lo.Along(n.Grain).Metres(), n.hi.Along(n.Grain).Metres()
	return Point{(from + to) / 2, n.each * (to - from)}
}

// order lists the pieces so that none comes before what lies or hangs on it. Where pieces
// hold each other, the higher comes first.
func (w *walk) order() []int {
	waits := make([]int, len(w.nodes))
	for i := range w.nodes {
		for _, e := range w.carry(i) {
			if e.to != ground {
				waits[e.to]++
			}
		}
	}
	var list []int
	done := make([]bool, len(w.nodes))
	for len(list) < len(w.nodes) {
		before := len(list)
		for i := range w.nodes {
			if done[i] || waits[i] > 0 {
				continue
			}
			done[i], list = true, append(list, i)
			for _, e := range w.carry(i) {
				if e.to != ground {
					waits[e.to]--
				}
			}
		}
		if len(list) > before {
			continue
		}
		high := -1
		for i := range w.nodes {
			if !done[i] && (high < 0 || w.nodes[i].lo.Z > w.nodes[high].lo.Z) {
				high = i
			}
		}
		waits[high] = 0
	}
	return list
}

// carry is what carries a piece, and those that bend with it.
func (w *walk) carry(i int) []edge {
	n := &w.nodes[i]
	if len(n.along) == 0 {
		return n.on
	}
	on := slices.Clone(n.on)
	for _, k := range n.along {
		for _, e := range w.nodes[k].on {
			if e.to != i {
				on = append(on, e)
			}
		}
	}
	return on
}

// stand hands what an upright carries to what it stands on or is fixed to, by what those
// hold.
func (w *walk) stand(i int, path Path) {
	n := &w.nodes[i]
	load := n.total + n.each*(n.hi.Z-n.lo.Z).Metres()
	for _, p := range n.points {
		load += p.N
	}
	if w.grounded(i) {
		w.add(w.buckles(n, path, load))
	}
	w.shared(n.on, load, path)
}

// buckles is an upright under what stands on it, free over all its height above the ground.
func (w *walk) buckles(n *node, path Path, load float64) Link {
	thin, wide := min(n.hi.X-n.lo.X, n.hi.Y-n.lo.Y).Metres(), max(n.hi.X-n.lo.X, n.hi.Y-n.lo.Y).Metres()
	free := (n.hi.Z - max(n.lo.Z, w.floor)).Metres()
	e, _, factor, _ := values(Member{Across: measure.Inch, Deep: measure.Inch, Species: n.wood})
	// Euler for a column that may sway (le 2.1 times its height), E at its twentieth weakest
	// 0.37 of the mean and 0.822 of that (NDS 3.7.1).
	holds := 0.822 * 0.37 * e * thin * thin / (2.1 * 2.1 * free * free) * thin * wide / factor
	holds = min(holds, crushing(n.wood)*thin*wide)
	return Link{From: n.ID, To: n.ID, Path: path, Way: Upright, Load: load, Holds: holds, Breaks: bendsNDS * holds}
}

// span hands what lies along a piece to its carriers as a beam over them, and checks it and
// all that bends with it.
func (w *walk) span(i int, path Path) {
	n := &w.nodes[i]
	on := w.carry(i)
	row := Row{From: n.lo.Along(n.Grain).Metres(), To: n.hi.Along(n.Grain).Metres(), Each: n.each, Points: n.points}
	if len(on) == 0 {
		w.add(Link{From: n.ID, Path: path, Way: Across, Load: row.Each*(row.To-row.From) + sum(n.points)})
		return
	}
	if n.stands {
		w.lies(i, row, on, path)
		w.alongside(i, nil, path)
		return
	}
	for _, e := range on {
		if e.from == i && e.run > lengthwise*(row.To-row.From) {
			w.liesAlong(e, row, path)
			w.alongside(i, nil, path)
			return
		}
	}
	groups := w.clusters(on, n.Grain)
	for _, g := range groups {
		row.At = append(row.At, g.at)
	}
	w.soften(&row, groups, n)
	got := row.Carry()
	took := map[int]float64{} // by pieces that bend with it, on carriers of their own
	for k, g := range groups {
		for from, load := range w.shared(g.edges, got.On[k], path) {
			took[from] += load
		}
	}
	total := row.Each*(row.To-row.From) + sum(n.points)
	w.bends(i, row, got, total, path)
	w.alongside(i, took, path)
}

// alongside is what the pieces that bend with one hand to it through their screws, but for
// what they took to carriers of their own.
func (w *walk) alongside(i int, took map[int]float64, path Path) {
	n := &w.nodes[i]
	for _, k := range n.along {
		m := &w.nodes[k]
		at := slices.IndexFunc(m.on, func(e edge) bool { return e.to == i })
		load := sum(m.points) + weightOf(m).N - took[k]
		e := m.on[at]
		w.add(
			Link{
				From:     m.ID,
				To:       n.ID,
				Path:     path,
				Way:      e.way,
				Load:     max(0, load),
				Holds:    e.holds,
				Breaks:   e.holds * e.over,
				Joint:    e.joint,
				Screws:   e.n,
				EndGrain: e.end,
			},
		)
	}
}

// lengthwise is the share of its length from which a piece lies along another, and not
// across it: then it all comes down there, wherever else it is carried.
const lengthwise = 0.6

// liesAlong hands all of a piece to one that it lies along, spread over it.
func (w *walk) liesAlong(e edge, row Row, path Path) {
	load := row.Each*(row.To-row.From) + sum(row.Points)
	o := &w.nodes[e.to]
	before := len(o.points)
	w.pass(e, load, path)
	if len(o.points) == before {
		return // to the ground, or an upright
	}
	o.points = o.points[:before]
	const parts = 5
	for k := range parts {
		o.points = append(o.points, Point{row.From + (row.To-row.From)*(float64(k)+0.5)/parts, load / parts})
	}
	for _, other := range w.nodes[e.from].on { // its screws elsewhere only hold it down
		if other.joint != "" && other.joint != e.joint {
			w.add(
				Link{
					From:     w.nodes[e.from].ID,
					To:       w.nodes[other.to].ID,
					Path:     path,
					Way:      other.way,
					Holds:    other.holds,
					Breaks:   other.holds * other.over,
					Joint:    other.joint,
					Screws:   other.n,
					EndGrain: other.end,
				},
			)
		}
	}
}

func sum(points []Point) float64 {
	s := 0.0
	for _, p := range points {
		s += p.N
	}
	return s
}

// lies hands a piece's load straight down to what it lies on, each point to the nearest.
func (w *walk) lies(i int, row Row, on []edge, path Path) {
	n := &w.nodes[i]
	loads := make([]float64, len(on))
	holds := 0.0
	for _, e := range on {
		holds += e.holds
	}
	for k, e := range on {
		loads[k] = row.Each * (row.To - row.From) * e.holds / holds
	}
	for _, p := range row.Points {
		best := 0
		for k, e := range on {
			if d := e.at.Along(n.Grain).Metres() - p.At; d*d < square(on[best].at.Along(n.Grain).Metres()-p.At) {
				best = k
			}
		}
		loads[best] += p.N
	}
	for k, e := range on {
		w.pass(e, loads[k], path)
	}
}

func square(x float64) float64 { return x * x }

// group is carriers of a piece at one place along it.
type group struct {
	at    float64
	edges []edge
}

// clusters groups carriers by where they are along a piece; at uprights a hand counts as
// one place.
func (w *walk) clusters(on []edge, along frame.Axis) []group {
	near := apart
	if slices.ContainsFunc(on, func(e edge) bool { return e.to == ground || w.nodes[e.to].upright() }) {
		near = together
	}
	on = slices.Clone(on)
	slices.SortStableFunc(on, func(a, b edge) int { return int(a.at.Along(along) - b.at.Along(along)) })
	var list []group
	for _, e := range on {
		at := e.at.Along(along).Metres()
		if k := len(list) - 1; k >= 0 && at-list[k].at < near {
			list[k].edges = append(list[k].edges, e)
			continue
		}
		list = append(list, group{at, []edge{e}})
	}
	return list
}

// shared hands a load to several carriers by what each holds, and returns what each of the
// pieces that are carried there together gave.
func (w *walk) shared(on []edge, load float64, path Path) map[int]float64 {
	takes, holds := make([]float64, len(on)), 0.0
	for k, e := range on {
		takes[k] = e.holds
		if e.to != ground && w.nodes[e.to].upright() && !w.grounded(e.to) { // a block takes no more than its own screws
			own := 0.0
			for _, o := range w.nodes[e.to].on {
				own += o.holds
			}
			takes[k] = min(e.holds, own)
		}
		holds += takes[k]
	}
	by := map[int]float64{}
	for k, e := range on {
		part := load / float64(len(on))
		if holds > 0 {
			part = load * takes[k] / holds
		}
		by[e.from] += part
		w.pass(e, part, path)
	}
	return by
}

// pass hands a load over a link.
func (w *walk) pass(e edge, load float64, path Path) {
	from := &w.nodes[e.from]
	if load < 0 && e.lifts == 0 { // it lifts off there, and bends a little more elsewhere
		load = 0
	}
	l := Link{
		From:     from.ID,
		To:       "ground",
		Path:     path,
		Way:      e.way,
		Load:     load,
		Holds:    e.holds,
		Breaks:   e.holds * e.over,
		Joint:    e.joint,
		Screws:   e.n,
		EndGrain: e.end,
	}
	if load < 0 { // it is lifted off there, and its screws hold it down
		l.Load, l.Holds, l.Breaks = -load, e.lifts, e.lifts*pullsOut
		if e.way == Crushing {
			l.Way = Pulled
		}
	}
	if e.way == OnSoil {
		l.To = "soil"
		w.add(l)
		return
	}
	if e.to == ground {
		w.toGround(&l)
		w.add(l)
		return
	}
	o := &w.nodes[e.to]
	l.To = o.ID
	w.add(l)
	if o.upright() {
		o.total += load
		return
	}
	o.points = append(o.points, Point{e.at.Along(o.Grain).Metres(), load})
}

// toGround is what a foot stands on: a deck, or a caster of which one is off the ground.
func (w *walk) toGround(l *Link) {
	for _, x := range w.Frame.Fittings {
		if c, err := w.Catalog.Fitting(x.Kind); err == nil && c.Load > 0 && c.Height > 0 && x.Count > 1 {
			l.Way, l.To = Rolling, x.ID
			l.Load *= float64(x.Count) / float64(x.Count-1)
			l.Holds, l.Breaks = Weight(c.Load), Weight(c.Load)
			return
		}
	}
	if w.On.Firm() {
		l.To = string(w.On)
	}
}

// bends checks a piece and those that bend with it, by their stiffness.
func (w *walk) bends(i int, row Row, got Carried, total float64, path Path) {
	n := &w.nodes[i]
	members := []int{i}
	for _, k := range n.along {
		if m := &w.nodes[k]; 5*(m.hi.Along(m.Grain)-m.lo.Along(m.Grain)) >= 3*(n.hi.Along(n.Grain)-n.lo.Along(n.Grain)) {
			members = append(members, k)
		}
	}
	stiff, all := make([]float64, len(members)), 0.0
	for k, m := range members {
		across, deep := w.section(m)
		e, _, _, _ := values(Member{Across: across, Deep: deep, Species: w.nodes[m].wood})
		stiff[k] = e * across.Metres() * deep.Metres() * deep.Metres() * deep.Metres()
		all += stiff[k]
	}
	span := 0.0
	for k := 1; k < len(row.At); k++ {
		span = max(span, row.At[k]-row.At[k-1])
	}
	for k, m := range members {
		o, share := &w.nodes[m], stiff[k]/all
		across, deep := w.section(m)
		_, _, factor, allowed := values(Member{Across: across, Deep: deep, Species: o.wood})
		most := allowed * across.Metres() * deep.Metres() * deep.Metres() / 6 / factor
		over := breaksBending(o.wood)
		holds := func(most, is float64) float64 {
			if is <= 0 {
				return 0
			}
			return total * share * most / is
		}
		load := total * share
		if got.Moment > 1e-9 {
			h := holds(most, got.Moment*share)
			w.add(
				Link{
					From:   o.ID,
					To:     o.ID,
					Path:   path,
					Way:    Bending,
					Load:   load,
					Holds:  h,
					Breaks: h * over,
					Span:   span,
				},
			)
		}
		if got.Shear > 1e-9 {
			h := holds(shears(o.wood, across.Metres(), deep.Metres()), got.Shear*share)
			w.add(
				Link{
					From:   o.ID,
					To:     o.ID,
					Path:   path,
					Way:    Shearing,
					Load:   load,
					Holds:  h,
					Breaks: h * over,
					Span:   span,
				},
			)
		}
	}
}

// section is a lying piece's section: across, and upwards.
func (w *walk) section(i int) (across, deep measure.Length) {
	n := &w.nodes[i]
	if n.Tilt != 0 && n.Grain == frame.X {
		return n.Width, n.Thickness
	}
	side := frame.Y
	if n.Grain == frame.Y {
		side = frame.X
	}
	across, deep = n.hi.Along(side)-n.lo.Along(side), n.hi.Z-n.lo.Z
	if n.Tilt != 0 { // cut plumb: as deep as it was before it was tilted
		deep = n.Width
	}
	return across, deep
}
