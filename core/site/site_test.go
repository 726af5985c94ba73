package site

import (
	"math/rand/v2"
	"testing"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

const m = measure.Metre

// box is a frame of one block of a size.
func box(l, w measure.Length) frame.Frame {
	return frame.Frame{Parts: []frame.Part{{Body: frame.Box(frame.Point{}, frame.Point{X: l, Y: w, Z: m / 2})}}}
}

// Three beds by hand on a plot of 6 x 5 m with paths of 0.5 m: the first of 2 x 1
// at 0.5, 0.5; the second beside it at 3, 0.5 (it ends at 5, and a path is left);
// the third of 2 x 1 finds no room there, and goes behind at 0.5, 2. Between the
// first two 0.5 m, between first and third 0.5 m; the fence on the right is 1 m
// from the second bed.
func TestArrangeByHand(t *testing.T) {
	beds := []design.Bed{{ID: "b1", Count: 2}, {ID: "b2"}}
	plot := design.Plot{Width: 6 * m, Depth: 5 * m, Fences: []string{"right"}}
	l := Arrange(beds, []frame.Frame{box(2*m, m), box(2*m, m)}, plot, true, m/2)
	for i, want := range []frame.Spot{{U: m / 2, V: m / 2}, {U: 3 * m, V: m / 2}, {U: m / 2, V: 2 * m}} {
		if l.Stands[i].Lo != want {
			t.Errorf("bed %d at %v, want %v", i, l.Stands[i].Lo, want)
		}
	}
	wide := map[[2]int]measure.Length{}
	for _, g := range l.Gaps {
		wide[[2]int{g.A, g.B}] = g.Wide
	}
	if wide[[2]int{0, 1}] != m/2 || wide[[2]int{0, 2}] != m/2 || wide[[2]int{1, -1}] != m || len(l.Tight()) != 0 ||
		len(l.Off()) != 0 {
		t.Errorf("gaps %v, tight %v, off %v", wide, l.Tight(), l.Off())
	}
	// Moved: the second by 0.47 to the left comes up against the first (its edge at
	// 2.5, it would stand at 2.53); far over the left edge, to the edge.
	if to := l.Moved(1, frame.Spot{U: -470 * measure.Millimetre},
		10*measure.Millimetre); to != (frame.Spot{U: 5 * m / 2, V: m / 2}) {
		t.Errorf("moved to %v, want against its neighbour", to)
	}
	if to := l.Moved(2, frame.Spot{U: -9 * m, V: 333 * measure.Millimetre},
		10*measure.Millimetre); to != (frame.Spot{V: 233 * m / 100}) {
		t.Errorf("moved to %v, want the edge", to)
	}
	// Turned and set: 1 x 2 at 0, 0 it closes up to nothing on the left; a bed 0.3
	// m from another leaves no way through; one over the edge is told.
	beds[0].Places = []design.Place{{Turned: true}, {X: 13 * m / 10}}
	beds[1].Places = []design.Place{{X: 5 * m, Y: 4 * m}}
	l = Arrange(beds, []frame.Frame{box(2*m, m), box(2*m, m)}, plot, true, m/2)
	if s := l.Stands[0]; s.Hi != (frame.Spot{U: m, V: 2 * m}) || !s.Turned {
		t.Errorf("turned it takes %v", s.Hi)
	}
	if tight := l.Tight(); len(tight) != 1 || tight[0].Wide != 3*m/10 || len(l.Off()) != 1 {
		t.Errorf("tight %v, off %v", tight, l.Off())
	}
}

// However many beds of whatever sizes: left to itself the layout leaves a path
// round each of them, and gives the same places every time.
func TestArrangeLeavesPaths(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 50 {
		var beds []design.Bed
		var frames []frame.Frame
		for range 1 + r.IntN(8) {
			beds = append(beds, design.Bed{ID: "b", Count: 1 + r.IntN(4)})
			frames = append(
				frames,
				box(
					measure.Length(500+r.IntN(3000))*measure.Millimetre,
					measure.Length(300+r.IntN(1200))*measure.Millimetre,
				),
			)
		}
		plot := design.Plot{Width: 8 * m, Depth: 6 * m}
		l := Arrange(beds, frames, plot, false, 450*measure.Millimetre)
		if len(l.Tight()) > 0 || len(l.Overlaps()) > 0 || len(l.Off()) > 0 {
			t.Fatalf("tight %v, overlaps %v, off %v", l.Tight(), l.Overlaps(), l.Off())
		}
		again := Arrange(beds, frames, plot, false, 450*measure.Millimetre)
		for i := range l.Stands {
			if l.Stands[i] != again.Stands[i] {
				t.Fatalf("bed %d stands elsewhere the second time", i)
			}
		}
	}
}
