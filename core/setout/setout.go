// Package setout says where the pegs go. Everything is measured from one base line
// along the front, with the tape left in place; what has corners is square when its
// diagonals agree, what is round is drawn with a string from a peg in its middle.
//
//	D-----------C
//	|  \     /  |     A is at nothing on the base line; B, C and D by their
//	|     X     |     running measures along it and out from it
//	A-----------B
//	0 --------> base line
package setout

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Peg is a place on the ground: along the base line, and out from it.
type Peg struct {
	Name       string
	Along, Out measure.Length
	What       string
}

// Check is a length between two pegs that must come out.
type Check struct {
	From, To string
	Length   measure.Length
}

// String is a length of string from a peg, to draw an arc with.
type String struct {
	Peg    string
	Length measure.Length
	What   string
}

// Course is how high the top of a course stands above the ground.
type Course struct {
	Wall   string // where there are several, one above the other
	Number int
	Top    measure.Length
}

// Row is the units of a wall's first course in a row that are alike.
type Row struct {
	Wall  string
	Kind  frame.UnitKind
	Count int
	Cut   measure.Length
}

// Below is how far the top of a course is under the ground; 0 where it is not.
func (c Course) Below() measure.Length { return max(0, -c.Top) }

// Sheet is one bed's setting out.
type Sheet struct {
	Bed, Name string
	Pegs      []Peg
	Checks    []Check
	Strings   []String
	Square    [3]measure.Length // 3-4-5, to set a right angle from the base line
	Courses   []Course
	First     []Row          // the first course, in the order it is laid
	Trench    measure.Length // how far beside the wall its trench is pegged; 0 for none
	Bent      bool           // it has no corners: points of a line are pegged
	Falls     bool           // the ground falls away along it
	Foot      *frame.Base    // what the wall stands on; nil where nothing is laid
}

// Of sets a frame out.
func Of(f *frame.Frame, precision measure.Precision) Sheet {
	s := Sheet{Bed: f.Bed, Name: f.Name, Falls: f.Steps > 0}
	lo, hi := f.Outside[0], f.Outside[1]
	long, deep := hi.U-lo.U, hi.V-lo.V
	for _, b := range f.Bases {
		s.Trench, s.Foot = (b.Wide-b.Thick)/2, &b
	}
	switch {
	case f.Outline != nil:
		s.angles(f)
		s.Square = threeFourFive(long, deep, precision)
	case f.Baseline:
		s.Pegs = []Peg{{"A", 0, 0, "left end of the base line"}, {"B", long, 0, "right end of it"}}
		s.Checks, s.Bent = []Check{{"A", "B", long}}, true
		s.Square = threeFourFive(long, deep, precision)
	case len(f.Arcs) == 0:
		corner := func(name string, along, out measure.Length, what string) {
			s.Pegs = append(s.Pegs, Peg{name, along, out, what})
		}
		corner("A", 0, 0, "front left, outside of the wall")
		corner("B", long, 0, "front right")
		corner("C", long, deep, "back right")
		corner("D", 0, deep, "back left")
		diagonal := measure.Hypot(long, deep)
		s.Checks = []Check{{"A", "B", long}, {"B", "C", deep}, {"A", "C", diagonal}, {"B", "D", diagonal}}
		s.Square = threeFourFive(long, deep, precision)
	}
	for i, a := range f.Arcs {
		peg := Peg{
			fmt.Sprintf("M%d", len(s.Pegs)+1),
			a.Middle.U - lo.U,
			a.Middle.V - lo.V,
			"the middle of the " + a.Name,
		}
		if len(f.Arcs) == 1 || a.Middle == f.Arcs[0].Middle {
			peg.Name = "M"
		}
		if i == 0 || peg.Name != "M" {
			s.Pegs = append(s.Pegs, peg)
		}
		of := ""
		if len(f.Arcs) > 1 {
			of = ", " + a.Name
		}
		s.Strings = append(
			s.Strings,
			String{peg.Name, a.Inside, "inner face of the units" + of},
			String{peg.Name, a.Outside, "outer face" + of},
		)
		if s.Trench > 0 && i == 0 { // others stand on the soil
			s.Strings = append(
				s.Strings,
				String{peg.Name, a.Inside - s.Trench, "inner edge of the trench"},
				String{peg.Name, a.Outside + s.Trench, "outer edge of the trench"},
			)
		}
	}
	for _, r := range f.Radii {
		for i, a := range f.Arcs {
			if a.Middle == r.Middle {
				name := "M"
				if i > 0 && a.Middle != f.Arcs[0].Middle {
					continue
				}
				s.Strings = append(s.Strings, String{name, r.Reach, r.What})
				break
			}
		}
	}
	for i, m := range f.Marks {
		s.Pegs = append(s.Pegs, Peg{fmt.Sprintf("P%d", i+1), m.At.U - lo.U, m.At.V - lo.V, m.What})
	}
	for _, u := range f.Units {
		if u.Course != 1+f.Steps || u.Kind == frame.CapUnit {
			continue
		}
		wall, _, _ := strings.Cut(u.Role, ",")
		if k := len(s.First) - 1; k >= 0 && s.First[k].Wall == wall && s.First[k].Kind == u.Kind &&
			s.First[k].Cut == u.Cut {
			s.First[k].Count++
			continue
		}
		s.First = append(s.First, Row{wall, u.Kind, 1, u.Cut})
	}
	for _, u := range f.Units {
		_, top := u.Body.Bounds()
		c := Course{Number: u.Course, Top: top.Z}
		if len(f.Levels) > 0 { // every wall has its own
			c.Wall, _, _ = strings.Cut(u.Role, ",")
		}
		if u.Kind != frame.CapUnit &&
			!slices.ContainsFunc(s.Courses, func(o Course) bool { return o.Wall == c.Wall && o.Number == c.Number }) {
			s.Courses = append(s.Courses, c)
		}
	}
	slices.SortStableFunc(
		s.Courses,
		func(a, b Course) int { return cmp.Or(cmp.Compare(a.Wall, b.Wall), a.Number-b.Number) },
	)
	return s
}

// angles pegs an outline of more than four corners: every side is measured, and as many lengths
// across, corner to corner inside the bed, as cut it into triangles. Those fix its shape.
func (s *Sheet) angles(f *frame.Frame) {
	n := len(f.Outline)
	name := func(i int) string { return string(rune('A' + i%n)) }
	for i, c := range f.Outline {
		what := "corner, outside of the wall"
		if i == 0 {
			what = "front left, outside of the wall"
		}
		s.Pegs = append(s.Pegs, Peg{name(i), c.U - f.Outside[0].U, c.V - f.Outside[0].V, what})
	}
	check := func(i, k int) {
		a, b := f.Outline[i], f.Outline[k%n]
		s.Checks = append(s.Checks, Check{name(i), name(k), measure.Hypot(b.U-a.U, b.V-a.V)})
	}
	for i := range f.Outline {
		check(i, i+1)
	}
	left := make([]int, n)
	for i := range left {
		left[i] = i
	}
	for len(left) > 3 { // the ear with the shortest length across is cut off
		best, short := -1, measure.MaxLength
		for k := range left {
			a, c := left[(k+len(left)-1)%len(left)], left[(k+1)%len(left)]
			d := measure.Hypot(f.Outline[c].U-f.Outline[a].U, f.Outline[c].V-f.Outline[a].V)
			if d < short && isEar(f.Outline, left, k) {
				best, short = k, d
			}
		}
		if best < 0 {
			return // it crosses itself
		}
		a, c := left[(best+len(left)-1)%len(left)], left[(best+1)%len(left)]
		check(min(a, c), max(a, c))
		left = slices.Delete(left, best, best+1)
	}
}

// isEar reports whether a corner of what is left of an outline turns outwards and none of the
// others lies in or on the triangle with its neighbours (Meisters' two ears, 1975).
func isEar(outline []frame.Spot, left []int, k int) bool {
	at := func(i int) frame.Spot { return outline[left[(i+len(left))%len(left)]] }
	turn := func(a, b, c frame.Spot) measure.Area {
		return measure.Over(b.U-a.U, c.V-a.V) - measure.Over(b.V-a.V, c.U-a.U)
	}
	a, b, c := at(k-1), at(k), at(k+1)
	if turn(a, b, c) <= 0 {
		return false
	}
	for i := range left {
		if p := at(i); p != a && p != b && p != c && turn(a, b, p) >= 0 && turn(b, c, p) >= 0 && turn(c, a, p) >= 0 {
			return false
		}
	}
	return true
}

// threeFourFive is the largest right triangle that fits, in steps a tape reads: the
// longest side across.
func threeFourFive(long, deep measure.Length, p measure.Precision) [3]measure.Length {
	step := 100 * measure.Millimetre
	if p.System == measure.Imperial {
		step = measure.Inch
	}
	unit := max(step, min(long/4, deep/3)/step*step)
	return [3]measure.Length{3 * unit, 4 * unit, 5 * unit}
}
