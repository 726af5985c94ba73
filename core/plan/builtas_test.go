package plan_test

import (
	"math"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A bed as every system: each that can be built is what planning it so comes to, plants as much and as deep, and the
// others say why not.
func TestBuiltAsEverySystem(t *testing.T) {
	d, shop := mixed(t, "us")
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	groups := map[plan.Group]int{}
	now, alike := 0, 0 // alike: what can be as large
	for _, b := range p.BuiltAll(t.Context(), "b1") {
		if b.Now {
			now++
		}
		if b.Err != nil {
			if b.Err.Error() == "" {
				t.Errorf("%s cannot be, and it is not said why", b.System.Name)
			}
			continue
		}
		groups[b.Group]++
		if taken, err := plan.Make(b.Plan.Design, shop); err != nil || taken.Bill.Total != b.Plan.Bill.Total {
			t.Errorf("%s is offered at %v: %v", b.System.Name, b.Plan.Bill.Total, err)
		}
		one, all := b.Plan.Design, d
		if len(one.Beds) != 1 || one.Beds[0].System != b.System.Name {
			t.Errorf("%s: %+v", b.System.Name, one.Beds)
		}
		if !b.Now {
			if all, err = design.Apply(d, shop.Catalog, set("system", b.System.Name)); err != nil {
				t.Fatal(err)
			}
		}
		want, err := plan.Make(all, shop)
		if err != nil {
			t.Fatal(err)
		}
		if got, is := b.Plan.Frames[0], want.Frames[0]; got.PlantingArea() != is.PlantingArea() ||
			len(got.Parts)+len(got.Units) != len(is.Parts)+len(is.Units) {
			t.Errorf("%s by itself is another bed than among the others", b.System.Name)
		}
		before := float64(p.Frames[0].PlantingArea())
		off := math.Abs(float64(b.Plan.Frames[0].PlantingArea())/before - 1)
		if off < 0.1 {
			alike++
		}
		if b.Other != (off > 0.03) {
			t.Errorf("%s plants %.1f %% otherwise, and that is said: %v", b.System.Name, off*100, b.Other)
		}
		if b.Hours[0] < 1 || b.Hours[1] < b.Hours[0] || b.Empty <= 0 || b.Plan.Bill.Total <= 0 {
			t.Errorf("%s: %v hours, %v kg, %v", b.System.Name, b.Hours, b.Empty, b.Plan.Bill.Total)
		}
	}
	if alike < 14 {
		t.Errorf("only %d plant as much", alike)
	}
	if now != 1 || groups[plan.OfTimber] < 6 || groups[plan.OfBlocks] < 5 || groups[plan.OnLegs] < 2 {
		t.Errorf("%d are built now, of %v", now, groups)
	}
}

func BenchmarkBuiltAll(b *testing.B) {
	d, shop := mixed(b, "us")
	p, err := plan.Make(d, shop)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		p.BuiltAll(b.Context(), "b1")
	}
}
