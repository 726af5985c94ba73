package strength

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

// Gravity walls by hand, overturning FSo = 3 gw B^2 / (EFP H^2) and sliding FSs =
// 2 mu gw B / (EFP H), with EFP = Ka gs: solid masonry of 135 pcf, EFP 30 pcf, mu
// 0.35 (IBC Tables 1610.1 and 1806.2), and 22 kN/m3 against soil of 18, phi 30, mu 0.5.
func TestGravityWalls(t *testing.T) {
	in, mm := measure.Inch, measure.Millimetre
	pcf := 16.018463
	for _, w := range []struct {
		base, height     measure.Length
		density, fluid   float64
		friction         float64
		tipping, sliding float64
	}{
		{in * 61 / 8, 24 * in, 135 * pcf, Drained, OnGravel, 1.363, 1.001},
		{in * 61 / 8, 16 * in, 135 * pcf, Drained, OnGravel, 3.07, 1.50},
		{in * 93 / 8, 24 * in, 135 * pcf, Drained, OnGravel, 3.167, 1.526},
		{200 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 1.222, 1.222},
		{250 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 1.910, 1.528},
		{300 * mm, 600 * mm, 22000 / gravity, 18000.0 / 3, 0.5, 2.750, 1.833},
	} {
		got := Gravity{w.base, w.height, w.density, w.fluid, w.friction}.Check()
		if math.Abs(got.Tipping/w.tipping-1) > 0.003 || math.Abs(got.Sliding/w.sliding-1) > 0.003 {
			t.Errorf("%v thick, %v high: %.3f and %.3f, want %v and %v", w.base, w.height, got.Tipping, got.Sliding, w.tipping, w.sliding)
		}
		if got.Holds() != (w.tipping >= Safe && w.sliding >= Safe) {
			t.Errorf("%v thick, %v high holds: %v", w.base, w.height, got.Holds())
		}
	}
}
