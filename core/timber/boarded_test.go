package timber

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

const in = measure.Inch

func build(t *testing.T, region string, edits ...design.Edit) (frame.Frame, design.Bed) {
	t.Helper()
	c, err := catalog.ForRegion(region)
	if err != nil {
		t.Fatal(err)
	}
	for i := range edits {
		edits[i].Bed = "b1"
	}
	d, err := design.Apply(design.New(c, "a bed"), c, edits...)
	if err != nil {
		t.Fatal(err)
	}
	f, err := builder.Build(d.Beds[0], c)
	if err != nil {
		t.Fatal(err)
	}
	return f, d.Beds[0]
}

func set(field, value string) design.Edit { return design.Edit{Field: field, Value: value} }

func length(t *testing.T, f frame.Frame, id string) measure.Length {
	t.Helper()
	p, ok := f.Part(id)
	if !ok {
		t.Fatalf("no part %s", id)
	}
	return p.Length
}

// 48 in clear under a 3 1/2 in cap flush with the outer face of 1 1/2 in
// boards: the cap overhangs 2 in inwards, the walls stand 52 in apart, their
// outer width is 55 in and an end board between the sides is 52 in.
func TestCappedWidthWorkedByHand(t *testing.T) {
	f, _ := build(t, "us", set("width", "48 in"), set("board", "2x6"), set("cap", "mitred"), set("cap_profile", "2x4"))
	if got := f.Outside[1].V; got != 55*in {
		t.Errorf("outer width %v, want 55 in", got)
	}
	if got := length(t, f, "b1.left.1"); got != 52*in {
		t.Errorf("end board %v, want 52 in", got)
	}
}

// Lengths by hand for 96 x 48 in clear of 1 1/2 in boards, no cap: outside 99 x
// 51; the scheme decides which boards run through.
func TestCornerSchemesWorkedByHand(t *testing.T) {
	for scheme, want := range map[string][2]measure.Length{
		design.SidesCover: {99 * in, 48 * in},
		design.EndsCover:  {96 * in, 51 * in},
		design.Pinwheel:   {97*in + in/2, 49*in + in/2},
	} {
		f, _ := build(t, "us", set("corners", scheme))
		for _, id := range []string{"b1.front.1", "b1.back.2"} {
			if got := length(t, f, id); got != want[0] {
				t.Errorf("%s: %s is %v, want %v", scheme, id, got, want[0])
			}
		}
		for _, id := range []string{"b1.left.1", "b1.right.2"} {
			if got := length(t, f, id); got != want[1] {
				t.Errorf("%s: %s is %v, want %v", scheme, id, got, want[1])
			}
		}
	}
}

// 12 in of soil and 1 in above it take 13 in: two 2x8 (7 1/4 each, 14 1/2), or
// three 2x6 (5 1/2 each, 16 1/2). Posts stop 1 in below the rim; 10 mid posts
// asked for are 10 on each long side, 12 in deeper.
func TestCoursesAndPostsWorkedByHand(t *testing.T) {
	f, _ := build(t, "us")
	if f.Rim != 14*in+in/2 || length(t, f, "b1.post.back-left") != 13*in+in/2 ||
		length(t, f, "b1.mid.front.1") != 25*in+in/2 {
		t.Errorf("2x8: rim %v, corner post %v", f.Rim, length(t, f, "b1.post.back-left"))
	}
	f, _ = build(t, "us", set("board", "2x6"), set("post_in_ground", "4 in"), set("mid_posts", "10"))
	mids := 0
	for _, p := range f.Parts {
		if p.Kind == frame.MidPost {
			mids++
		}
	}
	if f.Rim != 16*in+in/2 || length(t, f, "b1.post.front-right") != 19*in+in/2 || mids != 20 {
		t.Errorf("2x6: rim %v, corner post %v, %d mid posts", f.Rim, length(t, f, "b1.post.front-right"), mids)
	}
	// Soil: 96 x 48 x 12 in less what stands in it: four 4x4 of 3 1/2 x 3 1/2 x
	// 12 in and two mid posts (auto) of the same.
	f, _ = build(t, "us")
	want := (96*48*12 - 6*3.5*3.5*12) / 1728
	if got := f.Cavities[0].Net().CubicFeet(); math.Abs(got-want) > 1e-6 {
		t.Errorf("soil %.6f ft3, want %.6f", got, want)
	}
}

// A mitred cap's long points and its clear opening, from plain geometry: with
// opening L and rail w, the long point is L + 2w and the short one L.
func TestMitredCapGeometry(t *testing.T) {
	f, bed := build(t, "metric", set("cap", "mitred"), set("cap_out", "15"), set("cap_profile", "100x38"))
	w := 100 * measure.Millimetre
	p, _ := f.Part("b1.cap.front")
	if p.Length != bed.Length+2*w || p.Width != w || p.Ends[0] != frame.Mitred {
		t.Errorf("long point %v, width %v", p.Length, p.Width)
	}
	a, b := p.Body.Outline[2], p.Body.Outline[3]
	if short := a.U - b.U; short != bed.Length {
		t.Errorf("short point %v, want the opening's %v", short, bed.Length)
	}
}

// touch reports whether two prisms meet without sharing room: grown by a
// micrometre, one reaches the other.
func touch(a, b frame.Prism) bool {
	lo, hi := a.Bounds()
	e := measure.Micrometre
	grown := frame.Box(
		frame.Point{X: lo.X - e, Y: lo.Y - e, Z: lo.Z - e},
		frame.Point{X: hi.X + e, Y: hi.Y + e, Z: hi.Z + e},
	)
	return frame.Overlap(grown, b)
}

// randomBed changes every decision at random until the rules take it.
func randomBed(r *rand.Rand, c *catalog.Catalog) design.Design {
	d := design.New(c, "a bed")
	d.Beds[0].Kept = nil
	systems := design.Systems()
	next, err := design.Apply(d, c, design.Edit{Bed: "b1", Field: "system", Value: systems[r.IntN(len(systems))].Name})
	if err == nil {
		d = next
	}
	for _, f := range design.FieldsOf(d.Beds[0]) {
		if f.Key == "system" {
			continue
		}
		for range 4 {
			value := ""
			switch b := d.Beds[0]; f.Kind {
			case design.LengthField:
				most := 400 * measure.Millimetre
				switch f.Key {
				case "length":
					most = 6 * measure.Metre
				case "width":
					most = 2 * measure.Metre
				case "soil":
					most = measure.Metre
				}
				value = (measure.Length(r.Int64N(int64(most))) / (in / 64) * (in / 64)).String()
			case design.NumberField:
				value = fmt.Sprint(r.IntN(5))
				if r.IntN(2) == 0 {
					value = design.Auto
				}
			case design.ChoiceField:
				choices := f.Choices(c, b)
				value = choices[r.IntN(len(choices))].Value
			default:
				continue
			}
			if next, err := design.Apply(d, c, design.Edit{Bed: "b1", Field: f.Key, Value: value}); err == nil {
				d = next
				break
			}
		}
	}
	return d
}

// The invariants of every frame, over random beds of both regions.
func TestInvariants(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 11))
	rounds := 400
	if testing.Short() {
		rounds = 40
	}
	for i := range rounds {
		c := catalog.Regions()[i%2]
		d := randomBed(r, c)
		bed := d.Beds[0]
		f, err := builder.Build(bed, c)
		if err != nil {
			t.Fatalf("%d: %v", i, err)
		}
		fail := func(format string, args ...any) {
			raw, _ := d.Encode()
			t.Fatalf("%d: %s\n%s", i, fmt.Sprintf(format, args...), raw)
		}
		for j, p := range f.Parts {
			for _, q := range f.Parts[j+1:] {
				if frame.Overlap(p.Body, q.Body) {
					fail("%s and %s overlap: %v and %v", p.ID, q.ID, p.Body, q.Body)
				}
			}
			lo, hi := p.Body.Bounds()
			if got := along(p); max(got-p.Length, p.Length-got) > 4 { // nanometres: corners are rounded
				fail("%s is %v long, its body %v", p.ID, p.Length, got)
			}
			if p.Ends == [2]frame.End{frame.Square, frame.Square} {
				section := measure.Over(p.Width, p.Thickness).By(p.Length)
				if diff := p.Body.Volume() - section; diff > 2 || diff < -2 {
					fail("%s: volume %d, length x section %d", p.ID, p.Body.Volume(), section)
				}
			}
			out := measure.Length(0)
			if p.Kind == frame.CapBoard {
				out = bed.CapOut
			}
			// Stand outside the walls on purpose.
			beside := slices.Contains([]frame.PartKind{frame.TrellisPart, frame.BenchPart, frame.FencePost, frame.GatePart,
				frame.Trim},
				p.Kind)
			if !beside &&
				(lo.X < f.Outside[0].U-out || lo.Y < f.Outside[0].V-out || hi.X > f.Outside[1].U+out || hi.Y > f.Outside[1].V+out) {
				fail("%s stands outside the walls", p.ID)
			}
		}
		for _, j := range f.Joints {
			a, okA := f.Part(j.Parts[0])
			b, okB := f.Part(j.Parts[1])
			if !okA || !okB || !touch(a.Body, b.Body) {
				fail("joint %s: its members do not touch", j.ID)
			}
		}
		checkOpenings(fail, f, bed)
		checkCavities(fail, f, bed)
	}
}

// along is a part's length as its body has it: along its grain, or, for one that
// is tilted in the plane across the bed, along its slope.
func along(p frame.Part) measure.Length {
	lo, hi := p.Body.Bounds()
	if p.Turn != 0 {
		least, most := math.Inf(1), math.Inf(-1)
		for _, c := range p.Body.Corners() {
			d := float64(c.X)*p.Way()[0] + float64(c.Y)*p.Way()[1]
			least, most = min(least, d), max(most, d)
		}
		return measure.Length(math.Round(most - least))
	}
	if p.Tilt == 0 || p.Grain == p.Body.Axis {
		return hi.Along(p.Grain) - lo.Along(p.Grain)
	}
	a := p.Tilt * math.Pi / 180
	least, most := math.Inf(1), math.Inf(-1)
	for _, s := range p.Body.Outline {
		d := float64(s.U)*math.Cos(a) + float64(s.V)*math.Sin(a)
		least, most = min(least, d), max(most, d)
	}
	return measure.Length(math.Round(most - least))
}

// checkOpenings sees to it that the clear surfaces are what was asked for, and
// that nothing but what displaces soil stands in them.
func checkOpenings(fail func(string, ...any), f frame.Frame, bed design.Bed) {
	var long measure.Length
	for i, o := range f.Openings {
		long += o.Hi.U - o.Lo.U
		want := bed.Width
		if bed.System == "tiered" && i > 0 {
			want = bed.OptionLength("upper_width")
		}
		if o.Hi.V-o.Lo.V != want {
			fail("opening %d is %v wide, asked %v", i, o.Hi.V-o.Lo.V, want)
		}
		if bed.System == "tiered" {
			long = o.Hi.U - o.Lo.U
		}
	}
	if long != bed.Length && bed.Options["sides"] != "6" { // from flat to flat; from corner to corner it is wider
		fail("the openings are %v long, asked %v", long, bed.Length)
	}
	standsIn := map[string]bool{}
	for _, c := range f.Cavities {
		for _, x := range c.Displaced {
			standsIn[x.Part] = true
		}
	}
	for i, o := range f.Openings {
		if f.Cavities[0].Pot {
			return // between the rails stand pots, and under them the slats
		}
		bottom := f.Cavities[0].Bottom
		for _, c := range f.Cavities {
			if mid := c.Outline[0].V; mid <= o.Lo.V && c.Outline[2].V >= o.Lo.V && c.Outline[0].U <= o.Lo.U &&
				c.Outline[2].U >= o.Hi.U {
				bottom = c.Bottom
			}
		}
		rooms := []frame.Prism{{Axis: frame.Z, From: bottom, To: 10 * measure.Metre, Outline: []frame.Spot{
			o.Lo, {U: o.Hi.U, V: o.Lo.V}, o.Hi, {U: o.Lo.U, V: o.Hi.V}}}}
		if o.Round != nil { // the pieces of its soil, below the cap
			rooms = nil
			for _, piece := range f.Cavities[0].Pieces {
				rooms = append(rooms, frame.Prism{Axis: frame.Z, From: bottom, To: f.Cavities[0].Top, Outline: piece})
			}
		}
		for _, p := range f.Parts {
			for _, room := range rooms {
				if !standsIn[p.ID] && p.Kind != frame.Strip && frame.Overlap(p.Body, room) {
					fail("%s stands in opening %d, yet displaces no soil", p.ID, i)
				}
			}
		}
	}
}

// checkCavities sees to it that walls close round every cavity at every height
// (but where another cavity goes on), that the soil is as deep as asked, and
// that its volume is what is between the walls less what stands in it.
func checkCavities(fail func(string, ...any), f frame.Frame, bed design.Bed) {
	const eps = measure.Micrometre
	for k, cav := range f.Cavities {
		var taken measure.Volume
		for _, x := range cav.Displaced {
			taken += x.Volume
		}
		if cav.Net() != cav.Gross()-taken || cav.Net() <= 0 {
			fail("soil %d is not %d less %d", cav.Net(), cav.Gross(), taken)
		}
		if cav.Pot {
			continue
		}
		for _, z := range []measure.Length{cav.Bottom + in/2, (cav.Bottom + cav.Rim) / 2, cav.Rim - in/2} {
			for i, s := range cav.Outline {
				e := cav.Outline[(i+1)%len(cav.Outline)]
				for _, share := range []measure.Length{1, 50, 99} {
					x, y := s.U+(e.U-s.U)*share/100, s.V+(e.V-s.V)*share/100
					spot := frame.Box(
						frame.Point{X: x - eps, Y: y - eps, Z: z},
						frame.Point{X: x + eps, Y: y + eps, Z: z + eps},
					)
					closed := false
					for _, p := range f.Parts {
						closed = closed || (p.Course > 0 || p.Kind == frame.Leg) && frame.Overlap(p.Body, spot)
					}
					for j, other := range f.Cavities {
						closed = closed ||
							j != k &&
								frame.Overlap(
									spot,
									frame.Prism{
										Axis:    frame.Z,
										From:    other.Bottom,
										To:      other.Rim,
										Outline: other.Outline,
									},
								)
					}
					if !closed {
						fail("the wall of %s is open at %v, %v, %v", cav.ID, x, y, z)
					}
				}
			}
		}
		want := bed.Soil
		if strings.Contains(cav.ID, "-soil") && bed.System == "tiered" {
			want = bed.OptionLength("upper_soil")
			if strings.HasSuffix(cav.ID, "under") {
				want = cav.Rim - cav.Bottom
			} else if cav.Bottom == 0 {
				want = bed.Soil
			}
		}
		board := f.Parts[0].Width
		tall := cav.Top + bed.Freeboard
		if strings.HasSuffix(cav.ID, "under") {
			tall = cav.Top
		}
		if cav.Depth() != want || cav.Rim < tall {
			fail("%s: soil %v deep, asked %v; rim %v under %v", cav.ID, cav.Depth(), want, cav.Rim, tall)
		}
		two := bed.Options[topKey] != "" && bed.Options[topKey] != topSame && f.Courses() == 2
		if bed.System != "sleeper" && cav.Rim-board >= tall && !two { // a top of its own stands on another
			fail("%s: the rim at %v is not the first course above %v", cav.ID, cav.Rim, tall)
		}
	}
}

// Mirrored input gives mirrored output: a bed is the same seen from the other
// long side, so its parts' boxes are their own mirror images (pinwheels turn
// instead of mirroring).
func TestMirror(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for i := range 100 {
		c := catalog.Regions()[i%2]
		d := randomBed(r, c)
		b := d.Beds[0]
		turned := b.Corners == design.Pinwheel || b.System == "tiered" || b.System == "angled" || b.System == "pieced" ||
			b.System == "outlined" ||
			b.System == "carrier" ||
			b.Options["floor"] == "sloped" ||
			b.Options["beams_run"] == "across"
		for _, extra := range []string{"trellis", "bench", "grid", "cross_ties", "fence"} {
			turned = turned || b.Has(extra)
		}
		if turned { // these have a front and a back
			continue
		}
		f, err := builder.Build(d.Beds[0], c)
		if err != nil {
			t.Fatal(err)
		}
		w := f.Outside[0].V + f.Outside[1].V
		for _, p := range f.Parts {
			lo, hi := p.Body.Bounds()
			lo.Y, hi.Y = w-hi.Y, w-lo.Y
			found := false
			for _, q := range f.Parts {
				a, b := q.Body.Bounds()
				found = found || same(a, lo) && same(b, hi)
			}
			if !found {
				t.Fatalf("%d: %s of a %s has no mirror image", i, p.ID, b.System)
			}
		}
	}
}

// same allows the nanometre that halving an odd number of them costs.
func same(a, b frame.Point) bool {
	near := func(x, y measure.Length) bool { return max(x-y, y-x) <= 2 }
	return near(a.X, b.X) && near(a.Y, b.Y) && near(a.Z, b.Z)
}
