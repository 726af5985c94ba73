package masonry

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	_ "chamfer/core/timber" // beds start as boarded frames
)

// Terraces by hand: a plot 10 ft deep that rises 24 in evenly, two terraces of 60 in,
// walls of 12 in; levels at 12 and 24 in. Over a terrace the ground rises from 12 below
// its level to it, and 8 in of soil begin 4 in above its lowest: a third of the depth is
// raised, half of 20 x 4 in, and two thirds dug, half of 40 x 8 in, along 120. A
// level in the middle of an even slope cuts as much as it fills: an eighth of depth x
// rise each. Both against adding up by hand.
func TestTerracesByHand(t *testing.T) {
	f, _, err := made(
		"us",
		"terraces",
		"length=120 in",
		"width=120 in",
		"corners_at=0; 0; 24 in; 24 in",
		"terraces=2",
		"unit=wall12",
		"soil=8 in",
	)
	if err != nil {
		t.Fatal(err)
	}
	if len(f.Levels) != 2 || f.Levels[0].Wall != 12*in || f.Levels[0].Height != 12*in || f.Levels[1].Height != 24*in {
		t.Fatalf("%+v", f.Levels)
	}
	raised, dug := 120*20*4/2/1728.0, 120*40*8/2/1728.0
	for _, l := range f.Levels {
		if math.Abs(l.Fill.CubicFeet()/raised-1) > 1e-2 || math.Abs(l.Cut.CubicFeet()/dug-1) > 1e-2 {
			t.Errorf(
				"cut %.3f, fill %.3f cu ft, want %.3f and %.3f",
				l.Cut.CubicFeet(),
				l.Fill.CubicFeet(),
				dug,
				raised,
			)
		}
	}
	s := slope{at: [4]measure.Length{0, 0, 40 * in, 40 * in}, long: 100 * in, deep: 80 * in}
	cut, fill := s.moved(0, 1, 20*in)
	if each := 100 * 80 * 40 / 8 / 1728.0; math.Abs(cut.CubicFeet()/each-1) > 1e-3 ||
		math.Abs(fill.CubicFeet()/each-1) > 1e-3 {
		t.Errorf("cut %.3f, fill %.3f, want %.3f each", cut.CubicFeet(), fill.CubicFeet(), each)
	}
	if err := sound(frame.Frame{Units: f.Units}); err != nil {
		t.Error(err)
	}
	// Sliding by hand, 2 mu g B / (EFP H) with 131 pcf (13.2 kg in 12 x 8 x 4 in), mu 0.35:
	// with EFP 110/3 for soaked soil 1.5 at 13.3 in, with 100/3 behind stone at 14.7 in.
	c, _ := catalog.ForRegion("us")
	drained := design.Bed{Options: map[string]string{drainKey: "stone"}}
	if u, _ := c.Unit("wall12"); !stands(design.Bed{}, 13*in, u) || stands(design.Bed{}, 14*in, u) ||
		!stands(drained, 14*in, u) || stands(drained, 15*in, u) || !holds(design.Bed{}, 16*in, u) {
		t.Error(
			"a wall of 14 in that holds soaked ground up slides, and so does one of 15 in behind stone; an inch" +
				" less stands",
		)
	}
	// Where the slope goes on above, walls are lower and there are more; below a drive
	// there are none.
	count := func(above string) int {
		return len(
			mustMake(
				t,
				"us",
				"terraces",
				"length=120 in",
				"width=120 in",
				"corners_at=0; 0; 40 in; 40 in",
				"unit=wall12",
				"soil=6 in",
				"above="+above,
			).Levels,
		)
	}
	if level, hill := count("soil"), count("slope"); hill <= level {
		t.Errorf("%d terraces below level soil, %d below a slope", level, hill)
	}
	if _, _, err := made("us", "terraces", "above=drive"); err == nil ||
		!strings.Contains(err.Error(), "licensed engineer") {
		t.Errorf("below a drive: %v", err)
	}
	// Auto takes as few as stand; what is too high, too steep or too shallow is refused.
	g := mustMake(
		t,
		"us",
		"terraces",
		"length=120 in",
		"width=120 in",
		"corners_at=0; 0; 40 in; 36 in",
		"unit=wall12",
		"soil=8 in",
	)
	if len(g.Levels) < 2 || g.Levels[0].Wall > engineered {
		t.Errorf("%+v", g.Levels)
	}
	for edits, words := range map[string]string{"terraces=1": "licensed engineer",
		"corners_at=0; 0; 2 in; 2 in": "on the level", "corners_at=0; 0; 9 m; 9 m": "hillside",
		"corners_at=0; 0; 24 in": "four corners", "terraces=8": "too little to plant"} {
		list := []string{"length=120 in", "width=120 in", "unit=wall12", "soil=8 in"}
		if !strings.HasPrefix(edits, "corners") {
			list = append(list, "corners_at=0; 0; 40 in; 40 in")
		}
		if _, _, err := made("us", "terraces", append(list, edits)...); err == nil ||
			!strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edits, err)
		}
	}
}
