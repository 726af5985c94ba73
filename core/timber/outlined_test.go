package timber

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// A trapezoid by hand: 96 in along the front, 60 along the back, 44 deep. Its slanted sides are
// hypot(18, 44) = 47.539 in; the front corners are atan(44/18) = 67.751 deg, so that walls turn by
// 112.249 there and by 67.751 at the back, and ends are cut at half of that. Boards of 1 1/2 in
// reach past a corner by 1 1/2 tan(turn / 2): 2.2350 in at the front and 1.0067 at the back.
func TestTrapezoidByHand(t *testing.T) {
	f, _, err := built("us", "outlined", "board=2x8", "species=cedar", "soil=7 in", "freeboard=0 in",
		"outline=0 out 0; 96 in out 0; 78 in out 44 in; 18 in out 44 in")
	if err != nil {
		t.Fatal(err)
	}
	front, back := 1.5*math.Tan(112.2490/2*math.Pi/180), 1.5*math.Tan(67.7510/2*math.Pi/180)
	side := math.Hypot(18, 44)
	for i, want := range []float64{96 + 2*front, side + front + back, 60 + 2*back, side + front + back} {
		p := f.Parts[i]
		if math.Abs(p.Length.Inches()-want) > 1e-3 {
			t.Errorf("side %d is %.4f in, want %.4f", i+1, p.Length.Inches(), want)
		}
		cut := p.Bevels()
		for e, turn := range [][2]float64{{112.249, 112.249}, {112.249, 67.751}, {67.751, 67.751}, {67.751, 112.249}}[i] {
			if math.Abs(cut[e]-turn/2) > 1e-3 {
				t.Errorf("side %d: end %d cut at %.3f, want %.3f", i+1, e+1, cut[e], turn/2)
			}
		}
		// What it fills is its length less half of what its two ends lose, by its section.
		lost := (1.5*math.Tan(cut[0]*math.Pi/180) + 1.5*math.Tan(cut[1]*math.Pi/180)) / 2
		if got, want := p.Body.Volume().CubicFeet()*1728, (want-lost)*1.5*7.25; math.Abs(got/want-1) > 1e-5 {
			t.Errorf("side %d fills %.3f cu in, want %.3f", i+1, got, want)
		}
	}
	if got, want := f.PlantingArea().SquareFeet()*144, (96.+60)/2*44; math.Abs(got/want-1) > 1e-9 {
		t.Errorf("planting %.2f sq in, want %.2f", got, want)
	}
	if f.Parts[1].EndWords() != "one end mitred at 33.9°, the other at 56.1°, measured to the long points" ||
		!strings.Contains(f.Fittings[0].Place, "67.8°, 112.2°") {
		t.Errorf("%s; %s", f.Parts[1].EndWords(), f.Fittings[0].Place)
	}
	// The largest circle inside touches front and back, 22 in; in a square of 40 in, 20; in a
	// triangle of 300 by 400 by 500 mm times four, (a + b - c) / 2 times four: 400 mm.
	for _, c := range []struct {
		corners []design.Point
		radius  float64
	}{
		{[]design.Point{{U: 0, V: 0}, {U: 96, V: 0}, {U: 78, V: 44}, {U: 18, V: 44}}, 22},
		{[]design.Point{{U: 0, V: 0}, {U: 40, V: 0}, {U: 40, V: 40}, {U: 0, V: 40}}, 20},
		{[]design.Point{{U: 0, V: 0}, {U: 1600, V: 0}, {U: 0, V: 1200}}, 400},
	} {
		for i, p := range c.corners {
			c.corners[i] = design.Point{U: p.U * measure.Millimetre, V: p.V * measure.Millimetre}
		}
		if got := float64(inscribed(spots(c.corners))) / 1e6; math.Abs(got-c.radius) > 1e-5 {
			t.Errorf("radius %.3f, want %.3f", got, c.radius)
		}
	}
}

// A drawn octagon is the one of eight sides, but for whole nanometres.
func TestDrawnIsSided(t *testing.T) {
	of, bed, err := built("metric", "sided", "length=1200 mm", "soil=200 mm")
	if err != nil {
		t.Fatal(err)
	}
	var points []design.Point
	for _, c := range of.Openings[0].Round {
		points = append(points, design.Point(c))
	}
	drawn, _, err := built("metric", "outlined", "board="+bed.Board, "species="+bed.Species, "soil=200 mm",
		"outline="+design.WritePoints(points))
	if err != nil {
		t.Fatal(err)
	}
	if len(drawn.Parts) != len(of.Parts) || len(drawn.Joints) != len(of.Joints) {
		t.Fatalf("%d parts and %d joints, want %d and %d", len(drawn.Parts), len(drawn.Joints), len(of.Parts), len(of.Joints))
	}
	for i, p := range drawn.Parts {
		q := of.Parts[i]
		if d := p.Length - q.Length; d > 10 || d < -10 || math.Abs(p.Bevels()[0]-q.Bevels()[0]) > 1e-5 ||
			math.Abs(p.Body.Volume().CubicMetres()/q.Body.Volume().CubicMetres()-1) > 1e-6 {
			t.Errorf("%s: %v at %v, want %v at %v", p.ID, p.Length, p.Bevels(), q.Length, q.Bevels())
		}
	}
	for i, p := range drawn.Parts {
		for _, q := range drawn.Parts[i+1:] {
			if frame.Overlap(p.Body, q.Body) {
				t.Errorf("%s and %s share room", p.ID, q.ID)
			}
		}
	}
}

func TestOutlineRefuses(t *testing.T) {
	for edit, words := range map[string]string{
		"outline=0 out 0; 96 in out 0": "from 3 to 12",
		"outline=0 out 0; 96 in out 0; 96 in out 60 in; 48 in out 30 in; 0 out 60 in": "turns inwards",
		"outline=0 out 0; 0 out 60 in; 96 in out 60 in; 96 in out 0":                  "turns inwards",
		"outline=0 out 0; 96 in out 0; 96 in out 5 in; 0 out 60 in":                   "too short for a bracket",
		"outline=0 out 0; 48 in out 0; 96 in out 1 in; 90 in out 60 in":               "leave that corner out",
		"outline=0 out 0; 96 in out 0; 0 out 20 in":                                   "no saw cuts",
		"outline=0 out 0; 96 in out 60; 96 in out 0; 0 out 60 in":                     "",
		"outline=0 out 0; 60 in out 0; 60 in out -5 in":                               "write points",
		"board=1x6": "brackets in the corners",
	} {
		if _, _, err := built("us", "outlined", edit); err == nil || !strings.Contains(err.Error(), words) {
			t.Errorf("%s: %v", edit, err)
		}
	}
}

// built is a bed of a system with edits, or why there is none.
func built(region, system string, edits ...string) (f frame.Frame, b design.Bed, err error) {
	c, err := catalog.ForRegion(region)
	if err != nil {
		return f, b, err
	}
	d, err := design.Apply(design.New(c, "a bed"), c, design.Edit{Bed: "b1", Field: "system", Value: system})
	if err != nil {
		return f, b, err
	}
	var list []design.Edit
	for _, e := range edits {
		field, value, _ := strings.Cut(e, "=")
		list = append(list, design.Edit{Bed: "b1", Field: field, Value: value})
	}
	if d, err = design.Apply(d, c, list...); err != nil {
		return f, b, err
	}
	f, err = builder.Build(d.Beds[0], c)
	return f, d.Beds[0], err
}
