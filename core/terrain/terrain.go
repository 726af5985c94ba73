// Package terrain is the ground as somebody measured it: readings of a level, a plank or a
// water tube become heights of pegs, pegs become a surface of triangles, and of that follow
// contours, the fall, and what has to be dug and filled for ground that is to be level.
//
//	readings -> pegs -> surface -> contours, fall, cut and fill
//
// Places are on the plot: so far from its left and so far from its front. Heights are above
// whatever the first of them was counted from.
package terrain

import (
	"math"

	"chamfer/core/measure"
)

// Peg is a place of which the height is known.
type Peg struct {
	Name   string
	X, Y   measure.Length // from the plot's left and front
	Height measure.Length
}

// Spot is a place on the surface, in metres. Height counts as the pegs' do.
type Spot struct{ X, Y, Z float64 }

// Plane is even ground: Z at the origin, and how much it rises to the metre to the right and
// away from the front.
type Plane struct{ Z, Right, Away float64 }

// At is the plane's height at a place.
func (p Plane) At(x, y float64) float64 { return p.Z + p.Right*x + p.Away*y }

// Fall is how steep the plane is, as a share, and which way it falls: degrees clockwise from
// straight away from the front, 0 to 360.
func (p Plane) Fall() (share, toward float64) {
	share = math.Hypot(p.Right, p.Away)
	toward = math.Atan2(-p.Right, -p.Away) * 180 / math.Pi
	if toward < 0 {
		toward += 360
	}
	return share, toward
}

// Level is even ground without a fall.
func Level(z float64) Plane { return Plane{Z: z} }

// Fit is the plane nearest all spots by least squares. Spots in one line, or one alone, say
// nothing of the fall across them: there it is level.
func Fit(spots []Spot) Plane {
	if len(spots) == 0 {
		return Plane{}
	}
	n := float64(len(spots))
	var mx, my, mz float64
	for _, s := range spots {
		mx, my, mz = mx+s.X/n, my+s.Y/n, mz+s.Z/n
	}
	var xx, yy, xy, xz, yz float64
	for _, s := range spots {
		x, y, z := s.X-mx, s.Y-my, s.Z-mz
		xx, yy, xy, xz, yz = xx+x*x, yy+y*y, xy+x*y, xz+x*z, yz+y*z
	}
	var p Plane
	det := xx*yy - xy*xy
	switch spread := xx + yy; {
	case spread == 0:
	case det <= 1e-9*spread*spread: // in one line
		ux, uy := math.Sqrt(xx/spread), math.Copysign(math.Sqrt(yy/spread), xy)
		slope := (xz*ux + yz*uy) / spread
		p.Right, p.Away = slope*ux, slope*uy
	default:
		p.Right, p.Away = (xz*yy-yz*xy)/det, (yz*xx-xz*xy)/det
	}
	p.Z = mz - p.Right*mx - p.Away*my
	return p
}

// Surface is the ground over a rectangle: triangles between the pegs, and from the outermost
// pegs on to the rectangle's corners, whose heights are guessed from the fall of them all.
type Surface struct {
	Lo, Hi    Spot // corners of the rectangle; Z is the lowest and the highest
	Spots     []Spot
	Names     []string // of the pegs, "" of a corner that is guessed
	Triangles [][3]int // of Spots, anticlockwise
	Plane     Plane    // nearest the pegs
	RMS       float64  // how far the pegs are off it, as a root of the mean of squares, m
	Farthest  float64  // and at most
}

// Over is the surface through pegs over a rectangle from the plot's corner or beyond; nil
// where there is no peg.
func Over(pegs []Peg, lo, hi Spot) *Surface {
	if len(pegs) == 0 {
		return nil
	}
	s := &Surface{Lo: lo, Hi: hi}
	for _, p := range pegs {
		s.Spots = append(s.Spots, Spot{tenth(p.X.Metres()), tenth(p.Y.Metres()), p.Height.Metres()})
		s.Names = append(s.Names, p.Name)
	}
	s.Plane = Fit(s.Spots)
	read := s.Spots
	for _, q := range read {
		off := q.Z - s.Plane.At(q.X, q.Y)
		s.RMS += off * off / float64(len(read))
		s.Farthest = max(s.Farthest, math.Abs(off))
	}
	s.RMS = math.Sqrt(s.RMS)
	for _, c := range []Spot{{X: lo.X, Y: lo.Y}, {X: hi.X, Y: lo.Y}, {X: hi.X, Y: hi.Y}, {X: lo.X, Y: hi.Y}} {
		c.X, c.Y = tenth(c.X), tenth(c.Y)
		if s.stands(c) {
			continue
		}
		c.Z = s.Plane.At(c.X, c.Y) + s.off(read, c)
		s.Spots, s.Names = append(s.Spots, c), append(s.Names, "")
	}
	s.Triangles = delaunay(s.Spots)
	for i, q := range s.Spots {
		if i == 0 {
			s.Lo.Z, s.Hi.Z = q.Z, q.Z
		}
		s.Lo.Z, s.Hi.Z = min(s.Lo.Z, q.Z), max(s.Hi.Z, q.Z)
	}
	return s
}

// tenth rounds metres to tenths of a millimetre, to which places are told apart.
func tenth(m float64) float64 { return math.Round(m*1e4) / 1e4 }

// stands reports whether there is a spot at a place already.
func (s *Surface) stands(c Spot) bool {
	for _, q := range s.Spots {
		if math.Hypot(q.X-c.X, q.Y-c.Y) < 1e-3 {
			return true
		}
	}
	return false
}

// off is how far the ground is off its plane at a place outside of the pegs: as the pegs
// are, each by the square of its nearness.
func (s *Surface) off(read []Spot, c Spot) float64 {
	var sum, weight float64
	for _, q := range read {
		d := math.Hypot(q.X-c.X, q.Y-c.Y)
		w := 1 / (d * d)
		sum, weight = sum+w*(q.Z-s.Plane.At(q.X, q.Y)), weight+w
	}
	return sum / weight
}

// Guessed reports whether a triangle reaches beyond the pegs.
func (s *Surface) Guessed(triangle int) bool {
	for _, v := range s.Triangles[triangle] {
		if s.Names[v] == "" {
			return true
		}
	}
	return false
}

// At is the height of the ground at a place, and whether it was measured around it; outside
// the rectangle it is that of the plane.
func (s *Surface) At(x, y float64) (z float64, measured bool) {
	for i := range s.Triangles {
		a, b, c := s.corners(i)
		d := cross(a, b, c)
		u, v, w := cross(b, c, Spot{X: x, Y: y})/d, cross(c, a, Spot{X: x, Y: y})/d, cross(a, b, Spot{X: x, Y: y})/d
		if u >= -1e-9 && v >= -1e-9 && w >= -1e-9 {
			return u*a.Z + v*b.Z + w*c.Z, !s.Guessed(i)
		}
	}
	return s.Plane.At(x, y), false
}

func (s *Surface) corners(i int) (a, b, c Spot) {
	t := s.Triangles[i]
	return s.Spots[t[0]], s.Spots[t[1]], s.Spots[t[2]]
}

// cross is twice the area of a, b, c, positive anticlockwise.
func cross(a, b, c Spot) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }
