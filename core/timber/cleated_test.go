package timber

import (
	"math"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// count is how many parts of a kind there are by length.
func count(f frame.Frame, kind frame.PartKind) map[measure.Length]int {
	n := map[measure.Length]int{}
	for _, p := range f.Parts {
		if p.Kind == kind {
			n[p.Length]++
		}
	}
	return n
}

// wantCounts compares parts by length with what was worked out by hand.
func wantCounts(t *testing.T, f frame.Frame, want map[frame.PartKind]map[measure.Length]int) {
	t.Helper()
	for kind, lengths := range want {
		got := count(f, kind)
		for l, n := range lengths {
			if got[l] != n {
				t.Errorf("%d %s of %v, want %d; all: %v", got[l], kind, l, n, got)
			}
			delete(got, l)
		}
		for l, n := range got {
			t.Errorf("%d %s of %v are not in the count by hand", n, kind, l)
		}
	}
}

func wantJoints(t *testing.T, f frame.Frame, want map[frame.JointKind]int) {
	t.Helper()
	got := map[frame.JointKind]int{}
	for _, j := range f.Joints {
		got[j.Kind]++
	}
	for kind, n := range want {
		if got[kind] != n {
			t.Errorf("%d joints %q, want %d", got[kind], kind, n)
		}
		delete(got, kind)
	}
	if len(got) > 0 {
		t.Errorf("joints not in the count by hand: %v", got)
	}
}

func wantSoil(t *testing.T, f frame.Frame, cubicInches float64) {
	t.Helper()
	got := 0.0
	for _, c := range f.Cavities {
		got += c.Net().CubicFeet()
	}
	if want := cubicInches / 1728; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("soil %.6f ft3, want %.6f", got, want)
	}
}

// Cleated panels by hand: 60 x 20 in clear under a rim border of 1/2 in
// overhang both ways, pickets of 5/8 x 5 1/2: inside 61 x 21, outside 62 1/4 x
// 22 1/4; 10 in of soil and 1 above it are two pickets, 11 in. Cleats are half a
// 2x4: (3 1/2 - 1/8) / 2 = 1 11/16 by 1 1/2, three on a long panel (the mid one
// because 61 in is over 4 ft), two on an end. One tie of 21 in. Border: 1 5/8
// wide, long rails 63 1/4, ends between them 23 1/4 - 3 1/4 = 20.
//
// Joints: 10 cleats x 2 boards, and 2 cleats of the tie, each also to the tie; at 4 corners 2
// end boards into a long panel's cleat; 4 rails. Soil: 61 x 21 x 10 less cleats, a
// 2x4 of 21 in and the tie's two cleats of 2x4.
func TestCleatedByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "cleated"),
		set("length", "60 in"),
		set("width", "20 in"),
		set("soil", "10 in"),
		set("ties", "1"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			62*in + in/4: 4,
		}, frame.EndBoard: {21 * in: 4}, frame.Cleat: {11 * in: 10}, frame.Tie: {21 * in: 1}, frame.TieCleat: {11 * in: 2},
		frame.CapBoard: {63*in + in/4: 2, 20 * in: 2}})
	wantJoints(
		t,
		f,
		map[frame.JointKind]int{
			frame.FaceToFace: 20 + 2*2,
			frame.TieToCleat: 2,
			frame.FaceToPost: 8,
			frame.CapToWall:  4,
		},
	)
	wantSoil(t, f, 61*21*10-10*1.5*1.6875*10-1.5*3.5*21-2*1.5*3.5*10)
	for _, p := range f.Parts {
		if p.Kind == frame.Cleat && p.Width != in*27/16 || p.Kind == frame.CapBoard && p.Width != in*13/8 {
			t.Errorf("%s is ripped to %v", p.ID, p.Width)
		}
	}
}
