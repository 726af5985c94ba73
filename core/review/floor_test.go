package review

import (
	"math"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Slats of 48 in that run on over one beam in their middle bring it five eighths of what is
// on them (AISC Manual Table 3-22c: 10/8 of a span), 30 in of the floor, and a side 9 in;
// over two beams each gets 1.1 of a third (Table 3-23). By hand: a foot of wet soil of the
// heaviest fill there is, over 30 in.
func TestBeamsUnderSlatsThatRunOn(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	slat := frame.Part{
		ID:        "slat",
		Kind:      frame.Slat,
		Species:   "cedar",
		Profile:   "2x6",
		Width:     5*in + in/2,
		Thickness: in * 3 / 2,
	}
	rail := frame.Part{
		ID:        "rail",
		Kind:      frame.Ledger,
		Species:   "cedar",
		Profile:   "2x4",
		Width:     3*in + in/2,
		Thickness: in * 3 / 2,
	}
	f := frame.Frame{Parts: []frame.Part{slat, rail}}
	r := &reviewer{
		Input: Input{Bed: design.New(cat, "x").Beds[0], Frame: &f, Catalog: cat},
		p:     cat.Precision(cat.Habits),
	}
	floor := frame.Floor{
		Slats:    []string{"slat"},
		Span:     24 * in,
		Spans:    2,
		Beams:    []string{"b"},
		BeamSpan: 4 * measure.Foot,
		Rail:     "rail",
		Soil:     measure.Foot,
	}
	density := cat.WetDensity() * 9.806_65 // N/m³
	for beams, inches := range map[int]float64{1: 30, 2: 17.6, 3: 13.2} {
		_, beam := r.floorMembers(floor, beams)
		if want := density * 0.3048 * inches * 0.0254; math.Abs(beam.Load/want-1) > 1e-6 {
			t.Errorf("%d beams carry %.1f N/m each, want %.1f", beams, beam.Load, want)
		}
	}
}
