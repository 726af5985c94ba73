package addition_test

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	_ "chamfer/core/masonry" // registers its systems
	"chamfer/core/measure"
	"chamfer/core/strength"
	_ "chamfer/core/timber" // registers its systems
)

// built is a bed of a system with edits, or why there is none.
func built(t *testing.T, region, system string, edits ...string) (frame.Frame, error) {
	t.Helper()
	c, err := catalog.ForRegion(region)
	if err != nil {
		t.Fatal(err)
	}
	list := []design.Edit{{Bed: "b1", Field: "system", Value: system}}
	for _, e := range edits {
		field, value, _ := strings.Cut(e, "=")
		list = append(list, design.Edit{Bed: "b1", Field: field, Value: value})
	}
	d, err := design.Apply(design.New(c, "a bed"), c, list...)
	if err != nil {
		return frame.Frame{}, err
	}
	return builder.Build(d.Beds[0], c)
}

func fitting(f frame.Frame, id string) frame.Fitting {
	for _, x := range f.Fittings {
		if x.ID == "b1."+id {
			return x
		}
	}
	return frame.Fitting{}
}

// A fence by hand round a box of 96 by 48 in of 2x boards, 99 by 51 in outside, 30 in away, of
// posts 3 1/2 in square: their outer faces enclose 166 by 118 in, and what is 162 1/2 by 114 1/2
// between posts' corners is parted by no more than 2400 mm (94 1/2 in): back into two, ends into
// two; the front has a gate of 36 in and its two posts, (162 1/2 - 36 - 3 1/2) / 2 = 61 1/2 in
// from the corners. So 4 corners, one in the back, one in each end, two at the gate: 9. Net
// goes round 2 (162 1/2 + 114 1/2) less the gate, and once over that.
func TestFenceByHand(t *testing.T) {
	f, err := built(t, "us", "plain-box", "board=2x10", "length=96 in", "width=48 in", "soil=8 in", "fence=net",
		"fence_high=7 ft",
		"fence_off=30 in", "gate=person")
	if err != nil {
		t.Fatal(err)
	}
	posts, gate := 0, 0
	for _, p := range f.Parts {
		switch p.Kind {
		case frame.FencePost:
			posts++
			lo, hi := p.Body.Bounds()
			if hi.Z != 84*measure.Inch || hi.X-lo.X != 7*measure.Inch/2 {
				t.Errorf("%s to %v, %v wide", p.ID, hi.Z, hi.X-lo.X)
			}
			// The ground holds half of what hangs to either side, bare net a quarter of it solid
			// (Broms 1964, and ASCE 7-16's least wind; see strength).
			push := strength.Gusts * strength.NetSolid * (162.5 * 0.0254 / 2) * 84 * 0.0254
			pole := strength.Pole{Height: 42 * measure.Inch, Wide: 7 * measure.Inch / 2, Deep: -lo.Z}
			if pole.Most() < push*strength.BriefFactor {
				t.Errorf("%v deep bears %.0f N of %.0f", -lo.Z, pole.Most(), push*strength.BriefFactor)
			}
		case frame.GatePart:
			gate++
		}
	}
	if posts != 9 || gate != 5 {
		t.Errorf("%d posts and %d pieces of gate", posts, gate)
	}
	if got, want := fitting(f, "net").Each.Inches(), 2*(162.5+114.5); math.Abs(got-want) > 1e-6 {
		t.Errorf("%.2f in of net, want %.2f", got, want)
	}
	if n := fitting(f, "net-staples").Count; n != (9+2)*15 { // 84 in and every 150 mm (5.9 in): 15 a post, and a stile
		t.Errorf("%d staples", n)
	}
	for _, e := range []string{"fence_high=9 ft", "fence_off=3 in", "on=slab"} {
		if _, err := built(t, "us", "plain-box", "fence=net", e); err == nil || !strings.Contains(err.Error(), "works") {
			t.Errorf("%s: %v", e, err)
		}
	}
}

// Hoops over a wall of blocks: pins in the soil hold half an inch by 18 in, 0.5 x 110 lb/ft3 x D
// L^2 x 3 by Broms, and two thirds of that under wind. A quarter of the wind on the net between
// two hoops comes to a foot where half of it is solid.
func TestHoopsOnBlocks(t *testing.T) {
	f, err := built(t, "metric", "block-wall", "length=2400 mm", "width=1200 mm", "hoops=pipe", "hoop_rise=600 mm",
		"fit=whole")
	if err != nil {
		if f, err = built(t, "metric", "hollow-block", "hoops=pipe", "hoop_rise=600 mm"); err != nil {
			t.Fatal(err)
		}
	}
	pins, hoops := fitting(f, "clips"), fitting(f, "hoops")
	if pins.Kind != "pin" || pins.Count != 2*hoops.Count || pins.Screws != 0 || !pins.Feet {
		t.Errorf("%+v", pins)
	}
	apart := (hoops.Lines[1][0].X - hoops.Lines[0][0].X).Metres()
	holds := 0.5 * 110 * 157.087 * 0.012 * 0.45 * 0.45 * 3 / 1.5
	if load := strength.Gusts * 0.5 * apart * 0.6 / 2; load > holds || apart < 0.3 {
		t.Errorf("%.2f m apart: %.1f N on pins good for %.1f", apart, load, holds)
	}
	// Boards thick enough take straps, thin ones do not.
	for board, kind := range map[string]string{"200x50": "clip", "150x22": "pin"} {
		f, err := built(t, "metric", "staked", "board="+board, "hoops=pipe", "soil=150 mm")
		if err == nil && fitting(f, "clips").Kind != kind {
			t.Errorf("%s: %s", board, fitting(f, "clips").Kind)
		}
	}
}

// Mesh under walls of stone: a basket for each bed, its corners' rectangle and what is turned up,
// held by the soil; an upper ring stands on soil and has none.
func TestMeshUnderStone(t *testing.T) {
	f, err := built(t, "us", "block-wall", "mesh=mesh", "turn_up=4 in")
	if err != nil {
		t.Fatal(err)
	}
	o := f.Openings[0]
	n := 0
	for _, s := range f.Sheets {
		if s.Material != "mesh" {
			continue
		}
		n++
		if s.Length != o.Hi.U-o.Lo.U || s.Width != o.Hi.V-o.Lo.V || s.TurnUp != 4*measure.Inch || s.Stapled != 0 ||
			!s.Inside {
			t.Errorf("%+v in %+v", s, o)
		}
	}
	if n != 1 {
		t.Errorf("%d baskets", n)
	}
	if f, err = built(t, "us", "ring", "tiers=2", "mesh=mesh"); err != nil {
		t.Fatal(err)
	}
	n = 0
	for _, s := range f.Sheets {
		if s.Material == "mesh" {
			n++
		}
	}
	if n != 1 {
		t.Errorf("%d baskets under two rings", n)
	}
	if _, err = built(t, "us", "block-wall", "mesh=mesh", "turn_up=40 in"); err == nil {
		t.Error("mesh turned up above the soil")
	}
}

// In outlines of any shape hoops and strings end at the walls: by hand in a trapezoid of 2400 mm
// in front, 1500 behind and 1100 deep; a string along the middle of the depth is 1950 mm long.
func TestAcrossAnyOutline(t *testing.T) {
	f, err := built(t, "metric", "outlined", "grid=string", "grid_cell=550 mm", "hoops=pipe", "hoop_rise=600 mm",
		"outline=0 out 0; 2400 mm out 0; 1950 mm out 1100 mm; 450 mm out 1100 mm", "soil=150 mm")
	if err != nil {
		t.Fatal(err)
	}
	found := false
	for _, l := range fitting(f, "string").Lines {
		if l[0].Y == l[1].Y {
			found = true
			if got := (l[1].X - l[0].X).Metres(); math.Abs(got-1.95) > 1e-6 {
				t.Errorf("a string of %.4f m, want 1.95", got)
			}
		}
	}
	if !found {
		t.Error("no string runs along")
	}
	inside := frame.Prism{Axis: frame.Z, From: -measure.Metre, To: 3 * measure.Metre, Outline: f.Openings[0].Round}
	lo, hi := inside.Bounds()
	for _, x := range f.Fittings {
		for _, l := range x.Lines {
			for _, p := range l {
				if p.X < lo.X-2 || p.X > hi.X+2 || p.Y < lo.Y-2 || p.Y > hi.Y+2 {
					t.Errorf("%s at %v", x.ID, p)
				}
			}
		}
	}
}
