package timber

import (
	"fmt"
	"math"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// outlinedBed is a bed whose corners are drawn: a trapezoid before a bay, a wedge in a corner
// of the garden, seven sides round a tree stump. Boards are mitred at half of what they turn
// at every corner, and brackets are bent to it.
//
//	4_________3
//	 \        \        corners anticlockwise from the front left, on the
//	  \        \       inside of the boards: what is planted is what was drawn
//	   \        \
//	    1--------2
var outlinedBed = System{
	System: stacked(design.System{
		Name: "outlined", Title: "Bed of any outline", About: "straight sides as you drag them, mitred at every corner",
		Examples: []design.Example{{About: "four sides as they were drawn, none of them square to the next"}},
		Uses:     []string{"grass", "under"},
		Lacks:    []string{"cap", "cap_profile", "cap_in", "cap_out"},
		Names:    map[string]string{"length": "Planting, from left to right", "width": "Planting, front to back"},
		Own: []design.Field{{
			Key:     cornersKey,
			Label:   "Corners, inside",
			Stage:   design.AtBed,
			Kind:    design.PointsField,
			Default: "0 in out 0 in; 96 in out 0 in; 78 in out 44 in; 18 in out 44 in",
			Metric:  "0 mm out 0 mm; 2400 mm out 0 mm; 1950 mm out 1100 mm; 450 mm out 1100 mm",
			Help: "Round it from the front left, to the right first: how far along, and how far out. Drag them on the" +
				" drawing, or those between two of them for one more.",
		}},
		Start: func(cat *catalog.Catalog, b *design.Bed) {
			b.Cap = design.NoCap
			if board, err := cat.Profile(b.Board); err != nil || board.Thickness < thickEnough {
				takeThickBoard(cat, b)
			}
			b.Length, b.Width = design.Extent(b.Points(cornersKey))
			b.Soil = min(b.Soil, cat.Told(10*measure.Inch, 250*measure.Millimetre))
		},
		AnyWay: true,
		Follow: func(b *design.Bed, _ *catalog.Catalog, changed func(string) bool) {
			list := b.Points(cornersKey)
			along, out := design.Extent(list)
			switch {
			case along == 0 || out == 0:
			case changed(cornersKey):
				b.Length, b.Width = along, out
			case along != b.Length || out != b.Width:
				b.SetPoints(cornersKey, design.Stretched(list, b.Length, b.Width))
			}
		},
		Planted: func(b design.Bed) float64 {
			return frame.OutlineArea(spots(b.Points(cornersKey))).SquareMetres() * 1e18
		},
		Adds:  []string{"liner", "mesh", "grid", "trellis", "hoops", "fence"},
		Check: checkOutlined,
	}, onTheGround),
	Build: buildOutlined,
}

const cornersKey = "outline"

// The flattest and the sharpest corner that boards are mitred round, by what they turn: flatter
// ones are a bent board, and at sharper ones their ends are longer than they are thick three
// times (common practice).
const (
	leastTurn = 10
	mostTurn  = 125
)

// mostSides is as many as anybody fits together.
const mostSides = 12

func spots(points []design.Point) []frame.Spot {
	list := make([]frame.Spot, len(points))
	for i, p := range points {
		list[i] = frame.Spot(p)
	}
	return list
}

// turnsOf is which way each side of an outline runs and how far it turns at its end, degrees.
func turnsOf(corners []frame.Spot) (way, turns []float64) {
	n := len(corners)
	for k, a := range corners {
		b := corners[(k+1)%n]
		way = append(way, math.Atan2(float64(b.V-a.V), float64(b.U-a.U))*180/math.Pi)
	}
	for k := range corners {
		turn := math.Mod(way[(k+1)%n]-way[k]+720, 360)
		if turn > 180 {
			turn -= 360
		}
		turns = append(turns, turn)
	}
	return way, turns
}

func checkOutlined(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	points := b.Points(cornersKey)
	n := len(points)
	if n < 3 || n > mostSides {
		refuse(cornersKey, "%s are no outline: from 3 to %d works", measure.Count(n, "corner"), mostSides)
		return
	}
	if along, out := design.Extent(points); along != b.Length || out != b.Width {
		refuse(cornersKey, "what is drawn is %s by %s, and the bed %s by %s: one of the two works", p.Feet(along),
			p.Feet(out), p.Feet(b.Length), p.Feet(b.Width))
		return
	}
	corners := spots(points)
	_, turns := turnsOf(corners)
	round := 0.
	for k, turn := range turns {
		at := (k+1)%n + 1
		a, c := corners[k], corners[(k+1)%n]
		switch long := measure.Hypot(c.U-a.U, c.V-a.V); {
		case long < leastSide:
			refuse(cornersKey, "the side from corner %d to %d is %s: too short for a bracket at either end, from %s works", k+1,
				at, p.Feet(long), p.AtLeast(leastSide))
			return
		case turn < 0:
			refuse(cornersKey, "at corner %d it turns inwards: corners go round to the left, as a convex outline has them. A"+
				" bed of arms has corners that turn in", at)
			return
		case turn < leastTurn:
			refuse(cornersKey, "at corner %d it turns by %.0f°, and is a straight side: leave that corner out, or turn it by"+
				" %d° and more", at, turn, leastTurn)
			return
		case turn > mostTurn:
			refuse(cornersKey, "corner %d is as sharp as %.0f°: no saw cuts that mitre and no bracket holds it. From"+
				" %d° works",
				at, 180-turn, 180-mostTurn)
			return
		}
		round += turn
	}
	if math.Abs(round-360) > 1 {
		refuse(cornersKey, "its sides cross: corners go round it once, anticlockwise from the front left")
		return
	}
	checkRounded(b, cat, refuse)
}

func buildOutlined(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	bed.Cap = design.NoCap
	c, err := carcassOf(bed, cat, 0, 0, 0)
	if err != nil {
		return frame.Frame{}, err
	}
	s := &sided{box: boxOf(c, bed, cat), fields: []string{"length", "width", cornersKey, "board", "species"}}
	s.drawn(spots(bed.Points(cornersKey)))
	if err := s.build(); err != nil {
		return frame.Frame{}, err
	}
	s.outlines()
	return s.f, nil
}

// drawn lays out sides along corners that are drawn, the outside touching both axes.
func (s *sided) drawn(inner []frame.Spot) {
	s.n = len(inner)
	s.way, s.turns = turnsOf(inner)
	t := float64(s.board.Thickness)
	corner := func(k int) (u, v float64) { // where both outer faces meet
		before, after := s.way[(k+s.n-1)%s.n]*math.Pi/180, s.way[k]*math.Pi/180
		far := t / math.Cos((s.turns[(k+s.n-1)%s.n])*math.Pi/360)
		out := math.Atan2(math.Sin(before)+math.Sin(after), math.Cos(before)+math.Cos(after)) - math.Pi/2
		return far * math.Cos(out), far * math.Sin(out)
	}
	var lo frame.Spot
	for k, c := range inner {
		u, v := corner(k)
		o := frame.Spot{U: c.U + measure.Length(math.Round(u)), V: c.V + measure.Length(math.Round(v))}
		if s.outer = append(s.outer, o); k == 0 {
			lo = o
		}
		lo = frame.Spot{U: min(lo.U, o.U), V: min(lo.V, o.V)}
	}
	for k, c := range inner {
		s.inner = append(s.inner, frame.Spot{U: c.U - lo.U, V: c.V - lo.V})
		s.outer[k] = frame.Spot{U: s.outer[k].U - lo.U, V: s.outer[k].V - lo.V}
	}
	for k, a := range s.outer {
		b := s.outer[(k+1)%s.n]
		s.long = append(s.long, measure.Hypot(b.U-a.U, b.V-a.V))
		s.way[k] = math.Mod(s.way[k]+360, 360)
	}
	// From all round the middle is as far away as a circle inside is wide; from one side,
	// all that lies behind it.
	s.f.Deepest, s.f.DeepestBy = inscribed(s.inner), "width"
	if s.bed.Access.FromOne() {
		s.f.Deepest = s.bed.Width
	}
	s.f.DeepestPer = float64(s.bed.Width) / float64(s.f.Deepest)
}

// inscribed is the radius of the largest circle inside a convex outline. It is the best of a
// linear program in its middle and radius, and so touches three sides: of all triples, the
// largest whose circle stays clear of the others (Boyd and Vandenberghe, Convex Optimization,
// 8.5.1, the Chebyshev centre; from memory).
func inscribed(corners []frame.Spot) measure.Length {
	n := len(corners)
	var sides [][3]float64 // a u + b v - r >= c, with (a, b) inwards and of unit length
	for k, p := range corners {
		q := corners[(k+1)%n]
		du, dv := float64(q.U-p.U), float64(q.V-p.V)
		long := math.Hypot(du, dv)
		a, b := -dv/long, du/long
		sides = append(sides, [3]float64{a, b, a*float64(p.U) + b*float64(p.V)})
	}
	best := 0.
	for i := range n {
		for j := i + 1; j < n; j++ {
			for k := j + 1; k < n; k++ {
				x, y, z := sides[i], sides[j], sides[k]
				// Differences have no radius in them: two equations for the middle.
				a, b, c := x[0]-y[0], x[1]-y[1], x[2]-y[2]
				d, e, f := x[0]-z[0], x[1]-z[1], x[2]-z[2]
				det := a*e - b*d
				if math.Abs(det) < 1e-9 {
					continue
				}
				u, v := (c*e-b*f)/det, (a*f-c*d)/det
				r := x[0]*u + x[1]*v - x[2]
				clear := r > best
				for _, s := range sides {
					clear = clear && s[0]*u+s[1]*v-s[2] >= r-1
				}
				if clear {
					best = r
				}
			}
		}
	}
	return measure.Length(math.Round(best))
}

// outlines are the dimensions worth reading of what was drawn, and where its corners are taken
// hold of.
func (s *sided) outlines() {
	lo, hi := s.f.Outside[0], s.f.Outside[1]
	in, to := s.f.Openings[0].Lo, s.f.Openings[0].Hi
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	s.f.Measures = []frame.Measure{
		{Name: "planting, from left to right", Field: "length", From: at(in.U, in.V, s.rim), To: at(to.U, in.V, s.rim),
			Primary: true},
		{Name: "planting, front to back", Field: "width", From: at(in.U, in.V, s.rim), To: at(in.U, to.V, s.rim),
			Primary: true},
		{Name: "outside, from left to right", From: at(lo.U, lo.V, 0), To: at(hi.U, lo.V, 0)},
		{Name: "outside, front to back", From: at(lo.U, lo.V, 0), To: at(lo.U, hi.V, 0)},
		{Name: "soil depth", Field: "soil", From: at(in.U, in.V, 0), To: at(in.U, in.V, s.bed.Soil), Primary: true},
		{Name: "wall height", From: at(lo.U, lo.V, 0), To: at(lo.U, lo.V, s.rim)},
	}
	for _, half := range []bool{false, true} {
		for i, c := range s.inner {
			if half {
				c = frame.Spot(design.Between(design.Point(c), design.Point(s.inner[(i+1)%s.n])))
			}
			s.f.Handles = append(s.f.Handles, frame.Handle{Field: cornersKey, Nth: i, Half: half, At: c})
		}
	}
	for i := range s.f.Acts {
		if a := &s.f.Acts[i]; a.Of == "corners" {
			a.Note += s.sharp()
		}
	}
}

// sharp says how ends are cut that saws do not tilt far enough for.
func (s *sided) sharp() string {
	most := 0.
	for _, turn := range s.turns {
		most = max(most, turn/2)
	}
	if most <= 45 {
		return ""
	}
	return fmt.Sprintf(" Saws tilt to 45° and few beyond: for the %.1f° ends draw the line on all four faces and saw them"+
		" by hand, or clamp the board to a wedge of what is missing; keep fingers clear of a board that is propped.", most)
}
