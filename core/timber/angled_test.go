package timber

import (
	"math"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// An L of two arms of 24 in, 96 by 72 in over all, worked by hand. 2x8 are 1 1/2 by 7 1/4 in;
// the cap of 2x4 stands 2 in inwards, so that the wall's inner faces are 100 by 76 in and its
// arms 28 in. Every board covers the next at an outer corner (1 1/2 in more); at the inner
// corner the left arm's stops (48 in) and the back arm's begins 1 1/2 in later and covers the
// end: 72 in.
func TestAngledByHand(t *testing.T) {
	cat := catalog.Regions()[0]
	d, err := design.ExampleNamed("angled", cat)
	if err != nil {
		t.Fatal(err)
	}
	f, err := builder.Build(d.Beds[0], cat)
	if err != nil {
		t.Fatal(err)
	}
	for id, want := range map[string]string{"b1.left-end.1": "29 1/2 in", "b1.left-inner.1": "48 in",
		"b1.back-inner.2": "72 in", "b1.right.1": "29 1/2 in", "b1.back.1": "101 1/2 in", "b1.left.2": "77 1/2 in",
		// From long point to long point: over all, and at the inner corner as far as the cap reaches inwards.
		"b1.cap.back": "103 in", "b1.cap.left": "79 in", "b1.cap.left-end": "31 in", "b1.cap.left-inner": "51 1/2 in",
		"b1.cap.back-inner": "75 1/2 in"} {
		p, ok := f.Part(id)
		if l, _ := measure.Parse(want, measure.Imperial); !ok || p.Length != l {
			t.Errorf("%s is %v, by hand %s", id, p.Length, want)
		}
	}
	if got, want := f.PlantingArea(), measure.Over(96*in, 24*in)+measure.Over(24*in, 48*in); got != want {
		t.Errorf("%d to plant in, by hand %d", got, want)
	}
	posts := measure.Over(7*in/2, 7*in/2).By(12 * in)
	want := (measure.Over(100*in, 28*in) + measure.Over(28*in, 48*in)).By(12*in) - 7*posts // 5 corners, 2 between
	if got := f.Cavities[0].Net(); got != want {
		t.Errorf("%v of soil, by hand %v", got.CubicMetres(), want.CubicMetres())
	}
	if got, want := f.Footprint(), measure.Over(103*in, 31*in)+measure.Over(31*in, 48*in); got != want {
		t.Errorf("it covers %d, by hand %d", got, want)
	}
}

// Where arms meet the furthest plant is the middle of the circle that touches the outer walls
// and the inner corners; from within the angle, the outer corner. Found here by trying every
// 1/2 in of the outline.
func TestAngledReach(t *testing.T) {
	cat := catalog.Regions()[0]
	for shape, inner := range map[string]int{"l": 1, "u": 2, "t": 2} {
		for _, access := range []design.Access{design.BothSides, design.OneSide} {
			d, err := design.ExampleNamed("angled", cat)
			if err == nil {
				d, err = design.Apply(d, cat, design.Edit{Bed: "b1", Field: "shape", Value: shape},
					design.Edit{Bed: "b1", Field: "access", Value: string(access)})
			}
			if err != nil {
				t.Fatal(err)
			}
			f, err := builder.Build(d.Beds[0], cat)
			if err != nil {
				t.Fatal(err)
			}
			outline := f.Openings[0].Round
			turns, far := 0, 0.0
			for i, c := range outline {
				a, b := outline[(i+len(outline)-1)%len(outline)], outline[(i+1)%len(outline)]
				if cross(a, c, b) < 0 {
					turns++
				}
			}
			lo, hi := f.Openings[0].Lo, f.Openings[0].Hi
			for u := lo.U; u <= hi.U; u += in / 2 {
				for v := lo.V; v <= hi.V; v += in / 2 {
					if !inside(outline, u, v) {
						continue
					}
					near := math.Inf(1)
					for i, a := range outline {
						b := outline[(i+1)%len(outline)]
						if access == design.OneSide && (a.V == hi.V && b.V == hi.V || shape != "t" &&
							(a.U == b.U && (a.U == lo.U || shape == "u" && a.U == hi.U))) {
							continue // nobody stands behind it
						}
						if access == design.OneSide && (a.U == hi.U && b.U == hi.U || a.U == lo.U && b.U == lo.U) {
							continue
						}
						if access == design.OneSide && shape != "t" && a.V == lo.V && b.V == lo.V {
							continue
						}
						near = min(near, distance(a, b, u, v))
					}
					far = max(far, near)
				}
			}
			if got := f.Deepest.Metres(); turns != inner || math.Abs(got-far) > 0.02 {
				t.Errorf("%s, %s: %d inner corners, the furthest plant %.3f m; by trying %.3f", shape, access, turns, got, far)
			}
			outside := 0
			for _, p := range f.Parts {
				if v, ok := f.Cavities[0].Takes(p.Body, 0, f.Cavities[0].Top); p.Kind == frame.CornerPost && (!ok || v == 0) {
					outside++
				}
			}
			if outside != inner {
				t.Errorf("%s: %d posts outside", shape, outside)
			}
		}
	}
}

func cross(a, b, c frame.Spot) measure.Area {
	return measure.Over(b.U-a.U, c.V-b.V) - measure.Over(b.V-a.V, c.U-b.U)
}

// inside reports whether a place is inside an outline: a ray to the right crosses it oddly.
func inside(o []frame.Spot, u, v measure.Length) bool {
	odd := false
	for i, a := range o {
		b := o[(i+1)%len(o)]
		if (a.V > v) != (b.V > v) && a.U > u {
			odd = !odd
		}
	}
	return odd
}

func distance(a, b frame.Spot, u, v measure.Length) float64 {
	x, y := min(max(u, min(a.U, b.U)), max(a.U, b.U)), min(max(v, min(a.V, b.V)), max(a.V, b.V))
	return measure.Hypot(u-x, v-y).Metres()
}
