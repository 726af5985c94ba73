package design_test

import (
	"strings"
	"testing"

	. "chamfer/core/design"
	"chamfer/core/measure"
)

// Points are read as they are written, and as people write them.
func TestPointsRead(t *testing.T) {
	in := measure.Inch
	want := []Point{{}, {48 * in, 18 * in}, {96 * in, in / 2}}
	for _, text := range []string{"0 out 0; 4 ft out 18 in; 8' out 1/2\"", "0, 0; 48, 18; 96, 0.5",
		"0 out 0;48 in out 1' 6\" ;8 ft, ½\";", WritePoints(want)} {
		got, err := ReadPoints(text, measure.Imperial)
		if err != nil || len(got) != 3 || got[0] != want[0] || got[1] != want[1] || got[2] != want[2] {
			t.Errorf("%s: %v, %v", text, got, err)
		}
	}
	if got, err := ReadPoints("2,4 m out 0,3 m; 1,5 m, 300", measure.Metric); err != nil || len(got) != 2 ||
		got[0] != (Point{2400 * measure.Millimetre, 300 * measure.Millimetre}) ||
		got[1] != (Point{1500 * measure.Millimetre, 300 * measure.Millimetre}) {
		t.Errorf("%v, %v", got, err)
	}
	for _, text := range []string{"48", "4 out", "out 4", "x out 4", "4 out -3", "1;2", strings.Repeat("1 out 1;", 25)} {
		if got, err := ReadPoints(text, measure.Imperial); err == nil || !strings.Contains(err.Error(), "work") &&
			!strings.Contains(err.Error(), "write points") {
			t.Errorf("%s: %v, %v", text, got, err)
		}
	}
	// Pulled to twice as far along and half as far out, what lies between goes with it.
	if got := Stretched(want, 192*in, 9*in); WritePoints(got) !=
		WritePoints([]Point{{}, {2438 * measure.Millimetre, 9 * in}, {192 * in, 6 * measure.Millimetre}}) {
		t.Errorf("pulled: %s", WritePoints(got))
	}
}
