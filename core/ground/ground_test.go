package ground

import (
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Strips by hand. A roll 48 in wide lapped 6 in: 51 in across takes 2 strips
// (48 + 42 = 90), 99 in takes 3 (48 + 42 + 42 = 132). Under 99 x 51 in that is
// 2 strips of 99 (198 in) or 3 of 51 (153 in): across.
func TestLayByHand(t *testing.T) {
	in := measure.Inch
	roll := catalog.Sheet{RollWidth: 48 * in, RollLength: 600 * in, Lap: 6 * in}
	for _, c := range []struct {
		l, w, turn measure.Length
		strips     int
		strip      measure.Length
	}{
		{99 * in, 51 * in, 0, 3, 51 * in},
		{99 * in, 48 * in, 0, 1, 99 * in},
		{90 * in, 90 * in, 0, 2, 90 * in},
		{90*in + 1, 90*in + 1, 0, 3, 90*in + 1},
		{84 * in, 40 * in, 3 * in, 1, 90 * in}, // turned up 3 in: 90 x 46
	} {
		got := lay(frame.Sheet{Length: c.l, Width: c.w, TurnUp: c.turn}, roll)
		if got.Strips != c.strips || got.Strip != c.strip || got.Total != c.strip*measure.Length(c.strips) {
			t.Errorf("%v x %v: %d strips of %v", c.l, c.w, got.Strips, got.Strip)
		}
	}
}
