package plan_test

import (
	"context"
	"testing"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/long"
)

// What is sought for a bed of every system holds when it is planned by itself: it can be taken, costs what was told,
// and
// nothing stops it.
func TestSoughtHolds(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of plans")
	}
	for _, region := range []string{"us", "metric"} {
		shop, err := plan.ShopFor(region)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range design.Examples() {
			if !long.Whole() && x.Name != map[string]string{"us": "footed"}[region] {
				continue
			}
			d, err := design.ExampleNamed(x.Name, shop.Catalog)
			if err != nil {
				continue
			}
			p, err := plan.Make(d, shop)
			if err != nil {
				t.Fatal(x.Name, err)
			}
			bed := d.Beds[0].ID
			out, err := p.Better(context.Background(), bed, plan.Cheaper)
			if err != nil {
				t.Errorf("%s %s better: %v", region, x.Name, err)
			}
			for _, g := range out.List {
				then, err := design.Apply(p.Design, shop.Catalog, g.Edits...)
				if err != nil {
					t.Errorf("%s %s %v: %v", region, x.Name, g.Words, err)
					continue
				}
				q, err := plan.Make(then, shop)
				if err != nil || len(d.Beds) == 1 && q.Bill.Total > g.Of.Cost {
					t.Errorf("%s %s %v: told %v, is %v %v", region, x.Name, g.Words, g.Of.Cost, q.Bill.Total, err)
				}
				if len(g.Words) == 0 {
					t.Errorf("%s %s: no words for %v", region, x.Name, g.Edits)
				}
			}
			f, err := p.Within(context.Background(), bed, p.Bill.Total, plan.MostArea)
			if err != nil {
				t.Errorf("%s %s within: %v", region, x.Name, err)
			}
			for _, g := range f.List {
				then, err := design.Apply(p.Design, shop.Catalog, g.Edits...)
				if err != nil {
					t.Errorf("%s %s %s: %v", region, x.Name, g.System.Name, err)
					continue
				}
				q, err := plan.Make(then, shop)
				if err != nil || len(d.Beds) == 1 && q.Bill.Total != g.Total {
					t.Errorf("%s %s within %s: told %v, is %v %v", region, x.Name, g.System.Name, g.Total, q.Bill.Total, err)
				}
				for _, fd := range q.Findings {
					if fd.Severity == review.Stop {
						t.Errorf("%s %s within %s %v by %v: stop %s", region, x.Name, g.System.Name, g.Length, g.Width, fd.Text)
					}
				}
			}
			m, err := p.SizeMap(context.Background(), bed)
			if err != nil {
				t.Errorf("%s %s map: %v", region, x.Name, err)
			}
			n := 0
			for _, c := range m.Cells {
				if c.Built {
					n++
				}
			}
			if n == 0 || len(f.List) == 0 {
				t.Errorf("%s %s: %d sizes, %d beds within what it costs", region, x.Name, n, len(f.List))
			}
		}
	}
}
