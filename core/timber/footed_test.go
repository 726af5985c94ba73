package timber

import (
	"math"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A small planter by hand: 36 x 14 in clear in 5/8 x 5 1/2 in pickets, 7 1/2 in
// of soil and 1 in above it. The floor lies on 1 1/2 in ledgers: 1 1/2 + 5/8 +
// 7 1/2 + 1 = 10 5/8 in of wall, two pickets (11 in), on feet of 1 in: rim 12
// in, four legs of 12 in. Ledgers between legs of 1 1/2 in: 33 and 11 in.
//
// Floor: two end slats ripped to 1 1/2 in, 11 in long; between them 33 in for
// whole pickets of 5 1/2 with at least 1/4 in between: (33 - 1/4) / 5 3/4 = 5,
// leaving 33 - 27 1/2 = 5 1/2 in for 6 gaps of 11/12 in, more than twice what
// was asked: one more of 5 1/2 - 7/4 = 3 3/4 in, and 7 gaps of 1/4 in. Eight
// slats in all. Soil 36 x 14 x 7 1/2 less four legs of 1 1/2 x 1 1/2 x 7 1/2.
func TestFootedByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "footed"),
		set("length", "36 in"),
		set("width", "14 in"),
		set("soil", "7 1/2 in"),
	)
	slats, sum := map[measure.Length]int{}, measure.Length(0)
	for _, p := range f.Parts {
		if p.Kind == frame.Slat {
			slats[p.Width]++
			sum += p.Width
		}
	}
	if slats[in*3/2] != 2 || slats[in*11/2] != 5 || slats[in*15/4] != 1 || len(slats) != 3 {
		t.Errorf("slats by width %v", slats)
	}
	if gaps := 36*in - sum; gaps != 7*in/4 {
		t.Errorf("%v of gaps in all", gaps)
	}
	if f.Rim != 12*in || length(t, f, "b1.leg.3") != 12*in || length(t, f, "b1.ledger.front") != 33*in ||
		length(t, f, "b1.ledger.left") != 11*in {
		t.Errorf(
			"rim %v, leg %v, ledgers %v and %v",
			f.Rim,
			length(t, f, "b1.leg.3"),
			length(t, f, "b1.ledger.front"),
			length(t, f, "b1.ledger.left"),
		)
	}
	kinds := map[frame.JointKind]int{}
	for _, j := range f.Joints {
		kinds[j.Kind]++
	}
	// 4 legs x 4 boards; 4 ledgers; 6 slats on two ledgers and 2 on one; two straps
	// under each of the eight (the end ones are 11 in long, straps at a third of
	// the width pass under them).
	if kinds[frame.FaceToPost] != 8 || kinds[frame.CarryToPost] != 8 || kinds[frame.WallLedger] != 4 ||
		kinds[frame.SlatLedger] != 14 ||
		kinds[frame.FaceToFace] != 12 {
		t.Errorf("joints %v", kinds)
	}
	want := (36*14*7.5 - 4*1.5*1.5*7.5) / 1728
	if got := f.Cavities[0].Net().CubicFeet(); math.Abs(got-want) > 1e-6 || !f.OnFeet || len(f.Sheets) != 1 ||
		f.Sheets[0].Material != "fabric" {
		t.Errorf("soil %.6f ft3, want %.6f; on feet %v, %d sheets", got, want, f.OnFeet, len(f.Sheets))
	}
}
