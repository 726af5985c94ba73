package timber

import (
	"math"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
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
	f, _ := build(
		t,
		"us",
		set("system", "legged"),
		set("board", "1x6"),
		set("length", "48 in"),
		set("width", "24 in"),
		set("soil", "8 in"),
		set("beams", "1"),
	)
	for id, want := range map[string]measure.Length{"b1.leg.1": 34 * in, "b1.ledger.back": 41 * in,
		"b1.ledger.right": 17 * in, "b1.beam.1": 45 * in,
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
	if _, err = design.Apply(d, c, design.Edit{Bed: "b1", Field: "height", Value: "12 in"}); err == nil ||
		!strings.Contains(err.Error(), "on the ground") {
		t.Errorf("legs of 12 in: %v", err)
	}
}

// The same planter with a floor of plywood, 23/32 in: three sheets instead of nine
// slats, the end ones between the legs 3 1/2 x 17, the one between 41 less two
// gaps of 1/4 wide. It lies on four ledgers and the beam, three of them under the
// middle sheet: screws every 6 in are 40 1/2 / 6, 7 and one more on each.
func TestSheetFloorByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "legged"),
		set("board", "1x6"),
		set("length", "48 in"),
		set("width", "24 in"),
		set("soil", "8 in"),
		set("beams", "1"),
		set("floor_of", "sheet"),
	)
	var got [][2]measure.Length
	for _, p := range f.Parts {
		if p.Kind == frame.FloorSheet {
			got = append(got, [2]measure.Length{p.Length, p.Width})
			if p.Profile != "ply34" || p.Species != "ply" || p.Thickness != in*23/32 {
				t.Errorf("%+v", p)
			}
		}
	}
	if want := [][2]measure.Length{{17 * in, in * 7 / 2}, {24 * in, in * 81 / 2}, {17 * in, in * 7 / 2}}; !slices.Equal(
		got,
		want,
	) {
		t.Errorf("sheets %v, want %v", got, want)
	}
	joints := 0
	for _, j := range f.Joints {
		if j.Kind == frame.SheetDown && j.Run == in*81/2 {
			joints++
		}
	}
	if joints != 3 {
		t.Errorf("the middle sheet lies on %d, want 3", joints)
	}
}

// Legs in the wall by hand: 40 x 20 in clear in 1x6, 4x4 legs, no cap: outside
// 41 1/2 x 21 1/2; boards between the legs 34 1/2 and 14 1/2, each end in a
// pocket joint. The legs stand 2 3/4 in inside the walls: ledgers 34 1/2 and 14
// 1/2 too. 8 in of soil: three courses.
func TestLegsInWallByHand(t *testing.T) {
	f, _ := build(
		t,
		"us",
		set("system", "legged"),
		set("board", "1x6"),
		set("length", "40 in"),
		set("width", "20 in"),
		set("soil", "8 in"),
		set("legs", "wall"),
		set("beams", "0"),
	)
	wantCounts(t, f, map[frame.PartKind]map[measure.Length]int{
		frame.SideBoard: {
			34*in + in/2: 6,
		}, frame.EndBoard: {14*in + in/2: 6}, frame.Leg: {34 * in: 4}, frame.Ledger: {34*in + in/2: 2, 14*in + in/2: 2}})
	pockets := 0
	for _, j := range f.Joints {
		if j.Kind == frame.PocketEnd {
			pockets++
		}
	}
	if pockets != 24 {
		t.Errorf("%d pocket joints, want 4 legs x 2 boards x 3 courses", pockets)
	}
}

// A V floor against plain geometry, with the builder left out: 48 x 20 in, rising
// 4 in over 10 in. Every slat lies in one of two planes of that slope, its lower
// face on both bearers' upper edges; slats of one plane are apart by the gap at
// least; the soil's section is 20 x 10 less the triangles under the planes, and
// cut into thin columns it comes to the same.
func TestVFloorGeometry(t *testing.T) {
	f, bed := build(
		t,
		"us",
		set("system", "legged"),
		set("board", "1x6"),
		set("legs", "outside"),
		set("floor", "v"),
		set("floor_rise", "4 in"),
		set("length", "48 in"),
		set("width", "20 in"),
		set("soil", "10 in"),
	)
	slope := 4.0 / 10
	mid := (bed.Width/2 + in*3/4).Inches()
	type line struct{ y0, y1, z0, z1 float64 }
	var tops []line // of slats, for the soil's columns
	planes := map[bool][]frame.Part{}
	for _, p := range f.Parts {
		if p.Kind != frame.Slat {
			continue
		}
		lo, hi := p.Body.Bounds()
		front := (lo.Y+hi.Y).Inches()/2 < mid
		planes[front] = append(planes[front], p)
		o := p.Body.Outline
		flat := 0
		for i, a := range o {
			b := o[(i+1)%len(o)]
			dy, dz := (b.U - a.U).Inches(), (b.V - a.V).Inches()
			if math.Abs(math.Abs(dz/dy)-slope) < 1e-6 && math.Abs(math.Hypot(dy, dz)-p.Width.Inches()) < 1e-6 {
				flat++
				if dz/dy < 0 != front {
					t.Errorf("%s slopes up to the middle", p.ID)
				}
				tops = append(tops, line{a.U.Inches(), b.U.Inches(), a.V.Inches(), b.V.Inches()})
			}
		}
		if flat != 2 {
			t.Errorf("%s has %d faces in the plane", p.ID, flat)
		}
		on := 0
		for _, q := range f.Parts {
			if q.Kind == frame.Ledger && touch(p.Body, q.Body) && !frame.Overlap(p.Body, q.Body) {
				on++
			}
		}
		if on != 2 {
			t.Errorf("%s lies on %d bearers", p.ID, on)
		}
	}
	if len(planes[true]) != len(planes[false]) || len(planes[true]) < 2 {
		t.Fatalf("%d slats in front, %d behind", len(planes[true]), len(planes[false]))
	}
	for _, list := range planes {
		for i, a := range list {
			for _, b := range list[:i] {
				ca, cb := a.Body.Corners()[0], b.Body.Corners()[0]
				step := math.Hypot((ca.Y - cb.Y).Inches(), (ca.Z - cb.Z).Inches())
				if wide := a.Width.Inches(); step < wide+0.25-1e-6 && step > 1e-9 {
					t.Errorf("%s and %s are %.3f in apart", a.ID, b.ID, step-wide)
				}
			}
		}
	}
	// The slats' upper faces lie under the soil's bottom everywhere.
	c := f.Cavities[0]
	bottom := func(y float64) float64 {
		return c.Bottom.Inches() - slope*math.Min(y-0.75, 20.75-y)
	}
	for _, l := range tops {
		for _, q := range [][2]float64{{l.y0, l.z0}, {l.y1, l.z1}} {
			if q[1] > bottom(q[0])+1e-6 {
				t.Errorf("a slat stands %.4f in into the soil", q[1]-bottom(q[0]))
			}
		}
	}
	section := 0.0
	const columns = 4000
	for k := range columns {
		section += (c.Top.Inches() - bottom(0.75+20*(float64(k)+0.5)/columns)) * 20 / columns
	}
	if want := 20.0*10 - 20*4/2.0; math.Abs(section-want) > 1e-3 {
		t.Errorf("the soil's section is %.4f in2, want %.4f", section, want)
	}
	wantSoil(t, f, section*48)
	if c.Depth() != 10*in {
		t.Errorf("%v deep", c.Depth())
	}
}

// By hand: pickets of 5 1/2 in as slats across 48 in; every slat is one, and lies on both ledgers.
func TestSlatsOfPickets(t *testing.T) {
	f, _ := build(t, "us", set("system", "legged"), set("length", "48 in"), set("width", "24 in"), set("soil", "9 in"),
		set("floor_of", "picket"))
	n := 0
	for _, p := range f.Parts {
		if p.Kind != frame.Slat {
			continue
		}
		if n++; p.Profile != "picket" || p.Eared {
			t.Errorf("%s is of %s, eared %v", p.ID, p.Profile, p.Eared)
		}
		on := 0
		for _, j := range f.Joints {
			if j.Kind == frame.SlatLedger && j.Parts[0] == p.ID {
				on++
			}
		}
		if on < 2 {
			t.Errorf("%s lies on %d", p.ID, on)
		}
	}
	if n != 9 { // two ripped to 3 1/2 in beside the legs; 41 in between take seven and gaps of 1/4 in
		t.Errorf("%d slats", n)
	}
}
