package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
)

// By hand: an arm of 20 in reaches the middle of 40 in. What was measured for a bed goes before
// what was measured for the workshop, and that before the table; the finding says which.
func TestMeasuredReach(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	found := func(shop plan.Shop, edits ...design.Edit) *review.Finding {
		t.Helper()
		for i := range edits {
			edits[i].Bed = "b1"
		}
		d, err := design.Apply(design.New(shop.Catalog, "a bed"), shop.Catalog, edits...)
		if err != nil {
			t.Fatal(err)
		}
		p, err := plan.Make(d, shop)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range p.Findings {
			if f.Code == "reach" {
				return &f
			}
		}
		return nil
	}
	if f := found(shop); f != nil { // 48 in of the table
		t.Errorf("4 ft from both sides: %s", f.Text)
	}
	f := found(shop, set("reach", "20 in"))
	if f == nil || !strings.Contains(f.Text, `3' 4"`) || !strings.Contains(f.Why.Source, "measured for this bed") {
		t.Fatalf("an arm of 20 in: %+v", f)
	}
	own := shop
	own.Habits.Reach = 22 * measure.Inch
	if f = found(own); f == nil || !strings.Contains(f.Text, `3' 8"`) ||
		!strings.Contains(f.Why.Source, "measured for this workshop") {
		t.Errorf("a workshop's arm of 22 in: %+v", f)
	}
	if f = found(own, set("reach", "26 in")); f != nil {
		t.Errorf("an arm of 26 in for this bed: %s", f.Text)
	}
	if f = found(own, set("access", "both-child")); f == nil || !strings.Contains(f.Text, `3'`) {
		t.Errorf("a child does not reach as the workshop does: %+v", f)
	}
	for _, bad := range []string{"2 in", "9 ft"} {
		if _, err := design.Apply(design.New(shop.Catalog, "a bed"), shop.Catalog, set("reach", bad)); err == nil {
			t.Errorf("an arm of %s is taken", bad)
		}
	}
}
