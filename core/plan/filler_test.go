package plan_test

import (
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
)

// A deep bed filled with branches under too little soil is told of, and each way to mend it does;
// what is bought for its layers is used by the step that fills it, which says them in order.
func TestFillerMends(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		p := mustPlan(t, region, set("soil", "800 mm"), set("filling", "branches: 600 mm; compost: 100 mm; mix"))
		f, ok := finding(p, "over-filler")
		if !ok || len(f.Remedies) < 2 {
			t.Fatalf("%s: %v, %d remedies", region, codes(p), len(f.Remedies))
		}
		for _, m := range f.Remedies {
			d, err := design.Apply(p.Design, p.Shop.Catalog, m.Edits...)
			if err != nil {
				t.Fatal(err)
			}
			after, err := plan.Make(d, p.Shop)
			if err != nil {
				t.Fatal(err)
			}
			if _, still := finding(after, "over-filler"); still {
				t.Errorf("%s: %s leaves it", region, m.Label)
			}
		}
		for _, s := range p.Steps {
			if s.ID != "fill" {
				continue
			}
			words := strings.Join(s.Do, " ")
			if i, j := strings.Index(words, "branches"), strings.Index(words, "compost"); i < 0 || j < i {
				t.Errorf("%s: %s", region, words)
			}
			if !strings.Contains(strings.Join(s.Have, " "), "found") || len(s.Uses) != 2 {
				t.Errorf("%s: %v, %v", region, s.Have, s.Uses)
			}
		}
		all := mustPlan(t, region, set("soil", "800 mm"))
		if p.Bill.Total >= all.Bill.Total || p.Fill.WetMass >= all.Fill.WetMass {
			t.Errorf("%s: filler saves no money, or no weight", region)
		}
	}
}
