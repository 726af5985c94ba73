package plan_test

import (
	"encoding/json"
	"math"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
)

// Trying all systems in turn from three sizes: each offers the planting area and the depth
// that is asked for as nearly as it can, never with what stops it; and going back to the
// first brings everything back, byte for byte.
func TestOffersAreForTheSameBed(t *testing.T) {
	// What else than length times width grows, or what cannot be as large.
	other := map[string]bool{
		"tiered":     true,
		"terraces":   true,
		"keyhole":    true,
		"plinth":     true,
		"footed":     true,
		"cleated":    true,
		"fence-line": true,
	}
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, size := range [][3]string{{"96 in", "48 in", "12 in"}, {"48 in", "24 in", "9 in"}, {"36 in", "36 in",
			"15 in"}} {
			first, err := design.Apply(
				design.New(shop.Catalog, "x"),
				shop.Catalog,
				set("length", size[0]),
				set("width", size[1]),
				set("soil", size[2]),
			)
			if err != nil {
				t.Fatal(err)
			}
			asked, err := plan.Make(first, shop)
			if err != nil {
				t.Fatal(err)
			}
			d := first
			for _, s := range design.Systems() {
				if d, err = design.Apply(d, shop.Catalog, set("system", s.Name)); err != nil {
					t.Errorf("%s, %v, %s: %v", region, size, s.Name, err)
					break
				}
				p, err := plan.Make(d, shop)
				if err != nil {
					t.Fatal(err)
				}
				if off := float64(p.Area())/float64(asked.Area()) - 1; math.Abs(off) > 0.15 && !other[s.Name] {
					t.Errorf("%s, %v, %s: %.0f %% off in planting area", region, size, s.Name, 100*off)
				}
				for _, f := range p.Findings {
					if f.Severity == review.Stop {
						t.Errorf("%s, %v, %s: %s", region, size, s.Name, f.Text)
					}
				}
			}
			back, err := design.Apply(d, shop.Catalog, set("system", "boarded"))
			if err != nil {
				t.Fatal(err)
			}
			was, _ := json.Marshal(first)
			is, _ := json.Marshal(back)
			if string(was) != string(is) {
				t.Errorf("%s, %v: going back gives\n%s, was\n%s", region, size, is, was)
			}
			// What is changed in another system is meant: it stays, and is where others start.
			staked, err := design.Apply(first, shop.Catalog, set("system", "staked"))
			if err == nil {
				staked, err = design.Apply(staked, shop.Catalog, set("soil", "8 in"))
			}
			if err != nil || staked.Beds[0].Before != nil {
				t.Errorf("%v, %+v", err, staked.Beds[0].Before)
			}
		}
	}
}

// From a planting area every system makes what it can, in several beds where one would be too
// long or too wide: 16 and 100 sq ft, within a sixth, and nothing that stops it.
func TestEverySystemFromAnArea(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, feet := range []measure.Area{16, 100} {
			area := measure.Over(measure.Foot, measure.Foot) * feet
			for _, s := range design.Systems() {
				d, err := design.NewOf(shop.Catalog, "x", s.Name)
				if err != nil {
					t.Fatal(err)
				}
				d.OfArea(area, d.Beds[0].Soil, shop.Catalog)
				if d, err = design.Apply(d, shop.Catalog, design.Edit{Field: "name", Value: "x"}); err != nil {
					t.Errorf("%s, %d sq ft, %s: %v", region, feet, s.Name, err)
					continue
				}
				p, err := plan.Make(d, shop)
				if err != nil {
					t.Fatal(err)
				}
				// Two heights are planted twice, terraces want a slope of some length, a keyhole
				// loses its middle, and on a plinth nothing grows.
				wide := map[string]float64{"tiered": 0.5, "terraces": 2.1, "keyhole": 0.7, "plinth": 2, "poured": 0.2}
				if off := float64(p.Area())/float64(area) - 1; math.Abs(off) > max(1.0/6, wide[s.Name]) {
					t.Errorf(
						"%s, %s: %.1f sq ft for %d, %d beds of %v by %v",
						region,
						s.Name,
						p.Area().SquareFeet(),
						feet,
						d.Beds[0].Times(),
						d.Beds[0].Length,
						d.Beds[0].Width,
					)
				}
				for _, f := range p.Findings {
					if f.Severity == review.Stop {
						t.Errorf("%s, %d sq ft, %s: %s", region, feet, s.Name, f.Text)
					}
				}
			}
		}
	}
}
