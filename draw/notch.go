package draw

import (
	"strings"

	"chamfer/core/frame"
)

// A notched part is drawn in pieces, each a solid of its own; where two of them
// meet there is no edge.

// edges draws the outline of a face of a notched part: every stretch of it that
// is not inside the part.
func (d *drawing) edges(f face, part *frame.Part) {
	var b strings.Builder
	for i, from := range f.corners {
		to := f.corners[(i+1)%len(f.corners)]
		for _, s := range stretches(from, to, part) {
			if pieces(part, s[0], s[1]) < 2 {
				p, q := d.at(s[0]), d.at(s[1])
				b.WriteString("M" + n(p.x) + " " + n(p.y) + "L" + n(q.x) + " " + n(q.y))
			}
		}
	}
	d.add(`<path class="d-edge" d="%s"/>`, b.String())
}

// stretches parts an edge where it passes the faces of the part's notches.
func stretches(from, to vec, part *frame.Part) [][2]vec {
	list := [][2]vec{{from, to}}
	for _, notch := range part.Notches {
		lo, hi := space(notch.Lo), space(notch.Hi)
		for axis := range 2 {
			for _, at := range []float64{lo[axis], hi[axis]} {
				var parted [][2]vec
				for _, s := range list {
					a, b := s[0][axis]-at, s[1][axis]-at
					if a*b >= -touching*touching {
						parted = append(parted, s)
						continue
					}
					t := a / (a - b)
					mid := vec{}
					for k := range mid {
						mid[k] = s[0][k] + (s[1][k]-s[0][k])*t
					}
					parted = append(parted, [2]vec{s[0], mid}, [2]vec{mid, s[1]})
				}
				list = parted
			}
		}
	}
	return list
}

// pieces counts the pieces of a part that the middle of a stretch touches.
func pieces(part *frame.Part, a, b vec) int {
	mid := vec{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2}
	count := 0
	for _, s := range part.Solids() {
		within := true
		for _, f := range s.Faces() {
			q := space(f.Corners[0])
			normal := vec(f.Normal)
			within = within && normal.dot(mid) <= normal.dot(q)+touching
		}
		if within {
			count++
		}
	}
	return count
}
