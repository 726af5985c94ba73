package planting

import (
	"cmp"
	"math"
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Lattice is how plants stand to one another.
type Lattice string

// The lattices. Each plant of the first two has its distance to every neighbour.
const (
	Square    Lattice = "square"
	Staggered Lattice = "staggered"
	InRows    Lattice = "rows"
)

// Laid is how a piece of soil is planted.
type Laid struct {
	Lattice Lattice
	Turned  int          // degrees from along the bed; 90 for across
	Spots   []frame.Spot // where each plant stands, front to back
	Tried   string       // what it is the most of
}

// Soil is a piece of soil from above: a rectangle of a bed's clear opening, and the outline it has to stand in where
// that is no rectangle.
type Soil struct {
	Lo, Hi  frame.Spot
	Outline []frame.Spot   // anticlockwise, nil for the rectangle
	Holes   [][]frame.Spot // what stands in it: posts, a basket
	Pot     bool           // it is one pot: a plant that fills it stands in its middle
}

// fewEnough is up to how many plants lattices are turned by every whole degree, too; above it the rows lie along or
// across the bed, where a turn rarely holds more and nobody lays strings askew.
const fewEnough = 60

// Pack finds how most plants that are each apart from one another stand on soil, edge clear of its rim: on the
// square or
// the staggered lattice, along, across or, for few of them, turned by whole degrees. On a rectangle no place of a
// lattice holds more: the offsets that matter are those where plants touch two sides, and all are tried. On other
// outlines offsets are tried by twelfths of the spacing.
func Pack(s Soil, each, edge measure.Length) Laid {
	if each <= 0 {
		return Laid{}
	}
	p := newPacker(s, edge)
	if p.w < 0 || p.h < 0 {
		return p.alone()
	}
	a := float64(each)
	best := Laid{Tried: "square and staggered, along and across, at every offset"}
	take := func(kind Lattice, turn int, spots [][2]float64) {
		if len(spots) > len(best.Spots) {
			best.Lattice, best.Turned, best.Spots = kind, turn, p.place(spots)
		}
	}
	tri := a * math.Sqrt(3) / 2
	for _, turn := range []int{0, 90} {
		take(Square, turn, p.fill([2]float64{a, 0}, [2]float64{0, a}, turn))
		take(Staggered, turn, p.fill([2]float64{a, 0}, [2]float64{a / 2, tri}, turn))
	}
	if len(best.Spots) == 0 {
		return p.alone()
	}
	if s.Outline == nil && p.s.Holes == nil && len(best.Spots) > 1 && len(best.Spots) <= fewEnough {
		best.Tried = "square and staggered, at every whole degree and offset"
		for turn := 1; turn < 90; turn++ {
			take(Square, turn, p.fill([2]float64{a, 0}, [2]float64{0, a}, turn))
			if turn < 60 {
				take(Staggered, turn, p.fill([2]float64{a, 0}, [2]float64{a / 2, tri}, turn))
			}
		}
	}
	return best
}

// alone is the one plant that a pot takes, however large it grows; nothing elsewhere.
func (p packer) alone() Laid {
	if !p.s.Pot {
		return Laid{}
	}
	return Laid{Lattice: Square, Tried: "one to a pot", Spots: []frame.Spot{
		{U: (p.s.Lo.U + p.s.Hi.U) / 2, V: (p.s.Lo.V + p.s.Hi.V) / 2}}}
}

// Rows stands plants in rows along the soil, inRow apart in them and rows from one to the next; across says that they
// run from front to back.
func Rows(s Soil, inRow, rows, edge measure.Length, across bool) Laid {
	p := newPacker(s, edge)
	if inRow <= 0 || rows <= 0 || p.w < 0 || p.h < 0 {
		return Laid{}
	}
	laid := Laid{Lattice: InRows, Tried: "rows at every offset"}
	u, v, turn := [2]float64{float64(inRow), 0}, [2]float64{0, float64(rows)}, 0
	if across {
		u, v, turn = [2]float64{0, float64(inRow)}, [2]float64{float64(rows), 0}, 90
	}
	laid.Turned, laid.Spots = turn, p.place(p.fill(u, v, 0))
	return laid
}

// packer is a soil less its edge, in nanometres as numbers.
type packer struct {
	s    Soil
	edge float64
	x, y float64 // of its left front corner
	w, h float64

	known []int8 // of cells over w by h: 1 all clear, -1 none, 2 to be asked spot by spot, 0 not looked at yet
}

// cellsAcross is how finely an outline is looked at before spots are.
const cellsAcross = 48

func newPacker(s Soil, edge measure.Length) packer {
	p := packer{s: s, edge: float64(edge), x: float64(s.Lo.U + edge), y: float64(s.Lo.V + edge),
		w: float64(s.Hi.U - s.Lo.U - 2*edge), h: float64(s.Hi.V - s.Lo.V - 2*edge)}
	near := float64(measure.Inch)
	p.s.Holes = slices.DeleteFunc(slices.Clone(s.Holes), func(hole []frame.Spot) bool {
		lo, hi := bounds(hole)
		return float64(hi.U)+near < p.x || float64(lo.U)-near > p.x+p.w || float64(hi.V)+near < p.y ||
			float64(lo.V)-near > p.y+p.h
	})
	if len(p.s.Holes) == 0 {
		p.s.Holes = nil
	}
	if s.Outline != nil || p.s.Holes != nil {
		p.known = make([]int8, cellsAcross*cellsAcross)
	}
	return p
}

// slack is what a distance may be short, in nanometres: what rounding to them takes.
const slack = 2.0

// fill is the fullest place of the lattice of u and v, turned by degrees.
func (p packer) fill(u, v [2]float64, turn int) (best [][2]float64) {
	sin, cos := math.Sincos(float64(turn) * math.Pi / 180)
	rot := func(q [2]float64) [2]float64 { return [2]float64{q[0]*cos - q[1]*sin, q[0]*sin + q[1]*cos} }
	u, v = rot(u), rot(v)
	reach := math.Hypot(p.w, p.h) + math.Hypot(u[0], u[1]) + math.Hypot(v[0], v[1])
	n := int(reach/min(height(u, v), height(v, u))) + 1
	var all [][2]float64 // of the lattice, all that one touch of the rim may bring in
	for i := -n; i <= n; i++ {
		for j := -n; j <= n; j++ {
			q := [2]float64{float64(i)*u[0] + float64(j)*v[0], float64(i)*u[1] + float64(j)*v[1]}
			if math.Abs(q[0]) <= p.w+slack && math.Abs(q[1]) <= p.h+slack {
				all = append(all, q)
			}
		}
	}
	try := func(dx, dy float64) {
		var got [][2]float64
		for _, q := range all {
			x, y := q[0]+dx, q[1]+dy
			if x >= -slack && x <= p.w+slack && y >= -slack && y <= p.h+slack && p.in(x, y) {
				got = append(got, [2]float64{x, y})
			}
		}
		if len(got) > len(best) {
			best = got
		}
	}
	if p.s.Outline != nil || p.s.Holes != nil {
		const parts = 12
		for i := range parts {
			for j := range parts {
				f, g := float64(i)/parts, float64(j)/parts
				try(p.w/2+f*u[0]+g*v[0], p.h/2+f*u[1]+g*v[1])
			}
		}
		return best
	}
	if turn%90 == 0 { // a corner of the lattice in a corner of the soil, or the next row's
		try(0, 0)
		try(0, -v[1])
		if turn == 90 {
			try(0, 0)
			try(p.w, 0)
		}
		return best
	}
	for _, q := range all { // one plant touches the left side, another the front
		if q[0] >= -slack && -q[1] >= -slack && -q[1] <= p.h+slack {
			try(0, -q[1])
		}
	}
	return best
}

// height is how far apart the lattice's lines along u are.
func height(u, v [2]float64) float64 { return math.Abs(u[0]*v[1]-u[1]*v[0]) / math.Hypot(u[0], u[1]) }

// offPosts is how far a stem stands off a post, in nanometres: an inch; common practice.
const offPosts = float64(measure.Inch) - slack

// in reports whether a spot of the soil is inside its outline by the edge, and outside its holes.
func (p packer) in(x, y float64) bool {
	if p.s.Outline == nil && p.s.Holes == nil {
		return true
	}
	cw, ch := max(p.w, 1)/cellsAcross, max(p.h, 1)/cellsAcross
	i, j := min(max(int(x/cw), 0), cellsAcross-1), min(max(int(y/ch), 0), cellsAcross-1)
	state := &p.known[j*cellsAcross+i]
	if *state == 0 {
		*state = p.cell((float64(i)+0.5)*cw, (float64(j)+0.5)*ch, math.Hypot(cw, ch)/2+slack)
	}
	if *state != 2 {
		return *state > 0
	}
	x, y = x+p.x, y+p.y
	if p.s.Outline != nil {
		if inside, off := distance(p.s.Outline, x, y); !inside || off < p.edge-slack {
			return false
		}
	}
	for _, hole := range p.s.Holes {
		if inside, off := distance(hole, x, y); inside || off < offPosts {
			return false
		}
	}
	return true
}

// cell is what is known of all spots within half of a cell's middle.
func (p packer) cell(x, y, half float64) int8 {
	x, y = x+p.x, y+p.y
	state := int8(1)
	if p.s.Outline != nil {
		inside, off := distance(p.s.Outline, x, y)
		switch {
		case !inside && off > half || inside && off < p.edge-slack-half:
			return -1
		case !inside || off < p.edge+half:
			state = 2
		}
	}
	for _, hole := range p.s.Holes {
		inside, off := distance(hole, x, y)
		switch {
		case inside && off > half:
			return -1
		case inside || off < offPosts+half:
			state = 2
		}
	}
	return state
}

// distance is how far a spot is off an outline, and whether it is inside.
func distance(outline []frame.Spot, x, y float64) (inside bool, off float64) {
	least := math.Inf(1)
	last := outline[len(outline)-1]
	ax, ay := float64(last.U), float64(last.V)
	for _, b := range outline {
		bx, by := float64(b.U), float64(b.V)
		if (ay > y) != (by > y) && x < (bx-ax)*(y-ay)/(by-ay)+ax {
			inside = !inside
		}
		dx, dy, px, py := bx-ax, by-ay, x-ax, y-ay
		if l := dx*dx + dy*dy; l > 0 {
			t := min(max((px*dx+py*dy)/l, 0), 1)
			px, py = px-t*dx, py-t*dy
		}
		least = min(least, px*px+py*py)
		ax, ay = bx, by
	}
	return inside, math.Sqrt(least)
}

// place rounds spots to the soil's own coordinates, front to back and left to right.
func (p packer) place(spots [][2]float64) []frame.Spot {
	list := make([]frame.Spot, len(spots))
	for i, q := range spots {
		list[i] = frame.Spot{U: measure.Length(math.Round(p.x + min(max(q[0], 0), p.w))),
			V: measure.Length(math.Round(p.y + min(max(q[1], 0), p.h)))}
	}
	slices.SortFunc(list, func(a, b frame.Spot) int { return cmp.Or(cmp.Compare(a.V, b.V), cmp.Compare(a.U, b.U)) })
	return list
}
