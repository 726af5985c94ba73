package strength

import (
	"math"
	"testing"
)

// Reactions, bending and shear of beams that handbooks tell: AWC Design Aid No. 6 and AISC
// Manual Tables 3-22c and 3-23 for even loads, statics for the rest. All of 1 m spans.
func TestRowsOfHandbooks(t *testing.T) {
	for _, c := range []struct {
		name          string
		row           Row
		on            []float64
		moment, shear float64
	}{
		{"one span", Row{To: 1, At: []float64{0, 1}, Each: 8}, []float64{4, 4}, 1, 4},
		{"two spans", Row{To: 2, At: []float64{0, 1, 2}, Each: 8}, []float64{3, 10, 3}, 1, 5},
		{"three spans", Row{To: 3, At: []float64{0, 1, 2, 3}, Each: 10}, []float64{4, 11, 11, 4}, 1, 6},
		{"a load in the middle", Row{To: 1, At: []float64{0, 1}, Points: []Point{{0.5, 4}}}, []float64{2, 2}, 1, 2},
		{"a cantilever", Row{To: 2, At: []float64{0, 1}, Points: []Point{{2, 3}}}, []float64{-3, 6}, 3, 3},
		{"standing out on both sides", Row{From: -1, To: 2, At: []float64{0, 1}, Each: 2}, []float64{3, 3}, 1, 2},
		{"over one support", Row{To: 2, At: []float64{1}, Each: 2}, []float64{4}, 1, 2},
		// Two spans, one loaded in its middle: 13/32, 22/32 and -3/32 of it; 13/64 P L.
		{"one of two spans loaded", Row{To: 2, At: []float64{0, 1, 2}, Points: []Point{{0.5, 32}}}, []float64{13, 22,
			-3}, 6.5, 19},
	} {
		for _, soft := range []bool{false, true} {
			r := c.row
			if soft { // supports that hardly give say the same
				r.Gives, r.EI = make([]float64, len(r.At)), 1
			}
			got := r.Carry()
			for i, want := range c.on {
				if math.Abs(got.On[i]-want) > 1e-6 {
					t.Errorf("%s: support %d carries %.4f, want %.4f", c.name, i, got.On[i], want)
				}
			}
			if math.Abs(got.Moment-c.moment) > 1e-6 || math.Abs(got.Shear-c.shear) > 1e-6 {
				t.Errorf(
					"%s: bent %.4f, sheared %.4f, want %.4f and %.4f",
					c.name,
					got.Moment,
					got.Shear,
					c.moment,
					c.shear,
				)
			}
		}
	}
	// 5 w L⁴/384 E I, w L⁴/184.6 E I, 0.006884 w L⁴/E I.
	for spans, want := range map[int]float64{1: 5.0 / 384, 2: 1 / 184.6, 3: 0.006884} {
		r := Row{To: float64(spans), Each: 1}
		for i := range spans + 1 {
			r.At = append(r.At, float64(i))
		}
		if got := r.Bow(1); math.Abs(got/want-1) > 0.005 {
			t.Errorf("%d spans bow %.6f, want %.6f", spans, got, want)
		}
	}
	// A middle support that gives without end carries nothing; one that gives as much as the
	// beam between the others carries half of what a firm one would.
	r := Row{To: 2, At: []float64{0, 1, 2}, Each: 8, Gives: []float64{0, 1e9, 0}, EI: 1}
	if got := r.Carry(); math.Abs(got.On[1]) > 1e-6 || math.Abs(got.Moment-4) > 1e-6 {
		t.Errorf("over nothing: %+v", got)
	}
	r.Gives[1] = 8.0 / 48 // L³/48 E I of the two metres
	if got := r.Carry(); math.Abs(got.On[1]-5) > 1e-6 {
		t.Errorf("over a spring: %+v", got)
	}
}
