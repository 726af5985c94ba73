package strength

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Input is what is walked: one bed, with what its joints are fixed with.
type Input struct {
	Frame   *frame.Frame
	Catalog *catalog.Catalog
	Fixed   map[string]fixing.Fixed
	On      design.Standing
}

// Walk follows every load of a bed to the ground, and returns every link it passes, in the
// order of the frame.
func Walk(in Input) []Link {
	w := newWalk(in)
	w.links = make([]Link, 0, 10*len(w.nodes))
	w.down()
	w.sideways()
	w.byWeight()
	w.seated()
	w.windy()
	w.idles()
	return w.links
}

// idles tells the joints of pieces that stand by themselves and that nothing pulls at:
// they only keep them in their places.
func (w *walk) idles() {
	told := map[string]bool{}
	for _, l := range w.links {
		told[l.Joint] = true
	}
	for _, j := range w.idle {
		if told[j.ID] {
			continue
		}
		l := Link{From: j.Parts[0], To: j.Parts[1], Path: OnFloor, Way: Across, Joint: j.ID, EndGrain: j.EndGrain}
		if x, ok := w.Fixed[j.ID]; ok {
			s := w.heldBy(j, x)
			l.Screws = Holding(j, x)
			l.Holds = s.Across() * float64(l.Screws)
			l.Breaks = l.Holds * pullsOut
		}
		w.add(l)
	}
}

// walk is the graph of a bed: its pieces, and what each is carried by.
type walk struct {
	Input
	nodes []node
	index map[string]int
	links []Link
	floor measure.Length // of the lowest pieces: what it stands on
	idle  []frame.Joint  // of what stands on the ground by itself
	sunk  map[sinkKey]float64
	at    [][]*frame.Joint // of each piece
	clean []node           // before anything lies on them
}

// node is a piece, with the loads that come down on it.
type node struct {
	frame.Part
	wood   catalog.Species
	lo, hi frame.Point
	on     []edge
	points []Point // N along its grain, m
	each   float64 // N/m, its own weight
	total  float64 // N, of an upright
	along  []int   // pieces screwed to it along their length: they bend with it
	head   int     // the piece that it is screwed to so; -1
	stands bool    // on the ground, or on what does, with nothing to hang from
}

// edge is one thing that a piece is carried by.
type edge struct {
	to    int // a node; ground
	way   Way
	joint string
	n     int
	end   bool    // in end grain
	holds float64 // N, downwards
	over  float64 // how many times that breaks it
	lifts float64 // N that it holds down
	at    frame.Point
	from  int     // the piece of those that bend together
	run   float64 // m of the carried piece's length that lies on it
}

const ground = -1

func newWalk(in Input) *walk {
	f := in.Frame
	w := &walk{
		Input: in,
		nodes: make([]node, len(f.Parts)),
		index: make(map[string]int, len(f.Parts)),
		sunk:  map[sinkKey]float64{},
	}
	for i, p := range f.Parts {
		n := &w.nodes[i]
		n.Part, n.head = p, -1
		n.lo, n.hi = p.Body.Bounds()
		n.wood, _ = in.Catalog.SpeciesOf(p.Species)
		if long := n.hi.Along(p.Grain) - n.lo.Along(p.Grain); long > 0 {
			n.each = Weight(Mass(p, in.Catalog)) / long.Metres()
		}
		w.index[p.ID] = i
		if i == 0 || n.lo.Z < w.floor {
			w.floor = n.lo.Z
		}
	}
	if !f.OnFeet {
		w.floor = 0
	}
	w.at = make([][]*frame.Joint, len(w.nodes))
	for k := range f.Joints {
		j := &f.Joints[k]
		for _, id := range j.Parts {
			if i, ok := w.index[id]; ok {
				w.at[i] = append(w.at[i], j)
			}
		}
	}
	w.carriers()
	w.clean = slices.Clone(w.nodes)
	return w
}

// again is a walk of the same bed with nothing on it.
func (w *walk) again() *walk {
	o := *w
	o.nodes, o.links = slices.Clone(w.clean), nil
	return &o
}

// heldBy is one fixing of a joint of this bed.
func (w *walk) heldBy(j frame.Joint, x fixing.Fixed) Screw {
	var wood catalog.Species
	if i, ok := w.index[j.Parts[1]]; ok {
		wood = w.nodes[i].wood
	}
	return heldIn(j, x, wood)
}

// upright reports whether a piece stands on end.
func (n *node) upright() bool { return n.Grain == frame.Z }

// grounded reports whether a piece reaches what the bed stands on.
func (w *walk) grounded(i int) bool { return w.nodes[i].lo.Z <= w.floor }

// carriers finds what every piece is carried by: the ground; what it lies on; what it is
// fixed to.
func (w *walk) carriers() {
	bears := w.bearings()
	byZ := make([]int, len(w.nodes))
	for i := range byZ {
		byZ[i] = i
	}
	slices.SortStableFunc(byZ, func(a, b int) int { return cmp.Compare(w.nodes[a].lo.Z, w.nodes[b].lo.Z) })
	for _, i := range byZ { // from below: what stands on what stands
		n := &w.nodes[i]
		if n.stands = w.grounded(i); n.stands || n.Course == 0 && n.Kind != frame.CapBoard && !n.upright() {
			continue
		}
		for _, e := range bears[i] {
			n.stands = n.stands || w.nodes[e.to].stands
		}
	}
	for i := range w.nodes {
		n := &w.nodes[i]
		switch {
		case w.grounded(i):
			n.on = append(n.on, w.footing(i))
			continue
		case w.onSoil(n):
			area := (n.hi.X - n.lo.X).Metres() * (n.hi.Y - n.lo.Y).Metres()
			n.stands = true
			n.on = append(
				n.on,
				edge{to: ground, way: OnSoil, holds: looseSoil * area, over: groundOver, at: n.lo, from: i},
			)
			continue
		case n.stands:
			for _, e := range bears[i] {
				if w.nodes[e.to].stands {
					n.on = append(n.on, e)
				}
			}
			continue
		}
		for _, e := range bears[i] {
			if n.Course == 0 || w.nodes[e.to].Course == 0 { // courses off the ground hang on what they are fixed to
				n.on = append(n.on, e)
			}
		}
	}
	var mutual []frame.Joint
	for _, j := range w.Frame.Joints {
		carried, carrier, ok := w.hangs(j)
		if !ok {
			mutual = append(mutual, j)
			continue
		}
		if w.nodes[carried].stands {
			w.idle = append(w.idle, j)
			continue
		}
		w.hang(j, carried, carrier)
	}
	for i := range w.nodes { // what hangs below a piece does not carry it
		w.nodes[i].on = slices.DeleteFunc(w.nodes[i].on, func(e edge) bool {
			return e.to != ground && e.way == Crushing &&
				slices.ContainsFunc(w.nodes[e.to].on, func(o edge) bool { return o.to == i })
		})
	}
	w.roundTheCorner(mutual)
}

// roundTheCorner hangs what nothing else carries on its neighbours there.
func (w *walk) roundTheCorner(joints []frame.Joint) {
	loose := make([]bool, len(w.nodes))
	for i := range w.nodes {
		loose[i] = len(w.nodes[i].on) == 0
	}
	used := make([]bool, len(joints))
	for again := true; again; {
		again = false
		for k, j := range joints {
			a, b := w.index[j.Parts[0]], w.index[j.Parts[1]]
			if !loose[a] {
				a, b = b, a
			}
			if used[k] || !loose[a] || !w.held(b, a) {
				continue
			}
			used[k], again = true, true
			w.hang(j, a, b)
		}
	}
}

// held reports whether a piece is carried by something else than another.
func (w *walk) held(i, but int) bool {
	return slices.ContainsFunc(w.nodes[i].on, func(e edge) bool { return e.to != but })
}

// bearings are the pieces that each piece lies on, face on face.
func (w *walk) bearings() [][]edge {
	tops := map[measure.Length][]int{}
	for i, n := range w.nodes {
		tops[n.hi.Z] = append(tops[n.hi.Z], i)
	}
	list := make([][]edge, len(w.nodes))
	for i := range w.nodes {
		n := &w.nodes[i]
		if n.Tilt != 0 {
			continue
		}
		for _, k := range tops[n.lo.Z] {
			o := &w.nodes[k]
			u := min(n.hi.X, o.hi.X) - max(n.lo.X, o.lo.X)
			v := min(n.hi.Y, o.hi.Y) - max(n.lo.Y, o.lo.Y)
			if k == i || u <= 0 || v <= 0 {
				continue
			}
			list[i] = append(list[i], w.bearing(i, k, u, v))
		}
	}
	return list
}

// bearing is one piece lying on another over a face u by v: the weaker of the two across
// the grain.
func (w *walk) bearing(i, k int, u, v measure.Length) edge {
	n, o := &w.nodes[i], &w.nodes[k]
	crush := math.MaxFloat64
	for _, x := range []*node{n, o} {
		if !x.upright() {
			crush = min(crush, crushing(x.wood))
		}
	}
	if crush == math.MaxFloat64 { // end on end
		crush = crushing(n.wood)
	}
	long, wide := u.Metres(), v.Metres()
	if n.wood.Method == eurocode { // the fibres beside it help: 30 mm of them (EN 1995-1-1 6.1.5)
		if n.Grain == frame.Y {
			wide += 0.03
		} else {
			long += 0.03
		}
	}
	mid := frame.Point{
		X: (max(n.lo.X, o.lo.X) + min(n.hi.X, o.hi.X)) / 2,
		Y: (max(n.lo.Y, o.lo.Y) + min(n.hi.Y, o.hi.Y)) / 2,
		Z: n.lo.Z,
	}
	run := u
	if n.Grain == frame.Y {
		run = v
	}
	area := long * wide
	if n.Turn != 0 || o.Turn != 0 { // on the slant its bounds are more than itself
		area = min(area, n.fromAbove(), o.fromAbove())
	}
	return edge{to: k, way: Crushing, holds: crush * area, over: crushes, at: mid, from: i, run: run.Metres()}
}

// fromAbove is the ground that a piece covers, m².
func (n *node) fromAbove() float64 {
	if n.Body.Axis == frame.Z {
		return frame.OutlineArea(n.Body.Outline).SquareMetres()
	}
	return (n.hi.X - n.lo.X).Metres() * (n.hi.Y - n.lo.Y).Metres()
}

// footing is a piece on the ground. On paving or a deck its own end is what gives.
func (w *walk) footing(i int) edge {
	n := &w.nodes[i]
	area := n.fromAbove()
	e := edge{to: ground, way: OnGround, holds: notSoft * area, over: groundOver, at: n.lo, from: i}
	if n.lo.Z < 0 && n.upright() { // the ground holds its sides as well
		e.holds += notSoft / 6 * 2 * (n.hi.X - n.lo.X + n.hi.Y - n.lo.Y).Metres() * -n.lo.Z.Metres()
	}
	if w.On.Firm() {
		e.way, e.holds, e.over = Crushing, crushing(n.wood)*area, crushes
	}
	return e
}

// onSoil reports whether a piece lies on a bed's soil.
func (w *walk) onSoil(n *node) bool {
	return slices.ContainsFunc(w.Frame.Cavities, func(c frame.Cavity) bool {
		lo, hi := c.Outline[0], c.Outline[0]
		for _, s := range c.Outline {
			lo, hi = frame.Spot{U: min(lo.U, s.U), V: min(lo.V, s.V)}, frame.Spot{U: max(hi.U, s.U), V: max(hi.V, s.V)}
		}
		u, v := (n.lo.X+n.hi.X)/2, (n.lo.Y+n.hi.Y)/2
		return n.Course == 0 && n.lo.Z == c.Top && u > lo.U && u < hi.U && v > lo.V && v < hi.V
	})
}

// looseSoil is what a bed's soil bears, Pa: 100 lb/ft² (common practice; a board to kneel on
// it spreads a person over 3 ft²).
const looseSoil = 100 * 47.880_26

// notSoft is what ground that is not soft bears in Pa: 1500 lb/ft² (IBC Table 1806.2, clay,
// sandy clay and silt), and a sixth of it along the sides of what stands in it (IBC
// 1810.3.3.1.4; both from memory).
const notSoft = 1500 * 47.880_26

// hangs says which of a joint's pieces is carried by which; ok is false where they only
// hold each other round a corner or end to end.
func (w *walk) hangs(j frame.Joint) (carried, carrier int, ok bool) {
	a, b := w.index[j.Parts[0]], w.index[j.Parts[1]]
	p, q := &w.nodes[a], &w.nodes[b]
	switch {
	case j.Kind == frame.Splice || p.Course > 0 && q.Course > 0 || p.Kind == frame.Apron && q.Kind == frame.Apron:
		return 0, 0, false
	case p.upright() != q.upright(): // what reaches the ground carries; what does not is carried, but by what lies on it
		up, other := a, b
		if q.upright() {
			up, other = b, a
		}
		if w.nodes[up].stands || w.nodes[other].Course == 0 && !w.nodes[other].stands && !w.among(up) {
			return other, up, true
		}
		return up, other, true
	case p.upright(): // both
		if w.grounded(a) {
			return b, a, true
		}
		return a, b, true
	}
	switch j.Kind {
	case frame.TieToWall, frame.FaceToEnd, frame.BoltToEnd, frame.Bracket:
		return b, a, true
	case frame.WallLedger:
		if p.Course > 0 {
			return b, a, true
		}
	}
	return a, b, true
}

// among reports whether an upright is fixed to nothing but pieces of its own kind, and so hangs
// on those: the far stile of a gate.
func (w *walk) among(up int) bool {
	n := &w.nodes[up]
	for _, j := range w.at[up] {
		for _, id := range j.Parts {
			if k, ok := w.index[id]; ok && w.nodes[k].Kind != n.Kind {
				return false
			}
		}
	}
	return true
}

// hang notes that one piece of a joint hangs on the other.
func (w *walk) hang(j frame.Joint, carried, carrier int) {
	n, o := &w.nodes[carried], &w.nodes[carrier]
	x, fixed := w.Fixed[j.ID]
	if j.Kind == frame.WallLedger && n.Grain == o.Grain {
		n.head = carrier
		o.along = append(o.along, carried)
	}
	lies := slices.IndexFunc(n.on, func(e edge) bool { return e.to == carrier && e.way == Crushing })
	if lies < 0 && (j.Kind == frame.SlatLedger || j.Kind == frame.SheetDown || j.Kind == frame.CapToWall) { // tilted
		across := o.hi.Along(n.Grain) - o.lo.Along(n.Grain)
		e := w.bearing(carried, carrier, across, n.Width)
		e.at = j.At
		if n.Grain == frame.X { // the middle of what it lies on
			e.at.X = (o.lo.X + o.hi.X) / 2
		}
		n.on = append(n.on, e)
		lies = len(n.on) - 1
	}
	if !fixed {
		if lies < 0 {
			n.on = append(
				n.on,
				edge{to: carrier, way: Across, joint: j.ID, end: j.EndGrain, over: pullsOut, at: j.At, from: carried},
			)
		}
		return
	}
	s, count := w.heldBy(j, x), Holding(j, x)
	if lies >= 0 { // it bears; the screws only hold it down
		n.on[lies].joint, n.on[lies].n, n.on[lies].end = j.ID, count, j.EndGrain
		n.on[lies].lifts += s.Pull() * float64(count)
		return
	}
	n.on = append(
		n.on,
		edge{to: carrier, way: Across, joint: j.ID, n: count, end: j.EndGrain, holds: s.Across() * float64(count),
			over: s.Over(), lifts: s.Across() * float64(count), at: j.At, from: carried},
	)
}

// crushing is what a wood bears across its grain in Pa, wet: NDS CM 0.67, no load duration;
// EN 1995-1-1 kmod 0.50, gamma_M 1.3, 1.35 on the load (from memory).
func crushing(s catalog.Species) float64 {
	switch s.Method {
	case eurocode, eurocodePanel:
		return s.Crush * 1e6 * 0.50 / 1.3 / 1.35
	}
	return s.Crush * 0.67 * float64(measure.PSI)
}

// shears is what a section bears in shear along the grain, N, wet and for good: NDS CM 0.97
// and CD 0.9; EN 1995-1-1 kcr 0.67, kmod 0.50, gamma_M 1.3, 1.35 on the load (from memory).
func shears(s catalog.Species, across, deep float64) float64 {
	area := across * deep / 1.5
	switch s.Method {
	case eurocode:
		return s.Shear * 1e6 * 0.67 * 0.50 / 1.3 / 1.35 * area
	case eurocodePanel:
		return s.Shear * 1e6 * 0.50 / 1.2 / 1.35 * area
	case apaPanel:
		return s.Shear * 0.75 * 0.9 * float64(measure.PSI) * area
	}
	return s.Shear * 0.97 * 0.9 * float64(measure.PSI) * area
}

// breaksBending is how many times what is counted on in bending or shear breaks a wood.
func breaksBending(s catalog.Species) float64 {
	if s.Method == eurocode || s.Method == eurocodePanel {
		return bendsEC5
	}
	return bendsNDS
}

// add notes a link.
func (w *walk) add(l Link) {
	l.Bed = w.Frame.Bed
	w.links = append(w.links, l)
}
