package terrain

import "math"

// Moved is what has to be dug and filled so that ground becomes even, in cubic metres of
// ground as it lies.
type Moved struct {
	Cut, Fill       float64
	CutOver, FillOn float64 // the surfaces dug and filled, m²
	Deepest         float64 // cut, m
	Highest         float64 // fill, m
	Guessed         float64 // of the surface, what lies beyond the pegs, m²
	Area            float64
}

// Move is what has to be moved inside an outline, anticlockwise and without crossings, so that
// the ground there becomes a plane: prisms over the triangles, each cut where it crosses the
// plane, so that it is exact for a surface of triangles.
func (s *Surface) Move(outline []Spot, to Plane) Moved { return s.Lay(outline).Move(to) }

// Laid is an outline over a surface, cut once into what lies over each triangle, for whoever moves it to one plane
// after
// the other.
type Laid struct {
	s         *Surface
	at        []int // triangles
	pieces    [][]Spot
	off, half []Spot // room to reckon in
}

// Lay cuts an outline.
func (s *Surface) Lay(outline []Spot) *Laid {
	l := &Laid{s: s}
	for i := range s.Triangles {
		if piece := s.within(outline, i); len(piece) >= 3 {
			l.at, l.pieces = append(l.at, i), append(l.pieces, piece)
		}
	}
	return l
}

// Move is [Surface.Move] of what was laid.
func (l *Laid) Move(to Plane) Moved {
	var m Moved
	for k, i := range l.at {
		piece := append(l.off[:0], l.pieces[k]...)
		l.off = piece
		for k, q := range piece {
			piece[k].Z = q.Z - to.At(q.X, q.Y)
		}
		area, _ := under(piece)
		m.Area += area
		if l.s.Guessed(i) {
			m.Guessed += area
		}
		l.half = halvedInto(l.half[:0], piece, func(q Spot) float64 { return q.Z })
		over, v := under(l.half)
		m.CutOver, m.Cut = m.CutOver+over, m.Cut+v
		l.half = halvedInto(l.half[:0], piece, func(q Spot) float64 { return -q.Z })
		over, v = under(l.half)
		m.FillOn, m.Fill = m.FillOn+over, m.Fill-v
		for _, q := range piece {
			m.Deepest, m.Highest = max(m.Deepest, q.Z), max(m.Highest, -q.Z)
		}
	}
	return m
}

// Pieces are the parts of an outline that lie over (cut) or under (fill) a plane, one to a
// triangle, for whoever draws them.
func (s *Surface) Pieces(outline []Spot, to Plane, cut bool) [][]Spot {
	var list [][]Spot
	way := -1.0
	if cut {
		way = 1
	}
	for i := range s.Triangles {
		piece := halved(s.within(outline, i), func(q Spot) float64 { return way * (q.Z - to.At(q.X, q.Y)) })
		if area, _ := under(piece); area > 1e-9 {
			list = append(list, piece)
		}
	}
	return list
}

// within is the part of an outline over a triangle, with the heights of the ground.
func (s *Surface) within(outline []Spot, i int) []Spot {
	a, b, c := s.corners(i)
	lox, hix := min(a.X, b.X, c.X), max(a.X, b.X, c.X)
	loy, hiy := min(a.Y, b.Y, c.Y), max(a.Y, b.Y, c.Y)
	apart := [4]bool{true, true, true, true}
	for _, q := range outline {
		apart[0], apart[1] = apart[0] && q.X <= lox, apart[1] && q.X >= hix
		apart[2], apart[3] = apart[2] && q.Y <= loy, apart[3] && q.Y >= hiy
	}
	if apart != [4]bool{} {
		return nil
	}
	piece := outline
	for _, e := range [][2]Spot{{a, b}, {b, c}, {c, a}} {
		piece = halved(piece, func(q Spot) float64 { return cross(e[0], e[1], q) })
	}
	d := cross(a, b, c)
	out := make([]Spot, len(piece))
	for k, q := range piece {
		q.Z = (cross(b, c, q)*a.Z + cross(c, a, q)*b.Z + cross(a, b, q)*c.Z) / d
		out[k] = q
	}
	return out
}

// halved is the part of a polygon where something that changes evenly is not below zero
// (Sutherland and Hodgman 1974). Of one that is not convex, what is left may hang together by
// lines without width; its surface and room are right.
func halved(poly []Spot, of func(Spot) float64) []Spot { return halvedInto(nil, poly, of) }

// halvedInto puts it into room that is there.
func halvedInto(out, poly []Spot, of func(Spot) float64) []Spot {
	for i, p := range poly {
		q := poly[(i+1)%len(poly)]
		a, b := of(p), of(q)
		if a >= 0 {
			out = append(out, p)
		}
		if a < 0 && b > 0 || a > 0 && b < 0 {
			t := a / (a - b)
			out = append(out, Spot{p.X + t*(q.X-p.X), p.Y + t*(q.Y-p.Y), p.Z + t*(q.Z-p.Z)})
		}
	}
	return out
}

// under is a polygon's surface, and the room between it and zero where its height changes evenly.
func under(poly []Spot) (area, volume float64) {
	for i := 1; i+1 < len(poly); i++ {
		a := cross(poly[0], poly[i], poly[i+1]) / 2
		area += a
		volume += a * (poly[0].Z + poly[i].Z + poly[i+1].Z) / 3
	}
	return area, volume
}

// Balanced is the level at which so much is dug inside outlines as is filled there, where what is
// dug makes so much of its room once it is trodden down (keeps, 1 for all of it). It is sought by
// halving: what is dug falls and what is filled rises with the level, so there is just one.
func (s *Surface) Balanced(outlines [][]Spot, keeps float64) float64 {
	pieces := make([][][]Spot, len(outlines)) // what lies over each triangle is the same at every level
	for k, o := range outlines {
		for i := range s.Triangles {
			if piece := s.within(o, i); len(piece) >= 3 {
				pieces[k] = append(pieces[k], piece)
			}
		}
	}
	var off, half []Spot
	lo, hi := s.Lo.Z, s.Hi.Z
	for range 80 {
		mid := (lo + hi) / 2
		var cut, fill float64
		for _, list := range pieces {
			var c, f float64
			for _, piece := range list {
				off = append(off[:0], piece...)
				for k := range off {
					off[k].Z -= mid
				}
				half = halvedInto(half[:0], off, func(q Spot) float64 { return q.Z })
				_, v := under(half)
				c += v
				half = halvedInto(half[:0], off, func(q Spot) float64 { return -q.Z })
				_, v = under(half)
				f -= v
			}
			cut, fill = cut+c, fill+f
		}
		if cut*keeps > fill {
			lo = mid
		} else {
			hi = mid
		}
	}
	return (lo + hi) / 2
}

// Reach is the lowest and the highest ground inside an outline.
func (s *Surface) Reach(outline []Spot) (low, high Spot) {
	low.Z, high.Z = math.Inf(1), math.Inf(-1)
	see := func(q Spot) {
		if q.Z < low.Z {
			low = q
		}
		if q.Z > high.Z {
			high = q
		}
	}
	for i := range s.Triangles {
		for _, q := range s.within(outline, i) {
			see(q)
		}
	}
	if math.IsInf(low.Z, 1) { // off the surface
		for _, q := range outline {
			q.Z = s.Plane.At(q.X, q.Y)
			see(q)
		}
	}
	return low, high
}

// Best is the plane nearest the ground inside an outline, over its whole surface and not only
// its corners: by least squares over the middles of sides and corners of what its triangles
// make of it, each by its surface.
func (s *Surface) Best(outline []Spot) Plane {
	var n, mx, my, mz float64
	type sample struct {
		Spot
		w float64
	}
	var list []sample
	for i := range s.Triangles {
		p := s.within(outline, i)
		for k := 1; k+1 < len(p); k++ {
			w := cross(p[0], p[k], p[k+1]) / 2
			for _, m := range [][2]Spot{{p[0], p[k]}, {p[k], p[k+1]}, {p[k+1], p[0]}} { // exact for squares
				q := Spot{(m[0].X + m[1].X) / 2, (m[0].Y + m[1].Y) / 2, (m[0].Z + m[1].Z) / 2}
				list = append(list, sample{q, w / 3})
				n, mx, my, mz = n+w/3, mx+w/3*q.X, my+w/3*q.Y, mz+w/3*q.Z
			}
		}
	}
	if n <= 0 {
		return s.Plane
	}
	mx, my, mz = mx/n, my/n, mz/n
	var xx, yy, xy, xz, yz float64
	for _, q := range list {
		x, y, z := q.X-mx, q.Y-my, q.Z-mz
		xx, yy, xy, xz, yz = xx+q.w*x*x, yy+q.w*y*y, xy+q.w*x*y, xz+q.w*x*z, yz+q.w*y*z
	}
	det := xx*yy - xy*xy
	p := Plane{Right: (xz*yy - yz*xy) / det, Away: (yz*xx - xz*xy) / det}
	p.Z = mz - p.Right*mx - p.Away*my
	return p
}
