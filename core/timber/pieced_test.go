package timber

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A pieced frame by hand: 96 x 48 in clear of 2x8, two courses, no cap, pieces
// of 40 in at most and the front in one length. Sides are 99 in: two in front,
// and behind three pieces a course (99 = 2 x 40 + 19), so two joints in each of
// two courses. Ends are 48 in: two pieces, one joint, in two courses at both
// ends. Eight joints, a plate on both faces of each: 16.
func TestPiecedByHand(t *testing.T) {
	f, _ := build(t, "us", set("system", "pieced"), set("longest_piece", "40 in"), set("mid_posts", "1"))
	whole, pieces := 0, map[frame.PartKind]int{}
	for _, p := range f.Parts {
		switch {
		case p.Course > 0 && p.Length == 99*in:
			whole++
		case p.Course > 0:
			pieces[p.Kind]++
		}
	}
	if whole != 2 || pieces[frame.SideBoard] != 6 || pieces[frame.EndBoard] != 8 {
		t.Errorf("%d whole sides, pieces %v", whole, pieces)
	}
	splices := 0
	for _, j := range f.Joints {
		if j.Kind == frame.Splice {
			splices++
		}
	}
	if splices != 8 || len(f.Fittings) != 1 || f.Fittings[0].Count != 16 {
		t.Errorf("%d splices, fittings %v", splices, f.Fittings)
	}
}

// Joints keep clear of posts and of the joints above and below them, and the
// pieces of a course make up its length, on random beds.
func TestJointsKeepClear(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	joints := 0
	for i := range 60 {
		c := catalog.Regions()[i%2]
		d := design.New(c, "pieced")
		for _, e := range []design.Edit{{Field: "system", Value: "pieced"}, {Field: "length",
			Value: (measure.Length(1200+r.IntN(3000)) * measure.Millimetre).String()},
			{Field: "longest_piece", Value: (measure.Length(600+r.IntN(1200)) * measure.Millimetre).String()},
			{Field: "pieced_sides", Value: "all"}} {
			e.Bed = "b1"
			if next, err := design.Apply(d, c, e); err == nil {
				d = next
			}
		}
		f, err := builder.Build(d.Beds[0], c)
		if err != nil {
			t.Fatal(err)
		}
		var at []frame.Joint
		for _, j := range f.Joints {
			if j.Kind == frame.Splice {
				at = append(at, j)
			}
		}
		joints += len(at)
		for k, j := range at {
			for _, p := range f.Parts {
				lo, hi := p.Body.Bounds()
				if p.Course > 0 && p.Length > max(d.Beds[0].OptionLength("longest_piece"), f.Outside[1].V) &&
					len(at) > 0 &&
					p.Length > d.Beds[0].OptionLength("longest_piece") {
					t.Fatalf("%s is %v, the longest piece %v", p.ID, p.Length, d.Beds[0].OptionLength("longest_piece"))
				}
				if p.Grain != frame.Z || p.Course > 0 {
					continue
				}
				// A post that stands against this wall.
				one, _ := f.Part(j.Parts[0])
				a, e := one.Body.Bounds()
				along, across := frame.X, frame.Y
				if one.Grain == frame.Y {
					along, across = frame.Y, frame.X
				}
				if lo.Along(across) > e.Along(across) || hi.Along(across) < a.Along(across) {
					continue
				}
				if x := j.At.Along(along); x > lo.Along(along)-100*measure.Millimetre &&
					x < hi.Along(along)+100*measure.Millimetre {
					t.Fatalf("the joint %s lies %v from a post", j.ID, x-lo.Along(along))
				}
			}
			for _, o := range at[:k] {
				dz := max(j.At.Z-o.At.Z, o.At.Z-j.At.Z)
				near := max(j.At.X-o.At.X, o.At.X-j.At.X)+max(j.At.Y-o.At.Y, o.At.Y-j.At.Y) < 299*measure.Millimetre
				if near && dz > 0 && dz < 3*f.Parts[0].Width/2 {
					t.Fatalf("%s lies over %s", j.ID, o.ID)
				}
			}
		}
	}
	if joints < 100 {
		t.Errorf("only %d joints were looked at", joints)
	}
}
