package masonry

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	_ "chamfer/core/timber" // beds start as boarded frames
)

const in = measure.Inch

// made applies edits to a fresh bed of a system and builds it.
func made(region, system string, edits ...string) (frame.Frame, design.Bed, error) {
	c, err := catalog.ForRegion(region)
	if err != nil {
		return frame.Frame{}, design.Bed{}, err
	}
	d, err := design.Apply(design.New(c, "a bed"), c, design.Edit{Bed: "b1", Field: "system", Value: system})
	if err != nil {
		return frame.Frame{}, design.Bed{}, err
	}
	list := make([]design.Edit, 0, len(edits))
	for _, e := range edits {
		field, value, _ := strings.Cut(e, "=")
		list = append(list, design.Edit{Bed: "b1", Field: field, Value: value})
	}
	if d, err = design.Apply(d, c, list...); err != nil {
		return frame.Frame{}, d.Beds[0], err
	}
	f, err := Build(d.Beds[0], c)
	return f, d.Beds[0], err
}

func mustMake(t testing.TB, region, system string, edits ...string) frame.Frame {
	t.Helper()
	f, _, err := made(region, system, edits...)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

func kinds(f frame.Frame) map[string]int {
	n := map[string]int{}
	for _, u := range f.Units {
		n[u.Kind]++
	}
	return n
}

// By hand: 8 x 8 x 16 blocks, three courses. Outside 5 blocks and a depth long, 5 x 16
// + 7 5/8 = 87 5/8 in, and 3 and one wide, 55 5/8; clear 72 3/8 by 40 3/8. A course is
// 5 + 3 + 5 + 3 = 16 blocks, four of them at a corner by turns left and right: 16 x 3
// = 48, of which 8 left (courses 1 and 3) and 4 right corners.
func TestClosedWallByHand(t *testing.T) {
	f := mustMake(t, "us", "block-wall", "unit=cmu8", "length=72 3/8 in", "width=40 3/8 in", "soil=15 in", "bury=2 in")
	if n := kinds(f); n["standard"] != 36 || n["left corner"] != 8 || n["right corner"] != 4 || len(f.Units) != 48 {
		t.Errorf("%v", n)
	}
	if f.Outside[1].U != 87*in+in*5/8 || f.Outside[1].V != 55*in+in*5/8 || f.Rim != 22*in {
		t.Errorf("outside %v, rim %v", f.Outside, f.Rim)
	}
	// Base: the wall's middle line is 2 x (80 + 48) in.
	if b := f.Bases[0]; b.Line != 256*in || math.Abs(b.Seat.SquareFeet()-256*7.625/144) > 1e-9 {
		t.Errorf("%+v", b)
	}
	// Trench by inclusion: outside and inside rectangles, 3 in further each
	// way, against the middle line times its width: they differ by nothing, for a
	// ring of four corners.
	e := 3.0
	want := ((87.625+2*e)*(55.625+2*e) - (72.375-2*e)*(40.375-2*e)) / 144
	if got := f.Bases[0].Area.SquareFeet(); math.Abs(got-want) > 1e-6 || math.Abs(got-256*(7.625+2*e)/144) > 1e-6 {
		t.Errorf("trench %.4f, want %.4f", got, want)
	}
}

// Handed corners and lugs by hand: wall blocks of 12 x 8 x 4, 4 x 12 + 8 = 56 in by 2 x 12
// + 8 = 32 in outside, three courses of 4 + 2 + 4 + 2 = 12: left corners 4 in courses 1
// and 3, right ones 4 in course 2, and units of their own for both. Lugs come off the 12
// of the first course and the 4 + 4 corners above.
func TestHandedCornersByHand(t *testing.T) {
	f := mustMake(t, "us", "block-wall", "unit=wall12", "length=40 in", "width=16 in", "soil=8 in", "bury=2 in", "freeboard=1 in")
	sku, lugs := map[string]int{}, 0
	for _, u := range f.Units {
		sku[u.SKU]++
		if u.Lugs {
			lugs++
		}
	}
	if sku["wall12l"] != 8 || sku["wall12r"] != 4 || sku["wall12"] != 24 || lugs != 20 {
		t.Errorf("%v, %d lugs", sku, lugs)
	}
	// Joint over joint every run begins with a left corner, and glue ties the courses: two
	// beads along 2 x (48 + 24) in, twice.
	f = mustMake(t, "us", "block-wall", "unit=wall12", "length=40 in", "width=16 in", "soil=8 in", "bury=2 in", "freeboard=1 in", "bond=stack")
	if n := kinds(f); n["left corner"] != 12 || n["right corner"] != 0 || f.Beads[0].Length != 2*2*144*in {
		t.Errorf("stacked: %v, %v", n, f.Beads)
	}
}

// Stop ends by hand: three walls of 8 x 8 x 16 against a fence, two courses. The front
// is 4 x 16 + 7 5/8 = 71 5/8 outside, the ends 2 x 16 + 7 5/8 = 39 5/8 deep. In one
// course one end is 2 blocks and the other 2 and a half block, in the next the other
// way about; the front is 4 in both: 4 + 2 + 2 1/2, so two halves in all.
func TestOpenWallByHand(t *testing.T) {
	f := mustMake(t, "us", "block-wall", "unit=cmu8", "walls=u", "length=56 3/8 in", "width=32 in", "soil=12 in", "bury=1 in")
	n := kinds(f)
	if n["half"] != 2 || n["cut"] != 0 || n["standard"]+n["left corner"]+n["right corner"] != 16 {
		t.Errorf("%v", n)
	}
	// The front alone, 5 blocks less a joint, begins every other course with a half.
	f = mustMake(t, "us", "block-wall", "unit=cmu8", "walls=straight", "length=79 5/8 in", "width=24 in", "soil=12 in", "bury=1 in")
	if n = kinds(f); n["half"] != 2 || n["standard"] != 9 || n["cut"] != 0 {
		t.Errorf("straight: %v", n)
	}
}

// A stepped base by hand: blocks of 12 x 8 x 4, 68 in outside, 2 in buried; the ground falls
// 8 in to the right. Half of what is buried stays so: the base is one course lower where
// the ground has fallen more than 1 in, beyond 8 1/2 along, and two where it has fallen more
// than 5, beyond 42 1/2. Every unit of the lower courses lies where its right end does; the
// courses above are whole; the soil is 4 in deeper in the mean.
func TestSteppedBaseByHand(t *testing.T) {
	edits := []string{"unit=wall12", "length=52 in", "width=16 in", "soil=8 in", "bury=2 in", "freeboard=1 in"}
	level, f := mustMake(t, "us", "block-wall", edits...), mustMake(t, "us", "block-wall", append(edits, "fall=8 in")...)
	if f.Steps != 2 || f.Courses() != level.Courses()+2 || f.Rim != level.Rim {
		t.Fatalf("%d steps, %d courses for %d", f.Steps, f.Courses(), level.Courses())
	}
	if err := sound(f); err != nil {
		t.Error(err)
	}
	count := map[int]int{}
	for _, u := range f.Units {
		lo, hi := u.Body.Bounds()
		count[u.Course]++
		if lo.Z != in*4*measure.Length(u.Course-3)-2*in {
			t.Errorf("%s stands at %v", u.Role, lo.Z)
		}
		if first := map[int]measure.Length{1: in * 85 / 2, 2: in * 17 / 2}[u.Course]; hi.X <= first {
			t.Errorf("%s ends at %v, and the base goes down at %v", u.Role, hi.X, first)
		}
		// Nothing hangs: what has no unit below lies on the base, in the ground.
		if ground := measure.Length(float64(8*in) * float64(hi.X) / float64(68*in)); u.Course == 1 && lo.Z > -ground-in {
			t.Errorf("%s lies at %v, the ground at %v", u.Role, lo.Z, -ground)
		}
	}
	if whole := count[3]; count[4] != whole || count[1] == 0 || count[1] >= count[2] || count[2] >= whole {
		t.Errorf("units by course %v", count)
	}
	if got, want := f.Cavities[0].Net()-level.Cavities[0].Net(), measure.Over(52*in, 16*in).By(4*in); math.Abs(float64(got-want)) > 1e-6*float64(want) {
		t.Errorf("%.4f cu ft more soil, want %.4f", got.CubicFeet(), want.CubicFeet())
	}
}

// Ring by hand and by REFERENCE section 9 (direct trigonometry): rectangular units of
// 12 x 8 in need 36 in of radius for n = pi / atan(12 / 72) = 19.02: 19 of them, at
// 35.84 in with joints closed. Tapered ones of 12 and 9 1/2 in over 7 1/2 in close by
// their sides: 19 of them too, since 2 atan(1.25 / 7.5) = 18.92 degrees.
func TestRingByHand(t *testing.T) {
	c, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	rect := catalog.Unit{Length: 16 * in, Back: 16 * in, Depth: 8 * in, Height: 8 * in}
	for n, want := range map[int]float64{14: 35.050, 15: 37.637} { // REFERENCE: 16 x 8 in
		if got := apothem(rect, n, 0).Inches(); math.Abs(got-want) > 0.001 {
			t.Errorf("%d of 16 in: %.3f, want %.3f", n, got, want)
		}
	}
	uk := catalog.Unit{Length: 215 * measure.Millimetre, Back: 215 * measure.Millimetre, Depth: in * 4}
	if got := apothem(uk, 17, 10*measure.Millimetre).Millimetres(); math.Abs(got-601.82) > 0.01 {
		t.Errorf("17 stretchers: %.2f, want 601.82", got)
	}
	u, _ := c.Unit("ring12")
	f, b, err := made("us", "ring", "ring_units=19")
	if err != nil {
		t.Fatal(err)
	}
	if want := 2 * apothem(u, 19, 0); b.Length != want || kinds(f)["standard"] != 19*f.Courses() {
		t.Errorf("across %v, want %v; %v", b.Length, want, kinds(f))
	}
	// The other way about: that size asked for comes to 19 again.
	g, _, err := made("us", "ring", "length="+b.Length.String())
	if err != nil || kinds(g)["standard"] != 19*g.Courses() {
		t.Errorf("%v %v", err, kinds(g))
	}
	// Its soil is a circle's: pi r^2 by the depth.
	r := b.Length.Metres() / 2
	if got, want := f.Cavities[0].Net().CubicMetres(), math.Pi*r*r*b.Soil.Metres(); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("soil %.6f, want %.6f", got, want)
	}
}

// Caps round a ring meet at 180 degrees by their number: against the angle between the
// side of one and its middle line, by vectors.
func TestRingCapsMeet(t *testing.T) {
	f := mustMake(t, "us", "ring", "unit_cap=mitred", "length=60 in")
	n := kinds(f)["cap"]
	for _, u := range f.Units {
		if u.Kind != "cap" {
			continue
		}
		o := u.Body.Outline // inner, outer, outer, inner
		side := [2]float64{float64(o[1].U - o[0].U), float64(o[1].V - o[0].V)}
		other := [2]float64{float64(o[2].U - o[3].U), float64(o[2].V - o[3].V)}
		cos := (side[0]*other[0] + side[1]*other[1]) / math.Hypot(side[0], side[1]) / math.Hypot(other[0], other[1])
		if half := math.Acos(cos) / 2 * 180 / math.Pi; math.Abs(half-180/float64(n)) > 1e-3 || math.Abs(half-u.Angle) > 1e-3 {
			t.Fatalf("%d caps: %.4f degrees, cut at %.4f", n, half, u.Angle)
		}
	}
}

// Keyholes against REFERENCE section 9, pi R^2 - pi r^2 - [A(R) - A(r)] with A(R) = h
// sqrt(R^2 - h^2) + R^2 asin(h / R): R 1, r 0.3, way 0.5 m is 2.494225 m2. What the
// slope adds, against adding up rings by hand: a full ring of R 1.2, r 0.45 that rises
// 0.2 m.
func TestKeyholeAgainstIntegration(t *testing.T) {
	m := measure.Metre
	h := hole{r: round{inner: m, middle: frame.Spot{U: 2 * m, V: 2 * m}}, basket: 3 * m / 10, way: m / 4}
	if got := frame.OutlineArea(h.outline(float64(m / 4))).SquareMetres(); math.Abs(got/2.494225-1) > 5e-4 {
		t.Errorf("%.6f m2, want 2.494225", got)
	}
	h = hole{r: round{inner: 12 * m / 10}, basket: 45 * m / 100}
	const n = 100_000
	sum := 0.0
	for k := range n {
		r := 0.45 + (1.2-0.45)*(float64(k)+0.5)/n
		sum += 2 * math.Pi * r * 0.2 * (1.2 - r) / (1.2 - 0.45) * (1.2 - 0.45) / n
	}
	r, b := 1.2, 0.45
	whole := measure.Area(math.Pi * (r*r - b*b) * 1e12)
	if got := h.heap(2*m/10, whole).CubicMetres(); math.Abs(got/sum-1) > 1e-4 {
		t.Errorf("the slope adds %.5f m3, want %.5f", got, sum)
	}
	for _, edits := range [][]string{nil, {"length=84 in"}, {"length=110 in"}, {"unit=edging", "soil=6 in"}, {"length=96 in", "way_in=20 in", "basket=40 in"}} {
		for _, region := range []string{"us", "metric"} {
			f, b, err := made(region, "keyhole", edits...)
			if err != nil {
				t.Errorf("%s %v: %v", region, edits, err)
				continue
			}
			for i, x := range f.Units {
				for _, y := range f.Units[i+1:] {
					if frame.Overlap(x.Body, y.Body) {
						t.Fatalf("%v: %s (%s) and %s (%s) share room", edits, x.ID, x.Role, y.ID, y.Role)
					}
				}
				// The way in is free.
				lo, hi := x.Body.Bounds()
				mid := (f.Outside[0].U + f.Outside[1].U) / 2
				if half := b.OptionLength(wayKey) / 2; hi.Y < mid && lo.X < mid+half-in/64 && hi.X > mid-half+in/64 {
					t.Fatalf("%v: %s (%s) from %v to %v stands in the way in", edits, x.ID, x.Role, lo.X-mid, hi.X-mid)
				}
			}
			if f.Cavities[0].Heaped <= 0 || f.Fittings[0].Count < 6 || len(f.Sheets) < 2 {
				t.Errorf("%v: %+v", edits, f.Fittings)
			}
		}
	}
}

// A bed along a fence: nothing where ground is held up, otherwise a sheet against it.
func TestFenceLine(t *testing.T) {
	if _, _, err := made("us", "fence-line", "held=higher"); err == nil || !strings.Contains(err.Error(), "licensed engineer") {
		t.Errorf("%v", err)
	}
	f, b, err := made("metric", "fence-line")
	if err != nil {
		t.Fatal(err)
	}
	sheet := f.Sheets[len(f.Sheets)-1]
	if sheet.Material != "membrane" || sheet.Length != b.Length+2*turned || sheet.Width != b.Soil+turned {
		t.Errorf("%+v", sheet)
	}
	for _, u := range f.Units {
		if strings.HasPrefix(u.Role, "back") {
			t.Errorf("a wall against the fence: %s", u.Role)
		}
	}
}

// Hollow blocks by hand: 4 by 2 blocks and a depth make 4 + 2 + 4 + 2 = 12 blocks a
// course, 24 cores in the top one; half the room of 12 blocks is soil. The wall's middle
// line is 2 x (64 + 32) in: 192 / 48 = 4 pins.
func TestHollowBlocksByHand(t *testing.T) {
	f := mustMake(t, "us", "hollow-block", "length=56 3/8 in", "width=24 3/8 in", "soil=12 in", "bury=1 in")
	cores := 12 * 15.625 * 7.625 * 7.625 / 2 / 1728
	if n := len(f.Units); n != 24 || math.Abs(f.Cavities[0].Heaped.CubicFeet()-cores) > 1e-6 || f.Fittings[0].Count != 4 {
		t.Errorf("%d blocks, %.4f cu ft in the cores, want %.4f, %d pins", n, f.Cavities[0].Heaped.CubicFeet(), cores, f.Fittings[0].Count)
	}
	if act := f.Acts[len(f.Acts)-1]; !strings.Contains(act.Note, "24 pockets") {
		t.Errorf("%s", act.Note)
	}
}

// Slotted blocks by hand: 96 x 48 in clear in one course of 2x6, two bays, blocks of 7
// 1/2 in with slots 1 3/4 in deep. Middles of the blocks lie the clear size and a board
// apart: a bay is (96 - 1 1/2) / 2 = 47 1/4 clear, 48 3/4 from middle to middle; a board
// is 7 1/2 shorter than that and 2 x 1 3/4 longer, less 3 mm at either end. Six stacks,
// four long boards, three across.
func TestSlottedByHand(t *testing.T) {
	f := mustMake(t, "us", "slotted", "bays=2", "soil=4 in", "length=96 in", "width=48 in")
	if len(f.Units) != 6 || len(f.Parts) != 7 || f.Courses() != 1 || f.Fittings[0].Count != 6 {
		t.Fatalf("%d blocks, %d boards, %d courses", len(f.Units), len(f.Parts), f.Courses())
	}
	long, _ := f.Part("b1.front.1.1")
	across, _ := f.Part("b1.across.2.1")
	if want := in*195/4 - in*15/2 + in*7/2 - 2*play; long.Length != want || long.Profile != "2x6" {
		t.Errorf("long board %v of %s, want %v", long.Length, long.Profile, want)
	}
	if want := in*99/2 - in*15/2 + in*7/2 - 2*play; across.Length != want {
		t.Errorf("cross board %v, want %v", across.Length, want)
	}
	// No board and no block share room, for any size; the clear opening is what was
	// asked for.
	r := rand.New(rand.NewPCG(6, 2))
	for range 40 {
		region := []string{"us", "metric"}[r.IntN(2)]
		f, b, err := made(region, "slotted", "length="+(measure.Length(40+r.IntN(120))*in).String(), "width="+(measure.Length(24+r.IntN(30))*in).String(), "soil="+(measure.Length(6+r.IntN(10))*in).String(), "bays="+fmt.Sprint(1+r.IntN(3)))
		if err != nil {
			continue
		}
		var solids []frame.Prism
		for _, u := range f.Units {
			volume := measure.Volume(0)
			for _, s := range u.Solids() {
				solids, volume = append(solids, s), volume+s.Volume()
			}
			if d := volume - u.Body.Volume(); d > 1000 || d < -1000 {
				t.Fatalf("the pieces of a block hold %v, its outline %v", volume, u.Body.Volume())
			}
		}
		for _, p := range f.Parts {
			solids = append(solids, p.Body)
		}
		for i, a := range solids {
			for _, b := range solids[i+1:] {
				if frame.Overlap(a, b) {
					t.Fatalf("%v by %v: %v and %v share room", f.Outside, f.Courses(), a, b)
				}
			}
		}
		clear := f.Openings[len(f.Openings)-1].Hi.U - f.Openings[0].Lo.U
		if clear != b.Length || f.Openings[0].Hi.V-f.Openings[0].Lo.V != b.Width {
			t.Fatalf("clear %v by %v, asked for %v by %v", clear, f.Openings[0].Hi.V-f.Openings[0].Lo.V, b.Length, b.Width)
		}
	}
}

// Terraces by hand: a plot 10 ft deep that rises 24 in evenly, two terraces of 60 in,
// walls of 12 in; levels at 12 and 24 in. Over a terrace the ground rises from 12 below
// its level to it: all fill, half of 60 x 12 in for each foot along, nothing to cut. A
// level in the middle of an even slope cuts as much as it fills: an eighth of depth x
// rise each. Both against adding up by hand.
func TestTerracesByHand(t *testing.T) {
	f, _, err := made("us", "terraces", "length=120 in", "width=120 in", "corners_at=0; 0; 24 in; 24 in", "terraces=2", "unit=wall12", "soil=8 in")
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Levels) != 2 || f.Levels[0].Wall != 12*in || f.Levels[0].Height != 12*in || f.Levels[1].Height != 24*in {
		t.Fatalf("%+v", f.Levels)
	}
	want := 120 * 60 * 12 / 2 / 1728.0
	for _, l := range f.Levels {
		if math.Abs(l.Fill.CubicFeet()/want-1) > 1e-3 || l.Cut != 0 {
			t.Errorf("cut %.3f, fill %.3f cu ft, want 0 and %.3f", l.Cut.CubicFeet(), l.Fill.CubicFeet(), want)
		}
	}
	s := slope{at: [4]measure.Length{0, 0, 40 * in, 40 * in}, long: 100 * in, deep: 80 * in}
	cut, fill := s.moved(0, 1, 20*in)
	if each := 100 * 80 * 40 / 8 / 1728.0; math.Abs(cut.CubicFeet()/each-1) > 1e-3 || math.Abs(fill.CubicFeet()/each-1) > 1e-3 {
		t.Errorf("cut %.3f, fill %.3f, want %.3f each", cut.CubicFeet(), fill.CubicFeet(), each)
	}
	if err := sound(frame.Frame{Units: f.Units}); err != nil {
		t.Error(err)
	}
	// Sliding by hand, 2 mu g B / (EFP H) with 103.2 pcf (10.4 kg in 12 x 8 x 4 in), mu
	// 0.35, EFP 30: 1.5 at 12.8 in. So 12 in stand, 13 do not, though neither tips.
	c, _ := catalog.ForRegion("us")
	if u, _ := c.Unit("wall12"); !stands(design.Bed{}, 12*in, u) || stands(design.Bed{}, 13*in, u) || !holds(13*in, u) {
		t.Error("a wall of 13 in that holds ground up slides, one of 12 in stands")
	}
	// Where the slope goes on above, walls are lower and there are more; below a drive
	// there are none.
	count := func(above string) int {
		return len(mustMake(t, "us", "terraces", "length=120 in", "width=120 in", "corners_at=0; 0; 40 in; 40 in", "unit=wall12", "soil=6 in", "above="+above).Levels)
	}
	if level, hill := count("soil"), count("slope"); hill <= level {
		t.Errorf("%d terraces below level soil, %d below a slope", level, hill)
	}
	if _, _, err := made("us", "terraces", "above=drive"); err == nil || !strings.Contains(err.Error(), "licensed engineer") {
		t.Errorf("below a drive: %v", err)
	}
	// Auto takes as few as stand; what is too high, too steep or too shallow is refused.
	g := mustMake(t, "us", "terraces", "length=120 in", "width=120 in", "corners_at=0; 0; 40 in; 36 in", "unit=wall12", "soil=8 in")
	if len(g.Levels) < 2 || g.Levels[0].Wall > engineered {
		t.Errorf("%+v", g.Levels)
	}
	for edits, words := range map[string]string{"terraces=1": "licensed engineer", "corners_at=0; 0; 2 in; 2 in": "on the level", "corners_at=0; 0; 9 m; 9 m": "hillside", "corners_at=0; 0; 24 in": "four corners", "terraces=8": "too little to plant"} {
		list := []string{"length=120 in", "width=120 in", "unit=wall12", "soil=8 in"}
		if !strings.HasPrefix(edits, "corners") {
			list = append(list, "corners_at=0; 0; 40 in; 40 in")
		}
		if _, _, err := made("us", "terraces", append(list, edits)...); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edits, err)
		}
	}
}

// A poured wall by hand: 8 x 4 ft inside with corners of 12 in and a wall of 6 in, 12
// in of soil, 1 in above it and 4 in in the ground: 17 in. The rounded rectangles are a b
// - (4 - pi) r^2: 108 x 60 with 18 in outside, 96 x 48 with 12 in inside. Both faces: twice
// 2 (96 + 48 - 48) in straight and the circles of 12 and 18 in. Stakes every 24 in (600 mm,
// 23.6) and every 12 in (300 mm): 192 / 23.62 = 9 twice; 75.4 / 11.81 = 7, 113.1 / 11.81 =
// 10. Strips of 10 ft that lap 4 in (100 mm).
func TestPouredByHand(t *testing.T) {
	f := mustMake(t, "us", "poured", "length=96 in", "width=48 in", "soil=12 in", "freeboard=1 in", "rubble=25", "thick=6 in", "rounded=12 in")
	c := f.Pours[0]
	area := 108*60 - (4-math.Pi)*18*18 - (96*48 - (4-math.Pi)*12*12)
	if want := area * 17 / 1728; math.Abs(c.Volume.CubicFeet()/want-1) > 1e-6 {
		t.Errorf("%.4f cu ft, want %.4f", c.Volume.CubicFeet(), want)
	}
	form := 2*192 + 2*math.Pi*(12+18)
	if math.Abs(c.FormLength.Inches()/form-1) > 1e-6 || c.Stakes != 9+9+7+10 || c.Rubble != 250 {
		t.Errorf("form %.2f in, want %.2f; %d stakes; rubble %d", c.FormLength.Inches(), form, c.Stakes, c.Rubble)
	}
	if want := int(math.Ceil((form - 100/25.4) / (120 - 100/25.4))); c.Strips != want {
		t.Errorf("%d strips, want %d", c.Strips, want)
	}
	// The stretches it is drawn in hold what it does, and the soil its room.
	sum := measure.Volume(0)
	for i, s := range c.Solids() {
		sum += s.Volume()
		for _, o := range c.Solids()[i+1:] {
			if frame.Overlap(s, o) {
				t.Fatalf("%v and %v share room", s, o)
			}
		}
	}
	if math.Abs(sum.CubicFeet()/c.Volume.CubicFeet()-1) > 1e-3 {
		t.Errorf("drawn %.4f cu ft of %.4f", sum.CubicFeet(), c.Volume.CubicFeet())
	}
	if want := (96*48 - (4-math.Pi)*144) * 12 / 1728; math.Abs(f.Cavities[0].Net().CubicFeet()/want-1) > 1e-3 {
		t.Errorf("soil %.3f, want %.3f", f.Cavities[0].Net().CubicFeet(), want)
	}
	// Open shapes: the front alone is 96 in of wall; front and left 96 + 48 less twice the
	// radius and a quarter turn; each without overlap, closed by what stands behind.
	for shape, line := range map[string]float64{"straight": 96, "l": 96 + 48 - 24 + math.Pi/2*15, "u": 96 + 96 - 48 + math.Pi*15} {
		f := mustMake(t, "us", "poured", "walls="+shape, "length=96 in", "width=48 in", "soil=12 in", "freeboard=1 in", "thick=6 in", "rounded=12 in")
		if got, want := f.Pours[0].Volume.CubicFeet(), line*6*17/1728; math.Abs(got/want-1) > 1e-6 {
			t.Errorf("%s: %.4f cu ft, want %.4f", shape, got, want)
		}
		soil := 96*48 - (1-math.Pi/4)*144*map[string]float64{"l": 1, "u": 2}[shape]
		if got, want := f.Cavities[0].Net().CubicFeet(), soil*12/1728; math.Abs(got/want-1) > 1e-3 {
			t.Errorf("%s: soil %.4f, want %.4f", shape, got, want)
		}
		if math.Abs(f.Bases[0].Line.Inches()-line) > 1e-6 {
			t.Errorf("%s: base along %v, want %v", shape, f.Bases[0].Line.Inches(), line)
		}
	}
	// Where the ground falls 8 in from left to right the wall is 17 in at the left and 25
	// at the right, 21 in the middle of it; the soil 4 in deeper in the mean.
	f = mustMake(t, "us", "poured", "length=96 in", "width=48 in", "soil=12 in", "freeboard=1 in", "thick=8 in", "rounded=0 in", "fall=8 in")
	if got, want := f.Pours[0].Volume.CubicFeet(), float64(112*64-96*48)*21/1728; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("on a slope %.4f cu ft, want %.4f", got, want)
	}
	if got, want := f.Cavities[0].Net().CubicFeet(), 96.0*48*16/1728; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("on a slope %.4f of soil, want %.4f", got, want)
	}
	for edits, words := range map[string]string{"fall=3 ft": "for terraces", "thick=2 in": "cracks or wastes", "rounded=30 in": "do not fit", "rounded=2 in": "kinks"} {
		if _, _, err := made("us", "poured", edits); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edits, err)
		}
	}
}

// Three rings on one another: nothing shares room, each stands on the soil below and
// leaves the ledge, planting is the whole of the lowest disc less the units that stand
// on it, and soil what the discs hold less what is buried.
func TestTiersOfRings(t *testing.T) {
	f, _, err := made("us", "ring", "length=96 in", "tiers=3", "ledge=10 in", "tier_courses=2", "soil=10 in", "bury=2 in", "freeboard=1 in")
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Arcs) != 3 || len(f.Cavities) != 3 || len(f.Openings) != 3 {
		t.Fatalf("%d rings", len(f.Arcs))
	}
	if err := sound(frame.Frame{Units: f.Units}); err != nil {
		t.Error(err)
	}
	u := 7.5
	area := math.Pi * math.Pow(f.Arcs[0].Inside.Inches(), 2)
	soil := area * 10
	for k, a := range f.Arcs[1:] {
		if gap := f.Arcs[k].Inside - a.Outside; gap < 10*in {
			t.Errorf("a ledge of %v", gap)
		}
		ri, ro := a.Inside.Inches(), a.Inside.Inches()+u
		area -= math.Pi * (ro*ro - ri*ri)
		soil += math.Pi*ri*ri*(8-2-1) - math.Pi*(ro*ro-ri*ri)*2 // two courses less what is buried and kept below the rim
	}
	if got := f.PlantingArea().SquareFeet() * 144; math.Abs(got/area-1) > 1e-3 {
		t.Errorf("planting %.1f sq in, want %.1f", got, area)
	}
	net := 0.0
	for _, c := range f.Cavities {
		net += c.Net().CubicFeet() * 1728
	}
	if math.Abs(net/soil-1) > 1e-3 {
		t.Errorf("soil %.0f cu in, want %.0f", net, soil)
	}
	if _, _, err := made("us", "ring", "length=48 in", "tiers=3"); err == nil || !strings.Contains(err.Error(), "do not fit") {
		t.Errorf("%v", err)
	}
}

// Drainage stone by hand: inside a closed wall of 72 3/8 by 40 3/8 in, 12 in of soil: a
// strip of 6 in all round, corners once: 2 (72.375 + 40.375) - 4 x 6 in
// long. What is stone is not soil.
func TestDrainByHand(t *testing.T) {
	edits := []string{"unit=cmu8", "length=72 3/8 in", "width=40 3/8 in", "soil=12 in"}
	plain, stony := mustMake(t, "us", "block-wall", edits...), mustMake(t, "us", "block-wall", append(edits, "drain=stone")...)
	d := 6.0
	want := (2*(72.375+40.375) - 4*d) * d * 12 / 1728
	if got := stony.Drains[0].Volume.CubicFeet(); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("%.4f cu ft, want %.4f", got, want)
	}
	if got := plain.Cavities[0].Net() - stony.Cavities[0].Net(); got != stony.Drains[0].Volume {
		t.Errorf("%v less soil for %v of stone", got, stony.Drains[0].Volume)
	}
	if cloth := stony.Sheets[len(stony.Sheets)-1]; cloth.Material != "fabric" || cloth.Width != 12*in+2*turned {
		t.Errorf("%+v", cloth)
	}
}

// sound holds a frame of units to what every one must be: no two share room, all
// stand on the base or on units, none is outside, soil stays inside.
func sound(f frame.Frame) error {
	for i, a := range f.Units {
		if a.Body.Volume() <= 0 {
			return fmt.Errorf("%s, %s: no unit", a.ID, a.Role)
		}
		for _, b := range f.Units[i+1:] {
			if frame.Overlap(a.Body, b.Body) {
				return fmt.Errorf("%s (%s) and %s (%s) share room", a.ID, a.Role, b.ID, b.Role)
			}
		}
		for _, c := range f.Cavities {
			lo, hi := a.Body.Bounds()
			if lo.Z >= c.Top || hi.Z <= c.Bottom {
				continue
			}
			// The soil's outline is that of the circle, whose inner faces are a
			// polygon's: a hundredth of the depth may be inside.
			pieces := c.Pieces
			if pieces == nil {
				pieces = [][]frame.Spot{c.Outline}
			}
			for _, o := range pieces {
				mid := frame.Spot{}
				for _, s := range o {
					mid.U, mid.V = mid.U+s.U/measure.Length(len(o)), mid.V+s.V/measure.Length(len(o))
				}
				small := frame.Prism{Axis: frame.Z, From: c.Bottom, To: c.Top}
				for _, s := range o {
					small.Outline = append(small.Outline, frame.Spot{U: mid.U + (s.U-mid.U)*93/100, V: mid.V + (s.V-mid.V)*93/100})
				}
				if frame.Overlap(a.Body, small) {
					return fmt.Errorf("%s, %s, stands in the soil", a.ID, a.Role)
				}
			}
		}
	}
	return nil
}

// bond checks that every course of a straight run reaches from end to end and that
// its joints lie a quarter of a unit from those below.
func bond(f frame.Frame, u catalog.Unit) error {
	type key struct {
		wall   string
		course int
	}
	ends := map[key][]measure.Length{} // of units along their run, from the wall's beginning
	for _, x := range f.Units {
		if x.Kind == "cap" {
			continue
		}
		wall, _, _ := strings.Cut(x.Role, ",")
		lo, hi := x.Body.Bounds()
		from, to := lo.X, hi.X
		if wall == "left" || wall == "right" {
			from, to = lo.Y, hi.Y
		}
		k := key{wall, x.Course}
		ends[k] = append(ends[k], from, to)
	}
	for k, list := range ends {
		low, high := list[0], list[0]
		sum := measure.Length(0)
		for i := 0; i < len(list); i += 2 {
			low, high = min(low, list[i]), max(high, list[i+1])
			sum += list[i+1] - list[i]
		}
		if want := high - low - u.Joint*measure.Length(len(list)/2-1); sum != want {
			return fmt.Errorf("%s, course %d: units of %v in all, joints leave %v", k.wall, k.course, sum, want)
		}
		for _, x := range list {
			if x == low || x == high {
				continue
			}
			for _, y := range ends[key{k.wall, k.course + 1}] {
				if d := max(x-y, y-x); d > u.Joint && d < u.Length/4-u.Joint {
					return fmt.Errorf("%s: joints at %v and %v over one another", k.wall, x, y)
				} else if d <= u.Joint && x != low && x != high && y != x {
					continue
				}
			}
		}
	}
	return nil
}

// stack checks that every unit stands on just one like it, and none is cut.
func stack(f frame.Frame) error {
	for _, x := range f.Units {
		if x.Kind == "cap" || x.Course == 1 {
			continue
		}
		if x.Cut > 0 || x.Kind == "half" || !slices.ContainsFunc(f.Units, func(y frame.Unit) bool {
			return y.Course == x.Course-1 && y.Kind == x.Kind && slices.Equal(y.Body.Outline, x.Body.Outline)
		}) {
			return fmt.Errorf("%s, %s, is on no stack", x.ID, x.Role)
		}
	}
	return nil
}

func TestWallsOfAnySize(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 9))
	built := 0
	for range 150 {
		c := catalog.Regions()[r.IntN(2)]
		units := c.UnitsOf("wall", "hollow", "brick")
		u := units[r.IntN(len(units))]
		shape := []string{"closed", "u", "l", "straight"}[r.IntN(4)]
		n, m := measure.Length(2+r.IntN(5)), measure.Length(1+r.IntN(3))
		long, wide := n*u.Module()-u.Depth, m*u.Module()-u.Depth
		switch shape {
		case "u":
			wide = m * u.Module()
		case "l":
			long, wide = n*u.Module(), m*u.Module()
		case "straight":
			long, wide = n*u.Module()-u.Joint, 600*measure.Millimetre
		}
		if wide > long {
			continue
		}
		f, b, err := made(c.ID, "block-wall", "unit="+u.ID, "walls="+shape, "length="+long.String(), "width="+wide.String(),
			"soil="+(measure.Length(4+r.IntN(8))*in).String(), "bury=1 in", "unit_cap="+[]string{"none", "butted", "mitred"}[r.IntN(3)], "bond="+[]string{"half", "half", "stack"}[r.IntN(3)])
		if err != nil {
			if len(design.Refusals(err)) == 0 {
				t.Fatal(err)
			}
			continue // too tall for it, too small, or it does not bond round a corner
		}
		built++
		if err := sound(f); err != nil {
			t.Fatalf("%s of %s, %v by %v: %v", shape, u.ID, long, wide, err)
		}
		if b.Options[bondKey] == "stack" {
			if err := stack(f); err != nil {
				t.Fatalf("%s of %s, %v by %v: %v", shape, u.ID, long, wide, err)
			}
		} else if err := bond(f, u); err != nil {
			t.Fatalf("%s of %s, %v by %v: %v", shape, u.ID, long, wide, err)
		}
	}
	if built < 40 {
		t.Errorf("only %d could be built", built)
	}
}

// What the tests of walls, rings and plinths do not build, of any size: no unit, board
// or basket shares room with another, and soil is between them.
func TestOthersOfAnySize(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 2))
	built := map[string]int{}
	for range 160 {
		c := catalog.Regions()[r.IntN(2)]
		size := func(least, most int) string { return (measure.Length(least+r.IntN(most-least)) * in).String() }
		system := []string{"fence-line", "hollow-block", "keyhole", "slotted", "terraces"}[r.IntN(5)]
		edits := map[string][]string{
			"fence-line":   {"walls=" + []string{"u", "l", "straight"}[r.IntN(3)]},
			"hollow-block": {"cores=planted"},
			"keyhole":      {"length=" + size(80, 130), "way_in=" + size(16, 26), "basket=" + size(30, 44)},
			"slotted":      {"length=" + size(40, 150), "width=" + size(24, 40), "soil=" + size(6, 16)},
			"terraces":     {"corners_at=0; 0; " + size(12, 40) + "; " + size(12, 40), "drain=" + []string{"none", "stone"}[r.IntN(2)]},
		}[system]
		if system == "fence-line" || system == "hollow-block" { // as many units as a page would step to
			kind := map[string]string{"fence-line": "wall", "hollow-block": "hollow"}[system]
			u := c.UnitsOf(kind)[0]
			long := u.Module() * measure.Length(4+r.IntN(6))
			if system == "hollow-block" || edits[0] == "walls=u" {
				edits = append(edits, "length="+(long-u.Depth).String())
			}
		}
		f, _, err := made(c.ID, system, edits...)
		if err != nil {
			if len(design.Refusals(err)) == 0 {
				t.Fatal(err)
			}
			continue
		}
		built[system]++
		if err := sound(f); err != nil {
			t.Fatalf("%s, %v: %v", system, edits, err)
		}
		for i, p := range f.Parts {
			for _, q := range f.Parts[i+1:] {
				if frame.Overlap(p.Body, q.Body) {
					t.Fatalf("%s, %v: %s and %s share room", system, edits, p.Role, q.Role)
				}
			}
			for _, u := range f.Units {
				for _, s := range u.Solids() {
					if frame.Overlap(p.Body, s) {
						t.Fatalf("%s, %v: %s and %s share room", system, edits, p.Role, u.Role)
					}
				}
			}
		}
	}
	for _, s := range []string{"fence-line", "hollow-block", "keyhole", "slotted", "terraces"} {
		if built[s] < 5 {
			t.Errorf("%s: only %d could be built", s, built[s])
		}
	}
}

func TestRingsOfAnySize(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 1))
	built := 0
	for range 120 {
		c := catalog.Regions()[r.IntN(2)]
		units := c.UnitsOf("ring", "wall", "edging", "brick")
		u := units[r.IntN(len(units))]
		f, b, err := made(c.ID, "ring", "unit="+u.ID, "arc="+[]string{"full", "half", "quarter"}[r.IntN(3)], "length="+(measure.Length(24+r.IntN(60))*in).String(),
			"soil="+(measure.Length(4+r.IntN(6))*in).String(), "bury=1 in", "unit_cap="+[]string{"none", "mitred"}[r.IntN(2)])
		if err != nil {
			refusals := design.Refusals(err)
			if len(refusals) == 0 {
				t.Fatal(err)
			}
			continue
		}
		built++
		if err := sound(f); err != nil {
			t.Fatalf("%s of %s, %v across: %v", b.Options[arcKey], u.ID, b.Length, err)
		}
		// Direct trigonometry: every unit stands with its inner face's middle at the
		// radius asked for.
		outline := f.Cavities[0].Outline
		middle := outline[0]
		if b.Options[arcKey] == "full" {
			middle = frame.Spot{U: (outline[0].U + outline[len(outline)/2].U) / 2, V: (outline[0].V + outline[len(outline)/2].V) / 2}
		}
		for _, x := range f.Units {
			if x.Kind != "standard" {
				continue
			}
			o := x.Body.Outline
			du, dv := float64(o[0].U+o[3].U)/2-float64(middle.U), float64(o[0].V+o[3].V)/2-float64(middle.V)
			if got := math.Hypot(du, dv); math.Abs(got-float64(radiusOf(b))) > 10 {
				t.Fatalf("inner face %.0f nm from the middle, want %d", got, radiusOf(b))
			}
		}
	}
	if built < 40 {
		t.Errorf("only %d could be built", built)
	}
}

// What cannot be is refused with what can.
func TestRefusals(t *testing.T) {
	for _, c := range []struct {
		name, system string
		edits        []string
		field, words string
	}{
		{"a length no bond makes", "block-wall", []string{"unit=cmu8", "length=75 in", "width=40 3/8 in"}, "length", "6' 3/8\" and 7' 4 3/8\" do"},
		{"tighter than the units allow", "ring", []string{"length=18 in"}, "length", "from "},
		{"no closing with touching units", "ring", []string{"unit=wall12", "ring_units=4"}, "ring_units", "gape outside: from "},
		{"higher than a dry wall bears", "block-wall", []string{"soil=36 in"}, "soil", "up to "},
		{"a way in wider than the basket", "keyhole", []string{"way_in=4 ft"}, "way_in", "up to "},
		{"a basket between the walls of the way", "keyhole", []string{"basket=30 in"}, "basket", "from 3' 3\" works"},
		{"joints that let soil out", "ring", []string{"ring_units=24", "ring_joint=2 in"}, "ring_joint", "up to "},
		{"joint over joint too high", "block-wall", []string{"bond=stack", "soil=14 in"}, "bond", "up to 1' works"},
		{"half a unit too many", "ring", []string{"arc=quarter", "ring_units=30"}, "ring_units", "28 and 32 do"},
	} {
		_, _, err := made("us", c.system, c.edits...)
		var r *design.Refusal
		if !errors.As(err, &r) || r.Field != c.field || !strings.Contains(err.Error(), c.words) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

func BenchmarkRing(b *testing.B) {
	for b.Loop() {
		mustMake(b, "us", "ring", "ring_units=40", "unit_cap=mitred")
	}
}
