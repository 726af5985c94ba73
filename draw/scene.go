package draw

import (
	"math"

	"chamfer/core/frame"
)

// vec is a place or direction in space, in millimetres.
type vec [3]float64

func (a vec) dot(b vec) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

func space(p frame.Point) vec {
	return vec{p.X.Millimetres(), p.Y.Millimetres(), p.Z.Millimetres()}
}

// camera looks at the bed without perspective: right and up span the paper,
// toward points at the viewer.
type camera struct{ right, up, toward vec }

// The straight views.
var (
	fromAbove = camera{vec{1, 0, 0}, vec{0, 1, 0}, vec{0, 0, 1}}
	fromFront = camera{vec{1, 0, 0}, vec{0, 0, 1}, vec{0, -1, 0}}
	fromEnd   = camera{vec{0, 1, 0}, vec{0, 0, 1}, vec{1, 0, 0}}
)

// turned looks from in front, turned to the right and tilted down by degrees.
func turned(yaw, pitch float64) camera {
	a, e := yaw*math.Pi/180, pitch*math.Pi/180
	return camera{
		right:  vec{math.Cos(a), math.Sin(a), 0},
		up:     vec{-math.Sin(e) * math.Sin(a), math.Sin(e) * math.Cos(a), math.Cos(e)},
		toward: vec{math.Sin(a) * math.Cos(e), -math.Cos(a) * math.Cos(e), math.Sin(e)},
	}
}

// flat projects to paper units (millimetres, y down).
func (c camera) flat(v vec) pt { return pt{v.dot(c.right), -v.dot(c.up)} }

// body is one solid of a scene.
type body struct {
	part  *frame.Part // nil for soil and units
	unit  *frame.Unit // nil for all but units
	more  bool        // a further piece of a part that is already there
	pot   bool        // a pot with its soil
	cast  bool        // a stretch of a poured wall
	back  bool        // what a bed stands against
	faces []face
	all   []vec
	lo    pt // on paper
	hi    pt
	depth float64
}

type face struct {
	corners []vec
	normal  vec
}

func newBody(part *frame.Part, solid frame.Prism, c camera) *body {
	b := &body{part: part}
	for _, f := range solid.Faces() {
		g := face{normal: vec(f.Normal)}
		for _, q := range f.Corners {
			g.corners = append(g.corners, space(q))
		}
		b.faces = append(b.faces, g)
	}
	var flat []pt
	for _, q := range solid.Corners() {
		v := space(q)
		b.all = append(b.all, v)
		flat = append(flat, c.flat(v))
		b.depth += v.dot(c.toward)
	}
	b.depth /= float64(len(b.all))
	b.lo, b.hi = bounds(flat)
	return b
}

// id is that of the part or unit, "" for soil.
func (b *body) id() string {
	switch {
	case b.part != nil:
		return b.part.ID
	case b.unit != nil:
		return b.unit.ID
	}
	return ""
}

// touching is the slack, in millimetres, within which solids that share a face
// count as side by side.
const touching = 0.01

// infront reports how a stands to b for the viewer: 1 in front, -1 behind, 0
// where neither hides the other. Every face's plane with one solid inside and
// the other beyond it forbids one of them to hide the other; planes that forbid
// both leave the order free.
func infront(a, b *body, c camera) int {
	if a.hi.x <= b.lo.x+touching || b.hi.x <= a.lo.x+touching || a.hi.y <= b.lo.y+touching ||
		b.hi.y <= a.lo.y+touching {
		return 0
	}
	mayHide, mayBeHidden := true, true
	split := false
	for _, try := range []struct {
		by, of *body
		sign   float64
	}{{b, a, 1}, {a, b, -1}} {
		for _, f := range try.by.faces {
			if !beyond(f, try.of) {
				continue
			}
			split = true
			switch looks := f.normal.dot(c.toward) * try.sign; {
			case looks > 1e-9: // a is on the viewer's side of a plane between them
				mayBeHidden = false
			case looks < -1e-9:
				mayHide = false
			default: // the plane is seen edge-on
				return 0
			}
		}
	}
	switch {
	case !split && a.depth != b.depth:
		if a.depth > b.depth {
			return 1
		}
		return -1
	case mayHide && !mayBeHidden:
		return 1
	case mayBeHidden && !mayHide:
		return -1
	}
	return 0
}

// beyond reports whether all of b lies outside a face's plane.
func beyond(f face, b *body) bool {
	at := f.normal.dot(f.corners[0])
	for _, q := range b.all {
		if f.normal.dot(q) < at-touching {
			return false
		}
	}
	return true
}

// paint orders bodies from far to near: each is drawn after all it stands in
// front of. Where solids hide one another in a ring no order is right: the
// farthest goes first, and ring is true.
func paint(bodies []*body, c camera) (order []*body, ring bool) {
	count := len(bodies)
	under := make([]int, count) // how many still have to be drawn before it
	over := make([][]int, count)
	for i := range count {
		for j := i + 1; j < count; j++ {
			switch infront(bodies[i], bodies[j], c) {
			case 1:
				over[j] = append(over[j], i)
				under[i]++
			case -1:
				over[i] = append(over[i], j)
				under[j]++
			}
		}
	}
	done := make([]bool, count)
	order = make([]*body, 0, count)
	for len(order) < count {
		pick := -1
		for i := range count {
			if done[i] {
				continue
			}
			if pick < 0 || less(under[i] > 0, bodies[i].depth, under[pick] > 0, bodies[pick].depth) {
				pick = i
			}
		}
		done[pick] = true
		ring = ring || under[pick] > 0
		order = append(order, bodies[pick])
		for _, j := range over[pick] {
			under[j]--
		}
	}
	return order, ring
}

func less(blockedA bool, depthA float64, blockedB bool, depthB float64) bool {
	if blockedA != blockedB {
		return blockedB
	}
	return depthA < depthB
}

// visible lists the faces of a body that look at the viewer.
func (b *body) visible(c camera) []face {
	var list []face
	for _, f := range b.faces {
		if f.normal.dot(c.toward) > 1e-9 {
			list = append(list, f)
		}
	}
	return list
}
