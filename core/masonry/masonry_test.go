package masonry

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"chamfer/core/builder"
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
	f, err := builder.Build(d.Beds[0], c)
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

func kinds(f frame.Frame) map[frame.UnitKind]int {
	n := map[frame.UnitKind]int{}
	for _, u := range f.Units {
		n[u.Kind]++
	}
	return n
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
		f, b, err := made(
			region,
			"slotted",
			"length="+(measure.Length(40+r.IntN(120))*in).String(),
			"width="+(measure.Length(24+r.IntN(30))*in).String(),
			"soil="+(measure.Length(6+r.IntN(10))*in).String(),
			"bays="+fmt.Sprint(1+r.IntN(3)),
		)
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
			t.Fatalf(
				"clear %v by %v, asked for %v by %v",
				clear,
				f.Openings[0].Hi.V-f.Openings[0].Lo.V,
				b.Length,
				b.Width,
			)
		}
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
					small.Outline = append(
						small.Outline,
						frame.Spot{U: mid.U + (s.U-mid.U)*93/100, V: mid.V + (s.V-mid.V)*93/100},
					)
				}
				if frame.Overlap(a.Body, small) {
					return fmt.Errorf("%s, %s, stands in the soil", a.ID, a.Role)
				}
			}
		}
	}
	return nil
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
			"terraces": {"corners_at=0; 0; " + size(12, 40) + "; " + size(12, 40), "drain=" + []string{"none",
				"stone"}[r.IntN(2)]},
		}[system]
		if system == "fence-line" || system == "hollow-block" { // as many units as a page would step to
			kind := map[string]catalog.UnitKind{"fence-line": catalog.WallUnit, "hollow-block": catalog.HollowUnit}[system]
			u := c.UnitsOf(kind)[0]
			if system == "hollow-block" {
				u.Joint = 0
			}
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

// What cannot be is refused with what can.
func TestRefusals(t *testing.T) {
	for _, c := range []struct {
		name, system string
		edits        []string
		field, words string
	}{
		{"a length no bond makes", "block-wall", []string{"unit=cmu8", "length=75 in", "width=40 3/8 in"}, "length",
			"6' 3/8\" and 7' 4 3/8\" do"},
		{"tighter than the units allow", "ring", []string{"length=18 in"}, "length", "from "},
		{"no closing with touching units", "ring", []string{"unit=wall12", "ring_units=4"}, "ring_units",
			"gape outside: from "},
		{"higher than a dry wall bears", "block-wall", []string{"soil=36 in"}, "soil", "up to "},
		{"a way in wider than the basket", "keyhole", []string{"way_in=4 ft"}, "way_in", "up to "},
		{"a basket between the walls of the way", "keyhole", []string{"basket=30 in"}, "basket", "from 3' 3\" works"},
		{"a circle that does not close", "ring", []string{"unit=wall12", "length=36 in"}, "length",
			"2' 11 1/8\" and 3' 15/16\" do"},
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

// 2x12 boards, 11 1/4 in, in two stacked blocks of 5 1/2 in with two bays, by hand: six stacks of
// two, twelve blocks; two boards on each long side and three across. Bays are (96 - 1 1/2) / 2 =
// 47 1/4 in clear, their stacks 48 3/4 apart; a slot's bottom is 3 3/4 - 1 3/4 = 2 in from the
// middle, and 3 mm are left at either end: 44 3/4 in less 6 mm. The boards end 1/4 in above the
// blocks, and the blocks are the rim.
func TestSlottedOfOneWideBoard(t *testing.T) {
	f := mustMake(t, "us", "slotted", "soil=10 in", "board=2x12", "bays=2", "length=96 in", "width=48 in")
	if n := len(f.Units); n != 12 || len(f.Parts) != 7 || f.Courses() != 2 || f.Rim != 11*in {
		t.Errorf("%d blocks, %d boards, %d courses, rim %v", n, len(f.Parts), f.Courses(), f.Rim)
	}
	if got, want := f.Parts[0].Length, 44*in+3*in/4-6*measure.Millimetre; got != want {
		t.Errorf("a board is %v, by hand %v", got, want)
	}
	if _, top := f.Parts[0].Body.Bounds(); top.Z != 45*in/4 {
		t.Errorf("the boards' top is at %v", top.Z)
	}
	if !strings.Contains(f.Acts[0].Note, "The blocks end 1/4 in lower") {
		t.Errorf("nobody is told: %s", f.Acts[0].Note)
	}
	if _, _, err := made("us", "slotted", "soil=6 in", "board=2x10"); err == nil ||
		!strings.Contains(err.Error(), "within 1/2 in") {
		t.Errorf("9 1/4 in in blocks of 5 1/2: %v", err)
	}
}
