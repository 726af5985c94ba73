package timber

import (
	"math"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A sleeper bed by hand: 2000 x 900 mm clear, 100 mm sleepers 200 high, walls
// of 600: three courses. Sides 2200, ends between them 900. Six posts of 75 x
// 75, 400 in the ground and 25 below the rim: 975. The floor lies 25 + 300 mm
// below the rim, at 275: rails of 100 x 38, 2000 long, on the posts' inner
// faces. Posts stand at 100, 1062.5 and 2025: two bays of 887.5 for slats of
// 150 with at least 6 between: 5 whole ones, and of the 137.5 left one of 137.5
// - 7 x 6 = 95.5; beside each pair of posts one of 75, from post to post.
func TestSleeperByHand(t *testing.T) {
	mm := measure.Millimetre
	f, _ := build(
		t,
		"metric",
		set("system", "sleeper"),
		set("length", "2000"),
		set("width", "900"),
		set("soil", "300"),
		set("mid_posts", "1"),
		set("post", "75x75"),
		set("height", "600"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			2200 * mm: 6,
		}, frame.EndBoard: {900 * mm: 6}, frame.CornerPost: {975 * mm: 4}, frame.MidPost: {975 * mm: 2},
		frame.Ledger: {2000 * mm: 2},
		frame.Slat:   {900 * mm: 12, 750 * mm: 3}})
	widths := map[measure.Length]int{}
	for _, p := range f.Parts {
		if p.Kind == frame.Slat {
			widths[p.Width]++
		}
	}
	if widths[150*mm] != 10 || widths[95*mm+mm/2] != 2 || widths[75*mm] != 3 {
		t.Errorf("slats by width %v", widths)
	}
	// From behind: a corner post meets a side and an end, a mid post a side, three
	// sleepers each. Rails on six posts, with a block under each. 15 slats on two rails.
	wantJoints(t, f, map[frame.JointKind]int{frame.BehindPost: 4*6 + 2*3, frame.CarryToPost: 12, frame.SlatLedger: 30})
	want := 2.0*0.9*0.3 - 6*0.075*0.075*0.3
	if got := f.Cavities[0].Net().CubicMetres(); math.Abs(got-want) > 1e-9 {
		t.Errorf("soil %.6f m3, want %.6f", got, want)
	}
	// Every sleeper is fixed through the post: no screw from outside.
	for _, j := range f.Joints {
		if a, _ := f.Part(j.Parts[0]); j.Kind == frame.BehindPost && a.Course != 0 {
			t.Errorf("%s goes in through the sleeper", j.ID)
		}
	}
}

// Two heights by hand: of 2000 mm, 700 at the low end, two courses to three.
// High 1300 from 100, the wall between from 1400 to 1500, low to 2200, outside
// 2300. Two courses of 2300 and one of 100 + 1300 + 100 = 1500 on either side;
// ends and the wall between are 900: three, two and three of them. Eight posts.
func TestSleeperTwoHeightsByHand(t *testing.T) {
	mm := measure.Millimetre
	f, _ := build(
		t,
		"metric",
		set("system", "sleeper"),
		set("length", "2000"),
		set("width", "900"),
		set("soil", "300"),
		set("mid_posts", "0"),
		set("inner_floor", "no"),
		set("low_length", "700"),
		set("low_height", "400"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			2300 * mm: 4,
			1500 * mm: 2,
		}, frame.EndBoard: {900 * mm: 8}, frame.CornerPost: {975 * mm: 4, 775 * mm: 4}})
	if len(f.Openings) != 2 || f.Openings[0].Hi.U-f.Openings[0].Lo.U != 1300*mm ||
		f.Openings[1].Hi.U-f.Openings[1].Lo.U != 700*mm {
		t.Errorf("openings %v", f.Openings)
	}
	if f.Cavities[0].Rim != 600*mm || f.Cavities[1].Rim != 400*mm {
		t.Errorf("rims %v and %v", f.Cavities[0].Rim, f.Cavities[1].Rim)
	}
}
