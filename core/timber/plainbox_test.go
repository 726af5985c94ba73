package timber

import (
	"math"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A plain box by hand: 120 x 36 in clear in 2x12, no cap, 9 in of soil. Long
// sides 123 in, ends 36; over 8 ft, so at least one tie of 2x4, 36 in long.
// Four corners are fixed, and a cleat at both ends of each tie. Bolts go through 1 1/2 in:
// 3 1/2 wanted, 4 in sold; 11 1/4 in (286 mm) of board take three. Soil:
// 120 x 36 x 9 in less the tie's 1 1/2 x 3 1/2 x 36 in, and a cleat of 2x4 at either end
// of it, which is screwed to the tie and to the side.
func TestPlainBoxByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("length", "120 in"),
		set("width", "36 in"),
		set("soil", "9 in"),
		set("system", "plain-box"),
		set("board", "2x12"),
		set("ties", "1"),
	)
	if length(t, f, "b1.front.1") != 123*in || length(t, f, "b1.left.1") != 36*in || length(t, f, "b1.tie.1") != 36*in {
		t.Errorf(
			"sides %v, ends %v, tie %v",
			length(t, f, "b1.front.1"),
			length(t, f, "b1.left.1"),
			length(t, f, "b1.tie.1"),
		)
	}
	kinds := map[frame.JointKind]int{}
	for _, j := range f.Joints {
		kinds[j.Kind]++
	}
	if len(f.Parts) != 7 || kinds[frame.BoltToEnd] != 4 || kinds[frame.FaceToFace] != 2 ||
		kinds[frame.TieToCleat] != 2 {
		t.Errorf("%d parts, joints %v", len(f.Parts), kinds)
	}
	want := (120*36*9 - 1.5*3.5*36 - 2*1.5*3.5*9) / 1728
	if got := f.Cavities[0].Net().CubicFeet(); math.Abs(got-want) > 1e-6 {
		t.Errorf("soil %.6f ft3, want %.6f", got, want)
	}
	us, _ := catalog.ForRegion("us")
	count := map[string]int{}
	f.Times = 1
	for _, n := range fixing.Choose([]frame.Frame{f}, us, catalog.Habits{}).Needs {
		count[n.Fixing.Name] = n.Count
	}
	if count["5/16 × 4 in hex lag bolt, galvanized"] != 12 || count["5/16 in washer, galvanized"] != 12 ||
		count["#9 × 3 in deck screw, coated"] != 6 ||
		count["#9 × 2 1/2 in deck screw, coated"] != 10 {
		t.Errorf("%v", count)
	}
}

// Changing to a plain box keeps the sizes asked for, takes a board wide enough
// for the soil where there is one, and says so where one board will not do.
func TestBecomingPlainBox(t *testing.T) {
	for _, c := range catalog.Regions() {
		d, err := design.Apply(design.New(c, "b"), c, design.Edit{Bed: "b1", Field: "system", Value: "plain-box"})
		if err != nil {
			t.Fatalf("%s: %v", c.ID, err)
		}
		b := d.Beds[0]
		board, _ := c.Profile(b.Board)
		if coursesFor(b.Soil+b.Freeboard, board) != 1 || board.Thickness < 38*measure.Millimetre ||
			b.Length != design.New(c, "b").Beds[0].Length {
			t.Errorf("%s: %s holds %v", c.ID, b.Board, b.Soil)
		}
		_, err = design.Apply(d, c, design.Edit{Bed: "b1", Field: "soil", Value: "500 mm"})
		if err == nil || !strings.Contains(err.Error(), "one board high") {
			t.Errorf("%s: 500 mm of soil: %v", c.ID, err)
		}
		back, err := design.Apply(d, c, design.Edit{Bed: "b1", Field: "system", Value: "boarded"})
		if err != nil || len(back.Beds[0].Options) != len(heightFields) {
			t.Errorf("%s: back to boards: %v, %v", c.ID, back.Beds[0].Options, err)
		}
	}
}

// Angle brackets by hand: two to each of 4 corners, 8, with 8 screws a corner, 32, as long
// as 1 1/2 in boards take; the tie's 4 are another screw.
func TestPlainBoxOnBrackets(t *testing.T) {
	f, _ := build(t, "us", set("system", "plain-box"), set("fixed_by", "brackets"))
	f.Times = 1
	us, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	p := fixing.Choose([]frame.Frame{f}, us, catalog.Habits{})
	got := map[string]int{}
	for _, n := range p.Needs {
		got[n.Fixing.ID] = n.Count
	}
	if got["deck-8-1-1_4"] != 32 || got["lag-5_16-4"] != 0 || len(p.Missing) != 0 {
		t.Errorf("%v, missing %v", got, p.Missing)
	}
	if r := p.Ready; len(r) != 1 || r[0].Count != 8 {
		t.Errorf("%+v", r)
	}
}

// Glue by hand: a plain box of 2x12, 8 x 4 ft, 10 1/4 in of soil. Four corners of 11 1/4 by
// 1 1/2 in, 67.5 sq in, and the two cleats of one tie of 2x4, 3 1/2 by 11 1/4 to a side and 1
// 1/2 by 3 1/2 to the tie, 89.25: of a bottle of 2.3 m2 (3565 sq in) 44 thousandths. A boarded
// frame, 2 courses of 2x8: 20 places of 7 1/4 by 3 1/2, the upper course
// an inch less where posts end below the rim: 4 corner posts of 2 boards and 2 mid posts,
// 10 x (7 1/4 + 6 1/4) x 3 1/2 = 472.5 sq in, 133 thousandths; bottles are bought for all beds
// together.
func TestGlueByHand(t *testing.T) {
	for system, want := range map[string]struct {
		words string
		milli int
	}{"plain-box": {"1.1 sq ft", 44}, "boarded": {"3.3 sq ft", 133}} {
		words := want.words
		f, _ := build(t, "us", set("system", system), set("glue", "pva"))
		i := slices.IndexFunc(f.Fittings, func(x frame.Fitting) bool { return x.Kind == "glue" })
		if i < 0 || f.Fittings[i].Milli != want.milli || !strings.HasPrefix(f.Fittings[i].Why, words) {
			t.Errorf("%s: %+v, want %s", system, f.Fittings, words)
		}
		if !strings.Contains(f.Acts[0].Note, "Spread glue") {
			t.Errorf("%s: no word of glue in %q", system, f.Acts[0].Note)
		}
	}
}
