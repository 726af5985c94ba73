package frame

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

const mm = measure.Millimetre

func TestPrism(t *testing.T) {
	box := Box(Point{0, 0, 0}, Point{1000 * mm, 38 * mm, 140 * mm})
	if v := box.Volume(); v != 1000*38*140*measure.CubicMillimetre || !box.IsBox() {
		t.Errorf("volume %d, box %v", v, box.IsBox())
	}
	// A mitred rail 1000 long and 100 wide loses two triangles of 100 x 100 / 2.
	rail := Prism{Axis: Z, From: 0, To: 20 * mm, Outline: []Spot{{0, 0}, {1000 * mm, 0}, {900 * mm, 100 * mm}, {100 * mm, 100 * mm}}}
	if v := rail.Volume(); v != (1000*100-100*100)*20 || rail.IsBox() {
		t.Errorf("mitred volume %d, box %v", v, rail.IsBox())
	}
	// A pointed stake: its faces' normals point away from its middle.
	stake := Prism{Axis: Y, From: 0, To: 50 * mm, Outline: []Spot{{25 * mm, -100 * mm}, {50 * mm, 0}, {50 * mm, 600 * mm}, {0, 600 * mm}, {0, 0}}}
	for _, solid := range []Prism{box, rail, stake} {
		var middle [3]float64
		corners := solid.Corners()
		for _, c := range corners {
			for i, v := range []measure.Length{c.X, c.Y, c.Z} {
				middle[i] += float64(v) / float64(len(corners))
			}
		}
		for _, f := range solid.Faces() {
			c := f.Corners[0]
			out := f.Normal[0]*(float64(c.X)-middle[0]) + f.Normal[1]*(float64(c.Y)-middle[1]) + f.Normal[2]*(float64(c.Z)-middle[2])
			if size := math.Hypot(math.Hypot(f.Normal[0], f.Normal[1]), f.Normal[2]); out <= 0 || math.Abs(size-1) > 1e-9 {
				t.Errorf("axis %d: normal %v looks inwards or is not of unit length", solid.Axis, f.Normal)
			}
		}
	}
	if m := rail.Move(Point{5 * mm, 7 * mm, 9 * mm}); m.Volume() != rail.Volume() || m.Corners()[0] != (Point{5 * mm, 7 * mm, 9 * mm}) {
		t.Errorf("moved to %v", m.Corners()[0])
	}
	if _, ok := box.Slice(200*mm, 300*mm); ok {
		t.Error("a slice above the top is not empty")
	}
	if cut, ok := box.Slice(-mm, 40*mm); !ok || cut.Volume() != 1000*38*40 {
		t.Errorf("slice %v", cut)
	}
}

// Letters skip I and O, and go on with two letters.
func TestLetter(t *testing.T) {
	for n, want := range map[int]string{0: "A", 8: "J", 13: "P", 23: "Z", 24: "AA", 48: "BA"} {
		if got := letter(n); got != want {
			t.Errorf("letter(%d) = %s, want %s", n, got, want)
		}
	}
}
