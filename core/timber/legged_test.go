package timber

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// A planter on legs by hand: 48 x 24 in clear in 1x6 (3/4 x 5 1/2), 4x4 legs,
// 8 in of soil and 1 in above it, rim at 34 in, one beam. The floor lies on 2x4
// on edge: 3 1/2 + 3/4 + 8 + 1 = 13 1/4 in of wall, three courses, 16 1/2 in:
// the boards start 17 1/2 in up. Legs 34 in. Ledgers between legs of 3 1/2 in:
// 41 and 17 in. The beam between the end ledgers: 48 - 2 x 1 1/2 = 45 in.
// Floor: end slats ripped to 3 1/2, 17 in long; between them 41 in for whole
// slats: (41 - 1/4) / 5 3/4 = 7, leaving 2 1/2 in for 8 gaps of 5/16.
func TestLeggedByHand(t *testing.T) {
	f, _ := build(t, "us", set("system", "legged"), set("board", "1x6"), set("length", "48 in"), set("width", "24 in"), set("soil", "8 in"), set("beams", "1"))
	for id, want := range map[string]measure.Length{"b1.leg.1": 34 * in, "b1.ledger.back": 41 * in, "b1.ledger.right": 17 * in, "b1.beam.1": 45 * in,
		"b1.slat.1": 17 * in, "b1.slat.2": 24 * in, "b1.slat.9": 17 * in} {
		if got := length(t, f, id); got != want {
			t.Errorf("%s is %v, want %v", id, got, want)
		}
	}
	board, _ := f.Part("b1.front.1")
	lo, _ := board.Body.Bounds()
	if lo.Z != 17*in+in/2 || f.Rim != 34*in || f.Courses() != 3 {
		t.Errorf("boards from %v, rim %v, %d courses", lo.Z, f.Rim, f.Courses())
	}
	a, _ := f.Part("b1.slat.2")
	b, _ := f.Part("b1.slat.3")
	la, ha := a.Body.Bounds()
	lb, _ := b.Body.Bounds()
	if gap := lb.X - ha.X; ha.X-la.X != in*11/2 || gap != in*5/16 {
		t.Errorf("slats %v wide, %v apart", ha.X-la.X, gap)
	}
	want := (48*24*8 - 4*3.5*3.5*8) / 1728.0
	if got := f.Cavities[0].Net().CubicFeet(); math.Abs(got-want) > 1e-6 {
		t.Errorf("soil %.6f ft3, want %.6f", got, want)
	}
	// A leg shorter than its floor is refused, with the height that works.
	c, _ := catalog.ForRegion("us")
	d, err := design.Apply(design.New(c, "b"), c, design.Edit{Bed: "b1", Field: "system", Value: "legged"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err = design.Apply(d, c, design.Edit{Bed: "b1", Field: "height", Value: "12 in"}); err == nil || !strings.Contains(err.Error(), "on the ground") {
		t.Errorf("legs of 12 in: %v", err)
	}
}
