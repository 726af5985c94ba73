package masonry

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/frame"
	"chamfer/core/measure"
	_ "chamfer/core/timber" // beds start as boarded frames
)

// A poured wall by hand: 8 x 4 ft inside with corners of 12 in and a wall of 6 in, 12
// in of soil, 1 in above it and 4 in in the ground: 17 in. The rounded rectangles are a b
// - (4 - pi) r^2: 108 x 60 with 18 in outside, 96 x 48 with 12 in inside. Both faces: twice
// 2 (96 + 48 - 48) in straight and the circles of 12 and 18 in. Stakes every 24 in (600 mm,
// 23.6) and every 12 in (300 mm): 192 / 23.62 = 9 twice; 75.4 / 11.81 = 7, 113.1 / 11.81 =
// 10. Strips of 10 ft that lap 4 in (100 mm).
func TestPouredByHand(t *testing.T) {
	f := mustMake(
		t,
		"us",
		"poured",
		"length=96 in",
		"width=48 in",
		"soil=12 in",
		"freeboard=1 in",
		"rubble=25",
		"thick=6 in",
		"rounded=12 in",
	)
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
	for shape, line := range map[string]float64{"straight": 96, "l": 96 + 48 - 24 + math.Pi/2*15,
		"u": 96 + 96 - 48 + math.Pi*15} {
		f := mustMake(
			t,
			"us",
			"poured",
			"walls="+shape,
			"length=96 in",
			"width=48 in",
			"soil=12 in",
			"freeboard=1 in",
			"thick=6 in",
			"rounded=12 in",
		)
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
	f = mustMake(
		t,
		"us",
		"poured",
		"length=96 in",
		"width=48 in",
		"soil=12 in",
		"freeboard=1 in",
		"thick=8 in",
		"rounded=0 in",
		"fall=8 in",
	)
	if got, want := f.Pours[0].Volume.CubicFeet(), float64(112*64-96*48)*21/1728; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("on a slope %.4f cu ft, want %.4f", got, want)
	}
	if got, want := f.Cavities[0].Net().CubicFeet(), 96.0*48*16/1728; math.Abs(got/want-1) > 1e-6 {
		t.Errorf("on a slope %.4f of soil, want %.4f", got, want)
	}
	for edits, words := range map[string]string{"fall=3 ft": "for terraces", "thick=2 in": "cracks or wastes",
		"rounded=30 in": "do not fit", "rounded=2 in": "kinks"} {
		if _, _, err := made("us", "poured", edits); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edits, err)
		}
	}
}
