package timber

import (
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A tiered box by hand: 40 in long, a lower strip of 14 in and an upper one of
// 12 in, 1x6 boards (3/4 x 5 1/2), a mitred 2x4 cap flush outside, so 2 3/4 in
// inwards. 8 + 1 and 6 + 1 in take two boards each: rims at 11 and 22 in.
// Inside 45 1/2 long, outside 47. The upper tier is 12 + 5 1/2 + 1 1/2 = 19 in
// wide; the lower one 3/4 + 2 3/4 + 14 + 19 = 36 1/2. Ends between the sides:
// 35 and 17 1/2. Corner posts of 2x2: four of 11 in below, above two of 11 in
// behind and two of 22 in that run down to the ground in front. Straps of 11 in:
// two at the back, one at each end. Caps: upper 47 and 19 in to the long points,
// lower 47 in front and 17 1/2 in up to the upper tier's face.
//
// Soil: the strip 45 1/2 x 16 3/4 x 8; under the upper tier 45 1/2 x 18 1/4 x
// 11; in it 45 1/2 x 17 1/2 x 6; less posts and straps (5 1/2 x 3/4, half of
// each below and half above).
func TestTieredByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "tiered"),
		set("board", "1x6"),
		set("length", "40 in"),
		set("width", "14 in"),
		set("soil", "8 in"),
		set(
			"upper_width",
			"12 in",
		),
		set("upper_soil", "6 in"),
		set("ties", "0"),
		set("cap", "mitred"),
		set("cap_out", "0"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			47 * in: 8,
		}, frame.EndBoard: {35 * in: 4, 17*in + in/2: 4}, frame.CornerPost: {11 * in: 6, 22 * in: 2},
		frame.Strap:    {11 * in: 4},
		frame.CapBoard: {47 * in: 3, 19 * in: 2, 17*in + in/2: 2}})
	if f.Rim != 22*in || f.Outside[1] != (frame.Spot{U: 47 * in, V: 36*in + in/2}) {
		t.Errorf("rim %v, outside %v", f.Rim, f.Outside[1])
	}
	post := 1.5 * 1.5
	wantSoil(t, f, 45.5*16.75*8-2*post*8+
		45.5*18.25*11-4*post*11-4*5.5*0.75*5.5+
		45.5*17.5*6-4*post*6-4*5.5*0.75*5.5)
	// Boards to posts: 4 posts x 4 boards on either tier, and two end boards of
	// the lower one on each of the two long posts. Straps: the lower one's top
	// board and the upper one's lowest. A rail to each of 7 walls' edges.
	wantJoints(t, f, map[frame.JointKind]int{frame.FaceToPost: 36, frame.FaceToFace: 8, frame.CapToWall: 7})
}

// Each tier's clear opening, measured between the caps as they lie, is what was
// asked for: every pair of rails across from one another, at mid length, on the
// outside of the builder.
func TestTieredOpeningsBetweenCaps(t *testing.T) {
	for _, tiers := range []string{"2", "3"} {
		f, bed := build(
			t,
			"metric",
			set("system", "tiered"),
			set("tiers", tiers),
			set("cap", "mitred"),
			set("cap_profile", "100x38"),
			set("cap_out", "20 mm"),
			set("upper_width", "380"),
		)
		if want := map[string]int{"2": 2, "3": 3}[tiers]; len(f.Openings) != want {
			t.Fatalf("%d openings", len(f.Openings))
		}
		for _, o := range f.Openings {
			// From the middle of the opening outwards, the first thing met in each
			// direction that covers it from above.
			mid := frame.Spot{U: (o.Lo.U + o.Hi.U) / 2, V: (o.Lo.V + o.Hi.V) / 2}
			left, right, near, far := -measure.MaxLength, measure.MaxLength, -measure.MaxLength, measure.MaxLength
			for _, p := range f.Parts {
				if p.Kind != frame.CapBoard && p.Course == 0 {
					continue
				}
				lo, hi := p.Body.Bounds()
				if lo.Y < mid.V && hi.Y > mid.V {
					if hi.X <= mid.U {
						left = max(left, innerEdge(p, frame.X, true))
					} else if lo.X >= mid.U {
						right = min(right, innerEdge(p, frame.X, false))
					}
				}
				if lo.X < mid.U && hi.X > mid.U {
					if hi.Y <= mid.V {
						near = max(near, hi.Y)
					} else if lo.Y >= mid.V {
						far = min(far, lo.Y)
					}
				}
			}
			wide := bed.OptionLength("upper_width")
			if o.Name == "lower tier" {
				wide = bed.Width
			}
			if right-left != bed.Length || far-near != wide {
				t.Errorf(
					"%s tiers, %s: %v by %v between the caps, asked %v by %v",
					tiers,
					o.Name,
					right-left,
					far-near,
					bed.Length,
					wide,
				)
			}
		}
	}
}

// innerEdge is a rail's edge towards the opening.
func innerEdge(p frame.Part, axis frame.Axis, leftOf bool) measure.Length {
	lo, hi := p.Body.Bounds()
	if leftOf {
		return hi.Along(axis)
	}
	return lo.Along(axis)
}
