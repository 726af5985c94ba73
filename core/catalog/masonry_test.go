package catalog

import (
	"math"
	"testing"

	"chamfer/core/measure"
)

// Units laid with their joints against published counts: NCMA TEK 4-2A 112.5
// blocks for 100 square feet; BIA Technical Note 10 6.75 modular bricks a square
// foot (a strict joint gives 6.857); 60 UK bricks and 12.5 390 x 190 blocks a
// square metre (BS EN 771-1, AS/NZS 4455.1).
func TestUnitsToAnArea(t *testing.T) {
	for _, w := range []struct {
		region, id string
		each       measure.Area
		count, off float64
	}{
		{"us", "cmu8", measure.Over(10*measure.Foot, 10*measure.Foot), 112.5, 1e-9},
		{"us", "brick", measure.Over(measure.Foot, measure.Foot), 6.857, 1e-3},
		{"metric", "brick215", measure.Over(measure.Metre, measure.Metre), 59.26, 1e-2},
		{"metric", "blk190", measure.Over(measure.Metre, measure.Metre), 12.5, 1e-9},
	} {
		c, err := ForRegion(w.region)
		if err != nil {
			t.Fatal(err)
		}
		u, err := c.Unit(w.id)
		if err != nil {
			t.Fatal(err)
		}
		if got := w.each.SquareMetres() / measure.Over(u.Module(), u.Course()).SquareMetres(); math.Abs(
			got-w.count,
		) > w.off {
			t.Errorf("%s: %.4f, published %.4f", w.id, got, w.count)
		}
	}
}

// Yields against what is published: 45 bags of 80 lb or 60 of 60 lb to a cubic
// yard of concrete (ASTM C387 mixes, common practice), 105 to 108 bags of 20 kg to
// a cubic metre; a loose pack weighs what its volume does.
func TestYields(t *testing.T) {
	for _, w := range []struct {
		region, id  string
		of          measure.Volume
		least, most float64
	}{
		{"us", "concrete-80", measure.CubicFeet(27), 45, 45}, {"us", "concrete-60", measure.CubicFeet(27), 60, 60},
		{"metric", "concrete-20", measure.CubicMetres(1), 105, 108}, {"us", "cement-bag", measure.CubicFeet(94), 94,
			94},
	} {
		c, err := ForRegion(w.region)
		if err != nil {
			t.Fatal(err)
		}
		for _, l := range c.Loose {
			if bags := w.of.CubicMetres() / l.Volume.CubicMetres(); l.ID == w.id &&
				(bags < w.least-1e-3 || bags > w.most+1e-3) {
				t.Errorf("%s: %.2f bags, published %v to %v", w.id, bags, w.least, w.most)
			}
			if d := l.Mass / l.Volume.CubicMetres(); l.Kind == BaseStone && math.Abs(d-1600) > 10 ||
				l.Kind == Sand && math.Abs(d-1602) > 5 {
				t.Errorf("%s: %.0f kg/m3 loose", l.ID, d)
			}
		}
		for _, u := range c.Units {
			if u.Half != "" {
				h, err := c.Unit(u.Half)
				if err != nil || 2*h.Length+u.Joint != u.Length {
					t.Errorf("two halves of %s and a joint are not one", u.ID)
				}
			}
			// Concrete and brick weigh 1000 (hollow) to 2400 kg/m3 over their outside.
			v := measure.Over((u.Length+u.Back)/2, u.Depth).By(u.Height).CubicMetres()
			if d := u.Mass / v; d < 900 || d > 2400 {
				t.Errorf("%s: %.0f kg/m3", u.ID, d)
			}
		}
	}
}

// Blocks as people measure them.
func TestParseUnit(t *testing.T) {
	in, mm := measure.Inch, measure.Millimetre
	for text, want := range map[string]Unit{
		"Lane stone 12 in x 8 in x 4 in": {Name: "Lane stone", Kind: WallUnit, Length: 12 * in,
			Back: 12 * in, Depth: 8 * in, Height: 4 * in, Mass: 12 * 8 * 4 * 16.387064e-6 * concrete},
		"Old brick 220 mm × 105 mm x 65 mm, joint 10 mm, 2.8 kg": {Name: "Old brick", Kind: WallUnit, Length: 220 * mm,
			Back: 220 * mm, Depth: 105 * mm, Height: 65 * mm, Joint: 10 * mm, Mass: 2.8},
		"Wedge 12 in x 8 in x 4 in, tapers to 9 in, 30 lb": {Name: "Wedge", Kind: RingUnit, Length: 12 * in,
			Back: 9 * in, Depth: 8 * in, Height: 4 * in, Mass: 30 * 0.45359237},
	} {
		got, err := ParseUnit(text, measure.Imperial)
		want.Pallet, want.Source = 1, "measured"
		if math.Abs(got.Mass/want.Mass-1) > 1e-6 {
			t.Errorf("%q weighs %v, want %v", text, got.Mass, want.Mass)
		}
		if got.Mass = want.Mass; err != nil || got != want {
			t.Errorf("%q: %+v, %v", text, got, err)
		}
	}
	for _, text := range []string{"", "stone", "12 x 8 x 4", "Stone 12 in x 8 in", "Stone 1 mm x 8 in x 4 in",
		"Stone 12 in x 8 in x 4 in, tapers to 2 in", "Stone 12 in x 8 in x 4 in, blue",
		"Stone 12 in x 8 in x 4 in, 900 kg"} {
		if u, err := ParseUnit(text, measure.Imperial); err == nil {
			t.Errorf("%q is read as %+v", text, u)
		}
	}
}
