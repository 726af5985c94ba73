package frame

import (
	"math"

	"chamfer/core/measure"
)

// Axis is one of the three directions of a bed: x along its long side, y away
// from the viewer, z up. The origin is the outer front left corner of the
// walls at ground level.
type Axis int

// The three axes.
const (
	X Axis = iota
	Y
	Z
)

// Point is a place in space.
type Point struct{ X, Y, Z measure.Length }

// Along returns the coordinate of p on an axis.
func (p Point) Along(a Axis) measure.Length { return [3]measure.Length{p.X, p.Y, p.Z}[a] }

// Plus returns the point moved by d.
func (p Point) Plus(d Point) Point { return Point{p.X + d.X, p.Y + d.Y, p.Z + d.Z} }

// Spot is a place in the plane square to a prism's axis: (y,z) for X, (x,z)
// for Y, (x,y) for Z.
type Spot struct{ U, V measure.Length }

// Prism is a solid with one outline all along: the outline is drawn in the
// plane square to Axis and swept from From to To. A board is a rectangle swept
// along its grain, a mitred cap a trapezium swept through its thickness, a
// pointed stake a five-sided outline swept through its thickness.
//
// Invariants: From < To; the outline has at least three corners, in the order
// that goes anticlockwise when U runs right and V up.
type Prism struct {
	Axis     Axis
	From, To measure.Length
	Outline  []Spot
}

// Box returns the block between two corners, swept along x.
func Box(lo, hi Point) Prism {
	return Prism{Axis: X, From: lo.X, To: hi.X, Outline: []Spot{
		{lo.Y, lo.Z}, {hi.Y, lo.Z}, {hi.Y, hi.Z}, {lo.Y, hi.Z},
	}}
}

// At puts an outline corner back into space at a height along the axis.
func (p Prism) At(s Spot, along measure.Length) Point {
	switch p.Axis {
	case X:
		return Point{along, s.U, s.V}
	case Y:
		return Point{s.U, along, s.V}
	}
	return Point{s.U, s.V, along}
}

// Corners returns all corners: first the outline at From, then at To.
func (p Prism) Corners() []Point {
	n := len(p.Outline)
	corners := make([]Point, 2*n)
	for i, s := range p.Outline {
		corners[i] = p.At(s, p.From)
		corners[n+i] = p.At(s, p.To)
	}
	return corners
}

// Bounds returns the smallest box around p.
func (p Prism) Bounds() (lo, hi Point) {
	a, b := p.Outline[0], p.Outline[0]
	for _, s := range p.Outline[1:] {
		a, b = Spot{min(a.U, s.U), min(a.V, s.V)}, Spot{max(b.U, s.U), max(b.V, s.V)}
	}
	return p.At(a, p.From), p.At(b, p.To)
}

// IsBox reports whether p fills its bounds.
func (p Prism) IsBox() bool {
	lo, hi := p.Bounds()
	return p.Volume() == Box(lo, hi).Volume()
}

// Face is one flat side of a prism with its outward direction (not of unit
// length), its corners in order, and the axis-wise position of its plane.
type Face struct {
	Corners []Point
	Normal  [3]float64
}

// Faces returns the flat sides: the two ends first, then one for each edge of
// the outline.
func (p Prism) Faces() []Face {
	n := len(p.Outline)
	c := p.Corners()
	faces := make([]Face, 0, n+2)
	var axis [3]float64
	axis[p.Axis] = 1
	faces = append(faces,
		Face{Corners: c[:n], Normal: [3]float64{-axis[0], -axis[1], -axis[2]}},
		Face{Corners: c[n:], Normal: axis})
	for i := range n {
		j := (i + 1) % n
		du := float64(p.Outline[j].U - p.Outline[i].U)
		dv := float64(p.Outline[j].V - p.Outline[i].V)
		size := math.Hypot(du, dv)
		u, v := dv/size, -du/size // to the right of an anticlockwise edge
		var normal [3]float64
		switch p.Axis {
		case X:
			normal = [3]float64{0, u, v}
		case Y:
			normal = [3]float64{u, 0, v}
		default:
			normal = [3]float64{u, v, 0}
		}
		faces = append(faces, Face{Corners: []Point{c[i], c[j], c[n+j], c[n+i]}, Normal: normal})
	}
	return faces
}

// Holds reports whether a place lies inside p.
func (p Prism) Holds(q Point) bool {
	u, v, w := q.X, q.Y, q.Z
	switch p.Axis {
	case X:
		u, v, w = q.Y, q.Z, q.X
	case Y:
		u, v, w = q.X, q.Z, q.Y
	}
	return w > p.From && w < p.To && Inside(p.Outline, Spot{u, v})
}

// Inside reports whether a spot lies inside an outline, by how often a ray from it crosses that.
func Inside(outline []Spot, q Spot) bool {
	in := false
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		if (a.V > q.V) != (b.V > q.V) &&
			float64(q.U) < float64(a.U)+float64(q.V-a.V)/float64(b.V-a.V)*float64(b.U-a.U) {
			in = !in
		}
	}
	return in
}

// Volume returns the room p takes up.
func (p Prism) Volume() measure.Volume {
	return OutlineArea(p.Outline).By(p.To - p.From)
}

// OutlineArea returns the surface inside an outline, by the shoelace rule.
func OutlineArea(outline []Spot) measure.Area {
	var area measure.Area
	o := outline[0]
	for i := 1; i+1 < len(outline); i++ {
		a, b := outline[i], outline[i+1]
		area += measure.Over(a.U-o.U, b.V-o.V) - measure.Over(b.U-o.U, a.V-o.V)
	}
	return area / 2
}

// Move returns p shifted by d.
func (p Prism) Move(d Point) Prism {
	out := Prism{Axis: p.Axis, From: p.From + d.Along(p.Axis), To: p.To + d.Along(p.Axis)}
	for _, s := range p.Outline {
		switch p.Axis {
		case X:
			s = Spot{s.U + d.Y, s.V + d.Z}
		case Y:
			s = Spot{s.U + d.X, s.V + d.Z}
		default:
			s = Spot{s.U + d.X, s.V + d.Y}
		}
		out.Outline = append(out.Outline, s)
	}
	return out
}

// Slice returns the part of p between two heights, and whether there is any.
// It serves posts and other upright prisms whose outline is the same all along
// z; a prism swept along x or y is cut only if it is a box.
func (p Prism) Slice(from, to measure.Length) (Prism, bool) {
	lo, hi := p.Bounds()
	from, to = max(from, lo.Z), min(to, hi.Z)
	if from >= to {
		return Prism{}, false
	}
	if p.Axis == Z {
		return Prism{Axis: Z, From: from, To: to, Outline: p.Outline}, true
	}
	lo.Z, hi.Z = from, to
	return Box(lo, hi), true
}

// Within returns the part of p inside the block from lo to hi, and whether
// there is any. Prisms that are no boxes and stick out of the block at the
// sides are taken as the box around them.
func (p Prism) Within(lo, hi Point) (Prism, bool) {
	in, ok := p.Slice(lo.Z, hi.Z)
	if !ok {
		return in, false
	}
	a, b := in.Bounds()
	if a.X >= lo.X && a.Y >= lo.Y && b.X <= hi.X && b.Y <= hi.Y {
		return in, true
	}
	a = Point{max(a.X, lo.X), max(a.Y, lo.Y), a.Z}
	b = Point{min(b.X, hi.X), min(b.Y, hi.Y), b.Z}
	if a.X >= b.X || a.Y >= b.Y {
		return Prism{}, false
	}
	return Box(a, b), true
}

// Overlap reports whether two convex prisms share room, by separating axes:
// the faces' directions and the cross products of the edges'.
func Overlap(a, b Prism) bool {
	la, ha := a.Bounds()
	lb, hb := b.Bounds()
	if ha.X <= lb.X || hb.X <= la.X || ha.Y <= lb.Y || hb.Y <= la.Y || ha.Z <= lb.Z || hb.Z <= la.Z {
		return false
	}
	const slack = 10 // nm, of floating point
	if a.IsBox() && b.IsBox() {
		return min(ha.X, hb.X)-max(la.X, lb.X) > slack && min(ha.Y, hb.Y)-max(la.Y, lb.Y) > slack &&
			min(ha.Z, hb.Z)-max(la.Z, lb.Z) > slack
	}
	ca, cb := a.Corners(), b.Corners()
	var axes [][3]float64
	var edges [2][][3]float64 // one of each direction: round the outline, and along
	for i, p := range []Prism{a, b} {
		for _, f := range p.Faces() {
			axes = append(axes, f.Normal)
		}
		ring := [][2]Point{{p.At(p.Outline[0], p.From), p.At(p.Outline[0], p.To)}}
		for k := range p.Outline {
			ring = append(ring, [2]Point{p.At(p.Outline[k], p.From), p.At(p.Outline[(k+1)%len(p.Outline)], p.From)})
		}
		for _, e := range ring {
			u, v := e[0], e[1]
			edges[i] = append(edges[i], [3]float64{float64(v.X - u.X), float64(v.Y - u.Y), float64(v.Z - u.Z)})
		}
	}
	for _, u := range edges[0] {
		for _, v := range edges[1] {
			c := [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
			if size := math.Sqrt(c[0]*c[0] + c[1]*c[1] + c[2]*c[2]); size > 1 {
				axes = append(axes, [3]float64{c[0] / size, c[1] / size, c[2] / size})
			}
		}
	}
	span := func(pts []Point, n [3]float64) (lo, hi float64) {
		lo, hi = math.Inf(1), math.Inf(-1)
		for _, p := range pts {
			d := n[0]*float64(p.X) + n[1]*float64(p.Y) + n[2]*float64(p.Z)
			lo, hi = min(lo, d), max(hi, d)
		}
		return lo, hi
	}
	for _, n := range axes {
		la, ha := span(ca, n)
		lb, hb := span(cb, n)
		if ha <= lb+slack || hb <= la+slack {
			return false
		}
	}
	return true
}
