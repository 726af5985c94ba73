package terrain

import "math"

// Contour is a line of one height over the ground.
type Contour struct {
	Height float64 // m
	Line   []Spot
	Closed bool
	Guess  []bool // of each stretch from a spot to the next, whether it runs beyond the pegs
}

// Contours are the lines of all whole steps of height.
func (s *Surface) Contours(step float64) []Contour {
	var list []Contour
	for k := math.Ceil(s.Lo.Z/step - 1e-9); k*step <= s.Hi.Z; k++ {
		list = append(list, s.ContoursAt(k*step)...)
	}
	return list
}

// ContoursAt are the lines of one height. What lies just at it counts as over it, so that a
// line crosses an edge once or not at all, and ends nowhere but at the edge of the surface.
// It has higher ground to its left.
func (s *Surface) ContoursAt(z float64) []Contour {
	type edge [2]int // from the lower end to the higher
	over := func(v int) bool { return s.Spots[v].Z >= z }
	next, guess := map[edge]edge{}, map[edge]bool{}
	var starts []edge
	into := map[edge]bool{}
	for i, t := range s.Triangles {
		var in, out edge
		n := 0
		for k := range 3 {
			a, b := t[k], t[(k+1)%3]
			switch {
			case over(a) && !over(b): // anticlockwise down: the line goes in here
				in, n = edge{b, a}, n+1
			case !over(a) && over(b):
				out, n = edge{a, b}, n+1
			}
		}
		if n == 2 {
			// with higher ground to the left the line runs from where the outline falls to where it rises
			next[in], into[out] = out, true
			guess[in] = s.Guessed(i)
			starts = append(starts, in)
		}
	}
	at := func(e edge) Spot {
		a, b := s.Spots[e[0]], s.Spots[e[1]]
		t := (z - a.Z) / (b.Z - a.Z)
		return Spot{a.X + t*(b.X-a.X), a.Y + t*(b.Y-a.Y), z}
	}
	done := map[edge]bool{}
	var list []Contour
	follow := func(e edge) {
		c := Contour{Height: z}
		for first := e; ; {
			done[e] = true
			c.Line = append(c.Line, at(e))
			c.Guess = append(c.Guess, guess[e])
			to, ok := next[e]
			if !ok {
				c.Guess = c.Guess[:len(c.Line)-1]
				break
			}
			if e = to; e == first {
				c.Closed = true
				break
			}
		}
		if len(c.Line) > 1 {
			list = append(list, c)
		}
	}
	for _, e := range starts {
		if !into[e] { // it comes in over the edge of the surface
			follow(e)
		}
	}
	for _, e := range starts {
		if !done[e] {
			follow(e)
		}
	}
	return list
}
