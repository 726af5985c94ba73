package strength

import (
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Seat is a person who sits down, N: 300 lb on a small area (IRC Table R301.5, stair
// treads, from memory). A child that stands on a rail is lighter.
const Seat = 300 * 4.448_222

// seatLine is where somebody sits on the front: the middle of its cap, or of its boards.
func (w *walk) seatLine() measure.Length {
	line, found := measure.Length(0), false
	for _, kind := range []frame.PartKind{frame.CapBoard, frame.SideBoard} {
		for _, n := range w.nodes {
			if mid := (n.lo.Y + n.hi.Y) / 2; n.Kind == kind && n.Grain == frame.X && (!found || mid < line) {
				line, found = mid, true
			}
		}
		if found {
			break
		}
	}
	return line
}

// seated puts a person on the longest cap, on a bench, and on the rim of what stands on
// feet, one after the other, and tells what that adds on the way to the ground.
func (w *walk) seated() {
	empty := map[linkKey]float64{}
	for _, l := range w.links {
		if l.Path == OnFloor {
			empty[keyOf(l)] = l.Load
		}
	}
	for _, at := range w.seats() {
		o := w.again()
		o.soilOnFloors()
		for _, i := range at {
			n := &o.nodes[i]
			mid := (n.lo.Along(n.Grain) + n.hi.Along(n.Grain)) / 2
			n.points = append(n.points, Point{mid.Metres(), Seat / float64(len(at))})
		}
		o.settle(Seated)
		for _, l := range o.links {
			if before, ok := empty[keyOf(l)]; ok && l.Load < before+1 {
				continue
			}
			if l.Way != OnGround && l.Way != Rolling {
				l.Holds, l.Breaks = l.Holds*briefly, l.Breaks*briefly
			}
			w.links = append(w.links, l)
		}
	}
	for i := range w.nodes {
		if w.nodes[i].Kind == frame.CapBoard {
			w.pries(i)
		}
	}
}

// linkKey tells links of one path apart.
type linkKey struct {
	from, to, joint string
	way             Way
}

func keyOf(l Link) linkKey { return linkKey{l.From, l.To, l.Joint, l.Way} }

// seats are the pieces that somebody sits or stands on: of walls off the ground all boards
// of one side, since those above press on those below.
func (w *walk) seats() [][]int {
	longest := func(is func(n *node) bool) int {
		best := -1
		for i := range w.nodes {
			if n := &w.nodes[i]; is(n) && (best < 0 || n.run() > w.nodes[best].run()) {
				best = i
			}
		}
		return best
	}
	var list [][]int
	if i := longest(func(n *node) bool { return n.Kind == frame.CapBoard }); i >= 0 {
		list = append(list, []int{i})
	}
	if i := longest(func(n *node) bool { return n.Kind == frame.BenchPart && n.Grain == frame.X }); i >= 0 {
		list = append(list, []int{i})
	}
	if w.Frame.OnFeet {
		if i := longest(func(n *node) bool { return n.Course > 0 }); i >= 0 {
			list = append(list, w.oneSide(i))
		}
	}
	return list
}

// oneSide are the boards above one another on one side.
func (w *walk) oneSide(i int) []int {
	n := &w.nodes[i]
	var list []int
	for k := range w.nodes {
		if o := &w.nodes[k]; o.Course > 0 && o.Grain == n.Grain && o.lo.X == n.lo.X && o.lo.Y == n.lo.Y {
			list = append(list, k)
		}
	}
	return list
}

// propped reports whether a cap lies on two uprights beside its wall as well: who sits in
// its middle sits between what carries it.
func (w *walk) propped(i int) bool {
	n, under := &w.nodes[i], 0
	for k := range w.nodes {
		o := &w.nodes[k]
		if o.upright() && o.hi.Z == n.lo.Z && o.lo.X < n.hi.X && o.hi.X > n.lo.X && o.lo.Y < n.hi.Y && o.hi.Y > n.lo.Y {
			under++
		}
	}
	return under >= 2
}

// pries is a person in the middle of a cap that stands out past its wall: it turns about
// the wall's edge and pulls at two of its screws.
func (w *walk) pries(i int) {
	n := &w.nodes[i]
	for _, j := range w.Frame.Joints {
		x, ok := w.Fixed[j.ID]
		if j.Kind != frame.CapToWall || j.Parts[0] != n.ID || !ok {
			continue
		}
		o := &w.nodes[w.index[j.Parts[1]]]
		side := frame.Y
		if n.Grain == frame.Y {
			side = frame.X
		}
		half := (o.hi.Along(side) - o.lo.Along(side)) / 2
		off := (n.lo.Along(side)+n.hi.Along(side))/2 - (o.lo.Along(side)+o.hi.Along(side))/2
		past := (max(off, -off) - half).Metres()
		if w.propped(i) {
			past = 0
		}
		s := w.heldBy(j, x)
		holds := s.Pull() * 2 * briefly
		w.add(
			Link{
				From:   n.ID,
				To:     o.ID,
				Path:   Seated,
				Way:    Pulled,
				Load:   max(0, Seat*past/half.Metres()),
				Holds:  holds,
				Breaks: holds * pullsOut,
				Joint:  j.ID,
				Screws: 2,
			},
		)
	}
}

// run is how long a piece is along its grain.
func (n *node) run() measure.Length { return n.hi.Along(n.Grain) - n.lo.Along(n.Grain) }
