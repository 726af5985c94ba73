package plan

import (
	"slices"

	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/site"
	"chamfer/core/sun"
)

// Sunny is how much sun a bed gets where it stands, and where on the plot it would get most.
type Sunny struct {
	Now  float64 // hours a day in the growing months, over its whole footprint
	Best float64
	At   frame.Spot // its left front corner there
	Turn bool       // it is turned there from how it stands now
	Some bool       // somewhere on the plot has room for it
}

// sunCells is how finely places on a plot are tried, along its longer side.
const sunCells = 40

// Sunniest tries where on the plot a bed would get most sun, a path away from the other beds, both ways round. M is the
// plot's map of the growing months with what stands round it, and no beds. What gets no more than a twentieth more
// is no better.
func (p *Plan) Sunniest(bed string, m sun.Map) (s Sunny) {
	now, ok := p.stand(bed)
	if !ok {
		return s
	}
	// Sums over rectangles of the map, by sums over those from its corner.
	sums := make([]float64, (m.Columns+1)*(m.Rows+1))
	for j := range m.Rows {
		for i := range m.Columns {
			sums[(j+1)*(m.Columns+1)+i+1] = m.Hours[j*m.Columns+i] + sums[j*(m.Columns+1)+i+1] +
				sums[(j+1)*(m.Columns+1)+i] - sums[j*(m.Columns+1)+i]
		}
	}
	mean := func(lo, hi frame.Spot) float64 {
		i0, j0 := int(metres(lo.U)/m.Wide), int(metres(lo.V)/m.Deep)
		i1, j1 := min(m.Columns, int(metres(hi.U)/m.Wide+0.999)), min(m.Rows, int(metres(hi.V)/m.Deep+0.999))
		i0, j0 = min(max(i0, 0), m.Columns-1), min(max(j0, 0), m.Rows-1)
		i1, j1 = max(i1, i0+1), max(j1, j0+1)
		at := func(i, j int) float64 { return sums[j*(m.Columns+1)+i] }
		return (at(i1, j1) - at(i0, j1) - at(i1, j0) + at(i0, j0)) / float64((i1-i0)*(j1-j0))
	}
	s.Now = mean(now.Lo, now.Hi)
	s.Best = s.Now
	long := max(p.Site.Plot.Width, p.Site.Plot.Depth)
	step := long / sunCells
	for _, turn := range []bool{false, true} {
		w, d := now.Hi.U-now.Lo.U, now.Hi.V-now.Lo.V
		if turn {
			w, d = d, w
		}
		for v := measure.Length(0); v+d <= p.Site.Plot.Depth; v += step {
			for u := measure.Length(0); u+w <= p.Site.Plot.Width; u += step {
				lo, hi := frame.Spot{U: u, V: v}, frame.Spot{U: u + w, V: v + d}
				if slices.ContainsFunc(p.Site.Stands, func(o site.Stand) bool {
					gap := p.Site.Passage
					return (o.Bed != bed || o.N != 0) && lo.U < o.Hi.U+gap && hi.U > o.Lo.U-gap && lo.V < o.Hi.V+gap &&
						hi.V > o.Lo.V-gap
				}) {
					continue
				}
				if h := mean(lo, hi); h > s.Best*1.05 && h > s.Now*1.05 || h > s.Best && s.Some {
					s.Best, s.At, s.Turn, s.Some = h, lo, turn, true
				}
			}
		}
	}
	return s
}
