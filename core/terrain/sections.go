package terrain

import (
	"cmp"
	"math"
	"slices"
)

// EndAreas is the room along a line of sections so far apart by the means of their ends (the trapezoidal rule of
// survey textbooks): what roads are reckoned by. It comes out high where sections change quickly, half as much
// again where one runs out to a point.
func EndAreas(areas []float64, apart float64) (v float64) {
	for i := 1; i < len(areas); i++ {
		v += (areas[i-1] + areas[i]) / 2 * apart
	}
	return v
}

// Prismoids is the room by Simpson's rule, two stretches at a time, false where the sections are not an odd
// number of three at least.
func Prismoids(areas []float64, apart float64) (v float64, ok bool) {
	if len(areas) < 3 || len(areas)%2 == 0 {
		return 0, false
	}
	for i := 2; i < len(areas); i += 2 {
		v += (areas[i-2] + 4*areas[i-1] + areas[i]) * apart / 3
	}
	return v, true
}

// Sections are what is cut (or filled) of an outline to a plane in sections across it, so many of them evenly from
// its left to its right end: m², and how far they are apart.
func (s *Surface) Sections(outline []Spot, to Plane, cut bool, n int) (areas []float64, apart float64) {
	lo, hi := outline[0].X, outline[0].X
	for _, q := range outline {
		lo, hi = min(lo, q.X), max(hi, q.X)
	}
	apart = (hi - lo) / float64(n-1)
	areas = make([]float64, n)
	for _, piece := range s.Pieces(outline, to, cut) {
		for k := range areas {
			x := lo + apart*float64(k)
			if k == 0 || k == n-1 { // just inside, where a section is one
				x += apart * 1e-9 * float64(1-2*min(1, k))
			}
			areas[k] += across(piece, x, to)
		}
	}
	return areas, apart
}

// across is how much of a piece stands off a plane where it is cut at x. One that is not convex is cut more than once.
func across(piece []Spot, x float64, to Plane) (area float64) {
	var cuts [][2]float64 // how far away, and how far off
	for i, a := range piece {
		b := piece[(i+1)%len(piece)]
		if (a.X <= x) == (b.X <= x) {
			continue
		}
		t := (x - a.X) / (b.X - a.X)
		at := a.Y + t*(b.Y-a.Y)
		cuts = append(cuts, [2]float64{at, math.Abs(a.Z + t*(b.Z-a.Z) - to.At(x, at))})
	}
	slices.SortFunc(cuts, func(a, b [2]float64) int { return cmp.Compare(a[0], b[0]) })
	for i := 1; i < len(cuts); i += 2 {
		area += (cuts[i][0] - cuts[i-1][0]) * (cuts[i][1] + cuts[i-1][1]) / 2
	}
	return area
}
