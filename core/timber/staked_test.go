package timber

import (
	"math"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A staked frame by hand: 72 x 36 in clear in 1x6 (3/4 x 5 1/2), 9 in of soil
// and 1 in above it: two courses, rim 11 in. Two stakes asked for on each long
// side and none at the ends: 4 + 4 stakes of 2x2, 12 in deep and 11 in of wall
// with 2 in for driving: cut 25 in. Outside 73 1/2 x 37 1/2. Joints: 4 corner
// stakes take 4 boards each, 4 others 2 each: 24. Soil: 72 x 36 x 9 in less
// eight stakes of 1 1/2 x 1 1/2 x 9 in, their points being in the ground.
func TestStakedByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "staked"),
		set("board", "1x6"),
		set("length", "72 in"),
		set("width", "36 in"),
		set("soil", "9 in"),
		set("stakes", "2"),
		set("end_stakes", "0"),
	)
	stakes := 0
	for _, p := range f.Parts {
		if p.Kind != frame.Stake {
			continue
		}
		stakes++
		if p.CutLength() != 25*in || p.Ends[0] != frame.Pointed || p.Profile != "2x2" {
			t.Errorf("%s: %v of %s", p.ID, p.CutLength(), p.Profile)
		}
	}
	if stakes != 8 || len(f.Joints) != 24 || f.Rim != 11*in || f.Outside[1].U != 73*in+in/2 ||
		length(t, f, "b1.right.2") != 36*in {
		t.Errorf("%d stakes, %d joints, rim %v, outside %v", stakes, len(f.Joints), f.Rim, f.Outside[1])
	}
	want := (72*36*9 - 8*1.5*1.5*9) / 1728.0
	if got := f.Cavities[0].Net().CubicFeet(); math.Abs(got-want) > 1e-6 {
		t.Errorf("soil %.6f ft3, want %.6f", got, want)
	}
	// Left to themselves, thin boards get a stake every 4 ft at least: 8 ft of
	// 3/4 in board under little soil still has one between.
	f, _ = build(t, "us", set("system", "staked"), set("board", "1x6"), set("soil", "4 in"))
	for _, w := range f.Walls {
		for i := 1; i < len(w.Supports); i++ {
			if gap := w.Supports[i] - w.Supports[i-1]; gap > 4*measure.Foot {
				t.Errorf("%s: %v between stakes", w.Name, gap)
			}
		}
	}
}

// By hand: stakes of 4x4 are 3 1/2 in square, pointed and driven like any other; four corners
// and one between on each long side of 8 ft are six.
func TestStakesOfPosts(t *testing.T) {
	f, _ := build(t, "us", set("system", "staked"), set("length", "96 in"), set("width", "48 in"), set("soil", "9 in"),
		set(stakeKey, "4x4"))
	n := 0
	for _, p := range f.Parts {
		if p.Kind != frame.Stake {
			continue
		}
		n++
		if p.Profile != "4x4" || p.Width != 7*in/2 || p.Ends[0] != frame.Pointed && p.Ends[1] != frame.Pointed {
			t.Errorf("%s is of %s, %v wide, ends %v", p.ID, p.Profile, p.Width, p.Ends)
		}
	}
	if n != 6 {
		t.Errorf("%d stakes", n)
	}
}
