package strength

import (
	"math"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// A floor of 23/32 in plywood, span rating 48/24, against the allowed loads of REFERENCE
// G8.3 (APA D510: FbS 845 lb-in/ft and EI 440,000 lb-in²/ft, wet and permanent): bending
// over 24 in 119 lb/ft² in three spans and 95 in one, over 16 in 267.4 and 213.9; bow of
// 1/180 with creep 131 and 69 lb/ft² over 24 in, 442.1 and 233.8 over 16.
func TestPanel(t *testing.T) {
	us, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	ply, err := us.SpeciesOf("ply")
	if err != nil {
		t.Fatal(err)
	}
	sheet, err := us.Profile("ply34")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		span           measure.Length
		spans          int
		bending, bowed float64 // lb/ft²
	}{{24, 3, 119, 131}, {24, 1, 95, 69}, {16, 3, 267.4, 442.1}, {16, 1, 213.9, 233.8}} {
		m := Member{
			Across:  measure.Foot,
			Deep:    sheet.Thickness,
			Span:    c.span * measure.Inch,
			Spans:   c.spans,
			Species: ply,
		}
		at := func(psf float64) Bearing {
			m.Load = psf * 4.448_222 / 0.3048 // on a strip a foot wide, N/m
			return Bend(m)
		}
		if got := at(c.bending); math.Abs(float64(got.Stress/got.Allowed)-1) > 0.01 {
			t.Errorf(
				"%v in, %d spans, %v lb/ft²: %.3f of the bending allowed",
				int64(c.span),
				c.spans,
				c.bending,
				float64(got.Stress/got.Allowed),
			)
		}
		if got := at(c.bowed); math.Abs(got.Bow.Inches()/got.Limit.Inches()-1) > 0.025 {
			t.Errorf(
				"%v in, %d spans, %v lb/ft²: %.3f of the bow allowed",
				int64(c.span),
				c.spans,
				c.bowed,
				got.Bow.Inches()/got.Limit.Inches(),
			)
		}
	}
}
