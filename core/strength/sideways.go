package strength

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Fluid is the sideways push of a bed's soil on all its walls, whatever they are of; see
// [Behind].
func Fluid(f *frame.Frame) float64 { return Behind(len(f.Floors) > 0 || len(f.Drains) > 0) }

// Behind is a garden soil's push as if it were a liquid, N/m³ (Rankine at 30°, a third of
// its weight): where a floor or stone lets the water out of moist soil, 100 lb/ft³, which is
// what floors carry too; elsewhere it may be soaked, 110.
func Behind(drained bool) float64 {
	if drained {
		return 100 * poundsPerCubicFoot * Active(restAngle)
	}
	return Giving
}

// restAngle is a garden soil's angle of friction in degrees: 30 (textbook, loose sand and
// loam 28 to 32).
const restAngle = 30

// prop is what keeps a board from going outwards at one place along a wall.
type prop struct {
	at     float64
	from   int // the board
	to     string
	pole   int // the node of a post or stake in mid wall that only the ground holds; -1
	way    Way
	joint  string
	n      int
	end    bool
	holds  float64
	over   float64
	post   int     // the node of an upright it goes through; -1
	turn   float64 // degrees that the walls turn there; 0 for a right angle
	across float64 // N it holds along the board
}

// through is the link of a prop with what comes to it.
func (w *walk) through(p prop, path Path, load float64) Link {
	return Link{
		From: w.nodes[p.from].ID, To: p.to, Path: path, Way: p.way, Load: load, Holds: p.holds,
		Breaks: p.holds * p.over,
		Joint:  p.joint, Screws: p.n, EndGrain: p.end,
	}
}

// wallRun is one wall with all that its boards lean on.
type wallRun struct {
	*frame.Wall
	axis frame.Axis
	top  measure.Length // of the soil
	way  [2]float64     // of its run, x and y
	rows []course
	tied bool // an upright between its props ties its courses: they bow together
}

// course is the boards of one height, and where each is held.
type course struct {
	boards []int
	push   float64 // N/m
	props  []prop
	held   []prop // by a floor, all along
	ties   []prop // uprights that tie it to the others, and hold nothing else
	own    float64
}

// sideways follows the soil's push from boards through their fixings to corners, ties,
// poles and floors.
func (w *walk) sideways() {
	fluid := Fluid(w.Frame)
	pulls := map[int]*corner{}
	for i := range w.Frame.Walls {
		r := w.run(&w.Frame.Walls[i], fluid)
		w.leanOut(r, pulls)
	}
	w.roundCorners(pulls)
	w.blocks()
}

// topOf is the height of the soil behind a wall: of the room beside it that begins above
// the wall's lower edge, where a floor carries it; else the wall's soil from there up.
func (w *walk) topOf(wall *frame.Wall) measure.Length {
	lo, hi := w.around(wall.Boards)
	top := lo.Z + wall.Soil
	const near = 25 * measure.Millimetre
	for _, c := range w.Frame.Cavities {
		if c.Pot || c.Bottom <= lo.Z {
			continue
		}
		a, b := c.Outline[0], c.Outline[0]
		for _, s := range c.Outline {
			a, b = frame.Spot{U: min(a.U, s.U), V: min(a.V, s.V)}, frame.Spot{U: max(b.U, s.U), V: max(b.V, s.V)}
		}
		if b.U < lo.X-near || a.U > hi.X+near || b.V < lo.Y-near || a.V > hi.Y+near {
			continue
		}
		if c.Top > top {
			top = c.Top
		}
	}
	return top
}

// run gathers a wall's boards by courses, with the push on each and what holds it.
func (w *walk) run(wall *frame.Wall, fluid float64) *wallRun {
	r := &wallRun{Wall: wall, axis: frame.X, top: w.topOf(wall)}
	r.way = [2]float64{1, 0}
	if wall.End {
		r.axis, r.way = frame.Y, [2]float64{0, 1}
	}
	if wall.Turn != 0 {
		r.way[1], r.way[0] = math.Sincos(wall.Turn * math.Pi / 180)
	}
	ids := slices.Clone(wall.Boards)
	slices.SortStableFunc(ids, func(a, b string) int {
		return cmp.Compare(w.nodes[w.index[a]].lo.Z, w.nodes[w.index[b]].lo.Z)
	})
	for _, id := range ids {
		i := w.index[id]
		n := &w.nodes[i]
		k := len(r.rows) - 1
		pieced := slices.ContainsFunc(w.at[i], func(j *frame.Joint) bool { return j.Kind == frame.Splice })
		if k < 0 || !pieced || w.nodes[r.rows[k].boards[0]].lo.Z != n.lo.Z {
			r.rows = append(r.rows, course{push: pushOn(fluid, r.top, r.top-wall.Soil, n)})
			k++
		}
		c := &r.rows[k]
		c.boards = append(c.boards, i)
		for _, j := range w.at[i] {
			w.prop(r, c, i, *j)
		}
	}
	if len(w.Frame.Units) > 0 { // boards in slots
		for k := range r.rows {
			w.slots(r, &r.rows[k])
		}
	}
	w.share(r)
	return r
}

// along is how far along a wall a place is, m.
func (r *wallRun) along(p frame.Point) float64 { return p.X.Metres()*r.way[0] + p.Y.Metres()*r.way[1] }

// reach is where pieces begin and end along a wall, m.
func (w *walk) reach(r *wallRun, pieces []int) (from, to float64) {
	from, to = math.Inf(1), math.Inf(-1)
	for _, i := range pieces {
		for _, c := range w.nodes[i].Body.Corners() {
			from, to = min(from, r.along(c)), max(to, r.along(c))
		}
	}
	return from, to
}

// share parts the push evenly among courses that uprights tie: they bow together. What the
// lower ones hand to the upper goes through the ties' screws.
func (w *walk) share(r *wallRun) {
	all := 0.0
	for k := range r.rows {
		r.rows[k].own = r.rows[k].push
		all += r.rows[k].push
	}
	path := OnSide
	if r.End {
		path = OnEnd
	}
	for k := range r.rows {
		r.tied = r.tied || r.rows[k].tiesMid()
	}
	for k := range r.rows {
		c := &r.rows[k]
		if r.tied {
			c.push = all / float64(len(r.rows))
		}
		from, to := w.reach(r, c.boards)
		over := max(0, c.own-c.push) * (to - from) / float64(max(1, len(c.ties)))
		for _, p := range c.ties {
			w.add(
				Link{
					From:     w.nodes[p.from].ID,
					To:       p.to,
					Path:     path,
					Way:      Pulled,
					Load:     over,
					Holds:    p.holds,
					Breaks:   p.holds * p.over,
					Joint:    p.joint,
					Screws:   p.n,
					EndGrain: p.end,
				},
			)
		}
	}
}

// tiesMid reports whether a tie stands in the middle half of some span: there it makes
// courses bow together, near what holds them it does not.
func (c *course) tiesMid() bool {
	groups := propGroups(c.props)
	for k := 1; k < len(groups); k++ {
		from, to := groups[k-1][0].at, groups[k][0].at
		if slices.ContainsFunc(c.ties, func(p prop) bool { return p.at > from+(to-from)/4 && p.at < to-(to-from)/4 }) {
			return true
		}
	}
	return false
}

// pushOn is the soil's push on each metre of a board.
func pushOn(fluid float64, top, bottom measure.Length, n *node) float64 {
	low, high := max(0, top-max(n.lo.Z, bottom)).Metres(), max(0, top-n.hi.Z).Metres()
	return max(0, fluid*(low*low-high*high)/2)
}

// prop notes what one joint does for a board that is pushed outwards.
func (w *walk) prop(r *wallRun, c *course, i int, j frame.Joint) {
	other := j.Parts[0]
	first := w.nodes[i].ID == other // the board is the one fastened
	if first {
		other = j.Parts[1]
	}
	k, ok := w.index[other]
	if !ok || j.Kind == frame.Splice || j.Kind == frame.CapToWall {
		return
	}
	o := &w.nodes[k]
	p := prop{
		at:    r.along(j.At),
		from:  i,
		to:    o.ID,
		pole:  -1,
		post:  -1,
		way:   Pulled,
		joint: j.ID,
		end:   j.EndGrain,
		over:  pullsOut,
	}
	if x, ok := w.Fixed[j.ID]; ok {
		s, n := w.heldBy(j, x), Holding(j, x)
		p.n, p.holds, p.over = n, s.Pull()*float64(n), s.Over()
		p.turn, p.across = j.Turn, s.Across()*float64(n)
		if j.Kind == frame.PocketEnd || !first && (j.Kind == frame.FaceToEnd || j.Kind == frame.BoltToEnd) {
			p.way, p.holds = Across, s.Across()*float64(n)
		}
	}
	if o.upright() {
		both := w.corners(k)
		switch {
		case both:
			p.post = k
		case o.lo.Z < -50*measure.Millimetre:
			p.pole = k
		default:
			if w.onlyTies(r, k) {
				c.ties = append(c.ties, p)
				return
			}
			p.post = k
		}
		c.props = append(c.props, p)
		return
	}
	switch {
	case j.Kind == frame.WallLedger && w.floored(k):
		c.held = append(c.held, p)
	case o.Kind == frame.Tie || o.Course > 0 || o.Kind == frame.Apron:
		c.props = append(c.props, p)
	}
}

// corners reports whether an upright is fixed to walls both ways: what one pushes outwards
// the other holds.
func (w *walk) corners(k int) bool {
	var x, y bool
	for _, j := range w.at[k] {
		for s, id := range j.Parts {
			if id != w.nodes[k].ID {
				continue
			}
			if o, ok := w.index[j.Parts[1-s]]; ok && w.nodes[o].Course > 0 {
				x, y = x || w.nodes[o].Grain == frame.X, y || w.nodes[o].Grain == frame.Y
			}
		}
	}
	return x && y
}

// onlyTies reports whether an upright in a wall is fixed to nothing but its boards, so that
// it ties them and holds none: no tie goes across from it.
func (w *walk) onlyTies(r *wallRun, k int) bool {
	for _, j := range w.at[k] {
		for s, id := range j.Parts {
			if id == w.nodes[k].ID && !slices.Contains(r.Boards, j.Parts[1-s]) {
				if o, ok := w.index[j.Parts[1-s]]; ok && w.nodes[o].Kind == frame.Tie {
					return false
				}
			}
		}
	}
	return true
}

// floored reports whether slats or beams are fixed to a ledger: they go from side to side
// and hold it as ties do.
func (w *walk) floored(k int) bool {
	return slices.ContainsFunc(w.at[k], func(j *frame.Joint) bool {
		return j.Kind == frame.SlatLedger || j.Kind == frame.SheetDown || j.Kind == frame.FaceToEnd
	})
}

// leanOut works a wall's courses out as beams over what holds them. Where the ground does
// not hold its posts, they take what it holds and no more, and the courses, which they tie,
// carry the rest together past them.
func (w *walk) leanOut(r *wallRun, pulls map[int]*corner) {
	path := OnSide
	if r.End {
		path = OnEnd
	}
	poles := map[int]float64{}
	for k := range r.rows {
		c := &r.rows[k]
		row, groups, _ := w.rowOf(r, c)
		if len(c.held) > 0 || len(row.At) < 2 {
			continue
		}
		got := row.Carry()
		for g, props := range groups {
			for _, p := range props {
				if p.pole >= 0 {
					poles[p.pole] += max(0, got.On[g]) / float64(len(props))
				}
			}
		}
	}
	gives := false
	for _, i := range w.sorted(poles) {
		l := w.pole(r, i, poles[i], path)
		gives = gives || l.Ratio() > 1
		w.add(l)
	}
	if gives {
		w.past(r, poles, path)
	}
	for k := range r.rows {
		c := &r.rows[k]
		row, groups, load := w.rowOf(r, c)
		if len(c.held) > 0 {
			w.heldAlong(c, load, path)
			for _, p := range c.props { // at its ends it only meets its neighbours
				w.add(w.through(p, path, 0))
			}
			continue
		}
		if len(row.At) < 2 {
			if load > 0 {
				w.add(Link{From: w.nodes[c.boards[0]].ID, Path: path, Way: Bending, Load: load})
			}
			continue
		}
		before := len(w.links)
		got := row.Carry()
		w.bowsOut(c, row, got, load, path)
		for g, props := range groups {
			w.hold(props, max(0, got.On[g]), path, r.End, pulls)
		}
		w.spliced(c, row, path)
		for i := before; i < len(w.links); i++ {
			w.links[i].Gives = gives
		}
	}
}

// rowOf is a course as a beam, with its props by where they are, and all that pushes on it.
func (w *walk) rowOf(r *wallRun, c *course) (row Row, groups [][]prop, load float64) {
	row = Row{Each: c.push}
	row.From, row.To = w.reach(r, c.boards)
	groups = propGroups(c.props)
	for _, g := range groups {
		row.At = append(row.At, g[0].at)
	}
	return row, groups, c.push * (row.To - row.From)
}

// past takes the posts out of a wall's props and what the ground holds of them off its push,
// the same of every course.
func (w *walk) past(r *wallRun, poles map[int]float64, path Path) {
	held, all := 0.0, 0.0
	for _, i := range w.sorted(poles) {
		held += min(poles[i], w.pole(r, i, poles[i], path).Holds)
	}
	n := float64(len(r.rows))
	for k := range r.rows {
		all += r.rows[k].push
	}
	for k := range r.rows {
		c := &r.rows[k]
		row, _, _ := w.rowOf(r, c)
		c.push = max(0, all-held/(row.To-row.From)) / n
		var firm []prop
		for _, p := range c.props {
			if p.pole < 0 {
				firm = append(firm, p)
				continue
			}
			l := w.through(p, path, min(poles[p.pole], w.pole(r, p.pole, 0, path).Holds)/n)
			l.Gives = true
			w.add(l)
		}
		c.props = firm
	}
}

// sorted are the keys of a map of nodes, in the order of the frame.
func (w *walk) sorted(m map[int]float64) []int {
	var list []int
	for i := range m {
		list = append(list, i)
	}
	slices.Sort(list)
	return list
}

// propGroups groups props by where they are along a wall.
func propGroups(props []prop) [][]prop {
	props = slices.Clone(props)
	slices.SortStableFunc(props, func(a, b prop) int { return cmp.Compare(a.at, b.at) })
	var list [][]prop
	for _, p := range props {
		if k := len(list) - 1; k >= 0 && p.at-list[k][0].at < together {
			list[k] = append(list[k], p)
			continue
		}
		list = append(list, []prop{p})
	}
	return list
}

// bowsOut checks a course as a beam that lies flat to the push.
func (w *walk) bowsOut(c *course, row Row, got Carried, load float64, path Path) {
	span := 0.0
	for k := 1; k < len(row.At); k++ {
		span = max(span, row.At[k]-row.At[k-1])
	}
	for _, i := range c.boards {
		n := &w.nodes[i]
		m := Member{Across: n.Width, Deep: n.Thickness, Species: n.wood}
		b, h := m.Across.Metres(), m.Deep.Metres()
		e, creep, factor, allowed := values(m)
		over := breaksBending(n.wood)
		holds := func(most, is float64) float64 {
			if is < 1e-9 {
				return math.Inf(1)
			}
			return load * most / is
		}
		if h1 := holds(allowed*b*h*h/6/factor, got.Moment); !math.IsInf(h1, 1) {
			w.add(
				Link{
					From:   n.ID,
					To:     n.ID,
					Path:   path,
					Way:    Bending,
					Load:   load,
					Holds:  h1,
					Breaks: h1 * over,
					Span:   span,
					Bow:    row.Bow(e*b*h*h*h/12) * creep,
				},
			)
		}
		if h2 := holds(shears(n.wood, b, h), got.Shear); !math.IsInf(h2, 1) {
			w.add(
				Link{
					From:   n.ID,
					To:     n.ID,
					Path:   path,
					Way:    Shearing,
					Load:   load,
					Holds:  h2,
					Breaks: h2 * over,
					Span:   span,
				},
			)
		}
	}
}

// gird is the pull along the boards where walls turn by less than a right angle: what pushes
// both outwards at their corner is held by nothing but their own tension, and the flatter the
// corner, the more of it: R / tan(turn / 2), which a right angle makes R. At sharper ones than
// that it is R / sin(turn) where the other wall brings nothing, which is the most it can be.
func (w *walk) gird(p prop, path Path, load float64) {
	if p.turn == 0 {
		return
	}
	turn := p.turn * math.Pi / 180
	pull := load / math.Tan(turn/2)
	if p.turn > 90 {
		pull = load / math.Sin(turn)
	}
	l := w.through(p, path, pull)
	l.Way, l.Holds, l.Breaks = Across, p.across, p.across*pullsOut
	w.add(l)
}

// hold hands what comes to one place along a wall to all that holds there.
func (w *walk) hold(props []prop, load float64, path Path, end bool, pulls map[int]*corner) {
	holds := 0.0
	for _, p := range props {
		holds += p.holds
	}
	for _, p := range props {
		part := load / float64(len(props))
		if holds > 0 {
			part = load * p.holds / holds
		}
		w.add(w.through(p, path, part))
		w.gird(p, path, part)
		switch {
		case p.pole >= 0: // told already
		case p.post >= 0:
			if pulls[p.post] == nil {
				pulls[p.post] = &corner{}
			}
			way := 0
			if end {
				way = 1
			}
			pulls[p.post].from[way] += part
			pulls[p.post].path[way] = path
		default:
			w.tied(p, part, path)
		}
	}
}

// pole is a post or stake in mid wall with all that its courses bring.
func (w *walk) pole(r *wallRun, i int, load float64, path Path) Link {
	n := &w.nodes[i]
	wide := n.hi.X - n.lo.X
	if r.End {
		wide = n.hi.Y - n.lo.Y
	}
	p := Pole{Height: max(0, r.top-r.Soil+r.Soil/3), Wide: wide, Deep: -n.lo.Z}
	holds := p.Holds(Bends(n.Width, n.Thickness, n.wood))
	return Link{From: n.ID, To: "ground", Path: path, Way: InGround, Load: load, Holds: holds, Breaks: p.Most()}
}
