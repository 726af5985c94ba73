package frame

import (
	"fmt"

	"chamfer/core/measure"
)

// Notch is room cut out of a part for something that stands in its way, such as
// a fence post: a block through the part's whole thickness, at an edge or a
// corner.
//
//	+--------+
//	|        |    the block from Lo to Hi is taken
//	|     +--+    out of the body
//	+-----+
type Notch struct {
	Lo, Hi Point
	For    string // what stands there, for reading
}

// Solids is what is left of a part once its notches are cut: its body, or
// pieces of it that touch.
func (p Part) Solids() []Prism {
	solids := []Prism{p.Body}
	for _, n := range p.Notches {
		var left []Prism
		for _, s := range solids {
			left = append(left, s.Less(n.Lo, n.Hi)...)
		}
		solids = left
	}
	return solids
}

// Volume is the wood in a part.
func (p Part) Volume() measure.Volume {
	var v measure.Volume
	for _, s := range p.Solids() {
		v += s.Volume()
	}
	return v
}

// Less cuts an upright block out of a prism swept along z, or out of a box: up
// to four pieces, before and behind the block and beside it. The block is taken
// to reach through the whole height.
func (p Prism) Less(lo, hi Point) []Prism {
	if p.Axis != Z {
		if !p.IsBox() {
			return []Prism{p}
		}
		a, b := p.Bounds()
		p = Prism{Axis: Z, From: a.Z, To: b.Z, Outline: []Spot{{a.X, a.Y}, {b.X, a.Y}, {b.X, b.Y}, {a.X, b.Y}}}
	}
	if hi.Z <= p.From || lo.Z >= p.To {
		return []Prism{p}
	}
	rest := p.Outline
	var pieces []Prism
	for _, cut := range []struct {
		u    bool
		at   measure.Length
		over bool
	}{{true, lo.X, false}, {true, hi.X, true}, {false, lo.Y, false}, {false, hi.Y, true}} {
		if off := clip(rest, cut.u, cut.at, cut.over); len(off) >= 3 && OutlineArea(off) > 0 {
			pieces = append(pieces, Prism{Axis: Z, From: p.From, To: p.To, Outline: off})
		}
		rest = clip(rest, cut.u, cut.at, !cut.over)
		if len(rest) < 3 || OutlineArea(rest) <= 0 { // the block misses it
			return []Prism{p}
		}
	}
	return pieces
}

// clip keeps what of a convex outline lies on one side of a line square to an
// axis: Sutherland and Hodgman's cut.
func clip(outline []Spot, u bool, at measure.Length, over bool) []Spot {
	by := func(s Spot) measure.Length {
		d := s.V - at
		if u {
			d = s.U - at
		}
		if !over {
			d = -d
		}
		return d
	}
	var out []Spot
	for i, a := range outline {
		b := outline[(i+1)%len(outline)]
		da, db := by(a), by(b)
		if da >= 0 {
			out = append(out, a)
		}
		if da > 0 && db < 0 || da < 0 && db > 0 {
			f := float64(da) / float64(da-db)
			out = append(out, Spot{a.U + measure.Length(f*float64(b.U-a.U)), a.V + measure.Length(f*float64(b.V-a.V))})
		}
	}
	return out
}

// Cut says where a notch is on the piece itself: how far from its first end it
// begins and stops along the grain, and how far it goes in from which edge.
func (n Notch) Cut(p Part) (from, to, deep measure.Length, far bool) {
	a, b := p.Body.Bounds()
	across := Y
	if p.Grain == Y {
		across = X
	}
	from, to = max(
		n.Lo.Along(p.Grain),
		a.Along(p.Grain),
	)-a.Along(
		p.Grain,
	), min(
		n.Hi.Along(p.Grain),
		b.Along(p.Grain),
	)-a.Along(
		p.Grain,
	)
	near := n.Hi.Along(across) - a.Along(across)
	if far = b.Along(across)-n.Lo.Along(across) < near; far {
		return from, to, b.Along(across) - n.Lo.Along(across), true
	}
	return from, to, near, false
}

// notched tells pieces apart by their notches.
func (p Part) notched() string {
	s := ""
	for _, n := range p.Notches {
		from, to, deep, far := n.Cut(p)
		s += fmt.Sprint(int64(from), int64(to), int64(deep), far, ";")
	}
	return s
}
