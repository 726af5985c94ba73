package masonry

import (
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

// By hand: 8 x 8 x 16 blocks, three courses. Outside 5 blocks and a depth long, 5 x 16
// + 7 5/8 = 87 5/8 in, and 3 and one wide, 55 5/8; clear 72 3/8 by 40 3/8. A course is
// 5 + 3 + 5 + 3 = 16 blocks, four of them at a corner by turns left and right: 16 x 3
// = 48, of which 8 left (courses 1 and 3) and 4 right corners. Three courses of 7 5/8 with
// two joints between them are 23 5/8 high, 2 of that below the ground.
func TestClosedWallByHand(t *testing.T) {
	f := mustMake(t, "us", "block-wall", "unit=cmu8", "length=72 3/8 in", "width=40 3/8 in", "soil=15 in", "bury=2 in")
	if n := kinds(f); n[frame.StandardUnit] != 36 || n[frame.LeftCorner] != 8 || n[frame.RightCorner] != 4 ||
		len(f.Units) != 48 {
		t.Errorf("%v", n)
	}
	if f.Outside[1].U != 87*in+in*5/8 || f.Outside[1].V != 55*in+in*5/8 || f.Rim != in*173/8 {
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
	f := mustMake(
		t,
		"us",
		"block-wall",
		"unit=wall12",
		"length=40 in",
		"width=16 in",
		"soil=8 in",
		"bury=2 in",
		"freeboard=1 in",
	)
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
	f = mustMake(
		t,
		"us",
		"block-wall",
		"unit=wall12",
		"length=40 in",
		"width=16 in",
		"soil=8 in",
		"bury=2 in",
		"freeboard=1 in",
		"bond=stack",
	)
	if n := kinds(f); n[frame.LeftCorner] != 12 || n[frame.RightCorner] != 0 || f.Beads[0].Length != 2*2*144*in {
		t.Errorf("stacked: %v, %v", n, f.Beads)
	}
}

// Stop ends by hand: three walls of 8 x 8 x 16 against a fence, two courses. The front
// is 4 x 16 + 7 5/8 = 71 5/8 outside, the ends 2 x 16 + 7 5/8 = 39 5/8 deep. In one
// course one end is 2 blocks and the other 2 and a half block, in the next the other
// way about; the front is 4 in both: 4 + 2 + 2 1/2, so two halves in all.
func TestOpenWallByHand(t *testing.T) {
	f := mustMake(
		t,
		"us",
		"block-wall",
		"unit=cmu8",
		"walls=u",
		"length=56 3/8 in",
		"width=32 in",
		"soil=12 in",
		"bury=1 in",
	)
	n := kinds(f)
	if n[frame.HalfUnit] != 2 || n[frame.CutUnit] != 0 ||
		n[frame.StandardUnit]+n[frame.LeftCorner]+n[frame.RightCorner] != 16 {
		t.Errorf("%v", n)
	}
	// The front alone, 5 blocks less a joint, begins every other course with a half.
	f = mustMake(
		t,
		"us",
		"block-wall",
		"unit=cmu8",
		"walls=straight",
		"length=79 5/8 in",
		"width=24 in",
		"soil=12 in",
		"bury=1 in",
	)
	if n = kinds(f); n[frame.HalfUnit] != 2 || n[frame.StandardUnit] != 9 || n[frame.CutUnit] != 0 {
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
	level, f := mustMake(
		t,
		"us",
		"block-wall",
		edits...), mustMake(
		t,
		"us",
		"block-wall",
		append(edits, "fall=8 in")...)
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
		if ground := measure.Length(float64(8*in) * float64(hi.X) / float64(68*in)); u.Course == 1 &&
			lo.Z > -ground-in {
			t.Errorf("%s lies at %v, the ground at %v", u.Role, lo.Z, -ground)
		}
	}
	if whole := count[3]; count[4] != whole || count[1] == 0 || count[1] >= count[2] || count[2] >= whole {
		t.Errorf("units by course %v", count)
	}
	if got, want := f.Cavities[0].Net()-level.Cavities[0].Net(), measure.Over(52*in, 16*in).By(4*in); math.Abs(
		float64(got-want),
	) > 1e-6*float64(
		want,
	) {
		t.Errorf("%.4f cu ft more soil, want %.4f", got.CubicFeet(), want.CubicFeet())
	}
}

// A bed along a fence: nothing where ground is held up, otherwise a sheet against it.
func TestFenceLine(t *testing.T) {
	if _, _, err := made("us", "fence-line", "held=higher"); err == nil ||
		!strings.Contains(err.Error(), "licensed engineer") {
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

// Hollow blocks by hand, laid dry: 4 by 2 of 15 5/8 in less a depth of 7 5/8 are 54 7/8 by
// 23 5/8 clear, 4 + 2 + 4 + 2 = 12 blocks a course and 24 cores in the top one; half the
// room of 12 blocks is soil, of the other 12 stone. Two courses of 7 5/8 less 1 in below the
// ground are 14 1/4 high. The wall's middle line is 2 x (62 1/2 + 31 1/4) in: 187 1/2 / 48, 4
// pins. In mortar the same takes 56 3/8 by 24 3/8 clear, and two courses with a joint between
// them are 15 5/8 high.
func TestHollowBlocksByHand(t *testing.T) {
	f := mustMake(t, "us", "hollow-block", "length=54 7/8 in", "width=23 5/8 in", "soil=12 in", "bury=1 in")
	cores := 12 * 15.625 * 7.625 * 7.625 / 2 / 1728
	if n := len(f.Units); n != 24 || math.Abs(f.Cavities[0].Heaped.CubicFeet()-cores) > 1e-6 ||
		f.Fittings[0].Count != 4 {
		t.Errorf(
			"%d blocks, %.4f cu ft in the cores, want %.4f, %d pins",
			n,
			f.Cavities[0].Heaped.CubicFeet(),
			cores,
			f.Fittings[0].Count,
		)
	}
	if act := f.Acts[len(f.Acts)-1]; !strings.Contains(act.Note, "24 pockets") || len(f.Cores) != 1 ||
		math.Abs(f.Cores[0].Volume.CubicFeet()/cores-1) > 1e-6 {
		t.Errorf("%s, %+v", act.Note, f.Cores)
	}
	mortared := mustMake(
		t,
		"us",
		"hollow-block",
		"laid=mortar",
		"length=56 3/8 in",
		"width=24 3/8 in",
		"soil=12 in",
		"bury=1 in",
	)
	if f.Rim != in*57/4 || mortared.Rim != in*117/8 || !f.Units[0].Dry || mortared.Units[0].Dry ||
		len(mortared.Units) != 24 {
		t.Errorf("%v high laid dry, %v in mortar", f.Rim, mortared.Rim)
	}
}

// Drainage stone by hand: inside a closed wall of 72 3/8 by 40 3/8 in, 12 in of soil: a
// strip of 6 in all round, corners once: 2 (72.375 + 40.375) - 4 x 6 in
// long. What is stone is not soil.
func TestDrainByHand(t *testing.T) {
	edits := []string{"unit=cmu8", "length=72 3/8 in", "width=40 3/8 in", "soil=12 in"}
	plain, stony := mustMake(
		t,
		"us",
		"block-wall",
		edits...), mustMake(
		t,
		"us",
		"block-wall",
		append(edits, "drain=stone")...)
	d := 6.0
	want := (2*(72.375+40.375) - 4*d) * d * 12 / 1728
	if got := stony.Drains[0].Volume.CubicFeet(); math.Abs(got/want-1) > 1e-6 {
		t.Errorf("%.4f cu ft, want %.4f", got, want)
	}
	if got := plain.Cavities[0].Net() - stony.Cavities[0].Net(); got != stony.Drains[0].Volume {
		t.Errorf("%v less soil for %v of stone", got, stony.Drains[0].Volume)
	}
	if cloth := stony.Sheets[len(stony.Sheets)-1]; cloth.Material != "drain-cloth" || cloth.Width != 12*in+2*turned {
		t.Errorf("%+v", cloth)
	}
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
		if x.Kind == frame.CapUnit {
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
		if x.Kind == frame.CapUnit || x.Course == 1 {
			continue
		}
		if x.Cut > 0 || x.Kind == frame.HalfUnit || !slices.ContainsFunc(f.Units, func(y frame.Unit) bool {
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
		units := c.UnitsOf(catalog.WallUnit, catalog.HollowUnit, catalog.Brick)
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
		f, b, err := made(
			c.ID,
			"block-wall",
			"unit="+u.ID,
			"walls="+shape,
			"length="+long.String(),
			"width="+wide.String(),
			"soil="+(measure.Length(4+r.IntN(8))*in).String(),
			"bury=1 in",
			"unit_cap="+[]string{"none", "butted", "mitred"}[r.IntN(3)],
			"bond="+[]string{"half", "half", "stack"}[r.IntN(3)],
		)
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

// A front cut to its length by hand: blocks of 12 in in 70 in. The first course is 5 whole
// ones and 10 in; the second half of one, 5 whole ones and 4. In 62 in the first has 4 whole
// ones, 9 in and 5 (2 would be a sliver), the second half, 4 whole and 8. Of any length:
// none is shorter than a quarter, all are as long together as it is, and joints lie a
// quarter from those below.
func TestFrontCutToFit(t *testing.T) {
	lengths := func(f frame.Frame, course int) (list []measure.Length) {
		for _, u := range f.Units {
			if u.Course == course && u.Kind != frame.CapUnit {
				lo, hi := u.Body.Bounds()
				list = append(list, hi.X-lo.X)
			}
		}
		return list
	}
	for long, want := range map[string][2][]measure.Length{
		"70 in": {{12 * in, 12 * in, 12 * in, 12 * in, 12 * in, 10 * in}, {6 * in, 12 * in, 12 * in, 12 * in, 12 * in,
			12 * in, 4 * in}},
		"62 in": {{12 * in, 12 * in, 12 * in, 12 * in, 9 * in, 5 * in}, {6 * in, 12 * in, 12 * in, 12 * in, 12 * in,
			8 * in}},
	} {
		f := mustMake(
			t,
			"us",
			"block-wall",
			"unit=wall12",
			"walls=straight",
			"fit=cut",
			"length="+long,
			"width=20 in",
			"soil=8 in",
			"bury=1 in",
		)
		for course := range 2 {
			if got := lengths(f, course+1); !slices.Equal(got, want[course]) {
				t.Errorf("%s, course %d: %v, want %v", long, course+1, got, want[course])
			}
		}
	}
	r := rand.New(rand.NewPCG(7, 7))
	for range 60 {
		c := catalog.Regions()[r.IntN(2)]
		units := c.UnitsOf(catalog.WallUnit, catalog.HollowUnit)
		u := units[r.IntN(len(units))]
		long := measure.Length(48+r.IntN(100))*in + measure.Length(r.IntN(16))*in/16
		f, b, err := made(
			c.ID,
			"block-wall",
			"unit="+u.ID,
			"walls=straight",
			"fit=cut",
			"length="+long.String(),
			"width=24 in",
			"soil=8 in",
			"bury=1 in",
		)
		if err != nil {
			t.Fatal(err)
		}
		if b.Length != long {
			t.Errorf("asked for %v, it is %v", long, b.Length)
		}
		if err := sound(f); err != nil {
			t.Fatalf("%s, %v: %v", u.ID, long, err)
		}
		if err := bond(f, u); err != nil {
			t.Fatalf("%s, %v: %v", u.ID, long, err)
		}
		for _, x := range f.Units {
			lo, hi := x.Body.Bounds()
			if hi.X-lo.X < u.Length/4 {
				t.Errorf("%s, %v: a sliver of %v", u.ID, long, hi.X-lo.X)
			}
		}
	}
}
