package setout

import (
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A 4 x 8 ft rectangle by hand and by REFERENCE section 9: its diagonals are 107.331
// in; the largest 3-4-5 in whole inches is 48/3 = 16: 48, 64, 80. Half a ring round a
// peg at 40 in, 20 to 28 in: strings of 20 and 28 in, and 17 and 31 in for a trench
// 3 in beside the wall. Courses of 4 in, the first 2 in deep: tops at 2, 6 and 10 in.
func TestByHand(t *testing.T) {
	in := measure.Inch
	s := Of(&frame.Frame{Outside: [2]frame.Spot{{}, {U: 96 * in, V: 48 * in}}}, measure.Sixteenths)
	if len(s.Pegs) != 4 || s.Pegs[2].Along != 96*in || s.Pegs[2].Out != 48*in ||
		s.Square != [3]measure.Length{48 * in, 64 * in, 80 * in} {
		t.Errorf("%+v", s)
	}
	for _, c := range s.Checks[2:] {
		if d := c.Length.Inches(); d < 107.3305 || d > 107.3315 {
			t.Errorf("%s to %s %v", c.From, c.To, d)
		}
	}
	f := &frame.Frame{Outside: [2]frame.Spot{{U: 12 * in}, {U: 68 * in, V: 40 * in}},
		Arcs: []frame.Arc{
			{Name: "ring", Middle: frame.Spot{U: 40 * in, V: 40 * in}, Inside: 20 * in, Outside: 28 * in, Degrees: 180},
		},
		Marks: []frame.Mark{{At: frame.Spot{U: 30 * in, V: 15 * in}, What: "way in"}},
		Bases: []frame.Base{{Thick: 8 * in, Wide: 14 * in}}}
	for course := 3; course > 0; course-- {
		f.Units = append(
			f.Units,
			frame.Unit{
				Course: course,
				Body: frame.Box(
					frame.Point{Z: measure.Length(course-1)*4*in - 2*in},
					frame.Point{X: in, Y: in, Z: measure.Length(course)*4*in - 2*in},
				),
			},
		)
	}
	s = Of(f, measure.Sixteenths)
	if len(s.Pegs) != 2 || s.Pegs[1].Along != 18*in || s.Pegs[1].Out != 15*in || s.Pegs[0].Along != 28*in ||
		s.Pegs[0].Out != 40*in ||
		len(s.Checks) != 0 {
		t.Errorf("%+v", s)
	}
	for i, want := range []measure.Length{20 * in, 28 * in, 17 * in, 31 * in} {
		if s.Strings[i].Length != want {
			t.Errorf("string %+v, want %v", s.Strings[i], want)
		}
	}
	for i, want := range []measure.Length{2 * in, 6 * in, 10 * in} {
		if s.Courses[i] != (Course{"", i + 1, want}) {
			t.Errorf("%+v, want %v", s.Courses[i], want)
		}
	}
}

// On ground that falls away courses lie below where it begins: that is said by how far.
func TestBelow(t *testing.T) {
	for top, want := range map[measure.Length]measure.Length{-3 * measure.Inch: 3 * measure.Inch, 0: 0,
		2 * measure.Inch: 0} {
		if got := (Course{Top: top}).Below(); got != want {
			t.Errorf("a top at %v is %v below, want %v", top, got, want)
		}
	}
}

// An L, 103 by 79 in outside with arms of 31 in, by hand: six sides and three lengths across,
// which is as many as fix the places of six corners (2n - 3, Laman 1970), all of them inside:
// A to C is the root of 31² + 48², C to F and C to E those of 31² + 31² and of 72² + 31².
func TestAnglesByHand(t *testing.T) {
	in := measure.Inch
	l := []frame.Spot{{}, {U: 31 * in}, {U: 31 * in, V: 48 * in}, {U: 103 * in, V: 48 * in}, {U: 103 * in, V: 79 * in},
		{V: 79 * in}}
	s := Of(&frame.Frame{Outside: [2]frame.Spot{{}, l[4]}, Outline: l}, measure.Sixteenths)
	got := map[string]float64{}
	for _, c := range s.Checks {
		got[c.From+c.To] = c.Length.Inches()
	}
	for key, want := range map[string]float64{"AB": 31, "BC": 48, "CD": 72, "DE": 31, "EF": 103, "FA": 79,
		"AC": 57.1402, "CE": 78.3901, "CF": 43.8406} {
		if d := got[key] - want; d > 0.001 || d < -0.001 {
			t.Errorf("%s is %v, by hand %v", key, got[key], want)
		}
	}
	if len(s.Checks) != 9 || len(s.Pegs) != 6 {
		t.Errorf("%d checks, %d pegs", len(s.Checks), len(s.Pegs))
	}
}
