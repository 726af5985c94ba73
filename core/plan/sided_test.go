package plan_test

import (
	"math"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/strength"
)

// An octagon of 2x6, 1 1/2 by 5 1/2 in, two courses, 6 ft across the flats inside, by hand: its
// sides' outer faces are 37 1/2 in from the middle, so that a board is 2 x 37.5 x tan 22.5 =
// 31.066 in from long point to long point, sixteen of them, cut at 22.5 degrees. It is planted
// on 8 x 36² x tan 22.5 = 4294.5 sq in, 29.82 sq ft. At a corner the pull along the boards is
// 1 / tan 22.5 = 2.4142 of what a board brings there; a hexagon's 1 / tan 30 = 1.7321 (statics
// of a ring: Roark's and any textbook have T = pR for its limit, a circle, and n sides of
// which each brings p R 2 tan(180/n) make just that).
func TestOctagonByHand(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		sides         string
		n             float64
		length, area  float64 // in, sq in
		bevel, pull   float64
		words         string
		boards, cleat int
	}{
		{"8", 8, 31.066, 4294.5, 22.5, 2.4142, "both ends mitred at 22.5°", 16, 16},
		{"6", 6, 43.301, 4489.5, 30, 1.7321, "both ends mitred at 30°", 12, 12},
	} {
		d, err := design.ExampleNamed("sided", shop.Catalog)
		if err == nil {
			d, err = design.Apply(d, shop.Catalog, set("sides", c.sides), set("board", "2x6"), set("length", "72 in"),
				set("soil", "9 in"))
		}
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		f := &p.Frames[0]
		if area := f.PlantingArea().SquareFeet() * 144; math.Abs(area-c.area) > 0.2 {
			t.Errorf("%s sides: %.1f sq in, by hand %.1f", c.sides, area, c.area)
		}
		boards, cleats := 0, 0
		for _, part := range f.Parts {
			if part.Course == 0 {
				cleats++
				continue
			}
			boards++
			if math.Abs(part.Length.Inches()-c.length) > 0.001 || part.Bevels() != [2]float64{c.bevel, c.bevel} {
				t.Errorf("%s is %.3f in at %v°", part.ID, part.Length.Inches(), part.Bevels())
			}
		}
		if boards != c.boards || cleats != c.cleat {
			t.Errorf("%s sides: %d boards, %d cleats", c.sides, boards, cleats)
		}
		brings, pulls := map[string]float64{}, map[string]float64{} // by board and joint
		for _, l := range p.Links {
			if l.Path != strength.OnSide || !strings.Contains(l.Joint, ".side.") || !strings.Contains(l.To, ".side.") {
				continue
			}
			if l.Way == strength.Pulled {
				brings[l.From+l.Joint] = l.Load
			} else if l.Way == strength.Across {
				pulls[l.From+l.Joint] = l.Load
			}
		}
		if len(brings) != 2*c.boards {
			t.Errorf("%s sides: %d ends are checked of %d", c.sides, len(brings), 2*c.boards)
		}
		for key, load := range brings {
			if r := pulls[key] / load; math.Abs(r-c.pull) > 0.001 {
				t.Errorf("%s: pulled along by %.4f of %.1f N, by hand %.4f", key, r, load, c.pull)
			}
		}
		said := false
		for _, s := range p.Steps {
			said = said || strings.Contains(strings.Join(s.Do, " "), c.words)
		}
		if !said {
			t.Errorf("nobody says %q", c.words)
		}
	}
}
